"""The Belt step as makers use it: drag a pulley, choose a stock belt, run out of thread and mend it, bring an
idler into line.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Callable, Iterator
from pathlib import Path

import ezdxf
import pytest
from playwright.sync_api import Locator, Page, expect
from running import Running, program

from browsing import field, settled

Shown = Callable[[str], float]


@pytest.fixture(scope="module")
def shop(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[Running, dict[str, str]]]:
    with program(tmp_path_factory.mktemp("belt") / "demo", "demo") as running:
        yield running, {a["name"]: a["id"] for m in running.ask("/shelf") for a in m["axes"]}


def open_belt(page: Page, shop: tuple[Running, dict[str, str]], axis: str) -> None:
    running, axes = shop
    page.goto(f"{running.url}/axis/{axes[axis]}/belt")
    expect(page.locator("[data-path-drawing]").first).to_be_visible()
    expect(page.locator("[data-belt]").first).to_be_visible()


def drag(page: Page, wheel: Locator, dx: float, dy: float, steps: int = 6) -> None:
    box = wheel.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(1, steps + 1):
        page.mouse.move(x + dx * i / steps, y + dy * i / steps)
    expect(page.locator("[data-path-drawing]").first).not_to_have_attribute("data-drawn", "")
    page.mouse.up()
    expect(page.locator("[data-path-drawing]").first).to_have_attribute("data-drawn", "")


def test_a_pulley_is_dragged_and_everything_follows(
    page: Page, shop: tuple[Running, dict[str, str]], shown: Shown
) -> None:
    open_belt(page, shop, "Aisle")
    before, cut = shown("loop.change"), shown("belt.cut")
    assert before == pytest.approx(0, abs=1e-9)
    row = page.locator('[data-row="end.idler"] td').nth(3)
    drag(page, page.locator('[data-wheel="end.idler"]'), 26, 0)
    settled(page)
    offset = (
        float(page.locator('[data-path="end.idler_offset_mm"]').first.input_value())
        if page.locator('[data-path="end.idler_offset_mm"]').count()
        else 0.0
    )
    expect(row).not_to_have_text("1813")
    assert shown("belt.cut") > cut
    page.get_by_role("button", name="Undo").click()
    expect(row).to_have_text("1813")
    settled(page)
    assert shown("belt.cut") == cut
    assert offset == 0.0 or offset > 28
    # by keys: ten steps of a millimetre, one undo step each way
    wheel = page.locator('[data-wheel="end.idler"]')
    wheel.focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(row).to_have_text("1816")
    expect(wheel).to_be_focused()


def test_a_roller_is_added_dragged_into_the_pulley_and_refused_there(
    page: Page, shop: tuple[Running, dict[str, str]]
) -> None:
    open_belt(page, shop, "Lift")
    page.get_by_role("button", name="Add a roller").click()
    roller = page.locator('[data-wheel="end.rollers.0"]')
    expect(roller).to_be_visible()
    expect(page.locator('[data-row="end.rollers.0"]')).to_contain_text("back")
    settled(page)
    x = page.locator('[data-path="end.rollers.0.x_mm"]')
    placed = x.input_value()
    pulley, here = page.locator('[data-wheel="end.pulley"]').bounding_box(), roller.bounding_box()
    assert pulley
    assert here
    drag(page, roller, pulley["x"] - here["x"] + 4, pulley["y"] - here["y"])
    trouble = page.locator("[data-trouble]")
    expect(trouble).to_contain_text("overlaps with the drive pulley")
    expect(trouble).to_contain_text("It stays where it was")
    expect(x).to_have_value(placed)
    # typed there instead: the whole design is refused at that pulley, and what was typed stays
    x.fill("0")
    field(page, "end.rollers.0.y_mm").fill("0")
    expect(page.get_by_role("alert").filter(has_text="overlaps with the drive pulley").first).to_be_visible()
    x.fill(placed)
    page.keyboard.press("Control+z")
    page.get_by_role("button", name="Take it out").click()
    expect(page.locator('[data-wheel="end.rollers.0"]')).to_have_count(0)


def test_a_stock_belt_is_chosen_for_a_wanted_distance(
    page: Page, shop: tuple[Running, dict[str, str]], shown: Shown
) -> None:
    open_belt(page, shop, "Long way")
    closed = page.locator('[data-closed="chain.1"]')
    field(page, "chain.1.wanted_mm").fill("142")
    expect(closed.locator("[data-reach]")).to_contain_text("No stock length reaches 142.0 mm within the slot")
    field(page, "chain.1.wanted_mm").fill("15 cm")
    expect(closed.locator("[data-reach]")).to_have_text("1 stock length within the slot of 5 mm.")
    closed.get_by_role("button", name="Take 130 teeth").click()
    expect(closed.locator('[data-stock="130"]')).to_contain_text("taken")
    assert shown("chain.1.centre") == pytest.approx(149.7, abs=0.01)
    closed.get_by_role("button", name=re.compile(r"^Take 18 to 36 with")).first.click()
    page.locator('[data-row="chain.1.driver"] button').click()
    expect(page.locator('[data-path="chain.1.driver.teeth"]')).to_have_value("18")


def test_the_thread_runs_out_and_is_mended(page: Page, shop: tuple[Running, dict[str, str]]) -> None:
    open_belt(page, shop, "Reach")
    field(page, "end.tensioner.screw_length_mm").fill("16")
    rung = page.locator('[data-rung="tensioner"]')
    expect(rung).to_have_attribute("data-verdict", "short")
    says = page.locator("[data-tensioner-says]")
    expect(says).to_contain_text("It runs out: the thread ends at 3.0 mm")
    page.get_by_role("button", name=re.compile("^Mend it")).click()
    expect(rung).to_have_attribute("data-verdict", "holds")
    expect(says).to_contain_text("to spare")
    assert float(page.locator('[data-path="end.tensioner.screw_length_mm"]').input_value()) >= 20
    expect(page.locator("[data-screw]")).to_contain_text("Then lock it")


def test_an_idler_two_washers_too_low_is_lifted_from_the_drawer(
    page: Page, shop: tuple[Running, dict[str, str]]
) -> None:
    open_belt(page, shop, "Aisle")
    row = page.locator('[data-line-row="end.idler"]')
    row.locator('[data-path="end.idler.seat_mm"]').fill("16")
    expect(page.locator('[data-rung="line"]')).to_have_attribute("data-verdict", "short")
    expect(row).to_contain_text("2.00 mm too low with 4 pieces")
    row.get_by_role("button", name="Bring the idler into line").click()
    expect(row.locator("[data-off]")).to_have_attribute("data-off", "0")
    expect(row).to_contain_text("in line")
    expect(page.locator('[data-rung="line"]')).not_to_have_attribute("data-verdict", "short")
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Build").click()
    expect(page.locator("[data-bill]").filter(has_text="Washer M5")).to_contain_text("3")


def test_measured_beats_drawn_and_what_was_cut_is_named(
    page: Page, shop: tuple[Running, dict[str, str]], shown: Shown
) -> None:
    open_belt(page, shop, "Pass")
    cut = shown("belt.cut")
    page.get_by_role("button", name="I have cut it: remember this length").click()
    expect(page.locator('[data-made="belt.cut"]')).to_contain_text("as the design has it")
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Aim").click()
    rail = page.locator('[data-path="guide.rail_mm"]')
    drawn = rail.input_value()
    rail.focus()
    page.get_by_role("button", name="Enter the measured rail").click()
    page.locator('[data-measured="guide.rail_mm"]').fill("32in")
    expect(page.get_by_text(re.compile(r"counts instead of what is drawn"))).to_be_visible()
    expect(rail).to_have_value(drawn)
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Belt").click()
    settled(page)
    assert shown("belt.cut") != cut
    expect(page.locator("[data-misfits], [data-made='belt.cut']").first).to_contain_text(
        re.compile("too short|longer than needed")
    )
    page.get_by_role("button", name="forget").click()
    expect(page.locator('[data-made="belt.cut"]')).to_have_count(0)


def test_a_piece_is_taken_off_its_roll(page: Page, shop: tuple[Running, dict[str, str]]) -> None:
    open_belt(page, shop, "Lift")
    expect(page.locator("[data-packing]")).to_have_text("From the drawer, nothing to buy.")
    page.get_by_role("button", name="Take it off the roll").click()
    expect(page.get_by_text(re.compile(r"^Offcut of round-g-3"))).to_be_visible()
    page.goto(f"{shop[0].url}/drawer")
    page.get_by_label("Search").fill("Offcut")
    expect(page.get_by_text(re.compile(r"^Offcut of round-g-3, 9 mm wide"))).to_be_visible()


def test_bores_say_what_to_do_and_fixings_what_they_hold(
    page: Page, shop: tuple[Running, dict[str, str]]
) -> None:
    open_belt(page, shop, "Loader")
    fit = page.locator('[data-fit="end.pulley"]')
    page.get_by_role("button", name="drive pulley", exact=True).first.click()
    field(page, "end.pulley.bore_mm").fill("5")
    expect(fit.locator("[data-fit-verdict]")).to_have_text("ream")
    fit.get_by_role("button", name=re.compile("^It will be")).click()
    expect(fit.locator("[data-fit-verdict]")).to_have_text("slides on")
    fit.get_by_role("button", name="Drive pulley: clamp").click()
    expect(fit.locator("tr[data-on=true]")).to_contain_text("clamp")
    expect(page.locator('[data-rung="grip"]')).to_have_attribute(
        "data-verdict", re.compile("holds|tight|short")
    )


def test_files_go_out_and_sheets_are_full_size(
    page: Page, shop: tuple[Running, dict[str, str]], shown: Shown
) -> None:
    open_belt(page, shop, "Probe")
    free = shown("belt.free")
    with page.expect_download() as got:
        page.get_by_role("button", name=re.compile("^Belt path.* as DXF")).click()
    doc = ezdxf.read(io.StringIO(Path(got.value.path()).read_text(encoding="utf-8")))
    lines = sum(e.dxf.start.distance(e.dxf.end) for e in doc.modelspace().query('LINE[layer=="BELT"]'))
    assert lines == pytest.approx(free, rel=0.05)
    with page.expect_download() as got:
        page.get_by_role("button", name="Cut list as CSV").click()
    rows = list(csv.DictReader(io.StringIO(Path(got.value.path()).read_text(encoding="utf-8"))))
    assert float(rows[0]["length mm"]) == shown("belt.cut")
    page.get_by_role("link", name=re.compile("^Belt path.* to print at full size")).click()
    sheet = page.get_by_role("img", name=re.compile("^Sheet 1 of"))
    expect(sheet).to_be_visible()
    assert sheet.evaluate("e => e.naturalWidth > 0 && e.complete")
    box = sheet.bounding_box()
    assert box
    assert box["width"] == pytest.approx(297 / 25.4 * 96, abs=3), "as wide as the paper"
    page.get_by_label("Paper").select_option("letter")
    expect(page.get_by_role("img", name=re.compile("^Sheet 1 of"))).to_be_visible()


@pytest.mark.parametrize(
    ("axis", "belts", "sections"),
    [
        ("Aisle", 1, ["tension", "line", "brackets", "bores"]), ("Probe", 1, ["tension", "line", "brackets", "bores"]), ("Head", 2, ["tension", "line", "brackets", "bores"]),
        ("Long way", 2, ["tension", "closed", "line", "brackets", "bores"]), ("Loader", 1, ["tension", "line", "brackets", "bores"]),
        ("Slab feed", 1, ["closed", "line", "brackets", "bores"]), ("Spray arm", 1, ["closed", "line", "brackets", "bores"]), ("Wheels", 1, ["closed", "line", "brackets", "bores"]),
        ("Potter's wheel", 2, ["line", "brackets", "bores"]),
    ],
)  # fmt: skip
def test_every_layout_that_has_a_belt_has_the_whole_step(
    page: Page, shop: tuple[Running, dict[str, str]], axis: str, belts: int, sections: list[str]
) -> None:
    open_belt(page, shop, axis)
    expect(page.locator("[data-belt]")).to_have_count(belts)
    for name in ("path", "length", *sections, "running", "out"):
        expect(page.locator(f"#sec-{name}")).to_be_attached()
    expect(page.locator("[data-line-row]").first).to_be_attached()
    expect(
        page.get_by_role("button", name=re.compile("^Belt path|^Belt path, closed")).first
    ).to_be_attached()
    # dragging what can be dragged is answered with a drawing or a reason, never with an error
    held = page.locator("[data-path-drawing] [data-held]").first
    held.scroll_into_view_if_needed()
    was = page.evaluate("document.querySelector('[data-path-drawing]').outerHTML")
    drag(page, held, 18, -6)
    settled(page)
    now = page.evaluate("document.querySelector('[data-path-drawing]').outerHTML")
    assert was != now or page.locator("[data-trouble]").count() == 1
    running, axes = shop
    saved = running.ask(f"/axes/{axes[axis]}")
    assert json.dumps(saved["design"])
