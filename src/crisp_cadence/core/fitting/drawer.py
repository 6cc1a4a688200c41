"""A part of the drawer as the core sees it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from ..ledger.errors import Problem, problem
from ..ledger.record import record

# Every kind of part that the catalogue has, by the words for many of them.
KINDS = {
    "stepper": "Stepper motors",
    "gearbox": "Gearboxes",
    "supply": "Supplies",
    "pulley": "Pulleys",
    "idler": "Idlers",
    "belt": "Open belts",
    "wheel": "Wheels",
    "screw": "Screws",
    "washer": "Washers and nuts",
    "spacer": "Spacers",
    "set screw": "Set screws",
    "roll": "Rolls of belt",
    "closed belt": "Closed belts",
    "v belt": "V-belts",
    "coupler": "Couplers",
    "lead screw": "Lead and ball screws",
    "rack": "Racks with pinion",
}


@record
class Datum:
    """What a number of a part is called where it is listed, and its unit."""

    says: str
    unit: str


# The most telling first; what is not here is not listed.
DATA = {
    "hold_torque_nm": Datum("hold", "N·m"),
    "rated_current_a": Datum("rated", "A"),
    "resistance_ohm": Datum("coil", "Ω"),
    "inductance_mh": Datum("coil", "mH"),
    "rotor_inertia_gcm2": Datum("rotor", "g·cm²"),
    "supply_v": Datum("supply", "V"),
    "teeth": Datum("teeth", ""),
    "belt_teeth": Datum("teeth", ""),
    "ratio": Datum("ratio", ": 1"),
    "diameter_mm": Datum("⌀", "mm"),
    "pitch_mm": Datum("pitch", "mm"),
    "starts": Datum("starts", ""),
    "module_mm": Datum("module", "mm"),
    "length_mm": Datum("long", "mm"),
    "thickness_mm": Datum("thick", "mm"),
    "width_mm": Datum("wide", "mm"),
    "face_mm": Datum("face", "mm"),
    "bore_mm": Datum("bore", "mm"),
    "hub_mm": Datum("hub", "mm"),
    "shaft_mm": Datum("shaft", "mm"),
    "torque_limit_nm": Datum("limit", "N·m"),
    "backlash_arcmin": Datum("backlash", "arcmin"),
    "stiffness_nm_rad": Datum("stiffness", "N·m/rad"),
    "mass_kg": Datum("mass", "kg"),
}


@record
class Stock:
    """One row of the drawer: what it is, its data, how many lie there and what one costs the maker."""

    key: str
    kind: str
    name: str
    data: Mapping[str, Any]
    quantity: int
    price: float | None
    source_kind: str = "estimate"
    source: str = ""
    typical: float | None = None  # what one costs as a rule, where the maker has no price


def of_kind(drawer: Iterable[Stock], kind: str) -> list[Stock]:
    """Rows of one kind whose data are sound enough to be counted with."""
    return [row for row in drawer if row.kind == kind]


def number(row: Stock, name: str) -> float | None:
    """A number of a row; None where it is missing or not a number (rows of the maker's own hold what was
    typed).
    """
    value = row.data.get(name)
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return None
    return float(value) if 0 < value < 1e9 else None


def unsound(kind: str, data: Mapping[str, Any]) -> list[Problem]:
    """Data of a part without which nothing can be done with it.

    >>> [p.message for p in unsound("roll", {"length_mm": "long"})]
    ["is not a roll's length"]
    """
    length = data.get("length_mm")
    if kind != "roll" or (
        not isinstance(length, bool) and isinstance(length, (int, float)) and 0 < length < 1e9
    ):
        return []
    return [
        problem(
            "length_mm",
            "is not a roll's length",
            value=length,
            limit="more than 0",
            unit="mm",
            remedy="Enter it in millimetres.",
        )
    ]


def screw_at_least(drawer: Sequence[Stock], diameter_mm: float, length_mm: float) -> Stock | None:
    """The shortest screw of a diameter that is long enough; one in the drawer before one to buy."""
    found = []
    for row in of_kind(drawer, "screw"):
        d, long = number(row, "diameter_mm"), number(row, "length_mm")
        if d is not None and long is not None and abs(d - diameter_mm) < 0.05 and long + 1e-9 >= length_mm:
            found.append((row.quantity == 0, long, row.key, row))
    return min(found, key=lambda f: f[:3])[3] if found else None
