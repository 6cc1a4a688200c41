"""What gives at the carriage along the travel, how it rings, and what that costs in error."""

from __future__ import annotations

import numpy as np

from . import axis, springs
from .context import Context
from .ends.base import End, FloatArray, Moving
from .formula import Quantity, Term, missing_in
from .report import Share, TravelCurves

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


def give_along(
    ctx: Context,
    end: End,
    torque_path: list[tuple[str, str, Quantity]],
    rotor: Quantity,
    field: Quantity | None,
    moving: Moving,
    soft: dict[str, str],
) -> tuple[TravelCurves | None, tuple[Share, ...]]:
    """Stiffness, shares and both modes along the travel."""
    g, r = ctx.given, ctx.book.results
    positions = end.positions(ctx, POSITIONS)
    known = not missing_in(k for _, _, k in torque_path)
    network = (
        end.springs(ctx, positions, [(p, label, k.value or 0.0) for p, label, k in torque_path])
        if known
        else None
    )
    own = end.own_springs(ctx, positions)
    if network is None and not torque_path and not own:
        return None, ()  # nothing in this chain is known to give
    # A mount that lacks its measurement is the only input of the network that is not a result already.
    mounts = [
        g(f"end.{m}.stiffness_n_mm")
        for m in ("motor_mount", "idler_mount")
        if getattr(getattr(end, m, None), "kind", "") == "measured"
    ]
    inputs: dict[str, Term] = {
        **{p.replace(".", "_"): k for p, _, k in torque_path},
        **({"ea": r["belt.ea"]} if "belt.ea" in r else {}),
        **{f"mount{i}": m for i, m in enumerate(mounts)},
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
        if field is not None and None not in (rotor.value, field.value, r["mass.total"].value):
            modes = springs.two_modes(
                rotor.value, (r["mass.total"].value or 0) / moving.motors, field.value, 1 / without["field"]
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
        _modes(ctx, low, high, k_min, rotor)
    if stiffness is not None:
        whip = r["force.whip"].value or 0.0
        share = r["loop.share"].value or 0.0 if "loop.share" in r else 0.0
        zeros = np.zeros(POSITIONS) if low is None else low
        curves = TravelCurves(
            tuple(positions.tolist()),
            tuple(stiffness.tolist()),
            tuple(zeros.tolist()),
            tuple((zeros if high is None else high).tolist()),
            tuple((whip / stiffness).tolist()),
            tuple(
                [(r["belt.peak_force"].value or 0) * (share + ctx.design.assumptions.slack_keep)] * POSITIONS
            ),
        )
    return curves, shares


def _modes(
    ctx: Context, low: FloatArray | None, high: FloatArray | None, k_min: Quantity, rotor: Quantity
) -> None:
    g, r = ctx.given, ctx.book.results
    text = "two masses on two springs, eigenvalues in closed form"
    first = ctx.over_travel(
        "mode.low",
        "Ringing frequency, lowest along the travel",
        low,
        "Hz",
        text,
        "rotor on its field, load on the chain",
        {"stiffness": k_min, "rotor": rotor, "mass": r["mass.total"]},
        worst=np.min,
    )
    ctx.over_travel(
        "mode.high",
        "Second mode, lowest along the travel",
        high,
        "Hz",
        text,
        "rotor on its field, load on the chain",
        {"stiffness": k_min, "rotor": rotor, "mass": r["mass.total"]},
        worst=np.min,
    )
    if "steps_per_mm" in r:
        ctx.calc(
            "mode.speed",
            "Slow speed to avoid: full steps excite the ringing",
            axis.resonant_speed,
            frequency_hz=first,
            steps_mm=r["steps_per_mm"],
            microsteps=g("chain.0.driver.microsteps"),
        )


def precision(ctx: Context, backlash: Quantity, positioning: bool) -> None:
    """Rungs of error: whip, give under push, lost motion; only the push where nothing holds a place."""
    g, r = ctx.given, ctx.book.results
    if "stiffness.min" not in r:
        return
    k, allowed, margin = r["stiffness.min"], g("aim.error_mm"), g("assumptions.margin_error")
    whip = ctx.calc(
        "error.whip",
        "Whip of the carriage on starting and stopping",
        axis.give,
        force_n=r["force.whip"],
        stiffness_n_mm=k,
    )
    push = ctx.calc("error.push", "Give under the push", axis.give, force_n=g("aim.push_n"), stiffness_n_mm=k)
    sag = ctx.calc(
        "error.sag", "Sag under the load held", axis.give, force_n=r["force.hold"], stiffness_n_mm=k
    )
    lost = ctx.calc(
        "error.lost",
        "Lost motion on reversing",
        axis.lost_motion,
        friction_n=r["force.drag"],
        stiffness_n_mm=k,
        backlash_mm=backlash,
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
        ctx.rung(
            key,
            label,
            got,
            allowed,
            margin,
            unit="mm",
            section="stiffness",
            path="aim.error_mm",
            says=says,
            lower_is_better=True,
        )
