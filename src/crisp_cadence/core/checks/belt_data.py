"""What a belt is made of: measured on the piece where that was done, else by its catalogue."""

from __future__ import annotations

from ..account.context import Context
from ..fields.belts import CORD_FACTOR, Belt
from ..fields.profile import Profile
from ..formulas import belt as of_belt
from ..ledger.many import row, spoken
from ..ledger.quantity import Given, Quantity


def stiffness(ctx: Context, belt: Belt, profile: Profile, at: str, key: str, label: str) -> Quantity:
    """EA of the cords, N; `at` is the belt's design path."""
    measured = ctx.given(f"{at}.ea_n")
    if measured.value is not None:
        return ctx.book.put(
            key,
            label,
            measured.value,
            "N",
            equation="as measured",
            source_kind="measured by you",
            source="a hung weight and its stretch",
            measured=measured,
        )
    return ctx.calc(
        key,
        label,
        of_belt.belt_stiffness_ea,
        ea_glass_n_per_mm=ctx.datum(profile, "ea_glass_n_per_mm", profile.ea_glass_n_per_mm, "N/mm"),
        cord_factor=Given(
            f"{at}.cord", row(CORD_FACTOR, belt.cord), "", "estimate", f"{spoken(belt.cord)} cord"
        ),
        width_mm=ctx.given(f"{at}.width_mm"),
    )


def line_mass(ctx: Context, profile: Profile, at: str, key: str, label: str) -> Quantity:
    """Mass of a metre, g/m."""
    weighed = ctx.given(f"{at}.line_mass_g_m")
    if weighed.value is not None:
        return ctx.book.put(
            key,
            label,
            weighed.value,
            "g/m",
            equation="as weighed",
            source_kind="measured by you",
            source="a weighed metre",
            weighed=weighed,
        )
    return ctx.calc(
        key,
        label,
        of_belt.belt_line_mass,
        mass_g_m_mm=ctx.datum(profile, "mass_g_m_mm", profile.mass_g_m_mm, "g/m"),
        width_mm=ctx.given(f"{at}.width_mm"),
    )


def working_tension(ctx: Context, profile: Profile, at: str) -> Given:
    """What its maker rates it for; missing where neither the design nor the catalogue has it."""
    own, known = ctx.given(f"{at}.working_tension_n"), profile.working_tension_n_per_25_4mm
    if own.value is not None or known is None:
        return own
    return ctx.datum(profile, "working_tension_n_per_25_4mm", known, "N")
