"""A real browser (Debian's Chromium) against the program started as its users start it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect
from running import BROWSER_FLAGS, CHROMIUM, Running, program

expect.set_options(timeout=30_000)  # how long to wait for a slow machine, not how long it may take; speed is `make bench`'s


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": CHROMIUM, "args": BROWSER_FLAGS, "headless": True}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}, "reduced_motion": "reduce"}


@pytest.fixture
def demo(tmp_path: Path) -> Iterator[Running]:
    with program(tmp_path / "demo", "demo") as running:
        yield running


@pytest.fixture
def axes(demo: Running) -> dict[str, str]:
    return {a["name"]: a["id"] for m in demo.ask("/shelf") for a in m["axes"]}


def settled(page: Page) -> None:
    """Waits until the figures on an axis's page belong to the design as it is typed."""
    expect(page.locator(".frame")).to_have_attribute("aria-busy", "false")


@pytest.fixture
def shown(page: Page) -> Callable[[str], float]:
    """The full value behind a result on the screen, once the answer to the last change has come."""

    def read(key: str) -> float:
        settled(page)
        figure = page.locator(f'[data-result="{key}"]').first
        expect(figure).to_be_visible()
        return float(figure.get_attribute("data-value") or "nan")

    return read


@pytest.fixture(autouse=True)
def _no_errors_in_the_page(page: Page) -> Iterator[None]:
    """A script error in any page fails its test."""
    errors: list[str] = []
    page.on("pageerror", lambda e: errors.append(str(e)))
    yield
    assert errors == []
