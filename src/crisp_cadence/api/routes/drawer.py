"""The maker's drawer."""

from __future__ import annotations

from dataclasses import replace

from fastapi import Request, Response

from ... import catalog
from ...core.fitting.typical import typical_of
from ...core.fitting.unknown import UnknownMotor, unknown_motor
from ...core.fitting.usable import unused_since
from ...core.fitting.which_belt import WhichBelt, which_belt
from ...core.formulas.prices import rounded
from ...core.ledger.errors import EntryError, problem
from ...exchange.drawer import Preview, drawer_csv, preview
from ...store import drawer
from .. import models as m
from .common import act, attached, now, router, stock_of, store_of


@router.get("/drawer")
def drawer_rows(request: Request) -> list[m.DrawerRow]:
    """What lies in the drawer, and what one of each costs as a rule."""
    found = drawer.rows(store_of(request), catalog.parts())
    return [replace(r, typical=usual(r), unused=unused_since(stock_of(r))) for r in found]


def usual(row: drawer.DrawerRow) -> float | None:
    """What one of a row costs as a rule, in a round figure."""
    typical = typical_of(stock_of(row), catalog.profiles())
    return None if typical is None else rounded(typical)


@router.get("/drawer/out")
def taken_out(request: Request) -> list[m.DrawerRow]:
    """Rows that were taken out of the drawer; each can be brought back."""
    return [r for r in drawer.every_row(store_of(request), catalog.parts()) if r.out]


@router.post("/drawer/out")
@act
def take_out(request: Request, body: m.KeysBody) -> m.CountAnswer:
    """Take rows out of the drawer, all of them or none: they are offered and counted no more, until they are
    brought back.
    """
    return m.CountAnswer(count=drawer.set_out(store_of(request), catalog.parts(), body.keys, now()))


@router.post("/drawer/back")
@act
def bring_back(request: Request, body: m.KeysBody) -> m.CountAnswer:
    """Bring rows back into the drawer, all of them or none, with the quantity and price that they had."""
    return m.CountAnswer(count=drawer.set_out(store_of(request), catalog.parts(), body.keys, None))


@router.get("/drawer/intakes")
def intakes(request: Request) -> list[m.Intake]:
    """The files taken in last, newest first; each can be taken back, or in again, as one step."""
    return drawer.intakes(store_of(request))


@router.post("/drawer/intakes/{step}/undo")
@act
def undo_intake(request: Request, step: m.Step) -> m.Turned:
    """Take a file back as one step; rows changed since stay as they are, and are named."""
    return drawer.turn(store_of(request), catalog.parts(), step, undone=True)


@router.post("/drawer/intakes/{step}/redo")
@act
def redo_intake(request: Request, step: m.Step) -> m.Turned:
    """Take a file in again that was taken back; rows changed since stay as they are, and are named."""
    return drawer.turn(store_of(request), catalog.parts(), step, undone=False)


@router.get(
    "/drawer/file",
    response_class=Response,
    responses={200: {"content": {"text/csv": {"schema": {"type": "string"}}}}},
)
def drawer_file(request: Request) -> Response:
    """The drawer as CSV: quantities, prices, data and sources."""
    text = drawer_csv(drawer.rows(store_of(request), catalog.parts()))
    return attached(text, "text/csv; charset=utf-8", "drawer.csv")


@router.post("/drawer/unknown")
def drawer_unknown(body: m.UnknownBody) -> UnknownMotor:
    """What a motor of unknown make may be, from its frame, length, coil and wires; nothing is stored."""
    return unknown_motor(
        body.frame, body.length_mm, body.coil_ohm, body.wires, body.shaft_mm, catalog.stock()
    )


@router.post("/drawer/belt")
def which(body: m.WhichBeltBody) -> WhichBelt:
    """Which belt a piece is, by a length over so many pitches and by its teeth; nothing is stored."""
    return which_belt(body.over_mm, body.pitches, body.form, catalog.profiles())


@router.post("/drawer/preview")
def drawer_preview(request: Request, body: m.FileBody) -> Preview:
    """What a drawer file would change, and what is wrong with it; nothing is stored."""
    return preview(body.text, drawer.every_row(store_of(request), catalog.parts()))[0]


@router.post("/drawer/import")
@act
def drawer_import(request: Request, body: m.FileBody) -> m.Intake | None:
    """Take a drawer file in as one step: all of it, or nothing where a row is wrong. A file that changes
    nothing is no step.
    """
    store = store_of(request)
    seen, todo = preview(body.text, drawer.every_row(store, catalog.parts()))
    if seen.troubles:
        raise EntryError(
            [problem(f"row {t.row}, {t.field}", t.message, remedy=t.remedy) for t in seen.troubles]
        )
    return drawer.take_in(store, catalog.parts(), todo, seen.new, seen.changed, now()) if todo else None


@router.post("/drawer/cut", status_code=201)
@act
def cut_roll(request: Request, body: m.CutBody) -> m.IdAnswer:
    """Take a piece off a roll of the drawer: one roll less, and what is left of it becomes a row of its
    own.
    """
    return m.IdAnswer(id=drawer.cut_roll(store_of(request), catalog.parts(), body.key, body.length_mm))


@router.put("/drawer/{key:path}")
@act
def set_stock(request: Request, key: str, body: m.StockBody) -> m.VersionAnswer:
    """Say how many there are and what one costs, on top of a version; 409 when another window was faster."""
    return m.VersionAnswer(
        version=drawer.set_stock(
            store_of(request), catalog.parts(), key, body.base_version, body.quantity, body.price
        )
    )


@router.post("/drawer", status_code=201)
@act
def add_own_part(request: Request, body: m.OwnPartBody) -> m.IdAnswer:
    return m.IdAnswer(
        id=drawer.add_own(
            store_of(request),
            body.kind,
            body.name,
            dict(body.data),
            body.quantity,
            body.price,
            body.source_kind,
            body.source,
        )
    )
