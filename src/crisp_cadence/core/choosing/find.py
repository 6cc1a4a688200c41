"""The search itself: every combination judged, what rejects it counted, the best of what holds kept."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from ..design.design import AxisDesign
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from ..fitting.parts import Fitted
from ..fitting.usable import MOST_NAMED, LeftOut
from ..formulas import stepper
from ..ledger.errors import EntryError
from ..ledger.long_work import answer_of
from ..ledger.record import record
from .choice import Choice, FloatArray, Index
from .front import Front
from .looking import Level, Looker
from .ruler import NOT_RANKED, Ruler
from .space import PLAIN, Reduction, Scope, Space, candidate, pulleys_of, space_of
from .tally import Rejected, Tally

TURNS = np.concatenate([[0.0], np.geomspace(1e-2, 1e5, 700)])  # rad/s, of the motors' curves
PAIRS = 2048  # pairs of reduction and belt at a time
GRID = 160_000  # motors × pairs at a time
MOST_ROWS = 400


@record
class Found:
    """One combination that holds, with what it is ranked by: `fuss` is the trouble it is, as if it were
    money.
    """

    name: str
    motor: str
    gear: str
    belt: str
    microsteps: int
    spend: float
    fuss: float
    headroom: float
    worst: str
    resolution_mm: float
    speed_mm_s: float
    stiffness_n_mm: float
    mass_kg: float
    owned: bool
    typical: int
    changes: dict[str, Any]
    index: tuple[int, int, int, int]


@record
class SearchAnswer:
    """The whole search: how many were tried, what rejected them, how many hold, and the best front of those.

    `left_out` were not tried because another is no worse in anything; values nearer than the share `alike`
    count as equal. `unused` names rows of the drawer with which nothing can be put together, `unused_rows`
    counts them.
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
    unused: tuple[LeftOut, ...] = ()
    unused_rows: int = 0


@dataclass
class Searching:
    """A search under way: call `steps` and read what is done so far; `answer` at any time."""

    looker: Looker
    space: Space
    scope: str
    done: int = 0  # pairs of reduction and belt, once for each motor
    tally: Tally = field(init=False)
    best: Front = field(init=False)

    def __post_init__(self) -> None:
        self.tally = Tally(len(self.space.steps), self.looker.labels)
        self.ruler = Ruler(self.looker)
        self.best = Front(self.ruler.sizes, 4)
        self.most_steps = self.looker.most_steps
        m = {k: v[:, None] for k, v in self.space.motor.items()}
        kt = stepper.torque_constant(m["hold_torque_nm"], m["rated_current_a"])
        current = stepper.current_limit(m["current_a"], 0.0)
        self.curves = stepper.pull_out_torque(
            TURNS, kt, m["resistance_ohm"], m["inductance_mh"], current, m["supply_v"], 200.0
        )[:, ::-1]

    def steps(self) -> Iterator[float]:
        """Works through the whole space; after each piece the share that is done (0 to 1)."""
        space = self.space
        count = len(space.first) * len(space.belts) * len(space.motors)
        for place, structure in enumerate(self.looker.structures):
            across = len(structure.gears) * len(structure.belts)
            for group in self.looker.alike(structure):
                for begin in range(0, across, PAIRS):
                    before = self.done
                    i, j = np.divmod(
                        np.arange(begin, min(begin + PAIRS, across), dtype=np.intp), len(structure.belts)
                    )
                    gears, belts = structure.gears[i], structure.belts[j]
                    for share in self._piece(place, group, gears, belts):
                        yield (before + share * len(gears) * len(group)) / count
                    self.done = before + len(gears) * len(group)
                    yield self.done / count

    def _piece(self, place: int, group: Index, gears: Index, belts: Index) -> Iterator[float]:
        """Some pairs with every motor of a group; shares of it that are done."""
        pairs = self.looker.pairs(place, int(group[0]), gears, belts)
        left = self.tally.pairs(pairs, len(group))
        if not left.size:
            return
        size = max(1, GRID // len(group))
        for begin in range(0, left.size, size):
            at = slice(begin, min(begin + size, left.size))
            slim = Level(
                {},
                {k: h[left[at]] for k, h in pairs.by_steps.items()},
                {},
                {k: x[left[at]] for k, x in pairs.values.items()},
            )
            for some in np.array_split(group, math.ceil(len(group) / GRID)):
                self._judge(self.looker.motors(place, some, slim), slim, some, at)
            yield at.stop / left.size

    def _judge(self, rungs: Level, pairs: Level, motors: Index, at: slice) -> None:
        """Counts one piece and takes its best in; `at` are its pairs among those left."""
        gears, belts = pairs.values["gear"], pairs.values["belt"]
        shape = (len(motors), len(gears))
        holds, least = self.tally.motors(rungs, shape, at)
        fits = self.tally.fits[at]  # (Q, S): microsteps at which nothing but the motor could fail
        late = np.minimum.reduce([*pairs.by_steps.values(), np.full(fits.shape, np.inf)])
        step, mass = np.broadcast_to(pairs.values["step"], fits.shape), pairs.values["mass"]
        finest, easiest = np.where(fits, step, np.inf).min(axis=1), np.where(fits, late, -np.inf).max(axis=1)
        fuss, places = self.looker.fuss(motors[:, None], gears, belts), self.ruler.places
        spend = np.broadcast_to(rungs.values["spend"] + fuss, shape)
        stiffness = np.broadcast_to(rungs.values["stiffness"], shape)
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
        speed = np.minimum(speed[n], self.most_steps * step[q, s])
        ranked = places(
            spend[i, q], np.minimum(least[i, q], late[q, s]), step[q, s], stiffness[i, q], mass[q], speed
        )
        self.best.take(ranked, np.stack([motors[i], gears[q], belts[q], s], axis=1))

    def _speeds(self, asked: FloatArray, lam: FloatArray, motors: Index, i: Index, q: Index) -> FloatArray:
        """Highest speeds with the torque margin kept, mm/s, read off each motor's curve: near enough to rank
        by, rows are told exactly.
        """
        need = (
            np.broadcast_to(asked, (len(motors), len(lam)))[i, q]
            * self.looker.design.assumptions.margin_torque
        )
        turns = np.empty(len(i))
        for k, rows in enumerate(np.split(np.arange(len(i)), np.searchsorted(i, np.arange(1, len(motors))))):
            turns[rows] = np.interp(need[rows], self.curves[motors[k]], TURNS[::-1])
        return np.asarray(turns / lam[q])

    def answer(self) -> SearchAnswer:
        """What has been found so far."""
        space, tally = self.space, self.tally
        count = len(space.first) * len(space.belts) * len(space.motors)
        places: Any = [tuple(int(x) for x in row) for row in self.best.index]
        rows = _rows(self.looker, places)
        rows.sort(key=lambda r: (r.spend + r.fuss, -r.headroom))
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
            space.unused[:MOST_NAMED],
            len(space.unused),
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
    return Searching(Looker(design, profiles, space), space, scope)


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


def headroom_of(looker: Looker, places: Sequence[Place]) -> list[dict[str, float]]:
    """Headroom of every rung of single combinations; of one that cannot be built, "unbuildable" is 0."""
    head, _ = looker.beside(places)
    return [{key: float(column[n]) for key, column in head.items()} for n in range(len(places))]


def _rows(looker: Looker, places: Sequence[Place]) -> list[Found]:
    if not places:
        return []
    space = looker.space
    head, v = looker.beside(places)
    fuss = looker.fuss(*np.array(places, dtype=np.intp).T[:3])
    columns = {key: h for key, h in head.items() if key.rpartition(".")[2] not in NOT_RANKED}
    keys = list(columns)
    whole = np.stack([np.where(np.isfinite(h), h, np.inf) for h in columns.values()])
    worst = whole.argmin(axis=0)
    out = []
    for n, (i, j, k, s) in enumerate(places):
        motor, stages, belt = space.motors[i], space.gear(j), space.belts[k]
        parts: list[Choice | Fitted] = [
            motor,
            *(space.stages[at] for at in stages),
            belt,
            *pulleys_of(space, i, stages, k),
        ]
        laid = belt.name if space.pulleys else ""  # an end without a belt of its own stays as it is
        said = " and ".join(space.stages[at].name for at in stages) or "direct"
        out.append(
            Found(
                "; ".join(p for p in (motor.name, said, laid) if p),
                motor.name,
                said,
                laid,
                space.steps[s],
                float(v["spend"][n]),
                float(fuss[n]),
                float(whole[worst[n], n]),
                looker.labels.get(keys[int(worst[n])], keys[int(worst[n])]),
                float(v["step"][n]),
                float(v["reach"][n]),
                float(v["stiffness"][n]),
                float(v["mass"][n]),
                all(p.owned for p in parts),
                sum(p.typical for p in parts),
                candidate(looker.design, space, i, stages, k, s),
                (i, j, k, s),
            )
        )
    return out
