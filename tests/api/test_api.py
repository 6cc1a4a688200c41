"""The API over a real store: typed answers, one kind of refusal, nothing lost."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

import crisp_cadence
from conftest import PLAIN, build
from crisp_cadence import demo
from crisp_cadence.api.app import make_app
from crisp_cadence.api.limits import limit_of
from crisp_cadence.core.evaluation import evaluate
from helpers import value


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(make_app(tmp_path), base_url="http://localhost") as made:
        yield made


@pytest.fixture
def axis(client: TestClient) -> str:
    machine = client.post("/api/machines", json={"name": "Bench"}).json()["id"]
    made: str = client.post(f"/api/machines/{machine}/axes", json={"name": "Slide"}).json()["id"]
    return made


def fetch(client: TestClient, axis: str) -> dict[str, Any]:
    got: dict[str, Any] = client.get(f"/api/axes/{axis}").json()
    return got


def test_evaluate_gives_the_core_s_own_report(client: TestClient) -> None:
    answer = client.post("/api/evaluate", json=PLAIN)
    assert answer.status_code == 200
    report = crisp_cadence.evaluate(build())
    got = {q["key"]: q["value"] for q in answer.json()["results"]}
    assert got == {q.key: q.value for q in report.results}
    assert [r["key"] for r in answer.json()["ladder"]] == [r.key for r in report.ladder]


BEHIND = ("inputs", "equation", "source_kind", "source")


def lines_of(client: TestClient, design: dict[str, Any], belt: bool = False) -> list[dict[str, Any]]:
    """What follows an edit, line by line."""
    answer = client.post(f"/api/edit?belt={str(belt).lower()}", json=design)
    assert answer.status_code == 200
    return [json.loads(line) for line in answer.text.splitlines()]


def test_an_edit_leaves_out_what_stands_behind_results_and_that_comes_when_opened(client: TestClient) -> None:
    whole = client.post("/api/evaluate", json=PLAIN).json()
    (line,) = lines_of(client, PLAIN)
    assert all(q["inputs"] for q in whole["results"])
    assert line["report"] == {
        **whole,
        "results": [{k: v for k, v in q.items() if k not in BEHIND} for q in whole["results"]],
    }
    assert line["drawings"] == client.post("/api/path", json=PLAIN).json()
    opened = client.post(
        "/api/open", json={"design": PLAIN, "keys": ["belt.cut", "no such result", "motor.reach"]}
    ).json()
    assert opened == [next(q for q in whole["results"] if q["key"] == k) for k in ("belt.cut", "motor.reach")]


def test_a_new_axis_is_on_the_shelf_judged_by_what_is_typical_and_unknown_where_it_lacks_data(
    client: TestClient, axis: str
) -> None:
    machines = client.get("/api/shelf").json()
    assert [m["name"] for m in machines] == ["Bench"]
    line = machines[0]["axes"][0]
    assert (line["id"], line["name"], line["verdict"]) == (axis, "Slide", "holds")
    design = fetch(client, axis)["design"]
    design["chain"][0]["inductance_mh"] = None
    client.put(f"/api/axes/{axis}", json={"base_version": 1, "design": design})
    assert client.get("/api/shelf").json()[0]["axes"][0]["verdict"] == "unknown"
    assert [w["at"]["x_mm"] for w in line["scene"]["wheels"]] == [0.0, 745.0]


def test_saving_makes_revisions_that_can_be_returned_to(client: TestClient, axis: str) -> None:
    first = fetch(client, axis)
    design = {**first["design"], "note": "second"}
    assert client.put(f"/api/axes/{axis}", json={"base_version": 1, "design": design}).json()["version"] == 2
    assert (
        client.put(f"/api/axes/{axis}", json={"base_version": 1, "design": design}).json()["version"] == 2
    ), "a repeated save changes nothing"
    back = client.post(f"/api/axes/{axis}/restore", json={"base_version": 2, "number": 1}).json()
    assert (back["version"], back["design"]["note"]) == (3, "")
    kept = client.get(f"/api/axes/{axis}/revisions").json()
    assert [(r["number"], r["why"]) for r in kept] == [(3, "back to revision 1"), (2, ""), (1, "begun")]


def test_two_windows_cannot_overwrite_each_other(client: TestClient, axis: str) -> None:
    design = fetch(client, axis)["design"]
    assert (
        client.put(
            f"/api/axes/{axis}", json={"base_version": 1, "design": {**design, "note": "one"}}
        ).status_code
        == 200
    )
    late = client.put(f"/api/axes/{axis}", json={"base_version": 1, "design": {**design, "note": "two"}})
    assert late.status_code == 409
    assert late.json()["current_version"] == 2
    assert late.json()["detail"] == "Another window has saved this axis meanwhile. Nothing was overwritten."
    assert fetch(client, axis)["design"]["note"] == "one"


def test_a_design_in_the_making_is_saved_even_if_it_cannot_be_built(client: TestClient, axis: str) -> None:
    design = fetch(client, axis)["design"]
    design["guide"]["rail_mm"] = 50.0
    assert client.put(f"/api/axes/{axis}", json={"base_version": 1, "design": design}).status_code == 200
    refused = client.post("/api/evaluate", json=design)
    assert refused.status_code == 422
    assert refused.json()["problems"][0]["field"] == "guide.rail_mm"
    assert client.get("/api/shelf").json()[0]["axes"][0]["verdict"] == "cannot be worked out"


def test_unknown_fields_survive_the_store(client: TestClient, axis: str) -> None:
    design = fetch(client, axis)["design"]
    design["later"] = {"a": [1, 2.5, None]}
    design["end"]["belt"]["later"] = "x"
    client.put(f"/api/axes/{axis}", json={"base_version": 1, "design": design})
    got = fetch(client, axis)["design"]
    assert (got["later"], got["end"]["belt"]["later"]) == ({"a": [1, 2.5, None]}, "x")


def test_taking_off_the_shelf_can_be_undone(client: TestClient, axis: str) -> None:
    machine = client.get("/api/shelf").json()[0]["id"]
    assert client.delete(f"/api/machines/{machine}").status_code == 204
    assert client.get("/api/shelf").json() == []
    assert client.get(f"/api/axes/{axis}").status_code == 404
    assert client.post(f"/api/machines/{machine}/back").status_code == 204
    assert fetch(client, axis)["design"]["name"] == "Slide"
    assert client.delete(f"/api/axes/{axis}").status_code == 204
    assert client.get("/api/shelf").json()[0]["axes"] == []
    client.post(f"/api/axes/{axis}/back")
    assert client.get("/api/shelf").json()[0]["axes"][0]["id"] == axis


def test_files_go_out_and_come_back(client: TestClient, axis: str) -> None:
    machine = client.get("/api/shelf").json()[0]["id"]
    text = client.get(f"/api/axes/{axis}/file").content
    new = client.post(
        f"/api/machines/{machine}/import", content=text, headers={"content-type": "application/json"}
    ).json()["id"]
    assert fetch(client, new)["design"] == fetch(client, axis)["design"]


@pytest.mark.parametrize(
    ("text", "field"),
    [
        (b"{", "design"),
        (b'{"format": "other"}', "format"),
        (b'{"format": "crisp-cadence/axis", "version": 9}', "version"),
        (
            b'{"chain": [{"kind": "stepper", "hold_torque_nm": "0.4 ozin"}], "end": {"kind": '
            b'"carriage_loop"}}',
            "chain.0.hold_torque_nm",
        ),
    ],
)
def test_files_that_cannot_be_opened(client: TestClient, axis: str, text: bytes, field: str) -> None:
    machine = client.get("/api/shelf").json()[0]["id"]
    answer = client.post(
        f"/api/machines/{machine}/import", content=text, headers={"content-type": "application/json"}
    )
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["field"] == field
    assert answer.json()["problems"][0]["remedy"]
    assert len(client.get("/api/shelf").json()[0]["axes"]) == 1


@pytest.mark.parametrize(
    ("body", "field"),
    [
        (
            '{"chain":[{"kind":"stepper","hold_torque_nm":NaN}],"end":{"kind":"carriage_loop"}}',
            "chain.0.hold_torque_nm",
        ),
        (
            '{"chain":[{"kind":"stepper","hold_torque_nm":1e999}],"end":{"kind":"carriage_loop"}}',
            "chain.0.hold_torque_nm",
        ),
        (
            '{"chain":[{"kind":"stepper","driver":{"supply_v":true}}],"end":{"kind":"carriage_loop"}}',
            "chain.0.driver.supply_v",
        ),
        ('{"chain":[{"kind":"stepper"}],"end":{"kind":"carriage_loop"},"x":-Infinity}', "design"),
        ('{"chain":[{"kind":"stepper"}],"end":{"kind":"carriage_loop"},"name":"\\ud800"}', "name"),
        ('{"chain":[{"kind":"stepper"}],"end":{"kind":"carriage_loop"},"x":"\\ud800"}', "design"),
        ('{"chain":[{"kind":"stepper"}],"end":null}', "end"),
        ("nonsense", "0"),
        ("[" * 50_000, None),
        ("null", "design"),
    ],
)
def test_bodies_that_cannot_be_are_refused_with_a_reason(
    client: TestClient, body: str, field: str | None
) -> None:
    answer = client.post(
        "/api/evaluate",
        content=body.encode("utf-8", "surrogatepass"),
        headers={"content-type": "application/json"},
    )
    assert answer.status_code in (400, 422)
    if field is not None:
        assert answer.json()["problems"][0]["field"] == field
    assert answer.json()["detail"]


def test_a_body_of_50_mb_is_refused(client: TestClient) -> None:
    answer = client.post(
        "/api/evaluate", content=b" " * 50_000_000, headers={"content-type": "application/json"}
    )
    assert answer.status_code == 413
    assert f"{limit_of('/api/evaluate')[0]:,}" in answer.json()["detail"]


def test_a_streamed_body_without_a_length_is_bounded(client: TestClient) -> None:
    def pieces() -> Iterator[bytes]:
        for _ in range(60):
            yield b" " * 100_000

    assert (
        client.post(
            "/api/evaluate", content=pieces(), headers={"content-type": "application/json"}
        ).status_code
        == 413
    )


class TestGuard:
    def test_other_hosts_get_nothing(self, client: TestClient) -> None:
        assert client.get("/api/shelf", headers={"host": "evil.example"}).status_code == 400
        assert client.get("/api/shelf", headers={"host": "[::1"}).status_code == 400

    def test_other_pages_change_nothing(self, client: TestClient) -> None:
        answer = client.post("/api/machines", json={"name": "x"}, headers={"origin": "http://evil.example"})
        assert answer.status_code == 403
        assert client.get("/api/shelf").json() == []
        assert (
            client.post(
                "/api/machines", json={"name": "x"}, headers={"origin": "http://localhost"}
            ).status_code
            == 201
        )

    def test_pages_load_nothing_from_elsewhere(self, client: TestClient) -> None:
        policy = client.get("/").headers["content-security-policy"]
        assert "default-src 'none'" in policy
        assert "http" not in policy

    @pytest.mark.parametrize(
        "path",
        [
            "/%00",
            "/../../etc/passwd",
            "/assets/..%2f..%2fcli.py",
            "/api/axes/%00",
            "/api/axes/x",
            "/api/nothing",
        ],
    )
    def test_strange_paths(self, client: TestClient, path: str) -> None:
        answer = client.get(path)
        assert answer.status_code in (200, 404, 422)
        if answer.status_code == 200:
            assert answer.text.startswith("<!doctype html>")

    def test_wrong_methods_are_said_so(self, client: TestClient) -> None:
        assert client.get("/api/evaluate").status_code == 405
        assert client.get("/api/docs").status_code == 404


class TestTension:
    def test_a_pluck_is_read_against_the_band(self, client: TestClient) -> None:
        design = demo.designs()["seed-shuttle-aisle"]
        report = crisp_cadence.evaluate(design)
        assert report.pluck is not None
        body = {
            "design": design.model_dump(mode="json"),
            "reading": {
                "how": "pluck",
                "span_mm": report.pluck.span_mm,
                "frequency_hz": report.pluck.frequency_hz,
            },
        }
        got = client.post("/api/tension", json=body).json()
        assert got["tension_n"] == pytest.approx(value(report, "tension.set"))
        assert got["verdict"] == "within the band"
        body["reading"] = {
            "how": "push",
            "span_mm": report.pluck.span_mm,
            "deflection_mm": report.pluck.push_mm,
            "force_n": report.pluck.push_n,
        }
        assert client.post("/api/tension", json=body).json()["tension_n"] == pytest.approx(
            value(report, "tension.set")
        )

    @pytest.mark.parametrize(("hertz", "verdict"), [(40.0, "low"), (150.0, "high")])
    def test_outside_the_band(self, client: TestClient, hertz: float, verdict: str) -> None:
        design = demo.designs()["seed-shuttle-aisle"].model_dump(mode="json")
        got = client.post(
            "/api/tension",
            json={"design": design, "reading": {"how": "pluck", "span_mm": 300.0, "frequency_hz": hertz}},
        ).json()
        assert got["verdict"] == verdict

    def test_a_slack_run_and_a_push_too_far(self, client: TestClient) -> None:
        reading: dict[str, Any] = {"how": "push", "span_mm": 200.0, "deflection_mm": 20.0, "force_n": 0.01}
        assert (
            client.post("/api/tension", json={"design": PLAIN, "reading": reading}).json()["verdict"]
            == "slack"
        )
        reading["deflection_mm"] = 30.0
        refused = client.post("/api/tension", json={"design": PLAIN, "reading": reading}).json()["problems"][
            0
        ]
        assert (refused["field"], refused["limit"], refused["unit"]) == ("reading.deflection_mm", "25", "mm")

    def test_readings_must_be_positive_numbers(self, client: TestClient) -> None:
        for bad in (0, -3, True, "60"):
            answer = client.post(
                "/api/tension",
                json={"design": PLAIN, "reading": {"how": "pluck", "span_mm": 200.0, "frequency_hz": bad}},
            )
            assert answer.json()["problems"][0]["field"] == "reading.frequency_hz"


class TestLog:
    def test_entries_are_tied_to_the_revision(self, client: TestClient, axis: str) -> None:
        client.post(f"/api/axes/{axis}/log", json={"on_date": "2026-02-01", "says": "first"})
        design = fetch(client, axis)["design"]
        client.put(f"/api/axes/{axis}", json={"base_version": 1, "design": {**design, "note": "x"}})
        client.post(
            f"/api/axes/{axis}/log",
            json={
                "on_date": "2026-03-01",
                "kind": "tension",
                "reading": {"how": "pluck", "span_mm": 300.0, "frequency_hz": 90.0},
            },
        )
        got = client.get(f"/api/axes/{axis}/log").json()
        assert [(e["on_date"], e["revision"]) for e in got] == [("2026-03-01", 2), ("2026-02-01", 1)]
        string = 4 * 8.1e-3 * 0.3**2 * 90**2
        assert string * 0.98 < got[0]["reading"]["tension_n"] < string, (
            "less than a string: the belt is stiff"
        )
        assert client.delete(f"/api/axes/{axis}/log/{got[1]['id']}").status_code == 204
        assert len(client.get(f"/api/axes/{axis}/log").json()) == 1

    @pytest.mark.parametrize(
        ("body", "field"),
        [
            ({"on_date": "2026-02-30", "says": "x"}, "on_date"),
            ({"on_date": "yesterday", "says": "x"}, "on_date"),
            ({"on_date": "2026-02-01"}, "says"),
            ({"on_date": "2026-02-01", "cost": -1}, "cost"),
        ],
    )
    def test_what_cannot_be_written(
        self, client: TestClient, axis: str, body: dict[str, Any], field: str
    ) -> None:
        answer = client.post(f"/api/axes/{axis}/log", json=body)
        assert answer.status_code == 422
        assert answer.json()["problems"][0]["field"] == field


class TestDrawer:
    def test_stock_comes_first_and_keeps_its_price(self, client: TestClient) -> None:
        key = "screw:socket-head-screw-m5-16"
        assert client.put(
            f"/api/drawer/{key}", json={"base_version": 0, "quantity": 12, "price": 0.1}
        ).json() == {"version": 1}
        first = client.get("/api/drawer").json()[0]
        assert (first["key"], first["quantity"], first["price"]) == (key, 12, 0.1)
        assert (
            client.put("/api/drawer/screw:none", json={"base_version": 0, "quantity": 1}).status_code == 404
        )

    def test_own_parts(self, client: TestClient) -> None:
        client.post(
            "/api/drawer",
            json={
                "kind": "stepper",
                "name": "From the scrap bin",
                "data": {"resistance_ohm": 2.2},
                "source_kind": "measured by you",
                "source": "a meter",
            },
        )
        first = client.get("/api/drawer").json()[0]
        assert (first["name"], first["own"], first["source_kind"]) == (
            "From the scrap bin",
            True,
            "measured by you",
        )


def test_calibration(client: TestClient) -> None:
    def asked(*measured: float) -> dict[str, Any]:
        moves = [{"commanded": 500.0, "measured": way} for way in measured]
        body = {"design": PLAIN, "reading": {"how": "moves", "moves": moves}}
        return client.post("/api/calibrate", json=body).json()  # type: ignore[no-any-return]

    got = asked(502.0, 501.8, 502.2)
    assert got["value"] == pytest.approx(80 * 500 / 502)
    assert got["low"] < got["value"] < got["high"]
    assert "scatter" in " ".join(asked(499.0, 501.0)["says"])
    assert asked(900.0)["problems"][0]["field"] == "reading.moves.0.measured"


def test_one_change_through_the_api(client: TestClient) -> None:
    design = demo.designs()["glaze-bench-pass"].model_dump(mode="json")
    lines = client.post("/api/change", json={"design": design}).text.splitlines()
    changes = json.loads(lines[-1])["answer"]
    assert changes["verdict"] == "short"
    mending = [c for c in changes["singles"] if c["verdict"] == "holds" and not c["asks_less"]]
    assert "Raise the supply voltage" in {c["first"]["says"] for c in mending}
    assert changes["cheapest"]["verdict"] == "holds"
    # Nothing is owned: what mends it costs what such a part costs as a rule, and says so.
    assert changes["cheapest"]["price"] == min(c["price"] for c in mending) > 0
    assert changes["cheapest"]["typical"]
    assert (
        client.post("/api/change", json={"design": {**design, "guide": {"rail_mm": 20.0}}}).status_code == 422
    )


def test_start_carries_units_profiles_and_schema(client: TestClient) -> None:
    start = client.get("/api/start").json()
    assert start["units"]["length"]["factors"]["in"] == 25.4
    assert len(start["profiles"]) == 15
    assert json.dumps(start["design_schema"]).count('"unit"') > 50
    assert all(f["source"] for f in client.get("/api/numbers").json())


def aisle() -> dict[str, Any]:
    return demo.designs()["seed-shuttle-aisle"].model_dump(mode="json")


def test_the_belt_plan_looks_into_this_drawer(client: TestClient) -> None:
    report, plan = lines_of(client, aisle(), belt=True)
    assert report["report"]["name"] == aisle()["name"]
    assert plan["plan"]["packing_says"].startswith("Nothing in the drawer is long enough")
    key = "roll:roll-g-3-mm-9-mm-wide-5-m"
    client.put(f"/api/drawer/{key}", json={"base_version": 0, "quantity": 1, "price": 24.0})
    plan = lines_of(client, aisle(), belt=True)[1]["plan"]
    assert plan["packing_says"] == "From the drawer, nothing to buy."
    cut = plan["packing"]["cuts"][0]
    assert (
        client.post(
            "/api/drawer/cut", json={"key": key, "length_mm": cut["pieces"][0]["length_mm"]}
        ).status_code
        == 201
    )
    left = [r for r in client.get("/api/drawer").json() if r["kind"] == "roll" and r["quantity"] > 0]
    assert [r["data"]["length_mm"] for r in left] == [1301.0]
    refused = client.post("/api/drawer/cut", json={"key": key, "length_mm": 10.0})
    assert (refused.status_code, refused.json()["problems"][0]["field"]) == (422, "length_mm")


def test_a_plan_that_fails_leaves_the_report_and_says_why(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: Any) -> Any:
        raise ZeroDivisionError

    monkeypatch.setattr("crisp_cadence.api.routes.design.plan_of", broken)
    report, plan = lines_of(client, aisle(), belt=True)
    assert report["report"]["verdict"]
    assert plan["failed"] == "A fault of this program, not of the design (ZeroDivisionError)."
    monkeypatch.setattr(
        "crisp_cadence.api.routes.design.drawer_of",
        lambda _: (_ for _ in ()).throw(sqlite3.OperationalError("x")),
    )
    assert "could not be used" in lines_of(client, aisle(), belt=True)[1]["failed"]


def test_one_edit_works_the_design_out_once(
    client: TestClient, axis: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Report, drawings and plan come from one evaluation, and saving from none."""
    design, runs = aisle(), list[str]()
    whole = evaluate.Run.__init__

    def counted(self: evaluate.Run, design: Any, *more: Any, **also: Any) -> None:
        runs.append(design.name)
        whole(self, design, *more, **also)

    monkeypatch.setattr(evaluate.Run, "__init__", counted)
    lines_of(client, design, belt=True)
    assert runs == [design["name"]]
    assert client.put(f"/api/axes/{axis}", json={"base_version": 1, "design": design}).status_code == 200
    assert len(runs) == 1


def test_a_path_in_the_way_is_explained_at_its_pulley(client: TestClient) -> None:
    design = aisle()
    drawings = client.post("/api/path", json=design).json()
    assert [w["part"] for w in drawings[0]["wheels"]] == ["end.pulley", "end.idler"]
    design["end"]["rollers"] = [{"label": "Presser", "x_mm": 12.0, "y_mm": 0.0, "diameter_mm": 20.0}]
    for path in ("/api/path", "/api/edit", "/api/edit?belt=true", "/api/evaluate"):
        answer = client.post(path, json=design)
        assert answer.status_code == 422
        assert answer.json()["problems"][0] == {
            "field": "end.rollers.0.x_mm",
            "message": "presser overlaps with the drive pulley: 12.00 mm apart, the belt on both "
            "needs 22.35 mm",
            "value": "",
            "limit": "",
            "unit": "",
            "remedy": "Move it, take a smaller one, or lead the belt round its other side.",
        }


@pytest.mark.parametrize(
    ("form", "media", "begins"),
    [
        ("svg", "image/svg+xml", "<svg"),
        ("dxf", "image/vnd.dxf", "  0\nSECTION"),
        ("sheets", "image/svg+xml", "<svg"),
    ],
)
def test_drawings_go_out(client: TestClient, form: str, media: str, begins: str) -> None:
    got = client.post("/api/out", json={"design": aisle(), "what": "path:end", "form": form}).json()
    assert got["media"] == media
    assert got["files"][0].startswith(begins)
    assert len(got["files"]) == (8 if form == "sheets" else 1)


def test_the_cut_list_goes_out_and_what_is_not_there_does_not(client: TestClient) -> None:
    got = client.post("/api/out", json={"design": aisle(), "what": "cut"}).json()
    assert got["name"] == "cut-list.csv"
    assert got["files"][0].startswith("row,what,length mm")
    refused = client.post("/api/out", json={"design": aisle(), "what": "plan:all"}).json()
    assert refused["problems"][0]["field"] == "what"
