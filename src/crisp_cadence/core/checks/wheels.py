"""The wheels that a belt runs on, as the checks read them."""

from __future__ import annotations

from ..account.context import Context
from ..fields.belts import Idler, Pulley
from ..geometry.route import Laid, part_at
from ..ledger.record import record


@record
class Wheel:
    """A pulley or idler under a belt: its name, design path, part, pitch line radius and largest wrap."""

    name: str
    at: str
    part: Pulley | Idler
    radius_mm: float
    wrap_rad: float


def wheels(ctx: Context, laid: Laid) -> list[Wheel]:
    """Every wheel of a belt, once for each part."""
    found: dict[str, Wheel] = {}
    for round_, wrap in zip(laid.near.rounds, laid.near.wraps, strict=True):
        known = found.get(round_.part)
        if round_.radius_mm > 0 and (known is None or wrap > known.wrap_rad):
            part = part_at(ctx.design, round_.part)
            found[round_.part] = Wheel(round_.name, round_.part, part, round_.radius_mm, wrap)
    return list(found.values())
