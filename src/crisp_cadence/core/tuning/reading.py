"""From a pluck or a push to a tension, held against the design's band."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..design.design import AxisDesign
from ..evaluation.evaluate import work_out
from ..fields.profile import Profile
from ..formulas import belt, stepping
from ..ledger.errors import EntryError, problem
from ..ledger.formula import FORMULAS
from ..ledger.quantity import Quantity

Measured = Annotated[float, Field(ge=1e-6, le=1e6, strict=True, allow_inf_nan=False)]
FURTHEST_ASIDE = 1 / 8  # of the run; the formula is for a shallow triangle


class PluckReading(BaseModel):
    """A run plucked, and the pitch heard."""

    model_config = ConfigDict(extra="forbid")
    how: Literal["pluck"] = "pluck"
    span_mm: Measured
    frequency_hz: Measured


class PushReading(BaseModel):
    """A run pushed aside at its middle, and the force it took."""

    model_config = ConfigDict(extra="forbid")
    how: Literal["push"] = "push"
    span_mm: Measured
    deflection_mm: Measured
    force_n: Measured


Reading = Annotated[PluckReading | PushReading, Field(discriminator="how")]


@dataclass(frozen=True, slots=True)
class TensionAnswer:
    """What a reading says."""

    tension_n: float
    low_n: float | None
    target_n: float | None
    high_n: float | None
    verdict: Literal["slack", "low", "within the band", "high", "no band"]
    says: str
    formula: str
    source: str


def read_tension(
    design: AxisDesign, profiles: Mapping[str, Profile], reading: PluckReading | PushReading
) -> TensionAnswer:
    """Tension from a reading, against the band of the design; EntryError when an input lacks or the run was
    pushed too far.
    """
    worst, _ = work_out(design, profiles)
    band = worst.end.band(worst.ctx)

    def number(found: Quantity) -> float:
        if found.value is None:
            lacking = ", ".join(found.missing)
            raise EntryError([problem(lacking, "is needed to read a tension", remedy="Fill it in first.")])
        return found.value

    if band is None:
        raise EntryError(
            [
                problem(
                    "end.kind",
                    "has no open belt whose tension could be read",
                    value=worst.end.kind,
                    remedy="Read the tension of an axis with an open belt.",
                )
            ]
        )
    if isinstance(reading, PluckReading):
        fn: Any = belt.tension_from_pluck
        tension = float(fn(reading.frequency_hz, number(band.line_mass), reading.span_mm))
    else:
        fn = belt.tension_from_deflection
        furthest = reading.span_mm * FURTHEST_ASIDE
        if reading.deflection_mm > furthest:
            raise EntryError(
                [
                    problem(
                        "reading.deflection_mm",
                        "is too far aside for this formula",
                        value=reading.deflection_mm,
                        limit=furthest,
                        unit="mm",
                        remedy="Push less, or take a longer run.",
                    )
                ]
            )
        tension = float(
            fn(
                reading.force_n,
                number(band.ea),
                reading.deflection_mm,
                reading.span_mm,
                max(number(band.free), reading.span_mm),
            )
        )
    low, target, high = band.low.value, band.target.value, band.high.value
    meta = FORMULAS[fn.__name__]
    verdict, says = _verdict(tension, low, high)
    return TensionAnswer(
        tension, low, target, high, verdict, says, meta.equation, f"{meta.source_kind}: {meta.source}"
    )


@dataclass(frozen=True, slots=True)
class Calibration:
    """New steps per millimetre from repeated moves, and how far they scatter."""

    steps_mm: float
    change_percent: float
    mean_mm: float
    spread_mm: float
    says: str


def calibrate(steps_mm: float, commanded_mm: float, measured_mm: list[float]) -> Calibration:
    """Steps per millimetre from repeated measured moves of one commanded length.

    >>> c = calibrate(80.0, 500.0, [502.0, 502.0])
    >>> round(c.steps_mm, 4), c.spread_mm
    (79.6813, 0.0)
    """
    mean = sum(measured_mm) / len(measured_mm)
    spread = max(measured_mm) - min(measured_mm)
    new = float(stepping.calibrated_steps(steps_mm, commanded_mm, mean))
    error = abs(mean - commanded_mm)
    if len(measured_mm) == 1:
        says = "One measurement says nothing about its spread: repeat it, always from the same side."
    elif spread > error:
        says = "The moves scatter more than the error you want to correct: find the play first."
    else:
        says = "Set the new value, then measure once more. Tension first, calibrate after."
    return Calibration(new, (new / steps_mm - 1) * 100, mean, spread, says)


def _verdict(
    tension: float, low: float | None, high: float | None
) -> tuple[Literal["slack", "low", "within the band", "high", "no band"], str]:
    if tension <= 0:
        return "slack", "The run was slack at rest: tension the belt first, then measure again."
    if low is None or high is None:
        return "no band", "There is no band to hold it against yet."
    if tension < low:
        return "low", "Below the band: a run can go slack and the belt can jump. Tighten it."
    if tension > high:
        return "high", "Above the band: hard on shafts, brackets and cords. Let it off."
    return "within the band", "Within the band. Lock the tensioner and measure again."
