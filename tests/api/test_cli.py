"""The command line: the same numbers as the API, clear words for what cannot be."""

from __future__ import annotations

import io
import json
from pathlib import Path

import pytest

import crisp_cadence
from crisp_cadence import cli, demo


def test_examples_evaluate_to_the_numbers_of_the_core(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert cli.main(["examples", str(tmp_path)]) == 0
    names = capsys.readouterr().out.split()
    assert len(names) == len(demo.designs()) >= 3
    for name, design in demo.designs().items():
        assert cli.main(["evaluate", str(tmp_path / f"{name}.json")]) == 0
        printed = json.loads(capsys.readouterr().out)
        report = crisp_cadence.evaluate(design)
        assert {q["key"]: q["value"] for q in printed["results"]} == {q.key: q.value for q in report.results}
        assert printed["verdict"] == report.verdict


def test_standard_input(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    text = crisp_cadence.dump_design(demo.designs()["slip-writer-reach"]).encode()
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(text)))
    assert cli.main(["evaluate", "-"]) == 0
    assert json.loads(capsys.readouterr().out)["name"] == "Reach"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "not readable as JSON"),
        (
            '{"format": "crisp-cadence/axis", "version": 7}',
            "version: was written by a newer version of this program; it is '7' (limit 1). Open it "
            "with the newer program; nothing was changed.",
        ),
        (
            '{"chain": [{"kind": "stepper"}], "end": {"kind": "carriage_loop"}, "guide": {"rail_mm": 60}}',
            "guide.rail_mm",
        ),
    ],
)
def test_files_that_cannot_be_evaluated(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], text: str, says: str
) -> None:
    file = tmp_path / "a.json"
    file.write_text(text)
    assert cli.main(["evaluate", str(file)]) == 2
    got = capsys.readouterr()
    assert says in got.err
    assert got.out == ""


def test_files_that_are_not_there(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert cli.main(["evaluate", str(tmp_path / "none.json")]) == 2
    assert "No such file" in capsys.readouterr().err
    (tmp_path / "file").write_text("")
    assert cli.main(["examples", str(tmp_path / "file")]) == 2
    assert cli.main(["serve", "--port", "99999"]) == 2
    assert "0 to 65535" in capsys.readouterr().err


def test_the_schema_is_printed(capsys: pytest.CaptureFixture[str]) -> None:
    assert cli.main(["schema"]) == 0
    assert json.loads(capsys.readouterr().out)["title"] == "AxisDesign"


def test_choosing_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Search and its like as JSON from the starter catalogue, for the demo's short axis."""
    file = tmp_path / "pass.json"
    file.write_text(crisp_cadence.dump_design(demo.designs()["glaze-bench-pass"]), encoding="utf-8")
    told = {}
    for how in ("search", "change", "ways", "far", "propose"):
        assert cli.main([how, str(file)]) == 0
        told[how] = json.loads(capsys.readouterr().out)
    assert told["search"]["holding"] > 1000
    assert told["search"]["rows"]
    assert told["change"]["verdict"] == "short"
    assert told["change"]["cheapest"]["verdict"] == "holds"
    assert {w["key"]: w["verdict"] for w in told["ways"]["ways"]}["carriage_loop"] == "holds"
    assert {a["path"] for a in told["far"]["aims"]} >= {"aim.speed_mm_s", "aim.push_n"}
    assert told["propose"][0]["name"] == "plainest"
    assert all(p["verdict"] == "holds" and p["money"] > 0 for p in told["propose"])
    file.write_text('{"name": "No chain"}', encoding="utf-8")
    assert cli.main(["propose", str(file)]) == 2
    file.write_text(crisp_cadence.dump_design(demo.designs()["kiln-room-hoist"]), encoding="utf-8")
    for how, field in (("search", "chain.0.kind"), ("ways", "end.kind")):
        assert cli.main([how, str(file)]) == 2
        assert field in capsys.readouterr().err
