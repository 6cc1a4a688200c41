"""What takes up the slack: its travel budget, the force in its screw, and how it is set and locked."""

from __future__ import annotations

from collections.abc import Callable

from ..account.context import Context
from ..fields.belts import SCREWED_ON, ShaftTensioner, Tensioner, Tightener
from ..formulas import belt
from ..formulas.threads import (
    pull_on_tensioner,
    screw_force,
    screw_length,
    slot_length,
    tap_drill,
    tension_of_weight,
    tension_per_turn,
    thread_travel,
    turning_torque,
)
from ..ledger.many import most, sin
from ..ledger.quantity import Given, Quantity, Term, bare
from ..ledger.record import record
from . import threads

# What each kind moves, how it is set, and how it is locked afterwards.
KINDS: dict[str, tuple[str, str, str]] = {
    "slotted idler": ("idler", "Lever the idler along its slot with a screwdriver against the frame, then nip its bolt up.", "Tighten the idler's bolt; a stop screw behind it keeps it there."),
    "sliding block": ("idler", "Turn the jack screws a quarter turn at a time, both alike.", "Counter each jack screw with a nut."),
    "threaded rod block": ("idler", "Turn the nut on the threaded rod.", "Counter it with a second nut."),
    "slotted motor plate": ("motor", "Turn the jack screw against the motor plate, its bolts just snug.", "Tighten the plate's bolts crosswise, then counter the jack screw."),
    "swinging arm": ("idler", "Turn the screw that swings the arm.", "Tighten the arm's pivot bolt, then counter the screw."),
    "none": ("clamp", "Draw the belt's end through its clamp by hand, a tooth at a time.", "Tighten the clamp's screws."),
    "movable clamp": ("clamp", "Draw the clamp tab along the carriage with its screw.", "Tighten the tab's bolts, then counter the screw."),
}  # fmt: skip
# The same of what tightens a closed belt.
OF_SHAFTS: dict[str, tuple[str, str, str]] = {
    "slotted plate": ("driver", "Lever the plate along its slot, its bolts just snug.", "Tighten the plate's bolts crosswise."),
    "jack screw": ("driver", "Turn the jack screw against the plate, its bolts just snug.", "Tighten the plate's bolts crosswise, then counter the jack screw."),
    "roller": ("roller", "Press the roller into the belt with its screw.", "Tighten the roller's bolt, then counter the screw."),
    "spring": ("driver", "Let the spring draw the plate, its bolts just snug.", "Tighten the plate's bolts, or leave it sprung with a stop behind it."),
    "hanging motor": ("driver", "Let the motor hang in the belt on its hinge.", "Leave the hinge free, with a stop under the motor."),
    "none": ("nothing", "Lay the belt on with both shafts where they stand.", "Nothing is locked: the distance of the shafts makes the tension."),
}  # fmt: skip
BY_SHAFT = tuple(kind for kind, (moves, _, _) in OF_SHAFTS.items() if moves == "driver")


@record
class TakeUp:
    """What a tensioner takes up: belt for 1 mm of it, stretch of the belt, the travel that it must
    have, the travel that its screw's thread allows where that is known, and the slot to mill for a screw; mm;
    and the tension that a turn of the screw makes, N.
    """

    runs: Quantity
    stretch: Quantity
    demand: Quantity
    thread: Quantity | None
    slot: Quantity | None
    turn: Quantity | None


@record
class Named:
    """Where a tensioner stands: the beginning of its results' keys and of its design path, the field of its
    travel, and what goes behind its rung's label.
    """

    keys: str
    at: str
    travel: str
    behind: str = ""

    @property
    def rung(self) -> str:
        return self.keys.rstrip(".")


OPEN = Named("tensioner.", "end.tensioner.", "end.tensioner.travel_mm")


@record
class Taut:
    """The belt that a tensioner sets: its wrap on what is moved, None where its end is drawn; its stiffness
    EA, the length that stretches, its stretch, its tension, and what whole teeth leave slack.
    """

    wrap: Quantity | None
    ea: Quantity
    length: Quantity
    stretch: Quantity
    tension: Quantity
    slack: Term


def wrap_moved(tensioner: Tensioner, pulley_wrap: Quantity, idler_wrap: Quantity) -> Quantity | None:
    """The belt's wrap on what the tensioner moves; None where it draws the belt's end."""
    return {"motor": pulley_wrap, "idler": idler_wrap}.get(KINDS[tensioner.kind][0])


def budget(
    ctx: Context,
    tensioner: Tightener,
    named: Named,
    belt_: Taut,
    wanted: Callable[[Quantity], Quantity] | None = None,
) -> TakeUp:
    """Travel that is needed and that there is, with its rung; screw, force and turn where it has a screw.
    `wanted` makes of that travel what is asked of a slot whose middle stands where it was wanted.
    """
    g, calc, at, name, wrap = ctx.given, ctx.calc, named.at, named.keys, belt_.wrap
    runs = ctx.book.put(
        f"{name}runs",
        f"Belt taken up for 1 mm of the tensioner{named.behind}",
        lambda: 1.0 if wrap is None else 2 * sin(wrap.n / 2),
        "mm",
        equation="1 at a clamp, 2·sin(α/2) at a pulley",
        source="geometry",
        also={"tension": belt_.tension} if wrap is None else {"wrap": wrap},
    )
    demand = calc(
        f"{name}demand" if wanted is None else f"{name}travel",
        f"Travel that the tensioner must have{named.behind}",
        belt.tensioner_demand,
        slack_mm=belt_.slack,
        stretch_mm=belt_.stretch,
        run_in_mm=g(at + "run_in_mm"),
        removal_mm=g(at + "removal_mm"),
        runs_moved=runs,
    )
    if wanted is not None:
        demand = wanted(demand)
    screw, thread, field = g(at + "screw_mm"), None, named.travel
    have: Term = g(named.travel)
    if tensioner.screw_length_mm is not None and screwed(tensioner):
        thread = calc(
            f"{name}thread",
            f"Travel that the screw's thread allows{named.behind}",
            thread_travel,
            length_mm=g(at + "screw_length_mm"),
            lever=g(at + "lever"),
            through_mm=g(at + "through_mm"),
            screw_mm=screw,
        )
        both: list[tuple[Term, str]] = [(have, named.travel), (thread, at + "screw_length_mm")]
        have, field = ctx.extreme("least", both, f"{name}room", "mm")
    ctx.rung(
        named.rung,
        f"Travel of the tensioner{named.behind}",
        demand,
        have,
        g("assumptions.margin_other"),
        unit="mm",
        section="tension",
        path=field,
        says="A longer screw: its thread ends too soon."
        if field.endswith("screw_length_mm")
        else "A longer slot or screw, or a clamp moved by one tooth."
        if wanted is None
        else "A longer slot, another number of belt teeth, or shafts that stand where the belt wants them.",
    )
    slot = turn = None
    if screwed(tensioner):
        words = f"Slot to mill, at least{named.behind}"
        slot = calc(f"{name}slot", words, slot_length, travel_mm=demand, screw_mm=screw)
        turn = _screw(ctx, named, belt_, runs, demand)
    return TakeUp(runs, belt_.stretch, demand, thread, slot, turn)


def screwed(tensioner: Tightener) -> bool:
    """Whether a screw sets it."""
    return getattr(tensioner, "kind", "") in SCREWED_ON


def pull_at_rest(ctx: Context, named: Named, belt_: Taut) -> Quantity:
    """Pull of the belt on what is moved."""
    if belt_.wrap is None:
        return belt_.tension
    return ctx.calc(
        f"{named.keys}pull",
        f"Pull on the tensioner at rest{named.behind}",
        pull_on_tensioner,
        tension_n=belt_.tension,
        wrap_rad=belt_.wrap,
    )


def _screw(ctx: Context, named: Named, belt_: Taut, runs: Quantity, demand: Quantity) -> Quantity:
    """The screw to buy, the force in it, and what a turn does."""
    g, calc, at, name, behind = ctx.given, ctx.calc, named.at, named.keys, named.behind
    lever, screw = g(at + "lever"), g(at + "screw_mm")
    calc(
        f"{name}screw_length",
        f"Screw to buy, at least{behind}",
        screw_length,
        travel_mm=demand,
        lever=lever,
        through_mm=g(at + "through_mm"),
        screw_mm=screw,
    )
    force = calc(
        f"{name}force",
        f"Force in each screw{behind}",
        screw_force,
        pull_n=pull_at_rest(ctx, named, belt_),
        lever=lever,
        screws=g(at + "screws"),
    )
    calc(
        f"{name}torque", f"Torque that turns the screw{behind}", turning_torque, force_n=force, screw_mm=screw
    )
    pitch = _pitch(ctx, at, bare(screw))
    calc(f"{name}tap", f"Drill for its thread{behind}", tap_drill, diameter_mm=screw, pitch_mm=pitch)
    turn = calc(
        f"{name}turn",
        f"Belt tension for one turn of the screw{behind}",
        tension_per_turn,
        ea_n=belt_.ea,
        length_mm=belt_.length,
        pitch_mm=pitch,
        lever=lever,
        runs_moved=runs,
    )
    ctx.book.put(
        f"{name}per_n",
        f"Turn of the screw for 1 N{behind}",
        lambda: 360 / turn.n,
        "°",
        equation="360°/ΔT",
        source="the turn above",
        turn=turn,
    )
    return turn


def _pitch(ctx: Context, at: str, size: float) -> Given:
    """Pitch of its thread: as entered for a fine one, else the coarse one of its size, metric or inch."""
    own = ctx.given(f"{at}pitch_mm")
    return threads.coarse_pitch(size) if own.value is None else own


def hung(ctx: Context, tensioner: ShaftTensioner, named: Named, wrap: Quantity, motor: Term) -> Quantity:
    """Tension of a belt that its motor hangs in."""
    own = ctx.given(named.at + "hanging_kg")
    return ctx.calc(
        f"{named.keys}gives",
        f"Tension that the hanging motor gives{named.behind}",
        tension_of_weight,
        mass_kg=motor if tensioner.hanging_kg is None else own,
        lever=ctx.given(named.at + "lever"),
        wrap_rad=wrap,
    )


def step_of_a_tooth(
    ctx: Context,
    ea: Quantity,
    length: Quantity,
    pitch: Term,
    tension: Quantity,
    low: Quantity,
    high: Quantity,
) -> None:
    """Without a tensioner an open belt is set by whole teeth: what one makes of its tension, and whether a
    step stays within the band.
    """
    step = ctx.calc(
        "tensioner.tooth",
        "Tension that one tooth of belt makes",
        belt.tension_of_stretch,
        ea_n=ea,
        longer_mm=pitch,
        length_mm=length,
    )
    room = ctx.book.put(
        "tensioner.band",
        "Width of the tension band",
        lambda: most(high.n - low.n, 0.0),
        "N",
        equation="T_high − T_low",
        source="what the belt needs and what holds it",
        low=low,
        high=high,
        tension=tension,
    )
    ctx.rung(
        "tensioner",
        "Without a tensioner a tooth hits the band",
        step,
        room,
        1.0,
        unit="N",
        section="tension",
        path="end.tensioner.kind",
        says="A tensioner: one tooth of belt changes the tension by more than its band is wide.",
    )
