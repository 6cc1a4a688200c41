"""What tests in the browser do all the time."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect


def settled(page: Page) -> None:
    """Waits until the figures on an axis's page belong to the design as it is typed."""
    expect(page.locator(".frame")).to_have_attribute("aria-busy", "false")


def step(page: Page, name: str) -> None:
    """Walks to a step of the axis that is open, as a maker does; quicker than loading the page again."""
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=name.capitalize()).click()
    page.wait_for_url(re.compile(rf"/{name.lower()}(#.*)?$"))
