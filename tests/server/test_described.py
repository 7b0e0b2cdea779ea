"""What the screen knows of fields is what the core's types say, and nothing else."""

from __future__ import annotations

import json
import re
import unittest
from pathlib import Path

from scripts.described import described, written

MADE = Path("web/src/api/described.ts")


class Described(unittest.TestCase):
    def test_the_file_of_the_front_end_is_current(self):
        self.assertEqual(MADE.read_text(encoding="utf-8"), written())

    def test_each_sort_of_field_is_told_with_its_limits_and_its_usual_value(self):
        cases = {
            '{"type": "number", "exclusiveMinimum": 0, "maximum": 9, "default": 1.5}': (
                "{ sort: 'number', lowest: 0.001, highest: 9, usual: 1.5 }"
            ),
            '{"type": "integer", "minimum": 0, "default": 3}': "{ sort: 'whole', lowest: 0, usual: 3 }",
            '{"type": "boolean", "default": false}': "{ sort: 'yes_no', usual: false }",
            '{"type": "string", "enum": ["a", "b"], "default": "a"}': "{ sort: 'text', words: ['a', 'b'], usual: 'a' }",
            '{"anyOf": [{"type": "number", "minimum": 1}, {"type": "null"}], "default": null}': (
                "{ sort: 'number', lowest: 1, empty: true }"
            ),
            '{"type": "array", "default": []}': "{ sort: 'other' }",
        }
        self.assertEqual({schema: described(json.loads(schema)) for schema in cases}, cases)

    def test_no_page_writes_a_limit_that_the_types_do_not_allow(self):
        """A page may ask for less than the types, never for more: its numbers lie within theirs."""
        types = written()
        for place in Path("web/src").glob("*/fields.ts"):
            for name, text in re.findall(r"^  (\w+): \{([^{}]*)\},$", place.read_text(encoding="utf-8"), re.M):
                low = re.search(r"lowest: (-?[\d.]+)", text)
                theirs = [float(v) for v in re.findall(rf"    {name}: {{[^}}]*lowest: (-?[\d.]+)", types)]
                if low and theirs:
                    self.assertGreaterEqual(float(low[1]), min(theirs), (place.parent.name, name))
