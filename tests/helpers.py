"""Short ways to ask a report."""

from __future__ import annotations

from crisp_cadence.core.formula import Quantity
from crisp_cadence.core.report import Report, Rung


def result(report: Report, key: str) -> Quantity:
    return next(q for q in report.results if q.key == key)


def value(report: Report, key: str) -> float:
    found = result(report, key).value
    assert found is not None, f"{key} lacks {result(report, key).missing}"
    return found


def rung(report: Report, key: str) -> Rung:
    return next(r for r in report.ladder if r.key == key)
