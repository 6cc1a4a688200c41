"""Every revision is reached, what was taken off is found again, and old revisions go only when asked, each
for a reason.
"""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path

import pytest

from conftest import build
from crisp_cadence.core.ledger.errors import NotFoundError, StoreError
from crisp_cadence.store import FILE_NAME, Store, axes, history, log

NOW = "2026-11-26T10:00:00.000+00:00"


def at(days_ago: float) -> str:
    return (datetime.fromisoformat(NOW) - timedelta(days=days_ago)).isoformat(timespec="milliseconds")


def an_axis(store: Store, saves: list[tuple[float, str]]) -> str:
    """An axis begun 100 days ago and saved so many days ago, each with its word."""
    axis = axes.add_axis(store, axes.add_machine(store, "Bench", "", at(100)), build(note="begun"), at(100))
    for number, (ago, why) in enumerate(saves, start=1):
        axes.save(store, axis, number, build(note=f"save {number}"), at(ago), why)
    return axis


def numbers(store: Store, axis: str) -> list[int]:
    return [r.number for r in axes.revisions(store, axis, most=500)]


def test_every_revision_is_reached_page_by_page(store: Store) -> None:
    axis = an_axis(store, [(1, "")] * 250)
    found: list[int] = []
    while page := axes.revisions(store, axis, before=found[-1] if found else None, most=100):
        assert len(page) <= 100
        found += [r.number for r in page]
    assert found == list(range(251, 0, -1))


class TestThinning:
    def test_what_stays_and_why(self, store: Store) -> None:
        axis = an_axis(
            store,
            [
                (90.2, ""),
                (90.1, ""),  # 2 goes, 3 is the last of its day
                (80.3, "Tensioner moved"),
                (80.2, ""),
                (80.1, ""),  # 4 has a word to it, 5 goes, 6 is the last of its day
                (70.3, ""),
                (70.2, ""),  # 7 has a log entry, 8 is the last
                (10.3, ""),
                (10.2, ""),
                (10.1, ""),  # younger than 30 days
            ],
        )
        with store.transaction() as db:
            db.execute(
                "INSERT INTO log_entry (id, axis_id, revision, on_date, kind, says, created_at) "
                "VALUES ('e', ?, 7, '2026-09-17', 'note', 'x', ?)",
                (axis, NOW),
            )
        assert history.would_thin(store, 30, NOW).revisions == 2
        assert len(numbers(store, axis)) == 11, "asking takes nothing away"
        done = history.thin(store, 30, NOW)
        assert done.revisions == 2
        assert numbers(store, axis) == [11, 10, 9, 8, 7, 6, 4, 3, 1]
        assert history.would_thin(store, 30, NOW).revisions == 0
        assert axes.get_axis(store, axis).whole().note == "save 10"
        assert axes.save(store, axis, 11, build(note="on"), NOW) == 12, "and work goes on"
        assert log.entries(store, axis)[0].revision == 7

    def test_what_stands_stays_however_old(self, store: Store) -> None:
        axis = an_axis(store, [(90.2, ""), (90.1, "")])
        axes.save(store, axis, 3, build(note="now"), at(90.05))
        history.thin(store, 0, NOW)
        assert numbers(store, axis) == [4, 1]

    def test_a_copy_of_all_is_set_aside_first(self, store: Store, tmp_path: Path) -> None:
        axis = an_axis(store, [(90 - n / 1000, "") for n in range(200)])
        before = history.size(store)
        done = history.thin(store, 30, NOW)
        assert done.revisions == 199
        assert before.revisions == 201
        assert history.size(store).revisions == 2
        assert history.size(store).bytes < before.bytes - done.bytes / 2, "the disk gets its room back"
        with closing(sqlite3.connect(tmp_path / done.copy)) as copy:
            assert copy.execute("SELECT count(*) FROM revision WHERE axis_id = ?", (axis,)).fetchone() == (
                201,
            )
        assert (tmp_path / done.copy).stat().st_mode & 0o777 == 0o600

    def test_where_nothing_would_go_nothing_is_done(self, store: Store, tmp_path: Path) -> None:
        an_axis(store, [(1, ""), (1, "")])
        assert history.thin(store, 30, NOW) == history.Thinned(0, 0, "")
        assert {p.name for p in tmp_path.iterdir()} == {FILE_NAME, f"{FILE_NAME}-wal", f"{FILE_NAME}-shm"}

    def test_a_copy_that_cannot_be_made_stops_it(self, store: Store, monkeypatch: pytest.MonkeyPatch) -> None:
        axis = an_axis(store, [(90.2, ""), (90.1, "")] * 3)
        count = len(numbers(store, axis))

        def full(*_: object) -> None:
            raise sqlite3.OperationalError("disk is full")

        monkeypatch.setattr(Store, "set_aside", full)
        with pytest.raises(StoreError):
            history.thin(store, 30, NOW)
        assert len(numbers(store, axis)) == count


class TestWhatWasTakenOff:
    def test_machines_and_single_axes_newest_first(self, store: Store) -> None:
        one, two = axes.add_machine(store, "One", "", NOW), axes.add_machine(store, "Two", "", NOW)
        a, b = (axes.add_axis(store, one, build(name=n), NOW) for n in "AB")
        axes.add_axis(store, two, build(name="C"), NOW)
        assert axes.off_shelf(store) == []
        axes.remove_axis(store, a, at(2))
        axes.set_machine_removed(store, two, at(1))
        assert [(o.what, o.name, o.machine, o.axes) for o in axes.off_shelf(store)] == [
            ("machine", "Two", "Two", 1),
            ("axis", "A", "One", 1),
        ]
        axes.set_machine_removed(store, one, NOW)
        assert [(o.what, o.name, o.axes) for o in axes.off_shelf(store)] == [
            ("machine", "One", 1),
            ("machine", "Two", 1),
        ], "an axis that was off before comes up again once its machine is back"
        axes.set_machine_removed(store, one, None)
        axes.put_axis_back(store, a)
        assert [o.name for o in axes.off_shelf(store)] == ["Two"]
        assert set(axes.places(store)) == {a, b}

    def test_one_that_cannot_be_read_is_there_too(self, store: Store) -> None:
        axis = an_axis(store, [])
        with store.transaction() as db:
            db.execute("UPDATE revision SET design = '{'")
        axes.remove_axis(store, axis, NOW)
        assert [o.name for o in axes.off_shelf(store)] == [axes.NO_NAME]
        with pytest.raises(NotFoundError):
            axes.get_axis(store, axis)
