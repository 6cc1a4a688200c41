"""One order of work over the axes of a machine: what waits for what, what is here, what could be done
by when.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from functools import cached_property
from typing import Any

from ..account.report import BillLine, OrderLine, PlannedStep, Report, WorkStep
from ..building.order import plan, sorted_steps, waits_of
from ..design.riding import Standing, settled
from ..evaluation.evaluate import Run, work_out
from ..fields.axis import Tick
from ..fields.profile import Profile
from ..ledger.errors import EntryError, Problem, problem
from ..ledger.record import record
from .design import MachineAxis, MachineFile, MachinePlan, Purchase, lowest_first

OWN = ""
# Of an axis beneath, what has to be finished before another one is set on it.
FIRST_BENEATH = "looked"


class Axes:
    """The axes of a machine worked out, each with the load of what rides on it; `left_out` those that cannot
    be, and why.
    """

    def __init__(self, machine: MachineFile, profiles: Mapping[str, Profile]) -> None:
        self.machine = machine
        standing = settled(Standing(a.key, a.design.name, a.rides_on or None, a.design) for a in machine.axes)
        self.runs: dict[str, tuple[Run, list[Run]]] = {}
        self.left_out: dict[str, tuple[Problem, ...]] = {}
        self.axes = {a.key: a for a in lowest_first(machine)}
        for key in self.axes:
            here = standing[key]
            try:
                if here.problems or here.design is None:
                    raise EntryError(list(here.problems))
                self.runs[key] = work_out(here.design, profiles)
            except EntryError as error:
                self.left_out[key] = tuple(error.problems)

    def name(self, key: str) -> str:
        """What an axis is called."""
        return self.axes[key].design.name

    @cached_property
    def reports(self) -> dict[str, Report]:
        """The report of each axis."""
        return {key: run.report(runs) for key, (run, runs) in self.runs.items()}

    @cached_property
    def lines(self) -> tuple[BillLine, ...]:
        """Every line of every bill, by axis and field; here what lies in the drawer or has arrived."""
        come = arrived(self.machine.bought)
        return tuple(
            replace(
                line, field=ref, in_stock=line.in_stock or come.get(ref, 0.0) >= line.quantity * (1 - 1e-9)
            )
            for key, (run, _) in self.runs.items()
            for line in run.bill.lines
            for ref in (f"{key}:{line.field}",)
        )

    @cached_property
    def steps(self) -> tuple[WorkStep, ...]:
        """The steps of all axes and the maker's own, in no order yet."""
        own = [_own(s) for s in self.machine.own]
        of_axes = [s for key, (run, _) in self.runs.items() for s in self._of_axis(self.axes[key], run)]
        return tuple(self._tied([*of_axes, *own]))

    def _of_axis(self, axis: MachineAxis, run: Run) -> list[WorkStep]:
        key, mount = axis.key, axis.rides_on
        steps = [_prefixed(key, s) for s in run.steps]
        if mount not in self.runs:
            return steps
        below = self.runs[mount][0]
        clamp = getattr(below.end, "clamp", None)
        covers = (
            tuple(f"{mount}:{s.key}" for s in below.steps if "clamp" in s.fastens)
            if clamp is not None and clamp.reached == "under the tool plate"
            else ()
        )
        stood = f"On {self.name(mount)}: "
        return [
            replace(
                s, do=stood + s.do, after=(*s.after, f"{mount}:{FIRST_BENEATH}"), covers=(*s.covers, *covers)
            )
            if _is_first(s, steps)
            else s
            for s in steps
        ]

    def _tied(self, steps: list[WorkStep]) -> list[WorkStep]:
        """With what the maker has put before what."""
        more: dict[str, list[str]] = {}
        for own in self.machine.own:
            for ref in own.before:
                more.setdefault(ref, []).append(f"{OWN}:{own.key}")
        for moved in self.machine.moved:
            more.setdefault(moved.before, []).append(moved.step)
        known = {s.key for s in steps}
        gone = set(self.left_out)
        return [
            replace(
                s,
                after=tuple(
                    r
                    for r in (*s.after, *more.get(s.key, ()))
                    if r in known or not _stale(r, known, gone, self)
                ),
                covers=tuple(r for r in s.covers if r in known),
            )
            for s in steps
        ]

    @cached_property
    def ticks(self) -> dict[str, Tick]:
        """What is done, by step."""
        found = {
            f"{key}:{step}": tick.model_copy(
                update={"stood": {f"{key}:{name}": how for name, how in tick.stood.items()}}
            )
            for key, (run, _) in self.runs.items()
            for step, tick in run.design.ticks().items()
        }
        return found | {f"{OWN}:{s.key}": Tick(step=s.key, day=s.done) for s in self.machine.own if s.done}

    def stands(self, ref: str) -> tuple[str, str]:
        """What a part or result of an axis is called, and how it stands."""
        key, _, name = ref.partition(":")
        called, now = self.runs[key][0].as_it_stands(name)
        return f"{called} of {self.name(key)}", now

    def planned(self) -> tuple[tuple[PlannedStep, ...], tuple[OrderLine, ...]]:
        """The order of work, and what to order next; EntryError where own steps wait for each other."""
        try:
            return plan(self.steps, self.lines, self.ticks, self.stands)
        except ValueError as error:
            raise EntryError(
                [
                    problem(
                        "own",
                        str(error),
                        limit="an order in which each comes after what it waits for",
                        remedy="Take one of these steps out of another's “after”, “before” or “covers”.",
                    )
                ]
            ) from None


def _stale(ref: str, known: set[str], gone: set[str], axes: Axes) -> bool:
    """Whether a maker's step points to one that is not there any more; what steps give is no such thing."""
    axis, _, name = ref.partition(":")
    if axis in gone or (axis and axis not in axes.runs):
        return True
    things = {g for s in axes.runs[axis][0].steps for g in s.gives} if axis else set()
    return ref not in known and name not in things


def _is_first(step: WorkStep, steps: list[WorkStep]) -> bool:
    """Whether a step sets an axis up where it stands: nothing but measured parts come before."""
    standing = ("rail_on", "bearings", "middle_on", "motor_on")
    names = [s.key.partition(":")[2] for s in steps]
    first = next((n for n in standing if n in names), "")
    return step.key.partition(":")[2] == first


def _prefixed(key: str, step: WorkStep) -> WorkStep:
    def at(names: Iterable[str]) -> tuple[str, ...]:
        return tuple(f"{key}:{n}" for n in names)

    return replace(
        step,
        key=f"{key}:{step.key}",
        after=at(step.after),
        gives=at(step.gives),
        covers=at(step.covers),
        fastens=at(step.fastens),
        needs=at(step.needs),
        rests=at(step.rests),
    )


def _own(step: Any) -> WorkStep:
    return WorkStep(
        f"{OWN}:{step.key}", step.do, after=tuple(step.after), covers=tuple(step.covers), check=step.check
    )


def arrived(bought: Iterable[Purchase]) -> dict[str, float]:
    """How many pieces have come for each line."""
    out: dict[str, float] = {}
    for p in bought:
        if p.arrived:
            for s in p.shares:
                out[s.line] = out.get(s.line, 0.0) + s.quantity
    return out


def part_states(axes: Axes, before: MachinePlan) -> dict[str, dict[str, bool | str]]:
    """How each part that something was ordered for stands in the design of its own axis: here, or ordered and
    due; of those `before` too that nothing is ordered for any more.
    """
    now = axes.machine.bought
    come, wanted = arrived(now), {b.field: b.quantity for b in axes.lines}
    out: dict[str, dict[str, bool | str]] = {}
    for ref in {s.line for p in (*before.bought, *now) for s in p.shares} & wanted.keys():
        enough = wanted[ref] * (1 - 1e-9)
        mine = [(p, s.quantity) for p in now for s in p.shares if s.line == ref and p.state != "wanted"]
        here = come.get(ref, 0.0) >= enough
        coming = not here and sum(q for _, q in mine) >= enough
        open_ = [p for p, _ in mine if not p.arrived]
        out[ref] = {
            "in_stock": here,
            "ordered": max((p.ordered or p.due for p in open_), default="") if coming else "",
            "due": max((p.due for p in open_), default="") if coming else "",
        }
    return out


@record
class Until:
    """What could be finished by a day: before anything more comes, or with what a delivery brings."""

    day: str
    brings: tuple[str, ...]
    steps: tuple[str, ...]


def timeline(axes: Axes, today: str) -> tuple[Until, ...]:
    """What could be done with what is here, then day by day with each delivery that is due; what is late
    counts as not coming yet.
    """
    waits = tuple(waits_of(s) for s in axes.steps)
    order = sorted_steps(waits)
    wanted = {b.field: b.quantity for b in axes.lines if not b.in_stock and b.total != 0}
    come = dict(arrived(axes.machine.bought))
    finished = {s.key for s in axes.steps if s.key in axes.ticks}
    out = [Until(today, (), _could(axes, order, wanted, finished))]
    finished |= set(out[0].steps)
    due = sorted({p.due for p in axes.machine.bought if p.due and not p.arrived and p.due >= today})
    for day in due:
        brings = [p for p in axes.machine.bought if p.due == day and not p.arrived]
        for p in brings:
            for s in p.shares:
                come[s.line] = come.get(s.line, 0.0) + s.quantity
        left = {f: q for f, q in wanted.items() if come.get(f, 0.0) < q * (1 - 1e-9)}
        found = _could(axes, order, left, finished)
        finished |= set(found)
        out.append(Until(day, tuple(p.what for p in brings), found))
    return tuple(out)


def _could(
    axes: Axes, order: tuple[tuple[int, frozenset[int]], ...], away: Mapping[str, float], finished: set[str]
) -> tuple[str, ...]:
    done = {i for i, s in enumerate(axes.steps) if s.key in finished}
    found = []
    for i, first in order:
        step = axes.steps[i]
        if i not in done and first <= done and not any(f in away for f in step.needs):
            done.add(i)
            found.append(step.key)
    return tuple(found)
