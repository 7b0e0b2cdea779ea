"""What the screen shows while a value is dragged is what the core makes of it once it is stored.

The browser lays own values over a kind's design by itself, so that a drag is followed at once. It is held to the core here,
for every object of the demo and for paths of every sort.
"""

from __future__ import annotations

import json
import random
import subprocess
import tempfile
import unittest
from pathlib import Path

from vocanta.core.project.designs import with_values
from vocanta.core.project.tree import plain
from vocanta.demo import night_bloom

WEB = Path("web").resolve()
SCRIPT = """
const [file, cases] = [process.argv[1], require('fs').readFileSync(0, 'utf-8')];
require('rolldown').rolldown({ input: 'src/plan/designs.ts', resolve: { alias: { '@': process.cwd() + '/src' } } })
  .then((made) => made.write({ file, format: 'cjs' }))
  .then(() => {
    const { withValues, valueAt } = require(file);
    const laid = JSON.parse(cases).map(({ design, own, ask }) => {
      const done = withValues(design, own);
      return { done, asked: ask.map((path) => valueAt(done, path) ?? null) };
    });
    process.stdout.write(JSON.stringify(laid));
  });
"""


def on_screen(cases):
    """What the browser's function makes of designs with own values."""
    with tempfile.TemporaryDirectory() as folder:
        command = ["node", "-e", SCRIPT, str(Path(folder) / "designs.cjs")]
        done = subprocess.run(command, cwd=WEB, input=json.dumps(cases), capture_output=True, text=True, check=True)
    return json.loads(done.stdout)


def paths_in(value, before=""):
    """Every path of a design, with what stands there; members of a list by their key."""
    members = value.items() if isinstance(value, dict) else ((m["key"], m) for m in value if isinstance(m, dict))
    for name, member in members:
        path = f"{before}{name}"
        yield path, member
        if isinstance(member, dict) or (isinstance(member, list) and all(isinstance(m, dict) for m in member)):
            yield from paths_in(member, f"{path}.")


class OwnValues(unittest.TestCase):
    def test_they_are_laid_over_the_kinds_as_the_core_lays_them(self):
        project, r = night_bloom().project, random.Random(7)
        cases = []
        for kind in project.kinds:
            design = plain(kind.design)
            leaves = [(p, v) for p, v in paths_in(design) if not isinstance(v, dict | list) and not p.endswith(".key")]
            for _ in range(6):
                own = {path: (not v if isinstance(v, bool) else v) for path, v in r.sample(leaves, 4)}
                own |= {
                    "values.gift": "copper_key",
                    "prompts.gone.hold_s": 2.0,
                    "states.gone.lit": True,
                    "reach.gone": 1,
                }
                cases.append({"design": design, "own": own, "ask": [*own, "nothing.here"]})
        for thing in (o for level in project.levels for o in level.objects):
            design = plain(next(k.design for k in project.kinds if k.key == thing.kind))
            cases.append({"design": design, "own": plain(thing.own), "ask": list(thing.own)})
        for case, shown in zip(cases, on_screen(cases), strict=True):
            self.assertEqual(shown["done"], with_values(case["design"], case["own"]), case["own"])
        self.assertGreater(len(cases), 150)

    def test_a_value_asked_for_by_its_path_is_found_and_nothing_is_none(self):
        design = plain(night_bloom().project.kinds[0].design)
        (shown,) = on_screen([{"design": design, "own": {"uses": 3}, "ask": ["uses", "reach.radius_m", "reach.x.y"]}])
        self.assertEqual(shown["asked"], [3, design["reach"]["radius_m"], None])
