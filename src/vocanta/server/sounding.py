"""Own sound files: what is a sound, how long it lasts, and how large it may be."""

from __future__ import annotations

from ..core.project.assets import asset_name
from ..core.project.media import Media, Unreadable, media_of
from ..core.project.placeholder import placeholder
from ..core.project.problems import Problem
from . import listing, models
from .edits import apply_edit
from .refusals import Refused, not_found
from .shapes import ChangeAsked, EditAsked, EditDone, PlaceholderAsked
from .writing import writing

MOST_BYTES = 4 * 1024 * 1024


def read_sound(data: bytes) -> Media:
    """What a file is. Raises `Refused` 413 (`sound_too_large`), 422 (`sound_unreadable`)."""
    if len(data) > MOST_BYTES:
        raise too_large(len(data))
    try:
        found = media_of(data)
    except Unreadable as error:
        raise _unreadable(str(error)) from error
    if not found.is_sound:
        raise _unreadable("The file is a picture, not a sound.")
    return found


def too_large(size: int) -> Refused:
    """The refusal of a file of so many bytes."""
    problem = Problem(
        "sound_too_large",
        f"The file has {size / 2**20:.1f} MB; a sound may have {MOST_BYTES // 2**20} MB.",
        "Shorten it, or save it as ogg or mp3 at a lower rate. Nothing was changed.",
        "file",
    )
    return Refused(413, "Too large", [problem])


def _unreadable(message: str) -> Refused:
    fix = "Choose a wav, ogg, mp3 or flac file. Nothing was changed."
    return Refused(422, "No sound", [Problem("sound_unreadable", message, fix, "file")])


def make(project_id: int, record_id: int, asked: PlaceholderAsked) -> EditDone:
    """Make a sound's file on the spot from a few words, as one edit. Raises `Refused` 404, 412."""
    data = placeholder(asked.sort, asked.seconds, asked.height, asked.rough)
    return add_file(project_id, record_id, asked.version, data, asked.tab, asked.ask, asked.seconds, verb="Made")


def add_file(
    project_id: int,
    record_id: int,
    version: int | None,
    data: bytes,
    tab: str,
    ask: str,
    seconds: float | None,
    verb: str = "Gave",
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
        return apply_edit(project.pk, EditAsked(tab, [change], f"{verb} {sound.name} a file", ask=ask))
