"""How rungs are judged, sorted, and put together out of several cases."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ..ledger.formula import Real
from ..ledger.many import is_column, pick
from ..ledger.quantity import Quantity, Term, bare, missing_in, value_of
from ..ledger.record import record
from .report import Rung, Section, Step, Verdict


def judge(ratio: float | None, margin: float) -> Verdict:
    """Verdict of a rung.

    >>> judge(1.6, 1.5), judge(1.2, 1.5), judge(0.9, 1.5), judge(None, 1.5)
    ('holds', 'tight', 'short', 'unknown')
    """
    if ratio is None:
        return "unknown"
    # A hair of tolerance: a target met exactly by its own result must not fail by rounding.
    return "holds" if ratio >= margin * (1 - 1e-9) else "tight" if ratio >= 1 - 1e-9 else "short"


UNTRUSTED = 0.99  # headroom of what holds on paper and is not to be trusted, at most
RANK: dict[Verdict, int] = {"short": 0, "unknown": 1, "tight": 2, "holds": 3, "no demand": 4}


@record
class Target:
    """A rung before it is judged: what is asked and what is there, as terms, which may be columns.

    Advisory ones do not count for the whole; `met` are those that a number met which the program sets itself;
    `untrusted` are tight at best, whatever they hold on paper.

    For lower-is-better rungs the demand is what comes out and the capacity what is allowed; the ratio stays
    capacity over demand.
    """

    key: str
    label: str
    demand: Term
    capacity: Term
    margin: Term
    unit: str
    lower_is_better: bool
    step: Step
    section: Section
    field: str
    says: str
    advisory: bool
    met: bool = False
    untrusted: Real = False

    def judged(self) -> Rung:
        """The rung of one design."""
        demand, capacity = self.demand, self.capacity
        want, have, factor = value_of(demand), value_of(capacity), value_of(self.margin) or 1.0
        lacking = missing_in([demand, capacity]) if want is None or have is None else ()
        nothing_asked = want is not None and want <= 0
        ratio = None if want is None or have is None or nothing_asked else max(have, 0.0) / want
        headroom = None if ratio is None else ratio / factor
        verdict: Verdict = "no demand" if nothing_asked else judge(ratio, factor)
        if self.untrusted and headroom is not None:
            headroom = min(headroom, UNTRUSTED)
            verdict = "tight" if verdict == "holds" else verdict
        return Rung(
            self.key,
            self.label,
            want,
            have,
            self.unit,
            ratio,
            factor,
            headroom,
            verdict,
            () if nothing_asked else lacking,
            self.lower_is_better,
            _key(demand) + _key(capacity),
            self.step,
            self.section,
            self.field,
            self.says,
            self.advisory,
            self.met,
        )

    def headroom(self) -> Real:
        """Headroom in columns: infinite where nothing is asked, NaN where it is not known."""
        want, have, margin = bare(self.demand), bare(self.capacity), bare(self.margin)
        if want is None:
            return math.nan
        if have is None:
            return pick(want <= 0, math.inf, math.nan)
        if not is_column(want, have, margin, self.untrusted):
            rung = self.judged()
            if rung.verdict == "no demand":
                return math.inf
            return math.nan if rung.headroom is None or not math.isfinite(rung.headroom) else rung.headroom
        have, asked = np.maximum(have, 0.0), np.multiply(want, margin)
        shape = np.broadcast_shapes(np.shape(have), asked.shape, np.shape(self.untrusted))
        out = np.full(shape, np.inf)
        np.divide(have, asked, out=out, where=~np.less_equal(asked, 0))
        if np.max(have) == np.inf:  # a capacity without a finite value is not known, as with one design
            out[np.broadcast_to(np.isinf(have) & np.greater(asked, 0), out.shape)] = np.nan
        if self.untrusted is not False:
            out = np.where(self.untrusted & np.greater(asked, 0), np.minimum(out, UNTRUSTED), out)
        return out


def _key(term: Term) -> tuple[str, ...]:
    return (term.key,) if type(term) is Quantity else ()


def sorted_ladder(rungs: list[Rung]) -> tuple[Rung, ...]:
    """Least headroom on top; unknown ones below the short ones, those without a demand last."""

    def place(rung: Rung) -> tuple[float, float]:
        if rung.verdict == "no demand":
            return (3, 0)
        if rung.verdict == "unknown":
            return (1, 0)
        return (0 if rung.verdict == "short" else 2, rung.headroom or 0.0)

    return tuple(sorted(rungs, key=place))


def merged(ladders: list[tuple[str, tuple[Rung, ...]]]) -> list[Rung]:
    """One ladder out of those of several cases: each rung from the case that is worst for it, and named after
    it where they differ.
    """
    found: dict[str, list[tuple[str, Rung]]] = {}
    for name, ladder in ladders:
        for rung in ladder:
            found.setdefault(rung.key, []).append((name, rung))

    def place(case: tuple[str, Rung]) -> tuple[int, float]:
        return RANK[case[1].verdict], case[1].headroom or 0.0

    out = []
    for cases in found.values():
        name, worst = min(cases, key=place)
        best = max(place(c) for c in cases)
        alike = (
            len(cases) == len(ladders)
            and best[0] == RANK[worst.verdict]
            and best[1] <= (worst.headroom or 0.0) * (1 + 1e-9)
        )
        out.append(worst if alike else replace(worst, case=name))
    return out


def overall(rungs: tuple[Rung, ...]) -> tuple[Verdict, str]:
    """Verdict of the whole axis and the rung that gives it; advisory rungs do not count."""
    counted = [r for r in rungs if not r.advisory]
    worst = min(counted, key=lambda r: (RANK[r.verdict], r.headroom or 0.0))
    return worst.verdict, worst.key
