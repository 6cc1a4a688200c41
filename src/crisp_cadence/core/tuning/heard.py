"""From a recording to the tension of a belt: which pitches its run can have, and what is heard."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from ..account.found import Band
from ..design.design import AxisDesign
from ..fields.profile import Profile
from ..formulas import belt
from ..ledger.errors import EntryError, problem
from .listening import Expected, Heard, listen
from .pitch import HIGHEST_HZ, LOWEST_HZ, Samples
from .reading import PluckReading, bands, chosen_band, tension_of

SLACKEST, TAUTEST = 0.05, 4.0  # of the band's ends: what a maker may come with


def pitches(band: Band, span_mm: float) -> Expected:
    """Pitches that a run of this length can have, Hz: from a twentieth of the least tension to four times the
    most; all that can be read where the band is not known.
    """
    low, high, mass = band.low.value, band.high.value, band.line_mass.value
    if low is None or high is None or mass is None or low <= 0:
        return Expected()
    ends = (SLACKEST * min(low, high), TAUTEST * max(low, high))
    f_low, f_high = (float(belt.pluck_frequency(t, mass, span_mm)) for t in ends)
    f_low, f_high = max(f_low, LOWEST_HZ), min(f_high, HIGHEST_HZ)
    return Expected(f_low, f_high) if f_low < f_high else Expected()


def belt_heard(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    samples: Samples,
    rate: float,
    of: str = "",
    span_mm: float | None = None,
) -> tuple[Heard, dict[str, Any]]:
    """What a recording says of one belt: what was heard, and tension, band and verdict, empty where no pitch
    is sure. The run is the one that Tune names, if no length is said; EntryError where there is none.
    """
    band = chosen_band(bands(design, profiles), of)
    span_mm = band.span_mm if span_mm is None else span_mm
    if span_mm is None or not math.isfinite(span_mm) or not 1 <= span_mm <= 1e5:
        raise EntryError(
            [
                problem(
                    "span",
                    "is needed to turn a pitch into a tension",
                    value="" if span_mm is None else span_mm,
                    limit="1 to 100000 mm",
                    remedy="Measure the run that was plucked, from where it leaves one wheel to the next.",
                )
            ]
        )
    heard = listen(samples, rate, pitches(band, span_mm))
    if heard.pitch_hz is None:
        return heard, {}
    reading = PluckReading(of=of, span_mm=span_mm, frequency_hz=heard.pitch_hz, stiffness=heard.stiffness)
    answer = tension_of(band, reading)
    # T goes with f²; how the ends are held comes on top.
    spread = math.hypot(2 * (heard.spread_hz or 0.0) / heard.pitch_hz, answer.spread or 0.0)
    return heard, {
        "belt": band.name,
        "span_mm": span_mm,
        "tension_n": answer.tension_n,
        "tension_spread": spread,
        "low_n": answer.low_n,
        "target_n": answer.target_n,
        "high_n": answer.high_n,
        "verdict": answer.verdict,
        "verdict_says": answer.says,
    }
