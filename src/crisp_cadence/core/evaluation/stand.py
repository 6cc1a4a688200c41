"""What carries the moving part: wheels, rail and stand. Only what has been entered is checked."""

from __future__ import annotations

from ..account.context import Context
from ..formulas import guides
from ..formulas.dynamics import GRAVITY
from ..ledger.many import is_column, least, most, pick
from ..ledger.quantity import Given, Quantity


def check(ctx: Context, guided: bool) -> None:
    """Rungs of wheel load, sag of the rail, play of the guide and tipping."""
    stand, g = ctx.design.stand, ctx.given
    if not guided:
        return
    mass = ctx.loads.masses.lifted
    if ctx.design.guide.kind == "wheels":
        _wheels(ctx)
    if stand.rail_span_mm is not None:
        sides = ctx.design.sides
        share = 1.0 if sides.kind == "one" else 0.5 + least(sides.offset_mm / sides.width_mm, 0.5)
        weight = ctx.book.put(
            "rail.load",
            "Weight on the rail",
            lambda: mass.n * GRAVITY * share,
            "N",
            equation="m·g·share",
            source="statics: of two rails the one that the load stands nearer to",
            mass=mass,
            share=share,
        )
        sag = ctx.calc(
            "rail.sag",
            "Sag of the rail under the carriage",
            guides.rail_sag,
            force_n=weight,
            span_mm=g("stand.rail_span_mm"),
            youngs_gpa=g("stand.rail_youngs_gpa"),
            second_moment_mm4=g("stand.rail_second_moment_mm4"),
            held=guides.RAIL_HELD[stand.rail_supports],
        )
        ctx.calc("rail.frequency", "Carriage bounces on the rail at", guides.rail_frequency, sag_mm=sag)
        ctx.error_rung(
            "rail",
            "Sag of the rail",
            sag,
            "stand.rail_span_mm",
            "Support the rail in its middle, take a taller section, or a lighter carriage.",
        )
    if is_column(stand.play_mm) or stand.play_mm > 0:
        ctx.error_rung(
            "play",
            "Play of the guide",
            g("stand.play_mm"),
            "stand.play_mm",
            "Set the wheels' eccentrics again, or take a linear rail.",
        )
    if stand.stand_kg is None:
        return
    beyond: Given | Quantity = g("stand.beyond_mm")
    if beyond.value is None:
        beyond = ctx.book.put(
            "stand.beyond",
            "Carriage beyond the foot at the end of its travel",
            lambda: most((ctx.usable - stand.foot_mm) / 2, 0.0),
            "mm",
            equation="max((travel − foot)/2, 0)",
            source="middle of the travel over the middle of the foot",
            travel=ctx.travel,
            foot=g("stand.foot_mm"),
        )
    if is_column(beyond.n) or beyond.n is None or beyond.n > 0:
        ratio = ctx.calc(
            "stand.ratio",
            "What keeps the stand upright over what tips it",
            guides.tipping_ratio,
            stand_kg=g("stand.stand_kg"),
            half_foot_mm=stand.foot_mm / 2,
            load_kg=mass,
            beyond_mm=beyond,
        )
        ctx.rung(
            "tip",
            "Stand does not tip",
            pick(beyond.n > 0, 1.0, 0.0),
            ratio,
            1.5,
            unit="×",
            section="loads",
            path="stand.foot_mm",
            says="A longer foot, a heavier stand, bolt it down, or less overhang.",
        )


def _wheels(ctx: Context) -> None:
    """Whether the largest force lifts a wheel, and what the most loaded one bears, where that was entered."""
    g, force = ctx.given, ctx.loads.worst
    moment = ctx.book.put(
        "wheel.moment",
        "Moment on the carriage under the largest force",
        lambda: force.n * g("stand.height_mm").n,
        "N·mm",
        equation="F·h",
        source="statics",
        force=force,
        height=g("stand.height_mm"),
    )
    lifts = ctx.calc(
        "wheel.lifts",
        "The largest force lifts a wheel by",
        guides.wheel_lift,
        moment_nmm=moment,
        wheels=g("stand.wheels"),
        base_mm=g("stand.wheel_base_mm"),
    )
    ctx.rung(
        "wheel_play",
        "Preload keeps every wheel on its rail",
        lifts,
        g("stand.preload_n"),
        1.0,
        unit="N",
        section="loads",
        path="stand.preload_n",
        says="Where a wheel lifts, the carriage has play: more preload (they still turn freely), wheels "
        "farther apart, or the belt closer to them.",
        advisory=True,
    )
    if ctx.design.stand.wheel_limit_n is None:
        return
    load = ctx.calc(
        "wheel.load",
        "Load on the most loaded wheel",
        guides.wheel_load,
        mass_kg=ctx.loads.masses.lifted,
        moment_nmm=moment,
        wheels=g("stand.wheels"),
        base_mm=g("stand.wheel_base_mm"),
        preload_n=g("stand.preload_n"),
    )
    ctx.rung(
        "wheel",
        "Load on a wheel",
        load,
        g("stand.wheel_limit_n"),
        1.5,
        unit="N",
        section="loads",
        path="stand.wheel_limit_n",
        says="Wheels farther apart, more wheels, or a lighter carriage.",
    )
