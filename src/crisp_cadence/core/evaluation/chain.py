"""The chain between motor and end: ratio, torque, inertia, springs and backlash carried from shaft to
shaft.
"""

from __future__ import annotations

from functools import cache, partial, reduce

import numpy as np

from ..account.context import Context
from ..account.found import PHASES, Drive, Phase, Phases
from ..formulas import dynamics, motion, springs
from ..ledger.formula import Real
from ..ledger.many import is_column, pick
from ..ledger.quantity import Given, Quantity, Term, bare, missing_in, value_of
from ..parts.ends.contract import Moving
from ..parts.stages.contract import Stage, Transmission

ARCMIN = 2.908882086657216e-4  # rad


def walk(
    ctx: Context, chain: list[Stage], passes: list[Transmission], moving: Moving, forces: Phases
) -> Drive:
    """Carry λ, torque, inertia, stiffness and backlash from the end back to the motor."""
    acceleration = ctx.given("aim.acceleration_mm_s2")
    lam = moving.lam
    backwards = moving.efficiency if moving.efficiency_back is None else moving.efficiency_back
    one = _on_one_motor(ctx, moving, forces)
    torque: Phases = {
        p: _torque(
            ctx,
            f"end.torque_{p}",
            "Torque at the drive pulley",
            one[p],
            lam,
            *_losses(p, moving.efficiency, moving.efficiency_back),
            0.0,
            0.0,
        )
        for p in PHASES
    }
    torque_end = torque
    lam_out: list[Quantity] = []
    lam_in: list[Quantity] = []
    torque_in: list[Phases] = []
    path: list[tuple[str, str, Quantity]] = []
    masses: list[Quantity] = []
    none = not isinstance(moving.backlash_mm, (Given, Quantity)) and moving.backlash_mm == 0.0
    play: dict[str, Term] = {} if none else {"end": moving.backlash_mm}
    for j in range(len(chain) - 1, -1, -1):
        stage, passed, name = chain[j], passes[j], f"chain.{j}"
        lam_out.insert(0, lam)
        if passed.stiffness_out_nm_rad is not None:
            k = ctx.calc(
                f"{name}.stiffness",
                f"{label_of(stage)} as the carriage feels it",
                springs.torsion_at_carriage,
                stiffness_nm_rad=passed.stiffness_out_nm_rad,
                radians_per_mm=lam,
            )
            path.insert(0, (name, label_of(stage), k))
        play_out = value_of(passed.backlash_out_arcmin)
        if not is_column(play_out) and play_out == 0.0:
            play[f"x{j}"] = 0.0
        else:
            play[f"x{j}"] = ctx.book.put(
                f"{name}.backlash",
                f"Backlash of the {label_of(stage).lower()} at the carriage",
                partial(_backlash, passed, lam),
                "mm",
                equation="b/λ",
                source="kinematics",
                backlash=passed.backlash_out_arcmin,
                radians_per_mm=lam,
            )
        if j > 0:
            lam = ctx.book.put(
                f"{name}.lam",
                f"Turn into the {label_of(stage).lower()} for 1 mm",
                partial(_times, lam, passed.ratio),
                "rad/mm",
                equation="λ_in = λ_out·i",
                source="kinematics",
                radians_per_mm=lam,
                ratio=passed.ratio,
            )
        lam_in.insert(0, lam)
        mass = ctx.calc(
            f"{name}.mass",
            f"Inertia of the {label_of(stage).lower()} as a mass",
            dynamics.mass_of_inertia,
            inertia_gcm2=passed.inertia_in_gcm2,
            radians_per_mm=lam,
        )
        masses.append(mass)
        held: dict[Phase, Quantity] = {}
        for phase in PHASES:
            force = ctx.book.put(
                f"{name}.force_{phase}",
                f"Load on the {label_of(stage).lower()}, {phase}, as a force at the carriage",
                partial(_times, torque[phase], lam_out[0], 1000.0),
                "N",
                equation="F = T·λ",
                source="balance of power",
                torque=torque[phase],
                radians_per_mm=lam_out[0],
            )
            moves = phase == "accelerate"
            held[phase] = _torque(
                ctx,
                f"{name}.torque_{phase}",
                f"Torque into the {label_of(stage).lower()}, {phase}",
                force,
                lam,
                *_losses(phase, passed.efficiency, passed.efficiency_back),
                mass if moves else 0.0,
                acceleration if moves else 0.0,
            )
        torque = held
        torque_in.insert(0, held)
    lam_motor = ctx.book.put(
        "motor.lam",
        "Turn of the motor for 1 mm",
        lambda: lam.n,
        "rad/mm",
        equation="λ = i/r",
        source="kinematics of the whole chain",
        radians_per_mm=lam,
    )
    rotor = ctx.book.put(
        "motor.mass",
        "Rotor side as a mass at the carriage",
        lambda: sum(m.n for m in masses) + moving.turning_mass.n / moving.motors,
        "kg",
        equation="Σ J·λ² + m_turning/n",
        source="equal kinetic energy; stages, and this motor's part of what turns at the end",
        turning=moving.turning_mass,
        n=moving.motors,
        also={f"m{i}": m for i, m in enumerate(masses)},
    )
    backlash = ctx.book.put(
        "backlash",
        "Backlash at the carriage",
        lambda: sum(bare(t) for t in play.values()),
        "mm",
        equation="Σ b_j/λ_j",
        source="kinematics",
        also=play,
    )
    terms = {f"x{j}": p.efficiency for j, p in enumerate(passes)}
    whole = ctx.book.put(
        "efficiency",
        "Efficiency from motor to carriage",
        lambda: _product([moving.efficiency, *terms.values()]),
        "",
        equation="Π η",
        source="losses in series",
        loop=moving.efficiency,
        also=terms,
    )
    back = [backwards, *(p.efficiency if p.efficiency_back is None else p.efficiency_back for p in passes)]
    locks = _locks(back)
    own_back = moving.efficiency_back is not None or any(p.efficiency_back is not None for p in passes)
    if own_back and (is_column(locks) or not locks):
        reverse: Term = ctx.book.put(
            "efficiency_back",
            "Efficiency driven backwards",
            lambda: _product(back),
            "",
            equation="Π η'",
            source="losses in series",
            also={f"x{j}": b for j, b in enumerate(back)},
        )
    else:
        reverse = whole
    if is_column(locks) or locks:
        torque_in[0] = {
            **torque_in[0],
            "hold": ctx.book.put(
                "motor.hold_asked",
                "Torque asked to hold",
                partial(_unless, locks, torque_in[0]["hold"]),
                "N·m",
                equation="0",
                source="screw or worm holds by itself",
                back=back[0],
            ),
        }
    worst_in = {
        f"chain.{j}": ctx.largest(
            f"chain.{j}.torque_worst",
            f"Largest torque into the {label_of(stage).lower()}",
            *torque_in[j].values(),
            unit="N·m",
        )
        for j, stage in enumerate(chain)
        if j > 0
    }
    return Drive(
        lam_motor,
        tuple(lam_out),
        tuple(lam_in),
        tuple(torque_in),
        worst_in,
        torque_end,
        rotor,
        tuple(path),
        backlash,
        whole,
        reverse,
        locks,
    )


def _on_one_motor(ctx: Context, moving: Moving, forces: Phases) -> Phases:
    """The part of each force that one motor carries at worst."""
    share = moving.motor_share
    if not is_column(share) and share == 1.0:
        return forces
    return {
        p: ctx.book.put(
            f"force.motor_{p}",
            f"Part of it on one motor, {p}",
            partial(_times, forces[p], share),
            "N",
            equation="F·share",
            source="statics: how the motors share the load",
            force=forces[p],
            share=share,
        )
        for p in PHASES
    }


def check_limits(ctx: Context, chain: list[Stage], passes: list[Transmission]) -> None:
    """Rungs for the torque and speed limits that stages state, and those of their own."""
    for j, stage in enumerate(chain):
        if j == 0:
            continue
        passed, name = passes[j], f"chain.{j}"
        worst = ctx.drive.worst_in[name]
        speed = ctx.calc(
            f"{name}.speed",
            f"Speed into the {label_of(stage).lower()}",
            motion.shaft_speed,
            speed_mm_s=ctx.given("aim.speed_mm_s"),
            radians_per_mm=ctx.drive.lam_in[j],
        )
        before = chain[j - 1].output_shaft(f"chain.{j - 1}", ctx, stage.overhang(name))
        stage.rate(name, ctx, worst, speed, before)
        if passed.torque_limit_in is not None:
            ctx.rung(
                f"{name}.torque",
                f"{label_of(stage)} torque",
                worst,
                passed.torque_limit_in,
                ctx.given("assumptions.margin_other"),
                unit="N·m",
                section="stages",
                path=f"{name}.torque_limit_nm",
                says="A stronger one, less acceleration, or less ratio.",
            )
        if passed.speed_limit_in_rpm is not None:
            ctx.rung(
                f"{name}.speed",
                f"{label_of(stage)} speed",
                speed,
                passed.speed_limit_in_rpm,
                1.0,
                unit="rpm",
                section="stages",
                path=f"{name}.speed_limit_rpm",
                says="Less ratio or less speed.",
            )


def label_of(stage: Stage) -> str:
    """What a stage is called where it has no name of its own."""
    return _in_words(stage.kind)


@cache
def _in_words(kind: str) -> str:
    return kind.replace("_", " ").capitalize()


def _losses(phase: Phase, forwards: Term, back: Term | None) -> tuple[Term, Term]:
    """Efficiency forwards and driven backwards; friction is not counted on for a load that is held."""
    if phase == "hold":
        return 1.0, 1.0
    return forwards, forwards if back is None else back


def _torque(
    ctx: Context,
    key: str,
    label: str,
    force: Quantity,
    lam: Quantity,
    efficiency: Term,
    back: Term,
    mass: Term,
    acceleration: Term,
) -> Quantity:
    return ctx.calc(
        key,
        label,
        dynamics.torque_at_shaft,
        force_n=force,
        radians_per_mm=lam,
        efficiency=efficiency,
        efficiency_back=back,
        inertia_mass_kg=mass,
        acceleration_mm_s2=acceleration,
    )


def _locks(back: list[Term]) -> Real:
    """Whether it holds by itself; of columns, where."""
    found = [bare(b) <= 0 for b in back if not missing_in([b])]
    return reduce(np.logical_or, found) if is_column(*found) else any(found)


def _unless(locks: Real, torque: Quantity) -> Real:
    return pick(locks, 0.0, torque.n) if is_column(locks) else 0.0


def _backlash(passed: Transmission, lam: Quantity) -> Real:
    return bare(passed.backlash_out_arcmin) * ARCMIN / lam.n


def _times(a: Quantity, b: Term, factor: float = 1.0) -> Real:
    return a.n * bare(b) * factor


def _product(terms: list[Term]) -> Real:
    out: Real = 1.0
    for term in terms:
        out = out * bare(term)
    return out
