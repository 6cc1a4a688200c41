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
    current_a: float = num(
        "Driver current",
        "current",
        "A",
        0.01,
        30,
        1.5,
        "As set by its switches or potentiometer; say below whether that is rms or peak.",
    )
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
    bridge_ohm: float = num(
        "Resistance of its bridge",
        "resistance",
        "Ω",
        0.001,
        10,
        0.3,
        "Both switches that a phase's current passes; 0.1 in large drivers to 1 in small ones (estimate).",
    )
    supply_a: float | None = num(
        "Supply gives", "current", "A", 0.01, 500, None, "For this axis alone. Empty: not checked."
    )
    supply_uf: float | None = num(
        "Capacitors of the supply",
        "capacitance",
        "µF",
        1,
        1e7,
        None,
        "What swallows the energy of a stop. Empty: not checked.",
    )
    most_v: float | None = num(
        "Driver bears", "voltage", "V", 1, 1000, None, "Its highest voltage. Empty: not checked."
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
