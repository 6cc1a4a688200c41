"""Axes that ride on axes: all that one carries is the load of the one beneath."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from ..fields.axis import MASS_LIMIT_KG, MOST_ALIKE, MOST_RIDING, Mass
from ..fields.part import Source
from ..fields.rows import with_ids
from ..ledger.errors import EntryError, Problem, problem
from ..ledger.record import record
from ..parts.ends.contract import End
from .design import AxisDesign

NOTE = "rides on it"


@record
class Standing:
    """An axis among those of its machine: its design with what rides on it, or why it cannot be read or
    counted.
    """

    id: str
    name: str
    rides_on: str | None
    design: AxisDesign | None
    problems: tuple[Problem, ...] = ()


def as_load(design: AxisDesign) -> Mass:
    """A whole axis as one mass: what moves on it, its heaviest head, what rides on it, its motors and stages,
    and what stands still on it.

    A load beyond what one entry may hold is counted as several equal ones; EntryError where even that does
    not hold it, or where a stage of a kind that this version does not know says no mass that could be
    counted.

    >>> from crisp_cadence.core.design.layouts import begin
    >>> as_load(begin("riding_motor", "Head slide")).mass_kg
    0.9
    """
    listed = [*design.moving, *design.riding, *design.still]
    stages: list[Any] = list(design.chain)
    own = design.end.own_motors() if isinstance(design.end, End) else 1
    motors = own * (2 if design.sides.kind == "two motors" else 1)
    weighed = 0.0
    for stage in stages:
        mass = getattr(stage, "mass_kg", None)
        if mass is not None and (isinstance(mass, bool) or not isinstance(mass, (int, float))):
            raise _uncounted(
                design.name, mass, "is not a mass that could be counted", "Correct the mass of its stages."
            )
        weighed += (mass or 0.0) * motors
    mass = (
        sum(m.mass_kg * m.quantity for m in listed)
        + max((h.mass_kg for h in design.heads), default=0.0)
        + weighed
    )
    pieces = max(1, math.ceil(mass / MASS_LIMIT_KG))
    if pieces > MOST_ALIKE:
        raise _uncounted(design.name, mass, "is heavier than any load that is counted", "Correct its masses.")
    return Mass(
        label=design.name,
        mass_kg=round(mass / pieces, 6),
        quantity=pieces,
        source=Source(kind="your entry", note=NOTE),
    )


def _uncounted(name: str, mass: object, why: str, remedy: str) -> EntryError:
    limit = MASS_LIMIT_KG * MOST_ALIKE
    return EntryError(
        [
            problem(
                "riding",
                f"cannot be counted: “{name}” {why}",
                value=mass,
                limit=limit,
                unit="kg",
                remedy=remedy,
            )
        ]
    )


def by_hand(design: AxisDesign) -> list[Mass]:
    """The loads that were entered by hand, apart from the axes that ride on this one."""
    return [m for m in design.riding if m.source.note != NOTE]


def carrying(design: AxisDesign, riders: list[AxisDesign]) -> AxisDesign:
    """The design with the axes that ride on it as they stand now; loads entered by hand stay."""
    loads = [*by_hand(design), *(as_load(r) for r in riders)]
    return design.model_copy(update={"riding": with_ids(loads)})


def room_for(design: AxisDesign | None, riders: int) -> None:
    """EntryError where loads entered by hand and axes that ride are more than one axis may carry."""
    loads = 0 if design is None else len(by_hand(design))
    if loads + riders > MOST_RIDING:
        raise EntryError(
            [
                problem(
                    "riding",
                    f"would be too many: loads entered by hand ({loads}) and axes that ride on it ({riders})",
                    value=loads + riders,
                    limit=MOST_RIDING,
                    remedy="Let fewer axes ride on this one, or enter several loads as one.",
                )
            ]
        )


def beneath(under: Mapping[str, str | None], axis: str) -> tuple[list[str], bool]:
    """The axes beneath one, from the next to the lowest, and whether they lead back to it or round in a
    circle.

    >>> beneath({"head": "beam", "beam": "frame", "frame": None}, "head")
    (['beam', 'frame'], False)
    >>> beneath({"a": "b", "b": "a"}, "a")
    (['b', 'a'], True)
    """
    way: dict[str, None] = {}
    here = under.get(axis)
    while here is not None and here not in way:
        way[here] = None
        here = under.get(here)
    return list(way), here is not None


def carried(under: Mapping[str, str | None], wanted: Iterable[str]) -> list[str]:
    """The wanted axes and all that ride on them, in the order of `under`; axes that ride in a circle come
    once.

    >>> carried({"frame": None, "beam": "frame", "head": "beam", "lid": None}, ["beam"])
    ['beam', 'head']
    """
    riders: dict[str, list[str]] = {}
    for axis, mount in under.items():
        if mount is not None:
            riders.setdefault(mount, []).append(axis)
    seen: set[str] = set()
    todo = list(wanted)
    while todo:
        axis = todo.pop()
        if axis not in seen:
            seen.add(axis)
            todo += riders.get(axis, [])
    return [axis for axis in under if axis in seen]


def settled(listed: Iterable[Standing]) -> dict[str, Standing]:
    """Axes of a machine with the load of all that ride on them.

    What cannot be counted is a problem of the axis beneath, never a zero.
    """
    axes = {axis.id: axis for axis in listed}
    under = {axis.id: axis.rides_on for axis in axes.values()}
    ways = {axis: beneath(under, axis) for axis in axes}
    riders: dict[str, list[str]] = {}
    for axis, mount in under.items():
        if mount is not None and axis not in ways[axis][0]:
            riders.setdefault(mount, []).append(axis)
    out: dict[str, Standing] = {}
    for axis in sorted(axes, key=lambda a: -len(ways[a][0])):  # what rides comes before what it rides on
        out[axis] = _loaded(
            axes[axis], [out[r] for r in riders.get(axis, ()) if r in out], axis in ways[axis][0]
        )
    return out


def _loaded(axis: Standing, riders: list[Standing], in_circle: bool) -> Standing:
    if axis.design is None:
        return axis
    found = list(axis.problems)
    if in_circle:
        found.append(
            problem(
                "rides_on",
                "goes round in a circle: what this axis rides on rides on it",
                value=axis.rides_on,
                remedy="Let it ride on none, in Aim.",
            )
        )
    good = []
    for rider in riders:
        if rider.design is None or rider.problems:
            why = "cannot be read" if rider.design is None else "cannot be worked out"
            remedy = "Open that axis and mend it, or let it ride on none."
            found.append(
                problem(
                    "riding",
                    f"is not known: “{rider.name}” rides on this axis and {why}",
                    value=rider.name,
                    remedy=remedy,
                )
            )
            continue
        try:
            as_load(rider.design)
            good.append(rider.design)
        except EntryError as error:
            found += error.problems
    try:
        room_for(axis.design, len(riders))
    except EntryError as error:
        good, found = [], [*found, *error.problems]
    return replace(axis, design=carrying(axis.design, good), problems=tuple(found))


def on_its_own(design: AxisDesign) -> AxisDesign:
    """The design as a file brings it to another machine: the axes that rode on it stay as a load of their
    weight.
    """

    def kept(load: Mass) -> Mass:
        return (
            load
            if load.source.note != NOTE
            else load.model_copy(
                update={"source": Source(kind="your entry", note="rode on it when the file was written")}
            )
        )

    return design.model_copy(update={"riding": [kept(m) for m in design.riding]})
