"""A motor of unknown make, from what can be seen and measured on it: frame, length, ohms of a coil, number of
wires.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from typing import Any

import numpy as np

from ..fields.frames import FRAMES
from ..ledger.errors import EntryError, problem
from ..ledger.record import record
from .drawer import Stock, of_kind
from .parts import motor_of

WIRES = (4, 5, 6, 8)
# How far motors of one frame and length lie from the curve through them, as a factor up and down (our own
# list, from memory).
SPREAD = {
    "hold_torque_nm": 1.3,
    "rated_current_a": 1.3,
    "inductance_mh": 1.7,
    "rotor_inertia_gcm2": 1.35,
    "detent_torque_nm": 1.6,
}
UNITS = {
    "hold_torque_nm": "N·m",
    "rated_current_a": "A",
    "inductance_mh": "mH",
    "rotor_inertia_gcm2": "g·cm²",
    "detent_torque_nm": "N·m",
}
LABELS = {
    "hold_torque_nm": "Hold torque",
    "rated_current_a": "Rated current",
    "inductance_mh": "Inductance",
    "rotor_inertia_gcm2": "Rotor inertia",
    "detent_torque_nm": "Detent torque",
}
CAUTIOUS = {
    "hold_torque_nm": -1,
    "rated_current_a": -1,
    "inductance_mh": 1,
    "rotor_inertia_gcm2": 1,
    "detent_torque_nm": -1,
}  # which end is on the safe side
WINDING = {4: "as given", 5: "as given", 6: "half", 8: "half"}


@record
class Between:
    """A datum that is not known: its lowest, likely and highest value, and the one that errs on the safe
    side.
    """

    name: str
    label: str
    low: float
    likely: float
    high: float
    cautious: float
    unit: str


@record
class UnknownMotor:
    """What a motor of unknown make may be: ranges, the drawer row that errs on the safe side, and what to
    look at.
    """

    name: str
    ranges: tuple[Between, ...]
    data: dict[str, Any]
    source: str
    says: tuple[str, ...]


def body_mm(row: Stock) -> float | None:
    """Length of a stepper's body, mm, from its name in the list: "NEMA 17 × 40"."""
    found = re.search(r"× (\d+(?:\.\d+)?)", row.name)
    return float(found[1]) if found else None


def unknown_motor(
    frame: str, length_mm: float, coil_ohm: float, wires: int, shaft_mm: float, drawer: Sequence[Stock]
) -> UnknownMotor:
    """Ranges of a stepper's data from its frame, body length, ohms of one coil and number of wires.

    Equation: hold torque, inertia and detent torque go with the length in one frame; with the same copper a
    coil of R ohms takes
    I = √(P/2R) and has L in proportion to R
    Units: –, mm, Ω, – → as each datum
    Range: frames in the list; half to twice the lengths of the frame
    Source: estimate — straight lines through motors of the same frame in the list, on logarithmic scales;
    spread from memory

    EntryError where the frame is not in the list, or a measure is far from any motor of that frame.
    """
    known = [
        (size, data)
        for row in of_kind(drawer, "stepper")
        if (data := motor_of(row)) is not None
        and data["frame"] == frame
        and (size := body_mm(row)) is not None
    ]
    found = []
    if frame not in FRAMES or len(known) < 2:
        found.append(
            problem(
                "frame",
                "is not one that the list has motors of",
                value=frame,
                limit=", ".join(FRAMES),
                remedy="Measure the flange: 42 mm is NEMA 17, 57 mm NEMA 23, 86 mm NEMA 34.",
            )
        )
    if wires not in WIRES:
        found.append(
            problem(
                "wires",
                "is not a number of wires that steppers have",
                value=wires,
                limit="4, 5, 6, 8",
                remedy="Count the wires that leave the motor.",
            )
        )
    if found:
        raise EntryError(found)
    lengths = np.array([size for size, _ in known])
    if not 0.5 * lengths.min() <= length_mm <= 2 * lengths.max():
        raise EntryError(
            [
                problem(
                    "length_mm",
                    f"is far from any {frame} motor in the list",
                    value=length_mm,
                    limit=f"{0.5 * lengths.min():g} to {2 * lengths.max():g}",
                    unit="mm",
                    remedy="Measure the body without its shaft.",
                )
            ]
        )
    # A half coil of six or eight wires has half the ohms of the whole: the list's data are those of whole
    # coils of four wires.
    power = np.array([2 * d["rated_current_a"] ** 2 * d["resistance_ohm"] for _, d in known])
    per_ohm = np.array([d["inductance_mh"] / d["resistance_ohm"] for _, d in known])
    watts, ratio = _line(lengths, power, length_mm), _line(lengths, per_ohm, length_mm)
    likely = {
        n: _line(lengths, np.array([d[n] for _, d in known]), length_mm)
        for n in ("hold_torque_nm", "rotor_inertia_gcm2", "detent_torque_nm")
    }
    likely |= {"rated_current_a": math.sqrt(watts / 2 / coil_ohm), "inductance_mh": ratio * coil_ohm}
    says = [
        "Turn it by hand: two wires of one coil held together make it heavy.",
        "Run it warm for an hour at the cautious current: a case too hot to touch for long (about 70 "
        "°C) wants less.",
    ]
    if wires in (6, 8):
        likely["hold_torque_nm"] /= math.sqrt(2)  # half the copper at the same loss in what is left
        says.append(
            f"{wires} wires: the ohms are taken to be those of a half coil; in the Drive step choose "
            f"how the halves are joined."
        )
    if wires == 5:
        says.append(
            "5 wires: the middle taps are joined inside, a bipolar driver cannot use it; find the "
            "joint and open it, or take another motor."
        )
    ranges = tuple(
        Between(
            n,
            LABELS[n],
            v / SPREAD[n],
            v,
            v * SPREAD[n],
            v * SPREAD[n] if CAUTIOUS[n] > 0 else v / SPREAD[n],
            UNITS[n],
        )
        for n, v in ((n, likely[n]) for n in SPREAD)
    )
    name = f"Unknown {frame} × {length_mm:g}, {coil_ohm:g} Ω, {wires} wires"
    data = {
        "frame": frame,
        **{r.name: _figures(r.cautious) for r in ranges},
        "resistance_ohm": coil_ohm,
        "shaft_mm": shaft_mm,
        "shaft_form": "round",
        "winding": WINDING[wires],
        "mass_kg": round(_line(lengths, np.array([d["mass_kg"] or 0.1 for _, d in known]), length_mm), 2),
    }
    return UnknownMotor(
        name,
        ranges,
        data,
        f"estimate from {len(known)} motors of its frame; the safe end of each range",
        tuple(says),
    )


def _line(lengths: Any, values: Any, length_mm: float) -> float:
    """The value at a length, from a straight line through all on logarithmic scales."""
    slope, base = np.polyfit(np.log(lengths), np.log(values), 1)
    return float(np.exp(base + slope * math.log(length_mm)))


def _figures(value: float) -> float:
    return float(f"{value:.3g}")
