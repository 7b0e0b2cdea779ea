"""The chronicle as events for other programs: every line one of the CloudEvents form, in order, with its time."""

from __future__ import annotations

import json
import unittest
from datetime import datetime

from tests.core.walked import Walked
from vocanta.core.engine.exporting import event_lines

BEGUN = datetime.fromisoformat("2026-03-01T18:00:00+00:00")
NAMES = set("abcdefghijklmnopqrstuvwxyz0123456789")


class Lines(unittest.TestCase):
    def setUp(self):
        self.walk = Walked(at="palm_lamp").wait(44).press()
        lines = list(event_lines(self.walk.run.chronicle, "night_bloom", 7, BEGUN))
        self.assertTrue(all(line.endswith("}\n") and line.count("\n") == 1 for line in lines))
        self.events = [json.loads(line) for line in lines]

    def test_each_entry_is_one_event_with_what_the_form_requires(self):
        self.assertEqual(len(self.events), len(self.walk.run.chronicle))
        for event in self.events:
            self.assertLessEqual({"id", "source", "specversion", "type"}, event.keys())
            self.assertTrue(all(set(name) <= NAMES for name in event), event)
            self.assertEqual((event["specversion"], event["source"]), ("1.0", "/projects/night_bloom/runs/7"))
        self.assertEqual([e["id"] for e in self.events], [f"7.{n + 1}" for n in range(len(self.events))])

    def test_it_says_what_happened_when_and_why(self):
        lit = next(e for e in self.events if e["type"] == "vocanta.walk.state")
        self.assertEqual((lit["subject"], lit["data"]["text"]), ("palm_lamp", "Palm House lamp set to lit"))
        self.assertEqual(lit["data"]["cause"], "Use at Palm House lamp")
        self.assertEqual(lit["time"], "2026-03-01T18:00:01.500+00:00")  # Tick 45 of 30 a second.


if __name__ == "__main__":
    unittest.main()
