"""Writes what follows from the sources into the docs: the references of the cue language and the checks, the schema."""

from __future__ import annotations

import json
from pathlib import Path

from vocanta.core.checks import reference as checks
from vocanta.core.cuetext import reference as language
from vocanta.core.project.fileformat import json_schema


def main() -> None:
    """Put what is declared between the two marks of each document, and write the schema of project files."""
    schema = json.dumps(json_schema(), ensure_ascii=False, indent=1) + "\n"
    Path("docs/project-file.schema.json").write_text(schema, encoding="utf-8")
    for name, made in (("cue-language", language), ("checks", checks)):
        document = Path(f"docs/{name}.md")
        text = document.read_text(encoding="utf-8")
        before, rest = text.split(made.BEGIN)
        document.write_text(before + made.reference() + rest.split(made.END, 1)[1], encoding="utf-8")


if __name__ == "__main__":
    main()
