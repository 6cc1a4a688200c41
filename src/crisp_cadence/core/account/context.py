"""The working state of one evaluation: the design, the belt data, the ledger of results and the ladder as it
grows.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache, lru_cache
from typing import Any, TypeVar

import numpy as np

from ..fields.axis import Axis, Mass
from ..fields.part import Bought, Part
from ..fields.profile import Profile
from ..ledger.errors import EntryError, Problem, problem
from ..ledger.formula import Real
from ..ledger.many import Fold, most, taken
from ..ledger.quantity import Given, Ledger, Quantity, Term, bare, value_of
from ..ledger.record import record
from .cases import Cases
from .found import ONE_EACH, Counts, Drive, Loads, OutputShaft, Peaks, Stepping
from .report import STEP_OF, Note, Section, Step
from .verdicts import Target

T = TypeVar("T")


@cache
def _read(model: type) -> tuple[bool, dict[str, tuple[str, str]]]:
    """Whether a part of a kind names its own source; unit and words of each of its fields."""
    found = {}
    for name, info in model.model_fields.items() if issubclass(model, Part) else ():
        extra = info.json_schema_extra
        found[name] = str(extra.get("unit", "")) if isinstance(extra, dict) else "", info.description or ""
    return issubclass(model, (Bought, Mass)), found


@lru_cache(maxsize=4096)
def _parted(path: str) -> tuple[str, str]:
    """Path of the owner of a field, and the field's name."""
    owner, _, name = path.rpartition(".")
    return owner, name


@record
class _Owner:
    """A part of the design, and what there is to say of its numbers: kind and words of its source, units and
    words of its fields, the paths that were measured.
    """

    path: str
    part: Any
    kind: str
    note: str
    fields: dict[str, tuple[str, str]]
    measured: set[str]

    def __call__(self, path: str) -> tuple[str, str, str]:
        unit, words = self.fields.get(_parted(path)[1], ("", ""))
        if path in self.measured:
            return unit, "measured by you", "measured on the real thing; it counts instead of what was drawn"
        return (unit, "estimate", words) if self.path == "assumptions" else (unit, self.kind, self.note)


@dataclass
class Context:
    """Passed to every stage and end; they write results and rungs into it."""

    design: Axis
    profiles: Mapping[str, Profile]
    book: Ledger = field(default_factory=Ledger)
    targets: list[Target] = field(default_factory=list)
    notes: list[Note] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)  # what stops the evaluation of one design
    refused: list[Real] = field(default_factory=list)  # of columns, where one thing or another stops it
    case: str = ""
    cases: Cases | None = None  # where there are several
    # Found as the evaluation goes on, in this order.
    travel: Quantity | None = None
    counts: Counts = ONE_EACH
    loads: Loads = field(init=False)
    drive: Drive = field(init=False)
    moved: Quantity = field(init=False)  # all that moves as a mass at the moving point
    stepping: Stepping | None = None
    reach: Quantity = field(init=False)
    shaft: OutputShaft = field(init=False)
    peaks: Peaks = field(init=False)
    _given: dict[str, Given] = field(default_factory=dict)
    _parts: dict[str, _Owner] = field(default_factory=dict)
    _once: dict[tuple[int, Any, tuple[str, ...]], Any] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.calc = self.book.calc
        self.whole = self.design  # as it was before what is aimed at in this case stood in it
        self.aims: Mapping[str, str] = self.design.end.AIMS
        self._measured = {m.field for m in self.design.measured}
        # Whether one design is worked out, not columns: only then are there words to say of its numbers.
        self.plain = not self.book.late

    def given(self, path: str) -> Given:
        """A number of the design, with its unit and the source of the part that it belongs to."""
        known = self._given.get(path)
        if known is None:
            owner, name = _parted(path)
            of = self._parts.get(owner) or self._part(owner)
            value = getattr(of.part, name)
            if type(value) is int:
                value = float(value)
            known = Given(self.aims[path], value, *of(path)) if path in self.aims else Given(path, value, of)
            self._given[path] = known
        return known

    def _part(self, path: str) -> _Owner:
        """A part of the design by its path; a piece of a bought part has that part's source."""
        known = self._parts.get(path)
        if known is None:
            part: Any = self.design
            kind, note = "your entry", ""
            if path:
                owner, name = _parted(path)
                of = self._part(owner)
                part = of.part[int(name)] if isinstance(of.part, list) else getattr(of.part, name)
                kind, note = of.kind, of.note
            named, fields = _read(part.__class__)
            if named:
                kind, note = part.source.kind, part.source.note
            known = self._parts[path] = _Owner(path, part, kind, note, fields, self._measured)
        return known

    @property
    def usable(self) -> Real:
        """Usable travel as a bare number, mm; 0 where there is no end to it."""
        return 0.0 if self.travel is None or self.travel.value is None else self.travel.n

    def stop(self, where: Real, found: Callable[[], Problem]) -> None:
        """A design that cannot be built: gathered with what else stops it; of columns, just these places."""
        if type(where) is np.ndarray:
            self.refused.append(where)
        elif where:
            self.problems.append(found())

    def refuse(self, where: Real, found: Callable[[], Problem]) -> None:
        """The same where nothing can be worked out any further: EntryError at once for one design."""
        self.stop(where, found)
        if self.problems:
            raise EntryError(self.problems)

    def lam_into(self, at: str) -> float:
        """Turn into a stage for 1 mm, rad; 0 in a drawing alone, which works out no chain."""
        drive: Drive | None = getattr(self, "drive", None)
        return (drive.lam_in[int(at.rpartition(".")[2])].value or 0.0) if drive else 0.0

    def lam_after(self, at: str) -> float:
        """Turn of the shaft after a stage for 1 mm, rad; 0 where that is not known."""
        return self.drive.lam_out[int(at.rpartition(".")[2])].value or 0.0

    def once(self, work: Callable[..., T], *at: str) -> T:
        """What a method of a part, or a function, answers to `work(*at, ctx)`, worked out at the first
        asking.

        Kept by the part and the method, so that two parts of one kind never share an answer.
        """
        key = (id(getattr(work, "__self__", None)), getattr(work, "__func__", work), at)
        if key not in self._once:
            self._once[key] = work(*at, self)
        return self._once[key]  # type: ignore[no-any-return]

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
        names = {f"x{i + 1}": t for i, t in enumerate(terms)}
        return self.book.put(
            key,
            label,
            lambda: most(*(t.n for t in terms)),
            unit,
            equation="max(x1, x2, …)",
            source="the worst of the cases counts",
            also=names,
        )

    def extreme(
        self, which: Fold, found: Sequence[tuple[Term, str]], key: str, unit: str
    ) -> tuple[Term, str]:
        """The smallest or largest of several numbers, with the field that it stands in; one that is not known
        comes first.

        Of columns it is the smallest or largest place by place; the field is then that of the first.
        """
        if self.plain:
            lacking = next((f for f in found if value_of(f[0]) is None), None)
            return lacking or (min if which == "least" else max)(found, key=lambda f: value_of(f[0]) or 0.0)
        together = self.book.put(
            key,
            "The worst of them",
            lambda: taken(which, [bare(term) for term, _ in found]),
            unit,
            equation=f"{which} of them, place by place",
            source="the worst of them counts",
            also={f"x{i + 1}": term for i, (term, _) in enumerate(found)},
        )
        return together, found[0][1]

    def over_cases(
        self, which: Fold, key: str, label: str, make: Callable[[str, str], Quantity]
    ) -> tuple[Quantity, Quantity]:
        """A result that is set once for every head and direction, the smallest or largest over all cases of
        what `make(key, label)` gives for one of them; and what it is for this case alone.
        """
        cases = self.cases
        if cases is None:
            own = make(key, label)
            return own, own
        own = make(f"{key}.here", f"{label}, in this case alone")
        together = self.book.put(
            key,
            label,
            lambda: cases.taken(which, own.key),
            own.unit,
            equation="min over all cases" if which == "least" else "max over all cases",
            source="set once, it serves every head and direction",
            here=own,
        )
        return together, own

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
        met: bool = False,
        untrusted: Real = False,
    ) -> None:
        """Add a rung. For lower-is-better rungs demand is what comes out and capacity what is allowed; the
        ratio stays capacity/demand. One that is `met` by a number which the program sets is advisory too;
        one that is `untrusted` is tight at best.
        """
        target = Target(
            key,
            label,
            demand,
            capacity,
            margin,
            unit,
            lower_is_better,
            STEP_OF[section],
            section,
            path,
            says,
            advisory or met,
            met,
            untrusted,
        )
        self.targets.append(target)

    def error_rung(
        self, key: str, label: str, got: Term, path: str, says: str, section: Section = "stiffness"
    ) -> None:
        """A rung of what may be off at the moving point, mm, against the error that the aim allows."""
        self.rung(
            key,
            label,
            got,
            self.given("aim.error_mm"),
            self.given("assumptions.margin_error"),
            unit="mm",
            section=section,
            path=path,
            says=says,
            lower_is_better=True,
        )
