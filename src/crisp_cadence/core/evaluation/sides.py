"""Two driven sides of a gantry: how they share the load, the twist of a shaft between them, yaw, and guides
that jam.
"""

from __future__ import annotations

from dataclasses import replace

from ..account.context import Context
from ..account.found import Counts
from ..formulas import gantries, springs
from ..geometry.scene import Mark, Piece, Scene, SceneWheel, Slab, Spot, Strand
from ..ledger.many import least
from ..ledger.quantity import Quantity
from ..parts.ends.contract import Moving


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
    sides, g, force = ctx.design.sides, ctx.given, ctx.loads.peak
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
    at = ctx.calc(
        "sides.at_carriage",
        "Cross shaft as the carriage feels it",
        springs.torsion_at_carriage,
        stiffness_nm_rad=whole,
        radians_per_mm=lam,
    )
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
    return at


def square(ctx: Context, stiffness: Quantity) -> None:
    """Yaw of a gantry pushed off centre, and guides that jam; `stiffness` is that of the whole."""
    sides, g = ctx.design.sides, ctx.given
    if sides.kind == "one":
        return
    if sides.kind == "one driven":
        reach = ctx.calc(
            "sides.jam",
            "Pull may act this far off the guide",
            gantries.jam_offset,
            guide_length_mm=g("sides.guide_length_mm"),
            friction=g("sides.guide_friction"),
        )
        arm = ctx.book.put(
            "sides.arm",
            "Load off the driven side",
            lambda: g("sides.width_mm").n / 2 + g("sides.offset_mm").n,
            "mm",
            equation="W/2 + e",
            source="geometry",
            width=g("sides.width_mm"),
            offset=g("sides.offset_mm"),
        )
        ctx.rung(
            "jam",
            "Guides do not jam",
            arm,
            reach,
            1.5,
            unit="mm",
            section="end",
            path="sides.guide_length_mm",
            says="Longer guides, guides with less friction, a narrower gantry, or a drive on both sides.",
        )
        return
    half = ctx.book.put(
        "sides.stiffness",
        "Stiffness of one side",
        lambda: stiffness.n / 2,
        "N/mm",
        equation="k/2",
        source="two sides alike",
        whole=stiffness,
    )
    yaw = ctx.calc(
        "sides.yaw",
        "Yaw of the gantry under the largest force",
        gantries.yaw_angle,
        force_n=ctx.loads.worst,
        offset_mm=g("sides.offset_mm"),
        side_stiffness_n_mm=half,
        width_mm=g("sides.width_mm"),
    )
    off = ctx.book.put(
        "sides.yaw_mm",
        "One side runs ahead by",
        lambda: yaw.n * g("sides.width_mm").n,
        "mm",
        equation="ψ·W",
        source="geometry",
        yaw=yaw,
        width=g("sides.width_mm"),
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
