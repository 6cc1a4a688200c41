"""What holds a belt and its brackets: clamps, slot bolts, plastics in the warmth."""

from __future__ import annotations

from ..ledger.formula import Real, formula

# Axial preload of a bolt in the slot nut of an aluminium rail at its usual tightening, N: F = M/(0.2·d) with
# 1, 2, 4, 7 and 14 N·m for M3 to M8 and for #6, #8, #10, 1/4 and 5/16 (common practice, from memory).
SLOT_BOLT_N: dict[float, float] = {
    3.0: 1700.0, 4.0: 2500.0, 5.0: 4000.0, 6.0: 5800.0, 8.0: 8750.0,
    3.505: 1430.0, 4.166: 2400.0, 4.826: 4100.0, 6.35: 5500.0, 7.938: 8800.0,
}  # fmt: skip
SLOT_FRICTION = 0.15  # aluminium on aluminium, dry, as bolts count on it (common practice)
# Static hold of a belt end against the running rating of its teeth (common practice, no source; a trial clamp
# says more).
CLAMP_FACTOR: dict[str, float] = {
    "toothed plate": 4.0,
    "doubled back": 3.0,
    "nut in slot": 2.0,
    "zip tie": 1.5,
}


# Where plastics begin to give under load, °C (glass transition or deflection temperature; from memory).
SOFTENS_C: dict[str, float] = {"PLA": 55.0, "PETG": 70.0, "acrylic": 90.0, "plywood": 120.0}
HEAT_ROOM_C = 10.0


# Bending that a bracket bears for good, MPa: metals well below their yield, plastics a third or less of what
# a short trial shows, since they creep and printed layers part (estimates).
BEARS_MPA: dict[str, float] = {
    "steel": 160.0, "aluminium": 90.0, "acrylic": 12.0, "PLA": 15.0, "PETG": 12.0, "plywood": 10.0,
}  # fmt: skip
# Pull that a threaded insert in printed plastic bears for good, N: a third of what tears it out in a short
# trial (from memory, makes and prints differ by half).
INSERT_N: dict[float, float] = {
    2.0: 100.0, 2.5: 150.0, 3.0: 250.0, 4.0: 400.0, 5.0: 550.0, 6.0: 700.0, 8.0: 1000.0,
    2.845: 220.0, 3.505: 320.0, 4.166: 420.0, 4.826: 530.0, 6.35: 750.0, 7.938: 1000.0,
}  # fmt: skip


@formula
def plate_bears(stress_mpa: Real, width_mm: Real, thickness_mm: Real, overhang_mm: Real) -> Real:
    """Pull at its end that a plate or stub bears at its root.

    Equation: F = σ·b·t²/(6·l)
    Units: MPa, mm, mm, mm → N
    Range: clamped at its root, no sharp corner or hole there
    Source: handbook — cantilever with end load, any strength-of-materials text

    >>> plate_bears(90.0, 40.0, 6.0, 30.0)
    720.0
    """
    return stress_mpa * width_mm * thickness_mm**2 / (6 * overhang_mm)


@formula
def tipping_bears(bolts: Real, bolt_n: Real, lever_mm: Real, overhang_mm: Real) -> Real:
    """Pull at its end at which a bracket begins to tip over its edge.

    Equation: F = n·F_b·e/l
    Units: –, N, mm (bolts from the edge), mm → N
    Range: bolts in one row, each as tight as the others
    Source: handbook — eccentric load on a bolted bracket, statics about its edge, any machine-design text

    >>> tipping_bears(2, 4000.0, 15.0, 30.0)
    4000.0
    """
    return bolts * bolt_n * lever_mm / overhang_mm


@formula
def slot_bolt_grip(bolts: Real, preload_n: Real, friction: Real) -> Real:
    """Pull along the slot that bolts hold by friction.

    Equation: F = n·µ·F_p
    Units: –, N, – → N
    Range: clean dry faces, one friction face, bolts tightened as usual
    Source: handbook — bolted friction joint, one face

    >>> slot_bolt_grip(2, 4000.0, 0.15)
    1200.0
    """
    return bolts * friction * preload_n


@formula
def clamp_pull(rated_n: Real, factor: Real) -> Real:
    """Pull that a belt end holds.

    Equation: F = c·F_teeth, F_teeth the running rating of as many teeth
    Units: N, – → N
    Range: c 4 toothed plate, 3 doubled back, 2 nut in slot, 1.5 zip tie
    Source: common practice — no source; teeth held still bear several times their running rating

    >>> clamp_pull(21.0, 4.0)
    84.0
    """
    return rated_n * factor
