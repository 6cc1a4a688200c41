"""One design: evaluated, opened, drawn, fitted with belts, written out."""

from __future__ import annotations

from fastapi import Request, Response

from ... import catalog
from ...core.account.report import Report, report_json
from ...core.design.design import AxisDesign
from ...core.evaluation.evaluate import draw, evaluate
from ...core.fitting.plan import plan_belts, plan_drawing, plan_json
from ...core.fitting.rows import BeltPlan
from ...core.fitting.taking import Taken, take
from ...core.geometry.scene import Scene, scenes_json
from ...exchange.formats import CUT, format_for, written
from ...exchange.svg import pages
from .. import models as m
from .common import drawer_of, router


@router.post("/evaluate", response_model=Report)
async def evaluate_design(design: AxisDesign, inputs: bool = True) -> Response:
    """The whole report for a design; nothing is stored. With inputs=false the inputs of each result are left
    out (see /open).
    """
    # Not in a worker thread: the hand-over would cost a good part of the few milliseconds that this takes.
    report = evaluate(design, catalog.profiles())
    return Response(report_json(report, inputs=inputs), media_type="application/json")


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


@router.post("/belt", response_model=BeltPlan)
def belt(request: Request, design: AxisDesign) -> Response:
    """Everything that the Belt step settles before anything is cut, from the design and the drawer."""
    return Response(
        plan_json(plan_belts(design, catalog.profiles(), drawer_of(request))), media_type="application/json"
    )


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
