"""The search itself: every combination judged, what rejects it counted, the best of what holds kept."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter

from ..design.design import AxisDesign
from ..evaluation.evaluate import work_out
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from ..fitting.parts import Fitted
from ..formulas import stepper
from ..ledger.errors import EntryError
from ..ledger.long_work import answer_of
from ..ledger.record import record
from ..parts.stages.contract import highest_speed
from .choice import Choice
from .front import Front
from .ladder import FloatArray, Index, Level, Template, belts_of, motors_of, pairs_of
from .ruler import FIXED, NOT_RANKED, Ruler, by_mass
from .space import PLAIN, Reduction, Scope, Space, candidate, pulleys_of, space_of
from .tally import WORDS, Rejected, Tally

TURNS = np.concatenate([[0.0], np.geomspace(1e-2, 1e5, 700)])  # rad/s, of the motors' curves
PAIRS = 4096  # pairs of reduction and belt at a time
GRID = 60_000  # motors × pairs at a time: keeps the arrays near the processor
MOST_ROWS = 400
WITH_MOTOR = ("wheel", "rail", "tip")  # not so where the motor rides along: settled afterwards
AFTERWARDS = ("line", "flanges", "ripple", "clearance")  # settled in the Belt step once the parts are chosen


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
    """The whole search: how many were tried, what rejected them, how many hold, and the best front of those.

    `left_out` were not tried because another is no worse in anything; values nearer than the share `alike`
    count as equal.
    """

    tried: int
    holding: int
    rejected: tuple[Rejected, ...]
    rows: tuple[Found, ...]
    front: int
    scope: str
    says: str
    left_out: int
    alike: float


def template_of(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Template, dict[str, str]]:
    """The design worked out once, and the labels of its rungs."""
    run, _ = work_out(design, profiles)
    fixed = {
        r.key: (math.inf if r.verdict == "no demand" else math.nan if r.headroom is None else r.headroom)
        for r in run.ladder
        if r.key in FIXED and not (run.end.kind == "riding_motor" and r.key in WITH_MOTOR)
    }
    return Template(run, fixed), {r.key: r.label for r in run.ladder}


@dataclass
class Searching:
    """A search under way: call `steps` and read what is done so far; `answer` at any time."""

    t: Template
    space: Space
    scope: str
    labels: dict[str, str]
    done: int = 0  # pairs of reduction and belt, once for each motor
    tally: Tally = field(init=False)
    best: Front = field(init=False)

    def __post_init__(self) -> None:
        self.tally = Tally(self.space, {**self.labels, **WORDS})
        self.bands = belts_of(self.t, self.space)
        self.ruler = Ruler(self.t, self.space, self.bands)
        self.best = Front(self.ruler.sizes, 4)
        m = {k: v[:, None] for k, v in self.space.motor.items()}
        kt = stepper.torque_constant(m["hold_torque_nm"], m["rated_current_a"])
        current = stepper.current_limit(m["current_a"], 0.0)
        self.curves = stepper.pull_out_torque(
            TURNS, kt, m["resistance_ohm"], m["inductance_mh"], current, m["supply_v"], 200.0
        )[:, ::-1]

    def steps(self) -> Iterator[float]:
        """Works through the whole space; after each piece the share that is done (0 to 1)."""
        space = self.space
        count = len(space.first) * len(space.belts)
        # Motors that ride along load the belt with their mass: those of one mass are looked at together.
        groups = by_mass(space.motor["mass_kg"]) if self.t.rides else [np.arange(len(space.motors))]
        for group in groups:
            before = self.done
            for begin in range(0, count, PAIRS):
                gears, belts = np.divmod(
                    np.arange(begin, min(begin + PAIRS, count), dtype=np.intp), len(space.belts)
                )
                pairs = pairs_of(
                    self.t, space, self.bands, gears, belts, float(space.motor["mass_kg"][group[0]])
                )
                left = self.tally.pairs(pairs, len(group))
                slim = Level(
                    {},
                    {k: h[left] for k, h in pairs.by_steps.items()},
                    {},
                    {k: x[left] for k, x in pairs.values.items()},
                )
                for some in (
                    np.array_split(group, max(1, math.ceil(len(group) * left.size / GRID)))
                    if left.size
                    else []
                ):
                    rungs = motors_of(self.t, space, slim, {k: v[some, None] for k, v in space.motor.items()})
                    self._judge(rungs, slim, left, gears, belts, some)
                    yield (before + begin * len(group)) / (count * len(space.motors))
                self.done = before + (begin + len(gears)) * len(group)
                yield self.done / (count * len(space.motors))

    def _judge(
        self, rungs: Level, pairs: Level, left: Index, gears: Index, belts: Index, motors: Index
    ) -> None:
        """Counts one piece and takes its best in."""
        shape = rungs.values["stiffness"].shape
        holds, least = self.tally.motors(rungs, shape)
        fits = self.tally.fits  # (Q, S): microsteps at which nothing but the motor could fail
        late = np.minimum.reduce(list(pairs.by_steps.values()))
        step, mass = np.broadcast_to(pairs.values["step"], fits.shape), pairs.values["mass"]
        finest, easiest = np.where(fits, step, np.inf).min(axis=1), np.where(fits, late, -np.inf).max(axis=1)
        spend, stiffness, places = (
            np.broadcast_to(rungs.values["spend"], shape),
            rungs.values["stiffness"],
            self.ruler.places,
        )
        # At best a combination has its finest step, the easiest of its rungs of steps, and speed enough: what
        # is beaten even so is not looked at further.
        i, q = np.nonzero(holds & fits.any(axis=1))
        best = places(
            spend[i, q],
            np.minimum(least[i, q], easiest[q]),
            finest[q],
            stiffness[i, q],
            mass[q],
            np.full(len(i), np.inf),
        )
        hopeful = self.best.not_beaten(best)
        i, q = i[hopeful], q[hopeful]
        speed = self._speeds(rungs.values["asked"], pairs.values["lam"], motors, i, q)
        n, s = np.nonzero(fits[q])
        i, q = i[n], q[n]
        ranked = places(
            spend[i, q], np.minimum(least[i, q], late[q, s]), step[q, s], stiffness[i, q], mass[q], speed[n]
        )
        self.best.take(ranked, np.stack([motors[i], gears[left[q]], belts[left[q]], s], axis=1))

    def _speeds(self, asked: FloatArray, lam: FloatArray, motors: Index, i: Index, q: Index) -> FloatArray:
        """Highest speeds with the torque margin kept, mm/s, read off each motor's curve: near enough to rank
        by, rows are told exactly.
        """
        need = np.broadcast_to(asked, (len(motors), len(lam)))[i, q] * self.t.design.assumptions.margin_torque
        turns = np.empty(len(i))
        for k, rows in enumerate(np.split(np.arange(len(i)), np.searchsorted(i, np.arange(1, len(motors))))):
            turns[rows] = np.interp(need[rows], self.curves[motors[k]], TURNS[::-1])
        return np.asarray(turns / lam[q])

    def answer(self) -> SearchAnswer:
        """What has been found so far."""
        space, tally = self.space, self.tally
        count = len(space.first) * len(space.belts) * len(space.motors)
        places: Any = [tuple(int(x) for x in row) for row in self.best.index]
        rows = _rows(self.t, space, tally.labels, places)
        rows.sort(key=lambda r: (r.spend, -r.headroom))
        says = "" if self.done == count else "Stopped before the end: these are the best of what was tried."
        if not rows and not says:
            most = max(tally.rows(), key=lambda r: r.alone, default=None)
            says = "Nothing holds. " + (
                f"{most.label} alone stands in the way of {most.alone} of them."
                if most is not None and most.alone
                else "Every combination fails at more than one rung: ask for less, or widen the scope."
            )
        tried = self.done * len(space.steps)
        return SearchAnswer(
            tried,
            tally.holding,
            tuple(tally.rows()),
            tuple(rows[:MOST_ROWS]),
            len(rows),
            self.scope,
            says,
            space.left_out,
            self.ruler.share,
        )


def begin(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    drawer: Sequence[Stock],
    scope: Scope = "anything",
    reductions: Sequence[Reduction] = PLAIN,
    pruned: bool = True,
) -> Searching:
    """A search of the drawer's every motor × supply × current × reduction × belt × pulley × microsteps, on
    the whole ladder.

    EntryError where the drawer holds too little, or the layout is not one that is searched. What is not
    looked at here (belt line, flanges, ripple, things near the belt) is settled in the Belt step afterwards.
    """
    space = space_of(design, profiles, drawer, scope, reductions, pruned)  # refuses what is not searched
    t, labels = template_of(design, profiles)
    return Searching(t, space, scope, labels)


def searching(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    drawer: Sequence[Stock],
    scope: Scope = "anything",
    reductions: Sequence[Reduction] = PLAIN,
    pruned: bool = True,
) -> Iterator[float | SearchAnswer]:
    """The search step by step: shares of what is done (0 to 1), and the answer last."""
    if scope == "drawer first":
        owned = [row for row in drawer if row.quantity > 0]
        try:
            own = begin(design, profiles, owned, "drawer only", reductions, pruned)
        except EntryError:
            own = (
                None  # too little in the drawer, or a layout that is not searched: the whole list says which
            )
        if own is not None:
            yield from own.steps()
            found = own.answer()
            if found.rows:
                yield replace(found, scope=scope, says="All of it from the drawer.")
                return
        scope = "anything"
    whole = begin(design, profiles, drawer, scope, reductions, pruned)
    yield from whole.steps()
    yield whole.answer()


def search(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    drawer: Sequence[Stock],
    scope: Scope = "anything",
    reductions: Sequence[Reduction] = PLAIN,
    pruned: bool = True,
) -> SearchAnswer:
    """The whole search at once; see `begin`."""
    return answer_of(searching(design, profiles, drawer, scope, reductions, pruned))


Place = tuple[int, int, int, int]


@record
class Looked:
    """Single combinations on the whole ladder, one beside the other."""

    headroom: dict[str, FloatArray]
    by_steps: dict[str, FloatArray]
    unbuildable: dict[str, NDArray[np.bool_]]
    values: dict[str, Any]


def look_at(t: Template, space: Space, places: Sequence[Place]) -> Looked:
    """Every rung of single combinations, by the same arrays."""
    i, j, k, s = np.array(places, dtype=np.intp).reshape(-1, 4).T
    pairs = pairs_of(t, space, belts_of(t, space), j, k, space.motor["mass_kg"][i])
    rungs = motors_of(t, space, pairs, {n: v[i] for n, v in space.motor.items()})
    rows = np.arange(len(i))
    head = {key: np.broadcast_to(h, i.shape) for key, h in {**pairs.headroom, **rungs.headroom}.items()}
    by_steps = {key: h[rows, s] for key, h in pairs.by_steps.items()}
    bad = {
        key: np.asarray(x | rungs.unbuildable.get(key, np.zeros(i.shape, dtype=bool)))
        for key, x in pairs.unbuildable.items()
    }
    values = {**pairs.values, **rungs.values, "step": pairs.values["step"][rows, s]}
    values["reach"] = _reach(values, len(i), t.design.assumptions.margin_torque)
    head["speed"] = values["reach"] / t.design.aim.speed_mm_s
    return Looked(head, by_steps, bad, values)


def headroom_of(t: Template, space: Space, places: Sequence[Place]) -> list[dict[str, float]]:
    """Headroom of every rung of single combinations, by the same arrays; what cannot be built has a headroom
    of 0.
    """
    seen = look_at(t, space, places)
    columns = {**seen.headroom, **seen.by_steps}
    out = [{key: float(column[n]) for key, column in columns.items()} for n in range(len(places))]
    for key, bad in seen.unbuildable.items():
        for n in np.flatnonzero(bad):
            out[n][key] = 0.0
    return out


def _reach(v: Mapping[str, Any], count: int, margin: float) -> FloatArray:
    """Highest speed at which each motor keeps its margin over the torque asked, mm/s."""
    lam, need, *torque = (
        np.broadcast_to(x, (count,))[:, None] for x in (v["lam"], v["asked"] * margin, *v["torque"])
    )
    return np.asarray(highest_speed(lambda grid: stepper.pull_out_torque(grid * lam, *torque), need[:, 0]))


def _rows(t: Template, space: Space, labels: Mapping[str, str], places: Sequence[Place]) -> list[Found]:
    if not places:
        return []
    seen = look_at(t, space, places)
    v = seen.values
    columns = {
        key: h
        for key, h in {**seen.headroom, **seen.by_steps}.items()
        if key.rpartition(".")[2] not in NOT_RANKED
    }
    keys = list(columns)
    whole = np.stack([np.where(np.isfinite(h), h, np.inf) for h in columns.values()])
    worst = whole.argmin(axis=0)
    out = []
    for n, (i, j, k, s) in enumerate(places):
        motor, stages, belt = space.motors[i], space.gear(j), space.belts[k]
        drivers, pulley = pulleys_of(space, i, stages, k)
        parts: tuple[Choice | Fitted, ...] = (
            motor,
            *(space.stages[at] for at in stages),
            belt,
            *drivers,
            pulley,
        )
        said = " and ".join(space.stages[at].name for at in stages) or "direct"
        key = keys[int(worst[n])]
        out.append(
            Found(
                f"{motor.name}; {said}; {belt.name}",
                motor.name,
                said,
                belt.name,
                space.steps[s],
                float(v["spend"][n]),
                float(whole[worst[n], n]),
                labels.get(key, key.rpartition(".")[2].replace("_", " ").capitalize()),
                float(v["step"][n]),
                float(v["reach"][n]),
                float(v["stiffness"][n]),
                float(v["mass"][n]),
                all(p.owned for p in parts),
                sum(p.unpriced for p in parts),
                candidate(t.design, space, i, stages, k, s),
                (i, j, k, s),
            )
        )
    return out


@lru_cache(maxsize=1)
def _adapter() -> TypeAdapter[SearchAnswer]:
    return TypeAdapter(SearchAnswer)


def answer_json(answer: SearchAnswer) -> bytes:
    """The answer as JSON."""
    return _adapter().dump_json(answer)
