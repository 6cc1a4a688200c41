"""What every end driven through an open belt has in common: ratings, springs, what it costs and how it is
built.
"""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

from ...account.context import Context
from ...account.found import Band, OutputShaft, Pulled, Seat, Trial, Unsure
from ...account.report import BillLine, Caution, CutLine, DriveNode, PluckTarget, WorkStep
from ...checks import belt_data, holding, tautness, trials
from ...checks.tensioners import KINDS
from ...fields.belts import Idler, Pulley
from ...formulas import motion, prices
from ...formulas.running import axle_stiffness
from ...formulas.springs import Network, Spring, mesh_stiffness
from ...formulas.tension import hanging_give
from ...geometry.route import Laid
from ...ledger.formula import Real
from ...ledger.many import along, cos, most, sin
from ...ledger.quantity import Given, Quantity, Term
from ...ledger.record import record
from ..stages.contract import CORDS, SOFT, billed, bought
from . import loop_build, strain
from .contract import STEEL, FloatArray, Moving
from .open_belt import OpenBelt
from .strain import Strained


@record
class Yield:
    """Something that holds the belt and gives: how much, mm of belt for a newton, and which runs lengthen
    with it.
    """

    part: str
    give: Real
    runs: dict[int, float]


def _words(name: str) -> str:
    return name.replace("_", " ")


# A mount taken for rigid, N/mm, and the logarithm of how much less it may well be (estimates).
RIGID_N_MM, GIVES = 20_000.0, 1.5


class BeltEnd(OpenBelt):
    """An open belt under its load."""

    def moving(self, ctx: Context) -> Moving:
        drive, lying = self.driven(ctx), self.lying(ctx)
        return Moving(drive.lam, ctx.given("assumptions.efficiency_loop"), lying.carried, drive.mass)

    def forces(self, ctx: Context) -> None:
        self.strained(ctx)

    def strained(self, ctx: Context) -> Strained:
        """What follows from the peak force: tensions, loads, lengths to cut."""
        return ctx.once(self._strain)

    def _strain(self, ctx: Context) -> Strained:
        return strain.rate(self, ctx)

    def taut(self, ctx: Context) -> list[Laid]:
        tension = self.strained(ctx).tension.value
        return [replace(x, tension_n=tension) for x in self.laid(ctx)]

    def on_shafts(self) -> list[tuple[str, Pulley]]:
        return [("end.pulley", self.pulley)]

    def seats(self, ctx: Context, before: OutputShaft) -> list[Seat]:
        strained = self.strained(ctx)
        return [
            Seat(
                "end.pulley",
                "Drive pulley",
                self.pulley,
                self.profile(ctx),
                before.diameter.value,
                before.form,
                strained.hub_torque.value,
                None if strained.ripple is None else strained.ripple.value,
            )
        ]

    def pulled(self, ctx: Context) -> list[Pulled]:
        strained = self.strained(ctx)
        loads = {
            "motor_mount": strained.shaft_load,
            "idler_mount": strained.idler_load,
            "anchor_mount": strained.tight,
        }
        if ctx.shaft.pulled is not None:
            loads["motor_mount"] = holding.with_another(
                ctx, "motor_mount", strained.shaft_load, ctx.shaft.pulled()
            )
        return [Pulled(f"end.{n}", _words(n), m, loads[n].value) for n, m in self.mounts().items()]

    # ---- what gives ----------------------------------------------------------------------------------------

    def meshes(self, ctx: Context, lam: Quantity) -> Quantity | None:
        profile, lying = self.profile(ctx), self.lying(ctx)
        words = "Pull that the teeth in the drive pulley are rated for"
        rated = belt_data.rated_pull(ctx, profile, "end.belt", "mesh.rated", words, lying.mesh)
        if rated.missing:
            return None
        return ctx.calc(
            "mesh.at_carriage",
            "Teeth in the drive pulley at the carriage",
            mesh_stiffness,
            rated_n=rated,
            give_mm=ctx.given("assumptions.mesh_give_mm"),
            radius_mm=self.driven(ctx).radius,
            radians_per_mm=lam,
        )

    def soft_mounts(self, ctx: Context) -> dict[str, Quantity | Given]:
        """Stiffness of every mount that gives, N/mm."""
        return ctx.once(self._soft_mounts)

    def _soft_mounts(self, ctx: Context) -> dict[str, Quantity | Given]:
        named = (
            (n, holding.mount_stiffness(ctx, m, f"end.{n}", _words(n))) for n, m in self.mounts().items()
        )
        return {n: k for n, k in named if k is not None}

    def run_gives(self, ctx: Context, positions: FloatArray, sagging: bool) -> list[FloatArray]:
        """What each run gives at the positions, mm/N: its cords, and its sag where it hangs free."""
        ea = along(self.lying(ctx).ea.n)
        gives = [run / ea for run in self.run_lengths(ctx, positions)]
        strained = self.strained(ctx) if sagging else None
        if strained is not None and strained.weight is not None:
            tension = along(most(strained.tension.n, 1e-3))
            gives = [
                give + hanging_give(tension, along(strained.weight.n), cubes)
                for give, cubes in zip(gives, self.hanging(ctx, positions), strict=True)
            ]
        return gives

    def head_reach(self, ctx: Context) -> tuple[tuple[float, ...], ...]:
        """By how much each run lengthens with each way that the point can go."""
        gain = self.gain(ctx)
        return (gain,), (-gain,)

    def head_load(self, ctx: Context) -> tuple[float, ...]:
        """The direction of the load among the ways that the point can go."""
        return (1.0,)

    def leans(self) -> bool:
        """Whether both runs of a drive pulley may lead away from it in unlike directions."""
        return bool(self.rollers)

    def _idlers_of_runs(self, ctx: Context) -> list[list[Real]]:
        """The wrap on each idler, run by run."""
        path = self.paths(ctx)[0]
        runs: list[list[Real]] = [[]]
        for round_, wrap in zip(path.rounds, path.wraps, strict=True):
            if round_.part == "end.pulley":
                runs.append([])
            elif round_.part == "end.idler":
                runs[-1].append(wrap)
        return runs

    def _yields(self, ctx: Context) -> list[Yield]:
        """All that holds the belt and gives. A pulley goes along the bisector of its runs, and across it
        where they lean; what gives is taken as alike both ways.
        """
        soft, rate, runs = self.soft_mounts(ctx), self.tensioner.spring_n_mm, self._idlers_of_runs(ctx)
        half, found = self.lying(ctx).pulley_wrap.n / 2, []
        for j in range(len(runs) - 1) if "motor_mount" in soft else ():
            k = soft["motor_mount"].n
            found.append(Yield("motor_mount", sin(half) ** 2 / k, {j: -1.0, j + 1: -1.0}))
            if self.leans():
                across = most(cos(half) ** 2, 1e-9) / k
                found.append(Yield("motor_mount", across, {j: 1.0, j + 1: -1.0}))
        for i, wraps in enumerate(runs):
            give: Real = 0.0
            if "idler_mount" in soft:
                give = sum((2 * sin(w / 2)) ** 2 for w in wraps) / soft["idler_mount"].n
            if rate is not None and i == len(runs) - 1:  # the tensioner's idler lies in the last run
                give = give + (2 * sin(self.lying(ctx).idler_wrap.n / 2)) ** 2 / rate
            if wraps and ("idler_mount" in soft or (rate is not None and i == len(runs) - 1)):
                found.append(Yield("idler_mount", give, {i: 1.0}))
        if "anchor_mount" in soft:
            found += [Yield("anchor_mount", 1 / soft["anchor_mount"].n, {i: 1.0}) for i in (0, len(runs) - 1)]
        return found

    def held(
        self, ctx: Context, positions: FloatArray, far_side: Quantity | None, sagging: bool = True
    ) -> Network:
        reaches, yields = self.head_reach(ctx), ctx.once(self._yields)
        ways, sides = len(reaches[0]), 1 if far_side is None else 2
        nodes = ways + sides * len(yields) + (far_side is not None)
        gives = self.run_gives(ctx, positions, sagging)
        made, inner = [], [0.0] * (nodes - ways)

        def alone(node: int, value: float) -> tuple[float, ...]:
            row = [0.0] * nodes
            row[node] = value
            return tuple(row)

        for side in range(sides):
            first = ways + side * len(yields)
            for i, give in enumerate(gives):
                row = [*reaches[i], *inner]
                for n, x in enumerate(yields, first):
                    row[n] = x.runs.get(i, 0.0)
                if side:
                    row[-1] = -reaches[i][0]
                made.append(Spring("belt", "Belt", 1 / give, tuple(row)))
            for n, x in enumerate(yields, first):
                made.append(Spring(x.part, self._give_words(x.part), 1 / along(x.give), alone(n, 1.0)))
        if far_side is not None:
            shaft, turn = along(far_side.n), alone(nodes - 1, self.gain(ctx))
            made.append(Spring("cross_shaft", "Cross shaft and couplers", shaft, turn))
        return Network(tuple(made), (*self.head_load(ctx), *inner))

    def _give_words(self, part: str) -> str:
        if part == "idler_mount" and self.tensioner.spring_n_mm is not None:
            return "Sprung tensioner"
        return "Belt anchors" if part == "anchor_mount" else _words(part).capitalize()

    def bends(self, ctx: Context, positions: FloatArray) -> tuple[Quantity, FloatArray]:
        """What the shaft under the drive pulley gives by bending, as far as its pulley is pulled sideways:
        the share of a newton at the point that pulls along the bisector of its runs, and across it, squared.
        """
        stiff = ctx.calc(
            "shaft.bending",
            "Stiffness of the shaft under the drive pulley against bending",
            axle_stiffness,
            youngs_gpa=STEEL,
            diameter_mm=ctx.shaft.diameter,
            reach_mm=self.shaft_reach(ctx, "end.pulley.overhang_mm"),
        )
        half = along(self.lying(ctx).pulley_wrap.n / 2)
        changes = self.changes(ctx, positions)
        pulled = sum(((a + b) * sin(half)) ** 2 + ((a - b) * cos(half)) ** 2 for a, b in pairwise(changes))
        # A cross shaft shares the force with the far side: half of it on each of two pulleys.
        return stiff, pulled / 2 if ctx.design.sides.kind == "cross shaft" else pulled

    def changes(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, ...]:
        """What each run takes or loses of a newton at the point, its cords alone giving."""
        one, two = self.runs(ctx, positions)
        whole = (one + two) * self.gain(ctx)
        return two / whole, -one / whole

    def spring_terms(self, ctx: Context, positions: FloatArray, sagging: bool = True) -> dict[str, Term]:
        mounts = {f"mount{i}": k for i, k in enumerate(self.soft_mounts(ctx).values())}
        tension: dict[str, Term] = {"tension": self.strained(ctx).tension} if sagging else {}
        return {"ea": self.lying(ctx).ea, **tension, **mounts}

    def tight_share(self, ctx: Context) -> Real:
        return self.strained(ctx).share.n

    # ---- what to show --------------------------------------------------------------------------------------

    def pulley_nodes(self, ctx: Context) -> list[DriveNode]:
        """Pulley and belt on the drive line."""
        aim = ctx.design.aim
        speed = ctx.calc(
            "pulley.speed",
            "Speed of the drive pulley",
            motion.shaft_speed,
            speed_mm_s=ctx.given("aim.speed_mm_s"),
            radians_per_mm=ctx.drive.lam_end,
        )
        torque, peak = ctx.drive.torque_end["accelerate"].value, ctx.peaks.peak.value
        return [
            DriveNode(
                "pulley",
                "Pulley",
                "end.pulley",
                "end.pulley.teeth",
                f"{self.pulley.teeth} teeth",
                speed.value,
                "rpm",
                torque,
                "N·m",
                None,
            ),
            DriveNode(
                "belt",
                self.profile(ctx).name,
                "end.belt",
                "end.belt.width_mm",
                f"{self.belt.width_mm:g} mm wide",
                aim.speed_mm_s,
                "mm/s",
                peak,
                "N",
                None,
            ),
        ]

    def idler_node(self, ctx: Context, part: str, label: str, idler: Idler) -> DriveNode:
        """The layout's own idlers on the drive line, with the load on an axle."""
        toothed = idler.kind == "toothed"
        return DriveNode(
            part,
            label,
            "end.idler",
            "end.idler.teeth" if toothed else "end.idler.diameter_mm",
            f"{idler.teeth} teeth" if toothed else f"⌀ {idler.diameter_mm:g} mm",
            ctx.design.aim.speed_mm_s,
            "mm/s",
            self.strained(ctx).idler_load.value,
            "N",
            None,
        )

    def cut(self, ctx: Context) -> list[CutLine]:
        cut = self.strained(ctx).cut
        count = ctx.counts.belts
        return [
            CutLine(
                f"{self.profile(ctx).name}, {self.belt.width_mm:g} mm wide"
                + (f", {count} pieces" if count > 1 else ""),
                cut.length.value or 0.0,
                int(cut.teeth.value or 0),
                f"{int(cut.between.value or 0)} teeth between the clamps, "
                f"{self.clamp.engaged_teeth} held at each end, tails of {self.clamp.tail_mm:g} "
                f"mm to trim",
                "belt.cut",
                f"{self.profile(ctx).name}, {self.belt.width_mm:g} mm wide",
                count,
            )
        ]

    def bands(self, ctx: Context) -> list[Band]:
        one = self._band(ctx)
        if ctx.counts.belts < 2:
            return [one]
        apart = self.may_differ(ctx)
        return [
            replace(one, key=key, name=name, apart=apart, why_apart=self.why_apart)
            for key, name in zip(("1", "2"), self.pair, strict=True)
        ]

    def may_differ(self, ctx: Context) -> Quantity:
        """What the tensions of its two belts may differ by, N, for the error that is allowed: each side's
        travel grows with its own.
        """
        g, lying = ctx.given, self.lying(ctx)
        return ctx.book.put(
            "tension.apart",
            "Both sides may differ by",
            lambda: g("aim.error_mm").n * lying.ea.n / ctx.usable,
            "N",
            equation="e·EA/s",
            source="the pitch grows with strain, Hooke's law; over the whole travel",
            error=g("aim.error_mm"),
            ea=lying.ea,
            travel=ctx.travel if ctx.travel is not None else ctx.usable,
        )

    def trials(self, ctx: Context) -> list[Trial]:
        band = self._band(ctx)
        return trials.of_belt("end", "end.belt", "the belt", band.line_mass, band.ea, band.turn)

    def unsure(self, ctx: Context) -> list[Unsure]:
        ea = self.lying(ctx).ea.value
        found = [] if ea is None else [Unsure("end.belt.ea_n", "the belt's cords", ea, CORDS)]
        for name, mount in self.mounts().items():
            at, words = f"end.{name}.stiffness_n_mm", f"the {_words(name)}"
            if mount.kind == "rigid":
                # Rigid until a reading tells otherwise: far stiffer than the belt, and by how much is open.
                found.append(Unsure(at, words, RIGID_N_MM, GIVES, ((f"end.{name}.kind", "measured"),)))
            elif (k := self.soft_mounts(ctx).get(name)) is not None and k.value:
                found.append(Unsure(at, words, k.value, SOFT, ((f"end.{name}.kind", "measured"),)))
        return found

    def stretched(self, ctx: Context) -> tuple[float | None, float | None]:
        return self.strained(ctx).tension.value, self.lying(ctx).ea.value

    def _band(self, ctx: Context) -> Band:
        lying, strained = self.lying(ctx), self.strained(ctx)
        low, high, target = strained.low, strained.high, self.pluck(ctx)
        return Band(
            name="the belt",
            span_mm=target.span_mm if target else None,
            line_mass=lying.line_mass,
            ea=lying.ea,
            free=lying.free,
            low=low,
            aim=strained.tension,
            high=high,
            advice=strained.advice,
            turn=strained.take_up.turn if strained.take_up else None,
            set_by=KINDS[self.tensioner.kind][1],
            idler_wrap=lying.idler_wrap,
            bending=self.bending(ctx),
            per_k=tautness.per_kelvin(ctx, self.belt, "end.belt", lying.ea),
            ways=("pluck", "push", "thumb", "scale"),
        )

    def pluck(self, ctx: Context) -> PluckTarget | None:
        return loop_build.pluck(self, ctx, self.strained(ctx))

    def belt_bill(self, ctx: Context, idlers: list[tuple[str, Idler, float]]) -> list[BillLine]:
        """Pulley, idlers, belt, clamps and tensioner, once for each side."""
        n = ctx.counts.belts
        metres = self.strained(ctx).cut.length.n / 1000 * n
        name, pitch = self.profile(ctx).name, self.profile(ctx).pitch_mm
        per_m = prices.belt_price_m(self.belt.width_mm, pitch, self.belt.cord != "glass")
        lines = [
            bought(
                self.pulley,
                "Drive pulley",
                f"{name}, {self.pulley.teeth} teeth, bore {self.pulley.bore_mm:g} mm",
                "end.pulley",
                n,
                prices.toothed_price(self.pulley.teeth, pitch, self.pulley.face_mm),
            )
        ]
        listed = [*idlers, *((f"end.rollers.{i}", roller, 1.0) for i, roller in enumerate(self.rollers))]
        for at, idler, count in listed:
            kind = (
                f"{idler.teeth} teeth" if idler.kind == "toothed" else f"smooth, ⌀ {idler.diameter_mm:g} mm"
            )
            lines.append(bought(idler, "Idler", kind, at, count * n, prices.IDLER))
            lines += [
                bought(
                    piece,
                    "Washer",
                    f"{piece.thickness_mm:g} mm",
                    f"{at}.stack.{j}",
                    count * n * piece.quantity,
                    prices.WASHER,
                )
                for j, piece in enumerate(idler.stack)
            ]
        lines.append(
            billed(
                self.belt.label or "Belt",
                f"{name}, {self.belt.width_mm:g} mm, {self.belt.cord} cord",
                metres,
                "m",
                (self.belt.price_per_m, per_m),
                self.belt.in_stock,
                "end.belt",
            )
        )
        lines.append(bought(self.clamp, "Belt clamp", self.clamp.kind, "end.clamp", n, prices.CLAMP))
        if self.tensioner.kind != "none":
            says = f"{self.tensioner.kind}, {self.tensioner.travel_mm:g} mm"
            lines.append(bought(self.tensioner, "Tensioner", says, "end.tensioner", n, prices.TENSIONER))
        return lines

    def work(self, ctx: Context) -> list[WorkStep]:
        return loop_build.work(self, ctx, self.strained(ctx))

    def cautions(self, ctx: Context) -> list[Caution]:
        return loop_build.cautions(self, ctx)
