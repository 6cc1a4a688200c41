"""One change: every swap is worked out whole, the cheapest that mends is the cheapest, and a plan of several is found
where no single one does.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import Any

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.account.verdicts import RANK
from crisp_cadence.core.choosing.swap import MOST_OF_A_KIND, Swap
from crisp_cadence.core.choosing.swaps import swaps
from crisp_cadence.core.choosing.swaps_end import SIZES
from crisp_cadence.core.choosing.tries import Change, Changes, _together, merged, one_change
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fields.part import Bought
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.ledger.errors import EntryError

PROFILES = catalog.profiles()
DESIGNS = demo.designs()
PRICED = [
    Stock(p.key, p.kind, p.name, p.data, 0, demo.invented_price(p) if p.kind in demo.PRICED else None)
    for p in catalog.parts().values()
]
OWNED = [s for s in PRICED if s.kind in ("stepper", "supply", "gearbox", "pulley", "belt", "closed belt")]
HASTY = changed(DESIGNS["kiln-room-hoist"], {"aim.speed_mm_s": 200.0})
CACHE: dict[str, Changes] = {}


def tried(name: str) -> Changes:
    if name not in CACHE:
        CACHE[name] = one_change(HASTY if name == "hasty hoist" else DESIGNS[name], PROFILES, PRICED)
    return CACHE[name]


def heads(report: Report) -> dict[str, float | None]:
    return {r.key: r.headroom for r in report.ladder if not r.advisory}


@pytest.mark.parametrize("name", DESIGNS)
def test_every_change_does_what_it_says(name: str) -> None:
    """Taken into the design, each of a sample gives the verdict, the least headroom and the effects that were
    said.
    """
    found = tried(name)
    before = heads(evaluate(DESIGNS[name], PROFILES))
    assert found.tried == len(found.singles) + found.refused
    for change in found.singles[:: max(len(found.singles) // 8, 1)]:
        report = evaluate(changed(DESIGNS[name], change.changes), PROFILES)
        assert report.verdict == change.verdict
        after = heads(report)
        said = {e.key: (e.before, e.after) for e in change.effects}
        for key, value in after.items():
            if key in said:
                assert said[key] == (before.get(key), value)
            elif value is not None:  # new rungs are said, whatever they ask for
                was = before[key]
                assert was is not None
                assert value == pytest.approx(was, rel=0.0021)


@pytest.mark.parametrize("name", ["glaze-bench-pass", "seed-shuttle-lift", "hasty hoist"])
def test_the_cheapest_that_mends_is_the_cheapest(name: str) -> None:
    found = tried(name)
    assert found.verdict != "holds"
    best = found.cheapest
    assert best is not None
    assert best.price is not None
    assert best.verdict == "holds"
    assert not best.asks_less
    for other in found.singles:
        if other.verdict == "holds" and not other.asks_less and other.price is not None:
            assert best.price <= other.price
    assert found.plan is None, "no plan is looked for where one change does it"
    verdicts = [RANK[c.verdict] for c in found.singles]
    assert verdicts == sorted(verdicts, reverse=True)


def test_what_is_owned_costs_nothing() -> None:
    drawer = [
        Stock(s.key, s.kind, s.name, s.data, int(s.key == "supply:supply-48-v-dc"), s.price) for s in PRICED
    ]
    best = one_change(DESIGNS["glaze-bench-pass"], PROFILES, drawer).cheapest
    assert best is not None
    assert (best.first.after, best.price) == ("48 V", 0.0)


def starved() -> AxisDesign:
    """An axis that is short in two ways that no part mends together: too little voltage, and belt ends that
    slip.
    """
    return changed(DESIGNS["glaze-bench-pass"], {"end.clamp.kind": "zip tie", "end.clamp.engaged_teeth": 5})


def test_the_cheapest_pair_where_no_single_change_does_it() -> None:
    design = starved()
    drawer = [s for s in PRICED if s.kind in ("supply", "gearbox")]
    found = one_change(design, PROFILES, drawer)
    assert not any(c.verdict == "holds" and not c.asks_less for c in found.singles)
    pair = found.plan
    assert pair is not None
    assert len(pair.others) == 1
    assert pair.price is not None
    assert evaluate(changed(design, pair.changes), PROFILES).verdict == "holds"
    assert found.says.startswith("No single change does it")
    # Brute force: every pair that can be made at once, worked out whole; none that mends is cheaper.
    every = [c.first for c in found.singles if not c.asks_less]
    for a, b in itertools.combinations(every, 2):
        if (
            _together(a, b)
            and a.price is not None
            and b.price is not None
            and a.price + b.price < pair.price - 1e-9
        ):
            try:
                assert evaluate(changed(design, merged(a, b)), PROFILES).verdict != "holds", (a.says, b.says)
            except EntryError:
                continue


def verdict_of(design: AxisDesign, swaps: Sequence[Swap]) -> str:
    return evaluate(changed(design, merged(*swaps)), PROFILES).verdict


def test_a_plan_for_three_faults_and_nothing_in_it_that_is_not_needed() -> None:
    design = changed(starved(), {"guide.rail_mm": 600.0})
    found = one_change(design, PROFILES, PRICED)
    plan = found.plan
    assert plan is not None
    steps = [plan.first, *plan.others]
    assert len(steps) == 3
    assert not plan.asks_less
    assert (plan.verdict, verdict_of(design, steps)) == ("holds", "holds")
    assert plan.price == pytest.approx(sum(s.price or 0.0 for s in steps))
    assert "guide.rail_mm" in plan.changes
    for left_out in steps:
        assert verdict_of(design, [s for s in steps if s is not left_out]) != "holds", left_out.says


def test_asking_for_less_comes_last_and_says_how_much() -> None:
    """Three kilogrammes at 6 m/s² are more than any belt of the list bears there."""
    design = changed(starved(), {"guide.rail_mm": 600.0, "moving.0.mass_kg": 3.0})
    found = one_change(design, PROFILES, PRICED)
    plan = found.plan
    assert plan is not None
    assert plan.asks_less
    assert found.says.startswith("Only with asking for less")
    assert verdict_of(design, [plan.first, *plan.others]) == "holds"
    asked = {s.field for s in (plan.first, *plan.others) if s.kind == "aim"}
    assert asked <= {
        "aim.acceleration_mm_s2",
        "aim.speed_mm_s",
        "aim.push_n",
        "aim.error_mm",
        "aim.travel_mm",
    }


def test_where_nothing_helps_what_comes_closest_is_told() -> None:
    design = changed(DESIGNS["seed-shuttle-aisle"], {"aim.travel_mm": 9000.0})
    found = one_change(design, PROFILES, PRICED)
    assert found.cheapest is None
    assert found.says.startswith("Nothing found makes everything hold")
    closest = found.plan
    assert closest is not None
    assert closest.verdict != "holds"
    assert "guide.rail_mm" in closest.changes, "the rail is what was short of it all"
    assert (closest.worst or 0) > (found.worst or 0)
    assert [a.path for a in found.reaches][:2] == ["aim.speed_mm_s", "aim.acceleration_mm_s2"]


def test_an_axis_that_holds_is_offered_more() -> None:
    found = tried("seed-shuttle-aisle")
    assert found.cheapest is None
    assert found.says.startswith("The axis holds as it is")


KINDS: dict[str, set[str]] = {
    "seed-shuttle-aisle": {"Take another motor", "Raise the supply voltage", "Add a gearbox", "Add a closed belt stage", "Take a larger drive pulley", "Take a wider belt", "Take another belt profile", "Let the motor ride on the carriage"},
    "clay-printer-long-way": {"More reduction in the closed belt", "Less reduction in the closed belt"}, "clay-printer-board": {"Take another screw", "Take another coupler"},
    "kiln-room-hoist": {"Take a larger drum", "Take a thicker rope", "Take a larger worm wheel"}, "spray-booth-spray-arm": {"Make the arm shorter", "Take another gearbox", "Leave the gearbox out"},
    "seed-store-shutter": {"Take another rack and pinion", "Spring the pinion against the rack"}, "drying-shelves-probe": {"Let the motor stand at the end of the rail"},
    "tray-rover-wheels": {"Take smaller wheels"}, "slip-writer-reach": {"Take more microsteps"},
}  # fmt: skip


@pytest.mark.parametrize(("name", "kinds"), KINDS.items())
def test_what_is_tried(name: str, kinds: set[str]) -> None:
    assert kinds <= {c.first.says for c in tried(name).singles}


def test_every_size_named_is_a_field_of_its_part() -> None:
    """A slip of the pen in the table of sizes would silently try nothing."""
    from crisp_cadence.core.design.design import ENDS, STAGES

    for pattern, kind, up, down, _, sizes, bought in SIZES:
        part: Any = {**ENDS, **STAGES}[kind]
        name = pattern.rpartition(r"\.")[2]
        assert name in part.model_fields, (kind, name)
        assert bought in ("", ".") or part.model_fields[bought].annotation is Bought, (kind, name)
        assert up or down
        assert list(sizes) == sorted(sizes)


def test_another_size_is_another_part() -> None:
    """A drum turned by hand for nothing is not the larger one: its name and its price go, and what it costs as a
    rule is said.
    """
    larger = next(c for c in tried("kiln-room-hoist").singles if c.first.says == "Take a larger drum")
    end: Any = changed(DESIGNS["kiln-room-hoist"], larger.changes).end
    assert (end.drum.label, end.drum.price) == ("", None)
    assert larger.typical
    assert larger.price is not None
    assert larger.price > 0


def test_two_changes_of_one_place_do_not_go_together() -> None:
    def swap(says: str, *fields: str) -> Swap:
        return Swap(says, fields[0], "a", "b", dict.fromkeys(fields, says), 0.0, "part")

    assert _together(swap("x", "chain.0.driver.supply_v"), swap("y", "end.belt.width_mm"))
    assert not _together(swap("x", "end.pulley.teeth"), swap("y", "end.pulley.teeth"))
    assert not _together(swap("x", "end"), swap("y", "end.belt.width_mm"))
    assert not _together(swap("x", "chain"), swap("y", "chain.1.ratio"))
    assert _together(swap("x", "chain"), swap("y", "chain.0.driver.supply_v"))
    assert not _together(swap("x", "a"), swap("x", "b"))


def test_swaps_ask_for_something_else() -> None:
    for design in DESIGNS.values():
        for swap in swaps(design, PROFILES, OWNED, 1000.0):
            assert swap.before != swap.after
            assert swap.changes
            assert swap.price is None or swap.price >= 0


def test_price_and_order_of_a_change() -> None:
    changes: list[Change] = [
        c for c in tried("glaze-bench-pass").singles if c.first.says == "Take another motor"
    ]
    assert len(changes) > 20
    prices = {s.name: s.price for s in PRICED}
    assert all(c.price == prices[c.first.after] for c in changes)


def test_very_many_parts_of_a_kind_are_tried_from_the_cheapest() -> None:
    row = next(s for s in PRICED if s.kind == "stepper")
    heap = [Stock(f"own-{i}", "stepper", f"Own {i}", row.data, 0, 5.0 + i % 1000) for i in range(20_000)]
    found = [
        s for s in swaps(DESIGNS["glaze-bench-pass"], PROFILES, heap, None) if s.says == "Take another motor"
    ]
    assert len(found) == MOST_OF_A_KIND
    assert max(s.price or 0 for s in found) < 10
