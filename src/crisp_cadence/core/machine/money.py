"""What a machine costs: what was paid when, what is still to spend, by axis and in all; to the cent."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from decimal import ROUND_HALF_UP, Decimal
from itertools import accumulate
from typing import Literal

from ..account.report import BillLine, PlannedStep, enough
from ..ledger.record import record
from .design import Purchase
from .work import NOTHING, Axes, by_line

CENT = Decimal("0.01")
State = Literal["here", "checked", "arrived", "due", "ordered", "wanted"]


def cents(amount: float) -> Decimal:
    """An amount to the cent, halves away from nothing.

    >>> cents(2.675), cents(0.1) + cents(0.2)
    (Decimal('2.68'), Decimal('0.30'))
    """
    return Decimal(repr(amount)).quantize(CENT, ROUND_HALF_UP)


def _exact(amount: float) -> Decimal:
    return Decimal(repr(amount))


@record
class Paid:
    """What was paid on one day for one thing, and what of it falls to an axis (empty where several share it
    or none).
    """

    day: str
    what: str
    axis: str
    price: float
    freight: float
    spare: bool
    sum_so_far: float


@record
class Sum:
    """What one axis (or the machine itself) costs: paid, and what is still to spend."""

    axis: str
    name: str
    paid: float
    to_spend: float
    in_drawer: float


@record
class MachineLine:
    """A line of a bill in the machine's order list: how many are wanted, came and are on their way, what is
    still to spend on it (`so_far` with all that are to be ordered before it), how it stands, and the first
    step that is not done and needs it.
    """

    line: str
    axis: str
    what: str
    detail: str
    quantity: float
    unit: str
    total: float | None
    typical: bool
    came: float
    coming: float
    to_spend: float | None
    state: State
    ordered: str
    due: str
    late: bool
    for_step: str
    so_far: float | None = None


@record
class Money:
    """One sum of the machine: what was paid by day, each axis' part, the budget against it."""

    currency: str
    days: tuple[Paid, ...]
    sums: tuple[Sum, ...]
    paid: float
    to_spend: float
    unpriced: int
    typical: int
    budget: float | None
    left: float | None


def paid_days(bought: Iterable[Purchase], axes: Axes) -> tuple[Paid, ...]:
    """Every payment, oldest first, with the sum so far; what is not ordered yet is not paid."""
    out, sum_so_far = [], Decimal(0)
    for p in sorted(bought, key=lambda p: p.paid or p.ordered):
        day = p.paid or p.ordered
        if not day:
            continue
        of = {s.line.partition(":")[0] for s in p.shares}
        axis = of.pop() if len(of) == 1 else ""
        sum_so_far += cents(p.price) + cents(p.freight)
        out.append(
            Paid(
                day,
                p.what,
                axes.name(axis) if axis in axes.axes else "",
                float(cents(p.price)),
                float(cents(p.freight)),
                p.spare,
                float(sum_so_far),
            )
        )
    return tuple(out)


def _parts(p: Purchase, worth: dict[str, BillLine]) -> dict[str, Decimal]:
    """What of a purchase falls to each axis: by what its lines cost, else by how many; the last cent to the
    largest part. What goes to no line stays with the machine.
    """
    whole = cents(p.price) + cents(p.freight)
    weights: dict[str, float] = {}
    for s in p.shares:
        line = worth.get(s.line)
        each = line.price_each if line is not None and line.price_each else 1.0
        axis = s.line.partition(":")[0]
        weights[axis] = weights.get(axis, 0.0) + each * s.quantity
    total = sum(weights.values())
    if not total:
        return {"": whole}
    parts = {
        axis: (whole * Decimal(repr(w)) / Decimal(repr(total))).quantize(CENT, ROUND_HALF_UP)
        for axis, w in weights.items()
    }
    largest = max(parts, key=lambda a: (parts[a], a))
    parts[largest] += whole - sum(parts.values(), Decimal(0))
    return parts


def money_of(axes: Axes) -> Money:
    """The machine's money: what was paid, and of what is neither here nor ordered what it will cost."""
    plan = axes.machine
    worth = {b.field: b for b in axes.lines}
    brought = by_line(plan.bought)
    paid: dict[str, Decimal] = {}
    for p in plan.bought:
        if p.paid or p.ordered:
            for axis, part in _parts(p, worth).items():
                paid[axis] = paid.get(axis, Decimal(0)) + part
    to_spend: dict[str, Decimal] = {}
    drawer: dict[str, Decimal] = {}
    unpriced = typical = 0
    for b in axes.lines:
        axis = b.field.partition(":")[0]
        if b.in_stock and b.field not in brought:
            drawer[axis] = drawer.get(axis, Decimal(0)) + _exact(b.total or 0.0)
        elif b.to_buy:
            unpriced += b.total is None
            typical += b.typical
            to_spend[axis] = to_spend.get(axis, Decimal(0)) + _exact(b.to_spend or 0.0)
    # As on its own screens each axis' sum is rounded once; the machine's is the sum of what they show.
    to_spend = {axis: cents(float(amount)) for axis, amount in to_spend.items()}
    drawer = {axis: cents(float(amount)) for axis, amount in drawer.items()}
    names = {key: axes.name(key) for key in axes.runs} | {"": "The machine itself"}
    sums = tuple(
        Sum(
            key,
            name,
            float(paid.get(key, Decimal(0))),
            float(to_spend.get(key, Decimal(0))),
            float(drawer.get(key, Decimal(0))),
        )
        for key, name in names.items()
        if key or paid.get("")
    )
    all_paid, all_left = sum(paid.values(), Decimal(0)), sum(to_spend.values(), Decimal(0))
    budget = plan.budget
    return Money(
        plan.currency,
        paid_days(plan.bought, axes),
        sums,
        float(all_paid),
        float(all_left),
        unpriced,
        typical,
        budget,
        None if budget is None else float(cents(budget) - all_paid - all_left),
    )


def order_list(axes: Axes, work: Iterable[PlannedStep], today: str) -> tuple[MachineLine, ...]:
    """Every line of every bill, what holds up the earliest step first, then what is on its way, then what is
    here.
    """
    needs = {step.key: step.needs for step in axes.steps}
    first: dict[str, tuple[int, str]] = {}
    for place, step in enumerate(work):
        for line in needs[step.key] if step.now != "done" else ():
            first.setdefault(line, (place, step.key))
    brought = by_line(axes.machine.bought)
    out = []
    for b in axes.lines:
        key = b.field
        mine = brought.get(key, NOTHING)
        state: State
        if b.in_stock:
            came = enough(mine.came, b.quantity)
            state = "here" if not came else "checked" if mine.checked else "arrived"
        else:
            state = "wanted" if b.to_buy else "due" if b.due else "ordered"
        out.append(
            MachineLine(
                key,
                axes.name(key.partition(":")[0]),
                b.what,
                b.detail,
                b.quantity,
                b.unit,
                b.total,
                b.typical,
                mine.came,
                mine.asked - mine.came,
                b.to_spend,
                state,
                b.ordered,
                b.due,
                bool(b.due) and b.due < today,
                first.get(key, (0, ""))[1],
            )
        )
    rank = {"wanted": 0, "ordered": 1, "due": 1, "arrived": 2, "checked": 3, "here": 3}
    last = len(needs)
    out.sort(key=lambda x: (rank[x.state], first.get(x.line, (last, ""))[0], x.due, x.axis))
    sums = accumulate(_exact(x.to_spend or 0.0) for x in out)
    return tuple(
        replace(x, so_far=float(cents(float(s)))) if x.state == "wanted" else x
        for x, s in zip(out, sums, strict=True)
    )
