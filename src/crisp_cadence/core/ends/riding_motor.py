"""Riding motor: the belt lies still along the rail, the motor rides on the carriage and pulls itself along it.

Two smooth idlers on the belt's back lead it up round the motor's pulley.
"""

from __future__ import annotations

from typing import Literal

from ..context import Context
from ..errors import Problem
from ..formula import Quantity
from ..model import Idler, num
from ..path import Path, Round, belt_path
from ..report import BillLine, Caution, DriveNode
from ..scene import Mark, Scene, Slab, Spot, strand_of, toothed_wheel
from . import loop_checks
from .base import FloatArray, Moving
from .belt_end import BeltEnd


class RidingMotor(BeltEnd):
    """Positions: the near belt clamp is 0. Run 1 leads from it to the pulley, run 2 on to the far clamp."""

    kind: Literal["riding_motor"] = "riding_motor"
    idler: Idler = Idler(kind="smooth", diameter_mm=18.0)
    idler_spread_mm: float = num("Between the two idlers", "length", "mm", 2, 2000, 40.0, "Centre to centre, along the rail.")
    pulley_rise_mm: float = num("Pulley above the idlers", "length", "mm", 0, 2000, 25.0, "Centre to centre; more of it wraps more of the pulley.")
    belt_beyond_mm: float = num("Belt clamps beyond the rail's ends", "length", "mm", -5000, 5000, 10.0, "Negative where the clamps sit on the rail.")

    def _path(self, ctx: Context, x: float) -> Path:
        """The belt with the carriage's centre at x from the near clamp: clamp, idler, pulley, idler, clamp."""
        r = ctx.book.results
        ri, rp = r["idler.radius"].value or 0, r["pulley.radius"].value or 0
        half, far = self.idler_spread_mm / 2, self._length(ctx)
        # Under the near idler, up and over the pulley, down and under the far idler: teeth on the pulley, back on the idlers.
        return belt_path(
            (
                Round("near clamp", 0, 0, 0, 1), Round("near idler", x - half, ri, ri, 1, "end.idler_spread_mm"),
                Round("drive pulley", x, ri + self.pulley_rise_mm, rp, -1, "end.pulley_rise_mm"), Round("far idler", x + half, ri, ri, 1, "end.idler_spread_mm"),
                Round("far clamp", far, 0, 0, 1),
            ),
            closed=False,
        )  # fmt: skip

    def _length(self, ctx: Context) -> float:
        return ctx.design.guide.rail_mm + 2 * self.belt_beyond_mm

    def first_position(self, ctx: Context) -> float:
        """Carriage centre from the near clamp at the near end of travel, mm."""
        guide = ctx.design.guide
        return self.belt_beyond_mm + guide.near_mm + guide.overtravel_mm + guide.carriage_mm / 2

    def check(self, ctx: Context) -> list[Problem]:
        return loop_checks.check_belt(self, ctx, [("end.idler", self.idler)])

    def moving(self, ctx: Context) -> Moving:
        g = ctx.given
        drive = self.driven(ctx)
        idler_r = self.idler_radius(ctx, "end.idler", self.idler, "idler", back=True)
        worked = self._path(ctx, self.first_position(ctx))
        ctx.book.put(
            "belt.free",
            "Free belt between the clamps",
            worked.length_mm,
            "mm",
            equation="Σ spans + Σ r·wrap",
            source="common tangents of circles",
            rail=g("guide.rail_mm"),
            beyond=g("end.belt_beyond_mm"),
            spread=g("end.idler_spread_mm"),
            rise=g("end.pulley_rise_mm"),
            pulley=drive.radius,
            idler=idler_r,
        )
        self.line_mass(ctx)
        mass_i = self.idler_mass(ctx, "end.idler", self.idler, "idler", idler_r, count=2)
        riding = {f"chain.{j}.mass_kg": g(f"chain.{j}.mass_kg") for j in range(len(ctx.design.chain))}
        motor: Quantity = ctx.book.put(
            "riding.motor",
            "Motor and what sits on it, riding along",
            lambda: sum(m.value or 0 for m in riding.values()),
            "kg",
            equation="Σ m",
            source="weighed parts",
            also=riding,
        )
        carried = ctx.book.put(
            "loop.carried",
            "Motor and idlers as a mass at the carriage",
            lambda: (motor.value or 0) + (mass_i.value or 0),
            "kg",
            equation="m_motor + m_idlers (the belt lies still)",
            source="equal kinetic energy",
            motor=motor,
            idlers=mass_i,
        )
        wrap = self.wrap_of(
            "pulley.wrap", "Wrap on the drive pulley", worked.wraps[2], ctx, rise=g("end.pulley_rise_mm"), spread=g("end.idler_spread_mm")
        )
        self.wrap_of("idler.wrap", "Wrap on an idler", worked.wraps[1], ctx, rise=g("end.pulley_rise_mm"), spread=g("end.idler_spread_mm"))
        self.rate_pulley(ctx, wrap)
        return Moving(drive.lam, g("assumptions.efficiency_loop"), carried, drive.mass)

    def runs(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, FloatArray]:
        # The detour round idlers and pulley stays the same; half of it belongs to either run.
        free = ctx.book.results["belt.free"].value or 0.0
        detour = free - self._length(ctx)
        x = self.first_position(ctx) + positions
        return x + detour / 2, self._length(ctx) - x + detour / 2

    def plucked(self, ctx: Context) -> tuple[str, float]:
        return "the straight run from the near clamp to the near idler", self.first_position(ctx) - self.idler_spread_mm / 2

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        load = ctx.book.results["idler.shaft_load"].value
        return [
            *self.pulley_nodes(ctx),
            DriveNode(
                "idler",
                "Two idlers",
                "end.idler",
                "end.idler.diameter_mm",
                f"⌀ {self.idler.diameter_mm:g} mm",
                ctx.design.aim.speed_mm_s,
                "mm/s",
                load,
                "N",
                None,
            ),
        ]

    def scene(self, ctx: Context) -> Scene:
        r, guide, profile = ctx.book.results, ctx.design.guide, ctx.memo["profile"]
        start, travel = self.first_position(ctx), r["travel.usable"].value or 0.0
        ri, rp, half = r["idler.radius"].value or 0, r["pulley.radius"].value or 0, self.idler_spread_mm / 2
        worked = self._path(ctx, start)
        smooth = self.idler.diameter_mm / 2 if self.idler.kind == "smooth" else None
        rides = (1.0, 0.0)
        below = -12.0
        return Scene(
            "Seen from the side", "Carriage with its motor", travel,
            (
                toothed_wheel("Drive pulley", profile, Spot(start, ri + self.pulley_rise_mm, 1.0), rp, self.pulley.bore_mm, 1 / rp, "end.pulley.teeth", worked.wraps[2]),
                *(
                    toothed_wheel(name, profile, Spot(start + s * half, ri, 1.0), ri, 5.0, -1 / ri, "end.idler.diameter_mm", worked.wraps[i], smooth)
                    for name, s, i in (("Near idler", -1, 1), ("Far idler", 1, 3))
                ),
            ),
            (strand_of(worked, "toothed", 0.0, profile.pitch_mm, [(0, 0), rides, rides, rides, (0, 0)]),),
            (
                Slab("rail", Spot(self.belt_beyond_mm + guide.rail_mm / 2, below), guide.rail_mm, 8.0),
                Slab("carriage", Spot(start, (ri + self.pulley_rise_mm + rp) / 2 - 1, 1.0), guide.carriage_mm, ri + self.pulley_rise_mm + rp + 22),
            ),
            (
                Mark("near clamp", Spot(0, 0), level=1), Mark("far clamp", Spot(self._length(ctx), 0), level=1),
                Mark("usable travel", Spot(start, 0), Spot(start + travel, 0), travel, level=-1),
            ),
        )  # fmt: skip

    def bill(self, ctx: Context) -> list[BillLine]:
        return self.belt_bill(ctx, [("end.idler", self.idler, 2)])

    def cautions(self, ctx: Context) -> list[Caution]:
        return [
            *super().cautions(ctx),
            Caution(
                "build", "The motor's cable moves with every stroke: give it a carrier with a radius it can bear, and strain relief at both ends."
            ),
        ]
