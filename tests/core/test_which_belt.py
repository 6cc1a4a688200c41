"""Which belt a piece is: every profile of the list is found by its own pitch, and what cannot be told apart is
said.
"""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crisp_cadence import catalog
from crisp_cadence.core.fitting.which_belt import READ_MM, STRETCHED, which_belt
from crisp_cadence.core.geometry.teeth import SHOWN, outline
from crisp_cadence.core.ledger.errors import EntryError

PROFILES = catalog.profiles()


@pytest.mark.parametrize("key", PROFILES)
@pytest.mark.parametrize("pitches", [10, 25])
def test_every_profile_is_found_by_its_own_pitch_and_look(key: str, pitches: int) -> None:
    own = PROFILES[key]
    for off in (-READ_MM, 0.0, READ_MM):  # as a calliper reads
        found = which_belt(pitches * own.pitch_mm + off, pitches, own.form, PROFILES).found
        first = [c for c in found if c.fits and c.looks]
        assert key in [c.key for c in first]
        assert all(PROFILES[c.key].form == own.form for c in first)
        assert found[0].looks, "what looks otherwise comes after"


def test_two_millimetres_and_an_eightieth_of_an_inch() -> None:
    """ISO 5296: MXL has 2.032 mm; 30 of its pitches are 60.96 mm, of a 2 mm belt 60."""
    both = which_belt(20.15, 10, None, PROFILES)
    assert {c.key for c in both.found} == {"mxl", "round-g-2"}
    count = int(both.says.split("Measure over ")[1].split()[0])
    for key, other in (("mxl", "round-g-2"), ("round-g-2", "mxl")):
        again = which_belt(count * PROFILES[key].pitch_mm + READ_MM, count, None, PROFILES)
        assert [c.key for c in again.found] == [key], other


def test_pitches_that_are_alike_are_told_by_their_teeth_alone() -> None:
    found = which_belt(50.1, 10, None, PROFILES)
    assert {c.key for c in found.found} == {"t5", "at5", "round-g-5", "round-h-5"}
    assert "only the look of their teeth" in found.says
    assert which_belt(50.1, 10, "half round", PROFILES).says == "It is Round tooth H 5 mm."


def test_what_fits_nothing_gets_the_nearest_and_a_way_to_measure_again() -> None:
    found = which_belt(41.0, 10, None, PROFILES)
    assert not any(c.fits for c in found.found)
    assert found.says.startswith("No belt of the list has this pitch")
    looks = which_belt(20.0, 10, "half round", PROFILES)
    assert "their teeth look otherwise" in looks.says
    with pytest.raises(EntryError, match="over_mm"):
        which_belt(5.0, 10, None, PROFILES)


@given(st.floats(1.0, 5000.0), st.integers(1, 500))
def test_what_fits_is_as_near_as_it_says(over: float, pitches: int) -> None:
    if over < pitches:
        return
    found = which_belt(over, pitches, None, PROFILES)
    assert found.within_mm == pytest.approx(READ_MM + STRETCHED * over)
    for c in found.found:
        assert c.off_mm == pytest.approx(over - pitches * PROFILES[c.key].pitch_mm)
        assert c.fits == (abs(c.off_mm) <= found.within_mm)
    assert found.found
    assert math.isfinite(found.pitch_mm)


@pytest.mark.parametrize("key", PROFILES)
def test_an_outline_has_the_height_width_and_pitch_of_its_belt(key: str) -> None:
    p, points = PROFILES[key], outline(PROFILES[key])
    ys = [y for _, y in points]
    assert max(ys) == pytest.approx(p.tooth_height_mm, abs=1e-3)
    assert max(ys) - min(ys) == pytest.approx(p.thickness_mm, abs=1e-3)
    assert max(x for x, _ in points) == pytest.approx(SHOWN * p.pitch_mm, abs=1e-3)
    # The first tooth rises where its root begins, half a pitch less half its width from the end.
    assert points[1] == pytest.approx((p.pitch_mm / 2 - p.tooth_root_mm / 2, 0.0), abs=1e-3)
    assert 0.4 < p.tooth_root_mm / p.pitch_mm < 0.75
    # Its two flanks lean alike.
    tooth = [x for x, y in points if 0 < x < p.pitch_mm and y > 0]
    assert math.fsum(tooth) / len(tooth) == pytest.approx(p.pitch_mm / 2, abs=2e-3)
