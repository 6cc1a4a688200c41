"""Test moves of one axis: strokes to measure, reversals, a ripple, a ramp of speeds, the corners of a
rectangle; each kept within the soft limits.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..design.design import AxisDesign
from ..evaluation.evaluate import Run, work_out
from ..fields.profile import Profile
from ..ledger.amounts import said
from ..ledger.errors import EntryError, problem
from .squaring import squaring_of

Place = Annotated[float, Field(ge=-1e5, le=1e5, strict=True, allow_inf_nan=False)]
Length = Annotated[float, Field(gt=0, le=1e5, strict=True, allow_inf_nan=False)]
Kind = Literal["strokes", "reversals", "ripple", "ramp", "corners"]
Letter = Literal["X", "Y", "Z", "A", "B", "C", "U", "V", "W"]

REPEATS = 5
LEAD_IN = 0.02  # of the travel: so far a move comes from beyond, to have the play always on one side
RAMP = (0.2, 0.4, 0.6, 0.8, 1.0)  # of the speed aimed at
SLOW = 0.1  # of it: for measuring, and for a ripple


class Wanted(BaseModel):
    """A test: which, the letter of the axis, from where, how far, how fast; for corners the letter of the
    other way and how far across. What is left out follows from the design.
    """

    model_config = ConfigDict(extra="forbid")
    kind: Kind = "strokes"
    letter: Letter | None = None
    other: Letter = "Y"
    across: Length | None = None
    begin: Place | None = None
    length: Length | None = None
    speed: Length | None = None


@dataclass(frozen=True, slots=True)
class Step:
    """One thing that is done: a move to places by letters at a speed in units a second, or a stop to measure;
    `says` tells why.
    """

    to: tuple[tuple[str, float], ...]
    speed: float
    says: str


@dataclass(frozen=True, slots=True)
class Program:
    """A test with its steps, in mm or degrees; `room` is what the soft limits allow."""

    kind: Kind
    name: str
    unit: str
    room: tuple[float, float]
    begin: float
    length: float
    speed: float
    steps: tuple[Step, ...]
    reads: str


NAMES: dict[Kind, tuple[str, str]] = {
    "strokes": (
        "Strokes to measure",
        "Measure each stop from the first one; enter the moves under Calibrate.",
    ),
    "reversals": (
        "Reversals",
        "Read the same place after coming from either side: the difference is the play on turning round.",
    ),
    "ripple": (
        "A slow line, once slow and once at twice the speed",
        "A ripple that keeps its spacing comes from a part; one that doubles it rings, or comes from the "
        "motor.",
    ),
    "ramp": (
        "A ramp of speeds",
        "Mark the place at the beginning; where it no longer comes back to its mark, steps were lost.",
    ),
    "corners": (
        "Corners of a rectangle",
        "Mark all four corners, measure both diagonals, and enter them under Square.",
    ),
}


def kinds(run: Run) -> tuple[Kind, ...]:
    """The tests that an axis can make: none where its motor knows no place; corners where it moves two
    ways.
    """
    if run.ctx.stepping is None or run.end.turning:
        return ()
    return ("strokes", "reversals", "ripple", "ramp", *(("corners",) if squaring_of(run) else ()))


def program(design: AxisDesign, profiles: Mapping[str, Profile], wanted: Wanted) -> Program:
    """The steps of a test; EntryError where the axis cannot make it, or where it would leave the soft
    limits.
    """
    run, _ = work_out(design, profiles)
    known = kinds(run)
    if wanted.kind not in known:
        names = ", ".join(known)
        raise EntryError(
            [
                problem(
                    "wanted.kind",
                    "is no test of this axis",
                    value=wanted.kind,
                    limit=names,
                    remedy=f"Take one of these: {names}." if names else "It needs a motor moved by steps.",
                )
            ]
        )
    degree = run.end.degree_mm(run.ctx)
    unit, mm = ("mm", 1.0) if degree is None else ("°", degree)
    low, high = _room(run, mm)
    margin = LEAD_IN * (high - low)
    begin = low + 2 * margin if wanted.begin is None else wanted.begin
    length = (high - 2 * margin) - begin if wanted.length is None else wanted.length
    top = run.ctx.design.aim.speed_mm_s / mm
    speed = SLOW * top if wanted.speed is None else wanted.speed
    if wanted.kind == "ramp":
        speed = top if wanted.speed is None else wanted.speed
    _within(wanted, begin, begin + length, (low, high), margin, unit)
    if speed > top:
        raise EntryError(
            [
                problem(
                    "wanted.speed",
                    "is faster than the axis is meant to go",
                    value=speed,
                    limit=round(top, 3),
                    unit=f"{unit}/s",
                    remedy="Go slower, or raise the speed in Aim, which checks whether the motor can.",
                )
            ]
        )
    letter = wanted.letter or ("X" if degree is None else "A")
    if wanted.kind == "corners":
        steps = _corners(letter, wanted.other, begin, length, _across(run, wanted, letter), speed)
    else:
        steps = _STEPS[wanted.kind](letter, begin, length, speed, margin)
    name, reads = NAMES[wanted.kind]
    return Program(wanted.kind, name, unit, (low, high), begin, length, speed, tuple(steps), reads)


def _room(run: Run, mm: float) -> tuple[float, float]:
    """Soft limits: of a joint its range, else from the switch to the end of the usable travel."""
    end = run.ctx.design.end
    if mm != 1.0 and hasattr(end, "from_deg"):
        return float(end.from_deg), float(end.to_deg)
    return 0.0, float(run.ctx.usable)


def _within(
    wanted: Wanted, begin: float, to: float, room: tuple[float, float], margin: float, unit: str
) -> None:
    low, high = room
    for field, place in (("begin", begin), ("length", to)):
        if place - margin < low - 1e-9 or place + margin > high + 1e-9:
            room_says = f"{said(low + margin, unit, '.4g')} to {said(high - margin, unit, '.4g')}"
            raise EntryError(
                [
                    problem(
                        f"wanted.{field}",
                        "leads out of the travel" if field == "begin" else "leads beyond the soft limit",
                        value=place if field == "begin" else to - begin,
                        limit=room_says,
                        unit=unit,
                        remedy=f"Stay within {room_says}, with the way that it comes from.",
                    )
                ]
            )
    if to <= begin:
        raise EntryError(
            [
                problem(
                    "wanted.length",
                    "leaves no way to go",
                    value=to - begin,
                    limit=0,
                    unit=unit,
                    remedy="Begin nearer to the motor's end.",
                )
            ]
        )


def _across(run: Run, wanted: Wanted, letter: Letter) -> float:
    """How far the corners lie apart across: as far as the other way of the head goes, or as is said."""
    own, across = run.end.beam(), wanted.across
    room = None if own is None else own[1]
    if across is None and room is None:
        raise EntryError(
            [
                problem(
                    "wanted.across",
                    "is needed for corners",
                    limit="the travel of the axis on the beam",
                    remedy="Enter how far the axis that rides on this beam may go from its zero.",
                )
            ]
        )
    if across is not None and room is not None and across > room:
        raise EntryError(
            [
                problem(
                    "wanted.across",
                    "is farther than the head goes across",
                    value=across,
                    limit=room,
                    unit="mm",
                    remedy="Take a narrower rectangle.",
                )
            ]
        )
    if letter == wanted.other:
        raise EntryError(
            [
                problem(
                    "wanted.other",
                    "is the letter of the first axis too",
                    value=wanted.other,
                    limit="two letters",
                    remedy="Take the letter of the other way.",
                )
            ]
        )
    return float(across or room or 0.0)


def _strokes(axis: Letter, begin: float, length: float, speed: float, margin: float) -> list[Step]:
    steps = []
    for share in (0.5, 1.0):
        to = begin + share * length
        for n in range(REPEATS):
            steps += [
                Step(((axis, begin - margin),), speed, "come from below"),
                Step(((axis, begin),), speed, ""),
                Step((), 0.0, "zero the gauge" if n == 0 else "read the beginning"),
                Step(((axis, to),), speed, f"stroke {n + 1} of {REPEATS}"),
                Step((), 0.0, "read the way"),
            ]
    return steps


def _reversals(axis: Letter, begin: float, length: float, speed: float, margin: float) -> list[Step]:
    steps = []
    for share in (0.0, 0.5, 1.0):
        at = begin + share * length
        for n in range(REPEATS):
            steps += [
                Step(((axis, at - margin),), speed, "from below"),
                Step(((axis, at),), speed, f"place {at:g}, {n + 1} of {REPEATS}"),
                Step((), 0.0, "read it"),
                Step(((axis, at + margin),), speed, "from above"),
                Step(((axis, at),), speed, ""),
                Step((), 0.0, "read it again"),
            ]
    return steps


def _ripple(axis: Letter, begin: float, length: float, speed: float, margin: float) -> list[Step]:
    steps = []
    for times in (1, 2):
        steps += [
            Step(((axis, begin),), speed, ""),
            Step((), 0.0, "pen or tool down, a little aside of the line before"),
            Step(((axis, begin + length),), times * speed, f"line {times}"),
            Step((), 0.0, "pen or tool up"),
        ]
    return steps


def _ramp(axis: Letter, begin: float, length: float, speed: float, margin: float) -> list[Step]:
    slow = RAMP[0] * speed
    steps = [Step(((axis, begin),), slow, ""), Step((), 0.0, "mark the place")]
    for share in RAMP:
        for _ in range(REPEATS):
            steps += [
                Step(((axis, begin + length),), share * speed, f"{share:.0%} of the speed"),
                Step(((axis, begin),), share * speed, ""),
            ]
        steps.append(Step((), 0.0, "still at its mark?"))
    return steps


def _corners(
    axis: Letter, other: Letter, begin: float, length: float, across: float, speed: float
) -> list[Step]:
    steps = []
    for along, aside in ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)):
        place = ((axis, begin + along * length), (other, aside * across))
        steps += [Step(place, speed, ""), Step((), 0.0, "mark this corner")]
    return [*steps, Step(((axis, begin), (other, 0.0)), speed, "back")]


_STEPS: dict[str, Callable[[Letter, float, float, float, float], list[Step]]] = {
    "strokes": _strokes,
    "reversals": _reversals,
    "ripple": _ripple,
    "ramp": _ramp,
}
