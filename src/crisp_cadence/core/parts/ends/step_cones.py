"""Stepped cones from motor over a middle pulley to a spindle: every speed, both belts taut."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

from ...account.context import Context
from ...fields.part import Bought, num
from ...formulas import vbelt
from ...geometry import cones
from ...geometry.path import Path, Round, belt_path
from ...ledger.amounts import said
from ...ledger.errors import EntryError, problem
from ...ledger.record import record
from ..stages.contract import Motor
from .contract import End


@record
class Step:
    """One spindle speed: its two pulley pairs, where the middle pulley stands, and what its belts carry."""

    rpm: float
    pair: int
    cone: int
    middle_x_mm: float
    middle_y_mm: float


class StepCones(End):
    """Two V-belts in a row: pairs from motor to middle pulley, a cone from there to the spindle."""

    SINGLY: ClassVar[bool] = True  # its cones are searched for one after the other
    cones: Bought = Bought()
    belts: Bought = Bought()
    section: Literal["Z", "A"] = "Z"
    low_rpm: float = num("Lowest speed wanted", "turning speed", "rpm", 1, 50_000, 60.0)
    high_rpm: float = num("Highest speed wanted", "turning speed", "rpm", 2, 50_000, 240.0)
    steps: int = num(
        "Steps of the cone",
        "count",
        "",
        1,
        6,
        2,
        "With the low and the high pair there are twice as many speeds.",
    )
    motor_belt_mm: float = num(
        "Belt from motor to middle pulley", "length", "mm", 100, 10_000, 1000.0, "Pitch length."
    )
    cone_belt_mm: float = num(
        "Belt from middle pulley to spindle", "length", "mm", 100, 10_000, 1000.0, "Pitch length."
    )
    motor_centre_mm: float = num("Motor to middle pulley", "length", "mm", 40, 5000, 300.0)
    cone_centre_mm: float = num("Middle pulley to spindle", "length", "mm", 40, 5000, 300.0)
    apart_mm: float = num("Motor shaft to spindle", "length", "mm", 20, 10_000, 420.0)
    round_mm: float = num("Diameters turned to the nearest", "length", "mm", 0.01, 5, 0.5)
    middle_travel_mm: float = num(
        "Travel of the middle pulley", "length", "mm", 0, 500, 30.0, "What its slot and screw allow."
    )
    friction: float = num("Friction of belt on pulley", "number", "", 0.05, 1, 0.3)
    cap: float = num(
        "Cap on the tension ratio", "number", "", 1.5, 20, 5.0, "Near 5 for a belt that lasts (from memory)."
    )
    slip_percent: float = num("Slip of each belt", "share", "%", 0, 10, 1.5)
    work_mm: float = num("Radius at which the work is touched", "length", "mm", 1, 2000, 120.0)
    spin_gcm2: float = num("Inertia of spindle and work", "inertia", "g·cm²", 1, 1e9, 200_000.0)
    drag_n: float = num("Drag at that radius", "force", "N", 0, 1000, 1.0)
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

    def _motor_rpm(self, ctx: Context) -> float:
        motor: Motor = ctx.design.chain[0]
        return motor.own_rpm() or 1000.0

    def ratios(self, ctx: Context) -> tuple[float, list[float], list[float]]:
        """Ratio between neighbouring speeds; ratios of the two pairs; ratios of the cone (driven over
        driver).
        """
        count = 2 * self.steps
        step = (self.high_rpm / self.low_rpm) ** (1 / (count - 1))
        slip = (1 - self.slip_percent / 100) ** 2
        # Both belts share the reduction alike, so that neither needs a very small or a very large pulley.
        each = math.sqrt(self._motor_rpm(ctx) * slip / math.sqrt(self.low_rpm * self.high_rpm))
        cone = [each * step ** ((self.steps - 1) / 2 - j) for j in range(self.steps)]
        return step, [each * step ** (self.steps / 2), each * step ** (-self.steps / 2)], cone

    def diameters(self, ctx: Context) -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
        """Driver and driven diameters of the pairs and of the cone, turned to the nearest; EntryError where a
        step cannot be made.
        """
        return ctx.once(self._diameters)

    def _diameters(self, ctx: Context) -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
        _, pairs, cone = self.ratios(ctx)
        section = vbelt.SECTIONS[self.section]
        out = []
        for ratios, length, centre, field in (
            (pairs, self.motor_belt_mm, self.motor_centre_mm, "end.motor_belt_mm"),
            (cone, self.cone_belt_mm, self.cone_centre_mm, "end.cone_belt_mm"),
        ):
            try:
                solved = cones.cone_steps(ratios, length, centre, section.least_mm)
            except ValueError as error:
                raise EntryError(
                    [
                        problem(
                            field,
                            f"cannot serve every step: {error}",
                            value=length,
                            limit=f"least pulley {said(section.least_mm, 'mm')}",
                            unit="mm",
                            remedy="A longer belt or a shorter centre distance makes all pulleys "
                            "larger; a smaller range of speeds brings them together.",
                        )
                    ]
                ) from None
            out.append(
                [
                    (round(a / self.round_mm) * self.round_mm, round(b / self.round_mm) * self.round_mm)
                    for a, b in solved
                ]
            )
        return out[0], out[1]

    def solved(self, ctx: Context) -> list[Step]:
        """Every speed with the place of the middle pulley at which both belts are taut."""
        return ctx.once(self._solved)

    def _solved(self, ctx: Context) -> list[Step]:
        pairs, cone = self.diameters(ctx)
        slip = (1 - self.slip_percent / 100) ** 2
        out = []
        for i, (motor, middle) in enumerate(pairs):
            for j, (driver, driven) in enumerate(cone):
                try:
                    x, y = cones.middle_pulley(
                        self.apart_mm,
                        (self.motor_belt_mm, motor, middle),
                        (self.cone_belt_mm, driven, driver),
                    )
                except ValueError as error:
                    raise EntryError(
                        [
                            problem(
                                "end.apart_mm",
                                f"leaves the middle pulley no place: {error}",
                                value=self.apart_mm,
                                unit="mm",
                                remedy="Bring motor and spindle to where both belts reach, or take "
                                "longer belts.",
                            )
                        ]
                    ) from None
                out.append(Step(self._motor_rpm(ctx) * slip * motor / middle * driver / driven, i, j, x, y))
        return sorted(out, key=lambda s: s.rpm)

    def check(self, ctx: Context) -> None:
        ctx.stop(
            self.high_rpm <= self.low_rpm,
            lambda: problem(
                "end.high_rpm",
                "is not above the lowest speed",
                value=self.high_rpm,
                limit=self.low_rpm,
                unit="rpm",
                remedy="Give the range from slow to fast.",
            ),
        )

    def _now(self, ctx: Context) -> Step:
        """The fastest step: the same force at the rim asks most of the motor there."""
        return self.solved(ctx)[-1]

    def grooved(self, ctx: Context) -> tuple[tuple[str, str, Path], tuple[str, str, Path]]:
        """Both belts at the fastest step: name, the field of its length, and its path."""
        now, (pairs, cone) = self._now(ctx), self.diameters(ctx)
        (motor, middle), (driver, driven) = pairs[now.pair], cone[now.cone]
        x, y = now.middle_x_mm, now.middle_y_mm
        first = belt_path(
            (
                Round("motor", 0, 0, motor / 2, 1, "end.apart_mm"),
                Round("middle", x, y, middle / 2, 1, "end.motor_centre_mm"),
            )
        )
        second = belt_path(
            (
                Round("middle", x, y, driver / 2, 1, "end.cone_centre_mm"),
                Round("spindle", self.apart_mm, 0, driven / 2, 1, "end.apart_mm"),
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
