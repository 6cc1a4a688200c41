"""Preload of a carriage's wheels by feel: each by its place, in one of three states."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..design.design import AxisDesign
from ..ledger.errors import EntryError, problem

State = Literal["spins free", "slight drag", "drags the plate"]


class WheelsReading(BaseModel):
    """How each wheel turns under a finger while the carriage is held, and how far the eccentrics were
    turned.
    """

    model_config = ConfigDict(extra="forbid")
    how: Literal["wheels"] = "wheels"
    states: Annotated[list[State], Field(min_length=2, max_length=32)]
    turned: Annotated[float, Field(ge=-2, le=2, strict=True, allow_inf_nan=False)] | None = None


@dataclass(frozen=True, slots=True)
class Preload:
    """What the wheels say together, and what to do."""

    verdict: Literal["right", "loose", "tight", "uneven"]
    says: str


def places(count: int) -> tuple[str, ...]:
    """Names of the wheels: the fixed ones above, those on eccentrics below.

    >>> places(4)
    ('above 1', 'above 2', 'below 1', 'below 2')
    """
    above = (count + 1) // 2
    return (*(f"above {i + 1}" for i in range(above)), *(f"below {i + 1}" for i in range(count - above)))


def preload(design: AxisDesign, reading: WheelsReading) -> Preload:
    """Whether all wheels are preloaded alike; EntryError where the axis has other wheels."""
    count = design.stand.wheels
    if design.guide.kind != "wheels" or len(reading.states) != count:
        raise EntryError(
            [
                problem(
                    "reading.states",
                    "does not go with the wheels of this carriage",
                    value=len(reading.states),
                    limit=count if design.guide.kind == "wheels" else 0,
                    remedy="Say each of its wheels once; how many they are stands in Aim.",
                )
            ]
        )
    names = places(count)
    free = [n for n, s in zip(names, reading.states, strict=True) if s == "spins free"]
    tight = [n for n, s in zip(names, reading.states, strict=True) if s == "drags the plate"]
    if not free and not tight:
        return Preload(
            "right", "All turn with a slight drag: lock the nuts without moving them, and feel again."
        )
    if len(free) == count:
        return Preload("loose", "All spin free: turn every eccentric the same way by an eighth, feel again.")
    if len(tight) == count:
        return Preload(
            "tight",
            "All drag the plate: some leave it so; it adds drag and wears the wheels. For a slight drag "
            "turn every eccentric back by a sixteenth.",
        )
    both = ", ".join([*(f"{n} spins free" for n in free), *(f"{n} drags the plate" for n in tight)])
    return Preload(
        "uneven",
        f"Not alike: {both}. Turn the eccentric next to it, one at a time, a sixteenth; where it changes "
        "along the rail, the rail is not straight or not of one width.",
    )
