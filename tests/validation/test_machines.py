"""What a machine buys, cuts and reaches, against brute force, sums in whole cents, and published tables."""

from __future__ import annotations

import itertools
import math
import random
from fractions import Fraction

import pytest
from shapely import Point, Polygon

from crisp_cadence import catalog
from crisp_cadence.core.fitting.rolls import CutPiece, Roll
from crisp_cadence.core.formulas.reach import key_room, pulley_rim
from crisp_cadence.core.machine.cutting import with_kerf
from crisp_cadence.core.machine.money import cents
from crisp_cadence.core.parts.reach import OF_HEADS, OF_SET_SCREWS, hex_key


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


def test_flanges_of_pulleys_are_those_that_are_sold() -> None:
    """Common practice, no source: outside of the flanges of pulleys with round teeth of 2 mm and of XL, as shops
    list them (from memory); makers differ by a millimetre or so.

    Outside: 5; practice
    """
    profiles = catalog.profiles()
    for key, teeth, sold in (
        ("round-g-2", 16, 13.0),
        ("round-g-2", 20, 16.0),
        ("round-g-2", 36, 26.0),
        ("round-g-2", 60, 42.0),
        ("xl", 10, 21.0),
    ):
        belt = profiles[key]
        rim = pulley_rim(teeth, belt.pitch_mm, belt.pitch_line_mm, belt.thickness_mm, 1)
        assert rim == pytest.approx(sold, abs=1.2), (key, teeth)


def test_a_key_that_clears_the_rim_is_one_that_fits_beside_it() -> None:
    """Polygons of rim and key laid on one another: they are apart by what is said, at every turn of the key.

    Outside: 40; library: Shapely
    """
    rng = random.Random(9)
    for _ in range(40):
        square, rim, key = rng.uniform(20, 80), rng.uniform(5, 120), rng.choice((2.0, 2.5, 4.0, 5.0))
        said = key_room(square, rim, key)
        wheel = Point(0, 0).buffer(rim / 2, quad_segs=256)
        least = min(
            wheel.distance(
                Polygon(
                    [
                        (
                            square / 2 + key / math.sqrt(3) * math.cos(math.radians(turn + 60 * i)),
                            square / 2 + key / math.sqrt(3) * math.sin(math.radians(turn + 60 * i)),
                        )
                        for i in range(6)
                    ]
                )
            )
            for turn in range(0, 60, 3)
        )
        if said > 0:
            assert least == pytest.approx(said, abs=0.01)
        else:
            assert least == 0.0
