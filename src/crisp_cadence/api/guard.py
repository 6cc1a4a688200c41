"""Around every request: who may ask, how much is taken in and how slowly, what a page may load, and an answer
even to a fault.
"""

from __future__ import annotations

import asyncio
import json
import logging
import re
from collections.abc import Awaitable, Callable, MutableMapping
from http import HTTPStatus
from typing import Any

from ..core.ledger.amounts import in_units
from .limits import PIECE_S, READ_ON, WHOLE_S, limit_of

Scope = MutableMapping[str, Any]
Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
App = Callable[[Scope, Receive, Send], Awaitable[None]]

LOCAL = frozenset({"localhost", "127.0.0.1", "::1"})
HOST = re.compile(r"(?:\[(?P<six>[0-9A-Fa-f:.]+)\]|(?P<name>[A-Za-z0-9.-]+))(?::\d{1,5})?")
PROBLEM_JSON = "application/problem+json"
_log = logging.getLogger(__name__)

PAGE_HEADERS = [
    (b"content-security-policy", b"default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"no-referrer"),
    (b"cross-origin-opener-policy", b"same-origin"),
    (b"cross-origin-resource-policy", b"same-origin"),
]  # fmt: skip


def problem_json(status: int, detail: str, code: str, **more: Any) -> dict[str, Any]:
    """A refusal as RFC 9457 has it, with the members that the pages use.

    >>> problem_json(404, "There is nothing at this address.", "not found")["title"]
    'Not Found'
    """
    title = HTTPStatus(status).phrase
    return {
        "type": "about:blank",
        "title": title,
        "status": status,
        "detail": detail,
        "code": code,
        "problems": [],
        "current_version": None,
    } | more


def host_name(header: str) -> str | None:
    """The name in a Host header, None for one that is none.

    >>> host_name("[::1]:80"), host_name("LocalHost:8321"), host_name("evil@localhost"), host_name("localhost/evil.com")
    ('::1', 'localhost', None, None)
    """
    found = HOST.fullmatch(header)
    return None if found is None else (found["six"] or found["name"]).lower()


def origin_host(header: str) -> str | None:
    """Host and port of an Origin header, "" where it names none ("null"), None where it is no origin."""
    if header == "null":
        return ""
    scheme, mark, host = header.partition("://")
    return host.lower() if mark and scheme in ("http", "https") and HOST.fullmatch(host) else None


class BodyTooLarge(Exception):  # noqa: N818 - never leaves this module
    """Raised while a body streams in past its limit."""


class BodyTooSlow(Exception):  # noqa: N818 - never leaves this module
    """Raised while a body keeps its reader waiting."""


class Guard:
    """ASGI wrapper: Host and Origin must be this machine's own, bodies are bounded in size and time, every
    answer carries the headers.
    """

    def __init__(self, app: App, allowed_hosts: frozenset[str] = frozenset()) -> None:
        self.app = app
        self.allowed = LOCAL | allowed_hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        refused = self._stranger(scope)
        if refused is not None:
            await _refuse(send, *refused)
            return
        most, what = limit_of(scope["path"])
        declared = _all(scope, b"content-length") or ["0"]
        if len(declared) > 1 or not declared[0].isdigit() or int(declared[0]) > most:
            await _drain(receive)
            await _refuse(send, 413, f"{what} has at most {most:,} bytes; this is larger.", "too large")
            return
        await self._bounded(scope, receive, send, most, what)

    def _stranger(self, scope: Scope) -> tuple[int, str, str] | None:
        """Why a request is not taken at all."""
        hosts, origins = _all(scope, b"host"), _all(scope, b"origin")
        if len(hosts) != 1 or host_name(hosts[0]) not in self.allowed:
            return 400, "This address is not one that the program answers to.", "host"
        changes = scope["method"] not in ("GET", "HEAD")
        if changes and "cross-site" in _all(scope, b"sec-fetch-site"):
            return 403, "Changes are taken only from this program's own pages.", "origin"
        if not origins:
            return None
        asked = origin_host(origins[0]) if len(origins) == 1 else None
        if asked is None:
            return 400, "This says that it comes from a page that cannot be.", "origin"
        if changes and asked != hosts[0].lower():
            return 403, "Changes are taken only from this program's own pages.", "origin"
        return None

    async def _bounded(self, scope: Scope, receive: Receive, send: Send, most: int, what: str) -> None:
        taken = 0
        begun = more = complete = False
        cut: Exception | None = None
        until = asyncio.get_running_loop().time() + WHOLE_S

        async def bounded() -> Message:
            nonlocal taken, more, cut, complete
            if complete:  # what comes now is that somebody hangs up, and that may be long
                return await receive()
            wait = min(PIECE_S, until - asyncio.get_running_loop().time())
            try:
                message = await asyncio.wait_for(receive(), max(wait, 0.0))
            except TimeoutError:
                cut = BodyTooSlow()
                raise cut from None
            more = bool(message.get("more_body"))
            complete = not more
            taken += len(message.get("body", b""))
            if taken > most:
                cut = BodyTooLarge()
                raise cut
            return message

        async def dressed(message: Message) -> None:
            nonlocal begun
            if cut is not None and not begun:
                return  # the application's own words about a body that broke off; ours follow
            if message["type"] == "http.response.start":
                begun = True
                message["headers"] = [*message.get("headers", []), *PAGE_HEADERS]
            await send(message)

        # Sentences come whole from the core, so the core is told in which units they shall speak.
        wanted = _all(scope, b"accept-units")
        try:
            with in_units("imperial" if wanted == ["imperial"] else "metric"):
                await self.app(scope, bounded, dressed)
        except (BodyTooLarge, BodyTooSlow):
            pass
        except Exception:
            _log.exception("%s %s", scope["method"], scope["path"])
            if begun:
                raise  # half an answer cannot be mended: the connection ends
            await _refuse(
                send,
                500,
                "A fault of this program, not of what was sent. Its details stand in the log file "
                "beside the data.",
                "fault",
            )
            return
        if isinstance(cut, BodyTooSlow) and not begun:
            await _refuse(
                send,
                408,
                f"What was sent took longer than {PIECE_S:.0f} s between two pieces, or "
                f"{WHOLE_S:.0f} s in all.",
                "too slow",
            )
        elif cut is not None and not begun:
            if more:
                await _drain(receive)
            await _refuse(send, 413, f"{what} has at most {most:,} bytes; this is larger.", "too large")


def _all(scope: Scope, name: bytes) -> list[str]:
    """Every value of a header: one that comes twice is looked at twice."""
    return [value.decode("latin-1") for key, value in scope["headers"] if key.lower() == name]


async def _drain(receive: Receive) -> None:
    seen, until = 0, asyncio.get_running_loop().time() + WHOLE_S
    while seen < READ_ON:
        try:
            message = await asyncio.wait_for(
                receive(), max(0.0, min(PIECE_S, until - asyncio.get_running_loop().time()))
            )
        except TimeoutError:
            return
        seen += len(message.get("body", b""))
        if message["type"] != "http.request" or not message.get("more_body"):
            return


async def _refuse(send: Send, status: int, says: str, code: str) -> None:
    body = json.dumps(problem_json(status, says, code)).encode()
    await send(
        {
            "type": "http.response.start",
            "status": status,
            "headers": [(b"content-type", PROBLEM_JSON.encode()), *PAGE_HEADERS],
        }
    )
    await send({"type": "http.response.body", "body": body})
