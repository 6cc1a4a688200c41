"""Which drawings an axis has to make things from: belt paths, plates with their holes, stacks."""

from __future__ import annotations

from ..evaluation.evaluate import Run
from ..fields.belts import Idler
from ..fields.part import part_at
from ..geometry.figures import Drawing, idler_plate, motor_plate, path_drawing, stack_drawing
from ..ledger.errors import EntryError, problem
from ..parts.ends.belt_end import BeltEnd
from ..parts.ends.carriage_loop import CarriageLoop
from ..parts.stages.closed_belt import ClosedBelt
from .holding import pulled
from .rows import LineRow, OutRow


def out_rows(run: Run, line: list[LineRow]) -> list[OutRow]:
    """Every drawing that goes out, by its name."""
    rows = [
        OutRow(f"path:{at}", f"Belt path, {scene.title.lower()}")
        for at, scene in run.drawings
        if scene.strands
    ]
    for at, mount in ((p.at, p.mount) for p in pulled(run, run.end)):
        if mount.kind == "plate":
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
    frame = str(getattr(run.design.chain[0], "frame", ""))
    end = run.end
    if at.startswith("chain"):
        stage = run.stages[int(at.split(".")[1])]
        assert isinstance(stage, ClosedBelt)
        return motor_plate(frame, mount, stage.adjust_mm)
    if at.endswith("motor_mount"):
        slides = isinstance(end, BeltEnd) and end.tensioner.kind == "slotted motor plate"
        return motor_plate(
            frame, mount, end.tensioner.travel_mm if slides and isinstance(end, BeltEnd) else 0.0
        )
    assert isinstance(end, CarriageLoop)
    return idler_plate(end.idler, mount, end.tensioner, end.strained(run.ctx).take_up.slot.value or 0.0)


def _stack(run: Run, row: LineRow) -> Drawing:
    idler = part_at(run.design, row.part)
    pieces = row.proposed or row.stack
    layers = [(p.label, p.thickness_mm, idler.axle_mm * 2) for p in pieces for _ in range(p.quantity)]
    wide = idler.diameter_mm if idler.kind == "smooth" else idler.axle_mm * 3
    layers.append((row.name, idler.width_mm, wide))
    target = None if row.height_mm is None or row.off_mm is None else row.height_mm - row.off_mm
    return stack_drawing(f"stack under the {row.name.lower()}", idler.seat_mm, layers, target, idler.axle_mm)
