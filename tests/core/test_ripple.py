"""What comes again along the travel, and the suspects of a ripple."""

from __future__ import annotations

import math

import pytest

from crisp_cadence import catalog, demo, evaluate
from crisp_cadence.core.design.design import AxisDesign
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.tuning.ripple import FITS, Ripple, repeats, ripples

PROFILES = catalog.profiles()
DESIGNS: dict[str, AxisDesign] = {
    **{f"demo {name}": d for name, d in demo.designs().items()},
    **{f"new {key}": begin(key, "New") for key in LAYOUTS},
}
LONG_WAY, HEAD = DESIGNS["demo clay-printer-long-way"], DESIGNS["demo clay-printer-head"]


def spacings(design: AxisDesign) -> dict[str, float]:
    return {r.name + (f", {case}" if case else ""): r.spacing_mm for r, case in repeats(design, PROFILES)}


def test_spacings_of_a_loop_behind_a_closed_belt_are_those_worked_by_hand() -> None:
    """20 : 40 teeth of 3 mm before a pulley of 24 teeth of 3 mm: 72 mm a turn of it, 36 a turn of the motor."""
    assert spacings(LONG_WAY) == pytest.approx(
        {
            "a turn of the motor": 36.0,
            "a full step of the motor": 0.18,
            "two full steps": 0.36,
            "four full steps, a whole wave of its currents": 0.72,
            "a tooth of the closed belt": 1.8,
            "a turn of the driver pulley of the closed belt": 36.0,
            "a turn of the driven pulley of the closed belt": 72.0,
            "the closed belt once round": 216.0,
            "a tooth of the belt": 3.0,
            "a turn of the drive pulley": 72.0,
            "a turn of the idler": 60.0,
        }
    )


def test_crossed_belts_name_the_direction_that_a_spacing_is_for() -> None:
    """Along an axis the belts run as far as the head; on a diagonal one of them alone, by √2."""
    found = spacings(HEAD)
    teeth = {name: mm for name, mm in found.items() if name.startswith("a tooth of the belt")}
    assert len(teeth) >= 2
    assert sorted(teeth.values())[0] == pytest.approx(2.0 / math.sqrt(2))
    assert sorted(teeth.values())[-1] == pytest.approx(2.0)
    assert all("," in name for name in teeth)


@pytest.mark.parametrize("name", DESIGNS)
def test_every_layout_is_asked_and_each_of_its_own_spacings_is_found_first(name: str) -> None:
    design = DESIGNS[name]
    known = repeats(design, PROFILES)
    if design.end.kind == "spindle":
        assert known == []
        return
    assert known
    values = {q.key: q.value for q in evaluate(design).results}
    for repeat, case in known:
        assert repeat.spacing_mm > 0
        assert repeat.prove
        (answer,) = ripples(design, PROFILES, [repeat.spacing_mm * 1.01])
        assert answer.suspects[0].fits
        # Others come again as often; of those that fit, what is asked for is one.
        assert (repeat.name, case) in [(s.name, s.case) for s in answer.suspects] or len(answer.suspects) == 6
        assert all(
            abs(s.spacing_mm / s.times / repeat.spacing_mm / 1.01 - 1) <= FITS for s in answer.suspects
        )
    lam = values.get("motor.lam")
    turn = next((r.spacing_mm for r, _ in known if r.name == "a turn of the motor"), None)
    if lam and turn and not any(case for _, case in known):
        assert turn == pytest.approx(2 * math.pi / lam)


def only(spacing: float, speed: float | None = None) -> Ripple:
    (answer,) = ripples(LONG_WAY, PROFILES, [spacing], speed)
    return answer


def test_what_fits_comes_first_and_what_does_not_is_said() -> None:
    tooth = only(3.02)
    assert (tooth.suspects[0].name, tooth.suspects[0].times) == ("a tooth of the belt", 1)
    oval = only(36.3)
    # Once a turn of the motor and of the driver, twice a turn of the driven one and of the drive pulley.
    assert {(s.name, s.times) for s in oval.suspects} >= {
        ("a turn of the motor", 1),
        ("a turn of the drive pulley", 2),
    }
    assert oval.suspects[0].times == 1
    nothing = only(9.0)
    assert nothing.suspects
    assert not any(s.fits for s in nothing.suspects)


def test_a_ringing_is_the_mode_that_it_is_near() -> None:
    values = {q.key: q.value for q in evaluate(LONG_WAY).results}
    low = values["mode.low"]
    assert low is not None
    rings = only(5.0, 5.0 * low).ringing
    assert rings is not None
    assert rings.hz == pytest.approx(low)
    assert rings.mode_hz == low
    assert rings.says.startswith("It rings")
    assert rings.part
    assert rings.path
    lower, between = only(5.0, 2.0 * low).ringing, only(5.0, 15.0 * low).ringing
    assert lower is not None
    assert between is not None
    assert lower.says.startswith("Lower")
    assert between.says.startswith("Higher")
