"""The frames of stepper motors: flange, bolt square, boss, screw, and what the shaft bears."""

from __future__ import annotations

from ..ledger.record import record


@record
class Frame:
    """One frame, mm and N.

    Bolt squares are the bolt circles of NEMA ICS 16 (inches) over √2 where it has them (17, 23, 34); the
    others, boss, screw, shaft and radial load at 20 mm from the face are common practice, from memory.
    """

    side_mm: float
    bolts_mm: float
    boss_mm: float
    screw_mm: float
    radial_n: float | None
    shaft_mm: float


FRAMES: dict[str, Frame] = {
    "NEMA 11": Frame(28.0, 23.0, 22.0, 2.5, 20.0, 5.0),
    "NEMA 14": Frame(35.0, 26.0, 22.0, 3.0, 25.0, 5.0),
    "NEMA 17": Frame(42.0, 31.0, 22.0, 3.0, 28.0, 5.0),
    "NEMA 23": Frame(57.0, 47.14, 38.1, 5.0, 75.0, 6.35),
    "NEMA 24": Frame(60.0, 49.8, 38.1, 5.0, 75.0, 8.0),
    "NEMA 34": Frame(86.0, 69.6, 73.0, 6.0, 220.0, 14.0),
}


def side_of(frame: str, otherwise: float) -> float:
    """Side of a motor's square flange, mm; of a frame that is not in the table what is said otherwise.

    >>> side_of("NEMA 17", 60.0), side_of("other", 60.0)
    (42.0, 60.0)
    """
    return FRAMES[frame].side_mm if frame in FRAMES else otherwise
