"""The search against brute force and against what must be true of any search, whatever its formulas."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from typing import Any, ClassVar

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from crisp_cadence import catalog, demo
from crisp_cadence.core.account.report import Report
from crisp_cadence.core.choosing.find import Searching, begin, search
from crisp_cadence.core.choosing.front import best_front, in_steps
from crisp_cadence.core.choosing.looking import AFTERWARDS
from crisp_cadence.core.choosing.loops import closed_belts
from crisp_cadence.core.choosing.space import candidate, space_of, taken
from crisp_cadence.core.design.design import AxisDesign, changed
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fitting.drawer import Stock
from crisp_cadence.core.formulas.belt import (
    belt_stiffness_ea,
    effective_pull_capacity,
    pitch_diameter,
    teeth_in_mesh,
    wrap_angle,
)
from crisp_cadence.core.geometry.path import closed_belt_centre
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.parts.stages.closed_belt import ClosedBelt
from thorough import many

PROFILES = catalog.profiles()
DESIGNS = demo.designs()
SHELF = [
    Stock(p.key, p.kind, p.name, p.data, 0, demo.invented_price(p) if p.kind in demo.PRICED else None)
    for p in catalog.parts().values()
]


def shelf(kinds: dict[str, slice], profile: str) -> list[Stock]:
    """Some rows of each kind; belts and pulleys of one profile."""
    out: list[Stock] = []
    for kind, part in kinds.items():
        out += [s for s in SHELF if s.kind == kind and s.data.get("profile", profile) == profile][part]
    return out


SMALL = shelf(
    {
        "stepper": slice(2, 40, 6),
        "supply": slice(1, 4),
        "gearbox": slice(0, 2),
        "belt": slice(None),
        "pulley": slice(0, 24, 5),
    },
    "round-g-3",
)

TINY = shelf(
    {
        "stepper": slice(3, 40, 13),
        "supply": slice(1, 3),
        "gearbox": slice(0, 1),
        "belt": slice(0, 3),
        "pulley": slice(1, 24, 8),
    },
    "round-g-3",
)


@cache
def holding(name: str) -> list[tuple[float, float, float, float, float]]:
    """Every combination of a small drawer built and worked out one by one: money, least headroom, step,
    stiffness and speed of those that hold.
    """
    design = DESIGNS[name]
    space = space_of(design, PROFILES, TINY, pruned=False)
    out = []
    for m, g, b, s in itertools.product(
        *(range(n) for n in (len(space.motors), len(space.first), len(space.belts), len(space.steps)))
    ):
        try:
            report = evaluate(taken(design, candidate(design, space, m, space.gear(g), b, s)), PROFILES)
        except EntryError:
            continue
        if holds(report):
            r = {q.key: q.value or 0.0 for q in report.results}
            out.append(
                (r["bill.spend"], headroom(report), r["command_step"], r["stiffness.min"], r["motor.reach"])
            )
    return out


def holds(report: Report) -> bool:
    return all(
        r.verdict in ("holds", "no demand")
        for r in report.ladder
        if not r.advisory and r.key not in AFTERWARDS
    )


def headroom(report: Report) -> float:
    left = (
        "travel",
        "wheel",
        "rail",
        "play",
        "tip",
        "pretension",
        "face",
        "motor_mount_heat",
        "idler_mount_heat",
        *AFTERWARDS,
    )
    return min(
        r.headroom for r in report.ladder if r.headroom is not None and not r.advisory and r.key not in left
    )


@pytest.mark.parametrize("name", ["glaze-bench-pass", "slip-writer-reach"])
def test_the_cheapest_and_the_calmest_drive_are_those_of_brute_force(name: str) -> None:
    """Source: every combination of the small drawer evaluated one by one, with no array and no pruning.

    The front tells values apart by steps of a few per cent: the cheapest row costs at most such a step more
    than the cheapest there is.
    """
    every = holding(name)
    under_way = run(DESIGNS[name], TINY, pruned=False)
    answer, near = under_way.answer(), under_way.ruler.share * 1.05
    assert near < 0.1
    assert answer.holding == len(every) > 0
    assert min(r.spend for r in answer.rows) == pytest.approx(min(e[0] for e in every), rel=near, abs=near)
    assert max(min(r.headroom, 2.0) for r in answer.rows) == pytest.approx(
        min(max(e[1] for e in every), 2.0), rel=near
    )
    assert max(r.stiffness_n_mm for r in answer.rows) == pytest.approx(max(e[3] for e in every), rel=near)
    limit, wanted = DESIGNS[name].aim.resolution_mm / 4, 2 * DESIGNS[name].aim.speed_mm_s
    assert min(max(r.resolution_mm, limit) for r in answer.rows) == pytest.approx(
        max(min(e[2] for e in every), limit), rel=near
    )
    assert max(min(r.speed_mm_s, wanted) for r in answer.rows) == pytest.approx(
        min(max(e[4] for e in every), wanted), rel=near
    )


def run(design: AxisDesign, drawer: Sequence[Stock], **more: Any) -> Searching:
    under_way = begin(design, PROFILES, drawer, **more)
    for _ in under_way.steps():
        pass
    return under_way


@given(acceleration=st.floats(200, 8000), speed=st.floats(20, 1500), factor=st.floats(1.05, 3))
@settings(max_examples=many(10, 200))
def test_asking_for_more_never_lets_more_drives_hold(
    acceleration: float, speed: float, factor: float
) -> None:
    """Every target grows with what is asked: whatever holds for more holds for less."""
    base = DESIGNS["glaze-bench-pass"]
    aims = [{"aim.acceleration_mm_s2": acceleration, "aim.speed_mm_s": speed}]
    aims += [
        {**aims[0], "aim.acceleration_mm_s2": acceleration * factor},
        {**aims[0], "aim.speed_mm_s": speed * factor},
    ]
    less, hard, fast = (search(changed(base, aim), PROFILES, SMALL, pruned=False).holding for aim in aims)
    assert hard <= less
    assert fast <= less


@given(keep=st.lists(st.booleans(), min_size=len(SMALL), max_size=len(SMALL)))
@settings(max_examples=many(10, 200))
def test_a_fuller_drawer_never_makes_the_cheapest_drive_dearer(keep: list[bool]) -> None:
    part = [s for s, k in zip(SMALL, keep, strict=True) if k or s.kind == "supply"]
    whole = search(DESIGNS["glaze-bench-pass"], PROFILES, SMALL)
    try:
        few = search(DESIGNS["glaze-bench-pass"], PROFILES, part)
    except EntryError:
        return  # no motor, or no belt with a pulley
    assert few.holding <= search(DESIGNS["glaze-bench-pass"], PROFILES, SMALL, pruned=False).holding
    if few.rows:
        assert min(r.spend for r in whole.rows) <= (min(r.spend for r in few.rows) + 1) * 1.1


def test_owning_everything_makes_everything_free_and_finds_the_same_drives() -> None:
    owned = [replace(s, quantity=1) for s in SMALL]
    extras = changed(DESIGNS["slip-writer-reach"], {"aim.budget": None})
    answer = search(extras, PROFILES, owned, pruned=False)
    assert answer.holding == search(extras, PROFILES, SMALL, pruned=False).holding
    fixed = sum(
        p.price or 0.0 for p in (extras.end.idler, extras.end.clamp, extras.end.tensioner) if not p.in_stock
    )  # type: ignore[attr-defined]
    fixed += sum((e.price or 0.0) * e.quantity for e in extras.extras if not e.in_stock)
    assert {round(r.spend, 6) for r in answer.rows} == {round(fixed, 6)}
    assert all(r.owned for r in answer.rows)


def test_order_of_the_drawer_does_not_matter() -> None:
    one, other = (run(DESIGNS["glaze-bench-pass"], rows) for rows in (SMALL, SMALL[::-1]))
    assert {tuple(r) for r in one.best.ranked.tolist()} == {tuple(r) for r in other.best.ranked.tolist()}
    assert one.tally.holding == other.tally.holding


class TestClosedBelts:
    """Stages of stock belts laid out by arrays, against the stage itself worked out one by one."""

    PART: ClassVar = [s for s in SHELF if s.kind in ("closed belt", "pulley") and s.data["profile"] == "xl"]

    def test_every_stage_is_what_its_parts_make(self) -> None:
        (choices, rows), (all_loops, _) = closed_belts(
            DESIGNS["glaze-bench-pass"], ClosedBelt(), PROFILES, self.PART, (5.0,), False
        )
        assert len(choices) == all_loops > 100
        profile = PROFILES["xl"]
        for choice, row in list(zip(choices, rows, strict=True))[::37]:
            stage = choice.changes["stage"]
            z1, z2, zb, width = (
                stage["driver"]["teeth"],
                stage["driven"]["teeth"],
                stage["belt_teeth"],
                stage["belt"]["width_mm"],
            )
            r1, r2 = (float(pitch_diameter(z, profile.pitch_mm)) / 2 for z in (z1, z2))
            centre = float(closed_belt_centre(zb * profile.pitch_mm, r1, r2))
            wrap = float(wrap_angle(centre, r1, r2))
            assert row["ratio"] == z2 / z1 > 1
            assert centre >= r1 + r2 + 2
            assert row["mesh"] == teeth_in_mesh(z1, wrap)
            ea = belt_stiffness_ea(profile.ea_glass_n_per_mm, 1.0, width)
            assert row["warmth"] == pytest.approx(ea * (23 - 5) * 1e-6 * 10)
            assert row["floor"] == pytest.approx((profile.install_n_per_mm or 0) * width)
            assert row["cord"] == pytest.approx((profile.cord_glass_n_per_mm or 0) * width)
            assert row["pull"] == pytest.approx(
                float(effective_pull_capacity(profile.working_tension_n_per_25_4mm or 0, width, row["mesh"]))
            )
            # two springs in parallel at the driven radius, each as long as the free span, and the teeth of both
            # pulleys in series
            span = (centre**2 - (r2 - r1) ** 2) ** 0.5
            give = span / (2 * ea) + 2 * 0.07 / row["pull"]
            assert row["stiffness_nm_rad"] == pytest.approx(r2**2 / 1000 / give)

    def test_what_is_left_out_is_no_better_in_anything(self) -> None:
        """Brute force: for each stage left out there is one of the same ratio that is as good in all that any
        rung looks at.
        """
        (_, whole), _ = closed_belts(
            DESIGNS["glaze-bench-pass"], ClosedBelt(), PROFILES, self.PART, (5.0,), False
        )
        (_, slim), _ = closed_belts(
            DESIGNS["glaze-bench-pass"], ClosedBelt(), PROFILES, self.PART, (5.0,), True
        )
        assert len(slim) < len(whole)

        def good(row: dict[str, float]) -> tuple[float, ...]:
            return (
                -row["inertia_gcm2"],
                row["stiffness_nm_rad"],
                row["pull"] * row["radius"],
                row["cord"],
                row["radius"],
                -row["wrap"],
                -row["floor"],
                -row["sag"],
                -row["warmth"],
                row["mesh"],
                row["room"],
                -row["spend"],
            )

        for row in whole[::11]:
            assert any(
                abs(other["ratio"] - row["ratio"]) < 1e-9
                and all(a >= b - 1e-9 for a, b in zip(good(other), good(row), strict=True))
                for other in slim
            ), row

    def test_a_wanted_distance_is_kept(self) -> None:
        closed = ClosedBelt(wanted_mm=60.0, adjust_mm=6.0)
        (choices, _), _ = closed_belts(DESIGNS["glaze-bench-pass"], closed, PROFILES, self.PART, (5.0,), True)
        assert choices
        for choice in choices:
            stage = choice.changes["stage"]
            r = [
                float(pitch_diameter(stage[n]["teeth"], PROFILES["xl"].pitch_mm)) / 2
                for n in ("driver", "driven")
            ]
            assert abs(float(closed_belt_centre(stage["belt_teeth"] * PROFILES["xl"].pitch_mm, *r)) - 60) <= 3


@given(values=st.lists(st.floats(0.01, 1e4), min_size=2, max_size=40), share=st.floats(0.01, 0.2))
def test_steps_keep_the_order_and_tell_apart_what_differs(values: list[float], share: float) -> None:
    """A ruler of equal shares: order is kept, and values more than two shares apart never rank alike."""
    found = np.array(sorted(values))
    steps = in_steps(found, found[0], share, 10_000)
    assert (np.diff(steps) >= 0).all()
    for (a, i), (b, j) in itertools.pairwise(zip(found.tolist(), steps.tolist(), strict=True)):
        assert i != j or b / a < (1 + share) ** 2


@given(rows=st.lists(st.tuples(*[st.floats(0, 1, width=16)] * 4), min_size=1, max_size=120))
def test_nothing_on_the_front_is_beaten_and_nothing_off_it_is_not(rows: list[tuple[float, ...]]) -> None:
    """The definition of the set of efficient points (Pareto), row by row."""
    ranked = np.array(rows)
    front = ranked[best_front(ranked)]
    for row in ranked:
        better = ((front <= row).all(axis=1) & (front < row).any(axis=1)).any()
        assert better != (front == row).all(axis=1).any()
