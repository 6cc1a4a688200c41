"""The Belt step's plan: what it finds in the drawer, what it says, and what it changes."""

from __future__ import annotations

import math
from typing import Any, ClassVar

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.design import changed
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.evaluation.evaluate import draw, evaluate
from crisp_cadence.core.fields.belts import Fixing, Pulley
from crisp_cadence.core.fields.part import part_at
from crisp_cadence.core.fitting.bores import advise, holds
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.fitting.plan import plan_belts
from crisp_cadence.core.fitting.rows import BeltPlan
from crisp_cadence.core.ledger.errors import EntryError
from helpers import rung, value

PROFILES = catalog.profiles()
DESIGNS = demo.designs()
SHELF = [
    Stock(p.key, p.kind, p.name, p.data, 50 if p.kind in ("washer", "spacer", "screw") else 1, None)
    for p in catalog.parts().values()
]


def edited(name: str, changes: dict[str, Any]) -> Any:
    return changed(DESIGNS[name], changes)


def plan(name: str, changes: dict[str, Any] | None = None, drawer: list[Stock] | None = None) -> BeltPlan:
    return plan_belts(edited(name, changes or {}), PROFILES, SHELF if drawer is None else drawer)


def refused(name: str, changes: dict[str, Any]) -> dict[str, str]:
    with pytest.raises(EntryError) as caught:
        evaluate(edited(name, changes), PROFILES)
    assert all(p.remedy for p in caught.value.problems)
    return {p.field: p.message for p in caught.value.problems}


@pytest.mark.parametrize("key", LAYOUTS)
def test_every_layout_has_its_plan(key: str) -> None:
    design = begin(key, "New")
    made = plan_belts(design, PROFILES, SHELF)
    report = evaluate(design, PROFILES)
    belted = any(s.strands and any(t.form != "rope" for t in s.strands) for s in draw(design, PROFILES))
    assert bool(made.belts) == belted
    for row in made.belts:
        assert sum(w.wrap_deg for w in row.wheels if w.radius_mm > 0) > 0
        assert len(row.threading) >= len(row.wheels)
        for wheel in row.wheels:
            assert wheel.part == "" or part_at(design, wheel.part) is not None
    if made.packing is not None:
        assert sum(p.length_mm for c in made.packing.cuts for p in c.pieces) == pytest.approx(
            value(report, "belt.cut") * len([p for c in made.packing.cuts for p in c.pieces])
        )
    if belted:
        assert made.line
        assert made.out


class TestPath:
    ROLLER: ClassVar[dict[str, Any]] = {
        "kind": "smooth",
        "label": "Presser",
        "diameter_mm": 21.0,
        "width_mm": 10.0,
        "belt_on": "back",
        "where": "after the pulley",
        "x_mm": 400.0,
        "y_mm": -18.0,
    }

    def test_a_roller_lengthens_the_belt_adds_mass_and_is_bought(self) -> None:
        plain, led = (
            evaluate(edited("seed-shuttle-aisle", {"end.rollers": r}), PROFILES) for r in ([], [self.ROLLER])
        )
        assert 0 < value(led, "belt.free") - value(plain, "belt.free") < 1
        assert value(led, "loop.carried") > value(plain, "loop.carried")
        assert any(b.field == "end.rollers.0" for b in led.bill)
        wheel = next(
            w
            for w in plan("seed-shuttle-aisle", {"end.rollers": [self.ROLLER]}).belts[0].wheels
            if w.part == "end.rollers.0"
        )
        assert (wheel.touches, wheel.turns) == ("back", "clockwise")

    def test_a_roller_on_the_teeth_beside_the_pulley_adds_wrap(self) -> None:
        led = {**self.ROLLER, "where": "before the pulley", "x_mm": 40.0, "y_mm": 20.0, "diameter_mm": 16.0}
        plain, more = (
            evaluate(edited("seed-shuttle-aisle", {"end.rollers": r, "end.clamp_rise_mm": 11.459}), PROFILES)
            for r in ([], [led])
        )
        assert value(more, "pulley.wrap") > value(plain, "pulley.wrap")

    @pytest.mark.parametrize(
        ("change", "field", "says"),
        [
            ({"y_mm": -40.0}, "end.rollers.0.x_mm", "does not touch the belt"), ({"x_mm": 10.0, "y_mm": 0.0}, "end.rollers.0.x_mm", "overlaps with the drive pulley"),
            ({"kind": "toothed", "teeth": 20}, "end.rollers.0.belt_on", "has teeth, and the belt's back has none"),
            ({"kind": "toothed", "teeth": 8, "belt_on": "teeth", "y_mm": -10.0}, "end.rollers.0.teeth", "bent too sharply"),
            ({"where": "after the idler", "x_mm": 300.0, "y_mm": 11.0}, "end.rollers.0.x_mm", ""),
        ],
    )  # fmt: skip
    def test_rollers_that_cannot_be_are_named(self, change: dict[str, Any], field: str, says: str) -> None:
        found = refused("seed-shuttle-aisle", {"end.rollers": [{**self.ROLLER, **change}]})
        assert says in found[field]

    def test_an_idler_out_of_level_changes_the_belt_over_the_travel(self) -> None:
        level, raised = (
            evaluate(edited("seed-shuttle-aisle", {"end.idler_rise_mm": r}), PROFILES) for r in (None, -30.0)
        )
        assert value(level, "loop.change") == pytest.approx(0.0, abs=1e-9)
        assert value(raised, "loop.change") > 0.1

    def test_dragging_moves_what_it_says(self) -> None:
        """Every handle of every demo drawing: the number it names, moved by a millimetre, moves that wheel by
        as much.
        """
        tried = 0
        for name, design in DESIGNS.items():
            for scene in draw(design, PROFILES):
                for wheel in scene.wheels:
                    for handle in wheel.handles:
                        if handle.whole or (handle.dx == 0 and handle.dy == 0):
                            continue
                        by = 0.5
                        moved = draw(edited(name, {handle.field: handle.value + by}), PROFILES)
                        same = next(
                            w
                            for s in moved
                            if s.title == scene.title
                            for w in s.wheels
                            if w.name == wheel.name and w.plane == wheel.plane
                        )
                        if handle.field in (
                            "end.motor_offset_mm",
                        ):  # the motor is where the drawing begins: everything else moves away
                            assert moved[0].slabs[1].at.x_mm - scene.slabs[1].at.x_mm == pytest.approx(by)
                        elif (
                            "centre_mm" not in handle.field
                        ):  # the middle pulley of a spindle follows its two belts
                            assert by / (handle.dx or handle.dy) == pytest.approx(
                                same.at.x_mm - wheel.at.x_mm if handle.dx else same.at.y_mm - wheel.at.y_mm,
                                abs=1e-6,
                            ), (name, handle.field)
                        tried += 1
        assert tried > 15

    def test_closed_belt_with_a_roller_keeps_its_length(self) -> None:
        offer = plan("clay-printer-long-way").belts[0].offer
        report = evaluate(edited("clay-printer-long-way", {"chain.1.rollers": [offer]}), PROFILES)
        assert value(report, "chain.1.centre") < value(
            evaluate(DESIGNS["clay-printer-long-way"], PROFILES), "chain.1.centre"
        )
        assert plan("clay-printer-long-way", {"chain.1.rollers": [offer]}).belts[
            0
        ].length_mm == pytest.approx(360.0, abs=1e-6)
        assert (
            "fits no distance"
            in refused("clay-printer-long-way", {"chain.1.rollers": [offer], "chain.1.belt_teeth": 32})[
                "chain.1.belt_teeth"
            ]
        )


class TestLengths:
    def test_from_the_drawer_or_to_buy_or_nothing_known(self) -> None:
        made = plan("seed-shuttle-aisle")
        assert made.packing is not None
        assert [(c.roll.name, round(c.leftover_mm)) for c in made.packing.cuts] == [
            ("Roll G 3 mm, 9 mm wide, 5 m", 1301)
        ]
        none_here = [Stock(s.key, s.kind, s.name, s.data, 0, s.price) for s in SHELF]
        bought = plan("seed-shuttle-aisle", drawer=none_here)
        assert bought.packing_says == "Nothing in the drawer is long enough: buy the roll named."
        assert bought.packing is not None
        assert not bought.packing.cuts[0].roll.owned
        empty = plan("seed-shuttle-aisle", drawer=[])
        assert empty.packing_says.startswith(
            "The drawer knows no roll of this belt (round-g-3, 9 mm, glass cord)"
        )
        short = [s for s in none_here if s.kind != "roll" or s.data["length_mm"] <= 2000]
        assert (
            plan("seed-shuttle-aisle", drawer=short).packing_says
            == "No roll is long enough: 3699 mm are needed, the longest is 2000 mm. Buy this belt by "
            "the metre."
        )

    def test_two_sides_are_two_pieces_packed_together(self) -> None:
        made = plan("kiln-room-loader")
        assert made.packing is not None
        assert sum(len(c.pieces) for c in made.packing.cuts) == 2

    def test_rows_of_the_drawer_that_make_no_sense_are_left_out(self) -> None:
        odd = [
            Stock(f"own:{i}", kind, "odd", data, 3, None)
            for i, (kind, data) in enumerate(
                (
                    ("roll", {"profile": "round-g-3", "width_mm": "9", "length_mm": 5000.0}),
                    ("roll", {"profile": "round-g-3", "width_mm": 9.0, "cord": "glass", "length_mm": -5.0}),
                    ("washer", {"diameter_mm": True, "thickness_mm": 1.0}),
                    ("closed belt", {"profile": "round-g-3"}),
                    ("screw", {}),
                    ("pulley", {"teeth": None, "profile": "round-g-3"}),
                )
            )
        ]
        assert plan("seed-shuttle-aisle", {"end.idler.seat_mm": 10.0}, drawer=odd).packing is not None
        assert plan("clay-printer-long-way", drawer=odd).closed[0].stock == ()

    def test_stock_lengths_and_one_that_cannot_reach(self) -> None:
        row = plan("clay-printer-long-way", {"chain.1.wanted_mm": 150.0}).closed[0]
        assert row.reach == "1 stock length within the slot of 5 mm."
        assert [s.teeth for s in row.stock if s.fits] == [130]
        far = plan("clay-printer-long-way", {"chain.1.wanted_mm": 142.0}).closed[0]
        assert far.reach.startswith(
            "No stock length reaches 142.0 mm within the slot: the nearest is 7.34 mm off. Lengthen "
            "the slot to 16 mm"
        )
        none = plan("clay-printer-long-way", drawer=[]).closed[0]
        assert (
            none.reach
            == "The drawer knows no closed belt of Round tooth G 3 mm, 9 mm wide. Add one, or take "
            "another width."
        )
        tiny = plan("clay-printer-long-way", {"chain.1.wanted_mm": 30.0}).closed[0]
        assert [s.says for s in tiny.stock if s.centre_mm is None] == [
            "cannot reach: the pulleys would touch"
        ]
        assert all(
            abs(s.off_mm - (s.centre_mm - 30.0)) < 1e-9
            for s in tiny.stock
            if s.centre_mm is not None and s.off_mm is not None
        )

    def test_what_is_owned_comes_first_among_pairs(self) -> None:
        mine = [
            Stock(s.key, s.kind, s.name, s.data, 1 if s.data.get("belt_teeth") == 112 else 0, None)
            for s in SHELF
        ]
        found = plan("clay-printer-long-way", {"chain.1.wanted_mm": 123.0}, drawer=mine).closed[0].pairs
        assert found[0].belt_teeth == 112
        assert found[0].owned == 1

    def test_v_belts_of_stock_are_tried_on_every_step(self) -> None:
        rows = plan("trimming-bench-potter-s-wheel").grooved
        assert [r.field for r in rows] == ["end.motor_belt_mm", "end.cone_belt_mm"]
        lengths = {s.length_mm: s for s in rows[0].stock}
        assert lengths[1000.0].smallest_mm is not None
        assert lengths[560.0].smallest_mm is None
        assert lengths[560.0].says.startswith("serves 0 of 4 speeds: a step of")


class TestTensioner:
    def test_the_thread_ends_before_the_slot(self) -> None:
        changes = {"end.tensioner.screw_length_mm": 16.0}
        report = evaluate(edited("seed-shuttle-aisle", changes), PROFILES)
        found = rung(report, "tensioner")
        assert (found.capacity, found.verdict, found.field) == (3.0, "short", "end.tensioner.screw_length_mm")
        made = plan("seed-shuttle-aisle", changes).tensioner
        assert made is not None
        assert made.says == "It runs out: the thread ends at 3.0 mm and 5.3 mm are needed, 2.3 mm short."
        assert made.mend == {"end.tensioner.screw_length_mm": 20.0}
        mended = evaluate(edited("seed-shuttle-aisle", {**changes, **made.mend}), PROFILES)
        assert rung(mended, "tensioner").verdict == "holds"

    def test_a_short_slot_is_mended_too(self) -> None:
        made = plan("seed-shuttle-aisle", {"end.tensioner.travel_mm": 3.0}).tensioner
        assert made is not None
        assert made.mend == {"end.tensioner.travel_mm": 6.0}

    def test_pieces_of_the_budget_add_up_and_screws_come_from_the_drawer(self) -> None:
        made = plan("seed-shuttle-aisle").tensioner
        assert made is not None
        assert math.fsum(p.mm for p in made.pieces) == pytest.approx(made.needs_mm)
        assert (made.screw, made.screw_mm) == ("Socket head screw M5 × 20", 20.0)
        assert "none in the drawer" in plan("seed-shuttle-aisle", drawer=[]).tensioner.screw  # type: ignore[union-attr]

    @pytest.mark.parametrize(
        ("kind", "pull"),
        [("slotted idler", 2.0), ("slotted motor plate", 2.0), ("movable clamp", 1.0), ("swinging arm", 2.0)],
    )
    def test_each_kind_pulls_as_it_must(self, kind: str, pull: float) -> None:
        report = evaluate(
            edited(
                "seed-shuttle-aisle",
                {"end.tensioner.kind": kind, "end.tensioner.lever": 1.5, "end.tensioner.screws": 1},
            ),
            PROFILES,
        )
        assert value(report, "tensioner.force") == pytest.approx(
            1.5 * pull * value(report, "tension.set"), rel=1e-3
        )
        assert value(report, "tensioner.turn") == pytest.approx(360 / value(report, "tensioner.per_n"))

    def test_a_thread_outside_the_table_is_said_so(self) -> None:
        report = evaluate(edited("seed-shuttle-aisle", {"end.tensioner.screw_mm": 7.0}), PROFILES)
        assert next(q for q in report.results if q.key == "tensioner.turn").value is None
        assert (
            "no coarse thread" in plan("seed-shuttle-aisle", {"end.tensioner.screw_mm": 7.0}).tensioner.says
        )  # type: ignore[union-attr]


class TestLine:
    LOW: ClassVar[dict[str, Any]] = {
        "end.idler.stack": [{"label": "Spacer", "thickness_mm": 9.0, "quantity": 1}]
    }

    def test_two_washers_too_low_is_short_and_mended_from_the_drawer(self) -> None:
        assert rung(evaluate(edited("seed-shuttle-aisle", self.LOW), PROFILES), "line").verdict == "short"
        row = next(r for r in plan("seed-shuttle-aisle", self.LOW).line if r.part == "end.idler")
        assert (row.off_mm, row.in_line) == (-2.0, False)
        assert row.says.startswith("2.00 mm too low with 2 pieces of 11.00 mm")
        assert sum(p.quantity for p in row.proposed) == 2
        mended = evaluate(edited("seed-shuttle-aisle", {**self.LOW, **row.change}), PROFILES)
        assert rung(mended, "line").verdict in ("holds", "no demand")
        assert "M5 × " in row.screw

    def test_an_empty_drawer_says_what_is_wanted(self) -> None:
        row = next(
            r
            for r in plan("seed-shuttle-aisle", {"end.idler.stack": []}, drawer=[]).line
            if r.part == "end.idler"
        )
        assert row.says == "Nothing in the drawer goes on an axle of 5 mm: 11.00 mm of washers are wanted."
        assert row.change == {}

    def test_a_seat_too_high_asks_for_the_other_side(self) -> None:
        row = next(
            r for r in plan("seed-shuttle-aisle", {"end.idler.seat_mm": 31.0}).line if r.part == "end.idler"
        )
        assert (
            row.says
            == "Its seat is 2.00 mm too high even with nothing under it: lower the seat, or lift the "
            "drive pulley."
        )

    def test_what_does_not_add_up_is_said(self) -> None:
        nuts = [Stock("n", "washer", "Nut", {"diameter_mm": 5.0, "thickness_mm": 4.7}, 2, None)]
        row = next(
            r
            for r in plan("seed-shuttle-aisle", {"end.idler.stack": []}, drawer=nuts).line
            if r.part == "end.idler"
        )
        assert row.says.startswith("What lies in the drawer does not add up to 11.00 mm")

    def test_without_heights_nothing_is_checked_and_nothing_guessed(self) -> None:
        made = plan("glaze-bench-pass")
        assert {r.off_mm for r in made.line} == {None}
        assert not any(r.key == "line" for r in evaluate(DESIGNS["glaze-bench-pass"], PROFILES).ladder)

    def test_grooves_of_a_spindle_in_line(self) -> None:
        heights = {"end.motor_line_mm": 50.0, "end.middle_line_mm": 54.0, "end.spindle_line_mm": 50.0}
        assert (
            rung(evaluate(edited("trimming-bench-potter-s-wheel", heights), PROFILES), "line").verdict
            == "short"
        )
        row = plan("trimming-bench-potter-s-wheel", heights).line[1]
        assert row.change == {"end.middle_line_mm": 50.0}


class TestRunningTrue:
    def test_a_missing_flange_is_a_rung_and_a_met_one_is_not(self) -> None:
        assert not any(r.key == "flanges" for r in evaluate(DESIGNS["seed-shuttle-aisle"], PROFILES).ladder)
        bare = rung(
            evaluate(edited("seed-shuttle-aisle", {"end.idler.flanges": "none"}), PROFILES), "flanges"
        )
        assert (bare.verdict, bare.field) == ("short", "end.idler.flanges")

    def test_washers_wider_than_the_bearing_count_as_flanges(self) -> None:
        smooth: dict[str, Any] = {
            "end.idler.kind": "smooth",
            "end.idler.diameter_mm": 22.0,
            "end.idler.flanges": "none",
        }
        assert any(
            r.key == "flanges"
            for r in evaluate(
                edited("seed-shuttle-aisle", {**smooth, "end.idler.washer_mm": 24.0}), PROFILES
            ).ladder
        )
        assert not any(
            r.key == "flanges"
            for r in evaluate(
                edited("seed-shuttle-aisle", {**smooth, "end.idler.washer_mm": 30.0}), PROFILES
            ).ladder
        )

    @pytest.mark.parametrize(
        ("changes", "key"),
        [
            ({"end.idler.width_mm": 8.0}, "face"), ({"end.slot_mm": 8.9}, "slot"), ({"end.clamp.engaged_teeth": 1, "end.clamp.kind": "zip tie", "end.belt.tension_n": 60.0}, "clamp"),
            ({"end.near": [{"label": "Screw head", "x_mm": 500.0, "y_mm": -13.0, "width_mm": 8.0, "height_mm": 4.0}]}, "clearance"),
            ({"end.idler_mount.bolts": 1, "end.idler_mount.bolt_mm": 3.0, "end.belt.tension_n": 200.0}, "idler_mount_grip"),
            ({"end.idler_mount.material": "PLA", "end.idler_mount.warm_c": 60.0}, "idler_mount_heat"), ({"end.pulley.runout_mm": 1.0}, "ripple"),
            ({"end.idler.axle_mm": 2.0, "end.belt.tension_n": 80.0}, "axle"),
        ],
    )  # fmt: skip
    def test_each_check_can_fail_and_names_its_remedy(self, changes: dict[str, Any], key: str) -> None:
        found = rung(evaluate(edited("seed-shuttle-aisle", changes), PROFILES), key)
        assert found.verdict == "short"
        assert found.says
        part_at(edited("seed-shuttle-aisle", changes), found.field.rpartition(".")[0])

    def test_a_measured_clamp_counts(self) -> None:
        found = rung(evaluate(edited("seed-shuttle-aisle", {"end.clamp.pull_n": 15.0}), PROFILES), "clamp")
        assert (found.capacity, found.verdict) == (15.0, "short")

    def test_a_thing_that_rides_is_looked_at_on_both_ends(self) -> None:
        near = {
            "label": "Wheel",
            "x_mm": 100.0,
            "y_mm": -13.0,
            "width_mm": 8.0,
            "height_mm": 2.0,
            "rides": True,
        }
        assert (
            rung(evaluate(edited("seed-shuttle-aisle", {"end.near": [near]}), PROFILES), "clearance").verdict
            == "short"
        )

    def test_two_millimetres_more_are_shown_for_every_plate_and_axle(self) -> None:
        rows = {b.name: b for b in plan("seed-shuttle-aisle").brackets}
        plate = rows["idler mount"].variants
        assert [v.says for v in plate] == ["as it is: aluminium, 6 mm", "aluminium, 8 mm", "steel, 6 mm"]
        assert plate[1].bend_mm == pytest.approx(plate[0].bend_mm * (6 / 8) ** 3)
        assert plate[1].tilt_deg == pytest.approx(plate[0].tilt_deg * (6 / 8) ** 3)
        axle = rows["axle of the idler"].variants
        assert axle[1].tilt_deg == pytest.approx(axle[0].tilt_deg * (5 / 7) ** 4)

    def test_a_bracket_with_no_material_is_refused_by_name(self) -> None:
        found = refused_design("seed-shuttle-aisle", {"end.idler_mount.material": ""})
        assert (
            "'steel', 'aluminium', 'acrylic', 'PLA', 'PETG' or 'plywood'" in found["end.idler_mount.material"]
        )
        assert (
            "is less than this can be"
            in refused_design("seed-shuttle-aisle", {"end.idler_mount.thickness_mm": 0.0})[
                "end.idler_mount.thickness_mm"
            ]
        )


def refused_design(name: str, changes: dict[str, Any]) -> dict[str, str]:
    with pytest.raises(EntryError) as caught:
        edited(name, changes)
    return {p.field: p.message for p in caught.value.problems}


class TestBores:
    @pytest.mark.parametrize(
        ("pulley", "shaft", "verdict", "field"),
        [
            (Pulley(bore_mm=5.0, hub_mm=16.0), 5.0, "slides on", ""), (Pulley(bore_mm=5.0, hub_mm=16.0), 6.35, "ream", "bore_mm"),
            (Pulley(bore_mm=5.0, hub_mm=12.0), 14.0, "cannot be", ""), (Pulley(bore_mm=8.0, hub_mm=16.0), 6.35, "sleeve", "sleeve"),
            (Pulley(bore_mm=6.35, hub_mm=16.0), 6.0, "shim", ""), (Pulley(bore_mm=8.0, hub_mm=16.0, sleeve=True), 6.35, "sleeved", ""),
            (Pulley(bore_mm=4.985, hub_mm=16.0, fixing=Fixing(kind="press fit")), 5.0, "presses", ""),
        ],
    )  # fmt: skip
    def test_each_case_has_its_advice(self, pulley: Pulley, shaft: float, verdict: str, field: str) -> None:
        got = advise(pulley, shaft, 11.0)
        assert (got[0], got[2]) == (verdict, field)

    def test_fixings_that_do_not_go_say_why(self) -> None:
        said = {h.kind: h.says for h in holds(Pulley(made_of="printed"), 5.0, "round", 0.2, 2.0)}
        assert said["key"] == "this shaft has no keyway"
        assert said["press fit"] == "a printed hub creeps: not for a press fit"
        assert said["set screw on round"] == "the thread strips in plastic: put a metal insert in"
        assert said["set screw on flat"] == "file or grind the flat first"

    def test_the_ladder_takes_the_press_fit(self) -> None:
        loose, firm = (
            rung(
                evaluate(
                    edited(
                        "seed-shuttle-aisle",
                        {"end.pulley.fixing": {"kind": "press fit", "interference_mm": d}},
                    ),
                    PROFILES,
                ),
                "grip",
            )
            for d in (0.01, 0.02)
        )
        shaft = DESIGNS["seed-shuttle-aisle"].chain[0].shaft_mm
        warm = shaft * (23.1e-6 - 11.7e-6) * 40  # of the interference
        assert (firm.capacity or 0) / (0.02 - warm) == pytest.approx((loose.capacity or 0) / (0.01 - warm))


class TestMeasured:
    def test_measured_beats_drawn_and_what_depends_follows(self) -> None:
        measured = edited("seed-shuttle-aisle", {"measured": [{"field": "guide.rail_mm", "value": 1746.0}]})
        drawn = edited("seed-shuttle-aisle", {"guide.rail_mm": 1746.0})
        a, b = evaluate(measured, PROFILES), evaluate(drawn, PROFILES)
        assert {q.key: q.value for q in a.results} == {q.key: q.value for q in b.results}
        centre = next(q for q in a.results if q.key == "loop.centre")
        assert next(i for i in centre.inputs if i.ref == "guide.rail_mm").source_kind == "measured by you"
        assert measured.guide.rail_mm == 1750.0, "what was drawn is kept"

    def test_what_was_cut_and_no_longer_fits_is_named(self) -> None:
        made = [{"key": "belt.cut", "label": "Belt", "value": 3699.0}]
        assert [m.fits for m in evaluate(edited("seed-shuttle-aisle", {"made": made}), PROFILES).misfits] == [
            True
        ]
        longer = evaluate(
            edited(
                "seed-shuttle-aisle",
                {"made": made, "measured": [{"field": "guide.rail_mm", "value": 1790.0}]},
            ),
            PROFILES,
        ).misfits[0]
        assert (longer.fits, longer.says) == (False, "78.00 mm too short for the design as it is now")
        shorter = evaluate(
            edited("seed-shuttle-aisle", {"made": made, "guide.rail_mm": 1740.0}), PROFILES
        ).misfits[0]
        assert (shorter.fits, shorter.says) == (True, "21.0 mm longer than needed now: trim it")
        gone = evaluate(
            edited("seed-shuttle-aisle", {"made": [{"key": "screw.lead", "label": "Screw", "value": 8.0}]}),
            PROFILES,
        ).misfits[0]
        assert not gone.fits

    @pytest.mark.parametrize(
        ("field", "problem"),
        [
            ("guide.nothing", "measured.0.field"),
            ("end.idler.kind", "measured.0.field"),
            ("end.rollers.3.x_mm", "measured.0.field"),
            ("guide", "measured.0.field"),
        ],
    )
    def test_a_measurement_of_nothing_is_refused(self, field: str, problem: str) -> None:
        assert problem in refused("seed-shuttle-aisle", {"measured": [{"field": field, "value": 5.0}]})

    def test_a_measurement_that_cannot_be_names_its_field(self) -> None:
        assert "guide.rail_mm" in refused(
            "seed-shuttle-aisle", {"measured": [{"field": "guide.rail_mm", "value": -5.0}]}
        )
