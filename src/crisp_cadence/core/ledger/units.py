"""Units: what may be typed into a field, and the one table of factors behind it.

The store and the core keep each quantity in one unit (millimetre, kilogram, newton …). The browser reads this
table and takes any unit of the same dimension; there is no second table.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from .formula import Real, formula

_INCH = 25.4  # mm, exact since 1959
_POUND = 0.45359237  # kg, exact
_G0 = 9.80665  # m/s², exact by convention
_LBF = _POUND * _G0  # N


@dataclass(frozen=True, slots=True)
class Dimension:
    """One kind of quantity: the unit it is kept in, what else may be typed, what either system shows, and for
    other metric units that results come in, what they are in the imperial one.
    """

    base: str
    factors: dict[str, float]
    metric: str
    imperial: str
    pairs: Mapping[str, str] = field(default_factory=dict)


DIMENSIONS: dict[str, Dimension] = {
    "length": Dimension(
        "mm",
        {
            "mm": 1,
            "cm": 10,
            "m": 1000,
            "um": 1e-3,
            "µm": 1e-3,
            "in": _INCH,
            "inch": _INCH,
            '"': _INCH,
            "ft": 12 * _INCH,
            "'": 12 * _INCH,
            "thou": _INCH / 1000,
            "mil": _INCH / 1000,
            "yd": 36 * _INCH,
        },
        "mm",
        "in",
        {"m": "ft"},
    ),
    "speed": Dimension(
        "mm/s",
        {
            "mm/s": 1,
            "m/s": 1000,
            "cm/s": 10,
            "mm/min": 1 / 60,
            "m/min": 1000 / 60,
            "in/s": _INCH,
            "ips": _INCH,
            "in/min": _INCH / 60,
            "ipm": _INCH / 60,
            "ft/min": 12 * _INCH / 60,
            "ft/s": 12 * _INCH,
        },
        "mm/s",
        "in/s",
        {"m/s": "ft/s", "mm/min": "in/min"},
    ),
    "acceleration": Dimension(
        "mm/s²",
        {
            "mm/s²": 1,
            "mm/s2": 1,
            "mm/s^2": 1,
            "m/s²": 1000,
            "m/s2": 1000,
            "m/s^2": 1000,
            "g": _G0 * 1000,
            "in/s²": _INCH,
            "in/s2": _INCH,
            "in/s^2": _INCH,
        },
        "mm/s²",
        "in/s²",
    ),
    "mass": Dimension("kg", {"kg": 1, "g": 1e-3, "lb": _POUND, "lbs": _POUND, "oz": _POUND / 16}, "kg", "lb"),
    "force": Dimension(
        "N",
        {"N": 1, "kN": 1000, "kgf": _G0, "gf": _G0 / 1000, "lbf": _LBF, "lb": _LBF, "ozf": _LBF / 16},
        "N",
        "lbf",
    ),
    "torque": Dimension(
        "N·m",
        {
            "N·m": 1,
            "Nm": 1,
            "N.m": 1,
            "Ncm": 0.01,
            "N·cm": 0.01,
            "mNm": 1e-3,
            "N·mm": 1e-3,
            "Nmm": 1e-3,
            "kgcm": _G0 / 100,
            "kg·cm": _G0 / 100,
            "kgfcm": _G0 / 100,
            "ozin": _LBF / 16 * _INCH / 1000,
            "oz·in": _LBF / 16 * _INCH / 1000,
            "oz-in": _LBF / 16 * _INCH / 1000,
            "lbin": _LBF * _INCH / 1000,
            "lb·in": _LBF * _INCH / 1000,
            "lb-in": _LBF * _INCH / 1000,
            "in-lb": _LBF * _INCH / 1000,
            "lbft": _LBF * 12 * _INCH / 1000,
            "lb·ft": _LBF * 12 * _INCH / 1000,
            "ft-lb": _LBF * 12 * _INCH / 1000,
        },
        "N·m",
        "oz·in",
    ),
    "inertia": Dimension(
        "g·cm²",
        {
            "g·cm²": 1,
            "gcm2": 1,
            "g·cm2": 1,
            "gcm²": 1,
            "kg·m²": 1e7,
            "kgm2": 1e7,
            "kg·cm²": 1e3,
            "kgcm2": 1e3,
            "oz·in²": _POUND / 16 * 1e3 * 2.54**2,
            "ozin2": _POUND / 16 * 1e3 * 2.54**2,
        },
        "g·cm²",
        "oz·in²",
    ),
    "stiffness": Dimension(
        "N/mm",
        {"N/mm": 1, "N/m": 1e-3, "N/um": 1e3, "N/µm": 1e3, "lbf/in": _LBF / _INCH, "lb/in": _LBF / _INCH},
        "N/mm",
        "lbf/in",
    ),
    "torsional stiffness": Dimension(
        "N·m/rad",
        {
            "N·m/rad": 1,
            "Nm/rad": 1,
            "N·m/deg": 180 / math.pi,
            "Nm/deg": 180 / math.pi,
            "Nm/arcmin": 10800 / math.pi,
            "N·m/arcmin": 10800 / math.pi,
            "lbin/rad": _LBF * _INCH / 1000,
            "lb·in/rad": _LBF * _INCH / 1000,
        },
        "N·m/rad",
        "lb·in/rad",
    ),
    "line mass": Dimension(
        "g/m",
        {
            "g/m": 1,
            "kg/m": 1000,
            "g/mm": 1000,
            "oz/ft": _POUND / 16 * 1e3 / (12 * _INCH / 1e3),
            "lb/ft": _POUND * 1e3 / (12 * _INCH / 1e3),
        },
        "g/m",
        "oz/ft",
    ),
    "angle": Dimension("°", {"°": 1, "deg": 1, "rad": 180 / math.pi}, "°", "°"),
    "fine angle": Dimension(
        "arcmin",
        {"arcmin": 1, "'": 1, "arcsec": 1 / 60, "°": 60, "deg": 60, "mrad": 10.8 / math.pi},
        "arcmin",
        "arcmin",
    ),
    "turning speed": Dimension(
        "rpm", {"rpm": 1, "1/min": 1, "rps": 60, "rev/s": 60, "rad/s": 30 / math.pi}, "rpm", "rpm"
    ),
    "frequency": Dimension("Hz", {"Hz": 1, "kHz": 1000, "MHz": 1e6, "1/s": 1}, "Hz", "Hz"),
    "voltage": Dimension("V", {"V": 1, "mV": 1e-3, "kV": 1000}, "V", "V"),
    "current": Dimension("A", {"A": 1, "mA": 1e-3}, "A", "A"),
    "capacitance": Dimension("µF", {"µF": 1, "uF": 1, "mF": 1000}, "µF", "µF"),
    "resistance": Dimension(
        "Ω",
        {"Ω": 1, "ohm": 1, "ohms": 1, "R": 1, "mΩ": 1e-3, "mohm": 1e-3, "kΩ": 1000, "kohm": 1000},
        "Ω",
        "Ω",
    ),
    "inductance": Dimension("mH", {"mH": 1, "uH": 1e-3, "µH": 1e-3, "H": 1000}, "mH", "mH"),
    "time": Dimension("s", {"s": 1, "ms": 1e-3, "min": 60}, "s", "s"),
    "cord force": Dimension("N", {"N": 1, "kN": 1000, "lbf": _LBF, "lb": _LBF}, "N", "lbf"),
    "power": Dimension("W", {"W": 1, "kW": 1000, "hp": 745.69987158227022, "PS": 735.49875}, "W", "W"),
    "share": Dimension("%", {"%": 1}, "%", "%"),
    "money": Dimension("", {}, "", ""),
    "count": Dimension("", {}, "", ""),
    "number": Dimension("", {}, "", ""),
}


@formula
def convert(value: Real, dimension: str, unit: str, to: str) -> Real:
    """Convert between two units of one dimension.

    Equation: x_to = x·f_unit/f_to
    Units: value in unit → value in to
    Range: any finite value; KeyError for a unit that the dimension does not have
    Source: standard — inch, pound and standard gravity are exact by definition (international yard and pound,
    1959; ISO 80000-3)

    >>> convert(30.0, "length", "in", "mm")
    762.0
    >>> round(convert(180.0, "torque", "ozin", "N·m"), 4)
    1.2711
    """
    factors = DIMENSIONS[dimension].factors
    return value * factors[unit] / factors[to]
