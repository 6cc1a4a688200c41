"""Whether what sits on a motor's shaft passes the hole in its plate, and lets a key at its bolts."""

from __future__ import annotations

from ..account.context import Context
from ..fields.belts import Flanges
from ..fields.frames import Frame
from ..fields.profile import Profile
from ..formulas import reach
from ..ledger.quantity import Given, Quantity, Term, value_of
from ..ledger.record import record
from .joining import bolted_at, moves_motor

# Width of the hex key by screw, mm: socket head cap screws by ISO 4762, set screws by ISO 4026.
OF_HEADS = {2.0: 1.5, 2.5: 2.0, 3.0: 2.5, 4.0: 3.0, 5.0: 4.0, 6.0: 5.0, 8.0: 6.0, 10.0: 8.0, 12.0: 10.0}
OF_SET_SCREWS = {2.0: 0.9, 2.5: 1.3, 3.0: 1.5, 4.0: 2.0, 5.0: 2.5, 6.0: 3.0, 8.0: 4.0, 10.0: 5.0, 12.0: 6.0}
FREE_MM = 0.5  # round a key that is to be turned, and round a boss in its hole


def hex_key(screw_mm: float | None, keys: dict[float, float] = OF_HEADS) -> str:
    """The key for a screw with a socket.

    >>> hex_key(5.0), hex_key(3.0, OF_SET_SCREWS), hex_key(3.4)
    ('4 mm hex key', '1.5 mm hex key', 'hex keys')
    """
    key = keys.get(screw_mm) if screw_mm is not None else None
    return "hex keys" if key is None else f"{key:g} mm hex key"


@record
class Front:
    """What sits on the shaft in front of the plate that a motor (with its gearbox) is bolted to: its rim, the
    boss of the flange, and the room between the rim and a key in the bolts.
    """

    rim_mm: float
    boss_mm: float
    room_mm: float

    @property
    def passes(self) -> bool:
        """Whether it goes through the hole of the boss, so that it may sit on the shaft before."""
        return self.rim_mm <= self.boss_mm + FREE_MM

    @property
    def reached(self) -> bool:
        """Whether a straight key gets at the bolts with it in place."""
        return self.room_mm >= FREE_MM


def flange_of(ctx: Context) -> Frame | None:
    """The flange that a motor, with what it carries, is bolted by; None where it is not known."""
    found: Frame | None = ctx.design.chain[bolted_at(ctx)].flange()
    return found


def front(ctx: Context) -> Front | None:
    """What sits before the motor's bolts; None where that, or the flange, is not known."""
    return ctx.once(_front)


def _front(ctx: Context) -> Front | None:
    j, chain, flange = bolted_at(ctx) + 1, ctx.design.chain, flange_of(ctx)
    rim: Term | None = (
        chain[j].over_shaft(f"chain.{j}", ctx) if j < len(chain) else ctx.design.end.over_shaft(ctx)
    )
    key_mm = OF_HEADS.get(flange.screw_mm) if flange else None
    if rim is None or flange is None or key_mm is None:
        return None
    room = ctx.calc(
        "reach.bolts",
        "Room for the key at the motor's bolts",
        reach.key_room,
        square_mm=Given(
            "catalogue.frame.bolts", flange.bolts_mm, "mm", "common practice", "bolt square of the flange"
        ),
        rim_mm=rim,
        key_mm=Given("catalogue.key", key_mm, "mm", "standard", "ISO 4762, key of a socket head cap screw"),
    )
    wide = value_of(rim)
    if wide is None or room.value is None:
        return None
    return Front(wide, flange.boss_mm, room.value)


def onto_shaft(ctx: Context) -> tuple[tuple[str, ...], tuple[str, ...], str]:
    """Of what goes onto the motor's own shaft: what must stand before, what that makes ready, and what to
    know. It goes on first where it passes the hole in the plate and leaves room for a key at the bolts.
    """
    before = front(ctx)
    if before is None or (before.passes and before.reached):
        return (), ("motor ready",), ""
    if before.reached or moves_motor(ctx):
        return (
            ("motor",),
            (),
            "Onto the shaft of the bolted motor: hold its rear end, never press on its bearings.",
        )
    return (
        ("motor tight",),
        (),
        "Its rim hides the motor's bolts from here on: try once more that they are tight.",
    )


def rim_of(ctx: Context, at: str, belt: Profile, flanges: Flanges) -> Quantity:
    """Rim of a toothed pulley of the design, over its flanges."""

    def of_belt(name: str) -> Given:
        return ctx.datum(belt, name, getattr(belt, name), "mm")

    return ctx.calc(
        "reach.rim",
        "Rim of what sits on the motor's shaft",
        reach.pulley_rim,
        teeth=ctx.given(f"{at}.teeth"),
        pitch_mm=of_belt("pitch_mm"),
        pitch_line_mm=of_belt("pitch_line_mm"),
        thickness_mm=of_belt("thickness_mm"),
        flanged=Given(f"{at}.flanges", 0.0 if flanges == "none" else 1.0, "", "your entry", flanges),
    )
