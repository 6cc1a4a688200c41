"""What the belt must stay clear of."""

from __future__ import annotations

import math
from collections.abc import Iterable

from ..account.context import Context
from ..fields.belts import Near
from ..geometry.path import Path
from ..geometry.route import Laid
from ..ledger.quantity import Given

CLEAR_MM = (
    1.0  # least air between belt and what stands near it: a slack run swings about as much (common practice)
)


def clearances(
    path: Path, things: Iterable[tuple[Near, float]], half_mm: float
) -> list[tuple[float, int, str]]:
    """Air between the belt's straight pieces and things near it: mm, place in the list, and the two pulleys
    that the piece joins.

    `things` come with how far they have moved along x; `half_mm` is what the belt takes up beside its pitch
    line.
    """
    out = []
    for k, (thing, moved) in enumerate(things):
        box = (
            thing.x_mm + moved - thing.width_mm / 2,
            thing.y_mm - thing.height_mm / 2,
            thing.x_mm + moved + thing.width_mm / 2,
            thing.y_mm + thing.height_mm / 2,
        )
        for i, s in enumerate(path.spans):
            a, b = path.rounds[i].name, path.rounds[(i + 1) % len(path.rounds)].name
            out.append((_to_box((s.x0_mm, s.y0_mm), (s.x1_mm, s.y1_mm), box) - half_mm, k, f"{a} to {b}"))
    return out


Point = tuple[float, float]


def _to_box(a: Point, b: Point, box: tuple[float, float, float, float]) -> float:
    """Least distance from a straight piece to an upright rectangle; 0 where it cuts it."""
    corners = [(box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3])]
    if _enters(a, b, box):
        return 0.0
    return min(
        *(_to_piece(c, a, b) for c in corners),
        *(_to_piece(p, corners[i], corners[(i + 1) % 4]) for p in (a, b) for i in range(4)),
    )


def _enters(a: Point, b: Point, box: tuple[float, float, float, float]) -> bool:
    """Whether a straight piece runs through a rectangle: what is left of it after cutting at all four
    sides.
    """
    low, high = 0.0, 1.0
    for k in (0, 1):
        d = b[k] - a[k]
        if abs(d) < 1e-12:
            if not box[k] <= a[k] <= box[k + 2]:
                return False
            continue
        t0, t1 = sorted(((box[k] - a[k]) / d, (box[k + 2] - a[k]) / d))
        low, high = max(low, t0), min(high, t1)
    return low <= high


def _to_piece(p: Point, a: Point, b: Point) -> float:
    dx, dy = b[0] - a[0], b[1] - a[1]
    t = min(1.0, max(0.0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / max(dx * dx + dy * dy, 1e-12)))
    return math.hypot(a[0] + t * dx - p[0], a[1] + t * dy - p[1])


def clear_of(ctx: Context, laid: Laid, things: list[Near]) -> None:
    """Air between both runs and everything that stands near them, at both ends of the travel."""
    if not things:
        return
    travel = ctx.usable
    half = max(laid.profile.thickness_mm - laid.profile.tooth_height_mm, laid.profile.tooth_height_mm)
    found = [
        *clearances(laid.near, [(t, 0.0) for t in things], half),
        *clearances(laid.far, [(t, travel if t.rides else 0.0) for t in things], half),
    ]
    least, k, between = min(found)
    air = ctx.book.put(
        "clearance",
        "Least air beside the belt",
        max(least, 0.0),
        "mm",
        equation="min distance − belt beside its pitch line",
        source="geometry at both ends of the travel",
        x=ctx.given(f"end.near.{k}.x_mm"),
        y=ctx.given(f"end.near.{k}.y_mm"),
    )
    ctx.rung(
        "clearance",
        f"Belt clear of {things[k].label.lower() or 'what stands near'}",
        Given("catalogue.clearance", CLEAR_MM, "mm", "common practice", "a slack run swings about as much"),
        air,
        1.0,
        unit="mm",
        section="running",
        path=f"end.near.{k}.y_mm",
        says=f"It comes nearest to the belt from {between}: move it, or lead the belt round it with "
        f"a roller.",
    )
