"""Every buildable drive of a drawer: options of each kind, put together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, Literal

import numpy as np

from ..design.design import AxisDesign, changed
from ..evaluation.pieces import parts_of
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from ..fitting.parts import Fitted
from ..fitting.typical import with_typical
from ..fitting.usable import LeftOut, left_out
from ..ledger.errors import EntryError, problem
from ..ledger.record import record
from ..parts.ends.belt_end import BeltEnd
from ..parts.stages.closed_belt import ClosedBelt
from ..parts.stages.couplings import Worm
from ..parts.stages.gearbox import Gearbox
from ..parts.stages.stepper import Stepper
from .belts import AS_IT_STANDS, belts_on
from .choice import Choice, FloatArray, Index, beyond_least, columns
from .drives import NO_STAGE, boxes_of, motors_of
from .front import best_front
from .loops import closed_belts

Scope = Literal["drawer only", "drawer first", "anything"]
Reduction = Literal["direct", "gearbox", "closed belt", "two closed belts"]
PLAIN: tuple[Reduction, ...] = ("direct", "gearbox")
MICROSTEPS = (4, 8, 16, 32, 64)


@record
class Space:
    """Options of each kind, and their data as columns: motors (M), stages (N, the first of them none at all),
    belts (B).

    A reduction (G) is one stage next to the motor and one next to the end, by their places in the stages;
    `left_out` counts combinations that are not in here because another is at least as good in everything that
    counts.

    `kept` are couplers, clutches and whatever else of the design's chain reduces nothing; they stay behind
    the reduction.

    Which pulley is taken follows from the shaft that it sits on: by the sizes of shafts (K) there are, for
    each belt, the end's pulleys and what each costs beyond the cheapest of them; for each
    stage, what its driver costs so.
    """

    motors: tuple[Choice, ...]
    stages: tuple[Choice, ...]
    belts: tuple[Choice, ...]
    steps: tuple[int, ...]
    motor: Mapping[str, FloatArray]
    stage: Mapping[str, FloatArray]
    belt: Mapping[str, FloatArray]
    first: Index
    second: Index
    left_out: int
    sizes: FloatArray
    pulleys: tuple[tuple[Fitted, ...], ...]
    kept: tuple[Any, ...]
    more: FloatArray
    driver_more: FloatArray
    unused: tuple[LeftOut, ...]

    @property
    def size(self) -> int:
        """How many combinations there are."""
        return len(self.motors) * len(self.first) * len(self.belts) * len(self.steps)

    def gear(self, at: int) -> tuple[int, ...]:
        """Places of the stages of one reduction, none of them where the motor drives directly."""
        return tuple(int(i) for i in (self.first[at], self.second[at]) if i)


def _within(drawer: Sequence[Stock], scope: Scope) -> list[Stock]:
    """The rows that a scope lets in."""
    return [row for row in drawer if row.quantity > 0] if scope == "drawer only" else list(drawer)


def space_of(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    drawer: Sequence[Stock],
    scope: Scope = "anything",
    reductions: Sequence[Reduction] = PLAIN,
    pruned: bool = True,
    loops_pruned: bool | None = None,
) -> Space:
    """The space around a design: its aim, guide, mounts and idler stay, motor, reduction and belt are chosen
    anew.

    With `pruned`, supplies, currents and closed belts are left out that another of the same motor or the same
    ratio equals or betters in everything that any rung and any ranking looks at; `loops_pruned` says so for
    closed belts alone. EntryError where the layout is not one that is searched, or the drawer holds too
    little.
    """
    _searchable(design)
    rows = with_typical(_within(drawer, scope), profiles, design)
    motors = motors_of(rows)
    closed = next((s for s in design.chain if isinstance(s, ClosedBelt)), ClosedBelt())
    boxes = boxes_of(rows) if "gearbox" in reductions else ([], [])
    kept: tuple[Any, ...] = tuple(
        s for s in design.chain[1:] if not isinstance(s, (Gearbox, ClosedBelt, Worm))
    )
    sizes = sorted(
        {
            closed.shaft_mm,
            *(s.shaft_mm for s in kept[-1:]),
            *(r["shaft_mm"] for r in boxes[1]),
            *(motors[1]["shaft_mm"].tolist() if motors[0] else ()),
        }
    )
    belts = belts_on(design, profiles, rows, sizes) if isinstance(design.end, BeltEnd) else AS_IT_STANDS
    wanted = any(r in reductions for r in ("closed belt", "two closed belts"))
    if design.end.rides and closed.mass_kg is None:
        wanted = False  # it would ride along with a mass that nobody knows
    loops, (all_loops, all_fit) = (
        closed_belts(design, closed, profiles, rows, sizes, pruned if loops_pruned is None else loops_pruned)
        if wanted
        else (([], []), (0, 0))
    )
    empty = [
        name
        for name, found in (
            ("stepper motor", motors[0]),
            ("supply", motors[0]),
            ("pulley with a belt of its profile", belts[0]),
        )
        if not found
    ]
    if empty:
        raise EntryError(
            [
                problem(
                    "drawer",
                    f"holds no {empty[0]} that could be tried",
                    value=scope,
                    remedy="Search the starter catalogue too, or add what you have to the drawer.",
                )
            ]
        )
    stages = [Choice("direct", {}, 0.0, True, 0), *boxes[0], *loops[0]]
    table = columns([NO_STAGE, *boxes[1], *loops[1]])
    more = np.array([beyond_least(c.changes.get("driver", ()), sizes) for c in stages])
    none = np.zeros(1, dtype=np.intp)
    one = 1 + np.arange(len(boxes[0]), dtype=np.intp)
    belted = 1 + len(boxes[0]) + np.arange(len(loops[0]), dtype=np.intp)
    first, second = [], []
    if "direct" in reductions:
        first, second = [none], [none]
    singles = np.concatenate([one, belted if "closed belt" in reductions else none[:0]])
    first, second = [*first, singles], [*second, np.zeros_like(singles)]
    if "two closed belts" in reductions:
        # The belt next to the end sits on the shaft after the first one: only where that shaft fits its
        # driver.
        fits = belted[table["room"][belted] > closed.shaft_mm]
        a, b = np.meshgrid(belted, fits, indexing="ij")
        first, second = [*first, a.ravel()], [*second, b.ravel()]
    places = (np.concatenate(first), np.concatenate(second))
    if not places[0].size:
        raise EntryError(
            [
                problem(
                    "reductions",
                    "leave nothing to try",
                    value=", ".join(reductions),
                    remedy="Tick one more kind of reduction, or widen the scope.",
                )
            ]
        )
    space = Space(
        tuple(motors[0]),
        tuple(stages),
        tuple(belts[0]),
        MICROSTEPS,
        motors[1],
        table,
        belts[1],
        *places,
        0,
        np.array(sizes),
        tuple(belts[2]),
        kept,
        np.array([beyond_least(row, sizes) for row in belts[2]] or [[0.0] * len(sizes)]),
        more,
        left_out(_within(drawer, scope)),
    )
    if not pruned:
        return space
    keep = _best_supplies(space)
    many = (
        len(one)
        + ("direct" in reductions)
        + ("closed belt" in reductions) * all_loops
        + ("two closed belts" in reductions) * all_loops * all_fit
    )
    whole = len(motors[0]) * many * len(belts[0]) * len(MICROSTEPS)
    slim = replace(
        space, motors=tuple(space.motors[i] for i in keep), motor={k: v[keep] for k, v in space.motor.items()}
    )
    return replace(slim, left_out=max(whole - slim.size, 0))


def _best_supplies(space: Space) -> list[int]:
    """Places of the motors' settings that no other setting of the same motor equals in volts, current and
    money, and betters in one.
    """
    groups: dict[Any, list[int]] = {}
    for i, choice in enumerate(space.motors):
        groups.setdefault(choice.changes["chain.0.drawer_key"], []).append(i)
    out: list[int] = []
    for places in groups.values():
        ranked = np.array(
            [
                [-space.motor["supply_v"][i], -space.motor["current_a"][i], space.motors[i].spend]
                for i in places
            ]
        )
        out += [places[k] for k in best_front(ranked)]
    return out


def _searchable(design: AxisDesign) -> None:
    """Any chain that begins with a stepper is searched, whatever it ends in."""
    parts_of(design)  # refuses what this version does not know
    if not isinstance(design.chain[0], Stepper):
        raise EntryError(
            [
                problem(
                    "chain.0.kind",
                    "is not searched: only steppers are put together with supplies and reductions",
                    value=design.chain[0].kind,
                    limit="stepper",
                    remedy="Begin with any stepper, and the search replaces it; or see what one change does.",
                )
            ]
        )


def pulleys_of(space: Space, motor: int, stages: Sequence[int], belt: int) -> list[Fitted]:
    """The drivers of a combination's closed belts, and the end's pulley where it is chosen, each for the
    shaft that it sits on.
    """
    shaft = float(space.motor["shaft_mm"][motor])
    drivers = []
    for at in stages:
        on_each = space.stages[at].changes.get("driver")
        if on_each is not None:
            drivers.append(on_each[int(np.searchsorted(space.sizes, shaft))])
        shaft = float(space.stage["shaft_mm"][at])
    shaft = next((s.shaft_mm for s in space.kept[-1:]), shaft)
    on_each = space.pulleys[belt] if space.pulleys else ()
    return [*drivers, *on_each[int(np.searchsorted(space.sizes, shaft)) :][:1]]


def candidate(
    design: AxisDesign, space: Space, motor: int, stages: Sequence[int], belt: int, step: int
) -> dict[str, Any]:
    """What one combination sets in the design, and under `stages` the chain after the motor."""
    fitted = pulleys_of(space, motor, stages, belt)
    drivers = fitted[: sum(space.stages[at].changes.get("driver") is not None for at in stages)]
    changes = {
        **space.motors[motor].changes,
        **space.belts[belt].changes,
        "chain.0.driver.microsteps": space.steps[step],
        **{f"end.pulley.{n}": v for p in fitted[len(drivers) :] for n, v in p.fields.items()},
    }
    chain: list[dict[str, Any]] = []
    for at in stages:
        stage = dict(space.stages[at].changes["stage"])
        if stage["kind"] == "closed_belt":
            stage["driver"] = stage["driver"] | drivers.pop(0).fields
        chain.append(stage)
    chain += [s.model_dump(mode="json") for s in space.kept]
    # What was measured on a part that is replaced says nothing of the new one.
    kept = [m for m in design.measured if m.field not in changes and not m.field.startswith("chain.")]
    if len(kept) < len(design.measured):
        changes["measured"] = [m.model_dump(mode="json") for m in kept]
    return {**changes, "stages": chain}


def taken(design: AxisDesign, changes: Mapping[str, Any]) -> AxisDesign:
    """The design with a combination of the search in it: the stages first, then everything by its path."""
    chain = [design.chain[0].model_dump(mode="json"), *changes["stages"]]
    return changed(
        design, {"chain": chain, **{path: value for path, value in changes.items() if path != "stages"}}
    )
