"""What nobody has chosen: counted as the layout began, and no longer once somebody chose, measured or took it."""

from __future__ import annotations

from typing import Any

import pytest

from crisp_cadence import catalog
from crisp_cadence.core.design.assumed import assumed
from crisp_cadence.core.design.design import AxisDesign, changed, design_schema
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.fitting.taking import take


def at(design: AxisDesign, path: str) -> Any:
    here: Any = design
    for key in path.split("."):
        here = here[int(key)] if isinstance(here, list) else getattr(here, key)
    return here


@pytest.mark.parametrize("key", LAYOUTS)
def test_a_new_axis_is_assumed_and_every_path_is_a_value(key: str) -> None:
    design = begin(key, "Axis")
    found = assumed(design)
    assert len(found) > 30
    assert all(isinstance(at(design, path), (int, float, str)) for path in found)
    own = {  # a spindle has speeds of its own and no travel, an arm an angle
        "spindle": {"end.low_rpm", "end.high_rpm"},
        "joint": {"end.turn_deg", "aim.speed_mm_s"},
    }
    assert own.get(design.end.kind, {"aim.travel_mm", "aim.speed_mm_s"}) <= set(found)
    assert not [p for p in found if p.startswith("assumptions.") or p.endswith((".price", ".label"))]
    assert evaluate(design, catalog.profiles()).assumed == found


def test_what_is_changed_chosen_or_measured_is_not() -> None:
    design = begin("carriage_loop", "Axis")
    before = set(assumed(design))
    assert before - set(assumed(changed(design, {"aim.speed_mm_s": 321.0}))) == {"aim.speed_mm_s"}
    assert before - set(assumed(changed(design, {"chosen": ["guide.rail_mm"]}))) == {"guide.rail_mm"}
    found = changed(design, {"measured": [{"field": "guide.rail_mm", "value": 699.0}]})
    assert "guide.rail_mm" not in assumed(found)


def test_it_goes_by_the_layout_not_by_the_field() -> None:
    """A screw begins at 20 mm/s and a carriage loop at 200: each is assumed in its own layout only."""
    screw = begin("screw", "Axis")
    assert "aim.speed_mm_s" in assumed(screw)
    assert "aim.speed_mm_s" not in assumed(changed(screw, {"aim.speed_mm_s": 200.0}))


def test_only_fields_that_count_for_a_kind() -> None:
    design = begin("carriage_loop", "Axis")
    assert "end.motor_mount.thickness_mm" not in assumed(design)
    plate = changed(design, {"end.motor_mount.kind": "plate"})
    assert "end.motor_mount.thickness_mm" in assumed(plate)
    assert "end.motor_mount.kind" not in assumed(plate)


def test_a_part_that_is_taken_says_which_of_its_data_count_as_chosen() -> None:
    design = begin("carriage_loop", "Axis")
    states = {"frame": "NEMA 17", "hold_torque_nm": 0.4, "rated_current_a": 1.5, "shaft_mm": 5.0}
    rows = [
        Stock("a", "stepper", "Bare motor", states, 1, None),
        Stock(
            "b", "stepper", "Full motor", {**states, "winding": "as given", "steps_per_turn": 200}, 1, None
        ),
    ]
    taken = take(design, catalog.profiles(), rows, "chain.0", "a")
    assert "chain.0.hold_torque_nm" in taken.chosen
    assert "full steps per turn" in taken.assumed
    assert "chain.0.steps_per_turn" not in taken.chosen
    made = changed(design, {**taken.changes, "chosen": list(taken.chosen)})
    left = assumed(made)
    assert "chain.0.hold_torque_nm" not in left
    assert "chain.0.steps_per_turn" in left


def test_fields_named_first_are_fields_of_their_part() -> None:
    defs = design_schema()["$defs"]
    named = {name: node["first"] for name, node in defs.items() if "first" in node}
    assert len(named) > 20
    for part, first in named.items():
        assert len(set(first)) == len(first), part
        assert set(first) <= set(defs[part]["properties"]), part
