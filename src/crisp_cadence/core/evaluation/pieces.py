"""What a design is made of, and combinations that make no machine."""

from __future__ import annotations

from functools import partial
from typing import Any

from ..account.context import Context
from ..design.design import AxisDesign
from ..design.registry import UnknownPart
from ..fields.belts import Pulley
from ..ledger.errors import EntryError, Problem, problem
from ..parts.ends.contract import End
from ..parts.stages.contract import Motor, Stage


def parts_of(design: AxisDesign) -> tuple[End, list[Stage], Motor]:
    """End, chain and motor as known parts; EntryError names what is not known or not a motor."""
    unknown = [(f"chain.{j}", s) for j, s in enumerate(design.chain) if isinstance(s, UnknownPart)]
    if isinstance(design.end, UnknownPart):
        unknown.append(("end", design.end))
    if unknown:
        raise EntryError(
            [
                problem(
                    f"{at}.kind",
                    "is a kind of part that this version does not know; it is kept in the file unchanged",
                    value=p.kind,
                    remedy="Open the design with a newer version, or choose another part.",
                )
                for at, p in unknown
            ]
        )
    if not isinstance(design.chain[0], Motor):
        raise EntryError(
            [
                problem(
                    "chain.0.kind",
                    "is not a motor; the chain runs in power-flow order",
                    value=design.chain[0].kind,
                    limit="a motor",
                    remedy="Put the motor first.",
                )
            ]
        )
    second = next((j for j, s in enumerate(design.chain) if j and isinstance(s, Motor)), None)
    if second is not None:
        raise EntryError(
            [
                problem(
                    f"chain.{second}.kind",
                    "is a second motor in one chain",
                    value=design.chain[second].kind,
                    limit="one motor",
                    remedy="Remove it.",
                )
            ]
        )
    return design.end, list(design.chain), design.chain[0]


def fits_together(design: AxisDesign, end: End, motor: Motor) -> None:
    """Combinations that make no machine."""
    found = []
    if design.sides.kind != "one" and not end.straight:
        found.append(
            problem(
                "sides.kind",
                "does not go with this end",
                value=design.sides.kind,
                limit="one",
                remedy="Only straight axes of belt, rack or screw have two driven sides.",
            )
        )
    if end.placed and not motor.positioning:
        found.append(
            problem(
                "chain.0.kind",
                "cannot place this end: it does not know where it stands",
                value=motor.kind,
                limit="stepper",
                remedy="Take a stepper, or a screw, wheel, drum or spindle for this motor.",
            )
        )
    if end.turning and motor.positioning:
        found.append(
            problem(
                "chain.0.kind",
                "is the wrong motor for a spindle that runs for hours",
                value=motor.kind,
                limit="induction, gearmotor",
                remedy="Take an induction motor or a DC motor.",
            )
        )
    if found:
        raise EntryError(found)


def hubs_over_shafts(ctx: Context, end: End) -> None:
    """Pulleys whose hub is no larger than the shaft they sit on: no bore, sleeve or press brings one onto the
    other.
    """
    design = ctx.design
    seats: list[tuple[str, Pulley, Any]] = [
        (at, pulley, stage if own else design.chain[j - 1])
        for j, stage in enumerate(design.chain)
        for at, pulley, own in stage.on_shafts(f"chain.{j}")
    ]
    seats += [(at, pulley, design.chain[-1]) for at, pulley in end.on_shafts()]
    for at, pulley, on in seats:
        if (shaft := getattr(on, "shaft_mm", None)) is not None:
            ctx.stop(pulley.hub_mm <= shaft, partial(_no_hub, at, pulley, shaft))


def _no_hub(at: str, pulley: Pulley, shaft: float) -> Problem:
    return problem(
        f"{at}.hub_mm",
        "is no larger than the shaft that it sits on",
        value=pulley.hub_mm,
        limit=shaft,
        unit="mm",
        remedy="Take a pulley with a larger hub, or a motor or stage with a thinner shaft.",
    )
