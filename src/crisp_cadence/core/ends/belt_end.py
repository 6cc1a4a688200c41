"""What every end driven through an open belt has in common: the drive pulley, the belt's data, mounts and
what they cost.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, NamedTuple

from pydantic import Field

from .. import axis, belt, springs
from ..context import Context
from ..formula import Given, Quantity
from ..frames import side_of
from ..model import CORD_FACTOR, Belt, Clamp, Idler, Mount, Near, Pulley, Roller, Tensioner, piece
from ..path import Path, Round, belt_path
from ..report import BillLine, Caution, CutLine, DriveNode, PluckTarget, WorkStep
from ..route import Laid, split_at
from ..scene import Handle, Slab, Spot
from ..springs import Spring
from ..stages.base import OutputShaft, bought
from . import loop_build, loop_checks
from .base import End, FloatArray

if TYPE_CHECKING:
    from ..belt import Profile


class Driven(NamedTuple):
    """The drive pulley worked out."""

    radius: Quantity
    lam: Quantity
    outside: Quantity
    mass: Quantity


def near_slab(thing: Near) -> Slab:
    """A thing near the belt, as it is drawn."""
    return Slab(
        "work", Spot(thing.x_mm, thing.y_mm, 1.0 if thing.rides else 0.0), thing.width_mm, thing.height_mm
    )


class BeltEnd(End):
    """An open belt with both ends held, driven by a toothed pulley: run 1 is direct, run 2 the other one."""

    shows: ClassVar[dict[str, tuple[str, ...]]] = {
        "end.pulley": ("pulley.", "hub."),
        "end.belt": ("belt.",),
        "end.idler": ("idler.",),
    }

    belt: Belt = piece(Belt(), "belt")
    pulley: Pulley = Pulley()
    clamp: Clamp = piece(Clamp(), "belt")
    tensioner: Tensioner = piece(Tensioner(), "belt")
    rollers: list[Roller] = Field([], title="Further rollers", max_length=40)
    near: list[Near] = Field([], title="What the belt must stay clear of", max_length=20)

    # ---- for the layouts to fill in ------------------------------------------------------------------------

    def rounds(self, ctx: Context, travelled_mm: float) -> tuple[Round, ...]:
        """The belt's pulleys in belt order, from the near clamp to the far one, with the carriage so far
        along its travel.
        """
        raise NotImplementedError

    def drift(self, ctx: Context, round_: Round) -> tuple[float, float]:
        """How far a part of the path goes along x and y for each millimetre of travel."""
        raise NotImplementedError

    def handles(self, ctx: Context) -> dict[str, tuple[Handle, ...]]:
        """What a hand may drag, by part."""
        return {}

    def runs(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Lengths of run 1 and run 2 at positions along the usable travel, mm: they grow and shrink in step
        with it.
        """
        near, far = (split_at(path, "end.pulley") for path in self.paths(ctx))
        share = positions / max(ctx.book.results["travel.usable"].value or 0.0, 1e-9)
        return near[0] + share * (far[0] - near[0]), near[1] + share * (far[1] - near[1])

    def plucked(self, ctx: Context) -> tuple[str, float]:
        """Which straight run to pluck, and its length at the near end of travel; it grows with the travel."""
        raise NotImplementedError

    def mounts(self) -> dict[str, Mount]:
        """Mounts that may give, by field."""
        return {}

    def paths(self, ctx: Context) -> tuple[Path, Path]:
        """The path at both ends of the travel."""
        known = ctx.memo.get("paths")
        if known is None:
            travel = ctx.book.results["travel.usable"].value or 0.0
            known = ctx.memo["paths"] = tuple(
                belt_path(self.rounds(ctx, q), closed=False) for q in (0.0, travel)
            )
        return known

    def laid(self, ctx: Context) -> list[Laid]:
        r, (near, far) = ctx.book.results, self.paths(ctx)
        tension, pull, free, ea = (
            r[k].value if k in r else None for k in ("tension.set", "belt.peak_force", "belt.free", "belt.ea")
        )
        name = f"{ctx.memo['profile'].name}, {self.belt.width_mm:g} mm wide"
        moves = tuple(self.drift(ctx, x) for x in near.rounds)
        return [
            Laid(
                "end",
                name,
                ctx.memo["profile"],
                self.belt.width_mm,
                False,
                near,
                far,
                moves,
                tension,
                pull,
                free,
                ea,
            )
        ]

    def roller_mass(self, ctx: Context, gain: float = 1.0) -> list[Quantity]:
        """Every further roller as a mass at the carriage."""
        out = []
        for i, roller in enumerate(self.rollers):
            at, name = f"end.rollers.{i}", f"rollers.{i}"
            back = roller.belt_on == "back"
            out.append(
                self.idler_mass(
                    ctx, at, roller, name, self.idler_radius(ctx, at, roller, name, back=back), gain
                )
            )
        return out

    # ---- shared --------------------------------------------------------------------------------------------

    def overhang(self) -> str | None:
        return "end.pulley.overhang_mm"

    def motor_size(self, ctx: Context) -> float:
        """Side of the motor's square face, mm, for the drawing."""
        return side_of(getattr(ctx.design.chain[0], "frame", ""), 42.0)

    def profile(self, ctx: Context) -> Profile:
        """The belt's profile."""
        return ctx.profile(self.belt.profile, "end.belt.profile")

    def driven(self, ctx: Context, gain: float = 1.0) -> Driven:
        """Pitch radius, turn and inertia of the drive pulley; `gain` millimetres of belt pass for one of
        travel.
        """
        g, profile = ctx.given, self.profile(ctx)
        ctx.memo["profile"] = profile
        pitch = ctx.datum(profile, "pitch_mm", profile.pitch_mm, "mm")
        line = ctx.datum(profile, "pitch_line_mm", profile.pitch_line_mm, "mm")
        diameter = ctx.calc(
            "pulley.pitch_diameter",
            "Pitch diameter of the drive pulley",
            belt.pitch_diameter,
            teeth=g("end.pulley.teeth"),
            pitch_mm=pitch,
        )
        outside = ctx.calc(
            "pulley.outside_diameter",
            "Outside diameter of the drive pulley",
            belt.outside_diameter,
            teeth=g("end.pulley.teeth"),
            pitch_mm=pitch,
            pitch_line_mm=line,
        )
        radius = ctx.book.put(
            "pulley.radius",
            "Pitch radius of the drive pulley",
            (diameter.value or 0) / 2,
            "mm",
            equation="d/2",
            source="geometry",
            d=diameter,
        )
        lam = ctx.calc(
            "end.lam",
            "Turn of the drive pulley for 1 mm",
            axis.radians_per_mm,
            pitch_radius_mm=radius,
            ratio=gain,
        )
        inertia = ctx.calc(
            "pulley.inertia",
            "Inertia of the drive pulley",
            axis.disc_inertia,
            diameter_mm=outside,
            width_mm=g("end.pulley.face_mm"),
            density_g_cm3=g("end.pulley.density_g_cm3"),
        )
        mass = ctx.calc(
            "pulley.mass",
            "Drive pulley as a mass at the carriage",
            axis.mass_of_inertia,
            inertia_gcm2=inertia,
            radians_per_mm=lam,
        )
        return Driven(radius, lam, outside, mass)

    def line_mass(self, ctx: Context) -> Quantity:
        """Mass of a metre of belt, weighed or from the catalogue."""
        weighed, profile = ctx.given("end.belt.line_mass_g_m"), ctx.memo["profile"]
        if weighed.value is not None:
            return ctx.book.put(
                "belt.line_mass",
                "Mass of one metre of belt",
                weighed.value,
                "g/m",
                equation="as weighed",
                source_kind="measured by you",
                source="a weighed metre",
                weighed=weighed,
            )
        return ctx.calc(
            "belt.line_mass",
            "Mass of one metre of belt",
            belt.belt_line_mass,
            mass_g_m_mm=ctx.datum(profile, "mass_g_m_mm", profile.mass_g_m_mm, "g/m"),
            width_mm=ctx.given("end.belt.width_mm"),
        )

    def idler_mass(
        self,
        ctx: Context,
        at: str,
        idler: Idler,
        name: str,
        radius: Quantity,
        gain: float = 1.0,
        count: int = 1,
    ) -> Quantity:
        """An idler (or several alike) as a mass at the carriage."""
        g = ctx.given
        outer = Given(
            f"{at}.teeth" if idler.kind == "toothed" else f"{at}.diameter_mm", 2 * (radius.value or 0), "mm"
        )
        inertia = ctx.calc(
            f"{name}.inertia",
            "Inertia of an idler",
            axis.disc_inertia,
            diameter_mm=outer,
            width_mm=g(f"{at}.width_mm"),
            density_g_cm3=g(f"{at}.density_g_cm3"),
        )
        lam = ctx.calc(
            f"{name}.lam",
            "Turn of an idler for 1 mm",
            axis.radians_per_mm,
            pitch_radius_mm=radius,
            ratio=gain,
        )
        mass = ctx.calc(
            f"{name}.mass_each",
            "An idler as a mass at the carriage",
            axis.mass_of_inertia,
            inertia_gcm2=inertia,
            radians_per_mm=lam,
        )
        return ctx.book.put(
            f"{name}.mass",
            "Idlers as a mass at the carriage",
            lambda: (mass.value or 0) * count,
            "kg",
            equation="n·m",
            source="equal kinetic energy",
            each=mass,
            n=float(count),
        )

    def idler_radius(self, ctx: Context, at: str, idler: Idler, name: str, back: bool = False) -> Quantity:
        """Pitch-line radius of the belt on an idler: toothed, smooth under the teeth, or smooth on
        the back.
        """
        g, profile = ctx.given, ctx.memo["profile"]
        pitch, line = (
            ctx.datum(profile, n, getattr(profile, n), "mm") for n in ("pitch_mm", "pitch_line_mm")
        )
        label = "Pitch line radius on the idler"
        if idler.kind == "toothed":
            diameter = ctx.calc(
                f"{name}.pitch_diameter",
                "Pitch diameter of the idler",
                belt.pitch_diameter,
                teeth=g(f"{at}.teeth"),
                pitch_mm=pitch,
            )
            return ctx.book.put(
                f"{name}.radius",
                label,
                (diameter.value or 0) / 2,
                "mm",
                equation="d/2",
                source="geometry",
                d=diameter,
            )
        height = ctx.datum(profile, "tooth_height_mm", profile.tooth_height_mm, "mm")
        if back:
            thickness = ctx.datum(profile, "thickness_mm", profile.thickness_mm, "mm")
            return ctx.calc(
                f"{name}.radius",
                label,
                belt.smooth_idler_radius_back,
                diameter_mm=g(f"{at}.diameter_mm"),
                thickness_mm=thickness,
                tooth_height_mm=height,
                pitch_line_mm=line,
            )
        return ctx.calc(
            f"{name}.radius",
            label,
            belt.smooth_idler_radius_tooth_side,
            diameter_mm=g(f"{at}.diameter_mm"),
            tooth_height_mm=height,
            pitch_line_mm=line,
        )

    def rate_pulley(self, ctx: Context, wrap: Quantity) -> None:
        """Teeth in mesh on the drive pulley, and the belt's stiffness EA."""
        g, profile = ctx.given, ctx.memo["profile"]
        mesh = ctx.calc(
            "pulley.mesh",
            "Teeth in mesh on the drive pulley",
            belt.teeth_in_mesh,
            teeth=g("end.pulley.teeth"),
            wrap_rad=wrap,
        )
        ctx.rung(
            "mesh",
            "Teeth in mesh",
            g("assumptions.teeth_full"),
            mesh,
            1.0,
            unit="teeth",
            section="running",
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
                cord_factor=Given(
                    "end.belt.cord", CORD_FACTOR[self.belt.cord], "", "estimate", f"{self.belt.cord} cord"
                ),
                width_mm=g("end.belt.width_mm"),
            )

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        loop_checks.rate(self, ctx, peak, shaft)

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

    def soft_mounts(self, ctx: Context) -> dict[str, float] | None:
        """Stiffness of every mount that gives, N/mm; None when one is not known yet."""
        found = {
            n: self.mount_stiffness(ctx, m, f"end.{n}", n.replace("_", " ")) for n, m in self.mounts().items()
        }
        if any(k is not None and k.value is None for k in found.values()):
            return None
        return {n: k.value for n, k in found.items() if k is not None and k.value is not None}

    def belt_springs(
        self, ctx: Context, positions: FloatArray, pulley: str, nodes: list[str], gain: float
    ) -> list[Spring]:
        """Both runs between the carriage and a pulley node, with what the mounts do to each; `gain`
        millimetres of belt pass for one of travel.
        """
        ea = ctx.book.results["belt.ea"].value or 0.0
        run_1, run_2 = self.runs(ctx, positions)

        def reach(**coefficients: float) -> tuple[float, ...]:
            return tuple(coefficients.get(n, 0.0) for n in nodes)

        return [
            Spring("belt", "Belt", ea / run_1, reach(carriage=gain, motor_mount=-1, **{pulley: -gain})),
            Spring(
                "belt",
                "Belt",
                ea / run_2,
                reach(carriage=-gain, motor_mount=-1, idler_mount=2, **{pulley: gain}),
            ),
        ]

    def springs(
        self,
        ctx: Context,
        positions: FloatArray,
        torque_path: list[tuple[str, str, float]],
        gain: float = 1.0,
    ) -> tuple[list[Spring], tuple[float, ...]] | None:
        soft, rate = self.soft_mounts(ctx), self.tensioner.spring_n_mm
        if ctx.book.results["belt.ea"].value is None or soft is None:
            return None
        if rate is not None:
            soft["idler_mount"] = 1 / (1 / rate + (1 / soft["idler_mount"] if "idler_mount" in soft else 0.0))
        far = ctx.far_side()
        nodes = ["carriage", *soft, *[part for part, _, _ in torque_path], *(["cross_shaft"] if far else [])]

        def reach(**coefficients: float) -> tuple[float, ...]:
            return tuple(coefficients.get(n, 0.0) for n in nodes)

        pulley = torque_path[-1][0]
        made = self.belt_springs(ctx, positions, pulley, nodes, gain)
        if far:
            made += self.belt_springs(ctx, positions, "cross_shaft", nodes, gain)
            made.append(
                Spring(
                    "cross_shaft", "Cross shaft and couplers", far, reach(cross_shaft=gain, **{pulley: -gain})
                )
            )
        labels = {
            "motor_mount": "Motor mount",
            "idler_mount": "Idler mount" if rate is None else "Sprung tensioner",
        }
        made += [Spring(n, labels[n], k, reach(**{n: 1})) for n, k in soft.items()]
        before = None
        for part, label, k in torque_path:
            made.append(Spring(part, label, k, reach(**{part: 1, **({before: -1} if before else {})})))
            before = part
        return made, reach(carriage=1)

    # ---- what to show --------------------------------------------------------------------------------------

    def pulley_nodes(self, ctx: Context) -> list[DriveNode]:
        """Pulley and belt on the drive line."""
        r, aim = ctx.book.results, ctx.design.aim
        speed = ctx.calc(
            "pulley.speed",
            "Speed of the drive pulley",
            axis.shaft_speed,
            speed_mm_s=ctx.given("aim.speed_mm_s"),
            radians_per_mm=r["end.lam"],
        )
        torque, peak = r["end.torque_accelerate"].value, r["belt.peak_force"].value
        return [
            DriveNode(
                "pulley",
                "Pulley",
                "end.pulley",
                "end.pulley.teeth",
                f"{self.pulley.teeth} teeth",
                speed.value,
                "rpm",
                torque,
                "N·m",
                None,
            ),
            DriveNode(
                "belt",
                ctx.memo["profile"].name,
                "end.belt",
                "end.belt.width_mm",
                f"{self.belt.width_mm:g} mm wide",
                aim.speed_mm_s,
                "mm/s",
                peak,
                "N",
                None,
            ),
        ]

    def cut(self, ctx: Context) -> list[CutLine]:
        r = ctx.book.results
        count = ctx.belts()
        return [
            CutLine(
                f"{ctx.memo['profile'].name}, {self.belt.width_mm:g} mm wide"
                + (f", {count} pieces" if count > 1 else ""),
                r["belt.cut"].value or 0.0,
                int(r["belt.cut_teeth"].value or 0),
                f"{int(r['belt.fit_teeth'].value or 0)} teeth between the clamps, "
                f"{self.clamp.engaged_teeth} held at each end, tails of {self.clamp.tail_mm:g} "
                f"mm to trim",
                "belt.cut",
            )
        ]

    def pluck(self, ctx: Context) -> PluckTarget | None:
        return loop_build.pluck(self, ctx)

    def belt_bill(self, ctx: Context, idlers: list[tuple[str, Idler, float]]) -> list[BillLine]:
        """Pulley, idlers, belt, clamps and tensioner, once for each side."""
        n = ctx.belts()
        metres = (ctx.book.results["belt.cut"].value or 0) / 1000 * n
        per_m, name = self.belt.price_per_m, ctx.memo["profile"].name
        lines = [
            bought(
                self.pulley,
                "Drive pulley",
                f"{name}, {self.pulley.teeth} teeth, bore {self.pulley.bore_mm:g} mm",
                "end.pulley",
                n,
            )
        ]
        listed = [*idlers, *((f"end.rollers.{i}", roller, 1.0) for i, roller in enumerate(self.rollers))]
        for at, idler, count in listed:
            kind = (
                f"{idler.teeth} teeth" if idler.kind == "toothed" else f"smooth, ⌀ {idler.diameter_mm:g} mm"
            )
            lines.append(bought(idler, "Idler", kind, at, count * n))
            lines += [
                bought(
                    piece,
                    "Washer",
                    f"{piece.thickness_mm:g} mm",
                    f"{at}.stack.{j}",
                    count * n * piece.quantity,
                )
                for j, piece in enumerate(idler.stack)
            ]
        total = None if per_m is None else per_m * metres
        lines.append(
            BillLine(
                self.belt.label or "Belt",
                f"{name}, {self.belt.width_mm:g} mm, {self.belt.cord} cord",
                round(metres, 3),
                "m",
                per_m,
                total,
                self.belt.in_stock,
                "end.belt",
            )
        )
        lines.append(bought(self.clamp, "Belt clamp", self.clamp.kind, "end.clamp", n))
        lines.append(
            bought(
                self.tensioner,
                "Tensioner",
                f"{self.tensioner.kind}, {self.tensioner.travel_mm:g} mm",
                "end.tensioner",
                n,
            )
        )
        return lines

    def work(self, ctx: Context) -> list[WorkStep]:
        return loop_build.work(self, ctx)

    def cautions(self, ctx: Context) -> list[Caution]:
        return loop_build.cautions(self, ctx)

    def wrap_of(
        self, key: str, label: str, value: float, ctx: Context, **terms: Given | Quantity
    ) -> Quantity:
        """A wrap angle taken from a worked-out path."""
        return ctx.book.put(
            key,
            label,
            value,
            "rad",
            equation="α from the belt path's tangents",
            source="common tangents of circles",
            also=dict(terms),
        )
