"""What is tried with a gauge, a scale or a watch, where several parts are tried alike."""

from __future__ import annotations

import math
from typing import Any

from ..account.found import Kept, Trial
from ..ledger.quantity import Quantity

WAY_OFF = 0.02  # of a way by turns: what a tape and a mark by eye leave
MASS_OFF, TURN_OFF = 0.15, 0.4  # of a belt: a metre of it by its catalogue, a turn of its screw (estimates)
A_TRACE = 0.25  # of the play that is meant: with less, a mesh binds once it is warm (estimate)


def about(expected: float, off: float, **said: Any) -> Trial:
    """A trial that is right within so large a part of what the design says."""
    return Trial(expected=expected, low=expected * (1 - off), high=expected * (1 + off), **said)


def play(
    at: str, name: str, how: str, field: str, meant: float, dimension: str, unit: str, *, trace: bool = False
) -> Trial:
    """The play of one part, that of all others held: as much as its field says, and a trace where none
    binds.
    """
    return Trial(
        key=f"{at}.play",
        name=name,
        path=f"{at}.{field}",
        how=how,
        dimension=dimension,
        unit=unit,
        expected=meant,
        low=A_TRACE * meant if trace else None,
        high=meant,
        below="Too close: it binds where it is eccentric, or once it is warm. Set it a trace apart.",
        above="More than the design reckons with: set it closer, look for a loose hub or key, or keep it as "
        "measured.",
        keeps=Kept(f"{at}.{field}", worst=True),
    )


def turns(
    key: str, name: str, path: str, how: str, count: int, diameter_mm: float, around_mm: float = 0.0
) -> Trial:
    """The way that so many turns make round a diameter; `around_mm` is added to it, as a rope's own is."""
    way = count * math.pi * (diameter_mm + around_mm)
    return about(
        way,
        WAY_OFF,
        key=key,
        name=name,
        path=path,
        how=how,
        dimension="length",
        unit="mm",
        below="Shorter than the design says: keep the diameter as measured, and speed and force follow.",
        above="Longer than the design says: keep the diameter as measured, and speed and force follow.",
        keeps=Kept(path, 1 / (count * math.pi), -around_mm),
    )


def of_belt(
    at: str, belt: str, name: str, line_mass: Quantity, ea: Quantity, turn: Quantity | None
) -> list[Trial]:
    """What a metre of a belt weighs, which tension by its pitch goes with; and the tension of one turn of its
    screw, which tells how stiff belt and mounts are together.
    """
    found = []
    if line_mass.value:
        found.append(
            about(
                line_mass.value,
                MASS_OFF,
                key=f"{at}.weigh",
                name=f"What a metre of {name} weighs",
                path=f"{belt}.line_mass_g_m",
                how="Weigh a cut piece on kitchen scales, over its length; the longer the better. Tension by "
                "pitch is as wrong as this is.",
                dimension="line mass",
                unit="g/m",
                below="Lighter than its catalogue: another make or width; keep it as measured.",
                above="Heavier than its catalogue: another make, cord or width; keep it as measured.",
                keeps=Kept(f"{belt}.line_mass_g_m"),
            )
        )
    if turn is not None and turn.value and ea.value:
        found.append(
            about(
                turn.value,
                TURN_OFF,
                key=f"{at}.turn",
                name=f"Tension of {name} for one turn of its screw",
                path=f"{belt}.ea_n",
                how="Read the tension, turn the screw by a half, read again at the same place: twice the "
                "difference. Once up, once down.",
                dimension="force",
                unit="N",
                below="Softer than the catalogue's belt in rigid mounts: a mount or a clamp gives, or the "
                "cords.",
                above="Stiffer than the catalogue's belt: its cords are; keep it as measured.",
                keeps=Kept(f"{belt}.ea_n", ea.value / turn.value),
            )
        )
    return found
