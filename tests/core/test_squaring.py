"""A beam's square: from diagonals or two gauges to the side that is ahead, and what brings it back."""

from __future__ import annotations

import math

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.evaluation.evaluate import work_out
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.tuning.bench import bench
from crisp_cadence.core.tuning.squaring import DiagonalsReading, GaugesReading, Squared, squared

PROFILES = catalog.profiles()
DESIGNS = {d.name: d for d in demo.designs().values()}


def drawn(lead: float, across: float = 400.0, along: float = 300.0) -> DiagonalsReading:
    """What a tape reads on a rectangle whose second side is ahead by so much."""
    return DiagonalsReading(
        across_mm=math.hypot(across, lead),
        along_mm=along,
        rising_mm=math.hypot(across, along + lead),
        falling_mm=math.hypot(across, along - lead),
    )


def told(design: AxisDesign, lead: float) -> Squared:
    return squared(design, PROFILES, drawn(lead))


@pytest.mark.parametrize("lead", [-2.0, -0.6, 0.0, 0.9, 3.0])
def test_diagonals_and_gauges_say_the_same(lead: float) -> None:
    design = DESIGNS["Loader"]
    by_gauge = squared(design, PROFILES, GaugesReading(apart_mm=400, first_mm=0.1, second_mm=0.1 + lead))
    by_tape = told(design, lead)
    assert by_tape.lead_mm == pytest.approx(by_gauge.lead_mm, rel=1e-3, abs=1e-9)
    assert by_gauge.lead_mm == pytest.approx(lead / 400 * design.sides.width_mm)
    assert by_gauge.verdict == by_tape.verdict


@pytest.mark.parametrize(
    ("kind", "does"),
    [("two motors", "home switch"), ("cross shaft", "coupler"), ("one driven", "guides of the driven side")],
)
def test_each_kind_of_gantry_is_set_by_what_it_has(kind: str, does: str) -> None:
    design = changed(DESIGNS["Loader"], {"sides.kind": kind, "aim.error_mm": 0.1})
    ahead = told(design, 1.5)
    assert ahead.verdict == "askew"
    assert does in ahead.does
    assert "second side" in ahead.does
    assert "first side" in told(design, -1.5).does
    assert told(design, 0.0).verdict == "square"


def test_the_belt_that_is_named_pulls_the_beam_that_way() -> None:
    """By its path: the left motor's belt pulls both ends of the beam by its spans, and the moment of that is
    what the words rest on.
    """
    head = DESIGNS["Head"]
    run, _ = work_out(head, PROFILES)
    left = run.end.laid(run.ctx)[0]
    assert left.which == "left motor"
    path, moment = left.near, 0.0
    count = len(path.rounds)
    for i, wheel in enumerate(path.rounds):
        if not wheel.name.startswith("beam"):
            continue
        for span, out in ((path.spans[i], 1), (path.spans[(i - 1) % count], -1)):
            dy = (span.y1_mm - span.y0_mm) / span.length_mm * out
            moment += float(wheel.x_mm * dy)  # one newton in the belt, along the span away from the wheel
    assert moment > 0, "it takes the right end to the back"
    right_ahead = told(head, 0.2 / head.end.frame_x_mm * 400 * 2.5)  # type: ignore[union-attr]
    if right_ahead.verdict == "askew":
        assert "from the left motor's belt" in right_ahead.does


def test_more_than_the_belts_have_is_no_matter_of_tension() -> None:
    far = told(DESIGNS["Head"], 4.0)
    assert far.verdict == "askew"
    assert "Tension alone does not explain it" in far.does


def test_what_cannot_be_is_refused() -> None:
    loader = DESIGNS["Loader"]
    for reading, field in (
        (DiagonalsReading(across_mm=400, along_mm=300, rising_mm=5000, falling_mm=500), "reading.rising_mm"),
        (GaugesReading(apart_mm=400, first_mm=0, second_mm=100), "reading.second_mm"),
    ):
        with pytest.raises(EntryError) as refused:
            squared(loader, PROFILES, reading)
        assert refused.value.problems[0].field == field
    with pytest.raises(EntryError):
        told(DESIGNS["Aisle"], 1.0)


def test_only_beams_are_squared() -> None:
    has = {name for name, d in DESIGNS.items() if bench(d, PROFILES).square is not None}
    assert has == {"Head", "Loader"}
