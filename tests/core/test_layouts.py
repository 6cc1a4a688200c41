"""Every layout as a whole: it can be begun, evaluated, drawn and refused with a reason; a new stage needs
nothing but its own file.
"""

from __future__ import annotations

import json
import math
import os
import shutil
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

import crisp_cadence
from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import Report, report_json
from crisp_cadence.core.design.design import changed as with_fields
from crisp_cadence.core.design.design import design_from, dump_design, parse_design
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.design.riding import as_load, carrying, on_its_own
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.ledger.errors import EntryError
from helpers import rung, value

PROFILES = catalog.profiles()
DESIGNS = demo.designs()  # worked out once: each takes an evaluation


def changed(name: str, **parts: dict[str, Any]) -> Report:
    """A demo axis with some fields of its parts replaced: end={"length_mm": 900}."""
    data = DESIGNS[name].model_dump(mode="json")
    for key, fields in parts.items():
        data[key].update(fields)
    return evaluate(design_from(data), PROFILES)


def refusal(name: str, **parts: dict[str, Any]) -> dict[str, str]:
    with pytest.raises(EntryError) as caught:
        changed(name, **parts)
    for p in caught.value.problems:
        assert p.remedy, p.field
    return {p.field: p.message for p in caught.value.problems}


@pytest.mark.parametrize("key", LAYOUTS)
def test_every_layout_begins_evaluates_and_is_drawn(key: str) -> None:
    design = begin(key, "New")
    assert parse_design(dump_design(design).encode()) == design
    report = evaluate(design, PROFILES)
    assert report.scene is not None
    assert len(report.work) > 8
    assert len(report.bill) >= 2
    assert report.cautions
    assert report.drive_line[-1].part == "carriage"
    assert json.loads(report_json(report))["name"] == "New"
    assert len({q.key for q in report.results}) == len(report.results)
    for q in report.results:
        assert q.equation, q.key
        assert q.source, q.key
        assert (q.value is None) == bool(q.missing), q.key


def test_the_demo_holds_every_layout() -> None:
    ends = {d.end.kind for d in demo.designs().values()}
    assert ends == {
        "carriage_loop",
        "riding_motor",
        "crossed_belts",
        "screw",
        "rack",
        "joint",
        "wheel",
        "drum",
        "spindle",
    }
    stages = {s.kind for d in demo.designs().values() for s in d.chain}
    assert stages == {
        "stepper",
        "gearmotor",
        "induction",
        "gearbox",
        "closed_belt",
        "coupler",
        "clutch",
        "worm",
    }
    assert {d.sides.kind for d in demo.designs().values()} == {"one", "two motors"}


@pytest.mark.parametrize("name", list(demo.designs()))
def test_scenes_stay_where_they_belong(name: str) -> None:
    """Drawings are finite, and every strand is one unbroken line at both ends of the travel."""
    report = evaluate(DESIGNS[name], PROFILES)
    for scene in (report.scene, *report.stage_scenes):
        assert scene is not None
        for q in (0.0, scene.travel_mm):
            for strand in scene.strands:
                for before, after in zip(strand.pieces, strand.pieces[1:], strict=False):
                    gap = math.hypot(
                        before.stop.x_mm + q * before.stop.dx - after.start.x_mm - q * after.start.dx,
                        before.stop.y_mm + q * before.stop.dy - after.start.y_mm - q * after.start.dy,
                    )
                    assert gap < 1e-6, (name, scene.title)


def test_the_riding_belt_is_as_long_wherever_the_motor_stands() -> None:
    design = DESIGNS["drying-shelves-probe"]
    end: Any = design.end
    report = evaluate(design, PROFILES)
    from crisp_cadence.core.account.context import Context
    from crisp_cadence.core.geometry.path import belt_path

    ctx = Context(design, PROFILES)
    end.travel(ctx)
    end.moving(ctx)
    lengths = [belt_path(end.rounds(ctx, x), closed=False).length_mm for x in (0.0, 700.0, 2100.0)]
    assert lengths == pytest.approx([value(report, "belt.free")] * 3)


class TestRefusals:
    def test_closed_belt_too_short(self) -> None:
        chain = DESIGNS["clay-printer-long-way"].model_dump(mode="json")["chain"]
        chain[1]["belt_teeth"] = 45
        with pytest.raises(EntryError, match="two pulleys would collide") as caught:
            evaluate(
                design_from({**DESIGNS["clay-printer-long-way"].model_dump(mode="json"), "chain": chain}),
                PROFILES,
            )
        assert caught.value.problems[0].field == "chain.1.belt_teeth"

    def test_screw_too_thin(self) -> None:
        assert (
            "too thin for its length"
            in refusal("clay-printer-board", end={"diameter_mm": 4.0, "pitch_mm": 0.7, "length_mm": 1900.0})[
                "end.diameter_mm"
            ]
        )

    def test_thread_too_deep(self) -> None:
        assert "hardly any core" in refusal("clay-printer-board", end={"pitch_mm": 8.0})["end.pitch_mm"]

    def test_cone_steps_that_cannot_share_a_belt(self) -> None:
        assert (
            "cannot serve any step"
            in refusal("trimming-bench-potter-s-wheel", end={"high_rpm": 5000.0})["end.motor_belt_mm"]
        )

    def test_belts_that_do_not_reach(self) -> None:
        assert "no place" in refusal("trimming-bench-potter-s-wheel", end={"apart_mm": 900.0})["end.apart_mm"]

    def test_idlers_that_collide_with_the_pulley(self) -> None:
        assert (
            "overlaps with the near idler"
            in refusal("drying-shelves-probe", end={"idler_spread_mm": 12.0, "pulley_rise_mm": 5.0})[
                "end.pulley_rise_mm"
            ]
        )

    def test_a_frame_narrower_than_its_rail(self) -> None:
        assert "end.frame_x_mm" in refusal("clay-printer-head", end={"frame_x_mm": 300.0})

    @pytest.mark.parametrize(
        ("motor", "name"),
        [
            ("induction", "seed-shuttle-aisle"),
            ("gearmotor", "clay-printer-head"),
            ("stepper", "trimming-bench-potter-s-wheel"),
        ],
    )
    def test_a_motor_of_the_wrong_kind_for_its_end(self, motor: str, name: str) -> None:
        data = DESIGNS[name].model_dump(mode="json")
        data["chain"][0] = {"kind": motor}
        with pytest.raises(EntryError) as caught:
            evaluate(design_from(data), PROFILES)
        assert caught.value.problems[0].field == "chain.0.kind"

    def test_sides_do_not_go_with_a_wheel(self) -> None:
        assert "sides.kind" in refusal("tray-rover-wheels", sides={"kind": "two motors"})

    @pytest.mark.parametrize(
        ("change", "field"),
        [
            ({"chain": [{"kind": "stepper"}, {"kind": "gearbox", "ratio": 0.0}]}, "chain.1.ratio"),
            ({"chain": [{"kind": "stepper"}], "end": None}, "end"),
            ({"chain": [{"kind": "stepper"}, {"kind": "worm", "wheel_teeth": 0}]}, "chain.1.wheel_teeth"),
        ],
    )
    def test_a_ratio_of_nothing_and_a_chain_that_ends_in_nothing(
        self, change: dict[str, Any], field: str
    ) -> None:
        with pytest.raises(EntryError) as caught:
            design_from({"end": {"kind": "carriage_loop"}, **change})
        assert caught.value.problems[0].field == field
        assert caught.value.problems[0].remedy


def test_an_arm_heavier_than_its_motor_is_short_with_a_way_to_go() -> None:
    report = changed("spray-booth-spray-arm", end={"arm_kg": 60.0})
    hold = rung(report, "torque_hold")
    assert hold.verdict == "short"
    assert hold.says


def test_heads_are_worked_out_one_by_one() -> None:
    report = evaluate(DESIGNS["kiln-room-loader"], PROFILES)
    assert [c.name for c in report.cases] == ["Mugs", "Large bowl"]
    assert rung(report, "pull").case == "Large bowl"
    assert rung(report, "travel").case == "", "the same for both"
    assert report.case == "Large bowl"


def test_a_self_locking_screw_needs_no_holding_torque_and_does_not_fall() -> None:
    report = evaluate(DESIGNS["clay-printer-board"], PROFILES)
    assert value(report, "screw.efficiency_back") < 0
    assert rung(report, "torque_hold").verdict == "no demand"
    assert not any(r.key == "unpowered" for r in report.ladder)
    assert any("holds by itself" in n.says for n in report.notes)


def test_what_rides_on_an_axis_counts_as_its_load() -> None:
    high = DESIGNS["clay-printer-head"]
    low = DESIGNS["clay-printer-long-way"].model_copy(update={"riding": []})
    load = as_load(high)
    assert load.mass_kg == pytest.approx(0.55 + 0.4 + 2.4 + 2 * 0.5)
    report = evaluate(carrying(low, [high]), PROFILES)
    assert value(report, "mass.tally") == pytest.approx(
        value(evaluate(low, PROFILES), "mass.tally") + load.mass_kg
    )
    assert carrying(carrying(low, [high]), [high]).riding == carrying(low, [high]).riding
    alone = carrying(on_its_own(carrying(low, [high])), [])
    assert [m.mass_kg for m in alone.riding] == [load.mass_kg], "a file keeps the load without the axis"


def test_wheels_rail_and_stand_are_checked_when_filled_in() -> None:
    plain = evaluate(DESIGNS["seed-shuttle-aisle"], PROFILES)
    assert not {"wheel", "rail", "tip"} & {r.key for r in plain.ladder}
    full = changed(
        "seed-shuttle-aisle",
        stand={
            "wheel_limit_n": 60.0,
            "rail_span_mm": 1700.0,
            "stand_kg": 8.0,
            "beyond_mm": 300.0,
            "foot_mm": 300.0,
            "play_mm": 0.1,
        },
    )
    assert {"wheel", "rail", "tip", "play"} <= {r.key for r in full.ladder}
    assert rung(full, "rail").demand == pytest.approx(2.2 * 9.80665 * 1700**3 / 48 / 69e3 / 7000)


@given(offset=st.floats(0, 280), width=st.floats(600, 2000))
def test_the_loaded_side_carries_more_the_farther_off_the_load(offset: float, width: float) -> None:
    near = changed("kiln-room-loader", sides={"offset_mm": 0.0, "width_mm": width})
    far = changed("kiln-room-loader", sides={"offset_mm": offset, "width_mm": width})
    assert value(far, "belt.peak_force") == pytest.approx(
        value(near, "belt.peak_force") * (1 + 2 * offset / width)
    )


STAGE = '''
from typing import Literal

from crisp_cadence.core.account.context import Context
from crisp_cadence.core.account.found import OutputShaft
from crisp_cadence.core.fields.part import num
from crisp_cadence.core.ledger.quantity import Given
from crisp_cadence.core.parts.stages.contract import Stage, Transmission


class RollerChain(Stage):
    """A stage that only this test knows."""

    kind: Literal["roller_chain"] = "roller_chain"
    ratio: float = num("Ratio", "number", ": 1", 0.1, 20, 2.0)
    stiffness_nm_rad: float = num("Torsional stiffness", "torsional stiffness", "N·m/rad", 1, 1e6, 400.0)

    def transmit(self, at: str, ctx: Context) -> Transmission:
        return Transmission(ctx.given(f"{at}.ratio"), 0.97, 30.0, ctx.given(f"{at}.stiffness_nm_rad"), 0.0)

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        return OutputShaft(at, Given(f"{at}.shaft", 8.0, "mm"), "flat", Given(f"{at}.shaft", 200.0, "N"))

    def main_number(self) -> tuple[str, str]:
        return f"{self.ratio:g} : 1", "ratio"
'''

USE = """
import sys
from pathlib import Path

from fastapi.testclient import TestClient

from crisp_cadence.api.app import make_app

design = {"name": "With a chain", "chain": [{"kind": "stepper"}, {"kind": "roller_chain", "ratio": 3.0}], "end": {"kind": "carriage_loop", "pulley": {"bore_mm": 8.0, "hub_mm": 18.0, "teeth": 24}}}
with TestClient(make_app(Path(sys.argv[1])), base_url="http://localhost") as client:
    machine = client.post("/api/machines", json={"name": "M"}).json()["id"]
    axis = client.post(f"/api/machines/{machine}/import", json=design).json()["id"]
    saved = client.get(f"/api/axes/{axis}").json()["design"]
    assert saved["chain"][1] == {**saved["chain"][1], "kind": "roller_chain", "ratio": 3.0}, saved
    report = client.post("/api/evaluate", json=saved).json()
    assert "results" in report, report
    steps = next(q["value"] for q in report["results"] if q["key"] == "steps_per_mm")
    assert abs(steps - 3200 * 3 / 48) < 1e-9, steps
    assert [n["label"] for n in report["drive_line"]][:2] == ["Stepper", "Roller chain"]
    assert client.post("/api/evaluate", json={**saved, "chain": [saved["chain"][0], {"kind": "roller_chain", "ratio": 0.0}]}).json()["problems"][0]["field"] == "chain.1.ratio"
    assert "RollerChain" in client.get("/api/start").json()["design_schema"]["$defs"]
"""


def test_a_new_stage_is_one_file_and_needs_no_change_in_api_or_store(tmp_path: Path) -> None:
    """The whole program copied, with one file more."""
    package = tmp_path / "crisp_cadence"
    shutil.copytree(
        Path(crisp_cadence.__file__).parent, package, ignore=shutil.ignore_patterns("web", "__pycache__")
    )
    (package / "core" / "parts" / "stages" / "roller_chain.py").write_text(STAGE, encoding="utf-8")
    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", USE, str(tmp_path / "data")],
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, "PYTHONPATH": str(tmp_path)},
    )
    assert done.returncode == 0, done.stderr


def test_a_riding_motor_hangs_on_the_carriage_too() -> None:
    """Statics: what rides along is lifted and pressed on the guide like the rest, the still belt and the
    idlers' spin are not.
    """
    probe = with_fields(
        demo.designs()["drying-shelves-probe"], {"aim.slope_deg": 90.0, "guide.friction": 0.1}
    )
    light, heavy = (evaluate(with_fields(probe, {"chain.0.mass_kg": kg}), PROFILES) for kg in (0.3, 1.3))
    assert value(heavy, "force.weight") - value(light, "force.weight") == pytest.approx(9.80665)
    assert value(light, "mass.lifted") == pytest.approx(value(light, "mass.tally") + 0.3)
    level = [
        evaluate(with_fields(probe, {"aim.slope_deg": 0.0, "chain.0.mass_kg": kg}), PROFILES)
        for kg in (0.3, 1.3)
    ]
    assert value(level[1], "force.drag") - value(level[0], "force.drag") == pytest.approx(0.980665)
