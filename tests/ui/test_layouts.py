"""Every layout from Aim to Log in a real browser, begun by hand from the chooser, with numbers checked
against the trade's formulas.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from running import Running, program

from browsing import begin, field, finish, step

Shown = Callable[[str], float]
MOTOR = {
    "chain.0.resistance_ohm": "1.6", "chain.0.inductance_mh": "3.2", "chain.0.rotor_inertia_gcm2": "102", "chain.0.detent_torque_nm": "0.03",
    "chain.0.hold_torque_nm": "0.65", "chain.0.rated_current_a": "2.1", "chain.0.driver.current_a": "2.1",
}  # fmt: skip
TURNING = {"chain.0.inertia_gcm2": "200", "chain.0.detent_torque_nm": "0.5"}


@pytest.fixture(scope="module")
def bench(tmp_path_factory: pytest.TempPathFactory) -> object:
    with program(tmp_path_factory.mktemp("layouts")) as running:
        running.ask("/machines", {"name": "Bench"})
        yield running


def enter(page: Page, fields: dict[str, str]) -> None:
    for path, text in fields.items():
        field(page, path).fill(text)


def test_carriage_loop(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "carriage_loop", "Loop")
    step(page, "Drive")
    enter(page, MOTOR)
    assert shown("steps_per_mm") == pytest.approx(80)
    finish(page, "Loop", 5)


def test_riding_motor(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "riding_motor", "Rider")
    step(page, "Drive")
    enter(page, MOTOR)
    enter(page, {"chain.0.mass_kg": "380 g"})
    page.get_by_role("tab", name="Carriage").click()
    expect(page.locator('[data-result="mass.total"]').first).to_be_visible()
    assert shown("mass.total") > 0.5 + 0.38
    step(page, "Belt")
    assert shown("pulley.wrap") > math.pi / 2
    step(page, "Drive")
    finish(page, "Rider", 5)


def test_gantry(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "gantry", "Gantry")
    assert shown("sides.share") == pytest.approx(0.5 + 100 / 600)
    step(page, "Drive")
    enter(page, MOTOR)
    expect(page.locator("[data-rung=yaw]")).to_be_visible()
    step(page, "Aim")
    field(page, "sides.kind").select_option("cross shaft")
    expect(page.locator("[data-rung=twist]")).to_be_visible()
    # a steel shaft of 8 mm over 600 mm, felt at a pulley of 20 teeth of 2 mm, under the share of one side with
    # ringing
    k = 79e3 * math.pi * 8**4 / 32 / 600 / (20 / math.pi) ** 2
    expect(page.locator("[data-save]")).to_have_attribute("data-save", "saved")
    saved = bench.ask(f"/axes/{page.url.split('/axis/')[1].split('/')[0]}")["design"]
    known = {q["key"]: q["value"] for q in bench.ask("/evaluate", saved)["results"]}
    whole = known["force.belt_inertia"] * known["ringing.factor"] + known["force.drag"]
    assert shown("sides.twist") == pytest.approx(whole * (0.5 + 100 / 600) / k)
    field(page, "sides.kind").select_option("one driven")
    expect(page.locator("[data-rung=jam]")).to_have_attribute(
        "data-ratio", re.compile(r"^8\.33")
    )  # b/µ = 5000 mm with wheels that roll, against 600 mm
    assert shown("sides.pull") == pytest.approx((1 + 2 * 0.02 * 100 / 100) / (1 - 0.02 * 600 / 100))
    field(page, "sides.kind").select_option("two motors")
    step(page, "Drive")
    finish(page, "Gantry", 5)


def test_belt_reduction(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "belt_reduction", "Reduced")
    step(page, "Drive")
    enter(page, MOTOR)
    assert shown("steps_per_mm") == pytest.approx(3200 * 3 / 48)
    step(page, "Belt")
    # 20 and 60 teeth of 2 mm, a belt of 140 teeth: the exact length must come out
    c, r1, r2 = shown("chain.1.centre"), 20 / math.pi, 60 / math.pi
    phi = math.asin((r2 - r1) / c)
    assert 2 * c * math.cos(phi) + math.pi * (r1 + r2) + 2 * phi * (r2 - r1) == pytest.approx(280.0, abs=1e-6)
    field(page, "chain.1.belt_teeth").fill("60")
    expect(page.get_by_role("alert").filter(has_text="the two pulleys would collide").first).to_be_visible()
    field(page, "chain.1.belt_teeth").fill("150")
    expect(page.get_by_text("Not worked out")).to_have_count(0)
    step(page, "Drive")
    finish(page, "Reduced", 6)


def test_gearbox(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "gearbox", "Geared")
    step(page, "Drive")
    enter(page, MOTOR)
    assert shown("steps_per_mm") == pytest.approx(3200 * 5 / 48)
    finish(page, "Geared", 6)


def test_crossed_belts(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "crossed_belts", "Crossed")
    step(page, "Drive")
    enter(page, MOTOR)
    expect(page.locator("[data-cases] tr")).to_have_count(3)
    page.get_by_role("tab", name="Pulley").click()
    assert shown("pulley.pitch_diameter") == pytest.approx(48 / math.pi)
    step(page, "Belt")
    field(page, "end.form").select_option("one belt, H")
    expect(page.locator("[data-rung=rack]")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.locator("[data-rung=rack]")).to_have_count(0)
    step(page, "Drive")
    finish(page, "Crossed", 5)


def test_screw(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "screw", "Screw")
    step(page, "Drive")
    enter(page, MOTOR)
    assert shown("steps_per_mm") == pytest.approx(3200 / 2)
    page.get_by_role("tab", name="Screw").click()
    alpha, rho = math.atan(2 / math.pi / 7), math.atan(0.15 / math.cos(math.radians(15)))
    assert shown("screw.efficiency") == pytest.approx(math.tan(alpha) / math.tan(alpha + rho))
    field(page, "end.length_mm").fill("5000")
    expect(page.get_by_role("alert").filter(has_text="too thin for its length").first).to_be_visible()
    field(page, "end.length_mm").fill("720")
    finish(page, "Screw", 4)


def test_power_feed(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "power_feed", "Feed")
    step(page, "Drive")
    enter(page, TURNING)
    rows = page.locator('[data-table="feed"] tbody tr')
    expect(rows.last).to_contain_text("320")  # 160 rpm over 2 : 1 on a lead of 4 mm: 320 mm/min
    assert shown("motor.pull_out_push") <= 6 * 0.33
    finish(page, "Feed", 5)


def test_joint(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "joint", "Arm")
    step(page, "Drive")
    enter(page, MOTOR)
    page.get_by_role("tab", name="Arm").click()
    assert shown("joint.torque") == pytest.approx(9.80665 * (0.3 + 0.3 * 0.5) * 0.3)
    assert shown("joint.resolution") == pytest.approx(360 / 3200 / 5 / 3)
    finish(page, "Arm", 5)


def test_wheel(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "wheel", "Cart")
    enter(page, {"aim.slope_deg": "2"})
    step(page, "Drive")
    enter(page, {**TURNING, "chain.0.stall_torque_nm": "12"})
    page.get_by_role("tab", name="Wheels").click()
    slope = math.radians(2)
    assert shown("wheel.grip") == pytest.approx(0.5 * 8.3 * 9.80665 * math.cos(slope) * 0.6)
    finish(page, "Cart", 4)


def test_drum(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "drum", "Winch")
    step(page, "Drive")
    enter(page, TURNING)
    expect(page.locator('[data-table="layers"]')).to_be_visible()
    page.get_by_role("tab", name="Drum").click()
    layers = page.locator('[data-table="layers"] tbody tr').count()
    assert shown("drum.radius") in (
        pytest.approx(21.5),
        pytest.approx(21.5 + (layers - 1) * 3 * math.sqrt(3) / 2),
    )
    finish(page, "Winch", 5)


def column(page: Page, table: str, nth: int) -> list[str]:
    """A column of one of the tables of the step."""
    rows = page.locator(f'[data-table="{table}"] tbody tr')
    expect(rows.first).to_be_visible()
    return [row.locator("td").nth(nth).inner_text() for row in rows.all()]


def speeds_become(page: Page, wanted: list[float], nth: int = 0) -> None:
    """Waits until a column of the table of speeds says so."""
    near = pytest.approx(sorted(wanted), rel=0.01)
    for _ in range(100):
        if sorted(float(x) for x in column(page, "speeds", nth)) == near:
            return
        page.wait_for_timeout(100)
    assert sorted(float(x) for x in column(page, "speeds", nth)) == near


def test_spindle(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "spindle", "Wheel head")
    # In Aim: speeds in rpm, and what the work asks at one of them.
    expect(page.locator('[data-path="aim.travel_mm"]')).to_have_count(0)
    assert (shown("spindle.low"), shown("spindle.high")) == pytest.approx((60, 240), rel=0.01)
    page.get_by_role("button", name="Add a speed").click()
    enter(page, {"end.cuts.0.rpm": "60", "end.cuts.0.torque_nm": "6"})
    step(page, "Drive")
    expect(page.locator('[data-table="speeds"] tbody tr')).to_have_count(4)
    speeds_become(page, [60 * 4 ** (i / 3) for i in range(4)])
    # 6 N·m and the drag on the cone's largest pulley, at the lowest speed alone
    driven = float(column(page, "speeds", 5)[0])
    step(page, "Belt")
    pulls = [float(x) for x in column(page, "cone_belt", 3)]
    assert pulls[0] == pytest.approx((6 + 0.12) * 2000 / driven, rel=1e-3)
    assert max(pulls[1:]) < pulls[0] / 2

    # Speeds wanted give cones; a range too wide keeps its table and says which speeds can be had.
    step(page, "Aim")
    field(page, "end.high_rpm").fill("900")
    step(page, "Drive")
    expect(page.locator("[data-rung=served]")).to_be_visible()
    assert [x == "served" for x in column(page, "speeds", 8)] == [False, False, True, True]
    step(page, "Aim")
    field(page, "end.high_rpm").fill("9000")
    expect(page.get_by_text("cannot serve any step").first).to_be_visible()
    field(page, "end.high_rpm").fill("240")
    expect(page.get_by_text("Not worked out")).to_have_count(0)

    # The solved cones kept as drawn, and then one pair changed: speeds come out of diameters.
    step(page, "Drive")
    page.get_by_role("tab", name="Cones and belts").click()
    page.get_by_role("button", name="Keep these diameters as drawn").click()
    expect(field(page, "end.motor_pairs.1.driver_mm")).to_be_visible()
    enter(
        page,
        {
            "end.motor_pairs.0.driver_mm": "60", "end.motor_pairs.0.driven_mm": "180",
            "end.motor_pairs.1.driver_mm": "100", "end.motor_pairs.1.driven_mm": "150",
            "end.cone_pairs.0.driver_mm": "60", "end.cone_pairs.0.driven_mm": "180",
            "end.cone_pairs.1.driver_mm": "90", "end.cone_pairs.1.driven_mm": "160",
        },
    )  # fmt: skip
    wanted = sorted(700 * 0.985**2 * a * b for a in (1 / 3, 2 / 3) for b in (1 / 3, 90 / 160))
    speeds_become(page, wanted)
    # The middle pulley's own speeds
    speeds_become(page, [700 * 0.985 / i for i in (3, 1.5, 3, 1.5)], 6)

    # A thicker section carries more, and bends round larger pulleys only.
    step(page, "Belt")
    before = float(column(page, "cone_belt", 5)[3])
    field(page, "end.section").select_option("A")
    expect(page.locator("[data-rung=motor_belt_least]")).to_have_attribute("data-verdict", "short")
    assert float(column(page, "cone_belt", 5)[3]) > 1.5 * before
    field(page, "end.section").select_option("Z")
    expect(page.locator("[data-rung=motor_belt_least]")).to_have_attribute("data-verdict", "holds")

    # Both belts' tension at the lowest speed, on Belt and in Build alike.
    both = [float(column(page, f"{belt}_belt", 6)[0]) for belt in ("motor", "cone")]
    step(page, "Build")
    for newtons in both:
        expect(page.locator('[data-work="tension"]')).to_contain_text(f"{newtons:.0f} N")
    page.reload()
    step(page, "Drive")
    speeds_become(page, wanted)
    finish(page, "Wheel head", 4)


def test_rack(page: Page, bench: Running, shown: Shown) -> None:
    begin(page, bench, "rack", "Shutter")
    step(page, "Drive")
    enter(page, MOTOR)
    page.get_by_role("tab", name="Pinion and rack").click()
    assert shown("pinion.radius") == pytest.approx(10)
    assert shown("pinion.force") == pytest.approx(25 * 10 * 1 * 0.322)
    finish(page, "Shutter", 4)


def test_another_layout_can_be_taken_and_undone(page: Page, bench: Running) -> None:
    begin(page, bench, "carriage_loop", "Undecided")
    page.get_by_role("button", name="Change it").click()
    page.locator('[data-card="rack"]').click()
    page.get_by_role("button", name="Take this layout").click()
    expect(page.get_by_text("rack and pinion")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("carriage loop", exact=True)).to_be_visible()


def test_axes_ride_on_axes(page: Page, bench: Running) -> None:
    machine = bench.ask("/machines", {"name": "Two axes"})["id"]
    low, high = (
        bench.ask(f"/machines/{machine}/axes", {"name": n, "layout": k})["id"]
        for n, k in (("Low", "carriage_loop"), ("High", "riding_motor"))
    )
    page.goto(f"{bench.url}/axis/{high}/aim")
    page.get_by_label("This axis rides on").select_option("Low")
    expect(page.get_by_label("This axis rides on")).to_have_value(low)
    page.goto(f"{bench.url}/axis/{low}/aim")
    expect(page.get_by_text("High 0.9 kg")).to_be_visible()
    expect(page.locator('[data-result="mass.tally"]').first).to_have_attribute("data-value", "1.4")


def test_the_worst_head_governs_and_each_is_shown(page: Page, bench: Running) -> None:
    begin(page, bench, "carriage_loop", "Heads")
    page.get_by_text("Heads, one at a time").click()
    for i, kg in enumerate(("0.4", "3")):
        page.get_by_role("button", name="Add a head").click()
        enter(page, {f"heads.{i}.mass_kg": kg})
    expect(page.locator("[data-rung=pull]")).to_contain_text("Head 2")
    step(page, "Drive")
    expect(page.locator("[data-cases] tr")).to_have_count(2)


def test_a_motor_of_the_wrong_kind_is_refused_by_name(page: Page, bench: Running, tmp_path: Path) -> None:
    begin(page, bench, "carriage_loop", "Wrong")
    step(page, "Drive")
    page.get_by_label("Kind of motor").select_option("induction")
    expect(page.get_by_text("does not know where it stands").first).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Not worked out")).to_have_count(0)
    assert not list(tmp_path.iterdir())
