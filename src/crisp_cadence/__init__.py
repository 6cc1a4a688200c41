"""Belt and pulley axes for makers: design, check, build, tune, log."""

from __future__ import annotations

TYPE_CHECKING = False  # nothing is loaded here, not even typing: see cli.py
if TYPE_CHECKING:
    from typing import Any

    from .core.account.report import Report
    from .core.design.design import AxisDesign, dump_design, parse_design

__all__ = ["AxisDesign", "Report", "dump_design", "evaluate", "parse_design"]


def evaluate(design: AxisDesign) -> Report:
    """Evaluate a design with the shipped belt catalogue."""
    from .catalog import profiles
    from .core.evaluation.evaluate import evaluate as worked_out

    return worked_out(design, profiles())


def __getattr__(name: str) -> Any:
    """The rest when it is first asked for: a command line that is stopped at once ends without having loaded
    everything.
    """
    from .core.account import report
    from .core.design import design

    for room in (design, report):
        if name in __all__ and hasattr(room, name):
            return getattr(room, name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
