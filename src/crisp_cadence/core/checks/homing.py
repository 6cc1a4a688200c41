"""End switches: where they stand, how fast they may be met, how well zero comes again, and what is hit
first when the power fails.
"""

from __future__ import annotations

from ..account.context import Context
from ..formulas import homing, motion
from ..ledger.amounts import said
from ..ledger.many import most
from ..ledger.quantity import Quantity


def switches(ctx: Context) -> None:
    """Places and speeds of a straight axis whose motor knows its place."""
    g, guide, home = ctx.given, ctx.design.guide, ctx.design.switches
    half = guide.carriage_mm / 2
    for key, label, value in (
        ("near", "Switch at the motor's end trips with the carriage's middle at", guide.near_mm),
        ("far", "Switch at the far end trips with the carriage's middle at", guide.far_mm),
    ):
        ctx.book.put(
            f"switch.{key}",
            label,
            value + guide.overtravel_mm + half,
            "mm",
            equation="end + over-travel + carriage/2",
            source="geometry, from the rail's own end",
            end=g(f"guide.{key}_mm"),
            overtravel=g("guide.overtravel_mm"),
            carriage=g("guide.carriage_mm"),
        )
    fastest = ctx.calc(
        "homing.fastest",
        "Fastest approach that stops within the over-travel",
        homing.approach_speed,
        room_mm=g("guide.overtravel_mm"),
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
    ctx.calc(
        "homing.stop",
        "Stops behind its switch in, homing",
        motion.stopping_distance,
        speed_mm_s=g("switches.speed_mm_s"),
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
    late = ctx.calc(
        "homing.late",
        "Switch is seen late by at most",
        homing.seen_late,
        speed_mm_s=g("switches.speed_mm_s"),
        period_ms=g("switches.period_ms"),
    )
    again = ctx.calc(
        "homing.repeat",
        "Zero comes again within",
        homing.zero_comes_again,
        switch_mm=g("switches.repeat_mm"),
        late_mm=late,
    )
    coast(ctx)
    if home.home == "no switch":
        return
    if home.speed_mm_s > fastest.n:
        ctx.note(
            "build",
            "switches.speed_mm_s",
            f"Homing at {said(home.speed_mm_s, 'mm/s')} does not stop within the over-travel: at most "
            f"{said(fastest.value or 0, 'mm/s', '.3g')}, or more room behind the switch.",
        )
    error = ctx.design.aim.error_mm
    if again.value is not None and again.value > error:
        ctx.note(
            "build",
            "switches.repeat_mm",
            f"Zero comes again within {said(again.value, 'mm', '.2g')} only, more than the "
            f"{said(error, 'mm')} "
            f"allowed: home slower, or take a finer switch.",
        )


def coast(ctx: Context) -> Quantity | None:
    """How far it coasts when the power fails at top speed; None where it is not level and runs down
    instead.
    """
    if ctx.design.aim.slope_deg > 0:
        return None
    return ctx.once(_coast)


def _coast(ctx: Context) -> Quantity:
    loads = ctx.loads
    drag = ctx.book.put(
        "homing.drag",
        "Drag that stops it without power",
        lambda: most(loads.drag.n, 1e-6),
        "N",
        equation="F_g",
        source="the guide's own; motor and chain brake it further and are not counted on",
        drag=loads.drag,
    )
    return ctx.calc(
        "homing.coast",
        "Coasts when the power fails at top speed",
        homing.coasting,
        mass_kg=loads.masses.total,
        speed_mm_s=ctx.given("aim.speed_mm_s"),
        drag_n=drag,
    )


def hit_first(ctx: Context) -> str:
    """What is hit first when the power fails, and what to do about it; empty where nothing is."""
    if ctx.design.aim.slope_deg > 0:
        return (
            "When the power fails it may run down: the stop at its lower end is hit first, before any switch "
            "counts. A buffer there, and nothing breakable in the way."
        )
    way, room = coast(ctx), ctx.design.guide.overtravel_mm
    if way is None or way.value is None or way.value <= room:
        return ""
    return (
        f"When the power fails at top speed it coasts up to {said(way.value, 'mm', '.0f')}: near an end "
        f"it passes "
        f"its switch ({said(room, 'mm')} of over-travel) and hits the stop behind it. A rubber buffer there."
    )
