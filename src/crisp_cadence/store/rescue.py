"""What can still be had of a damaged file, read row by row into a new one; and a deleted file written again
from what is open.
"""

from __future__ import annotations

import os
import sqlite3
import uuid
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ..core.ledger.errors import EntryError, problem
from . import PIECES, Store, disk
from .trouble import told, trouble

TABLES = (
    "machine",
    "axis",
    "revision",
    "log_entry",
    "stock",
    "plan_revision",
)  # in an order in which each finds what it points to
MOST_TRIES = 20_000  # of ranges of rows that cannot be read, each cut in two until one row is left
FARTHEST = 2**40


@dataclass(frozen=True, slots=True)
class Rescued:
    """What stands in the new file: rows read of each table, axes without any readable revision, and where the
    old file is.
    """

    rows: dict[str, int]
    lost_axes: int
    kept: str


def rescue(store: Store) -> Rescued:
    """Put a sound file in the place of one that is damaged or gone, and open it; the old one is kept beside
    it.
    """
    with store.alone() as db:
        state = store.state()
        if state is None:
            raise EntryError(
                [
                    problem(
                        "store",
                        "is sound: there is nothing to rescue",
                        value=store.path.name,
                        remedy="Go on working with it.",
                    )
                ]
            )
        new = store.path.with_suffix(f".rescued.{os.getpid()}.part")
        try:
            new.parent.mkdir(parents=True, exist_ok=True)
            for ending in PIECES:
                disk.unlink(Path(f"{new}{ending}"))
            rows, lost = (_copied(db, new), 0) if state.cause == "gone" else _salvaged(db, new)
            kept = _put_in_place(store, new)
        except OSError as error:
            raise trouble("not written", store.path, error.strerror or "") from None
        except sqlite3.Error as error:
            raise told(error, store.path) from None
        store.reopen()
    return Rescued(rows, lost, kept)


def _put_in_place(store: Store, new: Path) -> str:
    """Put a whole new file in the data file's place; from the second step on this is finished by whoever
    comes next, whatever stops this program. Returns the name under which the old one is kept.
    """
    new.chmod(0o600)
    disk.sync(new)
    disk.replace(new, store.rescued)
    return store.put_in_place()


def adopt(store: Store, name: str) -> str:
    """Put one of the copies that lie beside an empty data file in its place; returns the name under which the
    empty one is kept. EntryError where it is none of them, or where the shelf holds machines.
    """
    copy = next((path for path in store.left_over() if path.name == name), None)
    with store.alone() as db:
        machines = int(db.execute("SELECT count(*) FROM machine").fetchone()[0])
        if copy is None or machines:
            raise EntryError(
                [
                    problem(
                        "name",
                        "is no copy beside this data file"
                        if copy is None
                        else "would take the place of a shelf that holds machines",
                        value=name,
                        limit=", ".join(path.name for path in store.left_over()),
                        remedy="Choose one of those named, on an empty shelf.",
                    )
                ]
            )
        new = store.path.with_suffix(f".rescued.{os.getpid()}.part")
        try:
            with closing(sqlite3.connect(f"{copy.resolve().as_uri()}?mode=ro", uri=True)) as found:
                _copied(found, new)
            kept = _put_in_place(store, new)
        except OSError as error:
            raise trouble("not written", store.path, error.strerror or "") from None
        except sqlite3.Error as error:
            raise told(error, copy) from None
        store.reopen()
    return kept


def _copied(db: sqlite3.Connection, new: Path) -> dict[str, int]:
    """The whole of what is open, deleted from the folder though it is."""
    with closing(sqlite3.connect(new)) as copy:
        db.backup(copy)
        copy.execute("PRAGMA journal_mode = DELETE")
        there = {r[0] for r in copy.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        return {t: int(copy.execute(f"SELECT count(*) FROM {t}").fetchone()[0]) for t in TABLES if t in there}


def _salvaged(db: sqlite3.Connection, new: Path) -> tuple[dict[str, int], int]:
    """Every row that can be read and still has what it points to, in a file of today's format; and how many
    axes had nothing left.

    An axis stands at its newest readable revision; a log entry at the nearest; what has lost its machine
    stands on one called Rescued.
    """
    read = {table: list(_rows(db, table)) for table in TABLES}
    revisions: dict[str, list[int]] = {}
    for row in read["revision"]:
        revisions.setdefault(row["axis_id"], []).append(row["number"])
    known = {row["id"]: row for row in read["axis"]}
    machines = {row["id"] for row in read["machine"]}
    home = uuid.uuid4().hex[:12]
    axes = []
    for axis_id, numbers in revisions.items():
        row = known.get(axis_id) or {
            "id": axis_id,
            "machine_id": home,
            "created_at": read["revision"][0]["at"],
        }
        mount = row.get("rides_on")
        axes.append(
            {
                **row,
                "version": max(numbers),
                "machine_id": row["machine_id"] if row["machine_id"] in machines else home,
                "rides_on": mount if mount in revisions else None,
            }
        )
    if any(row["machine_id"] == home for row in axes):
        read["machine"].append({"id": home, "name": "Rescued", "created_at": axes[0]["created_at"]})
    entries = [
        {**row, "revision": min(revisions[row["axis_id"]], key=lambda n: abs(n - row["revision"]))}
        for row in read["log_entry"]
        if row["axis_id"] in revisions
    ]
    plans = [row for row in read["plan_revision"] if row["machine_id"] in machines]
    final = {**read, "axis": axes, "log_entry": entries, "plan_revision": plans}
    fresh = Store(new.parent, new.name)
    try:
        with fresh.transaction() as copy:
            copy.execute("PRAGMA defer_foreign_keys = ON")
            for table, rows in final.items():
                for row in rows:
                    marks = ", ".join("?" * len(row))
                    copy.execute(
                        f"INSERT OR IGNORE INTO {table} ({', '.join(row)}) VALUES ({marks})",
                        tuple(row.values()),
                    )
        fresh.shrink()  # all of it is in the one file, which takes its place alone
    finally:
        fresh.close()
    return {table: len(rows) for table, rows in final.items()}, len(known.keys() - revisions.keys())


def _rows(db: sqlite3.Connection, table: str) -> Iterator[dict[str, Any]]:
    """Every readable row of a table: a range that fails is cut in two, until only what is broken is left
    out.
    """
    tries, ranges = 0, [(0, FARTHEST)]
    while ranges and tries < MOST_TRIES:
        at, high = ranges.pop()
        try:
            for found in db.execute(
                f"SELECT rowid AS at_row, * FROM {table} WHERE rowid BETWEEN ? AND ? ORDER BY rowid",
                (at, high),
            ):
                row = dict(found)
                at = row.pop("at_row") + 1
                yield row
        except sqlite3.Error as error:
            if "no such table" in str(error):
                return  # a file from before there was one
            tries += 1
            if at < high:
                middle = at + (high - at) // 2
                ranges += [(middle + 1, high), (at, middle)]
