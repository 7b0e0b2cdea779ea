"""A cue, a line or a panel's entry that is never read because an earlier one always fits."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.rearranging import NEEDS, rearranged
from ...cuetext.writing import write_need
from ...phrases import nodes as n
from ...project.records import Project
from ..addresses import address_and_field, owner_of, type_of
from ..check import Check
from ..finding import Found, Mend, Spot, called, quoted
from ..mending import Before, Remove, Reword, Write
from ..needing import prose
from ..order import shadows
from ..survey import Survey
from ..texts import Text


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every written branch that another shadows wherever it stands."""
    by: dict[str, list[str]] = {}
    for one in shadows(survey.program, survey.values):
        if one.verb != "openers" and type_of(address_and_field(one.origin)[0]) == "line":
            continue
        by.setdefault(address_and_field(one.origin)[0], []).append(address_and_field(one.origin and one.by)[0])
    for record, above in by.items():
        if all(above) and above[0] != record and record in survey.records and type_of(record) in ("cue", "line"):
            yield _found(survey, record, above[0])


def _found(survey: Survey, record: str, above: str) -> Found:
    line = type_of(record) == "line"
    field = "needs" if line else "text"
    held = survey.held_at(Spot(above, field))
    theirs = survey.text_of.get((above, field))
    how = "fits wherever it would" if theirs is not None and theirs.tops else "always fits"
    if line:
        says = f"never says {called(record.rpartition('/')[2])}: {called(above.rpartition('/')[2])} above it {how}"
        marks = called(record.rpartition("/")[2])
    else:
        says, marks = f"has a cue that is never read: {_first(survey, above)} above it {how}", "never read"
    owner = "" if line else owner_of(record)
    spot = Spot(record, "wordings" if line else "text")
    return Found(
        spot, survey.whose(record), says, tuple(_mends(survey, record, above)), marks, (above,), (held,), owner
    )


def _first(survey: Survey, record: str) -> str:
    return quoted(survey.records[record].record.text.split("\n")[0])


def _mends(survey: Survey, record: str, above: str) -> Iterator[Mend]:
    field = "needs" if type_of(record) == "line" else "text"
    mine, theirs = survey.text_of.get((record, field)), survey.text_of.get((above, field))
    tops = mine.tops if mine is not None else ()
    same = survey.records[record].chain[:-1] == survey.records[above].chain[:-1]
    names = [called(r.rpartition("/")[2]) if type_of(r) == "line" else "the cue" for r in (record, above)]
    if same and tops and (theirs is None or theirs.tops != tops):
        says = (
            f"Move {names[0]} above {names[1]}." if field == "needs" else "Move the cue above the one that always fits."
        )
        yield Mend("move it up", says, (Before(record, above),))
    if tops and (write := _unless(above, theirs, tops)) is not None:
        words = " and ".join(prose(survey, top.need, mine) for top in tops) if mine is not None else ""
        yield Mend("give a need", f"Give the one above a need: it is not so that {words}.", (write,))
    if not tops and type_of(record) == "cue":
        yield Mend("delete it", "Delete the cue that is never read.", (Remove(record),))


def _unless(above: str, theirs: Text | None, tops: tuple[n.Top, ...]) -> Write | None:
    """What gives the one above the need that the other's do not hold."""
    needs = tuple(top.need for top in tops)
    text = write_need(n.Not(needs[0] if len(needs) == 1 else n.And(needs)))
    if theirs is None:
        return Reword(above, "needs", (0, 0), text) if type_of(above) == "line" else None
    whole = rearranged(theirs.words, theirs.start, put=text, to=NEEDS).text
    return Reword(above, theirs.field, (0, len(theirs.words)), whole)


CHECK = Check(
    "never_read",
    "A cue or line that is never read",
    "stops it",
    "N55",
    "Is everything read at some time?",
    "The first that fits is taken. What stands above asks for nothing that is not so whenever this fits, so this never is.",
    "“Evening.” asks for nothing, and below it stands “You came back for that?”.",
    "project",
    find,
    ("rules", "names"),
)
