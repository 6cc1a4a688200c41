"""Search the drawer in the browser: search, brush, pin three, lay them side by side, take one, undo."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect
from running import Running


def test_the_short_axis_is_searched_and_a_drive_taken(
    page: Page, demo: Running, axes: dict[str, str], tmp_path: Path
) -> None:
    page.goto(f"{demo.url}/axis/{axes['Pass']}/drive")
    expect(page.locator('[data-rung="speed"]')).to_have_attribute("data-verdict", "short")
    panel = page.locator("[data-search]")
    panel.get_by_label("one closed belt", exact=True).uncheck()
    panel.get_by_role("button", name="Search", exact=True).click()
    says = panel.locator("[data-search-says]")
    expect(says).to_contain_text(re.compile(r"Tried [\d,]+; [\d,]+ hold, \d+ of them are beaten by no other"))
    expect(panel.locator("[data-rejected]").first).to_be_visible()
    rows = panel.locator("[data-found]")
    count = rows.count()
    assert count > 5
    # brush: drag over the left half of the plot, then click to see all again
    plot = panel.locator("[data-brush]")
    plot.scroll_into_view_if_needed()
    box = plot.bounding_box()
    assert box
    page.mouse.move(box["x"] + 20, box["y"] + 4)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.45, box["y"] + box["height"] - 10, steps=5)
    page.mouse.up()
    expect(rows).not_to_have_count(count)
    assert 0 < rows.count() < count
    page.mouse.click(box["x"] + box["width"] * 0.5, box["y"] + 8)
    expect(rows).to_have_count(count)
    # filter by words
    words = panel.get_by_label("Only drives with these words")
    words.fill("gearbox")
    expect(panel.locator("[data-found]:not(:has-text('gearbox'))")).to_have_count(0)
    words.fill("")
    expect(rows).to_have_count(count)
    # pin three, the last by its key
    for i in range(2):
        rows.nth(i).get_by_role("button", name=re.compile("^Pin")).click()
    rows.nth(2).press("p")
    expect(panel.locator("[data-pins] thead th")).to_have_count(4)
    expect(panel.locator("[data-pins]")).to_contain_text("Speed it reaches")
    # take one: the axis holds, and one undo brings the old drive back
    rows.first.press("Enter")
    expect(page.locator('[data-rung="speed"]')).to_have_attribute("data-verdict", "holds")
    expect(page.locator('[data-rung][data-verdict="short"]:not(:has-text("advice"))')).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator('[data-rung="speed"]')).to_have_attribute("data-verdict", "short")


def test_the_short_axis_is_mended_by_the_cheapest_change(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    """One change: the demo's short axis, the cheapest change that it proposes, taken; everything holds, and
    one undo brings it back.
    """
    page.goto(f"{demo.url}/axis/{axes['Pass']}/drive")
    expect(page.locator('[data-rung="speed"]')).to_have_attribute("data-verdict", "short")
    choose = page.locator("[data-choose]")
    choose.get_by_role("tab", name="One change").click()
    mend = choose.locator("[data-mend]")
    expect(mend).to_contain_text("Raise the supply voltage", timeout=20_000)
    expect(mend).to_contain_text("To pay: nothing")
    expect(choose.locator("[data-change]").first).to_contain_text("holds")
    # what a change does to every other target
    row = choose.locator('[data-change="Take a larger drive pulley"]')
    row.get_by_role("button", name=re.compile("up, .* down")).click()
    expect(choose.locator("[data-effects]")).to_contain_text("Speed it can reach")
    # all of one kind
    choose.get_by_label("Show").select_option(label="Raise the supply voltage (4)")
    expect(choose.locator("[data-change]")).to_have_count(4)
    mend.get_by_role("button", name="Take it").click()
    expect(page.locator('[data-rung="speed"]')).to_have_attribute("data-verdict", "holds")
    expect(page.locator('[data-rung][data-verdict="short"]:not(:has-text("advice"))')).to_have_count(0)
    expect(page.locator('[data-rung][data-verdict="tight"]')).to_have_count(0)
    expect(choose.locator("[data-changes-says]")).to_contain_text("The axis holds as it is", timeout=20_000)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator('[data-rung="speed"]')).to_have_attribute("data-verdict", "short")


def test_from_an_aim_to_an_axis(page: Page, own_demo: Running) -> None:
    """Proposals from Aim alone; one is taken, everything holds also after a reload, undo brings the old back."""
    axis = next(a["id"] for m in own_demo.ask("/shelf") for a in m["axes"] if a["name"] == "Pass")
    page.goto(f"{own_demo.url}/axis/{axis}/aim")
    speed = page.locator('[data-rung="speed"]')
    expect(speed).to_have_attribute("data-verdict", "short")
    panel = page.locator("[data-propose]")
    panel.get_by_role("button", name="Propose", exact=True).press("Enter")
    plain = panel.locator('[data-proposal="plainest"]')
    expect(plain).to_contain_text("still to spend", timeout=30_000)
    expect(plain).to_contain_text("The fewest and commonest parts")
    plain.get_by_role("button", name="Take the plainest").press("Enter")
    expect(speed).to_have_attribute("data-verdict", "holds")
    expect(page.locator('[data-rung][data-verdict="short"]:not(:has-text("advice"))')).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(speed).to_have_attribute("data-verdict", "short")
    page.get_by_role("button", name="Redo").click()
    expect(speed).to_have_attribute("data-verdict", "holds")
    expect(page.locator("[data-save=saved]")).to_be_visible()
    page.reload()
    expect(speed).to_have_attribute("data-verdict", "holds")


def test_a_plan_for_three_faults_is_taken_as_one_step(page: Page, own_demo: Running) -> None:
    """Voltage, belt ends and rail are short at once: one plan mends them, one undo brings them back."""
    axis = next(a["id"] for m in own_demo.ask("/shelf") for a in m["axes"] if a["name"] == "Pass")
    known = own_demo.ask(f"/axes/{axis}")
    design = known["design"]
    design["guide"]["rail_mm"] = 600.0
    design["end"]["clamp"] |= {"kind": "zip tie", "engaged_teeth": 5}
    own_demo.ask(f"/axes/{axis}", {"base_version": known["version"], "design": design}, "PUT")
    page.goto(f"{own_demo.url}/axis/{axis}/drive")
    short = page.locator('[data-rung][data-verdict="short"]:not(:has-text("advice"))')
    expect(short).not_to_have_count(0)
    choose = page.locator("[data-choose]")
    choose.get_by_role("tab", name="One change").click()
    mend = choose.locator("[data-mend]")
    expect(choose.locator("[data-changes-says]")).to_contain_text("The cheapest plan", timeout=30_000)
    expect(mend.locator("[data-step]")).to_have_count(3)
    expect(mend.locator('[data-step="Set rail length"]')).to_contain_text("766 mm")
    mend.get_by_role("button", name="Take it").click()
    expect(short).to_have_count(0)
    page.reload()
    expect(page.locator('[data-rung="travel"]')).to_have_attribute("data-verdict", "holds")
    expect(short).to_have_count(0)


def test_how_far_it_goes_and_the_nearest_value_that_mends(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    """Slower than asked it holds; the rung that is short tells the voltage that mends it; both are taken, and
    undone.
    """
    page.goto(f"{demo.url}/axis/{axes['Pass']}/drive")
    speed = page.locator('[data-rung="speed"]')
    expect(speed).to_have_attribute("data-verdict", "short")
    choose = page.locator("[data-choose]")
    choose.get_by_role("tab", name="How far").click()
    row = choose.locator('[data-aim="aim.speed_mm_s"]')
    expect(row).to_contain_text("900 mm/s")
    expect(row).to_contain_text("Speed it can reach")
    expect(choose.locator('[data-aim="aim.travel_mm"]')).to_contain_text("is short whatever this is")
    row.get_by_role("button", name=re.compile("^Ask for")).click()
    expect(speed).to_have_attribute("data-verdict", "holds")
    expect(page.locator('[data-rung][data-verdict="short"]:not(:has-text("advice"))')).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(speed).to_have_attribute("data-verdict", "short")
    speed.get_by_role("button").first.click()
    mend = speed.locator("[data-mends]")
    expect(mend).to_contain_text("Supply voltage: 12 → 24 V")
    mend.get_by_role("button", name="Take: Supply voltage, 24 V").click()
    expect(speed).to_have_attribute("data-verdict", "holds")
    page.get_by_role("button", name="Undo").click()
    expect(speed).to_have_attribute("data-verdict", "short")


def test_other_ways_side_by_side_and_one_taken(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Pass']}/drive")
    choose = page.locator("[data-choose]")
    choose.get_by_role("tab", name="Other ways").click()
    expect(choose.locator("[data-way]")).to_have_count(6, timeout=30_000)
    verdicts = {
        w.get_attribute("data-way"): w.get_attribute("data-verdict")
        for w in choose.locator("[data-way]").all()
    }
    assert verdicts["now"] == "short"
    assert verdicts["rack"] == "holds"
    assert verdicts["screw"] == "short", "a trapezoidal screw does not run at 900 mm/s"
    expect(choose.locator("[data-ways]")).to_contain_text("Whirl of the screw")
    choose.get_by_role("button", name="Take Rack and pinion").click()
    expect(page.locator('[data-rung="speed"]')).to_have_attribute("data-verdict", "holds")
    expect(page.get_by_text("Error at a rack joint")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator('[data-rung="speed"]')).to_have_attribute("data-verdict", "short")


def test_why_not_this_one(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Pass']}/drive")
    choose = page.locator("[data-choose]")
    choose.get_by_role("tab", name="Why not").click()
    choose.get_by_label("Belt and pulley").select_option("MXL, 3.2 mm, 15 teeth")
    choose.get_by_role("button", name="Why not this one?").click()
    answer = choose.locator("[data-why-answer]")
    expect(answer).to_contain_text("short")
    expect(answer.locator('[data-fails="cord"]')).to_contain_text("A wider belt")
    choose.get_by_label("Motor, supply and current").select_option(label="Stepper NEMA 34 × 150, 12 V, 6 A")
    choose.get_by_role("button", name="Why not this one?").click()
    expect(answer).to_contain_text("cannot be built")
    expect(answer).to_contain_text("end.pulley.hub_mm")


def test_a_long_search_shows_how_far_it_is_and_stops(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/drive")
    panel = page.locator("[data-search]")
    panel.get_by_label("two closed belts").check()
    panel.get_by_role("button", name="Search", exact=True).click()
    expect(panel.get_by_role("status")).to_contain_text("of the combinations tried")
    expect(panel.locator("[role=progressbar]")).not_to_have_attribute("value", "0")
    panel.get_by_role("button", name="Stop").click()
    expect(panel.get_by_role("button", name="Search", exact=True)).to_be_enabled()
    expect(panel.get_by_role("alert")).to_have_count(0)


def test_what_is_not_searched_says_why(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Hoist']}/drive")
    panel = page.locator("[data-search]")
    panel.get_by_role("button", name="Search", exact=True).click()
    expect(panel.get_by_role("alert")).to_contain_text("only steppers are put together")


def test_a_screw_is_searched_as_it_stands(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Board']}/drive")
    panel = page.locator("[data-search]")
    panel.get_by_role("button", name="Search", exact=True).click()
    row = panel.locator("tbody tr").first
    expect(row).to_be_visible(timeout=20_000)
    expect(panel).to_contain_text("The end stays as it is.")


def test_a_drawer_file_with_bad_rows_is_mended_and_taken_in(
    page: Page, own_demo: Running, tmp_path: Path
) -> None:
    file = tmp_path / "parts.csv"
    file.write_text(
        "kind,name,quantity,price,thickness_mm,diameter_mm\nwasher,Brass "
        "washer,twelve,0.1,0.7,5\nwasher,Fibre washer,4,0.05,1.2,5\n",
        encoding="utf-8",
    )
    page.goto(f"{own_demo.url}/drawer")
    page.locator("input[type=file]").set_input_files(file)
    seen = page.locator("[data-preview]")
    expect(seen.locator("[data-trouble-row='2']")).to_contain_text("is not a whole number")
    expect(seen.get_by_role("button", name="Take it in")).to_be_disabled()
    mend = seen.get_by_label("The file; mend it here")
    mend.fill(mend.input_value().replace("twelve", "12"))
    seen.get_by_role("button", name="Look again").click()
    expect(seen).to_contain_text("2 new, 0 changed")
    seen.get_by_role("button", name="Take it in").click()
    expect(seen).to_have_count(0)
    page.get_by_label("Search").fill("washer")
    expect(page.get_by_text("Brass washer")).to_be_visible()
    expect(page.get_by_label("How many Fibre washer")).to_have_value("4")
    with page.expect_download() as got:
        page.get_by_role("link", name="Take it out as CSV").click()
    assert "Brass washer" in Path(got.value.path()).read_text(encoding="utf-8")


def test_a_motor_of_unknown_make_is_put_in_the_drawer(page: Page, own_demo: Running) -> None:
    page.goto(f"{own_demo.url}/drawer")
    page.get_by_role("button", name="A motor of unknown make").click()
    sheet = page.locator("[data-unknown]")
    sheet.get_by_label("Length of the body").fill("400")
    sheet.get_by_role("button", name="What may it be?").click()
    expect(sheet.get_by_role("alert")).to_contain_text("is far from any NEMA 17 motor")
    sheet.get_by_label("Length of the body").fill("48")
    sheet.get_by_label("Ohms across one coil").fill("1.8")
    sheet.get_by_role("button", name="What may it be?").click()
    expect(sheet.locator('[data-range="hold_torque_nm"]')).to_contain_text("N·m")
    sheet.get_by_role("button", name="Put it in the drawer").click()
    expect(sheet).to_have_count(0)
    page.get_by_label("Search").fill("Unknown NEMA 17 × 48")
    expect(page.get_by_label("How many Unknown NEMA 17 × 48, 1.8 Ω, 4 wires")).to_have_value("1")
