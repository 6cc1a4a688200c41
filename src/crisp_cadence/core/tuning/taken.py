"""What is kept of a reading: what was measured, and what it meant for the design as it stood."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Annotated, Any, Literal

from pydantic import Field

from ..design.design import AxisDesign
from ..fields.profile import Profile
from .calibrating import MovesReading, calibrated
from .preload import WheelsReading, preload
from .reading import PluckReading, PushReading, ScaleReading, ThumbReading, bands, chosen_band, tension_of
from .squaring import DiagonalsReading, GaugesReading, squared
from .trials import TrialReading, tried

AnyReading = Annotated[
    PluckReading
    | PushReading
    | ThumbReading
    | ScaleReading
    | TrialReading
    | MovesReading
    | DiagonalsReading
    | GaugesReading
    | WheelsReading,
    Field(discriminator="how"),
]
Kind = Literal["tension", "check", "calibration"]


def taken(
    design: AxisDesign, profiles: Mapping[str, Profile], reading: AnyReading
) -> tuple[Kind, dict[str, Any]]:
    """What kind of reading it is, and all that is kept of it; EntryError where it does not go with the
    axis.
    """
    if isinstance(reading, TrialReading):
        return "check", reading.model_dump() | asdict(tried(design, profiles, reading))
    if isinstance(reading, MovesReading):
        return "calibration", reading.model_dump() | asdict(calibrated(design, profiles, reading))
    if isinstance(reading, (DiagonalsReading, GaugesReading)):
        return "check", reading.model_dump() | asdict(squared(design, profiles, reading))
    if isinstance(reading, WheelsReading):
        return "check", reading.model_dump() | asdict(preload(design, reading))
    known = bands(design, profiles)
    band = chosen_band(known, reading.of)
    answer = tension_of(band, reading)
    return "tension", reading.model_dump() | {
        "of": next(at for at, other in known.items() if other is band),
        "belt": band.name,
        "tension_n": answer.tension_n,
        "low_n": answer.low_n,
        "target_n": answer.target_n,
        "high_n": answer.high_n,
        "verdict": answer.verdict,
    }
