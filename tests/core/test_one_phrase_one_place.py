"""Nothing can be forgotten where a moment, a need or a step is added: one walk over every declared phrase and node.

And the shape of the core: no circle of imports, no import for types alone, what the compiler tells is what happens.
"""

from __future__ import annotations

import ast
import dataclasses
import random
import re
import typing
import unittest
from pathlib import Path

from tests.core.random_projects import Chooser, random_project
from tests.core.small import DOWN, project, thing, two_levels
from vocanta.core.cuetext.completing import completed
from vocanta.core.cuetext.index import index_of
from vocanta.core.cuetext.prose import prose_of_cue, prose_of_needs, prose_of_steps
from vocanta.core.cuetext.reading import parser, read_cue, read_needs, read_steps
from vocanta.core.cuetext.reference import explained
from vocanta.core.cuetext.roles import name_uses
from vocanta.core.cuetext.writing import write_cue, write_needs, write_steps
from vocanta.core.engine.sentences import sentence
from vocanta.core.engine.wording import Words
from vocanta.core.phrases import nodes as n
from vocanta.core.phrases.language import PHRASES, begins, phrase_of, reserved
from vocanta.core.phrases.moments import MOMENTS
from vocanta.core.phrases.needs import NEEDS
from vocanta.core.phrases.steps import STEPS
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.core.progress.columns import Class, What
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.effects import Consequences, effects_of, told_by
from vocanta.core.progress.happenings import Happening
from vocanta.core.progress.meaning import Meaning
from vocanta.core.progress.needs import guard_of
from vocanta.core.progress.onerow import RowWalk, holds_on
from vocanta.core.progress.ops import Told
from vocanta.core.progress.steps import ops_of
from vocanta.core.project.records import (
    Ability,
    Conversation,
    Item,
    Line,
    NamedNeed,
    Objective,
    Quest,
    Role,
    Sound,
    Stage,
    Tag,
)

CORE = Path("src/vocanta/core")
NAMES = {
    "area": "hall", "level": "below", "exit": "way_down", "object": "oak", "player": "player", "fact": "wet", "item": "nut",
    "purse": "money", "line": "hello", "objective": "find", "quest": "errand", "stage": "seek", "conversation": "chat",
    "control": "use", "ability": "leap", "role": "hero", "tag": "staff", "kind": "oak_kind", "sound": "gong", "effect": "dust",
    "state": "ajar", "value": "ajar", "somebody": "somebody", "namedneed": "named", "grade": "experience_level", "button": "ask",
}  # fmt: skip
"""Something of each sort in the project below."""


def everything():
    """A small project in which something of every sort can be named."""
    quest = Quest("errand", "Errand", stages=(Stage("seek", "Seek", objectives=(Objective("find", "Find"),)),))
    talks = (Conversation("chat", "Chat", "oak", (Line("hello", ("hello",), True),)),)
    small = two_levels(thing("oak"), thing("elm", x=9.0), exits=(DOWN,), quests=(quest,), talks=talks)
    return dataclasses.replace(
        small, abilities=(Ability("leap", "Leap"),), roles=(Role("hero", "Hero"),), tags=(Tag("staff", "Staff"),),
        sounds=(Sound("gong", "Gong"),), named_needs=(NamedNeed("named", "named", "wet"),),
        items=(*small.items, Item("hook", "hook", slot="hand")),
    )  # fmt: skip


def drawn(phrase, r):
    """A node of a phrase with every slot filled in, every optional part there."""
    values = dict(phrase.fixed)
    for field in dataclasses.fields(phrase.node):
        hint = typing.get_type_hints(phrase.node)[field.name]
        if field.name in ("span", *phrase.fixed):
            continue
        slot = next((s for s in phrase.slots if s.attribute.split(".")[0] == field.name), None)
        values[field.name] = value(field.name, hint, slot, phrase, r)
    node = phrase.node(**values)
    if isinstance(node, n.Compare) and node.subject.text not in ("money", "experience_level"):
        node = dataclasses.replace(node, subject=n.Word("money"))
    return node


def value(name, hint, slot, phrase, r):
    literals = [
        v for a in (hint, *typing.get_args(hint)) if typing.get_origin(a) is typing.Literal for v in typing.get_args(a)
    ]
    if literals:
        return r.choice(literals)
    if hint is bool:
        return name in phrase.flags
    if name == "offset":
        return n.Number(1.0), n.Number(-0.5)
    if slot is None:
        return None
    if slot.sort == "wording":
        return n.Text("so")
    if slot.sort == "label":
        return n.Word("letter")
    if slot.sort != "word":
        return n.Number(2.0)
    word = n.Word("elm" if name in ("other", "value") and "object" in slot.types else NAMES[slot.types[0]])
    return (word,) if name in phrase.several else word


class EveryPhrase(unittest.TestCase):
    def nodes(self, phrases):
        r = random.Random(1)
        return [(p, drawn(p, r)) for p in phrases for _ in range(6)]

    def test_every_node_of_the_language_has_its_phrase_and_every_phrase_a_rule(self):
        declared = {p.node for p in PHRASES}
        unions = {*typing.get_args(n.Atom), *typing.get_args(n.Step)} - {n.HoleStep}
        self.assertEqual(unions | {n.Moment}, declared)
        rules = {str(rule.alias or rule.origin.name) for rule in parser().rules}
        self.assertEqual([p.rule for p in PHRASES if p.rule not in rules and p.rule != "move_player"], [])
        verbs = set(typing.get_args(n.MomentVerb)) - {"?"}
        self.assertEqual({p.fixed["verb"] for p in MOMENTS}, verbs)

    def test_each_is_written_and_read_again_in_every_comparison_and_without_what_may_be_left_out(self):
        for phrase, node in self.nodes(MOMENTS):
            cue = n.CueTree(node)
            self.assertEqual(read_cue(write_cue(cue)), cue, phrase.rule)
        for phrase, node in self.nodes(NEEDS):
            for each in (
                [dataclasses.replace(node, how=how) for how in n.COMPARISONS] if "how" in phrase.usual else [node]
            ):
                self.assertEqual(read_needs(write_needs((n.Top(each),))), (n.Top(each),), phrase.rule)
        for phrase, node in self.nodes(STEPS):
            bare = (
                {a: None for a in phrase.optional} | {a: False for a in phrase.flags} | {a: () for a in phrase.several}
            )
            for each in (node, dataclasses.replace(node, **{a.split(".")[0]: v for a, v in bare.items()})):
                if isinstance(each, n.Show) and each.at is None:
                    each = dataclasses.replace(each, offset=None)
                self.assertEqual(read_steps(write_steps((each,))), (each,), phrase.rule)

    def test_examples_and_what_is_offered_can_be_read(self):
        readers = {"moment": lambda t: read_cue(f"when {t} then"), "need": read_needs, "step": read_steps}
        for sort, phrases in (("moment", MOMENTS), ("need", NEEDS), ("step", STEPS)):
            for phrase in phrases:
                tree = readers[sort](phrase.example)
                found = tree.moment if sort == "moment" else tree[0].need if sort == "need" else tree[0]
                self.assertIs(phrase_of(found), phrase, phrase.example)
                self.assertRegex(phrase.means, r"^[A-Z].*\.$")
            for text in begins(sort):
                readers[sort](text)

    def test_every_name_is_used_pointed_at_in_prose_and_completed_where_it_stands(self):
        index, shown = index_of(everything()), lambda text, owner: text
        cues = [(p, n.CueTree(m)) for p, m in self.nodes(MOMENTS)]
        cues += [(p, n.CueTree(n.Moment("used"), (n.Top(m),))) for p, m in self.nodes(NEEDS)]
        cues += [(p, n.CueTree(n.Moment("used"), (), (m,))) for p, m in self.nodes(STEPS)]
        for phrase, tree in cues:
            text = write_cue(tree)
            tree = read_cue(text)
            words = [(node.text, node.span) for node in n.nodes_in(tree) if isinstance(node, n.Word)]
            tokens = [(t.slot, (t.value, (t.start, t.end))) for t in prose_of_cue(tree, shown)]
            labels = [at for slot, at in tokens if slot == "label"]
            self.assertEqual(sorted(at for slot, at in tokens if slot in ("word", "label")), sorted(words), text)
            uses = [(u.word.text, u.word.span) for u in name_uses(tree)]
            self.assertEqual(uses, [at for at in words if at not in labels], text)
            for use in name_uses(tree):
                if use.word.text in index.candidates(use, "oak"):
                    offered = completed(text, use.word.span[0], "cue", index, "oak").options
                    self.assertIn(use.word.text, offered, (phrase.rule, text))

    def test_needs_and_steps_alone_read_as_prose_too(self):
        def shown(text, owner):
            return text

        for _, node in self.nodes(NEEDS):
            self.assertTrue("".join(t.text for t in prose_of_needs((n.Top(node),), shown)))
        for _, node in self.nodes(STEPS):
            self.assertTrue("".join(t.text for t in prose_of_steps((node,), shown)))

    def test_every_need_means_something_and_says_why_and_every_step_does_something(self):
        texts = [write_needs((n.Top(node),)) for _, node in self.nodes(NEEDS)]
        cues = [f'when used\nonly if {t}\nthen\n  say "x"' for t in texts]
        cues += [write_cue(n.CueTree(n.Moment("used"), (), (node,))) for _, node in self.nodes(STEPS)]
        base = everything()
        kind, oak = thing("oak", *cues, body=dataclasses.replace(base.kinds[0].design.body, shape="none"))
        level = dataclasses.replace(base.levels[0], objects=(oak, *base.levels[0].objects[1:]))
        full = dataclasses.replace(base, levels=(level, *base.levels[1:]), kinds=(kind, *base.kinds[1:]))
        program = compiled(full)
        self.assertEqual([p for p in program.problems if p.code not in ("number_outside", "too_many_copies")], [])
        layout, words = program.layout, Words(full, lambda: program.layout)
        for _, node in self.nodes(NEEDS):
            for how in n.COMPARISONS if hasattr(node, "how") and node.how in n.COMPARISONS else (None,):
                each = node if how is None else dataclasses.replace(node, how=how)
                place = f"object/oak/cue/c{texts.index(write_needs((n.Top(node),))) + 1}"
                if isinstance(each, n.Chance):
                    each = read_needs(write_needs((n.Top(each),)))[0].need
                    continue
                guard_of(each, Meaning(layout, "oak", place))
                self.assertGreater(len(words.need(write_needs((n.Top(each),)), lambda what, key: 0, "oak")), 5)
        for phrase, node in self.nodes(STEPS):
            ops = ops_of(node, Meaning(layout, "oak", "object/oak/cue/c1"))
            waits = isinstance(node, n.Wait | n.WaitForIt)
            self.assertTrue(waits or ops, phrase.rule)
            self.assertTrue(waits or effects_of(ops, program).writes or list(told_by(ops)), phrase.rule)

    def test_random_projects_draw_every_node_of_the_language_that_they_can_hold(self):
        left_out = {n.Show: "sound", n.Scatter: "", n.Drop: ""}
        chooser, seen = Chooser(5), set()
        for _ in range(4_000):
            cue = chooser.cue()
            seen |= {type(node) for node in n.nodes_in(cue)} | {("moment", cue.moment.verb)}
        missing = {p.node for p in PHRASES} - seen - left_out.keys()
        self.assertEqual(missing, set())

    def test_the_words_of_the_phrases_are_reserved_and_only_they(self):
        self.assertTrue({"swap", "when", "equip", "experience_level", "burst"} - {"burst"} <= reserved())
        self.assertFalse({"lamp", "copper_key", "m", "s"} & reserved())


class TheHelp(unittest.TestCase):
    def test_it_explains_every_phrase_and_status_once_and_gives_phrases_an_example(self):
        found = explained()
        for sort, phrases in (("moment", MOMENTS), ("need", NEEDS), ("step", STEPS)):
            wanted = sorted(p.means for p in phrases if p.begins)
            self.assertEqual(sorted(e.means for e in found if e.sort == sort), wanted)
        self.assertEqual(tuple(e.text for e in found if e.sort == "status"), STATUSES)
        self.assertEqual([e.text for e in found if e.sort in ("moment", "need", "step") and not e.example], [])
        words = [e.text for e in found if e.sort == "word"]
        self.assertEqual(
            (words, [e.means for e in found if not e.means.endswith((".", "?"))]), (sorted(set(words)), [])
        )


class EveryHappening(unittest.TestCase):
    DETAILS = {"state": 0, "by": 1, "now": 2, "was": 1, "lowest": 0,
               "highest": 9, "value": 1, "text": "so", "with": "elm", "how": "later by elm", "after": 1.0, "why": "no",
               "stage": "seek", "status": 3, "met": 1, "count": 1, "of": 2, "line": "hello", "step": "start", "words": "wet",
               "groups": "a", "seconds": 1.0, "to": "below", "uses": 1, "then": "x", "at": "oak"}  # fmt: skip

    def test_every_kind_of_entry_has_its_sentence(self):
        full = everything()
        words = Words(full)
        subjects = {Happening.LINE: "hello", Happening.STAGE: "errand"}
        for what in Happening:
            if what is Happening.REPLY:
                continue
            told = Told(what, subjects.get(what, "oak"), tuple(self.DETAILS.items()))
            self.assertRegex(sentence(told, words), r"^\S.*\S$", what)

    def test_every_column_is_of_a_class(self):
        program = compiled(random_project(3))
        self.assertLessEqual({c.what for c in program.columns}, set(typing.get_args(What)))
        self.assertLessEqual({c.belongs for c in program.columns}, set(typing.get_args(Class)))


class WhatTheCompilerTells(unittest.TestCase):
    def test_an_action_writes_and_tells_no_more_than_it_was_said_to(self):
        checked = 0
        for seed in range(25):
            program, r = compiled(random_project(seed)), random.Random(seed)
            consequences, row = Consequences(program), [c.start for c in program.columns]
            RowWalk(program, row).start(begins="glade")
            for _ in range(25):
                for number in program.sensed:
                    row[number] = int(r.random() < 0.7)
                action = r.choice([a for a in program.actions if holds_on(a.guard, row) and a.kind != "sensed"])
                reached = consequences.until_settled(action.group)
                may = frozenset().union(*(consequences.effects(g).writes for g in reached))
                outcome = RowWalk(program, row).act(action)
                self.assertLessEqual(outcome.changed, may, (seed, action.name))
                checked += bool(outcome.changed)
        self.assertGreater(checked, 300)

    def test_what_an_action_senses_until_settled_decides_it_and_nothing_else_sensed_does(self):
        for seed in range(15):
            program, r = compiled(random_project(seed)), random.Random(seed)
            consequences = Consequences(program)
            for action in (a for a in program.actions if a.kind != "sensed"):
                row = [c.start for c in program.columns]
                RowWalk(program, row).start(begins="glade")
                read, ends = consequences.sensed_by(action), []
                fixed = {number: int(r.random() < 0.7) for number in read}
                for _ in range(2):
                    each = list(row)
                    for number in program.sensed:
                        each[number] = fixed.get(number, r.randint(0, 1))
                    RowWalk(program, each).act(action, attempt=True)
                    ends.append([v for v, c in zip(each, program.columns, strict=True) if not c.sensed])
                self.assertEqual(ends[0], ends[1], (seed, action.name))

    def test_each_action_says_whose_it_is_and_presses_when_they_can_be_tried(self):
        program = compiled(random_project(2))
        self.assertEqual({a.whose for a in program.actions}, {"player", "clock", "sensed"})
        for action in program.actions:
            self.assertEqual(action.tried is not None, action.kind in ("use", "hold", "choose", "strike"))

    def test_nothing_has_a_column_that_nothing_reads(self):
        bare = compiled(project(thing("oak", prompts=())))
        whats = {c.what for c in bare.columns}
        self.assertFalse(
            whats & {"near", "in_reach", "in_way", "mark", "place", "heard", "moving", "suspended", "ability_uses"}
        )


ONLOOKERS = ("again", "picture", "why", "whyothers", "needlines", "tracing", "then", "snapshots", "tuning")
"""Modules of the engine that look at a whole run, or go on with one: the run is made of none of them."""


class TheShapeOfTheCore(unittest.TestCase):
    def imports(self):
        """Each module of the core with those it imports from the core."""
        found = {}
        for path in CORE.rglob("*.py"):
            module = ".".join(path.with_suffix("").parts[1:])
            package = module.rsplit(".", 1)[0]
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.ImportFrom) and node.level:
                    base = package.split(".")[: len(package.split(".")) - node.level + 1]
                    target = ".".join([*base, node.module] if node.module else base)
                    names = [f"{target}.{a.name}" for a in node.names]
                    found.setdefault(module, set()).update([target, *names])
        modules = found.keys()
        return {m: {t for t in targets if t in modules and t != m} for m, targets in found.items()}

    def test_no_import_goes_in_a_circle(self):
        graph, done = self.imports(), set()
        while free := {m for m in graph if m not in done and graph[m] <= done}:
            done |= free
        self.assertEqual(sorted(graph.keys() - done), [])

    def test_nothing_is_imported_for_types_alone(self):
        self.assertEqual([str(p) for p in CORE.rglob("*.py") if "TYPE_CHECKING" in p.read_text(encoding="utf-8")], [])

    def test_no_part_of_a_run_takes_the_run(self):
        parts = [p for p in (CORE / "engine").glob("*.py") if p.stem not in ("run", *ONLOOKERS)]
        self.assertEqual([p.name for p in parts if re.search(r"import .*\bRun\b", p.read_text(encoding="utf-8"))], [])

    def test_every_match_ends_in_what_must_never_happen(self):
        open_ends = []
        for path in CORE.rglob("*.py"):
            for match in (m for m in ast.walk(ast.parse(path.read_text(encoding="utf-8"))) if isinstance(m, ast.Match)):
                if "assert_never" not in ast.unparse(match.cases[-1]):
                    open_ends.append(f"{path.stem}:{match.lineno}")
        self.assertEqual(open_ends, [])


if __name__ == "__main__":
    unittest.main()
