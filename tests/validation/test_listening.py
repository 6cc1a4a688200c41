"""The reader of plucks against what it shares no code with: a string stepped through time, FFT libraries."""

from __future__ import annotations

import numpy as np
import pytest
import scipy.fft
import scipy.signal
from numpy.typing import NDArray
from scipy import stats

from crisp_cadence.core.formulas.tension import tension_from_partials
from crisp_cadence.core.tuning.listening import listen
from crisp_cadence.core.tuning.pitch import Peak, fit

RATE = 48_000
Sound = NDArray[np.float64]


def stepped_string(
    free_hz: float, stiffness: float, place: float, seconds: float = 1.2, loss: float = 3.0, cells: int = 100
) -> Sound:
    """A stiff string between two hinges, u_tt = c²·u_xx − κ²·u_xxxx − 2σ·u_t, stepped through time by
    finite differences (explicit, of second order; L = 1, c = 2·f, κ² = B·c²/π²), pulled aside at one place and
    let go; heard at a sixteenth of its length.
    """
    c, dt = 2 * free_hz, 1 / RATE
    steps = max(int(np.ceil(cells * c * dt * 1.1 * np.sqrt(1 + stiffness * cells**2 / 2))), 1)
    dt /= steps
    h = 1 / cells
    kappa2 = stiffness * c**2 / np.pi**2
    x = np.linspace(0, 1, cells + 1)
    u = np.where(x < place, x / place, (1 - x) / (1 - place)) * 1e-3
    before = u.copy()
    ear = max(cells // 16, 1)
    out = np.empty(int(seconds * RATE))
    a, b, s = (c * dt / h) ** 2, kappa2 * dt**2 / h**4, loss * dt
    assert a + 4 * b < 1, "the scheme is stable"
    wide = np.zeros(cells + 5)
    for i in range(len(out)):
        for _ in range(steps):
            wide[2:-2] = u
            wide[1], wide[-2] = -u[1], -u[-2]  # hinged: the curvature is 0 at both ends
            wide[0], wide[-1] = -u[2], -u[-3]
            bent = np.diff(wide, 2)[1:-1]
            bent4 = np.diff(wide, 4)
            new = (2 * u - (1 - s) * before + a * bent - b * bent4) / (1 + s)
            new[0] = new[-1] = 0.0
            before, u = u, new
        out[i] = u[ear]
    return out


STRINGS = [(82.4, 0.0004, 0.3), (61.0, 0.001, 0.45), (130.0, 0.0002, 0.25), (196.0, 0.002, 0.5)]


@pytest.mark.parametrize(("free_hz", "stiffness", "place"), STRINGS)
def test_a_stepped_string_is_heard_within_ten_cent_of_what_an_fft_library_reads(
    free_hz: float, stiffness: float, place: float
) -> None:
    """The equation of a stiff string with hinged ends, by finite differences; its pitch by an FFT library.

    Outside: 4; published: N. H. Fletcher, T. D. Rossing, The Physics of Musical Instruments (from memory)
    """
    sound = stepped_string(free_hz, stiffness, place)
    heard = listen(np.concatenate([np.zeros(RATE // 4), sound]) / np.abs(sound).max() * 0.5, RATE)
    assert heard.pitch_hz is not None
    # scipy's FFT of the sound itself, four times padded; the top of the lowest partial
    size = 4 * len(sound)
    level = np.abs(scipy.fft.rfft(sound * np.hanning(len(sound)), size))
    hz = scipy.fft.rfftfreq(size, 1 / RATE)
    near = (hz > 0.8 * free_hz) & (hz < 1.2 * free_hz)
    first = hz[near][np.argmax(level[near])]
    assert abs(1200 * np.log2(heard.pitch_hz / first)) < 10
    # And Fletcher's series, f_n = n·f·√(1 + B·n²): the pitch without stiffness is the one it was made with.
    assert heard.free_hz == pytest.approx(free_hz, rel=0.005)
    # A grid of 100 cells sounds as if B were less: by π²/12·10⁻⁴ at most, its own dispersion, and its fourth
    # difference by (π·n/100)²/6 of B, a tenth at the highest partials.
    assert heard.plucks[0].stiffness == pytest.approx(stiffness, abs=1e-4 + 0.1 * stiffness)


def test_partials_of_a_stiff_string_follow_fletcher() -> None:
    """f_n = n·F·√(1 + B·n²): F = 100 Hz and B = 0.0004 give 100.02, 200.16, 300.54 and 810.17 Hz, by hand.

    Outside: 4; published: H. Fletcher, Normal vibration frequencies of a stiff piano string, 1964 (from memory)
    """
    peaks = [Peak(hz, 1.0, 40.0) for hz in (100.02, 200.16, 300.54, 810.17)]
    free, stiffness, _ = fit([1, 2, 3, 8], peaks, 2.0)
    assert free == pytest.approx(100.0, rel=1e-4)
    assert stiffness == pytest.approx(0.0004, rel=0.02)


@pytest.mark.parametrize("held", [True, False])
@pytest.mark.parametrize("span_mm", [140.0, 260.0])
def test_tension_by_the_partials_is_that_of_a_bar_under_tension(held: bool, span_mm: float) -> None:
    """A bar under tension as a matrix of finite differences, EI·d⁴w/dx⁴ − T·d²w/dx² = µ·ω²·w: the tension that
    its partials tell is the one that was put in, within the spread of how its ends are held.

    Outside: 4; library: NumPy, eigenvalues of a symmetric matrix
    """
    tension, bending, line_mass, n = 25.0, 60.0, 8.1, 500
    h = span_mm / n
    d2 = (np.diag(np.full(n - 1, -2.0)) + np.diag(np.ones(n - 2), 1) + np.diag(np.ones(n - 2), -1)) / h**2
    d4 = d2 @ d2
    if held:  # the mirror point beyond a clamped end has the same deflection, not the opposite one
        d4[0, 0] += 2 / h**4
        d4[-1, -1] += 2 / h**4
    omega2 = np.linalg.eigvalsh(bending * d4 - tension * d2) / (line_mass * 1e-9)  # t/mm, so that it is 1/s²
    hz = np.sqrt(omega2[:8]) / (2 * np.pi)
    free, stiffness, _ = fit(list(range(1, 9)), [Peak(float(f), 1.0, 60.0) for f in hz], 1.0)
    beta = span_mm * np.sqrt(tension / bending)
    assert stiffness == pytest.approx((np.pi / beta) ** 2, rel=0.06)
    told = tension_from_partials(free * np.sqrt(1 + stiffness), stiffness, line_mass, span_mm)
    assert told == pytest.approx(tension, rel=2.2 / beta)


def test_two_tones_beat_at_their_difference() -> None:
    """Two tones f and f' swell f − f' times a second; counted in the sound's own level.

    Outside: 1; published: beats, any text on acoustics; library: SciPy, analytic signal
    """
    t = np.arange(int(1.5 * RATE)) / RATE
    sound = np.zeros_like(t)
    for hz, loud in ((80.0, 1.0), (86.0, 0.35)):
        sound += sum(loud / n * np.sin(2 * np.pi * n * hz * t) for n in range(1, 9)) * np.exp(-t / 0.5)
    heard = listen(np.concatenate([np.zeros(RATE // 3), sound]), RATE)
    assert heard.pitch_hz is not None
    assert heard.also_hz is not None
    swells = abs(heard.also_hz - heard.pitch_hz)
    # Counted in the sound itself: how often the level of its first partials comes and goes.
    level = np.abs(scipy.signal.hilbert(scipy.signal.sosfilt(
        scipy.signal.butter(2, [70, 95], "bandpass", fs=RATE, output="sos"), sound)))  # fmt: skip
    level = level[RATE // 20 :] * np.exp(t[RATE // 20 :] / 0.5)
    beat = scipy.fft.rfftfreq(8 * len(level), 1 / RATE)
    power = np.abs(scipy.fft.rfft((level - level.mean()) * np.hanning(len(level)), 8 * len(level)))
    assert swells == pytest.approx(beat[1:][np.argmax(power[1:])], abs=0.3)


def test_the_spread_of_several_plucks_is_that_of_scipy() -> None:
    """Sample standard deviation of what was played.

    Outside: 1; library: SciPy, statistics
    """
    rng = np.random.default_rng(3)
    t = np.arange(RATE) / RATE
    played = 90 * (1 + 0.004 * rng.normal(size=6))
    parts = [np.zeros(RATE // 4)]
    for hz in played:
        parts.append(sum(np.sin(2 * np.pi * n * hz * t) / n for n in range(1, 7)) * np.exp(-t / 0.2))
    heard = listen(np.concatenate(parts), RATE)
    assert heard.spread_hz == pytest.approx(stats.tstd(played), rel=0.05)
    assert heard.pitch_hz == pytest.approx(float(np.median(played)), rel=0.001)
