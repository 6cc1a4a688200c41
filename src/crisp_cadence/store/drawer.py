"""The parts drawer: the starter catalogue with the maker's quantities and prices, and rows of their own."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from ..catalog import PartRow
from ..core.errors import ConflictError, EntryError, NotFoundError, problem
from ..core.fitting.drawer import unsound
from . import Store

SHORTEST_OFFCUT_MM = 100.0  # what is shorter goes into the scrap box


@dataclass(frozen=True, slots=True)
class DrawerRow:
    """One row of the drawer."""

    key: str
    kind: str
    name: str
    data: dict[str, Any]
    source_kind: str
    source: str
    quantity: int
    price: float | None
    own: bool
    version: int  # of quantity and price; 0 where neither was ever set


def rows(store: Store, catalogue: Mapping[str, PartRow]) -> list[DrawerRow]:
    """Everything: what is in stock first, then the rest of the catalogue."""
    with store.reading() as db:
        kept = {r["key"]: r for r in db.execute("SELECT * FROM stock").fetchall()}
    nothing: dict[str, Any] = {"quantity": 0, "price": None, "version": 0}
    out = []
    for part in catalogue.values():
        mine = kept.get(part.key)
        # A maker's own data stand over the catalogue's, with a source of their own.
        own = json.loads(mine["data"]) if mine and mine["data"] else None
        data, kind, source = part.data, part.source_kind, part.source
        if mine and own is not None:
            data, kind, source = {**part.data, **own}, mine["source_kind"], mine["source"]
        count = mine or nothing
        out.append(DrawerRow(part.key, part.kind, part.name, data, kind, source, count["quantity"], count["price"], False, count["version"]))
    for mine in kept.values():
        if mine["kind"] is not None:
            what = (mine["key"], mine["kind"], mine["name"], json.loads(mine["data"]), mine["source_kind"], mine["source"])
            out.append(DrawerRow(*what, mine["quantity"], mine["price"], True, mine["version"]))
    return sorted(out, key=lambda r: (r.quantity == 0, not r.own))


def set_stock(store: Store, catalogue: Mapping[str, PartRow], key: str, base_version: int, quantity: int, price: float | None) -> int:
    """Say how many there are and what one costs, on top of a version; returns the new one. ConflictError when another window was faster."""
    with store.transaction() as db:
        row = db.execute("SELECT version, quantity, price FROM stock WHERE key = ?", (key,)).fetchone()
        version = 0 if row is None else int(row["version"])
        if row is not None and (row["quantity"], row["price"]) == (quantity, price):
            return version
        if version != base_version:
            raise ConflictError("Another window has changed this part meanwhile. Nothing was overwritten.", version)
        set_many(store, catalogue, [(key, quantity, price)])
    return version + 1


def set_many(store: Store, catalogue: Mapping[str, PartRow], listed: Iterable[tuple[str, int, float | None]]) -> None:
    """Quantity and price of many rows in one transaction; nothing is kept when one of them is not there."""
    with store.transaction() as db:
        for key, quantity, price in listed:
            if key not in catalogue and db.execute("SELECT 1 FROM stock WHERE key = ?", (key,)).fetchone() is None:
                raise NotFoundError("This part is not in the drawer.")
            db.execute(
                "INSERT INTO stock (key, quantity, price) VALUES (?, ?, ?)"
                " ON CONFLICT (key) DO UPDATE SET quantity = excluded.quantity, price = excluded.price, version = version + 1",
                (key, quantity, price),
            )


def take_in(store: Store, catalogue: Mapping[str, PartRow], listed: Iterable[tuple[Any, str]]) -> None:
    """Rows of a file, all of them or none: new parts are added, known ones get quantity, price and what their data say otherwise."""
    with store.transaction() as db:
        for entry, key in listed:
            part = catalogue.get(key)
            if part is not None:
                own = {n: v for n, v in entry.data.items() if n not in part.data or part.data[n] != v}
                data = json.dumps(own, ensure_ascii=False) if own else None
                kind, source = (
                    ("measured by you" if entry.source_kind == part.source_kind else entry.source_kind),
                    (entry.source if entry.source != part.source else "your own file"),
                )
                db.execute(
                    "INSERT INTO stock (key, quantity, price, data, source_kind, source) VALUES (?, ?, ?, ?, ?, ?) "
                    "ON CONFLICT (key) DO UPDATE SET quantity = excluded.quantity, price = excluded.price, data = excluded.data, source_kind = excluded.source_kind, source = excluded.source, version = version + 1",
                    (key, entry.quantity, entry.price, data, kind if own else None, source if own else None),
                )
            else:
                at = key or f"own:{uuid.uuid4().hex[:10]}"
                row = (
                    entry.quantity,
                    entry.price,
                    entry.kind,
                    entry.name,
                    json.dumps(entry.data, ensure_ascii=False),
                    entry.source_kind,
                    entry.source,
                )
                db.execute(
                    "INSERT INTO stock (key, quantity, price, kind, name, data, source_kind, source) VALUES (?, ?, ?, ?, ?, ?, ?, ?) "
                    "ON CONFLICT (key) DO UPDATE SET quantity = excluded.quantity, price = excluded.price, data = excluded.data, source_kind = excluded.source_kind, source = excluded.source, version = version + 1",
                    (at, *row),
                )


def cut_roll(store: Store, catalogue: Mapping[str, PartRow], key: str, length_mm: float) -> str:
    """Take a piece off one roll: there is one less of it, and what is left becomes a row of the maker's own; returns its key ("" for none)."""
    found = next((r for r in rows(store, catalogue) if r.key == key and r.kind == "roll"), None)
    if found is None:
        raise NotFoundError("This roll is not in the drawer.")
    wrong = unsound("roll", found.data)
    if wrong:
        raise EntryError(wrong)
    whole = float(found.data["length_mm"])
    if found.quantity < 1 or length_mm > whole + 1e-9:
        raise EntryError(
            [
                problem(
                    "length_mm", "is more than a roll in the drawer has" if found.quantity else "cannot be cut: none of these rolls lies in the drawer",
                    value=length_mm, limit=whole if found.quantity else 0, unit="mm", remedy="Take a longer roll, or correct its length and number in the drawer.",
                )
            ]
        )  # fmt: skip
    left = whole - length_mm
    offcut = ""
    with store.transaction() as db:
        changed = db.execute("UPDATE stock SET quantity = quantity - 1, version = version + 1 WHERE key = ? AND quantity >= 1", (key,)).rowcount
        if not changed:
            raise NotFoundError("This roll is not in the drawer any more.")
        if left >= SHORTEST_OFFCUT_MM:
            offcut = f"own:{uuid.uuid4().hex[:10]}"
            name = f"Offcut of {found.data.get('profile', 'belt')}, {found.data.get('width_mm', '?')} mm wide, {left / 1000:.3f} m"
            data = json.dumps({**found.data, "length_mm": left}, ensure_ascii=False)
            db.execute(
                "INSERT INTO stock (key, quantity, price, kind, name, data, source_kind, source) VALUES (?, 1, NULL, 'roll', ?, ?, 'measured by you', ?)",
                (offcut, name, data, f"cut from {found.name}"),
            )
    return offcut


def add_own(store: Store, kind: str, name: str, data: dict[str, Any], quantity: int, price: float | None, source_kind: str, source: str) -> str:
    """Add a part of the maker's own; returns its key. EntryError for data with which nothing could be done."""
    wrong = unsound(kind, data)
    if wrong:
        raise EntryError(wrong)
    key = f"own:{uuid.uuid4().hex[:10]}"
    with store.transaction() as db:
        db.execute(
            "INSERT INTO stock (key, quantity, price, kind, name, data, source_kind, source) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            (key, quantity, price, kind, name, json.dumps(data, ensure_ascii=False), source_kind, source),
        )
    return key
