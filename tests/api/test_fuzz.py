"""Every route under hostile input: typed answers with a remedy, never a 500. The seed is fixed in the gate
(tests/conftest.py).
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any
from urllib.parse import quote

import pytest
from fastapi.testclient import TestClient
from fuzz import places
from hypothesis import given, settings
from hypothesis import strategies as st

from crisp_cadence import demo
from crisp_cadence.api import examples
from crisp_cadence.api.app import make_app
from thorough import many

DESIGN = demo.designs()["seed-shuttle-lift"].model_dump(mode="json")
DESIGN["end"]["rollers"] = [
    {
        "kind": "smooth",
        "diameter_mm": 16.0,
        "x_mm": 200.0,
        "y_mm": -8.0,
        "belt_on": "back",
        "where": "after the pulley",
    }
]
DESIGN["end"]["near"] = [
    {"label": "Wheel", "x_mm": 300.0, "y_mm": 40.0, "width_mm": 20.0, "height_mm": 10.0, "rides": True}
]
DESIGN["end"]["pulley"]["seat_mm"], DESIGN["end"]["idler"]["seat_mm"] = 10.0, 14.0
DESIGN["end"]["idler"]["stack"] = [{"label": "Washer M5", "thickness_mm": 1.0, "quantity": 2}]
DESIGN["measured"] = [{"field": "guide.rail_mm", "value": 601.0}]
DESIGN["made"] = [{"key": "belt.cut", "label": "Belt", "value": 1200.0}]


NASTY = st.one_of(
    st.sampled_from([None, True, False, "", "5", "\ud800", "\x00", 0, -1, 1, 2**63, 10**400, -0.0, 1e-300, 1e300, float("nan"), float("inf"), [], {}, [[]], {"kind": "rope"}]),
    st.floats(), st.integers(), st.text(max_size=8),
    st.recursive(st.none() | st.booleans() | st.floats() | st.text(max_size=3), lambda x: st.lists(x, max_size=3) | st.dictionaries(st.text(max_size=3), x, max_size=3), max_leaves=5),
)  # fmt: skip
PLACES = sorted(places(DESIGN), key=repr)
WHAT = st.sampled_from(["replace", "remove", "add"])


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(
        make_app(tmp_path_factory.mktemp("fuzz")), base_url="http://localhost", raise_server_exceptions=False
    ) as made:
        yield made


def spoilt(data: Any, where: tuple[str | int, ...], what: str, value: Any) -> Any:
    """A copy with one place replaced or removed, or something foreign put beside it."""
    copy = json.loads(json.dumps(data))
    *way, last = where
    here = copy
    for name in way:
        here = here[name]
    if what == "remove":
        del here[last]
    elif what == "add" and isinstance(here, dict):
        here["nobody knows"] = value
    else:
        here[last] = value
    return copy


def holds_up(answer: Any) -> None:
    assert answer.status_code < 500, answer.text
    if answer.status_code >= 400:
        refused = answer.json()
        assert refused["detail"]
        for p in refused["problems"]:
            assert p["field"], p
            assert p["message"], p
            assert p["remedy"], p
            assert len(p["value"]) <= 60, "input is not echoed whole"
    elif answer.content:
        assert b"NaN" not in answer.content
        assert b"A fault of this program" not in answer.content
        assert b"Infinity" not in answer.content


def send(client: TestClient, method: str, path: str, body: Any) -> Any:
    text = json.dumps(
        body
    )  # as a hostile sender would: NaN and Infinity as bare words, lone surrogates escaped
    return client.request(method, path, content=text.encode(), headers={"content-type": "application/json"})


@given(where=st.sampled_from(PLACES), what=WHAT, value=NASTY)
@settings(max_examples=many(100, 1000))
def test_spoilt_designs_are_refused_or_worked_out(
    client: TestClient, where: tuple[str | int, ...], what: str, value: Any
) -> None:
    holds_up(send(client, "POST", "/api/evaluate", spoilt(DESIGN, where, what, value)))


@given(
    where=st.sampled_from(PLACES),
    what=WHAT,
    value=NASTY,
    path=st.sampled_from(["/api/edit?belt=true", "/api/path"]),
)
@settings(max_examples=many(100, 1000))
def test_spoilt_designs_are_planned_or_refused(
    client: TestClient, where: tuple[str | int, ...], what: str, value: Any, path: str
) -> None:
    holds_up(send(client, "POST", path, spoilt(DESIGN, where, what, value)))


def richer(body: Any) -> Any:
    """An example's body with this file's design, and a search that is quick."""
    if body == examples.DESIGN:
        return DESIGN
    more = {"design": DESIGN, "scope": "drawer only", "base_version": 1}
    return {k: more.get(k, v) for k, v in body.items()}


# Every body of the description's examples that is posted, by its path.
TAKING = {
    f"/api{path.replace('_id}', '}')}": (method.upper(), richer(body))
    for (method, path), body in examples.BODIES.items()
    if (method == "post" and path != "/evaluate") or path.startswith("/machines/{machine_id}/")
}
BODIES: dict[str, Any] = {path: body for path, (_, body) in TAKING.items()}


@pytest.fixture(scope="module")
def ids(client: TestClient) -> dict[str, str]:
    machine = client.post("/api/machines", json={"name": "Fuzz"}).json()["id"]
    return {
        "machine": machine,
        "axis": client.post(f"/api/machines/{machine}/axes", json={"name": "A"}).json()["id"],
    }


SECONDS = {
    "/api/ways": 3,
    "/api/change": 4,
    "/api/far": 4,
    "/api/propose": 3,
}  # examples of what takes a second each; `make torture` tries more of them


@pytest.mark.parametrize("path", BODIES)
def test_spoilt_bodies_of_every_route(client: TestClient, ids: dict[str, str], path: str) -> None:
    settings(max_examples=many(1, 10) * SECONDS.get(path, 12))(
        given(data=st.data())(lambda data: spoil_one(client, ids, path, data))
    )()


def spoil_one(client: TestClient, ids: dict[str, str], path: str, data: st.DataObject) -> None:
    # Shallow places; the design's own are fuzzed above.
    shallow = sorted(places(BODIES[path]), key=lambda p: (len(p), repr(p)))[:60]
    where, what, value = data.draw(st.sampled_from(shallow)), data.draw(WHAT), data.draw(NASTY)
    holds_up(send(client, TAKING[path][0], path.format(**ids), spoilt(BODIES[path], where, what, value)))


def test_every_route_that_takes_a_body_is_fuzzed(client: TestClient) -> None:
    """A new route must join the table above; those that take a whole design under PUT share its checks with
    /evaluate.
    """
    shared = {
        "/api/evaluate",
        "/api/axes/{axis_id}",
        "/api/axes/{axis_id}/rides",
        "/api/machines/{machine_id}",
        "/api/drawer/{key}",
    }
    taking = {
        p
        for p, ways in client.get("/api/openapi.json").json()["paths"].items()
        for w in ways.values()
        if "requestBody" in w
    }
    assert {p.replace("_id}", "}") for p in taking - shared} == set(BODIES)


@given(key=st.text(max_size=30), body=NASTY)
@settings(max_examples=many(15, 200))
def test_puts_with_any_name_and_any_body(
    client: TestClient, ids: dict[str, str], key: str, body: Any
) -> None:
    safe = quote(key.encode("utf-8", "surrogatepass"), safe="")
    for path in (
        f"/api/drawer/{safe}",
        f"/api/axes/{safe}",
        f"/api/axes/{ids['axis']}",
        f"/api/machines/{ids['machine']}",
    ):
        holds_up(send(client, "PUT", path, body))
        holds_up(client.get(path))
    holds_up(send(client, "PUT", f"/api/axes/{ids['axis']}/rides", {"on": body}))
