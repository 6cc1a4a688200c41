"""Lead screw and ball screw, the carriage on its nut."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import Kept, Repeat, Trial, Unsure
from ...account.report import BillLine, Caution, Column, CutLine, DriveNode, Setting, Table, WorkStep
from ...checks import masses, repeats, threads
from ...fields.axis import Axis
from ...fields.part import Bought, choice, num
from ...formulas import motion, prices, screws, springs
from ...geometry.scene import Mark, Scene, Slab, Spot
from ...ledger.amounts import said
from ...ledger.errors import problem
from ...ledger.formula import Real
from ...ledger.many import along, most
from ...ledger.quantity import Given, Quantity
from ...ledger.record import record
from ..joining import stands_alone
from ..stages.contract import SOFT, Motor, bought
from ..work_steps import (
    AID,
    SPANNER,
    across,
    after_the_run,
    before_the_trial,
    freed,
    guarded,
    guards,
    lay_out,
    on_each_side,
    rails,
    scale_by,
    slow_run,
    square,
)
from .contract import End, FloatArray, Moving, OwnSpring

STEEL_GPA = springs.MATERIALS["steel"][0]


@record
class Thread:
    """The thread worked out: lead, core and middle diameter in mm, turn for a millimetre, efficiency forwards
    and backwards.
    """

    lead: Quantity
    lam: Quantity
    root: Quantity
    middle: Quantity
    efficiency: Quantity
    efficiency_back: Quantity


# Pressure on the flanks of a greased nut that moves, MPa (machine-design texts, from memory: bronze on steel
# 11 to 17 at slow speed, 5 to 10 at 10 m/min; POM by its makers' pv)
NUT_MPA = {"bronze": 10.0, "brass": 8.0, "POM": 5.0, "steel": 13.0}


NO_PLAY_MM = 0.01  # that a gauge still shows on a nut without play (estimate)
PARALLEL_MM = 0.1  # off over the travel before a nut without play binds (common practice)


class Screw(End):
    """Lead screw or ball screw, the carriage on its nut."""

    FIRST = ("form", "diameter_mm", "pitch_mm", "starts", "length_mm")

    shows: ClassVar[dict[str, tuple[str, ...]]] = {"end": ("screw.", "nut.")}
    straight: ClassVar[bool] = True
    kind: Literal["screw"] = "screw"
    screw: Bought = Bought()
    nut: Bought = Bought()
    form: Literal["trapezoidal", "ball", "square"] = "trapezoidal"
    diameter_mm: float = num("Outside diameter", "length", "mm", 2, 200, 8.0)
    pitch_mm: float = num(
        "Pitch of the thread",
        "length",
        "mm",
        0.2,
        100,
        2.0,
        "From crest to crest; the lead is that times the starts.",
    )
    starts: int = num(
        "Starts", "count", "", 1, 12, 1, "Lead by pitch: count the thread's beginnings at its end."
    )
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

    nut_of: Literal["bronze", "brass", "POM", "steel"] = choice(
        "Nut of", "brass", "What its flanks may be pressed with: bronze 10, brass 8, POM 5, steel 13 MPa."
    )
    nut_mm: float | None = num(
        "Length of the nut", "length", "mm", 1, 500, None, "Empty: one and a half diameters."
    )
    core_mm: float | None = num(
        "Core diameter",
        "length",
        "mm",
        1,
        200,
        None,
        "Of a ball screw by its maker's sheet, or measured. Empty: by the thread's own rule.",
    )

    def _root(self) -> Real:
        if self.core_mm is not None:
            return self.core_mm
        if self.form == "ball":
            return 0.85 * self.diameter_mm
        if self.form == "square":
            return self.diameter_mm - self.pitch_mm
        return screws.trapezoidal_core(self.diameter_mm, self.pitch_mm)

    def goes_with(self, design: Axis, path: str) -> dict[str, float]:
        """The screw is as much longer than the rail as it was."""
        return {"end.length_mm": self.length_mm - design.guide.rail_mm} if path == "guide.rail_mm" else {}

    def check(self, ctx: Context) -> None:
        ctx.stop(
            self._root() < 0.4 * self.diameter_mm,
            lambda: problem(
                "end.pitch_mm",
                "cuts the thread too deep for this diameter: hardly any core is left",
                value=self.pitch_mm,
                limit=round(self.diameter_mm * 0.55, 2),
                unit="mm",
                remedy="Take a thicker screw or a finer thread; a long lead comes from several starts.",
            ),
        )
        ctx.stop(
            self._root() >= self.diameter_mm,
            lambda: problem(
                "end.core_mm",
                "is not below the outside diameter",
                value=self.core_mm,
                limit=self.diameter_mm,
                unit="mm",
                remedy="Enter what is left under the thread.",
            ),
        )
        ctx.stop(
            self.length_mm < ctx.design.guide.rail_mm * 0.3,
            lambda: problem(
                "end.length_mm",
                "is far shorter than the rail that it is to serve",
                value=self.length_mm,
                limit=round(ctx.design.guide.rail_mm * 0.3, 1),
                unit="mm",
                remedy="Take a longer screw.",
            ),
        )
        slender = self.length_mm / most(self._root(), 0.1)
        ctx.stop(
            slender > 400,
            lambda: problem(
                "end.diameter_mm",
                "is too thin for its length: it sags and whips at any speed",
                value=self.diameter_mm,
                limit=round(self.length_mm / 400 + self.pitch_mm, 1),
                unit="mm",
                remedy="A thicker screw, a shorter one, or a belt.",
            ),
        )

    def thread(self, ctx: Context) -> Thread:
        """The thread worked out."""
        return ctx.once(self._thread)

    def _thread(self, ctx: Context) -> Thread:
        g, put = ctx.given, ctx.book.put
        lead = put(
            "screw.lead",
            "Lead of the screw",
            lambda: g("end.pitch_mm").n * g("end.starts").n,
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
        words = ("Lead angle", "Friction angle in the thread", "screw")
        eta, back = threads.efficiencies(ctx, "screw", words, lead, mean, g("end.friction"), flank)
        lam = put(
            "end.lam",
            "Turn of the screw for 1 mm",
            lambda: 2 * math.pi / lead.n,
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
            equation="d − p − 2·a_c (trapezoidal), d − p (square), 0.85·d (balls), or as entered",
            source_kind="your entry" if self.core_mm is not None else "from memory",
            source="your entry"
            if self.core_mm is not None
            else "ISO 2904 for trapezoidal threads; a ball screw's by its maker, 0.8 to 0.9 of d",
            d=g("end.diameter_mm"),
            pitch=g("end.pitch_mm"),
            also={"core": g("end.core_mm")} if self.core_mm is not None else None,
        )
        middle = put(
            "screw.middle",
            "Middle of core and outside diameter",
            lambda: (root.n + g("end.diameter_mm").n) / 2,
            "mm",
            equation="(d + d_3)/2",
            source="what the thread leaves, for its inertia",
            core=root,
            d=g("end.diameter_mm"),
        )
        return Thread(lead, lam, root, middle, eta, back)

    def moving(self, ctx: Context) -> Moving:
        g, thread = ctx.given, self.thread(ctx)
        lam = thread.lam
        words = ("Inertia of the screw", "Screw as a mass at the carriage")
        mass = masses.disc(ctx, "screw", words, thread.middle, g("end.length_mm"), springs.STEEL_DENSITY, lam)
        carried = masses.nothing_besides(ctx, lam, "the nut belongs to the tally")
        return Moving(
            lam,
            thread.efficiency,
            carried,
            mass,
            efficiency_back=thread.efficiency_back,
            backlash_mm=g("end.backlash_mm"),
        )

    def turning_speed(self, ctx: Context) -> Quantity:
        """Speed of the screw at the top speed, rpm."""
        return ctx.once(self._turning_speed)

    def _turning_speed(self, ctx: Context) -> Quantity:
        return ctx.calc(
            "screw.speed",
            "Speed of the screw at the top",
            motion.shaft_speed,
            speed_mm_s=ctx.given("aim.speed_mm_s"),
            radians_per_mm=self.thread(ctx).lam,
        )

    def forces(self, ctx: Context) -> None:
        g, peak, thread = ctx.given, ctx.peaks.peak, self.thread(ctx)
        beta, n = screws.FIXINGS[self.fixings]
        if self.thread_mm is not None:
            wanted = g("end.thread_mm")
            ctx.book.put(
                "screw.thread",
                "Turns of the screw for one turn of the work",
                lambda: wanted.n / thread.lead.n,
                "",
                equation="p/ℓ",
                source="kinematics of thread cutting",
                pitch=wanted,
                lead=thread.lead,
            )
        rpm = self.turning_speed(ctx)
        whirl = ctx.calc(
            "screw.whirl",
            "Speed at which the screw whips",
            screws.whirl_speed,
            root_mm=thread.root,
            length_mm=g("end.length_mm"),
            eigenvalue=Given("end.fixings", beta, "", "handbook", self.fixings),
            youngs_gpa=STEEL_GPA,
            density_g_cm3=springs.STEEL_DENSITY,
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
            screws.euler_load,
            root_mm=thread.root,
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
        if self.form != "ball":
            self._nut(ctx)

    def _nut(self, ctx: Context) -> None:
        """Pressure on the flanks of the nut, on which it wears."""
        g = ctx.given
        length: Given | Quantity = g("end.nut_mm")
        if length.value is None:
            length = ctx.book.put(
                "nut.length",
                "Length of the nut",
                lambda: 1.5 * g("end.diameter_mm").n,
                "mm",
                equation="1.5·d",
                source_kind="common practice",
                source="nuts as they are sold",
                diameter=g("end.diameter_mm"),
            )
        pressure = ctx.calc(
            "nut.pressure",
            "Pressure on the flanks of the nut",
            screws.nut_pressure,
            force_n=ctx.loads.worst,
            diameter_mm=g("end.diameter_mm"),
            pitch_mm=g("end.pitch_mm"),
            length_mm=length,
        )
        ctx.rung(
            "nut",
            "Nut bears the load, moving",
            pressure,
            Given(
                "catalogue.nut.pressure", NUT_MPA[self.nut_of], "MPa", "from memory", f"nut of {self.nut_of}"
            ),
            1.5,
            unit="MPa",
            section="end",
            path="end.nut_of",
            says="A longer nut, a thicker screw, or bronze: pressed too hard it wears out of its thread.",
        )

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[OwnSpring]:
        core, g = self.thread(ctx).root, ctx.given
        near = along(most(self.length_mm - ctx.design.guide.rail_mm, 0.0) / 2 + 20.0)
        area = along(math.pi * core.n**2 / 4)
        one = screws.bar_stiffness(STEEL_GPA, area, near + positions)
        if self.fixings == "fixed, fixed":
            one = one + screws.bar_stiffness(
                STEEL_GPA, area, (along(self.length_mm) - near - positions).clip(min=1.0)
            )
        return [
            ("screw", "Screw", core, one),
            ("nut", "Bearing and nut", g("end.bearing_n_mm"), along(self.bearing_n_mm)),
        ]

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        return [
            DriveNode(
                "screw",
                "Screw",
                "end",
                "end.pitch_mm",
                f"{said(self.pitch_mm * self.starts, 'mm')} a turn",
                self.turning_speed(ctx).value,
                "rpm",
                ctx.drive.torque_end["accelerate"].value,
                "N·m",
                None,
            )
        ]

    def tables(self, ctx: Context) -> list[Table]:
        """Feed over the PWM range, for a motor that is told how fast and not where."""
        motor: Motor = ctx.design.chain[0]
        throttle, drive = motor.throttle(), ctx.drive
        lam, push = drive.lam_motor.value, drive.torque_in[0]["push"].value
        if throttle is None or not lam or push is None:
            return []
        rows: list[tuple[float | str | None, ...]] = []
        travel = ctx.design.aim.travel_mm
        force, eta = ctx.loads.by_phase["push"].value or 0.0, drive.efficiency.value or 1.0
        for duty in dict.fromkeys((throttle.least_duty_percent, 25.0, 50.0, 75.0, 100.0)):
            if duty < throttle.least_duty_percent:
                continue
            free = throttle.no_load_rpm * math.pi / 30 * duty / 100
            under = max(free - push / throttle.stall_torque_nm * throttle.no_load_rpm * math.pi / 30, 0.0)
            stall = throttle.stall_torque_nm * duty / 100 * lam * 1000 * eta
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
            Column("duty", "%"),
            Column("feed, free", "mm/min"),
            Column("feed, pushing", "mm/min"),
            Column("one stroke", "s"),
            Column("stalls at", "N"),
            Column("pushes the work"),
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
        guide, travel = ctx.design.guide, ctx.usable
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
                f"Screw, {self.form}, ⌀ {self.diameter_mm:g} × {self.pitch_mm:g}" + on_each_side(ctx),
                self.length_mm + 40,
                0,
                "with 20 mm at each end to turn down for bearing and coupler",
                of=f"Screw, {self.form}, ⌀ {self.diameter_mm:g} × {self.pitch_mm:g}",
                pieces=ctx.counts.belts,
                sawn=True,
            )
        ]

    def repeats(self, ctx: Context) -> list[Repeat]:
        lam = ctx.drive.lam_end.value or 0.0
        return repeats.turn("a turn of the screw, its lead", "end", lam)

    def unsure(self, ctx: Context) -> list[Unsure]:
        return [Unsure("end.bearing_n_mm", "the screw's bearing", self.bearing_n_mm, SOFT)]

    def trials(self, ctx: Context) -> list[Trial]:
        return [
            Trial(
                key="end.play",
                name="Play of the nut",
                path="end.backlash_mm",
                how="Hold the screw from turning, push the carriage to and fro against a dial gauge; near "
                "both ends of the travel and in its middle.",
                dimension="length",
                unit="mm",
                expected=self.backlash_mm,
                high=self.backlash_mm or NO_PLAY_MM,
                above="A worn or loose nut, or a bearing that lets the screw slide: press its collar home, "
                "split or preload the nut, or keep it as measured.",
                keeps=Kept("end.backlash_mm", worst=True),
            ),
            Trial(
                key="end.parallel",
                name="Screw runs parallel to the rail",
                path="end.length_mm",
                how="Loosen the nut's screws, run the carriage to both ends: read how far the nut stands off "
                "its seat at one end more than at the other.",
                dimension="length",
                unit="mm",
                expected=0.0,
                high=PARALLEL_MM,
                above="It will bind at one end and wear: shift the screw's far bearing, then tighten the nut "
                "at that end.",
            ),
        ]

    def bill(self, ctx: Context) -> list[BillLine]:
        ball, n = self.form == "ball", ctx.counts.belts
        return [
            bought(
                self.screw,
                "Screw",
                f"{self.form}, ⌀ {self.diameter_mm:g}, lead {self.pitch_mm * self.starts:g} mm",
                "end.screw",
                n,
                typical=prices.screw_price(self.diameter_mm, self.length_mm, ball),
            ),
            bought(self.nut, "Nut", self.form, "end.nut", n, prices.nut_price(self.diameter_mm, ball)),
        ]

    def work(self, ctx: Context) -> list[WorkStep]:
        both = ctx.counts.belts > 1
        if ctx.design.sides.kind == "cross shaft":
            ctx.note(
                "build",
                "sides.kind",
                "A shaft across turns two screws only through bevel gears: they are not on the bill, and "
                "their play and give are not counted. A closed belt over both, or a motor each, is plainer.",
            )
        return [
            lay_out("rail length, shafts, bores, screw lengths"),
            *rails(ctx),
            WorkStep(
                "screw_on",
                "Fit the screw of either side in its fixed bearing, its nut loose on the beam."
                if both
                else "Fit the screw in its fixed bearing, the nut loose on the carriage.",
                "loose",
                after=("frame", "carriage"),
                gives=("shaft.end",) if stands_alone(ctx) else ("shaft.end", "in line"),
                fastens=("nut", "bearing plates"),
                needs=("end.screw", "end.nut"),
                check="Turns by finger over the whole travel.",
                tools=("hex keys", SPANNER),
                side="from above, with the carriage run aside",
            ),
            WorkStep(
                "nut_tight",
                f"Run the {'beam' if both else 'carriage'} close to the fixed bearing and tighten "
                f"{'each' if both else 'the'} nut there; then the far bearing with it at the far end."
                + before_the_trial(ctx),
                "tightened",
                after=("shaft.end",),
                gives=("held.end", "joined"),
                fastens=("nut", "bearing plates"),
                check="No tight spot at either end.",
                tools=("hex keys",),
                side="from the carriage's end, along the screw",
                access="Under the carriage the nut's screws are reached only from its end: try the key "
                "first.",
            ),
            *across(ctx, "nut_tight", "a pair of bevel gears at either screw, one pair loose on the shaft"),
            *square(ctx, "nut_tight"),
            WorkStep(
                "hand_run",
                f"Turn {'both screws alike' if both else 'the screw'} by hand from end to end, supply off."
                + freed(ctx),
                after=("joined",),
                gives=("hand",),
                check="Even all the way.",
            ),
            slow_run("chain.0", "Keep hands clear; reach the switch first."),
            *after_the_run(
                ctx,
                "nut, bearings and motor",
                "Look at every screw of the drive again after the first run.",
                scale_by(ctx),
                ("nut", "bearing plates", "motor"),
            ),
            guards("Fit covers and guards.", ("nut_tight", "lock_screws"), after=guarded(ctx)),
        ]

    def cautions(self, ctx: Context) -> list[Caution]:
        out = [Caution("drive", "A turning screw winds up sleeves, hair and rags: cover it."), AID]
        back = self.thread(ctx).efficiency_back.value
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
