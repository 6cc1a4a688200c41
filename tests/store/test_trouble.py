"""One sentence for each cause, told apart by SQLite's own codes: full, locked, read-only, not ours, newer,
damaged, gone.
"""

from __future__ import annotations

import os
import resource
import signal
import sqlite3
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

import pytest

from conftest import build
from crisp_cadence import catalog, demo
from crisp_cadence.core.ledger.errors import ConflictError, EntryError, StoreError
from crisp_cadence.store import FILE_NAME, PATIENCE_S, Store, axes, drawer
from crisp_cadence.store.rescue import rescue

NOW = "2026-11-24T10:00:00.000+00:00"


def an_axis(store: Store) -> str:
    return axes.add_axis(store, axes.add_machine(store, "Bench", "", NOW), build(), NOW)


def refusal(do: Callable[[], object]) -> StoreError:
    with pytest.raises(StoreError) as caught:
        do()
    return caught.value


def in_child(do: Callable[[], str]) -> str:
    """What a child process says; limits and rights that it takes on stay its own."""
    read, write = os.pipe()
    child = os.fork()
    if child == 0:
        try:
            os.write(write, do().encode())
        finally:
            os._exit(0)
    os.close(write)
    with os.fdopen(read, encoding="utf-8") as said:
        text = said.read()
    os.waitpid(child, 0)
    return text


def said(do: Callable[[], object]) -> str:
    try:
        do()
    except StoreError as error:
        return f"{error.cause}: {error}"
    return "done"


class TestADiskThatIsFull:
    def test_the_page_limit_of_sqlite_itself(self, store: Store) -> None:
        axis = an_axis(store)
        with store.transaction() as db:
            pages = db.execute("PRAGMA page_count").fetchone()[0]
            db.execute(f"PRAGMA max_page_count = {pages + 1}")
        long = build(note="x" * 3000)
        found = refusal(
            lambda: [
                axes.save(store, axis, v, long.model_copy(update={"name": f"N{v}"}), NOW)
                for v in range(1, 40)
            ]
        )
        assert (found.cause, str(found)) == (
            "full",
            f"The disk is full: {FILE_NAME} could not be written. What was saved before is safe. "
            f"Make room on the disk.",
        )
        before = axes.get_axis(store, axis)
        with store.transaction() as db:
            db.execute("PRAGMA max_page_count = 1000000")
        assert axes.save(store, axis, before.version, build(name="Room again"), NOW) == before.version + 1

    def test_a_limit_on_the_size_of_files(self, tmp_path: Path) -> None:
        store = Store(tmp_path)
        axis = an_axis(store)
        store.close()

        def limited() -> str:
            again = Store(tmp_path)
            signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
            resource.setrlimit(resource.RLIMIT_FSIZE, (20_000, 20_000))
            long = build(note="y" * 3900)
            return said(
                lambda: [
                    axes.save(again, axis, v, long.model_copy(update={"name": f"N{v}"}), NOW)
                    for v in range(1, 20)
                ]
            )

        words = in_child(limited)
        assert words.startswith(
            "not written: The disk did not take what was to be written to crisp-cadence.sqlite3 (SQLITE_IOERR"
        ), words
        again = Store(tmp_path)
        assert axes.get_axis(again, axis).design is not None
        again.close()


class TestAForeignLock:
    def test_a_save_waits_two_seconds_and_looks_go_on_meanwhile(self, store: Store, tmp_path: Path) -> None:
        axis = an_axis(store)
        other = sqlite3.connect(tmp_path / FILE_NAME, isolation_level=None)
        other.execute("BEGIN IMMEDIATE")
        looks: list[float] = []
        begun = time.monotonic()
        saving = threading.Thread(
            target=lambda: (
                looks.append(-1.0)
                if said(lambda: axes.save(store, axis, 1, build(name="B"), NOW))[:6] == "locked"
                else None
            )
        )
        second = threading.Thread(target=lambda: said(lambda: axes.add_machine(store, "C", "", NOW)))
        saving.start()
        second.start()
        while saving.is_alive():
            axes.get_axis(store, axis)
            looks.append(time.monotonic())
        second.join()
        waited = time.monotonic() - begun
        assert -1.0 in looks, "the save said that another program has locked the file"
        assert len(looks) > 20, "looks went on while it waited"
        assert PATIENCE_S * 0.9 < waited < PATIENCE_S * 2, (
            "two saves that wait do not wait one after the other"
        )
        other.execute("ROLLBACK")
        other.close()
        assert axes.save(store, axis, 1, build(name="B"), NOW) == 2

    def test_its_words(self, store: Store, tmp_path: Path) -> None:
        other = sqlite3.connect(tmp_path / FILE_NAME, isolation_level=None)
        other.execute("BEGIN IMMEDIATE")
        with (
            pytest.raises(
                StoreError, match=r"^Another program has locked crisp-cadence.sqlite3. Close it there.$"
            ),
            store.transaction(0.0),
        ):
            pass
        other.close()


class TestFoldersAndFiles:
    def test_a_folder_that_is_a_file(self, tmp_path: Path) -> None:
        (tmp_path / "data").write_text("here first")
        assert (
            str(refusal(lambda: Store(tmp_path / "data")))
            == f"{tmp_path / 'data'} is a file, not a folder. Choose another folder with --data."
        )
        assert refusal(lambda: Store(tmp_path / "data" / "deeper")).cause == "not a folder"

    def test_a_folder_that_may_only_be_read(self) -> None:
        """As a user without rights: root may write anywhere, so the child becomes nobody first."""
        with tempfile.TemporaryDirectory() as name:
            empty, filled = Path(name) / "empty", Path(name) / "filled"
            Store(filled).close()
            empty.mkdir()
            (filled / FILE_NAME).chmod(0o444)
            for folder, rights in ((empty, 0o555), (filled, 0o555), (Path(name), 0o755)):
                folder.chmod(rights)

            def as_nobody() -> str:
                if os.getuid() == 0:
                    os.setgid(65534)
                    os.setuid(65534)
                return said(lambda: Store(empty)) + "\n" + said(lambda: Store(filled))

            first, second = in_child(as_nobody).split("\n")
            for line, folder in ((first, empty), (second, filled)):
                assert line == (
                    f"read only: {FILE_NAME} in {folder} may only be read, not written. Change its "
                    f"rights, or choose another folder with --data."
                )
            filled.chmod(0o755)
            empty.chmod(0o755)

    def test_a_file_of_a_newer_version_keeps_every_byte(self, tmp_path: Path) -> None:
        Store(tmp_path).close()
        with sqlite3.connect(tmp_path / FILE_NAME) as db:
            db.execute("PRAGMA user_version = 99")
        db.close()
        before = (tmp_path / FILE_NAME).read_bytes()
        found = refusal(lambda: Store(tmp_path))
        assert found.cause == "newer"
        assert str(found).startswith(
            "crisp-cadence.sqlite3 was written by a newer version of this program (its format is 99, "
            "this one knows "
        )
        assert "Move it aside" not in str(found)
        assert (tmp_path / FILE_NAME).read_bytes() == before

    def test_moving_aside_is_said_only_of_what_is_not_ours(self, tmp_path: Path) -> None:
        (tmp_path / "text").mkdir()
        (tmp_path / "text" / FILE_NAME).write_text("not a database, but long enough to look like one" * 30)
        (tmp_path / "other").mkdir()
        with sqlite3.connect(tmp_path / "other" / FILE_NAME) as db:
            db.execute("CREATE TABLE t (a)")
        db.close()
        assert "Move it aside" in str(refusal(lambda: Store(tmp_path / "text")))
        assert "Move it aside" in str(refusal(lambda: Store(tmp_path / "other")))
        (tmp_path / "text" / "crisp-cadence.before-3.sqlite3").write_bytes(b"")
        assert str(refusal(lambda: Store(tmp_path / "text"))).endswith(
            "The newest copy that was set aside is crisp-cadence.before-3.sqlite3."
        )

    def test_starts_at_the_same_time_simply_work(self, tmp_path: Path) -> None:
        """Threads here, processes in tests/api/test_program.py."""
        for turn in range(6):
            opened: list[Store | Exception] = []

            def start(folder: Path = tmp_path / str(turn), opened: list[Store | Exception] = opened) -> None:
                try:
                    opened.append(Store(folder))
                    axes.add_machine(opened[-1], "M", "", NOW)  # type: ignore[arg-type]
                except StoreError as error:
                    opened.append(error)

            starts = [threading.Thread(target=start) for _ in range(4)]
            for s in starts:
                s.start()
            for s in starts:
                s.join()
            stores = [o for o in opened if isinstance(o, Store)]
            assert len(stores) == 4, opened
            assert len(axes.machines(stores[0])) == 4
            for o in stores:
                o.close()


class TestAFileThatGoes:
    @pytest.mark.parametrize("ending", ["", "-wal", "-shm"])
    def test_is_noticed_at_the_next_save_and_can_be_written_again(
        self, store: Store, tmp_path: Path, ending: str
    ) -> None:
        axis = an_axis(store)
        Path(f"{tmp_path / FILE_NAME}{ending}").unlink()
        found = refusal(lambda: axes.save(store, axis, 1, build(name="Later"), NOW))
        assert (
            str(found)
            == f"{FILE_NAME} was deleted, moved or replaced while the program ran. What it held is "
            f"still open here."
        )
        assert store.state() is not None
        assert axes.get_axis(store, axis).design is not None, "what it held can still be looked at"
        done = rescue(store)
        assert done.rows["axis"] == 1
        assert store.state() is None
        assert axes.save(store, axis, 1, build(name="Later"), NOW) == 2
        again = Store(tmp_path)
        assert axes.get_axis(again, axis).whole().name == "Later"
        again.close()

    def test_a_folder_that_goes_with_it(self, tmp_path: Path) -> None:
        store = Store(tmp_path / "data")
        axis = an_axis(store)
        for piece in (tmp_path / "data").iterdir():
            piece.unlink()
        (tmp_path / "data").rmdir()
        assert refusal(lambda: axes.save(store, axis, 1, build(name="Later"), NOW)).cause == "gone"
        (tmp_path / "data").write_text("a file where the folder was")
        assert refusal(lambda: rescue(store)).cause == "not written"
        (tmp_path / "data").unlink()
        assert rescue(store).rows["revision"] == 1
        store.close()

    def test_a_file_put_in_its_place_is_kept_under_another_name(self, store: Store, tmp_path: Path) -> None:
        axis = an_axis(store)
        (tmp_path / "new").write_bytes(b"of somebody else")
        (tmp_path / "new").replace(tmp_path / FILE_NAME)
        assert refusal(lambda: axes.save(store, axis, 1, build(name="B"), NOW)).cause == "gone"
        assert (tmp_path / rescue(store).kept).read_bytes() == b"of somebody else"


class TestADamagedFile:
    def spoil(self, path: Path, table: str, how_many: int = 1) -> None:
        """Overwrite leaf pages of a table's own tree with noise, as a failing disk does."""
        with sqlite3.connect(path) as db:
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            size = db.execute("PRAGMA page_size").fetchone()[0]
            pages = self.leaves(
                path,
                db.execute("SELECT rootpage FROM sqlite_master WHERE name = ?", (table,)).fetchone()[0],
                size,
            )
        db.close()
        with path.open("r+b") as file:
            for page in pages[1 : 1 + how_many]:
                file.seek((page - 1) * size)
                file.write(b"\xa5" * size)

    def leaves(self, path: Path, root: int, size: int) -> list[int]:
        """Leaf pages of a table tree, by the file format's own description (interior pages are of type 5,
        leaves of type 13).
        """
        data = path.read_bytes()

        def walk(page: int) -> list[int]:
            at = (page - 1) * size + (100 if page == 1 else 0)
            if data[at] == 13:
                return [page]
            cells = int.from_bytes(data[at + 3 : at + 5])
            children = [int.from_bytes(data[at + 12 + 2 * i : at + 14 + 2 * i]) for i in range(cells)]
            kids = [int.from_bytes(data[(page - 1) * size + c : (page - 1) * size + c + 4]) for c in children]
            return [leaf for kid in (*kids, int.from_bytes(data[at + 8 : at + 12])) for leaf in walk(kid)]

        return walk(root)

    def damaged(self, folder: Path) -> tuple[str, str]:
        store = Store(folder)
        demo.fill(store)
        first = axes.machines(store)[0].axes[0]
        for version in range(1, 30):
            axes.save(
                store,
                first,
                version,
                axes.get_axis(store, first).whole().model_copy(update={"note": f"turn {version}"}),
                NOW,
            )
        last = axes.machines(store)[-1].axes[-1]
        store.close()
        self.spoil(folder / FILE_NAME, "revision")
        return first, last

    def test_opens_for_reading_only_and_what_can_be_read_is_rescued(self, tmp_path: Path) -> None:
        self.damaged(tmp_path)
        store = Store(tmp_path)
        assert store.damage is not None
        assert str(store.damage).startswith(f"{FILE_NAME} is damaged (")
        assert "Move it aside" not in str(store.damage)
        machines = axes.machines(store)
        assert len(machines) == len(demo.MACHINES)
        assert refusal(lambda: axes.add_machine(store, "X", "", NOW)) is store.damage
        before = (tmp_path / FILE_NAME).read_bytes()
        done = rescue(store)
        assert (tmp_path / done.kept).read_bytes() == before, "the damaged file is kept as it was"
        assert store.damage is None
        assert done.rows["machine"] == len(machines)
        assert done.rows["axis"] + done.lost_axes == 16
        assert done.rows["axis"] >= 16 - 8, (
            "a page holds the beginnings of eight designs at most, and most axes have but one revision"
        )
        readable = [axes.get_axis(store, a) for x in axes.machines(store) for a in x.axes]
        assert all(a.design is not None for a in readable)
        assert {r.key: r.quantity for r in drawer.rows(store, catalog.parts())}["washer:washer-m5"] == 100
        with store.reading() as db:
            assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            assert db.execute("PRAGMA foreign_key_check").fetchall() == []
        assert axes.add_machine(store, "X", "", NOW)
        store.close()

    @pytest.mark.parametrize("table", ["machine", "axis", "log_entry", "stock"])
    def test_whatever_table_is_broken_the_designs_come_out(self, tmp_path: Path, table: str) -> None:
        store = Store(tmp_path)
        demo.fill(store)
        for number in range(120):  # enough that each table has several pages
            machine = axes.add_machine(store, f"Machine {number}", "n" * 300, NOW)
            axis = axes.add_axis(store, machine, build(name=f"Axis {number}"), NOW)
            from crisp_cadence.store import log

            log.add(store, axis, "2026-01-01", "note", "s" * 300, None, None, NOW)
        store.close()
        self.spoil(tmp_path / FILE_NAME, table, 2)
        store = Store(tmp_path)
        assert store.damage is not None
        done = rescue(store)
        assert done.rows["revision"] == 136
        assert done.rows["axis"] == 136, "an axis whose own row is broken stands on a machine called Rescued"
        with store.reading() as db:
            assert db.execute("PRAGMA foreign_key_check").fetchall() == []
        names = {axes.get_axis(store, a).whole().name for x in axes.machines(store) for a in x.axes}
        assert {f"Axis {n}" for n in range(120)} <= names
        store.close()

    def test_a_sound_file_is_not_rescued(self, store: Store) -> None:
        with pytest.raises(EntryError, match="is sound: there is nothing to rescue"):
            rescue(store)


class TestVersionsOfStockAndMachines:
    def test_a_second_window_cannot_overwrite_quantity_and_price(self, store: Store) -> None:
        key = "washer:washer-m5"
        assert drawer.set_stock(store, catalog.parts(), key, 0, 10, None) == 1
        with pytest.raises(ConflictError, match="Another window has changed this part meanwhile") as caught:
            drawer.set_stock(store, catalog.parts(), key, 0, 4, None)
        assert caught.value.current_version == 1
        assert drawer.set_stock(store, catalog.parts(), key, 0, 10, None) == 1, (
            "the same once more changes nothing: an answer may have been lost"
        )
        assert drawer.set_stock(store, catalog.parts(), key, 1, 4, 0.5) == 2
        assert {r.key: (r.quantity, r.version) for r in drawer.rows(store, catalog.parts())}[key] == (4, 2)

    def test_a_second_window_cannot_overwrite_a_name(self, store: Store) -> None:
        machine = axes.add_machine(store, "Bench", "", NOW)
        assert axes.rename_machine(store, machine, 1, "Saw", "") == 2
        with pytest.raises(ConflictError, match="Another window has changed this machine meanwhile"):
            axes.rename_machine(store, machine, 1, "Drill", "")
        assert [(x.name, x.version) for x in axes.machines(store)] == [("Saw", 2)]
