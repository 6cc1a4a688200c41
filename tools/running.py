"""Starts the program as its users do, on a free port of loopback, and stops just that process; shared by
tests, bench and shots.
"""

from __future__ import annotations

import json
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

CHROMIUM = "/usr/bin/chromium"
BROWSER_FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--font-render-hinting=none",
]  # fmt: skip


@dataclass
class Running:
    """A running program: where it answers, and the process to stop or kill."""

    url: str
    process: subprocess.Popen[str]
    ready_s: float

    def kill(self) -> None:
        """As a power cut would: no chance to tidy up."""
        self.process.kill()
        self.process.wait()

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(timeout=60)

    def ask(self, path: str, body: Any = None, method: str | None = None) -> Any:
        """A request to the API; the answer's JSON."""
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            f"{self.url}/api{path}", data=data, headers={"content-type": "application/json"}, method=method
        )
        with urllib.request.urlopen(request, timeout=60) as answer:
            text = answer.read()
            return json.loads(text) if text else None


OURS = ("-m", "crisp_cadence.cli")


def start(data: Path, command: str = "serve", port: int = 0, door: Sequence[str] = OURS) -> Running:
    """Start `crisp-cadence serve` or `demo` and wait until it answers."""
    begun = time.perf_counter()
    process = subprocess.Popen(
        [sys.executable, *door, command, "--data", str(data), "--port", str(port)],
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )
    assert process.stdout is not None
    said = ""
    for line in process.stdout:  # what is wrong with the data file comes first, then the address
        said += line
        if "http://" in line:
            break
    else:
        raise RuntimeError(f"the program did not start: {said}")
    running = Running(line.split("http://")[1].split()[0].join(["http://", ""]), process, 0.0)
    for _ in range(400):
        try:
            running.ask("/health")
            break
        except OSError:
            time.sleep(0.01)
    running.ready_s = time.perf_counter() - begun
    return running


@contextmanager
def program(data: Path, command: str = "serve", door: Sequence[str] = OURS) -> Iterator[Running]:
    """The program for the length of a block; tests may come in by a door of their own."""
    running = start(data, command, door=door)
    try:
        yield running
    finally:
        if running.process.poll() is None:
            running.stop()
        assert running.process.stdout is not None
        running.process.stdout.close()
