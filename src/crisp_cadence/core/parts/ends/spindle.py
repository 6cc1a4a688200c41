"""Spindle by V-belt: motor, a movable middle pulley with pairs of pulleys, a stepped cone, and the spindle.

Two belts of stock length; the middle pulley stands where both are taut. Every speed is a case of its own,
with what the work asks there.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import Band, OutputShaft, Trial
from ...account.report import BillLine, Caution, Column, CutLine, DriveNode, Table, WorkStep
from ...checks import hubs
from ...checks.trials import about
from ...formulas import vbelt
from ...formulas.belt import open_belt_length
from ...formulas.running import line_angle
from ...geometry.scene import Scene
from ...ledger.amounts import said
from ...ledger.quantity import Given, Ledger, Quantity
from . import cone_fixing, spindle_build, v_belts
from .contract import FloatArray, Moving, OwnSpring
from .step_cones import StepCones, Turned, motor_rpm
from .v_belts import SHARE, AtSpeed, Carried, at_speed, forces_at_rim

RUN_OUT_MM = 0.02  # of a small spindle's nose (common practice)
SPEED_OFF = 0.05  # of a speed: slip of both belts and of the motor (estimate)
V_LINE_DEG = 0.5  # offset over span that a V-belt bears (handbook, from memory)
LAY_ON, TAKE_UP = 0.015, 0.03  # travel to lay a V-belt on and to tension it, of its length (from memory)
GRADE = Given("catalogue.v.grade", 6.3, "mm/s", "standard", "grade G 6.3 of ISO 21940-11 (from memory)")
# Mild steel under rotating bending, with the notch of a shoulder or a keyway
ENDURES = Given("catalogue.shaft.endures", 60.0, "MPa", "estimate", "plain steel turning under load, notched")


class Spindle(StepCones):
    """Its cones either give the speeds wanted, in equal ratios, or are as drawn."""

    FIRST = ("cones_from", "section", "motor_belt_mm", "cone_belt_mm", "work_mm")

    kind: Literal["spindle"] = "spindle"
    point: ClassVar[str] = "rim"
    guided: ClassVar[bool] = False
    turning: ClassVar[bool] = True
    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("spindle.", "motor_belt.", "cone_belt.")}

    # ---- the chain -----------------------------------------------------------------------------------------

    def travel(self, ctx: Context) -> Quantity | None:
        return None

    def moving(self, ctx: Context) -> Moving:
        g, put, now, turns = ctx.given, ctx.book.put, self.step_of(ctx), motor_rpm(ctx.design)
        ratio = put(
            "spindle.ratio",
            f"Reduction from motor to spindle at {now.name}",
            turns / now.rpm,
            ": 1",
            equation="(D1/d1)·(D2/d2)/(1 − slip)²",
            source="pulleys of this speed",
            first=now.first.ratio,
            second=now.second.ratio,
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
        self._speeds(ctx)
        self._middle_travel(ctx)
        self._in_line(ctx)
        self._belts(ctx)
        self._shafts(ctx)

    def _speeds(self, ctx: Context) -> None:
        """What comes out against what is wanted, and how many speeds the belts serve."""
        put, turns = ctx.book.put, motor_rpm(ctx.design)
        every, served = self.every(turns), self.served(turns)
        low, high = (
            put(
                f"spindle.{name}",
                f"{words} speed that comes out",
                step.rpm,
                "rpm",
                equation="n·(d1/D1)·(d2/D2)·(1 − slip)²",
                source="pulleys as turned",
                motor=turns,
                first=step.first.ratio,
                second=step.second.ratio,
                slip=ctx.given("end.slip_percent"),
            )
            for name, words, step in (("low", "Lowest", served[0]), ("high", "Highest", served[-1]))
        )
        now = self.step_of(ctx)
        put(
            "spindle.middle_rpm",
            f"Speed of the middle pulley at {now.name}",
            now.middle_rpm,
            "rpm",
            equation="n·(d1/D1)·(1 − slip)",
            source="pulleys of this speed",
            motor=turns,
            first=now.first.ratio,
            slip=ctx.given("end.slip_percent"),
        )
        if len(served) < len(every):
            ctx.rung(
                "served",
                "Speeds that the belts serve",
                float(len(every)),
                float(len(served)),
                1.0,
                unit="",
                section="end",
                path="end.cone_belt_mm",
                says="Longer belts, a smaller range, or pairs that leave the cone less to do; the table of "
                "speeds says why each of the others cannot be had.",
            )
        if self.drawn:
            return
        ctx.rung(
            "low",
            "Lowest spindle speed, within 2 %",
            low,
            ctx.given("end.low_rpm"),
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
            ctx.given("end.high_rpm"),
            high,
            0.98,
            unit="rpm",
            section="end",
            path="end.high_rpm",
            says="Finer turning, another pair, or a faster motor.",
        )

    def _middle_travel(self, ctx: Context) -> None:
        """What the middle pulley moves: from step to step, to let a belt slip off, and to tension it."""
        g, put = ctx.given, ctx.book.put
        xs = [(s.middle_x_mm, s.middle_y_mm) for s in self.served(motor_rpm(ctx.design))]
        roam = put(
            "spindle.roam",
            "Middle pulley moves between steps",
            max((math.dist(a, b) for a in xs for b in xs), default=0.0),
            "mm",
            equation="places of two taut belts (intersection of circles)",
            source="two lengths, two unknowns",
            motor=g("end.motor_belt_mm"),
            cone=g("end.cone_belt_mm"),
        )
        length = "end.motor_belt_mm" if self.motor_belt_mm >= self.cone_belt_mm else "end.cone_belt_mm"

        def of_length(key: str, words: str, share: float) -> Quantity:
            return put(
                f"spindle.{key}",
                words,
                lambda: share * g(length).n,
                "mm",
                equation=f"{share:g}·L",
                source_kind="from memory",
                source="V-belt handbooks, after DIN 7753",
                length=g(length),
            )

        off = of_length("slip_off", "Middle pulley lets the longer belt slip off", LAY_ON)
        up = of_length("take_up", "Middle pulley tensions it, for all its life", TAKE_UP)
        moves = put(
            "spindle.moves",
            "Travel that the middle pulley needs",
            lambda: roam.n + off.n + up.n,
            "mm",
            equation="between steps + to slip off + to tension",
            source="sum of what it is moved for",
            roam=roam,
            slip_off=off,
            take_up=up,
        )
        ctx.rung(
            "middle",
            "Travel of the middle pulley",
            moves,
            g("end.middle_travel_mm"),
            1.0,
            unit="mm",
            section="running",
            path="end.middle_travel_mm",
            says="A longer slot, shorter belts, or diameters turned closer to the solved ones.",
        )

    def now(self, ctx: Context) -> AtSpeed:
        """Both belts at the speed worked out."""
        return ctx.once(self._now)

    def _now(self, ctx: Context) -> AtSpeed:
        return at_speed(ctx, self, self.step_of(ctx), ctx.loads.worst, ctx.book)

    def at_speeds(self, ctx: Context) -> list[AtSpeed]:
        """Both belts at every speed that can be had."""
        return ctx.once(self._at_speeds)

    def _at_speeds(self, ctx: Context) -> list[AtSpeed]:
        asked, now = forces_at_rim(ctx, self), self.now(ctx)
        found = []
        for step in self.served(motor_rpm(ctx.design)):
            book = Ledger()
            rim = book.put("rim", "Force at the rim", asked(step), "N", equation="", source="")
            found.append(now if step.name == now.step.name else at_speed(ctx, self, step, rim, book))
        return found

    def bands(self, ctx: Context) -> list[Band]:
        return v_belts.bands(ctx, self, self.at_speeds(ctx))

    def _belts(self, ctx: Context) -> None:
        """Power, speed and least pulley of both belts at this speed."""
        now, section = self.now(ctx), vbelt.SECTIONS[self.section]
        for at, name, found, turned in (
            ("motor_belt", "motor's belt", now.motor, now.step.first),
            ("cone_belt", "cone's belt", now.cone, now.step.second),
        ):
            ctx.rung(
                f"{at}_power",
                f"Power that the {name} carries",
                found.asked,
                found.allowed,
                ctx.given("end.service"),
                unit="W",
                section="running",
                path="end.section",
                says="Larger pulleys (a longer belt), belts side by side, or section A.",
            )
            small = ctx.book.put(
                f"{at}.smallest",
                f"Smaller pulley of the {name}",
                min(turned.driver_mm, turned.driven_mm),
                "mm",
                equation="min(d, D)",
                source="pulleys of this speed",
                driver=turned.driver_mm,
                driven=turned.driven_mm,
            )
            ctx.rung(
                f"{at}_least",
                f"Smaller pulley of the {name} bends it no more than it bears",
                Given("catalogue.v.least", section.least_mm, "mm", "from memory", f"section {section.name}"),
                small,
                1.0,
                unit="mm",
                section="running",
                path="end.section",
                says="A larger pulley, or a thinner section.",
            )
        fastest = ctx.largest(
            "spindle.belt_speed", "Faster belt", now.motor.speed, now.cone.speed, unit="m/s"
        )
        ctx.rung(
            "belt_speed",
            "Belt speed",
            fastest,
            Given("catalogue.v.speed", section.speed_limit_m_s, "m/s", "handbook", f"section {section.name}"),
            1.0,
            unit="m/s",
            section="running",
            path="end.section",
            says="Smaller pulleys.",
        )

    def _shafts(self, ctx: Context) -> None:
        """What the belts pull on the shafts, and how true the cones run."""
        g, now = ctx.given, self.now(ctx)
        for key, label, load, field in (
            ("middle_bearing", "Both belts on the middle shaft", now.middle, "end.middle_bearing_n"),
            ("spindle_bearing", "Cone's belt on the spindle", now.cone.on_shaft, "end.spindle_bearing_n"),
        ):
            if g(field).value is not None:
                ctx.rung(
                    key,
                    label,
                    load,
                    g(field),
                    1.0,
                    unit="N",
                    section="running",
                    path=field,
                    says="Larger pulleys, larger bearings, or a bearing on the other side too.",
                )
        if ctx.shaft.radial_limit.value is not None:
            ctx.rung(
                "shaft_load",
                "Motor's belt on the motor's shaft",
                now.motor.on_shaft,
                ctx.shaft.radial_limit,
                1.0,
                unit="N",
                section="end",
                path="end.motor_centre_mm",
                says="A larger motor pulley, set close to the motor.",
                advisory=True,
            )
        if self.spindle_shaft_mm is not None:
            stress = ctx.calc(
                "spindle.bending",
                "Bending of the spindle under its cone",
                vbelt.bending_stress,
                force_n=now.cone.on_shaft,
                reach_mm=g("end.spindle_overhang_mm"),
                diameter_mm=g("end.spindle_shaft_mm"),
            )
            ctx.rung(
                "spindle_bending",
                "Spindle bears its bending, turning",
                stress,
                ENDURES,
                1.5,
                unit="MPa",
                section="running",
                path="end.spindle_shaft_mm",
                says="A thicker shaft, or the cone closer to its bearing.",
            )
        self._fixed(ctx)
        fastest = max(now.step.rpm, now.step.middle_rpm)
        wobble = ctx.calc(
            "spindle.unbalance",
            "Centre of mass of the cones moves at",
            vbelt.unbalance,
            bore_off_mm=g("end.bore_off_mm"),
            rpm=fastest,
        )
        ctx.rung(
            "balance",
            "Cones run true",
            wobble,
            GRADE,
            1.0,
            unit="mm/s",
            section="running",
            path="end.bore_off_mm",
            says="Turn the grooves on their own shaft, or balance the cones on two knife edges.",
            lower_is_better=True,
            advisory=True,
        )

    def _fixed(self, ctx: Context) -> None:
        """What holds the cones on their shafts, and the spindle's extension."""
        now, ends = self.now(ctx), cone_fixing
        words = "Torque at the hub of the motor's pulley"
        on_motor = hubs.torque_of(
            ctx, "motor_cone.torque", words, now.motor.pull, now.step.first.driver_mm / 2
        )
        ends.held(ctx, "end.motor_cone", self.motor_cone, "the motor's pulley", on_motor, ctx.shaft)
        if self.spindle_shaft_mm is not None:
            shaft = OutputShaft(
                "end", ctx.given("end.spindle_shaft_mm"), self.spindle_shaft_form, ctx.shaft.radial_limit
            )
            ends.held(ctx, "end.spindle_cone", self.spindle_cone, "the spindle's cone", now.torque, shaft)
        if self.spindle_thread_mm is not None:
            ends.extension(ctx, "end.spindle_thread_mm", now.torque)

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

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[OwnSpring]:
        return []

    # ---- what to show --------------------------------------------------------------------------------------

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        served = self.served(motor_rpm(ctx.design))
        now = self.step_of(ctx)
        return [
            DriveNode(
                "cones",
                "Cones and belts",
                "end",
                "end.steps",
                f"{len(served)} speeds",
                now.middle_rpm,
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
                f"{served[0].rpm:.0f} to {served[-1].rpm:.0f} rpm",
                now.rpm,
                "rpm",
                ctx.loads.by_phase["push"].value,
                "N",
                None,
            ),
        ]

    def tables(self, ctx: Context) -> list[Table]:
        rows: list[tuple[float | str | None, ...]] = []
        for s in self.every(motor_rpm(ctx.design)):
            turned = [
                None if math.isnan(d) else d for t in (s.first, s.second) for d in (t.driver_mm, t.driven_mm)
            ]
            rows.append(
                (s.rpm, s.pair + 1.0, *turned, s.middle_rpm, 2 * self.slip_percent, s.says or "served")
            )
        speeds = Table(
            "speeds",
            "Every speed",
            (
                Column("spindle", "rpm"),
                Column("pair"),
                Column("motor pulley", "mm"),
                Column("middle", "mm"),
                Column("cone driver", "mm"),
                Column("cone driven", "mm"),
                Column("middle turns", "rpm"),
                Column("slip", "%"),
                Column("belts"),
            ),
            tuple(rows),
            "Pitch diameters. The middle pulley stands where both belts are taut; one not to be had says "
            "why.",
        )
        return [
            speeds,
            self._asks(ctx, "motor", "motor's belt", "both belts on the middle shaft"),
            self._asks(ctx, "cone", "cone's belt", "on the spindle's shaft"),
            self._to_set(ctx),
        ]

    def _to_set(self, ctx: Context) -> Table:
        """For Tune: what to tension both belts to at each speed."""
        return Table(
            "v_belts",
            "Target of both V-belts at each speed",
            (
                Column("spindle", "rpm"),
                Column("motor to middle pulley", "N"),
                Column("pushed aside by", "mm"),
                Column("takes", "N"),
                Column("middle pulley to spindle", "N"),
                Column("pushed aside by", "mm"),
                Column("takes", "N"),
            ),
            tuple(
                (x.step.rpm, *(q.value for b in (x.motor, x.cone) for q in (b.rest, b.aside, b.push)))
                for x in self.at_speeds(ctx)
            ),
            "Supply off and locked out; to be set anew at each change of step. Push one belt aside at the "
            "middle of its straight span, across it, by a sixty-fourth of the span. Run them for some "
            "minutes and look again.",
            "tune",
        )

    def _asks(self, ctx: Context, which: str, name: str, then: str) -> Table:
        rows: list[tuple[float | str | None, ...]] = []
        for found in self.at_speeds(ctx):
            belt: Carried = getattr(found, which)
            on_shaft = found.middle if which == "motor" else belt.on_shaft
            rows.append(
                (
                    found.step.rpm,
                    math.degrees(belt.wrap.n),
                    belt.speed.value,
                    belt.pull.value,
                    belt.asked.value,
                    belt.allowed.value,
                    belt.rest.value,
                    belt.push.value,
                    on_shaft.value,
                )
            )
        return Table(
            f"{which}_belt",
            f"What each speed asks of the {name}",
            (
                Column("spindle", "rpm"),
                Column("wrap", "°"),
                Column("runs at", "m/s"),
                Column("pull", "N"),
                Column("carries", "W"),
                Column("may carry", "W"),
                Column("tension to set", "N"),
                Column("pushed aside 1/64 takes", "N"),
                Column(then, "N"),
            ),
            tuple(rows),
            "Sized on what the work and coming up to speed ask there, not on all that the motor has; to be "
            "set anew at each change of step.",
            "belt",
        )

    def scene(self, ctx: Context) -> Scene:
        return spindle_build.scene(self, ctx)

    def cut(self, ctx: Context) -> list[CutLine]:
        pairs, cone = self.turned(motor_rpm(ctx.design))
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
            made = [t for t in rows if not t.says]
            if made:
                lines.append(self._turn(name, made, c, length))
        return lines

    def _turn(self, name: str, made: list[Turned], centre: float, length: float) -> CutLine:
        says = "pitch diameters " + ", ".join(f"{t.driver_mm:g}/{t.driven_mm:g}" for t in made) + " mm"
        if not self.drawn:
            off = max(
                abs(float(open_belt_length(centre, t.driver_mm / 2, t.driven_mm / 2)) - length) for t in made
            )
            says += f"; turned to {said(self.round_mm, 'mm')} they differ by {said(off, 'mm', '.2f')} of belt"
        return CutLine(f"Turn the {name}", max(max(t.driver_mm, t.driven_mm) for t in made), 0, says)

    def trials(self, ctx: Context) -> list[Trial]:
        return [
            Trial(
                key="end.runout",
                name="Run-out of the spindle",
                path="end.spindle_shaft_mm",
                how="Plug pulled. Dial gauge on its nose or in its bore, turn it once by hand: highest less "
                "lowest.",
                dimension="length",
                unit="mm",
                high=RUN_OUT_MM,
                above="Clean the seats, look for a burr, turn the parts against one another; then bearings "
                "or a bent shaft.",
            ),
            Trial(
                key="end.line",
                name="Cones in line",
                path="end.motor_cone",
                how="Plug pulled. A straight edge across both rims of the belt in use: the widest gap that a "
                "feeler finds. For both belts.",
                dimension="length",
                unit="mm",
                expected=0.0,
                high=math.tan(math.radians(V_LINE_DEG))
                * min(b.read_by.span_mm for x in self.at_speeds(ctx) for b in (x.motor, x.cone)),
                above="Shift the pulley on its shaft until the edge touches both rims in two places each.",
            ),
            *(self._speed(nth, x.step.rpm) for nth, x in enumerate(self.at_speeds(ctx), 1)),
        ]

    def _speed(self, nth: int, rpm: float) -> Trial:
        return about(
            rpm,
            SPEED_OFF,
            key=f"end.speed.{nth}",
            name=f"Speed on the step for {rpm:.0f} rpm",
            path="end.motor_belt_mm",
            how="Guards on. A tachometer on the spindle, without work, once it runs evenly.",
            dimension="turning speed",
            unit="rpm",
            below="Slower than its pulleys say: a belt slips (tension it, look for oil), or other pulleys "
            "than those of the design.",
            above="Faster than its pulleys say: other pulleys or another motor speed than the design's; a "
            "motor without load runs some per cent fast.",
        )

    def bill(self, ctx: Context) -> list[BillLine]:
        return spindle_build.bill(self, len(self.served(motor_rpm(ctx.design))))

    def work(self, ctx: Context) -> list[WorkStep]:
        return spindle_build.work(ctx, self.at_speeds(ctx))

    def cautions(self, ctx: Context) -> list[Caution]:
        return spindle_build.cautions()
