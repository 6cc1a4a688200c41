"""A pinion that runs along a rack."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import Kept, Repeat, Trial, Unsure
from ...account.report import BillLine, Caution, CutLine, DriveNode, WorkStep
from ...checks import masses, repeats, trials
from ...fields.part import MODULES, Bought, num
from ...formulas import motion, prices, racks, reach, springs
from ...geometry.scene import Mark, Scene, SceneWheel, Slab, Spot
from ...ledger.amounts import said
from ...ledger.many import along
from ...ledger.quantity import Given, Term
from ..joining import behind, holds_end, stands_alone
from ..stages.contract import SOFT, bought
from ..work_steps import (
    AID,
    CALLIPER,
    across,
    after_the_run,
    before_the_trial,
    guarded,
    guards,
    lay_out,
    on_each_side,
    push_by_hand,
    rails,
    scale_by,
    shaft_work,
    slow_run,
    square,
)
from .contract import End, FloatArray, Moving, OwnSpring

# Lasting root stress of a pinion, MPa (from memory).
MATERIAL_MPA = {"steel": 140.0, "brass": 60.0, "POM": 25.0, "PLA": 12.0}

SPRUNG_PLAY_MM = 0.02  # that a gauge still shows on a pinion pressed into its rack (estimate)


class Rack(End):
    """A pinion that runs along a rack: any length, backlash unless sprung."""

    FIRST = ("module_mm", "teeth", "material", "backlash_mm")

    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("pinion.",)}
    straight: ClassVar[bool] = True
    APART = ("pieces",)

    sets_motor: ClassVar[bool] = True
    kind: Literal["rack"] = "rack"
    rack: Bought = Bought()
    pinion: Bought = Bought()
    module_mm: float = num("Module", "length", "mm", 0.2, 20, 1.0, sizes=MODULES)
    teeth: int = num("Teeth of the pinion", "count", "", 8, 200, 20)
    face_mm: float = num("Face width", "length", "mm", 1, 200, 10.0)
    material: Literal["steel", "brass", "POM", "PLA"] = "POM"
    efficiency: float = num(
        "Efficiency", "number", "", 0.3, 1, 0.92, "0.95 for straight teeth, 0.9 for printed ones."
    )
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
            "end.lam", "Turn of the pinion for 1 mm", motion.radians_per_mm, pitch_radius_mm=radius, ratio=1.0
        )
        words = ("Inertia of the pinion", "Pinion as a mass at the carriage")
        density = 1.4 if self.material in ("POM", "PLA") else springs.STEEL_DENSITY
        mass = masses.disc(ctx, "pinion", words, 2 * radius.n, g("end.face_mm"), density, lam)
        carried = masses.nothing_besides(ctx, lam, "put a riding motor in the tally")
        return Moving(lam, g("end.efficiency"), carried, mass, backlash_mm=g("end.backlash_mm"))

    def forces(self, ctx: Context) -> None:
        g, peak = ctx.given, ctx.peaks.peak
        form = ctx.calc(
            "pinion.form", "Form factor of the teeth", racks.lewis_form_factor, teeth=g("end.teeth")
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
            racks.lewis_force,
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
            "pinion.shaft_load", "Load on the pinion's shaft", racks.tooth_shaft_load, force_n=peak
        )
        self.shaft_rung(
            ctx,
            "Load on the pinion's shaft",
            load,
            "Bring the pinion nearer to the bearing, or support its shaft beyond it.",
        )

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[OwnSpring]:
        return [("mesh", "Teeth in mesh", ctx.given("end.mesh_n_mm"), along(self.mesh_n_mm))]

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
        guide, travel, r = (ctx.design.guide, ctx.usable, self.module_mm * self.teeth / 2)
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
                f"Rack, module {self.module_mm:g}, face {self.face_mm:g} mm" + on_each_side(ctx),
                teeth * math.pi * self.module_mm,
                teeth,
                f"in {self.pieces} piece{'s' if self.pieces > 1 else ''}, cut in the middle of a gap",
                of=f"Rack, module {self.module_mm:g}, face {self.face_mm:g} mm",
                pieces=ctx.counts.belts,
                sawn=True,
            )
        ]

    def repeats(self, ctx: Context) -> list[Repeat]:
        lam = ctx.drive.lam_end.value or 0.0
        return repeats.tooth("a tooth of the rack", "end", lam, self.teeth) + repeats.turn(
            "a turn of the pinion", "end", lam
        )

    def unsure(self, ctx: Context) -> list[Unsure]:
        return [Unsure("end.mesh_n_mm", "the teeth in mesh", self.mesh_n_mm, SOFT)]

    def trials(self, ctx: Context) -> list[Trial]:
        sprung = self.backlash_mm == 0
        mesh = trials.play(
            "end",
            "Play between pinion and rack",
            "Hold the pinion's shaft fast, push the carriage to and fro with a finger against a dial "
            "gauge: at both ends and in the middle. More at one end than at the other: the rack is not "
            "parallel to the rail. It is set by a strip of paper in the mesh.",
            "backlash_mm",
            SPRUNG_PLAY_MM if sprung else self.backlash_mm,
            "length",
            "mm",
            trace=not sprung,
        )
        if self.pieces == 1:
            return [mesh]
        pitch = math.pi * self.module_mm
        joint = Trial(
            key="end.joint",
            name="Step of the rack's joint",
            path="end.joint_mm",
            how=f"Measure over ten teeth across the joint and over ten beside it, between the same flanks "
            f"({said(10 * pitch, 'mm', '.2f')}); enter the difference.",
            dimension="length",
            unit="mm",
            expected=self.joint_mm,
            high=self.joint_mm,
            above="Loosen the shorter piece, set it with a third piece of rack turned over across the joint, "
            "and pin it.",
            keeps=Kept("end.joint_mm"),
        )
        return [mesh, joint]

    def bill(self, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self.rack,
                "Rack",
                f"module {self.module_mm:g}, {ctx.design.guide.rail_mm:g} mm",
                "end.rack",
                ctx.counts.belts,
                typical=prices.rack_price(self.module_mm, ctx.design.guide.rail_mm, self.material == "steel"),
            ),
            bought(
                self.pinion,
                "Pinion",
                f"{self.teeth} teeth, {self.material}",
                "end.pinion",
                ctx.counts.belts,
                typical=prices.pinion_price(self.module_mm),
            ),
        ]

    def over_shaft(self, ctx: Context) -> Term | None:
        terms = {"module_mm": ctx.given("end.module_mm"), "teeth": ctx.given("end.teeth")}
        return ctx.calc("reach.rim", "Rim of what sits on the motor's shaft", reach.tip_diameter, **terms)

    def work(self, ctx: Context) -> list[WorkStep]:
        both = ctx.counts.belts > 1
        pinion = "each pinion" if both else "the pinion"
        return [
            lay_out("rail length, shafts, bores, screw lengths, length of the rack by its teeth"),
            *rails(ctx),
            WorkStep(
                "rack_on",
                f"Fix {'both racks along their rails' if both else 'the rack along the rail'}, joints set "
                f"with a third piece turned over across them.",
                "aligned",
                after=("frame",),
                gives=("rack",),
                fastens=("rack",),
                needs=("end.rack",),
                check="Pitch line the same distance from the rail at both ends.",
                tools=("hex keys", "a short piece of rack", CALLIPER),
                side="from above, along the rack",
            ),
            *shaft_work(
                ctx,
                pinion,
                "Press the bearings in and run the pinion's shaft through both.",
                ("end.pinion",),
                tight=False,
            ),
            WorkStep(
                "mesh_set",
                f"Bring {pinion} into mesh with a strip of paper between the teeth; tighten "
                + ("the plate of its shaft" if stands_alone(ctx) else f"the {behind(ctx)}")
                + "; take the paper out."
                + before_the_trial(ctx),
                "tightened",
                after=("rack", "shaft.end") if stands_alone(ctx) else ("rack", "motor", "shaft.end"),
                gives=("joined", holds_end(ctx)),
                fastens=("bearing plates",) if stands_alone(ctx) else ("motor",),
                check="A trace of play over the whole length, nowhere tight.",
                tools=("hex keys", "strip of paper, 0.1 mm"),
                side="from the plate's front, past the pinion",
            ),
            *across(ctx, "mesh_set"),
            *square(ctx, "mesh_set"),
            push_by_hand(ctx, "Pinch point between pinion and rack"),
            slow_run("chain.0", "Keep hands clear; reach the switch first."),
            *after_the_run(
                ctx,
                "rack, pinion and motor",
                "Look at the mesh and every screw of the drive again after the first run.",
                scale_by(ctx),
                ("rack", "motor", "hub"),
            ),
            guards("Fit covers and guards.", ("rack_on", "mesh_set", "lock_screws"), after=guarded(ctx)),
        ]

    def cautions(self, ctx: Context) -> list[Caution]:
        out = [Caution("drive", "Pinion and rack draw fingers in: guard the mesh."), AID]
        if ctx.design.aim.slope_deg > 0:
            out.append(
                Caution(
                    "aim",
                    "This axis is not level: a rack does not hold by itself. Fit a brake, and prop "
                    "the load before you work under it.",
                )
            )
        return out
