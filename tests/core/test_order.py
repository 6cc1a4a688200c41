"""The order of work: rules that hold for every layout, every stage, and designs put together at random."""

from __future__ import annotations

import math
import random
import re
from typing import Any

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import BillLine, PlannedStep, WorkStep
from crisp_cadence.core.building.order import plan, sorted_steps, waits_of
from crisp_cadence.core.design.design import AxisDesign, changed, design_from
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.evaluation.evaluate import Run, work_out
from crisp_cadence.core.fields.axis import Tick
from crisp_cadence.core.fitting.plan import plan_belts
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.tuning.reading import bands
from thorough import many, seed

PROFILES = catalog.profiles()
MANY = many(500, 1500)
SEED = seed(16)

# ---- designs put together at random ------------------------------------------------------------------------

BELT = {"kind": "closed_belt", "belt_teeth": 160, "belt": {"profile": "round-g-2", "width_mm": 6.0}}
STAGES: dict[str, dict[str, Any]] = {
    "closed_belt": BELT,
    "gearbox": {"kind": "gearbox"},
    "coupler": {"kind": "coupler"},
    "clutch": {"kind": "clutch"},
    "worm": {"kind": "worm"},
}
SHAFTS = ("slotted plate", "jack screw", "spring", "hanging motor", "none")
OPEN = (
    "slotted idler",
    "sliding block",
    "threaded rod block",
    "slotted motor plate",
    "swinging arm",
    "none",
    "movable clamp",
)


def made_up(rng: random.Random) -> AxisDesign | None:
    """A design of any layout with any chain; None where that cannot be."""
    data = begin(rng.choice(list(LAYOUTS)), "Made up").model_dump(mode="json")
    end = data["end"]
    if end["kind"] != "spindle":
        stages = []
        for kind in rng.choices(list(STAGES), k=rng.choice((0, 0, 1, 1, 2, 3))):
            stage = {**STAGES[kind]}
            if kind == "closed_belt":
                stage["tensioner"] = {"kind": rng.choice(SHAFTS)}
                stage["wanted_mm"] = 110.0
            stages.append(stage)
        data["chain"] = [data["chain"][0], *stages]
    if "tensioner" in end:
        end["tensioner"]["kind"] = rng.choice(OPEN)
    if "clamp" in end:
        end["clamp"]["kind"] = rng.choice(("toothed plate", "doubled back", "zip tie", "nut in slot"))
        end["clamp"]["reached"] = rng.choice(("from the side", "under the tool plate", "from below"))
    if "slot_mm" in end:
        end["slot_mm"] = rng.choice((None, 12.0))
    if end["kind"] in ("carriage_loop", "rack", "screw"):
        data["sides"]["kind"] = rng.choice(("one", "two motors", "cross shaft", "one driven"))
    data["guide"]["kind"] = rng.choice(("wheels", "linear rail", "plain"))
    data["aim"]["slope_deg"] = rng.choice((0.0, 0.0, 90.0))
    data["schools"] = {
        "threadlock": rng.choice(("after the trial", "after the trial", "before the trial")),
        "first": rng.choice(("rails first", "plates first")),
    }
    data["aim"]["brake_n"] = rng.choice((None, None, 40.0))
    if "pulley" in end:
        end["pulley"]["teeth"] = rng.choice((end["pulley"]["teeth"], 40, 60))
    if data["chain"][0]["kind"] == "stepper":
        data["chain"][0]["frame"] = rng.choice(("NEMA 17", "NEMA 23", "other"))
    try:
        design = design_from(data)
        work_out(design, PROFILES)
    except EntryError:
        return None
    return design


def random_designs() -> list[AxisDesign]:
    rng = random.Random(SEED)
    found: list[AxisDesign] = []
    while len(found) < MANY:
        one = made_up(rng)
        if one is not None:
            found.append(one)
    return found


# ---- what every order keeps --------------------------------------------------------------------------------

# Parts by the words that steps use for them: whether an axis has such a part, and the steps that fit it.
NOUNS: dict[str, tuple[Any, str]] = {
    r"coil": (lambda d: d.chain[0].kind == "stepper", r"coil_test"),
    r"closed belt": (lambda d: has(d, "closed_belt"), r"chain_\d_on"),
    r"coupler": (
        lambda d: has(d, "coupler") or d.sides.kind == "cross shaft",
        r"coupler|chain_\d_coupler|cross_on",
    ),
    r"gearbox": (lambda d: has(d, "gearbox"), r"(chain_\d_)?gearbox|pulley_on"),
    r"worm": (lambda d: has(d, "worm"), r"worm|chain_\d_worm"),
    r"clutch": (lambda d: has(d, "clutch"), r"clutch|chain_\d_clutch"),
    r"idlers?": (lambda d: hasattr(d.end, "idler"), r"idler_on"),
    r"rails?": (lambda d: d.end.guided, r"rail_on|slot_filled"),
    r"carriage": (lambda d: d.end.guided, r"carriage_on|rail_on"),  # "until the carriage has run"
    r"eccentrics?": (lambda d: d.end.guided and d.guide.kind == "wheels", r"carriage_on"),
    r"tensioner": (lambda d: hasattr(d.end, "tensioner"), r"idler_on"),
    r"tool plate": (lambda d: hasattr(d.end, "clamp"), r"covers"),
    r"cross shaft": (lambda d: d.sides.kind == "cross shaft", r"cross_on"),
    r"beam": (lambda d: d.sides.kind != "one" or d.end.kind == "crossed_belts", r"beam_on"),
    r"jack screws?": (
        lambda d: any("jack" in t or "block" in t or "motor plate" in t for t in tensioners(d)),
        r"tension\w*|chain_\d_tension",
    ),
    r"drum": (lambda d: d.end.kind == "drum", r"pulley_on|bearings"),
    r"rope": (lambda d: d.end.kind == "drum", r"rope_on"),
    r"racks?": (lambda d: d.end.kind == "rack", r"rack_on"),
    r"pinion": (lambda d: d.end.kind == "rack", r"pulley_on|bearings"),
    r"(?<!swings )the arm\b(?!'s)": (lambda d: d.end.kind == "joint", r"pulley_on"),
    r"spindle": (lambda d: d.end.kind == "spindle", r"bearings"),
    r"cones?": (lambda d: d.end.kind == "spindle", r"pulley_on"),
    r"the nut\b(?! on the threaded)": (lambda d: d.end.kind == "screw", r"screw_on"),
    r"guards?": (lambda d: True, r"covers|guards|chain_\d_guard"),
}


def has(design: AxisDesign, kind: str) -> bool:
    return any(s.kind == kind for s in design.chain)


def tensioners(design: AxisDesign) -> list[str]:
    parts = [design.end, *design.chain]
    return [p.tensioner.kind for p in parts if hasattr(p, "tensioner")]


def in_order(run: Run) -> list[WorkStep]:
    return [run.steps[i] for i, _ in sorted_steps(tuple(waits_of(s) for s in run.steps))]


def all_is_fitted(run: Run) -> None:
    fitted = {part for step in run.steps for part in step.needs}
    assert {line.field for line in run.bill.lines if not line.field.startswith("extras.")} <= fitted


def keeps_the_rules(design: AxisDesign) -> None:
    run, _ = work_out(design, PROFILES)
    all_is_fitted(run)
    steps = in_order(run)
    keys = [s.key for s in steps]
    assert len(set(keys)) == len(keys), "a step stands twice"
    at = {key: i for i, key in enumerate(keys)}
    the_parts_it_has(design, steps)
    shafts_are_held(design, at)
    fasteners_are_reached(steps)
    assert at["look_again"] > at["slow_run"] > at["hand_run"]
    assert at["lock_screws"] > at["look_again"], "locked before it has run"
    assert at["calibrate"] > max(i for key, i in at.items() if "tension" in key) if tension(at) else True
    assert all(s.state != "locked" or at[s.key] > at["slow_run"] for s in steps)
    bill = {b.field for b in run.bill.lines}
    for step in steps:
        for part in step.needs:
            assert part in bill or part.startswith("end.tensioner"), (step.key, part)


def tension(at: dict[str, int]) -> list[str]:
    return [key for key in at if "tension" in key]


def the_parts_it_has(design: AxisDesign, steps: list[WorkStep]) -> None:
    for noun, (owned, fits) in NOUNS.items():
        for step in steps:
            if step.key == "check_parts" or not re.search(
                rf"\b{noun}\b" if noun[-1].isalpha() else noun, step.do
            ):
                continue
            assert owned(design), f"{step.key} speaks of {noun}, which it has not: {step.do}"
            assert re.fullmatch(fits, step.key), f"{noun} is first named by {step.key}: {step.do}"
            break


def shafts_are_held(design: AxisDesign, at: dict[str, int]) -> None:
    """Both shafts of a belt stand, and what holds them is fast or is tightened with the belt itself."""
    stands = {
        j: "motor_on" if all(s.kind == "gearbox" for s in design.chain[1 : j + 1]) else None
        for j in range(len(design.chain))
    }
    for j, stage in enumerate(design.chain):
        if stage.kind != "closed_belt":
            continue
        mine = at[f"chain_{j}_tension"]
        if stands[j - 1]:
            assert at["motor_on"] < at[f"chain_{j}_on"] < mine
            if "motor_tight" in at:
                assert at["motor_tight"] < mine
        if j == len(design.chain) - 1:
            shaft = next(k for k in ("screw_on", "pulley_on") if k in at)
            assert at[shaft] < at[f"chain_{j}_on"], "laid on before the shaft it drives is there"
            fast = next(k for k in ("nut_tight", "shaft_tight", "mesh_set", "tensioner_lock") if k in at)
            assert at[fast] < mine
        else:
            assert any(
                at[k] < at[f"chain_{j}_on"]
                for k in (f"chain_{j}_shaft", "gearbox", f"chain_{j + 1}_gearbox")
                if k in at
            )
    for key, place in at.items():
        if re.fullmatch(r"tension(_\d)?", key) and design.end.kind != "spindle":
            assert at["idler_on"] < place
            assert at["line_up"] < at["pulley_tight"] < at[key.replace("tension", "thread_belt")]
            slid = design.end.tensioner.kind == "slotted motor plate"  # type: ignore[attr-defined]
            if not slid:  # what holds the drive pulley's shaft is fast before its belt pulls at it
                holders = [
                    k for k in at if re.fullmatch(r"shaft_tight|(chain_\d_)?gearbox_tight|motor_tight", k)
                ]
                assert any(at[k] < place for k in holders)


def fasteners_are_reached(steps: list[WorkStep]) -> None:
    by_key = {s.key: s for s in steps}
    covered: dict[str, str] = {}
    for step in steps:
        for fastener in step.fastens:
            assert fastener not in covered, f"{step.key} works at {fastener}, under {covered.get(fastener)}"
        covered |= {f: step.key for key in step.covers for f in by_key[key].fastens}


@pytest.mark.parametrize("name", sorted(LAYOUTS))
def test_every_layout_keeps_the_rules(name: str) -> None:
    keeps_the_rules(begin(name, "New"))


def test_every_demo_axis_keeps_the_rules() -> None:
    for design in demo.designs().values():
        keeps_the_rules(design)


def test_designs_put_together_at_random_keep_the_rules() -> None:
    for design in random_designs():
        try:
            keeps_the_rules(design)
        except Exception as error:
            chain = [s.kind for s in design.chain]
            raise AssertionError(f"{SEED}: {design.end.kind} {chain} {design.sides.kind}: {error}") from error


# ---- Build, Belt and Tune agree ----------------------------------------------------------------------------


@pytest.mark.parametrize("name", sorted(demo.designs()))
def test_build_threads_as_the_card_in_belt_and_tensions_as_tune(name: str) -> None:
    design = demo.designs()[name]
    run, _ = work_out(design, PROFILES)
    steps = {s.key: s for s in run.steps}
    open_belts = [
        b for b in plan_belts(design, PROFILES, catalog.stock()).belts if b.at == "end" and not b.closed
    ]
    told = {b.name: b for b in bands(design, PROFILES).values()}
    for key, step in steps.items():
        if not key.startswith("thread_belt"):
            continue
        card = open_belts[min(int(key[12:] or 1), len(open_belts)) - 1].wheels
        way = ", ".join(f"{w.touches} on the {w.name}" if w.touches else w.name for w in card)
        assert way in step.do
        belt = next(n for n in told if n in step.do)
        aim = told[belt].aim.value
        assert aim is not None
        assert f"{aim:.0f} N" in steps[key.replace("thread_belt", "tension")].do


def test_threadlock_goes_in_before_the_trial_only_where_the_maker_wants_it() -> None:
    for design in demo.designs().values():
        late, _ = work_out(design, PROFILES)
        early, _ = work_out(changed(design, {"schools.threadlock": "before the trial"}), PROFILES)
        assert not any("Threadlock on each" in s.do for s in late.steps)
        assert any("Threadlock on each" in s.do for s in early.steps), design.name
        assert not any(s.state == "locked" and "take" in s.do.lower() for s in early.steps)


def test_plates_first_bolts_the_rail_between_what_stands() -> None:
    design = demo.designs()["seed-shuttle-aisle"]
    for first, wanted in (("rails first", False), ("plates first", True)):
        run, _ = work_out(changed(design, {"schools.first": first}), PROFILES)
        keys = [s.key for s in in_order(run)]
        assert (keys.index("motor_on") < keys.index("rail_on")) >= wanted
        assert (keys.index("idler_on") < keys.index("carriage_on")) == wanted


def test_a_clamp_under_a_plate_asks_for_a_hole_before_the_plate_goes_on() -> None:
    design = changed(demo.designs()["seed-shuttle-aisle"], {"end.clamp.reached": "under the tool plate"})
    run, _ = work_out(design, PROFILES)
    steps = {s.key: s for s in run.steps}
    assert "drill a hole" in steps["clamp_near"].access
    assert "clamp_near" in steps["covers"].covers
    assert (
        "drill"
        not in {s.key: s for s in work_out(demo.designs()["seed-shuttle-aisle"], PROFILES)[0].steps}[
            "clamp_near"
        ].access
    )


# ---- the plan itself ---------------------------------------------------------------------------------------


def planned(
    *steps: WorkStep, here: tuple[str, ...] = (), done: tuple[str, ...] = ()
) -> tuple[PlannedStep, ...]:
    fields = {f for s in steps for f in s.needs}
    lines = [BillLine(f.title(), "", 1, "", 3.0, 3.0, f in here, f) for f in sorted(fields)]
    return plan(steps, lines, {k: Tick(step=k) for k in done}, lambda name: (name, ""))[0]


def test_a_step_waits_for_all_that_give_a_thing_and_names_the_nearest_only() -> None:
    steps = (
        WorkStep("last", "Run it", after=("ready",)),
        WorkStep("one", "One", gives=("ready",)),
        WorkStep("two", "Two", after=("one",), gives=("ready",)),
    )
    got = {s.key: s for s in planned(*steps)}
    assert list(got) == ["one", "two", "last"]
    assert got["last"].waits_for_steps == ("two",), "one is waited for by two already"
    assert {s.key: s.now for s in planned(*steps, done=("one", "two"))}["last"] == "ready"


def test_what_is_covered_is_worked_at_before_by_every_step() -> None:
    steps = (
        WorkStep("lid", "Close", covers=("loose",), fastens=("lid",)),
        WorkStep("loose", "Put it on", fastens=("screw",)),
        WorkStep("tight", "Tighten it", after=("loose",), fastens=("screw",)),
    )
    assert [s.key for s in planned(*steps)] == ["loose", "tight", "lid"]


def test_steps_that_cannot_be_put_in_order_are_named() -> None:
    with pytest.raises(ValueError, match="wait for each other: a, b"):
        planned(WorkStep("a", "A", after=("b",)), WorkStep("b", "B", after=("a",)))
    with pytest.raises(ValueError, match="a waits for nothing_such"):
        planned(WorkStep("a", "A", after=("nothing_such",)))
    with pytest.raises(ValueError, match="one key"):
        planned(WorkStep("a", "A"), WorkStep("a", "B"))


def test_a_step_says_what_it_takes() -> None:
    bare = work_of(demo.designs()["glaze-bench-pass"])
    assert bare["motor_on"].tools == ("2.5 mm hex key",), "M3 of this frame by ISO 4762"
    got = work_of(demo.designs()["seed-shuttle-lift"])
    assert got["motor_on"].tools == ("hex keys",), "its gearbox is bolted on, and nobody has said by what"
    assert got["motor_on"].parts == ("Stepper NEMA 17 × 40",)
    assert got["gearbox_collar"].side
    assert all(s.tools or not s.state for s in got.values() if s.state in ("tightened", "locked"))


# ---- what sits before the bolts ----------------------------------------------------------------------------


def work_of(design: AxisDesign) -> dict[str, PlannedStep]:
    run, runs = work_out(design, PROFILES)
    return {s.key: s for s in run.report(runs).work}


def direct(teeth: int, tensioner: str = "slotted idler", frame: str = "NEMA 17") -> AxisDesign:
    """A loop whose pulley sits on the motor's own shaft: 2 mm, round teeth."""
    return changed(
        begin("carriage_loop", "Direct"),
        {"chain.0.frame": frame, "end.pulley.teeth": teeth, "end.tensioner.kind": tensioner},
    )


@pytest.mark.parametrize(
    ("teeth", "order", "says"),
    [
        # NEMA 17: bolts on ⌀ 43.8, boss ⌀ 22, key 2.5; a pulley of 2 mm with flanges has a rim of 2·z/π + 3.39.
        (20, ("pulley_on", "motor_on", "motor_tight"), "leaves the key 12 mm of room"),
        (40, ("motor_on", "pulley_on", "motor_tight"), "the hole for its boss is ⌀ 22 mm only"),
        (60, ("motor_on", "motor_tight", "pulley_on"), "stands over the bolts: they are tightened before"),
    ],
)
def test_a_pulley_that_passes_no_hole_or_hides_the_bolts_goes_on_later(
    teeth: int, order: tuple[str, ...], says: str
) -> None:
    got = work_of(direct(teeth))
    keys = list(got)
    assert sorted(order, key=keys.index) == list(order)
    assert says in got["motor_on"].access


def test_a_motor_that_is_moved_behind_a_wide_pulley_asks_for_another_way_to_its_bolts() -> None:
    got = work_of(direct(60, "slotted motor plate"))
    assert "bore holes for the key through its web" in got["motor_on"].access
    assert list(got).index("motor_on") < list(got).index("pulley_on")
    run, runs = work_out(direct(60, "slotted motor plate"), PROFILES)
    (note,) = [n for n in run.report(runs).notes if "hides the motor's bolts" in n.says]
    assert (note.step, note.field) == ("belt", "end.tensioner.kind")
    assert "leaves the key" in work_of(direct(60, "slotted motor plate", "NEMA 23"))["motor_on"].access


def test_what_it_rests_on_can_be_opened() -> None:
    run, runs = work_out(direct(20), PROFILES)
    found = {q.key: q for q in run.report(runs).results}
    assert found["reach.rim"].value == pytest.approx(40 / math.pi - 0.508 + 2 * 1.45 + 1)
    assert found["reach.bolts"].value == pytest.approx(
        31 / math.sqrt(2) - found["reach.rim"].n / 2 - 2.5 / math.sqrt(3)
    )


def with_rollers() -> AxisDesign:
    """A closed belt with a roller and a bought tensioner; a loop with a roller on a washer."""
    roller = {"x_mm": 60.0, "y_mm": 30.0, "diameter_mm": 12.0}
    return changed(
        begin("belt_reduction", "Rollers"),
        {
            "chain.1.rollers": [{**roller, "y_mm": -2.0, "x_mm": 30.0}],
            "chain.1.tensioner.label": "Tension arm",
            "end.rollers": [{"x_mm": 300.0, "y_mm": -12.0, "stack": [{"thickness_mm": 1.0}]}],
        },
    )


@pytest.mark.parametrize("design", [*demo.designs().values(), with_rollers()], ids=lambda d: d.name)
def test_whatever_is_on_the_bill_is_fitted_by_a_step(design: AxisDesign) -> None:
    run, _ = work_out(design, PROFILES)
    all_is_fitted(run)


@pytest.mark.parametrize("layout", ["rack", "screw", "carriage_loop"])
@pytest.mark.parametrize("sides", ["two motors", "cross shaft", "one driven"])
def test_a_gantry_has_every_part_twice_that_both_sides_drive_with(layout: str, sides: str) -> None:
    design = changed(begin(layout, "Bridge"), {"sides.kind": sides})
    run, _ = work_out(design, PROFILES)
    count = 1 if sides == "one driven" else 2
    bought = {line.field: line.quantity for line in run.bill.lines if line.field.startswith("end.")}
    each = {"end.rack", "end.pinion", "end.screw", "end.nut", "end.pulley", "end.clamp"} & set(bought)
    assert each
    assert {bought[field] for field in each} == {count}
    assert [c.pieces for c in run.cuts if c.of] == [count]
    keys = list(work_of(design))
    assert keys.index("carriage_on") < keys.index("beam_on") < keys.index("square") < keys.index("hand_run")
    assert ("cross_on" in keys) == (sides == "cross shaft")


def test_what_holds_without_power_is_freed_before_the_run_by_hand() -> None:
    winch = begin("drum", "Winch")  # it has a worm
    assert "turn the motor's shaft" in work_of(winch)["hand_run"].do
    lift = changed(demo.designs()["seed-shuttle-lift"], {"aim.brake_n": 60.0})
    assert "Hold the brake open" in work_of(lift)["hand_run"].do
    assert "Hold the brake" not in work_of(demo.designs()["seed-shuttle-lift"])["hand_run"].do


@pytest.mark.parametrize(("layout", "first"), [("screw", False), ("rack", False), ("carriage_loop", True)])
def test_only_what_has_a_belt_is_tensioned_before_it_is_calibrated(layout: str, first: bool) -> None:
    run, runs = work_out(begin(layout, "Slide"), PROFILES)
    note = next(s.note for s in run.report(runs).settings if s.label.startswith("Steps per"))
    assert ("tension" in note) == first


def test_a_brake_is_fitted_and_tried_before_the_first_run() -> None:
    got = work_of(changed(demo.designs()["seed-shuttle-lift"], {"aim.brake_n": 60.0}))
    keys = list(got)
    assert keys.index("motor_on") < keys.index("brake_on") < keys.index("slow_run")
    assert "Brake" in got["brake_on"].parts
    assert "brake_on" not in work_of(demo.designs()["seed-shuttle-lift"])


# ---- ticks ------------------------------------------------------------------------------------------------


def test_a_later_change_of_a_part_shows_at_every_step_that_rested_on_it() -> None:
    design = demo.designs()["seed-shuttle-aisle"]
    run, runs = work_out(design, PROFILES)
    work = run.report(runs).work
    ticks = [{"step": w.key, "day": "2026-03-20", "stood": w.stands} for w in work]
    done = changed(design, {"done": ticks})
    run, runs = work_out(done, PROFILES)
    assert all(w.now == "done" and w.done_on == "2026-03-20" and not w.undone for w in run.report(runs).work)
    idler = changed(done, {"end.idler.stack": [{"label": "Washer", "thickness_mm": 1.0}]})
    run, runs = work_out(idler, PROFILES)
    found = {w.key: w.undone for w in run.report(runs).work if w.undone}
    assert set(found) == {"idler_on", "line_up"}
    assert "Idler" in found["idler_on"]
    # What a part is called and costs undoes nothing; another aim asks for another tension.
    run, runs = work_out(changed(done, {"end.idler.price": 99.0, "end.idler.label": "Old one"}), PROFILES)
    assert not any(w.undone for w in run.report(runs).work)
    run, runs = work_out(changed(done, {"end.belt.tension_n": 40.0}), PROFILES)
    told = {w.key: w.undone for w in run.report(runs).work if w.undone}
    assert "is 40 N, was 23.1 N" in told["tension"]


def test_a_step_that_was_ticked_by_its_key_alone_is_done_still() -> None:
    design = changed(demo.designs()["seed-shuttle-aisle"], {"done": ["check_parts", "coil_test"]})
    assert design_from(design.model_dump(mode="json")).done == ["check_parts", "coil_test"]
    run, runs = work_out(design, PROFILES)
    work = {w.key: w for w in run.report(runs).work}
    assert work["check_parts"].now == "done"
    assert work["bore"].now == "ready"
