"""The whole report: complete, honest about what is missing, and scaling as the physics says."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any, ClassVar

import pytest
from hypothesis import given
from hypothesis import strategies as st

import crisp_cadence
from conftest import build
from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import BillLine, Report, WorkStep
from crisp_cadence.core.building.order import plan
from crisp_cadence.core.evaluation.evaluate import evaluate as evaluated
from crisp_cadence.core.evaluation.evaluate import work_out
from crisp_cadence.core.fields.axis import Tick
from crisp_cadence.core.ledger.errors import EntryError
from helpers import result, rung, value

evaluate = crisp_cadence.evaluate


def refused(**changes: Any) -> dict[str, Any]:
    with pytest.raises(EntryError) as caught:
        evaluate(build(**changes))
    return {p.field: p for p in caught.value.problems}


def test_a_hand_worked_axis() -> None:
    """Every main number of a small axis worked out on paper: 20 teeth of 2 mm, 1 kg, 1 m/s², level, no drag."""
    report = evaluate(
        build(
            moving=[{"label": "all", "mass_kg": 1.0}],
            guide={
                "friction": 0.0,
                "drag_n": 0.0,
                "rail_mm": 700.0,
                "carriage_mm": 80.0,
                "near_mm": 20.0,
                "far_mm": 20.0,
                "overtravel_mm": 5.0,
            },
            end__belt__line_mass_g_m=0.1,
            end__idler__density_g_cm3=0.5,
            end__pulley__density_g_cm3=0.5,
        )
    )
    assert value(report, "travel.usable") == 570.0
    assert value(report, "loop.centre") == 745.0
    assert value(report, "pulley.pitch_diameter") == pytest.approx(40 / math.pi)
    assert value(report, "steps_per_mm") == pytest.approx(80.0)
    assert value(report, "step_rate") == pytest.approx(16_000.0)
    assert value(report, "loop.length") == pytest.approx(2 * 745 + 40)
    # free belt 1490 mm = 745 teeth exactly; 6 held and 10 of tail at each end
    assert value(report, "belt.fit_teeth") == 745
    assert value(report, "belt.cut") == (745 + 12 + 20) * 2.0
    assert value(report, "force.accelerate") == pytest.approx(1.0, rel=0.003)
    # near end: the direct run is 25 + 20 + 5 + 40 − 20 = 70 mm; with what lies on the idler (half a turn, 20
    # mm) both runs are 1470 mm
    assert value(report, "loop.share") == pytest.approx(1 - 70 / 1470)
    overshoot = 1 + math.exp(-math.pi * 0.05 / math.sqrt(1 - 0.05**2))
    assert value(report, "belt.peak_force") == pytest.approx(overshoot, rel=0.003)
    assert value(report, "tension.needed") == pytest.approx(
        value(report, "belt.peak_force") * (1 - 70 / 1470 + 0.2)
    )
    assert value(report, "pulley.mesh") == 10
    ratio = rung(report, "torque_accelerate")
    lam = math.pi / 20
    rotor = 54e-7 * (lam * 1000) ** 2
    driven = value(report, "mass.driven")
    assert ratio.demand == pytest.approx((driven / 0.95 + rotor) * 1.0 / lam / 1000)
    assert ratio.capacity == pytest.approx(0.45 * 1.5 / 1.7), "at 200 mm/s the current still binds"


def test_reports_are_complete_and_finite() -> None:
    for design in demo.designs().values():
        report = evaluate(design)
        assert len({q.key for q in report.results}) == len(report.results)
        for q in report.results:
            assert (q.value is None) == bool(q.missing), q.key
            assert q.value is None or math.isfinite(q.value), q.key
        keys = {q.key for q in report.results}
        for r in report.ladder:
            assert set(r.opens) <= keys
            assert r.says
            assert r.field


def test_demo_has_one_that_holds_one_tight_one_short_with_a_way_out() -> None:
    verdicts = {name: evaluate(d).verdict for name, d in demo.designs().items()}
    assert set(verdicts.values()) == {"holds", "tight", "short"}
    assert verdicts["glaze-bench-pass"] == "short"


def test_ladder_is_sorted_by_headroom() -> None:
    for design in demo.designs().values():
        known = [r for r in evaluate(design).ladder if r.headroom is not None]
        assert known == sorted(known, key=lambda r: (r.verdict != "short", r.headroom)), "short ones on top"


@pytest.mark.parametrize(
    ("changes", "rungs", "lacks"),
    [
        (
            {"chain__0__inductance_mh": None},
            ["torque_accelerate", "torque_cruise", "speed"],
            "chain.0.inductance_mh",
        ),
        ({"chain__0__resistance_ohm": None}, ["torque_accelerate"], "chain.0.resistance_ohm"),
        ({"chain__0__rotor_inertia_gcm2": None}, ["torque_accelerate"], "chain.0.rotor_inertia_gcm2"),
        (
            {"aim": {"slope_deg": 90.0}, "chain__0__detent_torque_nm": None},
            ["unpowered"],
            "chain.0.detent_torque_nm",
        ),
        ({"end__idler_mount": {"kind": "measured"}}, ["whip", "lost"], "end.idler_mount.stiffness_n_mm"),
        ({"chain__0__frame": "other"}, ["shaft_load"], "chain.0.radial_limit_n"),
        ({"end__pulley__fixing": {"kind": "measured"}}, ["grip"], "end.pulley.fixing.grip_nm"),
    ],
)
def test_what_is_missing_is_named(changes: dict[str, Any], rungs: list[str], lacks: str) -> None:
    report = evaluate(build(**changes))
    for key in rungs:
        found = rung(report, key)
        assert found.verdict == "unknown"
        assert lacks in found.missing
        assert found.ratio is None


def test_a_belt_that_nobody_rates_says_so() -> None:
    rows = catalog.profiles()
    bare = replace(rows["round-g-2"], working_tension_n_per_25_4mm=None)
    report = evaluated(build(), {**rows, "round-g-2": bare})
    for key in ("pull", "clamp"):
        assert rung(report, key).verdict == "unknown"
        assert "end.belt.working_tension_n" in rung(report, key).missing


def test_no_demand_is_a_state_of_its_own() -> None:
    report = evaluate(build(aim={"push_n": 0.0, "slope_deg": 0.0}))
    for key in ("push_give", "torque_push", "unpowered", "sag"):
        assert rung(report, key).verdict == "no demand"
        assert rung(report, key).ratio is None


class TestRefusals:
    def test_rail_shorter_than_the_carriage(self) -> None:
        p = refused(
            guide={
                "rail_mm": 100.0,
                "carriage_mm": 80.0,
                "near_mm": 20.0,
                "far_mm": 20.0,
                "overtravel_mm": 5.0,
            },
            aim={"travel_mm": 400.0},
        )["guide.rail_mm"]
        assert (p.value, p.limit, p.unit) == ("100", "130", "mm")
        assert p.remedy == "Take a rail of at least 530 mm for the travel wanted, or a shorter carriage."

    def test_pulley_smaller_than_the_profile_allows(self) -> None:
        p = refused(end__pulley={"teeth": 12})["end.pulley.teeth"]
        assert p.message == "is below what Round tooth G 2 mm allows: the belt would be bent too sharply"
        assert (p.value, p.limit, p.unit) == ("12", "14", "teeth")

    def test_idler_smaller_than_the_profile_allows(self) -> None:
        assert refused(end__idler={"teeth": 10})["end.idler.teeth"].limit == "14"

    def test_bore_larger_than_the_hub(self) -> None:
        found = refused(end__pulley={"bore_mm": 20.0, "hub_mm": 16.0})
        assert found["end.pulley.bore_mm"].remedy

    def test_clamp_in_the_pulley(self) -> None:
        assert "end.motor_offset_mm" in refused(end__motor_offset_mm=-120.0)
        assert "end.idler_offset_mm" in refused(end__idler_offset_mm=-120.0)

    def test_unknown_profile(self) -> None:
        assert "round-g-2" in refused(end__belt={"profile": "rope"})["end.belt.profile"].limit

    def test_nothing_moves(self) -> None:
        design = build(moving=[], end__belt={"line_mass_g_m": 0.1})
        assert evaluate(design).verdict, "belt and idler still move"

    def test_every_problem_is_named_at_once(self) -> None:
        assert (
            len(refused(end__pulley={"teeth": 12, "bore_mm": 17.0, "hub_mm": 16.0}, end__idler={"teeth": 8}))
            == 3
        )

    def test_unknown_kinds_are_kept_and_named(self) -> None:
        design = build(chain=[{"kind": "stepper"}, {"kind": "harmonic", "teeth": 3}])
        assert design.model_dump()["chain"][1] == {"id": "1", "kind": "harmonic", "teeth": 3}
        with pytest.raises(EntryError, match=r"chain\.1\.kind"):
            evaluate(design)

    @pytest.mark.parametrize("chain", [[{"kind": "gearbox"}], [{"kind": "stepper"}, {"kind": "stepper"}]])
    def test_a_chain_begins_with_its_one_motor(self, chain: list[dict[str, Any]]) -> None:
        with pytest.raises(EntryError, match="kind"):
            evaluate(build(chain=chain))


def ratios(report: Report) -> dict[str, float]:
    return {r.key: r.ratio for r in report.ladder if r.ratio is not None}


@given(width=st.floats(3, 40), more=st.floats(1.001, 4))
def test_more_width_never_lowers_stiffness(width: float, more: float) -> None:
    thin, wide = (
        evaluate(build(end__belt={"width_mm": width})),
        evaluate(build(end__belt={"width_mm": width * more})),
    )
    assert thin.along
    assert wide.along
    for a, b in zip(thin.along.stiffness_n_mm, wide.along.stiffness_n_mm, strict=True):
        assert b >= a * (1 - 1e-12)


@given(factor=st.floats(1.05, 6))
def test_belt_rungs_fall_with_every_force(factor: float) -> None:
    """All masses and drags times a factor: forces too, so pull falls as 1/factor, and the tension needed
    rises with it; at a tension that is chosen, the rungs fall as well. The belt lies in a slot: no sag.
    """

    def scaled(k: float) -> Report:
        return evaluate(
            build(
                moving=[{"label": "all", "mass_kg": 0.8 * k}],
                guide={"drag_n": 2.0 * k},
                end__belt={"line_mass_g_m": 8.0 * k, "tension_n": 15.0},
                end__slot_mm=8.0,
                end__idler={"density_g_cm3": 2.0 * k},
                # More mass rings lower: of so much damping nothing is left when it stops.
                assumptions={"damping": 0.3},
            )
        )

    one, more = scaled(1.0), scaled(factor)
    assert ratios(more)["pull"] == pytest.approx(ratios(one)["pull"] / factor)
    assert value(more, "tension.needed") == pytest.approx(value(one, "tension.needed") * factor)
    assert ratios(more)["pretension"] == pytest.approx(ratios(one)["pretension"] / factor)
    assert ratios(more)["whip"] == pytest.approx(ratios(one)["whip"] / factor)


@given(width=st.floats(3, 30), factor=st.floats(1.1, 3))
def test_pull_grows_with_width_to_the_power_of_the_handbook(width: float, factor: float) -> None:
    # Of so much damping nothing is left of starting when it stops, whatever the belt's frequency.
    light, damped = {"line_mass_g_m": 8.0}, {"damping": 0.3}
    one, more = (
        evaluate(build(end__belt={"width_mm": w, **light}, assumptions=damped))
        for w in (width, width * factor)
    )
    assert ratios(more)["pull"] == pytest.approx(ratios(one)["pull"] * factor**1.14)
    assert value(more, "cord.capacity") == pytest.approx(value(one, "cord.capacity") * factor)


@given(microsteps=st.sampled_from([1, 2, 4, 8, 16, 32]))
def test_microsteps_trade_step_rate_for_resolution(microsteps: int) -> None:
    one, twice = (
        ratios(evaluate(build(chain__0__driver={"microsteps": n}))) for n in (microsteps, 2 * microsteps)
    )
    assert twice["step_rate"] == pytest.approx(one["step_rate"] / 2)
    assert twice["resolution"] == pytest.approx(one["resolution"] * 2)


@given(ratio=st.floats(1.5, 20))
def test_a_gearbox_multiplies_torque_and_divides_speed(ratio: float) -> None:
    still = {"push_n": 10.0, "push_speed_mm_s": 0.01}
    direct, geared = (
        evaluate(build(aim=still)),
        evaluate(
            build(
                aim=still,
                chain=[build().chain[0].model_dump(), {"kind": "gearbox", "ratio": ratio, "efficiency": 1.0}],
            )
        ),
    )
    assert ratios(geared)["torque_push"] == pytest.approx(ratios(direct)["torque_push"] * ratio, rel=1e-4)
    assert value(geared, "steps_per_mm") == pytest.approx(value(direct, "steps_per_mm") * ratio)


@given(supply=st.sampled_from([12.0, 24.0, 36.0, 48.0]))
def test_more_volts_never_cost_speed(supply: float) -> None:
    less, more = (
        ratios(evaluate(build(chain__0__driver={"supply_v": v, "current_a": 1.5})))
        for v in (supply, supply + 12)
    )
    assert more["speed"] >= less["speed"]
    assert more["torque_accelerate"] >= less["torque_accelerate"] * (1 - 1e-12)


def test_the_reach_is_where_the_margin_ends() -> None:
    report = evaluate(build())
    again = evaluate(build(aim={"speed_mm_s": value(report, "motor.reach")}))
    found = rung(again, "torque_accelerate")
    assert found.ratio == pytest.approx(found.margin, rel=1e-3)


def test_series_winding_counts_in_the_report() -> None:
    series = evaluate(build(chain__0__winding="series"))
    assert value(series, "motor.resistance_ohm") == pytest.approx(3.0)
    assert value(series, "motor.inductance_mh") == pytest.approx(11.2)
    assert result(series, "motor.kt").value == pytest.approx(2 * (value(evaluate(build()), "motor.kt")))


class TestOrderOfWork:
    def test_each_step_follows_what_it_needs_and_precedes_what_covers_it(self) -> None:
        for design in demo.designs().values():
            steps = evaluate(design.model_copy(update={"done": []})).work
            place = {s.key: i for i, s in enumerate(steps)}
            assert len(place) == len(steps) > 8
            assert any(s.covers for s in steps) or design.end.kind == "spindle"  # whose guards open
            for step in steps:
                for before in (*step.waits_for_steps, *step.covers):
                    assert place[before] < place[step.key], (before, step.key)
                assert step.now != "done"

    def test_a_half_built_demo_waits_for_its_belt_only(self) -> None:
        report = evaluate(demo.designs()["seed-shuttle-lift"])
        assert [o.what for o in report.to_order] == ["Open belt", "Clamp plate", "Power-off brake, 24 V"]
        first = next(s for s in report.work if s.now != "done" and not s.waits_for_steps)
        assert (first.key, first.waits_for_parts) == ("cut_belt", ("Open belt",))

    def test_what_can_be_done_today_follows_what_is_done_and_here(self) -> None:
        ordered = [
            WorkStep("rail", "Bolt the rail"),
            WorkStep("idler", "Fit the idler", after=("rail",), needs=("end.idler",)),
            WorkStep("scrap", "Cut a scrap plate", needs=("extras.0",)),
            WorkStep("lid", "Close", covers=("idler",)),
        ]

        def line(field: str, price: float | None, here: bool) -> BillLine:
            return BillLine(field.title(), "", 1, "", price, price, here, field)

        away = [line("end.idler", 6.0, False), line("extras.0", 0.0, False), line("end.belt", None, False)]
        planned, orders = plan(ordered, away, {}, lambda name: (name, ""))
        assert {p.key: p.now for p in planned} == {
            "rail": "ready",
            "idler": "waits",
            "scrap": "ready",
            "lid": "waits",
        }
        idler = next(p for p in planned if p.key == "idler")
        assert (idler.waits_for_steps, idler.waits_for_parts) == (("rail",), ("End.Idler",))
        assert [(o.field, o.for_step, o.total) for o in orders] == [
            ("end.idler", "idler", 6.0),
            ("end.belt", "", None),
        ]
        planned, orders = plan(
            ordered, [line("end.idler", 6.0, True)], {"rail": Tick(step="rail")}, lambda name: (name, "")
        )
        assert {p.key: p.now for p in planned} == {
            "rail": "done",
            "idler": "ready",
            "scrap": "ready",
            "lid": "waits",
        }
        assert orders == ()

    def test_steps_that_wait_for_each_other_are_named(self) -> None:
        with pytest.raises(ValueError, match="wait for each other: a, b"):
            plan(
                [WorkStep("a", "", after=("b",)), WorkStep("b", "", after=("a",))],
                [],
                {},
                lambda name: (name, ""),
            )


def test_bill_adds_up_and_never_takes_an_unknown_price_as_free() -> None:
    report = evaluate(demo.designs()["seed-shuttle-lift"])
    priced = [b for b in report.bill if b.total is not None]
    assert report.bill_total == pytest.approx(sum(b.total or 0 for b in priced))
    assert report.bill_to_spend == pytest.approx(sum(b.total or 0 for b in priced if not b.in_stock))
    assert report.bill_unpriced == 1
    assert any("no price yet" in n.says for n in report.notes)


@pytest.mark.parametrize("name", demo.designs())
def test_a_report_can_be_asked_for_again(name: str) -> None:
    """Each call added a rung of money once, and 27 rungs became 187."""
    worst, runs = work_out(demo.designs()[name], catalog.profiles())
    assert worst.report(runs) == worst.report(runs)


class TestOneTensionForOneBelt:
    """Each head and direction set its own once, and the report showed that of the case with least headroom."""

    HEADS = (
        {"label": "Pen", "mass_kg": 0.1},
        {"label": "Spindle", "mass_kg": 3.0},
        {"label": "Empty", "mass_kg": 0.0},
    )

    @pytest.mark.parametrize("order", [(0, 1, 2), (2, 1, 0), (1, 0, 2)])
    def test_it_is_what_the_heaviest_head_needs_whatever_their_order(self, order: tuple[int, ...]) -> None:
        heavy = crisp_cadence.evaluate(build(heads=[self.HEADS[1]]))
        worst, runs = work_out(build(heads=[self.HEADS[i] for i in order]), catalog.profiles())
        for key in ("tension.set", "tension.target", "tension.low"):
            assert {run.ctx.book.results[key].value for run in runs} == {heavy.value(key)}
        needs = [run.ctx.book.results["tension.needed.here"].value for run in runs]
        report = worst.report(runs)
        assert report.value("tension.needed") == max(n for n in needs if n is not None)
        pretension = rung(report, "pretension")
        assert (pretension.demand, pretension.case) == (heavy.value("tension.needed"), "Spindle")
        assert pretension.met, "the program's own target meets it"
        cold, needed = heavy.value("tension.coldest"), heavy.value("tension.needed")
        assert pretension.ratio == pytest.approx((cold or 0) / (needed or 1))
        assert pretension.ratio > 1.1 - 1e-12

    def test_no_head_s_run_goes_slack_at_it(self) -> None:
        """By the model's own statics: what stays on the slack run while each head is driven."""
        _, runs = work_out(build(heads=list(self.HEADS)), catalog.profiles())
        for run in runs:
            at = run.ctx.book.results
            slack = at["tension.set"].n - at["belt.peak_force"].n * at["loop.share"].n
            assert slack >= run.design.assumptions.slack_keep * at["belt.peak_force"].n

    def test_the_upper_end_serves_every_head(self) -> None:
        _, runs = work_out(build(heads=list(self.HEADS)), catalog.profiles())
        highs = [run.ctx.book.results["tension.high.here"].n for run in runs]
        assert {run.ctx.book.results["tension.high"].n for run in runs} == {min(highs)}

    def test_one_head_alone_has_no_second_result_for_it(self) -> None:
        assert crisp_cadence.evaluate(build(heads=[self.HEADS[0]])).value("tension.needed.here") is None


class TestWhatAHeadPushesAgainst:
    """A head's own push was dropped from the motor's rung where the aim has none, and from what gives."""

    @pytest.mark.parametrize(("aim", "head"), [(0.0, 60.0), (20.0, 60.0), (60.0, 20.0), (60.0, 0.0)])
    def test_it_counts_instead_of_the_aim_s(self, aim: float, head: float) -> None:
        with_head = crisp_cadence.evaluate(
            build(aim__push_n=aim, heads=[{"label": "Mill", "mass_kg": 0.0, "push_n": head}])
        )
        plain = crisp_cadence.evaluate(build(aim__push_n=head))
        for key in ("torque_push", "push_give"):
            asked, wanted = rung(with_head, key), rung(plain, key)
            assert (asked.demand, asked.capacity, asked.verdict) == (
                wanted.demand,
                wanted.capacity,
                wanted.verdict,
            )
        assert result(with_head, "error.push").opened().inputs[0].ref == "heads.0.push_n"

    def test_one_that_says_nothing_pushes_as_the_aim_does(self) -> None:
        with_head = crisp_cadence.evaluate(build(aim__push_n=30.0, heads=[{"label": "Pen", "mass_kg": 0.0}]))
        assert (
            rung(with_head, "push_give").demand
            == rung(crisp_cadence.evaluate(build(aim__push_n=30.0)), "push_give").demand
        )


class TestTheWorstForce:
    """Wheel load, yaw and twist were reckoned with the accelerating force alone, however hard the tool
    pushes.
    """

    STAND: ClassVar = {"wheel_limit_n": 300.0, "height_mm": 80.0, "wheels": 4, "wheel_base_mm": 60.0}

    def test_wheels_bear_the_push(self) -> None:
        quiet = crisp_cadence.evaluate(build(stand=self.STAND, guide__kind="wheels"))
        pushed = crisp_cadence.evaluate(build(stand=self.STAND, guide__kind="wheels", aim__push_n=150.0))
        gained = value(pushed, "force.push") - value(quiet, "force.accelerate")
        more = value(pushed, "wheel.load") - value(quiet, "wheel.load")
        # F·h over the wheel base, halved on the two wheels of a row: by hand, from statics.
        assert more == pytest.approx(gained * 80.0 / (60.0 * 2))

    @pytest.mark.parametrize("kind", ["two motors", "cross shaft"])
    def test_a_gantry_yaws_under_the_push(self, kind: str) -> None:
        sides = {"kind": kind, "width_mm": 600.0, "offset_mm": 100.0}
        quiet = crisp_cadence.evaluate(build(sides=sides))
        pushed = crisp_cadence.evaluate(build(sides=sides, aim__push_n=200.0))
        ratio = value(pushed, "force.push") / value(quiet, "force.accelerate")
        # a tenth of a percent: the belt is set tauter for the push, and hangs less
        assert value(pushed, "sides.yaw") == pytest.approx(ratio * value(quiet, "sides.yaw"), rel=2e-3)

    def test_the_far_side_takes_its_real_share_with_ringing(self) -> None:
        """By hand: half the load and what its place adds, e/W, times the peak of a sudden force."""
        sides = {"kind": "cross shaft", "width_mm": 600.0, "offset_mm": 100.0}
        report = crisp_cadence.evaluate(build(sides=sides))
        ringing = 1 + math.exp(-math.pi * 0.05 / math.sqrt(1 - 0.05**2))
        inertia = value(report, "force.belt_inertia")
        whole = inertia * ringing + value(report, "force.drag")
        assert value(report, "sides.twist") == pytest.approx(
            whole * (0.5 + 100.0 / 600.0) / value(report, "sides.at_carriage")
        )


class TestWithoutPower:
    """Two motors counted the guide's drag twice, and each was asked for its worst share of the weight."""

    HANGS: ClassVar = {"aim__slope_deg": 90.0, "chain__0__detent_torque_nm": 0.02}

    def test_each_motor_holds_and_the_guide_drags_once(self) -> None:
        one = crisp_cadence.evaluate(build(**self.HANGS))
        two = crisp_cadence.evaluate(build(**self.HANGS, sides={"kind": "two motors"}))
        drag = value(one, "force.drag")
        assert value(two, "force.drag") == drag
        held = value(one, "unpowered.capacity") - drag
        assert value(two, "unpowered.capacity") == pytest.approx(2 * held + drag)
        assert rung(two, "unpowered").demand == pytest.approx(value(two, "force.weight"))

    @pytest.mark.parametrize(
        ("detent", "drag", "says", "ratio_above"),
        [(0.5, 5.0, False, 1.0), (0.0001, 50.0, True, 1.0), (0.0001, 1.0, False, 0.0)],
    )
    def test_it_stays_stays_by_friction_only_or_falls(
        self, detent: float, drag: float, says: bool, ratio_above: float
    ) -> None:
        report = crisp_cadence.evaluate(
            build(aim__slope_deg=90.0, chain__0__detent_torque_nm=detent, guide__drag_n=drag)
        )
        assert any("friction of its guide alone" in n.says for n in report.notes) == says
        ratio = rung(report, "unpowered").ratio
        assert ratio is not None
        assert (ratio >= 1.0) == (ratio_above == 1.0)


class TestSagAtStandingCurrent:
    """A load held sagged as if the driver pushed its full current while the axis stands."""

    @pytest.mark.parametrize("idle", [100.0, 50.0, 20.0])
    def test_it_gives_by_the_field_of_the_standing_current(self, idle: float) -> None:
        """By hand: springs in series, the field in proportion to the current."""
        report = crisp_cadence.evaluate(build(aim__hold_n=40.0, chain__0__driver__idle_percent=idle))
        k, field = value(report, "stiffness.min"), value(report, "field.at_carriage")
        assert value(report, "error.sag") == pytest.approx(40.0 * (1 / k + (100 / idle - 1) / field))

    def test_with_no_current_at_all_it_is_not_known_and_with_nothing_held_it_is_none(self) -> None:
        held = crisp_cadence.evaluate(build(aim__hold_n=40.0, chain__0__driver__idle_percent=0.0))
        assert rung(held, "sag").verdict == "unknown"
        assert rung(held, "torque_hold").verdict == "short"
        free = crisp_cadence.evaluate(build(chain__0__driver__idle_percent=0.0))
        assert rung(free, "sag").verdict == "no demand"

    def test_two_motors_stand_side_by_side(self) -> None:
        report = crisp_cadence.evaluate(
            build(aim__hold_n=40.0, chain__0__driver__idle_percent=50.0, sides={"kind": "two motors"})
        )
        k, field = value(report, "stiffness.min"), value(report, "field.at_carriage")
        assert value(report, "error.sag") == pytest.approx(40.0 * (1 / k + 1 / field / 2))
