"""A driven wheel on the ground."""

from __future__ import annotations

from ..ledger.formula import Real, formula
from ..ledger.many import cos
from .dynamics import GRAVITY


@formula
def rolling_drag(mass_kg: Real, coefficient: Real, slope_rad: Real) -> Real:
    """Force that keeps a vehicle rolling.

    Equation: F = c_rr·m·g·cos β
    Units: kg, –, rad → N
    Range: c_rr 0.01 on a hard floor to 0.1 on soft ground
    Source: handbook — rolling resistance; values are common practice

    >>> round(float(rolling_drag(10.0, 0.05, 0.0)), 3)
    4.903
    """
    return coefficient * mass_kg * GRAVITY * cos(slope_rad)


@formula
def tyre_grip(mass_kg: Real, driven_share: Real, friction: Real, slope_rad: Real) -> Real:
    """Force that the driven wheels put on the ground before they spin.

    Equation: F = µ·m·g·cos β·s
    Units: kg, – (share of the weight on driven wheels), –, rad → N
    Range: µ 0.3 on wet clay to 0.8 rubber on concrete
    Source: handbook — Coulomb friction; values are common practice

    >>> round(float(tyre_grip(10.0, 0.6, 0.5, 0.0)), 2)
    29.42
    """
    return friction * mass_kg * GRAVITY * cos(slope_rad) * driven_share
