"""A machine's bill as CSV: what was paid when, and what is still to buy."""

from __future__ import annotations

from ..core.machine.report import MachineReport
from .sheet import sheet

HEAD = ("day", "what", "axis", "state", "quantity", "unit", "price", "freight", "spare", "currency")


def bill_csv(report: MachineReport) -> str:
    """Payments by day, then every line that is neither here nor ordered; amounts with two places."""
    money, rows = report.money, list[tuple[object, ...]]()
    for p in money.days:
        spare = "spare" if p.spare else ""
        paid = (f"{p.price:.2f}", f"{p.freight:.2f}")
        rows.append((p.day, p.what, p.axis, "paid", None, "", *paid, spare, money.currency))
    for x in report.lines:
        if x.state == "wanted":
            price = None if x.to_spend is None else f"{x.to_spend:.2f}"
            state = "typical price" if x.typical else "to buy"
            left = x.quantity - x.came - x.coming
            rows.append(("", x.what, x.axis, state, left, x.unit, price, None, "", money.currency))
    return sheet(HEAD, rows)
