"""One design: evaluated, opened, drawn, fitted with belts, written out."""

from __future__ import annotations

import sqlite3
from collections.abc import AsyncIterator

from fastapi import Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse

from ... import catalog
from ...core.account.report import Report, report_json
from ...core.design.design import AxisDesign
from ...core.evaluation.evaluate import draw, evaluate, work_out
from ...core.fitting.plan import plan_drawing, plan_of
from ...core.fitting.taking import Taken, take
from ...core.geometry.scene import Scene, scenes_json
from ...core.ledger.long_work import as_json
from ...exchange.formats import CUT, format_for, written
from ...exchange.svg import pages
from ...store.trouble import told
from .. import models as m
from ..turns import BY_LINES, LINES, said_of
from .common import drawer_of, router, store_of


@router.post("/evaluate", response_model=Report)
def evaluate_design(design: AxisDesign) -> Response:
    """The whole report for a design, every result with its inputs; nothing is stored."""
    return Response(report_json(evaluate(design, catalog.profiles())), media_type="application/json")


@router.post("/edit", response_class=StreamingResponse, responses={200: {"model": m.EditLine, **BY_LINES}})
async def edit(request: Request, design: AxisDesign, belt: bool = False) -> Response:
    """What a page shows of a design after each edit, from one evaluation; nothing is stored.

    The first line holds the report, without what stands behind its results (see /open), and the drawings of
    the belts; with belt=true a second one follows with all that the Belt step settles before anything is cut,
    for which the drawer is read.
    """
    # Not in a worker thread: the hand-over would cost a good part of the few milliseconds that this takes.
    worst, runs = work_out(design, catalog.profiles())
    report = report_json(worst.report(runs), inputs=False)
    drawings = scenes_json(tuple(scene for _, scene in worst.drawings))
    first = b'{"report":%s,"drawings":%s}\n' % (report, drawings)
    if not belt:
        return Response(first, media_type=LINES)

    def plan() -> bytes:
        try:
            return b'{"plan":%s}\n' % as_json(plan_of(worst, drawer_of(request)))
        except sqlite3.Error as error:
            why = said_of(told(error, store_of(request).path))
        except Exception as error:
            why = said_of(error)
        return m.EditLine(failed=why).model_dump_json().encode() + b"\n"

    async def lines() -> AsyncIterator[bytes]:
        yield first
        yield await run_in_threadpool(plan)

    return StreamingResponse(lines(), media_type=LINES)


@router.post("/open")
def open_result(body: m.OpenBody) -> list[m.Quantity]:
    """Results of a design with all their inputs."""
    known = {q.key: q for q in evaluate(body.design, catalog.profiles()).results}
    return [known[k].opened() for k in body.keys if k in known]


@router.post("/path", response_model=tuple[Scene, ...])
async def path(design: AxisDesign) -> Response:
    """Only the drawings of a design's belts, as fast as a hand drags; nothing is stored."""
    return Response(scenes_json(draw(design, catalog.profiles())), media_type="application/json")


@router.post("/take")
def take_part(request: Request, body: m.TakeBody) -> Taken:
    """What taking a part of the drawer into a place of a design sets; nothing is stored."""
    return take(body.design, catalog.profiles(), drawer_of(request), body.at, body.key)


@router.post("/out")
def out(request: Request, body: m.OutBody) -> m.OutAnswer:
    """A drawing or the cut list as the text of a file, or a drawing as sheets to print at full size."""
    rows, profiles = drawer_of(request), catalog.profiles()
    if body.form == m.SHEETS:
        drawing = plan_drawing(body.design, profiles, rows, body.what)
        return m.OutAnswer(name=drawing.name, media="image/svg+xml", files=pages(drawing, body.paper))
    form = format_for(body.what, body.form)
    name = "cut-list" if body.what == CUT else body.what.replace(":", "-").replace(".", "-")
    return m.OutAnswer(
        name=f"{name}.{form.ending}",
        media=form.media,
        files=[written(body.design, profiles, rows, body.what, form)],
    )
