"""What a machine buys and cuts, against brute force, sums in whole cents, and published tables."""

from __future__ import annotations

import itertools
import random
from fractions import Fraction

import pytest

from crisp_cadence.core.fitting.rolls import CutPiece, Roll
from crisp_cadence.core.machine.cutting import with_kerf
from crisp_cadence.core.machine.money import cents
from crisp_cadence.core.parts.work_steps import OF_HEADS, OF_SET_SCREWS, hex_key


def fewest_mm(pieces: list[float], bars: list[float], kerf: float) -> tuple[int, float]:
    """Every way to lay pieces on bars, looked at one by one: how many find no place, and the length opened."""
    best = (len(pieces), 0.0)
    for places in itertools.product(range(-1, len(bars)), repeat=len(pieces)):
        used: dict[int, list[float]] = {}
        for piece, at in zip(pieces, places, strict=True):
            if at >= 0:
                used.setdefault(at, []).append(piece)
        if all(sum(on) + kerf * (len(on) - 1) <= bars[at] + 1e-9 for at, on in used.items()):
            best = min(best, (places.count(-1), sum(bars[at] for at in used)))
    return best


@pytest.mark.parametrize("seed", range(25))
def test_packing_is_the_best_there_is_and_never_exceeds_a_length(seed: int) -> None:
    """Outside: 25; library: Python's itertools, every placing of up to five pieces on up to three bars"""
    rng = random.Random(seed)
    pieces = [float(rng.randrange(80, 700)) for _ in range(rng.randrange(2, 6))]
    bars = [float(rng.choice((500, 800, 1000, 1500))) for _ in range(rng.randrange(1, 4))]
    kerf = rng.choice((0.0, 2.0, 3.5))
    found = with_kerf(
        [CutPiece(str(i), p) for i, p in enumerate(pieces)],
        [Roll(str(i), "bar", b) for i, b in enumerate(bars)],
        kerf,
    )
    for cut in found.cuts:
        assert cut.roll.length_mm == bars[int(cut.roll.key)]
        own = [p.length_mm for p in cut.pieces]
        assert sum(own) + kerf * (len(own) - 1) <= bars[int(cut.roll.key)] + 1e-9
    assert (len(found.unplaced), pytest.approx(found.opened_mm)) == fewest_mm(pieces, bars, kerf)


@pytest.mark.parametrize("seed", range(4))
def test_amounts_are_rounded_to_the_cent_halves_up(seed: int) -> None:
    """Outside: 4; library: Python's fractions, the amount as it is written in decimal"""
    rng = random.Random(seed)
    for _ in range(200):
        amount = rng.randrange(0, 10**7) / 1000
        exact = Fraction(str(amount)) * 100
        assert int(cents(amount) * 100) == int(exact + Fraction(1, 2))


def test_keys_are_those_of_the_screws() -> None:
    """Outside: 13; published: ISO 4762 and ISO 4026, width across the hexagon socket (from memory)"""
    assert {d: OF_HEADS[d] for d in (2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0)} == {
        2.5: 2.0,
        3.0: 2.5,
        4.0: 3.0,
        5.0: 4.0,
        6.0: 5.0,
        8.0: 6.0,
        10.0: 8.0,
    }
    assert {d: OF_SET_SCREWS[d] for d in (3.0, 4.0, 5.0, 6.0, 8.0, 10.0)} == {
        3.0: 1.5,
        4.0: 2.0,
        5.0: 2.5,
        6.0: 3.0,
        8.0: 4.0,
        10.0: 5.0,
    }
    assert hex_key(5.0) == "4 mm hex key"
