"""What is published describes what is taken: outside readers of JSON Schema and OpenAPI against the program's
own files and answers.
"""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import fuzz
import jsonschema
import pytest
import schemathesis
from fastapi.testclient import TestClient

from crisp_cadence import catalog, demo, dump_design
from crisp_cadence.api import examples
from crisp_cadence.api.app import make_app
from crisp_cadence.api.beside import Shelves
from crisp_cadence.core.design.design import design_from, design_schema
from crisp_cadence.store import Store, axes, drawer
from thorough import many

DESIGNS = demo.designs()


@pytest.fixture(scope="module")
def described(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    return make_app(tmp_path_factory.mktemp("described")).openapi()


@pytest.mark.parametrize("name", DESIGNS)
def test_the_published_schemas_accept_the_programs_own_files(name: str, described: dict[str, Any]) -> None:
    """Draft 2020-12, read by the jsonschema package. Each part is exactly one of the kinds, the catch-all
    being none of the known.
    """
    data = json.loads(dump_design(DESIGNS[name]))
    jsonschema.Draft202012Validator(design_schema()).validate(data)
    whole = {**described["components"]["schemas"]["AxisDesign"], "components": described["components"]}
    jsonschema.Draft202012Validator(whole).validate(data)


@pytest.mark.parametrize(
    "spoil",
    [lambda d: d["aim"].update(speed_mm_s=-1), lambda d: d["chain"].append({"kind": ""}), lambda d: d.update(chain=[]), lambda d: d["chain"][0].update(hold_torque_nm="strong"), lambda d: d.pop("end")],
)  # fmt: skip
def test_they_refuse_what_the_program_refuses(spoil: Any) -> None:
    data = json.loads(dump_design(DESIGNS["seed-shuttle-aisle"]))
    spoil(data)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.Draft202012Validator(design_schema()).validate(data)


def test_a_kind_of_a_later_version_is_accepted_once() -> None:
    data = json.loads(dump_design(DESIGNS["seed-shuttle-aisle"]))
    data["chain"].append({"kind": "harmonic drive", "cup": 3})
    jsonschema.Draft202012Validator(design_schema()).validate(data)


NOW = "2026-11-26T10:00:00.000+00:00"


def test_every_operation_has_a_subject_a_name_and_an_example_that_works(
    tmp_path: Path, described: dict[str, Any]
) -> None:
    """Each example goes out as it stands in the description, over a store that holds what the examples name."""
    names = [o["operationId"] for ways in described["paths"].values() for o in ways.values()]
    assert len(set(names)) == len(names)
    assert {
        (w, p.removeprefix("/api"))
        for p, ways in described["paths"].items()
        for w, o in ways.items()
        if "requestBody" in o
    } == set(examples.BODIES)
    sent = 0
    app = make_app(tmp_path / "any")
    for path, ways in described["paths"].items():
        for method, operation in ways.items():
            assert len(operation["tags"]) == 1
            if path in ("/api/store/rescue", "/api/store/adopt"):
                continue  # refused as it should be: the file is sound, and no copy lies beside it
            store = Store(tmp_path / str(sent))
            with store.transaction() as db:
                db.execute(
                    "INSERT INTO machine (id, name, created_at) VALUES (?, 'Seed shuttle', ?)",
                    (examples.MACHINE, NOW),
                )
                db.execute(
                    "INSERT INTO axis (id, machine_id, version, created_at) VALUES (?, ?, 1, ?)",
                    (examples.AXIS, examples.MACHINE, NOW),
                )
                text = dump_design(design_from(examples.DESIGN))
                db.execute(
                    "INSERT INTO revision (axis_id, number, at, design) VALUES (?, 1, ?, ?)",
                    (examples.AXIS, NOW, text),
                )
                db.execute(
                    "INSERT INTO log_entry (id, axis_id, revision, on_date, kind, says, created_at) "
                    "VALUES (?, ?, 1, '2026-05-01', 'note', 'x', ?)",
                    (examples.ENTRY, examples.AXIS, NOW),
                )
                db.execute(
                    "INSERT INTO plan_revision (machine_id, number, at, plan) VALUES (?, 1, ?, '')",
                    (examples.MACHINE, NOW),
                )
                db.execute("INSERT INTO intake (id, at, new, changed) VALUES (1, ?, 0, 0)", (NOW,))
            if path == "/api/drawer/cut":
                drawer.set_stock(store, catalog.parts(), examples.ROLL, 0, 1, None)
            if path == "/api/axes/{axis_id}/restore":
                axes.save(store, examples.AXIS, 1, design_from({**examples.DESIGN, "note": "second"}), NOW)
            places = {p["name"]: p["example"] for p in operation.get("parameters", ())}
            asked = {p["name"]: p["example"] for p in operation.get("parameters", ()) if p["in"] == "query"}
            body = (
                operation.get("requestBody", {}).get("content", {}).get("application/json", {}).get("example")
            )
            with TestClient(app, base_url="http://localhost") as client:
                app.state.shelves.close()
                app.state.shelves = Shelves(store)
                answer = client.request(method, path.format(**places), params=asked, json=body)
            assert answer.status_code < 300, (method, path, answer.text)
            assert '"failed":"' not in answer.text
            sent += 1
    assert sent > 50


def test_every_operation_answers_as_described(tmp_path: Path) -> None:
    """schemathesis against the program's own description: no 5xx, statuses, content types and bodies as they
    are documented.
    """
    api = schemathesis.openapi.from_asgi("/api/openapi.json", make_app(tmp_path, frozenset({"testserver"})))
    assert fuzz.as_described(api, many(3, 30), lambda case: case.call()) > 50


def test_the_fuzz_sees_what_it_should(tmp_path: Path) -> None:
    """A check that cannot fail is none: an answer that is not as described is found."""
    app = make_app(tmp_path, frozenset({"testserver"}))
    description = app.openapi()
    description["components"]["schemas"]["VersionAnswer"]["properties"]["version"]["type"] = "string"
    description["paths"] = {p: w for p, w in description["paths"].items() if p == "/api/drawer/{key}"}
    app.openapi = lambda: description  # type: ignore[method-assign]
    with pytest.raises((AssertionError, BaseExceptionGroup), match=r"(?s)schema|failures"):
        fuzz.as_described(
            schemathesis.openapi.from_asgi("/api/openapi.json", app), 20, lambda case: case.call()
        )


class TestTheCommandLine:
    def test_a_reader_that_has_enough_is_no_fault(self) -> None:
        process = subprocess.Popen(
            [sys.executable, "-m", "crisp_cadence.cli", "schema"],
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
        )
        assert process.stdout is not None
        process.stdout.read(10)
        process.stdout.close()
        assert process.stderr is not None
        assert process.stderr.read() == b""
        process.stderr.close()
        assert process.wait(timeout=30) == 141

    @pytest.mark.parametrize("code_page", ["ascii", "cp437", "cp1252"])
    def test_a_narrow_code_page_changes_nothing(self, code_page: str, tmp_path: Path) -> None:
        (tmp_path / "d.json").write_text(dump_design(DESIGNS["seed-shuttle-aisle"]), encoding="utf-8")
        for command in (
            ["schema"],
            ["evaluate", str(tmp_path / "d.json")],
            ["export", str(tmp_path / "d.json"), "cut"],
            ["evaluate", str(tmp_path / "nothing → here")],
        ):
            done = subprocess.run(
                [sys.executable, "-m", "crisp_cadence.cli", *command],
                check=False,
                capture_output=True,
                env={"PYTHONIOENCODING": code_page, "PATH": ""},
            )
            assert b"Traceback" not in done.stderr
            done.stdout.decode("utf-8")
            done.stderr.decode("utf-8")
