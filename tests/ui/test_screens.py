"""What the screens promise: true numbers, clear refusals, undo, two windows, the keyboard, no sideways
scrolling.
"""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect
from running import Running

from browsing import field, settled, step

STEPS = ("aim", "drive", "belt", "shake", "build", "tune", "log")


# What stands on each step alone: until it does, the step before it is still shown.
HEADINGS = ("How fast, how fine", "Motor", "Path", "What that costs", "Order of work", "Calibrate")


def test_screens_show_the_numbers_of_the_command_line(
    page: Page, demo: Running, axes: dict[str, str], tmp_path: Path
) -> None:
    """`crisp-cadence examples`, `evaluate` on a file, and every figure and rung of the screens: the same
    numbers.
    """
    subprocess.run(
        [sys.executable, "-m", "crisp_cadence.cli", "examples", str(tmp_path / "files")],
        check=True,
        capture_output=True,
    )
    files = ("clay-printer-long-way", "seed-shuttle-aisle", "seed-shuttle-lift", "glaze-bench-pass")
    for name, file in zip(("Long way", "Aisle", "Lift", "Pass"), files, strict=True):
        printed = subprocess.run(
            [sys.executable, "-m", "crisp_cadence.cli", "evaluate", str(tmp_path / "files" / f"{file}.json")],
            check=True,
            capture_output=True,
        )
        report = json.loads(printed.stdout)
        values = {q["key"]: q["value"] for q in report["results"]}
        seen = 0
        page.goto(f"{demo.url}/axis/{axes[name]}/aim")
        expect(page.locator("[data-rung]").first).to_be_visible()
        for place, heading in zip(STEPS[:6], HEADINGS, strict=True):
            step(page, place)
            expect(page.get_by_role("heading", name=re.compile(f"^{heading}")).first).to_be_visible()
            settled(page)
            expect(page.locator("#work [data-result]").first).to_be_visible()
            for key, shown in page.locator("[data-result]").evaluate_all(
                "all => all.map(e => [e.dataset.result, e.dataset.value])"
            ):
                assert (float(shown) if shown else None) == pytest.approx(values[key]), key
                seen += 1
        assert seen > 40
        ratios = dict(
            page.locator("[data-rung]").evaluate_all("all => all.map(e => [e.dataset.rung, e.dataset.ratio])")
        )
        for rung in report["ladder"]:
            shown = ratios[rung["key"]]
            assert (float(shown) if shown else None) == pytest.approx(rung["ratio"]), rung["key"]


def test_no_sideways_scrolling_and_no_cut_figures(page: Page, demo: Running, axes: dict[str, str]) -> None:
    for path in ["/", "/drawer", "/numbers", *[f"/axis/{axes['Lift']}/{s}" for s in STEPS]]:
        page.goto(demo.url + path)
        page.wait_for_load_state("networkidle")
        expect(page.locator("h1, h2").first).to_be_visible()
        assert page.evaluate(
            "document.documentElement.scrollWidth <= document.documentElement.clientWidth"
        ), path
        wide = page.evaluate(
            "[...document.querySelectorAll('main, aside, [data-sheet]')].filter(e => "
            "e.scrollWidth > e.clientWidth + 1).map(e => e.className)"
        )
        assert wide == [], path


def test_the_drive_step_shows_line_drawing_and_ladder_at_once(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    page.goto(f"{demo.url}/axis/{axes['Pass']}/drive")
    for part in (
        page.get_by_role("tablist", name="Drive line"),
        page.get_by_label("Seen from the side, to true scale"),
        page.locator("[data-rung=speed]"),
    ):
        expect(part).to_be_visible()
        box = part.bounding_box()
        assert box is not None
        assert box["y"] + box["height"] <= 800


def test_the_way_out_is_visible_and_can_be_taken_and_undone(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    page.goto(f"{demo.url}/axis/{axes['Pass']}/drive")
    rung = page.locator("[data-rung=speed]")
    expect(rung).to_have_attribute("data-verdict", "short")
    rung.get_by_role("button").first.click()
    expect(rung.get_by_text("Raise the supply voltage: 12 V → 24 V")).to_be_visible()
    rung.get_by_role("button", name="Take it").first.click()
    expect(rung).to_have_attribute("data-verdict", "holds")
    expect(page.locator('[data-path="chain.0.driver.supply_v"]')).to_have_value("24")
    page.get_by_role("button", name="Undo").click()
    expect(rung).to_have_attribute("data-verdict", "short")
    page.keyboard.press("Control+y")
    expect(rung).to_have_attribute("data-verdict", "holds")


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ("300 rpm", "“rpm” is a unit of turning speed"),
        ("-5", "This takes at least 10 mm"),
        ("1e9", "at most 60 000 mm"),
        ("many", "“many” is not a number."),
        ("", "Enter a number."),
    ],
)
def test_bad_input_is_refused_beside_the_field_and_changes_nothing(
    page: Page, demo: Running, axes: dict[str, str], typed: str, says: str
) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/aim")
    rail = page.locator('[data-path="guide.rail_mm"]')
    rail.fill(typed)
    expect(page.get_by_role("alert").filter(has_text=says.replace(" 000", "\u202f000"))).to_be_visible()
    expect(page.get_by_role("alert").filter(has_text="Still 1750 mm")).to_be_visible()
    expect(page.locator('[data-result="travel.usable"]').first).to_have_attribute("data-value", "1550")
    rail.press("Escape")
    expect(rail).to_have_value("1750")


def test_a_rail_that_is_too_short_names_limit_and_remedy_and_keeps_the_last_ladder(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/aim")
    field(page, "guide.rail_mm").fill("150")
    expect(page.get_by_role("alert").filter(has_text="Take a rail of at least 1700 mm")).to_have_count(
        2
    )  # at the field, and on every step
    expect(page.get_by_text("Not worked out")).to_be_visible()
    expect(page.locator("[data-rung=travel]")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Not worked out")).to_have_count(0)


def test_two_windows_keep_both_designs(
    page: Page, browser: Browser, demo: Running, axes: dict[str, str]
) -> None:
    url = f"{demo.url}/axis/{axes['Reach']}/aim"
    other = browser.new_page()
    for window in (page, other):
        window.goto(url)
        expect(window.locator("[data-rung=travel]")).to_be_visible()
    field(page, "aim.error_mm").fill("0.25")
    expect(page.locator("[data-save=saved]")).to_contain_text("rev. 2")
    other.locator('[data-path="aim.error_mm"]').fill("0.2")
    expect(other.get_by_text("Another window has set the same to something else")).to_be_visible()
    assert demo.ask(f"/axes/{axes['Reach']}")["design"]["aim"]["error_mm"] == 0.25
    other.get_by_role("button", name="Keep mine").click()
    expect(other.locator("[data-save=saved]")).to_contain_text("rev. 3")
    assert demo.ask(f"/axes/{axes['Reach']}")["design"]["aim"]["error_mm"] == 0.2
    field(page, "aim.error_mm").fill("0.22")
    page.get_by_role("button", name="Take theirs").click()
    expect(page.locator('[data-path="aim.error_mm"]')).to_have_value("0.2")
    other.close()


def test_a_closed_tab_loses_nothing(
    page: Page, browser: Browser, demo: Running, axes: dict[str, str]
) -> None:
    context = browser.new_context()
    tab = context.new_page()
    tab.goto(f"{demo.url}/axis/{axes['Reach']}/aim")
    expect(tab.locator("[data-rung=travel]")).to_be_visible()
    tab.locator('[data-path="aim.speed_mm_s"]').fill("133")
    tab.close(run_before_unload=True)
    again = context.new_page()
    again.goto(f"{demo.url}/axis/{axes['Reach']}/aim")
    expect(again.locator('[data-path="aim.speed_mm_s"]')).to_have_value("133")
    expect(again.locator("[data-save=saved]")).to_be_visible()
    assert demo.ask(f"/axes/{axes['Reach']}")["design"]["aim"]["speed_mm_s"] == 133
    context.close()


def test_inches_everywhere_and_back(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/aim")
    page.get_by_role("button", name="mm · N").click()
    rail = page.locator('[data-path="guide.rail_mm"]')
    expect(rail).to_have_value("68.8976378")
    rail.fill("70")
    expect(page.locator('[data-result="travel.usable"]').first).to_have_attribute("data-value", "1578")
    page.get_by_role("button", name="in · lbf").click()
    expect(rail).to_have_value("1778")


def test_the_keyboard_does_the_whole_job(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/aim")
    expect(page.locator("[data-rung=travel]")).to_be_visible()
    page.locator("#work").focus()
    page.keyboard.press("2")
    expect(page.get_by_role("tablist", name="Drive line")).to_be_visible()
    page.locator("[data-part=field]").focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator("[data-part=pulley]")).to_be_focused()
    slider = page.get_by_role("slider", name="Carriage along the travel")
    before = slider.get_attribute("aria-valuenow")
    slider.focus()
    page.keyboard.press("End")
    assert slider.get_attribute("aria-valuenow") == "1550" != before
    page.keyboard.press("Control+k")
    search = page.get_by_label("Search commands")
    expect(search).to_be_focused()
    search.fill("tune")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Measure it")).to_be_visible()
    page.locator("#work").focus()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_the_carriage_can_be_dragged(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/drive")
    slider = page.get_by_role("slider", name="Carriage along the travel")
    expect(slider).to_be_visible()
    box = slider.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(1200, box["y"], steps=5)
    page.mouse.up()
    expect(slider).to_have_attribute("aria-valuenow", "1550")


def test_a_rung_opens_to_formula_inputs_source_and_its_field(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/aim")
    rung = page.locator("[data-rung=cord]")
    rung.get_by_role("button").first.click()
    expect(rung.get_by_text("T_cord = t_c·b")).to_be_visible()
    expect(rung.get_by_text("allowed tensions of belt makers' tables")).to_be_visible()
    rung.get_by_role("button", name="Go to width").click()
    expect(page.locator('[data-path="end.belt.width_mm"]')).to_be_focused()


def test_revisions_can_be_returned_to(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Reach']}/aim")
    field(page, "aim.speed_mm_s").fill("99")
    expect(page.locator("[data-save=saved]")).to_contain_text("rev. 2")
    page.keyboard.press("Alt+7")
    page.get_by_role("button", name="Return to revision 1").click()
    expect(page.locator("[data-save=saved]")).to_contain_text("rev. 3")
    assert demo.ask(f"/axes/{axes['Reach']}")["design"]["aim"]["speed_mm_s"] == 150


def test_files_open_and_refuse(page: Page, demo: Running, axes: dict[str, str], tmp_path: Path) -> None:
    page.goto(demo.url)
    page.get_by_role("button", name="Add an axis").first.click()
    future = tmp_path / "future.json"
    future.write_text('{"format": "crisp-cadence/axis", "version": 3}')
    page.get_by_label("Design file").set_input_files(future)
    expect(page.get_by_role("alert")).to_contain_text("was written by a newer version of this program")
    good = tmp_path / "good.json"
    good.write_text(json.dumps({**demo.ask(f"/axes/{axes['Reach']}")["design"], "name": "From a file"}))
    page.get_by_label("Design file").set_input_files(good)
    expect(page.locator('[data-path="name"]')).to_have_value("From a file")


def test_dark_and_light(page: Page, demo: Running) -> None:
    page.goto(demo.url)
    page.get_by_role("button", name="Dark").click()
    dark = page.evaluate("getComputedStyle(document.body).backgroundColor")
    page.get_by_role("button", name="Light").click()
    assert page.evaluate("getComputedStyle(document.body).backgroundColor") != dark
