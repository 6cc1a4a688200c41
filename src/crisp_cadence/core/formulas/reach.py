"""Whether a key gets at a screw."""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula


@formula
def pulley_rim(teeth: Real, pitch_mm: Real, pitch_line_mm: Real, thickness_mm: Real, flanged: Real) -> Real:
    """Diameter of a toothed pulley over its teeth, or over its flanges.

    Equation: d = z·p/π − 2·u + f·(2·h_s + 1)
    Units: –, mm, mm, mm, – (1 with flanges, 0 without) → mm
    Range: a flange that stands over the teeth by the belt's thickness and half a millimetre; makers differ by
    a millimetre or two
    Source: common practice — teeth by ISO 5294, flanges as they are sold

    >>> round(pulley_rim(20, 2.0, 0.254, 1.38, 1), 1)
    16.0
    """
    return teeth * pitch_mm / math.pi - 2 * pitch_line_mm + flanged * (2 * thickness_mm + 1)


@formula
def tip_diameter(module_mm: Real, teeth: Real) -> Real:
    """Diameter of a spur pinion over its teeth.

    Equation: d_a = m·(z + 2)
    Units: mm, – → mm
    Range: straight teeth that are not shifted
    Source: handbook — full-depth teeth, addendum of one module (ISO 53)

    >>> tip_diameter(1.0, 20)
    22.0
    """
    return module_mm * (teeth + 2)


@formula
def rope_rim(drum_mm: Real, rope_mm: Real) -> Real:
    """Diameter of a drum with one layer of rope on it.

    Equation: d = D + 2·d_r
    Units: mm, mm → mm
    Range: one layer; flanges stand out further
    Source: handbook — geometry

    >>> rope_rim(40.0, 2.0)
    44.0
    """
    return drum_mm + 2 * rope_mm


@formula
def key_room(square_mm: Real, rim_mm: Real, key_mm: Real) -> Real:
    """Room between a straight hex key in a screw of a bolt square and the rim of what sits on the shaft.

    Equation: s = a/√2 − d/2 − k/√3
    Units: mm, mm, mm → mm
    Range: a key along the screw, across its corners; below nothing the rim stands over the screw
    Source: handbook — geometry of a hexagon; sizes of keys by ISO 2936

    >>> round(key_room(31.0, 16.0, 2.5), 2)
    12.48
    """
    return square_mm / math.sqrt(2) - rim_mm / 2 - key_mm / math.sqrt(3)
