"""Every moment, declared."""

from __future__ import annotations

from .declaring import Aside, Both, Maybe, Part, Phrase, Slot
from .nodes import Moment, MomentVerb

_WORD = "word"
_PLACE = Slot(_WORD, types=("area", "level", "object"))
_COUNTED = Slot(_WORD, types=("item", "purse"))


def _moment(
    verb: MomentVerb, means: str, example: str, *rest: Part, prose: tuple[Part, ...], offers: tuple[str, ...] = ()
) -> Phrase:
    rule = "moment_" + verb.replace(" ", "_")
    return Phrase(Moment, rule, (verb, *rest), means, example, {"verb": verb}, offers, prose)


def _pressed(verb: MomentVerb, joint: str, slot: Slot, means: str, example: str) -> Phrase:
    parts = Maybe(_WORD, (f" {joint} ", slot))
    return _moment(verb, means, example, parts, prose=(Aside("it is "), verb, parts))


def _of_itself(verb: MomentVerb, slot: Slot, bare: str, means: str, example: str) -> Phrase:
    """A moment of the owner itself, or of what is named."""
    prose = Maybe(_WORD, (slot, f" is {verb}"), (Aside(bare), verb))
    return _moment(verb, means, example, Maybe(_WORD, (" ", slot)), prose=(prose,), offers=(verb, f"{verb} ?"))


def _done(verb: MomentVerb, means: str, example: str, slot: Slot, by: str = "the player has ") -> Phrase:
    return _moment(
        verb,
        means,
        example,
        Maybe(_WORD, (" ", slot)),
        prose=(Aside(by), verb, Maybe(_WORD, (" ", slot))),
        offers=(f"{verb} ?",),
    )


def _quest(verb: MomentVerb, means: str) -> Phrase:
    slot = Slot(_WORD, types=("quest",))
    return _moment(
        verb,
        means,
        f"{verb} dry_feet",
        Maybe(_WORD, (" ", slot)),
        prose=(Maybe(_WORD, (slot, f" is {verb}"), (verb,)),),
        offers=(f"{verb} ?",),
    )


MOMENTS: tuple[Phrase, ...] = (
    _pressed(
        "used",
        "with",
        Slot(_WORD, types=("control",)),
        "A press at the object; without a control, of any of its prompts that is pressed.",
        "used with second",
    ),
    _pressed(
        "held",
        "with",
        Slot(_WORD, types=("control",)),
        "A hold at the object that has lasted; without a control, of any of its prompts that is held.",
        "held",
    ),
    _moment(
        "near",
        "Whoever counts for its reach comes into it. Always in a pair with away.",
        "near",
        prose=(Aside("whoever counts comes "), "near"),
    ),
    _moment(
        "away",
        "Whoever counts for its reach has left it, or it is there no longer.",
        "away",
        prose=(Aside("whoever counts goes "), "away"),
    ),
    _moment(
        "touched",
        "The player's body touches it.",
        "touched",
        prose=(Aside("the player has "), Both("touched", "touched it")),
    ),
    _moment(
        "looked at",
        "The player looks at it in clear sight, within its facing, else 15 degrees.",
        "looked at",
        prose=(Aside("it is "), "looked at"),
    ),
    _done(
        "chosen",
        "A button of the object's panel is pressed.",
        "chosen ask_for_work",
        Slot(_WORD, types=("button",), owner="this"),
    ),
    _moment(
        "struck",
        "An ability is used on it from away; without a name, any.",
        "struck by long_reach",
        Maybe(_WORD, (" by ", Slot(_WORD, types=("ability",)))),
        offers=("struck by ?",),
        prose=(Aside("it is "), "struck", Maybe(_WORD, (" by ", Slot(_WORD, types=("ability",))))),
    ),
    _of_itself(
        "downed",
        Slot(_WORD, types=("object", "player")),
        "it is ",
        "It is downed; with a name, another character or the player.",
        "downed player",
    ),
    _of_itself(
        "changed",
        Slot(_WORD, types=("fact", "object")),
        "it has ",
        "Its state alters, it is gone or there again; with a name, another object's or a fact.",
        "changed lamp",
    ),
    _done(
        "entered",
        "The player comes into an area, a level, or a zone (an object's reach).",
        "entered palm_house",
        _PLACE,
    ),
    _done("left", "The player goes out of an area, a level, or a zone.", "left palm_house", _PLACE),
    _done("gained", "A count rises.", "gained dried_pods", _COUNTED),
    _done("lost", "A count falls.", "lost money", _COUNTED),
    _done("heard", "A line begins.", "heard good_day", Slot(_WORD, types=("line",))),
    _moment(
        "met",
        "An objective is met.",
        "met find_it",
        Maybe(_WORD, (" ", Slot(_WORD, types=("objective",)))),
        prose=(Both("", "the objective is met: "), Maybe(_WORD, (Slot(_WORD, types=("objective",)),))),
        offers=("met ?",),
    ),
    _moment(
        "stage",
        "A quest comes to a stage, also to the one it was at.",
        "stage open_sluice of dry_feet",
        " ",
        Slot(_WORD, types=("stage",), owner="of"),
        " of ",
        Slot("of", types=("quest",)),
        prose=(
            "the stage ",
            Slot(_WORD, types=("stage",), owner="of"),
            " of ",
            Slot("of", types=("quest",)),
            " is reached",
        ),
    ),
    _quest("accepted", "A quest is started, by whatever starts it."),
    _quest("declined", "A quest is declined."),
    _quest("done", "A quest is done."),
    _quest("failed", "A quest is failed."),
    _moment(
        "later",
        "What its own step later let come has come, where it has no name.",
        "later",
        prose=(Both("later", "what it waits for comes"),),
    ),
    Phrase(
        Moment,
        "moment_comes",
        (Slot(_WORD, "label"), " comes"),
        "What its own step later let come under this name has come.",
        "letter comes",
        {"verb": "comes"},
    ),
    _moment(
        "started",
        "The level begins, or is come into from another.",
        "started",
        prose=(Aside("the level has "), "started"),
    ),
)
