"""Stages of the chain one by one: what each does to speed, torque, inertia, give, bill and order of work."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import build
from crisp_cadence import catalog
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.ledger.errors import EntryError
from helpers import result, rung, value

PROFILES = catalog.profiles()
GEARBOX = {
    "kind": "gearbox",
    "ratio": 5.0,
    "efficiency": 0.9,
    "inertia_gcm2": 20.0,
    "stiffness_nm_rad": 1500.0,
    "backlash_arcmin": 15.0,
}
BELT = {"kind": "closed_belt", "belt_teeth": 160, "belt": {"profile": "round-g-2", "width_mm": 6.0}}


def with_stages(*stages: dict[str, Any], **changes: Any) -> Report:
    """The plain axis with stages behind its motor, its pulley bored for them."""
    motor = build().chain[0].model_dump()
    pulley = {"bore_mm": 8.0, "hub_mm": 18.0, "teeth": 24}
    return evaluate(build(chain=[motor, *stages], end__pulley=pulley, **changes), PROFILES)


PLAIN = with_stages()


class TestGearbox:
    def test_it_multiplies_turns_and_reflects_inertia_by_the_square(self) -> None:
        report = with_stages(GEARBOX)
        assert value(report, "motor.lam") == pytest.approx(5 * value(PLAIN, "motor.lam"))
        assert value(report, "chain.0.mass") == pytest.approx(25 * value(PLAIN, "chain.0.mass"))
        assert value(report, "chain.1.mass") == pytest.approx(
            20e-7 * (value(report, "motor.lam") * 1000) ** 2
        )

    def test_backlash_is_felt_at_the_carriage(self) -> None:
        report = with_stages(GEARBOX)
        assert value(report, "backlash") == pytest.approx(math.radians(15 / 60) * 24 * 2 / (2 * math.pi))
        assert value(report, "error.lost") > value(
            with_stages({**GEARBOX, "backlash_arcmin": 0.0}), "error.lost"
        )

    @pytest.mark.parametrize(
        ("field", "limit", "key"),
        [("torque_limit_nm", 0.01, "chain.1.torque"), ("speed_limit_rpm", 100.0, "chain.1.speed")],
    )
    def test_its_limits_are_rungs(self, field: str, limit: float, key: str) -> None:
        assert rung(with_stages({**GEARBOX, field: limit}), key).verdict == "short"
        assert not any(r.key == key for r in with_stages(GEARBOX).ladder)

    def test_a_soft_one_gives_more(self) -> None:
        soft, stiff = (with_stages({**GEARBOX, "stiffness_nm_rad": k}) for k in (50.0, 5000.0))
        assert value(soft, "stiffness.min") < value(stiff, "stiffness.min")
        assert next(s.share for s in soft.shares if s.part == "chain.1") > next(
            s.share for s in stiff.shares if s.part == "chain.1"
        )


class TestClosedBelt:
    def test_ratio_is_of_teeth_and_centre_distance_of_the_stock_belt(self) -> None:
        report = with_stages(BELT)
        assert value(report, "chain.1.ratio") == 3.0
        c, r1, r2 = value(report, "chain.1.centre"), 20 / math.pi, 60 / math.pi
        phi = math.asin((r2 - r1) / c)
        assert 2 * c * math.cos(phi) + math.pi * (r1 + r2) + 2 * phi * (r2 - r1) == pytest.approx(
            320.0, abs=1e-6
        )
        assert value(report, "chain.1.span") == pytest.approx(c * math.cos(phi))

    def test_its_pull_is_the_torque_over_the_driver(self) -> None:
        report = with_stages(BELT)
        assert value(report, "chain.1.pull") == pytest.approx(
            value(report, "chain.1.torque_ringing") / (20 / math.pi) * 1000
        )
        ringing = value(report, "ringing.factor") - 1
        assert value(report, "chain.1.torque_ringing") == pytest.approx(
            value(report, "chain.1.torque_accelerate")
            * (1 + ringing * value(report, "force.belt_inertia") / value(report, "force.accelerate"))
        )
        assert value(report, "chain.1.peak") == pytest.approx(
            value(report, "chain.1.tension_warmest") + value(report, "chain.1.pull") / 2
        )

    def test_spans_share_the_load_so_half_the_pull_is_needed_at_least(self) -> None:
        report = with_stages(BELT)
        assert value(report, "chain.1.tension_needed") >= value(report, "chain.1.pull") / 2
        low = with_stages({**BELT, "belt": {**BELT["belt"], "tension_n": 0.5}})  # type: ignore[dict-item]
        assert rung(low, "chain.1.taut").verdict == "short"

    def test_it_sounds_as_a_taut_string_of_its_span(self) -> None:
        report = with_stages({**BELT, "belt": {**BELT["belt"], "line_mass_g_m": 9.0, "tension_n": 30.0}})  # type: ignore[dict-item]
        assert value(report, "chain.1.pluck") == pytest.approx(
            math.sqrt(30 / 0.009) / (2 * value(report, "chain.1.span") / 1000)
        )

    @given(width=st.sampled_from([6.0, 9.0, 15.0]), teeth=st.integers(120, 260))
    def test_wider_and_shorter_belts_give_less(self, width: float, teeth: int) -> None:
        one = with_stages({**BELT, "belt_teeth": teeth, "belt": {"profile": "round-g-2", "width_mm": width}})
        longer = with_stages(
            {**BELT, "belt_teeth": teeth + 40, "belt": {"profile": "round-g-2", "width_mm": width}}
        )
        assert value(one, "chain.1.torsion") > value(longer, "chain.1.torsion")
        # cords by the width, teeth by their rating
        narrow = with_stages({**BELT, "belt_teeth": teeth})
        for key, grows in (("torsion_belt", width / 6), ("pull_capacity", (width / 6) ** 1.14)):
            assert value(one, f"chain.1.{key}") == pytest.approx(value(narrow, f"chain.1.{key}") * grows)

    def test_two_stages_multiply(self) -> None:
        report = with_stages(BELT, {**BELT, "driver": {"teeth": 20, "bore_mm": 8.0, "hub_mm": 16.0}})
        assert value(report, "steps_per_mm") == pytest.approx(3200 * 9 / 48)
        assert len(report.stage_scenes) == 2
        assert {"chain.1.belt", "chain.2.belt"} <= {b.field for b in report.bill}
        keys = [w.key for w in report.work]
        assert keys.index("chain_1_tension") < keys.index("chain_1_guard")

    def test_pulleys_of_a_stage_are_checked_like_any(self) -> None:
        for part in ("driver", "driven"):
            with pytest.raises(EntryError) as caught:
                with_stages({**BELT, part: {"teeth": 10, "bore_mm": 5.0}})
            assert caught.value.problems[0].field == f"chain.1.{part}.teeth"


class TestCouplerClutchWorm:
    def test_a_soft_coupler_takes_the_largest_share_under_a_heavy_carriage(self) -> None:
        soft = with_stages({"kind": "coupler", "form": "spring", "stiffness_nm_rad": 1.0})
        solid = with_stages({"kind": "coupler", "form": "solid", "stiffness_nm_rad": 3000.0})
        assert soft.shares[0].part == "chain.1"
        assert soft.shares[0].field == "chain.1.stiffness_nm_rad"
        assert value(solid, "stiffness.max") > 2 * value(soft, "stiffness.max")

    def test_a_coupler_changes_neither_speed_nor_torque(self) -> None:
        report = with_stages({"kind": "coupler", "inertia_gcm2": 0.0})
        assert value(report, "steps_per_mm") == value(PLAIN, "steps_per_mm")
        assert value(report, "chain.0.torque_push") == pytest.approx(value(PLAIN, "chain.0.torque_push"))

    def test_a_coupler_past_its_torque_is_short(self) -> None:
        assert (
            rung(with_stages({"kind": "coupler", "torque_limit_nm": 0.01}), "chain.1.torque").verdict
            == "short"
        )

    def test_a_clutch_slips_at_its_torque_and_plays(self) -> None:
        report = with_stages({"kind": "clutch", "slip_torque_nm": 0.01, "backlash_deg": 2.0})
        assert rung(report, "chain.1.torque").verdict == "short"
        assert value(report, "backlash") == pytest.approx(math.radians(2) * 48 / (2 * math.pi))

    def test_a_fine_worm_holds_and_a_steep_one_does_not(self) -> None:
        fine = with_stages({"kind": "worm", "starts": 1, "friction": 0.1}, aim={"slope_deg": 90.0})
        steep = with_stages({"kind": "worm", "starts": 8, "friction": 0.02}, aim={"slope_deg": 90.0})
        assert value(fine, "chain.1.efficiency_back") < 0 < value(steep, "chain.1.efficiency_back")
        assert not any(r.key == "unpowered" for r in fine.ladder)
        assert any(r.key == "unpowered" for r in steep.ladder)
        assert rung(fine, "torque_hold").verdict == "no demand"
        assert rung(steep, "torque_hold").demand == pytest.approx(value(steep, "chain.0.torque_hold"))

    def test_a_worm_wastes_what_its_angle_and_friction_say(self) -> None:
        report = with_stages(
            {
                "kind": "worm",
                "starts": 1,
                "module_mm": 1.0,
                "worm_mm": 16.0,
                "friction": 0.08,
                "wheel_teeth": 40,
            }
        )
        alpha, rho = math.atan(1 / 16), math.atan(0.08 / math.cos(math.radians(20)))
        assert value(report, "chain.1.efficiency") == pytest.approx(math.tan(alpha) / math.tan(alpha + rho))
        assert value(report, "chain.1.ratio") == 40.0

    @pytest.mark.parametrize("kind", ["coupler", "clutch", "worm", "closed_belt", "gearbox"])
    def test_every_stage_is_on_the_bill_the_drive_line_and_in_the_order_of_work(self, kind: str) -> None:
        report = with_stages({**BELT} if kind == "closed_belt" else {"kind": kind})
        assert any(b.field.startswith("chain.1") for b in report.bill)
        node = report.drive_line[1]
        assert node.at == "chain.1"
        assert node.main
        assert len(report.work) > len(PLAIN.work)


class TestTurningMotors:
    def feed(self, **motor: Any) -> Report:
        chain = [
            {
                "kind": "gearmotor",
                "no_load_rpm": 60.0,
                "stall_torque_nm": 4.0,
                "inertia_gcm2": 100.0,
                "detent_torque_nm": 0.1,
                **motor,
            }
        ]
        return evaluate(
            build(
                chain=chain,
                end={"kind": "screw", "length_mm": 720.0, "diameter_mm": 12.0},
                aim={"speed_mm_s": 1.0, "push_n": 50.0, "push_speed_mm_s": 0.5},
            ),
            PROFILES,
        )

    def test_duty_scales_the_line(self) -> None:
        full, half = self.feed(), self.feed(duty_percent=50.0)
        assert value(full, "motor.pull_out_top") - value(half, "motor.pull_out_top") == pytest.approx(2.0)

    def test_for_long_it_gives_a_third(self) -> None:
        assert value(self.feed(), "motor.pull_out_push") == pytest.approx(4.0 * 0.33)
        assert value(self.feed(lasting_percent=10.0), "motor.pull_out_push") == pytest.approx(0.4)

    def test_it_asks_for_no_resolution_and_has_no_modes(self) -> None:
        report = self.feed()
        keys = {q.key for q in report.results} | {r.key for r in report.ladder}
        assert not keys & {"steps_per_mm", "mode.low", "resolution", "step_rate", "whip", "lost"}
        assert rung(report, "push_give").ratio

    def test_too_fast_for_its_line_is_short(self) -> None:
        report = evaluate(
            build(
                chain=[
                    {"kind": "gearmotor", "no_load_rpm": 10.0, "inertia_gcm2": 100.0, "detent_torque_nm": 0.1}
                ],
                end={"kind": "screw", "length_mm": 720.0, "diameter_mm": 12.0},
                aim={"speed_mm_s": 5.0},
            ),
            PROFILES,
        )
        assert rung(report, "speed").verdict == "short"
        assert value(report, "motor.pull_out_top") < 0

    def test_what_it_lacks_is_named(self) -> None:
        report = self.feed(inertia_gcm2=None)
        assert rung(report, "torque_accelerate").missing == ("chain.0.inertia_gcm2",)
        assert result(report, "motor.mass").value is not None or result(report, "motor.mass").missing
