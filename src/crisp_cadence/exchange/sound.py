"""Sound files: WAV and FLAC in, as samples; what is too large or no sound is refused unpacked."""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import TYPE_CHECKING, NoReturn

import numpy as np
import numpy.typing as npt

from ..core.ledger.errors import EntryError, problem
from ..core.tuning.listening import HIGHEST_RATE, LOWEST_RATE

if TYPE_CHECKING:
    import soundfile

LARGEST_SOUND = 20_000_000  # bytes
LONGEST_SOUND_S = 120.0
MOST_SAMPLES = 6_000_000  # of a channel: two minutes at 48 kHz, 46 MB once unpacked
BLOCK = 1_000_000  # samples of all channels that are unpacked at once
MOST_CHANNELS = 64
FORMS = ("WAV", "WAVEX", "FLAC")


def read_sound(data: bytes) -> tuple[npt.NDArray[np.float64], float]:
    """Samples of full scale ±1, shape (n,), of the channel that swings most, and their rate in Hz; EntryError
    where it is no sound that can be read, or more than is taken. It is unpacked block by block, so that a
    small file of many channels takes no more than one of a single one.
    """
    import soundfile

    if len(data) > LARGEST_SOUND:
        _refuse("is too large", f"{len(data):,}", f"{LARGEST_SOUND:,} bytes", "Record some plucks, not more.")
    try:
        with soundfile.SoundFile(io.BytesIO(data)) as file:
            form, rate, seconds = file.format, float(file.samplerate), file.frames / file.samplerate
            if form not in FORMS:
                _refuse(f"is {form}", form, "WAV or FLAC", "Save it as WAV, without loss.")
            if not LOWEST_RATE <= rate <= HIGHEST_RATE:
                limit = f"{LOWEST_RATE:g} to {HIGHEST_RATE:g} Hz"
                _refuse("has a rate that cannot be read", f"{rate:g}", limit, "Record at 44100 or 48000 Hz.")
            if seconds > LONGEST_SOUND_S:
                limit = f"{LONGEST_SOUND_S:g} s"
                _refuse("lasts too long", f"{seconds:.0f} s", limit, "Cut out the part with the plucks.")
            if file.channels > MOST_CHANNELS:
                _refuse("has too many channels", str(file.channels), str(MOST_CHANNELS), "Record in mono.")
            if file.frames > MOST_SAMPLES:
                limit = f"{MOST_SAMPLES / rate:.0f} s at {rate:g} Hz"
                _refuse("lasts too long", f"{seconds:.0f} s", limit, "Record at 48000 Hz, or cut it shorter.")
            # A head may say less than follows: no more is unpacked than it may last.
            most = min(MOST_SAMPLES, int(LONGEST_SOUND_S * rate))
            samples = _loudest(file, most)
    except (soundfile.LibsndfileError, RuntimeError, ValueError, TypeError) as error:
        if isinstance(error, EntryError):
            raise
        _refuse("is no sound file that can be read", "", "WAV or FLAC", "Save the recording as WAV.")
    if samples.shape[0] == 0:
        _refuse("holds no sound", "0 s", "some plucks", "Look whether the recording was saved.")
    if not np.isfinite(samples).all():
        _refuse("holds numbers that are no sound", "not finite", "finite", "Save it as 16-bit WAV.")
    return samples, rate


def _loudest(file: soundfile.SoundFile, most: int) -> npt.NDArray[np.float64]:
    """The channel that swings most about its middle: found in one pass, unpacked in a second one."""
    count, sums, squares = 0, np.zeros(file.channels), np.zeros(file.channels)
    for piece in _pieces(file, most):
        count += len(piece)
        sums += piece.sum(axis=0)
        squares += (piece * piece).sum(axis=0)
    with np.errstate(invalid="ignore"):
        swing = squares - sums * sums / max(count, 1)
    channel = int(np.argmax(swing)) if np.isfinite(swing).all() else int(np.argmin(np.isfinite(swing)))
    out = np.empty(count)
    at = 0
    file.seek(0)
    for piece in _pieces(file, count):
        out[at : at + len(piece)] = piece[:, channel]
        at += len(piece)
    return out[:at]


def _pieces(file: soundfile.SoundFile, most: int) -> Iterator[npt.NDArray[np.float64]]:
    """What comes next of a file, a block at a time."""
    frames = max(1, BLOCK // file.channels)
    while most > 0:
        piece = file.read(min(frames, most), dtype="float64", always_2d=True)
        if not len(piece):
            return
        most -= len(piece)
        yield piece


def _refuse(message: str, value: str, limit: str, remedy: str) -> NoReturn:
    raise EntryError([problem("sound", message, value=value, limit=limit, remedy=remedy)])
