"""Rails, rods, racks and belts of a whole machine cut from the lengths that can be bought."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from ..account.report import CutLine
from ..fitting.rolls import Cut, CutPiece, Packing, Roll, pack
from ..ledger.formula import formula
from ..ledger.record import record
from .design import Length
from .work import Axes

KNIFE = 0.0  # a belt is cut with a knife, through the middle of a gap: nothing is lost
TRIED = 40  # lengths that one kind is packed from


@record
class Piece:
    """A piece of an axis to be cut: of what, how long, how much longer it is left at first, and whether a saw
    takes its width off beside it.
    """

    of: str
    label: str
    length_mm: float
    left_long_mm: float
    sawn: bool


@record
class CutPlan:
    """Pieces of one kind on the lengths that they are cut from; `says` where there is none to cut from."""

    of: str
    pieces: tuple[Piece, ...]
    packing: Packing | None
    buy: tuple[tuple[str, int], ...]
    says: str


def pieces_of(axes: Axes) -> tuple[Piece, ...]:
    """Every piece of the machine that is cut from a longer one."""
    long = axes.machine.left_long_mm
    out: list[Piece] = []
    for key, (run, _) in axes.runs.items():
        name, design, end = axes.name(key), run.design, run.end
        beam = end.beam()
        rails = 2 if design.sides.kind != "one" or beam is not None else 1
        if end.guided:
            section = design.stand.rail_section
            of = f"Rail {section}" if section != "another" else f"Rail, {design.guide.kind}"
            for i in range(rails):
                side = f", side {i + 1}" if rails > 1 else ""
                out.append(Piece(of, f"{name}{side}", design.guide.rail_mm, long, True))
            if beam is not None:
                out.append(Piece(of, f"{name}, beam", beam[0], long, True))
        for c in run.cuts:
            for i in range(c.pieces if c.of else 0):
                which = f", {i + 1}" if c.pieces > 1 else ""
                extra = _left_on(c, long)
                out.append(Piece(c.of, f"{name}{which}", c.length_mm, extra, c.sawn))
    return tuple(out)


def _left_on(cut: CutLine, long_mm: float) -> float:
    """How much longer a piece is cut at first: what has teeth by whole ones."""
    if not cut.sawn or not long_mm:
        return 0.0
    pitch = cut.length_mm / cut.teeth if cut.teeth else 0.0
    return math.ceil(long_mm / pitch - 1e-9) * pitch if pitch else long_mm


@formula
def with_kerf(pieces: Sequence[CutPiece], lengths: Sequence[Roll], kerf_mm: float) -> Packing:
    """Pieces on lengths, a saw cut lost behind each piece but one that ends with its length.

    Equation: Σ (l_i + k) ≤ L + k on every length
    Units: mm → mm
    Range: pieces of one kind; k is the width of the cut, 0 for a knife
    Source: handbook — cutting stock: each piece and the length made longer by one cut

    >>> p = with_kerf([CutPiece("a", 500.0), CutPiece("b", 498.0)], [Roll("x", "bar", 1000.0)], 2.0)
    >>> len(p.cuts), p.cuts[0].leftover_mm
    (1, 0.0)
    >>> len(with_kerf([CutPiece("a", 500.0), CutPiece("b", 500.0)], [Roll("x", "bar", 1000.0)], 2.0).unplaced)
    1
    """
    longer = [replace(p, length_mm=p.length_mm + kerf_mm) for p in pieces]
    found = pack(longer, [replace(r, length_mm=r.length_mm + kerf_mm) for r in lengths])
    own = {id(much): p for much, p in zip(longer, pieces, strict=True)}
    bars = {r.key: r for r in lengths}
    cuts = tuple(
        Cut(bars[c.roll.key], tuple(own[id(p)] for p in c.pieces), c.leftover_mm) for c in found.cuts
    )
    unplaced = tuple(own[id(p)] for p in found.unplaced)
    return Packing(cuts, unplaced, math.fsum(c.roll.length_mm for c in cuts), found.exact)


def cut_plans(axes: Axes) -> tuple[CutPlan, ...]:
    """One packing of every kind over the whole machine."""
    groups: dict[str, list[Piece]] = {}
    for piece in pieces_of(axes):
        groups.setdefault(piece.of, []).append(piece)
    out = []
    for of, pieces in groups.items():
        lengths = [x for x in axes.machine.lengths if x.of == of]
        if not lengths:
            says = "Say which lengths of it can be bought."
            out.append(CutPlan(of, tuple(pieces), None, (), says))
            continue
        kerf = axes.machine.kerf_mm if pieces[0].sawn else KNIFE
        cuts = [CutPiece(p.label, p.length_mm + p.left_long_mm) for p in pieces]
        found = with_kerf(cuts, _bars(lengths), kerf)
        names = [c.roll.name for c in found.cuts]
        buy = tuple((n, names.count(n)) for n in dict.fromkeys(names))
        missing = ", ".join(p.label for p in found.unplaced)
        says = f"No length is left for {missing}: more of them, or longer ones." if missing else ""
        out.append(CutPlan(of, tuple(pieces), found, buy, says))
    return tuple(out)


def _bars(lengths: Sequence[Length]) -> list[Roll]:
    bars = [
        Roll(f"{i}.{n}", f"{x.length_mm:g} mm", x.length_mm, x.price, False)
        for i, x in enumerate(lengths)
        for n in range(x.count)
    ]
    return bars[:TRIED]
