"""What a page begins with."""

from __future__ import annotations

from functools import lru_cache

from fastapi import Response

from ... import catalog
from ...core.choosing.beginning import asks
from ...core.design.design import design_schema
from ...core.design.layouts import LAYOUTS, Layout, begin
from ...core.evaluation.evaluate import evaluate
from ...core.fields.frames import FRAMES
from ...core.fitting.drawer import DATA, KINDS
from ...core.fitting.taking import TAKES
from ...core.ledger.formula import FORMULAS
from ...core.ledger.units import DIMENSIONS
from ...exchange.formats import CUT, FORMATS
from ...store import log
from .. import models as m
from .common import router

VERSION = "0.1.0"


@router.get("/health")
def health() -> dict[str, str]:
    """Answers when the program is ready."""
    return {"status": "ready", "version": VERSION}


@lru_cache(maxsize=1)
def _start() -> bytes:
    units = {
        k: m.UnitTable(
            base=d.base, factors=d.factors, metric=d.metric, imperial=d.imperial, pairs=dict(d.pairs)
        )
        for k, d in DIMENSIONS.items()
    }
    rows = [m.ProfileRow.model_validate(p, from_attributes=True) for p in catalog.profiles().values()]
    forms = [m.FormRow(key=f.key, name=f.name, of=f.of) for f in FORMATS.values()]
    answer = m.StartAnswer(
        version=VERSION,
        units=units,
        profiles=rows,
        design_schema=design_schema(),
        takes=TAKES,
        forms=forms,
        cut=CUT,
        frames={name: f.side_mm for name, f in FRAMES.items()},
        log_kinds=log.BY_HAND,
        drawer=m.DrawerWords(kinds=KINDS, data=DATA),
    )
    return answer.model_dump_json().encode()


@router.get("/start", response_model=m.StartAnswer)
def start() -> Response:
    """Units, belt profiles and the description of a design's fields; the same for the life of the program."""
    return Response(_start(), media_type="application/json")


@lru_cache(maxsize=1)
def _layouts() -> list[m.LayoutRow]:
    def row(found: Layout) -> m.LayoutRow:
        design = begin(found.key, found.name)
        report = evaluate(design, catalog.profiles())
        scene = report.stage_scenes[0] if found.key == "belt_reduction" else report.scene
        return m.LayoutRow(
            key=found.key,
            name=found.name,
            gives=found.gives,
            costs=found.costs,
            schools=found.schools,
            begin=found.begin,
            asks=list(asks(design)),
            scene=scene,
        )

    return [row(found) for found in LAYOUTS.values()]


@router.get("/layouts")
def layouts() -> list[m.LayoutRow]:
    """The layouts to begin from, each drawn to scale from its own first design."""
    return _layouts()


@router.get("/numbers")
def numbers() -> list[m.Formula]:
    """Every formula of the core with equation, units, range and source."""
    return list(FORMULAS.values())
