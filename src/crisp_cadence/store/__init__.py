"""SQLite through sqlite3: one file, WAL, every change one transaction.

`Store` opens the file, brings it up to date (a copy is set aside first) and hands out transactions and looks;
the modules beside it hold the SQL, one for each subject. What can be wrong with the file is in trouble.py,
what is then still to be had in rescue.py.
"""

from __future__ import annotations

import os
import sqlite3
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from importlib.resources import files
from pathlib import Path

from ..core.ledger.errors import StoreError
from . import disk
from .trouble import cause_of, told, trouble

FILE_NAME = "crisp-cadence.sqlite3"
PATIENCE_S = 2.0  # how long a save waits for another program's lock
PIECES = ("", "-wal", "-shm")  # the file, what was written last, and who reads what
START_PATIENCE_S = 10.0  # how long a start waits for another start

__all__ = ["FILE_NAME", "Store", "StoreError"]


class Store:
    """One data file. Saves share one connection, looks another, each behind a lock: a save that waits holds
    up no look.

    A damaged file is opened for reading only; `damage` then says what is wrong with it.
    """

    def __init__(self, folder: Path, name: str = FILE_NAME) -> None:
        self.path = folder / name
        self.damage: StoreError | None = None
        self._writing, self._looking = threading.RLock(), threading.RLock()
        self._mine = threading.local()
        try:
            folder.mkdir(
                mode=0o700, parents=True, exist_ok=True
            )  # what a maker keeps is nobody else's to read
        except (FileExistsError, NotADirectoryError):
            raise trouble("not a folder", self.path) from None
        except OSError as error:
            raise trouble("no folder", self.path, error.strerror or "") from None
        with _one_start_at_a_time(folder):
            self._tidy()
            self._open()

    def _tidy(self) -> None:
        """Finish what a stopped program has left half done: a rescued file that is whole takes its place,
        halves of programs that have ended go.
        """
        try:
            if self.rescued.exists():
                self.put_in_place()
            for half in self.path.parent.glob(f"{self.path.stem}.*.part"):
                process = half.suffixes[-2].lstrip(".")
                if not process.isdigit() or not disk.living(int(process)):
                    for ending in PIECES:
                        disk.unlink(Path(f"{half}{ending}"))
        except OSError as error:
            raise trouble("not written", self.path, error.strerror or "") from None

    @property
    def rescued(self) -> Path:
        """A rescued file that is whole and has not taken its place yet."""
        return self.path.with_suffix(".rescued.sqlite3")

    def put_in_place(self) -> str:
        """Put the rescued file in the place of the data file, which is kept under another name with all that
        belongs to it; returns that name, "" where there is no old file. It may be done again from any step.
        """
        aside = self._aside()
        if aside is not None:
            for ending in PIECES:
                if os.path.exists(f"{self.path}{ending}"):
                    disk.link(Path(f"{self.path}{ending}"), Path(f"{aside}{ending}"))
        # What was written last belongs to the old file: it must not be read into the new one.
        for ending in PIECES[1:]:
            disk.unlink(Path(f"{self.path}{ending}"))
        disk.replace(self.rescued, self.path)
        return aside.name if aside else ""

    def _aside(self) -> Path | None:
        """Under which name the data file is kept: the one that it has already, or a new one."""
        if not self.path.exists():
            return None
        number = 1
        while (aside := self.path.with_suffix(f".aside-{number}.sqlite3")).exists():
            if os.path.samefile(aside, self.path):
                return aside
            number += 1
        return aside

    def left_over(self) -> list[Path]:
        """Copies that lie beside the data file, the newest first."""
        found = [
            path
            for kind in ("before", "aside")
            for path in self.path.parent.glob(f"{self.path.stem}.{kind}-*.sqlite3")
        ]
        return sorted(found, key=lambda path: path.stat().st_mtime, reverse=True)

    def _open(self) -> None:
        try:
            self.damage = self._checked()
            if self.damage is None:
                self._own()
            self._db = self._patiently(self._connected) if self.damage is None else _read_only(self.path)
            self._files = self._found()
            if self.damage is None:
                self._migrate()
            self._view = self._connect() if self.damage is None else _read_only(self.path)
            self._view.execute("PRAGMA query_only = ON")
        except sqlite3.Error as error:
            raise told(error, self.path, self.last_copy()) from None

    # ---- opening -------------------------------------------------------------------------------------------

    def _checked(self) -> StoreError | None:
        """What is wrong with a file that is there already; a file that is not ours or is newer is refused."""
        if not self.path.exists() or self.path.stat().st_size == 0:
            return None
        db = _read_only(self.path)
        try:
            at = int(db.execute("PRAGMA user_version").fetchone()[0])
            if at > len(_steps()):
                raise trouble("newer", self.path, f"its format is {at}, this one knows {len(_steps())}")
            found = str(db.execute("PRAGMA quick_check(1)").fetchone()[0])
            return None if found == "ok" else trouble("damaged", self.path, found.replace("\n", " "))
        except sqlite3.Error as error:
            cause = cause_of(error)
            if cause == "damaged":
                return told(error, self.path)
            if cause in ("locked", "read only"):
                # another start has it at this moment, or it has no right to a shared memory: what follows
                # tells
                return None
            raise
        finally:
            db.close()

    def _connect(self) -> sqlite3.Connection:
        db = sqlite3.connect(self.path, check_same_thread=False, isolation_level=None, timeout=PATIENCE_S)
        db.row_factory = sqlite3.Row
        db.execute("PRAGMA synchronous = FULL")
        db.execute("PRAGMA foreign_keys = ON")
        return db

    def _own(self) -> None:
        """The file and all that SQLite puts beside it may be read by its owner alone.

        Only a file that is not there yet is opened here: closing one that is in use would let go of SQLite's
        locks on it.
        """
        with suppress(OSError):
            os.close(os.open(self.path, os.O_CREAT | os.O_EXCL | os.O_RDWR, 0o600))
        with suppress(OSError):
            self.path.chmod(0o600)

    def _connected(self) -> sqlite3.Connection:
        db = self._connect()
        try:
            db.execute("PRAGMA journal_mode = WAL")
        except BaseException:
            db.close()
            raise
        return db

    def _patiently(self, opened: Callable[[], sqlite3.Connection]) -> sqlite3.Connection:
        """Turning a new file to WAL is refused at once while another start does the same: try again for a
        while.
        """
        until = time.monotonic() + START_PATIENCE_S
        while True:
            try:
                return opened()
            except sqlite3.OperationalError as error:
                if cause_of(error) != "locked" or time.monotonic() > until:
                    raise
                time.sleep(0.03)

    def _migrate(self) -> None:
        steps = _steps()
        with self.transaction(START_PATIENCE_S) as db:
            at = _format(db)
            if at == 0 and db.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]:
                raise trouble("other program", self.path)
        if 0 < at < len(steps):
            self.set_aside(str(at + 1), at)
        for number, name in enumerate(steps[at:], start=at + 1):
            script = files(__package__).joinpath("migrations", name).read_text(encoding="utf-8")
            with self.transaction(START_PATIENCE_S) as db:
                if _format(db) >= number:
                    continue  # another start was faster
                for statement in _statements(script):
                    db.execute(statement)
                db.execute(f"PRAGMA user_version = {number:d}")

    def set_aside(self, before: str, at: int | None = None) -> Path:
        """Copy the file as it stands before something is done to it; a copy appears whole or not at all, and
        only in the format `at`.
        """
        kept = self.path.with_suffix(f".before-{before}.sqlite3")
        half = kept.with_suffix(f".{os.getpid()}.part")
        try:
            # From a connection of its own: one that is writing cannot be copied from.
            with closing(_read_only(self.path)) as now, sqlite3.connect(half) as copy:
                now.backup(copy)
                sound = (
                    at is None or _format(copy) == at
                )  # not so where another start has brought it up to date meanwhile
            copy.close()
            if sound:
                half.chmod(0o600)
                disk.sync(half)
                disk.replace(half, kept)
        except OSError as error:
            raise trouble("not written", self.path, error.strerror or "") from None
        finally:
            with suppress(OSError):  # what stays is swept by the next start
                half.unlink(missing_ok=True)
        return kept

    # ---- use -----------------------------------------------------------------------------------------------

    def close(self) -> None:
        """Close the file; everything committed is already in it."""
        with self._writing, self._looking:
            self._view.close()
            self._db.close()

    @contextmanager
    def transaction(self, patience_s: float = PATIENCE_S) -> Iterator[sqlite3.Connection]:
        """All or nothing; takes the write lock at once, so that what is read in it cannot change before it is
        written.

        Within a transaction of the same thread it is a part of that one. StoreError says why nothing could be
        written.
        """
        if getattr(self._mine, "inside", False):
            yield self._db
            return
        if self.damage is not None:
            raise self.damage
        until = time.monotonic() + patience_s
        if not self._writing.acquire(timeout=patience_s):
            raise trouble("locked", self.path)
        try:
            self._still_there()
            self._db.execute(f"PRAGMA busy_timeout = {max(0.0, until - time.monotonic()) * 1000:.0f}")
            self._db.execute("BEGIN IMMEDIATE")
            self._mine.inside = True
            try:
                yield self._db
                self._db.execute("COMMIT")
                if len(self._files) < len(PIECES):
                    self._files = self._found()
            except BaseException:
                if self._db.in_transaction:
                    self._db.execute("ROLLBACK")
                raise
        except sqlite3.Error as error:
            raise self._told(error) from error
        finally:
            self._mine.inside = False
            self._writing.release()

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """A look at the data as they stand at one moment; within a transaction of the same thread, as it has
        left them so far.
        """
        if getattr(self._mine, "inside", False):
            yield self._db
            return
        with self._looking:
            try:
                self._view.execute("BEGIN")
                try:
                    yield self._view
                finally:
                    if self._view.in_transaction:
                        self._view.execute("ROLLBACK")
            except sqlite3.Error as error:
                raise self._told(error) from error

    def bytes_on_disk(self) -> int:
        """What the data file takes, with what was written to it last."""
        total = 0
        for ending in PIECES:
            with suppress(OSError):
                total += os.stat(f"{self.path}{ending}").st_size
        return total

    def emptied(self) -> None:
        """What was written last stands in the file itself, and takes no room beside it."""
        with self._writing, self._looking, suppress(sqlite3.Error):
            self._db.execute("PRAGMA wal_checkpoint(TRUNCATE)")

    def shrink(self) -> None:
        """Give back to the disk what the file no longer needs."""
        with self._writing, self._looking:
            try:
                self._db.execute("VACUUM")
                self._db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            except sqlite3.Error as error:
                raise self._told(error) from error

    # ---- for a rescue (rescue.py) --------------------------------------------------------------------------

    @contextmanager
    def alone(self) -> Iterator[sqlite3.Connection]:
        """The connection of the looks with nobody else at the file, and errors as SQLite gives them."""
        with self._writing, self._looking:
            yield self._view

    def reopen(self) -> None:
        """Close, and open what now stands in the file's place."""
        with self._writing, self._looking:
            self.close()
            self._open()

    # ---- what is wrong -------------------------------------------------------------------------------------

    def _told(self, error: sqlite3.Error) -> Exception:
        """The refusal in words; a statement that the schema forbids stays what it is, a fault of this
        program.
        """
        if isinstance(error, (sqlite3.IntegrityError, sqlite3.DataError)):
            return error
        found = told(error, self.path)
        if found.cause == "damaged":
            self.damage = found
        return found

    def _found(self) -> dict[str, int]:
        """The pieces of the data file that are on the disk, each with its inode."""
        found = {}
        for ending in PIECES:
            with suppress(OSError):
                found[ending] = os.stat(f"{self.path}{ending}").st_ino
        return found

    def _still_there(self) -> None:
        """A file that was deleted under an open connection goes on taking writes, which nobody would ever
        find again.
        """
        if not self._files.items() <= self._found().items():
            raise trouble("gone", self.path)

    def state(self) -> StoreError | None:
        """What hinders saving right now, as far as can be told without trying: damage, or a file that has
        gone.
        """
        try:
            self._still_there()
        except StoreError as gone:
            return gone
        return self.damage

    def last_copy(self) -> Path | None:
        """The newest copy that was set aside automatically."""
        return next((path for path in self.left_over() if ".before-" in path.name), None)


@contextmanager
def _one_start_at_a_time(folder: Path) -> Iterator[None]:
    """Looking a file over, turning it to WAL and bringing it up to date is done by one start after the other,
    where the system can say so.
    """
    try:
        import fcntl
    except ImportError:  # SQLite's own locks must do there
        yield
        return
    held = os.open(folder, os.O_RDONLY)
    try:
        fcntl.flock(held, fcntl.LOCK_EX)
        yield
    finally:
        os.close(held)


def _read_only(path: Path) -> sqlite3.Connection:
    db = sqlite3.connect(
        f"{path.resolve().as_uri()}?mode=ro",
        uri=True,
        check_same_thread=False,
        isolation_level=None,
        timeout=PATIENCE_S,
    )
    db.row_factory = sqlite3.Row
    return db


def _format(db: sqlite3.Connection) -> int:
    return int(db.execute("PRAGMA user_version").fetchone()[0])


def _steps() -> list[str]:
    return sorted(
        p.name for p in files(__package__).joinpath("migrations").iterdir() if p.name.endswith(".sql")
    )


def _statements(script: str) -> Iterator[str]:
    """Split a script where SQLite says that a statement is complete."""
    piece = ""
    for line in script.splitlines(keepends=True):
        piece += line
        if sqlite3.complete_statement(piece):
            yield piece
            piece = ""
