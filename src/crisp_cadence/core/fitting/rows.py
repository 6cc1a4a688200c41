"""The rows of a belt plan: what the Belt step shows."""

from __future__ import annotations

from typing import Any

from ..account.report import CutLine, Misfit
from ..ledger.record import record
from . import bores, rolls, stock_belts


@record
class WheelRow:
    """One pulley in belt order."""

    name: str
    part: str
    field: str
    touches: str
    teeth: int
    radius_mm: float
    x_mm: float
    y_mm: float
    wrap_deg: float
    meshed: int | None
    turns: str
    load_n: float | None
    height_mm: float | None
    span_near_mm: float | None
    span_far_mm: float | None


@record
class BeltRow:
    """One belt: its length, and every pulley along it; `threading` are the words of its card."""

    at: str
    name: str
    closed: bool
    length_mm: float
    pitches: float | None
    tension_n: float | None
    wheels: tuple[WheelRow, ...]
    threading: tuple[str, ...]
    offer: dict[str, Any] | None


@record
class ClosedPlan:
    """Stock lengths, pairs with a belt, and places of the motor for one closed stage."""

    at: str
    wanted_mm: float
    centre_mm: float
    reach: str
    stock: tuple[stock_belts.StockBelt, ...]
    pairs: tuple[stock_belts.PairAndBelt, ...]
    places: tuple[stock_belts.Placement, ...]


@record
class GroovedStock:
    """One stock length of a V-belt, and the smallest pulley that its steps would have."""

    length_mm: float
    smallest_mm: float | None
    owned: int
    price: float | None
    says: str


@record
class GroovedPlan:
    """Stock lengths for one V-belt of a spindle, and the driver and driven diameters of its pulleys, mm."""

    field: str
    name: str
    length_mm: float
    stock: tuple[GroovedStock, ...]
    turned: tuple[tuple[float, float], ...]


@record
class TravelPiece:
    """Part of the tensioner's travel."""

    name: str
    mm: float


@record
class TensionerPlan:
    """Travel budget, screw and slot; `mend` are the changes that give it the travel it needs."""

    kind: str
    moves: str
    set_by: str
    lock_by: str
    pieces: tuple[TravelPiece, ...]
    needs_mm: float
    has_mm: float
    screw: str
    screw_mm: float | None
    slot_mm: float
    mend: dict[str, float]
    says: str


@record
class StackPiece:
    """A piece of a proposed stack, ready to be put into the design."""

    label: str
    thickness_mm: float
    quantity: int
    drawer_key: str | None
    price: float | None


@record
class LineRow:
    """One part on the belt line, and how it comes into line."""

    part: str
    field: str
    name: str
    height_mm: float | None
    seat_mm: float | None
    width_mm: float
    stack: tuple[StackPiece, ...]
    off_mm: float | None
    allowed_mm: float | None
    in_line: bool | None
    says: str
    proposed: tuple[StackPiece, ...]
    proposed_mm: float | None
    change: dict[str, Any]
    screw: str
    screw_needed_mm: float | None


@record
class Variant:
    """One bracket in another thickness or material: how much it bends and tilts."""

    says: str
    bend_mm: float
    tilt_deg: float
    field: str
    value: str | float


@record
class Bracket:
    """What holds a pulley against the belt's pull."""

    part: str
    name: str
    load_n: float | None
    limit_deg: float
    variants: tuple[Variant, ...]
    heat: str


@record
class OutRow:
    """A drawing that can be taken out: its name for the program and for people."""

    what: str
    name: str


@record
class BeltPlan:
    """The whole Belt step."""

    belts: tuple[BeltRow, ...]
    cuts: tuple[CutLine, ...]
    packing: rolls.Packing | None
    packing_says: str
    closed: tuple[ClosedPlan, ...]
    grooved: tuple[GroovedPlan, ...]
    tensioner: TensionerPlan | None
    line: tuple[LineRow, ...]
    line_datum: str
    brackets: tuple[Bracket, ...]
    fits: tuple[bores.Fit, ...]
    misfits: tuple[Misfit, ...]
    out: tuple[OutRow, ...]
