"""In what order to work, and the verdict in a sentence."""

from __future__ import annotations

import heapq
from collections.abc import Iterable
from functools import lru_cache
from typing import Literal

from ..account.report import BillLine, OrderLine, PlannedStep, Rung, WorkStep


@lru_cache(maxsize=256)
def _sorted(waits: tuple[tuple[str, tuple[str, ...]], ...]) -> tuple[int, ...]:
    """Places in working order: each after what it needs, and before whatever would cover it; the same for
    every design of one layout, whatever its numbers. Steps named by nobody are ignored; among those that may
    come next the one listed first is taken. ValueError when steps wait for each other.
    """
    place = {key: i for i, (key, _) in enumerate(waits)}
    before = {i: {place[k] for k in keys if k in place} for i, (_, keys) in enumerate(waits)}
    ready = [i for i, needs in before.items() if not needs]
    heapq.heapify(ready)
    out: list[int] = []
    while ready:
        i = heapq.heappop(ready)
        out.append(i)
        for j, needs in before.items():
            if i in needs:
                needs.discard(i)
                if not needs:
                    heapq.heappush(ready, j)
    if len(out) < len(waits):
        stuck = [waits[i][0] for i, needs in before.items() if needs]
        raise ValueError(f"these steps wait for each other: {', '.join(stuck)}")
    return tuple(out)


def plan(
    steps: Iterable[WorkStep], bill: Iterable[BillLine], done: Iterable[str]
) -> tuple[tuple[PlannedStep, ...], tuple[OrderLine, ...]]:
    """The order of work with what can be done today, and what to order next so that the work goes on.

    A part is here when it lies in the drawer, or when it costs nothing (it is made from scraps). A step is
    ready when every step before it is done and every part it needs is here.
    """
    listed, away = list(steps), {b.field: b for b in bill if not b.in_stock and b.total != 0}
    waits = tuple([(s.key, (*s.after, *s.covers), s.needs) for s in listed])
    planned: list[PlannedStep] = []
    orders: dict[str, OrderLine] = {}
    for i, now, before, lacking in _states(waits, frozenset(done), frozenset(away)):
        step = listed[i]
        parts = tuple([away[f].what for f in lacking])
        planned.append(
            PlannedStep(
                step.key, step.do, step.state, step.check, step.caution, step.covers, now, before, parts
            )
        )
        if now != "done":
            for f in lacking:
                orders.setdefault(f, OrderLine(away[f].what, f, away[f].total, step.key))
    for f, line in away.items():
        orders.setdefault(f, OrderLine(line.what, f, line.total, ""))
    return tuple(planned), tuple(orders.values())


State = Literal["done", "ready", "waits"]


@lru_cache(maxsize=256)
def _states(
    waits: tuple[tuple[str, tuple[str, ...], tuple[str, ...]], ...],
    finished: frozenset[str],
    away: frozenset[str],
) -> tuple[tuple[int, State, tuple[str, ...], tuple[str, ...]], ...]:
    """In working order the place of each step, its state, the steps and the parts that it waits for; the same
    while only numbers change.
    """
    open_ = {key for key, _, _ in waits} - finished
    out = []
    for i in _sorted(tuple((key, after) for key, after, _ in waits)):
        key, after, needs = waits[i]
        before = tuple(dict.fromkeys([k for k in after if k in open_]))
        lacking = tuple([f for f in needs if f in away])
        now: State = "done" if key in finished else "waits" if before or lacking else "ready"
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
