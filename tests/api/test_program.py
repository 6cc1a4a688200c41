"""The program as a process: starting, ending, and what a full disk or another program's lock does to its
answers.
"""

from __future__ import annotations

import http.client
import json
import resource
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from running import Running, program, start

from crisp_cadence import demo
from crisp_cadence.cli import STOPPED
from crisp_cadence.store import FILE_NAME, PATIENCE_S, Store, axes


@pytest.fixture
def running(tmp_path: Path) -> Iterator[Running]:
    with program(tmp_path) as made:
        yield made


def refused(running: Running, path: str, body: Any, method: str) -> tuple[int, dict[str, Any]]:
    try:
        return 200, running.ask(path, body, method)
    except urllib.error.HTTPError as error:
        return error.code, json.loads(error.read())


def an_axis(running: Running) -> tuple[str, dict[str, Any]]:
    machine = running.ask("/machines", {"name": "Bench"})["id"]
    axis = running.ask(f"/machines/{machine}/axes", {"name": "Slide"})["id"]
    return axis, running.ask(f"/axes/{axis}")["design"]


def command(folder: Path, *more: str) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [
            sys.executable,
            "-m",
            "crisp_cadence.cli",
            *(more or ("serve",)),
            "--data",
            str(folder),
            "--port",
            "0",
        ],
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )


class TestStarting:
    def test_two_demos_at_once_make_one_demo(self, tmp_path: Path) -> None:
        both = [start_later(tmp_path) for _ in range(2)]
        for thread, _ in both:
            thread.join()
        made = [running for _, box in both for running in box]
        try:
            shelves = [[(x["name"], len(x["axes"])) for x in running.ask("/shelf")] for running in made]
            assert shelves[0] == shelves[1]
            assert len(shelves[0]) == len(demo.MACHINES)
        finally:
            for running in made:
                running.stop()
                assert running.process.stdout is not None
                running.process.stdout.close()

    @pytest.mark.parametrize("what", ["newer", "folder", "text"])
    def test_no_address_is_announced_before_the_data_file_is_open(self, tmp_path: Path, what: str) -> None:
        folder = tmp_path / "data"
        if what == "folder":
            folder.write_text("a file")
        else:
            Store(folder).close()
        if what == "newer":
            with sqlite3.connect(folder / FILE_NAME) as db:
                db.execute("PRAGMA user_version = 99")
            db.close()
        elif what == "text":
            (folder / FILE_NAME).write_text("just words " * 500)
        process = command(folder)
        out = process.communicate(timeout=60)[0]
        assert process.returncode == 2
        assert "http://" not in out
        assert "Traceback" not in out
        assert len(out.strip().splitlines()) == 1, out

    def test_a_damaged_file_is_announced_and_served_for_reading(self, tmp_path: Path) -> None:
        store = Store(tmp_path)
        demo.fill(store)
        store.close()
        data = bytearray((tmp_path / FILE_NAME).read_bytes())
        data[4096 * 30 : 4096 * 31] = b"\xa5" * 4096
        (tmp_path / FILE_NAME).write_bytes(data)
        process = command(tmp_path)
        assert process.stdout is not None
        try:
            assert "is damaged (" in process.stdout.readline()
            assert "http://" in process.stdout.readline()
        finally:
            process.terminate()
            process.wait(timeout=60)
            process.stdout.close()


def start_later(folder: Path) -> tuple[threading.Thread, list[Running]]:
    box: list[Running] = []
    thread = threading.Thread(target=lambda: box.append(start(folder, "demo")))
    thread.start()
    return thread, box


def ended(process: subprocess.Popen[str]) -> str | None:
    """What a program said, once it has ended; None where it runs on."""
    try:
        return process.communicate(timeout=30)[0]
    except subprocess.TimeoutExpired:
        return None


class TestEnding:
    @pytest.mark.parametrize("told", [signal.SIGINT, signal.SIGTERM])
    def test_it_ends_in_the_middle_of_searches(self, tmp_path: Path, told: signal.Signals) -> None:
        """It waits for none of them to come to its end."""
        running = start(tmp_path, "demo")
        axis = next(a["id"] for x in running.ask("/shelf") for a in x["axes"] if a["name"] == "Aisle")
        design = running.ask(f"/axes/{axis}")["design"]
        body = json.dumps(
            {"design": design, "scope": "anything", "reductions": ["two closed belts"]}
        ).encode()
        request = urllib.request.Request(
            f"{running.url}/api/search", data=body, headers={"content-type": "application/json"}
        )
        answers = [urllib.request.urlopen(request, timeout=60) for _ in range(3)]
        for answer in answers:
            answer.readline()
        running.process.send_signal(told)
        out = running.process.communicate(timeout=60)[0]
        assert "Traceback" not in out
        for answer in answers:
            with pytest.raises((http.client.IncompleteRead, ConnectionError)):
                answer.read()
            answer.close()

    def test_ctrl_c_while_it_starts(self, tmp_path: Path) -> None:
        for wait in (0.05, 0.2, 0.4, 0.8):
            process = command(tmp_path / str(wait), "demo")
            time.sleep(wait)  # somewhere in the middle of starting; each moment must do
            process.send_signal(signal.SIGINT)
            out = ended(process)
            if out is None:
                # Python loses one that comes within its own imports, before the program's door is open, and
                # the maker presses again. Later ones are never lost.
                assert wait == 0.05
                process.send_signal(signal.SIGINT)
                out = process.communicate(timeout=60)[0]
                assert "importlib._bootstrap" in out
            assert process.returncode in (STOPPED, -signal.SIGINT), out
            # Within the interpreter's own start no program has a say; ours is not on the stack then.
            assert "crisp_cadence" not in out.replace("-m crisp_cadence", "") or "Traceback" not in out, out


class TestAFullDisk:
    def test_a_save_is_refused_in_words_and_done_once_there_is_room(
        self, running: Running, tmp_path: Path
    ) -> None:
        axis, design = an_axis(running)
        pid = running.process.pid
        unlimited = resource.prlimit(pid, resource.RLIMIT_FSIZE)
        resource.prlimit(pid, resource.RLIMIT_FSIZE, (1000, unlimited[1]))
        status, answer = refused(
            running, f"/axes/{axis}", {"base_version": 1, "design": {**design, "note": "full"}}, "PUT"
        )
        assert (status, answer["code"]) == (503, "not written")
        assert answer["detail"].startswith("The disk did not take what was to be written")
        assert running.ask(f"/axes/{axis}")["version"] == 1, "looks go on"
        resource.prlimit(pid, resource.RLIMIT_FSIZE, unlimited)
        assert (
            running.ask(f"/axes/{axis}", {"base_version": 1, "design": {**design, "note": "room"}}, "PUT")[
                "version"
            ]
            == 2
        )


class TestAForeignLock:
    def test_answers_go_on_while_saves_wait_at_most_two_seconds(
        self, running: Running, tmp_path: Path
    ) -> None:
        axis, design = an_axis(running)
        other = sqlite3.connect(tmp_path / FILE_NAME, isolation_level=None)
        other.execute("BEGIN IMMEDIATE")
        found: list[tuple[int, dict[str, Any]]] = []

        def save(path: str, body: Any, method: str) -> None:
            found.append(refused(running, path, body, method))

        machine = running.ask("/shelf")[0]["id"]
        waiting = [
            threading.Thread(target=save, args=args)
            for args in (
                (f"/axes/{axis}", {"base_version": 1, "design": {**design, "note": "x"}}, "PUT"),
                (f"/machines/{machine}/import", design, "POST"),
                ("/machines", {"name": "Second"}, "POST"),
            )
        ]
        for t in waiting:
            t.start()
        begun, answers = time.monotonic(), 0
        while any(t.is_alive() for t in waiting):
            running.ask("/shelf")
            running.ask("/evaluate", design)
            answers += 1
        waited = time.monotonic() - begun
        assert [s for s, _ in found] == [503, 503, 503]
        assert {a["code"] for _, a in found} == {"locked"}
        assert waited < 3 * PATIENCE_S, "three saves that wait do not wait one after the other"
        assert answers > 3, "a lock that is waited for holds up no other answer"
        other.execute("ROLLBACK")
        other.close()
        assert (
            running.ask(f"/axes/{axis}", {"base_version": 1, "design": {**design, "note": "x"}}, "PUT")[
                "version"
            ]
            == 2
        )


def test_a_demo_killed_while_it_is_seeded_is_whole_or_empty(tmp_path: Path) -> None:
    """A few moments here, hundreds in `make torture`."""
    for turn, wait in enumerate((0.5, 0.7, 0.9, 1.1)):
        folder = tmp_path / str(turn)
        process = command(folder, "demo")
        time.sleep(wait)
        process.kill()
        process.communicate()
        if (folder / FILE_NAME).exists():
            store = Store(folder)
            assert len(axes.machines(store)) in (0, len(demo.MACHINES))
            store.close()
