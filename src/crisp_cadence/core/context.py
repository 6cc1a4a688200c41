"""The working state of one evaluation: the design, the belt data, the ledger of results and the ladder as it
grows.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import TYPE_CHECKING, Any

from .belt import Profile
from .errors import EntryError, problem
from .formula import Given, Ledger, Quantity, Real, Term, missing_in, value_of
from .model import Bought, Mass, Part
from .report import STEP_OF, Note, Rung, Section, Step, Verdict

if TYPE_CHECKING:
    from .design import AxisDesign


@lru_cache(maxsize=4096)
def field_words(model: type[Part], name: str) -> tuple[str, str]:
    """Unit and words of a design field, from its definition."""
    info = model.model_fields.get(name)
    extra = info.json_schema_extra if info else None
    return (
        str(extra.get("unit", "")) if isinstance(extra, dict) else "",
        (info.description or "") if info else "",
    )


def judge(ratio: float | None, margin: float) -> Verdict:
    """Verdict of a rung.

    >>> judge(1.6, 1.5), judge(1.2, 1.5), judge(0.9, 1.5), judge(None, 1.5)
    ('holds', 'tight', 'short', 'unknown')
    """
    if ratio is None:
        return "unknown"
    # A hair of tolerance: a target met exactly by its own result must not fail by rounding.
    return "holds" if ratio >= margin * (1 - 1e-9) else "tight" if ratio >= 1 - 1e-9 else "short"


@dataclass
class Context:
    """Passed to every stage and end; they write results and rungs into it."""

    design: AxisDesign
    profiles: Mapping[str, Profile]
    book: Ledger = field(default_factory=Ledger)
    rungs: list[Rung] = field(default_factory=list)
    notes: list[Note] = field(default_factory=list)
    memo: dict[str, Any] = field(default_factory=dict)
    case: str = ""
    _given: dict[str, Given] = field(default_factory=dict)
    _parts: dict[str, tuple[Any, str, str]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.calc = self.book.calc

    def given(self, path: str) -> Given:
        """A number of the design, with its unit and the source of the part that it belongs to."""
        known = self._given.get(path)
        if known is None:
            owner, _, name = path.rpartition(".")
            part, kind, note = self._part(owner)
            value = getattr(part, name)
            kept_in: type[Part] = type(part)
            unit, words = field_words(kept_in, name)
            if owner == "assumptions":
                kind, note = "estimate", words
            if self.design.measured and any(m.field == path for m in self.design.measured):
                kind, note = (
                    "measured by you",
                    "measured on the real thing; it counts instead of what was drawn",
                )
            known = self._given[path] = Given(path, None if value is None else float(value), unit, kind, note)
        return known

    def _part(self, path: str) -> tuple[Any, str, str]:
        """A part of the design by its path, with the kind and words of its source; a piece of a bought part
        has that part's.
        """
        known = self._parts.get(path)
        if known is None:
            owner, _, name = path.rpartition(".")
            part, kind, note = self._part(owner) if path else (None, "your entry", "")
            part = (
                self.design
                if not path
                else part[int(name)]
                if isinstance(part, list)
                else getattr(part, name)
            )
            if isinstance(part, (Bought, Mass)):
                kind, note = part.source.kind, part.source.note
            known = self._parts[path] = (part, kind, note)
        return known

    def belts(self) -> int:
        """How many belts of one kind there are: one for each driven side."""
        return self.memo.get("belts", 1)  # type: ignore[no-any-return]

    def far_side(self) -> float | None:
        """Stiffness of the cross shaft to the far side, N/mm at the carriage; None where no shaft crosses."""
        return self.memo.get("far_side")

    def profile(self, key: str, path: str) -> Profile:
        """A belt profile by its key; EntryError names those that there are."""
        found = self.profiles.get(key)
        if found is None:
            raise EntryError(
                [
                    problem(
                        path,
                        "is not a belt profile of the catalogue",
                        value=key,
                        limit=", ".join(self.profiles),
                        remedy="Pick one of the profiles listed.",
                    )
                ]
            )
        return found

    def datum(self, profile: Profile, name: str, value: float | None, unit: str) -> Given:
        """A number of the belt catalogue, with its own source."""
        kind, note = profile.sources[name]
        return Given(f"catalogue.{profile.key}.{name}", value, unit, kind, f"{profile.name}: {note}")

    def largest(self, key: str, label: str, *terms: Quantity, unit: str) -> Quantity:
        """The largest of several results."""
        known = [t.value for t in terms if t.value is not None]
        names = {f"x{i + 1}": t for i, t in enumerate(terms)}
        return self.book.put(
            key,
            label,
            lambda: max(known),
            unit,
            equation="max(x1, x2, …)",
            source="the worst of the cases counts",
            also=names,
        )

    def over_travel(
        self,
        key: str,
        label: str,
        values: Real,
        unit: str,
        equation: str,
        source: str,
        inputs: Mapping[str, Term],
        *,
        worst: Any = max,
    ) -> Quantity:
        """The worst of a result along the travel; `values` None when an input is missing."""
        value = None if values is None or missing_in(inputs.values()) else float(worst(values))
        return self.book.put(key, label, value, unit, equation=equation, source=source, also=inputs)

    def note(self, step: Step, path: str, says: str) -> None:
        self.notes.append(Note(step, path, says))

    def rung(
        self,
        key: str,
        label: str,
        demand: Term,
        capacity: Term,
        margin: Term,
        *,
        unit: str,
        section: Section,
        path: str,
        says: str,
        lower_is_better: bool = False,
        advisory: bool = False,
    ) -> None:
        """Add a rung. For lower-is-better rungs demand is what comes out and capacity what is allowed; the
        ratio stays capacity/demand.
        """
        want, have, factor = value_of(demand), value_of(capacity), value_of(margin) or 1.0
        lacking = missing_in([demand, capacity]) if want is None or have is None else ()
        nothing_asked = want is not None and want <= 0
        ratio = None if want is None or have is None or nothing_asked else max(have, 0.0) / want
        verdict: Verdict = "no demand" if nothing_asked else judge(ratio, factor)
        self.rungs.append(
            Rung(
                key,
                label,
                want,
                have,
                unit,
                ratio,
                factor,
                None if ratio is None else ratio / factor,
                verdict,
                () if nothing_asked else lacking,
                lower_is_better,
                tuple(t.key for t in (demand, capacity) if isinstance(t, Quantity)),
                STEP_OF[section],
                section,
                path,
                says,
                advisory,
            )
        )


RANK: dict[Verdict, int] = {"short": 0, "unknown": 1, "tight": 2, "holds": 3, "no demand": 4}


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
