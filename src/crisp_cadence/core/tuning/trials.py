"""What is tried on an axis with a gauge, a scale or a watch, and what a reading of it says."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..account.found import Kept, Trial
from ..checks.trials import about
from ..design.design import AxisDesign
from ..evaluation.evaluate import Run, work_out
from ..fields.profile import Profile
from ..ledger.amounts import said
from ..ledger.errors import EntryError, problem
from .statistics import Mean, mean_of

PULLS_N = (1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0)
OVER = 3.0  # times the drag, so that friction hides little of it
SEEN_MM = 0.1  # what a pull should move so that a gauge shows it well
STIFFNESS_OFF, MODE_OFF, DRAG_OFF, MASS_OFF = 0.35, 0.25, 0.5, 0.1  # of what is predicted (estimates)

PULLED_ALONG = "Pull the carriage slowly with a scale over its whole way, once each way: the mean of both."
PULLED_UP = (
    "Draw it slowly up by a scale, and let it slowly down by it: half of the difference. Hold it safe."
)

Value = Annotated[float, Field(ge=-1e6, le=1e6, strict=True, allow_inf_nan=False)]


class TrialReading(BaseModel):
    """What was read of one trial of an axis, once or several times, in the trial's own unit."""

    model_config = ConfigDict(extra="forbid")
    how: Literal["trial"] = "trial"
    of: Annotated[str, Field(pattern=r"^[a-z0-9_.]{1,40}$", strict=True)]
    values: Annotated[list[Value], Field(min_length=1, max_length=20)]


@dataclass(frozen=True, slots=True)
class Keeps:
    """A field of the design with the value that a reading gives it."""

    path: str
    value: float


@dataclass(frozen=True, slots=True)
class TrialAnswer:
    """What a reading says: mean, least and most of it and how sure the mean is, whether it is right, what to
    do, the field that can keep it as measured, and the load that it was read under.
    """

    name: str
    dimension: str
    unit: str
    mean: float
    least: float
    most: float
    within: float | None
    low: float | None
    expected: float | None
    high: float | None
    verdict: Literal["right", "low", "high", "noted"]
    says: str
    keeps: Keeps | None
    load: float


def trials(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Trial, ...]:
    """Everything that is tried on an axis, from the motor to the end, the axis as a whole last."""
    return trials_of(work_out(design, profiles)[0])


def trials_of(run: Run) -> tuple[Trial, ...]:
    """The same, of a run that is worked out."""
    ctx = run.ctx
    stages = [t for j, stage in enumerate(ctx.design.chain) for t in stage.trials(f"chain.{j}", ctx)]
    return (*stages, *run.end.trials(ctx), *_of_the_whole(run))


def tried(design: AxisDesign, profiles: Mapping[str, Profile], reading: TrialReading) -> TrialAnswer:
    """What a reading of a trial says; EntryError where the axis has no such trial."""
    known = {t.key: t for t in trials(design, profiles)}
    if reading.of not in known:
        names = ", ".join(known)
        raise EntryError(
            [
                problem(
                    "reading.of",
                    "is nothing that is tried on this axis",
                    value=reading.of,
                    limit=names,
                    remedy=f"Take one of these: {names}." if names else "This axis has nothing to try.",
                )
            ]
        )
    return _answer(known[reading.of], mean_of(reading.values), reading.values)


def _answer(trial: Trial, mean: Mean, values: list[float]) -> TrialAnswer:
    # Each value was read at a place of its own: the worst of them decides.
    verdict: Literal["right", "low", "high", "noted"]
    if trial.high is not None and max(values) > trial.high:
        verdict, says = "high", trial.above
    elif trial.low is not None and min(values) < trial.low:
        verdict, says = "low", trial.below
    elif trial.low is None and trial.high is None:
        verdict, says = "noted", ""
    else:
        verdict, says = "right", "As it should be."
    return TrialAnswer(
        trial.name,
        trial.dimension,
        trial.unit,
        mean.mean,
        min(values),
        max(values),
        mean.within,
        trial.low,
        trial.expected,
        trial.high,
        verdict,
        says,
        _kept(trial.keeps, mean.mean, max(values)),
        trial.load,
    )


def _kept(keeps: Kept | None, mean: float, most: float) -> Keeps | None:
    """Rounded to what was read: a field of the design shows no digits that nobody measured."""
    if keeps is None:
        return None
    kept = keeps.times * (most if keeps.worst else mean) + keeps.plus
    return Keeps(keeps.path, float(f"{kept:.4g}")) if kept >= 0 else None


def _of_the_whole(run: Run) -> list[Trial]:
    """What shows how the axis as a whole lies against its predictions: drag, give, ringing, play."""
    ctx, found = run.ctx, []
    if run.end.turning:
        return []

    if ctx.design.guide.kind == "wheels" and run.end.guided:
        found.append(_rock(run))
    drag, own = ctx.loads.drag.value, ctx.design.guide.drag_n
    if drag and run.end.guided:
        found.append(
            about(
                drag,
                DRAG_OFF,
                key="drag",
                name="Drag of the guide",
                path="guide.drag_n",
                how="Belt off, or motor uncoupled. "
                + (PULLED_UP if ctx.design.aim.slope_deg else PULLED_ALONG),
                dimension="force",
                unit="N",
                below="It runs lighter than the design reckons with: see that no wheel is loose, and keep "
                "it.",
                above="It runs heavier: loosen preload, look for a tight place, dirt or a rail that is not "
                "straight; or keep it as measured.",
                keeps=Kept("guide.drag_n", 1.0, own - drag),
            )
        )
    moving = ctx.design.moving
    tally = ctx.loads.masses.tally.value
    if tally and len(moving) == 1 and moving[0].quantity == 1:
        own = moving[0].mass_kg
        found.append(
            about(
                tally,
                MASS_OFF,
                key="mass",
                name="What moves weighs",
                path="moving.0.mass_kg",
                how="Weigh all that moves along, with its screws, cables and half of its hoses, before it "
                "goes on.",
                dimension="mass",
                unit="kg",
                below="Lighter than counted: keep it, and it may go faster.",
                above="Heavier than counted: keep it, and see what still holds.",
                keeps=Kept("moving.0.mass_kg", 1.0, own - tally),
            )
        )
    soft = None if run.stands is None else run.stands.value
    if soft and math.isfinite(soft) and run.motor.positioning:
        pull = next((p for p in PULLS_N if p * soft >= SEEN_MM and p >= OVER * (drag or 0.0)), PULLS_N[-1])
        give = pull * soft
        found.append(
            Trial(
                key="give",
                name=f"Give under {said(pull, 'N')}",
                path="aim.error_mm",
                how="Motor on and standing, where the axis is softest (Shake shows where). Pull the "
                f"{run.end.point} along its way with {said(pull, 'N')}, one way and the other, and tap it "
                "lightly until the gauge rests, or friction keeps a part of it: half the way between both.",
                dimension="length",
                unit="mm",
                expected=give,
                low=give / (1 + STIFFNESS_OFF),
                high=give * (1 + STIFFNESS_OFF),
                below="Stiffer than predicted: good, and the belt's cords may be stiffer than the "
                "catalogue's.",
                above="Softer than predicted: see below what is likeliest to be at fault.",
                load=pull,
            )
        )
    mode = run.give.modes[0].value if run.give.modes else None
    if mode:
        found.append(
            about(
                mode,
                MODE_OFF,
                key="ring",
                name="Ringing frequency",
                path="aim.acceleration_mm_s2",
                how="Draw a line, stop hard from a known speed into the other direction: the speed over the "
                "spacing of the waves. 20 to 60 Hz is below what small microphones hear.",
                dimension="frequency",
                unit="Hz",
                below="Rings lower: softer or heavier than the design says.",
                above="Rings higher: stiffer or lighter than the design says, or something else rings.",
            )
        )
    return found


def _rock(run: Run) -> Trial:
    return Trial(
        key="guide.play",
        name="Play of the wheels",
        path="stand.play_mm",
        how="Rock the carriage by hand, up and down, to and fro and about the rail, against a dial gauge at "
        "the tool; near both ends and in the middle.",
        dimension="length",
        unit="mm",
        expected=run.ctx.design.stand.play_mm,
        high=max(run.ctx.design.stand.play_mm, FELT_MM),
        above="Turn the eccentrics the same way until it is gone, and no further than each wheel still turns "
        "with a slight drag; where one place is tight and another loose, the rail is not straight.",
        keeps=Kept("stand.play_mm", worst=True),
    )


FELT_MM = 0.02  # play that a hand no longer feels (estimate)
