"""A spindle's V-belts in the same rows as toothed ones: their paths, stock lengths and grooves in line."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..evaluation.evaluate import Run
from ..formulas import belt
from ..ledger.amounts import said
from ..parts.ends.spindle import V_LINE_DEG, Spindle
from ..parts.ends.step_cones import motor_rpm
from .drawer import Stock, number, of_kind
from .rows import BeltRow, GroovedPlan, GroovedStock, LineRow, WheelRow

SHOWN = 9


def belt_rows(run: Run, end: Spindle) -> list[BeltRow]:
    """Both belts at the lowest speed, with the tension to set there."""
    out, now = [], end.at_speeds(run.ctx)[0]
    for (name, field, path), found in zip(end.grooved(run.ctx), (now.motor, now.cone), strict=True):
        pull = found.rest.value
        heights = {n: h for n, _, h, _ in end.lines(run.ctx)}
        wheels = tuple(
            WheelRow(
                r.name,
                "",
                r.field,
                "groove",
                0,
                r.radius_mm,
                r.x_mm,
                r.y_mm,
                math.degrees(w),
                None,
                "anticlockwise",
                None if pull is None else float(belt.shaft_load(pull, pull, w)),
                heights[r.name],
                s.length_mm,
                s.length_mm,
            )
            for r, w, s in zip(path.rounds, path.wraps, path.spans, strict=True)
        )
        cards = (
            f"1. With the middle pulley slack, lay the belt in the groove of the {path.rounds[0].name}.",
            f"2. Roll it onto the {path.rounds[1].name} by hand, supply locked off.",
            "3. Draw the middle pulley out; no twist.",
        )
        out.append(
            BeltRow(
                field, f"{name}, at {now.step.name}", True, path.length_mm, None, pull, wheels, cards, None
            )
        )
    return out


def stock_lengths(run: Run, end: Spindle, drawer: Sequence[Stock]) -> list[GroovedPlan]:
    """Stock lengths near each belt's, each with the speeds that it serves."""
    turns, out = motor_rpm(run.ctx.design), []
    for (name, field, _), made in zip(end.grooved(run.ctx), end.turned(turns), strict=True):
        own = field.rpartition(".")[2]
        now = float(getattr(end, own))
        rows = [
            (long, row)
            for row in of_kind(drawer, "v belt")
            if row.data.get("section") == end.section and (long := number(row, "length_mm")) is not None
        ]
        found = []
        for long, row in sorted(sorted(rows, key=lambda r: abs(r[0] - now))[:SHOWN], key=lambda r: r[0]):
            every = end.model_copy(update={own: long}).every(turns)
            served = [s for s in every if not s.says]
            turned = [s.first if own == "motor_belt_mm" else s.second for s in served]
            smallest = min((min(t.driver_mm, t.driven_mm) for t in turned), default=None)
            says = f"serves {len(served)} of {len(every)} speeds"
            if smallest is not None:
                says += f", smallest pulley {said(smallest, 'mm', '.1f')}"
            elif every:
                says += f": {every[0].says}"
            found.append(GroovedStock(long, smallest, row.quantity, row.price, says))
        diameters = tuple((t.driver_mm, t.driven_mm) for t in made if not t.says)
        out.append(GroovedPlan(field, name, now, tuple(found), diameters))
    return out


def line_rows(run: Run, end: Spindle) -> list[LineRow]:
    """The grooves against the motor's, or the first one whose height is known."""
    rows = end.lines(run.ctx)
    line = next((h for _, _, h, _ in rows if h is not None), None)
    out = []
    for name, field, height, span in rows:
        off = None if height is None or line is None else height - line
        allowed = span * math.tan(math.radians(V_LINE_DEG))
        inside = None if off is None else abs(off) <= allowed
        says = (
            "Enter the height of its groove to check it."
            if off is None
            else "in line"
            if inside
            else f"Shift it by {said(abs(off), 'mm', '.2f')} on its shaft."
        )
        change = {} if off is None or inside else {field: line}
        out.append(
            LineRow(
                "",
                field,
                name,
                height,
                height,
                10.0,
                (),
                off,
                allowed,
                inside,
                says,
                (),
                None,
                change,
                "",
                None,
            )
        )
    return out
