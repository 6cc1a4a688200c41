"""What the end of a chain tells the rest of the program: how turning becomes travel, and everything that
follows there.

Every end speaks in millimetres of its own point: the carriage, the tip of an arm, the rim of a wheel, the
hanging load. So one chain, one network of springs and one ladder serve all of them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, TypeVar

import numpy as np
from numpy.typing import NDArray

from ...account.context import Context
from ...account.found import ONE_EACH, Band, Counts, OutputShaft, Pulled, Repeat, Seat, Trial, Unsure
from ...account.report import BillLine, Caution, CutLine, DriveNode, PluckTarget, Table, WorkStep
from ...checks import friction, shafts
from ...checks.travel import rail_travel
from ...fields.axis import Axis
from ...fields.belts import Pulley
from ...fields.part import Part
from ...formulas import dynamics, motion, springs
from ...formulas.running import axle_tilt, life_at_limit
from ...formulas.springs import Network
from ...geometry.route import Laid
from ...geometry.scene import Scene
from ...ledger.formula import Real
from ...ledger.many import along, pick
from ...ledger.quantity import Given, Quantity, Term

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Moving:
    """How the end turns shaft into travel, and what it moves besides the tally.

    `motor_share` is the part of the force that one motor carries at worst, `belt_share` the part that one
    belt does; `motors` is how many chains pull side by side, `counts` how many there are.
    """

    lam: Quantity
    efficiency: Term
    carried_mass: Quantity
    turning_mass: Quantity
    efficiency_back: Term | None = None
    motor_share: float = 1.0
    motors: float = 1.0
    belt_share: float = 1.0
    backlash_mm: Term = 0.0
    counts: Counts = ONE_EACH


@dataclass(frozen=True)
class Sweep:
    """How far from its pivot an arm comes, mm: level to either side, the way it points and beside that, and
    below and above.
    """

    along_mm: float
    beside_mm: float
    below_mm: float
    above_mm: float


STEEL = Given("catalogue.shaft", springs.MATERIALS["steel"][0], "GPa", "estimate", "steel shaft")
A = TypeVar("A", bound=Axis)
# Part, label, what it hangs on, and N/mm: one number, or one for each place along the travel.
OwnSpring = tuple[str, str, Term, Real]


class End(Part):
    """Last part of every chain."""

    kind: str
    point: ClassVar[str] = "carriage"
    guided: ClassVar[bool] = True
    straight: ClassVar[bool] = (
        False  # a straight axis: it may have two driven sides, and is compared with other ways
    )
    sloped: ClassVar[bool] = False  # a slope matters to it, though no guide leads it
    placed: ClassVar[bool] = False  # it stands at a place that only a motor that knows its own can give it
    rides: ClassVar[bool] = False  # motor and stages ride along with the point
    SINGLY: ClassVar[bool] = False  # it is worked out design by design, never in columns
    turning: ClassVar[bool] = False  # it turns for hours, which a stepper is not made for
    # Of two belts: what each is called, and what it does where they differ by more than they may.
    sets_motor: ClassVar[bool] = False  # a motor that drives it directly is set and tightened by it
    pair: ClassVar[tuple[str, str]] = ("the first side's belt", "the second side's belt")
    why_apart: ClassVar[str] = "Steps per millimetre of the two sides part, and the beam leaves its square."
    IDLE: ClassVar[tuple[str, ...]] = ()  # beginnings of the fields elsewhere that count for nothing here
    AIMS: ClassVar[dict[str, str]] = {}  # by fields of the aim those of the end that stand in for them
    # What of the results belongs to each of its parts on the drive line, by the beginning of their keys; the
    # part's own path if not said.
    shows: ClassVar[dict[str, tuple[str, ...]]] = {}

    def cases(self, design: Axis) -> tuple[str, ...]:
        """Directions or settings that are worked out one by one; the worst governs."""
        return ("",)

    def aimed(self, design: A, case: str) -> A:
        """The design with what is aimed at in a case, where the end has an aim of its own instead of what the
        fields named in `AIMS` say.
        """
        return design

    def check(self, ctx: Context) -> None:
        """Problems between fields, told to `ctx.stop`."""

    def travel(self, ctx: Context) -> Quantity | None:
        """Usable travel of the point, with its rung; None where there is no end to it."""
        return rail_travel(ctx)

    def moving(self, ctx: Context) -> Moving:
        """Radians per millimetre at the input shaft and the masses that move."""
        raise NotImplementedError

    def lifted(self, ctx: Context, tally: Quantity) -> Quantity:
        """What weighs on the guide, kg: the tally, and what else rides on it."""
        return tally

    def loads(self, ctx: Context, mass: Quantity, slope: Quantity) -> tuple[Quantity, Quantity]:
        """Weight along the travel and drag, N, at their worst within the travel."""
        g = ctx.given
        weight = ctx.calc(
            "force.weight", "Weight along the slope", dynamics.slope_force, mass_kg=mass, slope_rad=slope
        )
        drag = ctx.calc(
            "force.drag",
            "Drag of the guide",
            dynamics.guide_drag,
            mass_kg=mass,
            friction=friction.of_guide(ctx, "guide.friction"),
            slope_rad=slope,
            drag_n=g("guide.drag_n"),
        )
        return weight, drag

    def over_shaft(self, ctx: Context) -> Term | None:
        """Diameter, mm, of what it puts on the last shaft; None where that hides nothing, or where it is not
        known.
        """
        return None

    def overhang(self) -> str | None:
        """Design path of how far out on the last shaft its pull acts; None where it does not pull
        sideways.
        """
        return None

    def meshes(self, ctx: Context, lam: Quantity) -> Quantity | None:
        """Stiffness of the belt's teeth in its drive pulley as the point feels it, N/mm; None where there are
        none, or nothing is known of them.
        """
        return None

    def holds_shaft_before(self) -> bool:
        """Whether a mount of its own holds the last shaft."""
        return False

    def moves_shaft_before(self) -> str | None:
        """What must have been done, where it moves the last shaft to tighten a belt; None where it moves
        none.
        """
        return None

    def goes_with(self, design: Axis, path: str) -> dict[str, float]:
        """Fields that grow with another, and by how much each is more than it."""
        return {}

    def positions(self, ctx: Context, count: int) -> Real:
        """Places along the travel, from its near end, at which the rest is worked out."""
        length = pick(ctx.usable > 0, ctx.usable, 1.0)
        return np.arange(count, dtype=np.float64) * along(length / (count - 1))

    def forces(self, ctx: Context) -> None:
        """Everything that follows from the peak force: tension, ratings, grip, loads; writes rungs."""

    def shaft_rung(self, ctx: Context, label: str, load: Quantity, says: str) -> None:
        """What pulls sideways on the last shaft, against what it bears."""
        if ctx.shaft.pulled is not None:
            own, before = load, ctx.shaft.pulled()
            load = ctx.book.put(
                "shaft.load",
                "Load on the last shaft from both sides",
                lambda: own.n + before.n,
                "N",
                equation="F_end + F_stage",
                source="both pull the same way at worst",
                end=own,
                stage=before,
            )
        overhang = self.overhang()
        ctx.rung(
            "shaft_load",
            label,
            load,
            ctx.shaft.radial_limit,
            1.0,
            unit="N",
            section="end",
            path=overhang or "end",
            says=says,
            advisory=True,
        )
        life = ctx.calc(
            "shaft.life",
            "Hours that the bearing of the drive shaft lasts",
            life_at_limit,
            limit_n=ctx.shaft.radial_limit,
            load_n=load,
        )
        ctx.rung(
            "shaft_life",
            "Life of the drive shaft's bearing",
            ctx.given("assumptions.bearing_life_h"),
            life,
            1.0,
            unit="h",
            section="end",
            path=overhang or "end",
            says="Bring the pull nearer to the bearing, give the shaft an outboard bearing, or look at it "
            "again after that time.",
            advisory=True,
        )
        if overhang is None:
            return
        reach = self.shaft_reach(ctx, overhang)
        tilt = ctx.calc(
            "shaft.tilt",
            "Tilt of the shaft where it is pulled",
            axle_tilt,
            force_n=load,
            youngs_gpa=STEEL,
            diameter_mm=ctx.shaft.diameter,
            reach_mm=reach,
        )
        ctx.rung(
            "shaft_tilt",
            "Shaft stays square where it is pulled",
            tilt,
            ctx.given("assumptions.tilt_limit"),
            1.0,
            unit="°",
            section="end",
            path=overhang,
            says="Bring the pull nearer to the bearing, a thicker shaft, or an outboard bearing.",
            lower_is_better=True,
            advisory=True,
        )

        names = ("shaft.bears", "shaft_bending", "Shaft bears its bending, turning")
        shafts.bears_bending(ctx, names, load, ctx.shaft.diameter, reach, overhang, "end")

    def shaft_reach(self, ctx: Context, overhang: str) -> Quantity:
        """How far from its shaft's front bearing it pulls."""
        return ctx.once(self._shaft_reach, overhang)

    def _shaft_reach(self, overhang: str, ctx: Context) -> Quantity:
        return shafts.reach(ctx, "shaft.reach", "Pull from the shaft's front bearing", overhang)

    def own_springs(self, ctx: Context, positions: FloatArray) -> list[OwnSpring]:
        """Springs of the end itself, in series behind the chain."""
        return []

    def held(
        self, ctx: Context, positions: FloatArray, far_side: Quantity | None, sagging: bool = True
    ) -> Network:
        """What of the end gives while its drive is held, at the positions; asked for only where nothing of
        `spring_terms` is missing. Without `sagging` as if its belt hung straight, before its tension is
        known.

        `far_side` is the shaft that crosses to the other side of a gantry, N/mm, where there is one.
        """
        own = [(part, label, k) for part, label, _, k in self.own_springs(ctx, positions)]
        if far_side is None:
            return Network.in_series(own)
        shaft = ("cross_shaft", "Cross shaft and couplers", along(far_side.n))
        return Network.side_by_side([own, [shaft, *own]] if own else [[shaft]])

    def bends(self, ctx: Context, positions: FloatArray) -> tuple[Quantity, FloatArray] | None:
        """Stiffness of the last shaft against bending, N/mm, and at each place how much of a newton at the
        point pulls it sideways, squared; None where nothing does.
        """
        return None

    def spring_terms(self, ctx: Context, positions: FloatArray, sagging: bool = True) -> dict[str, Term]:
        """What the springs of the end rest on."""
        return {f"own_{part}": k for part, _, k, _ in self.own_springs(ctx, positions)}

    def tight_share(self, ctx: Context) -> Real:
        """Share of the peak force that tightens its belt beyond the tension set; 0 without a belt."""
        return 0.0

    def shaft_node(self, ctx: Context, key: str, part: str, label: str, field: str, main: str) -> DriveNode:
        """An entry of the drive line for what sits on the last shaft: its speed (written down under `key`)
        and torque.
        """
        rpm = ctx.calc(
            key,
            f"Speed of the {label.lower()}",
            motion.shaft_speed,
            speed_mm_s=ctx.given("aim.speed_mm_s"),
            radians_per_mm=ctx.drive.lam_end,
        )
        torque = ctx.drive.torque_end["accelerate"].value
        return DriveNode(part, label, "end", field, main, rpm.value, "rpm", torque, "N·m", None)

    def drive_nodes(self, ctx: Context) -> list[DriveNode]:
        """Its entries on the drive line, without the moving point itself."""
        raise NotImplementedError

    def scene(self, ctx: Context) -> Scene | None:
        """The drawing to true scale."""
        return None

    def laid(self, ctx: Context) -> list[Laid]:
        """Its toothed belts as they are laid."""
        return []

    def taut(self, ctx: Context) -> list[Laid]:
        """The same belts with the tension that they are set to, once the forces are known."""
        return self.laid(ctx)

    def on_shafts(self) -> list[tuple[str, Pulley]]:
        """Its pulleys that sit on the last shaft, by design path."""
        return []

    def seats(self, ctx: Context, before: OutputShaft) -> list[Seat]:
        """The same pulleys under load."""
        return []

    def pulled(self, ctx: Context) -> list[Pulled]:
        """Its mounts under load."""
        return []

    def own_motors(self) -> int:
        """How many motors one side of it has, each with a chain of its own."""
        return 1

    def roller_origin(self, ctx: Context) -> tuple[float, float]:
        """Where the coordinates of further rollers begin, in the drawing's own."""
        return 0.0, 0.0

    def tables(self, ctx: Context) -> list[Table]:
        """What is best read as a table."""
        return []

    def cut(self, ctx: Context) -> list[CutLine]:
        """What to cut."""
        return []

    def bands(self, ctx: Context) -> list[Band]:
        """The band of each of its belts that is tensioned, each side's by itself."""
        return []

    def pluck(self, ctx: Context) -> PluckTarget | None:
        """How to measure the tension."""
        return None

    def repeats(self, ctx: Context) -> list[Repeat]:
        """What of it comes again along the travel; nothing where that says nothing."""
        return []

    def beam(self) -> tuple[float, float] | None:
        """Width of a beam that its own belts hold square, mm, and how far the head goes along it."""
        return None

    def swing(self) -> Sweep | None:
        """Room that it takes up over the whole of its swing; None where its point goes along a line."""
        return None

    def lead_per_n(self, ctx: Context) -> float | None:
        """How far a newton of difference between its belts takes the second end of the beam ahead, mm."""
        return None

    def degree_mm(self, ctx: Context) -> float | None:
        """Way of the point for one degree, mm, where it is commanded by its angle; None by its way."""
        return None

    def stretched(self, ctx: Context) -> tuple[float | None, float | None]:
        """Tension of the belt whose own length measures the travel, and its EA, N; none where none does."""
        return None, None

    def unsure(self, ctx: Context) -> list[Unsure]:
        """What of it gives or weighs by a number that nobody knows well."""
        return []

    def trials(self, ctx: Context) -> list[Trial]:
        """What of it is tried with a gauge, a scale or a watch."""
        return []

    def bill(self, ctx: Context) -> list[BillLine]:
        """What it adds to the bill."""
        return []

    def work(self, ctx: Context) -> list[WorkStep]:
        """What it adds to the order of work."""
        return []

    def cautions(self, ctx: Context) -> list[Caution]:
        """What it adds to the cautions."""
        return []
