"""Motors with supply and current, and gearboxes, as a drawer has them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..fitting.drawer import Stock
from ..fitting.parts import MOTOR_DATA, gearbox_of, motor_of, paid, supply_of
from . import fuss
from .choice import MOST_MOTORS, Choice, FloatArray, bounded, columns

CURRENTS = (1.0, 0.7)  # of the motor's rated current: in full, and what runs cooler


def motors_of(drawer: Sequence[Stock]) -> tuple[list[Choice], dict[str, FloatArray]]:
    """Every stepper whose data are known, on every supply, at each current."""
    choices: list[Choice] = []
    rows: list[dict[str, float]] = []
    supplies = [(row, data) for row in drawer if (data := supply_of(row)) is not None]
    motors = [(row, data) for row in drawer if (data := motor_of(row)) is not None]
    bounded(len(motors) * len(supplies) * len(CURRENTS), "motors with their supplies", MOST_MOTORS)
    for row, data in motors:
        cost = paid(row)
        for supply, fed in supplies:
            more = paid(supply)
            for part in CURRENTS:
                current = round(data["rated_current_a"] * part, 3)
                driver = {**fed, "current_a": current, "current_is": "rms"}
                changes = {
                    **{f"chain.0.{n}": v for n, v in data.items()},
                    **{f"chain.0.driver.{n}": v for n, v in driver.items()},
                }
                name = f"{row.name}, {fed['supply_v']:g} V, {current:g} A"
                choices.append(
                    Choice(name, changes, cost[0] + more[0], cost[1] and more[1], cost[2] + more[2])
                )
                rows.append(
                    {
                        **{n: data[n] for n in MOTOR_DATA},
                        "mass_kg": np.nan if data["mass_kg"] is None else data["mass_kg"],
                        "supply_v": fed["supply_v"],
                        "current_a": current,
                        "spend": cost[0] + more[0],
                        "fuss": (not cost[1]) * fuss.of_motor(data.get("frame"))
                        + (not more[1]) * fuss.of_supply(fed["supply_v"]),
                    }
                )
    return choices, columns(rows)


# Data of a stage that no evaluation gives: the shaft after it, the largest that goes into its driver, money,
# and its mass; the first row of every table is none at all.
NO_STAGE = {"shaft_mm": np.nan, "room": np.inf, "spend": 0.0, "fuss": 0.0, "mass_kg": 0.0}


def boxes_of(drawer: Sequence[Stock]) -> tuple[list[Choice], list[dict[str, float]]]:
    """Every gearbox whose data are known."""
    choices: list[Choice] = []
    rows: list[dict[str, float]] = []
    for row in drawer:
        stage = gearbox_of(row)
        if stage is not None:
            cost = paid(row)
            choices.append(Choice(row.name, {"stage": stage}, *cost))
            rows.append(
                NO_STAGE
                | {
                    "shaft_mm": stage["shaft_mm"],
                    "spend": cost[0],
                    "fuss": fuss.STAGE["gearbox"],
                    "mass_kg": stage.get("mass_kg", np.nan),
                }
            )
    return choices, rows
