"""How far a design goes: at the most told everything holds, just beyond it something does not."""

from __future__ import annotations

from typing import Any

import pytest

from crisp_cadence import catalog
from crisp_cadence.core.choosing.how_far import Reaches, reaches
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.demo import designs

PROFILES = catalog.profiles()
DESIGNS = designs()
# A loop, crossed belts, a screw, a hoist, wheels: unlike chains and ends.
UNLIKE = (
    "seed-shuttle-aisle",
    "clay-printer-head",
    "clay-printer-board",
    "kiln-room-hoist",
    "tray-rover-wheels",
    "trimming-bench-potter-s-wheel",
)


def holds(design: AxisDesign, path: str, value: float) -> bool:
    """The whole ladder of one plain evaluation."""
    try:
        report = evaluate(changed(design, {path: value}), PROFILES)
    except EntryError:
        return False
    return all(r.verdict in ("holds", "no demand") for r in report.ladder if not r.advisory)


def of(name: str, changes: dict[str, Any] | None = None) -> tuple[AxisDesign, Reaches]:
    design = changed(DESIGNS[name], changes or {})
    return design, reaches(design, PROFILES)


@pytest.mark.parametrize("name", UNLIKE)
def test_everything_holds_up_to_what_is_told_and_no_further(name: str) -> None:
    design, found = of(name)
    assert len(found.aims) >= 3
    for aim in found.aims:
        assert aim.set_to is not None, aim.label
        assert holds(design, aim.path, aim.set_to), aim.label
        assert (aim.binds == "") == aim.open_end
        if not aim.open_end:
            beyond = max(0.001, aim.set_to * (0.9 if aim.fewer else 1.12))
            assert not holds(design, aim.path, beyond), aim.label


def test_the_rung_that_binds_is_the_one_that_falls_short_first() -> None:
    design, found = of("seed-shuttle-aisle")
    speed = next(a for a in found.aims if a.path == "aim.speed_mm_s")
    assert speed.set_to is not None
    beyond = evaluate(changed(design, {speed.path: speed.set_to * 1.02}), PROFILES)
    assert [r.key for r in beyond.ladder if r.verdict in ("short", "tight") and not r.advisory] == [
        speed.binds_key
    ]


def test_what_no_value_of_an_aim_mends_is_named() -> None:
    design, found = of("seed-shuttle-lift")
    assert not holds(design, "aim.speed_mm_s", 1.0)
    speed = next(a for a in found.aims if a.path == "aim.speed_mm_s")
    assert speed.most is None
    assert (speed.set_to, speed.binds_key) == (None, "unpowered")


def test_all_that_moves_is_told_and_the_heaviest_part_is_set() -> None:
    design, found = of("seed-shuttle-aisle")
    mass = next(a for a in found.aims if a.label == "Moving mass")
    total = sum(m.mass_kg * m.quantity for m in design.moving)
    assert mass.now == pytest.approx(total)
    assert mass.most is not None
    assert mass.set_to is not None
    heaviest = max(design.moving, key=lambda m: m.mass_kg * m.quantity)
    assert mass.most - total == pytest.approx((mass.set_to - heaviest.mass_kg) * heaviest.quantity)


def test_a_spindle_is_asked_in_its_own_words_and_a_time_gets_shorter() -> None:
    _, found = of("trimming-bench-potter-s-wheel")
    by = {a.path: a for a in found.aims}
    assert set(by) == {"end.high_rpm", "end.spin_up_s", "aim.push_n"}
    comes_up = by["end.spin_up_s"]
    assert comes_up.fewer
    assert comes_up.most is not None
    assert comes_up.most <= comes_up.now


@pytest.mark.parametrize(
    ("name", "changes", "key", "path", "less"),
    [
        ("seed-shuttle-aisle", {"guide.rail_mm": 1400.0}, "travel", "guide.rail_mm", 1690.0),
        (
            "seed-shuttle-aisle",
            {"chain.0.driver.supply_v": 5.0, "aim.speed_mm_s": 4000.0},
            "speed",
            "chain.0.driver.supply_v",
            12.0,
        ),
        (
            "seed-shuttle-aisle",
            {"end.belt.width_mm": 2.0, "aim.push_n": 30.0},
            "cord",
            "end.belt.width_mm",
            3.0,
        ),
        ("kiln-room-hoist", {"end.diameter_mm": 15.0}, "rope_bend", "end.diameter_mm", 31.0),
    ],
)
def test_the_nearest_value_mends_its_rung_and_a_little_less_does_not(
    name: str, changes: dict[str, Any], key: str, path: str, less: float
) -> None:
    design, found = of(name, changes)
    was = {r.key: r for r in evaluate(design, PROFILES).ladder}
    assert was[key].verdict == "short"
    mend = next(m for m in found.mends if m.key == key)
    assert (mend.path, mend.asks_less) == (path, False)
    assert less < mend.to

    def verdict(value: float) -> str:
        report = evaluate(changed(design, {path: value}), PROFILES)
        return next(r.verdict for r in report.ladder if r.key == key)

    assert verdict(mend.to) == "holds"
    assert verdict(less) != "holds"


def test_a_frame_grows_with_the_rail_that_lies_in_it() -> None:
    design = changed(begin("crossed_belts", "New"), {"aim.travel_mm": 900.0})
    mend = next(m for m in reaches(design, PROFILES).mends if m.key == "travel")
    assert set(mend.changes) == {"guide.rail_mm", "end.frame_x_mm"}
    assert mend.changes["end.frame_x_mm"] - mend.to == pytest.approx(
        design.end.frame_x_mm - design.guide.rail_mm
    )
    assert mend.verdict == "holds"


def test_what_stands_on_a_label_is_not_typed_over() -> None:
    """A motor's detent torque decides whether a lift stays; nobody sets it."""
    _, found = of("seed-shuttle-lift")
    short = {
        r.key: r.field
        for r in evaluate(DESIGNS["seed-shuttle-lift"], PROFILES).ladder
        if r.verdict == "short"
    }
    assert all(not (m.path.startswith("chain.0.") and m.path.count(".") == 2) for m in found.mends), short
