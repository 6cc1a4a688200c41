"""A pulley on its shaft: does what fixes it hold, and does its bore fit?"""

from __future__ import annotations

from typing import Any, Protocol

from ..account.context import Context
from ..account.found import OutputShaft
from ..account.report import Section
from ..fields.belts import Fixing, PulleyMaterial
from ..fields.screws import of_size, screw_name
from ..formulas import fixings
from ..ledger.amounts import said
from ..ledger.formula import Real
from ..ledger.quantity import Given, Quantity, Term, bare
from ..ledger.record import record
from .holding import WARM_HUB_K, fixing


@record
class Seated:
    """A pulley by its design path, the beginning of its results' keys, the key of its rung, what it is
    called, and where its rung stands.
    """

    at: str
    keys: str
    rung: str
    name: str
    section: Section


def untrusted(kind: str, form: Any) -> Real:
    """Whether a fixing asks for what the shaft has not: a flat under a set screw, a keyway under a key."""
    if kind == "key":
        return form != "key"
    return True if kind == "set screw on round" else kind == "set screw on flat" and form == "round"


def _trust(ctx: Context, pulley: Hub, p: str, title: str, form: str) -> None:
    """What a fixing asks of its shaft and of the hand that fits it."""
    kind, words = pulley.fixing.kind, ""
    if kind.startswith("set screw") and untrusted(kind, form):
        words = (
            f"Set screws on a round shaft under {title} are not to be trusted, whatever they hold on paper: "
            "where the load reverses they walk. File a flat, or take a clamp."
        )
    elif kind.startswith("set screw") and pulley.made_of == "printed":
        words = f"The thread of {title} strips in plastic: put a metal insert in, or clamp it."
    elif kind == "key" and form != "key":
        words = f"The shaft under {title} has no keyway: have one cut, or take a clamp."
    elif kind == "key" and ctx.design.end.guided:
        words = (
            f"A key alone has play where the load reverses: in {title} set a screw over it, or clamp the hub "
            "as well."
        )
    if words:
        ctx.note("build", p + "fixing.kind", words)


def _pressed(ctx: Context, pulley: Hub, seated: Seated, shaft: OutputShaft) -> Quantity:
    """Pressure of a press fit when it is warm; and whether the hub bears what it is when cold."""
    g, p, key, title = ctx.given, f"{seated.at}.", seated.keys, seated.name
    stuff, source = fixings.HUBS[pulley.made_of], f"hub of {pulley.made_of}"

    def datum(name: str, value: float, unit: str) -> Given:
        return Given(f"handbook.hub.{name}", value, unit, "from memory", source)

    elastic = {
        "shaft_mm": shaft.diameter,
        "hub_mm": g(p + "hub_mm"),
        "youngs_gpa": datum("youngs", stuff.youngs_gpa, "GPa"),
        "poisson": datum("poisson", stuff.poisson, ""),
    }
    tight = g(p + "fixing.interference_mm")
    cold = ctx.calc(
        f"{key}pressed",
        f"Pressure of the press fit of {title}",
        fixings.press_pressure,
        interference_mm=tight,
        **elastic,
    )
    hoop = ctx.calc(
        f"{key}hoop",
        f"Stress round the bore of {title}",
        fixings.press_hoop,
        shaft_mm=shaft.diameter,
        hub_mm=g(p + "hub_mm"),
        pressure_mpa=cold,
    )
    ctx.rung(
        f"{seated.rung}_hub",
        f"Hub of {title} bears its press fit",
        hoop,
        datum("hoop", stuff.hoop_mpa, "MPa"),
        1.0,
        unit="MPa",
        section=seated.section,
        path=p + "fixing.interference_mm",
        says="Less interference, a thicker hub, or a clamp.",
    )
    left = ctx.calc(
        f"{key}warm",
        f"Interference of {title} that is left when warm",
        fixings.interference_left,
        interference_mm=tight,
        shaft_mm=shaft.diameter,
        hub_growth_k=datum("growth", stuff.growth_k, "1/K"),
        shaft_growth_k=fixings.STEEL_GROWTH_K,
        warmer_k=Given("handbook.hub.warmer", WARM_HUB_K, "K", "estimate", "a hub on a warm motor"),
    )
    bore = ctx.book.put(
        f"{key}bore",
        f"Bore to make in {title}",
        lambda: shaft.diameter.n - tight.n,
        "mm",
        equation="d − δ",
        source="definition of interference",
        shaft=shaft.diameter,
        interference=tight,
    )
    if ctx.plain and bore.value is not None:
        ctx.note(
            "build",
            p + "fixing.interference_mm",
            f"Ream {title} to {said(bore.value, 'mm', '.3f')} and press it on warm. Never press or hammer it "
            "onto a motor unless the other end of its shaft is held: the bearings take the blow.",
        )
    return ctx.calc(
        f"{key}pressed_warm",
        f"Pressure of the press fit of {title} when warm",
        fixings.press_pressure,
        interference_mm=left,
        **elastic,
    )


def torque_of(ctx: Context, key: str, label: str, force: Quantity, radius: Term) -> Quantity:
    """Torque between a pulley and its shaft, by the pull on it."""
    return ctx.book.put(
        key,
        label,
        lambda: force.n * bare(radius) / 1000,
        "N·m",
        equation="F·r",
        source="statics",
        force=force,
        radius=radius,
    )


class Hub(Protocol):
    """What sits on a shaft: how it is fixed, what it is made of, and whether a sleeve fills its bore."""

    @property
    def fixing(self) -> Fixing: ...
    @property
    def made_of(self) -> PulleyMaterial: ...
    @property
    def sleeve(self) -> bool: ...


def held(ctx: Context, pulley: Hub, seated: Seated, torque: Quantity, shaft: OutputShaft) -> None:
    """Torque at the hub against what holds it, and how the bore fits the shaft."""
    g, p, key, title = ctx.given, f"{seated.at}.", seated.keys, seated.name
    how = pulley.fixing
    grip: Term
    if how.kind == "measured":
        grip = g(p + "fixing.grip_nm")
    else:
        hold = Given(
            p + "fixing.screw_mm",
            of_size(fixings.SET_SCREW_HOLD_N, how.screw_mm),
            "N",
            "from memory",
            f"{screw_name(how.screw_mm)} cup point; rated sizes are M3 to M6, #4 to 3/8 in",
        )
        formula, terms = fixing(
            how.kind,
            screw_mm=g(p + "fixing.screw_mm"),
            hold_n=hold,
            screws=g(p + "fixing.screws"),
            shaft_mm=shaft.diameter,
            pressure_mpa=_pressed(ctx, pulley, seated, shaft) if how.kind == "press fit" else None,
            length_mm=g(p + "face_mm"),
            form=shaft.form,
            stuff=fixings.HUBS[pulley.made_of],
        )
        grip = ctx.calc(f"{key}grip", f"Torque that the hub of {title} holds", formula, **terms)
    if ctx.plain:
        _trust(ctx, pulley, p, title, shaft.form)
    ctx.rung(
        seated.rung,
        f"Grip of {title} on its shaft",
        torque,
        grip,
        g("assumptions.margin_grip"),
        unit="N·m",
        section=seated.section,
        path=p + "fixing.kind",
        says="A flat under the screw, more or larger screws, a clamp or a key.",
        untrusted=untrusted(how.kind, shaft.form),
    )
    gap = ctx.calc(
        f"{key}fit",
        f"Play between the bore of {title} and its shaft",
        fixings.fit_gap,
        bore_mm=g(p + "bore_mm"),
        shaft_mm=shaft.diameter,
    )
    wall = ctx.calc(
        f"{key}wall",
        f"Wall of the hub of {title}",
        fixings.hub_wall,
        hub_mm=g(p + "hub_mm"),
        bore_mm=g(p + "bore_mm"),
    )
    if not ctx.plain:
        return
    if gap.value is not None and gap.value < -0.005 and how.kind != "press fit":
        ctx.note(
            "build",
            p + "bore_mm",
            f"The bore of {title} is {said(-gap.value, 'mm', '.2f')} too small for the shaft: ream it to "
            f"{said(shaft.diameter.value or 0, 'mm')}, square to the teeth.",
        )
    elif gap.value is not None and gap.value > 0.05 and not pulley.sleeve:
        ctx.note(
            "build",
            p + "bore_mm",
            f"The bore of {title} is {said(gap.value, 'mm', '.2f')} too large for the shaft: fit a "
            f"sleeve, or "
            "the pulley runs out of true.",
        )
    if wall.value is not None and wall.value < 2.0 and how.kind.startswith("set screw"):
        ctx.note(
            "build",
            p + "hub_mm",
            f"Only {said(wall.value, 'mm', '.1f')} of wall for the set screw's thread in {title}; common "
            "practice is 2 mm or more.",
        )
