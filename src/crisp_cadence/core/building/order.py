"""In what order to work, and the verdict in a sentence."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterable, Mapping
from functools import lru_cache
from typing import Literal

from ..account.report import BillLine, OrderLine, PlannedStep, Rung, WorkStep
from ..fields.axis import Tick
from ..ledger.amounts import said

Waits = tuple[str, tuple[str, ...], tuple[str, ...], tuple[str, ...], tuple[str, ...]]


def waits_of(step: WorkStep) -> Waits:
    """What puts a step in its place: its key, what comes first, what it gives, covers and fastens."""
    return step.key, step.after, step.gives, step.covers, step.fastens


@lru_cache(maxsize=256)
def sorted_steps(waits: tuple[Waits, ...]) -> tuple[tuple[int, frozenset[int]], ...]:
    """Places in working order, each with the places that come first: what it names, all that give what must
    stand for it, and whatever works at fasteners that it covers. Among those that may come next the one
    listed first is taken. ValueError when steps wait for each other, or for what nothing brings about.
    """
    place = {key: i for i, (key, *_) in enumerate(waits)}
    if len(place) < len(waits):
        raise ValueError("two steps have one key")
    givers: dict[str, set[int]] = {key: {i} for key, i in place.items()}
    working: dict[str, set[int]] = {}
    for i, (_, _, gives, _, fastens) in enumerate(waits):
        for thing in gives:
            givers.setdefault(thing, set()).add(i)
        for fastener in fastens:
            working.setdefault(fastener, set()).add(i)
    before: list[set[int]] = []
    for i, (key, after, _, covers, _) in enumerate(waits):
        unknown = [name for name in (*after, *covers) if name not in givers]
        if unknown:
            raise ValueError(f"{key} waits for {unknown[0]}, which nothing brings about")
        first = set().union(*(givers[name] for name in (*after, *covers)))
        for covered in covers:
            for at in givers[covered]:
                first.update(*(working[f] for f in waits[at][4]))
        before.append(first - {i})
    return _in_order([key for key, *_ in waits], before)


@lru_cache(maxsize=256)
def all_behind(waits: tuple[Waits, ...]) -> dict[int, frozenset[int]]:
    """For each place the places of all that has to come before it, near and far."""
    out: dict[int, frozenset[int]] = {}
    for i, first in sorted_steps(waits):
        out[i] = first.union(*(out[j] for j in first))
    return out


def _in_order(keys: list[str], before: list[set[int]]) -> tuple[tuple[int, frozenset[int]], ...]:
    left = [set(needs) for needs in before]
    ready = [i for i, needs in enumerate(left) if not needs]
    heapq.heapify(ready)
    out: list[tuple[int, frozenset[int]]] = []
    while ready:
        i = heapq.heappop(ready)
        out.append((i, frozenset(before[i])))
        for j, needs in enumerate(left):
            if i in needs:
                needs.discard(i)
                if not needs:
                    heapq.heappush(ready, j)
    if len(out) < len(keys):
        placed = {i for i, _ in out}
        stuck = [key for i, key in enumerate(keys) if i not in placed]
        raise ValueError(f"these steps wait for each other: {', '.join(stuck)}")
    return tuple(out)


def plan(
    steps: Iterable[WorkStep],
    bill: Iterable[BillLine],
    done: Mapping[str, Tick],
    stands: Callable[[str], tuple[str, str]],
) -> tuple[tuple[PlannedStep, ...], tuple[OrderLine, ...]]:
    """The order of work with what can be done today, and what to order next so that the work goes on.

    A part is here when it lies in the drawer, or when it costs nothing (it is made from scraps). A step is
    ready when every step before it is done and every part it needs is here. `stands` says of a part or a
    result what it is called and how it stands now.
    """
    listed, lines = list(steps), list(bill)
    away = {b.field: b for b in lines if not b.in_stock and b.total != 0}
    names = {b.field: b.what for b in lines}
    waits = tuple([(waits_of(s), s.needs) for s in listed])
    planned: list[PlannedStep] = []
    orders: dict[str, OrderLine] = {}
    for i, now, before, lacking in _states(waits, frozenset(done), frozenset(away)):
        step = listed[i]
        planned.append(
            PlannedStep(
                step.key,
                step.do,
                step.state,
                step.check,
                step.caution,
                step.covers,
                now,
                before,
                tuple([_coming(away[f]) for f in lacking]),
                tuple([names[f] for f in step.needs if f in names]),
                step.tools,
                step.side,
                step.access,
                done[step.key].day if step.key in done else "",
                {name: stands(name)[1] for name in (*step.needs, *step.rests)},
                _undone(done[step.key], stands) if step.key in done else "",
            )
        )
        if now != "done":
            for f in (f for f in lacking if away[f].to_buy):
                orders.setdefault(f, OrderLine(away[f].what, f, away[f].to_spend, step.key))
    for f, line in ((f, b) for f, b in away.items() if b.to_buy):
        orders.setdefault(f, OrderLine(line.what, f, line.to_spend, ""))
    return tuple(planned), tuple(orders.values())


def _coming(line: BillLine) -> str:
    """A part that is waited for, and when it comes."""
    when = f"due {line.due}" if line.due else f"ordered {line.ordered}" if line.ordered else ""
    if line.got:
        when = f"{line.got:g} of {line.quantity:g} here or ordered"
    return f"{line.what} ({when})" if when else line.what


def _undone(tick: Tick, stands: Callable[[str], tuple[str, str]]) -> str:
    """What a step rested on that is no longer so."""
    changed = []
    for name, stood in tick.stood.items():
        called, now = stands(name)
        if now != stood:
            changed.append(f"{called} is {_said(now)}, was {_said(stood)}" if _figure(stood) else called)
    if not changed:
        return ""
    return f"Changed since then: {'; '.join(changed)}. Look whether it has to be done again."


def _said(stood: str) -> str:
    value, _, unit = stood.partition(" ")
    return said(float(value), unit, ".4g") if value else "no more"


def _figure(stood: str) -> bool:
    """Whether that was the value of a result, with its unit, and no fingerprint."""
    return " " in stood


Now = Literal["done", "ready", "waits"]


@lru_cache(maxsize=256)
def _states(
    waits: tuple[tuple[Waits, tuple[str, ...]], ...], finished: frozenset[str], away: frozenset[str]
) -> tuple[tuple[int, Now, tuple[str, ...], tuple[str, ...]], ...]:
    """In working order the place of each step, its state, the steps and the parts that it waits for; the same
    while only numbers change. Of the steps only those are named that no other of them waits for.
    """
    keys = [w[0] for w, _ in waits]
    listed = tuple([w for w, _ in waits])
    behind = all_behind(listed)
    out = []
    for i, first in sorted_steps(listed):
        open_ = {j for j in first if keys[j] not in finished}
        implied = frozenset[int]().union(*(behind[j] for j in open_))
        before = tuple([keys[j] for j in sorted(open_ - implied)])
        lacking = tuple([f for f in waits[i][1] if f in away])
        now: Now = "done" if keys[i] in finished else "waits" if open_ or lacking else "ready"
        out.append((i, now, before, lacking))
    return tuple(out)


def in_words(rung: Rung) -> str:
    """The verdict of the worst rung as a sentence."""
    label = rung.label[0].lower() + rung.label[1:]
    if rung.verdict == "unknown" or rung.ratio is None:
        return f"unknown: {label} lacks an input"
    if rung.verdict == "short":
        return f"short: {label} has {100 * rung.ratio:.0f} % of what it needs"
    if rung.verdict == "tight":
        return f"tight: {label}, {rung.ratio:.2f} of the {rung.margin:g} asked"
    return f"holds; least headroom in {label}, {rung.ratio:.2f}"
