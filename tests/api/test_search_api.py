"""The search over the wire: line by line, refused at once, stopped by hanging up, and no hindrance to a
second window.
"""

from __future__ import annotations

import http.client
import json
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest
from fastapi.testclient import TestClient
from running import Running, program

from crisp_cadence import demo
from crisp_cadence.api.app import make_app

AISLE = demo.designs()["seed-shuttle-aisle"].model_dump(mode="json")
JSON = {"content-type": "application/json"}


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(make_app(tmp_path_factory.mktemp("search")), base_url="http://localhost") as made:
        yield made


def test_the_answer_comes_as_the_last_line(client: TestClient) -> None:
    got = client.post("/api/search", json={"design": AISLE})
    lines = [json.loads(line) for line in got.text.splitlines()]
    assert [line["answer"] is None for line in lines] == [True] * (len(lines) - 1) + [False]
    answer = lines[-1]["answer"]
    assert answer["tried"] > 1e5
    assert answer["left_out"] > 0
    assert 0 < len(answer["rows"]) == answer["front"]
    assert all(0 <= r["alone"] <= r["count"] <= r["asked"] for r in answer["rejected"] if r["key"] != "bore")


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"design": AISLE, "scope": "drawer only"}, "drawer"),
        ({"design": AISLE, "reductions": []}, "reductions"),
        ({"design": {**AISLE, "chain": [{"kind": "gearmotor"}]}}, "chain.0.kind"),
        ({"design": AISLE, "scope": "drawer only", "reductions": ["gearbox"]}, "drawer"),
    ],
)
def test_what_is_refused_is_refused_at_once(client: TestClient, body: dict[str, Any], field: str) -> None:
    got = client.post("/api/search", json=body)
    assert got.status_code == 422
    problem = got.json()["problems"][0]
    assert problem["field"].endswith(field)
    assert problem["remedy"]


def test_an_overfull_drawer_names_the_ways_that_there_are(client: TestClient) -> None:
    """Each of the ways that the refusal names is gone: own parts only, rows taken out, the file taken back."""
    columns = (
        "hold_torque_nm,rated_current_a,resistance_ohm,inductance_mh,rotor_inertia_gcm2,detent_torque_nm"
    )
    rows = "\n".join(f"stepper,Odd {n},0,NEMA 17,5,0.4,1.5,1.8,3,60,0.02" for n in range(3000))
    text = f"kind,name,quantity,frame,shaft_mm,{columns}\n{rows}\n"

    def refused() -> str:
        got = client.post("/api/search", json={"design": AISLE})
        assert got.status_code == 422, "a search of so many is refused at once"
        assert "too many" in got.json()["problems"][0]["message"]
        return str(got.json()["problems"][0]["remedy"])

    step = client.post("/api/drawer/import", json={"text": text}).json()["id"]
    remedy = refused()
    assert "Search only what you own" in remedy
    assert "take out what you will never use, or take back the file that brought it" in remedy
    assert (
        client.post("/api/search", json={"design": AISLE, "scope": "drawer only"}).json()["problems"][0][
            "message"
        ]
        != ""
    ), "none is owned"
    odd = [r["key"] for r in client.get("/api/drawer").json() if r["name"].startswith("Odd")]
    assert client.post("/api/drawer/out", json={"keys": odd}).json() == {"count": 3000}
    assert client.post("/api/search", json={"design": AISLE}).status_code == 200
    assert client.post("/api/drawer/back", json={"keys": odd}).json() == {"count": 3000}
    refused()
    kept = client.post(f"/api/drawer/intakes/{step}/undo").json()
    assert (kept["rows"], kept["kept"]) == (0, 3000), (
        "they were changed since the file came: taken out and brought back"
    )
    assert client.post("/api/drawer/out", json={"keys": odd}).json() == {"count": 3000}
    step = client.post("/api/drawer/import", json={"text": text.replace("Odd", "Other")}).json()["id"]
    refused()
    assert client.post(f"/api/drawer/intakes/{step}/undo").json()["rows"] == 3000
    assert client.post("/api/search", json={"design": AISLE}).status_code == 200


def test_why_not_answers_by_name(client: TestClient) -> None:
    known = client.post("/api/search/options", json={"design": AISLE}).json()
    assert len(known["motors"]) > 400
    asked = {
        "design": AISLE,
        "motor": known["motors"][0],
        "stages": [known["stages"][1]],
        "belt": known["belts"][-1],
        "microsteps": 16,
    }
    why = client.post("/api/search/why", json=asked).json()
    assert why["verdict"] in ("holds", "tight", "short", "unknown", None)
    assert bool(why["ladder"]) == (why["verdict"] is not None)
    assert (
        client.post("/api/search/why", json={**asked, "motor": "nobody's"}).json()["problems"][0]["field"]
        == "motor"
    )


def spent(running: Running) -> float:
    """Processor time of the program so far, in clock ticks."""
    fields = Path(f"/proc/{running.process.pid}/stat").read_text(encoding="utf-8").rpartition(")")[2].split()
    return float(fields[11]) + float(fields[12])


def test_a_vast_search_tells_how_far_it_is_lets_others_in_and_ends_when_its_window_hangs_up(
    tmp_path: Path,
) -> None:
    """Two closed belts: thousands of millions of combinations. Meanwhile a second window works; memory stays
    bounded; hanging up ends it.
    """
    with program(tmp_path, "demo") as running:
        asking = http.client.HTTPConnection(urlsplit(running.url).netloc, timeout=30)
        body = {"design": AISLE, "reductions": ["direct", "gearbox", "closed belt", "two closed belts"]}
        asking.request("POST", "/api/search", json.dumps(body).encode(), JSON)
        answer = asking.getresponse()
        assert answer.status == 200
        shares = [json.loads(answer.readline())["done"] for _ in range(3)]
        for _ in range(5):
            assert running.ask("/evaluate", AISLE)["verdict"]
            assert running.ask("/shelf")
        while not shares[-1] and len(shares) < 400:  # the first pieces take long where others work too
            shares.append(json.loads(answer.readline())["done"])
        assert shares == sorted(shares)
        assert 0 < shares[-1] < 0.5
        held = int(Path(f"/proc/{running.process.pid}/statm").read_text(encoding="utf-8").split()[1]) * 4096
        assert held < 600e6
        answer.close()
        asking.close()
        for _ in range(50):  # the piece in hand is ended, then nothing more is done
            before = spent(running)
            time.sleep(0.2)
            if spent(running) - before < 3:
                break
        else:
            pytest.fail("the search went on after its window hung up")
