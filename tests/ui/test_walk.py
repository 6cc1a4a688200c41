"""The whole way, on a new axis made by hand: Shelf → Aim → Drive → Belt → Shake → Build → Tune → Log, a
killed program, and back.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from running import start

from browsing import field, step


def enter(page: Page, path: str, text: str) -> None:
    field(page, path).fill(text)


def rung(page: Page, key: str) -> float:
    expect(page.locator("[data-bench]")).to_have_attribute("aria-busy", "false")
    return float(page.locator(f'[data-rung="{key}"]').get_attribute("data-ratio") or "nan")


def test_from_shelf_to_log_and_through_a_killed_program(
    page: Page, tmp_path: Path, shown: Callable[[str], float]
) -> None:
    running = start(tmp_path)
    port = int(running.url.rsplit(":", 1)[1])
    try:
        page.goto(running.url)
        expect(page.get_by_text("Nothing on the shelf yet")).to_be_visible()
        page.get_by_role("button", name="New machine").first.click()
        page.get_by_label("Name").fill("Tray shuttle")
        page.get_by_role("button", name="Put it on the shelf").click()
        page.get_by_role("button", name="Add an axis").click()
        page.get_by_label("Name").fill("Long way")
        page.get_by_role("button", name="Begin the axis").click()

        # Aim: inches and metres typed into millimetre fields
        expect(page.get_by_role("heading", name="Travel budget")).to_be_visible()
        enter(page, "guide.rail_mm", "40in")
        expect(page.get_by_text("= 1016 mm")).to_be_visible()
        enter(page, "aim.travel_mm", "0.8 m")
        enter(page, "aim.speed_mm_s", "300")
        enter(page, "aim.acceleration_mm_s2", "1500")
        enter(page, "moving.0.mass_kg", "1.2")
        enter(page, "guide.drag_n", "3")
        enter(page, "guide.friction", "0")
        expect(page.locator('[data-result="travel.usable"]').first).to_have_attribute("data-value", "886")
        assert shown("mass.tally") == 1.2
        assert page.locator('[data-rung="travel"]').get_attribute("data-verdict") == "holds"
        assert rung(page, "travel") == pytest.approx(886 / 800)

        # Drive: a motor from the drawer, a supply, a pulley walked along what can be bought
        step(page, "Drive")
        # What is typical of its frame stands there, and is marked as assumed.
        expect(page.locator('[data-path="chain.0.inductance_mh"]')).to_have_value("3.2")
        page.get_by_role("button", name="Stepper from the drawer").click()
        page.get_by_role("button", name="Take Stepper NEMA 17 × 48", exact=True).click()
        expect(page.locator('[data-path="chain.0.inductance_mh"]')).to_have_value("3")
        enter(page, "chain.0.driver.supply_v", "24 V")
        enter(page, "chain.0.driver.current_a", "1700 mA")
        page.locator("[data-part=pulley]").click()
        teeth = page.locator('[data-path="end.pulley.teeth"]')
        teeth.fill("20")
        teeth.press("ArrowUp")
        teeth.press("ArrowDown")
        expect(teeth).to_have_value("20")
        page.locator("[data-part=field]").click()
        expect(page.locator('[data-result="steps_per_mm"]').first).to_have_attribute("data-value", "80")
        expect(page.locator('[data-rung="torque_accelerate"]')).to_have_attribute("data-verdict", "holds")
        lam = math.pi / 20
        rotor = 68e-7 * (lam * 1000) ** 2
        driven = rung_demand_mass(running, page)
        expected = ((driven * 1.5 + 3) / 0.95 + rotor * 1.5) / lam / 1000
        assert shown("chain.0.torque_accelerate") == pytest.approx(expected, rel=1e-6)

        # Belt
        step(page, "Belt")
        page.locator('[data-path="end.belt.width_mm"]').press("ArrowUp")
        expect(page.locator('[data-path="end.belt.width_mm"]')).to_have_value("9")
        expect(page.locator('[data-rung="face"]')).to_have_attribute(
            "data-verdict", "short"
        )  # pulley and idler are 7 mm wide
        enter(page, "end.idler.width_mm", "10")
        page.locator('[data-row="end.pulley"] button').click()
        enter(page, "end.pulley.face_mm", "10")
        expect(page.locator('[data-rung="face"]')).to_have_attribute("data-verdict", "holds")
        expect(page.locator('[data-result="belt.cut"]').first).to_be_visible()
        centre = 1016 + 25 + 20
        free = 2 * centre + 40 - 40
        fit = math.ceil(free / 2 - 1e-9)
        assert shown("belt.cut") == (fit + 12 + 20) * 2
        target = shown("tension.target")

        # Shake: the belt gives most at the far end
        step(page, "Shake")
        expect(page.locator('[data-share="belt"]')).to_be_visible()
        assert shown("stiffness.min") < shown("stiffness.max")
        assert shown("mode.low") < shown("mode.high")

        # Build
        step(page, "Build")
        typical = shown("bill.spend")  # of all parts, at typical prices: none has one of the maker's own
        assert typical > 30
        page.get_by_text("Also to buy").click()
        page.get_by_role("button", name="Add a line").click()
        enter(page, "extras.0.label", "Rail")
        page.get_by_role("button", name="Price of Rail").click()  # it comes with the next answer
        enter(page, "extras.0.price", "22.5")
        assert shown("bill.spend") == pytest.approx(typical + 22.5)
        page.get_by_label("Lay out the parts").check()

        # Tune: what the run should sound like reads back as the target, and goes to the log
        step(page, "Tune")
        hertz = shown("pluck.target")
        page.locator("[data-free=hertz]").fill(f"{hertz:.4f}")
        assert shown("tension.read") == pytest.approx(target, rel=1e-3)
        expect(page.get_by_text("within the band").first).to_be_visible()
        page.locator("[data-measure]").get_by_role("button", name="Write it to the log").click()
        expect(page.get_by_text("Written down for")).to_be_visible()

        # Log
        step(page, "Log")
        expect(page.locator("[data-entry=tension]")).to_contain_text("within the band")
        page.get_by_label("What happened").fill("Built in an afternoon")
        page.get_by_role("button", name="Write it down").click()
        expect(page.get_by_text("Built in an afternoon")).to_be_visible()

        # The program is killed; a change made meanwhile is kept in the browser and saved when it runs again.
        expect(page.locator("[data-save=saved]")).to_be_visible()
        step(page, "Aim")
        running.kill()
        enter(page, "aim.error_mm", "0.4")
        expect(page.get_by_text("The program does not answer.")).to_be_visible()
        assert running.process.stdout is not None
        running.process.stdout.close()
        running = start(tmp_path, port=port)
        expect(page.locator("[data-save=saved]")).to_be_visible()
        page.reload()
        expect(page.locator('[data-path="aim.error_mm"]')).to_have_value("0.4")
        expect(page.locator('[data-path="guide.rail_mm"]')).to_have_value("1016")
        step(page, "Build")
        expect(page.get_by_label("Lay out the parts")).to_be_checked()
        assert shown("bill.spend") == pytest.approx(typical + 22.5)
        step(page, "Log")
        expect(page.get_by_text("Built in an afternoon")).to_be_visible()
        expect(page.locator("[data-entry=tension]")).to_be_visible()
        page.goto(running.url)
        expect(page.get_by_role("link", name="Long way")).to_contain_text("holds")
    finally:
        running.kill()
        if running.process.stdout is not None:
            running.process.stdout.close()


def rung_demand_mass(running: object, page: Page) -> float:
    """The mass that the drive shaft accelerates, from the program's own report of the saved design."""
    expect(page.locator("[data-save=saved]")).to_be_visible()
    axis = page.url.split("/axis/")[1].split("/")[0]
    ask = running.ask  # type: ignore[attr-defined]
    report = ask("/evaluate", ask(f"/axes/{axis}")["design"])
    return float(next(q["value"] for q in report["results"] if q["key"] == "mass.driven"))
