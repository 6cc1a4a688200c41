"""Kinds of stages and ends: found by walking their packages, joined into one union that the design file reads
by `kind`.

A kind that this version does not know is kept as it stands (so that a file from a newer program survives) and
is named when the design is evaluated.
"""

from __future__ import annotations

import functools
import importlib
import operator
import pkgutil
from collections.abc import Iterable
from types import ModuleType
from typing import Annotated, Any, TypeVar

from pydantic import Discriminator, Field, Tag, WithJsonSchema

from ..fields.part import Part

P = TypeVar("P", bound=Part)


class UnknownPart(Part):
    """A stage or end of a kind that this version does not know; kept and written back unchanged."""

    kind: Annotated[str, Field(min_length=1, max_length=60, strict=True)]


UNKNOWN = "unknown kind"


def kinds_in(package: ModuleType, base: type[P]) -> dict[str, type[P]]:
    """Every subclass of `base` with a `kind` in the modules of a package, by kind."""
    found: dict[str, type[P]] = {}
    for info in pkgutil.iter_modules(package.__path__):
        module = importlib.import_module(f"{package.__name__}.{info.name}")
        for thing in vars(module).values():
            if isinstance(thing, type) and issubclass(thing, base) and thing.__module__ == module.__name__:
                default = thing.model_fields["kind"].default if "kind" in thing.model_fields else None
                if isinstance(default, str):
                    found[default] = thing
    return dict(sorted(found.items()))


def union_of(classes: Iterable[type[Part]]) -> Any:
    """Annotated union of parts, told apart by `kind`, with UnknownPart for every other kind."""
    classes = tuple(classes)
    tags = {c.model_fields["kind"].default for c in classes}

    def tag(value: Any) -> str | None:
        kind = value.get("kind") if isinstance(value, dict) else getattr(value, "kind", None)
        if not isinstance(kind, str):
            return None
        return kind if kind in tags else UNKNOWN

    members = [Annotated[c, Tag(str(c.model_fields["kind"].default))] for c in classes]
    # Exactly one of them fits each part, also for a reader of the schema: the last one takes only kinds that
    # no other has.
    strange = {
        "title": "Kind",
        "type": "string",
        "minLength": 1,
        "maxLength": 60,
        "not": {"enum": sorted(str(t) for t in tags)},
    }
    schema = {
        "title": "UnknownPart",
        "type": "object",
        "description": UnknownPart.__doc__,
        "properties": {"kind": strange},
        "required": ["kind"],
        "additionalProperties": True,
    }
    members.append(Annotated[UnknownPart, Tag(UNKNOWN), WithJsonSchema(schema)])
    return Annotated[
        functools.reduce(operator.or_, members),
        Discriminator(
            tag,
            custom_error_type="kind_missing",
            custom_error_message="Every part needs a 'kind' that says what it is",
        ),
    ]
