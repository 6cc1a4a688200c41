"""What gives at the carriage along the travel, how it rings, and what that costs in error."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from ..account.context import Context
from ..account.report import Column, Share, Table, TravelCurves
from ..formulas import dynamics, motion, springs, stepping
from ..formulas.springs import Network
from ..ledger.formula import Real
from ..ledger.many import Fold, along, at_least, at_most, is_column, most, pick, where
from ..ledger.quantity import Quantity, Term, missing_in
from ..ledger.record import record
from ..parts.ends.contract import End, Moving

POSITIONS = 25  # along the usable travel

_SHARE_FIELD = {
    "belt": "end.belt.width_mm",
    "teeth": "end.belt.width_mm",
    "field": "chain.0.driver.current_a",
    "shaft": "end.pulley.overhang_mm",
    "cross_shaft": "sides.shaft_mm",
    "screw": "end.diameter_mm",
    "nut": "end.bearing_n_mm",
    "mesh": "end.mesh_n_mm",
    "tyre": "end.tyre_n_mm",
    "rope": "end.rope_mm",
    "arm": "end.height_mm",
    "motor_mount": "end.motor_mount.kind",
    "idler_mount": "end.idler_mount.kind",
    "anchor_mount": "end.anchor_mount.kind",
    "shaft_bend": "end.pulley.overhang_mm",
}


def shaft_spring(ctx: Context, diameter: Term, overhang: str, lam: Quantity) -> Quantity:
    """Torsion of the bare shaft that carries the pulley, as the carriage feels it."""
    k = ctx.calc(
        "shaft.torsion",
        "Torsional stiffness of the bare shaft",
        springs.shaft_torsion_stiffness,
        shear_gpa=springs.STEEL_SHEAR,
        diameter_mm=diameter,
        length_mm=ctx.given(overhang),
    )
    return ctx.calc(
        "shaft.at_carriage",
        "Bare shaft at the carriage",
        springs.torsion_at_carriage,
        stiffness_nm_rad=k,
        radians_per_mm=lam,
    )


def ringing(ctx: Context, end: End, moving: Moving, far_side: Quantity | None) -> Quantity:
    """How many times the accelerating force what rings makes of it, on the stroke that was named or the whole
    travel; where no frequency of what moves is known, as on a long ramp.

    What moves rings on the end and the stages. The motor makes it ring slower by what is not known when a
    belt is chosen: by up to a half, and the worst of what lies between counts.
    """
    g, put, damping = ctx.given, ctx.book.put, ctx.given("assumptions.damping")
    long = ctx.calc(
        "ringing.long", "Peak of a sudden force, long ramps", springs.overshoot_factor, damping_ratio=damping
    )
    put(
        "ringing.worst",
        "Peak of a sudden force, worst stroke",
        lambda: long.n**2,
        "",
        equation="(1 + q)²",
        source="ramps of half a period that meet",
        long=long,
    )
    places = end.positions(ctx, 3)
    terms = end.spring_terms(ctx, places, sagging=False)
    stages, total = ctx.drive.torque_path, ctx.loads.masses.total
    inputs: dict[str, Term] = {**{p.replace(".", "_"): k for p, _, k in stages}, **terms}
    if not inputs or missing_in([*inputs.values(), far_side, total]):
        return put(
            "ringing.factor",
            "Peak of a sudden force, as on long ramps",
            lambda: long.n,
            "",
            equation="1 + q",
            source="no frequency of what moves is known: shorter moves may ring more",
            long=long,
        )

    @_kept
    def give() -> Real:
        return end.held(ctx, places, far_side, sagging=False).give()

    def hertz(of: Callable[[Real], Real]) -> Real:
        """With the motor held, where the end is softest or stiffest."""
        gives = of(give()) + sum(1 / k.n for _, _, k in stages)
        return springs.frequency(most(gives, 1e-12) * (total.n / moving.motors))

    def mode(key: str, label: str, work: Callable[[], Real], equation: str) -> Quantity:
        return put(
            f"ringing.{key}",
            label,
            work,
            "Hz",
            equation=equation,
            source="what moves on the end and the stages, belt taken as straight; rotor and field make it "
            "slower, at most by half",
            mass=total,
            also=inputs,
        )

    low = mode(
        "low",
        "Rings at, no slower than",
        lambda: hertz(at_most) / 2,
        "½·√(k/m)/2π, softest place, motor held",
    )
    high = mode(
        "high", "Rings at, no faster than", lambda: hertz(at_least), "√(k/m)/2π, stiffest place, motor held"
    )
    stroke, words = g("aim.stroke_mm"), "on the stroke that it goes to and fro"
    if stroke.value is None:
        stroke, words = g("aim.travel_mm"), "on the move over the whole travel"
    move: dict[str, Term] = {
        "distance_mm": stroke,
        "speed_mm_s": g("aim.speed_mm_s"),
        "acceleration_mm_s2": g("aim.acceleration_mm_s2"),
    }
    return ctx.calc(
        "ringing.factor",
        f"Peak of a sudden force, {words}",
        springs.ringing_on_move,
        damping_ratio=damping,
        low_hz=low,
        high_hz=high,
        ramp_s=ctx.calc("ringing.ramp", "Time that it speeds up", motion.ramp_time, **move),
        coast_s=ctx.calc("ringing.coast", "Time at top speed", motion.coast_time, **move),
    )


def _kept(work: Callable[[], Any]) -> Callable[[], Any]:
    """Worked out at the first asking; lighter than a cache, since it is made for each design."""
    found: list[Any] = []

    def call() -> Any:
        if not found:
            found.append(work())
        return found[0]

    return call


def _itself(value: Real) -> Real:
    return value


def _both_modes(
    ctx: Context, field: Quantity, moving: Moving, beyond: Real, spread: Callable[[Real], Real] = _itself
) -> tuple[Real, Real]:
    """Both modes of rotor and load, Hz, where all that lies beyond the field gives so much, mm/N; `spread`
    gives numbers of the design the axis that places along the travel lie along.
    """
    rotor, total = ctx.drive.rotor_mass, ctx.loads.masses.total
    stiff = spread(field.n * springs.RIGID)  # where nothing else gives, it is taken as rigid
    return springs.two_modes(
        spread(rotor.n), spread(total.n / moving.motors), spread(field.n), 1 / most(beyond, 1 / stiff)
    )


@record
class Give:
    """What gives along the travel: the stiffness at its softest place, and for a report the speeds that make
    it ring, the curves and the shares; `modes` its two lowest frequencies; nothing where no part of the chain
    is known to give.
    """

    softest: Quantity | None = None
    modes: tuple[Quantity, ...] = ()
    rings: Callable[[], Table | None] = lambda: None
    curves: Callable[[], TravelCurves | None] = lambda: None
    shares: Callable[[], tuple[Share, ...]] = tuple


Springs = list[tuple[str, str, Quantity]]


def _field(ctx: Context, key: str, label: str, stiffness: Quantity) -> Quantity:
    """The rotor's magnetic spring as the carriage feels it."""
    return ctx.calc(
        key,
        label,
        springs.torsion_at_carriage,
        stiffness_nm_rad=stiffness,
        radians_per_mm=ctx.drive.lam_motor,
    )


def torque_path(
    ctx: Context, end: End, field_stiffness: Quantity | None, lam: Quantity
) -> tuple[Springs, Quantity | None]:
    """Springs of the chain in power-flow order as the carriage feels them, and the rotor's among them."""
    path, field = list(ctx.drive.torque_path), None
    if field_stiffness is not None:
        field = _field(ctx, "field.at_carriage", "Magnetic spring at the carriage", field_stiffness)
        path.insert(0, ("field", "Rotor in its field", field))
    overhang = end.overhang()
    if overhang:
        bare = shaft_spring(ctx, ctx.shaft.diameter, overhang, lam)
        path.append(("shaft", "Bare shaft under the drive pulley", bare))
    teeth = end.meshes(ctx, lam)
    if teeth is not None:
        path.append(("teeth", "Teeth in the drive pulley", teeth))
    return path, field


def give_along(
    ctx: Context,
    end: End,
    path: Springs,
    field: Quantity | None,
    moving: Moving,
    soft: dict[str, str],
    far_side: Quantity | None,
) -> Give:
    """Stiffness along the travel, its shares and both modes.

    The chain is the only thing that holds the point along its travel, so that all of the force passes through
    it: what gives is the end with its drive held, and the springs of the chain in series with it. The chain
    is the same all along the travel, and both modes rise with the stiffness: the softest place is the end's
    own, and the lowest of each mode lies there.
    """
    rotor, total = ctx.drive.rotor_mass, ctx.loads.masses.total
    positions = end.positions(ctx, POSITIONS)
    terms = end.spring_terms(ctx, positions)
    if not path and not terms:
        return Give()  # nothing in this chain is known to give
    bends = end.bends(ctx, positions)
    inputs: dict[str, Term] = {**{p.replace(".", "_"): k for p, _, k in path}, **terms}
    if bends is not None:
        inputs["bending"] = bends[0]
    known = not missing_in([*inputs.values(), far_side])

    @_kept
    def held() -> Network:
        # The belt's tension stiffens it: only known when all cases are.
        return end.held(ctx, positions, far_side)

    @_kept
    def of_end() -> Real:
        return held().give()

    def of_chain(without: Quantity | None = None) -> Real:
        return sum(1 / k.n for _, _, k in path if k is not without)

    def bent(which: Fold) -> Real:
        """What the last shaft gives by bending, where the end is softest or stiffest."""
        return 0.0 if bends is None else where(which, of_end(), bends[1]) / bends[0].n

    @_kept
    def softest() -> Real:
        return at_most(of_end()) + bent("most")

    @_kept
    def bent_along() -> Real:
        return 0.0 if bends is None else bends[1] / along(bends[0].n)

    def along_travel() -> Real:
        return of_end() + bent_along() + along(of_chain())

    equation, source = (
        "1/(c_end + Σ 1/k), softest place of the travel",
        "belt runs and mounts as a small stiffness network, in series with shaft, gearbox and rotor field",
    )
    k_min = ctx.book.put(
        "stiffness.min",
        "Stiffness at the carriage, softest place",
        # The other motors' chains pull beside this one.
        (lambda: moving.motors / (softest() + of_chain())) if known else None,
        "N/mm",
        equation=equation,
        source=source,
        also=inputs,
    )
    ctx.book.put(
        "stiffness.max",
        "Stiffness at the carriage, stiffest place",
        (lambda: moving.motors / (at_least(of_end()) + bent("least") + of_chain())) if known else None,
        "N/mm",
        equation=equation.replace("softest", "stiffest"),
        source=source,
        also=inputs,
    )

    if terms and known:
        ctx.book.put(
            "stiffness.end",
            "Stiffness of the end with its drive held, softest place",
            lambda: moving.motors / at_most(of_end()),
            "N/mm",
            equation=equation,
            source=source,
            also=terms,
        )

    def modes(of_end_there: Real, spread: Callable[[Real], Real]) -> tuple[Real, Real]:
        assert field is not None
        return _both_modes(ctx, field, moving, of_end_there + spread(of_chain(field)), spread)

    found: tuple[Quantity, ...] = ()
    if field is not None:
        both = _kept(lambda: modes(softest(), _itself))
        found = _modes(ctx, both if known else None, k_min)

    def curves() -> TravelCurves | None:
        if not known:
            return None
        stiffness = moving.motors / along_travel()
        low: Real = 0.0
        high: Real = 0.0
        if field is not None and not missing_in((rotor, total)):
            low, high = modes(of_end() + bent_along(), along)
        kept = (ctx.peaks.peak.value or 0) * (end.tight_share(ctx) + ctx.design.assumptions.slack_keep)
        return TravelCurves(
            tuple(positions.tolist()),
            _everywhere(stiffness),
            _everywhere(low),
            _everywhere(high),
            _everywhere((ctx.peaks.whip.value or 0.0) / stiffness),
            _everywhere(kept),
        )

    def shares() -> tuple[Share, ...]:
        if not known:
            return ()
        relief = held().relief(of_end()) | {p: (label, 1 / k.n) for p, label, k in path}
        if bends is not None:
            relief["shaft_bend"] = ("Drive shaft, bending", bent_along())
        places = (int(np.argmax(of_end())), 0, -1)
        found = {p: [_at(r, place) for place in places] for p, (_, r) in relief.items()}
        whole = [sum(there) for there in zip(*found.values(), strict=True)]
        listed = [
            Share(
                p,
                relief[p][0],
                there[0] / whole[0],
                there[1] / whole[1],
                there[2] / whole[2],
                soft.get(p) or _SHARE_FIELD.get(p, "end"),
            )
            for p, there in found.items()
        ]
        return tuple(sorted(listed, key=lambda s: -s.share))

    return Give(k_min, found, lambda: _rings(ctx, found), curves, shares)


def _everywhere(value: Real) -> tuple[float, ...]:
    """At each of the positions, of what may be the same at all of them."""
    return tuple(value.tolist()) if is_column(value) else (float(value),) * POSITIONS


def _at(value: Real, place: int) -> float:
    return float(value[place] if is_column(value) else value)


def _rings(ctx: Context, modes: tuple[Quantity, ...]) -> Table | None:
    """The speeds at which a stepper's steps come as fast as it rings."""
    steps = ctx.stepping
    if steps is None or not modes or missing_in((*modes, steps.per_mm)):
        return None
    full = [stepping.resonant_speed(m.n, steps.per_mm.n, steps.microsteps.n) for m in modes]
    return Table(
        "rings",
        "Speeds at which the steps excite the ringing",
        (
            Column("mode"),
            Column("rings at", "Hz"),
            Column("full steps", "mm/s"),
            Column("twice the electrical frequency", "mm/s"),
            Column("electrical frequency", "mm/s"),
        ),
        tuple(
            (name, m.value, speed, 2 * speed, 4 * speed)
            for name, m, speed in zip(("lower", "upper"), modes, full, strict=True)
        ),
        "A rotor loses full and half steps there: pass through such speeds, do not stay at them. The loss of "
        "torque at middling speeds of microstepped motors, mid-band instability, is not modelled.",
        "shake",
    )


def _modes(
    ctx: Context, both: Callable[[], tuple[Real, Real]] | None, k_min: Quantity
) -> tuple[Quantity, Quantity]:
    rotor, total = ctx.drive.rotor_mass, ctx.loads.masses.total
    text = "two masses on two springs, eigenvalues in closed form"

    def mode(key: str, label: str, place: int) -> Quantity:
        return ctx.book.put(
            key,
            label,
            None if both is None else lambda: both()[place],
            "Hz",
            equation=text,
            source="rotor on its field, load on the chain",
            stiffness=k_min,
            rotor=rotor,
            mass=total,
        )

    first = mode("mode.low", "Ringing frequency, lowest along the travel", 0)
    second = mode("mode.high", "Second mode, lowest along the travel", 1)
    if ctx.stepping is not None:
        ctx.calc(
            "mode.speed",
            "Slow speed to avoid: full steps excite the ringing",
            stepping.resonant_speed,
            frequency_hz=first,
            steps_mm=ctx.stepping.per_mm,
            microsteps=ctx.stepping.microsteps,
        )
    return first, second


def _standing(
    ctx: Context, k: Quantity, field: Quantity | None, at_rest: Quantity | None, motors: Real
) -> tuple[Quantity, Quantity]:
    """What gives under the load held, mm, and for a newton while it stands, mm/N: the motor's field has the
    current of standing then, unless the drive holds by itself.
    """
    hold, locks = ctx.loads.by_phase["hold"], ctx.drive.locks
    terms: dict[str, Term] = {"stiffness": k}
    words = ("1/k", "Hooke's law")

    def gives() -> Real:
        return 1 / k.n

    if field is not None and at_rest is not None and (is_column(locks) or not locks):
        weak = _field(ctx, "field.standing", "Magnetic spring at the carriage, at standing current", at_rest)
        terms |= {"field": field, "standing": weak}
        words = (
            "1/k + (1/k_standing − 1/k_field)/n",
            "springs in series, the rotor's field at the current of standing",
        )

        def gives() -> Real:
            soft = pick(weak.n > 0, 1 / most(weak.n, 1e-12), math.inf)
            return 1 / k.n + pick(locks, 0.0, (soft - 1 / field.n) / motors)

    equation, source = words
    sag = ctx.book.put(
        "error.sag",
        "Sag under the load held",
        lambda: pick(hold.n == 0, 0.0, hold.n * gives()),
        "mm",
        equation=f"F·({equation})",
        source=source,
        force=hold,
        also=terms,
    )
    one = ctx.book.put(
        "stiffness.stands",
        "Gives for a newton while it stands",
        gives,
        "mm/N",
        equation=equation,
        source=source,
        also=terms,
    )
    return sag, one


def precision(
    ctx: Context,
    k: Quantity,
    positioning: bool,
    field: Quantity | None,
    at_rest: Quantity | None,
    motors: Real,
) -> Quantity:
    """Rungs of error: whip, give under push, lost motion; only the push where nothing holds a place. Returns
    what it gives for a newton while it stands, mm/N.

    `k` is the stiffness at the softest place, `field` that of the rotor's field at the carriage, `at_rest` of
    the field at standing current.
    """
    loads = ctx.loads
    whip = ctx.calc(
        "error.whip",
        "Whip of the carriage on starting and stopping",
        dynamics.give,
        force_n=ctx.peaks.whip,
        stiffness_n_mm=k,
    )
    push = ctx.calc("error.push", "Give under the push", dynamics.give, force_n=loads.push, stiffness_n_mm=k)
    sag, stands = _standing(ctx, k, field, at_rest, motors)
    lost = ctx.calc(
        "error.lost",
        "Lost motion on reversing",
        dynamics.lost_motion,
        friction_n=loads.drag,
        stiffness_n_mm=k,
        backlash_mm=ctx.drive.backlash,
    )
    for key, label, got, says in (
        (
            "whip",
            "Whip on starting and stopping",
            whip,
            "A wider belt, a shorter loop, stiffer mounts, or less acceleration; see what gives most "
            "in Shake.",
        ),
        ("push_give", "Give under the push", push, "A wider belt or stiffer mounts."),
        (
            "sag",
            "Sag under the load held",
            sag,
            "A stiffer chain, more standing current, or a counterweight.",
        ),
        (
            "lost",
            "Lost motion (resolution under load)",
            lost,
            "Less friction, a stiffer chain, or less backlash.",
        ),
    ):
        if not positioning and key != "push_give":
            continue
        ctx.error_rung(key, label, got, "aim.error_mm", says)
    return stands
