"""Long work, a few pieces at a time: the others wait in the order in which they came, and are told how many
are before them.
"""

from __future__ import annotations

import asyncio
import json
import logging
from collections.abc import AsyncIterator, Callable, Iterator
from time import monotonic
from typing import TypeVar

from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse
from starlette.types import Receive, Scope, Send

from ..core.ledger.errors import CrispError, StoreError
from ..core.ledger.long_work import Answer

T = TypeVar("T")
AT_ONCE = 2
MOST_WAITING = 100
SAY_AGAIN_S = 1.0  # how often a waiting one is told its place
PROGRESS_S = 0.15  # between two lines that tell how far the work is
LINES = "application/x-ndjson"
BY_LINES = {"description": "One line of JSON after another"}  # of an answer, in the API's own description
_log = logging.getLogger(__name__)


class Turns:
    """Who is at work and who waits; used from the event loop alone."""

    def __init__(self, at_once: int = AT_ONCE, most_waiting: int = MOST_WAITING) -> None:
        self.at_once, self.most_waiting = at_once, most_waiting
        self._all: dict[object, asyncio.Event] = {}

    def come(self) -> object:
        """Take a place in the queue; StoreError where far too many wait already."""
        if len(self._all) >= self.at_once + self.most_waiting:
            raise StoreError(
                "busy", f"{self.most_waiting} searches wait already. Try again when some of them are done."
            )
        ticket = object()
        self._all[ticket] = asyncio.Event()
        self._call()
        return ticket

    def leave(self, ticket: object) -> None:
        """Done, or no longer wanted: whoever is next has the turn."""
        self._all.pop(ticket, None)
        self._call()

    def before(self, ticket: object) -> int:
        """How many must end before it begins; 0 when it is its turn."""
        return max(0, list(self._all).index(ticket) + 1 - self.at_once)

    async def wait(self, ticket: object) -> None:
        """Until it is its turn, or a while has passed."""
        try:
            await asyncio.wait_for(self._all[ticket].wait(), SAY_AGAIN_S)
        except TimeoutError:
            return

    async def taken(self, work: Callable[[], T]) -> T:
        """What work gives that is done at its turn, in a thread of its own."""
        ticket = self.come()
        try:
            while self.before(ticket):
                await self.wait(ticket)
            return await run_in_threadpool(work)
        finally:
            self.leave(ticket)

    def _call(self) -> None:
        for event in list(self._all.values())[: self.at_once]:
            event.set()


class _Ending(StreamingResponse):
    """A stream that tells when it is over, also where whoever asked has hung up before its first line."""

    def __init__(self, lines: AsyncIterator[bytes], over: Callable[[], None]) -> None:
        super().__init__(lines, media_type=LINES)
        self._over = over

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        try:
            await super().__call__(scope, receive, send)
        finally:
            self._over()


def _further(work: Iterator[float | Answer]) -> float | Answer | None:
    """Works on for a moment: how far it has come, or its answer; None after that."""
    until = monotonic() + PROGRESS_S
    for at in work:
        if not isinstance(at, float) or monotonic() > until:
            return at
    return None


async def line_by_line(
    turns: Turns, begin: Callable[[], Iterator[float | Answer]], as_json: Callable[[Answer], bytes]
) -> StreamingResponse:
    """Long work as lines of JSON: its place in the queue, then its progress a few times a second, its answer
    last.

    What is refused is refused at once where it is its turn already, else in the last line. Whoever hangs up
    ends it.
    """
    ticket = turns.come()

    def started() -> tuple[Iterator[float | Answer], float | Answer]:
        made = begin()
        return made, next(made)

    begun: tuple[Iterator[float | Answer], float | Answer] | None = None
    try:
        if turns.before(ticket) == 0:
            begun = await run_in_threadpool(started)
    except BaseException:
        turns.leave(ticket)
        raise

    async def lines() -> AsyncIterator[bytes]:
        try:
            while place := turns.before(ticket):
                yield b'{"done": 0.0, "answer": null, "place": %d}\n' % place
                await turns.wait(ticket)
            work, at = await run_in_threadpool(started) if begun is None else begun
            now: float | Answer | None = at
            while now is not None:
                if isinstance(now, float):
                    yield b'{"done": %.4f, "answer": null}\n' % now
                else:
                    yield b'{"done": 1.0, "answer": ' + await run_in_threadpool(as_json, now) + b"}\n"
                now = await run_in_threadpool(lambda: _further(work))
        except Exception as error:
            yield json.dumps({"done": 1.0, "answer": None, "failed": said_of(error)}).encode() + b"\n"

    return _Ending(lines(), lambda: turns.leave(ticket))


def said_of(error: Exception) -> str:
    """Why work broke off, for its last line: the answer's status has gone out long before."""
    if isinstance(error, CrispError):
        return str(error)
    _log.exception("work broke off", exc_info=error)
    return f"A fault of this program, not of the design ({type(error).__name__})."
