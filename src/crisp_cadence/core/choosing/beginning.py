"""A new axis from a layout and a few numbers: what a layout asks for, and a design whose lengths follow."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..design.design import AxisDesign, changed
from ..design.layouts import begin
from ..evaluation.columns import field_at
from ..fields.part import part_at
from ..fields.profile import Profile
from ..ledger.errors import EntryError, problem
from ..ledger.record import record
from .how_far import AIMS, aim_of
from .settle import fit_for

FIRST = ("Travel", "Speed", "Moving mass", "Push")


@record
class Ask:
    """One number that a new axis is begun with: its field, what it is called, and what stands there where
    nobody says.
    """

    path: str
    title: str
    dimension: str
    unit: str
    value: float


def asks(design: AxisDesign) -> tuple[Ask, ...]:
    """The numbers that say what an axis of this layout is for, but those that count for nothing there."""
    paths = dict(AIMS)
    found = (aim_of(design, name, paths[name]) for name in FIRST)
    return tuple(_ask(design, *one) for one in found if one is not None)


def _ask(design: AxisDesign, title: str, path: str) -> Ask:
    extra: Any = field_at(design, path).json_schema_extra
    return Ask(path, title, extra["dimension"], extra["unit"], part_at(design, path))


def begun(layout: str, name: str, aims: Mapping[str, float], profiles: Mapping[str, Profile]) -> AxisDesign:
    """A new axis of a layout for these aims, by their paths; rail and other lengths follow them. EntryError
    where a number is not asked of this layout, or cannot be.
    """
    design = begin(layout, name)
    if not aims:
        return design
    known = {ask.path: ask.title for ask in asks(design)}
    for path, value in aims.items():
        if path not in known:
            raise EntryError(
                [
                    problem(
                        path,
                        "is not asked of this layout",
                        value=value,
                        limit=", ".join(known),
                        remedy="Leave it out, or name one of these.",
                    )
                ]
            )
    return fit_for(changed(design, {**aims, "chosen": list(aims)}), profiles)[1]
