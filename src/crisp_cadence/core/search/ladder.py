"""The ladder of every combination at once: the formulas of one evaluation, on arrays of motors × reductions × belts.

Axes are (motor, gear, belt); what depends on fewer of them is worked out on those alone and spread over the others by
broadcasting. Microsteps come last, where they matter. Headroom is ratio over margin, as on the ladder of one design.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .. import axis, belt, springs, stepper, tensioners, truing
from ..chain import ARCMIN, PHASES
from ..ends.carriage_loop import CarriageLoop
from ..ends.loop_checks import TARGET_OVER, WHOLE
from ..evaluate import Run
from ..formula import value_of
from ..give import POSITIONS
from ..record import record
from ..truing import CLAMP_FACTOR, SLOT_BOLT_N, SLOT_FRICTION
from .space import Space

FloatArray = NDArray[np.float64]
Picked = tuple[NDArray[np.intp], NDArray[np.intp], NDArray[np.intp]]


@record
class Rungs:
    """Headroom by rung, each of a shape that spreads over (motor, gear, belt); by microsteps over (gear, belt, steps); what cannot be built; and values to rank by."""

    headroom: dict[str, Any]
    by_steps: dict[str, Any]
    unbuildable: dict[str, Any]
    values: dict[str, Any]


def _over(have: Any, want: Any, margin: float) -> Any:
    """Headroom of a rung; no demand is its own state, shown as infinity here and never counted."""
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(np.asarray(want) <= 0, np.inf, np.maximum(have, 0.0) / want / margin)


class Template:
    """What stays the same in a search, from the design worked out once: aim, guide, mounts, clamp, tensioner, and rungs that no part changes."""

    def __init__(self, run: Run, fixed: dict[str, float]) -> None:
        self.run, self.design, self.r = run, run.design, run.ctx.book.results
        assert isinstance(run.end, CarriageLoop)
        self.end = run.end
        self.fixed = fixed
        self.soft = dict(self.end.soft_mounts(run.ctx) or {})
        rate = self.end.tensioner.spring_n_mm
        if rate is not None:
            self.soft["idler_mount"] = 1 / (1 / rate + (1 / self.soft["idler_mount"] if "idler_mount" in self.soft else 0.0))
        self.extra_spend = sum((e.price or 0.0) * e.quantity for e in self.design.extras if not e.in_stock)
        self.extra_spend += sum(p.price or 0.0 for p in (self.end.idler, self.end.clamp, self.end.tensioner) if not p.in_stock)

    def value(self, key: str) -> float:
        """A result of the template."""
        return value_of(self.r[key]) or 0.0


def rungs_of(t: Template, space: Space, motors: slice = slice(None), picked: Picked | None = None) -> Rungs:  # noqa: PLR0915 - one ladder in the order of the chain
    """Headroom of every rung for the motors of a slice, with every gear and belt; or of the combinations picked, one beside the other.

    Equation: as each rung's own formula
    Units: – → –
    Range: carriage loop without rollers, stepper with or without a gearbox
    Source: handbook — each formula names its own
    """
    design, end, a, aim = t.design, t.end, t.design.assumptions, t.design.aim
    motor = {**space.motor, "spend": np.array([c.spend for c in space.motors])}
    gear, band = {**space.gear, "spend": np.array([c.spend for c in space.gears])}, {**space.belt, "spend": np.array([c.spend for c in space.belts])}
    if picked is None:
        m = {k: v[motors][:, None, None] for k, v in motor.items()}
        g = {k: v[None, :, None] for k, v in gear.items()}
        b = {k: v[None, None, :] for k, v in band.items()}
    else:
        m, g, b = ({k: v[at][:, None, None] for k, v in part.items()} for part, at in zip((motor, gear, band), picked, strict=True))
    head: dict[str, Any] = dict(t.fixed)
    bad: dict[str, Any] = {}

    # ---- the belt alone -------------------------------------------------------------------------------------------------
    d1, outside = belt.pitch_diameter(b["teeth"], b["pitch"]), belt.outside_diameter(b["teeth"], b["pitch"], b["line"])
    r1 = d1 / 2
    idler = end.idler
    r2 = (
        belt.pitch_diameter(b["idler"], b["pitch"]) / 2
        if idler.kind == "toothed"
        else belt.smooth_idler_radius_tooth_side(idler.diameter_mm, b["height"], b["line"])
    )
    lam_end = axis.radians_per_mm(r1, 1.0)
    centre = np.hypot(t.value("loop.centre"), r1 - r2)  # the idler stands level with the carriage's run
    wrap, wrap_2 = belt.wrap_angle(centre, r1, r2), belt.wrap_angle(centre, r2, r1)
    free = belt.open_belt_length(centre, r1, r2) - end.clamp.gap_mm
    usable = t.value("travel.usable")
    first = end.first_position(t.run.ctx) - end.clamp.gap_mm / 2
    bad["clamp"] = (first <= r1) | (
        t.value("loop.centre") - (first + end.clamp.gap_mm + usable) - (r2 if idler.kind == "toothed" else idler.diameter_mm / 2) <= 0
    )
    run_1 = first + np.linspace(0.0, usable, POSITIONS)  # (25)
    both = free - r1 * wrap
    ea = belt.belt_stiffness_ea(b["ea"], 1.0, b["width"])
    inertia = axis.disc_inertia(outside, b["width"] + 1, end.pulley.density_g_cm3)
    pulley_mass = axis.mass_of_inertia(inertia, lam_end)
    idler_mass = axis.mass_of_inertia(axis.disc_inertia(2 * r2, b["width"] + 1, idler.density_g_cm3), axis.radians_per_mm(r2, 1.0))
    belt_kg = belt.belt_line_mass(b["mass"], b["width"]) * free * 1e-6
    total = t.value("mass.tally") + belt_kg + idler_mass
    weight, drag = t.value("force.weight"), t.value("force.drag")
    acceleration = aim.acceleration_mm_s2
    forces = {
        "accelerate": axis.force_sum(axis.inertia_force(total + pulley_mass, acceleration), drag, weight, 0.0), "cruise": axis.force_sum(0.0, drag, weight, 0.0),
        "push": axis.force_sum(0.0, drag, weight, aim.push_n), "hold": axis.force_sum(0.0, 0.0, weight, aim.hold_n),
    }  # fmt: skip
    whip = axis.inertia_force(total, acceleration) * springs.overshoot_factor(a.damping)
    peak = np.maximum(axis.force_sum(whip, drag, weight, 0.0), max(forces["push"], forces["hold"]))
    share = np.maximum(
        np.maximum(belt.tension_share(run_1[0], both - run_1[0]), belt.tension_share(run_1[-1], both - run_1[-1])),
        np.maximum(belt.tension_share(both - run_1[0], run_1[0]), belt.tension_share(both - run_1[-1], run_1[-1])),
    )
    needed = belt.pretension_needed(peak, share, a.slack_keep)
    tension = TARGET_OVER * needed if end.belt.tension_n is None else np.full_like(needed, end.belt.tension_n)
    highest = belt.peak_tension(tension, peak, share)
    slack = np.maximum(tension - peak * (1 - share), 0.0)
    mesh = belt.teeth_in_mesh(b["teeth"], wrap)
    rated = belt.effective_pull_capacity(b["working"], b["width"], mesh)
    load = belt.shaft_load(highest, slack, wrap)
    head |= {
        "pretension": _over(tension, needed, 1.0), "cord": _over(belt.cord_capacity(ea, a.strain_limit), highest, 1.0), "pull": _over(rated, peak, a.margin_belt),
        "mesh": _over(mesh, float(a.teeth_full), 1.0), "face": _over(b["width"] + 1, b["width"], 1.0),
    }  # fmt: skip
    held = (
        end.clamp.pull_n
        if end.clamp.pull_n is not None
        else truing.clamp_pull(belt.effective_pull_capacity(b["working"], b["width"], end.clamp.engaged_teeth), CLAMP_FACTOR[end.clamp.kind])
    )
    head["clamp"] = _over(held, highest, a.margin_grip)
    if end.slot_mm is not None:
        head["slot"] = _over(end.slot_mm, b["width"] + 0.4, 1.0)
    if idler.kind == "smooth":
        head["bend"] = _over(idler.diameter_mm, belt.pitch_diameter(b["least"], b["pitch"]) * truing.LEAST_BEND, 1.0)
    if idler.held == "one end":
        axle_load = belt.shaft_load(highest, highest, wrap_2)
        reach = truing.stack_height(idler) + (b["width"] + 1) / 2
        head["axle"] = _over(a.tilt_limit, truing.axle_tilt(axle_load, springs.MATERIALS["steel"][0], idler.axle_mm, reach), 1.0)
    for name, mount in end.mounts().items():
        if mount.kind == "plate":
            modulus, creep = springs.MATERIALS[mount.material]
            head[f"{name}_tilt"] = _over(
                a.tilt_limit, springs.plate_tilt(load, modulus / (1 + creep), mount.width_mm, mount.thickness_mm, mount.overhang_mm), 1.0
            )
        if mount.slotted:
            hold = SLOT_BOLT_N.get(mount.bolt_mm, np.nan)
            head[f"{name}_grip"] = _over(truing.slot_bolt_grip(mount.bolts, hold, SLOT_FRICTION), load, a.margin_grip)
    whole = belt.whole_teeth(free, b["pitch"])
    exact = abs(free / b["pitch"] - whole) < WHOLE
    fit = np.where(exact, whole, whole + 1)
    kind = tensioners.KINDS[end.tensioner.kind][0]
    runs = 1.0 if kind == "clamp" else 2 * np.sin((wrap if kind == "motor" else wrap_2) / 2)
    demand = belt.tensioner_demand(
        fit * b["pitch"] - free, belt.belt_stretch(tension, ea, free), end.tensioner.run_in_mm, end.tensioner.removal_mm, runs
    )
    thread = (
        math.inf
        if end.tensioner.screw_length_mm is None
        else float(tensioners.thread_travel(end.tensioner.screw_length_mm, end.tensioner.lever, end.tensioner.through_mm, end.tensioner.screw_mm))
    )
    head["tensioner"] = _over(min(end.tensioner.travel_mm, thread), demand, a.margin_other)
    cut = (fit + 2 * end.clamp.engaged_teeth + 2 * np.ceil(end.clamp.tail_mm / b["pitch"] - 1e-12)) * b["pitch"]

    # ---- the chain ------------------------------------------------------------------------------------------------------
    boxed = np.isfinite(g["torque_limit_nm"]) | np.isfinite(g["shaft_mm"])
    lam = lam_end * g["ratio"]
    loop = a.efficiency_loop
    box_mass = axis.mass_of_inertia(g["inertia_gcm2"], lam)
    into: dict[str, Any] = {}
    for phase in PHASES:
        at_end = axis.torque_at_shaft(forces[phase], lam_end, loop, loop, 0.0, 0.0)
        moves = phase == "accelerate"
        into[phase] = axis.torque_at_shaft(
            at_end * lam_end * 1000, lam, g["efficiency"], g["efficiency"], box_mass if moves else 0.0, acceleration if moves else 0.0
        )
    shaft = np.where(boxed, g["shaft_mm"], m["shaft_mm"])
    root = outside - 2 * b["height"]
    bad["bore"] = (shaft >= b["hub"]) | (shaft >= root)
    worst = np.maximum.reduce([np.broadcast_to(x, np.broadcast_shapes(*(np.shape(y) for y in into.values()))) for x in into.values()])
    with np.errstate(invalid="ignore"):
        head["chain.1.torque"] = np.where(
            boxed & np.isfinite(g["torque_limit_nm"]), _over(g["torque_limit_nm"] / g["ratio"] / g["efficiency"], worst, a.margin_other), np.inf
        )
        head["chain.1.speed"] = np.where(
            boxed & np.isfinite(g["speed_limit_rpm"]), _over(g["speed_limit_rpm"], axis.shaft_speed(aim.speed_mm_s, lam), 1.0), np.inf
        )

    # ---- the motor ------------------------------------------------------------------------------------------------------
    current = stepper.current_limit(m["current_a"], 0.0)
    kt = stepper.torque_constant(m["hold_torque_nm"], m["rated_current_a"])
    now = stepper.torque_at_current(m["hold_torque_nm"], current, m["rated_current_a"])
    standing = now * design.chain[0].driver.idle_percent / 100  # type: ignore[attr-defined]
    # The rotor stands outside the losses: torque into the chain passes through, its own inertia is added.
    asked = {
        p: into[p] + (axis.mass_of_inertia(m["rotor_inertia_gcm2"], lam) * acceleration / 1000 / lam / 1000 if p == "accelerate" else 0.0)
        for p in PHASES
    }
    torque = [kt, m["resistance_ohm"], m["inductance_mh"], current, m["supply_v"], 200.0]
    at_top = stepper.pull_out_torque(aim.speed_mm_s * lam, *torque)
    at_push = stepper.pull_out_torque(aim.push_speed_mm_s * lam, *torque) if aim.push_n > 0 else np.inf
    head |= {
        "torque_accelerate": _over(at_top, asked["accelerate"], a.margin_torque), "torque_cruise": _over(at_top, asked["cruise"], a.margin_torque),
        "torque_push": _over(at_push, asked["push"], a.margin_torque) if aim.push_n > 0 else np.inf, "torque_hold": _over(standing, asked["hold"], a.margin_torque),
    }  # fmt: skip
    back = axis.back_drive_capacity(m["detent_torque_nm"], lam, loop * g["efficiency"], drag)
    head["unpowered"] = _over(back, weight if weight > 0 else 0.0, a.margin_torque)
    head["grip"] = _over(_grips(t, shaft, b), peak * r1 / 1000, a.margin_grip)

    # ---- what gives -----------------------------------------------------------------------------------------------------
    field = springs.torsion_at_carriage(stepper.field_stiffness(now, 200.0), lam)
    stub = springs.torsion_at_carriage(springs.shaft_torsion_stiffness(79.0, shaft, end.pulley.overhang_mm), lam_end)
    compliance = _belt_compliance(t, ea.ravel(), both.ravel(), run_1).reshape(ea.shape) + 1 / stub + 1 / field
    compliance = compliance + np.where(boxed, 1 / springs.torsion_at_carriage(g["stiffness_nm_rad"], lam_end), 0.0)
    stiffness = 1 / compliance
    play = g["backlash_arcmin"] * ARCMIN / lam_end
    allowed = aim.error_mm
    for key, give in (
        ("whip", axis.give(whip, stiffness)), ("push_give", axis.give(aim.push_n, stiffness)), ("sag", axis.give(forces["hold"], stiffness)),
        ("lost", axis.lost_motion(drag, stiffness, play)),
    ):  # fmt: skip
        head[key] = _over(allowed, give, a.margin_error)

    # ---- money, microsteps ----------------------------------------------------------------------------------------------
    spend = m["spend"] + g["spend"] + b["spend"] + b["per_m"] * cut / 1000 + t.extra_spend
    if aim.budget is not None:
        head["money"] = _over(aim.budget, spend, 1.0)
    steps = np.array(space.steps, dtype=np.float64)
    per_mm = axis.steps_per_mm((lam[0] if picked is None else lam)[..., None], 200.0, steps)
    step = axis.command_step(per_mm)
    limit = design.chain[0].driver.step_rate_limit_hz  # type: ignore[attr-defined]
    by_steps = {"step_rate": _over(limit, axis.step_rate(aim.speed_mm_s, per_mm), a.margin_other), "resolution": _over(aim.resolution_mm, step, 1.0)}
    values = {"spend": spend, "stiffness": stiffness, "mass": total, "step": step, "lam": lam, "asked": asked["accelerate"], "torque": torque}
    return Rungs(head, by_steps, bad, values)


def _grips(t: Template, shaft: Any, b: Any) -> Any:
    """What the template's fixing holds on the shaft in question."""
    fixing = t.end.pulley.fixing
    if fixing.kind == "measured":
        return math.nan if fixing.grip_nm is None else fixing.grip_nm
    with np.errstate(divide="ignore", invalid="ignore"):  # a shaft as wide as the hub is refused as such
        return truing.fixing_grip(fixing.kind, fixing.screw_mm, fixing.screws, shaft, fixing.interference_mm, b["hub"], b["width"] + 1)


def _belt_compliance(t: Template, ea: FloatArray, both: FloatArray, run_1: FloatArray) -> FloatArray:
    """Largest compliance along the travel of the belt's two runs on their mounts, the pulley held: mm/N for each belt."""
    soft = list(t.soft)
    nodes = ["carriage", *soft]

    def reach(**c: float) -> list[float]:
        return [c.get(n, 0.0) for n in nodes]

    rows = [reach(carriage=1, motor_mount=-1), reach(carriage=-1, motor_mount=-1, idler_mount=2), *(reach(**{n: 1.0}) for n in soft)]
    k = np.empty((ea.size, run_1.size, len(rows)))
    k[..., 0], k[..., 1] = ea[:, None] / run_1, ea[:, None] / (both[:, None] - run_1)
    for i, name in enumerate(soft):
        k[..., 2 + i] = t.soft[name]
    out: FloatArray = np.asarray(springs.network_compliance(k, rows, [1.0] + [0.0] * len(soft))).max(axis=-1)
    return out
