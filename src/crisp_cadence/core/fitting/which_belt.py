"""Which belt a piece in the hand is: from the length of ten of its pitches, and how its teeth look."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping

from ..fields.profile import Profile, ToothForm
from ..geometry.teeth import outline
from ..ledger.amounts import said
from ..ledger.errors import EntryError, problem
from ..ledger.record import record

READ_MM = 0.2  # how well two edges are read off with a calliper or a good rule
STRETCHED = 0.003  # by how much of its length a belt may be longer than new, or drawn out as it is measured
LIKELY = 4  # named where none fits


@record
class Candidate:
    """A profile that a piece may be of: what so many of its pitches measure, by how much that is off,
    whether it fits, and its outline in mm.
    """

    key: str
    name: str
    form: ToothForm
    measures_mm: float
    off_mm: float
    fits: bool
    looks: bool
    thickness_mm: float
    widths_mm: tuple[float, ...]
    outline: tuple[tuple[float, float], ...]


@record
class WhichBelt:
    """What a piece of belt may be, the nearest first, and what that says; `within_mm` is how far off a
    reading may be.
    """

    pitch_mm: float
    within_mm: float
    found: tuple[Candidate, ...]
    says: str


def which_belt(
    over_mm: float, pitches: int, form: ToothForm | None, profiles: Mapping[str, Profile]
) -> WhichBelt:
    """Which profiles fit a length over so many pitches, those whose teeth look so first.

    Equation: |L − n·p| ≤ 0.2 mm + 0.3 % of L
    Units: mm
    Range: a straight piece, measured from an edge of one tooth to the same edge of the n-th after it
    Source: common practice, no source — what a calliper reads, and what a used belt is longer by
    """
    if over_mm < pitches:
        raise EntryError(
            [
                problem(
                    "over_mm",
                    "is too short for so many pitches: no belt has one of less than a millimetre",
                    value=over_mm,
                    limit=pitches,
                    unit="mm",
                    remedy="Measure from an edge of one tooth to the same edge of the tenth tooth after it.",
                )
            ]
        )
    within = READ_MM + STRETCHED * over_mm
    every = [_candidate(p, over_mm, pitches, within, form) for p in profiles.values()]
    every.sort(key=lambda c: (not c.fits, not c.looks, abs(c.off_mm)))
    fitting = [c for c in every if c.fits]
    shown = fitting or sorted(every, key=lambda c: abs(c.off_mm))[:LIKELY]
    return WhichBelt(
        over_mm / pitches, within, tuple(shown), _says(fitting, shown, over_mm, pitches, profiles)
    )


def _candidate(p: Profile, over_mm: float, pitches: int, within: float, form: ToothForm | None) -> Candidate:
    off = over_mm - pitches * p.pitch_mm
    return Candidate(
        p.key,
        p.name,
        p.form,
        pitches * p.pitch_mm,
        off,
        abs(off) <= within,
        form is None or form == p.form,
        p.thickness_mm,
        p.widths_mm,
        outline(p),
    )


def _says(
    fitting: list[Candidate],
    shown: list[Candidate],
    over_mm: float,
    pitches: int,
    profiles: Mapping[str, Profile],
) -> str:
    if not fitting:
        near = shown[0]
        return (
            f"No belt of the list has this pitch, {said(over_mm / pitches, 'mm')}. "
            f"The nearest is {near.name}: {pitches} of its pitches are {said(near.measures_mm, 'mm')}. "
            f"Measure again on a straight piece, over {pitches} gaps, not {pitches} teeth."
        )
    likely = [c for c in fitting if c.looks]
    if not likely:
        names = " or ".join(c.name for c in fitting)
        return f"By its pitch it is {names}, but their teeth look otherwise: compare with the drawings."
    if len(likely) == 1:
        return f"It is {likely[0].name}."
    names = " or ".join(c.name for c in likely)
    return f"It is {names}. {_apart(likely, profiles)}"


def _apart(likely: list[Candidate], profiles: Mapping[str, Profile]) -> str:
    """How those that are left are told apart: over more pitches, or by their teeth alone."""
    gaps = [
        abs(profiles[a.key].pitch_mm - profiles[b.key].pitch_mm) for a, b in itertools.combinations(likely, 2)
    ]
    clear = [g for g in gaps if g > 2.5 * STRETCHED * min(profiles[c.key].pitch_mm for c in likely)]
    if not clear or len(clear) < len(gaps):
        return "Their pitches are alike: only the look of their teeth tells them apart."
    pitch = min(profiles[c.key].pitch_mm for c in likely)
    count = math.ceil(2 * READ_MM / (min(clear) - 2 * STRETCHED * pitch) / 5) * 5
    each = ", ".join(f"{c.name} {said(count * profiles[c.key].pitch_mm, 'mm')}" for c in likely)
    return f"Measure over {count} pitches: {each}."
