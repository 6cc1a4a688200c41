"""The axes of a machine as they ride on one another, drawn together: from above and from the side."""

from __future__ import annotations

import math
from typing import Literal

from ..design.design import AxisDesign
from ..ledger.record import record
from ..parts.ends.contract import Sweep
from .work import Axes

Way = Literal["x", "y", "z"]
WAYS: tuple[Way, ...] = ("x", "y", "z")
RAIL, GAP = 30.0, 20.0  # how wide a rail is drawn, and how far axes that stand alone are apart, mm
Box = tuple[tuple[float, float], tuple[float, float], tuple[float, float]]


@record
class Bar:
    """An axis where it lies: its fixed part and what moves on it as boxes (from, to) along x, y and z, mm,
    with what moves in the middle of its travel; it goes `way` by `travel_mm` in all, and `over_mm` more at
    either end before it meets its stop. `carried_by` are the axes beneath, the next one first: what moves
    there moves this one too. On the beam of crossed belts a head goes `across_mm` as well.
    `placed` tells that the maker has said where it lies and how large its carriage is, `section` that the
    rail's own section is known, `rail_mm` how wide one is. Of an arm both boxes are its pivot, and `swing` is
    the box that it stays in all around, with what is on it.
    """

    key: str
    name: str
    way: Way
    still: Box
    moves: Box
    travel_mm: float
    carried_by: tuple[str, ...]
    guided: bool
    across_mm: float = 0.0
    over_mm: float = 0.0
    placed: bool = False
    section: bool = False
    rail_mm: float = RAIL
    head: Box | None = None
    swing: Box | None = None


def _section(design: AxisDesign) -> tuple[float, float]:
    """How wide and high a rail is: by its section, else as it is drawn."""
    name = design.stand.rail_section
    if name == "another":
        return RAIL, RAIL
    sizes = [float(n) for n in name.removesuffix(" flat").removesuffix(" upright").split(" × ")]
    wide, high = reversed(sizes) if name.endswith("flat") else sizes
    return wide, high


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
    """Every axis that is worked out, each where the maker says; else on the middle of what it rides on, and
    axes that stand by themselves side by side.
    """
    out: dict[str, Bar] = {}
    beside = 0.0
    for key, axis in axes.axes.items():
        if key not in axes.runs:
            continue
        run = axes.runs[key][0]
        design = run.design
        way = WAYS.index(way_of(axes, key))
        sweep = run.end.swing()
        travel = 0.0 if sweep else float(run.ctx.usable)
        long = design.guide.rail_mm if run.end.guided else max(travel, 2 * RAIL)
        wide = design.sides.width_mm if design.sides.kind != "one" else RAIL
        beam = run.end.beam()
        wide = beam[0] if beam is not None else wide
        thick, high = _section(design)
        mount = out.get(axis.rides_on)
        centre = (
            [(lo + hi) / 2 for lo, hi in mount.moves]
            if mount is not None
            else [long / 2 if way == 0 else 0.0, beside + wide / 2, long / 2 if way == 2 else 0.0]
        )
        said = axes.machine.placed.get(key)
        if said is not None:
            at = (0.0, 0.0, 0.0) if mount is None else tuple((lo + hi) / 2 for lo, hi in mount.moves)
            centre = [c + off for c, off in zip(at, (said.x_mm, said.y_mm, said.z_mm), strict=True)]
        elif mount is not None and way != 2:
            centre[2] = mount.moves[2][1] + RAIL / 2
        across = 1 if way != 1 else 0
        up = 3 - way - across  # the third direction
        size = [thick, high, thick]
        size[way], size[across], size[up] = long, max(wide, thick), high
        rail, carriage = list(centre), list(centre)
        if way != 2 and said is None:
            carriage[2] += RAIL / 2
        elif way != 2:
            rail[2] -= RAIL / 2
        still = _box(rail, size)
        size[way] = min(design.guide.carriage_mm if run.end.guided else RAIL, long)
        size[across] += GAP
        if said is not None:
            size[across] = size[across] if beam else said.wide_mm or size[across]
            size[up] = said.high_mm or size[up]
        moves, head = _box(carriage, size), None
        if sweep:
            moves = still = _box(carriage, [RAIL, RAIL, RAIL])
        if beam:
            size[across] = said.wide_mm if said and said.wide_mm else RAIL + GAP
            head = _box(carriage, size)
        under = () if mount is None else (mount.key, *mount.carried_by)
        out[key] = Bar(
            key,
            design.name,
            WAYS[way],
            still,
            moves,
            travel,
            under,
            run.end.guided,
            beam[1] if beam else 0.0,
            design.guide.overtravel_mm if run.end.guided else 0.0,
            said is not None and None not in (said.wide_mm, said.high_mm),
            design.stand.rail_section != "another",
            thick,
            head,
            _around(carriage, sweep, way, _on_arm(axes, key)) if sweep else None,
        )
        if mount is None:
            beside = still[1][1] + RAIL + GAP
    return tuple(out.values())


def _on_arm(axes: Axes, key: str) -> float:
    """How far beyond its tip, or beside it, comes what is on an arm, mm: the far corners of its tip, and of
    the things that the maker has put there.
    """
    said = axes.machine.placed.get(key)
    sizes = [0.0 if said is None else math.hypot(said.wide_mm or 0.0, said.high_mm or 0.0) / 2]
    for b in axes.machine.bodies:
        if b.on == key:
            places = zip((b.x_mm, b.y_mm, b.z_mm), (b.long_mm, b.wide_mm, b.high_mm), strict=True)
            sizes.append(math.hypot(*(abs(at) + size / 2 for at, size in places)))
    return max(sizes)


def _around(pivot: list[float], sweep: Sweep, way: int, more: float) -> Box:
    """The box around a swing: along the way that the arm points, or along both level ones where it is only
    said to go upwards.
    """
    along, beside = sweep.along_mm, sweep.beside_mm
    level = (along, beside) if way == 0 else (beside, along) if way == 1 else (max(along, beside),) * 2
    x, y, z = pivot
    return (
        (x - level[0] - more, x + level[0] + more),
        (y - level[1] - more, y + level[1] + more),
        (z - sweep.below_mm - more, z + sweep.above_mm + more),
    )


def _box(centre: list[float], size: list[float]) -> Box:
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
