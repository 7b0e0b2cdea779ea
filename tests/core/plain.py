"""A plain, slow interpreter of projects, written from the rules and reading the records and trees directly.

It shares with the program only the names of columns and actions. The tests hold the program against it.
"""

from __future__ import annotations

from vocanta.core.cuetext.reading import read_cue, read_needs, read_steps
from vocanta.core.phrases import nodes as n
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.core.project.designs import resolved
from vocanta.core.project.records import Object, Project

PRESSED = ("used", "held", "struck")
AVAILABLE, OFFERED, ACTIVE, READY, DONE, DECLINED, FAILED = range(1, 8)


class RefusedSegment(Exception):
    """The segment is put back."""


class Plain:
    """One situation of a project, as a dict of column names."""

    def __init__(self, project: Project):
        self.p = project
        kinds = {k.key: k for k in project.kinds}
        self.objects = {o.key: (o, resolved(kinds[o.kind], o)) for lv in project.levels for o in lv.objects}
        self.here, self.kinds, self.cues, self.pools = "", kinds, {}, {}
        for key, (o, _) in self.objects.items():
            own = {c.key: (f"object/{key}/cue/{c.key}", read_cue(c.text)) for c in o.cues}
            self.cues[key] = [
                own.pop(c.key, (f"kind/{o.kind}/cue/{c.key}", read_cue(c.text))) for c in kinds[o.kind].cues
            ] + list(own.values())
        self.make_copies()
        self.quests = {q.key: q for q in project.quests}
        self.talks = {c.key: c for c in project.conversations}
        self.speeches = [(c.key, line.key) for c in project.conversations for line in c.lines]
        self.facts = {f.key: f for f in project.facts}
        self.items = {i.key: i for i in project.items}
        self.order = self._listeners()
        self.v = self._begin()
        self.flags: set[str] = {"starting:glade"}
        self.flags |= {f for f in self.order if f.startswith(("available:", "live:")) and not self._counted(f)}
        self.settle(dict(self.v))

    # --- set-up

    def make_copies(self):
        """Every step that puts copies has so many of its own; what a copy itself puts belongs to its kind."""
        waiting = [(key, key) for key in self.objects]
        while waiting:
            owner, key = waiting.pop(0)
            for node in (m for _, cue in self.cues[key] for m in n.nodes_in(cue) if isinstance(m, n.PutAt)):
                if node.what.text not in self.kinds or (owner, node) in self.pools:
                    continue
                kind = self.kinds[node.what.text]
                number = 1 + sum(1 for o, _ in self.pools if o == owner)
                name = f"{kind.key}@{owner.replace('/', '_')}_{number}"
                self.pools[owner, node] = [f"{name}.{i + 1}" for i in range(int(node.most.value))]
                for copy in self.pools[owner, node]:
                    thing = Object(copy, kind.name, kind.key, 0.0, 0.0, there_at_start=False)
                    self.objects[copy] = (thing, kind.design)
                    self.cues[copy] = [(f"kind/{kind.key}/cue/{c.key}", read_cue(c.text)) for c in kind.cues]
                    waiting.append((f"kind/{kind.key}", copy))

    def _begin(self):
        v = {"cell": 0, "entry": 0, "ended": 0, "ending": 0, "money": 0, "experience": 0, "talk": 0, "talk_waiting": 0}
        v |= {"gear:hand": 0, "role:hero": 0, "later:oak": 0, "later:elm": 0, "later:ash": 0}
        laters = self.mentioned(n.Later)
        for key in ("oak", "elm", "ash"):
            if key not in laters:
                del v[f"later:{key}"]
        v |= {f"later:{key}": 0 for key in laters}
        for node in (m for m in self.all_nodes() if isinstance(m, n.Tally)):
            v[f"tally:{node.verb}/{node.subject.text}"] = 0
        self.most = {}
        for node in (m for m in self.all_nodes() if isinstance(m, n.Tally)):
            name = f"tally:{node.verb}/{node.subject.text}"
            self.most[name] = max(self.most.get(name, 0), int(node.count.value) + 1)
        downed = self.mentioned(n.Down, "who")
        for key, (o, d) in self.objects.items():
            if d.motion.while_moving == "queued":
                v[f"queued:{key}"] = 0
            if d.cool_down_s:
                v[f"cooling:{key}"] = 0
            if key in downed:
                v[f"down:{key}"] = 0
            v |= {
                f"exists:{key}": int(o.there_at_start),
                f"state:{key}": 0,
                f"moving:{key}": 0,
                f"near:{key}": 0,
                f"mark:{key}": 0,
                f"in_reach:{key}": 0,
                f"in_way:{key}": 0,
            }
            if d.uses:
                v[f"uses:{key}"] = d.uses
            for place, cue in self.cues[key]:
                if any(isinstance(s, n.Wait | n.WaitForIt) for s in cue.steps):
                    v[f"waits:{key}/{place}"] = 0
        v |= {f"item:{k}": i.at_start for k, i in self.items.items()}
        v |= {f"fact:{k}": f.at_start for k, f in self.facts.items()}
        for a in self.p.abilities:
            v |= {f"ability:{a.key}": 0, f"ability_uses:{a.key}": 0, f"suspended:{a.key}": 0}
        for key, q in self.quests.items():
            v |= {f"status:{key}": 0 if q.needs else AVAILABLE, f"stage:{key}": 0, f"completions:{key}": 0}
            for s in q.stages:
                for o in s.objectives:
                    v |= {f"met:{o.key}": 0, f"count:{o.key}": 0}
                    v |= {f"counted:{o.key}/{t}": 0 for t in o.targets if len(o.targets) > 1}
        v |= {f"heard:{line}": 0 for _, line in self.speeches}
        return v

    def all_nodes(self):
        """Every node of every text that a project of the tests can hold."""
        for cues in self.cues.values():
            for _, cue in cues:
                yield from n.nodes_in(cue)
        for text, reader in self.other_texts():
            yield from n.nodes_in(reader(text) if text else ())

    def other_texts(self):
        for t in self.p.conversations:
            for line in t.lines:
                yield from ((line.needs, read_needs), (line.steps, read_steps))
                for r in line.replies:
                    yield from ((r.needs, read_needs), (r.steps, read_steps))
        for q in self.p.quests:
            yield from ((q.needs, read_needs), (q.rewards, read_steps))
            yield from ((s.entering, read_steps) for s in q.stages)
        yield from ((m.text, read_needs) for m in self.p.named_needs)

    def mentioned(self, node_type, word=""):
        """The objects with such a node in a cue of theirs, or that a node of that type names."""
        if not word:
            found = [
                k for k, cues in self.cues.items() if any(isinstance(m, node_type) for m in n.nodes_in(tuple(cues)))
            ]
            for t in self.p.conversations:
                texts = [line.steps for line in t.lines] + [r.steps for line in t.lines for r in line.replies]
                if any(isinstance(m, node_type) for x in texts if x for m in n.nodes_in(read_steps(x))):
                    found.append(t.talker)
            return set(found)
        named = {getattr(m, word).text for m in self.all_nodes() if isinstance(m, node_type)} - {"this"}
        selves = {
            k
            for k, cues in self.cues.items()
            if any(isinstance(m, node_type) and getattr(m, word).text == "this" for m in n.nodes_in(tuple(cues)))
        }
        return named | selves

    def _listeners(self):
        found = ["starting:glade"]
        for key in self.objects:
            found += dict.fromkeys(self.group(c.moment, key) for _, c in self.cues[key] if c.moment.verb not in PRESSED)
            found += [f"{verb}:{key}/{control}" for verb in ("used", "held") for control in ("use", "second")]
        for c in self.p.conversations:
            found += [f"openers:{c.key}", *(f"line:{line.key}" for line in c.lines)]
        found.append("talk_ended")
        for q in self.p.quests:
            found += [f"available:{q.key}"] if q.needs else []
            found += [f"enter:{q.key}/{s.key}" for s in q.stages] + [f"rewards:{q.key}", f"advance:{q.key}"]
        for q in self.p.quests:
            for s in q.stages:
                for o in s.objectives:
                    found.append(f"live:{o.key}")
                    if o.type in ("use", "talk"):
                        found += [f"count:{o.key}/{t}" for t in dict.fromkeys(o.targets)]
        return found

    def _objective(self, key):
        return next(
            (q, i, o) for q in self.p.quests for i, s in enumerate(q.stages) for o in s.objectives if o.key == key
        )

    def _counted(self, flag):
        return flag.startswith("live:") and self._objective(flag[5:])[2].type in ("use", "talk", "by_hand")

    @staticmethod
    def group(moment, key):
        words = "/".join(w.text for w in (moment.word, moment.of) if w)
        return f"{moment.verb}:{key}" + (f"/{words}" if words else "")

    # --- needs

    def holds(self, need, this=""):
        match need:
            case n.Not(inner):
                return not self.holds(inner, this)
            case n.And(needs):
                return all(self.holds(m, this) for m in needs)
            case n.Or(needs):
                return any(self.holds(m, this) for m in needs)
            case n.Has(item, count, how):
                return self.compare(self.v[f"item:{item.text}"], how, int(count.value) if count else 1)
            case n.Holds(fact) if fact.text == "named":
                text = self.p.named_needs[0].text
                return self.all_hold(read_needs(text), "", "namedneed/named/text")
            case n.Holds(fact):
                return self.v[f"fact:{fact.text}"] == 1
            case n.Compare(subject, how, number) if subject.text == "experience_level":
                level = 1 + sum(self.v["experience"] >= s for s in self.p.experience_levels)
                return self.compare(level, how, int(number.value))
            case n.Compare(subject, how, number) if subject.text == "leap":
                return self.compare(self.v["ability_uses:leap"], how, int(number.value))
            case n.Tally(subject, verb, how, count):
                return self.compare(self.v[f"tally:{verb}/{subject.text}"], how, int(count.value))
            case n.Around(who, how, thing):
                key = this if thing.text == "this" else thing.text
                if how == "in reach of":
                    return self.sensed(f"in_reach:{key}" if who.text == "player" else f"reach_by:{key}/{who.text}")
                return self.sensed(f"in_way:{key}" if who.text == "somebody" else f"way_by:{key}/{who.text}")
            case n.Inside(_, place):
                return self.v[f"near:{this if place.text == 'this' else place.text}"] == 1
            case n.Chance():
                return self.sensed(f"chance:{this}/{self.here}/{need.span[0]}")
            case n.Compare(subject, how, number):
                name = subject.text if subject.text in self.v else f"fact:{subject.text}"
                return self.compare(self.v[name], how, int(number.value))
            case n.Is(subject, value):
                return self.is_(this if subject.text == "this" else subject.text, value.text)
            case n.Place(quest, how, stage):
                return self.place(quest.text, how, stage.text)
            case n.Between(quest, first, last):
                low, high = sorted((self.stage(quest.text, first.text), self.stage(quest.text, last.text)))
                return self.active(quest.text) and low <= self.v[f"stage:{quest.text}"] <= high
            case n.Met(objective):
                return self.v[f"met:{objective.text}"] == 1
            case n.Heard(line):
                return self.v[f"heard:{line.text}"] > 0
            case n.Can(ability):
                return self.can(ability.text)
        raise AssertionError(need)

    def sensed(self, name):
        """What was sensed last; nothing before the first time."""
        return self.v.get(name, 0) == 1

    def can(self, ability):
        geared = self.v["gear:hand"] == 1
        zones = [k for k, (_, d) in self.objects.items() if ability in d.suspends]
        free = not self.v[f"suspended:{ability}"] and not any(self.v[f"near:{z}"] for z in zones)
        return bool((self.v[f"ability:{ability}"] or geared) and free)

    def all_hold(self, tops, this, place):
        """Needs of one text; the place says which chance is meant."""
        before, self.here = self.here, place
        try:
            return all(self.holds(t.need, this) for t in tops)
        finally:
            self.here = before

    def compare(self, value, how, count):
        return value >= count if how == "at least" else value == count if how == "exactly" else value < count

    def active(self, quest):
        return self.v[f"status:{quest}"] in (ACTIVE, READY)

    def stage(self, quest, stage):
        return [s.key for s in self.quests[quest].stages].index(stage)

    def place(self, quest, how, stage):
        number, status, now = self.stage(quest, stage), self.v[f"status:{quest}"], self.v[f"stage:{quest}"]
        if how == "at":
            return self.active(quest) and now == number
        if how == "before":
            return status <= OFFERED or (self.active(quest) and now < number)
        return status == DONE or (self.active(quest) and now > number)

    def is_(self, key, value):
        if value == "equipped":
            return self.v["gear:hand"] == 1 if key == "pin" else False
        if key == "hero":
            return self.v["role:hero"] > 0 if value == "filled" else self.v["role:hero"] == self.filling(value)
        if key in self.objects:
            states = [s.key for s in self.objects[key][1].states]
            if value == "gone":
                return self.v[f"exists:{key}"] == 0
            return self.v[f"exists:{key}"] == 1 and states[self.v[f"state:{key}"]] == value
        if key in self.quests:
            status = self.v[f"status:{key}"]
            return status in (ACTIVE, READY) if value == "active" else STATUSES[status] == value
        return self.v[f"fact:{key}"] == (1 if value == "yes" else 0)

    def filling(self, key):
        """The number of who fills the role, in the order in which fills stand in the project; -1 for nobody's."""
        found = []
        for owner, cues in self.cues.items():
            for node in n.nodes_in(tuple(cues)):
                if isinstance(node, n.Fill):
                    found.append(owner if node.thing.text == "this" else node.thing.text)
        for text, reader in self.other_texts():
            found += [m.thing.text for m in n.nodes_in(reader(text) if text else ()) if isinstance(m, n.Fill)]
        return list(dict.fromkeys(found)).index(key) + 1 if key in found else -1

    # --- writing

    def put(self, name, value):
        old, self.v[name] = self.v[name], value
        if old == value:
            return
        what, _, key = name.partition(":")
        if what == "near" and key in self.objects:
            self.flag(f"near:{key}" if value > old else f"away:{key}")
        self.hear_value(what, key or what, value > old)
        if name == "talk" and value < old:
            self.flag("talk_ended")
        for q in self.p.quests:
            if q.needs and self.reads(read_needs(q.needs), name, f"status:{q.key}"):
                self.flag(f"available:{q.key}")
            for s in q.stages:
                for o in s.objectives:
                    if name == f"met:{o.key}":
                        self.flag(f"advance:{q.key}")
                    if self.live_reads(o, name):
                        self.flag(f"live:{o.key}")

    def hear_value(self, what, key, rose):
        """Flag the cues that wait for a value to alter."""
        for name, moment, owner in self.moments():
            word = moment.word.text if moment.word else owner
            word = owner if word == "this" else word
            heard = {
                "changed": what in ("state", "fact") and word == key,
                "gained": what in ("item", "money", "experience") and word == key and rose,
                "lost": what in ("item", "money", "experience") and word == key and not rose,
                "met": what == "met" and word == key and rose,
            }
            if heard.get(moment.verb):
                self.flag(name)

    def moments(self):
        for owner, cues in self.cues.items():
            for _, cue in cues:
                yield self.group(cue.moment, owner), cue.moment, owner

    def happen(self, what, key, of=""):
        """Flag the cues that wait for an occurrence."""
        for name, moment, owner in self.moments():
            word = moment.word.text if moment.word else owner
            same = (owner if word == "this" else word) == key and (moment.of.text if moment.of else "") == of
            if moment.verb == what and (same or what == "started"):
                self.flag(name)

    def tally(self, verb, key, amount=1):
        name = f"tally:{verb}/{key}"
        if name in self.v and amount > 0:
            self.put(name, min(self.v[name] + amount, self.most[name]))

    def flag(self, name):
        if name in self.order:
            self.flags.add(name)

    def reads(self, tops, name, own):
        """Whether needs read a column: by trying what they name."""
        what, _, key = name.partition(":")
        if name == own:
            return True
        for node in n.nodes_in(tops):
            match node:
                case n.Has(item) if what == "item" and item.text == key:
                    return True
                case n.Holds(word) if word.text == "named" and self.reads(
                    read_needs(self.p.named_needs[0].text), name, own
                ):
                    return True
                case n.Compare(subject) if subject.text == "experience_level" and name == "experience":
                    return True
                case n.Compare(subject) if subject.text == "leap" and name == "ability_uses:leap":
                    return True
                case n.Tally(subject, verb) if name == f"tally:{verb}/{subject.text}":
                    return True
                case n.Inside(_, place) if name == f"near:{place.text}":
                    return True
                case n.Is(subject, value) if subject.text == "hero" and name == "role:hero":
                    return value.text == "filled" or self.filling(value.text) > 0
                case n.Is(subject) if subject.text == "pin" and name == "gear:hand":
                    return True
                case n.Holds(fact) if what == "fact" and fact.text == key:
                    return True
                case n.Compare(subject) if subject.text == (key or what) and what in ("fact", "money", "experience"):
                    return True
                case n.Is(subject, value) if subject.text == key:
                    if what in ("status", "fact") or (what == "exists") or (what == "state" and value.text != "gone"):
                        return True
                case n.Place(quest) | n.Between(quest) if what in ("status", "stage") and quest.text == key:
                    return True
                case n.Met(objective) if what == "met" and objective.text == key:
                    return True
                case n.Heard(line) if what == "heard" and line.text == key:
                    return True
                case n.Can(ability) if what in ("ability", "suspended") and ability.text == key:
                    return True
                case n.Can(ability) if name == "gear:hand":
                    return True
                case n.Can(ability) if what == "near" and key in self.objects:
                    if ability.text in self.objects[key][1].suspends:
                        return True
        return False

    def live_reads(self, o, name):
        what, _, key = name.partition(":")
        if key not in o.targets:
            return False
        if o.type == "state":
            return what == "exists" or (what == "state" and o.state != "gone")
        return (o.type, what) in (("have", "item"), ("fact", "fact"))

    # --- steps

    def run(self, steps, this, gifts=False):
        """A segment: whole or not at all; whether it took effect."""
        before, flags = dict(self.v), set(self.flags)
        try:
            for step in steps:
                self.step(step, this, gifts)
            return True
        except RefusedSegment:
            self.v, self.flags = before, flags
            return False

    def step(self, step, this, gifts):
        match step:
            case n.Set(target, value):
                key = this if target.text == "this" else target.text
                if key in self.objects:
                    self.to_state(key, [s.key for s in self.objects[key][1].states].index(value.text))
                else:
                    self.put(
                        f"fact:{key}",
                        {"yes": 1, "no": 0}.get(value.text) if value.text in ("yes", "no") else int(value.text),
                    )
            case n.SetNext(target, states):
                key = this if target.text == "this" else target.text
                names = [s.key for s in self.objects[key][1].states]
                ring = [s.text for s in states] or names
                now = names[self.v[f"state:{key}"]]
                self.to_state(key, names.index(ring[(ring.index(now) + 1) % len(ring)] if now in ring else ring[0]))
            case n.Add(number, target):
                name = target.text if target.text in self.v else f"fact:{target.text}"
                low, high = (
                    (0, 999_999)
                    if name == target.text
                    else (self.facts[target.text].lowest, self.facts[target.text].highest)
                )
                self.put(name, min(max(self.v[name] + int(number.value), low), high))
                self.tally("gained", target.text, int(number.value))
            case n.Hand(verb, item, count):
                self.hand(verb, item.text, int(count.value) if count else 1, gifts)
            case n.Grant(ability, uses):
                self.put(f"ability:{ability.text}", 1)
                self.put(f"ability_uses:{ability.text}", int(uses.value) if uses else 0)
                self.put(f"suspended:{ability.text}", 0)
            case n.QuestStep(verb, quest, good):
                self.quest_step(verb, quest.text, good)
            case n.Move(quest, stage):
                if self.active(quest.text):
                    self.enter(quest.text, self.stage(quest.text, stage.text))
            case n.Talk(talk):
                self.open(talk.text)
            case n.Marking(verb, target):
                self.put(f"mark:{this if target.text == 'this' else target.text}", int(verb == "mark"))
            case n.Remove(target):
                key = this if target.text == "this" else target.text
                if self.v[f"exists:{key}"]:
                    self.put(f"exists:{key}", 0)
                    self.put(f"near:{key}", 0)
            case n.Meet(objective):
                q, i, o = self._objective(objective.text)
                if self.active(q.key) and self.v[f"stage:{q.key}"] == i and not self.v[f"met:{o.key}"]:
                    self.put(f"met:{o.key}", 1)
            case _:
                self.newer_step(step, this)

    def newer_step(self, step, this):
        match step:
            case n.Change(item, into, count, gives):
                self.hand("take", item.text, int(count.value) if count else 1, False)
                self.hand("give", into.text, int(gives.value) if gives else 1, False)
            case n.Limit("suspend", ability):
                self.put(f"suspended:{ability.text}", 1)
            case n.Limit("revoke", ability):
                self.put(f"ability:{ability.text}", 0)
                self.put(f"ability_uses:{ability.text}", 0)
            case n.Gear("equip", item):
                if item.text != "pin" or not self.v["item:pin"]:
                    raise RefusedSegment
                self.put("gear:hand", 1)
            case n.Gear("put away", item):
                if item.text != "pin":
                    raise RefusedSegment
                self.put("gear:hand", 0)
            case n.Fill(_, thing):
                self.put("role:hero", self.filling(this if thing.text == "this" else thing.text))
            case n.Down(who):
                self.down(this if who.text == "this" else who.text)
            case n.EndLevel(outcome):
                if not self.v["ended"]:
                    self.put("ended", 1 if outcome == "won" else 2)
            case n.CountUp(objective):
                q, i, o = self._objective(objective.text)
                if self.active(q.key) and self.v[f"stage:{q.key}"] == i and not self.v[f"met:{o.key}"]:
                    self.put(f"count:{o.key}", min(self.v[f"count:{o.key}"] + 1, o.count))
                    if self.v[f"count:{o.key}"] == o.count:
                        self.put(f"met:{o.key}", 1)
            case n.PutAt(what):
                self.bring(step, this if what.text == "this" else what.text, this)
            case n.Later():
                if not self.v[f"later:{this}"]:
                    self.put(f"later:{this}", self.later_number(step, this))

    def down(self, key):
        if key == "player":
            self.put("talk", 0)
            self.happen("downed", "player")
        elif self.v[f"exists:{key}"] and not self.v[f"down:{key}"]:
            self.put(f"down:{key}", 1)
            self.put(f"near:{key}", 0)
            self.happen("downed", key)

    def bring(self, step, what, this):
        owner = f"kind/{self.objects[this][0].kind}" if "@" in this else this
        if what in self.kinds:
            free = [c for c in self.pools[owner, step] if not self.v[f"exists:{c}"]]
            if not free:
                raise RefusedSegment
            what = free[0]
        self.put(f"exists:{what}", 1)
        for column in ("state", "moving", "queued", "cooling", "down"):
            if f"{column}:{what}" in self.v:
                self.put(f"{column}:{what}", 0)
        if f"uses:{what}" in self.v:
            self.put(f"uses:{what}", self.objects[what][1].uses)

    def later_number(self, step, this):
        """The number of a later step among those of its owner, in the order of the texts."""
        found = [m for _, cue in self.cues.get(this, ()) for m in n.nodes_in(cue) if isinstance(m, n.Later)]
        return list(dict.fromkeys(found)).index(step) + 1

    def to_state(self, key, new):
        design = self.objects[key][1]
        old = self.v[f"state:{key}"]
        if not self.v[f"exists:{key}"] or old == new:
            return
        if design.motion.stay_clear and self.v[f"in_way:{key}"]:
            raise RefusedSegment
        if design.motion.seconds > 0:
            if self.v[f"moving:{key}"] == new + 1:
                self.end_waits(key)
            self.put(f"moving:{key}", old + 1)
        self.put(f"state:{key}", new)
        if not design.states[new].reach_on:
            self.put(f"near:{key}", 0)

    def end_waits(self, key):
        for owner, cues in self.cues.items():
            for place, cue in cues:
                name = f"waits:{owner}/{place}"
                if self.v.get(name) and self.waiting_for(cue, self.v[name], owner) == key:
                    self.put(name, 0)

    def waiting_for(self, cue, number, owner):
        """The object whose motion a cue waits for before segment `number`; empty when it waits for seconds."""
        last, seen = "", 0
        for step in cue.steps:
            if isinstance(step, n.Set | n.SetNext):
                last = owner if step.target.text == "this" else step.target.text
            if isinstance(step, n.Wait | n.WaitForIt):
                seen += 1
                if seen == number:
                    return last if isinstance(step, n.WaitForIt) else ""
        raise AssertionError(number)

    def hand(self, verb, key, count, gifts):
        name = key if key in ("money", "experience") else f"item:{key}"
        high = self.items[key].limit if name != key else 999_999
        wanted = self.v[name] + (count if verb == "give" else -count)
        if verb == "give" and (gifts or name == key):
            wanted = min(wanted, high)
        if not 0 <= wanted <= high:
            raise RefusedSegment
        self.put(name, wanted)
        if verb == "give":
            self.tally("gained", key, count)
        elif name == "item:pin" and wanted == 0:
            self.put("gear:hand", 0)

    def open(self, talk):
        if self.v["talk"] == 0:
            self.put("talk", len(self.speeches) + 1 + list(self.talks).index(talk))
            self.flag(f"openers:{talk}")
        elif self.v["talk_waiting"] == 0:
            self.put("talk_waiting", list(self.talks).index(talk) + 1)
        else:
            raise RefusedSegment

    def quest_step(self, verb, key, good):
        q, status = self.quests[key], self.v[f"status:{key}"]
        if verb == "offer" and status == AVAILABLE:
            self.put(f"status:{key}", OFFERED)
        elif verb == "start" and status in (AVAILABLE, OFFERED):
            self.enter(key, 0)
            self.happen("accepted", key)
        elif verb == "decline" and status == OFFERED:
            self.put(f"status:{key}", DECLINED if good or q.decline == "for_good" else AVAILABLE)
            self.happen("declined", key)
        elif verb == "give up" and self.active(key):
            self.put(f"status:{key}", FAILED if good or q.give_up == "for_good" else AVAILABLE)
            if self.v[f"status:{key}"] == FAILED:
                self.happen("failed", key)
        elif (verb == "hand in" and status == READY) or (verb == "finish" and self.active(key)):
            self.finish(key)
        elif verb == "fail" and status in (OFFERED, ACTIVE, READY):
            self.put(f"status:{key}", FAILED)
            self.happen("failed", key)

    def finish(self, key):
        self.put(f"status:{key}", DONE)
        self.happen("done", key)
        if not self.v[f"completions:{key}"]:
            self.put(f"completions:{key}", 1)
            self.flag(f"rewards:{key}")

    def enter(self, key, number):
        stage = self.quests[key].stages[number]
        self.put(f"status:{key}", ACTIVE)
        self.put(f"stage:{key}", number)
        for o in stage.objectives:
            self.put(f"met:{o.key}", 0)
            self.put(f"count:{o.key}", 0)
            for t in o.targets if len(o.targets) > 1 else ():
                self.put(f"counted:{o.key}/{t}", 0)
        for name in (f"enter:{key}/{stage.key}", f"advance:{key}", *(f"live:{o.key}" for o in stage.objectives)):
            self.flag(name)
        self.happen("stage", stage.key, key)

    # --- settling

    def settle(self, before):
        for _ in range(64):
            if not self.flags:
                return
            begun, self.flags = self.flags, set()
            for name in self.order:
                if name in begun:
                    self.listen(name)
        if self.flags:
            self.v, self.flags = {**before, "cell": self.v["cell"]}, set()

    def listen(self, name):
        what, _, key = name.partition(":")
        owner = key.split("/")[0]
        if name == "starting:glade":
            self.happen("started", "glade")
        elif what in ("used", "held"):
            self.use(what, key) if self.offers(owner, key.split("/")[1], what == "held") else None
        elif owner in self.objects:
            if what in ("away", "downed") or self.v[f"exists:{owner}"]:
                self.read([c for c in self.cues[owner] if self.group(c[1].moment, owner) == name], owner)
        elif what == "openers":
            self.openers(key)
        elif what == "line":
            line = next(m for t in self.talks.values() for m in t.lines if m.key == key)
            talk = next(t for t in self.talks.values() if line in t.lines)
            self.run(read_steps(line.steps), talk.talker)
        elif name == "talk_ended":
            waiting = self.v["talk_waiting"]
            if self.v["talk"] == 0 and waiting:
                self.put("talk_waiting", 0)
                self.open(list(self.talks)[waiting - 1])
        elif what == "available":
            needs = read_needs(self.quests[key].needs)
            if self.v[f"status:{key}"] == 0 and self.all_hold(needs, "", f"quest/{key}/needs"):
                self.put(f"status:{key}", AVAILABLE)
        elif what == "enter":
            quest, stage = key.split("/")
            self.run(read_steps(self.quests[quest].stages[self.stage(quest, stage)].entering), "")
        elif what == "rewards":
            self.run(read_steps(self.quests[key].rewards), "", gifts=True)
        elif what == "advance":
            self.advance(key)
        elif what == "live":
            self.live(key)
        elif what == "count":
            self.count(*key.split("/"))

    def advance(self, key):
        q, status, number = self.quests[key], self.v[f"status:{key}"], self.v[f"stage:{key}"]
        if not self.active(key):
            return
        stage = q.stages[number]
        required = [o for o in stage.objectives if not o.optional]
        met = all(self.v[f"met:{o.key}"] for o in required)
        if q.handed_in and number == len(q.stages) - 1:
            if met != (status == READY):
                self.put(f"status:{key}", READY if met else ACTIVE)
        elif stage.then and required and met:
            if stage.then == "done":
                self.finish(key)
            else:
                self.enter(key, self.stage(key, stage.then))

    def live(self, key):
        q, number, o = self._objective(key)
        if not self.active(q.key) or self.v[f"stage:{q.key}"] != number or o.type in ("use", "talk", "by_hand"):
            return
        if o.type == "have":
            now = all(self.v[f"item:{t}"] >= o.count for t in o.targets)
        elif o.type == "fact":
            now = all(self.v[f"fact:{t}"] >= o.count for t in o.targets)
        else:
            now = sum(self.is_(t, o.state) for t in o.targets) >= min(o.count, len(o.targets))
        if bool(self.v[f"met:{key}"]) != now:
            self.put(f"met:{key}", int(now))

    def count(self, key, target):
        q, number, o = self._objective(key)
        counted = f"counted:{key}/{target}"
        if not self.active(q.key) or self.v[f"stage:{q.key}"] != number or self.v[f"met:{key}"] or self.v.get(counted):
            if not (self.active(q.key) and self.v[f"stage:{q.key}"] == number and not self.v[f"met:{key}"]):
                return
        else:
            self.put(f"count:{key}", min(self.v[f"count:{key}"] + 1, o.count))
            if counted in self.v:
                self.put(counted, 1)
        if self.v[f"count:{key}"] == o.count:
            self.put(f"met:{key}", 1)

    def openers(self, key):
        talk = self.talks[key]
        if self.v["talk"] != len(self.speeches) + 1 + list(self.talks).index(key):
            return
        for line in talk.lines:
            if line.opener and self.fits(line):
                self.begin(key, line.key)
                for q in self.p.quests:
                    for s in q.stages:
                        for o in s.objectives:
                            if o.type == "talk" and talk.talker in o.targets:
                                self.flag(f"count:{o.key}/{talk.talker}")
                return
        self.put("talk", 0)

    def fits(self, line):
        talk = next(t for t in self.p.conversations if line in t.lines)
        place = f"conversation/{talk.key}/line/{line.key}/needs"
        needs = self.all_hold(read_needs(line.needs), talk.talker, place)
        return needs and not (line.repeat == "once" and self.v[f"heard:{line.key}"])

    def begin(self, talk, key):
        line = next(m for m in self.talks[talk].lines if m.key == key)
        self.put("talk", self.speeches.index((talk, key)) + 1)
        heard, turns = self.v[f"heard:{key}"], len(line.wordings)
        wraps = turns > 1 and not line.last_stays
        self.put(f"heard:{key}", heard % turns + 1 if wraps else min(heard + 1, 999))
        self.tally("heard", key)
        self.happen("heard", key)
        self.flag(f"line:{key}")

    # --- cues and actions

    def read(self, cues, key):
        """Cues of one moment in order; whether one took effect."""
        took = fitted = False
        for place, cue in cues:
            if self.all_hold(cue.tops, key, place):
                fitted = True
                waits = f"waits:{key}/{place}"
                done = not self.v.get(waits) and self.segment(key, place, cue, 0)
                took = took or done
                if not (done and cue.go_on):
                    break
        if not fitted and cues:
            self.refuse(*cues[0], key)
        return took

    def refuse(self, place, cue, key):
        unmet = next((t for t in cue.tops if not self.all_hold((t,), key, place)), None)
        if unmet is None:
            self.run(cue.otherwise, key)
            return
        if unmet.or_else is not None:
            self.run((unmet.or_else,), key)
        elif cue.otherwise:
            self.run(cue.otherwise, key)

    def segment(self, key, place, cue, number):
        parts: list[list] = [[]]
        for step in cue.steps:
            if isinstance(step, n.Wait | n.WaitForIt):
                parts.append([])
            else:
                parts[-1].append(step)
        if number:
            self.put(f"waits:{key}/{place}", 0)
        done = self.run(parts[number], key)
        if done and number + 1 < len(parts):
            self.put(f"waits:{key}/{place}", number + 1)
        return done

    def offers(self, key, control, held):
        d = self.objects[key][1]
        state = d.states[self.v[f"state:{key}"]]
        prompts = [p for p in d.prompts if p.control == control and (p.hold_s > 0) == held]
        return (
            self.v[f"exists:{key}"]
            and state.reach_on
            and any(not p.states or state.key in p.states for p in prompts)
            and self.v[f"in_reach:{key}"]
            and not self.v["talk"]
            and self.v.get(f"uses:{key}", 1) > 0
            and not self.v.get(f"cooling:{key}")
            and not self.v.get(f"down:{key}")
            and not (d.motion.while_moving == "ignored" and self.v[f"moving:{key}"])
            and "player" in d.reach.who
        )

    def use_cues(self, key, control, verb):
        held = verb == "held"
        controls = {p.control for p in self.objects[key][1].prompts if (p.hold_s > 0) == held}
        return [c for c in self.cues[key] if c[1].moment.verb == verb and control in controls]

    def can_use(self, key, control, verb):
        d = self.objects[key][1]
        turns = d.motion.seconds > 0 and d.motion.while_moving != "ignored" and self.v[f"moving:{key}"]
        turns = turns and bool(self.use_cues(key, control, verb))
        fits = any(self.all_hold(c.tops, key, place) for place, c in self.use_cues(key, control, verb))
        return bool(self.offers(key, control, verb == "held") and (turns or fits))

    def is_open(self, name):
        kind, _, rest = name.partition(":")
        if kind in ("used", "held"):
            return self.can_use(*rest.split("/"), kind)
        if kind == "come_near":
            return self.v[f"exists:{rest}"] == 1 and self.v[f"near:{rest}"] == 0 and not self.v.get(f"down:{rest}")
        if kind == "struck":
            return self.can_strike(rest.split("/")[0])
        if kind == "cooled":
            return self.v[f"cooling:{rest}"] == 1
        if kind == "rise":
            return self.v[f"down:{rest}"] == 1
        if kind == "deliver":
            return self.v[f"later:{rest.rpartition('/')[0]}"] == int(rest.rpartition("/")[2])
        if kind == "go_away":
            return self.v[f"near:{rest}"] == 1
        if kind == "arrive":
            return self.v[f"moving:{rest}"] > 0
        if kind == "resume":
            path, number = rest.rsplit("/", 1)
            key, place = path.split("/", 1)
            cue = dict(self.cues[key])[place]
            motion = self.waiting_for(cue, int(number), key)
            return self.v[f"waits:{path}"] == int(number) and not (motion and self.v[f"moving:{motion}"])
        return self.talk_open(kind, rest)

    def talk_open(self, kind, rest):
        if kind == "cross":
            return False
        key = rest.split("/")[0]
        talk, line = next((t, m) for t in self.p.conversations for m in t.lines if m.key == key)
        if self.v["talk"] != self.speeches.index((talk.key, key)) + 1:
            return False
        place = f"conversation/{talk.key}/line/{key}/reply"
        replies = {
            r.key: self.all_hold(read_needs(r.needs), talk.talker, f"{place}/{r.key}/needs") for r in line.replies
        }
        if kind == "reply":
            return replies[rest.split("/")[1]]
        return not any(replies.values()) if kind == "voice" else self.v[f"in_reach:{talk.talker}"] == 0

    def act(self, name):
        """One action where it stands open, then settle."""
        before = dict(self.v)
        if self.is_open(name):
            kind, _, rest = name.partition(":")
            {"used": self.use, "held": self.use, "struck": self.strike}.get(kind, self.other)(kind, rest)
        self.settle(before)

    def struck_cues(self, key):
        return [c for c in self.cues[key] if c[1].moment.verb == "struck"]

    def can_strike(self, key):
        d = self.objects[key][1]
        free = not (d.motion.while_moving == "ignored" and self.v[f"moving:{key}"]) and not self.v.get(f"cooling:{key}")
        free = free and self.v.get(f"uses:{key}", 1) and not self.v.get(f"down:{key}") and self.v[f"exists:{key}"]
        aimed = self.v[f"aimed_at:{key}/leap"] and not self.v["talk"] and self.can("leap")
        return bool(free and aimed and any(self.all_hold(c.tops, key, p) for p, c in self.struck_cues(key)))

    def strike(self, kind, rest):
        key = rest.split("/")[0]
        if self.read(self.struck_cues(key), key):
            self.after_use(key)
            if self.v["ability_uses:leap"]:
                self.put("ability_uses:leap", self.v["ability_uses:leap"] - 1)
                if not self.v["ability_uses:leap"]:
                    self.put("ability:leap", 0)

    def use(self, kind, rest):
        key, control = rest.split("/")
        d = self.objects[key][1]
        moves = d.motion.seconds > 0 and self.v[f"moving:{key}"]
        if moves and d.motion.while_moving == "turned_back":
            took = self.turn_back(key)
        elif moves and d.motion.while_moving == "queued":
            self.put(f"queued:{key}", ["use", "second"].index(control) + 1)
            took = True
        else:
            took = self.read(self.use_cues(key, control, kind), key)
        if took:
            self.after_use(key)

    def after_use(self, key):
        d = self.objects[key][1]
        if d.uses:
            self.put(f"uses:{key}", max(self.v[f"uses:{key}"] - 1, 0))
        if d.cool_down_s:
            self.put(f"cooling:{key}", 1)
        self.tally("used", key)
        for q in self.p.quests:
            for s in q.stages:
                for o in s.objectives:
                    if o.type == "use" and key in o.targets:
                        self.flag(f"count:{o.key}/{key}")

    def turn_back(self, key):
        try:
            self.to_state(key, self.v[f"moving:{key}"] - 1)
        except RefusedSegment:
            return False
        return True

    def other(self, kind, rest):
        if kind in ("come_near", "go_away"):
            self.put(f"near:{rest}", int(kind == "come_near"))
        elif kind == "arrive":
            self.put(f"moving:{rest}", 0)
            queued = self.v.get(f"queued:{rest}")
            if queued:
                for verb in ("used", "held"):
                    if self.use_cues(rest, ["use", "second"][queued - 1], verb):
                        self.flag(f"{verb}:{rest}/{['use', 'second'][queued - 1]}")
                self.put(f"queued:{rest}", 0)
        elif kind == "cooled":
            self.put(f"cooling:{rest}", 0)
        elif kind == "rise":
            self.put(f"down:{rest}", 0)
        elif kind == "deliver":
            self.put(f"later:{rest.rpartition('/')[0]}", 0)
            self.happen("later", rest.rpartition("/")[0])
        elif kind == "resume":
            path, number = rest.rsplit("/", 1)
            key, place = path.split("/", 1)
            self.segment(key, place, dict(self.cues[key])[place], int(number))
        elif kind == "reply":
            self.reply(*rest.split("/"))
        elif kind in ("voice", "leave"):
            talk, line = next((t, m) for t in self.p.conversations for m in t.lines if m.key == rest)
            self.onward(talk.key, "" if kind == "leave" or line.replies else line.then)

    def onward(self, talk, then):
        if then:
            self.begin(talk, then)
        else:
            self.put("talk", 0)

    def reply(self, key, number):
        talk, line = next((t, m) for t in self.p.conversations for m in t.lines if m.key == key)
        reply = next(r for r in line.replies if r.key == number)
        if self.run(read_steps(reply.steps), talk.talker) and reply.then != "stays_here":
            self.onward(talk.key, reply.then)
