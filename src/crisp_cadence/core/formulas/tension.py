"""What tension a toothed belt needs and bears, how it is read off a run, and what its ratings leave."""

from __future__ import annotations

import math

from ..ledger.formula import Real, formula
from ..ledger.many import cos, least, log, most, sin, sqrt
from .belt import tension_from_pluck

GRAVITY = 9.80665  # m/s²


@formula
def installation_tension(install_n_per_mm: Real, width_mm: Real) -> Real:
    """Least tension that presses the belt's teeth home all along its pulleys.

    Equation: T_0 = t_0·b
    Units: N per mm width, mm → N
    Range: t_0 about 1.5 at 2 and 3 mm pitch, 4 at 5 mm; not to be scaled from one profile to another
    Source: from memory — least installation tensions of belt makers' tables

    >>> round(installation_tension(1.5, 6.0), 6)
    9.0
    """
    return install_n_per_mm * width_mm


@formula
def hanging_weight(line_mass_g_m: Real, slope_rad: Real) -> Real:
    """Weight of a metre of belt across its run.

    Equation: w = g·µ·cos β
    Units: g/m, rad (0 for a level run) → N/m
    Range: slope from 0 to a right angle
    Source: handbook — weight per length of a cable

    >>> round(float(hanging_weight(8.1, 0.0)), 5)
    0.07943
    """
    return GRAVITY * line_mass_g_m / 1000 * cos(slope_rad)


@formula
def sag_tension(ea_n: Real, weight_n_m: Real, span_mm: Real) -> Real:
    """Tension at which its sag costs a free run a tenth of its stiffness.

    Equation: T³ = ¾·EA·(w·L)², from EA/(1 + EA(wL)²/12T³) = 0.9·EA
    Units: N, N/m, mm → N
    Range: a shallow sag; one straight run without support
    Source: handbook — Ernst's equivalent modulus of a sagging cable

    >>> round(float(sag_tension(12000.0, 0.08, 1000.0)), 3)
    3.862
    """
    return (0.75 * ea_n * (weight_n_m * span_mm / 1000) ** 2) ** (1 / 3)


@formula
def hanging_give(tension_n: Real, weight_n_m: Real, cubes_mm3: Real) -> Real:
    """Give of a run from the sag of its straight pieces, on top of what its cords stretch.

    Equation: c = w²·Σ L³/(12·T³)
    Units: N, N/m, mm³ (sum of the cubes of the straight pieces) → mm/N
    Range: a shallow sag, small changes about the tension; no sag where nothing weighs across the run
    Source: handbook — Ernst's equivalent modulus: L/EA·EA(wL)²/12T³ for each piece

    >>> round(hanging_give(3.862, 0.08, 1000.0**3) * 12000 / 1000, 3)
    0.111
    """
    return (weight_n_m / 1000) ** 2 * cubes_mm3 / (12 * tension_n**3)


@formula
def warmth_tension(ea_n: Real, frame_growth: Real, cord_growth: Real, swing_k: Real) -> Real:
    """Change of a belt's tension where frame and cords grow apart with warmth.

    Equation: ΔT = EA·|α_frame − α_cord|·ΔΘ
    Units: N, 10⁻⁶/K, 10⁻⁶/K, K → N
    Range: both ends or shafts held by the frame; glass 5, steel 11.5, aluminium 23, wood along its grain 5
    Source: handbook — thermal expansion and Hooke's law

    >>> round(warmth_tension(12000.0, 23.0, 5.0, 20.0), 2)
    4.32
    """
    return ea_n * abs(frame_growth - cord_growth) * 1e-6 * swing_k


@formula
def cord_rating(cord_n_per_mm: Real, width_mm: Real) -> Real:
    """Tension that the belt's cords bear for a long life.

    Equation: T_cord = t_c·b
    Units: N per mm width, mm → N
    Range: installation tension and pull together; breaking comes at several times as much
    Source: from memory — allowed tensions of belt makers' tables

    >>> cord_rating(6.0, 9.0)
    54.0
    """
    return cord_n_per_mm * width_mm


@formula
def tension_at_pull(limit_n: Real, peak_force_n: Real, largest_share: Real) -> Real:
    """Tension to set at which the tight run just meets what its cords or its ends bear.

    Equation: T = T_limit − F·share
    Units: N, N, – → N
    Range: both runs taut
    Source: handbook — peak_tension solved for the pretension

    >>> tension_at_pull(80.0, 40.0, 0.9)
    44.0
    """
    return limit_n - peak_force_n * largest_share


@formula
def tension_at_shaft_load(load_n: Real, tight_n: Real, slack_n: Real, wrap_rad: Real) -> Real:
    """Tension to set at which two runs pull on a shaft with a given load.

    Equation: (T + a)² + (T − b)² − 2(T + a)(T − b)·cos α = F_s², the larger root; none: 0
    Units: N, N (a, what the tight run has on top), N (b, what the slack run lacks), rad → N
    Range: wrap α above 0
    Source: handbook — shaft_load solved for the tension

    >>> float(tension_at_shaft_load(100.0, 0.0, 0.0, math.pi)), float(tension_at_shaft_load(100.0, 30.0, 10.0, math.pi))
    (50.0, 40.0)
    """
    c = 1 - cos(wrap_rad)
    half = (tight_n - slack_n) / 2
    rest = (tight_n**2 + slack_n**2 + 2 * tight_n * slack_n * (1 - c) - load_n**2) / (2 * c)
    return most(0.0, sqrt(most(0.0, half**2 - rest)) - half)


@formula
def tooth_pull_capacity(tooth_n_per_mm: Real, width_mm: Real, teeth_meshed: Real) -> Real:
    """Pull that the teeth in mesh carry at standstill, where the trade rates them by the tooth.

    Equation: F = f·b·min(z_m, 12)
    Units: N per tooth and mm width, mm, teeth → N
    Range: beyond twelve teeth no more is counted; the rating counts the mesh, so that no factor for it
    follows
    Source: from memory — belt makers' tables of pull by the tooth

    >>> tooth_pull_capacity(2.4, 10.0, 10), float(tooth_pull_capacity(2.4, 10.0, 20))
    (240.0, 288.0)
    """
    return tooth_n_per_mm * width_mm * least(teeth_meshed, 12.0)


@formula
def tooth_speed_factor(speed_rpm: Real) -> Real:
    """How much of its pull at standstill a tooth carries on a pulley that turns.

    Equation: k_n = max(0.2, 1 − 0.115·ln(1 + n/50))
    Units: rpm → –
    Range: to 10 000 rpm
    Source: from memory — a line through belt makers' tables of pull by the tooth, ±15 %

    >>> round(float(tooth_speed_factor(0.0)), 3), round(float(tooth_speed_factor(1000.0)), 3)
    (1.0, 0.65)
    """
    return most(0.2, 1 - 0.115 * log(1 + abs(speed_rpm) / 50))


@formula
def bending_from_droop(weight_n_m: Real, free_mm: Real, droop_mm: Real) -> Real:
    """Bending stiffness of a belt from how far a level free end hangs down.

    Equation: EI = w·L⁴/8δ
    Units: N/m, mm, mm → N·mm²
    Range: a droop up to about a fifth of the length, the belt's curl turned sideways
    Source: handbook — cantilever under its own weight, any strength-of-materials text

    >>> round(bending_from_droop(0.08, 100.0, 20.0), 2)
    50.0
    """
    return weight_n_m / 1000 * free_mm**4 / (8 * droop_mm)


@formula
def stiff_run(tension_n: Real, bending_n_mm2: Real, span_mm: Real) -> Real:
    """How much a plucked run is string and how little it is a bar.

    Equation: β = L·√(T/EI)
    Units: N, N·mm², mm → –
    Range: above about 40 the pitch is that of a string within a few percent
    Source: handbook — string with bending stiffness, vibration and acoustics texts

    >>> round(float(stiff_run(10.0, 40.0, 300.0)), 6)
    150.0
    """
    return span_mm * sqrt(tension_n / bending_n_mm2)


@formula
def pitch_held(beta: Real) -> Real:
    """How much higher a run sounds whose ends are held as in a vice.

    Equation: f/f_0 = 1 + 2/β + (4 + π²/2)/β²
    Units: – → –
    Range: β above about 10
    Source: handbook — stiff string with clamped ends, acoustics texts

    >>> round(pitch_held(100.0), 5)
    1.02089
    """
    return 1 + 2 / beta + (4 + math.pi**2 / 2) / beta**2


@formula
def pitch_pivoted(beta: Real) -> Real:
    """How much higher a run sounds whose ends may turn.

    Equation: f/f_0 = √(1 + π²/β²)
    Units: – → –
    Range: any
    Source: handbook — stiff string with hinged ends, acoustics texts

    >>> round(float(pitch_pivoted(100.0)), 6)
    1.000493
    """
    return sqrt(1 + math.pi**2 / beta**2)


@formula
def pitch_raised(tension_n: Real, bending_n_mm2: Real, span_mm: Real) -> Real:
    """How much higher than a string a belt's run sounds: it lies on its pulley between held and free to turn.

    Equation: c = (f_held + f_pivoted)/2f_0
    Units: N, N·mm², mm → –
    Range: β above about 40, where both differ by less than 5 %
    Source: handbook — the mean of both bounds of a stiff string

    >>> round(float(pitch_raised(10.0, 40.0, 300.0)), 5)
    1.00697
    """
    beta = stiff_run(tension_n, bending_n_mm2, span_mm)
    return (pitch_held(beta) + pitch_pivoted(beta)) / 2


@formula
def belt_pitch(tension_n: Real, line_mass_g_m: Real, span_mm: Real, raised: Real) -> Real:
    """Pitch of a plucked belt run with its bending stiffness.

    Equation: f = c·(1/2L)·√(T/µ)
    Units: N, g/m, mm, – → Hz
    Range: plucked softly; c from pitch_raised
    Source: handbook — taut string, any vibration text

    >>> round(float(belt_pitch(50.0, 8.1, 300.0, 1.01)), 2)
    132.26
    """
    return raised * sqrt(tension_n / (line_mass_g_m / 1000)) / (2 * span_mm / 1000)


@formula
def tension_from_belt_pitch(
    frequency_hz: Real, line_mass_g_m: Real, span_mm: Real, bending_n_mm2: Real
) -> Real:
    """Tension of a belt's run from its pitch, its bending stiffness taken off.

    Equation: T = 4·µ·L²·(f/c(T))², c = (f_held + f_pivoted)/2f_0, found in turns
    Units: Hz, g/m, mm, N·mm² → N
    Range: as belt_pitch; proportional to µ, so weigh the belt
    Source: handbook — taut string, any vibration text; mean of both bounds of a stiff string

    >>> round(float(tension_from_belt_pitch(132.26, 8.1, 300.0, 0.0)), 3)
    51.009
    """
    string = tension_from_pluck(frequency_hz, line_mass_g_m, span_mm)
    tension = string
    if bending_n_mm2 > 0:
        for _ in range(60):
            tension = string / pitch_raised(tension, bending_n_mm2, span_mm) ** 2
    return tension


@formula
def tension_from_partials(frequency_hz: Real, stiffness: Real, line_mass_g_m: Real, span_mm: Real) -> Real:
    """Tension of a belt's run from its pitch and from how far its partials are spread, f_n ∝ n·√(1 + B·n²).

    Equation: T = 4·µ·L²·(f/c)², c = (f_held + f_pivoted)/2f_0 at β = π/√B
    Units: Hz, –, g/m, mm → N
    Range: B from 0 to 0.006; proportional to µ, so weigh the belt
    Source: handbook — stiff string, acoustics texts; B heard instead of the catalogue's stiffness

    >>> round(float(tension_from_partials(132.26, 0.0, 8.1, 300.0)), 3)
    51.009
    """
    string = tension_from_pluck(frequency_hz, line_mass_g_m, span_mm)
    if stiffness <= 0:
        return string
    beta = math.pi / sqrt(stiffness)
    return string / ((pitch_held(beta) + pitch_pivoted(beta)) / 2) ** 2


@formula
def soft_pluck(tension_n: Real, ea_n: Real, span_mm: Real) -> Real:
    """How far a run may swing before that alone raises the tension read by a fiftieth.

    Equation: a = L·√(0.02·16·T/(3π²·EA)), from ΔT/T = (3π²/16)·(EA/T)·(a/L)²
    Units: N, N, mm → mm
    Range: the run alone takes the stretch
    Source: handbook — hard spring of a string at large amplitude, vibration texts

    >>> round(float(soft_pluck(30.0, 12000.0, 300.0)), 2)
    1.56
    """
    return span_mm * sqrt(0.02 * 16 * tension_n / (3 * math.pi**2 * ea_n))


@formula
def widest_push(tension_n: Real, ea_n: Real, span_mm: Real, free_length_mm: Real) -> Real:
    """How far a run may be pushed aside before its stretch counts for a fifth of its tension.

    Equation: δ = L·√(0.1·(T/EA)·L_free/L)
    Units: N, N, mm, mm → mm
    Range: L_free the belt that shares the stretch: the run alone where both of its ends are held
    Source: handbook — statics of a shallow triangle

    >>> round(float(widest_push(30.0, 12000.0, 300.0, 300.0)), 2)
    4.74
    """
    return span_mm * sqrt(0.1 * tension_n / ea_n * free_length_mm / span_mm)


@formula
def tension_from_scale(force_n: Real, wrap_rad: Real) -> Real:
    """Tension of a belt from a scale that just draws its pulley off its stop.

    Equation: T = F/(2·sin(α/2))
    Units: N, rad → N
    Range: the pulley's bolts loose, the scale in line with where the pulley slides
    Source: handbook — statics of two equal runs on a pulley

    >>> round(float(tension_from_scale(40.0, math.pi)), 6)
    20.0
    """
    return force_n / (2 * sin(wrap_rad / 2))
