"""Formulas that describe themselves.

A public function of the core says, in its docstring, its equation, units, range and source, and shows an
example. The decorator `formula` reads these lines once; `Ledger.calc` calls the function and writes down
result, inputs and source. So the text that a maker reads beside a number and the code that made the number
are the same piece.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from inspect import signature
from typing import Any, TypeAlias, TypeVar

# Formulas take one number or an array of candidates alike; NumPy decides which comes out.
Real: TypeAlias = Any
SOURCE_KINDS = (
    "standard",
    "handbook",
    "common practice",
    "from memory",
    "estimate",
    "measured by you",
    "your entry",
)


SECTIONS = ("Equation", "Units", "Range", "Source")


@dataclass(frozen=True, slots=True)
class Formula:
    """What a public function says of itself."""

    name: str
    title: str
    equation: str
    units: str
    unit: str
    valid: str
    source_kind: str
    source: str


@dataclass(frozen=True, slots=True)
class Called:
    """What a ledger needs of a formula to call it: names of its arguments in order, unit of its result, and
    equation, kind and words of its source as a result has them.
    """

    takes: tuple[str, ...]
    unit: str
    behind: tuple[str, str, str]


Fn = TypeVar("Fn", bound=Callable[..., Any])
FORMULAS: dict[str, Formula] = {}


def read_docstring(name: str, doc: str) -> Formula:
    """Read title, equation, units, range and source out of a docstring; raises ValueError on what lacks.

    >>> f = read_docstring("area", "Area.\\n\\nEquation: A = b·h\\nUnits: m, m → m²\\nRange: b > 0\\nSource: handbook — any")
    >>> f.unit, f.source_kind, f.source
    ('m²', 'handbook', 'any')
    """
    found: dict[str, str] = {}
    current = ""
    for raw in doc.splitlines():
        line = raw.strip()
        head, _, rest = line.partition(":")
        if head in SECTIONS:
            current, found[head] = head, rest.strip()
        elif not line or line.startswith(">>>"):
            current = ""
        elif current:
            found[current] += " " + line
    lacking = [s for s in SECTIONS if not found.get(s)]
    if lacking:
        raise ValueError(f"{name}: docstring lacks {', '.join(lacking)}")
    kind, _, source = found["Source"].partition(" — ")
    if kind not in SOURCE_KINDS or not source:
        raise ValueError(
            f"{name}: source must read '<kind> — <text>' with a kind of {SOURCE_KINDS}, got "
            f"{found['Source']!r}"
        )
    unit = found["Units"].rpartition("→")[2].strip()
    title = " ".join(doc.strip().partition("\n\n")[0].split())
    return Formula(
        name, title.rstrip("."), found["Equation"], found["Units"], unit, found["Range"], kind, source
    )


def formula(fn: Fn) -> Fn:
    """Register a function whose docstring states equation, units, range and source; two of one name are
    refused.
    """
    if fn.__name__ in FORMULAS:
        raise ValueError(f"{fn.__name__}: there is a formula of that name already")
    meta = FORMULAS[fn.__name__] = read_docstring(fn.__name__, fn.__doc__ or "")
    behind = (meta.equation, meta.source_kind, meta.source)
    fn.called = Called(tuple(signature(fn).parameters), meta.unit, behind)  # type: ignore[attr-defined]
    return fn
