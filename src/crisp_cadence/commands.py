"""Command line: crisp-cadence demo, serve, evaluate, export, search and its like, schema, examples."""

from __future__ import annotations

import argparse
import gc
import io
import json
import logging
import os
import socket
import sys
import threading
from contextlib import suppress
from io import TextIOWrapper
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import FrameType

from .core.ledger.errors import CrispError, EntryError, problem

PORT = 8321
# after being told to end; a search that goes on by then is cut off (every save is on the disk already)
END_WITHIN_S = 2.5
RUBBISH = 20_000  # objects made before rubbish is looked for: some ten answers, a few megabytes
CLOSED_PIPE = 141  # as shells have it for a program whose reader has gone
WAITING = 2048  # connections that may wait to be taken
LOG_NAME = "crisp-cadence.log"
LOG_BYTES = 2_400_000  # of the log and of the one before it, each
CHOOSING = {
    "search": "search the starter catalogue for the drives that hold, as JSON",
    "change": "try every single change to a design, and the cheapest that mends it, as JSON",
    "ways": "compare belt, screw and rack for a design's aim, as JSON",
    "propose": "up to three whole designs for a design's aim, as a JSON list",
    "far": "the most of each aim at which a design holds, and what mends what is short, as JSON",
}


def run(argv: list[str] | None) -> int:
    """Run a command; 0 when it went well, 2 when the input was refused."""
    parser = argparse.ArgumentParser(
        prog="crisp-cadence", description="Design, check, build, tune and log belt and pulley axes."
    )
    commands = parser.add_subparsers(dest="command", required=True)
    for name, says in (("demo", "serve the demo machines"), ("serve", "serve your own machines")):
        sub = commands.add_parser(name, help=says)
        sub.add_argument("--data", type=Path, help="folder of the data file")
        sub.add_argument(
            "--port",
            type=int,
            default=PORT,
            help=f"port on this machine (default {PORT}; 0 picks a free one)",
        )
    sub = commands.add_parser("evaluate", help="print the report of a design file as JSON")
    sub.add_argument("file", help="a design file, or - for standard input")
    for name, says in CHOOSING.items():
        sub = commands.add_parser(name, help=says)
        sub.add_argument("file", help="a design file with the aim, or - for standard input")
    sub = commands.add_parser(
        "schema", help="print the JSON Schema of the design file, or of a machine's file"
    )
    sub.add_argument("of", nargs="?", choices=["axis", "machine"], default="axis")
    sub = commands.add_parser(
        "work", help="the one order of work of a machine, as JSON; of a machine's file, or of several axes"
    )
    sub.add_argument("files", nargs="+", help="a machine's file (or - for standard input), or axis files")
    sub.add_argument("--on", default="", help="the day (YYYY-MM-DD); left out, today")
    sub = commands.add_parser("export", help="write a drawing or the cut list of a design file")
    sub.add_argument("file", help="a design file, or - for standard input")
    sub.add_argument(
        "what",
        nargs="?",
        default="",
        help="path:end, plate:end.motor_mount, stack:end.idler, cut …; left out, what there is is listed",
    )
    sub.add_argument(
        "--form",
        help="the format; left out, the first that goes with it (svg for a drawing, csv for the cut list)",
    )
    sub = commands.add_parser(
        "listen", help="pitch of a plucked belt in a sound file, as JSON; 3 if it cannot tell"
    )
    sub.add_argument("file", help="a WAV or FLAC file, or - for standard input")
    sub.add_argument("--design", help="a design file: its tension and verdict too")
    sub.add_argument(
        "--belt", default="", help="which belt: end, chain.1 …; left out, the end's or the only one"
    )
    sub.add_argument("--span", type=float, help="length of the run in mm; left out, the one that Tune names")
    sub = commands.add_parser("examples", help="write the demo designs as files")
    sub.add_argument("folder", type=Path)
    given = parser.parse_args(argv)
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):  # what goes out is UTF-8, whatever code page a terminal has
            stream.reconfigure(encoding="utf-8", errors="backslashreplace")
    try:
        done = _run(given)
        sys.stdout.flush()
        return done
    except BrokenPipeError:  # whoever read has enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return CLOSED_PIPE
    except EntryError as error:
        for p in error.problems:
            limit = f" (limit {p.limit} {p.unit})".replace(" )", ")") if p.limit else ""
            print(f"{p.field}: {p.message}; it is {p.value!r}{limit}. {p.remedy}", file=sys.stderr)
    except CrispError as error:
        print(error, file=sys.stderr)
    return 2


def _run(given: argparse.Namespace) -> int:
    match given.command:
        case "evaluate":
            from . import evaluate, parse_design
            from .core.account.report import report_json

            print(report_json(evaluate(parse_design(_read(given.file))), indent=2).decode())
        case "export":
            print(_export(_read(given.file), given.what, given.form), end="")
        case "search" | "change" | "ways" | "far" | "propose":
            print(_chosen(given.command, _read(given.file)))
        case "schema":
            from .core.design.design import design_schema
            from .core.machine.design import machine_schema

            schema = machine_schema() if given.of == "machine" else design_schema()
            print(json.dumps(schema, ensure_ascii=False, indent=2))
        case "work":
            return _worked(given)
        case "listen":
            return _listened(given)
        case "examples":
            from . import demo, dump_design

            try:
                given.folder.mkdir(parents=True, exist_ok=True)
                for name, design in demo.designs().items():
                    given.folder.joinpath(f"{name}.json").write_text(dump_design(design), encoding="utf-8")
                    print(given.folder / f"{name}.json")
            except OSError as error:
                raise EntryError(
                    [
                        problem(
                            "folder",
                            "cannot be written",
                            value=str(given.folder),
                            limit=error.strerror or "",
                            remedy="Choose another folder.",
                        )
                    ]
                ) from None
        case _:
            _serve(given)
    return 0


def _export(text: bytes, what: str, form: str | None) -> str:
    """A drawing or the cut list of a design, worked out without a drawer."""
    from . import catalog, parse_design
    from .core.fitting.plan import plan_belts
    from .exchange.formats import CUT, format_for, written

    design = parse_design(text)
    if not what:
        rows = plan_belts(design, catalog.profiles(), []).out
        return "".join(f"{row.what}\t{row.name}\n" for row in rows) + f"{CUT}\tCut list\n"
    return written(design, catalog.profiles(), [], what, format_for(what, form))


CANNOT_TELL = 3


def _worked(given: argparse.Namespace) -> int:
    """The one order of work; what is left out is told, and it ends with 2 where nothing is left."""
    from dataclasses import asdict
    from datetime import date

    from . import catalog
    from .core.design.design import read_json
    from .core.machine.design import FORMAT, LARGEST_MACHINE, MachineAxis, MachineFile, machine_from
    from .core.machine.report import machine_report

    texts = [_read(file) for file in given.files]
    first = read_json(texts[0], given.files[0], LARGEST_MACHINE, "a machine's file, or axis files")
    if isinstance(first, dict) and first.get("format") == FORMAT:
        if len(texts) > 1:
            raise EntryError(
                [
                    problem(
                        "files",
                        "are more than one machine",
                        value=len(texts),
                        limit="one machine's file, or several axis files",
                        remedy="Give the machine's file alone.",
                    )
                ]
            )
        machine = machine_from(first)
    else:
        from . import parse_design

        axes = [MachineAxis(key=f"{i}", design=parse_design(text)) for i, text in enumerate(texts, start=1)]
        machine = MachineFile(name="These axes", axes=axes)
    report = machine_report(machine, catalog.profiles(), given.on or date.today().isoformat())
    answer = {
        "machine": report.name,
        "work": [{"number": w.number, "axis": w.axis_name, **asdict(w.step)} for w in report.work],
        "until": [asdict(u) for u in report.until],
        "left_out": list(report.left_out),
    }
    print(json.dumps(answer, ensure_ascii=False, indent=2))
    for line in report.left_out:
        print(line, file=sys.stderr)
    return 2 if report.left_out and not report.work else 0


def _listened(given: argparse.Namespace) -> int:
    """Pitch of a recording, and with a design its tension; 3 and the reason where none is sure."""
    from . import catalog, parse_design
    from .core.ledger.long_work import as_json
    from .core.tuning.heard import belt_heard
    from .core.tuning.listening import listen
    from .exchange.sound import LARGEST_SOUND, read_sound

    samples, rate = read_sound(_read(given.file, LARGEST_SOUND))
    if given.design is None:
        heard = listen(samples, rate)
        out: dict[str, object] = {}
    else:
        design = parse_design(_read(given.design))
        heard, out = belt_heard(design, catalog.profiles(), samples, rate, given.belt, given.span)
    plucks = [
        {"at_s": p.at_s, "pitch_hz": p.pitch_hz or None, "partials": p.partials, "why": p.why}
        for p in heard.plucks
    ]
    said = {
        "pitch_hz": heard.pitch_hz,
        "free_hz": heard.free_hz,
        "spread_hz": heard.spread_hz,
        "plucks": plucks,
        "says": heard.says,
    }
    print(as_json(said | out).decode())
    if heard.pitch_hz is None:
        print(heard.says, file=sys.stderr)
        return CANNOT_TELL
    return 0


def _chosen(how: str, text: bytes) -> str:
    """A search, one change, other ways or proposals from the starter catalogue; or how far."""
    from . import catalog, parse_design
    from .core.choosing.find import search
    from .core.choosing.how_far import reaches
    from .core.choosing.propose import list_json, propose
    from .core.choosing.tries import one_change
    from .core.choosing.ways import all_ways
    from .core.ledger.long_work import as_json

    design, profiles, drawer = parse_design(text), catalog.profiles(), catalog.stock()
    if how == "propose":
        return list_json(propose(design, profiles, drawer))
    if how == "far":
        return as_json(reaches(design, profiles)).decode()
    if how == "search":
        return as_json(search(design, profiles, drawer)).decode()
    work = one_change if how == "change" else all_ways
    return as_json(work(design, profiles, drawer)).decode()


def _read(name: str, most: int | None = None) -> bytes:
    from .core.design.design import LARGEST_FILE

    most = most or LARGEST_FILE
    try:
        if name == "-":
            return sys.stdin.buffer.read(most + 1)
        with open(name, "rb") as file:
            return file.read(most + 1)
    except OSError as error:
        raise EntryError(
            [
                problem(
                    "file", "cannot be read", value=name, limit=error.strerror or "", remedy="Check the name."
                )
            ]
        ) from None


def _serve(given: argparse.Namespace) -> None:
    """Serve on loopback, once the data file is open. The socket names IPPROTO_TCP: without it Nagle's delay
    costs some 40 ms a request.
    """
    gc.disable()  # until all is loaded: looking for rubbish would take a fifth of the start
    import platformdirs
    import uvicorn

    from .api.app import make_app
    from .api.protocol import Bounded
    from .store import Store

    if not 0 <= given.port <= 65535:
        raise EntryError(
            [
                problem(
                    "port",
                    "is not a port",
                    value=given.port,
                    limit="0 to 65535",
                    remedy="Leave it out, or take one above 1024.",
                )
            ]
        )
    listening = _listen(given.port)
    folder = given.data or Path(platformdirs.user_data_dir("crisp-cadence")) / (
        "demo" if given.command == "demo" else "machines"
    )
    store = Store(folder)
    _log_to(folder)
    if store.damage is not None:
        copy = store.last_copy()
        print(
            f"{store.damage} Open the page to rescue what can be read."
            + (f" The newest copy set aside is {copy.name}." if copy else ""),
            flush=True,
        )
    elif given.command == "demo":
        from . import demo

        demo.fill(store)
    print(
        f"Crisp Cadence on http://127.0.0.1:{listening.getsockname()[1]}  (data in {folder}; stop "
        f"with Ctrl+C)",
        flush=True,
    )
    config = uvicorn.Config(
        make_app(store),
        http=Bounded,
        log_config=None,
        access_log=False,
        server_header=False,
        timeout_graceful_shutdown=1,
    )

    class Server(uvicorn.Server):
        def handle_exit(self, sig: int, frame: FrameType | None) -> None:
            _end_soon()
            super().handle_exit(sig, frame)

    sys.setswitchinterval(
        0.001
    )  # an answer is not to wait five milliseconds, at each of its steps, for work in another thread
    gc.freeze()  # nor, each time that rubbish is collected, until all that was loaded has been looked through
    gc.set_threshold(RUBBISH)
    gc.enable()
    Server(config).run(sockets=[listening])


def _end_soon() -> None:
    """See to it that the program ends, whatever runs: all that was acknowledged is on the disk already."""
    logging.getLogger("uvicorn.error").setLevel(
        logging.CRITICAL
    )  # that a request was cut off is what was asked for
    timer = threading.Timer(END_WITHIN_S, os._exit, (0,))
    timer.daemon = True
    timer.start()


class _OneLine(logging.Formatter):
    """What a terminal shows of a fault: the line alone; its traceback stands in the log file."""

    def format(self, record: logging.LogRecord) -> str:
        return f"{record.levelname.lower()}: {record.getMessage()}"


class _OwnLog(RotatingFileHandler):
    """A log that its owner alone may read, and the one before it."""

    def _open(self) -> TextIOWrapper:
        with suppress(OSError):
            os.close(os.open(self.baseFilename, os.O_CREAT | os.O_APPEND, 0o600))
            os.chmod(self.baseFilename, 0o600)
        return super()._open()


def _log_to(folder: Path) -> None:
    """Warnings and faults go to a file beside the data, in full, and to the terminal in one line each."""
    whole = _OwnLog(folder / LOG_NAME, maxBytes=LOG_BYTES, backupCount=1, delay=True, encoding="utf-8")
    whole.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
    line = logging.StreamHandler()
    line.setFormatter(_OneLine())
    logging.basicConfig(level=logging.WARNING, handlers=[whole, line])


def _listen(port: int) -> socket.socket:
    listening = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listening.bind(("127.0.0.1", port))
        listening.listen(WAITING)  # of two starts at one moment both may bind: here the second is refused
    except OSError as error:
        raise EntryError(
            [
                problem(
                    "port",
                    "cannot be opened",
                    value=port,
                    limit=error.strerror or "",
                    remedy="Another program uses it: choose another with --port.",
                )
            ]
        ) from None
    return listening
