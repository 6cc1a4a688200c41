"""Once is once: an act is done for its key once, whatever is asked again; and the small promises of the API."""

from __future__ import annotations

import logging
import re
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from conftest import PLAIN
from crisp_cadence import commands
from crisp_cadence.api import examples
from crisp_cadence.api.app import make_app
from crisp_cadence.store import Store, acts

KEY = {"act-key": "a-key-of-its-own"}
# What may be done twice without harm: why stands beside each.
HARMLESS = {
    "thin": "what is thinned out already is not thinned again",
    "rescue_store": "a file that is sound is not rescued",
    "adopt_copy": "a shelf that holds machines is not replaced",
}


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(make_app(tmp_path / "data"), base_url="http://127.0.0.1") as made:
        yield made


@pytest.fixture
def machine(client: TestClient) -> str:
    return str(client.post("/api/machines", json={"name": "Bench"}).json()["id"])


@pytest.fixture
def axis(client: TestClient, machine: str) -> str:
    return str(client.post(f"/api/machines/{machine}/import", json=PLAIN).json()["id"])


def test_whatever_stores_something_takes_a_key(client: TestClient) -> None:
    """A new route that changes something is an `act`, or says here why it may be done twice."""
    lacking = []
    for path, ways in client.get("/api/openapi.json").json()["paths"].items():
        for method, operation in ways.items():
            keyed = any(p["name"] == "act-key" for p in operation.get("parameters", ()))
            harmless = "nothing is stored" in operation.get("description", "").lower().replace("\n", " ")
            reads = method == "get" or operation["operationId"] in HARMLESS
            if not (keyed or harmless or reads) and re.search(r"/(axes|machines|drawer|store)", path):
                lacking.append((method, path))
    assert lacking == [("post", "/api/axes/{axis_id}/work")], "it works an order out, and stores nothing"


@pytest.mark.parametrize("kind", ["log", "axis", "import", "machine", "cut", "part", "parcel"])
def test_the_same_key_again_answers_as_the_first_time_did(
    client: TestClient, machine: str, axis: str, kind: str
) -> None:
    roll = examples.ROLL
    client.put(f"/api/drawer/{roll}", json={"base_version": 0, "quantity": 3, "price": None})
    method, path, body = {
        "log": ("POST", f"/axes/{axis}/log", {"on_date": "2026-12-02", "says": "Creaks"}),
        "axis": ("POST", f"/machines/{machine}/axes", {"name": "Lift"}),
        "import": ("POST", f"/machines/{machine}/import", PLAIN),
        "machine": ("POST", "/machines", {"name": "Another"}),
        "cut": ("POST", "/drawer/cut", {"key": roll, "length_mm": 300.0}),
        "part": ("POST", "/drawer", examples.BODIES["post", "/drawer"]),
        "parcel": (
            "PUT",
            f"/machines/{machine}/plan",
            {"base_version": 1, "plan": {"bought": [{"what": "Belts"}]}},
        ),
    }[kind]

    def all_there() -> Any:
        return [
            client.get(f"/api{p}").json()
            for p in ("/shelf", f"/axes/{axis}/log", "/drawer", f"/machines/{machine}/file")
        ]

    first = client.request(method, f"/api{path}", json=body, headers=KEY)
    assert first.status_code < 300, first.text
    after = all_there()
    again = client.request(method, f"/api{path}", json=body, headers=KEY)
    assert (again.status_code, again.json()) == (first.status_code, first.json())
    assert all_there() == after
    other = client.request(method, f"/api{path}", json=body, headers={"act-key": "another-key"})
    assert all_there() != after or other.status_code == 409, "another key is another act"


def test_a_key_serves_one_act_alone(client: TestClient, axis: str) -> None:
    path = f"/api/axes/{axis}/log"
    client.post(path, json={"on_date": "2026-12-02", "says": "One"}, headers=KEY)
    refused = client.post(path, json={"on_date": "2026-12-02", "says": "Two"}, headers=KEY)
    assert refused.status_code == 422
    assert refused.json()["problems"][0]["field"] == "act-key"
    assert (
        client.post(path, json={"on_date": "2026-12-02", "says": "x"}, headers={"act-key": "?"}).status_code
        == 422
    )
    assert [e["says"] for e in client.get(path).json()] == ["One"]


def test_what_was_refused_may_be_tried_again_with_its_key(client: TestClient, axis: str) -> None:
    path = f"/api/axes/{axis}/log"
    assert client.post(path, json={"on_date": "2026-12-02"}, headers=KEY).status_code == 422
    assert client.post(path, json={"on_date": "2026-12-02", "says": "Now"}, headers=KEY).status_code == 201


def test_many_at_once_with_one_key_do_it_once(tmp_path: Path) -> None:
    store = Store(tmp_path)
    done: list[int] = []

    def act() -> str:
        done.append(1)
        return str(len(done))

    answers: list[str] = []
    now = "2026-12-02T10:00:00.000+00:00"
    threads = [
        threading.Thread(target=lambda: answers.append(acts.once(store, "one-key-for-all", "x", now, act)))
        for _ in range(12)
    ]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert (done, set(answers), len(answers)) == ([1], {"1"}, 12)
    acts.once(store, "a-later-key", "x", "2027-03-02T10:00:00.000+00:00", act)
    with store.reading() as db:
        assert [r["key"] for r in db.execute("SELECT key FROM act").fetchall()] == ["a-later-key"]
    store.close()


def test_a_machine_s_plan_goes_back_through_its_revisions(client: TestClient, machine: str) -> None:
    for version, budget in enumerate((10.0, 20.0, 30.0), 1):
        body = {"base_version": version, "plan": {"budget": budget}}
        assert client.put(f"/api/machines/{machine}/plan", json=body).json()["version"] == version + 1
    found = client.get(f"/api/machines/{machine}/plans").json()
    assert [r["number"] for r in found] == [4, 3, 2, 1]
    plans = [client.get(f"/api/machines/{machine}/plans/{n}").json()["budget"] for n in (4, 3, 2, 1)]
    assert plans == [30.0, 20.0, 10.0, None]
    assert client.get(f"/api/machines/{machine}/plans?before=3&most=1").json()[0]["number"] == 2
    assert client.get(f"/api/machines/{machine}/plans/9").status_code == 404


def test_the_description_answers_again_and_again(client: TestClient) -> None:
    answers = [client.get("/api/openapi.json") for _ in range(3)]
    assert [a.status_code for a in answers] == [200, 200, 200]
    assert answers[0].content == answers[2].content


def test_a_write_from_another_site_is_refused(client: TestClient) -> None:
    foreign = {"sec-fetch-site": "cross-site"}
    assert client.post("/api/machines", json={"name": "x"}, headers=foreign).status_code == 403
    assert client.get("/api/shelf", headers=foreign).status_code == 200
    assert (
        client.post(
            "/api/machines", json={"name": "x"}, headers={"sec-fetch-site": "same-origin"}
        ).status_code
        == 201
    )


@pytest.mark.parametrize("path", ["/api/axes/nobody", "/api/machines/nobody", "/api/axes/x/log"])
def test_an_id_that_cannot_be_is_not_there(client: TestClient, path: str) -> None:
    answer = client.get(path)
    assert answer.status_code == 404
    assert "pattern" not in answer.text
    assert "not on the shelf" in answer.json()["detail"]


def test_the_program_s_own_log_is_its_owner_s_and_bounded(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(commands, "LOG_BYTES", 5_000)
    log = commands._OwnLog(
        tmp_path / commands.LOG_NAME, maxBytes=commands.LOG_BYTES, backupCount=1, delay=True, encoding="utf-8"
    )
    for _ in range(300):
        log.emit(logging.LogRecord("x", logging.WARNING, "", 0, "y" * 100, None, None))
    log.close()
    pieces = list(tmp_path.iterdir())
    assert len(pieces) == 2
    assert all(p.stat().st_mode & 0o777 == 0o600 for p in pieces)
    assert sum(p.stat().st_size for p in pieces) <= 10_000
    assert 2 * 2_400_000 <= 5_000_000
