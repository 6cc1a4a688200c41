"""What holds the cones of a spindle on their shafts, and an extension on the spindle's."""

from __future__ import annotations

from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import OutputShaft
from ...checks import hubs, threads
from ...fields.belts import Fixing, PulleyMaterial
from ...fields.part import SHAFTS, Part, choice, num
from ...formulas import vbelt
from ...ledger.quantity import Given, Quantity

# Mild steel twisted to and fro, with the notch of a thread
TWISTS = Given("catalogue.shaft.twists", 35.0, "MPa", "estimate", "plain steel twisted to and fro, threaded")


class Cone(Part):
    """How a cone sits on its shaft."""

    FIRST = ("made_of",)

    bore_mm: float = num("Bore", "length", "mm", 1, 200, 14.0, sizes=SHAFTS)
    hub_mm: float = num("Hub diameter", "length", "mm", 2, 400, 40.0, "What is left round the bore.")
    face_mm: float = num("Length on the shaft", "length", "mm", 2, 500, 40.0)
    made_of: PulleyMaterial = choice(
        "Made of", "aluminium", "A printed or wooden cone wants a metal insert where key or screw bites."
    )
    sleeve: ClassVar[bool] = False
    fixing: Fixing = Fixing(kind="key")


ShaftForm = Literal["round", "flat", "key"]


def held(ctx: Context, at: str, cone: Cone, name: str, torque: Quantity, shaft: OutputShaft) -> None:
    """Torque between a cone and its shaft against what holds it, and how its bore fits."""
    key = at.rpartition(".")[2]
    hubs.held(ctx, cone, hubs.Seated(at, f"{key}.", f"{key}_grip", name, "running"), torque, shaft)


def extension(ctx: Context, field: str, torque: Quantity) -> None:
    """A shaft that is screwed onto the spindle: its thread bears all of the torque."""
    size = ctx.given(field)
    bears = ctx.calc(
        "spindle.extension",
        "Torque that the extension's thread bears",
        vbelt.thread_torque,
        stress_mpa=TWISTS,
        thread_mm=size,
        pitch_mm=threads.coarse_pitch(size.value or 0.0),
    )
    ctx.rung(
        "extension",
        "Thread of the shaft's extension",
        torque,
        bears,
        1.5,
        unit="N·m",
        section="running",
        path=field,
        says="A larger thread, or a shaft in one piece.",
    )
    if ctx.plain:
        ctx.note(
            "build",
            field,
            "The extension's thread must tighten the way that the spindle drives the work: a right-hand "
            "thread works loose on one that turns the other way, and when it is braked. Pin it, or lock it "
            "with a nut.",
        )
