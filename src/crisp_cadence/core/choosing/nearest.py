"""The nearest aim at which something holds, where nothing does for the one that was asked."""

from __future__ import annotations

from collections.abc import Generator, Mapping, Sequence
from typing import Any

import numpy as np

from ..account.report import Report
from ..design.design import AxisDesign, changed
from ..evaluation.columns import field_at
from ..evaluation.evaluate import evaluate
from ..fields.columns import owner_of
from ..fields.part import part_at
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from ..ledger.amounts import said
from ..ledger.errors import EntryError
from ..ledger.long_work import scaled
from ..ledger.record import record
from .how_far import most_of
from .settle import MOST_ROUNDS, WIDER, advised, finished, fit_for, searched, sought, worth_trying
from .space import taken
from .swaps_end import braked

SPEED = ("aim.speed_mm_s", "aim.push_speed_mm_s", "aim.acceleration_mm_s2")
LOAD = ("aim.push_n", "aim.hold_n", "moving")
WAYS = (SPEED, LOAD, SPEED + LOAD)  # what is asked for less of, tried in turn
MOST_TRIES = 6
SHARES = tuple(round(float(x), 4) for x in np.geomspace(0.85, 0.005, 16))  # of what was asked


@record
class Nearer:
    """What holds for less than was asked: the design, what it asks for less of, and what stands in the way of
    more.
    """

    report: Report
    design: AxisDesign
    less: tuple[str, ...]
    binds: str


def nearest(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Generator[float, None, Nearer | None]:
    """The largest share of speed and acceleration, else of the loads, else of both, for which something is
    found that holds; each then taken as far as that goes. None where there is none; yields shares of work.
    """
    report, _ = fit_for(design, profiles)
    binds = report.in_words.removeprefix(f"{report.verdict}: ")
    asked = _as_long_as_it_can_be(design, profiles)
    for n, way in enumerate(WAYS):
        found: tuple[Report, AxisDesign] | None = None
        low, high = 0, len(SHARES) - 1
        at = high  # the least first: where that does not do, no larger share does
        for tries in range(MOST_TRIES):
            done = [(n + (tries + more) / MOST_TRIES) / len(WAYS) for more in (0, 1)]
            made = yield from scaled(_attempt(_less(asked, way, SHARES[at]), profiles, drawer), *done)
            if made is None:
                low = at + 1
            else:
                found, high = made, at - 1
            if found is None or low > high:
                break
            at = (low + high) // 2
        if found is not None:
            report, whole = found
            report, whole = _as_far_as_it_goes(report, whole, way, profiles, design)
            return Nearer(report, whole, _words(design, whole), binds)
    return None


def _as_long_as_it_can_be(design: AxisDesign, profiles: Mapping[str, Profile]) -> AxisDesign:
    """A design with the largest share of its travel for which there is a rail."""
    for share in (1.0, *SHARES):
        some = _less(design, ("aim.travel_mm",), share) if share < 1 else design
        if some is not None:
            report, _ = fit_for(some, profiles)
            if not any(r.key == "travel" and r.verdict == "short" for r in report.ladder):
                return some
    return design


def _travel(design: AxisDesign) -> str:
    return design.end.AIMS.get("aim.travel_mm", "aim.travel_mm")


def _paths(design: AxisDesign, way: Sequence[str]) -> list[str]:
    """Fields of a way that count for this end and ask for something."""
    out = []
    for path in way:
        some = [f"moving.{i}.mass_kg" for i in range(len(design.moving))] if path == "moving" else [path]
        for one in some:
            own = design.end.AIMS.get(one, one)
            if not own.startswith(tuple(design.end.IDLE) or ("-",)) and (part_at(design, own) or 0) > 0:
                out.append(own)
    return list(dict.fromkeys(out))


def _is_time(design: AxisDesign, path: str) -> bool:
    extra: Any = field_at(design, path).json_schema_extra
    return bool(extra["unit"] == "s")


def _less(design: AxisDesign, way: Sequence[str], share: float) -> AxisDesign | None:
    """A design that asks for a share of what it did; a time grows. None where that cannot be asked."""
    new = {}
    for path in _paths(design, way):
        now = part_at(design, path) or 0.0
        new[path] = float(f"{now / share if _is_time(design, path) else now * share:.2g}")
    try:
        return changed(design, new)
    except EntryError:
        return None


def _attempt(
    design: AxisDesign | None, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Generator[float, None, tuple[Report, AxisDesign] | None]:
    """A whole design for an aim that holds, by the plainer kinds of reduction; None where none is found."""
    if design is None:
        return None
    try:
        report, ready = fit_for(design, profiles)
        tries = [ready, *(changed(ready, s.changes) for s in braked(ready, report, alone=True))]
        if searched(report, ready):
            work = sought(report, ready, profiles, list(worth_trying(ready, drawer)), WIDER[:2])
            rows, ready = yield from scaled(work, 0.0, 1.0)
            tries = [taken(ready, r.changes) for r in advised(rows, ready, profiles)[:MOST_ROUNDS]]
        for one in tries:
            report, whole = finished(one, profiles)
            if report.verdict == "holds":
                return report, whole
    except EntryError:
        return None
    return None


def _as_far_as_it_goes(
    report: Report, design: AxisDesign, way: Sequence[str], profiles: Mapping[str, Profile], asked: AxisDesign
) -> tuple[Report, AxisDesign]:
    """A design with each aim that was lowered raised again, as far as it holds and no further than asked."""
    for path in _paths(design, way):
        was = part_at(asked, path)
        most = most_of(design, profiles, path)
        if was is None or most is None:
            continue
        more = max(most, was) if _is_time(design, path) else min(most, was)
        try:
            tried = changed(design, {path: more})
            made = evaluate(tried, profiles)
        except EntryError:
            continue
        if made.verdict == "holds":
            report, design = made, tried
    return report, design


def _words(asked: AxisDesign, design: AxisDesign) -> tuple[str, ...]:
    """What a design asks for less of, in words."""
    out = []
    for path in (*_paths(asked, SPEED + LOAD), _travel(asked)):
        was, now = part_at(asked, path) or 0.0, part_at(design, path) or 0.0
        if abs(was - now) > 1e-9 * abs(was):
            info = field_at(asked, path)
            extra: Any = info.json_schema_extra
            part: Any = owner_of(asked, path)
            title = part.label or "Mass" if path.startswith("moving.") else info.title
            out.append(f"{title} {said(now, extra['unit'])} instead of {said(was, extra['unit'])}")
    return tuple(out)
