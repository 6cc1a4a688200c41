"""A pulley on its shaft: does what fixes it hold, and does its bore fit?"""

from __future__ import annotations

from ..account.context import Context
from ..account.found import OutputShaft
from ..account.report import Section
from ..fields.belts import Pulley
from ..fields.screws import of_size, screw_name
from ..formulas import fixings
from ..ledger.amounts import said
from ..ledger.quantity import Given, Quantity, Term
from ..ledger.record import record
from .holding import fixing


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


def held(ctx: Context, pulley: Pulley, seated: Seated, torque: Quantity, shaft: OutputShaft) -> None:
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
            interference_mm=g(p + "fixing.interference_mm"),
            hub_mm=g(p + "hub_mm"),
            length_mm=g(p + "face_mm"),
        )
        grip = ctx.calc(f"{key}grip", f"Torque that the hub of {title} holds", formula, **terms)
    if how.kind == "set screw on round" and ctx.plain:
        ctx.note(
            "build",
            p + "fixing.kind",
            f"Set screws on a round shaft under {title} are not to be trusted, whatever they hold on paper: "
            "where the load reverses they walk. File a flat, or take a clamp.",
        )
    if how.kind == "set screw on flat" and shaft.form == "round":
        ctx.note(
            "build",
            p + "fixing.kind",
            f"The shaft under {title} is round: file or grind a flat for the screw, or say that the screw "
            f"sits "
            "on the round.",
        )
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
    if gap.value is not None and gap.value < -0.005:
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
