"""Lists as CSV: UTF-8, a head row with units, and no cell that a spreadsheet would take for a formula."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

from ..core.fitting.rows import BeltPlan


def safe(value: object) -> object:
    """A cell that no spreadsheet runs: text that begins like a formula, or with a character that hides one,
    gets a quote in front.

    >>> safe("=1+1"), safe("-2 mm"), safe(-2.0), safe("\\n=1")
    ("'=1+1", "'-2 mm", -2.0, "'\\n=1")
    """
    if isinstance(value, str) and (value[:1] in ("=", "+", "-", "@") or value[:1] < " ") and value:
        return f"'{value}"
    return value


def sheet(head: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """A CSV text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([safe(h) for h in head])
    for row in rows:
        writer.writerow(["" if v is None else safe(v) for v in row])
    return out.getvalue()


def cut_list(plan: BeltPlan) -> str:
    """What to cut and to buy by length: piece, millimetres, inches, teeth, roll, what is left of it."""
    rows: list[Sequence[object]] = [
        (
            "piece",
            c.what,
            round(c.length_mm, 3),
            round(c.length_mm / 25.4, 4),
            c.teeth or None,
            "",
            None,
            c.note,
        )
        for c in plan.cuts
    ]
    for cut in plan.packing.cuts if plan.packing else ():
        for piece in cut.pieces:
            where = cut.roll.name + ("" if cut.roll.owned else " (to buy)")
            rows.append(
                (
                    "from roll",
                    piece.label,
                    round(piece.length_mm, 3),
                    round(piece.length_mm / 25.4, 4),
                    None,
                    where,
                    round(cut.leftover_mm, 1),
                    "",
                )
            )
    for piece in plan.packing.unplaced if plan.packing else ():
        rows.append(
            (
                "no roll",
                piece.label,
                round(piece.length_mm, 3),
                round(piece.length_mm / 25.4, 4),
                None,
                "",
                None,
                plan.packing_says,
            )
        )
    return sheet(("row", "what", "length mm", "length in", "teeth", "roll", "left on roll mm", "note"), rows)
