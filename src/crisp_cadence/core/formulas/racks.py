"""Rack and pinion: teeth and what they do to a shaft."""

from __future__ import annotations

import numpy as np

from ..ledger.formula import Real, formula


@formula
def lewis_force(stress_mpa: Real, face_mm: Real, module_mm: Real, form_factor: Real) -> Real:
    """Tooth force that a pinion's root bears.

    Equation: F = σ·b·m·Y
    Units: MPa, mm, mm, – → N
    Range: Y 0.30 for 17 teeth to 0.39 for 40; slow hand-made drives
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


# Lewis form factor of 20° full-depth teeth by their number: from memory, as in any machine-design text;
# those below 12 teeth, which are undercut, from another table of them.
LEWIS = {
    8: 0.165, 9: 0.183, 10: 0.201, 11: 0.226, 12: 0.245, 13: 0.261, 14: 0.277, 15: 0.290, 16: 0.296,
    17: 0.303, 18: 0.309, 19: 0.314, 20: 0.322, 21: 0.328, 22: 0.331, 24: 0.337, 26: 0.346, 28: 0.353,
    30: 0.359, 34: 0.371, 38: 0.384, 43: 0.397, 50: 0.409, 60: 0.422, 75: 0.435, 100: 0.447, 150: 0.460,
    300: 0.472,
}  # fmt: skip
_TURNS, _FACTORS = [1 / z for z in reversed(LEWIS)], list(reversed(LEWIS.values()))


@formula
def lewis_form_factor(teeth: Real) -> Real:
    """Lewis form factor of a 20° full-depth pinion.

    Equation: Y by table, between its rows even in 1/z
    Units: – → –
    Range: z 8 to 300; below 12 the teeth are undercut, and the values are uncertain by a tenth
    Source: from memory — Lewis table for 20° full-depth teeth, loaded at the tip, any machine-design text

    >>> round(lewis_form_factor(20), 3), round(lewis_form_factor(35), 3)
    (0.322, 0.375)
    """
    found = np.interp(1 / teeth, _TURNS, _FACTORS)
    return found if isinstance(teeth, np.ndarray) else float(found)
