"""Crossed belts as they lie: two fixed motors, two belts or one laid as an H, wherever the head stands."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import ClassVar, Literal

import numpy as np

from ...account.context import Context
from ...fields.belts import Idler
from ...fields.part import num, piece
from ...geometry.path import Path, Round, belt_path, mirrored
from ...geometry.route import Laid, roller_handles, rollers_at
from ...geometry.scene import Handle
from ...ledger.quantity import Quantity
from .belt_end import BeltEnd
from .contract import FloatArray

ROOT_2 = math.sqrt(2)


class CrossedPath(BeltEnd):
    """Where every pulley stands for a place of the head; x runs along the beam, y along the rails."""

    placed: ClassVar[bool] = True
    point: ClassVar[str] = "head"
    form: Literal["two belts", "one belt, H"] = "two belts"
    idler: Idler = piece(Idler(), "belt")
    frame_x_mm: float = num(
        "Between the left and right pulleys", "length", "mm", 40, 20_000, 500.0, "W, along the beam."
    )
    frame_y_mm: float = num(
        "Between the front and back pulleys", "length", "mm", 40, 20_000, 500.0, "H, along the rails."
    )
    travel_y_mm: float = num("Travel wanted along y", "length", "mm", 1, 20_000, 300.0)
    beam_kg: float = num("Mass of the beam", "mass", "kg", 0, 500, 0.5, "Moves with the head along y only.")
    guide_nm_rad: float = num(
        "Guides against skew of the beam",
        "torsional stiffness",
        "N·m/rad",
        1,
        1e8,
        2000.0,
        "Push one end of the beam, read the skew.",
    )
    uneven_n: float = num(
        "Tensions differ by", "force", "N", 0, 1e4, 5.0, "Between the two belts, as you can set them."
    )

    def cases(self) -> tuple[str, ...]:
        return ("along x", "along y", "diagonal")

    @property
    def crossed(self) -> bool:
        return self.form == "two belts"

    def gain(self, ctx: Context) -> float:
        return ROOT_2 if ctx.case == "diagonal" else 1.0

    def _idler_line(self, ctx: Context) -> Quantity:
        return self.idler_radius(ctx, "end.idler", self.idler, "idler")

    def _place(self, ctx: Context, travel: FloatArray) -> tuple[FloatArray, FloatArray]:
        """x along the beam and y along the rails for places along the case's direction."""
        guide = ctx.design.guide
        first = (
            (self.frame_x_mm - guide.rail_mm) / 2
            + guide.near_mm
            + guide.overtravel_mm
            + guide.carriage_mm / 2
        )
        spare = (self.frame_y_mm - self.travel_y_mm) / 2
        whole = max(ctx.usable or 1.0, 1.0)
        share = travel / whole
        x = first + share * whole if ctx.case != "along y" else np.full_like(travel, self.frame_x_mm / 2)
        y = (
            spare + share * self.travel_y_mm
            if ctx.case != "along x"
            else np.full_like(travel, self.frame_y_mm / 2)
        )
        return x, y

    def _whole(self, ctx: Context) -> float:
        return self._path(ctx, self.frame_x_mm / 2, self.frame_y_mm / 2).length_mm

    def _path(self, ctx: Context, x: float, y: float) -> Path:
        return belt_path(self._rounds(ctx, x, y), closed=False)

    def rounds(self, ctx: Context, travelled_mm: float) -> tuple[Round, ...]:
        x, y = (float(v[0]) for v in self._place(ctx, np.array([travelled_mm])))
        return self._rounds(ctx, x, y)

    def _rounds(self, ctx: Context, x: float, y: float) -> tuple[Round, ...]:
        """The belt from the head's one side to its other, through the left motor; the second belt is its
        mirror image.
        """
        r, rp = self.idler_line(ctx).value or 0.0, self.driven(ctx).radius.value or 0.0
        w, h = self.frame_x_mm, self.frame_y_mm

        def idler(name: str, at_x: float, at_y: float, side: int, field: str = "end.frame_x_mm") -> Round:
            return Round(name, at_x, at_y, r, side, field, "end.idler")

        def rolling(where: str) -> list[Round]:
            return rollers_at(self.rollers, "end.rollers", self.profile(ctx), -1, where)

        def head(at_y: float) -> Round:
            return Round("head", x, at_y, 0, 1, "end.clamp.gap_mm", "end.clamp")

        if self.crossed:
            return (
                head(y),
                idler("beam's left idler", 0, y - r, 1),
                idler("front left idler", -2 * r, 0, -1, "end.frame_y_mm"),
                *rolling("before the pulley"),
                Round("left motor", -3 * r + rp, h, rp, -1, "end.pulley.teeth", "end.pulley"),
                *rolling("after the pulley"),
                idler("back right idler", w, h + rp - r, -1),
                *rolling("after the idler"),
                idler("beam's right idler", w, y + r, -1),
                head(y),
            )
        return (
            head(y - r),
            idler("beam's lower left idler", 0, y - 2 * r, 1),
            *rolling("before the pulley"),
            Round("left motor", -r - rp, 0, rp, -1, "end.pulley.teeth", "end.pulley"),
            *rolling("after the pulley"),
            idler("back left idler", -r - 2 * rp + r, h, -1, "end.frame_y_mm"),
            idler("beam's upper left idler", 2 * r - 2 * rp, y + 2 * r, 1),
            *rolling("after the idler"),
            idler("beam's upper right idler", w - 2 * r + 2 * rp, y + 2 * r, 1),
            idler("back right idler", w + 2 * rp, h, -1),
            Round("right motor", w + r + rp, 0, rp, -1, "end.pulley.teeth", "end.pulley"),
            idler("beam's lower right idler", w, y - 2 * r, 1),
            head(y - r),
        )

    def _way(self, ctx: Context) -> tuple[float, float]:
        """How far the head goes along x and along y for each millimetre of travel."""
        x, y = self._place(ctx, np.array([0.0, ctx.usable]))
        whole = max(ctx.usable, 1e-9)
        return (float(x[1]) - float(x[0])) / whole, (float(y[1]) - float(y[0])) / whole

    def drift(self, ctx: Context, round_: Round) -> tuple[float, float]:
        dx, dy = ctx.once(self._way)
        return (
            (dx, dy)
            if round_.part == "end.clamp"
            else (0.0, dy)
            if round_.name.startswith("beam")
            else (0.0, 0.0)
        )

    def laid(self, ctx: Context) -> list[Laid]:
        """Both belts: the second one is the first one's mirror image, in a plane of its own."""
        one = super().laid(ctx)[0]
        if not self.crossed:
            return [one]
        two = replace(
            one,
            name=f"{one.name}, right motor",
            near=mirrored(one.near, self.frame_x_mm),
            far=mirrored(one.far, self.frame_x_mm),
        )
        return [replace(one, name=f"{one.name}, left motor"), two]

    def handles(self, ctx: Context) -> dict[str, tuple[Handle, ...]]:
        # The left front corner stands still: every pulley on the right stretches the frame across, every one
        # at the back along.
        return {
            "end.pulley": (Handle("end.frame_y_mm", self.frame_y_mm, 0.0, 1.0 if self.crossed else 0.0),),
            "end.idler": (Handle("end.frame_x_mm", self.frame_x_mm, 1.0, 0.0),),
            **roller_handles(self.rollers, "end.rollers", self.paths(ctx)[0]),
        }

    def runs(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, FloatArray]:
        x, y = self._place(ctx, positions)
        free = self.lying(ctx).free.value or 0.0
        if self.crossed:
            run_1 = x + y + self.frame_y_mm - self.clamp.gap_mm / 2
            return run_1, free - run_1
        run_1 = x + y - self.clamp.gap_mm / 2
        return run_1, y + self.frame_x_mm - x - self.clamp.gap_mm / 2

    def plucked(self, ctx: Context) -> tuple[str, float]:
        x, _ = self._place(ctx, np.array([0.0]))
        return "the run along the beam from the head to the left idler", float(x[0]) - self.clamp.gap_mm / 2
