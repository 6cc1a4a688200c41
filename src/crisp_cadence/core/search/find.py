"""The search itself: every combination judged, counted by what rejects it, and the best of those that hold."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter

from .. import stepper
from ..belt import Profile
from ..design import AxisDesign
from ..errors import EntryError
from ..evaluate import work_out
from ..fitting.drawer import Stock
from ..record import record
from ..stages.base import SPEEDS, UNIT
from .ladder import Rungs, Template, rungs_of
from .space import Scope, Space, candidate, space_of

CHUNK = 6  # motors at a time: keeps the arrays near the processor
MOST_ROWS = 240
HOLDS = 1 - 1e-9  # as on the ladder of one design
# Rungs that no choice of motor, reduction, belt or pulley changes; they are taken from the design as it stands.
FIXED = ("travel", "wheel", "rail", "play", "tip", "motor_mount_heat", "idler_mount_heat")
# They must hold, but say nothing of a drive: no part changes them, or they follow from what the search itself sets.
NOT_RANKED = (*FIXED, "pretension", "face")
AFTERWARDS = ("line", "flanges", "ripple", "clearance")  # settled in the Belt step once the parts are chosen
WORDS = {
    "bore": "Bore would leave no metal",
    "clamp_room": "Clamp would meet pulley or idler",
    "chain.1.speed": "Gearbox speed",
    "chain.1.torque": "Gearbox torque",
    "sag": "Sag under the load held",
}


@record
class Rejected:
    """How many combinations a rung rejects, and how many it alone rejects."""

    key: str
    label: str
    count: int
    alone: int


@record
class Found:
    """One combination that holds, with what it is ranked by."""

    name: str
    motor: str
    gear: str
    belt: str
    microsteps: int
    spend: float
    headroom: float
    worst: str
    resolution_mm: float
    speed_mm_s: float
    stiffness_n_mm: float
    mass_kg: float
    owned: bool
    unpriced: int
    changes: dict[str, Any]
    index: tuple[int, int, int, int]


@record
class SearchAnswer:
    """The whole search: how many were tried, what rejected them, how many hold, and the best front of those."""

    tried: int
    holding: int
    rejected: tuple[Rejected, ...]
    rows: tuple[Found, ...]
    front: int
    scope: str
    says: str


def template_of(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Template, dict[str, str]]:
    """The design worked out once, and the labels of its rungs."""
    run, _ = work_out(design, profiles)
    fixed = {r.key: (math.inf if r.verdict == "no demand" else math.nan if r.headroom is None else r.headroom) for r in run.ladder if r.key in FIXED}
    return Template(run, fixed), {r.key: r.label for r in run.ladder}


def search(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    drawer: Sequence[Stock],
    scope: Scope = "anything",
    going: Callable[[float], bool] = lambda _: True,
) -> SearchAnswer:
    """Every motor × supply × current × reduction × belt × pulley × microsteps of the drawer, on the whole ladder.

    `going` is told how much is done (0 to 1) and stops the search by answering False. EntryError where the drawer holds too
    little, or the layout is not one that is searched. What is not looked at here (belt line, flanges, ripple, things near the
    belt) is settled in the Belt step afterwards.
    """
    if scope == "drawer first":
        owned = [row for row in drawer if row.quantity > 0]
        try:
            own = search(design, profiles, owned, "drawer only", going)
        except EntryError:
            own = None  # too little in the drawer, or a layout that is not searched: the whole list says which
        if own is not None and own.rows:
            return replace(own, scope=scope, says="All of it from the drawer.")
        scope = "anything"
    space = space_of(design, profiles, drawer, scope)  # refuses what is not searched
    t, labels = template_of(design, profiles)
    tally = _Tally(space, labels)
    best = _Front()
    count = len(space.motors)
    done = 0
    for first in range(0, count, CHUNK):
        part = slice(first, min(first + CHUNK, count))
        rungs = rungs_of(t, space, part)
        judged = _judge(rungs, space, part, tally)
        best.take(*judged, first)
        done = part.stop
        if not going(done / count):
            break
    rows = _rows(t, space, tally, best.indices())
    rows.sort(key=lambda r: (r.spend, -r.headroom))
    tried = done * len(space.gears) * len(space.belts) * len(space.steps)
    says = "" if done == count else "Stopped before the end: these are the best of what was tried."
    if not rows and not says:
        most = max(tally.rows(), key=lambda r: r.alone, default=None)
        says = "Nothing holds. " + (
            f"{most.label} alone stands in the way of {most.alone} of them." if most is not None and most.alone else "Every combination fails at more than one rung: ask for less, or widen the scope."
        )  # fmt: skip
    return SearchAnswer(tried, tally.holding, tuple(tally.rows()), tuple(rows[:MOST_ROWS]), len(rows), scope, says)


class _Tally:
    """Counts of what rejects, by a bit for each rung."""

    def __init__(self, space: Space, labels: Mapping[str, str]) -> None:
        self.space, self.labels = space, {**labels, **WORDS}
        self.keys: list[str] = []
        self.counts: dict[str, int] = {}
        self.alone: dict[str, int] = {}
        self.holding = 0

    def bit(self, key: str) -> int:
        """The bit of a rung; the first use of a key gives it one."""
        if key not in self.keys:
            self.keys.append(key)
        return self.keys.index(key)

    def rows(self) -> list[Rejected]:
        """What rejects most, first."""
        out = [Rejected(k, self.labels.get(k, k.replace("_", " ").capitalize()), self.counts.get(k, 0), self.alone.get(k, 0)) for k in self.keys]
        return sorted((r for r in out if r.count), key=lambda r: -r.count)


def _judge(rungs: Rungs, space: Space, part: slice, tally: _Tally) -> tuple[NDArray[np.intp], NDArray[np.float64]]:
    """Combinations of a slice that hold (their indices), and what they are ranked by."""
    shape = (len(space.motors[part]), len(space.gears), len(space.belts))
    steps = len(space.steps)
    # The rung of speed fails just where that of the accelerating torque does (the margin is the same): it is counted once.
    failed = np.zeros(shape, dtype=np.uint64)
    least = np.full(shape, np.inf)
    for key, head in rungs.headroom.items():
        bad = ~(np.asarray(head) >= HOLDS)
        _mark(tally, failed, key, bad, shape, steps)
        if key not in NOT_RANKED:
            np.minimum(least, head, out=least)
    for key, bad in rungs.unbuildable.items():
        _mark(tally, failed, "clamp_room" if key == "clamp" else key, np.asarray(bad), shape, steps)
    late = np.zeros((*shape[1:], steps), dtype=np.uint64)
    for key, head in rungs.by_steps.items():
        bad = ~(head >= HOLDS)
        if bad.any():
            late |= np.where(np.broadcast_to(bad, late.shape), np.uint64(1) << np.uint64(tally.bit(key)), np.uint64(0))
            tally.counts[key] = tally.counts.get(key, 0) + int(np.count_nonzero(np.broadcast_to(bad, late.shape))) * shape[0]
    whole = failed[..., None] | late[None]
    single = whole[(whole & (whole - np.uint64(1))) == 0]
    found, many = np.unique(single[single != 0], return_counts=True)
    for value, n in zip(found.tolist(), many.tolist(), strict=True):
        key = tally.keys[int(value).bit_length() - 1]
        tally.alone[key] = tally.alone.get(key, 0) + n
    holding = np.argwhere(whole == 0)
    tally.holding += len(holding)
    i, j, k, s = holding.T
    by_steps = np.minimum.reduce([np.broadcast_to(h, late.shape) for h in rungs.by_steps.values()])
    v = rungs.values

    def of(name: str) -> NDArray[np.float64]:
        return np.asarray(np.broadcast_to(v[name], shape))[i, j, k]

    ranked = np.stack(
        [of("spend"), -np.minimum(least[i, j, k], by_steps[j, k, s]), np.broadcast_to(v["step"], late.shape)[j, k, s], -of("stiffness"), of("mass")], axis=1
    )  # fmt: skip
    return holding, ranked


def _mark(tally: _Tally, failed: NDArray[np.uint64], key: str, bad: NDArray[np.bool_], shape: tuple[int, int, int], steps: int) -> None:
    if not bad.any():
        return
    full = np.broadcast_to(bad, shape)
    failed |= np.where(bad, np.uint64(1) << np.uint64(tally.bit(key)), np.uint64(0))
    tally.counts[key] = tally.counts.get(key, 0) + int(np.count_nonzero(full)) * steps


def _not_beaten(columns: NDArray[np.float64], by: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which rows are better than `by` somewhere; `columns` is one array for each thing that is ranked."""
    keep = columns[0] < by[0]
    for column, value in zip(columns[1:], by[1:], strict=True):
        keep |= column < value
    return np.asarray(keep)


def best_front(ranked: NDArray[np.float64]) -> NDArray[np.intp]:
    """Places of the rows that no other row beats or equals in every column while being better in one; lower is better.

    Equation: row r is on the front unless some q ≤ r everywhere and q < r somewhere; of equal rows the first stays
    Units: any → places
    Range: finite numbers
    Source: handbook — set of efficient points (Pareto)

    >>> best_front(np.array([[1.0, 2.0], [2.0, 1.0], [2.0, 2.0]])).tolist()
    [0, 1]
    """
    if not len(ranked):
        return np.empty(0, dtype=np.intp)
    # A row that another beats has a larger sum of its columns, each scaled to its spread: so the least sum is on the front,
    # what it beats is dropped, and the least sum of the rest is on the front too.
    span = np.ptp(ranked, axis=0)
    rest = np.argsort(((ranked - ranked.min(axis=0)) / np.where(span > 0, span, 1.0)).sum(axis=1), kind="stable")
    rows = np.ascontiguousarray(ranked[rest].T)
    out: list[int] = []
    while len(rest):
        out.append(int(rest[0]))
        stays = _not_beaten(rows, rows[:, 0])
        rest, rows = rest[stays], rows[:, stays]
    return np.array(sorted(out), dtype=np.intp)


class _Front:
    """The best front of everything seen so far; memory stays bounded whatever the space."""

    def __init__(self) -> None:
        self.ranked = np.empty((0, 5))
        self.index = np.empty((0, 4), dtype=np.intp)

    def take(self, holding: NDArray[np.intp], ranked: NDArray[np.float64], first_motor: int) -> None:
        """Adds a slice's combinations and keeps the front."""
        if not len(holding):
            return
        moved = holding + np.array([first_motor, 0, 0, 0])
        if len(self.ranked):
            # What one of the present front beats cannot come in.
            span = np.ptp(self.ranked, axis=0)
            strong = np.argsort(((self.ranked - self.ranked.min(axis=0)) / np.where(span > 0, span, 1.0)).sum(axis=1), kind="stable")
            columns, places = np.ascontiguousarray(ranked.T), np.arange(len(ranked))
            for row in self.ranked[strong]:
                keep = _not_beaten(columns, row)
                columns, places = columns[:, keep], places[keep]
            ranked, moved = columns.T, moved[places]
        own = best_front(ranked)
        self.ranked, self.index = np.concatenate([self.ranked, ranked[own]]), np.concatenate([self.index, moved[own]])
        left = best_front(self.ranked)
        self.ranked, self.index = self.ranked[left], self.index[left]

    def indices(self) -> list[tuple[int, int, int, int]]:
        """Places of the front's combinations in the space."""
        return [tuple(int(x) for x in row) for row in self.index]  # type: ignore[misc]


Index = tuple[int, int, int, int]


def headroom_of(t: Template, space: Space, indices: Sequence[Index]) -> list[dict[str, float]]:
    """Headroom of every rung of single combinations, by the same arrays; what cannot be built has a headroom of 0."""
    return _heads(t, space, indices, _picked(t, space, indices))


def _picked(t: Template, space: Space, indices: Sequence[Index]) -> Rungs:
    i, j, k, _ = np.array(indices, dtype=np.intp).reshape(-1, 4).T
    return rungs_of(t, space, picked=(i, j, k))


def _heads(t: Template, space: Space, indices: Sequence[Index], rungs: Rungs) -> list[dict[str, float]]:
    count = len(indices)
    steps = [s for _, _, _, s in indices]
    columns = {key: np.broadcast_to(h, (count, 1, 1))[:, 0, 0] for key, h in rungs.headroom.items()}
    columns |= {key: np.broadcast_to(h, (count, 1, 1, len(space.steps)))[np.arange(count), 0, 0, steps] for key, h in rungs.by_steps.items()}
    columns["speed"] = _reach(rungs, count, t.design.assumptions.margin_torque) / t.design.aim.speed_mm_s
    out = [{key: float(column[n]) for key, column in columns.items()} for n in range(count)]
    for key, bad in rungs.unbuildable.items():
        for n in np.flatnonzero(np.broadcast_to(bad, (count, 1, 1))):
            out[n]["clamp_room" if key == "clamp" else key] = 0.0
    return out


def _reach(rungs: Rungs, count: int, margin: float) -> NDArray[np.float64]:
    """Highest speed at which each motor keeps its margin over the torque asked, mm/s: two passes over a grid, a straight line at the end."""
    v = rungs.values
    lam, need, *torque = (np.broadcast_to(x, (count, 1, 1))[:, 0] for x in (v["lam"], v["asked"] * margin, *v["torque"]))
    rows = np.arange(count)
    grid = np.broadcast_to(SPEEDS, (count, len(SPEEDS)))
    for _ in range(2):
        spare = stepper.pull_out_torque(grid * lam, *torque) - need
        last = grid.shape[1] - 1 - np.argmax(spare[:, ::-1] >= 0, axis=1)
        never, always = spare[:, 0] < 0, last >= grid.shape[1] - 1
        last = np.minimum(last, grid.shape[1] - 2)
        low, high = grid[rows, last], grid[rows, last + 1]
        a, b = spare[rows, last], spare[rows, last + 1]
        found = np.where(always, grid[:, -1], low + (high - low) * a / np.where(a == b, 1.0, a - b))
        found = np.where(never, 0.0, found)
        grid = low[:, None] + (high - low)[:, None] * UNIT
    return np.asarray(found)


def _rows(t: Template, space: Space, tally: _Tally, indices: Sequence[Index]) -> list[Found]:
    if not indices:
        return []
    rungs, count = _picked(t, space, indices), len(indices)
    v = {n: np.broadcast_to(rungs.values[n], (count, 1, 1))[:, 0, 0] for n in ("spend", "stiffness", "mass")}
    v["step"] = np.broadcast_to(rungs.values["step"], (count, 1, 1, len(space.steps)))[np.arange(count), 0, 0, [s for *_, s in indices]]
    out = []
    for n, ((i, j, k, s), every) in enumerate(zip(indices, _heads(t, space, indices, rungs), strict=True)):
        heads = {key: h for key, h in every.items() if math.isfinite(h) and key not in NOT_RANKED}
        worst = min(heads, key=lambda key: heads[key])
        motor, gear, belt = space.motors[i], space.gears[j], space.belts[k]
        out.append(
            Found(
                f"{motor.name}; {gear.name}; {belt.name}", motor.name, gear.name, belt.name, space.steps[s], float(v["spend"][n]), heads[worst],
                tally.labels.get(worst, worst), float(v["step"][n]), heads.get("speed", 0.0) * t.design.aim.speed_mm_s, float(v["stiffness"][n]), float(v["mass"][n]),
                motor.owned and gear.owned and belt.owned, motor.unpriced + gear.unpriced + belt.unpriced, candidate(t.design, space, i, j, k, s), (i, j, k, s),
            )
        )  # fmt: skip
    return out


@lru_cache(maxsize=1)
def _adapter() -> TypeAdapter[SearchAnswer]:
    return TypeAdapter(SearchAnswer)


def answer_json(answer: SearchAnswer) -> bytes:
    """The answer as JSON."""
    return _adapter().dump_json(answer)
