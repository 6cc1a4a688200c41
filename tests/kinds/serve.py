"""The program with an end and a stage more than it ships: each one module, found as all others are, and a row
of the layouts for both.

The product has no switch for this: the two folders join the packages before anything looks into them.
"""

from __future__ import annotations

import sys
from pathlib import Path

from crisp_cadence.core.parts import ends, stages

HERE = Path(__file__).parent
ends.__path__.append(str(HERE / "ends"))
stages.__path__.append(str(HERE / "stages"))


def main() -> int:
    """Add the layout, and serve."""
    from crisp_cadence.cli import main as served
    from crisp_cadence.core.design.layouts import LAYOUTS, Layout

    LAYOUTS["capstan"] = Layout(
        "capstan",
        "Capstan",
        "A rope wrapped round a drum pulls a sledge.",
        "It slips where the wraps are few.",
        "Only tests know it.",
        {"chain": [{"kind": "stepper"}, {"kind": "friction_wheel"}], "end": {"kind": "capstan"}},
    )
    return served(sys.argv[1:])


if __name__ == "__main__":
    raise SystemExit(main())
