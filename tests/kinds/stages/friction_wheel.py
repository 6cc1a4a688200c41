"""A stage that only tests know: two wheels pressed together."""

from __future__ import annotations

from typing import Literal

from crisp_cadence.core.account.context import Context
from crisp_cadence.core.account.found import OutputShaft
from crisp_cadence.core.account.report import BillLine, WorkStep
from crisp_cadence.core.fields.part import SHAFTS, num
from crisp_cadence.core.parts.joining import countershaft, joined, own_key
from crisp_cadence.core.parts.stages.contract import Stage, Transmission, bought


class FrictionWheel(Stage):
    """Slower by the ratio of two diameters."""

    kind: Literal["friction_wheel"] = "friction_wheel"
    small_mm: float = num("Small wheel", "length", "mm", 2, 500, 20.0)
    large_mm: float = num("Large wheel", "length", "mm", 2, 500, 60.0)
    stiffness_nm_rad: float = num("Torsional stiffness", "torsional stiffness", "N·m/rad", 1, 1e8, 200.0)
    shaft_mm: float = num("Shaft after it", "length", "mm", 1, 100, 8.0, sizes=SHAFTS)

    def transmit(self, at: str, ctx: Context) -> Transmission:
        g = ctx.given
        ratio = ctx.book.put(
            f"{at}.ratio_made",
            "Ratio of the wheels",
            self.large_mm / self.small_mm,
            ": 1",
            equation="D/d",
            source="geometry",
            large=g(f"{at}.large_mm"),
            small=g(f"{at}.small_mm"),
        )
        return Transmission(ratio, 0.95, 10.0, g(f"{at}.stiffness_nm_rad"), 0.0)

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        return OutputShaft(at, ctx.given(f"{at}.shaft_mm"), "round", ctx.given(f"{at}.shaft_mm"))

    def main_number(self) -> tuple[str, str]:
        return f"{self.large_mm / self.small_mm:g} : 1", "large_mm"

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        return [bought(self, "Friction wheels", f"⌀ {self.small_mm:g} and {self.large_mm:g} mm", at)]

    def work(self, at: str, ctx: Context) -> list[WorkStep]:
        press = joined(at, ctx, own_key("press", at, ctx), "Press the friction wheels together.")
        return [*countershaft(at, ctx), press]
