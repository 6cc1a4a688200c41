"""First steps on an empty shelf: the demo beside the maker's own file, and an axis from a layout and four numbers."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from crisp_cadence import catalog
from crisp_cadence.api.app import make_app
from crisp_cadence.core.design.design import design_from
from crisp_cadence.core.design.layouts import LAYOUTS
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.store import FILE_NAME, Store, axes, drawer


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(make_app(tmp_path), base_url="http://localhost") as made:
        yield made


def new_machine(client: TestClient, name: str = "Bench", at: str = "") -> str:
    return str(client.post(f"{at}/api/machines", json={"name": name, "note": ""}).json()["id"])


def test_the_demo_stands_beside_and_never_in_the_makers_file(client: TestClient, tmp_path: Path) -> None:
    assert not (tmp_path / "demo").exists(), "it is made when it is asked for"
    there = client.get("/demo/api/shelf").json()
    assert len(there) >= 3
    assert client.get("/api/shelf").json() == []
    assert (tmp_path / "demo" / FILE_NAME).is_file()
    # What is changed on one side is not seen on the other.
    new_machine(client, "Own bench")
    axis = there[0]["axes"][0]["id"]
    assert client.delete(f"/demo/api/axes/{axis}").status_code == 204
    assert client.get(f"/api/axes/{axis}").status_code == 404
    assert client.get(f"/api/axes/{axis}/file").status_code == 404
    assert [m["name"] for m in client.get("/api/shelf").json()] == ["Own bench"]
    assert all(m["name"] != "Own bench" for m in client.get("/demo/api/shelf").json())
    assert "demo" in client.get("/demo/api/store").json()["file"]
    # Rows of a drawer, too.
    row = client.get("/demo/api/drawer").json()[0]
    body = {"base_version": row["version"], "quantity": row["quantity"] + 70, "price": 3.0}
    assert client.put(f"/demo/api/drawer/{row['key']}", json=body).status_code == 200
    own = {r["key"]: r["quantity"] for r in client.get("/api/drawer").json()}
    assert own[row["key"]] == 0


def test_the_demo_is_as_it_was_left(client: TestClient, tmp_path: Path) -> None:
    new_machine(client, "Left here", "/demo")
    client.__exit__(None, None, None)
    with TestClient(make_app(tmp_path), base_url="http://localhost") as again:
        assert "Left here" in [m["name"] for m in again.get("/demo/api/shelf").json()]
    client.__enter__()


def test_a_demo_that_cannot_be_opened_says_so_and_the_own_shelf_goes_on(
    client: TestClient, tmp_path: Path
) -> None:
    (tmp_path / "demo").write_text("a file in its place")
    refused = client.get("/demo/api/shelf")
    assert refused.status_code == 503
    assert "demo" in refused.json()["detail"]
    new_machine(client)
    assert len(client.get("/api/shelf").json()) == 1
    (tmp_path / "demo").unlink()
    assert client.get("/demo/api/shelf").status_code == 200, "it is tried again"


def test_pages_of_the_demo_are_the_same_pages(client: TestClient) -> None:
    page = client.get("/")
    assert page.status_code == 200, "the pages are built before the tests"
    assert client.get("/demo/axis/abc/aim").text == page.text
    assert client.post("/demo/api/machines", json={"name": ""}).status_code == 422
    strange = client.post("/demo/api/machines", json={"name": "x"}, headers={"origin": "http://elsewhere"})
    assert strange.status_code == 403


@pytest.mark.parametrize("layout", LAYOUTS)
def test_an_axis_from_a_layout_and_the_numbers_it_asks_for(client: TestClient, layout: str) -> None:
    """Half as much again of each, and a push: they are stored, and lengths have grown so that the travel fits."""
    row = next(x for x in client.get("/api/layouts").json() if x["key"] == layout)
    aims = {ask["path"]: ask["value"] * 1.5 or 2.0 for ask in row["asks"]}
    assert len(aims) == (2 if layout == "spindle" else 4)
    body = {"name": "New", "layout": layout, "aims": aims}
    made = client.post(f"/api/machines/{new_machine(client)}/axes", json=body)
    assert made.status_code == 201, made.text
    design: Any = client.get(f"/api/axes/{made.json()['id']}").json()["design"]
    for path, value in aims.items():
        here = design
        for step in path.split("."):
            here = here[int(step)] if step.isdigit() else here[step]
        assert here == pytest.approx(value), path
    assert design["chosen"] == list(aims), "what was told is not shown as assumed"
    report = evaluate(design_from(design), catalog.profiles())
    assert not [r.key for r in report.ladder if r.key == "travel" and r.verdict == "short"]


@pytest.mark.parametrize(
    ("aims", "field"),
    [
        ({"aim.travel_mm": -1.0}, "aim.travel_mm"),
        ({"aim.speed_mm_s": 1e9}, "aim.speed_mm_s"),
        ({"chain.0.hold_torque_nm": 1.0}, "chain.0.hold_torque_nm"),
        ({"aim.nothing": 1.0}, "aim.nothing"),
        ({"end.high_rpm": 100.0}, "end.high_rpm"),
        ({"aim.travel_mm": "long"}, "aims.aim.travel_mm"),
        ({f"aim.{n}": 1.0 for n in range(40)}, "aims"),
    ],
)
def test_numbers_that_cannot_be_are_refused_by_name(
    client: TestClient, aims: dict[str, Any], field: str
) -> None:
    machine = new_machine(client)
    refused = client.post(f"/api/machines/{machine}/axes", json={"name": "New", "aims": aims})
    assert refused.status_code == 422
    found = refused.json()["problems"]
    assert found[0]["field"] == field
    assert found[0]["remedy"]
    assert client.get("/api/shelf").json()[0]["axes"] == []


def test_stores_of_their_own(tmp_path: Path) -> None:
    """The demo's data file is a whole one: opened by itself it has the demo's machines and rows."""
    with TestClient(make_app(tmp_path), base_url="http://localhost") as client:
        names = [m["name"] for m in client.get("/demo/api/shelf").json()]
    store = Store(tmp_path / "demo")
    assert [m.name for m in axes.machines(store)] == names
    assert any(r.quantity > 0 for r in drawer.rows(store, catalog.parts()))
    store.close()
