"""Accessibility of every main view by a general checker (axe-core), light and dark; focus that is never lost;
inches everywhere.
"""

from __future__ import annotations

from pathlib import Path
from typing import Literal

import pytest
from playwright.sync_api import Page, expect
from running import Running, program

from browsing import settled, step, unfold

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
VIEWS = ("aim", "drive", "belt", "shake", "build", "tune", "log")
ALL = ("wcag2a", "wcag2aa")
SCHEMES: dict[Literal["light", "dark"], tuple[str, ...]] = {"light": ALL, "dark": ("color-contrast",)}

LOOK = """(only) => axe.run(document, { runOnly: only, resultTypes: ['violations'] }).then((found) =>
  found.violations.map((v) => `${v.id}: ${v.nodes[0].html.slice(0, 160)}`))"""


def findings(page: Page, only: tuple[str, ...] = ALL) -> list[str]:
    """What the checker finds: rule, and the first place."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text(encoding="utf-8"))
    found: list[str] = page.evaluate(LOOK, list(only))
    return found


def passes(page: Page, what: str) -> None:
    """Everything in the light; in the dark, where only the colours are others, their contrast."""
    for scheme, only in SCHEMES.items():
        page.emulate_media(color_scheme=scheme, reduced_motion="reduce")
        expect(page.locator("html")).to_have_attribute("data-mantine-color-scheme", scheme)
        assert findings(page, only) == [], f"{what}, {scheme}"


@pytest.mark.parametrize("axis", ["Aisle", "Potter's wheel"])
def test_steps_pass_the_checker(page: Page, demo: Running, axes: dict[str, str], axis: str) -> None:
    page.goto(f"{demo.url}/axis/{axes[axis]}/aim")
    expect(page.locator("[data-rung]").first).to_be_visible()
    for view in VIEWS:
        step(page, view)
        expect(page.locator("#work [data-sheet]").first).to_be_visible()
        settled(page)
        passes(page, view)


@pytest.mark.parametrize("path", ["/", "/drawer", "/numbers"])
def test_pages_pass_the_checker(page: Page, demo: Running, path: str) -> None:
    page.goto(demo.url + path)
    expect(page.locator("h1")).to_be_visible()
    page.wait_for_load_state("networkidle")
    passes(page, path)


def test_what_opens_passes_the_checker(page: Page, own_demo: Running) -> None:
    """Dialogs, menus, folds, opened rungs and the tabs of Drive: what a view shows only when it is asked to."""
    axis = next(a["id"] for m in own_demo.ask("/shelf") for a in m["axes"] if a["name"] == "Pass")
    page.goto(f"{own_demo.url}/axis/{axis}/drive")
    settled(page)
    unfold(page)
    page.locator("[data-rung]").first.get_by_role("button").first.click()
    for tab in ("One change", "Other ways", "Why not…", "How far"):
        page.get_by_role("tab", name=tab).click()
        expect(page.get_by_role("tabpanel", name=tab)).to_be_visible()
        page.wait_for_load_state("networkidle")
        passes(page, tab)
    for opener in ("Add a stage…", "Stepper from the drawer", "Keyboard shortcuts"):
        page.get_by_role("button", name=opener).click()
        expect(page.get_by_role("dialog").or_(page.get_by_role("menu")).first).to_be_visible()
        page.wait_for_load_state("networkidle")
        passes(page, opener)
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog").or_(page.get_by_role("menu"))).to_have_count(0)
    for view in ("Belt", "Build"):
        step(page, view)
        unfold(page)
        page.wait_for_load_state("networkidle")
        passes(page, view)


def test_what_a_new_maker_sees_has_no_accessibility_faults(
    page: Page, tmp_path: Path, own_demo: Running
) -> None:
    """The empty shelf, its dialog, proposals as they come, the demo beside, and the question which belt it is."""
    with program(tmp_path / "own", "serve") as empty:
        page.goto(empty.url)
        page.get_by_role("button", name="Begin an axis").wait_for()
        passes(page, "empty shelf")
        page.get_by_role("button", name="Begin an axis").click()
        page.get_by_label("Travel").wait_for()
        page.get_by_label("Speed").fill("fast")
        page.wait_for_load_state("networkidle")
        passes(page, "a new axis")
        page.get_by_label("Speed").fill("150")
        page.get_by_label("Name of the axis").fill("Slide")
        page.get_by_role("button", name="Propose axes for it").click()
        page.locator("[data-proposal]").first.wait_for()
        unfold(page)
        passes(page, "proposals")
        page.get_by_role("button", name="Which plates would do?").click()
        page.get_by_role("button", name="Take them").wait_for()
        passes(page, "plates")
        page.goto(f"{empty.url}/demo/")
        page.get_by_role("link", name="Back to your own shelf").wait_for()
        page.wait_for_load_state("networkidle")
        passes(page, "the demo beside")
    page.goto(f"{own_demo.url}/drawer")
    page.get_by_role("button", name="Which belt is this?").click()
    page.get_by_label("Length over them").fill("50")
    page.keyboard.press("Enter")
    page.locator("[data-candidate]").first.wait_for()
    passes(page, "which belt")


def test_dialogs_hold_the_focus_and_give_it_back(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/aim")
    opener = page.get_by_role("button", name="Change it")
    opener.focus()
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog", name="Layouts")
    expect(dialog.locator("[data-card=rack]")).to_be_visible()
    page.wait_for_function(
        "document.activeElement.closest('[role=dialog]') !== null"
    )  # it goes there by itself
    for _ in range(20):
        page.keyboard.press("Tab")
        assert page.evaluate("document.activeElement.closest('[role=dialog]') !== null"), (
            "focus has left the dialog"
        )
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    expect(opener).to_be_focused()


def test_a_layout_can_be_chosen_by_keyboard_alone(page: Page, demo: Running, axes: dict[str, str]) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/aim")
    page.get_by_role("button", name="Change it").focus()
    page.keyboard.press("Enter")
    page.locator("[data-card=drum]").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(page.locator("[data-card=rack]")).to_be_focused()
    page.get_by_role("button", name="Take this layout").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("rack and pinion")).to_be_visible()


@pytest.mark.parametrize(
    ("axis", "path", "metric", "imperial"),
    [("Hoist", "end.diameter_mm", "44", "1.732283465"), ("Board", "end.pitch_mm", "2", "0.07874015748")],
)
def test_new_parts_take_inches_too(
    page: Page, demo: Running, axes: dict[str, str], axis: str, path: str, metric: str, imperial: str
) -> None:
    page.goto(f"{demo.url}/axis/{axes[axis]}/drive")
    page.get_by_role("tab").nth(2).click()
    field = page.locator(f'[data-path="{path}"]').first
    expect(field).to_have_value(metric)
    page.get_by_role("button", name="mm · N").click()
    expect(field).to_have_value(imperial)
    field.fill("5/64 in" if metric == "2" else "1 3/4")
    expect(page.locator("[data-save=saved]")).to_contain_text("rev. 2")
    page.get_by_role("button", name="in · lbf").click()
    expect(field).to_have_value("1.984375" if metric == "2" else "44.45")


def test_a_drawing_is_moved_by_keys(page: Page, demo: Running, axes: dict[str, str]) -> None:
    for name, point in (
        ("Spray arm", "Tip"),
        ("Hoist", "Load"),
        ("Head", "Head"),
        ("Probe", "Carriage with its motor"),
    ):
        page.goto(f"{demo.url}/axis/{axes[name]}/drive")
        slider = page.get_by_role("slider", name=f"{point} along the travel")
        slider.focus()
        page.keyboard.press("Home")
        expect(slider).to_have_attribute("aria-valuenow", "0")
        page.keyboard.press("End")
        assert int(slider.get_attribute("aria-valuenow") or 0) == int(
            slider.get_attribute("aria-valuemax") or -1
        )


def test_the_checker_sees_what_it_should(page: Page, demo: Running) -> None:
    """A check that cannot fail is none: a button without a name must be found."""
    page.goto(demo.url)
    expect(page.locator("h1")).to_be_visible()
    page.evaluate("document.querySelector('main').append(document.createElement('button'))")
    assert any(f.startswith("button-name") for f in findings(page))
