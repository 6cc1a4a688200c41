"""How much the random tests try: seconds with fixed seeds in the gate; in `make torture`, which sets TORTURE, all of
it with free ones.
"""

from __future__ import annotations

import os
import random

TORTURE = "TORTURE" in os.environ
FREE = random.SystemRandom().randrange(10**6)


def many(gate: int, full: int) -> int:
    return full if TORTURE else gate


def seed(fixed: int) -> int:
    return FREE if TORTURE else fixed
