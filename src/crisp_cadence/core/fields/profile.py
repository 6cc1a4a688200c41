"""A belt profile of the catalogue."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

# How a tooth looks, from the side.
ToothForm = Literal["trapezoid", "wide trapezoid", "round, upright flanks", "half round"]


@dataclass(frozen=True, slots=True)
class Profile:
    """One belt profile: pitch, tooth and rating data with a source for each datum.

    Its teeth are rated either by the width (`working_tension_n_per_25_4mm`, with a factor for teeth in mesh)
    or by the tooth (`tooth_n_per_mm`, which counts the mesh). `install_n_per_mm` is the least tension that
    seats the teeth, `cord_…` what the cords bear, `bend_n_mm2_per_mm` the bending stiffness, all for 1 mm of
    width. `back_bend_mm` is the least roller on the back of one with steel cord, `back_teeth` the least
    pulley where it bends both ways; `tooth_play_mm` the room of a tooth in its groove, `tooth_root_mm` its
    width where it leaves the belt.
    """

    key: str
    name: str
    standard: str
    pitch_mm: float
    pitch_line_mm: float
    tooth_height_mm: float
    thickness_mm: float
    form: ToothForm
    tooth_root_mm: float
    widths_mm: tuple[float, ...]
    min_teeth: int
    mass_g_m_mm: float
    working_tension_n_per_25_4mm: float | None
    tooth_n_per_mm: float | None
    ea_glass_n_per_mm: float
    install_n_per_mm: float | None
    cord_glass_n_per_mm: float | None
    cord_steel_n_per_mm: float | None
    back_bend_mm: float | None
    back_teeth: float | None
    bend_n_mm2_per_mm: float
    tooth_play_mm: float
    usual_cord: str
    flank_deg: float | None
    sources: dict[str, tuple[str, str]]
