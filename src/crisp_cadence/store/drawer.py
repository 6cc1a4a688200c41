"""The parts drawer: the starter catalogue with the maker's quantities and prices, and rows of their own."""

from __future__ import annotations

import json
import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..catalog import PartRow
from ..core.errors import NotFoundError
from . import Store


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


def rows(store: Store, catalogue: Mapping[str, PartRow]) -> list[DrawerRow]:
    """Everything: what is in stock first, then the rest of the catalogue."""
    with store.reading() as db:
        kept = {r["key"]: r for r in db.execute("SELECT * FROM stock").fetchall()}
    out = []
    for part in catalogue.values():
        mine = kept.get(part.key)
        out.append(
            DrawerRow(
                part.key,
                part.kind,
                part.name,
                part.data,
                part.source_kind,
                part.source,
                mine["quantity"] if mine else 0,
                mine["price"] if mine else None,
                False,
            )
        )
    for mine in kept.values():
        if mine["kind"] is not None:
            data = json.loads(mine["data"])
            out.append(
                DrawerRow(mine["key"], mine["kind"], mine["name"], data, mine["source_kind"], mine["source"], mine["quantity"], mine["price"], True)
            )
    return sorted(out, key=lambda r: (r.quantity == 0, not r.own))


def set_stock(store: Store, catalogue: Mapping[str, PartRow], key: str, quantity: int, price: float | None) -> None:
    """Say how many there are and what one costs."""
    with store.transaction() as db:
        if key not in catalogue and db.execute("SELECT 1 FROM stock WHERE key = ?", (key,)).fetchone() is None:
            raise NotFoundError("This part is not in the drawer.")
        db.execute(
            "INSERT INTO stock (key, quantity, price) VALUES (?, ?, ?) ON CONFLICT (key) DO UPDATE SET quantity = excluded.quantity, price = excluded.price",
            (key, quantity, price),
        )


def add_own(store: Store, kind: str, name: str, data: dict[str, Any], quantity: int, price: float | None, source_kind: str, source: str) -> str:
    """Add a part of the maker's own; returns its key."""
    key = f"own:{uuid.uuid4().hex[:10]}"
    with store.transaction() as db:
        db.execute(
            "INSERT INTO stock (key, quantity, price, kind, name, data, source_kind, source) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            (key, quantity, price, kind, name, json.dumps(data, ensure_ascii=False), source_kind, source),
        )
    return key
