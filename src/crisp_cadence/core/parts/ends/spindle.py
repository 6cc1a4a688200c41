"""Spindle by V-belt: motor, a movable middle pulley with a low and a high pair, a stepped cone, and the
spindle.

Two belts of stock length; the diameters of every step are solved so that one belt fits all of them at one
place of the middle pulley, which tensions both.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.report import BillLine, Caution, Column, CutLine, DriveNode, Table, WorkStep
from ...formulas import motion, vbelt
from ...formulas.belt import open_belt_length
from ...formulas.running import line_angle
from ...geometry.scene import Handle, Mark, Scene, SceneWheel, Spot, strand_of
from ...ledger.amounts import said
from ...ledger.quantity import Given, Quantity
from ..stages.contract import Motor, bought
from ..work_steps import AID, lay_out
from .contract import FloatArray, Moving, OwnSpring
from .step_cones import Step, StepCones

V_LINE_DEG = 0.5  # offset over span that a V-belt bears (handbook, from memory)
SHARE = 0.95  # efficiency of one V-belt (common practice)


class Spindle(StepCones):
    """Speeds run in equal ratios from the lowest to the highest, half of them in each pair."""

    FIRST = ("low_rpm", "high_rpm", "steps", "section")

    kind: Literal["spindle"] = "spindle"
    point: ClassVar[str] = "rim"
    guided: ClassVar[bool] = False
    turning: ClassVar[bool] = True
    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("spindle.",)}

    # ---- the cones -----------------------------------------------------------------------------------------

    # ---- the chain -----------------------------------------------------------------------------------------

    def travel(self, ctx: Context) -> Quantity | None:
        return None

    def moving(self, ctx: Context) -> Moving:
        g, put, now = ctx.given, ctx.book.put, self._now(ctx)
        ratio = put(
            "spindle.ratio",
            "Reduction from motor to spindle, highest speed",
            self._motor_rpm(ctx) / now.rpm,
            ": 1",
            equation="(D1/d1)·(D2/d2)/(1 − slip)²",
            source="solved steps",
            low=g("end.low_rpm"),
            high=g("end.high_rpm"),
            slip=g("end.slip_percent"),
        )
        lam = put(
            "end.lam",
            "Turn of the motor for 1 mm at the rim",
            lambda: ratio.n / self.work_mm,
            "rad/mm",
            equation="λ = i/R",
            source="kinematics",
            ratio=ratio,
            work=g("end.work_mm"),
        )
        carried = put(
            "loop.carried",
            "Spindle and work as a mass at the rim",
            self.spin_gcm2 * 1e-7 / (self.work_mm / 1000) ** 2,
            "kg",
            equation="J/R²",
            source="equal kinetic energy",
            inertia=g("end.spin_gcm2"),
            radius=g("end.work_mm"),
        )
        turning = put(
            "spindle.turning",
            "Pulleys besides",
            0.0,
            "kg",
            equation="0",
            source="counted with the spindle",
            lam=lam,
        )
        return Moving(lam, SHARE**2, carried, turning)

    def loads(self, ctx: Context, mass: Quantity, slope: Quantity) -> tuple[Quantity, Quantity]:
        weight = ctx.book.put(
            "force.weight",
            "Weight along the movement",
            0.0,
            "N",
            equation="0",
            source="it turns in place",
            mass=mass,
        )
        drag = ctx.book.put(
            "force.drag",
            "Drag at the rim",
            self.drag_n,
            "N",
            equation="as entered",
            source_kind="your entry",
            source="your entry",
            drag=ctx.given("end.drag_n"),
        )
        return weight, drag

    def forces(self, ctx: Context) -> None:
        g, put, steps, section = ctx.given, ctx.book.put, self.solved(ctx), vbelt.SECTIONS[self.section]
        low, high = (
            put(
                f"spindle.{name}",
                f"{words} speed that comes out",
                step.rpm,
                "rpm",
                equation="n·(d1/D1)·(d2/D2)·(1 − slip)²",
                source="turned diameters",
                wanted=g(f"end.{name}_rpm"),
            )
            for name, words, step in (("low", "Lowest", steps[0]), ("high", "Highest", steps[-1]))
        )
        ctx.rung(
            "low",
            "Lowest spindle speed, within 2 %",
            low,
            g("end.low_rpm"),
            0.98,
            unit="rpm",
            section="end",
            path="end.low_rpm",
            says="Finer turning, another pair, or a slower motor.",
            lower_is_better=True,
        )
        ctx.rung(
            "high",
            "Highest spindle speed, within 2 %",
            g("end.high_rpm"),
            high,
            0.98,
            unit="rpm",
            section="end",
            path="end.high_rpm",
            says="Finer turning, another pair, or a faster motor.",
        )
        xs = [(s.middle_x_mm, s.middle_y_mm) for s in steps]
        roam = max((math.dist(a, b) for a in xs for b in xs), default=0.0)
        moves = put(
            "spindle.roam",
            "Middle pulley moves between steps",
            roam,
            "mm",
            equation="places of two taut belts (intersection of circles)",
            source="two lengths, two unknowns",
            motor=g("end.motor_belt_mm"),
            cone=g("end.cone_belt_mm"),
        )
        ctx.rung(
            "middle",
            "Travel of the middle pulley",
            moves,
            g("end.middle_travel_mm"),
            1.5,
            unit="mm",
            section="running",
            path="end.middle_travel_mm",
            says="A longer slot, or diameters turned closer to the solved ones.",
        )
        self._in_line(ctx)
        top = max(max(p[0] for p in self.diameters(ctx)[0]) * self._motor_rpm(ctx), 0.0) * math.pi / 60_000
        speed = put(
            "spindle.belt_speed",
            "Fastest belt",
            top,
            "m/s",
            equation="π·d·n/60",
            source="kinematics",
            motor=g("end.low_rpm"),
        )
        ctx.rung(
            "belt_speed",
            "Belt speed",
            speed,
            Given("catalogue.v.speed", section.speed_limit_m_s, "m/s", "handbook", f"section {section.name}"),
            1.0,
            unit="m/s",
            section="running",
            path="end.motor_centre_mm",
            says="Smaller motor pulleys.",
        )
        rest = self.cone_tension(ctx)
        wrap = self._worst(ctx)[0]
        put(
            "spindle.screw_force",
            "Pull on the screw that sets it",
            lambda: 2 * rest.n * math.sin(wrap / 2),
            "N",
            equation="2·T_0·sin(θ/2)",
            source="vector sum of two spans",
            tension=rest,
            wrap=wrap,
        )

    def _worst(self, ctx: Context) -> tuple[float, float, float, float]:
        """Of the step whose cone belt wants the most tension: as `_tension` has it."""
        return max((self._tension(ctx, step) for step in self.solved(ctx)), key=lambda found: found[3])

    def cone_tension(self, ctx: Context) -> Quantity:
        """Tension to set in the cone's belt, N."""
        return ctx.once(self._cone_tension)

    def _cone_tension(self, ctx: Context) -> Quantity:
        return ctx.book.put(
            "spindle.tension",
            "Tension to set, the cone's belt",
            self._worst(ctx)[3],
            "N",
            equation="T_0 = (T1 + T2)/2, worst step",
            source="wedge friction with centrifugal tension",
            friction=ctx.given("end.friction"),
            cap=ctx.given("end.cap"),
        )

    def _in_line(self, ctx: Context) -> None:
        """The grooves of each belt against one another; V-belts bear twice the angle of toothed ones."""
        rows = self.lines(ctx)
        steps = [
            (abs(b[2] - a[2]), min(a[3], b[3]), b[1])
            for a, b in pairwise(rows)
            if a[2] is not None and b[2] is not None
        ]
        if steps:
            offset, span, field = max(steps, key=lambda s: s[0] / s[1])
            angle = ctx.calc(
                "line.angle",
                "Angle of the belt at the largest step",
                line_angle,
                offset_mm=offset,
                span_mm=span,
            )
            ctx.rung(
                "line",
                "Belts run in line",
                angle,
                Given("catalogue.v.line", V_LINE_DEG, "°", "from memory", "half a degree, V-belt handbooks"),
                1.0,
                unit="°",
                section="running",
                path=field,
                lower_is_better=True,
                says="Shift the pulley on its shaft until a straight edge touches both rims.",
            )

    def _tension(self, ctx: Context, s: Step) -> tuple[float, float, float, float]:
        """Wrap (rad), belt speed (m/s), tight tension and resting tension (N) of the cone's belt at full
        motor power.
        """
        motor: Motor = ctx.design.chain[0]
        power = (motor.rated_power_w() or 100.0) * SHARE
        driver, driven = self.diameters(ctx)[1][s.cone]
        section = vbelt.SECTIONS[self.section]
        wrap = float(vbelt.smallest_wrap(self.cone_centre_mm, driver, driven))
        v = math.pi * driven * s.rpm / 60_000
        groove = float(vbelt.groove_angle(min(driver, driven), 80.0 if self.section == "Z" else 118.0))
        ratio = min(float(vbelt.wedge_ratio(self.friction, wrap, groove)), self.cap)
        tc = float(vbelt.centrifugal_tension(section.line_mass_g_m, v))
        tight = float(vbelt.tight_tension(power, v, ratio, tc))
        return wrap, v, tight, float(vbelt.resting_tension(tight, (tight - tc) / ratio + tc))

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[OwnSpring]:
        return []

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        steps = self.solved(ctx)
        rpm = ctx.calc(
            "spindle.rpm",
            "Spindle speed at the speed aimed at",
            motion.shaft_speed,
            speed_mm_s=ctx.given("aim.speed_mm_s"),
            radians_per_mm=1 / self.work_mm,
        )
        return [
            DriveNode(
                "cones",
                "Cones and belts",
                "end",
                "end.steps",
                f"{2 * self.steps} speeds",
                steps[-1].rpm,
                "rpm",
                ctx.drive.torque_end["accelerate"].value,
                "N·m",
                None,
            ),
            DriveNode(
                "spindle",
                "Spindle",
                "end",
                "end.work_mm",
                f"{steps[0].rpm:.0f} to {steps[-1].rpm:.0f} rpm",
                rpm.value,
                "rpm",
                ctx.loads.by_phase["push"].value,
                "N",
                None,
            ),
        ]

    def tables(self, ctx: Context) -> list[Table]:
        pairs, cone = self.diameters(ctx)
        plate: Motor = ctx.design.chain[0]
        power = plate.rated_power_w() or 0.0
        rows: list[tuple[float | str | None, ...]] = []
        for s in self.solved(ctx):
            (motor, middle), (driver, driven) = pairs[s.pair], cone[s.cone]
            wrap, v, tight, rest = self._tension(ctx, s)
            torque = power * SHARE**2 / (s.rpm * math.pi / 30)
            rows.append(
                (
                    s.rpm,
                    "low" if s.pair == 0 else "high",
                    motor,
                    middle,
                    driver,
                    driven,
                    math.degrees(wrap),
                    v,
                    torque,
                    tight,
                    rest,
                )
            )
        head = (
            Column("spindle", "rpm"),
            Column("pair"),
            Column("motor pulley", "mm"),
            Column("middle", "mm"),
            Column("cone driver", "mm"),
            Column("cone driven", "mm"),
            Column("wrap", "°"),
            Column("belt", "m/s"),
            Column("torque", "N·m"),
            Column("tight span", "N"),
            Column("tension to set", "N"),
        )
        return [
            Table(
                "speeds",
                "Every speed",
                head,
                tuple(rows),
                "Pitch diameters. One belt fits every step of its cone; the middle pulley tensions "
                "both belts.",
            )
        ]

    def scene(self, ctx: Context) -> Scene:
        now, (pairs, cone) = self._now(ctx), self.diameters(ctx)
        (motor, middle), (driver, driven) = pairs[now.pair], cone[now.cone]
        m, p, s = (0.0, 0.0), (now.middle_x_mm, now.middle_y_mm), (self.apart_mm, 0.0)
        (_, _, first), (_, _, second) = self.grooved(ctx)
        draws = (
            Handle("end.motor_centre_mm", self.motor_centre_mm, 1.0, 0.0),
            Handle("end.cone_centre_mm", self.cone_centre_mm, -1.0, 0.0),
        )
        apart = (Handle("end.apart_mm", self.apart_mm, 1.0, 0.0),)
        lam = 1 / self.work_mm
        at_middle = lam * driven / driver
        wheels = (
            SceneWheel(
                "Motor", "groove", Spot(*m), motor / 2, motor / 2 + 2, 14.0, at_middle * middle / motor
            ),
            SceneWheel(
                "Middle, motor side",
                "groove",
                Spot(*p),
                middle / 2,
                middle / 2 + 2,
                12.0,
                at_middle,
                part="end.middle",
                handles=draws,
            ),
            SceneWheel(
                "Middle, cone",
                "groove",
                Spot(*p),
                driver / 2,
                driver / 2 + 2,
                12.0,
                at_middle,
                part="end.middle",
                handles=draws,
            ),
            SceneWheel(
                "Spindle",
                "groove",
                Spot(*s),
                driven / 2,
                driven / 2 + 2,
                20.0,
                lam,
                part="end.spindle",
                handles=apart,
            ),
        )
        low = -max(motor, driven) / 2 - 30
        return Scene(
            "Seen along the shafts, highest speed",
            "",
            2 * math.pi * self.work_mm,
            wheels,
            (strand_of(first, "v", at_middle * middle / 2), strand_of(second, "v", lam * driven / 2)),
            (),
            (
                Mark("motor", Spot(m[0], low)),
                Mark("middle pulley", Spot(p[0], p[1] + middle / 2 + 14)),
                Mark("spindle", Spot(s[0], low)),
            ),
        )

    def cut(self, ctx: Context) -> list[CutLine]:
        pairs, cone = self.diameters(ctx)
        lines = [
            CutLine(
                f"V-belt {self.section}, motor to middle",
                self.motor_belt_mm,
                0,
                "bought closed, pitch length",
            ),
            CutLine(f"V-belt {self.section}, cone", self.cone_belt_mm, 0, "bought closed, pitch length"),
        ]
        for name, rows, c, length in (
            ("motor pulleys and middle pulley", pairs, self.motor_centre_mm, self.motor_belt_mm),
            ("cone of middle pulley and spindle", cone, self.cone_centre_mm, self.cone_belt_mm),
        ):
            off = max(abs(float(open_belt_length(c, a / 2, b / 2)) - length) for a, b in rows)
            lines.append(
                CutLine(
                    f"Turn the {name}",
                    max(max(r) for r in rows),
                    0,
                    "pitch diameters "
                    + ", ".join(f"{a:g}/{b:g}" for a, b in rows)
                    + f" mm; turned to {said(self.round_mm, 'mm')} they differ by "
                    + f"{said(off, 'mm', '.2f')} of belt",
                )
            )
        return lines

    def bill(self, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self.cones,
                "Cones and pulleys",
                f"section {self.section}, {2 * self.steps} speeds",
                "end.cones",
            ),
            bought(
                self.belts,
                "V-belts",
                f"{self.section} {self.motor_belt_mm:g} and {self.cone_belt_mm:g} mm",
                "end.belts",
                2,
            ),
        ]

    def work(self, ctx: Context) -> list[WorkStep]:
        return [
            lay_out("shafts, bores, belt lengths"),
            WorkStep(
                "bearings",
                "Press the bearings in and run the spindle through both: it must turn by its own weight.",
                "aligned",
                after=("check_parts",),
            ),
            WorkStep(
                "pulley_on",
                "Fit motor pulleys, middle pulley and cones, keys in.",
                "loose",
                after=("bearings",),
                needs=("end.cones",),
            ),
            WorkStep(
                "line_up",
                "Line each pair of grooves up with a straight edge.",
                "aligned",
                after=("pulley_on", "motor_on"),
                check="Touches both rims in two places each.",
            ),
            WorkStep(
                "belts_on",
                "Lay both belts on the slowest step with the middle pulley slack.",
                after=("line_up",),
                needs=("end.belts",),
                caution="Plug pulled and locked away.",
            ),
            WorkStep(
                "tension",
                f"Draw the middle pulley out until the cone's belt has "
                f"{said(self.cone_tension(ctx).value or 0, 'N', '.0f')}, then lock its screw.",
                "tightened",
                after=("belts_on",),
                check="Both belts give alike under a thumb.",
            ),
            WorkStep(
                "guards",
                "Fit the guards over both belts and the cones.",
                "tightened",
                after=("tension",),
                covers=("tension",),
                caution="Never run it without: belts and spindle catch sleeves and hair.",
            ),
            WorkStep(
                "slow_run",
                "Run the slowest speed for ten minutes, then each speed in turn.",
                after=("guards",),
                check="No squeal, no smell, bearings hand-warm.",
            ),
            WorkStep(
                "look_again",
                "Pull the plug; tension the belts again, check keys and screws.",
                "look again",
                after=("slow_run",),
            ),
            WorkStep(
                "lock_screws", "Threadlock the screws of pulleys and motor.", "locked", after=("look_again",)
            ),
        ]

    def cautions(self, ctx: Context) -> list[Caution]:
        return [
            Caution(
                "drive",
                "A turning spindle catches sleeves, hair and gloves: roll sleeves up, tie hair back, "
                "no gloves, guard both belts.",
            ),
            Caution("belt", "Disconnect and lock the supply before you change a belt's step."),
            AID,
        ]
