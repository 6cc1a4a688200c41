"""One order of work over the axes of a machine: what waits for what, what is here, what could be done
by when.
"""

from __future__ import annotations

import logging
from collections.abc import Iterable, Mapping
from dataclasses import replace
from functools import cached_property

from ..account.report import BillLine, PlannedStep, Report, WorkStep, enough
from ..building.order import Waits, plan, sorted_steps, waits_of
from ..design.riding import Standing, settled
from ..evaluation.evaluate import Run, work_out
from ..fields.axis import Tick
from ..fields.profile import Profile
from ..ledger.errors import EntryError, Problem, problem
from ..ledger.record import record
from .design import MachineAxis, MachineFile, MachinePlan, Purchase, lowest_first

_log = logging.getLogger(__name__)
OWN = ""
# Of an axis beneath, what has to be finished before another one is set on it.
FIRST_BENEATH = "looked"
SETS_UP = ("rail_on", "bearings", "middle_on", "motor_on")  # the first of them that it has sets an axis up


class Axes:
    """The axes of a machine worked out, each with its report and the load of what rides on it; `left_out`
    those that cannot be, and why.
    """

    def __init__(self, machine: MachineFile, profiles: Mapping[str, Profile]) -> None:
        self.machine = machine
        standing = settled(Standing(a.key, a.design.name, a.rides_on or None, a.design) for a in machine.axes)
        self.runs: dict[str, tuple[Run, list[Run]]] = {}
        self.reports: dict[str, Report] = {}
        self.left_out: dict[str, tuple[Problem, ...]] = {}
        self.axes = {a.key: a for a in lowest_first(machine)}
        for key in self.axes:
            here = standing[key]
            try:
                if here.problems or here.design is None:
                    raise EntryError(list(here.problems))
                run, runs = work_out(here.design, profiles)
                self.reports[key] = run.report(runs)
                self.runs[key] = run, runs
            except EntryError as error:
                self.left_out[key] = tuple(error.problems)
            except Exception as error:
                # One axis that breaks off must not take the sound ones beside it along; it is told as that.
                _log.exception("an axis could not be worked out")
                says = f"has met a fault of this program, not of its design ({type(error).__name__})"
                remedy = "Undo its last change, or go back to an earlier revision."
                self.left_out[key] = (problem("design", says, remedy=remedy),)

    def name(self, key: str) -> str:
        """What an axis is called."""
        return self.axes[key].design.name

    @cached_property
    def lines(self) -> tuple[BillLine, ...]:
        """Every line of every bill, by axis and field, as its parcels have it; else as its own design has
        it.
        """
        brought = by_line(self.machine.bought)
        out = []
        for key, (run, _) in self.runs.items():
            for of_axis in run.lines:
                line = replace(of_axis, field=f"{key}:{of_axis.field}")
                parcels = brought.get(line.field)
                out.append(parcels.line(line) if parcels and not line.in_stock else line)
        return tuple(out)

    @cached_property
    def steps(self) -> tuple[WorkStep, ...]:
        """The steps of all axes and the maker's own, in no order yet; what the maker says of a step that is
        not there any more holds nothing up.
        """
        plan = self.machine
        listed = [s for key, (run, _) in self.runs.items() for s in self._of_axis(self.axes[key], run)]
        listed += [WorkStep(f"{OWN}:{s.key}", s.do, check=s.check) for s in plan.own]
        known = {name for s in listed for name in (s.key, *s.gives)}
        first: dict[str, list[str]] = {}
        for own in plan.own:
            first.setdefault(f"{OWN}:{own.key}", []).extend(own.after)
            for ref in own.before:
                first.setdefault(ref, []).append(f"{OWN}:{own.key}")
        for moved in plan.moved:
            first.setdefault(moved.before, []).append(moved.step)
        covers = {f"{OWN}:{s.key}": s.covers for s in plan.own}
        return tuple(
            replace(
                s,
                after=(*s.after, *(r for r in first.get(s.key, ()) if r in known)),
                covers=(*s.covers, *(r for r in covers.get(s.key, ()) if r in known)),
            )
            for s in listed
        )

    @cached_property
    def waits(self) -> tuple[Waits, ...]:
        """What puts each step in its place."""
        return tuple(waits_of(s) for s in self.steps)

    def _of_axis(self, axis: MachineAxis, run: Run) -> list[WorkStep]:
        key, mount = axis.key, axis.rides_on
        steps = [s.called(lambda name: f"{key}:{name}") for s in run.steps]
        if mount not in self.runs:
            return steps
        below = self.runs[mount][0]
        clamp = getattr(below.end, "clamp", None)
        covers = (
            tuple(f"{mount}:{s.key}" for s in below.steps if "clamp" in s.fastens)
            if clamp is not None and clamp.reached == "under the tool plate"
            else ()
        )
        keys = {s.key for s in steps}
        set_up = next((at for name in SETS_UP if (at := f"{key}:{name}") in keys), "")
        return [
            replace(
                s,
                do=f"On {self.name(mount)}: {s.do}",
                after=(*s.after, f"{mount}:{FIRST_BENEATH}"),
                covers=(*s.covers, *covers),
            )
            if s.key == set_up
            else s
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

    def planned(self) -> tuple[PlannedStep, ...]:
        """The order of work; EntryError where own steps wait for each other."""
        try:
            return plan(self.steps, self.lines, self.ticks, self.stands)[0]
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


def pieces(bought: Iterable[Purchase]) -> dict[str, float]:
    """How many pieces purchases bring to each line."""
    out: dict[str, float] = {}
    for p in bought:
        for s in p.shares:
            out[s.line] = out.get(s.line, 0.0) + s.quantity
    return out


@record
class Brought:
    """What parcels bring to one line: pieces that have come, and with those on their way; the day on which
    the last of these was ordered, and on which it is due; whether all was checked.
    """

    came: float
    asked: float
    ordered: str
    due: str
    checked: bool

    def line(self, line: BillLine) -> BillLine:
        """A line of the bill as it stands with them."""
        return line.standing(enough(self.came, line.quantity), self.ordered, self.due, self.asked)

    def part(self, quantity: float) -> dict[str, bool | str | float]:
        """The fields of a part, of which so many are wanted, as it stands with them."""
        here = enough(self.came, quantity)
        return {"in_stock": here, "ordered": self.ordered, "due": self.due, "got": self.asked}


NOTHING = Brought(0.0, 0.0, "", "", False)


def by_line(bought: Iterable[Purchase]) -> dict[str, Brought]:
    """What was ordered for each line of the bills."""
    parcels: dict[str, list[Purchase]] = {}
    for p in bought:
        for ref in {s.line for s in p.shares} if p.state != "wanted" else ():
            parcels.setdefault(ref, []).append(p)
    out = {}
    for ref, listed in parcels.items():
        open_ = [p for p in listed if not p.arrived]
        out[ref] = Brought(
            pieces(p for p in listed if p.arrived).get(ref, 0.0),
            pieces(listed)[ref],
            max((p.ordered or p.due for p in open_), default=""),
            max((p.due for p in open_), default="") if all(p.due for p in open_) else "",
            all(p.checked for p in listed),
        )
    return out


def part_states(axes: Axes, before: MachinePlan) -> dict[str, dict[str, bool | str | float]]:
    """How each part stands in the design of its own axis for which the parcels are others than `before`."""
    was, now = by_line(before.bought), by_line(axes.machine.bought)
    return {
        line.field: now.get(line.field, NOTHING).part(line.quantity)
        for line in axes.lines
        if was.get(line.field) != now.get(line.field)
    }


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
    order = sorted_steps(axes.waits)
    wanted = {b.field: b.quantity for b in axes.lines if not b.in_stock and b.total != 0}
    finished = {s.key for s in axes.steps if s.key in axes.ticks}
    out = [Until(today, (), _could(axes, order, wanted, finished))]
    finished |= set(out[0].steps)
    due = sorted({p.due for p in axes.machine.bought if p.due and not p.arrived and p.due >= today})
    for day in due:
        brings = [p for p in axes.machine.bought if p.due == day and not p.arrived]
        come = pieces(p for p in axes.machine.bought if p.arrived or today <= p.due <= day)
        left = {f: q for f, q in wanted.items() if not enough(come.get(f, 0.0), q)}
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
