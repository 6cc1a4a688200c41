"""What was already cut or made, against the design as it stands now."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from ..account.report import Misfit
from ..fields.axis import Made
from ..ledger.quantity import Quantity

SAME_MM = 0.05  # closer than this nothing has changed that a saw or a calliper could tell
LONGER_SERVES = ("belt.cut", "tensioner.screw_length", "tensioner.slot")  # can be trimmed, or does no harm


def misfits(made: Iterable[Made], results: Mapping[str, Quantity]) -> tuple[Misfit, ...]:
    """Every piece that is made, with what the design now needs and whether it still serves."""
    out = []
    for piece in made:
        now = results.get(piece.key)
        needed = now.value if now is not None else None
        unit = now.unit if now is not None else ""
        if needed is None:
            out.append(
                Misfit(
                    piece.key,
                    piece.label,
                    piece.value,
                    None,
                    unit,
                    False,
                    "no longer part of this design, or not worked out yet",
                )
            )
            continue
        over = piece.value - needed
        if abs(over) <= SAME_MM:
            says, fits = "as the design has it", True
        elif piece.key in LONGER_SERVES and over > 0:
            says, fits = f"{over:.1f} {unit} longer than needed now: trim it", True
        else:
            says, fits = (
                f"{abs(over):.2f} {unit} too {'long' if over > 0 else 'short'} for the design as it is now",
                False,
            )
        out.append(Misfit(piece.key, piece.label, piece.value, needed, unit, fits, says))
    return tuple(out)
