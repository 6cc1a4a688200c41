"""From a recording to the pitch of a belt's run: plucks found, each one's pitch, and one answer with its
spread, or why there is none. Rather silent than wrong.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from .pitch import (
    APART,
    HIGHEST_HZ,
    LOWEST_HZ,
    RINGS_TOO,
    STEADY,
    SURE,
    Peak,
    Samples,
    Series,
    all_series,
    noise_around,
    peaks,
    spectrum,
    without_skirts,
)

LOWEST_RATE, HIGHEST_RATE = 4000.0, 400_000.0
WORKED_AT = 8000.0  # Hz at least: a belt's partials that help lie below 4 kHz
HOP_S, FRAME_S = 0.01, 0.02
RISE_DB = 4.5  # a pluck comes up by so much within a few hundredths of a second
RANGE_DB = 50.0  # below the loudest nothing is looked at
SWELLS_DB = 4.0  # what becomes louder later on by this much was not plucked
QUIET = 1e-4  # of full scale: nothing was recorded
AFTER_S = 0.03  # after the finger has gone; the swing is largest there and raises the pitch
SHORTEST_S, LONGEST_S = 0.15, 1.6
AGREE = 0.02  # plucks of one run agree to this
CLIPPED = 0.002  # of the samples at full scale: the sound is cut off
EXPLAINS, FEW_EXPLAIN = 0.6, 0.85  # of the power of what stands out, by three partials or more, or by fewer
ALONE_DB = 25.0  # out of the noise, for a pitch that is told by one partial
DIES_DB = 1.0  # from the first half of a pluck to the second
MOVES = 0.01  # of the pitch, from the first half to the second
TONELESS = "no tone stands out of the noise"
HEARD_TOO = 0.2  # of the weight of the series that is told, for another run to be named
NEAR_TONE_HZ = 5.0
TELL_STIFFNESS = 5  # partials at least that tell how stiff the run is
WAVE_POINTS, SPECTRUM_POINTS = 600, 500


@dataclass(frozen=True, slots=True)
class Pluck:
    """One pluck of the recording; pitch 0 where it tells none, and why."""

    at_s: float
    lasts_s: float
    pitch_hz: float
    free_hz: float
    stiffness: float
    spread_hz: float
    partials: tuple[int, ...]
    partials_hz: tuple[float, ...]
    why: str


@dataclass(frozen=True, slots=True)
class Wave:
    """The recording as a picture: for equal pieces of time the lowest and the highest sample."""

    seconds: float
    low: tuple[float, ...]
    high: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Spectrum:
    """Of the clearest pluck: frequencies in Hz, levels in dB below its strongest."""

    hz: tuple[float, ...]
    db: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Heard:
    """What a recording tells: pitch of the first partial and pitch without stiffness, Hz, with the spread of
    several plucks, and B of its partials where enough of them are heard; all None where it cannot tell, and
    `says` why.
    """

    verdict: Literal["heard", "not sure", "nothing"]
    says: str
    pitch_hz: float | None
    free_hz: float | None
    spread_hz: float | None
    stiffness: float | None
    also_hz: float | None
    plucks: tuple[Pluck, ...]
    steady_hz: tuple[float, ...]
    clipped: bool
    seconds: float
    wave: Wave
    spectrum: Spectrum | None


@dataclass(frozen=True, slots=True)
class Expected:
    """Pitches that a run can have, Hz."""

    low_hz: float = LOWEST_HZ
    high_hz: float = HIGHEST_HZ


def listen(samples: Samples, rate: float, expected: Expected | None = None) -> Heard:
    """Pitch of the run that is plucked in a recording.

    Shapes: (n,) or (n, channels); rate in Hz. ValueError where that is no sound.
    """
    x = np.asarray(samples, dtype=np.float64)
    if x.ndim == 2:  # the channel that hears it best: their sum may cancel
        x = x[:, int(np.argmax((x - x.mean(axis=0)).std(axis=0)))] if x.shape[1] else x[:, 0]
    if x.ndim != 1 or len(x) == 0 or not np.isfinite(x).all():
        raise ValueError("samples are (n,) or (n, channels) finite numbers")
    if not LOWEST_RATE <= rate <= HIGHEST_RATE:
        raise ValueError(f"the rate lies between {LOWEST_RATE:g} and {HIGHEST_RATE:g} Hz")
    within = expected or Expected()
    top, seconds = float(np.abs(x).max()), len(x) / rate
    clipped = bool(top > 0 and (np.abs(x) >= 0.999 * top).mean() > CLIPPED)
    bare = Heard("nothing", "", None, None, None, None, None, (), (), clipped, seconds, _wave(x, rate), None)
    if top < QUIET:
        return replace(bare, says="There is no sound in it: look at the microphone and its level.")
    if seconds < SHORTEST_S + AFTER_S:
        least = f"{SHORTEST_S + AFTER_S:.2f}"
        return replace(bare, says=f"It lasts {seconds:.2f} s; a pluck needs {least} s at least.")
    y, slow = _slowed(x, rate)
    found = _plucks(y, slow)
    if not found:
        return replace(bare, says=_no_pluck(x, rate))
    always = _Always(y, slow)
    told = [_one(y[a:b], slow, always, within, a / slow) for a, b in found]
    if all(t.pluck.why == TONELESS for t in told):
        return replace(bare, says=_no_pluck(x, rate))
    best = max(told, key=lambda t: (t.pluck.pitch_hz > 0, t.strength))
    plucks = tuple(t.pluck for t in told)
    own = [hz for p in plucks for hz in p.partials_hz]  # what dies away slowly is quiet between plucks too
    hum = tuple(hz for hz in always.tones if all(abs(hz - f) > NEAR_TONE_HZ for f in own))
    return _agreed(told, replace(bare, plucks=plucks, steady_hz=hum, spectrum=best.picture))


@dataclass(frozen=True, slots=True)
class _Told:
    pluck: Pluck
    second_hz: float
    strength: float
    picture: Spectrum


def _wave(x: Samples, rate: float) -> Wave:
    starts = np.linspace(0, len(x), min(WAVE_POINTS, len(x)), endpoint=False).astype(int)
    low, high = np.minimum.reduceat(x, starts), np.maximum.reduceat(x, starts)
    return Wave(len(x) / rate, tuple(low.round(4).tolist()), tuple(high.round(4).tolist()))


def _slowed(x: Samples, rate: float) -> tuple[Samples, float]:
    """At fewer samples a second, and without what lies below any belt's pitch."""
    from scipy.signal import butter, resample_poly, sosfiltfilt

    q = max(int(rate // WORKED_AT), 1)
    y = resample_poly(x - x.mean(), 1, q) if q > 1 else x - x.mean()
    sos = butter(2, LOWEST_HZ * 0.7, "highpass", fs=rate / q, output="sos")
    cut: Samples = np.asarray(sosfiltfilt(sos, y, padlen=min(1000, len(y) - 1)))
    return cut, rate / q


def _levels(y: Samples, rate: float) -> Samples:
    """Level of each hundredth of a second, dB of full scale."""
    hop, frame = int(HOP_S * rate), int(FRAME_S * rate)
    power = np.concatenate([[0.0], np.cumsum(y * y)])
    starts = np.arange(0, max(len(y) - frame, 1), hop)
    ends = np.minimum(starts + frame, len(y))
    level: Samples = 10 * np.log10((power[ends] - power[starts]) / (ends - starts) + 1e-12)
    return level


def _plucks(y: Samples, rate: float) -> list[tuple[int, int]]:
    """First and last sample of each pluck: from a leap of the level until it has died away."""
    level = _levels(y, rate)
    per = int(HOP_S * rate)
    floor = max(float(np.percentile(level, 10)), float(level.max()) - RANGE_DB)
    at: list[int] = []
    for i in range(len(level)):
        if i and level[i] < level[i - 1] + 1.0:
            continue
        before = float(np.mean(level[max(i - 10, 0) : i])) if i >= 3 else floor
        here = float(np.mean(level[i : i + 4]))
        if here - before < RISE_DB or here < floor + RISE_DB:
            continue
        last = at[-1] if at else -100
        if i - last < 15:
            continue
        # What comes back no louder than it was is a beat of two strings.
        if at and here < max(level[last:i]) - 4.0 and i - last < 80:
            continue
        at.append(i)
    if not at and len(level) > 15:  # it begins within the pluck
        first, late = float(np.mean(level[:5])), float(np.mean(level[-5:]))
        if first > late + RISE_DB:
            at = [0]
    out = []
    for k, i in enumerate(at):
        end = at[k + 1] - 1 if k + 1 < len(at) else len(level)
        early = float(level[i : i + 8].max())
        if early < float(level[i:end].max()) - SWELLS_DB:
            continue
        gone = np.flatnonzero(_smooth(level[i:end]) < floor + 1.0)
        if len(gone) and gone[0] > SHORTEST_S / HOP_S:
            end = i + int(gone[0])
        a = i * per + int(AFTER_S * rate)
        b = min(end * per if end < len(level) else len(y), a + int(LONGEST_S * rate))
        if b - a >= SHORTEST_S * rate:
            out.append((a, b))
    return out


def _smooth(level: Samples) -> Samples:
    return np.convolve(np.pad(level, 5, mode="edge"), np.ones(11) / 11, mode="valid")


class _Always:
    """What sounds all the time: hum, a motor, a fan. For each frequency the level of the quieter parts."""

    def __init__(self, y: Samples, rate: float) -> None:
        n = min(int(0.25 * rate), len(y))
        starts = np.arange(0, max(len(y) - n, 0) + 1, max(n // 2, 1))
        self.window, self.rate, self.n = np.hanning(n), rate, n
        self.size = 1 << int(np.ceil(np.log2(2 * n)))
        frames = np.stack([y[s : s + n] for s in starts])
        levels = np.abs(np.fft.rfft(frames * self.window, self.size, axis=1))
        self.quiet = np.percentile(levels, 20, axis=0) if len(starts) >= 4 else np.zeros(levels.shape[1])
        self.freq = np.fft.rfftfreq(self.size, 1 / rate)
        self.tones = self._tones(y) if len(starts) >= 4 else ()

    def _tones(self, y: Samples) -> tuple[float, ...]:
        found = [
            p
            for p in peaks(self.freq, self.quiet, noise_around(self.quiet, self.freq[1]))
            if p.hz >= LOWEST_HZ and p.out_db > 15
        ]
        # Their place is told by the whole recording, which parts what a quarter of a second cannot.
        level = np.abs(np.fft.rfft(y * np.hanning(len(y))))
        step = self.rate / len(y)
        tones: list[float] = []
        for p in found:
            a, b = max(int((p.hz - NEAR_TONE_HZ) / step), 1), int((p.hz + NEAR_TONE_HZ) / step) + 2
            hz = (a + int(np.argmax(level[a:b]))) * step
            if all(abs(hz - t) > 2 * NEAR_TONE_HZ for t in tones):
                tones.append(round(hz, 1))
        return tuple(tones[:3])

    def leaves(self, found: list[Peak], x: Samples) -> list[Peak]:
        """Partials that were not there all the time; x is the pluck that they are of."""
        first = np.abs(np.fft.rfft(x[: self.n] * self.window[: len(x)], self.size))
        step = self.freq[1]
        kept = []
        for p in found:
            i = min(round(p.hz / step), len(first) - 1)
            if first[i] > STEADY * self.quiet[i]:
                kept.append(p)
        return kept


def _one(x: Samples, rate: float, always: _Always, within: Expected, at_s: float) -> _Told:
    freq, amplitude, floor = spectrum(x, rate)
    width = rate / len(x) * 2
    found = always.leaves(without_skirts(peaks(freq, amplitude, floor), width), x)
    picture = _picture(freq, amplitude, found)
    lasts = len(x) / rate

    def silent(why: str, strength: float = 0.0) -> _Told:
        return _Told(Pluck(at_s, lasts, 0.0, 0.0, 0.0, 0.0, (), (), why), 0.0, strength, picture)

    if not found:
        return silent(TONELESS)
    every = all_series(found, width, 0.48 * rate, (within.low_hz, within.high_hz))
    if not every or every[0].weight <= 0:
        return silent("its tones belong to no string that this run could be")
    best = every[0]
    for other in every[1:4]:
        if best.weight - other.weight < SURE * best.weight and _claims(best, other):
            return silent(f"it may be {best.pitch_hz:.1f} or {other.pitch_hz:.1f} Hz", best.weight)
    rest = [p for p in found if p not in best.peaks]
    second = next(
        (
            s
            for s in all_series(rest, width, 0.48 * rate, (best.free_hz * 0.7, best.free_hz * 1.4))
            if len(s.numbers) >= 2
            and abs(s.free_hz / best.free_hz - 1) > APART
            and s.weight > HEARD_TOO * best.weight
        ),
        None,
    )
    second_hz = second.pitch_hz if second else 0.0
    if second and second.weight > RINGS_TOO * best.weight and _power(second) > RINGS_TOO**2 * _power(best):
        return silent(
            f"two runs ring together, {best.pitch_hz:.1f} and {second_hz:.1f} Hz: hold the other one",
            best.weight,
        )
    why = _no_string(best, second, found) or _no_dying(x, rate, best)
    if why:
        return silent(why, best.weight)
    pluck = Pluck(
        at_s,
        lasts,
        best.pitch_hz,
        best.free_hz,
        best.stiffness,
        best.spread_hz,
        best.numbers,
        tuple(round(p.hz, 2) for p in best.peaks),
        "",
    )
    return _Told(pluck, second_hz, best.weight, picture)


def _no_string(best: Series, second: Series | None, found: list[Peak]) -> str:
    """Why what sounds is no string: too little of it is the series."""
    own = _power(best) + (_power(second) if second else 0.0)
    part = own / sum(p.level**2 for p in found)
    few = len(best.numbers) < 4
    if part < (FEW_EXPLAIN if few else EXPLAINS):
        return "its tones belong to no one string: a frame or a tool was struck"
    if best.numbers[0] > (1 if few else len(best.numbers) // 2) or best.numbers[-1] > 2 * len(best.numbers):
        return "too few of its partials are heard to tell which they are"
    if len(best.numbers) == 1 and best.peaks[0].out_db < ALONE_DB:
        return "one faint tone alone may be any partial"
    return ""


def _no_dying(x: Samples, rate: float, best: Series) -> str:
    """Why it is no pluck: the sound of a string that was left alone dies away at one pitch."""
    half = len(x) // 2
    level, hz = [], []
    strong = sorted(best.peaks, key=lambda p: -p.level)[:4]
    for part in (x[:half], x[half : 2 * half]):
        window = np.hanning(half)
        size = 1 << int(np.ceil(np.log2(4 * half)))
        amplitude = np.abs(np.fft.rfft(part * window, size))
        step = rate / size
        tops = []
        for p in strong:
            wide = max(0.04 * p.hz, 1.5 * rate / half)
            a, b = max(int((p.hz - wide) / step), 1), int((p.hz + wide) / step) + 2
            i = a + int(np.argmax(amplitude[a:b]))
            tops.append((i * step, float(amplitude[i])))
        hz.append([f for f, _ in tops])
        level.append(sum(v * v for _, v in tops))
    if level[1] > level[0] * 10 ** (-DIES_DB / 10):
        return "it does not die away as a pluck does"
    limit = 0.25 * rate / half
    moved = [abs(a - b) > max(MOVES * p.hz, limit) for p, a, b in zip(strong, *hz, strict=True)]
    if sum(moved) * 2 > len(moved):
        return "its pitch moves, as a voice or a motor does"
    return ""


def _power(s: Series) -> float:
    return sum(p.level**2 for p in s.peaks)


def _claims(a: Series, b: Series) -> bool:
    """Both are made of the same partials, so that only one of them can be."""
    return len(set(a.peaks) & set(b.peaks)) * 2 >= min(len(a.peaks), len(b.peaks))


def _picture(freq: Samples, amplitude: Samples, found: list[Peak]) -> Spectrum:
    top = min(max([p.hz for p in found[:8]] + [300.0]) * 1.25, float(freq[-1]))
    use = freq <= top
    f, a = freq[use], amplitude[use]
    starts = np.linspace(0, len(f), min(SPECTRUM_POINTS, len(f)), endpoint=False).astype(int)
    level = np.maximum.reduceat(a, starts) / (float(a.max()) or 1.0)
    db = 20 * np.log10(np.maximum(level, 1e-4))
    return Spectrum(tuple(f[starts].round(2).tolist()), tuple(db.round(1).tolist()))


def _no_pluck(x: Samples, rate: float) -> str:
    """Why nothing in it is a pluck, with what sounds instead."""
    power = np.abs(np.fft.rfft(x - x.mean())) ** 2
    freq = np.fft.rfftfreq(len(x), 1 / rate)
    i = int(np.argmax(power))
    near = (np.abs(freq - freq[i]) < max(3.0, 2 * rate / len(x))) & (power > 0)
    if power[near].sum() < 0.5 * power.sum():
        return "No pluck comes out of the noise: come nearer, or pluck harder."
    tone = f"a tone of {freq[i]:.4g} Hz"
    if freq[i] < LOWEST_HZ:
        return f"What sounds is {tone}, lower than any run that can be read by ear: push it aside instead."
    if freq[i] > HIGHEST_HZ:
        return f"What sounds is {tone}, higher than a belt's run sounds."
    return f"There is {tone} that does not die away: a motor or the mains, no pluck."


def _reasons(told: list[_Told]) -> str:
    return "; ".join(list(dict.fromkeys(t.pluck.why for t in told if t.pluck.why))[:3])


def _agreed(told: list[_Told], bare: Heard) -> Heard:
    """One pitch of all the plucks that tell one, if most of them agree."""
    sure = [t.pluck for t in told if t.pluck.pitch_hz > 0]
    if not sure:
        return replace(bare, verdict="not sure", says=f"No pitch is sure: {_reasons(told)}.")
    groups = [[p for p in sure if abs(p.pitch_hz / q.pitch_hz - 1) <= AGREE] for q in sure]
    most = max(groups, key=len)
    if len(told) > 1 and len(most) * 2 <= len(told):
        if len(most) * 2 > len(sure):
            says = f"Of {len(told)} sounds only {len(most)} tell a pitch: {_reasons(told)}."
        else:
            heard = ", ".join(f"{p.pitch_hz:.1f}" for p in sure[:6])
            says = f"The plucks do not agree: {heard} Hz. Pluck one run, at one place, and hold the other."
        return replace(bare, verdict="not sure", says=says)
    pitches = np.array([p.pitch_hz for p in most])
    pitch, free = float(np.median(pitches)), float(np.median([p.free_hz for p in most]))
    own = float(np.median([p.spread_hz for p in most])) / math.sqrt(len(most))
    spread = max(float(pitches.std(ddof=1)) if len(most) > 1 else 0.0, own)
    spread_out = [p.stiffness for p in most if len(p.partials) >= TELL_STIFFNESS]
    stiffness = float(np.median(spread_out)) if len(spread_out) * 2 > len(most) else None
    others = [t.second_hz for t in told if t.second_hz and t.pluck in most]
    also = float(np.median(others)) if len(others) * 2 > len(most) else None
    if also and max(others) / min(others) - 1 > AGREE:
        also = None
    says = (
        f"{len(most)} of {len(told)} plucks agree." if len(told) > 1 else "One pluck was heard: do some more."
    )
    if also:
        says += f" Another run rings along at {also:.1f} Hz."
    if bare.clipped:
        says += " The sound is cut off at its loudest: it is read from what comes after; turn it down."
    return replace(
        bare,
        verdict="heard",
        says=says,
        pitch_hz=pitch,
        free_hz=free,
        spread_hz=spread,
        stiffness=stiffness,
        also_hz=also,
    )
