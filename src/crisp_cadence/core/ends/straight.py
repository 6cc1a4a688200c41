"""Screw and rack: ends that turn rotation into travel without a belt."""

from __future__ import annotations

import math
from typing import Any, ClassVar, Literal

from .. import axis, drives
from ..context import Context
from ..errors import Problem, problem
from ..formula import Given, Quantity, Term
from ..model import MODULES, Bought, num
from ..report import BillLine, Caution, CutLine, DriveNode, Setting, Table, WorkStep
from ..scene import Mark, Scene, SceneWheel, Slab, Spot
from ..stages.base import OutputShaft, bought
from .base import End, FloatArray, Moving
from .work_steps import first_run, guide_work

STEEL_GPA = 205.0
STEEL_DENSITY = 7.85
MATERIAL_MPA = {
    "steel": 140.0,
    "brass": 60.0,
    "POM": 25.0,
    "PLA": 12.0,
}  # lasting root stress of a pinion (from memory)


class Screw(End):
    """Lead screw or ball screw, the carriage on its nut."""

    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("screw.",)}
    straight: ClassVar[bool] = True
    kind: Literal["screw"] = "screw"
    screw: Bought = Bought()
    nut: Bought = Bought()
    form: Literal["trapezoidal", "ball", "square"] = "trapezoidal"
    diameter_mm: float = num("Outside diameter", "length", "mm", 2, 200, 8.0)
    pitch_mm: float = num("Pitch of the thread", "length", "mm", 0.2, 100, 2.0)
    starts: int = num("Starts", "count", "", 1, 12, 1)
    friction: float = num(
        "Friction in the thread",
        "number",
        "",
        0.001,
        0.6,
        0.15,
        "Brass on steel, greased 0.12 to 0.2; POM 0.08 to 0.15; balls about 0.005.",
    )
    length_mm: float = num("Screw between its bearings", "length", "mm", 10, 20_000, 500.0)
    fixings: Literal["fixed, free", "supported, supported", "fixed, supported", "fixed, fixed"] = (
        "fixed, supported"
    )
    backlash_mm: float = num(
        "Play of the nut", "length", "mm", 0, 5, 0.08, "0 for a preloaded or sprung nut."
    )
    thread_mm: float | None = num(
        "Thread to cut, pitch",
        "length",
        "mm",
        0.05,
        100,
        None,
        "On a bench lathe's lead screw: what one turn of the work must advance.",
    )
    bearing_n_mm: float = num(
        "Stiffness of bearing and nut",
        "stiffness",
        "N/mm",
        1,
        1e7,
        5000.0,
        "Estimate; a plastic nut about 1000.",
    )

    def _root(self) -> float:
        return (
            self.diameter_mm
            - (0.0 if self.form == "ball" else self.pitch_mm * 1.05)
            - (0.15 * self.diameter_mm if self.form == "ball" else 0.0)
        )

    def check(self, ctx: Context) -> list[Problem]:
        out = []
        if self._root() < 0.4 * self.diameter_mm:
            out.append(
                problem(
                    "end.pitch_mm",
                    "cuts the thread too deep for this diameter: hardly any core is left",
                    value=self.pitch_mm,
                    limit=round(self.diameter_mm * 0.55, 2),
                    unit="mm",
                    remedy="Take a thicker screw or a finer thread; a long lead comes from several starts.",
                )
            )
        if self.length_mm < ctx.design.guide.rail_mm * 0.3:
            out.append(
                problem(
                    "end.length_mm",
                    "is far shorter than the rail that it is to serve",
                    value=self.length_mm,
                    limit=round(ctx.design.guide.rail_mm * 0.3, 1),
                    unit="mm",
                    remedy="Take a longer screw.",
                )
            )
        slender = self.length_mm / max(self._root(), 0.1)
        if slender > 400:
            out.append(
                problem(
                    "end.diameter_mm",
                    "is too thin for its length: it sags and whips at any speed",
                    value=self.diameter_mm,
                    limit=round(self.length_mm / 400 + self.pitch_mm, 1),
                    unit="mm",
                    remedy="A thicker screw, a shorter one, or a belt.",
                )
            )
        return out

    def moving(self, ctx: Context) -> Moving:
        g, put = ctx.given, ctx.book.put
        lead = put(
            "screw.lead",
            "Lead of the screw",
            self.pitch_mm * self.starts,
            "mm",
            equation="ℓ = p·n",
            source="definition of lead",
            pitch=g("end.pitch_mm"),
            starts=g("end.starts"),
        )
        mean = put(
            "screw.mean",
            "Mean diameter of the thread",
            self.diameter_mm - (0 if self.form == "ball" else self.pitch_mm / 2),
            "mm",
            equation="d − p/2",
            source="thread geometry",
            d=g("end.diameter_mm"),
            pitch=g("end.pitch_mm"),
        )
        flank = {"trapezoidal": 15.0, "ball": 0.0, "square": 0.0}[self.form]
        alpha = ctx.calc(
            "screw.lead_angle", "Lead angle", drives.lead_angle, lead_mm=lead, mean_diameter_mm=mean
        )
        rho = ctx.calc(
            "screw.friction_angle",
            "Friction angle in the thread",
            drives.thread_friction_angle,
            friction=g("end.friction"),
            flank_deg=flank,
        )
        eta = ctx.calc(
            "screw.efficiency",
            "Efficiency of the screw",
            drives.screw_efficiency,
            lead_angle_rad=alpha,
            friction_angle_rad=rho,
        )
        back = ctx.calc(
            "screw.efficiency_back",
            "Efficiency of the screw driven backwards",
            drives.screw_back_efficiency,
            lead_angle_rad=alpha,
            friction_angle_rad=rho,
        )
        lam = put(
            "end.lam",
            "Turn of the screw for 1 mm",
            lambda: 2 * math.pi / (lead.value or 1),
            "rad/mm",
            equation="λ = 2π/ℓ",
            source="kinematics",
            lead=lead,
        )
        root = put(
            "screw.root",
            "Core diameter",
            self._root(),
            "mm",
            equation="d − 1.05·p (threads), 0.85·d (balls)",
            source_kind="common practice",
            source="thread depth, from memory",
            d=g("end.diameter_mm"),
            pitch=g("end.pitch_mm"),
        )
        inertia = ctx.calc(
            "screw.inertia",
            "Inertia of the screw",
            axis.disc_inertia,
            diameter_mm=root,
            width_mm=g("end.length_mm"),
            density_g_cm3=STEEL_DENSITY,
        )
        mass = ctx.calc(
            "screw.mass",
            "Screw as a mass at the carriage",
            axis.mass_of_inertia,
            inertia_gcm2=inertia,
            radians_per_mm=lam,
        )
        carried = put(
            "loop.carried",
            "Moves besides the tally",
            0.0,
            "kg",
            equation="0",
            source="the nut belongs to the tally",
            lam=lam,
        )
        return Moving(lam, eta, carried, mass, efficiency_back=back, backlash_mm=g("end.backlash_mm"))

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        g, r = ctx.given, ctx.book.results
        beta, n = drives.FIXINGS[self.fixings]
        if self.thread_mm is not None:
            wanted = g("end.thread_mm")
            ctx.book.put(
                "screw.thread",
                "Turns of the screw for one turn of the work",
                lambda: (wanted.value or 0) / (r["screw.lead"].value or 1),
                "",
                equation="p/ℓ",
                source="kinematics of thread cutting",
                pitch=wanted,
                lead=r["screw.lead"],
            )
        rpm = ctx.calc(
            "screw.speed",
            "Speed of the screw at the top",
            axis.shaft_speed,
            speed_mm_s=g("aim.speed_mm_s"),
            radians_per_mm=r["end.lam"],
        )
        whirl = ctx.calc(
            "screw.whirl",
            "Speed at which the screw whips",
            drives.whirl_speed,
            root_mm=r["screw.root"],
            length_mm=g("end.length_mm"),
            eigenvalue=Given("end.fixings", beta, "", "handbook", self.fixings),
            youngs_gpa=STEEL_GPA,
            density_g_cm3=STEEL_DENSITY,
        )
        ctx.rung(
            "whirl",
            "Whip of the screw",
            rpm,
            whirl,
            1.25,
            unit="rpm",
            section="stiffness",
            path="end.fixings",
            says="A thicker or shorter screw, a longer lead, better held ends, or less speed. Used "
            "below 80 % of the whip.",
        )
        buckle = ctx.calc(
            "screw.buckle",
            "Force that buckles the screw",
            drives.euler_load,
            root_mm=r["screw.root"],
            length_mm=g("end.length_mm"),
            end_factor=Given("end.fixings", n, "", "handbook", self.fixings),
            youngs_gpa=STEEL_GPA,
        )
        ctx.rung(
            "buckling",
            "Buckling of the screw",
            peak,
            buckle,
            3.0,
            unit="N",
            section="stiffness",
            path="end.diameter_mm",
            says="A thicker or shorter screw, or better held ends.",
        )

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[tuple[str, str, Term, Any]]:
        root, g = ctx.book.results["screw.root"].value or 0.0, ctx.given
        near = max(self.length_mm - ctx.design.guide.rail_mm, 0.0) / 2 + 20.0
        area = math.pi * root**2 / 4
        one = drives.bar_stiffness(STEEL_GPA, area, near + positions)
        if self.fixings == "fixed, fixed":
            one = one + drives.bar_stiffness(
                STEEL_GPA, area, (self.length_mm - near - positions).clip(min=1.0)
            )
        return [
            ("screw", "Screw", ctx.book.results["screw.root"], one),
            ("nut", "Bearing and nut", g("end.bearing_n_mm"), self.bearing_n_mm),
        ]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        r = ctx.book.results
        return [
            DriveNode(
                "screw",
                "Screw",
                "end",
                "end.pitch_mm",
                f"{self.pitch_mm * self.starts:g} mm a turn",
                r["screw.speed"].value,
                "rpm",
                r["end.torque_accelerate"].value,
                "N·m",
                None,
            )
        ]

    def tables(self, ctx: Context) -> list[Table]:
        """Feed over the PWM range, for a motor that is told how fast and not where."""
        motor: Any = ctx.design.chain[0]
        r = ctx.book.results
        lam, push = r["motor.lam"].value, r["chain.0.torque_push"].value
        if motor.kind != "gearmotor" or not lam or push is None:
            return []
        rows: list[tuple[float | str | None, ...]] = []
        travel = ctx.design.aim.travel_mm
        force, eta = r["force.push"].value or 0.0, r["efficiency"].value or 1.0
        for duty in dict.fromkeys((motor.least_duty_percent, 25.0, 50.0, 75.0, 100.0)):
            if duty < motor.least_duty_percent:
                continue
            free = motor.no_load_rpm * math.pi / 30 * duty / 100
            under = max(free - push / motor.stall_torque_nm * motor.no_load_rpm * math.pi / 30, 0.0)
            stall = motor.stall_torque_nm * duty / 100 * lam * 1000 * eta
            rows.append(
                (
                    duty,
                    free / lam * 60,
                    under / lam * 60,
                    travel * lam / under if under > 0 else "stalls",
                    stall,
                    "yes" if stall > force else "no",
                )
            )
        head = (
            "duty, %",
            "feed, free, mm/min",
            "feed, pushing, mm/min",
            "one stroke, s",
            "stalls at, N",
            "pushes the work",
        )
        return [
            Table(
                "feed",
                "Feed over the PWM range",
                head,
                tuple(rows),
                "Straight line from no load to stall, scaled by the duty.",
            )
        ]

    def scene(self, ctx: Context) -> Scene:
        guide, travel = ctx.design.guide, ctx.book.results["travel.usable"].value or 0.0
        start = guide.near_mm + guide.overtravel_mm + guide.carriage_mm / 2
        middle, d = guide.rail_mm / 2, self.diameter_mm
        return Scene(
            "Seen from the side",
            "Carriage",
            travel,
            (),
            (),
            (
                Slab("rail", Spot(middle, -d - 16), guide.rail_mm, 8.0),
                Slab("screw", Spot(middle, 0), self.length_mm, d),
                Slab("motor", Spot(middle - self.length_mm / 2 - 24, 0), 44.0, 42.0),
                Slab("carriage", Spot(start, -4, 1.0), guide.carriage_mm, d + 22),
            ),
            (
                Mark("screw", Spot(middle, 0), level=1),
                Mark("usable travel", Spot(start, 0), Spot(start + travel, 0), travel, level=-1),
            ),
        )

    def cut(self, ctx: Context) -> list[CutLine]:
        return [
            CutLine(
                f"Screw, {self.form}, ⌀ {self.diameter_mm:g} × {self.pitch_mm:g}",
                self.length_mm + 40,
                0,
                "with 20 mm at each end to turn down for bearing and coupler",
            )
        ]

    def bill(self, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self.screw,
                "Screw",
                f"{self.form}, ⌀ {self.diameter_mm:g}, lead {self.pitch_mm * self.starts:g} mm",
                "end.screw",
            ),
            bought(self.nut, "Nut", self.form, "end.nut"),
        ]

    def work(self, ctx: Context) -> list[WorkStep]:
        return [
            *guide_work(ctx.design.guide.kind == "wheels"),
            WorkStep(
                "screw_on",
                "Fit the screw in its fixed bearing, the nut loose on the carriage.",
                "loose",
                after=("rail_tight",),
                needs=("end.screw", "end.nut"),
                check="Turns by finger over the whole travel.",
            ),
            WorkStep(
                "nut_tight",
                "Run the carriage close to the fixed bearing and tighten the nut there; then the far "
                "bearing with the carriage at the far end.",
                "tightened",
                after=("screw_on",),
                check="No tight spot at either end.",
            ),
            WorkStep(
                "motor_tight", "Tighten motor and coupler.", "tightened", after=("motor_on", "nut_tight")
            ),
            WorkStep(
                "hand_run",
                "Turn the screw by hand from end to end, supply off.",
                after=("motor_tight", "coupler_tight"),
                check="Even all the way.",
            ),
            *first_run(),
        ]

    def cautions(self, ctx: Context) -> list[Caution]:
        out = [
            Caution("drive", "A turning screw winds up sleeves, hair and rags: cover it."),
            Caution("build", "The numbers are a design aid, not a certificate."),
        ]
        back = ctx.book.results["screw.efficiency_back"].value
        if ctx.design.aim.slope_deg > 0 and back is not None:
            held = (
                "holds by itself on paper, but can creep when it shakes"
                if back <= 0
                else "can be driven backwards by the load: it falls when the power goes"
            )
            out.append(
                Caution(
                    "aim",
                    f"This axis is not level; its screw {held}. Prop the load before you work under it.",
                )
            )
        return out

    def settings(self, ctx: Context) -> list[Setting]:
        return []


class Rack(End):
    """A pinion that runs along a rack: any length, backlash unless sprung."""

    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("pinion.",)}
    straight: ClassVar[bool] = True
    kind: Literal["rack"] = "rack"
    rack: Bought = Bought()
    pinion: Bought = Bought()
    module_mm: float = num("Module", "length", "mm", 0.2, 20, 1.0, sizes=MODULES)
    teeth: int = num("Teeth of the pinion", "count", "", 8, 200, 20)
    face_mm: float = num("Face width", "length", "mm", 1, 200, 10.0)
    material: Literal["steel", "brass", "POM", "PLA"] = "POM"
    efficiency: float = num("Efficiency", "number", "", 0.3, 1, 0.92)
    backlash_mm: float = num("Backlash", "length", "mm", 0, 5, 0.15, "0 for a sprung pinion.")
    joint_mm: float = num(
        "Error of a rack joint", "length", "mm", 0, 5, 0.05, "Where two pieces of rack meet."
    )
    pieces: int = num("Pieces of rack", "count", "", 1, 100, 1)
    overhang_mm: float = num("Pinion from the bearing", "length", "mm", 1, 300, 15.0)
    mesh_n_mm: float = num(
        "Stiffness of the mesh", "stiffness", "N/mm", 10, 1e7, 3000.0, "Estimate; plastic about 1000."
    )

    def overhang(self) -> str | None:
        return "end.overhang_mm"

    def moving(self, ctx: Context) -> Moving:
        g, put = ctx.given, ctx.book.put
        radius = put(
            "pinion.radius",
            "Pitch radius of the pinion",
            self.module_mm * self.teeth / 2,
            "mm",
            equation="r = m·z/2",
            source_kind="standard",
            source="ISO 54 module",
            m=g("end.module_mm"),
            z=g("end.teeth"),
        )
        lam = ctx.calc(
            "end.lam", "Turn of the pinion for 1 mm", axis.radians_per_mm, pitch_radius_mm=radius, ratio=1.0
        )
        inertia = ctx.calc(
            "pinion.inertia",
            "Inertia of the pinion",
            axis.disc_inertia,
            diameter_mm=2 * (radius.value or 0),
            width_mm=g("end.face_mm"),
            density_g_cm3=1.4 if self.material in ("POM", "PLA") else 7.85,
        )
        mass = ctx.calc(
            "pinion.mass",
            "Pinion as a mass at the carriage",
            axis.mass_of_inertia,
            inertia_gcm2=inertia,
            radians_per_mm=lam,
        )
        carried = put(
            "loop.carried",
            "Moves besides the tally",
            0.0,
            "kg",
            equation="0",
            source="put a riding motor in the tally",
            lam=lam,
        )
        return Moving(lam, g("end.efficiency"), carried, mass, backlash_mm=g("end.backlash_mm"))

    def forces(self, ctx: Context, peak: Quantity, shaft: OutputShaft) -> None:
        g = ctx.given
        form = ctx.calc(
            "pinion.form", "Form factor of the teeth", drives.lewis_form_factor, teeth=g("end.teeth")
        )
        stress = Given(
            "end.material",
            MATERIAL_MPA[self.material],
            "MPa",
            "from memory",
            f"lasting root stress of {self.material}",
        )
        bears = ctx.calc(
            "pinion.force",
            "Force that the pinion's teeth bear",
            drives.lewis_force,
            stress_mpa=stress,
            face_mm=g("end.face_mm"),
            module_mm=g("end.module_mm"),
            form_factor=form,
        )
        ctx.rung(
            "teeth",
            "Teeth of the pinion",
            peak,
            bears,
            g("assumptions.margin_belt"),
            unit="N",
            section="end",
            path="end.module_mm",
            says="A larger module, a wider face, or a harder material.",
        )
        if self.pieces > 1:
            ctx.rung(
                "joint",
                "Error at a rack joint",
                g("end.joint_mm"),
                g("aim.error_mm"),
                1.0,
                unit="mm",
                section="stiffness",
                path="end.joint_mm",
                says="Set the joint with a third piece of rack turned over across it, then pin it.",
                lower_is_better=True,
            )
        load = ctx.calc(
            "pinion.shaft_load", "Load on the pinion's shaft", drives.tooth_shaft_load, force_n=peak
        )
        ctx.rung(
            "shaft_load",
            "Load on the pinion's shaft",
            load,
            shaft.radial_limit,
            1.0,
            unit="N",
            section="end",
            path="end.overhang_mm",
            advisory=True,
            says="Bring the pinion nearer to the bearing, or support its shaft beyond it.",
        )

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[tuple[str, str, Term, Any]]:
        return [("mesh", "Teeth in mesh", ctx.given("end.mesh_n_mm"), self.mesh_n_mm)]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        return [
            self.shaft_node(
                ctx,
                "pinion.speed",
                "mesh",
                "Pinion and rack",
                "end.teeth",
                f"{self.teeth} teeth, m {self.module_mm:g}",
            )
        ]

    def scene(self, ctx: Context) -> Scene:
        guide, travel, r = (
            ctx.design.guide,
            ctx.book.results["travel.usable"].value or 0.0,
            self.module_mm * self.teeth / 2,
        )
        start = guide.near_mm + guide.overtravel_mm + guide.carriage_mm / 2
        wheel = SceneWheel(
            "Pinion",
            "pinion",
            Spot(start, r, 1.0),
            r,
            r + self.module_mm,
            5.0,
            -1 / r,
            self.teeth,
            math.pi * self.module_mm,
            2.25 * self.module_mm,
            40.0,
            field="end.teeth",
        )
        return Scene(
            "Seen from the side",
            "Carriage",
            travel,
            (wheel,),
            (),
            (
                Slab("rack", Spot(guide.rail_mm / 2, -3), guide.rail_mm, 6.0),
                Slab("carriage", Spot(start, r + 8, 1.0), guide.carriage_mm, 2 * r + 26),
            ),
            (
                Mark("rack", Spot(guide.rail_mm - 30, 0), level=1),
                Mark("usable travel", Spot(start, 0), Spot(start + travel, 0), travel, level=-1),
            ),
        )

    def cut(self, ctx: Context) -> list[CutLine]:
        whole = ctx.design.guide.rail_mm
        teeth = math.ceil(whole / (math.pi * self.module_mm))
        return [
            CutLine(
                f"Rack, module {self.module_mm:g}, face {self.face_mm:g} mm",
                teeth * math.pi * self.module_mm,
                teeth,
                f"in {self.pieces} piece{'s' if self.pieces > 1 else ''}, cut in the middle of a gap",
            )
        ]

    def bill(self, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self.rack, "Rack", f"module {self.module_mm:g}, {ctx.design.guide.rail_mm:g} mm", "end.rack"
            ),
            bought(self.pinion, "Pinion", f"{self.teeth} teeth, {self.material}", "end.pinion"),
        ]

    def work(self, ctx: Context) -> list[WorkStep]:
        return [
            *guide_work(ctx.design.guide.kind == "wheels"),
            WorkStep(
                "rack_on",
                "Fix the rack along the rail, its joints set with a third piece turned over across them.",
                "aligned",
                after=("rail_tight",),
                needs=("end.rack",),
                check="Pitch line the same distance from the rail at both ends.",
            ),
            WorkStep(
                "pulley_on",
                "Fit the pinion on its shaft, over the flat.",
                "tightened",
                after=("check_parts",),
                needs=("end.pinion",),
            ),
            WorkStep(
                "mesh_set",
                "Bring the pinion into mesh with a strip of paper between the teeth; tighten the "
                "motor; take the paper out.",
                "tightened",
                after=("rack_on", "motor_on", "pulley_on"),
                check="A trace of play over the whole length, nowhere tight.",
            ),
            WorkStep(
                "hand_run",
                "Push the carriage end to end by hand, supply off: slowly.",
                after=("mesh_set",),
                caution="Pinch point between pinion and rack; the motor feeds voltage into its "
                "driver when pushed.",
            ),
            *first_run(),
        ]

    def cautions(self, ctx: Context) -> list[Caution]:
        out = [
            Caution("drive", "Pinion and rack draw fingers in: guard the mesh."),
            Caution("build", "The numbers are a design aid, not a certificate."),
        ]
        if ctx.design.aim.slope_deg > 0:
            out.append(
                Caution(
                    "aim",
                    "This axis is not level: a rack does not hold by itself. Fit a brake, and prop "
                    "the load before you work under it.",
                )
            )
        return out
