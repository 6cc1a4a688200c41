"""From an aim to whole designs: up to three that hold, each with its reason, money and what it gives up."""

from __future__ import annotations

import json
from collections.abc import Generator, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any, Literal

from ..account.report import Report, Verdict
from ..design.design import AxisDesign, changed
from ..evaluation.evaluate import evaluate
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from ..ledger.amounts import said
from ..ledger.long_work import answer_of, as_json, scaled
from ..ledger.record import record
from ..parts.stages.stepper import Stepper
from .find import Found
from .nearest import Nearer, nearest
from .ruler import ENOUGH, NOT_RANKED
from .settle import (
    MOST_ROUNDS,
    advised,
    against_advice,
    finished,
    fit_for,
    searched,
    smallest,
    sought,
    worth_trying,
)
from .space import taken
from .tries import Trying

Name = Literal["plainest", "cheapest", "calmest"]
NAMES: tuple[Name, ...] = ("plainest", "cheapest", "calmest")
NOT_LISTED = "Motors of this kind are not in the list: what the layout begins with is fitted to the aim."
CHEAPER = 0.98  # of the plainest's money is the most that the cheapest may cost
APART = 0.85  # of the money of another from which a proposal of the same kind is one of its own
DEARER = 2.5  # times the plainest's money is the most that calm may cost


@record
class Proposal:
    """A whole design for an aim: `design` is what is taken; `money` is still to be spent, `typical` counts
    its prices that nobody was asked for, `less` names what it asks for less of.
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
    less: tuple[str, ...] = ()


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
    end that is not searched is mended from its layout by a plan. Where only the budget is in the way, what
    holds without one is told; where nothing holds, the nearest aim at which something does.
    """
    found = yield from scaled(_proposed(design, profiles, drawer), 0.0, 0.6)
    if not _holds(found) and design.aim.budget is not None:
        free = changed(design, {"aim.budget": None})
        beyond = yield from scaled(_proposed(free, profiles, drawer), 0.6, 0.7)
        if _holds(beyond):
            yield _over_budget(beyond, design.aim.budget, profiles)
            return
    if not any(p.verdict == "holds" for p in found.found):
        nearer = yield from scaled(nearest(design, profiles, drawer), 0.7, 1.0)
        found = found if nearer is None else _nearer(nearer, profiles)
    yield found


def _proposed(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Generator[float, None, Proposals]:
    report, ready = fit_for(design, profiles)
    rows: list[Found] = []
    if searched(report, ready):
        work = sought(report, ready, profiles, list(worth_trying(ready, drawer)))
        rows, ready = yield from scaled(work, 0.05, 0.85)
    made: list[Proposal] = []
    kept: list[Found] = []
    for name in NAMES:
        for row in _listed(name, rows, kept, ready, profiles)[:MOST_ROUNDS]:
            report, whole = finished(taken(ready, row.changes), profiles)
            if report.verdict == "holds":
                if not made:
                    report, whole = smallest(report, whole, profiles, drawer)
                made.append(_told(name if made else "plainest", report, whole, made, profiles))
                kept.append(row)
                break
    if made:
        says = [] if len(made) == len(NAMES) else ["No other way differs enough to be worth a proposal."]
        if len(made[0].design.chain) < len(design.chain):
            says.insert(0, "This aim needs no reduction: the plainest drives directly.")
        return Proposals(tuple(made), " ".join(says))
    trying = Trying(ready, profiles, drawer)
    yield from scaled(trying.steps(), 0.9, 1.0)
    return _mended(ready, profiles, trying)


def _holds(found: Proposals) -> bool:
    """Whether the aim is met as it was asked."""
    return any(p.verdict == "holds" and not p.less for p in found.found)


def _over_budget(found: Proposals, budget: float, profiles: Mapping[str, Profile]) -> Proposals:
    """What holds but for its money, with the budget that was asked."""
    over = []
    for p in found.found:
        design = changed(p.design, {"aim.budget": budget})
        report = evaluate(design, profiles)
        more = f"{p.money - budget:.2f} {report.currency} more than the budget"
        gives_up = f"{more}; {p.gives_up}"
        over.append(
            replace(p, gives_up=gives_up, verdict=report.verdict, in_words=report.in_words, design=design)
        )
    least = min(over, key=lambda p: p.money)
    currency = least.design.aim.currency
    says = (
        f"Nothing holds within {budget:.2f} {currency}: the cheapest found is the {least.name}, for "
        f"{least.money:.2f} {currency}. Raise the budget, or use parts that you own."
    )
    return Proposals(tuple(over), says)


def _nearer(nearer: Nearer, profiles: Mapping[str, Profile]) -> Proposals:
    """The nearest aim at which something holds."""
    reason = f"The plainest found that holds, {_drive(nearer.design, profiles)}."
    one = _proposal("plainest", reason, "; ".join(nearer.less), nearer.report, nearer.design, nearer.less)
    asked = "; ".join(f"{x[:1].lower()}{x[1:]}" for x in nearer.less)
    return Proposals(
        (one,), f"Nothing holds for this aim: {nearer.binds}. The nearest found asks for less: {asked}."
    )


def propose(design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]) -> Proposals:
    """Proposals at once; see `proposing`."""
    return answer_of(proposing(design, profiles, drawer))


def _listed(
    name: Name,
    rows: Sequence[Found],
    kept: Sequence[Found],
    design: AxisDesign,
    profiles: Mapping[str, Profile],
) -> list[Found]:
    """Of what holds the rows for a name, the best first, beside those that are kept already."""
    if not kept:
        return advised(rows, design, profiles)
    plain, others = kept[0], [r for r in rows if all(_differs(r, k) for k in kept)]
    if name == "cheapest":
        return sorted((r for r in others if r.spend < CHEAPER * plain.spend), key=lambda r: r.spend)
    calm = [
        r
        for r in others
        if r.spend <= DEARER * max(plain.spend, 1.0) and min(r.headroom, ENOUGH) > plain.headroom
    ]
    calm.sort(key=lambda r: (-min(r.headroom, ENOUGH), r.spend + r.fuss))
    return advised(calm, design, profiles)


def _differs(a: Found, b: Found) -> bool:
    """Whether two are proposals of their own: by reduction, motor's frame, belt, or much money."""
    frames = [str(r.changes.get("chain.0.frame")) for r in (a, b)]
    belts = [(r.changes.get("end.belt.profile"), r.changes.get("end.belt.width_mm")) for r in (a, b)]
    much = min(a.spend, b.spend) <= APART * max(a.spend, b.spend)
    return a.gear != b.gear or frames[0] != frames[1] or belts[0] != belts[1] or much


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


def _drive(design: AxisDesign, profiles: Mapping[str, Profile]) -> str:
    """Motor, supply, stages, belt and brake of a design, in a line."""
    motor: Any = design.chain[0]
    end: Any = design.end
    of_it = [motor.label or motor.kind.replace("_", " ")]
    if hasattr(motor, "driver"):
        of_it.append(said(motor.driver.supply_v, "V"))
    of_it += [s.label or s.kind.replace("_", " ") for s in design.chain[1:]] or ["direct"]
    if hasattr(end, "belt") and hasattr(end, "pulley") and end.belt.profile in profiles:
        name, wide = profiles[end.belt.profile].name, said(end.belt.width_mm, "mm")
        of_it.append(f"{name}, {wide}, {end.pulley.teeth} teeth")
    if design.aim.brake_n is not None:
        of_it.append(f"brake of {said(design.aim.brake_n, 'N')}")
    return ", ".join(of_it)


def _told(
    name: Name,
    report: Report,
    design: AxisDesign,
    before: Sequence[Proposal],
    profiles: Mapping[str, Profile],
) -> Proposal:
    """One proposal in words."""
    money = report.bill_to_spend
    about = _drive(design, profiles)
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
    return _proposal(name, f"{reason}: {about}.", gives_up + soft, report, design)


def _proposal(
    name: Name, reason: str, gives_up: str, report: Report, design: AxisDesign, less: tuple[str, ...] = ()
) -> Proposal:
    """A proposal from the report of its design; what goes against advice is said with what it gives up."""
    return Proposal(
        name,
        reason,
        report.bill_to_spend,
        report.bill_typical,
        gives_up + against_advice(report),
        report.verdict,
        report.in_words,
        _parts(report),
        design,
        less,
    )


def _mended(design: AxisDesign, profiles: Mapping[str, Profile], trying: Trying) -> Proposals:
    """The layout with the cheapest plan that makes it hold, or with what comes closest."""
    answer = trying.answer()
    change = answer.plan if answer.cheapest is None or answer.cheapest.asks_less else answer.cheapest
    change = change or answer.cheapest
    report, whole = finished(design if change is None else changed(design, change.changes), profiles)
    if report.verdict == "holds" and isinstance(whole.chain[0], Stepper):
        report, whole = smallest(report, whole, profiles, trying.drawer)
    steps = [] if change is None else [change.first, *change.others]
    does = "; ".join(f"{s.says[:1].lower()}{s.says[1:]} {s.before} → {s.after}" for s in steps)
    less = [s for s in steps if s.kind == "aim"]
    asked = tuple(f"{s.says}: {s.after}" for s in less)
    reason = f"What stands, and: {does}." if does else "What stands holds."
    one = _proposal("plainest", reason, "; ".join(asked) or report.in_words, report, whole, asked)
    if report.verdict == "holds" and not less:
        listed = isinstance(design.chain[0], Stepper)
        others = "Nothing else in the list goes together for this aim." if listed else NOT_LISTED
        return Proposals((one,), others)
    says = "Nothing holds for this aim; the nearest that does asks for less."
    if report.verdict != "holds":
        says = f"Nothing holds for this aim; this comes closest: {report.in_words}."
    return Proposals((one,), says)


def list_json(found: Proposals) -> str:
    """The proposals alone as a JSON list, the plainest first."""
    return json.dumps(json.loads(as_json(found))["found"], indent=2, ensure_ascii=False)
