"""What the belt must stay clear of."""

from __future__ import annotations

from collections.abc import Iterable

from ..account.context import Context
from ..fields.belts import Near
from ..geometry.path import Path
from ..geometry.route import Laid
from ..ledger.formula import Real
from ..ledger.many import both, hypot, least, most, pick
from ..ledger.quantity import Given

CLEAR_MM = (
    1.0  # least air between belt and what stands near it: a slack run swings about as much (common practice)
)


def clearances(path: Path, things: Iterable[tuple[Near, Real]], half_mm: Real) -> list[tuple[Real, int, str]]:
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


Point = tuple[Real, Real]
Box = tuple[Real, Real, Real, Real]


def _to_box(a: Point, b: Point, box: Box) -> Real:
    """Least distance from a straight piece to an upright rectangle; 0 where it cuts it."""
    corners = [(box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3])]
    beside = least(
        *(_to_piece(c, a, b) for c in corners),
        *(_to_piece(p, corners[i], corners[(i + 1) % 4]) for p in (a, b) for i in range(4)),
    )
    return pick(_enters(a, b, box), 0.0, beside)


def _enters(a: Point, b: Point, box: Box) -> Real:
    """Whether a straight piece runs through a rectangle: what is left of it after cutting at all four
    sides.
    """
    low: Real = 0.0
    high: Real = 1.0
    for k in (0, 1):
        d = b[k] - a[k]
        level = abs(d) < 1e-12
        safe = pick(level, 1.0, d)
        t0, t1 = (box[k] - a[k]) / safe, (box[k + 2] - a[k]) / safe
        # A piece that lies along these two sides is left whole between them, and not at all beyond them.
        between = both(box[k] <= a[k], a[k] <= box[k + 2])
        low = most(low, pick(level, pick(between, 0.0, 2.0), least(t0, t1)))
        high = least(high, pick(level, 1.0, most(t0, t1)))
    return low <= high


def _to_piece(p: Point, a: Point, b: Point) -> Real:
    dx, dy = b[0] - a[0], b[1] - a[1]
    t = least(1.0, most(0.0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / most(dx * dx + dy * dy, 1e-12)))
    return hypot(a[0] + t * dx - p[0], a[1] + t * dy - p[1])


def clear_of(ctx: Context, laid: Laid, things: list[Near]) -> None:
    """Air between both runs and everything that stands near them, at both ends of the travel."""
    if not things:
        return
    travel = ctx.usable
    half = most(laid.profile.thickness_mm - laid.profile.tooth_height_mm, laid.profile.tooth_height_mm)
    found = [
        *clearances(laid.near, [(t, 0.0) for t in things], half),
        *clearances(laid.far, [(t, travel if t.rides else 0.0) for t in things], half),
    ]
    closest, k, between = found[0] if not ctx.plain else min(found)
    air = ctx.book.put(
        "clearance",
        "Least air beside the belt",
        lambda: most(closest, 0.0) if ctx.plain else most(least(*(f[0] for f in found)), 0.0),
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
