"""From the spacing of a ripple on the work to the parts that come again at it, and from that of a ringing
to the mode that rings.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..account.found import Repeat
from ..account.report import Report
from ..design.design import AxisDesign
from ..evaluation.evaluate import Run, work_out
from ..fields.profile import Profile

FITS = 0.03  # of the spacing: what a ruler over some waves can be off by
NEAR = 0.25  # of a mode's frequency: stiffness and mass are known to so much twice over
TIMES = (1, 2, 3)  # how often a part may ripple in one turn: an oval pulley does twice
FEWER = 0.004  # a ripple once a turn comes first where one twice a turn fits no better
LISTED = 6


@dataclass(frozen=True, slots=True)
class Suspect:
    """A part that comes again: after how much travel, how often it ripples in that, by how much of the
    spacing that misses what was measured, and how to prove it. `case` is the direction or setting that it
    is for, where that matters.
    """

    name: str
    path: str
    case: str
    spacing_mm: float
    times: int
    off: float
    fits: bool
    prove: str


@dataclass(frozen=True, slots=True)
class Ringing:
    """What a spacing is at the speed at which it was made: frequency in Hz, the mode that it is near and that
    mode's frequency, the part that gives most with the field that stiffens it, and what to do.
    """

    hz: float
    mode: str
    mode_hz: float | None
    part: str
    path: str
    rings: bool
    says: str


@dataclass(frozen=True, slots=True)
class Ripple:
    """What one measured spacing tells: its suspects, those that fit first, the nearest where none does; and
    its ringing where the speed is known.
    """

    spacing_mm: float
    suspects: tuple[Suspect, ...]
    ringing: Ringing | None


def repeats(design: AxisDesign, profiles: Mapping[str, Profile]) -> list[tuple[Repeat, str]]:
    """What comes again along the travel of an axis, part by part, from the motor to the end, each with the
    case that it is for where the cases differ; nothing where a point goes round and nothing travels.
    """
    return _repeats(work_out(design, profiles)[1])


def _repeats(runs: Sequence[Run]) -> list[tuple[Repeat, str]]:
    if runs[0].end.turning:
        return []
    found: dict[tuple[str, str, float], tuple[Repeat, list[str]]] = {}
    for run in runs:
        ctx = run.ctx
        own = [r for j, stage in enumerate(ctx.design.chain) for r in stage.repeats(f"chain.{j}", ctx)]
        for r in (*own, *run.end.repeats(ctx)):
            _, cases = found.setdefault((r.name, r.path, round(r.spacing_mm, 9)), (r, []))
            cases.append(ctx.case)
    return [(r, "" if len(cases) == len(runs) else ", ".join(cases)) for r, cases in found.values()]


def ripples(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    spacings_mm: Sequence[float],
    speed_mm_s: float | None = None,
) -> tuple[Ripple, ...]:
    """Suspects for each measured spacing, and its ringing at a speed."""
    worst, runs = work_out(design, profiles)
    known = _repeats(runs)
    report = worst.report(runs) if speed_mm_s else None
    return tuple(
        Ripple(
            spacing,
            _suspects(known, spacing),
            _ringing(report, speed_mm_s / spacing) if report and speed_mm_s else None,
        )
        for spacing in spacings_mm
    )


def _suspects(known: Sequence[tuple[Repeat, str]], spacing: float) -> tuple[Suspect, ...]:
    """The best fit of each part; once a turn before twice a turn where both fit alike."""
    ranked = []
    for r, case in known:
        miss, n = min((abs(math.log(spacing * n / r.spacing_mm)) + FEWER * (n - 1), n) for n in TIMES)
        off = r.spacing_mm / n / spacing - 1
        ranked.append((miss, Suspect(r.name, r.path, case, r.spacing_mm, n, off, abs(off) <= FITS, r.prove)))
    ranked.sort(key=lambda x: x[0])
    fitting = [s for _, s in ranked if s.fits]
    return tuple((fitting or [s for _, s in ranked[:2]])[:LISTED])


def _ringing(report: Report, hz: float) -> Ringing:
    modes = [q for q in report.results if q.key in ("mode.low", "mode.high") and q.value]
    shares = max(report.shares, key=lambda s: s.share, default=None)
    near = min(modes, key=lambda q: abs(math.log(hz / (q.value or 1.0))), default=None)
    if near is None or near.value is None:
        return Ringing(hz, "", None, "", "", False, "No ringing frequency of this axis is known.")
    rings = abs(hz / near.value - 1) <= NEAR
    part, path = (shares.label, shares.field) if shares else ("", "")
    if rings:
        says = (
            f"It rings: {part} gives most, stiffen that first; gentler acceleration or a calmer "
            "driver setting lessens it too."
            if part
            else "It rings."
        )
    elif hz > near.value:
        says = (
            "Higher than this axis rings: a part that comes again, or a tool or frame that rings by itself."
        )
    else:
        says = (
            "Lower than this axis rings: softer or heavier than the design says, or a part that comes again."
        )
    return Ringing(hz, near.label, near.value, part, path, rings, says)
