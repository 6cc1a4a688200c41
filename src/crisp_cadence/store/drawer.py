"""The parts drawer: the starter catalogue with the maker's quantities and prices, and rows of their own."""

from __future__ import annotations

import json
import sqlite3
import uuid
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from ..catalog import PartRow
from ..core.fitting.drawer import unsound
from ..core.ledger.errors import ConflictError, EntryError, NotFoundError, problem
from . import Store

NO_PART = "This part is not in the drawer."
MOST_INTAKES = 20  # of the files taken in last can be taken back
MOST_NAMED = 20
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
    version: int  # of what the maker has set; 0 where that is nothing
    out: bool = False  # taken out: known by its name still, but offered and counted no more
    typical: float | None = None  # what one costs as a rule, € of 2026; told by the API
    unused: str = ""  # why no search uses it; told by the API


@dataclass(frozen=True, slots=True)
class Intake:
    """A file taken into the drawer, as one step."""

    id: int
    at: str
    new: int
    changed: int
    undone: bool


@dataclass(frozen=True, slots=True)
class Turned:
    """A step taken back or made again: how many rows, and which stay as they are because they were changed
    since.
    """

    rows: int
    kept: int
    kept_names: tuple[str, ...]


def rows(store: Store, catalogue: Mapping[str, PartRow]) -> list[DrawerRow]:
    """All that lies in the drawer: what is in stock first, then the rest of the catalogue."""
    return [r for r in every_row(store, catalogue) if not r.out]


def every_row(store: Store, catalogue: Mapping[str, PartRow]) -> list[DrawerRow]:
    """What lies in the drawer and what was taken out of it."""
    with store.reading() as db:
        kept = {r["key"]: r for r in db.execute("SELECT * FROM stock").fetchall()}
    nothing: dict[str, Any] = {"quantity": 0, "price": None, "version": 0, "removed_at": None}
    out = []
    for part in catalogue.values():
        mine = kept.get(part.key)
        # A maker's own data stand over the catalogue's, with a source of their own.
        own = json.loads(mine["data"]) if mine and mine["data"] else None
        data, kind, source = part.data, part.source_kind, part.source
        if mine and own is not None:
            data, kind, source = {**part.data, **own}, mine["source_kind"], mine["source"]
        count = mine or nothing
        gone = count["removed_at"] is not None
        out.append(
            DrawerRow(
                part.key,
                part.kind,
                part.name,
                data,
                kind,
                source,
                count["quantity"],
                count["price"],
                False,
                count["version"],
                gone,
            )
        )
    for mine in kept.values():
        if mine["kind"] is not None:
            what = (
                mine["key"],
                mine["kind"],
                mine["name"],
                json.loads(mine["data"]),
                mine["source_kind"],
                mine["source"],
            )
            out.append(
                DrawerRow(
                    *what,
                    mine["quantity"],
                    mine["price"],
                    True,
                    mine["version"],
                    mine["removed_at"] is not None,
                )
            )
    return sorted(out, key=lambda r: (r.quantity == 0, not r.own))


def set_stock(
    store: Store,
    catalogue: Mapping[str, PartRow],
    key: str,
    base_version: int,
    quantity: int,
    price: float | None,
) -> int:
    """Say how many there are and what one costs, on top of a version; returns the new one. ConflictError when
    another window was faster.
    """
    with store.transaction() as db:
        row = db.execute("SELECT version, quantity, price FROM stock WHERE key = ?", (key,)).fetchone()
        version = 0 if row is None else int(row["version"])
        if row is not None and (row["quantity"], row["price"]) == (quantity, price):
            return version
        if version != base_version:
            raise ConflictError(
                "Another window has changed this part meanwhile. Nothing was overwritten.", version
            )
        set_many(store, catalogue, [(key, quantity, price)])
    return version + 1


def set_many(
    store: Store, catalogue: Mapping[str, PartRow], listed: Iterable[tuple[str, int, float | None]]
) -> None:
    """Quantity and price of many rows in one transaction; nothing is kept when one of them is not there."""
    with store.transaction() as db:
        for key, quantity, price in listed:
            if (
                key not in catalogue
                and db.execute("SELECT 1 FROM stock WHERE key = ?", (key,)).fetchone() is None
            ):
                raise NotFoundError(NO_PART)
            db.execute(
                "INSERT INTO stock (key, quantity, price) VALUES (?, ?, ?)"
                " ON CONFLICT (key) DO UPDATE SET quantity = excluded.quantity, price = "
                "excluded.price, version = version + 1",
                (key, quantity, price),
            )


def set_out(store: Store, catalogue: Mapping[str, PartRow], keys: Iterable[str], when: str | None) -> int:
    """Take rows out of the drawer (`when` a time) or bring them back (None), all of them or none; returns how
    many were not so before.
    """
    count = 0
    with store.transaction() as db:
        for key in keys:
            row = db.execute("SELECT removed_at FROM stock WHERE key = ?", (key,)).fetchone()
            if row is None and key not in catalogue:
                raise NotFoundError(NO_PART)
            if (when is None) == (row is None or row["removed_at"] is None):
                continue
            db.execute(
                "INSERT INTO stock (key, removed_at) VALUES (?, ?)"
                " ON CONFLICT (key) DO UPDATE SET removed_at = excluded.removed_at, version = version + 1",
                (key, when),
            )
            count += 1
    return count


# ---- a file as one step ------------------------------------------------------------------------------------

COLUMNS = ("quantity", "price", "kind", "name", "data", "source_kind", "source", "removed_at")


def _there(db: sqlite3.Connection, key: str) -> tuple[int, dict[str, Any] | None]:
    """A row of the file by its key, and its version: 0 and None where there is none."""
    row = db.execute("SELECT * FROM stock WHERE key = ?", (key,)).fetchone()
    return (0, None) if row is None else (int(row["version"]), {c: row[c] for c in COLUMNS})


def _put(db: sqlite3.Connection, key: str, row: Mapping[str, Any], version: int) -> None:
    db.execute(
        f"INSERT INTO stock (key, version, {', '.join(COLUMNS)}) VALUES (?, ?{', ?' * len(COLUMNS)})"
        f" ON CONFLICT (key) DO UPDATE SET version = excluded.version, "
        f"{', '.join(f'{c} = excluded.{c}' for c in COLUMNS)}",
        (key, version, *(row.get(c) for c in COLUMNS)),
    )


def _text(row: Mapping[str, Any] | None) -> str | None:
    return None if row is None else json.dumps(row, ensure_ascii=False)


def take_in(
    store: Store,
    catalogue: Mapping[str, PartRow],
    listed: Iterable[tuple[Any, str]],
    new: int,
    changed: int,
    now: str,
) -> Intake:
    """Rows of a file, all of them or none: new parts are added, known ones get quantity, price and what their
    data say otherwise.

    It is one step that `turn` takes back; the last 20 are kept.
    """
    with store.transaction() as db:
        step = db.execute(
            "INSERT INTO intake (at, new, changed) VALUES (?, ?, ?)", (now, new, changed)
        ).lastrowid
        for entry, known in listed:
            part = catalogue.get(known)
            if part is not None:
                own = {n: v for n, v in entry.data.items() if n not in part.data or part.data[n] != v}
                kind = "measured by you" if entry.source_kind == part.source_kind else entry.source_kind
                source = entry.source if entry.source != part.source else "your own file"
                told = (
                    {"data": json.dumps(own, ensure_ascii=False), "source_kind": kind, "source": source}
                    if own
                    else {}
                )
            else:
                data = json.dumps(entry.data, ensure_ascii=False)
                told = {
                    "kind": entry.kind,
                    "name": entry.name,
                    "data": data,
                    "source_kind": entry.source_kind,
                    "source": entry.source,
                }
            key = known or f"own:{uuid.uuid4().hex[:10]}"
            version, before = _there(db, key)
            _put(db, key, {"quantity": entry.quantity, "price": entry.price, **told}, version + 1)
            db.execute("INSERT INTO intake_row VALUES (?, ?, ?, ?)", (step, key, version + 1, _text(before)))
        newest = "(SELECT id FROM intake ORDER BY id DESC LIMIT ?)"
        for table, column in (("intake_row", "intake"), ("intake", "id")):
            db.execute(f"DELETE FROM {table} WHERE {column} NOT IN {newest}", (MOST_INTAKES,))
    return Intake(int(step or 0), now, new, changed, undone=False)


def intakes(store: Store) -> list[Intake]:
    """The files taken in last, newest first."""
    with store.reading() as db:
        found = db.execute("SELECT id, at, new, changed, undone FROM intake ORDER BY id DESC").fetchall()
    return [Intake(r["id"], r["at"], r["new"], r["changed"], bool(r["undone"])) for r in found]


def turn(store: Store, catalogue: Mapping[str, PartRow], step: int, undone: bool) -> Turned:
    """Take a file back, or in again, as one step. A row that was changed since stays as it is, and is named.

    Asked for what is so already it changes nothing, so that it may be asked again after a lost answer.
    """
    done, kept = 0, []
    with store.transaction() as db:
        row = db.execute("SELECT undone FROM intake WHERE id = ?", (step,)).fetchone()
        if row is None:
            raise NotFoundError("This file is not among those taken in last.")
        if bool(row["undone"]) == undone:
            return Turned(0, 0, ())
        for key, left, other in db.execute(
            "SELECT key, version, other FROM intake_row WHERE intake = ?", (step,)
        ).fetchall():
            version, now = _there(db, key)
            if version != left:
                kept.append(_name(catalogue, key, now, other))
                continue
            # Back to no row at all only for a part of one's own: a row of the catalogue may have been read by
            # another window.
            none = other is None and key not in catalogue
            if none:
                db.execute("DELETE FROM stock WHERE key = ?", (key,))
            else:
                _put(db, key, {"quantity": 0} if other is None else json.loads(other), version + 1)
            db.execute(
                "UPDATE intake_row SET version = ?, other = ? WHERE intake = ? AND key = ?",
                (0 if none else version + 1, _text(now), step, key),
            )
            done += 1
        db.execute("UPDATE intake SET undone = ? WHERE id = ?", (int(undone), step))
    return Turned(done, len(kept), tuple(kept[:MOST_NAMED]))


def _name(
    catalogue: Mapping[str, PartRow], key: str, now: Mapping[str, Any] | None, other: str | None
) -> str:
    """What a row is called, wherever its name still stands."""
    part = catalogue.get(key)
    return str(part.name if part else (now or json.loads(other or "{}")).get("name", key))


def cut_roll(store: Store, catalogue: Mapping[str, PartRow], key: str, length_mm: float) -> str:
    """Take a piece off one roll: there is one less of it, and what is left becomes a row of the maker's own;
    returns its key ("" for none).
    """
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
                    "length_mm",
                    "is more than a roll in the drawer has"
                    if found.quantity
                    else "cannot be cut: none of these rolls lies in the drawer",
                    value=length_mm,
                    limit=whole if found.quantity else 0,
                    unit="mm",
                    remedy="Take a longer roll, or correct its length and number in the drawer.",
                )
            ]
        )
    left = whole - length_mm
    offcut = ""
    with store.transaction() as db:
        changed = db.execute(
            "UPDATE stock SET quantity = quantity - 1, version = version + 1 WHERE key = ? AND quantity >= 1",
            (key,),
        ).rowcount
        if not changed:
            raise NotFoundError("This roll is not in the drawer any more.")
        if left >= SHORTEST_OFFCUT_MM:
            offcut = f"own:{uuid.uuid4().hex[:10]}"
            name = (
                f"Offcut of {found.data.get('profile', 'belt')}, "
                f"{found.data.get('width_mm', '?')} mm wide, {left / 1000:.3f} m"
            )
            data = json.dumps({**found.data, "length_mm": left}, ensure_ascii=False)
            db.execute(
                "INSERT INTO stock (key, quantity, price, kind, name, data, source_kind, source) "
                "VALUES (?, 1, NULL, 'roll', ?, ?, 'measured by you', ?)",
                (offcut, name, data, f"cut from {found.name}"),
            )
    return offcut


def add_own(
    store: Store,
    kind: str,
    name: str,
    data: dict[str, Any],
    quantity: int,
    price: float | None,
    source_kind: str,
    source: str,
) -> str:
    """Add a part of the maker's own; returns its key. EntryError for data with which nothing could be
    done.
    """
    wrong = unsound(kind, data)
    if wrong:
        raise EntryError(wrong)
    key = f"own:{uuid.uuid4().hex[:10]}"
    with store.transaction() as db:
        db.execute(
            "INSERT INTO stock (key, quantity, price, kind, name, data, source_kind, source) VALUES "
            "(?, ?, ?, ?, ?, ?, ?, ?)",
            (key, quantity, price, kind, name, json.dumps(data, ensure_ascii=False), source_kind, source),
        )
    return key
