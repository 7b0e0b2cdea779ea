"""Writes the references into their documents: of the cue language, and of the checks."""

from __future__ import annotations

from pathlib import Path

from vocanta.core.checks import reference as checks
from vocanta.core.cuetext import reference as language


def main() -> None:
    """Put what is declared between the two marks of each document."""
    for name, made in (("cue-language", language), ("checks", checks)):
        document = Path(f"docs/{name}.md")
        text = document.read_text(encoding="utf-8")
        before, rest = text.split(made.BEGIN)
        document.write_text(before + made.reference() + rest.split(made.END, 1)[1], encoding="utf-8")


if __name__ == "__main__":
    main()
