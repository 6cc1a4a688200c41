"""Belt and pulley geometry against pulley tables, a hull perimeter and a discretised string."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.linalg import eigvalsh_tridiagonal
from scipy.spatial import ConvexHull

from crisp_cadence import catalog
from crisp_cadence.core.formulas import belt

# Pulley tables: outside diameter in mm by profile and teeth. From memory of published tables, good to 0.02
# mm.
OUTSIDE = [
    ("round-g-2", 20, 12.22), ("mxl", 20, 12.43), ("xl", 10, 15.66), ("round-h-3", 20, 18.34), ("round-h-5", 15, 22.73), ("t2.5", 20, 15.40),
    ("t5", 20, 31.00), ("at5", 20, 30.60), ("t10", 20, 61.80),
]  # fmt: skip

# Pitch in inches as ISO 5296 states it: MXL 0.080, XL 1/5, L 3/8, H 1/2 (from memory).
INCH_PITCH = {"mxl": 0.080, "xl": 1 / 5, "l": 3 / 8, "trapezoid-h": 1 / 2}


@pytest.mark.parametrize(("key", "teeth", "diameter"), OUTSIDE)
def test_outside_diameters_of_pulley_tables(key: str, teeth: int, diameter: float) -> None:
    """Outside diameters of pulleys as their tables have them.

    Outside: 9; published: pulley tables of timing belts, outside diameters (from memory)
    """
    p = catalog.profiles()[key]
    assert belt.outside_diameter(teeth, p.pitch_mm, p.pitch_line_mm) == pytest.approx(diameter, abs=0.02)


@pytest.mark.parametrize(("key", "inches"), INCH_PITCH.items())
def test_inch_profiles_have_the_pitch_of_the_standard(key: str, inches: float) -> None:
    """Pitches in inches.

    Outside: 4; published: ISO 5296, pitches of MXL, XL, L and H (from memory)
    """
    assert catalog.profiles()[key].pitch_mm == pytest.approx(inches * 25.4, abs=1e-9)


def test_metric_profiles_are_named_by_their_pitch() -> None:
    """ISO 17396 and ISO 13050 name profiles by their pitch in millimetres (from memory).

    Outside: 8; published: ISO 17396 and ISO 13050, names of profiles (from memory)
    """
    for key, pitch in {
        "t2.5": 2.5,
        "t5": 5,
        "t10": 10,
        "at5": 5,
        "at10": 10,
        "round-h-3": 3,
        "round-h-5": 5,
        "round-h-8": 8,
    }.items():
        assert catalog.profiles()[key].pitch_mm == pitch


@pytest.mark.parametrize("seed", range(25))
def test_open_belt_length_is_the_perimeter_of_the_hull(seed: int) -> None:
    """General geometry library (SciPy's convex hull) on finely divided circles; a polygon of n corners falls
    short by O(1/n²).

    Outside: 1; library: SciPy, convex hull
    """
    rng = np.random.default_rng(seed)
    a, b = rng.uniform(3, 60, 2)
    centre = a + b + rng.uniform(1, 2000)
    angle = np.linspace(0, 2 * math.pi, 20_000, endpoint=False)
    circle = np.stack([np.cos(angle), np.sin(angle)], axis=1)
    points = np.concatenate([a * circle, b * circle + [centre, 0]])
    assert belt.open_belt_length(centre, a, b) == pytest.approx(ConvexHull(points).area, rel=1e-7)


def test_pluck_formula_against_a_string_of_many_masses() -> None:
    """Eigenvalues of a discretised taut string (SciPy); n masses are flat by (π/2(n+1))²/6 of the first
    frequency.

    Outside: 1; library: SciPy, eigenvalues
    """
    tension, line_mass, span, n = 48.0, 8.1, 320.0, 1500
    step = span / 1000 / (n + 1)
    stiffness, mass = tension / step, line_mass / 1000 * step
    first = eigvalsh_tridiagonal(
        np.full(n, 2 * stiffness / mass), np.full(n - 1, -stiffness / mass), select="i", select_range=(0, 0)
    )[0]
    assert belt.pluck_frequency(tension, line_mass, span) == pytest.approx(
        math.sqrt(first) / (2 * math.pi), rel=1e-6
    )


def test_pluck_formula_on_a_guitar_string() -> None:
    """A plain steel string of 0.254 mm on a 648 mm scale sounds E4, 329.6 Hz, at about 72 N (string tables,
    from memory); steel 7850 kg/m³.

    Outside: 1; published: string tension charts (from memory)
    """
    line_mass = math.pi / 4 * 0.254e-3**2 * 7850 * 1000
    assert belt.pluck_frequency(72.0, line_mass, 648.0) == pytest.approx(329.6, rel=0.01)


def test_taut_runs_share_a_load_as_two_springs() -> None:
    """Equilibrium and equal movement of the carriage, solved as a linear system (NumPy).

    Outside: 2; library: NumPy, linear solver
    """
    ea, l1, l2, force = 12_000.0, 210.0, 1490.0, 37.0
    moved = np.linalg.solve([[ea / l1 + ea / l2]], [force])[0]
    assert force * belt.tension_share(l1, l2) == pytest.approx(ea / l1 * moved)
    assert force * belt.tension_share(l2, l1) == pytest.approx(ea / l2 * moved)


@pytest.mark.parametrize(
    ("meshed", "factor"), [(12, 1.0), (6, 1.0), (5, 0.8), (4, 0.6), (3, 0.4), (2, 0.2), (1, 0.2)]
)
def test_mesh_factor_of_the_handbooks(meshed: int, factor: float) -> None:
    """Teeth-in-mesh factor table of timing belt handbooks (from memory).

    Outside: 7; published: timing belt handbooks, factor of teeth in mesh (from memory)
    """
    assert belt.mesh_factor(meshed) == factor
