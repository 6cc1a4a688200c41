"""Steps: how many for a millimetre, how fine, how fast, and where they excite the ringing."""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula


@formula
def steps_per_mm(radians_per_mm: Real, steps_per_turn: Real, microsteps: Real) -> Real:
    """Microsteps that the controller sends for one millimetre.

    Equation: s = λ·N·n/2π
    Units: rad/mm, –, – → steps/mm
    Range: λ of the motor's shaft
    Source: handbook — kinematics; 20 teeth of 2 mm, 200 steps at 1/16 give 80 (common practice)

    >>> round(steps_per_mm(2 * math.pi / 40.0, 200, 16), 6)
    80.0
    """
    return radians_per_mm * steps_per_turn * microsteps / (2 * math.pi)


@formula
def calibrated_steps(steps_mm: Real, commanded_mm: Real, measured_mm: Real) -> Real:
    """Steps per millimetre that make the measured move equal the commanded one.

    Equation: s_new = s·commanded/measured
    Units: steps/mm, mm, mm → steps/mm
    Range: measured > 0, always approached from the same side
    Source: common practice — calibration by a long measured move; the rule of three

    >>> calibrated_steps(80.0, 500.0, 502.0)
    79.6812749003984
    """
    return steps_mm * commanded_mm / measured_mm


@formula
def command_step(steps_mm: Real) -> Real:
    """Smallest move that can be commanded.

    Equation: δ = 1/s
    Units: steps/mm → mm
    Range: s > 0
    Source: handbook — kinematics

    >>> command_step(80.0)
    0.0125
    """
    return 1 / steps_mm


@formula
def step_rate(speed_mm_s: Real, steps_mm: Real) -> Real:
    """Steps a second that the controller must send.

    Equation: f = v·s
    Units: mm/s, steps/mm → Hz
    Range: v ≥ 0
    Source: handbook — kinematics

    >>> step_rate(400.0, 80.0)
    32000.0
    """
    return speed_mm_s * steps_mm


@formula
def resonant_speed(frequency_hz: Real, steps_mm: Real, microsteps: Real) -> Real:
    """Carriage speed at which full steps come at the rate of the first mode; a speed to pass through, not to
    stay at.

    Equation: v = f·n/s
    Units: Hz, steps/mm, – → mm/s
    Range: slow moves
    Source: handbook — excitation by full steps, stepper motor texts

    >>> resonant_speed(40.0, 80.0, 16)
    8.0
    """
    return frequency_hz * microsteps / steps_mm
