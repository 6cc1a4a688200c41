"""What turns, as a mass at the moving point; and what an end carries besides the tally."""

from __future__ import annotations

from ..account.context import Context
from ..formulas import dynamics
from ..ledger.quantity import Quantity, Term


def disc(
    ctx: Context,
    name: str,
    labels: tuple[str, str],
    diameter: Term,
    width: Term,
    density: Term,
    lam: Quantity,
    each: str = "mass",
) -> Quantity:
    """A solid disc that turns `lam` for each millimetre, kg; `labels` of its inertia and of its mass."""
    inertia = ctx.calc(
        f"{name}.inertia",
        labels[0],
        dynamics.disc_inertia,
        diameter_mm=diameter,
        width_mm=width,
        density_g_cm3=density,
    )
    return ctx.calc(
        f"{name}.{each}", labels[1], dynamics.mass_of_inertia, inertia_gcm2=inertia, radians_per_mm=lam
    )


def nothing_besides(ctx: Context, lam: Quantity, why: str) -> Quantity:
    """An end that carries nothing besides the tally."""
    return ctx.book.put(
        "loop.carried", "Moves besides the tally", 0.0, "kg", equation="0", source=why, lam=lam
    )
