"""What every end driven through an open belt has in common: ratings, springs, what it costs and how it is
built.
"""

from __future__ import annotations

from dataclasses import replace

from ...account.context import Context
from ...account.found import OutputShaft, Pulled, Seat
from ...account.report import BillLine, Caution, CutLine, DriveNode, PluckTarget, WorkStep
from ...fields.belts import Idler, Mount, Pulley
from ...formulas import motion, springs
from ...formulas.springs import Network, Spring
from ...formulas.tension import hanging_give
from ...geometry.route import Laid
from ...ledger.formula import Real
from ...ledger.many import along, most
from ...ledger.quantity import Given, Quantity, Term
from ..stages.contract import bought
from . import loop_build, strain
from .contract import Band, FloatArray, Moving
from .open_belt import OpenBelt
from .strain import Strained


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
        return [
            Pulled(
                f"end.{n}",
                n.replace("_", " "),
                m,
                (strained.idler_load if n == "idler_mount" else strained.shaft_load).value,
            )
            for n, m in self.mounts().items()
        ]

    # ---- what gives ----------------------------------------------------------------------------------------

    def mount_stiffness(self, ctx: Context, mount: Mount, at: str, label: str) -> Quantity | Given | None:
        """Stiffness of a mount in N/mm; None for a rigid one."""
        g = ctx.given
        if mount.kind == "rigid":
            return None
        if mount.kind == "measured":
            return g(f"{at}.stiffness_n_mm")
        modulus = springs.MATERIALS[mount.material][0]
        return ctx.calc(
            f"{at}.stiffness",
            f"Stiffness of the {label}",
            springs.plate_stiffness,
            youngs_gpa=Given(f"{at}.material", modulus, "GPa", "estimate", mount.material),
            width_mm=g(f"{at}.width_mm"),
            thickness_mm=g(f"{at}.thickness_mm"),
            overhang_mm=g(f"{at}.overhang_mm"),
        )

    def soft_mounts(self, ctx: Context) -> dict[str, Quantity | Given]:
        """Stiffness of every mount that gives, N/mm."""
        found = {
            n: self.mount_stiffness(ctx, m, f"end.{n}", n.replace("_", " ")) for n, m in self.mounts().items()
        }
        return {n: k for n, k in found.items() if k is not None}

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

    def belt_springs(
        self, ctx: Context, positions: FloatArray, pulley: str, nodes: list[str], sagging: bool
    ) -> list[Spring]:
        """Both runs between the carriage and a pulley node, with what the mounts do to each; a pulley that is
        held is no node.
        """
        gain = self.gain(ctx)
        run_1, run_2 = (1 / give for give in self.run_gives(ctx, positions, sagging))

        def reach(**coefficients: float) -> tuple[float, ...]:
            return tuple(coefficients.get(n, 0.0) for n in nodes)

        return [
            Spring("belt", "Belt", run_1, reach(carriage=gain, motor_mount=-1, **{pulley: -gain})),
            Spring(
                "belt", "Belt", run_2, reach(carriage=-gain, motor_mount=-1, idler_mount=2, **{pulley: gain})
            ),
        ]

    def held(
        self, ctx: Context, positions: FloatArray, far_side: Quantity | None, sagging: bool = True
    ) -> Network:
        mounts, rate = self.soft_mounts(ctx), self.tensioner.spring_n_mm
        soft = {n: k.n for n, k in mounts.items()}
        if rate is not None:
            soft["idler_mount"] = 1 / (1 / rate + (1 / soft["idler_mount"] if "idler_mount" in soft else 0.0))
        gain = self.gain(ctx)
        nodes = ["carriage", *soft, *([] if far_side is None else ["cross_shaft"])]

        def reach(**coefficients: float) -> tuple[float, ...]:
            return tuple(coefficients.get(n, 0.0) for n in nodes)

        made = self.belt_springs(ctx, positions, "pulley", nodes, sagging)
        if far_side is not None:
            made += self.belt_springs(ctx, positions, "cross_shaft", nodes, sagging)
            shaft = along(far_side.n)
            made.append(Spring("cross_shaft", "Cross shaft and couplers", shaft, reach(cross_shaft=gain)))
        labels = {
            "motor_mount": "Motor mount",
            "idler_mount": "Idler mount" if rate is None else "Sprung tensioner",
        }
        made += [Spring(n, labels[n], along(k), reach(**{n: 1})) for n, k in soft.items()]
        return Network(tuple(made), reach(carriage=1))

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
            )
        ]

    def band(self, ctx: Context) -> Band:
        lying, strained = self.lying(ctx), self.strained(ctx)
        low, high = strained.low, strained.high
        return Band(
            line_mass=lying.line_mass,
            ea=lying.ea,
            free=lying.free,
            low=low,
            aim=strained.tension,
            high=high,
            advice=strained.advice,
            idler_wrap=lying.idler_wrap,
            bending=self.bending(ctx),
        )

    def pluck(self, ctx: Context) -> PluckTarget | None:
        return loop_build.pluck(self, ctx, self.strained(ctx))

    def belt_bill(self, ctx: Context, idlers: list[tuple[str, Idler, float]]) -> list[BillLine]:
        """Pulley, idlers, belt, clamps and tensioner, once for each side."""
        n = ctx.counts.belts
        metres = self.strained(ctx).cut.length.n / 1000 * n
        per_m, name = self.belt.price_per_m, self.profile(ctx).name
        lines = [
            bought(
                self.pulley,
                "Drive pulley",
                f"{name}, {self.pulley.teeth} teeth, bore {self.pulley.bore_mm:g} mm",
                "end.pulley",
                n,
            )
        ]
        listed = [*idlers, *((f"end.rollers.{i}", roller, 1.0) for i, roller in enumerate(self.rollers))]
        for at, idler, count in listed:
            kind = (
                f"{idler.teeth} teeth" if idler.kind == "toothed" else f"smooth, ⌀ {idler.diameter_mm:g} mm"
            )
            lines.append(bought(idler, "Idler", kind, at, count * n))
            lines += [
                bought(
                    piece,
                    "Washer",
                    f"{piece.thickness_mm:g} mm",
                    f"{at}.stack.{j}",
                    count * n * piece.quantity,
                )
                for j, piece in enumerate(idler.stack)
            ]
        total = None if per_m is None else per_m * metres
        lines.append(
            BillLine(
                self.belt.label or "Belt",
                f"{name}, {self.belt.width_mm:g} mm, {self.belt.cord} cord",
                round(metres, 3),
                "m",
                per_m,
                total,
                self.belt.in_stock,
                "end.belt",
            )
        )
        lines.append(bought(self.clamp, "Belt clamp", self.clamp.kind, "end.clamp", n))
        lines.append(
            bought(
                self.tensioner,
                "Tensioner",
                f"{self.tensioner.kind}, {self.tensioner.travel_mm:g} mm",
                "end.tensioner",
                n,
            )
        )
        return lines

    def work(self, ctx: Context) -> list[WorkStep]:
        return loop_build.work(self, ctx, self.strained(ctx))

    def cautions(self, ctx: Context) -> list[Caution]:
        return loop_build.cautions(self, ctx)
