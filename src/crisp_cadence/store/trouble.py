"""What can be wrong with the data file: one sentence for each cause, told apart by SQLite's own result codes.

"Move it aside" is said only where the file is not this program's own.
"""

from __future__ import annotations

import sqlite3
from pathlib import Path

from ..core.ledger.errors import StoreError

SAYS = {
    "full": "The disk is full: {name} could not be written. What was saved before is safe. Make room "
    "on the disk.",
    "not written": "The disk did not take what was to be written to {name} ({why}): it may be full, "
    "at a limit, or failing. What was saved before is safe.",
    "locked": "Another program has locked {name}. Close it there.",
    "read only": "{name} in {folder} may only be read, not written. Change its rights, or choose "
    "another folder with --data.",
    "not a folder": "{folder} is a file, not a folder. Choose another folder with --data.",
    "no folder": "The folder {folder} cannot be made ({why}). Choose another folder with --data.",
    "newer": "{name} was written by a newer version of this program ({why}). Open it with that "
    "version; nothing was changed.",
    "other program": "{name} in {folder} holds the tables of another program. Move it aside, or "
    "choose another folder with --data.",
    "not ours": "{name} in {folder} is not a data file of this program. Move it aside, or choose "
    "another folder with --data.",
    "damaged": "{name} is damaged ({why}). It is opened for reading only, so that nothing gets worse.",
    "gone": "{name} was deleted, moved or replaced while the program ran. What it held is still open here.",
    "closed": "The program is ending; nothing more is written.",
    "other": "{name} could not be used ({why}).",
}

BY_CODE = {
    sqlite3.SQLITE_FULL: "full",
    sqlite3.SQLITE_IOERR: "not written",
    sqlite3.SQLITE_BUSY: "locked",
    sqlite3.SQLITE_LOCKED: "locked",
    sqlite3.SQLITE_READONLY: "read only",
    sqlite3.SQLITE_CANTOPEN: "read only",
    sqlite3.SQLITE_PERM: "read only",
    sqlite3.SQLITE_CORRUPT: "damaged",
    sqlite3.SQLITE_NOTADB: "not ours",
}


def trouble(cause: str, path: Path, why: object = "") -> StoreError:
    """The refusal for one cause.

    >>> print(trouble("locked", Path("data/crisp-cadence.sqlite3")))
    Another program has locked crisp-cadence.sqlite3. Close it there.
    """
    return StoreError(cause, SAYS[cause].format(name=path.name, folder=path.parent, why=why))


def cause_of(error: sqlite3.Error) -> str:
    """The cause behind an error of SQLite, by its primary result code."""
    code = getattr(error, "sqlite_errorcode", None)
    if code is None:
        return "closed" if isinstance(error, sqlite3.ProgrammingError) else "other"
    return BY_CODE.get(code & 0xFF, "other")


def told(error: sqlite3.Error, path: Path, copy: Path | None = None) -> StoreError:
    """An error of SQLite as a refusal in words; a copy that was set aside says that the file was once
    ours.
    """
    cause = cause_of(error)
    found = trouble(cause, path, getattr(error, "sqlite_errorname", None) or error)
    return (
        StoreError(cause, f"{found} The newest copy that was set aside is {copy.name}.")
        if copy and cause == "not ours"
        else found
    )
