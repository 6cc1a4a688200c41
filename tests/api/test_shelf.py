"""The shelf: one bad axis never shuts it, and what it shows is kept until something that it follows from
changes.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from pydantic import TypeAdapter

from conftest import build
from crisp_cadence.api import shelf as module
from crisp_cadence.api.app import make_app
from crisp_cadence.api.beside import Shelves
from crisp_cadence.api.models import ShelfMachine
from crisp_cadence.store import FILE_NAME, Store, axes

NOW = "2026-11-24T10:00:00.000+00:00"


@pytest.fixture
def store(tmp_path: Path) -> Store:
    return Store(tmp_path)


@pytest.fixture
def client(store: Store) -> Iterator[TestClient]:
    with TestClient(make_app(store), base_url="http://localhost") as made:
        yield made


@pytest.fixture
def machine(store: Store) -> str:
    return axes.add_machine(store, "Bench", "", NOW)


def lines(client: TestClient) -> dict[str, dict[str, Any]]:
    answer = client.get("/api/shelf")
    assert answer.status_code == 200, answer.text
    return {a["name"]: a for x in answer.json() for a in x["axes"]}


def stored_as(store: Store, axis_id: str, text: str) -> None:
    with store.transaction() as db:
        db.execute("UPDATE revision SET design = ? WHERE axis_id = ?", (text, axis_id))


class TestTheDoorStaysOpen:
    def test_what_cannot_be_read_is_a_line_with_its_reason(
        self, client: TestClient, store: Store, machine: str
    ) -> None:
        good = axes.add_axis(store, machine, build(name="Good"), NOW)
        for name, text in (("Empty", '{"name": "Empty"}'), ("Newer", '{"name": "Newer", "version": 2}')):
            stored_as(store, axes.add_axis(store, machine, build(name=name), NOW), text)
        shown = lines(client)
        assert shown["Good"]["id"] == good
        assert shown["Good"]["scene"] is not None
        assert (shown["Empty"]["verdict"], shown["Empty"]["in_words"]) == (
            "cannot be read",
            "chain Field required",
        )
        assert shown["Newer"]["in_words"] == "version was written by a newer version of this program"

    def test_a_heavy_rider_and_an_odd_stage(self, client: TestClient, store: Store, machine: str) -> None:
        low = axes.add_axis(store, machine, build(name="Low"), NOW)
        heavy = axes.add_axis(
            store, machine, build(name="Heavy", moving=[{"mass_kg": 1500.0, "quantity": 2}]), NOW
        )
        axes.set_rides_on(store, heavy, low)
        assert lines(client)["Low"]["verdict"] == "short"
        design = build(name="Heavy").model_dump(mode="json")
        design["chain"].append({"kind": "harmonic drive", "mass_kg": "heavy"})
        stored_as(store, heavy, json.dumps(design))
        with store.transaction() as db:
            db.execute("DELETE FROM shown")
        client.app.state.shelves = Shelves(store)  # type: ignore[attr-defined]
        shown = lines(client)
        assert shown["Low"]["verdict"] == "cannot be worked out"
        assert (
            shown["Low"]["in_words"]
            == "riding cannot be counted: “Heavy” is not a mass that could be counted"
        )
        assert shown["Heavy"]["verdict"] == "cannot be worked out"

    def test_a_fault_of_the_program_itself(
        self, client: TestClient, store: Store, machine: str, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        axes.add_axis(store, machine, build(name="Good"), NOW)

        def broken(*_: object) -> None:
            raise ZeroDivisionError

        monkeypatch.setattr(module, "evaluate", broken)
        assert (
            lines(client)["Good"]["in_words"]
            == "a fault of this program, not of the design (ZeroDivisionError)"
        )

    def test_an_axis_that_cannot_be_read_is_opened_exported_and_taken_off(
        self, client: TestClient, store: Store, machine: str
    ) -> None:
        odd = axes.add_axis(store, machine, build(name="Odd"), NOW)
        stored_as(store, odd, '{"name": "Odd", "version": 7}')
        opened = client.get(f"/api/axes/{odd}").json()
        assert opened["design"] is None
        assert opened["problems"][0]["remedy"] == "Open it with the newer program; nothing was changed."
        assert client.get(f"/api/axes/{odd}/file").text == '{"name": "Odd", "version": 7}'
        assert client.get(f"/api/axes/{odd}/revisions").json()[0]["number"] == 1
        assert (
            client.post(
                f"/api/axes/{odd}/log", json={"on_date": "2026-01-01", "says": "still mine"}
            ).status_code
            == 201
        )
        assert (
            client.post(
                f"/api/axes/{odd}/log",
                json={
                    "on_date": "2026-01-01",
                    "reading": {"how": "pluck", "span_mm": 100.0, "frequency_hz": 80.0},
                },
            ).status_code
            == 422
        )
        assert client.delete(f"/api/axes/{odd}").status_code == 204
        assert lines(client) == {}

    def test_an_earlier_revision_can_be_looked_at_and_returned_to(
        self, client: TestClient, store: Store, machine: str
    ) -> None:
        odd = axes.add_axis(store, machine, build(name="First"), NOW)
        axes.save(store, odd, 1, build(name="Second"), NOW)
        with store.transaction() as db:
            db.execute("UPDATE revision SET design = '{}' WHERE number = 2")
        assert client.get(f"/api/axes/{odd}").json()["design"] is None
        assert client.get(f"/api/axes/{odd}/revisions/1").json()["name"] == "First"
        assert client.get(f"/api/axes/{odd}/revisions/2").status_code == 422
        assert client.get(f"/api/axes/{odd}/revisions/3").status_code == 404
        back = client.post(f"/api/axes/{odd}/restore", json={"base_version": 2, "number": 1}).json()
        assert (back["version"], back["design"]["name"]) == (3, "First")


class TestWhatIsKept:
    def count(self, monkeypatch: pytest.MonkeyPatch) -> list[str]:
        worked: list[str] = []
        real = module.evaluate

        def counted(design: Any, profiles: Any) -> Any:
            worked.append(design.name)
            return real(design, profiles)

        monkeypatch.setattr(module, "evaluate", counted)
        return worked

    def test_nothing_is_worked_out_twice_nor_after_a_start(
        self, client: TestClient, store: Store, machine: str, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        worked = self.count(monkeypatch)
        low, high = (axes.add_axis(store, machine, build(name=n), NOW) for n in ("Low", "High"))
        axes.set_rides_on(store, high, low)
        first = lines(client)
        assert sorted(worked) == ["High", "Low"]
        assert lines(client) == first
        client.app.state.shelves = Shelves(store)  # type: ignore[attr-defined]
        assert lines(client) == first
        assert len(worked) == 2

    def test_a_save_makes_the_axis_and_all_beneath_it_anew(
        self, client: TestClient, store: Store, machine: str, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        low, mid, high, other = (
            axes.add_axis(store, machine, build(name=n), NOW) for n in ("Low", "Mid", "High", "Other")
        )
        axes.set_rides_on(store, mid, low)
        axes.set_rides_on(store, high, mid)
        lines(client)
        worked = self.count(monkeypatch)
        axes.save(store, high, 1, build(name="High", moving=[{"mass_kg": 1.75}]), NOW)
        lines(client)
        assert sorted(worked) == ["High", "Low", "Mid"]
        worked.clear()
        axes.set_rides_on(store, high, other)
        lines(client)
        assert {"Low", "Mid", "Other"} <= set(worked)

    def test_another_program_or_catalogue_makes_all_anew(
        self, client: TestClient, store: Store, machine: str, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        axes.add_axis(store, machine, build(name="One"), NOW)
        lines(client)
        worked = self.count(monkeypatch)
        monkeypatch.setattr(module, "_program", lambda: "another")
        client.app.state.shelves = Shelves(store)  # type: ignore[attr-defined]
        lines(client)
        assert worked == ["One"]

    def test_a_log_entry_shows_at_once(self, client: TestClient, store: Store, machine: str) -> None:
        axis = axes.add_axis(store, machine, build(name="One"), NOW)
        lines(client)
        for day, says in (("2026-03-01", "second"), ("2026-02-01", "first")):
            client.post(f"/api/axes/{axis}/log", json={"on_date": day, "says": says})
        assert lines(client)["One"]["last_log"]["says"] == "second"

    def test_it_shows_under_a_foreign_lock_too(
        self, client: TestClient, store: Store, machine: str, tmp_path: Path
    ) -> None:
        axes.add_axis(store, machine, build(name="One"), NOW)
        other = sqlite3.connect(tmp_path / FILE_NAME, isolation_level=None)
        other.execute("BEGIN IMMEDIATE")
        assert lines(client)["One"]["verdict"]
        other.close()

    def test_lines_that_cannot_be_read_are_made_again(
        self, client: TestClient, store: Store, machine: str
    ) -> None:
        axes.add_axis(store, machine, build(name="One"), NOW)
        first = lines(client)
        with store.transaction() as db:
            db.execute("UPDATE shown SET line = '{\"verdict\": 7}'")
        client.app.state.shelves = Shelves(store)  # type: ignore[attr-defined]
        assert lines(client) == first


def test_the_shelf_answers_as_its_description_says(client: TestClient, store: Store, machine: str) -> None:
    """The answer is put together from pieces that stand ready; it reads as the model all the same, whatever
    is in a name.
    """
    axes.add_machine(store, 'A "machine", {empty}', "note \\ with [signs]", NOW)
    axis = axes.add_axis(store, machine, build(name='"Quoted", \n{}'), NOW)
    axes.add_axis(store, machine, build(name="Bad", guide={"rail_mm": 20.0}), NOW)
    client.post(f"/api/axes/{axis}/log", json={"on_date": "2026-01-01", "says": 'said "so"'})
    got = TypeAdapter(list[ShelfMachine]).validate_json(client.get("/api/shelf").content, strict=False)
    assert [[a.name for a in x.axes] for x in got] == [['"Quoted", \n{}', "Bad"], []]
    assert got[0].axes[0].last_log is not None
    assert got[1].note == "note \\ with [signs]"


class TestWhatTheFileRefuses:
    def test_words_and_503(self, client: TestClient, store: Store, machine: str, tmp_path: Path) -> None:
        axis = axes.add_axis(store, machine, build(name="One"), NOW)
        for piece in tmp_path.iterdir():
            piece.unlink()
        assert client.get("/api/store").json()["cause"] == "gone"
        answer = client.put(
            f"/api/axes/{axis}", json={"base_version": 1, "design": build(name="Two").model_dump(mode="json")}
        )
        assert answer.status_code == 503
        assert answer.json()["code"] == "gone"
        assert "was deleted, moved or replaced" in answer.json()["detail"]
        assert client.post("/api/store/rescue").json()["rows"]["axis"] == 1
        state = client.get("/api/store").json()
        assert (state["file"], state["cause"], state["says"], state["revisions"]) == (
            str(tmp_path / FILE_NAME),
            None,
            "",
            1,
        )

    def test_an_error_of_sqlite_that_nobody_foresaw(
        self, client: TestClient, store: Store, machine: str
    ) -> None:
        with store.transaction() as db:
            db.execute("ALTER TABLE log_entry RENAME TO elsewhere")
        axis = axes.add_axis(store, machine, build(name="One"), NOW)
        answer = client.get(f"/api/axes/{axis}/log")
        assert (answer.status_code, answer.json()["detail"]) == (
            503,
            "crisp-cadence.sqlite3 could not be used (SQLITE_ERROR).",
        )

    def test_the_last_copy_is_named_beside_what_is_wrong(self, tmp_path: Path) -> None:
        with sqlite3.connect(tmp_path / FILE_NAME) as db:
            for step in ("001_start.sql", "002_riding.sql"):
                db.executescript(Path(axes.__file__).parent.joinpath("migrations", step).read_text())
            db.execute("PRAGMA user_version = 2")
            db.executemany(
                "INSERT INTO machine (id, name, note, created_at) VALUES (?, ?, ?, ?)",
                [(f"{n:012x}", "M", "n" * 900, NOW) for n in range(40)],
            )
        db.close()
        Store(tmp_path).close()
        data = bytearray((tmp_path / FILE_NAME).read_bytes())
        middle = data.index(b"n" * 900) // 4096 * 4096
        data[middle : middle + 4096] = b"\xa5" * 4096
        (tmp_path / FILE_NAME).write_bytes(data)
        with TestClient(make_app(tmp_path), base_url="http://localhost") as client:
            told = client.get("/api/store").json()
            assert (told["cause"], told["last_copy"]) == ("damaged", "crisp-cadence.before-3.sqlite3")
            assert client.post("/api/machines", json={"name": "X"}).status_code == 503


@pytest.mark.parametrize("hub", [8.0, 7.5])
def test_a_press_fit_on_too_small_a_hub_is_refused_everywhere(client: TestClient, hub: float) -> None:
    """It answered 500, and One change broke off as a network error."""
    pulley = {"hub_mm": hub, "bore_mm": 5.0, "fixing": {"kind": "press fit"}}
    design = build(chain__0__shaft_mm=8.0, end__pulley=pulley).model_dump(mode="json")
    for path, body in (
        ("evaluate", design),
        ("edit?belt=true", design),
        ("change", {"design": design}),
        ("ways", {"design": design}),
        ("search", {"design": design}),
    ):
        answer = client.post(f"/api/{path}", json=body)
        assert (answer.status_code, answer.json()["problems"][0]["field"]) == (422, "end.pulley.hub_mm"), path


def test_work_that_breaks_off_says_so_in_its_last_line(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> Iterator[float]:
        yield 0.0
        raise ZeroDivisionError

    monkeypatch.setattr("crisp_cadence.api.routes.choosing.trying", broken)
    answer = client.post("/api/change", json={"design": build().model_dump(mode="json")})
    assert answer.status_code == 200
    last = json.loads(answer.text.strip().splitlines()[-1])
    assert last == {
        "done": 1.0,
        "answer": None,
        "failed": "A fault of this program, not of the design (ZeroDivisionError).",
    }


def test_a_part_is_taken_over_the_wire(client: TestClient) -> None:
    design = build().model_dump(mode="json")
    got = client.post(
        "/api/take", json={"design": design, "at": "chain.0", "key": "stepper:stepper-nema-23-56"}
    ).json()
    assert got["changes"]["chain.0.label"] == "Stepper NEMA 23 × 56"
    assert got["assumed"] == []
    refused = client.post(
        "/api/take", json={"design": design, "at": "end.belt", "key": "stepper:stepper-nema-23-56"}
    )
    assert (refused.status_code, refused.json()["problems"][0]["message"]) == (422, "does not take a stepper")


def test_a_machine_says_what_its_axes_cost_together(client: TestClient, store: Store, machine: str) -> None:
    """The sums of its lines; an axis that cannot be read is counted as left out, and money of two currencies is
    not added up.
    """

    def sums() -> dict[str, Any]:
        return dict(client.get("/api/shelf").json()[0]["sums"])

    assert sums() == {
        "total": None,
        "spend": None,
        "about": False,
        "unpriced": 0,
        "left_out": 0,
        "currency": "",
    }
    axes.add_axis(store, machine, build(name="One"), NOW)
    axes.add_axis(store, machine, build(name="Two"), NOW)
    shown = lines(client).values()
    for name in ("total", "spend"):
        assert sums()[name] == pytest.approx(sum(round(x[name], 2) for x in shown))  # as they are shown
    assert sums()["about"] == any(x["about"] for x in shown)
    assert sums()["currency"] == "€"
    total = sums()["total"]
    stored_as(store, axes.add_axis(store, machine, build(name="Bad"), NOW), "{}")
    assert sums()["left_out"] == 1
    assert sums()["total"] == pytest.approx(total)
    other = build(name="Three", aim__currency="kr")
    axes.add_axis(store, machine, other, NOW)
    assert sums()["total"] is None
    assert sums()["currency"] == "kr, €"
    # They are the same once the lines come from what was kept.
    before = sums()
    client.app.state.shelves = Shelves(store)  # type: ignore[attr-defined]
    assert sums() == before
