"""Belt paths and lengths against a convex hull, a geometry library and a root finder."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.spatial import ConvexHull
from shapely.geometry import LineString, Point

from crisp_cadence.core.formulas.belt import open_belt_length
from crisp_cadence.core.geometry.path import Round, belt_path, closed_belt_centre
from helpers import outline


@pytest.mark.parametrize("seed", range(60))
def test_outside_loops_are_the_perimeter_of_a_hull(seed: int) -> None:
    """A belt round the outside of pulleys is their convex hull (geometry); SciPy's hull of 40 000 points on
    the circles.

    Outside: 1; library: SciPy, convex hull
    """
    random = np.random.default_rng(seed)
    count = int(random.integers(2, 7))
    angles = np.sort(random.uniform(0, 2 * math.pi, count))
    if (np.diff([*angles, angles[0] + 2 * math.pi]) < 0.35).any():
        angles = np.linspace(0, 2 * math.pi, count, endpoint=False) + random.uniform(0, 0.2)
    rounds = tuple(
        Round(f"p{i}", 300 * math.cos(a), 300 * math.sin(a), float(random.uniform(5, 25)), 1)
        for i, a in enumerate(angles)
    )
    path = belt_path(rounds)
    turn = np.linspace(0, 2 * math.pi, 40_000)
    cloud = np.concatenate(
        [
            np.stack([r.x_mm + r.radius_mm * np.cos(turn), r.y_mm + r.radius_mm * np.sin(turn)], axis=1)
            for r in rounds
        ]
    )
    assert path.length_mm == pytest.approx(ConvexHull(cloud).area, rel=1e-7)
    assert math.fsum(path.wraps) == pytest.approx(2 * math.pi)


@pytest.mark.parametrize("seed", range(60))
def test_back_side_idlers_against_a_geometry_library(seed: int) -> None:
    """Shapely measures the drawn path: its length, that every straight piece just touches its two pulleys,
    and that none is cut.

    Outside: 3; library: Shapely, length, what touches and what is cut
    """
    random = np.random.default_rng(1000 + seed)
    lean, x = float(random.uniform(-20, 20)), float(random.uniform(120, 280))
    a, b, c = (float(random.uniform(*span)) for span in ((10, 30), (10, 30), (6, 13)))
    run = a + (lean + b - a) * x / 400  # the upper run without the idler, which presses it down by 2 to 9 mm
    rounds = (
        Round("a", 0, 0, a, 1),
        Round("b", 400, lean, b, 1),
        Round("idler", x, run + c - float(random.uniform(2, 9)), c, -1),
    )
    path = belt_path(rounds)
    drawn = outline(path)
    assert path.length_mm == pytest.approx(drawn.length, rel=1e-6)
    for i, span in enumerate(path.spans):
        line = LineString([(span.x0_mm, span.y0_mm), (span.x1_mm, span.y1_mm)])
        for wheel in (rounds[i], rounds[(i + 1) % 3]):
            assert line.distance(Point(wheel.x_mm, wheel.y_mm)) == pytest.approx(wheel.radius_mm, abs=1e-9)
    turned = math.fsum(r.side * w for r, w in zip(rounds, path.wraps, strict=True))
    assert turned == pytest.approx(2 * math.pi), "a closed belt turns once round"


@pytest.mark.parametrize("seed", range(40))
def test_centre_distance_inverts_the_length(seed: int) -> None:
    """Machine-design texts, open belt, exact form; SciPy's root finder on the same length, to a micrometre.

    Outside: 1; library: SciPy, root finder
    """
    random = np.random.default_rng(seed)
    a, b = random.uniform(5, 60, 2)
    centre = float(random.uniform(a + b + 1, 900))
    length = float(open_belt_length(centre, a, b))
    got = float(closed_belt_centre(length, a, b))
    assert got == pytest.approx(centre, abs=1e-3)
    assert got == pytest.approx(
        brentq(lambda c: float(open_belt_length(c, a, b)) - length, a + b, 2000, xtol=1e-9), abs=1e-3
    )
