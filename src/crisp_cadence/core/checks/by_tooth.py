"""What single teeth do to the place: ripple as each one comes round, and their play where the pull turns
round.
"""

from __future__ import annotations

from ..account.context import Context
from ..fields.profile import Profile
from ..formulas import running
from ..ledger.formula import Real
from ..ledger.many import pick
from ..ledger.quantity import Given, Quantity, Term
from ..ledger.record import record

FRICTION = Given("catalogue.belt.friction", 0.3, "", "estimate", "rubber on aluminium, dry, 0.2 to 0.5")


@record
class Toothed:
    """A toothed pulley that passes a pull on: where its results go and what it is called, its pitch radius in
    mm, its teeth, and its wrap in rad.
    """

    at: str
    words: str
    radius: Quantity
    teeth: Term
    wrap: Term


@record
class Paths:
    """Fields that mend both: the teeth of a pulley, and the tension."""

    teeth: str
    tension: str


def ripple(ctx: Context, pulleys: list[Toothed]) -> list[Quantity]:
    """Ripple of each pulley's teeth, mm at the belt."""
    return [
        ctx.calc(
            f"{p.at}.chordal",
            f"Ripple once a tooth of {p.words}, at most",
            running.chordal_ripple,
            radius_mm=p.radius,
            teeth=p.teeth,
        )
        for p in pulleys
    ]


def play(
    ctx: Context,
    key: str,
    label: str,
    pulleys: list[Toothed],
    profile: Profile,
    pull: Quantity,
    tension: Term,
) -> Quantity:
    """Play of the teeth of all pulleys together, mm at the belt: none where friction holds the pull."""
    holds = {
        f"holds_{i}": ctx.calc(
            f"{p.at}.teeth_hold",
            f"Pull up to which friction keeps the teeth where they lie on {p.words}",
            running.wrap_holds,
            tension_n=tension,
            friction=FRICTION,
            wrap_rad=p.wrap,
        )
        for i, p in enumerate(pulleys)
    }
    room = ctx.datum(profile, "tooth_play_mm", profile.tooth_play_mm, "mm")

    def moved() -> Real:
        return sum(pick(pull.n > h.n, room.n, 0.0) for h in holds.values())

    return ctx.book.put(
        key,
        f"Play of the teeth where the pull turns round{label}",
        moved,
        "mm",
        equation="room of a tooth where F > ΔT_friction, else 0",
        source_kind="estimate",
        source="a taut belt lies still in its grooves while friction on the wrap bears the pull",
        pull=pull,
        room=room,
        also=holds,
    )


def judge(ctx: Context, key: str, label: str, wavy: Term, loose: Term, paths: Paths) -> None:
    """Rungs of both, mm at the moving point; `key` goes before their names, `label` behind their words."""
    ctx.error_rung(
        f"{key}chordal",
        f"Ripple once a tooth, at most{label}",
        wavy,
        paths.teeth,
        "More teeth on the pulley, or a smaller pitch.",
        section="running",
    )
    ctx.rung(
        f"{key}teeth_play",
        f"Play of the teeth where the pull turns round{label}",
        loose,
        ctx.given("aim.error_mm"),
        ctx.given("assumptions.margin_error"),
        unit="mm",
        section="running",
        path=paths.tension,
        says="More tension, round teeth, or less acceleration where the place counts; a weight that always "
        "pulls one way takes this play out by itself.",
        lower_is_better=True,
        advisory=True,
    )
