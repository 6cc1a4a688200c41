"""The axes of a machine as they ride on one another, drawn together: from above and from the side."""

from __future__ import annotations

from typing import Literal

from ..ledger.record import record
from .work import Axes

Way = Literal["x", "y", "z"]
WAYS: tuple[Way, ...] = ("x", "y", "z")
RAIL, GAP = 30.0, 20.0  # how wide a rail is drawn, and how far axes that stand alone are apart, mm


@record
class Bar:
    """An axis where it lies: its fixed part and what moves on it as boxes (from, to) along x, y and z, mm,
    with what moves in the middle of its travel; it goes `way` by `travel_mm` in all. `carried_by` are the
    axes beneath, the next one first: what moves there moves this one too. Crossed belts go `across_mm`
    as well.
    """

    key: str
    name: str
    way: Way
    still: tuple[tuple[float, float], tuple[float, float], tuple[float, float]]
    moves: tuple[tuple[float, float], tuple[float, float], tuple[float, float]]
    travel_mm: float
    carried_by: tuple[str, ...]
    guided: bool
    across_mm: float = 0.0


def way_of(axes: Axes, key: str) -> Way:
    """Which way an axis goes: as the maker says; else upwards where it is steep, across what it rides on."""
    said = axes.machine.along.get(key)
    if said:
        return said
    axis = axes.axes[key]
    if axis.design.aim.slope_deg > 45:
        return "z"
    if axis.rides_on in axes.axes:
        return "y" if way_of(axes, axis.rides_on) == "x" else "x"
    return "x"


def bars(axes: Axes) -> tuple[Bar, ...]:
    """Every axis that is worked out, each on the middle of what it rides on; axes that stand by themselves
    side by side.
    """
    out: dict[str, Bar] = {}
    beside = 0.0
    for key, axis in axes.axes.items():
        if key not in axes.runs:
            continue
        run = axes.runs[key][0]
        design = run.design
        way = WAYS.index(way_of(axes, key))
        long = design.guide.rail_mm if run.end.guided else max(float(run.ctx.usable), 2 * RAIL)
        travel = float(run.ctx.usable)
        wide = design.sides.width_mm if design.sides.kind != "one" else RAIL
        beam = run.end.beam()
        wide = beam[0] if beam is not None else wide
        mount = out.get(axis.rides_on)
        centre = (
            [(lo + hi) / 2 for lo, hi in mount.moves]
            if mount is not None
            else [long / 2 if way == 0 else 0.0, beside + wide / 2, long / 2 if way == 2 else 0.0]
        )
        if mount is not None and way != 2:
            centre[2] = mount.moves[2][1] + RAIL / 2
        across = 1 if way != 1 else 0
        size = [RAIL, RAIL, RAIL]
        size[way], size[across] = long, max(wide, RAIL)
        still = _box(centre, size)
        size[way] = min(design.guide.carriage_mm if run.end.guided else RAIL, long)
        size[across] += GAP
        on = list(centre)
        if way != 2:
            on[2] += RAIL / 2
        moves = _box(on, size)
        under = () if mount is None else (mount.key, *mount.carried_by)
        out[key] = Bar(
            key, design.name, WAYS[way], still, moves, travel, under, run.end.guided, beam[1] if beam else 0.0
        )
        if mount is None:
            beside = still[1][1] + RAIL + GAP
    return tuple(out.values())


def _box(
    centre: list[float], size: list[float]
) -> tuple[tuple[float, float], tuple[float, float], tuple[float, float]]:
    x, y, z = ((c - s / 2, c + s / 2) for c, s in zip(centre, size, strict=True))
    return x, y, z


@record
class Area:
    """What the axes that carry one another reach together, mm; 0 where none goes that way."""

    name: str
    x_mm: float
    y_mm: float
    z_mm: float


def areas(drawn: tuple[Bar, ...]) -> tuple[Area, ...]:
    """The working area of every axis that carries none, by its way and that of those beneath."""
    by_key = {b.key: b for b in drawn}
    beneath = {k for b in drawn for k in b.carried_by}
    out = []
    for b in drawn:
        if b.key in beneath:
            continue
        reach = {"x": 0.0, "y": 0.0, "z": 0.0}
        for part in (b, *(by_key[k] for k in b.carried_by)):
            reach[part.way] += part.travel_mm
            reach["x" if part.way == "y" else "y"] += part.across_mm
        out.append(Area(b.name, reach["x"], reach["y"], reach["z"]))
    return tuple(out)
