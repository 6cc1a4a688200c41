"""Crossed belts: two fixed motors that both turn for x and for y; with two belts, or one belt laid as an H.

Seen from above: x along the beam (width W), y along the rails (length H). qA = x + y, qB = y − x. Along x or
y both motors share the load; on a diagonal one works alone and its belt runs √2 as fast as the head.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import Counts
from ...account.report import BillLine, Caution, Column, DriveNode, Table
from ...checks.pulleys import check_belt
from ...formulas import gantries
from ...geometry.path import Round
from ...geometry.route import roller_handles, wheels_of
from ...geometry.scene import Mark, Scene, SceneWheel, Slab, Spot, strand_of
from ...ledger.amounts import said
from ...ledger.errors import problem
from ...ledger.formula import Real
from ...ledger.many import along, at_most, most
from ...ledger.quantity import Quantity, Term
from .belt_end import BeltEnd
from .contract import FloatArray, Moving
from .crossed_path import ROOT_2, CrossedPath
from .open_belt import Lying

# What of a force along y acts along each direction of the head.
_ALONG_Y = {"along x": 0.0, "along y": 1.0, "diagonal": 1 / ROOT_2}


class CrossedBelts(CrossedPath):
    """Each case (along x, along y, diagonal) is one direction of the head; travel and speed are the head's
    along it.
    """

    FIRST = ("form", "frame_x_mm", "frame_y_mm", "travel_y_mm", "beam_kg")

    kind: Literal["crossed_belts"] = "crossed_belts"
    pair: ClassVar[tuple[str, str]] = ("the left motor's belt", "the right motor's belt")
    why_apart: ClassVar[str] = "Unequal tension pulls the beam askew."
    shows: ClassVar[dict[str, tuple[str, ...]]] = {**BeltEnd.shows, "end": ("crossed.",)}

    def check(self, ctx: Context) -> None:
        check_belt(ctx, self.profile(ctx), self.pulley, [("end.idler", self.idler)], self.rollers)
        guide = ctx.design.guide
        ctx.stop(
            guide.rail_mm > self.frame_x_mm,
            lambda: problem(
                "end.frame_x_mm",
                "is shorter than the beam's rail",
                value=self.frame_x_mm,
                limit=guide.rail_mm,
                unit="mm",
                remedy="Widen the frame, or take a shorter rail for the beam.",
            ),
        )

    def _lie(self, ctx: Context) -> Lying:
        g, put = ctx.given, ctx.book.put
        drive, idler_r = self.driven(ctx), self.idler_line(ctx)
        gap, wx, hy = g("end.clamp.gap_mm"), g("end.frame_x_mm"), g("end.frame_y_mm")
        free = put(
            "belt.free",
            "Free belt between the clamps, each belt",
            lambda: self._whole(ctx) - gap.n,
            "mm",
            equation="Σ spans + Σ r·wrap − gap",
            source="common tangents of circles; the same wherever the head stands",
            x=wx,
            y=hy,
            gap=gap,
            pulley=drive.radius,
            idler=idler_r,
        )
        line_mass = self.line_mass(ctx)
        belts = 2.0 if self.crossed else 1.0
        belt_kg = put(
            "belt.mass",
            "Mass of the moving belts",
            lambda: belts * line_mass.n * free.n * 1e-6,
            "kg",
            equation="n·µ·L",
            source="geometry",
            line_mass=line_mass,
            free=free,
        )
        idlers = self.idler_mass(
            ctx, "end.idler", self.idler, "idler", idler_r, count=8 if self.crossed else 6
        )
        turning_along = {"idlers": idlers, **self.roller_mass(ctx, 2 if self.crossed else 1)}
        beam, part = g("end.beam_kg"), {"along x": 0.0, "along y": 1.0, "diagonal": 0.5}[ctx.case]
        carried = put(
            "loop.carried",
            "Beam, belts and idlers as a mass at the head",
            lambda: beam.n * part + belt_kg.n + sum(m.n for m in turning_along.values()),
            "kg",
            equation="c·m_beam + m_belts + m_idlers; c 0 along x, 1 along y, ½ on a diagonal",
            source="equal kinetic energy",
            beam=beam,
            c=part,
            belts=belt_kg,
            also=turning_along,
        )
        words = ("Wrap on a motor's pulley", "Largest wrap on an idler")
        terms: dict[str, Term] = {"x": wx, "y": hy, "pulley": drive.radius, "idler": idler_r}
        half_turn, idler_wrap = self.wraps(ctx, self.paths(ctx)[0], words, terms)
        mesh, ea = self.meshed(ctx, half_turn)
        return Lying(free, line_mass, carried, half_turn, idler_wrap, mesh, ea, belt_kg, idlers)

    def may_differ(self, ctx: Context) -> Quantity:
        error, width, one = (
            ctx.given("aim.error_mm"),
            ctx.given("end.frame_x_mm"),
            ctx.once(self._skew_of_one),
        )
        return ctx.book.put(
            "tension.apart",
            "Both belts may differ by",
            lambda: error.n / (one.n * width.n / 2),
            "N",
            equation="e/(φ_1·W/2)",
            source="the head leaves its square in proportion to the difference",
            error=error,
            skew=one,
            width=width,
        )

    def beam(self) -> tuple[float, float]:
        return self.frame_x_mm, self.travel_y_mm

    def lead_per_n(self, ctx: Context) -> float | None:
        # The left motor's belt pulls the left end to the front and the right end to the back.
        return ctx.once(self._skew_of_one).n * self.frame_x_mm if self.crossed else None

    def _skew_of_one(self, ctx: Context) -> Quantity:
        return self._skew(ctx, "crossed.skew_of_one", "Skew of the beam for one newton of difference", 1.0)

    def _skew(self, ctx: Context, key: str, label: str, difference: Term) -> Quantity:
        g, lying = ctx.given, self.lying(ctx)
        terms: dict[str, Term] = {
            "tension_difference_n": difference,
            "width_mm": g("end.frame_x_mm"),
            "guide_nm_rad": g("end.guide_nm_rad"),
        }
        if self.uneven_as == "measured, beam free":
            return ctx.calc(key, label, gantries.skew_as_measured, **terms)
        terms |= {"ea_n": lying.ea, "length_a_mm": lying.free, "length_b_mm": lying.free}
        return ctx.calc(key, label, gantries.racked_skew, **terms)

    def own_motors(self) -> int:
        return 2

    def moving(self, ctx: Context) -> Moving:
        put, drive, lying = ctx.book.put, self.driven(ctx), self.lying(ctx)
        alone = ctx.case == "diagonal"
        motors = 1.0 if alone else 2.0
        turning = put(
            "pulley.masses",
            "Motor pulleys that turn, as a mass at the head",
            lambda: motors * drive.mass.n,
            "kg",
            equation="n·m",
            source="equal kinetic energy",
            each=drive.mass,
            n=motors,
        )
        return Moving(
            drive.lam,
            ctx.given("assumptions.efficiency_loop"),
            lying.carried,
            turning,
            motor_share=1.0 if alone else 0.5,
            motors=motors,
            # One belt laid as an H takes the whole force; how it lies in its runs is told by their shares.
            belt_share=1.0 if not self.crossed else 1 / ROOT_2 if alone else 0.5,
            counts=Counts(motors=self.own_motors(), belts=2 if self.crossed else 1),
        )

    def lifted(self, ctx: Context, tally: Quantity) -> Quantity:
        """The beam rides on the rails of y and is driven along them with the head."""
        beam, part = ctx.given("end.beam_kg"), _ALONG_Y[ctx.case]
        return ctx.book.put(
            "mass.lifted",
            "Mass that weighs on the guides, with the beam's part",
            lambda: tally.n + beam.n * part,
            "kg",
            equation="m + c·m_beam; c 0 along x, 1 along y, 1/√2 on a diagonal",
            source="the beam's drag and weight act along y alone: power along the direction",
            tally=tally,
            beam=beam,
            c=part,
        )

    def loads(self, ctx: Context, mass: Quantity, slope: Quantity) -> tuple[Quantity, Quantity]:
        """The slope is that of the rails of y: nothing weighs along the beam."""
        weight, drag = super().loads(ctx, mass, slope)
        if ctx.case == "along y":
            return weight, drag
        part, whole = _ALONG_Y[ctx.case], weight
        along_case = ctx.book.put(
            "force.weight_along",
            f"Weight along the head's way, {ctx.case}",
            lambda: whole.n * part,
            "N",
            equation="c·W; c 0 along x, 1/√2 on a diagonal",
            source="the slope is that of the rails of y",
            weight=whole,
            c=part,
        )
        return along_case, drag

    # ---- geometry ------------------------------------------------------------------------------------------

    def three_runs(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Runs of the belt laid as an H: from the head to the left motor, between the motors along the back,
        from the right motor to the head; mm.
        """
        one, three = self.runs(ctx, positions)
        return one, along(self.lying(ctx).free.n) - one - three, three

    def direction(self, ctx: Context) -> tuple[float, float]:
        """Along x and along y of the case."""
        return {"along x": (1.0, 0.0), "along y": (0.0, 1.0)}.get(ctx.case, (1 / ROOT_2, 1 / ROOT_2))

    def largest_share(self, ctx: Context, positions: FloatArray) -> Real:
        if self.crossed:
            return super().largest_share(ctx, positions)
        return most(*(at_most(abs(change)) for change in self.changes(ctx, positions)))

    def changes(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, ...]:
        if self.crossed:
            return super().changes(ctx, positions)
        return gantries.h_belt_changes(*self.direction(ctx), *self.three_runs(ctx, positions))

    def teeth_share(self, ctx: Context) -> float:
        return 1.0 if self.crossed else sum(self.direction(ctx)) / 2

    def head_reach(self, ctx: Context) -> tuple[tuple[float, ...], ...]:
        if self.crossed:
            return super().head_reach(ctx)
        return (1.0, 1.0), (0.0, -2.0), (-1.0, 1.0)  # the head along x and along y

    def head_load(self, ctx: Context) -> tuple[float, ...]:
        return super().head_load(ctx) if self.crossed else self.direction(ctx)

    def run_lengths(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, ...]:
        return self.runs(ctx, positions) if self.crossed else self.three_runs(ctx, positions)

    # ---- ratings -------------------------------------------------------------------------------------------

    def forces(self, ctx: Context) -> None:
        super().forces(ctx)
        g, put = ctx.given, ctx.book.put
        force = ctx.loads.by_phase["accelerate"]
        ctx.rung(
            "travel_y",
            "Travel along y",
            g("end.travel_y_mm"),
            g("end.frame_y_mm"),
            1.0,
            unit="mm",
            section="travel",
            path="end.frame_y_mm",
            says="A longer frame, or less travel along y.",
        )
        put(
            "crossed.diagonal",
            "Belt speed on a diagonal",
            lambda: g("aim.speed_mm_s").n * ROOT_2,
            "mm/s",
            equation="√2·v",
            source="qA = x + y",
            speed=g("aim.speed_mm_s"),
        )
        width = g("end.frame_x_mm")
        skew = self._skew(ctx, "crossed.skew", "Skew of the beam from unequal tension", g("end.uneven_n"))
        offset = put(
            "crossed.squareness",
            "Head out of square from unequal tension",
            lambda: skew.n * width.n / 2,
            "mm",
            equation="φ·W/2",
            source="geometry",
            skew=skew,
            width=width,
        )
        allowed = g("aim.error_mm")
        ctx.rung(
            "squareness",
            "Squareness with unequal tension",
            offset,
            allowed,
            1.0,
            unit="mm",
            section="readings",
            path="end.uneven_n",
            says="Set both belts to the same pitch; stiffer guides.",
            lower_is_better=True,
        )
        if not self.crossed:
            moment = put(
                "crossed.rack",
                "Skew of the beam while the head accelerates along x",
                lambda: force.n * width.n / 2 / 1000 / g("end.guide_nm_rad").n,
                "rad",
                equation="φ = F_x·W/2/k_guide",
                source="one belt laid as an H pulls the beam askew with every force along x",
                force=force,
                width=width,
                guide=g("end.guide_nm_rad"),
            )
            lost = put(
                "crossed.rack_mm",
                "Head out of square while accelerating along x",
                lambda: moment.n * width.n / 2,
                "mm",
                equation="φ·W/2",
                source="geometry",
                skew=moment,
                width=width,
            )
            ctx.error_rung(
                "rack",
                "Racking of the beam",
                lost,
                "end.guide_nm_rad",
                "Stiffer guides, a narrower beam, or two crossed belts, which do not rack.",
            )

    # ---- what to show --------------------------------------------------------------------------------------

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        return [*self.pulley_nodes(ctx), self.idler_node(ctx, "idler", "Idlers", self.idler)]

    def tables(self, ctx: Context) -> list[Table]:
        """Both motors in every direction, and the stiffness at the head as a matrix, in the middle of the
        frame.
        """
        lying, loads, aim = self.lying(ctx), ctx.loads, ctx.design.aim
        radius, drag = self.driven(ctx).radius.n / 1000, loads.drag.n
        carried = [loads.masses.tally, lying.belts_kg, lying.idlers_kg]
        head = sum((m.value if m else None) or 0.0 for m in carried)
        a, v, eta = aim.acceleration_mm_s2 / 1000, aim.speed_mm_s, ctx.design.assumptions.efficiency_loop
        rpm = v / 1000 / radius * 30 / math.pi
        rows: list[tuple[float | str | None, ...]] = []
        for name, ux, uy in (
            ("along x", 1.0, 0.0),
            ("along y", 0.0, 1.0),
            ("diagonal, x = y", 1 / ROOT_2, 1 / ROOT_2),
            ("diagonal, x = −y", 1 / ROOT_2, -1 / ROOT_2),
        ):
            fx, fy = (head * a + drag) * ux, ((head + self.beam_kg) * a + drag) * uy
            rows.append(
                (
                    name,
                    radius * (fx + fy) / 2 / eta,
                    radius * (fy - fx) / 2 / eta,
                    rpm * (ux + uy),
                    rpm * (uy - ux),
                )
            )
        motors = Table(
            "motors",
            "Both motors, accelerating",
            (
                Column("head"),
                Column("left motor", "N·m"),
                Column("right motor", "N·m"),
                Column("left", "rpm"),
                Column("right", "rpm"),
            ),
            tuple(rows),
            "T_A = r(F_x + F_y)/2, T_B = r(F_y − F_x)/2; on a diagonal one of them works nearly alone.",
        )
        x, y, ea = self.frame_x_mm / 2, self.frame_y_mm / 2, lying.ea.value or 0.0
        free = lying.free.n
        if not self.crossed:
            return [motors]
        spread = self.frame_x_mm / 4
        k = []
        for at in (x - spread, x, x + spread):
            one, two = at + y + self.frame_y_mm, self.frame_x_mm - at + y + self.frame_y_mm
            ka, kb = (ea * (1 / run + 1 / max(free - run, 1.0)) for run in (one, two))
            k.append((f"x = {said(at, 'mm', '.0f')}", ka + kb, ka + kb, ka - kb))
        return [
            motors,
            Table(
                "stiffness",
                "Stiffness of the belts at the head",
                (
                    Column("head at"),
                    Column("k along x", "N/mm"),
                    Column("k along y", "N/mm"),
                    Column("coupling", "N/mm"),
                ),
                tuple(k),
                "K = JᵀkJ with both motors held; k_A + k_B on its diagonal, k_A − k_B beside it.",
            ),
        ]

    def scene(self, ctx: Context) -> Scene:
        profile, travel = self.profile(ctx), ctx.usable
        x, y = self._place(ctx, 0.0)
        dx, dy = self.drift(ctx, Round("head", x, y, 0.0, 1, part="end.clamp"))
        head, beam, w = (dx, dy), (0.0, dy), self.frame_x_mm
        handles = self.handles(ctx)
        wheels: list[SceneWheel] = []
        strands = []
        for laid, runs in zip(self.laid(ctx), (-dx - dy, dx - dy), strict=False):
            mirror = bool(wheels)
            own = (
                {**handles, **roller_handles(self.rollers, "end.rollers", laid.near, mirror=True)}
                if mirror
                else handles
            )
            for wheel in wheels_of(laid, ctx.design, runs, own):
                # Only what lies far enough to the right or to the back can stretch the frame that way.
                still = wheel.part == "end.idler" and wheel.at.x_mm < w / 2
                wheels.append(replace(wheel, handles=() if still else wheel.handles, plane=int(mirror)))
            strands.append(
                replace(
                    strand_of(laid.near, "toothed", runs, profile.pitch_mm, laid.moves), plane=int(mirror)
                )
            )
        return Scene(
            f"Seen from above, head {ctx.case}",
            "Head",
            travel,
            tuple(wheels),
            tuple(strands),
            (
                Slab("frame", Spot(w / 2, y, *beam), w - 20, 12.0),
                Slab(
                    "carriage",
                    Spot(x, y, *head),
                    ctx.design.guide.carriage_mm,
                    ctx.design.guide.carriage_mm * 0.7,
                ),
            ),
            (
                Mark("left motor", Spot(0, 0), level=1 if self.crossed else -2),
                Mark("right motor", Spot(w, 0), level=1 if self.crossed else -2),
                Mark("W", Spot(0, 0), Spot(w, 0), w, level=-1),
            ),
        )

    def bill(self, ctx: Context) -> list[BillLine]:
        return self.belt_bill(ctx, [("end.idler", self.idler, 4 if self.crossed else 6)])

    def cautions(self, ctx: Context) -> list[Caution]:
        return [
            *super().cautions(ctx),
            Caution(
                "tune",
                "Both belts must sound alike: unequal tension pulls the beam askew. Square the beam "
                "with both motors unpowered, then tension.",
            ),
        ]
