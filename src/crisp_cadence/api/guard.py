"""Around every request: who may ask, how much is taken in, and what a page may load."""

from __future__ import annotations

import json
from collections.abc import Awaitable, Callable, MutableMapping
from typing import Any
from urllib.parse import urlsplit

Scope = MutableMapping[str, Any]
Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
App = Callable[[Scope, Receive, Send], Awaitable[None]]

LARGEST_BODY = 2_000_000  # bytes; a design file is at most half of it
READ_ON = 128_000_000  # a larger body is read to its end (and dropped) up to here, so that the sender sees the answer
LOCAL = {"localhost", "127.0.0.1", "::1", "testserver"}

PAGE_HEADERS = [
    (b"content-security-policy", b"default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"no-referrer"),
    (b"cross-origin-opener-policy", b"same-origin"),
]  # fmt: skip


def _name(host: str) -> str:
    """Host name without its port: "[::1]:80" gives "::1"."""
    return urlsplit(f"//{host}").hostname or ""


class Guard:
    """ASGI wrapper: Host and Origin must be this machine's own, bodies are bounded, answers carry a strict content policy."""

    def __init__(self, app: App, allowed_hosts: frozenset[str] = frozenset()) -> None:
        self.app = app
        self.allowed = LOCAL | allowed_hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = {k.decode("latin-1").lower(): v.decode("latin-1") for k, v in scope["headers"]}
        if not self._known(headers.get("host", "")):
            await _refuse(send, 400, "This address is not one that the program answers to.")
            return
        origin = headers.get("origin")
        if origin is not None and scope["method"] not in ("GET", "HEAD") and urlsplit(origin).netloc != headers.get("host", ""):
            await _refuse(send, 403, "Changes are taken only from this program's own pages.")
            return
        declared = headers.get("content-length", "0")
        if not declared.isdigit() or int(declared) > LARGEST_BODY:
            await _drain(receive)
            await _refuse(
                send, 413, f"This is larger than the {LARGEST_BODY:,} bytes that are taken in at once. A design file has at most 1,000,000."
            )
            return
        taken = 0
        over = more = False

        async def bounded() -> Message:
            nonlocal taken, over, more
            message = await receive()
            more = bool(message.get("more_body"))
            taken += len(message.get("body", b""))
            if taken > LARGEST_BODY:
                over = True
                raise BodyTooLarge
            return message

        async def dressed(message: Message) -> None:
            if over:
                return  # the application's own words about a body that broke off; ours follow
            if message["type"] == "http.response.start":
                message["headers"] = [*message.get("headers", []), *PAGE_HEADERS]
            await send(message)

        try:
            await self.app(scope, bounded, dressed)
        except BodyTooLarge:
            over = True
        if over:
            if more:
                await _drain(receive)
            await _refuse(send, 413, f"This is larger than the {LARGEST_BODY:,} bytes that are taken in at once.")

    def _known(self, host: str) -> bool:
        try:
            return _name(host) in self.allowed
        except ValueError:
            return False


class BodyTooLarge(Exception):  # noqa: N818 - never leaves this module
    """Raised while a body streams in past its limit."""


async def _drain(receive: Receive) -> None:
    seen = 0
    while seen < READ_ON:
        message = await receive()
        seen += len(message.get("body", b""))
        if message["type"] != "http.request" or not message.get("more_body"):
            return


async def _refuse(send: Send, status: int, says: str) -> None:
    body = json.dumps({"message": says, "problems": [], "current_version": None}).encode()
    await send({"type": "http.response.start", "status": status, "headers": [(b"content-type", b"application/json"), *PAGE_HEADERS]})
    await send({"type": "http.response.body", "body": body})
