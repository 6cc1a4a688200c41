"""Masses and forces at the moving point, and whether they move it when the power goes."""

from __future__ import annotations

import math

from ..account.context import Context
from ..account.found import Loads, Masses, Peaks, Phase
from ..fields.axis import Head
from ..formulas import dynamics
from ..ledger.errors import problem
from ..ledger.formula import Real
from ..ledger.many import is_column, most, pick
from ..ledger.quantity import Given, Quantity, Term, bare
from ..parts.ends.contract import End, Moving


def tally(ctx: Context, head: Head | None) -> Quantity:
    """What moves, and what rides on it, with the head that is fitted."""
    g = ctx.given
    listed = [(f"{n}.{i}", m) for n in ("moving", "riding") for i, m in enumerate(getattr(ctx.design, n))]
    items: dict[str, Term] = {at.replace(".", "_"): g(f"{at}.mass_kg") for at, _ in listed}
    counts: list[Real] = [m.quantity for _, m in listed]
    if head is not None:
        items["head"] = Given(
            f"heads.{ctx.design.heads.index(head)}.mass_kg", head.mass_kg, "kg", "your entry", head.label
        )
        counts.append(1.0)
    return ctx.book.put(
        "mass.tally",
        "Moving mass by tally",
        lambda: sum(c * bare(t) for c, t in zip(counts, items.values(), strict=True)),
        "kg",
        equation="Σ n·m",
        source="your tally of parts",
        also=items,
    )


def loads(ctx: Context, end: End, moving: Moving, head: Head | None, pull: Quantity | None) -> Loads:
    """Masses at the moving point, and the force there in each phase; `pull` is how many
    times the load guides that rub ask for while it moves.
    """
    g, put = ctx.given, ctx.book.put
    counted = tally(ctx, head)
    hung = end.guided and ctx.design.aim.counterweight_kg is not None
    counter = g("aim.counterweight_kg") if hung else None
    also: dict[str, Term] = {} if counter is None else {"counterweight": counter}
    total = put(
        "mass.total",
        "Mass that the belt accelerates",
        lambda: counted.n + moving.carried_mass.n + sum(bare(m) for m in also.values()),
        "kg",
        equation="m_tally + m_carried" + " + m_counterweight" * len(also),
        source="equal kinetic energy",
        tally=counted,
        carried=moving.carried_mass,
        also=also,
    )
    driven = put(
        "mass.driven",
        "Mass that the drive shaft accelerates",
        lambda: total.n + moving.turning_mass.n,
        "kg",
        equation="m + J_pulley·λ²",
        source="equal kinetic energy",
        total=total,
        pulley=moving.turning_mass,
    )
    ctx.refuse(
        total.n == 0,
        lambda: problem(
            "moving",
            "adds up to no mass at all",
            value=0,
            limit=0,
            unit="kg",
            remedy="Add what moves, with its mass.",
        ),
    )
    slope = put(
        "aim.slope",
        "Slope",
        lambda: g("aim.slope_deg").n * (math.pi / 180),
        "rad",
        equation="β·π/180",
        source="unit conversion",
        slope=g("aim.slope_deg"),
    )
    lifted = end.lifted(ctx, counted)
    weight, drag = end.loads(ctx, lifted, slope)
    if counter is not None:
        weight = ctx.calc(
            "force.balanced",
            "Weight that the counterweight leaves",
            dynamics.balanced_weight,
            weight_n=weight,
            counterweight_kg=counter,
        )
    push = g("aim.push_n")
    if head is not None and head.push_n is not None:
        at = f"heads.{ctx.design.heads.index(head)}.push_n"
        push = Given(at, head.push_n, "N", "your entry", head.label)
    inertia = ctx.calc(
        "force.inertia",
        "Force to accelerate",
        dynamics.inertia_force,
        mass_kg=driven,
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
    cases: dict[Phase, tuple[str, tuple[Term, Term, Term, Term]]] = {
        "accelerate": ("accelerating", (inertia, drag, weight, 0.0)),
        "cruise": ("cruising", (0.0, drag, weight, 0.0)),
        "push": ("pushing", (0.0, drag, weight, push)),
        "hold": ("holding, at rest", (0.0, 0.0, weight, g("aim.hold_n"))),
    }
    forces: dict[Phase, Quantity] = {
        name: ctx.calc(
            f"force.{name}",
            f"Force at the carriage, {label}",
            dynamics.force_sum,
            inertia_n=i,
            drag_n=d,
            weight_n=w,
            push_n=p,
        )
        for name, (label, (i, d, w, p)) in cases.items()
    }
    if pull is not None:
        forces |= {p: _pulled(ctx, forces[p], pull) for p in ("accelerate", "cruise", "push")}
    worst = ctx.largest(
        "force.worst",
        "Largest force at the carriage: accelerating, pushing or holding",
        *(forces[phase] for phase in ("accelerate", "push", "hold")),
        unit="N",
    )
    belt_inertia = ctx.calc(
        "force.belt_inertia",
        "Force that accelerates carriage, belt and idler",
        dynamics.inertia_force,
        mass_kg=total,
        acceleration_mm_s2=g("aim.acceleration_mm_s2"),
    )
    masses = Masses(counted, lifted, total, driven)
    return Loads(masses, slope, weight, drag, push, forces, worst, belt_inertia)


def moved(ctx: Context) -> Quantity:
    """All that moves as a mass at the moving point, rotors and what turns with them included, kg."""
    total, rotor, motors = ctx.loads.masses.total, ctx.drive.rotor_mass, ctx.counts.motors
    return ctx.book.put(
        "mass.moved",
        "What moves, rotors included",
        lambda: total.n + motors * rotor.n,
        "kg",
        equation="m + n·J·λ²",
        source="equal kinetic energy",
        load=total,
        rotor=rotor,
        motors=motors,
    )


def peaks(ctx: Context, moving: Moving, ringing: Quantity, pull: Quantity | None) -> Peaks:
    """What ringing makes of the forces: on what the belt moves, and in one belt."""
    loads = ctx.loads
    whip = ctx.book.put(
        "force.whip",
        "Accelerating force with ringing",
        lambda: loads.accelerated.n * ringing.n,
        "N",
        equation="m·a·k",
        source="what rings is what accelerates",
        force=loads.accelerated,
        factor=ringing,
    )
    peak_move = ctx.calc(
        "force.peak_move",
        "Peak force in the belt while moving",
        dynamics.force_sum,
        inertia_n=whip,
        drag_n=loads.drag,
        weight_n=loads.weight,
        push_n=0.0,
    )
    if pull is not None:
        peak_move = _pulled(ctx, peak_move, pull)
    by_phase = loads.by_phase
    return Peaks(whip, _in_one_belt(ctx, moving.belt_share, (peak_move, by_phase["push"], by_phase["hold"])))


def _pulled(ctx: Context, load: Quantity, factor: Quantity) -> Quantity:
    return ctx.book.put(
        f"{load.key}.pulled",
        f"{load.label}, with what the guides rub",
        lambda: load.n * factor.n,
        "N",
        equation="R·F/R",
        source="a gantry that is driven on one side",
        load=load,
        factor=factor,
    )


def _in_one_belt(ctx: Context, share: Real, forces: tuple[Quantity, ...]) -> Quantity:
    """The largest of the forces, as far as one belt carries it."""
    if not is_column(share) and share == 1.0:
        return ctx.largest("belt.peak_force", "Peak force in the belt", *forces, unit="N")
    whole = ctx.largest("force.peak", "Peak force of the whole axis", *forces, unit="N")
    return ctx.book.put(
        "belt.peak_force",
        "Peak force in one belt",
        lambda: whole.n * share,
        "N",
        equation="F·share",
        source="statics: how both sides or belts share the load",
        whole=whole,
        share=share,
    )


def _runs_on(ctx: Context, stays: Quantity) -> None:
    """What is in the axis at top speed when the power goes, and how far that carries it."""
    mass, speed = ctx.moved, ctx.given("aim.speed_mm_s")
    energy = ctx.book.put(
        "stop.energy",
        "Energy that an end stop takes at top speed",
        lambda: mass.n * (speed.n / 1000) ** 2 / 2,
        "J",
        equation="½·m·v²",
        source="kinetic energy",
        mass=mass,
        speed=speed,
    )
    ctx.calc(
        "stop.overrun",
        "Runs on without power from top speed",
        dynamics.overrun,
        energy_j=energy,
        resists_n=stays,
        weight_n=ctx.loads.weight,
    )


def unpowered(ctx: Context, detent: Term, motors: Real) -> None:
    """Does it stay where it is when the power goes?"""
    weight, drag, drive = ctx.loads.weight, ctx.loads.drag, ctx.drive
    held, back = ctx.loads.by_phase["hold"], drive.efficiency_back
    ctx.book.put(
        "motor.hold_least",
        "Torque that holding may come down to, friction helping",
        lambda: most((held.n - drag.n) * most(bare(back), 0.0), 0.0) / motors / drive.lam_motor.n / 1000,
        "N·m",
        equation="(W − F_g)·η'/(n·λ)",
        source="friction of guide and chain helps a load that stands; it is not counted on",
        held=held,
        drag=drag,
        back=back,
        motors=motors,
        radians_per_mm=drive.lam_motor,
    )
    if ctx.plain and drive.locks:
        ctx.note(
            "aim",
            "chain",
            "On paper this drive holds by itself when the power goes: screw or worm cannot be driven "
            "backwards. Shaking can still make it creep.",
        )
        return
    stays = ctx.calc(
        "unpowered.capacity",
        "Force that the unpowered axis resists",
        dynamics.back_drive_capacity,
        detent_nm=detent,
        radians_per_mm=drive.lam_motor,
        efficiency=drive.efficiency_back,
        drag_n=drag,
        motors=motors,
    )
    brake, free = ctx.given("aim.brake_n"), stays
    if brake.value is not None:
        stays = ctx.book.put(
            "unpowered.braked",
            "Force that it resists with its brake",
            lambda: free.n + brake.n,
            "N",
            equation="F + F_brake",
            source="both hold at once",
            resists=free,
            brake=brake,
        )
    _runs_on(ctx, stays)
    asked: Term = 0.0
    if is_column(weight.n) or weight.value is None or weight.value > 0:
        asked = weight
    if not ctx.plain:
        asked = Given("unpowered.held", pick(drive.locks, 0.0, bare(asked)), "N")
    elif None not in (stays.value, drag.value, weight.value) and stays.n - drag.n < weight.n <= stays.n:
        ctx.note(
            "aim",
            "chain.0.detent_torque_nm",
            "Without power it stays by the friction of its guide alone: shaken, it may creep.",
        )
    ctx.rung(
        "unpowered",
        "Stays put without power",
        asked,
        stays,
        ctx.given("assumptions.margin_torque"),
        unit="N",
        section="loads",
        path="chain.0.detent_torque_nm",
        says="A brake, a counterweight, a gearbox that does not run backwards, or a prop before you "
        "switch off.",
        advisory=False,
    )
