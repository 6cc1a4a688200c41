"""How rungs are judged, sorted, and put together out of several cases."""

from __future__ import annotations

from dataclasses import replace

from .report import Rung, Verdict


def judge(ratio: float | None, margin: float) -> Verdict:
    """Verdict of a rung.

    >>> judge(1.6, 1.5), judge(1.2, 1.5), judge(0.9, 1.5), judge(None, 1.5)
    ('holds', 'tight', 'short', 'unknown')
    """
    if ratio is None:
        return "unknown"
    # A hair of tolerance: a target met exactly by its own result must not fail by rounding.
    return "holds" if ratio >= margin * (1 - 1e-9) else "tight" if ratio >= 1 - 1e-9 else "short"


RANK: dict[Verdict, int] = {"short": 0, "unknown": 1, "tight": 2, "holds": 3, "no demand": 4}


def sorted_ladder(rungs: list[Rung]) -> tuple[Rung, ...]:
    """Least headroom on top; unknown ones below the short ones, those without a demand last."""

    def place(rung: Rung) -> tuple[float, float]:
        if rung.verdict == "no demand":
            return (3, 0)
        if rung.verdict == "unknown":
            return (1, 0)
        return (0 if rung.verdict == "short" else 2, rung.headroom or 0.0)

    return tuple(sorted(rungs, key=place))


def merged(ladders: list[tuple[str, tuple[Rung, ...]]]) -> list[Rung]:
    """One ladder out of those of several cases: each rung from the case that is worst for it, and named after
    it where they differ.
    """
    found: dict[str, list[tuple[str, Rung]]] = {}
    for name, ladder in ladders:
        for rung in ladder:
            found.setdefault(rung.key, []).append((name, rung))

    def place(case: tuple[str, Rung]) -> tuple[int, float]:
        return RANK[case[1].verdict], case[1].headroom or 0.0

    out = []
    for cases in found.values():
        name, worst = min(cases, key=place)
        best = max(place(c) for c in cases)
        alike = (
            len(cases) == len(ladders)
            and best[0] == RANK[worst.verdict]
            and best[1] <= (worst.headroom or 0.0) * (1 + 1e-9)
        )
        out.append(worst if alike else replace(worst, case=name))
    return out


def overall(rungs: tuple[Rung, ...]) -> tuple[Verdict, str]:
    """Verdict of the whole axis and the rung that gives it; advisory rungs do not count."""
    counted = [r for r in rungs if not r.advisory]
    worst = min(counted, key=lambda r: (RANK[r.verdict], r.headroom or 0.0))
    return worst.verdict, worst.key
