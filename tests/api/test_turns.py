"""Long work, two at a time: the rest wait in order with their place, hanging up frees it, and saves go on
meanwhile.
"""

from __future__ import annotations

import asyncio
import contextlib
import json
import threading
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from running import Running, program

from crisp_cadence.api.turns import Turns, line_by_line
from crisp_cadence.core.ledger.errors import EntryError, StoreError, problem


def test_turns_go_in_the_order_in_which_they_were_asked_for() -> None:
    turns = Turns(at_once=2, most_waiting=3)
    a, b, c, d = (turns.come() for _ in range(4))
    assert [turns.before(t) for t in (a, b, c, d)] == [0, 0, 1, 2]
    turns.leave(c)
    assert turns.before(d) == 1, "who hangs up while waiting lets the others move up"
    turns.leave(a)
    assert turns.before(d) == 0
    turns.leave(a)
    assert turns.before(b) == 0, "leaving twice takes nobody else's turn"


def test_far_too_many_are_told_to_come_again() -> None:
    turns = Turns(at_once=1, most_waiting=2)
    for _ in range(3):
        turns.come()
    with pytest.raises(StoreError, match="2 searches wait already"):
        turns.come()


async def said(turns: Turns, work: Any) -> list[dict[str, Any]]:
    response = await line_by_line(turns, work, lambda answer: json.dumps(answer).encode())
    sent: list[bytes] = []

    async def send(message: Any) -> None:
        sent.append(message.get("body", b""))

    async def receive() -> Any:
        await asyncio.sleep(60)

    await response({"type": "http", "asgi": {"spec_version": "2.4"}}, receive, send)
    return [json.loads(line) for line in b"".join(sent).splitlines()]


def test_a_waiting_one_is_told_its_place_and_then_answered() -> None:
    async def both() -> None:
        turns = Turns(at_once=1)
        gate = threading.Event()

        def first() -> Iterator[Any]:
            yield 0.0
            gate.wait(20)
            yield "first"

        def second() -> Iterator[Any]:
            yield 0.0
            yield "second"

        one = asyncio.ensure_future(said(turns, first))
        await asyncio.sleep(0.2)
        two = asyncio.ensure_future(said(turns, second))
        await asyncio.sleep(0.2)
        gate.set()
        lines = await two
        assert lines[0] == {"done": 0.0, "answer": None, "place": 1}
        assert lines[-1]["answer"] == "second"
        assert (await one)[-1]["answer"] == "first"
        assert turns.before(turns.come()) == 0

    asyncio.run(both())


def test_a_refusal_is_refused_at_its_turn_and_told_in_the_last_line_after_waiting() -> None:
    def refused() -> Iterator[Any]:
        raise EntryError([problem("aim", "cannot be", remedy="Change it.")])
        yield 0.0

    async def both() -> None:
        turns = Turns(at_once=1)
        with pytest.raises(EntryError):
            await line_by_line(turns, refused, lambda _: b"")
        held = turns.come()
        late = asyncio.ensure_future(said(turns, refused))
        await asyncio.sleep(0.1)
        turns.leave(held)
        assert (await late)[-1] == {"done": 1.0, "answer": None, "failed": "aim: cannot be"}
        assert turns.before(turns.come()) == 0, "neither of them holds a turn"

    asyncio.run(both())


def memory_mb(pid: int) -> float:
    return (
        int(
            next(
                x for x in Path(f"/proc/{pid}/status").read_text().splitlines() if x.startswith("VmRSS")
            ).split()[1]
        )
        / 1000
    )


def test_forty_searches_at_once_are_bounded_and_saves_go_on(tmp_path: Path) -> None:
    """At most 500 MB for all together; how fast saves answer meanwhile is `make bench`'s."""
    with program(tmp_path, "demo") as running:
        design, axis = _aisle(running)
        body = json.dumps(
            {"design": design, "reductions": ["direct", "gearbox", "closed belt", "two closed belts"]}
        ).encode()
        lines: list[Any] = []
        for _ in range(40):
            request = urllib.request.Request(
                f"{running.url}/api/search", data=body, headers={"content-type": "application/json"}
            )
            lines.append(urllib.request.urlopen(request, timeout=60))
        places = [json.loads(line.readline()).get("place", 0) for line in lines]
        assert places[:2] == [0, 0]
        assert max(places) >= 37
        peak = 0.0
        for version in range(1, 6):
            assert (
                running.ask(
                    f"/axes/{axis}",
                    {"base_version": version, "design": {**design, "note": f"turn {version}"}},
                    "PUT",
                )["version"]
                == version + 1
            )
            peak = max(peak, memory_mb(running.process.pid))
        assert peak < 500, f"{peak:.0f} MB"
        for line in lines:
            line.close()
        # All have hung up: the next one begins at once, as soon as the two at work have seen it.
        until = time.monotonic() + 30
        while time.monotonic() < until:
            request = urllib.request.Request(
                f"{running.url}/api/search", data=body, headers={"content-type": "application/json"}
            )
            with contextlib.closing(urllib.request.urlopen(request, timeout=60)) as line:
                if json.loads(line.readline()).get("place", 0) == 0:
                    return
        pytest.fail("turns of those who hung up are still taken")


def _aisle(running: Running) -> tuple[dict[str, Any], str]:
    axis = next(a["id"] for x in running.ask("/shelf") for a in x["axes"] if a["name"] == "Aisle")
    return running.ask(f"/axes/{axis}")["design"], axis
