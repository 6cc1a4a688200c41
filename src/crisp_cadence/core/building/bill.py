"""What to buy, and what is still to spend."""

from __future__ import annotations

import math
from dataclasses import replace

from ..account.context import Context
from ..account.report import STEP_OF, BillLine, Rung
from ..account.verdicts import Target
from ..fields.axis import Axis
from ..fields.part import Bought, part_at
from ..formulas import prices
from ..ledger.amounts import said
from ..ledger.record import record
from ..parts.ends.contract import End
from ..parts.stages.contract import Stage, bought


@record
class Bill:
    """What to buy: its lines, what they cost, what of it is still to spend, how many lines of that stand at
    a typical price and how many have none; and the rung against the budget, where there is one.
    """

    lines: tuple[BillLine, ...]
    total: float
    spend: float
    typical: int
    unpriced: int
    money: Rung | None


def bill_of(ctx: Context, stages: list[Stage], end: End) -> Bill:
    """The bill of an axis; lines without a price are counted, never taken as free. Typical prices count
    times what the maker's currency and shops make of them.
    """
    motors = ctx.counts.motors
    lines = [_times(x, motors) for j, s in enumerate(stages) for x in s.bill(f"chain.{j}", ctx)]
    lines += end.bill(ctx)
    across = ctx.design.sides
    if across.kind == "cross shaft":
        of_shaft = f"⌀ {across.shaft_mm:g} × {across.width_mm:g} mm"
        typical = prices.cross_shaft_price(across.shaft_mm, across.width_mm)
        lines.append(bought(across.shaft, "Cross shaft and couplers", of_shaft, "sides.shaft", 1, typical))
    lines += _brake(ctx, motors)
    lines += [bought(e, "Extra", "", f"extras.{i}", e.quantity) for i, e in enumerate(ctx.design.extras)]
    lines = [_as_bought(_in_currency(line, ctx.design.aim.price_factor), ctx.design) for line in lines]
    total = math.fsum(b.total or 0 for b in lines)
    spend = math.fsum(b.to_spend or 0 for b in lines)
    unpriced = sum(b.total is None and b.to_buy for b in lines)
    typical = sum(b.typical and b.to_buy for b in lines)
    cost = ctx.book.put(
        "bill.spend",
        "Still to spend",
        spend,
        ctx.design.aim.currency,
        equation="Σ price of what is still to buy",
        source="the bill: what is neither here nor ordered",
        total=total,
    )
    budget, money = ctx.given("aim.budget"), None
    if budget.value is not None:
        money = Target(
            "money",
            "Money still to spend",
            cost,
            budget,
            1.0,
            ctx.design.aim.currency,
            True,
            STEP_OF["bill"],
            "bill",
            "aim.budget",
            "Take more from the drawer, or the cheaper part with room to spare.",
            False,
        ).judged()
    if unpriced:
        ctx.note(
            "build",
            "extras",
            f"{unpriced} part{'s' if unpriced > 1 else ''} on the bill "
            f"{'have' if unpriced > 1 else 'has'} no price yet; the total is too low by that.",
        )
    return Bill(tuple(lines), total, spend, typical, unpriced, money)


def _brake(ctx: Context, motors: int) -> list[BillLine]:
    """A brake on each motor's shaft, where one is asked for."""
    brake, lam = ctx.given("aim.brake_n"), ctx.drive.lam_motor
    if brake.value is None:
        return []
    torque = ctx.book.put(
        "brake.torque",
        "Torque of the brake on each motor's shaft",
        brake.value / (motors * lam.n * 1000),
        "N·m",
        equation="F/(n·λ)",
        source="statics; losses of the chain would help it and are not counted on",
        brake=brake,
        motors=motors,
        radians_per_mm=lam,
    )
    of_it = f"closes without power, {said(torque.n, 'N·m')}"
    return [bought(ctx.design.aim.brake, "Brake", of_it, "aim.brake", motors, prices.brake_price(torque.n))]


def _in_currency(line: BillLine, factor: float) -> BillLine:
    """A line at its typical price, rounded, in the maker's currency; others as they are."""
    if not line.typical or line.price_each is None:
        return line
    each = prices.rounded(line.price_each * factor)
    return replace(line, price_each=each, total=each * line.quantity)


def _as_bought(line: BillLine, design: Axis) -> BillLine:
    """A line as its part stands: when it was ordered and is due, and how many of it there are."""
    part: Bought = part_at(design, line.field)
    if not (part.ordered or part.got):
        return line
    return line.standing(part.in_stock, part.ordered, part.due, part.got)


def _times(line: BillLine, count: int) -> BillLine:
    if count == 1:
        return line
    return replace(
        line, quantity=line.quantity * count, total=None if line.total is None else line.total * count
    )
