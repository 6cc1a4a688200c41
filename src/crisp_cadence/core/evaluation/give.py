"""What gives at the carriage along the travel, how it rings, and what that costs in error."""

from __future__ import annotations

import numpy as np

from ..account.context import Context
from ..account.report import Share, TravelCurves
from ..formulas import dynamics, springs, stepping
from ..ledger.quantity import Quantity, Term, missing_in
from ..ledger.record import record
from ..parts.ends.contract import End, FloatArray, Moving

POSITIONS = 25  # along the usable travel

_SHARE_FIELD = {
    "belt": "end.belt.width_mm",
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


@record
class Give:
    """What gives along the travel; nothing where no part of the chain is known to give."""

    curves: TravelCurves | None = None
    shares: tuple[Share, ...] = ()
    softest: Quantity | None = None


Springs = list[tuple[str, str, Quantity]]


def torque_path(
    ctx: Context, end: End, field_stiffness: Quantity | None, lam: Quantity
) -> tuple[Springs, Quantity | None]:
    """Springs of the chain in power-flow order as the carriage feels them, and the rotor's among them."""
    path, field = list(ctx.drive.torque_path), None
    if field_stiffness is not None:
        field = ctx.calc(
            "field.at_carriage",
            "Magnetic spring at the carriage",
            springs.torsion_at_carriage,
            stiffness_nm_rad=field_stiffness,
            radians_per_mm=ctx.drive.lam_motor,
        )
        path.insert(0, ("field", "Rotor in its field", field))
    overhang = end.overhang()
    if overhang:
        bare = shaft_spring(ctx, ctx.shaft.diameter, overhang, lam)
        path.append(("shaft", "Bare shaft under the drive pulley", bare))
    return path, field


def give_along(
    ctx: Context,
    end: End,
    path: Springs,
    field: Quantity | None,
    moving: Moving,
    soft: dict[str, str],
    far_side: float | None,
) -> Give:
    """Stiffness, shares and both modes along the travel."""
    rotor, total = ctx.drive.rotor_mass, ctx.loads.masses.total
    positions = end.positions(ctx, POSITIONS)
    known = not missing_in(k for _, _, k in path)
    network = (
        end.springs(ctx, positions, [(p, label, k.value or 0.0) for p, label, k in path], far_side)
        if known
        else None
    )
    own = end.own_springs(ctx, positions)
    if network is None and not path and not own:
        return Give()  # nothing in this chain is known to give
    inputs: dict[str, Term] = {
        **{p.replace(".", "_"): k for p, _, k in path},
        **end.spring_terms(ctx),
        **{f"own_{p}": k for p, _, k, _ in own},
    }
    stiffness: FloatArray | None = None
    shares: tuple[Share, ...] = ()
    curves = None
    modes = None
    if network is not None:
        parts, load = network
        whole, by_part, without = springs.give_and_shares(parts, load, POSITIONS)
        stiffness = moving.motors / whole  # the other motors' chains pull beside this one
        softest = int(np.argmin(stiffness))
        labels = {s.part: s.label for s in parts}
        shares = tuple(
            sorted(
                (
                    Share(
                        p,
                        labels[p],
                        float(s[softest]),
                        float(s[0]),
                        float(s[-1]),
                        soft.get(p) or _SHARE_FIELD.get(p, "end"),
                    )
                    for p, s in by_part.items()
                ),
                key=lambda s: -s.share,
            )
        )
        if field is not None and None not in (rotor.value, field.value, total.value):
            modes = springs.two_modes(
                rotor.value, (total.value or 0) / moving.motors, field.value, 1 / without["field"]
            )
    equation, source = (
        "1/(fᵀ·K⁻¹·f), softest place of the travel",
        "small stiffness network: belt runs, mounts, shaft, gearbox, rotor field",
    )
    k_min = ctx.over_travel(
        "stiffness.min",
        "Stiffness at the carriage, softest place",
        stiffness,
        "N/mm",
        equation,
        source,
        inputs,
        worst=np.min,
    )
    ctx.over_travel(
        "stiffness.max",
        "Stiffness at the carriage, stiffest place",
        stiffness,
        "N/mm",
        equation.replace("softest", "stiffest"),
        source,
        inputs,
        worst=np.max,
    )
    low = None if modes is None else modes[:, 0]
    high = None if modes is None else modes[:, 1]
    if field is not None:
        _modes(ctx, low, high, k_min)
    if stiffness is not None:
        whip = ctx.loads.whip.value or 0.0
        share = end.tight_share(ctx)
        zeros = np.zeros(POSITIONS) if low is None else low
        curves = TravelCurves(
            tuple(positions.tolist()),
            tuple(stiffness.tolist()),
            tuple(zeros.tolist()),
            tuple((zeros if high is None else high).tolist()),
            tuple((whip / stiffness).tolist()),
            tuple([(ctx.loads.peak.value or 0) * (share + ctx.design.assumptions.slack_keep)] * POSITIONS),
        )
    return Give(curves, shares, k_min)


def _modes(ctx: Context, low: FloatArray | None, high: FloatArray | None, k_min: Quantity) -> None:
    rotor, total = ctx.drive.rotor_mass, ctx.loads.masses.total
    text = "two masses on two springs, eigenvalues in closed form"
    first = ctx.over_travel(
        "mode.low",
        "Ringing frequency, lowest along the travel",
        low,
        "Hz",
        text,
        "rotor on its field, load on the chain",
        {"stiffness": k_min, "rotor": rotor, "mass": total},
        worst=np.min,
    )
    ctx.over_travel(
        "mode.high",
        "Second mode, lowest along the travel",
        high,
        "Hz",
        text,
        "rotor on its field, load on the chain",
        {"stiffness": k_min, "rotor": rotor, "mass": total},
        worst=np.min,
    )
    if ctx.stepping is not None:
        ctx.calc(
            "mode.speed",
            "Slow speed to avoid: full steps excite the ringing",
            stepping.resonant_speed,
            frequency_hz=first,
            steps_mm=ctx.stepping.per_mm,
            microsteps=ctx.stepping.microsteps,
        )


def precision(ctx: Context, k: Quantity, positioning: bool) -> None:
    """Rungs of error: whip, give under push, lost motion; only the push where nothing holds a place.

    `k` is the stiffness at the softest place.
    """
    g, loads = ctx.given, ctx.loads
    whip = ctx.calc(
        "error.whip",
        "Whip of the carriage on starting and stopping",
        dynamics.give,
        force_n=loads.whip,
        stiffness_n_mm=k,
    )
    push = ctx.calc(
        "error.push", "Give under the push", dynamics.give, force_n=g("aim.push_n"), stiffness_n_mm=k
    )
    sag = ctx.calc(
        "error.sag",
        "Sag under the load held",
        dynamics.give,
        force_n=loads.by_phase["hold"],
        stiffness_n_mm=k,
    )
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
        ("sag", "Sag under the load held", sag, "A stiffer chain, or a counterweight."),
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
