"""Columns through the one evaluation: the same headrooms and refusals as one by one, and clear refusals."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from columns import DESIGNS, PROFILES, agreement
from crisp_cadence.core.design.design import changed
from crisp_cadence.core.design.layouts import LAYOUTS
from crisp_cadence.core.evaluation import columns as module
from crisp_cadence.core.evaluation.columns import columns
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.ledger.errors import EntryError
from thorough import many, seed

LOOP = DESIGNS["seed-shuttle-aisle"]
WIDTHS = [6.0, 9.0, 15.0]


@pytest.mark.parametrize("layout", LAYOUTS)
def test_every_layout_agrees_with_one_by_one(layout: str) -> None:
    seen = agreement(many(7, 60), seed(12), f"new {layout}")
    assert seen.differ == []
    assert seen.places - seen.refused > 30


def test_the_demo_agrees_with_one_by_one() -> None:
    seen = agreement(many(60, 600), seed(5))
    assert seen.differ == []
    assert seen.refused > 5
    assert seen.rungs > 5_000
    assert len(seen.fields) > 100


def test_a_result_varies_only_along_what_it_depends_on() -> None:
    found = columns(
        LOOP,
        PROFILES,
        {"motor": {"chain.0.hold_torque_nm": [0.3, 0.5]}, "belt": {"end.belt.width_mm": WIDTHS}},
    )
    assert found.value("belt.ea").shape == (1, 3)
    assert found.value("motor.kt").shape == (2, 1)
    assert found.value("loop.centre").shape == (1, 1)
    assert found.headroom("torque_accelerate").shape == (2, 3)


def test_what_no_rung_asks_for_is_not_worked_out() -> None:
    found = columns(LOOP, PROFILES, {"belt": {"end.belt.width_mm": WIDTHS}})
    for key in found.rungs:
        found.headroom(key)
    results = found.groups[0][1].runs[0].ctx.book.results
    assert "value" not in results["motor.hand_speed"].__dict__
    assert "value" in results["belt.ea"].__dict__


def test_choices_and_profiles_are_columns_too() -> None:
    profiles = ["round-g-2", "round-g-3", "trapezoidal-xl"]
    profiles = [p for p in PROFILES if p in profiles] + [p for p in PROFILES if p not in profiles]
    kinds = ["slotted idler", "movable clamp", "slotted motor plate"]
    found = columns(
        LOOP,
        PROFILES,
        {"belt": {"end.belt.profile": profiles[:4]}, "tensioner": {"end.tensioner.kind": kinds}},
    )
    for i, k in np.ndindex(*found.shape):
        report = evaluate(found.at((i, k)), PROFILES) if not found.refused_at((i, k)) else None
        if report is not None:
            rung = next(r for r in report.ladder if r.key == "tensioner")
            assert found.headroom("tensioner")[i, k] == pytest.approx(rung.headroom, rel=1e-12)


def test_a_place_that_cannot_be_built_is_refused_alone_and_says_why() -> None:
    found = columns(LOOP, PROFILES, {"bore": {"end.pulley.bore_mm": [5.0, 90.0, 6.0]}})
    assert found.refused().tolist() == [False, True, False]
    assert {p.field for p in found.why((1,))} == {"end.pulley.bore_mm"}
    assert found.why((0,)) == []


def test_where_no_design_can_be_built_every_place_is_refused() -> None:
    found = columns(LOOP, PROFILES, {"rail": {"guide.rail_mm": [60.0, 70.0]}})
    assert found.refused().tolist() == [True, True]
    assert all(found.why((i,)) for i in range(2))


def test_the_worst_of_all_heads_and_directions_counts() -> None:
    design = next(d for d in DESIGNS.values() if d.heads)
    found = columns(design, PROFILES, {"push": {"aim.push_n": [1.0, 20.0]}})
    assert len(found.groups[0][1].runs) == len(design.heads) * len(design.end.cases(design))
    report = evaluate(found.at((1,)), PROFILES)
    for rung in report.ladder:
        if rung.key in found.rungs and rung.headroom is not None:
            assert np.broadcast_to(found.headroom(rung.key), (2,))[1] == pytest.approx(
                rung.headroom, rel=1e-12
            )


def test_what_is_not_known_stays_so_where_something_else_varies() -> None:
    """A motor's torque that lacks its inertia is asked of nothing where nothing is pushed, and is unknown
    where something is.
    """
    lacking = changed(LOOP, {"moving.0.mass_kg": 1.0, "chain": [{"kind": "stepper"}, {"kind": "gearbox"}]})
    lacking = changed(lacking, {"end": {"kind": "riding_motor"}})  # its motor's mass is not known
    found = columns(lacking, PROFILES, {"push": {"aim.push_n": [0.0, 5.0]}})
    head = np.broadcast_to(found.headroom("torque_push"), (2,))
    assert math.isinf(head[0])
    assert math.isnan(head[1])


BAD: list[tuple[dict[str, dict[str, list[Any]]], str, str]] = [
    ({}, "columns", "no dimension"),
    ({"a": {"end.belt.width_mm": []}}, "a", "no values"),
    (
        {"a": {"end.belt.width_mm": [6.0, 9.0], "end.pulley.teeth": [20]}},
        "end.pulley.teeth",
        "another number of values",
    ),
    ({"a": {"end.nothing_mm": [1.0]}}, "end.nothing_mm", "is not a field"),
    ({"a": {"chain.9.ratio": [1.0]}}, "chain.9.ratio", "is not a field"),
    ({"a": {"end.belt.width_mm": [6.0, math.nan]}}, "end.belt.width_mm", "not a number everywhere"),
    ({"a": {"end.belt.width_mm": [6.0, math.inf]}}, "end.belt.width_mm", "beyond"),
    ({"a": {"end.belt.width_mm": ["wide"]}}, "end.belt.width_mm", "is a number"),
    ({"a": {"end.belt.width_mm": [6.0, 900.0]}}, "end.belt.width_mm", "beyond"),
    ({"a": {"end.pulley.teeth": [20, 20.5]}}, "end.pulley.teeth", "whole numbers"),
    ({"a": {"end.belt.profile": ["no such"]}}, "end.belt.profile", "not a belt profile"),
    ({"a": {"end.tensioner.kind": ["a spring"]}}, "end.tensioner.kind", "cannot be this"),
    (
        {"a": {"end.belt.width_mm": [6.0]}, "b": {"end.belt.width_mm": [9.0]}},
        "end.belt.width_mm",
        "two dimensions",
    ),
    ({str(i): {f"assumptions.{n}": [1.0]} for i, n in enumerate("abcdefg")}, "columns", "too many"),
]


@pytest.mark.parametrize(("varied", "path", "says"), BAD, ids=lambda v: str(v)[:40])
def test_bad_columns_are_refused_with_field_limit_and_remedy(
    varied: dict[str, dict[str, list[Any]]], path: str, says: str
) -> None:
    with pytest.raises(EntryError) as caught:
        columns(LOOP, PROFILES, varied)
    found = [p for p in caught.value.problems if p.field == path]
    assert found
    assert any(says in p.message for p in found)
    assert all(p.remedy for p in found)


def test_too_many_places_and_too_many_kinds_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    varied = {
        "a": {"end.belt.width_mm": WIDTHS},
        "b": {"end.tensioner.kind": ["slotted idler", "movable clamp"]},
    }
    monkeypatch.setattr(module, "MOST_PLACES", 5)
    with pytest.raises(EntryError, match="too many designs"):
        columns(LOOP, PROFILES, varied)
    monkeypatch.setattr(module, "MOST_PLACES", 500)
    monkeypatch.setattr(module, "MOST_GROUPS", 1)
    with pytest.raises(EntryError, match="too many kinds"):
        columns(LOOP, PROFILES, varied)
