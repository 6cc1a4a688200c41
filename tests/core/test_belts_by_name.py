"""Every belt of an axis by its name: what Build tightens it to is what Tune holds a reading against; and a reading
is of the belt that it says.
"""

from __future__ import annotations

import re

import pytest

from crisp_cadence import catalog, demo, evaluate
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.tuning.heard import pitches
from crisp_cadence.core.tuning.reading import PluckReading, PushReading, ScaleReading, bands, read_tension

PROFILES = catalog.profiles()
DESIGNS: dict[str, AxisDesign] = {
    **{f"demo {name}": d for name, d in demo.designs().items()},
    **{f"new {key}": begin(key, "New") for key in LAYOUTS},
}
LIFT = DESIGNS["demo seed-shuttle-lift"]
LONG_WAY = DESIGNS["demo clay-printer-long-way"]


@pytest.mark.parametrize("name", DESIGNS)
def test_build_and_tune_name_the_same_tensions(name: str) -> None:
    design = DESIGNS[name]
    report = evaluate(design)
    said = [
        round(float(force))
        for step in report.work
        if step.key.endswith("tension")
        for force in re.findall(r"(?<![\d.])(\d+) N\b(?!\))", step.do + step.check)
    ]
    if design.end.kind == "spindle":
        # Each speed has its own: Build begins with the slowest, and names all others for the first run.
        (table,) = [t for t in report.tables if t.key == "v_belts"]
        (run,) = [step for step in report.work if step.key == "slow_run"]
        wanted = [table.rows[0][1], table.rows[0][4]]
        others = [round(float(str(row[i]))) for row in table.rows[1:] for i in (1, 4)]
        assert [round(float(n)) for n in re.findall(r"(\d+) N\b", run.do)] == others
        told = {at: band.aim.value for at, band in bands(design, PROFILES).items()}
        assert list(told.values()) == [row[i] for row in table.rows for i in (1, 4)]
    else:
        # Two belts of one kind are set alike: Build says it once for both.
        once = {
            at.rpartition(".")[0] if b.key else at: b.aim.value for at, b in bands(design, PROFILES).items()
        }
        wanted = list(once.values())
    assert sorted(said) == sorted(round(float(t)) for t in wanted if t is not None)


def test_each_toothed_belt_is_read_against_its_own_band() -> None:
    found = bands(LONG_WAY, PROFILES)
    assert list(found) == ["end", "chain.1"]
    for at, band in found.items():
        answer = read_tension(
            LONG_WAY, PROFILES, PushReading(of=at, span_mm=400, deflection_mm=5, force_n=3.0)
        )
        assert (answer.low_n, answer.target_n) == (band.low.value, band.aim.value)
    # The open belt is the one that is meant where nothing is said.
    plain = read_tension(LONG_WAY, PROFILES, PluckReading(span_mm=300, frequency_hz=70))
    assert plain == read_tension(LONG_WAY, PROFILES, PluckReading(of="end", span_mm=300, frequency_hz=70))


@pytest.mark.parametrize(
    ("of", "field"), [("chain.2", "reading.of"), ("chain.1", "reading.how"), ("chain.1", "reading.span_mm")]
)
def test_what_cannot_be_read_says_which_can(of: str, field: str) -> None:
    short = PluckReading(of=of, span_mm=60, frequency_hz=120)
    reading = ScaleReading(of=of, force_n=20) if field == "reading.how" else short
    with pytest.raises(EntryError) as caught:
        read_tension(LONG_WAY, PROFILES, reading)
    (found,) = caught.value.problems
    assert found.field == field
    assert found.remedy


def test_a_run_can_have_the_pitches_of_its_band_and_some_more() -> None:
    """f goes with √T and with 1/L: a twentieth of the least to four times the most, of half the length twice."""
    band = bands(LONG_WAY, PROFILES)["end"]
    whole, half = pitches(band, 800.0), pitches(band, 400.0)
    assert half.high_hz == pytest.approx(2 * whole.high_hz)
    assert band.low.value is not None
    assert band.high.value is not None
    ratio = 80 * max(band.low.value, band.high.value) / min(band.low.value, band.high.value)
    low_at = half.high_hz / ratio**0.5
    assert half.low_hz == pytest.approx(max(low_at, 20.0))


def test_a_reading_off_the_band_says_how_far_to_turn_which_screw_and_which_way() -> None:
    """Turns are what lacks over what a turn makes, and what a turn makes is on Belt."""
    values = {q.key: q.value for q in evaluate(LIFT).results}
    per_turn, aim = values["tensioner.turn"], bands(LIFT, PROFILES)["end"].aim.value
    assert per_turn is not None
    assert aim is not None
    low = read_tension(LIFT, PROFILES, ScaleReading(force_n=12.0, at="clamp"))
    assert low.verdict == "low"
    assert low.turns == pytest.approx((aim - 12.0) / per_turn)
    assert low.to_target.startswith(f"About {abs(low.turns or 0):.2g} turn")
    assert "tighter" in low.to_target
    assert "jack screws" in low.to_target
    high = read_tension(LIFT, PROFILES, ScaleReading(force_n=900.0, at="clamp"))
    assert high.verdict == "high"
    assert high.turns == pytest.approx((aim - 900.0) / per_turn)
    assert "looser" in high.to_target
    within = read_tension(LIFT, PROFILES, ScaleReading(force_n=aim, at="clamp"))
    assert (within.turns, within.to_target) == (None, "")
    # A slotted plate has no screw: it says what to do, and no number.
    slot = read_tension(
        LONG_WAY, PROFILES, PushReading(of="chain.1", span_mm=134.3, deflection_mm=2, force_n=1.2)
    )
    assert slot.turns is None
    assert slot.to_target == "Lever the plate along its slot, its bolts just snug."


LOADER = DESIGNS["demo kiln-room-loader"]
HEAD = DESIGNS["demo clay-printer-head"]
WHEEL = DESIGNS["demo trimming-bench-potter-s-wheel"]


def test_each_side_is_a_belt_of_its_own_and_a_pair_says_what_it_may_differ_by() -> None:
    for design in (LOADER, HEAD):
        one, other = bands(design, PROFILES).values()
        assert one.name != other.name
        assert one.aim.value == other.aim.value
        with pytest.raises(EntryError) as refused:
            read_tension(design, PROFILES, PluckReading(of="end", span_mm=300, frequency_hz=70))
        assert "which belt" in refused.value.problems[0].message
        assert "end.1, end.2" in refused.value.problems[0].limit
    results = {q.key: q.value for q in evaluate(LOADER).results}
    apart = bands(LOADER, PROFILES)["end.1"].apart
    # Over the whole travel the sides part by ΔT/EA of it.
    assert apart is not None
    assert apart.value is not None
    by_hand = apart.value / (results["belt.ea"] or 1) * (results["travel.usable"] or 1)
    assert by_hand == pytest.approx(LOADER.aim.error_mm)


def test_a_pair_of_crossed_belts_that_differs_as_it_may_is_askew_as_it_may() -> None:
    apart = bands(HEAD, PROFILES)["end.1"].apart
    assert apart is not None
    assert apart.value is not None
    uneven = evaluate(changed(HEAD, {"end.uneven_n": apart.value}))
    assert {q.key: q.value for q in uneven.results}["crossed.squareness"] == pytest.approx(HEAD.aim.error_mm)


def test_a_v_belt_is_read_as_build_pushes_it() -> None:
    """Each belt at each speed: what Tune's table says that a push takes reads as the tension to set."""
    (table,) = [t for t in evaluate(WHEEL).tables if t.key == "v_belts"]
    for nth, row in enumerate(table.rows, 1):
        for of, at in (("motor", 1), ("cone", 4)):
            band = bands(WHEEL, PROFILES)[f"end.{of}.{nth}"]
            tension, aside, force = (float(str(row[at + k])) for k in range(3))
            assert band.span_mm is not None
            push = PushReading(of=f"end.{of}.{nth}", span_mm=band.span_mm, deflection_mm=aside, force_n=force)
            answer = read_tension(WHEEL, PROFILES, push)
            assert answer.tension_n == pytest.approx(tension, rel=1e-6)
            assert answer.verdict == "within the band"
            assert band.ways[0] == "push"


def test_a_belt_that_is_read_warm_is_told_what_it_has_as_usual() -> None:
    """Glass in aluminium: EA·(23 − 5)·10⁻⁶ for each kelvin, by hand."""
    ea = {q.key: q.value for q in evaluate(LIFT).results}["belt.ea"] or 0.0
    usual, warm = (
        read_tension(LIFT, PROFILES, PluckReading(span_mm=250, frequency_hz=80, warmer_k=k)) for k in (0, 12)
    )
    assert usual.tension_n - warm.tension_n == pytest.approx(ea * 18e-6 * 12)
    assert "usual warmth" in warm.says
    assert "usual warmth" not in usual.says
