"""Sounds for tests, measures and pictures: plucks with what a workshop adds, and what is no pluck."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Sound = NDArray[np.float64]
RATE = 48_000


@dataclass(frozen=True)
class Made:
    """A sound, and the pitch without stiffness and the B that it was made with."""

    sound: Sound
    free_hz: float
    stiffness: float


def pluck(
    rng: np.random.Generator,
    free_hz: float | None = None,
    stiffness: float | None = None,
    lasts_s: float = 1.5,
    second: float = 0.35,
    hum: float = 0.3,
    noise_db: float | None = 6.0,
    hears_from_hz: float = 100.0,
    place: float | None = None,
) -> Made:
    """A stiff string plucked at a part of its length, dying away, through a microphone that hears little
    below a pitch; a second run 7 % off, hum, and noise so many dB below the first half second.
    """
    free = free_hz or float(np.exp(rng.uniform(np.log(40), np.log(400))))
    b = float(rng.uniform(0, 0.002)) if stiffness is None else stiffness
    at = float(rng.uniform(0.2, 0.5)) if place is None else place
    decay = float(rng.uniform(0.15, 0.6))
    t = np.arange(int(lasts_s * RATE)) / RATE

    def string(hz: float, loud: float) -> Sound:
        out = np.zeros_like(t)
        for n in range(1, 31):
            f = n * hz * np.sqrt(1 + b * n * n)
            if f > RATE / 2.2:
                break
            heard = (f / hears_from_hz) / np.hypot(1, f / hears_from_hz)
            phase = rng.uniform(0, 2 * np.pi)
            fades = np.exp(-t / decay * (1 + 0.1 * n))
            out += loud * np.sin(np.pi * n * at) / n * heard * fades * np.sin(2 * np.pi * f * t + phase)
        return out

    strings = string(free, 1.0) + string(free * float(rng.choice([0.93, 1.07])), second)
    level = float(np.sqrt(np.mean(strings[: RATE // 2] ** 2)))
    sound = np.concatenate([np.zeros(int(0.3 * RATE)), strings])
    time = np.arange(len(sound)) / RATE
    mains = float(rng.choice([50, 60]))
    for n, loud in ((1, 1.0), (2, 0.6), (3, 0.4)):
        sound += hum * level * loud * np.sin(2 * np.pi * mains * n * time + rng.uniform(0, 2 * np.pi))
    if noise_db is not None:
        sound += rng.normal(size=len(sound)) * level * 10 ** (-noise_db / 20)
    return Made(sound / np.abs(sound).max() * 0.7, free, b)


def several(rng: np.random.Generator, times: int, free_hz: float, **how: Any) -> Sound:
    """One run plucked several times."""
    return np.concatenate([pluck(rng, free_hz, 0.0005, 1.0, **how).sound for _ in range(times)])


def echoing(sound: Sound) -> Sound:
    """In a room that throws it back."""
    out = sound.copy()
    for late_s, loud in ((0.013, 0.4), (0.029, 0.3), (0.061, 0.2), (0.11, 0.12)):
        k = int(late_s * RATE)
        out[k:] += loud * sound[:-k]
    return out


def speech(rng: np.random.Generator) -> Sound:
    """A voice: syllables that swell, their pitch going up and down."""
    t = np.arange(2 * RATE) / RATE
    hz = rng.uniform(90, 220) * (1 + 0.15 * np.sin(2 * np.pi * rng.uniform(0.7, 3) * t + rng.uniform(0, 6)))
    turn = 2 * np.pi * np.cumsum(hz) / RATE
    formant = rng.uniform(400, 900)
    voice = sum(np.sin(n * turn) / n * np.exp(-(((n * 150 - formant) / 500) ** 2)) for n in range(1, 20))
    swell = np.clip(np.sin(2 * np.pi * rng.uniform(2, 4.5) * t + rng.uniform(0, 6)), 0, 1) ** 0.5
    return voice * swell + rng.normal(size=len(t)) * 0.02


def motor(rng: np.random.Generator, switched_on_s: float) -> Sound:
    """A motor that runs at one speed from some moment on."""
    t = np.arange(2 * RATE) / RATE
    hz = rng.uniform(50, 500)
    tone = np.sin(2 * np.pi * hz * t) + 0.5 * np.sin(4 * np.pi * hz * t)
    return tone * (t >= switched_on_s) + rng.normal(size=len(t)) * 0.05


def knock(rng: np.random.Generator) -> Sound:
    """A tool that strikes a frame: some tones that belong to no string."""
    t = np.arange(2 * RATE) / RATE
    tones = sum(np.sin(2 * np.pi * hz * t) * rng.uniform(0.3, 1) for hz in rng.uniform(80, 900, 6))
    return tones * np.exp(-(t - 0.4) / 0.08) * (t > 0.4) + rng.normal(size=len(t)) * 0.02
