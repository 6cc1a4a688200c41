"""An end that only tests know: a rope wrapped round a drum pulls a sledge."""

from __future__ import annotations

import math
from typing import Any, ClassVar, Literal

from crisp_cadence.core.account.context import Context
from crisp_cadence.core.account.report import BillLine, DriveNode, WorkStep
from crisp_cadence.core.fields.part import Bought, num
from crisp_cadence.core.formulas import motion
from crisp_cadence.core.geometry.scene import Scene, SceneWheel, Slab, Spot
from crisp_cadence.core.ledger.quantity import Term
from crisp_cadence.core.parts.ends.contract import End, FloatArray, Moving
from crisp_cadence.core.parts.stages.contract import bought
from crisp_cadence.core.parts.work_steps import (
    after_the_run,
    lay_out,
    push_by_hand,
    rails,
    scale_by,
    shaft_work,
    slow_run,
)


class Capstan(End):
    """A rope wrapped round a drum pulls a sledge."""

    kind: Literal["capstan"] = "capstan"
    point: ClassVar[str] = "sledge"
    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("capstan.",)}
    drum: Bought = Bought()
    diameter_mm: float = num("Drum diameter", "length", "mm", 2, 500, 30.0)
    wraps: int = num("Wraps", "count", "", 1, 20, 3)
    friction: float = num("Friction of the rope", "number", "", 0.01, 1, 0.2)
    preload_n: float = num("Pull of the slack end", "force", "N", 0.01, 1e4, 5.0)
    rope_n_mm: float = num("Give of the rope", "stiffness", "N/mm", 0.1, 1e6, 40.0)

    def moving(self, ctx: Context) -> Moving:
        g, put = ctx.given, ctx.book.put
        radius = put(
            "capstan.radius",
            "Radius of the drum",
            self.diameter_mm / 2,
            "mm",
            equation="D/2",
            source="geometry",
            d=g("end.diameter_mm"),
        )
        lam = ctx.calc(
            "end.lam", "Turn of the drum for 1 mm", motion.radians_per_mm, pitch_radius_mm=radius, ratio=1.0
        )
        none = put(
            "loop.carried",
            "Carried along",
            0.0,
            "kg",
            equation="0",
            source="a rope weighs nothing here",
            d=g("end.diameter_mm"),
        )
        return Moving(lam, 0.98, none, none)

    def forces(self, ctx: Context) -> None:
        g, peak = ctx.given, ctx.peaks.peak
        held = ctx.book.put(
            "capstan.holds",
            "Force before the rope slips",
            lambda: self.preload_n * math.exp(2 * math.pi * self.wraps * self.friction),
            "N",
            equation="F·e^(2πnµ)",
            source="rope friction",
            pull=g("end.preload_n"),
            wraps=g("end.wraps"),
            friction=g("end.friction"),
        )
        ctx.rung(
            "rope_slip",
            "Rope holds on the drum",
            peak,
            held,
            1.5,
            unit="N",
            section="end",
            path="end.wraps",
            says="More wraps, or more pull.",
        )

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[tuple[str, str, Term, Any]]:
        return [("rope", "Rope", ctx.given("end.rope_n_mm"), self.rope_n_mm)]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        return [
            self.shaft_node(
                ctx, "capstan.speed", "drum", "Drum", "end.diameter_mm", f"⌀ {self.diameter_mm:g} mm"
            )
        ]

    def scene(self, ctx: Context) -> Scene:
        r, far = self.diameter_mm / 2, ctx.design.aim.travel_mm
        drum = SceneWheel("Drum", "drum", Spot(0.0, 0.0), r, r, 8.0, -1 / r, field="end.diameter_mm")
        return Scene(
            "Seen from the side",
            "Sledge",
            far,
            (drum,),
            (),
            (
                Slab("rail", Spot(far / 2, -r - 20), far, 8.0),
                Slab("carriage", Spot(60.0, 0.0, 1.0), 60.0, 24.0),
            ),
        )

    def bill(self, ctx: Context) -> list[BillLine]:
        return [bought(self.drum, "Drum", f"⌀ {self.diameter_mm:g} mm", "end.drum")]

    def work(self, ctx: Context) -> list[WorkStep]:
        return [
            lay_out("rail length, the drum's bore"),
            *rails(ctx),
            *shaft_work(ctx, "the drum", "Press the bearings in.", ("end.drum",)),
            push_by_hand(ctx, "The rope pinches at the drum"),
            slow_run("chain.0", "Keep hands clear."),
            *after_the_run(ctx, "drum", "Look at the rope again.", scale_by(ctx), ("hub",)),
        ]
