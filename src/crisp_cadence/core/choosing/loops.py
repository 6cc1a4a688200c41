"""Closed belts of a drawer as reductions."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..checks.tensioners import TARGET_OVER
from ..fields.belts import CORD_FACTOR
from ..fields.profile import Profile
from ..fitting.drawer import Stock, number
from ..fitting.parts import Fitted, bought, face_for, paid, pulley_on, stock_pulleys
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
from ..parts.stages.closed_belt import ClosedBelt
from .choice import MOST_LOOPS, Choice, FloatArray, beyond_least, bounded
from .drives import NO_STAGE
from .front import best_front

AIR_MM = 2.0  # least between the pitch circles of a closed belt's pulleys


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
        bounded(len(own) ** 2 * len(lengths), f"closed belts and pulleys of {profile.name}", MOST_LOOPS)
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
            f"more {k}": _of({z: beyond_least(row, sizes)[k] for z, row in first.items()}, z1)
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
