"""Layouts, riding axes and opened results through the API."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from crisp_cadence import demo
from crisp_cadence.api.app import make_app
from crisp_cadence.core.design.layouts import LAYOUTS


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(make_app(tmp_path), base_url="http://localhost") as made:
        yield made


@pytest.fixture
def machine(client: TestClient) -> str:
    made: str = client.post("/api/machines", json={"name": "Bench"}).json()["id"]
    return made


def add(client: TestClient, machine: str, name: str, layout: str) -> str:
    made: str = client.post(f"/api/machines/{machine}/axes", json={"name": name, "layout": layout}).json()[
        "id"
    ]
    return made


def test_every_layout_is_listed_with_words_and_a_drawing(client: TestClient) -> None:
    rows = client.get("/api/layouts").json()
    assert [r["key"] for r in rows] == list(LAYOUTS)
    for row in rows:
        assert row["gives"].endswith(".")
        assert row["costs"].endswith(".")
        assert row["schools"].endswith(".")
        assert row["scene"]["wheels"] or row["scene"]["slabs"]


@pytest.mark.parametrize("layout", LAYOUTS)
def test_every_layout_can_be_begun_saved_and_is_on_the_shelf(
    client: TestClient, machine: str, layout: str
) -> None:
    axis = add(client, machine, "New", layout)
    saved = client.get(f"/api/axes/{axis}").json()
    report = client.post("/api/edit", json=saved["design"])
    assert report.status_code == 200
    saved["design"]["aim"]["error_mm"] = 0.7
    assert (
        client.put(f"/api/axes/{axis}", json={"base_version": 1, "design": saved["design"]}).json()["version"]
        == 2
    )
    line = client.get("/api/shelf").json()[0]["axes"][0]
    assert line["scene"] is not None
    file = client.get(f"/api/axes/{axis}/file")
    assert (
        client.post(
            f"/api/machines/{machine}/import",
            content=file.content,
            headers={"content-type": "application/json"},
        ).status_code
        == 201
    )


def test_a_layout_that_there_is_not_is_refused_with_those_that_there_are(
    client: TestClient, machine: str
) -> None:
    answer = client.post(f"/api/machines/{machine}/axes", json={"name": "X", "layout": "ropeway"})
    assert answer.status_code == 422
    (problem,) = answer.json()["problems"]
    assert problem["field"] == "layout"
    assert "crossed_belts" in problem["limit"]


def test_axes_ride_and_cannot_ride_in_a_ring(client: TestClient, machine: str) -> None:
    low, middle, high = (
        add(client, machine, n, k)
        for n, k in (("Low", "carriage_loop"), ("Middle", "rack"), ("High", "screw"))
    )
    assert client.put(f"/api/axes/{middle}/rides", json={"on": low}).json()["rides_on"] == low
    assert client.put(f"/api/axes/{high}/rides", json={"on": middle}).status_code == 200
    assert [n["name"] for n in client.get(f"/api/axes/{low}").json()["may_ride_on"]] == []
    ring = client.put(f"/api/axes/{low}/rides", json={"on": high})
    assert ring.status_code == 422
    assert ring.json()["problems"][0]["remedy"]
    (load,) = client.get(f"/api/axes/{low}").json()["design"]["riding"]
    assert load["label"] == "Middle"
    assert load["mass_kg"] == pytest.approx(0.5 + 0.5), "what rides on what rides"
    client.delete(f"/api/axes/{high}")
    assert client.get(f"/api/axes/{low}").json()["design"]["riding"][0]["mass_kg"] == 0.5
    assert client.put(f"/api/axes/{middle}/rides", json={"on": None}).json()["rides_on"] is None


def test_opened_results_tell_their_inputs_for_every_demo_axis(client: TestClient) -> None:
    for design in demo.designs().values():
        body: dict[str, Any] = {
            "design": design.model_dump(mode="json"),
            "keys": ["motor.lam", "mass.total", "motor.reach"],
        }
        opened = client.post("/api/open", json=body).json()
        assert [q["key"] for q in opened] == body["keys"]
        for q in opened:
            assert q["inputs"], q["key"]


def test_single_changes_help_the_short_demo_axes(client: TestClient) -> None:
    arm = demo.designs()["spray-booth-spray-arm"].model_dump(mode="json")
    changes = json.loads(client.post("/api/change", json={"design": arm}).text.splitlines()[-1])["answer"]
    helping = [
        c
        for c in changes["singles"]
        if any(e["key"] == "unpowered" and e["after"] > e["before"] for e in c["effects"])
    ]
    assert {c["first"]["says"] for c in helping} >= {
        "Take another motor",
        "Take another gearbox",
        "Make the arm shorter",
    }
