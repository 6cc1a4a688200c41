"""Kills the program in the middle of saves, first starts, upgrades and seeding, and counts what is lost or
half done.

`make torture` runs it with a free seed; a few kills with a fixed seed run in the tests. Each child is a copy
of a process that has loaded everything already, so that kills fall into the work itself and not into loading.
Killing is SIGKILL: no chance to tidy up.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import shutil
import signal
import sqlite3
import tempfile
import time
from collections.abc import Callable
from contextlib import closing, suppress
from dataclasses import dataclass
from pathlib import Path

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.store import FILE_NAME, Store, axes, drawer, log

BEFORE = Path(__file__).parents[1] / "tests" / "data" / "before" / FILE_NAME
NOW = "2026-11-26T10:00:00.000+00:00"
KEY = "washer:washer-m5"
# The longest that a kill waits, s: about as long as the work takes.
LONGEST = {"saves": 0.25, "first start": 0.012, "upgrade": 0.03, "seeding": 0.4}
TABLES = ("machine", "axis", "revision", "log_entry", "stock")


@dataclass
class Row:
    """What came of the kills of one kind."""

    kind: str
    kills: int = 0
    in_the_middle: int = 0
    acknowledged: int = 0
    lost: int = 0
    half: int = 0
    unsound: int = 0

    @property
    def bad(self) -> int:
        return self.lost + self.half + self.unsound


def killed(work: Callable[[Callable[[object], None]], None], after_s: float) -> tuple[list[object], bool]:
    """Runs work in a child that is killed after a time; what it acknowledged until then, and whether it was
    cut off.
    """
    read, write = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(read)
        with suppress(BaseException):
            work(lambda said: os.write(write, json.dumps(said).encode() + b"\n") and None)
            os._exit(0)
        os._exit(1)
    os.close(write)
    time.sleep(after_s)
    os.kill(child, signal.SIGKILL)
    _, status = os.waitpid(child, 0)
    with os.fdopen(read, "rb") as pipe:
        lines = pipe.read().split(b"\n")
    return [json.loads(line) for line in lines[:-1]], os.WIFSIGNALED(status)


def sound(folder: Path) -> bool:
    """Whether the file that a kill left opens, is whole and is of today's format."""
    if not (folder / FILE_NAME).exists():
        return True
    store = Store(folder)
    try:
        if store.damage is not None:
            return False
        with store.reading() as db:
            return (
                str(db.execute("PRAGMA integrity_check").fetchone()[0]) == "ok"
                and not db.execute("PRAGMA foreign_key_check").fetchall()
            )
    finally:
        store.close()


def _saves(folder: Path, row: Row, after_s: float) -> None:
    store = Store(folder)
    machine = axes.add_machine(store, "Bench", "", NOW)
    axis = axes.add_axis(store, machine, begin("carriage_loop", "Slide"), NOW)
    store.close()

    def work(say: Callable[[object], None]) -> None:
        mine = Store(folder)
        design = begin("carriage_loop", "Slide")
        stock = named = 0
        for turn in range(100_000):
            version = axes.save(mine, axis, turn + 1, design.model_copy(update={"note": f"turn {turn}"}), NOW)
            entry = log.add(mine, axis, "2026-01-01", "note", f"turn {turn}", None, None, NOW)
            stock = drawer.set_stock(mine, catalog.parts(), KEY, stock, turn + 1, None)
            named = axes.rename_machine(mine, machine, named + 1, f"Bench {turn}", "") - 1
            say([version, entry, stock])

    said, cut = killed(work, after_s)
    row.in_the_middle += cut
    row.acknowledged += 4 * len(said)
    store = Store(folder)
    entries = {e.id for e in log.entries(store, axis)}
    newest = axes.get_axis(store, axis).version
    for turn, (version, entry, _) in enumerate(said):  # type: ignore[misc]
        row.lost += axes.revision_design(store, axis, version).note != f"turn {turn}"
        row.lost += entry not in entries
    if said:
        _, _, stock = said[-1]  # type: ignore[misc]
        there = next(r for r in drawer.rows(store, catalog.parts()) if r.key == KEY)
        row.lost += there.version < stock
        row.half += newest > len(said) + 2  # at most the one on its way is there as well
        row.lost += axes.machines(store)[0].version < len(said) + 1
    store.close()


def _first_start(folder: Path, row: Row, after_s: float) -> None:
    _, cut = killed(lambda say: Store(folder).close(), after_s)
    row.in_the_middle += cut


def counts(path: Path) -> dict[str, int]:
    with closing(sqlite3.connect(path)) as db:
        return {t: db.execute(f"SELECT count(*) FROM {t}").fetchone()[0] for t in TABLES}


def _upgrade(folder: Path, row: Row, after_s: float) -> None:
    folder.mkdir()
    shutil.copy(BEFORE, folder / FILE_NAME)
    before = counts(BEFORE)
    row.acknowledged += sum(before.values())
    _, cut = killed(lambda say: Store(folder).close(), after_s)
    row.in_the_middle += cut
    Store(folder).close()
    row.lost += sum(before.values()) - sum(counts(folder / FILE_NAME).values())
    for kept in folder.glob("*.before-*.sqlite3"):
        row.half += counts(kept) != before


def _seeding(folder: Path, row: Row, after_s: float) -> None:
    def work(say: Callable[[object], None]) -> None:
        store = Store(folder)
        demo.fill(store)
        store.close()

    _, cut = killed(work, after_s)
    row.in_the_middle += cut
    if (folder / FILE_NAME).exists():
        store = Store(folder)
        whole = (len(demo.MACHINES), sum(len(m) for _, _, m in demo.MACHINES), len(demo.RIDES))
        places = axes.places(store)
        found = (len(axes.machines(store)), len(places), sum(p.rides_on is not None for p in places.values()))
        row.half += found not in (whole, (0, 0, 0))
        demo.fill(store)  # and the next start makes it whole
        row.half += len(axes.places(store)) != whole[1]
        store.close()


KINDS: dict[str, Callable[[Path, Row, float], None]] = {
    "saves": _saves,
    "first start": _first_start,
    "upgrade": _upgrade,
    "seeding": _seeding,
}


def kills(kind: str, count: int, seed: int) -> Row:
    """So many kills of one kind, at times drawn from a seed."""
    row, chance = Row(kind), random.Random(seed)
    with tempfile.TemporaryDirectory() as base:
        for turn in range(count):
            folder = Path(base) / str(turn)
            KINDS[kind](folder, row, chance.random() * LONGEST[kind])
            row.kills += 1
            row.unsound += not sound(folder)
            shutil.rmtree(folder, ignore_errors=True)
    return row


def table(rows: list[Row]) -> str:
    head = ("kills", "in the middle", "acknowledged", "lost", "half done", "unsound")
    lines = ["killed during " + "".join(f"{h:>15}" for h in head)]
    for r in rows:
        counts = (r.kills, r.in_the_middle, r.acknowledged, r.lost, r.half, r.unsound)
        lines.append(f"{r.kind:14}" + "".join(f"{c:15}" for c in counts))
    return "\n".join(lines)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--kills", type=int, default=300, help="in all, a quarter of each kind")
    parser.add_argument("--seed", type=int, default=int.from_bytes(os.urandom(4)))
    given = parser.parse_args()
    print(f"seed {given.seed}", flush=True)
    rows = [kills(kind, given.kills // len(KINDS), given.seed + i) for i, kind in enumerate(KINDS)]
    print(table(rows))
    return 1 if any(r.bad for r in rows) else 0


if __name__ == "__main__":
    raise SystemExit(main())
