"""Riding motor: the belt lies still along the rail, the motor rides on the carriage and pulls itself along
it.

Two smooth idlers on the belt's back lead it up round the motor's pulley.
"""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.report import BillLine, Caution, DriveNode
from ...checks.pulleys import check_belt
from ...fields.belts import Idler, Mount
from ...fields.part import num, piece
from ...geometry.path import Round
from ...geometry.route import roller_handles, rollers_at, wheels_of
from ...geometry.scene import Handle, Mark, Scene, Slab, Spot, strand_of
from ...ledger.formula import Real
from ...ledger.quantity import Quantity, Term
from .belt_end import BeltEnd
from .open_belt import Lying, near_slab


class RidingMotor(BeltEnd):
    """Positions: the near belt clamp is 0. Run 1 leads from it to the pulley, run 2 on to the far clamp."""

    FIRST = ("idler_spread_mm",)

    straight: ClassVar[bool] = True
    placed: ClassVar[bool] = True
    rides: ClassVar[bool] = True
    kind: Literal["riding_motor"] = "riding_motor"
    idler: Idler = piece(Idler(kind="smooth", diameter_mm=18.0), "belt")
    idler_spread_mm: float = num(
        "Between the two idlers", "length", "mm", 2, 2000, 40.0, "Centre to centre, along the rail."
    )
    pulley_rise_mm: float = num(
        "Pulley above the idlers",
        "length",
        "mm",
        0,
        2000,
        25.0,
        "Centre to centre; more of it wraps more of the pulley.",
    )
    belt_beyond_mm: float = num(
        "Belt clamps beyond the rail's ends",
        "length",
        "mm",
        -5000,
        5000,
        10.0,
        "Negative where the clamps sit on the rail.",
    )

    motor_mount: Mount = piece(Mount(), "belt")
    idler_mount: Mount = piece(Mount(), "belt")
    anchor_mount: Mount = piece(Mount(), "belt")

    def mounts(self) -> dict[str, Mount]:
        return {
            "motor_mount": self.motor_mount,
            "idler_mount": self.idler_mount,
            "anchor_mount": self.anchor_mount,
        }

    def leans(self) -> bool:
        return True  # the belt climbs from the idlers to the pulley

    def rounds(self, ctx: Context, travelled_mm: Real) -> tuple[Round, ...]:
        profile = self.profile(ctx)
        ri, rp = self.idler_line(ctx).n, self.driven(ctx).radius.n
        half, x = self.idler_spread_mm / 2, self.first_position(ctx) + travelled_mm

        def rolling(where: str) -> list[Round]:
            return rollers_at(self.rollers, "end.rollers", profile, -1, where, (x, 0.0))

        # Under the near idler, up and over the pulley, down and under the far idler: teeth on the pulley,
        # back on the idlers.
        return (
            Round("near clamp", 0, 0, 0, 1, "end.belt_beyond_mm", "end.clamp"),
            Round("near idler", x - half, ri, ri, 1, "end.idler_spread_mm", "end.idler"),
            *rolling("before the pulley"),
            Round("drive pulley", x, ri + self.pulley_rise_mm, rp, -1, "end.pulley_rise_mm", "end.pulley"),
            *rolling("after the pulley"),
            Round("far idler", x + half, ri, ri, 1, "end.idler_spread_mm", "end.idler"),
            *rolling("after the idler"),
            Round("far clamp", self._length(ctx), 0, 0, 1, "end.belt_beyond_mm", "end.clamp"),
        )

    def drift(self, ctx: Context, round_: Round) -> tuple[Real, Real]:
        return (0.0, 0.0) if round_.part == "end.clamp" else (1.0, 0.0)

    def roller_origin(self, ctx: Context) -> tuple[float, float]:
        return self.first_position(ctx), 0.0

    def handles(self, ctx: Context) -> dict[str, tuple[Handle, ...]]:
        return {
            "end.pulley": (Handle("end.pulley_rise_mm", self.pulley_rise_mm, 0.0, 1.0),),
            "end.idler": (Handle("end.idler_spread_mm", self.idler_spread_mm, 2.0, 0.0),),
            **roller_handles(self.rollers, "end.rollers", self.paths(ctx)[0], self.roller_origin(ctx)),
        }

    def _length(self, ctx: Context) -> Real:
        return ctx.design.guide.rail_mm + 2 * self.belt_beyond_mm

    def first_position(self, ctx: Context) -> Real:
        """Carriage centre from the near clamp at the near end of travel, mm."""
        guide = ctx.design.guide
        return self.belt_beyond_mm + guide.near_mm + guide.overtravel_mm + guide.carriage_mm / 2

    def check(self, ctx: Context) -> None:
        check_belt(ctx, self.profile(ctx), self.pulley, [("end.idler", self.idler)], self.rollers)

    def _idler_line(self, ctx: Context) -> Quantity:
        return self.idler_radius(ctx, "end.idler", self.idler, "idler", back=True)

    def riders(self, ctx: Context) -> Quantity:
        """Motor and stages, which ride on the carriage."""
        return ctx.once(self._riders)

    def _riders(self, ctx: Context) -> Quantity:
        riding = {f"chain.{j}.mass_kg": ctx.given(f"chain.{j}.mass_kg") for j in range(len(ctx.design.chain))}
        return ctx.book.put(
            "riding.motor",
            "Motor and what sits on it, riding along",
            lambda: sum(m.n for m in riding.values()),
            "kg",
            equation="Σ m",
            source="weighed parts",
            also=riding,
        )

    def _lie(self, ctx: Context) -> Lying:
        g = ctx.given
        drive, idler_r = self.driven(ctx), self.idler_line(ctx)
        worked = self.paths(ctx)[0]
        free = ctx.book.put(
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
        line_mass = self.line_mass(ctx)
        idlers = self.idler_mass(ctx, "end.idler", self.idler, "idler", idler_r, count=2)
        turning = {"idlers": idlers}
        turning |= self.roller_mass(ctx)
        motor = self.riders(ctx)
        carried = ctx.book.put(
            "loop.carried",
            "Motor and idlers as a mass at the carriage",
            lambda: motor.n + sum(m.n for m in turning.values()),
            "kg",
            equation="m_motor + m_idlers (the belt lies still)",
            source="equal kinetic energy",
            motor=motor,
            also=turning,
        )
        words = ("Wrap on the drive pulley", "Wrap on an idler")
        terms: dict[str, Term] = {"rise": g("end.pulley_rise_mm"), "spread": g("end.idler_spread_mm")}
        wrap, idler_wrap = self.wraps(ctx, worked, words, terms)
        mesh, ea = self.meshed(ctx, wrap)
        return Lying(free, line_mass, carried, wrap, idler_wrap, mesh, ea, None, idlers)

    def lifted(self, ctx: Context, tally: Quantity) -> Quantity:
        """The motor's weight hangs on the carriage too, and presses on its guide."""
        motor, count = self.riders(ctx), ctx.counts.motors
        return ctx.book.put(
            "mass.lifted",
            "Moving mass with the motor that rides along",
            lambda: tally.n + motor.n * count,
            "kg",
            equation="m_tally + n·m_motor",
            source="statics",
            tally=tally,
            motor=motor,
            n=float(count),
        )

    def plucked(self, ctx: Context) -> tuple[str, float]:
        return "the straight run from the near clamp to the near idler", self.first_position(
            ctx
        ) - self.idler_spread_mm / 2

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        return [*self.pulley_nodes(ctx), self.idler_node(ctx, "idler", "Two idlers", self.idler)]

    def scene(self, ctx: Context) -> Scene:
        guide, laid = ctx.design.guide, self.laid(ctx)[0]
        start, travel = self.first_position(ctx), ctx.usable
        wheels = wheels_of(laid, ctx.design, 0.0, self.handles(ctx))
        near = next(i for i, w in enumerate(wheels) if w.part == "end.idler")
        mirrored = tuple(
            replace(h, dx=-h.dx) for h in wheels[near].handles
        )  # drawn outwards, the near idler goes left
        wheels = (*wheels[:near], replace(wheels[near], handles=mirrored), *wheels[near + 1 :])
        top = max(w.at.y_mm + w.outside_mm for w in wheels) + 10
        return Scene(
            "Seen from the side",
            "Carriage with its motor",
            travel,
            wheels,
            (strand_of(laid.near, "toothed", 0.0, laid.profile.pitch_mm, laid.moves),),
            (
                Slab("rail", Spot(self.belt_beyond_mm + guide.rail_mm / 2, -12.0), guide.rail_mm, 8.0),
                *(near_slab(x) for x in self.near),
                Slab("carriage", Spot(start, (top - 12.0) / 2, 1.0), guide.carriage_mm, top + 12.0),
            ),
            (
                Mark("near clamp", Spot(0, 0), level=1),
                Mark("far clamp", Spot(self._length(ctx), 0), level=1),
                Mark("usable travel", Spot(start, 0), Spot(start + travel, 0), travel, level=-1),
            ),
        )

    def bill(self, ctx: Context) -> list[BillLine]:
        return self.belt_bill(ctx, [("end.idler", self.idler, 2)])

    def cautions(self, ctx: Context) -> list[Caution]:
        return [
            *super().cautions(ctx),
            Caution(
                "build",
                "The motor's cable moves with every stroke: give it a carrier with a radius it can "
                "bear, and strain relief at both ends.",
            ),
        ]
