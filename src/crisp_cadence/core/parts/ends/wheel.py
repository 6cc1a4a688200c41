"""Driven wheels of a small robot or cart; millimetres are counted along the ground."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import Counts, Repeat, Trial
from ...account.report import BillLine, Caution, DriveNode, WorkStep
from ...checks import repeats, trials
from ...fields.part import Bought, num
from ...formulas import dynamics, motion, prices, wheels
from ...geometry.scene import Mark, Scene, SceneWheel, Slab, Spot
from ...ledger.amounts import said
from ...ledger.many import along
from ...ledger.quantity import Quantity, Term
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
from .contract import End, FloatArray, Moving, OwnSpring


class Wheel(End):
    """Driven wheels of a small robot or cart."""

    FIRST = ("diameter_mm", "wheel_kg", "motors")

    APART = ("motors",)

    kind: Literal["wheel"] = "wheel"
    point: ClassVar[str] = "vehicle"
    guided: ClassVar[bool] = False
    sloped: ClassVar[bool] = True
    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("wheel.",)}
    wheel: Bought = Bought()
    diameter_mm: float = num("Wheel diameter", "length", "mm", 5, 2000, 120.0)
    width_mm: float = num("Wheel width", "length", "mm", 1, 500, 30.0)
    wheel_kg: float = num("Mass of a driven wheel", "mass", "kg", 0.001, 100, 0.15)
    driven: int = num("Driven wheels", "count", "", 1, 8, 2)
    motors: int = num("Motors that share the load", "count", "", 1, 8, 2)
    driven_weight: float = num(
        "Share of the weight on driven wheels",
        "number",
        "",
        0.05,
        1,
        0.6,
        "Put scales under the driven wheels: their part of the whole weight.",
    )
    rolling: float = num(
        "Rolling drag",
        "number",
        "",
        0.001,
        0.5,
        0.04,
        "0.01 on a hard floor, 0.05 on a path, 0.1 on soft ground (common practice).",
    )
    grip: float = num(
        "Grip of the tyres",
        "number",
        "",
        0.05,
        1.5,
        0.5,
        "0.3 on wet clay, 0.8 rubber on dry concrete (common practice).",
    )
    overhang_mm: float = num("Wheel from the bearing", "length", "mm", 1, 300, 20.0)
    tyre_n_mm: float = num(
        "Give of the tyre",
        "stiffness",
        "N/mm",
        0.5,
        1e6,
        50.0,
        "Push the vehicle against a scale with the motor held.",
    )

    def own_motors(self) -> int:
        return self.motors

    def overhang(self) -> str | None:
        return "end.overhang_mm"

    def travel(self, ctx: Context) -> Quantity | None:
        return None

    def moving(self, ctx: Context) -> Moving:
        g, put = ctx.given, ctx.book.put
        radius = put(
            "wheel.radius",
            "Radius of the wheel",
            self.diameter_mm / 2,
            "mm",
            equation="D/2",
            source="geometry",
            d=g("end.diameter_mm"),
        )
        lam = ctx.calc(
            "end.lam", "Turn of the wheel for 1 mm", motion.radians_per_mm, pitch_radius_mm=radius, ratio=1.0
        )
        turning = put(
            "wheel.mass",
            "Turning wheels as a mass of the vehicle",
            lambda: 0.5 * self.wheel_kg * self.driven,
            "kg",
            equation="½·m·n",
            source="solid discs, equal kinetic energy",
            m=g("end.wheel_kg"),
            n=g("end.driven"),
        )
        carried = put(
            "loop.carried",
            "Driven wheels",
            lambda: self.wheel_kg * self.driven,
            "kg",
            equation="n·m",
            source="weighed",
            m=g("end.wheel_kg"),
            n=g("end.driven"),
        )
        return Moving(
            lam,
            0.97,
            carried,
            turning,
            motor_share=1 / self.motors,
            motors=float(self.motors),
            counts=Counts(motors=self.own_motors()),
        )

    def lifted(self, ctx: Context, tally: Quantity) -> Quantity:
        """The driven wheels weigh too: they climb with the vehicle and press on the ground."""
        own = self.moving(ctx).carried_mass
        return ctx.book.put(
            "mass.lifted",
            "Mass of the vehicle with its driven wheels",
            lambda: tally.n + own.n,
            "kg",
            equation="m + n·m_wheel",
            source="statics",
            tally=tally,
            wheels=own,
        )

    def loads(self, ctx: Context, mass: Quantity, slope: Quantity) -> tuple[Quantity, Quantity]:
        weight = ctx.calc(
            "force.weight", "Weight down the slope", dynamics.slope_force, mass_kg=mass, slope_rad=slope
        )
        drag = ctx.calc(
            "force.drag",
            "Rolling drag",
            wheels.rolling_drag,
            mass_kg=mass,
            coefficient=ctx.given("end.rolling"),
            slope_rad=slope,
        )
        return weight, drag

    def forces(self, ctx: Context) -> None:
        g, loads, lam = ctx.given, ctx.loads, ctx.drive.lam_end
        holds = ctx.calc(
            "wheel.grip",
            "Force before the driven wheels spin",
            wheels.tyre_grip,
            mass_kg=loads.masses.lifted,
            driven_share=g("end.driven_weight"),
            friction=g("end.grip"),
            slope_rad=loads.slope,
        )
        ctx.rung(
            "tyres",
            "Grip of the tyres",
            ctx.peaks.peak,
            holds,
            1.2,
            unit="N",
            section="end",
            path="end.grip",
            says="Softer tyres, more weight on the driven wheels, a gentler start, or less slope.",
        )
        ctx.book.put(
            "wheel.turns",
            "Turns of the wheel in a second",
            lambda: ctx.design.aim.speed_mm_s * lam.n / (2 * math.pi),
            "1/s",
            equation="v·λ/2π",
            source="kinematics",
            speed=g("aim.speed_mm_s"),
            radians_per_mm=lam,
        )

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[OwnSpring]:
        return [("tyre", "Tyres", ctx.given("end.tyre_n_mm"), along(self.tyre_n_mm))]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        return [
            self.shaft_node(
                ctx, "wheel.speed", "tyre", "Wheels", "end.diameter_mm", f"⌀ {said(self.diameter_mm, 'mm')}"
            )
        ]

    def scene(self, ctx: Context) -> Scene:
        r, show = self.diameter_mm / 2, 6 * self.diameter_mm
        wheels = tuple(
            SceneWheel(n, "tyre", Spot(x, r, 1.0), r, r, 8.0, -1 / r, field="end.diameter_mm")
            for n, x in (("Driven wheel", 0.0), ("Following wheel", 2.4 * r + 60))
        )
        body = Slab("carriage", Spot(1.2 * r + 30, 2 * r + 18, 1.0), 4 * r + 60, 36.0)
        return Scene(
            "Seen from the side",
            "Vehicle",
            show,
            wheels,
            (),
            (Slab("rail", Spot(show / 2 + r, -4), show + 5 * r, 8.0), body),
            (Mark("driven wheel", Spot(0, 2 * r + 48)),),
        )

    def repeats(self, ctx: Context) -> list[Repeat]:
        lam = ctx.drive.lam_end.value or 0.0
        return repeats.turn("a turn of the driven wheel", "end", lam)

    def trials(self, ctx: Context) -> list[Trial]:
        roll = trials.turns(
            "end.roll",
            "Way of ten turns of the wheel",
            "end.diameter_mm",
            "With its load on, push it along a straight line for ten turns by a mark on the wheel, and "
            "measure the way: a loaded tyre rolls on less than its diameter.",
            10,
            self.diameter_mm,
        )
        return [roll]

    def bill(self, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self.wheel,
                "Driven wheel",
                f"⌀ {self.diameter_mm:g} × {self.width_mm:g} mm",
                "end.wheel",
                self.driven,
                prices.pulley_price(self.diameter_mm, self.width_mm),
            )
        ]

    def over_shaft(self, ctx: Context) -> Term | None:
        return ctx.given("end.diameter_mm")

    def work(self, ctx: Context) -> list[WorkStep]:
        each = "the wheel" if self.driven == 1 else f"each of the {self.driven} driven wheels"
        return [
            lay_out("shafts, bores, bearings, screw lengths"),
            *shaft_work(
                ctx, each, "Press the bearings in and run the wheel's axle through both.", ("end.wheel",)
            ),
            WorkStep(
                "switches",
                "Fit the switch that stops it, where a hand finds it from any side, and bumpers if it drives "
                "by itself.",
                "aligned",
                after=("parts",),
                gives=("stops",),
                fastens=("switches",),
                check="It stops at once, at full speed too.",
                tools=("screwdriver", METER),
            ),
            WorkStep(
                "hand_run",
                "Jack it up and turn the wheels by hand, supply off." + freed(ctx),
                after=("joined",),
                gives=("hand",),
                check="No heavy spot, nothing rubs.",
                caution=FEEDS,
                tools=("blocks to stand it on",),
            ),
            slow_run(
                "chain.0",
                "Keep hands off the wheels; reach the switch first.",
                "With its wheels off the ground, run it slowly both ways, then at speed; then let it "
                "drive on "
                "the floor.",
            ),
            *after_the_run(
                ctx,
                "wheels and motor",
                "Look at wheels, bearings and every screw of the drive again after the first run.",
                "Let it roll ten turns on the floor with its load on, measure the way, and set the scale "
                "(see Tune).",
                ("hub", "motor"),
            ),
            guards("Fit covers and guards.", ("lock_screws",), after=guarded(ctx)),
        ]

    def cautions(self, ctx: Context) -> list[Caution]:
        out = [
            Caution(
                "drive",
                "A vehicle that starts by itself runs people over: lift the driven wheels for the "
                "first try, and fit a stop that can be reached.",
            ),
            AID,
        ]
        if ctx.design.aim.slope_deg > 0:
            out.append(
                Caution("aim", "On a slope it rolls away when the power goes: chock it, or fit a brake.")
            )
        return out
