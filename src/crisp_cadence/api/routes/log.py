"""Readings and the log."""

from __future__ import annotations

import base64
from datetime import datetime
from typing import Any

from fastapi import Request

from ... import catalog
from ...core.ledger.errors import EntryError, problem
from ...core.tuning.heard import pitches
from ...core.tuning.listening import Heard, listen
from ...core.tuning.reading import Calibration, TensionAnswer, bands, calibrate, chosen_band, read_tension
from ...core.tuning.ripple import Ripple, ripples
from ...exchange.sound import read_sound
from ...store import axes, log
from .. import models as m
from .common import now, router, store_of


@router.post("/tension")
def tension(body: m.TensionBody) -> TensionAnswer:
    """What a pluck or a push says of the tension; nothing is stored."""
    return read_tension(body.design, catalog.profiles(), body.reading)


@router.post("/listen")
def listen_to(body: m.ListenBody) -> Heard:
    """Pitch of the run that is plucked in a sound; nothing is stored."""
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


@router.post("/calibrate")
def calibrate_steps(body: m.CalibrateBody) -> Calibration:
    """Steps per millimetre from measured moves; nothing is stored."""
    return calibrate(body.steps_mm, body.commanded_mm, body.measured_mm)


@router.get("/axes/{axis_id}/log")
def log_entries(request: Request, axis_id: m.Id) -> list[m.LogEntry]:
    return log.entries(store_of(request), axis_id)


@router.post("/axes/{axis_id}/log", status_code=201)
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
    reading: dict[str, Any] | None = None
    if body.reading is not None:
        answer = read_tension(axes.get_axis(store, axis_id).whole(), catalog.profiles(), body.reading)
        before = sum(
            e.kind == "tension" and e.on_date <= body.on_date and _of(e.reading) == (body.reading.of or "end")
            for e in log.entries(store, axis_id)
        )
        reading = log.kept(body.reading, answer, log.look_again(day, before))
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
    return m.IdAnswer(
        id=log.add(store, axis_id, body.on_date, body.kind, body.says, body.cost, reading, now())
    )


def _of(reading: dict[str, Any] | None) -> str:
    """Which belt a kept reading is of; the open one where it does not say."""
    return (reading or {}).get("of") or "end"


@router.delete("/axes/{axis_id}/log/{entry_id}", status_code=204)
def remove_log(request: Request, axis_id: m.Id, entry_id: m.Id) -> None:
    log.remove(store_of(request), axis_id, entry_id)
