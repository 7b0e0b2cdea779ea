"""The cue texts of a project, read and held against its names. What cannot be used is told, never run."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..cuetext.analysing import Analysis, Start, analysed
from ..cuetext.index import NameIndex, text_problems, use_problems
from ..cuetext.own_values import number_problems
from ..cuetext.reading import CueTextError, read_needs
from ..phrases.nodes import CueTree, Holds, Step, Top, has_hole, nodes_in
from ..project.problems import Problem


@dataclass
class Texts:
    """Reads texts for the compiler and gathers what is wrong with them, by place."""

    index: NameIndex
    problems: list[Problem] = field(default_factory=list)
    copies: Mapping[str, str] = field(default_factory=dict)
    """The kind of each copy that steps put: a copy has no name of its own, and the states and values of its kind."""

    def cue(self, text: str, place: str, this: str) -> CueTree | None:
        """A cue's tree, None where it cannot run: unreadable, a hole, a name that names nothing."""
        read = self._read("cue", text, place, this)
        return None if read is None else read.tree

    def needs(self, text: str, place: str, this: str = "") -> tuple[Top, ...] | None:
        """Needs alone; no needs in an empty text; None where they cannot be used."""
        read = self._read("needs", text, place, this)
        return None if read is None else read.tree

    def steps(self, text: str, place: str, this: str = "") -> tuple[Step, ...]:
        """Steps alone; none where they cannot run."""
        read = self._read("steps", text, place, this)
        return () if read is None else read.tree

    def _read(self, start: Start, text: str, place: str, this: str) -> Analysis | None:
        try:
            read = analysed(start, text, bool(this))
        except CueTextError as error:
            self.problems += [p.at(place) for p in error.problems]
            return None
        owner = self.copies.get(this, this)
        values = self.index.values.get(owner, {})
        wrong = [*use_problems(read.uses, self.index, owner), *number_problems(read.left, values)]
        read = read.of(values, bool(this))
        wrong += read.limits
        wrong += self._named(read)
        if read.has_hole:
            wrong.append(Problem("cue_hole", "Something is not filled in yet.", "Fill in every “?”."))
        self.problems += [p.at(place) for p in wrong]
        return None if wrong else read

    def _named(self, read: Analysis) -> list[Problem]:
        """What is wrong with the named needs that a text uses."""
        named = [
            u.word.text for u in read.uses if "namedneed" in u.types and self.index.type_of(u.word.text) == "namedneed"
        ]
        return [broken_need(key) for key in named if not self._sound(key, ())]

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
