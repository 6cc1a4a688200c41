"""The travel budget of a rail, and the time and room that a move takes."""

from __future__ import annotations

from ..account.context import Context
from ..formulas import motion
from ..ledger.amounts import said
from ..ledger.errors import problem
from ..ledger.quantity import Quantity


def rail_travel(ctx: Context) -> Quantity:
    """What the rail leaves to travel, with its rung; EntryError when that is nothing."""
    g, guide = ctx.given, ctx.design.guide
    usable = ctx.calc(
        "travel.usable",
        "Usable travel",
        motion.usable_travel,
        rail_mm=g("guide.rail_mm"),
        carriage_mm=g("guide.carriage_mm"),
        near_mm=g("guide.near_mm"),
        far_mm=g("guide.far_mm"),
        overtravel_mm=g("guide.overtravel_mm"),
    )
    needs = guide.carriage_mm + guide.near_mm + guide.far_mm + 2 * guide.overtravel_mm
    ctx.refuse(
        usable.n <= 0,
        lambda: problem(
            "guide.rail_mm",
            "is no longer than carriage, ends and over-travel together: nothing is left to travel",
            value=guide.rail_mm,
            limit=needs,
            unit="mm",
            remedy=f"Take a rail of at least {said(needs + ctx.design.aim.travel_mm, 'mm')} for the "
            f"travel wanted, or a shorter carriage.",
        ),
    )
    ctx.rung(
        "travel",
        "Usable travel",
        g("aim.travel_mm"),
        usable,
        1.0,
        unit="mm",
        section="travel",
        path="guide.rail_mm",
        says="A longer rail, a shorter carriage, or less taken up at the ends.",
    )
    return usable


def move_and_stop(ctx: Context, guided: bool) -> None:
    """Stopping distance and time of the whole travel."""
    g, guide = ctx.given, ctx.design.guide
    stop = ctx.calc(
        "travel.stop",
        "Stopping distance from top speed",
        motion.stopping_distance,
        speed_mm_s=g("aim.speed_mm_s"),
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
    if ctx.plain and guided and stop.n > guide.overtravel_mm:
        ctx.note(
            "aim",
            "guide.overtravel_mm",
            f"From top speed it needs {said(stop.value or 0, 'mm', '.0f')} to stop, more than the "
            f"{said(guide.overtravel_mm, 'mm')} behind each switch: home slowly, and set soft limits.",
        )
    ctx.calc(
        "travel.time",
        "Time for the whole travel",
        motion.move_time,
        distance_mm=g("aim.travel_mm"),
        speed_mm_s=g("aim.speed_mm_s"),
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
