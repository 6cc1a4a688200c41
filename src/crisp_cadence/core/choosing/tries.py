"""Every single change tried in full, and plans of several: what each does to every target, its price, and the
cheapest that mends.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..account.report import Report, Rung, Verdict
from ..account.verdicts import RANK
from ..design.design import AxisDesign, changed
from ..evaluation.evaluate import evaluate
from ..fields.columns import owner_of
from ..fields.part import Bought
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from ..fitting.typical import with_typical
from ..ledger.errors import EntryError
from ..ledger.long_work import answer_of
from ..ledger.record import record
from .how_far import HowFar, mend, reaches
from .swap import Kind, Swap, setting, total
from .swaps import swaps
from .swaps_end import braked

MOST_PLANS = 150  # worked out whole; the cheapest first
MOST_STEPS = 5  # changes in one plan
BEAM = 60  # sets of changes that are taken further, once all pairs are looked at
NEAR = 0.97  # of what changes together should reach, by what each does alone, to be worth trying
NOTED = 0.002  # change of headroom below which a target counts as untouched
EFFORT: dict[Kind, int] = {"setting": 0, "make": 1, "part": 2, "layout": 3, "aim": 4}


@record
class Effect:
    """What a change does to one target: headroom and verdict before and after."""

    key: str
    label: str
    before: float | None
    after: float | None
    verdict: Verdict


@record
class Change:
    """One swap, or several together, worked out whole; `changes` sets all of it, `typical` says that its
    price holds some that nobody was asked for.
    """

    first: Swap
    others: tuple[Swap, ...]
    changes: dict[str, Any]
    price: float | None
    typical: bool
    asks_less: bool
    verdict: Verdict
    in_words: str
    worst: float | None
    effects: tuple[Effect, ...]


@record
class Changes:
    """All single changes, those that leave the axis best first; the cheapest that mends it, or else the
    cheapest plan of several. Where nothing does, `plan` is what comes closest, and `reaches` the most of each
    aim at which everything holds with it.
    """

    verdict: Verdict
    worst: float | None
    singles: tuple[Change, ...]
    cheapest: Change | None
    plan: Change | None
    reaches: tuple[HowFar, ...]
    tried: int
    refused: int
    plans_tried: int
    says: str


def _heads(report: Report) -> dict[str, Rung]:
    return {r.key: r for r in report.ladder if not r.advisory}


def _change(first: Swap, others: tuple[Swap, ...], was: Report, report: Report) -> Change:
    before, after = _heads(was), _heads(report)
    effects = []
    for key, rung in after.items():
        known = before.get(key)
        old, new = None if known is None else known.headroom, rung.headroom
        same = known is not None and known.verdict == rung.verdict and (old is None) == (new is None)
        if not same or (old is not None and new is not None and abs(new - old) > NOTED * max(abs(old), 1e-9)):
            effects.append(Effect(key, rung.label, old, new, rung.verdict))
    effects.sort(key=lambda e: (RANK[e.verdict], math.inf if e.after is None else e.after))
    every = (first, *others)
    return Change(
        first,
        others,
        merged(*every),
        total(*(s.price for s in every)),
        any(line.typical and line.to_buy and line not in was.bill for line in report.bill),
        any(s.kind == "aim" for s in every),
        report.verdict,
        report.in_words,
        report.least,
        tuple(effects),
    )


def _of_bill(was: Report, report: Report) -> float | None:
    """What is to pay for the lines of a bill that another did not have; None where they do not tell. Of what
    is sold by length a longer piece is bought anew.
    """
    had = {(b.what, b.detail, b.price_each): b.quantity for b in was.bill}
    new = []
    for line in report.bill:
        known = had.get((line.what, line.detail, line.price_each), 0.0)
        if line.quantity > known and line.to_buy:
            more = line.quantity if line.unit else line.quantity - known
            new.append(None if line.price_each is None else line.price_each * more)
    return total(*new) if new else None


def _cheapness(change: Change) -> tuple[bool, bool, float, int, int]:
    """Order by what a change costs: asking for less last, unknown prices after known ones, then money, work,
    and how much it touches.

    Steps of one kind are tried from small to large, so of those that cost the same the smallest comes first.
    """
    effort = sum(EFFORT[s.kind] for s in (change.first, *change.others))
    return (change.asks_less, change.price is None, change.price or 0.0, effort, len(change.changes))


def merged(*swaps: Swap) -> dict[str, Any]:
    """What swaps set together: a whole chain and end first, then single fields of them."""
    every: dict[str, Any] = {}
    for swap in swaps:
        every |= swap.changes
    return {k: every[k] for k in sorted(every, key=lambda k: (k not in ("chain", "end"), k))}


@dataclass
class Trying:
    """The trial of all changes, step by step; `answer` when it has ended, or for what was tried so far."""

    design: AxisDesign
    profiles: Mapping[str, Profile]
    drawer: Sequence[Stock]
    singles: list[Change] = field(default_factory=list)
    plan: Change | None = None
    closest: Change | None = None
    reaches: tuple[HowFar, ...] = ()
    refused: int = 0
    plans_tried: int = 0

    def __post_init__(self) -> None:
        self.report = evaluate(self.design, self.profiles)
        self.before = _heads(self.report)
        drawer = with_typical(self.drawer, self.profiles, self.design)
        found = swaps(self.design, self.profiles, drawer, self.report.value("belt.cut"))
        self.swaps = [
            *found,
            *braked(self.design, self.report),
            *nearest_values(self.design, self.profiles, self.report),
        ]

    def steps(self) -> Iterator[float]:
        """Tries every single change, then plans of several if no single one mends; the share that is done
        after each.
        """
        whole = len(self.swaps) + MOST_PLANS
        for n, swap in enumerate(self.swaps):
            found = self._try(swap)
            if found is not None:
                self.singles.append(found)
            yield (n + 1) / whole
        if self.report.verdict != "holds":
            mending = [c for c in self.singles if c.verdict == "holds"]
            for less in (False, True):
                if not any(less or not c.asks_less for c in mending) and self.plan is None:
                    yield from self._planned(less, whole)
            if self.plan is None and not mending and self.closest is not None:
                self._asking_less(self.closest)
        yield 1.0

    def _asking_less(self, closest: Change) -> None:
        """The most of each aim at which everything holds with what comes closest; if less of one does, that
        is a plan.
        """
        nearest = changed(self.design, closest.changes)
        self.reaches = reaches(nearest, self.profiles).aims
        asked = [a for a in self.reaches if a.path.startswith("aim.") and a.set_to and a.set_to < a.now]
        for aim in sorted(asked, key=lambda a: -(a.set_to or 0.0) / a.now):
            now = getattr(self.design.aim, aim.path.removeprefix("aim."))
            less = setting(
                f"Ask for less {aim.label.lower()}", aim.path, now, aim.set_to or 0.0, aim.unit, "aim"
            )
            kept = [s for s in (closest.first, *closest.others) if aim.path not in s.changes]
            found = self._try(*kept, less)
            if found is not None and found.verdict == "holds":
                self.plan, self.reaches = self._pruned(found), ()
                return

    def _pruned(self, plan: Change) -> Change:
        """A plan without what it does not need, the dearest left out first."""
        steps = [plan.first, *plan.others]
        for swap in sorted(steps, key=lambda s: (s.kind != "aim", s.price is not None, -(s.price or 0.0))):
            rest = [s for s in steps if s is not swap]
            found = self._try(*rest) if rest else None
            if found is not None and found.verdict == "holds":
                steps, plan = rest, found
        return plan

    def _planned(self, less: bool, whole: int) -> Iterator[float]:
        """Plans tried, the cheapest first, until one makes everything hold; what comes closest is kept."""
        for plan in self._plans(less)[:MOST_PLANS]:
            self.plans_tried += 1
            found = self._try(*plan)
            yield min(len(self.swaps) + self.plans_tried, whole - 1) / whole
            if found is None:
                continue
            if found.verdict == "holds":
                self.plan = self._pruned(found)
                return
            if self.closest is None or _nearness(found) > _nearness(self.closest):
                self.closest = found

    def _try(self, first: Swap, *others: Swap) -> Change | None:
        try:
            report = evaluate(changed(self.design, merged(first, *others)), self.profiles)
        except EntryError:
            self.refused += 1
            return None
        if first.price is None and not others:
            first = replace(first, price=_of_bill(self.report, report))
        return _change(first, others, self.report, report)

    def _plans(self, less: bool) -> list[tuple[Swap, ...]]:
        """Sets of changes that should mend by what each does alone, the cheapest first: headrooms taken to
        multiply, as most of them do. Where no set should, those that come closest.

        All pairs are looked at; of those that do not mend the most hopeful are taken further.
        """
        some = [c for c in self.singles if less or not c.asks_less]
        keys = sorted({e.key for c in some for e in c.effects} | set(self.before))
        if not keys or not some:
            return []
        base = np.array([_number(self.before[k].headroom if k in self.before else None) for k in keys])
        gain = np.ones((len(some), len(keys)))
        place = {k: i for i, k in enumerate(keys)}
        for n, c in enumerate(some):
            for e in c.effects:
                was = base[place[e.key]]
                gain[n, place[e.key]] = _number(e.after) / was if 0 < was < math.inf else _number(e.after)
        apart = [
            frozenset(m for m, b in enumerate(some) if m == n or not _together(a.first, b.first))
            for n, a in enumerate(some)
        ]
        found: dict[frozenset[int], float] = {}
        states: list[tuple[float, frozenset[int], NDArray[np.float64]]] = [(-math.inf, frozenset(), base)]
        nearest: list[tuple[float, frozenset[int]]] = []
        for depth in range(1, MOST_STEPS + 1):
            further: dict[frozenset[int], tuple[float, NDArray[np.float64]]] = {}
            for _, chosen, heads in states:
                after = heads * gain
                least = after.min(axis=1)
                helps = (gain[:, heads < 1] > 1 + NOTED).any(axis=1)
                lacks = np.log(np.minimum(after, 1.0)).sum(axis=1)
                barred = frozenset().union(*(apart[n] for n in chosen))
                for n in np.flatnonzero(helps).tolist():
                    both = chosen | {n}
                    if n in barred or both in found or both in further:
                        continue
                    if least[n] >= NEAR:
                        found[both] = float(least[n])
                    else:
                        further[both] = (float(lacks[n]), after[n])
            ranked = sorted(further.items(), key=lambda x: -x[1][0])
            nearest += [(lack, which) for which, (lack, _) in ranked[:BEAM]]
            states = [(lack, which, heads) for which, (lack, heads) in ranked[: None if depth == 1 else BEAM]]
        if not found:
            order = [which for _, which in sorted(nearest, key=lambda x: -x[0])[:BEAM]]
        else:
            order = sorted(found, key=lambda which: (self._dear([some[n] for n in which]), -found[which]))
        return [tuple(some[n].first for n in sorted(which)) for which in order if len(which) > 1]

    @staticmethod
    def _dear(plan: Sequence[Change]) -> tuple[int, int, float, int]:
        """Order of a plan by what it costs, as single changes are ordered."""
        return (
            sum(c.asks_less for c in plan),
            sum(c.price is None for c in plan),
            round(sum(c.price or 0.0 for c in plan), 2),
            sum(EFFORT[c.first.kind] for c in plan),
        )

    def answer(self) -> Changes:
        """What has been found so far."""
        mending = [c for c in self.singles if c.verdict == "holds"]
        holds = self.report.verdict == "holds"
        cheapest = None if holds else min(mending, key=_cheapness, default=None)
        if holds:
            says = "The axis holds as it is; these would give it more, or cost less."
        elif cheapest is not None and not cheapest.asks_less:
            says = "The cheapest single change that makes everything hold:"
        elif self.plan is not None and not self.plan.asks_less:
            says = "No single change does it. The cheapest plan found that makes everything hold:"
        elif cheapest is not None:
            says = "Only asking for less makes everything hold:"
        elif self.plan is not None:
            says = "Only with asking for less everything holds. The cheapest plan found:"
        elif self.closest is not None:
            says = "Nothing found makes everything hold. This comes closest:"
        else:
            says = "Nothing found makes everything hold: search the drawer, or look at other ways."
        ranked = sorted(
            self.singles,
            key=lambda c: (
                (-RANK[c.verdict], *_cheapness(c))
                if c.verdict == "holds"
                else (-RANK[c.verdict], c.asks_less, -(c.worst or 0.0))
            ),
        )
        return Changes(
            self.report.verdict,
            self.report.least,
            tuple(ranked),
            cheapest,
            self.plan or (None if mending else self.closest),
            self.reaches,
            len(self.swaps),
            self.refused,
            self.plans_tried,
            says,
        )


def _nearness(change: Change) -> tuple[int, float]:
    """How near a change that does not mend comes."""
    return RANK[change.verdict], change.worst or 0.0


def nearest_values(design: AxisDesign, profiles: Mapping[str, Profile], report: Report) -> Iterator[Swap]:
    """For each rung that is short the nearest value that mends it, where it is not one of a thing that is
    bought.
    """
    for rung in report.ladder:
        if rung.verdict != "short" or rung.advisory or not _made(design, rung.field):
            continue
        found = mend(design, profiles, report, rung)
        if found is None:
            continue
        says = f"Set {found.title[:1].lower()}{found.title[1:]}"
        kind: Kind = "aim" if found.asks_less else "make"
        alone = setting(says, found.path, found.now, found.to, found.unit, kind)
        yield replace(alone, changes=found.changes)


def _made(design: AxisDesign, path: str) -> bool:
    """Whether a path leads to a field of what is not bought."""
    try:
        return not isinstance(owner_of(design, path), Bought)
    except (AttributeError, IndexError, TypeError, ValueError):
        return False  # it names a part as a whole


def _number(headroom: float | None) -> float:
    """Headroom to reckon with: none asked or not known counts as plenty."""
    return math.inf if headroom is None else max(headroom, 1e-9)


def _together(a: Swap, b: Swap) -> bool:
    """Whether two swaps can be made at once: not of one sentence, not of one field to different values, and
    not of places that the other moves.
    """
    if a.says == b.says or any(a.changes[k] != b.changes[k] for k in a.changes.keys() & b.changes.keys()):
        return False
    for one, other in ((a, b), (b, a)):
        if "chain" in one.changes and any(
            k.startswith("chain.") and not k.startswith("chain.0.") for k in other.changes
        ):
            return False
        if "end" in one.changes and any(k.startswith("end.") for k in other.changes):
            return False
    return True


def trying(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Iterator[float | Changes]:
    """All changes step by step: shares of what is done (0 to 1), and the answer last."""
    under_way = Trying(design, profiles, drawer)
    yield from under_way.steps()
    yield under_way.answer()


def one_change(design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]) -> Changes:
    """All changes at once; see `Trying`."""
    return answer_of(trying(design, profiles, drawer))
