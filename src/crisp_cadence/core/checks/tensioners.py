"""What takes up the slack: its travel budget, the force in its screw, and how it is set and locked."""

from __future__ import annotations

from ..account.context import Context
from ..fields.belts import Tensioner
from ..formulas import belt
from ..formulas.threads import (
    COARSE_PITCH_MM,
    pull_on_tensioner,
    screw_force,
    screw_length,
    slot_length,
    tension_per_turn,
    thread_travel,
    turning_torque,
)
from ..ledger.many import sin
from ..ledger.quantity import Given, Quantity, Term
from ..ledger.record import record

# What each kind moves, how it is set, and how it is locked afterwards.
KINDS: dict[str, tuple[str, str, str]] = {
    "slotted idler": ("idler", "Lever the idler along its slot with a screwdriver against the frame, then nip its bolt up.", "Tighten the idler's bolt; a stop screw behind it keeps it there."),
    "sliding block": ("idler", "Turn the jack screws a quarter turn at a time, both alike.", "Counter each jack screw with a nut."),
    "threaded rod block": ("idler", "Turn the nut on the threaded rod.", "Counter it with a second nut."),
    "slotted motor plate": ("motor", "Turn the jack screw against the motor plate, its bolts just snug.", "Tighten the plate's bolts crosswise, then counter the jack screw."),
    "swinging arm": ("idler", "Turn the screw that swings the arm.", "Tighten the arm's pivot bolt, then counter the screw."),
    "movable clamp": ("clamp", "Draw the clamp tab along the carriage with its screw.", "Tighten the tab's bolts, then counter the screw."),
}  # fmt: skip


@record
class TakeUp:
    """What a tensioner takes up: belt for 1 mm of it, stretch of the belt, the travel that it must
    have, the travel that its screw's thread allows where that is known, and the slot to mill; mm.
    """

    runs: Quantity
    stretch: Quantity
    demand: Quantity
    thread: Quantity | None
    slot: Quantity


def wrap_moved(tensioner: Tensioner, pulley_wrap: Quantity, idler_wrap: Quantity) -> Quantity | None:
    """The belt's wrap on what the tensioner moves; None where it draws the belt's end."""
    return {"motor": pulley_wrap, "idler": idler_wrap}.get(KINDS[tensioner.kind][0])


def budget(
    ctx: Context,
    tensioner: Tensioner,
    wrap: Quantity | None,
    ea: Quantity,
    free: Quantity,
    tension: Quantity,
    slack: Quantity,
    stretch: Quantity,
) -> TakeUp:
    """Travel that is needed and that there is, with its rung; screw, force and turn."""
    g, calc = ctx.given, ctx.calc
    at = "end.tensioner."
    runs = ctx.book.put(
        "tensioner.runs",
        "Belt taken up for 1 mm of the tensioner",
        lambda: 1.0 if wrap is None else 2 * sin(wrap.n / 2),
        "mm",
        equation="1 at a clamp, 2·sin(α/2) at a pulley",
        source="geometry",
        also={"tension": tension} if wrap is None else {"wrap": wrap},
    )
    demand = calc(
        "tensioner.demand",
        "Travel that the tensioner must have",
        belt.tensioner_demand,
        slack_mm=slack,
        stretch_mm=stretch,
        run_in_mm=g(at + "run_in_mm"),
        removal_mm=g(at + "removal_mm"),
        runs_moved=runs,
    )
    lever, through, screw = g(at + "lever"), g(at + "through_mm"), g(at + "screw_mm")
    have: Term = g(at + "travel_mm")
    field, thread = "travel_mm", None
    if tensioner.screw_length_mm is not None:
        thread = calc(
            "tensioner.thread",
            "Travel that the screw's thread allows",
            thread_travel,
            length_mm=g(at + "screw_length_mm"),
            lever=lever,
            through_mm=through,
            screw_mm=screw,
        )
        both = [(have, "travel_mm"), (thread, "screw_length_mm")]
        have, field = ctx.extreme("least", both, "tensioner.room", "mm")
    ctx.rung(
        "tensioner",
        "Travel of the tensioner",
        demand,
        have,
        g("assumptions.margin_other"),
        unit="mm",
        section="tension",
        path=at + field,
        says="A longer screw: its thread ends too soon."
        if field == "screw_length_mm"
        else "A longer slot or screw, or a clamp moved by one tooth.",
    )
    calc(
        "tensioner.screw_length",
        "Screw to buy, at least",
        screw_length,
        travel_mm=demand,
        lever=lever,
        through_mm=through,
        screw_mm=screw,
    )
    slot = calc("tensioner.slot", "Slot to mill, at least", slot_length, travel_mm=demand, screw_mm=screw)
    pull: Quantity = (
        tension
        if wrap is None
        else calc(
            "tensioner.pull",
            "Pull on the tensioner at rest",
            pull_on_tensioner,
            tension_n=tension,
            wrap_rad=wrap,
        )
    )
    force = calc(
        "tensioner.force",
        "Force in each screw",
        screw_force,
        pull_n=pull,
        lever=lever,
        screws=g(at + "screws"),
    )
    calc("tensioner.torque", "Torque that turns the screw", turning_torque, force_n=force, screw_mm=screw)
    pitch = Given(
        "catalogue.coarse_pitch",
        COARSE_PITCH_MM.get(tensioner.screw_mm),
        "mm",
        "standard",
        f"ISO 261 coarse pitch of M{tensioner.screw_mm:g}",
    )
    turn = calc(
        "tensioner.turn",
        "Belt tension for one turn of the screw",
        tension_per_turn,
        ea_n=ea,
        length_mm=free,
        pitch_mm=pitch,
        lever=lever,
        runs_moved=runs,
    )
    ctx.book.put(
        "tensioner.per_n",
        "Turn of the screw for 1 N",
        lambda: 360 / turn.n,
        "°",
        equation="360°/ΔT",
        source="the turn above",
        turn=turn,
    )
    return TakeUp(runs, stretch, demand, thread, slot)
