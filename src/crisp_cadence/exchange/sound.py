"""Sound files: WAV and FLAC in, as samples; what is too large or no sound is refused unpacked."""

from __future__ import annotations

import io
from typing import NoReturn

import numpy as np
import numpy.typing as npt

from ..core.ledger.errors import EntryError, problem
from ..core.tuning.listening import HIGHEST_RATE, LOWEST_RATE

LARGEST_SOUND = 20_000_000  # bytes
LONGEST_SOUND_S = 120.0
MOST_SAMPLES = 50_000_000  # of all channels, once unpacked
FORMS = ("WAV", "WAVEX", "FLAC")


def read_sound(data: bytes) -> tuple[npt.NDArray[np.float64], float]:
    """Samples of full scale ±1, shape (n, channels), and their rate in Hz; EntryError where it is no
    sound that can be read, or more than is taken.
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
            if file.frames * file.channels > MOST_SAMPLES:
                limit = f"{MOST_SAMPLES:,} samples"
                _refuse("has too many channels", str(file.channels), limit, "Record in mono.")
            # A head may say less than follows: no more is unpacked than it may last.
            samples = file.read(int(LONGEST_SOUND_S * rate), dtype="float64", always_2d=True)
    except (soundfile.LibsndfileError, RuntimeError, ValueError, TypeError) as error:
        if isinstance(error, EntryError):
            raise
        _refuse("is no sound file that can be read", "", "WAV or FLAC", "Save the recording as WAV.")
    if samples.shape[0] == 0:
        _refuse("holds no sound", "0 s", "some plucks", "Look whether the recording was saved.")
    if not np.isfinite(samples).all():
        _refuse("holds numbers that are no sound", "not finite", "finite", "Save it as 16-bit WAV.")
    return samples, rate


def _refuse(message: str, value: str, limit: str, remedy: str) -> NoReturn:
    raise EntryError([problem("sound", message, value=value, limit=limit, remedy=remedy)])
