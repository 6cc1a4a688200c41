"""Every single change tried in full, and pairs of them: what each does to every target, its price, and the
cheapest that mends.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import numpy as np
from pydantic import TypeAdapter

from ..account.report import Report, Rung, Verdict
from ..account.verdicts import RANK
from ..design.design import AxisDesign, changed
from ..evaluation.evaluate import evaluate
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from ..fitting.typical import with_typical
from ..ledger.errors import EntryError
from ..ledger.long_work import answer_of
from ..ledger.record import record
from .swap import Kind, Swap
from .swaps import swaps

MOST_PAIRS = 150  # worked out whole; the cheapest first
NEAR = 0.97  # of what two changes together should reach, by what each does alone, to be worth trying
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
    """One swap, or two together, worked out whole; `changes` sets all of it, `typical` says that its price
    holds some that nobody was asked for.
    """

    first: Swap
    second: Swap | None
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
    cheapest pair.
    """

    verdict: Verdict
    worst: float | None
    singles: tuple[Change, ...]
    cheapest: Change | None
    pair: Change | None
    tried: int
    refused: int
    pairs_tried: int
    says: str


def _heads(report: Report) -> dict[str, Rung]:
    return {r.key: r for r in report.ladder if not r.advisory}


def _change(first: Swap, second: Swap | None, was: Report, report: Report) -> Change:
    before, after = _heads(was), _heads(report)
    effects = []
    for key, rung in after.items():
        known = before.get(key)
        old, new = None if known is None else known.headroom, rung.headroom
        same = known is not None and known.verdict == rung.verdict and (old is None) == (new is None)
        if not same or (old is not None and new is not None and abs(new - old) > NOTED * max(abs(old), 1e-9)):
            effects.append(Effect(key, rung.label, old, new, rung.verdict))
    effects.sort(key=lambda e: (RANK[e.verdict], math.inf if e.after is None else e.after))
    prices = [s.price for s in (first, second) if s is not None]
    price = None if None in prices else sum(p or 0.0 for p in prices)
    return Change(
        first,
        second,
        merged(first, second),
        price,
        any(line.typical and not line.in_stock and line not in was.bill for line in report.bill),
        "aim" in (first.kind, second and second.kind),
        report.verdict,
        report.in_words,
        report.least,
        tuple(effects),
    )


def _cheapness(change: Change) -> tuple[bool, bool, float, int, int]:
    """Order by what a change costs: asking for less last, unknown prices after known ones, then money, work,
    and how much it touches.

    Steps of one kind are tried from small to large, so of those that cost the same the smallest comes first.
    """
    effort = sum(EFFORT[s.kind] for s in (change.first, change.second) if s is not None)
    return (change.asks_less, change.price is None, change.price or 0.0, effort, len(change.changes))


def merged(first: Swap, second: Swap | None = None) -> dict[str, Any]:
    """What swaps set together: a whole chain and end first, then single fields of them."""
    both = first.changes | (second.changes if second is not None else {})
    return {k: both[k] for k in sorted(both, key=lambda k: (k not in ("chain", "end"), k))}


@dataclass
class Trying:
    """The trial of all changes, step by step; `answer` when it has ended, or for what was tried so far."""

    design: AxisDesign
    profiles: Mapping[str, Profile]
    drawer: Sequence[Stock]
    singles: list[Change] = field(default_factory=list)
    pair: Change | None = None
    refused: int = 0
    pairs_tried: int = 0

    def __post_init__(self) -> None:
        self.report = evaluate(self.design, self.profiles)
        self.before = _heads(self.report)
        drawer = with_typical(self.drawer, self.profiles, self.design)
        self.swaps = swaps(self.design, self.profiles, drawer, self.report.value("belt.cut"))

    def steps(self) -> Iterator[float]:
        """Tries every single change, then pairs if no single one mends; the share that is done after each."""
        whole = len(self.swaps) + MOST_PAIRS
        for n, swap in enumerate(self.swaps):
            found = self._try(swap)
            if found is not None:
                self.singles.append(found)
            yield (n + 1) / whole
        if self.report.verdict != "holds" and not any(
            c.verdict == "holds" and not c.asks_less for c in self.singles
        ):
            for pair in self._pairs():
                self.pairs_tried += 1
                found = self._try(*pair)
                yield (len(self.swaps) + self.pairs_tried) / whole
                if found is not None and found.verdict == "holds":
                    self.pair = found
                    break
        yield 1.0

    def _try(self, first: Swap, second: Swap | None = None) -> Change | None:
        try:
            report = evaluate(changed(self.design, merged(first, second)), self.profiles)
        except EntryError:
            self.refused += 1
            return None
        return _change(first, second, self.report, report)

    def _pairs(self) -> Iterator[tuple[Swap, Swap]]:
        """Pairs that should mend by what each does alone, the cheapest first: headrooms taken to multiply, as
        most of them do.
        """
        some = [c for c in self.singles if not c.asks_less]
        keys = sorted({k for c in some for k in (e.key for e in c.effects)} | set(self.before))
        base = np.array([_number(self.before[k].headroom if k in self.before else None) for k in keys])
        gain = np.ones((len(some), len(keys)))
        place = {k: i for i, k in enumerate(keys)}
        for n, c in enumerate(some):
            for e in c.effects:
                gain[n, place[e.key]] = (
                    _number(e.after) / base[place[e.key]]
                    if 0 < base[place[e.key]] < math.inf
                    else _number(e.after)
                )
        found: list[tuple[Any, int, int]] = []
        for i in range(len(some)):
            least = (base * gain[i] * gain[i + 1 :]).min(axis=1) if keys else np.empty(0)
            for j in (np.flatnonzero(least >= NEAR) + i + 1).tolist():
                if _together(some[i].first, some[j].first):
                    a, b = some[i], some[j]
                    unknown = a.price is None or b.price is None
                    effort = EFFORT[a.first.kind] + EFFORT[b.first.kind]
                    found.append(
                        (
                            (
                                unknown,
                                round((a.price or 0) + (b.price or 0), 2),
                                effort,
                                -float(min(least[j - i - 1], 10.0)),
                            ),
                            i,
                            j,
                        )
                    )
        for _, i, j in sorted(found)[:MOST_PAIRS]:
            yield some[i].first, some[j].first

    def answer(self) -> Changes:
        """What has been found so far."""
        mending = [c for c in self.singles if c.verdict == "holds"]
        holds = self.report.verdict == "holds"
        cheapest = None if holds else min(mending, key=_cheapness, default=None)
        if holds:
            says = "The axis holds as it is; these would give it more, or cost less."
        elif cheapest is not None and not cheapest.asks_less:
            says = "The cheapest single change that makes everything hold:"
        elif self.pair is not None:
            says = "No single change does it. The cheapest pair found that makes everything hold:"
        elif cheapest is not None:
            says = "Only asking for less makes everything hold:"
        else:
            says = (
                "Neither one change nor two of these make everything hold: search the drawer, or "
                "look at other ways."
            )
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
            self.pair,
            len(self.swaps),
            self.refused,
            self.pairs_tried,
            says,
        )


def _number(headroom: float | None) -> float:
    """Headroom to reckon with: none asked or not known counts as plenty."""
    return math.inf if headroom is None else max(headroom, 1e-9)


def _together(a: Swap, b: Swap) -> bool:
    """Whether two swaps can be made at once: not of one sentence, not of one field, and not of places that
    the other moves.
    """
    if a.says == b.says or a.changes.keys() & b.changes.keys():
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


@lru_cache(maxsize=1)
def _adapter() -> TypeAdapter[Changes]:
    return TypeAdapter(Changes)


def changes_json(changes: Changes) -> bytes:
    """The changes as JSON."""
    return _adapter().dump_json(changes)
