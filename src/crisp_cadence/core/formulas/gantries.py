"""Gantries driven on one or two sides, and crossed belts: out of square."""

from __future__ import annotations

from ..ledger.formula import Real, formula
from ..ledger.many import most, pick


@formula
def pull_driven_rail(width_mm: Real, offset_mm: Real, guide_length_mm: Real, friction: Real) -> Real:
    """Pull over load of a gantry that is driven on one side, whose driven rail guides while the far one
    floats.

    Equation: F/R = 1 + 2µ·(B/2 + e)/b
    Units: mm (between the sides), mm (load off the middle, away from the drive), mm, – → –
    Range: it never jams: the pull acts in the guide
    Source: handbook — drawer effect, moments about the guide; friction of both ends of the guide

    >>> round(pull_driven_rail(600.0, 100.0, 100.0, 0.1), 3)
    1.8
    """
    return 1 + 2 * friction * (width_mm / 2 + offset_mm) / guide_length_mm


@formula
def pull_both_rails(width_mm: Real, offset_mm: Real, guide_length_mm: Real, friction: Real) -> Real:
    """Pull over load of a gantry that is driven on one side, whose rails both guide and share the moment.

    Equation: F/R = (1 + 2µ·e/b)/(1 − µ·B/b)
    Units: mm (between the sides), mm (load off the middle, away from the drive), mm, – → –
    Range: µ·B < b; above that it jams, and 1 stands here: no pull moves it
    Source: handbook — drawer effect, moments about the middle

    >>> round(pull_both_rails(600.0, 100.0, 100.0, 0.1), 3)
    3.0
    """
    left = 1 - friction * width_mm / guide_length_mm
    return pick(left > 0, (1 + 2 * friction * offset_mm / guide_length_mm) / most(left, 1e-9), 1.0)


@formula
def pull_far_rail(width_mm: Real, offset_mm: Real, guide_length_mm: Real, friction: Real) -> Real:
    """Pull over load of a gantry that is driven on one side, whose far rail guides.

    Equation: F/R = (1 − 2µ·(B/2 − e)/b)/(1 − 2µ·B/b)
    Units: mm (between the sides), mm (load off the middle, away from the drive), mm, – → –
    Range: 2µ·B < b; above that it jams, and 1 stands here: no pull moves it
    Source: handbook — drawer effect, moments about the far rail

    >>> round(pull_far_rail(300.0, 50.0, 100.0, 0.1), 3)
    2.0
    """
    left = 1 - 2 * friction * width_mm / guide_length_mm
    asked = 1 - 2 * friction * (width_mm / 2 - offset_mm) / guide_length_mm
    return pick(left > 0, asked / most(left, 1e-9), 1.0)


@formula
def jam_width(guide_length_mm: Real, friction: Real, rails: Real) -> Real:
    """How far apart the sides of a gantry that is driven on one side may be before its guides jam.

    Equation: B = b·n/2µ
    Units: mm (length of a guide), –, – (2 where both rails share the moment, 1 where the far one guides) → mm
    Range: a driven rail that guides alone never jams
    Source: handbook — drawer effect: the pull over the load grows without bound there

    >>> jam_width(100.0, 0.25, 2.0), jam_width(100.0, 0.25, 1.0)
    (400.0, 200.0)
    """
    return guide_length_mm * rails / (2 * friction)


@formula
def h_belt_changes(
    along_x: Real, along_y: Real, run_1_mm: Real, run_2_mm: Real, run_3_mm: Real
) -> tuple[Real, Real, Real]:
    """What a force at the head adds to the tension of each run of one belt laid as an H.

    Equation: ΔT_1 − ΔT_3 = F_x, ΔT_1 + ΔT_3 − 2·ΔT_2 = F_y, Σ ΔT·L = 0
    Units: N, N, mm (head to left motor), mm (between the motors), mm (right motor to head) → N, N, N
    Range: all runs taut; whatever the motors' springs
    Source: handbook — statics and one belt of a given length, Hooke's law

    >>> [round(t, 4) for t in h_belt_changes(1.0, 0.0, 300.0, 600.0, 500.0)]
    [0.5714, 0.0714, -0.4286]
    """
    whole = run_1_mm + run_2_mm + run_3_mm
    first = (along_x * (run_2_mm / 2 + run_3_mm) + along_y * run_2_mm / 2) / whole
    third = first - along_x
    return first, (first + third - along_y) / 2, third


@formula
def racked_skew(
    tension_difference_n: Real,
    width_mm: Real,
    guide_nm_rad: Real,
    ea_n: Real,
    length_a_mm: Real,
    length_b_mm: Real,
) -> Real:
    """Skew of a beam that two crossed belts pull askew, which were laid with unequal tension while it was
    held square: as it gives way it evens part of the difference out.

    Equation: φ = (T_A − T_B)·W/(k_guide + EA·W²·(1/L_A + 1/L_B))
    Units: N, mm, N·m/rad, N, mm, mm → rad
    Range: small angles
    Source: handbook — moment over rotational stiffness, statics

    >>> round(racked_skew(5.0, 400.0, 2000.0, 12000.0, 1500.0, 1500.0), 7)
    0.0004386
    """
    belts = ea_n * width_mm**2 * (1 / length_a_mm + 1 / length_b_mm)
    return tension_difference_n * width_mm / (guide_nm_rad * 1000 + belts)


@formula
def skew_as_measured(tension_difference_n: Real, width_mm: Real, guide_nm_rad: Real) -> Real:
    """Skew of a beam whose belts differ by so much where it stands, free in its guides.

    Equation: φ = (T_A − T_B)·W/k_guide
    Units: N, mm, N·m/rad → rad
    Range: small angles; what is left of the difference after the beam has given way, which the guides alone
    bear
    Source: handbook — moment over rotational stiffness, statics

    >>> round(skew_as_measured(5.0, 400.0, 2000.0), 7)
    0.001
    """
    return tension_difference_n * width_mm / (guide_nm_rad * 1000)


@formula
def lead_from_diagonals(across_mm: Real, along_mm: Real, rising_mm: Real, falling_mm: Real) -> Real:
    """How far the second side of a beam is ahead, for each millimetre between the sides, from the diagonals
    of a rectangle that it drew.

    Equation: l/a = (d_1² − d_2²)/(4·a·b)
    Units: mm, mm, mm, mm → –
    Range: small angles; d_1 from the first side's near corner to the second side's far one
    Source: handbook — law of cosines for both triangles of a parallelogram

    >>> round(lead_from_diagonals(400.0, 300.0, 500.6, 500.0), 6)
    0.001251
    """
    return (rising_mm**2 - falling_mm**2) / (4 * across_mm * along_mm)
