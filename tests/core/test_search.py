"""The search: it agrees with one evaluation on every rung, its front is the true front, its counts add up, and it refuses clearly."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from crisp_cadence import catalog, demo
from crisp_cadence.core.design import AxisDesign
from crisp_cadence.core.errors import EntryError
from crisp_cadence.core.evaluate import evaluate
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.mend import changed
from crisp_cadence.core.report import Report
from crisp_cadence.core.search.find import AFTERWARDS, NOT_RANKED, best_front, headroom_of, search, template_of
from crisp_cadence.core.search.ladder import rungs_of
from crisp_cadence.core.search.space import candidate, space_of

PROFILES = catalog.profiles()
DESIGNS = demo.designs()
SHELF = [Stock(p.key, p.kind, p.name, p.data, 0, 5.0) for p in catalog.parts().values()]
NAMES = ("seed-shuttle-aisle", "seed-shuttle-lift", "glaze-bench-pass", "slip-writer-reach")


def edited(name: str, changes: dict[str, Any]) -> AxisDesign:
    return changed(DESIGNS[name], changes)


def taken(design: AxisDesign, changes: Mapping[str, Any]) -> AxisDesign:
    """The design with a row of the search taken into it, as the screen does it."""
    box = changes["gearbox"]
    chain = [design.chain[0].model_dump(mode="json"), *([] if box is None else [box])]
    return changed(design, {"chain": chain, **{path: value for path, value in changes.items() if path != "gearbox"}})


def few(kinds: dict[str, int], owned: Sequence[str] = ()) -> list[Stock]:
    """A small drawer: the first so many rows of each kind."""
    out: list[Stock] = []
    for kind, count in kinds.items():
        out += [Stock(s.key, s.kind, s.name, s.data, int(s.kind in owned), s.price) for s in SHELF if s.kind == kind][:count]
    return out


SETTINGS: list[tuple[str, dict[str, Any]]] = [
    *((name, {}) for name in NAMES),
    ("seed-shuttle-aisle", {"end.idler": {"kind": "smooth", "diameter_mm": 22.0}, "aim.push_n": 15.0, "end.motor_mount": {"kind": "plate", "material": "acrylic", "thickness_mm": 5.0}}),
    ("seed-shuttle-lift", {"end.pulley.fixing.kind": "clamp", "end.tensioner.kind": "movable clamp", "end.clamp.kind": "zip tie", "end.slot_mm": 9.5, "aim.hold_n": 20.0}),
    ("glaze-bench-pass", {"end.tensioner.spring_n_mm": 4.0, "end.belt.tension_n": 60.0, "end.pulley.fixing.kind": "press fit", "end.idler.held": "both ends"}),
    ("slip-writer-reach", {"end.pulley.fixing.kind": "key", "end.tensioner.kind": "slotted motor plate", "end.tensioner.screw_length_mm": 24.0, "end.clamp.pull_n": 40.0}),
]  # fmt: skip


@pytest.mark.parametrize(("name", "changes"), SETTINGS)
def test_search_and_one_evaluation_agree_on_every_rung(name: str, changes: dict[str, Any]) -> None:
    """150 combinations at random in each of eight settings; to 1e-9, for the formulas are the same and only their order differs."""
    design = edited(name, changes)
    space, (t, _) = space_of(design, PROFILES, SHELF), template_of(design, PROFILES)
    random = np.random.default_rng(len(name) + len(changes))
    sizes = (len(space.motors), len(space.gears), len(space.belts), len(space.steps))
    indices = [tuple(int(random.integers(n)) for n in sizes) for _ in range(150)]
    compared = 0
    for index, mine in zip(indices, headroom_of(t, space, indices), strict=True):  # type: ignore[arg-type]
        try:
            report: Report | None = evaluate(taken(design, candidate(design, space, *index)), PROFILES)
        except EntryError:
            report = None
        assert (report is None) == ("bore" in mine or "clamp_room" in mine), index
        if report is None:
            continue
        for rung in report.ladder:
            if rung.advisory or rung.key in AFTERWARDS:
                continue
            got = mine[rung.key]
            if rung.verdict == "no demand":
                assert math.isinf(got), rung.key
            elif rung.headroom is None:
                assert math.isnan(got), rung.key
            else:
                assert got == pytest.approx(rung.headroom, rel=1e-9 if rung.key != "speed" else 1e-6), (rung.key, index)
                compared += 1
    assert compared > 1500


@pytest.mark.parametrize("name", NAMES)
def test_rows_hold_when_they_are_taken(name: str) -> None:
    """Every row that is offered, evaluated whole: it holds, with the headroom, step, stiffness and mass that the search said."""
    design = DESIGNS[name]
    answer = search(design, PROFILES, few({"stepper": 6, "supply": 3, "gearbox": 3, "pulley": 60, "belt": 40}))
    assert answer.front == len(answer.rows)
    for row in answer.rows[:40]:
        report = evaluate(taken(design, row.changes), PROFILES)
        counted = [r for r in report.ladder if not r.advisory and r.key not in AFTERWARDS and r.headroom is not None]
        assert min(r.headroom or 0 for r in counted if r.key not in NOT_RANKED) == pytest.approx(row.headroom, rel=1e-6)
        assert all(r.verdict in ("holds", "no demand") for r in counted)
        values = {q.key: q.value for q in report.results}
        assert values["command_step"] == pytest.approx(row.resolution_mm)
        assert values["stiffness.min"] == pytest.approx(row.stiffness_n_mm)
        assert values["mass.total"] == pytest.approx(row.mass_kg)
        assert values["motor.reach"] == pytest.approx(row.speed_mm_s, rel=1e-6)
        assert values["bill.spend"] == pytest.approx(row.spend, abs=0.01)


def test_counts_add_up_against_one_by_one() -> None:
    """A small space tried one by one: how many hold, and how many each rung rejects, alone and in all."""
    design = DESIGNS["glaze-bench-pass"]
    drawer = few({"stepper": 3, "supply": 2, "gearbox": 2, "pulley": 12, "belt": 36})
    space, (t, _) = space_of(design, PROFILES, drawer), template_of(design, PROFILES)
    every = [
        (i, j, k, s)
        for i in range(len(space.motors))
        for j in range(len(space.gears))
        for k in range(len(space.belts))
        for s in range(len(space.steps))
    ]
    failing = [{key for key, h in heads.items() if key != "speed" and not h >= 1 - 1e-9} for heads in headroom_of(t, space, every)]
    answer = search(design, PROFILES, drawer)
    assert answer.tried == space.size == len(every)
    assert answer.holding == sum(not f for f in failing)
    for row in answer.rejected:
        assert row.count == sum(row.key in f for f in failing), row.key
        assert row.alone == sum(f == {row.key} for f in failing), row.key


@given(rows=st.lists(st.tuples(*[st.integers(0, 6)] * 3), min_size=1, max_size=60))
def test_the_front_is_the_true_front(rows: list[tuple[int, int, int]]) -> None:
    """Brute force: a row is on the front when no other is as good everywhere and better somewhere; of equal ones the first."""
    ranked = np.array(rows, dtype=np.float64)
    true = [
        i for i, r in enumerate(rows)
        if not any(all(a <= b for a, b in zip(q, r, strict=True)) and (q != r or j < i) for j, q in enumerate(rows) if j != i)
    ]  # fmt: skip
    assert {tuple(ranked[i]) for i in best_front(ranked)} == {tuple(ranked[i]) for i in true}
    assert len(best_front(ranked)) == len(true)


def test_slices_give_what_the_whole_gives() -> None:
    design = DESIGNS["seed-shuttle-lift"]
    space, (t, _) = space_of(design, PROFILES, SHELF), template_of(design, PROFILES)
    whole, part = rungs_of(t, space), rungs_of(t, space, slice(30, 36))
    shape = (len(space.motors), len(space.gears), len(space.belts))
    for key, head in whole.headroom.items():
        a, b = np.broadcast_to(head, shape)[30:36], np.broadcast_to(part.headroom[key], (6, *shape[1:]))
        assert np.array_equal(a, b, equal_nan=True), key


def test_a_search_can_be_stopped_and_says_so() -> None:
    seen: list[float] = []
    answer = search(DESIGNS["seed-shuttle-aisle"], PROFILES, SHELF, going=lambda share: seen.append(share) is None and share < 0.2)
    assert 0.2 <= seen[-1] < 0.5
    assert answer.says.startswith("Stopped before the end")
    assert answer.tried < space_of(DESIGNS["seed-shuttle-aisle"], PROFILES, SHELF).size


def test_what_is_owned_costs_nothing_and_the_rest_is_left_out_when_asked() -> None:
    drawer = few({"stepper": 8, "supply": 4, "pulley": 60, "belt": 48}, owned=("stepper", "supply", "pulley", "belt"))
    answer = search(DESIGNS["seed-shuttle-aisle"], PROFILES, drawer, "drawer only")
    assert answer.rows
    assert all(r.owned for r in answer.rows)
    assert {r.gear for r in answer.rows} == {"direct"}, "no gearbox is owned"


@pytest.mark.parametrize(
    ("name", "changes", "scope", "field"),
    [
        ("seed-shuttle-aisle", {}, "drawer only", "drawer"), ("drying-shelves-probe", {}, "anything", "end.kind"), ("clay-printer-long-way", {}, "anything", "chain"),
        ("kiln-room-loader", {}, "anything", "sides.kind"), ("seed-shuttle-aisle", {"end.idler_rise_mm": -3.0}, "anything", "end.rollers"),
    ],
)  # fmt: skip
def test_what_cannot_be_searched_says_why(name: str, changes: dict[str, Any], scope: Any, field: str) -> None:
    with pytest.raises(EntryError) as caught:
        search(edited(name, changes), PROFILES, SHELF, scope)
    assert field in [p.field for p in caught.value.problems]
    assert all(p.remedy for p in caught.value.problems)


def test_an_impossible_aim_names_what_stands_in_the_way() -> None:
    answer = search(edited("seed-shuttle-aisle", {"aim.travel_mm": 5000.0}), PROFILES, few({"stepper": 6, "supply": 3, "pulley": 40, "belt": 40}))
    assert answer.holding == 0
    assert answer.says.startswith("Nothing holds. Usable travel alone stands in the way of")


def test_the_drawer_comes_first_and_the_list_where_it_does_not_do() -> None:
    rich = few({"stepper": 8, "supply": 4, "pulley": 60, "belt": 48}, owned=("stepper", "supply", "pulley", "belt"))
    own = search(DESIGNS["seed-shuttle-aisle"], PROFILES, [*rich, *(s for s in SHELF if s.kind == "gearbox")], "drawer first")
    assert own.says == "All of it from the drawer."
    assert all(r.owned for r in own.rows)
    poor = few({"stepper": 6, "supply": 3, "pulley": 40, "belt": 40}, owned=("supply",))
    listed = search(DESIGNS["seed-shuttle-aisle"], PROFILES, poor, "drawer first")
    assert listed.scope == "anything"
    assert listed.rows == search(DESIGNS["seed-shuttle-aisle"], PROFILES, poor, "anything").rows
