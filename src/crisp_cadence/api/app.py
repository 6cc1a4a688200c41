"""The application: routes over core and store, one handler for every refusal, and the built pages."""

from __future__ import annotations

import mimetypes
import sqlite3
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from itertools import islice
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from ..core.design.design import findings
from ..core.ledger.errors import (
    LONGEST_ECHO,
    ConflictError,
    CrispError,
    EntryError,
    NotFoundError,
    StoreError,
    TooLargeError,
    show,
)
from ..store import Store
from ..store.axes import NO_AXIS, NO_MACHINE
from ..store.log import NO_ENTRY
from ..store.trouble import told
from .beside import Beside, Shelves
from .examples import add_examples
from .guard import PROBLEM_JSON, Guard, problem_json
from .models import ErrorAnswer
from .routes import router
from .routes.common import KEY, store_of, takes_key
from .routes.start import VERSION
from .turns import BY_LINES, LINES, Turns

MOST_PROBLEMS = 20  # listed in one refusal
STATUS = {EntryError: 422, NotFoundError: 404, ConflictError: 409, TooLargeError: 413, StoreError: 503}
CODES = {422: "entry", 404: "not found", 409: "conflict", 413: "too large", 405: "method"}


def _answer(status: int, detail: str, code: str, **more: Any) -> JSONResponse:
    made = ErrorAnswer.model_validate(problem_json(status, detail, code, **more))
    return JSONResponse(made.model_dump(mode="json"), status, media_type=PROBLEM_JSON)


def _refused(request: Request, error: Exception) -> Response:
    """The one place where a refusal becomes an answer."""
    if isinstance(error, sqlite3.Error):
        error = told(error, store_of(request).path)
    if isinstance(error, RequestValidationError) and (gone := _nowhere(error)):
        error = NotFoundError(gone)
    if isinstance(error, RequestValidationError):
        error = EntryError(findings(islice(error.errors(), MOST_PROBLEMS + 1)))
    status = next((s for kind, s in STATUS.items() if isinstance(error, kind)), 400)
    more: dict[str, Any] = {}
    if isinstance(error, EntryError):
        more["problems"] = error.problems[:MOST_PROBLEMS]
    if isinstance(error, ConflictError):
        more["current_version"] = error.current_version
    if isinstance(error, StoreError):
        return _answer(
            status, str(error), error.cause
        )  # our own sentence, told whole; all else may hold what was sent
    return _answer(status, show(str(error), LONGEST_ECHO), CODES.get(status, "refused"), **more)


NOWHERE = {"axis_id": NO_AXIS, "machine_id": NO_MACHINE, "entry_id": NO_ENTRY}


def _nowhere(error: RequestValidationError) -> str:
    """What is not there where an address names it by an id that cannot be one."""
    found = (NOWHERE.get(str(e["loc"][-1]), "") for e in error.errors() if e["loc"][0] == "path")
    return next(filter(None, found), "")


def _pages() -> dict[str, tuple[bytes, str]]:
    """Every built file by its path, read once: no path of a request ever reaches the file system."""
    found: dict[str, tuple[bytes, str]] = {}

    def walk(folder: Traversable, at: str) -> None:
        for item in folder.iterdir():
            name = f"{at}/{item.name}"
            if item.is_dir():
                walk(item, name)
            else:
                found[name] = (
                    item.read_bytes(),
                    mimetypes.guess_type(item.name)[0] or "application/octet-stream",
                )

    root = files("crisp_cadence").joinpath("web")
    if root.is_dir():
        walk(root, "")
    return found


def make_app(data: Path | Store, allowed_hosts: frozenset[str] = frozenset()) -> FastAPI:
    """The application over one data folder, or over a store that is open already."""
    pages = _pages()

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.shelves = Shelves(data if isinstance(data, Store) else Store(data))
        app.state.turns = Turns()
        yield
        app.state.shelves.close()

    app = FastAPI(
        title="Crisp Cadence",
        version=VERSION,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        lifespan=lifespan,
        generate_unique_id_function=lambda route: route.name,
    )
    app.include_router(router, prefix="/api")
    for kind in (CrispError, RequestValidationError, sqlite3.Error):
        app.add_exception_handler(kind, _refused)

    @app.exception_handler(HTTPException)
    async def not_found(request: Request, error: HTTPException) -> Response:
        """Unknown paths get the page (its router decides); unknown API paths and wrong methods an answer."""
        path = request.url.path
        if error.status_code == 404 and request.method in ("GET", "HEAD") and not path.startswith("/api/"):
            if path in pages:
                body, kind = pages[path]
                kept = "public, max-age=31536000, immutable" if path.startswith("/assets/") else "no-cache"
                return Response(body, media_type=kind, headers={"cache-control": kept})
            if "." not in path.rpartition("/")[2] and "/index.html" in pages:
                return Response(
                    pages["/index.html"][0], media_type="text/html", headers={"cache-control": "no-cache"}
                )
        says = {
            404: "There is nothing at this address.",
            405: "This address does not take that kind of request.",
        }
        return _answer(
            error.status_code,
            says.get(error.status_code, str(error.detail)),
            CODES.get(error.status_code, "refused"),
        )

    app.add_middleware(Guard, allowed_hosts=allowed_hosts)
    app.add_middleware(Beside)
    plain = app.openapi
    app.openapi = cache(lambda: _described(plain(), takes_key()))  # type: ignore[method-assign]
    return app


ERRORS = (
    400,
    403,
    404,
    405,
    408,
    409,
    413,
    422,
    500,
    503,
)  # what any address may answer instead; see the guard and STATUS
TAGS = {
    "axes": "axes",
    "machines": "shelf",
    "shelf": "shelf",
    "store": "shelf",
    "drawer": "drawer",
    "search": "choosing",
    "change": "choosing",
    "ways": "choosing",
    "take": "choosing",
}


UNITS = {
    "name": "accept-units",
    "in": "header",
    "required": False,
    "description": "In which units sentences speak; numbers are always in the unit that stands beside them.",
    "schema": {"type": "string", "enum": ["metric", "imperial"], "default": "metric"},
    "example": "metric",
}


def _described(made: dict[str, Any], acts: frozenset[str]) -> dict[str, Any]:
    """The API's own description with every refusal that there is, in its true type, each operation under its
    subject, and one example of it.
    """
    refusal = {
        "description": "Refused",
        "content": {PROBLEM_JSON: {"schema": {"$ref": "#/components/schemas/ErrorAnswer"}}},
    }
    for path, operations in made["paths"].items():
        for operation in operations.values():
            operation["tags"] = [TAGS.get(path.split("/")[2], "working out")]
            operation["responses"] |= {str(code): refusal for code in ERRORS}
            answer = operation["responses"].get("200", {})
            if answer.get("description") == BY_LINES["description"]:
                answer["content"] = {LINES: answer["content"]["application/json"]}
    add_examples(made["paths"])
    for operations in made["paths"].values():
        for operation in operations.values():
            key = [KEY] if operation["operationId"] in acts else []
            operation["parameters"] = [*operation.get("parameters", ()), *key, UNITS]
    return made
