"""Millions of designs at once: the one evaluation with columns of numbers and choices in place of single
ones.

A column lies along a named dimension: motors, belts, draws of what is not certain. All columns of one
dimension run in step; the dimensions are crossed. Numbers stay arrays all the way through the evaluation, so
that each formula works once on what it depends on. What decides the kind of a design instead (a choice, a
number that picks a row of a table, whether an optional number is there at all) splits the dimension into
groups, and each group is walked through once.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, reduce
from itertools import product
from typing import Any, get_args

import numpy as np
from pydantic import ValidationError
from pydantic.fields import FieldInfo

from ..account.verdicts import Target
from ..design.design import AxisDesign, as_measured
from ..fields.columns import lacking, owner_of, profile_of, put_in
from ..fields.profile import Profile
from ..ledger.errors import EntryError, Problem, problem, show
from ..ledger.formula import Real
from ..ledger.quantity import bare
from .evaluate import Run, each_case, work_out
from .pieces import fits_together, parts_of

# Dimension, then design path, then one value for each place along it.
Varied = Mapping[str, Mapping[str, Sequence[Any]]]
MOST_PLACES = 400_000_000  # of all dimensions together
MOST_GROUPS = 4_000  # kinds of design among them
MOST_DIMENSIONS = 6

Index = np.ndarray


@dataclass(frozen=True)
class Group:
    """Designs of one kind worked out, each case by itself; or why none of them can be built."""

    runs: tuple[Run, ...]
    problems: tuple[Problem, ...] = ()

    def masks(self) -> list[np.ndarray]:
        """Of each thing that can stop a design, where it does."""
        return [mask for run in self.runs for mask in run.ctx.refused]

    def refused(self) -> Real:
        """Where no design can be built."""
        found: Real = bool(self.problems)
        for mask in self.masks():
            found = np.logical_or(found, mask)
        return found

    @cached_property
    def targets(self) -> dict[str, list[Target]]:
        """Every rung, in each case that has it."""
        found: dict[str, list[Target]] = {}
        for run in self.runs:
            for target in run.ctx.targets:
                found.setdefault(target.key, []).append(target)
        return found

    def counts(self, key: str) -> bool:
        """Whether a rung counts for the whole."""
        return any(not t.advisory for t in self.targets.get(key, []))

    def headroom(self, key: str) -> Real:
        """Headroom of a rung in the case that is worst for it, as on the ladder of one design."""
        found = [t.headroom() for t in self.targets.get(key, [])]
        if len(found) < 2:
            return found[0] if found else math.inf
        known, lacking = reduce(np.fmin, found), reduce(np.logical_or, [np.isnan(f) for f in found])
        # A case that is short counts more than one that is not known, and that more than one that holds.
        short = known * bare(self.targets[key][0].margin) < 1 - 1e-9
        return np.where(lacking & ~short, np.nan, known)

    def value(self, key: str) -> Real:
        """A result, in its first case; NaN where there is none."""
        return self._values(key)[0]

    def most(self, key: str) -> Real:
        """A result at its largest over all cases."""
        return reduce(np.maximum, self._values(key))

    def least(self, key: str) -> Real:
        """A result at its smallest over all cases."""
        return reduce(np.minimum, self._values(key))

    def _values(self, key: str) -> list[Real]:
        found = [run.ctx.book.results.get(key) for run in self.runs]
        return [math.nan if q is None or q.value is None else q.n for q in found] or [math.nan]


Places = tuple[Index, ...]


class Columns:
    """What came of an evaluation with columns: every array has all dimensions, of length 1 where a number
    does not vary, or where it is told by a single one.
    """

    def __init__(
        self,
        design: AxisDesign,
        profiles: Mapping[str, Profile],
        varied: Varied,
        groups: Sequence[tuple[Places, Group]],
    ) -> None:
        self.design, self.profiles, self.varied, self.groups = design, profiles, varied, groups
        self.dimensions = tuple(varied)
        self.shape = tuple(_length(c) for c in varied.values())

    @cached_property
    def rungs(self) -> tuple[str, ...]:
        """Keys of all rungs but advisory ones, in the order in which they are worked out."""
        listed = (t for _, group in self.groups for ts in group.targets.values() for t in ts)
        return tuple(dict.fromkeys(t.key for t in listed if not t.advisory))

    def headroom(self, key: str) -> np.ndarray:
        """Headroom of a rung at every place: infinite where nothing is asked or it does not count, NaN where
        it is not known.
        """
        counts = key in self.rungs
        return self._joined(
            lambda group: group.headroom(key) if group.counts(key) or not counts else math.inf
        )

    def refused(self) -> np.ndarray:
        """Where no design can be built; `why` says why."""
        return self._joined(Group.refused).astype(bool)

    def value(self, key: str) -> np.ndarray:
        """A result at every place, in its first case."""
        return self._joined(lambda group: group.value(key))

    def at(self, place: Sequence[int]) -> AxisDesign:
        """The design of one place, as it would be entered."""
        design: Any = as_measured(self.design)
        for (_, columns), i in zip(self.varied.items(), place, strict=True):
            for path, values in columns.items():
                design = put_in(design, path, _entered(field_at(self.design, path), values[i]))
        return AxisDesign.model_validate(design.model_dump())

    def refused_at(self, place: Sequence[int]) -> bool:
        """Whether the design of one place cannot be built."""
        return bool(np.broadcast_to(self.refused(), self.shape)[tuple(place)])

    def why(self, place: Sequence[int]) -> list[Problem]:
        """Why the design of one place cannot be built; nothing where it can."""
        try:
            work_out(self.at(place), self.profiles)
        except EntryError as error:
            return error.problems
        return []

    def _joined(self, ask: Callable[[Group], Real]) -> np.ndarray:
        # Refused places have roots of negative numbers and divisions by nothing in them.
        with np.errstate(all="ignore"):
            found = [ask(group) for _, group in self.groups]
        dims = len(self.shape)
        made = [f if np.ndim(f) == dims else np.full((1,) * dims, f) for f in found]
        if len(self.groups) == 1:
            return made[0]
        whole = [
            n if any(m.shape[d] > 1 for m in made) or self._split(d) else 1 for d, n in enumerate(self.shape)
        ]
        out = np.empty(whole, dtype=np.result_type(*made))
        for (places, _), values in zip(self.groups, made, strict=True):
            where = [p if n > 1 else p[:1] * 0 for p, n in zip(places, whole, strict=True)]
            out[np.ix_(*where)] = values
        return out

    def _split(self, d: int) -> bool:
        return any(len(places[d]) < self.shape[d] for places, _ in self.groups)


def columns(design: AxisDesign, profiles: Mapping[str, Profile], varied: Varied) -> Columns:
    """Works a design out with columns in place of some of its numbers and choices.

    Equation: as each formula's own, place by place
    Units: – → – (one axis for each dimension, in the order given)
    Range: numbers within the limits of their fields; NaN, for what is not known, where a field may be empty
    Source: handbook — each formula names its own

    EntryError names a column that cannot be: of another length than the others of its dimension, of a path
    that is no field, beyond a limit, or too many of them.
    """
    design = as_measured(design)
    checked = _checked(design, profiles, varied)
    groups = []
    split = [_split_up(design, profiles, own) for own in checked.values()]
    if math.prod(len(s) for s in split) > MOST_GROUPS:
        raise EntryError(
            [
                problem(
                    max(checked, key=lambda d: len(split[list(checked).index(d)])),
                    "has too many kinds of design in it",
                    value=math.prod(len(s) for s in split),
                    limit=MOST_GROUPS,
                    remedy="Vary fewer choices at once.",
                )
            ]
        )
    for picked in product(*split):
        groups.append((picked, walked(*_with(design, profiles, checked, picked))))
    return Columns(design, profiles, varied, groups)


def walked(design: AxisDesign, profiles: Mapping[str, Profile]) -> Group:
    """A design that has columns in it, every case worked out; its results when they are first asked for."""
    end, stages, motor = parts_of(design)
    try:
        fits_together(design, end, motor)
        with np.errstate(all="ignore"):
            return Group(tuple(each_case(design, profiles, end, stages, motor, late=True)))
    except EntryError as error:
        return Group((), tuple(error.problems))


# ---- one group ---------------------------------------------------------------------


def _with(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    checked: Mapping[str, Mapping[str, np.ndarray]],
    picked: Sequence[Index],
) -> tuple[AxisDesign, dict[str, Profile]]:
    """A design with the columns of one group in it, and the profiles that it names."""
    known, made, count = dict(profiles), design, len(checked)
    for d, (own, places) in enumerate(zip(checked.values(), picked, strict=True)):
        shape = [1] * count
        shape[d] = len(places)
        for path, values in own.items():
            here = values[places]
            if _apart(design, path) or (here.dtype.kind == "f" and np.isnan(here).all()):
                made = put_in(made, path, _entered(field_at(design, path), here[0]))
            elif path.endswith("belt.profile"):
                known[path] = profile_of(profiles, here.reshape(shape))
                made = put_in(made, path, path)
            else:
                made = put_in(made, path, here.reshape(shape))
    return made, known


# ---- what splits ---------------------------------------------------------------------


def _apart(design: AxisDesign, path: str) -> bool:
    """Whether each value of a field makes a kind of design of its own."""
    owner = owner_of(design, path)
    name = path.rpartition(".")[2]
    if path.endswith("belt.profile") or name in owner.LOOKED_UP:
        return False
    return design.end.SINGLY or name in owner.APART or not is_number(type(owner).model_fields[name])


def kinds_among(design: AxisDesign, profiles: Mapping[str, Profile], own: Mapping[str, np.ndarray]) -> Index:
    """The kind of design that each place of a dimension holds, numbered from 0."""
    labels = np.zeros(_length(own), dtype=np.intp)
    for path, values in own.items():
        if _apart(design, path):
            key = np.unique(values.astype(str), return_inverse=True)[1]
        elif values.dtype.kind == "f" and path.rpartition(".")[2] not in owner_of(design, path).UNKNOWN:
            key = np.isnan(values).astype(np.intp)
        elif path.endswith("belt.profile"):
            known = [str(lacking(profiles[str(name)])) for name in values]
            key = np.unique(known, return_inverse=True)[1]
        else:
            continue
        labels = np.unique(labels * (int(key.max()) + 1) + key, return_inverse=True)[1]
    return labels


def _split_up(
    design: AxisDesign, profiles: Mapping[str, Profile], own: Mapping[str, np.ndarray]
) -> list[Index]:
    """Places of a dimension that hold one kind of design each."""
    labels = kinds_among(design, profiles, own)
    return [np.flatnonzero(labels == label) for label in range(int(labels.max()) + 1)]


# ---- what can be a column ---------------------------------------------------------------------


def field_at(design: AxisDesign, path: str) -> FieldInfo:
    """The definition of a design's field; EntryError where the path leads to none."""
    try:
        owner = owner_of(design, path)
        return type(owner).model_fields[path.rpartition(".")[2]]
    except (AttributeError, KeyError, IndexError, ValueError, TypeError):
        raise EntryError(
            [
                problem(
                    path[:80],
                    "is not a field of this design",
                    value=path[:80],
                    limit="a number or a choice, by its path",
                    remedy="Name a field of one of its parts.",
                )
            ]
        ) from None


def is_number(info: FieldInfo) -> bool:
    """Whether a field holds a number of a unit."""
    extra = info.json_schema_extra
    return isinstance(extra, dict) and "unit" in extra


def _entered(info: FieldInfo, value: Any) -> Any:
    """One value as it would be entered."""
    value = value.item() if isinstance(value, np.generic) else value
    if not is_number(info):
        return value
    if value is None or math.isnan(value):
        return None
    return int(value) if info.annotation is int else float(value)


def _length(own: Mapping[str, Any]) -> int:
    return len(next(iter(own.values())))


def _checked(
    design: AxisDesign, profiles: Mapping[str, Profile], varied: Varied
) -> dict[str, dict[str, np.ndarray]]:
    """Every column as an array; EntryError with all that cannot be."""
    found: list[Problem] = []
    if not 1 <= len(varied) <= MOST_DIMENSIONS:
        remedy = "Take at least one, and fewer than that at once."
        says = "lie along no dimension, or along too many"
        raise EntryError([_told("columns", says, len(varied), MOST_DIMENSIONS, remedy)])
    out: dict[str, dict[str, np.ndarray]] = {}
    seen: dict[str, str] = {}
    for dimension, own in varied.items():
        lengths = {path: len(values) for path, values in own.items()}
        if not own or 0 in lengths.values():
            found.append(_told(dimension, "holds no values", 0, "at least one", "Give it values."))
            continue
        most = max(lengths.values())
        for path, length in lengths.items():
            if length != most:
                found.append(
                    _told(
                        path,
                        "has another number of values than the others of its dimension",
                        length,
                        most,
                        "Give one for each place, or a dimension of its own.",
                    )
                )
            if path in seen:
                found.append(
                    _told(path, "is varied along two dimensions", dimension, seen[path], "Vary it along one.")
                )
            seen[path] = dimension
        out[dimension] = {
            path: _column(design, profiles, path, values, found) for path, values in own.items()
        }
    places = math.prod(max(len(v) for v in own.values()) for own in out.values())
    if places > MOST_PLACES:
        found.append(
            _told(
                max(out, key=lambda d: _length(out[d])),
                "makes too many designs at once",
                places,
                MOST_PLACES,
                "Take fewer values, or one dimension less.",
            )
        )
    if found:
        raise EntryError(found)
    return out


def _column(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    path: str,
    values: Sequence[Any],
    found: list[Problem],
) -> np.ndarray:
    info = field_at(design, path)
    if not is_number(info):
        return _choices(design, profiles, path, values, found)
    try:
        column = np.array([math.nan if v is None else v for v in values], dtype=float)
    except (TypeError, ValueError):
        found.append(
            _told(
                path,
                "is a number, and not all of these are",
                show(list(values)[:3]),
                "numbers",
                "Give numbers.",
            )
        )
        return np.zeros(len(values))
    low, high = (next((getattr(m, n) for m in info.metadata if hasattr(m, n)), None) for n in ("ge", "le"))
    optional = type(None) in get_args(info.annotation)
    whole = info.annotation is int or int in get_args(info.annotation)
    unit = str(info.json_schema_extra.get("unit", "")) if isinstance(info.json_schema_extra, dict) else ""
    if np.isnan(column).any() and not optional:
        found.append(
            _told(
                path,
                "is not a number everywhere",
                "not a number",
                "a number",
                "Give one at every place; only what may be left empty may be missing.",
                unit,
            )
        )
    for bad, limit in ((column < low, low), (column > high, high)):
        if bad.any():
            found.append(
                _told(
                    path,
                    "is beyond what this field can be",
                    float(column[bad][0]),
                    limit,
                    "Stay within the limit.",
                    unit,
                )
            )
    if whole and (column != np.round(column))[~np.isnan(column)].any():
        found.append(
            _told(
                path,
                "counts in whole numbers",
                float(column[column != np.round(column)][0]),
                "whole numbers",
                "Give whole numbers.",
                unit,
            )
        )
    return column


def _choices(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    path: str,
    values: Sequence[Any],
    found: list[Problem],
) -> np.ndarray:
    """A column of choices, each tried once as if it had been entered."""
    head = path.rpartition(".")[0]
    for value in dict.fromkeys(values):
        if path.endswith("belt.profile") and value not in profiles:
            found.append(
                _told(
                    path,
                    "is not a belt profile of the catalogue",
                    show(value),
                    ", ".join(profiles),
                    "Pick one of the profiles listed.",
                )
            )
            continue
        try:
            owner = owner_of(put_in(design, path, value), path)
            type(owner).model_validate(owner.model_dump())
        except ValidationError:
            found.append(
                _told(
                    path,
                    "cannot be this",
                    show(value),
                    f"what {head or 'the design'} allows",
                    "Pick one of its choices.",
                )
            )
    return np.array(list(values))


def _told(path: str, says: str, value: Any, limit: Any, remedy: str, unit: str = "") -> Problem:
    return problem(path[:80], says, value=value, limit=limit, unit=unit, remedy=remedy)
