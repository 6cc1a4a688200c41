"""Friction of guides: as entered, else by their kind."""

from __future__ import annotations

from ..account.context import Context
from ..fields.axis import GUIDE_FRICTION
from ..ledger.many import row, spoken
from ..ledger.quantity import Given


def of_guide(ctx: Context, path: str) -> Given:
    """Friction of the guides under a load across them."""
    own, kind = ctx.given(path), ctx.design.guide.kind
    if own.value is not None:
        return own
    says = f"{spoken(kind)}: wheels and rails roll with 0.01 to 0.03, plain guides slide with 0.1 to 0.3"
    return Given("guide.kind", row(GUIDE_FRICTION, kind), "", "common practice", says)
