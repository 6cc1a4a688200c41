"""A rope on a drum."""

from __future__ import annotations

import math

import numpy as np

from ..ledger.formula import Real, formula


@formula
def layer_radius(core_mm: Real, rope_mm: Real, layer: Real) -> Real:
    """Radius at which a rope pulls in a layer of a drum.

    Equation: r = (D + d)/2 + (n − 1)·d·√3/2
    Units: mm (drum diameter), mm (rope diameter), – (layer, from 1) → mm
    Range: layers lie in the valleys of those below
    Source: handbook — multilayer drum, geometry of nested circles

    >>> round(layer_radius(40.0, 3.0, 2), 3)
    24.098
    """
    return (core_mm + rope_mm) / 2 + (layer - 1) * rope_mm * math.sqrt(3) / 2


@formula
def rope_pressure(force_n: Real, core_mm: Real, rope_mm: Real) -> Real:
    """Pressure of a rope on its drum.

    Equation: p = 2·F/(D·d)
    Units: N, mm (drum), mm (rope) → MPa
    Range: one layer; the rope as wide as its diameter
    Source: handbook — rope drums, any machine-design text on hoists

    >>> rope_pressure(60.0, 40.0, 3.0)
    1.0
    """
    return 2 * force_n / (core_mm * rope_mm)


@formula
def capstan_ratio(friction: Real, wrap_rad: Real) -> Real:
    """Largest ratio of tensions that a rope holds round a drum.

    Equation: T1/T2 = e^(µθ)
    Units: –, rad → –
    Range: rope about to slip
    Source: handbook — Euler–Eytelwein, any machine-design text

    >>> round(float(capstan_ratio(0.2, 2 * math.pi)), 4)
    3.5136
    """
    return np.exp(friction * wrap_rad)
