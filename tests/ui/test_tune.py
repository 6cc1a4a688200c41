"""Tune in the browser: a belt is heard through the microphone or from a file, each belt has its own readings, and
what an axis has not, its screen has not.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import plucks
import pytest
import soundfile
from playwright.sync_api import BrowserType, Page, expect
from plucks import RATE
from running import BROWSER_FLAGS, CHROMIUM, Running, program

from browsing import settled

FAKE = ["--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream"]


@pytest.fixture(scope="module")
def bench(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """A program with one new axis of every layout."""
    with program(tmp_path_factory.mktemp("tune")) as running:
        machine = running.ask("/machines", {"name": "Bench"})["id"]
        for layout in running.ask("/layouts"):
            body = {"name": layout["name"], "layout": layout["key"]}
            running.ask(f"/machines/{machine}/axes", body)
        yield running


@pytest.fixture(scope="module")
def sound(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Three plucks at 82 Hz."""
    file = tmp_path_factory.mktemp("sound") / "plucks.wav"
    heard = plucks.several(np.random.default_rng(2), 3, 82.0, second=0.0, noise_db=20)
    soundfile.write(file, heard, RATE, subtype="PCM_16")
    return file


def value(page: Page, key: str) -> float:
    return float(page.locator(f'[data-result="{key}"]').first.get_attribute("data-value") or "nan")


def test_plucks_through_the_microphone_become_a_tension_and_an_entry(
    browser_type: BrowserType, demo: Running, axes: dict[str, str], sound: Path
) -> None:
    """Chromium's fake microphone plays a file over and over; the tension that is shown is that of the pitch."""
    flags = [*BROWSER_FLAGS, *FAKE, f"--use-file-for-fake-audio-capture={sound}"]
    browser = browser_type.launch(executable_path=CHROMIUM, args=flags, headless=True)
    try:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{demo.url}/axis/{axes['Aisle']}/tune")
        settled(page)
        page.get_by_role("button", name="Listen", exact=True).click()
        expect(page.locator("[data-heard=heard]")).to_contain_text("plucks agree")
        page.get_by_role("button", name="Stop listening").click()
        pitch = value(page, "heard")
        assert pitch == pytest.approx(82.02, rel=0.005)
        tension = page.locator('[data-result="tension.read"]')
        expect(tension).to_be_visible()
        settled(page)
        span = float(page.locator('[data-free="span"]').input_value())
        design = demo.ask(f"/axes/{axes['Aisle']}")["design"]
        results = {q["key"]: q["value"] for q in demo.ask("/evaluate", design)["results"]}
        by_hand = 4 * results["belt.line_mass"] * 1e-3 * (span * 1e-3) ** 2 * pitch**2
        assert by_hand * 0.95 < value(page, "tension.read") < by_hand  # its stiffness is taken off
        page.get_by_role("button", name="Write it to the log").click()
        expect(page.get_by_text("Written down for")).to_be_visible()
        (entry,) = [
            e for e in demo.ask(f"/axes/{axes['Aisle']}/log") if (e["reading"] or {}).get("of") == "end"
        ]
        assert entry["reading"]["tension_n"] == pytest.approx(value(page, "tension.read"), rel=1e-6)
        assert entry["reading"]["frequency_hz"] == pytest.approx(pitch)
        assert 0 < entry["reading"]["stiffness"] < 0.003  # it was made with 0.0005
    finally:
        browser.close()


def test_a_sound_file_is_heard_and_what_is_none_is_refused(
    page: Page, demo: Running, axes: dict[str, str], sound: Path, tmp_path: Path
) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/tune")
    settled(page)
    upload = page.get_by_label("Sound file")
    upload.set_input_files(sound)
    expect(page.locator("[data-heard=heard]")).to_contain_text("3 of 3 plucks agree")
    expect(page.locator("[data-pluck]")).to_have_count(3)
    expect(page.get_by_label("Spectrum of the clearest pluck")).to_be_visible()
    expect(page.locator('[data-free="hertz"]')).to_have_value(re.compile(r"^82\.0"))
    text = tmp_path / "text.wav"
    text.write_text("no sound at all")
    page.get_by_label("Sound file").set_input_files(text)
    refusal = page.get_by_role("alert").filter(has_text="It was not heard")
    expect(refusal).to_be_visible()
    # What was heard before is still there: nothing is lost.
    expect(page.locator('[data-free="hertz"]')).to_have_value(re.compile(r"^82\.0"))
    voice = tmp_path / "voice.wav"
    soundfile.write(voice, plucks.speech(np.random.default_rng(1)) / 4, RATE)
    page.get_by_label("Sound file").set_input_files(voice)
    expect(page.locator('[data-heard="not sure"], [data-heard=nothing]')).to_be_visible()


def test_without_a_microphone_the_page_says_so_and_takes_a_file(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/tune")
    settled(page)
    for name, says in (("NotAllowedError", "Allow it"), ("NotFoundError", "no microphone")):
        page.evaluate(
            """(name) => { navigator.mediaDevices.getUserMedia =
              () => Promise.reject(new DOMException('no', name)); }""",
            name,
        )
        page.get_by_role("button", name="Listen", exact=True).click()
        expect(page.get_by_role("alert").filter(has_text=says)).to_contain_text("open a sound file")
    expect(page.get_by_role("button", name="Open a sound file")).to_be_visible()


def test_each_belt_has_its_own_run_band_and_readings(
    page: Page, demo: Running, axes: dict[str, str], shown: Callable[[str], float]
) -> None:
    """Long way has an open belt and a closed one before it."""
    page.goto(f"{demo.url}/axis/{axes['Long way']}/tune")
    settled(page)
    open_span = page.locator('[data-free="span"]').input_value()
    which = page.get_by_role("combobox", name="Which belt")
    which.select_option("the closed belt")
    span = page.locator('[data-free="span"]')
    assert float(span.input_value()) == pytest.approx(shown("chain.1.span"), rel=1e-4)
    assert span.input_value() != open_span
    expect(page.get_by_text("by a scale")).to_have_count(0)
    # Pushed aside: F = 4·(T + ΔT)·δ/L, where the stretch of 4 mm in its run adds but little.
    page.get_by_text("by pushing").click()
    page.locator('[data-free="aside"]').fill("2")
    target, length = shown("chain.1.tension"), float(span.input_value())
    push = 4 * target * 2 / length
    page.locator('[data-free="force"]').fill(f"{push:.2f}")
    tension = page.locator('[data-result="tension.read"]')
    expect(tension).to_be_visible()
    settled(page)
    assert value(page, "tension.read") < target * 1.01
    page.get_by_role("button", name="Write it to the log").click()
    expect(page.get_by_text("Written down for")).to_be_visible()
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Log").click()
    expect(page.locator("[data-entry=tension]").first).to_contain_text("closed belt at stage 1")


def test_what_a_layout_has_not_its_tune_has_not(page: Page, bench: Running) -> None:
    """Every layout's Tune: a reading where there is a toothed belt, none where there is none; and the tension to
    set is the one that Build tightens to.
    """
    read = 0
    for machine in bench.ask("/shelf"):
        for axis in machine["axes"]:
            design = bench.ask(f"/axes/{axis['id']}")["design"]
            page.goto(f"{bench.url}/axis/{axis['id']}/tune")
            settled(page)
            closed = [j for j, s in enumerate(design["chain"]) if s["kind"] == "closed_belt"]
            belts = ("belt" in design["end"]) + len(closed)
            listens = page.get_by_role("button", name="Listen", exact=True)
            expect(listens).to_have_count(1 if belts else 0)
            expect(page.get_by_role("combobox", name="Which belt")).to_have_count(1 if belts > 1 else 0)
            if design["end"]["kind"] in ("screw", "rack", "spindle", "winch") and not closed:
                expect(page.get_by_text("Pluck it at its middle")).to_have_count(0)
            for j in closed:
                assert math.isfinite(value(page, f"chain.{j}.tension"))
            wheels = page.get_by_role("heading", name="Wheels", exact=True)
            if design["guide"]["kind"] != "wheels":
                expect(wheels).to_have_count(0)
            read += belts
    assert read >= 8


def test_a_ripple_names_the_parts_that_come_again_at_it(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    """36 mm is a turn of the motor of Long way, by hand; and nothing of it comes again every 9 mm."""
    page.goto(f"{demo.url}/axis/{axes['Long way']}/tune")
    settled(page)
    sheet = page.locator("[data-ripple]")
    sheet.locator('[data-free="spacing"]').fill("36.2")
    first = sheet.locator("[data-suspect]").first
    expect(first).to_contain_text("a turn of the motor")
    expect(first).to_contain_text("once")
    sheet.locator('[data-free="ripple-speed"]').fill("181")
    assert float(
        sheet.locator('[data-result="ripple.hz"]').get_attribute("data-value") or "nan"
    ) == pytest.approx(5.0)
    sheet.locator('[data-free="spacing"]').fill("9")
    expect(sheet).to_contain_text("No part of this axis comes again at that spacing")
    wheel = axes["Potter's wheel"]
    page.goto(f"{demo.url}/axis/{wheel}/tune")
    settled(page)
    expect(page.locator("[data-ripple]")).to_have_count(0)
