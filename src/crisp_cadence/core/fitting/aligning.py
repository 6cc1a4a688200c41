"""The belt line of every belt: heights, steps, and the stack of pieces that brings an idler into line."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from ..checks import belt_line
from ..evaluation.evaluate import Run
from ..fields.belts import Idler, Pulley
from ..fields.part import part_at
from ..fields.screws import screw_name
from ..geometry.route import Laid
from ..ledger.amounts import said
from . import line
from .drawer import Stock, number, of_kind, screw_at_least
from .rows import LineRow, StackPiece

LINE_TOLERANCE_MM = 0.1


def datum(run: Run, laid: Sequence[Laid]) -> tuple[str, dict[str, float]]:
    """Words for the height that every belt is brought to, and that height by belt."""
    target: dict[str, float] = {}
    for x in laid:
        known = [(r.part, belt_line.height_of(part_at(run.design, r.part))) for r in x.near.rounds]
        heights = [(p, h) for p, h in known if h is not None]
        drive = next((h for p, h in heights if isinstance(part_at(run.design, p), Pulley)), None)
        if heights:
            target[x.at] = drive if drive is not None else heights[0][1]
    says = (
        "The drive pulley's belt centre is the line; heights are above a datum of your choice, the "
        "plate or the rail's face."
        if target
        else ""
    )
    return says, target


def line_rows(run: Run, laid: Sequence[Laid], drawer: Sequence[Stock]) -> list[LineRow]:
    """Every part of every belt once: its height, how far it is off the line, and how it comes into line."""
    _, targets = datum(run, laid)
    seen: set[str] = set()
    out = []
    limit = math.tan(math.radians(run.design.assumptions.tilt_limit))
    for x in laid:
        for i, round_ in enumerate(x.near.rounds):
            if round_.part in seen:
                continue
            seen.add(round_.part)
            spans = [
                s.length_mm
                for path in (x.near, x.far)
                for k, s in enumerate(path.spans)
                if k in (i, (i - 1) % len(x.near.rounds))
            ]
            out.append(_row(run, round_.name, round_.part, targets.get(x.at), limit * min(spans), drawer))
    return out


def _row(
    run: Run, name: str, at: str, target: float | None, allowed: float, drawer: Sequence[Stock]
) -> LineRow:
    part = part_at(run.design, at)
    height = belt_line.height_of(part)
    off = None if height is None or target is None else height - target
    field = f"{at}.{'seat_mm' if isinstance(part, (Pulley, Idler)) else 'line_mm'}"
    seat = part.line_mm if not isinstance(part, (Pulley, Idler)) else part.seat_mm
    width = (
        part.face_mm
        if isinstance(part, Pulley)
        else part.width_mm
        if isinstance(part, Idler)
        else run.design.end.belt.width_mm  # type: ignore[attr-defined]
    )
    inside = None if off is None else abs(off) <= max(allowed, 1e-9)
    if not isinstance(part, Idler):
        change: dict[str, Any] = {}
        if off is None:
            says = (
                "Enter the height of its seat to check it."
                if seat is None
                else "The line's own height is not known yet."
            )
        elif inside:
            says = "this is the line" if isinstance(part, Pulley) and abs(off) < 1e-9 else "in line"
        elif isinstance(part, Pulley):
            says = (
                f"Slide it {said(abs(off), 'mm', '.2f')} {'towards' if off > 0 else 'away from'} its seat "
                f"along the shaft."
            )
            change = {f"{at}.overhang_mm": part.overhang_mm - off}
        else:
            says = f"{'Lower' if off > 0 else 'Raise'} the clamp by {said(abs(off), 'mm', '.2f')}."
            change = {field: target}
        return LineRow(
            at, field, name, height, seat, width, (), off, allowed, inside, says, (), None, change, "", None
        )
    now = tuple(
        StackPiece(p.label or f"{p.thickness_mm:g} mm", p.thickness_mm, p.quantity, p.drawer_key, p.price)
        for p in part.stack
    )
    says, proposed, sum_mm, change = _stack(part, at, target, off, inside, allowed, drawer)
    height_of_stack = sum_mm if sum_mm is not None else belt_line.stack_height(part)
    need = line.axle_screw(part.plate_mm, height_of_stack, part.width_mm, part.axle_mm)
    screw = screw_at_least(drawer, part.axle_mm, need)
    return LineRow(
        at,
        field,
        name,
        height,
        seat,
        width,
        now,
        off,
        allowed,
        inside,
        says,
        proposed,
        sum_mm,
        change,
        screw.name
        if screw is not None
        else f"none long enough in the list: {screw_name(part.axle_mm)}, at least "
        f"{said(math.ceil(need), 'mm')}",
        need,
    )


def _stack(
    part: Idler,
    at: str,
    target: float | None,
    off: float | None,
    inside: bool | None,
    allowed: float,
    drawer: Sequence[Stock],
) -> tuple[str, tuple[StackPiece, ...], float | None, dict[str, Any]]:
    if part.seat_mm is None or target is None or off is None:
        return (
            f"Enter the height of "
            f"{'its seat to check it' if part.seat_mm is None else 'the drive pulley, which is the line'}.",
            (),
            None,
            {},
        )
    if inside and abs(off) <= LINE_TOLERANCE_MM:
        return "in line", (), None, {}
    wanted = target - part.seat_mm - part.width_mm / 2
    if wanted < -LINE_TOLERANCE_MM:
        return (
            f"Its seat is {said(-wanted, 'mm', '.2f')} too high even with nothing under it: lower the "
            "seat, or "
            f"lift the drive pulley.",
            (),
            None,
            {},
        )
    shims = _shims(part, drawer)
    if not shims:
        return (
            f"Nothing in the drawer goes on an axle of {said(part.axle_mm, 'mm')}: "
            f"{said(wanted, 'mm', '.2f')} of "
            f"washers are wanted.",
            (),
            None,
            {},
        )
    found = line.fewest_pieces(round(max(wanted, 0.0), 3), shims, LINE_TOLERANCE_MM) or line.fewest_pieces(
        round(max(wanted, 0.0), 3), shims, max(min(allowed, 1.0), LINE_TOLERANCE_MM)
    )
    if found is None:
        return (
            f"What lies in the drawer does not add up to {said(wanted, 'mm', '.2f')} within "
            f"{said(max(min(allowed, 1.0), LINE_TOLERANCE_MM), 'mm', '.2f')}: add washers or a spacer.",
            (),
            None,
            {},
        )
    pieces = tuple(
        StackPiece(s.name, s.thickness_mm, n, None if s.key.startswith("here:") else s.key, s.price)
        for s, n in found.pieces
    )
    listed = [
        {
            "label": p.label,
            "thickness_mm": p.thickness_mm,
            "quantity": p.quantity,
            "drawer_key": p.drawer_key,
            "price": p.price,
            "in_stock": True,
        }
        for p in pieces
    ]
    verb = (
        "in line, and nearer still"
        if inside
        else f"{said(abs(off), 'mm', '.2f')} too {'high' if off > 0 else 'low'}"
    )
    says = (
        f"{verb} with {found.count} piece{'s' if found.count != 1 else ''} of "
        f"{said(found.height_mm, 'mm', '.2f')}, off by {said(abs(found.error_mm), 'mm', '.2f')}."
    )
    return says, pieces, found.height_mm, {f"{at}.stack": listed}


def _shims(part: Idler, drawer: Sequence[Stock]) -> list[line.Shim]:
    """What goes on the axle: pieces already there, and washers, nuts and spacers of the drawer."""
    out: dict[str, line.Shim] = {}
    for kind in ("washer", "spacer", "nut"):
        for row in of_kind(drawer, kind):
            hole, thick = number(row, "diameter_mm"), number(row, "thickness_mm")
            if (
                row.quantity > 0
                and hole is not None
                and thick is not None
                and 0 <= hole - part.axle_mm + 0.05 < 0.8
            ):
                out[row.key] = line.Shim(row.key, row.name, thick, row.quantity, row.price)
    for i, piece in enumerate(part.stack):
        key = piece.drawer_key if piece.drawer_key in out else f"here:{i}"
        known = out.get(key or "")
        if known is not None and abs(known.thickness_mm - piece.thickness_mm) < 1e-9:
            out[known.key] = line.Shim(
                known.key, known.name, known.thickness_mm, known.quantity + piece.quantity, known.price
            )
        else:
            out[f"here:{i}"] = line.Shim(
                f"here:{i}",
                piece.label or "piece under it now",
                piece.thickness_mm,
                piece.quantity,
                piece.price,
            )
    return list(out.values())
