"""The demo projects, as project folders with their assets."""

from pathlib import Path

from ..core.project.assets import Package, from_folder

PLACE = Path(__file__).resolve().parent


def night_bloom() -> Package:
    """The Night Bloom at Harrow Glasshouse."""
    return from_folder(PLACE / "night_bloom")


def first_draft() -> Package:
    """Harrow, first draft: small, and flawed on purpose. What is wrong with it stands in `first_draft/flaws.md`."""
    return from_folder(PLACE / "first_draft")
