"""How much the data file holds, and old revisions thinned out on request only."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime, timedelta

from ..core.ledger.errors import StoreError
from . import Store
from .trouble import cause_of

PART = 200  # revisions that go at once where there is no room


@dataclass(frozen=True, slots=True)
class Size:
    """Bytes on the disk (with what was written last), and what takes most of them."""

    bytes: int
    revisions: int


@dataclass(frozen=True, slots=True)
class Thinned:
    """Revisions that would go or have gone, the bytes of their designs, and the copy of the file as it was
    before.
    """

    revisions: int
    bytes: int
    copy: str


# Of each axis stay: its first revision and the one that stands, each with a word to it, each that the log
# points to, and the last of each day.
OLD = """
  FROM (SELECT r.rowid AS at_row, r.*, a.version,
               row_number() OVER (PARTITION BY r.axis_id, substr(r.at, 1, 10)
                                  ORDER BY r.number DESC) AS of_day
          FROM revision r JOIN axis a ON a.id = r.axis_id) r
 WHERE r.at < ? AND r.number NOT IN (1, r.version) AND r.why = '' AND r.of_day > 1
   AND NOT EXISTS (SELECT 1 FROM log_entry l WHERE l.axis_id = r.axis_id AND l.revision = r.number)
"""


def size(store: Store) -> Size:
    """What the data file takes on the disk."""
    with store.reading() as db:
        count = int(db.execute("SELECT count(*) FROM revision").fetchone()[0])
    return Size(store.bytes_on_disk(), count)


def _before(now: str, days: int) -> str:
    return (datetime.fromisoformat(now) - timedelta(days=days)).isoformat(timespec="milliseconds")


def would_thin(store: Store, days: int, now: str) -> Thinned:
    """What thinning would take away: of revisions older than so many days only the last of each day stays,
    and see OLD.
    """
    with store.reading() as db:
        count, size = db.execute(
            f"SELECT count(*), coalesce(sum(length(CAST(r.design AS BLOB))), 0) {OLD}", (_before(now, days),)
        ).fetchone()
    return Thinned(count, size, "")


def thin(store: Store, days: int, now: str) -> Thinned:
    """Thin out, after the file as it stands was set aside; nothing is done where nothing would go.

    On a full disk, where there is no room for a copy, it is done without one (`copy` is ""), a part at a
    time: what goes makes room within the file for what is saved next.
    """
    before = _before(now, days)
    with store.transaction() as db:
        gone = would_thin(store, days, now)
        if gone.revisions == 0:
            return gone
        try:
            copy = store.set_aside(f"thinning-{now[:19].replace(':', '')}").name
        except (StoreError, sqlite3.Error) as error:
            if (error.cause if isinstance(error, StoreError) else cause_of(error)) not in (
                "full",
                "not written",
            ):
                raise
            copy = ""
        if copy:
            db.execute(f"DELETE FROM revision WHERE rowid IN (SELECT r.at_row {OLD})", (before,))
    if not copy:
        while would_thin(store, days, now).revisions:
            with store.transaction() as db:
                db.execute(
                    f"DELETE FROM revision WHERE rowid IN (SELECT r.at_row {OLD} LIMIT {PART})", (before,)
                )
            store.emptied()
    try:
        store.shrink()
    except StoreError as error:
        if error.cause not in ("full", "not written"):
            raise  # no room to write the file anew: what is free in it is used by what is saved next
    return Thinned(gone.revisions, gone.bytes, copy)
