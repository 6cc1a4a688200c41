"""An open belt under its load: tension, ratings, loads on shafts, grip, lengths to cut."""

from __future__ import annotations

from ...account.context import Context
from ...checks import belt_data, clearance, holding, running_true, tensioners
from ...fields.belts import Pulley
from ...formulas import belt, fixings, running
from ...ledger.amounts import said
from ...ledger.many import at_most, ceil, is_column, least, most, pick
from ...ledger.quantity import Given, Quantity, Term
from ...ledger.record import record
from .open_belt import Lying, OpenBelt

WHOLE = 1e-4  # of a tooth: under a micrometre, which no clamp can tell from a whole one


@record
class Cut:
    """The piece of belt to cut: its length, its teeth, those between the clamps, and what whole teeth leave
    slack.
    """

    length: Quantity
    teeth: Quantity
    between: Quantity
    slack: Quantity


@record
class Strained:
    """An open belt under its load, N: the tension to set, the band with its target, the largest tension, the
    share of the load that one run takes at most, loads on drive shaft and idler axle, torque at the hub, the
    piece to cut, ripple of the bore in mm where it is known, and what the tensioner takes up.
    """

    tension: Quantity
    low: Quantity
    target: Quantity
    high: Quantity
    tight: Quantity
    share: Quantity
    shaft_load: Quantity
    idler_load: Quantity
    hub_torque: Quantity
    cut: Cut
    ripple: Quantity | None
    take_up: tensioners.TakeUp


def rate(end: OpenBelt, ctx: Context) -> Strained:
    """Everything that follows from the peak force, with its rungs."""
    g, a, lying, peak = ctx.given, "assumptions.", end.lying(ctx), ctx.loads.peak
    positions = end.positions(ctx, 2)
    run_1, run_2 = end.runs(ctx, positions)
    share = ctx.book.put(
        "loop.share",
        "Largest share of the load that one run takes",
        lambda: most(at_most(belt.tension_share(run_1, run_2)), at_most(belt.tension_share(run_2, run_1))),
        "",
        equation="max over the travel of L_other/(L1 + L2)",
        source="statics; it is largest at the ends of travel",
        free=lying.free,
    )

    def taut(key: str, label: str, slack_keep: Term) -> tuple[Quantity, Quantity]:
        """One belt is set to one tension: the largest that any case needs."""

        def in_one_case(key: str, label: str) -> Quantity:
            return ctx.calc(
                key,
                label,
                belt.pretension_needed,
                peak_force_n=peak,
                largest_share=share,
                slack_keep=slack_keep,
            )

        return ctx.over_cases("most", key, label, in_one_case)

    needed, here = taut("tension.needed", "Pretension that keeps both runs taut", g(a + "slack_keep"))
    low, _ = taut("tension.low", "Lower end of the tension band", _keep_low(ctx))
    chosen = g("end.belt.tension_n")
    target = ctx.book.put(
        "tension.target",
        "Target tension",
        lambda: tensioners.TARGET_OVER * needed.n,
        "N",
        equation="1.1·T_needed",
        source_kind="common practice",
        source="a tenth over what is needed: belt ends settle (from memory)",
        needed=needed,
    )
    if chosen.value is None:
        tension = ctx.book.put(
            "tension.set",
            "Tension to set",
            lambda: target.n,
            "N",
            equation="T_i = target",
            source="no tension was chosen, so the target is used",
            target=target,
        )
    else:
        tension = ctx.book.put(
            "tension.set",
            "Tension to set",
            chosen.value,
            "N",
            equation="as chosen",
            source_kind="your entry",
            source="your entry",
            chosen=chosen,
        )
    cord = ctx.calc(
        "cord.capacity",
        "Tension that the cords bear",
        belt.cord_capacity,
        ea_n=lying.ea,
        strain_limit_percent=g(a + "strain_limit"),
    )

    def upper(key: str, label: str) -> Quantity:
        return ctx.book.put(
            key,
            label,
            lambda: most(low.n, least(1.25 * target.n, cord.n - peak.n * share.n)),
            "N",
            equation="min(1.25·T_target, T_cord − F·share)",
            source_kind="common practice",
            source="a quarter over the target, or what the cords leave",
            target=target,
            cord=cord,
            peak=peak,
            share=share,
        )

    high, _ = ctx.over_cases("least", "tension.high", "Upper end of the tension band", upper)
    ctx.rung(
        "pretension",
        "Both runs stay taut",
        here,
        tension,
        1.0,
        unit="N",
        section="tension",
        path="end.belt.tension_n",
        says="Set more tension, or ask for less acceleration or less mass.",
    )
    highest = ctx.calc(
        "belt.peak_tension",
        "Largest tension in the belt",
        belt.peak_tension,
        pretension_n=tension,
        peak_force_n=peak,
        largest_share=share,
    )
    ctx.rung(
        "cord",
        "Cords of the belt",
        highest,
        cord,
        1.0,
        unit="N",
        section="tension",
        path="end.belt.width_mm",
        says="A wider belt, steel cord, or less force.",
    )
    profile = end.profile(ctx)
    working = belt_data.working_tension(ctx, profile, "end.belt")
    pull = ctx.calc(
        "belt.pull_capacity",
        "Effective pull that the teeth carry",
        belt.effective_pull_capacity,
        working_tension_n=working,
        width_mm=g("end.belt.width_mm"),
        teeth_meshed=lying.mesh,
    )
    ctx.rung(
        "pull",
        "Teeth of the belt",
        peak,
        pull,
        g(a + "margin_belt"),
        unit="N",
        section="tension",
        path="end.belt.width_mm",
        says="A wider belt, a larger profile, or more teeth in mesh.",
    )
    shaft_load, idler_load = _shaft_loads(end, ctx, highest, tension, share)
    hub_torque = _grip(end.pulley, ctx, end.driven(ctx).radius)
    cut = _lengths(end, ctx, lying)
    stretch = ctx.calc(
        "belt.stretch",
        "Stretch of the belt at the set tension",
        belt.belt_stretch,
        tension_n=tension,
        ea_n=lying.ea,
        length_mm=lying.free,
    )
    wrap = tensioners.wrap_moved(end.tensioner, lying.pulley_wrap, lying.idler_wrap)
    take_up = tensioners.budget(ctx, end.tensioner, wrap, lying.ea, lying.free, tension, cut.slack, stretch)
    ctx.calc(
        "belt.scale_shift",
        "Shift of steps per millimetre from the tension",
        belt.scale_shift,
        tension_n=tension,
        calibrated_at_n=g("end.belt.calibrated_at_n"),
        ea_n=lying.ea,
    )
    ctx.calc(
        "belt.tooth_frequency",
        "Teeth entering a second at top speed",
        belt.tooth_frequency,
        speed_mm_s=g("aim.speed_mm_s"),
        pitch_mm=ctx.datum(profile, "pitch_mm", profile.pitch_mm, "mm"),
    )
    holding.clamp_check(ctx, end.clamp, highest, working, g("end.belt.width_mm"))
    laid = end.laid(ctx)[0]
    running_true.run_true(ctx, laid, "", highest)
    clearance.clear_of(ctx, laid, end.near)
    ripple = None
    if is_column(end.pulley.runout_mm) or end.pulley.runout_mm > 0:
        apart = abs(run_1 - run_2)
        near = apart[..., 0] >= apart[..., 1]
        ripple = ctx.calc(
            "pulley.ripple",
            "Ripple from the drive pulley's bore",
            running.runout_ripple,
            runout_mm=g("end.pulley.runout_mm"),
            run_1_mm=pick(near, run_1[..., 0], run_1[..., 1]),
            run_2_mm=pick(near, run_2[..., 0], run_2[..., 1]),
        )
        ctx.error_rung(
            "ripple",
            "Ripple once a turn of the pulley",
            ripple,
            "end.pulley.runout_mm",
            "Bore the pulley true: in a lathe, or with a drill guided by its own pitch circle; "
            "a sleeve can be bored again.",
            section="running",
        )
    return Strained(
        tension=tension,
        low=low,
        target=target,
        high=high,
        tight=highest,
        share=share,
        shaft_load=shaft_load,
        idler_load=idler_load,
        hub_torque=hub_torque,
        cut=cut,
        ripple=ripple,
        take_up=take_up,
    )


def _keep_low(ctx: Context) -> Term:
    """Half of what is kept on the slack run: below it the belt may jump."""
    keep = ctx.given("assumptions.slack_keep")
    return ctx.book.put(
        "tension.keep_low",
        "Least kept on the slack run",
        lambda: keep.n / 2,
        "of F",
        equation="s/2",
        source_kind="common practice",
        source="0.1 of the peak force, from memory",
        keep=keep,
    )


def _shaft_loads(
    end: OpenBelt, ctx: Context, tight: Quantity, tension: Quantity, share: Quantity
) -> tuple[Quantity, Quantity]:
    """Loads on the drive shaft and on the idler's axle, and what the drive shaft's does to the mounts."""
    peak, lying = ctx.loads.peak, end.lying(ctx)
    slack = ctx.book.put(
        "loop.slack",
        "Slack run at that moment",
        lambda: most(tension.n - peak.n * (1 - share.n), 0.0),
        "N",
        equation="T_i − F·(1 − share)",
        source="statics",
        tension=tension,
        peak=peak,
        share=share,
    )
    load = ctx.calc(
        "pulley.shaft_load",
        "Load on the drive shaft",
        belt.shaft_load,
        tension_a_n=tight,
        tension_b_n=slack,
        wrap_rad=lying.pulley_wrap,
    )
    end.shaft_rung(
        ctx,
        "Load on the drive shaft",
        load,
        "Bring the pulley nearer to the motor, or give its shaft an outboard bearing. Ordinary axes often "
        "exceed the small frames' limit.",
    )
    idler_load = ctx.calc(
        "idler.shaft_load",
        "Load on the idler's axle",
        belt.shaft_load,
        tension_a_n=tight,
        tension_b_n=tight,
        wrap_rad=lying.idler_wrap,
    )
    for name, mount in end.mounts().items():
        holding.mount_checks(ctx, name, f"end.{name}", mount, load)
    return load, idler_load


def _grip(pulley: Pulley, ctx: Context, radius: Quantity) -> Quantity:
    """Torque at the hub against what holds it, and how the bore fits the shaft."""
    g, shaft, peak = ctx.given, ctx.shaft, ctx.loads.peak
    fixing, p = pulley.fixing, "end.pulley."
    torque = ctx.book.put(
        "hub.torque",
        "Peak torque at the hub",
        lambda: peak.n * radius.n / 1000,
        "N·m",
        equation="F·r",
        source="statics",
        peak=peak,
        radius=radius,
    )
    held: Term
    if fixing.kind == "measured":
        held = g(p + "fixing.grip_nm")
    else:
        hold = Given(
            p + "fixing.screw_mm",
            fixings.SET_SCREW_HOLD_N.get(fixing.screw_mm),
            "N",
            "from memory",
            f"M{fixing.screw_mm:g} cup point; rated sizes are M3, M4, M5, M6",
        )
        formula, terms = holding.fixing(
            fixing.kind,
            screw_mm=g(p + "fixing.screw_mm"),
            hold_n=hold,
            screws=g(p + "fixing.screws"),
            shaft_mm=shaft.diameter,
            interference_mm=g(p + "fixing.interference_mm"),
            hub_mm=g(p + "hub_mm"),
            length_mm=g(p + "face_mm"),
        )
        held = ctx.calc("hub.grip", "Torque that the hub holds", formula, **terms)
    if fixing.kind == "set screw on flat" and shaft.form == "round":
        ctx.note(
            "build",
            p + "fixing.kind",
            "The shaft is round: file or grind a flat for the screw, or say that the screw sits "
            "on the round.",
        )
    ctx.rung(
        "grip",
        "Grip of the pulley on its shaft",
        torque,
        held,
        g("assumptions.margin_grip"),
        unit="N·m",
        section="end",
        path=p + "fixing.kind",
        says="A flat under the screw, more or larger screws, a clamp or a key.",
    )
    gap = ctx.calc(
        "hub.fit",
        "Play between bore and shaft",
        fixings.fit_gap,
        bore_mm=g(p + "bore_mm"),
        shaft_mm=shaft.diameter,
    )
    wall = ctx.calc(
        "hub.wall", "Wall of the hub", fixings.hub_wall, hub_mm=g(p + "hub_mm"), bore_mm=g(p + "bore_mm")
    )
    if not ctx.plain:
        return torque
    if gap.value is not None and gap.value < -0.005:
        ctx.note(
            "build",
            p + "bore_mm",
            f"The bore is {said(-gap.value, 'mm', '.2f')} too small for the shaft: ream it to "
            f"{said(shaft.diameter.value or 0, 'mm')}, square to the teeth.",
        )
    elif gap.value is not None and gap.value > 0.05 and not pulley.sleeve:
        ctx.note(
            "build",
            p + "bore_mm",
            f"The bore is {said(gap.value, 'mm', '.2f')} too large for the shaft: fit a sleeve, or "
            "the pulley "
            f"runs out of true.",
        )
    if wall.value is not None and wall.value < 2.0 and fixing.kind.startswith("set screw"):
        ctx.note(
            "build",
            p + "hub_mm",
            f"Only {said(wall.value, 'mm', '.1f')} of wall for the set screw's thread; common "
            "practice is 2 mm or more.",
        )
    return torque


def _lengths(end: OpenBelt, ctx: Context, lying: Lying) -> Cut:
    """Whole teeth between the clamps, and the piece to cut for them."""
    g = ctx.given
    profile = end.profile(ctx)
    pitch = ctx.datum(profile, "pitch_mm", profile.pitch_mm, "mm")
    whole = ctx.calc(
        "belt.whole", "Whole teeth in the free belt", belt.whole_teeth, length_mm=lying.free, pitch_mm=pitch
    )
    fit = ctx.book.put(
        "belt.fit_teeth",
        "Teeth between the clamps",
        lambda: whole.n + pick(abs(lying.free.n / profile.pitch_mm - whole.n) < WHOLE, 0.0, 1.0),
        "teeth",
        equation="⌈L_free/p⌉",
        source="toothed clamps take whole teeth; the next one up is slipped on",
        whole=whole,
    )
    slack = ctx.book.put(
        "belt.fit_slack",
        "Slack left by whole teeth",
        lambda: fit.n * profile.pitch_mm - lying.free.n,
        "mm",
        equation="n·p − L_free",
        source="geometry",
        n=fit,
        free=lying.free,
        pitch=pitch,
    )
    held, tail = g("end.clamp.engaged_teeth"), g("end.clamp.tail_mm")
    teeth = ctx.book.put(
        "belt.cut_teeth",
        "Teeth in the piece to cut",
        lambda: fit.n + 2 * held.n + 2 * ceil(tail.n / profile.pitch_mm - 1e-12),
        "teeth",
        equation="n + 2·held + 2·⌈tail/p⌉",
        source="common practice: cut long, trim to measure",
        n=fit,
        held=held,
        tail=tail,
        pitch=pitch,
    )
    length = ctx.book.put(
        "belt.cut",
        "Belt to cut",
        lambda: teeth.n * profile.pitch_mm,
        "mm",
        equation="teeth·p",
        source="geometry",
        teeth=teeth,
        pitch=pitch,
    )
    return Cut(length, teeth, fit, slack)
