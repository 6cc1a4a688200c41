"""Belts as they are laid: arcs and runs, mirror images, what a hand may drag and where it falls in, and the
drawings made of them.
"""

from __future__ import annotations

import itertools
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.design import changed
from crisp_cadence.core.evaluation.evaluate import draw, evaluate, work_out
from crisp_cadence.core.fields.belts import Idler, Roller
from crisp_cadence.core.fitting.plan import plan_belts
from crisp_cadence.core.geometry.figures import (
    Arc,
    Circle,
    Drawing,
    Line,
    Words,
    clearance,
    extent,
    path_drawing,
)
from crisp_cadence.core.geometry.path import Round, belt_path, mirrored
from crisp_cadence.core.geometry.route import arc_centre, pitch_line_radius, split_at, whole_tooth_snaps
from crisp_cadence.core.geometry.scene import Piece, Spot
from helpers import value

PROFILES = catalog.profiles()
DESIGNS = demo.designs()


def edited(name: str, changes: dict[str, Any]) -> Any:
    return changed(DESIGNS[name], changes)


@given(
    radius=st.floats(2, 80),
    start=st.floats(-3.1, 3.1),
    sweep=st.floats(0.05, 6.2),
    ccw=st.booleans(),
    x=st.floats(-500, 500),
    y=st.floats(-500, 500),
)
def test_the_middle_of_an_arc_is_found_from_its_ends(
    radius: float, start: float, sweep: float, ccw: bool, x: float, y: float
) -> None:
    if abs(sweep - math.pi) < 1e-3:
        return  # half a turn: the middle is where the chord's is, to within the roots of rounding
    stop = start + (sweep if ccw else -sweep)
    ends = [Spot(x + radius * math.cos(a), y + radius * math.sin(a)) for a in (start, stop)]
    piece = Piece(ends[0], ends[1], radius, ccw, sweep > math.pi)
    cx, cy = arc_centre(piece)
    assert (cx, cy) == pytest.approx((x, y), abs=1e-4 * radius + 1e-6)


def loop() -> tuple[Round, ...]:
    return (
        Round("near clamp", 100, 12, 0, 1, part="end.clamp"),
        Round("drive", 0, 0, 12, 1, part="end.pulley"),
        Round("back", 250, -17, 9, -1, part="end.rollers.0"),
        Round("idler", 500, 2, 10, 1, part="end.idler"),
        Round("far clamp", 180, 12, 0, 1, part="end.clamp"),
    )


def test_runs_on_either_side_of_the_pulley_leave_out_only_what_lies_on_it() -> None:
    path = belt_path(loop(), closed=False)
    before, after = split_at(path, "end.pulley")
    assert before == pytest.approx(100.0)
    assert before + after + 12 * path.wraps[1] == pytest.approx(path.length_mm)


def test_a_mirror_image_is_as_long_and_its_mirror_image_is_the_path_itself() -> None:
    path = belt_path(loop(), closed=False)
    other = mirrored(path, 600.0)
    assert other.length_mm == path.length_mm
    again = mirrored(other, 600.0)
    for a, b in zip(path.rounds, again.rounds, strict=True):
        assert (a.x_mm, a.y_mm, a.side) == pytest.approx((b.x_mm, b.y_mm, b.side))
    rebuilt = belt_path(other.rounds, closed=False)
    assert rebuilt.wraps == pytest.approx(other.wraps)
    assert [s.length_mm for s in rebuilt.spans] == pytest.approx([s.length_mm for s in other.spans])


def test_left_and_right_change_places_in_a_mirror() -> None:
    named = mirrored(
        belt_path((Round("front left idler", 0, 0, 9, 1), Round("right motor", 200, 0, 9, 1))), 200.0
    )
    assert [r.name for r in named.rounds] == ["front right idler", "left motor"]


@pytest.mark.parametrize("name", ["seed-shuttle-aisle", "seed-shuttle-lift", "glaze-bench-pass"])
def test_a_dragged_idler_falls_into_whole_teeth_and_into_a_parallel_run(name: str) -> None:
    """What a handle offers is true: at each place the whole design is worked out again."""
    idler = next(w for w in draw(DESIGNS[name], PROFILES)[0].wheels if w.part == "end.idler")
    offset, rise = idler.handles
    pitch = PROFILES[DESIGNS[name].end.belt.profile].pitch_mm  # type: ignore[attr-defined]
    assert len(offset.snaps) > 8
    for snap in offset.snaps[4:8]:
        free = value(evaluate(edited(name, {offset.field: snap.value}), PROFILES), "belt.free")
        assert free / pitch == pytest.approx(round(free / pitch), abs=1e-6), snap
    tilted = edited(name, {rise.field: rise.value - 4.0})
    assert value(evaluate(tilted, PROFILES), "loop.change") > 1e-4
    level = next(w for w in draw(tilted, PROFILES)[0].wheels if w.part == "end.idler").handles[1].snaps[0]
    assert value(evaluate(edited(name, {rise.field: level.value}), PROFILES), "loop.change") == pytest.approx(
        0, abs=1e-9
    )


def test_whole_tooth_places_are_a_pitch_apart() -> None:
    snaps = whole_tooth_snaps(20.0, 1001.3, 3.0, 2.0, "whole teeth")
    values = [s.value for s in snaps]
    assert [round(b - a, 9) for a, b in itertools.pairwise(values)] == [1.5] * (len(values) - 1)
    for v in values:
        length = 1001.3 + (v - 20.0) * 2.0
        assert length / 3.0 == pytest.approx(round(length / 3.0))


@pytest.mark.parametrize(
    "name", [n for n, d in DESIGNS.items() if plan_belts(d, PROFILES, []).belts and d.end.kind != "spindle"]
)
def test_the_roller_that_is_offered_fits_where_it_is_offered(name: str) -> None:
    for belt in plan_belts(DESIGNS[name], PROFILES, []).belts:
        assert belt.offer is not None
        design = edited(name, {f"{belt.at}.rollers": [belt.offer]})
        again = next(b for b in plan_belts(design, PROFILES, []).belts if b.at == belt.at)
        roller = next(w for w in again.wheels if w.part == f"{belt.at}.rollers.0")
        assert roller.touches == "back"
        assert 0 < roller.wrap_deg < 60


def test_pitch_line_on_rollers_by_side_and_kind() -> None:
    g2 = PROFILES["round-g-2"]
    toothed = Idler(kind="toothed", teeth=20)
    smooth = Roller(diameter_mm=12.0)
    assert pitch_line_radius(toothed, g2) == pytest.approx(20 * 2 / (2 * math.pi))
    assert pitch_line_radius(smooth, g2) == pytest.approx(6 + g2.tooth_height_mm + g2.pitch_line_mm)
    assert pitch_line_radius(smooth, g2, back=True) == pytest.approx(
        6 + g2.thickness_mm - g2.tooth_height_mm - g2.pitch_line_mm
    )


def test_wheels_turn_as_the_belt_runs() -> None:
    """Carriage away from the motor: drive pulley and idler turn alike, a roller on the back the other way,
    all at belt speed.
    """
    roller = plan_belts(DESIGNS["seed-shuttle-aisle"], PROFILES, []).belts[0].offer
    wheels = {
        w.part: w for w in draw(edited("seed-shuttle-aisle", {"end.rollers": [roller]}), PROFILES)[0].wheels
    }
    for part, sign in (("end.pulley", -1), ("end.idler", -1), ("end.rollers.0", 1)):
        assert wheels[part].turn * wheels[part].radius_mm == pytest.approx(sign * 1.0), part


def test_both_planes_of_crossed_belts_carry_the_head_the_same_way() -> None:
    """Along x one motor's belt runs to it and the other's away; their pulleys turn the same way round by as
    much.
    """
    scene = draw(DESIGNS["clay-printer-head"], PROFILES)[0]
    assert {s.plane for s in scene.strands} == {0, 1}
    motors = [w for w in scene.wheels if w.part == "end.pulley"]
    assert [w.plane for w in motors] == [0, 1]
    assert abs(motors[0].turn) == pytest.approx(abs(motors[1].turn))
    assert scene.strands[0].runs == pytest.approx(-scene.strands[1].runs)


class TestFigures:
    def test_a_path_drawing_has_every_pulley_and_the_extent_of_the_machine(self) -> None:
        scene = draw(DESIGNS["seed-shuttle-aisle"], PROFILES)[0]
        made = path_drawing(scene)
        circles = [s for s in made.shapes if isinstance(s, Circle)]
        assert len(circles) == 3 * len(scene.wheels)
        left, _, right, _ = extent(made)
        run, _ = work_out(DESIGNS["seed-shuttle-aisle"], PROFILES)
        assert right - left > (run.ctx.book.results["loop.centre"].value or 0)

    def test_the_extent_holds_every_kind_of_shape(self) -> None:
        shapes = (
            Line(-5, 0, 1, 1, "A"),
            Arc(10, 10, 3, 0, 90, "A"),
            Circle(0, -8, 2, "A"),
            Words(20, 1, "word", 4.0),
        )
        assert extent(Drawing("x", shapes)) == pytest.approx((-5.0, -10.0, 20 + 0.62 * 4 * 4, 13.0))
        assert extent(Drawing("empty", ())) == (0.0, 0.0, 1.0, 1.0)

    def test_clearance_holes_beyond_the_table_are_a_tenth_larger(self) -> None:
        assert clearance(5.0) == 5.5
        assert clearance(7.0) == 7.7
