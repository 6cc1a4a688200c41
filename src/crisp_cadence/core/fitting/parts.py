"""Parts of the drawer as fields of a design, and what is still to pay for them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from .drawer import Stock, number

MOTOR_DATA = ("hold_torque_nm", "rated_current_a", "resistance_ohm", "inductance_mh", "rotor_inertia_gcm2", "detent_torque_nm", "shaft_mm")
BOX_DATA = ("ratio", "efficiency", "inertia_gcm2", "stiffness_nm_rad", "shaft_mm")
BOX_MORE = ("backlash_arcmin", "torque_limit_nm", "speed_limit_rpm", "radial_limit_n", "mass_kg")


def paid(row: Stock) -> tuple[float, bool, int]:
    """What is still to pay, whether it is owned, and 1 where its price is not known."""
    owned = row.quantity > 0
    return (0.0 if owned else (row.price or 0.0)), owned, int(not owned and row.price is None)


def bought(row: Stock) -> dict[str, Any]:
    """What every bought part carries: its name, its row, its price, and whether it lies in the drawer."""
    return {"label": row.name, "drawer_key": row.key, "price": row.price, "in_stock": row.quantity > 0}


def motor_of(row: Stock) -> dict[str, Any] | None:
    """A stepper's fields, its driver's apart; None where the row lacks data."""
    data = {n: number(row, n) for n in MOTOR_DATA}
    if row.kind != "stepper" or any(v is None for v in data.values()):
        return None
    return {
        **data, "mass_kg": number(row, "mass_kg"), "frame": str(row.data.get("frame", "other")), "shaft_form": str(row.data.get("shaft_form", "round")),
        **bought(row), "winding": "as given", "steps_per_turn": 200, "radial_limit_n": None,
    }  # fmt: skip


def supply_of(row: Stock) -> dict[str, Any] | None:
    """A supply's fields of the driver; None where the row lacks its voltage."""
    volts = number(row, "supply_v")
    if row.kind != "supply" or volts is None:
        return None
    return {"supply_v": volts, "label": row.name, "price": row.price, "in_stock": row.quantity > 0}


def gearbox_of(row: Stock) -> dict[str, Any] | None:
    """A gearbox as a stage; None where the row lacks data."""
    data = {n: number(row, n) for n in (*BOX_DATA, *BOX_MORE)}
    if row.kind != "gearbox" or any(data[n] is None for n in BOX_DATA):
        return None
    stage = {
        "kind": "gearbox", **bought(row), "shaft_form": str(row.data.get("shaft_form", "round")),
        **{n: v for n, v in data.items() if v is not None},
    }  # fmt: skip
    return {"backlash_arcmin": 0.0, **stage}


def stock_pulleys(drawer: Sequence[Stock]) -> dict[str, dict[int, Stock]]:
    """Pulleys by profile and teeth; what is owned before what is not."""
    out: dict[str, dict[int, Stock]] = {}
    for row in sorted(drawer, key=lambda r: r.quantity):
        teeth = number(row, "teeth")
        if row.kind == "pulley" and teeth is not None and number(row, "hub_mm") is not None:
            out.setdefault(str(row.data.get("profile")), {})[round(teeth)] = row
    return out


def _plain(row: Stock, kind: str, words: Sequence[str], numbers: Sequence[str]) -> dict[str, Any] | None:
    """Fields of a row by name; a number of 0 stands where none is given; None where a word or size is missing."""
    if row.kind != kind or any(not isinstance(row.data.get(n), str) for n in words):
        return None
    data = {n: number(row, n) for n in numbers}
    if any(v is None for n, v in data.items() if not n.startswith("backlash")):
        return None
    return {**{n: row.data[n] for n in words}, **{n: v or 0.0 for n, v in data.items()}}


def coupler_of(row: Stock) -> dict[str, Any] | None:
    """A coupler as a stage; None where the row lacks data."""
    data = _plain(row, "coupler", ("form",), ("stiffness_nm_rad", "backlash_arcmin", "inertia_gcm2", "torque_limit_nm", "shaft_mm"))
    return None if data is None else {"kind": "coupler", **data, **bought(row)}


def screw_of(row: Stock) -> dict[str, Any] | None:
    """A lead screw's fields of its end; None where the row lacks data."""
    data = _plain(row, "lead screw", ("form",), ("diameter_mm", "pitch_mm", "starts", "friction", "backlash_mm"))
    return None if data is None else {**data, "starts": int(data["starts"]), "screw": bought(row)}


def rack_of(row: Stock) -> dict[str, Any] | None:
    """A rack with its pinion as fields of its end; None where the row lacks data."""
    data = _plain(row, "rack", ("material",), ("module_mm", "teeth", "face_mm"))
    return None if data is None else {**data, "teeth": int(data["teeth"]), "rack": bought(row)}
