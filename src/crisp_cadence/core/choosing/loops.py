"""Closed belts of a drawer as reductions."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import reduce
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..account.context import Context
from ..checks.holding import fixing_grip
from ..checks.pulleys import root_diameter
from ..design.design import AxisDesign
from ..fields.belts import CORD_FACTOR, Pulley
from ..fields.profile import Profile
from ..fitting.drawer import Stock, number
from ..fitting.parts import UNMEASURED, Fitted, bought, face_for, paid, pulley_on, stock_pulleys
from ..ledger.formula import Real
from ..ledger.quantity import Ledger, bare
from ..parts.stages.closed_belt import ClosedBelt
from ..parts.stages.closed_path import PULLEYS
from . import fuss
from .choice import MOST_LOOPS, Choice, FloatArray, beyond_least, bounded
from .front import best_front

AT = "chain.1"
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
    design: AxisDesign,
    closed: ClosedBelt,
    profiles: Mapping[str, Profile],
    drawer: Sequence[Stock],
    sizes: Sequence[float],
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
        teeth = (x.ravel() for x in np.meshgrid(sorted(own), sorted(own), sorted(lengths), indexing="ij"))
        z1, z2, zb = teeth
        reduces = z2 > z1
        z1, z2, zb = z1[reduces], z2[reduces], zb[reduces]
        hub = {
            z: max(row.data["hub_mm"] for row in rows if row.data["face_mm"] == faces[z])
            for z, rows in own.items()
        }
        stage = closed.model_copy(
            update={
                "belt": closed.belt.model_copy(
                    update={**UNMEASURED, "profile": key, "width_mm": width, "cord": cord}
                ),
                "belt_teeth": zb.astype(float),
                "rollers": [],
                # Bored for the shaft before it only once that is known.
                "driver": _pulley(closed.driver, z1, faces, hub, 0.0),
                "driven": _pulley(
                    closed.driven,
                    z2,
                    faces,
                    {z: p.fields["hub_mm"] for z, p in second.items()},
                    closed.shaft_mm,
                ),
            }
        )
        spend = (
            _of({z: min(p.spend for p in row) for z, row in first.items()}, z1)
            + _of({z: p.spend for z, p in second.items()}, z2)
            + _of({z: paid(row)[0] for z, row in lengths.items()}, zb)
        )
        table = {
            **_worked_out(design, stage, profile, profiles),
            "spend": spend,
            "fuss": np.full(len(z1), fuss.STAGE["closed_belt"] + fuss.of_belt(key, cord)),
            "z1": z1,
            "z2": z2,
            "zb": zb,
            "group": np.full(len(z1), len(made)),
            **{
                f"more {k}": _of({z: beyond_least(row, sizes)[k] for z, row in first.items()}, z1)
                for k in range(len(sizes))
            },
        }
        fits = table.pop("fits").astype(bool)
        tables.append({n: np.asarray(x, dtype=np.float64)[fits] for n, x in table.items()})
        made.append((profile, width, cord, first, second))
    if not tables:
        return ([], []), (0, 0)
    whole = {n: np.concatenate([x[n] for x in tables]) for n in tables[0]}
    places = _best_loops(whole) if pruned else np.arange(len(whole["ratio"]))
    choices, rows = [], []
    plain = closed.model_dump(mode="json") | {"rollers": [], "label": ""}
    for i in places:
        at = {n: float(x[i]) for n, x in whole.items()}
        profile, width, cord, first, second = made[int(at["group"])]
        belt = stock[(profile.key, width, cord)][int(at["zb"])]
        choices.append(
            _loop_choice(plain, profile, width, cord, first[int(at["z1"])], second[int(at["z2"])], belt, at)
        )
        rows.append(at)
    return (choices, rows), (len(whole["ratio"]), int(np.count_nonzero(whole["room"] > closed.shaft_mm)))


def _pulley(
    pulley: Pulley,
    teeth: NDArray[np.int64],
    faces: Mapping[int, float],
    hubs: Mapping[int, float],
    bore: float,
) -> Pulley:
    """A pulley whose numbers are columns."""
    numbers = {"teeth": teeth.astype(float), "face_mm": _of(faces, teeth), "hub_mm": _of(hubs, teeth)}
    return pulley.model_copy(update={**numbers, "bore_mm": bore})


def _worked_out(
    design: AxisDesign, stage: ClosedBelt, profile: Profile, profiles: Mapping[str, Profile]
) -> dict[str, Any]:
    """What a stage of columns does, by the one evaluation: whether it can be built, with air between its
    pulleys and its shafts where they are wanted, and what its rungs grow or fall with.
    """
    ctx = Context(
        design.model_copy(update={"chain": [design.chain[0], stage], "measured": []}),
        profiles,
        Ledger(late=True),
    )
    with np.errstate(all="ignore"):
        stage.check(AT, ctx)
        passed, fitted, carried = stage.transmit(AT, ctx), stage.fitted(AT, ctx), stage.carried(AT, ctx)
        rest, cords = stage.at_rest(AT, ctx), stage.cords(AT, ctx)
        radius, centre = {n: r.n for n, r in fitted.radius.items()}, fitted.centre.n
        fits = ~reduce(np.logical_or, ctx.refused) & (centre >= sum(radius.values()) + AIR_MM)
        if stage.wanted_mm is not None:
            fits &= stage.slot_for(centre - stage.wanted_mm) <= stage.adjust_mm
        found = {
            "fits": fits,
            "ratio": bare(passed.ratio),
            "inertia_gcm2": bare(passed.inertia_in_gcm2),
            "stiffness_nm_rad": bare(passed.stiffness_out_nm_rad),
            "radius": radius["driver"],
            "pull": np.nan if carried.value is None else carried.n,
            "mesh": fitted.mesh.n,
            "cord": cords.n,
            "wrap": fitted.wrap.n,
            "floor": 0.0 if rest.floor is None else rest.floor.n,
            "sag": 0.0 if rest.sag is None else rest.sag.n,
            "warmth": rest.warmth.n,
            **{f"{n}_holds": _held(getattr(stage, n)) for n in PULLEYS},
            "room": np.minimum(stage.driver.hub_mm, root_diameter(profile, stage.driver.teeth)),
            "shaft_mm": stage.shaft_mm,
            "mass_kg": np.nan if stage.mass_kg is None else stage.mass_kg,
        }
    return {name: np.broadcast_to(values, fits.shape) for name, values in found.items()}


def _held(pulley: Pulley) -> Real:
    """Torque that a pulley holds on a shaft of its own bore, N·m: those on one shaft compare by it."""
    return np.nan_to_num(fixing_grip(pulley, pulley.bore_mm), nan=0.0)


def _best_loops(table: Mapping[str, FloatArray]) -> NDArray[np.intp]:
    """Places of closed belts that no other of the same ratio equals or betters in everything that a rung or
    the ranking looks at.

    All rungs grow, or fall, with these columns alone: inertia, stiffness, the torque that teeth carry, what
    the cords bear, teeth in mesh, the pull that a torque makes, what the belt is set to beyond the need of
    that pull, its wrap on the driver, what the hubs hold, room for the motor's shaft, and money. That it is
    taut and seated is met by the same tenth with all of them.
    """
    strong = np.nan_to_num(table["pull"], nan=0.0) * table["radius"]
    less_is_better = ("inertia_gcm2", "wrap", "floor", "sag", "warmth")
    more_is_better = ("stiffness_nm_rad", "cord", "mesh", "radius", "room", "driver_holds", "driven_holds")
    ranked = np.stack(
        [
            *(table[n] for n in less_is_better),
            *(-table[n] for n in more_is_better),
            -strong,
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
    plain: Mapping[str, Any],
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
    stage = {
        **plain,
        "belt_teeth": int(at["zb"]),
        "driver": plain["driver"] | drivers[0].fields,
        "driven": plain["driven"] | driven.fields,
        "belt": plain["belt"]
        | {
            "profile": profile.key,
            "width_mm": width,
            "cord": cord,
            **bought(belt),
            **{n: v for n, v in UNMEASURED.items() if n in plain["belt"]},
        },
    }
    cost = paid(belt)
    name = f"closed belt {profile.name}, {width:g} mm, {at['z1']:g} : {at['z2']:g}, {at['zb']:g} teeth"
    return Choice(
        name,
        {"stage": stage, "driver": drivers},
        at["spend"],
        driven.owned and cost[1],
        driven.typical + cost[2],
    )
