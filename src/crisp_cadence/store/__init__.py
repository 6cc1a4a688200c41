"""SQLite through sqlite3: one file, WAL, every change one transaction.

`Store` opens the file, brings it up to date (a copy is set aside first) and hands out transactions; the modules beside it
hold the SQL, one for each subject.
"""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path

from ..core.errors import CrispError

FILE_NAME = "crisp-cadence.sqlite3"


class StoreError(CrispError):
    """The data file cannot be used: it is not ours, or newer than this program."""


class Store:
    """One data file. Reads and writes share one connection behind a lock; a transaction takes well under a millisecond."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.path = folder / FILE_NAME
        self._lock = threading.RLock()
        self._db = sqlite3.connect(self.path, check_same_thread=False, isolation_level=None, timeout=10)
        self._db.row_factory = sqlite3.Row
        try:
            self._db.execute("PRAGMA journal_mode = WAL")
            self._db.execute("PRAGMA synchronous = FULL")
            self._db.execute("PRAGMA foreign_keys = ON")
            self._migrate()
        except sqlite3.DatabaseError as error:
            self._db.close()
            raise StoreError(f"{self.path.name} is not a data file of this program ({error}). Move it aside and start again.") from None

    def close(self) -> None:
        """Close the file; everything committed is already in it."""
        with self._lock:
            self._db.close()

    @contextmanager
    def transaction(self) -> Iterator[sqlite3.Connection]:
        """All or nothing; takes the write lock at once, so that what is read in it cannot change before it is written."""
        with self._lock:
            self._db.execute("BEGIN IMMEDIATE")
            try:
                yield self._db
            except BaseException:
                self._db.execute("ROLLBACK")
                raise
            self._db.execute("COMMIT")

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """A look at the data as they stand."""
        with self._lock:
            yield self._db

    def _migrate(self) -> None:
        steps = sorted(p.name for p in files(__package__).joinpath("migrations").iterdir() if p.name.endswith(".sql"))
        at = int(self._db.execute("PRAGMA user_version").fetchone()[0])
        if at > len(steps):
            raise StoreError(
                f"{self.path.name} was written by a newer version of this program (format {at}, this one knows {len(steps)}). Nothing was changed."
            )
        if at == 0 and self._db.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]:
            raise StoreError(f"{self.path.name} holds tables of another program. Choose another folder.")
        if 0 < at < len(steps):
            with sqlite3.connect(self.path.with_suffix(f".before-{at + 1}.sqlite3")) as copy:
                self._db.backup(copy)
            copy.close()
        for number, name in enumerate(steps[at:], start=at + 1):
            script = files(__package__).joinpath("migrations", name).read_text(encoding="utf-8")
            with self.transaction() as db:
                for statement in _statements(script):
                    db.execute(statement)
                db.execute(f"PRAGMA user_version = {number:d}")


def _statements(script: str) -> Iterator[str]:
    """Split a script where SQLite says that a statement is complete."""
    piece = ""
    for line in script.splitlines(keepends=True):
        piece += line
        if sqlite3.complete_statement(piece):
            yield piece
            piece = ""
