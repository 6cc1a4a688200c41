"""Repeated readings, pushed V-belts and squares against general libraries and rules of the trade."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats
from shapely import affinity
from shapely.geometry import Point, box

from crisp_cadence import catalog, demo
from crisp_cadence.core.formulas import vbelt
from crisp_cadence.core.formulas.belt import deflection_force
from crisp_cadence.core.formulas.gantries import lead_from_diagonals
from crisp_cadence.core.tuning.calibrating import Move, MovesReading, calibrated
from crisp_cadence.core.tuning.reading import PushReading, bands, read_tension
from crisp_cadence.core.tuning.statistics import fitted, mean_of

PROFILES = catalog.profiles()
POUND = 4.448222


@pytest.mark.parametrize("seed", range(4))
def test_the_mean_of_repeated_readings_has_students_interval(seed: int) -> None:
    """Outside: 4; library: SciPy's t distribution."""
    values = np.random.default_rng(seed).normal(10, 0.2, 3 + seed)
    found = mean_of(values.tolist())
    low, high = stats.t.interval(0.95, len(values) - 1, loc=values.mean(), scale=stats.sem(values))
    assert found.within is not None
    assert (found.mean - found.within, found.mean + found.within) == pytest.approx((low, high), rel=1e-9)


@pytest.mark.parametrize("seed", range(4))
def test_a_line_through_readings_is_that_of_a_regression(seed: int) -> None:
    """Outside: 12; library: SciPy's linregress, slope, intercept and the slope's standard error."""
    rng = np.random.default_rng(seed)
    x = rng.uniform(20, 100, 6)
    y = 0.05 * x - 0.4 + rng.normal(0, 0.05, 6)
    line = fitted(np.column_stack([x, np.ones_like(x)]), y)
    wanted = stats.linregress(x, y)
    assert line.found == pytest.approx((wanted.slope, wanted.intercept), rel=1e-9)
    assert line.within[0] == pytest.approx(wanted.stderr * stats.t.ppf(0.975, 4), rel=1e-9)


def test_scale_and_play_by_a_general_least_squares() -> None:
    """Outside: 2; library: NumPy's lstsq on the moves that came from either side."""
    ways = ((200.0, 200.5, 0), (400.0, 400.7, 0), (400.0, 400.6, 1), (800.0, 801.5, 1), (800.0, 801.7, 0))
    moves = [Move(commanded=x, measured=y, turned=bool(r)) for x, y, r in ways]
    aisle = demo.designs()["seed-shuttle-aisle"]
    found = calibrated(aisle, PROFILES, MovesReading(moves=moves))
    columns = np.array([[x, -r] for x, _, r in ways])
    scale, play = np.linalg.lstsq(columns, np.array([y for _, y, _ in ways]), rcond=None)[0]
    assert found.play == pytest.approx(play, rel=1e-9)
    assert found.change_percent == pytest.approx((1 / scale - 1) * 100, rel=1e-9)


@pytest.mark.parametrize(("section", "constant_lb"), [("A", 6.0)])
def test_a_v_belt_pushed_aside_follows_the_rule_of_the_drive_tables(section: str, constant_lb: float) -> None:
    """Outside: 5; published: V-belt drive tables (from memory), force at 1/64 of the span, (T + Y·t/L)/16 for a
    belt that lies half in its spans.
    """
    ea = vbelt.SECTIONS[section].ea_n
    for tension in (50.0, 100.0, 200.0, 300.0, 400.0):
        by_table = (tension + constant_lb * POUND * 0.5) / 16
        push = float(deflection_force(tension, ea, 300 / 64, 300.0, 600.0))
        assert push == pytest.approx(by_table, rel=0.03)


def test_a_v_belt_that_takes_a_sixteenth_of_its_tension_is_at_it() -> None:
    """Outside: 8; practice"""
    wheel = demo.designs()["trimming-bench-potter-s-wheel"]
    for at, band in bands(wheel, PROFILES).items():
        assert band.span_mm is not None
        assert band.aim.value is not None
        push = PushReading(
            of=at, span_mm=band.span_mm, deflection_mm=band.span_mm / 64, force_n=band.aim.value / 16
        )
        read = read_tension(wheel, PROFILES, push)
        # The rule leaves out the stretch, which a soft belt at little tension feels most.
        assert 0.45 < read.tension_n / band.aim.value <= 1.0


@pytest.mark.parametrize("askew_deg", [-0.4, -0.05, 0.1, 0.7])
def test_the_lead_of_a_beam_by_a_geometry_library(askew_deg: float) -> None:
    """Outside: 4; library: Shapely's skewed rectangle, measured corner to corner."""
    across, along = 420.0, 310.0
    drawn = affinity.skew(box(0, 0, across, along), ys=askew_deg, origin=(0, 0))
    near, far_near, far, near_far = (Point(p) for p in _corners(drawn, across))
    lead = float(
        lead_from_diagonals(near.distance(far_near), along, near.distance(far), far_near.distance(near_far))
    )
    assert lead == pytest.approx(np.tan(np.radians(askew_deg)), rel=1e-3)


def _corners(drawn: object, across: float) -> list[tuple[float, float]]:
    """Near and far corner of the first side's edge, then the second side's, as a tape goes."""
    points = list(drawn.exterior.coords)[:-1]  # type: ignore[attr-defined]
    left = sorted((p for p in points if p[0] < across / 2), key=lambda p: p[1])
    right = sorted((p for p in points if p[0] > across / 2), key=lambda p: p[1])
    return [left[0], right[0], right[1], left[1]]
