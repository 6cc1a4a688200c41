"""Closed belts of stock: the shaft distance that each length gives, and ratio and distance solved
together.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from ..fields.profile import Profile
from ..formulas.belt import open_belt_length, pitch_diameter
from ..geometry.path import closed_belt_centre
from ..ledger.amounts import said
from ..ledger.formula import formula
from ..ledger.record import record
from ..parts.stages.closed_belt import ClosedBelt
from .drawer import Stock, number
from .parts import closed_belt_taken, face_for, pulley_on, stock_pulleys

SHOWN = 10  # stock lengths listed
SOLVED = 8  # pairs of pulleys listed


@record
class StockBelt:
    """One stock length on the present pulleys."""

    teeth: int
    length_mm: float
    centre_mm: float | None
    off_mm: float | None
    fits: bool
    owned: int
    price: float | None
    key: str
    says: str
    changes: dict[str, Any]


@record
class PairAndBelt:
    """A driver, a driven pulley and a stock belt that together come near a ratio and a distance."""

    driver_teeth: int
    driven_teeth: int
    belt_teeth: int
    ratio: float
    ratio_off_percent: float
    centre_mm: float
    off_mm: float
    owned: int
    changes: dict[str, Any]


@record
class Placement:
    """Where the motor of a closed stage may sit, with what it asks and what it brings."""

    name: str
    along_mm: float
    across_mm: float
    slot_mm: float
    off_mm: float
    guard_mm: tuple[float, float]
    bracket_mm: float
    wiring: str
    gives: str
    costs: str


def stock_teeth(drawer: Sequence[Stock], profile: str, width_mm: float) -> dict[int, Stock]:
    """Stock closed belts of a profile and width by their teeth; what lies in the drawer before what only the
    catalogue has.
    """
    out: dict[int, Stock] = {}
    for row in sorted(drawer, key=lambda r: r.quantity):
        teeth, width = number(row, "belt_teeth"), number(row, "width_mm")
        if (
            row.kind == "closed belt"
            and row.data.get("profile") == profile
            and teeth
            and width
            and abs(width - width_mm) < 0.05
        ):
            out[round(teeth)] = row
    return out


def stock_lengths(
    stage: ClosedBelt, at: str, profile: Profile, drawer: Sequence[Stock], wanted_mm: float
) -> list[StockBelt]:
    """Stock lengths around a wanted distance of the shafts, with the distance that each gives; nearest first
    is not needed: by teeth.
    """
    stock = stock_teeth(drawer, profile.key, stage.belt.width_mm)
    r1, r2 = (float(pitch_diameter(p.teeth, profile.pitch_mm)) / 2 for p in (stage.driver, stage.driven))
    about = float(open_belt_length(max(wanted_mm, r1 + r2 + 0.1), r1, r2)) / profile.pitch_mm
    near = sorted(stock, key=lambda t: abs(t - about))[:SHOWN]
    out = []
    for teeth in sorted(near):
        row, length = stock[teeth], teeth * profile.pitch_mm
        found = float(stage.centre_for(at, profile, length))
        centre = found if math.isfinite(found) else None
        off = centre - wanted_mm if centre is not None else None
        fits = off is not None and stage.slot_for(off) <= stage.adjust_mm
        says = (
            "cannot reach: the pulleys would touch"
            if off is None
            else "within the slot"
            if fits
            else f"the shafts would stand {said(abs(off), 'mm', '.2f')} {'farther' if off > 0 else 'nearer'}"
        )
        out.append(
            StockBelt(
                teeth,
                length,
                centre,
                off,
                fits,
                row.quantity,
                row.price,
                row.key,
                says,
                closed_belt_taken(at, row),
            )
        )
    return out


@formula
def ratio_and_distance(
    ratio: float,
    wanted_mm: float,
    pitch_mm: float,
    driver_teeth: Sequence[int],
    driven_teeth: Sequence[int],
    belt_teeth: Sequence[int],
    ratio_within_percent: float = 3.0,
) -> list[tuple[int, int, int, float, float, float]]:
    """Driver, driven and belt teeth nearest to a ratio and a shaft distance; with ratio error in percent,
    distance and its error.

    Equation: z2/z1 within the tolerance of i, C from 2C·cos φ + π(R + r) + 2φ(R − r) = z·p, sorted by |C −
    C_wanted|
    Units: –, mm, mm, –, –, – → mm
    Range: every combination of the teeth given is looked at
    Source: handbook — open belt drive, exact form

    >>> [(a, b, z, round(c, 2)) for a, b, z, _, c, _ in ratio_and_distance(3.0, 60.0, 2.0, [20], [60], [100, 110, 120])][:2]
    [(20, 60, 100, 58.61), (20, 60, 110, 68.82)]
    """
    z1, z2, zb = (
        np.asarray(sorted(set(v)), dtype=np.float64) for v in (driver_teeth, driven_teeth, belt_teeth)
    )
    a, b = (m.ravel() for m in np.meshgrid(z1, z2, indexing="ij"))
    off = 100 * (b / a / ratio - 1)
    keep = abs(off) <= ratio_within_percent + 1e-9
    a, b, off = a[keep], b[keep], off[keep]
    if not a.size or not zb.size:
        return []
    centre = np.asarray(
        closed_belt_centre(
            zb[None, :] * pitch_mm,
            (a * pitch_mm / 2 / math.pi)[:, None],
            (b * pitch_mm / 2 / math.pi)[:, None],
        )
    )
    wrong = abs(centre - wanted_mm)
    order = np.argsort(np.where(np.isnan(wrong), np.inf, wrong), axis=None, kind="stable")
    out = []
    for flat in order:
        i, j = divmod(int(flat), zb.size)
        if math.isnan(centre[i, j]):
            break
        out.append(
            (
                int(a[i]),
                int(b[i]),
                int(zb[j]),
                float(off[i]),
                float(centre[i, j]),
                float(centre[i, j] - wanted_mm),
            )
        )
    return out


def pairs(
    stage: ClosedBelt, at: str, shaft_mm: float, profile: Profile, drawer: Sequence[Stock], wanted_mm: float
) -> list[PairAndBelt]:
    """The best pairs of stock pulleys with a stock belt for the stage's ratio and a wanted distance; the
    driver sits on a shaft of `shaft_mm`.
    """
    stock, pulleys = (
        stock_teeth(drawer, profile.key, stage.belt.width_mm),
        stock_pulleys(drawer).get(profile.key, {}),
    )
    faces = {
        z: face
        for z, rows in pulleys.items()
        if z >= profile.min_teeth and (face := face_for(rows, stage.belt.width_mm)) is not None
    }
    own = {
        z: max(row.quantity for row in pulleys[z] if row.data["face_mm"] == face) for z, face in faces.items()
    }
    teeth = sorted({*faces, stage.driver.teeth, stage.driven.teeth})

    def taken(a: int, b: int, z: int) -> dict[str, Any]:
        out = closed_belt_taken(at, stock[z])
        for name, now, count, shaft in (
            ("driver", stage.driver, a, shaft_mm),
            ("driven", stage.driven, b, stage.shaft_mm),
        ):
            if count != now.teeth:
                out |= {
                    f"{at}.{name}.{n}": v
                    for n, v in pulley_on(pulleys[count], faces[count], shaft).fields.items()
                }
        return out

    ratio = stage.driven.teeth / stage.driver.teeth
    found = (
        ratio_and_distance(ratio, wanted_mm, profile.pitch_mm, teeth, teeth, sorted(stock)) if stock else []
    )
    rows = [
        PairAndBelt(
            a,
            b,
            z,
            b / a,
            off,
            centre,
            apart,
            (own.get(a, 0) > 0) + (own.get(b, 0) > 0) + (stock[z].quantity > 0),
            taken(a, b, z),
        )
        for a, b, z, off, centre, apart in found[:200]
    ]
    near = [r for r in rows if abs(r.off_mm) <= max(stage.adjust_mm, 0.1 * wanted_mm)] or rows
    return sorted(
        near,
        key=lambda r: (
            stage.slot_for(r.off_mm) > stage.adjust_mm,
            -r.owned,
            abs(r.off_mm) + abs(r.ratio_off_percent),
        ),
    )[:SOLVED]


def placements(stage: ClosedBelt, profile: Profile, centre_mm: float, motor_mm: float) -> list[Placement]:
    """Four places of the motor round the driven shaft, compared."""
    r1, r2 = (float(pitch_diameter(p.teeth, profile.pitch_mm)) / 2 for p in (stage.driver, stage.driven))
    flange = profile.thickness_mm - profile.tooth_height_mm + 1.0
    # To lift the belt over a flange of the smaller pulley half its turn must grow by the flange's height.
    lift = math.pi * flange / 2
    slot = lift + centre_mm * 0.004 + 1.0
    half = motor_mm / 2
    guard = (centre_mm + r1 + r2 + 20, 2 * max(r1, r2) + 20)
    rows = (
        (
            "beyond the end",
            centre_mm + half,
            max(half, r2),
            "short, past the end of the rail",
            "easy to reach, belt off over its end",
            "the machine grows by as much",
        ),
        (
            "beside, inwards",
            max(r2, half),
            max(half, r2),
            "short, but it may meet the moving parts",
            "nothing grows",
            "the carriage must pass it; the belt comes off only with the cover away",
        ),
        (
            "above",
            half,
            centre_mm + half,
            "up the bracket, strain relief at the top",
            "drips and chips stay off, adjustment in sight",
            "a tall bracket bends: look at its tilt",
        ),
        (
            "below",
            half,
            centre_mm + half,
            "out of sight, mind the floor",
            "low weight, guard against the bench",
            "dirt falls on it; reach it from below",
        ),
    )
    return [
        Placement(
            name,
            along,
            across,
            slot,
            lift,
            guard,
            centre_mm + half if name in ("above", "below") else half,
            wiring,
            gives,
            costs,
        )
        for name, along, across, wiring, gives, costs in rows
    ]
