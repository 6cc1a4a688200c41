"""What readings teach: a fault that was put in is the part that is named."""

from __future__ import annotations

import math

import numpy as np
import pytest

from crisp_cadence import catalog, demo
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.tuning.teaching import Taught, lesson
from crisp_cadence.core.tuning.trials import trials

PROFILES = catalog.profiles()
DESIGNS = {d.name: d for d in demo.designs().values()}
TOLD = ("drag", "mass", "give", "ring")


def readings(design: AxisDesign, seed: int = 0, only: tuple[str, ...] = TOLD) -> list[Taught]:
    """What an axis that is built like this would read, off by what such readings are off."""
    rng = np.random.default_rng(seed)
    off = {"drag": 0.05, "mass": 0.005, "give": 0.05, "ring": 0.02}
    return [
        Taught(of=t.key, value=t.expected * math.exp(rng.normal(0, off[t.key])), load=t.load)
        for t in trials(design, PROFILES)
        if t.key in only and t.expected
    ]


@pytest.mark.parametrize(
    "name", ["Aisle", "Lift", "Head", "Long way", "Board", "Shutter", "Spray arm", "Loader"]
)
def test_a_sound_axis_teaches_nothing(name: str) -> None:
    found = lesson(DESIGNS[name], PROFILES, readings(DESIGNS[name], seed=5))
    assert not any(c.disagrees for c in found.compared)
    assert found.suspects == ()
    assert "agree" in found.says


@pytest.mark.parametrize(
    ("name", "fault", "part"),
    [
        ("Aisle", {"end.belt.ea_n": 18_000.0}, "the belt's cords"),
        ("Lift", {"end.belt.ea_n": 18_000.0}, "the belt's cords"),
        ("Head", {"end.belt.ea_n": 8_000.0}, "the belt's cords"),
        ("Pass", {"guide.drag_n": 7.0}, "the guide's drag"),
        ("Long way", {"moving.0.mass_kg": 3.4}, "what moves"),
        ("Board", {"end.bearing_n_mm": 1_500.0}, "the screw's bearing"),
        ("Spray arm", {"chain.2.belt.ea_n": 15_000.0}, "the closed belt's cords"),
    ],
)
def test_a_fault_is_found(name: str, fault: dict[str, float], part: str) -> None:
    design = DESIGNS[name]
    found = lesson(design, PROFILES, readings(changed(design, fault)))
    best = found.suspects[0]
    assert best.name == part
    assert part in found.says
    (path, true), *_ = fault.items()
    assert best.path == path
    assert best.then == pytest.approx(true, rel=0.35)
    # Kept, the readings agree.
    kept = lesson(changed(design, dict(best.changes)), PROFILES, readings(changed(design, fault)))
    assert sum(c.disagrees for c in kept.compared) < sum(c.disagrees for c in found.compared)


def test_a_mount_that_was_taken_for_rigid_is_among_the_suspects() -> None:
    design = DESIGNS["Reach"]
    soft = changed(design, {"end.idler_mount.kind": "measured", "end.idler_mount.stiffness_n_mm": 60.0})
    found = lesson(design, PROFILES, readings(soft))
    named = {s.name: s for s in found.suspects}
    assert "the idler mount" in named
    assert named["the idler mount"].changes["end.idler_mount.kind"] == "measured"


def test_what_to_measure_next_is_what_is_still_open() -> None:
    design = DESIGNS["Long way"]
    found = lesson(design, PROFILES, readings(design, only=("drag",)))
    assert found.next_of in ("give", "ring", "mass")
    assert found.next_name


def test_a_reading_under_another_load_is_compared_under_its_own() -> None:
    design = DESIGNS["Aisle"]
    (give,) = readings(design, only=("give",))
    assert give.load is not None
    double = Taught(of="give", value=2 * give.value, load=2 * give.load)
    assert lesson(design, PROFILES, [double]).compared[0].read == pytest.approx(give.value)


def test_readings_that_say_nothing_are_refused() -> None:
    with pytest.raises(EntryError) as refused:
        lesson(DESIGNS["Potter's wheel"], PROFILES, [Taught(of="drag", value=3.0)])
    assert refused.value.problems[0].field == "readings"
