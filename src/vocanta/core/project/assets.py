"""A project with its sounds and pictures: a folder of `project.json` and `assets/`, or the same as one zip.

Assets are named by their hash, so that a name never stands for two things and a wrong file is noticed.
"""

from __future__ import annotations

import hashlib
import io
import zipfile
import zlib
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path, PurePosixPath

from . import fileformat
from .fileformat import dumps, loads
from .media import Unreadable, media_of
from .problems import Problem, ProjectError
from .records import Project

PROJECT_FILE = "project.json"
FOLDER = "assets"
MOST_BYTES = 512 * 1024 * 1024
"""A package that would unfold to more is refused before it is read."""
_EPOCH = (1980, 1, 1, 0, 0, 0)


@dataclass(frozen=True)
class Package:
    """A project and the bytes of each asset by name."""

    project: Project
    assets: Mapping[str, bytes] = field(default_factory=dict)


def asset_name(data: bytes, suffix: str) -> str:
    """The name of an asset: the first 32 hexadecimal digits of its SHA-256, and its suffix.

    >>> asset_name(b"", ".wav")
    'e3b0c44298fc1c149afbf4c8996fb924.wav'
    """
    return hashlib.sha256(data).hexdigest()[:32] + suffix


def folded(package: Package) -> bytes:
    """A package as one zip; the same package gives the same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo(PROJECT_FILE, _EPOCH), dumps(package.project))
        for name in sorted(package.assets):
            archive.writestr(zipfile.ZipInfo(f"{FOLDER}/{name}", _EPOCH), package.assets[name])
    return out.getvalue()


def unfolded(data: bytes) -> Package:
    """The package in a zip. Raises `ProjectError`: `file_broken`, `file_too_large`, `asset_wrong`, and those of the file."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return _unfolded(archive)
    except _UNREADABLE as error:
        raise _broken(f"The file is no readable zip: {error}.") from error


_UNREADABLE = (
    zipfile.BadZipFile,
    RuntimeError,
    NotImplementedError,
    zlib.error,
    EOFError,
    OSError,
    ValueError,
    KeyError,
)
"""What reading a zip raises that is broken, encrypted or packed in some other way."""


def _unfolded(archive: zipfile.ZipFile) -> Package:
    rules = sum(i.file_size for i in archive.infolist() if i.filename == PROJECT_FILE)
    if rules > fileformat.MOST_BYTES or sum(i.file_size for i in archive.infolist()) > MOST_BYTES:
        most = f"{fileformat.MOST_BYTES // 2**20} MB of rules or {MOST_BYTES // 2**20} MB in all"
        message = f"The zip unfolds to more than {most}."
        fix = "File the project out again, or leave out what is not its own."
        raise ProjectError([Problem("file_too_large", message, fix, "file")])
    names = archive.namelist()
    if PROJECT_FILE not in names:
        raise _broken(f"The zip holds no {PROJECT_FILE}.")
    project = loads(archive.read(PROJECT_FILE).decode("utf-8", errors="replace"))
    wanted = named_assets(project)
    found = {PurePosixPath(n).name: n for n in names if n.startswith(f"{FOLDER}/") and not n.endswith("/")}
    return checked(Package(project, {name: archive.read(n) for name, n in found.items() if name in wanted}))


ASSET_FIELDS = {"sound": "file", "item": "picture"}
"""Where records name an asset, by their type."""


def _naming(project: Project) -> Iterator[tuple[str, str, str, str]]:
    """Every asset that is named: by a record of which type and key, called what."""
    for record_type, records in (("sound", project.sounds), ("item", project.items)):
        for record in records:
            asset = getattr(record, ASSET_FIELDS[record_type])
            if asset:
                yield asset, record_type, record.key, record.name


def named_assets(project: Project) -> frozenset[str]:
    """The files that the records of a project name; no other is part of it."""
    return frozenset(asset for asset, *_ in _naming(project))


def from_folder(place: Path) -> Package:
    """The package in a folder. Raises as `unfolded`."""
    project = loads((place / PROJECT_FILE).read_text(encoding="utf-8"))
    files = (place / FOLDER / name for name in sorted(named_assets(project)))
    return checked(Package(project, {f.name: f.read_bytes() for f in files if f.is_file()}))


def to_folder(package: Package, place: Path) -> None:
    """Write a package as a folder; files that were there and are not part of it stay."""
    (place / FOLDER).mkdir(parents=True, exist_ok=True)
    (place / PROJECT_FILE).write_text(dumps(package.project), encoding="utf-8")
    for name, data in package.assets.items():
        (place / FOLDER / name).write_bytes(data)


def checked(package: Package) -> Package:
    """The package, with every named asset there and every asset what its name says. Raises `ProjectError` (`asset_wrong`)."""
    problems = [
        Problem(
            "asset_missing",
            f"The {record_type} {name} names the file {asset}, which is not there.",
            f"Put the file into the folder of assets, or clear the {record_type}'s {ASSET_FIELDS[record_type]}.",
            f"{record_type}/{key}/{ASSET_FIELDS[record_type]}",
        )
        for asset, record_type, key, name in _naming(package.project)
        if asset not in package.assets
    ]
    problems += [p for name, data in package.assets.items() for p in _wrong_asset(name, data)]
    if problems:
        raise ProjectError(problems)
    return package


def _wrong_asset(name: str, data: bytes) -> Iterator[Problem]:
    """An asset that is not what its name says, or nothing that is heard or seen."""
    try:
        suffix = media_of(data).suffix
    except Unreadable as error:
        fix = "Take a sound or picture, and file the project out again with it."
        yield Problem("asset_wrong", f"{name}: {str(error)[:1].lower()}{str(error)[1:]}", fix, f"{FOLDER}/{name}")
        return
    if name != asset_name(data, suffix):
        message = f"{name} is not what its name says."
        yield Problem("asset_wrong", message, "It was changed; take the file it was.", f"{FOLDER}/{name}")


def _broken(message: str) -> ProjectError:
    return ProjectError([Problem("file_broken", message, "Choose a project's file or its zip.", "file")])
