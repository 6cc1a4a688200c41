"""The chain between motor and end: ratio, torque, inertia, springs and backlash carried from shaft to shaft."""

from __future__ import annotations

from dataclasses import dataclass

from . import axis, springs
from .context import Context
from .ends.base import Moving
from .formula import Quantity, Term, missing_in, value_of
from .stages.base import Stage, Transmission

PHASES = ("accelerate", "cruise", "push", "hold")


@dataclass(frozen=True, slots=True)
class Walk:
    """The chain worked out: λ at each stage's output, torque into each stage by phase, springs and backlash at the carriage."""

    lam_motor: Quantity
    lam_out: tuple[Quantity, ...]
    torque_in: tuple[dict[str, Quantity], ...]
    torque_end: dict[str, Quantity]
    rotor_mass: Quantity
    torque_path: tuple[tuple[str, str, Quantity], ...]
    backlash: Quantity
    efficiency: Quantity


def walk(ctx: Context, chain: list[Stage], moving: Moving, forces: dict[str, Quantity], acceleration: Term) -> Walk:
    """Carry λ, torque, inertia, stiffness and backlash from the end back to the motor."""
    passes = [stage.transmit(f"chain.{j}", ctx) for j, stage in enumerate(chain)]
    lam = moving.lam
    torque = {p: _torque(ctx, f"end.torque_{p}", "Torque at the drive pulley", forces[p], lam, moving.efficiency, 0.0, 0.0) for p in PHASES}
    torque_end = torque
    lam_out: list[Quantity] = []
    torque_in: list[dict[str, Quantity]] = []
    path: list[tuple[str, str, Quantity]] = []
    masses: list[Quantity] = []
    play: dict[str, Term] = {}
    for j in range(len(chain) - 1, -1, -1):
        stage, passed, name = chain[j], passes[j], f"chain.{j}"
        lam_out.insert(0, lam)
        if passed.stiffness_out_nm_rad is not None:
            k = ctx.calc(
                f"{name}.stiffness",
                f"{_label(stage)} as the carriage feels it",
                springs.torsion_at_carriage,
                stiffness_nm_rad=passed.stiffness_out_nm_rad,
                radians_per_mm=lam,
            )
            path.insert(0, (name, _label(stage), k))
        if value_of(passed.backlash_out_arcmin) == 0.0:
            play[f"x{j}"] = 0.0
        else:
            play[f"x{j}"] = ctx.book.put(
                f"{name}.backlash",
                f"Backlash of the {_label(stage).lower()} at the carriage",
                _backlash(passed, lam),
                "mm",
                equation="b/λ",
                source="kinematics",
                backlash=passed.backlash_out_arcmin,
                radians_per_mm=lam,
            )
        if j > 0:
            lam = ctx.book.put(
                f"{name}.lam",
                f"Turn into the {_label(stage).lower()} for 1 mm",
                _times(lam, passed.ratio),
                "rad/mm",
                equation="λ_in = λ_out·i",
                source="kinematics",
                radians_per_mm=lam,
                ratio=passed.ratio,
            )
        mass = ctx.calc(
            f"{name}.mass",
            f"Inertia of the {_label(stage).lower()} as a mass",
            axis.mass_of_inertia,
            inertia_gcm2=passed.inertia_in_gcm2,
            radians_per_mm=lam,
        )
        masses.append(mass)
        held: dict[str, Quantity] = {}
        for phase in PHASES:
            force = ctx.book.put(
                f"{name}.force_{phase}",
                f"Load on the {_label(stage).lower()}, {phase}, as a force at the carriage",
                _times(torque[phase], lam_out[0], 1000.0),
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
                f"Torque into the {_label(stage).lower()}, {phase}",
                force,
                lam,
                passed.efficiency,
                mass if moves else 0.0,
                acceleration if moves else 0.0,
            )
        torque = held
        torque_in.insert(0, held)
    lam_motor = ctx.book.put(
        "motor.lam", "Turn of the motor for 1 mm", lam.value, "rad/mm", equation="λ = i/r", source="kinematics of the whole chain", radians_per_mm=lam
    )
    rotor = ctx.book.put(
        "motor.mass",
        "Rotor side as a mass at the carriage",
        lambda: sum(m.value or 0 for m in masses) + (moving.turning_mass.value or 0),
        "kg",
        equation="Σ J·λ²",
        source="equal kinetic energy; stages and drive pulley",
        pulley=moving.turning_mass,
        also={f"m{i}": m for i, m in enumerate(masses)},
    )
    backlash = ctx.book.put(
        "backlash",
        "Backlash at the carriage",
        lambda: sum(value_of(t) or 0 for t in play.values()),
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
    return Walk(lam_motor, tuple(lam_out), tuple(torque_in), torque_end, rotor, tuple(path), backlash, whole)


def check_limits(ctx: Context, chain: list[Stage], walked: Walk, lam_in_speed: Term) -> None:
    """Rungs for the torque and speed limits that stages state."""
    for j, stage in enumerate(chain):
        if j == 0:
            continue
        passed, name = stage.transmit(f"chain.{j}", ctx), f"chain.{j}"
        if passed.torque_limit_in is not None:
            worst = ctx.largest(f"{name}.torque_worst", f"Largest torque into the {_label(stage).lower()}", *walked.torque_in[j].values(), unit="N·m")
            ctx.rung(
                f"{name}.torque",
                f"{_label(stage)} torque",
                worst,
                passed.torque_limit_in,
                ctx.given("assumptions.margin_other"),
                unit="N·m",
                step="drive",
                path=f"{name}.torque_limit_nm",
                says="A larger gearbox, less acceleration, or less ratio.",
            )
        if passed.speed_limit_in_rpm is not None:
            speed = ctx.calc(
                f"{name}.speed",
                f"Speed into the {_label(stage).lower()}",
                axis.shaft_speed,
                speed_mm_s=lam_in_speed,
                radians_per_mm=ctx.book.results[f"{name}.lam"],
            )
            ctx.rung(
                f"{name}.speed",
                f"{_label(stage)} speed",
                speed,
                passed.speed_limit_in_rpm,
                1.0,
                unit="rpm",
                step="drive",
                path=f"{name}.speed_limit_rpm",
                says="Less ratio or less speed.",
            )


def _label(stage: Stage) -> str:
    return stage.kind.capitalize()


def _torque(ctx: Context, key: str, label: str, force: Quantity, lam: Quantity, efficiency: Term, mass: Term, acceleration: Term) -> Quantity:
    return ctx.calc(
        key,
        label,
        axis.torque_at_shaft,
        force_n=force,
        radians_per_mm=lam,
        efficiency=efficiency,
        inertia_mass_kg=mass,
        acceleration_mm_s2=acceleration,
    )


def _backlash(passed: Transmission, lam: Quantity) -> float | None:
    if missing_in([passed.backlash_out_arcmin, lam]):
        return None
    return (value_of(passed.backlash_out_arcmin) or 0) * 2.908882086657216e-4 / (lam.value or 1)  # arcmin to rad


def _times(a: Quantity, b: Term, factor: float = 1.0) -> float | None:
    return None if a.value is None or value_of(b) is None else a.value * (value_of(b) or 0) * factor


def _product(terms: list[Term]) -> float:
    out = 1.0
    for term in terms:
        out *= value_of(term) or 0.0
    return out
