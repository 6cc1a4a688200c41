"""The application: routes over core and store, one handler for every refusal, and the built pages."""

from __future__ import annotations

import mimetypes
import sqlite3
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from importlib.resources import files
from importlib.resources.abc import Traversable
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from ..core.design import findings
from ..core.errors import ConflictError, CrispError, EntryError, NotFoundError, StoreError, TooLargeError
from ..store import Store
from ..store.trouble import told
from . import routes
from .guard import Guard
from .models import ErrorAnswer
from .shelf import Shelf


def _answer(status: int, message: str, **more: Any) -> JSONResponse:
    return JSONResponse(ErrorAnswer(message=message, **more).model_dump(mode="json"), status)


STATUS = {EntryError: 422, NotFoundError: 404, ConflictError: 409, TooLargeError: 413, StoreError: 503}


def _refused(request: Request, error: Exception) -> Response:
    """The one place where a refusal becomes an answer."""
    if isinstance(error, RequestValidationError):
        problems = findings(error.errors())
        return _answer(422, "; ".join(f"{p.field}: {p.message}" for p in problems[:3]), problems=problems)
    if isinstance(error, sqlite3.Error):
        error = told(error, request.app.state.store.path)
    status = next((s for kind, s in STATUS.items() if isinstance(error, kind)), 400)
    more = {name: getattr(error, name) for name in ("problems", "current_version", "cause") if hasattr(error, name)}
    return _answer(status, str(error), **more)


def _pages() -> dict[str, tuple[bytes, str]]:
    """Every built file by its path, read once: no path of a request ever reaches the file system."""
    found: dict[str, tuple[bytes, str]] = {}

    def walk(folder: Traversable, at: str) -> None:
        for item in folder.iterdir():
            name = f"{at}/{item.name}"
            if item.is_dir():
                walk(item, name)
            else:
                found[name] = (item.read_bytes(), mimetypes.guess_type(item.name)[0] or "application/octet-stream")

    root = files("crisp_cadence").joinpath("web")
    if root.is_dir():
        walk(root, "")
    return found


def make_app(data: Path | Store, allowed_hosts: frozenset[str] = frozenset()) -> FastAPI:
    """The application over one data folder, or over a store that is open already."""
    pages = _pages()

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.store = data if isinstance(data, Store) else Store(data)
        app.state.shelf = Shelf(app.state.store)
        yield
        app.state.store.close()

    app = FastAPI(title="Crisp Cadence", version=routes.VERSION, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json", lifespan=lifespan)
    app.include_router(routes.router, prefix="/api")
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
                return Response(pages["/index.html"][0], media_type="text/html", headers={"cache-control": "no-cache"})
        says = {404: "There is nothing at this address.", 405: "This address does not take that kind of request."}
        return _answer(error.status_code, says.get(error.status_code, str(error.detail)))

    app.add_middleware(Guard, allowed_hosts=allowed_hosts)
    return app
