"""Pitch of one pluck: its partials, and the series of a stiff string that they belong to."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

Samples = npt.NDArray[np.floating[Any]]

LOWEST_HZ, HIGHEST_HZ = 20.0, 1500.0  # of the pitch: runs of belts lie between, with room
STANDS_OUT = 4.0  # times the noise around it: of a thousand places of pure noise, one in fifty files has one
FLOOR_HZ = 160.0  # width over which the noise around a partial is taken
MOST_PEAKS = 24
MOST_PARTIALS = 16
STIFFEST = 0.02  # B of (f_n/n)² = f²·(1 + B·n²); more is no belt that can be read
NEAR = 0.008  # a partial is one of the series if it is this near; a second run 7 % off is not
STRAYS = 0.004  # and stays one if it is this near the line through all of them
ANCHORS, ANCHORED, TRIED = 8, 10, 12
STIFFNESSES = (0.0, *(3e-5 * 1.35**i for i in range(22)))
GAP = 0.35  # a partial that lacks below the highest one counts against a series by this part of a mean one
LEFT_OUT = 0.5  # and one that stands out and is no part of it by this part of its own
SURE = 0.06  # a series is taken when the next that claims its partials is behind by this
STEADY = 1.6  # what does not come out of what always sounds by this much was there before: hum or a motor
RINGS_TOO = 0.5  # a second series with this part of the first one's weight is another run that rings
APART = 0.03
BIAS = 0.04  # of the width of a line: what a neighbour within the noise may move it by


@dataclass(frozen=True, slots=True)
class Peak:
    """A partial: frequency in Hz, amplitude, and how far it stands out of the noise, dB."""

    hz: float
    level: float
    out_db: float


@dataclass(frozen=True, slots=True)
class Series:
    """Partials of one string, f_n = n·f·√(1 + B·n²): the pitch f without stiffness in Hz, B, what numbers
    were heard, and by how much the pitch is uncertain, Hz.
    """

    free_hz: float
    stiffness: float
    numbers: tuple[int, ...]
    peaks: tuple[Peak, ...]
    spread_hz: float
    weight: float

    @property
    def pitch_hz(self) -> float:
        """Of the first partial, whether it was heard or not."""
        return self.free_hz * math.sqrt(1 + self.stiffness)


def spectrum(x: Samples, rate: float) -> tuple[Samples, Samples, Samples]:
    """Frequencies, amplitudes, and the noise around each, of a sound that dies away: the window comes up in
    its first sixth and falls over the rest.

    Equation: |FFT(x·w)|; noise: running median
    """
    n = len(x)
    rise = max(n // 6, 2)
    window = np.concatenate(
        [np.sin(np.linspace(0, np.pi / 2, rise)) ** 2, np.cos(np.linspace(0, np.pi / 2, n - rise)) ** 2]
    )
    size = 1 << max(int(np.ceil(np.log2(4 * n))), 12)
    amplitude = np.abs(np.fft.rfft(x * window, size)) * 2 / window.sum()
    freq = np.fft.rfftfreq(size, 1 / rate)
    # The median is taken on every k-th place: neighbours of a padded spectrum say the same.
    k = max(int(size / n / 2), 1)
    floor = np.interp(freq, freq[::k], noise_around(amplitude[::k], freq[1] * k))
    return freq, amplitude, floor


def noise_around(amplitude: Samples, step_hz: float) -> Samples:
    """Noise around each place of a spectrum: the running median, which a few partials do not raise."""
    from scipy.ndimage import median_filter

    width = max(int(FLOOR_HZ / step_hz), 5) | 1
    floor: Samples = np.maximum(median_filter(amplitude, size=width, mode="nearest"), 1e-9)
    return floor


def peaks(freq: Samples, amplitude: Samples, floor: Samples) -> list[Peak]:
    """What stands out of the noise, the strongest first, each where a parabola through the logarithms of
    three neighbours has its top.
    """
    inner = amplitude[1:-1]
    at = np.flatnonzero(
        (inner > amplitude[:-2]) & (inner >= amplitude[2:]) & (inner > STANDS_OUT * floor[1:-1])
    )
    at = at[freq[at + 1] >= LOWEST_HZ * 0.9] + 1
    out = []
    for i in at[np.argsort(-amplitude[at])][: 3 * MOST_PEAKS]:
        a, b, c = np.log(np.maximum(amplitude[i - 1 : i + 2], 1e-12))
        shift = 0.5 * (a - c) / (a - 2 * b + c)
        hz = float(freq[i] + shift * freq[1])
        out.append(Peak(hz, float(amplitude[i]), float(20 * np.log10(amplitude[i] / floor[i]))))
    return out


def without_skirts(found: list[Peak], width_hz: float) -> list[Peak]:
    """Peaks that are no side lobe of a stronger one beside them."""
    kept: list[Peak] = []
    for p in found:
        if all(_parts(p, s, width_hz) for s in kept):
            kept.append(p)
    return kept[:MOST_PEAKS]


def _parts(p: Peak, strong: Peak, width_hz: float) -> bool:
    away = abs(p.hz - strong.hz) / width_hz
    if away >= 8:
        return True
    return away >= 1.2 and p.level > strong.level * 10 ** (-(12 + 3 * away) / 20)


def fit(numbers: Sequence[int], own: Sequence[Peak], width_hz: float) -> tuple[float, float, float]:
    """Pitch without stiffness, B, and by how much the pitch is uncertain, Hz: weighted least squares of
    (f_n/n)² over n², with B at least 0; one partial says nothing of B.
    """
    # Sums of weighted least squares, of few numbers: arrays would take ten times as long.
    s0 = s1 = s2 = t0 = t1 = 0.0
    rows = []
    for n, p in zip(numbers, own, strict=True):
        error = width_hz * max(0.35 / 10 ** (p.out_db / 20), BIAS)
        y, x, w = (p.hz / n) ** 2, float(n * n), (n * n / (2 * p.hz * error)) ** 2
        rows.append((x, y, w))
        s0, s1, s2 = s0 + w, s1 + w * x, s2 + w * x * x
        t0, t1 = t0 + w * y, t1 + w * x * y
    free, slope, var = t0 / s0, 0.0, 1 / s0
    if len(rows) >= 2:
        det = s0 * s2 - s1 * s1
        c0, c1 = (s2 * t0 - s1 * t1) / det, (s0 * t1 - s1 * t0) / det
        if c0 > 0 and 0 < c1 <= STIFFEST * c0:
            free, slope, var = c0, c1, s2 / det
    chi = sum(w * (y - free - slope * x) ** 2 for x, y, w in rows) / max(len(rows) - 2, 1)
    pitch = math.sqrt(free)
    return pitch, slope / free, math.sqrt(var * max(chi, 1.0)) / (2 * pitch)


def _candidates(
    found: Sequence[Peak], width_hz: float, top_hz: float, within: tuple[float, float]
) -> list[tuple[float, float]]:
    """Pitches and stiffnesses to begin with, the best first: every strong partial taken for each number, on a
    grid of stiffnesses, weighed by what of the sound lies where such a string has its partials.
    """
    ordered = sorted(found, key=lambda p: p.hz)
    hz, weight = np.array([p.hz for p in ordered]), np.array([_weight(p) for p in ordered])
    anchor = np.array([p.hz for p in found[:ANCHORS]])[:, None, None]
    n0 = np.arange(1, ANCHORED + 1)[None, :, None]
    b = np.array(STIFFNESSES)[None, None, :]
    free = (anchor / (n0 * np.sqrt(1 + b * n0**2))).ravel()
    stiff = np.broadcast_to(b, (len(anchor), ANCHORED, len(STIFFNESSES))).ravel()
    use = (free >= within[0]) & (free <= within[1])
    free, stiff = free[use, None], stiff[use, None]
    if len(free) == 0:
        return []
    k = np.arange(1, ANCHORED + 1)[None, :]
    want = k * free * np.sqrt(1 + stiff * k**2)
    at = (
        np.clip(np.searchsorted(hz, want), 1, max(len(hz) - 1, 1))
        if len(hz) > 1
        else np.zeros(want.shape, int)
    )
    if len(hz) > 1:
        at = np.where(np.abs(hz[at - 1] - want) < np.abs(hz[at] - want), at - 1, at)
    room = np.minimum(np.maximum(0.5 * width_hz, NEAR * want), 0.25 * free)
    hit = (np.abs(hz[at] - want) <= room) & (want < top_hz)
    mine = np.where(hit, weight[at], 0).sum(axis=1)
    count = np.maximum(hit.sum(axis=1), 1)
    last = np.where(hit, k, 0).max(axis=1)
    score = mine - GAP * (last - count) * mine / count + LEFT_OUT * mine
    out: list[tuple[float, float]] = []
    for i in np.argsort(-score):
        f = float(free[i, 0])
        if all(abs(f / g - 1) > 0.006 for g, _ in out):
            out.append((f, float(stiff[i, 0])))
            if len(out) == TRIED:
                break
    return out


def _gather(
    start: tuple[float, float], found: Sequence[Peak], width_hz: float, top_hz: float
) -> Series | None:
    """The series that begins at a pitch and stiffness: partial after partial, each where those before say."""
    free, stiff = start
    spread = 0.0
    numbers: list[int] = []
    own: list[Peak] = []
    for n in range(1, MOST_PARTIALS + 1):
        want = n * free * math.sqrt(1 + stiff * n * n)
        if want > top_hz:
            break
        room = min(max(0.5 * width_hz, NEAR * want), 0.25 * free)
        near = [p for p in found if abs(p.hz - want) <= room and p not in own]
        if not near:
            continue
        numbers.append(n)
        own.append(max(near, key=lambda p: p.level))
        if len(numbers) >= 4:
            free, stiff, spread = fit(numbers, own, width_hz)
    while len(numbers) > 3:  # what lies far off the line of the others happened to be near
        free, stiff, spread = fit(numbers, own, width_hz)
        off = [abs(p.hz - n * free * math.sqrt(1 + stiff * n * n)) for n, p in zip(numbers, own, strict=True)]
        worst = off.index(max(off))
        if off[worst] < max(0.25 * width_hz, STRAYS * own[worst].hz):
            break
        del numbers[worst], own[worst]
    if not numbers:
        return None
    free, stiff, spread = fit(numbers, own, width_hz)
    return Series(free, stiff, tuple(numbers), tuple(own), spread, 0.0)


def _weight(p: Peak) -> float:
    return min(p.out_db - 9.0, 30.0)


def _scored(s: Series, found: Sequence[Peak]) -> Series:
    mine = sum(_weight(p) for p in s.peaks)
    lacking = max(s.numbers) - len(s.numbers)
    # Partials that lack at the bottom alone are what a small microphone does not hear.
    least = 0.1 * max(p.level for p in s.peaks)
    strange = sum(_weight(p) for p in found if p.level > least and p not in s.peaks)
    score = mine - GAP * lacking * mine / len(s.numbers) - LEFT_OUT * strange
    return Series(s.free_hz, s.stiffness, s.numbers, s.peaks, s.spread_hz, score)


def all_series(
    found: Sequence[Peak], width_hz: float, top_hz: float, within: tuple[float, float]
) -> list[Series]:
    """Every series that some partial may belong to, the best first, one for each pitch."""
    low, high = max(within[0], LOWEST_HZ), min(within[1], HIGHEST_HZ)
    if not found:
        return []
    starts = _candidates(found, width_hz, top_hz, (low * 0.98, high * 1.02))
    made = [_gather(start, found, width_hz, top_hz) for start in starts]
    ranked = sorted(
        (_scored(s, found) for s in made if s is not None and low <= s.free_hz <= high),
        key=lambda s: -s.weight,
    )
    out: list[Series] = []
    for s in ranked:
        if all(abs(s.free_hz / o.free_hz - 1) > 0.01 for o in out):
            out.append(s)
    return out
