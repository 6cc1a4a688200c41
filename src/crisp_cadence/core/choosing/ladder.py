"""The ladder of every combination at once: the formulas of one evaluation, on arrays.

Three levels, each worked out once for what it depends on: the belt alone (B), pairs of a reduction and a belt
(P), and motors with such pairs (M × P, or one motor beside each pair). Microsteps come last, where they
matter. Headroom is ratio over margin, as on the ladder of one design.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..account.found import PHASES
from ..checks import belt_line, holding, running_true, tensioners
from ..checks.tensioners import TARGET_OVER
from ..evaluation.chain import ARCMIN
from ..evaluation.evaluate import Run
from ..evaluation.give import POSITIONS
from ..fields.belts import Idler, Mount
from ..formulas import (
    belt,
    brackets,
    dynamics,
    gantries,
    motion,
    running,
    springs,
    stepper,
    stepping,
    threads,
)
from ..formulas.brackets import CLAMP_FACTOR, SLOT_BOLT_N, SLOT_FRICTION
from ..ledger.quantity import value_of
from ..ledger.record import record
from ..parts.ends.carriage_loop import CarriageLoop
from ..parts.ends.riding_motor import RidingMotor
from ..parts.ends.strain import WHOLE
from .space import Space

FloatArray = NDArray[np.float64]
Index = NDArray[np.intp]


@record
class Level:
    """Headroom by rung, by microsteps too where those matter; what cannot be built; and values for the next
    level and to rank by.
    """

    headroom: dict[str, Any]
    by_steps: dict[str, Any]
    unbuildable: dict[str, Any]
    values: dict[str, Any]


def _over(have: Any, want: Any, margin: float) -> Any:
    """Headroom of a rung; no demand is its own state, shown as infinity here and never counted."""
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(np.asarray(want) <= 0, np.inf, np.maximum(have, 0.0) / want / margin)


class Template:
    """What stays the same in a search, from the design worked out once: aim, guide, mounts, clamp, tensioner,
    and rungs that no part changes.
    """

    def __init__(self, run: Run, fixed: dict[str, float]) -> None:
        self.run, self.design, self.r = run, run.design, run.ctx.book.results
        assert isinstance(run.end, (CarriageLoop, RidingMotor))
        self.end = run.end
        self.rides = isinstance(run.end, RidingMotor)
        self.fixed = fixed
        self.soft = {name: k.n for name, k in self.end.soft_mounts(run.ctx).items()}
        rate = self.end.tensioner.spring_n_mm
        if rate is not None:
            self.soft["idler_mount"] = 1 / (
                1 / rate + (1 / self.soft["idler_mount"] if "idler_mount" in self.soft else 0.0)
            )
        self.extra_spend = sum((e.price or 0.0) * e.quantity for e in self.design.extras if not e.in_stock)
        sides = self.design.sides
        both = sides.kind == "two motors"
        self.motors = self.belts = 2 if both else 1
        self.share = (
            0.5 + min(sides.offset_mm / sides.width_mm, 0.5) if both else 1.0
        )  # of the load, on the side that carries more
        idlers = [self.end.idler] * (2 if self.rides else 1)
        self.extra_spend += self.belts * sum(
            p.price or 0.0 for p in (*idlers, self.end.clamp, self.end.tensioner) if not p.in_stock
        )

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
    {'motor_mount_grip': 8.0}
    """
    head: dict[str, Any] = {}
    if mount.kind == "plate":
        modulus, creep = springs.MATERIALS[mount.material]
        tilt = springs.plate_tilt(
            load, modulus / (1 + creep), mount.width_mm, mount.thickness_mm, mount.overhang_mm
        )
        head[f"{name}_tilt"] = _over(tilt_limit, tilt, 1.0)
    if mount.slotted:
        hold = SLOT_BOLT_N.get(mount.bolt_mm, np.nan)
        head[f"{name}_grip"] = _over(brackets.slot_bolt_grip(mount.bolts, hold, SLOT_FRICTION), load, margin)
    return head


def belts_of(t: Template, space: Space) -> Level:
    """Every belt with its pulley: how it lies, and rungs that neither mass nor motor nor reduction changes.

    Equation: as each rung's own formula
    Units: – → – (B)
    Range: carriage loop or riding motor, without rollers
    Source: handbook — each formula names its own
    """
    end, a, b = t.end, t.design.assumptions, space.belt
    d1, outside = (
        belt.pitch_diameter(b["teeth"], b["pitch"]),
        belt.outside_diameter(b["teeth"], b["pitch"], b["line"]),
    )
    r1, idler = d1 / 2, end.idler
    lam = motion.radians_per_mm(r1, 1.0)
    usable = t.value("travel.usable")
    lies = _riding(t, b, r1, usable) if isinstance(end, RidingMotor) else _loop(t, end, b, r1, usable)
    run_1, both = lies["first"][:, None] + np.linspace(0.0, usable, POSITIONS), lies["both"]
    ends = [(run_1[:, i], both - run_1[:, i]) for i in (0, -1)]
    share = np.maximum.reduce([belt.tension_share(*pair) for x, y in ends for pair in ((x, y), (y, x))])
    ea = belt.belt_stiffness_ea(b["ea"], 1.0, b["width"])
    mesh = belt.teeth_in_mesh(b["teeth"], lies["wrap"])
    head: dict[str, Any] = {
        **t.fixed,
        "mesh": _over(mesh, float(a.teeth_full), 1.0),
        "face": _over(np.minimum(b["face"], b["width"] + 1), b["width"], 1.0),
    }
    slot = getattr(end, "slot_mm", None)
    if slot is not None:
        head["slot"] = _over(slot, b["width"] + 0.4, 1.0)
    if idler.kind == "smooth":
        head["bend"] = _over(
            idler.diameter_mm, belt.pitch_diameter(b["least"], b["pitch"]) * running_true.LEAST_BEND, 1.0
        )
    whole = belt.whole_teeth(lies["free"], b["pitch"])
    fit = np.where(abs(lies["free"] / b["pitch"] - whole) < WHOLE, whole, whole + 1)
    cut = (fit + 2 * end.clamp.engaged_teeth + 2 * np.ceil(end.clamp.tail_mm / b["pitch"] - 1e-12)) * b[
        "pitch"
    ]
    values = {
        **lies,
        "lam": lam,
        "r1": r1,
        "share": share,
        "ea": ea,
        "mesh": mesh,
        "slack": fit * b["pitch"] - lies["free"],
        "pulley_mass": dynamics.mass_of_inertia(
            dynamics.disc_inertia(outside, b["face"], end.pulley.density_g_cm3), lam
        ),
        "root": outside - 2 * b["height"],
        "compliance": _belt_compliance(t, ea, both, run_1),
        "spend": t.belts * (b["spend"] + b["idler_more"] * (2 if t.rides else 1) + b["per_m"] * cut / 1000)
        + t.extra_spend,
    }
    bad = values.pop("bad")
    return Level({k: np.broadcast_to(h, lam.shape) for k, h in head.items()}, {}, {"clamp_room": bad}, values)


def _loop(
    t: Template, end: CarriageLoop, b: Mapping[str, FloatArray], r1: FloatArray, usable: float
) -> dict[str, FloatArray]:
    """How the belt of a carriage loop lies: wraps, free belt, first length of run 1, both runs, what moves
    with it, and where the clamp meets a pulley.
    """
    idler = end.idler
    r2 = (
        belt.pitch_diameter(b["idler"], b["pitch"]) / 2
        if idler.kind == "toothed"
        else belt.smooth_idler_radius_tooth_side(idler.diameter_mm, b["height"], b["line"])
    )
    centre = np.hypot(t.value("loop.centre"), r1 - r2)  # the idler stands level with the carriage's run
    wrap = belt.wrap_angle(centre, r1, r2)
    free = belt.open_belt_length(centre, r1, r2) - end.clamp.gap_mm
    first = end.first_position(t.run.ctx) - end.clamp.gap_mm / 2
    bad = (first <= r1) | (
        t.value("loop.centre")
        - (first + end.clamp.gap_mm + usable)
        - (r2 if idler.kind == "toothed" else idler.diameter_mm / 2)
        <= 0
    )
    belt_kg = belt.belt_line_mass(b["mass"], b["width"]) * free * 1e-6
    return {
        "wrap": wrap,
        "wrap_2": belt.wrap_angle(centre, r2, r1),
        "free": free,
        "first": np.full(r1.shape, first),
        "both": free - r1 * wrap,
        "carried": belt_kg + _idler_mass(idler, r2, b),
        "bad": bad,
    }


def _riding(t: Template, b: Mapping[str, FloatArray], r1: FloatArray, usable: float) -> dict[str, FloatArray]:
    """How the belt lies that a riding motor pulls itself along: under the near idler, up and over the pulley,
    down and under the far idler.
    """
    end = t.end
    assert isinstance(end, RidingMotor)
    idler, half = end.idler, end.idler_spread_mm / 2
    r2 = (
        belt.pitch_diameter(b["idler"], b["pitch"]) / 2
        if idler.kind == "toothed"
        else belt.smooth_idler_radius_back(idler.diameter_mm, b["thickness"], b["height"], b["line"])
    )
    apart = math.hypot(half, end.pulley_rise_mm)
    with np.errstate(invalid="ignore"):  # pulley and idler that touch are refused below
        turn = math.atan2(end.pulley_rise_mm, half) + np.arcsin((r1 + r2) / apart)
        across = np.sqrt(apart**2 - (r1 + r2) ** 2)
    beside = r2 * turn + across - half  # on either side of the pulley, beyond the straight piece to its axis
    rail = t.design.guide.rail_mm + 2 * end.belt_beyond_mm
    start = end.first_position(t.run.ctx)
    return {
        "wrap": 2 * turn,
        "wrap_2": turn,
        "free": rail + 2 * beside + 2 * r1 * turn,
        "first": start + beside,
        "both": rail + 2 * beside,
        "carried": 2 * _idler_mass(idler, r2, b),
        "bad": (apart <= r1 + r2) | (start - half <= 0) | (start + usable + half >= rail),
    }


def _idler_mass(idler: Idler, radius: FloatArray, b: Mapping[str, FloatArray]) -> FloatArray:
    return np.asarray(
        dynamics.mass_of_inertia(
            dynamics.disc_inertia(2 * radius, b["width"] + 1, idler.density_g_cm3),
            motion.radians_per_mm(radius, 1.0),
        )
    )


def _under_load(
    t: Template, b: Mapping[str, FloatArray], v: dict[str, FloatArray], riding_kg: FloatArray | float
) -> tuple[dict[str, Any], dict[str, Any]]:
    """What the mass that moves does to belts: rungs of tension, teeth, ends, mounts and tensioner; torques at
    the pulley and forces.
    """
    end, a, aim = t.end, t.design.assumptions, t.design.aim
    lifted = t.value("mass.tally") + riding_kg * t.motors
    total, slope = lifted + v["carried"] * t.belts, math.radians(aim.slope_deg)
    weight = dynamics.slope_force(np.broadcast_to(lifted, total.shape), slope)
    drag = dynamics.guide_drag(
        np.broadcast_to(lifted, total.shape), t.design.guide.friction, slope, t.design.guide.drag_n
    )
    acceleration, lam = aim.acceleration_mm_s2, v["lam"]
    forces = {
        "accelerate": dynamics.force_sum(
            dynamics.inertia_force(total + v["pulley_mass"] * t.belts, acceleration), drag, weight, 0.0
        ),
        "cruise": dynamics.force_sum(0.0, drag, weight, 0.0),
        "push": dynamics.force_sum(0.0, drag, weight, aim.push_n),
        "hold": dynamics.force_sum(0.0, 0.0, weight, aim.hold_n),
    }
    whip = dynamics.inertia_force(total, acceleration) * springs.overshoot_factor(a.damping)
    peak = (
        np.maximum(dynamics.force_sum(whip, drag, weight, 0.0), np.maximum(forces["push"], forces["hold"]))
        * t.share
    )
    needed = belt.pretension_needed(peak, v["share"], a.slack_keep)
    tension = TARGET_OVER * needed if end.belt.tension_n is None else np.full_like(needed, end.belt.tension_n)
    highest = belt.peak_tension(tension, peak, v["share"])
    load = belt.shaft_load(highest, np.maximum(tension - peak * (1 - v["share"]), 0.0), v["wrap"])
    held = (
        end.clamp.pull_n
        if end.clamp.pull_n is not None
        else brackets.clamp_pull(
            belt.effective_pull_capacity(b["working"], b["width"], end.clamp.engaged_teeth),
            CLAMP_FACTOR[end.clamp.kind],
        )
    )
    head: dict[str, Any] = {
        "pretension": _over(tension, needed, 1.0),
        "cord": _over(belt.cord_capacity(v["ea"], a.strain_limit), highest, 1.0),
        "pull": _over(belt.effective_pull_capacity(b["working"], b["width"], v["mesh"]), peak, a.margin_belt),
        "clamp": _over(held, highest, a.margin_grip),
    }
    idler = end.idler
    if idler.held == "one end":
        reach = belt_line.stack_height(idler) + (b["width"] + 1) / 2
        tilt = running.axle_tilt(
            belt.shaft_load(highest, highest, v["wrap_2"]),
            springs.MATERIALS["steel"][0],
            idler.axle_mm,
            reach,
        )
        head["axle"] = _over(a.tilt_limit, tilt, 1.0)
    for name, mount in end.mounts().items():
        head |= mount_heads(mount, name, load, a.tilt_limit, a.margin_grip)
    kind, tensioner = tensioners.KINDS[end.tensioner.kind][0], end.tensioner
    runs = 1.0 if kind == "clamp" else 2 * np.sin((v["wrap"] if kind == "motor" else v["wrap_2"]) / 2)
    demand = belt.tensioner_demand(
        v["slack"],
        belt.belt_stretch(tension, v["ea"], v["free"]),
        tensioner.run_in_mm,
        tensioner.removal_mm,
        runs,
    )
    thread = (
        math.inf
        if tensioner.screw_length_mm is None
        else float(
            threads.thread_travel(
                tensioner.screw_length_mm, tensioner.lever, tensioner.through_mm, tensioner.screw_mm
            )
        )
    )
    head["tensioner"] = _over(min(tensioner.travel_mm, thread), demand, a.margin_other)
    torque = {
        p: dynamics.torque_at_shaft(forces[p] * t.share, lam, a.efficiency_loop, a.efficiency_loop, 0.0, 0.0)
        for p in PHASES
    }
    return head, {
        "mass": total,
        "weight": weight,
        "drag": drag,
        "peak_torque": peak * v["r1"] / 1000,
        "whip": whip,
        "sag": forces["hold"],
        "pull": forces["accelerate"],
        **{f"torque_{p}": np.broadcast_to(x, lam.shape) for p, x in torque.items()},
    }


def pairs_of(
    t: Template, space: Space, bands: Level, gears: Index, belts: Index, motor_kg: FloatArray | float = 0.0
) -> Level:
    """Reductions beside belts, one pair beside the other: rungs that no motor changes, and what reaches the
    motor's shaft.

    `motor_kg` is the mass of the motor where it rides along; the stages ride with it.

    Equation: as each rung's own formula; stages from the end of the chain back to the motor
    Units: – → – (P), by microsteps (P, S)
    Range: up to two stages, gearbox or closed belt
    Source: handbook — each formula names its own
    """
    a, aim = t.design.assumptions, t.design.aim
    head = {k: h[belts] for k, h in bands.headroom.items()}
    bad = {k: x[belts] for k, x in bands.unbuildable.items()}
    v = {k: x[belts] for k, x in bands.values.items()}
    stages = {1: space.first[gears], 2: space.second[gears]}
    b = {k: column[belts] for k, column in space.belt.items()}
    riding = (
        motor_kg + space.stage["mass_kg"][stages[1]] + space.stage["mass_kg"][stages[2]] if t.rides else 0.0
    )
    more, forced = _under_load(t, b, v, riding)
    head, v = head | more, v | forced
    lam_end, lam = v["lam"], v["lam"]
    torque = {p: v[f"torque_{p}"] for p in PHASES}
    compliance, play, efficiency = v["compliance"], np.zeros(lam.shape), np.full(lam.shape, a.efficiency_loop)
    shaft = np.full(lam.shape, np.nan)  # of the motor, where nothing comes between
    spend = v["spend"] + t.motors * (space.stage["spend"][stages[1]] + space.stage["spend"][stages[2]])
    for slot in (2, 1):  # from the end back to the motor
        s = {k: column[stages[slot]] for k, column in space.stage.items()}
        at = f"chain.{slot}"
        compliance = compliance + 1 / springs.torsion_at_carriage(s["stiffness_nm_rad"], lam)
        play = play + s["backlash_arcmin"] * ARCMIN / lam
        shaft = np.where(np.isnan(shaft), s["shaft_mm"], shaft)
        if slot == 2:
            spend = spend + t.motors * by_shaft(
                space, space.driver_more, stages[2], space.stage["shaft_mm"][stages[1]]
            )
        before, lam = lam, lam * s["ratio"]
        mass = dynamics.mass_of_inertia(s["inertia_gcm2"], lam)
        for p in PHASES:
            moves = p == "accelerate"
            torque[p] = dynamics.torque_at_shaft(
                torque[p] * before * 1000,
                lam,
                s["efficiency"],
                s["efficiency"],
                mass if moves else 0.0,
                aim.acceleration_mm_s2 if moves else 0.0,
            )
        efficiency = efficiency * s["efficiency"]
        worst = np.maximum.reduce(list(torque.values()))
        head |= {
            f"{at}.{k}": h
            for k, h in _stage_heads(
                t, space.closed_mount, s, worst, motion.shaft_speed(aim.speed_mm_s, lam)
            ).items()
        }
    steps = np.array(space.steps, dtype=np.float64)
    per_mm = stepping.steps_per_mm(lam[:, None], 200.0, steps)
    step = stepping.command_step(per_mm)
    limit = t.design.chain[0].driver.step_rate_limit_hz  # type: ignore[attr-defined]
    by_steps = {
        "step_rate": _over(limit, stepping.step_rate(aim.speed_mm_s, per_mm), a.margin_other),
        "resolution": _over(aim.resolution_mm, step, 1.0),
    }
    room = np.minimum(b["hub"], v["root"])
    bad["bore"] = shaft >= room  # of the last stage's shaft; the motor's own comes with the motor
    values = {
        "lam": lam,
        "lam_end": lam_end,
        "shaft": shaft,
        "efficiency": efficiency,
        "compliance": compliance,
        "play": play,
        "step": step,
        "room": room,
        "first_room": space.stage["room"][stages[1]],
        "spend": spend,
        "belt": belts,
        "stage": stages[1],
        **{f"torque_{p}": x for p, x in torque.items()},
        "length": b["face"],
        **{n: v[n] for n in ("peak_torque", "whip", "sag", "pull", "mass", "weight", "drag")},
    }
    return Level(head, by_steps, bad, values)


def _stage_heads(
    t: Template, mount: Mount, s: dict[str, FloatArray], worst: FloatArray, speed: FloatArray
) -> dict[str, Any]:
    """Rungs of one stage: a gearbox by its limits, a closed belt by its teeth, cords and mount; none for what
    is left out.
    """
    a = t.design.assumptions
    head = {
        "torque": np.where(
            np.isfinite(s["torque_limit_nm"]),
            _over(s["torque_limit_nm"] / s["ratio"] / s["efficiency"], worst, a.margin_other),
            np.inf,
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
        "pull": _over(s["pull"], pull, a.margin_belt),
        "mesh": _over(s["mesh"], float(a.teeth_full), 1.0),
        "cord": _over(belt.cord_capacity(s["ea"], a.strain_limit), peak, 1.0),
        "taut": _over(tension, tension / TARGET_OVER, 1.0),
        "face": _over(s["face"], s["width"], 1.0),
        **mount_heads(
            mount, "motor_mount", belt.shaft_load(peak, tension, s["wrap"]), a.tilt_limit, a.margin_grip
        ),
    }
    return head | {k: np.where(belted, h, np.inf) for k, h in rungs.items()}


def motors_of(t: Template, space: Space, pairs: Level, m: dict[str, Any]) -> Level:
    """Motors on pairs: columns of motors of shape (M, 1) for each with every pair, or (P) for one beside
    each.

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
    asked = (
        v["torque_accelerate"]
        + dynamics.mass_of_inertia(m["rotor_inertia_gcm2"], lam) * (aim.acceleration_mm_s2 / 1e6) / lam
    )
    torque = [kt, m["resistance_ohm"], m["inductance_mh"], current, m["supply_v"], 200.0]
    at_top = stepper.pull_out_torque(aim.speed_mm_s * lam, *torque)
    head = {
        "torque_accelerate": _over(at_top, asked, a.margin_torque),
        "torque_cruise": _over(at_top, v["torque_cruise"], a.margin_torque),
        "torque_push": np.inf,
        "torque_hold": _over(standing, v["torque_hold"], a.margin_torque),
        "unpowered": np.inf,
    }
    if aim.push_n > 0:
        head["torque_push"] = _over(
            stepper.pull_out_torque(aim.push_speed_mm_s * lam, *torque), v["torque_push"], a.margin_torque
        )
    weight, drag = v["weight"], v["drag"]
    if np.any(weight > 0):
        head["unpowered"] = _over(
            dynamics.back_drive_capacity(m["detent_torque_nm"], lam, v["efficiency"], drag),
            weight * t.share,
            a.margin_torque,
        )
    head["grip"] = _over(_grips(t, space, shaft, v), v["peak_torque"], a.margin_grip)
    field = springs.torsion_at_carriage(stepper.field_stiffness(now, 200.0), lam)
    stub = springs.torsion_at_carriage(
        springs.shaft_torsion_stiffness(79.0, shaft, t.end.pulley.overhang_mm), v["lam_end"]
    )
    stiffness = t.motors / (v["compliance"] + 1 / stub + 1 / field)
    head["whip"] = _over(aim.error_mm, dynamics.give(v["whip"], stiffness), a.margin_error)
    head["lost"] = _over(aim.error_mm, dynamics.lost_motion(drag, stiffness, v["play"]), a.margin_error)
    for key, force in (("push_give", aim.push_n), ("sag", v["sag"])):
        head[key] = (
            _over(aim.error_mm, dynamics.give(force, stiffness), a.margin_error)
            if np.any(np.asarray(force) > 0)
            else np.inf
        )
    if t.motors > 1:
        sides = t.design.sides
        ahead = gantries.yaw_angle(v["pull"], sides.offset_mm, stiffness / 2, sides.width_mm) * sides.width_mm
        head["yaw"] = _over(aim.error_mm, ahead, a.margin_error)
    bad = {"bore": (m["shaft_mm"] >= v["first_room"]) | (np.isnan(v["shaft"]) & (m["shaft_mm"] >= v["room"]))}
    spend = (
        t.motors * (m["spend"] + by_shaft(space, space.driver_more, v["stage"], m["shaft_mm"])) + v["spend"]
    )
    spend = spend + t.belts * by_shaft(space, space.more, v["belt"], shaft)
    if aim.budget is not None:
        head["money"] = _over(aim.budget, spend, 1.0)
    return Level(head, {}, bad, {"spend": spend, "stiffness": stiffness, "asked": asked, "torque": torque})


def by_shaft(space: Space, table: FloatArray, at: Index, shaft: Any) -> Any:
    """A column by size of shaft, (X, K), for places and the shafts beside them; nothing to look up where no
    size differs from another.
    """
    if (table == table[:, :1]).all():
        return table[at, 0]
    size = np.minimum(
        np.searchsorted(space.sizes, shaft), len(space.sizes) - 1
    )  # a shaft that is not known yet counts with the last
    return table[at, size]


def _grips(t: Template, space: Space, shaft: Any, v: dict[str, Any]) -> Any:
    """What the template's fixing holds on the shaft in question."""
    fixing = t.end.pulley.fixing
    if fixing.kind == "measured":
        return math.nan if fixing.grip_nm is None else fixing.grip_nm
    with np.errstate(divide="ignore", invalid="ignore"):  # a shaft as wide as the hub is refused as such
        return holding.fixing_grip(
            fixing.kind,
            fixing.screw_mm,
            fixing.screws,
            shaft,
            fixing.interference_mm,
            by_shaft(space, space.hubs, v["belt"], shaft),
            v["length"],
        )


def _belt_compliance(t: Template, ea: FloatArray, both: FloatArray, run_1: FloatArray) -> FloatArray:
    """Largest compliance along the travel of the belt's two runs on their mounts, the pulley held: mm/N for
    each belt.
    """
    soft = list(t.soft)
    nodes = ["carriage", *soft]

    def reach(**c: float) -> list[float]:
        return [c.get(n, 0.0) for n in nodes]

    rows = [
        reach(carriage=1, motor_mount=-1),
        reach(carriage=-1, motor_mount=-1, idler_mount=2),
        *(reach(**{n: 1.0}) for n in soft),
    ]
    k = np.empty((*run_1.shape, len(rows)))
    k[..., 0], k[..., 1] = ea[:, None] / run_1, ea[:, None] / (both[:, None] - run_1)
    for i, name in enumerate(soft):
        k[..., 2 + i] = t.soft[name]
    out: FloatArray = np.asarray(springs.network_compliance(k, rows, [1.0] + [0.0] * len(soft))).max(axis=-1)
    return out
