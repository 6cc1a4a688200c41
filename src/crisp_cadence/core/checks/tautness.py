"""What tension a belt is set to: what it needs, what seats its teeth, what its sag and the warmth ask for,
and what the parts that hold it bear; one set of rules for every toothed belt.
"""

from __future__ import annotations

from collections.abc import Callable

from ..account.context import Context
from ..fields.belts import Belt
from ..fields.profile import Profile
from ..formulas import tension as of_tension
from ..ledger.many import least, most, row, spoken
from ..ledger.quantity import Given, Quantity, Term, bare, missing_in
from ..ledger.record import record
from . import belt_data

TARGET_OVER = 1.1  # what is set over what is needed: belt ends settle (common practice)
# Growth of what the belt spans with warmth, 10⁻⁶/K (handbook values; wood along its grain)
FRAME_GROWTH = {"aluminium": 23.0, "steel": 11.5, "wood": 5.0}
READS_WITHIN = 0.1  # of the tension: mass of the belt, length and pitch together (estimate)


@record
class Span:
    """Where a belt hangs free: its longest straight piece, and the slope of that; None where nothing does."""

    longest: Quantity
    slope: Term


@record
class Tension:
    """The tension of a belt, N: as it is set, when it is coldest and when it is warmest; the least and the
    target of its band, what this case alone needs, by how much warmth moves it, and the weight of a metre of
    it across its run where it hangs, N/m; `met` where the program sets the tension by its target.
    """

    set: Quantity
    cold: Quantity
    hot: Quantity
    low: Quantity
    target: Quantity
    here: Quantity
    warmth: Quantity
    weight: Quantity | None
    met: bool


@record
class Bears:
    """Something that gives up above a tension to set: its words, its field, and that tension, N."""

    says: str
    path: str
    tension: Quantity


@record
class Upper:
    """The upper end of a band, N, and the tension at which a shaft's bearing is at its limit, where that is
    known.
    """

    high: Quantity
    advice: Quantity | None


@record
class Words:
    """What a belt's tension is called: the beginning of its keys, the key of the tension set, of the rungs,
    and what goes behind its labels.
    """

    keys: str
    set: str
    rungs: str
    behind: str = ""


@record
class AtRest:
    """What a belt asks for before any load, N: what seats its teeth where that is known, and where it hangs,
    the tension at which sag costs a tenth of its stiffness, and the weight of a metre across its run in N/m;
    and by how much warmth moves its tension.
    """

    floor: Quantity | None
    sag: Quantity | None
    weight: Quantity | None
    warmth: Quantity


def at_rest(
    ctx: Context,
    belt: Belt,
    profile: Profile,
    at: str,
    words: Words,
    ea: Quantity,
    line_mass: Quantity,
    span: Span | None,
    kept: bool = False,
) -> AtRest:
    """What seats the teeth, what sag and warmth ask for; warmth asks for nothing where a weight has `kept`
    the tension.
    """
    g, name, behind = ctx.given, words.keys, words.behind
    warmth = (
        _by_warmth(ctx, belt, at, words, ea)
        if not kept
        else ctx.book.put(
            f"{name}warmth",
            f"Tension that warmth adds or takes{behind}",
            0.0,
            "N",
            equation="0",
            source="a weight keeps the tension",
            ea=ea,
        )
    )
    floor = sag = weight = None
    if profile.install_n_per_mm is not None:
        floor = ctx.calc(
            f"{name}floor",
            f"Least tension that seats the teeth{behind}",
            of_tension.installation_tension,
            install_n_per_mm=ctx.datum(profile, "install_n_per_mm", profile.install_n_per_mm, "N/mm"),
            width_mm=g(f"{at}.width_mm"),
        )
    if span is not None:
        weight = ctx.calc(
            f"{name}weight",
            f"Weight of a metre across its run{behind}",
            of_tension.hanging_weight,
            line_mass_g_m=line_mass,
            slope_rad=span.slope,
        )
        sag = ctx.calc(
            f"{name}sag",
            f"Tension at which sag costs a tenth of the stiffness{behind}",
            of_tension.sag_tension,
            ea_n=ea,
            weight_n_m=weight,
            span_mm=span.longest,
        )
    return AtRest(floor, sag, weight, warmth)


def _by_warmth(ctx: Context, belt: Belt, at: str, words: Words, ea: Quantity) -> Quantity:
    frame = ctx.design.assumptions.frame
    return ctx.calc(
        f"{words.keys}warmth",
        f"Tension that warmth adds or takes{words.behind}",
        of_tension.warmth_tension,
        ea_n=ea,
        frame_growth=Given(
            "assumptions.frame", row(FRAME_GROWTH, frame), "10⁻⁶/K", "handbook", spoken(frame)
        ),
        cord_growth=belt_data.cord_growth(belt, at),
        swing_k=ctx.given("assumptions.warmth_k"),
    )


def per_kelvin(ctx: Context, belt: Belt, at: str, ea: Quantity) -> float:
    """By how much the tension rises for each kelvin that belt and frame are warmer, N; 0 where EA lacks."""
    grows = row(FRAME_GROWTH, ctx.design.assumptions.frame), belt_data.cord_growth(belt, at).value
    if ea.value is None or grows[0] is None or grows[1] is None:
        return 0.0
    return float(ea.value * (grows[0] - grows[1]) * 1e-6)


InOneCase = Callable[[str, str, Term], Quantity]


def settle(
    ctx: Context,
    profile: Profile,
    at: str,
    words: Words,
    need: InOneCase,
    rest: AtRest,
    made: Quantity | None = None,
) -> Tension:
    """The tension to set, with the rungs of what asks for it. `need` gives the pretension that keeps a share
    of the load on the slack run in one case, `made` what its tensioner makes by itself.
    """
    g, put, name, behind = ctx.given, ctx.book.put, words.keys, words.behind
    keep = g("assumptions.slack_keep")
    half = put(
        f"{name}keep_low",
        f"Least kept on the slack run{behind}",
        lambda: keep.n / 2,
        "of F",
        equation="s/2",
        source_kind="common practice",
        source="0.1 of the peak force, from memory",
        keep=keep,
    )
    needed, here = ctx.over_cases(
        "most",
        f"{name}needed",
        f"Pretension that keeps both runs taut{behind}",
        lambda key, label: need(key, label, keep),
    )
    taut, _ = ctx.over_cases(
        "most",
        f"{name}taut",
        f"Pretension below which a run may go slack{behind}",
        lambda key, label: need(key, label, half),
    )
    floor, sag, warmth = rest.floor, rest.sag, rest.warmth
    low = put(
        f"{name}low",
        f"Lower end of the tension band{behind}",
        lambda: most(*(x.n for x in (taut, floor) if x is not None)) + warmth.n,
        "N",
        equation="max(T_taut, T_0) + ΔT",
        source="what keeps its runs taut and its teeth seated, when it is coldest",
        taut=taut,
        warmth=warmth,
        also={} if floor is None else {"floor": floor},
    )
    target = put(
        f"{name}target",
        f"Target tension{behind}",
        lambda: most(
            TARGET_OVER * most(*(x.n for x in (needed, floor) if x is not None)) + warmth.n,
            *(TARGET_OVER * x.n for x in (sag,) if x is not None),
        ),
        "N",
        equation="max(1.1·max(T_needed, T_0) + ΔT, 1.1·T_sag)",
        source_kind="common practice",
        source="a tenth over what load, teeth and sag ask for: belt ends settle (from memory)",
        needed=needed,
        warmth=warmth,
        also={n: x for n, x in (("floor", floor), ("sag", sag)) if x is not None},
    )
    chosen = g(f"{at}.tension_n")
    by_itself = chosen.value is None and made is None
    if made is not None:
        if ctx.plain and chosen.value is not None:
            ctx.note(
                "belt",
                f"{at}.tension_n",
                f"The tension{behind} is not set: it comes from its tensioner. The one entered does not "
                f"count.",
            )
        tension = put(
            words.set,
            f"Tension that it has{behind}",
            lambda: made.n,
            "N",
            equation="as its tensioner gives",
            source="nobody sets it",
            made=made,
        )
    elif chosen.value is None:
        tension = put(
            words.set,
            f"Tension to set{behind}",
            lambda: target.n,
            "N",
            equation="T_i = target",
            source="no tension was chosen, so the target is used",
            target=target,
        )
    else:
        tension = put(
            words.set,
            f"Tension to set{behind}",
            chosen.value,
            "N",
            equation="as chosen",
            source_kind="your entry",
            source="your entry",
            chosen=chosen,
        )

    def moved(key: str, equation: str, sign: int) -> Quantity:
        return put(
            f"{name}{key}",
            f"Tension when it is {key}{behind}",
            lambda: most(tension.n + sign * warmth.n, 0.0),
            "N",
            equation=equation,
            source="frame and cords grow apart with warmth",
            tension=tension,
            warmth=warmth,
        )

    cold, hot = moved("coldest", "T_i − ΔT", -1), moved("warmest", "T_i + ΔT", 1)
    for rung, label, demand, capacity, says, advisory in (
        (
            "floor",
            f"Belt seated in its pulleys{behind}",
            floor,
            cold,
            "Set more tension: below this the teeth ride up.",
            False,
        ),
        (
            "hang",
            f"Free run hangs little{behind}",
            sag,
            tension,
            "Set more tension, or support the run: its sag costs stiffness.",
            True,
        ),
    ):
        if demand is not None:
            ctx.rung(
                f"{words.rungs}{rung}",
                label,
                demand,
                capacity,
                1.0,
                unit="N",
                section="tension",
                path=f"{at}.tension_n",
                says=says,
                advisory=advisory,
                met=by_itself,
            )
    if floor is None and ctx.plain:
        ctx.note(
            "belt",
            f"{at}.tension_n",
            f"No least tension is known for {profile.name}: ask its maker what seats the teeth.",
        )
    return Tension(tension, cold, hot, low, target, here, warmth, rest.weight, by_itself)


def bounded(
    ctx: Context, words: Words, tension: Tension, bears: list[Bears], advice: Quantity | None
) -> Upper:
    """Upper end of the band: the least tension at which something that holds the belt gives up, with the
    rung of whether any is left. `advice` is the tension at which the shaft's bearing is at its limit.
    """
    name, behind, warmth = words.keys, words.behind, tension.warmth
    known = [b for b in bears if not missing_in([b.tension])] or bears

    def in_one_case(key: str, label: str) -> Quantity:
        return ctx.book.put(
            key,
            label,
            lambda: most(least(*(b.tension.n for b in known)) - warmth.n, 0.0),
            "N",
            equation="min(T of each part that holds it) − ΔT",
            source="what cords, ends, brackets and axles bear at the peak of the load, when it is warmest",
            warmth=warmth,
            also={f"x{i + 1}": b.tension for i, b in enumerate(known)},
        )

    high, _ = ctx.over_cases("least", f"{name}high", f"Upper end of the tension band{behind}", in_one_case)
    ends = known[0]
    if ctx.plain and not missing_in([b.tension for b in known]):
        ends = min(known, key=lambda b: b.tension.n)
    ctx.rung(
        f"{words.rungs}band",
        f"Room between least and most tension{behind}",
        tension.low,
        high,
        1.0,
        unit="N",
        section="tension",
        path=ends.path,
        says=f"What ends it first: {ends.says}. A narrower belt needs less, a stronger part bears more.",
    )
    scatters = (1 + READS_WITHIN) / (1 - READS_WITHIN)
    if ctx.plain and not missing_in([high, tension.low]) and 1 < high.n / tension.low.n < scatters:
        ctx.note(
            "tune",
            ends.path,
            f"The band of the tension{behind} is narrower than what one reading scatters (a tenth either "
            f"way): read it several times. What ends it above: {ends.says}.",
        )
    limit = None
    if advice is not None:
        limit = ctx.book.put(
            f"{name}advice",
            f"Tension at the limit of the shaft's bearing{behind}",
            lambda: most(advice.n - warmth.n, 0.0),
            "N",
            equation="T_radial − ΔT",
            source="advice: ordinary axes often exceed the small frames' limit",
            at=advice,
            warmth=warmth,
        )
    return Upper(high, limit)


def at_pull(
    ctx: Context, key: str, says: str, path: str, limit: Term, margin: Term, force: Term, share: Term
) -> Bears:
    """What gives up under the pull of the tight run alone."""
    allowed = over(ctx, f"{key}.bears", f"Pull allowed: {says}", limit, margin)
    found = ctx.calc(
        f"{key}.tension",
        f"Tension to set at which it gives up: {says}",
        of_tension.tension_at_pull,
        limit_n=allowed,
        peak_force_n=force,
        largest_share=share,
    )
    return Bears(says, path, found)


def at_load(
    ctx: Context, key: str, says: str, path: str, load: Term, tight: Term, slack: Term, wrap: Term
) -> Bears:
    """What gives up under the load of both runs; `tight` and `slack` are what they have more and less than
    the tension set.
    """
    found = ctx.calc(
        f"{key}.tension",
        f"Tension to set at which it gives up: {says}",
        of_tension.tension_at_shaft_load,
        load_n=load,
        tight_n=tight,
        slack_n=slack,
        wrap_rad=wrap,
    )
    return Bears(says, path, found)


def alike(ctx: Context, key: str, more: Term) -> Quantity:
    """What the second run of an idler lacks of the tension set: both have as much more."""
    return ctx.book.put(
        key,
        "Second run under the tension set",
        lambda: -bare(more),
        "N",
        equation="−ΔT",
        source="both runs of an idler are alike",
        more=more,
    )


def over(ctx: Context, key: str, label: str, limit: Term, margin: Term) -> Term:
    """What is allowed of what a part bears, by the margin asked for."""
    if isinstance(margin, float) and margin == 1.0:
        return limit
    return ctx.book.put(
        key,
        label,
        lambda: bare(limit) / bare(margin),
        "N",
        equation="F/margin",
        source="what it bears over the margin asked for",
        limit=limit,
        margin=margin,
    )
