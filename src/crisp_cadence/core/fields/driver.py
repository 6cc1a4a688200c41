"""A stepper's driver and supply."""

from __future__ import annotations

from typing import Literal

from .part import Bought, choice, num


class Driver(Bought):
    """Supply and driver of a stepper."""

    FIRST = ("supply_v", "current_a", "microsteps")

    supply_v: float = num(
        "Supply voltage",
        "voltage",
        "V",
        1,
        400,
        24.0,
        "What the driver is fed with. Above 60 V DC it bites: keep to local rules.",
        sizes=(12, 24, 36, 48, 60),
    )
    current_a: float = num("Driver current", "current", "A", 0.01, 30, 1.5)
    current_is: Literal["rms", "peak"] = choice(
        "Current set in",
        "rms",
        "Many drivers are set in peak amperes, 1.41 times the rms: look in its sheet.",
    )
    microsteps: int = num(
        "Microsteps",
        "count",
        "",
        1,
        256,
        16,
        "Smoothness, not accuracy.",
        sizes=(1, 2, 4, 8, 16, 32, 64, 128, 256),
    )
    idle_percent: float = num(
        "Current when standing", "share", "%", 0, 100, 50.0, "Drivers cut the current when the axis stands."
    )
    step_rate_limit_hz: float = num(
        "Step rate limit",
        "frequency",
        "Hz",
        100,
        2e7,
        100_000.0,
        "The most steps a second that controller and driver manage.",
    )
