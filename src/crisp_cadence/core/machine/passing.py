"""What moves past what: the boxes of a machine's parts along the whole of all travels, and the room between
them.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace
from itertools import combinations
from typing import Literal

from ..account.report import PlannedStep
from ..ledger.amounts import said
from ..ledger.record import record
from .layout import RAIL, WAYS, Bar, Box, Way
from .work import Axes

Standing = Literal["short", "tight", "unknown", "holds"]
WORST_FIRST: tuple[Standing, ...] = ("short", "tight", "unknown", "holds")
# What moves one thing against another: the axis, the direction, by how much either way, mm, and whether along
# its own travel (else across, on the beam of crossed belts).
Motion = tuple[str, int, float, bool]


@record
class Solid:
    """A thing that takes up room: its box in the middle of all travels, and the axes that move it, the next
    one first; `across` those of them along whose beam it moves too. `axis` is the one whose rail, beam or
    carriage it is; `taken` tells that nobody has said where that lies and how large it is, `thick` that a
    rail's thickness is assumed, `swings` that it is the box around an arm in all its places.
    """

    name: str
    box: Box
    moved_by: tuple[str, ...]
    axis: str = ""
    rail: bool = False
    taken: bool = False
    thick: bool = False
    across: tuple[str, ...] = ()
    swings: bool = False


@record
class Passing:
    """Two things that move past each other: the least room between them, mm (below nothing: how far they run
    into each other), the direction in which it is, and what to do. `axes` move one of them and not the other;
    nobody has said where the axes in `taken` lie: their room is that of the drawing, and proves nothing.
    Of an arm the room is that to the box around its swing, and there is at least as much.
    """

    a: str
    b: str
    room_mm: float
    way: Way
    verdict: Standing
    says: str
    axes: tuple[str, ...]
    taken: tuple[str, ...]


def solids(axes: Axes, drawn: Iterable[Bar]) -> tuple[Solid, ...]:
    """Rails and carriages as they are drawn, and the things that the maker has entered. An arm is the box
    around all its places, with what is on it; an axis that rides on an arm is none.
    """
    bars = {b.key: b for b in drawn}
    out = []

    def beams(keys: Iterable[str]) -> tuple[str, ...]:
        return tuple(k for k in keys if bars[k].across_mm)

    for b in bars.values():
        under, taken = beams(b.carried_by), not b.placed
        moved_by = (b.key, *b.carried_by)
        if b.swing is not None:
            out.append(
                Solid(f"Arm of {b.name}", b.swing, b.carried_by, b.key, False, taken, False, under, True)
            )
            continue
        for name, box in _rails(b):
            out.append(Solid(name, box, b.carried_by, b.key, True, taken, not b.section, under))
        name = f"{'Beam' if _wide(b) else 'Carriage'} of {b.name}"
        out.append(Solid(name, b.moves, moved_by, b.key, taken=taken, across=under))
        if b.head is not None:
            name = f"Carriage of {b.name}"
            out.append(Solid(name, b.head, moved_by, b.key, taken=taken, across=beams(moved_by)))
    for body in axes.machine.bodies:
        if body.on and (body.on not in bars or bars[body.on].swing is not None):
            continue  # what is on an arm makes its box larger
        at = [0.0, 0.0, 0.0] if not body.on else [(lo + hi) / 2 for lo, hi in bars[body.on].moves]
        sizes = (body.long_mm, body.wide_mm, body.high_mm)
        x, y, z = (
            (c + off - s / 2, c + off + s / 2)
            for c, off, s in zip(at, (body.x_mm, body.y_mm, body.z_mm), sizes, strict=True)
        )
        moved_by = (body.on, *bars[body.on].carried_by) if body.on else ()
        out.append(Solid(body.label, (x, y, z), moved_by, across=beams(moved_by)))
    arms = {b.key for b in bars.values() if b.swing is not None}
    return tuple(s for s in out if not arms & {*s.moved_by})


def _across(b: Bar) -> int:
    return 1 if b.way != "y" else 0


def _wide(b: Bar) -> bool:
    """Whether a beam goes from a rail on one side to one on the other."""
    low, high = b.still[_across(b)]
    return high - low > 2 * b.rail_mm


def _rails(b: Bar) -> Iterator[tuple[str, Box]]:
    """The rail of an axis, or the two of them that a beam runs on, with what stands between left free."""
    if not _wide(b):
        yield f"Rail of {b.name}", b.still
        return
    i = _across(b)
    low, high = b.still[i]
    for name, side in (("One rail", (low, low + b.rail_mm)), ("Other rail", (high - b.rail_mm, high))):
        x, y, z = (side if j == i else b.still[j] for j in range(3))
        yield f"{name} of {b.name}", (x, y, z)


def passings(axes: Axes, drawn: Iterable[Bar], things: Iterable[Solid]) -> tuple[Passing, ...]:
    """Every two things that can come nearer, the worst first: what the maker has entered against all
    else, and axes that the maker has placed against each other. What runs along its own rail is at home
    there.
    """
    bars = {b.key: b for b in drawn}
    found = []
    for a, b in combinations(things, 2):
        entered = not a.axis or not b.axis
        placed = not a.taken and not b.taken
        if (entered or placed) and not _at_home(a, b) and not _at_home(b, a):
            motions = _motions(bars, a, b)
            if motions or a.swings or b.swings:
                found.append(_passing(axes, bars, a, b, motions))
    return tuple(sorted(found, key=lambda p: (WORST_FIRST.index(p.verdict), p.room_mm)))


def _at_home(leads: Solid, other: Solid) -> bool:
    """Whether a thing runs on that rail, or along that beam, or turns on it, or both are of one axis."""
    if other.swings and leads.axis and other.moved_by[:1] == (leads.axis,):
        return True
    beam = not leads.rail and leads.axis in other.across and leads.axis not in leads.across
    led = (leads.rail or beam) and other.moved_by[:1] == (leads.axis,)
    return led or leads.axis == other.axis != ""


def _motions(bars: Mapping[str, Bar], a: Solid, b: Solid) -> list[Motion]:
    """What moves one of two things and not the other."""
    along = [x for k, x in bars.items() if (k in a.moved_by) != (k in b.moved_by)]
    across = [x for k, x in bars.items() if (k in a.across) != (k in b.across)]
    return [
        *((x.key, WAYS.index(x.way), x.travel_mm / 2 + x.over_mm, True) for x in along),
        *((x.key, _across(x), x.across_mm / 2, False) for x in across),
    ]


def _passing(axes: Axes, bars: Mapping[str, Bar], a: Solid, b: Solid, motions: list[Motion]) -> Passing:
    sway = [math.fsum(half for _, way, half, _ in motions if way == i) for i in range(3)]
    rooms = [max(b.box[i][0] - a.box[i][1], a.box[i][0] - b.box[i][1]) - sway[i] for i in range(3)]
    room = max(rooms)
    way = rooms.index(room)
    wanted = axes.machine.apart_mm
    arms = [s.axis for s in (a, b) if s.swings]
    movers = tuple(dict.fromkeys((*(key for key, *_ in motions), *arms)))
    named = dict.fromkeys((*movers, a.axis, b.axis))
    unsure = tuple(axes.name(k) for k in named if k and not bars[k].placed)
    verdict: Standing = "short" if room < 0 else "tight" if room < wanted else "holds"
    more = said(wanted - room, "mm")
    if unsure:
        verdict = "unknown"
        says = f"As drawn only: place {' and '.join(unsure)} to know."
    elif room < 0 and arms:
        verdict = "unknown"
        says = (
            f"Within the box around the swing of {' and '.join(map(axes.name, arms))}: turn it past by hand."
        )
    elif verdict == "short":
        where = [w for i in range(3) if (w := _where(bars, motions, a, b, i))]
        says = (
            f"They run {said(-room, 'mm')} into each other along {WAYS[way]}"
            + (f", {' and '.join(where)}" if where else "")
            + f". Move one of them by {more}, or shorten the travel."
        )
    else:
        says = f"{said(wanted, 'mm')} is wanted: move one of them by {more}." if room < wanted else ""
    if not unsure and (a.thick or b.thick):
        says = f"{says} The rail is taken as {said(RAIL, 'mm')} thick.".strip()
    return Passing(a.name, b.name, room, WAYS[way], verdict, says, movers, unsure)


def _where(bars: Mapping[str, Bar], motions: list[Motion], a: Solid, b: Solid, i: int) -> str:
    """Between which places of the one axis that moves them against each other along a direction they meet,
    counted from the lower end of its travel; empty where none or several move them, or where it is so all
    along.
    """
    here = [m for m in motions if m[1] == i]
    if len(here) != 1 or not here[0][3]:
        return ""
    key, _, half, _ = here[0]
    mover = bars[key]
    low, high = b.box[i][0] - a.box[i][1], b.box[i][1] - a.box[i][0]
    if key in b.moved_by:
        low, high = -high, -low
    low, high = max(low, -half), min(high, half)
    if low <= -half and high >= half:
        return ""
    at = mover.travel_mm / 2
    near, far = said(low + at, "mm", ".0f"), said(high + at, "mm", ".0f")
    return f"while {mover.name} stands {near} to {far} up its travel of {said(mover.travel_mm, 'mm', '.0f')}"


def told(steps: Iterable[PlannedStep], found: Iterable[Passing]) -> tuple[PlannedStep, ...]:
    """The order of work, the first run by hand of every axis with what to look at on its way."""
    by_axis: dict[str, list[Passing]] = {}
    for p in found:
        for key in p.axes if not p.taken else ():
            by_axis.setdefault(f"{key}:hand_run", []).append(p)
    return tuple(
        replace(step, check=f"{step.check} {_look(by_axis[step.key])}".strip())
        if step.key in by_axis
        else step
        for step in steps
    )


def _look(found: list[Passing]) -> str:
    unsure = [p for p in found if p.verdict == "unknown"]
    if unsure:
        sure = [p for p in found if p.verdict != "unknown"]
        may = ", ".join(f"{p.a} and {p.b}" for p in unsure)
        return f"{_look(sure) if sure else ''} May meet, so turn it past by hand: {may}.".strip()
    least = min(found, key=lambda p: p.room_mm)
    if math.isclose(least.room_mm, 0.0, abs_tol=0.05) or least.room_mm < 0:
        return f"{least.a} and {least.b} are in each other's way: look before it gets there."
    return f"Least room on the way: {least.a} to {least.b}, {said(least.room_mm, 'mm')}."
