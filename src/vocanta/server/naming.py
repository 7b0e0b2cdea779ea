"""Places of a program in words: which record an origin means, and how a screen names it."""

from __future__ import annotations

from dataclasses import dataclass

from ..core.cuetext.own_values import is_its
from ..core.engine.wording import Words, first_words
from ..core.progress.threads import Touch
from ..core.project.records import Project
from .shapes import TouchShape


def shown(words: Words, text: str, owner: str) -> str:
    """A name as a page shows it: the shown name of the thing, the state or the stage."""
    if owner:
        return words.owned(text, owner)
    if text in ("this", "player", "yes", "no") or is_its(text):
        return "it" if text == "this" else text
    return words.name(text)


@dataclass(frozen=True)
class Named:
    """An origin in words: `text` says what it is, `quote` its first words where it has any."""

    text: str
    quote: str
    place: str


_DECIDED = {"start": "the player takes on", "decline": "the player declines", "give up": "the player gives up"}


class Places:
    """Looks up origins of one project."""

    def __init__(self, core: Project, words: Words):
        self.core, self.words = core, words
        self._kinds = {k.key: k.name for k in core.kinds}
        self._lines = {line.key: (talk, line) for talk in core.conversations for line in talk.lines}

    def named(self, touch: Touch) -> Named:
        """An offer or a step in words."""
        parts = touch.origin.split("/")
        if touch.verb in ("use", "hold", "used", "held"):
            key = touch.subject or parts[1]
            prompt = self._prompt(key, touch.control)
            return Named(
                self.words.name(key) if parts[0] != "kind" or touch.subject else self._kinds.get(key, key),
                prompt,
                f"object/{key}",
            )
        if parts[0] == "conversation":
            return self._line(parts)
        if touch.verb == "advance":
            stage = self.words.owned(parts[3], parts[1])
            return Named(f"the objectives of {stage} are met", "", f"stage/{parts[1]}/{parts[3]}")
        if len(parts) < 2:
            return Named(touch.origin, "", touch.origin)
        name = self.words.name(parts[1])
        if parts[0] == "quest" and touch.verb in _DECIDED:
            return Named(f"{_DECIDED[touch.verb]} {name}", "", f"quest/{parts[1]}")
        if parts[0] == "quest":
            return Named(self._of_quest(parts, name), "", f"quest/{parts[1]}")
        if touch.verb in ("choose", "chosen"):
            key = touch.subject or parts[1]
            return Named(self.words.name(key), self._button(key, touch), f"object/{key}")
        owner = touch.subject if touch.subject in self.words.layout.placed else parts[1]
        return Named(self.words.name(owner), "", f"{'object' if owner != parts[1] else parts[0]}/{owner}")

    def _of_quest(self, parts: list[str], name: str) -> str:
        """What of a quest does something: its requirements, rewards, entry steps, an objective, its cues."""
        what = "/".join(parts[2:])
        if what == "needs":
            return f"what {name} needs first is so"
        if what == "rewards":
            return f"the rewards of {name}"
        if parts[2:3] == ["stage"]:
            return f"entering {self.words.owned(parts[3], parts[1])}"
        if parts[2:3] == ["objective"]:
            return f"the time for “{self.words.name(parts[3])}” is up"
        return name

    def _button(self, key: str, touch: Touch) -> str:
        """The words of the button that a cue waits for."""
        placed = self.words.layout.placed.get(key)
        buttons = [b for p in placed.design.prompts for b in p.buttons] if placed else []
        return next((b.wording for b in buttons if b.key == touch.control), "")

    def _prompt(self, key: str, control: str) -> str:
        placed = self.words.layout.placed.get(key)
        found = [p for p in placed.design.prompts if not control or p.control == control] if placed else []
        return self.words.filled(found[0].wording, key, found[0].control, lambda what, key: 0) if found else ""

    def _line(self, parts: list[str]) -> Named:
        talk, line = self._lines[parts[3]]
        who = self.words.name(talk.talker) if talk.talker else talk.name
        if len(parts) > 5 and parts[4] == "reply":
            reply = next(r for r in line.replies if r.key == parts[5])
            return Named(f"{who}, answer", first_words(reply.wordings[0]), f"line/{talk.key}/{line.key}")
        return Named(who, first_words(line.wordings[0]), f"line/{talk.key}/{line.key}")


def touch_shape(touch: Touch, places: Places, quest: str) -> TouchShape:
    """A touch as it travels."""
    named = places.named(touch)
    stages = [s if s == "not started" else places.words.owned(s, quest) for s in touch.from_stages]
    return TouchShape(named.text, named.quote, named.place, None, stages)
