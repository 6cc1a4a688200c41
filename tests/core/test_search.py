"""The search: it agrees with one evaluation on every rung, its front is the true front, its counts add up,
and it refuses clearly.
"""

from __future__ import annotations

import itertools
import math
import tracemalloc
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from crisp_cadence import catalog, demo
from crisp_cadence.core.account.verdicts import merged
from crisp_cadence.core.choosing.find import Place, Searching, begin, headroom_of, search
from crisp_cadence.core.choosing.front import Front, best_front
from crisp_cadence.core.choosing.looking import AFTERWARDS, Looker
from crisp_cadence.core.choosing.ruler import NOT_RANKED
from crisp_cadence.core.choosing.space import Reduction, candidate, space_of, taken
from crisp_cadence.core.choosing.why import options, why_not
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.evaluation.evaluate import evaluate, work_out
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.ledger.errors import EntryError
from thorough import TORTURE, many, seed

EVERY: tuple[Reduction, ...] = ("direct", "gearbox", "closed belt", "two closed belts")
PROFILES = catalog.profiles()
DESIGNS = demo.designs()
SHELF = [Stock(p.key, p.kind, p.name, p.data, 0, 5.0) for p in catalog.parts().values()]
MANY_OF = ("pulley", "belt", "closed belt")  # what a space of closed belts grows with
NAMES = (
    "seed-shuttle-aisle",
    "seed-shuttle-lift",
    "glaze-bench-pass",
    "slip-writer-reach",
    "drying-shelves-probe",
)


def edited(name: str, changes: dict[str, Any]) -> AxisDesign:
    return changed(DESIGNS[name], changes)


def at_place(design: AxisDesign, space: Any, index: Place) -> dict[str, Any]:
    motor, gear, belt, step = index
    return candidate(design, space, motor, space.gear(gear), belt, step)


def few(kinds: dict[str, int], owned: Sequence[str] = ()) -> list[Stock]:
    """A small drawer: the first so many rows of each kind."""
    out: list[Stock] = []
    for kind, count in kinds.items():
        out += [
            Stock(s.key, s.kind, s.name, s.data, int(s.kind in owned), s.price)
            for s in SHELF
            if s.kind == kind
        ][:count]
    return out


SETTINGS: list[tuple[str, dict[str, Any]]] = [
    *((name, {}) for name in NAMES[:4]),
    ("seed-shuttle-aisle", {"end.idler": {"kind": "smooth", "diameter_mm": 22.0}, "aim.push_n": 15.0, "end.motor_mount": {"kind": "plate", "material": "acrylic", "thickness_mm": 5.0}}),
    ("seed-shuttle-lift", {"end.pulley.fixing.kind": "clamp", "end.tensioner.kind": "movable clamp", "end.clamp.kind": "zip tie", "end.slot_mm": 9.5, "aim.hold_n": 20.0}),
    ("glaze-bench-pass", {"end.tensioner.spring_n_mm": 4.0, "end.belt.tension_n": 60.0, "end.pulley.fixing.kind": "press fit", "end.idler.held": "both ends"}),
    ("kiln-room-loader", {"heads": []}), ("seed-shuttle-lift", {"sides.kind": "two motors", "sides.width_mm": 500.0, "sides.offset_mm": 120.0}),
    ("drying-shelves-probe", {"sides": {"kind": "one driven", "width_mm": 80.0, "guide_length_mm": 200.0}}), ("drying-shelves-probe", {"aim.slope_deg": 40.0, "end.tensioner.kind": "movable clamp", "chain": [{"kind": "stepper", "mass_kg": 0.5}, {"kind": "closed_belt", "mass_kg": 0.3}]}),
    ("slip-writer-reach", {"end.pulley.fixing.kind": "key", "end.tensioner.kind": "slotted motor plate", "end.tensioner.screw_length_mm": 24.0, "end.clamp.pull_n": 40.0}),
]  # fmt: skip


@pytest.mark.parametrize(("name", "changes"), SETTINGS)
def test_search_and_one_evaluation_agree_on_every_rung(name: str, changes: dict[str, Any]) -> None:
    """Combinations at random in each of a dozen settings, on loops, gantries and with riding motors, of each
    kind of reduction (`make torture`: 910, over 10,000 in all); to 1e-9, for the formulas are the same and
    only their order differs.
    """
    design = edited(name, changes)
    random = np.random.default_rng(seed(len(name) + len(changes)))
    compared = built = tried = 0
    drawer = [s for n, s in enumerate(SHELF) if TORTURE or n % 3 == 0 or s.kind not in MANY_OF]
    kinds = (("direct", 160), ("gearbox", 160), ("closed belt", 430), ("two closed belts", 160))
    for kind, full in kinds:
        if "belt" in kind and design.end.kind == "riding_motor" and len(design.chain) == 1:
            continue  # a closed belt of unknown mass does not ride along
        space = space_of(design, PROFILES, drawer, "anything", (kind,), pruned=kind == "two closed belts")  # type: ignore[arg-type]
        sizes = (len(space.motors), len(space.first), len(space.belts), len(space.steps))
        indices: list[Any] = [
            tuple(int(random.integers(n)) for n in sizes) for _ in range(many(full // 8, full))
        ]
        tried += len(indices)
        looker = Looker(design, PROFILES, space)
        for index, mine in zip(indices, headroom_of(looker, indices), strict=True):
            try:  # every tenth with its whole report, and so with the rung of money too
                one = taken(design, at_place(design, space, index))
                ladder = (work_out(one, PROFILES)[0] if built % 10 else evaluate(one, PROFILES)).ladder
            except EntryError:
                ladder = None
            assert (ladder is None) == (mine["unbuildable"] == 0), index
            if ladder is None:
                continue
            built += 1
            for rung in ladder:
                if rung.advisory or rung.key in AFTERWARDS:
                    continue
                got = mine[rung.key]
                if rung.verdict == "no demand":
                    assert math.isinf(got), rung.key
                elif rung.headroom is None:
                    assert math.isnan(got), rung.key
                else:
                    assert got == pytest.approx(rung.headroom, rel=1e-9), (rung.key, index)
                    compared += 1
    assert built > tried / 8
    assert compared > 12 * built


STEPPER = {"kind": "stepper", "mass_kg": 0.6}
MEASURED = [{"field": "guide.rail_mm", "value": 1190.0, "label": "the rail as it came"}]
ROLLER = {
    "label": "guide roller",
    "where": "after the pulley",
    "x_mm": 300.0,
    "y_mm": -4.0,
    "diameter_mm": 16.0,
}
OPENED: list[tuple[str, dict[str, Any]]] = [
    ("clay-printer-board", {}),  # a screw behind its coupler, which stays
    ("seed-store-shutter", {}),  # a rack
    ("clay-printer-head", {}),  # crossed belts, in every direction
    ("clay-printer-head", {"end.form": "one belt, H"}),
    ("spray-booth-spray-arm", {}),  # a joint
    ("tray-rover-wheels", {"chain.0": STEPPER}),
    ("kiln-room-hoist", {"chain.0": STEPPER}),  # a drum, full and empty
    ("trimming-bench-slab-feed", {"chain.0": STEPPER}),  # a feed behind its clutch
    ("kiln-room-loader", {"sides.kind": "cross shaft"}),  # with two heads
    ("kiln-room-loader", {"sides": {"kind": "one driven", "width_mm": 400.0, "guide_length_mm": 150.0}}),
    ("seed-shuttle-aisle", {"end.idler_rise_mm": 3.0, "measured": MEASURED}),
    ("seed-shuttle-aisle", {"end.rollers": [ROLLER]}),
]


@pytest.mark.parametrize(("name", "changes"), OPENED, ids=lambda v: v if isinstance(v, str) else "")
def test_every_end_is_searched_as_one_by_one_finds_it(name: str, changes: dict[str, Any]) -> None:
    """A small drawer tried one by one, dozens of combinations (`make torture`: over 300) whole: every rung,
    what is to pay, what cannot be built, how many hold, and every row of the front among them.
    """
    design = edited(name, changes)
    belted = hasattr(design.end, "belt")
    drawer = few({"stepper": 2 if belted else 6, "supply": 2, "gearbox": 1 if belted else 3})
    of_one = [s for s in SHELF if s.data.get("profile") == "round-g-3"]
    drawer += [s for s in of_one if s.kind == "pulley"][::9] + [s for s in of_one if s.kind == "belt"]
    space = space_of(design, PROFILES, drawer, pruned=False)
    looker = Looker(design, PROFILES, space)
    sizes = (len(space.motors), len(space.first), len(space.belts), len(space.steps))
    every: list[Any] = list(itertools.product(*(range(n) for n in sizes)))
    every = every[:: max(1, len(every) // many(60, 310))]
    head, values = looker.beside(every)
    for n, index in enumerate(every):
        try:  # every sixth with its whole report, and so with its bill
            one = looker.built(*index)
            if n % 6:
                _, runs = work_out(one, PROFILES)
                ladder = merged([(r.name, r.ladder) for r in runs])
            else:
                report = evaluate(one, PROFILES)
                ladder = list(report.ladder)
                assert values["spend"][n] == pytest.approx(report.bill_to_spend, abs=0.005)
        except EntryError:
            assert head["unbuildable"][n] == 0, index
            continue
        assert head["unbuildable"][n] != 0, index
        for rung in ladder:
            if rung.advisory or rung.key.rpartition(".")[2] in AFTERWARDS:
                continue
            got = float(head[rung.key][n]) if rung.key in head else math.inf
            if rung.verdict == "no demand":
                assert math.isinf(got), rung.key
            elif rung.headroom is None:
                assert math.isnan(got), rung.key
            else:
                assert got == pytest.approx(rung.headroom, rel=1e-9), (rung.key, index)
    assert len(every) >= many(60, 300)
    whole: list[Any] = list(itertools.product(*(range(n) for n in sizes)))
    columns, _ = looker.beside(whole)
    holds = np.logical_and.reduce(
        [~(h < 1 - 1e-9) & ~np.isnan(h) for k, h in columns.items() if k != "speed"]
    )
    answer = search(design, PROFILES, drawer, pruned=False)
    assert (answer.tried, answer.holding) == (len(whole), int(holds.sum()))
    assert all(holds[whole.index(row.index)] for row in answer.rows)
    assert bool(answer.rows) == bool(holds.any())


@pytest.mark.parametrize("name", NAMES)
def test_rows_hold_when_they_are_taken(name: str) -> None:
    """Every row that is offered, evaluated whole: it holds, with the headroom, step, stiffness and mass that
    the search said.
    """
    design = DESIGNS[name]
    answer = search(
        design, PROFILES, few({"stepper": 6, "supply": 3, "gearbox": 3, "pulley": 60, "belt": 40})
    )
    assert answer.front == len(answer.rows)
    for row in answer.rows[:40]:
        report = evaluate(taken(design, row.changes), PROFILES)
        counted = [
            r for r in report.ladder if not r.advisory and r.key not in AFTERWARDS and r.headroom is not None
        ]
        assert min(r.headroom or 0 for r in counted if r.key not in NOT_RANKED) == pytest.approx(
            row.headroom, rel=1e-6
        )
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
    space = space_of(design, PROFILES, drawer, pruned=False)
    sizes = (len(space.motors), len(space.first), len(space.belts), len(space.steps))
    every: list[Any] = list(itertools.product(*(range(n) for n in sizes)))
    failing = [
        {key for key, h in heads.items() if key != "speed" and not h >= 1 - 1e-9}
        for heads in headroom_of(Looker(design, PROFILES, space), every)
    ]
    answer = search(design, PROFILES, drawer, pruned=False)
    assert answer.tried == space.size == len(every)
    assert answer.holding == sum(not f for f in failing)
    motors = {
        "grip",
        "whip",
        "lost",
        "push_give",
        "sag",
        "unpowered",
        "unbuildable",
        *(f"torque_{p}" for p in ("accelerate", "cruise", "push", "hold")),
    }
    # Rungs of motors are asked of what belt and reduction leave: of what fails at no more than one rung of
    # theirs at some microsteps.
    early = [f - motors for f in failing]
    open_pairs = {index[1:3] for index, f in zip(every, early, strict=True) if len(f) <= 1}
    for row in answer.rejected:
        if row.key.startswith("end."):  # what cannot be built is counted by the field that stands in the way
            assert 0 < row.count <= sum("unbuildable" in f for f in failing)
            continue
        asked = [
            f
            for index, f in zip(every, failing, strict=True)
            if row.key not in motors or index[1:3] in open_pairs
        ]
        assert row.count == sum(row.key in f for f in asked), row.key
        assert row.alone == sum(f == {row.key} for f in failing), row.key
        if not row.key.startswith("chain."):  # a stage's rungs are asked of combinations that have the stage
            assert row.asked == len(asked), row.key


def ended(under_way: Searching) -> set[tuple[int, ...]]:
    """What the front of a whole search is ranked by."""
    for _ in under_way.steps():
        pass
    return {tuple(row) for row in under_way.best.ranked.tolist()}


@pytest.mark.parametrize("name", NAMES)
def test_pruned_and_exhaustive_searches_find_the_same_front(name: str) -> None:
    """What is left out beforehand is no better in anything: the front has the same money, headroom, step,
    stiffness and mass.
    """
    design = DESIGNS[name]
    profile = {
        "seed-shuttle-aisle": "xl",
        "drying-shelves-probe": "round-g-2",
        "glaze-bench-pass": "round-g-3",
    }.get(name, "round-h-5")
    drawer = [
        *few({"stepper": 41, "supply": 5, "gearbox": 6})[8::2],  # gearboxes of two frames
        *(s for s in SHELF if s.kind in ("pulley", "belt", "closed belt") and s.data["profile"] == profile),
    ]
    priced = [replace(s, price=round(2 + 7 * ((37 * i) % 11) / 11, 2)) for i, s in enumerate(drawer)]
    whole, slim = (begin(design, PROFILES, priced, "anything", EVERY[:3], pruned) for pruned in (False, True))
    assert slim.space.size < whole.space.size == slim.space.size + slim.space.left_out
    assert ended(slim) == ended(whole)
    assert len(whole.best.ranked) > 3
    # On these no reduction is worth its give and its money.
    assert any(whole.space.first[row[1]] for row in whole.best.index) or name in (
        "seed-shuttle-aisle",
        "drying-shelves-probe",
        "glaze-bench-pass",
        "slip-writer-reach",
    )


@given(rows=st.lists(st.tuples(*[st.integers(0, 6)] * 3), min_size=1, max_size=60))
def test_the_front_is_the_true_front(rows: list[tuple[int, int, int]]) -> None:
    """Brute force: a row is on the front when no other is as good everywhere and better somewhere; of equal
    ones the first.
    """
    ranked = np.array(rows, dtype=np.float64)
    true = [
        i
        for i, r in enumerate(rows)
        if not any(
            all(a <= b for a, b in zip(q, r, strict=True)) and (q != r or j < i)
            for j, q in enumerate(rows)
            if j != i
        )
    ]
    assert {tuple(ranked[i]) for i in best_front(ranked)} == {tuple(ranked[i]) for i in true}
    assert len(best_front(ranked)) == len(true)


@given(rows=st.lists(st.tuples(*[st.integers(0, 9)] * 3), min_size=1, max_size=80), cut=st.integers(0, 80))
def test_a_front_taken_piece_by_piece_is_the_front_of_the_whole(
    rows: list[tuple[int, int, int]], cut: int
) -> None:
    ranked = np.array(rows, dtype=np.int32)
    front, at = Front((10, 10), 1), np.arange(len(rows))[:, None]
    for part in (slice(0, cut), slice(cut, None)):
        front.take(ranked[part].T, at[part])
    assert {tuple(r) for r in front.ranked.tolist()} == {
        tuple(r) for r in ranked[best_front(ranked)].tolist()
    }
    assert all(tuple(ranked[i]) == tuple(r) for r, (i,) in zip(front.ranked, front.index, strict=True))
    assert not front.not_beaten(ranked.T).size


def test_a_large_front_is_the_true_front() -> None:
    """Past the size that is settled at once: compared with every row against every other."""
    ranked = np.random.default_rng(3).random((1500, 4)).round(2)
    beaten = (ranked[:, None] <= ranked).all(axis=2) & (ranked[:, None] < ranked).any(axis=2)
    assert {tuple(r) for r in ranked[best_front(ranked)]} == {tuple(r) for r in ranked[~beaten.any(axis=0)]}


def test_a_search_can_be_stopped_and_says_so() -> None:
    under_way = begin(DESIGNS["seed-shuttle-aisle"], PROFILES, SHELF, "anything", EVERY[:3])
    shares = list(itertools.islice(under_way.steps(), 6))
    assert shares == sorted(shares)
    assert 0 < shares[-1] < 0.5
    answer = under_way.answer()
    assert answer.says.startswith("Stopped before the end")
    assert answer.tried < under_way.space.size


def test_a_hundred_million_combinations_stay_within_bounds() -> None:
    """Two closed belts: far over 10⁸ combinations begin at once, and a piece of them stays under 200 MB: the
    whole evaluation keeps the results of a piece until the next one.
    """
    tracemalloc.start()
    under_way = begin(DESIGNS["seed-shuttle-aisle"], PROFILES, SHELF, "anything", EVERY)
    assert under_way.space.size > 1e8
    tracemalloc.reset_peak()
    before = tracemalloc.get_traced_memory()[0]
    for _ in itertools.islice(under_way.steps(), 40):
        pass
    peak = tracemalloc.get_traced_memory()[1] - before
    tracemalloc.stop()
    assert peak < 200e6
    assert under_way.answer().tried > 1e5


def test_why_not_names_the_rung_and_by_how_much() -> None:
    design = DESIGNS["seed-shuttle-aisle"]
    known = options(design, PROFILES, SHELF)
    weak = next(n for n in known.motors if n.startswith("Stepper NEMA 11 × 32, 12 V"))
    belt = next(n for n in known.belts if n.startswith("Round tooth G 2 mm, 6 mm, 40 teeth"))
    why = why_not(design, PROFILES, SHELF, weak, [], belt, 16)
    assert why.verdict == "short"
    worst = why.ladder[0]
    assert worst.key in ("torque_accelerate", "speed")
    assert worst.ratio is not None
    assert worst.ratio < 1
    report = evaluate(taken(design, why.changes), PROFILES)
    assert report.ladder == why.ladder
    wide = next(n for n in known.motors if n.startswith("Stepper NEMA 34"))
    tiny = next(n for n in known.belts if "MXL" in n and "15 teeth" in n)
    refused = why_not(design, PROFILES, SHELF, wide, [], tiny, 16)
    assert refused.verdict is None
    assert {p.field for p in refused.problems} == {"end.pulley.hub_mm", "end.pulley.bore_mm"}
    with pytest.raises(EntryError) as caught:
        why_not(design, PROFILES, SHELF, "a motor that nobody has", [], belt, 16)
    assert caught.value.problems[0].field == "motor"


def test_what_is_owned_costs_nothing_and_the_rest_is_left_out_when_asked() -> None:
    drawer = few(
        {"stepper": 8, "supply": 4, "pulley": 60, "belt": 48}, owned=("stepper", "supply", "pulley", "belt")
    )
    answer = search(DESIGNS["seed-shuttle-aisle"], PROFILES, drawer, "drawer only")
    assert answer.rows
    assert all(r.owned for r in answer.rows)
    assert {r.gear for r in answer.rows} == {"direct"}, "no gearbox is owned"


@pytest.mark.parametrize(
    ("name", "changes", "scope", "field"),
    [
        ("seed-shuttle-aisle", {}, "drawer only", "drawer"), ("trimming-bench-potter-s-wheel", {}, "anything", "chain.0.kind"),
        ("tray-rover-wheels", {}, "anything", "chain.0.kind"), ("kiln-room-hoist", {}, "anything", "chain.0.kind"),
    ],
)  # fmt: skip
def test_what_cannot_be_searched_says_why(name: str, changes: dict[str, Any], scope: Any, field: str) -> None:
    with pytest.raises(EntryError) as caught:
        search(edited(name, changes), PROFILES, SHELF, scope)
    assert field in [p.field for p in caught.value.problems]
    assert all(p.remedy for p in caught.value.problems)


def test_an_impossible_aim_names_what_stands_in_the_way() -> None:
    answer = search(
        edited("seed-shuttle-aisle", {"aim.travel_mm": 5000.0}),
        PROFILES,
        few({"stepper": 6, "supply": 3, "pulley": 40, "belt": 40}),
    )
    assert answer.holding == 0
    assert answer.says.startswith("Nothing holds. Usable travel alone stands in the way of")


def test_the_drawer_comes_first_and_the_list_where_it_does_not_do() -> None:
    rich = few(
        {"stepper": 8, "supply": 4, "pulley": 60, "belt": 48}, owned=("stepper", "supply", "pulley", "belt")
    )
    own = search(
        DESIGNS["seed-shuttle-aisle"],
        PROFILES,
        [*rich, *(s for s in SHELF if s.kind == "gearbox")],
        "drawer first",
    )
    assert own.says == "All of it from the drawer."
    assert all(r.owned for r in own.rows)
    poor = few({"stepper": 6, "supply": 3, "pulley": 40, "belt": 40}, owned=("supply",))
    listed = search(DESIGNS["seed-shuttle-aisle"], PROFILES, poor, "drawer first")
    assert listed.scope == "anything"
    assert listed.rows == search(DESIGNS["seed-shuttle-aisle"], PROFILES, poor, "anything").rows


def crowd(kind: str, count: int) -> list[Stock]:
    """A drawer of very many rows of one kind."""
    row = next(s for s in SHELF if s.kind == kind)
    return [Stock(f"{kind}:own-{i}", kind, f"{row.name} no. {i}", row.data, 1, None) for i in range(count)]


@pytest.mark.parametrize("kind", ["stepper", "belt"])
def test_a_drawer_of_a_hundred_thousand_rows_is_refused_before_it_is_laid_out(kind: str) -> None:
    with pytest.raises(EntryError) as caught:
        search(DESIGNS["seed-shuttle-aisle"], PROFILES, [*SHELF, *crowd(kind, 100_000)])
    assert "too many" in caught.value.problems[0].message
    assert caught.value.problems[0].remedy


def test_a_hundred_thousand_rows_that_no_drive_needs_do_no_harm() -> None:
    plain = search(DESIGNS["seed-shuttle-aisle"], PROFILES, SHELF)
    assert search(DESIGNS["seed-shuttle-aisle"], PROFILES, [*SHELF, *crowd("washer", 100_000)]) == plain
