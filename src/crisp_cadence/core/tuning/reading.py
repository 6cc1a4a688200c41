"""From a pluck or a push to a tension, held against the design's band."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..account.found import Band, Way
from ..design.design import AxisDesign
from ..evaluation.evaluate import Run, work_out
from ..fields.profile import Profile
from ..formulas import belt
from ..formulas import tension as of_tension
from ..ledger.amounts import said
from ..ledger.errors import EntryError, problem
from ..ledger.formula import FORMULAS, Formula
from ..ledger.quantity import Quantity
from .statistics import mean_of

Measured = Annotated[float, Field(ge=1e-6, le=1e6, strict=True, allow_inf_nan=False)]
# Held and hinged ends may differ by this much in pitch, which they do below about this β.
STIFF_SPREAD, LEAST_BETA = 0.05, 41.8
FURTHEST_ASIDE = 1 / 8  # of the run; the formula is for a shallow triangle


# Which belt was read: of the end or of a stage, and which of several there; "" is the only one.
Belt = Annotated[str, Field(pattern=r"^(|(end|chain\.[0-9]{1,2})(\.[a-z0-9]{1,8}){0,2})$", strict=True)]


class BeltReading(BaseModel):
    """A reading of one belt, and by how many kelvin belt and frame were warmer than they usually are."""

    model_config = ConfigDict(extra="forbid")
    of: Belt = ""
    warmer_k: Annotated[float, Field(ge=-60, le=60, strict=True, allow_inf_nan=False)] = 0.0


class PluckReading(BeltReading):
    """A run plucked, and the pitch heard; with B of its partials, f_n ∝ n·√(1 + B·n²), where known."""

    how: Literal["pluck"] = "pluck"
    span_mm: Measured
    frequency_hz: Measured
    stiffness: Annotated[float, Field(ge=0, le=0.02, strict=True, allow_inf_nan=False)] | None = None


class PushReading(BeltReading):
    """A run pushed aside at its middle, and the force it took; with both of its ends held the run alone takes
    the stretch, else the whole belt does.
    """

    how: Literal["push"] = "push"
    span_mm: Measured
    deflection_mm: Measured
    force_n: Measured
    held: Literal["free", "both ends"] = "free"


class ThumbReading(BeltReading):
    """A run pushed aside by a thumb that was pressed on kitchen scales before, several times as hard."""

    how: Literal["thumb"] = "thumb"
    span_mm: Measured
    deflection_mm: Measured
    presses_n: Annotated[list[Measured], Field(min_length=3, max_length=10)]
    held: Literal["free", "both ends"] = "free"


class ScaleReading(BeltReading):
    """A luggage scale that just draws the idler off its stop, or the belt's end out of its clamp."""

    how: Literal["scale"] = "scale"
    force_n: Measured
    at: Literal["idler", "clamp"] = "idler"


AnyReading = PluckReading | PushReading | ThumbReading | ScaleReading
Reading = Annotated[AnyReading, Field(discriminator="how")]
Verdict = Literal["slack", "low", "within the band", "high", "no band"]


@dataclass(frozen=True, slots=True)
class TensionAnswer:
    """What a reading says, by which formula; `spread` is how far the tension may be off by what is not known
    of the run, as a part of it, and `advice_n` where a shaft's bearing is at its limit. `turns` of the
    tensioner's screw lead to the target, tighter where positive, None where no screw sets it; `to_target`
    says so.
    """

    tension_n: float
    low_n: float | None
    target_n: float | None
    high_n: float | None
    verdict: Verdict
    says: str
    formula: str
    source: str
    spread: float | None = None
    advice_n: float | None = None
    turns: float | None = None
    to_target: str = ""


def read_tension(design: AxisDesign, profiles: Mapping[str, Profile], reading: AnyReading) -> TensionAnswer:
    """Tension from a reading, against the band of the design; EntryError when an input lacks, or where the
    formula does not hold for what was measured.
    """
    return tension_of(chosen_band(bands(design, profiles), reading.of), reading)


def tension_of(band: Band, reading: AnyReading) -> TensionAnswer:
    """The same, of a belt that is known."""
    as_read, spread, meta = _worked_out(band, reading)
    # Its band is for the usual warmth: there it comes to so much.
    tension = as_read - band.per_k * reading.warmer_k
    low, aim, high = band.low.value, band.aim.value, band.high.value
    advice = None if band.advice is None else band.advice.value
    verdict, says = _verdict(tension, low, high)
    if low is not None and high is not None and low > high:
        low = high = None
    source = f"{meta.source_kind}: {meta.source}"
    turns, words = _to_target(band, tension, verdict)
    if reading.warmer_k and band.per_k:
        says += f" Read as {said(as_read, 'N', '.3g')}; at the usual warmth it comes to this."
    return TensionAnswer(
        tension, low, aim, high, verdict, says, meta.equation, source, spread, advice, turns, words
    )


@dataclass(frozen=True, slots=True)
class BeltToRead:
    """A belt that is tensioned: where it is, what it is called, the run to read, its band and aim, and the
    ways that suit it, best first; `set_by` is how it is tensioned, `per_k` how much it rises for each kelvin.
    One of a pair may differ from the other by `apart_n`, and `why_apart` says what more does.
    """

    of: str
    name: str
    span_mm: float | None
    low_n: float | None
    target_n: float | None
    high_n: float | None
    ways: tuple[Way, ...]
    set_by: str
    per_k: float
    apart_n: float | None
    why_apart: str


def belts_of(run: Run) -> tuple[BeltToRead, ...]:
    """Every belt of an axis that is worked out, by its name."""
    return tuple(
        BeltToRead(
            of,
            b.name,
            b.span_mm,
            b.low.value,
            b.aim.value,
            b.high.value,
            b.ways,
            b.set_by,
            b.per_k,
            None if b.apart is None else b.apart.value,
            b.why_apart,
        )
        for of, b in _bands(run).items()
    )


def bands(design: AxisDesign, profiles: Mapping[str, Profile]) -> dict[str, Band]:
    """Every belt of an axis that is tensioned, by the place of its part: the end's first."""
    return _bands(work_out(design, profiles)[0])


def _bands(run: Run) -> dict[str, Band]:
    parts = [("end", run.end.bands(run.ctx))]
    for j, stage in enumerate(run.ctx.design.chain[1:], 1):
        parts.append((f"chain.{j}", stage.bands(f"chain.{j}", run.ctx)))
    return {f"{at}.{b.key}" if b.key else at: b for at, found in parts for b in found}


def chosen_band(all_bands: Mapping[str, Band], of: str) -> Band:
    """The belt that was read; EntryError where there is none, or where it is not said which of several."""
    if of in all_bands:
        return all_bands[of]
    if not of and len(all_bands) == 1:
        return next(iter(all_bands.values()))
    if not of and "end" in all_bands:
        return all_bands["end"]
    several = [name for name in all_bands if name.startswith(f"{of or 'end'}.")]
    names = ", ".join(all_bands)
    raise EntryError(
        [
            problem(
                "reading.of",
                "does not say which belt was read" if several or not of else "is no belt of this axis",
                value=of,
                limit=names,
                remedy=f"Take one of these: {names}." if names else "This axis has no belt to read.",
            )
        ]
    )


def _to_target(band: Band, tension: float, verdict: Verdict) -> tuple[float | None, str]:
    """Turns of the screw to the tension to set, and how: nothing to do within the band, nothing to say where
    no tension is right.
    """
    if verdict in ("within the band", "no band") or band.aim.value is None:
        return None, ""
    tighter = tension < band.aim.value
    if band.turn is None or not band.turn.value:
        return None, band.set_by if tighter else "Let it off a little, and read it again."
    turns = (band.aim.value - max(tension, 0.0)) / band.turn.value
    way = "tighter" if tighter else "looser"
    count = said(abs(turns), "", ".2g").strip()
    unit = "turn" if abs(turns) <= 1 else "turns"
    return turns, (
        f"About {count} {unit} of the screw {way} to the target, by the catalogue's stiffness: go half the "
        f"way, and read it again. {band.set_by}"
    )


def _number(found: Quantity) -> float:
    if found.value is None:
        lacking = ", ".join(found.missing)
        raise EntryError([problem(lacking, "is needed to read a tension", remedy="Fill it in first.")])
    return found.value


def _worked_out(band: Band, reading: AnyReading) -> tuple[float, float | None, Formula]:
    """Tension, how far it may be off, and by which formula."""
    if isinstance(reading, PluckReading):
        return _by_pitch(band, reading)
    if isinstance(reading, ScaleReading):
        if band.idler_wrap is None:
            raise EntryError(
                [
                    problem(
                        "reading.how",
                        f"does not go with {band.name}: it has no end and no idler to draw at",
                        value=reading.how,
                        remedy="Pluck its span, or push it aside.",
                    )
                ]
            )
        wrap = _number(band.idler_wrap) if reading.at == "idler" else math.pi / 3  # 2·sin(π/6) = 1
        return (
            float(of_tension.tension_from_scale(reading.force_n, wrap)),
            None,
            FORMULAS["tension_from_scale"],
        )
    if isinstance(reading, ThumbReading):
        return _by_thumb(band, reading)
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
    shares = reading.span_mm if reading.held == "both ends" else max(_number(band.free), reading.span_mm)
    tension = belt.tension_from_deflection(
        reading.force_n, _number(band.ea), reading.deflection_mm, reading.span_mm, shares
    )
    return float(tension), None, FORMULAS["tension_from_deflection"]


def _by_thumb(band: Band, reading: ThumbReading) -> tuple[float, float | None, Formula]:
    """A push by the mean of the presses; as unsure as a thumb is."""
    pressed = mean_of(reading.presses_n)
    push = PushReading(
        span_mm=reading.span_mm, deflection_mm=reading.deflection_mm, force_n=pressed.mean, held=reading.held
    )
    tension, _, meta = _worked_out(band, push)
    off = (pressed.within or 0.0) * reading.span_mm / (4 * reading.deflection_mm)
    return tension, off / tension if tension > 0 else None, meta


def _by_pitch(band: Band, reading: PluckReading) -> tuple[float, float, Formula]:
    """A run's ends lie between held and free to turn: the mean of both, refused where they part."""
    mass, by = _number(band.line_mass), reading.stiffness
    if by is None:
        bending, meta = _number(band.bending), FORMULAS["tension_from_belt_pitch"]
        tension = float(
            of_tension.tension_from_belt_pitch(reading.frequency_hz, mass, reading.span_mm, bending)
        )
        beta = float(of_tension.stiff_run(tension, bending, reading.span_mm))
    else:
        meta = FORMULAS["tension_from_partials"]
        tension = float(of_tension.tension_from_partials(reading.frequency_hz, by, mass, reading.span_mm))
        beta = math.pi / math.sqrt(max(by, 1e-9))
    held, pivoted = float(of_tension.pitch_held(beta)), float(of_tension.pitch_pivoted(beta))
    if held / pivoted - 1 > STIFF_SPREAD:
        raise EntryError(
            [
                problem(
                    "reading.span_mm",
                    "is too short for this belt: it sounds as much by its own stiffness as by its tension",
                    value=reading.span_mm,
                    limit=round(reading.span_mm * LEAST_BETA / beta, 1),
                    unit="mm",
                    remedy="Pluck a longer run, or push it aside instead.",
                )
            ]
        )
    return tension, (held**2 - pivoted**2) / (held + pivoted) ** 2 * 2, meta


def _verdict(tension: float, low: float | None, high: float | None) -> tuple[Verdict, str]:
    if tension <= 0:
        return "slack", "The run was slack at rest: tension the belt first, then measure again."
    if low is None or high is None:
        return "no band", "There is no band to hold it against yet."
    if low > high:
        return "no band", (
            f"No tension is right here: it needs {said(low, 'N', '.3g')} at least, and what holds the belt "
            f"bears {said(high, 'N', '.3g')} at most. See the ladder, room between least and most tension."
        )
    if tension < low:
        return "low", "Below the band: a run can go slack and the belt can jump. Tighten it."
    if tension > high:
        return "high", "Above the band: hard on shafts, brackets and cords. Let it off."
    return "within the band", "Within the band. Lock the tensioner and measure again."
