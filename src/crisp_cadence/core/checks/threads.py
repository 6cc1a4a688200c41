"""Threads: the pitch of a size; of screw and worm what friction leaves, driven forwards and backwards."""

from __future__ import annotations

from ..account.context import Context
from ..fields.screws import COARSE, of_size
from ..formulas import screws
from ..ledger.quantity import Given, Quantity, Term


def coarse_pitch(size: float) -> Given:
    """Coarse pitch of a thread by its size, metric or inch, mm."""
    found = of_size(COARSE, size)
    if found is None:
        return Given("catalogue.coarse_pitch", None, "mm", "standard", f"no coarse thread of {size:g} mm")
    says = f"{found.standard} pitch of {found.name}"
    return Given("catalogue.coarse_pitch", found.pitch_mm, "mm", "standard", says)


def efficiencies(
    ctx: Context,
    name: str,
    words: tuple[str, str, str],
    lead: Term,
    mean: Term,
    friction: Term,
    flank_deg: float,
) -> tuple[Quantity, Quantity]:
    """Efficiency forwards and backwards; `words`: labels of lead and friction angle, and what it is."""
    alpha = ctx.calc(f"{name}.lead_angle", words[0], screws.lead_angle, lead_mm=lead, mean_diameter_mm=mean)
    rho = ctx.calc(
        f"{name}.friction_angle",
        words[1],
        screws.thread_friction_angle,
        friction=friction,
        flank_deg=flank_deg,
    )
    forward = ctx.calc(
        f"{name}.efficiency",
        f"Efficiency of the {words[2]}",
        screws.screw_efficiency,
        lead_angle_rad=alpha,
        friction_angle_rad=rho,
    )
    back = ctx.calc(
        f"{name}.efficiency_back",
        f"Efficiency of the {words[2]} driven backwards",
        screws.screw_back_efficiency,
        lead_angle_rad=alpha,
        friction_angle_rad=rho,
    )
    return forward, back
