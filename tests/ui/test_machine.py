"""The machine in the browser: built to the end with ticks, a step undone by a change, a late parcel, a kit that
axes share, its file out and in, and its pages on paper.
"""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from running import Running

from browsing import settled


@pytest.fixture
def printer(own_demo: Running, page: Page) -> str:
    """The demo's machine of three axes, opened."""
    machine = next(m["id"] for m in own_demo.ask("/shelf") if m["name"] == "Clay printer")
    page.goto(own_demo.url)
    page.get_by_role("link", name="Clay printer").click()
    expect(page.locator("[data-order-of-work]")).to_be_visible()
    return str(machine)


def test_three_axes_stand_together_with_what_limits_them(page: Page, printer: str) -> None:
    rows = page.locator("tr[data-axis]")
    expect(rows).to_have_count(3)
    expect(rows.filter(has=page.get_by_role("link", name="Head"))).to_contain_text("Long way")
    expect(rows.filter(has=page.get_by_role("link", name="Long way"))).to_contain_text("4.35 kg")
    expect(page.get_by_text("limits the machine", exact=True)).to_have_count(1)
    for view in ("From above", "From the side"):
        expect(page.get_by_role("img", name=view)).to_be_visible()
    expect(page.locator('[data-area="Head"]')).to_contain_text("in x")
    expect(page.locator("[data-supplies] tbody tr")).to_have_count(1)
    page.locator("tr[data-axis]").filter(has_text="Board").get_by_role("link", name="Board").click()
    expect(page).to_have_url(re.compile(r"/axis/.*/aim"))
    page.get_by_role("link", name="Clay printer").click()
    expect(page.locator("[data-order-of-work]")).to_be_visible()


def test_the_change_that_helps_most_is_looked_for_on_demand(page: Page, printer: str) -> None:
    page.get_by_role("button", name="Find the change that helps most").click()
    found = page.locator("[data-helps]")
    expect(found).to_contain_text("On Head:", timeout=90_000)
    expect(found).to_contain_text("least headroom from 1")


def test_parcels_come_and_the_machine_is_built_to_the_end(
    page: Page, own_demo: Running, printer: str
) -> None:
    parcels = page.locator("[data-parcels]")
    expect(parcels.locator("tr", has_text="Motor NEMA 23")).to_contain_text("late")
    expect(page.locator('[data-line$=":chain.0"][data-state=due]')).to_have_count(1)
    for name in ("Motor NEMA 23 with driver", "Belts and pulleys, one parcel"):
        page.get_by_role("button", name=f"{name} arrived").click()
        page.get_by_role("button", name=f"{name} checked").click()
    expect(page.locator("[data-state=due]")).to_have_count(0)

    # What is left is ordered as one kit that two axes share, and comes.
    wanted = page.locator("[data-state=wanted]")
    expect(wanted).to_have_count(4)
    for box in wanted.get_by_role("checkbox").all():
        box.check()
    page.get_by_label("As one order").fill("Clamps and tensioners")
    page.get_by_label("Price of it all").fill("15.5")
    page.get_by_label("Freight").fill("4")
    page.get_by_role("button", name="Ordered today").click()
    expect(wanted).to_have_count(0)
    expect(page.locator("[data-state=ordered]")).to_have_count(4)
    page.get_by_role("button", name="Clamps and tensioners arrived").click()
    expect(page.locator("[data-state=arrived]")).to_have_count(4)
    assert float(
        page.locator('[data-result="money.paid"]').get_attribute("data-value") or 0
    ) == pytest.approx(352.6 + 19.5)
    assert page.locator('[data-result="money.to_spend"]').get_attribute("data-value") == "0"

    # Every step that can be done is ticked, until none is left.
    report = own_demo.ask(f"/machines/{printer}")["report"]
    open_ = [w["step"]["key"] for w in report["work"] if w["step"]["now"] != "done"]
    first = page.locator("[data-work][data-now=ready]").first
    expect(first).to_be_visible()
    key = first.get_attribute("data-work") or ""
    first.get_by_role("checkbox").click()
    expect(page.locator(f'[data-work="{key}"]')).to_have_count(0)  # what is done is folded away
    for w in open_:
        if w != key:
            own_demo.ask(f"/machines/{printer}/tick", {"ref": w, "day": "2026-11-28"}, method="PUT")
    page.reload()
    expect(page.locator("[data-today]")).to_contain_text(
        f"{len(report['work'])} of {len(report['work'])} steps"
    )
    expect(page.locator("[data-work]")).to_have_count(0)
    page.get_by_label(re.compile("that are done")).check()
    expect(page.locator("[data-work]")).to_have_count(len(report["work"]))
    expect(page.locator(f'[data-work="{key}"]')).to_contain_text("done 20")


def test_a_changed_part_undoes_the_step_that_rested_on_it(
    page: Page, own_demo: Running, printer: str
) -> None:
    expect(page.locator('[data-work$=":coupler"]')).to_have_count(0)  # done, and folded away
    (board,) = [a for m in own_demo.ask("/shelf") for a in m["axes"] if a["name"] == "Board"]
    page.goto(f"{own_demo.url}/axis/{board['id']}/drive")
    settled(page)
    page.locator('[data-part="chain.1"]').first.click()
    page.locator('[data-path="chain.1.form"]').select_option("solid")
    expect(page.locator("[data-save=saved]")).to_contain_text("rev. 2")
    page.get_by_role("navigation", name="Steps").get_by_role("link", name="Build").click()
    undone = page.locator("[data-work=coupler] [data-undone]")
    expect(undone).to_contain_text("Changed since then: Jaw coupler")
    page.get_by_role("link", name="Clay printer").click()
    step = page.locator('[data-work$=":coupler"]')
    expect(step).to_contain_text("Jaw coupler of Board")
    step.get_by_role("button", name=re.compile("Still right")).click()
    expect(step).to_have_count(0)


def test_own_steps_are_put_in_and_an_order_that_cannot_be_is_refused(page: Page, printer: str) -> None:
    page.get_by_text("Own steps, and another order").click()
    page.get_by_label("What is done").fill("Paint the frame")
    page.get_by_label("Before", exact=True).select_option(index=1)
    page.get_by_role("button", name="Add the step").click()
    expect(page.locator("[data-own]")).to_have_count(2)
    expect(page.locator('[data-work=":paint_the_frame"]')).to_be_visible()
    order = page.get_by_label("After", exact=True)
    labels = order.locator("option").all_inner_texts()
    late = next(i for i, label in enumerate(labels) if "ten slow strokes" in label)
    order.select_option(index=late)
    page.get_by_label("What is done").fill("Sweep the floor")
    page.get_by_label("Before", exact=True).select_option(index=2)
    page.get_by_role("button", name="Add the step").click()
    expect(page.get_by_text("these steps wait for each other").first).to_be_visible()
    expect(page.locator("[data-own]")).to_have_count(2)

    # A step is put before another: those that have to come before it are not offered.
    page.get_by_label("What is done").fill("")
    before = page.get_by_label("Before", exact=True)
    offered = before.locator("option").all_inner_texts()
    assert len(offered) < len(labels) - 10
    assert labels[1] not in offered, "the first step of the same axis comes first"
    before.select_option(label=offered[-1])
    page.get_by_role("button", name="Put “after” before “before”").click()
    expect(page.locator("[data-moved]")).to_have_count(1)


def test_a_machine_goes_out_as_a_file_and_comes_back_as_another(
    page: Page, own_demo: Running, printer: str, tmp_path: Path
) -> None:
    with page.expect_download() as taken:
        page.get_by_role("link", name="Machine as a file").click()
    file = tmp_path / "machine.json"
    taken.value.save_as(file)
    page.goto(own_demo.url)
    page.get_by_role("button", name="New machine").first.click()
    page.get_by_label("Machine's file").set_input_files(file)
    expect(page).to_have_url(re.compile(r"/machine/(?!" + printer + ")"))
    expect(page.locator("[data-parcel]")).to_have_count(6)
    expect(page.locator("[data-today]")).to_contain_text("17 of")
    file.write_text('{"format": "crisp-cadence/axis"}')
    page.goto(own_demo.url)
    page.get_by_role("button", name="New machine").first.click()
    page.get_by_label("Machine's file").set_input_files(file)
    expect(page.get_by_text("this is no machine of Crisp Cadence")).to_be_visible()


@pytest.mark.parametrize(("paper", "width_mm"), [("A4", 210), ("Letter", 216)])
def test_order_and_bill_print_without_the_frame_of_the_page(
    page: Page, printer: str, paper: str, width_mm: int, tmp_path: Path
) -> None:
    page.emulate_media(media="print")
    expect(page.get_by_role("navigation", name="Pages")).to_be_hidden()
    expect(page.get_by_role("button", name="Print")).to_be_hidden()
    made = tmp_path / f"{paper}.pdf"
    page.pdf(path=made, format=paper)
    assert made.stat().st_size > 10_000
    # Nothing runs off the sheet: what is printed is no wider than the paper between its margins.
    page.set_viewport_size({"width": round(width_mm / 25.4 * 96) - 80, "height": 1000})
    assert page.evaluate("document.documentElement.scrollWidth <= document.documentElement.clientWidth")


def test_what_takes_up_room_is_entered_and_checked_along_the_travels(
    page: Page, own_demo: Running, printer: str
) -> None:
    upright = page.locator('[data-passing="One rail of Head, Shelf upright"]')
    expect(upright).to_contain_text("tight")
    expect(upright).to_contain_text("3 mm")
    assert page.locator('[data-body="Nozzle"]').count() == 2, "drawn from above and from the side"

    # It is moved away: there is room.
    page.get_by_text("Columns, frame, tools").click()
    page.get_by_role("button", name="Change Shelf upright").click()
    page.locator('[data-free="body y_mm"]').fill("24 in")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator('[data-passing][data-verdict="tight"]')).to_have_count(0)

    # A lamp in the way of the board's carriage is told, as is where, and what the machine makes of it.
    page.get_by_label("What", exact=True).fill("Lamp")
    page.locator('[data-free="body x_mm"]').fill("250")
    page.locator('[data-free="body y_mm"]').fill("300")
    page.locator('[data-free="body z_mm"]').fill("-300")
    page.get_by_role("button", name="Add it").click()
    hit = page.locator('[data-passing="Carriage of Board, Lamp"]')
    expect(hit).to_contain_text("short")
    expect(hit).to_contain_text("while Board stands")
    expect(page.get_by_role("heading", level=1).locator("..")).to_contain_text("are in each other's way")
    (board,) = [a for m in own_demo.ask("/shelf") for a in m["axes"] if a["name"] == "Board"]
    page.goto(f"{own_demo.url}/axis/{board['id']}/build")
    settled(page)
    expect(page.locator('[data-work="hand_run"]')).to_contain_text("in each other's way")

    # Out again; an axis that is placed by nobody is said to be assumed.
    page.get_by_role("link", name="Clay printer").click()
    page.get_by_text("Columns, frame, tools").click()
    page.get_by_role("button", name="Take out Lamp").click()
    expect(hit).to_have_count(0)
    page.get_by_text("Where each axis lies").click()
    page.get_by_role("button", name="As assumed again").click()
    unknown = page.locator('[data-passing][data-verdict="unknown"]')
    expect(unknown.first).to_contain_text("place Board to know")
    page.locator('[data-free="x_mm of Board"]').fill("-2000")
    page.locator('[data-free="wide_mm of Board"]').fill("300")
    page.locator('[data-free="high_mm of Board"]').fill("300")
    page.get_by_role("button", name="It lies there").click()
    expect(unknown).to_have_count(0)


def test_own_steps_stand_in_the_axis_that_they_touch(page: Page, own_demo: Running, printer: str) -> None:
    (board,) = [a for m in own_demo.ask("/shelf") for a in m["axes"] if a["name"] == "Board"]
    page.goto(f"{own_demo.url}/axis/{board['id']}/build")
    settled(page)
    wiring = page.locator('[data-work=":wire_the_cabinet"]')
    expect(wiring).to_contain_text("own step")
    number = (wiring.locator("span").first.text_content() or "").strip()
    expect(page.locator('[data-work="slow_run"]')).to_contain_text(f"{number}")
    expect(page.locator("[data-bill]").filter(has_text="Lead screw").get_by_role("checkbox")).to_be_disabled()
    wiring.get_by_role("checkbox").click()
    expect(wiring).to_contain_text("done 20")
    page.get_by_role("link", name="Clay printer").click()
    expect(page.locator('[data-work=":wire_the_cabinet"]')).to_have_count(0)  # done, and folded away


def test_a_shop_fills_in_freight_and_day(page: Page, printer: str) -> None:
    page.get_by_text("Shops, and how long they take").click()
    page.get_by_label("Shop", exact=True).fill("Next door")
    page.get_by_label("Days until it comes").fill("3")
    page.get_by_label("Freight of a parcel").fill("1.5")
    page.get_by_role("button", name="Add this shop").click()
    shop = page.locator('[data-shop="Next door"]')
    expect(shop).to_contain_text("ordered today here on")
    day = re.search(r"here on (\S+);", shop.text_content() or "")
    assert day
    page.locator("[data-state=wanted]").first.get_by_role("checkbox").check()
    page.get_by_label("From", exact=True).select_option("Next door")
    expect(page.get_by_label("Due on")).to_have_value(day[1])
    page.get_by_role("button", name="Ordered today").click()
    parcel = page.locator("[data-parcel]").filter(has_text="from Next door")
    expect(parcel).to_contain_text(day[1])
    expect(parcel).to_contain_text("1.50")


def test_what_stands_within_the_swing_of_an_arm_is_turned_past_by_hand(page: Page, demo: Running) -> None:
    booth = next(m["id"] for m in demo.ask("/shelf") if m["name"] == "Spray booth")
    page.goto(f"{demo.url}/machine/{booth}")
    pot = page.locator('[data-passing="Arm of Spray arm, Pot"]')
    expect(pot).to_have_attribute("data-verdict", "unknown")
    expect(pot).to_contain_text("not known")
    expect(pot).to_contain_text("Within the box around the swing of Spray arm: turn it past by hand.")
    expect(page.locator('[data-passing="Arm of Spray arm, Hood"]')).to_have_attribute("data-verdict", "holds")
    expect(page.get_by_text("May meet, so turn it past by hand: Arm of Spray arm and Pot.")).to_be_visible()
    page.get_by_text("Where each axis lies").click()
    expect(page.get_by_text("Its pivot, from a zero that you choose")).to_be_visible()
    expect(page.get_by_label("Tip's size along y")).to_have_value("40")
