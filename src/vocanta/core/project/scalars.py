"""The plain values that records are made of, each with its limits: names, wordings, lengths in metres, angles in degrees."""

from __future__ import annotations

import unicodedata
from typing import Annotated

from pydantic import AfterValidator, Field


def can_be_seen(name: str) -> str:
    """A name itself. Raises `ValueError` for one with nothing to be seen in it, and for line ends and what steers a screen.

    >>> can_be_seen("Wing door")
    'Wing door'
    >>> can_be_seen(" \u200b")
    Traceback (most recent call last):
    ValueError: a name needs something that can be seen
    """
    if any(unicodedata.category(letter) in ("Cc", "Zl", "Zp") for letter in name):
        raise ValueError("a name stands in one line, without signs that cannot be seen")
    if all(unicodedata.category(letter)[0] in "CZ" for letter in name):
        raise ValueError("a name needs something that can be seen")
    return name


Key = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]*$", max_length=60)]
Ref = Annotated[str, Field(pattern=r"^([a-z][a-z0-9_]*|\?)?$", max_length=60)]
Name = Annotated[str, Field(min_length=1, max_length=120), AfterValidator(can_be_seen)]
Metres = Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]
Size = Annotated[float, Field(gt=0, le=1_000, allow_inf_nan=False)]
Degrees = Annotated[float, Field(ge=-3_600, le=3_600, allow_inf_nan=False)]
Seconds = Annotated[float, Field(ge=0, le=86_400, allow_inf_nan=False)]
Drop = Annotated[float, Field(ge=0, le=1_000, allow_inf_nan=False)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Icon = Annotated[str, Field(max_length=40)]
Count = Annotated[int, Field(ge=0, le=999_999)]
Wording = Annotated[str, Field(max_length=4_000)]
Wordings = Annotated[tuple[Wording, ...], Field(min_length=1, max_length=40)]
CueText = Annotated[str, Field(max_length=20_000)]
Point = tuple[Metres, Metres]
