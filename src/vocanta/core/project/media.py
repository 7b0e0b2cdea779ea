"""What a file of sound or picture is, by its content and never by its name."""

from __future__ import annotations

import io
import wave
from dataclasses import dataclass

_BEGINS = (
    (b"OggS", ".ogg", "audio/ogg"),
    (b"ID3", ".mp3", "audio/mpeg"),
    (b"\xff\xfb", ".mp3", "audio/mpeg"),
    (b"\xff\xf3", ".mp3", "audio/mpeg"),
    (b"fLaC", ".flac", "audio/flac"),
    (b"\x89PNG\r\n\x1a\n", ".png", "image/png"),
    (b"\xff\xd8\xff", ".jpg", "image/jpeg"),
)


@dataclass(frozen=True)
class Media:
    """A sound or a picture: the suffix and type of what it is, and how long it lasts where that can be read."""

    suffix: str
    type: str
    seconds: float | None = None

    @property
    def is_sound(self) -> bool:
        """Whether it is heard rather than seen."""
        return self.type.startswith("audio/")


class Unreadable(Exception):
    """A file that is no sound and no picture, or calls itself one and is broken; the text says which."""


def media_of(data: bytes) -> Media:
    """What some bytes are. Raises `Unreadable`."""
    if data[:4] == b"RIFF" and data[8:12] == b"WAVE":
        return Media(".wav", "audio/wav", _wave_seconds(data))
    for begins, suffix, media_type in _BEGINS:
        if data.startswith(begins):
            return Media(suffix, media_type)
    raise Unreadable("The file is no sound or picture that a browser shows.")


def _wave_seconds(data: bytes) -> float:
    try:
        with wave.open(io.BytesIO(data)) as file:
            rate, frames = int(file.getframerate()), int(file.getnframes())
    except (wave.Error, EOFError) as error:
        raise Unreadable(f"The file calls itself a wave file but cannot be read: {error}.") from error
    if rate < 1:
        raise Unreadable("The file calls itself a wave file but has no sample rate.")
    return round(frames / rate, 2)
