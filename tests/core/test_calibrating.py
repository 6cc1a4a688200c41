"""Steps from measured moves: scale, play, places, and what the belt's tension made of it; a feed by its duty."""

from __future__ import annotations

import math

import numpy as np
import pytest

from crisp_cadence import catalog, demo, evaluate
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.tuning.calibrating import Calibrated, Move, MovesReading, calibrated, scale
from helpers import value

PROFILES = catalog.profiles()
DESIGNS = {d.name: d for d in demo.designs().values()}


def told(axis: str, moves: list[Move], tension_n: float | None = None) -> Calibrated:
    return calibrated(DESIGNS[axis], PROFILES, MovesReading(moves=moves, tension_n=tension_n))


def moves(true_scale: float, play: float = 0.0, noise: float = 0.02, seed: int = 3) -> list[Move]:
    rng = np.random.default_rng(seed)
    return [
        Move(
            commanded=x,
            measured=true_scale * x - play * turned + float(rng.normal(0, noise)),
            turned=bool(turned),
        )
        for x in (200.0, 400.0, 800.0)
        for turned in (0, 0, 1, 1)
    ]


def test_scale_and_play_come_out_apart() -> None:
    now = scale(DESIGNS["Aisle"], PROFILES)
    assert now is not None
    assert now.now is not None
    assert now.sets == "steps/mm"
    found = told("Aisle", moves(1.002, play=0.15))
    assert found.play == pytest.approx(0.15, abs=0.03)
    assert found.play_within is not None
    assert found.low is not None
    assert found.high is not None
    assert found.low < now.now / 1.002 < found.high
    assert found.high - found.low < 0.0004 * now.now
    assert found.value == pytest.approx(now.now / 1.002, rel=1e-4)


def test_the_interval_holds_the_truth_as_often_as_it_says() -> None:
    """95 of 100: of 400 calibrations between 365 and 395 hold it (binomial, three sigma)."""
    now = 22.0 + 2 / 9
    held = 0
    for seed in range(400):
        found = told("Aisle", moves(1.001, noise=0.05, seed=seed))
        assert found.low is not None
        assert found.high is not None
        held += found.low < now / 1.001 < found.high
    assert 365 <= held <= 395


def test_growth_by_tension_is_told_apart_from_the_rest() -> None:
    report = evaluate(DESIGNS["Aisle"])
    growth = value(report, "tension.set") / value(report, "belt.ea")
    alone = told("Aisle", moves(1 + growth, noise=0.01))
    assert alone.growth_percent == pytest.approx(growth * 100)
    assert any("growth" in s for s in alone.says)
    worse = told("Aisle", moves(1 + growth + 0.002, noise=0.01))
    assert worse.rest_percent == pytest.approx(0.2, abs=0.01)
    assert any("ten pitches" in s for s in worse.says)
    twice = told("Aisle", moves(1 + growth, noise=0.01), tension_n=2 * value(report, "tension.set"))
    assert twice.growth_percent == pytest.approx(2 * growth * 100)


def test_places_that_differ_are_said() -> None:
    near = [Move(commanded=100, measured=100 + e, at=0) for e in (0.01, -0.01, 0.0)]
    far = [Move(commanded=100, measured=100.3 + e, at=500) for e in (0.01, -0.01, 0.0)]
    assert any("From 500 mm" in s for s in told("Aisle", near + far).says)
    assert not any(s.startswith("From") for s in told("Aisle", near).says)


def test_an_arm_is_calibrated_in_degrees() -> None:
    arm = DESIGNS["Spray arm"]
    found = scale(arm, PROFILES)
    assert found is not None
    assert found.sets == "steps/°"
    assert found.measured == ("angle", "°")
    per_mm = value(evaluate(arm), "steps_per_mm")
    assert found.now == pytest.approx(per_mm * math.radians(1) * arm.end.length_mm)  # type: ignore[union-attr]
    settings = {s.label: s for s in evaluate(arm).settings}
    assert settings["Steps per degree"].value == pytest.approx(found.now)
    assert settings["Top speed"].unit == "°/s"
    assert settings["Soft limit"].value == pytest.approx(95.0)


def test_a_feed_is_a_line_through_its_duties() -> None:
    feed = [Move(commanded=d, measured=0.05 * d - 0.5) for d in (20.0, 40.0, 60.0, 80.0)]
    found = told("Slab feed", feed)
    assert found.value == pytest.approx(4.5)
    assert found.starts_at == pytest.approx(10.0)
    asked = DESIGNS["Slab feed"].aim.speed_mm_s
    assert found.duty_for_speed == pytest.approx((asked + 0.5) / 0.05)
    for bad, field in (
        (feed[:1] * 2, "reading.moves"),
        ([Move(commanded=120, measured=3), *feed], "reading.moves.0.commanded"),
        ([Move(commanded=20, measured=3), Move(commanded=80, measured=1)], "reading.moves"),
    ):
        with pytest.raises(EntryError) as refused:
            told("Slab feed", bad)
        assert refused.value.problems[0].field == field


def test_what_is_not_commanded_is_not_calibrated() -> None:
    assert scale(DESIGNS["Potter's wheel"], PROFILES) is None
    with pytest.raises(EntryError):
        told("Potter's wheel", [Move(commanded=10, measured=10)])
    with pytest.raises(EntryError) as refused:
        told("Aisle", [Move(commanded=100, measured=10)])
    assert refused.value.problems[0].field == "reading.moves.0.measured"


def test_few_moves_and_moves_all_alike_are_told_what_they_lack() -> None:
    assert any("repeat" in s for s in told("Aisle", [Move(commanded=100, measured=100.2)]).says)
    turned = [Move(commanded=100, measured=100 + e, turned=True) for e in (0.1, 0.11)]
    assert any("measure some without" in s for s in told("Aisle", turned).says)
    scattered = told("Aisle", [Move(commanded=100, measured=m) for m in (99.0, 101.2, 100.1)])
    assert any("scatter" in s for s in scattered.says)
