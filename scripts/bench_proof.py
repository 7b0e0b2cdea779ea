"""Figures of the proof: campaigns more or less tied together, the demo's verdicts and shortest ways. CPU seconds."""

from __future__ import annotations

import time
from contextlib import suppress
from dataclasses import replace

from scripts.coupled import coupled
from scripts.measuring import say

CASES = ((30, 0.0, 3), (100, 0.0, 3), (30, 0.6, 6), (30, 0.9, 2), (60, 0.6, 2), (100, 0.6, 1))
MOST = 1_500_000
AT_MOST_S = 60.0
"""A campaign has so much time; what is not decided then is counted as such."""
PLAINLY = 4_000
"""So many situations of the plain search are timed."""


class _Over(Exception):
    """The time of a campaign is over."""


def campaigns() -> None:
    """Verdicts of generated campaigns, from the project on: the slowest seed, and how many quests were decided in all."""
    from vocanta.core.progress.compiling import compiled
    from vocanta.core.proof.answering import Answers
    from vocanta.core.proof.verdicts import told, verdicts, worked_out

    for quests, coupling, seeds in CASES:
        slowest, decided = 0.0, 0
        for seed in range(seeds):
            project = coupled(quests, coupling, seed)
            begun = time.process_time()

            def watch(what: str, done: int, of: int, begun: float = begun) -> None:
                if time.process_time() > begun + AT_MOST_S:
                    raise _Over

            worked = worked_out(compiled(project), [q.key for q in project.quests])
            known: dict[str, Answers] = {}
            with suppress(_Over):
                verdicts(worked, MOST, watch, known=known)
            slowest = max(slowest, time.process_time() - begun)
            open_yet = {v.quest for v in told(worked, known) if v.answer == "undecided"}
            decided += quests - len(open_yet)
        name = f"prove_{quests}_quests_coupled_{coupling:g}"
        say(name, slowest, "s")
        say(f"{name}_decided", 100.0 * decided / (quests * seeds), "%")


def packed() -> None:
    """Going through every situation: of dials in one word and in six, and of a project beside a plain search of the same."""
    from vocanta.core.proof.packed import explored
    from vocanta.core.proof.system import Move, System

    turns = tuple(Move((), ((c, tuple((v + 1) % 6 for v in range(6))),)) for c in range(8))
    for words in (1, 6):
        beside = words - 1  # Columns of 40 bits, each in a word of its own.
        sizes = (*(6,) * 8, *(1 << 40,) * beside)
        system = System(tuple(map(str, range(len(sizes)))), sizes, (0,) * len(sizes), turns)
        begun = time.process_time()
        found = explored(system, follow=False)
        seconds = time.process_time() - begun
        say(f"packed_{found.packing.words}_words_situations", found.count / seconds / 1e6, "M/s")
        say(f"packed_{found.packing.words}_words_successors", found.count * len(turns) / seconds / 1e6, "M/s")
    _beside_plain(17)


def _beside_plain(switches: int) -> None:
    """A project of so many switches, gone through packed and by the walk of a playtest, one situation after the other."""
    from vocanta.core.progress.compiling import compiled
    from vocanta.core.progress.onerow import RowWalk
    from vocanta.core.project.records import Cue, Project
    from vocanta.core.proof.packed import explored
    from vocanta.core.proof.verdicts import begun as first_row
    from vocanta.core.proof.verdicts import worked_out

    whole = coupled(1, 0.0, 0)
    level = whole.levels[0]
    toggle = (Cue("c1", "when used\nthen\n  set this to next"),)
    ends = " and ".join(f"switch_{n} is on" for n in range(switches))
    last = (Cue("c1", f"when used\nonly if {ends}\nthen\n  finish quest_0"),)
    post = level.objects[0]
    things = [
        replace(post, key=f"switch_{n}", name=f"Switch {n}", x_m=1.0 + n % 4, cues=toggle) for n in range(switches)
    ]
    things.append(replace(post, key="gate", name="Gate", cues=last))
    quests = (replace(whole.quests[0], stages=whole.quests[0].stages[2:]),)
    project: Project = replace(
        whole, levels=(replace(level, objects=tuple(things)),), items=(), facts=(), quests=quests
    )
    program = compiled(project)
    worked = worked_out(program, ["quest_0"])
    begun = time.process_time()
    found = explored(worked.recoded.system)
    many = found.count / (time.process_time() - begun)
    actions = [a for a in worked.program.actions if a.kind == "use"]
    seen, waiting = {first_row(program)}, [first_row(program)]
    begun = time.process_time()
    while waiting and len(seen) < PLAINLY:
        here = waiting.pop()
        for action in actions:
            row = list(here)
            RowWalk(worked.program, row).act(action, attempt=True)
            if (to := tuple(row)) not in seen:
                seen.add(to)
                waiting.append(to)
    plain = len(seen) / (time.process_time() - begun)
    say("packed_project_situations", float(found.count), "")
    say("packed_against_plain", many / plain, "x")


def demo() -> None:
    """The demo's verdicts, from its file on, and the shortest way to have each quest done."""
    from vocanta.core.engine.wording import Words
    from vocanta.core.progress.compiling import compiled
    from vocanta.core.proof.routes import Ways
    from vocanta.core.proof.verdicts import verdicts, worked_out
    from vocanta.core.proof.wide import spread_whole
    from vocanta.core.proving.map import map_of
    from vocanta.demo import night_bloom

    begun = time.process_time()
    project = night_bloom().project
    worked = worked_out(compiled(project), [q.key for q in project.quests])
    verdicts(worked)
    say("prove_demo_verdicts", time.process_time() - begun, "s")
    for question in worked.recoded.system.questions:
        begun = time.process_time()
        found = Ways(worked.recoded).route(question, "can")
        assert found is not None, question.key
        say(f"prove_demo_way_{question.key}_{found.counted}_things", time.process_time() - begun, "s")
    wide = spread_whole(compiled(project), worked.first)
    begun = time.process_time()
    map_of(wide, Words(project))
    say("prove_demo_unfolding", time.process_time() - begun, "s")
