"""Tree to cue text: the canonical layout, one statement a line. `read(write(tree)) == tree` for every tree."""

from __future__ import annotations

from . import nodes as n


def write_cue(cue: n.CueTree) -> str:
    """One cue as text, without a final line end."""
    lines = [f"when {write_moment(cue.moment)}"]
    if cue.tops:
        lines.append("only if " + write_needs(cue.tops))
    lines.append("then")
    lines += [f"  {write_step(s)}" for s in cue.steps]
    if cue.otherwise:
        lines.append("otherwise")
        lines += [f"  {write_step(s)}" for s in cue.otherwise]
    if cue.go_on:
        lines.append("and go on")
    return "\n".join(lines)


def write_needs(tops: tuple[n.Top, ...]) -> str:
    """Needs alone, each further one on a line of its own; empty without needs."""
    return "\n  and ".join(_top(top) for top in tops)


def write_steps(steps: tuple[n.Step, ...]) -> str:
    """Steps alone, one a line."""
    return "\n".join(write_step(s) for s in steps)


def _top(top: n.Top) -> str:
    text = write_need(top.need)
    return text if top.or_else is None else f"{text} or else {write_step(top.or_else)}"


def write_moment(moment: n.Moment) -> str:
    """A moment without its *when*."""
    if moment.word is None:
        return moment.verb
    return (
        f"{moment.verb} with {moment.word.text}"
        if moment.verb in ("used", "held")
        else f"{moment.verb} {moment.word.text}"
    )


def write_need(need: n.Need) -> str:
    """One need; *and* and *or* in brackets."""
    match need:
        case n.Has(item, count, how):
            words = ["has", "" if how == "at least" else how, _count(count), item.text]
            return " ".join(w for w in words if w)
        case n.Holds(fact):
            return fact.text
        case n.Is(subject, value):
            return f"{subject.text} is {value.text}"
        case n.Compare(subject, how, number):
            return f"{subject.text} {how} {_whole(number)}"
        case n.Place(quest, how, stage):
            return f"{quest.text} {how} {stage.text}"
        case n.Between(quest, first, last):
            return f"{quest.text} between {first.text} and {last.text}"
        case n.Met(objective):
            return f"{objective.text} met"
        case n.Heard(line, by):
            return f"heard {line.text}" + (f" by {by.text}" if by else "")
        case n.Can(ability):
            return f"can {ability.text}"
        case n.Not(inner):
            return f"not {write_need(inner)}"
        case n.And(needs):
            return f"({_joined(needs, 'and')})"
        case n.Or(needs):
            return f"({_joined(needs, 'or')})"
        case n.HoleNeed():
            return n.HOLE


def _joined(needs: tuple[n.Need, ...], word: str) -> str:
    return f" {word} ".join(write_need(m) for m in needs)


def write_step(step: n.Step) -> str:
    """One step."""
    match step:
        case n.Set(target, value):
            return f"set {target.text} to {value.text}"
        case n.SetNext(target, states):
            named = " of " + ", ".join(s.text for s in states) if states else ""
            return f"set {target.text} to next{named}"
        case n.Add(number, target):
            return f"add {_whole(number)} to {target.text}"
        case n.Hand(verb, item, count):
            return " ".join(w for w in (verb, _count(count), item.text) if w)
        case n.Grant(ability, uses):
            return f"grant {ability.text}" + (f" for {_whole(uses)} uses" if uses else "")
        case n.QuestStep(verb, quest, for_good):
            return f"{verb} {quest.text}" + (" for good" if for_good else "")
        case n.Move(quest, stage):
            return f"move {quest.text} to {stage.text}"
        case _:
            return _other_step(step)


def _other_step(step: n.Step) -> str:
    match step:
        case n.Say(text):
            return f"say {quoted(text.value)}"
        case n.Talk(conversation):
            return f"open conversation {conversation.text}"
        case n.Sound(sound, at):
            return f"sound {sound.text}" + (f" at {at.text}" if at else "")
        case n.Wait(seconds):
            return f"wait {_seconds(seconds)}"
        case n.WaitForIt():
            return "wait for it"
        case n.Marking(verb, target):
            return f"{verb} {target.text}"
        case n.Remove(target):
            return f"remove {target.text}"
        case n.Meet(objective):
            return f"meet {objective.text}"
        case _:
            return n.HOLE


def quoted(value: str | None) -> str:
    """A wording as it stands in cue text.

    >>> quoted('say "no"')
    '"say \\\\"no\\\\""'
    """
    if value is None:
        return n.HOLE
    escaped = value.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n")
    return f'"{escaped}"'


def _whole(number: n.Number) -> str:
    return n.HOLE if number.value is None else str(int(number.value))


def _count(number: n.Number | None) -> str:
    return "" if number is None else _whole(number)


def _seconds(number: n.Number) -> str:
    return n.HOLE if number.value is None else f"{number.value:g} s"
