"""The maker's own shelf, and the demo beside it: the same program under /demo over a data file of its own,
made when it is first asked for. Nothing of one is ever seen in the other.
"""

from __future__ import annotations

import threading
from contextlib import suppress
from dataclasses import dataclass

from .. import demo
from ..core.ledger.errors import StoreError
from ..store import Store
from .guard import App, Receive, Scope, Send
from .shelf import Shelf

AT = "/demo"
MARK = "crisp.demo"  # in the scope of a request to the demo


@dataclass(frozen=True)
class Kept:
    """One data file, and its shelf's lines."""

    store: Store
    shelf: Shelf


class Shelves:
    """The maker's own data file, and that of the demo in a folder within its folder."""

    def __init__(self, store: Store) -> None:
        self.own = Kept(store, Shelf(store))
        self._opening = threading.Lock()
        self._demo: Kept | None = None

    def of(self, scope: Scope) -> Kept:
        """Whose a request is for; StoreError where the demo's file cannot be opened."""
        return self._beside() if scope.get(MARK) else self.own

    def _beside(self) -> Kept:
        with self._opening:
            if self._demo is None:
                store = Store(self.own.store.path.parent / AT.strip("/"))
                if store.damage is None:
                    demo.fill(store)
                self._demo = Kept(store, Shelf(store))
            return self._demo

    def close(self) -> None:
        for kept in (self.own, self._demo):
            if kept is not None:
                with suppress(StoreError):
                    kept.store.close()


class Beside:
    """Marks what is asked for under /demo/api as the demo's, and hands it on as if asked for under /api."""

    def __init__(self, app: App) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        path = str(scope.get("path", ""))
        if scope["type"] == "http" and path.startswith(f"{AT}/api/"):
            raw = bytes(scope.get("raw_path") or path.encode())
            scope = {**scope, MARK: True, "path": path.removeprefix(AT)}
            scope["raw_path"] = raw.removeprefix(AT.encode())
        await self._app(scope, receive, send)
