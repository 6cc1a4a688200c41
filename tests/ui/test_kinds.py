"""An end and a stage that the program has never heard of, through all its screens: no other file knows their
names.
"""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from running import program

from browsing import add_stage, begin, field, finish, settled, step, unfold

DOOR = (str(Path(__file__).parents[1] / "kinds" / "serve.py"),)


def test_a_new_end_and_a_new_stage_go_through_every_step(page: Page, tmp_path: Path) -> None:
    with program(tmp_path, door=DOOR) as running:
        running.ask("/machines", {"name": "Bench"})
        begin(page, running, "capstan", "Hauler")
        step(page, "Drive")
        unfold(page)
        for path, text in (
            ("chain.0.hold_torque_nm", "0.65"),
            ("chain.0.resistance_ohm", "1.6"),
            ("chain.0.inductance_mh", "3.2"),
            ("chain.0.rotor_inertia_gcm2", "102"),
            ("chain.0.detent_torque_nm", "0.03"),
        ):
            field(page, path).fill(text)
        page.locator("#node-chain\\.1").click()
        field(page, "chain.1.large_mm").fill("80")
        settled(page)
        assert float(
            page.locator('[data-result="chain.1.ratio_made"]').first.get_attribute("data-value") or 0
        ) == pytest.approx(4)
        page.get_by_role("tab", name="Drum").click()
        field(page, "end.preload_n").fill("0.5")
        field(page, "end.wraps").fill("1")
        expect(page.locator("[data-rung=rope_slip]")).to_have_attribute("data-verdict", "short")
        field(page, "end.wraps").fill("2")
        rung = page.locator("[data-rung=rope_slip]")
        expect(rung).to_have_attribute("data-verdict", "holds")
        assert float(
            page.locator('[data-result="capstan.holds"]').first.get_attribute("data-value") or 0
        ) == pytest.approx(6.17, abs=0.01)
        # a rung leads to the field that decides it, wherever one is
        step(page, "Aim")
        rung.get_by_role("button").first.click()
        rung.get_by_role("button", name="Go to").click()
        expect(page.locator('[data-path="end.wraps"]')).to_be_focused()
        page.locator("#node-field").click()
        add_stage(page, "friction wheel")
        expect(page.locator("#node-chain\\.2")).to_be_visible()
        expect(page.locator('[data-form="chain.1"]')).to_have_attribute("data-kind", "friction_wheel")
        page.get_by_role("button", name="Take it out").click()
        finish(page, "Hauler", 4)
        page.reload()
        saved = running.ask("/shelf")[0]["axes"][0]
        assert saved["verdict"] != "cannot be read"
        assert saved["scene"]["title"] == "Seen from the side"
