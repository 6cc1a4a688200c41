"""Random requests against the program's own description: no 5xx, nothing undescribed, no hang, no memory that
stays.

The gate runs a few per operation in the process with a fixed seed; `make torture` thousands against a program
of its own, with a free one.
"""

from __future__ import annotations

import argparse
import copy
import json
import os
import random
import re
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import schemathesis
from hypothesis import HealthCheck, given, settings
from hypothesis import seed as seeded
from running import Running, program
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from crisp_cadence.api import examples

LONG = re.compile(
    r"/(search|change|ways)$"
)  # what may take seconds for a design answers line by line: its first line is what counts
HANG_S = 2.0
CHECKS = [status_code_conformance, content_type_conformance, response_schema_conformance]


@dataclass
class Row:
    """What came of one kind of requests."""

    kind: str
    requests: int = 0
    taken: int = 0
    faults: int = 0
    hangs: int = 0
    slowest_s: float = 0.0

    def add(self, status: int, took_s: float) -> None:
        self.requests += 1
        self.taken += status < 400
        self.faults += status >= 500
        self.hangs += took_s > HANG_S
        self.slowest_s = max(self.slowest_s, took_s)


def as_described(api: Any, most: int, call: Callable[[Any], Any], seed: int | None = None) -> int:
    """Calls every operation of a description with what schemathesis draws for it, and checks each answer;
    returns how many operations.
    """
    looked = 0
    for found in api.get_all_operations():
        operation = found.ok()
        if LONG.search(operation.path):
            continue

        @given(case=operation.as_strategy())
        @settings(max_examples=most, suppress_health_check=list(HealthCheck))
        def check(case: Any) -> None:
            response = call(case)
            assert response.status_code < 500, response.text
            case.validate_response(response, checks=CHECKS)

        (check if seed is None else seeded(seed)(check))()
        looked += 1
    return looked


# ---- bodies that were right, with one place spoilt ---------------------------------------------------------

NASTY: list[Any] = [
    None, True, False, "", "5", "x" * 5000, "\ud800", "\x00", 0, -1, 1, 0.5, 2**63, 10**400, -0.0, 1e-300, 1e300, float("nan"), float("inf"), [], {}, [[]],
    [0] * 3000, {"kind": "rope"}, {"kind": []}, {"a": {"b": {"c": None}}},
]  # fmt: skip


def places(node: Any, at: tuple[str | int, ...] = ()) -> Iterator[tuple[str | int, ...]]:
    """Every place in plain data."""
    if at:
        yield at
    items = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    for name, item in items:
        yield from places(item, (*at, name))


def spoilt(body: Any, chance: random.Random) -> Any:
    """A copy with one to three places replaced, removed, or with something foreign beside them."""
    body = copy.deepcopy(body)

    def nasty() -> Any:
        return copy.deepcopy(chance.choice(NASTY))

    for _ in range(chance.choice([1, 1, 1, 2, 3])):
        *way, last = chance.choice([*places(body)] or [()]) or ("",)
        if last == "":
            return nasty()
        here = body
        for name in way:
            here = here[name]
        match chance.randrange(4):
            case 0:
                del here[last]
            case 1 if isinstance(here, dict):
                here[chance.choice(["nobody knows", "", "kind", "\x00"])] = nasty()
            case _:
                here[last] = nasty()
    return body


def _sent(running: Running, method: str, path: str, body: Any, row: Row) -> None:
    data = json.dumps(body).encode()
    request = urllib.request.Request(
        f"{running.url}/api{path}", data, {"content-type": "application/json"}, method=method.upper()
    )
    begun = time.perf_counter()
    try:
        with urllib.request.urlopen(request, timeout=60) as answer:
            status = answer.status
            if LONG.search(path):
                answer.readline()  # and whoever has seen enough hangs up
            else:
                answer.read()
    except urllib.error.HTTPError as refused:
        status = refused.code
        refused.read()
        refused.close()
    except TimeoutError:
        status = 599
    row.add(status, time.perf_counter() - begun)
    if status >= 500:
        print(f"{status} {method} {path} {data[:400]!r}", flush=True)


def resident_mb(running: Running) -> float:
    """Memory of the program in MB."""
    pages = int(Path(f"/proc/{running.process.pid}/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 1e6


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--examples", type=int, default=60, help="of each operation, as described")
    parser.add_argument(
        "--spoilt", type=int, default=300, help="spoilt bodies of each operation that takes one"
    )
    parser.add_argument("--seed", type=int, default=int.from_bytes(os.urandom(4)))
    wanted = parser.parse_args()
    print(f"seed {wanted.seed}", flush=True)
    chance = random.Random(wanted.seed)
    described, bodies, wrong = Row("as described"), Row("spoilt bodies"), ""
    with tempfile.TemporaryDirectory() as folder, program(Path(folder) / "data") as running:
        machine = running.ask("/machines", {"name": "Fuzz"})["id"]
        ids = {
            "machine_id": machine,
            "axis_id": running.ask(f"/machines/{machine}/axes", {"name": "Slide"})["id"],
            "key": examples.WASHER,
        }
        for (method, path), body in examples.BODIES.items():
            _sent(running, method, path.format(**ids), body, Row("warm"))
        before = resident_mb(running)
        for (method, path), body in examples.BODIES.items():
            for _ in range(wanted.spoilt // 10 if LONG.search(path) else wanted.spoilt):
                _sent(running, method, path.format(**ids), spoilt(body, chance), bodies)

        def call(case: Any) -> Any:
            begun = time.perf_counter()
            response = case.call(timeout=60)
            described.add(response.status_code, time.perf_counter() - begun)
            return response

        settings.register_profile("free", deadline=None, database=None, derandomize=False)
        settings.load_profile("free")
        try:
            as_described(
                schemathesis.openapi.from_url(f"{running.url}/api/openapi.json"),
                wanted.examples,
                call,
                wanted.seed,
            )
        except BaseExceptionGroup as group:
            wrong = "\n".join(str(e) for e in group.exceptions)
        except AssertionError as error:
            wrong = str(error)
        after = resident_mb(running)
    print(f"{'requests':16}{'sent':>8}{'taken':>8}{'5xx':>6}{f'over {HANG_S:g} s':>10}{'slowest, s':>12}")
    for row in (bodies, described):
        print(f"{row.kind:16}{row.requests:8}{row.taken:8}{row.faults:6}{row.hangs:10}{row.slowest_s:12.2f}")
    print(f"memory of the program {before:.0f} MB before, {after:.0f} MB after")
    if wrong:
        print(f"not as described: {wrong}")
    return 1 if wrong or bodies.faults or bodies.hangs or described.faults or described.hangs else 0


if __name__ == "__main__":
    raise SystemExit(main())
