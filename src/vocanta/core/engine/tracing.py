"""What brought an entry of the chronicle about: the action, what settled before it, and every need of its rule as it was."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cached_property

from ..progress.effects import Consequences
from ..progress.program import Branch
from ..project.names import KEY
from .chronicle import Entry
from .needlines import Moment
from .run import Run
from .shown import Because, WhyLine


class Tracer:
    """Answers what brought entries about, for one run; who flags whom is worked out once."""

    def __init__(self, run: Run):
        self.run = run

    @cached_property
    def _consequences(self) -> Consequences:
        return Consequences(self.run.situation.program)

    @cached_property
    def _groups(self) -> dict[str, list[str]]:
        """The groups that each place of the project lies in."""
        found: dict[str, list[str]] = {}
        for name, group in self.run.situation.program.groups.items():
            for branch in group.branches:
                found.setdefault(branch.origin, []).append(name)
        return found

    def because(self, number: int, row: Sequence[int]) -> Because | None:
        """What brought an entry about, by its number; `row` is what the run had come to before. None for no such entry."""
        chronicle = self.run.chronicle
        if not 0 <= number < len(chronicle):
            return None
        entry, (begun, _) = chronicle[number], self.run.ledger.stretch(number)
        moment = Moment(self.run, row, begun)
        after = self._settled_after(entry, begun, number)
        return {
            "entry": number,
            "cause": entry.cause.says,
            "after": after,
            "said": chronicle[after].text if after >= 0 else "",
            "needs": list(self._needs(entry, moment)),
        }

    def _settled_after(self, entry: Entry, begun: int, number: int) -> int:
        """The entry of the same action whose rule set off the rule of this one; -1 where the action itself did."""
        mine, columns = set(self._groups.get(entry.origin, ())), self.run.situation.program.columns
        read = {columns[c].key for g in mine for c in self._consequences.effects(g).reads}
        setting_off = [
            n for n in range(number - 1, begun - 1, -1) if self._sets_off(self.run.chronicle[n], entry, mine)
        ]
        spoken_of = [n for n in setting_off if self.run.chronicle[n].subject in read]
        return (spoken_of or setting_off or [-1])[0]

    def _sets_off(self, earlier: Entry, entry: Entry, mine: set[str]) -> bool:
        groups = self._groups.get(earlier.origin, ())
        return earlier.origin != entry.origin and any(mine & self._consequences.flagged_by(g) for g in groups)

    def _needs(self, entry: Entry, moment: Moment) -> Iterator[WhyLine]:
        """The needs of the rule behind an entry as they were, up to the first that stopped it."""
        branch = self._branch(entry)
        if branch is None:
            return
        this = self._owner(entry)
        lines = [moment.need(c.guard, c.text, this) for c in branch.conditions] or moment.needs(branch.guard, this)
        for line in lines:
            yield line
            if not line["met"]:
                return

    def _branch(self, entry: Entry) -> Branch | None:
        groups = self.run.situation.program.groups
        found = (b for name in self._groups.get(entry.origin, ()) for b in groups[name].branches)
        return next((b for b in found if b.origin == entry.origin), None)

    def _owner(self, entry: Entry) -> str:
        """What `this` is in the rule behind an entry."""
        of, _, rest = entry.origin.partition("/")
        key = rest.partition("/")[0]
        return key if of == "object" and KEY.match(key) else entry.subject
