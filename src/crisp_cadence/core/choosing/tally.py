"""What a search rejects, counted by rung, and the best that it keeps."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from ..ledger.record import record
from .choice import FloatArray, Index
from .looking import Level
from .ruler import NOT_RANKED

HOLDS = 1 - 1e-9  # as on the ladder of one design


@record
class Rejected:
    """How many combinations a rung rejects, how many it alone rejects, and of how many it was asked.

    Rungs of motors are not asked of what two rungs of belt and reduction have rejected already.
    """

    key: str
    label: str
    count: int
    alone: int
    asked: int


class Tally:
    """Counts of what rejects, by a bit for each rung: rungs of pairs first, then those of motors on what is
    left of them.
    """

    def __init__(self, steps: int, labels: Mapping[str, str]) -> None:
        self.steps, self.labels = steps, labels
        self.tried = 0
        self.counts: dict[str, int] = {}
        self.alone: dict[str, int] = {}
        self.asked: dict[str, int] = {}
        self.holding = 0
        self.fits: NDArray[np.bool_] = np.empty((0, 0), dtype=bool)
        self._single: dict[str, NDArray[np.int64]] = {}

    def _count(self, into: dict[str, int], key: str, many: int) -> None:
        into[key] = into.get(key, 0) + many

    def pairs(self, pairs: Level, motors: int) -> Index:
        """Counts the rungs of pairs; places of those that fail at most one of them at some microsteps."""
        steps, count = self.steps, len(pairs.values["lam"])
        self.tried += count * steps * motors
        fails = np.zeros((count, steps), dtype=np.uint8)
        which = np.zeros((count, steps), dtype=np.uint8)
        keys: list[str] = [""]
        for key, fault in (
            *((k, ~(h >= HOLDS)) for k, h in (*pairs.headroom.items(), *pairs.by_steps.items())),
            *pairs.unbuildable.items(),
        ):
            self._count(self.asked, key, count * steps * motors)
            if fault.any():
                wide = fault if fault.ndim == 2 else fault[:, None]
                self._count(
                    self.counts,
                    key,
                    int(np.count_nonzero(fault)) * motors * (1 if fault.ndim == 2 else steps),
                )
                fails += wide
                which = np.where(wide, np.uint8(len(keys)), which)
                keys.append(key)
        left = np.flatnonzero(fails.min(axis=1) <= 1)
        self.fits = fails[left] == 0
        one = np.where(fails[left] == 1, which[left], 0)
        self._single = {
            key: np.count_nonzero(one == k, axis=1) for k, key in enumerate(keys) if k and (one == k).any()
        }
        ranked = [h[left] for k, h in pairs.headroom.items() if k.rpartition(".")[2] not in NOT_RANKED]
        self._least = np.minimum.reduce([*ranked, np.full(left.shape, np.inf)])
        return left

    def motors(self, rungs: Level, shape: tuple[int, int], at: slice) -> tuple[NDArray[np.bool_], FloatArray]:
        """Counts the rungs of motors on some of the pairs left; which combinations hold but for microsteps,
        and their least headroom.
        """
        steps = self.steps
        fails = np.zeros(shape, dtype=np.uint8)
        which = np.zeros(shape, dtype=np.uint8)
        least = np.broadcast_to(self._least[at], shape).copy()
        keys: list[str] = [""]
        faults = []
        for key, head in rungs.headroom.items():
            if key.rpartition(".")[2] not in NOT_RANKED:
                np.minimum(least, head, out=least)
            faults.append((key, ~(head >= HOLDS)))
        for key, fault in (*faults, *rungs.unbuildable.items()):
            self._count(self.asked, key, shape[0] * shape[1] * steps)
            if fault.any():
                full = np.broadcast_to(fault, shape)
                self._count(self.counts, key, int(np.count_nonzero(full)) * steps)
                fails += full
                np.putmask(which, full, np.uint8(len(keys)))
                keys.append(key)
        open_ = fails == 0
        free = np.count_nonzero(self.fits[at], axis=1)
        per_pair = np.count_nonzero(open_, axis=0)
        self.holding += int(per_pair @ free)
        for key, many in self._single.items():
            self._count(self.alone, key, int(per_pair @ many[at]))
        single = np.where(fails == 1, which, 0)
        for k, key in enumerate(keys):
            if k:
                self._count(self.alone, key, int(np.count_nonzero(single == k, axis=0) @ free))
        return open_, least

    def rows(self) -> list[Rejected]:
        """What rejects most, first."""
        out = [
            Rejected(k, self._label(k), n, self.alone.get(k, 0), min(self.asked[k], self.tried))
            for k, n in self.counts.items()
            if n
        ]
        return sorted(out, key=lambda r: -r.count)

    def _label(self, key: str) -> str:
        return self.labels.get(key, key.rpartition(".")[2].replace("_", " ").capitalize())
