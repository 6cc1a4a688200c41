"""How far a design goes: the most of each aim at which everything holds and what binds there, and for what is
short the nearest value of its field that mends it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic.fields import FieldInfo

from ..account.report import Report, Rung, Verdict
from ..design.design import AxisDesign, changed
from ..evaluation.columns import Columns, columns, field_at
from ..evaluation.evaluate import evaluate
from ..fields.columns import owner_of
from ..fields.part import part_at
from ..fields.profile import Profile
from ..ledger.errors import EntryError, problem
from ..ledger.long_work import answer_of
from ..ledger.record import record
from ..parts.stages.closed_belt import ClosedBelt
from ..parts.stages.contract import Stage

FloatArray = NDArray[np.float64]
UNBUILDABLE = "unbuildable"  # in place of a rung's key
HELD = 1 - 1e-9  # headroom from which a rung holds
COARSE = 60  # values tried on either side of the one that stands, evenly by ratio
REACH = 30.0  # times the value that stands, and its part: beyond it nobody asks
FROM_NOTHING = 1000.0  # the same where nothing is asked yet, from 1 of its unit
FINE = 120  # values tried between the last that holds and the first that does not
SINGLY = 8  # times fewer of both where every value is worked out by itself
# Aims, by what each is called.
AIMS = (
    ("Speed", "aim.speed_mm_s"),
    ("Acceleration", "aim.acceleration_mm_s2"),
    ("Moving mass", ""),
    ("Push", "aim.push_n"),
    ("Travel", "aim.travel_mm"),
)


@record
class HowFar:
    """One aim: what stands, the most at which everything holds (None where no value of it alone makes it so),
    whether nothing binds as far as was looked, and else the rung that binds.

    `fewer` says that less is harder: a time. `set_to` is what its field is set to for it.
    """

    label: str
    path: str
    unit: str
    fewer: bool
    now: float
    most: float | None
    set_to: float | None
    open_end: bool
    binds: str
    binds_key: str


@record
class Mend:
    """What mends one rung that is short: its field and the nearest value at which it holds; `changes` sets it
    with what goes with it.

    `verdict` and `in_words` are of the whole axis with it, `spoils` what else it makes short.
    """

    key: str
    path: str
    title: str
    unit: str
    now: float
    to: float
    changes: dict[str, float]
    asks_less: bool
    verdict: Verdict
    in_words: str
    spoils: tuple[str, ...]


@record
class Reaches:
    """How far a design goes in every aim, and what mends each rung that is short."""

    aims: tuple[HowFar, ...]
    mends: tuple[Mend, ...]


def reaching(design: AxisDesign, profiles: Mapping[str, Profile]) -> Iterator[float | Reaches]:
    """How far a design goes, step by step: shares of what is done (0 to 1), and the answer last.

    Equation: the largest x with headroom_i(x) ≥ 1 for every rung i, from the value that stands on
    Units: as each field's own
    Range: one aim at a time, everything else as it stands; values a few per cent apart, then finer, rounded
    to the side that holds
    Source: handbook — each rung names its own
    """
    report = evaluate(design, profiles)
    asked = [a for label, path in AIMS if (a := aim_of(design, label, path)) is not None]
    short = [r for r in report.ladder if r.verdict == "short" and not r.advisory]
    whole = len(asked) + len(short)
    aims: list[HowFar] = []
    mends: list[Mend] = []
    for label, path in asked:
        yield len(aims) / whole
        aims.append(_how_far(design, profiles, label, path))
    for n, rung in enumerate(short):
        yield (len(aims) + n) / whole
        found = mend(design, profiles, report, rung)
        if found is not None:
            mends.append(found)
    yield Reaches(tuple(aims), tuple(mends))


def reaches(design: AxisDesign, profiles: Mapping[str, Profile]) -> Reaches:
    """How far a design goes, at once; see `reaching`."""
    return answer_of(reaching(design, profiles))


def most_of(design: AxisDesign, profiles: Mapping[str, Profile], path: str) -> float | None:
    """The most of one aim, by its path, at which everything holds; None where no value of it alone does."""
    return _how_far(design, profiles, "", path).set_to


def aim_of(design: AxisDesign, label: str, path: str) -> tuple[str, str] | None:
    """The field of an aim for this end and what it is called there; None where it asks for nothing."""
    end = design.end
    if not path:  # the mass that is heaviest grows for all that moves
        masses = [m.mass_kg * m.quantity for m in design.moving]
        path = f"moving.{masses.index(max(masses))}.mass_kg" if any(masses) else "moving."
        label += ", heads apart" if design.heads else ""
    if path == "moving." or path.startswith(tuple(end.IDLE)):
        return None
    own = end.AIMS.get(path)
    return (label, path) if own is None else (field_at(design, own).title or label, own)


def _how_far(design: AxisDesign, profiles: Mapping[str, Profile], label: str, path: str) -> HowFar:
    line = _Line(design, profiles, path)
    fewer = line.unit == "s"
    values, here = line.coarse()
    if fewer:
        values, here = values[::-1], len(values) - 1 - here
    found = line.tried(values)
    ok = _held(found, found.rungs)

    def told(to: float | None, binds: tuple[str, str]) -> HowFar:
        total = _told(design, path)
        most = None if to is None else total(to)
        return HowFar(
            label, path, line.unit, fewer, total(line.now), most, to, to is not None and not binds[1], *binds
        )

    if ok[here]:
        ends = np.flatnonzero(~ok[here:])
        at = here + int(ends[0]) - 1 if ends.size else len(ok) - 1
    else:
        below = np.flatnonzero(ok[:here])
        if not below.size:
            return told(None, _binding(found, slice(0, here + 1), here))
        at = int(below[-1])
    if at == len(values) - 1:
        return told(float(values[at]), ("", ""))
    fine = line.between(values[at], values[at + 1])
    finer = line.tried(fine)
    good = _held(finer, finer.rungs)
    last = int(np.argmin(good)) - 1 if not good.all() else len(good) - 2
    last = max(last, 0)
    return told(float(fine[last]), _binding(finer, slice(last + 1, last + 2), last + 1))


def _told(design: AxisDesign, path: str) -> Callable[[float], float]:
    """What a field's value comes to where it is told: of a mass, all that moves."""
    if not path.startswith("moving."):
        return lambda x: x
    part: Any = owner_of(design, path)
    others = math.fsum(m.mass_kg * m.quantity for m in design.moving if m is not part)
    return lambda x: round(others + x * part.quantity, 9)


def mend(design: AxisDesign, profiles: Mapping[str, Profile], report: Report, rung: Rung) -> Mend | None:
    """The nearest value of its deciding field at which a rung holds; None where that is no number, one that a
    bought thing brings, or where no value of it does.
    """
    path = rung.field
    try:
        line = _Line(design, profiles, path)
        values, here = line.coarse()
        found = line.tried(values)
    except EntryError:
        return None  # it names a part as a whole, a choice, or what is on a label
    ok = _held(found, [rung.key])
    above, below = np.flatnonzero(ok[here:]), np.flatnonzero(ok[: here + 1])
    tries = []
    if above.size:
        at = here + int(above[0])
        fine = line.between(values[at - 1], values[at])
        tries.append(float(fine[_held(line.tried(fine), [rung.key])].min(initial=values[at])))
    if below.size:
        at = int(below[-1])
        fine = line.between(values[at], values[at + 1])
        tries.append(float(fine[_held(line.tried(fine), [rung.key])].max(initial=values[at])))
    was = {r.key: r.verdict for r in report.ladder}
    for to in sorted(tries, key=lambda x: abs(math.log(max(x, 1e-9) / max(line.now, 1e-9)))):
        try:
            made = evaluate(changed(design, line.changes(to)), profiles)
        except EntryError:
            continue
        new = (
            r for r in made.ladder if r.verdict == "short" and not r.advisory and was.get(r.key) != "short"
        )
        return Mend(
            rung.key,
            path,
            line.info.title or path,
            line.unit,
            line.now,
            to,
            line.changes(to),
            path.startswith(("aim.", "assumptions.")),
            made.verdict,
            made.in_words,
            tuple(r.label for r in new),
        )
    return None


class _Line:
    """The values that one field of a design can take; EntryError where it is no number that a maker sets."""

    def __init__(self, design: AxisDesign, profiles: Mapping[str, Profile], path: str) -> None:
        self.design, self.profiles, self.path = design, profiles, path
        self.info = field_at(design, path)
        extra = self.info.json_schema_extra
        part: Any = owner_of(design, path)
        now = part_at(design, path)
        printed = isinstance(part, Stage) and not isinstance(part, ClosedBelt)  # on its label
        if not isinstance(extra, dict) or "unit" not in extra or not _is_plain(now) or printed:
            raise EntryError([problem(path, "is no number that is set", remedy="Change its part instead.")])
        self.now, self.unit = float(now), str(extra["unit"])
        sold = profiles[part.profile].widths_mm if path.endswith("belt.width_mm") else extra.get("sizes", [])
        self.sizes = np.sort(np.array(sold, dtype=float))
        self.whole = self.info.annotation is int
        self.slow = SINGLY if design.end.SINGLY else 1
        self.more = design.end.goes_with(design, path)
        limits = [_limits(field_at(design, p), more) for p, more in (self.more | {path: 0.0}).items()]
        self.low, self.high = max(low for low, _ in limits), min(high for _, high in limits)

    def entered(self, value: float) -> float:
        """A value as its field takes it."""
        return int(value) if self.whole else float(value)

    def tried(self, values: FloatArray) -> Columns:
        """The design with every one of these values."""
        whole = [self.changes(x) for x in values]
        own = {path: [changes[path] for changes in whole] for path in whole[0]}
        return columns(self.design, self.profiles, {"x": own})

    def changes(self, value: float) -> dict[str, float]:
        """What one value sets, with what goes with it."""
        return {self.path: self.entered(value)} | {p: value + more for p, more in self.more.items()}

    def coarse(self) -> tuple[FloatArray, int]:
        """Values on both sides of the one that stands, which is at the place told: what can be bought where
        that is known.
        """
        reach, base = (
            (REACH, self.now) if self.now > 0 else (FROM_NOTHING, max(self.low, min(1.0, self.high)))
        )
        count = COARSE // self.slow
        about = np.geomspace(base / reach, base * reach, 2 * count + 1)
        if self.sizes.size:
            about = self.sizes
        elif self.whole:
            about = np.concatenate([np.rint(about), self.now + np.arange(-count, count + 1)])
        ends = [x for x in (self.low, self.high) if base / reach <= x <= base * reach]
        about = np.concatenate([about[(about > self.low) & (about < self.high)], ends])
        about = np.append(about[~np.isclose(about, self.now, rtol=1e-9)], self.now)
        values = np.unique(about)
        return values, int(np.searchsorted(values, self.now))

    def between(self, a: float, b: float) -> FloatArray:
        """From one value to another by few digits, both among them."""
        if self.sizes.size:
            return np.array([a, b])
        low, high = min(a, b), max(a, b)
        width = 10.0 ** math.ceil(math.log10(max(high - low, 1e-12) * self.slow / FINE))
        width = max(width, 1.0) if self.whole else width
        steps = np.round(np.arange(math.ceil(low / width), math.floor(high / width) + 1) * width, 12)
        values = np.unique(np.concatenate([steps[(steps > low) & (steps < high)], [low, high]]))
        return values if a <= b else values[::-1]


def _limits(info: FieldInfo, more: float) -> tuple[float, float]:
    """Between what a value must lie, if what is that much more than it is to be one of a field."""
    low = next((float(m.ge) for m in info.metadata if hasattr(m, "ge")), 0.0)
    high = next((float(m.le) for m in info.metadata if hasattr(m, "le")), math.inf)
    return low - more, high - more


def _is_plain(value: object) -> bool:
    """Whether it is a number: not one that is left empty, no choice."""
    return isinstance(value, (int, float)) and not isinstance(value, bool)


def _held(found: Columns, keys: Sequence[str]) -> NDArray[np.bool_]:
    """Where these rungs hold and the design can be built."""
    ok = ~np.broadcast_to(found.refused(), found.shape)
    for key in keys:
        ok = ok & (np.broadcast_to(found.headroom(key), found.shape) >= HELD)
    return ok


def _binding(found: Columns, among: slice, at: int) -> tuple[str, str]:
    """The rung that stands in the way at one place, by its label and key: of those that fall short at every
    one of these places the one with least headroom, else the one with least at that place. What cannot be
    built says so.
    """
    if found.refused_at((at,)):
        why = found.why((at,))
        return (f"{why[0].field} {why[0].message}" if why else "cannot be built"), UNBUILDABLE
    heads = {k: np.nan_to_num(np.broadcast_to(found.headroom(k), found.shape), nan=0.0) for k in found.rungs}
    never = [k for k, h in heads.items() if (h[among] < HELD).all()]
    key = min(never or heads, key=lambda k: float(heads[k][at]))
    labels = {k: t[0].label for _, group in found.groups for k, t in group.targets.items()}
    return labels[key], key
