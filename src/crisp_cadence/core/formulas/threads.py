"""The screw of a tensioner: the pull on it, what a turn does, how long it must be."""

from __future__ import annotations

from ..ledger.formula import Real, formula
from ..ledger.many import most, sin
from .dynamics import GRAVITY


@formula
def tap_drill(diameter_mm: Real, pitch_mm: Real) -> Real:
    """Drill for a tapped hole.

    Equation: d_drill = d − p
    Units: mm, mm → mm
    Range: 60° threads, three quarters of the full depth of thread; the next size up in hard stock
    Source: common practice — tap drill tables, metric and inch

    >>> round(tap_drill(5.0, 0.8), 2), round(tap_drill(6.35, 1.27), 2)
    (4.2, 5.08)
    """
    return diameter_mm - pitch_mm


@formula
def pull_on_tensioner(tension_n: Real, wrap_rad: Real) -> Real:
    """Pull of a belt at rest on what it is wrapped round.

    Equation: F = 2·T·sin(α/2)
    Units: N, rad → N
    Range: equal tension on both sides; half a turn gives twice the tension
    Source: handbook — vector sum of two equal pulls

    >>> round(pull_on_tensioner(50.0, 3.141592653589793), 6)
    100.0
    """
    return 2 * tension_n * sin(wrap_rad / 2)


@formula
def tension_of_weight(mass_kg: Real, lever: Real, wrap_rad: Real) -> Real:
    """Tension of a belt that something hangs in.

    Equation: T = m·g·i/(2·sin(α/2)), i how far the weight sinks where the pulley moves by 1
    Units: kg, –, rad → N
    Range: it hangs free; the wrap on the pulley that hangs; equal tension on both sides, at rest
    Source: handbook — virtual work

    >>> round(float(tension_of_weight(1.0, 1.0, 3.141592653589793)), 6)
    4.903325
    """
    return mass_kg * GRAVITY * lever / (2 * sin(wrap_rad / 2))


@formula
def screw_force(pull_n: Real, lever: Real, screws: Real) -> Real:
    """Force in each screw of a tensioner.

    Equation: F_s = F·i/n, i how far the pulley moves for a screw travel of 1
    Units: N, –, – → N
    Range: friction of slide or pivot left out; screws that share alike
    Source: handbook — virtual work

    >>> screw_force(100.0, 1.0, 2)
    50.0
    """
    return pull_n * lever / screws


@formula
def tension_per_turn(ea_n: Real, length_mm: Real, pitch_mm: Real, lever: Real, runs_moved: Real) -> Real:
    """Belt tension that one turn of the tensioner's screw adds.

    Equation: ΔT = EA·p·i·k/L, k runs moved: 2·sin(α/2) for a pulley, 1 for a clamp
    Units: N, mm, mm, –, – → N
    Range: belt taut already, mounts that do not give
    Source: handbook — Hooke's law along the belt

    >>> tension_per_turn(12000.0, 2000.0, 0.8, 1.0, 2.0)
    9.6
    """
    return ea_n * pitch_mm * lever * runs_moved / length_mm


@formula
def turning_torque(force_n: Real, screw_mm: Real) -> Real:
    """Torque that turns a tensioner's screw against its force.

    Equation: M = 0.2·F·d
    Units: N, mm → N·m
    Range: dry metric thread with its collar friction
    Source: common practice — nut factor 0.2, any machine-design text

    >>> turning_torque(100.0, 5.0)
    0.1
    """
    return 0.2 * force_n * screw_mm / 1000


@formula
def screw_length(travel_mm: Real, lever: Real, through_mm: Real, screw_mm: Real) -> Real:
    """Length that a tensioner's screw must have.

    Equation: l = travel/i + through + d, one diameter of thread always engaged
    Units: mm, –, mm, mm → mm
    Range: steel screw in a nut or steel; two diameters in aluminium or plastic
    Source: common practice — one diameter of full thread

    >>> screw_length(10.0, 1.0, 8.0, 5.0)
    23.0
    """
    return travel_mm / lever + through_mm + screw_mm


@formula
def thread_travel(length_mm: Real, lever: Real, through_mm: Real, screw_mm: Real) -> Real:
    """Travel that a screw of a given length allows.

    Equation: s = max(0, l − through − d)·i
    Units: mm, –, mm, mm → mm
    Range: one diameter of thread always engaged
    Source: common practice — one diameter of full thread

    >>> thread_travel(25.0, 1.0, 8.0, 5.0)
    12.0
    """
    return most(0.0, length_mm - through_mm - screw_mm) * lever


@formula
def slot_length(travel_mm: Real, screw_mm: Real) -> Real:
    """Length of the slot to mill, end to end.

    Equation: l = s + d + 0.5
    Units: mm, mm → mm
    Range: a clearance of 0.5 mm for the bolt
    Source: common practice — medium clearance hole

    >>> slot_length(10.0, 5.0)
    15.5
    """
    return travel_mm + screw_mm + 0.5
