"""What one speed of a spindle asks of its two V-belts and its shafts."""

from __future__ import annotations

import math
from collections.abc import Callable

from ...account.context import Context
from ...account.found import Band
from ...formulas import belt, vbelt
from ...geometry.path import closed_belt_centre
from ...ledger.quantity import Given, Ledger, Quantity, Term
from ...ledger.record import record
from .step_cones import Step, StepCones, Turned, motor_rpm

SHARE = 0.95  # efficiency of one V-belt (common practice)
ASIDE = 64.0  # of a span: one part of it
NEW = 1.5  # of its tension: a new belt, before it has run in (common practice)


@record
class ReadBy:
    """One of the belts abreast: its tension (N), straight span (mm), the mass of a metre, how it stretches
    and how it bends.
    """

    tension: Quantity
    span_mm: float
    line_mass: Quantity
    ea: Quantity
    bending: Quantity


@record
class Carried:
    """One belt at one speed: wrap on its smaller pulley (rad), speed (m/s), pull (N), power asked and allowed
    (W), tensions and the pull on either shaft (N), and how far one straight span is pushed aside (mm), which
    takes so much (N), to read it.
    """

    wrap: Quantity
    speed: Quantity
    pull: Quantity
    asked: Quantity
    allowed: Quantity
    tight: Quantity
    rest: Quantity
    on_shaft: Quantity
    aside: Quantity
    push: Quantity
    read_by: ReadBy


@record
class AtSpeed:
    """A speed with both its belts, the torque on the spindle, N·m, and what pulls on the middle shaft, N."""

    step: Step
    torque: Quantity
    motor: Carried
    cone: Carried
    middle: Quantity


def at_speed(ctx: Context, end: StepCones, step: Step, rim: Quantity, book: Ledger) -> AtSpeed:
    """Both belts where the rim is asked for so much force, written into the book."""
    torque = book.put(
        "spindle.torque",
        "Torque that the cone's belt gives the spindle",
        lambda: rim.n * end.work_mm / 1000,
        "N·m",
        equation="M = F·R",
        source="definition of torque",
        force=rim,
        radius=ctx.given("end.work_mm"),
    )
    cone = _carried(ctx, end, book, "cone", step.second, step.middle_rpm, torque)
    at_middle = book.put(
        "spindle.middle_torque",
        "Torque on the middle shaft",
        lambda: cone.pull.n * step.second.driver_mm / 2000 / SHARE,
        "N·m",
        equation="F·d/2/η",
        source="one belt's losses (common practice)",
        pull=cone.pull,
        driver=step.second.driver_mm,
        efficiency=SHARE,
    )
    motor = _carried(ctx, end, book, "motor", step.first, motor_rpm(ctx.design), at_middle)
    to_motor = math.atan2(-step.middle_y_mm, -step.middle_x_mm)
    to_spindle = math.atan2(-step.middle_y_mm, end.apart_mm - step.middle_x_mm)
    middle = book.calc(
        "spindle.middle_pull",
        "Both belts pull on the middle shaft",
        vbelt.pull_of_two,
        one_n=motor.on_shaft,
        other_n=cone.on_shaft,
        between_rad=abs(to_motor - to_spindle),
    )
    return AtSpeed(step, torque, motor, cone, middle)


def _carried(
    ctx: Context, end: StepCones, book: Ledger, of: str, turned: Turned, rpm: float, torque: Quantity
) -> Carried:
    """The belt `of` the motor or the cone: its driver turns at `rpm`, its driven pulley gives the torque."""
    at, name, length = f"{of}_belt", f"{of}'s belt", f"end.{of}_belt_mm"
    driver_mm, driven_mm = turned.driver_mm, turned.driven_mm
    g, section = ctx.given, vbelt.SECTIONS[end.section]
    small = min(driver_mm, driven_mm)
    small_rpm = rpm if driver_mm <= driven_mm else rpm * driver_mm / driven_mm

    def datum(what: str, value: float, unit: str) -> Given:
        return Given(f"catalogue.v.{what}", value, unit, "from memory", f"section {section.name}")

    def stated(what: str, does: str, value: float, unit: str, kind: str) -> Quantity:
        return book.put(
            f"{at}.{what}",
            f"One of the {name}s {does}",
            value,
            unit,
            equation="as the section",
            source_kind=kind,
            source=f"section {section.name}",
        )

    pull = book.put(
        f"{at}.pull",
        f"Pull that the {name} carries",
        lambda: 2000 * torque.n / driven_mm,
        "N",
        equation="F = 2·M/D",
        source="lever arm of the driven pulley",
        torque=torque,
        driven=driven_mm,
    )
    centre = float(closed_belt_centre(g(length).n, driver_mm / 2, driven_mm / 2))
    wrap = book.calc(
        f"{at}.wrap",
        f"Wrap of the {name}, smaller pulley",
        vbelt.smallest_wrap,
        centre_mm=centre,
        a_mm=driver_mm,
        b_mm=driven_mm,
    )
    speed = book.put(
        f"{at}.speed",
        f"Speed of the {name}",
        math.pi * driver_mm * rpm / 60_000,
        "m/s",
        equation="π·d·n/60",
        source="kinematics",
        driver=driver_mm,
        rpm=rpm,
    )
    asked = book.put(
        f"{at}.asked",
        f"Power that the {name} carries",
        lambda: pull.n * speed.n,
        "W",
        equation="P = F·v",
        source="definition of power",
        pull=pull,
        speed=speed,
    )
    constants: dict[str, Term] = {f"k{i + 1}": datum(f"k{i + 1}", k, "") for i, k in enumerate(section.rated)}
    rated = book.calc(
        f"{at}.rated",
        f"The {name} is rated at, half a turn of wrap",
        vbelt.rated_power,
        small_mm=small,
        rpm=small_rpm,
        **constants,
    )
    by_wrap = book.calc(f"{at}.wrap_factor", f"Wrap factor of the {name}", vbelt.wrap_factor, wrap_rad=wrap)
    by_length = book.calc(
        f"{at}.length_factor",
        f"Length factor of the {name}",
        vbelt.length_factor,
        length_mm=g(length),
        table_length_mm=datum("length", section.length_mm, "mm"),
    )
    allowed = book.put(
        f"{at}.allowed",
        f"Power that the {name} may carry",
        lambda: 1000 * rated.n * by_wrap.n * by_length.n * g("end.abreast").n,
        "W",
        equation="P·K_α·K_L·z",
        source_kind="standard",
        source="ISO 5292 (tables from memory)",
        rated=rated,
        wrap=by_wrap,
        length=by_length,
        belts=g("end.abreast"),
    )
    groove = book.calc(
        f"{at}.groove",
        f"Groove angle, smaller pulley of the {name}",
        vbelt.groove_angle,
        pitch_diameter_mm=small,
        turning_point_mm=datum("turning", section.turning_mm, "mm"),
    )
    wedge = book.calc(
        f"{at}.wedge",
        f"Tension ratio at which the {name} slips",
        vbelt.wedge_ratio,
        friction=g("end.friction"),
        wrap_rad=wrap,
        groove_deg=groove,
    )
    ratio = book.calc(
        f"{at}.ratio",
        f"Tension ratio that the {name} is sized on",
        vbelt.lasting_ratio,
        wedge=wedge,
        cap=g("end.cap"),
        wrap_rad=wrap,
    )
    mass = datum("mass", section.line_mass_g_m * end.abreast, "g/m")
    own = book.calc(
        f"{at}.centrifugal",
        f"Centrifugal tension of the {name}",
        vbelt.centrifugal_tension,
        line_mass_g_m=mass,
        speed_m_s=speed,
    )
    sized = book.put(
        f"{at}.sized",
        f"Pull that the {name} is tensioned for",
        lambda: pull.n * g("end.service").n,
        "N",
        equation="F·K_A",
        source="service factor, V-belt handbooks",
        pull=pull,
        service=g("end.service"),
    )
    tight = book.calc(
        f"{at}.tight",
        f"Tight span of the {name}",
        vbelt.tight_tension,
        pull_n=sized,
        ratio=ratio,
        centrifugal_n=own,
    )
    rest = book.calc(
        f"{at}.tension", f"Tension to set, the {name}", vbelt.resting_tension, tight_n=tight, pull_n=sized
    )
    on_shaft = book.calc(
        f"{at}.shaft_pull",
        f"The {name} pulls on each of its shafts",
        vbelt.pull_on_shaft,
        tight_n=tight,
        pull_n=sized,
        centre_mm=centre,
        one_mm=driver_mm,
        other_mm=driven_mm,
    )
    span = math.sqrt(centre**2 - ((driven_mm - driver_mm) / 2) ** 2)
    one = book.put(
        f"{at}.tension_each",
        f"Tension to set, each of the {name}s abreast",
        lambda: rest.n / g("end.abreast").n,
        "N",
        equation="T/z",
        source="belts abreast share alike",
        tension=rest,
        belts=g("end.abreast"),
    )
    ea = stated("ea", "stretches by", section.ea_n, "N", "from memory")
    aside = book.put(
        f"{at}.aside",
        f"Push the {name} aside by",
        span / ASIDE,
        "mm",
        equation="t/64",
        source="the trade's rule, small enough to leave the tension alone (common practice)",
        span=span,
    )
    push = book.calc(
        f"{at}.push",
        f"Force that pushes the {name} aside",
        belt.deflection_force,
        tension_n=one,
        ea_n=ea,
        deflection_mm=aside,
        span_mm=span,
        free_length_mm=2 * span,
    )
    mass_each = stated("mass", "weighs a metre", section.line_mass_g_m, "g/m", "from memory")
    bending = stated("bending", "bends by", section.bending_n_mm2, "N·mm²", "estimate")
    read_by = ReadBy(one, span, mass_each, ea, bending)
    return Carried(wrap, speed, pull, asked, allowed, tight, rest, on_shaft, aside, push, read_by)


def bands(ctx: Context, end: StepCones, at_speeds: list[AtSpeed]) -> list[Band]:
    """Both belts at each speed: `motor.1` is the motor's at the slowest. From what the load alone asks for to
    half as much again as the tension to set, which a new belt is given before it has run in.
    """
    found = []
    for nth, x in enumerate(at_speeds, 1):
        for of, name, carried in (("motor", "motor's belt", x.motor), ("cone", "cone's belt", x.cone)):
            found.append(_band(ctx, end, f"{of}.{nth}", f"the {name} at {x.step.rpm:.0f} rpm", carried))
    return found


def _band(ctx: Context, end: StepCones, key: str, name: str, belt: Carried) -> Band:
    rest, span, service, book = belt.read_by.tension, belt.read_by.span_mm, ctx.given("end.service"), Ledger()
    low = book.put(
        "v.low",
        "Not below",
        lambda: rest.n / service.n,
        "N",
        equation="T/K_A",
        source="without the service factor",
        tension=rest,
        service=service,
    )
    high = book.put(
        "v.high",
        "Not above",
        lambda: NEW * rest.n,
        "N",
        equation="1.5·T",
        source="a new belt, before it has run in (common practice)",
        tension=rest,
    )
    free = book.put(
        "v.free",
        "Straight belt that shares the stretch",
        2 * span,
        "mm",
        equation="2·t",
        source="both straight spans",
    )
    abreast = f", each of {end.abreast} abreast" if end.abreast > 1 else ""
    return Band(
        name=name + abreast,
        span_mm=span,
        line_mass=belt.read_by.line_mass,
        ea=belt.read_by.ea,
        free=free,
        low=low,
        aim=rest,
        high=high,
        advice=None,
        turn=None,
        set_by="Swing the middle pulley until both belts are taut, and lock it.",
        idler_wrap=None,
        bending=belt.read_by.bending,
        key=key,
        ways=("push", "thumb", "pluck"),
    )


def forces_at_rim(ctx: Context, end: StepCones) -> Callable[[Step], float]:
    """The largest force asked at the rim at any of the speeds, N: coming up to speed, or at work."""
    aim, driven, drag = ctx.whole.aim, ctx.loads.masses.driven.n, ctx.loads.drag.n
    served = end.served(motor_rpm(ctx.design))

    def asked(step: Step) -> float:
        starting = driven * end.speeds_up(step, aim.acceleration_mm_s2) / 1000
        working = end.asked_nm(step, served, aim.push_n) * 1000 / end.work_mm
        return float(drag + max(starting, working))

    return asked
