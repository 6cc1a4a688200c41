"""Routes: each one takes a typed request, asks core or store, and gives a typed answer."""

from __future__ import annotations

import logging
from datetime import UTC, datetime
from functools import lru_cache
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse

from .. import catalog
from ..core.account.report import Report, report_json
from ..core.choosing.find import answer_json, searching
from ..core.choosing.tries import changes_json, trying
from ..core.choosing.ways import ways, ways_json
from ..core.choosing.why import Options, Why, options, why_not
from ..core.design.design import AxisDesign, design_schema, dump_design, parse_design
from ..core.design.layouts import LAYOUTS, Layout, begin
from ..core.design.riding import on_its_own
from ..core.evaluation.evaluate import draw, evaluate
from ..core.fields.frames import FRAMES
from ..core.fitting.drawer import DATA, KINDS, Stock
from ..core.fitting.plan import plan_belts, plan_drawing, plan_json
from ..core.fitting.rows import BeltPlan
from ..core.fitting.taking import TAKES, Taken, take
from ..core.fitting.unknown import UnknownMotor, unknown_motor
from ..core.geometry.scene import Scene, scenes_json
from ..core.ledger.errors import EntryError, problem
from ..core.ledger.formula import FORMULAS
from ..core.ledger.units import DIMENSIONS
from ..core.tuning.reading import Calibration, TensionAnswer, calibrate, read_tension
from ..exchange.drawer import Preview, drawer_csv, preview
from ..exchange.formats import CUT, FORMATS, format_for, written
from ..exchange.svg import pages
from ..store import Store, axes, drawer, history, log
from ..store.rescue import Rescued, rescue
from . import models as m
from .shelf import Shelf
from .turns import line_by_line

_log = logging.getLogger(__name__)
VERSION = "0.1.0"
router = APIRouter(responses={c: {"model": m.ErrorAnswer} for c in (404, 409, 413, 422)})


def _store(request: Request) -> Store:
    store: Store = request.app.state.store
    return store


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")


@router.get("/health")
def health() -> dict[str, str]:
    """Answers when the program is ready."""
    return {"status": "ready", "version": VERSION}


@lru_cache(maxsize=1)
def _start() -> bytes:
    units = {
        k: m.UnitTable(base=d.base, factors=d.factors, metric=d.metric, imperial=d.imperial)
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
        report = evaluate(begin(found.key, found.name), catalog.profiles())
        scene = report.stage_scenes[0] if found.key == "belt_reduction" else report.scene
        return m.LayoutRow(
            key=found.key,
            name=found.name,
            gives=found.gives,
            costs=found.costs,
            schools=found.schools,
            begin=found.begin,
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


@router.post(
    "/search",
    response_class=StreamingResponse,
    responses={200: {"model": m.SearchLine, "description": "One line of JSON after another"}},
)
async def search_drawer(request: Request, body: m.SearchBody) -> Response:
    """Every combination of the drawer's parts for this aim, checked on the whole ladder; nothing is stored.

    Answers line by line: how much is done, then the answer. Whoever hangs up stops the search.
    """
    return await line_by_line(
        request.app.state.turns,
        lambda: searching(body.design, catalog.profiles(), _drawer(request), body.scope, body.reductions),
        answer_json,
    )


@router.post(
    "/change",
    response_class=StreamingResponse,
    responses={200: {"model": m.ChangeLine, "description": "One line of JSON after another"}},
)
async def one_change(request: Request, body: m.ChangeBody) -> Response:
    """Every single change to a design worked out whole, and the cheapest that mends it, line by line as a
    search answers.
    """
    return await line_by_line(
        request.app.state.turns,
        lambda: trying(body.design, catalog.profiles(), _drawer(request)),
        changes_json,
    )


@router.post(
    "/ways",
    response_class=StreamingResponse,
    responses={200: {"model": m.WaysLine, "description": "One line of JSON after another"}},
)
async def other_ways(request: Request, body: m.ChangeBody) -> Response:
    """The same aim by belt, screw and rack, with the cheapest parts found for each, line by line as a search
    answers.
    """
    return await line_by_line(
        request.app.state.turns, lambda: ways(body.design, catalog.profiles(), _drawer(request)), ways_json
    )


@router.post("/search/options")
def search_options(request: Request, body: m.OptionsBody) -> Options:
    """What a combination can be put together from, by name."""
    return options(body.design, catalog.profiles(), _drawer(request), body.scope)


@router.post("/search/why")
def search_why(request: Request, body: m.WhyBody) -> Why:
    """One combination worked out whole: which rung it fails at and by how much."""
    return why_not(
        body.design,
        catalog.profiles(),
        _drawer(request),
        body.motor,
        body.stages,
        body.belt,
        body.microsteps,
        body.scope,
    )


@router.post("/take")
def take_part(request: Request, body: m.TakeBody) -> Taken:
    """What taking a part of the drawer into a place of a design sets; nothing is stored."""
    return take(body.design, catalog.profiles(), _drawer(request), body.at, body.key)


# ---- belt --------------------------------------------------------------------------------------------------


def _drawer(request: Request) -> list[Stock]:
    return [
        Stock(r.key, r.kind, r.name, r.data, r.quantity, r.price, r.source_kind, r.source)
        for r in drawer.rows(_store(request), catalog.parts())
    ]


@router.post("/belt", response_model=BeltPlan)
def belt(request: Request, design: AxisDesign) -> Response:
    """Everything that the Belt step settles before anything is cut, from the design and the drawer."""
    return Response(
        plan_json(plan_belts(design, catalog.profiles(), _drawer(request))), media_type="application/json"
    )


@router.post("/out")
def out(request: Request, body: m.OutBody) -> m.OutAnswer:
    """A drawing or the cut list as the text of a file, or a drawing as sheets to print at full size."""
    rows, profiles = _drawer(request), catalog.profiles()
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


# ---- shelf -------------------------------------------------------------------------------------------------


@router.get("/shelf", response_model=list[m.ShelfMachine])
def shelf(request: Request) -> Response:
    """The machines, each with its axes as one line."""
    kept: Shelf = request.app.state.shelf
    return Response(kept.as_json(), media_type="application/json")


@router.get("/shelf/off")
def off_shelf(request: Request) -> list[m.Off]:
    """Machines and axes that were taken off the shelf, newest first; each can be put back."""
    return axes.off_shelf(_store(request))


@router.get("/store")
def store_state(request: Request) -> m.StoreAnswer:
    """Whether the data file takes saves."""
    store = _store(request)
    found, copy = store.state(), store.last_copy()
    held = history.size(store) if found is None else history.Size(store.bytes_on_disk(), 0)
    return m.StoreAnswer(
        file=str(store.path),
        cause=found.cause if found else None,
        says=str(found or ""),
        last_copy=copy.name if copy else "",
        bytes=held.bytes,
        revisions=held.revisions,
    )


@router.get("/store/thin")
def would_thin(request: Request, days: m.Days = 30) -> m.Thinned:
    """What thinning would take away: of revisions older than so many days, all but the last of each day, the
    first, and what is pointed to.
    """
    return history.would_thin(_store(request), days, _now())


@router.post("/store/thin")
def thin(request: Request, body: m.ThinBody) -> m.Thinned:
    """Thin out old revisions, after a copy of the file was set aside. Designs as they stand are never
    touched.
    """
    return history.thin(_store(request), body.days, _now())


@router.post("/store/rescue")
def rescue_store(request: Request) -> Rescued:
    """Put a sound file in the place of one that is damaged or has gone, with all that can still be read."""
    return rescue(_store(request))


@router.post("/machines", status_code=201)
def add_machine(request: Request, body: m.MachineBody) -> m.IdAnswer:
    return m.IdAnswer(id=axes.add_machine(_store(request), body.name, body.note, _now()))


@router.put("/machines/{machine_id}")
def rename_machine(request: Request, machine_id: m.Id, body: m.RenameBody) -> m.VersionAnswer:
    """Change a machine's name and note on top of a version; 409 when another window was faster."""
    return m.VersionAnswer(
        version=axes.rename_machine(_store(request), machine_id, body.base_version, body.name, body.note)
    )


@router.delete("/machines/{machine_id}", status_code=204)
def remove_machine(request: Request, machine_id: m.Id) -> None:
    """Take a machine off the shelf; it can be put back."""
    axes.set_machine_removed(_store(request), machine_id, _now())


@router.post("/machines/{machine_id}/back", status_code=204)
def put_machine_back(request: Request, machine_id: m.Id) -> None:
    axes.set_machine_removed(_store(request), machine_id, None)


@router.post("/machines/{machine_id}/axes", status_code=201)
def add_axis(request: Request, machine_id: m.Id, body: m.NewAxisBody) -> m.IdAnswer:
    return m.IdAnswer(id=axes.add_axis(_store(request), machine_id, begin(body.layout, body.name), _now()))


@router.post(
    "/machines/{machine_id}/import",
    status_code=201,
    openapi_extra={"requestBody": {"content": {"application/json": {}}, "required": True}},
)
async def import_axis(request: Request, machine_id: m.Id) -> m.IdAnswer:
    """Add an axis from the text of a design file, read by the same code as the command line's files."""
    text = await request.body()

    def add() -> m.IdAnswer:  # in a thread of its own: a lock of another program holds up no other answer
        return m.IdAnswer(
            id=axes.add_axis(_store(request), machine_id, on_its_own(parse_design(text)), _now())
        )

    return await run_in_threadpool(add)


# ---- one axis ----------------------------------------------------------------------------------------------


def _axis(store: Store, axis_id: str) -> m.AxisAnswer:
    saved = axes.get_axis(store, axis_id)
    others = [m.Neighbour(id=i, name=n) for i, n in axes.neighbours(store, axis_id)]
    return m.AxisAnswer(
        id=saved.id,
        name=saved.name,
        machine_id=saved.machine_id,
        machine=saved.machine,
        version=saved.version,
        saved_at=saved.saved_at,
        design=saved.design,
        problems=list(saved.problems),
        rides_on=saved.rides_on,
        may_ride_on=others,
    )


@router.get("/axes/{axis_id}")
def get_axis(request: Request, axis_id: m.Id) -> m.AxisAnswer:
    return _axis(_store(request), axis_id)


@router.put("/axes/{axis_id}")
def save_axis(request: Request, axis_id: m.Id, body: m.SaveBody) -> m.SavedAnswer:
    """Save on top of a version; 409 when another window was faster."""
    now = _now()
    return m.SavedAnswer(
        version=axes.save(_store(request), axis_id, body.base_version, body.design, now, body.why),
        saved_at=now,
    )


@router.put("/axes/{axis_id}/rides")
def ride(request: Request, axis_id: m.Id, body: m.RidesBody) -> m.AxisAnswer:
    """Say on which axis of its machine an axis rides, or on none."""
    axes.set_rides_on(_store(request), axis_id, body.on)
    return _axis(_store(request), axis_id)


@router.delete("/axes/{axis_id}", status_code=204)
def remove_axis(request: Request, axis_id: m.Id) -> None:
    axes.remove_axis(_store(request), axis_id, _now())


@router.post("/axes/{axis_id}/back")
def put_axis_back(request: Request, axis_id: m.Id) -> m.BackAnswer:
    """Put an axis back on the shelf; it rides on none where what it rode on cannot carry it any more."""
    return m.BackAnswer(rides_on=axes.put_axis_back(_store(request), axis_id))


@router.get("/axes/{axis_id}/file")
def axis_file(request: Request, axis_id: m.Id) -> Response:
    """The design as a file; one that cannot be read goes out as it is stored."""
    saved = axes.get_axis(_store(request), axis_id)
    text = saved.text if saved.design is None else dump_design(saved.design)
    return Response(
        text,
        media_type="application/json",
        headers={"content-disposition": f'attachment; filename="axis-{axis_id}.json"'},
    )


@router.get("/axes/{axis_id}/revisions")
def revisions(
    request: Request,
    axis_id: m.Id,
    before: Annotated[int | None, Query(ge=1, le=10**9)] = None,
    most: Annotated[int, Query(ge=1, le=500)] = 100,
) -> list[m.Revision]:
    """Revisions, newest first: `most` of those before a number, or of all."""
    return axes.revisions(_store(request), axis_id, before, most)


@router.get("/axes/{axis_id}/revisions/{number}")
def revision(request: Request, axis_id: m.Id, number: int) -> AxisDesign:
    """The design as it stood at a revision."""
    return axes.revision_design(_store(request), axis_id, number)


@router.post("/axes/{axis_id}/restore")
def restore(request: Request, axis_id: m.Id, body: m.RestoreBody) -> m.AxisAnswer:
    """Make an earlier revision the newest one; nothing in between is lost."""
    store = _store(request)
    design = axes.revision_design(store, axis_id, body.number)
    axes.save(store, axis_id, body.base_version, design, _now(), f"back to revision {body.number}")
    return _axis(store, axis_id)


# ---- tension and log ---------------------------------------------------------------------------------------


@router.post("/tension")
def tension(body: m.TensionBody) -> TensionAnswer:
    """What a pluck or a push says of the tension; nothing is stored."""
    return read_tension(body.design, catalog.profiles(), body.reading)


@router.post("/calibrate")
def calibrate_steps(body: m.CalibrateBody) -> Calibration:
    """Steps per millimetre from measured moves; nothing is stored."""
    return calibrate(body.steps_mm, body.commanded_mm, body.measured_mm)


@router.get("/axes/{axis_id}/log")
def log_entries(request: Request, axis_id: m.Id) -> list[m.LogEntry]:
    return log.entries(_store(request), axis_id)


@router.post("/axes/{axis_id}/log", status_code=201)
def add_log(request: Request, axis_id: m.Id, body: m.LogBody) -> m.IdAnswer:
    """Write an entry down; a tension reading is worked out with the design as it stands."""
    store = _store(request)
    try:
        datetime.strptime(body.on_date, "%Y-%m-%d")
    except ValueError:
        raise EntryError(
            [
                problem(
                    "on_date",
                    "is not a day of the calendar",
                    value=body.on_date,
                    limit="YYYY-MM-DD",
                    remedy="Enter a real day.",
                )
            ]
        ) from None
    reading: dict[str, Any] | None = None
    if body.reading is not None:
        answer = read_tension(axes.get_axis(store, axis_id).whole(), catalog.profiles(), body.reading)
        reading = log.kept(body.reading, answer)
    if reading is None and not body.says.strip() and body.cost is None:
        raise EntryError(
            [
                problem(
                    "says",
                    "is empty, and there is neither a cost nor a reading",
                    remedy="Write a line, or add what it cost or what you measured.",
                )
            ]
        )
    return m.IdAnswer(
        id=log.add(store, axis_id, body.on_date, body.kind, body.says, body.cost, reading, _now())
    )


@router.delete("/axes/{axis_id}/log/{entry_id}", status_code=204)
def remove_log(request: Request, axis_id: m.Id, entry_id: m.Id) -> None:
    log.remove(_store(request), axis_id, entry_id)


# ---- drawer ------------------------------------------------------------------------------------------------


@router.get("/drawer")
def drawer_rows(request: Request) -> list[m.DrawerRow]:
    return drawer.rows(_store(request), catalog.parts())


@router.get("/drawer/out")
def taken_out(request: Request) -> list[m.DrawerRow]:
    """Rows that were taken out of the drawer; each can be brought back."""
    return [r for r in drawer.every_row(_store(request), catalog.parts()) if r.out]


@router.post("/drawer/out")
def take_out(request: Request, body: m.KeysBody) -> m.CountAnswer:
    """Take rows out of the drawer, all of them or none: they are offered and counted no more, until they are
    brought back.
    """
    return m.CountAnswer(count=drawer.set_out(_store(request), catalog.parts(), body.keys, _now()))


@router.post("/drawer/back")
def bring_back(request: Request, body: m.KeysBody) -> m.CountAnswer:
    """Bring rows back into the drawer, all of them or none, with the quantity and price that they had."""
    return m.CountAnswer(count=drawer.set_out(_store(request), catalog.parts(), body.keys, None))


@router.get("/drawer/intakes")
def intakes(request: Request) -> list[m.Intake]:
    """The files taken in last, newest first; each can be taken back, or in again, as one step."""
    return drawer.intakes(_store(request))


@router.post("/drawer/intakes/{step}/undo")
def undo_intake(request: Request, step: m.Step) -> m.Turned:
    """Take a file back as one step; rows changed since stay as they are, and are named."""
    return drawer.turn(_store(request), catalog.parts(), step, undone=True)


@router.post("/drawer/intakes/{step}/redo")
def redo_intake(request: Request, step: m.Step) -> m.Turned:
    """Take a file in again that was taken back; rows changed since stay as they are, and are named."""
    return drawer.turn(_store(request), catalog.parts(), step, undone=False)


@router.get(
    "/drawer/file",
    response_class=Response,
    responses={200: {"content": {"text/csv": {"schema": {"type": "string"}}}}},
)
def drawer_file(request: Request) -> Response:
    """The drawer as CSV: quantities, prices, data and sources."""
    text = drawer_csv(drawer.rows(_store(request), catalog.parts()))
    return Response(
        text,
        media_type="text/csv; charset=utf-8",
        headers={"content-disposition": 'attachment; filename="drawer.csv"'},
    )


@router.post("/drawer/unknown")
def drawer_unknown(body: m.UnknownBody) -> UnknownMotor:
    """What a motor of unknown make may be, from its frame, length, coil and wires; nothing is stored."""
    return unknown_motor(
        body.frame, body.length_mm, body.coil_ohm, body.wires, body.shaft_mm, catalog.stock()
    )


@router.post("/drawer/preview")
def drawer_preview(request: Request, body: m.FileBody) -> Preview:
    """What a drawer file would change, and what is wrong with it; nothing is stored."""
    return preview(body.text, drawer.every_row(_store(request), catalog.parts()))[0]


@router.post("/drawer/import")
def drawer_import(request: Request, body: m.FileBody) -> m.Intake | None:
    """Take a drawer file in as one step: all of it, or nothing where a row is wrong. A file that changes
    nothing is no step.
    """
    store = _store(request)
    seen, todo = preview(body.text, drawer.every_row(store, catalog.parts()))
    if seen.troubles:
        raise EntryError(
            [problem(f"row {t.row}, {t.field}", t.message, remedy=t.remedy) for t in seen.troubles]
        )
    return drawer.take_in(store, catalog.parts(), todo, seen.new, seen.changed, _now()) if todo else None


@router.post("/drawer/cut", status_code=201)
def cut_roll(request: Request, body: m.CutBody) -> m.IdAnswer:
    """Take a piece off a roll of the drawer: one roll less, and what is left of it becomes a row of its
    own.
    """
    return m.IdAnswer(id=drawer.cut_roll(_store(request), catalog.parts(), body.key, body.length_mm))


@router.put("/drawer/{key:path}")
def set_stock(request: Request, key: str, body: m.StockBody) -> m.VersionAnswer:
    """Say how many there are and what one costs, on top of a version; 409 when another window was faster."""
    return m.VersionAnswer(
        version=drawer.set_stock(
            _store(request), catalog.parts(), key, body.base_version, body.quantity, body.price
        )
    )


@router.post("/drawer", status_code=201)
def add_own_part(request: Request, body: m.OwnPartBody) -> m.IdAnswer:
    return m.IdAnswer(
        id=drawer.add_own(
            _store(request),
            body.kind,
            body.name,
            dict(body.data),
            body.quantity,
            body.price,
            body.source_kind,
            body.source,
        )
    )
