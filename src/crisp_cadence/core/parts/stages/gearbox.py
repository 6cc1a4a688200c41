"""A gearbox between motor and load."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

import numpy as np

from ...account.context import Context
from ...account.found import OutputShaft, Trial
from ...account.report import BillLine, WorkStep
from ...checks import trials
from ...fields.frames import FRAMES, Frame
from ...fields.part import SHAFTS, choice, num
from ...formulas import prices
from ...ledger.formula import Real
from ...ledger.many import row
from ...ledger.quantity import Given, Quantity
from ..joining import held, own_key, set_later, shaft_into, shaft_out
from .contract import ShaftForm, Stage, Transmission, bought, own_shaft

SQUARES: dict[str, float | None] = {name: frame.bolts_mm for name, frame in FRAMES.items()}
BOLTS_OFF = Given("practice.bolts_off", 0.5, "mm", "common practice", "what clearance holes take up")
GUESSED_NM = 10.0  # that a gearbox bears, to price it by where nobody said


class Gearbox(Stage):
    """Slower and stronger; adds inertia, backlash and a spring of its own."""

    FIRST = ("ratio", "torque_limit_nm", "backlash_arcmin")

    bolted: ClassVar[str] = "bolts_mm"
    LOOKED_UP: ClassVar[tuple[str, ...]] = ("fits", *Stage.LOOKED_UP)
    carries: ClassVar[bool] = True
    kind: Literal["gearbox"] = "gearbox"
    ratio: float = num(
        "Ratio",
        "number",
        ": 1",
        1,
        1000,
        5.0,
        "Turns of the motor for one turn of the pulley.",
        sizes=(3, 4, 5, 10, 20),
    )
    efficiency: float = num(
        "Efficiency", "number", "", 0.2, 1, 0.9, "On its sheet; if you don't know, 0.9 a stage of gears."
    )
    inertia_gcm2: float = num(
        "Inertia at the input",
        "inertia",
        "g·cm²",
        0,
        1e6,
        20.0,
        "On its sheet; if you don't know, keep it: it counts little beside the motor's.",
    )
    stiffness_nm_rad: float = num(
        "Torsional stiffness at the output",
        "torsional stiffness",
        "N·m/rad",
        1,
        1e8,
        1500.0,
        "On its sheet; or block the motor, hang a weight on an arm and read how far it turns.",
    )
    backlash_arcmin: float = num(
        "Backlash at the output",
        "fine angle",
        "arcmin",
        0,
        600,
        15.0,
        "On its sheet; or block the motor and turn the output by hand: 1° is 60 arcmin.",
    )
    torque_limit_nm: float | None = num(
        "Torque limit at the output",
        "torque",
        "N·m",
        0.01,
        1e5,
        None,
        "On its sheet: what it bears for good, not its peak.",
    )
    speed_limit_rpm: float | None = num(
        "Speed limit at the input",
        "turning speed",
        "rpm",
        1,
        1e5,
        None,
        "On its sheet; if you don't know, 3000.",
    )
    shaft_mm: float = num("Output shaft", "length", "mm", 1, 100, 8.0, sizes=SHAFTS)
    shaft_form: ShaftForm = "round"
    radial_limit_n: float | None = num(
        "Radial limit of the shaft", "force", "N", 1, 1e5, None, "At mid shaft, from its sheet."
    )

    fits: Literal["any", "NEMA 11", "NEMA 14", "NEMA 17", "NEMA 23", "NEMA 24", "NEMA 34"] = choice(
        "Takes motors of frame", "any", "The bolt square of its input; any: not checked."
    )
    side_mm: float | None = num(
        "Side or diameter of its flange",
        "length",
        "mm",
        5,
        1000,
        None,
        "It stands on the plate, not the motor.",
    )
    bolts_mm: float | None = num(
        "Bolt circle of its flange", "length", "mm", 3, 1000, None, "Four bolts; measure corner to corner."
    )
    boss_mm: float | None = num("Boss of its flange", "length", "mm", 1, 1000, None)
    flange_screw_mm: float = num("Screws of its flange", "length", "mm", 1.5, 20, 3.0, sizes=(3, 4, 5, 6))

    def flange(self) -> Frame | None:
        if self.side_mm is None or self.bolts_mm is None or self.boss_mm is None:
            return None
        square = self.bolts_mm / math.sqrt(2)
        return Frame(
            self.side_mm, square, self.boss_mm, self.flange_screw_mm, self.radial_limit_n, self.shaft_mm
        )

    def rate(
        self, at: str, ctx: Context, torque_in: Quantity, speed_in: Quantity, before: OutputShaft
    ) -> None:
        """Whether the motor before it bolts to it."""
        frame = getattr(ctx.design.chain[0], "frame", None)
        if at != "chain.1" or frame is None:
            return

        def off() -> Real:
            own, motor = row(SQUARES, self.fits), row(SQUARES, frame)
            return 0.0 if own is None or motor is None else np.nan_to_num(abs(own - motor))

        apart = ctx.book.put(
            f"{at}.flange_off",
            "Bolt squares of motor and gearbox differ by",
            off,
            "mm",
            equation="|a − b|; none where one is not known",
            source_kind="standard",
            source="NEMA ICS 16, flange sizes (from memory)",
        )
        ctx.rung(
            f"{at}.flange",
            "Motor bolts to the gearbox",
            apart,
            BOLTS_OFF,
            1.0,
            unit="mm",
            section="stages",
            path=f"{at}.fits",
            says="Take a motor of the gearbox's frame, or a gearbox for the motor's: without an adapter they "
            "do not bolt together.",
            lower_is_better=True,
        )

    def transmit(self, at: str, ctx: Context) -> Transmission:
        g = ctx.given
        return Transmission(
            g(f"{at}.ratio"),
            g(f"{at}.efficiency"),
            g(f"{at}.inertia_gcm2"),
            g(f"{at}.stiffness_nm_rad"),
            g(f"{at}.backlash_arcmin"),
            torque_limit_in=None
            if self.torque_limit_nm is None
            else self.torque_limit_nm / self.ratio / self.efficiency,
            speed_limit_in_rpm=None if self.speed_limit_rpm is None else g(f"{at}.speed_limit_rpm"),
        )

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        return own_shaft(at, ctx, self.shaft_form)

    def main_number(self) -> tuple[str, str]:
        return f"{self.ratio:g} : 1", "ratio"

    def trials(self, at: str, ctx: Context) -> list[Trial]:
        how = (
            "Hold the motor's shaft fast, rock the output with a lever against a dial gauge: travel of the "
            "tip over the lever's length. 1° is 60 arcmin."
        )
        words, meant = "Play of the gearbox", self.backlash_arcmin
        return [trials.play(at, words, how, "backlash_arcmin", meant, "fine angle", "arcmin")]

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        bears, play = self.torque_limit_nm or GUESSED_NM, self.backlash_arcmin
        says = f"{self.ratio:g}:1, {self.shaft_mm:g} mm shaft"
        return [bought(self, "Gearbox", says, at, typical=prices.gearbox_price(bears, play))]

    def work(self, at: str, ctx: Context) -> list[WorkStep]:
        if not ctx.design.chain[int(at.rpartition(".")[2]) - 1].carries:
            return self._apart(at, ctx)
        return [
            WorkStep(
                own_key("gearbox", at, ctx),
                "Join motor and gearbox on the bench: motor shaft clean and dry, collar square to "
                "the screw, flange bolts crosswise.",
                "tightened",
                after=("parts",),
                gives=("motor ready",),
                fastens=("flange",),
                needs=("chain.0", at),
                check="Turns by hand without a tight spot.",
                tools=("hex keys", "degreaser"),
            ),
            WorkStep(
                own_key("gearbox_collar", at, ctx),
                "Tighten the collar on the motor shaft through the access hole, then close the hole.",
                "tightened",
                after=(own_key("gearbox", at, ctx),),
                gives=("motor ready",),
                fastens=("collar",),
                tools=("hex keys",),
                side="through the access hole in the flange",
                access="Turn the shaft until the collar's screw faces the hole.",
            ),
        ]

    def _apart(self, at: str, ctx: Context) -> list[WorkStep]:
        """A gearbox that a belt or a coupler drives stands on a mount of its own."""
        before = shaft_into(at, ctx)
        last = shaft_out(at, ctx) == "shaft.end"
        on = own_key("gearbox", at, ctx)
        steps = [
            WorkStep(
                on,
                "Bolt the gearbox to its mount, its input shaft towards what drives it; leave the bolts "
                "loose.",
                "loose",
                after=("parts", "shaft.end") if last else ("parts",),
                gives=(before,),
                fastens=("gearbox",),
                needs=(at,),
                check="Turns by hand without a tight spot.",
                tools=("hex keys",),
            )
        ]
        if not set_later(at, ctx):
            steps.append(
                WorkStep(
                    f"{on}_tight",
                    "Tighten the gearbox's bolts crosswise.",
                    "tightened",
                    after=(on,),
                    gives=(held(before), "joined"),
                    fastens=("gearbox",),
                    tools=("hex keys",),
                )
            )
        return steps
