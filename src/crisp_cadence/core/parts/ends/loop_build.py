"""Carriage loop: how to measure its tension, the order of work, and its cautions."""

from __future__ import annotations

from ...account.context import Context
from ...account.report import Caution, PluckTarget, WorkStep
from ...formulas import belt
from ...formulas import tension as of_tension
from ...ledger.amounts import said
from ...ledger.many import least, sin
from ...ledger.quantity import Quantity, missing_in
from ..work_steps import AID, EYES, guide_work, lay_out, push_by_hand, slow_run
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
    """Steps of a carriage loop; the evaluation puts them in an order that respects what covers what."""
    fixing, cut = end.pulley.fixing, strained.cut
    screw = {
        "set screw on flat": f"one of the {fixing.screws} set screws over the flat",
        "set screw on round": "set screws snug",
        "clamp": "clamp screw snug",
        "key": "key in its slot",
    }.get(fixing.kind, "fixing snug")
    guide = {w.key: w for w in guide_work(ctx.design.guide.kind == "wheels")}
    kind = end.tensioner.kind
    loose = kind == "none"
    return [
        lay_out("rail length, shaft, bore, belt width, screw lengths"),
        WorkStep(
            "bore",
            f"Bring the pulley's bore to the shaft, square to its teeth, and deburr "
            f"({said(end.pulley.bore_mm, 'mm')} drawn).",
            after=("check_parts",),
            needs=("end.pulley",),
            check="Slides on by hand, no wobble.",
            caution="Clamp small parts; never hold them by hand under a drill.",
        ),
        WorkStep(
            "pulley_on",
            f"Slide the pulley on, belt centre {said(end.pulley.overhang_mm, 'mm')} from the motor's face, "
            f"{screw}; snug, not tight.",
            "loose",
            after=("bore",),
        ),
        guide["rail_on"],
        WorkStep(
            "idler_on",
            "Fit the idler."
            if loose
            else f"Fit the idler with its tensioner ({kind}) at the slack end of its travel.",
            "loose",
            after=("rail_on",),
            needs=("end.idler",) if loose else ("end.idler", "end.tensioner"),
            check="Spins free, no rub at either flange.",
        ),
        guide["carriage_on"],
        guide["rail_tight"],
        WorkStep(
            "line_up",
            "Bring pulley, idler and clamps to one belt line with a straight edge; shim the idler.",
            "aligned",
            after=("motor_on", "idler_on", "rail_tight"),
            check="A straight edge touches both flanges alike.",
        ),
        WorkStep(
            "pulley_tight",
            "Tighten the pulley on its shaft"
            + (", first screw on the flat." if "flat" in fixing.kind else "."),
            "tightened",
            after=("line_up",),
        ),
        WorkStep(
            "cut_belt",
            f"Cut the belt: {said(cut.length.value or 0, 'mm', '.0f')}, "
            f"{cut.teeth.value or 0:.0f} teeth, through the middle of "
            f"a gap.",
            after=("check_parts",),
            needs=("end.belt",),
        ),
        WorkStep(
            "thread_belt",
            "Thread the belt, teeth inwards: near clamp, round the drive pulley, along the rail, "
            "round the idler, back to the far clamp.",
            after=("pulley_tight", "cut_belt"),
            check="No twist; teeth towards both pulleys.",
        ),
        WorkStep(
            "clamp_near",
            f"Clamp the near end on {end.clamp.engaged_teeth} teeth ({end.clamp.kind}).",
            "tightened",
            after=("thread_belt",),
            needs=("end.clamp",),
        ),
        WorkStep(
            "clamp_far",
            f"Pull the belt hand-tight and clamp the far end on {end.clamp.engaged_teeth} teeth; "
            f"count {cut.between.value or 0:.0f} teeth between the "
            f"clamps.",
            "tightened",
            after=("clamp_near",),
        ),
        WorkStep("motor_tight", "Tighten the motor's bolts crosswise.", "tightened", after=("line_up",)),
        WorkStep(
            "tension",
            f"Tension the belt to {said(strained.tension.value or 0, 'N', '.0f')} by sound or by "
            f"pushing it aside (see Tune).",
            after=("clamp_far", "motor_tight"),
            check="Within the band.",
            caution=EYES,
        ),
        WorkStep(
            "tensioner_lock",
            "Tighten the clamps' screws." if loose else "Lock the tensioner.",
            "tightened",
            after=("tension",),
            check="The pitch has not moved.",
        ),
        push_by_hand(("tensioner_lock",), "Pinch points at both pulleys", "The belt stays off the flanges."),
        slow_run("chain.0.driver", "Keep hands clear of belt and carriage; reach the switch first."),
        guide["switches"],
        WorkStep(
            "look_again",
            "Check tension, pulley screws and wheels again after the first run.",
            "look again",
            after=("slow_run",),
        ),
        WorkStep(
            "lock_screws",
            "Take the screws of pulley, idler and motor out one by one, threadlock them, tighten again.",
            "locked",
            after=("look_again",),
            check="Mark each head with paint.",
        ),
        WorkStep(
            "trim", f"Trim the belt's tails ({said(end.clamp.tail_mm, 'mm')} each).", after=("look_again",)
        ),
        WorkStep(
            "calibrate",
            "Measure a long move and set steps per millimetre. Tension first, calibrate after.",
            after=("lock_screws",),
        ),
        WorkStep(
            "covers",
            "Fit the tool plate, cable carrier and guards.",
            "tightened",
            after=("trim",),
            covers=("clamp_near", "clamp_far", "lock_screws", "tensioner_lock"),
            check="Every open belt is guarded.",
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
