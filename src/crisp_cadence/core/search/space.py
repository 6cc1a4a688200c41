"""What a search may choose from: motors with their supplies and currents, reductions, belts with their pulleys, microsteps."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from ..belt import Profile
from ..design import AxisDesign
from ..ends.carriage_loop import CarriageLoop
from ..errors import EntryError, problem
from ..fitting.drawer import Stock, number
from ..model import CORD_FACTOR
from ..record import record
from ..stages.gearbox import Gearbox
from ..stages.stepper import FRAME_RADIAL_N, Stepper

FloatArray = NDArray[np.float64]
Scope = Literal["drawer only", "drawer first", "anything"]
CURRENTS = (1.0, 0.7)  # of the motor's rated current: in full, and what runs cooler
MICROSTEPS = (4, 8, 16, 32, 64)


@record
class Choice:
    """One option of one kind: its name, what it sets in the design, what is still to pay for it, and whether it is owned."""

    name: str
    changes: Mapping[str, Any]
    spend: float
    owned: bool
    unpriced: int


@record
class Space:
    """Options of each kind in the order of the arrays' axes, and their data as columns."""

    motors: tuple[Choice, ...]
    gears: tuple[Choice, ...]
    belts: tuple[Choice, ...]
    steps: tuple[int, ...]
    motor: Mapping[str, FloatArray]
    gear: Mapping[str, FloatArray]
    belt: Mapping[str, FloatArray]

    @property
    def size(self) -> int:
        """How many combinations there are."""
        return len(self.motors) * len(self.gears) * len(self.belts) * len(self.steps)


def _priced(row: Stock, scope: Scope) -> tuple[float, bool, int] | None:
    """What is still to pay, whether it is owned, and 1 where its price is not known; None where the scope leaves it out."""
    owned = row.quantity > 0
    if scope == "drawer only" and not owned:
        return None
    return (0.0 if owned else (row.price or 0.0)), owned, int(not owned and row.price is None)


def space_of(design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], scope: Scope = "anything") -> Space:
    """The space around a design: its aim, guide, mounts and idler stay; EntryError where its layout is not one that is searched."""
    _searchable(design)
    motors, gears, belts = _motors(design, drawer, scope), _gears(design, drawer, scope), _belts(design, profiles, drawer, scope)
    empty = [name for name, found in (("stepper motor", motors), ("supply", motors), ("pulley with a belt of its profile", belts)) if not found[0]]
    if empty:
        raise EntryError(
            [problem("drawer", f"holds no {empty[0]} that could be tried", value=scope, remedy="Search the starter catalogue too, or add what you have to the drawer.")]
        )  # fmt: skip
    return Space(tuple(motors[0]), tuple(gears[0]), tuple(belts[0]), MICROSTEPS, motors[1], gears[1], belts[1])


def _searchable(design: AxisDesign) -> None:
    found = []
    end = design.end
    if not isinstance(end, CarriageLoop):
        found.append(
            problem(
                "end.kind",
                "is not searched yet",
                value=end.kind,
                limit="carriage loop",
                remedy="Choose parts by hand, or set the aim on a carriage loop.",
            )
        )
    elif end.rollers or end.near or end.idler_rise_mm is not None or end.clamp_rise_mm is not None:
        found.append(
            problem(
                "end.rollers",
                "lead the belt off the plain path that a search works with",
                remedy="Search without rollers, raised parts and things near the belt; put them back afterwards.",
            )
        )
    if not isinstance(design.chain[0], Stepper) or any(not isinstance(s, Gearbox) for s in design.chain[1:]) or len(design.chain) > 2:
        found.append(
            problem(
                "chain",
                "is not searched yet",
                value=", ".join(s.kind for s in design.chain),
                limit="stepper, with or without a gearbox",
                remedy="Search from a plain stepper; add other stages afterwards.",
            )
        )
    if design.sides.kind != "one" or design.heads or design.measured:
        found.append(
            problem(
                "sides.kind",
                "with two sides, several heads or measured dimensions is not searched yet",
                value=design.sides.kind,
                limit="one",
                remedy="Search one side with its heaviest head.",
            )
        )
    if found:
        raise EntryError(found)


def _columns(rows: list[dict[str, float]]) -> dict[str, FloatArray]:
    return {k: np.array([r[k] for r in rows], dtype=np.float64) for k in rows[0]} if rows else {}


def _motors(design: AxisDesign, drawer: Sequence[Stock], scope: Scope) -> tuple[list[Choice], dict[str, FloatArray]]:
    choices: list[Choice] = []
    rows: list[dict[str, float]] = []
    template = design.chain[0]
    assert isinstance(template, Stepper)
    needed = ("hold_torque_nm", "rated_current_a", "resistance_ohm", "inductance_mh", "rotor_inertia_gcm2", "detent_torque_nm", "shaft_mm")
    supplies = [
        (row, volts, paid)
        for row in drawer
        if row.kind == "supply" and (volts := number(row, "supply_v")) is not None and (paid := _priced(row, scope)) is not None
    ]
    for row in drawer:
        if row.kind != "stepper":
            continue
        data = {n: number(row, n) for n in needed}
        cost = _priced(row, scope)
        if cost is None or any(v is None for v in data.values()):
            continue
        known = {n: float(v or 0) for n, v in data.items()}
        frame = str(row.data.get("frame", "other"))
        for supply, volts, paid in supplies:
            for part in CURRENTS:
                current = round(known["rated_current_a"] * part, 3)
                changes = {
                    **{f"chain.0.{n}": v for n, v in known.items()}, "chain.0.frame": frame, "chain.0.shaft_form": str(row.data.get("shaft_form", "round")),
                    "chain.0.label": row.name, "chain.0.drawer_key": row.key, "chain.0.price": row.price, "chain.0.in_stock": cost[1],
                    "chain.0.winding": "as given", "chain.0.steps_per_turn": 200, "chain.0.radial_limit_n": None,
                    "chain.0.driver.supply_v": volts, "chain.0.driver.current_a": current, "chain.0.driver.current_is": "rms",
                    "chain.0.driver.label": supply.name, "chain.0.driver.price": supply.price, "chain.0.driver.in_stock": paid[1],
                }  # fmt: skip
                choices.append(Choice(f"{row.name}, {volts:g} V, {current:g} A", changes, cost[0] + paid[0], cost[1] and paid[1], cost[2] + paid[2]))
                rows.append({**known, "supply_v": volts, "current_a": current, "radial_n": FRAME_RADIAL_N.get(frame, np.nan)})
    return choices, _columns(rows)


def _gears(design: AxisDesign, drawer: Sequence[Stock], scope: Scope) -> tuple[list[Choice], dict[str, FloatArray]]:
    """Direct first, then every gearbox."""
    direct = {
        "ratio": 1.0,
        "efficiency": 1.0,
        "inertia_gcm2": 0.0,
        "stiffness_nm_rad": np.inf,
        "backlash_arcmin": 0.0,
        "torque_limit_nm": np.inf,
        "speed_limit_rpm": np.inf,
        "shaft_mm": np.nan,
        "radial_limit_n": np.nan,
    }
    choices, rows = [Choice("direct", {"gearbox": None}, 0.0, True, 0)], [direct]
    for row in drawer:
        cost = _priced(row, scope)
        data = {n: number(row, n) for n in direct}
        if (
            row.kind != "gearbox"
            or cost is None
            or any(data[n] is None for n in ("ratio", "efficiency", "inertia_gcm2", "stiffness_nm_rad", "shaft_mm"))
        ):
            continue
        form = str(row.data.get("shaft_form", "round"))
        stage = {
            "kind": "gearbox",
            "label": row.name,
            "drawer_key": row.key,
            "price": row.price,
            "in_stock": cost[1],
            "shaft_form": form,
            **{n: v for n, v in data.items() if v is not None},
        }
        stage.setdefault("backlash_arcmin", 0.0)
        choices.append(Choice(row.name, {"gearbox": stage}, *cost))
        blanks = {"backlash_arcmin": 0.0, "torque_limit_nm": np.inf, "speed_limit_rpm": np.inf, "radial_limit_n": np.nan}
        rows.append({n: float(blanks[n] if v is None else v) for n, v in data.items()})
    return choices, _columns(rows)


def _belts(design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], scope: Scope) -> tuple[list[Choice], dict[str, FloatArray]]:
    """Every stock belt with every stock pulley of its profile; pulley and idler are taken as wide as the belt wants."""
    choices: list[Choice] = []
    rows: list[dict[str, float]] = []
    pulleys: dict[tuple[str, int], Stock] = {}
    for row in sorted(drawer, key=lambda r: r.quantity):
        teeth, hub = number(row, "teeth"), number(row, "hub_mm")
        if row.kind == "pulley" and teeth is not None and hub is not None and _priced(row, scope) is not None:
            pulleys[(str(row.data.get("profile")), round(teeth))] = row
    for row in drawer:
        cost, width, profile = _priced(row, scope), number(row, "width_mm"), profiles.get(str(row.data.get("profile")))
        cord = str(row.data.get("cord"))
        if row.kind != "belt" or cost is None or width is None or profile is None or cord not in CORD_FACTOR:
            continue
        for (key, teeth), pulley in pulleys.items():
            paid = _priced(pulley, scope)
            if key != profile.key or teeth < profile.min_teeth or paid is None:
                continue
            idler = max(design.end.idler.teeth, profile.min_teeth)  # type: ignore[attr-defined]
            hub = number(pulley, "hub_mm") or 10.0
            changes = {
                "end.belt.profile": profile.key, "end.belt.width_mm": width, "end.belt.cord": cord, "end.belt.label": row.name, "end.belt.price_per_m": row.price,
                "end.belt.in_stock": cost[1], "end.belt.ea_n": None, "end.belt.line_mass_g_m": None, "end.belt.working_tension_n": None,
                "end.pulley.teeth": teeth, "end.pulley.hub_mm": hub, "end.pulley.face_mm": width + 1, "end.pulley.label": pulley.name,
                "end.pulley.price": pulley.price, "end.pulley.in_stock": paid[1], "end.idler.teeth": idler, "end.idler.width_mm": width + 1,
            }  # fmt: skip
            choices.append(Choice(f"{profile.name}, {width:g} mm, {teeth} teeth", changes, paid[0], cost[1] and paid[1], cost[2] + paid[2]))
            working = profile.working_tension_n_per_25_4mm
            rows.append({
                "pitch": profile.pitch_mm, "line": profile.pitch_line_mm, "height": profile.tooth_height_mm, "width": width, "teeth": float(teeth), "idler": float(idler),
                "mass": profile.mass_g_m_mm, "working": np.nan if working is None else working, "ea": profile.ea_glass_n_per_mm * CORD_FACTOR[cord], "hub": hub,
                "per_m": 0.0 if cost[1] else (row.price or 0.0), "least": float(profile.min_teeth),
            })  # fmt: skip
    return choices, _columns(rows)


def candidate(design: AxisDesign, space: Space, motor: int, gear: int, belt: int, step: int) -> dict[str, Any]:
    """What one combination sets in the design."""
    changes = {**space.motors[motor].changes, **space.belts[belt].changes, "chain.0.driver.microsteps": space.steps[step]}
    box = space.gears[gear].changes["gearbox"]
    shaft = space.motor["shaft_mm"][motor] if box is None else space.gear["shaft_mm"][gear]
    changes["end.pulley.bore_mm"] = float(shaft)
    return {**changes, "gearbox": box}
