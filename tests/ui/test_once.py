"""Nothing is lost where the system says offline, nothing pressed twice acts twice, and two windows keep each other's
changes.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, Route, expect
from running import Running, program

from browsing import add_stage, field

CABLE_OUT = """
Object.defineProperty(navigator, 'onLine', { get: () => window.__online !== false });
window.cableOut = () => { window.__online = false; window.dispatchEvent(new Event('offline')); };
"""
SAYS = "Belt creaks at the far end"


@pytest.fixture(scope="module")
def running(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    with program(tmp_path_factory.mktemp("once") / "data") as made:
        yield made


@pytest.fixture
def machine(running: Running) -> str:
    return str(running.ask("/machines", {"name": "Bench"})["id"])


@pytest.fixture
def axis(running: Running, machine: str) -> str:
    body = {"name": "Slide", "layout": "belt_reduction"}
    return str(running.ask(f"/machines/{machine}/axes", body)["id"])


def opened(page: Page, running: Running, axis: str, step: str) -> None:
    page.goto(f"{running.url}/axis/{axis}/{step}")
    expect(page.locator("[data-bench]")).to_have_attribute("aria-busy", "false")


def entries(running: Running, axis: str) -> list[str]:
    return [e["says"] for e in running.ask(f"/axes/{axis}/log")]


def losing(page: Page, path: str) -> Callable[[], None]:
    """The next answer of that path is lost on its way, after the program has done what was asked."""
    lost: list[str] = []

    def lose(route: Route) -> None:
        if lost or route.request.method == "GET":
            route.continue_()
            return
        lost.append(route.request.url)
        route.fetch()
        route.abort()

    page.route(path, lose)
    return lambda: page.unroute(path, lose)


def test_what_is_written_down_while_the_system_says_offline_arrives(
    page: Page, running: Running, axis: str
) -> None:
    page.add_init_script(CABLE_OUT)
    opened(page, running, axis, "log")
    page.evaluate("cableOut()")
    assert page.evaluate("navigator.onLine") is False
    page.get_by_label("What happened").fill(SAYS)
    page.get_by_role("button", name="Write it down").click()
    expect(page.locator("[data-entry]")).to_contain_text(SAYS)
    assert entries(running, axis) == [SAYS]
    page.goto(f"{running.url}/drawer")  # a query that begins offline
    page.get_by_label("Search").fill("Washer M5")
    expect(page.get_by_label("How many Washer M5", exact=True)).to_be_visible()


def test_a_browser_whose_whole_network_is_cut_says_so_and_goes_on_after(
    page: Page, context: BrowserContext, running: Running, axis: str
) -> None:
    opened(page, running, axis, "log")
    context.set_offline(True)
    page.get_by_label("What happened").fill(SAYS)
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_role("alert").filter(has_text="It is not written down")).to_be_visible()
    context.set_offline(False)
    page.get_by_role("button", name="Write it down").click()
    expect(page.locator("[data-entry]")).to_contain_text(SAYS)
    assert entries(running, axis) == [SAYS]


def test_a_double_click_writes_once(page: Page, running: Running, axis: str) -> None:
    opened(page, running, axis, "log")
    page.get_by_label("What happened").fill(SAYS)
    page.get_by_role("button", name="Write it down").dblclick()
    expect(page.locator("[data-entry]")).to_have_count(1)
    page.reload()
    expect(page.locator("[data-entry]")).to_have_count(1)
    assert entries(running, axis) == [SAYS]


def test_an_answer_that_is_lost_does_not_double_what_is_pressed_again(
    page: Page, running: Running, axis: str
) -> None:
    opened(page, running, axis, "log")
    found = losing(page, "**/api/axes/*/log")
    page.get_by_label("What happened").fill(SAYS)
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_role("alert").filter(has_text="It is not written down")).to_be_visible()
    assert entries(running, axis) == [SAYS], "done, but nobody told the page"
    found()
    page.get_by_role("button", name="Write it down").click()
    expect(page.get_by_label("What happened")).to_have_value("")
    assert entries(running, axis) == [SAYS]


def test_a_machine_whose_answer_is_lost_is_made_once(page: Page, running: Running) -> None:
    page.goto(f"{running.url}/")
    name = "Lost and found"
    page.get_by_role("button", name="New machine").click()
    found = losing(page, "**/api/machines")
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_role("button", name="Put it on the shelf").click()
    expect(page.get_by_role("alert").filter(has_text="not on the shelf")).to_be_visible()
    found()
    page.get_by_role("button", name="Put it on the shelf").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    assert [m["name"] for m in running.ask("/shelf")].count(name) == 1


def with_parcels(running: Running, machine: str, names: str = "ABC") -> None:
    version = running.ask(f"/machines/{machine}")["version"]
    bought = [{"what": f"Parcel {n}", "price": 1.0, "ordered": "2026-11-02"} for n in names]
    running.ask(f"/machines/{machine}/plan", {"base_version": version, "plan": {"bought": bought}}, "PUT")


def parcels(running: Running, machine: str) -> dict[str, Any]:
    return {p["what"][-1]: p for p in running.ask(f"/machines/{machine}")["plan"]["bought"]}


def test_two_clicks_take_one_parcel_out_and_undo_brings_it_back(
    page: Page, running: Running, machine: str, axis: str
) -> None:
    with_parcels(running, machine)
    page.goto(f"{running.url}/machine/{machine}")
    page.get_by_role("button", name="Take Parcel A out").dblclick()
    expect(page.locator("[data-parcel]")).to_have_count(2)
    assert list(parcels(running, machine)) == ["B", "C"]
    page.get_by_role("button", name="Parcel C arrived").click()
    expect(page.get_by_role("button", name="Parcel C checked")).to_be_visible()
    assert [n for n, p in parcels(running, machine).items() if p["arrived"]] == ["C"]
    for left in (["B", "C"], ["A", "B", "C"]):
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.locator("[data-parcel]")).to_have_count(len(left))
    assert not any(p["arrived"] for p in parcels(running, machine).values())
    page.get_by_role("button", name="Redo", exact=True).click()
    expect(page.locator("[data-parcel]")).to_have_count(2)
    page.reload()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.locator("[data-parcel]")).to_have_count(3)


def test_what_was_bought_for_a_stage_stays_with_it_when_another_is_put_before(
    page: Page, running: Running, machine: str, axis: str
) -> None:
    chain = running.ask(f"/axes/{axis}")["design"]["chain"]
    at = next(i for i, s in enumerate(chain) if s["kind"] == "closed_belt")
    line = f"{axis}:chain.{at}.belt"
    version = running.ask(f"/machines/{machine}")["version"]
    parcel = {
        "what": "Parcel A",
        "shares": [{"line": line, "quantity": 1}],
        "price": 9.0,
        "ordered": "2026-11-02",
        "arrived": "2026-11-04",
    }
    running.ask(f"/machines/{machine}/plan", {"base_version": version, "plan": {"bought": [parcel]}}, "PUT")
    opened(page, running, axis, "drive")
    page.locator("#node-field").click()
    add_stage(page, "gearbox")
    expect(page.locator("[data-save]")).to_have_attribute("data-save", "saved")
    design = running.ask(f"/axes/{axis}")["design"]
    assert [s["kind"] for s in design["chain"]][at : at + 2] == ["gearbox", "closed_belt"]
    assert design["chain"][at + 1]["belt"]["in_stock"]
    lines = {x["line"]: x for x in running.ask(f"/machines/{machine}")["report"]["lines"]}
    assert lines[line]["state"] in ("here", "arrived", "checked")
    assert "belt" in lines[line]["what"].lower()


def number(page: Page, path: str) -> str:
    return page.locator(f'[data-path="{path}"]').input_value()


def test_two_windows_change_different_fields_of_an_axis_and_both_stand(
    context: BrowserContext, running: Running, axis: str
) -> None:
    a, b = context.new_page(), context.new_page()
    for page in (a, b):
        opened(page, running, axis, "aim")
    field(a, "aim.speed_mm_s").fill("123")
    expect(a.locator("[data-save]")).to_have_attribute("data-save", "saved")
    field(b, "aim.travel_mm").fill("321")
    expect(b.locator("[data-laid]")).to_contain_text("speed")
    expect(b.locator('[data-path="aim.speed_mm_s"]')).to_have_value("123")
    expect(b.locator("[data-save]")).to_have_attribute("data-save", "saved")
    aim = running.ask(f"/axes/{axis}")["design"]["aim"]
    assert (aim["speed_mm_s"], aim["travel_mm"]) == (123, 321)
    b.get_by_role("button", name="Undo", exact=True).first.click()
    expect(b.locator("[data-save]")).to_have_attribute("data-save", "saved")
    aim = running.ask(f"/axes/{axis}")["design"]["aim"]
    assert aim["speed_mm_s"] == 123, "undo takes back what this window did, nothing else"


def test_two_windows_change_the_same_field_and_are_asked_with_both_values(
    context: BrowserContext, running: Running, axis: str
) -> None:
    a, b = context.new_page(), context.new_page()
    for page in (a, b):
        opened(page, running, axis, "aim")
    field(a, "aim.speed_mm_s").fill("123")
    expect(a.locator("[data-save]")).to_have_attribute("data-save", "saved")
    field(b, "aim.speed_mm_s").fill("456")
    asked = b.locator("[data-clash]")
    expect(asked).to_contain_text("456")
    expect(asked).to_contain_text("123")
    b.get_by_role("button", name="Keep mine").click()
    expect(b.locator("[data-save]")).to_have_attribute("data-save", "saved")
    assert running.ask(f"/axes/{axis}")["design"]["aim"]["speed_mm_s"] == 456


def test_two_windows_on_a_machine_keep_both_their_changes(
    context: BrowserContext, running: Running, machine: str, axis: str
) -> None:
    with_parcels(running, machine)
    a, b = context.new_page(), context.new_page()
    for page in (a, b):
        page.goto(f"{running.url}/machine/{machine}")
        expect(page.locator("[data-parcel]")).to_have_count(3)
    a.get_by_role("button", name="Parcel A arrived").click()
    expect(a.get_by_role("button", name="Parcel A checked")).to_be_visible()
    b.get_by_role("button", name="Take Parcel B out").click()
    expect(b.locator("[data-parcel]")).to_have_count(2)
    expect(b.get_by_role("button", name="Parcel A checked")).to_be_visible()
    assert [(n, bool(p["arrived"])) for n, p in parcels(running, machine).items()] == [
        ("A", True),
        ("C", False),
    ]


def test_two_windows_on_one_row_of_the_drawer(context: BrowserContext, running: Running) -> None:
    a, b = context.new_page(), context.new_page()
    for page in (a, b):
        page.goto(f"{running.url}/drawer")
        page.get_by_label("Search").fill("Washer M5")
    count = a.get_by_label("How many Washer M5", exact=True)
    expect(b.get_by_label("Price of Washer M5", exact=True)).to_be_visible()
    count.fill("12")
    with a.expect_response(lambda r: r.request.method == "PUT"):
        count.blur()
    price = b.get_by_label("Price of Washer M5", exact=True)
    price.fill("0.04")
    price.blur()
    expect(b.get_by_label("How many Washer M5", exact=True)).to_have_value("12")
    expect(b.get_by_role("alert")).to_have_count(0)
    row = next(r for r in running.ask("/drawer") if r["key"] == "washer:washer-m5")
    assert (row["quantity"], row["price"]) == (12, 0.04)


def test_an_address_that_leads_nowhere_says_so_with_a_way_on(page: Page, running: Running) -> None:
    for path, says in (
        ("/axis/nobody/aim", "This axis is not here"),
        ("/axis/0123456789ab/aim", "This axis is not here"),
        ("/machine/nobody", "This machine is not here"),
        ("/nowhere", "This page is not here"),
    ):
        page.goto(f"{running.url}{path}")
        expect(page.get_by_text(says)).to_be_visible()
        page.get_by_role("link", name="To the shelf").click()
        expect(page.get_by_role("heading", name="Shelf")).to_be_visible()


def test_two_starts_on_one_port_are_told_in_a_sentence(tmp_path: Path) -> None:
    import socket
    import subprocess
    import sys

    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [sys.executable, "-m", "crisp_cadence.cli", "serve", "--port", str(port), "--data"]
    both = [
        subprocess.Popen(
            [*command, str(tmp_path / n)], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
        )
        for n in "ab"
    ]
    try:
        while not (ended := [p for p in both if p.poll() is not None]):
            pass
        said = ended[0].communicate()[1]
        assert ended[0].returncode == 2
        assert "port: cannot be opened" in said
        assert "Traceback" not in said
    finally:
        for p in both:
            p.kill()
            p.communicate()


def fill_all(page: Page, scope: str) -> dict[str, str]:
    """Type into every field of a place that keeps its own text; by its label or name what was typed."""
    typed: dict[str, str] = {}
    for box in page.locator(f"{scope} [data-free]").all():
        if box.is_visible() and box.input_value() == "":
            box.fill("7")
            typed[str(box.get_attribute("data-free"))] = "7"
    return typed


def test_what_is_typed_in_the_log_comes_back_and_can_be_thrown_away(
    page: Page, context: BrowserContext, running: Running, axis: str
) -> None:
    opened(page, running, axis, "log")
    page.get_by_label("What happened").fill(SAYS)
    page.locator('[data-free="cost"]').fill("12.5")
    page.get_by_label("Kind").select_option("repair")
    for again in ("another step", "a reload", "a closed tab"):
        if again == "another step":
            page.get_by_role("link", name="Aim").first.click()
            expect(page.locator('[data-path="name"]')).to_be_visible()
            page.get_by_role("link", name="Log").first.click()
        elif again == "a reload":
            page.reload()
        else:
            page.close()
            page = context.new_page()
            opened(page, running, axis, "log")
        expect(page.get_by_label("What happened")).to_have_value(SAYS)
        expect(page.locator('[data-free="cost"]')).to_have_value("12.5")
        expect(page.get_by_label("Kind")).to_have_value("repair")
    page.get_by_role("button", name="Write it down").click()
    expect(page.locator("[data-entry]")).to_contain_text("12.5")
    expect(page.get_by_label("What happened")).to_have_value("")
    page.reload()
    expect(page.get_by_label("What happened")).to_have_value("")
    expect(page.locator('[data-free="cost"]')).to_have_value("")
    page.get_by_label("What happened").fill("Never mind")
    page.get_by_role("button", name="Throw away what is typed").click()
    expect(page.get_by_label("What happened")).to_have_value("")
    page.reload()
    expect(page.get_by_label("What happened")).to_have_value("")


def test_readings_that_were_typed_in_tune_come_back(page: Page, running: Running, axis: str) -> None:
    opened(page, running, axis, "tune")
    expect(page.locator("[data-free]").first).to_be_visible()
    typed = fill_all(page, "main")
    assert typed
    page.reload()
    for name in typed:
        expect(page.locator(f'[data-free="{name}"]').first).to_have_value("7")


def test_what_is_typed_on_the_machine_s_page_comes_back(
    page: Page, running: Running, machine: str, axis: str
) -> None:
    page.goto(f"{running.url}/machine/{machine}")
    page.get_by_label("Budget").fill("250")
    for fold in page.locator("details > summary").all():
        if fold.is_visible():
            fold.click()
    for label, text in (
        ("What is done", "Wire the cabinet"),
        ("Shop", "Next door"),
        ("Days until it comes", "9"),
        ("Freight of a parcel", "4.5"),
        ("Price", "3.2"),
    ):
        page.get_by_label(label, exact=True).first.fill(text)
    typed = fill_all(page, "main")
    assert typed
    page.reload()
    expect(page.get_by_label("Budget")).to_have_value("250")
    for fold in page.locator("details > summary").all():
        if fold.is_visible():
            fold.click()
    for label, text in (
        ("What is done", "Wire the cabinet"),
        ("Shop", "Next door"),
        ("Days until it comes", "9"),
        ("Freight of a parcel", "4.5"),
        ("Price", "3.2"),
    ):
        expect(page.get_by_label(label, exact=True).first).to_have_value(text)
    for name in typed:
        expect(page.locator(f'[data-free="{name}"]').first).to_have_value("7")


def test_dialogs_and_cells_keep_what_is_typed(page: Page, running: Running, machine: str) -> None:
    page.goto(f"{running.url}/")
    page.get_by_role("button", name="New machine").click()
    page.get_by_label("Name", exact=True).fill("Half a name")
    page.reload()
    page.get_by_role("button", name="New machine").click()
    expect(page.get_by_label("Name", exact=True)).to_have_value("Half a name")
    page.keyboard.press("Escape")
    page.goto(f"{running.url}/drawer")
    page.get_by_label("Search").fill("Washer M6")
    page.get_by_label("Price of Washer M6", exact=True).fill("0.07")
    page.reload()
    page.get_by_label("Search").fill("Washer M6")
    expect(page.get_by_label("Price of Washer M6", exact=True)).to_have_value("0.07")


def test_a_browser_that_keeps_nothing_says_so_and_asks_before_it_closes(
    page: Page, running: Running, axis: str
) -> None:
    full = "Storage.prototype.setItem = () => { throw new DOMException('full', 'QuotaExceededError'); };"
    page.add_init_script(full)
    opened(page, running, axis, "log")
    expect(page.locator("[data-not-kept]")).to_have_count(0)
    page.get_by_label("What happened").fill(SAYS)
    expect(page.locator("[data-not-kept]")).to_contain_text("Not kept")
    asked: list[str] = []
    page.on("dialog", lambda d: (asked.append(d.type), d.dismiss()))
    page.close(run_before_unload=True)
    page.wait_for_timeout(500)
    assert asked == ["beforeunload"]
    page.get_by_role("button", name="Write it down").click()
    expect(page.locator("[data-entry]")).to_contain_text(SAYS)
    expect(page.locator("[data-not-kept]")).to_have_count(0)


def test_a_long_log_draws_what_is_in_sight_and_scrolls_to_its_end(
    page: Page, running: Running, tmp_path: Path
) -> None:
    from crisp_cadence.store import Store, log

    with program(tmp_path / "data") as alone:
        machine = alone.ask("/machines", {"name": "Bench"})["id"]
        axis = alone.ask(f"/machines/{machine}/axes", {"name": "Slide", "layout": "rack"})["id"]
        store = Store(tmp_path / "data")
        with store.transaction():
            for i in range(2000):
                log.add(store, axis, f"20{i % 26:02d}-01-02", "note", f"Entry {i}", None, None, f"{i:05d}")
        store.close()
        opened(page, alone, axis, "log")
        expect(page.locator("[data-rows]")).to_have_attribute("data-rows", "2000")
        expect(page.locator("[data-entry]").first).to_contain_text("2025-01-02")
        assert page.locator("[data-entry]").count() < 120
        page.locator("#work").evaluate("(e) => e.scrollTo(0, e.scrollHeight)")
        expect(page.locator("[data-entry]").last).to_contain_text("2000-01-02")
        assert page.locator("[data-entry]").count() < 120
