"""Cord winch: a drum that winds a hanging load up in layers; millimetres are counted at the load."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import Repeat, Trial
from ...account.report import BillLine, Caution, Column, CutLine, DriveNode, Table, WorkStep
from ...checks import masses, repeats, trials
from ...fields.axis import Axis
from ...fields.columns import each
from ...fields.part import Bought, choice, num
from ...formulas import drums, dynamics, motion, prices, reach, screws
from ...geometry.scene import Mark, Piece, Scene, SceneWheel, Slab, Spot, Strand
from ...ledger.amounts import said
from ...ledger.errors import problem
from ...ledger.formula import Real
from ...ledger.many import along, most, pick
from ...ledger.quantity import Given, Quantity, Term
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

WIRE_GPA = 20.0  # a rope stiffer than this is of wire
DrumMaterial = Literal["printed", "hardwood", "aluminium", "steel"]
# What a drum bears under its rope for good, MPa, and its density, g/cm³.
STUFF: dict[DrumMaterial, tuple[float, float]] = {
    "printed": (5.0, 1.4),
    "hardwood": (5.0, 0.7),
    "aluminium": (40.0, 2.7),
    "steel": (80.0, 7.85),
}


LEAST_TURNS = 2.0  # that stay on a drum (common practice)


class Drum(End):
    """Cord winch: a drum that winds a hanging load up in layers."""

    FIRST = ("diameter_mm", "width_mm", "rope_mm", "length_mm")

    kind: Literal["drum"] = "drum"
    point: ClassVar[str] = "load"
    guided: ClassVar[bool] = False
    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("drum.",)}
    drum: Bought = Bought()
    rope: Bought = Bought()
    diameter_mm: float = num("Drum diameter", "length", "mm", 2, 1000, 40.0)
    width_mm: float = num("Drum width between its flanges", "length", "mm", 2, 1000, 40.0)
    made_of: DrumMaterial = choice("Drum made of", "printed")
    rope_mm: float = num("Rope diameter", "length", "mm", 0.2, 50, 3.0)
    rope_gpa: float = num(
        "Rope's modulus",
        "number",
        "GPa",
        0.01,
        200,
        2.0,
        "Braided polyester about 2 to 5, wire rope about 60 (estimates).",
    )
    rope_limit_n: float | None = num(
        "Breaking force of the rope",
        "force",
        "N",
        1,
        1e6,
        None,
        "On its spool; leave empty and it is estimated from the thickness.",
    )
    length_mm: float = num("Rope from the drum to the load, lowest", "length", "mm", 10, 100_000, 2000.0)
    turns_kept: float = num(
        "Turns left on the drum", "number", "", 0, 20, 3.0, "Never wind off the last three."
    )
    friction: float = num(
        "Friction of rope on drum",
        "number",
        "",
        0.02,
        1,
        0.15,
        "0.1 for steel on greased steel, 0.2 for cord on wood or plastic.",
    )
    overhang_mm: float = num("Drum from the bearing", "length", "mm", 1, 500, 25.0)
    efficiency: float = num(
        "Efficiency", "number", "", 0.3, 1, 0.95, "0.95 with ball bearings, 0.85 with plain ones."
    )

    def overhang(self) -> str | None:
        return "end.overhang_mm"

    def cases(self, design: Axis) -> tuple[str, ...]:
        return ("full drum", "empty drum")

    def _layers(self, travel_mm: float) -> list[tuple[int, float, float]]:
        """Layer, its radius and the rope that it holds, mm, until the rope for the travel is wound."""
        need = travel_mm + self.turns_kept * math.pi * (self.diameter_mm + self.rope_mm)
        out, held = [], 0.0
        for n in range(1, 60):
            radius = float(drums.layer_radius(self.diameter_mm, self.rope_mm, n))
            held += max(math.floor(self.width_mm / self.rope_mm), 1) * 2 * math.pi * radius
            out.append((n, radius, held))
            if held >= need:
                break
        return out

    def check(self, ctx: Context) -> None:
        ctx.stop(
            self.width_mm < self.rope_mm,
            lambda: problem(
                "end.width_mm",
                "is narrower than the rope",
                value=self.width_mm,
                limit=self.rope_mm,
                unit="mm",
                remedy="Widen the drum.",
            ),
        )

    def travel(self, ctx: Context) -> Quantity | None:
        g = ctx.given
        usable = ctx.book.put(
            "travel.usable",
            "Usable lift",
            most(self.length_mm, 0.0),
            "mm",
            equation="rope below the drum at the lowest",
            source="geometry",
            length=g("end.length_mm"),
        )
        ctx.rung(
            "travel",
            "Usable lift",
            g("aim.travel_mm"),
            usable,
            1.0,
            unit="mm",
            section="travel",
            path="end.length_mm",
            says="A longer rope, or less lift.",
        )
        return usable

    def radius(self, ctx: Context) -> Quantity:
        """Where the rope pulls: on the outermost layer, or on the bare drum."""
        return ctx.once(self._radius)

    def _radius(self, ctx: Context) -> Quantity:
        layer: Real = 1.0
        if ctx.case != "empty drum":
            layer = each(lambda drum, travel: drum._layers(travel)[-1][0], self, ctx.design.aim.travel_mm)
        return ctx.calc(
            "drum.radius",
            f"Radius at which the rope pulls, {ctx.case or 'full drum'}",
            drums.layer_radius,
            core_mm=ctx.given("end.diameter_mm"),
            rope_mm=ctx.given("end.rope_mm"),
            layer=layer,
        )

    def moving(self, ctx: Context) -> Moving:
        g = ctx.given
        radius = self.radius(ctx)
        lam = ctx.calc(
            "end.lam", "Turn of the drum for 1 mm", motion.radians_per_mm, pitch_radius_mm=radius, ratio=1.0
        )
        words = ("Inertia of the drum", "Drum as a mass at the load")
        density = Given("handbook.drum.density", STUFF[self.made_of][1], "g/cm³", "handbook", self.made_of)
        mass = masses.disc(ctx, "drum", words, 2 * radius.n, g("end.width_mm"), density, lam)
        carried = masses.nothing_besides(ctx, lam, "put a hook block in the tally")
        return Moving(lam, g("end.efficiency"), carried, mass)

    def loads(self, ctx: Context, mass: Quantity, slope: Quantity) -> tuple[Quantity, Quantity]:
        weight = ctx.calc(
            "force.weight", "Weight of the load", dynamics.slope_force, mass_kg=mass, slope_rad=math.pi / 2
        )
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

    def forces(self, ctx: Context) -> None:
        g, peak = ctx.given, ctx.peaks.peak
        self._rope(ctx, peak)
        ratio = ctx.calc(
            "drum.capstan",
            "What the kept turns hold",
            drums.capstan_ratio,
            friction=g("end.friction"),
            wrap_rad=self.turns_kept * 2 * math.pi,
        )
        ctx.book.put(
            "drum.knot",
            "Pull left at the rope's fixing",
            lambda: peak.n / ratio.n,
            "N",
            equation="F/e^(µθ)",
            source="Euler–Eytelwein",
            force=peak,
            ratio=ratio,
        )
        self.shaft_rung(ctx, "Load on the drum's shaft", peak, "Support the drum's shaft on both sides.")

    def _rope(self, ctx: Context, peak: Quantity) -> None:
        """Whether the rope bears its load, the bend round the drum, and the pressure on it."""
        g, wire = ctx.given, self.rope_gpa >= WIRE_GPA
        breaks = g("end.rope_limit_n")
        if breaks.value is None:
            breaks = Given(
                "end.rope_limit_n",
                pick(wire, 500.0, 110.0) * self.rope_mm**2,
                "N",
                "estimate",
                "110·d² for braided polyester, 500·d² for wire rope; knots take half",
            )
        ctx.rung(
            "rope",
            "Rope",
            peak,
            breaks,
            8.0,
            unit="N",
            section="tension",
            path="end.rope_limit_n",
            says="A stronger rope. Eight times the load is common practice for hoisting small "
            "goods; never lift people.",
        )
        least = ctx.book.put(
            "drum.least",
            "Least drum for this rope",
            pick(wire, 16.0, 8.0) * self.rope_mm,
            "mm",
            equation="8·d of cord, 16·d of wire",
            source_kind="common practice",
            source="ropes that are bent sharper break strand by strand",
            rope=g("end.rope_mm"),
            modulus=g("end.rope_gpa"),
        )
        ctx.rung(
            "rope_bend",
            "Bend of the rope round its drum",
            least,
            g("end.diameter_mm"),
            1.0,
            unit="mm",
            section="running",
            path="end.diameter_mm",
            says="A larger drum, or a thinner rope.",
        )
        presses = ctx.calc(
            "drum.pressure",
            "The rope presses on its drum with",
            drums.rope_pressure,
            force_n=peak,
            core_mm=g("end.diameter_mm"),
            rope_mm=g("end.rope_mm"),
        )
        stands = Given(
            "catalogue.drum", STUFF[self.made_of][0], "MPa", "estimate", f"{self.made_of}, for good"
        )
        ctx.rung(
            "rope_pressure",
            "Drum bears its rope",
            presses,
            stands,
            1.0,
            unit="MPa",
            section="running",
            path="end.diameter_mm",
            says="A larger drum or a thicker rope; a metal drum bears several times more.",
            advisory=True,
        )

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[OwnSpring]:
        area = along(math.pi * self.rope_mm**2 / 4)
        length = along(self.length_mm) - positions + 50.0
        return [
            (
                "rope",
                "Rope",
                ctx.given("end.rope_gpa"),
                screws.bar_stiffness(along(self.rope_gpa), area, length.clip(min=50.0)),
            )
        ]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        pull = ctx.peaks.peak.value
        return [
            self.shaft_node(
                ctx, "drum.speed", "drum", "Drum", "end.diameter_mm", f"⌀ {said(self.diameter_mm, 'mm')}"
            ),
            DriveNode(
                "rope",
                "Rope",
                "end",
                "end.rope_mm",
                f"⌀ {said(self.rope_mm, 'mm')}",
                ctx.design.aim.speed_mm_s,
                "mm/s",
                pull,
                "N",
                None,
            ),
        ]

    def tables(self, ctx: Context) -> list[Table]:
        reach, here = ctx.reach.value, self.radius(ctx).value or 1.0
        force = ctx.loads.by_phase["accelerate"].value or 0.0
        rows: list[tuple[float | str | None, ...]] = [
            (
                float(n),
                radius,
                held / 1000,
                None if reach is None else reach * radius / here,
                force * radius / 1000,
            )
            for n, radius, held in self._layers(ctx.design.aim.travel_mm)
        ]
        return [
            Table(
                "layers",
                "Speed and torque by layer",
                (
                    Column("layer"),
                    Column("radius", "mm"),
                    Column("rope wound", "m"),
                    Column("speed it can reach", "mm/s"),
                    Column("drum torque, accelerating", "N·m"),
                ),
                tuple(rows),
                "A full drum pulls at the largest radius: more torque, more speed.",
            )
        ]

    def scene(self, ctx: Context) -> Scene:
        travel, r = ctx.usable, self.radius(ctx).value or 1.0
        low = -self.length_mm
        load = max(60.0, self.length_mm / 12)
        return Scene(
            "Seen from the side",
            "Load",
            travel,
            (SceneWheel("Drum", "drum", Spot(0, 0), r, r, 8.0, 1 / r, field="end.diameter_mm"),),
            (Strand("rope", (Piece(Spot(r, 0), Spot(r, low, 0.0, 1.0)),), 1.0),),
            (
                Slab("load", Spot(r, low - load / 2, 0.0, 1.0), load, load),
                Slab("frame", Spot(0, r + 12), 4 * r + 60, 8.0),
            ),
            (
                Mark("drum", Spot(-r - 24, 0)),
                Mark("usable lift", Spot(r + load, low), Spot(r + load, low + travel), travel),
            ),
        )

    def cut(self, ctx: Context) -> list[CutLine]:
        whole = self.length_mm + self.turns_kept * math.pi * (self.diameter_mm + self.rope_mm) + 150
        return [
            CutLine(
                f"Rope, ⌀ {self.rope_mm:g} mm",
                whole,
                0,
                f"to the load, {self.turns_kept:g} turns kept on the drum, 150 mm for knots",
                of=f"Rope, ⌀ {self.rope_mm:g} mm",
            )
        ]

    def repeats(self, ctx: Context) -> list[Repeat]:
        lam = ctx.drive.lam_end.value or 0.0
        return repeats.turn("a turn of the drum", "end", lam)

    def trials(self, ctx: Context) -> list[Trial]:
        lift = trials.turns(
            "end.lift",
            "Lift by five turns on the bare drum",
            "end.diameter_mm",
            "With its load on, from the lowest, turn the drum five times by its mark and measure how far the "
            "load rose. Nobody stands under it.",
            5,
            self.diameter_mm,
            self.rope_mm,
        )
        left = Trial(
            key="end.turns_left",
            name="Turns left on the drum at the lowest",
            path="end.turns_kept",
            how="Let it down to its lowest and count the turns that stay on the drum.",
            dimension="count",
            unit="",
            expected=self.turns_kept,
            low=max(self.turns_kept, LEAST_TURNS),
            below="Too few: the knot would carry the load. A longer rope, or a higher stop.",
        )
        sinks = Trial(
            key="end.sinks",
            name="Sinks in ten minutes without power",
            path="aim.brake_n",
            how="Load a hand above the floor, power off, mark it, and look again after ten minutes. Nobody "
            "stands under it.",
            dimension="length",
            unit="mm",
            expected=0.0,
            high=ctx.design.aim.error_mm,
            above="It does not hold by itself: fit a brake or a worm, and prop the load whenever power is "
            "off.",
        )
        return [lift, left, sinks]

    def bill(self, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self.drum,
                "Drum",
                f"⌀ {self.diameter_mm:g} × {self.width_mm:g} mm",
                "end.drum",
                typical=prices.pulley_price(self.diameter_mm, self.width_mm),
            ),
            bought(
                self.rope,
                "Rope",
                f"⌀ {self.rope_mm:g} mm",
                "end.rope",
                typical=prices.rope_price(self.rope_mm, self.length_mm),
            ),
        ]

    def over_shaft(self, ctx: Context) -> Term | None:
        terms = {"drum_mm": ctx.given("end.diameter_mm"), "rope_mm": ctx.given("end.rope_mm")}
        return ctx.calc("reach.rim", "Rim of what sits on the motor's shaft", reach.rope_rim, **terms)

    def work(self, ctx: Context) -> list[WorkStep]:
        return [
            lay_out("shafts, bores, bearings, screw lengths, the rope's diameter"),
            *shaft_work(
                ctx, "the drum", "Press the bearings in and run the drum's shaft through both.", ("end.drum",)
            ),
            WorkStep(
                "rope_on",
                f"Fix the rope in the drum and wind {self.turns_kept:g} turns on that always stay; lay "
                f"it over "
                f"its sheave, no load on it.",
                "tightened",
                after=("joined",),
                gives=("rope",),
                fastens=("rope",),
                needs=("end.rope",),
                check="The fixing holds a pull by hand, with twice the load if two people can.",
                tools=("hex keys", "knife or wire cutter"),
            ),
            WorkStep(
                "switches",
                "Fit the switch that stops it before the hook meets the sheave, and the one that keeps the "
                "last turns on the drum; try both by hand.",
                "aligned",
                after=("rope",),
                gives=("stops",),
                fastens=("switches",),
                check="Each one trips in time, at full speed too.",
                tools=("screwdriver", METER),
            ),
            WorkStep(
                "hand_run",
                "Let the empty rope out and wind it in by hand, supply off." + freed(ctx),
                after=("rope",),
                gives=("hand",),
                check="It lies turn beside turn, and leaves the drum without rubbing.",
                caution=FEEDS,
            ),
            slow_run(
                "chain.0",
                "Nobody under the load, ever. Keep hands off rope and drum; reach the switch first.",
                "Raise and lower it empty, then a tenth of the load a hand's breadth off the floor, then the "
                "whole; let it hang a minute each time, switched off.",
            ),
            *after_the_run(
                ctx,
                "drum and motor",
                "Look at rope, its fixing and every screw of the drive again after the first run.",
                "Measure the lift for a number of turns, with the load on, and set the scale (see Tune).",
                ("hub", "motor", "rope"),
            ),
            guards("Fit covers and guards.", ("lock_screws", "rope_on"), after=guarded(ctx)),
        ]

    def cautions(self, ctx: Context) -> list[Caution]:
        return [
            Caution(
                "aim",
                "A hanging load falls when the power goes: fit a brake or a worm that holds, and let "
                "nobody stand under it. Not for lifting people.",
            ),
            Caution("drive", "A drum draws fingers and sleeves in with the rope: guard it."),
            AID,
        ]
