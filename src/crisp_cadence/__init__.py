"""Belt and pulley axes for makers: design, check, build, tune, log."""

from __future__ import annotations

from .catalog import profiles
from .core.design import AxisDesign, dump_design, parse_design
from .core.evaluate import evaluate as _evaluate
from .core.report import Report

__all__ = ["AxisDesign", "Report", "dump_design", "evaluate", "parse_design"]


def evaluate(design: AxisDesign) -> Report:
    """Evaluate a design with the shipped belt catalogue."""
    return _evaluate(design, profiles())
