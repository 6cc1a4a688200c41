"""Base of everything that stands in a design file: strict numbers with their unit, limits and words; unknown
fields kept.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from typing import Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field, GetJsonSchemaHandler
from pydantic_core import CoreSchema

SourceKind = Literal[
    "standard", "handbook", "common practice", "from memory", "estimate", "measured by you", "your entry"
]


class Part(BaseModel):
    """A piece of a design. Frozen; fields that this version does not know are kept and written back.

    `FIRST` names the fields that a maker knows and decides, in the order of need; a form folds the others.
    Where it is empty, none is folded.

    For columns of a design: `APART` names the numbers each of which makes a design of its own kind (a row of
    a table, a shape), `LOOKED_UP` the choices that only stand for a number, `UNKNOWN` the numbers that, left
    empty, only leave results unknown, where others then have something else take their place.
    """

    FIRST: ClassVar[tuple[str, ...]] = ()
    APART: ClassVar[tuple[str, ...]] = ()
    LOOKED_UP: ClassVar[tuple[str, ...]] = ()
    UNKNOWN: ClassVar[tuple[str, ...]] = ()

    model_config = ConfigDict(
        extra="allow", frozen=True, ser_json_inf_nan="constants", protected_namespaces=()
    )

    @classmethod
    def __get_pydantic_json_schema__(
        cls, core_schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> dict[str, Any]:
        schema = handler(core_schema)
        if cls.FIRST:
            handler.resolve_ref_schema(schema)["first"] = list(cls.FIRST)
        return schema


# Sizes that can be bought, for the fields that take one.
SHAFTS = (3, 4, 5, 6, 6.35, 8, 10, 12, 12.7, 14, 16, 20)
MODULES = (0.5, 0.8, 1, 1.25, 1.5, 2, 2.5, 3)


def num(
    title: str,
    dimension: str,
    unit: str,
    low: float,
    high: float,
    default: Any = ...,
    why: str = "",
    *,
    sizes: Sequence[float] = (),
    step: str = "",
    bill: bool = False,
    only: Sequence[str] = (),
) -> Any:
    """A number field: strict (no text, no true or false), finite, within physical limits, with its unit and
    words.

    `sizes` are those that can be bought; `step` is where it is decided, if not where its part is; `bill`
    tells what belongs to the bill; `only` names the kinds of its part under which it counts, if not all.
    """
    more: dict[str, Any] = {"sizes": list(sizes), "step": step, "bill": bill, "only": list(only)}
    return Field(
        default,
        title=title,
        description=why,
        ge=low,
        le=high,
        strict=True,
        allow_inf_nan=False,
        json_schema_extra={
            "dimension": dimension,
            "unit": unit,
            **{name: value for name, value in more.items() if value},
        },
    )


def piece(default: Any, step: str) -> Any:
    """A part within a part, and the step on which it is decided; what it holds is decided there too, unless
    it says otherwise.
    """
    return Field(default, json_schema_extra={"step": step})


def words(title: str, default: str = "", longest: int = 200, why: str = "") -> Any:
    """A line of text."""
    return Field(default, title=title, description=why, max_length=longest, strict=True)


def choice(
    title: str,
    default: Any,
    why: str = "",
    only: Sequence[str] = (),
    carries: Mapping[str, Mapping[str, Any]] | None = None,
) -> Any:
    """A choice from a short list, given by the field's Literal type; `only` as with a number. What it
    `carries` is set with it, field by field, when somebody chooses.
    """
    more: dict[str, Any] = {"only": list(only), "carries": carries}
    extra: Any = {name: value for name, value in more.items() if value}
    return Field(default, title=title, description=why, json_schema_extra=extra or None)


class Source(Part):
    """Where a part's data come from."""

    kind: SourceKind = choice("Source", "estimate")
    note: str = words("Source note", longest=300)


DAY = r"^(\d{4}-\d{2}-\d{2})?$"  # a day, or none


class Bought(Part):
    """A part that costs money: what it is called, where it was picked, what it costs, and whether it lies in
    the drawer.
    """

    label: str = Field(
        "",
        title="Name",
        max_length=200,
        strict=True,
        description="What you call it; it goes on the bill.",
        json_schema_extra={"bill": True},
    )
    drawer_key: str | None = Field(
        None, title="Drawer row", max_length=80, json_schema_extra={"hidden": True}
    )
    price: float | None = num(
        "Price each", "money", "", 0, 1e6, None, "Leave empty if you don't know it yet.", bill=True
    )
    in_stock: bool = Field(False, title="In the drawer", strict=True, json_schema_extra={"bill": True})
    ordered: str = Field(
        "", title="Ordered on", pattern=DAY, strict=True, json_schema_extra={"bill": True, "hidden": True}
    )
    due: str = Field(
        "", title="Due on", pattern=DAY, strict=True, json_schema_extra={"bill": True, "hidden": True}
    )
    got: float = Field(
        0.0,
        title="Pieces here or on their way",
        description="As the machine's parcels have them; fewer than are wanted, and the rest is to buy.",
        ge=0,
        le=1e6,
        strict=True,
        allow_inf_nan=False,
        json_schema_extra={"bill": True, "hidden": True},
    )
    source: Source = Field(Source(), json_schema_extra={"hidden": True})


# A part that nothing was ordered for.
UNORDERED: dict[str, Any] = {"ordered": "", "due": "", "got": 0.0}


def part_at(design: Any, path: str) -> Any:
    """The piece of a design that a path leads to."""
    here = design
    for key in path.split("."):
        here = here[int(key)] if isinstance(here, list) else getattr(here, key)
    return here


def fingerprint(part: Any) -> str:
    """What a part is, in eight characters: the same whatever it is called, costs, or comes from.

    >>> fingerprint(Bought(label="one")) == fingerprint(Bought(label="two", price=3.0))
    True
    """
    return hashlib.sha256(json.dumps(_bare(part), sort_keys=True).encode()).hexdigest()[:8]


def _bare(part: Any) -> Any:
    if isinstance(part, (list, tuple)):
        return [_bare(p) for p in part]
    if not isinstance(part, BaseModel):
        return part
    told = {}
    for name, info in type(part).model_fields.items():
        extra = info.json_schema_extra
        if isinstance(extra, dict) and (extra.get("bill") or extra.get("hidden")):
            continue
        told[name] = _bare(getattr(part, name))
    return told
