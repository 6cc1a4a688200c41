"""Rack and pinion: teeth and what they do to a shaft."""

from __future__ import annotations

import numpy as np

from ..ledger.formula import Real, formula


@formula
def lewis_force(stress_mpa: Real, face_mm: Real, module_mm: Real, form_factor: Real) -> Real:
    """Tooth force that a pinion's root bears.

    Equation: F = σ·b·m·Y
    Units: MPa, mm, mm, – → N
    Range: Y 0.30 for 16 teeth to 0.40 for 40; slow hand-made drives
    Source: handbook — Lewis formula, any machine-design text

    >>> round(lewis_force(40.0, 10.0, 1.0, 0.32), 1)
    128.0
    """
    return stress_mpa * face_mm * module_mm * form_factor


@formula
def tooth_shaft_load(force_n: Real) -> Real:
    """Load on a pinion's shaft from its tooth force.

    Equation: F_s = F/cos 20°
    Units: N → N
    Range: pressure angle of 20°
    Source: handbook — involute gears, any machine-design text

    >>> round(float(tooth_shaft_load(100.0)), 2)
    106.42
    """
    return force_n / np.cos(np.radians(20.0))


@formula
def lewis_form_factor(teeth: Real) -> Real:
    """Lewis form factor of a 20° full-depth pinion.

    Equation: Y = 0.484 − 2.87/z
    Units: – → –
    Range: z 12 to 100; a fit to the tabled values
    Source: from memory — closed fit to the Lewis table for 20° teeth

    >>> round(lewis_form_factor(20), 3)
    0.34
    """
    return 0.484 - 2.87 / teeth
