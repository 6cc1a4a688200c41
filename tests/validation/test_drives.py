"""Screws, drums, cones, crossed belts and gearmotors against textbook examples and general numeric libraries."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.linalg import eigh
from scipy.optimize import brentq

from conftest import PLAIN
from crisp_cadence import catalog, demo
from crisp_cadence.core.account.context import Context
from crisp_cadence.core.account.found import PHASES, Drive
from crisp_cadence.core.design.design import changed, design_from
from crisp_cadence.core.evaluation import chain
from crisp_cadence.core.evaluation.evaluate import Run, evaluate
from crisp_cadence.core.formulas import drums, gantries, guides, motors, screws, vbelt
from crisp_cadence.core.formulas.belt import open_belt_length
from crisp_cadence.core.geometry import cones
from crisp_cadence.core.parts.ends.contract import Moving
from crisp_cadence.core.parts.stages.contract import Transmission
from helpers import value

DESIGNS = demo.designs()  # worked out once: each takes an evaluation


def test_power_screw_of_the_textbooks() -> None:
    """Square thread, 32 mm, pitch 4 mm, two starts, µ 0.08, 6.4 kN: 15.94 N·m to raise, −0.466 N·m to lower
    (a standard machine-design text's worked example, from memory; collar left out).
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
    """Machine-design texts: self-locking for µ > tan α (square thread)."""
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
    """
    beta, n = screws.FIXINGS[fixings]
    rpm, load = beam(fixings, 8.0, 600.0)
    assert screws.whirl_speed(8.0, 600.0, beta, 205.0, 7.85) == pytest.approx(rpm, rel=1e-3)
    assert screws.euler_load(8.0, 600.0, n, 205.0) == pytest.approx(load, rel=1e-3)


def test_capstan_by_integration() -> None:
    """dT/dθ = µT (Euler–Eytelwein, machine-design texts), integrated by SciPy over three turns."""
    got = solve_ivp(lambda _, t: 0.15 * t, (0, 6 * math.pi), [1.0], rtol=1e-11, atol=1e-12)
    assert drums.capstan_ratio(0.15, 6 * math.pi) == pytest.approx(got.y[0, -1], rel=1e-8)


def test_gearmotor_line() -> None:
    """Straight line of a permanent magnet motor: stall, no load, and most power at half speed (machine
    texts).
    """
    line = lambda w: motors.gearmotor_torque(w, 20.0, 3.0, 1.0)  # noqa: E731
    assert (line(0.0), line(20.0)) == (3.0, 0.0)
    speeds = np.linspace(0, 20, 2001)
    assert speeds[int(np.argmax(speeds * line(speeds)))] == pytest.approx(10.0)
    assert motors.gearmotor_torque(5.0, 20.0, 3.0, 0.5) == pytest.approx(0.75)


@pytest.mark.parametrize("ratio", [1.0, 1.6, 2.4, 3.1])
def test_cone_steps_against_a_root_finder(ratio: float) -> None:
    """One belt on every step (exact open-belt length); each step by SciPy's root finder."""
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
    """V-belt texts: dT/dθ = µ·T/sin(α/2) for the tension above the centrifugal one."""
    half = math.radians(17.0)
    got = solve_ivp(lambda _, t: 0.3 * t / math.sin(half), (0, 2.5), [1.0], rtol=1e-11, atol=1e-12)
    assert vbelt.wedge_ratio(0.3, 2.5, 34.0) == pytest.approx(got.y[0, -1], rel=1e-8)


def test_rail_sag_against_integration() -> None:
    """Half of a simply supported beam integrated by SciPy from its middle (slope 0) to its end."""
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
    # what one belt gives with its motor and shaft, all as the belt feels them
    torsion = [(r[k].value or 0) / max(gain) ** 2 for k in ("field.at_carriage", "shaft.at_carriage")]
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


def test_both_motors_of_crossed_belts_by_statics() -> None:
    """Forces at the head from JᵀT: what the table says of both motors gives back force and travel along every
    direction.
    """
    design = DESIGNS["clay-printer-head"]
    report = evaluate(design, catalog.profiles())
    r = value(report, "pulley.radius") / 1000
    table = next(t for t in report.tables if t.key == "motors")
    for row, (ux, uy) in zip(
        table.rows,
        ((1, 0), (0, 1), (1 / math.sqrt(2), 1 / math.sqrt(2)), (1 / math.sqrt(2), -1 / math.sqrt(2))),
        strict=True,
    ):
        _, left, right, left_rpm, right_rpm = (float(c) if isinstance(c, float) else 0.0 for c in row)
        fx, fy = (left - right) * 0.95 / r, (left + right) * 0.95 / r
        assert math.copysign(1, fx * ux + fy * uy) == 1
        vx, vy = (
            (left_rpm - right_rpm) / 2 * math.pi / 30 * r * 1000,
            (left_rpm + right_rpm) / 2 * math.pi / 30 * r * 1000,
        )
        assert (vx, vy) == pytest.approx((ux * design.aim.speed_mm_s, uy * design.aim.speed_mm_s), abs=1e-9)
    k = next(t for t in report.tables if t.key == "stiffness").rows
    assert k[1][3] == pytest.approx(0.0, abs=1e-9), "in the middle of the beam both belts are alike"
    assert float(k[0][3] or 0) == pytest.approx(-float(k[2][3] or 0))


def test_uneven_tension_racks_the_beam() -> None:
    """Moment over rotational stiffness: M = ΔT·W against the guides and two belts a width apart (statics)."""
    w, ea, run = 400.0, 12_000.0, 1500.0
    skew = gantries.racked_skew(5.0, w, 2000.0, ea, run, run)
    assert skew * (2000.0 * 1000 + 2 * ea / run * w**2) == pytest.approx(5.0 * w)


# ---- chains ------------------------------------------------------------------------------------------------

STAGE = st.one_of(
    st.fixed_dictionaries({"kind": st.just("gearbox"), "ratio": st.floats(1.5, 20), "efficiency": st.floats(0.5, 1.0)}),
    st.fixed_dictionaries({"kind": st.just("coupler"), "stiffness_nm_rad": st.floats(5, 500)}),
    st.fixed_dictionaries({"kind": st.just("worm"), "wheel_teeth": st.integers(20, 60), "starts": st.integers(1, 4), "friction": st.floats(0.01, 0.2)}),
    st.fixed_dictionaries({"kind": st.just("closed_belt"), "belt_teeth": st.integers(140, 300), "efficiency": st.floats(0.8, 1.0)}),
)  # fmt: skip
STAGES = st.lists(STAGE, max_size=4)


def walked(
    stages: list[dict[str, Any]], force: float, loop: float, ideal: bool
) -> tuple[Drive, list[Transmission]]:
    """A chain carried from a force at the point back to its motor, cruising (nothing accelerates)."""
    listed = [
        {
            **s,
            **({"efficiency": 1.0} if ideal and "efficiency" in s else {}),
            **({"friction": 0.005} if ideal and s["kind"] == "worm" else {}),
        }
        for s in stages
    ]
    design = design_from({**PLAIN, "chain": [PLAIN["chain"][0], *listed]})
    ctx = Context(design, catalog.profiles())
    put = ctx.book.put
    lam = put("end.lam", "λ", 0.1, "rad/mm", equation="given", source="test")
    none = put("none", "0", 0.0, "kg", equation="0", source="test")
    forces = {p: put(f"f.{p}", "F", force, "N", equation="given", source="test") for p in PHASES}
    parts = list(design.chain)
    passes = [part.transmit(f"chain.{j}", ctx) for j, part in enumerate(parts)]
    return chain.walk(ctx, parts, passes, Moving(lam, loop, none, none), forces), passes


@given(stages=STAGES, force=st.floats(-50, 50).filter(lambda f: abs(f) > 0.1), loop=st.floats(0.6, 1.0))
def test_power_in_is_power_out_plus_losses(stages: list[dict[str, Any]], force: float, loop: float) -> None:
    """Balance of power through every random chain, motoring and braking, stage by stage."""
    got, passes = walked(stages, force, loop, ideal=False)
    speed = 1.0  # mm/s
    before = force * speed / 1000
    lams = [*got.lam_out]
    torques = [t["cruise"].value or 0.0 for t in got.torque_in[1:]] + [got.torque_end["cruise"].value or 0.0]
    links = [(lams[j].value or 0, torques[j]) for j in range(len(torques))]
    etas = [(loop, loop)] + [
        (
            (chain.value_of(p.efficiency) or 0),
            (chain.value_of(p.efficiency if p.efficiency_back is None else p.efficiency_back) or 0),
        )
        for p in reversed(passes[1:])
    ]
    for (lam, torque), (eta, back) in zip(reversed(links), etas, strict=True):
        power = torque * lam * speed
        expected = before / eta if before > 0 else before * back
        assert power == pytest.approx(expected, rel=1e-9, abs=1e-15)
        lost = power - before
        assert lost >= -1e-12, "a chain never makes power"
        before = power


@given(stages=STAGES, force=st.floats(-50, 50).filter(lambda f: abs(f) > 0.1))
def test_virtual_work_holds_without_losses(stages: list[dict[str, Any]], force: float) -> None:
    """Virtual work: T·δφ = F·δx when nothing is lost (worms left out: theirs is friction by nature)."""
    got, _ = walked([s for s in stages if s["kind"] != "worm"], force, 1.0, ideal=True)
    motor = (got.torque_in[0]["cruise"].value or 0.0) * (got.lam_motor.value or 0.0) * 1000
    assert motor == pytest.approx(force, rel=1e-9)


# ---- the layouts as wholes ---------------------------------------------------------------------------------


def test_riding_motor_is_stiffest_at_the_ends_and_4ea_over_l_in_the_middle() -> None:
    """Statics: EA(1/L1 + 1/L2) is 4EA/L in mid rail."""
    light = changed(DESIGNS["drying-shelves-probe"], {"end.belt.line_mass_g_m": 0.1})
    report = evaluate(light, catalog.profiles())
    assert report.along is not None
    free, ea = value(report, "belt.free"), value(report, "belt.ea")
    torsion = sum(1 / value(report, k) for k in ("field.at_carriage", "shaft.at_carriage"))
    runs = free - value(report, "pulley.radius") * value(
        report, "pulley.wrap"
    )  # what lies in the pulley's teeth does not stretch
    assert min(report.along.stiffness_n_mm) == pytest.approx(1 / (runs / 4 / ea + torsion), rel=1e-3)


def test_two_motors_halve_the_torque_and_double_the_stiffness() -> None:
    one = DESIGNS["kiln-room-loader"].model_copy(update={"heads": []})
    two = one.model_copy(update={"sides": one.sides.model_copy(update={"offset_mm": 0.0})})
    alone = one.model_copy(update={"sides": one.sides.model_copy(update={"kind": "one"})})
    a, b = (evaluate(d, catalog.profiles()) for d in (two, alone))
    assert value(a, "stiffness.min") == pytest.approx(2 * value(b, "stiffness.min"))
    for report, count in ((a, 2), (b, 1)):
        assert value(report, "end.torque_accelerate") == pytest.approx(
            value(report, "force.accelerate") / count / 0.95 / value(report, "end.lam") / 1000, rel=1e-9
        )
        assert value(report, "loop.carried") == pytest.approx(value(b, "loop.carried")), "of one side"
    assert value(a, "mass.total") == pytest.approx(value(b, "mass.total") + value(b, "loop.carried")), (
        "the second belt and idler move too"
    )


def test_drum_lifts_the_weight_it_says() -> None:
    """Statics: torque at the drum is m·(g + a)·r over the drum's losses."""
    design = DESIGNS["kiln-room-hoist"]
    report = evaluate(design, catalog.profiles())
    mass = value(report, "mass.tally")
    force = mass * (9.80665 + 0.12) + design.guide.drag_n
    inertia = value(report, "drum.mass") * 0.12
    assert value(report, "end.torque_accelerate") == pytest.approx(
        (force + inertia) * value(report, "drum.radius") / 1000 / 0.95, rel=1e-9
    )


def test_an_arm_is_worst_where_it_is_level() -> None:
    """Statics of a lever: the largest |cos θ| within the range, searched."""
    for low, high in ((-30.0, 60.0), (20.0, 80.0), (-80.0, -40.0), (100.0, 170.0)):
        data = DESIGNS["spray-booth-spray-arm"].model_dump(mode="json")
        data["end"].update(from_deg=low, to_deg=high, turn_deg=10.0)
        report = evaluate(design_from(data), catalog.profiles())
        searched = np.abs(np.cos(np.radians(np.linspace(low, high, 20_001)))).max()
        assert value(report, "joint.level") == pytest.approx(searched, abs=1e-6)
