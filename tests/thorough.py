"""How much the random tests try: seconds with fixed seeds in the gate; all of it in `make torture`, which sets
TORTURE to the seed of the run.
"""

from __future__ import annotations

import os

TORTURE = "TORTURE" in os.environ


def many(gate: int, full: int) -> int:
    return full if TORTURE else gate


def seed(fixed: int) -> int:
    return int(os.environ.get("TORTURE", fixed))
