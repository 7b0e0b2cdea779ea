"""Figures of the proof: campaigns more or less tied together, the demo's verdicts and shortest ways. CPU seconds."""

from __future__ import annotations

import time

from scripts.coupled import coupled
from scripts.measuring import say

CASES = ((30, 0.0, 3), (100, 0.0, 3), (30, 0.6, 6), (30, 0.9, 1), (60, 0.6, 2))
MOST = 1_500_000


def campaigns() -> None:
    """Verdicts of generated campaigns, from the project on: the slowest seed, and how many quests were decided in all."""
    from vocanta.core.progress.compiling import compiled
    from vocanta.core.proof.verdicts import verdicts, worked_out

    for quests, coupling, seeds in CASES:
        slowest, decided = 0.0, 0
        for seed in range(seeds):
            project = coupled(quests, coupling, seed)
            begun = time.process_time()
            worked = worked_out(compiled(project), [q.key for q in project.quests])
            found = verdicts(worked, MOST)
            slowest = max(slowest, time.process_time() - begun)
            decided += sum(v.what == "can" and v.answer != "undecided" for v in found)
        name = f"prove_{quests}_quests_coupled_{coupling:g}"
        say(name, slowest, "s")
        say(f"{name}_decided", 100.0 * decided / (quests * seeds), "%")


def demo() -> None:
    """The demo's verdicts, from its file on, and the shortest way to have each quest done."""
    from vocanta.core.progress.compiling import compiled
    from vocanta.core.proof.routes import Ways
    from vocanta.core.proof.verdicts import verdicts, worked_out
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
