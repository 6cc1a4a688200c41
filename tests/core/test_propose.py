"""From an aim to whole designs: what is proposed holds, fits together, and is no larger than it must be."""

from __future__ import annotations

import json
from typing import Any

import pytest

from crisp_cadence import catalog
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.choosing.propose import Proposal, list_json, propose
from crisp_cadence.core.design.design import AxisDesign, changed, parse_design
from crisp_cadence.core.design.layouts import begin
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fields.columns import owner_of
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.ledger.errors import EntryError

PROFILES = catalog.profiles()
SHELF = catalog.stock()


def aim(travel: float, speed: float, mass: float, push: float = 0.0, **more: float) -> dict[str, Any]:
    return {
        "aim.travel_mm": travel,
        "aim.speed_mm_s": speed,
        "moving.0.mass_kg": mass,
        "aim.push_n": push,
        **{f"aim.{name}": value for name, value in more.items()},
    }


# What it is for, what is asked, and layouts that suit it.
AIMS: dict[str, tuple[dict[str, Any], tuple[str, ...]]] = {
    "pollen camera, very light": (aim(300, 40, 0.15), ("carriage_loop", "screw")),
    "slide show of leaves": (aim(1200, 150, 0.4), ("carriage_loop", "riding_motor")),
    "half a kilo, half a metre": (aim(500, 200, 0.5), ("carriage_loop", "rack")),
    "glaze spray over tiles": (aim(800, 400, 1.2, acceleration_mm_s2=2000), ("carriage_loop", "gantry")),
    "seed drill press": (aim(120, 10, 2.0, push=150), ("screw",)),
    "kiln shelf, slow": (aim(600, 30, 8.0), ("screw", "rack")),
    "paper cutter": (aim(700, 250, 1.5, push=15), ("carriage_loop", "gantry")),
    "plotter of cyanotypes": (aim(600, 100, 0.4), ("crossed_belts",)),
    "arm that dips pots": ({"moving.0.mass_kg": 0.3}, ("joint",)),
    "loom beam": (aim(1500, 300, 4.0, error_mm=0.6), ("gantry",)),
    "sand table": (aim(900, 120, 6.0), ("rack", "carriage_loop")),
    "dough press": (aim(200, 8, 5.0, push=400), ("screw",)),
    "quick pick arm": (aim(400, 800, 0.3, acceleration_mm_s2=5000, error_mm=0.5), ("carriage_loop",)),
    "gantry of sixty kilogrammes": (
        aim(1000, 60, 60.0, acceleration_mm_s2=200, error_mm=1.0),
        ("rack", "screw"),
    ),
}
CASES = [(name, layout) for name, (_, layouts) in AIMS.items() for layout in layouts]


def asked(name: str, layout: str) -> AxisDesign:
    return changed(begin(layout, "New"), AIMS[name][0])


def holds(report: Report) -> bool:
    return all(r.verdict in ("holds", "no demand") for r in report.ladder if not r.advisory)


def against(report: Report) -> set[str]:
    """Advice that a design does not keep."""
    return {r.label for r in report.ladder if r.advisory and r.verdict == "short"}


def fits_together(proposal: Proposal) -> None:
    """Bores go on shafts, belts on faces; nothing is bought for nothing."""
    design: Any = proposal.design
    shaft = getattr(design.chain[-1], "shaft_mm", None)
    pulley = getattr(design.end, "pulley", None)
    if pulley is not None:
        assert pulley.sleeve or abs(pulley.bore_mm - shaft) < 0.03
        assert pulley.face_mm >= design.end.belt.width_mm
        assert design.end.idler.width_mm >= design.end.belt.width_mm
    for stage in design.chain[1:]:
        assert getattr(stage, "fits", "any") in ("any", design.chain[0].frame)
    assert design.chain[0].driver.current_a <= design.chain[0].rated_current_a + 1e-9
    assert proposal.money > 10


@pytest.mark.parametrize(("name", "layout"), CASES, ids=[f"{n}: {x}" for n, x in CASES])
def test_what_is_proposed_for_an_aim_holds_and_fits_and_is_no_larger_than_it_must_be(
    name: str, layout: str
) -> None:
    design = asked(name, layout)
    found = propose(design, PROFILES, SHELF)
    assert found.found, found.says
    assert found.found[0].name == "plainest"
    assert len(found.found) == 3 or found.says
    for proposal in found.found:
        report = evaluate(proposal.design, PROFILES)
        assert holds(report), report.in_words
        assert (proposal.verdict, proposal.in_words) == (report.verdict, report.in_words)
        assert proposal.money == pytest.approx(report.value("bill.spend"))
        asked_for = proposal.design.aim.model_copy(update={"brake_n": None, "brake": design.aim.brake})
        assert asked_for == design.aim, "the aim is met as it was asked"
        assert len({p.reason for p in found.found}) == len(found.found)
        fits_together(proposal)
        assert all(x[1:] in proposal.gives_up for x in against(report)), "it says what advice it goes against"
    plain: Any = found.found[0].design
    # No stage that reduces can be left out.
    for j, stage in enumerate(plain.chain):
        if stage.kind in ("gearbox", "closed_belt"):
            rest = [s.model_dump(mode="json") for k, s in enumerate(plain.chain) if k != j]
            shaft = plain.chain[j - 1].shaft_mm
            bores = {"end.pulley.bore_mm": shaft} if hasattr(plain.end, "pulley") else {}
            try:
                assert not holds(evaluate(changed(plain, {"chain": rest, **bores}), PROFILES)), stage.kind
            except EntryError:
                continue
    # No smaller motor of the list does in its place, on the same parts.
    own = plain.chain[0]
    for row in SHELF:
        if row.kind != "stepper" or not row.data["hold_torque_nm"] < 0.8 * own.hold_torque_nm:
            continue
        if row.data["frame"] not in ("NEMA 17", "NEMA 23") or row.data["shaft_mm"] != own.shaft_mm:
            continue
        data = {f"chain.0.{n}": float(v) for n, v in row.data.items() if n not in ("frame", "shaft_form")}
        current = {
            "chain.0.driver.current_a": float(row.data["rated_current_a"]),
            "chain.0.driver.current_is": "rms",
        }
        try:
            smaller = evaluate(
                changed(plain, {**data, **current, "chain.0.frame": row.data["frame"]}), PROFILES
            )
        except EntryError:
            continue
        assert not holds(smaller) or against(smaller) - against(evaluate(plain, PROFILES)), row.name


def test_own_parts_come_first() -> None:
    design = asked("half a kilo, half a metre", "carriage_loop")
    own = [Stock(r.key, r.kind, r.name, r.data, int(r.name == "Stepper NEMA 17 × 48"), None) for r in SHELF]
    plain: Any = propose(design, PROFILES, own).found[0].design
    assert plain.chain[0].label == "Stepper NEMA 17 × 48"
    assert plain.chain[0].in_stock


# What cannot be, and the field that is asked for less of, with the least that a maker would expect there.
TOO_MUCH: dict[str, tuple[str, dict[str, Any], str, float]] = {
    "ten metres a second with fifty kilogrammes": (
        "carriage_loop",
        aim(500, 10_000, 50),
        "aim.speed_mm_s",
        300,
    ),
    "half a tonne on a cord winch": ("drum", {"moving.0.mass_kg": 500.0}, "moving.0.mass_kg", 5),
    "an arm with a sack of cement": ("joint", {"moving.0.mass_kg": 40.0}, "moving.0.mass_kg", 1),
    "a screw of forty metres": ("screw", aim(40_000, 20, 1), "aim.travel_mm", 500),
}


@pytest.mark.parametrize("name", TOO_MUCH)
def test_an_aim_that_nothing_meets_gets_the_nearest_that_works(name: str) -> None:
    layout, changes, path, least = TOO_MUCH[name]
    design = changed(begin(layout, "New"), changes)
    found = propose(design, PROFILES, SHELF)
    assert len(found.found) == 1
    assert found.says.startswith("Nothing holds for this aim: ")
    one = found.found[0]
    assert holds(evaluate(one.design, PROFILES)), one.in_words
    assert one.less
    asked_for, got = (getattr(owner_of(d, path), path.rpartition(".")[2]) for d in (design, one.design))
    assert least <= got < asked_for
    # What was not lowered is as it was asked.
    assert one.design.aim.resolution_mm == design.aim.resolution_mm
    assert one.design.aim.error_mm == design.aim.error_mm


def test_a_budget_of_one_gets_what_holds_but_for_its_money() -> None:
    design = changed(begin("carriage_loop", "New"), {**aim(500, 200, 0.5), "aim.budget": 1.0})
    found = propose(design, PROFILES, SHELF)
    assert found.says.startswith("Nothing holds within 1.00 €: the cheapest found is the plainest, for ")
    for p in found.found:
        report = evaluate(p.design, PROFILES)
        assert [r.key for r in report.ladder if r.verdict == "short" and not r.advisory] == ["money"]
        assert p.design.aim.budget == 1.0
        assert "more than the budget" in p.gives_up
    enough = changed(design, {"aim.budget": min(p.money for p in found.found) + 0.01})
    assert propose(enough, PROFILES, SHELF).found[0].verdict == "holds"


@pytest.mark.parametrize("layout", ["carriage_loop", "rack", "wheel", "spindle"])
def test_an_empty_list_gets_what_the_layout_begins_with(layout: str) -> None:
    found = propose(begin(layout, "New"), PROFILES, [])
    assert len(found.found) == 1
    assert holds(evaluate(found.found[0].design, PROFILES))
    assert found.says


def test_what_would_fall_gets_a_brake_where_that_is_cheaper_than_a_motor_that_holds_it() -> None:
    arm: Any = propose(asked("arm that dips pots", "joint"), PROFILES, SHELF).found[0].design
    assert arm.aim.brake_n is not None
    without = evaluate(changed(arm, {"aim.brake_n": None}), PROFILES)
    assert next(r for r in without.ladder if r.key == "unpowered").verdict == "short"
    level: Any = propose(asked("half a kilo, half a metre", "carriage_loop"), PROFILES, SHELF).found[0].design
    assert level.aim.brake_n is None


def test_a_layout_that_is_not_searched_gets_its_typical_parts() -> None:
    found = propose(begin("drum", "New"), PROFILES, SHELF)
    assert [p.name for p in found.found] == ["plainest"]
    assert holds(evaluate(found.found[0].design, PROFILES))
    assert found.says


def test_the_list_for_the_command_line_holds_whole_designs() -> None:
    found = propose(asked("half a kilo, half a metre", "carriage_loop"), PROFILES, SHELF)
    listed = json.loads(list_json(found))
    assert set(listed[0]) >= {"name", "reason", "money", "gives_up", "verdict", "design"}
    again = parse_design(json.dumps(listed[0]["design"]).encode())
    assert holds(evaluate(again, PROFILES))
