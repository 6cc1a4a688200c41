"""Steps of work that several ends share, and the words in which steps wait for each other.

What must stand, by name: `parts` measured, `mount` to bolt the motor to, `motor ready` for it, `motor` on its
mount, `in line` with what it drives, `motor tight`; `shaft.1` the shaft behind stage 1 (`shaft.end` behind
the last) in its bearings, and `held.1` those tightened; `joined` when the whole drive is fastened and every
belt has its tension; `stops` set, `hand` run by hand, `ran` under power, `looked` at again.
"""

from __future__ import annotations

from ..account.context import Context
from ..account.report import Caution, WorkStep
from ..checks.homing import hit_first
from ..fields.axis import BEFORE, PLATES
from ..fields.belts import Fixing
from ..ledger.amounts import said
from .joining import behind, stands_alone
from .reach import OF_SET_SCREWS, hex_key, onto_shaft

AID = Caution("build", "The numbers are a design aid, not a certificate.")
EYES = "Eye protection while a belt is tensioned or plucked."
FEEDS = "The motor feeds voltage into its driver when turned."
EDGE, CALLIPER, LEVEL, GAUGE = "straight edge", "calliper", "machinist's level", "dial gauge"
SPANNER, METER, PAINT = "spanners", "multimeter", "paint marker"


def hub_key(fixing: Fixing) -> tuple[str, ...]:
    """What a pulley is fixed on its shaft with."""
    if fixing.kind in ("set screw on flat", "set screw on round"):
        return (hex_key(fixing.screw_mm, OF_SET_SCREWS),)
    if fixing.kind == "clamp":
        return (hex_key(fixing.screw_mm),)
    return ("press or vice",) if fixing.kind == "press fit" else ("hex keys",)


def lay_out(what: str, mount: bool = True) -> WorkStep:
    """The first step of all: what was bought is measured."""
    return WorkStep(
        "check_parts",
        f"Lay out the parts and measure what was bought: {what}.",
        gives=("parts", "mount") if mount else ("parts",),
        check="Enter here what differs; everything follows.",
        tools=(CALLIPER, "tape measure"),
    )


def rails(ctx: Context, rides: bool = False, plates: tuple[str, ...] = ("motor",)) -> list[WorkStep]:
    """Rails, carriage and switches of every straight axis; a motor that rides is bolted to the carriage.
    `plates` must stand where the maker begins with them.
    """
    design = ctx.design
    wheels, two = design.guide.kind == "wheels", two_rails(ctx)
    sloped = design.aim.slope_deg > 0
    steps = [
        WorkStep(
            "rail_on",
            f"Bolt the {'rails' if two else 'rail'} down; leave one end loose until the carriage has run its "
            f"length.",
            "loose",
            after=("parts", *plates) if plates_first(ctx) and not rides else ("parts",),
            fastens=("rail",),
            tools=("hex keys",),
            side="from above, along the rail",
        ),
        WorkStep(
            "carriage_on",
            ("Run a carriage onto either rail." if two else "Run the carriage onto the rail.")
            + (" Set the wheels by their eccentrics, all turned alike." if wheels else ""),
            "aligned",
            after=("rail_on",),
            gives=("carriage", "mount") if rides else ("carriage",),
            fastens=("eccentrics",) if wheels else (),
            check="Each wheel turns with a little resistance, moves the carriage, does not skate."
            if wheels
            else "Runs the whole length without a tight spot.",
            tools=(SPANNER,) if wheels else (),
            side="from behind the wheels" if wheels else "from the rail's open end",
            access="Once the tool plate is on, a spanner still has to reach every eccentric: try it now."
            if wheels
            else "",
        ),
        WorkStep(
            "rail_level",
            (
                "Set the rail to its slope, straight and square to the table"
                if sloped
                else "Level the rail along and across to the table it works on"
            )
            + "; shim under its bolts.",
            "aligned",
            after=("carriage_on",),
            gives=("rail true",),
            fastens=("rail",),
            check="A dial gauge on the carriage reads the table alike from end to end.",
            tools=(LEVEL, GAUGE, "shims"),
            side="from above, along the rail",
        ),
    ]
    if two:
        steps.append(
            WorkStep(
                "rail_parallel",
                "Set the second rail parallel to the first: two equal rods between them, one at either end, "
                "or a dial gauge that the first rail leads.",
                "aligned",
                after=("carriage_on",),
                gives=("rail true",),
                fastens=("rail",),
                check="The same rod fits at both ends and in the middle; nothing binds on the way.",
                tools=("two equal rods", GAUGE),
                side="from above, along the rail",
            )
        )
    return [
        *steps,
        WorkStep(
            "rail_tight",
            f"Run {'either' if two else 'the'} carriage to both ends and tighten the rail behind it.",
            "tightened",
            after=("rail true",),
            gives=("frame",),
            fastens=("rail",),
            tools=("hex keys",),
            side="from above, along the rail",
        ),
        *([_beam_on(ctx)] if two else []),
        WorkStep(
            "switches",
            _switches(ctx),
            "aligned",
            after=("carriage",),
            gives=("stops",),
            fastens=("switches",),
            check="Each one trips before the carriage meets its stop.",
            caution=hit_first(ctx),
            tools=("screwdriver", METER),
        ),
    ]


def _beam_on(ctx: Context) -> WorkStep:
    head = " Run the head onto the beam's own rail." if ctx.design.end.beam() is not None else ""
    return WorkStep(
        "beam_on",
        f"Set the beam on the carriages of both rails, square by eye, its bolts snug.{head}",
        "loose",
        after=("rail_tight",),
        gives=("carriage",),
        fastens=("beam",),
        check="Pushed by its middle it runs from end to end without binding.",
        tools=("hex keys", "square"),
        side="from above, past the carriages",
    )


def _switches(ctx: Context) -> str:
    home = ctx.design.switches.home
    over = said(ctx.design.guide.overtravel_mm, "mm")
    if not ctx.design.chain[0].positioning or home == "no switch":
        return f"Fit the end switches, each with {over} of over-travel behind it, and try them by hand."
    return (
        f"Fit the end switches, each with {over} of over-travel behind it, that of the {home} as zero, "
        f"and try "
        f"them by hand."
    )


def plates_first(ctx: Context) -> bool:
    """Whether the maker begins with the plates, and sets the rail to them."""
    return ctx.design.schools.first == PLATES


def two_rails(ctx: Context) -> bool:
    """Whether a beam runs on a rail at either side."""
    return ctx.design.sides.kind != "one" or ctx.design.end.beam() is not None


def on_each_side(ctx: Context) -> str:
    """That there are several of a piece, where both sides of a gantry have one."""
    count = ctx.counts.belts
    return f", {count} pieces" if count > 1 else ""


def freed(ctx: Context) -> str:
    """What has to be freed, or turned instead, before an axis is moved by hand."""
    brake = " Hold the brake open for that: its supply on, the motor's off."
    worm = " Its worm does not turn back: turn the motor's shaft."
    return (brake if ctx.design.aim.brake_n is not None else "") + (
        worm if any(s.kind == "worm" for s in ctx.design.chain) else ""
    )


def push_by_hand(ctx: Context, pinches: str, check: str = "") -> WorkStep:
    """The first run, without power."""
    push = (
        "Push the carriage end to end" if ctx.design.end.beam() is None else "Push the head to every corner"
    )
    return WorkStep(
        "hand_run",
        f"{push} by hand, supply off: slowly.{freed(ctx)}",
        after=("joined",),
        gives=("hand",),
        check=check,
        caution=f"{pinches}; the motor feeds voltage into its driver when pushed.",
    )


def slow_run(
    needs: str, caution: str, do: str = "Run ten slow strokes under power, then ten at speed."
) -> WorkStep:
    """The first run under power."""
    return WorkStep(
        "slow_run", do, after=("hand", "stops", "wired"), gives=("ran",), needs=(needs,), caution=caution
    )


def after_the_run(
    ctx: Context, screws: str, again: str, calibrate: str, fastens: tuple[str, ...]
) -> list[WorkStep]:
    """What follows the first run: a second look, threadlock in the maker's order, the scale."""
    lock = f"Take the screws of {screws} out one by one, threadlock them, tighten again."
    locked = WorkStep(
        "lock_screws",
        lock,
        "locked",
        after=("looked",),
        gives=("locked",),
        fastens=fastens,
        check="Mark each head with paint.",
        tools=("hex keys", "threadlock, medium", PAINT),
        caution="Threadlock attacks some plastics: keep it off printed parts and polycarbonate.",
    )
    if ctx.design.schools.threadlock == BEFORE:
        locked = WorkStep(
            "lock_screws",
            f"Look at the marks on the screws of {screws}: they were threadlocked as they were tightened.",
            "locked",
            after=("looked",),
            gives=("locked",),
            check="No mark has moved. One that has is taken out, cleaned and threadlocked anew.",
            tools=(PAINT,),
        )
    return [
        WorkStep(
            "look_again",
            again,
            "look again",
            after=("ran",),
            gives=("looked",),
            fastens=fastens,
            tools=("hex keys",),
        ),
        locked,
        WorkStep(
            "calibrate", calibrate, after=("locked",), gives=("calibrated",), tools=("steel tape or rule",)
        ),
    ]


def guards(do: str, covers: tuple[str, ...], check: str = "", after: tuple[str, ...] = ()) -> WorkStep:
    """What goes on last, over what was worked at before."""
    return WorkStep(
        "covers",
        do,
        "tightened",
        after=("calibrated", *after),
        covers=covers,
        fastens=("guards",),
        check=check,
        tools=("hex keys",),
    )


def before_the_trial(ctx: Context) -> str:
    """What tightening also means where threadlock goes in at once."""
    return " Threadlock on each, and a paint mark." if ctx.design.schools.threadlock == BEFORE else ""


def shaft_work(
    ctx: Context, what: str, bearings: str, needs: tuple[str, ...], tight: bool = True
) -> list[WorkStep]:
    """Bearings and shaft of an end, with what sits on it; on a motor's own shaft only that."""
    if not stands_alone(ctx):
        before, gives, access = onto_shaft(ctx)
        return [
            WorkStep(
                "pulley_on",
                f"Fit {what} on the shaft of the {behind(ctx)} and tighten it, first screw over the "
                f"flat.{before_the_trial(ctx)}",
                "tightened",
                after=("parts", *before),
                gives=(*gives, "in line", "shaft.end"),
                fastens=("hub",),
                needs=needs,
                tools=("hex keys",),
                side="from the side, with the shaft turned until its screw shows",
                access=access,
            )
        ]
    steps = [
        WorkStep(
            "bearings",
            bearings,
            "aligned",
            after=("parts",),
            gives=("bearings",),
            tools=("press or vice", "sleeve on the outer ring"),
            check="It turns by its own weight.",
        ),
        WorkStep(
            "pulley_on",
            f"Fit {what} on its shaft and tighten it, first screw over the flat.{before_the_trial(ctx)}",
            "tightened",
            after=("bearings",),
            gives=("shaft.end",),
            fastens=("hub",),
            needs=needs,
            tools=("hex keys",),
            side="from the side, with the shaft turned until its screw shows",
        ),
    ]
    return [*steps, shaft_tight(ctx)] if tight else steps


def shaft_tight(ctx: Context, after: tuple[str, ...] = ("shaft.end",)) -> WorkStep:
    """The plates of a shaft of its own."""
    return WorkStep(
        "shaft_tight",
        "Tighten the plates that hold the shaft's bearings, the shaft free to turn." + before_the_trial(ctx),
        "tightened",
        after=after,
        gives=("held.end", "joined"),
        fastens=("bearing plates",),
        check="Still turns by its own weight.",
        tools=("hex keys",),
    )


def across(
    ctx: Context, after: str, joined: str = "its couplers, the couplers' screws open"
) -> list[WorkStep]:
    """The cross shaft of a gantry with one motor, `after` the drive of both sides stands; and what it is
    joined to both with.
    """
    if ctx.design.sides.kind != "cross shaft":
        return []
    return [
        WorkStep(
            "cross_on",
            f"Fit the cross shaft from side to side with {joined}.",
            "loose",
            after=(after,),
            gives=("across",),
            fastens=("cross couplers",),
            needs=("sides.shaft",),
            rests=("sides",),
            check="Turns by hand without a heavy spot.",
            tools=("hex keys",),
        )
    ]


def square(ctx: Context, after: str, otherwise: str = "") -> list[WorkStep]:
    """A beam that runs on two rails is squared; `after` both sides drive it."""
    kind = ctx.design.sides.kind
    if not two_rails(ctx):
        return []
    by = {
        "two motors": "move one side by its motor's shaft until both agree, then set its switch there",
        "cross shaft": "move one side until both agree, then tighten the couplers of the cross shaft",
        "one driven": "shift the far side on its guide until both agree, then tighten it",
    }.get(kind, otherwise)
    shaft = kind == "cross shaft"
    return [
        WorkStep(
            "square",
            f"Square the beam: measure both diagonals, or hold a gauge at either end (see Tune); {by}. "
            f"Tighten the beam's bolts, and measure once more.",
            "aligned",
            after=(after, "frame", *(("across",) if shaft else ())),
            gives=("joined",),
            fastens=("beam", "cross couplers") if shaft else ("beam",),
            check="Both diagonals alike; push the beam end to end and read them again.",
            tools=("steel tape", GAUGE, "hex keys"),
        )
    ]


def guarded(ctx: Context) -> tuple[str, ...]:
    """What the last covers wait for, where closed belts have guards of their own."""
    return ("guarded",) if any(s.kind == "closed_belt" for s in ctx.design.chain) else ()


def scale_by(ctx: Context) -> str:
    """How a straight axis gets its scale."""
    if ctx.design.chain[0].positioning:
        return "Measure a long move, always come from the same side, and set steps per millimetre (see Tune)."
    return "Measure how far it goes in a minute at several settings of its speed; keep the table (see Tune)."
