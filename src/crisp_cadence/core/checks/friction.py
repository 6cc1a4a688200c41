"""Friction of guides: as entered, else by their kind."""

from __future__ import annotations

from ..account.context import Context
from ..fields.axis import GUIDE_FRICTION
from ..ledger.many import row, spoken
from ..ledger.quantity import Given, Quantity


def of_guide(ctx: Context, path: str) -> Given | Quantity:
    """Friction of the guides under a load across them."""
    own, kind = ctx.given(path), ctx.design.guide.kind
    if own.value is not None:
        return own
    typical = row(GUIDE_FRICTION, kind)
    return ctx.book.put(
        f"{path}_by_kind",
        "Friction counted on, by the kind of guide",
        typical,
        "",
        equation="typical of its kind",
        source_kind="common practice",
        source=f"{spoken(kind)}: wheels and rails roll with 0.01 to 0.03, plain guides slide with 0.1 to 0.3",
        kind=Given("guide.kind", typical, "", "common practice", spoken(kind)),
    )
