"""What nobody has chosen: numbers and choices of a design that still stand as its layout began."""

from __future__ import annotations

from functools import lru_cache
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel
from pydantic_core import PydanticUndefined

from ..fields.part import part_at
from .design import AxisDesign
from .layouts import LAYOUTS, begin, layout_of

# What the maker says of himself, and what is called an assumption already, is never counted.
NOT_COUNTED = frozenset(
    {"assumptions", "extras", "riding", "still", "measured", "made", "done", "chosen", "heads", "version"}
)


def assumed(design: AxisDesign) -> tuple[str, ...]:
    """Paths of the numbers and choices that stand as the design's layout began and that nobody has chosen
    since, in the order of the design.

    Left out: fields that are empty, that do not count for the kind of their part or for the end of the chain,
    that belong to the bill, and what was measured on the real thing.

    >>> at_first = begin("rack", "Shutter")
    >>> "aim.speed_mm_s" in assumed(at_first)
    True
    >>> "aim.speed_mm_s" in assumed(at_first.model_copy(update={"chosen": ["aim.speed_mm_s"]}))
    False
    """
    layout = layout_of(design)
    started = _started(layout) if layout in LAYOUTS else None
    known = {*design.chosen, *(m.field for m in design.measured)}
    idle = (*design.end.IDLE, *design.end.AIMS)
    return tuple(
        path for path in _unchanged(design, started, "") if path not in known and not path.startswith(idle)
    )


def assumed_rigid(design: AxisDesign, by_layout: tuple[str, ...]) -> tuple[str, ...]:
    """Paths of the mounts that stand as rigid since nobody has said what holds them; `by_layout` as `assumed`
    tells it.

    >>> design = begin("carriage_loop", "Slide")
    >>> assumed_rigid(design, assumed(design))
    ('end.motor_mount', 'end.idler_mount')
    """
    mounts = (path.removesuffix(".kind") for path in by_layout if path.endswith("_mount.kind"))
    return tuple(path for path in mounts if part_at(design, path).kind == "rigid")


@lru_cache(maxsize=64)
def _started(layout: str) -> AxisDesign:
    return begin(layout, "")


def _unchanged(part: BaseModel, started: BaseModel | None, at: str) -> list[str]:
    own, out = part.__dict__, []
    kind = own.get("kind", "")
    alike = type(started) is type(part) and started.__dict__.get("kind", "") == kind
    before = started.__dict__ if alike else None
    for name, inner, only, default in _fields(type(part)):
        value = own[name]
        if value is None or (only and kind not in only):
            continue
        was = default if before is None else before[name]
        if not inner:
            if value == was:
                out.append(at + name)
        elif isinstance(value, list):
            rows = was if isinstance(was, list) else []
            for place, item in enumerate(value):
                if isinstance(item, BaseModel):
                    first = rows[place] if place < len(rows) else None
                    out += _unchanged(item, first, f"{at}{name}.{place}.")
        elif isinstance(value, BaseModel):
            out += _unchanged(value, was, f"{at}{name}.")
    return out


@lru_cache(maxsize=256)
def _fields(model: type[BaseModel]) -> tuple[tuple[str, bool, tuple[str, ...], Any], ...]:
    """Fields of a part that may be assumed: name, whether it holds parts of its own, the kinds under which it
    counts, and what it is where nobody says.
    """
    out = []
    for name, info in model.model_fields.items():
        extra = info.json_schema_extra if isinstance(info.json_schema_extra, dict) else {}
        told = get_origin(info.annotation) is Literal and len(get_args(info.annotation)) == 1
        if name in NOT_COUNTED or told or extra.get("bill") or extra.get("hidden") or name == "source":
            continue
        default = info.get_default(call_default_factory=True)
        default = None if default is PydanticUndefined else default
        leaf = "dimension" in extra or get_origin(info.annotation) is Literal or name == "profile"
        inner = not leaf and info.annotation not in (str, bool)
        if leaf or inner:
            only: Any = extra.get("only", ())
            out.append((name, inner, tuple(only), default))
    return tuple(out)
