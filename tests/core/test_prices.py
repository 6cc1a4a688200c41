"""Typical prices: every part that can be bought has one, a sum says so, and the maker's own replaces them."""

from __future__ import annotations

import pytest

from crisp_cadence import catalog, evaluate
from crisp_cadence.core.choosing.find import search
from crisp_cadence.core.choosing.fuss import of_belt, of_motor, of_supply
from crisp_cadence.core.design.design import changed
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.fitting.typical import typical_of, with_typical

PROFILES = catalog.profiles()
SHELF = catalog.stock()


def test_every_row_of_the_catalogue_has_a_typical_price() -> None:
    lacking = [row.key for row in SHELF if not (typical_of(row, PROFILES) or 0) > 0]
    assert lacking == []


def test_larger_parts_of_a_kind_cost_no_less() -> None:
    by = {row.key: typical_of(row, PROFILES) or 0.0 for row in SHELF}
    for small, large in (
        ("stepper:stepper-nema-17-34", "stepper:stepper-nema-23-76"),
        ("pulley:pulley-g-2-mm-16-teeth-bore-5-mm", "pulley:pulley-g-2-mm-60-teeth-bore-5-mm"),
        ("supply:supply-12-v-dc", "supply:supply-48-v-dc"),
        ("lead-screw:lead-screw-tr-8-2".replace("lead-screw:", "lead screw:"), "lead screw:ball-screw-16-5"),
    ):
        assert by[small] < by[large], (small, large)


def test_a_row_that_says_too_little_has_none() -> None:
    assert typical_of(Stock("x", "stepper", "Motor", {}, 0, None), PROFILES) is None
    assert typical_of(Stock("x", "pulley", "Pulley", {"teeth": 20, "face_mm": 7}, 0, None), PROFILES) is None
    assert typical_of(Stock("x", "hinge", "Hinge", {"length_mm": 20}, 0, None), PROFILES) is None


@pytest.mark.parametrize("layout", list(LAYOUTS))
def test_the_bill_of_every_layout_is_priced_and_says_so(layout: str) -> None:
    design = begin(layout, "New")
    report = evaluate(design)
    buys = [line for line in report.bill if not line.in_stock]
    assert all(line.typical and (line.total or 0) > 0 for line in buys), [b for b in buys if not b.total]
    assert (report.bill_typical, report.bill_unpriced) == (len(buys), 0)
    assert report.bill_total == pytest.approx(sum(line.total or 0 for line in buys))
    dearer = evaluate(changed(design, {"aim.price_factor": 10.0}))
    assert dearer.bill_total == pytest.approx(10 * report.bill_total, rel=0.02)


def test_a_price_of_the_makers_own_replaces_the_typical_one() -> None:
    design = changed(begin("carriage_loop", "New"), {"chain.0.price": 11.0, "end.pulley.in_stock": True})
    report = evaluate(design)
    lines = {line.field: line for line in report.bill}
    assert (lines["chain.0"].total, lines["chain.0"].typical) == (11.0, False)
    assert report.value("bill.spend") == pytest.approx(
        sum(line.total or 0 for line in report.bill if line.field != "end.pulley")
    )
    row = next(r for r in SHELF if r.kind == "stepper")
    own = Stock(row.key, row.kind, row.name, row.data, 0, 3.5)
    assert with_typical([own], PROFILES, design)[0].typical is None


def test_the_search_finds_what_a_maker_would_build() -> None:
    """0.5 kg over 500 mm at 200 mm/s: a small motor on 24 V, straight on a common belt; nothing for nothing."""
    aims = {"aim.travel_mm": 500.0, "aim.speed_mm_s": 200.0, "moving.0.mass_kg": 0.5}
    found = search(changed(begin("carriage_loop", "New"), aims), PROFILES, SHELF)
    first = found.rows[0]
    assert first.gear == "direct"
    assert first.motor.startswith("Stepper NEMA 17")
    assert ", 24 V," in first.motor
    assert first.belt.startswith("Round tooth G 2 mm, 6 mm")
    assert first.spend > 30
    assert first.typical > 0
    assert all(row.spend > 0 for row in found.rows)


def test_what_most_shops_keep_is_less_fuss() -> None:
    assert of_motor("NEMA 17") < of_motor("NEMA 34")
    assert of_supply(24.0) < of_supply(48.0) < of_supply(60.0)
    assert of_belt("round-g-2", "glass") < of_belt("mxl", "glass")
