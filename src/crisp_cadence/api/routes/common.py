"""What all routes share: the router, the store of a request, the hour."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import TypeVar

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool

from ... import catalog
from ...core.fitting.drawer import Stock
from ...store import Store, drawer
from .. import models as m
from ..beside import Kept, Shelves

T = TypeVar("T")
router = APIRouter(responses={c: {"model": m.ErrorAnswer} for c in (404, 409, 413, 422)})


def kept_of(request: Request) -> Kept:
    """The data file that a request is for, and its shelf's lines."""
    shelves: Shelves = request.app.state.shelves
    return shelves.of(request.scope)


def store_of(request: Request) -> Store:
    return kept_of(request).store


JSON_BODY = {"requestBody": {"content": {"application/json": {}}, "required": True}}


async def from_text(request: Request, make: Callable[[bytes], T]) -> T:
    """What is made of a body's text, in a thread of its own: a lock of another program holds up no other
    answer.
    """
    text = await request.body()
    return await run_in_threadpool(make, text)


def attached(text: str, media_type: str, name: str) -> Response:
    """A text that goes out as a file."""
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(text, media_type=media_type, headers=headers)


def now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def drawer_of(request: Request) -> list[Stock]:
    return [stock_of(r) for r in drawer.rows(store_of(request), catalog.parts())]


def stock_of(r: drawer.DrawerRow) -> Stock:
    """A row of the drawer as the core sees it."""
    return Stock(r.key, r.kind, r.name, r.data, r.quantity, r.price, r.source_kind, r.source)
