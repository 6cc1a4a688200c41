"""Steps back that survive a reload: what was taken off the shelf or out of the drawer, files taken in, and
revisions by the hundred.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect
from running import Running, program

CSV = b"kind,name,quantity,thickness_mm\nwasher,Washer of zinc,3,0.7\nwasher,Washer M5,7,1\n"


@pytest.fixture(scope="module")
def shop(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    with program(tmp_path_factory.mktemp("history") / "demo", "demo") as running:
        yield running


def test_machines_are_renamed_axes_taken_off_and_all_of_it_is_found_after_a_reload(
    page: Page, shop: Running
) -> None:
    page.goto(shop.url)
    page.get_by_role("region", name="Slip writer").get_by_role("button", name="Rename").click()
    page.get_by_role("textbox", name="Name").fill("Slip pen")
    page.get_by_role("textbox", name="Note").fill("Draws lines.")
    # another window is faster: what it did is said, what was typed stays, and once more keeps it
    machine = next(m for m in shop.ask("/shelf") if m["name"] == "Slip writer")
    shop.ask(
        f"/machines/{machine['id']}",
        {"name": "Slip brush", "note": "", "base_version": machine["version"]},
        "PUT",
    )
    page.get_by_role("button", name="Rename it").click()
    expect(page.get_by_role("alert")).to_contain_text("It is called “Slip brush” there by now")
    expect(page.get_by_role("textbox", name="Name")).to_have_value("Slip pen")
    page.get_by_role("button", name="Rename it").click()
    expect(page.get_by_role("heading", name="Slip pen", exact=True)).to_be_visible()

    page.get_by_role("button", name="Take Reach off the shelf").click()
    page.get_by_role("button", name="Take Tray rover off the shelf").click()
    expect(page.get_by_text("“Tray rover” is off the shelf")).to_be_visible()
    page.reload()
    off = page.get_by_role("region", name="Taken off the shelf")
    expect(off.locator("[data-off]")).to_have_count(2)
    expect(off).to_contain_text("machine with 1 axis")
    expect(off).to_contain_text("axis of Slip pen")
    for name in ("Reach", "Tray rover"):
        off.get_by_role("button", name=f"Put {name} back").click()
    expect(off).to_have_count(0)
    expect(page.locator("[data-axis-line] a", has_text="Wheels")).to_be_visible()
    expect(
        page.get_by_text(re.compile(r"Everything is kept in .*\.sqlite3: \d+ kB with \d+ revisions"))
    ).to_be_visible()


def test_rows_and_files_of_the_drawer_go_and_come_back(page: Page, shop: Running) -> None:
    page.goto(f"{shop.url}/drawer")
    rows = page.locator("[data-row]")
    expect(rows.first).to_be_visible()
    before = len(shop.ask("/drawer"))
    page.get_by_role("button", name="Take Washer M4 out").click()
    expect(page.get_by_text("“Washer M4” is out of the drawer")).to_be_visible()
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_text("“Washer M4” is out of the drawer")).to_have_count(0)
    assert len(shop.ask("/drawer")) == before

    page.get_by_label("Search").fill("shim washer")
    count = rows.count()
    page.get_by_role("button", name=f"Take all {count} out").click()
    expect(page.get_by_text(f"{count} rows are out of the drawer")).to_be_visible()
    assert len(shop.ask("/drawer")) == before - count
    page.reload()
    page.set_input_files("input[type=file]", files=[{"name": "d.csv", "mimeType": "text/csv", "buffer": CSV}])
    page.get_by_role("button", name="Take it in").click()
    expect(page.get_by_text("Taken in: 1 new, 1 changed")).to_be_visible()
    page.reload()
    page.get_by_role("button", name="Bring back…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Take it back").click()
    expect(dialog.get_by_role("button", name="Take it in again")).to_be_visible()
    assert not [r for r in shop.ask("/drawer") if r["name"] == "Washer of zinc"]
    dialog.get_by_role("button", name=f"Bring all {count} back").click()
    expect(dialog.get_by_text("Nothing is out")).to_be_visible()
    assert len(shop.ask("/drawer")) == before


def test_every_revision_is_reached_and_old_ones_go_only_on_request(page: Page, shop: Running) -> None:
    axis = next(a["id"] for m in shop.ask("/shelf") for a in m["axes"] if a["name"] == "Pass")
    opened = shop.ask(f"/axes/{axis}")
    design, version, saves = dict(opened["design"]), opened["version"], 230
    for n in range(saves):
        design["note"] = f"save {n}"
        version = shop.ask(f"/axes/{axis}", {"base_version": version, "design": design}, "PUT")["version"]
    page.goto(f"{shop.url}/axis/{axis}/log")
    kept = page.locator("[data-revision]")
    expect(kept).to_have_count(100)
    for most in (200, version):
        page.get_by_role("button", name="Earlier revisions").click()
        expect(kept).to_have_count(most)
    expect(page.get_by_role("button", name="Earlier revisions")).to_have_count(0)
    page.get_by_role("button", name="Return to revision 1", exact=True).click()
    expect(page.locator(f'[data-revision="{version + 1}"]')).to_contain_text("back to revision 1")

    page.goto(shop.url)
    shop.ask(f"/axes/{axis}", {"base_version": version + 1, "design": {**design, "note": "the last"}}, "PUT")
    page.get_by_role("button", name="Thin out old revisions").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("There is nothing to thin out.")
    expect(dialog.get_by_role("button", name="Thin them out")).to_be_disabled()
    dialog.get_by_label("Older than").fill("0")
    expect(dialog.get_by_role("status")).to_contain_text(re.compile(r"2\d\d revisions of .* would go"))
    dialog.get_by_role("button", name="Thin them out").click()
    expect(dialog).to_contain_text(re.compile(r"2\d\d revisions went\. The file as it was before is kept"))
    dialog.get_by_role("button", name="Close", exact=True).last.click()
    # the axis is there, and undo goes on to what is left
    page.goto(f"{shop.url}/axis/{axis}/log")
    expect(kept.first).to_contain_text("as it stands")
    assert kept.count() < 6
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-save=saved]")).to_contain_text(f"rev. {version + 3}")
    assert shop.ask(f"/axes/{axis}")["design"]["note"] == opened["design"]["note"], (
        "back to revision 1, as it was saved under a newer number"
    )
