"""The list of where each need is used in the demo, held to the demo itself."""

from __future__ import annotations

import json
import re
import unittest
from pathlib import Path

from vocanta.core.project.fileformat import dumps
from vocanta.demo import night_bloom

LIST = Path(__file__).resolve().parents[2] / "docs/demo-needs.md"
ROW = re.compile(r"^\| (N\d+) \| ([^|]+) \| `([^`]+)` \| `([^`]+)` \|$")
SINGULAR = {
    "levels": "level", "areas": "area", "exits": "exit", "objects": "object", "kinds": "kind", "items": "item",
    "abilities": "ability", "named_needs": "namedneed", "quests": "quest", "stages": "stage", "lines": "line",
    "objectives": "objective", "cards": "card", "walks": "walk",
}  # fmt: skip


def records(of):
    """Every record in a file's tree by its sort and key, as it is written, but for the records that it holds."""
    for name, value in of.items():
        for one in value if name in SINGULAR else ():
            yield f"{SINGULAR[name]}/{one['key']}", one
        for one in value if isinstance(value, list) else ():
            if isinstance(one, dict):
                yield from records(one)


class TheListOfNeeds(unittest.TestCase):
    def setUp(self):
        tree = json.loads(dumps(night_bloom().project))["project"]
        self.records = {f"project/{tree['key']}": tree, **dict(records(tree))}
        lines = [line for line in LIST.read_text(encoding="utf-8").splitlines() if line.startswith("| N")]
        self.rows = [ROW.match(line) for line in lines]
        self.assertNotIn(None, self.rows)

    def test_every_need_of_designing_and_trying_out_has_its_place(self):
        self.assertEqual({m.group(1) for m in self.rows}, {f"N{n}" for n in range(1, 52)})

    def test_what_the_list_says_stands_in_the_demo(self):
        for _, where, record, by in (m.groups() for m in self.rows):
            written = json.dumps(self.records[record], ensure_ascii=False)
            self.assertTrue(by in written or by in written.replace('\\"', '"'), (where, record, by))
