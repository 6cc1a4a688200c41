"""What readings teach: where they disagree with what the design predicts, the part likeliest to be other than
the design says, and what to measure next.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from ..account.found import Unsure
from ..design.design import AxisDesign, as_measured
from ..evaluation.evaluate import Run, each_case, work_out
from ..evaluation.pieces import parts_of
from ..fields.columns import put_in
from ..fields.profile import Profile
from ..ledger.errors import EntryError, problem
from .trials import trials_of

TELLING = ("drag", "mass", "give", "ring")  # trials whose readings tell of several parts at once
# How far a reading of each kind is off, as a part of it (estimates); a larger spread of its own counts
# instead.
READ_OFF = {"drag": 0.1, "give": 0.1, "ring": 0.05, "mass": 0.01}
DISAGREES = 2.0  # times that, before a reading is said to disagree
MASS, DRAG, FIELD = (
    0.15,
    0.5,
    0.15,
)  # logarithms of what is unsure: mass counted, drag guessed, a motor's sheet
MEASURED = 0.05  # of what was measured already
STEP, LONGEST, ROUNDS = 0.25, 2.0, 3
WIDE, WIDE_STEP = 1.0, 2.5
MOST = 10
TELLS = 0.5  # of the disagreement that one part explains, before it is named

FloatArray = NDArray[np.float64]


class Taught(BaseModel):
    """A reading of one trial: which, its mean, how far that may be off, and the load that it was read
    under.
    """

    model_config = ConfigDict(extra="forbid")
    of: Annotated[str, Field(pattern=r"^[a-z0-9_.]{1,40}$", strict=True)]
    value: Annotated[float, Field(gt=0, le=1e6, strict=True, allow_inf_nan=False)]
    within: Annotated[float, Field(ge=0, le=1e6, strict=True, allow_inf_nan=False)] | None = None
    load: Annotated[float, Field(gt=0, le=1e6, strict=True, allow_inf_nan=False)] | None = None


@dataclass(frozen=True, slots=True)
class Compared:
    """A reading beside what the design predicts, and what it would predict with all that is unsure
    refitted.
    """

    of: str
    name: str
    unit: str
    read: float
    predicted: float
    after: float
    disagrees: bool


@dataclass(frozen=True, slots=True)
class Suspected:
    """A part that would explain the readings by itself: its number now and then, how much of the disagreement
    it takes away, and what to set to keep it.
    """

    name: str
    path: str
    unit: str
    now: float
    then: float
    explains: float
    changes: dict[str, float | str]


@dataclass(frozen=True, slots=True)
class Lesson:
    """What readings teach: each of them, the suspects, likeliest first, and what to measure next."""

    compared: tuple[Compared, ...]
    suspects: tuple[Suspected, ...]
    next_of: str
    next_name: str
    says: str


def lesson(design: AxisDesign, profiles: Mapping[str, Profile], readings: Sequence[Taught]) -> Lesson:
    """Least squares in logarithms over all that is unsure, each held by how unsure it is:
    min Σ((ln f_i(θ) − ln y_i)/σ_i)² + Σ θ_k², x_k = x_k0·exp(s_k·θ_k), by Gauss and Newton.
    """
    plain = as_measured(design)
    known = {m.field for m in design.measured}
    plain = plain.model_copy(update={"measured": []})
    model = _Model(plain, profiles, known)
    chosen = [r for r in readings if r.of in model.start]
    if not chosen:
        names = ", ".join(model.start)
        raise EntryError(
            [
                problem(
                    "readings",
                    "say nothing that this design predicts",
                    value=", ".join(r.of for r in readings),
                    limit=names,
                    remedy=f"Measure one of these: {names}."
                    if names
                    else "This axis predicts nothing to weigh.",
                )
            ]
        )
    keys = [r.of for r in chosen]
    values = [r.value * model.loads[r.of] / (r.load or model.loads[r.of]) for r in chosen]
    read = np.log(values)
    off = np.array([_off(r) for r in chosen])
    first = model.at(keys, np.zeros(len(model.unsure)))
    slopes = model.slopes(keys)
    before = (first - read) / off
    after = _refitted(model, keys, read, off, slopes, first)
    disagrees = np.abs(before) > DISAGREES
    compared = tuple(
        Compared(r.of, *model.named[r.of], v, float(np.exp(f)), float(np.exp(a)), bool(d))
        for r, v, f, a, d in zip(chosen, values, first, after, disagrees, strict=True)
    )
    suspects = _suspects(model, slopes / off[:, None], before) if disagrees.any() else ()
    following = _next(model, keys, slopes / off[:, None])
    return Lesson(
        compared, suspects, following, model.named.get(following, ("", ""))[0], _words(suspects, disagrees)
    )


def _off(reading: Taught) -> float:
    usual = READ_OFF[reading.of]
    return max(usual, (reading.within or 0.0) / reading.value / 2)


class _Model:
    """What the design predicts of its trials, by what is unsure."""

    def __init__(self, design: AxisDesign, profiles: Mapping[str, Profile], known: set[str]) -> None:
        self.design, self.profiles = design, profiles
        run, _ = work_out(design, profiles)
        self.case = run.name
        trials = [t for t in trials_of(run) if t.key in TELLING and t.expected]
        self.named = {t.key: (t.name, t.unit) for t in trials}
        self.loads = {t.key: t.load for t in trials}
        self.start = {t.key: math.log(t.expected) for t in trials if t.expected}
        self.unsure = [_known(u, known) for u in _all_unsure(run)][:MOST]
        self.units = {u.path: run.ctx.given(u.path).unit for u in self.unsure}

    def predicted(self, theta: FloatArray) -> dict[str, float]:
        design = self.design
        for u, t in zip(self.unsure, theta, strict=True):
            if t == 0.0:
                continue
            for path, kind in u.also:
                design = put_in(design, path, kind)
            design = put_in(design, u.path, u.value * math.exp(u.spread * float(t)))
        # Only what the trials ask for is worked out, in the case that governs: another one may now be worse.
        runs = each_case(design, self.profiles, *parts_of(design), late=True)
        found = {
            t.key: (t.expected or 0.0) / t.load
            for t in trials_of(next(r for r in runs if r.name == self.case))
        }
        return {k: math.log(v * self.loads[k]) for k in self.start if (v := found.get(k, 0.0)) > 0}

    def at(self, keys: Sequence[str], theta: FloatArray) -> FloatArray:
        found = self.start if not theta.any() else self.predicted(theta)
        return np.array([found.get(k, self.start[k]) for k in keys])

    def slopes(self, keys: Sequence[str]) -> FloatArray:
        """∂ln f/∂θ; all trials are kept, so that what to measure next costs nothing."""
        self.every = np.zeros((len(self.start), len(self.unsure)))
        order = list(self.start)
        for k in range(len(self.unsure)):
            # Downwards, and far where nearly nothing is known: a mount that is taken for rigid shows only
            # where it gives.
            step = STEP if self.unsure[k].spread < WIDE else WIDE_STEP
            moved = self.predicted(np.eye(len(self.unsure))[k] * -step)
            self.every[:, k] = [(self.start[o] - moved.get(o, self.start[o])) / step for o in order]
        return self.every[[order.index(k) for k in keys]]


def _known(u: Unsure, known: set[str]) -> Unsure:
    return Unsure(u.path, u.name, u.value, MEASURED, u.also) if u.path in known else u


def _all_unsure(run: Run) -> list[Unsure]:
    ctx = run.ctx
    found = [*run.end.unsure(ctx)]
    for j, stage in enumerate(run.stages[1:], 1):
        found += stage.unsure(f"chain.{j}", ctx)
    if len(ctx.design.moving) == 1 and ctx.design.moving[0].mass_kg:
        found.append(Unsure("moving.0.mass_kg", "what moves", ctx.design.moving[0].mass_kg, MASS))
    if run.end.guided and ctx.design.guide.drag_n:
        found.append(Unsure("guide.drag_n", "the guide's drag", ctx.design.guide.drag_n, DRAG))
    hold = getattr(run.motor, "hold_torque_nm", None)
    if hold:
        found.append(Unsure("chain.0.hold_torque_nm", "the motor's field", hold, FIELD))
    return found


def _refitted(
    model: _Model,
    keys: Sequence[str],
    read: FloatArray,
    off: FloatArray,
    slopes: FloatArray,
    first: FloatArray,
) -> FloatArray:
    """What is predicted with θ by Gauss and Newton, with the slopes of the start."""
    theta, now = np.zeros(len(model.unsure)), first
    jacobian = slopes / off[:, None]
    normal = jacobian.T @ jacobian + np.eye(len(theta))
    for _ in range(ROUNDS):
        step = np.linalg.solve(normal, -(jacobian.T @ ((now - read) / off) + theta))
        size = float(np.abs(step).max(initial=0.0))
        theta = theta + step * min(1.0, LONGEST / size if size else 1.0)
        now = model.at(keys, theta)
        if size < 0.02:
            break
    return now


def _suspects(model: _Model, jacobian: FloatArray, before: FloatArray) -> tuple[Suspected, ...]:
    """Each part alone: how much of the disagreement its best value takes away."""
    whole = float(before @ before)
    found = []
    for k, u in enumerate(model.unsure):
        own = jacobian[:, k]
        along, weight = float(own @ before), float(own @ own) + 1
        theta = -along / weight
        then = float(f"{u.value * math.exp(u.spread * max(-3.0, min(3.0, theta))):.3g}")
        changes: dict[str, float | str] = dict(u.also) | {u.path: then}
        found.append(
            Suspected(u.name, u.path, model.units[u.path], u.value, then, along**2 / weight / whole, changes)
        )
    found.sort(key=lambda s: -s.explains)
    return tuple(s for s in found if s.explains > 0.05)[:4]


def _next(model: _Model, keys: Sequence[str], jacobian: FloatArray) -> str:
    """The trial not read yet whose outcome is the least known after these readings, by its own error."""
    inner = np.linalg.inv(jacobian.T @ jacobian + np.eye(len(model.unsure)))
    open_ = [(i, o) for i, o in enumerate(model.start) if o not in keys]
    if not open_:
        return ""
    gains = [float(model.every[i] @ inner @ model.every[i]) / READ_OFF[o] ** 2 for i, o in open_]
    best = int(np.argmax(gains))
    return open_[best][1] if gains[best] > 0.5 else ""


def _words(suspects: Sequence[Suspected], disagrees: NDArray[np.bool_]) -> str:
    if not disagrees.any():
        return "Readings and design agree within what such readings can tell."
    if not suspects or suspects[0].explains < TELLS:
        return (
            "No single part explains it: two may be off at once, or a reading was taken otherwise than it is "
            "meant. Read again what disagrees most."
        )
    best = suspects[0]
    second = suspects[1] if len(suspects) > 1 and suspects[1].explains > 0.8 * best.explains else None
    if second:
        return f"Likeliest is {best.name}, or as well {second.name}: the next reading tells them apart."
    return f"Likeliest is {best.name}."
