"""What all tests share: demo designs, and a program started as its users start it."""

from __future__ import annotations

import copy
from typing import Any

import pytest
from hypothesis import settings

from crisp_cadence.core.design.design import AxisDesign, design_from
from thorough import TORTURE, many

settings.register_profile("gate", deadline=None, derandomize=not TORTURE, max_examples=many(60, 1000))
settings.load_profile("gate")

PLAIN: dict[str, Any] = {
    "name": "Plain",
    "chain": [
        {
            "kind": "stepper", "hold_torque_nm": 0.45, "rated_current_a": 1.7, "resistance_ohm": 1.5, "inductance_mh": 2.8, "rotor_inertia_gcm2": 54.0,
            "detent_torque_nm": 0.015, "driver": {"supply_v": 24.0, "current_a": 1.5},
        }
    ],
    "end": {"kind": "carriage_loop"},
}  # fmt: skip


def build(**changes: Any) -> AxisDesign:
    """The plain design with fields set by path, dots written as double underscores: end__pulley__teeth=16."""
    data = copy.deepcopy(PLAIN)
    for path, value in changes.items():
        here: Any = data
        *way, last = path.split("__")
        for name in way:
            here = here[int(name)] if name.isdigit() else here.setdefault(name, {})
        here[last] = value
    return design_from(data)


@pytest.fixture
def plain() -> dict[str, Any]:
    return copy.deepcopy(PLAIN)
