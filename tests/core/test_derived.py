"""Formulas and reports derived once more by other ways: balances, statics, sums and limits."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import crisp_cadence
from conftest import PLAIN, build
from crisp_cadence import catalog, demo
from crisp_cadence.core.account.context import Context
from crisp_cadence.core.account.found import PHASES, Drive
from crisp_cadence.core.design.design import changed, design_from
from crisp_cadence.core.evaluation import chain
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fields.frames import FRAMES
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.fitting.rolls import CutPiece, Roll, pack
from crisp_cadence.core.fitting.unknown import body_mm, unknown_motor
from crisp_cadence.core.formulas import belt, dynamics, gantries, motion, running, springs, stepper, threads
from crisp_cadence.core.geometry.path import Round, belt_path, closed_belt_centre
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.parts.ends.contract import Moving
from crisp_cadence.core.parts.stages.contract import Transmission
from helpers import value

DESIGNS = demo.designs()  # worked out once: each takes an evaluation

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


@pytest.mark.parametrize("key", catalog.profiles())
def test_pitch_circle_is_as_long_as_its_teeth(key: str) -> None:
    """By definition of pitch (ISO 5296 and its kin): the circumference of the pitch circle is z pitches."""
    p = catalog.profiles()[key]
    for teeth in (p.min_teeth, 20, 37, 60):
        d = belt.pitch_diameter(teeth, p.pitch_mm)
        corners = 200_000  # the perimeter of an inscribed polygon falls short by π²/6n² of the circle's
        perimeter = corners * d * math.sin(math.pi / corners)
        assert perimeter == pytest.approx(teeth * p.pitch_mm, rel=1e-8)
        assert d - belt.outside_diameter(teeth, p.pitch_mm, p.pitch_line_mm) == pytest.approx(
            2 * p.pitch_line_mm
        )


def test_wraps_add_up_to_a_full_turn() -> None:
    """An open belt turns once in all: a fact of plane geometry."""
    for centre, a, b in [(100.0, 20.0, 10.0), (50.0, 5.0, 30.0), (300.0, 12.0, 12.0)]:
        assert belt.wrap_angle(centre, a, b) + belt.wrap_angle(centre, b, a) == pytest.approx(2 * math.pi)


def test_deflection_formula_against_exact_triangle() -> None:
    """Statics of the bent run without the shallow-angle series; at δ/L = 1/40 the series is good to 2 parts
    in a thousand.
    """
    tension, ea, span, free = 40.0, 27_000.0, 300.0, 1500.0
    aside = span / 40
    side = math.hypot(span / 2, aside)
    tight = tension + ea * (2 * side - span) / free
    exact = 2 * tight * aside / side
    assert belt.deflection_force(tension, ea, aside, span, free) == pytest.approx(exact, rel=3e-3)
    assert belt.tension_from_deflection(exact, ea, aside, span, free) == pytest.approx(tension, rel=4e-3)


def test_shaft_load_is_a_vector_sum() -> None:
    """Tension vectors added in the plane."""
    for ta, tb, wrap in [(60.0, 20.0, math.pi), (60.0, 20.0, 2.5), (33.0, 33.0, 1.2)]:
        # the belt enters along one tangent and leaves along another, turned by the wrap
        total = np.array([ta, 0.0]) - tb * np.array([math.cos(wrap), math.sin(wrap)])
        assert belt.shaft_load(ta, tb, wrap) == pytest.approx(float(np.hypot(*total)))
    assert belt.shaft_load(40.0, 40.0, 2.0) == pytest.approx(2 * 40.0 * math.sin(1.0))


def test_common_practice() -> None:
    """Half of an even pulley's teeth mesh at half a turn of wrap (plane geometry)."""
    assert belt.teeth_in_mesh(20, math.pi) == 10
    assert belt.teeth_in_mesh(21, math.pi) == 10


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


def test_riding_motor_is_stiffest_at_the_ends_and_4ea_over_l_in_the_middle() -> None:
    """Statics: EA(1/L1 + 1/L2) is 4EA/L in mid rail."""
    rigid = {"end.belt.line_mass_g_m": 0.1, "assumptions.mesh_give_mm": 1e-6}
    light = changed(DESIGNS["drying-shelves-probe"], rigid)
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


def test_a_loop_inside_out_and_pulleys_in_one_another_are_refused() -> None:
    ring = [Round(n, x, y, 12, 1, n) for n, x, y in (("a", 0, 0), ("b", 200, 0), ("c", 100, 150))]
    with pytest.raises(EntryError, match=r"inside out|cross itself|loop round") as caught:
        belt_path(tuple(reversed(ring)))
    assert caught.value.problems[0].field in "abc"
    with pytest.raises(EntryError, match="lifted does not touch the belt") as caught:
        belt_path((*ring[:2], Round("lifted", 180, 95, 12, -1, "lifted"), ring[2]))
    assert caught.value.problems[0].field == "lifted"
    with pytest.raises(EntryError, match="overlaps with the a") as caught:
        belt_path((ring[0], Round("d", 15, 3, 12, 1, "d"), ring[2]))
    assert caught.value.problems[0].field == "d"


def test_many_pieces_are_packed_without_exceeding_a_roll_and_said_to_be_unproven() -> None:
    random = np.random.default_rng(3)
    pieces = [CutPiece(f"p{i}", float(x)) for i, x in enumerate(random.uniform(100, 900, 60))]
    found = pack(pieces, [Roll(f"r{i}", "roll", 2000.0) for i in range(40)])
    assert not found.exact
    assert not found.unplaced
    assert all(c.leftover_mm >= 0 for c in found.cuts)
    assert found.opened_mm < 1.35 * sum(p.length_mm for p in pieces), (
        "best fit stays near the sum of the pieces"
    )


@pytest.mark.parametrize("wrap_press", [0.0, 25.0])
def test_a_turn_of_the_screw_against_the_path_itself(wrap_press: float) -> None:
    """The idler moved by one turn: what the exact path takes up, stretched over the belt (Hooke), is the
    tension that a turn adds.
    """
    rounds = (
        Round("a", 0, 0, 10, 1),
        Round("b", 400, 0, 10, 1),
        Round("low", 200, 10 + 12 - wrap_press / 10, 12, -1),
    )
    path = belt_path(rounds)
    further = belt_path((rounds[0], Round("b", 400 + 1e-4, 0, 10, 1), rounds[2]))
    taken_up = (further.length_mm - path.length_mm) / 1e-4
    wrap = path.wraps[1]
    got = float(threads.tension_per_turn(12_000.0, path.length_mm, 0.8, 1.0, 2 * math.sin(wrap / 2)))
    assert got == pytest.approx(12_000.0 * taken_up * 0.8 / path.length_mm, rel=1e-3)


def test_virtual_work_at_the_tensioner() -> None:
    """Pull times travel of the pulley is tension times the belt that it takes up; screw force times screw
    travel is the same work.
    """
    tension, wrap, lever = 40.0, math.radians(150), 1.7
    pull = float(threads.pull_on_tensioner(tension, wrap))
    assert pull * 1.0 == pytest.approx(tension * 2 * math.sin(wrap / 2))
    assert float(threads.screw_force(pull, lever, 2)) * 2 * (1 / lever) == pytest.approx(pull * 1.0)


def test_a_belt_and_a_half_degree() -> None:
    """Trigonometry: 1 mm over 229.2 mm is a quarter of a degree."""
    assert float(running.line_angle(1.0, 229.183)) == pytest.approx(0.25, abs=1e-5)


def test_a_bored_off_centre_pulley_ripples_near_the_motor_and_not_at_the_middle() -> None:
    """Statics of two springs: with both runs alike the carriage does not feel it; beside the pulley it feels
    all of it.
    """
    assert float(running.runout_ripple(0.1, 500.0, 500.0)) == 0.0
    assert float(running.runout_ripple(0.1, 1e-9, 1000.0)) == pytest.approx(0.1)
    compliance = np.linalg.solve(np.diag([1 / 200.0 + 1 / 800.0]), [0.1 / 200.0 - 0.1 / 800.0])[0]
    assert float(running.runout_ripple(0.1, 200.0, 800.0)) == pytest.approx(compliance)


def test_paths_that_cannot_exist_name_the_pulley() -> None:
    with pytest.raises(
        EntryError, match=r"b overlaps with the a: 20\.00 mm apart, the belt on both needs 45\.00 mm"
    ) as caught:
        belt_path((Round("a", 0, 0, 30, 1), Round("b", 20, 0, 15, -1, "end.idler")))
    assert caught.value.problems[0].field == "end.idler"
    with pytest.raises(EntryError, match="wall stands in the way of the belt between a and b"):
        belt_path((Round("a", 0, 0, 10, 1), Round("b", 300, 0, 10, 1), Round("wall", 150, -8, 20, 1)))


def test_a_belt_too_short_has_no_centre_distance() -> None:
    assert math.isnan(float(closed_belt_centre(100.0, 30.0, 20.0)))


def test_a_supply_that_cannot_push_rated_current_at_rest() -> None:
    """Ohm's law."""
    kt = stepper.torque_constant(0.4, 0.4)
    assert stepper.pull_out_torque(
        0.0, kt, 30.0, 37.0, stepper.current_limit(0.4, 0), 12.0, 200
    ) == pytest.approx(kt * 12.0 / 30.0)


def test_frames_have_the_bolt_circles_of_the_standard() -> None:
    """NEMA frames, bolt circles of 1.725, 2.625 and 3.875 in (from memory); the square's side is the circle
    over √2.
    """

    for frame, inches, tolerance in (
        ("NEMA 17", 1.725, 0.05),
        ("NEMA 23", 2.625, 0.06),
        ("NEMA 34", 3.875, 0.06),
    ):
        assert FRAMES[frame].bolts_mm == pytest.approx(inches * 25.4 / math.sqrt(2), abs=tolerance)


def test_a_motor_of_unknown_make_lies_within_its_ranges() -> None:
    """Each motor of the starter list as if its make were not known, from the others of its frame: nine in ten
    data within the range.

    Source: the list itself (typical motors by frame and length, from memory), each left out in turn.
    """
    shelf = [
        Stock(p.key, p.kind, p.name, p.data, 0, None) for p in catalog.parts().values() if p.kind == "stepper"
    ]
    inside = asked = 0
    for row in shelf:
        length = body_mm(row)
        assert length is not None, row.name
        found = unknown_motor(
            row.data["frame"], length, row.data["resistance_ohm"], 4, 5.0, [s for s in shelf if s is not row]
        )
        for r in found.ranges:
            assert r.low < r.likely < r.high
            assert r.cautious in (r.low, r.high)
            asked += 1
            inside += r.low <= row.data[r.name] <= r.high
    assert inside / asked > 0.9


def test_a_winding_of_other_ohms_takes_current_by_the_root_and_has_inductance_in_proportion() -> None:
    """Same copper, other turns: N² goes with R and with L, and I with 1/√R at the same loss. Source:
    transformer and winding texts (turns squared).
    """
    shelf = [Stock(p.key, p.kind, p.name, p.data, 0, None) for p in catalog.parts().values()]
    one, four = (unknown_motor("NEMA 23", 60.0, ohm, 4, 6.35, shelf) for ohm in (1.0, 4.0))
    a, b = ({r.name: r.likely for r in m.ranges} for m in (one, four))
    assert b["rated_current_a"] == pytest.approx(a["rated_current_a"] / 2)
    assert b["inductance_mh"] == pytest.approx(4 * a["inductance_mh"])
    assert b["hold_torque_nm"] == pytest.approx(a["hold_torque_nm"])


@pytest.mark.parametrize(
    ("changes", "field"),
    [({"frame": "NEMA 99"}, "frame"), ({"wires": 7}, "wires"), ({"length_mm": 400.0}, "length_mm")],
)
def test_what_no_motor_is_is_refused(changes: dict[str, Any], field: str) -> None:
    shelf = [Stock(p.key, p.kind, p.name, p.data, 0, None) for p in catalog.parts().values()]
    with pytest.raises(EntryError) as caught:
        unknown_motor(
            **{
                "frame": "NEMA 17",
                "length_mm": 40.0,
                "coil_ohm": 1.5,
                "wires": 4,
                "shaft_mm": 5.0,
                "drawer": shelf,
                **changes,
            }
        )
    assert [p.field for p in caught.value.problems] == [field]


def test_closed_forms_of_the_texts() -> None:
    """Rigid mounts: EA(1/L1 + 1/L2); at the far end 2EA/C; a soft idler mount: EA/L1 + 1/(L2/EA + 4/k_b)
    (statics).
    """
    ea, l1, l2, kb = 12_000.0, 300.0, 1300.0, 80.0
    runs = [springs.Spring("belt", "", ea / l1, (1.0, 0.0)), springs.Spring("belt", "", ea / l2, (-1.0, 2.0))]
    network = springs.Network((*runs, springs.Spring("idler", "", kb, (0.0, 1.0))), (1.0, 0.0))
    assert 1 / network.give() == pytest.approx(ea / l1 + 1 / (l2 / ea + 4 / kb))
    assert springs.fixed_loop_stiffness(ea, l1, l2) == pytest.approx(ea / l1 + ea / l2)
    assert springs.fixed_loop_stiffness(ea, 800.0, 800.0) == pytest.approx(2 * ea / 800.0)


def test_a_soft_motor_mount_counts_near_the_motor_only() -> None:
    """At the far end both runs pull alike and the mount does not move (statics)."""
    report = crisp_cadence.evaluate(
        build(
            end__motor_mount__kind="measured",
            end__motor_mount__stiffness_n_mm=50.0,
            end__clamp__gap_mm=0.0,
            assumptions__mesh_give_mm=1e-6,
        )
    )
    share = next(s for s in report.shares if s.part == "motor_mount")
    assert share.share_near > 0.3
    assert share.share_far < 0.02
    assert math.fsum(s.share for s in report.shares) == pytest.approx(1.0)


def test_shaft_torsion_against_a_sum_of_rings() -> None:
    """Saint-Venant: J = ∫ r² dA of a round section, summed in 200 000 rings."""
    r, n, g, length = 2.5, 200_000, 79.0, 20.0
    radii = (np.arange(n) + 0.5) * r / n
    j = float((radii**2 * 2 * math.pi * radii * r / n).sum())
    assert springs.shaft_torsion_stiffness(g, 2 * r, length) == pytest.approx(
        g * 1000 * j / length / 1000, rel=1e-9
    )


def test_of_two_frequencies_the_one_that_rings_most_counts() -> None:
    ramp = 0.02  # half a period of 25 Hz, which lies between
    among = float(springs.ringing_on_move(0.05, 10.0, 60.0, ramp, 0.0))
    each = [float(springs.ringing_on_move(0.05, f, f, ramp, 0.0)) for f in np.linspace(10, 60, 201)]
    # The worst lies a little lower, where less fades while it speeds up: half a hundredth is let go.
    assert max(each) * 0.995 <= among <= max(each)


@pytest.mark.parametrize(
    ("distance", "speed", "acceleration"),
    [(1000.0, 400.0, 2000.0), (20.0, 400.0, 2000.0), (80.0, 400.0, 2000.0), (1.0, 50.0, 90.0)],
)
def test_move_time_against_stepwise_integration(distance: float, speed: float, acceleration: float) -> None:
    """A trapezoid followed in small steps: full acceleration until half way or top speed, mirrored."""
    dt, s, v, t = 1e-5, 0.0, 0.0, 0.0
    while s < distance / 2:
        v = min(v + acceleration * dt, speed)
        s += v * dt
        t += dt
    assert motion.move_time(distance, speed, acceleration) == pytest.approx(2 * t, abs=1e-3)


def test_forces_on_a_slope_against_vectors() -> None:
    """Weight resolved along and across the slope (NumPy vectors)."""
    for degrees in (0, 17, 45, 90):
        slope = math.radians(degrees)
        weight = np.array([0.0, -3.0 * 9.80665])
        along = np.array([math.cos(slope), math.sin(slope)])
        across = np.array([-math.sin(slope), math.cos(slope)])
        assert dynamics.slope_force(3.0, slope) == pytest.approx(-weight @ along, abs=1e-12)
        assert dynamics.guide_drag(3.0, 0.1, slope, 0.0) == pytest.approx(-0.1 * (weight @ across), abs=1e-12)


def test_reflected_inertia_by_kinetic_energy() -> None:
    """½Jω² = ½mv² at any speed."""
    inertia, lam, v = 54.0, 0.31, 420.0
    omega = lam * v
    assert 0.5 * dynamics.mass_of_inertia(inertia, lam) * (v / 1000) ** 2 == pytest.approx(
        0.5 * inertia * 1e-7 * omega**2
    )


def test_torque_by_power_balance() -> None:
    """Power in times efficiency is power out while driving; power back times efficiency reaches the motor
    while driven.
    """
    lam, v = 0.2, 300.0
    for force in (25.0, -25.0):
        torque = dynamics.torque_at_shaft(force, lam, 0.8, 0.8, 0.0, 0.0)
        motor, load = torque * lam * v, force * v / 1000
        assert (motor * 0.8 if force > 0 else motor / 0.8) == pytest.approx(load)


def test_disc_inertia_against_a_sum_of_rings() -> None:
    """J = ∫ r² dm of a solid disc, summed in rings."""
    d, b, rho, n = 2.0, 1.1, 2.7, 100_000  # cm, cm, g/cm³
    r = (np.arange(n) + 0.5) * d / 2 / n
    j = float((r**2 * rho * b * 2 * math.pi * r * d / 2 / n).sum())
    assert dynamics.disc_inertia(20.0, 11.0, 2.7) == pytest.approx(j, rel=1e-8)
