"""What of the one order of a machine is done at one of its axes."""

from __future__ import annotations

from dataclasses import replace

from ..account.report import PlannedStep
from ..ledger.record import record
from .layout import bars
from .passing import passings, solids, told
from .work import OWN, Axes, by_line


@record
class InMachine:
    """The order of work of one axis as its machine has it: its own steps, and those of the maker's that touch
    it (":key"), in the machine's order. `elsewhere` says by step what else of the machine has to be done
    first; `by_parcel` names the lines of its bill that have come with a parcel.
    """

    work: tuple[PlannedStep, ...]
    elsewhere: dict[str, tuple[str, ...]]
    by_parcel: tuple[str, ...]


def in_machine(axes: Axes, key: str) -> InMachine:
    """What of the one order of a machine is done at one axis."""
    drawn = bars(axes)
    planned = told(axes.planned(), passings(axes, drawn, solids(axes, drawn)))
    by_ref = {step.key: step for step in planned}
    own = {
        f"{OWN}:{s.key}"
        for s in axes.machine.own
        if any(ref.startswith(f"{key}:") for ref in (*s.after, *s.before, *s.covers))
    }
    at = f"{key}:"

    def here(ref: str) -> bool:
        return ref.startswith(at) or ref in own

    work, elsewhere = [], {}
    for step in planned:
        if not here(step.key):
            continue
        name = step.key.removeprefix(at)
        others = [ref for ref in step.waits_for_steps if not here(ref)]
        if others:
            elsewhere[name] = tuple(_called(axes, by_ref[ref]) for ref in others)
        work.append(
            replace(
                step,
                key=name,
                covers=tuple(ref.removeprefix(at) for ref in step.covers if here(ref)),
                waits_for_steps=tuple(ref.removeprefix(at) for ref in step.waits_for_steps if here(ref)),
                stands={ref.removeprefix(at): how for ref, how in step.stands.items()},
            )
        )
    came = by_line(p for p in axes.machine.bought if p.arrived)
    lines = (line.field for line in axes.lines if line.in_stock and line.field in came)
    place = axes.runs[key][0].naming[1] if key in axes.runs else str
    by_parcel = tuple(place(ref.removeprefix(at)) for ref in lines if ref.startswith(at))
    return InMachine(tuple(work), elsewhere, by_parcel)


def _called(axes: Axes, step: PlannedStep) -> str:
    key = step.key.partition(":")[0]
    do = step.do if len(step.do) <= 60 else f"{step.do[:57].rsplit(' ', 1)[0]} …"
    return f"{axes.name(key)}: {do}" if key in axes.axes else do
