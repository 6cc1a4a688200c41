"""A closed toothed belt between two shafts: a cheap reduction, and one belt more to guard and to tension."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import ClassVar, Literal

from pydantic import Field

from ...account.context import Context
from ...account.found import OutputShaft
from ...account.report import BillLine, Caution, CutLine, WorkStep
from ...checks import belt_data, holding, running_true, tensioners
from ...checks.pulleys import check_pulley
from ...fields.belts import Belt, Mount, Pulley, Roller
from ...fields.part import SHAFTS, num, piece
from ...fields.profile import Profile
from ...formulas import belt, dynamics
from ...geometry.path import Path, Round, belt_path, closed_belt_centre, place_for_length
from ...geometry.route import Laid, check_rollers, roller_handles, rollers_at, wheels_of
from ...geometry.scene import Handle, Mark, Scene, Spot, strand_of
from ...ledger.errors import EntryError, Problem, problem
from ...ledger.quantity import Quantity
from ...ledger.record import record
from .contract import ShaftForm, Stage, Transmission, bought, own_shaft


def _both_runs(path: Path, driven: str) -> tuple[float, float]:
    """Belt from driver to driven and back, with what lies on the rollers between."""
    k = next(i for i, r in enumerate(path.rounds) if r.part == driven)
    arcs = [r.radius_mm * w for r, w in zip(path.rounds, path.wraps, strict=True)]
    out = math.fsum(s.length_mm for s in path.spans[:k]) + math.fsum(arcs[1:k])
    return out, math.fsum(s.length_mm for s in path.spans[k:]) + math.fsum(arcs[k + 1 :])


PULLEYS = ("driver", "driven")


@record
class Fitted:
    """A closed belt on its pulleys: diameters and radii by pulley in mm, ratio, pitch length, centre
    distance, free span, wrap and teeth in mesh on the driver, stiffness EA, and its path.
    """

    diameter: dict[str, Quantity]
    radius: dict[str, Quantity]
    ratio: Quantity
    length: Quantity
    centre: Quantity
    span: Quantity
    wrap: Quantity
    mesh: Quantity
    ea: Quantity
    path: Path


@record
class Loaded:
    """A closed belt under its load, N: pull, tension to set, and what pulls on the driver's shaft."""

    pull: Quantity
    tension: Quantity
    shaft_load: Quantity


class ClosedBelt(Stage):
    """Two toothed pulleys and a stock belt of whole teeth; the centre distance follows from them."""

    kind: Literal["closed_belt"] = "closed_belt"
    soft_field: ClassVar[str] = "belt.width_mm"
    belt: Belt = piece(Belt(), "belt")
    driver: Pulley = Pulley()
    driven: Pulley = Pulley(teeth=60, bore_mm=8.0, hub_mm=24.0)
    belt_teeth: int = num(
        "Teeth of the belt",
        "count",
        "",
        20,
        5000,
        140,
        "Closed belts come in whole teeth; the centre distance follows.",
    )
    wanted_mm: float | None = num(
        "Distance of the shafts wanted", "length", "mm", 5, 20_000, None, "What the machine leaves room for."
    )
    efficiency: float = num("Efficiency", "number", "", 0.5, 1, 0.96)
    adjust_mm: float = num(
        "Adjustment of the centre distance",
        "length",
        "mm",
        0,
        500,
        5.0,
        "Slot of the motor plate, from belt off to belt tight.",
    )
    rollers: list[Roller] = Field([], title="Further rollers", max_length=40)
    motor_mount: Mount = Mount()
    shaft_mm: float = num("Shaft after it", "length", "mm", 1, 200, 8.0, sizes=SHAFTS)
    shaft_form: ShaftForm = "flat"
    radial_limit_n: float | None = num(
        "Radial limit of the shaft after it", "force", "N", 1, 1e6, None, "By its own bearings."
    )

    def _profile(self, at: str, ctx: Context) -> Profile:
        return ctx.profile(self.belt.profile, f"{at}.belt.profile")

    def overhang(self, at: str) -> str | None:
        return f"{at}.driver.overhang_mm"

    def check(self, at: str, ctx: Context) -> list[Problem]:
        profile = self._profile(at, ctx)
        out = check_pulley(profile, self.driver, f"{at}.driver") + check_pulley(
            profile, self.driven, f"{at}.driven"
        )
        out += check_rollers(self.rollers, f"{at}.rollers", profile)
        r1, r2 = self._radii(profile)
        length = self.belt_teeth * profile.pitch_mm
        if self.rollers:
            if out or self.centre_for(at, profile, length) is not None:
                return out
            try:  # at the distance that the belt would have without the rollers, what is in the way?
                self.path_at(at, profile, max(float(closed_belt_centre(length, r1, r2)), r1 + r2 + 1))
            except EntryError as error:
                return error.problems
            return [
                problem(
                    f"{at}.belt_teeth",
                    "fits no distance of the two shafts with these rollers",
                    value=self.belt_teeth,
                    limit="a longer belt",
                    unit="teeth",
                    remedy="Take a longer belt, or press the rollers in less.",
                )
            ]
        if not math.isfinite(float(closed_belt_centre(length, r1, r2))):
            least = (
                math.ceil(
                    (
                        float(belt.open_belt_length(r1 + r2, r1, r2))
                        if r1 != r2
                        else 2 * (r1 + r2) + 2 * math.pi * r1
                    )
                    / profile.pitch_mm
                )
                + 2
            )
            out.append(
                problem(
                    f"{at}.belt_teeth",
                    "is too short: the two pulleys would collide",
                    value=self.belt_teeth,
                    limit=least,
                    unit="teeth",
                    remedy=f"Take a belt of at least {least} teeth, or smaller pulleys.",
                )
            )
        return out

    def _radii(self, profile: Profile) -> tuple[float, float]:
        return tuple(
            float(belt.pitch_diameter(p.teeth, profile.pitch_mm)) / 2 for p in (self.driver, self.driven)
        )  # type: ignore[return-value]

    def rounds(self, at: str, profile: Profile, centre_mm: float) -> tuple[Round, ...]:
        """The pulleys in belt order, the driver's axis at 0: driver, one run, driven, the other run."""
        r1, r2 = self._radii(profile)
        return (
            Round("driver", 0, 0, r1, 1, f"{at}.driver.teeth", f"{at}.driver"),
            *rollers_at(self.rollers, f"{at}.rollers", profile, 1, "after the pulley"),
            Round("driven", centre_mm, 0, r2, 1, f"{at}.driven.teeth", f"{at}.driven"),
            *rollers_at(self.rollers, f"{at}.rollers", profile, 1, "after the idler"),
            *rollers_at(self.rollers, f"{at}.rollers", profile, 1, "before the pulley"),
        )

    def path_at(self, at: str, profile: Profile, centre_mm: float) -> Path:
        """The belt's path with the shafts so far apart; EntryError where there is none."""
        return belt_path(self.rounds(at, profile, centre_mm))

    def centre_for(self, at: str, profile: Profile, length_mm: float) -> float | None:
        """Distance of the shafts at which a belt of this length is taut; None where there is none."""
        r1, r2 = self._radii(profile)
        if not self.rollers:
            found = float(closed_belt_centre(length_mm, r1, r2))
            return found if math.isfinite(found) else None
        return place_for_length(
            lambda c: self.path_at(at, profile, c).length_mm, length_mm, r1 + r2 + 1e-6, length_mm / 2
        )

    def laid(self, at: str, ctx: Context) -> list[Laid]:
        profile, path = self._profile(at, ctx), self.fitted(at, ctx).path
        name = f"Closed belt, {profile.name}, {self.belt.width_mm:g} mm wide"
        still = ((0.0, 0.0),) * len(path.rounds)
        return [Laid(at, name, profile, self.belt.width_mm, True, path, path, still)]

    def taut(self, at: str, ctx: Context) -> list[Laid]:
        tension = self.loaded(at, ctx).tension.value
        return [replace(x, tension_n=tension) for x in self.laid(at, ctx)]

    def fitted(self, at: str, ctx: Context) -> Fitted:
        """The belt on its pulleys, before any load."""
        return ctx.once(self._fitted, at)

    def _fitted(self, at: str, ctx: Context) -> Fitted:
        g, profile, put = ctx.given, self._profile(at, ctx), ctx.book.put
        pitch = ctx.datum(profile, "pitch_mm", profile.pitch_mm, "mm")
        teeth = {n: g(f"{at}.{n}.teeth") for n in PULLEYS}
        d = {
            n: ctx.calc(
                f"{at}.{n}.pitch_diameter",
                f"Pitch diameter of the {n} pulley",
                belt.pitch_diameter,
                teeth=t,
                pitch_mm=pitch,
            )
            for n, t in teeth.items()
        }
        r = {
            n: put(
                f"{at}.{n}.radius",
                f"Pitch radius of the {n} pulley",
                (q.value or 0) / 2,
                "mm",
                equation="d/2",
                source="geometry",
                d=q,
            )
            for n, q in d.items()
        }
        ratio = put(
            f"{at}.ratio",
            "Ratio of the belt stage",
            self.driven.teeth / self.driver.teeth,
            ": 1",
            equation="z2/z1",
            source="whole teeth",
            z1=teeth["driver"],
            z2=teeth["driven"],
        )
        length = put(
            f"{at}.length",
            "Pitch length of the closed belt",
            self.belt_teeth * profile.pitch_mm,
            "mm",
            equation="z·p",
            source="whole teeth",
            z=g(f"{at}.belt_teeth"),
            pitch=pitch,
        )
        if self.rollers:
            also = {
                f"{at}.rollers.{i}.{n}": g(f"{at}.rollers.{i}.{n}")
                for i in range(len(self.rollers))
                for n in ("x_mm", "y_mm")
            }
            centre = put(
                f"{at}.centre",
                "Centre distance",
                self.centre_for(at, profile, length.value or 0.0),
                "mm",
                equation="Σ spans + Σ r·wrap = z·p, solved for C",
                source="common tangents of circles",
                length=length,
                r1=r["driver"],
                r2=r["driven"],
                also=also,
            )
        else:
            centre = ctx.calc(
                f"{at}.centre",
                "Centre distance",
                closed_belt_centre,
                length_mm=length,
                radius_a_mm=r["driver"],
                radius_b_mm=r["driven"],
            )
        worked = self.path_at(at, profile, centre.value or 0.0)
        out, back = _both_runs(worked, f"{at}.driven")
        span = put(
            f"{at}.span",
            "Free span of the belt",
            2 / (1 / out + 1 / back),
            "mm",
            equation="2/(1/l1 + 1/l2), l = √(C² − (R − r)²) without rollers",
            source="common tangents; both runs as springs side by side",
            centre=centre,
        )
        wrap = put(
            f"{at}.wrap",
            "Wrap on the driver pulley",
            worked.wraps[0],
            "rad",
            equation="α from the belt path's tangents",
            source="common tangents",
            centre=centre,
        )
        mesh = ctx.calc(
            f"{at}.mesh",
            "Teeth in mesh on the driver pulley",
            belt.teeth_in_mesh,
            teeth=teeth["driver"],
            wrap_rad=wrap,
        )
        words = "Stiffness EA of the closed belt"
        ea = belt_data.stiffness(ctx, self.belt, profile, f"{at}.belt", f"{at}.ea", words)
        return Fitted(d, r, ratio, length, centre, span, wrap, mesh, ea, worked)

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
            lambda: (j["driver"].value or 0) + (j["driven"].value or 0) / (ratio.value or 1) ** 2,
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
            lambda: (torque_in.value or 0) / (radius.value or 1) * 1000,
            "N",
            equation="F = T/r",
            source="statics",
            torque=torque_in,
            radius=radius,
        )
        working = belt_data.working_tension(ctx, profile, f"{at}.belt")
        capacity = ctx.calc(
            f"{at}.pull_capacity",
            "Pull that the closed belt's teeth carry",
            belt.effective_pull_capacity,
            working_tension_n=working,
            width_mm=g(f"{at}.belt.width_mm"),
            teeth_meshed=fitted.mesh,
        )
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
        needed = put(
            f"{at}.tension_needed",
            "Pretension that keeps both spans taut",
            lambda: (pull.value or 0) * (0.5 + (g(a + "slack_keep").value or 0)),
            "N",
            equation="T_i = F·(½ + s)",
            source_kind="common practice",
            source="spans share the load equally; slack span kept above s·F (from memory)",
            pull=pull,
            keep=g(a + "slack_keep"),
        )
        chosen = g(f"{at}.belt.tension_n")
        tension = put(
            f"{at}.tension",
            "Tension of the closed belt",
            lambda: (
                chosen.value if chosen.value is not None else tensioners.TARGET_OVER * (needed.value or 0)
            ),
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
            needed,
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
            lambda: (tension.value or 0) + (pull.value or 0) / 2,
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
                f"bought closed; taut at a centre distance of {fitted.centre.value or 0:.2f} mm",
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
                caution="Eye protection while a belt is tensioned or plucked.",
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
