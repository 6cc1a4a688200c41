"""Couplers, clutches and worms: what joins shafts, lets go of them, or turns them a corner."""

from __future__ import annotations

from typing import Literal

from ...account.context import Context
from ...account.found import OutputShaft, Repeat, Trial
from ...account.report import BillLine, Caution, WorkStep
from ...checks import repeats, threads, trials
from ...fields.part import MODULES, SHAFTS, num
from ...formulas import prices
from ...ledger.amounts import said
from ...ledger.quantity import Given, value_of
from ..joining import countershaft, held, joined, moved_after, own_key, shaft_into, shaft_out
from ..work_steps import EDGE, GAUGE, before_the_trial
from .contract import ShaftForm, Stage, Transmission, bought, own_shaft

# Torsional stiffness of couplers for shafts of 5 to 10 mm, by form (estimates)
TYPICAL_NM_RAD = {"solid": 2000.0, "spring": 15.0, "jaw": 60.0}


# What two shafts may be out of line by, mm, with a solid and with a flexible coupler (common practice).
SOLID_OFF_MM, FLEXIBLE_OFF_MM = 0.02, 0.1


class Coupler(Stage):
    """Joins two shafts in line: solid, spring or jaw."""

    FIRST = ("form", "stiffness_nm_rad")

    kind: Literal["coupler"] = "coupler"
    form: Literal["solid", "spring", "jaw"] = "jaw"
    stiffness_nm_rad: float | None = num(
        "Torsional stiffness",
        "torsional stiffness",
        "N·m/rad",
        0.1,
        1e8,
        None,
        "Spring couplers 5 to 30, jaw 30 to 200, solid ones above 1000. Empty: typical of its form.",
    )
    backlash_arcmin: float = num(
        "Backlash",
        "fine angle",
        "arcmin",
        0,
        600,
        0.0,
        "0 for a solid, beam or bellows one; jaws without preload have 30 to 60.",
    )
    inertia_gcm2: float = num(
        "Inertia",
        "inertia",
        "g·cm²",
        0,
        1e6,
        10.0,
        "If you don't know: ½·m·r², some 10 for one of 20 mm across.",
    )
    torque_limit_nm: float | None = num(
        "Torque limit",
        "torque",
        "N·m",
        0.01,
        1e5,
        2.0,
        "On its sheet; if you don't know, 1 N·m for one of 20 mm across.",
    )
    shaft_mm: float = num("Shaft after it", "length", "mm", 1, 100, 8.0, sizes=SHAFTS)
    shaft_form: ShaftForm = "round"
    radial_limit_n: float | None = num(
        "Radial limit of the shaft after it", "force", "N", 1, 1e6, None, "By its own bearings."
    )

    def transmit(self, at: str, ctx: Context) -> Transmission:
        g = ctx.given
        limit = None if self.torque_limit_nm is None else g(f"{at}.torque_limit_nm")
        stiffness = g(f"{at}.stiffness_nm_rad")
        if stiffness.value is None:
            says = f"typical of a {self.form} coupler, to half or twice as much"
            stiffness = Given(f"{at}.form", TYPICAL_NM_RAD[self.form], "N·m/rad", "estimate", says)
        return Transmission(1.0, 1.0, g(f"{at}.inertia_gcm2"), stiffness, g(f"{at}.backlash_arcmin"), limit)

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        return own_shaft(at, ctx, self.shaft_form)

    def main_number(self) -> tuple[str, str]:
        stiff = self.stiffness_nm_rad
        return self.form + ("" if stiff is None else f", {said(stiff, 'N·m/rad')}"), "stiffness_nm_rad"

    def trials(self, at: str, ctx: Context) -> list[Trial]:
        solid = self.form == "solid"
        return [
            Trial(
                key=f"{at}.offset",
                name="Shafts in line at the coupler",
                path=f"{at}.form",
                how="Dial gauge held on one shaft, its tip on the other, coupler loose: turn both once, and "
                "take half of highest less lowest.",
                dimension="length",
                unit="mm",
                expected=0.0,
                high=SOLID_OFF_MM if solid else FLEXIBLE_OFF_MM,
                above="Shift or shim the motor: what is out of line bends shafts and comes again at every "
                "turn.",
            )
        ]

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        says, typical = f"{self.form}, to {self.shaft_mm:g} mm", prices.coupler_price(self.shaft_mm)
        return [bought(self, "Coupler", says, at, typical=typical)]

    def work(self, at: str, ctx: Context) -> list[WorkStep]:
        true = (
            "true shafts in line to a few hundredths first"
            if self.form == "solid"
            else "shafts in line by eye and straight edge"
        )
        before, out = shaft_into(at, ctx), shaft_out(at, ctx)
        on, tight = own_key("coupler", at, ctx), own_key("coupler_tight", at, ctx)
        return [
            *countershaft(at, ctx),
            WorkStep(
                on,
                f"Slide the coupler over both shafts, {true}; leave a gap between the shaft ends.",
                "aligned",
                after=(before, out),
                gives=("in line", on) if before == "motor" else (on,),
                fastens=(on,),
                needs=(at,),
                check="Turns by hand without a heavy spot.",
                tools=(GAUGE if self.form == "solid" else EDGE,),
            ),
            WorkStep(
                tight,
                "Tighten the coupler's screws, one on each flat." + before_the_trial(ctx),
                "tightened",
                after=(on, held(before), moved_after(at, ctx) or held(out)),
                gives=("joined",),
                fastens=(on,),
                tools=("hex keys",),
                side="from the side, each screw turned into the open",
            ),
        ]


class Clutch(Stage):
    """Lets the drive go: slips at a torque, or is disengaged so that a hand wheel turns the shaft."""

    FIRST = ("form", "slip_torque_nm")

    kind: Literal["clutch"] = "clutch"
    form: Literal["slip", "dog", "tensioned belt"] = "dog"
    slip_torque_nm: float | None = num(
        "Slips at", "torque", "N·m", 0.01, 1e5, None, "Leave empty for one that does not slip."
    )
    backlash_deg: float = num(
        "Play of the dogs",
        "angle",
        "°",
        0,
        90,
        2.0,
        "Hold one side, turn the other by hand and read the angle.",
    )
    inertia_gcm2: float = num(
        "Inertia",
        "inertia",
        "g·cm²",
        0,
        1e6,
        40.0,
        "If you don't know: ½·m·r² of its turning mass; it hardly counts on slow feeds.",
    )
    shaft_mm: float = num("Shaft after it", "length", "mm", 1, 100, 10.0, sizes=SHAFTS)
    shaft_form: ShaftForm = "flat"
    radial_limit_n: float | None = num(
        "Radial limit of the shaft after it", "force", "N", 1, 1e6, None, "By its own bearings."
    )

    def transmit(self, at: str, ctx: Context) -> Transmission:
        g = ctx.given
        play = ctx.book.put(
            f"{at}.play",
            "Play of the clutch",
            lambda: g(f"{at}.backlash_deg").n * 60,
            "arcmin",
            equation="60·α",
            source="unit conversion",
            play=g(f"{at}.backlash_deg"),
        )
        limit = None if self.slip_torque_nm is None else g(f"{at}.slip_torque_nm")
        return Transmission(1.0, 1.0, g(f"{at}.inertia_gcm2"), None, play, limit)

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        return own_shaft(at, ctx, self.shaft_form)

    def main_number(self) -> tuple[str, str]:
        return (
            self.form if self.slip_torque_nm is None else f"slips at {said(self.slip_torque_nm, 'N·m')}",
            "slip_torque_nm",
        )

    def trials(self, at: str, ctx: Context) -> list[Trial]:
        how = "Clutch in, hold the shaft before it fast, and turn the one behind it to and fro."
        words = "Play of the clutch's dogs"
        return [trials.play(at, words, how, "backlash_deg", self.backlash_deg, "angle", "°")]

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        return [bought(self, "Clutch", self.form, at, typical=prices.CLUTCH)]

    def work(self, at: str, ctx: Context) -> list[WorkStep]:
        return [
            *countershaft(at, ctx),
            joined(
                at,
                ctx,
                own_key("clutch", at, ctx),
                "Fit the clutch so that the hand wheel still turns with the drive let go.",
                check="Engages and lets go under light load; the lever stays where it is put.",
                tools=("hex keys",),
            ),
        ]

    def cautions(self, at: str, ctx: Context) -> list[Caution]:
        return [
            Caution(
                "tune",
                "Let the clutch go before you turn the hand wheel; never engage it while the hand "
                "wheel's handle can be struck by it: fold the handle in.",
            )
        ]


class Worm(Stage):
    """Worm and wheel: a large reduction round a corner, which often holds by itself."""

    FIRST = ("starts", "wheel_teeth", "module_mm")

    kind: Literal["worm"] = "worm"
    starts: int = num("Threads of the worm", "count", "", 1, 8, 1)
    wheel_teeth: int = num("Teeth of the wheel", "count", "", 8, 400, 40)
    module_mm: float = num("Module", "length", "mm", 0.2, 20, 1.0, sizes=MODULES)
    worm_mm: float = num("Pitch diameter of the worm", "length", "mm", 2, 400, 16.0)
    friction: float = num(
        "Friction in the mesh",
        "number",
        "",
        0.005,
        0.6,
        0.08,
        "Greased bronze on steel 0.05 to 0.1, dry plastic up to 0.25.",
    )
    backlash_arcmin: float = num(
        "Backlash at the wheel",
        "fine angle",
        "arcmin",
        0,
        600,
        20.0,
        "Hold the worm and turn the wheel by hand: 1° is 60 arcmin; 30 to 60 if you don't know.",
    )
    inertia_gcm2: float = num(
        "Inertia at the worm",
        "inertia",
        "g·cm²",
        0,
        1e6,
        10.0,
        "If you don't know: ½·m·r² of the worm, some 5 for one of 20 mm across.",
    )
    torque_limit_nm: float | None = num(
        "Torque limit of the wheel",
        "torque",
        "N·m",
        0.01,
        1e5,
        None,
        "On its sheet; bronze wheels some 1 N·m for each 10 mm of diameter at module 1.",
    )
    shaft_mm: float = num("Shaft of the wheel", "length", "mm", 1, 200, 12.0, sizes=SHAFTS)
    shaft_form: ShaftForm = "key"
    radial_limit_n: float | None = num(
        "Radial limit of the wheel's shaft", "force", "N", 1, 1e6, None, "By its own bearings."
    )

    def transmit(self, at: str, ctx: Context) -> Transmission:
        g = ctx.given
        ratio = ctx.book.put(
            f"{at}.ratio",
            "Ratio of the worm",
            lambda: g(f"{at}.wheel_teeth").n / g(f"{at}.starts").n,
            ": 1",
            equation="z/n",
            source="kinematics",
            teeth=g(f"{at}.wheel_teeth"),
            starts=g(f"{at}.starts"),
        )
        lead = ctx.book.put(
            f"{at}.lead",
            "Lead of the worm",
            lambda: 3.141592653589793 * g(f"{at}.module_mm").n * g(f"{at}.starts").n,
            "mm",
            equation="π·m·n",
            source="gear geometry",
            module=g(f"{at}.module_mm"),
            starts=g(f"{at}.starts"),
        )
        words = ("Lead angle of the worm", "Friction angle in the mesh", "worm")
        forward, back = threads.efficiencies(
            ctx, at, words, lead, g(f"{at}.worm_mm"), g(f"{at}.friction"), 20.0
        )
        limit = None
        if self.torque_limit_nm is not None:
            limit = ctx.book.put(
                f"{at}.limit_in",
                "Torque limit at the worm",
                lambda: g(f"{at}.torque_limit_nm").n / ratio.n / forward.n,
                "N·m",
                equation="T/(i·η)",
                source="balance of power",
                limit=g(f"{at}.torque_limit_nm"),
                ratio=ratio,
                efficiency=forward,
            )
        return Transmission(
            ratio,
            forward,
            g(f"{at}.inertia_gcm2"),
            None,
            g(f"{at}.backlash_arcmin"),
            limit,
            efficiency_back=back,
        )

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        return own_shaft(at, ctx, self.shaft_form)

    def main_number(self) -> tuple[str, str]:
        return f"{self.wheel_teeth / self.starts:g} : 1", "wheel_teeth"

    def repeats(self, at: str, ctx: Context) -> list[Repeat]:
        lam = ctx.lam_after(at)
        return super().repeats(at, ctx) + repeats.tooth(
            "a tooth of the worm's wheel", at, lam, self.wheel_teeth
        )

    def trials(self, at: str, ctx: Context) -> list[Trial]:
        return [
            trials.play(
                at,
                "Play of the worm in its wheel",
                "Hold the worm fast, rock the wheel's shaft with a lever against a dial gauge: travel of the "
                "tip over the lever's length. At four places of the wheel. 1° is 60 arcmin.",
                "backlash_arcmin",
                self.backlash_arcmin,
                "fine angle",
                "arcmin",
                trace=True,
            )
        ]

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self,
                "Worm and wheel",
                f"{self.starts} thread{'s' if self.starts > 1 else ''}, {self.wheel_teeth} teeth, "
                f"module {self.module_mm:g}",
                at,
                typical=prices.worm_price(self.module_mm, self.wheel_teeth),
            )
        ]

    def work(self, at: str, ctx: Context) -> list[WorkStep]:
        return [
            *countershaft(at, ctx),
            joined(
                at,
                ctx,
                own_key("worm", at, ctx),
                "Set the worm to the wheel: contact in the middle of the tooth, a trace of play all "
                "the way round, grease.",
                check="Turns a whole turn of the wheel without a tight spot.",
                tools=("grease", "marking blue"),
            ),
        ]

    def cautions(self, at: str, ctx: Context) -> list[Caution]:
        back = value_of(ctx.once(self.transmit, at).efficiency_back)
        if back is not None and back > 0:
            return [
                Caution("aim", "This worm can be driven backwards by its load: it does not hold by itself.")
            ]
        return [
            Caution(
                "aim",
                "A worm that holds by itself on paper can creep when it shakes: do not trust your "
                "hand to it.",
            )
        ]
