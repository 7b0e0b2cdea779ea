"""Every step, declared."""

from __future__ import annotations

from . import nodes as n
from .declaring import Both, Each, How, Maybe, Of, Part, Phrase, Slot, Units, Unsaid


def _amount(attribute: str, item: str) -> Maybe:
    """How many: one, where no number is written."""
    one = Unsaid("number", "1", after=" ", at=item)
    return Maybe(attribute, (Slot(attribute, "number"), Of(attribute)), (one, Both("", " ")))


_ITEMS = ("item", "purse")
_BODIES = ("object", "player")
_OFFSET = Maybe(
    "offset",
    (
        Both(" by ", " beside it by "),
        Slot("offset.0", "metres"),
        Both(", ", " east and "),
        Slot("offset.1", "metres"),
        Both("", " north"),
    ),
)
_ANY_USES = (Both("", " for "), Unsaid("number", "any number of", " for ", " uses"), Both("", " uses"))
_MOST = Maybe("most", (Both(" at most ", ", at most "), Slot("most", "number"), Both("", " at a time")))
_STOOD = "where it stood"


def _verb(node: type, verb: str, slot: Slot, means: str, example: str, *rest: Part, prose: str = "") -> Phrase:
    """A step of a verb and a name."""
    lead = Both(f"{verb} ", f"{prose} ") if prose else f"{verb} "
    return Phrase(node, verb.replace(" ", "_"), (lead, slot, *rest), means, example, {"verb": verb})


def _one(node: type, rule: str, text: str, slot: Slot, means: str, example: str, prose: str = "") -> Phrase:
    """A step of fixed words and a name."""
    return Phrase(node, rule, (Both(f"{text} ", f"{prose or text} "), slot), means, example)


def _quest(verb: n.QuestVerb, means: str, *rest: Part) -> Phrase:
    return _verb(n.QuestStep, verb, Slot("quest", types=("quest",)), means, f"{verb} dry_feet", *rest)


def _show(verb: str, prose: str, means: str, example: str) -> Phrase:
    at = Maybe("at", (" at ", Slot("at", types=_BODIES), _OFFSET))
    wait = Maybe("wait", (Both(" and wait", " and wait for its end"),))
    return Phrase(
        n.Show,
        verb,
        (Both(f"{verb} ", prose), Slot("what", types=(verb,), supply="given"), at, wait),
        means,
        example,
        {"verb": verb},
        (f"{verb} ? at this",),
    )


_LABEL = Slot("name", "label")
_IT = Maybe("name", (_LABEL,), ("it",))


def _later(how: n.LaterHow, means: str, example: str, text: tuple[Part, ...], prose: tuple[Part, ...]) -> Phrase:
    parts = ("later ", Maybe("name", (_LABEL, " ")), *text)
    return Phrase(n.Later, f"later_{how}", parts, means, example, {"how": how}, prose=("have ", *prose))


_GOOD = Maybe("for_good", (" for good",))

STEPS: tuple[Phrase, ...] = (
    Phrase(
        n.Set,
        "set_",
        (
            "set ",
            Slot("target", types=("object", "fact"), supply="given"),
            " to ",
            Slot("value", types=("state",), owner="target"),
        ),
        "An object comes to a state, or a fact to a value. Onto a body in the way of a stay-clear motion it is refused.",
        "set this to open",
    ),
    Phrase(
        n.SetNext,
        "set_next",
        (
            "set ",
            Slot("target", types=("object",)),
            Maybe(
                "states",
                (Both(" to next of ", " to the next of "), Each(Slot("states", types=("state",), owner="target"))),
                (Both(" to next", " to the next state"),),
            ),
        ),
        "The next of the named states, of all its states where none is named.",
        "set lamp to next of low, high",
    ),
    Phrase(
        n.Add,
        "add",
        ("add ", Slot("number", "number"), " to ", Slot("target", types=("fact", "purse"), supply="given")),
        "A number grows or shrinks within its limits.",
        "add 1 to lamps_lit",
    ),
    Phrase(
        n.Hand,
        "give",
        ("give ", _amount("count", "item"), Slot("item", types=_ITEMS, supply="given", many="count")),
        "The player gets something; what does not fit refuses the whole segment.",
        "give 2 dried_pods",
        {"verb": "give"},
    ),
    Phrase(
        n.Hand,
        "take",
        ("take ", _amount("count", "item"), Slot("item", types=_ITEMS, supply="asked", many="count")),
        "Something is taken from the player; too few refuse the whole segment.",
        "take copper_key",
        {"verb": "take"},
    ),
    Phrase(
        n.Grant,
        "grant",
        (
            "grant ",
            Slot("ability", types=("ability",), supply="given"),
            Maybe("uses", (" for ", Slot("uses", "number"), Units("uses", " use", " uses")), _ANY_USES),
        ),
        "The player may use an ability, for so many uses or for ever. It ends a suspension.",
        "grant long_reach for 3 uses",
    ),
    _quest("offer", "A quest that is available is offered."),
    _quest("start", "A quest that is available or offered begins at its first stage."),
    _quest("decline", "An offered quest is declined: available again, or never.", _GOOD),
    _quest("hand in", "A quest is done where the required objectives of its last stage are met."),
    _quest("give up", "A quest under way is given up: available again, or failed.", _GOOD),
    Phrase(
        n.Move,
        "move",
        ("move ", Slot("quest", types=("quest",)), " to ", Slot("stage", types=("stage",), owner="quest")),
        "A quest under way comes to a stage.",
        "move dry_feet to report_back",
    ),
    _quest("finish", "A quest under way is done."),
    _quest("fail", "A quest that is offered or under way is failed for good."),
    Phrase(
        n.Say,
        "say",
        ("say ", Slot("text", "wording")),
        "A notice to the player. It may hold {object}, {control}, {count:dried_pods} and {its gift}, a value of its kind.",
        'say "Not now."',
    ),
    _one(
        n.Talk,
        "talk",
        "open conversation",
        Slot("conversation", types=("conversation",)),
        "A conversation begins, or waits until the one that is open has ended.",
        "open conversation odile_talk",
        "open the talk",
    ),
    Phrase(
        n.Change,
        "change",
        (
            "change ",
            _amount("count", "item"),
            Slot("item", types=_ITEMS, supply="asked", many="count"),
            " into ",
            _amount("gives", "into"),
            Slot("into", types=_ITEMS, supply="given", many="gives"),
        ),
        "So many of one thing become so many of another, or the segment is refused.",
        "change 3 dried_pods into 1 seed_oil",
    ),
    _verb(n.Gear, "equip", Slot("item", types=("item",), supply="asked"), "Gear goes to its slot.", "equip hook"),
    _verb(
        n.Gear,
        "put away",
        Slot("item", types=("item",), supply="asked"),
        "Gear is in no slot any more.",
        "put away hook",
    ),
    _verb(
        n.Limit,
        "suspend",
        Slot("ability", types=("ability",), supply="asked"),
        "An ability is off until it is granted again.",
        "suspend long_reach",
    ),
    _verb(
        n.Limit,
        "revoke",
        Slot("ability", types=("ability",), supply="asked"),
        "An ability is taken away.",
        "revoke long_reach",
    ),
    _show(
        "sound",
        "play the sound ",
        "A sound is heard at a place; the next step may wait for its end.",
        "sound creak at this by 1 m, 0 m and wait",
    ),
    _show(
        "effect",
        "show the effect ",
        "Something is seen at a place: burst, dust, glow, ripple, smoke or sparks.",
        "effect dust at player",
    ),
    Phrase(
        n.PutAt,
        "put",
        (
            "put ",
            Slot("what", types=("kind", "object")),
            Maybe("at", (" at ", Slot("at", types=_BODIES)), (f" {_STOOD}",)),
            _OFFSET,
            _MOST,
        ),
        "A kind is copied, an object is moved, to a place of the level where that place lies.",
        "put crate at lamp by 1 m, 0 m",
        offers=("put ? at ?", f"put ? {_STOOD}"),
    ),
    Phrase(
        n.Scatter,
        "scatter",
        (
            "scatter ",
            Slot("count", "number"),
            Of("count"),
            Slot("what", types=("kind",), many="count"),
            " around ",
            Maybe("around", (Slot("around", types=_BODIES),), (_STOOD,)),
            " within ",
            Slot("within", "metres"),
            _MOST,
        ),
        "Copies come to lie on the floor around a spot, never beyond a wall or a shut door.",
        "scatter 6 pod around this within 1.5 m",
        offers=("scatter ? ? around this within 1 m",),
    ),
    Phrase(
        n.Drop,
        "drop",
        (
            "drop ",
            _amount("count", "what"),
            Slot("what", types=("kind",), many="count"),
            " at the feet of ",
            Slot("feet", types=_BODIES),
            _MOST,
        ),
        "Copies come to lie at somebody's feet.",
        "drop bag at the feet of this",
    ),
    Phrase(
        n.Swap,
        "swap",
        ("swap ", Slot("target", types=("object",)), " and ", Slot("other", types=("object",))),
        "Two objects change places, also from level to level.",
        "swap lamp and crate",
    ),
    Phrase(
        n.Fill,
        "fill",
        (
            Both("fill ", "fill the role "),
            Slot("role", types=("role",), supply="given"),
            " with ",
            Slot("thing", types=("object",)),
        ),
        "A role is somebody or something from now on.",
        "fill messenger with pip",
    ),
    _later(
        "by",
        "What the owner waits for comes when a carrier has walked up to the player; under a name of its own, that one.",
        "later letter by pip",
        ("by ", Slot("carrier", types=("object",))),
        (Slot("carrier", types=("object",)), " bring ", _IT, " later"),
    ),
    _later(
        "after",
        "What the owner waits for comes after a time; under a name of its own, that one.",
        "later after 20 s",
        ("after ", Slot("seconds", "seconds")),
        (_IT, " come after ", Slot("seconds", "seconds")),
    ),
    _later(
        "area",
        "What the owner waits for comes when the player walks into another area; under a name of its own, that one.",
        "later at the next area",
        ("at the next area",),
        (_IT, " come at the next change of area"),
    ),
    _one(
        n.MovePlayer,
        "move_player",
        "move player to",
        Slot("place", types=("object", "area", "exit")),
        "The player stands before an object, in an area, or where an exit leads.",
        "move player to gallery",
        "move the player to",
    ),
    Phrase(
        n.ExitStep,
        "open_exit",
        (Both("open exit ", "open the exit "), Slot("exit", types=("exit",))),
        "An exit can be walked through.",
        "open exit ladder",
        {"verb": "open"},
    ),
    Phrase(
        n.ExitStep,
        "close_exit",
        (Both("close exit ", "close the exit "), Slot("exit", types=("exit",))),
        "An exit cannot be walked through.",
        "close exit ladder",
        {"verb": "close"},
    ),
    _one(
        n.Down,
        "down",
        "down",
        Slot("who", types=_BODIES),
        "A character lies down; the player comes back where the level was entered.",
        "down player",
    ),
    Phrase(
        n.EndLevel,
        "end_level",
        (
            Both("end level ", "end the level "),
            How("outcome", {"won": ("won", "won"), "lost": ("lost", "lost")}),
            Maybe(
                "after", (" after ", Slot("after", "seconds")), (Both("", " "), Unsaid("seconds", "at once", " after "))
            ),
        ),
        "The level ends, at once or after a time; the first end counts.",
        "end level won after 5 s",
        offers=("end level won after ?", "end level lost after ?"),
    ),
    Phrase(
        n.Wait,
        "wait",
        ("wait ", Slot("seconds", "seconds")),
        "The steps behind it come after so many seconds.",
        "wait 2 s",
    ),
    Phrase(
        n.WaitForIt,
        "wait_for_it",
        ("wait for it",),
        "The steps behind it come when the object last set has arrived.",
        "wait for it",
    ),
    _verb(
        n.Marking,
        "mark",
        Slot("target", types=("object", "role", "area")),
        "A marker points at something.",
        "mark lamp",
    ),
    _verb(
        n.Marking,
        "unmark",
        Slot("target", types=("object", "role", "area")),
        "No marker points at it any more.",
        "unmark lamp",
    ),
    _one(
        n.Remove,
        "remove",
        "remove",
        Slot("target", types=("object",)),
        "An object is no longer there, at once.",
        "remove this",
    ),
    _one(
        n.Meet,
        "meet",
        "meet",
        Slot("objective", types=("objective",)),
        "An objective of the present stage is met.",
        "meet find_it",
        "count as met",
    ),
    _one(
        n.CountUp,
        "count",
        "count",
        Slot("objective", types=("objective",)),
        "An objective of the present stage counts one more.",
        "count find_it",
        "count one more for",
    ),
)
