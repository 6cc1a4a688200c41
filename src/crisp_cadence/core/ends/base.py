"""What the end of a chain tells the rest of the program: how turning becomes travel, and everything that follows there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..context import Context
from ..errors import Problem
from ..formula import Given, Quantity
from ..model import Part
from ..report import BeltPath, BillLine, Caution, CutLine, DriveNode, PluckTarget, WorkStep
from ..springs import Spring
from ..stages.base import OutputShaft

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Moving:
    """How the end turns shaft into travel, and what it moves besides the tally."""

    lam: Quantity
    efficiency: Given
    carried_mass: Quantity
    turning_mass: Quantity


class End(Part):
    """Last part of every chain."""

    kind: str

    def check(self, ctx: Context) -> list[Problem]:
        """Problems between fields that stop an evaluation."""
        return []

    def moving(self, ctx: Context) -> Moving:
        """Radians per millimetre at the input shaft and the masses that move."""
        raise NotImplementedError

    def positions(self, ctx: Context, count: int) -> FloatArray:
        """Carriage positions (from the near end of travel) at which the rest is worked out."""
        raise NotImplementedError

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        """Everything that follows from the peak force: tension, ratings, grip, loads; writes rungs."""
        raise NotImplementedError

    def springs(
        self, ctx: Context, positions: FloatArray, torque_path: list[tuple[str, str, float]]
    ) -> tuple[list[Spring], tuple[float, ...]] | None:
        """Spring network at the positions and its load vector; None when an input is missing.

        `torque_path` are the springs of the chain in power-flow order: part, label, N/mm at the carriage.
        """
        raise NotImplementedError

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        """Its entries on the drive line."""
        raise NotImplementedError

    def path(self, ctx: Context) -> BeltPath | None:
        """The belt's path, where there is one."""
        return None

    def cut(self, ctx: Context) -> list[CutLine]:
        """What to cut."""
        return []

    def pluck(self, ctx: Context) -> PluckTarget | None:
        """How to measure the tension."""
        return None

    def bill(self, ctx: Context) -> list[BillLine]:
        return []

    def work(self, ctx: Context) -> list[WorkStep]:
        return []

    def cautions(self, ctx: Context) -> list[Caution]:
        return []
