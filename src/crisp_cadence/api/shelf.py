"""What the shelf shows: each axis as one line, kept under all that it follows from and made again only when
that changes.
"""

from __future__ import annotations

import hashlib
import logging
import threading
from contextlib import suppress
from dataclasses import dataclass
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import Any

from pydantic import TypeAdapter, ValidationError

from .. import catalog
from ..core.design.riding import Standing, carried
from ..core.evaluation.evaluate import evaluate
from ..core.ledger.errors import CrispError, EntryError, StoreError
from ..core.machine.money import cents
from ..store import Store, axes, log
from .models import AxisLine, MachineLine, MachineSums

_ENTRY = TypeAdapter(log.LogEntry)
_log = logging.getLogger(__name__)


def _program() -> str:
    """What the numbers of this program follow from beside a design: its own modules, and the catalogue."""
    made = hashlib.sha256()

    def walk(folder: Traversable) -> None:
        for item in sorted(folder.iterdir(), key=lambda i: i.name):
            if item.is_dir():
                walk(item)
            elif item.name.endswith((".py", ".json")):
                made.update(item.read_bytes())

    for room in ("core", "catalog"):
        walk(files("crisp_cadence").joinpath(room))
    return made.hexdigest()[:16]


@dataclass(frozen=True)
class _Line:
    """An axis's line as JSON, and of its money what a machine's sums are made from."""

    text: bytes
    money: AxisLine

    @classmethod
    def of(cls, line: AxisLine) -> _Line:
        return cls(line.model_dump_json().encode(), line.model_copy(update={"scene": None}))


class Shelf:
    """The shelf's lines of one store, each as the JSON of its `AxisLine`: most of an answer is put together
    from what stands ready.
    """

    def __init__(self, store: Store) -> None:
        self._store = store
        self._program = _program()
        self._making = threading.Lock()
        self._lines: dict[str, tuple[str, _Line]] | None = None

    def as_json(self) -> bytes:
        """A list of `ShelfMachine`. One axis that cannot be read or worked out is a line that says so."""
        current, last = self._current(), log.newest(self._store)
        lines = {a: line.text for a, line in current.items()}

        def axis(key: str) -> bytes:
            entry = _ENTRY.dump_json(last[key]) if key in last else b"null"
            return b'{"id":"%s","last_log":%s,%s' % (key.encode(), entry, lines[key][1:])

        def machine(found: axes.Machine) -> bytes:
            listed = b",".join(axis(a) for a in found.axes if a in lines)
            head = (
                MachineLine(
                    id=found.id,
                    name=found.name,
                    note=found.note,
                    version=found.version,
                    sums=_sums([current[a].money for a in found.axes if a in current]),
                )
                .model_dump_json()
                .encode()
            )
            return b'%s,"axes":[%s]}' % (head[:-1], listed)

        return b"[%s]" % b",".join(machine(x) for x in axes.machines(self._store))

    def _current(self) -> dict[str, _Line]:
        with self._making:  # several windows ask at once: one of them makes what is missing
            places = axes.places(self._store)
            on: dict[str, dict[str, str | None]] = {}
            for place in places.values():
                on.setdefault(place.machine_id, {})[place.id] = place.rides_on
            mounts = {place.rides_on for place in places.values()}
            wanted = {
                a: self._made_from(a, places, carried(on[place.machine_id], [a]) if a in mounts else [a])
                for a, place in places.items()
            }
            if self._lines is None:
                self._lines = self._kept()
            missing = [a for a, key in wanted.items() if self._lines.get(a, ("",))[0] != key]
            if missing:
                self._make(missing, wanted, places, on)
            self._lines = {a: self._lines[a] for a in wanted if a in self._lines}
            return {a: line for a, (_, line) in self._lines.items()}

    def _made_from(self, axis: str, places: dict[str, axes.Place], riding: list[str]) -> str:
        """All that a line follows from: the program, the axis, and what rides on it, each at its revision."""
        return " ".join(
            [self._program, axis, *(f"{a}.{places[a].version}.{places[a].rides_on or ''}" for a in riding)]
        )

    def _kept(self) -> dict[str, tuple[str, _Line]]:
        out = {}
        for axis, (made_from, line) in axes.kept_lines(self._store).items():
            with suppress(ValidationError):  # one that cannot be read is made again
                out[axis] = (made_from, _Line.of(AxisLine.model_validate_json(line)))
        return out

    def _make(
        self,
        missing: list[str],
        wanted: dict[str, str],
        places: dict[str, axes.Place],
        on: dict[str, dict[str, str | None]],
    ) -> None:
        made: dict[str, tuple[str, _Line]] = {}
        for machine, under in on.items():
            here = [a for a in missing if places[a].machine_id == machine]
            if here:
                standing = axes.standing(self._store, carried(under, here))
                made |= {a: (wanted[a], _Line.of(line_of(standing[a]))) for a in here if a in standing}
        self._lines = (self._lines or {}) | made
        with suppress(StoreError):  # it is kept in memory then, and made again after the next start
            axes.keep_lines(self._store, {a: (key, line.text.decode()) for a, (key, line) in made.items()})


def _sums(lines: list[AxisLine]) -> MachineSums:
    """What a machine's axes cost together: the sum of what each shows, to the cent."""
    counted = [x for x in lines if x.total is not None]
    currencies = {x.currency for x in counted}
    alike = len(currencies) == 1
    return MachineSums(
        total=float(sum(cents(x.total or 0.0) for x in counted)) if alike else None,
        spend=float(sum(cents(x.spend or 0.0) for x in counted)) if alike else None,
        about=any(x.about for x in counted),
        unpriced=sum(x.unpriced for x in counted),
        left_out=len(lines) - len(counted),
        currency=currencies.pop() if alike else ", ".join(sorted(currencies)),
    )


def line_of(axis: Standing) -> AxisLine:
    """One axis on the shelf, whatever is the matter with it."""
    base: dict[str, Any] = {
        "name": axis.name,
        "total": None,
        "spend": None,
        "about": False,
        "typical": 0,
        "unpriced": 0,
        "currency": "",
        "scene": None,
    }
    if axis.design is None:
        return AxisLine(**base, verdict="cannot be read", in_words=_why(axis.problems[0]))
    base["currency"] = axis.design.aim.currency
    try:
        if axis.problems:
            raise EntryError(list(axis.problems))
        report = evaluate(axis.design, catalog.profiles())
    except EntryError as error:
        return AxisLine(**base, verdict="cannot be worked out", in_words=_why(error.problems[0]))
    except CrispError as error:
        return AxisLine(**base, verdict="cannot be worked out", in_words=str(error))
    except Exception as error:
        _log.exception("an axis could not be worked out")
        return AxisLine(
            **base,
            verdict="cannot be worked out",
            in_words=f"a fault of this program, not of the design ({type(error).__name__})",
        )
    return AxisLine(
        **base
        | {
            "total": report.bill_total,
            "spend": report.bill_to_spend,
            "about": any(line.typical for line in report.bill),
            "typical": report.bill_typical,
            "unpriced": report.bill_unpriced,
            "scene": report.scene,
        },
        verdict=report.verdict,
        in_words=report.in_words,
    )


def _why(found: Any) -> str:
    return f"{found.field} {found.message}"
