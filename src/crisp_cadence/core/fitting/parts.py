"""Parts of the drawer as fields of a design, and what is still to pay for them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ..fields.belts import Pulley
from ..fields.frames import FRAMES
from ..fields.part import UNORDERED
from ..ledger.record import record
from .drawer import Stock, number

MOTOR_DATA = (
    "hold_torque_nm",
    "rated_current_a",
    "resistance_ohm",
    "inductance_mh",
    "rotor_inertia_gcm2",
    "detent_torque_nm",
    "shaft_mm",
)
BOX_DATA = ("ratio", "efficiency", "inertia_gcm2", "stiffness_nm_rad", "shaft_mm")
BOX_MORE = ("backlash_arcmin", "torque_limit_nm", "speed_limit_rpm", "radial_limit_n", "mass_kg")


def paid(row: Stock) -> tuple[float, bool, int]:
    """What is still to pay, whether it is owned, and 1 where that is a typical price."""
    owned = row.quantity > 0
    return (0.0 if owned else costs(row)), owned, int(not owned and row.price is None)


def costs(row: Stock) -> float:
    """What one costs the maker, or else as a rule."""
    return (row.typical if row.price is None else row.price) or 0.0


def bought(row: Stock) -> dict[str, Any]:
    """What every bought part carries: its name, its row, its price, whether it lies in the drawer, and where
    its data come from.
    """
    source = {"kind": row.source_kind, "note": row.source[:300]}
    return {
        "label": row.name,
        "drawer_key": row.key[:80],
        "price": row.price,
        "in_stock": row.quantity > 0,
        **UNORDERED,
        "source": source,
    }


NAMELESS: dict[str, Any] = {
    "label": "",
    "drawer_key": None,
    "price": None,
    "in_stock": False,
    **UNORDERED,
    "source": {"kind": "estimate", "note": ""},
}


def motor_of(row: Stock) -> dict[str, Any] | None:
    """A stepper's fields, its driver's apart; None where the row lacks data."""
    data = {n: number(row, n) for n in MOTOR_DATA}
    if row.kind != "stepper" or any(v is None for v in data.values()):
        return None
    return {
        **data,
        "mass_kg": number(row, "mass_kg"),
        "frame": str(row.data.get("frame", "other")),
        "shaft_form": str(row.data.get("shaft_form", "round")),
        **bought(row),
        "winding": "as given",
        "steps_per_turn": 200,
        "radial_limit_n": None,
    }


def supply_of(row: Stock) -> dict[str, Any] | None:
    """A supply's fields of the driver; None where the row lacks its voltage."""
    volts = number(row, "supply_v")
    if row.kind != "supply" or volts is None:
        return None
    return {"supply_v": volts, **bought(row)}


def gearbox_of(row: Stock) -> dict[str, Any] | None:
    """A gearbox as a stage; None where the row lacks data."""
    data = {n: number(row, n) for n in (*BOX_DATA, *BOX_MORE)}
    if row.kind != "gearbox" or any(data[n] is None for n in BOX_DATA):
        return None
    stage = {
        "kind": "gearbox",
        **bought(row),
        "shaft_form": str(row.data.get("shaft_form", "round")),
        "fits": row.data["fits"] if row.data.get("fits") in FRAMES else "any",
        **{n: v for n, v in data.items() if v is not None},
    }
    return {"backlash_arcmin": 0.0, **stage}


PULLEY_DATA = ("teeth", "bore_mm", "hub_mm", "face_mm")
LEAST_METAL_MM = 2.0  # of hub around a reamed bore, both walls together
SAME_MM = 0.02  # bores that are one

Pulleys = dict[str, dict[int, list[Stock]]]


def stock_pulleys(drawer: Sequence[Stock]) -> Pulleys:
    """Every pulley of the drawer whose sizes are known, by profile and teeth."""
    out: Pulleys = {}
    for row in drawer:
        if row.kind == "pulley" and all(number(row, n) is not None for n in PULLEY_DATA):
            out.setdefault(str(row.data.get("profile")), {}).setdefault(round(row.data["teeth"]), []).append(
                row
            )
    return out


def faces_for(rows: Sequence[Stock], width_mm: float) -> list[float]:
    """Faces that carry a belt: the narrowest that there is, and whatever is owned."""
    wide = [row for row in rows if row.data["face_mm"] >= width_mm]
    return (
        sorted(
            {
                min(row.data["face_mm"] for row in wide),
                *(row.data["face_mm"] for row in wide if row.quantity > 0),
            }
        )
        if wide
        else []
    )


def face_for(rows: Sequence[Stock], width_mm: float) -> float | None:
    """The face to take for a belt where one is enough: the narrowest that is owned, else the narrowest that
    there is.
    """
    wide = [row for row in rows if row.data["face_mm"] >= width_mm]
    return min(((row.quantity == 0, row.data["face_mm"]) for row in wide), default=(True, None))[1]


@record
class Fitted:
    """A pulley of the drawer on a shaft: its fields in a design, what is still to pay, whether it is owned,
    and 1 where that is a typical price.
    """

    fields: dict[str, Any]
    spend: float
    owned: bool
    typical: int


def pulley_on(rows: Sequence[Stock], face_mm: float, shaft_mm: float) -> Fitted:
    """The pulley of one face that goes on a shaft: with the very bore, else one to be reamed, else one with a
    sleeve; its name says so.

    Of each the owned before the nearest in bore, and that before the dear; one is reamed only where it leaves
    metal enough.
    """

    def way(row: Stock) -> int:
        bore = row.data["bore_mm"]
        if abs(bore - shaft_mm) <= SAME_MM:
            return 0
        return 2 if bore > shaft_mm else 1 if row.data["hub_mm"] - shaft_mm >= LEAST_METAL_MM else 3

    wide = [row for row in rows if row.data["face_mm"] == face_mm]
    row = min(
        wide, key=lambda r: (way(r), r.quantity == 0, abs(r.data["bore_mm"] - shaft_mm), costs(r), r.key)
    )
    how = way(row)
    bore = float(row.data["bore_mm"]) if how in (0, 2) else shaft_mm
    says = {0: "", 2: f", with a sleeve to {shaft_mm:g} mm"}.get(how, f", reamed to {shaft_mm:g} mm")
    fields = {
        **bought(row),
        "label": row.name + says,
        "teeth": round(row.data["teeth"]),
        "bore_mm": bore,
        "hub_mm": float(row.data["hub_mm"]),
        "face_mm": float(face_mm),
        "sleeve": how == 2,
        "runout_mm": 0.0,
    }
    return Fitted(fields, *paid(row))


def pulley_follows(
    pulley: Pulley, rows: Sequence[Stock], shaft_mm: float, width_mm: float
) -> tuple[dict[str, Any], float | None]:
    """What a pulley becomes on another shaft or under a wider belt, and what that costs (None where it is not
    known).

    One that was taken from the drawer becomes another of its teeth, by name; a maker's own keeps its name and
    is bored, unless it is too narrow. Nothing where it fits already.
    """
    narrow, off = pulley.face_mm < width_mm, abs(pulley.bore_mm - shaft_mm) > SAME_MM and not pulley.sleeve
    if not narrow and not off:
        return {}, 0.0
    if not narrow and pulley.drawer_key is None:
        return {"bore_mm": shaft_mm}, 0.0
    same = (
        pulley.face_mm if not narrow and any(row.data["face_mm"] == pulley.face_mm for row in rows) else None
    )
    face = same or face_for(rows, width_mm)
    if face is None:
        return {**NAMELESS, "bore_mm": shaft_mm, "face_mm": max(pulley.face_mm, width_mm + 1)}, None
    found = pulley_on(rows, face, shaft_mm)
    return found.fields, found.spend


# What was measured on one belt says nothing of another.
UNMEASURED: dict[str, Any] = {
    "ea_n": None,
    "line_mass_g_m": None,
    "working_tension_n": None,
    "tension_n": None,
    "calibrated_at_n": None,
}


def closed_belt_taken(at: str, row: Stock) -> dict[str, Any]:
    """What a closed belt of the drawer sets in the stage at a path."""
    d = row.data
    belt = {
        **bought(row),
        **UNMEASURED,
        "profile": d["profile"],
        "width_mm": float(d["width_mm"]),
        "cord": d["cord"],
        "price_per_m": None,
    }
    return {f"{at}.belt_teeth": round(d["belt_teeth"]), **{f"{at}.belt.{n}": v for n, v in belt.items()}}


def _plain(row: Stock, kind: str, words: Sequence[str], numbers: Sequence[str]) -> dict[str, Any] | None:
    """Fields of a row by name; a number of 0 stands where none is given; None where a word or size is
    missing.
    """
    if row.kind != kind or any(not isinstance(row.data.get(n), str) for n in words):
        return None
    data = {n: number(row, n) for n in numbers}
    if any(v is None for n, v in data.items() if not n.startswith("backlash")):
        return None
    return {**{n: row.data[n] for n in words}, **{n: v or 0.0 for n, v in data.items()}}


def coupler_of(row: Stock) -> dict[str, Any] | None:
    """A coupler as a stage; None where the row lacks data."""
    data = _plain(
        row,
        "coupler",
        ("form",),
        ("stiffness_nm_rad", "backlash_arcmin", "inertia_gcm2", "torque_limit_nm", "shaft_mm"),
    )
    return None if data is None else {"kind": "coupler", **data, **bought(row)}


def screw_of(row: Stock) -> dict[str, Any] | None:
    """A lead screw's fields of its end; None where the row lacks data."""
    data = _plain(
        row, "lead screw", ("form",), ("diameter_mm", "pitch_mm", "starts", "friction", "backlash_mm")
    )
    return None if data is None else {**data, "starts": int(data["starts"]), "screw": bought(row)}


def rack_of(row: Stock) -> dict[str, Any] | None:
    """A rack with its pinion as fields of its end; None where the row lacks data."""
    data = _plain(row, "rack", ("material",), ("module_mm", "teeth", "face_mm"))
    return None if data is None else {**data, "teeth": int(data["teeth"]), "rack": bought(row)}
