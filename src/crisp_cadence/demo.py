"""Demo data: a village pottery with a seed library next door. Everything in it is made up, prices
included.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable
from datetime import date
from typing import Any

from . import catalog
from .core.design.design import AxisDesign, changed, design_from
from .core.design.riding import carrying
from .core.evaluation.evaluate import evaluate, work_out
from .core.machine.design import plan_from
from .core.machine.work import Axes, Brought
from .core.tuning.calibrating import Move, MovesReading
from .core.tuning.reading import PluckReading, PushReading
from .core.tuning.squaring import DiagonalsReading
from .core.tuning.taken import AnyReading, taken
from .core.tuning.trials import TrialReading
from .demo_layouts import MORE, mass, part
from .store import Store, axes, drawer, log, machines


def _built(design: AxisDesign, to_come: tuple[str, ...] = ()) -> AxisDesign:
    """The design of an axis that stands: every part is here but those named, and what can be done without
    them is done.
    """

    def here(part: Any) -> Any:
        if isinstance(part, list):
            return [here(p) for p in part]
        if isinstance(part, dict):
            owned = {"in_stock": part["label"] not in to_come} if "in_stock" in part else {}
            return {**{k: here(v) for k, v in part.items()}, **owned}
        return part

    design = design_from(here(design.model_dump(mode="json")))
    done: dict[str, None] = {}
    for step in evaluate(
        design, catalog.profiles()
    ).work:  # in working order, so what a step waits for has been looked at before
        if not step.waits_for_parts and set(step.waits_for_steps) <= done.keys():
            done[step.key] = None
    return design.model_copy(update={"done": list(done)})


def aisle() -> AxisDesign:
    """A long level run that holds."""
    return _built(design_from({
        "name": "Aisle",
        "note": "Carries one tray of seed envelopes from the drawers to the counter.",
        "aim": {
            "purpose": "Carry a tray of seed envelopes along the drawers", "travel_mm": 1500.0, "speed_mm_s": 500.0, "acceleration_mm_s2": 1200.0,
            "push_n": 0.0, "resolution_mm": 0.1, "error_mm": 0.5, "budget": 260.0,
        },
        "guide": {"kind": "wheels", "rail_mm": 1750.0, "carriage_mm": 120.0, "near_mm": 30.0, "far_mm": 30.0, "overtravel_mm": 10.0, "drag_n": 3.0},
        "moving": [mass("Carriage plate with wheels", 0.62), mass("Tray cradle", 0.48), mass("Full tray", 1.1)],
        "chain": [{
            "kind": "stepper", **part("stepper:stepper-nema-23-56", 31.0),
            "driver": {"label": "Driver and 36 V supply", "price": 52.0, "supply_v": 36.0, "current_a": 2.8, "microsteps": 8},
        }],
        "end": {
            "kind": "carriage_loop", "motor_offset_mm": 35.0, "idler_offset_mm": 28.0,
            "belt": {"label": "Open belt", "profile": "round-g-3", "width_mm": 9.0, "price_per_m": 6.4, "calibrated_at_n": 20.0},
            "pulley": {"label": "Drive pulley", "price": 7.5, "teeth": 24, "bore_mm": 6.35, "hub_mm": 19.4, "face_mm": 10.0, "overhang_mm": 14.0, "seat_mm": 20.0, "fixing": {"screw_mm": 4.0}},
            "idler": {
                "label": "Idler", "price": 6.0, "teeth": 20, "width_mm": 10.0, "seat_mm": 18.0,
                "stack": [{"label": "Spacer, bore 5 mm, 10 mm", "drawer_key": "spacer:spacer-bore-5-mm-10-mm", "thickness_mm": 10.0, "price": 0.4}, {"label": "Washer M5", "drawer_key": "washer:washer-m5", "thickness_mm": 1.0, "price": 0.02}],
            },
            "clamp": {"label": "Clamp plates", "price": 3.0, "gap_mm": 80.0, "engaged_teeth": 7, "line_mm": 34.0},
            "tensioner": {"label": "Slotted idler plate", "price": 4.0, "travel_mm": 16.0, "run_in_mm": 1.5},
            "idler_mount": {"kind": "plate", "material": "aluminium", "thickness_mm": 6.0, "width_mm": 50.0, "overhang_mm": 28.0},
        },
        "extras": [
            {"label": "Groove rail, 1750 mm", "price": 38.0, "in_stock": True}, {"label": "Wheels with eccentrics", "price": 5.5, "quantity": 4},
            {"label": "End switches", "price": 2.4, "quantity": 2},
        ],
    }))  # fmt: skip


def lift() -> AxisDesign:
    """An upright run with a gearbox: tight, and it falls without power unless something holds it."""
    return _built(design_from({
        "name": "Lift",
        "note": "Raises the tray to the upper drawers.",
        "aim": {
            "purpose": "Raise a tray to the upper drawers", "travel_mm": 420.0, "speed_mm_s": 120.0, "acceleration_mm_s2": 600.0, "slope_deg": 90.0,
            "resolution_mm": 0.1, "error_mm": 0.6, "budget": 190.0,
        },
        "guide": {"kind": "linear rail", "rail_mm": 600.0, "carriage_mm": 70.0, "near_mm": 25.0, "far_mm": 25.0, "overtravel_mm": 8.0, "friction": 0.01, "drag_n": 4.0},
        "moving": [mass("Fork", 0.55), mass("Full tray", 1.1)],
        "chain": [
            {
                "kind": "stepper", **part("stepper:stepper-nema-17-40", 14.0, detent_torque_nm=0.015),
                "driver": {"label": "Driver, on the 24 V supply", "price": 18.0, "supply_v": 24.0, "current_a": 1.4, "microsteps": 16, "idle_percent": 60.0},
            },
            {"kind": "gearbox", **part("gearbox:planetary-gearbox-small-frame-10-1", 42.0)},
        ],
        "end": {
            "kind": "carriage_loop", "motor_offset_mm": 30.0, "idler_offset_mm": 25.0,
            "belt": {"label": "Open belt", "profile": "round-g-3", "width_mm": 9.0, "price_per_m": 6.4},
            "pulley": {"label": "Drive pulley", "price": 7.0, "teeth": 20, "bore_mm": 8.0, "hub_mm": 18.0, "face_mm": 10.0, "overhang_mm": 16.0, "fixing": {"screw_mm": 4.0}},
            "idler": {"label": "Idler", "price": 6.0, "teeth": 20, "width_mm": 10.0},
            "clamp": {"label": "Clamp plate", "price": 3.0, "gap_mm": 50.0},
            "tensioner": {"label": "Sliding block", "kind": "sliding block", "price": 5.0, "travel_mm": 8.0},
        },
        "extras": [{"label": "Linear rail, 600 mm, with block", "price": 44.0}, {"label": "Power-off brake, 24 V", "price": None}],
    }), to_come=("Open belt", "Clamp plate", "Power-off brake, 24 V"))  # fmt: skip


def glaze_pass() -> AxisDesign:
    """A pass under the spray nozzle, starved by its 12 V supply."""
    return _built(design_from({
        "name": "Pass",
        "note": "Draws a tile under the glaze nozzle at an even speed, then runs back fast.",
        "aim": {
            "purpose": "Draw a tile under the glaze nozzle, run back fast", "travel_mm": 600.0, "speed_mm_s": 900.0, "acceleration_mm_s2": 6000.0,
            "resolution_mm": 0.1, "error_mm": 0.6, "budget": 120.0,
        },
        "guide": {"kind": "wheels", "rail_mm": 800.0, "carriage_mm": 100.0, "near_mm": 25.0, "far_mm": 25.0, "overtravel_mm": 8.0, "drag_n": 2.5},
        "moving": [mass("Carriage", 0.42), mass("Tile holder", 0.3), mass("Tile", 0.7)],
        "chain": [{
            "kind": "stepper", **part("stepper:stepper-nema-17-60", 19.0),
            "driver": {"label": "Driver, on an old 12 V supply", "price": 12.0, "in_stock": True, "supply_v": 12.0, "current_a": 2.1, "microsteps": 16},
        }],
        "end": {
            "kind": "carriage_loop", "motor_offset_mm": 28.0, "idler_offset_mm": 22.0,
            "belt": {"label": "Open belt", "profile": "round-g-2", "width_mm": 10.0, "price_per_m": 4.2},
            "pulley": {"label": "Drive pulley", "price": 4.0, "teeth": 20, "bore_mm": 5.0, "hub_mm": 16.0, "face_mm": 11.0, "overhang_mm": 12.0},
            "idler": {"label": "Idler", "price": 3.5, "teeth": 20, "width_mm": 11.0},
            "clamp": {"label": "Belt doubled back", "kind": "doubled back", "price": 0.0, "gap_mm": 60.0},
            "tensioner": {"label": "Slotted motor plate", "kind": "slotted motor plate", "price": 0.0, "travel_mm": 12.0},
            "motor_mount": {"kind": "plate", "material": "acrylic", "thickness_mm": 10.0, "width_mm": 60.0, "overhang_mm": 22.0},
        },
        "extras": [{"label": "Groove rail, 800 mm", "price": 21.0, "in_stock": True}, {"label": "Wheels with eccentrics", "price": 5.5, "quantity": 4}],
    }))  # fmt: skip


def slip_reach() -> AxisDesign:
    """A light, fine axis that draws lines of slip on plates."""
    return design_from({
        "name": "Reach",
        "note": "Moves the slip bottle across a turning plate.",
        "aim": {
            "purpose": "Move a slip bottle across a turning plate", "travel_mm": 280.0, "speed_mm_s": 150.0, "acceleration_mm_s2": 800.0, "push_n": 2.0,
            "resolution_mm": 0.05, "error_mm": 0.3, "budget": 90.0,
        },
        "guide": {"kind": "linear rail", "rail_mm": 400.0, "carriage_mm": 45.0, "near_mm": 20.0, "far_mm": 20.0, "overtravel_mm": 5.0, "friction": 0.01, "drag_n": 1.5},
        "moving": [mass("Carriage", 0.18), mass("Slip bottle, full", 0.34)],
        "chain": [{
            "kind": "stepper", **part("stepper:stepper-nema-17-34", 11.0, in_stock=True),
            "driver": {"label": "Driver and 24 V supply", "price": 24.0, "supply_v": 24.0, "current_a": 1.2, "microsteps": 16},
        }],
        "end": {
            "kind": "carriage_loop", "motor_offset_mm": 26.0, "idler_offset_mm": 20.0,
            "belt": {"label": "Open belt", "profile": "round-g-2", "width_mm": 9.0, "price_per_m": 3.9, "line_mass_g_m": 11.8},
            "pulley": {"label": "Drive pulley", "price": 4.0, "teeth": 16, "bore_mm": 5.0, "hub_mm": 13.0, "face_mm": 10.0, "overhang_mm": 11.0},
            "idler": {"label": "Idler", "price": 3.5, "teeth": 16, "width_mm": 10.0},
            "clamp": {"label": "Clamp plate", "price": 2.0, "gap_mm": 30.0},
            "tensioner": {"label": "Movable clamp tab", "kind": "movable clamp", "price": 0.0, "travel_mm": 9.0},
        },
        "extras": [{"label": "Linear rail, 400 mm, with block", "price": 26.0}],
    })  # fmt: skip


MACHINES: tuple[tuple[str, str, tuple[Any, ...]], ...] = (
    ("Seed shuttle", "Fetches trays of seed envelopes in the seed library.", (aisle, lift)),
    ("Glaze bench", "Sprays tiles in the pottery, behind a screen with extraction.", (glaze_pass,)),
    ("Slip writer", "Draws lines of slip on plates.", (slip_reach,)),
    *MORE,
)


RIDES = {"Head": "Long way"}  # which axis rides on which


def designs() -> dict[str, AxisDesign]:
    """Every demo axis by the name of its file, with what rides on it."""
    made = {
        f"{machine} {design.name}": design
        for machine, _, makes in MACHINES
        for design in (_ordered(make()) for make in makes)
    }
    riders = {mount: [d for d in made.values() if RIDES.get(d.name) == mount] for mount in RIDES.values()}
    return {
        re.sub(r"[^a-z0-9]+", "-", name.lower()): carrying(d, riders[d.name]) if d.name in riders else d
        for name, d in made.items()
    }


def fill(store: Store) -> None:
    """Fill an empty store with the demo: all of it or nothing, and once, however many programs start at the
    same time.
    """
    with store.transaction():
        if not axes.machines(store):
            _fill(store)


def _pushed(force: float) -> PushReading:
    """A closed belt pushed aside by 2 mm with a spring scale at the middle of its span."""
    return PushReading(of="chain.1", span_mm=134.3, deflection_mm=2.0, force_n=force)


# What was read, of which axis, on which day.
READINGS: tuple[tuple[str, str, AnyReading, str], ...] = (
    ("Long way", "2026-03-14", _pushed(2.0), "Closed belt, when it was new."),
    ("Long way", "2026-03-28", _pushed(1.8), "Closed belt after two weeks: drawn to its mark again."),
    ("Long way", "2026-03-28", _pushed(2.05), "Closed belt, read again."),
    ("Long way", "2026-08-02", _pushed(1.98), "Closed belt in summer."),
    ("Long way", "2026-08-09", TrialReading(of="drag", values=[9.3, 9.7]), "Kitchen scale, both ways, belt off."),
    ("Long way", "2026-08-09", TrialReading(of="give", values=[0.92, 0.94]), "Five litres of water over a roller; softer than it was meant. The belt is a new one of another make."),
    ("Long way", "2026-08-09", TrialReading(of="ring", values=[14.8, 14.5]), "Counted on the drawn line after a stop, and filmed."),
    ("Loader", "2026-07-04", PluckReading(of="end.1", span_mm=207.6, frequency_hz=95.0), "First side, hand on the other run."),
    ("Loader", "2026-07-04", PluckReading(of="end.2", span_mm=207.6, frequency_hz=91.5), "Second side."),
    ("Loader", "2026-07-04", DiagonalsReading(across_mm=800.0, along_mm=900.0, rising_mm=1205.1, falling_mm=1203.3), "Pencil marks on board: the second side is ahead."),
    ("Loader", "2026-07-05", DiagonalsReading(across_mm=800.0, along_mm=900.0, rising_mm=1204.3, falling_mm=1204.0), "After its switch was shifted."),
    ("Aisle", "2026-04-02", PluckReading(span_mm=200.0, frequency_hz=72.0), "First tension after fitting, by ear."),
    ("Aisle", "2026-04-09", PluckReading(span_mm=200.0, frequency_hz=84.0), "Tightened after the first week; the ends had settled."),
    ("Aisle", "2026-06-20", PluckReading(span_mm=200.0, frequency_hz=82.0), "Checked before the summer swap."),
    ("Aisle", "2026-09-14", PluckReading(span_mm=200.0, frequency_hz=80.5), "Slowly falling; look again in winter."),
    ("Aisle", "2026-04-10", TrialReading(of="drag", values=[3.9, 4.1]), "Kitchen scale, both ways, belt off."),
    ("Aisle", "2026-04-10", MovesReading(moves=[Move(commanded=length, measured=way) for length, way in ((500.0, 500.3), (500.0, 500.2), (1000.0, 1000.6), (1000.0, 1000.5))]), "Steel tape, always from the motor's end."),
    ("Shutter", "2026-05-02", TrialReading(of="end.play", values=[0.12, 0.14, 0.19]), "Near, middle, far: the far end of the rack stands off."),
    ("Wheels", "2026-05-20", TrialReading(of="end.roll", values=[4352.0, 4348.0]), "With a full tray on; the tyres press flat."),
    ("Potter's wheel", "2026-06-06", TrialReading(of="end.speed.2", values=[93.0]), "Tachometer on the wheel head."),
)  # fmt: skip


# What was ordered for the clay printer: what, for which lines of which axes, price, freight, ordered, due, arrived.
PARCELS: tuple[tuple[str, tuple[str, ...], float, float, str, str, str], ...] = (
    ("Lead screw kit", ("Board:end.screw", "Board:end.nut", "Board:chain.1"), 24.5, 4.9, "2026-10-05", "2026-10-12", "2026-10-13"),
    ("Three motors with drivers", ("Board:chain.0", "Board:chain.0.driver", "Head:chain.0", "Head:chain.0.driver"), 118.0, 0.0, "2026-10-05", "2026-10-14", "2026-10-14"),
    ("Idlers, pack of ten", ("Long way:end.idler", "Head:end.idler"), 29.9, 3.5, "2026-10-19", "2026-10-26", "2026-10-27"),
    ("Motor NEMA 23 with driver", ("Long way:chain.0", "Long way:chain.0.driver"), 68.0, 6.9, "2026-11-02", "2026-11-16", ""),
    ("Belts and pulleys, one parcel", ("Long way:end.belt", "Long way:end.pulley", "Long way:chain.1.belt", "Long way:chain.1.driver", "Long way:chain.1.driven", "Head:end.belt", "Head:end.pulley"), 84.0, 5.9, "2026-11-20", "2026-12-04", ""),
)  # fmt: skip
BUILT = {"Board": 12, "Long way": 5}  # how many steps of the clay printer's axes are done


def _printer(store: Store, machine: str, ids: dict[str, str]) -> None:
    """The clay printer half built: parcels on the way, a step of its own, steps done."""
    found = machines.whole(store, machine)
    axes_ = Axes(found.file, catalog.profiles())
    wanted = {b.field: b.quantity for b in axes_.lines}
    bought: list[dict[str, Any]] = []
    for what, lines, price, freight, ordered, due, arrived in PARCELS:
        refs = [f"{ids[axis]}:{field}" for axis, _, field in (x.partition(":") for x in lines)]
        shares = [{"line": ref, "quantity": wanted[ref]} for ref in refs]
        days = {"ordered": ordered, "due": due, "arrived": arrived}
        bought.append(
            {
                "what": what,
                "shop": "By mail" if freight else "The ironmonger",
                "shares": shares,
                "price": price,
                "freight": freight,
                "checked": bool(arrived),
                **days,
            }
        )
    bought[2]["holds"] = 10.0
    bought.append({"what": "Closed belt, one to keep", "price": 7.0, "ordered": "2026-11-20", "spare": True})
    own = [
        {
            "key": "wire_the_cabinet",
            "do": "Wire the cabinet: one supply for all motors, a fuse for each driver, the stop within reach.",
            "before": [f"{ids['Board']}:slow_run"],
            "check": "Every case and the frame are earthed; nothing is loose when pulled.",
        }
    ]
    lengths = [
        {"of": "Rail, linear rail", "length_mm": 1000.0, "count": 2},
        {"of": "Round tooth G 2 mm, 9 mm wide", "length_mm": 5000.0, "count": 1},
    ]
    placed = {
        ids["Long way"]: {"x_mm": 575.0, "wide_mm": 120.0, "high_mm": 60.0},
        ids["Head"]: {"y_mm": 300.0, "z_mm": 90.0, "wide_mm": 70.0, "high_mm": 60.0},
        ids["Board"]: {"x_mm": 250.0, "y_mm": 300.0, "z_mm": -160.0, "wide_mm": 300.0, "high_mm": 300.0},
    }
    bodies = [
        {"label": "Nozzle", "on": ids["Head"], "z_mm": -20.0, "high_mm": 40.0},
        {
            "label": "Clay tank",
            "on": ids["Long way"],
            "y_mm": -90.0,
            "z_mm": 80.0,
            "long_mm": 120.0,
            "wide_mm": 110.0,
            "high_mm": 200.0,
        },
        {"label": "Shelf upright", "x_mm": 600.0, "y_mm": 543.0, "z_mm": 150.0, "high_mm": 500.0},
    ]
    plan = plan_from(
        {
            "budget": 420.0,
            "own": own,
            "bought": bought,
            "lengths": lengths,
            "shops": [{"name": "By mail", "days": 9, "freight": 5.9}, {"name": "The ironmonger", "days": 1}],
            "placed": placed,
            "bodies": bodies,
        }
    )
    machines.save_plan(store, machine, found.version, plan)


def _booth(store: Store, machine: str, ids: dict[str, str]) -> None:
    """What stands around the spray arm: screen and hood clear of its swing, the pot under its nozzle within."""
    arm = ids["Spray arm"]
    bodies = [
        {"label": "Nozzle and hose", "on": arm, "long_mm": 40.0, "wide_mm": 40.0, "high_mm": 60.0},
        {"label": "Pot", "x_mm": 250.0, "z_mm": -120.0, "long_mm": 160.0, "wide_mm": 160.0, "high_mm": 180.0},
        {"label": "Screen", "y_mm": 150.0, "z_mm": 150.0, "long_mm": 800.0, "wide_mm": 6.0, "high_mm": 800.0},
        {"label": "Hood", "y_mm": -50.0, "z_mm": 400.0, "long_mm": 700.0, "wide_mm": 380.0},
    ]
    placed = {arm: {"wide_mm": 40.0, "high_mm": 60.0}}
    found = machines.whole(store, machine)
    machines.save_plan(store, machine, found.version, plan_from({"placed": placed, "bodies": bodies}))


def _ordered(design: AxisDesign) -> AxisDesign:
    """With its parts as the parcels have them."""
    own = {
        field: days
        for _, lines, _, _, *days in PARCELS
        for axis, _, field in (x.partition(":") for x in lines)
        if axis == design.name
    }
    if not own:
        return design
    run, _ = work_out(design, catalog.profiles())
    wanted = {line.field: line.quantity for line in run.lines}
    changes: dict[str, Any] = {}
    for field, (ordered, due, arrived) in own.items():
        pieces, open_ = wanted[field], ("", "") if arrived else (ordered, due)
        brought = Brought(pieces if arrived else 0.0, pieces, *open_, checked=bool(arrived))
        changes |= {f"{field}.{name}": how for name, how in brought.part(pieces).items()}
    return changed(design, changes)


def _half_built(design: AxisDesign) -> AxisDesign:
    """With the first steps ticked that could be done with what was here, as the design stood then."""
    ticks: list[dict[str, Any]] = []
    for i in range(BUILT[design.name]):
        run, runs = work_out(changed(design, {"done": ticks}), catalog.profiles())
        step = next(w for w in run.report(runs).work if w.now == "ready")
        ticks.append({"step": step.key, "day": f"2026-11-{8 + i // 3:02d}", "stood": step.stands})
    return changed(design, {"done": ticks})


def _fill(store: Store) -> None:
    at = "2026-{:02d}-{:02d}T09:00:00.000+00:00"
    ids: dict[str, str] = {}
    on: dict[str, str] = {}
    for number, (name, note, makes) in enumerate(MACHINES, start=1):
        machine = on[name] = axes.add_machine(store, name, note, at.format(3, number))
        for make in makes:
            design = make()
            design = _ordered(design)
            if design.name in BUILT:
                design = _half_built(design)
            ids[design.name] = axes.add_axis(store, machine, design, at.format(3, 10 + number))
    for rider, mount in RIDES.items():
        axes.set_rides_on(store, ids[rider], ids[mount])
    _printer(store, on["Clay printer"], ids)
    _booth(store, on["Spray booth"], ids)
    profiles, of_belt = catalog.profiles(), Counter[str]()
    every = {design.name: design for design in designs().values()}
    for nth, (axis, day, reading, says) in enumerate(READINGS):
        read, kept = taken(every[axis], profiles, reading)
        if read == "tension":
            belt = f"{axis} {kept['of']}"
            kept["look_again"] = log.look_again(date.fromisoformat(day), of_belt[belt]).isoformat()
            of_belt[belt] += 1
        log.add(store, ids[axis], day, read, says, None, kept, f"{day}T10:{nth:02d}:00.000+00:00")
    for axis, day, kind, says, cost in (
        (
            "Aisle",
            "2026-05-11",
            "repair",
            "One wheel ran loose; turned its eccentric a sixth and locked the nut.",
            0.0,
        ),
        (
            "Lift",
            "2026-05-30",
            "upgrade",
            "Took the 10:1 gearbox after the direct drive sank under a full tray.",
            42.0,
        ),
        (
            "Pass",
            "2026-10-03",
            "note",
            "Stalls on the way back; slower it runs. Bet: the old 12 V supply is enough.",
            None,
        ),
    ):
        log.add(store, ids[axis], day, kind, says, cost, None, f"{day}T12:00:00.000+00:00")
    prices = {p.key: (0, invented_price(p)) for p in catalog.parts().values() if p.kind in PRICED}
    owned: tuple[tuple[str, int, float], ...] = (
        ("stepper:stepper-nema-17-34", 1, 11.0),
        ("stepper:stepper-nema-17-48", 2, 16.0),
        ("supply:supply-24-v-dc", 1, 24.0),
        ("screw:socket-head-screw-m5-16", 40, 0.08),
        ("washer:washer-m5", 100, 0.02),
        ("washer:shim-washer-5-0.5", 12, 0.05),
        ("washer:shim-washer-5-0.1", 10, 0.05),
        ("washer:washer-m4", 60, 0.02),
        ("spacer:spacer-bore-5-mm-5-mm", 4, 0.3),
        ("spacer:spacer-bore-5-mm-10-mm", 2, 0.4),
        ("screw:socket-head-screw-m5-30", 12, 0.1),
        ("screw:socket-head-screw-m5-40", 8, 0.14),
        ("roll:roll-g-3-mm-9-mm-wide-5-m", 1, 24.0),
        ("roll:roll-g-2-mm-9-mm-wide-2-m", 2, 9.0),
        ("closed belt:closed-belt-g-3-mm-120-teeth-9-mm-wide", 1, 5.5),
        ("closed belt:closed-belt-g-3-mm-130-teeth-9-mm-wide", 1, 5.8),
    )
    prices |= {key: (quantity, price) for key, quantity, price in owned}
    drawer.set_many(store, catalog.parts(), [(key, *row) for key, row in prices.items()])


# Prices made up for the demo's shop, so that a search has something to weigh; they mean nothing outside it.
PRICED: dict[str, Callable[[dict[str, Any]], float]] = {
    "stepper": lambda d: 9 + 13 * d["hold_torque_nm"] ** 0.8,
    "gearbox": lambda d: 28 + 260 / (d["backlash_arcmin"] or 1) + 1.2 * (d["torque_limit_nm"] or 0),
    "supply": lambda d: 9 + 0.6 * d["supply_v"],
    "pulley": lambda d: 2.5 + 0.09 * d["teeth"] + 0.12 * d["face_mm"],
    "belt": lambda d: 1.2 + 0.45 * d["width_mm"] * (1.4 if d["cord"] == "steel" else 1.0),
    "closed belt": lambda d: 1.5 + 0.012 * d["belt_teeth"] * d["width_mm"] ** 0.7,
    "coupler": lambda d: 3 + 1.6 * d["torque_limit_nm"] ** 0.7,
    "lead screw": lambda d: (0.9 if d["form"] == "trapezoidal" else 3.2) * d["diameter_mm"] + 6,
    "rack": lambda d: 7 + (1.1 if d["material"] == "steel" else 0.7) * d["face_mm"] * d["module_mm"],
}


def invented_price(part: catalog.PartRow) -> float:
    """A price of the demo's shop for a part of a kind that has one."""
    return round(PRICED[part.kind](part.data), 2)
