"""Short ways to ask a report."""

from __future__ import annotations

import math

import numpy as np
from shapely.geometry import LineString

from crisp_cadence.core.account.report import Report, Rung
from crisp_cadence.core.geometry.path import Path
from crisp_cadence.core.ledger.quantity import Quantity


def result(report: Report, key: str) -> Quantity:
    return next(q for q in report.results if q.key == key)


def value(report: Report, key: str) -> float:
    found = result(report, key).value
    assert found is not None, f"{key} lacks {result(report, key).missing}"
    return found


def rung(report: Report, key: str) -> Rung:
    return next(r for r in report.ladder if r.key == key)


def outline(path: Path, fine: int = 4000) -> LineString:
    """The path as a fine polyline, from its straight pieces and wraps."""
    points = []
    count = len(path.rounds)
    for i, span in enumerate(path.spans):
        points += [(span.x0_mm, span.y0_mm), (span.x1_mm, span.y1_mm)]
        wheel, wrap = path.rounds[(i + 1) % count], path.wraps[(i + 1) % count]
        start = math.atan2(span.y1_mm - wheel.y_mm, span.x1_mm - wheel.x_mm)
        points += [
            (
                wheel.x_mm + wheel.radius_mm * math.cos(start + wheel.side * wrap * t),
                wheel.y_mm + wheel.radius_mm * math.sin(start + wheel.side * wrap * t),
            )
            for t in np.linspace(0, 1, fine)
        ]
    return LineString([*points, points[0]])
