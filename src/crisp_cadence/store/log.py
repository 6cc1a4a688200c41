"""Dated entries of an axis, each tied to the revision that it was written at."""

from __future__ import annotations

import json
import sqlite3
import uuid
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any, Literal

from ..core.ledger.errors import NotFoundError
from . import Store
from .axes import version_on_shelf

LogKind = Literal["note", "tension", "repair", "upgrade", "calibration", "check", "cost"]
BY_HAND: tuple[LogKind, ...] = (
    "note",
    "repair",
    "upgrade",
    "calibration",
    "cost",
)  # a tension and a check are written down where they are read

NO_ENTRY = "This entry is not in the log."


@dataclass(frozen=True, slots=True)
class LogEntry:
    """One entry; `reading` holds what was measured and worked out, by name."""

    id: str
    revision: int
    on_date: str
    kind: str
    says: str
    cost: float | None
    reading: dict[str, Any] | None


SETTLES = timedelta(days=7)  # in its first week a belt runs in and creeps (a tenth to a fifth, from memory)
SEASON = timedelta(days=91)  # afterwards a look each season (estimate)


def look_again(read_on: date, before: int) -> date:
    """When to read a tension again, by how many times it was read before.

    >>> look_again(date(2026, 4, 2), 0).isoformat(), look_again(date(2026, 4, 9), 1).isoformat()
    ('2026-04-09', '2026-07-09')
    """
    return read_on + (SEASON if before else SETTLES)


def belt_of(entry: LogEntry) -> str:
    """Which belt a tension is of; older entries say nothing where they mean the end's."""
    return (entry.reading or {}).get("of") or "end"


def add(
    store: Store,
    axis_id: str,
    on_date: str,
    kind: str,
    says: str,
    cost: float | None,
    reading: dict[str, Any] | None,
    now: str,
) -> str:
    """Write an entry down at the axis's newest revision; returns its id."""
    new = uuid.uuid4().hex[:12]
    with store.transaction() as db:
        at = version_on_shelf(db, axis_id)
        db.execute(
            "INSERT INTO log_entry (id, axis_id, revision, on_date, kind, says, cost, reading, "
            "created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
            (
                new,
                axis_id,
                at,
                on_date,
                kind,
                says,
                cost,
                None if reading is None else json.dumps(reading),
                now,
            ),
        )
    return new


def entries(store: Store, axis_id: str) -> list[LogEntry]:
    """Every entry of an axis, newest first."""
    with store.reading() as db:
        rows = db.execute(
            "SELECT id, revision, on_date, kind, says, cost, reading FROM log_entry WHERE axis_id = "
            "? ORDER BY on_date DESC, created_at DESC, rowid DESC",
            (axis_id,),
        ).fetchall()
    return [_entry(r) for r in rows]


def _entry(r: sqlite3.Row) -> LogEntry:
    return LogEntry(
        r["id"],
        r["revision"],
        r["on_date"],
        r["kind"],
        r["says"],
        r["cost"],
        json.loads(r["reading"]) if r["reading"] else None,
    )


def newest(store: Store) -> dict[str, LogEntry]:
    """The newest entry of every axis that has one."""
    with store.reading() as db:
        rows = db.execute(
            "SELECT e.axis_id, e.id, e.revision, e.on_date, e.kind, e.says, e.cost, e.reading FROM "
            "axis a JOIN log_entry e ON e.rowid ="
            " (SELECT rowid FROM log_entry WHERE axis_id = a.id ORDER BY on_date DESC, created_at "
            "DESC, rowid DESC LIMIT 1)"
        ).fetchall()
    return {r["axis_id"]: _entry(r) for r in rows}


def of_machine(
    store: Store, machine_id: str, most: int
) -> tuple[list[tuple[str, LogEntry]], list[float | None]]:
    """The newest entries of the axes of a machine, each with the axis that it is of; and what every entry
    cost.
    """
    of = "FROM log_entry e JOIN axis a ON a.id = e.axis_id WHERE a.machine_id = ? AND a.removed_at IS NULL"
    with store.reading() as db:
        rows = db.execute(
            f"SELECT e.axis_id, e.id, e.revision, e.on_date, e.kind, e.says, e.cost, e.reading {of} "
            "ORDER BY e.on_date DESC, e.created_at DESC, e.rowid DESC LIMIT ?",
            (machine_id, most),
        ).fetchall()
        costs = [r["cost"] for r in db.execute(f"SELECT e.cost {of}", (machine_id,))]
    return [(r["axis_id"], _entry(r)) for r in rows], costs


def remove(store: Store, axis_id: str, entry_id: str) -> None:
    """Strike an entry out."""
    with store.transaction() as db:
        if (
            db.execute("DELETE FROM log_entry WHERE id = ? AND axis_id = ?", (entry_id, axis_id)).rowcount
            == 0
        ):
            raise NotFoundError(NO_ENTRY)
