"""Ends of the chain one by one: what each asks, how it scales, and what its rungs say."""

from __future__ import annotations

import math
from typing import Any, ClassVar

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from crisp_cadence import catalog, demo
from crisp_cadence.core.account.context import Context
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.design.design import design_from
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.ledger.errors import EntryError
from helpers import rung, value

PROFILES = catalog.profiles()
DESIGNS = demo.designs()  # worked out once: each takes an evaluation


def axis(name: str, **parts: dict[str, Any]) -> Report:
    """A demo axis with some fields of its parts replaced."""
    data = DESIGNS[name].model_dump(mode="json")
    for key, fields in parts.items():
        data[key].update(fields)
    return evaluate(design_from(data), PROFILES)


class TestRidingMotor:
    NAME = "drying-shelves-probe"

    def test_the_motor_rides_and_the_belt_does_not(self) -> None:
        report = axis(self.NAME)
        assert value(report, "riding.motor") == 0.36
        assert value(report, "mass.total") == pytest.approx(0.75 + 0.36 + value(report, "idler.mass"))
        assert not any(q.key == "belt.mass" for q in report.results)

    def test_without_its_mass_the_motor_is_missing_by_name(self) -> None:
        data = DESIGNS[self.NAME].model_dump(mode="json")
        data["chain"][0]["mass_kg"] = None
        report = evaluate(design_from(data), PROFILES)
        assert report.verdict == "unknown"
        assert rung(report, "torque_accelerate").missing == ("chain.0.mass_kg",)

    @given(rise=st.floats(20, 60), spread=st.floats(34, 70))
    def test_a_higher_pulley_wraps_more_and_all_turns_balance(self, rise: float, spread: float) -> None:
        one = axis(self.NAME, end={"pulley_rise_mm": rise, "idler_spread_mm": spread})
        higher = axis(self.NAME, end={"pulley_rise_mm": rise + 10, "idler_spread_mm": spread})
        assert value(higher, "pulley.wrap") > value(one, "pulley.wrap")
        assert value(one, "pulley.wrap") == pytest.approx(2 * value(one, "idler.wrap")), (
            "in and out along the same line: the pulley turns back what both idlers turn"
        )

    def test_it_is_softest_in_the_middle_of_the_rail(self) -> None:
        along = axis(self.NAME).along
        assert along is not None
        stiffness = np.array(along.stiffness_n_mm)
        assert 9 < int(stiffness.argmin()) < 15
        assert stiffness[0] > stiffness[12] < stiffness[-1]

    def test_smooth_idlers_on_the_back_have_a_least_size(self) -> None:
        data = DESIGNS[self.NAME].model_dump(mode="json")
        data["end"]["idler"]["diameter_mm"] = 8.0
        assert rung(evaluate(design_from(data), PROFILES), "bend").verdict == "short"


class TestScrew:
    NAME = "clay-printer-board"

    def test_lead_is_pitch_times_starts(self) -> None:
        assert value(axis(self.NAME, end={"starts": 4}), "screw.lead") == 8.0
        assert value(axis(self.NAME, end={"starts": 4}), "steps_per_mm") == pytest.approx(3200 / 8)

    @given(length=st.floats(420, 1500))
    def test_whip_falls_with_the_square_of_the_length(self, length: float) -> None:
        one, longer = (
            value(axis(self.NAME, end={"length_mm": x}), "screw.whirl") for x in (length, 1.2 * length)
        )
        assert longer == pytest.approx(one / 1.44)

    def test_better_held_ends_whip_later_and_bear_more(self) -> None:
        order = ["fixed, free", "supported, supported", "fixed, supported", "fixed, fixed"]
        reports = [axis(self.NAME, end={"fixings": f}) for f in order]
        for key in ("screw.whirl", "screw.buckle"):
            values = [value(r, key) for r in reports]
            assert values == sorted(values)

    def test_it_is_stiffest_near_its_fixed_bearing(self) -> None:
        along = axis(self.NAME).along
        assert along is not None
        assert list(along.stiffness_n_mm) == sorted(along.stiffness_n_mm, reverse=True)

    def test_a_ball_screw_wastes_little_and_does_not_hold(self) -> None:
        report = axis("trimming-bench-trimming-slide")
        assert value(report, "screw.efficiency") > 0.9
        assert value(report, "screw.efficiency_back") > 0.9

    def test_a_nut_with_play_counts_in_lost_motion(self) -> None:
        tight, loose = (axis(self.NAME, end={"backlash_mm": b}) for b in (0.0, 0.1))
        assert value(loose, "error.lost") == pytest.approx(value(tight, "error.lost") + 0.1)

    def test_ratio_for_a_thread_on_a_lathe(self) -> None:
        """Common practice, no source: a lead screw of 4 mm cuts a thread of 1.5 mm with 3 turns for 8 of the
        work.
        """
        assert value(
            axis("trimming-bench-slab-feed", end={"thread_mm": 1.5}), "screw.thread"
        ) == pytest.approx(3 / 8)

    def test_feed_table_rises_with_the_duty(self) -> None:
        (table,) = axis("trimming-bench-slab-feed").tables
        feeds = [float(row[1]) for row in table.rows]  # type: ignore[arg-type]
        assert feeds == sorted(feeds)
        for row in table.rows:
            assert float(row[2] or 0) < float(row[1] or 0), "pushing is slower than free"


class TestRack:
    NAME = "seed-store-shutter"

    @given(module=st.sampled_from([1.0, 1.5, 2.0, 3.0]), teeth=st.integers(12, 40))
    def test_a_turn_of_the_pinion_is_its_pitch_circle(self, module: float, teeth: int) -> None:
        report = axis(self.NAME, end={"module_mm": module, "teeth": teeth})
        assert 2 * math.pi / value(report, "end.lam") == pytest.approx(math.pi * module * teeth)

    def test_harder_teeth_bear_more(self) -> None:
        order = ["PLA", "POM", "brass", "steel"]
        values = [value(axis(self.NAME, end={"material": m}), "pinion.force") for m in order]
        assert values == sorted(values)

    def test_joints_count_only_where_there_are_some(self) -> None:
        assert any(r.key == "joint" for r in axis(self.NAME).ladder)
        assert not any(r.key == "joint" for r in axis(self.NAME, end={"pieces": 1}).ladder)

    def test_the_rack_is_cut_in_whole_teeth(self) -> None:
        (cut,) = axis(self.NAME).cut
        assert cut.length_mm == pytest.approx(cut.teeth * math.pi * 1.5)
        assert cut.length_mm >= 1500.0


class TestWheel:
    NAME = "tray-rover-wheels"

    def test_slope_asks_its_part_of_the_weight(self) -> None:
        flat, steep = (axis(self.NAME, aim={"slope_deg": s}) for s in (0.0, 6.0))
        assert value(flat, "force.weight") == 0.0
        wheels = value(steep, "loop.carried")
        assert wheels > 0, "the driven wheels climb too"
        assert value(steep, "force.weight") == pytest.approx(
            (10.5 + wheels) * 9.80665 * math.sin(math.radians(6))
        )

    def test_too_steep_for_its_grip_is_short(self) -> None:
        assert rung(axis(self.NAME, aim={"slope_deg": 25.0}), "tyres").verdict == "short"

    def test_two_motors_share(self) -> None:
        one, two = (axis(self.NAME, end={"motors": n}) for n in (1, 2))
        assert value(one, "end.torque_accelerate") == pytest.approx(2 * value(two, "end.torque_accelerate"))
        assert [b.quantity for b in two.bill if b.field == "chain.0"] == [2]

    def test_there_is_no_end_to_its_travel(self) -> None:
        report = axis(self.NAME)
        assert not any(r.key == "travel" for r in report.ladder)
        assert not report.guided


class TestDrum:
    NAME = "kiln-room-hoist"

    def test_every_layer_pulls_farther_out(self) -> None:
        rows = axis(self.NAME, aim={"travel_mm": 1890.0}, end={"width_mm": 12.0}).tables[0].rows
        radii = [float(row[1]) for row in rows]  # type: ignore[arg-type]
        assert len(radii) > 2
        assert np.diff(radii) == pytest.approx(np.full(len(radii) - 1, 4 * math.sqrt(3) / 2))

    def test_full_and_empty_drum_are_both_worked_out(self) -> None:
        report = axis(self.NAME, aim={"travel_mm": 1890.0}, end={"width_mm": 12.0})
        assert [c.name for c in report.cases] == ["full drum", "empty drum"]
        assert rung(report, "torque_accelerate").case == "full drum"
        assert rung(report, "speed").case == "empty drum"

    def test_a_short_rope_does_not_reach(self) -> None:
        assert rung(axis(self.NAME, end={"length_mm": 900.0}), "travel").verdict == "short"

    def test_a_thin_rope_is_short_of_eight_times_the_load(self) -> None:
        found = rung(axis(self.NAME, end={"rope_limit_n": 300.0}), "rope")
        assert found.verdict == "tight"
        assert found.margin == 8.0


class TestJoint:
    NAME = "spray-booth-spray-arm"

    @given(length=st.floats(120, 600))
    def test_torque_grows_with_the_arm(self, length: float) -> None:
        report = axis(self.NAME, end={"length_mm": length})
        assert value(report, "joint.torque") == pytest.approx(9.80665 * (0.35 + 0.28 * 0.5) * length / 1000)
        assert value(report, "travel.usable") == pytest.approx(math.radians(95) * length)

    def test_an_arm_that_lies_flat_carries_no_weight(self) -> None:
        report = axis(self.NAME, end={"upright": "flat"})
        assert value(report, "force.weight") == 0.0
        assert rung(report, "unpowered").verdict == "no demand"

    def test_a_taller_section_gives_less_by_its_cube(self) -> None:
        one, twice = (value(axis(self.NAME, end={"height_mm": h}), "joint.arm") for h in (20.0, 40.0))
        assert twice == pytest.approx(8 * one)

    def test_it_speaks_of_its_tip(self) -> None:
        report = axis(self.NAME)
        assert report.point == "tip"
        assert not any("the carriage" in q.label for q in report.results)


class TestSpindle:
    NAME = "trimming-bench-potter-s-wheel"
    DRAWN: ClassVar[dict[str, Any]] = {
        "cones_from": "cones as drawn",
        "motor_pairs": [{"driver_mm": 60.0, "driven_mm": 180.0}, {"driver_mm": 100.0, "driven_mm": 150.0}],
        "cone_pairs": [{"driver_mm": 60.0, "driven_mm": 180.0}, {"driver_mm": 90.0, "driven_mm": 160.0}],
    }

    def column(self, report: Report, table: int, says: str) -> list[Any]:
        """A column of one of its tables: speeds, motor's belt, cone's belt."""
        found = report.tables[table]
        at = [c.says for c in found.head].index(says)
        return [row[at] for row in found.rows]

    def test_speeds_stand_in_equal_ratios_within_the_turning(self) -> None:
        speeds = self.column(axis(self.NAME, end={"round_mm": 0.01}), 0, "spindle")
        assert speeds == pytest.approx([60 * 4 ** (k / 3) for k in range(4)], rel=2e-3)

    def test_finer_turning_moves_the_middle_pulley_less(self) -> None:
        coarse, fine = (value(axis(self.NAME, end={"round_mm": r}), "spindle.roam") for r in (2.0, 0.01))
        assert fine < coarse
        assert fine < 0.02

    def test_a_travel_too_small_for_the_middle_pulley_is_said(self) -> None:
        assert (
            rung(axis(self.NAME, end={"round_mm": 4.0, "middle_travel_mm": 0.2}), "middle").verdict == "short"
        )

    def test_drawn_cones_give_their_speeds(self) -> None:
        report = axis(self.NAME, end=self.DRAWN)
        slip = 0.985**2
        wanted = sorted(700 * slip * a * b for a in (60 / 180, 100 / 150) for b in (60 / 180, 90 / 160))
        assert self.column(report, 0, "spindle") == pytest.approx(wanted)
        turns = [700 * 0.985 / i for i in (3, 3, 1.5, 1.5)]
        assert sorted(self.column(report, 0, "middle turns")) == pytest.approx(turns)
        assert {r.key for r in report.ladder}.isdisjoint({"low", "high"})

    def test_solved_cones_kept_as_drawn_give_the_same_report(self) -> None:
        solved = axis(self.NAME)
        pairs = list(
            dict.fromkeys(
                zip(self.column(solved, 0, "motor pulley"), self.column(solved, 0, "middle"), strict=True)
            )
        )
        cone = list(
            dict.fromkeys(
                zip(self.column(solved, 0, "cone driver"), self.column(solved, 0, "cone driven"), strict=True)
            )
        )
        kept = {
            "cones_from": "cones as drawn",
            "motor_pairs": [{"driver_mm": a, "driven_mm": b} for a, b in pairs],
            "cone_pairs": [{"driver_mm": a, "driven_mm": b} for a, b in cone],
        }
        drawn = axis(self.NAME, end=kept)
        for table in (1, 2):
            for mine, theirs in zip(drawn.tables[table].rows, solved.tables[table].rows, strict=True):
                assert mine == pytest.approx(theirs)

    def test_every_speed_is_a_case_with_what_is_asked_there(self) -> None:
        cuts = [{"rpm": 60.0, "torque_nm": 8.0}, {"rpm": 250.0, "torque_nm": 1.0}]
        report = axis(self.NAME, end={"cuts": cuts})
        assert [c.name for c in report.cases] == ["59.7 rpm", "94.9 rpm", "151 rpm", "240 rpm"]
        driven = self.column(report, 0, "cone driven")
        pulls = self.column(report, 2, "pull")
        drag = 2.0 * 0.12  # N·m
        # The two speeds that no line is for have the rim's force, 35 N at 120 mm.
        asked = [8.0, 35 * 0.12, 35 * 0.12, 1.0]
        assert pulls == pytest.approx(
            [(m + drag) * 2000 / d for m, d in zip(asked, driven, strict=True)], rel=1e-9
        )

    def test_tension_of_a_speed_is_the_same_in_every_case(self) -> None:
        """The table is worked out from within the worst case, its own row by the case itself."""
        cuts = [{"rpm": 60.0, "torque_nm": 8.0}, {"rpm": 240.0, "torque_nm": 1.0}]
        one = axis(self.NAME, end={"cuts": cuts})
        other = axis(self.NAME, end={"cuts": [*cuts, {"rpm": 150.0, "torque_nm": 20.0}]})
        assert one.case != other.case
        mine, theirs = self.column(one, 2, "tension to set"), self.column(other, 2, "tension to set")
        assert [mine[i] for i in (0, 1, 3)] == pytest.approx([theirs[i] for i in (0, 1, 3)])
        assert theirs[2] > 3 * mine[2]

    def test_what_no_belt_serves_stays_in_the_table_and_says_why(self) -> None:
        report = axis(self.NAME, end={"high_rpm": 900.0})
        says = self.column(report, 0, "belts")
        assert [s == "served" for s in says] == [False, False, True, True]
        assert "below the least of 50 mm" in says[0]
        assert rung(report, "served").verdict == "short"

    def test_pairs_that_are_given_stand(self) -> None:
        report = axis(self.NAME, end={"low_pair": 3.5, "high_pair": 1.75, "round_mm": 0.01})
        ratios = {
            round(b / a, 2)
            for a, b in zip(
                self.column(report, 0, "motor pulley"), self.column(report, 0, "middle"), strict=True
            )
        }
        assert ratios == {3.5, 1.75}
        speeds = self.column(report, 0, "spindle")
        assert (speeds[0], speeds[-1]) == pytest.approx((60, 240), rel=2e-3)

    @pytest.mark.parametrize("more", [{"cuts": [{"rpm": 150.0, "torque_nm": 6.0}]}, {"service": 1.6}])
    def test_more_asked_never_leaves_more(self, more: dict[str, Any]) -> None:
        before, after = axis(self.NAME), axis(self.NAME, end=more)
        for key in ("motor_belt_power", "cone_belt_power"):
            now, then = rung(after, key).headroom, rung(before, key).headroom
            assert now is not None
            assert then is not None
            assert now <= then * (1 + 1e-9)

    def test_power_in_is_power_out_and_losses(self) -> None:
        """At every speed: what the motor's belt carries, less one belt's losses and slip, drives the cone's."""
        report = axis(self.NAME)
        first, second = self.column(report, 1, "carries"), self.column(report, 2, "carries")
        assert [a * 0.95 * 0.985 for a in first] == pytest.approx(second, rel=1e-9)
        torque = self.column(report, 2, "pull")
        driven, speeds = self.column(report, 0, "cone driven"), self.column(report, 0, "spindle")
        out = [f * d / 2000 * n * math.pi / 30 for f, d, n in zip(torque, driven, speeds, strict=True)]
        assert [b * 0.985 for b in second] == pytest.approx(out, rel=1e-9)

    def test_bearings_shaft_and_balance_are_judged_where_given(self) -> None:
        plain = {r.key for r in axis(self.NAME, end={"spindle_shaft_mm": None}).ladder}
        assert plain.isdisjoint({"middle_bearing", "spindle_bearing", "spindle_bending"})
        given = axis(
            self.NAME,
            end={
                "middle_bearing_n": 50.0,
                "spindle_bearing_n": 500.0,
                "spindle_shaft_mm": 12.0,
                "bore_off_mm": 0.4,
            },
        )
        assert rung(given, "middle_bearing").verdict == "short"
        assert rung(given, "spindle_bearing").verdict == "holds"
        assert rung(given, "balance").verdict == "short"
        load = max(self.column(given, 2, "on the spindle's shaft"))
        assert rung(given, "spindle_bending").demand == pytest.approx(32 * load * 40 / (math.pi * 12**3))

    def test_no_pulleys_drawn_is_refused_by_field(self) -> None:
        with pytest.raises(EntryError, match=r"end\.motor_pairs"):
            axis(self.NAME, end={"cones_from": "cones as drawn"})


class TestSides:
    NAME = "kiln-room-loader"

    def test_a_cross_shaft_needs_one_motor_and_twists(self) -> None:
        shaft = axis(self.NAME, sides={"kind": "cross shaft"})
        two = axis(self.NAME)
        assert [b.quantity for b in shaft.bill if b.field == "chain.0"] == [1]
        assert [b.quantity for b in two.bill if b.field == "chain.0"] == [2]
        assert any(b.field == "sides.shaft" for b in shaft.bill)
        assert value(shaft, "end.torque_accelerate") > 1.3 * value(two, "end.torque_accelerate")
        assert value(
            axis(self.NAME, sides={"kind": "cross shaft", "shaft_mm": 16.0}), "sides.twist"
        ) == pytest.approx(value(shaft, "sides.twist") / 16)

    def test_soft_couplers_twist_more(self) -> None:
        solid, soft = (
            axis(self.NAME, sides={"kind": "cross shaft", "coupler_nm_rad": k}) for k in (None, 10.0)
        )
        assert value(soft, "sides.twist") > value(solid, "sides.twist")
        assert value(soft, "sides.torsion") == pytest.approx(1 / (1 / value(soft, "sides.shaft") + 2 / 10.0))

    def test_one_driven_side_jams_where_its_guides_are_short(self) -> None:
        assert (
            rung(
                axis(self.NAME, sides={"kind": "one driven", "guide_length_mm": 60.0, "guide_friction": 0.2}),
                "jam",
            ).verdict
            == "short"
        )
        assert (
            rung(
                axis(
                    self.NAME, sides={"kind": "one driven", "guide_length_mm": 300.0, "guide_friction": 0.01}
                ),
                "jam",
            ).verdict
            == "holds"
        )

    def test_belts_and_idlers_are_bought_twice(self) -> None:
        bill = {b.field: b.quantity for b in axis(self.NAME).bill}
        assert bill["end.pulley"] == bill["end.idler"] == bill["end.clamp"] == 2
        assert bill["end.belt"] == pytest.approx(2 * axis(self.NAME).cut[0].length_mm / 1000, abs=1e-3)


class TestCrossedBelts:
    NAME = "clay-printer-head"

    @pytest.mark.parametrize(
        ("form", "wraps"),
        [("two belts", [90, 180, 90, 90, 90]), ("one belt, H", [90, 180, 180, 90, 90, 180, 180, 90])],
    )
    def test_the_belt_is_as_long_wherever_the_head_stands(self, form: str, wraps: list[float]) -> None:
        """Quarter and half turns at every pulley, and one length: what lets both ends be clamped to the head."""
        data = DESIGNS[self.NAME].model_dump(mode="json")
        data["end"]["form"] = form
        design = design_from(data)
        end: Any = design.end
        ctx = Context(design, PROFILES, case="along x")
        end.travel(ctx)
        end.moving(ctx)
        paths = [end._path(ctx, x, y) for x, y in ((150.0, 120.0), (260.0, 260.0), (400.0, 330.0))]
        assert [p.length_mm for p in paths] == pytest.approx([paths[0].length_mm] * 3, abs=1.0)
        for path in paths:
            assert [
                math.degrees(w) for r, w in zip(path.rounds, path.wraps, strict=True) if r.radius_mm > 0
            ] == pytest.approx(wraps, abs=2.0)

    def test_one_belt_racks_and_two_do_not(self) -> None:
        two, one = axis(self.NAME), axis(self.NAME, end={"form": "one belt, H"})
        assert not any(r.key == "rack" for r in two.ladder)
        assert any(r.key == "rack" for r in one.ladder)
        assert len([b for b in one.bill if b.field == "end.belt"]) == 1

    def test_a_diagonal_asks_root_two_of_one_motor(self) -> None:
        report = axis(self.NAME, end={"beam_kg": 0.0})
        rows = {str(row[0]): row for row in next(t for t in report.tables if t.key == "motors").rows}
        along, diagonal = rows["along x"], rows["diagonal, x = y"]
        assert diagonal[1] == pytest.approx(math.sqrt(2) * float(along[1] or 0))
        assert diagonal[2] == pytest.approx(0.0, abs=1e-12)
        assert diagonal[3] == pytest.approx(math.sqrt(2) * float(along[3] or 0))

    def test_uneven_tension_costs_squareness_in_proportion(self) -> None:
        one, twice = (value(axis(self.NAME, end={"uneven_n": n}), "crossed.squareness") for n in (3.0, 6.0))
        assert twice == pytest.approx(2 * one)
