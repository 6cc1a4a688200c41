"""Drawings to make things from: straight pieces, arcs, circles and words in millimetres, on named layers.

One row of shapes serves every format that goes out and the print at full size.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..fields.belts import Idler, Mount, Tensioner
from ..fields.frames import Frame
from ..fields.screws import of_size
from ..ledger.record import record
from .route import arc_centre
from .scene import Scene, Strand

CLEARANCE_MM = {
    2.0: 2.4,
    2.5: 2.9,
    3.0: 3.4,
    4.0: 4.5,
    5.0: 5.5,
    6.0: 6.6,
    8.0: 9.0,
    10.0: 11.0,
    2.845: 3.25,
    3.505: 3.9,
    4.166: 4.5,
    4.826: 5.2,
    6.35: 7.1,
    7.938: 8.7,
    9.525: 10.3,
}  # ISO 273, medium; inch sizes by ASME B18.2.8, normal, from memory


@record
class Line:
    """A straight piece."""

    x0: float
    y0: float
    x1: float
    y1: float
    layer: str


@record
class Arc:
    """An arc, anticlockwise from one angle to the other, degrees."""

    x: float
    y: float
    radius: float
    start_deg: float
    stop_deg: float
    layer: str


@record
class Circle:
    """A whole circle."""

    x: float
    y: float
    radius: float
    layer: str


@record
class Words:
    """A line of text; `height` in millimetres."""

    x: float
    y: float
    text: str
    height: float = 3.0
    layer: str = "WORDS"


Shape = Line | Arc | Circle | Words


@record
class Drawing:
    """A drawing in millimetres, y upwards."""

    name: str
    shapes: tuple[Shape, ...]


def extent(drawing: Drawing) -> tuple[float, float, float, float]:
    """Left, low, right and high edge of everything drawn, mm."""
    xs: list[float] = []
    ys: list[float] = []
    for s in drawing.shapes:
        if isinstance(s, Line):
            xs += [s.x0, s.x1]
            ys += [s.y0, s.y1]
        elif isinstance(s, Words):
            xs += [s.x, s.x + 0.62 * s.height * len(s.text)]
            ys += [s.y, s.y + s.height]
        else:
            xs += [s.x - s.radius, s.x + s.radius]
            ys += [s.y - s.radius, s.y + s.radius]
    return (min(xs), min(ys), max(xs), max(ys)) if xs else (0.0, 0.0, 1.0, 1.0)


def _strand(strand: Strand) -> list[Shape]:
    out: list[Shape] = []
    for p in strand.pieces:
        if p.radius_mm <= 0:
            out.append(Line(p.start.x_mm, p.start.y_mm, p.stop.x_mm, p.stop.y_mm, "BELT"))
            continue
        cx, cy = arc_centre(p)
        a, b = (
            math.degrees(math.atan2(e.y_mm - cy, e.x_mm - cx))
            for e in ((p.start, p.stop) if p.ccw else (p.stop, p.start))
        )
        out.append(Arc(cx, cy, p.radius_mm, a, b if b > a else b + 360, "BELT"))
    return out


def path_drawing(scene: Scene) -> Drawing:
    """The belt's pitch line, every pulley with its pitch circle, outside and bore, and the parts about it."""
    shapes: list[Shape] = [s for strand in scene.strands for s in _strand(strand)]
    for w in scene.wheels:
        x, y = w.at.x_mm, w.at.y_mm
        shapes += [
            Circle(x, y, w.radius_mm, "PITCH"),
            Circle(x, y, w.outside_mm, "OUTSIDE"),
            Circle(x, y, w.bore_mm / 2, "BORE"),
        ]
        shapes += [*_cross(x, y, 4.0), Words(x + 2, y + w.outside_mm + 3, w.name)]
    for slab in scene.slabs:
        if slab.pivot is None:
            shapes += _box(slab.at.x_mm, slab.at.y_mm, slab.width_mm, slab.height_mm, "PARTS")
    return Drawing(scene.title, tuple(shapes))


def _cross(x: float, y: float, size: float) -> list[Shape]:
    return [Line(x - size, y, x + size, y, "CENTRES"), Line(x, y - size, x, y + size, "CENTRES")]


def _box(x: float, y: float, width: float, height: float, layer: str) -> list[Shape]:
    left, right, low, high = x - width / 2, x + width / 2, y - height / 2, y + height / 2
    corners = [(left, low), (right, low), (right, high), (left, high)]
    return [Line(*corners[i], *corners[(i + 1) % 4], layer) for i in range(4)]


def _slot(x: float, y: float, length: float, width: float, layer: str) -> list[Shape]:
    """A slot along x, end to end."""
    half, r = max(length - width, 0.0) / 2, width / 2
    if half == 0:
        return [Circle(x, y, r, layer)]
    return [
        Line(x - half, y + r, x + half, y + r, layer),
        Line(x - half, y - r, x + half, y - r, layer),
        Arc(x + half, y, r, -90.0, 90.0, layer),
        Arc(x - half, y, r, 90.0, 270.0, layer),
    ]


def clearance(screw_mm: float) -> float:
    """Clearance hole of a screw, mm (ISO 273, medium; a tenth more beyond its table)."""
    return of_size(CLEARANCE_MM, screw_mm) or round(screw_mm * 1.1, 1)


def motor_plate(found: Frame, name: str, mount: Mount, travel_mm: float) -> Drawing:
    """Holes of a motor's plate, or of a gearbox's: boss, bolt square (slots where the plate is the
    tensioner), bolts to the frame, outline.
    """
    square, boss = found.bolts_mm, found.boss_mm
    half, hole = square / 2, clearance(found.screw_mm)
    shapes: list[Shape] = []
    for x, y in ((-half, -half), (half, -half), (half, half), (-half, half)):
        shapes += _slot(x, y, hole + travel_mm, hole, "HOLES")
    shapes += _slot(0.0, 0.0, boss + 0.5 + travel_mm, boss + 0.5, "HOLES")
    width, tall = max(mount.width_mm, square + 14 + travel_mm), square + 14
    low = -tall / 2 - mount.overhang_mm * 0.5
    shapes += _box(0.0, (tall / 2 + low) / 2, width, tall / 2 - low, "OUTLINE")
    shapes += _row(mount, low + clearance(mount.bolt_mm) + 2, width)
    what = f"motor plate, {name}: square {square:g}, holes {hole:g}" + (
        f", slots {travel_mm:g} long travel" if travel_mm else ""
    )
    shapes += [
        *_cross(0.0, 0.0, 6.0),
        Words(-width / 2, tall / 2 + 3, f"{what}; {mount.material} {mount.thickness_mm:g} mm"),
    ]
    return Drawing("motor plate", tuple(shapes))


def idler_plate(idler: Idler, mount: Mount, tensioner: Tensioner, slot_mm: float) -> Drawing:
    """Holes of an idler's plate: its axle (a slot where the idler slides in it) and the bolts to the
    frame.
    """
    hole = clearance(idler.axle_mm)
    slides = tensioner.kind == "slotted idler"
    width, tall = max(mount.width_mm, slot_mm + 20 if slides else 0.0), mount.overhang_mm + 20
    shapes: list[Shape] = (
        _slot(0.0, 0.0, max(slot_mm, hole), hole, "HOLES")
        if slides
        else [Circle(0.0, 0.0, hole / 2, "HOLES")]
    )
    low = -mount.overhang_mm - 10
    shapes += _box(0.0, low + tall / 2, width, tall, "OUTLINE")
    shapes += _row(mount, low + clearance(mount.bolt_mm) + 2, width)
    says = (
        f"idler plate: axle {idler.axle_mm:g}"
        + (f", slot {slot_mm:.1f}" if slides else "")
        + f"; {mount.material} {mount.thickness_mm:g} mm"
    )
    shapes += [*_cross(0.0, 0.0, 6.0), Words(-width / 2, low + tall + 3, says)]
    return Drawing("idler plate", tuple(shapes))


def _row(mount: Mount, y: float, width: float) -> list[Shape]:
    """The bolts to the frame in a row, evenly over the plate."""
    r = clearance(mount.bolt_mm) / 2
    step = width / mount.bolts
    return [
        s
        for i in range(mount.bolts)
        for s in (
            Circle(-width / 2 + step * (i + 0.5), y, r, "HOLES"),
            *_cross(-width / 2 + step * (i + 0.5), y, r + 2),
        )
    ]


def stack_drawing(
    name: str,
    seat_mm: float,
    layers: Sequence[tuple[str, float, float]],
    line_mm: float | None,
    axle_mm: float,
) -> Drawing:
    """A stack from the side: `layers` are name, thickness and diameter from the seat upwards; `line_mm` the
    height of the belt line.
    """
    shapes: list[Shape] = [
        Line(-20.0, seat_mm, 20.0, seat_mm, "OUTLINE"),
        Words(22.0, seat_mm - 1, f"seat {seat_mm:g}", 2.0),
    ]
    at = seat_mm
    for label, thick, wide in layers:
        shapes += [
            *_box(0.0, at + thick / 2, wide, thick, "STACK"),
            Words(wide / 2 + 2, at + thick / 2 - 0.8, f"{label}, {thick:g}", 1.6),
        ]
        at += thick
    shapes += [
        Line(-axle_mm / 2, seat_mm - 6, -axle_mm / 2, at + 4, "AXLE"),
        Line(axle_mm / 2, seat_mm - 6, axle_mm / 2, at + 4, "AXLE"),
    ]
    if line_mm is not None:
        shapes += [
            Line(-26.0, line_mm, 26.0, line_mm, "CENTRES"),
            Words(-26.0, line_mm + 0.6, f"belt line {line_mm:g}", 2.0),
        ]
    return Drawing(name, tuple(shapes))
