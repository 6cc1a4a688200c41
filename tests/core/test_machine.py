"""The machine: its file, one order over its axes, what is here and on its way, and its money."""

from __future__ import annotations

import json
import math
import random
from typing import Any

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.design import changed
from crisp_cadence.core.evaluation.evaluate import work_out
from crisp_cadence.core.ledger.errors import EntryError, TooLargeError
from crisp_cadence.core.machine.design import (
    LARGEST_MACHINE,
    MachineFile,
    dump_machine,
    machine_from,
    machine_schema,
    parse_machine,
    plan_of,
    renamed,
)
from crisp_cadence.core.machine.report import MachineReport, machine_report
from crisp_cadence.core.machine.work import Axes, part_states

PROFILES = catalog.profiles()
TODAY = "2026-11-28"


def machine(name: str = "Clay printer", **plan: Any) -> MachineFile:
    makes = next(m for n, _, m in demo.MACHINES if n == name)
    axes = [
        {"key": d.name, "rides_on": demo.RIDES.get(d.name, ""), "design": d.model_dump(mode="json")}
        for d in (make() for make in makes)
    ]
    return machine_from({"format": "crisp-cadence/machine", "version": 1, "name": name, "axes": axes, **plan})


def report(found: MachineFile, day: str = TODAY) -> MachineReport:
    return machine_report(found, PROFILES, day)


def order(found: MachineReport) -> list[str]:
    return [w.step.key for w in found.work]


def axis(data: dict[str, Any], key: str) -> dict[str, Any]:
    return next(a for a in data["axes"] if a["key"] == key)


def refused(**plan: Any) -> tuple[str, str, str]:
    with pytest.raises(EntryError) as caught:
        report(machine(**plan))
    p = caught.value.problems[0]
    return p.field, p.message, p.remedy


# ---- the file ----------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", [n for n, _, _ in demo.MACHINES])
def test_a_machine_goes_out_and_in_and_gives_the_same_report(name: str) -> None:
    found = machine(name, budget=200.0, own=[{"key": "wire", "do": "Wire it."}])
    again = parse_machine(dump_machine(found).encode())
    assert dump_machine(again) == dump_machine(found)
    assert report(again) == report(found)


def test_fields_of_later_versions_are_kept_wherever_they_stand() -> None:
    data = json.loads(dump_machine(machine(bought=[{"what": "Belt", "price": 3.0}])))
    data["paint"] = {"colour": "grey"}
    data["bought"][0]["colour"] = "green"
    data["axes"][0]["design"]["later"] = 1
    again = json.loads(dump_machine(machine_from(data)))
    assert again["paint"] == {"colour": "grey"}
    assert again["bought"][0]["colour"] == "green"
    assert again["axes"][0]["design"]["later"] == 1
    assert (
        json.loads(json.dumps(plan_of(machine_from(data)).model_dump(mode="json")))["paint"]["colour"]
        == "grey"
    )


def test_what_is_no_machine_is_refused_with_its_reason() -> None:
    for data, says in (
        ([], "no machine"),
        ({"format": "crisp-cadence/axis"}, "no machine"),
        ({"format": "crisp-cadence/machine", "version": 9}, "newer version"),
    ):
        with pytest.raises(EntryError) as caught:
            machine_from(data)
        assert says in caught.value.problems[0].message
    with pytest.raises(EntryError, match="JSON"):
        parse_machine(b"{")
    with pytest.raises(TooLargeError):
        parse_machine(b" " * (LARGEST_MACHINE + 1))


def test_numbers_that_json_cannot_carry_are_refused_in_unknown_fields_too() -> None:
    text = dump_machine(machine()).replace('"budget": null', '"budget": null, "later": NaN')
    with pytest.raises(EntryError) as caught:
        parse_machine(text.encode())
    assert "number that is none" in caught.value.problems[0].message
    with pytest.raises(EntryError) as caught:
        machine(later=float("nan"))
    assert "later is not a finite number" in caught.value.problems[0].message


def test_axes_that_ride_in_a_circle_or_on_nothing_are_refused() -> None:
    data = json.loads(dump_machine(machine()))
    axis(data, "Long way")["rides_on"] = "Head"
    with pytest.raises(EntryError) as caught:
        machine_from(data)
    assert "circle" in caught.value.problems[0].message
    axis(data, "Long way")["rides_on"] = "Cellar"
    with pytest.raises(EntryError) as caught:
        machine_from(data)
    place = data["axes"].index(axis(data, "Long way"))
    assert caught.value.problems[0].field == f"axes.{place}.rides_on"
    assert "Board" in caught.value.problems[0].remedy


def test_the_schema_names_every_field_with_what_it_is() -> None:
    schema = machine_schema()
    assert schema["properties"]["format"]["const"] == "crisp-cadence/machine"
    assert {"axes", "own", "moved", "bought", "lengths", "budget"} <= set(schema["properties"])


def test_a_plan_follows_new_keys_and_leaves_what_is_gone() -> None:
    plan = plan_of(
        machine(
            own=[{"key": "wire", "do": "Wire", "after": ["Board:rail_on", "Head:rail_on"]}],
            bought=[{"what": "Kit", "shares": [{"line": "Board:end.nut"}, {"line": "Head:end.idler"}]}],
            moved=[{"step": "Head:coil_test", "before": "Board:rail_on"}],
            along={"Board": "z", "Head": "x"},
        )
    )
    new = renamed(plan, {"Board": "b1"})
    assert new.own[0].after == ["b1:rail_on"]
    assert [s.line for s in new.bought[0].shares] == ["b1:end.nut"]
    assert new.moved == []
    assert new.along == {"b1": "z"}


# ---- one order ---------------------------------------------------------------------------------------------


def test_what_rides_is_set_up_once_what_carries_it_has_run() -> None:
    found = order(report(machine()))
    assert len(set(found)) == len(found)
    assert found.index("Long way:look_again") < found.index("Head:rail_on")
    (first,) = [w for w in report(machine()).work if w.step.key == "Head:rail_on"]
    assert first.step.do.startswith("On Long way: ")


def test_a_plate_that_covers_the_clamps_beneath_goes_on_after_all_work_at_them() -> None:
    data = json.loads(dump_machine(machine()))
    axis(data, "Long way")["design"]["end"]["clamp"]["reached"] = "under the tool plate"
    found = report(machine_from(data))
    (first,) = [w.step for w in found.work if w.step.key == "Head:rail_on"]
    assert {"Long way:clamp_near", "Long way:clamp_far"} <= set(first.covers)
    plain = report(machine())
    assert not next(w.step for w in plain.work if w.step.key == "Head:rail_on").covers


def test_own_steps_stand_where_the_maker_puts_them() -> None:
    own = {
        "key": "wire",
        "do": "Wire the cabinet.",
        "after": ["Board:rail_tight"],
        "before": ["Board:slow_run"],
        "covers": ["Board:coil_test"],
    }
    found = order(report(machine(own=[own])))
    assert found.index("Board:rail_tight") < found.index(":wire") < found.index("Board:slow_run")
    assert found.index("Board:coil_test") < found.index(":wire")
    moved = order(report(machine(moved=[{"step": "Head:coil_test", "before": "Board:check_parts"}])))
    assert moved.index("Head:coil_test") < moved.index("Board:check_parts")


def test_an_order_that_cannot_be_names_its_steps_and_a_way_out() -> None:
    field, says, remedy = refused(
        own=[{"key": "a", "do": "A", "after": [":b"]}, {"key": "b", "do": "B", "after": [":a"]}]
    )
    assert (field, says) == ("own", "these steps wait for each other: :a, :b")
    assert "after" in remedy
    field, says, _ = refused(moved=[{"step": "Board:slow_run", "before": "Board:rail_on"}])
    assert "Board:rail_on" in says


def test_each_step_names_all_that_comes_before_it() -> None:
    found = report(machine()).work
    behind = {w.number: set(w.behind) for w in found}
    for w in found:
        assert all(n < w.number for n in w.behind)
        assert all(behind[n] <= behind[w.number] for n in w.behind), "what comes before those comes before it"
    at = {w.step.key: w for w in found}
    assert at["Board:rail_on"].number in at["Board:hand_run"].behind
    assert at["Board:rail_on"].number not in at["Long way:hand_run"].behind, "other axes are free"


def test_a_step_that_is_gone_holds_nothing_up() -> None:
    found = report(machine(own=[{"key": "wire", "do": "Wire", "after": ["Cellar:rail_on", "Board:no_such"]}]))
    assert next(w.step for w in found.work if w.step.key == ":wire").now == "ready"


def test_an_axis_that_cannot_be_worked_out_is_left_out_and_named() -> None:
    data = json.loads(dump_machine(machine()))
    axis(data, "Head")["design"]["end"]["pulley"]["teeth"] = 5
    axis(data, "Head")["design"]["guide"]["rail_mm"] = 20.0
    found = report(machine_from(data))
    assert any("Head is left out" in line for line in found.left_out)
    assert not any(key.startswith("Head:") for key in order(found))
    assert next(a for a in found.axes if a.key == "Head").verdict == "unknown"


def test_ticks_undo_themselves_over_the_whole_machine() -> None:
    data = json.loads(dump_machine(machine()))
    work = report(machine()).work
    stood = {w.step.key: {n.partition(":")[2]: v for n, v in w.step.stands.items()} for w in work}
    axis(data, "Long way")["design"]["done"] = [
        {"step": "idler_on", "day": TODAY, "stood": stood["Long way:idler_on"]}
    ]
    found = {w.step.key: w.step for w in report(machine_from(data)).work}
    assert (found["Long way:idler_on"].now, found["Long way:idler_on"].undone) == ("done", "")
    axis(data, "Long way")["design"]["end"]["idler"]["teeth"] = 24
    found = {w.step.key: w.step for w in report(machine_from(data)).work}
    assert "Idler of Long way" in found["Long way:idler_on"].undone


# ---- what is here, and when the rest comes -----------------------------------------------------------------

IDLERS = [{"line": "Long way:end.idler", "quantity": 1.0}, {"line": "Head:end.idler", "quantity": 8.0}]


def state(found: MachineReport, line: str) -> str:
    return next(x.state for x in found.lines if x.line == line)


def test_a_pack_is_shared_between_axes_and_here_when_it_has_come() -> None:
    pack = {"what": "Idlers, ten", "shares": IDLERS, "holds": 10.0, "price": 30.0, "ordered": "2026-11-01"}
    for days, wanted in (
        ({}, "ordered"),
        ({"due": "2026-12-02"}, "due"),
        ({"due": "2026-11-20", "arrived": "2026-11-19"}, "arrived"),
        ({"arrived": "2026-11-19", "checked": True}, "checked"),
    ):
        found = report(machine(bought=[{**pack, **days}]))
        assert {state(found, s["line"]) for s in IDLERS} == {wanted}
        lacks = next(w.step for w in found.work if w.step.key == "Head:idler_on").waits_for_parts
        waits = [part for part in lacks if part.startswith("Idler")]
        when = "due 2026-12-02" if "due" in days else "ordered 2026-11-01"
        assert waits == ([] if "arrived" in days else [f"Idler ({when})"])


def test_half_of_what_is_needed_is_not_enough() -> None:
    some = [{"line": "Head:end.idler", "quantity": 4.0}]
    found = report(machine(bought=[{"what": "Four", "shares": some, "arrived": "2026-11-02"}]))
    (line,) = [x for x in found.lines if x.line == "Head:end.idler"]
    assert (line.state, line.came, line.quantity) == ("wanted", 4.0, 8.0)


def test_a_line_stands_alike_on_the_machine_and_in_its_own_axis() -> None:
    some = {"what": "Four", "shares": [{"line": "Head:end.idler", "quantity": 4.0}], "ordered": "2026-11-02"}
    rest = {"what": "Four more", "shares": [{"line": "Head:end.idler", "quantity": 4.0}], "due": "2026-12-02"}
    for bought, state, got, left in (
        ([some], "wanted", 4.0, 0.5),
        ([some, rest], "ordered", 0.0, 0.0),
        ([{**some, "due": "2026-11-30"}, rest], "due", 0.0, 0.0),
        ([{**some, "arrived": "2026-11-05"}, rest], "due", 0.0, 0.0),
        ([{**some, "arrived": "2026-11-05"}], "wanted", 4.0, 0.5),
        ([{**some, "arrived": "2026-11-05"}, {**rest, "arrived": "2026-12-01"}], "arrived", 0.0, 0.0),
    ):
        whole = machine(bought=bought)
        axes = Axes(whole, PROFILES)
        parts = part_states(axes, plan_of(machine()))
        design = changed(
            axes.axes["Head"].design,
            {f"end.idler.{name}": how for name, how in parts["Head:end.idler"].items()},
        )
        (own,) = [b for b in work_out(design, PROFILES)[0].bill.lines if b.field == "end.idler"]
        (line,) = [x for x in report(whole).lines if x.line == "Head:end.idler"]
        assert line.state == state
        assert own.got == got
        assert own.to_buy == (state == "wanted")
        assert own.to_spend == line.to_spend == pytest.approx(left * (own.total or 0.0))
        assert (own.ordered, own.due) == (line.ordered, line.due)


def test_what_is_bought_for_one_motor_is_not_enough_for_two() -> None:
    one = {
        "what": "Motor",
        "shares": [{"line": "Long way:chain.0", "quantity": 1.0}],
        "arrived": "2026-11-02",
    }
    axes = Axes(machine(bought=[one]), PROFILES)
    (state,) = part_states(axes, plan_of(machine())).values()
    assert state["in_stock"]
    design = changed(axes.axes["Long way"].design, {f"chain.0.{name}": how for name, how in state.items()})
    two = changed(design, {"sides.kind": "two motors"})
    lines = {b.field: b for b in work_out(two, PROFILES)[0].bill.lines}
    assert (lines["chain.0"].quantity, lines["chain.0"].got, lines["chain.0"].in_stock) == (2, 1.0, False)
    assert lines["chain.0"].to_spend == pytest.approx((lines["chain.0"].total or 0.0) / 2)


def test_what_the_maker_has_before_its_parcel_comes_is_here() -> None:
    bought = [{"what": "Motor", "shares": [{"line": "Board:chain.0"}], "ordered": "2026-11-02"}]
    data = json.loads(dump_machine(machine(bought=bought)))
    axis(data, "Board")["design"]["chain"][0]["in_stock"] = True
    (line,) = [x for x in report(machine_from(data)).lines if x.line == "Board:chain.0"]
    assert line.state == "here"


def test_only_what_changed_of_the_parcels_is_written_into_the_axes() -> None:
    bought = [{"what": "Motor", "shares": [{"line": "Board:chain.0"}], "ordered": "2026-11-02"}]
    with_it = machine(bought=bought)
    axes = Axes(with_it, PROFILES)
    assert part_states(axes, plan_of(with_it)) == {}, "a tick of the maker's stays"
    gone = part_states(Axes(machine(), PROFILES), plan_of(with_it))
    assert gone == {"Board:chain.0": {"in_stock": False, "ordered": "", "due": "", "got": 0.0}}


def test_a_line_that_had_another_name_is_found_again() -> None:
    bought = [{"what": "Shaft", "shares": [{"line": "Head:sides"}, {"line": "Head:aim.brake_n"}]}]
    assert [s.line for s in machine(bought=bought).bought[0].shares] == ["Head:sides.shaft", "Head:aim.brake"]


def test_what_could_be_done_grows_with_each_delivery_and_late_ones_bring_nothing_yet() -> None:
    motor = {"what": "Motor", "shares": [{"line": "Board:chain.0"}], "ordered": "2026-11-01"}
    now = report(machine()).until[0]
    assert "Board:rail_on" in now.steps
    assert "Board:coil_test" not in now.steps
    found = report(machine(bought=[{**motor, "due": "2026-12-01"}])).until
    assert [u.day for u in found] == [TODAY, "2026-12-01"]
    assert found[1].brings == ("Motor",)
    assert "Board:coil_test" in found[1].steps
    assert not set(found[0].steps) & set(found[1].steps)
    late = report(machine(bought=[{**motor, "due": "2026-11-20"}]))
    assert [u.day for u in late.until] == [TODAY]
    assert next(x for x in late.lines if x.line == "Board:chain.0").late


@pytest.mark.parametrize(
    ("purchase", "field", "says"),
    [
        ({"ordered": "2026-11-10", "arrived": "2026-11-02"}, "bought.0.arrived", "before it was ordered"),
        ({"ordered": "2026-11-10", "due": "2026-11-02"}, "bought.0.due", "before it was ordered"),
        ({"holds": 0.0}, "bought.0.holds", "less than this can be"),
        ({"holds": 5.0, "shares": IDLERS}, "bought.0.shares", "more is shared out"),
        ({"ordered": "tomorrow"}, "bought.0.ordered", "pattern"),
        ({"shop": 3}, "bought.0.shop", ""),
    ],
)
def test_a_purchase_that_cannot_be_is_refused_where_it_is_wrong(
    purchase: dict[str, Any], field: str, says: str
) -> None:
    found, message, remedy = refused(bought=[{"what": "Idlers", **purchase}])
    assert found == field
    assert says in message
    assert remedy


# ---- money, supplies, drawing ------------------------------------------------------------------------------


def test_a_shop_is_listed_once_and_takes_whole_days() -> None:
    post = {"name": "By mail", "days": 9}
    assert refused(shops=[post, post])[:2] == ("shops.1.name", "By mail is listed already")
    assert refused(shops=[{**post, "days": 500}])[0] == "shops.0.days"
    assert machine(shops=[post]).shops[0].freight == 0.0


def test_each_axis_pays_its_part_of_a_parcel_to_the_cent_and_all_parts_make_the_whole() -> None:
    lines = [b.field for b in Axes(machine(), PROFILES).lines]
    rng = random.Random(17)
    bought, whole = [], 0
    for n in range(40):
        price, freight = rng.randrange(1, 20_000), rng.randrange(0, 900)
        whole += price + freight
        shares = [
            {"line": x, "quantity": rng.choice((1.0, 2.0, 0.5))}
            for x in rng.sample(lines, rng.randrange(0, 4))
        ]
        day = f"2026-10-{1 + n % 28:02d}"
        bought.append(
            {
                "what": f"Parcel {n}",
                "price": price / 100,
                "freight": freight / 100,
                "ordered": day,
                "shares": shares,
            }
        )
    money = report(machine(bought=bought)).money
    assert round(money.paid * 100) == whole
    assert sum(round(s.paid * 100) for s in money.sums) == whole
    assert round(money.days[-1].sum_so_far * 100) == whole
    assert [p.day for p in money.days] == sorted(p.day for p in money.days)


def test_what_is_ordered_is_no_longer_to_spend_and_the_budget_knows_both() -> None:
    before = report(machine(budget=500.0)).money
    kit = {"what": "Screw", "shares": [{"line": "Board:end.screw"}], "price": 13.0, "ordered": "2026-11-02"}
    after = report(machine(budget=500.0, bought=[kit])).money
    assert before.to_spend - after.to_spend == pytest.approx(14.0)
    assert after.paid == 13.0
    assert after.left == pytest.approx(500 - 13 - after.to_spend)
    assert before.left == pytest.approx(500 - before.to_spend)


def test_one_supply_serves_all_motors_of_its_voltage() -> None:
    (supply,) = report(machine()).supplies
    assert (supply.volts, supply.motors) == (24.0, 4)
    assert supply.power_w is not None
    assert supply.buy_w == pytest.approx(1.3 * supply.power_w)
    assert supply.amps == pytest.approx(supply.power_w / 24)
    assert all(s.power_w is None for s in report(machine("Tray rover")).supplies), (
        "a gearmotor's is not known"
    )


def test_axes_are_drawn_on_what_carries_them_and_reach_together() -> None:
    found = report(machine())
    bars = {b.key: b for b in found.drawn}
    assert bars["Head"].carried_by == ("Long way",)
    assert {k: b.way for k, b in bars.items()} == {"Board": "z", "Long way": "x", "Head": "y"}
    lo, hi = bars["Long way"].still[0]
    assert hi - lo == pytest.approx(1150.0)
    (head,) = [a for a in found.areas if a.name == "Head"]
    assert head.x_mm > bars["Long way"].travel_mm, "its own way across comes on top"
    other = {b.key: b for b in report(machine(along={"Head": "x"})).drawn}
    assert other["Head"].way == "x"


def test_pieces_of_all_axes_are_cut_from_the_same_lengths() -> None:
    lengths = [{"of": "Rail, linear rail", "length_mm": 978.0, "count": 3}]
    (plan,) = [c for c in report(machine(lengths=lengths)).cuts if c.of == "Rail, linear rail"]
    pieces = sorted((p.length_mm, p.label) for p in plan.pieces)
    assert pieces == [
        (400.0, "Board"),
        (450.0, "Head, side 1"),
        (450.0, "Head, side 2"),
        (520.0, "Head, beam"),
    ]
    assert plan.packing is not None
    assert len(plan.packing.cuts) == 2, "452 + 522 and 402 + 452, each 2 longer, with one cut of 2 between"
    short = [{"of": "Rail, linear rail", "length_mm": 925.0, "count": 2}]
    (plan,) = [c for c in report(machine(lengths=short)).cuts if c.of == "Rail, linear rail"]
    assert "No length is left" in plan.says


def test_a_rack_is_left_long_by_whole_teeth() -> None:
    (plan,) = [c for c in report(machine("Seed store")).cuts if c.of.startswith("Rack")]
    (piece,) = plan.pieces
    assert piece.left_long_mm == pytest.approx(1.5 * math.pi)
    assert (piece.length_mm + piece.left_long_mm) / (1.5 * math.pi) == pytest.approx(
        round((piece.length_mm + piece.left_long_mm) / (1.5 * math.pi))
    )
