"""Readings and the log."""

from __future__ import annotations

import base64
from datetime import date, datetime
from typing import Any

from fastapi import Request

from ... import catalog
from ...core.ledger.errors import EntryError, problem
from ...core.tuning.bench import Bench, bench
from ...core.tuning.calibrating import Calibrated, calibrated
from ...core.tuning.heard import pitches
from ...core.tuning.listening import Heard, listen
from ...core.tuning.moves import program
from ...core.tuning.reading import TensionAnswer, bands, chosen_band, read_tension
from ...core.tuning.ripple import Ripple, ripples
from ...core.tuning.squaring import Squared, squared
from ...core.tuning.taken import AnyReading, taken
from ...core.tuning.teaching import Lesson, lesson
from ...core.tuning.trials import TrialAnswer, tried
from ...exchange.gcode import typed, written
from ...exchange.sound import read_sound
from ...store import Store, axes, log
from ...store.log import LogKind
from .. import models as m
from ..turns import Turns
from .common import act, now, router, store_of


@router.post("/tension")
def tension(body: m.TensionBody) -> TensionAnswer:
    """What a pluck or a push says of the tension; nothing is stored."""
    return read_tension(body.design, catalog.profiles(), body.reading)


@router.post("/bench")
def to_measure(body: m.ChangeBody) -> Bench:
    """Every belt, trial and scale of an axis, with what is right and how it is read; nothing is stored."""
    return bench(body.design, catalog.profiles())


@router.post("/trial")
def trial(body: m.TrialBody) -> TrialAnswer:
    """What a reading of a trial says; nothing is stored."""
    return tried(body.design, catalog.profiles(), body.reading)


@router.post("/listen")
async def listen_to(request: Request, body: m.ListenBody) -> Heard:
    """Pitch of the run that is plucked in a sound, in turn with the other long work; nothing is stored."""
    turns: Turns = request.app.state.turns
    return await turns.taken(lambda: heard(body))


def heard(body: m.ListenBody) -> Heard:
    """What is heard in a sound."""
    try:
        data = base64.b64decode(body.sound, validate=True)
    except ValueError:
        raise EntryError(
            [problem("sound", "is not base64", limit="base64", remedy="Send the file's bytes as base64.")]
        ) from None
    samples, rate = read_sound(data)
    if body.run is None:
        return listen(samples, rate)
    band = chosen_band(bands(body.run.design, catalog.profiles()), body.run.of)
    return listen(samples, rate, pitches(band, body.run.span_mm))


@router.post("/ripple")
def ripple(body: m.RippleBody) -> tuple[Ripple, ...]:
    """The parts that come again at the spacing of a ripple, and what rings; nothing is stored."""
    return ripples(body.design, catalog.profiles(), body.spacings_mm, body.speed_mm_s)


@router.post("/square")
def square(body: m.SquareBody) -> Squared:
    """Which side of a beam is ahead, by how much, and what brings it back; nothing is stored."""
    return squared(body.design, catalog.profiles(), body.reading)


@router.post("/moves")
def moves(body: m.MovesBody) -> m.MovesAnswer:
    """Test moves within the soft limits, as a file and as commands to type; nothing is stored."""
    made = program(body.design, catalog.profiles(), body.wanted)
    lines = tuple(m.CommandLine(code=code, says=says) for code, says in typed(made))
    return m.MovesAnswer(program=made, lines=lines, text=written(made, body.design.name))


@router.post("/teach")
def teach(body: m.TeachBody) -> Lesson:
    """What readings teach: the part likeliest to be other than the design says; nothing is stored."""
    return lesson(body.design, catalog.profiles(), body.readings)


@router.post("/calibrate")
def calibrate(body: m.CalibrateBody) -> Calibrated:
    """Steps for a millimetre or a degree, or the feed by its duty, from measured moves; nothing is stored."""
    return calibrated(body.design, catalog.profiles(), body.reading)


@router.get("/axes/{axis_id}/log")
def log_entries(request: Request, axis_id: m.Id) -> list[m.LogEntry]:
    return log.entries(store_of(request), axis_id)


@router.post("/axes/{axis_id}/log", status_code=201)
@act
def add_log(request: Request, axis_id: m.Id, body: m.LogBody) -> m.IdAnswer:
    """Write an entry down; a tension reading is worked out with the design as it stands."""
    store = store_of(request)
    try:
        day = datetime.strptime(body.on_date, "%Y-%m-%d").date()
    except ValueError:
        raise EntryError(
            [
                problem(
                    "on_date",
                    "is not a day of the calendar",
                    value=body.on_date,
                    limit="YYYY-MM-DD",
                    remedy="Enter a real day.",
                )
            ]
        ) from None
    kind, reading = body.kind, None
    if body.reading is not None:
        kind, reading = _kept(store, axis_id, day, body.reading)
    if reading is None and not body.says.strip() and body.cost is None:
        raise EntryError(
            [
                problem(
                    "says",
                    "is empty, and there is neither a cost nor a reading",
                    remedy="Write a line, or add what it cost or what you measured.",
                )
            ]
        )
    return m.IdAnswer(id=log.add(store, axis_id, body.on_date, kind, body.says, body.cost, reading, now()))


def _kept(store: Store, axis_id: str, day: date, reading: AnyReading) -> tuple[LogKind, dict[str, Any]]:
    """What the log keeps of a reading; its kind follows from what was read."""
    kind, kept = taken(axes.get_axis(store, axis_id).whole(), catalog.profiles(), reading)
    if kind == "tension":
        before = sum(
            e.kind == kind and e.on_date <= day.isoformat() and log.belt_of(e) == kept["of"]
            for e in log.entries(store, axis_id)
        )
        kept["look_again"] = log.look_again(day, before).isoformat()
    return kind, kept


@router.delete("/axes/{axis_id}/log/{entry_id}", status_code=204)
@act
def remove_log(request: Request, axis_id: m.Id, entry_id: m.Id) -> None:
    log.remove(store_of(request), axis_id, entry_id)
