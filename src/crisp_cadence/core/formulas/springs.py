"""Stiffness: a small network of springs solved as one, both modes of rotor and load, bending of plates."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ..ledger.formula import Real, formula
from ..ledger.many import cos, exp, least, most, pick, sqrt
from ..ledger.quantity import Given
from ..ledger.record import record

FloatArray = NDArray[np.float64]
# Young's modulus in GPa and creep factor of common bracket materials (estimates; plastics creep, E/(1+φ)).
MATERIALS: dict[str, tuple[float, float]] = {
    "steel": (205.0, 0.0),
    "aluminium": (69.0, 0.0),
    "acrylic": (3.0, 1.0),
    "PLA": (3.3, 2.0),
    "PETG": (2.0, 2.0),
    "plywood": (8.0, 0.5),
}


# a part taken as rigid is this many times stiffer than the stiffest real one; leaves a relative error of that
# order
RIGID = 1e7


@record
class Spring:
    """One elastic part: its elongation is the sum of coefficients times node displacements."""

    part: str
    label: str
    stiffness_n_mm: Real  # one number, or one for each position along the travel
    reach: tuple[float, ...]  # one coefficient for each node of the network


STEEL_SHEAR = Given("handbook.steel", 79.0, "GPa", "handbook", "shear modulus of steel")
STEEL_DENSITY = 7.85  # g/cm³


@formula
def network_compliance(stiffness_n_mm: Real, reach: Real, load: Real) -> Real:
    """Give at the loaded node of a network of springs for one newton.

    Equation: c = fᵀ·K⁻¹·f, K = Σ k_p·b_p·b_pᵀ
    Units: N/mm for each spring (…), – of shape (springs, nodes), – of shape (nodes) → mm/N
    Range: K positive definite: no node may float freely
    Source: handbook — direct stiffness method, any structural-mechanics text

    >>> round(float(network_compliance([10.0, 5.0], [[1.0, 0.0], [-1.0, 1.0]], [0.0, 1.0])), 6)
    0.3
    """
    k = (
        list(stiffness_n_mm)
        if isinstance(stiffness_n_mm, (list, tuple))
        else np.moveaxis(stiffness_n_mm, -1, 0)
    )
    # K by its entries on and below the diagonal: numbers or arrays, for each place at once; what no spring
    # joins is left out.
    matrix: dict[tuple[int, int], Real] = {}
    for ks, row in zip(k, reach, strict=True):
        at = [i for i, coefficient in enumerate(row) if coefficient]
        for i in at:
            for j in at:
                if j <= i:
                    more = ks if row[i] == row[j] == 1.0 else ks * (row[i] * row[j])
                    matrix[i, j] = matrix[i, j] + more if (i, j) in matrix else more
    # K = L·D·Lᵀ; with L·y = f the compliance is Σ y²/d.
    nodes = len(load)
    rest: list[Real] = list(load)
    out: Real = 0.0
    for i in range(nodes):
        pivot, left = matrix[i, i], rest[i]
        moved = type(left) is np.ndarray or left != 0
        if moved:
            out = out + left * left / pivot
        for j in range(i + 1, nodes):
            if (j, i) in matrix:
                factor = matrix[j, i] / pivot
                if moved:
                    rest[j] = rest[j] - factor * left
                for m in range(i + 1, j + 1):
                    if (m, i) in matrix:
                        less = factor * matrix[m, i]
                        matrix[j, m] = matrix[j, m] - less if (j, m) in matrix else -less
    return out


@record
class Network:
    """Springs between the point and what is held: its give for one newton there, and how much less it would
    give with one part alone made rigid.
    """

    springs: tuple[Spring, ...]
    load: tuple[float, ...]

    @staticmethod
    def in_series(row: list[tuple[str, str, Real]]) -> Network:
        """Springs one behind the other: part, label, N/mm; none of them give nothing."""
        return Network.side_by_side([row] if row else [])

    @staticmethod
    def side_by_side(rows: list[list[tuple[str, str, Real]]]) -> Network:
        """Rows of springs from what is held to the point, one row beside the other.

        >>> two = [("mesh", "Teeth", 10.0)], [("shaft", "Shaft", 10.0), ("mesh", "Teeth", 10.0)]
        >>> round(float(1 / Network.side_by_side(list(two)).give()), 9)
        15.0
        """
        made, inner = [], 1  # the point is the first node
        nodes = 1 + sum(len(row) - 1 for row in rows)
        for row in rows:
            for place, (part, label, k) in enumerate(row):
                reach = [0.0] * nodes
                reach[0 if place == len(row) - 1 else inner + place] = 1.0
                if place:
                    reach[inner + place - 1] = -1.0
                made.append(Spring(part, label, k, tuple(reach)))
            inner += len(row) - 1
        return Network(tuple(made), (1.0, *([0.0] * (nodes - 1))) if rows else ())

    def give(self) -> Real:
        """Compliance, mm/N, at each place.

        Equation: c = fᵀ·K⁻¹·f
        Units: N/mm, – → mm/N
        Range: as network_compliance
        Source: handbook — direct stiffness method

        >>> round(float(Network.in_series([("nut", "Nut", 10.0), ("arm", "Arm", 5.0)]).give()), 9)
        0.3
        """
        if not self.springs:
            return 0.0
        return network_compliance(
            [s.stiffness_n_mm for s in self.springs], [s.reach for s in self.springs], self.load
        )

    def relief(self, whole: Real) -> dict[str, tuple[str, Real]]:
        """By part its label, and by how much less than the `whole` of its give the network would give if that
        part alone were rigid.

        Equation: Δc_p = c − c_p, c_p the compliance with part p made rigid
        Units: N/mm, – → mm/N
        Range: rigid means RIGID times the stiffest spring; springs of one part (the two runs of a belt) are
        made rigid together
        Source: handbook — direct stiffness method; this is the program's own measure of a share

        >>> two = (Spring("belt", "Belt", 30.0, (1.0, -1.0)), Spring("mount", "Mount", 60.0, (0.0, 1.0)))
        >>> network = Network(two, (1.0, 0.0))
        >>> found = network.relief(network.give())
        >>> round(float(found["belt"][1]), 6), round(float(found["mount"][1]), 6)
        (0.033333, 0.016667)
        """
        if not self.springs:
            return {}
        stiffest = most(*(s.stiffness_n_mm for s in self.springs)) * RIGID
        reach = [s.reach for s in self.springs]
        out: dict[str, tuple[str, Real]] = {}
        for spring in self.springs:
            if spring.part not in out:
                k = [stiffest if s.part == spring.part else s.stiffness_n_mm for s in self.springs]
                relieved = whole - network_compliance(k, reach, self.load)
                out[spring.part] = (spring.label, most(relieved, 0.0))
        return out


@formula
def fixed_loop_stiffness(ea_n: Real, run_a_mm: Real, run_b_mm: Real) -> Real:
    """Stiffness of a clamped loop with rigid mounts and a held motor.

    Equation: k = EA·(1/L1 + 1/L2)
    Units: N, mm, mm → N/mm
    Range: both runs taut, mounts rigid
    Source: handbook — two springs in parallel

    >>> fixed_loop_stiffness(12000.0, 500.0, 1500.0)
    32.0
    """
    return ea_n * (1 / run_a_mm + 1 / run_b_mm)


@formula
def plate_stiffness(youngs_gpa: Real, width_mm: Real, thickness_mm: Real, overhang_mm: Real) -> Real:
    """Stiffness of a plate or stub that sticks out and is loaded at its end.

    Equation: k = 3·E·I/l³, I = b·t³/12
    Units: GPa, mm, mm, mm → N/mm
    Range: slender (l over about 3 t), clamped at its root; a real root gives more
    Source: handbook — cantilever with end load, δ = F·l³/3EI, any strength-of-materials text

    >>> round(plate_stiffness(69.0, 40.0, 6.0, 30.0), 1)
    5520.0
    """
    return 3 * youngs_gpa * 1000 * second_moment_plate(width_mm, thickness_mm) / overhang_mm**3


@formula
def second_moment_plate(width_mm: Real, thickness_mm: Real) -> Real:
    """Second moment of area of a flat plate bent across its thickness.

    Equation: I = b·t³/12
    Units: mm, mm → mm⁴
    Range: b, t > 0
    Source: handbook — rectangle, any strength-of-materials text

    >>> second_moment_plate(40.0, 6.0)
    720.0
    """
    return width_mm * thickness_mm**3 / 12


@formula
def plate_tilt(
    force_n: Real, youngs_gpa: Real, width_mm: Real, thickness_mm: Real, overhang_mm: Real
) -> Real:
    """Tilt at the end of a plate or stub under an end load.

    Equation: φ = F·l²/2EI
    Units: N, GPa, mm, mm, mm → °
    Range: small angles; belts want pulleys parallel within about ¼°
    Source: handbook — cantilever with end load, any strength-of-materials text

    >>> round(float(plate_tilt(100.0, 3.0, 40.0, 4.0, 30.0)), 3)
    4.029
    """
    inertia = second_moment_plate(width_mm, thickness_mm)
    return force_n * overhang_mm**2 / (2 * youngs_gpa * 1000 * inertia) * (180 / math.pi)


@formula
def shaft_torsion_stiffness(shear_gpa: Real, diameter_mm: Real, length_mm: Real) -> Real:
    """Torsional stiffness of a round shaft.

    Equation: k = G·J/l, J = π·d⁴/32
    Units: GPa, mm, mm → N·m/rad
    Range: round solid shaft, G about 79 GPa for steel
    Source: handbook — Saint-Venant torsion of a round bar, any strength-of-materials text

    >>> round(shaft_torsion_stiffness(79.0, 5.0, 20.0), 1)
    242.4
    """
    return shear_gpa * 1000 * math.pi * diameter_mm**4 / 32 / length_mm / 1000


@formula
def torsion_at_carriage(stiffness_nm_rad: Real, radians_per_mm: Real) -> Real:
    """Torsional stiffness of a part as the carriage feels it.

    Equation: k = k_t·λ²
    Units: N·m/rad, rad/mm → N/mm
    Range: λ of the shaft on which the spring is measured
    Source: handbook — reflection by the square of the ratio, from equal energy

    >>> round(torsion_at_carriage(20.0, 0.2), 6)
    800.0
    """
    return stiffness_nm_rad * 1000 * radians_per_mm**2


@formula
def mesh_stiffness(rated_n: Real, give_mm: Real, radius_mm: Real, radians_per_mm: Real) -> Real:
    """Stiffness of the belt's teeth in one pulley, as the carriage feels it.

    Equation: k = F_rated/δ·(r·λ)²
    Units: N, mm, mm, rad/mm → N/mm
    Range: δ what the teeth give at the pull that they are rated for, by width and teeth in mesh; linear
    Source: estimate — 0.06 to 0.08 mm at rated pull, whatever the pitch

    >>> round(mesh_stiffness(21.0, 0.07, 10.0, 0.1), 6)
    300.0
    """
    return rated_n / give_mm * (radius_mm * radians_per_mm) ** 2


@formula
def two_modes(
    rotor_mass_kg: Real, load_mass_kg: Real, field_n_mm: Real, chain_n_mm: Real
) -> tuple[Real, Real]:
    """The two natural frequencies of rotor and load, both seen at the carriage, lower one first.

    Equation: ω² = ½(A + B) ∓ √(¼(A − B)² + k_c²/(m_r·m_l)), A = (k_f + k_c)/m_r, B = k_c/m_l
    Units: kg (J·λ²), kg, N/mm, N/mm → Hz
    Range: masses and stiffnesses above zero
    Source: handbook — two masses in series on two springs, any vibration text

    >>> [round(float(f), 3) for f in two_modes(1.0, 1.0, 1.0, 1.0)]
    [3.111, 8.143]
    """
    a = (field_n_mm + chain_n_mm) * 1000 / rotor_mass_kg
    b = chain_n_mm * 1000 / load_mass_kg
    spread = sqrt((a - b) ** 2 / 4 + (chain_n_mm * 1000) ** 2 / (rotor_mass_kg * load_mass_kg))
    upper = (a + b) / 2 + spread
    # The lower root from the product of both: subtracting two near-equal numbers would lose its digits.
    lower = (field_n_mm * 1000 * chain_n_mm * 1000) / (rotor_mass_kg * load_mass_kg) / upper
    return sqrt(lower) / (2 * math.pi), sqrt(upper) / (2 * math.pi)


@formula
def frequency(give_times_mass: Real) -> Real:
    """Frequency of a mass on a spring, by how much that gives.

    Equation: f = 1/(2π·√(c·m))
    Units: kg·mm/N → Hz
    Range: c·m > 0
    Source: handbook — one mass on one spring, any vibration text

    >>> round(float(frequency(0.1)), 3)
    15.915
    """
    return 1 / (2 * math.pi * sqrt(give_times_mass / 1000))


@formula
def overshoot_factor(damping_ratio: Real) -> Real:
    """How far the peak of a suddenly applied force exceeds it.

    Equation: 1 + exp(−π·ζ/√(1 − ζ²))
    Units: – → –
    Range: 0 ≤ ζ < 1
    Source: handbook — step response of one damped mode, any vibration text

    >>> float(overshoot_factor(0.0)), round(float(overshoot_factor(0.1)), 4)
    (2.0, 1.7292)
    """
    return 1 + exp(-math.pi * damping_ratio / sqrt(1 - damping_ratio**2))


@formula
def ringing_on_move(damping_ratio: Real, low_hz: Real, high_hz: Real, ramp_s: Real, coast_s: Real) -> Real:
    """How far the accelerating force of one move from rest to rest is exceeded while what it moves rings.

    Equation: with q = e^(−πζ/√(1−ζ²)), ω_d = 2πf, σ = ζ·ω_d/√(1−ζ²): (1 + q) + q·(1 + e^(−σ·t_r))·e^(−σ·t_c)
    for t_r ≥ π/ω_d; |1 − e^(−σ·t_r − iω_d·t_r)|·(1 + e^(−σ·(t_r + t_c))) for shorter ramps
    Units: –, Hz, Hz, s, s → –
    Range: 0 ≤ ζ < 1; one mode; what is left of starting meets stopping in step: the worst that the timing can
    be, since no frequency is known so well. Of a mode that lies between two frequencies along the travel, the
    one that rings most on this ramp. (1 + q)² where ramps are half a period long and meet, 1 + q after a long
    coast, and where a frequency is not a number
    Source: handbook — response of one damped mode to steps of force, superposed, any vibration text

    >>> round(float(ringing_on_move(0.05, 10.0, 10.0, 0.05, 0.0)), 3)
    3.439
    >>> round(float(ringing_on_move(0.05, 10.0, 40.0, 0.5, 5.0)), 3)
    1.854
    """
    root = sqrt(1 - damping_ratio**2)
    half_turn = least(most(math.pi / ramp_s, 2 * math.pi * low_hz), 2 * math.pi * high_hz)
    fades = damping_ratio * half_turn / root
    turned, left = half_turn * ramp_s, exp(-fades * ramp_s)
    whole = exp(-math.pi * damping_ratio / root)
    long = 1 + whole + whole * (1 + left) * exp(-fades * coast_s)
    swing = sqrt(1 + left**2 - 2 * left * cos(turned))
    found = pick(turned >= math.pi * (1 - 1e-12), long, swing * (1 + left * exp(-fades * coast_s)))
    return pick(np.isnan(found), 1 + whole, found)
