"""An open belt as it lies: its path, the drive pulley, idlers and rollers, lengths and masses."""

from __future__ import annotations

from typing import ClassVar

from pydantic import Field

from ...account.context import Context
from ...account.found import Repeat
from ...checks import belt_data, masses, repeats
from ...fields.belts import Belt, Clamp, Idler, Mount, Near, Pulley, Roller, Tensioner
from ...fields.frames import side_of
from ...fields.part import piece
from ...fields.profile import Profile
from ...fields.rows import Rows
from ...formulas import belt, motion
from ...geometry.path import Path, Round, laid_path
from ...geometry.route import Laid, split_at
from ...geometry.scene import Handle, Slab, Spot
from ...ledger.formula import Real
from ...ledger.many import along, at_most, most
from ...ledger.quantity import Given, Quantity, Term
from ...ledger.record import record
from ..reach import rim_of
from .contract import End, FloatArray


@record
class Driven:
    """The drive pulley worked out."""

    radius: Quantity
    lam: Quantity
    outside: Quantity
    mass: Quantity


@record
class Lying:
    """A belt before any force: free length, mass of a metre, the mass that it and its idlers add at the
    carriage, wraps, teeth in mesh on the drive pulley, and stiffness EA. `belts_kg` and `idlers_kg` are parts
    of what is carried.
    """

    free: Quantity
    line_mass: Quantity
    carried: Quantity
    pulley_wrap: Quantity
    idler_wrap: Quantity
    mesh: Quantity
    ea: Quantity
    belts_kg: Quantity | None
    idlers_kg: Quantity


def near_slab(thing: Near) -> Slab:
    """A thing near the belt, as it is drawn."""
    return Slab(
        "work", Spot(thing.x_mm, thing.y_mm, 1.0 if thing.rides else 0.0), thing.width_mm, thing.height_mm
    )


class OpenBelt(End):
    """A belt with both ends held, driven by a toothed pulley: run 1 is direct, run 2 the other one."""

    shows: ClassVar[dict[str, tuple[str, ...]]] = {
        "end.pulley": ("pulley.", "hub."),
        "end.belt": ("belt.",),
        "end.idler": ("idler.",),
    }

    belt: Belt = piece(Belt(), "belt")
    pulley: Pulley = Pulley()
    clamp: Clamp = piece(Clamp(), "belt")
    tensioner: Tensioner = piece(Tensioner(), "belt")
    rollers: Rows[Roller] = Field([], title="Further rollers", max_length=40)
    near: Rows[Near] = Field([], title="What the belt must stay clear of", max_length=20)

    # ---- for the layouts to fill in ------------------------------------------------------------------------

    def rounds(self, ctx: Context, travelled_mm: Real) -> tuple[Round, ...]:
        """The belt's pulleys in belt order, from the near clamp to the far one, with the carriage so far
        along its travel.
        """
        raise NotImplementedError

    def drift(self, ctx: Context, round_: Round) -> tuple[Real, Real]:
        """How far a part of the path goes along x and y for each millimetre of travel."""
        raise NotImplementedError

    def handles(self, ctx: Context) -> dict[str, tuple[Handle, ...]]:
        """What a hand may drag, by part."""
        return {}

    def runs(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Lengths of run 1 and run 2 at positions along the usable travel, mm: they grow and shrink in step
        with it.
        """
        first, second = ctx.once(self._runs)
        share = positions / along(most(ctx.usable, 1e-9))
        return along(first[0]) + share * along(first[1]), along(second[0]) + share * along(second[1])

    def _runs(self, ctx: Context) -> list[tuple[Real, Real]]:
        """Of run 1 and run 2 the length at the near end of travel, and how much it grows to the far one."""
        near, far = (split_at(path, "end.pulley") for path in self.paths(ctx))
        return [(a, b - a) for a, b in zip(near, far, strict=True)]

    def hanging(self, ctx: Context, positions: FloatArray) -> list[FloatArray]:
        """Sum of the cubes of the straight pieces of each run at the same positions, mm³: each piece grows
        and shrinks in step with the travel.
        """
        near, far = self.paths(ctx)
        share = positions / along(most(ctx.usable, 1e-9))
        pieces = (
            along(a.length_mm) + share * along(b.length_mm - a.length_mm)
            for a, b in zip(near.spans, far.spans, strict=True)
        )
        cubes = [p * p * p for p in pieces]
        ends = [i for i, x in enumerate(near.rounds) if x.part == "end.pulley"]
        return [sum(cubes[a:b]) + 0 * share for a, b in zip([0, *ends], [*ends, len(cubes)], strict=True)]

    def run_lengths(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, ...]:
        """Length of every run between ends and drive pulleys at the positions, mm."""
        return self.runs(ctx, positions)

    def largest_share(self, ctx: Context, positions: FloatArray) -> Real:
        """Largest part of the peak force in a belt that one run takes or loses."""
        run_1, run_2 = self.runs(ctx, positions)
        return most(at_most(belt.tension_share(run_1, run_2)), at_most(belt.tension_share(run_2, run_1)))

    def teeth_share(self, ctx: Context) -> float:
        """Part of the peak force in a belt that the teeth on one drive pulley carry."""
        return 1.0

    def plucked(self, ctx: Context) -> tuple[str, float]:
        """Which straight run to pluck, and its length at the near end of travel; it grows with the travel."""
        raise NotImplementedError

    def mounts(self) -> dict[str, Mount]:
        """Mounts that may give, by field."""
        return {}

    def hangs(self) -> bool:
        """Whether its straight runs hang free, so that they sag."""
        return True

    def paths(self, ctx: Context) -> tuple[Path, Path]:
        """The path at both ends of the travel."""
        return ctx.once(self._paths)

    def _paths(self, ctx: Context) -> tuple[Path, Path]:
        return (
            laid_path(self.rounds(ctx, 0.0), closed=False, refuse=ctx.refuse),
            laid_path(self.rounds(ctx, ctx.usable), closed=False, refuse=ctx.refuse),
        )

    def idler_line(self, ctx: Context) -> Quantity:
        """Radius of the belt's pitch line on the layout's own idlers."""
        return ctx.once(self._idler_line)

    def _idler_line(self, ctx: Context) -> Quantity:
        raise NotImplementedError

    def gain(self, ctx: Context) -> float:
        """Millimetres of belt that pass for one of travel."""
        return 1.0

    def lying(self, ctx: Context) -> Lying:
        """How the belt lies before any force: length, masses, wraps, mesh and stiffness."""
        return ctx.once(self._lie)

    def _lie(self, ctx: Context) -> Lying:
        raise NotImplementedError

    def laid(self, ctx: Context) -> list[Laid]:
        profile, (near, far) = self.profile(ctx), self.paths(ctx)
        moves = tuple(self.drift(ctx, x) for x in near.rounds)
        return [Laid("end", profile, self.belt.width_mm, False, near, far, moves)]

    def repeats(self, ctx: Context) -> list[Repeat]:
        lam = ctx.drive.lam_end.value or 0.0
        return repeats.belt(self.laid(ctx)[0], "end.pulley", "end.belt", lam)

    def roller_mass(self, ctx: Context, count: int = 1) -> dict[str, Quantity]:
        """Every further roller as a mass at the carriage; `count` of each."""
        out = {}
        for i, roller in enumerate(self.rollers):
            at, name = f"end.rollers.{i}", f"rollers.{i}"
            back = roller.belt_on == "back"
            radius = self.idler_radius(ctx, at, roller, name, back=back)
            out[f"roller_{i}"] = self.idler_mass(ctx, at, roller, name, radius, self.gain(ctx), count)
        return out

    # ---- shared --------------------------------------------------------------------------------------------

    def holds_shaft_before(self) -> bool:
        return "motor_mount" in self.mounts()

    def moves_shaft_before(self) -> str | None:
        return "end locked" if self.tensioner.kind == "slotted motor plate" else None

    def overhang(self) -> str | None:
        return "end.pulley.overhang_mm"

    def over_shaft(self, ctx: Context) -> Term | None:
        return rim_of(ctx, "end.pulley", self.profile(ctx), self.pulley.flanges)

    def motor_size(self, ctx: Context) -> float:
        """Side of the motor's square face, mm, for the drawing."""
        return side_of(getattr(ctx.design.chain[0], "frame", ""), 42.0)

    def profile(self, ctx: Context) -> Profile:
        """The belt's profile."""
        return ctx.profile(self.belt.profile, "end.belt.profile")

    def driven(self, ctx: Context) -> Driven:
        """The drive pulley: pitch radius, turn for a millimetre, outside diameter and inertia."""
        return ctx.once(self._driven)

    def _driven(self, ctx: Context) -> Driven:
        g, profile = ctx.given, self.profile(ctx)
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
            lambda: diameter.n / 2,
            "mm",
            equation="d/2",
            source="geometry",
            d=diameter,
        )
        lam = ctx.calc(
            "end.lam",
            "Turn of the drive pulley for 1 mm",
            motion.radians_per_mm,
            pitch_radius_mm=radius,
            ratio=self.gain(ctx),
        )
        words = ("Inertia of the drive pulley", "Drive pulley as a mass at the carriage")
        face, density = g("end.pulley.face_mm"), g("end.pulley.density_g_cm3")
        mass = masses.disc(ctx, "pulley", words, outside, face, density, lam)
        return Driven(radius, lam, outside, mass)

    def bending(self, ctx: Context) -> Quantity:
        """Bending stiffness of the belt, N·mm²."""
        return ctx.once(self._bending)

    def _bending(self, ctx: Context) -> Quantity:
        words, mass = "Bending stiffness of the belt", self.lying(ctx).line_mass
        return belt_data.bending(ctx, self.profile(ctx), "end.belt", "belt.bending", words, mass)

    def line_mass(self, ctx: Context) -> Quantity:
        """Mass of a metre of belt, weighed or from the catalogue."""
        words = "Mass of one metre of belt"
        return belt_data.line_mass(ctx, self.profile(ctx), "end.belt", "belt.line_mass", words)

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
        outer = Given(f"{at}.teeth" if idler.kind == "toothed" else f"{at}.diameter_mm", 2 * radius.n, "mm")
        lam = ctx.calc(
            f"{name}.lam",
            "Turn of an idler for 1 mm",
            motion.radians_per_mm,
            pitch_radius_mm=radius,
            ratio=gain,
        )
        words = ("Inertia of an idler", "An idler as a mass at the carriage")
        width, density = g(f"{at}.width_mm"), g(f"{at}.density_g_cm3")
        mass = masses.disc(ctx, name, words, outer, width, density, lam, "mass_each")
        return ctx.book.put(
            f"{name}.mass",
            "Idlers as a mass at the carriage",
            lambda: mass.n * count,
            "kg",
            equation="n·m",
            source="equal kinetic energy",
            each=mass,
            n=float(count),
        )

    def idler_radius(self, ctx: Context, at: str, idler: Idler, name: str, back: bool = False) -> Quantity:
        """Pitch-line radius of the belt on an idler: toothed, smooth under the teeth, or smooth on the
        back.
        """
        g, profile = ctx.given, self.profile(ctx)
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
                lambda: diameter.n / 2,
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

    def meshed(self, ctx: Context, wrap: Quantity) -> tuple[Quantity, Quantity]:
        """Teeth in mesh on the drive pulley, with their rung, and the belt's stiffness EA."""
        g, profile = ctx.given, self.profile(ctx)
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
        ea = belt_data.stiffness(ctx, self.belt, profile, "end.belt", "belt.ea", "Stiffness EA of the belt")
        return mesh, ea

    def wraps(
        self, ctx: Context, path: Path, words: tuple[str, str], terms: dict[str, Term]
    ) -> tuple[Quantity, Quantity]:
        """Wrap on the drive pulley, and the largest on an idler, from a worked-out path."""

        def largest(key: str, label: str, part: str) -> Quantity:
            return ctx.book.put(
                key,
                label,
                most(*(w for x, w in zip(path.rounds, path.wraps, strict=True) if x.part == part)),
                "rad",
                equation="α from the belt path's tangents",
                source="common tangents of circles",
                also=terms,
            )

        return (largest("pulley.wrap", words[0], "end.pulley"), largest("idler.wrap", words[1], "end.idler"))
