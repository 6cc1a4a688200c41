"""The plate that would do in place of a mount that is only assumed to be rigid."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..account.report import Report, Verdict
from ..account.verdicts import RANK
from ..design.design import AxisDesign, changed
from ..evaluation.evaluate import evaluate
from ..fields.profile import Profile
from ..ledger.amounts import said
from ..ledger.record import record

PLATES_MM = (3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0)
MATERIAL = "aluminium"


@record
class Plates:
    """Plates in place of mounts that nobody has chosen: what they set, by mount how thick each is in mm, and
    the axis with them. `says` what they are, or that none does.
    """

    changes: dict[str, Any]
    thick_mm: dict[str, float]
    verdict: Verdict
    in_words: str
    says: str


def plates(design: AxisDesign, profiles: Mapping[str, Profile]) -> Plates:
    """The thinnest plates of aluminium, one mount after the other, with which no rung is judged worse than
    with rigid mounts.
    """
    was = evaluate(design, profiles)
    now, changes, thick = fitted(was, design, profiles)
    return Plates(changes, thick, now.verdict, now.in_words, _says(was, thick))


def fitted(
    was: Report, design: AxisDesign, profiles: Mapping[str, Profile]
) -> tuple[Report, dict[str, Any], dict[str, float]]:
    """Those plates for a design that is worked out: its report with them, what they set, and by mount how
    thick each is in mm.
    """
    now = was
    changes: dict[str, Any] = {}
    thick: dict[str, float] = {}
    for path in was.rigid:
        for size in PLATES_MM:
            more = {f"{path}.kind": "plate", f"{path}.material": MATERIAL, f"{path}.thickness_mm": size}
            tried = evaluate(changed(design, changes | more), profiles)
            if _no_worse(was, tried):
                now, changes, thick = tried, changes | more, thick | {path: size}
                break
    return now, changes, thick


def _no_worse(was: Report, tried: Report) -> bool:
    before = {r.key: RANK[r.verdict] for r in was.ladder}
    least = RANK["holds"]
    return all(
        RANK[r.verdict] >= min(before.get(r.key, least), least) for r in tried.ladder if not r.advisory
    )


def _says(was: Report, thick: Mapping[str, float]) -> str:
    made = [f"{_words(path)} {said(size, 'mm')}" for path, size in thick.items()]
    lacking = [_words(path) for path in was.rigid if path not in thick]
    says = f"Plates of {MATERIAL} do: {', '.join(made)}." if made else ""
    if lacking:
        says += f" No plate up to {said(PLATES_MM[-1], 'mm')} does for {', '.join(lacking)}: see its load."
    return says.strip() or "No mount is assumed to be rigid."


def _words(path: str) -> str:
    """A mount by its name.

    >>> _words("end.motor_mount"), _words("chain.1.driven_mount")
    ('motor mount', 'driven mount of stage 1')
    """
    where, _, name = path.rpartition(".")
    stage = f" of stage {where.removeprefix('chain.')}" if where.startswith("chain.") else ""
    return name.replace("_", " ") + stage
