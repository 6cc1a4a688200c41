"""A program that stops at any step of a rescue, a thinning or a migration, by a kill or a failing disk: the next
start shows what was there, or says what is lost and where the copies are.
"""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from conftest import build
from crisp_cadence.core.ledger.errors import EntryError, StoreError
from crisp_cadence.store import FILE_NAME, Store, axes, disk, history
from crisp_cadence.store.rescue import adopt, rescue

NOW = "2026-12-02T10:00:00.000+00:00"
OLD = "2026-06-02T10:00:00.000+00:00"
CALLS = ("replace", "link", "unlink", "fsync")
KILLED, DONE = 9, 100
NAMES = {f"Axis {n}" for n in range(40)}


def filled(folder: Path, saves: int = 0) -> None:
    store = Store(folder)
    machine = axes.add_machine(store, "Bench", "n" * 300, NOW)
    for n in range(40):
        axis = axes.add_axis(store, machine, build(name=f"Axis {n}"), NOW)
        for save in range(saves):
            axes.save(store, axis, save + 1, build(name=f"Axis {n}", note=str(save)), OLD)
    store.close()


def damaged(folder: Path) -> None:
    """One page in the middle of the machines' table is noise; every design can still be read."""
    filled(folder)
    path = folder / FILE_NAME
    with sqlite3.connect(path) as db:
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        size = db.execute("PRAGMA page_size").fetchone()[0]
        page = db.execute("SELECT rootpage FROM sqlite_master WHERE name = 'machine'").fetchone()[0]
    db.close()
    with path.open("r+b") as file:
        file.seek((page - 1) * size)
        file.write(os.urandom(size))


def aged(folder: Path) -> None:
    filled(folder, saves=3)


def before_acts(folder: Path) -> None:
    """A file as the version before this one left it."""
    filled(folder)
    with sqlite3.connect(folder / FILE_NAME) as db:
        db.execute("DROP TABLE act")
        db.execute("DROP TABLE plan_revision")
        db.execute("PRAGMA user_version = 5")
    db.close()


def rescued(folder: Path) -> None:
    rescue(Store(folder))


def written_again(folder: Path) -> None:
    store = Store(folder)
    os.remove(folder / FILE_NAME)
    try:
        rescue(store)
    except StoreError:
        rescue(store)  # it was told, and what is open in the program is still there


def thinned(folder: Path) -> None:
    history.thin(Store(folder), 30, NOW)


def started(folder: Path) -> None:
    Store(folder)


def killed() -> None:
    os._exit(KILLED)


def failing() -> None:
    raise OSError(5, "Input/output error")


# A program that is killed while the maker's own deletion of the file is not undone yet has lost it: not among these.
WORK: list[tuple[Callable[[Path], None], Callable[[Path], None], Callable[[], None]]] = [
    (damaged, rescued, killed),
    (damaged, rescued, failing),
    (filled, written_again, failing),
    (aged, thinned, killed),
    (aged, thinned, failing),
    (before_acts, started, killed),
    (before_acts, started, failing),
]


def counting(then: Callable[[], None], at: int) -> Callable[[], int]:
    """From now on the calls are counted, and something happens instead of one of them."""
    seen = 0
    for name in CALLS:
        real = getattr(os, name)

        def called(*args: Any, real: Callable[..., Any] = real, **more: Any) -> Any:
            nonlocal seen
            seen += 1
            if seen == at:
                then()
            return real(*args, **more)

        setattr(disk.os, name, called)
    return lambda: seen


def in_a_child(work: Callable[[Path], None], folder: Path, at: int, then: Callable[[], None]) -> int:
    """How a program of its own ends that does the work: DONE and the calls that it made, 1 refused in words, 9
    killed.
    """
    child = os.fork()
    if child == 0:
        code = 2
        try:
            seen = counting(then, at)
            work(folder)
            code = DONE + seen()
        except StoreError:
            code = 1
        finally:
            os._exit(code)
    return os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])


def shows_what_was_there(folder: Path, told: str) -> None:
    store = Store(folder)
    listed = [] if store.damage else [a for m in axes.machines(store) for a in m.axes]
    found = {axes.get_axis(store, axis).name for axis in listed}
    if store.damage is None and found != NAMES:
        # Nothing there: then the copies are, and the start says so.
        assert found == set(), told
        assert store.left_over(), told
    if store.damage is not None:
        assert rescue(store).rows["axis"] == len(NAMES), f"{told}: and it can be rescued again"
    store.close()
    halves = [p.name for p in folder.iterdir() if p.name.endswith(".part")]
    assert halves == [], f"{told}: halves of a program that has ended are swept"


@pytest.mark.parametrize(("make", "work", "then"), WORK, ids=lambda of: of.__name__)
def test_a_stop_at_any_step_loses_nothing(
    tmp_path: Path, make: Callable[[Path], None], work: Callable[[Path], None], then: Callable[[], None]
) -> None:
    make(tmp_path / "whole")
    steps = in_a_child(work, tmp_path / "whole", 0, then) - DONE
    assert steps >= 2, "there are steps to stop at"
    for at in range(1, steps + 1):
        folder = tmp_path / str(at)
        make(folder)
        ended = in_a_child(work, folder, at, then)
        assert ended in (1, KILLED) or ended >= DONE, f"call {at} ended in a traceback"
        assert then is failing or ended == KILLED
        shows_what_was_there(folder, f"{work.__name__}, {then.__name__} at call {at} of {steps}")


def test_a_start_without_a_data_file_names_what_lies_beside_it(tmp_path: Path) -> None:
    filled(tmp_path)
    store = Store(tmp_path)
    copy = store.set_aside("trial")
    store.close()
    for ending in ("", "-wal", "-shm"):
        Path(f"{tmp_path / FILE_NAME}{ending}").unlink(missing_ok=True)
    store = Store(tmp_path)
    assert axes.machines(store) == []
    assert store.left_over() == [copy]
    with pytest.raises(EntryError, match="no copy beside"):
        adopt(store, "crisp-cadence.before-other.sqlite3")
    adopt(store, copy.name)
    assert {axes.get_axis(store, a).name for m in axes.machines(store) for a in m.axes} == NAMES
    with pytest.raises(EntryError, match="holds machines"):
        adopt(store, copy.name)
    store.close()


def test_a_half_of_a_living_program_is_left_alone(tmp_path: Path) -> None:
    mine = tmp_path / f"crisp-cadence.before-x.{os.getpid()}.part"
    theirs = tmp_path / "crisp-cadence.before-x.999999999.part"
    for half in (mine, theirs):
        half.write_bytes(b"half")
    Store(tmp_path).close()
    assert mine.exists()
    assert not theirs.exists()


def test_a_full_disk_has_room_made_without_a_copy(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    aged(tmp_path)
    store = Store(tmp_path)

    def full(*_: object) -> Path:
        raise StoreError("full", "The disk is full.")

    monkeypatch.setattr(Store, "set_aside", full)
    done = history.thin(store, 30, NOW)
    assert (done.copy, history.would_thin(store, 30, NOW).revisions) == ("", 0)
    assert done.revisions > 0
    assert {axes.get_axis(store, a).name for m in axes.machines(store) for a in m.axes} == NAMES
    store.close()
