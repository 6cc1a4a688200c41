"""Gantries driven on one or two sides, and crossed belts: out of square."""

from __future__ import annotations

from ..ledger.formula import Real, formula


@formula
def yaw_angle(force_n: Real, offset_mm: Real, side_stiffness_n_mm: Real, width_mm: Real) -> Real:
    """Yaw of a gantry driven on both sides and pushed off centre.

    Equation: ψ = F·e/(k·W²/2)
    Units: N, mm, N/mm (one side), mm → rad
    Range: small angles; the guides' own stiffness is left out
    Source: handbook — two springs a width apart, statics

    >>> yaw_angle(100.0, 200.0, 80.0, 1000.0)
    0.0005
    """
    return force_n * offset_mm / (side_stiffness_n_mm * width_mm**2 / 2)


@formula
def jam_offset(guide_length_mm: Real, friction: Real) -> Real:
    """How far off a guide its pull may act before the guide jams.

    Equation: e = b/2µ
    Units: mm (length of the guide), – → mm
    Range: plain and wheel guides; µ the sliding friction of the guide
    Source: handbook — drawer effect, statics of a guide with two contact points

    >>> jam_offset(100.0, 0.25)
    200.0
    """
    return guide_length_mm / (2 * friction)


@formula
def racked_skew(
    tension_difference_n: Real,
    width_mm: Real,
    guide_nm_rad: Real,
    ea_n: Real,
    length_a_mm: Real,
    length_b_mm: Real,
) -> Real:
    """Skew of a beam that two crossed belts of unequal tension pull askew.

    Equation: φ = (T_A − T_B)·W/(k_guide + EA·W²·(1/L_A + 1/L_B))
    Units: N, mm, N·m/rad, N, mm, mm → rad
    Range: small angles
    Source: handbook — moment over rotational stiffness, statics

    >>> round(racked_skew(5.0, 400.0, 2000.0, 12000.0, 1500.0, 1500.0), 7)
    0.0004386
    """
    belts = ea_n * width_mm**2 * (1 / length_a_mm + 1 / length_b_mm)
    return tension_difference_n * width_mm / (guide_nm_rad * 1000 + belts)
