"""Writes the reference of the cue language into its document."""

from __future__ import annotations

from pathlib import Path

from vocanta.core.cuetext.reference import BEGIN, END, reference

DOCUMENT = Path("docs/cue-language.md")


def main() -> None:
    """Put what is declared between the two marks."""
    text = DOCUMENT.read_text(encoding="utf-8")
    before, rest = text.split(BEGIN)
    DOCUMENT.write_text(before + reference() + rest.split(END, 1)[1], encoding="utf-8")


if __name__ == "__main__":
    main()
