"""Other ways: the same aim moved by belt, by screw and by rack, each with the cheapest parts found that hold,
side by side.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from ..account.report import Report, Verdict
from ..account.verdicts import RANK
from ..design.design import ENDS, AxisDesign, changed, design_from
from ..evaluation.evaluate import evaluate
from ..fields.profile import Profile
from ..fitting.drawer import Stock, of_kind
from ..fitting.parts import (
    coupler_of,
    gearbox_of,
    motor_of,
    paid,
    pulley_on,
    rack_of,
    screw_of,
    stock_pulleys,
    supply_of,
)
from ..fitting.typical import with_typical
from ..ledger.errors import EntryError, problem
from ..ledger.long_work import answer_of
from ..ledger.record import record
from ..parts.ends.belt_end import BeltEnd
from ..parts.ends.carriage_loop import CarriageLoop
from ..parts.ends.contract import End
from ..parts.stages.stepper import Stepper
from .belts import belts_on

MOTORS = 8  # tried for each way, from weak to strong
PROBES = (0.1, 0.35, 0.6, 0.85)
RACK_PIECE_MM = 500.0

# Name, what it is built on, and when it is the right choice.
WAYS: tuple[tuple[str, str, str, str], ...] = (
    ("carriage_loop", "Belt, motor at the end", "belt", "Fast and long moves with light loads, little money, quiet. It gives more the longer the axis, and lets go without power."),
    ("riding_motor", "Belt, motor on the carriage", "belt", "Long rails, or several carriages on one: half the belt, so stiffer. The motor's weight and its cable ride along."),
    ("screw", "Lead screw", "trapezoidal", "Slow and strong: pushing, lifting, holding without power. Friction eats half the torque; whirl bounds length times speed."),
    ("ball_screw", "Ball screw", "ball", "Strong, stiff and exact at middling speed. Dear, wants clean surroundings, and runs back under a load: add a brake."),
    ("rack", "Rack and pinion", "rack", "Any length, as stiff at the far end as at the near one, strong. Backlash unless the pinion is sprung, and joints every piece."),
)  # fmt: skip


@record
class Way:
    """One way to move, with the cheapest parts found that hold, or those that come nearest."""

    key: str
    name: str
    right_when: str
    parts: str
    verdict: Verdict | None
    in_words: str
    headroom: float | None
    spend: float | None
    typical: int
    unpriced: int
    speed_mm_s: float | None
    force_n: float | None
    resolution_mm: float | None
    backlash_mm: float | None
    stiffness_n_mm: float | None
    whirl: float | None
    stays: bool | None
    changes: dict[str, Any]


@record
class WaysAnswer:
    """Every way for one aim; the present design first."""

    ways: tuple[Way, ...]
    tried: int


def ways(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Iterator[float | WaysAnswer]:
    """All ways step by step: shares of what is done (0 to 1), and the answer last.

    EntryError where the axis is not a straight one driven by a stepper: then there is no other way to compare
    with.
    """
    _comparable(design)
    out = [
        _way("now", "As it stands", "", "", evaluate(design, profiles), {})
    ]  # refused before anything is said to be under way
    yield 0.0
    tried = 1
    drawer = with_typical(drawer, profiles, design)
    motors = _motors(design, drawer)
    for n, (key, name, kind, right_when) in enumerate(WAYS):
        best: tuple[tuple[Any, ...], str, Report, dict[str, Any]] | None = None
        for chain, end, parts in _variants(design, key, kind, profiles, drawer):
            for motor, supply, made, report in _with_motors(design, profiles, motors, chain, end):
                tried += 1
                yield (n + 0.5) / len(WAYS)
                holds = report.verdict == "holds"
                place = (
                    -RANK[report.verdict],
                    report.bill_unpriced if holds else 0,
                    (report.value("bill.spend") or 0.0) if holds else -(report.least or 0.0),
                )
                if best is None or place < best[0]:
                    data = made.model_dump(mode="json")
                    best = (
                        place,
                        f"{motor['label']}, {supply['supply_v']:g} V; {parts}",
                        report,
                        {"chain": data["chain"], "end": data["end"]},
                    )
        if best is None:
            out.append(
                Way(
                    key,
                    name,
                    right_when,
                    "",
                    None,
                    "nothing that could be built",
                    None,
                    None,
                    0,
                    0,
                    None,
                    None,
                    None,
                    None,
                    None,
                    None,
                    None,
                    {},
                )
            )
        else:
            out.append(_way(key, name, right_when, best[1], best[2], best[3]))
        yield (n + 1) / len(WAYS)
    yield WaysAnswer(tuple(out), tried)


Motor = tuple[dict[str, Any], dict[str, Any]]  # a stepper's fields, and those of its supply


def _with_motors(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    motors: Sequence[Motor],
    chain: Sequence[Mapping[str, Any]],
    end: Mapping[str, Any],
) -> Iterator[tuple[dict[str, Any], dict[str, Any], AxisDesign, Report]]:
    """One chain and end with motors: a few from cheap to dear first, and if one of them holds all from the
    cheapest up to the first that holds.

    What none of those few moves is taken to be beyond the others too.
    """
    hopeful = False
    few = [motors[int(part * (len(motors) - 1))] for part in PROBES]
    for k, (motor, supply) in enumerate((*few, *motors)):
        if k == len(few) and not hopeful:
            return
        found = _tried(design, profiles, motor, supply, chain, end)
        if found is not None:
            yield motor, supply, *found
            holds = found[1].verdict == "holds"
            if holds and k >= len(few):
                return
            hopeful = hopeful or holds


def _tried(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    motor: Mapping[str, Any],
    supply: Mapping[str, Any],
    chain: Sequence[Mapping[str, Any]],
    end: Mapping[str, Any],
) -> tuple[AxisDesign, Report] | None:
    """One combination worked out, with as few microsteps as its controller can follow; None where it cannot
    be built.
    """
    try:
        made = _built(design, motor, supply, chain, end)
        report = evaluate(made, profiles)
        rate = next((r.headroom for r in report.ladder if r.key == "step_rate"), None)
        now: Any = made.chain[0]
        if rate is not None and rate < 1 and now.driver.microsteps > 1:
            fewer = 2 ** max(math.floor(math.log2(max(now.driver.microsteps * rate, 1))), 0)
            made = changed(made, {"chain.0.driver.microsteps": fewer})
            report = evaluate(made, profiles)
    except EntryError:
        return None
    return made, report


def all_ways(design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock]) -> WaysAnswer:
    """All ways at once; see `ways`."""
    return answer_of(ways(design, profiles, drawer))


def _comparable(design: AxisDesign) -> None:
    if not (isinstance(design.end, End) and design.end.straight):
        raise EntryError(
            [
                problem(
                    "end.kind",
                    "has no other way to be compared with",
                    value=design.end.kind,
                    limit=", ".join(kind for kind, end in ENDS.items() if end.straight),
                    remedy="Other ways are compared for straight axes; set the aim on one of these.",
                )
            ]
        )
    if not isinstance(design.chain[0], Stepper):
        raise EntryError(
            [
                problem(
                    "chain.0.kind",
                    "is compared with other ways only where it knows its place",
                    value=design.chain[0].kind,
                    limit="stepper",
                    remedy="Take a stepper to compare.",
                )
            ]
        )


def _motors(design: AxisDesign, drawer: Sequence[Stock]) -> list[tuple[dict[str, Any], dict[str, Any]]]:
    """Motors of every strength with two supplies, the cheapest first: for each doubling of hold torque the
    cheapest motor.
    """
    best: dict[int, tuple[tuple[float, float], dict[str, Any], Stock]] = {}
    for row in of_kind(drawer, "stepper"):
        data = motor_of(row)
        if data is not None:
            spend = paid(row)[0]
            octave = round(math.log2(data["hold_torque_nm"]))
            place = (spend, -data["hold_torque_nm"])
            if octave not in best or place < best[octave][0]:
                best[octave] = (place, data, row)
    fed = [
        ((paid(row)[0], data["supply_v"]), data)
        for row in of_kind(drawer, "supply")
        if (data := supply_of(row)) is not None
    ]
    supplies = sorted(fed, key=lambda s: s[0])
    wanted = {0, len(supplies) // 2, len(supplies) - 1}
    chosen = [s for i, s in enumerate(supplies) if i in wanted]
    pairs = [
        (m[0][0] + s[0][0], m[1]["hold_torque_nm"], m[1], s[1])
        for m in list(best.values())[-MOTORS:]
        for s in chosen
    ]
    pairs.sort(key=lambda p: p[:2])
    if not pairs:
        now: Any = design.chain[0].model_dump(mode="json")
        return [(now, now["driver"])]
    return [(m, s) for _, _, m, s in pairs]


def _variants(
    design: AxisDesign, key: str, kind: str, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Iterator[tuple[list[dict[str, Any]], dict[str, Any], str]]:
    """Chains after the motor with ends, and what they are called."""
    if kind == "belt":
        yield from _belts(design, key, profiles, drawer)
    elif kind == "rack":
        boxes = [
            (paid(row)[0], row.name, box)
            for row in of_kind(drawer, "gearbox")
            if (box := gearbox_of(row)) is not None
        ]
        boxes.sort(key=lambda b: b[:2])
        pieces = math.ceil(design.guide.rail_mm / RACK_PIECE_MM)
        for row in of_kind(drawer, "rack"):
            data = rack_of(row)
            if data is not None and data["teeth"] == 20:
                end = {"kind": "rack", "pieces": pieces, **data}
                yield [], end, row.name
                for _, name, box in boxes[:1]:
                    yield [box], end, f"{name}; {row.name}"
    else:
        couplers = [
            data
            for row in of_kind(drawer, "coupler")
            if (data := coupler_of(row)) is not None and data["form"] == "jaw"
        ]
        for row in of_kind(drawer, "lead screw"):
            data = screw_of(row)
            if data is not None and data["form"] == kind and data["diameter_mm"] >= 8:
                coupler = next(
                    (c for c in couplers if c["shaft_mm"] >= 0.6 * data["diameter_mm"]),
                    couplers[-1] if couplers else {"kind": "coupler"},
                )
                yield [coupler], {"kind": "screw", "length_mm": design.guide.rail_mm, **data}, row.name


def _belts(
    design: AxisDesign, key: str, profiles: Mapping[str, Profile], drawer: Sequence[Stock]
) -> Iterator[tuple[list[dict[str, Any]], dict[str, Any], str]]:
    """Of every profile and width with glass cord the pulley nearest to 40 mm of travel a turn."""
    now: Any = design.end
    kept = ("belt", "pulley", "clamp", "tensioner") if isinstance(now, BeltEnd) else ()
    base: dict[str, Any] = {n: getattr(now, n).model_dump(mode="json") for n in kept}
    if now.kind == key:
        base = now.model_dump(mode="json")
    template = design.model_copy(update={"end": CarriageLoop()})
    choices, columns, _ = belts_on(
        template, profiles, drawer, (5.0,)
    )  # which bore it is follows from the shaft, see _built
    pulleys = stock_pulleys(drawer)
    nearest: dict[tuple[str, float], tuple[float, int]] = {}
    for i, choice in enumerate(choices):
        if choice.changes["end.belt.cord"] != "glass" or not math.isfinite(columns["working"][i]):
            continue
        at = (choice.changes["end.belt.profile"], float(columns["width"][i]))
        off = abs(float(columns["pitch"][i] * columns["teeth"][i]) - 40.0)
        if at not in nearest or off < nearest[at][0]:
            nearest[at] = (off, i)
    for _, i in sorted(nearest.values(), key=lambda x: float(columns["width"][x[1]])):
        end: dict[str, Any] = {
            "kind": key,
            **{k: dict(v) if isinstance(v, dict) else v for k, v in base.items() if k != "kind"},
        }
        smooth = key == "riding_motor"
        end.setdefault(
            "idler", {"kind": "smooth", "diameter_mm": 18.0} if smooth else {"kind": "toothed", "teeth": 20}
        )
        for path, value in choices[i].changes.items():
            part, _, name = path.removeprefix("end.").rpartition(".")
            if not (part == "idler" and name == "teeth" and smooth):
                end[part] = {**end.get(part, {}), name: value}
        stock = pulleys[choices[i].changes["end.belt.profile"]][int(columns["teeth"][i])]
        yield [], end | {"pulleys": (stock, float(columns["face"][i]))}, choices[i].name


def _built(
    design: AxisDesign,
    motor: Mapping[str, Any],
    supply: Mapping[str, Any],
    chain: Sequence[Mapping[str, Any]],
    end: Mapping[str, Any],
) -> AxisDesign:
    """The design with another chain and end; the pulley is the one for the shaft that it sits on."""
    data = design.model_dump(mode="json")
    driver = {
        **data["chain"][0].get("driver", {}),
        **supply,
        "current_a": motor["rated_current_a"],
        "current_is": "rms",
    }
    shaft = chain[-1].get("shaft_mm", motor["shaft_mm"]) if chain else motor["shaft_mm"]
    last = {n: v for n, v in end.items() if n != "pulleys"}
    if "pulleys" in end:
        stock, face = end["pulleys"]
        last["pulley"] = {**end.get("pulley", {}), **pulley_on(stock, face, shaft).fields}
    return design_from(
        {
            **data,
            "chain": [{"kind": "stepper", **motor, "driver": driver}, *chain],
            "end": last,
            "measured": [],
            "made": [],
            "done": [],
        }
    )


def _way(key: str, name: str, right_when: str, parts: str, report: Report, changes: dict[str, Any]) -> Way:
    """The figures that ways are compared by, from a whole report."""
    torque, lam, efficiency = (report.value(k) for k in ("motor.pull_out_push", "motor.lam", "efficiency"))
    force = None if torque is None or lam is None or efficiency is None else torque * lam * 1000 * efficiency
    rungs = {r.key: r for r in report.ladder}
    free, whirl = rungs.get("unpowered"), rungs.get("whirl")
    return Way(
        key,
        name,
        right_when,
        parts,
        report.verdict,
        report.in_words,
        (report.least or 0.0),
        report.value("bill.spend"),
        report.bill_typical,
        report.bill_unpriced,
        report.value("motor.reach"),
        force,
        report.value("command_step"),
        report.value("backlash"),
        report.value("stiffness.min"),
        None if whirl is None else whirl.ratio,
        True
        if free is None
        else None
        if free.verdict == "unknown"
        else free.verdict in ("holds", "no demand", "tight"),
        changes,
    )
