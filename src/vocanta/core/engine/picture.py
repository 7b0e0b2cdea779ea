"""The picture of a run: what a screen needs after a tick, as plain data. Only what changed since the last one."""

from __future__ import annotations

from ..progress.guards import can_hold
from ..progress.layout import OUTCOMES
from ..progress.needs import may_use
from ..progress.onerow import holds_on
from ..project.records import Ability, Reply
from ..space.ways import Way
from .chronicle import Entry
from .prompts import LivePrompt
from .questing import QuestScreen
from .run import Run
from .shown import (
    AbilityShown,
    ButtonShown,
    Hud,
    Picture,
    Pose,
    PromptShown,
    Spot,
    TalkShown,
    ThingShown,
    ToldShown,
    TrackedShown,
)
from .talking import Speech, wording_number


class Painter:
    """Paints one run for one screen, and remembers what that screen has been shown."""

    def __init__(self, run: Run):
        self.run, self.situation = run, run.situation
        self._hud: Hud | None = None
        self.quests = QuestScreen(run.situation, run.clocks, run.places, run.chronicle, self._way_to)
        self._level = ""

    def _way_to(self, spot: Spot) -> Way:
        """The player's way on foot in the level where the player is now."""
        return self.run.here.mover.way_to(spot)

    def first(self) -> Picture:
        """The whole picture, with the chronicle so far."""
        mover = self.run.here.mover
        mover.changed = set(range(len(mover.scene.objects)))
        self._hud, self._level = None, ""
        return self.next(self.run.chronicle)

    def next(self, entries: list[Entry]) -> Picture:
        """The picture after a tick whose entries are given."""
        run, player, here = self.run, self.situation.player, self.run.here
        scene, mover = here.mover.scene, here.mover
        picture: Picture = {
            "tick": self.situation.tick,
            "player": (player.x, player.y, player.facing_deg),
            "walkers": {
                scene.objects[n].thing.key: (w.x, w.y, round(w.facing_deg, 1)) for n, w in mover.walkers.items()
            },
            "poses": self._poses(),
            "prompts": [self._prompt(p) for p in here.prompts.live.values()],
            "talk": self._talk(run.talk.speech) if run.talk.speech else None,
            "told": self.told(entries),
        }
        if scene.level.key != self._level:
            picture["level"] = self._level = scene.level.key
            mover.changed = set(range(len(scene.objects)))
        if mover.changed:
            picture["objects"] = self._objects()
            mover.changed = set()
        aims = {a: scene.objects[n].thing.key for a, n in here.senses.bodily.aims.items()}
        if aims:
            picture["aims"] = aims
        hud = self.hud()
        if hud != self._hud:
            picture["hud"] = self._hud = hud
        return picture

    def told(self, entries: list[Entry]) -> list[ToldShown]:
        """Entries, the last ones of the chronicle, with their numbers in it."""
        first = len(self.run.chronicle) - len(entries)
        return [e.as_data(first + number) for number, e in enumerate(entries)]

    def _poses(self) -> dict[str, Pose]:
        mover = self.run.here.mover
        found: dict[str, Pose] = {}
        for number in (*mover.swings, *mover.still):
            pose = mover.pose(number)
            key = mover.scene.objects[number].thing.key
            found[key] = (round(pose.swing_deg, 3), round(pose.slide_x_m, 3), round(pose.slide_y_m, 3))
        return found

    def _objects(self) -> dict[str, ThingShown]:
        found: dict[str, ThingShown] = {}
        mover = self.run.here.mover
        for number in sorted(mover.changed):
            one = mover.scene.objects[number]
            state, pose, thing = one.design.states[mover.states[number]], mover.pose(number), one.thing
            found[thing.key] = {
                "at": (thing.x_m, thing.y_m, thing.turn_deg),
                "kind": thing.kind,
                "name": thing.name,
                "down": mover.is_down(thing.key),
                "icon": state.icon,
                "state": state.key,
                "state_number": int(mover.states[number]),
                "lit": state.lit,
                "exists": bool(mover.exists[number]),
                "pose": (pose.swing_deg, pose.slide_x_m, pose.slide_y_m),
            }
        return found

    def _prompt(self, live: LivePrompt) -> PromptShown:
        here, situation = self.run.here, self.situation
        hold = self.run.holds.by_control.get(live.control)
        if hold is not None and hold.identity != live.identity:
            hold = None
        x, y = here.senses.eyes.place(live.number)
        return {
            "object": here.mover.scene.objects[live.number].thing.key,
            "control": live.control,
            "cap": situation.words.key_cap(live.control),
            "wording": live.wording,
            "usable": live.looks_usable,
            "reason": live.reason,
            "hold": live.hold_ticks > 0,
            "place": live.prompt.place,
            "at": (x + live.prompt.offset_x_m, y + live.prompt.offset_y_m),
            "screen": (live.prompt.screen_x, live.prompt.screen_y),
            "opens_s": situation.project.usual.prompt_s if live.prompt.opens_s is None else live.prompt.opens_s,
            "buttons": [
                {"key": b.key, "wording": b.wording, "usable": b.looks_usable, "reason": b.reason} for b in live.buttons
            ],
            "progress": round(hold.ticks / hold.total, 3) if hold and not hold.done else 0.0,
        }

    def _talk(self, speech: Speech) -> TalkShown:
        words, talk = self.situation.words, self.situation.layout.conversations[speech.conversation]
        named = speech.line.speaker or talk.talker or speech.talker
        speaker = self.situation.who(named) or named
        return {
            "line": speech.line.key,
            "speaker": words.name(speaker),
            "wording": speech.wording,
            "voice": round(1.0 - speech.left / speech.total, 3),
            "sound": speech.sound,
            "replies": self._replies(speech),
        }

    def _replies(self, speech: Speech) -> list[ButtonShown]:
        situation = self.situation
        found: list[ButtonShown] = []
        for reply in speech.line.replies:
            action = situation.program.by_name[f"reply:{speech.line.key}/{reply.key}"]
            often = self._chosen(speech, reply)
            usable = can_hold(action.guard, situation.row, situation.program.chances)
            if usable or (reply.unmet == "greyed" and not (reply.repeat == "once" and often)):
                reason = "" if usable else situation.words.need(reply.needs, situation.known)
                found.append(
                    {
                        "key": reply.key,
                        "wording": situation.words.filled(
                            reply.wordings[wording_number(reply, often)], "", "use", situation.known
                        ),
                        "usable": usable,
                        "reason": reason,
                    }
                )
        return found

    def _chosen(self, speech: Speech, reply: Reply) -> int:
        """How often a reply was chosen where the talk was opened, as far as that is counted."""
        at = self.situation.value("talk_at")
        talker = self.situation.layout.talkers[at - 1] if at else ""
        return self.situation.known("chosen", f"{talker}/{speech.line.key}/{reply.key}")

    # --- what the player has

    def hud(self) -> Hud:
        """Quests under way, things had, money, experience, abilities, markers."""
        run, project = self.situation, self.situation.project
        return {
            "quests": self.quests.under_way(),
            "offers": self.quests.offers(),
            "log": self.quests.log(),
            "items": [
                {
                    "key": i.key,
                    "name": i.name,
                    "icon": i.icon,
                    "picture": i.picture,
                    "count": run.value("item", i.key),
                    "text": i.text,
                }
                for i in project.items
                if run.value("item", i.key)
            ],
            "money": run.value("money"),
            "money_name": project.money_name,
            "experience": run.value("experience"),
            "experience_level": 1 + sum(run.value("experience") >= s for s in project.experience_levels),
            "gear": [{"slot": slot, "item": gear} for slot, gear in self._gear()],
            "abilities": [self._ability(a) for a in project.abilities if self._has(a)],
            "marked": [o.thing.key for o in run.scene.objects if run.known("mark", o.thing.key)],
            "ended": OUTCOMES[run.value("ended")],
            "tracked": self._tracked(),
        }

    def _gear(self) -> list[tuple[str, str]]:
        """What is in each slot that holds something."""
        slots = self.situation.layout.slots.items()
        return [(slot, gear[n - 1]) for slot, gear in slots if (n := self.situation.value("gear", slot))]

    def _has(self, ability: Ability) -> bool:
        """Whether the player has an ability, by grant or by gear in hand."""
        return bool(self.situation.value("ability", ability.key)) or ability.gear in [item for _, item in self._gear()]

    def _ability(self, ability: Ability) -> AbilityShown:
        run = self.situation
        return {
            "key": ability.key,
            "name": ability.name,
            "uses": run.known("ability_uses", ability.key),
            "cap": run.words.key_cap(ability.control) if ability.control else "",
            "usable": holds_on(may_use(run.layout, ability.key), run.row),
        }

    def _tracked(self) -> list[TrackedShown]:
        """What is counted because something asks for it."""
        run = self.situation
        return [
            {"verb": verb, "name": run.words.name(key), "count": run.value("tally", f"{verb}/{key}")}
            for verb, key in run.layout.mentions.tallies
        ]
