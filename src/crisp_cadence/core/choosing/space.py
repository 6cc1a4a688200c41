"""What a search may choose from: motors with their supplies and currents, reductions, belts with their
pulleys, microsteps.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from ..checks.tensioners import TARGET_OVER
from ..design.design import AxisDesign
from ..fields.belts import CORD_FACTOR, Mount
from ..fields.profile import Profile
from ..fitting.drawer import Stock, number
from ..fitting.parts import (
    MOTOR_DATA,
    NAMELESS,
    Fitted,
    bought,
    face_for,
    faces_for,
    gearbox_of,
    motor_of,
    paid,
    pulley_on,
    stock_pulleys,
    supply_of,
)
from ..formulas.belt import (
    belt_stiffness_ea,
    closed_belt_stiffness,
    effective_pull_capacity,
    outside_diameter,
    pitch_diameter,
    shaft_load,
    teeth_in_mesh,
    wrap_angle,
)
from ..formulas.dynamics import disc_inertia
from ..geometry.path import closed_belt_centre
from ..ledger.errors import EntryError, problem
from ..ledger.record import record
from ..parts.ends.carriage_loop import CarriageLoop
from ..parts.ends.riding_motor import RidingMotor
from ..parts.stages.closed_belt import ClosedBelt
from ..parts.stages.stepper import Stepper
from .front import best_front

FloatArray = NDArray[np.float64]
Index = NDArray[np.intp]
Scope = Literal["drawer only", "drawer first", "anything"]
Reduction = Literal["direct", "gearbox", "closed belt", "two closed belts"]
PLAIN: tuple[Reduction, ...] = ("direct", "gearbox")
AIR_MM = 2.0  # least between the pitch circles of a closed belt's pulleys
MOST_MOTORS = 20_000  # what a search may hold of each kind
MOST_BELTS = 20_000
MOST_LOOPS = 400_000
CURRENTS = (1.0, 0.7)  # of the motor's rated current: in full, and what runs cooler
MICROSTEPS = (4, 8, 16, 32, 64)


@record
class Choice:
    """One option of one kind: its name, what it sets in the design, what is still to pay for it, and whether
    it is owned.
    """

    name: str
    changes: Mapping[str, Any]
    spend: float
    owned: bool
    unpriced: int


@record
class Space:
    """Options of each kind, and their data as columns: motors (M), stages (N, the first of them none at all),
    belts (B).

    A reduction (G) is one stage next to the motor and one next to the end, by their places in the stages;
    `left_out` counts combinations that are not in here because another is at least as good in everything that
    counts.

    Which pulley is taken follows from the shaft that it sits on: by the sizes of shafts (K) there are, for
    each belt, the end's pulleys with their hubs and what each costs beyond the cheapest of them; for each
    stage, what its driver costs so.
    """

    motors: tuple[Choice, ...]
    stages: tuple[Choice, ...]
    belts: tuple[Choice, ...]
    steps: tuple[int, ...]
    motor: Mapping[str, FloatArray]
    stage: Mapping[str, FloatArray]
    belt: Mapping[str, FloatArray]
    first: Index
    second: Index
    closed_mount: Mount
    left_out: int
    sizes: FloatArray
    pulleys: tuple[tuple[Fitted, ...], ...]
    hubs: FloatArray
    more: FloatArray
    driver_more: FloatArray

    @property
    def size(self) -> int:
        """How many combinations there are."""
        return len(self.motors) * len(self.first) * len(self.belts) * len(self.steps)

    def gear(self, at: int) -> tuple[int, ...]:
        """Places of the stages of one reduction, none of them where the motor drives directly."""
        return tuple(int(i) for i in (self.first[at], self.second[at]) if i)


def _within(drawer: Sequence[Stock], scope: Scope) -> list[Stock]:
    """The rows that a scope lets in."""
    return [row for row in drawer if row.quantity > 0] if scope == "drawer only" else list(drawer)


def space_of(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    drawer: Sequence[Stock],
    scope: Scope = "anything",
    reductions: Sequence[Reduction] = PLAIN,
    pruned: bool = True,
    loops_pruned: bool | None = None,
) -> Space:
    """The space around a design: its aim, guide, mounts and idler stay, motor, reduction and belt are chosen
    anew.

    With `pruned`, supplies, currents and closed belts are left out that another of the same motor or the same
    ratio equals or betters in everything that any rung and any ranking looks at; `loops_pruned` says so for
    closed belts alone. EntryError where the layout is not one that is searched, or the drawer holds too
    little.
    """
    _searchable(design)
    rows = _within(drawer, scope)
    motors = _motors(rows)
    closed = next((s for s in design.chain if isinstance(s, ClosedBelt)), ClosedBelt())
    boxes = _boxes(rows) if "gearbox" in reductions else ([], [])
    sizes = sorted(
        {
            closed.shaft_mm,
            *(r["shaft_mm"] for r in boxes[1]),
            *(motors[1]["shaft_mm"].tolist() if motors[0] else ()),
        }
    )
    belts = belts_on(design, profiles, rows, sizes)
    wanted = any(r in reductions for r in ("closed belt", "two closed belts"))
    if isinstance(design.end, RidingMotor) and closed.mass_kg is None:
        wanted = False  # it would ride along with a mass that nobody knows
    loops, (all_loops, all_fit) = (
        closed_belts(
            closed,
            profiles,
            rows,
            sizes,
            design.assumptions.slack_keep,
            pruned if loops_pruned is None else loops_pruned,
        )
        if wanted
        else (([], []), (0, 0))
    )
    empty = [
        name
        for name, found in (
            ("stepper motor", motors[0]),
            ("supply", motors[0]),
            ("pulley with a belt of its profile", belts[0]),
        )
        if not found
    ]
    if empty:
        raise EntryError(
            [
                problem(
                    "drawer",
                    f"holds no {empty[0]} that could be tried",
                    value=scope,
                    remedy="Search the starter catalogue too, or add what you have to the drawer.",
                )
            ]
        )
    stages = [Choice("direct", {}, 0.0, True, 0), *boxes[0], *loops[0]]
    table = _columns([NO_STAGE, *boxes[1], *loops[1]])
    more = np.array([_beyond(c.changes.get("driver", ()), sizes) for c in stages])
    none = np.zeros(1, dtype=np.intp)
    one = 1 + np.arange(len(boxes[0]), dtype=np.intp)
    belted = 1 + len(boxes[0]) + np.arange(len(loops[0]), dtype=np.intp)
    first, second = [], []
    if "direct" in reductions:
        first, second = [none], [none]
    singles = np.concatenate([one, belted if "closed belt" in reductions else none[:0]])
    first, second = [*first, singles], [*second, np.zeros_like(singles)]
    if "two closed belts" in reductions:
        # The belt next to the end sits on the shaft after the first one: only where that shaft fits its
        # driver.
        fits = belted[table["room"][belted] > closed.shaft_mm]
        a, b = np.meshgrid(belted, fits, indexing="ij")
        first, second = [*first, a.ravel()], [*second, b.ravel()]
    places = (np.concatenate(first), np.concatenate(second))
    if not places[0].size:
        raise EntryError(
            [
                problem(
                    "reductions",
                    "leave nothing to try",
                    value=", ".join(reductions),
                    remedy="Tick one more kind of reduction, or widen the scope.",
                )
            ]
        )
    space = Space(
        tuple(motors[0]),
        tuple(stages),
        tuple(belts[0]),
        MICROSTEPS,
        motors[1],
        table,
        belts[1],
        *places,
        closed.motor_mount,
        0,
        np.array(sizes),
        tuple(belts[2]),
        np.array([[p.fields["hub_mm"] for p in row] for row in belts[2]]),
        np.array([_beyond(row, sizes) for row in belts[2]]),
        more,
    )
    if not pruned:
        return space
    keep = _best_supplies(space)
    many = (
        len(one)
        + ("direct" in reductions)
        + ("closed belt" in reductions) * all_loops
        + ("two closed belts" in reductions) * all_loops * all_fit
    )
    whole = len(motors[0]) * many * len(belts[0]) * len(MICROSTEPS)
    slim = replace(
        space, motors=tuple(space.motors[i] for i in keep), motor={k: v[keep] for k, v in space.motor.items()}
    )
    return replace(slim, left_out=max(whole - slim.size, 0))


def _beyond(pulleys: Sequence[Fitted], sizes: Sequence[float]) -> list[float]:
    """What a pulley costs on each size of shaft beyond the cheapest of them; nothing where there is no
    pulley.
    """
    least = min((p.spend for p in pulleys), default=0.0)
    return [p.spend - least for p in pulleys] or [0.0] * len(sizes)


def _best_supplies(space: Space) -> list[int]:
    """Places of the motors' settings that no other setting of the same motor equals in volts, current and
    money, and betters in one.
    """
    groups: dict[Any, list[int]] = {}
    for i, choice in enumerate(space.motors):
        groups.setdefault(choice.changes["chain.0.drawer_key"], []).append(i)
    out: list[int] = []
    for places in groups.values():
        ranked = np.array(
            [
                [
                    -space.motor["supply_v"][i],
                    -space.motor["current_a"][i],
                    space.motors[i].spend,
                    space.motors[i].unpriced,
                ]
                for i in places
            ]
        )
        out += [places[k] for k in best_front(ranked)]
    return out


def _searchable(design: AxisDesign) -> None:
    found = []
    end = design.end
    if not isinstance(end, (CarriageLoop, RidingMotor)):
        found.append(
            problem(
                "end.kind",
                "is not searched yet",
                value=end.kind,
                limit="carriage loop, riding motor",
                remedy="See what one change does, or set the aim on one of these; Other ways "
                "compares the layouts.",
            )
        )
    elif (
        end.rollers
        or end.near
        or any(getattr(end, n, None) is not None for n in ("idler_rise_mm", "clamp_rise_mm"))
    ):
        found.append(
            problem(
                "end.rollers",
                "lead the belt off the plain path that a search works with",
                remedy="Search without rollers, raised parts and things near the belt; put them back "
                "afterwards.",
            )
        )
    if not isinstance(design.chain[0], Stepper):
        found.append(
            problem(
                "chain.0.kind",
                "is not searched yet",
                value=design.chain[0].kind,
                limit="stepper",
                remedy="Begin with any stepper: the search replaces it.",
            )
        )
    if design.sides.kind == "cross shaft":
        found.append(
            problem(
                "sides.kind",
                "is not searched yet",
                value="cross shaft",
                limit="one, one driven, two motors",
                remedy="Search with two motors, and put the shaft in afterwards.",
            )
        )
    if design.heads or design.measured:
        at = "heads" if design.heads else "measured"
        found.append(
            problem(
                at,
                "are not searched yet",
                value=len(getattr(design, at)),
                limit=0,
                remedy="Search with the heaviest head among what moves, and with the drawn dimensions.",
            )
        )
    if found:
        raise EntryError(found)


def _bounded(count: int, what: str, most: int) -> None:
    """Refuses a drawer of more parts of one kind than a search can hold in memory."""
    if count > most:
        raise EntryError(
            [
                problem(
                    "drawer",
                    f"holds too many {what} to try at once",
                    value=count,
                    limit=most,
                    remedy="Search only what you own; or open the parts drawer, take out what you "
                    "will never use, or take back the file that brought it.",
                )
            ]
        )


def _columns(rows: list[dict[str, float]]) -> dict[str, FloatArray]:
    return {k: np.array([r[k] for r in rows], dtype=np.float64) for k in rows[0]} if rows else {}


def _motors(drawer: Sequence[Stock]) -> tuple[list[Choice], dict[str, FloatArray]]:
    """Every stepper whose data are known, on every supply, at each current."""
    choices: list[Choice] = []
    rows: list[dict[str, float]] = []
    supplies = [(row, data) for row in drawer if (data := supply_of(row)) is not None]
    motors = [(row, data) for row in drawer if (data := motor_of(row)) is not None]
    _bounded(len(motors) * len(supplies) * len(CURRENTS), "motors with their supplies", MOST_MOTORS)
    for row, data in motors:
        cost = paid(row)
        for supply, fed in supplies:
            more = paid(supply)
            for part in CURRENTS:
                current = round(data["rated_current_a"] * part, 3)
                driver = {**fed, "current_a": current, "current_is": "rms"}
                changes = {
                    **{f"chain.0.{n}": v for n, v in data.items()},
                    **{f"chain.0.driver.{n}": v for n, v in driver.items()},
                }
                name = f"{row.name}, {fed['supply_v']:g} V, {current:g} A"
                choices.append(
                    Choice(name, changes, cost[0] + more[0], cost[1] and more[1], cost[2] + more[2])
                )
                rows.append(
                    {
                        **{n: data[n] for n in MOTOR_DATA},
                        "mass_kg": np.nan if data["mass_kg"] is None else data["mass_kg"],
                        "supply_v": fed["supply_v"],
                        "current_a": current,
                        "spend": cost[0] + more[0],
                    }
                )
    return choices, _columns(rows)


# Data of a stage; the first row of every table is none at all.
NO_STAGE = {
    "ratio": 1.0, "efficiency": 1.0, "inertia_gcm2": 0.0, "stiffness_nm_rad": np.inf, "backlash_arcmin": 0.0, "torque_limit_nm": np.inf, "speed_limit_rpm": np.inf,
    "shaft_mm": np.nan, "radius": 0.0, "pull": np.inf, "mesh": np.inf, "ea": np.inf, "wrap": np.pi, "room": np.inf, "width": 1.0, "face": 1.0, "spend": 0.0, "mass_kg": 0.0,
}  # fmt: skip


def _boxes(drawer: Sequence[Stock]) -> tuple[list[Choice], list[dict[str, float]]]:
    """Every gearbox whose data are known."""
    choices: list[Choice] = []
    rows: list[dict[str, float]] = []
    for row in drawer:
        stage = gearbox_of(row)
        if stage is not None:
            cost = paid(row)
            choices.append(Choice(row.name, {"stage": stage}, *cost))
            rows.append(
                {n: float(stage.get(n, blank)) for n, blank in NO_STAGE.items()}
                | {"spend": cost[0], "mass_kg": stage.get("mass_kg", np.nan)}
            )
    return choices, rows


def _stock_loops(drawer: Sequence[Stock]) -> dict[tuple[str, float, str], dict[int, Stock]]:
    """Stock closed belts by profile, width and cord, then by teeth; what is owned before what is not."""
    out: dict[tuple[str, float, str], dict[int, Stock]] = {}
    for row in sorted(drawer, key=lambda r: r.quantity):
        width, teeth, cord = number(row, "width_mm"), number(row, "belt_teeth"), str(row.data.get("cord"))
        if row.kind == "closed belt" and width and teeth and cord in CORD_FACTOR:
            out.setdefault((str(row.data.get("profile")), width, cord), {})[round(teeth)] = row
    return out


def closed_belts(
    closed: ClosedBelt,
    profiles: Mapping[str, Profile],
    drawer: Sequence[Stock],
    sizes: Sequence[float],
    slack_keep: float,
    pruned: bool,
) -> tuple[tuple[list[Choice], list[dict[str, float]]], tuple[int, int]]:
    """Closed belt stages that reduce: stock belts on two stock pulleys of their profile; how many there are
    before any is left out, and how many of those fit on the shaft after another.

    The driver follows from the shaft before it, one of `sizes`: `driver` of a choice holds one for each.
    Mount, shaft after it and slot are those of `closed`, the design's own closed stage where it has one.
    """
    pulleys, stock = stock_pulleys(drawer), _stock_loops(drawer)
    tables: list[dict[str, FloatArray]] = []
    made: list[tuple[Profile, float, str, dict[int, tuple[Fitted, ...]], dict[int, Fitted]]] = []
    for (key, width, cord), lengths in stock.items():
        profile = profiles.get(key)
        found = pulleys.get(key, {}) if profile is not None else {}
        faces = {
            z: face
            for z, rows in found.items()
            if z >= profiles[key].min_teeth and (face := face_for(rows, width)) is not None
        }
        if profile is None or len(faces) < 2:
            continue
        own = {z: found[z] for z in faces}
        first = {z: tuple(pulley_on(own[z], face, size) for size in sizes) for z, face in faces.items()}
        second = {z: pulley_on(own[z], face, closed.shaft_mm) for z, face in faces.items()}
        _bounded(len(own) ** 2 * len(lengths), f"closed belts and pulleys of {profile.name}", MOST_LOOPS)
        z1, z2, zb = (
            x.ravel() for x in np.meshgrid(sorted(own), sorted(own), sorted(lengths), indexing="ij")
        )
        p, line = profile.pitch_mm, profile.pitch_line_mm
        d1, d2 = (pitch_diameter(z.astype(float), p) for z in (z1, z2))
        with np.errstate(invalid="ignore", divide="ignore"):
            centre = closed_belt_centre(zb * p, d1 / 2, d2 / 2)
        root1, root2 = (outside_diameter(z, p, line) - 2 * profile.tooth_height_mm for z in (z1, z2))
        hub1 = _of(
            {
                z: max(row.data["hub_mm"] for row in rows if row.data["face_mm"] == faces[z])
                for z, rows in own.items()
            },
            z1,
        )
        hub2 = _of({z: p.fields["hub_mm"] for z, p in second.items()}, z2)
        fits = (z2 > z1) & (centre >= (d1 + d2) / 2 + AIR_MM) & (np.minimum(root2, hub2) > closed.shaft_mm)
        if closed.wanted_mm is not None:
            fits &= abs(centre - closed.wanted_mm) <= closed.adjust_mm / 2
        wrap = wrap_angle(centre, d1 / 2, d2 / 2)
        mesh = teeth_in_mesh(z1.astype(float), wrap)
        span = np.sqrt(centre**2 - (d2 - d1) ** 2 / 4)
        working = profile.working_tension_n_per_25_4mm
        ea = belt_stiffness_ea(profile.ea_glass_n_per_mm, CORD_FACTOR[cord], width)
        inertia = [
            disc_inertia(d, _of(faces, z), p.density_g_cm3)
            for d, z, p in ((d1, z1, closed.driver), (d2, z2, closed.driven))
        ]
        ratio = z2 / z1
        spend = _of({z: min(p.spend for p in row) for z, row in first.items()}, z1) + _of(
            {z: p.spend for z, p in second.items()}, z2
        )
        spend = spend + _of({z: paid(row)[0] for z, row in lengths.items()}, zb)
        beyond = {
            f"more {k}": _of({z: _beyond(row, sizes)[k] for z, row in first.items()}, z1)
            for k in range(len(sizes))
        }
        full = np.ones(len(z1))
        table = {
            "ratio": ratio,
            "efficiency": closed.efficiency * full,
            "inertia_gcm2": inertia[0] + inertia[1] / ratio**2,
            "stiffness_nm_rad": closed_belt_stiffness(ea, d2 / 2, span),
            "backlash_arcmin": 0 * full,
            "torque_limit_nm": np.inf * full,
            "speed_limit_rpm": np.inf * full,
            "shaft_mm": closed.shaft_mm * full,
            "radius": d1 / 2,
            "pull": effective_pull_capacity(np.nan if working is None else working, width, mesh) * full,
            "mesh": mesh,
            "ea": ea * full,
            "wrap": wrap,
            "room": np.minimum(hub1, root1),
            "width": width * full,
            "face": np.minimum(_of(faces, z1), _of(faces, z2)),
            "spend": spend,
            "mass_kg": np.nan * full if closed.mass_kg is None else closed.mass_kg * full,
            "z1": z1,
            "z2": z2,
            "zb": zb,
            "group": len(made) * full,
            "centre": centre,
            "hub1": hub1,
            "hub2": hub2,
            **beyond,
        }
        tables.append({n: np.asarray(x, dtype=np.float64)[fits] for n, x in table.items()})
        made.append((profile, width, cord, first, second))
    if not tables:
        return ([], []), (0, 0)
    whole = {n: np.concatenate([x[n] for x in tables]) for n in tables[0]}
    places = _best_loops(whole, slack_keep) if pruned else np.arange(len(whole["ratio"]))
    choices, rows = [], []
    for i in places:
        at = {n: float(x[i]) for n, x in whole.items()}
        profile, width, cord, first, second = made[int(at["group"])]
        belt = stock[(profile.key, width, cord)][int(at["zb"])]
        choices.append(
            _loop_choice(closed, profile, width, cord, first[int(at["z1"])], second[int(at["z2"])], belt, at)
        )
        rows.append({n: at[n] for n in NO_STAGE})
    return (choices, rows), (len(whole["ratio"]), int(np.count_nonzero(whole["room"] > closed.shaft_mm)))


def _best_loops(table: Mapping[str, FloatArray], keep: float) -> NDArray[np.intp]:
    """Places of closed belts that no other of the same ratio equals or betters in everything that a rung or
    the ranking looks at.

    All rungs grow, or fall, with these columns alone: inertia, stiffness, the torque that teeth and cords
    carry, teeth in mesh, the load that a torque puts on the mount, room for the motor's shaft, and money.
    """
    taut = TARGET_OVER * (0.5 + keep)
    load = shaft_load(taut + 0.5, taut, table["wrap"]) / table["radius"]
    strong = np.nan_to_num(table["pull"], nan=0.0) * table["radius"]
    ranked = np.stack(
        [
            table["inertia_gcm2"],
            -table["stiffness_nm_rad"],
            -strong,
            -table["ea"] * table["radius"],
            -table["mesh"],
            load,
            -table["room"],
            *(
                table["spend"] + x
                for n, x in table.items()
                if n.startswith("more ") and (n == "more 0" or x.any())
            ),
        ],
        axis=1,
    )
    out = []
    for ratio in np.unique(np.round(table["ratio"], 9)):
        same = np.flatnonzero(abs(table["ratio"] - ratio) < 1e-8)
        out.append(same[best_front(ranked[same])])
    return np.sort(np.concatenate(out))


def _of(values: Mapping[int, float], teeth: NDArray[np.int64]) -> FloatArray:
    """Values by teeth, for an array of teeth."""
    at = np.array(sorted(values))
    return np.array([values[int(z)] for z in at])[np.searchsorted(at, teeth)]


def _loop_choice(
    closed: ClosedBelt,
    profile: Profile,
    width: float,
    cord: str,
    drivers: tuple[Fitted, ...],
    driven: Fitted,
    belt: Stock,
    at: Mapping[str, float],
) -> Choice:
    """One closed belt stage as the design takes it; its driver is that for the first size of shaft, until the
    shaft before it is known.
    """
    stage: dict[str, Any] = closed.model_dump(mode="json") | {
        "rollers": [],
        "belt_teeth": int(at["zb"]),
        "label": "",
    }
    stage["driver"] |= drivers[0].fields
    stage["driven"] |= driven.fields
    stage["belt"] |= {
        "profile": profile.key,
        "width_mm": width,
        "cord": cord,
        **bought(belt),
        "ea_n": None,
        "line_mass_g_m": None,
        "working_tension_n": None,
        "tension_n": None,
    }
    cost = paid(belt)
    name = f"closed belt {profile.name}, {width:g} mm, {at['z1']:g} : {at['z2']:g}, {at['zb']:g} teeth"
    return Choice(
        name,
        {"stage": stage, "driver": drivers},
        at["spend"],
        driven.owned and cost[1],
        driven.unpriced + cost[2],
    )


Belts = tuple[list[Choice], dict[str, FloatArray], list[tuple[Fitted, ...]]]


def belts_on(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], sizes: Sequence[float]
) -> Belts:
    """Every stock belt with every stock pulley of its profile that is wide enough: choices, columns, and the
    pulleys by size of shaft.

    The idler is taken as wide as the belt wants, with teeth enough for its profile.
    """
    choices: list[Choice] = []
    rows: list[dict[str, float]] = []
    fitted: list[tuple[Fitted, ...]] = []
    pulleys = stock_pulleys(drawer)
    _bounded(
        sum(len(pulleys.get(str(row.data.get("profile")), ())) for row in drawer if row.kind == "belt"),
        "belts with their pulleys",
        MOST_BELTS,
    )
    known: dict[tuple[str, int, float], tuple[Fitted, ...]] = {}
    for row in drawer:
        cost, width, profile = paid(row), number(row, "width_mm"), profiles.get(str(row.data.get("profile")))
        cord = str(row.data.get("cord"))
        if row.kind != "belt" or width is None or profile is None or cord not in CORD_FACTOR:
            continue
        for teeth, listed in pulleys.get(profile.key, {}).items():
            for face in faces_for(listed, width) if teeth >= profile.min_teeth else ():
                key = (profile.key, teeth, face)
                if key not in known:
                    known[key] = tuple(pulley_on(listed, face, size) for size in sizes)
                idler, beyond = idler_for(design.end, profile, width)
                changes = {
                    "end.belt.profile": profile.key,
                    "end.belt.width_mm": width,
                    "end.belt.cord": cord,
                    "end.belt.label": row.name,
                    "end.belt.drawer_key": row.key,
                    "end.belt.price": None,
                    "end.belt.price_per_m": row.price,
                    "end.belt.in_stock": cost[1],
                    "end.belt.source": bought(row)["source"],
                    "end.belt.ea_n": None,
                    "end.belt.line_mass_g_m": None,
                    "end.belt.working_tension_n": None,
                    **idler,
                }
                wider = (
                    ""
                    if face == min(r.data["face_mm"] for r in listed if r.data["face_mm"] >= width)
                    else f", {face:g} mm face"
                )
                choices.append(
                    Choice(
                        f"{profile.name}, {width:g} mm, {teeth} teeth{wider}", changes, 0.0, cost[1], cost[2]
                    )
                )
                working = profile.working_tension_n_per_25_4mm
                fitted.append(known[key])
                rows.append(
                    {
                        "pitch": profile.pitch_mm,
                        "line": profile.pitch_line_mm,
                        "thickness": profile.thickness_mm,
                        "height": profile.tooth_height_mm,
                        "width": width,
                        "teeth": float(teeth),
                        "face": face,
                        "idler": float(idler["end.idler.teeth"]),
                        "idler_more": beyond,
                        "mass": profile.mass_g_m_mm,
                        "working": np.nan if working is None else working,
                        "ea": profile.ea_glass_n_per_mm * CORD_FACTOR[cord],
                        "hub": max(r.data["hub_mm"] for r in listed if r.data["face_mm"] == face),
                        "per_m": 0.0 if cost[1] else (row.price or 0.0),
                        "least": float(profile.min_teeth),
                        "spend": min(p.spend for p in known[key]),
                    }
                )
    return choices, _columns(rows), fitted


def idler_for(end: Any, profile: Profile, width_mm: float) -> tuple[dict[str, Any], float]:
    """The idler that a belt wants, and what it costs beyond the one that is there.

    A row of the drawer that it no longer is loses its name; what that one cost stands as an estimate of what
    the other will.
    """
    now = end.idler
    teeth, width = max(now.teeth, profile.min_teeth), width_mm + 1
    out: dict[str, Any] = {"end.idler.teeth": teeth, "end.idler.width_mm": width}
    if now.drawer_key is None or (teeth, width) == (now.teeth, now.width_mm):
        return out, 0.0
    source = {"kind": "estimate", "note": f"price of {now.label}"[:300]}
    out |= {f"end.idler.{n}": v for n, v in (NAMELESS | {"price": now.price, "source": source}).items()}
    return out, (now.price or 0.0) if now.in_stock else 0.0


def pulleys_of(space: Space, motor: int, stages: Sequence[int], belt: int) -> tuple[list[Fitted], Fitted]:
    """The drivers of a combination's closed belts, and the end's pulley, each for the shaft that it sits
    on.
    """
    shaft = float(space.motor["shaft_mm"][motor])
    drivers = []
    for at in stages:
        on_each = space.stages[at].changes.get("driver")
        if on_each is not None:
            drivers.append(on_each[int(np.searchsorted(space.sizes, shaft))])
        shaft = float(space.stage["shaft_mm"][at])
    return drivers, space.pulleys[belt][int(np.searchsorted(space.sizes, shaft))]


def candidate(
    design: AxisDesign, space: Space, motor: int, stages: Sequence[int], belt: int, step: int
) -> dict[str, Any]:
    """What one combination sets in the design, and under `stages` the chain after the motor."""
    drivers, pulley = pulleys_of(space, motor, stages, belt)
    changes = {
        **space.motors[motor].changes,
        **space.belts[belt].changes,
        "chain.0.driver.microsteps": space.steps[step],
        **{f"end.pulley.{n}": v for n, v in pulley.fields.items()},
    }
    chain: list[dict[str, Any]] = []
    for at in stages:
        stage = dict(space.stages[at].changes["stage"])
        if stage["kind"] == "closed_belt":
            stage["driver"] = stage["driver"] | drivers.pop(0).fields
        chain.append(stage)
    return {**changes, "stages": chain}
