"""The data file: migrations, backup, transactions, and what a killed program leaves behind."""

from __future__ import annotations

import json
import sqlite3
import threading
import urllib.error
from pathlib import Path

import pytest
from running import program, start

from conftest import build
from crisp_cadence import catalog
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.core.fields.axis import Mass
from crisp_cadence.core.ledger.errors import ConflictError, EntryError, NotFoundError
from crisp_cadence.store import FILE_NAME, Store, StoreError, axes, drawer, log

NOW = "2026-11-24T10:00:00.000+00:00"


def an_axis(store: Store) -> str:
    return axes.add_axis(store, axes.add_machine(store, "Bench", "", NOW), build(), NOW)


def test_reopening_finds_everything(tmp_path: Path) -> None:
    first = Store(tmp_path)
    axis = an_axis(first)
    axes.save(first, axis, 1, build(note="second"), NOW)
    log.add(first, axis, "2026-11-24", "note", "hello", 1.5, {"tension_n": 3.0}, NOW)
    first.close()
    again = Store(tmp_path)
    assert axes.get_axis(again, axis).design.note == "second"
    assert log.entries(again, axis)[0].reading == {"tension_n": 3.0}
    assert [r.number for r in axes.revisions(again, axis)] == [2, 1]
    again.close()


def test_settings_of_the_file(store: Store) -> None:
    with store.reading() as db:
        assert db.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
        assert db.execute("PRAGMA foreign_keys").fetchone()[0] == 1
        assert db.execute("PRAGMA synchronous").fetchone()[0] == 2


def test_a_failed_transaction_leaves_nothing(store: Store) -> None:
    axis = an_axis(store)

    def half() -> None:
        with store.transaction() as db:
            db.execute("UPDATE axis SET version = 99 WHERE id = ?", (axis,))
            raise RuntimeError

    with pytest.raises(RuntimeError):
        half()
    assert axes.get_axis(store, axis).version == 1


def test_log_entries_need_their_axis(store: Store) -> None:
    with pytest.raises(NotFoundError):
        log.add(store, "nothing", "2026-11-24", "note", "x", None, None, NOW)
    with pytest.raises(sqlite3.IntegrityError), store.transaction() as db:
        db.execute("INSERT INTO log_entry VALUES ('a', 'b', 1, 'c', 'd', 'e', NULL, NULL, 'f')")


def test_many_threads_make_one_chain_of_revisions(store: Store) -> None:
    """Eight windows save at once: each save either becomes the next revision or is told of the conflict."""
    axis = an_axis(store)
    won: list[int] = []
    lost: list[int] = []

    def work(number: int) -> None:
        for turn in range(12):
            base = axes.get_axis(store, axis).version
            try:
                won.append(axes.save(store, axis, base, build(note=f"{number}-{turn}"), NOW))
            except ConflictError as error:
                lost.append(error.current_version)

    threads = [threading.Thread(target=work, args=(n,)) for n in range(8)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert len(won) + len(lost) == 96
    assert sorted(won) == list(range(2, 2 + len(won)))
    assert axes.get_axis(store, axis).version == 1 + len(won)


MIGRATIONS = sorted(p.name for p in Path(axes.__file__).parent.joinpath("migrations").glob("*.sql"))
FORMAT = len(MIGRATIONS)


def placeholders(folder: Path) -> Path:
    """Migrations that are done already, so that a further one can be put behind them."""
    steps = folder / "steps"
    (steps / "migrations").mkdir(parents=True)
    for name in MIGRATIONS:
        (steps / "migrations" / name).write_text("SELECT 1;")
    return steps


def test_axes_ride_on_axes_of_their_machine(store: Store) -> None:
    machine = axes.add_machine(store, "Printer", "", "2026-01-01")
    low, high = (
        axes.add_axis(store, machine, begin(layout, name), "2026-01-01")
        for layout, name in (("carriage_loop", "Low"), ("riding_motor", "High"))
    )
    axes.set_rides_on(store, high, low)
    assert [(m.label, m.mass_kg) for m in axes.get_axis(store, low).design.riding] == [("High", 0.9)]
    heavier = axes.get_axis(store, high).design.model_copy(
        update={"still": [Mass(label="Rail", mass_kg=1.5)]}
    )
    axes.save(store, high, 1, heavier, "2026-01-02")
    assert axes.get_axis(store, low).design.riding[0].mass_kg == 2.4
    axes.save(
        store, low, 1, axes.get_axis(store, low).design, "2026-01-03"
    )  # the load as saved is not counted twice
    assert [m.mass_kg for m in axes.get_axis(store, low).design.riding] == [2.4]
    with pytest.raises(EntryError, match="rides on it itself"):
        axes.set_rides_on(store, low, high)
    other = axes.add_axis(
        store, axes.add_machine(store, "Else", "", "2026-01-01"), begin("rack", "Far"), "2026-01-01"
    )
    with pytest.raises(EntryError, match="not on the same machine"):
        axes.set_rides_on(store, other, low)
    axes.set_rides_on(store, high, None)
    assert axes.get_axis(store, low).design.riding == []


def test_an_older_file_is_copied_before_it_is_brought_up_to_date(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = Store(tmp_path)
    axis = an_axis(first)
    first.close()
    import crisp_cadence.store as module

    steps = placeholders(tmp_path)
    (steps / "migrations" / "999_more.sql").write_text(
        "CREATE TABLE more (a TEXT);\nINSERT INTO more VALUES ('semi;colon');\n"
    )
    monkeypatch.setattr(module, "files", lambda _: steps)
    second = Store(tmp_path)
    with second.reading() as db:
        assert db.execute("SELECT a FROM more").fetchone()[0] == "semi;colon"
        assert db.execute("PRAGMA user_version").fetchone()[0] == FORMAT + 1
    assert axes.get_axis(second, axis).design.name == "Plain"
    second.close()
    with sqlite3.connect(tmp_path / f"crisp-cadence.before-{FORMAT + 1}.sqlite3") as copy:
        assert copy.execute("SELECT count(*) FROM axis").fetchone()[0] == 1
        assert copy.execute("PRAGMA user_version").fetchone()[0] == FORMAT
    copy.close()


def test_a_broken_step_changes_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    Store(tmp_path).close()
    import crisp_cadence.store as module

    steps = placeholders(tmp_path)
    (steps / "migrations" / "999_bad.sql").write_text(
        "CREATE TABLE half (a TEXT);\nCREATE TABLE axis (oops TEXT);\n"
    )
    monkeypatch.setattr(module, "files", lambda _: steps)
    with pytest.raises(StoreError):
        Store(tmp_path)
    with sqlite3.connect(tmp_path / FILE_NAME) as db:
        assert db.execute("PRAGMA user_version").fetchone()[0] == FORMAT
        assert db.execute("SELECT count(*) FROM sqlite_master WHERE name = 'half'").fetchone()[0] == 0
    db.close()


def test_files_that_are_not_ours(tmp_path: Path) -> None:
    (tmp_path / "text").mkdir()
    (tmp_path / "text" / FILE_NAME).write_text("not a database, but long enough to look like one" * 30)
    with pytest.raises(StoreError, match="not a data file"):
        Store(tmp_path / "text")
    for name, statement, says in (
        ("newer", "PRAGMA user_version = 99", "newer version"),
        ("other", "CREATE TABLE t (a)", "another program"),
    ):
        (tmp_path / name).mkdir()
        with sqlite3.connect(tmp_path / name / FILE_NAME) as db:
            db.execute(statement)
        db.close()
        with pytest.raises(StoreError, match=says):
            Store(tmp_path / name)


def test_a_program_killed_in_the_middle_of_saves_loses_nothing_it_acknowledged(tmp_path: Path) -> None:
    """Saves are sent in a row while the process is killed at once, as by a power cut; every acknowledged one
    is there.
    """
    running = start(tmp_path)
    machine = running.ask("/machines", {"name": "Bench"})["id"]
    axis = running.ask(f"/machines/{machine}/axes", {"name": "Slide"})["id"]
    design = running.ask(f"/axes/{axis}")["design"]
    acknowledged: list[tuple[int, str]] = []
    enough = threading.Event()

    def save() -> None:
        version = 1
        try:
            for turn in range(100_000):
                version = running.ask(
                    f"/axes/{axis}",
                    {"base_version": version, "design": {**design, "note": f"turn {turn}"}},
                    "PUT",
                )["version"]
                acknowledged.append((version, f"turn {turn}"))
                if len(acknowledged) == 40:
                    enough.set()
        except (OSError, urllib.error.URLError, json.JSONDecodeError):
            return

    saving = threading.Thread(target=save)
    saving.start()
    assert enough.wait(60)
    running.kill()
    saving.join(timeout=60)
    assert running.process.stdout is not None
    running.process.stdout.close()
    store = Store(tmp_path)
    with store.reading() as db:
        assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    for version, note in acknowledged:
        assert axes.revision_design(store, axis, version).note == note
    newest = axes.get_axis(store, axis)
    assert newest.version in (acknowledged[-1][0], acknowledged[-1][0] + 1), (
        "at most the one on its way may be there as well"
    )
    store.close()
    with program(tmp_path) as again:
        assert again.ask(f"/axes/{axis}")["version"] == newest.version


def test_a_piece_is_taken_off_a_roll_and_the_offcut_kept(store: Store) -> None:
    key = "roll:roll-g-3-mm-9-mm-wide-5-m"
    drawer.set_stock(store, catalog.parts(), key, 0, 2, 24.0)
    offcut = drawer.cut_roll(store, catalog.parts(), key, 3699.0)
    found = {r.key: r for r in drawer.rows(store, catalog.parts())}
    assert found[key].quantity == 1
    assert found[offcut].data == {"profile": "round-g-3", "width_mm": 9, "cord": "glass", "length_mm": 1301.0}
    assert (found[offcut].source_kind, found[offcut].quantity) == ("measured by you", 1)
    assert drawer.cut_roll(store, catalog.parts(), offcut, 1250.0) == "", "51 mm are scrap"
    assert {r.key: r for r in drawer.rows(store, catalog.parts())}[offcut].quantity == 0


def test_no_roll_is_cut_beyond_what_it_has(store: Store) -> None:
    key = "roll:roll-g-3-mm-9-mm-wide-1-m"
    with pytest.raises(EntryError, match="none of these rolls lies in the drawer"):
        drawer.cut_roll(store, catalog.parts(), key, 100.0)
    drawer.set_stock(store, catalog.parts(), key, 0, 1, None)
    with pytest.raises(EntryError, match="is more than a roll in the drawer has") as caught:
        drawer.cut_roll(store, catalog.parts(), key, 1000.5)
    assert (caught.value.problems[0].limit, caught.value.problems[0].unit) == ("1000", "mm")
    with pytest.raises(NotFoundError):
        drawer.cut_roll(store, catalog.parts(), "washer:washer-m5", 10.0)
    assert drawer.cut_roll(store, catalog.parts(), key, 1000.0) == "", "a whole roll leaves nothing"
