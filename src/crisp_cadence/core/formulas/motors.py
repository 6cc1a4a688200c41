"""Motors that are not steppers: torque over speed."""

from __future__ import annotations

from ..ledger.formula import Real, formula
from ..ledger.many import least, most


@formula
def gearmotor_torque(speed_rad_s: Real, no_load_rad_s: Real, stall_torque_nm: Real, duty: Real) -> Real:
    """Torque of a DC gearmotor on its straight line, scaled by the PWM duty.

    Equation: T = T_s·(D − ω/ω_0)
    Units: rad/s, rad/s, N·m, – → N·m
    Range: 0 ≤ D ≤ 1; for long only a third of T_s or less (from memory)
    Source: handbook — permanent magnet DC motor, straight torque-speed line

    >>> round(gearmotor_torque(5.0, 10.0, 2.0, 0.75), 3)
    0.5
    """
    return stall_torque_nm * (duty - speed_rad_s / no_load_rad_s)


@formula
def induction_torque(
    speed_rad_s: Real, synchronous_rad_s: Real, rated_rad_s: Real, rated_torque_nm: Real
) -> Real:
    """Torque that an induction motor gives for long at a speed.

    Equation: T = T_r·min(1, (ω_s − ω)/(ω_s − ω_r))
    Units: rad/s, rad/s, rad/s, N·m → N·m
    Range: on the mains, between standstill and synchronous speed; starting and breakdown torque are above it
    Source: handbook — slip in proportion to torque near rated speed, electric machine texts

    >>> round(float(induction_torque(148.0, 157.08, 146.6, 2.0)), 3)
    1.733
    """
    return rated_torque_nm * least(
        most((synchronous_rad_s - speed_rad_s) / (synchronous_rad_s - rated_rad_s), 0.0), 1.0
    )
