"""Carriage loop: fixed motor, idler at the far end, both belt ends clamped to the carriage."""

from __future__ import annotations

from typing import Literal

from .. import belt
from ..context import Context
from ..errors import Problem
from ..formula import Quantity
from ..model import Idler, Mount, num
from ..path import Round, belt_path
from ..report import BillLine, DriveNode
from ..scene import Mark, Scene, Slab, Spot, strand_of, toothed_wheel
from . import loop_checks
from .base import FloatArray, Moving
from .belt_end import BeltEnd


class CarriageLoop(BeltEnd):
    """Positions: the motor's axis is 0 and travel runs away from it. Run 1 is direct, run 2 goes round the idler."""

    kind: Literal["carriage_loop"] = "carriage_loop"
    motor_offset_mm: float = num("Motor axis beyond the rail's end", "length", "mm", -5000, 5000, 25.0, "Negative when it lies beside the rail.")
    idler_offset_mm: float = num("Idler axis beyond the rail's far end", "length", "mm", -5000, 5000, 20.0)
    idler: Idler = Idler()
    motor_mount: Mount = Mount()
    idler_mount: Mount = Mount()

    def mounts(self) -> dict[str, Mount]:
        return {"motor_mount": self.motor_mount, "idler_mount": self.idler_mount}

    def _centre(self, ctx: Context) -> Quantity:
        g = ctx.given
        rail, near, far = g("guide.rail_mm"), g("end.motor_offset_mm"), g("end.idler_offset_mm")
        return ctx.book.put(
            "loop.centre",
            "Centre distance, motor to idler",
            lambda: (rail.value or 0) + (near.value or 0) + (far.value or 0),
            "mm",
            equation="C = rail + motor offset + idler offset",
            source="geometry of the rail",
            rail=rail,
            motor_offset=near,
            idler_offset=far,
        )

    def first_position(self, ctx: Context) -> float:
        """Carriage centre from the motor's axis at the near end of travel, mm."""
        guide = ctx.design.guide
        return self.motor_offset_mm + guide.near_mm + guide.overtravel_mm + guide.carriage_mm / 2

    def check(self, ctx: Context) -> list[Problem]:
        return loop_checks.check_belt(self, ctx, [("end.idler", self.idler)]) + loop_checks.check_clearance(self, ctx)

    def moving(self, ctx: Context) -> Moving:
        g = ctx.given
        drive = self.driven(ctx)
        idler_r = self.idler_radius(ctx, "end.idler", self.idler, "idler")
        centre = self._centre(ctx)
        loop = ctx.calc(
            "loop.length", "Pitch length of the closed path", belt.open_belt_length, centre_mm=centre, radius_a_mm=drive.radius, radius_b_mm=idler_r
        )
        gap = g("end.clamp.gap_mm")
        free = ctx.book.put(
            "belt.free",
            "Free belt between the clamps",
            lambda: (loop.value or 0) - (gap.value or 0),
            "mm",
            equation="L − gap",
            source="geometry",
            length=loop,
            gap=gap,
        )
        line_mass = self.line_mass(ctx)
        belt_kg = ctx.book.put(
            "belt.mass",
            "Mass of the moving belt",
            lambda: (line_mass.value or 0) * (free.value or 0) * 1e-6,
            "kg",
            equation="µ·L",
            source="geometry",
            line_mass=line_mass,
            free=free,
        )
        mass_i = self.idler_mass(ctx, "end.idler", self.idler, "idler", idler_r)
        carried = ctx.book.put(
            "loop.carried",
            "Belt and idler as a mass at the carriage",
            lambda: (belt_kg.value or 0) + (mass_i.value or 0),
            "kg",
            equation="m_belt + m_idler",
            source="equal kinetic energy",
            belt=belt_kg,
            idler=mass_i,
        )
        wrap = ctx.calc("pulley.wrap", "Wrap on the drive pulley", belt.wrap_angle, centre_mm=centre, radius_mm=drive.radius, other_radius_mm=idler_r)
        ctx.calc("idler.wrap", "Wrap on the idler", belt.wrap_angle, centre_mm=centre, radius_mm=idler_r, other_radius_mm=drive.radius)
        self.rate_pulley(ctx, wrap)
        return Moving(drive.lam, g("assumptions.efficiency_loop"), carried, drive.mass)

    def runs(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, FloatArray]:
        centre = ctx.book.results["loop.centre"].value or 0.0
        x = self.first_position(ctx) + positions
        half = self.clamp.gap_mm / 2
        return x - half, 2 * centre - x - half

    def plucked(self, ctx: Context) -> tuple[str, float]:
        return "run 1, from the drive pulley to the near clamp", self.first_position(ctx) - self.clamp.gap_mm / 2

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        idler = f"{self.idler.teeth} teeth" if self.idler.kind == "toothed" else f"⌀ {self.idler.diameter_mm:g} mm"
        load = ctx.book.results["idler.shaft_load"].value
        return [
            *self.pulley_nodes(ctx),
            DriveNode("idler_mount", "Idler", "end.idler", "end.idler.teeth", idler, ctx.design.aim.speed_mm_s, "mm/s", load, "N", None),
        ]

    def scene(self, ctx: Context) -> Scene:
        r, guide, profile = ctx.book.results, ctx.design.guide, ctx.memo["profile"]
        start, travel = self.first_position(ctx), r["travel.usable"].value or 0.0
        r1, r2, centre = r["pulley.radius"].value or 0, r["idler.radius"].value or 0, r["loop.centre"].value or 0
        worked = belt_path((Round("Drive pulley", 0, 0, r1, -1, "end.pulley.teeth"), Round("Idler", centre, 0, r2, -1, "end.idler.teeth")))
        rail = self.motor_offset_mm + guide.rail_mm / 2
        below = -max(r1, r2, self.motor_size(ctx) / 2) - 8
        smooth = None if self.idler.kind == "toothed" else self.idler.diameter_mm / 2
        return Scene(
            "Seen from the side", "Carriage", travel,
            (
                toothed_wheel("Drive pulley", profile, Spot(0, 0), r1, self.pulley.bore_mm, -1 / r1, "end.pulley.teeth", worked.wraps[0]),
                toothed_wheel("Idler", profile, Spot(centre, 0), r2, 5.0, -1 / r2, "end.idler.teeth", worked.wraps[1], smooth),
            ),
            (strand_of(worked, "toothed", 1.0, profile.pitch_mm),),
            (
                Slab("motor", Spot(0, 0), self.motor_size(ctx), self.motor_size(ctx)),
                Slab("rail", Spot(rail, below), guide.rail_mm, 8.0),
                Slab("carriage", Spot(start, (below - max(r1, r2)) / 2 + 3, 1.0), guide.carriage_mm, -below - max(r1, r2) + 6),
            ),
            (
                Mark("motor", Spot(0, 0), level=1), Mark("idler", Spot(centre, 0), level=1), Mark("centre distance", Spot(0, 0), Spot(centre, 0), centre, level=2),
                Mark("usable travel", Spot(start, 0), Spot(start + travel, 0), travel, level=-1),
            ),
        )  # fmt: skip

    def bill(self, ctx: Context) -> list[BillLine]:
        return self.belt_bill(ctx, [("end.idler", self.idler, 1)])
