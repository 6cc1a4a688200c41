"""The drawer as CSV: nothing is lost on the way out and in, and nothing is taken in half."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from crisp_cadence import catalog
from crisp_cadence.exchange.drawer import drawer_csv, preview, read_drawer
from crisp_cadence.store import Store, drawer

NOW = "2026-11-26T10:00:00.000+00:00"


@pytest.fixture
def store(tmp_path: Path) -> Store:
    made = Store(tmp_path)
    drawer.set_stock(made, catalog.parts(), "washer:washer-m5", 0, 100, 0.02)
    drawer.add_own(
        made,
        "stepper",
        "=Old, odd one",
        {"hold_torque_nm": 0.4, "frame": "NEMA 17"},
        2,
        None,
        "measured by you",
        "from the scrap bin",
    )
    return made


def rows(store: Store) -> list[drawer.DrawerRow]:
    return drawer.rows(store, catalog.parts())


def take(store: Store, text: str) -> Any:
    seen, todo = preview(text, rows(store))
    assert seen.troubles == ()
    drawer.take_in(store, catalog.parts(), todo, seen.new, seen.changed, NOW)
    return seen


def test_out_and_in_changes_nothing(store: Store) -> None:
    text = drawer_csv(rows(store))
    assert "'=Old, odd one" in text, "no cell runs as a formula"
    seen, todo = preview(text, rows(store))
    assert seen.troubles == ()
    assert (seen.new, seen.changed, seen.same) == (0, 0, len(rows(store)))
    assert todo == []


def test_an_empty_drawer_filled_from_a_file_is_the_same_drawer(store: Store, tmp_path: Path) -> None:
    own = next(r for r in rows(store) if r.own)
    other = Store(tmp_path / "other")
    take(other, drawer_csv(rows(store)).replace(own.key, ""))
    mine, theirs = (
        {(r.kind, r.name): (r.quantity, r.price, r.data) for r in rows(s)} for s in (store, other)
    )
    assert mine == theirs


def test_own_measurements_stand_over_the_catalogue_with_their_source(store: Store) -> None:
    seen = take(
        store, "key,kind,name,quantity,price,thickness_mm\nwasher:washer-m5,washer,Washer M5,80,0.03,1.05\n"
    )
    assert seen.changes[0].says == "quantity 100 → 80; price 0.02 → 0.03; thickness_mm 1.0 → 1.05"
    row = next(r for r in rows(store) if r.key == "washer:washer-m5")
    assert (row.quantity, row.price, row.data["thickness_mm"], row.source_kind) == (
        80,
        0.03,
        1.05,
        "your entry",
    )
    assert row.data["diameter_mm"] == 5.0, "what the file does not say stays"


def test_a_new_part_of_ones_own(store: Store) -> None:
    take(
        store,
        "kind,name,quantity,length_mm,profile,width_mm,cord\nroll,Old roll,1,1234.5,round-g-2,6,glass\n",
    )
    row = next(r for r in rows(store) if r.name == "Old roll")
    assert row.own
    assert row.data == {"length_mm": 1234.5, "profile": "round-g-2", "width_mm": 6, "cord": "glass"}


@pytest.mark.parametrize(
    ("line", "field", "says"),
    [
        ("washer,A,many", "quantity", "is not a whole number"), ("washer,A,-1", "quantity", "is not a whole number"), ("washer,A,1.5", "quantity", "is not a whole number"),
        (",A,1", "kind", "is empty"), ("washer,,1", "name", "is empty"), ("washer,A,1,ten", "price", "is not an amount"), ("washer,A,1,-2", "price", "is not an amount"),
        ("washer,A,1,,guess", "source_kind", "is not a kind of source"), ("washer,A,1,,,1e12", "thickness_mm", "is too large"), ("washer,A,1,,,1,,9", "row", "has more cells"),
        (f"washer,{'x' * 200},1", "name", "is longer than 120"), ("washer,A,1,,,1,nobody:has-this", "key", "is not in this drawer"), ("washer,Other,1,,,1,washer:washer-m5", "name", "does not belong to its key"),
    ],
)  # fmt: skip
def test_bad_rows_are_named_with_row_column_and_remedy(
    store: Store, line: str, field: str, says: str
) -> None:
    seen, _ = preview(
        f"kind,name,quantity,price,source_kind,thickness_mm,key\nwasher,Good one,3\n{line}\n", rows(store)
    )
    assert [(t.row, t.field) for t in seen.troubles] == [(3, field)]
    assert says in seen.troubles[0].message
    assert seen.troubles[0].remedy


@pytest.mark.parametrize(
    ("text", "says"),
    [("", "lacks the columns kind, name, quantity"), ("a,b\n1,2\n", "lacks the columns"), ("kind,name,quantity,name\n", "columns of the same name"), ("kind,name,quantity\n\"broken", "cannot be read as CSV")],
)  # fmt: skip
def test_a_table_of_another_shape_is_refused_whole(store: Store, text: str, says: str) -> None:
    seen, todo = preview(text, rows(store))
    assert says in seen.troubles[0].message
    assert todo == []


def test_the_same_part_twice_and_too_many_rows(store: Store) -> None:
    assert (
        "is the same part as row 2"
        in preview("kind,name,quantity\nwasher,A,1\nwasher,A,2\n", rows(store))[0].troubles[0].message
    )
    _, troubles = read_drawer("kind,name,quantity\n" + "washer,A,1\n" * 100_000)
    assert "more than 20000 rows" in troubles[0].message
    wide = "kind,name,quantity," + ",".join(f"c{n}" for n in range(57)) + "\n"
    _, troubles = read_drawer(wide + ("washer,A,1" + ",7" * 57 + "\n") * 4_000)
    assert (troubles[0].row, troubles[0].message) == (3335, "has more than 200000 filled cells")
