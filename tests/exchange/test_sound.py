"""Sound files: read, and refused with field, limit and remedy; and the command that listens to one."""

from __future__ import annotations

import base64
import io
import json
import struct
import tracemalloc
from pathlib import Path

import numpy as np
import plucks
import pytest
import soundfile
from fastapi.testclient import TestClient
from plucks import RATE, Sound

from crisp_cadence import cli
from crisp_cadence.core.ledger.errors import EntryError
from crisp_cadence.core.tuning.listening import listen
from crisp_cadence.exchange.sound import LARGEST_SOUND, read_sound

SOUND = plucks.several(np.random.default_rng(21), 3, 80.0, second=0.0)


def file_of(sound: Sound, form: str = "WAV", subtype: str = "PCM_16", rate: int = RATE) -> bytes:
    out = io.BytesIO()
    soundfile.write(out, sound, rate, format=form, subtype=subtype)
    return out.getvalue()


@pytest.mark.parametrize(
    ("form", "subtype"), [("WAV", "PCM_16"), ("WAV", "PCM_U8"), ("WAV", "FLOAT"), ("FLAC", "PCM_24")]
)
def test_what_was_written_is_read(form: str, subtype: str) -> None:
    samples, rate = read_sound(file_of(SOUND, form, subtype))
    assert rate == RATE
    assert samples.shape == (len(SOUND),)
    assert np.abs(samples - SOUND).max() < (0.01 if subtype == "PCM_U8" else 1e-4)


def refusal(data: bytes) -> tuple[str, str, str]:
    with pytest.raises(EntryError) as caught:
        read_sound(data)
    (found,) = caught.value.problems
    assert found.field == "sound"
    assert found.remedy
    return found.message, str(found.limit), found.remedy


def test_what_is_no_sound_is_refused_with_limit_and_remedy() -> None:
    for data in (
        b"hello, this is no sound",
        b"",
        b"RIFF" + b"\0" * 60,
        file_of(SOUND)[:30],
        bytes(range(256)),
    ):
        assert refusal(data)[0] == "is no sound file that can be read"
    assert refusal(b"\0" * (LARGEST_SOUND + 1))[:2] == ("is too large", "20,000,000 bytes")
    assert refusal(file_of(np.zeros(0)))[0] == "holds no sound"
    hour = file_of(np.zeros(3600 * 4000, np.float32), "WAV", "PCM_U8", 4000)
    assert refusal(hour)[:2] == ("lasts too long", "120 s")
    assert refusal(file_of(SOUND, "OGG", "VORBIS"))[0] == "is OGG"
    assert refusal(file_of(np.full(9000, np.nan), "WAV", "FLOAT"))[0] == "holds numbers that are no sound"


def test_a_file_that_unpacks_to_hours_is_refused_before_it_is_unpacked() -> None:
    """Silence packs to nearly nothing: ten hours in some kilobytes."""
    bomb = file_of(np.zeros(10 * 3600 * 4000, np.int16), "FLAC", "PCM_16", 4000)
    assert len(bomb) < 600_000  # bytes, of 288 million unpacked
    assert refusal(bomb)[0] == "lasts too long"
    # Its head says that it is short: no more is unpacked than the longest sound that is taken.
    lying = bytearray(bomb)
    lying[18 + 3] = lying[18 + 3] & 0xF0  # total samples are 36 bits from here
    lying[22:26] = struct.pack(">I", 4000)
    samples, _ = read_sound(bytes(lying))
    assert len(samples) <= 120 * 4000


def client(tmp_path: Path) -> TestClient:
    from crisp_cadence.api.app import make_app
    from crisp_cadence.store import Store

    return TestClient(make_app(Store(tmp_path)), base_url="http://127.0.0.1")


def test_the_page_sends_a_sound_and_gets_its_pitch(tmp_path: Path) -> None:
    with client(tmp_path) as page:
        body = {"sound": base64.b64encode(file_of(SOUND)).decode()}
        heard = page.post("/api/listen", json=body)
        assert heard.status_code == 200
        assert heard.json()["free_hz"] == pytest.approx(80.0, rel=0.001)
        assert len(heard.json()["plucks"]) == 3
        for wrong in ("not base64!", base64.b64encode(b"no sound").decode()):
            refused = page.post("/api/listen", json={"sound": wrong})
            assert refused.status_code == 422
            assert refused.json()["problems"][0]["field"] == "sound"


def listened(capsys: pytest.CaptureFixture[str], *given: str) -> tuple[int, dict[str, object], str]:
    code = cli.main(["listen", *given])
    out = capsys.readouterr()
    return code, json.loads(out.out) if out.out else {}, out.err


def test_the_command_tells_pitch_tension_and_verdict(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    (tmp_path / "pluck.flac").write_bytes(file_of(SOUND, "FLAC"))
    code, said, _ = listened(capsys, str(tmp_path / "pluck.flac"))
    assert code == 0
    assert said["pitch_hz"] == pytest.approx(80.02, rel=0.001)
    assert "tension_n" not in said
    cli.main(["examples", str(tmp_path)])
    capsys.readouterr()
    design = str(tmp_path / "seed-shuttle-aisle.json")
    code, said, _ = listened(capsys, str(tmp_path / "pluck.flac"), "--design", design, "--span", "200")
    assert code == 0
    assert said["verdict"] in ("within the band", "low", "high")
    assert said["belt"] == "the belt"
    assert said["span_mm"] == 200
    longer = listened(capsys, str(tmp_path / "pluck.flac"), "--design", design, "--span", "400")[1]
    assert float(str(longer["tension_n"])) / float(str(said["tension_n"])) == pytest.approx(4.0, rel=0.06)


def test_the_command_ends_with_three_where_it_cannot_tell_and_two_where_it_is_refused(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    (tmp_path / "voice.wav").write_bytes(file_of(plucks.speech(np.random.default_rng(1)) / 4))
    code, said, err = listened(capsys, str(tmp_path / "voice.wav"))
    assert code == 3
    assert said["pitch_hz"] is None
    assert err.strip() == said["says"]
    (tmp_path / "text.wav").write_text("hello")
    code, _, err = listened(capsys, str(tmp_path / "text.wav"))
    assert code == 2
    assert "WAV or FLAC" in err
    cli.main(["examples", str(tmp_path)])
    capsys.readouterr()
    (tmp_path / "pluck.wav").write_bytes(file_of(SOUND))
    for design, says in (("kiln-room-hoist", "no belt"), ("trimming-bench-potter-s-wheel", "which belt")):
        file = str(tmp_path / f"{design}.json")
        code, _, err = listened(capsys, str(tmp_path / "pluck.wav"), "--design", file)
        assert code == 2
        assert says in err


def test_a_small_file_of_many_channels_takes_no_more_than_its_bound() -> None:
    """46 kB of FLAC once took 1 GB: frames × channels × 8 bytes, all at once."""
    file = io.BytesIO()
    quiet = np.zeros((48_000 * 115, 8), dtype=np.int16)
    quiet[1000, 3] = 20_000
    soundfile.write(file, quiet, 48_000, format="FLAC")
    assert len(file.getvalue()) < 1_000_000
    del quiet
    tracemalloc.start()
    try:
        samples, rate = read_sound(file.getvalue())
        heard = listen(samples, rate)
        peak = tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()
    assert samples.shape == (48_000 * 115,)
    assert samples[1000] > 0.5, "the channel that swings"
    assert heard.pitch_hz is None
    assert peak < 200e6, f"{peak / 1e6:.0f} MB"


def test_more_than_two_minutes_at_48_khz_is_refused_with_what_would_do() -> None:
    file = io.BytesIO()
    soundfile.write(file, np.zeros(192_000 * 40, dtype=np.int16), 192_000, format="FLAC")
    with pytest.raises(EntryError, match="lasts too long") as refused:
        read_sound(file.getvalue())
    assert refused.value.problems[0].limit == "31 s at 192000 Hz"
    assert "48000" in refused.value.problems[0].remedy
