"""Screws, worms, racks, drums, wheels, arms, and motors that are not steppers: the formulas of ends and
stages other than belts.
"""

from __future__ import annotations

import math

import numpy as np

from .axis import GRAVITY
from .formula import Real, formula

# Eigenvalue βL of a shaft's first bending mode and Euler's end factor n, by how it is held: near end, far
# end.
FIXINGS: dict[str, tuple[float, float]] = {
    "fixed, free": (1.8751041, 0.25),
    "supported, supported": (math.pi, 1.0),
    "fixed, supported": (3.9266023, 2.0457),
    "fixed, fixed": (4.7300407, 4.0),
}


@formula
def lead_angle(lead_mm: Real, mean_diameter_mm: Real) -> Real:
    """Lead angle of a screw thread or of a worm.

    Equation: α = atan(ℓ/π·d_m)
    Units: mm, mm → rad
    Range: ℓ > 0
    Source: handbook — power screws, any machine-design text

    >>> round(math.degrees(float(lead_angle(8.0, 30.0))), 3)
    4.852
    """
    return np.arctan(lead_mm / (math.pi * mean_diameter_mm))


@formula
def thread_friction_angle(friction: Real, flank_deg: Real) -> Real:
    """Friction angle in a thread whose flanks lean.

    Equation: ρ = atan(µ/cos β)
    Units: –, ° (half of the thread angle) → rad
    Range: β 15° for trapezoidal, 14.5° for inch trapezoidal threads, 0 for square ones and balls
    Source: handbook — power screws, any machine-design text

    >>> round(math.degrees(float(thread_friction_angle(0.15, 15.0))), 3)
    8.827
    """
    return np.arctan(friction / np.cos(np.radians(flank_deg)))


@formula
def screw_efficiency(lead_angle_rad: Real, friction_angle_rad: Real) -> Real:
    """Efficiency of a screw or worm that drives its load.

    Equation: η = tan α/tan(α + ρ)
    Units: rad, rad → –
    Range: α + ρ < 90°
    Source: handbook — power screws, any machine-design text

    >>> round(float(screw_efficiency(0.0847, 0.1541)), 4)
    0.3488
    """
    return np.tan(lead_angle_rad) / np.tan(lead_angle_rad + friction_angle_rad)


@formula
def screw_back_efficiency(lead_angle_rad: Real, friction_angle_rad: Real) -> Real:
    """Efficiency of a screw or worm that its load drives; at 0 and below it holds by itself.

    Equation: η' = tan(α − ρ)/tan α
    Units: rad, rad → –
    Range: α > 0; shaking can start a screw that holds on paper
    Source: handbook — power screws, self-locking, any machine-design text

    >>> float(screw_back_efficiency(0.0847, 0.1541)) < 0
    True
    """
    return np.tan(lead_angle_rad - friction_angle_rad) / np.tan(lead_angle_rad)


@formula
def screw_torque(force_n: Real, lead_mm: Real, efficiency: Real) -> Real:
    """Torque that turns a screw against a force.

    Equation: T = F·ℓ/2π·η
    Units: N, mm, – → N·m
    Range: F ≥ 0
    Source: handbook — power screws, any machine-design text

    >>> round(screw_torque(1000.0, 5.0, 0.4), 4)
    1.9894
    """
    return force_n * lead_mm / (2 * math.pi * efficiency) / 1000


@formula
def whirl_speed(
    root_mm: Real, length_mm: Real, eigenvalue: Real, youngs_gpa: Real, density_g_cm3: Real
) -> Real:
    """Speed at which a turning screw begins to whip.

    Equation: n = 60/2π·(βL)²/L²·√(E·I/ρ·A), I/A = d²/16
    Units: mm, mm, –, GPa, g/cm³ → rpm
    Range: slender round shaft; run below 80 % of it
    Source: handbook — Euler–Bernoulli beam, first mode; any vibration text

    >>> round(whirl_speed(10.0, 500.0, math.pi, 205.0, 7.85))
    4816
    """
    radius_of_gyration = root_mm / 4 / 1000
    wave = np.sqrt(youngs_gpa * 1e9 / (density_g_cm3 * 1000)) * radius_of_gyration
    return eigenvalue**2 / (length_mm / 1000) ** 2 * wave * 30 / math.pi


@formula
def euler_load(root_mm: Real, length_mm: Real, end_factor: Real, youngs_gpa: Real) -> Real:
    """Force that buckles a screw in compression.

    Equation: F = n·π²·E·I/L², I = π·d⁴/64
    Units: mm, mm, –, GPa → N
    Range: slender; n 0.25, 1, 2.05 or 4 by the end fixings
    Source: handbook — Euler column, any strength-of-materials text

    >>> round(euler_load(10.0, 500.0, 1.0, 205.0))
    3973
    """
    return end_factor * math.pi**2 * youngs_gpa * 1000 * math.pi * root_mm**4 / 64 / length_mm**2


@formula
def bar_stiffness(youngs_gpa: Real, area_mm2: Real, length_mm: Real) -> Real:
    """Stiffness along a bar, a screw or a rope.

    Equation: k = E·A/L
    Units: GPa, mm², mm → N/mm
    Range: L > 0
    Source: handbook — Hooke's law

    >>> bar_stiffness(205.0, 78.5, 500.0)
    32185.0
    """
    return youngs_gpa * 1000 * area_mm2 / length_mm


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
    return coefficient * mass_kg * GRAVITY * np.cos(slope_rad)


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
    return friction * mass_kg * GRAVITY * np.cos(slope_rad) * driven_share


@formula
def arm_weight(payload_kg: Real, arm_kg: Real, centre_share: Real, level_share: Real) -> Real:
    """Weight that an arm feels at its tip, at the worst place of its range.

    Equation: F = g·(m + m_arm·c)·max|cos θ|
    Units: kg, kg, – (centre of mass over length), – → N
    Range: θ from the horizontal; max|cos θ| is 1 only if the range holds the level
    Source: handbook — statics of a lever

    >>> round(arm_weight(0.5, 0.4, 0.5, 1.0), 4)
    6.8647
    """
    return GRAVITY * (payload_kg + arm_kg * centre_share) * level_share


@formula
def arm_inertia_mass(arm_kg: Real, centre_share: Real) -> Real:
    """An arm as a mass at its tip.

    Equation: m = m_arm·(c² + (1 − |2c − 1|)²/12)
    Units: kg, – → kg
    Range: uniform arm (c = ½) m/3; c towards 0 or 1 a lump at root or tip
    Source: handbook — moment of inertia of a rod; exact at c = ½ and for lumps, an estimate between

    >>> round(arm_inertia_mass(0.6, 0.5), 4)
    0.2
    """
    return arm_kg * (centre_share**2 + (1 - abs(2 * centre_share - 1)) ** 2 / 12)


@formula
def arm_stiffness(youngs_gpa: Real, second_moment_mm4: Real, length_mm: Real) -> Real:
    """Stiffness of an arm at its tip.

    Equation: k = 3·E·I/L³
    Units: GPa, mm⁴, mm → N/mm
    Range: slender arm, clamped at the joint
    Source: handbook — cantilever with end load, any strength-of-materials text

    >>> arm_stiffness(69.0, 10_000.0, 300.0)
    76.66666666666667
    """
    return 3 * youngs_gpa * 1000 * second_moment_mm4 / length_mm**3


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
    return rated_torque_nm * np.clip(
        (synchronous_rad_s - speed_rad_s) / (synchronous_rad_s - rated_rad_s), 0.0, 1.0
    )


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


@formula
def yaw_angle(force_n: Real, offset_mm: Real, side_stiffness_n_mm: Real, width_mm: Real) -> Real:
    """Yaw of a gantry driven on both sides and pushed off centre.

    Equation: ψ = F·e/(k·W²/2)
    Units: N, mm, N/mm (one side), mm → rad
    Range: small angles; the guides' own stiffness is left out
    Source: handbook — two springs a width apart, statics

    >>> yaw_angle(100.0, 200.0, 80.0, 1000.0)
    0.0005
    """
    return force_n * offset_mm / (side_stiffness_n_mm * width_mm**2 / 2)


@formula
def jam_offset(guide_length_mm: Real, friction: Real) -> Real:
    """How far off a guide its pull may act before the guide jams.

    Equation: e = b/2µ
    Units: mm (length of the guide), – → mm
    Range: plain and wheel guides; µ the sliding friction of the guide
    Source: handbook — drawer effect, statics of a guide with two contact points

    >>> jam_offset(100.0, 0.25)
    200.0
    """
    return guide_length_mm / (2 * friction)


@formula
def rail_sag(force_n: Real, span_mm: Real, youngs_gpa: Real, second_moment_mm4: Real) -> Real:
    """Sag of a rail between two supports under the carriage at mid span.

    Equation: δ = F·L³/48EI
    Units: N, mm, GPa, mm⁴ → mm
    Range: simply supported; fixed ends give a quarter of it
    Source: handbook — beam with a load at mid span, any strength-of-materials text

    >>> round(rail_sag(20.0, 1000.0, 69.0, 7000.0), 3)
    0.863
    """
    return force_n * span_mm**3 / (48 * youngs_gpa * 1000 * second_moment_mm4)


@formula
def rail_frequency(sag_mm: Real) -> Real:
    """Frequency at which a carriage bounces on a rail that sags under it.

    Equation: f = (1/2π)·√(g/δ)
    Units: mm → Hz
    Range: the rail's own mass small against the carriage's
    Source: handbook — one mass on a spring, static deflection form, any vibration text

    >>> round(float(rail_frequency(0.863)), 2)
    16.97
    """
    return np.sqrt(GRAVITY / (sag_mm / 1000)) / (2 * math.pi)


@formula
def wheel_load(mass_kg: Real, moment_nmm: Real, wheels: Real, base_mm: Real, preload_n: Real) -> Real:
    """Largest load on one wheel of a carriage.

    Equation: F = m·g/n + M/(b·n/2) + F_0
    Units: kg, N·mm (of mass and belt about the rail), –, mm (between the wheel pairs), N → N
    Range: wheels in two rows; M the moment that tries to turn the carriage in the plane of the wheels
    Source: handbook — statics of a carriage on four wheels

    >>> round(wheel_load(2.0, 1000.0, 4, 60.0, 5.0), 2)
    18.24
    """
    return mass_kg * GRAVITY / wheels + moment_nmm / (base_mm * wheels / 2) + preload_n


@formula
def tipping_ratio(stand_kg: Real, half_foot_mm: Real, load_kg: Real, beyond_mm: Real) -> Real:
    """What keeps a stand upright over what tips it, with the carriage at the end of its travel.

    Equation: n = m_stand·a/(m·x)
    Units: kg, mm (half of the foot), kg, mm (load beyond the foot's edge) → –
    Range: x > 0; below 1 it falls
    Source: handbook — moments about the foot's edge, statics

    >>> tipping_ratio(10.0, 150.0, 2.0, 300.0)
    2.5
    """
    return stand_kg * half_foot_mm / (load_kg * beyond_mm)


@formula
def racked_skew(
    tension_difference_n: Real,
    width_mm: Real,
    guide_nm_rad: Real,
    ea_n: Real,
    length_a_mm: Real,
    length_b_mm: Real,
) -> Real:
    """Skew of a beam that two crossed belts of unequal tension pull askew.

    Equation: φ = (T_A − T_B)·W/(k_guide + EA·W²·(1/L_A + 1/L_B))
    Units: N, mm, N·m/rad, N, mm, mm → rad
    Range: small angles
    Source: handbook — moment over rotational stiffness, statics

    >>> round(racked_skew(5.0, 400.0, 2000.0, 12000.0, 1500.0, 1500.0), 7)
    0.0004386
    """
    belts = ea_n * width_mm**2 * (1 / length_a_mm + 1 / length_b_mm)
    return tension_difference_n * width_mm / (guide_nm_rad * 1000 + belts)
