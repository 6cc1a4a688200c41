"""Test moves: never out of the soft limits, and read back as they were written."""

from __future__ import annotations

import itertools
import re
from typing import get_args

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.tuning.bench import bench
from crisp_cadence.core.tuning.moves import Kind, Program, Wanted, program
from crisp_cadence.exchange.gcode import typed, written

PROFILES = catalog.profiles()
DESIGNS = {d.name: d for d in demo.designs().values()}
EVERY = {**DESIGNS, **{f"new {key}": begin(key, "New") for key in LAYOUTS}}


def made(name: str, **wanted: object) -> Program:
    return program(EVERY[name], PROFILES, Wanted(**wanted))  # type: ignore[arg-type]


@pytest.mark.parametrize("name", EVERY)
def test_no_move_leaves_the_soft_limits(name: str) -> None:
    design = EVERY[name]
    kinds = bench(design, PROFILES).moves
    for kind in kinds:
        across = 100.0 if kind == "corners" and design.end.kind != "crossed_belts" else None
        found = made(name, kind=kind, across=across)
        low, high = found.room
        text = written(found, design.name)
        assert text.isascii()
        assert "G21\nG90\nG94\n" in text
        assert text.endswith("M2\n")
        letter = found.steps[0].to[0][0]
        places = [float(p) for p in re.findall(rf"^G1 {letter}(-?[\d.]+)", text, re.M)]
        assert places
        assert min(places) >= low - 1e-3
        assert max(places) <= high + 1e-3
        assert len(typed(found)) == len(found.steps)
        for step, (code, _) in zip(found.steps, typed(found), strict=True):
            if step.to:
                feed = float(code.rpartition("F")[2])
                assert feed == pytest.approx(step.speed * 60, abs=1e-3)
                top = design.aim.speed_mm_s * (1 if found.unit == "mm" else 10)
                assert step.speed <= top + 1e-9
    for kind in set(get_args(Kind)) - set(kinds):
        with pytest.raises(EntryError) as refused:
            made(name, kind=kind)
        assert refused.value.problems[0].field == "wanted.kind"


def test_strokes_come_from_the_same_side() -> None:
    steps = [s for s in made("Aisle", kind="strokes").steps if s.to]
    for before, step in itertools.pairwise(steps):
        if step.says.startswith("stroke"):
            assert before.to[0][1] < step.to[0][1]


def test_reversals_come_to_each_place_from_both_sides() -> None:
    steps = [s for s in made("Aisle", kind="reversals").steps if s.to]
    below = [(a.to[0][1], b.to[0][1]) for a, b in zip(steps[::4], steps[1::4], strict=True)]
    above = [(a.to[0][1], b.to[0][1]) for a, b in zip(steps[2::4], steps[3::4], strict=True)]
    assert all(a < b for a, b in below)
    assert all(a > b for a, b in above)
    assert [b for _, b in below] == [b for _, b in above]


def test_an_arm_moves_in_degrees_and_crossed_belts_by_two_letters() -> None:
    arm = made("Spray arm", kind="ramp")
    end = EVERY["Spray arm"].end
    assert arm.unit == "°"
    assert arm.room == (end.from_deg, end.to_deg)
    assert typed(arm)[0][0].startswith("G1 A")
    corners = made("Head", kind="corners")
    assert {letter for s in corners.steps for letter, _ in s.to} == {"X", "Y"}


@pytest.mark.parametrize(
    ("name", "wanted", "field"),
    [
        ("Aisle", {"begin": -5.0}, "wanted.begin"),
        ("Aisle", {"begin": 0.0}, "wanted.begin"),
        ("Aisle", {"length": 5000.0}, "wanted.length"),
        ("Aisle", {"speed": 9000.0}, "wanted.speed"),
        ("Head", {"kind": "corners", "across": 900.0}, "wanted.across"),
        ("Head", {"kind": "corners", "letter": "Y"}, "wanted.other"),
        ("Loader", {"kind": "corners"}, "wanted.across"),
    ],
)
def test_what_cannot_be_moved_is_refused(name: str, wanted: dict[str, object], field: str) -> None:
    with pytest.raises(EntryError) as refused:
        made(name, **wanted)
    problem = refused.value.problems[0]
    assert (problem.field, bool(problem.limit), bool(problem.remedy)) == (field, True, True)
