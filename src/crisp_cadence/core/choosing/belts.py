"""Open belts of a drawer with their pulleys and idlers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from ..design.design import AxisDesign
from ..fields.belts import CORD_FACTOR
from ..fields.part import UNORDERED
from ..fields.profile import Profile
from ..fitting.drawer import Stock, number
from ..fitting.parts import NAMELESS, Fitted, bought, faces_for, paid, pulley_on, stock_pulleys
from . import fuss
from .choice import MOST_BELTS, Choice, FloatArray, bounded, columns

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
    bounded(
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
                    **{f"end.belt.{name}": none for name, none in UNORDERED.items()},
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
                        "width": width,
                        "teeth": float(teeth),
                        "face": face,
                        "working": np.nan if working is None else working,
                        "idler_more": beyond,
                        "per_m": cost[0],
                        "spend": min(p.spend for p in known[key]),
                        "fuss": (not cost[1]) * fuss.of_belt(profile.key, cord),
                    }
                )
    return choices, columns(rows), fitted


# An end without a belt stays as it is.
AS_IT_STANDS: Belts = (
    [Choice("as it stands", {}, 0.0, True, 0)],
    {name: np.zeros(1) for name in ("spend", "fuss", "per_m", "idler_more")},
    [],
)


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
    return out, (now.price or 0.0) if now.in_stock or now.ordered else 0.0
