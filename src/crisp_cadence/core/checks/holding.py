"""Axles, brackets, clamps, slots and hubs: does what holds the belt hold?"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from ..account.context import Context
from ..fields.belts import Clamp, Idler, Mount
from ..formulas import belt, fixings, springs
from ..formulas.brackets import (
    CLAMP_FACTOR,
    HEAT_ROOM_C,
    SLOT_BOLT_N,
    SLOT_FRICTION,
    SOFTENS_C,
    clamp_pull,
    slot_bolt_grip,
)
from ..formulas.running import axle_tilt
from ..ledger.formula import Real
from ..ledger.quantity import Given, Quantity, Term
from .belt_line import stack_height
from .wheels import Wheel


def axle_reach(idler: Idler) -> Real:
    """How far the belt's middle stands out from an idler's seat, mm."""
    return stack_height(idler) + idler.width_mm / 2


def axles_square(ctx: Context, listed: list[Wheel], key: str, label: str, tight: Quantity) -> None:
    """Tilt of every axle held at one end, under both runs at `tight`; a rung for the worst."""
    found: list[tuple[Term, str]] = []
    for wheel in listed:
        at, part, name = wheel.at, wheel.part, wheel.name.lower()
        if isinstance(part, Idler) and part.held == "one end":
            load = ctx.calc(
                f"{at}.axle_load",
                f"Load on the axle of the {name}",
                belt.shaft_load,
                tension_a_n=tight,
                tension_b_n=tight,
                wrap_rad=wheel.wrap_rad,
            )
            steel = Given(f"{at}.axle", springs.MATERIALS["steel"][0], "GPa", "estimate", "steel axle")
            tilt = ctx.calc(
                f"{at}.axle_tilt",
                f"Tilt of the axle of the {name}",
                axle_tilt,
                force_n=load,
                youngs_gpa=steel,
                diameter_mm=ctx.given(f"{at}.axle_mm"),
                reach_mm=axle_reach(part),
            )
            found.append((tilt, at))
    if found:
        worst, at = ctx.extreme("most", found, f"{key}axle_tilt", "°")
        ctx.rung(
            f"{key}axle",
            f"Axles of the idlers stay square{label}",
            worst,
            ctx.given("assumptions.tilt_limit"),
            1.0,
            unit="°",
            section="running",
            path=f"{at}.axle_mm",
            lower_is_better=True,
            says="A thicker axle, a lower stack, or hold it at both ends.",
        )


def mount_checks(ctx: Context, name: str, at: str, mount: Mount, load: Term) -> None:
    """Tilt of a plate, grip of its slot bolts, and heat; `load` pulls on it."""
    title, g = name.rpartition(".")[2].replace("_", " "), ctx.given
    if mount.kind == "plate":
        modulus, creep = springs.MATERIALS[mount.material]
        tilt = ctx.calc(
            f"{name}.tilt",
            f"Tilt of the {title}",
            springs.plate_tilt,
            force_n=load,
            youngs_gpa=Given(
                f"{at}.material",
                modulus / (1 + creep),
                "GPa",
                "estimate",
                f"{mount.material}, after creep E/(1+{creep:g})",
            ),
            width_mm=g(f"{at}.width_mm"),
            thickness_mm=g(f"{at}.thickness_mm"),
            overhang_mm=g(f"{at}.overhang_mm"),
        )
        ctx.rung(
            f"{name}_tilt",
            f"Tilt of the {title}",
            tilt,
            g("assumptions.tilt_limit"),
            1.0,
            unit="°",
            section="running",
            path=f"{at}.thickness_mm",
            lower_is_better=True,
            says="A thicker plate (stiffness grows with its cube), a shorter one, or aluminium.",
        )
        softens = SOFTENS_C.get(mount.material)
        if softens is not None and mount.warm_c is not None:
            limit = ctx.book.put(
                f"{name}.bears",
                f"Warmth that the {title} bears",
                softens - HEAT_ROOM_C,
                "°C",
                equation="T_soft − 10",
                source_kind="from memory",
                source=f"{mount.material} begins to give near {softens:g} °C",
                soft=softens,
            )
            ctx.rung(
                f"{name}_heat",
                f"Heat at the {title}",
                g(f"{at}.warm_c"),
                limit,
                1.0,
                unit="°C",
                section="running",
                path=f"{at}.material",
                says="Aluminium or steel, a spacer between it and the motor, or less current when standing.",
            )
    if mount.slotted:
        hold = Given(
            f"{at}.bolt_mm",
            SLOT_BOLT_N.get(mount.bolt_mm),
            "N",
            "common practice",
            f"preload of M{mount.bolt_mm:g} in a slot nut; known sizes are M3, M4, M5, M6, M8",
        )
        grip = ctx.calc(
            f"{name}.grip",
            f"Pull that the bolts of the {title} hold",
            slot_bolt_grip,
            bolts=g(f"{at}.bolts"),
            preload_n=hold,
            friction=Given(
                "catalogue.slot_friction", SLOT_FRICTION, "", "common practice", "aluminium on aluminium, dry"
            ),
        )
        ctx.rung(
            f"{name}_grip",
            f"Slot bolts hold the {title}",
            load,
            grip,
            g("assumptions.margin_grip"),
            unit="N",
            section="running",
            path=f"{at}.bolts",
            says="More or larger bolts, a stop screw behind the bracket, or a pin once all is aligned.",
        )


def clamp_check(ctx: Context, clamp: Clamp, tight: Quantity, working: Term, width: Given) -> None:
    """Whether the belt's ends hold the largest tension."""
    g = ctx.given
    if clamp.pull_n is not None:
        held: Term = g("end.clamp.pull_n")
    else:
        rated = ctx.calc(
            "clamp.rated",
            "Running rating of the teeth held",
            belt.effective_pull_capacity,
            working_tension_n=working,
            width_mm=width,
            teeth_meshed=g("end.clamp.engaged_teeth"),
        )
        held = ctx.calc(
            "clamp.pull",
            "Pull that a belt end holds",
            clamp_pull,
            rated_n=rated,
            factor=Given(
                "end.clamp.kind",
                CLAMP_FACTOR[clamp.kind],
                "",
                "common practice",
                f"{clamp.kind}: no source, try it with weights",
            ),
        )
    ctx.rung(
        "clamp",
        "Belt ends hold",
        tight,
        held,
        g("assumptions.margin_grip"),
        unit="N",
        section="running",
        path="end.clamp.engaged_teeth",
        says="Hold more teeth, a toothed plate, or a trial with weights whose result you enter.",
    )


def slot_check(ctx: Context, slot: Given, width: Given) -> None:
    """Whether the belt runs free in the rail's slot."""
    if slot.value is None:
        return
    room = ctx.book.put(
        "slot.needed",
        "Slot that the belt needs",
        lambda: width.n + 0.4,
        "mm",
        equation="b + 0.4",
        source_kind="common practice",
        source="0.2 mm of air on each side",
        b=width,
    )
    ctx.rung(
        "slot",
        "Belt runs free in the rail's slot",
        room,
        slot,
        1.0,
        unit="mm",
        section="running",
        path="end.slot_mm",
        says="A narrower belt, or lead the run beside the rail.",
    )


def fixing(
    kind: str,
    *,
    screw_mm: Any,
    hold_n: Any,
    screws: Any,
    shaft_mm: Any,
    interference_mm: Any,
    hub_mm: Any,
    length_mm: Any,
) -> tuple[Callable[..., Real], dict[str, Any]]:
    """The formula of what one kind of fixing holds on a shaft, with those of its terms that it asks for.

    They may be numbers, arrays or terms of the ledger; `hold_n` is the rating of a set screw.
    """
    if kind == "clamp":
        terms = {"screw_mm": screw_mm, "shaft_mm": shaft_mm, "screws": screws, "friction": 0.15}
        return fixings.clamp_grip, terms
    if kind == "key":
        return fixings.key_grip, {"shaft_mm": shaft_mm}
    if kind == "press fit":
        sizes = {"hub_mm": hub_mm, "interference_mm": interference_mm, "length_mm": length_mm}
        return fixings.press_grip, {"shaft_mm": shaft_mm, **sizes, "friction": 0.12}
    on_flat = 2.0 if kind == "set screw on flat" else 1.0
    terms = {"hold_n": hold_n, "shaft_mm": shaft_mm, "screws": screws, "flat_factor": on_flat}
    return fixings.set_screw_grip, terms


def fixing_grip(
    kind: str,
    screw_mm: float,
    screws: int,
    shaft_mm: Real,
    interference_mm: float,
    hub_mm: Real,
    length_mm: Real,
) -> Real:
    """Torque that one kind of fixing holds on a shaft, N·m, one shaft or an array; NaN where its screw has no
    rating.
    """
    formula, terms = fixing(
        kind,
        screw_mm=screw_mm,
        hold_n=fixings.SET_SCREW_HOLD_N.get(screw_mm, math.nan),
        screws=screws,
        shaft_mm=shaft_mm,
        interference_mm=interference_mm,
        hub_mm=hub_mm,
        length_mm=length_mm,
    )
    return formula(**terms)
