"""Writes what docs/ says of the core, from the core itself: docs/numbers.md and the published schemas. A test
holds them current.
"""

from __future__ import annotations

import importlib
import json
import pkgutil
from pathlib import Path

from crisp_cadence import catalog, core
from crisp_cadence.core.design.design import design_schema
from crisp_cadence.core.ledger.formula import FORMULAS
from crisp_cadence.core.machine.design import machine_schema

for module in pkgutil.walk_packages(core.__path__, f"{core.__name__}."):
    importlib.import_module(module.name)  # so that the formulas of every module join the list

DOCS = Path(__file__).parent.parent / "docs"


def _cell(text: str) -> str:
    return text.replace("|", "\\|")


def numbers() -> str:
    """Every formula and belt profile with its source."""
    lines = [
        "# About the numbers",
        "",
        "Made from the core's own docstrings by `make docs`. A design aid, not a certificate.",
        "",
    ]
    lines += ["| what | equation | units | range | source |", "|---|---|---|---|---|"]
    lines += [
        f"| "
        f"{' | '.join(map(_cell, (f.title, f.equation, f.units, f.valid, f'{f.source_kind}: {f.source}')))} "
        f"|"
        for f in sorted(FORMULAS.values(), key=lambda f: f.title)
    ]
    lines += [
        "",
        "## Belt profiles",
        "",
        "| profile | standard | datum | value | source |",
        "|---|---|---|---|---|",
    ]
    for p in catalog.profiles().values():
        for datum, (kind, note) in p.sources.items():
            value = getattr(p, datum)
            shown = " ".join(map(str, value)) if isinstance(value, tuple) else value
            lines.append(f"| {p.name} | {p.standard} | {datum} | {shown} | {kind}: {note} |")
    return "\n".join(lines) + "\n"


def schema() -> str:
    """The published JSON Schema of the design file."""
    return json.dumps(design_schema(), ensure_ascii=False, indent=2) + "\n"


def machine() -> str:
    """The published JSON Schema of the machine's file."""
    return json.dumps(machine_schema(), ensure_ascii=False, indent=2) + "\n"


FILES = {"numbers.md": numbers, "axis.schema.json": schema, "machine.schema.json": machine}

if __name__ == "__main__":
    for name, make in FILES.items():
        DOCS.joinpath(name).write_text(make(), encoding="utf-8")
