"""Stepper motors as two-phase machines: torque against speed from what stands on the label.

Hold torque, rated current, ohms and henries of the winding as connected; supply voltage and driver current as
limits that are solved together. Mid-band resonance and the driver's own losses are not in it; the torque
margin stands for them.
"""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula
from ..ledger.many import asin, least, most, pick, sin, sqrt

# How a winding's rated hold torque, current, ohms and henries change with its connection (per-coil data of a
# 6- or 8-wire motor).
WINDINGS: dict[str, tuple[float, float, float, float]] = {
    "as given": (1.0, 1.0, 1.0, 1.0),
    "half": (1.0, 1.0, 1.0, 1.0),
    "series": (math.sqrt(2), 1 / math.sqrt(2), 2.0, 4.0),
    "parallel": (math.sqrt(2), math.sqrt(2), 0.5, 1.0),
}


@formula
def torque_constant(hold_torque_nm: Real, rated_current_a: Real) -> Real:
    """Torque constant of one phase.

    Equation: K_t = T_hold/(√2·I_rated)
    Units: N·m, A → N·m/A
    Range: hold torque with both phases at rated current
    Source: handbook — two-phase hybrid stepper with sine torque, stepper motor texts

    >>> round(torque_constant(0.45, 1.7), 4)
    0.1872
    """
    return hold_torque_nm / (math.sqrt(2) * rated_current_a)


@formula
def current_limit(driver_current: Real, is_peak: Real) -> Real:
    """Peak of the sine current that the driver pushes through a phase.

    Equation: I = I_peak, or √2·I_rms where the driver is set in rms
    Units: A, 1 if set in peak amperes else 0 → A
    Range: I > 0
    Source: handbook — sine currents of two-phase microstepping drivers

    >>> round(current_limit(1.2, 0), 4), current_limit(1.2, 1)
    (1.6971, 1.2)
    """
    return driver_current * (is_peak + (1 - is_peak) * math.sqrt(2))


@formula
def pull_out_torque(
    speed_rad_s: Real,
    torque_constant_nm_a: Real,
    resistance_ohm: Real,
    inductance_mh: Real,
    current_a: Real,
    voltage_v: Real,
    steps_per_turn: Real,
) -> Real:
    """Largest torque of a stepper at a speed, with its voltage and its current limit solved together.

    Equation: T = K_t·i_q; i_q = I at i_d = 0 while (R·I + E)² + (X·I)² ≤ V²; i_q = V/Z − E·R/Z² where that
    current fits;
        between them i_q = (c·R + X·√(Z²I² − c²))/Z², c = (V² − E² − Z²I²)/2E, with E = K_t·ω, X = (N/4)·ω·L,
        Z² = R² + X²
    Units: rad/s, N·m/A, Ω, mH, A (peak), V, full steps per turn → N·m
    Range: speed ≥ 0, R, L, I, V > 0; no mid-band resonance, no driver losses; zero where the supply cannot
    overcome E
    Source: handbook — two-phase synchronous machine in d-q axes, stepper motor texts; checked against a
    search of the d-q plane

    >>> [round(float(pull_out_torque(w, 0.1872, 1.65, 2.8, 2.4042, 24.0, 200)), 4) for w in (0.0, 40.0, 150.0)]
    [0.4501, 0.4501, 0.1937]
    """
    e = torque_constant_nm_a * speed_rad_s
    x = steps_per_turn / 4 * speed_rad_s * inductance_mh / 1000
    z2 = resistance_ohm**2 + x**2
    i, v = current_a, voltage_v
    full = (resistance_ohm * i + e) ** 2 + (x * i) ** 2 <= v**2
    if full is True:  # of one number: what the voltage would allow is not asked
        return torque_constant_nm_a * most(i, 0.0)
    # Voltage optimum, and the current it needs: i_q from the top of the voltage circle, i_d from its centre.
    iq_v = v / sqrt(z2) - e * resistance_ohm / z2
    id_v = -e * x / z2
    fits = iq_v**2 + id_v**2 <= i**2
    if fits is True:
        return torque_constant_nm_a * most(iq_v, 0.0)
    safe_e = pick(e > 0, e, 1.0)
    c = (v**2 - e**2 - z2 * i**2) / (2 * safe_e)
    iq_both = (c * resistance_ohm + x * sqrt(most(z2 * i**2 - c**2, 0.0))) / z2
    iq_standing = least(i, v / resistance_ohm)
    iq = pick(full, i, pick(fits, iq_v, pick(e > 0, iq_both, iq_standing)))
    return torque_constant_nm_a * most(iq, 0.0)


@formula
def bridge_heat(current_a: Real, bridge_ohm: Real) -> Real:
    """Heat of a driver's bridge, both phases alike.

    Equation: P = 2·I_rms²·R_b = I²·R_b
    Units: A (peak), Ω (both switches of a phase) → W
    Range: chopping losses left out, which add a fifth or so at high voltage
    Source: handbook — conduction loss of an H-bridge

    >>> bridge_heat(2.0, 0.5)
    2.0
    """
    return current_a**2 * bridge_ohm


@formula
def power_drawn(torque_nm: Real, speed_rad_s: Real, winding_w: Real, bridge_w: Real, motors: Real) -> Real:
    """Power that an axis draws from its supply while it accelerates at top speed.

    Equation: P = n·(T·ω + P_winding + P_bridge)
    Units: N·m, rad/s, W, W, – → W
    Range: iron losses and the supply's own left out
    Source: handbook — balance of power

    >>> power_drawn(0.2, 100.0, 8.0, 2.0, 1)
    30.0
    """
    return motors * (torque_nm * speed_rad_s + winding_w + bridge_w)


@formula
def energy_fed_back(
    mass_kg: Real, speed_mm_s: Real, acceleration_mm_s2: Real, drag_n: Real, falls_n: Real, winding_w: Real
) -> Real:
    """Energy that a stop from top speed feeds back into the supply.

    Equation: E = max(½·m·v² + (W − F_drag)·v²/2a − P_winding·v/a, 0)
    Units: kg (rotors included), mm/s, mm/s², N, N (weight along the movement), W → J
    Range: stops as sharply as it starts, downhill at worst; the windings' heat is met first
    Source: handbook — balance of energy

    >>> round(energy_fed_back(4.0, 1000.0, 2000.0, 0.0, 0.0, 2.0), 3)
    1.0
    """
    v, a = speed_mm_s / 1000, acceleration_mm_s2 / 1000
    return most(mass_kg * v**2 / 2 + (falls_n - drag_n) * v**2 / (2 * a) - winding_w * v / a, 0.0)


@formula
def voltage_raised(voltage_v: Real, energy_j: Real, capacitance_uf: Real) -> Real:
    """Voltage that energy fed back raises a supply to.

    Equation: U' = √(U² + 2·E/C)
    Units: V, J, µF → V
    Range: a supply that takes nothing back, without a braking resistor
    Source: handbook — energy of a capacitor

    >>> round(voltage_raised(24.0, 1.0, 4700.0), 2)
    31.65
    """
    return sqrt(voltage_v**2 + 2 * energy_j / (capacitance_uf * 1e-6))


@formula
def torque_at_current(hold_torque_nm: Real, current_a: Real, rated_current_a: Real) -> Real:
    """Hold torque at the current that the driver really pushes.

    Equation: T_now = T_hold·I/(√2·I_rated)
    Units: N·m, A (peak), A (rated, both phases on) → N·m
    Range: up to rated current; above it the iron saturates and the motor overheats
    Source: handbook — torque in proportion to current below saturation

    >>> round(torque_at_current(0.45, math.sqrt(2) * 0.85, 1.7), 3)
    0.225
    """
    return hold_torque_nm * current_a / (math.sqrt(2) * rated_current_a)


@formula
def current_that_counts(current_a: Real, rated_current_a: Real) -> Real:
    """Current that still makes torque: what is pushed beyond the rating is taken as heat alone.

    Equation: I' = min(I, √2·I_rated)
    Units: A (peak), A (rated, both phases on) → A
    Range: the iron of a hybrid stepper saturates near its rating; what little torque comes beyond it is not
    counted on
    Source: common practice — torque curves of hybrid steppers flatten at rated current

    >>> round(float(current_that_counts(3.0, 1.7)), 3), float(current_that_counts(2.0, 1.7))
    (2.404, 2.0)
    """
    return least(current_a, math.sqrt(2) * rated_current_a)


@formula
def copper_heat(current_a: Real, resistance_ohm: Real) -> Real:
    """Heat of both windings of a stepper.

    Equation: P = 2·(I/√2)²·R
    Units: A (peak), Ω → W
    Range: both phases, sine or full step with both on; the winding cold (its resistance grows by 0.4 % for a
    kelvin); losses of iron and driver not counted
    Source: handbook — Joule's law

    >>> copper_heat(2.0, 1.5)
    6.0
    """
    return current_a**2 * resistance_ohm


@formula
def field_stiffness(torque_now_nm: Real, steps_per_turn: Real) -> Real:
    """Stiffness of the rotor's magnetic spring at rest.

    Equation: k = (N/4)·T_now
    Units: N·m, full steps per turn → N·m/rad
    Range: small angles against a full step
    Source: handbook — slope of T_now·sin((N/4)·θ) at θ = 0, stepper motor texts

    >>> field_stiffness(0.4, 200)
    20.0
    """
    return steps_per_turn / 4 * torque_now_nm


@formula
def lag_angle(torque_nm: Real, torque_now_nm: Real, steps_per_turn: Real) -> Real:
    """How far the rotor falls behind its field under load.

    Equation: θ = asin(T/T_now)·4/N
    Units: N·m, N·m, full steps per turn → rad
    Range: |T| ≤ T_now; a load of T_now costs one full step, then steps are lost
    Source: handbook — sine torque curve, stepper motor texts

    >>> round(math.degrees(float(lag_angle(0.4, 0.4, 200))), 4)
    1.8
    """
    return asin(torque_nm / torque_now_nm) * 4 / steps_per_turn


@formula
def microstep_torque(torque_now_nm: Real, microsteps: Real) -> Real:
    """Torque that one microstep can carry before the next.

    Equation: T_µ = T_now·sin(90°/n)
    Units: N·m, – → N·m
    Range: n ≥ 1
    Source: handbook — sine torque curve; 9.8 % at 1/16, 0.6 % at 1/256

    >>> round(float(microstep_torque(1.0, 16)), 4)
    0.098
    """
    return torque_now_nm * sin(math.pi / 2 / microsteps)


@formula
def generated_voltage(torque_constant_nm_a: Real, speed_rad_s: Real) -> Real:
    """Voltage that a motor turned by hand feeds into its driver.

    Equation: E = K_t·ω
    Units: N·m/A, rad/s → V
    Range: any speed
    Source: handbook — torque and voltage constants are equal in SI units

    >>> round(generated_voltage(0.187, 50.0), 2)
    9.35
    """
    return torque_constant_nm_a * speed_rad_s


@formula
def radial_limit(limit_n: Real, stated_at_mm: Real, overhang_mm: Real, bearing_depth_mm: Real) -> Real:
    """Radial load that a motor's front bearing takes at another overhang than the stated one.

    Equation: F = F_0·(x_0 + b)/(x + b)
    Units: N, mm, mm, mm → N
    Range: x from the face; b the depth of the front bearing behind the face
    Source: estimate — equal moment about the front bearing; NEMA limits at 20 mm are common practice, from
    memory

    >>> round(radial_limit(28.0, 20.0, 10.0, 10.0), 2)
    42.0
    """
    return limit_n * (stated_at_mm + bearing_depth_mm) / (overhang_mm + bearing_depth_mm)
