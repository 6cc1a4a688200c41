"""Crossed belts: two fixed motors that both turn for x and for y; with two belts, or one belt laid as an H.

Seen from above: x along the beam (width W), y along the rails (length H). qA = x + y, qB = y − x. Along x or y both motors
share the load; on a diagonal one works alone and its belt runs √2 as fast as the head.
"""

from __future__ import annotations

import math
from typing import ClassVar, Literal

import numpy as np

from .. import drives
from ..context import Context
from ..errors import Problem, problem
from ..formula import Quantity
from ..model import Idler, num
from ..path import Path, Round, belt_path
from ..report import BillLine, Caution, DriveNode, Table
from ..scene import Mark, Scene, Slab, Spot, strand_of, toothed_wheel
from ..springs import Spring
from ..stages.base import OutputShaft
from . import loop_checks
from .base import FloatArray, Moving
from .belt_end import BeltEnd

ROOT_2 = math.sqrt(2)


class CrossedBelts(BeltEnd):
    """Each case (along x, along y, diagonal) is one direction of the head; travel and speed are the head's along it."""

    kind: Literal["crossed_belts"] = "crossed_belts"
    point: ClassVar[str] = "head"
    form: Literal["two belts", "one belt, H"] = "two belts"
    idler: Idler = Idler()
    frame_x_mm: float = num("Between the left and right pulleys", "length", "mm", 40, 20_000, 500.0, "W, along the beam.")
    frame_y_mm: float = num("Between the front and back pulleys", "length", "mm", 40, 20_000, 500.0, "H, along the rails.")
    travel_y_mm: float = num("Travel wanted along y", "length", "mm", 1, 20_000, 300.0)
    beam_kg: float = num("Mass of the beam", "mass", "kg", 0, 500, 0.5, "Moves with the head along y only.")
    guide_nm_rad: float = num(
        "Guides against skew of the beam", "torsional stiffness", "N·m/rad", 1, 1e8, 2000.0, "Push one end of the beam, read the skew."
    )
    uneven_n: float = num("Tensions differ by", "force", "N", 0, 1e4, 5.0, "Between the two belts, as you can set them.")

    def cases(self) -> tuple[str, ...]:
        return ("along x", "along y", "diagonal")

    @property
    def crossed(self) -> bool:
        return self.form == "two belts"

    def _gain(self, ctx: Context) -> float:
        return ROOT_2 if ctx.case == "diagonal" else 1.0

    def check(self, ctx: Context) -> list[Problem]:
        out = loop_checks.check_belt(self, ctx, [("end.idler", self.idler)])
        guide = ctx.design.guide
        if guide.rail_mm > self.frame_x_mm:
            out.append(
                problem(
                    "end.frame_x_mm",
                    "is shorter than the beam's rail",
                    value=self.frame_x_mm,
                    limit=guide.rail_mm,
                    unit="mm",
                    remedy="Widen the frame, or take a shorter rail for the beam.",
                )
            )
        return out

    def moving(self, ctx: Context) -> Moving:
        g, put, gain = ctx.given, ctx.book.put, self._gain(ctx)
        ctx.memo["belts"], ctx.memo["motors"] = (2 if self.crossed else 1), 2
        drive = self.driven(ctx, gain)
        idler_r = self.idler_radius(ctx, "end.idler", self.idler, "idler")
        gap, wx, hy = g("end.clamp.gap_mm"), g("end.frame_x_mm"), g("end.frame_y_mm")
        free = put(
            "belt.free",
            "Free belt between the clamps, each belt",
            lambda: self._whole(ctx) - (gap.value or 0),
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
            lambda: belts * (line_mass.value or 0) * (free.value or 0) * 1e-6,
            "kg",
            equation="n·µ·L",
            source="geometry",
            line_mass=line_mass,
            free=free,
        )
        idlers = self.idler_mass(ctx, "end.idler", self.idler, "idler", idler_r, count=8 if self.crossed else 6)
        beam, part = g("end.beam_kg"), {"along x": 0.0, "along y": 1.0, "diagonal": 0.5}[ctx.case]
        carried = put(
            "loop.carried",
            "Beam, belts and idlers as a mass at the head",
            lambda: (beam.value or 0) * part + (belt_kg.value or 0) + (idlers.value or 0),
            "kg",
            equation="c·m_beam + m_belts + m_idlers; c 0 along x, 1 along y, ½ on a diagonal",
            source="equal kinetic energy",
            beam=beam,
            c=part,
            belts=belt_kg,
            idlers=idlers,
        )
        half_turn = put(
            "pulley.wrap",
            "Wrap on a motor's pulley",
            math.pi / 2 if self.crossed else math.pi,
            "rad",
            equation="¼ turn with two belts, ½ turn with one",
            source="the belt's path round the frame",
            x=wx,
        )
        put("idler.wrap", "Wrap on a corner idler", math.pi / 2, "rad", equation="¼ turn", source="the belt's path round the frame", x=wx)
        self.rate_pulley(ctx, half_turn)
        alone = ctx.case == "diagonal"
        motors = 1.0 if alone else 2.0
        turning = put(
            "pulley.masses",
            "Motor pulleys that turn, as a mass at the head",
            lambda: motors * (drive.mass.value or 0),
            "kg",
            equation="n·m",
            source="equal kinetic energy",
            each=drive.mass,
            n=motors,
        )
        return Moving(
            drive.lam,
            g("assumptions.efficiency_loop"),
            carried,
            turning,
            motor_share=1.0 if alone else 0.5,
            motors=motors,
            belt_share=1 / ROOT_2 if alone else 0.5,
        )

    # ---- geometry ---------------------------------------------------------------------------------------------------

    def _place(self, ctx: Context, travel: FloatArray) -> tuple[FloatArray, FloatArray]:
        """x along the beam and y along the rails for places along the case's direction."""
        guide = ctx.design.guide
        first = (self.frame_x_mm - guide.rail_mm) / 2 + guide.near_mm + guide.overtravel_mm + guide.carriage_mm / 2
        spare = (self.frame_y_mm - self.travel_y_mm) / 2
        whole = max((ctx.book.results["travel.usable"].value or 1.0) if "travel.usable" in ctx.book.results else 1.0, 1.0)
        share = travel / whole
        x = first + share * whole if ctx.case != "along y" else np.full_like(travel, self.frame_x_mm / 2)
        y = spare + share * self.travel_y_mm if ctx.case != "along x" else np.full_like(travel, self.frame_y_mm / 2)
        return x, y

    def _whole(self, ctx: Context) -> float:
        return self._belt_a(ctx, self.frame_x_mm / 2, self.frame_y_mm / 2).length_mm

    def _belt_a(self, ctx: Context, x: float, y: float) -> Path:
        """The belt from the head's one side to its other, through the left motor; the second belt is its mirror image."""
        r = ctx.book.results["idler.radius"].value or 0.0
        rp = ctx.book.results["pulley.radius"].value or 0.0
        w, h = self.frame_x_mm, self.frame_y_mm
        rounds: tuple[Round, ...]
        if self.crossed:
            rounds = (
                Round("head", x, y, 0, 1), Round("beam's left idler", 0, y - r, r, 1, "end.frame_x_mm"), Round("front left idler", -2 * r, 0, r, -1, "end.frame_y_mm"),
                Round("left motor", -3 * r + rp, h, rp, -1, "end.pulley.teeth"), Round("back right idler", w, h + rp - r, r, -1, "end.frame_x_mm"),
                Round("beam's right idler", w, y + r, r, -1, "end.frame_x_mm"), Round("head", x, y, 0, 1),
            )  # fmt: skip
        else:
            rounds = (
                Round("head", x, y - r, 0, 1), Round("beam's lower left idler", 0, y - 2 * r, r, 1, "end.frame_x_mm"), Round("left motor", -r - rp, 0, rp, -1, "end.pulley.teeth"),
                Round("back left idler", -r - 2 * rp + r, h, r, -1, "end.frame_y_mm"), Round("beam's upper left idler", 2 * r - 2 * rp, y + 2 * r, r, 1, "end.frame_x_mm"),
                Round("beam's upper right idler", w - 2 * r + 2 * rp, y + 2 * r, r, 1, "end.frame_x_mm"), Round("back right idler", w + 2 * rp, h, r, -1, "end.frame_y_mm"),
                Round("right motor", w + r + rp, 0, rp, -1, "end.pulley.teeth"), Round("beam's lower right idler", w, y - 2 * r, r, 1, "end.frame_x_mm"), Round("head", x, y - r, 0, 1),
            )  # fmt: skip
        return belt_path(rounds, closed=False)

    def runs(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, FloatArray]:
        x, y = self._place(ctx, positions)
        free = ctx.book.results["belt.free"].value or 0.0
        if self.crossed:
            run_1 = x + y + self.frame_y_mm - self.clamp.gap_mm / 2
            return run_1, free - run_1
        run_1 = x + y - self.clamp.gap_mm / 2
        return run_1, y + self.frame_x_mm - x - self.clamp.gap_mm / 2

    def belt_springs(self, ctx: Context, positions: FloatArray, pulley: str, nodes: list[str], gain: float) -> list[Spring]:
        if self.crossed:
            return super().belt_springs(ctx, positions, pulley, nodes, gain)
        # One belt for both motors: each carries half of it; along y the back run between the motors draws too, twice as far.
        ea = (ctx.book.results["belt.ea"].value or 0.0) / 2
        run_1, run_2 = self.runs(ctx, positions)
        back = 0.0 if ctx.case == "along x" else 2 / np.maximum((ctx.book.results["belt.free"].value or 0.0) - run_1 - run_2, 1.0)

        def reach(**coefficients: float) -> tuple[float, ...]:
            return tuple(coefficients.get(n, 0.0) for n in nodes)

        return [
            Spring("belt", "Belt", ea * (1 / run_1 + back), reach(carriage=gain, **{pulley: -gain})),
            Spring("belt", "Belt", ea * (1 / run_2 + back), reach(carriage=-gain, **{pulley: gain})),
        ]

    def plucked(self, ctx: Context) -> tuple[str, float]:
        x, _ = self._place(ctx, np.array([0.0]))
        return "the run along the beam from the head to the left idler", float(x[0]) - self.clamp.gap_mm / 2

    def springs(
        self, ctx: Context, positions: FloatArray, torque_path: list[tuple[str, str, float]], gain: float = 1.0
    ) -> tuple[list[Spring], tuple[float, ...]] | None:
        return super().springs(ctx, positions, torque_path, self._gain(ctx))

    # ---- ratings ----------------------------------------------------------------------------------------------------

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        super().forces(ctx, peak, shaft)
        g, r, put = ctx.given, ctx.book.results, ctx.book.put
        ctx.rung(
            "travel_y",
            "Travel along y",
            g("end.travel_y_mm"),
            g("end.frame_y_mm"),
            1.0,
            unit="mm",
            step="aim",
            path="end.frame_y_mm",
            says="A longer frame, or less travel along y.",
        )
        put(
            "crossed.diagonal",
            "Belt speed on a diagonal",
            lambda: ctx.design.aim.speed_mm_s * ROOT_2,
            "mm/s",
            equation="√2·v",
            source="qA = x + y",
            speed=g("aim.speed_mm_s"),
        )
        width, half = g("end.frame_x_mm"), lambda: (r["belt.free"].value or 0) / 2
        run = put("crossed.run", "Half of a belt", half, "mm", equation="L/2", source="geometry", free=r["belt.free"])
        skew = ctx.calc(
            "crossed.skew",
            "Skew of the beam from unequal tension",
            drives.racked_skew,
            tension_difference_n=g("end.uneven_n"),
            width_mm=width,
            guide_nm_rad=g("end.guide_nm_rad"),
            ea_n=r["belt.ea"],
            length_a_mm=run,
            length_b_mm=run,
        )
        offset = put(
            "crossed.squareness",
            "Head out of square from unequal tension",
            lambda: (skew.value or 0) * (width.value or 0) / 2,
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
            step="tune",
            path="end.uneven_n",
            says="Set both belts to the same pitch; stiffer guides.",
            lower_is_better=True,
        )
        if not self.crossed:
            moment = put(
                "crossed.rack",
                "Skew of the beam while the head accelerates along x",
                lambda: (r["force.accelerate"].value or 0) * (width.value or 0) / 2 / 1000 / (g("end.guide_nm_rad").value or 1),
                "rad",
                equation="φ = F_x·W/2/k_guide",
                source="one belt laid as an H pulls the beam askew with every force along x",
                force=r["force.accelerate"],
                width=width,
                guide=g("end.guide_nm_rad"),
            )
            lost = put(
                "crossed.rack_mm",
                "Head out of square while accelerating along x",
                lambda: (moment.value or 0) * (width.value or 0) / 2,
                "mm",
                equation="φ·W/2",
                source="geometry",
                skew=moment,
                width=width,
            )
            ctx.rung(
                "rack",
                "Racking of the beam",
                lost,
                allowed,
                g("assumptions.margin_error"),
                unit="mm",
                step="shake",
                path="end.guide_nm_rad",
                says="Stiffer guides, a narrower beam, or two crossed belts, which do not rack.",
                lower_is_better=True,
            )

    # ---- what to show -----------------------------------------------------------------------------------------------

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        idler = f"{self.idler.teeth} teeth" if self.idler.kind == "toothed" else f"⌀ {self.idler.diameter_mm:g} mm"
        load = ctx.book.results["idler.shaft_load"].value
        return [
            *self.pulley_nodes(ctx),
            DriveNode("idler", "Idlers", "end.idler", "end.idler.teeth", idler, ctx.design.aim.speed_mm_s, "mm/s", load, "N", None),
        ]

    def tables(self, ctx: Context) -> list[Table]:
        """Both motors in every direction, and the stiffness at the head as a matrix, in the middle of the frame."""
        r, aim = ctx.book.results, ctx.design.aim
        radius, drag = (r["pulley.radius"].value or 1.0) / 1000, r["force.drag"].value or 0.0
        head = (r["mass.tally"].value or 0.0) + (r["belt.mass"].value or 0.0) + (r["idler.mass"].value or 0.0)
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
            rows.append((name, radius * (fx + fy) / 2 / eta, radius * (fy - fx) / 2 / eta, rpm * (ux + uy), rpm * (uy - ux)))
        motors = Table(
            "motors",
            "Both motors, accelerating",
            ("head", "left motor, N·m", "right motor, N·m", "left, rpm", "right, rpm"),
            tuple(rows),
            "T_A = r(F_x + F_y)/2, T_B = r(F_y − F_x)/2; on a diagonal one of them works nearly alone.",
        )
        x, y, ea = self.frame_x_mm / 2, self.frame_y_mm / 2, r["belt.ea"].value or 0.0
        free = r["belt.free"].value or 1.0
        if not self.crossed:
            return [motors]
        spread = self.frame_x_mm / 4
        k = []
        for at in (x - spread, x, x + spread):
            one, two = at + y + self.frame_y_mm, self.frame_x_mm - at + y + self.frame_y_mm
            ka, kb = (ea * (1 / run + 1 / max(free - run, 1.0)) for run in (one, two))
            k.append((f"x = {at:.0f} mm", ka + kb, ka + kb, ka - kb))
        return [
            motors,
            Table(
                "stiffness",
                "Stiffness of the belts at the head",
                ("head at", "k along x, N/mm", "k along y, N/mm", "coupling, N/mm"),
                tuple(k),
                "K = JᵀkJ with both motors held; k_A + k_B on its diagonal, k_A − k_B beside it.",
            ),
        ]

    def scene(self, ctx: Context) -> Scene:
        profile, travel = ctx.memo["profile"], ctx.book.results["travel.usable"].value or 0.0
        x, y = (float(v[0]) for v in self._place(ctx, np.array([0.0])))
        ends = self._place(ctx, np.array([0.0, travel]))
        dx, dy = ((float(v[1]) - float(v[0])) / max(travel, 1e-9) for v in ends)
        worked = self._belt_a(ctx, x, y)
        head, beam = (dx, dy), (0.0, dy)
        w = self.frame_x_mm
        smooth = self.idler.diameter_mm / 2 if self.idler.kind == "smooth" else None

        def drift(name: str) -> tuple[float, float]:
            return head if name == "head" else beam if name.startswith("beam") else (0.0, 0.0)

        wheels, strands = [], []
        for mirror in (False, True) if self.crossed else (False,):
            sign = -1.0 if mirror else 1.0
            rounds = tuple(Round(p.name, w - p.x_mm if mirror else p.x_mm, p.y_mm, p.radius_mm, int(p.side * sign), p.field) for p in worked.rounds)
            path = belt_path(rounds, closed=False)
            strands.append(strand_of(path, "toothed", 1.0, profile.pitch_mm, [drift(p.name) for p in rounds]))
            for p, wrap in zip(rounds, path.wraps, strict=True):
                if p.radius_mm > 0:
                    motor = "motor" in p.name
                    turn = sign * ((dx + dy) if not mirror else (dy - dx)) / p.radius_mm * p.side * sign
                    wheels.append(
                        toothed_wheel(
                            p.name.capitalize(),
                            profile,
                            Spot(p.x_mm, p.y_mm, *drift(p.name)),
                            p.radius_mm,
                            self.pulley.bore_mm if motor else 5.0,
                            turn,
                            p.field,
                            wrap,
                            None if motor else smooth,
                        )
                    )
        return Scene(
            f"Seen from above, head {ctx.case}", "Head", travel, tuple(wheels), tuple(strands),
            (Slab("frame", Spot(w / 2, y, *beam), w - 20, 12.0), Slab("carriage", Spot(x, y, *head), ctx.design.guide.carriage_mm, ctx.design.guide.carriage_mm * 0.7)),
            (
                Mark("left motor", Spot(0, 0), level=1 if self.crossed else -2), Mark("right motor", Spot(w, 0), level=1 if self.crossed else -2),
                Mark("W", Spot(0, 0), Spot(w, 0), w, level=-1),
            ),
        )  # fmt: skip

    def bill(self, ctx: Context) -> list[BillLine]:
        return self.belt_bill(ctx, [("end.idler", self.idler, 4 if self.crossed else 6)])

    def cautions(self, ctx: Context) -> list[Caution]:
        return [
            *super().cautions(ctx),
            Caution(
                "tune", "Both belts must sound alike: unequal tension pulls the beam askew. Square the beam with both motors unpowered, then tension."
            ),
        ]
