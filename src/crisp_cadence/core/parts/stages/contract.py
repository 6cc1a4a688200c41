"""What a stage of the chain tells the rest of the program. A new kind of stage is one module beside this
one.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, ClassVar, Literal

import numpy as np
from pydantic import ConfigDict

from ...account.context import Context
from ...account.found import Band, OutputShaft, Phase, Phases, Pulled, Repeat, Seat, Stepping, Trial, Unsure
from ...account.report import BillLine, Caution, CutLine, Setting, TorqueCurve, WorkStep
from ...checks import repeats
from ...fields.belts import Pulley
from ...fields.frames import Frame
from ...fields.part import Bought, num
from ...fields.rows import Row
from ...geometry.route import Laid
from ...geometry.scene import Scene
from ...ledger.formula import Real
from ...ledger.many import along, is_column, most, pick
from ...ledger.quantity import Given, Quantity, Term, missing_in
from ..joining import countershaft, joined, own_key

ShaftForm = Literal["flat", "round", "key"]
SPEEDS = np.concatenate([[0.0], np.geomspace(1e-2, 1e6, 4)])  # mm/s, searched for the highest speed
UNIT = np.linspace(0.0, 1.0, 65)
_LISTED: list[float] = SPEEDS.tolist()
MOST_STEPS = 60
_TINY = 1e-300


@dataclass(frozen=True, slots=True)
class Transmission:
    """What a stage does to what passes through it; shafts are named as power flows, from the motor to the
    load.
    """

    ratio: Term
    efficiency: Term
    inertia_in_gcm2: Term
    stiffness_out_nm_rad: Term
    backlash_out_arcmin: Term
    torque_limit_in: Term | None = None
    speed_limit_in_rpm: Term | None = None
    efficiency_back: Term | None = None


@dataclass(frozen=True, slots=True)
class MotorState:
    """What the rest of the evaluation needs of a motor; no field where nothing holds the rotor in place. Its
    stiffness is that while it moves, and that at the current of standing.
    """

    field_stiffness: Quantity | None
    field_standing: Quantity | None
    standing_torque: Term
    detent: Term


@dataclass(frozen=True, slots=True)
class Throttle:
    """A motor whose speed is set by a share of its voltage: its line from no load to stall, and the least
    duty that still turns it.
    """

    no_load_rpm: float
    stall_torque_nm: float
    least_duty_percent: float


SOFT = 0.5  # of a stiffness from a sheet or by its form, as a logarithm (estimate)
CORDS = 0.4  # of a belt's EA by its cords, likewise


class Stage(Bought, Row):
    """A part of the chain, in power-flow order."""

    LOOKED_UP: ClassVar[tuple[str, ...]] = ("shaft_form",)

    kind: str
    holds_shaft_before: ClassVar[bool] = False  # whether a mount of its own holds the shaft before it
    carries: ClassVar[bool] = False  # whether its shaft, in its own bearings, carries what follows
    bolted: ClassVar[str] = ""  # the field of its flange that a plate is drilled by; empty where it has none
    soft_field: ClassVar[str] = "stiffness_nm_rad"  # the field that decides how much it gives
    mass_kg: float | None = num(
        "Mass", "mass", "kg", 0, 500, None, "Needed where it rides along, or where its axis rides on another."
    )

    def flange(self) -> Frame | None:
        """What bolts it to a plate; None where that is not known."""
        return None

    def over_shaft(self, at: str, ctx: Context) -> Term | None:
        """Diameter, mm, of what it puts on the shaft before it; None where that hides nothing, or where it is
        not known.
        """
        return None

    def check(self, at: str, ctx: Context) -> None:
        """Problems between this stage's own fields, told to `ctx.stop`."""

    def overhang(self, at: str) -> str | None:
        """Design path of how far out on the shaft before it this stage pulls; None where it does not pull
        sideways.
        """
        return None

    def moves_shaft_before(self, at: str) -> str | None:
        """What must have been done, where it moves the shaft before it to tighten a belt; None where it does
        not.
        """
        return None

    def transmit(self, at: str, ctx: Context) -> Transmission:
        """Ratio, efficiency, inertia, stiffness and backlash."""
        raise NotImplementedError

    def rate(
        self, at: str, ctx: Context, torque_in: Quantity, speed_in: Quantity, before: OutputShaft
    ) -> None:
        """Rungs of its own, from the largest torque and the speed at its input."""

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        """The shaft at this stage's end; `overhang` says where on it the next part pulls."""
        raise NotImplementedError

    def main_number(self) -> tuple[str, str]:
        """The number that names this stage on the drive line, and its field."""
        raise NotImplementedError

    def bands(self, at: str, ctx: Context) -> list[Band]:
        """The band of its belt's tension, for each motor that has such a chain; none without a belt."""
        return []

    def repeats(self, at: str, ctx: Context) -> list[Repeat]:
        """What of it comes again along the travel: a turn of the shaft that it drives, if nothing else."""
        return repeats.turn(
            f"a turn of the shaft after the {self.kind.replace('_', ' ')}", at, ctx.lam_after(at)
        )

    def unsure(self, at: str, ctx: Context) -> list[Unsure]:
        """What of it gives by a number that nobody knows well: its stiffness, where it has a field for
        that.
        """
        given = ctx.once(self.transmit, at).stiffness_out_nm_rad
        k = given.value if isinstance(given, (Given, Quantity)) else given
        if k is None or self.soft_field != Stage.soft_field or not hasattr(self, self.soft_field):
            return []
        return [Unsure(f"{at}.{self.soft_field}", f"the {self.kind.replace('_', ' ')}", float(k), SOFT)]

    def trials(self, at: str, ctx: Context) -> list[Trial]:
        """What of it is tried with a gauge, a scale or a watch."""
        return []

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        """What it adds to the bill."""
        return []

    def cut(self, at: str, ctx: Context) -> list[CutLine]:
        """What it adds to the list of pieces to cut or belts to buy."""
        return []

    def scene(self, at: str, ctx: Context) -> Scene | None:
        """Its own drawing to true scale."""
        return None

    def laid(self, at: str, ctx: Context) -> list[Laid]:
        """Its toothed belts as they are laid."""
        return []

    def taut(self, at: str, ctx: Context) -> list[Laid]:
        """The same belts with the tension that they are set to, once the forces are known."""
        return self.laid(at, ctx)

    def on_shafts(self, at: str) -> list[tuple[str, Pulley, bool]]:
        """Its pulleys by design path; true for those on its own shaft, false for those on the one before."""
        return []

    def seats(self, at: str, ctx: Context, before: OutputShaft) -> list[Seat]:
        """The same pulleys on their shafts, under load."""
        return []

    def pulled(self, at: str, ctx: Context) -> list[Pulled]:
        """Its mounts under load."""
        return []

    def work(self, at: str, ctx: Context) -> list[WorkStep]:
        """What it adds to the order of work: it joins the shaft before it to the one behind it."""
        return [
            *countershaft(at, ctx),
            joined(
                at, ctx, own_key(self.kind, at, ctx), f"Fit the {self.kind.replace('_', ' ')} and tighten it."
            ),
        ]

    def cautions(self, at: str, ctx: Context) -> list[Caution]:
        """What it adds to the cautions."""
        return []


class Motor(Stage):
    """First stage of every chain: gives torque at a speed."""

    model_config = ConfigDict(json_schema_extra={"role": "motor"})

    bolted: ClassVar[str] = "frame"
    carries: ClassVar[bool] = True
    positioning: ClassVar[bool] = True  # whether it can be told to stand at a place

    def settle(self, at: str, ctx: Context) -> MotorState:
        """Work out constants and limits; writes them to the ledger."""
        raise NotImplementedError

    def pull_at(self, at: str, ctx: Context) -> Callable[[Real], Real]:
        """Largest torque, N·m, as a function of the shaft's speed, rad/s, or of speeds along the last axis;
        called only when nothing is missing.
        """
        raise NotImplementedError

    def curve_terms(self, at: str, ctx: Context) -> dict[str, Term]:
        """What the torque curve depends on."""
        raise NotImplementedError

    def torque_left(
        self, key: str, label: str, at: str, ctx: Context, speed: Quantity, lasting: bool
    ) -> Quantity:
        """Torque at one speed as a result; `lasting` for what it can give for long."""
        raise NotImplementedError

    def own_rpm(self) -> float | None:
        """Speed that it turns at by itself, rpm; None for one that turns as it is told."""
        return None

    def rated_power_w(self) -> float | None:
        """Power on its plate, W; None where it has none."""
        return None

    def throttle(self) -> Throttle | None:
        """How its speed is set by its voltage; None where it is not."""
        return None

    def weak(self) -> dict[Phase | Literal["speed"], tuple[str, str]]:
        """For each phase, and for speed: the field that decides its torque, and what mends it."""
        raise NotImplementedError

    def control(self, at: str, ctx: Context, lam: Quantity, torques: Phases) -> Stepping | None:
        """Rungs and results of control: steps, resolution, holding; None where it does not step."""
        return None

    def settings(self, ctx: Context, degree_mm: float | None) -> list[Setting]:
        """Numbers for the controller."""
        return []

    def top_speed(self, ctx: Context) -> Quantity:
        """Its speed at the axis's top speed, rad/s."""
        return ctx.once(self._top_speed)

    def _top_speed(self, ctx: Context) -> Quantity:
        return _turning(ctx, "motor.speed_top", "Motor speed at the top", "aim.speed_mm_s")

    def motion_rungs(
        self, at: str, ctx: Context, lam: Quantity, torques: Phases, state: MotorState
    ) -> Callable[[], TorqueCurve | None]:
        """Rungs of torque and speed, and the curve for the drive step."""
        g = ctx.given
        margin = g("assumptions.margin_torque")
        top = self.top_speed(ctx)
        slow = _turning(ctx, "motor.speed_push", "Motor speed while pushing", "aim.push_speed_mm_s")
        at_top = self.torque_left("motor.pull_out_top", "Torque left at top speed", at, ctx, top, False)
        at_push = self.torque_left("motor.pull_out_push", "Torque left at pushing speed", at, ctx, slow, True)
        weak = self.weak()
        phases: tuple[tuple[Phase, str, Term], ...] = (
            ("accelerate", "Motor torque, accelerating", at_top),
            ("cruise", "Motor torque, cruising", at_top),
            ("push", "Motor torque, pushing", at_push),
            ("hold", "Motor torque, standing", state.standing_torque),
        )
        for phase, label, have in phases:
            path, says = weak[phase]
            asked: Term = torques[phase]
            if phase == "push":
                asked = unless_idle(ctx.loads.push.n, torques[phase])
            ctx.rung(
                f"torque_{phase}",
                label,
                asked,
                have,
                margin,
                unit="N·m",
                section="motor",
                path=f"{at}.{path}",
                says=says,
            )
        curve = self._reach(at, ctx, lam, torques["accelerate"], margin)
        path, says = weak["speed"]
        path = f"{at}.{path}"
        reach: Term = ctx.reach
        ctx.stepping = self.control(at, ctx, lam, torques)
        if ctx.stepping is not None:
            ends = [(reach, path), (ctx.stepping.top, ctx.stepping.field)]
            reach, path = ctx.extreme("least", ends, "speed.reach", "mm/s")
        ctx.rung(
            "speed",
            "Speed it can reach",
            g("aim.speed_mm_s"),
            reach,
            1.0,
            unit="mm/s",
            section="motor",
            path=path,
            says=says,
        )
        return curve

    def _reach(
        self, at: str, ctx: Context, lam: Quantity, asked: Quantity, margin: Given
    ) -> Callable[[], TorqueCurve | None]:
        """Highest speed with the torque margin kept; and the curve to plot, when it is asked for."""
        terms: dict[str, Term] = {
            "torque": asked,
            "margin": margin,
            "radians_per_mm": lam,
            **self.curve_terms(at, ctx),
        }

        def pulling() -> Callable[[Real], Real]:
            turn, torque = along(lam.n), self.pull_at(at, ctx)
            return lambda speed: torque(speed * turn)

        ctx.reach = ctx.book.put(
            "motor.reach",
            "Highest speed with the torque margin kept",
            lambda: highest_speed(pulling(), asked.n * margin.n),
            "mm/s",
            equation="T(v·λ) = margin·T_accelerate, solved for v",
            source="search on the torque curve, to better than 0.000 01 %",
            also=terms,
        )

        def curve() -> TorqueCurve | None:
            if missing_in(terms.values()):
                return None
            wanted = ctx.design.aim.speed_mm_s
            grid = max(wanted * 1.5, min(ctx.reach.value or 0, 20 * wanted) * 1.25, 20.0) * UNIT
            return TorqueCurve(
                tuple(grid.tolist()),
                tuple(pulling()(grid).tolist()),
                wanted,
                asked.value,
                margin.value or 1.0,
            )

        return curve


def _turning(ctx: Context, key: str, label: str, path: str) -> Quantity:
    """How fast the motor turns at a speed that is aimed at, rad/s."""
    speed, lam = ctx.given(path), ctx.drive.lam_motor
    return ctx.book.put(
        key,
        label,
        lambda: speed.n * lam.n,
        "rad/s",
        equation="ω = v·λ",
        source="kinematics",
        speed=speed,
        radians_per_mm=lam,
    )


def highest_speed(pull: Callable[[Real], Real], need: Real) -> Real:
    """The highest of the speeds searched, mm/s, at which a torque that falls with speed still reaches what is
    needed; 0 where it never does, the last of them where it always does.

    Halving between known speeds, then false position on the power, which bends least where the voltage sets
    the torque, by the Pegasus rule: an end that stands still counts less, by how far the other came, so
    that both ends close in.
    """
    asked = along(need)
    standing, racing = pull(0.0) - asked, pull(_LISTED[-1]) - asked
    many = is_column(standing, racing)
    never, always = ~(standing >= 0) if many else not standing >= 0, racing >= 0
    if not many and (never or always):
        return 0.0 if never else _LISTED[-1]
    speeds: Any = SPEEDS if many else _LISTED
    low: Real = 0
    high: Real = len(SPEEDS) - 1
    over, under = standing, racing
    for _ in range((len(SPEEDS) - 1).bit_length() - 1):
        middle = (low + high) // 2
        left = pull(speeds[middle]) - asked
        enough = left >= 0
        low, high = pick(enough, middle, low), pick(enough, high, middle)
        over, under = pick(enough, left, over), pick(enough, under, left)
    a, b = speeds[low], speeds[high]
    first = _LISTED[1]  # counts on top, so that the standing motor weighs in too
    over, under = over * (a + first), under * (b + first)
    found, last = a, 0
    for _ in range(MOST_STEPS):
        before, found = found, b - under * (b - a) / (under - over)
        left = (pull(found) - asked) * (found + first)
        up = left >= 0
        over, under = (
            pick(up, left, pick(last < 0, over * _lessened(under, left), over)),
            pick(up, pick(last > 0, under * _lessened(over, left), under), left),
        )
        a, b, last = pick(up, found, a), pick(up, b, found), pick(up, 1, -1)
        stands = abs(found - before) <= 1e-12 * found
        if np.all(stands | never | always | np.isnan(found)) if many else stands:
            break
    if not many:
        return found
    found = np.where(never, 0.0, np.where(always, _LISTED[-1], found))
    return np.where(np.isnan(standing) | np.isnan(racing), np.nan, found)[..., 0]


def _lessened(before: Real, now: Real) -> Real:
    """What an end that stood still counts for, where the other went from one to the other; a half where that
    has arrived.
    """
    return (abs(before) + _TINY) / (abs(before) + abs(now) + 2 * _TINY)


def unless_idle(push_n: Real, asked: Given | Quantity) -> Term:
    """What is asked for while pushing; nothing where nothing is pushed."""
    if is_column(push_n):
        return Given("push.asked", pick(push_n == 0, 0.0, asked.n), asked.unit)
    return 0.0 if push_n == 0 else asked


def held_after(at: str, ctx: Context) -> bool:
    """Whether the mount of a stage's shaft stands with what follows it."""
    j, chain, end = int(at.rpartition(".")[2]) + 1, ctx.design.chain, ctx.design.end
    return bool(chain[j].holds_shaft_before if j < len(chain) else end.holds_shaft_before())


def ringing_torque(at: str, ctx: Context) -> Quantity:
    """Largest torque into a stage while what accelerates rings: that part alone is multiplied."""
    loads, worst = ctx.loads, ctx.drive.worst_in[at]
    accelerating = ctx.drive.torque_in[int(at.rpartition(".")[2])]["accelerate"]
    whip, plain, force = ctx.peaks.whip, loads.accelerated, loads.by_phase["accelerate"]
    return ctx.book.put(
        f"{at}.torque_ringing",
        "Largest torque into it, with ringing",
        lambda: most(worst.n, accelerating.n * (1 + (whip.n - plain.n) / most(force.n, 1e-12))),
        "N·m",
        equation="max(T, T_a·(1 + (k − 1)·m·a/F_a))",
        source="response of one damped mode; the part that accelerates alone",
        worst=worst,
        accelerating=accelerating,
        whip=whip,
        inertia=plain,
        force=force,
    )


def bought(
    part: Bought, what: str, detail: str, field: str, quantity: float = 1, typical: float | None = None
) -> BillLine:
    """One line of the bill for a part; `typical` is what one costs as a rule, € of 2026."""
    return billed(part.label or what, detail, quantity, "", (part.price, typical), part.in_stock, field)


def billed(
    what: str,
    detail: str,
    quantity: float,
    unit: str,
    prices: tuple[float | None, float | None],
    in_stock: bool,
    field: str,
) -> BillLine:
    """One line of the bill by the maker's own price of each, or else by the typical one."""
    own, typical = prices
    each = typical if own is None else own
    total = None if each is None else each * quantity
    estimated = own is None and typical is not None
    return BillLine(what, detail, quantity, unit, each, total, in_stock, field, estimated)


def own_shaft(at: str, ctx: Context, form: ShaftForm) -> OutputShaft:
    """The shaft that a stage's own fields name: its diameter, and what its bearings bear."""
    return OutputShaft(at, ctx.given(f"{at}.shaft_mm"), form, ctx.given(f"{at}.radial_limit_n"))
