"""What a maker saves is not lost, and what is stored is what is shown: two windows, a full disk, a damaged
file, axes that cannot be read.
"""

from __future__ import annotations

import re
import resource
import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, expect
from running import Running, program, start

from browsing import add_stage, field, stage_kinds
from crisp_cadence.store import FILE_NAME

STEPS = ("aim", "drive", "belt", "shake", "build", "tune", "log")


@pytest.fixture(scope="module")
def running(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """One empty program for the tests that only work at an axis of their own."""
    with program(tmp_path_factory.mktemp("safe") / "data") as made:
        yield made


@pytest.fixture
def alone(tmp_path: Path) -> Iterator[Running]:
    with program(tmp_path / "data") as made:
        yield made


def new_axis(running: Running, layout: str = "carriage_loop", name: str = "Slide") -> str:
    machine = running.ask("/machines", {"name": "Bench"})["id"]
    return str(running.ask(f"/machines/{machine}/axes", {"name": name, "layout": layout})["id"])


def opened(page: Page, running: Running, axis: str, step: str = "aim") -> None:
    page.goto(f"{running.url}/axis/{axis}/{step}")
    expect(page.locator("[data-bench]")).to_have_attribute("aria-busy", "false")


def note(page: Page, text: str) -> None:
    field(page, "name").fill(text)


def named(page: Page) -> str:
    return page.locator('[data-path="name"]').input_value()


def state(page: Page, is_: str) -> None:
    expect(page.locator("[data-save]")).to_have_attribute("data-save", is_)


def fields(page: Page) -> dict[str, str]:
    """Every field on the page with what it shows."""
    return dict(
        page.evaluate(
            "() => [...document.querySelectorAll('main [data-path]')].map((e) => [e.dataset.path, "
            "e.type === 'checkbox' ? String(e.checked) : e.value])"
        )
    )


def at(design: Any, path: str) -> Any:
    for name in path.split("."):
        design = design[int(name)] if isinstance(design, list) else design.get(name)
    return design


def shows_what_is_stored(page: Page, running: Running, axis: str) -> dict[str, str]:
    """Fields of the page against the stored design: none is blank whose value is stored, and words and
    choices are the stored ones.
    """
    state(page, "saved")
    design = running.ask(f"/axes/{axis}")["design"]
    shown = fields(page)
    for path, text in shown.items():
        value = at(design, path)
        if isinstance(value, str):
            assert text == value, path
        elif isinstance(value, bool):
            assert text == str(value).lower(), path
        elif isinstance(value, (int, float)):
            assert float(text.replace("\u202f", "").replace("−", "-")) == pytest.approx(value, rel=1e-5), path
        else:
            assert (value, text) == (None, ""), path
    return shown


@pytest.mark.parametrize("layout", ["carriage_loop", "crossed_belts", "screw"])
def test_every_kind_of_stage_that_is_added_shows_what_is_stored(
    page: Page, running: Running, layout: str
) -> None:
    axis = new_axis(running, layout)
    opened(page, running, axis, "drive")
    kinds = stage_kinds(page)
    assert len(kinds) >= 5
    for kind in (name.replace(" ", "_") for name in kinds):
        page.locator("#node-field").click()
        add_stage(page, kind.replace("_", " "))
        expect(page.locator("[data-bench]")).to_have_attribute("aria-busy", "false")
        state(page, "saved")
        assert running.ask(f"/axes/{axis}")["design"]["chain"][1]["kind"] == kind
        place = 1
        expect(page.locator(f'[data-form="chain.{place}"]')).to_have_attribute("data-kind", kind)
        before = shows_what_is_stored(page, running, axis)
        assert len(before) > 3
        page.reload()
        page.locator(f"#node-chain\\.{place}").click()
        expect(page.locator(f'[data-form="chain.{place}"]')).to_have_attribute("data-kind", kind)
        assert fields(page) == before, f"{kind} looked different before the reload"
        page.get_by_role("button", name="Take it out").click()
        state(page, "saved")


def test_a_motor_of_another_kind_shows_what_is_stored(page: Page, running: Running) -> None:
    axis = new_axis(running, "power_feed")
    opened(page, running, axis, "drive")
    for kind in ("induction", "stepper", "gearmotor"):
        page.get_by_label("Kind of motor").select_option(kind)
        expect(page.locator('[data-form="chain.0"]')).to_have_attribute("data-kind", kind)
        before = shows_what_is_stored(page, running, axis)
        page.reload()
        expect(page.locator('[data-form="chain.0"]')).to_have_attribute("data-kind", kind)
        assert fields(page) == before


def test_a_layout_that_is_taken_shows_what_is_stored(page: Page, running: Running) -> None:
    axis = new_axis(running)
    for layout, end in (("joint", "joint"), ("gantry", "carriage_loop"), ("drum", "drum")):
        opened(page, running, axis)
        page.get_by_role("button", name="Change it").click()
        page.locator(f'[data-card="{layout}"]').click()
        page.get_by_role("button", name="Take this layout").click()
        state(page, "saved")
        assert running.ask(f"/axes/{axis}")["design"]["end"]["kind"] == end
        page.get_by_role("navigation", name="Steps").get_by_role("link", name="Drive").click()
        expect(page.locator("main [data-drive-line]")).to_be_visible()
        before = shows_what_is_stored(page, running, axis)
        page.reload()
        expect(page.locator("main [data-drive-line]")).to_be_visible()
        expect(
            page.locator("main [data-form] [data-path]").first
        ).to_be_visible()  # the editor comes after the line
        assert fields(page) == before


@pytest.mark.parametrize("layout", ["belt_reduction", "crossed_belts", "screw", "rack"])
def test_every_kind_of_part_that_is_taken_shows_what_is_stored(
    page: Page, running: Running, layout: str
) -> None:
    """Each picker of the Drive step, on a loop with a closed belt, on crossed belts, and on two that are no
    belts.
    """
    axis = new_axis(running, layout)
    opened(page, running, axis, "drive")
    expect(page.locator("[data-part]").first).to_be_visible()
    taken = set()
    for node in page.locator("[data-part]").evaluate_all("(all) => all.map((n) => n.dataset.part)"):
        page.locator(f'[data-part="{node}"]').click()
        before: dict[str, str] = {}
        for label in page.get_by_role("button", name=re.compile("from the drawer$")).all_inner_texts():
            for index in range(page.get_by_role("button", name=label, exact=True).count()):
                page.get_by_role("button", name=label, exact=True).nth(index).click()
                dialog = page.get_by_role("dialog")
                row = dialog.get_by_role("button", name=re.compile("^Take ")).nth(3)
                name = (row.get_attribute("aria-label") or "").removeprefix("Take ")
                row.click()
                expect(dialog).to_have_count(0)
                expect(page.locator("[data-bench]")).to_have_attribute("aria-busy", "false")
                before = shows_what_is_stored(page, running, axis)
                assert name in before.values(), f"{name} is named where it was put"
                taken.add(label)
        if before:
            page.reload()
            page.locator(f'[data-part="{node}"]').click()
            expect(page.locator("main [data-form]").first).to_be_visible()
            assert fields(page) == before, f"{node} looked different before the reload"
    assert "Stepper from the drawer" in taken
    assert len(taken) >= 3, taken


def test_two_windows_keep_both_designs_through_closing_and_reopening_each(
    context: BrowserContext, running: Running
) -> None:
    axis = new_axis(running)
    a, b = context.new_page(), context.new_page()
    for page in (a, b):
        opened(page, running, axis)
    note(a, "From A")
    state(a, "saved")
    note(b, "From B")
    expect(b.get_by_text("Another window has set the same to something else")).to_be_visible()
    note(a, "From A, later")
    state(a, "saved")  # one shared key, and this save removed what the banner of B had promised to keep

    b.close()
    a.close()
    b = context.new_page()
    opened(b, running, axis)
    expect(b.get_by_text("Another window has set the same to something else")).to_be_visible()
    assert named(b) == "From B"
    b.reload()
    expect(b.get_by_text("Another window has set the same to something else")).to_be_visible()

    a = context.new_page()
    opened(a, running, axis)
    expect(a.locator('[data-path="name"]')).to_have_value("From A, later")
    expect(a.get_by_text("An unsaved change")).to_have_count(0)
    a.close()

    b.get_by_role("button", name="Take theirs").click()
    expect(b.locator('[data-path="name"]')).to_have_value("From A, later")
    b.get_by_role("button", name="Undo").first.click()
    expect(b.locator('[data-path="name"]')).to_have_value("From B")
    state(b, "saved")
    assert running.ask(f"/axes/{axis}")["design"]["name"] == "From B"
    b.reload()
    expect(b.locator('[data-path="name"]')).to_have_value("From B")
    assert b.evaluate("Object.keys(localStorage).filter((k) => k.includes('unsaved'))") == []


def test_drafts_of_two_windows_that_were_closed_are_both_found(
    context: BrowserContext, alone: Running
) -> None:
    axis = new_axis(alone)
    a, b = context.new_page(), context.new_page()
    for page in (a, b):
        opened(page, alone, axis)
    pid = alone.process.pid
    unlimited = resource.prlimit(pid, resource.RLIMIT_FSIZE)
    resource.prlimit(
        pid, resource.RLIMIT_FSIZE, (1000, unlimited[1])
    )  # a disk that is full; a window saves what it can when it is closed
    note(a, "From A")
    state(a, "failing")
    note(b, "From B")
    state(b, "failing")
    a.close()
    b.close()
    c = context.new_page()
    opened(c, alone, axis)
    expect(c.locator('[data-path="name"]')).to_have_value("From B")
    expect(c.get_by_text("An unsaved change of this axis was found")).to_be_visible()
    # only now is there room again: what a closing window sends last would else be stored, rightly
    resource.prlimit(pid, resource.RLIMIT_FSIZE, unlimited)
    c.get_by_role("button", name="Take it up").click()
    expect(c.locator('[data-path="name"]')).to_have_value("From A")
    state(c, "saved")
    c.get_by_role("button", name="Undo").first.click()
    expect(c.locator('[data-path="name"]')).to_have_value("From B")


def test_a_full_disk_is_told_in_words_and_saved_by_itself_once_there_is_room(
    page: Page, alone: Running
) -> None:
    axis = new_axis(alone)
    opened(page, alone, axis)
    pid = alone.process.pid
    unlimited = resource.prlimit(pid, resource.RLIMIT_FSIZE)
    resource.prlimit(pid, resource.RLIMIT_FSIZE, (1000, unlimited[1]))
    note(page, "While it was full")
    expect(page.get_by_text("The disk did not take what was to be written")).to_be_visible()
    note(page, "While it was still full")
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Drive").click()
    page.get_by_role("button", name="Undo").first.click()
    page.get_by_role("button", name="Redo").first.click()
    expect(page.get_by_text("The disk did not take what was to be written")).to_be_visible()
    resource.prlimit(pid, resource.RLIMIT_FSIZE, unlimited)
    state(page, "saved")
    expect(page.get_by_text("Not saved yet")).to_have_count(0)
    assert alone.ask(f"/axes/{axis}")["design"]["name"] == "While it was still full"


def test_a_foreign_lock_and_an_axis_taken_off_are_told_in_words(
    page: Page, alone: Running, tmp_path: Path
) -> None:
    axis = new_axis(alone)
    opened(page, alone, axis)
    other = sqlite3.connect(tmp_path / "data" / FILE_NAME, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    note(page, "Locked out")
    expect(page.get_by_text("Another program has locked crisp-cadence.sqlite3.")).to_be_visible()
    other.execute("ROLLBACK")
    other.close()
    state(page, "saved")
    alone.ask(f"/axes/{axis}", method="DELETE")
    note(page, "Taken off meanwhile")
    expect(page.get_by_text("This axis is not on the shelf.")).to_be_visible()
    alone.ask(f"/axes/{axis}/back", method="POST")
    state(page, "saved")
    assert alone.ask(f"/axes/{axis}")["design"]["name"] == "Taken off meanwhile"


def test_undo_goes_on_through_saved_revisions_after_a_reload(page: Page, running: Running) -> None:
    axis = new_axis(running)
    opened(page, running, axis)
    for text in ("One", "Two"):
        note(page, text)
        state(page, "saved")
    page.reload()
    expect(page.locator('[data-path="name"]')).to_have_value("Two")
    page.get_by_role("button", name="Undo").first.click()
    expect(page.locator('[data-path="name"]')).to_have_value("One")
    page.get_by_role("button", name="Undo").first.click()
    expect(page.locator('[data-path="name"]')).to_have_value("Slide")
    expect(page.get_by_role("button", name="Undo").first).to_be_disabled()
    page.get_by_role("button", name="Redo").first.click()
    page.get_by_role("button", name="Redo").first.click()
    expect(page.locator('[data-path="name"]')).to_have_value("Two")
    state(page, "saved")


@pytest.mark.parametrize(
    ("layout", "field", "value"),
    [
        ("carriage_loop", "end.pulley.hub_mm", "5"),
        ("gantry", "end.pulley.teeth", "6"),
        ("screw", "guide.rail_mm", "60"),
    ],
)
def test_a_design_that_cannot_be_worked_out_says_so_on_every_step(
    page: Page, running: Running, layout: str, field: str, value: str
) -> None:
    axis = new_axis(running, layout)
    opened(page, running, axis, "aim")
    design = running.ask(f"/axes/{axis}")["design"]
    before = page.locator("aside").inner_text()
    assert "cannot be worked out" not in before
    *way, last = field.split(".")
    here = design
    for name in way:
        here = here[name]
    here[last] = float(value) if last != "teeth" else int(value)
    if field == "end.pulley.hub_mm":
        here["bore_mm"], here["fixing"]["kind"] = 4.0, "press fit"
    running.ask(f"/axes/{axis}", {"base_version": 1, "design": design}, "PUT")
    page.goto(running.url)
    expect(page.locator(f'a[href^="/axis/{axis}/"]')).to_contain_text("cannot be worked out")
    for step in STEPS:
        opened(page, running, axis, step)
        expect(page.get_by_role("alert").filter(has_text="This design cannot be worked out")).to_be_visible()
        aside = page.locator("aside").inner_text()
        assert "cannot be worked out" in aside
        assert not re.search(r"\bholds\b", aside), step
    page.get_by_role("button", name=re.compile("^Go to ")).click()
    expect(page.locator(f'[data-path="{field}"]')).to_be_focused()


def test_what_was_last_worked_out_is_struck_out_and_comes_back_with_undo(
    page: Page, running: Running
) -> None:
    opened(page, running, new_axis(running))
    field(page, "guide.rail_mm").fill("60")
    expect(page.get_by_text("What is struck out below belongs to the last design")).to_be_visible()
    struck = page.locator('main [data-result="travel.usable"]').first
    assert "line-through" in struck.evaluate("(e) => getComputedStyle(e).textDecorationLine")
    page.get_by_role("button", name="Undo").first.click()
    expect(page.get_by_text("This design cannot be worked out")).to_have_count(0)
    assert "line-through" not in struck.evaluate("(e) => getComputedStyle(e).textDecorationLine")


def test_an_axis_that_cannot_be_read_is_on_the_shelf_and_goes_back(
    page: Page, alone: Running, tmp_path: Path
) -> None:
    axis = new_axis(alone)
    design = alone.ask(f"/axes/{axis}")["design"]
    alone.ask(f"/axes/{axis}", {"base_version": 1, "design": {**design, "note": "second"}}, "PUT")
    with sqlite3.connect(tmp_path / "data" / FILE_NAME) as db:
        db.execute('UPDATE revision SET design = \'{"name": "Slide", "version": 3}\' WHERE number = 2')
    db.close()
    page.goto(alone.url)
    line = page.get_by_role("link", name="Slide")
    expect(line).to_contain_text("cannot be read")
    line.click()
    expect(page.get_by_role("heading", name="Slide")).to_be_visible()
    expect(page.get_by_role("alert")).to_contain_text("was written by a newer version of this program")
    with page.expect_download() as got:
        page.get_by_role("link", name="Save it as a file").click()
    assert Path(got.value.path()).read_text() == '{"name": "Slide", "version": 3}'
    page.get_by_role("button", name="Go back to revision 1").click()
    expect(page.get_by_role("heading", name="Travel budget")).to_be_visible()
    assert alone.ask(f"/axes/{axis}")["version"] == 3


def test_a_load_that_is_not_known_is_told_beneath_and_can_be_let_go(
    page: Page, alone: Running, tmp_path: Path
) -> None:
    low = new_axis(alone, name="Low")
    machine = alone.ask("/shelf")[0]["id"]
    high = alone.ask(f"/machines/{machine}/axes", {"name": "High", "layout": "rack"})["id"]
    alone.ask(f"/axes/{high}/rides", {"on": low}, "PUT")
    with sqlite3.connect(tmp_path / "data" / FILE_NAME) as db:
        db.execute(
            "UPDATE axis SET rides_on = ? WHERE id = ?", (high, low)
        )  # a circle, as an earlier program could make one
    db.close()
    opened(page, alone, low)
    expect(page.get_by_role("alert").filter(has_text="goes round in a circle")).to_be_visible()
    page.get_by_label("This axis rides on").select_option("")
    expect(page.get_by_text("This design cannot be worked out")).to_have_count(0)


def test_a_damaged_file_is_opened_for_reading_and_rescued(page: Page, tmp_path: Path) -> None:
    folder = tmp_path / "data"
    with program(folder, "demo") as running:
        axes = sum(len(x["axes"]) for x in running.ask("/shelf"))
    with sqlite3.connect(folder / FILE_NAME) as db:
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        root = db.execute("SELECT rootpage FROM sqlite_master WHERE name = 'stock'").fetchone()[0]
        data = (folder / FILE_NAME).read_bytes()
        page_size = db.execute("PRAGMA page_size").fetchone()[0]
        leaf = int.from_bytes(data[(root - 1) * page_size + 8 : (root - 1) * page_size + 12])
    db.close()
    with (folder / FILE_NAME).open("r+b") as file:
        file.seek((leaf - 1) * page_size)
        file.write(b"\xa5" * page_size)
    running = start(folder)
    try:
        page.goto(running.url)
        expect(page.get_by_role("alert")).to_contain_text("is damaged (")
        expect(page.get_by_text("Aisle")).to_be_visible()
        page.get_by_role("button", name="Rescue what can be read").click()
        expect(page.get_by_text(f"{axes} axes with")).to_be_visible()
        expect(page.get_by_text("The data file is damaged")).to_have_count(0)
        assert running.ask("/machines", {"name": "Takes saves again"})["id"]
    finally:
        running.stop()
        assert running.process.stdout is not None
        running.process.stdout.close()


def test_a_data_file_that_was_deleted_is_told_and_written_again(
    page: Page, alone: Running, tmp_path: Path
) -> None:
    axis = new_axis(alone)
    opened(page, alone, axis)
    for piece in (tmp_path / "data").iterdir():
        piece.unlink()
    note(page, "After it went")
    expect(page.get_by_text("was deleted, moved or replaced while the program ran")).to_be_visible()
    other = page.context.new_page()
    other.goto(alone.url)
    other.get_by_role("button", name="Write it again").click()
    expect(other.get_by_text("1 axes with 1 revisions")).to_be_visible()
    state(page, "saved")
    assert (tmp_path / "data" / FILE_NAME).exists()
    assert alone.ask(f"/axes/{axis}")["design"]["name"] == "After it went"


def test_two_windows_on_the_drawer(context: BrowserContext, running: Running) -> None:
    a, b = context.new_page(), context.new_page()
    for page in (a, b):
        page.goto(f"{running.url}/drawer")
        page.get_by_label("Search").fill("Washer M5")
        expect(page.get_by_label("How many Washer M5", exact=True)).to_have_value("0")
    mine, theirs = (page.get_by_label("How many Washer M5", exact=True) for page in (a, b))
    mine.fill("12")
    mine.blur()
    expect(a.locator('[data-row="washer:washer-m5"]')).to_contain_text("Washer M5")
    theirs.fill("7")
    theirs.blur()
    expect(b.get_by_role("alert")).to_contain_text("Another window set 12 here")
    expect(theirs).to_have_value("7")
    with b.expect_response(lambda r: r.request.method == "PUT"):
        b.get_by_role("button", name="Keep mine").click()
    expect(b.get_by_role("alert")).to_have_count(0)
    assert next(r for r in running.ask("/drawer") if r["key"] == "washer:washer-m5")["quantity"] == 7
