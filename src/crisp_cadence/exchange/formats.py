"""Every format that a design's drawings and lists go out in: the one table that command line, API and page
read.

A new format is one function from what it writes to its text, and one row here.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any, Literal

from ..core.design.design import AxisDesign
from ..core.fitting.drawer import Stock
from ..core.fitting.plan import plan_belts, plan_drawing
from ..core.ledger.errors import EntryError, problem
from ..core.ledger.record import record
from .dxf import dxf
from .sheet import cut_list
from .svg import svg

CUT = "cut"  # the cut list, by the name under which it is asked for


@record
class Format:
    """One format: what it is called, its media type, the ending of its files, and what it is a format of."""

    key: str
    name: str
    media: str
    ending: str
    of: Literal["drawing", "list"]
    write: Callable[[Any], str]


FORMATS: Mapping[str, Format] = {
    f.key: f
    for f in (
        Format("svg", "SVG", "image/svg+xml", "svg", "drawing", svg),
        Format("dxf", "DXF", "image/vnd.dxf", "dxf", "drawing", dxf),
        Format("csv", "CSV", "text/csv", "csv", "list", cut_list),
    )
}


def format_for(what: str, form: str | None) -> Format:
    """The format asked for, or the first that goes with what is asked for; EntryError where they do not go
    together.
    """
    of = "list" if what == CUT else "drawing"
    fitting = [f for f in FORMATS.values() if f.of == of]
    found = fitting[0] if form is None else next((f for f in fitting if f.key == form), None)
    if found is None:
        limit = ", ".join(f.key for f in fitting)
        raise EntryError(
            [
                problem(
                    "form", f"is not a format for {what}", value=form, limit=limit, remedy="Take one of them."
                )
            ]
        )
    return found


def written(
    design: AxisDesign, profiles: Mapping[str, Any], drawer: Sequence[Stock], what: str, form: Format
) -> str:
    """A drawing or list of a design as the text of a file."""
    thing = (
        plan_belts(design, profiles, drawer) if what == CUT else plan_drawing(design, profiles, drawer, what)
    )
    return form.write(thing)
