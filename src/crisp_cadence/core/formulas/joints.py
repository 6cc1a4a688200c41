"""An arm that turns about one end."""

from __future__ import annotations

from ..ledger.formula import Real, formula
from .dynamics import GRAVITY


@formula
def arm_weight(payload_kg: Real, arm_kg: Real, centre_share: Real, level_share: Real) -> Real:
    """Weight that an arm feels at its tip, at the worst place of its range.

    Equation: F = g·(m + m_arm·c)·max|cos θ|
    Units: kg, kg, – (centre of mass over length), – → N
    Range: θ from the horizontal; max|cos θ| is 1 only if the range holds the level
    Source: handbook — statics of a lever

    >>> round(arm_weight(0.5, 0.4, 0.5, 1.0), 4)
    6.8647
    """
    return GRAVITY * (payload_kg + arm_kg * centre_share) * level_share


@formula
def arm_droop(
    payload_kg: Real, arm_kg: Real, youngs_gpa: Real, second_moment_mm4: Real, length_mm: Real
) -> Real:
    """How far the tip of a level arm hangs down under its payload and its own weight.

    Equation: δ = g·(m·L³/3EI + m_arm·L³/8EI)
    Units: kg, kg, GPa, mm⁴ (across its height), mm → mm
    Range: slender arm of one section, clamped at the joint
    Source: handbook — cantilever with end load and with its own weight, any strength-of-materials text

    >>> round(arm_droop(0.5, 0.4, 69.0, 10_000.0, 300.0), 4)
    0.0831
    """
    bends = youngs_gpa * 1000 * second_moment_mm4
    return GRAVITY * length_mm**3 * (payload_kg / 3 + arm_kg / 8) / bends


@formula
def arm_inertia_mass(arm_kg: Real, centre_share: Real) -> Real:
    """An arm as a mass at its tip.

    Equation: m = m_arm·(c² + (1 − |2c − 1|)²/12)
    Units: kg, – → kg
    Range: uniform arm (c = ½) m/3; c towards 0 or 1 a lump at root or tip
    Source: handbook — moment of inertia of a rod; exact at c = ½ and for lumps, an estimate between

    >>> round(arm_inertia_mass(0.6, 0.5), 4)
    0.2
    """
    return arm_kg * (centre_share**2 + (1 - abs(2 * centre_share - 1)) ** 2 / 12)


@formula
def arm_stiffness(youngs_gpa: Real, second_moment_mm4: Real, length_mm: Real) -> Real:
    """Stiffness of an arm at its tip.

    Equation: k = 3·E·I/L³
    Units: GPa, mm⁴, mm → N/mm
    Range: slender arm, clamped at the joint
    Source: handbook — cantilever with end load, any strength-of-materials text

    >>> arm_stiffness(69.0, 10_000.0, 300.0)
    76.66666666666667
    """
    return 3 * youngs_gpa * 1000 * second_moment_mm4 / length_mm**3
