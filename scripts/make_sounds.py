"""Makes the demo's sounds from sums of sines and noise, and writes them into its folder. Deterministic."""

from __future__ import annotations

import dataclasses
import io
import wave
from pathlib import Path

import numpy as np

from vocanta.core.project.assets import Package, asset_name, from_folder, to_folder
from vocanta.core.project.fileformat import loads

RATE = 11_025
DEMO = Path("src/vocanta/demo/night_bloom")


def _time(seconds: float) -> np.ndarray:
    return np.arange(int(RATE * seconds)) / RATE


def _noise(seconds: float, seed: int, soft: int) -> np.ndarray:
    raw = np.random.default_rng(seed).standard_normal(int(RATE * seconds) + soft)
    return np.convolve(raw, np.ones(soft) / np.sqrt(soft), "valid")[: int(RATE * seconds)]


def bell() -> np.ndarray:
    """A cast bell: five partials that fade at their own pace."""
    t = _time(2.4)
    partials = ((392, 1.0, 1.6), (588, 0.6, 2.4), (784, 0.7, 2.2), (1176, 0.4, 3.6), (1611, 0.25, 5.0))
    return sum(a * np.exp(-d * t) * np.sin(2 * np.pi * f * t) for f, a, d in partials)


def click() -> np.ndarray:
    """A small metal tongue."""
    t = _time(0.4)
    return np.exp(-38 * t) * np.sin(2 * np.pi * 1900 * t) + 0.4 * np.exp(-60 * t) * _noise(0.4, 3, 2)


def page() -> np.ndarray:
    """A page turning: noise that swells twice."""
    t = _time(0.6)
    return _noise(0.6, 5, 3) * (np.exp(-((t - 0.15) ** 2) / 0.006) + 0.6 * np.exp(-((t - 0.42) ** 2) / 0.004))


def water() -> np.ndarray:
    """Water beginning to run, then running off."""
    t = _time(3.2)
    swell = np.minimum(1, t / 0.8) * np.minimum(1, (3.2 - t) / 1.2)
    return (_noise(3.2, 7, 9) + 0.5 * _noise(3.2, 8, 40)) * swell * (0.8 + 0.2 * np.sin(2 * np.pi * 1.3 * t))


def creak() -> np.ndarray:
    """A hinge: a low rasp whose pitch wanders."""
    t = _time(1.2)
    pitch = 190 + 60 * np.sin(2 * np.pi * 0.9 * t) + 25 * np.sin(2 * np.pi * 7 * t)
    saw = 2 * ((np.cumsum(pitch) / RATE) % 1.0) - 1
    return (
        saw * (0.4 + 0.6 * (np.sin(2 * np.pi * 13 * t) > 0)) * np.minimum(1, t / 0.1) * np.minimum(1, (1.2 - t) / 0.3)
    )


def lid() -> np.ndarray:
    """A wooden lid: a knock with a short rattle."""
    t = _time(0.5)
    return np.exp(-22 * t) * np.sin(2 * np.pi * 140 * t) + 0.5 * np.exp(-14 * t) * _noise(0.5, 11, 6)


def wings() -> np.ndarray:
    """Very many small wings: noise beaten eighteen times a second."""
    t = _time(0.9)
    return _noise(0.9, 13, 4) * (0.5 + 0.5 * np.sin(2 * np.pi * 18 * t)) * np.minimum(1, (0.9 - t) / 0.5)


def groan() -> np.ndarray:
    """A press under load: two low tones that sink."""
    t = _time(1.1)
    pitch = 95 - 25 * t
    return (np.sin(2 * np.pi * np.cumsum(pitch) / RATE) + 0.6 * np.sin(3.1 * np.pi * np.cumsum(pitch) / RATE)) * np.exp(
        -1.2 * t
    )


def cut() -> np.ndarray:
    """A blade through something green."""
    t = _time(0.4)
    return _noise(0.4, 17, 2) * np.exp(-16 * t) * (0.4 + 0.6 * (t > 0.05))


def drip() -> np.ndarray:
    """Two drops of oil: tones that rise and stop."""
    t = _time(0.6)
    first = np.exp(-18 * t) * np.sin(2 * np.pi * (420 + 500 * t) * t)
    return first + 0.7 * np.roll(first, int(RATE * 0.28))


def roll() -> np.ndarray:
    """Small wheels on a stone floor."""
    t = _time(1.2)
    swell = np.minimum(1, t / 0.2) * np.minimum(1, (1.2 - t) / 0.4)
    return _noise(1.2, 19, 14) * swell * (0.7 + 0.3 * np.sin(2 * np.pi * 9 * t))


def valve() -> np.ndarray:
    """A valve turned in three jerks."""
    t = _time(0.7)
    jerks = sum(np.exp(-(((t - at) / 0.05) ** 2)) for at in (0.1, 0.32, 0.55))
    return (0.6 * _noise(0.7, 23, 3) + np.sin(2 * np.pi * 310 * t)) * jerks


SOUNDS = {
    "yard_bell_ring": bell,
    "lamp_click": click,
    "page_turn": page,
    "water_running": water,
    "door_creak": creak,
    "crate_lid": lid,
    "wing_beat": wings,
    "press_groan": groan,
    "blade_cut": cut,
    "oil_drip": drip,
    "trolley_roll": roll,
    "valve_turn": valve,
}


def as_wave(samples: np.ndarray) -> bytes:
    """Samples as a 16-bit mono wave file, two thirds of full loudness."""
    scaled = (samples / np.abs(samples).max() * 0.66 * 32_767).astype("<i2")
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes(scaled.tobytes())
    return out.getvalue()


def main() -> None:
    """Make every sound anew and point the demo at it."""
    project = loads((DEMO / "project.json").read_text(encoding="utf-8"))
    made = {key: as_wave(make()) for key, make in SOUNDS.items()}
    names = {key: asset_name(data, ".wav") for key, data in made.items()}
    sounds = tuple(
        dataclasses.replace(s, file=names[s.key], seconds=round(len(SOUNDS[s.key]()) / RATE, 2)) for s in project.sounds
    )
    for old in (DEMO / "assets").glob("*.wav"):
        old.unlink()
    to_folder(Package(dataclasses.replace(project, sounds=sounds), {names[k]: made[k] for k in made}), DEMO)
    from_folder(DEMO)


if __name__ == "__main__":
    main()
