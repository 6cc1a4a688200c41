"""What a part costs in trouble beyond its price: what a careful friend would not build unless it helps.

Money that nobody pays, in € of 2026, so that it can be weighed against prices: a further stage is one more
thing to mount, line up, tension and guard; sizes that few shops keep have to be looked for and waited for.
All are estimates. Ranks go by price and fuss together; a sum that is told is of prices alone.
"""

from __future__ import annotations

STAGE = {"gearbox": 25.0, "closed_belt": 20.0}
ODD_PROFILE = 6.0
ODD_CORD = 2.0
ODD_FRAME = 4.0
# What most shops keep.
PROFILES = ("round-g-2", "round-g-3", "t5")
FRAMES = ("NEMA 17", "NEMA 23")
# A supply by its voltage: 24 V is what most drivers, fans and switches are made for; 12 V starves a motor.
VOLTS = {12.0: 10.0, 24.0: 0.0, 36.0: 4.0, 48.0: 4.0}
ODD_VOLTS = 8.0


def of_belt(profile: str, cord: str) -> float:
    """Of an open belt with its pulley.

    >>> of_belt("round-g-2", "glass"), of_belt("mxl", "steel")
    (0.0, 8.0)
    """
    return (0.0 if profile in PROFILES else ODD_PROFILE) + (0.0 if cord == "glass" else ODD_CORD)


def of_motor(frame: str | None) -> float:
    """Of a stepper by its frame.

    >>> of_motor("NEMA 17"), of_motor("NEMA 34")
    (0.0, 4.0)
    """
    return 0.0 if frame in FRAMES else ODD_FRAME


def of_supply(supply_v: float) -> float:
    """Of a supply by its voltage.

    >>> of_supply(24.0), of_supply(60.0)
    (0.0, 8.0)
    """
    return VOLTS.get(supply_v, ODD_VOLTS)
