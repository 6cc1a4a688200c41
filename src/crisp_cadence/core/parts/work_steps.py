"""Steps of work that many ends share: guide and carriage, a shaft of its own, the first run."""

from __future__ import annotations

from ..account.report import Caution, WorkStep

AID = Caution("build", "The numbers are a design aid, not a certificate.")
EYES = "Eye protection while a belt is tensioned or plucked."


def lay_out(what: str) -> WorkStep:
    """The first step of all: what was bought is measured."""
    return WorkStep(
        "check_parts",
        f"Lay out the parts and measure what was bought: {what}.",
        check="Enter here what differs; everything follows.",
    )


def push_by_hand(after: tuple[str, ...], pinches: str, check: str = "") -> WorkStep:
    """The first run, without power."""
    return WorkStep(
        "hand_run",
        "Push the carriage end to end by hand, supply off: slowly.",
        after=after,
        check=check,
        caution=f"{pinches}; the motor feeds voltage into its driver when pushed.",
    )


def slow_run(needs: str, caution: str) -> WorkStep:
    """The first run under power."""
    return WorkStep(
        "slow_run",
        "Run ten slow strokes under power, then ten at speed.",
        after=("hand_run", "switches"),
        needs=(needs,),
        caution=caution,
    )


def guide_work(wheels: bool) -> list[WorkStep]:
    """Steps of guide, carriage and switches that every straight axis has."""
    return [
        lay_out("rail length, shafts, bores, screw lengths"),
        WorkStep(
            "rail_on",
            "Bolt the rail down; leave one end loose until the carriage has run its length.",
            "loose",
            after=("check_parts",),
        ),
        WorkStep(
            "carriage_on",
            "Run the carriage onto the rail."
            + (" Set the wheels by their eccentrics, all turned alike." if wheels else ""),
            "aligned",
            after=("rail_on",),
            check="Each wheel turns with a little resistance, moves the carriage, does not skate."
            if wheels
            else "Runs the whole length without a tight spot.",
        ),
        WorkStep(
            "rail_tight",
            "Run the carriage to both ends and tighten the rail behind it.",
            "tightened",
            after=("carriage_on",),
        ),
        WorkStep(
            "switches",
            "Fit the end switches, each with its over-travel, and try them by hand.",
            "aligned",
            after=("carriage_on",),
            check="Each one trips before the carriage meets its stop.",
        ),
    ]


def first_run() -> list[WorkStep]:
    """Steps after the drive is in place."""
    return [
        slow_run("chain.0", "Keep hands clear; reach the switch first."),
        WorkStep(
            "look_again",
            "Check every screw of the drive again after the first run.",
            "look again",
            after=("slow_run",),
        ),
        WorkStep(
            "lock_screws",
            "Take the drive's screws out one by one, threadlock them, tighten again.",
            "locked",
            after=("look_again",),
            check="Mark each head with paint.",
        ),
        WorkStep(
            "calibrate",
            "Measure a long move and set the scale, always approached from the same side.",
            after=("lock_screws",),
        ),
        WorkStep(
            "covers", "Fit covers and guards.", "tightened", after=("calibrate",), covers=("lock_screws",)
        ),
    ]


def shaft_steps(what: str, needs: tuple[str, ...]) -> list[WorkStep]:
    """Steps of an end that sits on a shaft of its own."""
    return [
        lay_out("shafts, bores, bearings, screw lengths"),
        WorkStep(
            "bearings",
            "Press the bearings in and run the shaft through both: it must turn by its own weight.",
            "aligned",
            after=("check_parts",),
        ),
        WorkStep(
            "pulley_on",
            f"Fit the {what} on its shaft, over the flat; snug, not tight.",
            "loose",
            after=("bearings",),
            needs=needs,
        ),
        WorkStep(
            "motor_tight",
            "Line everything up, then tighten motor and shaft.",
            "tightened",
            after=("motor_on", "pulley_on"),
        ),
        WorkStep(
            "switches",
            "Fit the switches or stops at both ends of the movement and try them by hand.",
            "aligned",
            after=("bearings",),
        ),
        WorkStep(
            "hand_run",
            "Turn it by hand through its whole movement, supply off.",
            after=("motor_tight",),
            check="No heavy spot, nothing rubs.",
            caution="The motor feeds voltage into its driver when turned.",
        ),
        *first_run(),
    ]
