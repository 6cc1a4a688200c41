"""A closed belt on its two pulleys as it lies: its path, and the distance of the shafts."""

from __future__ import annotations

import math
from functools import partial

import numpy as np
from pydantic import Field

from ...account.context import Context
from ...account.found import Repeat
from ...checks import belt_data, repeats
from ...checks.pulleys import check_pulley
from ...fields.belts import Belt, Mount, Pulley, Roller, ShaftTensioner
from ...fields.columns import each
from ...fields.part import SHAFTS, num, piece
from ...fields.profile import Profile
from ...fields.rows import Rows
from ...formulas import belt
from ...geometry.path import Path, Round, closed_belt_centre, laid_path, place_for_length
from ...geometry.route import Laid, check_rollers, rollers_at
from ...ledger.errors import EntryError, Problem, Refuse, at_once, problem
from ...ledger.formula import Real
from ...ledger.many import least, most, total
from ...ledger.quantity import Quantity
from ...ledger.record import record
from .contract import ShaftForm, Stage


def _half(q: Quantity) -> Real:
    return q.n / 2


def _both_runs(path: Path, driven: str) -> tuple[Real, Real]:
    """Belt from driver to driven and back, with what lies on the rollers between."""
    k = next(i for i, r in enumerate(path.rounds) if r.part == driven)
    arcs = [r.radius_mm * w for r, w in zip(path.rounds, path.wraps, strict=True)]
    out = total([s.length_mm for s in path.spans[:k]]) + total(arcs[1:k])
    return out, total([s.length_mm for s in path.spans[k:]]) + total(arcs[k + 1 :])


PULLEYS = ("driver", "driven")


@record
class Fitted:
    """A closed belt on its pulleys: diameters and radii by pulley in mm, ratio, pitch length, centre
    distance, free span, wrap on driver and driven, fewest teeth in mesh, stiffness EA, and its path.
    """

    diameter: dict[str, Quantity]
    radius: dict[str, Quantity]
    ratio: Quantity
    length: Quantity
    centre: Quantity
    span: Quantity
    wrap: Quantity
    driven_wrap: Quantity
    mesh: Quantity
    ea: Quantity
    path: Path


class ClosedPath(Stage):
    """Two toothed pulleys and a belt of whole teeth, before any load."""

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
        "Distance of the shafts wanted",
        "length",
        "mm",
        5,
        20_000,
        None,
        "What the machine leaves room for: to the middle of the slot, or between shafts that stand still.",
    )
    outer_mm: float | None = num(
        "From the shaft before it to the one after the next belt",
        "length",
        "mm",
        5,
        20_000,
        None,
        "Where the shaft between two closed belts moves: both belts together fix its place.",
    )
    efficiency: float = num(
        "Efficiency",
        "number",
        "",
        0.5,
        1,
        0.96,
        "0.95 to 0.98; the lower the tighter and the smaller the pulleys.",
    )
    adjust_mm: float = num(
        "Adjustment of the centre distance",
        "length",
        "mm",
        0,
        500,
        5.0,
        "Slot of the motor plate, from belt off to belt tight.",
    )
    rollers: Rows[Roller] = Field([], title="Further rollers", max_length=40)
    motor_mount: Mount = Mount()
    driven_mount: Mount = Mount()
    tensioner: ShaftTensioner = piece(ShaftTensioner(), "belt")
    shaft_mm: float = num("Shaft after it", "length", "mm", 1, 200, 8.0, sizes=SHAFTS)
    shaft_form: ShaftForm = "flat"
    radial_limit_n: float | None = num(
        "Radial limit of the shaft after it", "force", "N", 1, 1e6, None, "By its own bearings."
    )

    def profile(self, at: str, ctx: Context) -> Profile:
        return ctx.profile(self.belt.profile, f"{at}.belt.profile")

    def overhang(self, at: str) -> str | None:
        return f"{at}.driver.overhang_mm"

    def slot_for(self, off_mm: Real, runs: Real = 2.0, stretch_mm: Real = 0.0) -> Real:
        """Slot that takes the belt on, tight and run in, mm, where its distance lies `off_mm` beyond the
        middle of that slot.
        """
        t = self.tensioner
        return 2 * most(off_mm + (stretch_mm + t.run_in_mm) / runs, t.removal_mm / runs - off_mm)

    def check(self, at: str, ctx: Context) -> None:
        ctx.stop(
            self.tensioner.kind == "roller" and not self.rollers,
            lambda: problem(
                f"{at}.tensioner.kind",
                "moves a roller, and this belt has none",
                value="roller",
                limit="one roller",
                remedy="Add a roller on the belt, or tighten it by one of its shafts.",
            ),
        )
        profile = self.profile(at, ctx)
        for name in PULLEYS:
            check_pulley(ctx, profile, getattr(self, name), f"{at}.{name}")
        check_rollers(self.rollers, f"{at}.rollers", profile, ctx.stop)
        r1, r2 = self._radii(profile)
        length = self.belt_teeth * profile.pitch_mm
        if not self.rollers:
            ctx.stop(np.isnan(closed_belt_centre(length, r1, r2)), lambda: self._too_short(at, profile))
        elif not ctx.problems:
            ctx.stop(
                np.isnan(self.centre_for(at, profile, length)), lambda: self._crowded(at, profile, length)
            )

    def _too_short(self, at: str, profile: Profile) -> Problem:
        r1, r2 = self._radii(profile)
        around = 2 * (r1 + r2) + 2 * math.pi * r1 if r1 == r2 else belt.open_belt_length(r1 + r2, r1, r2)
        least = math.ceil(around / profile.pitch_mm) + 2
        return problem(
            f"{at}.belt_teeth",
            "is too short: the two pulleys would collide",
            value=self.belt_teeth,
            limit=least,
            unit="teeth",
            remedy=f"Take a belt of at least {least} teeth, or smaller pulleys.",
        )

    def _crowded(self, at: str, profile: Profile, length: float) -> Problem:
        """What is in the way at the distance that the belt would have without its rollers."""
        r1, r2 = self._radii(profile)
        try:
            self.path_at(at, profile, max(float(closed_belt_centre(length, r1, r2)), r1 + r2 + 1))
        except EntryError as error:
            return error.problems[0]
        return problem(
            f"{at}.belt_teeth",
            "fits no distance of the two shafts with these rollers",
            value=self.belt_teeth,
            limit="a longer belt",
            unit="teeth",
            remedy="Take a longer belt, or press the rollers in less.",
        )

    def _radii(self, profile: Profile) -> tuple[Real, Real]:
        first, second = (
            belt.pitch_diameter(p.teeth, profile.pitch_mm) / 2 for p in (self.driver, self.driven)
        )
        return first, second

    def rounds(self, at: str, profile: Profile, centre_mm: Real) -> tuple[Round, ...]:
        """The pulleys in belt order, the driver's axis at 0: driver, one run, driven, the other run."""
        r1, r2 = self._radii(profile)
        return (
            Round("driver", 0, 0, r1, 1, f"{at}.driver.teeth", f"{at}.driver"),
            *rollers_at(self.rollers, f"{at}.rollers", profile, 1, "after the pulley"),
            Round("driven", centre_mm, 0, r2, 1, f"{at}.driven.teeth", f"{at}.driven"),
            *rollers_at(self.rollers, f"{at}.rollers", profile, 1, "after the idler"),
            *rollers_at(self.rollers, f"{at}.rollers", profile, 1, "before the pulley"),
        )

    def path_at(self, at: str, profile: Profile, centre_mm: Real, refuse: Refuse = at_once) -> Path:
        """The belt's path with the shafts so far apart; refused where there is none."""
        return laid_path(self.rounds(at, profile, centre_mm), refuse=refuse)

    def centre_for(self, at: str, profile: Profile, length_mm: Real) -> Real:
        """Distance of the shafts at which a belt of this length is taut; NaN where there is none."""
        if not self.rollers:
            return closed_belt_centre(length_mm, *self._radii(profile))

        def one(stage: ClosedPath, belt_profile: Profile, length: float) -> float:
            r1, r2 = stage._radii(belt_profile)
            found = place_for_length(
                lambda c: stage.path_at(at, belt_profile, c).length_mm, length, r1 + r2 + 1e-6, length / 2
            )
            return math.nan if found is None else found

        return each(one, self, profile, length_mm)

    def laid(self, at: str, ctx: Context) -> list[Laid]:
        profile, path = self.profile(at, ctx), self.fitted(at, ctx).path
        still = ((0.0, 0.0),) * len(path.rounds)
        return [Laid(at, profile, self.belt.width_mm, True, path, path, still)]

    def repeats(self, at: str, ctx: Context) -> list[Repeat]:
        return repeats.belt(self.laid(at, ctx)[0], f"{at}.driver", f"{at}.belt", ctx.lam_into(at))

    def tension(self, at: str, ctx: Context) -> Quantity:
        """The tension that it has."""
        raise NotImplementedError

    def fitted(self, at: str, ctx: Context) -> Fitted:
        """The belt on its pulleys, before any load."""
        return ctx.once(self._fitted, at)

    def _fitted(self, at: str, ctx: Context) -> Fitted:
        g, profile, put = ctx.given, self.profile(at, ctx), ctx.book.put
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
                partial(_half, q),
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
            lambda: teeth["driven"].n / teeth["driver"].n,
            ": 1",
            equation="z2/z1",
            source="whole teeth",
            z1=teeth["driver"],
            z2=teeth["driven"],
        )
        length = put(
            f"{at}.length",
            "Pitch length of the closed belt",
            lambda: g(f"{at}.belt_teeth").n * profile.pitch_mm,
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
                lambda: self.centre_for(at, profile, length.n),
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
        worked = self.path_at(at, profile, centre.n, ctx.refuse)
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
        driven_wrap = put(
            f"{at}.driven.wrap",
            "Wrap on the driven pulley",
            next(w for x, w in zip(worked.rounds, worked.wraps, strict=True) if x.part == f"{at}.driven"),
            "rad",
            equation="α from the belt path's tangents",
            source="common tangents",
            centre=centre,
        )
        meshed = [
            ctx.calc(
                f"{at}.{n}.mesh",
                f"Teeth in mesh on the {n} pulley",
                belt.teeth_in_mesh,
                teeth=teeth[n],
                wrap_rad=w,
            )
            for n, w in zip(PULLEYS, (wrap, driven_wrap), strict=True)
        ]
        mesh = put(
            f"{at}.mesh",
            "Teeth in mesh on the pulley that has fewer",
            lambda: least(*(m.n for m in meshed)),
            "teeth",
            equation="min(z_m1, z_m2)",
            source="the same pull passes both",
            driver=meshed[0],
            driven=meshed[1],
        )
        words = "Stiffness EA of the closed belt"
        ea = belt_data.stiffness(ctx, self.belt, profile, f"{at}.belt", f"{at}.ea", words)
        return Fitted(d, r, ratio, length, centre, span, wrap, driven_wrap, mesh, ea, worked)
