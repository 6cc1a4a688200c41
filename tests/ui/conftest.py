"""A real browser (Debian's Chromium) against the program started as its users start it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect
from running import BROWSER_FLAGS, CHROMIUM, Running, program

from browsing import settled

expect.set_options(
    timeout=30_000
)  # how long to wait for a slow machine, not how long it may take; speed is `make bench`'s


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": CHROMIUM, "args": BROWSER_FLAGS, "headless": True}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}, "reduced_motion": "reduce"}


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """The demo, one program for all tests of a worker: they change copies of its axes (`axes`), not the
    drawer.
    """
    with program(tmp_path_factory.mktemp("shared") / "demo", "demo") as running:
        yield running


@pytest.fixture(scope="session")
def originals(demo: Running) -> dict[str, tuple[str, str]]:
    return {a["name"]: (m["id"], a["id"]) for m in demo.ask("/shelf") for a in m["axes"]}


class Copies(dict[str, str]):
    """Ids of the demo's axes by name; each is a copy made when a test first asks for it, on the same machine."""

    def __init__(self, demo: Running, originals: dict[str, tuple[str, str]]) -> None:
        self.demo, self.originals = demo, originals

    def __missing__(self, name: str) -> str:
        machine, axis = self.originals[name]
        self[name] = str(
            self.demo.ask(f"/machines/{machine}/import", self.demo.ask(f"/axes/{axis}/file"))["id"]
        )
        return self[name]


@pytest.fixture
def axes(demo: Running, originals: dict[str, tuple[str, str]]) -> Iterator[Copies]:
    made = Copies(demo, originals)
    yield made
    for axis in made.values():
        demo.ask(f"/axes/{axis}", method="DELETE")


@pytest.fixture
def own_demo(tmp_path: Path) -> Iterator[Running]:
    """A demo that a test may do to what it likes."""
    with program(tmp_path / "demo", "demo") as running:
        yield running


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
