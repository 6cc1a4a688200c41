"""Screws, drums, cones, crossed belts and gearmotors against textbook examples and general numeric libraries."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.linalg import eigh
from scipy.optimize import brentq

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.design import changed, design_from
from crisp_cadence.core.evaluation.evaluate import Run, evaluate
from crisp_cadence.core.formulas import drums, guides, motors, screws, vbelt
from crisp_cadence.core.formulas.belt import open_belt_length
from crisp_cadence.core.geometry import cones

DESIGNS = demo.designs()  # worked out once: each takes an evaluation


def test_power_screw_of_the_textbooks() -> None:
    """Square thread, 32 mm, pitch 4 mm, two starts, µ 0.08, 6.4 kN: 15.94 N·m to raise, −0.466 N·m to lower
    (a standard machine-design text's worked example, from memory; collar left out).

    Outside: 3; published: Shigley's Mechanical Engineering Design, worked example of a power screw (from
    memory)
    """
    alpha, rho = screws.lead_angle(8.0, 30.0), screws.thread_friction_angle(0.08, 0.0)
    eta, back = screws.screw_efficiency(alpha, rho), screws.screw_back_efficiency(alpha, rho)
    assert screws.screw_torque(6400.0, 8.0, eta) == pytest.approx(15.94, abs=0.005)
    assert 6400.0 * 8.0 / (2 * math.pi) / 1000 * back == pytest.approx(0.466, abs=0.001)
    # the same from the inclined plane, unwound
    assert screws.screw_torque(6400.0, 8.0, eta) == pytest.approx(
        6.4 * 30 / 2 * (8 + math.pi * 0.08 * 30) / (math.pi * 30 - 0.08 * 8)
    )


def test_a_screw_holds_by_itself_when_friction_beats_its_lead() -> None:
    """Machine-design texts: self-locking for µ > tan α (square thread).

    Outside: 1; published: machine-design texts, self-locking of a square thread (from memory)
    """
    alpha = screws.lead_angle(2.0, 9.0)
    limit = math.tan(alpha)
    assert screws.screw_back_efficiency(alpha, screws.thread_friction_angle(limit * 1.001, 0.0)) < 0
    assert screws.screw_back_efficiency(alpha, screws.thread_friction_angle(limit * 0.999, 0.0)) > 0


def beam(fixings: str, root: float, length: float, pieces: int = 24) -> tuple[float, float]:
    """First natural frequency (rpm) and buckling load (N) of a round beam, by finite elements (SciPy's
    eigenvalues).
    """
    e, rho = 205e3, 7.85e-9  # N/mm², t/mm³
    area, second, h = math.pi * root**2 / 4, math.pi * root**4 / 64, length / pieces
    size = 2 * (pieces + 1)
    k, m, g = np.zeros((size, size)), np.zeros((size, size)), np.zeros((size, size))
    ke = (
        e
        * second
        / h**3
        * np.array(
            [
                [12, 6 * h, -12, 6 * h],
                [6 * h, 4 * h**2, -6 * h, 2 * h**2],
                [-12, -6 * h, 12, -6 * h],
                [6 * h, 2 * h**2, -6 * h, 4 * h**2],
            ]
        )
    )
    me = (
        rho
        * area
        * h
        / 420
        * np.array(
            [
                [156, 22 * h, 54, -13 * h],
                [22 * h, 4 * h**2, 13 * h, -3 * h**2],
                [54, 13 * h, 156, -22 * h],
                [-13 * h, -3 * h**2, -22 * h, 4 * h**2],
            ]
        )
    )
    ge = (
        1
        / (30 * h)
        * np.array(
            [
                [36, 3 * h, -36, 3 * h],
                [3 * h, 4 * h**2, -3 * h, -(h**2)],
                [-36, -3 * h, 36, -3 * h],
                [3 * h, -(h**2), -3 * h, 4 * h**2],
            ]
        )
    )
    for i in range(pieces):
        at = slice(2 * i, 2 * i + 4)
        k[at, at] += ke
        m[at, at] += me
        g[at, at] += ge
    near, far = fixings.split(", ")
    held = {"fixed": [0, 1], "supported": [0], "free": []}
    gone = {*held[near], *(size - 2 + i for i in held[far])}
    free = [i for i in range(size) if i not in gone]
    pick = np.ix_(free, free)
    omega = math.sqrt(eigh(k[pick], m[pick], eigvals_only=True)[0])
    load = 1 / eigh(g[pick], k[pick], eigvals_only=True)[-1]
    return omega * 30 / math.pi, load


@pytest.mark.parametrize("fixings", list(screws.FIXINGS))
def test_whirl_and_buckling_against_finite_elements(fixings: str) -> None:
    """Euler–Bernoulli beam of 24 elements; eigenvalues and end factors of the vibration and strength texts
    agree to 0.1 %.

    Outside: 8; library: SciPy, eigenvalues of finite elements, whirl and buckling for four fixings
    """
    beta, n = screws.FIXINGS[fixings]
    rpm, load = beam(fixings, 8.0, 600.0)
    assert screws.whirl_speed(8.0, 600.0, beta, 205.0, 7.85) == pytest.approx(rpm, rel=1e-3)
    assert screws.euler_load(8.0, 600.0, n, 205.0) == pytest.approx(load, rel=1e-3)


def test_capstan_by_integration() -> None:
    """dT/dθ = µT (Euler–Eytelwein, machine-design texts), integrated by SciPy over three turns.

    Outside: 1; library: SciPy, initial value problem
    """
    got = solve_ivp(lambda _, t: 0.15 * t, (0, 6 * math.pi), [1.0], rtol=1e-11, atol=1e-12)
    assert drums.capstan_ratio(0.15, 6 * math.pi) == pytest.approx(got.y[0, -1], rel=1e-8)


def test_gearmotor_line() -> None:
    """Straight line of a permanent magnet motor: stall, no load, and most power at half speed (machine
    texts).

    Outside: 1; published: texts on permanent magnet motors, most power at half speed (from memory)
    """
    line = lambda w: motors.gearmotor_torque(w, 20.0, 3.0, 1.0)  # noqa: E731
    assert (line(0.0), line(20.0)) == (3.0, 0.0)
    speeds = np.linspace(0, 20, 2001)
    assert speeds[int(np.argmax(speeds * line(speeds)))] == pytest.approx(10.0)
    assert motors.gearmotor_torque(5.0, 20.0, 3.0, 0.5) == pytest.approx(0.75)


@pytest.mark.parametrize("ratio", [1.0, 1.6, 2.4, 3.1])
def test_cone_steps_against_a_root_finder(ratio: float) -> None:
    """One belt on every step (exact open-belt length); each step by SciPy's root finder.

    Outside: 2; library: SciPy, root finder
    """
    length, centre = 1000.0, 300.0
    (driver, driven), (even, _) = (cones.cone_step(i, length, centre, 40.0) for i in (ratio, 1.0))
    expected = brentq(
        lambda d: float(open_belt_length(centre, d / 2, ratio * d / 2)) - length, 20.0, 250.0, xtol=1e-10
    )
    assert driver == pytest.approx(expected, abs=1e-6)
    assert driven == pytest.approx(ratio * expected, abs=1e-6)
    if ratio > 1:
        assert driver + driven < 2 * even - 0.1, "equal sums of diameters alone would be wrong"


def test_wedge_belt_by_integration() -> None:
    """V-belt texts: dT/dθ = µ·T/sin(α/2) for the tension above the centrifugal one.

    Outside: 1; library: SciPy, initial value problem
    """
    half = math.radians(17.0)
    got = solve_ivp(lambda _, t: 0.3 * t / math.sin(half), (0, 2.5), [1.0], rtol=1e-11, atol=1e-12)
    assert vbelt.wedge_ratio(0.3, 2.5, 34.0) == pytest.approx(got.y[0, -1], rel=1e-8)


def test_rail_sag_against_integration() -> None:
    """Half of a simply supported beam integrated by SciPy from its middle (slope 0) to its end.

    Outside: 1; library: SciPy, initial value problem
    """
    force, span, ei = 30.0, 900.0, 69e3 * 7000.0
    bent = solve_ivp(
        lambda x, y: [y[1], -force / 2 * (span / 2 - x) / ei],
        (0, span / 2),
        [0.0, 0.0],
        rtol=1e-11,
        atol=1e-14,
    )
    assert guides.rail_sag(force, span, 69.0, 7000.0) == pytest.approx(-bent.y[0, -1], rel=1e-8)


def test_small_mill_speeds_are_in_reach_of_stepped_cones() -> None:
    """Common practice, no source: small mills turn 100 to 2000 rpm with 500 to 750 W; here from a four-pole
    motor in six steps.

    Outside: 1; practice
    """
    design = DESIGNS["trimming-bench-potter-s-wheel"].model_dump(mode="json")
    design["chain"][0].update(power_w=550.0, rated_rpm=1400.0, synchronous_rpm=1500.0)
    design["end"].update(
        low_rpm=200.0, high_rpm=2000.0, steps=3, motor_belt_mm=1120.0, cone_belt_mm=1120.0, round_mm=0.1
    )
    design["aim"]["speed_mm_s"] = 20_000.0
    table = evaluate(design_from(design), catalog.profiles()).tables[0]
    speeds = [float(row[0]) for row in table.rows]  # type: ignore[arg-type]
    assert speeds[0] == pytest.approx(200.0, rel=0.01)
    assert speeds[-1] == pytest.approx(2000.0, rel=0.01)
    steps = np.diff(np.log(speeds))
    assert steps == pytest.approx(np.full(5, steps.mean()), rel=0.02), "geometric steps"


# ---- crossed belts -----------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("case", "direction", "motors"),
    [("along x", (1.0, 0.0), 2.0), ("along y", (0.0, 1.0), 2.0), ("diagonal", (1.0, 1.0), 1.0)],
)
def test_crossed_belts_against_a_matrix_model(
    case: str, direction: tuple[float, float], motors: float
) -> None:
    """qA = x + y, qB = y − x; K = JᵀkJ of both belts with their motors in series (robotics texts), along each
    direction.

    Outside: 3; library: NumPy, matrices; along x, y and a diagonal
    """
    # A belt without weight: sag has tests of its own.
    design = changed(DESIGNS["clay-printer-head"], {"end.belt.line_mass_g_m": 0.1})
    end: Any = design.end
    run = Run(design, catalog.profiles(), end, list(design.chain), design.chain[0], case, None)  # type: ignore[arg-type]
    r = run.ctx.book.results
    radius = r["pulley.radius"].value or 0.0
    along = np.array(direction) / np.hypot(*direction)
    jacobian = np.array([[1.0, 1.0], [-1.0, 1.0]])
    gain = np.abs(jacobian @ along)
    # what one belt gives with its motor, shaft and teeth, all as the belt feels them
    path = ("field.at_carriage", "shaft.at_carriage", "mesh.at_carriage")
    torsion = [(r[k].value or 0) / max(gain) ** 2 for k in path]
    bending, wrap = r["shaft.bending"].n, r["pulley.wrap"].n
    assert wrap == pytest.approx(math.pi / 2)
    assert torsion[0] == pytest.approx((r["motor.field_stiffness"].value or 0) * 1000 / radius**2)
    whole = []
    for run_1, run_2 in zip(*end.runs(run.ctx, end.positions(run.ctx, 25)), strict=True):
        belt = (r["belt.ea"].value or 0) * (1 / run_1 + 1 / run_2)
        # A newton on the belt draws its pulley along the vector sum of what either run has more.
        more = np.array([run_2, -run_1]) / (run_1 + run_2)
        ways = np.array([[np.sin(wrap / 2), np.cos(wrap / 2)], [np.sin(wrap / 2), -np.cos(wrap / 2)]])
        one = 1 / (1 / belt + sum(1 / t for t in torsion) + float(np.sum((more @ ways) ** 2)) / bending)
        k = jacobian.T @ np.diag([one, one]) @ jacobian
        whole.append(float(along @ k @ along))
    curves = run.give.curves()
    assert curves is not None
    assert curves.stiffness_n_mm == pytest.approx(whole, rel=1e-6)
    # statics: the motors' torques are JᵀF
    force = r["force.accelerate"].value or 0.0
    pulls = np.linalg.solve(jacobian.T, force * along)
    torque = r["end.torque_accelerate"].value or 0.0
    assert torque * 0.95 == pytest.approx(np.abs(pulls).max() * radius / 1000, rel=1e-9)
    assert (np.abs(pulls) > 1e-9).sum() == motors
    # kinematics: the faster motor's belt
    assert (r["end.lam"].value or 0) * radius == pytest.approx(gain.max())


# ---- chains ------------------------------------------------------------------------------------------------


# ---- the layouts as wholes ---------------------------------------------------------------------------------
