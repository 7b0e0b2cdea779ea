"""Every need, declared."""

from __future__ import annotations

from . import nodes as n
from .declaring import Both, How, Maybe, Of, Phrase, Slot, Units, Unsaid
from .vocabulary import FIXED

_NUMBER = Slot("number", "number")
_COUNT = Slot("count", "number")
COMPARED: dict[str, tuple[str, str]] = {c: (f" {c} ", f" {c} ") for c in n.COMPARISONS}
"""Between what is compared and a number."""
AMOUNT: dict[str, tuple[str, str]] = {c: (f"{c} ", f"{c} ") for c in n.COMPARISONS}
"""Before a number that is at least where nothing is said."""
_PLACES = {how: (f" {how} ", f" is {how} ") for how in ("at", "before", "past")}
_AROUND = {how: (f" {how} ", f" is {how} ") for how in ("in reach of", "in the way of")}


def _tally(verb: n.TallyVerb, types: tuple[str, ...], means: str, example: str) -> Phrase:
    subject = Slot("subject", types=types, supply="asked" if verb == "gained" else "")
    parts = (
        subject,
        Both(f" {verb} ", f" was {verb} ", f" was not {verb} "),
        How("how", AMOUNT, "at least"),
        _COUNT,
        Units("count", " time", " times"),
    )
    return Phrase(n.Tally, f"tally_{verb}", parts, means, example, {"verb": verb})


_OWNED = Slot("value", types=("value",), owner="subject")

NEEDS: tuple[Phrase, ...] = (
    Phrase(
        n.Has,
        "has",
        (
            Both("has ", "the player has ", "the player does not have "),
            How("how", AMOUNT, "at least"),
            Maybe("count", (_COUNT, Of("count")), (Unsaid("number", "1", after=" ", at="item"), Both("", " "))),
            Slot("item", types=("item",), supply="asked", many="count"),
        ),
        "The player has so many of an item; at least one where no number stands.",
        "has at most 3 dried_pods",
    ),
    Phrase(
        n.Is,
        "is_",
        (
            Slot("subject", types=("object", "quest", "fact", "item", "role", *FIXED), supply="asked"),
            Both(" is ", " is ", " is not "),
            _OWNED,
        ),
        "A state, gone, a status, yes or no; an item equipped; a role filled, or by whom.",
        "lamp is lit",
        offers=("? is ?", "? is equipped", "? is filled"),
    ),
    Phrase(
        n.Holds,
        "holds",
        (Slot("fact", types=("fact", "namedneed", FIXED[0]), supply="asked"), Both("", "", " does not hold")),
        "A fact is yes, or the needs under a name hold.",
        "east_wing_dry",
        offers=("?",),
    ),
    Phrase(
        n.Place,
        "place",
        (Slot("quest", types=("quest",)), How("how", _PLACES), Slot("stage", types=("stage",), owner="quest")),
        "A quest is at a stage, not as far, or farther; all three false when it failed or was declined for good.",
        "dry_feet at open_sluice",
        offers=("? at ?", "? before ?", "? past ?"),
    ),
    Phrase(
        n.Between,
        "between",
        (
            Slot("quest", types=("quest",)),
            Both(" between ", " is between ", " is not between "),
            Slot("first", types=("stage",), owner="quest"),
            " and ",
            Slot("last", types=("stage",), owner="quest"),
        ),
        "A quest is at one of the stages from one to another, both counted.",
        "dry_feet between find_key and report_back",
    ),
    Phrase(
        n.Met,
        "met",
        (Slot("objective", types=("objective",)), Both(" met", " is met", " is not met")),
        "An objective is met.",
        "have_the_key met",
    ),
    Phrase(
        n.Heard,
        "heard",
        (
            Both("heard ", "the player has heard ", "the player has not heard "),
            Slot("line", types=("line",)),
            Maybe("by", (Both(" by ", " from "), Slot("by", types=("object",)))),
        ),
        "A line was heard, from anybody or from the one named.",
        "heard mind_the_wet by odile",
    ),
    Phrase(
        n.Can,
        "can",
        (
            Both("can ", "the player can use ", "the player cannot use "),
            Slot("ability", types=("ability",), supply="asked"),
        ),
        "An ability was granted, or its gear is in hand, and nothing suspends it.",
        "can long_reach",
    ),
    _tally("used", ("object",), "How often an object was used.", "lamp used 3 times"),
    _tally("heard", ("line",), "How often a line was heard.", "good_day heard at least 2 times"),
    _tally("visited", ("area", "level"), "How often an area or a level was come into.", "palm_house visited 2 times"),
    _tally("gained", ("item", "purse"), "How many were gained in all.", "dried_pods gained fewer than 6 times"),
    Phrase(
        n.Inside,
        "inside",
        (
            Slot("who", types=("player",)),
            Both(" in ", " is in ", " is not in "),
            Slot("place", types=("area", "level", "object")),
        ),
        "The player's own body is in an area, a level or a zone.",
        "player in palm_house",
        offers=("player in ?",),
    ),
    Phrase(
        n.Around,
        "around",
        (Slot("who", types=("player", "somebody", "tag")), How("how", _AROUND), Slot("thing", types=("object",))),
        "Who is named is within an object's reach, or where its body stands or passes.",
        "somebody in the way of gate",
        offers=("player in reach of ?", "somebody in reach of ?", "somebody in the way of ?"),
    ),
    Phrase(
        n.Chance,
        "chance",
        (
            Both("chance one in ", "chance has it, one in ", "chance does not have it, one in "),
            Slot("one_in", "number"),
        ),
        "Drawn for each action from the run's seed.",
        "chance one in 4",
    ),
    Phrase(
        n.Compare,
        "compare",
        (
            Slot("subject", types=("fact", "purse", "ability", "grade", FIXED[1]), supply="asked"),
            How("how", COMPARED),
            _NUMBER,
        ),
        "A number fact, money, experience, its level, or the uses left of an ability, compared.",
        "lamps_lit at least 2",
        offers=tuple(f"? {c} ?" for c in n.COMPARISONS),
    ),
)
NOT = "not ?"
"""What is offered to turn a need round."""
