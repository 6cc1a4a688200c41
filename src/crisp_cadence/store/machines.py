"""Machines as wholes: what is beside their axes, and the machine as one file, out and in."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..core.design.design import changed
from ..core.design.riding import on_its_own
from ..core.fields.part import Bought, part_at
from ..core.fields.rows import naming
from ..core.ledger.errors import EntryError, NotFoundError, TooLargeError, problem
from ..core.machine.design import MachineAxis, MachineFile, MachinePlan, plan_from, plan_of, renamed
from . import Store, axes

LARGEST_PLAN = 2_000_000  # bytes
MOST_PLANS = 200  # revisions of one machine's plan that are kept


@dataclass(frozen=True, slots=True)
class Whole:
    """A machine with its axes as they stand; `unread` are the names of those that cannot be read."""

    version: int
    file: MachineFile
    unread: tuple[str, ...]


def _text(plan: MachinePlan) -> str:
    """A plan as it is stored; TooLargeError for one past its limit."""
    text = axes.stored(plan)
    if len(text.encode()) > LARGEST_PLAN:
        raise TooLargeError(f"This machine's steps and purchases have more than {LARGEST_PLAN:,} bytes.")
    return text


def _plan(text: str) -> MachinePlan:
    return plan_from(json.loads(text)) if text else MachinePlan()


def whole(store: Store, machine_id: str) -> Whole:
    """A machine as it stands, its axes by their ids, each without the load of those that ride on it."""
    with store.reading() as db:
        row = axes.machine_row(db, machine_id)
        listed = db.execute(
            "SELECT a.id, a.rides_on, r.design FROM axis a JOIN revision r ON r.axis_id = a.id AND "
            "r.number = a.version WHERE a.machine_id = ? AND a.removed_at IS NULL "
            "ORDER BY a.created_at, a.rowid",
            (machine_id,),
        ).fetchall()
    found, unread = [], []
    for a in listed:
        design, problems = axes.read(a["design"])
        if design is None or problems:
            unread.append(axes.name_in(a["design"]))
            continue
        found.append((a["id"], a["rides_on"], design))
    here = {key for key, _, _ in found}
    plan = _plan(row["plan"])
    file = MachineFile.model_validate(
        {
            **plan.model_dump(mode="json"),
            "name": row["name"],
            "note": row["note"],
            "axes": [
                MachineAxis(key=key, rides_on=mount if mount in here else "", design=design)
                for key, mount, design in found
            ],
        }
    )
    return Whole(row["version"], file, tuple(unread))


States = Mapping[str, Mapping[str, bool | str | float]]


def save_plan(
    store: Store,
    machine_id: str,
    base_version: int,
    plan: MachinePlan,
    now: str = "",
    states: States | None = None,
) -> int:
    """Save what is beside the axes on top of a version, and in the axes' designs how the parts that were
    ordered stand; returns the new version. ConflictError when another window was faster.
    """
    text = _text(plan)
    with store.transaction() as db:
        axes.based_on(axes.machine_row(db, machine_id), base_version)
        db.execute(
            "UPDATE machine SET plan = ?, version = ? WHERE id = ?", (text, base_version + 1, machine_id)
        )
        _remember(db, machine_id, base_version + 1, now, text)
        _into_axes(store, states or {}, now)
    return base_version + 1


def _remember(db: sqlite3.Connection, machine_id: str, number: int, now: str, plan: str) -> None:
    """Keep a plan as it was left; of one machine the newest ones."""
    db.execute(
        "INSERT OR REPLACE INTO plan_revision (machine_id, number, at, plan) VALUES (?, ?, ?, ?)",
        (machine_id, number, now, plan),
    )
    db.execute(
        "DELETE FROM plan_revision WHERE machine_id = ? AND number NOT IN "
        "(SELECT number FROM plan_revision WHERE machine_id = ? ORDER BY number DESC LIMIT ?)",
        (machine_id, machine_id, MOST_PLANS),
    )


def plans(store: Store, machine_id: str, before: int | None = None, most: int = 100) -> list[axes.Revision]:
    """Revisions of a machine's plan, newest first: those before a version, or the newest."""
    with store.reading() as db:
        axes.machine_row(db, machine_id)
        rows = db.execute(
            "SELECT number, at, why FROM plan_revision WHERE machine_id = ? AND number < ? "
            "ORDER BY number DESC LIMIT ?",
            (machine_id, 2**62 if before is None else before, most),
        ).fetchall()
    return [axes.Revision(r["number"], r["at"], r["why"]) for r in rows]


def plan_at(store: Store, machine_id: str, number: int) -> MachinePlan:
    """What was beside the axes at a version."""
    with store.reading() as db:
        row = db.execute(
            "SELECT plan FROM plan_revision WHERE machine_id = ? AND number = ?", (machine_id, number)
        ).fetchone()
    if row is None:
        raise NotFoundError("This revision is not there.")
    return _plan(row["plan"])


def _into_axes(store: Store, states: States, now: str) -> None:
    by_axis: dict[str, dict[str, Any]] = {}
    for ref, state in states.items():
        axis_id, _, field = ref.partition(":")
        by_axis.setdefault(axis_id, {}).update({f"{field}.{name}": how for name, how in state.items()})
    for axis_id, named in by_axis.items():
        saved = axes.get_axis(store, axis_id)
        design = saved.whole()
        place = naming(design)[1]
        changes = {place(ref): how for ref, how in named.items()}
        known = {
            path: how
            for path, how in changes.items()
            if isinstance(part_at(design, path.rpartition(".")[0]), Bought)
        }
        after = changed(design, known)
        if after != design:
            axes.save(store, axis_id, saved.version, after, now, "parts ordered or come")


def add_whole(store: Store, machine: MachineFile, now: str) -> str:
    """Put a machine from a file on the shelf, with new ids; returns its own."""
    with store.transaction() as db:
        new = axes.add_machine(store, machine.name, machine.note, now)
        carrying = {a.rides_on for a in machine.axes}
        keys = {
            a.key: axes.add_axis(store, new, a.design if a.key in carrying else on_its_own(a.design), now)
            for a in machine.axes
        }
        for a in machine.axes:
            if a.rides_on:
                axes.set_rides_on(store, keys[a.key], keys[a.rides_on])
        plan = renamed(plan_of(machine), keys)
        db.execute("UPDATE machine SET plan = ? WHERE id = ?", (_text(plan), new))
        _remember(db, new, 1, now, _text(plan))
    return new


def tick(store: Store, machine_id: str, ref: str, day: str, now: str, stood: dict[str, str]) -> None:
    """Tick a step of the machine on a day, or take the tick back (no day)."""
    axis_id, _, step = ref.partition(":")
    if axis_id:
        if axis_id not in {a.key for a in whole(store, machine_id).file.axes}:
            raise NotFoundError(axes.NO_AXIS)
        saved = axes.get_axis(store, axis_id)
        design = saved.whole()
        others = [d for d in design.done if (d if isinstance(d, str) else d.step) != step]
        stands = {name.removeprefix(f"{axis_id}:"): how for name, how in stood.items()}
        done = [*others, {"step": step, "day": day, "stood": stands}] if day else others
        why = f"{step} done" if day else f"{step} taken back"
        axes.save(store, axis_id, saved.version, changed(design, {"done": done}), now, why)
        return
    with store.transaction():
        found = whole(store, machine_id)
        plan = plan_of(found.file)
        if step not in {s.key for s in plan.own}:
            raise EntryError(
                [
                    problem(
                        "ref",
                        "is no step of this machine",
                        value=ref,
                        limit=", ".join(f":{s.key}" for s in plan.own),
                        remedy="Look the machine up again: another window may have taken it out.",
                    )
                ]
            )
        own = [s.model_copy(update={"done": day}) if s.key == step else s for s in plan.own]
        save_plan(store, machine_id, found.version, plan.model_copy(update={"own": own}), now)
