"""Machines, their axes, and every revision of a design."""

from __future__ import annotations

import json
import sqlite3
import uuid
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from ..core.design.design import LARGEST_DESIGN, AxisDesign, parse_design
from ..core.design.riding import Standing, carried, room_for, settled
from ..core.fields.part import Part
from ..core.ledger.errors import (
    ConflictError,
    EntryError,
    NotFoundError,
    Problem,
    TooLargeError,
    problem,
    show,
)
from ..core.machine.design import room_on
from . import Store

NO_MACHINE = "This machine is not on the shelf."
NO_NAME = "Nameless"
NO_AXIS = "This axis is not on the shelf."


@dataclass(frozen=True, slots=True)
class Machine:
    """A machine on the shelf, with the ids of its axes in the order in which they were made."""

    id: str
    name: str
    note: str
    version: int
    axes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class SavedAxis:
    """An axis as it stands: the newest revision's number is its version.

    `design` is None where the newest revision cannot be read; `problems` say why, or what of its load cannot
    be counted. `text` is the revision as it is stored.
    """

    id: str
    name: str
    machine_id: str
    machine: str
    version: int
    saved_at: str
    design: AxisDesign | None
    problems: tuple[Problem, ...]
    text: str
    rides_on: str | None

    def whole(self) -> AxisDesign:
        """The design; EntryError where it cannot be read."""
        if self.design is None:
            raise EntryError(list(self.problems))
        return self.design


@dataclass(frozen=True, slots=True)
class Place:
    """Where an axis stands, without its design."""

    id: str
    machine_id: str
    version: int
    rides_on: str | None


@dataclass(frozen=True, slots=True)
class Revision:
    """One save."""

    number: int
    at: str
    why: str


def stored(part: Part) -> str:
    """A piece of a design, or of a machine, as it is stored."""
    return json.dumps(part.model_dump(mode="json"), ensure_ascii=False, separators=(",", ":"))


def _text(design: AxisDesign) -> str:
    """A design as it is stored; TooLargeError for one that could not be read again."""
    text = stored(design)
    if len(text.encode("utf-8", "surrogatepass")) > LARGEST_DESIGN:
        raise TooLargeError(
            f"This design has more than the {LARGEST_DESIGN:,} bytes that a design may have. Shorten "
            f"its notes or lists."
        )
    return text


def machines(store: Store) -> list[Machine]:
    """Every machine on the shelf, oldest first."""
    with store.reading() as db:
        rows = db.execute(
            "SELECT id, name, note, version FROM machine WHERE removed_at IS NULL ORDER BY created_at, rowid"
        ).fetchall()
        axes = db.execute(
            "SELECT id, machine_id FROM axis WHERE removed_at IS NULL ORDER BY created_at, rowid"
        ).fetchall()
    on: dict[str, list[str]] = {}
    for a in axes:
        on.setdefault(a["machine_id"], []).append(a["id"])
    return [Machine(r["id"], r["name"], r["note"], r["version"], tuple(on.get(r["id"], ()))) for r in rows]


def add_machine(store: Store, name: str, note: str, now: str) -> str:
    """Put a machine on the shelf; returns its id."""
    new = uuid.uuid4().hex[:12]
    with store.transaction() as db:
        db.execute(
            "INSERT INTO machine (id, name, note, created_at) VALUES (?, ?, ?, ?)", (new, name, note, now)
        )
        db.execute(
            "INSERT INTO plan_revision (machine_id, number, at, why, plan) VALUES (?, 1, ?, 'begun', '')",
            (new, now),
        )
    return new


def machine_row(db: sqlite3.Connection, machine_id: str) -> sqlite3.Row:
    """A machine's own row; NotFoundError where it is not on the shelf."""
    row: sqlite3.Row | None = db.execute(
        "SELECT name, note, version, plan FROM machine WHERE id = ? AND removed_at IS NULL", (machine_id,)
    ).fetchone()
    if row is None:
        raise NotFoundError(NO_MACHINE)
    return row


def based_on(machine: sqlite3.Row, version: int) -> None:
    """ConflictError where a machine has been changed since that version."""
    if machine["version"] != version:
        raise ConflictError(
            "Another window has changed this machine meanwhile. Nothing was overwritten.", machine["version"]
        )


def rename_machine(store: Store, machine_id: str, base_version: int, name: str, note: str) -> int:
    """Change a machine's name and note on top of a version; returns the new one. ConflictError when another
    window was faster.
    """
    with store.transaction() as db:
        row = machine_row(db, machine_id)
        if (row["name"], row["note"]) == (name, note):
            return int(row["version"])
        based_on(row, base_version)
        db.execute(
            "UPDATE machine SET name = ?, note = ?, version = ? WHERE id = ?",
            (name, note, base_version + 1, machine_id),
        )
    return base_version + 1


def set_machine_removed(store: Store, machine_id: str, when: str | None) -> None:
    """Take a machine off the shelf (`when` a time) or put it back (None); nothing is deleted."""
    with store.transaction() as db:
        if db.execute("UPDATE machine SET removed_at = ? WHERE id = ?", (when, machine_id)).rowcount == 0:
            raise NotFoundError(NO_MACHINE)


def remove_axis(store: Store, axis_id: str, when: str) -> None:
    """Take an axis off the shelf; nothing is deleted."""
    with store.transaction() as db:
        if db.execute("UPDATE axis SET removed_at = ? WHERE id = ?", (when, axis_id)).rowcount == 0:
            raise NotFoundError(NO_AXIS)


def put_axis_back(store: Store, axis_id: str) -> str | None:
    """Put an axis back; returns what it rides on. Where that has gone, carries enough, or rides on this axis
    by now, it rides on none.
    """
    with store.transaction() as db:
        row = db.execute("SELECT machine_id, rides_on FROM axis WHERE id = ?", (axis_id,)).fetchone()
        if row is None:
            raise NotFoundError(NO_AXIS)
        under = _under(db, row["machine_id"])
        if axis_id not in under:
            room_on(len(under) + 1)
        mount: str | None = row["rides_on"]
        db.execute("UPDATE axis SET removed_at = NULL, rides_on = NULL WHERE id = ?", (axis_id,))
        if mount is not None:
            try:
                _mount(db, axis_id, row["machine_id"], mount)
            except EntryError:
                mount = None
    return mount


def add_axis(store: Store, machine_id: str, design: AxisDesign, now: str) -> str:
    """Add an axis to a machine; its first save is revision 1. Returns its id."""
    new = uuid.uuid4().hex[:12]
    with store.transaction() as db:
        machine_row(db, machine_id)
        room_on(len(_under(db, machine_id)) + 1)
        db.execute(
            "INSERT INTO axis (id, machine_id, version, created_at) VALUES (?, ?, 1, ?)",
            (new, machine_id, now),
        )
        db.execute(
            "INSERT INTO revision (axis_id, number, at, why, design) VALUES (?, 1, ?, 'begun', ?)",
            (new, now, _text(design)),
        )
    return new


@dataclass(frozen=True, slots=True)
class Off:
    """Something taken off the shelf: a machine with all its axes, or one axis of a machine that still stands
    there.
    """

    id: str
    what: Literal["machine", "axis"]
    name: str
    machine: str
    axes: int
    at: str


def off_shelf(store: Store) -> list[Off]:
    """What was taken off the shelf, newest first; all of it can be put back."""
    with store.reading() as db:
        gone = db.execute(
            "SELECT id, name, removed_at, (SELECT count(*) FROM axis a WHERE a.machine_id = "
            "machine.id AND a.removed_at IS NULL) AS axes"
            " FROM machine WHERE removed_at IS NOT NULL"
        ).fetchall()
        single = db.execute(
            "SELECT a.id, a.removed_at, m.name AS machine, r.design FROM axis a JOIN machine m ON "
            "m.id = a.machine_id AND m.removed_at IS NULL"
            " JOIN revision r ON r.axis_id = a.id AND r.number = a.version WHERE a.removed_at IS NOT NULL"
        ).fetchall()
    found = [Off(r["id"], "machine", r["name"], r["name"], r["axes"], r["removed_at"]) for r in gone]
    found += [Off(r["id"], "axis", name_in(r["design"]), r["machine"], 1, r["removed_at"]) for r in single]
    return sorted(found, key=lambda off: off.at, reverse=True)


# ---- reading what stands -----------------------------------------------------------------------------------

ON_SHELF = (
    "FROM axis a JOIN machine m ON m.id = a.machine_id AND m.removed_at IS NULL WHERE a.removed_at IS NULL"
)


def read(text: str) -> tuple[AxisDesign | None, tuple[Problem, ...]]:
    """A stored design, or why it cannot be read."""
    try:
        return parse_design(text.encode("utf-8", "surrogatepass")), ()
    except EntryError as error:
        return None, tuple(error.problems)
    except TooLargeError as error:
        return None, (problem("design", str(error), remedy="Go back to an earlier revision."),)


def name_in(text: str) -> str:
    """The name of a stored design, as far as it has one."""
    try:
        name = json.loads(text)["name"]
    except (ValueError, KeyError, TypeError, RecursionError):
        return NO_NAME
    return show(name) if isinstance(name, str) and name else NO_NAME


def places(store: Store) -> dict[str, Place]:
    """Every axis on the shelf, in the order in which they were made."""
    with store.reading() as db:
        rows = db.execute(
            f"SELECT a.id, a.machine_id, a.version, a.rides_on {ON_SHELF} ORDER BY a.created_at, a.rowid"
        ).fetchall()
    return {r["id"]: Place(r["id"], r["machine_id"], r["version"], r["rides_on"]) for r in rows}


def _standing(db: sqlite3.Connection, ids: Iterable[str]) -> dict[str, Standing]:
    """Axes as stored, each with the load of all those among them that ride on it."""
    listed = []
    for axis_id in ids:
        row = db.execute(
            "SELECT a.id, a.rides_on, r.design FROM axis a JOIN revision r ON r.axis_id = a.id AND "
            "r.number = a.version WHERE a.id = ?",
            (axis_id,),
        ).fetchone()
        if row is not None:
            design, problems = read(row["design"])
            listed.append(
                Standing(
                    row["id"],
                    design.name if design else name_in(row["design"]),
                    row["rides_on"],
                    design,
                    problems,
                )
            )
    return settled(listed)


def standing(store: Store, ids: Iterable[str]) -> dict[str, Standing]:
    """Axes as they stand; whatever rides on them must be among them (see `carried`)."""
    with store.reading() as db:
        return _standing(db, ids)


def _under(db: sqlite3.Connection, machine_id: str) -> dict[str, str | None]:
    """What each axis of a machine rides on, in the order in which they were made."""
    rows = db.execute(
        "SELECT id, rides_on FROM axis WHERE machine_id = ? AND removed_at IS NULL ORDER BY rowid",
        (machine_id,),
    ).fetchall()
    return {r["id"]: r["rides_on"] for r in rows}


def get_axis(store: Store, axis_id: str) -> SavedAxis:
    """An axis with its newest design, and in it the axes that ride on it as they stand now."""
    with store.reading() as db:
        row = db.execute(
            "SELECT a.id, a.machine_id, m.name AS machine, a.version, a.rides_on, r.at, r.design "
            "FROM axis a JOIN machine m ON m.id = a.machine_id"
            " JOIN revision r ON r.axis_id = a.id AND r.number = a.version WHERE a.id = ? AND "
            "a.removed_at IS NULL AND m.removed_at IS NULL",
            (axis_id,),
        ).fetchone()
        if row is None:
            raise NotFoundError(NO_AXIS)
        here = _standing(db, carried(_under(db, row["machine_id"]), [axis_id]))[axis_id]
    return SavedAxis(
        row["id"],
        here.name,
        row["machine_id"],
        row["machine"],
        row["version"],
        row["at"],
        here.design,
        here.problems,
        row["design"],
        row["rides_on"],
    )


# ---- axes that ride on axes --------------------------------------------------------------------------------


def neighbours(store: Store, axis_id: str) -> list[tuple[str, str]]:
    """Id and name of the other axes of the same machine on which this one may ride: none that rides on it
    itself.
    """
    with store.reading() as db:
        row = db.execute("SELECT machine_id FROM axis WHERE id = ?", (axis_id,)).fetchone()
        if row is None:
            return []
        under = _under(db, row["machine_id"])
        riders = set(carried(under, [axis_id]))
        names = {
            r["axis_id"]: r["name"]
            for r in db.execute(
                "SELECT r.axis_id, CASE WHEN json_valid(r.design) AND json_type(r.design, '$.name') "
                "= 'text' THEN json_extract(r.design, '$.name') END AS name"
                " FROM axis a JOIN revision r ON r.axis_id = a.id AND r.number = a.version WHERE "
                "a.machine_id = ?",
                (row["machine_id"],),
            ).fetchall()
        }
    return [(other, show(names.get(other) or NO_NAME)) for other in under if other not in riders]


def _mount(db: sqlite3.Connection, axis_id: str, machine_id: str, mount: str) -> None:
    """Let an axis ride on another, within the caller's transaction; EntryError where that cannot carry it."""
    under = _under(db, machine_id)
    if mount not in under or mount in carried(under, [axis_id]):
        raise EntryError(
            [
                problem(
                    "rides_on",
                    "cannot carry this axis: it is not on the same machine, or rides on it itself",
                    value=mount,
                    remedy="Pick another axis of this machine.",
                )
            ]
        )
    room_for(
        _standing(db, [mount])[mount].design,
        1 + sum(m == mount for other, m in under.items() if other != axis_id),
    )
    db.execute("UPDATE axis SET rides_on = ? WHERE id = ?", (mount, axis_id))


def set_rides_on(store: Store, axis_id: str, mount: str | None) -> None:
    """Say on which axis of its machine an axis rides; EntryError for one that would carry itself, or that
    carries enough.
    """
    with store.transaction() as db:
        row = _on_shelf(db, axis_id)
        if mount is None:
            db.execute("UPDATE axis SET rides_on = NULL WHERE id = ?", (axis_id,))
        else:
            _mount(db, axis_id, row["machine_id"], mount)


def _on_shelf(db: sqlite3.Connection, axis_id: str) -> sqlite3.Row:
    """An axis of a machine that is on the shelf too; what was taken off takes no saves."""
    row = db.execute(f"SELECT a.version, a.machine_id {ON_SHELF} AND a.id = ?", (axis_id,)).fetchone()
    if row is None:
        raise NotFoundError(NO_AXIS)
    return row  # type: ignore[no-any-return]


def version_on_shelf(db: sqlite3.Connection, axis_id: str) -> int:
    """The newest revision of an axis that takes saves."""
    return int(_on_shelf(db, axis_id)["version"])


def save(store: Store, axis_id: str, base_version: int, design: AxisDesign, now: str, why: str = "") -> int:
    """Save a design as a new revision on top of `base_version`; returns the new version.

    Saving what is already the newest revision changes nothing, so a save may be repeated after a lost answer.
    When another window has saved meanwhile, ConflictError carries the newest version and nothing is written.
    """
    text = _text(design)
    with store.transaction() as db:
        row = _on_shelf(db, axis_id)
        newest = db.execute(
            "SELECT design FROM revision WHERE axis_id = ? AND number = ?", (axis_id, row["version"])
        ).fetchone()
        if newest is not None and newest["design"] == text:
            return int(row["version"])
        if row["version"] != base_version:
            raise ConflictError(
                "Another window has saved this axis meanwhile. Nothing was overwritten.", row["version"]
            )
        room_for(design, sum(mount == axis_id for mount in _under(db, row["machine_id"]).values()))
        number = base_version + 1
        db.execute(
            "INSERT INTO revision (axis_id, number, at, why, design) VALUES (?, ?, ?, ?, ?)",
            (axis_id, number, now, why, text),
        )
        db.execute("UPDATE axis SET version = ? WHERE id = ?", (number, axis_id))
    return number


def revisions(store: Store, axis_id: str, before: int | None = None, most: int = 100) -> list[Revision]:
    """Revisions of an axis, newest first: those before a number, or the newest."""
    with store.reading() as db:
        rows = db.execute(
            "SELECT number, at, why FROM revision WHERE axis_id = ? AND number < ? ORDER BY number "
            "DESC LIMIT ?",
            (axis_id, 2**62 if before is None else before, most),
        ).fetchall()
    return [Revision(r["number"], r["at"], r["why"]) for r in rows]


def revision_design(store: Store, axis_id: str, number: int) -> AxisDesign:
    """A design as it stood at a revision."""
    with store.reading() as db:
        row = db.execute(
            "SELECT design FROM revision WHERE axis_id = ? AND number = ?", (axis_id, number)
        ).fetchone()
    if row is None:
        raise NotFoundError("This revision is not there.")
    return parse_design(row["design"].encode("utf-8", "surrogatepass"))


# ---- what the shelf shows of axes, kept --------------------------------------------------------------------


def kept_lines(store: Store) -> dict[str, tuple[str, str]]:
    """What the shelf showed of each axis, with what it was made from."""
    with store.reading() as db:
        return {
            r["axis_id"]: (r["made_from"], r["line"])
            for r in db.execute("SELECT axis_id, made_from, line FROM shown").fetchall()
        }


def keep_lines(store: Store, lines: Mapping[str, tuple[str, str]]) -> None:
    """Keep what the shelf shows; it waits for nobody, since it can be made again."""
    with store.transaction(patience_s=0.0) as db:
        db.executemany(
            "INSERT OR REPLACE INTO shown (axis_id, made_from, line) VALUES (?, ?, ?)",
            [(a, *kept) for a, kept in lines.items()],
        )
