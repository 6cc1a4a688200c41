"""A closed toothed belt between two shafts: a cheap reduction, and one belt more to guard and to tension."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import OutputShaft, Pulled, Seat
from ...account.report import BillLine, Caution, CutLine, WorkStep
from ...checks import belt_data, holding, running_true, tensioners
from ...fields.belts import Pulley
from ...formulas import belt, dynamics
from ...geometry.route import Laid, roller_handles, wheels_of
from ...geometry.scene import Handle, Mark, Scene, Spot, strand_of
from ...ledger.amounts import said
from ...ledger.formula import Real
from ...ledger.quantity import Quantity
from ...ledger.record import record
from ..work_steps import EYES
from .closed_path import PULLEYS, ClosedPath
from .contract import Transmission, bought, own_shaft


@record
class Loaded:
    """A closed belt under its load, N: pull, tension to set, and what pulls on the driver's shaft."""

    pull: Quantity
    tension: Quantity
    shaft_load: Quantity


def taut(pull_n: Real, slack_keep: Real) -> Real:
    """Pretension at which a pull leaves its share on the slack span of a closed belt, N."""
    return pull_n * (0.5 + slack_keep)


class ClosedBelt(ClosedPath):
    """Two toothed pulleys and a stock belt of whole teeth; the centre distance follows from them."""

    FIRST = ("belt_teeth", "wanted_mm")

    kind: Literal["closed_belt"] = "closed_belt"
    soft_field: ClassVar[str] = "belt.width_mm"

    def taut(self, at: str, ctx: Context) -> list[Laid]:
        tension = self.loaded(at, ctx).tension.value
        return [replace(x, tension_n=tension) for x in self.laid(at, ctx)]

    def transmit(self, at: str, ctx: Context) -> Transmission:
        g, fitted = ctx.given, self.fitted(at, ctx)
        ratio = fitted.ratio
        stiffness = ctx.calc(
            f"{at}.torsion",
            "Torsional stiffness of the belt stage at its output",
            belt.closed_belt_stiffness,
            ea_n=fitted.ea,
            radius_mm=fitted.radius["driven"],
            span_mm=fitted.span,
        )
        j = {
            n: ctx.calc(
                f"{at}.{n}.inertia",
                f"Inertia of the {n} pulley",
                dynamics.disc_inertia,
                diameter_mm=fitted.diameter[n],
                width_mm=g(f"{at}.{n}.face_mm"),
                density_g_cm3=g(f"{at}.{n}.density_g_cm3"),
            )
            for n in PULLEYS
        }
        inertia = ctx.book.put(
            f"{at}.inertia",
            "Inertia of the belt stage at its input",
            lambda: j["driver"].n + j["driven"].n / ratio.n**2,
            "g·cm²",
            equation="J1 + J2/i²",
            source="equal kinetic energy",
            j1=j["driver"],
            j2=j["driven"],
            i=ratio,
        )
        return Transmission(ratio, g(f"{at}.efficiency"), inertia, stiffness, 0.0)

    def rate(self, at: str, ctx: Context, torque_in: Quantity, speed_in: Quantity) -> None:
        self.loaded(at, ctx)

    def carried(self, at: str, ctx: Context) -> Quantity:
        """The pull that its teeth carry."""
        return ctx.once(self._carried, at)

    def _carried(self, at: str, ctx: Context) -> Quantity:
        return ctx.calc(
            f"{at}.pull_capacity",
            "Pull that the closed belt's teeth carry",
            belt.effective_pull_capacity,
            working_tension_n=belt_data.working_tension(ctx, self._profile(at, ctx), f"{at}.belt"),
            width_mm=ctx.given(f"{at}.belt.width_mm"),
            teeth_meshed=self.fitted(at, ctx).mesh,
        )

    def loaded(self, at: str, ctx: Context) -> Loaded:
        """The belt under the largest torque at its input."""
        return ctx.once(self._loaded, at)

    def _loaded(self, at: str, ctx: Context) -> Loaded:
        g, put, profile, a = ctx.given, ctx.book.put, self._profile(at, ctx), "assumptions."
        fitted, torque_in = self.fitted(at, ctx), ctx.drive.worst_in[at]
        radius = fitted.radius["driver"]
        pull = put(
            f"{at}.pull",
            "Largest pull in the closed belt",
            lambda: torque_in.n / radius.n * 1000,
            "N",
            equation="F = T/r",
            source="statics",
            torque=torque_in,
            radius=radius,
        )
        capacity = self.carried(at, ctx)
        rung = ctx.rung
        rung(
            f"{at}.pull",
            "Teeth of the closed belt",
            pull,
            capacity,
            g(a + "margin_belt"),
            unit="N",
            section="tension",
            path=f"{at}.belt.width_mm",
            says="A wider belt, a larger profile, or a larger driver pulley.",
        )
        rung(
            f"{at}.mesh",
            "Teeth in mesh, closed belt",
            g(a + "teeth_full"),
            fitted.mesh,
            1.0,
            unit="teeth",
            section="running",
            path=f"{at}.driver.teeth",
            says="More teeth on the driver, or a longer belt.",
        )

        def in_one_case(key: str, label: str) -> Quantity:
            return put(
                key,
                label,
                lambda: taut(pull.n, g(a + "slack_keep").n),
                "N",
                equation="T_i = F·(½ + s)",
                source_kind="common practice",
                source="spans share the load equally; slack span kept above s·F (from memory)",
                pull=pull,
                keep=g(a + "slack_keep"),
            )

        needed, here = ctx.over_cases(
            "most", f"{at}.tension_needed", "Pretension that keeps both spans taut", in_one_case
        )
        chosen = g(f"{at}.belt.tension_n")
        tension = put(
            f"{at}.tension",
            "Tension of the closed belt",
            lambda: chosen.n if chosen.value is not None else tensioners.TARGET_OVER * needed.n,
            "N",
            equation="as chosen, else 1.1·T_needed",
            source_kind="common practice",
            source="a tenth over what is needed (from memory)",
            needed=needed,
            also={"chosen": chosen} if chosen.value is not None else None,
        )
        rung(
            f"{at}.taut",
            "Closed belt stays taut",
            here,
            tension,
            1.0,
            unit="N",
            section="tension",
            path=f"{at}.belt.tension_n",
            says="Set more tension.",
        )
        cord = ctx.calc(
            f"{at}.cord_capacity",
            "Tension that the closed belt's cords bear",
            belt.cord_capacity,
            ea_n=fitted.ea,
            strain_limit_percent=g(a + "strain_limit"),
        )
        peak = put(
            f"{at}.peak",
            "Largest tension in the closed belt",
            lambda: tension.n + pull.n / 2,
            "N",
            equation="T_i + F/2",
            source="statics of two equal springs",
            tension=tension,
            pull=pull,
        )
        rung(
            f"{at}.cord",
            "Cords of the closed belt",
            peak,
            cord,
            1.0,
            unit="N",
            section="tension",
            path=f"{at}.belt.width_mm",
            says="A wider belt, steel cord, or a larger driver pulley.",
        )
        running_true.run_true(ctx, self.laid(at, ctx)[0], f"{at}.", peak, ", closed belt")
        load = ctx.calc(
            f"{at}.driver.load",
            "Load on the driver pulley's shaft",
            belt.shaft_load,
            tension_a_n=peak,
            tension_b_n=tension,
            wrap_rad=fitted.wrap,
        )
        holding.mount_checks(ctx, f"{at}.motor_mount", f"{at}.motor_mount", self.motor_mount, load)
        words = "Mass of one metre of the closed belt"
        mass = belt_data.line_mass(ctx, profile, f"{at}.belt", f"{at}.line_mass", words)
        ctx.calc(
            f"{at}.pluck",
            "Pitch of the closed belt's span",
            belt.pluck_frequency,
            tension_n=tension,
            line_mass_g_m=mass,
            span_mm=fitted.span,
        )
        return Loaded(pull, tension, load)

    def on_shafts(self, at: str) -> list[tuple[str, Pulley, bool]]:
        return [(f"{at}.driver", self.driver, False), (f"{at}.driven", self.driven, True)]

    def seats(self, at: str, ctx: Context, before: OutputShaft) -> list[Seat]:
        profile, pull = self._profile(at, ctx), self.loaded(at, ctx).pull.value
        torque = {
            n: None if pull is None or r.value is None else pull * r.value / 1000
            for n, r in self.fitted(at, ctx).radius.items()
        }
        return [
            Seat(
                f"{at}.driver",
                "Driver pulley",
                self.driver,
                profile,
                before.diameter.value,
                before.form,
                torque["driver"],
            ),
            Seat(
                f"{at}.driven",
                "Driven pulley",
                self.driven,
                profile,
                self.shaft_mm,
                self.shaft_form,
                torque["driven"],
            ),
        ]

    def pulled(self, at: str, ctx: Context) -> list[Pulled]:
        load = self.loaded(at, ctx).shaft_load.value
        return [Pulled(f"{at}.motor_mount", "motor plate of the closed belt", self.motor_mount, load)]

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        return own_shaft(at, ctx, self.shaft_form)

    def main_number(self) -> tuple[str, str]:
        return f"{self.driver.teeth} : {self.driven.teeth} teeth", "driven.teeth"

    def bill(self, at: str) -> list[BillLine]:
        name = self.belt.profile
        return [
            bought(
                self.belt,
                "Closed belt",
                f"{name}, {self.belt_teeth} teeth, {self.belt.width_mm:g} mm",
                f"{at}.belt",
            ),
            bought(
                self.driver,
                "Driver pulley",
                f"{name}, {self.driver.teeth} teeth, bore {self.driver.bore_mm:g} mm",
                f"{at}.driver",
            ),
            bought(
                self.driven,
                "Driven pulley",
                f"{name}, {self.driven.teeth} teeth, bore {self.driven.bore_mm:g} mm",
                f"{at}.driven",
            ),
            *(
                bought(roller, "Roller", roller.kind, f"{at}.rollers.{i}")
                for i, roller in enumerate(self.rollers)
            ),
        ]

    def cut(self, at: str, ctx: Context) -> list[CutLine]:
        fitted = self.fitted(at, ctx)
        return [
            CutLine(
                f"Closed belt, {self._profile(at, ctx).name}, {self.belt.width_mm:g} mm wide",
                fitted.length.value or 0,
                self.belt_teeth,
                f"bought closed; taut at a centre distance of {said(fitted.centre.value or 0, 'mm', '.2f')}",
            )
        ]

    def scene(self, at: str, ctx: Context) -> Scene:
        fitted, profile, laid = self.fitted(at, ctx), self._profile(at, ctx), self.laid(at, ctx)[0]
        r1, r2 = (fitted.radius[n].value or 0 for n in PULLEYS)
        c, lam = fitted.centre.value or 0, ctx.lam_into(at)
        stretch = 2 * math.cos(math.asin(min(abs(r1 - r2) / c, 1.0)))
        handles = {
            f"{at}.driven": (
                Handle(f"{at}.belt_teeth", self.belt_teeth, stretch / profile.pitch_mm, 0.0, whole=True),
            ),
            **roller_handles(self.rollers, f"{at}.rollers", laid.near),
        }
        return Scene(
            "Closed belt stage",
            "",
            4 * math.pi / lam if lam else 0.0,
            wheels_of(laid, ctx.design, lam * r1, handles),
            (strand_of(laid.near, "toothed", lam * r1, profile.pitch_mm),),
            (),
            (
                Mark("driver", Spot(0, 0), level=1),
                Mark("driven", Spot(c, 0), level=1),
                Mark("centre distance", Spot(0, 0), Spot(c, 0), c, level=-1),
            ),
        )

    def work(self, at: str) -> list[WorkStep]:
        key = at.replace(".", "_")
        return [
            WorkStep(
                f"{key}_on",
                "Fit both pulleys of the closed belt, line them up with a straight edge, lay the "
                "belt on with the motor pushed in.",
                "aligned",
                after=("motor_on",),
                needs=(f"{at}.belt", f"{at}.driver", f"{at}.driven"),
                check="A straight edge touches both pulleys alike.",
            ),
            WorkStep(
                f"{key}_tension",
                "Pull the motor out along its slot until the closed belt has its tension; tighten its bolts.",
                "tightened",
                after=(f"{key}_on",),
                check="The pitch of its span is in Tune.",
                caution=EYES,
            ),
            WorkStep(
                f"{key}_guard",
                "Guard the closed belt.",
                "tightened",
                after=("look_again", f"{key}_tension"),
                covers=(f"{key}_tension", "lock_screws"),
            ),
        ]

    def cautions(self, at: str, ctx: Context) -> list[Caution]:
        return [
            Caution(
                "drive",
                "A closed belt draws fingers in at both pulleys: guard it, and lock the supply "
                "before you touch it.",
            )
        ]
