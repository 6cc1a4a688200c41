"""Two driven sides of a gantry: how they share the load, the twist of a shaft between them, yaw, and guides
that jam.
"""

from __future__ import annotations

from dataclasses import replace

from ..account.context import Context
from ..account.found import Counts
from ..checks import friction, masses
from ..formulas import gantries, springs
from ..geometry.scene import Mark, Piece, Scene, SceneWheel, Slab, Spot, Strand
from ..ledger.formula import Real
from ..ledger.many import at_most, least
from ..ledger.quantity import Quantity, Term, missing_in
from ..parts.ends.contract import End, Moving
from .give import POSITIONS


def shared(ctx: Context, moving: Moving) -> Moving:
    """What one motor and one belt carry when a gantry is driven on two sides."""
    sides, g, put = ctx.design.sides, ctx.given, ctx.book.put
    if sides.kind in ("one", "one driven"):
        return moving
    side = put(
        "sides.share",
        "Largest share of the load on one side",
        lambda: 0.5 + least(g("sides.offset_mm").n / g("sides.width_mm").n, 0.5),
        "",
        equation="½ + e/W",
        source="statics of a beam on two sides",
        offset=g("sides.offset_mm"),
        width=g("sides.width_mm"),
    )
    two = sides.kind == "two motors"

    def both(name: str, one: Quantity) -> Quantity:
        return put(
            f"sides.{name}",
            f"{one.label}, both sides",
            lambda: 2 * one.n,
            "kg",
            equation="2·m",
            source="two sides alike",
            one=one,
        )

    carried, turning = both("carried", moving.carried_mass), both("turning", moving.turning_mass)
    if sides.kind == "cross shaft":
        words = ("Inertia of the cross shaft", "Cross shaft as a mass at the carriage")
        shaft = masses.disc(
            ctx,
            "sides.shaft_turning",
            words,
            g("sides.shaft_mm"),
            g("sides.width_mm"),
            springs.STEEL_DENSITY,
            moving.lam,
        )
        pulleys = turning
        turning = put(
            "sides.turning_all",
            "Turning parts of both sides with the cross shaft",
            lambda: pulleys.n + shaft.n,
            "kg",
            equation="2·m + J_shaft·λ²",
            source="equal kinetic energy",
            pulleys=pulleys,
            shaft=shaft,
        )
    return replace(
        moving,
        carried_mass=carried,
        turning_mass=turning,
        motor_share=side.n if two else 1.0,
        belt_share=side.n,
        motors=2.0 if two else 1.0,
        counts=Counts(motors=2 if two else 1, belts=2),
    )


def cross_shaft(ctx: Context, lam: Quantity) -> Quantity | None:
    """Stiffness of the shaft between the sides with its couplers, N/mm at the carriage; None without one."""
    sides, g = ctx.design.sides, ctx.given
    if sides.kind != "cross shaft":
        return None
    bar = ctx.calc(
        "sides.shaft",
        "Torsional stiffness of the cross shaft",
        springs.shaft_torsion_stiffness,
        shear_gpa=springs.STEEL_SHEAR,
        diameter_mm=g("sides.shaft_mm"),
        length_mm=g("sides.width_mm"),
    )
    whole = bar
    if sides.coupler_nm_rad is not None:
        whole = ctx.book.put(
            "sides.torsion",
            "Cross shaft with both couplers",
            lambda: 1 / (1 / bar.n + 2 / g("sides.coupler_nm_rad").n),
            "N·m/rad",
            equation="1/(1/k_shaft + 2/k_coupler)",
            source="springs in series",
            shaft=bar,
            coupler=g("sides.coupler_nm_rad"),
        )
    return ctx.calc(
        "sides.at_carriage",
        "Cross shaft as the carriage feels it",
        springs.torsion_at_carriage,
        stiffness_nm_rad=whole,
        radians_per_mm=lam,
    )


def _twists(ctx: Context, at: Quantity) -> None:
    """How far the far side lags behind, by the shaft's stiffness at the carriage."""
    force = ctx.peaks.peak
    twist = ctx.book.put(
        "sides.twist",
        "Far side lags behind by",
        lambda: force.n / at.n,
        "mm",
        equation="F_side/k",
        source="Hooke's law, under the largest share of the load that one side takes, with ringing",
        force=force,
        stiffness=at,
    )
    ctx.error_rung(
        "twist",
        "Twist between the sides",
        twist,
        "sides.shaft_mm",
        "A thicker shaft, solid couplers instead of soft ones, or a motor on each side.",
    )


def pull_factor(ctx: Context) -> Quantity | None:
    """How many times the load a gantry that is driven on one side must be pulled with: its guides take the
    moment, and rub; none for other gantries.
    """
    sides, g = ctx.design.sides, ctx.given
    if sides.kind != "one driven":
        return None
    formula = {
        "driven rail": gantries.pull_driven_rail,
        "both rails": gantries.pull_both_rails,
        "far rail": gantries.pull_far_rail,
    }[sides.guided_by]
    return ctx.calc(
        "sides.pull",
        "Pull over load, driven on one side",
        formula,
        width_mm=g("sides.width_mm"),
        offset_mm=g("sides.offset_mm"),
        guide_length_mm=g("sides.guide_length_mm"),
        friction=friction.of_guide(ctx, "sides.guide_friction"),
    )


def _jams(ctx: Context) -> None:
    """Whether the guides of a gantry driven on one side jam; those of the driven rail never do."""
    sides, g = ctx.design.sides, ctx.given
    if sides.guided_by == "driven rail":
        return
    reach = ctx.calc(
        "sides.jam",
        "Sides may be this far apart",
        gantries.jam_width,
        guide_length_mm=g("sides.guide_length_mm"),
        friction=friction.of_guide(ctx, "sides.guide_friction"),
        rails=2.0 if sides.guided_by == "both rails" else 1.0,
    )
    ctx.rung(
        "jam",
        "Guides do not jam",
        g("sides.width_mm"),
        reach,
        1.5,
        unit="mm",
        section="end",
        path="sides.guide_length_mm",
        says="Let the driven rail guide and the far one float, longer guides, guides with less friction, "
        "a narrower "
        "gantry, or a drive on both sides.",
    )


def _one_side(ctx: Context, whole: Quantity, end: End) -> Quantity:
    """Stiffness of one side: half of the whole with a motor on each, else its own belt, behind the shaft that
    both sides share.
    """
    if ctx.design.sides.kind == "two motors":
        return ctx.book.put(
            "sides.stiffness",
            "Stiffness of one side",
            lambda: whole.n / 2,
            "N/mm",
            equation="k/2",
            source="two sides alike",
            whole=whole,
        )
    places = end.positions(ctx, POSITIONS)
    terms = end.spring_terms(ctx, places)
    return ctx.book.put(
        "sides.stiffness",
        "Stiffness of one side behind the shaft",
        (lambda: 1 / at_most(end.held(ctx, places, None).give())) if not missing_in(terms.values()) else None,
        "N/mm",
        equation="1/c_end, softest place",
        source="what both sides share turns neither of them ahead",
        also=terms,
    )


def square(ctx: Context, stiffness: Quantity, end: End, far: Quantity | None) -> None:
    """Yaw of a gantry pushed off centre, and guides that jam; `stiffness` is that of the whole, `far` that of
    the shaft between the sides.
    """
    sides, g = ctx.design.sides, ctx.given
    if sides.kind == "one":
        return
    if sides.kind == "one driven":
        _jams(ctx)
        return
    if far is not None:
        _twists(ctx, far)
    side, force, e, width = (
        _one_side(ctx, stiffness, end),
        ctx.loads.worst,
        g("sides.offset_mm"),
        g("sides.width_mm"),
    )
    shaft: dict[str, Term] = {} if far is None else {"shaft": far}

    def ahead() -> Real:
        """What the loaded side gives more than the other one."""
        place = least(e.n / width.n, 0.5)
        lags = 2 * place / side.n
        return force.n * (lags if far is None else lags + (0.5 + place) / far.n)

    off = ctx.book.put(
        "sides.yaw_mm",
        "One side runs ahead by",
        ahead,
        "mm",
        equation="F·(2e/W)/k_side" + ("" if far is None else " + F·(½ + e/W)/k_shaft"),
        source="forces by place, what gives by each side's own stiffness, under the largest force",
        force=force,
        offset=e,
        width=width,
        stiffness=side,
        also=shaft,
    )
    ctx.book.put(
        "sides.yaw",
        "Yaw of the gantry under the largest force",
        lambda: off.n / width.n,
        "rad",
        equation="δ/W",
        source="geometry",
        ahead=off,
        width=width,
    )
    ctx.error_rung(
        "yaw",
        "Gantry stays square",
        off,
        "sides.offset_mm",
        "Bring the mass nearer to the middle, stiffen the belts, or widen the gantry.",
    )


def from_above(ctx: Context, side: Scene) -> Scene:
    """The gantry seen from above: both rails, the beam across, and what drives either side."""
    sides, guide = ctx.design.sides, ctx.design.guide
    if sides.kind == "one":
        return side
    travel, w = ctx.usable, sides.width_mm
    start = guide.near_mm + guide.overtravel_mm + guide.carriage_mm / 2
    driven = (0.0,) if sides.kind == "one driven" else (0.0, w)
    powered = (0.0, w) if sides.kind == "two motors" else (0.0,)
    radius = next((x.radius_mm for x in side.wheels if x.part == "end.pulley"), 10.0)
    slabs = [Slab("rail", Spot(guide.rail_mm / 2, y), guide.rail_mm, 14.0) for y in (0.0, w)]
    slabs += [Slab("motor", Spot(-30.0, y + (34.0 if y else -34.0)), 50.0, 50.0) for y in powered]
    if sides.kind == "cross shaft":
        slabs.append(Slab("frame", Spot(-30.0, w / 2), sides.shaft_mm, w))
    belts = tuple(
        Strand("toothed", (Piece(Spot(-30.0, y), Spot(guide.rail_mm + 20, y)),), 1.0, 4.0) for y in driven
    )
    wheels = tuple(
        SceneWheel(
            "Drive pulley", "smooth", Spot(-30.0, y), radius, radius, 4.0, 0.0, field="end.pulley.teeth"
        )
        for y in driven
    )
    marks = (
        Mark("driven side" if len(driven) == 1 else "", Spot(-70.0, 0.0), level=-2),
        Mark("between the sides", Spot(guide.rail_mm + 50, 0), Spot(guide.rail_mm + 50, w), w),
        Mark("usable travel", Spot(start, 0), Spot(start + travel, 0), travel, level=-1),
    )
    return Scene(
        "Seen from above",
        "Gantry",
        travel,
        wheels,
        belts,
        (*slabs, Slab("carriage", Spot(start, w / 2, 1.0), guide.carriage_mm, w + 40)),
        marks,
    )
