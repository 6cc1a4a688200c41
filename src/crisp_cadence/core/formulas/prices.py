"""What parts typically cost, by kind and size: rounded figures for a sum before anybody has asked a shop.

All are estimates in € of 2026 for single pieces of plain make from ordinary shops; a third more or less is
usual, and a shop's own price replaces each of them.
"""

from __future__ import annotations

import math

from ..ledger.formula import formula

YEAR, CURRENCY = 2026, "€"


@formula
def motor_price(torque_nm: float) -> float:
    """Typical price of a stepper or gearmotor.

    Equation: P = 7 + 13·T
    Units: N·m (of holding; of a gearmotor at stall) → €
    Range: 0.05 to 12 N·m
    Source: estimate — single pieces of 2026: 0.45 N·m 13, 3 N·m 46, 12 N·m 160

    >>> round(motor_price(0.45), 2), motor_price(3.0)
    (12.85, 46.0)
    """
    return 7 + 13 * torque_nm


@formula
def mains_motor_price(power_w: float) -> float:
    """Typical price of an induction motor.

    Equation: P = 50 + 0.2·W
    Units: W → €
    Range: 60 to 2200 W, one or three phases, foot mounted
    Source: estimate — single pieces of 2026

    >>> mains_motor_price(370.0)
    124.0
    """
    return 50 + 0.2 * power_w


@formula
def drive_price(supply_v: float) -> float:
    """Typical price of a motor driver with its share of a supply.

    Equation: P = 14 + 0.45·U
    Units: V → €
    Range: 12 to 80 V, up to some 5 A
    Source: estimate — single pieces of 2026: 12 V 19, 24 V 25, 48 V 36

    >>> drive_price(24.0)
    24.8
    """
    return 14 + 0.45 * supply_v


@formula
def gearbox_price(torque_limit_nm: float, backlash_arcmin: float) -> float:
    """Typical price of a planetary gearbox.

    Equation: P = (25 + 4·T)·(1 + 6/b)
    Units: N·m (at the output), arcmin → €
    Range: 2 to 50 N·m, 3 to 60 arcmin
    Source: estimate — single pieces of 2026: small frame 45 to 60, middle frame 150, low play 210

    >>> round(gearbox_price(4.0, 30.0), 1)
    49.2
    """
    return (25 + 4 * torque_limit_nm) * (1 + 6 / max(backlash_arcmin, 1.0))


@formula
def coupler_price(shaft_mm: float) -> float:
    """Typical price of a shaft coupler.

    Equation: P = 3 + d
    Units: mm (the larger bore) → €
    Range: 4 to 20 mm, solid, spring or jaw
    Source: estimate — single pieces of 2026

    >>> coupler_price(8.0)
    11.0
    """
    return 3 + shaft_mm


@formula
def worm_price(module_mm: float, teeth: float) -> float:
    """Typical price of a worm with its wheel.

    Equation: P = 20 + 0.6·m·z
    Units: mm (module), – (teeth of the wheel) → €
    Range: modules 0.5 to 3, bronze on steel
    Source: estimate — single pieces of 2026

    >>> worm_price(1.0, 40.0)
    44.0
    """
    return 20 + 0.6 * module_mm * teeth


@formula
def pulley_price(diameter_mm: float, face_mm: float) -> float:
    """Typical price of a toothed or smooth pulley, or of a tyre or drum of its size.

    Equation: P = 2.5 + 0.012·d·b
    Units: mm, mm → €
    Range: aluminium, 10 to 150 mm, bored and with set screws; with bearings about the same
    Source: estimate — single pieces of 2026: 20 teeth of 2 mm 3.6, 60 teeth of 5 mm 21

    >>> round(pulley_price(12.7, 7.0), 2)
    3.57
    """
    return 2.5 + 0.012 * diameter_mm * face_mm


@formula
def toothed_price(teeth: float, pitch_mm: float, face_mm: float) -> float:
    """Typical price of a toothed pulley.

    Equation: P = 2.5 + 0.012·(z·t/π)·b
    Units: –, mm (pitch), mm (face) → €
    Range: as pulley_price
    Source: estimate — single pieces of 2026

    >>> round(toothed_price(20.0, 2.0, 7.0), 2), round(toothed_price(60.0, 5.0, 16.0), 1)
    (3.57, 20.8)
    """
    return pulley_price(teeth * pitch_mm / math.pi, face_mm)


@formula
def belt_price_m(width_mm: float, pitch_mm: float, steel: bool) -> float:
    """Typical price of a metre of open toothed belt.

    Equation: p = (1 + 0.12·b·t)·(1.5 with steel or aramid cord)
    Units: mm, mm (pitch), – → €/m
    Range: rubber or polyurethane, 2 to 10 mm pitch
    Source: estimate — single metres of 2026: 6 mm of 2 mm pitch 2.4, 15 mm of 5 mm pitch 10

    >>> belt_price_m(6.0, 2.0, False), belt_price_m(15.0, 5.0, False)
    (2.44, 10.0)
    """
    return (1 + 0.12 * width_mm * pitch_mm) * (1.5 if steel else 1.0)


@formula
def closed_belt_price(width_mm: float, pitch_mm: float, teeth: float) -> float:
    """Typical price of a closed toothed belt.

    Equation: P = 2 + 1.5·L·(1 + 0.12·b·t), L = z·t/1000
    Units: mm, mm (pitch), – → €
    Range: stock belts, 2 to 8 mm pitch
    Source: estimate — single pieces of 2026

    >>> round(closed_belt_price(9.0, 3.0, 120.0), 2)
    4.29
    """
    return 2 + 1.5 * teeth * pitch_mm / 1000 * (1 + 0.12 * width_mm * pitch_mm)


@formula
def v_belt_price(length_mm: float) -> float:
    """Typical price of a V-belt.

    Equation: P = 3 + 5·L/1000
    Units: mm → €
    Range: sections Z and A
    Source: estimate — single pieces of 2026

    >>> v_belt_price(800.0)
    7.0
    """
    return 3 + 5 * length_mm / 1000


@formula
def screw_price(diameter_mm: float, length_mm: float, ball: bool) -> float:
    """Typical price of a lead or ball screw without its nut.

    Equation: P = d·L/1000·(3, or 5 of a ball screw) + 5
    Units: mm, mm, – → €
    Range: 6 to 25 mm, rolled, cut to length
    Source: estimate — single pieces of 2026

    >>> screw_price(8.0, 500.0, False), screw_price(16.0, 1000.0, True)
    (17.0, 85.0)
    """
    return diameter_mm * length_mm / 1000 * (5 if ball else 3) + 5


@formula
def nut_price(diameter_mm: float, ball: bool) -> float:
    """Typical price of a screw's nut.

    Equation: P = 2 + d/4, of a ball screw 10 + 1.2·d
    Units: mm, – → €
    Range: 6 to 25 mm; bronze or plastic, single ball nut
    Source: estimate — single pieces of 2026

    >>> nut_price(8.0, False), nut_price(16.0, True)
    (4.0, 29.2)
    """
    return 10 + 1.2 * diameter_mm if ball else 2 + diameter_mm / 4


@formula
def rack_price(module_mm: float, length_mm: float, steel: bool) -> float:
    """Typical price of a rack.

    Equation: P = m·L/1000·(30 of steel, else 18) + 3
    Units: mm (module), mm, – → €
    Range: modules 0.5 to 2.5, milled or moulded
    Source: estimate — single pieces of 2026

    >>> rack_price(1.0, 1000.0, True)
    33.0
    """
    return module_mm * length_mm / 1000 * (30 if steel else 18) + 3


@formula
def pinion_price(module_mm: float) -> float:
    """Typical price of a pinion.

    Equation: P = 3 + 6·m
    Units: mm (module) → €
    Range: 12 to 30 teeth, bored
    Source: estimate — single pieces of 2026

    >>> pinion_price(1.0)
    9.0
    """
    return 3 + 6 * module_mm


@formula
def rope_price(diameter_mm: float, length_mm: float) -> float:
    """Typical price of a rope.

    Equation: P = 0.15·d²·L/1000 + 1
    Units: mm, mm → €
    Range: braided cord and thin wire rope, 1 to 10 mm
    Source: estimate — single metres of 2026

    >>> round(rope_price(3.0, 3000.0), 2)
    5.05
    """
    return 0.15 * diameter_mm**2 * length_mm / 1000 + 1


@formula
def bar_price(mass_kg: float) -> float:
    """Typical price of what is cut or turned from bar, plate or filament.

    Equation: P = 2 + 12·m
    Units: kg → €
    Range: common metals, plastics and plywood; the maker's own hours are not counted
    Source: estimate — offcuts of 2026

    >>> bar_price(0.5)
    8.0
    """
    return 2 + 12 * mass_kg


@formula
def cross_shaft_price(diameter_mm: float, length_mm: float) -> float:
    """Typical price of a ground shaft across a gantry with two couplers.

    Equation: P = 2·(3 + d) + 2·d·L/1000
    Units: mm, mm → €
    Range: 6 to 20 mm
    Source: estimate — single pieces of 2026

    >>> cross_shaft_price(8.0, 500.0)
    30.0
    """
    return 2 * coupler_price(diameter_mm) + 2 * diameter_mm * length_mm / 1000


@formula
def brake_price(torque_nm: float) -> float:
    """Typical price of a brake on a motor's shaft that closes when the power goes.

    Equation: P = 30 + 5·T
    Units: N·m → €
    Range: 0.2 to 20 N·m
    Source: estimate — single pieces of 2026

    >>> brake_price(2.0)
    40.0
    """
    return 30 + 5 * torque_nm


@formula
def fastener_price(diameter_mm: float, length_mm: float) -> float:
    """Typical price of a screw or spacer.

    Equation: P = 0.05 + 0.001·d·L
    Units: mm, mm → €
    Range: steel, 2.5 to 12 mm, out of a packet
    Source: estimate — single pieces of 2026

    >>> round(fastener_price(3.0, 6.0), 3)
    0.068
    """
    return 0.05 + 0.001 * diameter_mm * length_mm


WHEEL_MM = 8.0  # wide, a wheel that rolls in a groove
# Of one size or another, € of 2026 (estimates).
CLAMP, IDLER, TENSIONER, CLUTCH, WASHER, CONES = 2.0, 4.0, 5.0, 30.0, 0.1, 40.0


def rounded(price: float) -> float:
    """A price to two digits: nobody knows more of one that was not asked for.

    Equation: two significant digits
    Units: any → the same
    Range: any
    Source: common practice — round figures

    >>> rounded(12.85), rounded(3.57), rounded(149.2)
    (13.0, 3.6, 150.0)
    """
    return float(f"{price:.2g}")
