"""What the end of a chain tells the rest of the program: how turning becomes travel, and everything that
follows there.

Every end speaks in millimetres of its own point: the carriage, the tip of an arm, the rim of a wheel, the
hanging load. So
one chain, one network of springs and one ladder serve all of them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from .. import axis
from ..context import Context
from ..errors import Problem
from ..formula import Quantity, Term, missing_in
from ..model import Part
from ..report import BillLine, Caution, CutLine, DriveNode, PluckTarget, Table, WorkStep
from ..route import Laid
from ..scene import Scene
from ..springs import Spring
from ..stages.base import OutputShaft
from ..travel import rail_travel

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Moving:
    """How the end turns shaft into travel, and what it moves besides the tally.

    `motor_share` is the part of the force that one motor carries at worst, `belt_share` the part that one
    belt does; `motors`
    is how many chains pull side by side.
    """

    lam: Quantity
    efficiency: Term
    carried_mass: Quantity
    turning_mass: Quantity
    efficiency_back: Term | None = None
    motor_share: float = 1.0
    motors: float = 1.0
    belt_share: float = 1.0
    backlash_mm: Term = 0.0


class End(Part):
    """Last part of every chain."""

    kind: str
    point: ClassVar[str] = "carriage"
    guided: ClassVar[bool] = True
    straight: ClassVar[bool] = (
        False  # a straight axis: it may have two driven sides, and is compared with other ways
    )
    placed: ClassVar[bool] = False  # it stands at a place that only a motor that knows its own can give it
    turning: ClassVar[bool] = False  # it turns for hours, which a stepper is not made for
    # What of the results belongs to each of its parts on the drive line, by the beginning of their keys; the
    # part's own path if not said.
    shows: ClassVar[dict[str, tuple[str, ...]]] = {}

    def cases(self) -> tuple[str, ...]:
        """Directions or settings that are worked out one by one; the worst governs."""
        return ("",)

    def check(self, ctx: Context) -> list[Problem]:
        """Problems between fields that stop an evaluation."""
        return []

    def travel(self, ctx: Context) -> Quantity | None:
        """Usable travel of the point, with its rung; None where there is no end to it."""
        return rail_travel(ctx)

    def moving(self, ctx: Context) -> Moving:
        """Radians per millimetre at the input shaft and the masses that move."""
        raise NotImplementedError

    def loads(self, ctx: Context, mass: Quantity, slope: Quantity) -> tuple[Quantity, Quantity]:
        """Weight along the travel and drag, N, at their worst within the travel."""
        g = ctx.given
        weight = ctx.calc(
            "force.weight", "Weight along the slope", axis.slope_force, mass_kg=mass, slope_rad=slope
        )
        drag = ctx.calc(
            "force.drag",
            "Drag of the guide",
            axis.guide_drag,
            mass_kg=mass,
            friction=g("guide.friction"),
            slope_rad=slope,
            drag_n=g("guide.drag_n"),
        )
        return weight, drag

    def overhang(self) -> str | None:
        """Design path of how far out on the last shaft its pull acts; None where it does not pull
        sideways.
        """
        return None

    def positions(self, ctx: Context, count: int) -> FloatArray:
        """Places along the travel, from its near end, at which the rest is worked out."""
        travel = ctx.book.results.get("travel.usable")
        whole = (travel.value if travel else None) or 1.0
        return np.arange(count, dtype=np.float64) * (whole / (count - 1))

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        """Everything that follows from the peak force: tension, ratings, grip, loads; writes rungs."""

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[tuple[str, str, Term, Any]]:
        """Springs of the end itself, in series behind the chain: part, label, what it hangs on, N/mm (one, or
        one for each place).
        """
        return []

    def springs(
        self, ctx: Context, positions: FloatArray, torque_path: list[tuple[str, str, float]]
    ) -> tuple[list[Spring], tuple[float, ...]] | None:
        """Spring network at the positions and its load vector; None when an input is missing.

        `torque_path` are the springs of the chain in power-flow order: part, label, N/mm at the point.
        """
        own = self.own_springs(ctx, positions)
        if missing_in(k for _, _, k, _ in own):
            return None
        row = [*torque_path, *((part, label, k) for part, label, _, k in own)]
        if not row:
            return None
        made = []
        for place, (part, label, k) in enumerate(row):
            reach = [0.0] * len(row)
            reach[place] = 1.0
            if place:
                reach[place - 1] = -1.0
            made.append(Spring(part, label, k, tuple(reach)))
        return made, tuple([0.0] * (len(row) - 1) + [1.0])

    def shaft_node(self, ctx: Context, key: str, part: str, label: str, field: str, main: str) -> DriveNode:
        """An entry of the drive line for what sits on the last shaft: its speed (written down under `key`)
        and torque.
        """
        r = ctx.book.results
        rpm = ctx.calc(
            key,
            f"Speed of the {label.lower()}",
            axis.shaft_speed,
            speed_mm_s=ctx.given("aim.speed_mm_s"),
            radians_per_mm=r["end.lam"],
        )
        return DriveNode(
            part, label, "end", field, main, rpm.value, "rpm", r["end.torque_accelerate"].value, "N·m", None
        )

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        """Its entries on the drive line, without the moving point itself."""
        raise NotImplementedError

    def scene(self, ctx: Context) -> Scene | None:
        """The drawing to true scale."""
        return None

    def laid(self, ctx: Context) -> list[Laid]:
        """Its toothed belts as they are laid."""
        return []

    def roller_origin(self, ctx: Context) -> tuple[float, float]:
        """Where the coordinates of further rollers begin, in the drawing's own."""
        return 0.0, 0.0

    def tables(self, ctx: Context) -> list[Table]:
        """What is best read as a table."""
        return []

    def cut(self, ctx: Context) -> list[CutLine]:
        """What to cut."""
        return []

    def pluck(self, ctx: Context) -> PluckTarget | None:
        """How to measure the tension."""
        return None

    def bill(self, ctx: Context) -> list[BillLine]:
        """What it adds to the bill."""
        return []

    def work(self, ctx: Context) -> list[WorkStep]:
        """What it adds to the order of work."""
        return []

    def cautions(self, ctx: Context) -> list[Caution]:
        """What it adds to the cautions."""
        return []
