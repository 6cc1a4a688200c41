"""What all routes share: the router, the store of a request, the hour."""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Callable
from datetime import UTC, datetime
from functools import wraps
from typing import ParamSpec, TypeVar, get_type_hints

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import TypeAdapter
from pydantic_core import to_jsonable_python

from ... import catalog
from ...core.fitting.drawer import Stock
from ...core.ledger.errors import EntryError, problem
from ...store import Store, acts, drawer
from .. import models as m
from ..beside import Kept, Shelves

T = TypeVar("T")
P = ParamSpec("P")
router = APIRouter(responses={c: {"model": m.ErrorAnswer} for c in (404, 409, 413, 422)})


def kept_of(request: Request) -> Kept:
    """The data file that a request is for, and its shelf's lines."""
    shelves: Shelves = request.app.state.shelves
    return shelves.of(request.scope)


def store_of(request: Request) -> Store:
    return kept_of(request).store


KEY_OF_ACT = "^[A-Za-z0-9_-]{8,64}$"
KEY = {
    "name": "act-key",
    "in": "header",
    "required": False,
    "description": "A key of this act alone: sent again with it, it is answered as before, not done again.",
    "schema": {"type": "string", "pattern": KEY_OF_ACT},
    "example": "k3f0a9s8d7e6",
}  # as the API describes it
# Of a route whose body is a text, and whose work is an `act` of its own.
JSON_BODY = {"requestBody": {"content": {"application/json": {}}, "required": True}, "parameters": [KEY]}
_acts: set[str] = set()  # names of the routes that take one


def act(route: Callable[P, T]) -> Callable[P, T]:
    """A route that adds or moves something: done once for each `act-key` that is sent with it, its answer
    kept in the same transaction. Without a key it is done each time that it is asked for.
    """
    kind = TypeAdapter[T](get_type_hints(route)["return"])
    _acts.add(route.__name__)

    @wraps(route)
    def keyed(*args: P.args, **given: P.kwargs) -> T:
        request = next(a for a in (*args, *given.values()) if isinstance(a, Request))
        key = _key_of(request)
        if not key:
            return route(*args, **given)
        asked = [given[n] for n in sorted(given) if not isinstance(given[n], Request)] + list(args[1:])
        told = json.dumps(to_jsonable_python([request.method, request.url.path, asked]), sort_keys=True)
        made: list[T] = []

        def done() -> str:
            made.append(route(*args, **given))
            return kind.dump_json(made[0]).decode()

        of = hashlib.sha256(told.encode("utf-8", "surrogatepass")).hexdigest()
        answer = acts.once(store_of(request), key, of, now(), done)
        return made[0] if made else kind.validate_json(answer)

    return keyed


def takes_key() -> frozenset[str]:
    """Names of the routes that take a key."""
    return frozenset(_acts)


def _key_of(request: Request) -> str:
    key = request.headers.get("act-key", "")
    if key and not re.fullmatch(KEY_OF_ACT, key):
        raise EntryError(
            [
                problem(
                    "act-key",
                    "is no key of an act",
                    value=key,
                    limit="8 to 64 letters, digits, - or _",
                    remedy="Send another one, or none.",
                )
            ]
        )
    return key


async def from_text(request: Request, make: Callable[[Request, bytes], T]) -> T:
    """What is made of a body's text, in a thread of its own: a lock of another program holds up no other
    answer.
    """
    text = await request.body()
    return await run_in_threadpool(make, request, text)


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
