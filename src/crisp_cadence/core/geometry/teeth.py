"""How the teeth of a belt look from the side, for comparing with a piece in the hand."""

from __future__ import annotations

import math

from ..fields.profile import Profile

SHOWN = 4  # teeth of an outline
UPRIGHT = 3.0  # power of the curve of a round tooth with upright flanks; 2 is an ellipse
POINTS = 14  # of a round tooth


def outline(profile: Profile) -> tuple[tuple[float, float], ...]:
    """The toothed side and the back of a short piece of belt, as one closed line from its near end.

    Equation: trapezoid: y = h within the tip, w_tip = w_root − 2·h·tan(flank/2); round:
    |2·x/w|ⁿ + (y/h)ⁿ = 1, n = 2 half round, 3 with upright flanks
    Units: mm; teeth point upwards, from y = 0 where they leave the belt, its back is below
    Range: any profile of the catalogue; corners are drawn sharp
    Source: handbook — nominal teeth by height, width at the root and flanks; curves are drawn, not made by it

    >>> from crisp_cadence import catalog
    >>> outline(catalog.profiles()["t5"])[:3]
    ((0.0, 0.0), (1.175, 0.0), (1.612, 1.2))
    """
    w, h, p = profile.tooth_root_mm, profile.tooth_height_mm, profile.pitch_mm
    points = [(0.0, 0.0)]
    for n in range(SHOWN):
        middle = (n + 0.5) * p
        points += [(middle + x, y) for x, y in _tooth(profile, w, h)]
    long, back = SHOWN * p, h - profile.thickness_mm
    points += [(long, 0.0), (long, back), (0.0, back)]
    return tuple((round(x, 3), round(y, 3)) for x, y in points)


def _tooth(profile: Profile, w: float, h: float) -> list[tuple[float, float]]:
    if profile.flank_deg is not None:
        tip = w / 2 - h * math.tan(math.radians(profile.flank_deg / 2))
        return [(-w / 2, 0.0), (-tip, h), (tip, h), (w / 2, 0.0)]
    n = UPRIGHT if "upright" in profile.form else 2.0
    angles = [math.pi * (1 - i / POINTS) for i in range(POINTS + 1)]
    return [
        (math.copysign(abs(math.cos(a)) ** (2 / n), math.cos(a)) * w / 2, abs(math.sin(a)) ** (2 / n) * h)
        for a in angles
    ]
