"""What holds a belt's ends and shafts: mounts of every layout, what tightens a closed belt, no tensioner, a rod,
a shaft between two belts, flanges, and what rings on a short stroke.
"""

from __future__ import annotations

import math
from typing import Any

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.design.design import AxisDesign, changed, design_from
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.core.evaluation.evaluate import evaluate, work_out
from crisp_cadence.core.fields.frames import FRAMES
from crisp_cadence.core.fitting.plan import plan_belts, plan_drawing
from crisp_cadence.core.ledger.errors import EntryError
from helpers import rung, value

PROFILES = catalog.profiles()
DESIGNS = demo.designs()
SOFT = {"kind": "measured", "stiffness_n_mm": 60.0, "slotted": False}
PLATE = {"kind": "plate", "material": "aluminium", "thickness_mm": 3.0, "overhang_mm": 40.0}


def of(design: AxisDesign, changes: dict[str, Any]) -> Report:
    return evaluate(changed(design, changes), PROFILES)


def with_chain(name: str, *stages: dict[str, Any], **end: Any) -> AxisDesign:
    """A demo axis with other stages behind its motor."""
    data = DESIGNS[name].model_dump(mode="json")
    return design_from(
        {**data, "chain": [data["chain"][0], *stages], "end": {**data["end"], **end}, "done": []}
    )


def closed(**more: Any) -> dict[str, Any]:
    """The Long way's closed belt, with some of it replaced."""
    stage: dict[str, Any] = DESIGNS["clay-printer-long-way"].model_dump(mode="json")["chain"][1]
    return {**stage, **more}


def one_stage(**more: Any) -> Report:
    return evaluate(with_chain("clay-printer-long-way", closed(**more)), PROFILES)


# ---- mounts of every layout --------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("name", "mount"),
    [
        ("drying-shelves-probe", "anchor_mount"),
        ("drying-shelves-probe", "motor_mount"),
        ("drying-shelves-probe", "idler_mount"),
        ("clay-printer-head", "motor_mount"),
        ("clay-printer-head", "idler_mount"),
        ("seed-shuttle-aisle", "idler_mount"),
    ],
)
def test_a_mount_that_gives_has_its_share_and_its_rungs(name: str, mount: str) -> None:
    stiff = of(DESIGNS[name], {f"end.{mount}": {"kind": "rigid"}})
    soft = of(DESIGNS[name], {f"end.{mount}": PLATE})
    assert value(soft, "stiffness.max") < value(stiff, "stiffness.max")
    assert next(s.share for s in soft.shares if s.part == mount) > 0
    assert math.fsum(s.share for s in soft.shares) == pytest.approx(1.0)
    assert rung(soft, f"{mount}_tilt").demand > 0
    held = {
        b.part: b.load_n
        for b in plan_belts(changed(DESIGNS[name], {f"end.{mount}": PLATE}), PROFILES, []).brackets
    }
    assert held[f"end.{mount}"] is not None


def test_anchors_give_with_the_run_that_each_holds() -> None:
    """Two springs, each behind its own run (statics)."""
    still = changed(
        DESIGNS["drying-shelves-probe"], {"end.belt.line_mass_g_m": 0.1, "end.anchor_mount": SOFT}
    )
    run, _ = work_out(still, PROFILES)
    end: Any = run.end
    ea = run.ctx.book.results["belt.ea"].n
    gives = [
        1 / (1 / (one / ea + 1 / 60.0) + 1 / (two / ea + 1 / 60.0))
        for one, two in zip(*end.runs(run.ctx, end.positions(run.ctx, 25)), strict=True)
    ]
    assert 1 / run.ctx.book.results["stiffness.end"].n == pytest.approx(max(gives), rel=1e-6)


def test_idlers_of_crossed_belts_give_by_the_corner_that_each_turns() -> None:
    """A quarter turn draws a mount by √2 of the tension, and the belt by √2 of what it gives."""
    head = changed(DESIGNS["clay-printer-head"], {"end.belt.line_mass_g_m": 0.1, "end.idler_mount": SOFT})
    run, _ = work_out(head, PROFILES)
    end: Any = run.end
    ea, path = run.ctx.book.results["belt.ea"].n, end.paths(run.ctx)[0]
    at = next(i for i, x in enumerate(path.rounds) if x.part == "end.pulley")
    # Half a turn draws it by twice the tension, a quarter by √2.
    turned = [4.0 if w > 3 else 2.0 for w in path.wraps]
    idle = [x.part == "end.idler" for x in path.rounds]
    drawn = [
        sum(t for t, i in zip(turned[a:b], idle[a:b], strict=True) if i) for a, b in ((0, at), (at, None))
    ]
    assert sum(idle) == 4
    gain = end.gain(run.ctx)
    gives = [
        1 / sum(1 / (length / ea + more / 60.0) for length, more in zip(pair, drawn, strict=True)) / gain**2
        for pair in zip(*end.runs(run.ctx, end.positions(run.ctx, 25)), strict=True)
    ]
    motors = 2 if gain == 1 else 1
    assert motors / run.ctx.book.results["stiffness.end"].n == pytest.approx(max(gives), rel=1e-6)


def test_a_shaft_between_two_belts_is_held_against_both() -> None:
    both = of(DESIGNS["clay-printer-long-way"], {"end.motor_mount": PLATE})
    alone = value(both, "pulley.shaft_load")
    load = rung(both, "motor_mount_grip").demand
    assert load == pytest.approx(alone + value(both, "chain.1.driven.load"))
    design = changed(DESIGNS["clay-printer-long-way"], {"end.motor_mount": PLATE})
    bracket = next(b for b in plan_belts(design, PROFILES, []).brackets if b.part == "end.motor_mount")
    assert bracket.load_n == pytest.approx(load)
    upset = one_stage(driven_mount=PLATE)
    assert not any(r.key.startswith("chain.1.driven_mount") for r in upset.ladder)
    assert any(n.field == "chain.1.driven_mount.kind" for n in upset.notes)


def test_each_shaft_of_a_closed_stage_is_held_by_something() -> None:
    """The spray arm's closed belt is the last thing that pulls on its driven shaft."""
    arm = of(DESIGNS["spray-booth-spray-arm"], {"chain.2.driven_mount": PLATE, "chain.2.motor_mount": PLATE})
    assert rung(arm, "chain.2.driven_mount_tilt").demand > 0
    assert rung(arm, "chain.2.motor_mount_grip").demand == pytest.approx(value(arm, "chain.2.driver.load"))
    assert value(arm, "chain.2.torsion") < value(arm, "chain.2.torsion_belt")


# ---- what tightens a closed belt ---------------------------------------------------------------------------


def test_a_jack_screw_has_force_turn_and_length_by_the_rules_of_every_tensioner() -> None:
    found = one_stage(tensioner={"kind": "jack screw", "screw_mm": 4.0})
    pull = 2 * value(found, "chain.1.tension") * math.sin(value(found, "chain.1.wrap") / 2)
    assert value(found, "chain.1.tensioner.force") == pytest.approx(pull)
    turn = (
        value(found, "chain.1.ea")
        * 0.7
        * value(found, "chain.1.tensioner.runs")
        / value(found, "chain.1.length")
    )
    assert value(found, "chain.1.tensioner.turn") == pytest.approx(turn)
    assert rung(found, "chain.1.tensioner").demand == pytest.approx(
        (value(found, "chain.1.stretch") + 0.2 + 3.0) / value(found, "chain.1.tensioner.runs")
    )


def test_a_spring_is_drawn_out_by_its_pull_over_its_rate() -> None:
    found = one_stage(tensioner={"kind": "spring", "rate_n_mm": 4.0})
    assert value(found, "chain.1.tensioner.draw") == pytest.approx(value(found, "chain.1.tensioner.pull") / 4)


def test_a_hanging_motor_gives_the_tension_and_keeps_it() -> None:
    found = one_stage(tensioner={"kind": "hanging motor", "hanging_kg": 5.0, "lever": 1.5})
    gives = 5.0 * 9.80665 * 1.5 / (2 * math.sin(value(found, "chain.1.wrap") / 2))
    assert value(found, "chain.1.tension") == pytest.approx(gives, rel=1e-3)
    assert value(found, "chain.1.tension_coldest") == value(found, "chain.1.tension")
    light = one_stage(tensioner={"kind": "hanging motor", "hanging_kg": 0.5})
    assert rung(light, "chain.1.floor").verdict == "short"
    unknown = evaluate(
        changed(
            with_chain("clay-printer-long-way", closed(tensioner={"kind": "hanging motor"})),
            {"chain.0.mass_kg": None},
        ),
        PROFILES,
    )
    assert rung(unknown, "chain.1.floor").missing == ("chain.0.mass_kg",)


def test_shafts_that_stand_still_make_the_tension() -> None:
    """Hooke's law over the length of the path at that distance."""
    loose = one_stage(wanted_mm=134.6, tensioner={"kind": "none"})
    assert value(loose, "chain.1.tension") == 0
    assert rung(loose, "chain.1.floor").verdict == "short"
    tight = one_stage(wanted_mm=135.0, tensioner={"kind": "none"})
    longer = (
        2 * math.sqrt(135.0**2 - (30 / math.pi) ** 2) + 2 * math.asin(30 / math.pi / 135.0) * 30 / math.pi
    )
    longer += 90.0 - 360.0
    assert value(tight, "chain.1.tensioner.longer") == pytest.approx(longer, abs=1e-9)
    assert value(tight, "chain.1.tension") == pytest.approx(value(tight, "chain.1.ea") * longer / 360.0)
    assert not any(r.key == "chain.1.tensioner" for r in tight.ladder)
    step = next(w for w in tight.work if w.key == "chain_1_tension")
    assert "both shafts where they stand" in step.do, "a closed belt has no end to draw"
    entered = one_stage(
        wanted_mm=135.0, tensioner={"kind": "none"}, belt={**closed()["belt"], "tension_n": 20.0}
    )
    assert value(entered, "chain.1.tension") == value(tight, "chain.1.tension")
    assert any("does not count" in n.says for n in entered.notes)
    nothing = one_stage(tensioner={"kind": "none"})
    assert rung(nothing, "chain.1.floor").missing == ("chain.1.wanted_mm",)


def test_a_roller_that_is_not_there_tightens_nothing() -> None:
    with pytest.raises(EntryError) as caught:
        one_stage(tensioner={"kind": "roller"})
    assert caught.value.problems[0].field == "chain.1.tensioner.kind"
    roller = {"kind": "smooth", "diameter_mm": 20.0, "x_mm": 60.0, "y_mm": -24.0, "belt_on": "back"}
    found = one_stage(tensioner={"kind": "roller"}, rollers=[roller])
    assert value(found, "chain.1.tensioner.wrap") < 1
    assert rung(found, "chain.1.tensioner").field == "chain.1.adjust_mm"


@pytest.mark.parametrize(
    ("off", "verdict"), [(0.0, "holds"), (1.0, "holds"), (-2.0, "short"), (2.4, "short"), (4.0, "short")]
)
def test_a_slot_must_take_the_belt_on_and_tight_where_the_shafts_are_wanted(off: float, verdict: str) -> None:
    centre = value(one_stage(), "chain.1.centre")
    found = one_stage(wanted_mm=centre - off)
    assert rung(found, "chain.1.tensioner").verdict == verdict
    plan = plan_belts(
        with_chain("clay-printer-long-way", closed(wanted_mm=centre - off)), PROFILES, catalog.stock()
    )
    same = next(s for s in plan.closed[0].stock if s.teeth == 120)
    assert same.fits == (verdict == "holds")


def test_a_search_keeps_to_the_slot_too() -> None:
    stage = with_chain("clay-printer-long-way", closed(wanted_mm=140.0)).chain[1]
    assert stage.slot_for(0.0) == pytest.approx(3.0)  # type: ignore[attr-defined]
    assert stage.slot_for(1.0) == pytest.approx(2.2)  # type: ignore[attr-defined]


# ---- two belts that one shaft moves ------------------------------------------------------------------------


def test_the_later_belt_is_set_first_and_both_fix_the_place_of_the_shaft() -> None:
    design = with_chain("clay-printer-long-way", closed(outer_mm=250.0), closed(belt_teeth=130))
    report = evaluate(design, PROFILES)
    along, across = value(report, "chain.1.middle_along"), value(report, "chain.1.middle_across")
    for x, belt in ((along, 1), (250.0 - along, 2)):
        assert math.hypot(x, across) == pytest.approx(value(report, f"chain.{belt}.taut_centre"))
    keys = [w.key for w in report.work]
    assert keys.index("chain_2_tension") < keys.index("chain_1_tension")
    assert any(n.step == "tune" and "Set that belt first" in n.says for n in report.notes)
    far = evaluate(
        with_chain("clay-printer-long-way", closed(outer_mm=400.0), closed(belt_teeth=130)), PROFILES
    )
    assert rung(far, "chain.1.outer").verdict == "short"
    near = evaluate(
        with_chain("clay-printer-long-way", closed(outer_mm=10.0), closed(belt_teeth=130)), PROFILES
    )
    assert rung(near, "chain.1.outer_near").verdict == "short"


def test_a_plate_that_tightens_the_loop_moves_the_closed_belt_before_it() -> None:
    design = with_chain(
        "clay-printer-long-way", closed(), tensioner={"kind": "slotted motor plate", "travel_mm": 14.0}
    )
    keys = [w.key for w in evaluate(design, PROFILES).work]
    assert keys.index("tensioner_lock") < keys.index("chain_1_tension") < keys.index("chain_1_guard")


# ---- no tensioner, a rod -----------------------------------------------------------------------------------


def test_without_a_tensioner_a_tooth_must_hit_the_band() -> None:
    report = of(DESIGNS["slip-writer-reach"], {"end.tensioner.kind": "none"})
    found = rung(report, "tensioner")
    assert found.demand == pytest.approx(value(report, "belt.ea") * 2.0 / value(report, "belt.free"))
    assert found.capacity == pytest.approx(value(report, "tension.high") - value(report, "tension.low"))
    assert found.verdict == "short"
    assert (
        plan_belts(
            changed(DESIGNS["seed-shuttle-aisle"], {"end.tensioner.kind": "none"}), PROFILES, []
        ).tensioner
        is None
    )


@pytest.mark.parametrize(("rod", "verdict"), [(3.0, "short"), (14.0, "holds")])
def test_a_belt_doubled_round_a_rod_bends_round_it(rod: float, verdict: str) -> None:
    report = of(DESIGNS["glaze-bench-pass"], {"end.clamp.rod_mm": rod})
    found = rung(report, "rod")
    assert (found.verdict, found.advisory) == (verdict, True)
    assert found.demand == pytest.approx(14 * 2 / 2 / math.pi)
    assert not any(
        r.key == "rod" for r in of(DESIGNS["seed-shuttle-aisle"], {"end.clamp.rod_mm": rod}).ladder
    )


# ---- flanges -----------------------------------------------------------------------------------------------


def test_a_gearbox_on_the_plate_brings_its_own_flange() -> None:
    lift = changed(DESIGNS["seed-shuttle-lift"], {"end.motor_mount": PLATE})
    with pytest.raises(EntryError) as caught:
        plan_drawing(lift, PROFILES, [], "plate:end.motor_mount")
    assert caught.value.problems[0].field == "chain.1.bolts_mm"
    flanged = changed(
        lift, {"chain.1.side_mm": 40.0, "chain.1.bolts_mm": 28.0 * math.sqrt(2), "chain.1.boss_mm": 20.0}
    )
    shapes = plan_drawing(flanged, PROFILES, [], "plate:end.motor_mount").shapes
    centres = {(round(abs(s.x), 6), round(abs(s.y), 6)) for s in shapes if getattr(s, "radius", None) == 1.7}
    assert (14.0, 14.0) in centres


def test_a_plate_on_a_shaft_has_no_motor_s_holes() -> None:
    reduced = changed(DESIGNS["clay-printer-long-way"], {"end.motor_mount": PLATE})
    assert "plate:end.motor_mount" not in [r.what for r in plan_belts(reduced, PROFILES, []).out]


def test_a_frame_carries_its_shaft() -> None:
    from crisp_cadence.core.design.design import design_schema

    field = design_schema()["$defs"]["Stepper"]["properties"]["frame"]
    assert field["carries"]["NEMA 23"] == {"shaft_mm": 6.35}
    assert field["carries"].keys() == FRAMES.keys()


# ---- what rings --------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", DESIGNS)
def test_the_axis_rings_between_what_is_counted_on(name: str) -> None:
    """Rotor and field make the axis ring slower than with its motor held, on no axis of the demo by over a
    half.
    """
    report = evaluate(DESIGNS[name], PROFILES)
    if report.value("mode.low") is not None:
        assert value(report, "ringing.low") < value(report, "mode.low") < value(report, "ringing.high")


def test_a_short_stroke_rings_more() -> None:
    long = of(DESIGNS["clay-printer-head"], {})
    short = of(DESIGNS["clay-printer-head"], {"aim.stroke_mm": 3.0})
    assert value(long, "ringing.factor") == pytest.approx(1.854, abs=0.001)
    assert 2.5 < value(short, "ringing.factor") <= value(short, "ringing.worst")
    assert value(short, "belt.peak_force") > value(long, "belt.peak_force")
    assert value(short, "tension.needed") > value(long, "tension.needed")


# ---- gantries ----------------------------------------------------------------------------------------------


def test_two_racks_with_a_cross_shaft_share_the_load_as_their_springs_do() -> None:
    rack = begin("rack", "Two racks")
    one = of(rack, {"moving.0.mass_kg": 3.0})
    two = of(rack, {"moving.0.mass_kg": 3.0, "sides": {"kind": "cross shaft", "width_mm": 600.0}})
    mesh, shaft = 1 / value(one, "stiffness.end"), 1 / value(two, "sides.at_carriage")
    assert value(two, "stiffness.end") == pytest.approx(1 / mesh + 1 / (mesh + shaft))
    assert value(two, "sides.stiffness") == pytest.approx(1 / mesh)


def test_the_skew_is_the_same_however_the_difference_was_measured() -> None:
    """What the beam evens out by giving way is EA·φ·W/L on each belt (statics)."""
    laid = of(DESIGNS["clay-printer-head"], {"end.uneven_n": 6.0})
    skew, wide = value(laid, "crossed.skew"), 520.0
    left = 6.0 - 2 * value(laid, "belt.ea") * skew * wide / value(laid, "belt.free")
    assert 0 < left < 6.0
    measured = of(
        DESIGNS["clay-printer-head"], {"end.uneven_n": left, "end.uneven_as": "measured, beam free"}
    )
    assert value(measured, "crossed.skew") == pytest.approx(skew)
