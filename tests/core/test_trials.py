"""What is tried with a gauge, a scale or a watch: each layout has its own, and a reading says what to do."""

from __future__ import annotations

import math

import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.design.layouts import LAYOUTS, begin
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.tuning.bench import bench
from crisp_cadence.core.tuning.preload import WheelsReading, places, preload
from crisp_cadence.core.tuning.reading import PushReading, ThumbReading, read_tension
from crisp_cadence.core.tuning.taken import taken
from crisp_cadence.core.tuning.trials import TrialReading, trials, tried

PROFILES = catalog.profiles()
DESIGNS = {d.name: d for d in demo.designs().values()}
EVERY: dict[str, AxisDesign] = {
    **{f"demo {d.name}": d for d in DESIGNS.values()},
    **{f"new {key}": begin(key, "New") for key in LAYOUTS},
}


@pytest.mark.parametrize("name", EVERY)
def test_every_trial_is_right_at_what_the_design_says(name: str) -> None:
    design = EVERY[name]
    found = trials(design, PROFILES)
    assert len({t.key for t in found}) == len(found), "each has a key of its own"
    for t in found:
        assert t.how.endswith(".")
        assert t.name
        assert t.low is not None or t.high is not None
        for bound, verdict in ((t.low, "low"), (t.high, "high")):
            if bound is not None:
                off = bound + (-1 if verdict == "low" else 1) * (abs(bound) * 0.01 + 1e-3)
                assert tried(design, PROFILES, TrialReading(of=t.key, values=[off])).verdict == verdict
        if t.expected is not None:
            answer = tried(design, PROFILES, TrialReading(of=t.key, values=[t.expected]))
            assert answer.verdict == "right", t.key


@pytest.mark.parametrize("name", EVERY)
def test_what_is_kept_as_measured_is_what_the_design_then_says(name: str) -> None:
    """The kept field makes the trial expect what was read: numbers never part from one another."""
    design = EVERY[name]
    for t in trials(design, PROFILES):
        if t.keeps is None or not t.expected:
            continue
        read = 1.1 * t.expected
        kept = tried(design, PROFILES, TrialReading(of=t.key, values=[read])).keeps
        assert kept is not None, t.key
        measured = changed(design, {"measured": [{"field": kept.path, "value": kept.value}]})
        again = {x.key: x for x in trials(measured, PROFILES)}[t.key]
        assert again.expected == pytest.approx(read, rel=2e-3), t.key


def test_what_an_axis_has_not_is_not_tried() -> None:
    keys = {name: {t.key for t in trials(d, PROFILES)} for name, d in DESIGNS.items()}
    assert {"end.runout", "end.line", "end.speed.1", "end.speed.4"} <= keys["Potter's wheel"]
    assert not any(k in keys["Potter's wheel"] for k in ("drag", "give", "ring", "guide.play"))
    assert {"end.play", "end.joint"} <= keys["Shutter"]
    assert {"end.lift", "end.turns_left", "end.sinks", "chain.1.play"} <= keys["Hoist"]
    assert "give" not in keys["Hoist"], "a gearmotor does not hold still"
    assert "end.roll" in keys["Wheels"]
    assert "end.zero" in keys["Spray arm"]
    assert {"end.weigh", "end.turn", "drag", "give", "ring", "guide.play"} <= keys["Aisle"]
    assert "chain.1.weigh" in keys["Long way"]


def test_the_worst_of_several_places_decides() -> None:
    answer = tried(DESIGNS["Shutter"], PROFILES, TrialReading(of="end.play", values=[0.12, 0.14, 0.19]))
    assert (answer.verdict, answer.least, answer.most) == ("high", 0.12, 0.19)
    assert answer.mean == pytest.approx(0.15)
    assert answer.keeps is not None
    assert answer.keeps.value == 0.19
    tight = tried(DESIGNS["Shutter"], PROFILES, TrialReading(of="end.play", values=[0.01, 0.12]))
    assert tight.verdict == "low"
    assert "binds" in tight.says


def test_a_trial_that_the_axis_has_not_is_refused() -> None:
    with pytest.raises(EntryError) as refused:
        tried(DESIGNS["Aisle"], PROFILES, TrialReading(of="end.runout", values=[0.01]))
    assert refused.value.problems[0].field == "reading.of"
    assert "drag" in refused.value.problems[0].limit


def test_roll_out_and_lift_are_turns_round_a_diameter() -> None:
    roll = {t.key: t for t in trials(DESIGNS["Wheels"], PROFILES)}["end.roll"]
    assert roll.expected == pytest.approx(10 * math.pi * DESIGNS["Wheels"].end.diameter_mm)  # type: ignore[union-attr]
    hoist = DESIGNS["Hoist"].end
    lift = {t.key: t for t in trials(DESIGNS["Hoist"], PROFILES)}["end.lift"]
    assert lift.expected == pytest.approx(5 * math.pi * (hoist.diameter_mm + hoist.rope_mm))  # type: ignore[union-attr]


def test_wheels_are_told_by_their_place() -> None:
    aisle = DESIGNS["Aisle"]
    names = places(aisle.stand.wheels)
    assert bench(aisle, PROFILES).wheels == names
    right = ["slight drag"] * len(names)
    assert preload(aisle, WheelsReading(states=right)).verdict == "right"
    uneven = preload(aisle, WheelsReading(states=["spins free", *right[1:]]))
    assert uneven.verdict == "uneven"
    assert names[0] in uneven.says
    assert preload(aisle, WheelsReading(states=["spins free"] * len(names))).verdict == "loose"
    assert preload(aisle, WheelsReading(states=["drags the plate"] * len(names))).verdict == "tight"
    kind, kept = taken(aisle, PROFILES, WheelsReading(states=right))
    assert (kind, kept["verdict"]) == ("check", "right")
    with pytest.raises(EntryError):
        preload(aisle, WheelsReading(states=right[1:]))
    with pytest.raises(EntryError):
        preload(DESIGNS["Shutter"], WheelsReading(states=right))


def test_a_thumb_reads_as_its_mean_press_and_as_unsure_as_it_is() -> None:
    aisle, presses = DESIGNS["Aisle"], [4.0, 4.4, 4.2]
    thumb = read_tension(aisle, PROFILES, ThumbReading(span_mm=400, deflection_mm=8, presses_n=presses))
    push = read_tension(aisle, PROFILES, PushReading(span_mm=400, deflection_mm=8, force_n=4.2))
    assert thumb.tension_n == pytest.approx(push.tension_n)
    # Student's t for two degrees of freedom is 4.303; the spread of the force is that of the tension.
    off = 4.303 * 0.2 / math.sqrt(3) * 400 / (4 * 8)
    assert thumb.spread == pytest.approx(off / thumb.tension_n, rel=1e-3)
