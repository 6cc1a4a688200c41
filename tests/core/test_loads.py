"""Loads that were fed to the wrong place: each by hand, on the axis that it is of."""

from __future__ import annotations

import math
from typing import Any

import pytest

import crisp_cadence
from conftest import build
from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.core.evaluation.evaluate import Run, evaluate, work_out
from crisp_cadence.core.formulas.screws import trapezoidal_core
from helpers import rung, value

PROFILES = catalog.profiles()
DESIGNS = demo.designs()


def of(design: AxisDesign, changes: dict[str, Any]) -> Report:
    return evaluate(changed(design, changes), PROFILES)


@pytest.mark.parametrize(
    ("size", "pitch", "core"),
    [(8, 1.5, 6.2), (10, 2, 7.5), (12, 3, 8.5), (16, 4, 11.5), (20, 4, 15.5), (30, 6, 23.0), (44, 7, 36.0)],
)
def test_trapezoidal_cores_are_those_of_the_table(size: float, pitch: float, core: float) -> None:
    """ISO 2904 core diameters of the bolt thread, from memory."""
    assert trapezoidal_core(size, pitch) == pytest.approx(core)


def test_a_ball_screw_has_a_core_of_its_own_and_several_starts_do_not_cut_deeper() -> None:
    feed = DESIGNS["trimming-bench-slab-feed"]
    assert of(feed, {"end.form": "ball", "end.core_mm": 13.1}).value("screw.root") == 13.1
    one, four = (of(feed, {"end.starts": n}).value("screw.root") for n in (1, 4))
    assert one == four


def test_a_level_arm_bends_across_its_width_and_droops_across_its_height() -> None:
    arm = changed(DESIGNS["spray-booth-spray-arm"], {"end.upright": "flat"})
    tall, flat = (of(arm, {"end.height_mm": h, "end.width_mm": w}) for h, w in ((30.0, 10.0), (10.0, 30.0)))
    assert value(flat, "joint.arm") == pytest.approx(9 * value(tall, "joint.arm"))
    assert value(flat, "joint.droop") == pytest.approx(9 * value(tall, "joint.droop"))
    upright = of(arm, {"end.upright": "upright", "end.height_mm": 30.0, "end.width_mm": 10.0})
    assert value(upright, "joint.arm") == pytest.approx(9 * value(tall, "joint.arm"))
    assert upright.value("joint.droop") is None


def test_the_step_rate_caps_the_speed_that_it_can_reach() -> None:
    free = crisp_cadence.evaluate(build(chain__0__driver__step_rate_limit_hz=1e6))
    capped = crisp_cadence.evaluate(build(chain__0__driver__step_rate_limit_hz=20_000.0))
    assert rung(free, "speed").capacity == value(free, "motor.reach")
    found = rung(capped, "speed")
    assert found.capacity == pytest.approx(20_000 / value(capped, "steps_per_mm"))
    assert found.field == "chain.0.driver.microsteps"


def test_the_slowest_feed_asks_a_duty_at_which_the_motor_still_turns() -> None:
    """By hand: a line from no load to stall, D = n/n0 + T/Ts."""
    feed = changed(DESIGNS["trimming-bench-slab-feed"], {"aim.push_n": 50.0})
    report = evaluate(feed, PROFILES)
    motor: Any = feed.chain[0]
    rpm = feed.aim.push_speed_mm_s * value(report, "motor.lam") * 60 / (2 * math.pi)
    duty = 100 * (rpm / motor.no_load_rpm + value(report, "chain.0.torque_push") / motor.stall_torque_nm)
    assert value(report, "motor.duty_slow") == pytest.approx(duty)
    crawl = of(feed, {"aim.push_speed_mm_s": 0.05, "chain.0.least_duty_percent": 45.0})
    assert rung(crawl, "slow_feed").verdict == "short"
    assert rung(of(feed, {"aim.push_n": 0.0}), "slow_feed").verdict == "no demand"


def test_holding_is_sized_without_friction_and_says_what_it_may_come_down_to() -> None:
    lift = evaluate(DESIGNS["seed-shuttle-lift"], PROFILES)
    force, lam = value(lift, "force.hold"), value(lift, "motor.lam")
    assert rung(lift, "torque_hold").demand == pytest.approx(force / lam / 1000)
    back = value(lift, "efficiency")
    assert value(lift, "motor.hold_least") == pytest.approx(
        (force - value(lift, "force.drag")) * back / lam / 1000
    )


def test_a_cross_shaft_turns_too() -> None:
    """A steel bar, J = π·ρ·l·d⁴/32, as a mass at the carriage."""
    sides = {"kind": "cross shaft", "width_mm": 600.0, "shaft_mm": 12.0}
    report = crisp_cadence.evaluate(build(sides=sides))
    inertia = math.pi * 7850 * 0.6 * 0.012**4 / 32
    bar = inertia * (value(report, "end.lam") * 1000) ** 2
    assert value(report, "mass.driven") - value(report, "mass.total") == pytest.approx(
        2 * value(report, "pulley.mass") + bar
    )


def test_the_nearer_rail_of_a_gantry_carries_its_share() -> None:
    one = crisp_cadence.evaluate(build(stand__rail_span_mm=500.0))
    sides = {"kind": "two motors", "width_mm": 600.0, "offset_mm": 60.0}
    two = crisp_cadence.evaluate(build(stand__rail_span_mm=500.0, sides=sides))
    assert value(two, "rail.load") == pytest.approx(0.6 * value(one, "rail.load"))


class TestCrossedBelts:
    HEAD = DESIGNS["clay-printer-head"]

    def runs(self, changes: dict[str, Any]) -> dict[str, Run]:
        _, runs = work_out(changed(self.HEAD, {"heads": [], **changes}), PROFILES)
        return {run.ctx.case: run for run in runs}

    def test_the_beam_drags_along_y_only(self) -> None:
        light, heavy = self.runs({"end.beam_kg": 0.5}), self.runs({"end.beam_kg": 1.5})
        more = {case: heavy[case].ctx.loads.drag.n - light[case].ctx.loads.drag.n for case in light}
        friction = 1.0 * 9.80665 * self.HEAD.guide.friction
        assert more["along x"] == pytest.approx(0.0)
        assert more["along y"] == pytest.approx(friction)
        assert more["diagonal"] == pytest.approx(friction / math.sqrt(2))

    def test_upright_it_lifts_the_beam_along_y_and_nothing_along_x(self) -> None:
        runs = self.runs({"aim.slope_deg": 90.0})
        tally = runs["along y"].ctx.loads.masses.tally.n
        end: Any = runs["along y"].end
        assert runs["along x"].ctx.loads.weight.n == pytest.approx(0.0)
        assert runs["along y"].ctx.loads.weight.n == pytest.approx((tally + end.beam_kg) * 9.80665)

    def test_rollers_stand_on_both_belts(self) -> None:
        roller = {
            "label": "Roller",
            "kind": "smooth",
            "diameter_mm": 20.0,
            "where": "before the pulley",
            "x_mm": -20.0,
            "y_mm": 150.0,
        }
        report = self.runs({"end.rollers": [roller]})["along x"].ctx.book.results
        assert report["rollers.0.mass"].n == pytest.approx(2 * report["rollers.0.mass_each"].n)


class TestHubsAndShaftsOfAClosedBelt:
    ARM = DESIGNS["spray-booth-spray-arm"]

    def test_both_hubs_have_a_rung_with_the_torque_on_their_shaft(self) -> None:
        report = evaluate(self.ARM, PROFILES)
        j = next(j for j, s in enumerate(self.ARM.chain) if s.kind == "closed_belt")
        for name in ("driver", "driven"):
            torque = value(report, f"chain.{j}.pull") * value(report, f"chain.{j}.{name}.radius") / 1000
            assert rung(report, f"chain.{j}.{name}_grip").demand == pytest.approx(torque)

    def test_spans_pull_with_half_of_the_pull_more_and_less_on_both_shafts(self) -> None:
        """Vector sum of T + F/2 and T − F/2 under each wrap."""
        report = evaluate(self.ARM, PROFILES)
        j = next(j for j, s in enumerate(self.ARM.chain) if s.kind == "closed_belt")
        at = f"chain.{j}"
        tension, half = value(report, f"{at}.tension_warmest"), value(report, f"{at}.pull") / 2
        for name, wrap in (("driver", f"{at}.wrap"), ("driven", f"{at}.driven.wrap")):
            angle = value(report, wrap)
            a, b = tension + half, tension - half
            load = math.hypot(a - b * math.cos(angle), b * math.sin(angle))
            assert value(report, f"{at}.{name}.load") == pytest.approx(load)

    def test_fewest_teeth_in_mesh_are_those_of_the_smaller_pulley(self) -> None:
        up = begin("belt_reduction", "Up")
        j = next(j for j, s in enumerate(up.chain) if s.kind == "closed_belt")
        stepped_up = of(
            up, {f"chain.{j}.driver.teeth": 48, f"chain.{j}.driven.teeth": 20, "moving.0.mass_kg": 0.5}
        )
        assert value(stepped_up, f"chain.{j}.mesh") == value(stepped_up, f"chain.{j}.driven.mesh")
        assert rung(stepped_up, f"chain.{j}.mesh").field == f"chain.{j}.driven.teeth"


def test_a_belt_rated_by_the_tooth_carries_less_on_a_fast_pulley() -> None:
    """T5, 10 mm, 2.4 N per tooth and mm: 10 teeth in mesh carry 240 N at standstill."""
    steel = {"profile": "t5", "cord": "steel", "width_mm": 10.0}
    slow, fast = (
        crisp_cadence.evaluate(build(end__belt=steel, end__pulley__face_mm=11.0, aim__speed_mm_s=v))
        for v in (1.0, 2000.0)
    )
    assert value(slow, "belt.pull_still") == pytest.approx(2.4 * 10 * value(slow, "pulley.mesh"))
    assert rung(slow, "pull").capacity == pytest.approx(value(slow, "belt.pull_still"), rel=0.02)
    rpm = 2000 / (20 * 5) * 60
    assert rung(fast, "pull").capacity == pytest.approx(
        value(fast, "belt.pull_still") * (1 - 0.115 * math.log(1 + rpm / 50))
    )


def test_guides_and_couplers_carry_what_is_typical_of_their_kind_until_something_is_entered() -> None:
    """Choosing the kind changes the number; an entered one stays."""
    drags = {
        kind: value(crisp_cadence.evaluate(build(guide__kind=kind, guide__friction=None)), "force.drag")
        for kind in ("wheels", "linear rail", "plain")
    }
    weight = 9.80665 * (value(crisp_cadence.evaluate(build()), "mass.tally"))
    own = build().guide.drag_n
    assert {k: round((d - own) / weight, 6) for k, d in drags.items()} == {
        "wheels": 0.02,
        "linear rail": 0.01,
        "plain": 0.2,
    }
    screw = begin("screw", "Feed")
    soft = {
        form: value(of(screw, {"chain.1.form": form}), "chain.1.stiffness")
        for form in ("solid", "spring", "jaw")
    }
    assert soft["solid"] > 30 * soft["jaw"] > 100 * soft["spring"]
    assert value(
        of(screw, {"chain.1.form": "solid", "chain.1.stiffness_nm_rad": 60.0}), "chain.1.stiffness"
    ) == (pytest.approx(soft["jaw"]))


def test_the_motor_s_shaft_tilts_under_the_belt() -> None:
    """A cantilever from its front bearing: φ = F·l²/2EI with I = π·d⁴/64, steel."""
    report = crisp_cadence.evaluate(build(end__belt__tension_n=60.0))
    reach = 12.0 + 10.0
    tilt = value(report, "pulley.shaft_load") * reach**2 / (2 * 205e3 * math.pi * 5.0**4 / 64)
    assert value(report, "shaft.tilt") == pytest.approx(math.degrees(tilt))
    assert rung(report, "shaft_tilt").advisory
