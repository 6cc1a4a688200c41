"""A shaft that is pulled sideways as it turns: does it break?"""

from __future__ import annotations

from ..account.context import Context
from ..account.report import Section
from ..formulas.running import bending_bears
from ..ledger.quantity import Given, Quantity, Term

# A motor's shaft, hardened, with its flat as a notch; a plain steel rod endures less
ENDURES = Given(
    "catalogue.shaft.endures", 180.0, "MPa", "estimate", "hard shaft, bent as it turns, 100 to 250"
)


def reach(ctx: Context, key: str, label: str, overhang: str) -> Quantity:
    """From a shaft's front bearing to where it is pulled, mm; `overhang` is the field of what lies out."""
    out, depth = ctx.given(overhang), ctx.given("assumptions.bearing_depth_mm")
    return ctx.book.put(
        key,
        label,
        lambda: out.n + depth.n,
        "mm",
        equation="l + l_bearing",
        source="geometry",
        overhang=out,
        bearing=depth,
    )


def bears_bending(
    ctx: Context,
    names: tuple[str, str, str],
    load: Quantity,
    diameter: Term,
    reach: Term,
    path: str,
    section: Section,
) -> None:
    """Whether a shaft bears for good what bends it as it turns; `names` are the key of what it bears, the key
    of the rung, and its label.
    """
    key, rung, label = names
    bears = ctx.calc(
        key,
        "Pull that the shaft bears, turning",
        bending_bears,
        stress_mpa=ENDURES,
        diameter_mm=diameter,
        reach_mm=reach,
    )
    ctx.rung(
        rung,
        label,
        load,
        bears,
        ctx.given("assumptions.margin_other"),
        unit="N",
        section=section,
        path=path,
        says="Bring the pull nearer to the bearing, a thicker shaft, or an outboard bearing.",
    )
