"""Tune in the browser: a belt is heard through the microphone or from a file, each belt has its own readings, and
what an axis has not, its screen has not.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

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
        page.locator("[data-measure]").get_by_role("button", name="Write it to the log").click()
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
    page.locator("[data-measure]").get_by_role("button", name="Write it to the log").click()
    expect(page.get_by_text("Written down for")).to_be_visible()
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Log").click()
    expect(page.locator("[data-entry=tension]").first).to_contain_text("the closed belt")


def written(page: Page, sheet: str) -> None:
    """The reading in a sheet goes into the log."""
    button = page.locator(sheet).get_by_role("button", name="Write it to the log")
    expect(button).to_be_enabled()
    button.click()
    expect(page.locator(sheet).get_by_text("Written down for")).to_be_visible()


def read_belt(page: Page, belt: dict[str, Any]) -> float:
    """Push a belt aside so that it reads its target, by hand: F = 4·T·δ/L, and a little for the stretch."""
    if page.get_by_role("combobox", name="Which belt").count():
        page.get_by_role("combobox", name="Which belt").select_option(belt["name"])
    sheet = page.locator(f'[data-measure="{belt["of"]}"]')
    sheet.get_by_text("by pushing").click()
    span = float(sheet.locator('[data-free="span"]').input_value())
    assert span == pytest.approx(belt["span_mm"], rel=1e-4)
    aside = span / 200  # so little that the stretch is some per cent at most
    sheet.locator('[data-free="aside"]').fill(f"{aside:.4f}")
    sheet.locator('[data-free="force"]').fill(f"{4 * belt['target_n'] * aside / span:.5f}")
    expect(page.locator('[data-result="tension.read"]')).to_be_visible()
    settled(page)
    read = value(page, "tension.read")
    assert belt["target_n"] * 0.55 < read <= belt["target_n"] * 1.001
    return read


def test_every_layout_goes_from_target_to_log(page: Page, bench: Running) -> None:
    """What a layout has is measured on its own screen and stands in its log; what it has not is not there. The
    tensions are those that Build tightens to, and every number is held against one made by hand.
    """
    walked = belts = tries = 0
    for machine in bench.ask("/shelf"):
        for axis in machine["axes"]:
            design = bench.ask(f"/axes/{axis['id']}")["design"]
            has = bench.ask("/bench", {"design": design})
            page.goto(f"{bench.url}/axis/{axis['id']}/tune")
            settled(page)
            heard = bool(has["belts"]) and has["belts"][0]["ways"][0] == "pluck"
            expect(page.get_by_role("button", name="Listen", exact=True)).to_have_count(int(heard))
            for part, there in (
                ("[data-square]", has["square"]),
                ("[data-calibrate]", has["scale"]),
                ("[data-moves]", has["moves"]),
                ("[data-wheels]", has["wheels"]),
                ("[data-trials]", has["trials"]),
            ):
                expect(page.locator(part)).to_have_count(1 if there else 0)
            readings = [read_belt(page, belt) for belt in has["belts"][:1]]
            for _ in readings:
                written(page, "[data-measure]")
                belts += 1
            trial = has["trials"][0]
            page.locator(f'[data-trial="{trial["key"]}"] button').click()
            right = trial["expected"] if trial["expected"] is not None else trial["high"] / 2
            page.locator('[data-free="read-0"]').fill(f"{right:.6g}")
            expect(page.locator("[data-trial-verdict=right]")).to_be_visible()
            written(page, "[data-trying]")
            tries += 1
            if has["scale"]:
                duty = has["scale"]["kind"] == "duty"
                for i, (commanded, measured) in enumerate(
                    ((40, 8.0), (80, 18.0)) if duty else ((100, 100.2), (200, 200.4))
                ):
                    page.locator(f'[data-free="commanded-{i}"]').fill(str(commanded))
                    page.locator(f'[data-free="measured-{i}"]').fill(str(measured))
                shown = page.locator('[data-result="calibrated"]')
                wanted = 23.0 if duty else has["scale"]["now"] / 1.002
                expect(shown).to_be_visible()
                assert value(page, "calibrated") == pytest.approx(wanted, rel=1e-6)
                written(page, "[data-calibrate]")
            kept = bench.ask(f"/axes/{axis['id']}/log")
            by_kind = {e["kind"]: e["reading"] for e in kept}
            assert set(by_kind) == {
                "check",
                *(["tension"] if readings else []),
                *(["calibration"] if has["scale"] else []),
            }
            if readings:
                assert by_kind["tension"]["tension_n"] == pytest.approx(readings[0], rel=1e-6)
                assert by_kind["tension"]["of"] == has["belts"][0]["of"]
            assert by_kind["check"]["mean"] == pytest.approx(right, rel=1e-5)
            page.get_by_role("navigation", name="Steps").get_by_role("link", name="Log").click()
            expect(page.locator("[data-entry]")).to_have_count(len(kept))
            expect(page.locator("[data-entry=check]")).to_contain_text(trial["name"])
            page.reload()
            expect(page.locator("[data-entry]")).to_have_count(len(kept))
            walked += 1
    assert (walked, tries) == (13, 13)
    assert belts >= 8


def test_a_beam_is_squared_and_its_readings_teach(page: Page, demo: Running, axes: dict[str, str]) -> None:
    """Diagonals by Pythagoras: 0.9 mm ahead over 400; the lead grows with the width between the sides."""
    page.goto(f"{demo.url}/axis/{axes['Loader']}/tune")
    settled(page)
    page.get_by_text("Measure its square").click()
    rising, falling = math.hypot(400, 300.9), math.hypot(400, 299.1)
    for name, length in (
        ("across_mm", 400),
        ("along_mm", 300),
        ("rising_mm", rising),
        ("falling_mm", falling),
    ):
        page.locator(f'[data-free="{name}"]').fill(f"{length:.4f}")
    width = demo.ask(f"/axes/{axes['Loader']}")["design"]["sides"]["width_mm"]
    expect(page.locator("[data-square-verdict]")).to_be_visible()
    assert value(page, "square.lead") == pytest.approx(0.9 / 400 * width, rel=1e-3)
    written(page, "[data-square]")
    # A give of twice what is predicted: the lesson names a part, and keeping it is one step of undo.
    give = next(
        t
        for t in demo.ask("/bench", {"design": demo.ask(f"/axes/{axes['Loader']}")["design"]})["trials"]
        if t["key"] == "give"
    )
    page.locator('[data-trial="give"] button').click()
    page.locator('[data-free="read-0"]').fill(f"{2.2 * give['expected']:.4g}")
    written(page, "[data-trying]")
    lesson = page.locator("[data-teach]")
    expect(lesson.locator("[data-lesson=off]")).to_be_visible()
    expect(lesson.locator("[data-compared=give]")).to_contain_text("disagrees")
    lesson.get_by_role("button", name=re.compile("^Keep ")).first.click()
    settled(page)
    expect(lesson.locator("[data-compared=give]")).to_contain_text(re.compile("(?<!dis)agrees"))


def test_a_calibration_remembers_the_tension_that_it_was_made_at(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    """The tension that was read last tells what of the error it made, and is kept beside the steps."""
    axis = axes["Reach"]
    reading = {"how": "pluck", "of": "end", "span_mm": 261.0, "frequency_hz": 78.0}
    body = {"on_date": "2026-05-01", "kind": "note", "says": "", "cost": None, "reading": reading}
    demo.ask(f"/axes/{axis}/log", body)
    (entry,) = demo.ask(f"/axes/{axis}/log")
    tension = entry["reading"]["tension_n"]
    page.goto(f"{demo.url}/axis/{axis}/tune")
    settled(page)
    page.get_by_role("button", name="Another move").click()
    for i, (commanded, measured) in enumerate(((100, 100.2), (200, 200.41), (200, 200.3))):
        page.locator(f'[data-free="commanded-{i}"]').fill(str(commanded))
        page.locator(f'[data-free="measured-{i}"]').fill(str(measured))
    page.locator("[data-calibrate]").get_by_label("after turning round").nth(2).check()
    expect(page.locator('[data-result="calibrated.play"]')).to_be_visible()
    assert value(page, "calibrated.play") == pytest.approx(0.109, abs=0.002)
    page.get_by_role("button", name="as the tension it was calibrated at").click()
    expect(page.locator("[data-save=saved]")).to_contain_text("rev. 2")
    measured = demo.ask(f"/axes/{axis}")["design"]["measured"]
    assert measured == [{"field": "end.belt.calibrated_at_n", "value": pytest.approx(tension, rel=1e-3)}]


def test_test_moves_are_saved_as_a_file_within_the_soft_limits(
    page: Page, demo: Running, axes: dict[str, str]
) -> None:
    page.goto(f"{demo.url}/axis/{axes['Aisle']}/tune")
    settled(page)
    moves = page.locator("[data-moves]")
    moves.get_by_text("Make a test").click()
    with page.expect_download() as saved:
        moves.get_by_role("button", name="Save the file").click()
    text = Path(saved.value.path()).read_text(encoding="ascii")
    places = [float(x) for x in re.findall(r"^G1 X(-?[\d.]+)", text, re.M)]
    assert len(places) > 20
    assert 0 <= min(places) < max(places) <= 1550
    moves.locator('[data-free="move-length"]').fill("9 m")
    expect(moves.get_by_role("alert")).to_contain_text("soft limit")


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
    # In a picture where 30 mm of the work are 120, one turn is 144.
    sheet.get_by_text("Measured in a picture").click()
    sheet.locator('[data-free="known"]').fill("30")
    sheet.locator('[data-free="pictured"]').fill("120")
    sheet.locator('[data-free="spacing"]').fill("144.4")
    expect(first).to_contain_text("a turn of the motor")
    wheel = axes["Potter's wheel"]
    page.goto(f"{demo.url}/axis/{wheel}/tune")
    settled(page)
    expect(page.locator("[data-ripple]")).to_have_count(0)
