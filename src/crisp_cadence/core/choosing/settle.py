"""From an aim to a design that is worked out whole: lengths that the aim wants, the drives that a search
finds for it, plates, fixings and the smallest motor.
"""

from __future__ import annotations

from collections.abc import Generator, Iterator, Mapping, Sequence
from typing import Any

from ..account.report import Report
from ..design.design import AxisDesign, changed
from ..evaluation.evaluate import evaluate
from ..fields.profile import Profile
from ..fitting.drawer import Stock, number
from ..fitting.parts import motor_of
from ..fitting.typical import with_typical
from ..ledger.errors import EntryError
from ..parts.stages.stepper import Stepper
from . import fuss
from .find import Found, begin
from .plates import fitted
from .ruler import FIXED
from .space import Reduction, taken
from .swaps_end import braked
from .tries import merged, nearest_values

# Kinds of reduction, from plain to laborious: the next is looked at only where the last ones do not do.
WIDER: tuple[Reduction, ...] = ("direct", "gearbox", "closed belt")
MOST_ROUNDS = 3
MOST_ROWS = 8  # of a search that are looked at for advice too
LITTLE_MORE = 1.15  # times the money and fuss of another, which nobody minds for one that keeps more advice
FIXING = {"flat": "set screw on flat", "round": "clamp", "key": "key"}


def fit_for(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Report, AxisDesign]:
    """The design with rail and other lengths that its aim wants."""
    report = evaluate(design, profiles)
    for _ in range(MOST_ROUNDS):
        steps = [s for s in nearest_values(design, profiles, report) if s.kind == "make"]
        if not steps:
            break
        design = changed(design, merged(*steps))
        report = evaluate(design, profiles)
    return report, design


def sought(
    report: Report,
    ready: AxisDesign,
    profiles: Mapping[str, Profile],
    drawer: list[Stock],
    kinds: Sequence[Reduction] = WIDER,
) -> Generator[float, None, tuple[list[Found], AxisDesign]]:
    """What a search finds with the plainest kind of reduction that does, and for which design: what would
    fall without power is tried with a brake too, and has one where that is cheaper than a motor that holds.
    """
    tried = [(ready, 0.0)]
    for swap in braked(ready, report, alone=True) if ready.aim.brake_n is None else ():
        held = changed(ready, swap.changes)
        tried.append((held, evaluate(held, profiles).bill_to_spend - report.bill_to_spend))
    found: list[tuple[float, list[Found], AxisDesign]] = []
    for n, reduction in enumerate(kinds):
        for k, (design, more) in enumerate(tried):
            try:
                search = begin(design, profiles, drawer, "anything", (reduction,))
            except EntryError:
                continue  # nothing of this kind can be put together
            for share in search.steps():
                yield (n + (k + share) / len(tried)) / len(kinds)
            rows = list(search.answer().rows)
            if rows:
                found.append((rows[0].spend + rows[0].fuss + more, rows, design))
        if found:
            _, rows, design = min(found, key=lambda x: x[0])
            return rows, design
    return [], ready


def worth_trying(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Stock]:
    """Rows that are worth trying: what is owned, and no odd supply. Where the motor rides along, each of its
    masses moves the end otherwise, and only common frames are tried.
    """
    for row in drawer:
        odd_supply = row.kind == "supply" and fuss.of_supply(number(row, "supply_v") or 0.0) >= fuss.ODD_VOLTS
        odd_motor = row.kind == "stepper" and fuss.of_motor(str(row.data.get("frame"))) > 0
        if row.quantity > 0 or not (odd_supply or (odd_motor and design.end.rides)):
            yield row


def searched(report: Report, design: AxisDesign) -> bool:
    """Whether a search is of use: its motor is one of those in the list, and no rung is short that no motor,
    reduction or belt changes.
    """
    fixed = any(
        r.key.rpartition(".")[2] in FIXED and r.verdict == "short" for r in report.ladder if not r.advisory
    )
    return isinstance(design.chain[0], Stepper) and not fixed


def unadvised(report: Report) -> frozenset[str]:
    """What advice a design goes against, in the words of its rungs."""
    return frozenset(r.label for r in report.ladder if r.advisory and r.verdict == "short")


def against_advice(report: Report) -> str:
    """That advice in words, for the end of a line."""
    found = ", ".join(sorted(f"{x[:1].lower()}{x[1:]}" for x in unadvised(report)))
    return f"; against advice: {found}" if found else ""


def advised(rows: Sequence[Found], design: AxisDesign, profiles: Mapping[str, Profile]) -> list[Found]:
    """Of the first rows those that keep most advice first, as far as they cost no more than little more."""
    if not rows:
        return []
    most = LITTLE_MORE * (rows[0].spend + rows[0].fuss)
    near = [r for r in rows[:MOST_ROWS] if r.spend + r.fuss <= most]
    against = {r.index: len(unadvised(evaluate(taken(design, r.changes), profiles))) for r in near}
    return sorted(near, key=lambda r: against[r.index])


def finished(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Report, AxisDesign]:
    """A searched design with what holds it: fixings for its shafts, plates in place of mounts that nobody
    chose, and lengths that follow.
    """
    fixing = FIXING.get(str(getattr(design.chain[-1], "shaft_form", "")))
    if fixing and hasattr(design.end, "pulley") and "end.pulley.fixing.kind" not in design.chosen:
        design = changed(design, {"end.pulley.fixing.kind": fixing})
    report, design = fit_for(design, profiles)
    if report.verdict == "holds":
        report, held, _ = fitted(report, design, profiles)
        design = changed(design, held)
    return report, design


def smallest(
    report: Report, design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> tuple[Report, AxisDesign]:
    """A design with the smallest motor of a common frame that does on the same shaft and costs no more: ranks
    do not tell motors apart that differ by a euro.
    """
    now: Any = design.chain[0]
    if now.in_stock or now.ordered:
        return report, design
    rows = [
        (data["hold_torque_nm"], data)
        for row in with_typical(drawer, profiles, design)
        if (data := motor_of(row)) is not None
        and data["hold_torque_nm"] < now.hold_torque_nm
        and abs(data["shaft_mm"] - now.shaft_mm) < 1e-6
        and fuss.of_motor(data["frame"]) <= fuss.of_motor(now.frame)
    ]
    for _, data in sorted(rows, key=lambda x: x[0]):
        current = {"current_a": data["rated_current_a"], "current_is": "rms"}
        own = {f"chain.0.{n}": v for n, v in data.items()}
        tried = changed(design, own | {f"chain.0.driver.{n}": v for n, v in current.items()})
        try:
            made = evaluate(tried, profiles)
        except EntryError:
            continue
        no_worse = unadvised(made) <= unadvised(report)
        if made.verdict == "holds" and no_worse and made.bill_to_spend <= report.bill_to_spend:
            return made, tried
    return report, design
