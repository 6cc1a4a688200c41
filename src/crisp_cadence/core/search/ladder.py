"""The ladder of every combination at once: the formulas of one evaluation, on arrays.

Three levels, each worked out once for what it depends on: the belt alone (B), pairs of a reduction and a belt (P), and motors
with such pairs (M × P, or one motor beside each pair). Microsteps come last, where they matter. Headroom is ratio over margin,
as on the ladder of one design.
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
from ..model import Mount
from ..record import record
from ..truing import CLAMP_FACTOR, SLOT_BOLT_N, SLOT_FRICTION
from .space import Space

FloatArray = NDArray[np.float64]
Index = NDArray[np.intp]


@record
class Level:
    """Headroom by rung, by microsteps too where those matter; what cannot be built; and values for the next level and to rank by."""

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


def mount_heads(mount: Mount, name: str, load: Any, tilt_limit: float, margin: float) -> dict[str, Any]:
    """Headroom of a mount's tilt and of its slot bolts under a load, one or an array.

    Equation: as each rung's own formula
    Units: N, °, – → –
    Range: loads ≥ 0
    Source: handbook — each formula names its own

    >>> {k: round(float(h), 2) for k, h in mount_heads(Mount(), "motor_mount", 100.0, 0.25, 1.5).items()}
    {'motor_mount_grip': 9.6}
    """
    head: dict[str, Any] = {}
    if mount.kind == "plate":
        modulus, creep = springs.MATERIALS[mount.material]
        tilt = springs.plate_tilt(load, modulus / (1 + creep), mount.width_mm, mount.thickness_mm, mount.overhang_mm)
        head[f"{name}_tilt"] = _over(tilt_limit, tilt, 1.0)
    if mount.slotted:
        hold = SLOT_BOLT_N.get(mount.bolt_mm, np.nan)
        head[f"{name}_grip"] = _over(truing.slot_bolt_grip(mount.bolts, hold, SLOT_FRICTION), load, margin)
    return head


def belts_of(t: Template, space: Space) -> Level:  # noqa: PLR0915 - one ladder in the order of the chain
    """Every belt with its pulley: rungs that neither motor nor reduction changes.

    Equation: as each rung's own formula
    Units: – → – (B)
    Range: carriage loop without rollers
    Source: handbook — each formula names its own
    """
    end, a, aim, b = t.end, t.design.assumptions, t.design.aim, space.belt
    head: dict[str, Any] = dict(t.fixed)
    d1, outside = belt.pitch_diameter(b["teeth"], b["pitch"]), belt.outside_diameter(b["teeth"], b["pitch"], b["line"])
    r1 = d1 / 2
    idler = end.idler
    r2 = (
        belt.pitch_diameter(b["idler"], b["pitch"]) / 2
        if idler.kind == "toothed"
        else belt.smooth_idler_radius_tooth_side(idler.diameter_mm, b["height"], b["line"])
    )
    lam = axis.radians_per_mm(r1, 1.0)
    centre = np.hypot(t.value("loop.centre"), r1 - r2)  # the idler stands level with the carriage's run
    wrap, wrap_2 = belt.wrap_angle(centre, r1, r2), belt.wrap_angle(centre, r2, r1)
    free = belt.open_belt_length(centre, r1, r2) - end.clamp.gap_mm
    usable = t.value("travel.usable")
    first = end.first_position(t.run.ctx) - end.clamp.gap_mm / 2
    room = (first <= r1) | (
        t.value("loop.centre") - (first + end.clamp.gap_mm + usable) - (r2 if idler.kind == "toothed" else idler.diameter_mm / 2) <= 0
    )
    run_1 = first + np.linspace(0.0, usable, POSITIONS)  # (25)
    both = free - r1 * wrap
    ea = belt.belt_stiffness_ea(b["ea"], 1.0, b["width"])
    inertia = axis.disc_inertia(outside, b["width"] + 1, end.pulley.density_g_cm3)
    pulley_mass = axis.mass_of_inertia(inertia, lam)
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
    load = belt.shaft_load(highest, slack, wrap)
    head |= {
        "pretension": _over(tension, needed, 1.0), "cord": _over(belt.cord_capacity(ea, a.strain_limit), highest, 1.0),
        "pull": _over(belt.effective_pull_capacity(b["working"], b["width"], mesh), peak, a.margin_belt),
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
        head |= mount_heads(mount, name, load, a.tilt_limit, a.margin_grip)
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
    loop = a.efficiency_loop
    torque = {p: np.broadcast_to(axis.torque_at_shaft(forces[p], lam, loop, loop, 0.0, 0.0), lam.shape) for p in PHASES}
    values = {
        "lam": lam, "peak_torque": peak * r1 / 1000, "whip": whip, "sag": np.broadcast_to(forces["hold"], lam.shape), "mass": total, "root": outside - 2 * b["height"],
        "compliance": _belt_compliance(t, ea, both, run_1), "spend": b["spend"] + b["per_m"] * cut / 1000 + t.extra_spend,
        "hub": b["hub"], "length": b["width"] + 1, **{f"torque_{p}": x for p, x in torque.items()},
    }  # fmt: skip
    return Level({k: np.broadcast_to(h, lam.shape) for k, h in head.items()}, {}, {"clamp_room": room}, values)


def pairs_of(t: Template, space: Space, bands: Level, gears: Index, belts: Index) -> Level:
    """Reductions beside belts, one pair beside the other: rungs that no motor changes, and what reaches the motor's shaft.

    Equation: as each rung's own formula; stages from the end of the chain back to the motor
    Units: – → – (P), by microsteps (P, S)
    Range: up to two stages, gearbox or closed belt
    Source: handbook — each formula names its own
    """
    a, aim = t.design.assumptions, t.design.aim
    head = {k: h[belts] for k, h in bands.headroom.items()}
    bad = {k: x[belts] for k, x in bands.unbuildable.items()}
    v = {k: x[belts] for k, x in bands.values.items()}
    lam_end, lam = v["lam"], v["lam"]
    torque = {p: v[f"torque_{p}"] for p in PHASES}
    stages = {1: space.first[gears], 2: space.second[gears]}
    compliance, play, efficiency = v["compliance"], np.zeros(lam.shape), np.full(lam.shape, a.efficiency_loop)
    shaft = np.full(lam.shape, np.nan)  # of the motor, where nothing comes between
    for slot in (2, 1):  # from the end back to the motor
        s = {k: column[stages[slot]] for k, column in space.stage.items()}
        at = f"chain.{slot}"
        compliance = compliance + 1 / springs.torsion_at_carriage(s["stiffness_nm_rad"], lam)
        play = play + s["backlash_arcmin"] * ARCMIN / lam
        shaft = np.where(np.isnan(shaft), s["shaft_mm"], shaft)
        before, lam = lam, lam * s["ratio"]
        mass = axis.mass_of_inertia(s["inertia_gcm2"], lam)
        for p in PHASES:
            moves = p == "accelerate"
            torque[p] = axis.torque_at_shaft(
                torque[p] * before * 1000, lam, s["efficiency"], s["efficiency"], mass if moves else 0.0, aim.acceleration_mm_s2 if moves else 0.0
            )
        efficiency = efficiency * s["efficiency"]
        worst = np.maximum.reduce(list(torque.values()))
        head |= {f"{at}.{k}": h for k, h in _stage_heads(t, space.closed_mount, s, worst, axis.shaft_speed(aim.speed_mm_s, lam)).items()}
    steps = np.array(space.steps, dtype=np.float64)
    per_mm = axis.steps_per_mm(lam[:, None], 200.0, steps)
    step = axis.command_step(per_mm)
    limit = t.design.chain[0].driver.step_rate_limit_hz  # type: ignore[attr-defined]
    by_steps = {"step_rate": _over(limit, axis.step_rate(aim.speed_mm_s, per_mm), a.margin_other), "resolution": _over(aim.resolution_mm, step, 1.0)}
    room = np.minimum(v["hub"], v["root"])
    bad["bore"] = shaft >= room  # of the last stage's shaft; the motor's own comes with the motor
    values = {
        "lam": lam, "lam_end": lam_end, "shaft": shaft, "efficiency": efficiency, "compliance": compliance, "play": play, "step": step, "room": room,
        "first_room": space.stage["room"][stages[1]], "spend": v["spend"] + space.stage["spend"][stages[1]] + space.stage["spend"][stages[2]],
        **{f"torque_{p}": x for p, x in torque.items()}, **{n: v[n] for n in ("peak_torque", "whip", "sag", "mass", "hub", "length")},
    }  # fmt: skip
    return Level(head, by_steps, bad, values)


def _stage_heads(t: Template, mount: Mount, s: dict[str, FloatArray], worst: FloatArray, speed: FloatArray) -> dict[str, Any]:
    """Rungs of one stage: a gearbox by its limits, a closed belt by its teeth, cords and mount; none for what is left out."""
    a = t.design.assumptions
    head = {
        "torque": np.where(
            np.isfinite(s["torque_limit_nm"]), _over(s["torque_limit_nm"] / s["ratio"] / s["efficiency"], worst, a.margin_other), np.inf
        ),
        "speed": np.where(np.isfinite(s["speed_limit_rpm"]), _over(s["speed_limit_rpm"], speed, 1.0), np.inf),
    }
    belted = s["radius"] > 0
    if not belted.any():
        return head
    with np.errstate(divide="ignore", invalid="ignore"):
        pull = worst / s["radius"] * 1000
    tension = TARGET_OVER * pull * (0.5 + a.slack_keep)
    peak = tension + pull / 2
    rungs = {
        "pull": _over(s["pull"], pull, a.margin_belt), "mesh": _over(s["mesh"], float(a.teeth_full), 1.0), "cord": _over(belt.cord_capacity(s["ea"], a.strain_limit), peak, 1.0),
        "taut": _over(tension, tension / TARGET_OVER, 1.0), "face": _over(s["width"] + 1, s["width"], 1.0),
        **mount_heads(mount, "motor_mount", belt.shaft_load(peak, tension, s["wrap"]), a.tilt_limit, a.margin_grip),
    }  # fmt: skip
    return head | {k: np.where(belted, h, np.inf) for k, h in rungs.items()}


def motors_of(t: Template, space: Space, pairs: Level, m: dict[str, Any]) -> Level:
    """Motors on pairs: columns of motors of shape (M, 1) for each with every pair, or (P) for one beside each.

    Equation: as each rung's own formula
    Units: – → – (M, P) or (P)
    Range: stepper motors
    Source: handbook — each formula names its own
    """
    a, aim, v = t.design.assumptions, t.design.aim, pairs.values
    lam = v["lam"]
    shaft = np.where(np.isnan(v["shaft"]), m["shaft_mm"], v["shaft"])
    current = stepper.current_limit(m["current_a"], 0.0)
    kt = stepper.torque_constant(m["hold_torque_nm"], m["rated_current_a"])
    now = stepper.torque_at_current(m["hold_torque_nm"], current, m["rated_current_a"])
    standing = now * t.design.chain[0].driver.idle_percent / 100  # type: ignore[attr-defined]
    # The rotor stands outside the losses: torque into the chain passes through, its own inertia is added.
    asked = v["torque_accelerate"] + axis.mass_of_inertia(m["rotor_inertia_gcm2"], lam) * (aim.acceleration_mm_s2 / 1e6) / lam
    torque = [kt, m["resistance_ohm"], m["inductance_mh"], current, m["supply_v"], 200.0]
    at_top = stepper.pull_out_torque(aim.speed_mm_s * lam, *torque)
    head = {
        "torque_accelerate": _over(at_top, asked, a.margin_torque), "torque_cruise": _over(at_top, v["torque_cruise"], a.margin_torque),
        "torque_push": np.inf, "torque_hold": _over(standing, v["torque_hold"], a.margin_torque), "unpowered": np.inf,
    }  # fmt: skip
    if aim.push_n > 0:
        head["torque_push"] = _over(stepper.pull_out_torque(aim.push_speed_mm_s * lam, *torque), v["torque_push"], a.margin_torque)
    weight, drag = t.value("force.weight"), t.value("force.drag")
    if weight > 0:
        head["unpowered"] = _over(axis.back_drive_capacity(m["detent_torque_nm"], lam, v["efficiency"], drag), weight, a.margin_torque)
    head["grip"] = _over(_grips(t, shaft, v), v["peak_torque"], a.margin_grip)
    field = springs.torsion_at_carriage(stepper.field_stiffness(now, 200.0), lam)
    stub = springs.torsion_at_carriage(springs.shaft_torsion_stiffness(79.0, shaft, t.end.pulley.overhang_mm), v["lam_end"])
    stiffness = 1 / (v["compliance"] + 1 / stub + 1 / field)
    head["whip"] = _over(aim.error_mm, axis.give(v["whip"], stiffness), a.margin_error)
    head["lost"] = _over(aim.error_mm, axis.lost_motion(drag, stiffness, v["play"]), a.margin_error)
    for key, force in (("push_give", aim.push_n), ("sag", v["sag"])):
        head[key] = _over(aim.error_mm, axis.give(force, stiffness), a.margin_error) if np.any(np.asarray(force) > 0) else np.inf
    bad = {"bore": (m["shaft_mm"] >= v["first_room"]) | (np.isnan(v["shaft"]) & (m["shaft_mm"] >= v["room"]))}
    spend = m["spend"] + v["spend"]
    if aim.budget is not None:
        head["money"] = _over(aim.budget, spend, 1.0)
    return Level(head, {}, bad, {"spend": spend, "stiffness": stiffness, "asked": asked, "torque": torque})


def _grips(t: Template, shaft: Any, v: dict[str, Any]) -> Any:
    """What the template's fixing holds on the shaft in question."""
    fixing = t.end.pulley.fixing
    if fixing.kind == "measured":
        return math.nan if fixing.grip_nm is None else fixing.grip_nm
    with np.errstate(divide="ignore", invalid="ignore"):  # a shaft as wide as the hub is refused as such
        return truing.fixing_grip(fixing.kind, fixing.screw_mm, fixing.screws, shaft, fixing.interference_mm, v["hub"], v["length"])


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
