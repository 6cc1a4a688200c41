"""A belt profile of the catalogue."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Profile:
    """One belt profile: pitch, tooth and rating data with a source for each datum."""

    key: str
    name: str
    standard: str
    pitch_mm: float
    pitch_line_mm: float
    tooth_height_mm: float
    thickness_mm: float
    widths_mm: tuple[float, ...]
    min_teeth: int
    mass_g_m_mm: float
    working_tension_n_per_25_4mm: float | None
    ea_glass_n_per_mm: float
    usual_cord: str
    flank_deg: float | None
    sources: dict[str, tuple[str, str]]
