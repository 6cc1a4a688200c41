"""What a belt is made of: measured on the piece where that was done, else by its catalogue."""

from __future__ import annotations

import math

import numpy as np

from ..account.context import Context
from ..fields.belts import CORD_FACTOR, Belt
from ..fields.profile import Profile
from ..formulas import belt as of_belt
from ..formulas import motion
from ..formulas import tension as of_tension
from ..ledger.formula import Real
from ..ledger.many import is_column, pick, row, spoken
from ..ledger.quantity import Given, Quantity, Term

# Growth of cords with warmth, 10⁻⁶/K (handbook values of glass and steel)
CORD_GROWTH = {"glass": 5.0, "steel": 11.5}


def _own(ctx: Context, key: str, label: str, entry: Given, unit: str, source: str) -> Quantity:
    """What was measured on the piece itself."""
    return ctx.book.put(
        key,
        label,
        entry.value,
        unit,
        equation="as measured",
        source_kind="measured by you",
        source=source,
        measured=entry,
    )


def stiffness(ctx: Context, belt: Belt, profile: Profile, at: str, key: str, label: str) -> Quantity:
    """EA of the cords, N; `at` is the belt's design path."""
    measured = ctx.given(f"{at}.ea_n")
    if measured.value is not None:
        return _own(ctx, key, label, measured, "N", "a hung weight and its stretch")
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
        return _own(ctx, key, label, weighed, "g/m", "a weighed metre")
    return ctx.calc(
        key,
        label,
        of_belt.belt_line_mass,
        mass_g_m_mm=ctx.datum(profile, "mass_g_m_mm", profile.mass_g_m_mm, "g/m"),
        width_mm=ctx.given(f"{at}.width_mm"),
    )


def cord_bears(ctx: Context, belt: Belt, profile: Profile, at: str, key: str, label: str) -> Quantity:
    """Tension that the cords bear, N: as entered, by the catalogue, or by a strain where it has none."""
    own = ctx.given(f"{at}.cord_n")
    if own.value is not None:
        return _own(ctx, key, label, own, "N", "its maker's sheet, as you entered it")
    limit = ctx.given("assumptions.strain_limit")
    known = {"glass": profile.cord_glass_n_per_mm, "steel": profile.cord_steel_n_per_mm}

    def by(cord: str) -> Real:
        stretched = of_belt.cord_capacity(profile.ea_glass_n_per_mm * CORD_FACTOR[cord], limit.n)
        return stretched if known[cord] is None else known[cord]

    rated: Term
    if is_column(belt.cord):
        rated = Given(f"{at}.cord", pick(np.equal(belt.cord, "steel"), by("steel"), by("glass")), "N/mm")
    elif known[belt.cord] is None:
        says = f"{profile.name} with {belt.cord} cord: no rating known, so a strain that cords bear"
        rated = Given("assumptions.strain_limit", by(belt.cord), "N/mm", "estimate", says)
    else:
        rated = ctx.datum(profile, f"cord_{belt.cord}_n_per_mm", by(belt.cord), "N/mm")
    return ctx.calc(
        key, label, of_tension.cord_rating, cord_n_per_mm=rated, width_mm=ctx.given(f"{at}.width_mm")
    )


def rated_pull(ctx: Context, profile: Profile, at: str, key: str, label: str, teeth_meshed: Term) -> Quantity:
    """Pull that so many teeth in mesh carry for a long life, at standstill where speed counts; missing where
    neither the design nor the catalogue has a rating.
    """
    width = ctx.given(f"{at}.width_mm")
    if by_the_tooth(ctx, profile, at):
        return ctx.calc(
            key,
            label,
            of_tension.tooth_pull_capacity,
            tooth_n_per_mm=ctx.datum(profile, "tooth_n_per_mm", profile.tooth_n_per_mm, "N/mm"),
            width_mm=width,
            teeth_meshed=teeth_meshed,
        )
    own, known = ctx.given(f"{at}.working_tension_n"), profile.working_tension_n_per_25_4mm
    if own.value is None and known is not None:
        own = ctx.datum(profile, "working_tension_n_per_25_4mm", known, "N")
    return ctx.calc(
        key,
        label,
        of_belt.effective_pull_capacity,
        working_tension_n=own,
        width_mm=width,
        teeth_meshed=teeth_meshed,
    )


def by_the_tooth(ctx: Context, profile: Profile, at: str) -> bool:
    """Whether the trade rates its teeth one by one; an entered rating of its width goes before that."""
    entered = ctx.given(f"{at}.working_tension_n").value is not None
    return not entered and profile.working_tension_n_per_25_4mm is None and profile.tooth_n_per_mm is not None


def teeth_carry(
    ctx: Context,
    profile: Profile,
    at: str,
    keys: tuple[str, str],
    label: str,
    teeth_meshed: Term,
    lam: Quantity,
) -> Quantity:
    """Pull that so many teeth in mesh carry at top speed, on a pulley that turns `lam` for a millimetre; the
    second of the `keys` is that of the pull at standstill, where speed counts.
    """
    key, still = keys
    if not by_the_tooth(ctx, profile, at):
        return rated_pull(ctx, profile, at, key, label, teeth_meshed)
    pull = rated_pull(ctx, profile, at, still, f"{label} at standstill", teeth_meshed)
    speed = ctx.calc(
        f"{key}.rpm",
        "Speed of the pulley at top speed",
        motion.shaft_speed,
        speed_mm_s=ctx.given("aim.speed_mm_s"),
        radians_per_mm=lam,
    )
    factor = ctx.calc(
        f"{key}.speed_factor", "Part of it left at speed", of_tension.tooth_speed_factor, speed_rpm=speed
    )
    return ctx.book.put(
        key,
        label,
        lambda: pull.n * factor.n,
        "N",
        equation="k_n·F",
        source="pull by the tooth falls with speed",
        pull=pull,
        factor=factor,
    )


def bending(ctx: Context, profile: Profile, at: str, key: str, label: str, mass: Quantity) -> Quantity:
    """Bending stiffness EI of the belt, N·mm²: by how far a free end hangs down, or by the catalogue."""
    droop, width = ctx.given(f"{at}.droop_mm"), ctx.given(f"{at}.width_mm")
    if droop.value is not None:
        weight = ctx.calc(
            f"{key}.weight", "Weight of a metre", of_tension.hanging_weight, line_mass_g_m=mass, slope_rad=0.0
        )
        return ctx.calc(
            key,
            label,
            of_tension.bending_from_droop,
            weight_n_m=weight,
            free_mm=ctx.given(f"{at}.droop_over_mm"),
            droop_mm=droop,
        )
    per_mm = ctx.datum(profile, "bend_n_mm2_per_mm", profile.bend_n_mm2_per_mm, "N·mm²/mm")
    return ctx.book.put(
        key,
        label,
        lambda: per_mm.n * width.n,
        "N·mm²",
        equation="(EI/b)·b",
        source_kind="estimate",
        source="by profile, a third to three times as much",
        per_mm=per_mm,
        width=width,
    )


def cord_growth(belt: Belt, at: str) -> Given:
    """How much its cords grow with warmth, 10⁻⁶/K."""
    grown: Real = row(CORD_GROWTH, belt.cord)
    return Given(f"{at}.cord", math.nan if grown is None else grown, "10⁻⁶/K", "handbook", spoken(belt.cord))
