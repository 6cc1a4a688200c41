"""What moves past what on a machine, and where it would run into each other."""

from __future__ import annotations

import itertools
import math
import random
from typing import Any

import numpy as np
import pytest

from crisp_cadence import catalog
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.machine.at_axis import in_machine
from crisp_cadence.core.machine.design import MachineFile, machine_from
from crisp_cadence.core.machine.layout import WAYS, bars
from crisp_cadence.core.machine.passing import Passing, passings, solids
from crisp_cadence.core.machine.report import machine_report
from crisp_cadence.core.machine.work import Axes

PROFILES = catalog.profiles()
TODAY = "2026-11-28"
PLACED = {"wide_mm": 60.0, "high_mm": 40.0}


def slide(name: str, **changes: Any) -> AxisDesign:
    """A carriage loop: usable travel 700 − 80 − 2·20 − 2·5 = 570 mm, and 5 mm over at either end."""
    return changed(begin("carriage_loop", name), changes)


def machine(axes: dict[str, AxisDesign], on: dict[str, str] | None = None, **plan: Any) -> MachineFile:
    listed = [
        {"key": key, "rides_on": (on or {}).get(key, ""), "design": d.model_dump(mode="json")}
        for key, d in axes.items()
    ]
    head = {"format": "crisp-cadence/machine", "version": 1, "name": "Made up"}
    return machine_from({**head, "axes": listed, **plan})


def found(of: MachineFile) -> list[Passing]:
    axes = Axes(of, PROFILES)
    drawn = bars(axes)
    return list(passings(axes, drawn, solids(axes, drawn)))


def one(listed: list[Passing], a: str, b: str) -> Passing:
    return next(p for p in listed if {p.a, p.b} == {a, b})


def column(x: float, y: float = 0.0, **more: Any) -> dict[str, Any]:
    return {"label": "Column", "x_mm": x, "y_mm": y, "high_mm": 400.0, **more}


def test_the_carriage_is_followed_to_its_stops() -> None:
    # Its middle is 350 mm from zero along x; it goes 285 + 5 either way, and is 80 long: up to 680.
    at = {"X": {"x_mm": 350.0, **PLACED}}
    near = one(
        found(machine({"X": slide("X")}, placed=at, bodies=[column(705.0)])), "Column", "Carriage of X"
    )
    assert (near.room_mm, near.way, near.verdict) == (pytest.approx(10.0), "x", "holds")
    tight = one(
        found(machine({"X": slide("X")}, placed=at, bodies=[column(698.0)])), "Column", "Carriage of X"
    )
    assert (tight.room_mm, tight.verdict) == (pytest.approx(3.0), "tight")
    beside = one(
        found(machine({"X": slide("X")}, placed=at, bodies=[column(350.0, 60.0)])), "Column", "Carriage of X"
    )
    assert (beside.room_mm, beside.way) == (pytest.approx(15.0), "y")


def test_what_hits_says_where_and_by_how_much() -> None:
    at = {"X": {"x_mm": 350.0, **PLACED}}
    hit = one(found(machine({"X": slide("X")}, placed=at, bodies=[column(685.0)])), "Column", "Carriage of X")
    assert (hit.room_mm, hit.verdict) == (pytest.approx(-10.0), "short")
    assert hit.says.startswith(
        "They run 10 mm into each other along x, while X stands 565 mm to 575 mm up its"
    )
    assert "Move one of them by 15 mm" in hit.says
    of = machine({"X": slide("X")}, placed=at, bodies=[column(685.0)])
    report = machine_report(of, PROFILES, TODAY)
    assert report.verdict == "short"
    assert "Carriage of X and Column are in each other's way" in report.in_words
    (by_hand,) = [w.step for w in report.work if w.step.key == "X:hand_run"]
    assert "look before it gets there" in by_hand.check
    (alone,) = [s for s in in_machine(Axes(of, PROFILES), "X").work if s.key == "hand_run"]
    assert alone.check == by_hand.check


def test_what_moves_along_moves_together_and_what_runs_on_its_rail_is_at_home() -> None:
    axes = {"X": slide("X"), "Y": slide("Y")}
    lamp = {"label": "Lamp", "on": "X", "z_mm": 60.0}
    listed = found(machine(axes, {"Y": "X"}, bodies=[lamp]))
    pairs = {frozenset((p.a, p.b)) for p in listed}
    assert frozenset(("Lamp", "Carriage of X")) not in pairs, "they move as one"
    assert frozenset(("Lamp", "Rail of Y")) not in pairs, "that rail rides with it"
    assert frozenset(("Lamp", "Rail of X")) not in pairs, "it runs along that rail"
    assert frozenset(("Lamp", "Carriage of Y")) in pairs
    assert one(listed, "Lamp", "Carriage of Y").axes == ("Y",)


def test_what_is_assumed_is_said_to_be() -> None:
    axes = {"X": slide("X")}
    free = one(found(machine(axes, bodies=[column(300.0)])), "Column", "Carriage of X")
    assert (free.taken, free.verdict) == (("X",), "unknown"), "where it is drawn proves nothing"
    assert free.says == "As drawn only: place X to know."
    assert machine_report(machine(axes, bodies=[column(300.0)]), PROFILES, TODAY).verdict == "holds"
    known = machine(axes, bodies=[column(900.0)], placed={"X": {"x_mm": 350.0, **PLACED}})
    assert one(found(known), "Column", "Carriage of X").taken == ()
    (rail,) = [
        p
        for p in found(
            machine(
                {**axes, "Y": slide("Y")},
                {"Y": "X"},
                placed={k: {"x_mm": 0.0, **PLACED} for k in "XY"},
                bodies=[column(2000.0)],
            )
        )
        if p.a == "Rail of Y"
    ]
    assert rail.says.endswith("The rail is taken as 30 mm thick.")
    sized = machine(axes, bodies=[column(900.0)], placed={"X": {"x_mm": 350.0}})
    assert one(found(sized), "Column", "Carriage of X").taken == ("X",), "its size is as drawn"


def test_two_axes_that_are_placed_are_looked_at_without_any_body() -> None:
    axes = {"A": slide("A"), "B": slide("B")}
    at = {"A": {"x_mm": 0.0, **PLACED}, "B": {"x_mm": 0.0, "y_mm": 62.0, **PLACED}}
    assert one(found(machine(axes, placed=at)), "Carriage of A", "Carriage of B").room_mm == pytest.approx(
        2.0
    )
    assert found(machine(axes)) == [], "as they are drawn nobody has said where they lie"


def test_a_beam_stands_on_two_rails_with_room_between_them() -> None:
    gantry = changed(begin("gantry", "Bridge"), {"sides.width_mm": 600.0})
    of = machine(
        {"G": gantry}, placed={"G": {"z_mm": 100.0, **PLACED}}, bodies=[column(0.0, 0.0, high_mm=20.0)]
    )
    things = {s.name: s.box for s in solids(Axes(of, PROFILES), bars(Axes(of, PROFILES)))}
    assert things["One rail of Bridge"][1] == (-300.0, -270.0)
    assert things["Other rail of Bridge"][1] == (270.0, 300.0)
    over = one(found(of), "Beam of Bridge", "Column")
    assert (over.room_mm, over.way) == (pytest.approx(100 - 20 - 10), "z")


def test_the_head_of_crossed_belts_goes_both_ways_and_its_beam_one() -> None:
    crossed = changed(begin("crossed_belts", "Head"), {"end.frame_x_mm": 500.0, "end.travel_y_mm": 300.0})
    at = {"H": {"x_mm": 0.0, "y_mm": 0.0, "z_mm": 0.0, **PLACED}}
    pen = {"label": "Pen", "on": "H", "z_mm": -20.0}
    of = machine({"H": crossed}, placed=at, bodies=[column(400.0), pen], along={"H": "y"})
    (bar,) = bars(Axes(of, PROFILES))
    assert bar.across_mm > 0
    beside = [p for p in found(of) if {"Column"} < {p.a, p.b}]
    beam = next(p for p in beside if "Beam of Head" in (p.a, p.b))
    head = next(p for p in beside if "Carriage of Head" in (p.a, p.b))
    assert not [p for p in found(of) if {p.a, p.b} == {"Pen", "Beam of Head"}], "the pen runs along the beam"
    pen_by = one(found(of), "Pen", "Column").room_mm
    assert pen_by == pytest.approx(385.0 - 15.0 - bar.across_mm / 2)
    assert beam.room_mm == pytest.approx(385.0 - bar.moves[0][1])
    assert head.room_mm == pytest.approx(385.0 - PLACED["wide_mm"] / 2 - bar.across_mm / 2)


def arm(**plan: Any) -> MachineFile:
    """An arm of 300 mm, on edge, 20 high and 10 thick, from 30° below the level to 60° above it, its pivot at
    zero.
    """
    return machine({"J": begin("joint", "Arm")}, placed={"J": {"wide_mm": 4.0, "high_mm": 6.0}}, **plan)


def test_an_arm_stays_in_the_box_around_its_swing() -> None:
    # Level: 300 + 10, and the corner of its tip; above from 300 sin 60°, below from 300 sin 30°.
    tip = 10.0 + math.hypot(2.0, 3.0)
    clear = one(found(arm(bodies=[column(348.0)])), "Arm of Arm", "Column")
    assert clear.room_mm == pytest.approx(348.0 - 15.0 - 300.0 - tip)
    assert clear.verdict == "holds"
    over = one(found(arm(bodies=[{"label": "Lamp", "z_mm": 300.0, "high_mm": 10.0}])), "Arm of Arm", "Lamp")
    assert over.room_mm == pytest.approx(295.0 - 300.0 * math.sin(math.radians(60.0)) - tip)
    under = one(found(arm(bodies=[{"label": "Tray", "z_mm": -180.0, "high_mm": 10.0}])), "Arm of Arm", "Tray")
    assert under.room_mm == pytest.approx(175.0 - 150.0 - tip)


def test_what_is_on_an_arm_swings_with_it() -> None:
    nozzle = {"label": "Nozzle", "on": "J", "x_mm": 15.0, "long_mm": 30.0, "wide_mm": 1.0, "high_mm": 1.0}
    held = one(found(arm(bodies=[nozzle, column(357.0)])), "Arm of Arm", "Column")
    assert held.room_mm == pytest.approx(357.0 - 15.0 - 310.0 - math.hypot(30.0, 0.5, 0.5))
    assert held.verdict == "tight"


def test_within_the_box_of_a_swing_it_is_not_known_and_turned_by_hand() -> None:
    of = arm(bodies=[column(200.0)])
    met = one(found(of), "Arm of Arm", "Column")
    assert (met.verdict, met.axes, met.taken) == ("unknown", ("J",), ())
    assert met.says == "Within the box around the swing of Arm: turn it past by hand."
    first = next(w.step for w in machine_report(of, PROFILES, TODAY).work if w.step.key == "J:hand_run")
    assert first.check.endswith("May meet, so turn it past by hand: Arm of Arm and Column.")


def test_an_arm_that_nobody_has_placed_proves_nothing() -> None:
    of = machine({"J": begin("joint", "Arm")}, bodies=[column(900.0)])
    met = one(found(of), "Arm of Arm", "Column")
    assert (met.verdict, met.taken) == ("unknown", ("Arm",))
    assert "May meet" not in next(
        w.step.check for w in machine_report(of, PROFILES, TODAY).work if w.step.key == "J:hand_run"
    )


def test_an_arm_turns_on_what_carries_it_and_goes_along_with_it() -> None:
    axes = {"X": slide("X"), "J": begin("joint", "Arm")}
    at = {"X": {"x_mm": 350.0, **PLACED}, "J": {"z_mm": 20.0, **PLACED}}
    listed = found(machine(axes, {"J": "X"}, placed=at, along={"J": "x"}, bodies=[column(1000.0)]))
    assert not [p for p in listed if "X" in p.a + p.b and "Arm" in p.a + p.b], "it turns there"
    met = one(listed, "Arm of Arm", "Column")
    assert met.axes == ("X", "J")
    assert met.room_mm == pytest.approx(985.0 - 350.0 - 290.0 - 300.0 - 10.0 - math.hypot(30.0, 20.0))


@pytest.mark.parametrize("plane", ["upright", "flat"])
@pytest.mark.parametrize("way", WAYS)
def test_every_place_of_an_arm_is_within_its_box(way: str, plane: str) -> None:
    """Against the arm put at 400 angles, as a bar between its pivot and its tip, either way round."""
    rng = random.Random(7)
    for _ in range(20):
        low = rng.uniform(-180, 170)
        high = rng.uniform(low + 1, 180)
        design = changed(
            begin("joint", "Arm"),
            {"end.from_deg": low, "end.to_deg": high, "end.upright": plane, "end.turn_deg": 1.0},
        )
        of = machine({"J": design}, placed={"J": {}}, along={"J": way})
        box = bars(Axes(of, PROFILES))[0].swing
        assert box is not None
        turns = np.radians(np.linspace(low, high, 400))
        along, rise = 300.0 * np.cos(turns), 300.0 * np.sin(turns)
        other = np.zeros_like(along)
        for side in (-1, 1):
            tip = [side * along, other, rise] if plane == "upright" else [side * along, rise, other]
            if way == "y":
                tip[0], tip[1] = tip[1], tip[0]
            for (least, most), at in zip(box, tip, strict=True):
                assert least <= at.min() + 1e-9
                assert most >= at.max() - 1e-9
        if plane == "upright" and way == "x":
            half = (box[0][1] - 10.0, -box[2][0] - 10.0, box[2][1] - 10.0)
            sides = (max(abs(along)), -min(0.0, rise.min()), max(0.0, rise.max()))
            assert half == pytest.approx(sides, abs=0.05), "and it is no larger than it must be"


def test_an_arc_is_no_travel_along_x() -> None:
    of = machine({"J": begin("joint", "Arm")}, bodies=[column(10.0)])
    (area,) = machine_report(of, PROFILES, TODAY).areas
    assert (area.x_mm, area.y_mm, area.z_mm) == (0.0, 0.0, 0.0), "its arc is no travel along x"


@pytest.mark.parametrize(
    ("plan", "field"),
    [
        ({"bodies": [{"label": ""}]}, "bodies.0.label"),
        ({"bodies": [{"label": "Post", "long_mm": 0.0}]}, "bodies.0.long_mm"),
        ({"placed": {"X": {"x_mm": 1e6}}}, "placed.X.x_mm"),
        ({"placed": {"X": {"wide_mm": -1.0}}}, "placed.X.wide_mm"),
        ({"apart_mm": -1.0}, "apart_mm"),
    ],
)
def test_what_cannot_be_is_refused_where_it_stands(plan: dict[str, Any], field: str) -> None:
    with pytest.raises(EntryError) as caught:
        machine({"X": slide("X")}, **plan)
    assert caught.value.problems[0].field == field


def test_what_moves_with_an_axis_that_is_gone_is_told_and_counted_nowhere() -> None:
    of = machine({"X": slide("X")}, bodies=[{"label": "Lamp", "on": "nobody"}])
    assert machine_report(of, PROFILES, TODAY).left_out == ("Lamp moves with an axis that is not here",)
    assert found(of) == []


@pytest.mark.parametrize("seed", range(12))
def test_the_least_room_is_that_of_the_worst_place_of_all_axes(seed: int) -> None:
    """Against moving every axis through its travel in steps, and looking at the boxes there."""
    rng = random.Random(seed)
    names = ("A", "B", "C")
    axes = {n: slide(n, **{"guide.rail_mm": rng.uniform(250, 500)}) for n in names}
    on = {"B": "A"} if rng.random() < 0.7 else {}
    if rng.random() < 0.5:
        on["C"] = rng.choice(("A", "B"))
    place = {n: {a: rng.uniform(-150, 150) for a in ("x_mm", "y_mm", "z_mm")} | PLACED for n in names}
    bodies = [
        {
            "label": f"Body {i}",
            "on": rng.choice(("", *names)),
            **{a: rng.uniform(-300, 300) for a in ("x_mm", "y_mm", "z_mm")},
            **{a: rng.uniform(10, 200) for a in ("long_mm", "wide_mm", "high_mm")},
        }
        for i in range(3)
    ]
    along = {n: rng.choice(WAYS) for n in names}
    worked = Axes(machine(axes, on, placed=place, bodies=bodies, along=along), PROFILES)
    drawn = bars(worked)
    listed = solids(worked, drawn)
    things = {s.name: s for s in listed}
    half = {b.key: b.travel_mm / 2 + b.over_mm for b in drawn}
    way = {b.key: WAYS.index(b.way) for b in drawn}

    places = np.array(list(itertools.product(*(np.linspace(-half[n], half[n], 9) for n in names))))
    for p in passings(worked, drawn, listed):
        boxes = []
        for thing in (things[p.a], things[p.b]):
            shift = np.zeros((len(places), 3))
            for i, n in enumerate(names):
                if n in thing.moved_by:
                    shift[:, way[n]] += places[:, i]
            boxes.append(np.array(thing.box)[None] + shift[:, :, None])
        a, b = boxes
        gaps = np.maximum(b[:, :, 0] - a[:, :, 1], a[:, :, 0] - b[:, :, 1])
        worst = gaps.max(axis=1).min()
        # In between two places they may come nearer than at either, by as much as lies between them.
        step = max(2 * half[n] / 8 for n in names)
        assert p.room_mm <= worst + 1e-9
        assert p.room_mm >= worst - len(names) * step
