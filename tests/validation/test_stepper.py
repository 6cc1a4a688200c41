"""Pull-out torque against the textbook phasor form, a search of the d-q plane and a general optimiser."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import minimize

from crisp_cadence.core.formulas import stepper

# Label data of made-up but ordinary motors: hold torque N·m, rated A, ohm, mH, steps; driver rms A and supply
# V.
MOTORS = [
    (0.45, 1.7, 1.5, 2.8, 200, 1.5, 24.0),
    (1.26, 2.8, 0.9, 2.5, 200, 2.8, 36.0),
    (0.4, 0.4, 30.0, 37.0, 200, 0.4, 12.0),
    (0.28, 1.33, 2.1, 2.5, 400, 1.3, 12.0),
    (6.5, 5.0, 0.6, 4.5, 200, 5.0, 60.0),
]
SPEEDS = (0.0, 3.0, 20.0, 60.0, 100.0, 180.0, 400.0, 900.0)


def _machine(motor: tuple[float, ...]) -> tuple[float, float, float, float, float, float]:
    hold, rated, r, mh, steps, rms, volts = motor
    return stepper.torque_constant(hold, rated), r, mh, stepper.current_limit(rms, 0), volts, steps


@pytest.mark.parametrize("motor", MOTORS)
@pytest.mark.parametrize("speed", SPEEDS)
def test_against_a_search_of_the_plane(motor: tuple[float, ...], speed: float) -> None:
    """Every current within both limits is tried on a grid (independent numeric search); the grid is within
    0.5 % of the best.

    Outside: 1; brute force
    """
    kt, r, mh, i, v, steps = _machine(motor)
    angle = np.linspace(math.pi / 2, math.pi, 1500)
    size = np.linspace(0, i, 1200)[:, None]
    i_d, i_q = size * np.cos(angle), size * np.sin(angle)
    x, e = steps / 4 * speed * mh / 1000, kt * speed
    allowed = (r * i_d - x * i_q) ** 2 + (r * i_q + x * i_d + e) ** 2 <= v**2
    best = float(np.where(allowed, kt * i_q, 0.0).max())
    assert stepper.pull_out_torque(speed, kt, r, mh, i, v, steps) == pytest.approx(
        best, rel=5e-3, abs=2e-3 * kt * i
    )


@pytest.mark.parametrize("motor", MOTORS)
@pytest.mark.parametrize("speed", [60.0, 180.0, 400.0])
def test_against_a_general_optimiser(motor: tuple[float, ...], speed: float) -> None:
    """SciPy's SLSQP on the same two circles, to a tenth of a per cent.

    Outside: 1; library: SciPy, constrained optimiser
    """
    kt, r, mh, i, v, steps = _machine(motor)
    x, e = steps / 4 * speed * mh / 1000, kt * speed
    limits = [
        {"type": "ineq", "fun": lambda c: 1 - c[0] ** 2 - c[1] ** 2},
        {
            "type": "ineq",
            "fun": lambda c: (
                1 - ((r * c[0] - x * c[1]) ** 2 * i**2 + (r * c[1] * i + x * c[0] * i + e) ** 2) / v**2
            ),
        },
    ]
    z2 = r**2 + x**2
    inside = (
        -e * x / z2 / i,
        -e * r / z2 / i,
    )  # currents in units of the limit; no voltage at all is within the voltage circle
    found = minimize(
        lambda c: -c[1],
        inside,
        constraints=limits,
        bounds=[(-1, 0), (-1, 1)],
        options={"maxiter": 500, "ftol": 1e-9},
    )
    assert found.success
    assert stepper.pull_out_torque(speed, kt, r, mh, i, v, steps) == pytest.approx(
        max(kt * i * found.x[1], 0.0), rel=1e-3, abs=1e-5
    )


@pytest.mark.parametrize("speed", [150.0, 400.0, 900.0])
def test_voltage_bound_torque_is_the_textbook_phasor_form(speed: float) -> None:
    """Synchronous machine texts: I = (V∠δ − E)/(R + jX), torque in proportion to its real part, pull-out over
    the load angle δ.

    Outside: 1; published: texts on synchronous machines, torque over the load angle (from memory)
    """
    kt, r, mh, _, v, steps = _machine(MOTORS[0])
    x, e = steps / 4 * speed * mh / 1000, kt * speed
    delta = np.linspace(0, math.pi, 400_001)
    current = (v * np.exp(1j * delta) - e) / (r + 1j * x)
    best = kt * current.real.max()
    unlimited = 1e6  # a driver that never limits leaves the voltage alone to decide
    assert stepper.pull_out_torque(speed, kt, r, mh, unlimited, v, steps) == pytest.approx(best, rel=1e-9)


def test_standing_torque_is_the_hold_torque() -> None:
    """At rest and rated current a stepper gives its hold torque: definition on every label.

    Outside: 1; published: texts on stepping motors, holding torque (from memory)
    """
    kt, r, mh, _, v, steps = _machine(MOTORS[0])
    assert stepper.pull_out_torque(0.0, kt, r, mh, stepper.current_limit(1.7, 0), v, steps) == pytest.approx(
        0.45
    )


def test_torque_never_rises_with_speed() -> None:
    """Pull-out torque falls with speed.

    Outside: 1; published: texts on stepping motors, curves of pull-out torque (from memory)
    """
    for motor in MOTORS:
        kt, r, mh, i, v, steps = _machine(motor)
        curve = stepper.pull_out_torque(np.linspace(0, 2000, 4001), kt, r, mh, i, v, steps)
        assert (np.diff(curve) <= 1e-9).all()


def test_one_microstep_carries_little() -> None:
    """Common practice, no source: 9.8 % of the hold torque at 1/16, 0.6 % at 1/256.

    Outside: 2; practice
    """
    assert stepper.microstep_torque(1.0, 16) == pytest.approx(0.098, abs=5e-4)
    assert stepper.microstep_torque(1.0, 256) == pytest.approx(0.006, abs=2e-4)


def test_a_load_of_the_whole_hold_torque_costs_one_full_step() -> None:
    """Stepper texts: the torque curve peaks one full step from rest; 1.8° for 200 steps.

    Outside: 1; published: texts on stepping motors, the torque curve peaks one full step from rest (from
    memory)
    """
    assert math.degrees(float(stepper.lag_angle(0.5, 0.5, 200))) == pytest.approx(1.8)
    step = 1e-7  # stiffness at rest is the slope of T·sin(Nθ/4), here by a difference
    assert stepper.field_stiffness(0.5, 200) == pytest.approx(
        (0.5 * math.sin(50 * step) - 0.0) / step, rel=1e-6
    )


def test_windings_keep_copper_loss_and_ampere_turns() -> None:
    """Six and eight wire motors: halves in series or parallel at equal copper loss give √2 of the half coil's
    ampere-turns (motor texts).

    Outside: 1; published: texts on stepping motors, windings in series and parallel (from memory)
    """
    for name, halves_in_use in (("series", 2), ("parallel", 2)):
        torque, current, resistance, _ = stepper.WINDINGS[name]
        assert current**2 * resistance == pytest.approx(1.0), (
            "copper loss of the phase as with one half at rated current"
        )
        per_half = current if name == "series" else current / 2
        assert torque == pytest.approx(halves_in_use * per_half)
