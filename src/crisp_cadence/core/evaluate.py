"""From a design to the whole report: one pass for each load case, every number in the ledger, every target on
the ladder.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

from . import axis, build, chain, give, sides, springs, stand
from .belt import Profile
from .chain import label_of
from .context import RANK, Context, merged, overall, sorted_ladder
from .design import AxisDesign, as_measured
from .ends.base import End, Moving
from .ends.belt_end import BeltEnd
from .errors import EntryError, Problem, problem
from .formula import Given, Quantity, Term, value_of
from .misfits import misfits
from .model import Head
from .registry import UnknownPart
from .report import Case, Caution, DriveNode, Report, Share, in_terms_of
from .scene import Scene
from .stages.base import Motor, Stage
from .stages.closed_belt import ClosedBelt
from .travel import move_and_stop


def evaluate(design: AxisDesign, profiles: Mapping[str, Profile]) -> Report:
    """Work out everything that follows from a design.

    Results that lack an input are written down with the input's path; a design that cannot be built at all (a
    rail shorter
    than its carriage, a bore larger than its hub) raises EntryError with every such field. Several heads or
    directions are
    worked out one by one: the report is that of the worst, and each rung of its ladder that of the case worst
    for it.
    """
    worst, runs = work_out(design, profiles)
    return worst.report(runs)


def work_out(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Run, list[Run]]:
    """Every case of a design worked out, the worst of them first; measured dimensions count instead of drawn
    ones.
    """
    design = as_measured(design)
    end, stages, motor = _parts(design)
    _fits_together(design, end, motor)
    heads: list[Head | None] = [*design.heads] or [None]
    runs = [Run(design, profiles, end, stages, motor, case, head) for head in heads for case in end.cases()]
    worst = min(
        runs,
        key=lambda run: (
            RANK[run.verdict],
            round(run.headroom, 9),
            sorted(round(r.headroom, 9) for r in run.ladder if r.headroom is not None),
        ),
    )
    return worst, runs


def draw(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Scene, ...]:
    """Only the drawings of a design's belts and its end, as fast as a hand drags; EntryError names what is in
    the way.
    """
    design = as_measured(design)
    end, stages, _ = _parts(design)
    ctx = Context(design, profiles, case=end.cases()[0])
    found = [p for j, s in enumerate(stages) for p in s.check(f"chain.{j}", ctx)] + end.check(ctx)
    if found:
        raise EntryError(found)
    end.travel(ctx)
    for j, s in enumerate(stages[1:], start=1):
        s.transmit(f"chain.{j}", ctx)
    end.moving(ctx)
    scenes = [end.scene(ctx), *(s.scene(f"chain.{j}", ctx) for j, s in enumerate(stages))]
    return tuple(s for s in scenes if s is not None)


def _fits_together(design: AxisDesign, end: End, motor: Motor) -> None:
    """Combinations that make no machine."""
    found = []
    if design.sides.kind != "one" and not end.straight:
        found.append(
            problem(
                "sides.kind",
                "does not go with this end",
                value=design.sides.kind,
                limit="one",
                remedy="Only straight axes of belt, rack or screw have two driven sides.",
            )
        )
    if end.placed and not motor.positioning:
        found.append(
            problem(
                "chain.0.kind",
                "cannot place this end: it does not know where it stands",
                value=motor.kind,
                limit="stepper",
                remedy="Take a stepper, or a screw, wheel, drum or spindle for this motor.",
            )
        )
    if end.turning and motor.positioning:
        found.append(
            problem(
                "chain.0.kind",
                "is the wrong motor for a spindle that runs for hours",
                value=motor.kind,
                limit="induction, gearmotor",
                remedy="Take an induction motor or a DC motor.",
            )
        )
    found += _pulleys_on_shafts(design, end)
    if found:
        raise EntryError(found)


def _pulleys_on_shafts(design: AxisDesign, end: End) -> list[Problem]:
    """Pulleys whose hub is no larger than the shaft they sit on: no bore, sleeve or press brings one onto the
    other.
    """
    seats = []
    for j, stage in enumerate(design.chain):
        if isinstance(stage, ClosedBelt):
            seats += [
                (f"chain.{j}.driver", stage.driver, design.chain[j - 1]),
                (f"chain.{j}.driven", stage.driven, stage),
            ]
    if isinstance(end, BeltEnd):
        seats.append(("end.pulley", end.pulley, design.chain[-1]))
    return [
        problem(
            f"{at}.hub_mm",
            "is no larger than the shaft that it sits on",
            value=pulley.hub_mm,
            limit=shaft,
            unit="mm",
            remedy="Take a pulley with a larger hub, or a motor or stage with a thinner shaft.",
        )
        for at, pulley, on in seats
        if (shaft := getattr(on, "shaft_mm", None)) is not None and pulley.hub_mm <= shaft
    ]


class Run:
    """One case worked out: a head, and a direction or setting of the end."""

    def __init__(
        self,
        design: AxisDesign,
        profiles: Mapping[str, Profile],
        end: End,
        stages: list[Stage],
        motor: Motor,
        case: str,
        head: Head | None,
    ) -> None:
        ctx = self.ctx = Context(design, profiles, case=case)
        self.design, self.end, self.stages, self.motor = design, end, stages, motor
        self.name = ", ".join(n for n in (head.label if head else "", case) if n)
        found = [p for j, s in enumerate(stages) for p in s.check(f"chain.{j}", ctx)] + end.check(ctx)
        if not (found and end.guided):
            end.travel(ctx)
        move_and_stop(ctx, end.guided)
        if found:
            raise EntryError(found)
        moving = sides.shared(ctx, end.moving(ctx))
        forces, peak = _forces(ctx, end, moving, head)
        state = motor.settle("chain.0", ctx)
        walked = self.walked = chain.walk(ctx, stages, moving, forces, ctx.given("aim.acceleration_mm_s2"))
        self.curve = motor.motion_rungs("chain.0", ctx, walked.lam_motor, walked.torque_in[0], state)
        chain.check_limits(ctx, stages, walked)
        last = len(stages) - 1
        shaft = stages[last].output_shaft(f"chain.{last}", ctx, end.overhang())
        end.forces(ctx, peak, shaft)
        path = list(walked.torque_path)
        field = None
        if state.field_stiffness is not None:
            field = ctx.calc(
                "field.at_carriage",
                "Magnetic spring at the carriage",
                springs.torsion_at_carriage,
                stiffness_nm_rad=state.field_stiffness,
                radians_per_mm=walked.lam_motor,
            )
            path.insert(0, ("field", "Rotor in its field", field))
        overhang = end.overhang()
        if overhang:
            path.append(
                (
                    "shaft",
                    "Bare shaft under the drive pulley",
                    give.shaft_spring(ctx, shaft.diameter, overhang, moving.lam),
                )
            )
        sides.cross_shaft(ctx, moving.lam)
        soft = {f"chain.{j}": f"chain.{j}.{s.soft_field}" for j, s in enumerate(stages)}
        self.along, self.shares = give.give_along(ctx, end, path, walked.rotor_mass, field, moving, soft)
        give.precision(ctx, walked.backlash, motor.positioning)
        sides.square(ctx)
        stand.check(ctx, end.guided)
        _unpowered(ctx, state.detent, walked, moving)
        if end.guided or motor.positioning:
            _drive_notes(ctx)
        self.ladder = sorted_ladder(ctx.rungs)
        self.verdict, self.worst = overall(self.ladder)
        self.headroom = next((r.headroom for r in self.ladder if r.key == self.worst), None) or 0.0

    def report(self, runs: list[Run]) -> Report:
        """The whole report, with the ladder of every case."""
        ctx, design, end, stages = self.ctx, self.design, self.end, self.stages
        bill, total, spend, unpriced = build.bill_of(ctx, stages, end)
        line, pluck = _drive_line(ctx, stages, end, self.walked, self.shares), end.pluck(ctx)
        steps = [w for j, s in enumerate(stages) for w in s.work(f"chain.{j}")] + end.work(ctx)
        work, to_order = build.plan(steps, bill, design.done)
        money = [r for r in ctx.rungs if r.key == "money"]
        cases = tuple(
            Case(r.name, r.verdict, build.in_words(next(x for x in r.ladder if x.key == r.worst)))
            for r in runs
        )
        rungs = [*(self.ladder if len(runs) == 1 else merged([(r.name, r.ladder) for r in runs])), *money]
        ladder = sorted_ladder(rungs)
        verdict, worst = overall(ladder)
        made = Report(
            design.name,
            verdict,
            worst,
            build.in_words(next(r for r in ladder if r.key == worst)),
            ladder,
            tuple(ctx.book.results.values()),
            line,
            self.shares,
            self.along,
            self.curve,
            None if (drawn := end.scene(ctx)) is None else sides.from_above(ctx, drawn),
            tuple(sc for j, s in enumerate(stages) if (sc := s.scene(f"chain.{j}", ctx)) is not None),
            tuple(end.tables(ctx)),
            cases if len(cases) > 1 else (),
            self.name if len(runs) > 1 else "",
            end.point,
            end.guided,
            tuple([c for j, s in enumerate(stages) for c in s.cut(f"chain.{j}", ctx)] + end.cut(ctx)),
            pluck,
            bill,
            total,
            spend,
            unpriced,
            design.aim.currency,
            work,
            to_order,
            _cautions(ctx, stages, end),
            tuple(self.motor.settings(ctx)),
            tuple(ctx.notes),
            misfits(design.made, ctx.book.results),
        )
        return made if end.point == "carriage" else in_terms_of(made, end.point)


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
                    f"chain.{second}.kind",
                    "is a second motor in one chain",
                    value=design.chain[second].kind,
                    limit="one motor",
                    remedy="Remove it.",
                )
            ]
        )
    return design.end, list(design.chain), design.chain[0]


def _forces(
    ctx: Context, end: End, moving: Moving, head: Head | None
) -> tuple[dict[str, Quantity], Quantity]:
    """Force at the carriage in each phase, and the peak in the belt."""
    g, put = ctx.given, ctx.book.put
    listed = [(f"{n}.{i}", m) for n in ("moving", "riding") for i, m in enumerate(getattr(ctx.design, n))]
    items: dict[str, Term] = {at.replace(".", "_"): g(f"{at}.mass_kg") for at, _ in listed}
    counts = [float(m.quantity) for _, m in listed]
    if head is not None:
        items["head"] = Given(
            f"heads.{ctx.design.heads.index(head)}.mass_kg", head.mass_kg, "kg", "your entry", head.label
        )
        counts.append(1.0)
    tally = put(
        "mass.tally",
        "Moving mass by tally",
        lambda: sum(c * (value_of(t) or 0) for c, t in zip(counts, items.values(), strict=True)),
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
    if total.value == 0:
        raise EntryError(
            [
                problem(
                    "moving",
                    "adds up to no mass at all",
                    value=0,
                    limit=0,
                    unit="kg",
                    remedy="Add what moves, with its mass.",
                )
            ]
        )
    slope = put(
        "aim.slope",
        "Slope",
        math.radians(ctx.design.aim.slope_deg),
        "rad",
        equation="β·π/180",
        source="unit conversion",
        slope=g("aim.slope_deg"),
    )
    weight, drag = end.loads(ctx, tally, slope)
    own_push = head.push_n if head is not None else None
    push: Term = (
        g("aim.push_n")
        if own_push is None
        else Given("heads.push_n", own_push, "N", "your entry", head.label if head else "")
    )
    inertia = ctx.calc(
        "force.inertia",
        "Force to accelerate",
        axis.inertia_force,
        mass_kg=driven,
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
    cases: dict[str, tuple[str, tuple[Term, Term, Term, Term]]] = {
        "accelerate": ("accelerating", (inertia, drag, weight, 0.0)),
        "cruise": ("cruising", (0.0, drag, weight, 0.0)),
        "push": ("pushing", (0.0, drag, weight, push)),
        "hold": ("holding, at rest", (0.0, 0.0, weight, g("aim.hold_n"))),
    }
    forces = {
        name: ctx.calc(
            f"force.{name}",
            f"Force at the carriage, {label}",
            axis.force_sum,
            inertia_n=i,
            drag_n=d,
            weight_n=w,
            push_n=p,
        )
        for name, (label, (i, d, w, p)) in cases.items()
    }
    ringing = ctx.calc(
        "ringing.factor",
        "Peak of a sudden force",
        springs.overshoot_factor,
        damping_ratio=g("assumptions.damping"),
    )
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
        "force.peak_move",
        "Peak force in the belt while moving",
        axis.force_sum,
        inertia_n=whip,
        drag_n=drag,
        weight_n=weight,
        push_n=0.0,
    )
    share = moving.belt_share
    if share == 1.0:
        return forces, ctx.largest(
            "belt.peak_force", "Peak force in the belt", peak_move, forces["push"], forces["hold"], unit="N"
        )
    whole = ctx.largest(
        "force.peak", "Peak force of the whole axis", peak_move, forces["push"], forces["hold"], unit="N"
    )
    peak = put(
        "belt.peak_force",
        "Peak force in one belt",
        lambda: (whole.value or 0) * share,
        "N",
        equation="F·share",
        source="statics: how both sides or belts share the load",
        whole=whole,
        share=share,
    )
    return forces, peak


def _unpowered(ctx: Context, detent: Term, walked: chain.Walk, moving: Moving) -> None:
    """Does it stay where it is when the power goes?"""
    weight = ctx.book.results["force.weight"]
    if walked.locks:
        ctx.note(
            "aim",
            "chain",
            "On paper this drive holds by itself when the power goes: screw or worm cannot be driven "
            "backwards. Shaking can still make it creep.",
        )
        return
    stays = ctx.calc(
        "unpowered.capacity",
        "Force that the unpowered axis resists",
        axis.back_drive_capacity,
        detent_nm=detent,
        radians_per_mm=walked.lam_motor,
        efficiency=walked.efficiency_back,
        drag_n=ctx.book.results["force.drag"],
    )
    share = moving.motor_share
    asked: Term = 0.0
    if (weight.value or 0) > 0:
        asked = (
            weight
            if share == 1.0
            else ctx.book.put(
                "unpowered.asked",
                "Weight on one motor",
                lambda: (weight.value or 0) * share,
                "N",
                equation="F·share",
                source="statics",
                weight=weight,
                share=share,
            )
        )
    ctx.rung(
        "unpowered",
        "Stays put without power",
        asked,
        stays,
        ctx.given("assumptions.margin_torque"),
        unit="N",
        section="loads",
        path="chain.0.detent_torque_nm",
        says="A brake, a counterweight, a gearbox that does not run backwards, or a prop before you "
        "switch off.",
        advisory=False,
    )


def _drive_notes(ctx: Context) -> None:
    play = ctx.book.results["backlash"].value
    if play is not None and play > ctx.design.aim.error_mm:
        ctx.note(
            "shake",
            "chain",
            f"Backlash alone is {play:.3f} mm at the carriage, more than the "
            f"{ctx.design.aim.error_mm:g} mm allowed.",
        )


def _drive_line(
    ctx: Context, stages: list[Stage], end: End, walked: chain.Walk, shares: tuple[Share, ...]
) -> tuple[DriveNode, ...]:
    part_share = {s.part: s.share for s in shares}
    r, aim = ctx.book.results, ctx.design.aim
    nodes = []
    for j, stage in enumerate(stages):
        lam = walked.lam_motor if j == 0 else walked.lam_out[j]
        speed = ctx.calc(
            f"chain.{j}.speed_out",
            f"Speed out of the {label_of(stage).lower()}",
            axis.shaft_speed,
            speed_mm_s=ctx.given("aim.speed_mm_s"),
            radians_per_mm=lam,
        )
        if j == 0:
            torque = walked.torque_in[0]["accelerate"]
        else:
            torque = (
                walked.torque_in[j + 1]["accelerate"]
                if j + 1 < len(stages)
                else walked.torque_end["accelerate"]
            )
        part = "field" if j == 0 else f"chain.{j}"
        main, field = stage.main_number()
        label = stage.label or label_of(stage)
        nodes.append(
            DriveNode(
                part,
                label,
                f"chain.{j}",
                f"chain.{j}.{field}",
                main,
                speed.value,
                "rpm",
                torque.value,
                "N·m",
                part_share.get(part),
            )
        )
    moved = f"{r['mass.total'].value or 0:.3g} kg"
    tail = [
        *end.drive_nodes(ctx),
        DriveNode(
            "carriage",
            end.point.capitalize(),
            "moving",
            "moving.0.mass_kg",
            moved,
            aim.speed_mm_s,
            "mm/s",
            r["force.accelerate"].value,
            "N",
            None,
        ),
    ]
    listed = [replace(n, give_share=part_share.get("shaft" if n.part == "pulley" else n.part)) for n in tail]
    return tuple(replace(n, shows=end.shows.get(n.at, (f"{n.at}.",))) for n in (*nodes, *listed))


def _cautions(ctx: Context, stages: list[Stage], end: End) -> tuple[Caution, ...]:
    return tuple(dict.fromkeys([c for s in stages for c in s.cautions(ctx)] + end.cautions(ctx)))
