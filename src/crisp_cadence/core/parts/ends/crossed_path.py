"""Crossed belts as they lie: two fixed motors, two belts or one laid as an H, wherever the head stands."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import ClassVar, Literal

from ...account.context import Context
from ...fields.axis import Axis
from ...fields.belts import Idler, Mount
from ...fields.part import choice, num, piece
from ...geometry.path import Path, Round, laid_path, mirrored
from ...geometry.route import Laid, roller_handles, rollers_at
from ...geometry.scene import Handle
from ...ledger.formula import Real
from ...ledger.many import along, most
from ...ledger.quantity import Quantity
from .belt_end import BeltEnd
from .contract import FloatArray

ROOT_2 = math.sqrt(2)


def _itself(value: Real) -> Real:
    return value


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
    motor_mount: Mount = piece(Mount(), "belt")
    idler_mount: Mount = piece(Mount(), "belt")
    uneven_n: float = num(
        "Tensions differ by", "force", "N", 0, 1e4, 5.0, "Between the two belts, as you can set them."
    )
    uneven_as: Literal["as laid, beam held square", "measured, beam free"] = choice(
        "That difference is",
        "as laid, beam held square",
        "A beam that is free gives way and evens part of it out: what is still measured then skews it more.",
    )

    def goes_with(self, design: Axis, path: str) -> dict[str, float]:
        """The frame is as much longer than the beam's rail as it was."""
        return {"end.frame_x_mm": self.frame_x_mm - design.guide.rail_mm} if path == "guide.rail_mm" else {}

    def mounts(self) -> dict[str, Mount]:
        """Each of its motors stands on one of these, each of its idlers on one of those."""
        return {"motor_mount": self.motor_mount, "idler_mount": self.idler_mount}

    def leans(self) -> bool:
        return True  # a motor's pulley turns the belt round a corner

    def cases(self, design: Axis) -> tuple[str, ...]:
        return ("along x", "along y", "diagonal")

    @property
    def crossed(self) -> bool:
        return self.form == "two belts"

    def gain(self, ctx: Context) -> float:
        return ROOT_2 if ctx.case == "diagonal" else 1.0

    def _idler_line(self, ctx: Context) -> Quantity:
        return self.idler_radius(ctx, "end.idler", self.idler, "idler")

    def _place(
        self, ctx: Context, travelled: Real, spread: Callable[[Real], Real] = _itself
    ) -> tuple[Real, Real]:
        """x along the beam and y along the rails for places along the case's direction; `spread` gives
        numbers of the design the axis that those places lie along.
        """
        guide = ctx.design.guide
        first = (
            (self.frame_x_mm - guide.rail_mm) / 2
            + guide.near_mm
            + guide.overtravel_mm
            + guide.carriage_mm / 2
        )
        spare = (self.frame_y_mm - self.travel_y_mm) / 2
        share = travelled / spread(most(ctx.usable, 1.0))
        x, y = spread(self.frame_x_mm / 2), spread(self.frame_y_mm / 2)
        if ctx.case != "along y":
            x = spread(first) + share * spread(most(ctx.usable, 1.0))
        if ctx.case != "along x":
            y = spread(spare) + share * spread(self.travel_y_mm)
        return x + 0 * share, y + 0 * share

    def _whole(self, ctx: Context) -> Real:
        return self._path(ctx, self.frame_x_mm / 2, self.frame_y_mm / 2).length_mm

    def _path(self, ctx: Context, x: Real, y: Real) -> Path:
        return laid_path(self._rounds(ctx, x, y), closed=False, refuse=ctx.refuse)

    def rounds(self, ctx: Context, travelled_mm: Real) -> tuple[Round, ...]:
        return self._rounds(ctx, *self._place(ctx, travelled_mm))

    def _rounds(self, ctx: Context, x: Real, y: Real) -> tuple[Round, ...]:
        """The belt from the head's one side to its other, through the left motor; the second belt is its
        mirror image.
        """
        r, rp = self.idler_line(ctx).n, self.driven(ctx).radius.n
        w, h = self.frame_x_mm, self.frame_y_mm

        def idler(name: str, at_x: Real, at_y: Real, side: int, field: str = "end.frame_x_mm") -> Round:
            return Round(name, at_x, at_y, r, side, field, "end.idler")

        def rolling(where: str) -> list[Round]:
            return rollers_at(self.rollers, "end.rollers", self.profile(ctx), -1, where)

        def head(at_y: Real) -> Round:
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

    def _way(self, ctx: Context) -> tuple[Real, Real]:
        """How far the head goes along x and along y for each millimetre of travel."""
        (x0, y0), (x1, y1) = self._place(ctx, 0.0), self._place(ctx, ctx.usable)
        whole = most(ctx.usable, 1e-9)
        return (x1 - x0) / whole, (y1 - y0) / whole

    def drift(self, ctx: Context, round_: Round) -> tuple[Real, Real]:
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
            which="right motor",
            near=mirrored(one.near, self.frame_x_mm),
            far=mirrored(one.far, self.frame_x_mm),
        )
        return [replace(one, which="left motor"), two]

    def handles(self, ctx: Context) -> dict[str, tuple[Handle, ...]]:
        # The left front corner stands still: every pulley on the right stretches the frame across, every one
        # at the back along.
        return {
            "end.pulley": (Handle("end.frame_y_mm", self.frame_y_mm, 0.0, 1.0 if self.crossed else 0.0),),
            "end.idler": (Handle("end.frame_x_mm", self.frame_x_mm, 1.0, 0.0),),
            **roller_handles(self.rollers, "end.rollers", self.paths(ctx)[0]),
        }

    def runs(self, ctx: Context, positions: FloatArray) -> tuple[FloatArray, FloatArray]:
        x, y = self._place(ctx, positions, along)
        half = along(self.clamp.gap_mm / 2)
        if self.crossed:
            run_1 = x + y + along(self.frame_y_mm) - half
            return run_1, along(self.lying(ctx).free.n) - run_1
        return x + y - half, y + along(self.frame_x_mm) - x - half

    def plucked(self, ctx: Context) -> tuple[str, float]:
        x, _ = self._place(ctx, 0.0)
        return "the run along the beam from the head to the left idler", x - self.clamp.gap_mm / 2
