"""From an aim to whole designs: up to three that hold, each with its reason, money and what it gives up."""

from __future__ import annotations

import json
from collections.abc import Generator, Iterator, Mapping, Sequence
from typing import Any, Literal

from ..account.report import Report, Verdict
from ..design.design import AxisDesign, changed
from ..evaluation.evaluate import evaluate
from ..fields.profile import Profile
from ..fitting.drawer import Stock, number
from ..fitting.parts import motor_of
from ..fitting.typical import with_typical
from ..ledger.amounts import said
from ..ledger.errors import EntryError
from ..ledger.long_work import answer_of, as_json
from ..ledger.record import record
from ..parts.stages.stepper import Stepper
from . import fuss
from .find import Found, begin
from .plates import plates
from .ruler import ENOUGH, FIXED, NOT_RANKED
from .space import Reduction, taken
from .swaps_end import braked
from .tries import Trying, merged, nearest_values

Name = Literal["plainest", "cheapest", "calmest"]
# Kinds of reduction, from plain to laborious: the next is looked at only where the last ones do not do.
WIDER: tuple[Reduction, ...] = ("direct", "gearbox", "closed belt")
NAMES: tuple[Name, ...] = ("plainest", "cheapest", "calmest")
CHEAPER = 0.98  # of the plainest's money is the most that the cheapest may cost
APART = 0.85  # of the money of another from which a proposal of the same kind is one of its own
DEARER = 2.5  # times the plainest's money is the most that calm may cost
MOST_ROUNDS = 3
MOST_ROWS = 12  # of a search that are looked at for advice too
LITTLE_MORE = 1.15  # times the money and fuss of another, which nobody minds for one that keeps more advice
FIXING = {"flat": "set screw on flat", "round": "clamp", "key": "key"}


@record
class Proposal:
    """A whole design for an aim: `design` is what is taken; `money` is still to be spent, `typical` counts
    its prices that nobody was asked for.
    """

    name: Name
    reason: str
    money: float
    typical: int
    gives_up: str
    verdict: Verdict
    in_words: str
    parts: tuple[str, ...]
    design: AxisDesign


@record
class Proposals:
    """Up to three proposals, the plainest first; `says` why there are not three, or why none holds."""

    found: tuple[Proposal, ...]
    says: str


def proposing(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Iterator[float | Proposals]:
    """Proposals step by step: shares of what is done (0 to 1), and the answer last.

    The aim, the layout, the guide and what moves stay; motor, driver and supply, reduction, belt, width,
    teeth and bores are searched, the plainest kind of reduction first; rail, mounts and fixings follow. An
    end that is not searched is mended from its layout by a plan.
    """
    report, ready = fit_for(design, profiles)
    yield 0.05
    rows: list[Found] = []
    if isinstance(design.chain[0], Stepper) and not _stuck(report):
        rows, ready = yield from _sought(report, ready, profiles, list(_tried(ready, drawer)))
    made: list[Proposal] = []
    kept: list[Found] = []
    for name in NAMES:
        for row in _listed(name, rows, kept, ready, profiles)[:MOST_ROUNDS]:
            report, whole = _finished(taken(ready, row.changes), profiles)
            if report.verdict == "holds":
                if not made:
                    report, whole = _smallest(report, whole, profiles, drawer)
                made.append(_told(name if made else "plainest", row, report, whole, made))
                kept.append(row)
                break
    yield 0.9
    if made:
        says = [] if len(made) == len(NAMES) else ["No other way differs enough to be worth a proposal."]
        if len(made[0].design.chain) < len(design.chain):
            says.insert(0, "This aim needs no reduction: the plainest drives directly.")
        yield Proposals(tuple(made), " ".join(says))
        return
    trying = Trying(ready, profiles, drawer)
    for share in trying.steps():
        yield 0.9 + 0.09 * share
    yield _mended(ready, profiles, trying)


def propose(design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]) -> Proposals:
    """Proposals at once; see `proposing`."""
    return answer_of(proposing(design, profiles, drawer))


def _sought(
    report: Report, ready: AxisDesign, profiles: Mapping[str, Profile], drawer: list[Stock]
) -> Generator[float | Proposals, None, tuple[list[Found], AxisDesign]]:
    """What a search finds with the plainest kind of reduction that does, and for which design: what would
    fall without power is tried with a brake too, and has one where that is cheaper than a motor that holds.
    """
    tried = [(ready, 0.0)]
    for swap in braked(ready, report, alone=True) if ready.aim.brake_n is None else ():
        held = changed(ready, swap.changes)
        tried.append((held, evaluate(held, profiles).bill_to_spend - report.bill_to_spend))
    found: list[tuple[float, list[Found], AxisDesign]] = []
    for n, reduction in enumerate(WIDER):
        for k, (design, more) in enumerate(tried):
            try:
                search = begin(design, profiles, drawer, "anything", (reduction,))
            except EntryError:
                continue  # nothing of this kind can be put together
            for share in search.steps():
                yield 0.05 + 0.8 * (n + (k + share) / len(tried)) / len(WIDER)
            rows = list(search.answer().rows)
            if rows:
                found.append((rows[0].spend + rows[0].fuss + more, rows, design))
        if found:
            _, rows, design = min(found, key=lambda x: x[0])
            return rows, design
    return [], ready


def _unadvised(report: Report) -> frozenset[str]:
    """What advice a design goes against, in the words of its rungs."""
    return frozenset(r.label for r in report.ladder if r.advisory and r.verdict == "short")


def _against(report: Report) -> str:
    """That advice in words, for the end of a line."""
    found = ", ".join(sorted(f"{x[:1].lower()}{x[1:]}" for x in _unadvised(report)))
    return f"; against advice: {found}" if found else ""


def _advised(rows: Sequence[Found], design: AxisDesign, profiles: Mapping[str, Profile]) -> list[Found]:
    """Of the first rows those that keep most advice first, as far as they cost no more than little more."""
    if not rows:
        return []
    most = LITTLE_MORE * (rows[0].spend + rows[0].fuss)
    near = [r for r in rows[:MOST_ROWS] if r.spend + r.fuss <= most]
    against = {r.index: len(_unadvised(evaluate(taken(design, r.changes), profiles))) for r in near}
    return sorted(near, key=lambda r: against[r.index])


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


def _tried(design: AxisDesign, drawer: Sequence[Stock]) -> Iterator[Stock]:
    """Rows that are worth trying: what is owned, and no odd supply. Where the motor rides along, each of its
    masses moves the end otherwise, and only common frames are tried.
    """
    for row in drawer:
        odd_supply = row.kind == "supply" and fuss.of_supply(number(row, "supply_v") or 0.0) >= fuss.ODD_VOLTS
        odd_motor = row.kind == "stepper" and fuss.of_motor(str(row.data.get("frame"))) > 0
        if row.quantity > 0 or not (odd_supply or (odd_motor and design.end.rides)):
            yield row


def _stuck(report: Report) -> bool:
    """Whether a rung is short that no motor, reduction or belt changes."""
    return any(
        r.key.rpartition(".")[2] in FIXED and r.verdict == "short" for r in report.ladder if not r.advisory
    )


def _listed(
    name: Name,
    rows: Sequence[Found],
    kept: Sequence[Found],
    design: AxisDesign,
    profiles: Mapping[str, Profile],
) -> list[Found]:
    """Of what holds the rows for a name, the best first, beside those that are kept already."""
    if not kept:
        return _advised(rows, design, profiles)
    plain, others = kept[0], [r for r in rows if all(_differs(r, k) for k in kept)]
    if name == "cheapest":
        return sorted((r for r in others if r.spend < CHEAPER * plain.spend), key=lambda r: r.spend)
    calm = [
        r
        for r in others
        if r.spend <= DEARER * max(plain.spend, 1.0) and min(r.headroom, ENOUGH) > plain.headroom
    ]
    calm.sort(key=lambda r: (-min(r.headroom, ENOUGH), r.spend + r.fuss))
    return _advised(calm, design, profiles)


def _differs(a: Found, b: Found) -> bool:
    """Whether two are proposals of their own: by reduction, motor's frame, belt, or much money."""
    frames = [str(r.changes.get("chain.0.frame")) for r in (a, b)]
    belts = [(r.changes.get("end.belt.profile"), r.changes.get("end.belt.width_mm")) for r in (a, b)]
    much = min(a.spend, b.spend) <= APART * max(a.spend, b.spend)
    return a.gear != b.gear or frames[0] != frames[1] or belts[0] != belts[1] or much


def _finished(design: AxisDesign, profiles: Mapping[str, Profile]) -> tuple[Report, AxisDesign]:
    """A searched design with what holds it: fixings for its shafts, plates in place of mounts that nobody
    chose, and lengths that follow.
    """
    fixing = FIXING.get(str(getattr(design.chain[-1], "shaft_form", "")))
    if fixing and hasattr(design.end, "pulley") and "end.pulley.fixing.kind" not in design.chosen:
        design = changed(design, {"end.pulley.fixing.kind": fixing})
    report, design = fit_for(design, profiles)
    if report.verdict == "holds":
        held = plates(design, profiles, report)
        if held.changes:
            design = changed(design, held.changes)
            report = evaluate(design, profiles)
    return report, design


def _smallest(
    report: Report, design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> tuple[Report, AxisDesign]:
    """A design with the smallest motor of a common frame that does on the same shaft and costs no more: ranks
    do not tell motors apart that differ by a euro.
    """
    now: Any = design.chain[0]
    if now.in_stock:
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
        no_worse = _unadvised(made) <= _unadvised(report)
        if made.verdict == "holds" and no_worse and made.bill_to_spend <= report.bill_to_spend:
            return made, tried
    return report, design


def _parts(report: Report) -> tuple[str, ...]:
    return tuple(f"{line.what}, {line.detail}" if line.detail else line.what for line in report.bill)


def _tightest(report: Report) -> str:
    """The rung of what was chosen that has least to spare; lengths that were cut to fit say nothing."""
    ranked = [
        r
        for r in report.ladder
        if r.headroom is not None and not r.advisory and r.key.rpartition(".")[2] not in NOT_RANKED
    ]
    least = min(ranked, key=lambda r: r.headroom or 0.0, default=None)
    if least is None:
        return report.in_words
    return f"{least.label[:1].lower()}{least.label[1:]}, {least.headroom:.2f} of what it needs"


def _told(name: Name, row: Found, report: Report, design: AxisDesign, before: Sequence[Proposal]) -> Proposal:
    """One proposal in words."""
    money = report.bill_to_spend
    motor: Any = design.chain[0]
    about = f"{motor.label}, {said(motor.driver.supply_v, 'V')}, {row.gear}"
    about += f", {row.belt}" if row.belt else ""
    about += "" if design.aim.brake_n is None else f", brake of {said(design.aim.brake_n, 'N')}"
    tight = _tightest(report)
    more = money - before[0].money if before else 0.0
    if name == "plainest":
        reason, gives_up = "The fewest and commonest parts that hold", f"Least to spare: {tight}"
    elif name == "cheapest":
        reason = f"{-more:.0f} {report.currency} less than the plainest"
        gives_up = f"Least to spare: {tight}"
    else:
        reason = f"The most to spare, {tight}"
        gives_up = f"{more:.0f} {report.currency} more than the plainest"
    stiff = report.value("stiffness.min")
    soft = "" if stiff is None else f"; stiffness {said(stiff, 'N/mm', '.0f')}"
    return Proposal(
        name,
        f"{reason}: {about}.",
        money,
        report.bill_typical,
        gives_up + soft + _against(report),
        report.verdict,
        report.in_words,
        _parts(report),
        design,
    )


def _mended(design: AxisDesign, profiles: Mapping[str, Profile], trying: Trying) -> Proposals:
    """The layout with the cheapest plan that makes it hold, or with what comes closest."""
    answer = trying.answer()
    change = answer.plan if answer.cheapest is None or answer.cheapest.asks_less else answer.cheapest
    change = change or answer.cheapest
    report, whole = _finished(design if change is None else changed(design, change.changes), profiles)
    if report.verdict == "holds" and isinstance(whole.chain[0], Stepper):
        report, whole = _smallest(report, whole, profiles, trying.drawer)
    steps = [] if change is None else [change.first, *change.others]
    does = "; ".join(f"{s.says[:1].lower()}{s.says[1:]} {s.before} → {s.after}" for s in steps)
    less = [s for s in steps if s.kind == "aim"]
    one = Proposal(
        "plainest",
        f"What stands, and: {does}." if does else "What stands holds.",
        report.bill_to_spend,
        report.bill_typical,
        ("; ".join(f"{s.says}: {s.after}" for s in less) or report.in_words) + _against(report),
        report.verdict,
        report.in_words,
        _parts(report),
        whole,
    )
    if report.verdict == "holds" and not less:
        return Proposals((one,), "This layout is not searched for others.")
    says = "Nothing holds for this aim; the nearest that does asks for less."
    if report.verdict != "holds":
        says = f"Nothing holds for this aim; this comes closest: {report.in_words}."
    return Proposals((one,), says)


def list_json(found: Proposals) -> str:
    """The proposals alone as a JSON list, the plainest first."""
    return json.dumps(json.loads(as_json(found))["found"], indent=2, ensure_ascii=False)
