"""Carriage loop: how to measure its tension, the order of work, and its cautions."""

from __future__ import annotations

from ...account.context import Context
from ...account.report import Caution, PluckTarget, WorkStep
from ...checks.tensioners import KINDS
from ...formulas import belt
from ...formulas import tension as of_tension
from ...ledger.amounts import said
from ...ledger.many import least, sin
from ...ledger.quantity import Quantity, missing_in
from ..joining import behind, holds_end, stands_alone
from ..reach import onto_shaft
from ..work_steps import (
    AID,
    EDGE,
    EYES,
    SPANNER,
    across,
    after_the_run,
    before_the_trial,
    guarded,
    guards,
    hub_key,
    lay_out,
    plates_first,
    push_by_hand,
    rails,
    scale_by,
    shaft_tight,
    slow_run,
    square,
)
from .open_belt import OpenBelt
from .strain import Strained

# below about 60 Hz a plucked run is hard to hear and to record; the low end of the band must be above it too
GOOD_PITCH_HZ = 75.0
SOFT_PLASTICS = ("PLA", "PETG", "acrylic")


def pluck(end: OpenBelt, ctx: Context, strained: Strained) -> PluckTarget | None:
    """Pick the longest direct run that still sounds, and say how it should sound and how hard it is to push
    aside.

    A long run is the more accurate one to push; a short one sounds higher. The carriage is put where run 1 is
    as long as it can be while it sounds at 75 Hz; that is at the far end when even the whole run does.
    """
    lying, tension = end.lying(ctx), strained.tension
    line_mass = lying.line_mass
    if tension.value is None or line_mass.value is None:
        return None
    run, shortest = end.plucked(ctx)
    longest = shortest + ctx.usable
    sounding = (tension.value / (line_mass.value / 1000)) ** 0.5 / (2 * GOOD_PITCH_HZ) * 1000
    length = float(min(max(sounding, shortest), longest))
    span = ctx.book.put(
        "pluck.span",
        "Run to pluck",
        length,
        "mm",
        equation="min(max(L at 75 Hz, shortest run), longest run)",
        source_kind="common practice",
        source="a pitch below about 60 Hz is hard to hear and to record",
        tension=tension,
        line_mass=line_mass,
    )
    aside = ctx.book.put(
        "pluck.push",
        "How far to push it aside",
        lambda: least(span.n / 40, of_tension.widest_push(tension.n, lying.ea.n, span.n, lying.free.n)),
        "mm",
        equation="min(L/40, L·√(0.1·(T/EA)·L_free/L))",
        source_kind="common practice",
        source="easy to see against a ruler, and so little that the belt's stretch stays small",
        free=lying.free,
        span=span,
        tension=tension,
        ea=lying.ea,
    )
    swing = ctx.calc(
        "pluck.swing",
        "Swing that raises the tension read by a fiftieth",
        of_tension.soft_pluck,
        tension_n=tension,
        ea_n=lying.ea,
        span_mm=span,
    )
    bending = end.bending(ctx)
    tones: dict[str, Quantity] = {}
    pushes: dict[str, Quantity] = {}
    low, high = strained.low, strained.high
    ends = [("low", "at the lower end", low), ("high", "at the upper end", high)]
    if missing_in([low, high]) or high.n < low.n:
        ends = []  # no tension is right: there is no band to aim within
    for name, label, force in (("target", "at the tension to set", tension), *ends):
        raised = ctx.calc(
            f"pluck.{name}_raised",
            f"How much its stiffness raises the pitch {label}",
            of_tension.pitch_raised,
            tension_n=force,
            bending_n_mm2=bending,
            span_mm=span,
        )
        tones[name] = ctx.calc(
            f"pluck.{name}",
            f"Pitch of the run {label}",
            of_tension.belt_pitch,
            tension_n=force,
            line_mass_g_m=line_mass,
            span_mm=span,
            raised=raised,
        )
        pushes[name] = ctx.calc(
            f"push.{name}",
            f"Force at mid run {label}",
            belt.deflection_force,
            tension_n=force,
            ea_n=lying.ea,
            deflection_mm=aside,
            span_mm=span,
            free_length_mm=lying.free,
        )
    scale = ctx.book.put(
        "pluck.scale",
        "A scale that draws the idler off its stop reads",
        lambda: 2 * tension.n * sin(lying.idler_wrap.n / 2),
        "N",
        equation="2·T·sin(α/2)",
        source="statics of two equal runs on a pulley",
        tension=tension,
        wrap=lying.idler_wrap,
    )
    tone = {name: q.value for name, q in tones.items()}
    push = {name: q.value for name, q in pushes.items()}
    return PluckTarget(
        run=run,
        carriage_mm=length - shortest,
        span_mm=length,
        frequency_hz=tone["target"],
        frequency_low_hz=tone.get("low"),
        frequency_high_hz=tone.get("high"),
        push_mm=aside.value or 0.0,
        push_n=push["target"],
        push_low_n=push.get("low"),
        push_high_n=push.get("high"),
        swing_mm=swing.value or 0.0,
        scale_n=scale.value,
    )


def work(end: OpenBelt, ctx: Context, strained: Strained) -> list[WorkStep]:
    """Steps of an open belt, or of two: drive, idlers, one line, then each belt by itself."""
    belts = max(ctx.counts.belts, 1)
    steps = [
        lay_out("rail length, shaft, bore, belt width, screw lengths", mount=not end.rides),
        *_slot(end),
        *_drive(end, ctx),
        *rails(ctx, end.rides, ("motor",) if end.beam() is not None else ("motor", "idlers")),
        _idlers(end, ctx, belts),
        *_lined_up(end, ctx),
        *across(ctx, "one line"),
        WorkStep(
            "cut_belt",
            f"Cut {'both belts' if belts > 1 else 'the belt'}: {_times(belts)}"
            f"{said(strained.cut.length.value or 0, 'mm', '.0f')}, {strained.cut.teeth.value or 0:.0f} "
            f"teeth, "
            f"through the middle of a gap.",
            after=("parts",),
            gives=("cut",),
            needs=("end.belt",),
            rests=("belt.cut",),
            tools=("scissors or knife", "tape measure"),
        ),
    ]
    for i in range(belts):
        steps += _one_belt(end, ctx, strained, i, belts)
    return [
        *steps,
        *square(ctx, "end locked", "even out the tension of both belts until both agree"),
        *_finish(end, ctx, belts),
    ]


def _times(belts: int) -> str:
    return f"{belts} times " if belts > 1 else ""


def _slot(end: OpenBelt) -> list[WorkStep]:
    """What lies in the rail's slot goes in before anything closes its end."""
    nuts = end.clamp.kind == "nut in slot" or any(m.slotted for m in end.mounts().values())
    inside = getattr(end, "slot_mm", None) is not None
    if not nuts and not inside:
        return []
    what = " and ".join(
        ["every slot nut" if nuts else "", "a draw cord for the belt" if inside else ""]
    ).strip(" and")
    return [
        WorkStep(
            "slot_filled",
            f"Slide {what} into the rail's slot, before a plate closes its end"
            + (": the belt is drawn through by it later." if inside else "."),
            after=("parts",),
            gives=("slot",),
            check="Count the nuts: two spare ones save taking an end off.",
            access="Once a plate closes the end, nothing more goes in.",
        )
    ]


def _drive(end: OpenBelt, ctx: Context) -> list[WorkStep]:
    """The drive pulley on its shaft: the motor's own, or one in bearings of its own."""
    fixing = end.pulley.fixing
    screw = {
        "set screw on flat": f"one of the {fixing.screws} set screws over the flat",
        "set screw on round": "set screws snug",
        "clamp": "clamp screw snug",
        "key": "key in its slot",
    }.get(fixing.kind, "fixing snug")
    each = "each pulley" if ctx.counts.motors > 1 or ctx.design.sides.kind == "cross shaft" else "the pulley"
    bore = WorkStep(
        "bore",
        f"Bring {each}'s bore to the shaft, square to its teeth, and deburr "
        f"({said(end.pulley.bore_mm, 'mm')} drawn).",
        after=("parts",),
        gives=("bore",),
        needs=("end.pulley",),
        check="Slides on by hand, no wobble.",
        caution="Clamp small parts; never hold them by hand under a drill.",
        tools=("reamer or drill", "deburring tool"),
    )
    alone = stands_alone(ctx)
    before, ready, access = ((), (), "") if alone else onto_shaft(ctx)
    from_face = "its bearing plate" if alone else f"the {behind(ctx)}'s face"
    on = WorkStep(
        "pulley_on",
        f"Slide {each} on, belt centre {said(end.pulley.overhang_mm, 'mm')} from {from_face}, {screw}; snug, "
        f"not tight.",
        "loose",
        after=("bore", "bearings") if alone else ("bore", *before),
        gives=("shaft.end", *ready),
        fastens=("pulley",),
        tools=hub_key(fixing),
        side="from the belt's side, with the shaft turned until its screw shows",
        access=access,
    )
    if not alone:
        return [bore, on]
    bearings = WorkStep(
        "bearings",
        "Press the bearings of the drive shaft in and run the shaft through both plates.",
        "aligned",
        after=("parts",),
        gives=("bearings",),
        fastens=("bearing plates",),
        check="It turns by its own weight.",
        tools=("press or vice", "sleeve on the outer ring"),
    )
    return [bore, bearings, on]


def _idlers(end: OpenBelt, ctx: Context, belts: int) -> WorkStep:
    kind, loose = end.tensioner.kind, end.tensioner.kind == "none"
    moves = KINDS[kind][0]
    if end.rides:
        what = "Fit both idlers on the carriage, either side of the drive pulley, where the belt's back runs"
    elif end.beam() is not None:
        what = "Fit every idler, at the frame's corners and on the beam"
    else:
        what = "Fit the idler at either side" if belts > 1 else "Fit the idler"
    slack = (
        "" if loose or moves != "idler" else f" with its tensioner ({kind}), at the slack end of its travel"
    )
    beside = (
        f"; the tensioner ({kind}) at the slack end of its travel" if not loose and moves != "idler" else ""
    )
    slot = ("slot",) if _slot(end) else ()
    rollers = {f"end.rollers.{i}": roller for i, roller in enumerate(end.rollers)}
    guides = {"end.idler": ctx.design.end.idler, **rollers}
    washers = [f"{at}.stack.{j}" for at, guide in guides.items() for j in range(len(guide.stack))]
    if rollers:
        what += ", and the further rollers"
    on_beam = end.rides or end.beam() is not None
    first = "carriage" if on_beam else "parts" if plates_first(ctx) else "rail_on"
    return WorkStep(
        "idler_on",
        f"{what}{slack}{beside}.",
        "loose",
        after=(first, *slot),
        gives=("idlers",),
        fastens=("idler", "tensioner"),
        needs=("end.idler", *([] if loose else ["end.tensioner"]), *rollers, *washers),
        check="Spins free, no rub at either flange.",
        tools=("hex keys", SPANNER),
        side="from the side of its screw's head, with room for the key along its whole length",
        access="Its nut lies behind the plate: hold it before the plate is closed in.",
    )


def _lined_up(end: OpenBelt, ctx: Context) -> list[WorkStep]:
    alone, slid = stands_alone(ctx), end.moves_shaft_before() is not None
    steps = [
        WorkStep(
            "line_up",
            "Bring pulley, idler and clamps to one belt line with a straight edge; shim the idler.",
            "aligned",
            rests=("end.idler", "end.pulley"),
            after=("shaft.end", "idlers", "frame") if alone else ("motor", "idlers", "frame"),
            gives=("one line",) if alone else ("one line", "in line"),
            fastens=("idler", "pulley"),
            check="A straight edge touches both flanges alike.",
            tools=(EDGE, "shims", "hex keys"),
        ),
        WorkStep(
            "pulley_tight",
            "Tighten the pulley on its shaft"
            + (", first screw on the flat." if "flat" in end.pulley.fixing.kind else ".")
            + before_the_trial(ctx),
            "tightened",
            after=("line_up",),
            rests=("end.pulley",),
            gives=("pulley tight",),
            fastens=("pulley",),
            tools=hub_key(end.pulley.fixing),
            side="from the belt's side, with the shaft turned until its screw shows",
            access="Once the belt is round it, only a screw between the flange and the plate can be reached.",
        ),
    ]
    # Where the belt is tightened by moving that shaft, its plates are tightened then.
    return [*steps, shaft_tight(ctx, ("one line",))] if alone and not slid else steps


def _one_belt(end: OpenBelt, ctx: Context, strained: Strained, i: int, belts: int) -> list[WorkStep]:
    """One belt by itself: threaded, clamped at both ends, tensioned, locked."""
    suffix = f"_{i + 1}" if i else ""
    name = end.pair[i] if belts > 1 else "the belt"
    kind = end.tensioner.kind
    at_rails = end.rides
    set_by, lock_by = (s.replace("the carriage", "the rail") if at_rails else s for s in KINDS[kind][1:])
    where = "the rail's end" if at_rails else "the carriage" if end.beam() is None else "the head"
    covered, asked = {
        "from the side": ("", ""),
        "under the tool plate": (
            "from above, under the tool plate",
            "The tool plate will cover its screws: drill a hole over each that the key goes through, or "
            "leave "
            "the plate off until the belt has been looked at again.",
        ),
        "from below": (
            "from below",
            "Reached from below only: run the carriage over the rail's open end, or clamp this end "
            "before the "
            "carriage goes on.",
        ),
    }[end.clamp.reached]
    side = covered or f"from the side of {where}"
    slid = end.moves_shaft_before() is not None
    # A belt that is tightened by moving the motor still stands on loose bolts.
    held_by = () if slid else (holds_end(ctx),)
    joins = ("joined", "end locked", *((holds_end(ctx),) if slid else ()))
    held = f"{end.clamp.engaged_teeth} teeth ({end.clamp.kind})"
    teeth = f"; count {strained.cut.between.value or 0:.0f} teeth between the clamps"
    across = ("across",) if ctx.design.sides.kind == "cross shaft" else ()
    return [
        WorkStep(
            f"thread_belt{suffix}",
            f"Thread {name}: {_path(end, ctx, i)}.",
            after=("pulley tight", "cut", *across),
            gives=(f"belt end{suffix}",),
            check="No twist; teeth towards the drive pulley. The threading card in Belt has each wheel.",
        ),
        WorkStep(
            f"clamp_near{suffix}",
            f"Clamp {_its(name)} near end at {where} on {held}.",
            "tightened",
            after=(f"belt end{suffix}",),
            fastens=("clamp",),
            needs=("end.clamp",),
            tools=("hex keys",),
            side=side,
            access=asked,
        ),
        WorkStep(
            f"clamp_far{suffix}",
            f"Pull it hand-tight and clamp {_its(name)} far end on {held}{teeth}.",
            "tightened",
            after=(f"clamp_near{suffix}",),
            fastens=("clamp",),
            tools=("hex keys",),
            side=side,
            access=asked,
        ),
        WorkStep(
            f"tension{suffix}",
            f"Tension {name} to {said(strained.tension.value or 0, 'N', '.0f')} by sound or by pushing it "
            f"aside (see Tune). {set_by}",
            after=(f"clamp_far{suffix}", *held_by),
            rests=("end.belt", "tension.set"),
            fastens=("tensioner",),
            check="Within the band.",
            caution=EYES,
            tools=("hex keys", SPANNER),
        ),
        WorkStep(
            f"tensioner_lock{suffix}",
            lock_by if belts == 1 else f"{lock_by} That of {name}.",
            "tightened",
            after=(f"tension{suffix}",),
            gives=joins,
            fastens=("tensioner", *(("motor",) if slid else ())),
            check="The pitch has not moved.",
            tools=("hex keys", SPANNER),
        ),
    ]


def _its(name: str) -> str:
    return f"the {name.removeprefix('the ')}'s" if name == "the belt" else f"{name}'s"


def _path(end: OpenBelt, ctx: Context, i: int) -> str:
    """The way of a belt from wheel to wheel, as its threading card has it."""
    laid = end.laid(ctx)
    rounds = laid[min(i, len(laid) - 1)].near.rounds
    drive = next(r for r in rounds if r.part == "end.pulley")
    words = []
    for r in rounds:
        if r.radius_mm <= 0:
            words.append(r.name)
        else:
            words.append(f"{'teeth' if r.side == drive.side else 'back'} on the {r.name}")
    return ", ".join(words)


def _finish(end: OpenBelt, ctx: Context, belts: int) -> list[WorkStep]:
    wheels = " and wheels" if ctx.design.guide.kind == "wheels" else ""
    each = [f"_{i + 1}" if i else "" for i in range(belts)]
    screws = "pulley, idler and shaft plates" if stands_alone(ctx) else f"pulley, idler and {behind(ctx)}"
    again = "every tension" if belts > 1 else "the tension"
    covered = [f"{name}{suffix}" for suffix in each for name in ("clamp_near", "clamp_far", "tensioner_lock")]
    holder = "bearing plates" if stands_alone(ctx) else "motor"
    return [
        push_by_hand(ctx, "Pinch points at every pulley", "The belt stays off the flanges."),
        slow_run("chain.0", "Keep hands clear of belt and carriage; reach the switch first."),
        *after_the_run(
            ctx,
            screws,
            f"Look at {again}, pulley screws{wheels} again after the first run.",
            f"{scale_by(ctx)} Tension first, calibrate after.",
            ("pulley", "idler", holder, "tensioner"),
        ),
        WorkStep(
            "trim",
            f"Trim the belt's tails ({said(end.clamp.tail_mm, 'mm')} each).",
            after=("looked",),
            gives=("trimmed",),
            tools=("scissors or knife",),
        ),
        guards(
            "Fit the tool plate, cable carrier and guards.",
            (*covered, "lock_screws"),
            "Every open belt is guarded.",
            ("trimmed", *guarded(ctx)),
        ),
    ]


def cautions(end: OpenBelt, ctx: Context) -> list[Caution]:
    """What can hurt or fail on this layout, at the step where it matters."""
    out = [
        Caution("drive", "Pinch points: belt and pulley, carriage and rail ends. Guard the open belt."),
        Caution(
            "tune",
            "Eye protection when a belt is tensioned, plucked or tried to skipping. Supply off and "
            "locked before you touch it.",
        ),
        AID,
    ]
    if ctx.design.aim.slope_deg > 0:
        out.append(
            Caution(
                "aim",
                "This axis is not level: it can fall when unpowered. Prop it before you work on it, "
                "and fit a brake or a counterweight if anyone can get under it.",
            )
        )
    for name, mount in end.mounts().items():
        if mount.kind == "plate" and mount.material in SOFT_PLASTICS:
            out.append(
                Caution(
                    "belt",
                    f"The {name.replace('_', ' ')} is {mount.material}: it creeps under the belt's "
                    f"pull and softens near a warm motor or in a warm chamber. Look at its "
                    f"tilt again after a week.",
                )
            )
    return out
