"""Ends that turn: the driven wheel of a robot, the drum of a winch, the joint of an arm. Each speaks in millimetres of its own rim."""

from __future__ import annotations

import math
from typing import Any, ClassVar, Literal

from .. import axis, drives
from ..context import Context
from ..errors import Problem, problem
from ..formula import Given, Quantity, Term
from ..model import Bought, num
from ..report import BillLine, Caution, CutLine, DriveNode, Table, WorkStep
from ..scene import Mark, Piece, Scene, SceneWheel, Slab, Spot, Strand
from ..springs import MATERIALS
from ..stages.base import OutputShaft, bought
from .base import End, FloatArray, Moving
from .straight import first_run

_AID = Caution("build", "The numbers are a design aid, not a certificate.")


def shaft_steps(what: str, needs: tuple[str, ...]) -> list[WorkStep]:
    """Steps of an end that sits on a shaft of its own."""
    return [
        WorkStep("check_parts", "Lay out the parts and measure what was bought: shafts, bores, bearings, screw lengths.", check="Enter here what differs; everything follows."),
        WorkStep("bearings", "Press the bearings in and run the shaft through both: it must turn by its own weight.", "aligned", after=("check_parts",)),
        WorkStep("pulley_on", f"Fit the {what} on its shaft, over the flat; snug, not tight.", "loose", after=("bearings",), needs=needs),
        WorkStep("motor_tight", "Line everything up, then tighten motor and shaft.", "tightened", after=("motor_on", "pulley_on")),
        WorkStep("switches", "Fit the switches or stops at both ends of the movement and try them by hand.", "aligned", after=("bearings",)),
        WorkStep("hand_run", "Turn it by hand through its whole movement, supply off.", after=("motor_tight",), check="No heavy spot, nothing rubs.", caution="The motor feeds voltage into its driver when turned."),
        *first_run(),
    ]  # fmt: skip


class Wheel(End):
    """Driven wheels of a small robot or cart."""

    kind: Literal["wheel"] = "wheel"
    point: ClassVar[str] = "vehicle"
    guided: ClassVar[bool] = False
    wheel: Bought = Bought()
    diameter_mm: float = num("Wheel diameter", "length", "mm", 5, 2000, 120.0)
    width_mm: float = num("Wheel width", "length", "mm", 1, 500, 30.0)
    wheel_kg: float = num("Mass of a driven wheel", "mass", "kg", 0.001, 100, 0.15)
    driven: int = num("Driven wheels", "count", "", 1, 8, 2)
    motors: int = num("Motors that share the load", "count", "", 1, 8, 2)
    driven_weight: float = num("Share of the weight on driven wheels", "number", "", 0.05, 1, 0.6)
    rolling: float = num(
        "Rolling drag", "number", "", 0.001, 0.5, 0.04, "0.01 on a hard floor, 0.05 on a path, 0.1 on soft ground (common practice)."
    )
    grip: float = num("Grip of the tyres", "number", "", 0.05, 1.5, 0.5, "0.3 on wet clay, 0.8 rubber on dry concrete (common practice).")
    overhang_mm: float = num("Wheel from the bearing", "length", "mm", 1, 300, 20.0)
    tyre_n_mm: float = num("Give of the tyre", "stiffness", "N/mm", 0.5, 1e6, 50.0, "Push the vehicle against a scale with the motor held.")

    def overhang(self) -> str | None:
        return "end.overhang_mm"

    def travel(self, ctx: Context) -> Quantity | None:
        return None

    def moving(self, ctx: Context) -> Moving:
        g, put = ctx.given, ctx.book.put
        radius = put("wheel.radius", "Radius of the wheel", self.diameter_mm / 2, "mm", equation="D/2", source="geometry", d=g("end.diameter_mm"))
        lam = ctx.calc("end.lam", "Turn of the wheel for 1 mm", axis.radians_per_mm, pitch_radius_mm=radius, ratio=1.0)
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
        ctx.memo["motors"] = self.motors
        return Moving(lam, 0.97, carried, turning, motor_share=1 / self.motors, motors=float(self.motors))

    def loads(self, ctx: Context, mass: Quantity, slope: Quantity) -> tuple[Quantity, Quantity]:
        weight = ctx.calc("force.weight", "Weight down the slope", axis.slope_force, mass_kg=mass, slope_rad=slope)
        drag = ctx.calc("force.drag", "Rolling drag", drives.rolling_drag, mass_kg=mass, coefficient=ctx.given("end.rolling"), slope_rad=slope)
        return weight, drag

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        g, r = ctx.given, ctx.book.results
        holds = ctx.calc(
            "wheel.grip",
            "Force before the driven wheels spin",
            drives.tyre_grip,
            mass_kg=r["mass.tally"],
            driven_share=g("end.driven_weight"),
            friction=g("end.grip"),
            slope_rad=r["aim.slope"],
        )
        ctx.rung(
            "tyres",
            "Grip of the tyres",
            peak,
            holds,
            1.2,
            unit="N",
            step="drive",
            path="end.grip",
            says="Softer tyres, more weight on the driven wheels, a gentler start, or less slope.",
        )
        turns = ctx.book.put(
            "wheel.turns",
            "Turns of the wheel in a second",
            lambda: ctx.design.aim.speed_mm_s * (r["end.lam"].value or 0) / (2 * math.pi),
            "1/s",
            equation="v·λ/2π",
            source="kinematics",
            speed=g("aim.speed_mm_s"),
            radians_per_mm=r["end.lam"],
        )
        assert turns.key

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[tuple[str, str, Term, Any]]:
        return [("tyre", "Tyres", ctx.given("end.tyre_n_mm"), self.tyre_n_mm)]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        r = ctx.book.results
        rpm = ctx.calc("wheel.speed", "Speed of the wheel", axis.shaft_speed, speed_mm_s=ctx.given("aim.speed_mm_s"), radians_per_mm=r["end.lam"])
        return [
            DriveNode(
                "tyre",
                "Wheels",
                "end",
                "end.diameter_mm",
                f"⌀ {self.diameter_mm:g} mm",
                rpm.value,
                "rpm",
                r["end.torque_accelerate"].value,
                "N·m",
                None,
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

    def bill(self, ctx: Context) -> list[BillLine]:
        return [bought(self.wheel, "Driven wheel", f"⌀ {self.diameter_mm:g} × {self.width_mm:g} mm", "end.wheel", self.driven)]

    def work(self, ctx: Context) -> list[WorkStep]:
        return shaft_steps("wheel", ("end.wheel",))

    def cautions(self, ctx: Context) -> list[Caution]:
        out = [
            Caution(
                "drive",
                "A vehicle that starts by itself runs people over: lift the driven wheels for the first try, and fit a stop that can be reached.",
            ),
            _AID,
        ]
        if ctx.design.aim.slope_deg > 0:
            out.append(Caution("aim", "On a slope it rolls away when the power goes: chock it, or fit a brake."))
        return out


class Drum(End):
    """Cord winch: a drum that winds a hanging load up in layers."""

    kind: Literal["drum"] = "drum"
    point: ClassVar[str] = "load"
    guided: ClassVar[bool] = False
    drum: Bought = Bought()
    rope: Bought = Bought()
    diameter_mm: float = num("Drum diameter", "length", "mm", 2, 1000, 40.0)
    width_mm: float = num("Drum width between its flanges", "length", "mm", 2, 1000, 40.0)
    rope_mm: float = num("Rope diameter", "length", "mm", 0.2, 50, 3.0)
    rope_gpa: float = num("Rope's modulus", "number", "GPa", 0.01, 200, 2.0, "Braided polyester about 2 to 5, wire rope about 60 (estimates).")
    rope_limit_n: float | None = num("Breaking force of the rope", "force", "N", 1, 1e6, None)
    length_mm: float = num("Rope from the drum to the load, lowest", "length", "mm", 10, 100_000, 2000.0)
    turns_kept: float = num("Turns left on the drum", "number", "", 0, 20, 3.0, "Never wind off the last three.")
    friction: float = num("Friction of rope on drum", "number", "", 0.02, 1, 0.15)
    overhang_mm: float = num("Drum from the bearing", "length", "mm", 1, 500, 25.0)
    efficiency: float = num("Efficiency", "number", "", 0.3, 1, 0.95)

    def overhang(self) -> str | None:
        return "end.overhang_mm"

    def cases(self) -> tuple[str, ...]:
        return ("full drum", "empty drum")

    def _layers(self, ctx: Context) -> list[tuple[int, float, float]]:
        """Layer, its radius and the rope that it holds, mm, until the rope for the travel is wound."""
        need = ctx.design.aim.travel_mm + self.turns_kept * math.pi * (self.diameter_mm + self.rope_mm)
        out, held = [], 0.0
        for n in range(1, 60):
            radius = float(drives.layer_radius(self.diameter_mm, self.rope_mm, n))
            held += max(math.floor(self.width_mm / self.rope_mm), 1) * 2 * math.pi * radius
            out.append((n, radius, held))
            if held >= need:
                break
        return out

    def check(self, ctx: Context) -> list[Problem]:
        out = []
        if self.width_mm < self.rope_mm:
            out.append(
                problem("end.width_mm", "is narrower than the rope", value=self.width_mm, limit=self.rope_mm, unit="mm", remedy="Widen the drum.")
            )
        if self.diameter_mm < 6 * self.rope_mm:
            ctx.note(
                "drive",
                "end.diameter_mm",
                f"The drum is only {self.diameter_mm / self.rope_mm:.1f} rope diameters wide; common practice is 8 or more for cord, 16 for wire.",
            )
        return out

    def travel(self, ctx: Context) -> Quantity | None:
        g = ctx.given
        usable = ctx.book.put(
            "travel.usable",
            "Usable lift",
            max(self.length_mm, 0.0),
            "mm",
            equation="rope below the drum at the lowest",
            source="geometry",
            length=g("end.length_mm"),
        )
        ctx.rung(
            "travel", "Usable lift", g("aim.travel_mm"), usable, 1.0, unit="mm", step="aim", path="end.length_mm", says="A longer rope, or less lift."
        )
        return usable

    def moving(self, ctx: Context) -> Moving:
        g, put = ctx.given, ctx.book.put
        layers = self._layers(ctx)
        n = layers[-1][0] if ctx.case != "empty drum" else 1
        radius = ctx.calc(
            "drum.radius",
            f"Radius at which the rope pulls, {ctx.case or 'full drum'}",
            drives.layer_radius,
            core_mm=g("end.diameter_mm"),
            rope_mm=g("end.rope_mm"),
            layer=float(n),
        )
        lam = ctx.calc("end.lam", "Turn of the drum for 1 mm", axis.radians_per_mm, pitch_radius_mm=radius, ratio=1.0)
        inertia = ctx.calc(
            "drum.inertia",
            "Inertia of the drum",
            axis.disc_inertia,
            diameter_mm=2 * (radius.value or 0),
            width_mm=g("end.width_mm"),
            density_g_cm3=1.4,
        )
        mass = ctx.calc("drum.mass", "Drum as a mass at the load", axis.mass_of_inertia, inertia_gcm2=inertia, radians_per_mm=lam)
        carried = put("loop.carried", "Moves besides the tally", 0.0, "kg", equation="0", source="put a hook block in the tally", lam=lam)
        return Moving(lam, g("end.efficiency"), carried, mass)

    def loads(self, ctx: Context, mass: Quantity, slope: Quantity) -> tuple[Quantity, Quantity]:
        weight = ctx.calc("force.weight", "Weight of the load", axis.slope_force, mass_kg=mass, slope_rad=math.pi / 2)
        drag = ctx.book.put(
            "force.drag",
            "Drag of the lead pulleys",
            ctx.design.guide.drag_n,
            "N",
            equation="as entered",
            source_kind="your entry",
            source="your entry",
            drag=ctx.given("guide.drag_n"),
        )
        return weight, drag

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        g, r = ctx.given, ctx.book.results
        if self.rope_limit_n is not None:
            ctx.rung(
                "rope",
                "Rope",
                peak,
                g("end.rope_limit_n"),
                8.0,
                unit="N",
                step="belt",
                path="end.rope_limit_n",
                says="A stronger rope. Eight times the load is common practice for hoisting small goods; never lift people.",
            )
        ratio = ctx.calc(
            "drum.capstan", "What the kept turns hold", drives.capstan_ratio, friction=g("end.friction"), wrap_rad=self.turns_kept * 2 * math.pi
        )
        knot = ctx.book.put(
            "drum.knot",
            "Pull left at the rope's fixing",
            lambda: (peak.value or 0) / (ratio.value or 1),
            "N",
            equation="F/e^(µθ)",
            source="Euler–Eytelwein",
            force=peak,
            ratio=ratio,
        )
        assert knot.key
        ctx.rung(
            "shaft_load",
            "Load on the drum's shaft",
            peak,
            shaft.radial_limit,
            1.0,
            unit="N",
            step="drive",
            path="end.overhang_mm",
            advisory=True,
            says="Support the drum's shaft on both sides.",
        )
        assert r

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[tuple[str, str, Term, Any]]:
        area = math.pi * self.rope_mm**2 / 4
        length = self.length_mm - positions + 50.0
        return [("rope", "Rope", ctx.given("end.rope_gpa"), drives.bar_stiffness(self.rope_gpa, area, length.clip(min=50.0)))]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        r = ctx.book.results
        rpm = ctx.calc("drum.speed", "Speed of the drum", axis.shaft_speed, speed_mm_s=ctx.given("aim.speed_mm_s"), radians_per_mm=r["end.lam"])
        return [
            DriveNode(
                "drum",
                "Drum",
                "end",
                "end.diameter_mm",
                f"⌀ {self.diameter_mm:g} mm",
                rpm.value,
                "rpm",
                r["end.torque_accelerate"].value,
                "N·m",
                None,
            ),
            DriveNode(
                "rope",
                "Rope",
                "end",
                "end.rope_mm",
                f"⌀ {self.rope_mm:g} mm",
                ctx.design.aim.speed_mm_s,
                "mm/s",
                r["belt.peak_force"].value,
                "N",
                None,
            ),
        ]

    def tables(self, ctx: Context) -> list[Table]:
        reach = ctx.book.results["motor.reach"].value
        here, force = ctx.book.results["drum.radius"].value or 1.0, ctx.book.results["force.accelerate"].value or 0.0
        rows: list[tuple[float | str | None, ...]] = [
            (float(n), radius, held / 1000, None if reach is None else reach * radius / here, force * radius / 1000)
            for n, radius, held in self._layers(ctx)
        ]
        return [
            Table(
                "layers",
                "Speed and torque by layer",
                ("layer", "radius, mm", "rope wound, m", "speed it can reach, mm/s", "drum torque, accelerating, N·m"),
                tuple(rows),
                "A full drum pulls at the largest radius: more torque, more speed.",
            )
        ]

    def scene(self, ctx: Context) -> Scene:
        travel, r = ctx.book.results["travel.usable"].value or 0.0, ctx.book.results["drum.radius"].value or 1.0
        low = -self.length_mm
        load = max(60.0, self.length_mm / 12)
        return Scene(
            "Seen from the side", "Load", travel, (SceneWheel("Drum", "drum", Spot(0, 0), r, r, 8.0, 1 / r, field="end.diameter_mm"),),
            (Strand("rope", (Piece(Spot(r, 0), Spot(r, low, 0.0, 1.0)),), 1.0),),
            (Slab("load", Spot(r, low - load / 2, 0.0, 1.0), load, load), Slab("frame", Spot(0, r + 12), 4 * r + 60, 8.0)),
            (Mark("drum", Spot(-r - 24, 0)), Mark("usable lift", Spot(r + load, low), Spot(r + load, low + travel), travel)),
        )  # fmt: skip

    def cut(self, ctx: Context) -> list[CutLine]:
        whole = self.length_mm + self.turns_kept * math.pi * (self.diameter_mm + self.rope_mm) + 150
        return [CutLine(f"Rope, ⌀ {self.rope_mm:g} mm", whole, 0, f"to the load, {self.turns_kept:g} turns kept on the drum, 150 mm for knots")]

    def bill(self, ctx: Context) -> list[BillLine]:
        return [
            bought(self.drum, "Drum", f"⌀ {self.diameter_mm:g} × {self.width_mm:g} mm", "end.drum"),
            bought(self.rope, "Rope", f"⌀ {self.rope_mm:g} mm", "end.rope"),
        ]

    def work(self, ctx: Context) -> list[WorkStep]:
        return [
            *shaft_steps("drum", ("end.drum",)),
            WorkStep(
                "rope_on",
                f"Fix the rope in the drum, wind {self.turns_kept:g} turns on, then hang the load.",
                "tightened",
                after=("motor_tight",),
                needs=("end.rope",),
                check="The fixing holds a pull by hand.",
                caution="Nobody under the load, ever.",
            ),
        ]

    def cautions(self, ctx: Context) -> list[Caution]:
        return [
            Caution(
                "aim",
                "A hanging load falls when the power goes: fit a brake or a worm that holds, and let nobody stand under it. Not for lifting people.",
            ),
            Caution("drive", "A drum draws fingers and sleeves in with the rope: guard it."),
            _AID,
        ]


class Joint(End):
    """Rotary joint of an arm with a payload at its tip; millimetres are counted along the tip's arc."""

    kind: Literal["joint"] = "joint"
    point: ClassVar[str] = "tip"
    guided: ClassVar[bool] = False
    arm: Bought = Bought()
    length_mm: float = num("Arm, from joint to tip", "length", "mm", 5, 5000, 300.0)
    arm_kg: float = num("Mass of the arm", "mass", "kg", 0, 200, 0.3)
    centre: float = num("Its centre of mass, part of its length", "number", "", 0, 1, 0.5)
    from_deg: float = num("Lowest angle above the level", "angle", "°", -180, 180, -30.0)
    to_deg: float = num("Highest angle above the level", "angle", "°", -180, 180, 60.0)
    turn_deg: float = num("Angle wanted", "angle", "°", 1, 360, 80.0)
    material: Literal["steel", "aluminium", "acrylic", "PLA", "PETG", "plywood"] = "aluminium"
    height_mm: float = num("Height of the arm's section", "length", "mm", 0.5, 500, 20.0)
    width_mm: float = num("Width of the arm's section", "length", "mm", 0.5, 500, 10.0)
    drag_nm: float = num("Friction of the joint", "torque", "N·m", 0, 500, 0.05)
    upright: Literal["upright", "flat"] = "upright"
    overhang_mm: float = num("Arm from the bearing", "length", "mm", 1, 300, 15.0)

    def overhang(self) -> str | None:
        return "end.overhang_mm"

    def check(self, ctx: Context) -> list[Problem]:
        out = []
        if self.to_deg <= self.from_deg:
            out.append(
                problem(
                    "end.to_deg",
                    "is not above the lowest angle",
                    value=self.to_deg,
                    limit=self.from_deg,
                    unit="°",
                    remedy="Give the range from its lower to its upper end.",
                )
            )
        return out

    def _level_share(self) -> float:
        if self.upright == "flat":
            return 0.0
        if self.from_deg <= 0 <= self.to_deg:
            return 1.0
        return max(abs(math.cos(math.radians(a))) for a in (self.from_deg, self.to_deg))

    def travel(self, ctx: Context) -> Quantity | None:
        g = ctx.given
        usable = ctx.book.put(
            "travel.usable",
            "Usable arc at the tip",
            math.radians(self.to_deg - self.from_deg) * self.length_mm,
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
            step="aim",
            path="end.to_deg",
            says="A wider range, or less angle wanted.",
        )
        return usable

    def moving(self, ctx: Context) -> Moving:
        g = ctx.given
        lam = ctx.calc("end.lam", "Turn of the joint for 1 mm at the tip", axis.radians_per_mm, pitch_radius_mm=g("end.length_mm"), ratio=1.0)
        carried = ctx.calc("loop.carried", "Arm as a mass at the tip", drives.arm_inertia_mass, arm_kg=g("end.arm_kg"), centre_share=g("end.centre"))
        turning = ctx.book.put("joint.turning", "Turning parts besides", 0.0, "kg", equation="0", source="counted with arm and stages", lam=lam)
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
            drives.arm_weight,
            payload_kg=mass,
            arm_kg=g("end.arm_kg"),
            centre_share=g("end.centre"),
            level_share=share,
        )
        ctx.book.put(
            "joint.torque",
            "Weight as a torque at the joint, worst place",
            lambda: (weight.value or 0) * self.length_mm / 1000,
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

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        r, g = ctx.book.results, ctx.given
        ctx.book.put(
            "joint.speed",
            "Angular speed at the top",
            lambda: ctx.design.aim.speed_mm_s * (r["end.lam"].value or 0) * 180 / math.pi,
            "°/s",
            equation="v·λ",
            source="kinematics",
            speed=g("aim.speed_mm_s"),
            radians_per_mm=r["end.lam"],
        )
        if "command_step" in r:
            ctx.book.put(
                "joint.resolution",
                "Smallest commanded angle",
                lambda: (r["command_step"].value or 0) * (r["end.lam"].value or 0) * 180 / math.pi,
                "°",
                equation="δ·λ",
                source="kinematics",
                step=r["command_step"],
                radians_per_mm=r["end.lam"],
            )

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[tuple[str, str, Term, Any]]:
        second = self.width_mm * self.height_mm**3 / 12
        k = drives.arm_stiffness(MATERIALS[self.material][0], second, self.length_mm)
        stiff = ctx.book.put(
            "joint.arm",
            "Stiffness of the arm at its tip",
            k,
            "N/mm",
            equation="3EI/L³",
            source="cantilever with end load",
            material=Given("end.material", MATERIALS[self.material][0], "GPa", "estimate", self.material),
            height=ctx.given("end.height_mm"),
            width=ctx.given("end.width_mm"),
            arm=ctx.given("end.length_mm"),
        )
        return [("arm", "Arm", stiff, stiff.value or 0.0)]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        r = ctx.book.results
        rpm = ctx.calc("joint.rpm", "Speed of the joint", axis.shaft_speed, speed_mm_s=ctx.given("aim.speed_mm_s"), radians_per_mm=r["end.lam"])
        return [
            DriveNode(
                "arm", "Arm", "end", "end.length_mm", f"{self.length_mm:g} mm long", rpm.value, "rpm", r["end.torque_accelerate"].value, "N·m", None
            )
        ]

    def scene(self, ctx: Context) -> Scene:
        travel, length = ctx.book.results["travel.usable"].value or 0.0, self.length_mm
        pivot, low = Spot(0, 0), math.radians(self.from_deg)
        return Scene(
            "Seen from the side" if self.upright == "upright" else "Seen from above", "Tip", travel,
            (SceneWheel("Joint", "smooth", pivot, self.height_mm * 0.9, self.height_mm * 0.9, 8.0, 1 / length, field="end.length_mm"),), (),
            (
                Slab("arm", Spot(length / 2, 0), length, self.height_mm, pivot, low, 1 / length),
                Slab("load", Spot(length, 0), max(length * 0.1, 20), max(length * 0.1, 20), pivot, low, 1 / length),
                Slab("frame", Spot(0, -length * 0.25), length * 0.16, length * 0.5),
            ),
            (Mark("joint", Spot(-length * 0.2, self.height_mm)),),
        )  # fmt: skip

    def bill(self, ctx: Context) -> list[BillLine]:
        return [bought(self.arm, "Arm", f"{self.material}, {self.length_mm:g} × {self.height_mm:g} × {self.width_mm:g} mm", "end.arm")]

    def work(self, ctx: Context) -> list[WorkStep]:
        return shaft_steps("arm", ("end.arm",))

    def cautions(self, ctx: Context) -> list[Caution]:
        out = [Caution("drive", "An arm pinches and strikes: keep out of its reach while it is powered, and slow it down for the first tries."), _AID]
        if self.upright == "upright":
            out.append(Caution("aim", "The arm falls when the power goes: prop it, balance it, or give it a drive that holds."))
        return out
