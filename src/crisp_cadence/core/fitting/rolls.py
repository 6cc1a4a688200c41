"""Pieces of open belt packed on the rolls of the drawer with the least belt opened, and what is left of each
roll.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..ledger.formula import formula
from ..ledger.record import record

MOST_EXACT = 12  # pieces packed by looking at every way; more of them by best fit, longest first
MOST_LOOKS = 200_000  # places tried before the best packing found so far is taken


@record
class CutPiece:
    """A piece to cut."""

    label: str
    length_mm: float


@record
class Roll:
    """A length of belt at hand, or one that can be bought."""

    key: str
    name: str
    length_mm: float
    price: float | None = None
    owned: bool = True


@record
class Cut:
    """One roll with the pieces cut from it, in order, and what is left."""

    roll: Roll
    pieces: tuple[CutPiece, ...]
    leftover_mm: float


@record
class Packing:
    """Every roll that is opened, what could not be placed, and whether every way was looked at."""

    cuts: tuple[Cut, ...]
    unplaced: tuple[CutPiece, ...]
    opened_mm: float
    exact: bool


@formula
def pack(pieces: Sequence[CutPiece], rolls: Sequence[Roll]) -> Packing:
    """Pieces on rolls so that as many as can be are cut, and then the least length of roll is opened.

    Offcuts are used up first by this, and the long rolls stay whole. Up to twelve pieces every way is looked
    at; beyond that (or after many looks) the best packing found is returned and says so.

    Equation: min Σ length of rolls opened, Σ pieces on a roll ≤ its length
    Units: mm, mm → mm
    Range: pieces and rolls of the same belt; nothing is lost in a cut through the middle of a tooth gap
    Source: handbook — bin packing with bins of different size, branch and bound

    >>> p = pack([CutPiece("a", 900.0), CutPiece("b", 500.0)], [Roll("x", "offcut", 1000.0), Roll("y", "roll", 5000.0), Roll("z", "offcut", 520.0)])
    >>> [(c.roll.key, c.leftover_mm) for c in p.cuts], p.opened_mm
    ([('z', 20.0), ('x', 100.0)], 1520.0)
    """
    longest_first = sorted(pieces, key=lambda p: -p.length_mm)
    shelf = sorted(rolls, key=lambda r: r.length_mm)
    fits = [p for p in longest_first if shelf and p.length_mm <= shelf[-1].length_mm + 1e-9]
    never = [p for p in longest_first if p not in fits]
    best, exact = _search(fits, shelf)
    placed: dict[int, list[CutPiece]] = {}
    unplaced = list(never)
    for piece, at in zip(fits, best, strict=True):
        if at is None:
            unplaced.append(piece)
        else:
            placed.setdefault(at, []).append(piece)
    cuts = tuple(
        Cut(shelf[i], tuple(found), shelf[i].length_mm - sum(p.length_mm for p in found))
        for i, found in sorted(placed.items())
    )
    return Packing(cuts, tuple(unplaced), sum(c.roll.length_mm for c in cuts), exact)


def _search(pieces: list[CutPiece], shelf: list[Roll]) -> tuple[list[int | None], bool]:
    """Roll of each piece (None for one that finds no place), and whether that is proven best."""
    left = [r.length_mm for r in shelf]
    opened = [False] * len(shelf)
    best = _best_fit(pieces, shelf)
    if len(pieces) > MOST_EXACT:
        return best, False
    worth = _worth(best, pieces, shelf)
    row: list[int | None] = [None] * len(pieces)
    looks = 0

    def place(k: int, missed: int, cost: float) -> None:
        nonlocal worth, best, looks
        looks += 1
        if looks > MOST_LOOKS or (missed, cost) >= worth:
            return
        if k == len(pieces):
            worth, best = (missed, cost), list(row)
            return
        need, tried = pieces[k].length_mm, set()
        for i, room in enumerate(left):
            # Rolls alike in what is left and in being open lead to the same packings.
            alike = (round(room, 9), opened[i], shelf[i].length_mm)
            if room + 1e-9 < need or alike in tried:
                continue
            tried.add(alike)
            was = opened[i]
            left[i], opened[i], row[k] = room - need, True, i
            place(k + 1, missed, cost + (0.0 if was else shelf[i].length_mm))
            left[i], opened[i], row[k] = room, was, None
        place(k + 1, missed + 1, cost)

    place(0, 0, 0.0)
    return best, looks <= MOST_LOOKS


def _best_fit(pieces: list[CutPiece], shelf: list[Roll]) -> list[int | None]:
    left = [r.length_mm for r in shelf]
    opened: set[int] = set()
    out: list[int | None] = []
    for piece in pieces:
        room = [(i not in opened, left[i], i) for i in range(len(shelf)) if left[i] + 1e-9 >= piece.length_mm]
        if not room:
            out.append(None)
            continue
        i = min(room)[2]
        opened.add(i)
        left[i] -= piece.length_mm
        out.append(i)
    return out


def _worth(row: list[int | None], pieces: list[CutPiece], shelf: list[Roll]) -> tuple[int, float]:
    used = {i for i in row if i is not None}
    return sum(i is None for i in row), sum(shelf[i].length_mm for i in used)
