"""Rungs that were never asked: current and heat of a winding, bends of a belt's back, set screws, inch threads."""

from __future__ import annotations

import math
from typing import Any

import pytest

import crisp_cadence
from conftest import build
from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.evaluation.columns import columns
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fields.axis import RAILS, Stand
from crisp_cadence.core.fields.screws import COARSE, of_size
from crisp_cadence.core.fitting.plan import plan_belts
from crisp_cadence.core.formulas.prices import rounded
from helpers import rung, value

PROFILES = catalog.profiles()
DESIGNS = demo.designs()


def of(design: AxisDesign, changes: dict[str, Any]) -> Report:
    return evaluate(changed(design, changes), PROFILES)


# ---- current -----------------------------------------------------------------------------------------------


def test_current_beyond_the_rating_brings_no_torque_and_is_short() -> None:
    rated, hot = (
        crisp_cadence.evaluate(build(chain__0__driver__current_a=amps, chain__0__rated_current_a=1.5))
        for amps in (1.5, 3.0)
    )
    assert value(hot, "motor.torque_now") == value(rated, "motor.torque_now")
    assert value(hot, "motor.reach") == value(rated, "motor.reach")
    found = rung(hot, "current")
    assert (found.demand, found.capacity, found.verdict) == (pytest.approx(3.0), 1.5, "short")
    assert found.field == "chain.0.driver.current_a"
    assert not any(r.key == "current" for r in rated.ladder), "what is met says nothing of headroom"
    peak = crisp_cadence.evaluate(
        build(
            chain__0__driver={"supply_v": 24.0, "current_a": 2.0, "current_is": "peak"},
            chain__0__rated_current_a=1.5,
        )
    )
    assert not any(r.key == "current" for r in peak.ladder)


def test_heat_grows_with_the_square_of_the_current() -> None:
    report = crisp_cadence.evaluate(
        build(chain__0__driver__current_a=1.5, chain__0__driver__idle_percent=50.0)
    )
    assert value(report, "motor.heat") == pytest.approx(2 * 1.5**2 * 1.5)
    assert value(report, "motor.heat_standing") == pytest.approx(value(report, "motor.heat") / 4)


def test_a_screw_that_cannot_be_driven_backwards_feeds_nothing_into_its_driver() -> None:
    board = of(DESIGNS["clay-printer-board"], {})
    assert value(board, "motor.generated") == 0
    steep = of(DESIGNS["clay-printer-board"], {"end.starts": 4, "end.friction": 0.02})
    assert value(steep, "motor.generated") > 10


# ---- bends -------------------------------------------------------------------------------------------------

RIDING = begin("riding_motor", "Riding")


@pytest.mark.parametrize(("profile", "least"), [("t5", 30.0), ("at5", 60.0), ("t10", 60.0), ("at10", 120.0)])
def test_steel_cord_wants_large_rollers_on_its_back(profile: str, least: float) -> None:
    """Least rollers on the back, makers' tables, from memory."""
    belt = {"profile": profile, "cord": "steel", "width_mm": 16.0}
    report = of(
        RIDING,
        {
            "end.belt": belt,
            "end.idler.diameter_mm": least - 1,
            "end.idler_spread_mm": 400.0,
            "end.belt_beyond_mm": 400.0,
            "end.pulley_rise_mm": 200.0,
            "end.pulley.teeth": 25,
        },
    )
    assert (rung(report, "back_bend").demand, rung(report, "back_bend").verdict) == (least, "short")
    assert not any(r.key == "bend" for r in report.ladder), "none of its rollers bends it the usual way"
    assert rung(report, "back_teeth").verdict == "holds"
    few = of(
        RIDING,
        {
            "end.belt": belt,
            "end.idler.diameter_mm": least,
            "end.idler_spread_mm": 400.0,
            "end.belt_beyond_mm": 400.0,
            "end.pulley_rise_mm": 200.0,
            "end.pulley.teeth": 15,
        },
    )
    assert rung(few, "back_bend").verdict == "holds"
    assert rung(few, "back_teeth").demand == PROFILES[profile].back_teeth
    assert (rung(few, "back_teeth").verdict == "short") == (PROFILES[profile].back_teeth > 15)


def test_glass_cord_keeps_the_usual_rule() -> None:
    report = of(DESIGNS["drying-shelves-probe"], {})
    assert rung(report, "bend").demand == pytest.approx(1.3 * 14 * 2 / math.pi)
    assert not any(r.key in ("back_bend", "back_teeth") for r in report.ladder)


# ---- screws ------------------------------------------------------------------------------------------------


def test_set_screws_on_a_round_shaft_hold_a_third_at_most() -> None:
    flat, round_ = (
        of(DESIGNS["seed-shuttle-aisle"], {"end.pulley.fixing.kind": f"set screw on {form}"})
        for form in ("flat", "round")
    )
    rating = 1700.0 * 6.35 / 2 * 2 / 1000
    assert value(flat, "hub.grip") == pytest.approx(2 * rating)
    assert rating / 4 < value(round_, "hub.grip") < rating / 3
    assert any("not to be trusted" in n.says for n in round_.notes)


@pytest.mark.parametrize(
    ("inch", "name", "per_inch"),
    [
        (0.112, "#4-40", 40),
        (0.138, "#6-32", 32),
        (0.164, "#8-32", 32),
        (0.19, "#10-24", 24),
        (0.25, "1/4-20", 20),
        (0.3125, "5/16-18", 18),
        (0.375, "3/8-16", 16),
        (0.5, "1/2-13", 13),
    ],
)
def test_inch_threads_have_their_name_and_pitch(inch: float, name: str, per_inch: int) -> None:
    """ASME B1.1, coarse series."""
    found = of_size(COARSE, round(inch * 25.4, 2))
    assert found is not None
    assert (found.name, found.pitch_mm) == (name, pytest.approx(25.4 / per_inch))


def test_an_inch_screw_turns_drills_and_is_in_the_list() -> None:
    aisle = DESIGNS["seed-shuttle-aisle"]
    coarse = of(aisle, {"end.tensioner.screw_mm": 6.35})
    metric = of(aisle, {"end.tensioner.screw_mm": 6.0})
    assert value(coarse, "tensioner.turn") / value(metric, "tensioner.turn") == pytest.approx(1.27)
    assert value(coarse, "tensioner.tap") == pytest.approx(5.08)
    fine = of(aisle, {"end.tensioner.screw_mm": 6.35, "end.tensioner.pitch_mm": 25.4 / 28})
    assert value(fine, "tensioner.turn") / value(coarse, "tensioner.turn") == pytest.approx(20 / 28)
    plan = plan_belts(changed(aisle, {"end.tensioner.screw_mm": 6.35}), PROFILES, catalog.stock())
    assert plan.tensioner is not None
    assert plan.tensioner.screw == "Socket head screw 1/4-20 × 1 in"
    held = of(aisle, {"end.pulley.fixing.screw_mm": 6.35, "end.idler_mount.bolt_mm": 6.35})
    assert value(held, "hub.grip") == pytest.approx(4448.0 * 6.35 / 2 * 2 * 2 / 1000)
    assert value(held, "idler_mount.grip") == pytest.approx(2 * 5500.0 * 0.15)


# ---- what sits on a shaft ----------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("kind", "form", "trusted"),
    [
        ("set screw on flat", "flat", True),
        ("set screw on flat", "round", False),
        ("set screw on round", "flat", False),
        ("key", "key", True),
        ("key", "flat", False),
        ("clamp", "round", True),
    ],
)
def test_a_fixing_that_the_shaft_does_not_suit_is_tight_at_best(kind: str, form: str, trusted: bool) -> None:
    """However little is asked of it."""
    report = of(
        DESIGNS["seed-shuttle-aisle"],
        {
            "end.pulley.fixing.kind": kind,
            "end.pulley.fixing.screws": 6,
            "chain.0.shaft_form": form,
            "aim.acceleration_mm_s2": 50.0,
            "aim.push_n": 0.0,
        },
    )
    grip = rung(report, "grip")
    assert grip.ratio is not None
    assert grip.ratio > grip.margin
    assert grip.verdict == ("holds" if trusted else "tight")
    assert (grip.headroom or 0) < 1 or trusted
    assert any("not to be trusted" in n.says or "no keyway" in n.says for n in report.notes) != trusted


def test_a_set_screw_meant_for_a_flat_sits_on_the_round_where_there_is_none() -> None:
    flat, bare, said = (
        value(of(DESIGNS["seed-shuttle-aisle"], changes), "hub.grip")
        for changes in (
            {"chain.0.shaft_form": "flat"},
            {"chain.0.shaft_form": "round"},
            {"chain.0.shaft_form": "round", "end.pulley.fixing.kind": "set screw on round"},
        )
    )
    assert bare == said == pytest.approx(flat * 0.3 / 2)


def test_a_search_takes_no_motor_whose_shaft_its_pulley_does_not_suit() -> None:
    """Of two motors that differ by their shaft alone, in columns as one by one."""
    design = changed(DESIGNS["seed-shuttle-aisle"], {"aim.acceleration_mm_s2": 300.0})
    found = columns(design, PROFILES, {"forms": {"chain.0.shaft_form": ["flat", "round"]}})
    alone = [of(design, {"chain.0.shaft_form": form}) for form in ("flat", "round")]
    assert found.headroom("grip").ravel().tolist() == pytest.approx([rung(r, "grip").headroom for r in alone])


@pytest.mark.parametrize("made_of", ["aluminium", "steel", "printed"])
def test_a_press_fit_is_judged_by_its_hub_and_when_warm(made_of: str) -> None:
    design = changed(
        DESIGNS["seed-shuttle-aisle"],
        {
            "end.pulley.fixing.kind": "press fit",
            "end.pulley.made_of": made_of,
            "end.pulley.fixing.interference_mm": 0.02,
        },
    )
    report = evaluate(design, PROFILES)
    shaft = value(report, "hub.bore") + 0.02
    assert shaft == pytest.approx(design.chain[0].shaft_mm)
    assert any("Never press or hammer it onto a motor" in n.says for n in report.notes)
    assert value(report, "hub.hoop") > value(report, "hub.pressed")
    grown = {"aluminium": 23.1e-6, "steel": 11.7e-6, "printed": 70e-6}[made_of] - 11.7e-6
    assert value(report, "hub.warm") == pytest.approx(max(0.02 - shaft * grown * 40, 0))
    tight = rung(of(design, {"end.pulley.fixing.interference_mm": 0.18}), "grip_hub")
    loose = rung(report, "grip_hub")
    assert tight.demand == pytest.approx(9 * (loose.demand or 0))
    assert tight.verdict == "short"


def test_a_key_in_a_printed_hub_holds_a_sixth_of_one_in_aluminium() -> None:
    metal, plastic = (
        value(
            of(
                DESIGNS["seed-shuttle-aisle"],
                {"end.pulley.fixing.kind": "key", "chain.0.shaft_form": "key", "end.pulley.made_of": made_of},
            ),
            "hub.grip",
        )
        for made_of in ("aluminium", "printed")
    )
    assert plastic == pytest.approx(metal / 6)


# ---- the supply, the rotor and its ringing -----------------------------------------------------------------


def test_power_drawn_is_what_the_motor_gives_and_what_becomes_heat() -> None:
    report = evaluate(DESIGNS["seed-shuttle-aisle"], PROFILES)
    gives = value(report, "chain.0.torque_accelerate") * value(report, "motor.speed_top")
    heat = value(report, "motor.heat") + value(report, "driver.heat")
    assert value(report, "supply.power") == pytest.approx(gives + heat)
    driver = DESIGNS["seed-shuttle-aisle"].chain[0].driver
    assert value(report, "supply.current") == pytest.approx(value(report, "supply.power") / driver.supply_v)
    assert value(report, "driver.heat") == pytest.approx(2 * value(report, "motor.current_rms") ** 2 * 0.3)


def test_a_supply_is_judged_by_what_it_gives() -> None:
    name, field = "seed-shuttle-aisle", "chain.0.driver.supply_a"
    assert not any(r.key == "supply" for r in evaluate(DESIGNS[name], PROFILES).ladder)
    small, large = (rung(of(DESIGNS[name], {field: amps}), "supply") for amps in (0.3, 5.0))
    assert (small.verdict, large.verdict) == ("short", "holds")
    assert small.field == field


def test_a_stop_feeds_back_what_the_windings_do_not_burn() -> None:
    """A heavy, quick axis; the same by hand: half m·v², less drag over the way, less heat over the time."""
    fast = {
        "aim.speed_mm_s": 3000.0,
        "aim.acceleration_mm_s2": 6000.0,
        "moving.0.mass_kg": 6.0,
        "chain.0.driver.supply_uf": 1000.0,
        "chain.0.driver.most_v": 45.0,
    }
    report = of(DESIGNS["seed-shuttle-aisle"], fast)
    mass, drag = value(report, "mass.moved"), value(report, "force.drag")
    energy = mass * 9 / 2 - drag * 9 / 12 - value(report, "motor.heat") * 0.5
    assert energy > 0
    assert value(report, "supply.fed_back") == pytest.approx(energy)
    raised = math.sqrt(DESIGNS["seed-shuttle-aisle"].chain[0].driver.supply_v ** 2 + 2 * energy / 1e-3)
    found = rung(report, "braking")
    assert found.demand == pytest.approx(raised)
    assert found.verdict == "short"
    gentle = of(DESIGNS["seed-shuttle-aisle"], {**fast, "aim.speed_mm_s": 300.0})
    assert value(gentle, "supply.fed_back") == 0
    assert rung(gentle, "braking").verdict == "holds"


def test_a_light_rotor_under_a_heavy_load_is_advised_against() -> None:
    report = of(DESIGNS["seed-shuttle-aisle"], {"moving.0.mass_kg": 20.0})
    found = rung(report, "inertia_ratio")
    assert found.demand == pytest.approx(value(report, "mass.total") / value(report, "motor.mass"), rel=1e-9)
    assert (found.verdict, found.advisory) == ("short", True)


def test_speeds_that_excite_the_ringing_stand_one_two_and_four_to_one() -> None:
    report = evaluate(DESIGNS["glaze-bench-pass"], PROFILES)
    table = next(t for t in report.tables if t.key == "rings")
    assert table.step == "shake"
    for row, mode in zip(table.rows, ("mode.low", "mode.high"), strict=True):
        _, hertz, full, twice, once = row
        assert hertz == value(report, mode)
        # At that speed 200 full steps a turn come as fast as it rings.
        turns = float(full) * value(report, "motor.lam") / (2 * math.pi)  # type: ignore[arg-type]
        assert turns * 200 == pytest.approx(hertz)
        assert (twice, once) == pytest.approx((2 * float(full), 4 * float(full)))  # type: ignore[arg-type]
    assert table.rows[0][2] == pytest.approx(value(report, "mode.speed"))
    assert not any(t.key == "rings" for t in evaluate(DESIGNS["kiln-room-hoist"], PROFILES).tables)


# ---- teeth in their pulley ---------------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["seed-shuttle-aisle", "drying-shelves-probe", "slip-writer-reach"])
def test_teeth_in_the_drive_pulley_give_in_series(name: str) -> None:
    """Compliance of the softest place with and without them."""
    design = DESIGNS[name]
    report, rigid = (of(design, {"assumptions.mesh_give_mm": give}) for give in (0.07, 1e-6))
    added = 1 / value(report, "stiffness.min") - 1 / value(rigid, "stiffness.min")
    assert added == pytest.approx(1 / value(report, "mesh.at_carriage"), rel=1e-4)
    # 0.07 mm at the pull that the teeth are rated for, standing
    rated = value(report, "mesh.rated")
    turn = value(report, "end.lam") * value(report, "pulley.radius")
    assert value(report, "mesh.at_carriage") == pytest.approx(rated / 0.07 * turn**2)
    assert any(s.part == "teeth" for s in report.shares)


def test_teeth_of_a_closed_belt_give_on_both_pulleys() -> None:
    design = DESIGNS["clay-printer-long-way"]
    report, rigid = (of(design, {"assumptions.mesh_give_mm": give}) for give in (0.07, 1e-6))
    radius = value(report, "chain.1.driven.radius")
    added = 1 / value(report, "chain.1.torsion") - 1 / value(rigid, "chain.1.torsion")
    rated = value(
        report, "chain.1.pull_still" if has(report, "chain.1.pull_still") else "chain.1.pull_capacity"
    )
    assert added == pytest.approx(1000 * 2 * 0.07 / rated / radius**2, rel=1e-4)


def test_a_wider_belt_stiffens_the_mesh_as_its_rating_grows() -> None:
    design = DESIGNS["slip-writer-reach"]
    plain, wide = (of(design, {"end.belt.width_mm": mm}) for mm in (6.0, 15.0))
    grown = value(wide, "mesh.at_carriage") / value(plain, "mesh.at_carriage")
    assert grown == pytest.approx(2.5**1.14)


def has(report: Report, key: str) -> bool:
    return any(q.key == key for q in report.results)


# ---- without power -----------------------------------------------------------------------------------------


def test_a_counterweight_takes_its_weight_off_and_moves_too() -> None:
    design = DESIGNS["seed-shuttle-lift"]
    plain, held = (of(design, {"aim.counterweight_kg": kg}) for kg in (None, 1.0))
    assert value(held, "mass.total") == pytest.approx(value(plain, "mass.total") + 1)
    weight = value(plain, "force.weight")
    assert value(held, "force.balanced") == pytest.approx(abs(weight - 9.80665))
    assert value(held, "force.hold") == pytest.approx(abs(weight - 9.80665))
    assert (rung(held, "unpowered").headroom or 0) > (rung(plain, "unpowered").headroom or 0)
    # One that is too heavy pulls it up: what is left counts whichever way it pulls.
    over = of(design, {"aim.counterweight_kg": 2 * weight / 9.80665})
    assert value(over, "force.balanced") == pytest.approx(weight)


def test_a_brake_holds_beside_the_detent() -> None:
    design = DESIGNS["seed-shuttle-lift"]
    plain, braked = (of(design, {"aim.brake_n": newtons}) for newtons in (None, 100.0))
    assert (rung(braked, "unpowered").capacity or 0) == pytest.approx(
        (rung(plain, "unpowered").capacity or 0) + 100
    )
    assert rung(braked, "unpowered").verdict == "holds"
    # What to buy: so much torque on the motor's shaft, F = T·λ, and what such a brake costs as a rule.
    torque = 100 / (value(braked, "motor.lam") * 1000)
    assert value(braked, "brake.torque") == pytest.approx(torque)
    line = next(b for b in braked.bill if b.what == "Brake")
    assert line.typical
    assert line.price_each == rounded(30 + 5 * torque)
    assert not [b for b in plain.bill if b.what == "Brake"]
    own = of(design, {"aim.brake_n": 100.0, "aim.brake.price": 21.0})
    assert next(b for b in own.bill if b.what == "Brake").total == 21.0


def test_without_power_it_runs_on_until_drag_and_detent_have_its_energy() -> None:
    report = evaluate(DESIGNS["seed-shuttle-aisle"], PROFILES)
    mass = value(report, "mass.total") + value(report, "motor.mass")
    speed = DESIGNS["seed-shuttle-aisle"].aim.speed_mm_s / 1000
    assert value(report, "stop.energy") == pytest.approx(mass * speed**2 / 2)
    assert value(report, "stop.overrun") == pytest.approx(
        1000 * value(report, "stop.energy") / value(report, "unpowered.capacity")
    )


@pytest.mark.parametrize("key", LAYOUTS)
def test_a_new_axis_lacks_nothing_that_is_typical_of_its_kind(key: str) -> None:
    report = evaluate(begin(key, "Axis"), PROFILES)
    assert [r.key for r in report.ladder if r.verdict == "unknown"] == []
    # An arm falls without power, which no proposal can hide.
    short = [r.key for r in report.ladder if r.verdict in ("short", "tight") and not r.advisory]
    assert short == (["unpowered"] if key == "joint" else [])


def test_the_demo_lacks_nothing_that_the_catalogue_could_know() -> None:
    lacking = {
        name: [r.key for r in evaluate(design, PROFILES).ladder if r.verdict == "unknown"]
        for name, design in DESIGNS.items()
    }
    assert {name: keys for name, keys in lacking.items() if keys} == {}


# ---- rail and stand ----------------------------------------------------------------------------------------


def test_a_rail_sags_by_its_section_and_by_how_it_stands() -> None:
    design = changed(DESIGNS["seed-shuttle-aisle"], {"stand.rail_span_mm": 800.0})

    def sag(**fields: object) -> float:
        return value(of(design, {f"stand.{name}": x for name, x in fields.items()}), "rail.sag")

    plain = sag()
    assert sag(rail_supports="overhung") == pytest.approx(plain * 16)
    assert sag(rail_supports="several supports") == pytest.approx(plain * 48 / 66.7)
    assert sag(rail_second_moment_mm4=RAILS["20 × 40 upright"]) == pytest.approx(plain * 7 / 46)
    carried = Stand.model_fields["rail_section"].json_schema_extra
    assert isinstance(carried, dict)
    assert carried["carries"]["40 × 40"] == {"rail_second_moment_mm4": RAILS["40 × 40"]}  # type: ignore[index, call-overload]


def test_a_stand_tips_over_its_foot_though_nobody_measured_how_far() -> None:
    """The middle of the travel over the middle of the foot, where nothing is entered."""
    design = changed(DESIGNS["seed-shuttle-aisle"], {"stand.stand_kg": 3.0, "stand.foot_mm": 200.0})
    report = evaluate(design, PROFILES)
    beyond = (value(report, "travel.usable") - 200) / 2
    assert value(report, "stand.beyond") == pytest.approx(beyond)
    entered = of(design, {"stand.beyond_mm": beyond})
    assert rung(report, "tip").ratio == pytest.approx(rung(entered, "tip").ratio)
    assert not any(r.key == "tip" for r in of(design, {"stand.foot_mm": 5000.0}).ladder)
    assert not any(r.key == "tip" for r in of(design, {"stand.beyond_mm": 0.0}).ladder)


def test_a_nut_is_judged_by_the_pressure_on_its_flanks() -> None:
    """A nut of POM, 12 mm on 8 × 2: mean diameter 7 mm, flanks 1 mm deep, six turns of them."""
    design = changed(DESIGNS["clay-printer-board"], {"end.form": "trapezoidal", "end.nut_of": "POM"})
    report = evaluate(design, PROFILES)
    d, p = design.end.diameter_mm, design.end.pitch_mm
    area = math.pi * (d - p / 2) * (p / 2) * (1.5 * d / p)
    assert rung(report, "nut").demand == pytest.approx(value(report, "force.worst") / area)
    assert rung(report, "nut").capacity == 5.0
    assert rung(of(design, {"end.nut_of": "bronze"}), "nut").capacity == 10.0
    assert rung(of(design, {"end.nut_mm": 4.0}), "nut").demand == pytest.approx(
        (rung(report, "nut").demand or 0) * 1.5 * d / 4
    )
    assert rung(of(design, {"aim.push_n": 3000.0}), "nut").verdict == "short"
    assert not any(r.key == "nut" for r in of(design, {"end.form": "ball"}).ladder)


# ---- what breaks, tips, lifts or wears ---------------------------------------------------------------------


def test_a_thin_printed_bracket_that_stays_square_when_stiff_breaks_for_good() -> None:
    """F_plate = σ·b·t²/6l, F_tips = n·F_b·e/l; both end the band of the tension."""
    plate = {"kind": "plate", "material": "PLA", "thickness_mm": 6.0, "width_mm": 30.0, "overhang_mm": 40.0}
    found = crisp_cadence.evaluate(build(end__motor_mount=plate, end__belt__tension_n=40.0))
    strength = rung(found, "motor_mount_strength")
    assert strength.capacity == pytest.approx(15.0 * 30 * 36 / (6 * 40))
    assert strength.verdict == "short"
    assert strength.field == "end.motor_mount.thickness_mm"
    metal = crisp_cadence.evaluate(
        build(end__motor_mount={**plate, "material": "aluminium"}, end__belt__tension_n=40.0)
    )
    assert rung(metal, "motor_mount_strength").verdict == "holds"
    assert value(found, "tension.high") < value(metal, "tension.high")


def test_inserts_in_plastic_let_a_bracket_tip_that_nuts_hold() -> None:
    plate = {"kind": "plate", "bolt_mm": 3.0, "bolts": 1, "overhang_mm": 60.0, "lever_mm": 8.0}
    nuts = crisp_cadence.evaluate(build(end__motor_mount=plate, end__belt__tension_n=40.0))
    inserts = crisp_cadence.evaluate(
        build(end__motor_mount={**plate, "bolts_into": "inserts in plastic"}, end__belt__tension_n=40.0)
    )
    assert rung(nuts, "motor_mount_tips").capacity == pytest.approx(1700 * 8 / 60)
    assert rung(inserts, "motor_mount_tips").capacity == pytest.approx(250 * 8 / 60)
    assert rung(inserts, "motor_mount_tips").verdict == "short"
    assert any("One bolt holds" in n.says for n in nuts.notes)
    odd = crisp_cadence.evaluate(build(end__motor_mount={**plate, "bolt_mm": 7.0}))
    assert rung(odd, "motor_mount_tips").verdict == "unknown"


def test_a_thin_shaft_far_from_its_bearing_breaks_as_it_turns() -> None:
    near, far = (
        crisp_cadence.evaluate(build(end__pulley__overhang_mm=mm, end__belt__tension_n=40.0))
        for mm in (8.0, 40.0)
    )
    assert rung(near, "shaft_bending").verdict == "holds"
    bends = rung(far, "shaft_bending")
    assert bends.verdict == "short"
    assert bends.capacity == pytest.approx(180 * math.pi * 5**3 / (32 * 50))
    # Twice the load that its maker allows for 20 000 hours leaves an eighth of them.
    load, life = rung(far, "shaft_load"), rung(far, "shaft_life")
    assert load.capacity is not None
    assert load.demand is not None
    assert life.capacity == pytest.approx(20_000 * (load.capacity / load.demand) ** 3)
    assert life.advisory


def test_few_teeth_ripple_and_a_slack_belt_has_the_play_of_its_teeth() -> None:
    report = crisp_cadence.evaluate(build(end__pulley__teeth=14))
    r = value(report, "pulley.pitch_diameter") / 2
    assert rung(report, "chordal").demand == pytest.approx(r * (math.pi / 14 - math.sin(math.pi / 14)))
    taut = crisp_cadence.evaluate(build(end__belt__tension_n=60.0))
    slack = crisp_cadence.evaluate(build(end__belt__tension_n=1.0))
    assert rung(taut, "teeth_play").verdict == "no demand"
    assert rung(slack, "teeth_play").demand == pytest.approx(0.02 * 2)


def test_teeth_of_a_closed_belt_ripple_and_play_where_it_moves_the_load() -> None:
    arm = DESIGNS["spray-booth-spray-arm"]
    at, belt = next((f"chain.{i}", stage) for i, stage in enumerate(arm.chain) if stage.kind == "closed_belt")
    report = of(arm, {})
    radii = [value(report, f"{at}.{n}.pitch_diameter") / 2 for n in ("driver", "driven")]
    teeth = (belt.driver.teeth, belt.driven.teeth)
    chords = sum(r * math.pi / z - r * math.sin(math.pi / z) for r, z in zip(radii, teeth, strict=True))
    # The belt stage is the arm's last: what turns the driven pulley by an angle moves the tip by arm times it.
    off = chords / radii[1] * arm.end.length_mm
    assert rung(report, f"{at}.chordal").demand == pytest.approx(off, rel=1e-9)
    slack = of(arm, {f"{at}.belt.tension_n": 1.0})
    assert rung(slack, f"{at}.teeth_play").demand == pytest.approx(
        2 * 0.06 / radii[1] * arm.end.length_mm, rel=0.01
    )
    taut = of(arm, {f"{at}.belt.tension_n": 300.0})
    assert rung(taut, f"{at}.teeth_play").verdict == "no demand"


def test_a_motor_of_another_frame_does_not_bolt_to_a_gearbox() -> None:
    loop = DESIGNS["seed-shuttle-aisle"]
    box = {"kind": "gearbox", "ratio": 5.0, "shaft_mm": 8.0, "shaft_form": "flat", "radial_limit_n": 300.0}
    chain = [loop.chain[0].model_dump(mode="json"), box]
    assert loop.chain[0].frame == "NEMA 23"
    for fits, verdict in (
        ("any", "no demand"),
        ("NEMA 23", "no demand"),
        ("NEMA 17", "short"),
        ("NEMA 24", "short"),
    ):
        report = of(loop, {"chain": [chain[0], {**box, "fits": fits}]})
        assert rung(report, "chain.1.flange").verdict == verdict, fits
    assert rung(
        of(loop, {"chain": [chain[0], {**box, "fits": "NEMA 17"}]}), "chain.1.flange"
    ).demand == pytest.approx(47.14 - 31.0)


def test_a_high_belt_lifts_a_wheel_that_is_not_preloaded_for_it() -> None:
    low = crisp_cadence.evaluate(build(stand__height_mm=10.0))
    high = crisp_cadence.evaluate(build(stand__height_mm=400.0))
    assert rung(low, "wheel_play").verdict == "holds"
    assert rung(high, "wheel_play").verdict == "short"
    assert value(high, "wheel.lifts") == pytest.approx(value(high, "wheel.moment") / (60.0 * 4 / 2))
    rails = crisp_cadence.evaluate(build(guide__kind="linear rail"))
    assert not any(r.key == "wheel_play" for r in rails.ladder)


def test_wire_wants_a_larger_drum_than_cord_and_a_rope_without_a_rating_is_estimated() -> None:
    hoist = DESIGNS["kiln-room-hoist"]
    cord = of(hoist, {"end.rope_limit_n": None})
    assert rung(cord, "rope").capacity == pytest.approx(110 * hoist.end.rope_mm**2)
    assert rung(cord, "rope_bend").demand == pytest.approx(8 * hoist.end.rope_mm)
    wire = of(hoist, {"end.rope_gpa": 60.0, "end.rope_limit_n": None})
    assert rung(wire, "rope").capacity == pytest.approx(500 * hoist.end.rope_mm**2)
    assert rung(wire, "rope_bend").verdict == "short"
    thin = of(hoist, {"end.diameter_mm": 10.0, "end.rope_mm": 1.0})
    assert rung(thin, "rope_pressure").verdict == "short"
    assert rung(thin, "rope_pressure").advisory
    metal = of(hoist, {"end.diameter_mm": 10.0, "end.rope_mm": 1.0, "end.made_of": "aluminium"})
    assert rung(metal, "rope_pressure").capacity == 8 * (rung(thin, "rope_pressure").capacity or 0)


def test_cones_slip_on_shafts_that_their_fixing_does_not_suit() -> None:
    wheel = DESIGNS["trimming-bench-potter-s-wheel"]
    keyed = of(wheel, {"end.spindle_shaft_mm": 20.0})
    assert rung(keyed, "motor_cone_grip").verdict == "holds"
    assert rung(keyed, "spindle_cone_grip").verdict == "holds"
    printed = of(
        wheel,
        {
            "end.spindle_shaft_mm": 20.0,
            "end.spindle_shaft_form": "round",
            "end.spindle_cone.made_of": "printed",
            "end.spindle_cone.fixing.kind": "set screw on round",
        },
    )
    assert rung(printed, "spindle_cone_grip").verdict == "short"
    torque = rung(printed, "spindle_cone_grip").demand
    assert torque == pytest.approx(value(printed, "spindle.torque"), rel=1e-9)
    longer = of(wheel, {"end.spindle_thread_mm": 8.0})
    assert rung(longer, "extension").capacity == pytest.approx(35 * math.pi * 6.4664**3 / 16000, rel=1e-4)
    assert any("right-hand" in n.says for n in longer.notes)


def test_the_shaft_before_a_closed_belt_breaks_like_any_other() -> None:
    hoisted = DESIGNS["clay-printer-long-way"]
    at = next(i for i, stage in enumerate(hoisted.chain) if stage.kind == "closed_belt")
    near, far = (of(hoisted, {f"chain.{at}.driver.overhang_mm": mm}) for mm in (10.0, 120.0))
    bends = rung(far, f"chain.{at}.shaft_bending")
    assert rung(near, f"chain.{at}.shaft_bending").verdict == "holds"
    assert bends.capacity == pytest.approx(180 * math.pi * hoisted.chain[0].shaft_mm ** 3 / (32 * 130))
    assert bends.verdict == "short"
