"""The belt as it is laid: which part of the design stands at which place of a path, and what a hand may drag.

Every belt of an axis, open or closed, is a row of rounds in belt order at a place of the travel. Lengths,
wraps, drawings, heights, loads and files all come from that row.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial
from typing import Any

from ..fields.belts import Idler, Pulley, Roller
from ..fields.part import part_at
from ..fields.profile import Profile
from ..formulas import belt
from ..ledger.errors import Problem, Refuse, problem
from ..ledger.formula import Real
from ..ledger.many import total
from ..ledger.record import record
from .path import Path, Round
from .scene import Handle, Piece, SceneWheel, Snap, Spot, toothed_wheel


@record
class Laid:
    """One belt of an axis, worked out at both ends of the travel (the same path twice where nothing
    moves).
    """

    at: str
    profile: Profile
    width_mm: Real
    closed: bool
    near: Path
    far: Path
    moves: tuple[tuple[Real, Real], ...]
    tension_n: float | None = None  # at rest, once it is known
    which: str = ""  # of two alike

    @property
    def name(self) -> str:
        """What it is called."""
        return (
            f"{'Closed belt, ' if self.closed else ''}{self.profile.name}, {self.width_mm:g} mm wide"
            f"{self.which and ', '}{self.which}"
        )


def pitch_line_radius(idler: Idler, profile: Profile, back: bool = False) -> Real:
    """Radius of the belt's pitch line on an idler or roller, mm, by the same formulas as the ledger's."""
    if idler.kind == "toothed":
        return belt.pitch_diameter(idler.teeth, profile.pitch_mm) / 2
    if back:
        return belt.smooth_idler_radius_back(
            idler.diameter_mm, profile.thickness_mm, profile.tooth_height_mm, profile.pitch_line_mm
        )
    return belt.smooth_idler_radius_tooth_side(
        idler.diameter_mm, profile.tooth_height_mm, profile.pitch_line_mm
    )


def rollers_at(
    rollers: Sequence[Roller],
    at: str,
    profile: Profile,
    side: int,
    where: str,
    origin: tuple[float, float] = (0.0, 0.0),
) -> list[Round]:
    """Rounds of the rollers that stand in one place of the belt's order; `side` is the drive pulley's."""
    return [
        Round(
            roller.label or f"Roller {i + 1}",
            origin[0] + roller.x_mm,
            origin[1] + roller.y_mm,
            pitch_line_radius(roller, profile, roller.belt_on == "back"),
            -side if roller.belt_on == "back" else side,
            f"{at}.{i}.x_mm",
            f"{at}.{i}",
        )
        for i, roller in enumerate(rollers)
        if roller.where == where
    ]


def check_rollers(rollers: Sequence[Roller], at: str, profile: Profile, refuse: Refuse) -> None:
    """Rollers that no belt can run on."""
    for i, roller in enumerate(rollers):
        if roller.kind != "toothed":
            continue
        refuse(roller.belt_on == "back", partial(_no_teeth_there, f"{at}.{i}"))
        refuse(roller.teeth < profile.min_teeth, partial(_too_few, f"{at}.{i}", roller, profile))


def _no_teeth_there(at: str) -> Problem:
    return problem(
        f"{at}.belt_on",
        "has teeth, and the belt's back has none",
        value="back",
        limit="teeth",
        remedy="Let it touch the toothed side, or take a smooth roller.",
    )


def _too_few(at: str, roller: Roller, profile: Profile) -> Problem:
    return problem(
        f"{at}.teeth",
        f"is below what {profile.name} allows: the belt would be bent too sharply",
        value=roller.teeth,
        limit=profile.min_teeth,
        unit="teeth",
        remedy=f"Take at least {profile.min_teeth} teeth, or a smooth roller.",
    )


def split_at(path: Path, part: str) -> tuple[Real, Real]:
    """Belt on either side of a pulley, along an open path: straight pieces and what lies on the other
    pulleys, mm.
    """
    k = next(i for i, r in enumerate(path.rounds) if r.part == part)
    arcs = [r.radius_mm * w for r, w in zip(path.rounds, path.wraps, strict=True)]
    before = total([s.length_mm for s in path.spans[:k]]) + total(arcs[:k])
    after = total([s.length_mm for s in path.spans[k:]]) + total(arcs[k + 1 :])
    return before, after


def wheels_of(
    laid: Laid, design: Any, runs: float, handles: dict[str, tuple[Handle, ...]]
) -> tuple[SceneWheel, ...]:
    """Every pulley of a laid belt as it is drawn; `runs` is how far the belt runs for a millimetre of
    travel.
    """
    out = []
    for round_, wrap, (dx, dy) in zip(laid.near.rounds, laid.near.wraps, laid.moves, strict=True):
        if round_.radius_mm <= 0:
            continue
        part = part_at(design, round_.part)
        # A belt that lies still turns a pulley that rides over it; one that runs turns a pulley that stands.
        turn = round_.side * (runs - (dx if runs == 0 else 0.0)) / round_.radius_mm
        smooth = part.diameter_mm / 2 if isinstance(part, Idler) and part.kind == "smooth" else None
        bore = part.bore_mm if isinstance(part, Pulley) else part.axle_mm
        spot = Spot(round_.x_mm, round_.y_mm, dx, dy)
        name = round_.name[:1].upper() + round_.name[1:]
        held = handles.get(round_.part, ())
        out.append(
            toothed_wheel(
                name,
                laid.profile,
                spot,
                round_.radius_mm,
                bore,
                turn,
                wrap,
                smooth,
                round_.field,
                round_.part,
                held,
            )
        )
    return tuple(out)


def roller_handles(
    rollers: Sequence[Roller],
    at: str,
    path: Path,
    origin: tuple[float, float] = (0.0, 0.0),
    mirror: bool = False,
) -> dict[str, tuple[Handle, ...]]:
    """A roller follows the hand in both directions, and falls into line with the other axes of its path."""
    sign = -1.0 if mirror else 1.0
    others = [
        (r.name, r.x_mm - origin[0], r.y_mm - origin[1], r.part) for r in path.rounds if r.radius_mm > 0
    ]
    out: dict[str, tuple[Handle, ...]] = {}
    for i, roller in enumerate(rollers):
        part = f"{at}.{i}"
        across = tuple(Snap(x, f"over the {name}") for name, x, _, p in others if p != part)
        level = tuple(Snap(y, f"level with the {name}") for name, _, y, p in others if p != part)
        out[part] = (
            Handle(f"{part}.x_mm", roller.x_mm, sign, 0.0, snaps=across),
            Handle(f"{part}.y_mm", roller.y_mm, 0.0, 1.0, snaps=level),
        )
    return out


OFFERED_MM = 16.0  # diameter of a roller that is offered
PRESSED_MM = 3.0  # how far it presses the run aside


def roller_offer(laid: Laid, origin: tuple[float, float]) -> dict[str, Any]:
    """A roller on the belt's back, pressing it aside by 3 mm: on the run that leaves the drive pulley, or
    behind the idler where that is short.
    """
    k = next((i for i, r in enumerate(laid.near.rounds) if r.part.endswith((".pulley", ".driver"))), 0)
    where, side, along = "after the pulley", laid.near.rounds[k].side, 0.5
    if laid.near.spans[k].length_mm < 4 * OFFERED_MM and any(
        r.part.endswith(".idler") for r in laid.near.rounds
    ):
        k = max(i for i, r in enumerate(laid.near.rounds[:-1]) if r.part.endswith(".idler"))
        where, along = "after the idler", min(0.5, 3 * OFFERED_MM / max(laid.near.spans[k].length_mm, 1.0))
    span = laid.near.spans[k]
    length = max(span.length_mm, 1e-9)
    # Teeth run on the drive pulley's side of the belt; the back is the other one.
    back = (side * (span.y1_mm - span.y0_mm) / length, -side * (span.x1_mm - span.x0_mm) / length)
    offered = Roller(
        diameter_mm=max(
            OFFERED_MM, math.ceil(laid.profile.min_teeth * laid.profile.pitch_mm / math.pi * 1.5)
        ),
        label="Roller",
    )
    out = pitch_line_radius(offered, laid.profile, back=True) - PRESSED_MM
    x, y = (
        span.x0_mm + along * (span.x1_mm - span.x0_mm) + back[0] * out,
        span.y0_mm + along * (span.y1_mm - span.y0_mm) + back[1] * out,
    )
    placed = offered.model_copy(
        update={
            "where": where,
            "x_mm": round(x - origin[0], 1),
            "y_mm": round(y - origin[1], 1),
            "width_mm": laid.width_mm + 1,
        }
    )
    return placed.model_dump(mode="json")


def whole_tooth_snaps(
    field_value: float, length_mm: float, pitch_mm: float, gain: float, says: str
) -> tuple[Snap, ...]:
    """Values of a field near its present one at which a length is a whole number of pitches; `gain` is mm of
    length for mm of field.
    """
    here = length_mm / pitch_mm
    return tuple(
        Snap(field_value + (n - here) * pitch_mm / gain, says)
        for n in range(math.floor(here) - 6, math.ceil(here) + 7)
    )


def arc_centre(piece: Piece) -> tuple[float, float]:
    """Middle of the circle that an arc lies on, from its ends, its radius and its sense."""
    x0, y0, x1, y1, r = piece.start.x_mm, piece.start.y_mm, piece.stop.x_mm, piece.stop.y_mm, piece.radius_mm
    mx, my, chord = (x0 + x1) / 2, (y0 + y1) / 2, math.hypot(x1 - x0, y1 - y0)
    if chord == 0:
        return mx, my
    rise = math.sqrt(max(r * r - chord * chord / 4, 0.0)) * (1 if piece.ccw != piece.large else -1)
    return mx - rise * (y1 - y0) / chord, my + rise * (x1 - x0) / chord
