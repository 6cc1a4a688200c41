"""Drawings as SVG: one user unit is one millimetre, and the size on paper is written in millimetres."""

from __future__ import annotations

import math
import re
from xml.sax.saxutils import escape, quoteattr

from ..core.geometry.figures import Arc, Circle, Drawing, Line, Shape, Words, extent
from ..core.ledger.errors import EntryError, problem

MARGIN_MM = 5.0
RULER_MM = 100
PAPERS_MM = {"A4": (297.0, 210.0), "letter": (279.4, 215.9)}  # lying
EDGE_MM = 12.0
OVERLAP_MM = 10.0
_DASH = {"PITCH": "4 2", "CENTRES": "6 1.5 1 1.5"}
_WIDTH = {"BELT": 0.5, "OUTLINE": 0.35, "HOLES": 0.35}
MOST_SHEETS = 100
MOST_BYTES = 30_000_000  # of all sheets together; each of them holds the whole drawing, clipped
# What XML cannot hold at all, escaped or not.
_FORBIDDEN = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def words(text: str) -> str:
    """Text for a drawing: well-formed whatever a label holds.

    >>> words("A < B & \\x07")
    'A &lt; B &amp; �'
    """
    return escape(_FORBIDDEN.sub("�", text))


def _number(x: float) -> str:
    return f"{x:.6f}".rstrip("0").rstrip(".") if abs(x) >= 5e-7 else "0"


def _shape(s: Shape) -> str:
    n = _number
    if isinstance(s, Line):
        return f'<path d="M{n(s.x0)} {n(-s.y0)}L{n(s.x1)} {n(-s.y1)}"/>'
    if isinstance(s, Circle):
        return f'<circle cx="{n(s.x)}" cy="{n(-s.y)}" r="{n(s.radius)}"/>'
    if isinstance(s, Arc):
        # In pieces of at most a quarter turn: the middle of a half circle hangs on the last digit of its
        # ends.
        count = max(1, math.ceil((s.stop_deg - s.start_deg) / 90 - 1e-9))
        turns = [math.radians(s.start_deg + (s.stop_deg - s.start_deg) * i / count) for i in range(count + 1)]
        ends = [(n(s.x + s.radius * math.cos(t)), n(-s.y - s.radius * math.sin(t))) for t in turns]
        r = n(s.radius)
        return f'<path d="M{" ".join(ends[0])}{"".join(f"A{r} {r} 0 0 0 {x} {y}" for x, y in ends[1:])}"/>'
    return (
        f'<text x="{n(s.x)}" y="{n(-s.y)}" font-size="{n(s.height)}" fill="#000" '
        f'stroke="none">{words(s.text)}</text>'
    )


def _body(drawing: Drawing) -> str:
    layers: dict[str, list[str]] = {}
    for s in drawing.shapes:
        layers.setdefault(s.layer if not isinstance(s, Words) else "WORDS", []).append(_shape(s))
    out = []
    for name, drawn in layers.items():
        dash = f' stroke-dasharray="{_DASH[name]}"' if name in _DASH else ""
        out.append(
            f'<g id={quoteattr(name)} fill="none" stroke="#000" '
            f'stroke-width="{_WIDTH.get(name, 0.2)}"{dash} '
            f'font-family="sans-serif">{"".join(drawn)}</g>'
        )
    return "".join(out)


def svg(drawing: Drawing) -> str:
    """A drawing as one SVG at full size."""
    left, low, right, high = extent(drawing)
    x, y, w, h = left - MARGIN_MM, -high - MARGIN_MM, right - left + 2 * MARGIN_MM, high - low + 2 * MARGIN_MM
    n = _number
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{n(w)}mm" height="{n(h)}mm" viewBox="{n(x)} '
        f'{n(y)} {n(w)} {n(h)}">'
        f"<title>{words(drawing.name)}</title>{_body(drawing)}</svg>\n"
    )


def pages(drawing: Drawing, paper: str = "A4") -> list[str]:
    """A drawing at full size on as many sheets as it takes, each with a ruler to check the printer and
    crosses to join them.

    EntryError, before any sheet is laid out, for more than anybody would glue together.
    """
    wide, tall = PAPERS_MM[paper]
    field_w, field_h = wide - 2 * EDGE_MM, tall - 2 * EDGE_MM - 10
    left, low, right, high = extent(drawing)
    left, low, right, high = left - 3, low - 3, right + 3, high + 3
    columns = max(1, math.ceil((right - left - OVERLAP_MM) / (field_w - OVERLAP_MM)))
    rows = max(1, math.ceil((high - low - OVERLAP_MM) / (field_h - OVERLAP_MM)))
    if columns * rows > MOST_SHEETS:
        raise _too_many("sheets of paper", columns * rows, MOST_SHEETS, "sheets")
    body, out, n = _body(drawing), [], _number
    if columns * rows * len(body) > MOST_BYTES:
        raise _too_many(
            "lines on so many sheets", columns * rows * len(body) // 1_000_000, MOST_BYTES // 1_000_000, "MB"
        )
    for row in range(rows):
        for column in range(columns):
            x0, y0 = left + column * (field_w - OVERLAP_MM), -high + row * (field_h - OVERLAP_MM)
            number = row * columns + column + 1
            crosses = "".join(
                f'<path d="M{n(EDGE_MM + x - 3)} {n(EDGE_MM + y)}h6M{n(EDGE_MM + x)} '
                f'{n(EDGE_MM + y - 3)}v6"/>'
                for x in (OVERLAP_MM / 2, field_w - OVERLAP_MM / 2)
                for y in (OVERLAP_MM / 2, field_h - OVERLAP_MM / 2)
            )
            out.append(
                f'<svg xmlns="http://www.w3.org/2000/svg" width="{n(wide)}mm" height="{n(tall)}mm" '
                f'viewBox="0 0 {n(wide)} {n(tall)}">'
                f'<rect width="{n(wide)}" height="{n(tall)}" fill="#fff"/>'
                f'<svg x="{n(EDGE_MM)}" y="{n(EDGE_MM)}" width="{n(field_w)}" height="{n(field_h)}" '
                f'viewBox="{n(x0)} {n(y0)} {n(field_w)} {n(field_h)}">{body}</svg>'
                f'<g fill="none" stroke="#000" stroke-width="0.2"><rect x="{n(EDGE_MM)}" '
                f'y="{n(EDGE_MM)}" width="{n(field_w)}" height="{n(field_h)}" '
                f'stroke-dasharray="1 2"/>{crosses}{_ruler(tall)}</g>'
                f'<text x="{n(EDGE_MM + RULER_MM + 12)}" y="{n(tall - EDGE_MM)}" font-size="3.2" '
                f'font-family="sans-serif">'
                f"{words(drawing.name)}, full size. Sheet {number} of {rows * columns} (row "
                f"{row + 1}, column {column + 1}). "
                "Print at 100 %: the ruler must measure 100 mm.</text></svg>\n"
            )
    return out


def _too_many(what: str, value: int, limit: int, unit: str) -> EntryError:
    remedy = (
        "Take the DXF or SVG to a print shop, or print a part that fits: a bracket's hole pattern, a stack."
    )
    return EntryError(
        [
            problem(
                "what",
                f"takes too many {what} at full size",
                value=value,
                limit=limit,
                unit=unit,
                remedy=remedy,
            )
        ]
    )


def _ruler(tall: float) -> str:
    y, n = tall - EDGE_MM, _number
    ticks = "".join(
        f'<path d="M{n(EDGE_MM + i)} {n(y)}v-{4 if i % 10 == 0 else 2.5 if i % 5 == 0 else 1.5}"/>'
        for i in range(RULER_MM + 1)
    )
    return (
        f'<path d="M{n(EDGE_MM)} {n(y)}h{RULER_MM}"/>{ticks}<text x="{n(EDGE_MM + RULER_MM + 1)}" '
        f'y="{n(y)}" font-size="3" fill="#000" stroke="none" font-family="sans-serif">{RULER_MM} '
        f"mm</text>"
    )
