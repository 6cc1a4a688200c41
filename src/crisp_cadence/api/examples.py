"""One example for each operation of the API, as its description shows them; every one of them works
(tests/api/test_description.py).
"""

from __future__ import annotations

import base64
import io
import math
import wave
from typing import Any

MACHINE, AXIS, ENTRY = "5eed00000001", "5eed00000002", "5eed00000003"
WASHER, ROLL = "washer:washer-m5", "roll:roll-g-2-mm-6-mm-wide-1-m"
DESIGN: dict[str, Any] = {
    "name": "Slide",
    "aim": {"travel_mm": 400.0, "speed_mm_s": 200.0},
    "moving": [{"label": "Carriage", "mass_kg": 0.5}],
    "chain": [
        {
            "kind": "stepper", "label": "Motor", "hold_torque_nm": 0.45, "rated_current_a": 1.7, "resistance_ohm": 1.5, "inductance_mh": 2.8,
            "rotor_inertia_gcm2": 54.0, "driver": {"supply_v": 24.0, "current_a": 1.5},
        }
    ],
    "end": {"kind": "carriage_loop", "belt": {"profile": "round-g-2", "width_mm": 6.0}, "pulley": {"teeth": 20}},
}  # fmt: skip


def _pluck() -> str:
    """A WAV file of one pluck at 80 Hz, as base64: half a second, 8 bits, 4000 Hz."""
    file, rate = io.BytesIO(), 4000
    with wave.open(file, "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(1)
        out.setframerate(rate)
        times = [i / rate - 0.1 for i in range(rate // 2)]
        tones = [sum(math.sin(2 * math.pi * 80 * n * t) / n for n in (1, 2, 3)) for t in times]
        swings = [0.0 if t < 0 else 60 * y * math.exp(-t / 0.15) for t, y in zip(times, tones, strict=True)]
        out.writeframes(bytes(round(128 + s) for s in swings))
    return base64.b64encode(file.getvalue()).decode()


PLUCK = {"how": "pluck", "span_mm": 200.0, "frequency_hz": 80.0}
FILE = {
    "text": "key,kind,name,quantity,price,thickness_mm\nwasher:washer-m5,washer,Washer "
    "M5,80,0.03,1.05\n,washer,Shim of brass,12,,0.2\n"
}

# What stands in the path or behind the question mark, by its name.
PLACES: dict[str, Any] = {
    "machine_id": MACHINE,
    "axis_id": AXIS,
    "entry_id": ENTRY,
    "number": 1,
    "before": 2,
    "most": 100,
    "step": 1,
    "key": WASHER,
    "days": 30,
    "today": "2026-11-28",
    "belt": True,
    "act-key": "k3f0a9s8d7e6",
}

BODIES: dict[tuple[str, str], Any] = {
    ("post", "/evaluate"): DESIGN,
    ("post", "/open"): {"design": DESIGN, "keys": ["belt.cut"]},
    ("post", "/path"): DESIGN,
    ("post", "/edit"): DESIGN,
    ("post", "/out"): {"design": DESIGN, "what": "path:end", "form": "svg", "paper": "A4"},
    ("post", "/take"): {"design": DESIGN, "at": "end.pulley", "key": "pulley:pulley-g-2-mm-20-teeth-bore-5-mm"},
    ("post", "/search"): {"design": DESIGN, "scope": "anything", "reductions": ["direct"]},
    ("post", "/search/options"): {"design": DESIGN, "scope": "anything"},
    ("post", "/search/why"): {
        "design": DESIGN, "motor": "Stepper NEMA 17 × 48, 24 V, 1.7 A", "stages": ["direct"], "belt": "Round tooth G 2 mm, 6 mm, 20 teeth", "microsteps": 16, "scope": "anything",
    },
    ("post", "/change"): {"design": DESIGN},
    ("post", "/ways"): {"design": DESIGN},
    ("post", "/far"): {"design": DESIGN},
    ("post", "/plates"): {"design": DESIGN},
    ("post", "/propose"): {"design": DESIGN},
    ("post", "/listen"): {"sound": _pluck(), "run": {"design": DESIGN, "span_mm": 200.0}},
    ("post", "/ripple"): {"design": DESIGN, "spacings_mm": [2.0], "speed_mm_s": 60.0},
    ("post", "/tension"): {"design": DESIGN, "reading": PLUCK},
    ("post", "/bench"): {"design": DESIGN},
    ("post", "/trial"): {"design": DESIGN, "reading": {"how": "trial", "of": "drag", "values": [2.1, 2.3]}},
    ("post", "/square"): {"design": DESIGN | {"sides": {"kind": "two motors", "width_mm": 600.0}}, "reading": {"how": "diagonals", "across_mm": 400.0, "along_mm": 300.0, "rising_mm": 500.6, "falling_mm": 500.0}},
    ("post", "/moves"): {"design": DESIGN, "wanted": {"kind": "ramp", "letter": "X"}},
    ("post", "/teach"): {"design": DESIGN, "readings": [{"of": "drag", "value": 2.4}, {"of": "ring", "value": 30.0, "within": 1.0}]},
    ("post", "/calibrate"): {"design": DESIGN, "reading": {"how": "moves", "moves": [{"commanded": 100.0, "measured": 100.2}, {"commanded": 200.0, "measured": 200.3, "turned": True}]}},
    ("post", "/store/thin"): {"days": 30},
    ("post", "/store/adopt"): {"name": "crisp-cadence.before-thinning-2026-11-02T100000.sqlite3"},
    ("post", "/machines"): {"name": "Seed shuttle", "note": "Fetches trays of seed envelopes."},
    ("post", "/machines/import"): {"format": "crisp-cadence/machine", "version": 1, "name": "Seed shuttle", "axes": [{"key": "aisle", "design": DESIGN}]},
    ("put", "/machines/{machine_id}/plan"): {"base_version": 1, "plan": {"budget": 300.0, "own": [{"key": "wiring", "do": "Wire the cabinet."}], "bought": [{"what": "Ten washers", "price": 2.5, "ordered": "2026-11-02"}]}},
    ("put", "/machines/{machine_id}/tick"): {"ref": f"{AXIS}:check_parts", "day": "2026-11-02"},
    ("put", "/machines/{machine_id}"): {"name": "Seed shuttle", "note": "", "base_version": 1},
    ("post", "/machines/{machine_id}/axes"): {"name": "Lift", "layout": "carriage_loop"},
    ("post", "/machines/{machine_id}/import"): DESIGN,
    ("put", "/axes/{axis_id}"): {"base_version": 1, "design": DESIGN, "why": ""},
    ("put", "/axes/{axis_id}/rides"): {"on": None},
    ("post", "/axes/{axis_id}/restore"): {"base_version": 2, "number": 1},
    ("post", "/axes/{axis_id}/work"): DESIGN,
    ("post", "/axes/{axis_id}/log"): {"on_date": "2026-05-01", "kind": "tension", "says": "After the first week.", "cost": None, "reading": PLUCK},
    ("post", "/drawer"): {"kind": "washer", "name": "Shim of brass", "data": {"diameter_mm": 5.0, "thickness_mm": 0.2}, "quantity": 12, "price": 0.05},
    ("put", "/drawer/{key}"): {"base_version": 0, "quantity": 40, "price": 0.02},
    ("post", "/drawer/unknown"): {"frame": "NEMA 17", "length_mm": 40.0, "coil_ohm": 1.5, "wires": 4, "shaft_mm": 5.0},
    ("post", "/drawer/belt"): {"over_mm": 30.1, "pitches": 10, "form": "half round"},
    ("post", "/drawer/preview"): FILE,
    ("post", "/drawer/import"): FILE,
    ("post", "/drawer/cut"): {"key": ROLL, "length_mm": 840.0},
    ("post", "/drawer/out"): {"keys": [WASHER]},
    ("post", "/drawer/back"): {"keys": [WASHER]},
}  # fmt: skip


def add_examples(paths: dict[str, Any]) -> None:
    """Put the examples into the paths of an OpenAPI description."""
    for path, operations in paths.items():
        for method, operation in operations.items():
            for parameter in operation.get("parameters", ()):
                parameter["example"] = PLACES[parameter["name"]]
            if "requestBody" in operation:
                operation["requestBody"]["content"]["application/json"]["example"] = BODIES[
                    method, path.removeprefix("/api")
                ]
