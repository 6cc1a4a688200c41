"""What of a part comes again along the travel: a turn, a tooth, a step, a belt's way round."""

from __future__ import annotations

import math

from ..account.found import Repeat
from ..geometry.route import Laid

BY_MARK = "Mark it, and look whether the ripple comes once with the mark; a dial gauge shows its run-out."
BY_TENSION = (
    "Set another tension within the band: a ripple of the teeth grows or shrinks, and keeps its spacing."
)
BY_STEPS = (
    "Move by as many full steps at a time: each stop then looks alike; less current or finer steps change it."
)
BY_JOINT = "Mark the belt: it comes once each time that the mark comes round."


def turn(name: str, path: str, lam: float) -> list[Repeat]:
    """A turn of what turns so many radians for a millimetre of travel."""
    return [Repeat(name, path, 2 * math.pi / lam, BY_MARK)] if lam > 0 else []


def tooth(name: str, path: str, lam: float, teeth: float) -> list[Repeat]:
    """A tooth of a wheel that turns so many radians for a millimetre of travel."""
    return [Repeat(name, path, 2 * math.pi / lam / teeth, BY_TENSION)] if lam > 0 else []


def steps(path: str, lam: float, per_turn: int) -> list[Repeat]:
    """Full steps of a motor: one, and the two and four after which its currents are the same again."""
    if lam <= 0:
        return []
    step = 2 * math.pi / lam / per_turn
    names = {
        1: "a full step of the motor",
        2: "two full steps",
        4: "four full steps, a whole wave of its currents",
    }
    return [Repeat(name, path, n * step, BY_STEPS) for n, name in names.items()]


def belt(laid: Laid, driver: str, path: str, lam: float) -> list[Repeat]:
    """A belt's tooth, and a turn of each wheel on its way; a closed one comes round as a whole too. Its
    driver turns so many radians for a millimetre of travel.
    """
    rounds = {x.part: x for x in laid.near.rounds if x.part and x.radius_mm > 0}  # a clamp does not turn
    runs = lam * float(rounds[driver].radius_mm) if driver in rounds else 0.0  # mm of belt for 1 mm of travel
    if runs <= 0:
        return []
    what = "closed belt" if laid.closed else "belt"
    out = [Repeat(f"a tooth of the {what}", path, laid.profile.pitch_mm / runs, BY_TENSION)]
    for part, x in rounds.items():
        name = f"the {x.name}{' pulley of the closed belt' if laid.closed else ''}"
        out.append(Repeat(f"a turn of {name}", part, 2 * math.pi * float(x.radius_mm) / runs, BY_MARK))
    if laid.closed:
        out.append(Repeat(f"the {what} once round", path, float(laid.near.length_mm) / runs, BY_JOINT))
    return out
