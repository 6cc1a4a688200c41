"""Steps of work at every motor: to its mount, its bolts, a brake on its shaft."""

from __future__ import annotations

from ..account.context import Context
from ..account.report import WorkStep
from ..ledger.amounts import said
from .joining import bolted_at, moves_motor
from .reach import Front, flange_of, front, hex_key
from .work_steps import METER, before_the_trial


def motor_on(at: str, ctx: Context, check: str = "") -> WorkStep:
    """The motor to its mount, loose."""
    _told_of_hidden_bolts(ctx)
    each = "each motor" if ctx.counts.motors > 1 else "the motor"
    joined = " with its gearbox" if len(ctx.design.chain) > 1 and ctx.design.chain[1].carries else ""
    flange = flange_of(ctx)
    square = f" Bolt square {said(flange.bolts_mm, 'mm')}." if flange else ""
    mirrored = " The second is the mirror image of the first: look which way its plug points."
    return WorkStep(
        "motor_on",
        f"Bolt {each}{joined} to its mount; leave the bolts loose.{square}"
        + (mirrored if ctx.counts.motors > 1 else ""),
        "loose",
        after=("parts", "mount", "motor ready"),
        gives=("motor",),
        fastens=("motor",),
        needs=(at,),
        check=check,
        tools=(hex_key(flange.screw_mm if flange else None),),
        side="from the plate's front, past the shaft",
        access=_bolts_reached(ctx),
    )


def _bolts_reached(ctx: Context) -> str:
    """What sits before the motor's bolts, and what follows from that."""
    before = front(ctx)
    if before is None:
        return "Try the key on every bolt now: what sits on the shaft may stand before one."
    rim = _rim(before)
    if before.reached:
        hole, room = said(before.boss_mm, "mm"), said(before.room_mm, "mm", ".2g")
        bare = f" Bolt it without: the hole for its boss is ⌀ {hole} only." if not before.passes else ""
        return f"What sits on the shaft, {rim}, leaves the key {room} of room.{bare}"
    hidden = f"What goes on the shaft, {rim}, stands over the bolts"
    if not moves_motor(ctx):
        return f"{hidden}: they are tightened before it goes on."
    return (
        f"{hidden}, and the motor is to be moved with it in place: bore holes for the key through its web, "
        f"or turn the bolts round where the flange is drilled through."
    )


def _told_of_hidden_bolts(ctx: Context) -> None:
    """A note where the belt is tightened by moving a motor whose bolts its own pulley hides."""
    before = front(ctx)
    if before is None or before.reached or not moves_motor(ctx):
        return
    j = bolted_at(ctx) + 1
    mover = f"chain.{j}" if j < len(ctx.design.chain) else "end"
    ctx.note(
        "belt",
        f"{mover}.tensioner.kind",
        f"The belt is tightened by moving the motor, and its pulley ({_rim(before)}) hides the motor's "
        f"bolts: take a tensioner that moves something else, fewer teeth, or a larger frame.",
    )


def _rim(before: Front) -> str:
    return f"a rim of ⌀ {said(before.rim_mm, 'mm', '.3g')}"


def motor_tight(ctx: Context) -> list[WorkStep]:
    """The motor's bolts, unless what it drives moves it and tightens it then."""
    if moves_motor(ctx):
        return []
    whose = "each motor's" if ctx.counts.motors > 1 else "the motor's"
    before = front(ctx)
    hidden = before is not None and not before.reached
    return [
        WorkStep(
            "motor_tight",
            f"Tighten {whose} bolts crosswise." + before_the_trial(ctx),
            "tightened",
            after=("motor",) if hidden else ("motor", "in line"),
            gives=("motor tight", "joined"),
            fastens=("motor",),
            tools=("hex keys",),
            side="from the plate's front, past the shaft",
            access="What goes on the shaft hides them afterwards: line the mount up now." if hidden else "",
        )
    ]


def brake_on(ctx: Context) -> list[WorkStep]:
    """A brake, where one is asked for."""
    if ctx.design.aim.brake_n is None:
        return []
    each = "each motor's" if ctx.counts.motors > 1 else "the motor's"
    return [
        WorkStep(
            "brake_on",
            f"Fit the brake on {each} rear shaft, and wire it so that it closes when the power goes.",
            "tightened",
            after=("motor",),
            gives=("wired",),
            fastens=("brake",),
            needs=("aim.brake",),
            rests=("brake.torque",),
            check="With its supply off the shaft does not turn by hand; with it on it turns freely.",
            caution="Prop what could fall until the brake has been tried under its load.",
            tools=("hex keys", METER),
        )
    ]
