"""A stepper motor with its driver and supply."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import OutputShaft, Phase, Phases, Repeat, Stepping
from ...account.report import BillLine, Caution, Setting, WorkStep
from ...checks import repeats
from ...fields.driver import Driver
from ...fields.frames import FRAMES, Frame
from ...fields.part import SHAFTS, choice, num
from ...formulas import prices, stepper, stepping
from ...ledger.amounts import said
from ...ledger.formula import Real
from ...ledger.many import along, pick, row, spoken
from ...ledger.quantity import Given, Quantity, Term, missing_in
from ...ledger.record import record
from ..motor_steps import motor_on, motor_tight
from ..work_steps import METER
from .contract import Motor, MotorState, ShaftForm, Transmission, bought

ROUNDED = 1.001  # a rating is read to a thousandth


MOST_LOAD = Given(
    "catalogue.motor.load", 10.0, ": 1", "common practice", "ten times an open-loop rotor's own"
)


@record
class Wired:
    """A stepper as connected and driven: torque constant, peak current of a phase that makes torque, hold
    torque at it, its winding, the current that is really pushed, and the winding's heat in W.
    """

    state: MotorState
    kt: Quantity
    current: Quantity
    torque_now: Quantity
    resistance: Given | Quantity
    inductance: Given | Quantity
    pushed: Quantity
    heat: Quantity


def _times(given: Given, factor: float) -> Real:
    return given.n * factor


class Stepper(Motor):
    """Two-phase hybrid stepper; winding data as they stand on its label."""

    FIRST = (
        "frame",
        "hold_torque_nm",
        "rated_current_a",
        "resistance_ohm",
        "inductance_mh",
        "rotor_inertia_gcm2",
    )

    LOOKED_UP: ClassVar[tuple[str, ...]] = ("frame", *Motor.LOOKED_UP)
    UNKNOWN = ("resistance_ohm", "inductance_mh", "rotor_inertia_gcm2", "detent_torque_nm", "mass_kg")

    kind: Literal["stepper"] = "stepper"
    frame: Literal["NEMA 11", "NEMA 14", "NEMA 17", "NEMA 23", "NEMA 24", "NEMA 34", "other"] = choice(
        "Frame",
        "NEMA 17",
        "Its usual shaft comes with it; measure yours.",
        carries={name: {"shaft_mm": frame.shaft_mm} for name, frame in FRAMES.items()},
    )
    hold_torque_nm: float = num(
        "Hold torque", "torque", "N·m", 0.001, 200, 0.45, "Both phases at rated current."
    )
    rated_current_a: float = num(
        "Rated current, each phase",
        "current",
        "A",
        0.01,
        30,
        1.7,
        "On its label, for one phase. If it is gone: see a motor of unknown make in the drawer.",
    )
    resistance_ohm: float | None = num(
        "Resistance, each phase", "resistance", "Ω", 0.01, 1000, None, "A meter across one coil."
    )
    inductance_mh: float | None = num(
        "Inductance, each phase", "inductance", "mH", 0.01, 1000, None, "Decides how fast it still pulls."
    )
    rotor_inertia_gcm2: float | None = num(
        "Rotor inertia",
        "inertia",
        "g·cm²",
        0.1,
        1e6,
        None,
        "On its sheet; by its frame and length if you don't know, see the drawer.",
    )
    detent_torque_nm: float | None = num(
        "Detent torque", "torque", "N·m", 0, 50, None, "Unpowered; turn it by hand with a lever and a scale."
    )
    steps_per_turn: int = num(
        "Full steps per turn",
        "count",
        "",
        12,
        1000,
        200,
        "200 for 1.8° a step, 400 for 0.9°: count the steps of one turn.",
        sizes=(200, 400),
    )
    winding: Literal["as given", "half", "series", "parallel"] = "as given"
    shaft_mm: float = num("Shaft", "length", "mm", 1, 100, 5.0, sizes=SHAFTS)
    shaft_form: ShaftForm = "flat"
    radial_limit_n: float | None = num(
        "Radial limit at 20 mm", "force", "N", 1, 1e4, None, "Leave empty for the frame's usual value."
    )
    driver: Driver = Driver()

    def _wound(self, at: str, ctx: Context) -> dict[str, Given | Quantity]:
        """Hold torque, rated current, ohms and henries as connected."""
        names = ("hold_torque_nm", "rated_current_a", "resistance_ohm", "inductance_mh")
        given = {n: ctx.given(f"{at}.{n}") for n in names}
        if self.winding in ("as given", "half"):
            return dict(given)
        factors = stepper.WINDINGS[self.winding]
        return {
            n: ctx.book.put(
                f"motor.{n}",
                f"{type(self).model_fields[n].title} in {self.winding}",
                partial(_times, g, f),
                g.unit,
                equation=f"{f:.3g} × half coil",
                source="6 and 8 wires: two equal, fully coupled halves, equal copper loss",
                half_coil=g,
            )
            for (n, g), f in zip(given.items(), factors, strict=True)
        }

    def flange(self) -> Frame | None:
        return FRAMES.get(self.frame)

    def settle(self, at: str, ctx: Context) -> MotorState:
        return self.wired(at, ctx).state

    def wired(self, at: str, ctx: Context) -> Wired:
        """Constants and limits as the motor is connected."""
        return ctx.once(self._wired, at)

    def _wired(self, at: str, ctx: Context) -> Wired:
        g, d = ctx.given, f"{at}.driver"
        wound = self._wound(at, ctx)
        kt = ctx.calc(
            "motor.kt",
            "Torque constant",
            stepper.torque_constant,
            hold_torque_nm=wound["hold_torque_nm"],
            rated_current_a=wound["rated_current_a"],
        )
        pushed = ctx.calc(
            "motor.current",
            "Peak current of a phase",
            stepper.current_limit,
            driver_current=g(f"{d}.current_a"),
            is_peak=float(self.driver.current_is == "peak"),
        )
        rated = wound["rated_current_a"]
        limit = ctx.calc(
            "motor.current_used",
            "Peak current that still makes torque",
            stepper.current_that_counts,
            current_a=pushed,
            rated_current_a=rated,
        )
        now = ctx.calc(
            "motor.torque_now",
            "Hold torque at this current",
            stepper.torque_at_current,
            hold_torque_nm=wound["hold_torque_nm"],
            current_a=limit,
            rated_current_a=rated,
        )
        heat = self._warmth(at, ctx, pushed, rated, wound["resistance_ohm"])
        standing = ctx.book.put(
            "motor.standing",
            "Hold torque at standing current",
            lambda: now.n * g(f"{d}.idle_percent").n / 100,
            "N·m",
            equation="T_now·idle/100",
            source="torque in proportion to current",
            torque_now=now,
            idle=g(f"{d}.idle_percent"),
        )

        def field(key: str, label: str, torque: Quantity) -> Quantity:
            return ctx.calc(
                key,
                label,
                stepper.field_stiffness,
                torque_now_nm=torque,
                steps_per_turn=g(f"{at}.steps_per_turn"),
            )

        words = "Stiffness of the magnetic spring"
        spring = field("motor.field_stiffness", words, now)
        at_rest = field("motor.field_standing", f"{words} at standing current", standing)
        ctx.calc(
            "motor.microstep_torque",
            "Torque that one microstep carries",
            stepper.microstep_torque,
            torque_now_nm=now,
            microsteps=g(f"{d}.microsteps"),
        )
        state = MotorState(spring, at_rest, standing, g(f"{at}.detent_torque_nm"))
        return Wired(state, kt, limit, now, wound["resistance_ohm"], wound["inductance_mh"], pushed, heat)

    def _warmth(
        self, at: str, ctx: Context, pushed: Quantity, rated: Given | Quantity, ohms: Given | Quantity
    ) -> Quantity:
        """How much heat the winding makes, W, and whether it bears the current that it is given."""
        g, d = ctx.given, f"{at}.driver"
        rms = ctx.book.put(
            "motor.current_rms",
            "Current of a phase, both phases alike",
            lambda: pushed.n / math.sqrt(2),
            "A",
            equation="I/√2",
            source="what the rating of a winding is stated in",
            current=pushed,
        )
        heat = ctx.calc(
            "motor.heat",
            "Heat of the winding while it moves slowly",
            stepper.copper_heat,
            current_a=pushed,
            resistance_ohm=ohms,
        )
        idle = g(f"{d}.idle_percent")
        ctx.book.put(
            "motor.heat_standing",
            "Heat of the winding while it stands",
            lambda: heat.n * (idle.n / 100) ** 2,
            "W",
            equation="P·(idle/100)²",
            source="heat by the square of the current",
            heat=heat,
            idle=idle,
        )
        # A current within the rating says nothing of headroom: it would stand on top of every ladder.
        asked: Term = rms
        if not ctx.plain:
            asked = Given("motor.current_asked", pick(rms.n > rated.n * ROUNDED, rms.n, 0.0), "A")
        elif missing_in([rms, rated]) or rms.n <= rated.n * ROUNDED:
            return heat
        ctx.rung(
            "current",
            "Current that the winding bears",
            asked,
            rated,
            1.0,
            unit="A",
            section="motor",
            path=f"{d}.current_a",
            says="Set the driver to the motor's rated current: heat grows with its square, torque beyond it "
            "hardly.",
        )
        return heat

    def pull_at(self, at: str, ctx: Context) -> Callable[[Real], Real]:
        wired, g = self.wired(at, ctx), ctx.given
        terms = (
            wired.kt,
            wired.resistance,
            wired.inductance,
            wired.current,
            g(f"{at}.driver.supply_v"),
            g(f"{at}.steps_per_turn"),
        )
        known = [along(term.n) for term in terms]
        return lambda speed: stepper.pull_out_torque(speed, *known)

    def curve_terms(self, at: str, ctx: Context) -> dict[str, Term]:
        wired = self.wired(at, ctx)
        return {
            "kt": wired.kt,
            "resistance": wired.resistance,
            "inductance": wired.inductance,
            "voltage": ctx.given(f"{at}.driver.supply_v"),
        }

    def torque_left(
        self, key: str, label: str, at: str, ctx: Context, speed: Quantity, lasting: bool
    ) -> Quantity:
        wired = self.wired(at, ctx)
        return ctx.calc(
            key,
            label,
            stepper.pull_out_torque,
            speed_rad_s=speed,
            torque_constant_nm_a=wired.kt,
            resistance_ohm=wired.resistance,
            inductance_mh=wired.inductance,
            current_a=wired.current,
            voltage_v=ctx.given(f"{at}.driver.supply_v"),
            steps_per_turn=ctx.given(f"{at}.steps_per_turn"),
        )

    def weak(self) -> dict[Phase | Literal["speed"], tuple[str, str]]:
        more_volts = (
            "More volts, a winding with less inductance, fewer motor turns for each "
            "millimetre, less acceleration or less mass."
        )
        return {
            "accelerate": ("driver.supply_v", more_volts),
            "cruise": ("driver.supply_v", more_volts),
            "push": ("driver.current_a", "More current, a smaller pulley, a gearbox, or a larger motor."),
            "hold": ("driver.idle_percent", "More standing current, a gearbox, a brake or a counterweight."),
            "speed": (
                "driver.supply_v",
                "The supply starves the motor at this speed: more volts, a winding with less "
                "inductance, fewer motor turns for each millimetre, or less speed.",
            ),
        }

    def control(self, at: str, ctx: Context, lam: Quantity, torques: Phases) -> Stepping:
        g, d, wired = ctx.given, f"{at}.driver", self.wired(at, ctx)
        per_mm = ctx.calc(
            "steps_per_mm",
            "Steps per millimetre",
            stepping.steps_per_mm,
            radians_per_mm=lam,
            steps_per_turn=g(f"{at}.steps_per_turn"),
            microsteps=g(f"{d}.microsteps"),
        )
        rate = ctx.calc(
            "step_rate",
            "Step rate at top speed",
            stepping.step_rate,
            speed_mm_s=g("aim.speed_mm_s"),
            steps_mm=per_mm,
        )
        ctx.rung(
            "step_rate",
            "Step rate of the controller",
            rate,
            g(f"{d}.step_rate_limit_hz"),
            g("assumptions.margin_other"),
            unit="Hz",
            section="control",
            path=f"{d}.microsteps",
            says="Fewer microsteps or a faster controller.",
        )
        step = ctx.calc("command_step", "Smallest commanded step", stepping.command_step, steps_mm=per_mm)
        ctx.rung(
            "resolution",
            "Smallest step on command",
            step,
            g("aim.resolution_mm"),
            1.0,
            unit="mm",
            section="control",
            path=f"{d}.microsteps",
            lower_is_better=True,
            says="More microsteps for smoothness; fewer teeth or a gearbox for real steps.",
        )
        lag = ctx.calc(
            "motor.lag",
            "Rotor lag while accelerating",
            stepper.lag_angle,
            torque_nm=torques["accelerate"],
            torque_now_nm=wired.torque_now,
            steps_per_turn=g(f"{at}.steps_per_turn"),
        )
        ctx.book.put(
            "lag",
            "Lag of the carriage while accelerating",
            lambda: lag.n / lam.n,
            "mm",
            equation="θ/λ",
            source="kinematics",
            lag=lag,
            radians_per_mm=lam,
        )
        self.generated(at, ctx)
        self._supplied(at, ctx, torques)
        most_steps = g(f"{d}.step_rate_limit_hz")
        top = ctx.book.put(
            "step_rate.speed",
            "Speed at which the controller gives no more steps",
            lambda: most_steps.n / per_mm.n,
            "mm/s",
            equation="v = f_max/(steps/mm)",
            source="kinematics",
            limit=most_steps,
            steps=per_mm,
        )
        return Stepping(per_mm, step, g(f"{d}.microsteps"), top, f"{d}.microsteps")

    def _supplied(self, at: str, ctx: Context, torques: Phases) -> None:
        """Load against rotor, what the axis draws and a stop feeds back, and whether the supply bears it."""
        g, d, calc = ctx.given, f"{at}.driver", ctx.calc
        loads, rotor, motors = ctx.loads, ctx.drive.rotor_mass, ctx.counts.motors
        ratio = ctx.book.put(
            "motor.inertia_ratio",
            "Load for each part of the rotor's inertia",
            lambda: loads.masses.total.n / (rotor.n * motors),
            ": 1",
            equation="m/(n·J·λ²)",
            source="equal kinetic energy; what turns with the rotor is counted with it",
            load=loads.masses.total,
            rotor=rotor,
            motors=motors,
        )
        ctx.rung(
            "inertia_ratio",
            "Load against the rotor's inertia",
            ratio,
            MOST_LOAD,
            1.0,
            unit=": 1",
            section="motor",
            path=f"{at}.rotor_inertia_gcm2",
            says="More reduction, less mass, or a larger motor: a light rotor rings long under its load and "
            "loses steps.",
            lower_is_better=True,
            advisory=True,
        )
        winding = self.wired(at, ctx).heat
        bridge = calc(
            "driver.heat",
            "Heat of the driver's bridge",
            stepper.bridge_heat,
            current_a=self.wired(at, ctx).pushed,
            bridge_ohm=g(f"{d}.bridge_ohm"),
        )
        drawn = calc(
            "supply.power",
            "Power drawn while accelerating at top speed",
            stepper.power_drawn,
            torque_nm=torques["accelerate"],
            speed_rad_s=self.top_speed(ctx),
            winding_w=winding,
            bridge_w=bridge,
            motors=motors,
        )
        current = ctx.book.put(
            "supply.current",
            "Current drawn from the supply",
            lambda: drawn.n / g(f"{d}.supply_v").n,
            "A",
            equation="P/U",
            source="definition of power",
            power=drawn,
            voltage=g(f"{d}.supply_v"),
        )
        back = calc(
            "supply.fed_back",
            "Energy that a stop feeds back",
            stepper.energy_fed_back,
            mass_kg=ctx.moved,
            speed_mm_s=g("aim.speed_mm_s"),
            acceleration_mm_s2=g("aim.acceleration_mm_s2"),
            drag_n=loads.drag,
            falls_n=loads.weight,
            winding_w=winding,
        )
        self._borne(ctx, d, current, back)

    def _borne(self, ctx: Context, d: str, current: Quantity, back: Quantity) -> None:
        """Rungs of the supply, where what it bears is given."""
        g = ctx.given
        if g(f"{d}.supply_a").value is not None:
            ctx.rung(
                "supply",
                "Current of the supply",
                current,
                g(f"{d}.supply_a"),
                g("assumptions.margin_other"),
                unit="A",
                section="control",
                path=f"{d}.supply_a",
                says="A larger supply, or one of its own for this axis.",
            )
        if g(f"{d}.supply_uf").value is not None and g(f"{d}.most_v").value is not None:
            raised = ctx.calc(
                "supply.raised",
                "Voltage that a stop raises the supply to",
                stepper.voltage_raised,
                voltage_v=g(f"{d}.supply_v"),
                energy_j=back,
                capacitance_uf=g(f"{d}.supply_uf"),
            )
            ctx.rung(
                "braking",
                "Driver bears what a stop feeds back",
                raised,
                g(f"{d}.most_v"),
                1.0,
                unit="V",
                section="control",
                path=f"{d}.supply_uf",
                says="Gentler stops, larger capacitors, a lower supply, or a braking resistor.",
                lower_is_better=True,
            )

    def generated(self, at: str, ctx: Context) -> Quantity:
        """Voltage that a push by hand feeds into the driver."""
        return ctx.once(self._generated, at)

    def _generated(self, at: str, ctx: Context) -> Quantity:
        lam = ctx.drive.lam_motor
        locks = ctx.drive.locks
        hand = ctx.book.put(
            "motor.hand_speed",
            "Motor speed when pushed by hand at 500 mm/s",
            lambda: pick(locks, 0.0, 500.0 * lam.n),
            "rad/s",
            equation="ω = 500 mm/s·λ; 0 where it cannot be driven backwards",
            source_kind="common practice",
            source="a brisk push by hand",
            radians_per_mm=lam,
        )
        return ctx.calc(
            "motor.generated",
            "Voltage that a push by hand feeds into the driver",
            stepper.generated_voltage,
            torque_constant_nm_a=self.wired(at, ctx).kt,
            speed_rad_s=hand,
        )

    def transmit(self, at: str, ctx: Context) -> Transmission:
        return Transmission(1.0, 1.0, ctx.given(f"{at}.rotor_inertia_gcm2"), None, 0.0)

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        own = ctx.given(f"{at}.radial_limit_n")
        stated = (
            own
            if own.value is not None
            else Given(
                f"{at}.radial_limit_n",
                row({name: frame.radial_n for name, frame in FRAMES.items()}, self.frame),
                "N",
                "common practice",
                f"{spoken(self.frame)} at 20 mm, from memory",
            )
        )
        limit = ctx.calc(
            "motor.radial_limit",
            "Radial limit at this overhang",
            stepper.radial_limit,
            limit_n=stated,
            stated_at_mm=20.0,
            overhang_mm=ctx.given(overhang) if overhang else 20.0,
            bearing_depth_mm=ctx.given("assumptions.bearing_depth_mm"),
        )
        return OutputShaft(at, ctx.given(f"{at}.shaft_mm"), self.shaft_form, limit)

    def main_number(self) -> tuple[str, str]:
        return said(self.hold_torque_nm, "N·m"), "hold_torque_nm"

    def repeats(self, at: str, ctx: Context) -> list[Repeat]:
        lam = ctx.drive.lam_motor.value or 0.0
        return repeats.turn("a turn of the motor", at, lam) + repeats.steps(at, lam, self.steps_per_turn)

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self,
                "Stepper motor",
                f"{self.frame}, {self.hold_torque_nm:g} N·m, {self.rated_current_a:g} A",
                at,
                typical=prices.motor_price(self.hold_torque_nm),
            ),
            bought(
                self.driver,
                "Driver and supply",
                f"{self.driver.supply_v:g} V, {self.driver.current_a:g} A {self.driver.current_is}",
                f"{at}.driver",
                typical=prices.drive_price(self.driver.supply_v),
            ),
        ]

    def work(self, at: str, ctx: Context) -> list[WorkStep]:
        return [
            WorkStep(
                "coil_test",
                "Find the coil pairs with a meter: two wires of one coil show a few ohms, wires of "
                "different coils none.",
                after=("parts",),
                gives=("motor ready",),
                needs=(at,),
                check="Shaft turns heavily while the two wires of one coil touch.",
                tools=(METER,),
            ),
            motor_on(at, ctx),
            *motor_tight(ctx),
            self._wiring(at, ctx),
        ]

    def _wiring(self, at: str, ctx: Context) -> WorkStep:
        driver, each = self.driver, "each motor" if ctx.counts.motors > 1 else "the motor"
        return WorkStep(
            "wire_motor",
            f"Wire {each} to its driver; set that to {driver.current_a:g} A {driver.current_is} and "
            f"{driver.microsteps} microsteps.",
            after=("motor", "parts"),
            gives=("wired",),
            needs=(f"{at}.driver",),
            check="Switched on for a moment, with nothing in its way, it holds and turns the right way; else "
            "swap the two wires of one coil.",
            caution="Supply off before a motor is plugged in or out: a running driver does not survive it.",
            tools=("screwdriver", METER),
        )

    def cautions(self, at: str, ctx: Context) -> list[Caution]:
        out = [
            Caution(
                "drive",
                "Switch the supply off, lock it out and wait for it to discharge before you touch "
                "belt or wiring; mains wiring by a licensed person where your code says so.",
            )
        ]
        if self.driver.supply_v > 60:
            out.append(
                Caution(
                    "drive",
                    f"{self.driver.supply_v:g} V DC is above the limit usually taken as safe to "
                    f"touch (60 V): enclose and follow your local code.",
                )
            )
        volts = self.generated(at, ctx).value
        if volts is not None and volts > self.driver.supply_v * 0.5:
            out.append(
                Caution(
                    "tune",
                    f"Pushed briskly by hand this motor feeds about {volts:.0f} V into its "
                    f"driver: move the carriage slowly, or unplug the motor first, with power "
                    f"off.",
                )
            )
        return out

    def settings(self, ctx: Context, degree_mm: float | None) -> list[Setting]:
        per_mm = None if ctx.stepping is None else ctx.stepping.per_mm.value
        belted = any(hasattr(part, "belt") for part in (*ctx.design.chain, ctx.design.end))
        # A joint is commanded by its angle.
        unit, mm, each = ("mm", 1.0, "millimetre") if degree_mm is None else ("°", degree_mm, "degree")
        return [
            Setting(
                f"Steps per {each}",
                None if per_mm is None else per_mm * mm,
                f"steps/{unit}",
                "tension first, calibrate after" if belted else "calibrated after the first run",
            ),
            Setting("Microsteps", float(self.driver.microsteps), "", ""),
            Setting(
                "Driver current",
                self.driver.current_a,
                f"A {self.driver.current_is}",
                f"rated {self.rated_current_a:g} A",
            ),
            Setting("Top speed", ctx.design.aim.speed_mm_s / mm, f"{unit}/s", ""),
            Setting("Acceleration", ctx.design.aim.acceleration_mm_s2 / mm, f"{unit}/s²", ""),
            *(
                [Setting("Soft limit", ctx.travel.n / mm, unit, "usable travel between the switches")]
                if ctx.travel is not None
                else []
            ),
        ]
