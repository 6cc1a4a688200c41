"""First steps of a new maker in the browser: from an empty shelf to proposals and a taken one by the keys alone,
the demo beside the own shelf, and a belt that nobody can name.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, Route, expect
from running import Running, program

from browsing import field, settled, step


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[Running]:
    with program(tmp_path / "own", "serve") as running:
        yield running


class Keys:
    """The keyboard alone, with a count of what is done: a field filled in or a key that sets something off is
    one action, and so is going to the next field.
    """

    def __init__(self, page: Page) -> None:
        self.page, self.actions = page, 0

    def fill(self, text: str) -> None:
        """Types into the field that has the focus, over what stands there."""
        self.page.keyboard.press("ControlOrMeta+a")
        self.page.keyboard.type(text)
        self.actions += 1

    def press(self, key: str) -> None:
        self.page.keyboard.press(key)
        self.actions += 1


def stored(running: Running, axis: str) -> dict[str, Any]:
    return dict(running.ask(f"/axes/{axis}")["design"])


def saved(page: Page) -> None:
    settled(page)
    expect(page.locator("[data-save=saved]")).to_be_visible()


def test_from_an_empty_shelf_to_a_taken_proposal_by_the_keys_alone(page: Page, empty: Running) -> None:
    page.goto(empty.url)
    begin = page.get_by_role("button", name="Begin an axis")
    expect(begin).to_be_focused()
    keys = Keys(page)
    keys.press("Enter")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("Name of the axis")).to_be_focused()
    keys.fill("Leaf slide")
    expect(dialog.get_by_label("Travel")).to_be_visible()
    keys.page.keyboard.press("Tab")  # past the machine's name, which stands there
    keys.press("Tab")
    expect(dialog.get_by_label("Travel")).to_be_focused()
    keys.fill("1.2 m")
    keys.press("Tab")
    keys.fill("150")
    keys.press("Enter")
    proposals = page.locator("[data-proposal]")
    expect(proposals).to_have_count(3)
    first = proposals.first
    expect(first.get_by_role("button", name="Take the plainest")).to_be_focused()
    assert [p.get_attribute("data-proposal") for p in proposals.all()] == ["plainest", "cheapest", "calmest"]
    for p in proposals.all():
        expect(p).to_contain_text(re.compile(r"≈ \d+\.\d\d € still to spend"))
    before = page.locator('[data-path="aim.travel_mm"]').input_value()
    keys.press("Enter")
    assert keys.actions < 10
    expect(page.get_by_text("The plainest is taken in.")).to_be_visible()
    saved(page)
    axis = page.url.split("/axis/")[1].split("/")[0]
    design = stored(empty, axis)
    assert before == "1200"
    assert design["aim"]["travel_mm"] == 1200.0
    assert design["aim"]["speed_mm_s"] == 150.0
    assert design["chain"][0]["drawer_key"], "a part of the list"
    assert design["guide"]["rail_mm"] >= 1200.0
    expect(page.locator('[data-rung][data-verdict="short"]:not(:has-text("advice"))')).to_have_count(0)
    # What is stored is what is shown, after a reload too; what was typed is no assumption.
    motor = design["chain"][0]["label"]
    page.reload()
    step(page, "Drive")
    expect(page.get_by_role("tablist", name="Drive line")).to_contain_text(motor)
    step(page, "Aim")
    for path in ("aim.travel_mm", "aim.speed_mm_s"):
        expect(page.locator(f'[data-path="{path}"]')).not_to_have_attribute("data-assumed", "true")
    expect(page.locator('[data-path="moving.0.mass_kg"]')).to_have_attribute("data-assumed", "true")
    # The shelf has it, under the machine that was made for it.
    page.goto(empty.url)
    expect(page.get_by_role("region", name="My machine")).to_contain_text("Leaf slide")


def test_proposals_that_come_later_leave_a_field_its_focus(page: Page, empty: Running) -> None:
    held: list[Route] = []
    page.goto(empty.url)
    page.get_by_role("button", name="Begin an axis").click()
    page.get_by_label("Name of the axis").fill("Slide")
    page.route("**/api/propose", lambda route: held.append(route))  # noqa: PLW0108 - it takes no builtin
    with page.expect_request("**/api/propose"):
        page.get_by_role("button", name="Propose axes for it").click()
    speed = field(page, "aim.speed_mm_s")
    speed.focus()
    assert len(held) == 1
    held[0].continue_()
    expect(page.locator("[data-proposal]").first).to_be_visible()
    expect(speed).to_be_focused()
    page.keyboard.press("ArrowUp")
    expect(speed).to_have_value("210")


def test_undo_brings_back_what_stood_before_a_proposal(page: Page, empty: Running) -> None:
    page.goto(empty.url)
    page.get_by_role("button", name="Begin an axis").click()
    page.get_by_label("Name of the axis").fill("Slide")
    page.get_by_role("button", name="Propose axes for it").click()
    expect(page.locator("[data-proposal]").first).to_be_visible()
    axis = page.url.split("/axis/")[1].split("/")[0]
    was = stored(empty, axis)
    page.get_by_role("button", name="Take the calmest").click()
    saved(page)
    assert stored(empty, axis)["chain"] != was["chain"]
    page.get_by_role("button", name="Undo").click()
    saved(page)
    assert stored(empty, axis) == was
    # Going there again does not propose anew.
    page.reload()
    settled(page)
    expect(page.get_by_role("button", name="Propose", exact=True)).to_be_visible()
    expect(page.locator("[data-proposal]")).to_have_count(0)


def test_an_aim_that_nothing_meets_gets_the_nearest_one_and_takes_it(page: Page, empty: Running) -> None:
    page.goto(empty.url)
    page.get_by_role("button", name="Begin an axis").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name of the axis").fill("Hoist")
    dialog.locator('[data-card="drum"]').click()
    dialog.get_by_label("Moving mass").fill("500 kg")
    dialog.get_by_role("button", name="Propose axes for it").click()
    expect(page.locator("[data-propose-says]")).to_contain_text(
        re.compile(
            r"Nothing holds for this aim: .* The nearest found asks for less: load \d+.* kg instead of 500 kg"
        ),
        timeout=60_000,
    )
    expect(page.locator("[data-proposal]")).to_have_count(1)
    page.get_by_role("button", name="Take the plainest").click()
    saved(page)
    axis = page.url.split("/axis/")[1].split("/")[0]
    assert 5 < stored(empty, axis)["moving"][0]["mass_kg"] < 100
    expect(page.locator('[data-rung][data-verdict="short"]:not(:has-text("advice"))')).to_have_count(0)


def test_numbers_follow_the_layout_and_what_cannot_be_is_said_beside_its_field(
    page: Page, empty: Running
) -> None:
    page.goto(empty.url)
    page.evaluate("localStorage.setItem('crisp-cadence.units', '\"imperial\"')")
    page.reload()
    page.get_by_role("button", name="Begin an axis").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name of the axis").fill("Lift")
    dialog.locator('[data-card="spindle"]').click()
    expect(dialog.locator("[data-free]")).to_have_count(2)
    expect(dialog.get_by_label("Highest speed wanted")).to_have_value("240")
    dialog.locator('[data-card="drum"]').click()
    travel = dialog.get_by_label("Travel")
    expect(travel).to_have_value(re.compile(r"^70\.86"))
    travel.fill("8 ft")
    dialog.get_by_label("Speed").fill("far too fast")
    expect(dialog.get_by_role("alert")).to_be_visible()
    expect(dialog.get_by_role("button", name="Begin the axis")).to_be_disabled()
    dialog.get_by_label("Speed").fill("99999 m/s")
    dialog.get_by_role("button", name="Begin the axis").click()
    expect(dialog.get_by_role("alert").first).to_contain_text("is more than this can be (limit 787.4 in/s)")
    dialog.get_by_label("Speed").fill("2 in/s")
    dialog.get_by_role("button", name="Begin the axis").click()
    expect(page.locator('[data-path="aim.travel_mm"]')).to_have_value("96")
    axis = page.url.split("/axis/")[1].split("/")[0]
    design = stored(empty, axis)
    assert design["aim"]["travel_mm"] == pytest.approx(2438.4)
    assert design["aim"]["speed_mm_s"] == pytest.approx(50.8)
    assert design["end"]["kind"] == "drum"
    assert len(empty.ask("/shelf")) == 1, "the machine is made once, refused or not"


def test_a_file_is_taken_in_from_the_empty_shelf(page: Page, empty: Running, tmp_path: Path) -> None:
    from crisp_cadence import demo, dump_design

    page.goto(empty.url)
    page.get_by_role("button", name="Begin an axis").click()
    wrong, right = tmp_path / "wrong.json", tmp_path / "right.json"
    wrong.write_text('{"format": "another"}')
    right.write_text(dump_design(demo.designs()["kiln-room-hoist"]), encoding="utf-8")
    chooser = page.locator('input[type="file"]')
    chooser.set_input_files(wrong)
    expect(page.get_by_text("The axis is not made")).to_be_visible()
    chooser.set_input_files(right)
    expect(page.get_by_role("heading", name="How fast, how fine")).to_be_visible()
    assert [a["name"] for m in empty.ask("/shelf") for a in m["axes"]] == ["Hoist"]


def test_the_demo_stands_beside_the_own_shelf(page: Page, empty: Running) -> None:
    page.goto(empty.url)
    page.get_by_role("link", name="Look at the demo").click()
    back = page.get_by_role("link", name="Back to your own shelf")
    expect(back).to_be_visible()
    page.get_by_role("link", name=re.compile("Aisle")).click()
    expect(page.get_by_role("heading", name="Travel budget")).to_be_visible()
    assert "/demo/axis/" in page.url
    expect(back).to_be_visible()
    page.locator('[data-path="aim.speed_mm_s"]').fill("510")
    saved(page)
    page.reload()
    expect(page.locator('[data-path="aim.speed_mm_s"]')).to_have_value("510")
    page.get_by_role("button", name="Commands").click()
    page.get_by_placeholder("What do you want to do?").fill("drawer")
    page.keyboard.press("Enter")
    page.wait_for_url("**/demo/drawer")
    expect(back).to_be_visible()
    back.click()
    expect(page.get_by_text("Nothing on the shelf yet")).to_be_visible()
    assert empty.ask("/shelf") == []


def test_a_belt_of_unknown_name_is_told_and_taken(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Pass']}/drive")
    page.get_by_role("tablist", name="Drive line").get_by_role("tab").nth(2).click()
    page.get_by_role("button", name="Which belt is this?").click()
    ask = page.locator("[data-which-belt]")
    ask.get_by_label("Length over them").fill("2 in")
    page.keyboard.press("Enter")
    expect(ask.locator("[data-which-says]")).to_have_text("It is XL.")
    ask.get_by_label("Length over them").fill("30.1")
    ask.get_by_label("Its teeth look").select_option("half round")
    ask.get_by_role("button", name="Which is it?").click()
    expect(ask.locator("[data-which-says]")).to_have_text("It is Round tooth H 3 mm.")
    expect(ask.locator('[data-likely="true"]')).to_have_count(1)
    expect(ask.locator("[data-candidate]")).to_have_count(2)
    ask.get_by_label("Length over them").fill("3")
    ask.get_by_role("button", name="Which is it?").click()
    expect(ask.get_by_role("alert")).to_contain_text("too short for so many pitches")
    ask.get_by_label("Length over them").fill("30.1")
    ask.get_by_role("button", name="Which is it?").click()
    ask.get_by_role("button", name="Take Round tooth H 3 mm").click()
    saved(page)
    assert stored(demo, axes["Pass"])["end"]["belt"]["profile"] == "round-h-3"
    expect(page.get_by_role("tablist", name="Drive line")).to_contain_text("Round tooth H 3 mm")
    # Without an axis there is only the answer.
    page.goto(f"{demo.url}/drawer")
    page.get_by_role("button", name="Which belt is this?").click()
    ask.get_by_label("Length over them").fill("41")
    page.keyboard.press("Enter")
    expect(ask.locator("[data-which-says]")).to_contain_text("No belt of the list has this pitch")
    expect(ask.get_by_role("button", name=re.compile("^Take"))).to_have_count(0)
