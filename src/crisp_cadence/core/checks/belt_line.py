"""The belt line: how high each wheel stands, and how far two of them are out of line."""

from __future__ import annotations

from ..account.context import Context
from ..fields.belts import Clamp, Idler, Pulley
from ..fields.part import part_at
from ..formulas.running import line_angle
from ..geometry.route import Laid
from ..ledger.formula import Real
from ..ledger.many import least, most, pick, total
from ..ledger.quantity import Given


def height_of(part: object) -> Real | None:
    """Height of a part's belt centre above the datum, mm; None while its seat was not measured."""
    if isinstance(part, Pulley):
        return None if part.seat_mm is None else part.seat_mm + part.overhang_mm
    if isinstance(part, Idler):
        return None if part.seat_mm is None else part.seat_mm + stack_height(part) + part.width_mm / 2
    return part.line_mm if isinstance(part, Clamp) else None


def stack_height(idler: Idler) -> Real:
    """Thickness of everything under an idler, mm."""
    return total([p.thickness_mm * p.quantity for p in idler.stack])


def line_pairs(ctx: Context, laid: Laid) -> list[tuple[str, str, Real, Real]]:
    """Neighbours in belt order whose heights are both known: their parts, the offset between them and the
    shortest span, mm.
    """
    out = []
    count = len(laid.near.rounds)
    for i, span in enumerate(laid.near.spans):
        a, b = laid.near.rounds[i], laid.near.rounds[(i + 1) % count]
        first, second = (height_of(part_at(ctx.design, x.part)) for x in (a, b))
        if a.part != b.part and first is not None and second is not None:
            shortest = least(span.length_mm, laid.far.spans[i].length_mm)
            out.append((a.part, b.part, second - first, shortest))
    return out


def in_line(ctx: Context, laid: Laid, key: str, label: str) -> None:
    """The largest step between neighbours and its angle, with its rung; nothing while heights are not
    known.
    """
    pairs = line_pairs(ctx, laid)
    if not pairs:
        return
    a, b, offset, span = pairs[0]
    for one, other, step, length in pairs[1:]:
        steeper = abs(step) / most(length, 1e-6) > abs(offset) / most(span, 1e-6)
        offset, span = pick(steeper, step, offset), pick(steeper, length, span)
        if ctx.plain and steeper:
            a, b = one, other
    apart = ctx.book.put(
        f"{key}line.offset",
        f"Largest step in the belt line{label}",
        abs(offset),
        "mm",
        equation="|h_b − h_a|",
        source_kind="measured by you",
        source="heights above the datum",
        also={
            x.replace(".", "_"): Given(
                f"{x}.height",
                height_of(part_at(ctx.design, x)),
                "mm",
                "measured by you",
                "seat, stack and half the width",
            )
            for x in (a, b)
        },
    )
    angle = ctx.calc(
        f"{key}line.angle",
        f"Angle of the belt at that step{label}",
        line_angle,
        offset_mm=apart,
        span_mm=most(span, 1e-3),
    )
    at = b if isinstance(part_at(ctx.design, b), Idler) else a
    part = part_at(ctx.design, at)
    field = "seat_mm" if isinstance(part, (Pulley, Idler)) else "line_mm"
    ctx.rung(
        f"{key}line",
        f"Belt runs in line{label}",
        angle,
        ctx.given("assumptions.tilt_limit"),
        1.0,
        unit="°",
        section="running",
        path=f"{at}.{field}",
        lower_is_better=True,
        says="Lift the low part with washers from the drawer; see the belt line in Belt.",
    )
