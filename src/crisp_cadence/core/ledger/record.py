"""Frozen records, made by the hundred in every evaluation."""

from __future__ import annotations

from dataclasses import MISSING, dataclass, fields
from typing import TypeVar, dataclass_transform

T = TypeVar("T")


@dataclass_transform(frozen_default=True)
def record(cls: type[T]) -> type[T]:
    """A frozen dataclass whose __init__ fills the instance's dictionary straight away.

    The usual frozen __init__ goes field by field through object.__setattr__ and takes about four times as
    long, which an evaluation of some thousand records would feel.

    >>> @record
    ... class Pair:
    ...     a: int
    ...     b: int = 2
    >>> Pair(1), Pair(1) == Pair(a=1, b=2)
    (Pair(a=1, b=2), True)
    >>> Pair(1).a = 3
    Traceback (most recent call last):
    ...
    dataclasses.FrozenInstanceError: cannot assign to field 'a'
    """
    made = dataclass(frozen=True, init=False)(cls)
    listed = fields(made)  # type: ignore[arg-type]
    given = ", ".join(f.name if f.default is MISSING else f"{f.name}=default_{f.name}" for f in listed)
    lines = "\n".join(f"    own[{f.name!r}] = {f.name}" for f in listed)
    scope = {f"default_{f.name}": f.default for f in listed}
    exec(f"def __init__(self, {given}):\n    own = self.__dict__\n{lines}", scope)
    made.__init__ = scope["__init__"]  # type: ignore[assignment]
    return made
