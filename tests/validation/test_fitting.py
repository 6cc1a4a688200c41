"""What the Belt step works out, against things outside the project: a geometry library, brute force,
standards, textbook mechanics.
"""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.optimize import brentq
from shapely import LineString, Point, Polygon, box

from crisp_cadence import catalog, demo
from crisp_cadence.core.checks import clearance
from crisp_cadence.core.design.design import design_from
from crisp_cadence.core.evaluation.evaluate import evaluate
from crisp_cadence.core.fields.belts import Near
from crisp_cadence.core.fields.frames import FRAMES
from crisp_cadence.core.fields.screws import COARSE
from crisp_cadence.core.fitting.line import Shim, fewest_pieces
from crisp_cadence.core.fitting.rolls import CutPiece, Roll, pack
from crisp_cadence.core.fitting.stock_belts import ratio_and_distance
from crisp_cadence.core.formulas import fixings, running
from crisp_cadence.core.formulas.belt import open_belt_length
from crisp_cadence.core.geometry.figures import CLEARANCE_MM
from crisp_cadence.core.geometry.path import Round, belt_path, place_for_length
from helpers import outline, value

PROFILES = catalog.profiles()


def random_loop(seed: int) -> tuple[Round, ...]:
    """Pulleys round a wide ellipse, some runs pressed inwards by an idler on the belt's back."""
    random = np.random.default_rng(seed)
    count = int(random.integers(3, 8))
    at = 2 * math.pi * (np.arange(count) + random.uniform(-0.25, 0.25, count)) / count
    outer = [
        Round(f"p{i}", 300 * math.cos(a), 220 * math.sin(a), float(random.uniform(8, 30)), 1, f"p{i}")
        for i, a in enumerate(at)
    ]
    out: list[Round] = []
    for i, r in enumerate(outer):
        out.append(r)
        following = outer[(i + 1) % count]
        if random.random() < 0.5:
            span = belt_path((r, following, *[o for o in outer if o not in (r, following)][:1])).spans[0]
            mid = ((span.x0_mm + span.x1_mm) / 2, (span.y0_mm + span.y1_mm) / 2)
            length = math.hypot(span.x1_mm - span.x0_mm, span.y1_mm - span.y0_mm)
            # the belt runs anticlockwise: its outside is on the right of the way it goes
            right = ((span.y1_mm - span.y0_mm) / length, -(span.x1_mm - span.x0_mm) / length)
            radius, press = float(random.uniform(6, 14)), float(random.uniform(1, 5))
            out.append(
                Round(
                    f"i{i}",
                    mid[0] + right[0] * (radius - press),
                    mid[1] + right[1] * (radius - press),
                    radius,
                    -1,
                    f"i{i}",
                )
            )
    return tuple(out)


@pytest.mark.parametrize("seed", range(200))
def test_random_loops_against_a_geometry_library(seed: int) -> None:
    """Shapely: length of the drawn path, a simple closed curve, every pulley touched by its own pieces and
    cut by none.

    Outside: 4; library: Shapely, length, simple curve, what touches and what is cut
    """
    rounds = random_loop(seed)
    path = belt_path(rounds)
    drawn = outline(path, fine=800)  # a chord of 1/800 of an arc is short by 2·10⁻⁷ of it at most
    assert path.length_mm == pytest.approx(drawn.length, rel=1e-6)
    assert Polygon(drawn).is_valid, "a belt does not cross itself"
    for i, span in enumerate(path.spans):
        line = LineString([(span.x0_mm, span.y0_mm), (span.x1_mm, span.y1_mm)])
        for k, wheel in enumerate(rounds):
            apart = line.distance(Point(wheel.x_mm, wheel.y_mm))
            if k in (i, (i + 1) % len(rounds)):
                assert apart == pytest.approx(wheel.radius_mm, abs=1e-9)
            else:
                assert apart > wheel.radius_mm - 1e-4
    inside = [Polygon(drawn).contains(Point(r.x_mm, r.y_mm)) for r in rounds]
    assert inside == [r.side > 0 for r in rounds], "toothed side inside, back outside"


@pytest.mark.parametrize("seed", range(40))
def test_a_movable_pulley_is_placed_to_a_micrometre(seed: int) -> None:
    """SciPy's root finder on the same lengths; the place gives the length back to a micrometre.

    Outside: 1; library: SciPy, root finder
    """
    random = np.random.default_rng(seed)
    a, b, c = (float(x) for x in random.uniform(8, 25, 3))
    x, press = float(random.uniform(60, 100)), float(random.uniform(1, 4))

    def length(centre: float) -> float:
        slope = (b - a) / centre
        top = (a + x * slope) / math.sqrt(1 - slope**2)
        return belt_path(
            (
                Round("driver", 0, 0, a, 1),
                Round("driven", centre, 0, b, 1),
                Round("roller", x, top + c - press, c, -1),
            )
        ).length_mm

    wanted = length(float(random.uniform(190, 260)))
    got = place_for_length(length, wanted, 170.0, 300.0)
    assert got is not None
    assert length(got) == pytest.approx(wanted, abs=1e-3)
    assert got == pytest.approx(brentq(lambda s: length(s) - wanted, 170.0, 300.0, xtol=1e-12), abs=1e-3)
    assert place_for_length(length, 100.0, 170.0, 300.0) is None


@pytest.mark.parametrize("seed", range(60))
def test_the_stack_is_the_best_of_all_stacks(seed: int) -> None:
    """Brute force over every number of every piece.

    Outside: 1; brute force
    """
    random = np.random.default_rng(seed)
    shims = [
        Shim(f"s{i}", f"s{i}", round(float(random.uniform(0.1, 4)), 2), int(random.integers(0, 4)))
        for i in range(5)
    ]
    height, tolerance = round(float(random.uniform(0, 14)), 2), 0.1
    every = []
    for counts in itertools.product(*(range(s.quantity + 1) for s in shims)):
        off = abs(sum(n * s.thickness_mm for n, s in zip(counts, shims, strict=True)) - height)
        if off <= tolerance + 1e-9:
            every.append((sum(counts), round(off, 6)))
    found = fewest_pieces(height, shims, tolerance)
    if not every:
        assert found is None
        return
    assert found is not None
    assert (found.count, round(abs(found.error_mm), 6)) == min(every)
    assert all(n <= shim.quantity for shim, n in found.pieces)
    assert found.height_mm == pytest.approx(sum(shim.thickness_mm * n for shim, n in found.pieces))


@pytest.mark.parametrize("seed", range(60))
def test_no_roll_is_cut_beyond_its_length_and_none_opened_in_vain(seed: int) -> None:
    """Brute force over every way to lay up to five pieces on up to four rolls.

    Outside: 1; brute force
    """
    random = np.random.default_rng(1000 + seed)
    pieces = [CutPiece(f"p{i}", float(random.integers(200, 2600))) for i in range(int(random.integers(1, 6)))]
    rolls = [
        Roll(f"r{i}", f"r{i}", float(random.choice([700, 1000, 1500, 2000, 5000])))
        for i in range(int(random.integers(1, 5)))
    ]
    found = pack(pieces, rolls)
    for cut in found.cuts:
        assert cut.leftover_mm >= -1e-9
        assert sum(p.length_mm for p in cut.pieces) + cut.leftover_mm == pytest.approx(cut.roll.length_mm)
    listed = sorted(p.label for cut in found.cuts for p in cut.pieces) + sorted(
        p.label for p in found.unplaced
    )
    assert sorted(listed) == sorted(p.label for p in pieces), "every piece once"
    best = (len(pieces), 0.0)
    for ways in itertools.product([None, *range(len(rolls))], repeat=len(pieces)):
        used: dict[int, float] = {}
        for piece, i in zip(pieces, ways, strict=True):
            if i is not None:
                used[i] = used.get(i, 0.0) + piece.length_mm
        if all(total <= rolls[i].length_mm for i, total in used.items()):
            best = min(best, (sum(i is None for i in ways), sum(rolls[i].length_mm for i in used)))
    assert (len(found.unplaced), found.opened_mm) == pytest.approx(best)
    assert found.exact


@pytest.mark.parametrize("ratio", [1.5, 2.0, 3.0])
def test_ratio_and_distance_against_a_root_finder(ratio: float) -> None:
    """Every pair and belt tried one by one with SciPy's root finder on the exact open-belt length.

    Outside: 1; library: SciPy, root finder
    """
    teeth, belts, wanted = [16, 18, 20, 24, 30, 36, 40, 48, 60], [100, 112, 120, 140, 160], 70.0
    every = {}
    for a, b, z in itertools.product(teeth, teeth, belts):
        r1, r2 = a / math.pi, b / math.pi
        if abs(b / a / ratio - 1) <= 0.03 and z * 2.0 > float(open_belt_length(r1 + r2, r1, r2)):
            every[(a, b, z)] = brentq(
                lambda c, r1=r1, r2=r2, z=z: float(open_belt_length(c, r1, r2)) - 2 * z,
                r1 + r2,
                400,
                xtol=1e-12,
            )
    found = ratio_and_distance(ratio, wanted, 2.0, teeth, teeth, belts)
    assert {row[:3] for row in found} == set(every)
    for a, b, z, off, centre, apart in found:
        assert centre == pytest.approx(every[(a, b, z)], abs=1e-3)
        assert apart == pytest.approx(centre - wanted)
        assert off == pytest.approx(100 * (b / a / ratio - 1))
    assert [abs(r[5]) for r in found] == sorted(abs(r[5]) for r in found)


@pytest.mark.parametrize("seed", range(40))
def test_clearance_against_a_geometry_library(seed: int) -> None:
    """Shapely's distance between each straight piece and a rectangle.

    Outside: 1; library: Shapely, distances
    """
    random = np.random.default_rng(seed)
    path = belt_path((Round("a", 0, 0, 12, 1), Round("b", 400, float(random.uniform(-20, 20)), 16, 1)))
    thing = Near(
        x_mm=float(random.uniform(40, 360)),
        y_mm=float(random.uniform(-60, 60)),
        width_mm=float(random.uniform(2, 80)),
        height_mm=float(random.uniform(2, 20)),
    )
    shape = box(
        thing.x_mm - thing.width_mm / 2,
        thing.y_mm - thing.height_mm / 2,
        thing.x_mm + thing.width_mm / 2,
        thing.y_mm + thing.height_mm / 2,
    )
    for (air, _, _), span in zip(clearance.clearances(path, [(thing, 0.0)], 0.7), path.spans, strict=True):
        assert air + 0.7 == pytest.approx(
            LineString([(span.x0_mm, span.y0_mm), (span.x1_mm, span.y1_mm)]).distance(shape), abs=1e-9
        )


@pytest.mark.parametrize(
    ("shaft", "hub", "delta"), [(5.0, 13.0, 0.015), (8.0, 16.0, 0.01), (12.7, 30.0, 0.03)]
)
def test_press_fit_against_thick_cylinders_solved_as_equations(
    shaft: float, hub: float, delta: float
) -> None:
    """Lamé's thick cylinder: u(r) = A·r + B/r in the hub with free outside, solved as a linear system; solid
    shaft under pressure.

    Outside: 3; library: NumPy, linear solver
    """
    a, b = shaft / 2, hub / 2
    e_h, nu_h, e_s, nu_s = 69e3, 0.33, 205e3, 0.3
    # plane stress: σr = E/(1−ν²)·[(1+ν)A − (1−ν)B/r²]; unknown A, B and the pressure p
    k = e_h / (1 - nu_h**2)
    system = np.array(
        [
            [k * (1 + nu_h), -k * (1 - nu_h) / b**2, 0.0],
            [k * (1 + nu_h), -k * (1 - nu_h) / a**2, 1.0],
            [a, 1 / a, a * (1 - nu_s) / e_s],
        ]
    )
    along, across, pressure = np.linalg.solve(system, [0.0, 0.0, delta / 2])
    found = fixings.press_pressure(shaft, hub, delta, 69.0, 0.33)
    assert found == pytest.approx(pressure, rel=1e-9)
    expected = 0.12 * pressure * math.pi * shaft * 7.0 * a / 1000
    assert fixings.press_grip(found, shaft, 7.0, 0.12) == pytest.approx(expected, rel=1e-9)
    hoop = k * ((1 + nu_h) * along + (1 - nu_h) * across / a**2)
    assert fixings.press_hoop(shaft, hub, found) == pytest.approx(hoop, rel=1e-9)


def test_axle_tilt_against_the_integrated_bending_line() -> None:
    """Euler and Bernoulli: φ(l) = ∫ M/EI dx, M = F·(l − x).

    Outside: 1; library: SciPy, quadrature
    """
    inertia = math.pi * 5.0**4 / 64
    slope, _ = quad(lambda x: 80.0 * (14.0 - x) / (205e3 * inertia), 0, 14.0)
    assert float(running.axle_tilt(80.0, 205.0, 5.0, 14.0)) == pytest.approx(math.degrees(slope))


def test_threads_holes_and_bolt_squares_of_the_standards() -> None:
    """ISO 261 coarse pitches and ISO 273 medium holes (from memory); NEMA ICS 16 bolt circles in inches:
    1.725, 2.625 and 3.875 for 17, 23, 34.

    Outside: 13; published: ISO 261, ISO 273 and NEMA ICS 16 (from memory)
    """
    assert {d: COARSE[d].pitch_mm for d in (3.0, 4.0, 5.0, 6.0, 8.0)} == {
        3.0: 0.5,
        4.0: 0.7,
        5.0: 0.8,
        6.0: 1.0,
        8.0: 1.25,
    }
    assert {d: CLEARANCE_MM[d] for d in (3.0, 4.0, 5.0, 6.0, 8.0)} == {
        3.0: 3.4,
        4.0: 4.5,
        5.0: 5.5,
        6.0: 6.6,
        8.0: 9.0,
    }
    for frame, circle_in in (("NEMA 17", 1.725), ("NEMA 23", 2.625), ("NEMA 34", 3.875)):
        assert FRAMES[frame].bolts_mm == pytest.approx(circle_in * 25.4 / math.sqrt(2), abs=0.06)


def test_facts_of_the_trade_about_brackets() -> None:
    """Common practice, no source: a quarter-inch aluminium plate stays true where 4 mm acrylic bends under
    the same belt.

    Outside: 1; practice
    """
    data = demo.designs()["seed-shuttle-aisle"].model_dump(mode="json")
    data["end"]["belt"]["tension_n"] = 80.0

    def tilt(material: str, thickness: float) -> float:
        data["end"]["idler_mount"].update(
            kind="plate", material=material, thickness_mm=thickness, width_mm=40.0, overhang_mm=40.0
        )
        return value(evaluate(design_from(data), PROFILES), "idler_mount.tilt")

    assert tilt("aluminium", 6.35) < 0.25
    assert tilt("acrylic", 4.0) > 1.0
