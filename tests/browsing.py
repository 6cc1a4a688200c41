"""What tests in the browser do all the time."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect
from running import Running


def settled(page: Page) -> None:
    """Waits until the figures on an axis's page belong to the design as it is typed."""
    expect(page.locator("[data-bench]")).to_have_attribute("aria-busy", "false")


def step(page: Page, name: str) -> None:
    """Walks to a step of the axis that is open, as a maker does; quicker than loading the page again."""
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=name.capitalize()).click()
    page.wait_for_url(re.compile(rf"/{name.lower()}(#.*)?$"))


def unfold(page: Page) -> None:
    """Opens every fold of the step, those within others too."""
    settled(page)
    page.evaluate("document.querySelectorAll('main details').forEach((fold) => { fold.open = true; })")


def field(page: Page, path: str) -> Locator:
    """The field of a path, with the folds it stands in open."""
    found = page.locator(f'[data-path="{path}"]').first
    found.evaluate(
        "(e) => { for (let f = e.closest('details'); f; f = f.parentElement.closest('details')) f.open = true; }"
    )
    return found


def stage_kinds(page: Page) -> list[str]:
    """The kinds of stages that can be put in, as the menu names them."""
    page.get_by_role("button", name="Add a stage").click()
    names = page.get_by_role("menuitem").all_inner_texts()
    page.keyboard.press("Escape")
    return list(dict.fromkeys(names))


def add_stage(page: Page, kind: str) -> None:
    """Puts a stage in after the part that is shown, or before it where it is the end."""
    page.get_by_role("button", name="Add a stage").click()
    page.get_by_role("menuitem", name=re.compile(rf"^{kind} (before|after) this one$")).last.click()


def begin(page: Page, bench: Running, layout: str, name: str) -> None:
    page.goto(bench.url)
    page.get_by_role("button", name="Add an axis").first.click()
    page.get_by_role("dialog").get_by_label("Name").fill(name)
    page.locator(f'[data-card="{layout}"]').click()
    page.get_by_role("button", name="Begin the axis").click()
    expect(page.get_by_role("heading", name=re.compile("^How fast"))).to_be_visible()


def finish(page: Page, name: str, nodes: int) -> None:
    """Drive line, drawing, Belt, Shake, Build, Tune and Log show something for this layout, and nothing is
    unknown.
    """
    expect(page.get_by_role("tablist", name="Drive line").get_by_role("tab")).to_have_count(nodes)
    expect(page.locator("[data-verdict=unknown]:not(:has-text('advice'))")).to_have_count(0)
    expect(page.get_by_role("group", name=re.compile("to true scale")).first).to_be_visible()
    for place in ("Belt", "Shake"):
        step(page, place)
        expect(page.locator("#work [data-sheet]").first).to_be_visible()
    step(page, "Build")
    expect(page.locator("[data-work]").first).to_be_visible()
    assert page.locator("[data-work]").count() > 6
    assert page.locator("[data-bill]").count() >= 2
    page.get_by_label("Lay out the parts").check()
    step(page, "Tune")
    expect(page.locator("#work [data-sheet]").first).to_be_visible()
    expect(page.get_by_text("There is no target yet")).to_have_count(0)
    expect(page.get_by_text("– steps/mm")).to_have_count(0)
    step(page, "Log")
    page.get_by_label("What happened").fill(f"{name} runs")
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_text(f"{name} runs")).to_be_visible()
    expect(page.locator("[data-save=saved]")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth <= document.documentElement.clientWidth")
