"""Writes `web/src/api/described.ts`: what the screen needs to know of the fields of records, from the core's own types."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from vocanta.core.engine.situation import TICKS_A_SECOND
from vocanta.core.engine.talking import LETTERS_A_SECOND, SHORTEST_S
from vocanta.core.phrases.vocabulary import EFFECT_S
from vocanta.core.project.fileformat import json_schema
from vocanta.core.project.records import Design
from vocanta.core.project.tree import plain

FIRST = """/** What the fields of records can hold, by type and field. Made by `make types`; not written by hand. */
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

"""
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
    usual = json.dumps(plain(Design()), indent=2, ensure_ascii=False)
    last = [
        "",
        "/** An object without a kind. */",
        f"export const PLAIN_DESIGN = {usual}",
        "",
        "/** So long an effect is seen, and so often a run moves on. */",
        f"export const EFFECT_S = {EFFECT_S}",
        f"export const TICKS_A_SECOND = {TICKS_A_SECOND}",
        "",
        "/** How long a line lasts that nobody speaks. */",
        f"export const LETTERS_A_SECOND = {LETTERS_A_SECOND:g}",
        f"export const SHORTEST_S = {SHORTEST_S:g}",
        "",
    ]
    return "\n".join([*lines, "} as const satisfies Record<string, Record<string, Described>>", *last])


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(written(), encoding="utf-8")
