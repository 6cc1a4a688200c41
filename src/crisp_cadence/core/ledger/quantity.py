"""Numbers that are open to their source: given ones, results, and the ledger that records how each came
about.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from functools import partial
from math import isfinite
from typing import TYPE_CHECKING, Any, TypeAlias

import numpy as np

from .formula import Called, Real
from .record import record


@dataclass(init=False, unsafe_hash=True)
class Given:
    """A number from the design or the catalogue: where it stands, and where it comes from.

    `n` is the number, or the column, for what is worked out only when nothing is missing.
    """

    ref: str
    value: float | None
    unit: str = ""
    source_kind: str = "your entry"
    source: str = ""

    def __init__(self, ref: str, value: float | None, *said: str | Says) -> None:
        """`said` are unit, kind and words of the source, or what says them when they are asked for: most of
        an evaluation's hundred never are.
        """
        self.ref = ref
        self.value = value
        self.said = said
        self.n: Real = value

    @property
    def missing(self) -> tuple[str, ...]:
        return (self.ref,) if self.value is None else ()


class _Opened:
    """What is put together when somebody opens a number: most are never opened, and an evaluation has some
    four hundred. `lay` puts it, and what comes with it, into the number's own dictionary.
    """

    def __init__(self, name: str, lay: Callable[[dict[str, Any]], None]) -> None:
        self.name, self.lay = name, lay

    def __get__(self, made: Given | Quantity | None, _: type) -> Any:
        if made is None:
            return self
        own = made.__dict__
        self.lay(own)
        return own[self.name]


UNSAID = ("", "your entry", "")
Says: TypeAlias = Callable[[str], tuple[str, str, str]]


def _say(own: dict[str, Any]) -> None:
    """Unit, kind and words of the source of a given number."""
    said = own["said"]
    if said and not isinstance(said[0], str):
        said = said[0](own["ref"])
    own["unit"], own["source_kind"], own["source"] = said + UNSAID[len(said) :]


def _lay_inputs(own: dict[str, Any]) -> None:
    own["inputs"] = tuple(_input(name, term) for name, term in own["terms"].items())


def _lay_behind(own: dict[str, Any]) -> None:
    own["equation"], own["source_kind"], own["source"] = own["behind"]


@record
class Input:
    """One input of a result, with the design path or result key that it came from."""

    name: str
    value: float | None
    unit: str
    ref: str
    source_kind: str
    source: str


class _Value:
    """Works a result out when it is first asked for, where that was put off."""

    def __get__(self, made: Quantity | None, _: type) -> Any:
        if made is None:
            return self
        own = made.__dict__
        own["value"] = value = own["todo"]()
        return value


class _Number:
    """The same number under its short name: it is read far more often than it is made."""

    def __get__(self, made: Quantity | None, _: type) -> Any:
        if made is None:
            return self
        own = made.__dict__
        own["n"] = number = made.value
        return number


@dataclass(init=False, unsafe_hash=True)
class Quantity:
    """A result: value, unit, formula, inputs and source; or, with value None, the inputs that are missing."""

    key: str
    label: str
    value: float | None
    unit: str
    missing: tuple[str, ...]
    # Left out of a short report:
    equation: str = ""
    source_kind: str = ""
    source: str = ""
    inputs: tuple[Input, ...] = field(default=())

    def __init__(
        self,
        key: str,
        label: str,
        value: float | None,
        unit: str,
        behind: tuple[str, str, str],
        terms: Mapping[str, Term],
        missing: tuple[str, ...],
    ) -> None:
        self.key = key
        self.label = label
        self.value = value
        self.n = value  # type: ignore[misc]
        self.unit = unit
        self.behind = behind  # equation, kind and words of its source: read where the result is opened
        self.terms = terms
        self.missing = missing

    if TYPE_CHECKING:

        @property
        def n(self) -> Real:
            """The number, or the column, for what is worked out only when nothing is missing."""

    def named(self, label: str) -> Quantity:
        """The same result under another label."""
        if label == self.label:
            return self
        return Quantity(self.key, label, self.value, self.unit, self.behind, self.terms, self.missing)

    def opened(self) -> Quantity:
        """Itself with its inputs laid out, as those need it who read the instance's dictionary (a JSON
        writer).
        """
        assert self.inputs is not None
        assert self.equation is not None
        return self


for _name in ("unit", "source_kind", "source"):
    setattr(Given, _name, _Opened(_name, _say))
for _name in ("equation", "source_kind", "source"):
    setattr(Quantity, _name, _Opened(_name, _lay_behind))
Quantity.inputs = _Opened("inputs", _lay_inputs)  # type: ignore[assignment]
Quantity.value = _Value()  # type: ignore[assignment]
Quantity.n = _Number()  # type: ignore[method-assign, assignment]


Term: TypeAlias = Given | Quantity | float | int | None
Said: TypeAlias = tuple[
    str, tuple[str, str, str], Mapping[str, Term]
]  # unit; equation, kind and words of source; terms


def _input(name: str, term: Term) -> Input:
    if isinstance(term, Quantity):
        return Input(name, term.value, term.unit, term.key, term.source_kind, "")
    if isinstance(term, Given):
        return Input(name, term.value, term.unit, term.ref, term.source_kind, term.source)
    return Input(name, None if term is None else float(term), "", "", "", "")


def missing_in(terms: Iterable[Term]) -> tuple[str, ...]:
    """Every design path that the terms lack, each once, in order.

    >>> missing_in([1.0, Given("chain.0.inductance_mh", None), Given("x", 2.0)])
    ('chain.0.inductance_mh',)
    """
    lacking: tuple[str, ...] = ()
    for term in terms:
        if (type(term) is Quantity or type(term) is Given) and term.missing:
            lacking = tuple(dict.fromkeys((*lacking, *term.missing)))
    return lacking


def value_of(term: Term) -> float | None:
    """The bare number of a term."""
    return term.value if type(term) is Quantity or type(term) is Given else term  # type: ignore[return-value]


def bare(term: Term) -> Real:
    """The bare number of a term, or its column, for what is worked out only when nothing is missing."""
    return value_of(term)


@dataclass
class Ledger:
    """Every result of one evaluation, in the order in which it was worked out.

    With `late`, results are worked out when they are first asked for: of columns only what is read costs
    time.
    """

    results: dict[str, Quantity] = field(default_factory=dict)
    late: bool = False

    def calc(self, key: str, label: str, fn: Callable[..., Real], /, **terms: Term) -> Quantity:
        """Call a registered formula and write its result down; missing inputs pass through by name."""
        meta: Called = fn.called  # type: ignore[attr-defined]
        if self.late:
            lacking = missing_in(terms.values())
            said = (meta.unit, meta.behind, terms)
            return self._later(key, label, None if lacking else partial(_called, fn, terms), said, lacking)
        # This runs some two hundred times an evaluation: the terms are gone through once, nothing is called.
        values: list[Any] = []
        lacking, named = (), len(terms) != len(meta.takes)
        for name in terms if named else meta.takes:
            term = terms[name]
            of = type(term)
            if of is Quantity or of is Given:
                value = term.value  # type: ignore[union-attr]
                if value is None:
                    lacking = tuple(dict.fromkeys((*lacking, *term.missing)))  # type: ignore[union-attr]
                values.append(value)
            else:
                values.append(term)
        raw = None if lacking else fn(**dict(zip(terms, values, strict=True))) if named else fn(*values)
        if raw is not None:
            if type(raw) is not float:
                raw = float(raw)
            if not isfinite(raw):
                raw, lacking = None, _not_finite(key)
        self.results[key] = made = Quantity(key, label, raw, meta.unit, meta.behind, terms, lacking)
        return made

    def put(
        self,
        key: str,
        label: str,
        value: Callable[[], Real] | Real | None,
        unit: str,
        /,
        *,
        equation: str,
        source_kind: str = "handbook",
        source: str = "",
        also: Mapping[str, Term] | None = None,
        **terms: Term,
    ) -> Quantity:
        """Write down a result with its equation; `value` is called only when nothing is missing.

        `also` holds further inputs whose number is known only at run time.
        """
        if also:
            terms = {**terms, **also}
        if self.late:
            lacking = missing_in(terms.values())
            said = (unit, (equation, source_kind, source), terms)
            return self._later(key, label, None if lacking else value, said, lacking)
        lacking = ()
        for term in terms.values():
            of = type(term)
            if (of is Quantity or of is Given) and term.value is None:  # type: ignore[union-attr]
                lacking = tuple(dict.fromkeys((*lacking, *term.missing)))  # type: ignore[union-attr]
        raw: Real = None if lacking else value() if callable(value) else value
        if raw is not None:
            if type(raw) is not float:
                raw = float(raw)
            if not isfinite(raw):
                raw, lacking = None, _not_finite(key)
        behind = (equation, source_kind, source)
        self.results[key] = made = Quantity(key, label, raw, unit, behind, terms, lacking)
        return made

    def _later(self, key: str, label: str, raw: Real, said: Said, lacking: tuple[str, ...]) -> Quantity:
        self.results[key] = made = Quantity(key, label, None, *said, lacking)
        if raw is not None:
            own = made.__dict__
            del own["value"], own["n"]  # they come when they are asked for
            own["todo"] = partial(_settled, raw)
        return made


def _not_finite(key: str) -> tuple[str, ...]:
    return (f"{key} (no finite value for these inputs)",)


def _called(fn: Callable[..., Real], terms: Mapping[str, Term]) -> Real:
    return fn(**{name: value_of(term) for name, term in terms.items()})


def _settled(raw: Real) -> Real:
    """A number or a column out of what was put off; NaN where a formula has no number for its inputs."""
    found = raw() if callable(raw) else raw
    if isinstance(found, np.ndarray) and found.ndim:
        return found
    return math.nan if found is None else float(found)
