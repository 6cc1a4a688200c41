"""Takes one picture of each main view from the demo data, for docs/screenshots."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

import numpy as np
import plucks
import soundfile
from playwright.sync_api import Page, sync_playwright
from running import BROWSER_FLAGS, CHROMIUM, program

OUT = Path(__file__).parent.parent / "docs" / "screenshots"


def settle(page: Page) -> None:
    page.wait_for_load_state("networkidle")
    page.evaluate("document.fonts.ready")
    page.wait_for_timeout(350)


def main(only: list[str], out: Path) -> None:
    out.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as folder,
        program(Path(folder), "demo") as running,
        sync_playwright() as play,
    ):
        browser = play.chromium.launch(executable_path=CHROMIUM, args=BROWSER_FLAGS)
        page = browser.new_page(
            viewport={"width": 1280, "height": 800}, reduced_motion="reduce", color_scheme="light"
        )
        shelf = running.ask("/shelf")
        machines, axes = (
            {x["name"]: x["id"] for x in found} for found in (shelf, [a for m in shelf for a in m["axes"]])
        )

        def shot(
            name: str,
            path: str,
            then: str = "",
            dark: bool = False,
            wait: str = "",
            show: str = "",
            file: str = "",
            fill: dict[str, str] | None = None,
        ) -> None:
            if only and name not in only:
                return
            page.emulate_media(color_scheme="dark" if dark else "light", reduced_motion="reduce")
            page.goto(running.url + path)
            settle(page)
            if then:
                page.locator(then).first.click()
                settle(page)
            if wait:
                page.wait_for_selector(wait)
            if file:
                page.get_by_label("Sound file").set_input_files(file)
                page.wait_for_selector("[data-heard=heard]")
                settle(page)
            for free, text in (fill or {}).items():
                page.locator(f'[data-free="{free}"]').fill(text)
                settle(page)
            if show:
                page.locator(show).evaluate("e => e.scrollIntoView()")
                settle(page)
            wide = page.evaluate(
                "document.documentElement.scrollWidth - document.documentElement.clientWidth"
            )
            if wide > 0:
                print(f"{name}: {wide} px of sideways scrolling", file=sys.stderr)
            page.screenshot(path=out / f"{name}.png")

        for name, path in (
            ("01-shelf", "/"),
            ("02-aim", f"/axis/{axes['Aisle']}/aim"),
            ("03-drive", f"/axis/{axes['Pass']}/drive"),
            ("05-belt", f"/axis/{axes['Aisle']}/belt"),
            ("06-shake", f"/axis/{axes['Aisle']}/shake"),
            ("07-build", f"/axis/{axes['Lift']}/build"),
            ("09-log", f"/axis/{axes['Aisle']}/log"),
            ("10-drawer", "/drawer"),
            ("11-numbers", "/numbers"),
        ):
            shot(name, path)
        shot(
            "19-search",
            f"/axis/{axes['Pass']}/drive",
            "[data-search] button[data-variant=filled]",
            wait="[data-found]",
            show="[data-choose]",
        )
        shot("04-ladder-way-out", f"/axis/{axes['Pass']}/drive", "[data-rung=speed] button")
        shot("17-machine", f"/machine/{machines['Clay printer']}", wait="[data-order-of-work]")
        shot(
            "18-closed-belt",
            f"/axis/{axes['Long way']}/belt",
            "nav[aria-label^=Parts] a:has-text('Closed belts')",
        )
        with tempfile.NamedTemporaryFile(suffix=".wav") as sound:
            soundfile.write(sound.name, plucks.several(np.random.default_rng(2), 3, 82.0), plucks.RATE)
            shot(
                "08-tune",
                f"/axis/{axes['Aisle']}/tune",
                wait="[data-listen]",
                show="section:has([data-listen])",
                file=sound.name,
            )
        shot("13-new-axis", "/", "text=Add an axis", wait="[data-free]")
        shot(
            "14-square",
            f"/axis/{axes['Head']}/tune",
            "[data-square] summary",
            show="[data-pair]",
            fill={"across_mm": "300", "along_mm": "280", "rising_mm": "410.64", "falling_mm": "410.1"},
        )
        shot("15-spindle", "/axis/{}/drive".format(axes["Potter's wheel"]))
        shot(
            "16-ripple",
            f"/axis/{axes['Long way']}/tune",
            wait="[data-ripple]",
            show="[data-ripple]",
            fill={"spacing": "181", "waves": "5", "ripple-speed": "400"},
        )
        shot(
            "12-other-ways-dark",
            f"/axis/{axes['Pass']}/drive",
            "[data-choose] [role=tab]:has-text('Other ways')",
            dark=True,
            wait="[data-way]",
            show="[data-choose]",
        )
        browser.close()


if __name__ == "__main__":
    arguments = [a for a in sys.argv[1:] if not a.startswith("--out=")]
    folder = next((Path(a[6:]) for a in sys.argv[1:] if a.startswith("--out=")), OUT)
    main(arguments, folder)
