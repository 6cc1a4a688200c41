"""Motors that turn without knowing where they stand: the DC gearmotor with PWM, and the induction motor on
the mains.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import OutputShaft, Phase, Phases, Stepping
from ...account.report import BillLine, Caution, Setting, WorkStep
from ...fields.part import SHAFTS, num
from ...formulas import motors, prices
from ...ledger.errors import problem
from ...ledger.formula import Real
from ...ledger.many import along, least, most
from ...ledger.quantity import Given, Quantity, Term
from ..motor_steps import motor_on, motor_tight
from .contract import Motor, MotorState, ShaftForm, Throttle, Transmission, bought, own_shaft, unless_idle

RPM = math.pi / 30
Line = tuple[
    Callable[..., Real], dict[str, Given | Quantity]
]  # the formula of torque over speed, and its terms


class TurningMotor(Motor):
    """What both have in common: a line of torque against speed, and nothing that holds the rotor."""

    positioning: ClassVar[bool] = False
    inertia_gcm2: float | None = num(
        "Inertia at the shaft",
        "inertia",
        "g·cm²",
        0,
        1e8,
        None,
        "On its sheet. If you don't know: of a gearmotor the small motor's, some 20, times its reduction "
        "squared; of a mains motor of 0.2 to 0.5 kW 5000 to 20 000.",
    )
    detent_torque_nm: float | None = num(
        "Torque to turn it unpowered",
        "torque",
        "N·m",
        0,
        500,
        None,
        "At the output shaft, with a lever and a scale.",
    )
    shaft_mm: float = num("Shaft", "length", "mm", 1, 200, 8.0, sizes=SHAFTS)
    shaft_form: ShaftForm = "flat"
    radial_limit_n: float | None = num(
        "Radial limit of the shaft",
        "force",
        "N",
        1,
        1e5,
        None,
        "On its sheet; leave it empty and the load on the shaft stays an open question.",
    )

    def line(self, at: str, ctx: Context) -> Line:
        """The formula of the line and its terms but for the speed."""
        raise NotImplementedError

    def turning(self, ctx: Context, at: str, key: str, label: str, field: str) -> Quantity:
        """A speed of its plate, rad/s."""
        rpm = ctx.given(f"{at}.{field}")
        return ctx.book.put(
            key, label, lambda: rpm.n * RPM, "rad/s", equation="ω = n·2π/60", source="unit conversion", n=rpm
        )

    def settle(self, at: str, ctx: Context) -> MotorState:
        ctx.once(self.line, at)
        return MotorState(
            None, None, ctx.given(f"{at}.detent_torque_nm"), ctx.given(f"{at}.detent_torque_nm")
        )

    def curve_terms(self, at: str, ctx: Context) -> dict[str, Term]:
        return dict(ctx.once(self.line, at)[1])

    def pull_at(self, at: str, ctx: Context) -> Callable[[Real], Real]:
        fn, terms = ctx.once(self.line, at)
        known = {k: along(t.n) for k, t in terms.items()}
        return lambda speed: most(fn(speed_rad_s=speed, **known), 0.0)

    def torque_left(
        self, key: str, label: str, at: str, ctx: Context, speed: Quantity, lasting: bool
    ) -> Quantity:
        fn, terms = ctx.once(self.line, at)
        return ctx.calc(key, label, fn, speed_rad_s=speed, **terms)

    def transmit(self, at: str, ctx: Context) -> Transmission:
        return Transmission(1.0, 1.0, ctx.given(f"{at}.inertia_gcm2"), None, 0.0)

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        return own_shaft(at, ctx, self.shaft_form)

    def work(self, at: str, ctx: Context) -> list[WorkStep]:
        return [
            WorkStep(
                "turn_test",
                "Let the bare motor turn for a moment, held in a vice: which way, and how it is changed "
                "(swap its two leads, or two of the three phases).",
                after=("parts",),
                gives=("motor ready", "wired"),
                needs=(at,),
                check="Turns the right way round; nothing grates.",
                caution="Mains leads are joined and changed by a licensed person where your code says so.",
                tools=("screwdriver",),
            ),
            motor_on(at, ctx),
            *motor_tight(ctx),
        ]

    def settings(self, ctx: Context, degree_mm: float | None) -> list[Setting]:
        lam, speed = ctx.drive.lam_motor.value, ctx.design.aim.speed_mm_s
        return [
            Setting("Motor speed at the top", None if lam is None else speed * lam / RPM, "rpm", ""),
            Setting("Speed there", speed, "mm/s", ""),
        ]


class Gearmotor(TurningMotor):
    """DC motor with its gearbox, fed by PWM."""

    FIRST = ("no_load_rpm", "stall_torque_nm", "voltage_v")

    kind: Literal["gearmotor"] = "gearmotor"
    no_load_rpm: float = num(
        "No-load speed at full voltage", "turning speed", "rpm", 0.1, 50_000, 60.0, "Of the output shaft."
    )
    stall_torque_nm: float = num(
        "Stall torque", "torque", "N·m", 0.001, 5000, 4.0, "Of the output shaft, at full voltage."
    )
    lasting_percent: float = num(
        "Of that for long", "share", "%", 1, 100, 33.0, "A third or less, from memory."
    )
    duty_percent: float = num(
        "PWM duty", "share", "%", 1, 100, 100.0, "100 for full voltage; less runs slower and pulls less."
    )
    least_duty_percent: float = num(
        "Least duty that still turns it", "share", "%", 0, 99, 20.0, "Try it under load."
    )
    voltage_v: float = num("Voltage", "voltage", "V", 1, 400, 12.0)

    def line(self, at: str, ctx: Context) -> Line:
        g, put = ctx.given, ctx.book.put
        no_load = self.turning(ctx, at, "motor.no_load", "No-load speed", "no_load_rpm")
        duty = put(
            "motor.duty",
            "PWM duty",
            lambda: g(f"{at}.duty_percent").n / 100,
            "",
            equation="D/100",
            source="unit conversion",
            duty=g(f"{at}.duty_percent"),
        )
        return motors.gearmotor_torque, {
            "no_load_rad_s": no_load,
            "stall_torque_nm": g(f"{at}.stall_torque_nm"),
            "duty": duty,
        }

    def torque_left(
        self, key: str, label: str, at: str, ctx: Context, speed: Quantity, lasting: bool
    ) -> Quantity:
        whole = super().torque_left(f"{key}_line" if lasting else key, label, at, ctx, speed, lasting)
        if not lasting:
            return whole
        g = ctx.given
        return ctx.book.put(
            key,
            f"{label}, for long",
            lambda: most(
                least(whole.n, g(f"{at}.stall_torque_nm").n * g(f"{at}.lasting_percent").n / 100), 0.0
            ),
            "N·m",
            equation="min(T, T_s·share)",
            source_kind="from memory",
            source="continuous torque a third of stall or less",
            line=whole,
            stall=g(f"{at}.stall_torque_nm"),
            share=g(f"{at}.lasting_percent"),
        )

    def control(self, at: str, ctx: Context, lam: Quantity, torques: Phases) -> Stepping | None:
        """The slowest feed: the duty that it takes must still turn the motor."""
        push, speed = torques["push"], ctx.given("aim.push_speed_mm_s")
        terms = ctx.once(self.line, at)[1]
        no_load, stall = terms["no_load_rad_s"], terms["stall_torque_nm"]
        duty = ctx.book.put(
            "motor.duty_slow",
            "Duty to set while pushing",
            lambda: 100 * (speed.n * lam.n / no_load.n + push.n / stall.n),
            "%",
            equation="D = v·λ/ω_0 + T/T_s",
            source="straight line from no load to stall, solved for the duty",
            speed=speed,
            radians_per_mm=lam,
            no_load=no_load,
            torque=push,
            stall=stall,
        )
        ctx.rung(
            "slow_feed",
            "Slowest feed, pushing",
            unless_idle(ctx.loads.push.n, ctx.given(f"{at}.least_duty_percent")),
            duty,
            1.0,
            unit="%",
            section="motor",
            path=f"{at}.least_duty_percent",
            says="A slower gearmotor or more reduction: at this duty it stands still and hums.",
        )
        return None

    def own_rpm(self) -> float | None:
        return self.no_load_rpm

    def throttle(self) -> Throttle | None:
        return Throttle(self.no_load_rpm, self.stall_torque_nm, self.least_duty_percent)

    def weak(self) -> dict[Phase | Literal["speed"], tuple[str, str]]:
        more = "A stronger gearmotor, a larger reduction, or less to move."
        return {
            "accelerate": ("stall_torque_nm", more),
            "cruise": ("stall_torque_nm", more),
            "push": ("stall_torque_nm", more),
            "hold": (
                "detent_torque_nm",
                "A worm or screw that holds by itself, or a brake; a gearmotor has no standing torque.",
            ),
            "speed": ("no_load_rpm", "A faster gearmotor, more duty, less reduction, or less speed."),
        }

    def main_number(self) -> tuple[str, str]:
        return f"{self.no_load_rpm:g} rpm", "no_load_rpm"

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        return [
            bought(
                self,
                "Gearmotor",
                f"{self.voltage_v:g} V, {self.no_load_rpm:g} rpm, {self.stall_torque_nm:g} N·m at stall",
                at,
                typical=prices.motor_price(self.stall_torque_nm),
            )
        ]

    def cautions(self, at: str, ctx: Context) -> list[Caution]:
        return [
            Caution(
                "drive",
                "A stalled gearmotor overheats in seconds and can strip its gears: fuse it, and cut "
                "the supply when it stands still under power.",
            )
        ]


class Induction(TurningMotor):
    """Induction motor on the mains: one speed, less a little slip."""

    FIRST = ("power_w", "rated_rpm")

    kind: Literal["induction"] = "induction"
    power_w: float = num("Rated power", "power", "W", 1, 100_000, 370.0)
    rated_rpm: float = num("Rated speed", "turning speed", "rpm", 10, 50_000, 1400.0)
    synchronous_rpm: float = num(
        "Synchronous speed",
        "turning speed",
        "rpm",
        10,
        60_000,
        1500.0,
        "Mains frequency times 120 over the number of poles.",
    )
    shaft_mm: float = num("Shaft", "length", "mm", 1, 200, 14.0, sizes=SHAFTS)
    shaft_form: ShaftForm = "key"

    def check(self, at: str, ctx: Context) -> None:
        ctx.stop(
            self.rated_rpm >= self.synchronous_rpm,
            lambda: problem(
                f"{at}.rated_rpm",
                "is not below the synchronous speed",
                value=self.rated_rpm,
                limit=self.synchronous_rpm,
                unit="rpm",
                remedy="Take both speeds from its label: the synchronous one is 120 times the mains "
                "frequency over the number of poles.",
            ),
        )

    def line(self, at: str, ctx: Context) -> Line:
        g, put = ctx.given, ctx.book.put
        rated = self.turning(ctx, at, "motor.rated", "Rated speed", "rated_rpm")
        top = self.turning(ctx, at, "motor.synchronous", "Synchronous speed", "synchronous_rpm")
        torque = put(
            "motor.rated_torque",
            "Rated torque",
            lambda: g(f"{at}.power_w").n / rated.n,
            "N·m",
            equation="T = P/ω",
            source="definition of power",
            power=g(f"{at}.power_w"),
            speed=rated,
        )
        return motors.induction_torque, {
            "synchronous_rad_s": top,
            "rated_rad_s": rated,
            "rated_torque_nm": torque,
        }

    def own_rpm(self) -> float | None:
        return self.rated_rpm

    def rated_power_w(self) -> float | None:
        return self.power_w

    def weak(self) -> dict[Phase | Literal["speed"], tuple[str, str]]:
        more = "A stronger motor, a slower step, or less load."
        return {
            "accelerate": ("power_w", "A stronger motor, or a gentler start."),
            "cruise": ("power_w", more),
            "push": ("power_w", more),
            "hold": ("detent_torque_nm", "A brake: an induction motor has no standing torque."),
            "speed": ("rated_rpm", "A faster motor, or less reduction."),
        }

    def main_number(self) -> tuple[str, str]:
        return f"{self.power_w:g} W", "power_w"

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        says, typical = f"{self.power_w:g} W, {self.rated_rpm:g} rpm", prices.mains_motor_price(self.power_w)
        return [bought(self, "Induction motor", says, at, typical=typical)]

    def cautions(self, at: str, ctx: Context) -> list[Caution]:
        return [
            Caution(
                "drive",
                "Mains voltage: wiring, earth, switch and overload protection by a licensed person "
                "where your code says so; disconnect and lock the supply before you touch a "
                "belt.",
            )
        ]
