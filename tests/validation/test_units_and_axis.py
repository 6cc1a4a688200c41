"""Units against a units library; forces, moves and steps against integration and facts of the trade."""

from __future__ import annotations

import math

import pint
import pytest

from crisp_cadence.core.formulas import fixings, motion, stepping
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
    """Every factor between units.

    Outside: 12; library: Pint; inch, foot, pound, ounce, kilogram-force, pound-force, horsepower (two),
    degree, revolution, minute, standard gravity: all other factors are made of these and powers of ten
    """
    base = DIMENSIONS[name].base

    def library(u: str) -> str:
        return BY_DIMENSION.get((name, u), PINT.get(u, u))

    expected = UREG.Quantity(1.0, library(unit)).to(library(base)).magnitude
    assert convert(1.0, name, unit, base) == pytest.approx(expected, rel=1e-9)


def test_what_makers_type() -> None:
    """Common practice, no source: 30 in of rail, a 3/8 in shaft, 180 oz·in of torque.

    Outside: 3; practice
    """
    assert convert(30, "length", "in", "mm") == 762.0
    assert convert(3 / 8, "length", "in", "mm") == pytest.approx(9.525)
    assert convert(180, "torque", "ozin", "N·m") == pytest.approx(1.27, abs=0.005)


def test_twenty_teeth_of_two_millimetres_give_80_steps() -> None:
    """Common practice, no source: 20 teeth of 2 mm, 200 steps, 1/16.

    Outside: 1; practice
    """
    lam = motion.radians_per_mm(20 * 2.0 / math.pi / 2, 1.0)
    assert stepping.steps_per_mm(lam, 200, 16) == pytest.approx(80.0)
    assert stepping.command_step(80.0) == pytest.approx(0.0125)


def test_a_set_screw_on_a_flat_outlasts_a_small_motor() -> None:
    """Common practice, no source: two M3 screws, one on a flat, hold a 5 mm shaft of a NEMA 17 motor.

    Outside: 1; practice
    """
    assert fixings.set_screw_grip(fixings.SET_SCREW_HOLD_N[3.0], 5.0, 2, 2.0) > 2 * 0.65
