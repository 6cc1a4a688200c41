"""Rows of the drawer that no search can use are left out, named and counted; one of them ends no search."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from conftest import build
from crisp_cadence import catalog
from crisp_cadence.core.choosing.find import search
from crisp_cadence.core.choosing.tries import one_change
from crisp_cadence.core.choosing.ways import all_ways
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.fitting.usable import unused_since

FEW = [
    next(r for r in catalog.stock() if r.kind == kind)
    for kind in ("stepper", "supply", "gearbox", "closed belt", "coupler", "pulley", "lead screw", "rack")
]
SMALL = [
    r
    for r in catalog.stock()
    if r.name in ("Stepper NEMA 17 × 48", "Supply 24 V DC")
    or (r.kind in ("pulley", "belt") and r.data.get("profile") == "round-g-2")
]
ODD: list[tuple[str, str, Any, str]] = [
    ("stepper", "frame", "NEMA 99", "frame is 'NEMA 99'"),
    ("stepper", "hold_torque_nm", 1e8, "hold torque 100000000.0 is more"),
    ("stepper", "resistance_ohm", None, "coil is not known"),
    ("supply", "supply_v", 1e6, "1000000.0 is more than this can be"),
    ("gearbox", "ratio", 1e8, "ratio"),
    ("closed belt", "belt_teeth", 3, "teeth"),
    ("pulley", "teeth", 100_000, "teeth"),
    ("lead screw", "diameter_mm", 1e6, "diameter"),
]


def test_every_row_of_the_catalogue_can_be_used() -> None:
    assert [r.name for r in catalog.stock() if unused_since(r)] == []


@pytest.mark.parametrize(("kind", "field", "value", "says"), ODD)
def test_an_odd_row_says_why_it_is_not_used(kind: str, field: str, value: Any, says: str) -> None:
    row = next(r for r in FEW if r.kind == kind)
    assert says in unused_since(replace(row, data={**row.data, field: value}))


def test_odd_rows_end_no_search_and_are_named_and_counted() -> None:
    good = list(catalog.stock())
    rows: list[Stock] = []
    for i, (kind, field, value, _) in enumerate(ODD):
        row = next(r for r in FEW if r.kind == kind)
        rows.append(
            replace(row, key=f"own:{i}", name=f"Odd {i}", quantity=1, data={**row.data, field: value})
        )
    design = build()
    found = search(design, catalog.profiles(), [*SMALL, *rows])
    plain = search(design, catalog.profiles(), SMALL)
    assert (found.tried, found.holding) == (plain.tried, plain.holding)
    assert {r.name for r in found.unused} == {f"Odd {i}" for i in range(len(ODD))}
    assert found.unused_rows == len(ODD)
    assert plain.unused == ()
    assert one_change(design, catalog.profiles(), [*good, *rows]) == one_change(
        design, catalog.profiles(), good
    )
    assert all_ways(design, catalog.profiles(), [*good, *rows]) == all_ways(design, catalog.profiles(), good)
