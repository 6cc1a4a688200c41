"""Pitch of plucks: right to half a percent with all that a workshop adds, and silent rather than wrong."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import plucks
import pytest
from plucks import RATE, Made, Sound, pluck

from crisp_cadence.core.tuning.listening import Expected, Heard, listen

HALF_PERCENT = 0.005
Make = Callable[[np.random.Generator], Made]


def counted(make: Make, times: int, seed: int) -> tuple[int, int, int]:
    """How many of some sounds were heard right, not told, and heard wrong."""
    right = silent = 0
    for i in range(times):
        made = make(np.random.default_rng([seed, i]))
        heard = listen(made.sound, RATE)
        if heard.free_hz is None:
            assert heard.says
            silent += 1
        elif abs(heard.free_hz / made.free_hz - 1) <= HALF_PERCENT:
            right += 1
    return right, silent, times - right - silent


def test_ninety_nine_of_a_hundred_plucks_are_right_and_the_rest_silent() -> None:
    right, _, wrong = counted(pluck, 100, 16)
    assert right >= 99
    assert wrong == 0


HARD: dict[str, Make] = {
    "no noise": lambda rng: pluck(rng, noise_db=None, hum=0, second=0),
    "a microphone that hears no fundamental": lambda rng: pluck(rng, hears_from_hz=600),
    "plucked at its middle, where every other partial has its node": lambda rng: pluck(rng, place=0.5),
    "very stiff": lambda rng: pluck(rng, stiffness=0.008),
    "as much noise as sound": lambda rng: pluck(rng, noise_db=0),
    "high": lambda rng: pluck(rng, free_hz=float(rng.uniform(400, 1200))),
}


@pytest.mark.parametrize("name", HARD)
def test_what_makes_it_hard_makes_it_silent_and_not_wrong(name: str) -> None:
    right, _, wrong = counted(HARD[name], 20, 3)
    assert right >= 19
    assert wrong == 0


def test_an_echoing_room_a_loud_hum_and_low_runs_lose_some_but_tell_no_wrong_pitch() -> None:
    def echo(rng: np.random.Generator) -> Made:
        made = pluck(rng)
        return Made(plucks.echoing(made.sound), made.free_hz, made.stiffness)

    for make in (echo, lambda rng: pluck(rng, hum=1.0)):
        right, _, wrong = counted(make, 30, 8)
        assert right >= 24
        assert wrong == 0


def test_two_runs_that_ring_alike_are_not_told_apart_but_said() -> None:
    right, silent, wrong = counted(lambda rng: pluck(rng, second=1.0), 20, 5)
    assert wrong == 0
    assert silent >= 18
    assert right <= 2
    both = listen(pluck(np.random.default_rng(1), 80.0, 0.0005, second=1.0).sound, RATE)
    assert "two runs ring together" in both.says
    quieter = listen(pluck(np.random.default_rng(1), 80.0, 0.0005, second=0.4).sound, RATE)
    assert quieter.also_hz == pytest.approx(85.6, rel=0.01) or quieter.also_hz == pytest.approx(
        74.4, rel=0.01
    )


NO_PLUCKS: dict[str, Callable[[np.random.Generator], Sound]] = {
    "noise": lambda rng: rng.normal(size=2 * RATE) * 0.1,
    "speech": plucks.speech,
    "a motor that runs": lambda rng: plucks.motor(rng, 0.0),
    "a motor that is switched on": lambda rng: plucks.motor(rng, 0.5),
}


@pytest.mark.parametrize("name", NO_PLUCKS)
def test_what_is_no_pluck_has_no_pitch(name: str) -> None:
    for i in range(20):
        heard = listen(NO_PLUCKS[name](np.random.default_rng([7, i])), RATE)
        assert heard.pitch_hz is None, heard.says
        assert heard.says


def test_a_knock_on_a_frame_is_taken_for_a_string_once_in_twenty_at_most() -> None:
    """Six tones at random do make a series now and then: a frame that sounds like a string is one."""
    told = sum(
        listen(plucks.knock(np.random.default_rng([9, i])), RATE).pitch_hz is not None for i in range(40)
    )
    assert told <= 2


def said(sound: Sound, rate: float = RATE) -> str:
    heard = listen(sound, rate)
    assert heard.pitch_hz is None
    return heard.says


def tone(hz: float) -> Sound:
    return np.sin(2 * np.pi * hz * np.arange(2 * RATE) / RATE)


def test_what_cannot_serve_is_said_with_what_was_heard() -> None:
    assert "no sound" in said(np.zeros(RATE))
    assert "a pluck needs" in said(tone(80)[:2000])
    assert "10 Hz, lower than any run" in said(tone(10))
    assert "2e+04 Hz, higher than" in said(tone(20_000))
    assert "120 Hz that does not die away" in said(tone(120))
    assert "plucks do not agree" in said(
        np.concatenate([pluck(np.random.default_rng(i), 80.0 + 15 * i, 0.0).sound for i in range(3)])
    )


@pytest.mark.parametrize("samples", [np.zeros((0,)), np.zeros((2, 3, 4)), np.array([0.0, np.nan])])
def test_what_is_no_sound_is_no_answer(samples: Sound) -> None:
    with pytest.raises(ValueError, match="samples"):
        listen(samples, RATE)
    with pytest.raises(ValueError, match="rate"):
        listen(np.zeros(1000), 100.0)


def test_several_plucks_give_one_pitch_with_their_spread() -> None:
    heard = listen(plucks.several(np.random.default_rng(2), 4, 95.0), RATE)
    assert len(heard.plucks) == 4
    assert heard.free_hz == pytest.approx(95.0, rel=0.001)
    assert heard.pitch_hz == pytest.approx(95.0 * 1.0005**0.5, rel=0.001)
    told = [p.pitch_hz for p in heard.plucks if p.pitch_hz]
    assert heard.spread_hz is not None
    assert heard.spread_hz >= np.std(told, ddof=1) * 0.999
    assert [round(p.at_s, 1) for p in heard.plucks] == [0.3, 1.6, 2.9, 4.2]


def test_hum_is_named_and_a_cut_off_sound_too() -> None:
    rng = np.random.default_rng(4)
    heard = listen(pluck(rng, 110.0, 0.0, hum=0.6).sound, RATE)
    assert any(abs(hz - 50) < 1.5 or abs(hz - 60) < 1.5 for hz in heard.steady_hz)
    loud = np.clip(plucks.several(rng, 2, 110.0) * 3, -0.7, 0.7)
    cut = listen(loud, RATE)
    assert cut.clipped
    assert cut.pitch_hz is None or "cut off" in cut.says


@pytest.mark.parametrize("form", ["8 bit", "96 kHz", "stereo, one side silent", "against each other"])
def test_the_form_of_a_recording_does_not_matter(form: str) -> None:
    sound = plucks.several(np.random.default_rng(11), 3, 82.4)
    rate = float(RATE)
    if form == "8 bit":
        sound = np.round(sound * 127) / 127
    elif form == "96 kHz":
        sound, rate = np.interp(np.arange(2 * len(sound)) / 2, np.arange(len(sound)), sound), 96_000.0
    elif form == "stereo, one side silent":
        sound = np.stack([np.zeros_like(sound), sound], axis=1)
    else:
        sound = np.stack([sound, -sound], axis=1)
    assert listen(sound, rate).free_hz == pytest.approx(82.4, rel=0.001)


def test_a_pitch_that_the_run_cannot_have_is_not_told() -> None:
    sound = plucks.several(np.random.default_rng(12), 3, 80.0)

    def within(low: float, high: float) -> Heard:
        return listen(sound, RATE, Expected(low, high))

    assert within(50, 200).free_hz == pytest.approx(80.0, rel=0.001)
    assert within(300, 600).free_hz is None
