"""Whether a beam stands square to its travel: from two diagonals, or a gauge at both ends, to which side is
ahead, by how much, and what brings it back.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..design.design import AxisDesign
from ..evaluation.evaluate import Run, work_out
from ..fields.profile import Profile
from ..formulas.gantries import lead_from_diagonals
from ..ledger.amounts import said
from ..ledger.errors import EntryError, problem

Length = Annotated[float, Field(gt=0, le=1e5, strict=True, allow_inf_nan=False)]
Gauge = Annotated[float, Field(ge=-1e3, le=1e3, strict=True, allow_inf_nan=False)]
SIDES: dict[str, tuple[str, str]] = {"crossed": ("left end", "right end"), "": ("first side", "second side")}
ASKEW = 0.1  # of the width: further off, a number was mistyped


class DiagonalsReading(BaseModel):
    """A rectangle drawn by the machine: across the beam, along its travel, and both diagonals: `rising` from
    the first side's near corner to the second side's far corner.
    """

    model_config = ConfigDict(extra="forbid")
    how: Literal["diagonals"] = "diagonals"
    across_mm: Length
    along_mm: Length
    rising_mm: Length
    falling_mm: Length


class GaugesReading(BaseModel):
    """Two stops set square, and a gauge at either end of the beam: how far each end is along its travel."""

    model_config = ConfigDict(extra="forbid")
    how: Literal["gauges"] = "gauges"
    apart_mm: Length
    first_mm: Gauge
    second_mm: Gauge


SquareReading = Annotated[DiagonalsReading | GaugesReading, Field(discriminator="how")]


@dataclass(frozen=True, slots=True)
class Squaring:
    """How a beam is squared: between which sides, how far apart, what it may be off, by what it is set."""

    width_mm: float
    sides: tuple[str, str]
    may_mm: float
    by: str


@dataclass(frozen=True, slots=True)
class Squared:
    """By how much the second side is ahead of the first, at the sides, mm; the angle; and what to do."""

    lead_mm: float
    angle_deg: float
    may_mm: float
    verdict: Literal["square", "askew"]
    says: str
    does: str


def squaring_of(run: Run) -> Squaring | None:
    """How the beam of an axis is squared; None where it has none."""
    design, kind = run.ctx.design, _kind(run)
    if not kind:
        return None
    own = run.end.beam()
    width = design.sides.width_mm if own is None else own[0]
    return Squaring(width, SIDES["" if own is None else "crossed"], design.aim.error_mm, _BY[kind])


_BY = {
    "two motors": "The two motors: one side is moved by itself, or its switch is shifted.",
    "cross shaft": "A coupler of the cross shaft: one side is turned against the other.",
    "one driven": "The guides of the driven side: nothing else holds this beam square.",
    "crossed": "The tension of both belts: unequal, they pull the beam askew.",
    "H": "The guides: one belt laid as an H has the same tension everywhere.",
}


def _kind(run: Run) -> str:
    if run.end.beam() is not None:
        return "H" if run.end.lead_per_n(run.ctx) is None else "crossed"
    return "" if run.ctx.design.sides.kind == "one" else run.ctx.design.sides.kind


def squared(
    design: AxisDesign, profiles: Mapping[str, Profile], reading: DiagonalsReading | GaugesReading
) -> Squared:
    """What diagonals or gauges say; EntryError where the axis has no beam, or a number was mistyped."""
    run, _ = work_out(design, profiles)
    found = squaring_of(run)
    if found is None:
        raise EntryError(
            [
                problem(
                    "reading",
                    "does not go with this axis: it has no beam on two sides",
                    limit="a gantry or crossed belts",
                    remedy="Square its rail against the machine instead.",
                )
            ]
        )
    lead = _lead(reading) * found.width_mm
    if abs(lead) <= found.may_mm:
        return Squared(
            lead, _angle(lead, found), found.may_mm, "square", _says(lead, found), "Leave it as it is."
        )
    return Squared(
        lead, _angle(lead, found), found.may_mm, "askew", _says(lead, found), _does(run, found, lead)
    )


def _lead(reading: DiagonalsReading | GaugesReading) -> float:
    """Lead of the second side for each millimetre between the sides."""
    if isinstance(reading, GaugesReading):
        slope = (reading.second_mm - reading.first_mm) / reading.apart_mm
        field = "reading.second_mm"
    else:
        a, b, rising = reading.across_mm, reading.along_mm, reading.rising_mm
        slope = float(lead_from_diagonals(a, b, rising, reading.falling_mm))
        field = "reading.falling_mm"
        # The sum of both squares is twice that of the sides, however askew: else a number is wrong.
        drawn = math.sqrt((rising**2 + reading.falling_mm**2) / 2)
        if abs(drawn / math.hypot(a, b) - 1) > ASKEW:
            raise EntryError(
                [
                    problem(
                        "reading.rising_mm",
                        "does not go with these sides: such a rectangle has other diagonals",
                        value=rising,
                        limit=round(math.hypot(a, b), 1),
                        unit="mm",
                        remedy="See whether a digit or a unit is wrong.",
                    )
                ]
            )
    if abs(slope) > ASKEW:
        raise EntryError(
            [
                problem(
                    field,
                    "means a beam too far askew to be a matter of squaring",
                    value=slope * 100,
                    limit=ASKEW * 100,
                    unit="mm for 100 mm of width",
                    remedy="See whether a digit or a unit is wrong.",
                )
            ]
        )
    return slope


def _angle(lead: float, found: Squaring) -> float:
    return math.degrees(math.atan2(lead, found.width_mm))


def _says(lead: float, found: Squaring) -> str:
    first, second = found.sides
    ahead = second if lead > 0 else first
    if lead == 0:
        return "Both sides are level with one another."
    return f"The {ahead} is {said(abs(lead), 'mm', '.3g')} ahead, over {said(found.width_mm, 'mm')}."


def _does(run: Run, found: Squaring, lead: float) -> str:
    ctx, kind, size = run.ctx, _kind(run), abs(lead)
    ahead = found.sides[1 if lead > 0 else 0]
    by = said(size, "mm", ".3g")
    if kind == "crossed":
        return _by_tension(run, lead)
    if kind == "two motors":
        steps = (
            ""
            if ctx.stepping is None
            else f" ({size * (ctx.stepping.per_mm.value or 0):.0f} microsteps of its motor)"
        )
        return (
            f"Move the {ahead} back by {by}{steps}: shift its home switch or its offset by so much, or with "
            "one motor off turn its pulley by hand. Whole teeth off: set the belt over in its clamp."
        )
    if kind == "cross shaft":
        lam = ctx.drive.lam_end.value or 0.0
        turn = said(math.degrees(size * lam), "°", ".2g")
        return (
            f"Loosen one coupler of the cross shaft, push the {ahead} back by {by} (its pulley turns by "
            f"{turn}), tighten it, and measure again."
        )
    if kind == "one driven":
        return (
            f"Loosen the guides of the driven side, turn the beam until the {ahead} is {by} back, tighten "
            "them. Nothing else holds it: where it comes back, take play from these guides or drive both "
            "sides."
        )
    return (
        f"Loosen the screws of one end's guides, turn the beam until the {ahead} is {by} back, tighten them. "
        "Tension does not change it; it racks only while the head accelerates along the beam."
    )


def _by_tension(run: Run, lead: float) -> str:
    ctx = run.ctx
    tight, slack = run.end.pair if lead > 0 else run.end.pair[::-1]
    differ = abs(lead) / (run.end.lead_per_n(ctx) or 1.0)
    if differ > (run.end.stretched(ctx)[0] or 0.0):
        return (
            "Tension alone does not explain it: the belts would have to differ by "
            f"{said(differ, 'N', '.3g')}. "
            "Look for a belt that lies a tooth off in its clamp, rails that are not parallel, or a beam that "
            "is not square in itself; loosen one end's guides, square it, tighten them."
        )
    return (
        f"Take half of {said(differ, 'N', '.3g')} from {tight} and give it to {slack}, motors on and the "
        "beam free in its guides; then read both belts, and measure again. Where both already sound alike, "
        "the rails or the clamps are off, not the tension."
    )
