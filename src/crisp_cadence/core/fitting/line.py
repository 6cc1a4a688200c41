"""The belt line: washers, nuts and spacers of the drawer that lift an idler to it with the fewest pieces."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..ledger.formula import formula
from ..ledger.record import record

GRID_MM = 0.01  # a calliper reads no finer
HIGHEST_MM = 200.0


@record
class Shim:
    """A piece that can lie in a stack: its thickness, and how many there are."""

    key: str
    name: str
    thickness_mm: float
    quantity: int
    price: float | None = None


@record
class Stack:
    """The pieces chosen, what they add up to, and how far that is from what was wanted."""

    pieces: tuple[tuple[Shim, int], ...]
    height_mm: float
    error_mm: float
    count: int


@formula
def fewest_pieces(
    height_mm: float, shims: Sequence[Shim], tolerance_mm: float, most: int = 40
) -> Stack | None:
    """Fewest pieces that stack to a height within a tolerance; of those, the ones that come nearest. None
    where nothing does.

    Equation: min Σ n_i, |Σ n_i·t_i − h| ≤ tolerance, 0 ≤ n_i ≤ stock
    Units: mm, mm, mm → pieces
    Range: thicknesses to 0.01 mm, heights to 200 mm
    Source: handbook — bounded knapsack by dynamic programming

    >>> s = fewest_pieces(3.1, [Shim("a", "washer", 1.0, 4), Shim("b", "shim", 0.5, 4), Shim("c", "nut", 2.4, 1)], 0.12)
    >>> [(shim.name, n) for shim, n in s.pieces], s.height_mm
    ([('washer', 3)], 3.0)
    """
    if not 0 <= height_mm <= HIGHEST_MM:
        return None
    top = round((height_mm + tolerance_mm) / GRID_MM)
    never = np.iinfo(np.int32).max // 2
    count = np.full(top + 1, never, dtype=np.int32)
    count[0] = 0
    # Bundles of 1, 2, 4, … of each shim make every number up to its stock; `taken` remembers which bundles
    # led where.
    bundles: list[tuple[int, int, int]] = []
    for i, shim in enumerate(shims):
        size, rest, bundle = round(shim.thickness_mm / GRID_MM), min(shim.quantity, most), 1
        while rest > 0 and size > 0:
            n = min(bundle, rest)
            bundles.append((i, n, n * size))
            rest -= n
            bundle *= 2
    taken = np.zeros((len(bundles), top + 1), dtype=bool)
    for b, (_, n, size) in enumerate(bundles):
        if size > top:
            continue
        better = count[:-size] + n < count[size:]
        taken[b, size:] = better
        count[size:] = np.where(better, count[:-size] + n, count[size:])
    low = max(0, round((height_mm - tolerance_mm) / GRID_MM))
    places = [
        s
        for s in range(low, top + 1)
        if count[s] <= most and abs(s * GRID_MM - height_mm) <= tolerance_mm + 1e-9
    ]
    if not places:
        return None
    s = min(places, key=lambda s: (count[s], abs(s * GRID_MM - height_mm)))
    chosen = [0] * len(shims)
    for b in range(len(bundles) - 1, -1, -1):
        if taken[b, s]:
            i, n, size = bundles[b]
            chosen[i] += n
            s -= size
    pieces = tuple((shim, n) for shim, n in zip(shims, chosen, strict=True) if n)
    height = sum(shim.thickness_mm * n for shim, n in pieces)
    return Stack(pieces, height, height - height_mm, sum(n for _, n in pieces))


@formula
def axle_screw(plate_mm: float, stack_mm: float, width_mm: float, screw_mm: float) -> float:
    """Least length of the screw that holds an idler on its plate, with full thread in the nut.

    Equation: l = plate + stack + width + t_w + 0.8·d + p·2, t_w = 0.2·d the washer under the head
    Units: mm, mm, mm, mm → mm
    Range: a plain nut of 0.8·d and two turns beyond it
    Source: common practice — two turns of thread stand out of the nut

    >>> axle_screw(6.0, 4.0, 7.0, 5.0)
    23.6
    """
    return round(plate_mm + stack_mm + width_mm + 0.2 * screw_mm + 0.8 * screw_mm + 0.32 * screw_mm, 3)
