"""Tension of open belts against independent solvers: runs that only pull, a sagging cable, one belt laid as an H."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.integrate import solve_bvp
from scipy.linalg import expm
from scipy.optimize import brentq, root

from crisp_cadence import catalog
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.core.evaluation.evaluate import Run, work_out
from crisp_cadence.core.formulas import gantries, springs
from crisp_cadence.core.formulas import tension as of_tension
from crisp_cadence.core.ledger.errors import EntryError
from thorough import many

PROFILES = catalog.profiles()
FloatArray = NDArray[np.float64]


def tensions(
    reach: FloatArray, lengths: FloatArray, ea: float, preload: float, force: FloatArray
) -> FloatArray:
    """Tension of every run of belts that only pull, nonlinear (general root finder, SciPy).

    `reach[i]` is how run i lengthens with each unknown (the head, and each motor's turn, which is held where it
    is no unknown). The belt is laid under `preload`; then the head is loaded.
    """
    slack = lengths / (1 + preload / ea)

    def pull(x: FloatArray) -> FloatArray:
        return np.maximum(ea * ((lengths + reach @ x) / slack - 1), 0.0)

    found = root(lambda x: reach.T @ pull(x) - force, np.zeros(reach.shape[1]), tol=1e-12)
    assert found.success or np.abs(found.fun).max() < 1e-6
    return pull(found.x)


# How the runs of each layout are drawn by what moves: rows are runs, columns the head's directions.
TWO_RUNS = np.array([[1.0], [-1.0]])
H_RUNS = np.array([[1.0, 1.0], [0.0, -2.0], [-1.0, 1.0]])


def some(name: str, rng: np.random.Generator) -> AxisDesign:
    """A layout as it begins, with masses, speeds, heads and lengths at random."""
    design = begin("crossed_belts" if name == "h_belt" else name, name)
    changes: dict[str, Any] = {
        "aim.acceleration_mm_s2": float(rng.uniform(200, 8000)),
        "aim.push_n": float(rng.choice([0.0, rng.uniform(1, 60)])),
        "aim.hold_n": float(rng.choice([0.0, rng.uniform(1, 40)])),
        "moving.0.mass_kg": float(rng.uniform(0.1, 6.0)),
        "end.belt.width_mm": float(rng.choice([6.0, 9.0, 15.0])),
        "assumptions.warmth_k": float(rng.uniform(0, 30)),
        "heads": [
            {"label": "Light", "mass_kg": float(rng.uniform(0, 1))},
            {"label": "Heavy", "mass_kg": float(rng.uniform(1, 5)), "push_n": float(rng.uniform(0, 80))},
        ],
    }
    if name == "h_belt":
        changes["end.form"] = "one belt, H"
    return changed(design, changes)


@pytest.mark.parametrize("name", ["carriage_loop", "riding_motor", "gantry", "crossed_belts", "h_belt"])
def test_no_run_goes_slack_at_the_shown_tension(name: str) -> None:
    """1000 random states for each layout: position, direction of the force, head and case of load, at the tension
    shown and when it is coldest.

    Outside: 4; library: SciPy, nonlinear solver of runs that only pull, for four layouts
    """
    rng, states = np.random.default_rng(13), 0
    while states < 1000:
        design = some(name, rng)
        try:
            _, runs = work_out(design, PROFILES)
        except EntryError:
            continue
        for run in runs:
            for _ in range(4):
                _check(run, design, rng)
                states += 1


def _check(run: Run, design: AxisDesign, rng: np.random.Generator) -> None:
    end: Any = run.end
    book = run.ctx.book.results
    ea, cold = book["belt.ea"].n, book["tension.coldest"].n
    place = end.positions(run.ctx, 2)[-1] * rng.uniform(0, 1, size=1)
    lengths = np.array([float(x[0]) for x in end.run_lengths(run.ctx, place)])
    force = run.ctx.peaks.peak.n * rng.choice([-1.0, 1.0]) * rng.uniform(0.2, 1.0)
    if len(lengths) == 3:
        found = tensions(H_RUNS, lengths, ea, cold, force * np.array(end.direction(run.ctx)))
    else:
        found = tensions(TWO_RUNS, lengths, ea, cold, np.array([force]))
    assert found.min() > 0.05 * abs(force), (run.name, lengths, found)


@pytest.mark.parametrize("way", [(1.0, 0.0), (0.0, 1.0), (0.7071067811865476, 0.7071067811865476)])
def test_one_belt_laid_as_an_h_against_springs_with_both_motors(way: tuple[float, float]) -> None:
    """Unknowns are the head along x and y and the turns of both motors, on springs of any stiffness (linear
    solver, NumPy): tensions do not hang on the motors, teeth carry (|Fx| + |Fy|)/2, and what the motors give is in
    series with the belt.

    Outside: 3; library: NumPy, linear solver: three runs
    """
    rng = np.random.default_rng(5)
    for _ in range(50):
        lengths = rng.uniform(100, 2000, size=3)
        ea, motor_a, motor_b = 12000.0, *rng.uniform(1, 500, size=2)
        k = ea / lengths
        reach = np.array([[1.0, 1.0, -1.0, 0.0], [0.0, -2.0, 1.0, 1.0], [-1.0, 1.0, 0.0, -1.0]])
        matrix = reach.T @ np.diag(k) @ reach + np.diag([0.0, 0.0, motor_a, motor_b])
        x = np.linalg.solve(matrix, np.array([*way, 0.0, 0.0]))
        found = k * (reach @ x)
        assert found == pytest.approx(np.array(gantries.h_belt_changes(*way, *lengths)), abs=1e-9)
        teeth = np.abs([found[0] - found[1], found[2] - found[1]])
        assert teeth.max() == pytest.approx(sum(way) / 2)
        alone = H_RUNS.T @ np.diag(k) @ H_RUNS
        belt = np.array(way) @ np.linalg.solve(alone, np.array(way))
        motors = (found[0] - found[1]) ** 2 / motor_a + (found[2] - found[1]) ** 2 / motor_b
        assert float(np.array(way) @ x[:2]) == pytest.approx(belt + motors)


def test_the_h_belt_s_report_is_that_model() -> None:
    """What the report says of one belt laid as an H.

    Outside: 1; library: NumPy, linear solver
    """
    design = changed(begin("crossed_belts", "H"), {"end.form": "one belt, H"})
    design = changed(design, {"moving.0.mass_kg": 0.8})
    _, runs = work_out(design, PROFILES)
    for run in runs:
        end: Any = run.end
        book, way = run.ctx.book.results, np.array(end.direction(run.ctx))
        places = end.positions(run.ctx, 25)
        rows = np.array([np.broadcast_to(r, places.shape) for r in end.run_lengths(run.ctx, places)]).T
        hung = np.array(end.hanging(run.ctx, places)).T
        soft, largest = 0.0, 0.0
        weight = book["tension.weight"].n / 1000
        for lengths, cubes in zip(rows, hung, strict=True):
            gives = lengths / book["belt.ea"].n + weight**2 * cubes / (12 * book["tension.set"].n ** 3)
            soft = max(soft, way @ np.linalg.solve(H_RUNS.T @ np.diag(1 / gives) @ H_RUNS, way))
        for lengths in rows[[0, -1]]:
            largest = max(largest, np.abs(gantries.h_belt_changes(*way, *lengths)).max())
        motors = run.ctx.counts.motors if way.min() < 0.1 else 1
        assert motors / book["stiffness.end"].n == pytest.approx(soft), run.name
        assert book["loop.share"].n == pytest.approx(largest), run.name


@pytest.mark.parametrize(
    ("tension", "length", "line_mass"), [(5.0, 1500.0, 8.1), (12.0, 3000.0, 24.0), (30.0, 900.0, 40.0)]
)
def test_a_sagging_run_against_an_elastic_cable(tension: float, length: float, line_mass: float) -> None:
    """A cable that hangs and stretches, by its differential equation (SciPy): how its ends' distance follows its
    tension is L/EA and the sag's part.

    Outside: 1; library: SciPy, boundary value of a hanging cable
    """
    ea, w = 12000.0, line_mass / 1000 * 9.80665 / 1000  # N, N/mm

    def unstretched(pull: float, apart: float) -> float:
        """Unstretched length between two ends so far apart, under a level pull; by integration."""
        x = np.linspace(0, apart, 400)
        shape = solve_bvp(
            lambda _, y: np.array([y[1], w / pull * np.sqrt(1 + y[1] ** 2)]),
            lambda a, b: np.array([a[0], b[0]]),
            x,
            np.zeros((2, x.size)),
            tol=1e-9,
        )
        slope = shape.sol(x)[1]
        along = np.sqrt(1 + slope**2)
        return float(np.trapezoid(along / (1 + pull * along / ea), x))

    laid = unstretched(tension, length)
    step = tension * 1e-3
    apart = [
        brentq(lambda d, p=p: unstretched(p, d) - laid, length - 20, length + 20, xtol=1e-10)
        for p in (tension - step, tension + step)
    ]
    give = (apart[1] - apart[0]) / (2 * step)
    weight = float(of_tension.hanging_weight(line_mass, 0.0))
    expected = length / ea + float(of_tension.hanging_give(tension, weight, length**3))
    assert give == pytest.approx(expected, rel=4e-3), "strain and sag are small, not none"


@pytest.mark.parametrize("ends", ["held", "pivoted"])
def test_pitch_of_a_stiff_run_against_a_beam_under_tension(ends: str) -> None:
    """A tensioned bar cut into many pieces (finite differences, eigenvalues, NumPy), β from 30 to 200.

    Outside: 2; library: NumPy, eigenvalues of a bar under tension, held and pivoted
    """
    bending, span, mass = 40.0, 300.0, 8.1e-6  # N·mm², mm, kg/mm
    for tension in (0.4, 4.0, 18.0):
        beta = float(of_tension.stiff_run(tension, bending, span))
        n = 1200
        h = span / n
        free = n - 1
        second = (
            np.diag(np.full(free, -2.0)) + np.diag(np.ones(free - 1), 1) + np.diag(np.ones(free - 1), -1)
        ) / h**2
        fourth = second @ second
        if ends == "held":  # a clamped end mirrors its neighbour
            fourth[0, 0] += 2.0 / h**4
            fourth[-1, -1] += 2.0 / h**4
        k = bending * fourth - tension * second
        lowest = float(np.sort(np.linalg.eigvalsh(k))[0])
        hertz = math.sqrt(lowest / (mass / 1000)) / (2 * math.pi)  # N/mm per kg/mm is 1000/s²
        string = float(of_tension.belt_pitch(tension, mass * 1e6, span, 1.0))
        formula = of_tension.pitch_held if ends == "held" else of_tension.pitch_pivoted
        assert hertz / string == pytest.approx(float(formula(beta)), rel=2e-3), beta


# ---- ringing -----------------------------------------------------------------------------------------------


def _rings(zeta: float, hertz: float, ramp: float, coast: float) -> float:
    """Largest force on a mass behind a damped spring while its base makes one move from rest to rest, over its
    mass times the acceleration: the equation of motion step by step.
    """
    omega, dt = 2 * math.pi * hertz, 1 / hertz / 400
    # By displacement behind the base: y'' = −a − 2ζω·y' − ω²·y, exact for a constant a over a step.
    step = expm(np.array([[0, 1], [-(omega**2), -2 * zeta * omega]]) * dt)
    held = np.linalg.solve([[0, 1], [-(omega**2), -2 * zeta * omega]], (step - np.eye(2)) @ [0.0, -1.0])
    state, worst = np.zeros(2), 0.0
    for i in range(int((2 * ramp + coast + 2 / hertz) / dt)):
        t = (i + 0.5) * dt
        a = 1.0 if t < ramp else -1.0 if ramp + coast < t < 2 * ramp + coast else 0.0
        state = step @ state + held * a
        worst = max(worst, abs(state[0]) * omega**2)
    return worst


@given(
    hertz=st.floats(5, 60), half_turns=st.floats(0.1, 6), coast=st.floats(0, 0.5), zeta=st.floats(0.02, 0.15)
)
@settings(max_examples=many(15, 200))
def test_no_move_rings_more_than_is_said(hertz: float, half_turns: float, coast: float, zeta: float) -> None:
    """Against the equation of motion of one damped mode, integrated step by step.

    Outside: 1; library: SciPy, matrix exponential of one damped mode
    """
    ramp = half_turns / (2 * hertz)
    said = float(springs.ringing_on_move(zeta, hertz, hertz, ramp, coast))
    rings = _rings(zeta, hertz, ramp, coast)
    assert rings <= said * 1.01
    # What is said is about the worst of all moves whose timing differs by no more than a period; tried by sixths
    # of one, in which the ringing decays by up to e^(−2π·0.15): one random move was found at 0.71.
    coasts, ramps = np.linspace(0, 1 / hertz, 7), np.linspace(0, 1 / hertz, 5) if half_turns >= 1 else [0.0]
    found = (_rings(zeta, hertz, ramp + r, coast + c) for r in ramps for c in coasts)
    assert max(found) >= 0.65 * said


def test_the_worst_stroke_rings_three_and_a_half_times() -> None:
    """Ramps of half a period that meet, ζ 0.05 (handbook: superposition of steps).

    Outside: 1; library: SciPy, matrix exponential of one damped mode
    """
    assert _rings(0.05, 10.0, 0.05, 0.0) == pytest.approx(3.44, abs=0.01)
    assert float(springs.ringing_on_move(0.05, 10.0, 10.0, 0.05, 0.0)) == pytest.approx(3.44, abs=0.01)
