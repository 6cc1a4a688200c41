"""Columns within a design: arrays at the places of its numbers, and one place of them taken out again."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import fields, replace
from typing import Any

import numpy as np

from ..ledger.formula import Real
from .part import Part, part_at
from .profile import Profile


def put_in(part: Any, path: str, value: Any) -> Any:
    """A part with a value at a path of it, unchecked: it may be a column."""
    head, _, rest = path.partition(".")
    if isinstance(part, list):
        inner = list(part)
        inner[int(head)] = put_in(part[int(head)], rest, value)
        return inner
    return part.model_copy(update={head: put_in(getattr(part, head), rest, value) if rest else value})


def owner_of(design: Part, path: str) -> Part:
    """The part that a field stands in; TypeError where the path leads to none."""
    at = path.rpartition(".")[0]
    here: Any = part_at(design, at) if at else design
    if not isinstance(here, Part):
        raise TypeError(path)
    return here


def lacking(profile: Profile) -> tuple[str, ...]:
    """Which numbers the catalogue has not of a profile: how it is rated, and what is asked of it, hang on
    them.
    """
    return tuple(f.name for f in fields(Profile) if getattr(profile, f.name) is None)


def profile_of(profiles: Mapping[str, Profile], keys: np.ndarray) -> Profile:
    """One profile whose numbers are columns, by a column of keys; all of them lack the same."""
    names, at = np.unique(keys, return_inverse=True)
    found: list[Any] = [profiles[str(name)] for name in names]
    made: dict[str, Any] = {}
    for f in fields(Profile):
        values = [getattr(p, f.name) for p in found]
        if all(isinstance(v, (int, float)) for v in values):
            numbers = np.array([float(v) for v in values])
            made[f.name] = numbers[at].reshape(keys.shape)
        else:
            made[f.name] = values[0]
    return Profile(**made)


def _inner(thing: Any) -> Iterator[tuple[Any, Any]]:
    if isinstance(thing, Part):
        yield from thing
    elif isinstance(thing, Profile):
        yield from ((f.name, getattr(thing, f.name)) for f in fields(thing))
    elif isinstance(thing, list):
        yield from enumerate(thing)


def columns_in(thing: Any) -> list[np.ndarray]:
    """Every column that stands in a part, a profile, or a list of parts."""
    if isinstance(thing, np.ndarray):
        return [thing]
    return [c for _, inner in _inner(thing) for c in columns_in(inner)]


def at_place(thing: Any, shape: tuple[int, ...], place: tuple[int, ...]) -> Any:
    """The same thing with plain numbers: those of one place of columns that spread to a shape."""
    if isinstance(thing, np.ndarray):
        return np.broadcast_to(thing, shape)[place].item()
    changed = {key: at_place(inner, shape, place) for key, inner in _inner(thing) if columns_in(inner)}
    if not changed:
        return thing
    if isinstance(thing, list):
        return [changed.get(i, inner) for i, inner in enumerate(thing)]
    return thing.model_copy(update=changed) if isinstance(thing, Part) else replace(thing, **changed)


def each(work: Callable[..., float], *things: Any) -> Real:
    """What `work` makes of parts and numbers, place by place, where it cannot be put in arrays.

    >>> each(lambda a, b: a + b, np.array([[1.0], [2.0]]), np.array([[1.0, 2.0]])).tolist()
    [[2.0, 3.0], [3.0, 4.0]]
    """
    columns: Sequence[np.ndarray] = columns_in(list(things))
    if not columns:
        return work(*things)
    shape = np.broadcast_shapes(*(c.shape for c in columns))
    out = np.empty(shape)
    for place in np.ndindex(*shape):
        out[place] = work(*(at_place(thing, shape, place) for thing in things))
    return out
