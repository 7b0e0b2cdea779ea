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
    if moment.of is not None:
        return f"stage {moment.word.text} of {moment.of.text}"
    joint = {"used": " with", "held": " with", "struck": " by"}.get(moment.verb, "")
    return f"{moment.verb}{joint} {moment.word.text}"


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
        case n.Tally() | n.Around() | n.Inside() | n.Chance():
            return _sensed_need(need)
        case n.Not(inner):
            return f"not {write_need(inner)}"
        case n.And(needs):
            return f"({_joined(needs, 'and')})"
        case n.Or(needs):
            return f"({_joined(needs, 'or')})"
        case n.HoleNeed():
            return n.HOLE


def _sensed_need(need: n.Tally | n.Around | n.Inside | n.Chance) -> str:
    match need:
        case n.Tally(subject, verb, how, count):
            amount = "" if how == "at least" else f"{how} "
            return f"{subject.text} {verb} {amount}{_whole(count)} times"
        case n.Around(who, how, thing):
            return f"{who.text} {how} {thing.text}"
        case n.Inside(who, place):
            return f"{who.text} in {place.text}"
        case n.Chance(one_in):
            return f"chance one in {_whole(one_in)}"


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
        case n.CountUp(objective):
            return f"count {objective.text}"
        case n.HoleStep():
            return n.HOLE
        case _:
            return _placing_step(step)


def _placing_step(step: n.Step) -> str:
    """Steps that show, put or bring something."""
    match step:
        case n.Show(verb, what, at, offset, wait):
            return f"{verb} {what.text}" + (f" at {at.text}{_offset(offset)}" if at else "") + " and wait" * wait
        case n.PutAt(what, at, offset, most):
            where = f"at {at.text}" if at else "where it stood"
            return f"put {what.text} {where}{_offset(offset)}{_most(most)}"
        case n.Scatter(count, what, around, within, most):
            where = around.text if around else "where it stood"
            return f"scatter {_whole(count)} {what.text} around {where} within {_metres(within)}{_most(most)}"
        case n.Drop(what, feet, count, most):
            words = ["drop", _count(count), what.text, "at the feet of", feet.text]
            return " ".join(w for w in words if w) + _most(most)
        case n.Later(_, carrier, seconds):
            if carrier is not None:
                return f"later by {carrier.text}"
            return f"later after {_seconds(seconds)}" if seconds is not None else "later at the next area"
        case _:
            return _ruling_step(step)


def _ruling_step(step: n.Step) -> str:
    """Steps that change what the player has, may do, or where the player is."""
    match step:
        case n.Change(item, into, count, gives):
            words = ["change", _count(count), item.text, "into", _count(gives), into.text]
            return " ".join(w for w in words if w)
        case n.Gear(verb, item):
            return f"{verb} {item.text}"
        case n.Limit(verb, ability):
            return f"{verb} {ability.text}"
        case n.Fill(role, thing):
            return f"fill {role.text} with {thing.text}"
        case n.MovePlayer(place):
            return f"move player to {place.text}"
        case n.ExitStep(verb, exit):
            return f"{verb} exit {exit.text}"
        case n.Down(who):
            return f"down {who.text}"
        case n.EndLevel(outcome, after):
            return f"end level {outcome}" + (f" after {_seconds(after)}" if after is not None else "")
        case _:
            raise AssertionError(f"no words for {step}")


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


def _metres(number: n.Number) -> str:
    return n.HOLE if number.value is None else f"{number.value:g} m"


def _offset(offset: n.Offset | None) -> str:
    return "" if offset is None else f" by {_metres(offset[0])}, {_metres(offset[1])}"


def _most(most: n.Number | None) -> str:
    return "" if most is None else f" at most {_whole(most)}"


def _seconds(number: n.Number) -> str:
    return n.HOLE if number.value is None else f"{number.value:g} s"
