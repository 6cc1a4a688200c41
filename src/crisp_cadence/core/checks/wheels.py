"""The wheels that a belt runs on, as the checks read them."""

from __future__ import annotations

from dataclasses import replace

from ..account.context import Context
from ..fields.belts import Idler, Pulley
from ..fields.part import part_at
from ..geometry.route import Laid
from ..ledger.formula import Real
from ..ledger.many import is_column, most
from ..ledger.record import record


@record
class Wheel:
    """A pulley or idler under a belt: its name, design path, part, pitch line radius, largest wrap, and the
    side on which the belt has it.
    """

    name: str
    at: str
    part: Pulley | Idler
    radius_mm: Real
    wrap_rad: Real
    side: int


def wheels(ctx: Context, laid: Laid) -> list[Wheel]:
    """Every wheel of a belt, once for each part."""
    found: dict[str, Wheel] = {}
    for round_, wrap in zip(laid.near.rounds, laid.near.wraps, strict=True):
        at, known = round_.part, found.get(round_.part)
        if known is not None and is_column(wrap, known.wrap_rad):
            found[at] = replace(known, wrap_rad=most(wrap, known.wrap_rad))
        elif (is_column(round_.radius_mm) or round_.radius_mm > 0) and (
            known is None or wrap > known.wrap_rad
        ):
            part = part_at(ctx.design, at)
            found[at] = Wheel(round_.name, at, part, round_.radius_mm, wrap, round_.side)
    return list(found.values())
