"""Give of the loop against a belt of many springs, modes against an eigenvalue solver, beams against
integration.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.integrate import solve_ivp
from scipy.linalg import eigh

import crisp_cadence
from conftest import build
from crisp_cadence.core.formulas import springs
from helpers import value


def many_spring_stiffness(
    ea: float,
    run_1: float,
    run_2: float,
    torsion: float,
    motor_mount: float,
    idler_mount: float,
    pieces: int = 120,
) -> float:
    """Stiffness at the carriage of a belt cut into many pieces (general linear solver, NumPy).

    Unknowns: every belt joint's movement along the belt, the carriage, the pulley's rim, both mounts. A
    pulley that turns
    freely passes the belt on; when its axis moves by x, the belt lying in the two runs beside it is drawn by
    x on each side.
    """
    half = pieces // 2
    carriage, rim, motor, idler = range(4)
    size = 4 + 2 * (pieces - 1)
    k: NDArray[np.float64] = np.zeros((size, size))

    def spring(stiffness: float, **reach: float) -> None:
        for a, here in reach.items():
            for b, there in reach.items():
                k[int(a[1:]), int(b[1:])] += stiffness * here * there

    def chain(
        first: int, start: dict[str, float], stop: dict[str, float], length: float, bend: int | None
    ) -> None:
        """Springs from start to stop; at `bend` the belt goes round the idler and its direction along the
        travel turns over.
        """
        joints = [start, *({f"n{first + j}": 1.0} for j in range(pieces - 1)), stop]
        for j in range(pieces):
            reach: dict[str, float] = {}
            for name, factor in joints[j + 1].items():
                reach[name] = reach.get(name, 0) + factor
            for name, factor in joints[j].items():
                reach[name] = reach.get(name, 0) - factor
            if bend == j:
                reach[f"n{idler}"] = reach.get(f"n{idler}", 0) + 2.0
            spring(ea * pieces / length, **reach)

    # Run 1: from the rim (which moves with its mount) to the carriage; movement along the travel.
    chain(4, {f"n{motor}": 1.0, f"n{rim}": 1.0}, {f"n{carriage}": 1.0}, run_1, None)
    # Run 2: from the carriage out to the idler and back to the rim; counted along the belt, so that the
    # return counts backwards.
    chain(4 + pieces - 1, {f"n{carriage}": 1.0}, {f"n{motor}": -1.0, f"n{rim}": 1.0}, run_2, half)
    spring(torsion, **{f"n{rim}": 1.0})
    spring(motor_mount, **{f"n{motor}": 1.0})
    spring(idler_mount, **{f"n{idler}": 1.0})
    force = np.zeros(size)
    force[carriage] = 1.0
    return float(1 / np.linalg.solve(k, force)[carriage])


@pytest.mark.parametrize(
    ("motor_mount", "idler_mount"), [(None, None), (150.0, None), (None, 90.0), (60.0, 35.0)]
)
@pytest.mark.parametrize("gear", [None, 4.0])
def test_loop_against_many_springs(
    motor_mount: float | None, idler_mount: float | None, gear: float | None
) -> None:
    """The report's softest and stiffest place against the many-spring belt; agreement to 1e-6 of the value.

    Outside: 3; library: NumPy, linear solver of a belt of many springs: softest, stiffest, with a gearbox
    """
    changes: dict[str, object] = {
        "end__slot_mm": 8.0,
        "assumptions__bearing_depth_mm": 1.0,
    }  # it lies in a slot: no sag, which has tests of its own; a pulley close to its bearing bends its shaft little
    for name, k in (("motor_mount", motor_mount), ("idler_mount", idler_mount)):
        if k is not None:
            changes |= {f"end__{name}__kind": "measured", f"end__{name}__stiffness_n_mm": k}
    if gear is not None:
        changes["chain"] = [
            build().chain[0].model_dump(),
            {"kind": "gearbox", "ratio": gear, "stiffness_nm_rad": 900.0},
        ]
    design = build(**changes)
    report = crisp_cadence.evaluate(design)
    assert report.along is not None
    ea, lam_end = value(report, "belt.ea"), value(report, "end.lam")
    bending = value(report, "shaft.bending")
    flex = sum(1 / value(report, f"{part}.at_carriage") for part in ("field", "shaft", "mesh"))
    if gear is not None:
        flex += 1 / (900.0 * 1000 * lam_end**2)
    centre, gap = value(report, "loop.centre"), design.end.clamp.gap_mm  # type: ignore[attr-defined]
    guide = design.guide
    start = design.end.motor_offset_mm + guide.near_mm + guide.overtravel_mm + guide.carriage_mm / 2  # type: ignore[attr-defined]
    on_idler = math.pi * value(report, "idler.radius")  # belt on an idler stretches with its run
    for place in (0, 12, 24):
        x = start + report.along.position_mm[place]
        runs = (x - gap / 2, 2 * centre - x - gap / 2 + on_idler)
        rigid, bent = (
            many_spring_stiffness(ea, *runs, 1 / flex, held, idler_mount or 1e10)
            # The shaft's bending is a spring behind the pulley's own mount.
            for held in (motor_mount or 1e10, 1 / (1 / (motor_mount or 1e10) + 1 / bending))
        )
        got = report.along.stiffness_n_mm[place]
        # It is taken to the first order, by what both runs pull where mounts are rigid: to 0.3 % of the whole.
        assert got == pytest.approx(bent, rel=3e-3)
        pulls = ((runs[1] - runs[0]) / sum(runs)) ** 2
        assert 1 / (1 / got - pulls / bending) == pytest.approx(rigid, rel=2e-6)


@pytest.mark.parametrize("seed", range(40))
def test_both_modes_against_an_eigenvalue_solver(seed: int) -> None:
    """scipy.linalg.eigh on the two masses in series; masses and stiffnesses spread over six decades.

    Outside: 2; library: SciPy, eigenvalues
    """
    rotor, load, field, chain = 10 ** np.random.default_rng(seed).uniform(-3, 3, 4)
    k = np.array([[field + chain, -chain], [-chain, chain]]) * 1000
    expected = np.sqrt(np.maximum(eigh(k, np.diag([rotor, load]), eigvals_only=True), 0)) / (2 * math.pi)
    got = springs.two_modes(rotor, load, field, chain)
    assert got[1] == pytest.approx(expected[1], rel=1e-10)
    # the solver itself loses the small eigenvalue's digits when the two lie far apart
    assert got[0] == pytest.approx(
        expected[0], rel=max(1e-9, 1e-14 * (expected[1] / max(expected[0], 1e-12)) ** 2)
    )


def test_modes_of_the_report_along_the_travel() -> None:
    """The report's own stiffnesses and masses put through the eigenvalue solver at three places.

    Outside: 1; library: SciPy, eigenvalues
    """
    report = crisp_cadence.evaluate(build())
    assert report.along is not None
    field, rotor, load = (
        value(report, "field.at_carriage"),
        value(report, "motor.mass"),
        value(report, "mass.total"),
    )
    for place in (0, 12, 24):
        chain = 1 / (1 / report.along.stiffness_n_mm[place] - 1 / field)
        k = np.array([[field + chain, -chain], [-chain, chain]]) * 1000
        low, high = np.sqrt(eigh(k, np.diag([rotor, load]), eigvals_only=True)) / (2 * math.pi)
        # the chain's stiffness in the report comes from a part made 1e7 times stiffer, not infinitely stiff
        assert report.along.mode_low_hz[place] == pytest.approx(low, rel=1e-5)
        assert report.along.mode_high_hz[place] == pytest.approx(high, rel=1e-5)


def test_cantilever_against_integration_of_the_bending_line() -> None:
    """y'' = F(l − x)/EI integrated by SciPy; strength-of-materials texts give δ = F·l³/3EI and φ = F·l²/2EI.

    Outside: 2; library: SciPy, initial value problem
    """
    e, b, t, length, force = 69.0, 40.0, 6.0, 30.0, 120.0
    ei = e * 1000 * b * t**3 / 12
    bent = solve_ivp(
        lambda x, y: [y[1], force * (length - x) / ei], (0, length), [0.0, 0.0], rtol=1e-11, atol=1e-14
    )
    assert force / springs.plate_stiffness(e, b, t, length) == pytest.approx(bent.y[0, -1], rel=1e-8)
    assert springs.plate_tilt(force, e, b, t, length) == pytest.approx(math.degrees(bent.y[1, -1]), rel=1e-8)


def test_quarter_inch_aluminium_stays_true_where_4_mm_acrylic_bends() -> None:
    """Common practice, no source: the same plate, 40 mm wide, 30 mm out, under 60 N, against a quarter
    degree.

    Outside: 1; practice
    """
    acrylic = springs.plate_tilt(60.0, springs.MATERIALS["acrylic"][0], 40.0, 4.0, 30.0)
    aluminium = springs.plate_tilt(60.0, springs.MATERIALS["aluminium"][0], 40.0, 6.35, 30.0)
    assert aluminium < 0.25 < acrylic


@pytest.mark.parametrize("damping", [0.02, 0.05, 0.2, 0.6])
def test_overshoot_against_an_integrator(damping: float) -> None:
    """One damped mode under a sudden force, integrated by SciPy; the peak stands 1 + exp(−πζ/√(1−ζ²)) above
    rest.

    Outside: 1; library: SciPy, initial value problem
    """
    time = np.linspace(0, 8, 8001)
    got = solve_ivp(
        lambda _, y: [y[1], 1 - y[0] - 2 * damping * y[1]],
        (0, 8),
        [0.0, 0.0],
        t_eval=time,
        rtol=1e-10,
        atol=1e-12,
    )
    assert springs.overshoot_factor(damping) == pytest.approx(got.y[0].max(), rel=1e-6)
