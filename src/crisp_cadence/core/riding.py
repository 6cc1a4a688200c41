"""Axes that ride on axes: all that one carries is the load of the one beneath."""

from __future__ import annotations

from typing import Any

from .design import AxisDesign
from .model import Mass, Source

NOTE = "rides on it"


def as_load(design: AxisDesign) -> Mass:
    """A whole axis as one mass: what moves on it, its heaviest head, what rides on it, its motors and stages, and what stands still on it.

    >>> from crisp_cadence.core.layouts import begin
    >>> as_load(begin("riding_motor", "Head slide")).mass_kg
    0.9
    """
    listed = [*design.moving, *design.riding, *design.still]
    stages: list[Any] = list(design.chain)
    motors = 2 if design.sides.kind == "two motors" or design.end.kind == "crossed_belts" else 1
    weighed = sum((getattr(s, "mass_kg", None) or 0.0) for s in stages) * motors
    mass = sum(m.mass_kg * m.quantity for m in listed) + max((h.mass_kg for h in design.heads), default=0.0) + weighed
    return Mass(label=design.name, mass_kg=round(mass, 6), quantity=1, source=Source(kind="your entry", note=NOTE))


def carrying(design: AxisDesign, riders: list[AxisDesign]) -> AxisDesign:
    """The design with the axes that ride on it as they stand now; loads entered by hand stay."""
    by_hand = [m for m in design.riding if m.source.note != NOTE]
    return design.model_copy(update={"riding": [*by_hand, *(as_load(r) for r in riders)]})


def on_its_own(design: AxisDesign) -> AxisDesign:
    """The design as a file brings it to another machine: the axes that rode on it stay as a load of their weight."""

    def kept(load: Mass) -> Mass:
        return (
            load
            if load.source.note != NOTE
            else load.model_copy(update={"source": Source(kind="your entry", note="rode on it when the file was written")})
        )

    return design.model_copy(update={"riding": [kept(m) for m in design.riding]})
