"""A machine over the API: worked out, its plan, its ticks, its file and its bill."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from crisp_cadence import demo
from crisp_cadence.api.app import make_app
from crisp_cadence.cli import main
from crisp_cadence.store import Store

TODAY = "2026-11-28"


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    store = Store(tmp_path_factory.mktemp("machines"))
    demo.fill(store)
    with TestClient(make_app(store), base_url="http://localhost") as made:
        yield made


@pytest.fixture
def printer(client: TestClient) -> str:
    """A copy of the clay printer, by way of its file."""
    original = next(m["id"] for m in client.get("/api/shelf").json() if m["name"] == "Clay printer")
    text = client.get(f"/api/machines/{original}/file").text
    return str(client.post("/api/machines/import", content=text).json()["id"])


def get(client: TestClient, machine: str) -> dict[str, Any]:
    answer = client.get(f"/api/machines/{machine}", params={"today": TODAY})
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def test_every_demo_machine_goes_out_and_in_and_gives_the_same_report(client: TestClient) -> None:
    for m in list(client.get("/api/shelf").json())[: len(demo.MACHINES)]:
        text = client.get(f"/api/machines/{m['id']}/file").text
        answer = client.post("/api/machines/import", content=text)
        assert answer.status_code == 201, answer.text
        before, after = get(client, m["id"]), get(client, answer.json()["id"])
        keys = {a["key"]: i for i, a in enumerate(before["report"]["axes"])}
        again = {a["key"]: i for i, a in enumerate(after["report"]["axes"])}

        def plain(found: dict[str, Any], names: dict[str, int]) -> str:
            text = json.dumps(found["report"], sort_keys=True)
            for key, i in names.items():
                text = text.replace(key, f"axis {i}")
            return text

        assert plain(after, again) == plain(before, keys), m["name"]
        client.delete(f"/api/machines/{answer.json()['id']}")


def test_a_step_is_ticked_with_its_day_and_the_tick_taken_back(client: TestClient, printer: str) -> None:
    found = get(client, printer)
    step = next(
        w for w in found["report"]["work"] if w["step"]["now"] == "ready" and w["axis_name"] == "Board"
    )
    ref, stands = step["step"]["key"], step["step"]["stands"]
    body = {"ref": ref, "day": TODAY, "stood": stands}
    assert client.put(f"/api/machines/{printer}/tick", json=body).status_code == 204
    after = {w["step"]["key"]: w["step"] for w in get(client, printer)["report"]["work"]}
    assert (after[ref]["now"], after[ref]["done_on"], after[ref]["undone"]) == ("done", TODAY, "")
    axis = client.get(f"/api/axes/{step['axis']}").json()
    assert {"step": ref.partition(":")[2], "day": TODAY}.items() <= axis["design"]["done"][-1].items()
    assert all(":" not in name for name in axis["design"]["done"][-1]["stood"])
    assert client.put(f"/api/machines/{printer}/tick", json={"ref": ref}).status_code == 204
    assert (
        next(w for w in get(client, printer)["report"]["work"] if w["step"]["key"] == ref)["step"]["now"]
        == "ready"
    )
    own = {"ref": ":wire_the_cabinet", "day": TODAY}
    assert client.put(f"/api/machines/{printer}/tick", json=own).status_code == 204
    assert get(client, printer)["plan"]["own"][0]["done"] == TODAY


def test_ticks_of_what_is_not_there_are_refused(client: TestClient, printer: str) -> None:
    for ref, status in ((":no_such", 422), ("000000000000:rail_on", 404), ("no colon", 422)):
        answer = client.put(f"/api/machines/{printer}/tick", json={"ref": ref, "day": TODAY})
        assert answer.status_code == status, answer.text
    wrong = client.put(f"/api/machines/{printer}/tick", json={"ref": ":wire_the_cabinet", "day": "28 Nov"})
    assert wrong.status_code == 422


def test_a_plan_is_saved_on_top_of_a_version_and_an_impossible_one_not_at_all(
    client: TestClient, printer: str
) -> None:
    found = get(client, printer)
    plan = {**found["plan"], "budget": 500.0}
    body = {"base_version": found["version"], "plan": plan}
    assert client.put(f"/api/machines/{printer}/plan", json=body).json()["version"] == found["version"] + 1
    again = client.put(f"/api/machines/{printer}/plan", json=body)
    assert again.status_code == 409
    assert again.json()["current_version"] == found["version"] + 1
    now = get(client, printer)
    circle = [{"key": k, "do": k, "after": [f":{o}"]} for k, o in (("a", "b"), ("b", "a"))]
    wrong = {"base_version": now["version"], "plan": {**plan, "own": circle}}
    refused = client.put(f"/api/machines/{printer}/plan", json=wrong)
    assert refused.status_code == 422
    assert refused.json()["problems"][0]["message"] == "these steps wait for each other: :a, :b"
    assert get(client, printer)["plan"] == now["plan"]


def shelf_row(client: TestClient, machine: str) -> dict[str, Any]:
    return next(m for m in client.get("/api/shelf").json() if m["id"] == machine)


def test_axis_shelf_and_machine_say_the_same_of_parts_and_money(client: TestClient, printer: str) -> None:
    """What was ordered is not to spend anywhere; what has come is here everywhere, and taken back nowhere."""
    found = get(client, printer)
    assert shelf_row(client, printer)["sums"]["spend"] == pytest.approx(found["report"]["money"]["to_spend"])
    long_way = next(a["key"] for a in found["report"]["axes"] if a["name"] == "Long way")

    def of_axis() -> dict[str, Any]:
        design = client.get(f"/api/axes/{long_way}").json()["design"]
        report = client.post("/api/evaluate", json=design).json()
        return {
            "bill": {b["field"]: b for b in report["bill"]},
            "work": {w["key"]: w for w in report["work"]},
        }

    before = of_axis()
    assert (before["bill"]["end.belt"]["in_stock"], before["bill"]["end.belt"]["due"]) == (
        False,
        "2026-12-04",
    )
    assert before["work"]["cut_belt"]["waits_for_parts"] == ["Open belt (due 2026-12-04)"]
    parcel = next(i for i, p in enumerate(found["plan"]["bought"]) if p["what"].startswith("Belts"))
    for day, here in (("2026-11-28", True), ("", False)):
        now = get(client, printer)
        bought = [{**p, "arrived": day} if i == parcel else p for i, p in enumerate(now["plan"]["bought"])]
        body = {"base_version": now["version"], "plan": {**now["plan"], "bought": bought}}
        assert client.put(f"/api/machines/{printer}/plan", json=body).status_code == 200
        assert of_axis()["bill"]["end.belt"]["in_stock"] == here
        lines = {x["line"]: x["state"] for x in get(client, printer)["report"]["lines"]}
        assert lines[f"{long_way}:end.belt"] == ("arrived" if here else "due")
    gone = get(client, printer)
    plan = {**gone["plan"], "bought": [p for i, p in enumerate(gone["plan"]["bought"]) if i != parcel]}
    client.put(f"/api/machines/{printer}/plan", json={"base_version": gone["version"], "plan": plan})
    assert of_axis()["bill"]["end.belt"]["ordered"] == ""
    now = get(client, printer)
    assert now["report"]["money"]["to_spend"] > found["report"]["money"]["to_spend"]
    assert shelf_row(client, printer)["sums"]["spend"] == pytest.approx(now["report"]["money"]["to_spend"])


def test_the_order_of_an_axis_is_that_of_its_machine_with_own_steps(client: TestClient, printer: str) -> None:
    found = get(client, printer)
    ids = {a["name"]: a["key"] for a in found["report"]["axes"]}
    design = client.get(f"/api/axes/{ids['Board']}").json()["design"]
    answer = client.post(f"/api/axes/{ids['Board']}/work", json=design)
    assert answer.status_code == 200, answer.text
    board = answer.json()
    keys = [s["key"] for s in board["work"]]
    assert keys.index(":wire_the_cabinet") < keys.index("slow_run")
    of_machine = [w["step"]["key"] for w in found["report"]["work"]]
    places = [of_machine.index(k if k.startswith(":") else f"{ids['Board']}:{k}") for k in keys]
    assert places == sorted(places), "in the machine's order"
    (slow,) = [s for s in board["work"] if s["key"] == "slow_run"]
    assert ":wire_the_cabinet" in slow["waits_for_steps"]
    assert "end.screw" in board["by_parcel"]
    # A change that is not saved yet counts.
    ticked = {**design, "done": [*design["done"], {"step": "nut_tight", "day": TODAY}]}
    now = client.post(f"/api/axes/{ids['Board']}/work", json=ticked).json()
    assert next(s["now"] for s in now["work"] if s["key"] == "nut_tight") == "done"
    # What rides says which steps of what carries it come first.
    head = client.get(f"/api/axes/{ids['Head']}").json()["design"]
    riding = client.post(f"/api/axes/{ids['Head']}/work", json=head).json()
    assert any(x.startswith("Long way: ") for waits in riding["elsewhere"].values() for x in waits)
    assert client.post("/api/axes/000000000000/work", json=design).status_code == 404


def test_a_shop_says_when_a_parcel_would_come(client: TestClient, printer: str) -> None:
    assert get(client, printer)["comes"] == {"By mail": "2026-12-07", "The ironmonger": "2026-11-29"}


def test_a_day_that_is_none_is_refused_where_it_stands(client: TestClient, printer: str) -> None:
    answer = client.get(f"/api/machines/{printer}", params={"today": "2026-02-31"})
    assert answer.status_code == 422
    (problem,) = answer.json()["problems"]
    assert (problem["field"], problem["message"]) == ("today", "2026-02-31 is no day of the calendar")


def test_logs_and_settings_of_all_axes_stand_together(client: TestClient, printer: str) -> None:
    found = get(client, printer)
    ids = {a["name"]: a["key"] for a in found["report"]["axes"]}
    assert found["log"] == []
    costs = {"Head": (0.10, "2026-11-20"), "Board": (0.20, "2026-11-22"), "Long way": (None, "2026-11-21")}
    for name, (cost, day) in costs.items():
        entry = {"on_date": day, "kind": "repair", "says": f"Mended {name}.", "cost": cost, "reading": None}
        assert client.post(f"/api/axes/{ids[name]}/log", json=entry).status_code < 300
    after = get(client, printer)
    assert [(e["axis_name"], e["entry"]["says"]) for e in after["log"]] == [
        ("Board", "Mended Board."),
        ("Long way", "Mended Long way."),
        ("Head", "Mended Head."),
    ]
    assert (after["log_entries"], after["log_cost"]) == (3, 0.3)
    for of_axis in after["report"]["settings"]:
        design = client.get(f"/api/axes/{of_axis['axis']}").json()["design"]
        own = client.post("/api/evaluate", json=design).json()["settings"]
        assert of_axis["settings"] == own, "as its own Build says"


def test_the_bill_adds_up_in_cents(client: TestClient, printer: str) -> None:
    found = get(client, printer)["report"]
    answer = client.get(f"/api/machines/{printer}/bill", params={"today": TODAY})
    assert answer.headers["content-type"].startswith("text/csv")
    rows = list(csv.DictReader(io.StringIO(answer.text)))
    paid = sum(
        round(float(r["price"]) * 100) + round(float(r["freight"]) * 100)
        for r in rows
        if r["state"] == "paid"
    )
    open_ = sum(round(float(r["price"]) * 100) for r in rows if r["state"] != "paid")
    assert paid == round(found["money"]["paid"] * 100)
    assert open_ == round(found["money"]["to_spend"] * 100)
    assert any(r["spare"] == "spare" for r in rows)


def test_a_machine_that_is_no_file_or_not_there(client: TestClient) -> None:
    assert client.post("/api/machines/import", content="{").status_code == 422
    assert client.post("/api/machines/import", content='{"format": "crisp-cadence/axis"}').status_code == 422
    assert client.get("/api/machines/000000000000").status_code == 404


def test_an_axis_that_cannot_be_read_is_named_and_the_rest_stands(tmp_path: Path) -> None:
    store = Store(tmp_path)
    demo.fill(store)
    with TestClient(make_app(store), base_url="http://localhost") as client:
        printer = next(m for m in client.get("/api/shelf").json() if m["name"] == "Clay printer")
        axis = next(a["id"] for a in printer["axes"] if a["name"] == "Head")
        with store.transaction() as db:
            broken = json.dumps({"name": "Head", "chain": 5})
            db.execute("UPDATE revision SET design = ? WHERE axis_id = ?", (broken, axis))
        found = get(client, printer["id"])
        assert found["unread"] == ["Head"]
        assert {a["name"] for a in found["report"]["axes"]} == {"Board", "Long way"}


def test_the_command_line_prints_the_one_order(
    client: TestClient, printer: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "machine.json"
    file.write_text(client.get(f"/api/machines/{printer}/file").text, encoding="utf-8")
    assert main(["work", str(file), "--on", TODAY]) == 0
    said = json.loads(capsys.readouterr().out)
    assert [w["key"] for w in said["work"]] == [
        w["step"]["key"] for w in get(client, printer)["report"]["work"]
    ]
    first = said["work"][0]
    today = {"key", "do", "state", "check", "caution", "covers", "now", "waits_for_steps", "waits_for_parts"}
    assert today | {"parts", "tools", "side", "access", "number", "axis"} <= set(first)


def test_several_axes_ride_on_nothing_and_a_broken_one_ends_with_2(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    files = []
    for name in ("seed-shuttle-aisle", "kiln-room-hoist"):
        files.append(tmp_path / f"{name}.json")
        files[-1].write_text(json.dumps(demo.designs()[name].model_dump(mode="json")), encoding="utf-8")
    assert main(["work", *map(str, files)]) == 0
    work = json.loads(capsys.readouterr().out)["work"]
    assert {w["axis"] for w in work} == {"Aisle", "Hoist"}
    (tmp_path / "broken.json").write_text("{", encoding="utf-8")
    assert main(["work", str(tmp_path / "broken.json")]) == 2
    assert "not readable as JSON" in capsys.readouterr().err
