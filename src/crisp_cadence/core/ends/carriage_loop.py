"""Carriage loop: fixed motor, idler at the far end, both belt ends clamped to the carriage."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np

from .. import axis, belt, springs
from ..context import Context
from ..errors import Problem
from ..formula import Given, Quantity
from ..model import Belt, Clamp, Idler, Mount, Pulley, Tensioner, num
from ..report import BeltPath, BillLine, Caution, CutLine, DriveNode, PluckTarget, Wheel, WorkStep
from ..springs import Spring
from ..stages.base import OutputShaft, bought
from . import loop_build, loop_checks
from .base import End, FloatArray, Moving

CORD_FACTOR = {"glass": 1.0, "steel": 4.0}
ONE_END_TENSIONERS = ("movable clamp",)


class CarriageLoop(End):
    """Positions: the motor's axis is 0 and travel runs away from it. Run 1 is direct, run 2 goes round the idler."""

    kind: Literal["carriage_loop"] = "carriage_loop"
    motor_offset_mm: float = num("Motor axis beyond the rail's end", "length", "mm", -5000, 5000, 25.0, "Negative when it lies beside the rail.")
    idler_offset_mm: float = num("Idler axis beyond the rail's far end", "length", "mm", -5000, 5000, 20.0)
    belt: Belt = Belt()
    pulley: Pulley = Pulley()
    idler: Idler = Idler()
    clamp: Clamp = Clamp()
    tensioner: Tensioner = Tensioner()
    motor_mount: Mount = Mount()
    idler_mount: Mount = Mount()

    # ---- geometry -------------------------------------------------------------------------------------------------

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
        return loop_checks.check(self, ctx)

    def moving(self, ctx: Context) -> Moving:
        g = ctx.given
        profile = ctx.memo["profile"] = ctx.profile(self.belt.profile, "end.belt.profile")
        pitch = ctx.datum(profile, "pitch_mm", profile.pitch_mm, "mm")
        line = ctx.datum(profile, "pitch_line_mm", profile.pitch_line_mm, "mm")
        diameter = ctx.calc(
            "pulley.pitch_diameter", "Pitch diameter of the drive pulley", belt.pitch_diameter, teeth=g("end.pulley.teeth"), pitch_mm=pitch
        )
        outside = ctx.calc(
            "pulley.outside_diameter",
            "Outside diameter of the drive pulley",
            belt.outside_diameter,
            teeth=g("end.pulley.teeth"),
            pitch_mm=pitch,
            pitch_line_mm=line,
        )
        if self.idler.kind == "toothed":
            idler = ctx.calc("idler.pitch_diameter", "Pitch diameter of the idler", belt.pitch_diameter, teeth=g("end.idler.teeth"), pitch_mm=pitch)
            idler_r = ctx.book.put(
                "idler.radius", "Pitch line radius on the idler", (idler.value or 0) / 2, "mm", equation="d/2", source="geometry", d=idler
            )
        else:
            idler_r = ctx.calc(
                "idler.radius",
                "Pitch line radius on the idler",
                belt.smooth_idler_radius_tooth_side,
                diameter_mm=g("end.idler.diameter_mm"),
                tooth_height_mm=ctx.datum(profile, "tooth_height_mm", profile.tooth_height_mm, "mm"),
                pitch_line_mm=line,
            )
        radius = ctx.book.put(
            "pulley.radius", "Pitch radius of the drive pulley", (diameter.value or 0) / 2, "mm", equation="d/2", source="geometry", d=diameter
        )
        lam = ctx.calc("end.lam", "Turn of the drive pulley for 1 mm", axis.radians_per_mm, pitch_radius_mm=radius, ratio=1.0)
        centre = self._centre(ctx)
        loop = ctx.calc(
            "loop.length", "Pitch length of the closed path", belt.open_belt_length, centre_mm=centre, radius_a_mm=radius, radius_b_mm=idler_r
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
        weighed = g("end.belt.line_mass_g_m")
        if weighed.value is not None:
            line_mass = ctx.book.put(
                "belt.line_mass",
                "Mass of one metre of belt",
                weighed.value,
                "g/m",
                equation="as weighed",
                source_kind="measured by you",
                source="a weighed metre",
                weighed=weighed,
            )
        else:
            line_mass = ctx.calc(
                "belt.line_mass",
                "Mass of one metre of belt",
                belt.belt_line_mass,
                mass_g_m_mm=ctx.datum(profile, "mass_g_m_mm", profile.mass_g_m_mm, "g/m"),
                width_mm=g("end.belt.width_mm"),
            )
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
        inertia_p = ctx.calc(
            "pulley.inertia",
            "Inertia of the drive pulley",
            axis.disc_inertia,
            diameter_mm=outside,
            width_mm=g("end.pulley.face_mm"),
            density_g_cm3=g("end.pulley.density_g_cm3"),
        )
        outer_i = Given("end.idler.teeth" if self.idler.kind == "toothed" else "end.idler.diameter_mm", 2 * (idler_r.value or 0), "mm")
        inertia_i = ctx.calc(
            "idler.inertia",
            "Inertia of the idler",
            axis.disc_inertia,
            diameter_mm=outer_i,
            width_mm=g("end.idler.width_mm"),
            density_g_cm3=g("end.idler.density_g_cm3"),
        )
        lam_i = ctx.calc("idler.lam", "Turn of the idler for 1 mm", axis.radians_per_mm, pitch_radius_mm=idler_r, ratio=1.0)
        mass_p = ctx.calc("pulley.mass", "Drive pulley as a mass at the carriage", axis.mass_of_inertia, inertia_gcm2=inertia_p, radians_per_mm=lam)
        mass_i = ctx.calc("idler.mass", "Idler as a mass at the carriage", axis.mass_of_inertia, inertia_gcm2=inertia_i, radians_per_mm=lam_i)
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
        self._ratings(ctx, centre, radius, idler_r)
        return Moving(lam, g("assumptions.efficiency_loop"), carried, mass_p)

    def _ratings(self, ctx: Context, centre: Quantity, radius: Quantity, idler_r: Quantity) -> None:
        """Wrap, teeth in mesh, cord stiffness."""
        g, profile = ctx.given, ctx.memo["profile"]
        wrap = ctx.calc("pulley.wrap", "Wrap on the drive pulley", belt.wrap_angle, centre_mm=centre, radius_mm=radius, other_radius_mm=idler_r)
        ctx.calc("idler.wrap", "Wrap on the idler", belt.wrap_angle, centre_mm=centre, radius_mm=idler_r, other_radius_mm=radius)
        mesh = ctx.calc("pulley.mesh", "Teeth in mesh on the drive pulley", belt.teeth_in_mesh, teeth=g("end.pulley.teeth"), wrap_rad=wrap)
        ctx.rung(
            "mesh",
            "Teeth in mesh",
            g("assumptions.teeth_full"),
            mesh,
            1.0,
            unit="teeth",
            step="belt",
            path="end.pulley.teeth",
            says="More teeth on the pulley, or an idler that adds wrap.",
        )
        measured = g("end.belt.ea_n")
        if measured.value is not None:
            ctx.book.put(
                "belt.ea",
                "Stiffness EA of the belt",
                measured.value,
                "N",
                equation="as measured",
                source_kind="measured by you",
                source="a hung weight and its stretch",
                measured=measured,
            )
        else:
            ctx.calc(
                "belt.ea",
                "Stiffness EA of the belt",
                belt.belt_stiffness_ea,
                ea_glass_n_per_mm=ctx.datum(profile, "ea_glass_n_per_mm", profile.ea_glass_n_per_mm, "N/mm"),
                cord_factor=Given("end.belt.cord", CORD_FACTOR[self.belt.cord], "", "estimate", f"{self.belt.cord} cord"),
                width_mm=g("end.belt.width_mm"),
            )

    def positions(self, ctx: Context, count: int) -> FloatArray:
        usable = ctx.book.results["travel.usable"].value or 0.0
        return np.linspace(0.0, usable, count)

    def runs(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Lengths of run 1 and run 2 at positions along the usable travel, mm."""
        centre = ctx.book.results["loop.centre"].value or 0.0
        x = self.first_position(ctx) + positions
        half = self.clamp.gap_mm / 2
        return x - half, 2 * centre - x - half

    # ---- forces ---------------------------------------------------------------------------------------------------

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        loop_checks.rate(self, ctx, peak, shaft)

    # ---- stiffness ------------------------------------------------------------------------------------------------

    def mount_stiffness(self, ctx: Context, mount: Mount, at: str, label: str) -> Quantity | Given | None:
        """Stiffness of a mount in N/mm; None for a rigid one."""
        g = ctx.given
        if mount.kind == "rigid":
            return None
        if mount.kind == "measured":
            return g(f"{at}.stiffness_n_mm")
        modulus = springs.MATERIALS[mount.material][0]
        return ctx.calc(
            f"{at}.stiffness",
            f"Stiffness of the {label}",
            springs.plate_stiffness,
            youngs_gpa=Given(f"{at}.material", modulus, "GPa", "estimate", mount.material),
            width_mm=g(f"{at}.width_mm"),
            thickness_mm=g(f"{at}.thickness_mm"),
            overhang_mm=g(f"{at}.overhang_mm"),
        )

    def springs(
        self, ctx: Context, positions: FloatArray, torque_path: list[tuple[str, str, float]]
    ) -> tuple[list[Spring], tuple[float, ...]] | None:
        ea = ctx.book.results["belt.ea"].value
        mounts = {
            n: self.mount_stiffness(ctx, m, f"end.{n}", n.replace("_", " "))
            for n, m in (("motor_mount", self.motor_mount), ("idler_mount", self.idler_mount))
        }
        rate = self.tensioner.spring_n_mm
        if ea is None or any(k is not None and k.value is None for k in mounts.values()):
            return None
        soft = {n: k.value for n, k in mounts.items() if k is not None and k.value is not None}
        if rate is not None:
            soft["idler_mount"] = 1 / (1 / rate + (1 / soft["idler_mount"] if "idler_mount" in soft else 0.0))
        nodes = ["carriage", *soft, *[part for part, _, _ in torque_path]]

        def reach(**coefficients: float) -> tuple[float, ...]:
            return tuple(coefficients.get(n, 0.0) for n in nodes)

        pulley = torque_path[-1][0]
        run_1, run_2 = self.runs(ctx, positions)
        made = [
            Spring("belt", "Belt", ea / run_1, reach(carriage=1, motor_mount=-1, **{pulley: -1})),
            Spring("belt", "Belt", ea / run_2, reach(carriage=-1, motor_mount=-1, idler_mount=2, **{pulley: 1})),
        ]
        labels = {"motor_mount": "Motor mount", "idler_mount": "Idler mount" if rate is None else "Sprung tensioner"}
        made += [Spring(n, labels[n], k, reach(**{n: 1})) for n, k in soft.items()]
        before = None
        for part, label, k in torque_path:
            made.append(Spring(part, label, k, reach(**{part: 1, **({before: -1} if before else {})})))
            before = part
        return made, reach(carriage=1)

    # ---- what to show ---------------------------------------------------------------------------------------------

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        r = ctx.book.results
        speed = ctx.calc(
            "pulley.speed", "Speed of the drive pulley", axis.shaft_speed, speed_mm_s=ctx.given("aim.speed_mm_s"), radians_per_mm=r["end.lam"]
        )
        aim = ctx.design.aim
        return [
            DriveNode(
                "pulley",
                "Pulley",
                "end.pulley.teeth",
                f"{self.pulley.teeth} teeth",
                speed.value,
                "rpm",
                r["end.torque_accelerate"].value,
                "N·m",
                None,
            ),
            DriveNode(
                "belt",
                ctx.memo["profile"].name,
                "end.belt.width_mm",
                f"{self.belt.width_mm:g} mm wide",
                aim.speed_mm_s,
                "mm/s",
                r["belt.peak_force"].value,
                "N",
                None,
            ),
            DriveNode(
                "idler_mount",
                "Idler",
                "end.idler.teeth",
                f"{self.idler.teeth} teeth" if self.idler.kind == "toothed" else f"⌀ {self.idler.diameter_mm:g} mm",
                aim.speed_mm_s,
                "mm/s",
                r["idler.shaft_load"].value,
                "N",
                None,
            ),
            DriveNode(
                "carriage",
                "Carriage",
                "moving.0.mass_kg",
                f"{r['mass.total'].value or 0:.3g} kg",
                aim.speed_mm_s,
                "mm/s",
                r["force.accelerate"].value,
                "N",
                None,
            ),
        ]

    def path(self, ctx: Context) -> BeltPath | None:
        r, profile, guide = ctx.book.results, ctx.memo["profile"], ctx.design.guide
        start = self.first_position(ctx)
        toothed = self.idler.kind == "toothed"
        radius, idler_r = r["pulley.radius"].value or 0, r["idler.radius"].value or 0
        outside_i = idler_r - profile.pitch_line_mm if toothed else self.idler.diameter_mm / 2
        wheels = (
            Wheel(
                "Drive pulley",
                0.0,
                0.0,
                radius,
                radius - profile.pitch_line_mm,
                self.pulley.bore_mm,
                self.pulley.teeth,
                r["pulley.wrap"].value or math.pi,
                int(r["pulley.mesh"].value or 0),
                "end.pulley.teeth",
            ),
            Wheel(
                "Idler",
                r["loop.centre"].value or 0,
                0.0,
                idler_r,
                outside_i,
                min(5.0, outside_i),
                self.idler.teeth if toothed else 0,
                r["idler.wrap"].value or math.pi,
                0,
                "end.idler.teeth" if toothed else "end.idler.diameter_mm",
            ),
        )
        return BeltPath(
            wheels,
            profile.pitch_mm,
            profile.tooth_height_mm,
            profile.thickness_mm,
            profile.flank_deg,
            self.motor_offset_mm,
            self.motor_offset_mm + guide.rail_mm,
            guide.carriage_mm,
            self.clamp.gap_mm,
            start,
            start + (r["travel.usable"].value or 0),
        )

    def cut(self, ctx: Context) -> list[CutLine]:
        r = ctx.book.results
        return [
            CutLine(
                f"{ctx.memo['profile'].name}, {self.belt.width_mm:g} mm wide",
                r["belt.cut"].value or 0.0,
                int(r["belt.cut_teeth"].value or 0),
                f"{int(r['belt.fit_teeth'].value or 0)} teeth between the clamps, {self.clamp.engaged_teeth} held at each end, tails of {self.clamp.tail_mm:g} mm to trim",
            )
        ]

    def pluck(self, ctx: Context) -> PluckTarget | None:
        return loop_build.pluck(self, ctx)

    def bill(self, ctx: Context) -> list[BillLine]:
        metres = (ctx.book.results["belt.cut"].value or 0) / 1000
        per_m = self.belt.price_per_m
        name = ctx.memo["profile"].name
        return [
            bought(self.pulley, "Drive pulley", f"{name}, {self.pulley.teeth} teeth, bore {self.pulley.bore_mm:g} mm", "end.pulley"),
            bought(
                self.idler,
                "Idler",
                f"{self.idler.teeth} teeth" if self.idler.kind == "toothed" else f"smooth, ⌀ {self.idler.diameter_mm:g} mm",
                "end.idler",
            ),
            BillLine(
                self.belt.label or "Belt",
                f"{name}, {self.belt.width_mm:g} mm, {self.belt.cord} cord",
                round(metres, 3),
                "m",
                per_m,
                None if per_m is None else per_m * metres,
                self.belt.in_stock,
                "end.belt",
            ),
            bought(self.clamp, "Belt clamp", self.clamp.kind, "end.clamp"),
            bought(self.tensioner, "Tensioner", f"{self.tensioner.kind}, {self.tensioner.travel_mm:g} mm", "end.tensioner"),
        ]

    def work(self, ctx: Context) -> list[WorkStep]:
        return loop_build.work(self, ctx)

    def cautions(self, ctx: Context) -> list[Caution]:
        return loop_build.cautions(self, ctx)
