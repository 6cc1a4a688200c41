"""Units against a units library; forces, moves and steps against integration and facts of the trade."""

from __future__ import annotations

import math

import numpy as np
import pint
import pytest

from crisp_cadence.core.formulas import dynamics, fixings, motion, stepping
from crisp_cadence.core.ledger.units import DIMENSIONS, convert

UREG = pint.UnitRegistry()

# Our spelling of a unit in the library's own words. Pint 0.25 takes inch, pound and standard gravity from
# NIST SP 811.
PINT = {
    "um": "micrometer", "µm": "micrometer", '"': "inch", "'": "foot", "thou": "thou", "mil": "thou", "in": "inch", "yd": "yard",
    "in/s": "inch/second", "ips": "inch/second", "in/min": "inch/minute", "ipm": "inch/minute", "mm/s²": "mm/s**2", "mm/s2": "mm/s**2", "mm/s^2": "mm/s**2", "m/s²": "m/s**2",
    "m/s2": "m/s**2", "m/s^2": "m/s**2", "g": "standard_gravity", "in/s²": "inch/s**2", "in/s2": "inch/s**2", "in/s^2": "inch/s**2", "lb": "pound", "lbs": "pound", "kgf": "kilogram_force",
    "gf": "gram*standard_gravity", "lbf": "pound_force", "ozf": "ounce*standard_gravity", "N·m": "N*m", "Nm": "N*m", "N.m": "N*m", "Ncm": "N*cm", "N·cm": "N*cm", "mNm": "mN*m",
    "N·mm": "N*mm", "Nmm": "N*mm", "kgcm": "kilogram_force*cm", "kg·cm": "kilogram_force*cm", "kgfcm": "kilogram_force*cm",
    "g·cm²": "g*cm**2", "gcm2": "g*cm**2", "g·cm2": "g*cm**2", "gcm²": "g*cm**2", "kg·m²": "kg*m**2", "kgm2": "kg*m**2", "kg·cm²": "kg*cm**2", "kgcm2": "kg*cm**2", "oz·in²": "ounce*inch**2", "ozin2": "ounce*inch**2",
    "N/um": "N/micrometer", "N/µm": "N/micrometer", "lbf/in": "pound_force/inch", "lb/in": "pound_force/inch", "N·m/rad": "N*m/rad", "Nm/rad": "N*m/rad", "N·m/deg": "N*m/degree", "Nm/deg": "N*m/degree",
    "Nm/arcmin": "N*m/arcminute", "N·m/arcmin": "N*m/arcminute", "lbin/rad": "pound_force*inch/rad", "lb·in/rad": "pound_force*inch/rad", "oz/ft": "ounce/foot", "lb/ft": "pound/foot",
    "°": "degree", "deg": "degree", "arcmin": "arcminute", "arcsec": "arcsecond", "mrad": "milliradian", "rpm": "revolution/minute", "1/min": "revolution/minute", "rps": "revolution/second", "rev/s": "revolution/second",
    "Hz": "hertz", "1/s": "hertz", "Ω": "ohm", "ohms": "ohm", "R": "ohm", "mΩ": "milliohm", "mohm": "milliohm", "kΩ": "kiloohm", "kohm": "kiloohm", "uH": "microhenry", "µH": "microhenry", "%": "percent", "min": "minute",
    "PS": "metric_horsepower", "hp": "horsepower", "kW": "kilowatt", "ft-lb": "pound_force*foot", "in-lb": "pound_force*inch",
}  # fmt: skip
for ounce in ("ozin", "oz·in", "oz-in"):
    PINT[ounce] = "ounce*standard_gravity*inch"
for pound in ("lbin", "lb·in", "lb-in"):
    PINT[pound] = "pound_force*inch"
for pound in ("lbft", "lb·ft"):
    PINT[pound] = "pound_force*foot"

# The same letters mean another thing in another dimension.
BY_DIMENSION = {
    ("mass", "g"): "gram",
    ("mass", "oz"): "ounce",
    ("force", "lb"): "pound_force",
    ("cord force", "lb"): "pound_force",
    ("fine angle", "'"): "arcminute",
    ("inductance", "H"): "henry",
}

CASES = [(name, unit) for name, d in DIMENSIONS.items() for unit in d.factors]


@pytest.mark.parametrize(("name", "unit"), CASES)
def test_every_factor_against_a_units_library(name: str, unit: str) -> None:
    base = DIMENSIONS[name].base

    def library(u: str) -> str:
        return BY_DIMENSION.get((name, u), PINT.get(u, u))

    expected = UREG.Quantity(1.0, library(unit)).to(library(base)).magnitude
    assert convert(1.0, name, unit, base) == pytest.approx(expected, rel=1e-9)


def test_what_makers_type() -> None:
    """Common practice, no source: 30 in of rail, a 3/8 in shaft, 180 oz·in of torque."""
    assert convert(30, "length", "in", "mm") == 762.0
    assert convert(3 / 8, "length", "in", "mm") == pytest.approx(9.525)
    assert convert(180, "torque", "ozin", "N·m") == pytest.approx(1.27, abs=0.005)


def test_twenty_teeth_of_two_millimetres_give_80_steps() -> None:
    """Common practice, no source: 20 teeth of 2 mm, 200 steps, 1/16."""
    lam = motion.radians_per_mm(20 * 2.0 / math.pi / 2, 1.0)
    assert stepping.steps_per_mm(lam, 200, 16) == pytest.approx(80.0)
    assert stepping.command_step(80.0) == pytest.approx(0.0125)


@pytest.mark.parametrize(
    ("distance", "speed", "acceleration"),
    [(1000.0, 400.0, 2000.0), (20.0, 400.0, 2000.0), (80.0, 400.0, 2000.0), (1.0, 50.0, 90.0)],
)
def test_move_time_against_stepwise_integration(distance: float, speed: float, acceleration: float) -> None:
    """A trapezoid followed in small steps: full acceleration until half way or top speed, mirrored."""
    dt, s, v, t = 1e-5, 0.0, 0.0, 0.0
    while s < distance / 2:
        v = min(v + acceleration * dt, speed)
        s += v * dt
        t += dt
    assert motion.move_time(distance, speed, acceleration) == pytest.approx(2 * t, abs=1e-3)


def test_forces_on_a_slope_against_vectors() -> None:
    """Weight resolved along and across the slope (NumPy vectors)."""
    for degrees in (0, 17, 45, 90):
        slope = math.radians(degrees)
        weight = np.array([0.0, -3.0 * 9.80665])
        along = np.array([math.cos(slope), math.sin(slope)])
        across = np.array([-math.sin(slope), math.cos(slope)])
        assert dynamics.slope_force(3.0, slope) == pytest.approx(-weight @ along, abs=1e-12)
        assert dynamics.guide_drag(3.0, 0.1, slope, 0.0) == pytest.approx(-0.1 * (weight @ across), abs=1e-12)


def test_reflected_inertia_by_kinetic_energy() -> None:
    """½Jω² = ½mv² at any speed."""
    inertia, lam, v = 54.0, 0.31, 420.0
    omega = lam * v
    assert 0.5 * dynamics.mass_of_inertia(inertia, lam) * (v / 1000) ** 2 == pytest.approx(
        0.5 * inertia * 1e-7 * omega**2
    )


def test_torque_by_power_balance() -> None:
    """Power in times efficiency is power out while driving; power back times efficiency reaches the motor
    while driven.
    """
    lam, v = 0.2, 300.0
    for force in (25.0, -25.0):
        torque = dynamics.torque_at_shaft(force, lam, 0.8, 0.8, 0.0, 0.0)
        motor, load = torque * lam * v, force * v / 1000
        assert (motor * 0.8 if force > 0 else motor / 0.8) == pytest.approx(load)


def test_disc_inertia_against_a_sum_of_rings() -> None:
    """J = ∫ r² dm of a solid disc, summed in rings."""
    d, b, rho, n = 2.0, 1.1, 2.7, 100_000  # cm, cm, g/cm³
    r = (np.arange(n) + 0.5) * d / 2 / n
    j = float((r**2 * rho * b * 2 * math.pi * r * d / 2 / n).sum())
    assert dynamics.disc_inertia(20.0, 11.0, 2.7) == pytest.approx(j, rel=1e-8)


def test_a_set_screw_on_a_flat_outlasts_a_small_motor() -> None:
    """Common practice, no source: two M3 screws, one on a flat, hold a 5 mm shaft of a NEMA 17 motor."""
    assert fixings.set_screw_grip(fixings.SET_SCREW_HOLD_N[3.0], 5.0, 2, 2.0) > 2 * 0.65
