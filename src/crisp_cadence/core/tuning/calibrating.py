"""Steps for a millimetre or a degree from measured moves, and the feed of a motor set by its duty."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from ..design.design import AxisDesign
from ..evaluation.evaluate import Run, work_out
from ..fields.profile import Profile
from ..formulas.stepping import calibrated_steps
from ..ledger.amounts import said
from ..ledger.errors import EntryError, problem
from .statistics import Line, fitted

PLACES_DIFFER = 3.0  # times the scatter, before places are said to differ
WIDEST = 0.2  # of a commanded move: measured further off, one of both was mistyped

Way = Annotated[float, Field(ge=1e-3, le=1e6, strict=True, allow_inf_nan=False)]


class Move(BaseModel):
    """One move: what was commanded and what was measured, whether it came after turning round, and from where
    on the travel it began, if that was noted.
    """

    model_config = ConfigDict(extra="forbid")
    commanded: Way
    measured: Way
    turned: Annotated[bool, Field(strict=True)] = False
    at: Annotated[float, Field(ge=-1e6, le=1e6, strict=True, allow_inf_nan=False)] | None = None


class MovesReading(BaseModel):
    """Moves that were measured."""

    model_config = ConfigDict(extra="forbid")
    how: Literal["moves"] = "moves"
    moves: Annotated[list[Move], Field(min_length=1, max_length=200)]
    tension_n: Way | None = None


@dataclass(frozen=True, slots=True)
class Scale:
    """What an axis is calibrated in: what is commanded and measured, by dimension and unit, what is set in
    the controller and what the design says of it; `growth_percent` is what the belt's tension alone makes of
    it.
    """

    kind: Literal["steps", "duty"]
    commanded: tuple[str, str]
    measured: tuple[str, str]
    sets: str
    now: float | None
    tension_n: float | None
    growth_percent: float | None


@dataclass(frozen=True, slots=True)
class Calibrated:
    """What to set, and between which it lies to 95 %; scale error, play on turning round and scatter, each
    with how far it may be off; and what of the error the belt's tension makes. For a duty what to set is the
    speed at full duty, and `starts_at` the duty at which it begins to move.
    """

    sets: str
    value: float
    low: float | None
    high: float | None
    change_percent: float
    change_within: float | None
    unit: str
    play: float | None
    play_within: float | None
    deviation: float | None
    growth_percent: float | None
    rest_percent: float | None
    starts_at: float | None
    duty_for_speed: float | None
    says: tuple[str, ...]


def scale(design: AxisDesign, profiles: Mapping[str, Profile]) -> Scale | None:
    """What an axis is calibrated in; None where it turns for hours, or its motor knows no place and no
    duty.
    """
    return scale_of(work_out(design, profiles)[0])


def scale_of(run: Run) -> Scale | None:
    """The same, of a run that is worked out."""
    ctx = run.ctx
    if run.end.turning:
        return None
    if ctx.stepping is not None:
        per_mm, degree = ctx.stepping.per_mm.value, run.end.degree_mm(ctx)
        if degree is not None:
            per = None if per_mm is None else per_mm * degree
            return Scale("steps", ("angle", "°"), ("angle", "°"), "steps/°", per, None, None)
        tension, ea = run.end.stretched(ctx)
        grows = None if tension is None or ea is None else tension / ea * 100
        return Scale("steps", ("length", "mm"), ("length", "mm"), "steps/mm", per_mm, tension, grows)
    if run.motor.throttle() is not None:
        return Scale(
            "duty", ("share", "%"), ("speed", "mm/s"), "mm/s at full duty", run.ctx.reach.value, None, None
        )
    return None


def calibrated(design: AxisDesign, profiles: Mapping[str, Profile], reading: MovesReading) -> Calibrated:
    """What measured moves say; EntryError where the axis is calibrated by nothing, or a number was
    mistyped.
    """
    run, _ = work_out(design, profiles)
    found = scale_of(run)
    if found is None or found.now is None:
        raise EntryError(
            [
                problem(
                    "reading",
                    "does not go with this axis: nothing of it is commanded by steps or by duty",
                    limit="steps or duty",
                    remedy="Take a motor that is, or try its parts one by one.",
                )
            ]
        )
    if found.kind == "duty":
        return _by_duty(run, found, reading.moves)
    for i, move in enumerate(reading.moves):
        if abs(move.measured / move.commanded - 1) > WIDEST:
            raise EntryError(
                [
                    problem(
                        f"reading.moves.{i}.measured",
                        "is too far from the commanded move for a matter of scale",
                        value=move.measured,
                        limit=WIDEST * 100,
                        unit="%",
                        remedy="See whether a digit, the unit or the gearing is wrong; a motor that loses "
                        "steps is not calibrated away.",
                    )
                ]
            )
    return _by_steps(run, found, reading)


def _by_steps(run: Run, found: Scale, reading: MovesReading) -> Calibrated:
    """y = s·x − B·r: s the scale, B what is lost after turning round."""
    moves, unit = reading.moves, found.measured[1]
    x = np.array([m.commanded for m in moves])
    y = np.array([m.measured for m in moves])
    turned = np.array([float(m.turned) for m in moves])
    if turned.any() and not turned.all():
        line, play = fitted(np.column_stack([x, -turned]), y), True
    else:
        line, play = fitted(x[:, None], y), False
    s, within = line.found[0], line.within[0]
    now = found.now or math.nan
    growth = found.growth_percent
    if growth is not None and reading.tension_n is not None and found.tension_n:
        growth *= reading.tension_n / found.tension_n
    error, off = (s - 1) * 100, None if within is None else within * 100
    rest = None if growth is None else error - growth
    return Calibrated(
        sets=found.sets,
        value=float(calibrated_steps(now, 1.0, s)),
        low=None if within is None else now / (s + within),
        high=None if within is None else now / max(s - within, 1e-9),
        change_percent=(1 / s - 1) * 100,
        change_within=off,
        unit=unit,
        play=line.found[1] if play else None,
        play_within=line.within[1] if play else None,
        deviation=line.deviation,
        growth_percent=growth,
        rest_percent=rest,
        starts_at=None,
        duty_for_speed=None,
        says=tuple(_words(run, moves, line, error, off, growth, unit)),
    )


def _words(
    run: Run,
    moves: Sequence[Move],
    line: Line,
    error: float,
    off: float | None,
    growth: float | None,
    unit: str,
) -> list[str]:
    says = []
    if off is None:
        says.append("Too few moves to say how sure it is: repeat them, always from the same side.")
    elif off > abs(error):
        says.append(
            "The moves scatter more than the error that you want to correct: leave the value, and find the "
            "play first."
        )
    else:
        says.append("Set the new value, then measure once more. Tension first, calibrate after.")
    if all(m.turned for m in moves):
        says.append("All moves came after turning round, so play is in all of them: measure some without.")
    if len(moves) > 1 and len({m.commanded for m in moves}) == 1:
        says.append(
            "All moves are of one length: a second one tells a wrong scale from an error that is always the "
            "same."
        )
    if growth is not None and off is not None:
        rest = error - growth
        if abs(rest) <= off:
            says.append(
                "The belt's growth with its tension explains it: at another tension other steps are right."
            )
        else:
            says.append(
                f"Of {error:+.3f} % the belt's tension makes {growth:+.3f} %; the rest, {rest:+.3f} %, is "
                "the belt's own pitch or a pulley: measure over ten pitches of the belt."
            )
    place = _places(moves, line, unit)
    if place:
        says.append(place)
    return says


def _places(moves: Sequence[Move], line: Line, unit: str) -> str:
    """Whether moves from one place go further than those from another, beyond their scatter there."""
    by_place: dict[float, list[float]] = {}
    for move, left in zip(moves, line.left, strict=True):
        if move.at is not None:
            by_place.setdefault(move.at, []).append(left)
    told = {at: left for at, left in by_place.items() if len(left) > 1}
    if len(told) < 2:
        return ""
    scatter = max(float(np.std(left, ddof=1)) for left in told.values())
    means = {at: float(np.mean(left)) for at, left in told.items()}
    most, least = max(means, key=lambda at: means[at]), min(means, key=lambda at: means[at])
    apart = means[most] - means[least]
    if apart <= PLACES_DIFFER * max(scatter / 2**0.5, 1e-9):
        return ""
    return (
        f"From {said(most, unit)} it goes {said(apart, unit, '.2g')} further than from {said(least, unit)}: "
        "a pulley out of true, a rail that is not straight, or another zero of the gauge."
    )


def _by_duty(run: Run, found: Scale, moves: Sequence[Move]) -> Calibrated:
    """v = a·d + c: a motor set by its duty starts at −c/a and runs at 100·a + c at the full one."""
    x = np.array([m.commanded for m in moves])
    y = np.array([m.measured for m in moves])
    highest = float(x.max())
    if highest > 100:
        i = int(x.argmax())
        raise EntryError(
            [
                problem(
                    f"reading.moves.{i}.commanded",
                    "is more than the full duty",
                    value=highest,
                    limit=100,
                    unit="%",
                    remedy="Enter the duty from 0 to 100 %.",
                )
            ]
        )
    if len({*x.tolist()}) < 2:
        raise EntryError(
            [
                problem(
                    "reading.moves",
                    "are all at one duty: a line needs two",
                    limit="two duties",
                    remedy="Measure the feed at a low and at a high duty, under its usual load.",
                )
            ]
        )
    line = fitted(np.column_stack([x, np.ones_like(x)]), y)
    a, c = line.found
    if a <= 0:
        raise EntryError(
            [
                problem(
                    "reading.moves",
                    "grow slower with more duty",
                    value=a,
                    limit=0,
                    unit="mm/s per %",
                    remedy="See which feed belongs to which duty.",
                )
            ]
        )
    full, now = 100 * a + c, found.now or math.nan
    # The full duty lies outside of what was measured at times: its interval by moving the origin there.
    there = fitted(np.column_stack([x - 100, np.ones_like(x)]), y).within[1]
    asked = run.ctx.design.aim.speed_mm_s
    duty, starts = (asked - c) / a, -c / a
    says = []
    if duty > 100:
        says.append(f"The speed wanted, {said(asked, 'mm/s')}, is more than it reaches at the full duty.")
    elif duty < starts or duty <= 0:
        says.append(f"The speed wanted, {said(asked, 'mm/s')}, is below the duty at which it starts.")
    else:
        says.append(f"For {said(asked, 'mm/s')} set {duty:.0f} % duty.")
    if there is not None and abs(full - now) > there:
        says.append(
            f"The design says {said(now, 'mm/s', '.3g')} at the full duty: the load, the supply or the ratio "
            "is another."
        )
    return Calibrated(
        sets=found.sets,
        value=full,
        low=None if there is None else full - there,
        high=None if there is None else full + there,
        change_percent=(full / now - 1) * 100,
        change_within=None if there is None else there / now * 100,
        unit="mm/s",
        play=None,
        play_within=None,
        deviation=line.deviation,
        growth_percent=None,
        rest_percent=None,
        starts_at=max(starts, 0.0),
        duty_for_speed=duty if 0 < duty <= 100 else None,
        says=tuple(says),
    )
