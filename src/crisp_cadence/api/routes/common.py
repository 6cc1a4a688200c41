"""What all routes share: the router, the store of a request, the hour."""

from __future__ import annotations

from datetime import UTC, datetime

from fastapi import APIRouter, Request

from ... import catalog
from ...core.fitting.drawer import Stock
from ...store import Store, drawer
from .. import models as m
from ..beside import Kept, Shelves

router = APIRouter(responses={c: {"model": m.ErrorAnswer} for c in (404, 409, 413, 422)})


def kept_of(request: Request) -> Kept:
    """The data file that a request is for, and its shelf's lines."""
    shelves: Shelves = request.app.state.shelves
    return shelves.of(request.scope)


def store_of(request: Request) -> Store:
    return kept_of(request).store


def now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def drawer_of(request: Request) -> list[Stock]:
    return [stock_of(r) for r in drawer.rows(store_of(request), catalog.parts())]


def stock_of(r: drawer.DrawerRow) -> Stock:
    """A row of the drawer as the core sees it."""
    return Stock(r.key, r.kind, r.name, r.data, r.quantity, r.price, r.source_kind, r.source)
