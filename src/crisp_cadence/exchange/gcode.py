"""Test moves as a program of ISO 6983 words: millimetres or degrees, places from zero, feed a minute."""

from __future__ import annotations

from ..core.tuning.moves import Program

LONGEST = 60  # of a comment


def written(program: Program, axis: str) -> str:
    """The whole program: each stop a programmed stop (M0), until somebody goes on."""
    unit = "degrees" if program.unit == "°" else "mm"
    low, high = program.room
    lines = [
        f"({_plain(program.name)}, {_plain(axis)})",
        f"({unit}; soft limits {low:g} to {high:g}; home the axis first)",
        "(hands off, emergency stop within reach; M0 waits until you go on)",
        "G21",
        "G90",
        "G94",
        *(f"{code} ({_plain(says)})" if says else code for code, says in typed(program)),
        "M2",
    ]
    return "\n".join(lines) + "\n"


def typed(program: Program) -> list[tuple[str, str]]:
    """The same as commands to type one by one, each with what it is for.

    >>> from crisp_cadence.core.tuning.moves import Program, Step
    >>> steps = (Step((("X", 9.0),), 5.0, "go"), Step((), 0.0, "mark"))
    >>> typed(Program("ramp", "", "mm", (0, 9), 0, 9, 5.0, steps, ""))
    [('G1 X9 F300', 'go'), ('M0', 'mark')]
    """
    return [
        (" ".join(["G1", *(f"{a}{_figure(at)}" for a, at in s.to), f"F{_figure(60 * s.speed)}"]), s.says)
        if s.to
        else ("M0", s.says)
        for s in program.steps
    ]


def _figure(value: float) -> str:
    """Thousandths are the finest that controllers take.

    >>> _figure(12.5), _figure(300.00004), _figure(-0.0001)
    ('12.5', '300', '0')
    """
    return f"{round(value, 3) + 0.0:.3f}".rstrip("0").rstrip(".")


def _plain(text: str) -> str:
    """What may stand in a comment: no brackets, plain letters."""
    kept = (c if c.isascii() and c.isprintable() and c not in "()" else " " for c in text)
    return "".join(kept)[:LONGEST].strip()
