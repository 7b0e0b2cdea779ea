"""Own sound files: what is a sound, how long it lasts, and how large it may be."""

from __future__ import annotations

import io
import wave
from dataclasses import dataclass

from ..core.project.assets import asset_name
from ..core.project.problems import Problem
from . import listing, models
from .edits import apply_edit
from .refusals import Refused, not_found
from .shapes import ChangeAsked, EditAsked, EditDone
from .writing import writing

MOST_BYTES = 4 * 1024 * 1024
_BEGINS = ((b"OggS", ".ogg"), (b"ID3", ".mp3"), (b"\xff\xfb", ".mp3"), (b"\xff\xf3", ".mp3"), (b"fLaC", ".flac"))


@dataclass(frozen=True)
class SoundFile:
    """A sound's bytes with the suffix of what they are, and how long they last where that can be read."""

    data: bytes
    suffix: str
    seconds: float | None


def read_sound(data: bytes) -> SoundFile:
    """What a file is. Raises `Refused` 413 (`sound_too_large`), 422 (`sound_unreadable`)."""
    if len(data) > MOST_BYTES:
        raise too_large(len(data))
    if data[:4] == b"RIFF" and data[8:12] == b"WAVE":
        return SoundFile(data, ".wav", _wave_seconds(data))
    for begins, suffix in _BEGINS:
        if data.startswith(begins):
            return SoundFile(data, suffix, None)
    raise _unreadable("The file is no sound that a browser plays.")


def too_large(size: int) -> Refused:
    """The refusal of a file of so many bytes."""
    problem = Problem(
        "sound_too_large",
        f"The file has {size / 2**20:.1f} MB; a sound may have {MOST_BYTES // 2**20} MB.",
        "Shorten it, or save it as ogg or mp3 at a lower rate. Nothing was changed.",
        "file",
    )
    return Refused(413, "Too large", [problem])


def _wave_seconds(data: bytes) -> float:
    try:
        with wave.open(io.BytesIO(data)) as file:
            return round(file.getnframes() / max(file.getframerate(), 1), 2)
    except (wave.Error, EOFError) as error:
        raise _unreadable(f"The file calls itself a wave file but cannot be read: {error}.") from error


def _unreadable(message: str) -> Refused:
    fix = "Choose a wav, ogg, mp3 or flac file. Nothing was changed."
    return Refused(422, "No sound", [Problem("sound_unreadable", message, fix, "file")])


def add_file(
    project_id: int, record_id: int, version: int | None, data: bytes, tab: str, ask: str, seconds: float | None
) -> EditDone:
    """Give a sound its file, as one edit based on a version. Raises `Refused` 404, 412, 413, 422."""
    project = listing.found_project(project_id)
    sound = models.Sound.objects.filter(project=project, pk=record_id).first()
    if sound is None:
        raise not_found("sound", f"record/{record_id}")
    found = read_sound(data)
    name = asset_name(data, found.suffix)
    lasts = found.seconds if found.seconds is not None else seconds if seconds is not None else sound.seconds
    change = ChangeAsked("set", id=record_id, version=version, values={"file": name, "seconds": lasts})
    with writing():
        models.Asset.objects.get_or_create(project=project, name=name, defaults={"data": data})
        return apply_edit(project.pk, EditAsked(tab, [change], f"Gave {sound.name} a file", ask=ask))
