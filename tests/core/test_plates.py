"""Mounts that nobody has chosen are named, and the plates that would do in their place do."""

from __future__ import annotations

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.account.verdicts import RANK
from crisp_cadence.core.choosing.plates import PLATES_MM, plates
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.evaluation.evaluate import evaluate

PROFILES = catalog.profiles()
DESIGNS: dict[str, AxisDesign] = {**demo.designs(), **{key: begin(key, "New") for key in LAYOUTS}}


@pytest.mark.parametrize("name", DESIGNS)
def test_plates_that_do_make_no_rung_worse_and_thinner_ones_would(name: str) -> None:
    design = DESIGNS[name]
    was, found = evaluate(design, PROFILES), plates(design, PROFILES)
    assert set(found.thick_mm) <= set(was.rigid)
    report = evaluate(changed(design, found.changes), PROFILES)
    assert (report.verdict, report.in_words) == (found.verdict, found.in_words)
    assert set(report.rigid) == set(was.rigid) - set(found.thick_mm)
    before = {r.key: min(RANK[r.verdict], RANK["holds"]) for r in was.ladder}
    worse = [r.key for r in report.ladder if not r.advisory and RANK[r.verdict] < before.get(r.key, 3)]
    assert worse == []
    for path, size in found.thick_mm.items():
        thinner = [s for s in PLATES_MM if s < size]
        if thinner:
            less = evaluate(changed(design, {**found.changes, f"{path}.thickness_mm": thinner[-1]}), PROFILES)
            assert [r.key for r in less.ladder if not r.advisory and RANK[r.verdict] < before.get(r.key, 3)]


def test_what_somebody_has_chosen_is_no_open_question() -> None:
    design = begin("carriage_loop", "New")
    assert evaluate(design, PROFILES).rigid == ("end.motor_mount", "end.idler_mount")
    said = design.model_copy(update={"chosen": ["end.motor_mount.kind"]})
    assert evaluate(said, PROFILES).rigid == ("end.idler_mount",)
    plate = changed(design, {"end.idler_mount.kind": "plate"})
    assert evaluate(plate, PROFILES).rigid == ("end.motor_mount",)
    assert plates(changed(said, {"end.idler_mount.kind": "plate"}), PROFILES).changes == {}


def test_where_no_plate_does_that_is_said() -> None:
    """Half a metre of free length on 40 mm of width, which nobody would build."""
    long = {f"end.motor_mount.{n}": v for n, v in (("overhang_mm", 500.0), ("width_mm", 5.0))}
    found = plates(changed(begin("carriage_loop", "New"), long), PROFILES)
    assert "end.motor_mount" not in found.thick_mm
    assert "No plate up to 12 mm does for motor mount" in found.says
