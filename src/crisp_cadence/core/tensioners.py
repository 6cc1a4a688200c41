"""What takes up the slack: its travel budget, the pull on it, the force in its screw, and what a turn of that
screw does.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from . import belt
from .context import Context
from .formula import Given, Quantity, Real, formula

if TYPE_CHECKING:
    from .ends.belt_end import BeltEnd

# Coarse pitch of metric threads, mm (ISO 261).
COARSE_PITCH_MM: dict[float, float] = {
    2.0: 0.4,
    2.5: 0.45,
    3.0: 0.5,
    4.0: 0.7,
    5.0: 0.8,
    6.0: 1.0,
    8.0: 1.25,
    10.0: 1.5,
    12.0: 1.75,
    16.0: 2.0,
}

# What each kind moves, how it is set, and how it is locked afterwards.
KINDS: dict[str, tuple[str, str, str]] = {
    "slotted idler": ("idler", "Lever the idler along its slot with a screwdriver against the frame, then nip its bolt up.", "Tighten the idler's bolt; a stop screw behind it keeps it there."),
    "sliding block": ("idler", "Turn the jack screws a quarter turn at a time, both alike.", "Counter each jack screw with a nut."),
    "threaded rod block": ("idler", "Turn the nut on the threaded rod.", "Counter it with a second nut."),
    "slotted motor plate": ("motor", "Turn the jack screw against the motor plate, its bolts just snug.", "Tighten the plate's bolts crosswise, then counter the jack screw."),
    "swinging arm": ("idler", "Turn the screw that swings the arm.", "Tighten the arm's pivot bolt, then counter the screw."),
    "movable clamp": ("clamp", "Draw the clamp tab along the carriage with its screw.", "Tighten the tab's bolts, then counter the screw."),
}  # fmt: skip


@formula
def pull_on_tensioner(tension_n: Real, wrap_rad: Real) -> Real:
    """Pull of a belt at rest on what it is wrapped round.

    Equation: F = 2·T·sin(α/2)
    Units: N, rad → N
    Range: equal tension on both sides; half a turn gives twice the tension
    Source: handbook — vector sum of two equal pulls

    >>> round(pull_on_tensioner(50.0, math.pi), 6)
    100.0
    """
    return 2 * tension_n * math.sin(wrap_rad / 2)


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
    return max(0.0, length_mm - through_mm - screw_mm) * lever


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


def wrap_moved(end: BeltEnd, ctx: Context) -> Quantity | None:
    """The belt's wrap on what the tensioner moves; None where it draws the belt's end."""
    moves = KINDS[end.tensioner.kind][0]
    if moves == "clamp":
        return None
    return ctx.book.results[
        "pulley.wrap" if moves == "motor" or "idler.wrap" not in ctx.book.results else "idler.wrap"
    ]


def budget(end: BeltEnd, ctx: Context, tension: Quantity, slack: Quantity, stretch: Quantity) -> None:
    """Travel that is needed and that there is; screw, slot, force and turn."""
    g, r, calc = ctx.given, ctx.book.results, ctx.calc
    at = "end.tensioner."
    wrap = wrap_moved(end, ctx)
    runs = ctx.book.put(
        "tensioner.runs",
        "Belt taken up for 1 mm of the tensioner",
        1.0 if wrap is None else 2 * math.sin((wrap.value or 0) / 2),
        "mm",
        equation="1 at a clamp, 2·sin(α/2) at a pulley",
        source="geometry",
        also={"tension": tension} if wrap is None else {"wrap": wrap},
    )
    demand = calc(
        "tensioner.demand",
        "Travel that the tensioner must have",
        belt.tensioner_demand,
        slack_mm=slack,
        stretch_mm=stretch,
        run_in_mm=g(at + "run_in_mm"),
        removal_mm=g(at + "removal_mm"),
        runs_moved=runs,
    )
    lever, through, screw = g(at + "lever"), g(at + "through_mm"), g(at + "screw_mm")
    have: Quantity | Given = g(at + "travel_mm")
    field = "travel_mm"
    if end.tensioner.screw_length_mm is not None:
        thread = calc(
            "tensioner.thread",
            "Travel that the screw's thread allows",
            thread_travel,
            length_mm=g(at + "screw_length_mm"),
            lever=lever,
            through_mm=through,
            screw_mm=screw,
        )
        if (thread.value or 0) < (have.value or 0):
            have, field = thread, "screw_length_mm"
    ctx.rung(
        "tensioner",
        "Travel of the tensioner",
        demand,
        have,
        g("assumptions.margin_other"),
        unit="mm",
        section="tension",
        path=at + field,
        says="A longer screw: its thread ends too soon."
        if field == "screw_length_mm"
        else "A longer slot or screw, or a clamp moved by one tooth.",
    )
    calc(
        "tensioner.screw_length",
        "Screw to buy, at least",
        screw_length,
        travel_mm=demand,
        lever=lever,
        through_mm=through,
        screw_mm=screw,
    )
    calc("tensioner.slot", "Slot to mill, at least", slot_length, travel_mm=demand, screw_mm=screw)
    pull: Quantity = (
        tension
        if wrap is None
        else calc(
            "tensioner.pull",
            "Pull on the tensioner at rest",
            pull_on_tensioner,
            tension_n=tension,
            wrap_rad=wrap,
        )
    )
    force = calc(
        "tensioner.force",
        "Force in each screw",
        screw_force,
        pull_n=pull,
        lever=lever,
        screws=g(at + "screws"),
    )
    calc("tensioner.torque", "Torque that turns the screw", turning_torque, force_n=force, screw_mm=screw)
    pitch = Given(
        "catalogue.coarse_pitch",
        COARSE_PITCH_MM.get(end.tensioner.screw_mm),
        "mm",
        "standard",
        f"ISO 261 coarse pitch of M{end.tensioner.screw_mm:g}",
    )
    turn = calc(
        "tensioner.turn",
        "Belt tension for one turn of the screw",
        tension_per_turn,
        ea_n=r["belt.ea"],
        length_mm=r["belt.free"],
        pitch_mm=pitch,
        lever=lever,
        runs_moved=runs,
    )
    ctx.book.put(
        "tensioner.per_n",
        "Turn of the screw for 1 N",
        lambda: 360 / (turn.value or math.inf),
        "°",
        equation="360°/ΔT",
        source="the turn above",
        turn=turn,
    )
