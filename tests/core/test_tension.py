"""What tension a belt is set to, what ends its band, and how it is read."""

from __future__ import annotations

import dataclasses
import math
from typing import Any, ClassVar

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import crisp_cadence
from conftest import build
from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.tuning.reading import PluckReading, PushReading, ScaleReading, read_tension
from helpers import rung, value

PROFILES = catalog.profiles()


def of(**changes: Any) -> Report:
    return crisp_cadence.evaluate(build(**changes))


class TestTheTarget:
    def test_a_light_axis_is_set_to_what_seats_its_teeth(self) -> None:
        """1.5 N per mm of a 2 mm belt, a tenth over, and what 10 K take: 12000 N·(23 − 5)·10⁻⁶·10."""
        report = of()
        assert value(report, "tension.floor") == pytest.approx(1.5 * 6)
        assert value(report, "tension.warmth") == pytest.approx(12000 * 18e-6 * 10)
        assert value(report, "tension.set") == pytest.approx(1.1 * 9 + 2.16)
        assert min((r for r in report.ladder if r.met), key=lambda r: r.headroom or 0).key == "floor"

    def test_a_heavy_one_to_what_keeps_both_runs_taut(self) -> None:
        report = of(moving=[{"label": "all", "mass_kg": 20.0}])
        assert value(report, "tension.needed") > value(report, "tension.floor")
        assert value(report, "tension.set") == pytest.approx(1.1 * value(report, "tension.needed") + 2.16)

    def test_a_long_one_to_what_its_sag_asks_for_and_none_in_a_slot_or_upright(self) -> None:
        long = {"guide__rail_mm": 5000.0, "aim__travel_mm": 4500.0}
        report = of(**long)
        sag = value(report, "tension.sag")
        weight = value(report, "belt.line_mass") / 1000 * 9.80665
        span = value(report, "belt.longest") / 1000
        assert 12000 * (weight * span) ** 2 / (12 * sag**3) == pytest.approx(1 / 9), (
            "a tenth of the stiffness"
        )
        assert value(report, "tension.set") == pytest.approx(1.1 * sag)
        assert of(**long, end__slot_mm=8.0).value("tension.sag") is None
        assert value(of(**long, aim__slope_deg=90.0), "tension.sag") < 1e-4

    def test_steel_on_steel_does_not_mind_the_warmth(self) -> None:
        assert value(of(end__belt__cord="steel", assumptions__frame="steel"), "tension.warmth") == 0.0

    def test_a_profile_without_a_known_floor_says_so_and_has_no_rung_for_it(self) -> None:
        report = of(end__belt__profile="t5", end__belt__cord="steel", end__belt__width_mm=6.0)
        assert report.value("tension.floor") is None
        assert not any(r.key == "floor" for r in report.ladder)
        assert any("No least tension is known for T5" in n.says for n in report.notes)
        assert rung(report, "pull").verdict != "unknown", "its teeth are rated one by one"


class TestTheBand:
    def test_it_follows_a_chosen_tension(self) -> None:
        """A chosen 14 N is what Tune aims for; the ends of the band are what load and parts make them."""
        free, chosen = of(), of(end__belt__tension_n=14.0)
        for key in ("tension.low", "tension.high", "tension.target"):
            assert value(free, key) == value(chosen, key)
        assert value(chosen, "tension.set") == 14.0
        pluck = chosen.pluck
        assert pluck is not None
        low, aim, high = (
            f or 0 for f in (pluck.frequency_low_hz, pluck.frequency_hz, pluck.frequency_high_hz)
        )
        assert 0 < low < aim < high

    @pytest.mark.parametrize(
        ("changes", "key"),
        [
            ({}, "cord"),
            ({"end__clamp": {"kind": "zip tie", "engaged_teeth": 5}}, "clamp"),
            (
                {"end__motor_mount": {"kind": "plate", "material": "PLA", "thickness_mm": 8.0}},
                "motor_mount_tilt",
            ),
            (
                {
                    "end__idler_mount": {"bolts": 1, "bolt_mm": 3.0},
                    "end__belt__cord_n": 900.0,
                    "end__clamp__pull_n": 900.0,
                },
                "idler_mount_grip",
            ),
            ({"end__idler": {"axle_mm": 1.5, "width_mm": 12.0}}, "axle"),
        ],
    )
    def test_it_ends_where_the_first_hard_rung_meets_its_margin(
        self, changes: dict[str, Any], key: str
    ) -> None:
        """Set to the upper end, that rung stands at its margin and no other is below it."""
        high = value(of(**changes), "tension.high")
        report = of(**changes, end__belt__tension_n=high)
        held = (
            "cord",
            "clamp",
            "motor_mount_tilt",
            "motor_mount_grip",
            "idler_mount_grip",
            "idler_mount_tilt",
            "axle",
        )
        heads = {r.key: r.headroom for r in report.ladder if r.key in held}
        assert heads[key] == pytest.approx(1.0)
        assert min(h for h in heads.values() if h is not None) == pytest.approx(1.0)

    def test_where_nothing_is_left_the_ladder_says_what_ends_it(self) -> None:
        report = of(end__motor_mount={"kind": "plate", "material": "acrylic", "thickness_mm": 3.0})
        room = rung(report, "band")
        assert room.verdict == "short"
        assert "the motor mount tilts" in room.says
        assert room.field == "end.motor_mount.thickness_mm"
        assert report.pluck is not None
        assert report.pluck.frequency_low_hz is None
        answer = read_tension(
            build(end__motor_mount={"kind": "plate", "material": "acrylic", "thickness_mm": 3.0}),
            PROFILES,
            ScaleReading(force_n=20.0),
        )
        assert (answer.verdict, answer.low_n, answer.high_n) == ("no band", None, None)
        assert answer.says.startswith("No tension is right here")

    def test_the_motor_s_bearing_is_a_line_in_it(self) -> None:
        """Set to it, the load on the drive shaft is at its limit when it is warmest."""
        report = of(end__belt__tension_n=value(of(), "tension.advice"))
        assert rung(report, "shaft_load").ratio == pytest.approx(1.0)


@given(load=st.floats(0.5, 8.0), more=st.floats(1.0, 4.0))
def test_at_a_set_tension_no_rung_grows_with_its_load(load: float, more: float) -> None:
    def heads(mass: float) -> dict[str, float]:
        moving = [{"label": "all", "mass_kg": mass}]
        report = of(moving=moving, end__belt__tension_n=40.0, end__belt__width_mm=9.0, aim__push_n=4 * mass)
        return {r.key: math.inf if r.headroom is None else r.headroom for r in report.ladder}

    light, heavy = heads(load), heads(load * more)
    for key, head in heavy.items():
        assert head <= light[key] * (1 + 1e-9), key


class TestReadings:
    AISLE = demo.designs()["seed-shuttle-aisle"]

    def test_what_the_target_says_reads_back_as_the_tension_to_set(self) -> None:
        report = evaluate(self.AISLE, PROFILES)
        p = report.pluck
        assert p is not None
        readings = [
            PluckReading(span_mm=p.span_mm, frequency_hz=p.frequency_hz or 0),
            PushReading(span_mm=p.span_mm, deflection_mm=p.push_mm, force_n=p.push_n or 0),
            ScaleReading(force_n=p.scale_n or 0),
            ScaleReading(force_n=value(report, "tension.set"), at="clamp"),
        ]
        for reading in readings:
            answer = read_tension(self.AISLE, PROFILES, reading)
            assert answer.tension_n == pytest.approx(value(report, "tension.set"), rel=1e-6), reading
            assert answer.verdict == "within the band"
            assert answer.target_n == value(report, "tension.set")

    def test_a_run_held_at_both_ends_takes_all_of_the_stretch(self) -> None:
        push = {"span_mm": 200.0, "deflection_mm": 6.0, "force_n": 4.0}
        free, held = (
            read_tension(self.AISLE, PROFILES, PushReading(**push, held=h)).tension_n  # type: ignore[arg-type]
            for h in ("free", "both ends")
        )
        assert held < free, "more of the force is stretch"

    def test_a_short_stiff_run_is_refused_with_the_length_that_would_do(self) -> None:
        with pytest.raises(EntryError) as refused:
            read_tension(self.AISLE, PROFILES, PluckReading(span_mm=60.0, frequency_hz=250.0))
        problem = refused.value.problems[0]
        assert problem.field == "reading.span_mm"
        assert float(problem.limit) > 60

    def test_a_belt_that_hangs_down_less_is_stiffer(self) -> None:
        """EI = w·L⁴/8δ: 8.1 g/m over 100 mm."""
        report = of(end__belt={"droop_mm": 20.0, "droop_over_mm": 100.0, "line_mass_g_m": 8.1})
        assert value(report, "belt.bending") == pytest.approx(8.1e-6 * 9.80665 * 100**4 / (8 * 20.0))


def test_every_rating_stands_on_its_own_and_cords_bear_what_installation_and_pull_come_to() -> None:
    for profile in PROFILES.values():
        rated = (profile.working_tension_n_per_25_4mm or 0) / 25.4
        if profile.cord_glass_n_per_mm is not None:
            assert profile.cord_glass_n_per_mm >= (profile.install_n_per_mm or 0) + rated, profile.key
        assert (profile.working_tension_n_per_25_4mm is None) != (profile.tooth_n_per_mm is None), profile.key
        assert {f.name for f in dataclasses.fields(profile)} - profile.sources.keys() <= {
            *("key", "name", "standard", "usual_cord", "flank_deg", "sources")
        }


class TestGantriesDrivenOnOneSide:
    SIDES: ClassVar = {"kind": "one driven", "width_mm": 600.0, "offset_mm": 50.0, "guide_length_mm": 120.0}

    def pull(self, guided_by: str, friction: float | None, **more: Any) -> Report:
        return of(sides={**self.SIDES, "guided_by": guided_by, "guide_friction": friction, **more})

    @pytest.mark.parametrize("guided_by", ["driven rail", "both rails", "far rail"])
    def test_pull_and_moments_are_in_balance(self, guided_by: str) -> None:
        """Drive at 0, far rail at B; the load at B/2 + e; each guide takes its part of the moment at both of its
        ends and rubs there. Forces and moments solved as they stand.
        """
        mu, b, width, at = 0.05, 120.0, 600.0, 350.0
        report = self.pull(guided_by, mu)
        pull = value(report, "sides.pull")
        parts = {"driven rail": (1.0, 0.0), "both rails": (0.5, 0.5), "far rail": (0.0, 1.0)}[guided_by]
        # forces: F = R + 2µ·M/b; moments about the drive: M = R·at + (what the far rail rubs)·B
        matrix = np.array([[1.0, -2 * mu / b], [0.0, 1.0 - 2 * mu * parts[1] / b * width]])
        assert pull == pytest.approx(np.linalg.solve(matrix, np.array([1.0, at]))[0])
        assert value(report, "force.cruise.pulled") == pytest.approx(value(report, "force.cruise") * pull)

    def test_the_driven_rail_never_jams_and_the_others_do_where_the_formula_says(self) -> None:
        assert not any(r.key == "jam" for r in self.pull("driven rail", 0.3).ladder)
        for guided_by, limit in (("both rails", 120 / 0.1), ("far rail", 120 / 0.2)):
            assert rung(self.pull(guided_by, 0.1), "jam").capacity == pytest.approx(limit)

    def test_wheels_roll(self) -> None:
        assert rung(self.pull("both rails", None), "jam").verdict == "holds"
