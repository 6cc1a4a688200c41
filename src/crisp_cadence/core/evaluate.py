"""From a design to the whole report: one pass, every number in the ledger, every target on the ladder."""

from __future__ import annotations

import math
from collections.abc import Mapping

from . import axis, build, chain, give, springs
from .belt import Profile
from .context import Context, overall, sorted_ladder
from .design import AxisDesign
from .ends.base import End, Moving
from .errors import EntryError, problem
from .formula import Quantity, Term
from .registry import UnknownPart
from .report import Caution, DriveNode, Report, Share
from .stages.base import Motor, Stage


def evaluate(design: AxisDesign, profiles: Mapping[str, Profile]) -> Report:
    """Work out everything that follows from a design.

    Results that lack an input are written down with the input's path; a design that cannot be built at all (a rail shorter
    than its carriage, a bore larger than its hub) raises EntryError with every such field.
    """
    ctx = Context(design, profiles)
    end, stages, motor = _parts(design)
    _travel(ctx)
    found = [p for j, s in enumerate(stages) for p in s.check(f"chain.{j}")] + end.check(ctx)
    if found:
        raise EntryError(found)
    moving = end.moving(ctx)
    forces, peak = _forces(ctx, moving)
    state = motor.settle("chain.0", ctx)
    walked = chain.walk(ctx, stages, moving, forces, ctx.given("aim.acceleration_mm_s2"))
    curve = motor.motion_rungs("chain.0", ctx, walked.lam_motor, walked.torque_in[0])
    chain.check_limits(ctx, stages, walked, ctx.given("aim.speed_mm_s"))
    shaft = stages[-1].output_shaft(f"chain.{len(stages) - 1}", ctx)
    end.forces(ctx, peak, shaft)
    field = ctx.calc(
        "field.at_carriage",
        "Magnetic spring at the carriage",
        springs.torsion_at_carriage,
        stiffness_nm_rad=state.field_stiffness,
        radians_per_mm=walked.lam_motor,
    )
    shaft_spring = give.shaft_spring(ctx, shaft.diameter, moving.lam)
    torque_path = [("field", "Rotor in its field", field), *walked.torque_path, ("shaft", "Motor or gearbox shaft", shaft_spring)]
    along, shares = give.give_along(ctx, end, torque_path, walked.rotor_mass, field)
    give.precision(ctx, walked.backlash)
    _unpowered(ctx, state.detent, walked)
    _drive_notes(ctx)
    bill, total, spend, unpriced = build.bill_of(ctx, stages, end)
    line, pluck = _drive_line(ctx, stages, end, walked, shares), end.pluck(ctx)
    steps = [w for j, s in enumerate(stages) for w in s.work(f"chain.{j}")] + end.work(ctx)
    work, to_order = build.plan(steps, bill, design.done)
    ladder = sorted_ladder(ctx.rungs)
    verdict, worst = overall(ladder)
    return Report(
        design.name,
        verdict,
        worst,
        build.in_words(next(r for r in ladder if r.key == worst)),
        ladder,
        tuple(ctx.book.results.values()),
        line,
        shares,
        along,
        curve,
        end.path(ctx),
        tuple(end.cut(ctx)),
        pluck,
        bill,
        total,
        spend,
        unpriced,
        design.aim.currency,
        work,
        to_order,
        _cautions(ctx, stages, end),
        tuple(motor.settings(ctx)),
        tuple(ctx.notes),
    )


def _parts(design: AxisDesign) -> tuple[End, list[Stage], Motor]:
    """The chain as known parts, motor first; EntryError names what is not known or not a motor."""
    unknown = [(f"chain.{j}", s) for j, s in enumerate(design.chain) if isinstance(s, UnknownPart)]
    if isinstance(design.end, UnknownPart):
        unknown.append(("end", design.end))
    if unknown:
        raise EntryError(
            [
                problem(
                    f"{at}.kind",
                    "is a kind of part that this version does not know; it is kept in the file unchanged",
                    value=p.kind,
                    remedy="Open the design with a newer version, or choose another part.",
                )
                for at, p in unknown
            ]
        )
    if not isinstance(design.chain[0], Motor):
        raise EntryError(
            [
                problem(
                    "chain.0.kind",
                    "is not a motor; the chain runs in power-flow order",
                    value=design.chain[0].kind,
                    limit="a motor",
                    remedy="Put the motor first.",
                )
            ]
        )
    second = next((j for j, s in enumerate(design.chain) if j and isinstance(s, Motor)), None)
    if second is not None:
        raise EntryError(
            [
                problem(
                    f"chain.{second}.kind", "is a second motor in one chain", value=design.chain[second].kind, limit="one motor", remedy="Remove it."
                )
            ]
        )
    return design.end, list(design.chain), design.chain[0]


def _travel(ctx: Context) -> Quantity:
    g, guide = ctx.given, ctx.design.guide
    usable = ctx.calc(
        "travel.usable",
        "Usable travel",
        axis.usable_travel,
        rail_mm=g("guide.rail_mm"),
        carriage_mm=g("guide.carriage_mm"),
        near_mm=g("guide.near_mm"),
        far_mm=g("guide.far_mm"),
        overtravel_mm=g("guide.overtravel_mm"),
    )
    if (usable.value or 0) <= 0:
        needs = guide.carriage_mm + guide.near_mm + guide.far_mm + 2 * guide.overtravel_mm
        raise EntryError(
            [
                problem(
                    "guide.rail_mm",
                    "is no longer than carriage, ends and over-travel together: nothing is left to travel",
                    value=guide.rail_mm,
                    limit=needs,
                    unit="mm",
                    remedy=f"Take a rail of at least {needs + ctx.design.aim.travel_mm:g} mm for the travel wanted, or a shorter carriage.",
                )
            ]
        )
    ctx.rung(
        "travel",
        "Usable travel",
        g("aim.travel_mm"),
        usable,
        1.0,
        unit="mm",
        step="aim",
        path="guide.rail_mm",
        says="A longer rail, a shorter carriage, or less taken up at the ends.",
    )
    stop = ctx.calc(
        "travel.stop",
        "Stopping distance from top speed",
        axis.stopping_distance,
        speed_mm_s=g("aim.speed_mm_s"),
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
    if (stop.value or 0) > guide.overtravel_mm:
        ctx.note(
            "aim",
            "guide.overtravel_mm",
            f"From top speed it needs {stop.value:.0f} mm to stop, more than the {guide.overtravel_mm:g} mm behind each switch: home slowly, and set soft limits.",
        )
    ctx.calc(
        "travel.time",
        "Time for the whole travel",
        axis.move_time,
        distance_mm=g("aim.travel_mm"),
        speed_mm_s=g("aim.speed_mm_s"),
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
    return usable


def _forces(ctx: Context, moving: Moving) -> tuple[dict[str, Quantity], Quantity]:
    """Force at the carriage in each phase, and the peak in the belt."""
    g, put = ctx.given, ctx.book.put
    items = {f"m{i}": g(f"moving.{i}.mass_kg") for i in range(len(ctx.design.moving))}
    counts = [float(m.quantity) for m in ctx.design.moving]
    tally = put(
        "mass.tally",
        "Moving mass by tally",
        lambda: sum(c * (t.value or 0) for c, t in zip(counts, items.values(), strict=True)),
        "kg",
        equation="Σ n·m",
        source="your tally of parts",
        also=items,
    )
    total = put(
        "mass.total",
        "Mass that the belt accelerates",
        lambda: (tally.value or 0) + (moving.carried_mass.value or 0),
        "kg",
        equation="m_tally + m_carried",
        source="equal kinetic energy",
        tally=tally,
        carried=moving.carried_mass,
    )
    driven = put(
        "mass.driven",
        "Mass that the drive shaft accelerates",
        lambda: (total.value or 0) + (moving.turning_mass.value or 0),
        "kg",
        equation="m + J_pulley·λ²",
        source="equal kinetic energy",
        total=total,
        pulley=moving.turning_mass,
    )
    if not total.value:
        raise EntryError([problem("moving", "adds up to no mass at all", value=0, limit=0, unit="kg", remedy="Add what moves, with its mass.")])
    slope = put(
        "aim.slope", "Slope", math.radians(ctx.design.aim.slope_deg), "rad", equation="β·π/180", source="unit conversion", slope=g("aim.slope_deg")
    )
    weight = ctx.calc("force.weight", "Weight along the slope", axis.slope_force, mass_kg=tally, slope_rad=slope)
    drag = ctx.calc(
        "force.drag", "Drag of the guide", axis.guide_drag, mass_kg=tally, friction=g("guide.friction"), slope_rad=slope, drag_n=g("guide.drag_n")
    )
    inertia = ctx.calc("force.inertia", "Force to accelerate", axis.inertia_force, mass_kg=driven, acceleration_mm_s2=g("aim.acceleration_mm_s2"))
    cases: dict[str, tuple[str, tuple[Term, Term, Term, Term]]] = {
        "accelerate": ("accelerating", (inertia, drag, weight, 0.0)),
        "cruise": ("cruising", (0.0, drag, weight, 0.0)),
        "push": ("pushing", (0.0, drag, weight, g("aim.push_n"))),
        "hold": ("holding, at rest", (0.0, 0.0, weight, g("aim.hold_n"))),
    }
    forces = {
        name: ctx.calc(f"force.{name}", f"Force at the carriage, {label}", axis.force_sum, inertia_n=i, drag_n=d, weight_n=w, push_n=p)
        for name, (label, (i, d, w, p)) in cases.items()
    }
    ringing = ctx.calc("ringing.factor", "Peak of a sudden force", springs.overshoot_factor, damping_ratio=g("assumptions.damping"))
    belt_inertia = ctx.calc(
        "force.belt_inertia",
        "Force that accelerates carriage, belt and idler",
        axis.inertia_force,
        mass_kg=total,
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
    whip = put(
        "force.whip",
        "Accelerating force with ringing",
        lambda: (belt_inertia.value or 0) * (ringing.value or 0),
        "N",
        equation="m·a·(1 + e^(−πζ/√(1−ζ²)))",
        source="response of one damped mode to a step",
        force=belt_inertia,
        factor=ringing,
    )
    peak_move = ctx.calc(
        "force.peak_move", "Peak force in the belt while moving", axis.force_sum, inertia_n=whip, drag_n=drag, weight_n=weight, push_n=0.0
    )
    peak = ctx.largest("belt.peak_force", "Peak force in the belt", peak_move, forces["push"], forces["hold"], unit="N")
    return forces, peak


def _unpowered(ctx: Context, detent: Term, walked: chain.Walk) -> None:
    """Does it stay where it is when the power goes?"""
    weight = ctx.book.results["force.weight"]
    stays = ctx.calc(
        "unpowered.capacity",
        "Force that the unpowered axis resists",
        axis.back_drive_capacity,
        detent_nm=detent,
        radians_per_mm=walked.lam_motor,
        efficiency=walked.efficiency,
        drag_n=ctx.book.results["force.drag"],
    )
    asked: Term = weight if ctx.design.aim.slope_deg > 0 else 0.0
    ctx.rung(
        "unpowered",
        "Stays put without power",
        asked,
        stays,
        ctx.given("assumptions.margin_torque"),
        unit="N",
        step="aim",
        path="chain.0.detent_torque_nm",
        says="A brake, a counterweight, a gearbox that does not run backwards, or a prop before you switch off.",
        advisory=False,
    )


def _drive_notes(ctx: Context) -> None:
    play = ctx.book.results["backlash"].value
    if play is not None and play > ctx.design.aim.error_mm:
        ctx.note("shake", "chain", f"Backlash alone is {play:.3f} mm at the carriage, more than the {ctx.design.aim.error_mm:g} mm allowed.")


def _drive_line(ctx: Context, stages: list[Stage], end: End, walked: chain.Walk, shares: tuple[Share, ...]) -> tuple[DriveNode, ...]:
    part_share = {s.part: s.share for s in shares}
    nodes = []
    for j, stage in enumerate(stages):
        lam = walked.lam_motor if j == 0 else walked.lam_out[j]
        speed = ctx.calc(
            f"chain.{j}.speed_out", f"Speed out of the {stage.kind}", axis.shaft_speed, speed_mm_s=ctx.given("aim.speed_mm_s"), radians_per_mm=lam
        )
        torque = (
            walked.torque_in[0]["accelerate"]
            if j == 0
            else (walked.torque_in[j + 1]["accelerate"] if j + 1 < len(stages) else walked.torque_end["accelerate"])
        )
        share = part_share.get("field") if j == 0 else part_share.get(f"chain.{j}")
        main = "ratio" if j else "hold_torque_nm"
        nodes.append(
            DriveNode(
                "field" if j == 0 else f"chain.{j}",
                stage.label or stage.kind.capitalize(),
                f"chain.{j}.{main}",
                stage.main_number(),
                speed.value,
                "rpm",
                torque.value,
                "N·m",
                share,
            )
        )
    tail = [
        DriveNode(
            n.part, n.label, n.field, n.main, n.speed, n.speed_unit, n.load, n.load_unit, part_share.get("shaft" if n.part == "pulley" else n.part)
        )
        for n in end.drive_nodes(ctx)
    ]
    return (*nodes, *tail)


def _cautions(ctx: Context, stages: list[Stage], end: End) -> tuple[Caution, ...]:
    return tuple(dict.fromkeys([c for s in stages for c in s.cautions(ctx)] + end.cautions(ctx)))
