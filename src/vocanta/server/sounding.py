"""Files of sounds and pictures of items: what they are, how long a sound lasts, and how large they may be."""

from __future__ import annotations

from pydantic import JsonValue

from ..core.project.assets import ASSET_FIELDS, asset_name
from ..core.project.media import Media, Unreadable, media_of
from ..core.project.placeholder import placeholder
from ..core.project.problems import Problem
from . import listing, models
from .edits import apply_edit
from .refusals import Refused, not_found
from .shapes import ChangeAsked, EditAsked, EditDone, PlaceholderAsked
from .writing import writing

MOST_BYTES = 4 * 1024 * 1024
_LIGHTER = {
    "sound": "Shorten it, or save it as ogg or mp3 at a lower rate.",
    "picture": "Make it smaller: it is shown no larger than a stamp.",
}
_WANTED = {"sound": "a wav, ogg, mp3 or flac file", "picture": "a png or jpeg file"}


def read_media(data: bytes, what: str) -> Media:
    """What a file is, which shall be a `sound` or a `picture`. Raises `Refused` 413 (`file_too_large`), 422
    (`file_unreadable`)."""
    if len(data) > MOST_BYTES:
        raise too_large(len(data), what)
    try:
        found = media_of(data)
    except Unreadable as error:
        raise _unreadable(str(error), what) from error
    if found.is_sound is not (what == "sound"):
        raise _unreadable(f"The file is a {'sound' if found.is_sound else 'picture'}, not a {what}.", what)
    return found


def too_large(size: int, what: str) -> Refused:
    """The refusal of a file of so many bytes."""
    message = f"The file has {size / 2**20:.1f} MB; a {what} may have {MOST_BYTES // 2**20} MB."
    problem = Problem("file_too_large", message, f"{_LIGHTER[what]} Nothing was changed.", "file")
    return Refused(413, "Too large", [problem])


def _unreadable(message: str, what: str) -> Refused:
    fix = f"Choose {_WANTED[what]}. Nothing was changed."
    return Refused(422, f"No {what}", [Problem("file_unreadable", message, fix, "file")])


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
    """Give a sound its file or an item its picture, as one edit based on a version. Raises `Refused` 404, 412, 413, 422."""
    project = listing.found_project(project_id)
    record = holder_of(project, record_id)
    found = read_media(data, wanted_of(record))
    name = asset_name(data, found.suffix)
    values: dict[str, JsonValue] = {ASSET_FIELDS[record.type]: name}
    if isinstance(record, models.Sound):
        values["seconds"] = next(s for s in (found.seconds, seconds, record.seconds) if s is not None)
    change = ChangeAsked("set", id=record_id, version=version, values=values)
    said = "a picture" if isinstance(record, models.Item) else "a file"
    with writing():
        models.Asset.objects.get_or_create(project=project, name=name, defaults={"data": data})
        return apply_edit(project.pk, EditAsked(tab, [change], f"{verb} {record.name} {said}", ask=ask))


def wanted_of(record: models.Sound | models.Item) -> str:
    """What a record's file shall be: a `sound` or a `picture`."""
    return "sound" if isinstance(record, models.Sound) else "picture"


def holder_of(project: models.Project, record_id: int) -> models.Sound | models.Item:
    """The sound or item that a file is for. Raises `Refused` 404."""
    for model in (models.Sound, models.Item):
        found = model.objects.filter(project=project, pk=record_id).first()
        if found is not None:
            return found
    raise not_found("sound or item", f"record/{record_id}")
