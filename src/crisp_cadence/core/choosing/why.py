"""Why not: one combination, whether it was listed or not, on the whole ladder of one evaluation."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ..account.report import Rung, Verdict
from ..design.design import AxisDesign
from ..evaluation.evaluate import evaluate
from ..fields.profile import Profile
from ..fitting.drawer import Stock
from ..ledger.errors import EntryError, Problem, problem
from ..ledger.record import record
from .space import Reduction, Scope, Space, candidate, space_of, taken

EVERY: tuple[Reduction, ...] = ("direct", "gearbox", "closed belt")


@record
class Options:
    """What can be asked about, by name in the order of its places."""

    motors: tuple[str, ...]
    stages: tuple[str, ...]
    belts: tuple[str, ...]
    steps: tuple[int, ...]


@record
class Why:
    """One combination: what cannot be built, or its whole ladder, the tightest rung first; and what taking it
    would set.
    """

    name: str
    verdict: Verdict | None
    problems: tuple[Problem, ...]
    ladder: tuple[Rung, ...]
    changes: dict[str, Any]


def options(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], scope: Scope = "anything"
) -> Options:
    """Every motor with its supply and current, every stage, every belt with its pulley, and the
    microsteps.
    """
    space = _space(design, profiles, drawer, scope)
    motors, stages, belts = (
        tuple(c.name for c in kind) for kind in (space.motors, space.stages, space.belts)
    )
    return Options(motors, stages, belts, space.steps)


def why_not(
    design: AxisDesign,
    profiles: Mapping[str, Profile],
    drawer: Sequence[Stock],
    motor: str,
    stages: Sequence[str],
    belt: str,
    microsteps: int,
    scope: Scope = "anything",
) -> Why:
    """One combination by the names of its parts, worked out whole; EntryError where a name is not one of the
    options.
    """
    space = _space(design, profiles, drawer, scope)
    places = {"motor": _place(space.motors, "motor", motor), "belt": _place(space.belts, "belt", belt)}
    slots = [_place(space.stages, f"stages.{i}", name) for i, name in enumerate(stages) if name != "direct"]
    if microsteps not in space.steps:
        raise EntryError(
            [
                problem(
                    "microsteps",
                    "is not one that is tried",
                    value=microsteps,
                    limit=", ".join(map(str, space.steps)),
                    remedy="Take one of these.",
                )
            ]
        )
    changes = candidate(design, space, places["motor"], slots, places["belt"], space.steps.index(microsteps))
    name = "; ".join([motor, " and ".join(stages) or "direct", belt, f"1/{microsteps}"])
    try:
        report = evaluate(taken(design, changes), profiles)
    except EntryError as refused:
        return Why(name, None, tuple(refused.problems), (), changes)
    return Why(name, report.verdict, (), report.ladder, changes)


def _space(
    design: AxisDesign, profiles: Mapping[str, Profile], drawer: Sequence[Stock], scope: Scope
) -> Space:
    return space_of(
        design,
        profiles,
        drawer,
        "anything" if scope == "drawer first" else scope,
        EVERY,
        pruned=False,
        loops_pruned=True,
    )


def _place(choices: Sequence[Any], field: str, name: str) -> int:
    found = next((i for i, c in enumerate(choices) if c.name == name), None)
    if found is None:
        raise EntryError(
            [
                problem(
                    field,
                    "is not one of the parts that can be tried",
                    value=name,
                    limit=f"{len(choices)} parts",
                    remedy="Choose one from the list.",
                )
            ]
        )
    return found
