"""Other ways: each is a whole design that does what its figures say, and none is shown to hold that does not."""

from __future__ import annotations

from collections.abc import Callable, Iterable

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.choosing.find import searching
from crisp_cadence.core.choosing.tries import trying
from crisp_cadence.core.choosing.ways import WAYS, WaysAnswer, ways
from crisp_cadence.core.design.design import changed, design_from
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.ledger.errors import EntryError

PROFILES = catalog.profiles()
DESIGNS = demo.designs()
PRICED = [
    Stock(p.key, p.kind, p.name, p.data, 0, demo.invented_price(p) if p.kind in demo.PRICED else None)
    for p in catalog.parts().values()
]


def answer(name: str, drawer: list[Stock] | None = None) -> WaysAnswer:
    *shares, last = ways(DESIGNS[name], PROFILES, PRICED if drawer is None else drawer)
    assert isinstance(last, WaysAnswer)
    assert shares == sorted(shares, key=float)
    return last


@pytest.mark.parametrize(
    "name", ["glaze-bench-pass", "clay-printer-board", "seed-store-shutter", "seed-shuttle-lift"]
)
def test_every_way_does_what_its_figures_say(name: str) -> None:
    found = answer(name)
    assert [w.key for w in found.ways] == ["now", *(key for key, *_ in WAYS)]
    now = evaluate(DESIGNS[name], PROFILES)
    assert (found.ways[0].verdict, found.ways[0].in_words) == (now.verdict, now.in_words)
    for way in found.ways[1:]:
        assert way.right_when
        if way.verdict is None:
            continue
        report = evaluate(changed(DESIGNS[name], way.changes), PROFILES)
        assert report.verdict == way.verdict
        results = {q.key: q.value for q in report.results}
        assert way.spend == pytest.approx(results["bill.spend"])
        assert way.speed_mm_s == results["motor.reach"]
        assert way.stiffness_n_mm == results["stiffness.min"]
        assert way.backlash_mm == results["backlash"]
        assert (way.whirl is None) == ("screw" not in way.key)


def test_what_each_way_is_known_for_comes_out() -> None:
    """Facts of the trade (common practice, no source): screws whirl and are slow on long fast axes, and are
    stiffer than belts; racks have play; belts none.
    """
    fast = {w.key: w for w in answer("seed-shuttle-aisle").ways}
    assert fast["carriage_loop"].verdict == "holds"
    assert fast["screw"].verdict == "short"
    assert (fast["screw"].whirl or 9) < 1, "1.5 m at 500 mm/s"
    assert (fast["screw"].stiffness_n_mm or 0) > 10 * (fast["carriage_loop"].stiffness_n_mm or 0)
    assert (fast["rack"].backlash_mm or 0) > 0 == fast["carriage_loop"].backlash_mm
    riding, loop = fast["riding_motor"], fast["carriage_loop"].changes
    end = {**loop["end"], **{n: riding.changes["end"][n] for n in ("belt", "pulley")}}
    end["idler"] = {**end["idler"], "teeth": 20, "width_mm": end["belt"]["width_mm"] + 1}
    same_belt = evaluate(changed(DESIGNS["seed-shuttle-aisle"], {**riding.changes, "end": end}), PROFILES)
    assert (riding.stiffness_n_mm or 0) > (same_belt.value("stiffness.min") or 1e9), "half the belt gives"
    slow = {w.key: w for w in answer("clay-printer-board").ways}
    assert slow["screw"].verdict == "holds"
    assert slow["screw"].stays
    assert slow["carriage_loop"].verdict == "short", "a lift with fine steps is not for a bare belt"


def test_without_a_drawer_the_own_motor_is_tried() -> None:
    found = answer("glaze-bench-pass", [])
    assert found.ways[0].verdict == "short"
    assert all(w.verdict is None for w in found.ways[1:]), "no belt, screw or rack to try"


@pytest.mark.parametrize(
    ("name", "field"),
    [
        ("spray-booth-spray-arm", "end.kind"),
        ("kiln-room-hoist", "end.kind"),
        ("trimming-bench-slab-feed", "chain.0.kind"),
    ],
)
def test_what_has_no_other_way_says_so(name: str, field: str) -> None:
    with pytest.raises(EntryError) as caught:
        answer(name)
    assert [p.field for p in caught.value.problems] == [field]


@pytest.mark.parametrize("ask", [ways, trying, searching])
def test_an_end_of_a_later_version_is_refused_in_words(ask: Callable[..., Iterable[object]]) -> None:
    """It is kept in the file; what it can do is not known, so nothing may be asked of it."""
    data = DESIGNS["glaze-bench-pass"].model_dump(mode="json")
    design = design_from({**data, "end": {"kind": "cable robot", "ropes": 8}})
    with pytest.raises(EntryError, match=r"end\.kind"):
        list(ask(design, PROFILES, PRICED))
