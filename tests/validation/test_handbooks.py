"""Numbers printed in handbooks, standards and textbooks, one by one. All of them are from memory."""

from __future__ import annotations

import math

import pytest
from scipy.integrate import dblquad, quad, solve_ivp
from scipy.optimize import minimize_scalar

from crisp_cadence import catalog
from crisp_cadence.core.formulas import (
    belt,
    brackets,
    drums,
    guides,
    running,
    screws,
    springs,
    threads,
    vbelt,
)

PROFILES = catalog.profiles()


@pytest.mark.parametrize(
    ("damping", "overshoot"),
    [(0.1, 72.9), (0.2, 52.7), (0.3, 37.2), (0.4, 25.4), (0.5, 16.3), (0.6, 9.5), (0.7, 4.6)],
)
def test_overshoot_of_a_second_order_system(damping: float, overshoot: float) -> None:
    """Overshoot of a step against damping, in per cent.

    Outside: 7; published: control engineering texts, chart of overshoot over damping ratio
    """
    assert (springs.overshoot_factor(damping) - 1) * 100 == pytest.approx(overshoot, abs=0.06)


@pytest.mark.parametrize(
    ("friction", "holds"), [(0.1, 1.9), (0.2, 3.5), (0.3, 6.6), (0.4, 12.0), (0.5, 23.0), (0.6, 43.0)]
)
def test_one_turn_round_a_capstan(friction: float, holds: float) -> None:
    """What one turn holds against one hand.

    Outside: 6; published: table of capstan ratios, mechanics texts and encyclopaedias
    """
    assert drums.capstan_ratio(friction, 2 * math.pi) == pytest.approx(holds, rel=0.03)


def test_two_equal_masses_in_a_row() -> None:
    """Two equal masses on two equal springs, the first held: 0.618 and 1.618 of √(k/m).

    Outside: 2; published: vibration texts, two degrees of freedom
    """
    low, high = springs.two_modes(1.0, 1.0, 0.001, 0.001)  # 1 N/m
    assert low * 2 * math.pi == pytest.approx(0.618, abs=5e-4)
    assert high * 2 * math.pi == pytest.approx(1.618, abs=5e-4)


@pytest.mark.parametrize(
    ("diameter", "pitch", "core"),
    [(8, 1.5, 6.2), (10, 2, 7.5), (12, 3, 8.5), (16, 4, 11.5), (20, 4, 15.5), (40, 7, 32.0)],
)
def test_core_of_trapezoidal_threads(diameter: float, pitch: float, core: float) -> None:
    """Minor diameter d3 of the screw, mm.

    Outside: 6; published: ISO 2904, table of basic dimensions
    """
    assert screws.trapezoidal_core(diameter, pitch) == pytest.approx(core, abs=0.01)


@pytest.mark.parametrize(
    ("key", "code_mm", "teeth"),
    [("XL", 254.0, 50), ("XL", 381.0, 75), ("L", 314.33, 33), ("L", 381.0, 40), ("L", 533.4, 56),
     ("H", 609.6, 48), ("H", 762.0, 60)],
)  # fmt: skip
def test_lengths_of_closed_inch_belts(key: str, code_mm: float, teeth: int) -> None:
    """Pitch length by length code (100 XL, 150 XL, 124 L, 150 L, 210 L, 240 H, 300 H) and its teeth.

    Outside: 7; published: ISO 5296, table of lengths
    """
    profile = next(p for p in PROFILES.values() if p.name.split()[0] == key and p.pitch_mm > 5)
    assert teeth * profile.pitch_mm == pytest.approx(code_mm, abs=0.02)
    assert belt.whole_teeth(code_mm + 0.05, profile.pitch_mm) == teeth


@pytest.mark.parametrize(
    ("pitch", "teeth", "diameter"),
    [(5.08, 10, 16.17), (5.08, 20, 32.34), (9.525, 12, 36.38), (9.525, 20, 60.64), (12.7, 14, 56.60),
     (12.7, 20, 80.85), (5.0, 20, 31.83), (10.0, 20, 63.66)],
)  # fmt: skip
def test_pitch_diameters(pitch: float, teeth: int, diameter: float) -> None:
    """Pitch diameter of pulleys, mm.

    Outside: 8; published: ISO 5294, table of pulley diameters, and its metric kin
    """
    assert belt.pitch_diameter(teeth, pitch) == pytest.approx(diameter, abs=0.006)


@pytest.mark.parametrize(
    ("diameter", "pitch", "drill"),
    [(3, 0.5, 2.5), (4, 0.7, 3.3), (5, 0.8, 4.2), (6, 1.0, 5.0), (8, 1.25, 6.8),
     (3.505, 25.4 / 32, 0.1065 * 25.4), (4.166, 25.4 / 32, 0.136 * 25.4), (4.826, 25.4 / 24, 0.1495 * 25.4),
     (6.35, 1.27, 0.201 * 25.4), (7.9375, 25.4 / 18, 0.257 * 25.4), (9.525, 25.4 / 16, 0.3125 * 25.4)],
)  # fmt: skip
def test_tap_drills(diameter: float, pitch: float, drill: float) -> None:
    """M3 to M8; #6-32, #8-32, #10-24, 1/4-20, 5/16-18, 3/8-16 by number, letter and fraction drills.

    Outside: 11; published: tap drill tables of machinists' handbooks
    """
    assert threads.tap_drill(diameter, pitch) == pytest.approx(drill, abs=0.09)


@pytest.mark.parametrize(
    ("frequency", "wire_in", "pounds"), [(329.63, 0.010, 16.2), (246.94, 0.013, 15.4), (196.0, 0.017, 16.6)]
)
def test_strings_at_their_pitch(frequency: float, wire_in: float, pounds: float) -> None:
    """Plain steel strings on a scale of 25.5 in: E4, B3 and G3.

    Outside: 3; published: string tension charts
    """
    mass = math.pi / 4 * (wire_in * 25.4) ** 2 * 7.85  # g/m
    assert belt.tension_from_pluck(frequency, mass, 25.5 * 25.4) == pytest.approx(pounds * 4.4482, rel=0.012)


def test_polar_moment_of_an_inch_shaft() -> None:
    """0.0982 in⁴ for one inch; with 11.5·10⁶ psi a foot of it twists 1.0 degree under 1640 lbf·in.

    Outside: 1; published: Machinery's Handbook, properties of round sections
    """
    k = springs.shaft_torsion_stiffness(79.29, 25.4, 1000.0)
    assert k == pytest.approx(79.29e9 * 0.0982 * 0.0254**4, rel=1e-3)


@pytest.mark.parametrize(("rpm", "micrometres", "grade"), [(3000, 20, 6.3), (1500, 40, 6.3), (3000, 8, 2.5)])
def test_grades_of_balance(rpm: float, micrometres: float, grade: float) -> None:
    """How far a rotor's centre of mass may stand off its shaft.

    Outside: 3; published: ISO 21940-11, chart of grades
    """
    assert vbelt.unbalance(micrometres / 1000, rpm) == pytest.approx(grade, rel=0.01)


def test_a_rail_on_several_supports() -> None:
    """A load in the middle of one of two equal spans: 0.015·F·L³/EI.

    Outside: 1; published: AISC Manual of Steel Construction, beam diagrams
    """
    sag = guides.rail_sag(30.0, 900.0, 69.0, 7000.0, guides.RAIL_HELD["several supports"])
    assert sag * 69e3 * 7000 / (30 * 900**3) == pytest.approx(0.015, rel=2e-3)


@pytest.mark.parametrize(
    ("size", "pitch", "core"), [(8.0, 1.25, 6.466), (10.0, 1.5, 8.160), (12.0, 1.75, 9.853)]
)
def test_the_core_that_bears_a_threaded_shafts_torque(size: float, pitch: float, core: float) -> None:
    """Core diameters of coarse threads.

    Outside: 3; published: ISO 724, core of a bolt's thread d3 (from memory)
    """
    bears = vbelt.thread_torque(35.0, size, pitch)
    assert (bears * 1000 * 16 / (math.pi * 35.0)) ** (1 / 3) == pytest.approx(core, abs=1e-3)


def test_bending_stress_adds_up_to_its_moment() -> None:
    """Outside: 2; library: SciPy, stress over a round and a flat section integrated"""
    shaft = running.bending_bears(180.0, 5.0, 22.0) * 22.0

    def rim(x: float) -> float:
        return math.sqrt(6.25 - x * x)

    moment, _ = dblquad(lambda y, _: 180.0 * y / 2.5 * y, -2.5, 2.5, lambda x: -rim(x), rim)
    assert shaft == pytest.approx(moment, rel=1e-6)
    plate = brackets.plate_bears(90.0, 40.0, 6.0, 30.0) * 30.0
    flat, _ = quad(lambda y: 90.0 * y / 3.0 * y * 40.0, -3.0, 3.0)
    assert plate == pytest.approx(flat, rel=1e-9)


def test_friction_round_a_pulley_grows_as_its_equation_says() -> None:
    """Outside: 1; library: SciPy, dT/dα = µ·T integrated, both runs as far from the mean"""
    grown = solve_ivp(lambda _, t: 0.3 * t, (0.0, math.pi), [1.0], rtol=1e-10, atol=1e-12).y[0, -1]
    slack = 2 * 20.0 / (1 + grown)
    assert running.wrap_holds(20.0, 0.3, math.pi) == pytest.approx(slack * grown - slack, rel=1e-7)


def test_a_belt_of_chords_runs_ahead_of_a_round_pulley() -> None:
    """Outside: 1; library: SciPy, largest difference between a polygon's pull and a circle's"""
    r, z = 9.549, 12
    worst = minimize_scalar(
        lambda a: -(r * a - r * math.sin(a)),
        bounds=(0.0, math.pi / z),
        method="bounded",
        options={"xatol": 1e-12},
    )
    assert running.chordal_ripple(r, z) == pytest.approx(-worst.fun, rel=1e-6)
