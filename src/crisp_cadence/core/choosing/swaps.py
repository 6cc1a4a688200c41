"""Every single swap or step from a design as it stands."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import chain as in_turn

from ..design.design import AxisDesign
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from . import swaps_drive, swaps_end
from .swap import MOST_OF_A_KIND, Swap


def swaps(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], belt_mm: float | None
) -> list[Swap]:
    """Every single change from a design; `belt_mm` is the open belt it takes, where it has one."""
    found = in_turn(
        swaps_drive.motors(design, drawer),
        swaps_drive.driver(design, drawer),
        swaps_drive.gearboxes(design, drawer),
        swaps_drive.closed(design, profiles, drawer),
        swaps_end.belts(design, profiles, drawer, belt_mm),
        swaps_end.screws_and_racks(design, drawer),
        swaps_drive.couplers(design, drawer),
        swaps_end.held(design),
        swaps_end.sizes(design),
        swaps_end.layouts(design),
        swaps_end.less(design),
    )
    kinds: dict[str, list[Swap]] = {}
    for swap in found:
        if swap.before != swap.after:
            kinds.setdefault(swap.says, []).append(swap)
    # Of a kind of which the drawer holds very many, the cheapest; the others in the order in which they were
    # found.
    return [
        s
        for kind in kinds.values()
        for s in (kind if len(kind) <= MOST_OF_A_KIND else sorted(kind, key=_dear)[:MOST_OF_A_KIND])
    ]


def _dear(swap: Swap) -> tuple[bool, float]:
    return swap.price is None, swap.price or 0.0
