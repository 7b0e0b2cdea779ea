"""Writes `web/src/api/described.ts`: what the screen needs to know of the fields of records, from the core's own types."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from vocanta.core.project.fileformat import json_schema

FIRST = '''/** What the fields of records can hold, by type and field. Made by `make types`; not written by hand. */
export interface Described {
  sort: 'number' | 'whole' | 'yes_no' | 'text' | 'other'
  lowest?: number
  highest?: number
  /** It may be left empty. */
  empty?: true
  /** The words it can be. */
  words?: readonly string[]
  /** What it is where nothing is said. */
  usual?: string | number | boolean
}

'''
SORTS = {"number": "number", "integer": "whole", "boolean": "yes_no", "string": "text"}


def described(schema: dict[str, Any]) -> str:
    """One field as an object literal. What must be more than a number may be a thousandth more."""
    either = schema.get("anyOf", [])
    own = next((s for s in either if s.get("type") != "null"), schema)
    said = [f"sort: '{SORTS.get(own.get('type', ''), 'other')}'"]
    low = own.get("minimum", own.get("exclusiveMinimum", 0) + 0.001 if "exclusiveMinimum" in own else None)
    if low is not None:
        said.append(f"lowest: {low:g}")
    if "maximum" in own:
        said.append(f"highest: {own['maximum']:g}")
    if either and own is not schema:
        said.append("empty: true")
    if "enum" in own:
        said.append("words: [" + ", ".join(f"'{word}'" for word in own["enum"]) + "]")
    usual = schema.get("default")
    if isinstance(usual, str | int | float):
        said.append(f"usual: {json.dumps(usual)}".replace('"', "'"))
    return "{ " + ", ".join(said) + " }"


def written() -> str:
    """The whole file."""
    full = json_schema()
    types = {**full["$defs"], "Project": full}
    lines = [FIRST + "export const DESCRIBED = {"]
    for name, schema in sorted(types.items()):
        if schema.get("properties"):
            lines.append(f"  {name}: {{")
            lines += [f"    {field}: {described(one)}," for field, one in schema["properties"].items()]
            lines.append("  },")
    return "\n".join([*lines, "} as const satisfies Record<string, Record<string, Described>>", ""])


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(written(), encoding="utf-8")
