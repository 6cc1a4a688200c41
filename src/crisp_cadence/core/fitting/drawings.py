"""Which drawings an axis has to make things from: belt paths, plates with their holes, stacks."""

from __future__ import annotations

from ..checks.tensioners import BY_SHAFT
from ..evaluation.evaluate import Run
from ..fields.belts import Idler
from ..fields.frames import Frame
from ..fields.part import part_at
from ..geometry.figures import Drawing, idler_plate, motor_plate, path_drawing, stack_drawing
from ..ledger.errors import EntryError, problem
from ..parts.ends.belt_end import BeltEnd
from ..parts.ends.carriage_loop import CarriageLoop
from ..parts.stages.closed_belt import ClosedBelt
from ..parts.stages.contract import Stage
from .holding import pulled
from .rows import LineRow, OutRow


def _bolted_on(run: Run, at: str) -> int:
    """The part of the chain that a motor's plate holds: what drives the belt's pulley."""
    return int(at.split(".")[1]) - 1 if at.startswith("chain") else len(run.stages) - 1


def _drawn(run: Run, at: str) -> bool:
    """Whether the holes of a mount follow from what it holds: a motor or gearbox with a flange, or the idler
    of a loop.
    """
    if at.endswith("motor_mount"):
        return bool(run.stages[_bolted_on(run, at)].bolted)
    return at == "end.idler_mount" and isinstance(run.end, CarriageLoop)


def _named(stage: Stage) -> str:
    return str(getattr(stage, "frame", "") or stage.label or stage.kind)


def _flange(run: Run, j: int) -> Frame:
    """The flange of a motor or a gearbox; EntryError where it is not known."""
    stage = run.stages[j]
    found = stage.flange()
    if found is None:
        raise EntryError(
            [
                problem(
                    f"chain.{j}.{stage.bolted}",
                    "is not known, and the plate is drilled by it",
                    value=getattr(stage, stage.bolted, None),
                    limit="side, bolts and boss of its flange",
                    remedy="Measure the flange and enter it, or drill by hand.",
                )
            ]
        )
    return found


def out_rows(run: Run, line: list[LineRow]) -> list[OutRow]:
    """Every drawing that goes out, by its name."""
    rows = [
        OutRow(f"path:{at}", f"Belt path, {scene.title.lower()}")
        for at, scene in run.drawings
        if scene.strands
    ]
    for at, mount in ((p.at, p.mount) for p in pulled(run, run.end)):
        if mount.kind == "plate" and _drawn(run, at):
            rows.append(
                OutRow(
                    f"plate:{at}",
                    f"Holes of the {at.rpartition('.')[2].replace('_', ' ')}"
                    + (", closed belt" if at.startswith("chain") else ""),
                )
            )
    rows += [
        OutRow(f"stack:{r.part}", f"Stack under the {r.name.lower()}")
        for r in line
        if r.part and r.seat_mm is not None and isinstance(part_at(run.design, r.part), Idler)
    ]
    return rows


def drawing_of(run: Run, line: list[LineRow], what: str) -> Drawing:
    """One drawing by its name; EntryError names those that there are."""
    kind, _, at = what.partition(":")
    rows = out_rows(run, line)
    if what not in [r.what for r in rows]:
        raise EntryError(
            [
                problem(
                    "what",
                    "is not a drawing of this design",
                    value=what,
                    limit=", ".join(r.what for r in rows) or "none",
                    remedy="Pick one of the drawings named.",
                )
            ]
        )
    if kind == "path":
        return path_drawing(next(scene for place, scene in run.drawings if place == at))
    if kind == "stack":
        return _stack(run, next(r for r in line if r.part == at))
    mount = {p.at: p.mount for p in pulled(run, run.end)}[at]
    end = run.end
    if at.endswith("motor_mount"):
        j, slides = _bolted_on(run, at), 0.0
        if at.startswith("chain"):
            stage = run.stages[j + 1]
            assert isinstance(stage, ClosedBelt)
            slides = stage.adjust_mm if stage.tensioner.kind in BY_SHAFT else 0.0
        elif isinstance(end, BeltEnd) and end.tensioner.kind == "slotted motor plate":
            slides = end.tensioner.travel_mm
        return motor_plate(_flange(run, j), _named(run.stages[j]), mount, slides)
    assert isinstance(end, CarriageLoop)
    took = end.strained(run.ctx).take_up
    return idler_plate(
        end.idler, mount, end.tensioner, 0.0 if took is None or took.slot is None else took.slot.value or 0.0
    )


def _stack(run: Run, row: LineRow) -> Drawing:
    idler = part_at(run.design, row.part)
    pieces = row.proposed or row.stack
    layers = [(p.label, p.thickness_mm, idler.axle_mm * 2) for p in pieces for _ in range(p.quantity)]
    wide = idler.diameter_mm if idler.kind == "smooth" else idler.axle_mm * 3
    layers.append((row.name, idler.width_mm, wide))
    target = None if row.height_mm is None or row.off_mm is None else row.height_mm - row.off_mm
    return stack_drawing(f"stack under the {row.name.lower()}", idler.seat_mm, layers, target, idler.axle_mm)
