"""The picture of a run: what a screen needs after a tick, as plain data. Only what changed since the last one."""

from __future__ import annotations

from typing import Any

from ..cuetext.roles import STATUSES
from ..progress.layout import OUTCOMES
from ..progress.needs import may_use
from ..progress.onerow import holds_on
from ..project.records import Ability, Objective, Quest
from .chronicle import TICKS_A_SECOND, Entry
from .run import Run, Speech
from .sensing import LivePrompt


class Painter:
    """Paints one run for one screen, and remembers what that screen has been shown."""

    def __init__(self, run: Run):
        self.run = run
        self._hud: dict[str, Any] = {}
        self._level = ""

    def first(self) -> dict[str, Any]:
        """The whole picture, with the chronicle so far."""
        self.run.mover.changed = set(range(len(self.run.scene.objects)))
        self._hud, self._level = {}, ""
        return self.next(self.run.chronicle)

    def next(self, entries: list[Entry]) -> dict[str, Any]:
        """The picture after a tick whose entries are given."""
        run = self.run
        picture: dict[str, Any] = {
            "tick": run.tick_number,
            "player": [run.mover.x, run.mover.y, run.mover.facing_deg],
            "walkers": {
                run.scene.objects[n].thing.key: [w.x, w.y, round(w.facing_deg, 1)] for n, w in run.mover.walkers.items()
            },
            "poses": self._poses(),
            "prompts": [self._prompt(p) for p in run.senses.prompts.values()],
            "talk": self._talk(run.speech) if run.speech else None,
            "told": [e.as_data() for e in entries],
        }
        if run.scene.level.key != self._level:
            picture["level"] = self._level = run.scene.level.key
            run.mover.changed = set(range(len(run.scene.objects)))
        if run.mover.changed:
            picture["objects"] = self._objects()
            run.mover.changed = set()
        aims = {a: run.scene.objects[n].thing.key for a, n in run.senses.bodily.aims.items()}
        if aims:
            picture["aims"] = aims
        hud = self.hud()
        if hud != self._hud:
            picture["hud"] = self._hud = hud
        return picture

    def _poses(self) -> dict[str, list[float]]:
        mover = self.run.mover
        found = {}
        for number in (*mover.swings, *mover.still):
            pose = mover.pose(number)
            key = self.run.scene.objects[number].thing.key
            found[key] = [round(v, 3) for v in (pose.swing_deg, pose.slide_x_m, pose.slide_y_m)]
        return found

    def _objects(self) -> dict[str, Any]:
        found = {}
        for number in sorted(self.run.mover.changed):
            one = self.run.scene.objects[number]
            state = one.design.states[self.run.mover.states[number]]
            pose = self.run.mover.pose(number)
            thing = one.thing
            found[thing.key] = {
                "at": [thing.x_m, thing.y_m, thing.turn_deg],
                "kind": thing.kind,
                "name": thing.name,
                "down": self.run.is_down(thing.key),
                "icon": state.icon,
                "state": state.key,
                "state_number": int(self.run.mover.states[number]),
                "lit": state.lit,
                "exists": bool(self.run.mover.exists[number]),
                "pose": [pose.swing_deg, pose.slide_x_m, pose.slide_y_m],
            }
        return found

    def _prompt(self, live: LivePrompt) -> dict[str, Any]:
        run = self.run
        hold = run.hold if run.hold and run.hold.control == live.control and run.hold.number == live.number else None
        x, y = run.senses.place(live.number)
        return {
            "object": run.scene.objects[live.number].thing.key,
            "control": live.control,
            "cap": run.words.key_cap(live.control),
            "wording": live.wording,
            "usable": live.usable,
            "reason": live.reason,
            "hold": live.hold_ticks > 0,
            "place": live.prompt.place,
            "at": [x + live.prompt.offset_x_m, y + live.prompt.offset_y_m],
            "screen": [live.prompt.screen_x, live.prompt.screen_y],
            "opens_s": run.project.usual.prompt_s if live.prompt.opens_s is None else live.prompt.opens_s,
            "buttons": [
                {"key": b.key, "wording": b.wording, "usable": b.usable, "reason": b.reason} for b in live.buttons
            ],
            "progress": round(hold.ticks / hold.total, 3) if hold and not hold.done else 0.0,
        }

    def _talk(self, speech: Speech) -> dict[str, Any]:
        words = self.run.words
        speaker = speech.line.speaker or next(
            c.talker for c in self.run.project.conversations if c.key == speech.conversation
        )
        return {
            "line": speech.line.key,
            "speaker": words.name(speaker),
            "wording": speech.wording,
            "voice": round(1.0 - speech.left / speech.total, 3),
            "replies": self._replies(speech),
        }

    def _replies(self, speech: Speech) -> list[dict[str, Any]]:
        run, found = self.run, []
        for reply in speech.line.replies:
            action = run.program.by_name[f"reply:{speech.line.key}/{reply.key}"]
            usable = holds_on(action.guard, run.row)
            if usable or reply.unmet == "greyed":
                reason = "" if usable else run.words.need(reply.needs, run.value)
                found.append(
                    {
                        "key": reply.key,
                        "wording": run.words.filled(reply.wording, "", "use", run.value),
                        "usable": usable,
                        "reason": reason,
                    }
                )
        return found

    # --- what the player has

    def hud(self) -> dict[str, Any]:
        """Quests under way, things had, money, experience, abilities, markers."""
        run, project = self.run, self.run.project
        return {
            "quests": [
                self._quest(q) for q in project.quests if STATUSES[run.value(f"status:{q.key}")] in ("active", "ready")
            ],
            "items": [
                {"key": i.key, "name": i.name, "icon": i.icon, "count": run.value(f"item:{i.key}"), "text": i.text}
                for i in project.items
                if run.value(f"item:{i.key}")
            ],
            "money": run.value("money"),
            "money_name": project.money_name,
            "experience": run.value("experience"),
            "experience_level": 1 + sum(run.value("experience") >= s for s in project.experience_levels),
            "gear": [{"slot": slot, "item": gear} for slot, gear in self._gear()],
            "abilities": [self._ability(a) for a in project.abilities if self._has(a)],
            "marked": [o.thing.key for o in run.scene.objects if run.value(f"mark:{o.thing.key}")],
            "ended": OUTCOMES[run.value("ended")],
            "tracked": self._tracked(),
        }

    def _gear(self) -> list[tuple[str, str]]:
        """What is in each slot that holds something."""
        slots = self.run.layout.slots.items()
        return [(slot, gear[n - 1]) for slot, gear in slots if (n := self.run.value(f"gear:{slot}"))]

    def _has(self, ability: Ability) -> bool:
        """Whether the player has an ability, by grant or by gear in hand."""
        return bool(self.run.value(f"ability:{ability.key}")) or ability.gear in [item for _, item in self._gear()]

    def _ability(self, ability: Ability) -> dict[str, Any]:
        run = self.run
        return {
            "key": ability.key,
            "name": ability.name,
            "uses": run.value(f"ability_uses:{ability.key}"),
            "cap": run.words.key_cap(ability.control) if ability.control else "",
            "usable": holds_on(may_use(run.layout, ability.key), run.row),
        }

    def _tracked(self) -> list[dict[str, Any]]:
        """What is counted because something asks for it."""
        run = self.run
        return [
            {"verb": verb, "name": run.words.name(key), "count": run.value(f"tally:{verb}/{key}")}
            for verb, key in run.layout.mentions.tallies
        ]

    def _quest(self, quest: Quest) -> dict[str, Any]:
        run = self.run
        stage = quest.stages[run.value(f"stage:{quest.key}")] if quest.stages else None
        objectives = [self._objective(o) for o in (stage.objectives if stage else ()) if not o.hidden]
        return {
            "key": quest.key,
            "name": quest.name,
            "stage": stage.name if stage else "",
            "bead": quest.bead,
            "journal": stage.journal if stage else "",
            "objectives": objectives,
            "ready": STATUSES[run.value(f"status:{quest.key}")] == "ready",
        }

    def _objective(self, objective: Objective) -> dict[str, Any]:
        run = self.run
        met = bool(run.value(f"met:{objective.key}"))
        return {
            "key": objective.key,
            "name": objective.name,
            "met": met,
            "optional": objective.optional,
            "count": objective.count if met else self._progress(objective),
            "of": objective.count,
            "marker": objective.marker,
        }

    def _progress(self, objective: Objective) -> int:
        run = self.run
        if objective.type == "have":
            return min(
                objective.count,
                max(
                    (run.value(f"item:{t}") for t in objective.targets if run.program.table.has(f"item:{t}")), default=0
                ),
            )
        if objective.type == "state":
            here = [run.layout.placed[t] for t in objective.targets if t in run.layout.placed]
            if objective.state == "gone":
                return sum(not run.value(f"exists:{one.thing.key}") for one in here)
            return sum(one.design.states[run.value(f"state:{one.thing.key}")].key == objective.state for one in here)
        return run.value(f"count:{objective.key}")


def seconds(tick: int) -> str:
    """A tick as minutes, seconds and tenths.

    >>> seconds(30 * 61 + 15)
    '01:01.5'
    """
    tenths = tick * 10 // TICKS_A_SECOND
    return f"{tenths // 600:02d}:{tenths // 10 % 60:02d}.{tenths % 10}"
