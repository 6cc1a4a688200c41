"""Rows of a list, each with an id of its own: what hangs on a row (a purchase, a tick, a price) is named by
it, so that it stays with its row whatever is put in before.

A *path* leads to a place as it stands: "chain.1.belt". A *reference* names the row: "chain.k3f.belt". They
are alike where every row stands in the place that gave it its id, as in files from before rows had any.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from typing import Annotated, TypeVar

from pydantic import AfterValidator, BaseModel, Field

from .part import Part

ID = r"^[a-z0-9]{0,16}$"
Name = Callable[[str], str]
T = TypeVar("T")


class Row(Part):
    """A part that stands in a list."""

    id: str = Field("", title="Id", pattern=ID, strict=True, json_schema_extra={"hidden": True})


def with_ids(rows: list[T]) -> list[T]:
    """The rows, each with an id: its own, else its place, or where a row before it has that one the next free
    number.

    >>> [r.id for r in with_ids([Row(id="k3f"), Row(), Row(id="1")])]
    ['k3f', '2', '1']
    """
    known = [str(getattr(row, "id", "")) for row in rows]
    if all(known) and len(set(known)) == len(known):
        return rows
    taken, out = {i for i in known if i}, []
    seen: set[str] = set()
    for place, (row, own) in enumerate(zip(rows, known, strict=True)):
        if own and own not in seen:
            seen.add(own)
            out.append(row)
            continue
        number = place
        while str(number) in taken:
            number += 1
        taken.add(str(number))
        seen.add(str(number))
        out.append(row.model_copy(update={"id": str(number)}) if isinstance(row, BaseModel) else row)
    return out


NAMED = AfterValidator(with_ids)
Rows = Annotated[list[T], NAMED]


def _differing(part: BaseModel, at: str, called: str) -> Iterator[tuple[str, str]]:
    """Path and reference of every row below a part that stands elsewhere than its id says, or within one."""
    for name, value in part.__dict__.items():
        if isinstance(value, BaseModel):
            yield from _differing(value, f"{at}{name}.", f"{called}{name}.")
        elif isinstance(value, list):
            for place, row in enumerate(value):
                if not isinstance(row, BaseModel):
                    break
                here, ref = f"{at}{name}.{place}", f"{called}{name}.{getattr(row, 'id', '') or place}"
                if here != ref:
                    yield here, ref
                yield from _differing(row, f"{here}.", f"{ref}.")


def _renamed(pairs: Mapping[str, str]) -> Name:
    """Replaces a path at the head of a name, or a step's key that begins with it ("chain_1_on")."""
    every = {**pairs, **{a.replace(".", "_"): b.replace(".", "_") for a, b in pairs.items()}}
    longest = sorted(map(re.escape, every), key=len, reverse=True)
    found = re.compile(rf"(?<![a-z0-9_.])(?:{'|'.join(longest)})(?=[._ ]|$)")
    return lambda name: found.sub(lambda m: every[m[0]], name)


def naming(design: BaseModel) -> tuple[Name, Name]:
    """From a path to its reference, and back; where a row has gone, its reference leads to no place.

    >>> class Chain(Part):
    ...     chain: Rows[Row]
    >>> ref, path = naming(Chain(chain=[Row(id="0"), Row(id="k3f"), Row(id="1")]))
    >>> ref("chain.2.belt"), path("chain.1.belt"), ref("chain_1_on"), path("chain.k3f")
    ('chain.1.belt', 'chain.2.belt', 'chain_k3f_on', 'chain.1')
    """
    pairs = dict(_differing(design, "", ""))
    if not pairs:
        return str, str
    back = {ref: here for here, ref in pairs.items()}
    # A place whose number is nobody's id is none that a reference leads to.
    gone = {here: f"{here}.gone" for here in pairs if here not in back}
    return _renamed(pairs), _renamed({**gone, **back})
