"""Carriage loop: fixed motor, idler at the far end, both belt ends clamped to the carriage."""

from __future__ import annotations

from typing import ClassVar, Literal

from ...account.context import Context
from ...account.report import BillLine, DriveNode
from ...checks import holding
from ...checks.pulleys import check_belt
from ...fields.belts import Idler, Mount
from ...fields.part import num, piece
from ...geometry.path import Round
from ...geometry.route import roller_handles, rollers_at, wheels_of, whole_tooth_snaps
from ...geometry.scene import Handle, Mark, Scene, Slab, Snap, Spot, strand_of
from ...ledger.errors import problem
from ...ledger.formula import Real
from ...ledger.many import most
from ...ledger.quantity import Quantity, Term
from .belt_end import BeltEnd
from .open_belt import Lying, near_slab


class CarriageLoop(BeltEnd):
    """Positions: the motor's axis is 0 and travel runs away from it. Run 1 is direct, run 2 goes round the
    idler.
    """

    FIRST = ("motor_offset_mm", "idler_offset_mm")

    straight: ClassVar[bool] = True
    placed: ClassVar[bool] = True
    kind: Literal["carriage_loop"] = "carriage_loop"
    motor_offset_mm: float = num(
        "Motor axis beyond the rail's end",
        "length",
        "mm",
        -5000,
        5000,
        25.0,
        "Negative when it lies beside the rail.",
        step="belt",
    )
    idler_offset_mm: float = num(
        "Idler axis beyond the rail's far end", "length", "mm", -5000, 5000, 20.0, step="belt"
    )
    idler_rise_mm: float | None = num(
        "Idler axis above the motor's",
        "length",
        "mm",
        -5000,
        5000,
        None,
        "Empty: so that the carriage's run lies parallel with the travel.",
    )
    clamp_rise_mm: float | None = num(
        "Belt clamps above the motor's axis",
        "length",
        "mm",
        -5000,
        5000,
        None,
        "Empty: level with the top of the drive pulley's pitch circle.",
    )
    slot_mm: float | None = num(
        "Slot that a run lies in", "length", "mm", 1, 300, None, "Where the belt runs inside the rail's slot."
    )
    slot_deep_mm: float | None = num(
        "Its depth", "length", "mm", 0.5, 300, None, "From its floor to what lies over the belt."
    )
    idler: Idler = piece(Idler(), "belt")
    motor_mount: Mount = piece(Mount(), "belt")
    idler_mount: Mount = piece(Mount(), "belt")

    def mounts(self) -> dict[str, Mount]:
        return {"motor_mount": self.motor_mount, "idler_mount": self.idler_mount}

    def centre(self, ctx: Context) -> Quantity:
        """Motor axis to idler axis, along the travel."""
        return ctx.once(self._centre)

    def _centre(self, ctx: Context) -> Quantity:
        g = ctx.given
        rail, near, far = g("guide.rail_mm"), g("end.motor_offset_mm"), g("end.idler_offset_mm")
        return ctx.book.put(
            "loop.centre",
            "Centre distance, motor to idler",
            lambda: rail.n + near.n + far.n,
            "mm",
            equation="C = rail + motor offset + idler offset",
            source="geometry of the rail, along the travel",
            rail=rail,
            motor_offset=near,
            idler_offset=far,
        )

    def first_position(self, ctx: Context) -> Real:
        """Carriage centre from the motor's axis at the near end of travel, mm."""
        guide = ctx.design.guide
        return self.motor_offset_mm + guide.near_mm + guide.overtravel_mm + guide.carriage_mm / 2

    def rounds(self, ctx: Context, travelled_mm: Real) -> tuple[Round, ...]:
        profile, centre = self.profile(ctx), self.centre(ctx).n
        r1, r2 = self.driven(ctx).radius.n, self.idler_line(ctx).n
        clamp = r1 if self.clamp_rise_mm is None else self.clamp_rise_mm
        idler = clamp - r2 if self.idler_rise_mm is None else self.idler_rise_mm
        x, half = self.first_position(ctx) + travelled_mm, self.clamp.gap_mm / 2

        def rolling(where: str) -> list[Round]:
            return rollers_at(self.rollers, "end.rollers", profile, 1, where)

        return (
            Round("near clamp", x - half, clamp, 0, 1, "end.clamp.gap_mm", "end.clamp"),
            *rolling("before the pulley"),
            Round("drive pulley", 0, 0, r1, 1, "end.pulley.teeth", "end.pulley"),
            *rolling("after the pulley"),
            Round("idler", centre, idler, r2, 1, "end.idler_offset_mm", "end.idler"),
            *rolling("after the idler"),
            Round("far clamp", x + half, clamp, 0, 1, "end.clamp.gap_mm", "end.clamp"),
        )

    def drift(self, ctx: Context, round_: Round) -> tuple[Real, Real]:
        return (1.0, 0.0) if round_.part == "end.clamp" else (0.0, 0.0)

    def handles(self, ctx: Context) -> dict[str, tuple[Handle, ...]]:
        placed = {x.part: x for x in self.paths(ctx)[0].rounds}
        level = placed["end.clamp"].y_mm - placed["end.idler"].radius_mm
        # Both runs grow with the distance; the wraps change a little where the pulleys differ.
        step, centre = (
            placed["end.pulley"].radius_mm - placed["end.idler"].radius_mm,
            self.centre(ctx).value or 1.0,
        )
        gain = 2 - 2 * step**2 / (centre**2 + step**2)
        free, pitch = self.lying(ctx).free.value or 0.0, self.profile(ctx).pitch_mm
        whole = whole_tooth_snaps(self.idler_offset_mm, free, pitch, gain, "whole teeth, no slack")
        return {
            "end.pulley": (Handle("end.motor_offset_mm", self.motor_offset_mm, -1.0, 0.0),),
            "end.idler": (
                Handle("end.idler_offset_mm", self.idler_offset_mm, 1.0, 0.0, snaps=whole),
                Handle(
                    "end.idler_rise_mm",
                    placed["end.idler"].y_mm,
                    0.0,
                    1.0,
                    snaps=(Snap(level, "carriage's run parallel"),),
                ),
            ),
            **roller_handles(self.rollers, "end.rollers", self.paths(ctx)[0]),
        }

    def check(self, ctx: Context) -> None:
        idlers = [("end.idler", self.idler)]
        check_belt(ctx, self.profile(ctx), self.pulley, idlers, self.rollers)
        self._clamp_clear(ctx)

    def _clamp_clear(self, ctx: Context) -> None:
        """The belt clamp must stay clear of pulley and idler at both ends of travel."""
        profile = self.profile(ctx)
        guide, first = ctx.design.guide, self.first_position(ctx)
        clearance = first - self.clamp.gap_mm / 2 - profile.pitch_mm * self.pulley.teeth / 6.283185307179586
        ctx.stop(
            clearance <= 0,
            lambda: problem(
                "end.motor_offset_mm",
                "brings the belt clamp into the drive pulley at the near end of travel",
                value=self.motor_offset_mm,
                limit=round(self.motor_offset_mm - clearance + 1, 1),
                unit="mm",
                remedy="Move the motor outwards, or keep more of the rail's end free.",
            ),
        )
        centre = guide.rail_mm + self.motor_offset_mm + self.idler_offset_mm
        last = (
            guide.rail_mm + self.motor_offset_mm - guide.far_mm - guide.overtravel_mm - guide.carriage_mm / 2
        )
        idler_r = (
            profile.pitch_mm * self.idler.teeth / 6.283185307179586
            if self.idler.kind == "toothed"
            else self.idler.diameter_mm / 2
        )
        ahead = centre - last - self.clamp.gap_mm / 2 - idler_r
        ctx.stop(
            ahead <= 0,
            lambda: problem(
                "end.idler_offset_mm",
                "brings the belt clamp into the idler at the far end of travel",
                value=self.idler_offset_mm,
                limit=round(self.idler_offset_mm - ahead + 1, 1),
                unit="mm",
                remedy="Move the idler outwards, or keep more of the rail's far end free.",
            ),
        )

    def _idler_line(self, ctx: Context) -> Quantity:
        return self.idler_radius(ctx, "end.idler", self.idler, "idler")

    def _lie(self, ctx: Context) -> Lying:
        g = ctx.given
        drive, idler_r = self.driven(ctx), self.idler_line(ctx)
        centre, gap = self.centre(ctx), g("end.clamp.gap_mm")
        near, far = self.paths(ctx)
        also = {
            f"end.rollers.{i}.{n}": g(f"end.rollers.{i}.{n}")
            for i in range(len(self.rollers))
            for n in ("x_mm", "y_mm")
        }
        free = ctx.book.put(
            "belt.free",
            "Free belt between the clamps",
            lambda: most(near.length_mm, far.length_mm),
            "mm",
            equation="Σ spans + Σ r·wrap, the longer of both ends of travel",
            source="common tangents of circles",
            centre=centre,
            drive=drive.radius,
            idler=idler_r,
            gap=gap,
            also=also,
        )
        ctx.book.put(
            "loop.length",
            "Pitch length of the closed path",
            lambda: free.n + gap.n,
            "mm",
            equation="L_free + gap",
            source="geometry",
            free=free,
            gap=gap,
        )
        ctx.book.put(
            "loop.change",
            "Free belt changes over the travel by",
            lambda: abs(near.length_mm - far.length_mm),
            "mm",
            equation="|L_near − L_far|",
            source="common tangents of circles; none where the carriage's run is parallel with the travel",
            free=free,
        )
        line_mass = self.line_mass(ctx)
        belt_kg = ctx.book.put(
            "belt.mass",
            "Mass of the moving belt",
            lambda: line_mass.n * free.n * 1e-6,
            "kg",
            equation="µ·L",
            source="geometry",
            line_mass=line_mass,
            free=free,
        )
        idler_kg = self.idler_mass(ctx, "end.idler", self.idler, "idler", idler_r)
        turning = {"idler": idler_kg}
        turning |= self.roller_mass(ctx)
        carried = ctx.book.put(
            "loop.carried",
            "Belt and idler as a mass at the carriage",
            lambda: belt_kg.n + sum(m.n for m in turning.values()),
            "kg",
            equation="m_belt + m_idler",
            source="equal kinetic energy",
            belt=belt_kg,
            also=turning,
        )
        words = ("Wrap on the drive pulley", "Wrap on the idler")
        terms: dict[str, Term] = {"centre": centre, "drive": drive.radius, "idler": idler_r}
        wrap, idler_wrap = self.wraps(ctx, near, words, terms)
        mesh, ea = self.meshed(ctx, wrap)
        return Lying(free, line_mass, carried, wrap, idler_wrap, mesh, ea, belt_kg, idler_kg)

    def forces(self, ctx: Context) -> None:
        super().forces(ctx)
        profile = self.profile(ctx)
        thickness = ctx.datum(profile, "thickness_mm", profile.thickness_mm, "mm")
        holding.slot_check(ctx, "end", thickness)

    def hangs(self) -> bool:
        return self.slot_mm is None

    def plucked(self, ctx: Context) -> tuple[str, float]:
        return "run 1, from the last roller or pulley to the near clamp", self.paths(ctx)[0].spans[
            0
        ].length_mm

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        return [*self.pulley_nodes(ctx), self.idler_node(ctx, "idler_mount", "Idler", self.idler)]

    def scene(self, ctx: Context) -> Scene:
        guide, laid = ctx.design.guide, self.laid(ctx)[0]
        start, travel, centre = self.first_position(ctx), ctx.usable, self.centre(ctx).value or 0.0
        wheels = wheels_of(laid, ctx.design, -1.0, self.handles(ctx))
        rail, motor = self.motor_offset_mm + guide.rail_mm / 2, self.motor_size(ctx)
        placed = {x.part: x for x in laid.near.rounds}
        idler, clamp = placed["end.idler"], placed["end.clamp"].y_mm
        below = min(-motor / 2, *(w.at.y_mm - w.outside_mm for w in wheels)) - 8
        low, high = below + 3, clamp + 7
        return Scene(
            "Seen from the side",
            "Carriage",
            travel,
            wheels,
            (strand_of(laid.near, "toothed", -1.0, laid.profile.pitch_mm, laid.moves),),
            (
                Slab("motor", Spot(0, 0), motor, motor),
                Slab("rail", Spot(rail, below), guide.rail_mm, 8.0),
                *(near_slab(x) for x in self.near),
                Slab("carriage", Spot(start, (low + high) / 2, 1.0), guide.carriage_mm, high - low),
            ),
            (
                Mark("motor", Spot(0, 0), level=1),
                Mark("idler", Spot(centre, idler.y_mm), level=1),
                Mark("centre distance", Spot(0, 0), Spot(centre, 0), centre, level=2),
                Mark("usable travel", Spot(start, 0), Spot(start + travel, 0), travel, level=-1),
            ),
        )

    def bill(self, ctx: Context) -> list[BillLine]:
        return self.belt_bill(ctx, [("end.idler", self.idler, 1)])
