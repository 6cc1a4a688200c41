"""A closed toothed belt between two shafts: a cheap reduction, and one belt more to guard and to tension."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import ClassVar, Literal

from ...account.context import Context
from ...account.found import Band, OutputShaft, Pulled, Seat, Trial, Unsure
from ...account.report import BillLine, Caution, CutLine, WorkStep
from ...checks import belt_data, by_tooth, holding, hubs, running_true, shafts, tautness, trials
from ...checks.tensioners import BY_SHAFT, OF_SHAFTS
from ...fields.belts import Pulley
from ...formulas import belt, dynamics, prices
from ...geometry.route import Laid, roller_handles, wheels_of
from ...geometry.scene import Handle, Mark, Scene, Spot, strand_of
from ...ledger.amounts import said
from ...ledger.formula import Real
from ...ledger.many import cos, most
from ...ledger.quantity import Given, Quantity, Term, missing_in
from ...ledger.record import record
from ..joining import countershaft, held, moved_after, shaft_into, shaft_out, step_key
from ..reach import onto_shaft, rim_of
from ..work_steps import EDGE, EYES, SPANNER, before_the_trial, hub_key
from . import closed_take_up
from .closed_path import PULLEYS, ClosedPath
from .contract import CORDS, Transmission, bought, held_after, own_shaft, ringing_torque


@record
class Loaded:
    """A closed belt under its load, N: pull, tension to set with its band, the least it comes to when cold,
    what pulls on both shafts, and the tension of a turn of its screw where it has one.
    """

    pull: Quantity
    tension: Quantity
    low: Quantity
    high: Quantity
    cold: Term
    shaft_load: Quantity
    driven_load: Quantity
    turn: Quantity | None


HALF = 0.5  # of the pull is what either span takes or loses: both are alike


def _words(at: str) -> tautness.Words:
    return tautness.Words(f"{at}.tension_", f"{at}.tension", f"{at}.", ", closed belt")


class ClosedBelt(ClosedPath):
    """Two toothed pulleys and a stock belt of whole teeth; the centre distance follows from them."""

    FIRST = ("belt_teeth", "wanted_mm")

    kind: Literal["closed_belt"] = "closed_belt"
    soft_field: ClassVar[str] = "belt.width_mm"
    holds_shaft_before: ClassVar[bool] = True

    def taut(self, at: str, ctx: Context) -> list[Laid]:
        tension = self.loaded(at, ctx).tension.value
        return [replace(x, tension_n=tension) for x in self.laid(at, ctx)]

    def transmit(self, at: str, ctx: Context) -> Transmission:
        g, fitted = ctx.given, self.fitted(at, ctx)
        ratio = fitted.ratio
        stiffness = self._torsion(at, ctx)
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

    def _torsion(self, at: str, ctx: Context) -> Quantity:
        """Torsional stiffness at its output. What holds its shafts gives across the belt's two spans where
        they lean: a newton of pull moves a shaft with the wrap α by cos(α/2)/k, and the belt by as much
        again. Its teeth give in both pulleys.
        """
        fitted, rated = self.fitted(at, ctx), self.carried(at, ctx)
        holds: dict[str, Quantity | Given] = {}
        if not rated.missing:
            holds |= {"rated": rated, "mesh_give": ctx.given("assumptions.mesh_give_mm")}
        for name, wrap in (("motor", fitted.wrap), ("driven", fitted.driven_wrap)):
            where = f"{at}.{name}_mount"
            k = holding.mount_stiffness(
                ctx, getattr(self, f"{name}_mount"), where, f"{name} mount, closed belt"
            )
            if k is not None:
                holds[f"{name}_mount"], holds[f"{name}_wrap"] = k, wrap
        own = ctx.calc(
            f"{at}.torsion_belt" if holds else f"{at}.torsion",
            "Torsional stiffness of the belt stage at its output" + (", its cords alone" if holds else ""),
            belt.closed_belt_stiffness,
            ea_n=fitted.ea,
            radius_mm=fitted.radius["driven"],
            span_mm=fitted.span,
        )
        if not holds:
            return own
        radius = fitted.radius["driven"]

        def both() -> Real:
            leans = sum(
                cos(holds[f"{n}_wrap"].n / 2) ** 2 / holds[f"{n}_mount"].n
                for n in ("motor", "driven")
                if f"{n}_mount" in holds
            )
            meshes = 2 * holds["mesh_give"].n / holds["rated"].n if "rated" in holds else 0.0
            return 1 / (1 / own.n + 1000 * (leans + meshes) / radius.n**2)

        return ctx.book.put(
            f"{at}.torsion",
            "Torsional stiffness of the belt stage at its output",
            both,
            "N·m/rad",
            equation="1/(1/k_belt + (Σ cos²(α/2)/k_mount + 2·δ/F_rated)/r²)",
            source="statics of a pulley whose spans lean; teeth of both pulleys; in series",
            belt=own,
            radius=radius,
            also=holds,
        )

    def rate(
        self, at: str, ctx: Context, torque_in: Quantity, speed_in: Quantity, before: OutputShaft
    ) -> None:
        loaded = self.loaded(at, ctx)
        if not missing_in([before.radial_limit]):
            ctx.rung(
                f"{at}.shaft_load",
                "Load on the shaft before the closed belt",
                loaded.shaft_load,
                before.radial_limit,
                1.0,
                unit="N",
                section="stages",
                path=f"{at}.driver.overhang_mm",
                says="Bring the pulley nearer to the bearing, or give its shaft an outboard bearing.",
                advisory=True,
            )
        overhang = f"{at}.driver.overhang_mm"
        words = "Pull from the front bearing of the shaft before the closed belt"
        reach = shafts.reach(ctx, f"{at}.shaft_reach", words, overhang)
        names = (f"{at}.shaft_bears", f"{at}.shaft_bending", "Shaft before the closed belt bears its bending")
        shafts.bears_bending(ctx, names, loaded.shaft_load, before.diameter, reach, overhang, "stages")
        own = own_shaft(at, ctx, self.shaft_form)
        for name, shaft in (("driver", before), ("driven", own)):
            seated = hubs.Seated(
                f"{at}.{name}", f"{at}.{name}.hub_", f"{at}.{name}_grip", f"the {name} pulley", "stages"
            )
            hubs.held(ctx, getattr(self, name), seated, self._torque_on(name, at, ctx), shaft)
        if moved_after(at, ctx) is not None:
            closed_take_up.moved_with_next(self, at, ctx)
        if ctx.design.chain[0].positioning:
            self._by_the_tooth(at, ctx)

    def _by_the_tooth(self, at: str, ctx: Context) -> None:
        """Ripple of its teeth and their play where the pull turns round, both at what moves."""
        fitted, loaded = self.fitted(at, ctx), self.loaded(at, ctx)
        radius, lam = fitted.radius["driven"], ctx.drive.lam_out[int(at.rpartition(".")[2])]
        pulleys = [
            by_tooth.Toothed(
                f"{at}.{n}", f"the {n} pulley", fitted.radius[n], ctx.given(f"{at}.{n}.teeth"), wrap
            )
            for n, wrap in zip(PULLEYS, (fitted.wrap, fitted.driven_wrap), strict=True)
        ]
        label, waves = ", closed belt", by_tooth.ripple(ctx, pulleys)
        slips = by_tooth.play(
            ctx, f"{at}.teeth_slip", label, pulleys, self.profile(at, ctx), loaded.pull, loaded.cold
        )

        def moved(key: str, words: str, *amounts: Quantity) -> Quantity:
            return ctx.book.put(
                f"{at}.{key}",
                f"{words}{label}, where it moves the load",
                lambda: sum(a.n for a in amounts) / (radius.n * lam.n),
                "mm",
                equation="Σδ/(r·λ)",
                source="handbook: what the belt goes wrong by, over what it goes for a millimetre",
                radius=radius,
                turn=lam,
                also={f"belt_{i}": a for i, a in enumerate(amounts)},
            )

        wavy = moved("ripple", "Ripple once a tooth, at most", *waves)
        loose = moved("play", "Play of the teeth", slips)
        paths = by_tooth.Paths(f"{at}.driver.teeth", f"{at}.belt.tension_n")
        by_tooth.judge(ctx, f"{at}.", label, wavy, loose, paths)

    def _torque_on(self, name: str, at: str, ctx: Context) -> Quantity:
        """Largest torque between one of its pulleys and the shaft under it."""
        pull, radius = self.loaded(at, ctx).pull, self.fitted(at, ctx).radius[name]
        words = f"Largest torque at the hub of the {name} pulley"
        return hubs.torque_of(ctx, f"{at}.{name}.torque", words, pull, radius)

    def moves_shaft_before(self, at: str) -> str | None:
        return f"{at.replace('.', '_')}_tension" if self.tensioner.kind in BY_SHAFT else None

    def carried(self, at: str, ctx: Context) -> Quantity:
        """The pull that its teeth carry, at standstill where speed counts."""
        return ctx.once(self._carried, at)

    def _carried(self, at: str, ctx: Context) -> Quantity:
        key, mesh = f"{at}.pull_still", self.fitted(at, ctx).mesh
        words = "Pull that the closed belt's teeth carry at standstill"
        return belt_data.rated_pull(ctx, self.profile(at, ctx), f"{at}.belt", key, words, mesh)

    def loaded(self, at: str, ctx: Context) -> Loaded:
        """The belt under the largest torque at its input."""
        return ctx.once(self._loaded, at)

    def tension(self, at: str, ctx: Context) -> Quantity:
        return self.loaded(at, ctx).tension

    def _loaded(self, at: str, ctx: Context) -> Loaded:
        g, put, profile, a = ctx.given, ctx.book.put, self.profile(at, ctx), "assumptions."
        fitted, torque_in = self.fitted(at, ctx), ringing_torque(at, ctx)
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
        capacity = belt_data.teeth_carry(
            ctx,
            profile,
            f"{at}.belt",
            (f"{at}.pull_capacity", f"{at}.pull_still"),
            "Pull that the closed belt's teeth carry",
            fitted.mesh,
            ctx.drive.lam_in[int(at.rpartition(".")[2])],
        )
        rung = ctx.rung
        fewer = "driven" if ctx.plain and self.driven.teeth < self.driver.teeth else "driver"
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
            path=f"{at}.driver.teeth" if fewer == "driver" else f"{at}.driven.teeth",
            says=f"More teeth on the {fewer}, or a longer belt.",
        )

        def need(key: str, label: str, slack_keep: Term) -> Quantity:
            return ctx.calc(
                key,
                label,
                belt.pretension_needed,
                peak_force_n=pull,
                largest_share=HALF,
                slack_keep=slack_keep,
            )

        tension = tautness.settle(
            ctx,
            profile,
            f"{at}.belt",
            _words(at),
            need,
            self.at_rest(at, ctx),
            closed_take_up.made(self, at, ctx),
        )
        rung(
            f"{at}.taut",
            "Closed belt stays taut",
            tension.here,
            tension.cold,
            1.0,
            unit="N",
            section="tension",
            path=f"{at}.belt.tension_n",
            says="Set more tension.",
            met=tension.met,
        )
        cord = self.cords(at, ctx)
        peak = ctx.calc(
            f"{at}.peak",
            "Largest tension in the closed belt, when it is warmest",
            belt.peak_tension,
            pretension_n=tension.hot,
            peak_force_n=pull,
            largest_share=HALF,
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
        half = put(
            f"{at}.half",
            "Half of the pull",
            lambda: pull.n / 2,
            "N",
            equation="F/2",
            source="spans share the load equally",
            pull=pull,
        )
        slack = put(
            f"{at}.slack",
            "Slack span at that moment",
            lambda: most(tension.hot.n - pull.n / 2, 0.0),
            "N",
            equation="T_i − F/2",
            source="statics of two equal springs",
            tension=tension.hot,
            pull=pull,
        )
        bears = running_true.run_true(ctx, self.laid(at, ctx)[0], f"{at}.", peak, half, ", closed belt")
        load, driven_load = (
            ctx.calc(
                f"{at}.{name}.load",
                f"Load on the {name} pulley's shaft",
                belt.shaft_load,
                tension_a_n=peak,
                tension_b_n=slack,
                wrap_rad=wrap,
            )
            for name, wrap in (("driver", fitted.wrap), ("driven", fitted.driven_wrap))
        )
        bears += self._on_mounts(at, ctx, half, (load, driven_load))
        bears.insert(
            0, tautness.at_pull(ctx, f"{at}.cord", "its cords", f"{at}.belt.width_mm", cord, 1.0, pull, HALF)
        )
        upper = tautness.bounded(ctx, _words(at), tension, bears, None)
        ctx.calc(
            f"{at}.pluck",
            "Pitch of the closed belt's span",
            belt.pluck_frequency,
            tension_n=tension.set,
            line_mass_g_m=self._line_mass(at, ctx),
            span_mm=fitted.span,
        )
        taken = closed_take_up.budget(self, at, ctx, tension.set)
        turn = taken.turn if taken else None
        return Loaded(pull, tension.set, tension.low, upper.high, tension.cold, load, driven_load, turn)

    def _on_mounts(
        self, at: str, ctx: Context, half: Quantity, loads: tuple[Quantity, Quantity]
    ) -> list[tautness.Bears]:
        """What holds both shafts. A shaft between two belts is held where it drives: what holds the driver of
        the later belt bears both.
        """
        fitted, motor, driven = self.fitted(at, ctx), f"{at}.motor_mount", f"{at}.driven_mount"
        held = (loads[0], holding.under_two_runs(ctx, half, half, fitted.wrap))
        before = self._belt_before(at, ctx)
        if before is not None:
            held = holding.on_both_sides(ctx, motor, *held, before)
        bears = holding.mount_checks(ctx, motor, motor, self.motor_mount, *held)
        if not held_after(at, ctx):
            after = holding.under_two_runs(ctx, half, half, fitted.driven_wrap)
            bears += holding.mount_checks(ctx, driven, driven, self.driven_mount, loads[1], after)
        elif ctx.plain and self.driven_mount.kind != "rigid":
            ctx.note(
                "belt",
                f"{driven}.kind",
                "What holds the driven shaft bears the belt after it too: its tilt and its grip are judged "
                "where that belt's driver is held.",
            )
        return bears

    def _belt_before(self, at: str, ctx: Context) -> Quantity | None:
        """Load of a closed belt before this one on the shaft that both share."""
        j = int(at.rpartition(".")[2])
        stage = ctx.design.chain[j - 1]
        return stage.loaded(f"chain.{j - 1}", ctx).driven_load if isinstance(stage, ClosedBelt) else None

    def at_rest(self, at: str, ctx: Context) -> tautness.AtRest:
        """What the belt asks for before any load."""
        return ctx.once(self._at_rest, at)

    def _at_rest(self, at: str, ctx: Context) -> tautness.AtRest:
        profile, ea, mass = self.profile(at, ctx), self.fitted(at, ctx).ea, self._line_mass(at, ctx)
        span = self._hanging(at, ctx)
        kept = self.tensioner.kind == "hanging motor"
        return tautness.at_rest(ctx, self.belt, profile, f"{at}.belt", _words(at), ea, mass, span, kept)

    def unsure(self, at: str, ctx: Context) -> list[Unsure]:
        ea = self.fitted(at, ctx).ea.value
        return [] if ea is None else [Unsure(f"{at}.belt.ea_n", "the closed belt's cords", ea, CORDS)]

    def bands(self, at: str, ctx: Context) -> list[Band]:
        one = self._band(at, ctx)
        if ctx.counts.motors < 2:
            return [one]
        return [
            replace(one, key=key, name=f"the closed belt of the {nth} motor")
            for key, nth in (("1", "first"), ("2", "second"))
        ]

    def _band(self, at: str, ctx: Context) -> Band:
        fitted, loaded, mass = self.fitted(at, ctx), self.loaded(at, ctx), self._line_mass(at, ctx)
        words = "Bending stiffness of the closed belt"
        free = ctx.book.put(
            f"{at}.free",
            "Belt between its pulleys",
            lambda: sum(s.length_mm for s in fitted.path.spans),
            "mm",
            equation="Σ L",
            source="what lies on a pulley is held by its teeth",
            centre=fitted.centre,
        )
        return Band(
            name="the closed belt",
            span_mm=fitted.span.value,
            line_mass=mass,
            ea=fitted.ea,
            free=free,
            low=loaded.low,
            aim=loaded.tension,
            high=loaded.high,
            advice=None,
            turn=loaded.turn,
            set_by=OF_SHAFTS[self.tensioner.kind][1],
            idler_wrap=None,
            per_k=tautness.per_kelvin(ctx, self.belt, f"{at}.belt", fitted.ea),
            bending=belt_data.bending(ctx, self.profile(at, ctx), f"{at}.belt", f"{at}.bending", words, mass),
        )

    def trials(self, at: str, ctx: Context) -> list[Trial]:
        band, name = self._band(at, ctx), "the closed belt"
        return trials.of_belt(at, f"{at}.belt", name, band.line_mass, band.ea, band.turn)

    def cords(self, at: str, ctx: Context) -> Quantity:
        """Tension that its cords bear."""
        key, label = f"{at}.cord_capacity", "Tension that the closed belt's cords bear"
        return belt_data.cord_bears(ctx, self.belt, self.profile(at, ctx), f"{at}.belt", key, label)

    def _line_mass(self, at: str, ctx: Context) -> Quantity:
        return ctx.once(self._mass_of_a_metre, at)

    def _mass_of_a_metre(self, at: str, ctx: Context) -> Quantity:
        words = "Mass of one metre of the closed belt"
        return belt_data.line_mass(ctx, self.profile(at, ctx), f"{at}.belt", f"{at}.line_mass", words)

    def _hanging(self, at: str, ctx: Context) -> tautness.Span:
        """Its longest straight piece, as if it lay level: how the stage stands is not asked for."""
        fitted = self.fitted(at, ctx)
        longest = ctx.book.put(
            f"{at}.longest",
            "Longest straight run of the closed belt",
            lambda: most(*(s.length_mm for s in fitted.path.spans)),
            "mm",
            equation="max",
            source="common tangents of circles",
            centre=fitted.centre,
        )
        return tautness.Span(longest, 0.0)

    def on_shafts(self, at: str) -> list[tuple[str, Pulley, bool]]:
        return [(f"{at}.driver", self.driver, False), (f"{at}.driven", self.driven, True)]

    def seats(self, at: str, ctx: Context, before: OutputShaft) -> list[Seat]:
        profile, pull = self.profile(at, ctx), self.loaded(at, ctx).pull.value
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
        loaded = self.loaded(at, ctx)
        before = self._belt_before(at, ctx)
        load = (
            loaded.shaft_load
            if before is None
            else holding.with_another(ctx, f"{at}.motor_mount", loaded.shaft_load, before)
        )
        out = [Pulled(f"{at}.motor_mount", "motor plate of the closed belt", self.motor_mount, load.value)]
        if not held_after(at, ctx):
            after = loaded.driven_load.value
            out.append(
                Pulled(f"{at}.driven_mount", "bearing plate of the driven shaft", self.driven_mount, after)
            )
        return out

    def output_shaft(self, at: str, ctx: Context, overhang: str | None) -> OutputShaft:
        return replace(own_shaft(at, ctx, self.shaft_form), pulled=lambda: self.loaded(at, ctx).driven_load)

    def main_number(self) -> tuple[str, str]:
        return f"{self.driver.teeth} : {self.driven.teeth} teeth", "driven.teeth"

    def bill(self, at: str, ctx: Context) -> list[BillLine]:
        name, pitch = self.profile(at, ctx).name, self.profile(at, ctx).pitch_mm
        belt = prices.closed_belt_price(self.belt.width_mm, pitch, self.belt_teeth)
        of_belt = f"{name}, {self.belt_teeth} teeth, {self.belt.width_mm:g} mm"
        lines = [bought(self.belt, "Closed belt", of_belt, f"{at}.belt", typical=belt)]
        for n, pulley in (("driver", self.driver), ("driven", self.driven)):
            says = f"{name}, {pulley.teeth} teeth, bore {pulley.bore_mm:g} mm"
            typical = prices.toothed_price(pulley.teeth, pitch, pulley.face_mm)
            lines.append(bought(pulley, f"{n.capitalize()} pulley", says, f"{at}.{n}", typical=typical))
        for i, roller in enumerate(self.rollers):
            lines.append(bought(roller, "Roller", roller.kind, f"{at}.rollers.{i}", typical=prices.IDLER))
        # A slot costs nothing: what is bought for it is on the bill once it has a name or a price.
        if f"{at}.tensioner" in self._beside(at):
            lines.append(bought(self.tensioner, "Tensioner", self.tensioner.kind, f"{at}.tensioner"))
        return lines

    def cut(self, at: str, ctx: Context) -> list[CutLine]:
        fitted = self.fitted(at, ctx)
        return [
            CutLine(
                f"Closed belt, {self.profile(at, ctx).name}, {self.belt.width_mm:g} mm wide",
                fitted.length.value or 0,
                self.belt_teeth,
                f"bought closed; taut at a centre distance of {said(fitted.centre.value or 0, 'mm', '.2f')}",
            )
        ]

    def scene(self, at: str, ctx: Context) -> Scene:
        fitted, profile, laid = self.fitted(at, ctx), self.profile(at, ctx), self.laid(at, ctx)[0]
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

    def over_shaft(self, at: str, ctx: Context) -> Term | None:
        return rim_of(ctx, f"{at}.driver", self.profile(at, ctx), self.driver.flanges)

    def _beside(self, at: str) -> tuple[str, ...]:
        """Rollers and tensioner, as they stand on the bill."""
        bought = self.tensioner.label or self.tensioner.price is not None
        rollers = [f"{at}.rollers.{i}" for i in range(len(self.rollers))]
        return (*rollers, f"{at}.tensioner") if bought else tuple(rollers)

    def work(self, at: str, ctx: Context) -> list[WorkStep]:
        key = step_key(at)
        tension = self.loaded(at, ctx).tension.value
        to_set = "its tension" if tension is None else said(tension, "N", ".0f")
        moves, set_by, lock_by = OF_SHAFTS[self.tensioner.kind]
        before, out = shaft_into(at, ctx), shaft_out(at, ctx)
        by_shaft = self.tensioner.kind in BY_SHAFT
        both = ctx.counts.motors > 1
        driver = "the shaft before it" if before != "motor" else "each motor" if both else "the motor"
        lay = {
            "driver": f"lay the belt on with {driver} pushed in",
            "roller": "lay the belt on with its roller drawn back",
            "nothing": "bring both on with the belt already round them",
        }[moves]
        # Where the next belt moves the shaft between them, that one comes first.
        holds = [moved_after(at, ctx) or held(out), *([] if by_shaft else [held(before)])]
        joins = ("joined", *((held(before),) if by_shaft else ()))
        keys = (hub_key(self.driver.fixing), hub_key(self.driven.fixing))
        return [
            *countershaft(at, ctx),
            WorkStep(
                f"{key}_on",
                f"Fit both pulleys of {'each' if both else 'the'} closed belt, line them up with a straight "
                f"edge, tighten them on their shafts; {lay}.{before_the_trial(ctx)}",
                "aligned",
                after=(*((before,) if before != "motor" else onto_shaft(ctx)[0] or (before,)), out),
                gives=("in line", f"belt {at}") if before == "motor" else (f"belt {at}",),
                fastens=(f"pulleys of {at}",),
                needs=(f"{at}.belt", f"{at}.driver", f"{at}.driven", *self._beside(at)),
                check="A straight edge touches both pulleys alike.",
                tools=tuple(dict.fromkeys((EDGE, *keys[0], *keys[1]))),
                side="from the belt's side, with each shaft turned until its screw shows",
                access="Once the belt is tight, its screws show only between the two runs.",
            ),
            WorkStep(
                f"{key}_tension",
                f"{set_by} {lock_by}",
                "tightened",
                after=(f"belt {at}", *holds),
                gives=joins,
                rests=(f"{at}.belt", f"{at}.tension"),
                fastens=(f"tensioner of {at}", *((before,) if by_shaft else ())),
                check=f"{'Each closed belt' if both else 'The closed belt'} has {to_set}: read it in "
                f"Tune, by "
                f"sound or by pushing it aside.",
                caution=EYES,
                tools=("hex keys", SPANNER),
            ),
            WorkStep(
                f"{key}_guard",
                f"Guard {'each' if both else 'the'} closed belt.",
                "tightened",
                after=("locked", f"{key}_tension"),
                gives=("guarded",),
                covers=(f"{key}_on", f"{key}_tension"),
                fastens=(f"guard of {at}",),
                tools=("hex keys",),
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
