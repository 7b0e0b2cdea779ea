"""The cue texts of a project, read and held against its names. What cannot be used is told, never run."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TypeVar

from ..cuetext.index import NameIndex, text_problems
from ..cuetext.nodes import CueTree, Holds, Step, Top, has_hole, nodes_in
from ..cuetext.reading import CueTextError, read_cue, read_needs, read_steps
from ..project.problems import Problem

T = TypeVar("T")


@dataclass
class Texts:
    """Reads texts for the compiler and gathers what is wrong with them, by place."""

    index: NameIndex
    problems: list[Problem] = field(default_factory=list)
    copies: Mapping[str, str] = field(default_factory=dict)
    """The kind of each copy that steps put: a copy has no name of its own, and the states and values of its kind."""

    def cue(self, text: str, place: str, this: str) -> CueTree | None:
        """A cue's tree, None where it cannot run: unreadable, a hole, a name that names nothing."""
        return self._read(read_cue, text, place, this)

    def needs(self, text: str, place: str, this: str = "") -> tuple[Top, ...] | None:
        """Needs alone; no needs in an empty text."""
        return self._read(read_needs, text, place, this)

    def steps(self, text: str, place: str, this: str = "") -> tuple[Step, ...]:
        """Steps alone; none where they cannot run."""
        return self._read(read_steps, text, place, this) or ()

    def _read(self, reader: Callable[[str], T], text: str, place: str, this: str) -> T | None:
        try:
            tree = reader(text)
        except CueTextError as error:
            self.problems += [p.at(place) for p in error.problems]
            return None
        wrong = [p.at(place) for p in text_problems(tree, self.index, self.copies.get(this, this))]
        wrong += [p.at(place) for p in self._named(tree)]
        if has_hole(tree):
            wrong.append(Problem("cue_hole", "Something is not filled in yet.", "Fill in every “?”.", place))
        self.problems += wrong
        return None if wrong else tree

    def _named(self, tree: object) -> list[Problem]:
        """What is wrong with the named needs that a tree uses."""
        used = [node.fact.text for node in nodes_in(tree) if isinstance(node, Holds)]
        return [broken_need(key) for key in used if self.index.type_of(key) == "namedneed" and not self._sound(key, ())]

    def _sound(self, key: str, above: tuple[str, ...]) -> bool:
        """Whether a named need can be read, is filled in, names what there is, and does not lead back to itself."""
        if key in above:
            return False
        try:
            tree = read_needs(self.index.things[key][1].text)
        except CueTextError:
            return False
        if has_hole(tree) or text_problems(tree, self.index):
            return False
        inner = [node.fact.text for node in nodes_in(tree) if isinstance(node, Holds)]
        return all(self._sound(k, (*above, key)) for k in inner if self.index.type_of(k) == "namedneed")


def broken_need(key: str) -> Problem:
    """What is said where a named need cannot be used."""
    return Problem(
        "need_broken",
        f"The named need {key} cannot be read, has a hole, or leads back to itself.",
        f"Mend {key} on its page.",
    )
