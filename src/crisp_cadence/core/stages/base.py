"""What a stage of the chain tells the rest of the program. A new kind of stage is one module beside this one."""

from __future__ import annotations

from dataclasses import dataclass

from ..context import Context
from ..errors import Problem
from ..formula import Given, Quantity, Real, Term
from ..model import Bought
from ..report import BillLine, Caution, Setting, TorqueCurve, WorkStep


@dataclass(frozen=True, slots=True)
class Transmission:
    """What a stage does to what passes through it; shafts are named as power flows, from the motor to the load."""

    ratio: Term
    efficiency: Term
    inertia_in_gcm2: Term
    stiffness_out_nm_rad: Term
    backlash_out_arcmin: Term
    torque_limit_in: Term | None = None
    speed_limit_in_rpm: Term | None = None


@dataclass(frozen=True, slots=True)
class OutputShaft:
    """The shaft that a stage offers to what comes next."""

    field: str
    diameter: Given
    form: str
    radial_limit: Quantity | Given


@dataclass(frozen=True, slots=True)
class MotorState:
    """What the rest of the evaluation needs of a motor."""

    inertia_gcm2: Given
    field_stiffness: Quantity
    standing_torque: Quantity
    detent: Given
    missing: tuple[str, ...]


class Stage(Bought):
    """A part of the chain, in power-flow order."""

    kind: str

    def check(self, at: str) -> list[Problem]:
        """Problems between this stage's own fields."""
        return []

    def transmit(self, at: str, ctx: Context) -> Transmission:
        """Ratio, efficiency, inertia, stiffness and backlash."""
        raise NotImplementedError

    def output_shaft(self, at: str, ctx: Context) -> OutputShaft:
        """The shaft at this stage's end."""
        raise NotImplementedError

    def main_number(self) -> str:
        """The number that names this stage on the drive line."""
        raise NotImplementedError

    def bill(self, at: str) -> list[BillLine]:
        """What it adds to the bill."""
        return []

    def work(self, at: str) -> list[WorkStep]:
        """What it adds to the order of work."""
        return []

    def cautions(self, ctx: Context) -> list[Caution]:
        """What it adds to the cautions."""
        return []


class Motor(Stage):
    """First stage of every chain: gives torque at a speed."""

    def settle(self, at: str, ctx: Context) -> MotorState:
        """Work out constants and limits; writes them to the ledger."""
        raise NotImplementedError

    def torque_at(self, speed_rad_s: Real, ctx: Context) -> Real:
        """Largest torque at speeds of the shaft, N·m, arrays allowed; called only when nothing is missing."""
        raise NotImplementedError

    def motion_rungs(self, at: str, ctx: Context, lam: Quantity, torques: dict[str, Quantity]) -> TorqueCurve | None:
        """Rungs of torque, speed and control; the curve for the drive step."""
        raise NotImplementedError

    def settings(self, ctx: Context) -> list[Setting]:
        """Numbers for the controller."""
        return []


def bought(part: Bought, what: str, detail: str, field: str, quantity: float = 1, unit: str = "") -> BillLine:
    """One line of the bill for a part."""
    total = None if part.price is None else part.price * quantity
    return BillLine(part.label or what, detail, quantity, unit, part.price, total, part.in_stock, field)
