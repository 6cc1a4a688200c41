"""Connections that say nothing, or never come to the end of what they say, are closed: the server's own
protocol has no such limits.
"""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

from .limits import HEAD_BYTES, HEAD_S


class Bounded(HttpToolsProtocol):
    """HTTP on a connection whose requests must begin in time, with heads that end in time and in size."""

    def __init__(self, *args: Any, **more: Any) -> None:
        super().__init__(*args, **more)
        self._late: asyncio.TimerHandle | None = None
        self._head: int | None = 0  # bytes of the head that is coming in; None while a body does

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._wait()

    def data_received(self, data: bytes) -> None:
        if self._head is not None:
            self._head += len(data)
        super().data_received(data)
        if self._head is not None and self._head > HEAD_BYTES:
            self.transport.close()

    def on_message_begin(self) -> None:
        super().on_message_begin()
        self._wait()

    def on_headers_complete(self) -> None:
        self._stop()
        self._head = None
        super().on_headers_complete()

    def on_message_complete(self) -> None:
        super().on_message_complete()
        self._head = 0

    def connection_lost(self, exc: Exception | None) -> None:
        self._stop()
        super().connection_lost(exc)

    def _wait(self) -> None:
        self._stop()
        self._late = self.loop.call_later(HEAD_S, self.transport.close)

    def _stop(self) -> None:
        if self._late is not None:
            self._late.cancel()
            self._late = None
