"""From a design to the whole report: one pass for each load case, every number in the ledger, every target on
the ladder.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import cached_property

from ..account.cases import Cases
from ..account.context import Context
from ..account.report import BillLine, Case, Caution, CutLine, Report, Rung, Verdict, WorkStep, in_terms_of
from ..account.verdicts import RANK, merged, overall, sorted_ladder
from ..building import order
from ..building.bill import Bill, bill_of
from ..building.misfits import misfits
from ..checks import homing
from ..checks.travel import move_and_stop
from ..design.assumed import assumed, assumed_rigid
from ..design.design import AxisDesign, as_measured
from ..design.layouts import layout_of
from ..fields.axis import Head
from ..fields.part import fingerprint, part_at
from ..fields.profile import Profile
from ..fields.rows import Name, naming
from ..geometry.scene import Scene
from ..ledger.amounts import said
from ..ledger.errors import EntryError
from ..ledger.quantity import Ledger, Quantity
from ..parts.ends.contract import End
from ..parts.motor_steps import brake_on
from ..parts.stages.contract import Motor, Stage
from . import chain, forces, give, sides, stand
from .drive_line import drive_line
from .pieces import fits_together, hubs_over_shafts, parts_of


def evaluate(design: AxisDesign, profiles: Mapping[str, Profile]) -> Report:
    """Work out everything that follows from a design.

    Results that lack an input are written down with the input's path; a design that cannot be built at all (a
    rail shorter than its carriage, a bore larger than its hub) raises EntryError with every such field.
    Several heads or directions are worked out one by one: the report is that of the worst, and each rung of
    its ladder that of the case worst for it.
    """
    worst, runs = work_out(design, profiles)
    return worst.report(runs)


def work_out(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Run, list[Run]]:
    """Every case of a design worked out, the worst of them first; measured dimensions count instead of drawn
    ones.
    """
    design = as_measured(design)
    end, stages, motor = parts_of(design)
    fits_together(design, end, motor)
    runs = each_case(design, profiles, end, stages, motor)
    if len(runs) == 1:
        return runs[0], runs
    worst = min(
        runs,
        key=lambda run: (
            RANK[run.verdict],
            round(run.headroom, 9),
            sorted(round(r.headroom, 9) for r in run.ladder if r.headroom is not None),
        ),
    )
    return worst, runs


def each_case(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    end: End,
    stages: list[Stage],
    motor: Motor,
    late: bool = False,
) -> list[Run]:
    """A run for each head and each direction or setting of the end; what is set once for all of them is taken
    over all. With `late` for columns.
    """
    heads: list[Head | None] = [*design.heads] or [None]
    listed = [(case, head) for head in heads for case in end.cases(design)]

    def walked(late: bool, cases: Cases | None) -> list[Run]:
        return [Run(design, profiles, end, stages, motor, *one, late=late, cases=cases) for one in listed]

    if len(listed) == 1:
        return walked(late, None)
    if not late:
        return walked(False, Cases(lambda cases: [run.ctx.book for run in walked(True, cases)]))
    runs: list[Run] = []
    runs += walked(True, Cases(lambda _: [run.ctx.book for run in runs]))
    return runs


def draw(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Scene, ...]:
    """Only the drawings of a design's belts and its end, as fast as a hand drags; EntryError names what is in
    the way.
    """
    design = as_measured(design)
    end, stages, _ = parts_of(design)
    case = end.cases(design)[0]
    ctx = Context(end.aimed(design, case), profiles, case=case)
    check(ctx, stages, end)
    if ctx.problems:
        raise EntryError(ctx.problems)
    ctx.travel = end.travel(ctx)
    for j, s in enumerate(stages[1:], start=1):
        s.transmit(f"chain.{j}", ctx)
    end.moving(ctx)
    scenes = [end.scene(ctx), *(s.scene(f"chain.{j}", ctx) for j, s in enumerate(stages))]
    return tuple(s for s in scenes if s is not None)


def check(ctx: Context, stages: list[Stage], end: End) -> None:
    """Problems between the fields of every part."""
    for j, stage in enumerate(stages):
        stage.check(f"chain.{j}", ctx)
    end.check(ctx)


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
        late: bool = False,
        cases: Cases | None = None,
    ) -> None:
        self.whole, design = design, end.aimed(design, case)
        ctx = self.ctx = Context(design, profiles, Ledger(late=late), case=case, cases=cases)
        ctx.whole = self.whole
        self.design, self.end, self.stages, self.motor = design, end, stages, motor
        self.name = ", ".join(n for n in (head.label if head else "", case) if n)
        hubs_over_shafts(ctx, end)
        check(ctx, stages, end)
        if not (ctx.problems and end.guided):
            ctx.travel = end.travel(ctx)
        move_and_stop(ctx, end.guided)
        if ctx.problems:
            raise EntryError(ctx.problems)
        moving = sides.shared(ctx, end.moving(ctx))
        ctx.counts = moving.counts
        pull = sides.pull_factor(ctx)
        ctx.loads = forces.loads(ctx, end, moving, head, pull)
        state = motor.settle("chain.0", ctx)
        passes = [ctx.once(s.transmit, f"chain.{j}") for j, s in enumerate(stages)]
        drive = ctx.drive = chain.walk(ctx, stages, passes, moving, ctx.loads.by_phase)
        ctx.moved = forces.moved(ctx)
        last = len(stages) - 1
        ctx.shaft = stages[last].output_shaft(f"chain.{last}", ctx, end.overhang())
        path, field = give.torque_path(ctx, end, state.field_stiffness, moving.lam)
        far = sides.cross_shaft(ctx, moving.lam)
        ctx.peaks = forces.peaks(ctx, moving, give.ringing(ctx, end, moving, far), pull)
        self.curve = motor.motion_rungs("chain.0", ctx, drive.lam_motor, drive.torque_in[0], state)
        chain.check_limits(ctx, stages, passes)
        end.forces(ctx)
        soft = {f"chain.{j}": f"chain.{j}.{s.soft_field}" for j, s in enumerate(stages)}
        found = give.give_along(ctx, end, path, field, moving, soft, far)
        self.give = found
        self.stands: Quantity | None = None  # what it gives for a newton while it stands, mm/N
        if found.softest is not None:
            at_rest = state.field_standing
            self.stands = give.precision(ctx, found.softest, motor.positioning, field, at_rest, moving.motors)
            sides.square(ctx, found.softest, end, far)
        stand.check(ctx, end.guided)
        forces.unpowered(ctx, state.detent, moving.motors)
        if ctx.plain and end.guided and motor.positioning and ctx.travel is not None:
            homing.switches(ctx)
        if ctx.plain and (end.guided or motor.positioning):
            _drive_notes(ctx)

    @cached_property
    def ladder(self) -> tuple[Rung, ...]:
        return sorted_ladder([target.judged() for target in self.ctx.targets])

    @cached_property
    def bill(self) -> Bill:
        """What to buy, the same in every case."""
        return bill_of(self.ctx, self.stages, self.end)

    @cached_property
    def steps(self) -> tuple[WorkStep, ...]:
        """What there is to do, in no order yet; steps, parts and things by references to their rows."""
        ctx = self.ctx
        listed = [w for j, s in enumerate(self.stages) for w in s.work(f"chain.{j}", ctx)]
        listed += [*brake_on(ctx), *self.end.work(ctx)]
        ref = self.naming[0]
        return tuple(listed) if ref is str else tuple(w.called(ref) for w in listed)

    @cached_property
    def naming(self) -> tuple[Name, Name]:
        """From a path of this design to the reference that keeps to its row, and back."""
        return naming(self.design)

    @property
    def lines(self) -> tuple[BillLine, ...]:
        """The lines of its bill, by references to their rows."""
        ref = self.naming[0]
        return (
            self.bill.lines if ref is str else tuple(replace(b, field=ref(b.field)) for b in self.bill.lines)
        )

    @cached_property
    def cuts(self) -> tuple[CutLine, ...]:
        """What to cut, or to buy by length."""
        listed = [c for j, s in enumerate(self.stages) for c in s.cut(f"chain.{j}", self.ctx)]
        return (*listed, *self.end.cut(self.ctx))

    def as_it_stands(self, name: str) -> tuple[str, str]:
        """What a part of the design or a result is called, by its reference, and how it stands: a
        fingerprint, or the value.
        """
        name = self.naming[1](name)
        found = self.ctx.book.results.get(name)
        if found is not None:
            value = "" if found.value is None else f"{found.value:.3g} {found.unit}"
            return found.label[0].lower() + found.label[1:], value
        if name not in self._standing:
            called = next((b.what for b in self.bill.lines if b.field == name), name)
            try:
                self._standing[name] = called, fingerprint(part_at(self.design, name))
            except (AttributeError, IndexError, ValueError):
                self._standing[name] = called, ""
        return self._standing[name]

    @cached_property
    def _standing(self) -> dict[str, tuple[str, str]]:
        """Parts as they stand, each looked at once: several steps rest on one."""
        return {}

    @cached_property
    def drawings(self) -> tuple[tuple[str, Scene], ...]:
        """Drawings of the end and of every stage that has one, each by its path in the design."""
        drawn = [("end", self.end.scene(self.ctx))]
        drawn += [(f"chain.{j}", s.scene(f"chain.{j}", self.ctx)) for j, s in enumerate(self.stages)]
        return tuple((at, scene) for at, scene in drawn if scene is not None)

    @cached_property
    def overall(self) -> tuple[Verdict, str]:
        return overall(self.ladder)

    @property
    def verdict(self) -> Verdict:
        return self.overall[0]

    @property
    def worst(self) -> str:
        """The rung that gives the verdict."""
        return self.overall[1]

    @property
    def headroom(self) -> float:
        return next((r.headroom for r in self.ladder if r.key == self.worst), None) or 0.0

    def report(self, runs: list[Run]) -> Report:
        """The whole report, with the ladder of every case."""
        ctx, design, end, stages = self.ctx, self.design, self.end, self.stages
        bill = self.bill
        shares = self.give.shares()
        line, pluck = drive_line(ctx, stages, end, shares), end.pluck(ctx)
        work, to_order = order.plan(self.steps, self.lines, design.ticks(), self.as_it_stands)
        money = [bill.money] if bill.money else []
        cases: tuple[Case, ...] = ()
        rungs = [*self.ladder, *money]
        if len(runs) > 1:
            cases = tuple(
                Case(r.name, r.verdict, order.in_words(next(x for x in r.ladder if x.key == r.worst)))
                for r in runs
            )
            rungs = [*merged([(r.name, r.ladder) for r in runs]), *money]
        ladder = sorted_ladder(rungs)
        verdict, worst = overall(ladder)
        by_layout = assumed(self.whole)
        made = Report(
            design.name,
            verdict,
            worst,
            order.in_words(next(r for r in ladder if r.key == worst)),
            ladder,
            tuple(ctx.book.results.values()),
            line,
            shares,
            self.give.curves(),
            self.curve(),
            next((sides.from_above(ctx, scene) for at, scene in self.drawings if at == "end"), None),
            tuple([scene for at, scene in self.drawings if at != "end"]),
            (*end.tables(ctx), *(t for t in (self.give.rings(),) if t is not None)),
            cases,
            self.name if len(runs) > 1 else "",
            layout_of(design),
            end.point,
            end.guided,
            end.straight,
            end.guided or end.sloped,
            self.motor.positioning,
            self.cuts,
            pluck,
            bill.lines,
            bill.total,
            bill.spend,
            bill.typical,
            bill.unpriced,
            design.aim.currency,
            work,
            to_order,
            _cautions(ctx, stages, end),
            tuple(self.motor.settings(ctx, self.end.degree_mm(ctx))),
            tuple(ctx.notes),
            misfits(design.made, ctx.book.results),
            by_layout,
            assumed_rigid(self.whole, by_layout),
        )
        return made if end.point == "carriage" else in_terms_of(made, end.point)


def _drive_notes(ctx: Context) -> None:
    play = ctx.drive.backlash.value
    if play is not None and play > ctx.design.aim.error_mm:
        ctx.note(
            "shake",
            "chain",
            f"Backlash alone is {said(play, 'mm', '.3f')} at the carriage, more than the "
            f"{said(ctx.design.aim.error_mm, 'mm')} allowed.",
        )


def _cautions(ctx: Context, stages: list[Stage], end: End) -> tuple[Caution, ...]:
    return tuple(
        dict.fromkeys(
            [c for j, s in enumerate(stages) for c in s.cautions(f"chain.{j}", ctx)] + end.cautions(ctx)
        )
    )
