"""Every motor, up to two stages and every end: each works or is refused at its field, and none shuts the machine
that it stands on.
"""

from __future__ import annotations

import itertools
import random
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from conftest import PLAIN
from crisp_cadence import catalog
from crisp_cadence.api.app import make_app
from crisp_cadence.core.design.design import ENDS, STAGES, changed, design_from
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.ledger.errors import EntryError, Problem
from crisp_cadence.core.machine.design import MOST_AXES, MachineAxis, MachineFile
from crisp_cadence.core.machine.report import machine_report
from crisp_cadence.core.parts.stages.contract import Motor
from thorough import TORTURE, seed

MOTORS = [k for k, kind in STAGES.items() if issubclass(kind, Motor)]
BETWEEN = [k for k in STAGES if k not in MOTORS]
ALL = [
    {"name": "Odd", "chain": [{"kind": motor}, *({"kind": s} for s in stages)], "end": {"kind": end}}
    for motor, end in itertools.product(MOTORS, ENDS)
    for count in range(3)
    for stages in itertools.product(BETWEEN, repeat=count)
]
# In the gate what has broken once, and a fixed few of the rest.
ONCE_BROKEN = [
    d
    for d in ALL
    if d["end"]["kind"] == "spindle" and [s["kind"] for s in d["chain"][1:]] in (["closed_belt"], ["coupler"])
]
SOME = ALL if TORTURE else ONCE_BROKEN + random.Random(30).sample(ALL, 60)


def sized(data: dict[str, Any], rng: random.Random) -> dict[str, Any]:
    """The same with random sizes: some numbers of the stages and the end at other places between their limits."""
    design = design_from(data)
    paths: list[tuple[str, float, float, bool]] = []
    for at, part in [(f"chain.{i}", s) for i, s in enumerate(design.chain)] + [("end", design.end)]:
        for name, info in type(part).model_fields.items():
            value, limits = getattr(part, name), {type(m).__name__: m for m in info.metadata}
            if isinstance(value, bool) or not isinstance(value, (int, float)) or "Ge" not in limits:
                continue
            paths.append((f"{at}.{name}", limits["Ge"].ge, limits["Le"].le, isinstance(value, int)))
    picked = rng.sample(paths, min(3, len(paths)))
    values = {p: low + (high - low) * rng.random() ** 4 for p, low, high, _ in picked}
    whole = {p: int(v) if is_int else v for (p, _, _, is_int), v in zip(picked, values.values(), strict=True)}
    return changed(design, whole).model_dump(mode="json")


def told(data: dict[str, Any]) -> str:
    return f"{' '.join(s['kind'] for s in data['chain'])} {data['end']['kind']}"


@pytest.mark.parametrize("data", SOME, ids=told)
def test_a_combination_works_or_is_refused_at_its_field(data: dict[str, Any]) -> None:
    rng = random.Random(seed(30))
    for tried in (data, sized(data, rng)):
        design = design_from(tried)
        problems: list[Problem] = []
        try:
            report = evaluate(design, catalog.profiles())
            assert report.verdict in ("holds", "tight", "short", "unknown", "no demand")
        except EntryError as error:
            problems = list(error.problems)
        assert all(p.field and p.message and p.remedy for p in problems)
        both = MachineFile(
            axes=[MachineAxis(key="odd", design=design), MachineAxis(key="sound", design=design_from(PLAIN))]
        )
        machine = machine_report(both, catalog.profiles(), "2026-12-02")
        rows = {row.key: row for row in machine.axes}
        assert rows["sound"].verdict == evaluate(design_from(PLAIN), catalog.profiles()).verdict
        assert bool(rows["odd"].problems) is bool(problems)
        assert any(step.axis == "sound" for step in machine.work)


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    app = make_app(tmp_path_factory.mktemp("combinations") / "data")
    with TestClient(app, base_url="http://127.0.0.1") as made:
        yield made


def test_none_of_them_shuts_a_machine(client: TestClient) -> None:
    machine = client.post("/api/machines", json={"name": "Odd ones"}).json()["id"]
    sound = client.post(f"/api/machines/{machine}/import", json=PLAIN).json()["id"]
    for data in ONCE_BROKEN + random.Random(31).sample(ALL, 12 if not TORTURE else len(ALL)):
        assert client.post("/api/edit?belt=true", json=data).status_code in (200, 422), told(data)
        odd = client.post(f"/api/machines/{machine}/import", json=data).json()["id"]
        for path in (
            f"/machines/{machine}",
            f"/machines/{machine}/file",
            f"/machines/{machine}/bill",
            f"/axes/{odd}/file",
            "/shelf",
        ):
            assert client.get(f"/api{path}").status_code == 200, (told(data), path)
        design = client.get(f"/api/axes/{sound}").json()["design"]
        for axis, of in ((sound, design), (odd, data)):
            answer = client.post(f"/api/axes/{axis}/work", json=of)
            assert answer.status_code == 200, told(data)
        assert any(
            s["key"] == "check_parts"
            for s in client.post(f"/api/axes/{sound}/work", json=design).json()["work"]
        )
        plan = client.get(f"/api/machines/{machine}").json()
        saved = client.put(
            f"/api/machines/{machine}/plan",
            json={"base_version": plan["version"], "plan": plan["plan"] | {"budget": 10.0}},
        )
        assert saved.status_code == 200, told(data)
        client.delete(f"/api/axes/{odd}")


def test_a_machine_takes_no_axis_more_than_it_may_and_what_stands_can_be_opened(client: TestClient) -> None:
    machine = client.post("/api/machines", json={"name": "Full"}).json()["id"]
    ids = [client.post(f"/api/machines/{machine}/import", json=PLAIN).json()["id"] for _ in range(MOST_AXES)]
    for path, body in ((f"{machine}/axes", {"name": "One more"}), (f"{machine}/import", PLAIN)):
        refused = client.post(f"/api/machines/{path}", json=body)
        assert refused.status_code == 422
        assert refused.json()["problems"][0]["field"] == "axes"
        assert refused.json()["problems"][0]["limit"] == str(MOST_AXES)
    client.delete(f"/api/axes/{ids[0]}")
    client.post(f"/api/machines/{machine}/import", json=PLAIN)
    assert client.post(f"/api/axes/{ids[0]}/back").status_code == 422
    # What an earlier version has let in stays open, and goes out as a file.
    kept = client.app.state.shelves.own.store  # type: ignore[attr-defined]
    with kept.transaction() as db:
        db.execute("UPDATE axis SET removed_at = NULL WHERE id = ?", (ids[0],))
    assert len(client.get(f"/api/machines/{machine}/file").json()["axes"]) == MOST_AXES + 1
    assert client.get(f"/api/machines/{machine}").status_code == 200
