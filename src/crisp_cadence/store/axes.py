"""Machines, their axes, and every revision of a design."""

from __future__ import annotations

import json
import uuid
from dataclasses import dataclass

from ..core.design import AxisDesign, design_from
from ..core.errors import ConflictError, EntryError, NotFoundError, problem
from ..core.riding import carrying
from . import Store


@dataclass(frozen=True, slots=True)
class Machine:
    """A machine on the shelf, with the ids of its axes in the order in which they were made."""

    id: str
    name: str
    note: str
    axes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class SavedAxis:
    """An axis as it stands: the newest revision's number is its version."""

    id: str
    machine_id: str
    machine: str
    version: int
    saved_at: str
    design: AxisDesign
    rides_on: str | None


@dataclass(frozen=True, slots=True)
class Revision:
    """One save."""

    number: int
    at: str
    why: str


def _text(design: AxisDesign) -> str:
    return json.dumps(design.model_dump(mode="json"), ensure_ascii=False, separators=(",", ":"))


def machines(store: Store) -> list[Machine]:
    """Every machine on the shelf, oldest first."""
    with store.reading() as db:
        rows = db.execute("SELECT id, name, note FROM machine WHERE removed_at IS NULL ORDER BY created_at, rowid").fetchall()
        axes = db.execute("SELECT id, machine_id FROM axis WHERE removed_at IS NULL ORDER BY created_at, rowid").fetchall()
    return [Machine(r["id"], r["name"], r["note"], tuple(a["id"] for a in axes if a["machine_id"] == r["id"])) for r in rows]


def add_machine(store: Store, name: str, note: str, now: str) -> str:
    """Put a machine on the shelf; returns its id."""
    new = uuid.uuid4().hex[:12]
    with store.transaction() as db:
        db.execute("INSERT INTO machine (id, name, note, created_at) VALUES (?, ?, ?, ?)", (new, name, note, now))
    return new


def rename_machine(store: Store, machine_id: str, name: str, note: str) -> None:
    """Change a machine's name and note."""
    with store.transaction() as db:
        if db.execute("UPDATE machine SET name = ?, note = ? WHERE id = ? AND removed_at IS NULL", (name, note, machine_id)).rowcount == 0:
            raise NotFoundError("This machine is not on the shelf.")


def set_removed(store: Store, table: str, row_id: str, when: str | None) -> None:
    """Take a machine or an axis off the shelf (`when` a time) or put it back (None); nothing is deleted."""
    statement = {"machine": "UPDATE machine SET removed_at = ? WHERE id = ?", "axis": "UPDATE axis SET removed_at = ? WHERE id = ?"}[table]
    with store.transaction() as db:
        if db.execute(statement, (when, row_id)).rowcount == 0:
            raise NotFoundError(f"This {table} is not on the shelf.")


def add_axis(store: Store, machine_id: str, design: AxisDesign, now: str) -> str:
    """Add an axis to a machine; its first save is revision 1. Returns its id."""
    new = uuid.uuid4().hex[:12]
    with store.transaction() as db:
        if db.execute("SELECT 1 FROM machine WHERE id = ? AND removed_at IS NULL", (machine_id,)).fetchone() is None:
            raise NotFoundError("This machine is not on the shelf.")
        db.execute("INSERT INTO axis (id, machine_id, version, created_at) VALUES (?, ?, 1, ?)", (new, machine_id, now))
        db.execute("INSERT INTO revision (axis_id, number, at, why, design) VALUES (?, 1, ?, 'begun', ?)", (new, now, _text(design)))
    return new


def get_axis(store: Store, axis_id: str) -> SavedAxis:
    """An axis with its newest design, and in it the axes that ride on it as they stand now."""
    with store.reading() as db:
        row = db.execute(
            "SELECT a.id, a.machine_id, m.name AS machine, a.version, a.rides_on, r.at, r.design FROM axis a JOIN machine m ON m.id = a.machine_id"
            " JOIN revision r ON r.axis_id = a.id AND r.number = a.version WHERE a.id = ? AND a.removed_at IS NULL AND m.removed_at IS NULL",
            (axis_id,),
        ).fetchone()
        riders = [r["id"] for r in db.execute("SELECT id FROM axis WHERE rides_on = ? AND removed_at IS NULL ORDER BY rowid", (axis_id,)).fetchall()]
    if row is None:
        raise NotFoundError("This axis is not on the shelf.")
    design = carrying(design_from(json.loads(row["design"])), [get_axis(store, r).design for r in riders])
    return SavedAxis(row["id"], row["machine_id"], row["machine"], row["version"], row["at"], design, row["rides_on"])


def neighbours(store: Store, axis_id: str) -> list[tuple[str, str]]:
    """Id and name of the other axes of the same machine on which this one may ride: none that rides on it itself."""
    with store.reading() as db:
        rows = db.execute(
            "SELECT a.id, a.rides_on, r.design FROM axis a JOIN revision r ON r.axis_id = a.id AND r.number = a.version"
            " WHERE a.machine_id = (SELECT machine_id FROM axis WHERE id = ?) AND a.removed_at IS NULL ORDER BY a.rowid",
            (axis_id,),
        ).fetchall()
    under = {r["id"]: r["rides_on"] for r in rows}

    def above(other: str | None) -> bool:
        while other is not None:
            if other == axis_id:
                return True
            other = under.get(other)
        return False

    return [(r["id"], str(json.loads(r["design"])["name"])) for r in rows if not above(r["id"])]


def set_rides_on(store: Store, axis_id: str, mount: str | None) -> None:
    """Say on which axis of its machine an axis rides; EntryError for one that would carry itself."""
    get_axis(store, axis_id)
    if mount is not None and mount not in {other for other, _ in neighbours(store, axis_id)}:
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
    with store.transaction() as db:
        db.execute("UPDATE axis SET rides_on = ? WHERE id = ?", (mount, axis_id))


def save(store: Store, axis_id: str, base_version: int, design: AxisDesign, now: str, why: str = "") -> int:
    """Save a design as a new revision on top of `base_version`; returns the new version.

    Saving what is already the newest revision changes nothing, so a save may be repeated after a lost answer. When another
    window has saved meanwhile, ConflictError carries the newest version and nothing is written.
    """
    text = _text(design)
    with store.transaction() as db:
        row = db.execute(
            "SELECT a.version, r.design FROM axis a JOIN revision r ON r.axis_id = a.id AND r.number = a.version WHERE a.id = ? AND a.removed_at IS NULL",
            (axis_id,),
        ).fetchone()
        if row is None:
            raise NotFoundError("This axis is not on the shelf.")
        if row["design"] == text:
            return int(row["version"])
        if row["version"] != base_version:
            raise ConflictError("Another window has saved this axis meanwhile. Nothing was overwritten.", row["version"])
        number = base_version + 1
        db.execute("INSERT INTO revision (axis_id, number, at, why, design) VALUES (?, ?, ?, ?, ?)", (axis_id, number, now, why, text))
        db.execute("UPDATE axis SET version = ? WHERE id = ?", (number, axis_id))
    return number


def revisions(store: Store, axis_id: str, most: int = 200) -> list[Revision]:
    """The newest revisions of an axis, newest first."""
    with store.reading() as db:
        rows = db.execute("SELECT number, at, why FROM revision WHERE axis_id = ? ORDER BY number DESC LIMIT ?", (axis_id, most)).fetchall()
    return [Revision(r["number"], r["at"], r["why"]) for r in rows]


def revision_design(store: Store, axis_id: str, number: int) -> AxisDesign:
    """A design as it stood at a revision."""
    with store.reading() as db:
        row = db.execute("SELECT design FROM revision WHERE axis_id = ? AND number = ?", (axis_id, number)).fetchone()
    if row is None:
        raise NotFoundError("This revision is not there.")
    return design_from(json.loads(row["design"]))
