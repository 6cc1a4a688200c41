"""Rows of the drawer with which nothing can be put together: they are left out of every search, named and
counted.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from pydantic import BaseModel, ValidationError

from ..design.design import ENDS, STAGES, findings
from ..fields.belts import Pulley
from ..fields.driver import Driver
from ..ledger.record import record
from .drawer import DATA, Stock, number
from .parts import BOX_DATA, MOTOR_DATA, PULLEY_DATA

# By kind of row the part of a design that it becomes; a row's data of a field's name go into that field.
BECOMES: Mapping[str, type[BaseModel]] = {
    "stepper": STAGES["stepper"],
    "supply": Driver,
    "gearbox": STAGES["gearbox"],
    "closed belt": STAGES["closed_belt"],
    "coupler": STAGES["coupler"],
    "pulley": Pulley,
    "lead screw": ENDS["screw"],
    "rack": ENDS["rack"],
}
# Without these a search has nothing to count with.
NEEDED: Mapping[str, Sequence[str]] = {
    "stepper": MOTOR_DATA,
    "supply": ("supply_v",),
    "gearbox": BOX_DATA,
    "pulley": PULLEY_DATA,
}
MOST_NAMED = 20


@record
class LeftOut:
    """A row that no search uses, and why."""

    name: str
    kind: str
    why: str


def unused_since(row: Stock) -> str:
    """Why a row is used in no search; "" where it is.

    >>> unused_since(Stock("own:1", "supply", "Brick", {"supply_v": 24.0}, 1, None))
    ''
    >>> unused_since(Stock("own:2", "supply", "Brick", {}, 1, None))
    'its supply is not known'
    """
    part = BECOMES.get(row.kind)
    if part is None:
        return ""
    lacking = [n for n in NEEDED.get(row.kind, ()) if number(row, n) is None]
    if lacking:
        called = [DATA[n].says if n in DATA else n.rpartition("_")[0].replace("_", " ") for n in lacking]
        return f"its {', '.join(dict.fromkeys(called))} {'is' if len(lacking) == 1 else 'are'} not known"
    for name, value in row.data.items():
        if name in part.model_fields and value is not None and (why := _refused(part, name, value)):
            return why
    return ""


def _refused(part: type[BaseModel], name: str, value: Any) -> str:
    kind = {"kind": part.model_fields["kind"].default} if "kind" in part.model_fields else {}
    numeric = isinstance(value, (int, float)) and not isinstance(value, bool)
    whole = part.model_fields[name].annotation is int
    put = (round(value) if whole else float(value)) if numeric else value
    try:
        part.model_validate({**kind, name: put})
    except ValidationError as error:
        found = next((p for p in findings(error.errors(include_url=False)) if p.field == name), None)
        if found is not None:
            limit = f" ({found.limit} {found.unit})".replace(" )", ")") if found.limit else ""
            said = found.message.removeprefix("should be ")
            meant = f"is {value!r}, not {said}" if said != found.message else f"{value!r} {said}{limit}"
            title = part.model_fields[name].title or name
            return f"{title[0].lower()}{title[1:]} {meant}"
    return ""


def usable(drawer: Iterable[Stock]) -> list[Stock]:
    """The rows that a search can use."""
    return [row for row in drawer if not unused_since(row)]


def left_out(drawer: Iterable[Stock]) -> tuple[LeftOut, ...]:
    """The rows that no search uses."""
    return tuple(LeftOut(row.name, row.kind, why) for row in drawer if (why := unused_since(row)))
