"""Stepped cones from motor over a middle pulley to a spindle: every speed, both belts taut.

The cones are solved from the speeds wanted, so that one belt fits every step, or they are given as drawn and
the speeds come out. A speed that no belt serves stays in the list and says why.
"""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import ClassVar, Literal

from pydantic import Field

from ...account.context import Context
from ...fields.axis import Axis
from ...fields.part import Bought, Part, choice, num
from ...formulas import vbelt
from ...geometry import cones
from ...geometry.path import Path, Round, belt_path
from ...ledger.amounts import said, shown_in
from ...ledger.errors import EntryError, Problem, problem
from ...ledger.record import record
from ..stages.contract import Motor
from .cone_fixing import Cone, ShaftForm
from .contract import A, End


class Sheave(Part):
    """Two pulleys with one belt, as drawn."""

    driver_mm: float = num("Driver", "length", "mm", 10, 1000, 80.0, "Pitch diameter.")
    driven_mm: float = num("Driven", "length", "mm", 10, 1000, 80.0, "Pitch diameter.")


class CutAt(Part):
    """What the work asks of the spindle at one speed."""

    rpm: float = num(
        "At about", "turning speed", "rpm", 1, 50_000, 500.0, "Counts for the speed nearest to it."
    )
    torque_nm: float = num(
        "Torque on the spindle", "torque", "N·m", 0, 10_000, 1.0, "Force times its radius."
    )


@record
class Turned:
    """A pair of pulleys: driven over driver, their pitch diameters in mm, or why there are none."""

    ratio: float
    driver_mm: float = math.nan
    driven_mm: float = math.nan
    says: str = ""


@record
class Step:
    """One spindle speed: its two pairs of pulleys, and where the middle pulley stands; or why it cannot be
    had.
    """

    name: str
    rpm: float
    pair: int
    cone: int
    first: Turned
    second: Turned
    middle_rpm: float
    middle_x_mm: float = math.nan
    middle_y_mm: float = math.nan
    says: str = ""


# What the speeds and pulleys follow from, besides the motor's speed and the pulleys drawn.
SOLVES = (
    "section", "cones_from", "low_rpm", "high_rpm", "steps", "low_pair", "high_pair", "motor_belt_mm",
    "cone_belt_mm", "motor_centre_mm", "cone_centre_mm", "apart_mm", "round_mm", "slip_percent",
)  # fmt: skip


@dataclass(frozen=True)
class _Cones:
    """Cones to solve, alike where what they follow from is."""

    follows: tuple[object, ...]
    end: StepCones = field(compare=False)
    motor_rpm: float = field(compare=False)


@lru_cache(maxsize=64)
def _every(of: _Cones) -> list[Step]:
    return of.end.solve(of.motor_rpm)


def motor_rpm(design: Axis) -> float:
    """Speed of the motor under load."""
    motor: Motor = design.chain[0]
    return motor.own_rpm() or 1000.0


def _rpm(rpm: float) -> str:
    return f"{rpm:.0f} rpm" if rpm >= 100 else f"{rpm:.3g} rpm"


class StepCones(End):
    """Two V-belts in a row: pairs from motor to middle pulley, a cone from there to the spindle."""

    SINGLY: ClassVar[bool] = True  # its cones are searched for one after the other
    cones: Bought = Bought()
    belts: Bought = Bought()
    section: Literal["Z", "A"] = choice("Section", "Z")
    cones_from: Literal["speeds wanted", "cones as drawn"] = choice(
        "Diameters",
        "speeds wanted",
        "Solved from the speeds wanted, so that one belt fits every step; or given, and the speeds come out.",
    )
    low_rpm: float = num("Lowest speed wanted", "turning speed", "rpm", 1, 50_000, 60.0, step="aim")
    high_rpm: float = num("Highest speed wanted", "turning speed", "rpm", 2, 50_000, 240.0, step="aim")
    steps: int = num(
        "Steps of the cone",
        "count",
        "",
        1,
        6,
        2,
        "With the low and the high pair there are twice as many speeds.",
    )
    low_pair: float | None = num(
        "Reduction of the low pair",
        "ratio",
        ": 1",
        0.1,
        20,
        None,
        "Motor to middle pulley. Empty: shared alike by both belts.",
    )
    high_pair: float | None = num("Reduction of the high pair", "ratio", ": 1", 0.05, 20, None)
    motor_pairs: list[Sheave] = Field([], title="Pairs from motor to middle pulley", max_length=4)
    cone_pairs: list[Sheave] = Field([], title="Steps from middle pulley to spindle", max_length=6)
    cuts: list[CutAt] = Field(
        [], title="What the work asks", max_length=24, json_schema_extra={"step": "aim"}
    )
    motor_belt_mm: float = num(
        "Belt from motor to middle pulley", "length", "mm", 100, 10_000, 1000.0, "Pitch length."
    )
    cone_belt_mm: float = num(
        "Belt from middle pulley to spindle", "length", "mm", 100, 10_000, 1000.0, "Pitch length."
    )
    motor_centre_mm: float = num(
        "Motor to middle pulley", "length", "mm", 40, 5000, 300.0, "Solves the wanted pairs."
    )
    cone_centre_mm: float = num(
        "Middle pulley to spindle", "length", "mm", 40, 5000, 300.0, "Solves the wanted cone."
    )
    apart_mm: float = num("Motor shaft to spindle", "length", "mm", 20, 10_000, 420.0)
    round_mm: float = num("Diameters turned to the nearest", "length", "mm", 0.01, 5, 0.5)
    middle_travel_mm: float = num(
        "Travel of the middle pulley", "length", "mm", 0, 500, 60.0, "What its slot and screw allow."
    )
    abreast: int = num("Belts side by side", "count", "", 1, 6, 1)
    friction: float = num(
        "Friction of belt on pulley",
        "number",
        "",
        0.05,
        1,
        0.3,
        "0.3 for rubber on metal; less where the belt or the groove is polished.",
    )
    cap: float = num(
        "Cap on the tension ratio",
        "number",
        "",
        1.5,
        20,
        5.0,
        "At half a turn of wrap; near 5 for a belt that lasts (from memory).",
    )
    service: float = num(
        "Service factor", "number", "", 1, 2.5, 1.2, "1.1 to 1.3 for a day's light work (from memory)."
    )
    slip_percent: float = num(
        "Slip of each belt", "share", "%", 0, 10, 1.5, "Count turns of both pulleys; 1 to 2 under load."
    )
    work_mm: float = num("Radius at which the work is touched", "length", "mm", 1, 2000, 120.0, step="aim")
    spin_up_s: float | None = num(
        "Comes up to speed in",
        "time",
        "s",
        0.05,
        600,
        None,
        "Empty: the acceleration of the aim at the rim.",
        step="aim",
    )
    spin_gcm2: float = num(
        "Inertia of spindle and work",
        "inertia",
        "g·cm²",
        1,
        1e9,
        200_000.0,
        "½·m·r² of the work and what holds it: 1 kg of 10 cm radius is 50 000.",
        step="aim",
    )
    drag_n: float = num(
        "Drag at that radius",
        "force",
        "N",
        0,
        1000,
        1.0,
        "Pull at that radius with a scale until it turns evenly.",
        step="aim",
    )
    bore_off_mm: float = num(
        "Bores off centre by", "length", "mm", 0, 5, 0.05, "Half of what a dial gauge on the rim runs out."
    )
    middle_bearing_n: float | None = num(
        "Middle shaft bears", "force", "N", 1, 1e5, None, "Its bearings' radial load. Empty: not checked."
    )
    spindle_bearing_n: float | None = num(
        "Spindle bears", "force", "N", 1, 1e5, None, "Its bearings' radial load. Empty: not checked."
    )
    spindle_shaft_mm: float | None = num(
        "Spindle shaft under its cone", "length", "mm", 3, 200, None, "Empty: its bending is not checked."
    )
    spindle_shaft_form: ShaftForm = choice(
        "Spindle shaft is", "key", "A key wants its keyway, a set screw its flat."
    )
    spindle_thread_mm: float | None = num(
        "Spindle extended by a thread of",
        "length",
        "mm",
        2,
        16,
        None,
        "Where a longer shaft is screwed on. Empty: in one piece.",
    )
    motor_cone: Cone = Field(Cone(), title="Motor's pulleys on their shaft")
    spindle_cone: Cone = Field(Cone(bore_mm=20.0), title="Cone on the spindle")
    spindle_overhang_mm: float = num(
        "Cone beyond the spindle's bearing", "length", "mm", 0, 500, 40.0, "To the groove farthest out."
    )
    motor_line_mm: float | None = num(
        "Motor's groove above the datum",
        "length",
        "mm",
        -2000,
        2000,
        None,
        "The groove in use on its shaft. Empty: not checked.",
    )
    middle_line_mm: float | None = num(
        "Middle pulley's groove above the datum", "length", "mm", -2000, 2000, None
    )
    spindle_line_mm: float | None = num("Spindle's groove above the datum", "length", "mm", -2000, 2000, None)

    @property
    def drawn(self) -> bool:
        return self.cones_from == "cones as drawn"

    def slipping(self) -> float:
        """What both belts leave of a speed."""
        return (1 - self.slip_percent / 100) ** 2

    def ratios(self, motor_rpm: float) -> tuple[list[float], list[float]]:
        """Ratios wanted of the pairs and of the cone, driven over driver: speeds in equal ratios from the
        lowest to the highest. Where the pairs are not given both belts share the reduction alike, so that
        neither needs a very small or a very large pulley.
        """
        step = (self.high_rpm / self.low_rpm) ** (1 / (2 * self.steps - 1))
        whole = motor_rpm * self.slipping()
        each = math.sqrt(whole / math.sqrt(self.low_rpm * self.high_rpm))
        low = self.low_pair or each * step ** (self.steps / 2)
        high = self.high_pair or each * step ** (-self.steps / 2)
        slowest, fastest = whole / self.low_rpm / low, whole / self.high_rpm / high
        if self.steps == 1:
            return [low, high], [math.sqrt(slowest * fastest)]
        down = (fastest / slowest) ** (1 / (self.steps - 1))
        return [low, high], [slowest * down**j for j in range(self.steps)]

    def turned(self, motor_rpm: float) -> tuple[list[Turned], list[Turned]]:
        """Pulleys of the pairs and of the cone, turned to the nearest."""
        if self.drawn:
            first, second = (
                [Turned(s.driven_mm / s.driver_mm, s.driver_mm, s.driven_mm) for s in listed]
                for listed in (self.motor_pairs, self.cone_pairs)
            )
            return first, second
        pairs, cone = self.ratios(motor_rpm)
        return (
            [self._turned(r, self.motor_belt_mm, self.motor_centre_mm) for r in pairs],
            [self._turned(r, self.cone_belt_mm, self.cone_centre_mm) for r in cone],
        )

    def _turned(self, ratio: float, length: float, centre: float) -> Turned:
        try:
            solved = cones.cone_step(ratio, length, centre, vbelt.SECTIONS[self.section].least_mm)
        except ValueError as error:
            return Turned(ratio, says=str(error))
        driver, driven = (round(d / self.round_mm) * self.round_mm for d in solved)
        return Turned(driven / driver, driver, driven)

    def every(self, motor_rpm: float) -> list[Step]:
        """Every speed, slow to fast, with the place of the middle pulley at which both belts are taut."""
        listed = [(s.driver_mm, s.driven_mm) for s in (*self.motor_pairs, *self.cone_pairs)]
        numbers = tuple(getattr(self, name) for name in SOLVES)
        follows = (motor_rpm, len(self.motor_pairs), *listed, *numbers, shown_in("mm"))  # it says why not
        return _every(_Cones(follows, self, motor_rpm))

    def solve(self, motor_rpm: float) -> list[Step]:
        """The same, worked out anew."""
        pairs, cone = self.turned(motor_rpm)
        found = [
            self._step(motor_rpm, i, j, first, second)
            for i, first in enumerate(pairs)
            for j, second in enumerate(cone)
        ]
        found.sort(key=lambda s: s.rpm)
        names = Counter(s.name for s in found)
        return [
            replace(s, name=f"{s.name}, pair {s.pair + 1} step {s.cone + 1}") if names[s.name] > 1 else s
            for s in found
        ]

    def _step(self, motor_rpm: float, i: int, j: int, first: Turned, second: Turned) -> Step:
        left = 1 - self.slip_percent / 100
        middle = motor_rpm * left / first.ratio
        rpm = middle * left / second.ratio
        made = Step(_rpm(rpm), rpm, i, j, first, second, middle, says=first.says or second.says)
        if made.says:
            return made
        try:
            x, y = cones.middle_pulley(
                self.apart_mm,
                (self.motor_belt_mm, first.driver_mm, first.driven_mm),
                (self.cone_belt_mm, second.driven_mm, second.driver_mm),
            )
        except ValueError as error:
            return replace(made, says=str(error))
        return replace(made, middle_x_mm=x, middle_y_mm=y)

    def served(self, motor_rpm: float) -> list[Step]:
        """The speeds that can be had; EntryError where there are none."""
        every = self.every(motor_rpm)
        found = [s for s in every if not s.says]
        if found:
            return found
        if not every:
            raise EntryError(
                [
                    problem(
                        f"end.{field}",
                        "has no pulleys",
                        value=0,
                        limit=1,
                        remedy="Enter a driver and a driven pulley for each step, or have the cones solved "
                        "from the speeds wanted.",
                    )
                    for field in ("motor_pairs", "cone_pairs")
                    if not getattr(self, field)
                ]
            )
        raise EntryError([self._unserved(every[0])])

    def _unserved(self, step: Step) -> Problem:
        if step.first.says or step.second.says:
            field = "motor_belt_mm" if step.first.says else "cone_belt_mm"
            return problem(
                f"end.{field}",
                f"cannot serve any step: {step.says}",
                value=getattr(self, field),
                limit=f"least pulley {said(vbelt.SECTIONS[self.section].least_mm, 'mm')}",
                unit="mm",
                remedy="A longer belt or a shorter centre distance makes all pulleys larger; a smaller range "
                "of speeds brings them together.",
            )
        return problem(
            "end.apart_mm",
            f"leaves the middle pulley no place: {step.says}",
            value=self.apart_mm,
            unit="mm",
            remedy="Bring motor and spindle to where both belts reach, or take longer belts.",
        )

    def check(self, ctx: Context) -> None:
        ctx.stop(
            not self.drawn and self.high_rpm <= self.low_rpm,
            lambda: problem(
                "end.high_rpm",
                "is not above the lowest speed",
                value=self.high_rpm,
                limit=self.low_rpm,
                unit="rpm",
                remedy="Give the range from slow to fast.",
            ),
        )

    IDLE: ClassVar[tuple[str, ...]] = (
        "aim.travel_mm",
        "aim.resolution_mm",
        "aim.error_mm",
        "aim.slope_deg",
        "aim.hold_n",
        "guide.",
        "moving.",
        "stand.",
    )
    AIMS: ClassVar[dict[str, str]] = {
        "aim.speed_mm_s": "end.high_rpm",
        "aim.push_speed_mm_s": "end.high_rpm",
        "aim.acceleration_mm_s2": "end.spin_up_s",
    }

    def aimed(self, design: A, case: str) -> A:
        """Its own speed at the rim, the time to come up to it, and what the work asks there."""
        served, step = self.served(motor_rpm(design)), self.step_at(design, case)
        rim = step.rpm * math.pi / 30 * self.work_mm
        aim = design.aim.model_copy(
            update={
                "speed_mm_s": rim,
                "push_speed_mm_s": rim,
                "push_n": self.asked_nm(step, served, design.aim.push_n) * 1000 / self.work_mm,
                "acceleration_mm_s2": self.speeds_up(step, design.aim.acceleration_mm_s2),
            }
        )
        return design.model_copy(update={"aim": aim})

    def speeds_up(self, step: Step, aimed_mm_s2: float) -> float:
        """Acceleration at the rim, mm/s²."""
        return step.rpm * math.pi / 30 * self.work_mm / self.spin_up_s if self.spin_up_s else aimed_mm_s2

    def cases(self, design: Axis) -> tuple[str, ...]:
        """Every speed is judged on its own."""
        return tuple(s.name for s in self.served(motor_rpm(design)))

    def step_at(self, design: Axis, case: str) -> Step:
        """The speed of a case."""
        found = self.served(motor_rpm(design))
        return next((s for s in found if s.name == case), found[-1])

    def step_of(self, ctx: Context) -> Step:
        """The speed that is worked out."""
        return self.step_at(ctx.design, ctx.case)

    def asked_nm(self, step: Step, served: list[Step], rim_n: float) -> float:
        """Torque that the work asks of the spindle at a speed, N·m: each line counts for the speed nearest to
        it; where none does, that of the force at the rim.
        """
        found = [
            cut.torque_nm
            for cut in self.cuts
            if min(served, key=lambda s: abs(math.log(cut.rpm / s.rpm))).name == step.name
        ]
        return max(found, default=rim_n * self.work_mm / 1000)

    def slowest(self, ctx: Context) -> Step:
        """The lowest speed that can be had."""
        return self.served(motor_rpm(ctx.design))[0]

    def grooved(self, ctx: Context) -> tuple[tuple[str, str, Path], tuple[str, str, Path]]:
        """Both belts at the lowest speed, where the work begins: name, field of the length, and path."""
        now = self.slowest(ctx)
        x, y = now.middle_x_mm, now.middle_y_mm
        first = belt_path(
            (
                Round("motor", 0, 0, now.first.driver_mm / 2, 1, "end.apart_mm"),
                Round("middle", x, y, now.first.driven_mm / 2, 1, "end.motor_centre_mm"),
            )
        )
        second = belt_path(
            (
                Round("middle", x, y, now.second.driver_mm / 2, 1, "end.cone_centre_mm"),
                Round("spindle", self.apart_mm, 0, now.second.driven_mm / 2, 1, "end.apart_mm"),
            )
        )
        return (f"V-belt {self.section}, motor to middle", "end.motor_belt_mm", first), (
            f"V-belt {self.section}, cone",
            "end.cone_belt_mm",
            second,
        )

    def lines(self, ctx: Context) -> list[tuple[str, str, float | None, float]]:
        """Name, field and height of each groove, and the shortest span to a neighbour."""
        first, second = (path.spans[0].length_mm for _, _, path in self.grooved(ctx))
        return [
            ("motor", "end.motor_line_mm", self.motor_line_mm, first),
            ("middle", "end.middle_line_mm", self.middle_line_mm, min(first, second)),
            ("spindle", "end.spindle_line_mm", self.spindle_line_mm, second),
        ]
