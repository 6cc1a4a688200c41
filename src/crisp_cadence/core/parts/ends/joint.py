"""Rotary joint of an arm with a payload at its tip; millimetres are counted along the tip's arc."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import Trial
from ...account.report import BillLine, Caution, DriveNode, WorkStep
from ...fields.part import Bought, num
from ...formulas import joints, motion, prices
from ...formulas.springs import MATERIALS
from ...geometry.scene import Mark, Scene, SceneWheel, Slab, Spot
from ...ledger.amounts import said
from ...ledger.errors import problem
from ...ledger.formula import Real
from ...ledger.many import along, both, cos, most, pick
from ...ledger.quantity import Given, Quantity
from ..stages.contract import bought
from ..work_steps import (
    AID,
    FEEDS,
    METER,
    after_the_run,
    freed,
    guarded,
    guards,
    lay_out,
    shaft_work,
    slow_run,
)
from .contract import A, End, FloatArray, Moving, OwnSpring, Sweep


class Joint(End):
    """Rotary joint of an arm with a payload at its tip; millimetres are counted along the tip's arc."""

    FIRST = ("length_mm", "from_deg", "to_deg", "arm_kg")

    kind: Literal["joint"] = "joint"
    point: ClassVar[str] = "tip"
    guided: ClassVar[bool] = False
    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("joint.",)}
    arm: Bought = Bought()
    length_mm: float = num("Arm, from joint to tip", "length", "mm", 5, 5000, 300.0)
    arm_kg: float = num(
        "Mass of the arm",
        "mass",
        "kg",
        0,
        200,
        0.3,
        "Leave it empty and it is reckoned from section and material; weigh one that is not a plain bar.",
    )
    centre: float = num(
        "Its centre of mass, part of its length",
        "number",
        "",
        0,
        1,
        0.5,
        "0.5 for a plain bar; balance it on an edge to find out.",
    )
    from_deg: float = num("Lowest angle above the level", "angle", "°", -180, 180, -30.0)
    to_deg: float = num("Highest angle above the level", "angle", "°", -180, 180, 60.0)
    turn_deg: float = num("Angle wanted", "angle", "°", 1, 360, 80.0)
    material: Literal["steel", "aluminium", "acrylic", "PLA", "PETG", "plywood"] = "aluminium"
    height_mm: float = num("Height of the arm's section", "length", "mm", 0.5, 500, 20.0)
    width_mm: float = num("Width of the arm's section", "length", "mm", 0.5, 500, 10.0)
    drag_nm: float = num(
        "Friction of the joint",
        "torque",
        "N·m",
        0,
        500,
        0.05,
        "Pull at the tip with a scale until it turns, force times length; little on ball bearings.",
    )
    upright: Literal["upright", "flat"] = "upright"
    overhang_mm: float = num("Arm from the bearing", "length", "mm", 1, 300, 15.0)

    AIMS: ClassVar[dict[str, str]] = {"aim.travel_mm": "end.turn_deg"}

    def aimed(self, design: A, case: str) -> A:
        """The way of its tip over the angle that is wanted."""
        way = self.turn_deg * (math.pi / 180) * self.length_mm
        return design.model_copy(update={"aim": design.aim.model_copy(update={"travel_mm": way})})

    def overhang(self) -> str | None:
        return "end.overhang_mm"

    def check(self, ctx: Context) -> None:
        ctx.stop(
            self.to_deg <= self.from_deg,
            lambda: problem(
                "end.to_deg",
                "is not above the lowest angle",
                value=self.to_deg,
                limit=self.from_deg,
                unit="°",
                remedy="Give the range from its lower to its upper end.",
            ),
        )

    def swing(self) -> Sweep:
        """The box around its arm over its range of angles, whichever way it points."""
        turns = [self.from_deg, self.to_deg]
        turns += [a for a in (-180.0, -90.0, 0.0, 90.0, 180.0) if self.from_deg < a < self.to_deg]
        out = max(abs(math.cos(math.radians(a))) for a in turns) * self.length_mm
        rises = [0.0, *(math.sin(math.radians(a)) * self.length_mm for a in turns)]
        thick, wide = self.height_mm / 2, self.width_mm / 2
        if self.upright == "upright":
            return Sweep(out + thick, wide, thick - min(rises), thick + max(rises))
        return Sweep(out + thick, max(map(abs, rises)) + thick, wide, wide)

    def _level_share(self) -> Real:
        if self.upright == "flat":
            return 0.0
        ends = (abs(cos(a * (math.pi / 180))) for a in (self.from_deg, self.to_deg))
        return pick(both(self.from_deg <= 0, self.to_deg >= 0), 1.0, most(*ends))

    def travel(self, ctx: Context) -> Quantity | None:
        g = ctx.given
        usable = ctx.book.put(
            "travel.usable",
            "Usable arc at the tip",
            (self.to_deg - self.from_deg) * (math.pi / 180) * self.length_mm,
            "mm",
            equation="(θ2 − θ1)·R",
            source="geometry",
            low=g("end.from_deg"),
            high=g("end.to_deg"),
            arm=g("end.length_mm"),
        )
        ctx.rung(
            "travel",
            "Range of the joint",
            g("end.turn_deg"),
            ctx.book.put(
                "joint.range",
                "Range of the joint",
                self.to_deg - self.from_deg,
                "°",
                equation="θ2 − θ1",
                source="geometry",
                low=g("end.from_deg"),
                high=g("end.to_deg"),
            ),
            1.0,
            unit="°",
            section="travel",
            path="end.to_deg",
            says="A wider range, or less angle wanted.",
        )
        return usable

    def moving(self, ctx: Context) -> Moving:
        g = ctx.given
        lam = ctx.calc(
            "end.lam",
            "Turn of the joint for 1 mm at the tip",
            motion.radians_per_mm,
            pitch_radius_mm=g("end.length_mm"),
            ratio=1.0,
        )
        carried = ctx.calc(
            "loop.carried",
            "Arm as a mass at the tip",
            joints.arm_inertia_mass,
            arm_kg=g("end.arm_kg"),
            centre_share=g("end.centre"),
        )
        turning = ctx.book.put(
            "joint.turning",
            "Turning parts besides",
            0.0,
            "kg",
            equation="0",
            source="counted with arm and stages",
            lam=lam,
        )
        return Moving(lam, 0.98, carried, turning)

    def loads(self, ctx: Context, mass: Quantity, slope: Quantity) -> tuple[Quantity, Quantity]:
        g = ctx.given
        share = ctx.book.put(
            "joint.level",
            "Worst share of the level in the range",
            self._level_share(),
            "",
            equation="max|cos θ| over the range; 1 when it holds the level",
            source="geometry",
            low=g("end.from_deg"),
            high=g("end.to_deg"),
        )
        weight = ctx.calc(
            "force.weight",
            "Weight at the tip, worst place",
            joints.arm_weight,
            payload_kg=mass,
            arm_kg=g("end.arm_kg"),
            centre_share=g("end.centre"),
            level_share=share,
        )
        ctx.book.put(
            "joint.torque",
            "Weight as a torque at the joint, worst place",
            lambda: weight.n * self.length_mm / 1000,
            "N·m",
            equation="F·R",
            source="statics",
            force=weight,
            arm=g("end.length_mm"),
        )
        drag = ctx.book.put(
            "force.drag",
            "Friction of the joint at the tip",
            self.drag_nm / self.length_mm * 1000,
            "N",
            equation="T/R",
            source="statics",
            torque=g("end.drag_nm"),
            arm=g("end.length_mm"),
        )
        return weight, drag

    def forces(self, ctx: Context) -> None:
        g, lam = ctx.given, ctx.drive.lam_end
        ctx.book.put(
            "joint.speed",
            "Angular speed at the top",
            lambda: ctx.design.aim.speed_mm_s * lam.n * 180 / math.pi,
            "°/s",
            equation="v·λ",
            source="kinematics",
            speed=g("aim.speed_mm_s"),
            radians_per_mm=lam,
        )
        if ctx.stepping is not None:
            step = ctx.stepping.step
            ctx.book.put(
                "joint.resolution",
                "Smallest commanded angle",
                lambda: step.n * lam.n * 180 / math.pi,
                "°",
                equation="δ·λ",
                source="kinematics",
                step=step,
                radians_per_mm=lam,
            )

        if self.upright == "flat":
            self._droop(ctx)

    def _droop(self, ctx: Context) -> None:
        """An arm that turns level hangs down across the plane of its motion."""
        g = ctx.given
        droop = ctx.calc(
            "joint.droop",
            "Droop of the arm's tip",
            joints.arm_droop,
            payload_kg=ctx.loads.masses.tally,
            arm_kg=g("end.arm_kg"),
            youngs_gpa=Given("end.material", MATERIALS[self.material][0], "GPa", "estimate", self.material),
            second_moment_mm4=self.width_mm * self.height_mm**3 / 12,
            length_mm=g("end.length_mm"),
        )
        ctx.error_rung(
            "droop",
            "Droop of the arm",
            droop,
            "end.height_mm",
            "A higher section (stiffness grows with its cube), a shorter arm, or less at its tip.",
        )

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[OwnSpring]:
        # It bends in the plane of its motion: across its height where that is upright, across its width where
        # it is level.
        thick, wide = self.height_mm, self.width_mm
        if self.upright == "flat":
            thick, wide = wide, thick
        second = wide * thick**3 / 12
        k = joints.arm_stiffness(MATERIALS[self.material][0], second, self.length_mm)
        stiff = ctx.book.put(
            "joint.arm",
            "Stiffness of the arm at its tip",
            k,
            "N/mm",
            equation="3EI/L³, I = b·h³/12 upright, h·b³/12 level",
            source="cantilever with end load, in the plane of the motion",
            material=Given("end.material", MATERIALS[self.material][0], "GPa", "estimate", self.material),
            height=ctx.given("end.height_mm"),
            width=ctx.given("end.width_mm"),
            arm=ctx.given("end.length_mm"),
        )
        return [("arm", "Arm", stiff, along(stiff.n))]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        return [
            self.shaft_node(
                ctx, "joint.rpm", "arm", "Arm", "end.length_mm", f"{said(self.length_mm, 'mm')} long"
            )
        ]

    def scene(self, ctx: Context) -> Scene:
        travel, length = ctx.usable, self.length_mm
        pivot, low = Spot(0, 0), math.radians(self.from_deg)
        return Scene(
            "Seen from the side" if self.upright == "upright" else "Seen from above",
            "Tip",
            travel,
            (
                SceneWheel(
                    "Joint",
                    "smooth",
                    pivot,
                    self.height_mm * 0.9,
                    self.height_mm * 0.9,
                    8.0,
                    1 / length,
                    field="end.length_mm",
                ),
            ),
            (),
            (
                Slab("arm", Spot(length / 2, 0), length, self.height_mm, pivot, low, 1 / length),
                Slab(
                    "load",
                    Spot(length, 0),
                    max(length * 0.1, 20),
                    max(length * 0.1, 20),
                    pivot,
                    low,
                    1 / length,
                ),
                Slab("frame", Spot(0, -length * 0.25), length * 0.16, length * 0.5),
            ),
            (Mark("joint", Spot(-length * 0.2, self.height_mm)),),
        )

    def degree_mm(self, ctx: Context) -> float | None:
        return math.radians(1.0) * self.length_mm

    def trials(self, ctx: Context) -> list[Trial]:
        off = math.degrees(ctx.design.aim.error_mm / self.length_mm)
        return [
            Trial(
                key="end.zero",
                name="Zero of the joint",
                path="end.from_deg",
                how="Send it to zero three times, always from the side of its switch, and read the arm "
                "against a level or a square.",
                dimension="angle",
                unit="°",
                expected=0.0,
                low=-off,
                high=off,
                below="Shift the switch, or enter the difference as its offset from home; then read again.",
                above="Shift the switch, or enter the difference as its offset from home; then read again.",
            )
        ]

    def bill(self, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self.arm,
                "Arm",
                f"{self.material}, {self.length_mm:g} × {self.height_mm:g} × {self.width_mm:g} mm",
                "end.arm",
                typical=prices.bar_price(self.arm_kg),
            )
        ]

    def work(self, ctx: Context) -> list[WorkStep]:
        falls = self.upright == "upright"
        return [
            lay_out("shafts, bores, bearings, screw lengths"),
            *shaft_work(
                ctx, "the arm", "Press the bearings in and run the joint's shaft through both.", ("end.arm",)
            ),
            WorkStep(
                "switches",
                "Fit the stops at both ends of the movement, and the switch that tells zero.",
                "aligned",
                after=("shaft.end",),
                gives=("stops",),
                fastens=("switches",),
                check="The switch trips before the arm meets its stop.",
                tools=("screwdriver", METER),
            ),
            WorkStep(
                "hand_run",
                "Turn the arm by hand through its whole movement, supply off." + freed(ctx),
                after=("joined", "stops"),
                gives=("hand",),
                check="No heavy spot, nothing rubs; cables follow without pulling.",
                caution="Hold the arm or prop it: it falls when let go. The motor feeds voltage into its "
                "driver "
                "when turned."
                if falls
                else FEEDS,
            ),
            slow_run(
                "chain.0",
                "Keep out of its reach; reach the switch first.",
                "Let it go slowly from stop to stop without a load, ten times, then with its load, then at "
                "speed.",
            ),
            *after_the_run(
                ctx,
                "arm, bearings and motor",
                "Look at zero, stops and every screw of the drive again after the first run.",
                "Find zero three times, then read the angle at both ends with a protractor and set the scale "
                "(see Tune).",
                ("hub", "motor"),
            ),
            guards("Fit covers and guards.", ("lock_screws",), after=guarded(ctx)),
        ]

    def cautions(self, ctx: Context) -> list[Caution]:
        out = [
            Caution(
                "drive",
                "An arm pinches and strikes: keep out of its reach while it is powered, and slow it "
                "down for the first tries.",
            ),
            AID,
        ]
        if self.upright == "upright":
            out.append(
                Caution(
                    "aim",
                    "The arm falls when the power goes: prop it, balance it, or give it a drive that holds.",
                )
            )
        return out
