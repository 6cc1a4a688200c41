"""How drives are told apart and ranked: values that differ by little rank alike."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from .choice import FloatArray
from .front import Places, in_steps
from .looking import Looker

ALIKE = 0.03  # what differs by less than about this share ranks alike; more in a wide space
ENOUGH = 2.0  # headroom over which more is no better
TABLE = 4_000_000  # places of the table that the front is kept in
LONGEST = 30.0  # a drive so many times softer than the stiffest ranks with the softest
# Rungs that no choice of motor, reduction, belt or pulley changes; they are taken from the design as it
# stands.
FIXED = ("travel", "jam", "wheel", "rail", "play", "tip", "motor_mount_heat", "idler_mount_heat")
# They must hold, but say nothing of a drive: no part changes them, or they follow from what the search itself
# sets.
NOT_RANKED = (*FIXED, "pretension", "face", "taut")


def _ends(values: FloatArray) -> tuple[float, float]:
    """Least and largest of the values that are known; 1 where none is."""
    known = values[np.isfinite(values)]
    return (float(known.min()), float(known.max())) if known.size else (1.0, 1.0)


class Ruler:
    """Places of what is ranked, in steps of a few per cent from the best there can be: a gram or a cent more
    makes no other drive. What is to spend counts with the fuss that it is.

    Headroom and speed twice over what is needed, and steps of a quarter of what is asked, count as enough.
    """

    def __init__(self, looker: Looker) -> None:
        space, bounds = looker.space, looker.bounds
        self.aim = looker.design.aim
        motors = looker.standing[0]
        (cheap, dear), (least, most), (_, stages) = (
            _ends(x)
            for x in (
                space.motor["spend"] + space.motor["fuss"],
                bounds["spend"],
                space.stage["spend"] + space.stage["fuss"],
            )
        )
        self.money = 1 + motors * cheap + least
        self.stiff = _ends(bounds["stiffness"])[1]
        self.mass, heavy = _ends(bounds["mass"])
        tops = [  # short ones first: the front's table is worked through faster so
            heavy / self.mass,
            ENOUGH,
            ENOUGH,
            (1 + motors * (dear + 2 * stages) + most) / self.money,
            LONGEST,
        ]
        self.share = ALIKE
        while math.prod(self._sizes(tops)) > TABLE:  # a wide space is told apart a little less finely
            self.share *= 1.2
        self.sizes = self._sizes(tops)

    def _sizes(self, tops: Sequence[float]) -> tuple[int, ...]:
        return tuple(int(in_steps(np.array([x]), 1.0, self.share, 200)[0]) + 1 for x in tops)

    def places(
        self,
        spend: FloatArray,
        headroom: FloatArray,
        step: FloatArray,
        stiffness: FloatArray,
        mass: FloatArray,
        speed: FloatArray,
    ) -> Places:
        """Places of combinations, less being better; columns first."""
        aim, share, most = self.aim, self.share, [n - 1 for n in self.sizes]
        return np.stack(
            [
                in_steps(mass, self.mass, share, most[0]),
                in_steps(np.clip(speed / aim.speed_mm_s, 1.0, ENOUGH), ENOUGH, share, most[1]),
                in_steps(np.clip(headroom, 1.0, ENOUGH), ENOUGH, share, most[2]),
                in_steps(1 + spend, self.money, share, most[3]),
                in_steps(stiffness, self.stiff, share, most[4]),
                in_steps(np.maximum(step, aim.resolution_mm / 4), aim.resolution_mm / 4, share, 1000),
            ]
        )
