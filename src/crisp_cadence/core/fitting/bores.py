"""Bores and fits: each pulley on its shaft, what to do about the bore, and what each way of fixing holds."""

from __future__ import annotations

import math
from typing import Any

from ..account.verdicts import UNTRUSTED
from ..checks.holding import fixing_grip
from ..checks.hubs import untrusted
from ..fields.belts import Pulley
from ..formulas.fixings import fit_gap, hub_wall
from ..ledger.amounts import number, said
from ..ledger.record import record

SLIDES_MM = 0.05  # play with which a small pulley still runs true (common practice)
LEAST_SLEEVE_MM = 0.5  # thinnest wall of a sleeve that can be turned or drawn (common practice)
LEAST_WALL_MM = 2.0  # wall in which a set screw's thread holds (common practice)
KINDS = ("set screw on flat", "set screw on round", "clamp", "key", "press fit")


@record
class Hold:
    """One way of fixing: what it holds, against what is asked."""

    kind: str
    grip_nm: float | None
    ratio: float | None
    says: str
    chosen: bool


@record
class Fit:
    """One pulley on its shaft."""

    part: str
    name: str
    shaft_mm: float
    bore_mm: float
    gap_mm: float
    wall_mm: float
    verdict: str
    says: str
    field: str
    value: float | None
    changes: dict[str, Any]
    torque_nm: float | None
    ripple_mm: float | None
    holds: tuple[Hold, ...]


def mended(at: str, pulley: Pulley, field: str, value: float | None) -> dict[str, Any]:
    """What mends a bore, by path; a pulley that was taken from the drawer says by its name that it is no
    longer as it was bought.

    >>> mended("end.pulley", Pulley(label="Pulley, bore 5 mm", drawer_key="x"), "bore_mm", 6.35)
    {'end.pulley.bore_mm': 6.35, 'end.pulley.label': 'Pulley, bore 5 mm, reamed to 6.35 mm'}
    """
    if not field:
        return {}
    out: dict[str, Any] = {f"{at}.{field}": True if field == "sleeve" else value}
    if pulley.drawer_key is not None and field == "bore_mm":
        out[f"{at}.label"] = f"{pulley.label.partition(', reamed to')[0]}, reamed to {value:g} mm"[:200]
    return out


def advise(pulley: Pulley, shaft_mm: float, root_mm: float) -> tuple[str, str, str, float | None]:
    """Verdict, words, and the field and value that mend it.

    Equation: bore − shaft against 0 and 0.05 mm; wall left (D − d)/2 against 2 mm
    Units: mm, mm → words
    Range: round bores
    Source: common practice — small pulleys are reamed to slide on, sleeved or pressed

    >>> verdict, says, *_ = advise(Pulley(bore_mm=5.0, hub_mm=16.0), 6.35, 11.0)
    >>> verdict, says.partition(". ")[0]
    ('ream', 'Ream it to 6.35 mm: 4.8 mm of hub and 2.3 mm under the teeth are left')
    """
    gap = float(fit_gap(pulley.bore_mm, shaft_mm))
    if pulley.fixing.kind == "press fit" and -0.06 <= gap < 0:
        return (
            "presses",
            "Press it on square, warm the hub, oil the shaft; never hammer on a motor's shaft.",
            "",
            None,
        )
    if -0.005 <= gap <= SLIDES_MM:
        return "slides on", "Slides on without wobble; nothing to bore.", "", None
    return _too_small(pulley, shaft_mm, root_mm) if gap < 0 else _too_large(pulley, shaft_mm, gap)


def _too_small(pulley: Pulley, shaft_mm: float, root_mm: float) -> tuple[str, str, str, float | None]:
    wall, under = float(hub_wall(pulley.hub_mm, shaft_mm)), (root_mm - shaft_mm) / 2
    if wall < 1.0 or under < 0.8:
        return (
            "cannot be",
            f"A bore of {said(shaft_mm, 'mm')} would leave {said(max(wall, 0), 'mm', '.1f')} of hub and "
            f"{said(max(under, 0), 'mm', '.1f')} under the teeth: take a pulley with more teeth or a "
            f"larger hub, or turn the shaft down.",
            "",
            None,
        )
    thin = (
        ""
        if wall >= LEAST_WALL_MM or not pulley.fixing.kind.startswith("set screw")
        else " The wall is thin for a set screw's thread: clamp it or press it instead."
    )
    return (
        "ream",
        f"Ream it to {said(shaft_mm, 'mm')}: {said(wall, 'mm', '.1f')} of hub and "
        f"{said(under, 'mm', '.1f')} under the teeth are "
        f"left. Hold it by its teeth in soft jaws, so that it stays true.{thin}",
        "bore_mm",
        shaft_mm,
    )


def _too_large(pulley: Pulley, shaft_mm: float, gap: float) -> tuple[str, str, str, float | None]:
    if pulley.sleeve:
        return (
            "sleeved",
            f"A sleeve of {number(shaft_mm, 'mm')} × {said(pulley.bore_mm, 'mm')} fills it; slit it "
            "or drill it where "
            f"the set screw passes.",
            "",
            None,
        )
    wall = gap / 2
    if wall < LEAST_SLEEVE_MM:
        return (
            "shim",
            f"{said(gap, 'mm', '.2f')} too large, too little for a sleeve ({said(wall, 'mm', '.2f')} "
            "of wall): wrap shim, or "
            f"take a pulley of {said(shaft_mm, 'mm')} bore.",
            "",
            None,
        )
    return (
        "sleeve",
        f"{said(gap, 'mm', '.2f')} too large: turn or buy a sleeve "
        f"{number(shaft_mm, 'mm')} × {said(pulley.bore_mm, 'mm')}, "
        f"{said(wall, 'mm', '.2f')} of wall.",
        "sleeve",
        1.0,
    )


# How each fares by play where the load reverses, the other order of trust (common practice).
REVERSED = {
    "clamp": "no play where the load reverses",
    "press fit": "no play where the load reverses",
    "set screw on flat": "works loose where the load reverses: threadlock it",
    "key": "has play where the load reverses, unless a screw sits over it",
    "set screw on round": "walks where the load reverses: not to be trusted",
}


def holds(
    pulley: Pulley, shaft_mm: float, shaft_form: str, torque_nm: float | None, margin: float
) -> tuple[Hold, ...]:
    """What each fixing holds on this shaft, beside what is asked; the one chosen is marked.

    Equation: as each fixing's own formula
    Units: mm, N·m → N·m
    Range: fixings whose screw has a rated size
    Source: common practice — as each fixing's own

    >>> [h.kind for h in holds(Pulley(), 5.0, "round", 0.1, 2.0) if h.chosen]
    ['set screw on flat']
    """
    out = []
    for kind in KINDS:
        fixing = pulley.fixing
        held = float(fixing_grip(pulley, shaft_mm, shaft_form, kind))
        grip = held if math.isfinite(held) else None
        says = ""
        if kind == "set screw on flat" and shaft_form == "round":
            says = "file or grind the flat first"
        elif kind == "key" and shaft_form != "key":
            says = "this shaft has no keyway"
        elif kind == "press fit" and pulley.made_of.startswith("printed"):
            says = "a printed hub creeps: not for a press fit"
        elif kind.startswith("set screw") and pulley.made_of == "printed":
            says = "the thread strips in plastic: put a metal insert in"
        headroom = None if grip is None or not torque_nm else grip / torque_nm / margin
        if headroom is not None and untrusted(kind, shaft_form):
            headroom = min(headroom, UNTRUSTED)
        out.append(Hold(kind, grip, headroom, says or REVERSED[kind], kind == fixing.kind))
    if pulley.fixing.kind == "measured":
        own = pulley.fixing.grip_nm
        out.append(
            Hold(
                "measured",
                own,
                None if own is None or not torque_nm else own / torque_nm / margin,
                "your own trial",
                True,
            )
        )
    return tuple(out)
