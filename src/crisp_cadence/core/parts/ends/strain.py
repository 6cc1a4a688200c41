"""An open belt under its load: tension, ratings, loads on shafts, grip, lengths to cut."""

from __future__ import annotations

from ...account.context import Context
from ...checks import belt_data, by_tooth, clearance, holding, hubs, running_true, tautness, tensioners
from ...formulas import belt, running
from ...ledger.many import ceil, is_column, most, pick
from ...ledger.quantity import Quantity, Term, missing_in
from ...ledger.record import record
from .open_belt import Lying, OpenBelt

WORDS = tautness.Words("tension.", "tension.set", "")
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
    """An open belt under its load, N: the tension to set, the band with its target, the tension at which the
    motor's bearing is at its limit where that is known, the share of the load that one run takes at most,
    loads on drive shaft and idler axle, torque at the hub, the piece to cut, ripple of the bore in mm where
    it is known, weight of a metre across its run where it hangs, N/m, and what the tensioner takes up, if
    there is one.
    """

    tension: Quantity
    low: Quantity
    target: Quantity
    high: Quantity
    advice: Quantity | None
    tight: Quantity
    share: Quantity
    shaft_load: Quantity
    idler_load: Quantity
    hub_torque: Quantity
    cut: Cut
    ripple: Quantity | None
    weight: Quantity | None
    take_up: tensioners.TakeUp | None


def rate(end: OpenBelt, ctx: Context) -> Strained:
    """Everything that follows from the peak force, with its rungs."""
    g, a, lying, peak = ctx.given, "assumptions.", end.lying(ctx), ctx.peaks.peak
    positions = end.positions(ctx, 2)
    share = ctx.book.put(
        "loop.share",
        "Largest share of the load that one run takes",
        lambda: end.largest_share(ctx, positions),
        "",
        equation="max over the travel of L_other/(L1 + L2); of one belt laid as an H max|ΔT|/F of its "
        "three runs",
        source="statics; it is largest at the ends of travel",
        free=lying.free,
    )

    def need(key: str, label: str, slack_keep: Term) -> Quantity:
        return ctx.calc(
            key, label, belt.pretension_needed, peak_force_n=peak, largest_share=share, slack_keep=slack_keep
        )

    profile = end.profile(ctx)
    rest = tautness.at_rest(
        ctx, end.belt, profile, "end.belt", WORDS, lying.ea, lying.line_mass, _hanging(end, ctx)
    )
    tension = tautness.settle(ctx, profile, "end.belt", WORDS, need, rest)
    cord = belt_data.cord_bears(
        ctx, end.belt, profile, "end.belt", "cord.capacity", "Tension that the cords bear"
    )
    ctx.rung(
        "pretension",
        "Both runs stay taut",
        tension.here,
        tension.cold,
        1.0,
        unit="N",
        section="tension",
        path="end.belt.tension_n",
        says="Set more tension, or ask for less acceleration or less mass.",
        met=tension.met,
    )
    highest = ctx.calc(
        "belt.peak_tension",
        "Largest tension in the belt, when it is warmest",
        belt.peak_tension,
        pretension_n=tension.hot,
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
    pull, teeth = _teeth_carry(end, ctx, lying), _on_teeth(end, ctx)
    ctx.rung(
        "pull",
        "Teeth of the belt",
        teeth,
        pull,
        g(a + "margin_belt"),
        unit="N",
        section="tension",
        path="end.belt.width_mm",
        says="A wider belt, a larger profile, or more teeth in mesh.",
    )
    cords = tautness.at_pull(ctx, "cord", "its cords", "end.belt.width_mm", cord, 1.0, peak, share)
    loads = _shaft_loads(end, ctx, highest, tension.hot, share, teeth)
    hub_torque = hubs.torque_of(ctx, "hub.torque", "Peak torque at the hub", teeth, end.driven(ctx).radius)
    hubs.held(
        ctx, end.pulley, hubs.Seated("end.pulley", "hub.", "grip", "the pulley", "end"), hub_torque, ctx.shaft
    )
    cut = _lengths(end, ctx, lying)
    stretch = ctx.calc(
        "belt.stretch",
        "Stretch of the belt at the set tension",
        belt.belt_stretch,
        tension_n=tension.set,
        ea_n=lying.ea,
        length_mm=lying.free,
    )
    take_up = None
    if end.tensioner.kind != "none":
        wrap = tensioners.wrap_moved(end.tensioner, lying.pulley_wrap, lying.idler_wrap)
        held = tensioners.Taut(wrap, lying.ea, lying.free, stretch, tension.set, cut.slack)
        take_up = tensioners.budget(ctx, end.tensioner, tensioners.OPEN, held)
    ctx.calc(
        "belt.scale_shift",
        "Shift of steps per millimetre from the tension",
        belt.scale_shift,
        tension_n=tension.set,
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
    ends = holding.clamp_check(ctx, end.clamp, profile, highest, peak, share)
    laid = end.laid(ctx)[0]
    axles = running_true.run_true(ctx, laid, "", highest, loads.more)
    bears = [cords, ends, *loads.bears, *axles]
    upper = tautness.bounded(ctx, WORDS, tension, bears, loads.advice)
    if take_up is None:
        pitch = ctx.datum(profile, "pitch_mm", profile.pitch_mm, "mm")
        tensioners.step_of_a_tooth(ctx, lying.ea, lying.free, pitch, tension.set, tension.low, upper.high)
    clearance.clear_of(ctx, laid, end.near)
    ripple = None
    if is_column(end.pulley.runout_mm) or end.pulley.runout_mm > 0:
        run_1, run_2 = end.runs(ctx, positions)
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
    _by_the_tooth(end, ctx, tension.cold, teeth)
    return Strained(
        tension=tension.set,
        low=tension.low,
        target=tension.target,
        high=upper.high,
        advice=upper.advice,
        tight=highest,
        share=share,
        shaft_load=loads.shaft,
        idler_load=loads.idler,
        hub_torque=hub_torque,
        cut=cut,
        ripple=ripple,
        weight=tension.weight,
        take_up=take_up,
    )


def _by_the_tooth(end: OpenBelt, ctx: Context, tension: Term, pull: Quantity) -> None:
    """Ripple at every tooth of the drive pulley, and the play of the teeth where the pull turns round."""
    radius, wrap = end.driven(ctx).radius, end.lying(ctx).pulley_wrap
    driven = [by_tooth.Toothed("pulley", "the drive pulley", radius, ctx.given("end.pulley.teeth"), wrap)]
    (wavy,) = by_tooth.ripple(ctx, driven)
    loose = by_tooth.play(ctx, "pulley.teeth_play", "", driven, end.profile(ctx), pull, tension)
    by_tooth.judge(ctx, "", "", wavy, loose, by_tooth.Paths("end.pulley.teeth", "end.belt.tension_n"))


@record
class Loads:
    """Loads of the belt on drive shaft and idler axle, N; what brackets and shafts bear, by the tension; and
    what the tight run has on top of the tension set.
    """

    shaft: Quantity
    idler: Quantity
    bears: list[tautness.Bears]
    advice: Quantity | None
    more: Quantity


def _hanging(end: OpenBelt, ctx: Context) -> tautness.Span | None:
    """The longest straight piece of the belt over the travel, where it hangs free."""
    if not end.hangs():
        return None
    longest = ctx.book.put(
        "belt.longest",
        "Longest straight run of the belt",
        lambda: most(*(s.length_mm for path in end.paths(ctx) for s in path.spans)),
        "mm",
        equation="max over both ends of travel",
        source="common tangents of circles",
        free=end.lying(ctx).free,
    )
    return tautness.Span(longest, ctx.loads.slope)


def _teeth_carry(end: OpenBelt, ctx: Context, lying: Lying) -> Quantity:
    """Pull that the teeth on the drive pulley carry at top speed."""
    keys, label = ("belt.pull_capacity", "belt.pull_still"), "Effective pull that the teeth carry"
    profile, lam = end.profile(ctx), ctx.drive.lam_end
    return belt_data.teeth_carry(ctx, profile, "end.belt", keys, label, lying.mesh, lam)


def _on_teeth(end: OpenBelt, ctx: Context) -> Quantity:
    """Peak force that the teeth on one drive pulley carry."""
    peak, part = ctx.peaks.peak, end.teeth_share(ctx)
    if part == 1.0:
        return peak
    return ctx.book.put(
        "belt.teeth_force",
        "Peak force on the teeth of one motor's pulley",
        lambda: peak.n * part,
        "N",
        equation="(|F_x| + |F_y|)/2",
        source="statics of one belt laid as an H",
        peak=peak,
        part=part,
    )


def _shaft_loads(
    end: OpenBelt, ctx: Context, tight: Quantity, tension: Quantity, share: Quantity, teeth: Quantity
) -> Loads:
    """Loads on the drive shaft and on the idler's axle, what they do to the mounts, and what those bear."""
    peak, lying, put = ctx.peaks.peak, end.lying(ctx), ctx.book.put
    slack = put(
        "loop.slack",
        "Slack run at that moment",
        lambda: most(tension.n + peak.n * share.n - teeth.n, 0.0),
        "N",
        equation="T_i + F·share − F_teeth",
        source="statics",
        tension=tension,
        peak=peak,
        share=share,
        teeth=teeth,
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
    more = put(
        "loop.more",
        "Tight run over the tension set",
        lambda: peak.n * share.n,
        "N",
        equation="F·share",
        source="statics",
        peak=peak,
        share=share,
    )
    less = put(
        "loop.less",
        "Slack run under the tension set",
        lambda: teeth.n - more.n,
        "N",
        equation="F_teeth − F·share",
        source="statics",
        teeth=teeth,
        more=more,
    )
    alike = tautness.alike(ctx, "loop.none", more)
    on_pulley = (more, less, lying.pulley_wrap)
    held = {
        "motor_mount": (load, holding.under_two_runs(ctx, *on_pulley)),
        "idler_mount": (idler_load, holding.under_two_runs(ctx, more, alike, lying.idler_wrap)),
        "anchor_mount": (tight, holding.under_one_run(ctx, peak, share)),
    }
    if ctx.shaft.pulled is not None and "motor_mount" in end.mounts():
        held["motor_mount"] = holding.on_both_sides(
            ctx, "motor_mount", *held["motor_mount"], ctx.shaft.pulled()
        )
    bears = []
    for name, mount in end.mounts().items():
        bears += holding.mount_checks(ctx, name, f"end.{name}", mount, *held[name])
    limit = ctx.shaft.radial_limit
    advice = None
    if not missing_in([limit]):
        left: Term = limit
        if ctx.shaft.pulled is not None:
            words = "What the stage before leaves of the shaft's limit"
            left = holding.left_of(ctx, "shaft.limit_left", words, limit, ctx.shaft.pulled())
        at = tautness.at_load(ctx, "motor_bearing", "the shaft's bearing", "", left, *on_pulley)
        advice = at.tension
    return Loads(load, idler_load, bears, advice, more)


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
