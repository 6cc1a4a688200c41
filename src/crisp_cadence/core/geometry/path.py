"""Belt paths: any row of pulleys, each with the belt on one side of it, joined by common tangents.

Millimetres; x along the travel, y upwards. A belt that runs with a pulley on its left turns anticlockwise
round it (side +1), with the pulley on its right clockwise (side −1); teeth and back follow from that.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache, partial
from typing import TypeAlias

from ..ledger import many
from ..ledger.amounts import said
from ..ledger.errors import EntryError, Problem, Refuse, at_once, problem
from ..ledger.formula import Real, formula
from ..ledger.record import record

HAIR = 1e-9
FREE = 2 * math.pi - 0.7  # a wrap beyond this is a pulley that the belt passes without touching
UNTOUCHED = "does not touch the belt: as it stands the belt would have to loop round it. Press it further in"


@record
class Round:
    """One pulley of a path: axis, pitch-line radius, the side on which the belt has it, and the part of the
    design that it is.
    """

    name: str
    x_mm: Real
    y_mm: Real
    radius_mm: Real
    side: int
    field: str = ""
    part: str = ""


@record
class Span:
    """One straight piece between two pulleys."""

    x0_mm: Real
    y0_mm: Real
    x1_mm: Real
    y1_mm: Real
    length_mm: Real


@record
class Path:
    """A belt path worked out: `spans[i]` leads from pulley i to the next one, `wraps[i]` is the belt's angle
    on pulley i.
    """

    rounds: tuple[Round, ...]
    spans: tuple[Span, ...]
    wraps: tuple[Real, ...]
    length_mm: Real


@formula
def tangent_length(distance_mm: Real, radius_a_mm: Real, radius_b_mm: Real) -> Real:
    """Length of the straight piece between two pulleys.

    Equation: l = √(C² − (s_b·r_b − s_a·r_a)²), s = ±1 the side
    Units: mm, mm (signed), mm (signed) → mm
    Range: C above the difference of the signed radii; opposite signs give the crossed tangent
    Source: handbook — common tangent of two circles, plane geometry

    >>> tangent_length(100.0, 10.0, 10.0), tangent_length(50.0, 20.0, -10.0)
    (100.0, 40.0)
    """
    return (distance_mm**2 - (radius_b_mm - radius_a_mm) ** 2) ** 0.5


def _tangent(a: Round, b: Round, refuse: Refuse) -> tuple[Span, Real]:
    """The straight piece from a to b and its direction; refused where the pulleys leave none."""
    dx, dy = b.x_mm - a.x_mm, b.y_mm - a.y_mm
    distance = many.hypot(dx, dy)
    sa, sb = a.side * a.radius_mm, b.side * b.radius_mm
    refuse(
        distance <= abs(sb - sa) + HAIR,
        lambda: _impossible(
            b if b.field else a,
            f"cannot be reached: {a.name} and {b.name} stand too close for a belt between them",
        ),
    )
    heading = many.atan2(dy, dx) - many.asin((sb - sa) / distance)
    nx, ny = -many.sin(heading), many.cos(heading)
    span = Span(
        a.x_mm - sa * nx,
        a.y_mm - sa * ny,
        b.x_mm - sb * nx,
        b.y_mm - sb * ny,
        tangent_length(distance, sa, sb),
    )
    return span, heading


@formula
def belt_path(rounds: tuple[Round, ...], closed: bool = True, refuse: Refuse = at_once) -> Path:
    """Straight pieces, wraps and length of a belt round pulleys in belt order.

    An open path begins and ends on points: pulleys of radius 0. EntryError names the pulley at which a path
    cannot exist: overlapping another, too close to its neighbour, in the way of a straight piece, or with the
    belt inside out. Places and radii may be columns; `refuse` is then told where there is no path.

    Equation: L = Σ l + Σ r·θ; tangents at the angle atan2(Δy, Δx) − asin((s_b·r_b − s_a·r_a)/C)
    Units: mm (places and pitch-line radii), – (side ±1) → mm
    Range: every straight piece exists and stays clear of the other pulleys
    Source: handbook — common tangents of circles, plane geometry

    >>> p = belt_path((Round("a", 0, 0, 10, 1), Round("b", 500, 0, 10, 1)))
    >>> round(p.length_mm, 4), [round(w, 6) for w in p.wraps]
    (1062.8319, [3.141593, 3.141593])
    """
    count = len(rounds)
    pairs = [(i, (i + 1) % count) for i in range(count if closed else count - 1)]
    plain = not any(many.is_column(r.x_mm, r.y_mm, r.radius_mm) for r in rounds)
    listed = [(k, r) for k, r in enumerate(rounds) if many.is_column(r.radius_mm) or r.radius_mm > 0]
    _no_overlap(listed, plain, refuse)
    spans: list[Span] = []
    headings: list[Real] = []
    for i, j in pairs:
        span, heading = _tangent(rounds[i], rounds[j], refuse)
        spans.append(span)
        headings.append(heading)
    wraps = []
    whole = 2 * math.pi - HAIR
    for i, pulley in enumerate(rounds):
        ends = not closed and i in (0, count - 1)
        turn = 0.0 if ends else (pulley.side * (headings[i] - headings[i - 1])) % (2 * math.pi)
        wraps.append(many.pick(turn > whole, 0.0, turn))
        refuse(many.both(turn > FREE, turn <= whole), partial(_impossible, pulley, UNTOUCHED))
    _no_cut(rounds, listed, spans, pairs, plain, refuse)
    if closed:
        turned = many.total([r.side * w for r, w in zip(rounds, wraps, strict=True)])
        refuse(
            abs(abs(turned) - 2 * math.pi) > 1e-6,
            lambda: _impossible(
                rounds[max(range(count), key=lambda i: wraps[i])],
                "has the belt inside out: it would cross itself before it comes round",
            ),
        )
    length = many.total([s.length_mm for s in spans]) + many.total(
        [r.radius_mm * w for r, w in zip(rounds, wraps, strict=True)]
    )
    return Path(rounds, tuple(spans), tuple(wraps), length)


def laid_path(rounds: tuple[Round, ...], closed: bool = True, refuse: Refuse = at_once) -> Path:
    """A belt's path as `belt_path` has it, from what is remembered of one that is known: most changes to a
    design move no pulley.

    Equation: as belt_path
    Units: mm (places and pitch-line radii), – (side ±1) → mm
    Range: as belt_path; columns are not remembered
    Source: handbook — common tangents of circles, plane geometry

    >>> pair = (Round("a", 0, 0, 10, 1), Round("b", 500, 0, 10, 1))
    >>> laid_path(pair) is laid_path(pair), round(laid_path(pair).length_mm, 4)
    (True, 1062.8319)
    """
    if any(many.is_column(r.x_mm, r.y_mm, r.radius_mm) for r in rounds):
        return belt_path(rounds, closed, refuse)
    try:
        return _known_path(rounds, closed)
    except EntryError:
        return belt_path(rounds, closed, refuse)


@lru_cache(maxsize=256)
def _known_path(rounds: tuple[Round, ...], closed: bool) -> Path:
    return belt_path(rounds, closed)


def _impossible(pulley: Round, says: str) -> Problem:
    return problem(
        pulley.field or "end",
        f"{pulley.name.lower()} {says}",
        remedy="Move it, take a smaller one, or lead the belt round its other side.",
    )


# The pulleys of a path with their places in it, without the points that it begins and ends on.
Wheels: TypeAlias = list[tuple[int, Round]]


def _no_overlap(listed: Wheels, plain: bool, refuse: Refuse) -> None:
    """Refuses two pulleys of one belt that stand in each other; a hair of contact is let pass, the tangents
    decide there.
    """
    for place, (i, a) in enumerate(listed):
        for j, b in listed[place + 1 :]:
            need = a.radius_mm + b.radius_mm
            if plain and (abs(b.x_mm - a.x_mm) >= need or abs(b.y_mm - a.y_mm) >= need):
                continue
            apart = many.hypot(b.x_mm - a.x_mm, b.y_mm - a.y_mm)
            later, other = (a, b) if i > j else (b, a)
            refuse(apart < need * (1 - 1e-6), partial(_overlapping, later, other, apart, need))


def _overlapping(later: Round, other: Round, apart: float, need: float) -> Problem:
    return _impossible(
        later,
        f"overlaps with the {other.name.lower()}: {said(apart, 'mm', '.2f')} apart, the belt on both "
        f"needs {said(need, 'mm', '.2f')}",
    )


Box = tuple[float, float, float, float]


def _no_cut(
    rounds: tuple[Round, ...],
    listed: Wheels,
    spans: list[Span],
    pairs: list[tuple[int, int]],
    plain: bool,
    refuse: Refuse,
) -> None:
    """Refuses a straight piece that runs into a pulley, or crosses another straight piece."""
    boxes: list[Box] = []
    if plain:  # of one design: what is far apart is passed over without looking closely
        boxes = [
            (min(s.x0_mm, s.x1_mm), max(s.x0_mm, s.x1_mm), min(s.y0_mm, s.y1_mm), max(s.y0_mm, s.y1_mm))
            for s in spans
        ]
    for place, (i, j) in enumerate(pairs):
        for k, r in listed:
            if k in (i, j) or (plain and _apart(boxes[place], r)):
                continue
            refuse(
                _distance(spans[place], r) < r.radius_mm * (1 - 1e-6),
                partial(_in_the_way, r, rounds[i], rounds[j]),
            )
    for a in range(len(spans)):
        for b in range(a + 1, len(spans)):
            if plain and not _meet(boxes[a], boxes[b]):
                continue
            i, j = pairs[b]
            refuse(
                _cross(spans[a], spans[b]),
                partial(_crossing, rounds[i], rounds[j], rounds[pairs[a][0]], rounds[pairs[a][1]]),
            )


def _apart(box: Box, r: Round) -> Real:
    left, right, low, high = box
    return (
        r.x_mm + r.radius_mm <= left
        or r.x_mm - r.radius_mm >= right
        or r.y_mm + r.radius_mm <= low
        or r.y_mm - r.radius_mm >= high
    )


def _meet(a: Box, b: Box) -> bool:
    return b[0] < a[1] and b[1] > a[0] and b[2] < a[3] and b[3] > a[2]


def _in_the_way(r: Round, a: Round, b: Round) -> Problem:
    return _impossible(r, f"stands in the way of the belt between {a.name.lower()} and {b.name.lower()}")


def _crossing(i: Round, j: Round, a: Round, b: Round) -> Problem:
    return _impossible(
        i if i.field else j,
        f"makes the belt cross itself: the piece to {j.name.lower()} cuts the one from {a.name.lower()} to "
        f"{b.name.lower()}",
    )


def _cross(a: Span, b: Span) -> Real:
    """Whether two straight pieces cut each other within both."""
    ax, ay, bx, by = a.x1_mm - a.x0_mm, a.y1_mm - a.y0_mm, b.x1_mm - b.x0_mm, b.y1_mm - b.y0_mm
    den = ax * by - ay * bx
    level = abs(den) < 1e-12
    safe = many.pick(level, 1.0, den)
    t = ((b.x0_mm - a.x0_mm) * by - (b.y0_mm - a.y0_mm) * bx) / safe
    u = ((b.x0_mm - a.x0_mm) * ay - (b.y0_mm - a.y0_mm) * ax) / safe
    return many.both(~level if many.is_column(level) else not level, _within(t) & _within(u))


def _within(share: Real) -> Real:
    return (share > 1e-9) & (share < 1 - 1e-9)


def _distance(span: Span, pulley: Round) -> Real:
    """From a pulley's axis to a straight piece."""
    dx, dy = span.x1_mm - span.x0_mm, span.y1_mm - span.y0_mm
    along = ((pulley.x_mm - span.x0_mm) * dx + (pulley.y_mm - span.y0_mm) * dy) / many.most(
        dx * dx + dy * dy, 1e-12
    )
    along = many.least(1.0, many.most(0.0, along))
    return many.hypot(span.x0_mm + along * dx - pulley.x_mm, span.y0_mm + along * dy - pulley.y_mm)


def place_for_length(
    path_at: Callable[[float], float], length_mm: float, low_mm: float, high_mm: float
) -> float | None:
    """Where a movable pulley must stand for a belt of a given length; None where no place between the limits
    does.

    Equation: L(s) = L_belt, solved for s between the limits
    Units: mm of belt for mm of travel, mm, mm, mm → mm
    Range: L grows or falls all the way between the limits; places at which the path cannot exist are cut off
    Source: handbook — regula falsi with the weight of a stuck end halved (Illinois)

    >>> round(place_for_length(lambda c: 2 * c + 100, 700.0, 0.0, 1000.0), 6)
    300.0
    """

    def off(place: float) -> float:
        return path_at(place) - length_mm

    ends = []
    for limit, other in ((low_mm, high_mm), (high_mm, low_mm)):
        for step in range(64):
            place = limit + (other - limit) * step / 64
            try:
                ends.append((place, off(place)))
                break
            except EntryError:
                continue
    if len(ends) < 2 or ends[0][1] * ends[1][1] > 0:
        return None
    (a, fa), (b, fb) = ends
    try:
        for _ in range(200):
            c = (a * fb - b * fa) / (fb - fa) if fa != fb else (a + b) / 2
            fc = off(c)
            if abs(fc) < 1e-10 or abs(b - a) < 1e-12:
                return c
            if fc * fb < 0:
                a, fa = b, fb
            else:
                fa /= 2
            b, fb = c, fc
    except EntryError:
        pass
    return None


def _other_hand(name: str) -> str:
    """The name of a part's mirror image: left for right, right for left."""
    return " ".join({"left": "right", "right": "left"}.get(word, word) for word in name.split(" "))


def mirrored(path: Path, about_mm: float) -> Path:
    """The same path seen in a mirror that stands across the travel at half of `about_mm`.

    Equation: x' = a − x, side' = −side
    Units: mm → mm
    Range: any path
    Source: handbook — plane geometry

    >>> mirrored(belt_path((Round("a", 0, 0, 10, 1), Round("b", 500, 0, 10, 1))), 500.0).rounds[1].x_mm
    0.0
    """
    rounds = tuple(
        replace(r, name=_other_hand(r.name), x_mm=about_mm - r.x_mm, side=-r.side) for r in path.rounds
    )
    spans = tuple(
        Span(about_mm - s.x0_mm, s.y0_mm, about_mm - s.x1_mm, s.y1_mm, s.length_mm) for s in path.spans
    )
    return Path(rounds, spans, path.wraps, path.length_mm)


@formula
def closed_belt_centre(length_mm: Real, radius_a_mm: Real, radius_b_mm: Real) -> Real:
    """Centre distance at which a closed belt of a stock length is taut on two pulleys.

    Equation: 2C·cos φ + π(R + r) + 2φ(R − r) = L, sin φ = (R − r)/C, solved for C
    Units: mm, mm, mm → mm
    Range: L above the belt wrapped tight round both; NaN below that
    Source: handbook — open belt drive, exact form, solved by Newton's method (dL/dC = 2·cos φ)

    >>> round(float(closed_belt_centre(200.0, 10.0, 20.0)), 6)
    51.90989
    """
    import numpy as np

    total, gap = np.asarray(length_mm, dtype=float), abs(np.asarray(radius_a_mm, dtype=float) - radius_b_mm)
    wrap = math.pi * (np.asarray(radius_a_mm, dtype=float) + radius_b_mm)
    # The pulleys touch at C = a + b; a shorter belt has no place for them.
    least = np.asarray(radius_a_mm, dtype=float) + radius_b_mm
    c = np.maximum((total - wrap) / 2, least)
    for _ in range(50):
        phi = np.arcsin(np.clip(gap / c, -1, 1))
        error = 2 * c * np.cos(phi) + wrap + 2 * phi * gap - total
        c = np.maximum(c - error / (2 * np.cos(phi)), least * (1 - 1e-9))
        if np.all(abs(error) < 1e-10):
            break
    phi = np.arcsin(gap / c)
    return np.where(abs(2 * c * np.cos(phi) + wrap + 2 * phi * gap - total) < 1e-7, c, np.nan)
