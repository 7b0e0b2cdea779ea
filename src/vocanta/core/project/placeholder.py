"""Placeholder sounds made from a few words: what sort, how long, how high, how rough. The same words give the same bytes."""

from __future__ import annotations

import io
import wave
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Literal, get_args

import numpy as np
import numpy.typing as npt
from pydantic import Field, TypeAdapter

Sort = Literal["knock", "creak", "chime", "splash", "step", "hum", "whoosh"]
SORTS: tuple[Sort, ...] = get_args(Sort)
Part = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


@dataclass(frozen=True, slots=True)
class Made:
    """A placeholder in words: of which sort, how many seconds, and from 0 to 1 how high and how rough."""

    sort: Sort
    seconds: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False)] = 0.5
    height: Part = 0.4
    rough: Part = 0.2

    def data(self) -> bytes:
        """The bytes of its file."""
        return placeholder(self.sort, self.seconds, self.height, self.rough)


MADE = TypeAdapter(Made)
RATE = 22_050
"""Samples a second."""
LOWEST_HZ, HIGHEST_HZ = 70.0, 1_400.0
PEAK = 0.7
EDGE_S = 0.004
"""So long it swells and dies away, so that it never clicks."""
Samples = npt.NDArray[np.float64]


def pitch_hz(height: float) -> float:
    """The pitch of a height from 0 (low) to 1 (high), in equal steps to the ear.

    >>> pitch_hz(0.0), pitch_hz(1.0)
    (70.0, 1400.0)
    """
    return float(LOWEST_HZ * (HIGHEST_HZ / LOWEST_HZ) ** height)


def placeholder(sort: Sort, seconds: float, height: float, rough: float) -> bytes:
    """A wave file, 16 bit, one channel: so many seconds long, `height` and `rough` from 0 to 1."""
    count = max(1, round(seconds * RATE))
    t = np.arange(count) / RATE
    noise = np.random.default_rng([SORTS.index(sort), count]).standard_normal(count)
    hz = pitch_hz(height)
    tone = _MADE[sort](t, hz, noise)
    mixed = (1.0 - 0.8 * rough) * tone / _loudest(tone) + 0.8 * rough * _envelope(tone) * noise / _loudest(noise)
    edge = max(1, min(round(EDGE_S * RATE), count // 2))
    swell = np.ones(count)
    swell[:edge], swell[count - edge :] = np.linspace(0.0, 1.0, edge), np.linspace(1.0, 0.0, edge)
    mixed = mixed * swell
    return _wave(PEAK * mixed / _loudest(mixed))


def _loudest(samples: Samples) -> float:
    return float(np.max(np.abs(samples))) or 1.0


def _envelope(samples: Samples) -> Samples:
    """How loud it is from moment to moment, from 0 to 1."""
    width = max(1, RATE // 100)
    smooth = np.convolve(np.abs(samples), np.ones(width) / width, mode="full")[width // 2 :][: len(samples)]
    return np.asarray(smooth / _loudest(smooth))


def _wave(samples: Samples) -> bytes:
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes((samples * 32_767).astype("<i2").tobytes())
    return out.getvalue()


def _tone(t: Samples, hz: float) -> Samples:
    return np.sin(2.0 * np.pi * hz * t)


def _low(samples: Samples, hz: float) -> Samples:
    """What of a sound lies below a pitch, softly cut."""
    spectrum = np.fft.rfft(samples)
    freqs = np.fft.rfftfreq(len(samples), 1.0 / RATE)
    return np.fft.irfft(spectrum / (1.0 + (freqs / hz) ** 4), len(samples))


def _knock(t: Samples, hz: float, noise: Samples) -> Samples:
    """Two thumps, the second softer."""
    found = np.zeros_like(t)
    for begin, loud in ((0.0, 1.0), (t[-1] * 0.45, 0.6)):
        since = np.clip(t - begin, 0.0, None)
        found += np.where(t >= begin, loud * np.exp(-since * 28.0) * _tone(since, hz), 0.0)
    return found


def _creak(t: Samples, hz: float, noise: Samples) -> Samples:
    """A saw that drags and catches."""
    drag = hz * (1.0 + 0.25 * np.sin(2.0 * np.pi * 1.3 * t))
    phase = np.cumsum(drag) / RATE
    return (2.0 * (phase % 1.0) - 1.0) * (0.35 + 0.65 * np.abs(np.sin(2.0 * np.pi * 5.5 * t)))


def _chime(t: Samples, hz: float, noise: Samples) -> Samples:
    """A struck bell: three partials that die away, the higher the sooner."""
    length = max(float(t[-1]), 0.05)
    parts = ((1.0, 1.0, 3.0), (2.76, 0.5, 5.0), (5.4, 0.25, 8.0))
    return sum((loud * np.exp(-t * fade / length) * _tone(t, hz * by) for by, loud, fade in parts), np.zeros_like(t))


def _splash(t: Samples, hz: float, noise: Samples) -> Samples:
    """Noise that dies away and grows dull."""
    fade = np.exp(-4.0 * t / max(float(t[-1]), 0.05))
    return fade * (fade * _low(noise, 6.0 * hz) + (1.0 - fade) * _low(noise, 2.0 * hz))


def _step(t: Samples, hz: float, noise: Samples) -> Samples:
    """A dull heel and a short scrape."""
    return np.exp(-t * 45.0) * _low(noise, 3.0 * hz) + 0.8 * np.exp(-t * 60.0) * _tone(t, hz)


def _hum(t: Samples, hz: float, noise: Samples) -> Samples:
    """Something that runs: one pitch with two soft overtones."""
    return _tone(t, hz) + 0.3 * _tone(t, 2.0 * hz) + 0.15 * _tone(t, 3.0 * hz)


def _whoosh(t: Samples, hz: float, noise: Samples) -> Samples:
    """Air that swells and goes."""
    return np.sin(np.pi * t / max(float(t[-1]), 1.0 / RATE)) ** 2 * _low(noise, 5.0 * hz)


_MADE: dict[Sort, Callable[[Samples, float, Samples], Samples]] = {
    "knock": _knock,
    "creak": _creak,
    "chime": _chime,
    "splash": _splash,
    "step": _step,
    "hum": _hum,
    "whoosh": _whoosh,
}
