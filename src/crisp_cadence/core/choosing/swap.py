"""One swap or step from a design as it stands: what it changes, and what it costs."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any, Literal

from ..design.design import AxisDesign
from ..fitting.drawer import Stock
from ..ledger.record import record

Kind = Literal["setting", "part", "make", "layout", "aim"]
MOST_OF_A_KIND = 80


@record
class Swap:
    """One change: its sentence, the field that tells of it, before and after in words, what it sets, and what
    it costs.

    `price` is what is still to pay, None where it is not known. A setting or a piece made in the shop costs
    nothing.
    """

    says: str
    field: str
    before: str
    after: str
    changes: dict[str, Any]
    price: float | None
    kind: Kind


def cost(row: Stock) -> float | None:
    """What is still to pay for a row; None where not even a typical price is known."""
    return 0.0 if row.quantity > 0 else row.typical if row.price is None else row.price


def total(*prices: float | None) -> float | None:
    """What is to pay together; None where one of them is not known."""
    return None if any(p is None for p in prices) else math.fsum(p or 0.0 for p in prices)


def setting(says: str, field: str, before: float, after: float, unit: str, kind: Kind = "setting") -> Swap:
    """One number set otherwise."""
    return Swap(
        says,
        field,
        f"{before:g} {unit}".strip(),
        f"{after:g} {unit}".strip(),
        {field: after},
        None if kind == "part" else 0.0,
        kind,
    )


def on_chain(design: AxisDesign, stages: Sequence[Any]) -> dict[str, Any]:
    """The chain with other stages after the motor."""
    return {
        "chain": [
            design.chain[0].model_dump(mode="json"),
            *(s if isinstance(s, dict) else s.model_dump(mode="json") for s in stages),
        ]
    }


def rows_of(columns: Mapping[str, Any]) -> list[dict[str, float]]:
    """Columns as rows."""
    names = list(columns)
    return [
        dict(zip(names, values, strict=True))
        for values in zip(*(columns[n].tolist() for n in names), strict=True)
    ]


def neighbours(sizes: Sequence[float], size: float, each: int = 2) -> list[Any]:
    """The next sizes below and above."""
    return [s for s in sizes if s < size][-each:] + [s for s in sizes if s > size][:each]
