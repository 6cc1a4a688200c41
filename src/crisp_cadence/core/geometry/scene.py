"""True-scale drawings as data: wheels, strands, slabs and marks in millimetres, each with how it moves per
millimetre of travel.

Everything moves in a straight line or turns, so a screen only multiplies: place + travel·(dx, dy), angle +
travel·turn.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import lru_cache
from typing import Literal

from pydantic import TypeAdapter

from ..fields.profile import Profile
from ..ledger.record import record
from .path import Path

WheelForm = Literal["toothed", "smooth", "groove", "drum", "tyre", "pinion"]
SlabForm = Literal["rail", "carriage", "motor", "frame", "load", "rack", "screw", "arm", "work"]


@record
class Spot:
    """A place, and how far it goes for each millimetre of travel."""

    x_mm: float
    y_mm: float
    dx: float = 0.0
    dy: float = 0.0


@record
class Snap:
    """A value that a dragged number falls into, and what is good about it."""

    value: float
    says: str


@record
class Handle:
    """What dragging does: this number of the design grows by dx and dy for each millimetre that the hand
    moves along x and y.
    """

    field: str
    value: float
    dx: float
    dy: float
    whole: bool = False
    snaps: tuple[Snap, ...] = ()


@record
class SceneWheel:
    """Something round that turns, in one of the planes that belts run in; `teeth` is 0 for a smooth one,
    `turn` in radians per millimetre, anticlockwise.
    """

    name: str
    form: WheelForm
    at: Spot
    radius_mm: float
    outside_mm: float
    bore_mm: float
    turn: float
    teeth: int = 0
    pitch_mm: float = 0.0
    tooth_mm: float = 0.0
    flank_deg: float | None = None
    wrap_deg: float | None = None
    meshed: int | None = None
    field: str = ""
    part: str = ""
    handles: tuple[Handle, ...] = ()
    plane: int = 0


@record
class Piece:
    """From one spot to another: straight when the radius is 0, else an arc, anticlockwise when `ccw`."""

    start: Spot
    stop: Spot
    radius_mm: float = 0.0
    ccw: bool = False
    large: bool = False


@record
class Strand:
    """A belt or a rope; `runs` is how far it runs along itself for each millimetre of travel."""

    form: Literal["toothed", "v", "rope"]
    pieces: tuple[Piece, ...]
    runs: float
    pitch_mm: float = 0.0
    plane: int = 0


@record
class Slab:
    """A rectangle about its centre; one with a pivot turns about that."""

    form: SlabForm
    at: Spot
    width_mm: float
    height_mm: float
    pivot: Spot | None = None
    angle: float = 0.0
    turn: float = 0.0


@record
class Mark:
    """A word or a measure beside a place; `to` makes it a dimension line.

    A level lifts it clear of the drawing, whatever the scale: 1 is the first row above it, −1 the first
    below.
    """

    text: str
    at: Spot
    to: Spot | None = None
    value_mm: float | None = None
    level: int = 0


@record
class Scene:
    """One drawing. What is dragged along the travel is said by `point`."""

    title: str
    point: str
    travel_mm: float
    wheels: tuple[SceneWheel, ...] = ()
    strands: tuple[Strand, ...] = ()
    slabs: tuple[Slab, ...] = ()
    marks: tuple[Mark, ...] = ()


def strand_of(
    path: Path,
    form: Literal["toothed", "v", "rope"],
    runs: float,
    pitch_mm: float = 0.0,
    moves: Iterable[tuple[float, float]] | None = None,
) -> Strand:
    """A strand from a worked-out path; `moves` says how each pulley travels (dx, dy per millimetre)."""
    drift = list(moves) if moves is not None else [(0.0, 0.0)] * len(path.rounds)
    count, pieces = len(path.rounds), []
    for i, span in enumerate(path.spans):
        j = (i + 1) % count
        pieces.append(Piece(Spot(span.x0_mm, span.y0_mm, *drift[i]), Spot(span.x1_mm, span.y1_mm, *drift[j])))
        wheel, wrap = path.rounds[j], path.wraps[j]
        if wheel.radius_mm > 0 and wrap > 0 and (j or len(path.spans) == count):
            after = path.spans[j % len(path.spans)]
            here, there = Spot(span.x1_mm, span.y1_mm, *drift[j]), Spot(after.x0_mm, after.y0_mm, *drift[j])
            pieces.append(Piece(here, there, wheel.radius_mm, wheel.side > 0, wrap > math.pi))
    return Strand(form, tuple(pieces), runs, pitch_mm)


def toothed_wheel(
    name: str,
    profile: Profile,
    at: Spot,
    radius_mm: float,
    bore_mm: float,
    turn: float,
    wrap_rad: float,
    smooth_mm: float | None,
    field: str,
    part: str,
    handles: tuple[Handle, ...],
) -> SceneWheel:
    """A pulley or idler of a belt profile; `smooth_mm` is the outside radius of a smooth one, `part` the
    design path that it stands for.
    """
    degrees = math.degrees(wrap_rad)
    if smooth_mm is not None:
        return SceneWheel(
            name,
            "smooth",
            at,
            radius_mm,
            smooth_mm,
            min(bore_mm, smooth_mm),
            turn,
            0,
            0.0,
            0.0,
            None,
            degrees,
            None,
            field,
            part,
            handles,
        )
    teeth = round(2 * math.pi * radius_mm / profile.pitch_mm)
    meshed = math.floor(teeth * wrap_rad / (2 * math.pi) + 1e-9)
    return SceneWheel(
        name,
        "toothed",
        at,
        radius_mm,
        radius_mm - profile.pitch_line_mm,
        bore_mm,
        turn,
        teeth,
        profile.pitch_mm,
        profile.tooth_height_mm,
        profile.flank_deg,
        degrees,
        meshed,
        field,
        part,
        handles,
    )


@lru_cache(maxsize=1)
def _adapter() -> TypeAdapter[tuple[Scene, ...]]:
    return TypeAdapter(tuple[Scene, ...])


def scenes_json(scenes: tuple[Scene, ...]) -> bytes:
    """Drawings as JSON."""
    return _adapter().dump_json(scenes)
