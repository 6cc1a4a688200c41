"""What every view owes its maker: a failure that is seen, a way on when a piece of the program is gone, few
fields at first sight, drawings whose words can be read, and all of it by keyboard.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, Route, expect
from running import Running, program

from browsing import settled, step

STEPS = ("aim", "drive", "belt", "shake", "build", "tune", "log")


@pytest.fixture(scope="module")
def bench(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """A program with one new axis of every layout."""
    with program(tmp_path_factory.mktemp("kit")) as running:
        machine = running.ask("/machines", {"name": "Bench"})["id"]
        for layout in running.ask("/layouts"):
            body = {"name": layout["name"], "layout": layout["key"]}
            running.ask(f"/machines/{machine}/axes", body)
        yield running


def all_axes(running: Running) -> dict[str, str]:
    return {a["name"]: a["id"] for m in running.ask("/shelf") for a in m["axes"]}


def failing(page: Page, address: str, method: str = "", says: str = "The cellar is flooded.") -> None:
    """Requests to an address are refused with these words; all others go through."""

    def answer(route: Route) -> None:
        if method and route.request.method != method:
            return route.fallback()
        body = json.dumps({"detail": says, "problems": [], "status": 503})
        return route.fulfill(status=503, content_type="application/problem+json", body=body)

    page.route(re.compile(rf"/api{address}(\?.*)?$"), answer)


def seen(page: Page, title: str, says: str = "The cellar is flooded.") -> None:
    expect(page.get_by_role("alert").filter(has_text=says).filter(has_text=title).first).to_be_visible()


QUERIES: list[tuple[str, str, str]] = [
    ("/", "/shelf", "The shelf cannot be shown"),
    ("/", "/shelf/off", "What was taken off the shelf cannot be shown"),
    ("/", "/store", "The data file cannot be looked at"),
    ("/drawer", "/drawer", "The parts drawer cannot be shown"),
    ("/numbers", "/numbers", "The formulas cannot be shown"),
    ("/numbers", "/start", "The belt profiles cannot be shown"),
    ("/axis/{id}/aim", "/start", "This axis cannot be shown"),
    ("/axis/{id}/aim", "/axes/{id}", "This axis cannot be shown"),
    ("/axis/{id}/aim", "/layouts", "The layouts cannot be shown"),
    ("/axis/{id}/log", "/axes/{id}/log", "The log cannot be shown"),
    ("/axis/{id}/log", "/axes/{id}/revisions", "The revisions cannot be shown"),
    ("/axis/{id}/sheets?what=path:end", "/out", "The sheets cannot be shown"),
]


@pytest.mark.parametrize(("view", "address", "title"), QUERIES, ids=[f"{v} {a}" for v, a, _ in QUERIES])
def test_a_query_that_fails_is_seen_on_its_view(
    page: Page, bench: Running, view: str, address: str, title: str
) -> None:
    axis = all_axes(bench)["Carriage loop"]
    failing(page, address.format(id=axis), "GET" if address.startswith(("/axes", "/drawer")) else "")
    page.goto(bench.url + view.format(id=axis))
    seen(page, title)
    page.unroute_all()
    page.get_by_role("alert").get_by_role("button", name="Try again").first.click()
    expect(page.get_by_role("alert").filter(has_text="The cellar is flooded.")).to_have_count(0)


def test_a_plan_that_fails_is_seen_beside_the_report(page: Page, bench: Running) -> None:
    """The second line of an answer alone says that it broke off."""

    def cut(route: Route) -> None:
        answer = route.fetch()
        first = answer.text().splitlines()[0]
        route.fulfill(response=answer, body=f'{first}\n{{"failed": "The cellar is flooded."}}\n')

    page.route(re.compile(r"/api/edit\?belt=true$"), cut)
    page.goto(f"{bench.url}/axis/{all_axes(bench)['Carriage loop']}/belt")
    seen(page, "What Belt settles cannot be shown")
    expect(page.locator("[data-rung]").first).to_be_visible()
    page.unroute_all()
    page.get_by_role("alert").get_by_role("button", name="Try again").first.click()
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(page.get_by_role("heading", name="Belt line")).to_be_visible()


def test_a_path_is_drawn_where_the_design_is_refused_and_says_so_where_that_fails(
    page: Page, bench: Running
) -> None:
    tight = {
        "field": "guide.rail_mm",
        "message": "is too short",
        "value": "",
        "limit": "",
        "unit": "",
        "remedy": "",
    }
    body = json.dumps({"detail": "no", "problems": [tight], "status": 422})
    page.route(
        re.compile(r"/api/edit\?"),
        lambda route: route.fulfill(status=422, content_type="application/problem+json", body=body),
    )
    failing(page, "/path")
    page.goto(f"{bench.url}/axis/{all_axes(bench)['Carriage loop']}/belt")
    seen(page, "The drawing of the path cannot be shown")
    page.unroute_all()
    page.route(
        re.compile(r"/api/edit\?"),
        lambda route: route.fulfill(status=422, content_type="application/problem+json", body=body),
    )
    page.get_by_role("alert").get_by_role("button", name="Try again").first.click()
    expect(page.locator("[data-path-drawing]")).to_be_visible()


def test_work_that_fails_on_the_drive_step_is_seen(page: Page, bench: Running) -> None:
    axis = all_axes(bench)["Carriage loop"]
    for address in ("/change", "/ways", "/far", "/search/options", "/search", "/take"):
        failing(page, address)
    page.goto(f"{bench.url}/axis/{axis}/drive")
    settled(page)
    page.get_by_role("button", name="Search", exact=True).click()
    seen(page, "The search broke off")
    for tab, title in (
        ("One change", "The single changes cannot be shown"),
        ("Other ways", "The other ways cannot be shown"),
        ("Why not…", "The list of parts cannot be shown"),
        ("How far", "How far it goes cannot be shown"),
    ):
        page.get_by_role("tab", name=tab).click()
        seen(page, title)
    page.get_by_role("button", name="Stepper from the drawer").click()
    page.get_by_role("button", name=re.compile("^Take Stepper")).first.click()
    seen(page, "That part cannot be taken")


def test_a_measurement_that_fails_is_seen_on_tune(page: Page, bench: Running) -> None:
    failing(page, "/tension")
    failing(page, "/calibrate")
    page.goto(f"{bench.url}/axis/{all_axes(bench)['Carriage loop']}/tune")
    settled(page)
    page.locator("[data-free=span]").fill("300")
    page.locator("[data-free=hertz]").fill("80")
    seen(page, "The tension cannot be shown")
    page.locator("[data-free=commanded-0]").fill("100")
    page.locator("[data-free=measured-0]").fill("99")
    seen(page, "The calibration cannot be shown")


def test_a_change_that_fails_is_seen(page: Page, own_demo: Running) -> None:
    """Taking off the shelf, putting back, drawer, striking out, restoring: each of them said nothing once."""
    axes = all_axes(own_demo)
    out, svg = re.compile("^Take .* out$"), re.compile("as SVG")
    done: list[tuple[str, str, str, Callable[[], None]]] = [
        ("/", "/axes/[^/]+", "DELETE", page.get_by_label("Take Pass off the shelf").click),
        ("/drawer", "/drawer/out", "POST", page.get_by_label(out).first.click),
        (f"/axis/{axes['Pass']}/belt", "/out", "POST", page.get_by_label(svg).first.click),
        (f"/axis/{axes['Aisle']}/log", "/axes/[^/]+/log/[^/]+", "DELETE", lambda: strike(page)),
    ]
    for view, address, method, do in done:
        page.unroute_all()
        failing(page, address, method)
        page.goto(own_demo.url + view)
        do()
        seen(page, "That did not work")
    field = page.get_by_label("What happened")
    page.unroute_all()
    failing(page, "/axes/[^/]+/log", "POST")
    page.goto(f"{own_demo.url}/axis/{axes['Aisle']}/log")
    field.fill("The belt was renewed")
    page.get_by_role("button", name="Write it down").click()
    seen(page, "It is not written down")
    expect(field).to_have_value("The belt was renewed")
    page.unroute_all()
    failing(page, "/axes/[^/]+/restore", "POST")
    page.locator("[data-bench]").press("1")
    page.locator('[data-path="aim.speed_mm_s"]').fill("333")
    expect(page.locator("[data-save=saved]")).to_contain_text("rev. 2")
    step(page, "Log")
    page.get_by_label("Return to revision 1", exact=True).click()
    seen(page, "That did not work")


def strike(page: Page) -> None:
    page.get_by_role("button", name="Strike out").first.click()
    page.get_by_role("dialog").get_by_role("button", name="Strike out").click()


def test_a_piece_of_an_older_program_shows_a_way_on(page: Page, bench: Running) -> None:
    page.route(
        re.compile(r"/assets/(Belt|LinePlot|Drawer)-[^/]*\.js$"), lambda r: r.fulfill(status=404, body="gone")
    )
    page.goto(f"{bench.url}/axis/{all_axes(bench)['Carriage loop']}/aim")
    settled(page)
    step(page, "Belt")
    alert = page.get_by_role("alert").filter(has_text="This step could not be fetched")
    expect(alert).to_be_visible()
    expect(page.locator("[data-rung]").first).to_be_visible()
    step(page, "Aim")
    expect(page.get_by_role("heading", name="How fast, how fine")).to_be_visible()
    step(page, "Shake")
    expect(page.get_by_role("alert").filter(has_text="This plot could not be fetched").first).to_be_visible()
    step(page, "Belt")
    page.unroute_all()
    alert.get_by_role("button", name="Load the page anew").click()
    expect(page.get_by_role("heading", name=re.compile("^Path"))).to_be_visible()
    page.route(re.compile(r"/assets/Drawer-[^/]*\.js$"), lambda r: r.fulfill(status=404, body="gone"))
    page.goto(f"{bench.url}/drawer")
    expect(page.get_by_role("alert")).to_contain_text("This page could not be fetched")


OPEN_INPUTS = """() => [...document.querySelectorAll('main input, main select, main textarea')].filter((e) => {
  if (e.type === 'hidden' || e.type === 'file') return false;
  for (let f = e.closest('details'); f; f = f.parentElement.closest('details')) if (!f.open) return false;
  return true;
}).length"""


def test_every_step_of_every_layout_opens_with_few_inputs(page: Page, bench: Running) -> None:
    total = 0
    for name, axis in all_axes(bench).items():
        page.goto(f"{bench.url}/axis/{axis}/aim")
        for view in STEPS:
            step(page, view)
            settled(page)
            if view == "drive":
                expect(page.get_by_role("tab", name="Why not…")).to_be_visible()
            if view == "belt":  # its plan brings inputs of its own
                expect(page.locator("#sec-out").get_by_role("heading").first).to_be_visible()
            count = page.evaluate(OPEN_INPUTS)
            assert count <= 20, f"{name}, {view}: {count} inputs"
            total += count
    assert total > 13 * 30  # and they are counted at all


# Words of a drawing: pairs that overlap, words that leave it, and words that a belt or a wheel runs through.
READ = """() => [...document.querySelectorAll('svg[aria-label*="to true scale"], [data-path-drawing]')].flatMap((svg) => {
  const sheet = svg.getBoundingClientRect();
  const words = [...svg.querySelectorAll('text')].map((t) => ({ t: t.textContent, b: t.getBoundingClientRect() }));
  const out = [`${words.length} words`];
  const meet = (a, b) => a.left < b.right - 1 && b.left < a.right - 1 && a.top < b.bottom - 2 && b.top < a.bottom - 2;
  words.forEach((w, i) => {
    if (w.b.left < sheet.left - 1 || w.b.right > sheet.right + 1 || w.b.top < sheet.top - 1
        || w.b.bottom > sheet.bottom + 1) out.push(`leaves the sheet: ${w.t}`);
    words.slice(i + 1).forEach((o) => { if (meet(w.b, o.b)) out.push(`overlap: ${w.t} / ${o.t}`); });
  });
  for (const path of svg.querySelectorAll('path[stroke="var(--belt)"]')) {
    const m = path.getScreenCTM();
    const long = path.getTotalLength();
    for (let s = 0; s <= long; s += 2) {
      const p = path.getPointAtLength(s).matrixTransform(m);
      const hit = words.find((w) => p.x > w.b.left && p.x < w.b.right && p.y > w.b.top + 3 && p.y < w.b.bottom - 3);
      if (hit) { out.push(`a belt runs through: ${hit.t}`); break; }
    }
  }
  return out;
})"""


def unread(page: Page) -> tuple[int, list[str]]:
    found = page.evaluate(READ)
    counts = [int(f.split()[0]) for f in found if f.endswith(" words")]
    return sum(counts), [f for f in found if not f.endswith(" words")]


def test_words_of_every_drawing_can_be_read(page: Page, bench: Running, demo: Running) -> None:
    """Every layout from its beginning and every axis of the demo, as drawn in Drive and in Belt."""
    words = 0
    for running in (bench, demo):
        for name, axis in all_axes(running).items():
            page.goto(f"{running.url}/axis/{axis}/drive")
            settled(page)
            for view in ("Drive", "Belt"):
                if view == "Belt":
                    with page.expect_response(re.compile(r"/api/edit\?belt=true$")) as answer:
                        step(page, view)
                    drawn = json.loads(answer.value.text().splitlines()[0])["drawings"]
                    if any(scene["strands"] for scene in drawn):
                        expect(page.locator("[data-path-drawing] text").first).to_be_visible()
                if view == "Drive":
                    expect(page.get_by_role("group", name=re.compile("to true scale")).first).to_be_visible()
                page.evaluate("new Promise((r) => requestAnimationFrame(() => setTimeout(r, 50)))")
                count, wrong = unread(page)
                words += count
                assert wrong == [], f"{name}, {view}"
    assert words > 200


def test_the_reader_of_drawings_sees_what_it_should(page: Page, bench: Running) -> None:
    """A check that cannot fail is none."""
    page.goto(f"{bench.url}/axis/{all_axes(bench)['Carriage loop']}/drive")
    settled(page)
    expect(page.get_by_role("group", name=re.compile("to true scale")).first).to_be_visible()
    assert unread(page)[1] == []
    page.evaluate(
        """() => {
          const svg = document.querySelector('svg[aria-label*="to true scale"]');
          const [first] = svg.querySelectorAll('text');
          const copy = first.cloneNode(true);
          copy.textContent = 'on top';
          first.after(copy);
          const out = first.cloneNode(true);
          out.setAttribute('x', '-40');
          out.textContent = 'outside';
          first.after(out);
          const belt = svg.querySelector('path[stroke="var(--belt)"]');
          const p = belt.getPointAtLength(belt.getTotalLength() / 3);
          const across = first.cloneNode(true);
          across.setAttribute('x', p.x);
          across.setAttribute('y', p.y);
          across.textContent = 'on the belt';
          first.after(across);
        }"""
    )
    found = unread(page)[1]
    assert any(f.startswith("overlap") for f in found), found
    assert "leaves the sheet: outside" in found
    assert "a belt runs through: on the belt" in found


def test_the_whole_job_by_keyboard(page: Page, tmp_path: Path) -> None:  # noqa: PLR0915 - one job, told in order
    """From an empty shelf to an entry in the log, without a pointer."""
    with program(tmp_path) as running:
        page.goto(running.url)
        expect(page.get_by_role("heading", name="Nothing on the shelf yet")).to_be_visible()
        tab_to(page, "New machine")
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog").get_by_label("Name")).to_be_focused()
        page.keyboard.type("Bench")
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog")).to_have_count(0)
        expect(page.get_by_role("heading", name="Bench")).to_be_visible()
        tab_to(page, "Add an axis")
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog").get_by_label("Name")).to_be_focused()
        page.keyboard.type("Slide")
        expect(page.get_by_role("button", name="Propose axes for it")).to_be_enabled()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="How fast, how fine")).to_be_visible()
        settled(page)

        # Aim: a number typed, one by arrow keys
        tab_to(page, "Travel wanted")
        page.keyboard.type("457")
        expect(page.locator('[data-path="aim.travel_mm"]')).to_have_value("457")
        tab_to(page, "Speed")
        page.keyboard.press("ArrowUp")
        expect(page.locator('[data-path="aim.speed_mm_s"]')).to_have_value("210")

        # Drive: a motor from the drawer by arrow keys, along the drive line, a stage from the menu
        page.keyboard.press("Alt+2")
        expect(page.get_by_role("tablist", name="Drive line")).to_be_visible()
        tab_to(page, "Stepper from the drawer")
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog").get_by_label("Search")).to_be_focused()
        expect(page.locator("[data-part-row]").first).to_be_visible()
        page.keyboard.press("ArrowDown")
        expect(page.locator("[data-part-row]").first).to_be_focused()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.locator("[data-rung=torque_accelerate]")).not_to_have_attribute("data-verdict", "unknown")
        if page.get_by_role("dialog").count():
            page.keyboard.press("Escape")
        tab_to(page, re.compile("^Add a stage"))
        page.keyboard.press("Enter")
        expect(page.get_by_role("menuitem").first).to_be_focused()
        page.keyboard.press("ArrowDown")
        expect(page.get_by_role("menuitem").nth(1)).to_be_focused()
        page.keyboard.press("Escape")
        expect(page.get_by_role("menuitem")).to_have_count(0)
        page.locator("#node-field").focus()
        page.keyboard.press("ArrowRight")
        expect(page.locator("[data-part=pulley]")).to_be_focused()
        expect(page.locator('[data-form="end.pulley"]')).to_be_visible()

        # a tab of the choosers, a rung and where it leads
        page.get_by_role("tab", name="Search the drawer").focus()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("tabpanel", name="One change")).to_be_visible()
        rung = page.locator("[data-rung=travel]").get_by_role("button").first
        rung.focus()
        page.keyboard.press("Enter")
        tab_to(page, re.compile("^Go to"))
        page.keyboard.press("Enter")
        page.wait_for_url(re.compile("/aim#"))

        # Build, Tune, Log
        page.keyboard.press("Alt+5")
        expect(page.locator("[data-work]").first).to_be_visible()
        page.get_by_label("Lay out the parts").focus()
        page.keyboard.press("Space")
        expect(page.locator("[data-work]").first).to_have_attribute("data-now", "done")
        page.keyboard.press("6")
        expect(page.get_by_role("heading", name=re.compile("^Measure it"))).to_be_visible()
        tab_to(page, "Length of the run")
        page.keyboard.type("300")
        tab_to(page, "Pitch heard")
        page.keyboard.type("60")
        expect(page.locator('[data-result="tension.read"]')).to_be_visible()
        page.keyboard.press("Alt+7")
        tab_to(page, "What happened")
        page.keyboard.type("Built by keyboard")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Built by keyboard")).to_be_visible()
        expect(page.locator("[data-save=saved]")).to_be_visible()


def tab_to(page: Page, name: str | re.Pattern[str], most: int = 120) -> None:
    """Goes on by Tab until what has the focus bears a name."""
    for _ in range(most):
        page.keyboard.press("Tab")
        held: Any = page.evaluate(
            """() => { const e = document.activeElement;
              return e.getAttribute('aria-label') || e.labels?.[0]?.textContent || e.textContent || ''; }"""
        )
        if held == name if isinstance(name, str) else name.search(held):
            return
    raise AssertionError(f"no Tab leads to {name}")
