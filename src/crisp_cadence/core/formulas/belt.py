"""Toothed belts and their pulleys: geometry, ratings, tension, stretch, and how a taut run sounds and gives.

Millimetres for geometry, newtons for tension, N (not N/mm) for the cord stiffness EA.
"""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula
from ..ledger.many import asin, cos, floor, least, most, pick, sqrt


@formula
def pitch_diameter(teeth: Real, pitch_mm: Real) -> Real:
    """Pitch diameter of a toothed pulley.

    Equation: d = z·p/π
    Units: –, mm → mm
    Range: z ≥ 1, p > 0
    Source: standard — ISO 5296, ISO 13050, ISO 17396: definition of pitch on the pitch line

    >>> round(pitch_diameter(20, 2.0), 4)
    12.7324
    """
    return teeth * pitch_mm / math.pi


@formula
def outside_diameter(teeth: Real, pitch_mm: Real, pitch_line_mm: Real) -> Real:
    """Outside diameter of a toothed pulley.

    Equation: d_o = z·p/π − 2u
    Units: –, mm, mm → mm
    Range: z·p/π > 2u
    Source: standard — ISO 5296: pitch line differential; pulley tables for the other profiles (from memory)

    >>> round(outside_diameter(20, 2.0, 0.254), 2)
    12.22
    """
    return pitch_diameter(teeth, pitch_mm) - 2 * pitch_line_mm


@formula
def smooth_idler_radius_tooth_side(diameter_mm: Real, tooth_height_mm: Real, pitch_line_mm: Real) -> Real:
    """Pitch line radius of a belt whose teeth run over a smooth idler.

    Equation: r = D/2 + h_t + u
    Units: mm, mm, mm → mm
    Range: D > 0
    Source: handbook — belt geometry: the pitch line lies u above the tooth root

    >>> smooth_idler_radius_tooth_side(12.0, 0.75, 0.254)
    7.004
    """
    return diameter_mm / 2 + tooth_height_mm + pitch_line_mm


@formula
def smooth_idler_radius_back(
    diameter_mm: Real, thickness_mm: Real, tooth_height_mm: Real, pitch_line_mm: Real
) -> Real:
    """Pitch line radius of a belt whose back runs over a smooth idler.

    Equation: r = D/2 + H_b − h_t − u
    Units: mm, mm, mm, mm → mm
    Range: D > 0, H_b > h_t + u
    Source: handbook — belt geometry: what is left of the belt's thickness above the pitch line

    >>> round(smooth_idler_radius_back(12.0, 1.45, 0.75, 0.254), 3)
    6.446
    """
    return diameter_mm / 2 + thickness_mm - tooth_height_mm - pitch_line_mm


@formula
def wrap_angle(centre_mm: Real, radius_mm: Real, other_radius_mm: Real) -> Real:
    """Wrap of an open belt on one of two pulleys.

    Equation: α = π + 2·asin((r − r_other)/C)
    Units: mm, mm, mm → rad
    Range: C > |r − r_other|
    Source: handbook — open belt drive, any machine-design text

    >>> round(math.degrees(wrap_angle(100.0, 20.0, 10.0)), 3)
    191.478
    """
    return math.pi + 2 * asin((radius_mm - other_radius_mm) / centre_mm)


@formula
def open_belt_length(centre_mm: Real, radius_a_mm: Real, radius_b_mm: Real) -> Real:
    """Pitch length of an open belt round two pulleys, exact.

    Equation: L = 2C·cos φ + π(R + r) + 2φ(R − r), sin φ = (R − r)/C
    Units: mm, mm, mm → mm
    Range: C > |R − r|
    Source: handbook — open belt drive, exact form; any machine-design text

    >>> round(float(open_belt_length(500.0, 10.0, 10.0)), 4)
    1062.8319
    """
    phi = asin((radius_a_mm - radius_b_mm) / centre_mm)
    return (
        2 * centre_mm * cos(phi)
        + math.pi * (radius_a_mm + radius_b_mm)
        + 2 * phi * (radius_a_mm - radius_b_mm)
    )


@formula
def teeth_in_mesh(teeth: Real, wrap_rad: Real) -> Real:
    """Whole teeth of the belt that sit in the pulley.

    Equation: z_m = ⌊z·α/2π⌋
    Units: –, rad → teeth
    Range: 0 ≤ α ≤ 2π; a hair (1e-9) is added so that half a turn of an even pulley counts in full
    Source: handbook — timing belt selection, teeth in mesh rounded down

    >>> float(teeth_in_mesh(20, math.pi))
    10.0
    """
    return floor(teeth * wrap_rad / (2 * math.pi) + 1e-9)


@formula
def mesh_factor(teeth_meshed: Real) -> Real:
    """Teeth-in-mesh factor on the working tension.

    Equation: k_m = 1 for z_m ≥ 6, else 1 − 0.2·(6 − z_m), at least 0.2
    Units: teeth → –
    Range: z_m ≥ 0
    Source: from memory — timing belt handbooks: 0.8 at 5, 0.6 at 4, 0.4 at 3, 0.2 at 2 and below

    >>> float(mesh_factor(5)), float(mesh_factor(12)), float(mesh_factor(1))
    (0.8, 1.0, 0.2)
    """
    return least(most(0.2, (teeth_meshed - 1) / 5), 1.0)


@formula
def width_factor(width_mm: Real) -> Real:
    """Width factor: a wider belt carries a little more than in proportion.

    Equation: k_b = (b/25.4)^1.14
    Units: mm → –
    Range: 3 to 75 mm
    Source: from memory — timing belt handbooks, width factor referred to one inch

    >>> round(float(width_factor(12.7)), 4)
    0.4538
    """
    return (width_mm / 25.4) ** 1.14


@formula
def effective_pull_capacity(working_tension_n: Real, width_mm: Real, teeth_meshed: Real) -> Real:
    """Largest effective pull that the teeth of the belt carry for a long life.

    Equation: F_max = T_a·(b/25.4)^1.14·k_m
    Units: N per 25.4 mm, mm, teeth → N
    Range: widths 3 to 75 mm
    Source: from memory — timing belt handbooks: working tension, width factor, teeth-in-mesh factor

    >>> round(float(effective_pull_capacity(111.0, 6.0, 10)), 2)
    21.42
    """
    return working_tension_n * width_factor(width_mm) * mesh_factor(teeth_meshed)


@formula
def belt_stiffness_ea(ea_glass_n_per_mm: Real, cord_factor: Real, width_mm: Real) -> Real:
    """Stiffness EA of the belt's cords: force for a strain of one.

    Equation: EA = (EA/b)_glass·c_cord·b
    Units: N per mm width, –, mm → N
    Range: an estimate to ±50 %; a hung weight and a rule give your belt's own value
    Source: estimate — glass cord of 2 mm pitch about 2 kN per mm of width, others in proportion to their
    working tension; steel cord four times

    >>> belt_stiffness_ea(2000.0, 1.0, 6.0)
    12000.0
    """
    return ea_glass_n_per_mm * cord_factor * width_mm


@formula
def belt_line_mass(mass_g_m_mm: Real, width_mm: Real) -> Real:
    """Mass of one metre of belt.

    Equation: μ = (μ/b)·b
    Units: g/m per mm width, mm → g/m
    Range: some rows are uncertain by tens of percent; weigh a metre
    Source: from memory — belt tables, grams per metre and millimetre of width

    >>> round(belt_line_mass(1.35, 6.0), 2)
    8.1
    """
    return mass_g_m_mm * width_mm


@formula
def tension_share(run_mm: Real, other_run_mm: Real) -> Real:
    """Part of the load that one run of a clamped loop takes on top of its pretension.

    Equation: ΔT/F = L_other/(L + L_other)
    Units: mm, mm → –
    Range: both runs taut, L + L_other > 0
    Source: handbook — two springs in parallel, k = EA/L each; statics

    >>> tension_share(250.0, 750.0)
    0.75
    """
    return other_run_mm / (run_mm + other_run_mm)


@formula
def pretension_needed(peak_force_n: Real, largest_share: Real, slack_keep: Real) -> Real:
    """Pretension that keeps both runs taut over the whole travel, in both directions.

    Equation: T_i = F·(max share + s)
    Units: N, –, – → N
    Range: share from tension_share over the travel; s the part of F kept on the slack run against tooth jump
    Source: common practice — slack run kept above 0.1 to 0.2 F (from memory); the share itself is statics

    >>> round(pretension_needed(40.0, 0.9, 0.2), 6)
    44.0
    """
    return peak_force_n * (largest_share + slack_keep)


@formula
def peak_tension(pretension_n: Real, peak_force_n: Real, largest_share: Real) -> Real:
    """Largest tension that the belt's cords see.

    Equation: T_max = T_i + F·max share
    Units: N, N, – → N
    Range: both runs taut
    Source: handbook — statics of two parallel runs

    >>> peak_tension(44.0, 40.0, 0.9)
    80.0
    """
    return pretension_n + peak_force_n * largest_share


@formula
def cord_capacity(ea_n: Real, strain_limit_percent: Real) -> Real:
    """Tension at the strain that the cords bear for a long life.

    Equation: T_cord = EA·ε/100
    Units: N, % → N
    Range: ε 0.2 to 0.4 %
    Source: from memory — cord strain limit of 0.2 to 0.4 % for reinforced belts

    >>> cord_capacity(12000.0, 0.3)
    36.0
    """
    return ea_n * strain_limit_percent / 100


@formula
def shaft_load(tension_a_n: Real, tension_b_n: Real, wrap_rad: Real) -> Real:
    """Load of the belt on a pulley's shaft: vector sum of the two run tensions.

    Equation: F_s = √(T_a² + T_b² − 2·T_a·T_b·cos α)
    Units: N, N, rad → N
    Range: wrap α from 0 to 2π; at rest 2·T_i·sin(α/2)
    Source: handbook — vector sum, any machine-design text

    >>> float(shaft_load(50.0, 50.0, math.pi))
    100.0
    """
    return sqrt(tension_a_n**2 + tension_b_n**2 - 2 * tension_a_n * tension_b_n * cos(wrap_rad))


@formula
def pluck_frequency(tension_n: Real, line_mass_g_m: Real, span_mm: Real) -> Real:
    """Fundamental frequency of a plucked belt run.

    Equation: f = (1/2L)·√(T/μ)
    Units: N, g/m, mm → Hz
    Range: span long against the belt's thickness; bending stiffness neglected
    Source: handbook — taut string, any vibration text

    >>> round(float(pluck_frequency(50.0, 8.1, 300.0)), 2)
    130.95
    """
    return sqrt(tension_n / (line_mass_g_m / 1000)) / (2 * span_mm / 1000)


@formula
def tension_from_pluck(frequency_hz: Real, line_mass_g_m: Real, span_mm: Real) -> Real:
    """Tension of a run from the sound it makes when plucked.

    Equation: T = 4·μ·L²·f²
    Units: Hz, g/m, mm → N
    Range: as pluck_frequency; proportional to μ, so weigh the belt
    Source: handbook — taut string, any vibration text

    >>> round(tension_from_pluck(130.95, 8.1, 300.0), 2)
    50.0
    """
    return 4 * (line_mass_g_m / 1000) * (span_mm / 1000) ** 2 * frequency_hz**2


@formula
def deflection_force(
    tension_n: Real, ea_n: Real, deflection_mm: Real, span_mm: Real, free_length_mm: Real
) -> Real:
    """Force at mid span that pushes a run aside by a given amount.

    Equation: P = 4(T + ΔT)·δ/L, ΔT = 2·EA·(δ/L)²·L/L_free
    Units: N, N, mm, mm, mm → N
    Range: δ up to about L/20; L_free the belt that shares the stretch
    Source: handbook — statics of a string with the stretch of a shallow triangle

    >>> round(deflection_force(50.0, 12000.0, 5.0, 300.0, 900.0), 3)
    3.481
    """
    rise = 2 * ea_n * (deflection_mm / span_mm) ** 2 * span_mm / free_length_mm
    return 4 * (tension_n + rise) * deflection_mm / span_mm


@formula
def tension_from_deflection(
    force_n: Real, ea_n: Real, deflection_mm: Real, span_mm: Real, free_length_mm: Real
) -> Real:
    """Tension of a run from the force that pushes it aside at mid span.

    Equation: T = P·L/4δ − 2·EA·(δ/L)²·L/L_free
    Units: N, N, mm, mm, mm → N
    Range: as deflection_force; a negative result means that the run was slack
    Source: handbook — deflection_force solved for T

    >>> round(tension_from_deflection(3.481481, 12000.0, 5.0, 300.0, 900.0), 3)
    50.0
    """
    rise = 2 * ea_n * (deflection_mm / span_mm) ** 2 * span_mm / free_length_mm
    return force_n * span_mm / (4 * deflection_mm) - rise


@formula
def scale_shift(tension_n: Real, calibrated_at_n: Real, ea_n: Real) -> Real:
    """Relative change of steps per millimetre when a clamped loop is set to another tension than it was
    calibrated at.

    Equation: Δ = −(T_i − T_cal)/EA·100
    Units: N, N, N → %
    Range: clamped loops; zero for closed stages, whose whole teeth set the ratio
    Source: handbook — the pitch grows with strain; Hooke's law

    >>> round(scale_shift(60.0, 24.0, 12000.0), 4)
    -0.3
    """
    return -(tension_n - calibrated_at_n) / ea_n * 100


@formula
def belt_stretch(tension_n: Real, ea_n: Real, length_mm: Real) -> Real:
    """Stretch of a length of belt under tension.

    Equation: ΔL = T·L/EA
    Units: N, N, mm → mm
    Range: within the cord's strain limit
    Source: handbook — Hooke's law

    >>> belt_stretch(60.0, 12000.0, 2000.0)
    10.0
    """
    return tension_n * length_mm / ea_n


@formula
def whole_teeth(length_mm: Real, pitch_mm: Real) -> Real:
    """Largest number of whole pitches that fit in a length.

    Equation: n = ⌊L/p⌋
    Units: mm, mm → teeth
    Range: L ≥ 0, p > 0; a hair (1e-9) is added so that an exact fit counts
    Source: handbook — a clamp with teeth takes whole teeth only

    >>> float(whole_teeth(1001.0, 2.0))
    500.0
    """
    return floor(length_mm / pitch_mm + 1e-9)


@formula
def tensioner_demand(
    slack_mm: Real, stretch_mm: Real, run_in_mm: Real, removal_mm: Real, runs_moved: Real
) -> Real:
    """Travel that the tensioner must have, from belt slipped on to belt tight and run in.

    Equation: s = (slack + stretch + run-in + removal)/runs
    Units: mm, mm, mm, mm, – → mm
    Range: runs = 2 where the tensioner moves a pulley, 1 where it pulls a belt end
    Source: handbook — a pulley moved by s takes 2s of belt out of the loop

    >>> tensioner_demand(2.0, 6.0, 2.0, 4.0, 2)
    7.0
    """
    return (slack_mm + stretch_mm + run_in_mm + removal_mm) / runs_moved


@formula
def tooth_frequency(speed_mm_s: Real, pitch_mm: Real) -> Real:
    """How often a tooth enters the pulley.

    Equation: f_z = v/p
    Units: mm/s, mm → Hz
    Range: v ≥ 0
    Source: handbook — kinematics

    >>> tooth_frequency(400.0, 2.0)
    200.0
    """
    return speed_mm_s / pitch_mm


@formula
def middle_shaft(first_mm: Real, second_mm: Real, apart_mm: Real) -> tuple[Real, Real]:
    """Where a shaft between two belts stands so that both are taut: along the line from the first shaft to
    the last one, and across it.

    Equation: x = (C1² − C2² + D²)/2D, y = √(C1² − x²)
    Units: mm, mm, mm → mm
    Range: |C1 − C2| ≤ D ≤ C1 + C2; not a number where both belts cannot be taut at once
    Source: handbook — intersection of two circles

    >>> [float(v) for v in middle_shaft(50.0, 50.0, 80.0)]
    [40.0, 30.0]
    """
    along = (first_mm**2 - second_mm**2 + apart_mm**2) / (2 * apart_mm)
    square = first_mm**2 - along**2
    return along, sqrt(pick(square >= 0, square, math.nan))


@formula
def tension_of_stretch(ea_n: Real, longer_mm: Real, length_mm: Real) -> Real:
    """Tension of a belt that is stretched over more than its own length; none where it is loose.

    Equation: T = max(EA·ΔL/L, 0)
    Units: N, mm, mm → N
    Range: within the elastic range of the cords; it creeps round its pulleys until it is the same all along
    Source: handbook — Hooke's law

    >>> tension_of_stretch(36000.0, 0.5, 600.0), tension_of_stretch(36000.0, -0.5, 600.0)
    (30.0, 0.0)
    """
    return most(ea_n * longer_mm / length_mm, 0.0)


@formula
def closed_belt_stiffness(ea_n: Real, radius_mm: Real, span_mm: Real) -> Real:
    """Torsional stiffness of a closed belt stage at one of its pulleys, both spans taut.

    Equation: k = 2·EA·r²/l
    Units: N, mm, mm → N·m/rad
    Range: both spans taut; the other pulley held
    Source: handbook — two springs in parallel at the radius r

    >>> closed_belt_stiffness(12000.0, 20.0, 100.0)
    96.0
    """
    return 2 * ea_n * radius_mm**2 / span_mm / 1000
