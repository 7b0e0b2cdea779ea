"""A plain, slow interpreter of projects, written from the rules and reading the records and trees directly.

It shares with the program only the names of columns and actions. The tests hold the program against it.
"""

from __future__ import annotations

from vocanta.core.cuetext.reading import read_cue, read_needs, read_steps
from vocanta.core.cuetext.writing import write_need
from vocanta.core.phrases import nodes as n
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.core.project.designs import resolved
from vocanta.core.project.records import Object, Project

PRESSED = ("used", "held", "struck")
COUNTED = ("use", "talk", "go")
AREA_OF = {"oak": "moor", "elm": "grove", "ash": "den"}
"""Where the random projects place their objects, each alone in the middle of an area."""
AVAILABLE, OFFERED, ACTIVE, READY, DONE, DECLINED, FAILED = range(1, 8)


class RefusedSegment(Exception):
    """The segment is put back."""


class Plain:
    """One situation of a project, as a dict of column names.

    `cells` are the names of the cells: (level, area, zones, exit, bodies) of each, bodies as (object, spot). Which of them
    lead to which, and what fills them, is worked out here from how the random projects are drawn: pieces of an area lie
    inside one another around its one object, the widest pieces of neighbouring areas touch.
    """

    def __init__(self, project: Project, cells):
        self.p, self.cells = project, cells
        self.kinds = {k.key: k for k in project.kinds}
        self.levels = {o.key: lv.key for lv in project.levels for o in lv.objects}
        self.objects = {o.key: (o, resolved(self.kinds[o.kind], o)) for lv in project.levels for o in lv.objects}
        self.here, self.cues, self.pools, self.said = "", {}, {}, []
        for key, (o, _) in self.objects.items():
            own = {c.key: (f"object/{key}/cue/{c.key}", read_cue(c.text)) for c in o.cues}
            self.cues[key] = [
                own.pop(c.key, (f"kind/{o.kind}/cue/{c.key}", read_cue(c.text))) for c in self.kinds[o.kind].cues
            ] + list(own.values())
        self.make_copies()
        self.quests = {q.key: q for q in project.quests}
        self.talks = {c.key: c for c in project.conversations}
        self.speeches = [(c.key, line.key) for c in project.conversations for line in c.lines]
        self.facts = {f.key: f for f in project.facts}
        self.items = {i.key: i for i in project.items}
        self.find_movable()
        self.find_opened()
        self.zones = [k for k in self.objects if self.is_cut(k) and self.near_listened(k)]
        self.entries = [f"start:{lv.key}" for lv in project.levels]
        self.entries += [f"exit:{e.key}" for lv in project.levels for e in lv.exits]
        self.entries += [f"at:{k}" for k in dict.fromkeys(self.named(n.MovePlayer, "place"))]
        self.order = self._listeners()
        self.v = self._begin()
        self.flags: set[str] = {"starting:glade", "standing"}
        self.flags |= {
            f for f in self.order if f.startswith(("available:", "live:", "ending:")) and not self._counted(f)
        }
        self.running: set[str] = set()
        self.settle(dict(self.v))

    # --- set-up

    def make_copies(self):
        """Every step that puts copies has so many of its own; what a copy itself puts belongs to its kind."""
        waiting = [(key, key) for key in self.objects]
        while waiting:
            owner, key = waiting.pop(0)
            for _, cue in self.cues[key]:
                for node in (m for m in n.nodes_in(cue) if isinstance(m, n.PutAt)):
                    if node.what.text in self.kinds and (owner, node) not in self.pools:
                        waiting += self.make_pool(owner, key, cue, node)

    def make_pool(self, owner, key, cue, node):
        kind = self.kinds[node.what.text]
        number = 1 + sum(1 for o, _ in self.pools if o == owner)
        name = f"{kind.key}@{owner.replace('/', '_')}_{number}"
        most = min(int(node.most.value), self.runs(key, cue, node))
        self.pools[owner, node] = [f"{name}.{i + 1}" for i in range(most)]
        for copy in self.pools[owner, node]:
            thing = Object(copy, kind.name, kind.key, 0.0, 0.0, there_at_start=False)
            self.objects[copy] = (thing, kind.design)
            self.levels[copy] = ""
            self.cues[copy] = [(f"kind/{kind.key}/cue/{c.key}", read_cue(c.text)) for c in kind.cues]
            yield (f"kind/{kind.key}", copy)

    def runs(self, key, cue, node):
        """How often a step that puts something can run: by uses, or once where its owner goes for good with it."""
        design = self.objects[key][1]
        steps = [m for _, c in self.cues[key] for m in n.nodes_in(c) if m == node]
        if "@" in key or design.fresh or len(steps) != 1 or node not in cue.steps:
            return 1000
        waits = any(isinstance(m, n.Wait | n.WaitForIt) for m in cue.steps)
        goes = any(isinstance(m, n.Remove) and m.target.text in ("this", key) for m in cue.steps)
        if goes and not waits and not self.ever_put(key):
            return 1
        return design.uses if cue.moment.verb in ("used", "held", "struck") and design.uses else 1000

    def ever_put(self, key):
        texts = [c.text for k in self.kinds.values() for c in k.cues]
        texts += [c.text for o, _ in self.objects.values() for c in o.cues]
        nodes = [m for t in texts for m in n.nodes_in(read_cue(t))]
        nodes += [m for x, reader in self.other_texts() if x for m in n.nodes_in(reader(x))]
        return any(m.what.text in (key, "this") for m in nodes if isinstance(m, n.PutAt))

    def texts(self):
        """Every text with what `this` is in it: (this, nodes)."""
        for key, cues in self.cues.items():
            yield from ((key, n.nodes_in(cue)) for _, cue in cues)
        for t in self.p.conversations:
            for line in t.lines:
                both = [(line.needs, read_needs), (line.steps, read_steps)]
                both += [pair for r in line.replies for pair in ((r.needs, read_needs), (r.steps, read_steps))]
                yield from ((self.speaking(t), n.nodes_in(reader(x))) for x, reader in both if x)
        for q in self.p.quests:
            both = [(q.needs, read_needs), (q.rewards, read_steps), *((s.entering, read_steps) for s in q.stages)]
            yield from (("", n.nodes_in(reader(x))) for x, reader in both if x)
        yield from (("", n.nodes_in(read_needs(m.text))) for m in self.p.named_needs)

    def named(self, node_type, word):
        """The keys that nodes of a type name by one of their words, in the order of the texts."""
        for this, nodes in self.texts():
            for node in nodes:
                if isinstance(node, node_type) and getattr(node, word) is not None:
                    text = getattr(node, word).text
                    yield this if text == "this" else text

    def find_movable(self):
        """What steps put or swap, at which spots its body may stand for certain, and what is asked for as a place."""
        swaps = [(this, m) for this, nodes in self.texts() for m in nodes if isinstance(m, n.Swap)]
        puts = [(this, m) for this, nodes in self.texts() for m in nodes if isinstance(m, n.PutAt)]

        def name(this, word):
            return this if word.text == "this" else word.text

        self.swapped: dict[str, set[str]] = {}
        for this, m in swaps:
            a, b = name(this, m.target), name(this, m.other)
            self.swapped.setdefault(a, set()).add(b)
            self.swapped.setdefault(b, set()).add(a)
        what = [(name(this, m.what), name(this, m.at) if m.at else this) for this, m in puts]
        self.put_at = {k: {at for w, at in what if w == k} for k in self.objects}
        self.movable = {k for k in self.objects if self.put_at[k] or k in self.swapped or "@" in k}

    def find_opened(self):
        """At which objects each conversation may be opened; a line that opens another passes on where it is said."""
        found: dict[str, list[str]] = {t: [] for t in self.talks}
        for key, cues in self.cues.items():
            found_here = [m.conversation.text for _, c in cues for m in n.nodes_in(c) if isinstance(m, n.Talk)]
            for talk in found_here:
                found[talk].append(key)
        inside: dict[str, list[str]] = {t: [] for t in self.talks}
        for t in self.p.conversations:
            for line in t.lines:
                steps = [line.steps, *(r.steps for r in line.replies)]
                for m in (m for x in steps if x for m in n.nodes_in(read_steps(x)) if isinstance(m, n.Talk)):
                    inside[m.conversation.text].append(t.key)
        for q in self.p.quests:
            for text in (q.rewards, *(s.entering for s in q.stages)):
                for m in n.nodes_in(read_steps(text)) if text else ():
                    if isinstance(m, n.Talk):
                        found[m.conversation.text].append("")
        for _ in self.talks:
            for talk, others in inside.items():
                found[talk] += [k for other in others for k in found[other]]
        self.opened = {t: set(found[t]) or {self.speaking(self.talks[t])} for t in self.talks}

    def talker_numbers(self, program):
        """The numbers the program gives to the objects at which talks are opened: names, like those of columns."""
        self.talkers = program.layout.talkers

    def is_cut(self, key):
        """Whether the floor is cut at an object's reach."""
        asked = self.near_listened(key) or bool(self.objects[key][1].suspends)
        return asked and key not in self.movable

    def near_listened(self, key):
        own = any(c.moment.verb in ("near", "away") for _, c in self.cues[key])
        zones = {*self.named(n.Inside, "place")}
        zones |= {
            m.word.text if m.word.text != "this" else this
            for this, nodes in self.texts()
            for m in nodes
            if isinstance(m, n.Moment) and m.verb in ("entered", "left") and m.word is not None
        }
        objectives = [o for q in self.p.quests for s in q.stages for o in s.objectives if o.type == "go"]
        targets = {w for o in objectives for t in o.targets for w in self.may_be(t)}
        return own or key in zones | targets

    def by_cell(self, key):
        return key in self.zones and self.objects[key][1].reach.who == ("player",)

    def home(self, key):
        """The innermost piece of the area where an object stands."""
        if not self.levels[key]:
            return 0
        area = AREA_OF[key]
        return max((i for i, c in enumerate(self.cells) if c[1] == area and not c[3]), key=self.depth)

    def depth(self, number):
        return len(self.cells[number][2]) + 10 * bool(self.cells[number][4])

    def leads(self, a, b):
        """Whether one cell leads to another."""
        x, y = self.cells[a], self.cells[b]
        if any(self.walled(c) for c in (x, y)):
            return False
        if x[1] != y[1]:
            widest = not (x[2] or x[3] or x[4] or y[2] or y[3] or y[4])
            return widest and {x[1], y[1]} == {"moor", "grove"}
        if x[3] or y[3]:
            return not (x[2] or x[4] or y[2] or y[4]) and a != b
        chain = sorted((i for i, c in enumerate(self.cells) if c[1] == x[1] and not c[3]), key=self.depth)
        return abs(chain.index(a) - chain.index(b)) == 1

    def walled(self, cell):
        """Whether a piece lies inside a body that always blocks: the area's own, where nothing can change about it."""
        own = next(k for k, area in AREA_OF.items() if area == cell[1])
        solid = self.objects[own][1].body.shape != "none"
        return bool(cell[4]) and solid and (own, 0) not in cell[4]

    def passable(self, number):
        """Whether no body fills a cell."""
        for key, spot in self.cells[number][4]:
            states = self.objects[key][1].states
            moving = self.v.get(f"moving:{key}", 0)
            blocks = states[self.v[f"state:{key}"]].blocks or (moving and states[moving - 1].blocks)
            at = [i for i, c in enumerate(self.cells) if (key, spot) in c[4]]
            placed = f"place:{key}" not in self.v or self.v[f"place:{key}"] in at
            if self.v[f"exists:{key}"] and blocks and placed and not self.v.get(f"down:{key}"):
                return False
        return True

    def _begin(self):
        v = {
            "cell": self.start_cell(),
            "entry": 0,
            "ended": 0,
            "ending": 0,
            "money": 0,
            "experience": 0,
            "gear:hand": 0,
        }
        v |= {"talk": 0, "talk_at": 0, "talk_waiting": 0, "waiting_at": 0, "role:hero": 0}
        v |= {f"exit:{e.key}": int(e.open_at_start) for lv in self.p.levels for e in lv.exits}
        v |= {f"later:{key}": 0 for owner in self.mentioned(n.Later) for key in self.awaited(owner)}
        self.most = {}
        for node in (m for m in self.all_nodes() if isinstance(m, n.Tally)):
            name = f"tally:{node.verb}/{node.subject.text}"
            v[name], self.most[name] = 0, max(self.most.get(name, 0), int(node.count.value) + 1)
        for key in self.objects:
            v |= self.begin_object(key)
        v |= {f"item:{k}": i.at_start for k, i in self.items.items()}
        v |= {f"fact:{k}": f.at_start for k, f in self.facts.items()}
        v["ability:leap"] = 0
        for this, m in ((this, m) for this, nodes in self.texts() for m in nodes if isinstance(m, n.Around)):
            key = this if m.thing.text == "this" else m.thing.text
            v.setdefault(self.around_names(m.who.text, m.how, key)[0], 0)
        grants = [int(m.uses.value) for m in self.all_nodes() if isinstance(m, n.Grant) and m.uses]
        if grants or any(isinstance(m, n.Compare) and m.subject.text == "leap" for m in self.all_nodes()):
            v["ability_uses:leap"] = 0
        if any(isinstance(m, n.Limit) and m.verb == "suspend" for m in self.all_nodes()):
            v["suspended:leap"] = 0
        for key, q in self.quests.items():
            v |= {f"status:{key}": 0 if q.needs else AVAILABLE, f"stage:{key}": 0, f"completions:{key}": 0}
            for o in (o for s in q.stages for o in s.objectives):
                v |= {f"met:{o.key}": 0, f"count:{o.key}": 0} | ({f"limit:{o.key}": 0} if o.time_s else {})
                v |= {f"counted:{o.key}/{t}": 0 for t in o.targets if len(o.targets) > 1 and o.type in COUNTED}
        for talk, key in self.speeches:
            v |= {f"heard:{at}/{key}": 0 for at in self.opened[talk] if self.heard_most(key)}
            line = next(m for m in self.talks[talk].lines if m.key == key)
            counted = [r for r in line.replies if r.repeat == "once" or len(r.wordings) > 1]
            v |= {f"chosen:{at}/{key}/{r.key}": 0 for at in self.opened[talk] for r in counted}
        self.starts = dict(v)
        return v

    def heard_most(self, key):
        """How far it is counted how often a line was heard."""
        line = next(m for t in self.p.conversations for m in t.lines if m.key == key)
        if len(line.wordings) > 1:
            return len(line.wordings) - (1 if line.last_stays else 0)
        asked = any(isinstance(m, n.Heard) and m.line.text == key for m in self.all_nodes())
        return int(asked or line.repeat == "once")

    def begin_object(self, key):
        o, d = self.objects[key]
        arounds = [m for m in self.all_nodes() if isinstance(m, n.Around) and m.how == "in the way of"]
        in_way = any(m.who.text == "somebody" for m in arounds) and key in {
            this if m.thing.text == "this" else m.thing.text
            for this, nodes in self.texts()
            for m in nodes
            if isinstance(m, n.Around) and m.how == "in the way of" and m.who.text == "somebody"
        }
        wanted = {
            "moving": d.motion.seconds > 0,
            "near": self.near_listened(key),
            "mark": key in self.named_marks(),
            "queued": d.motion.seconds > 0 and d.motion.while_moving == "queued",
            "cooling": d.cool_down_s > 0,
            "down": key in set(self.named(n.Down, "who")),
            "in_way": d.motion.stay_clear or in_way,
        }
        v = {f"{what}:{key}": 0 for what, there in wanted.items() if there}
        v |= {f"exists:{key}": int(o.there_at_start), f"state:{key}": 0, f"in_reach:{key}": 0}
        if d.uses:
            v[f"uses:{key}"] = d.uses
        if key in self.movable:
            v[f"place:{key}"] = self.home(key)
        for place, cue in self.cues[key]:
            waits = [i for i, m in enumerate(cue.steps) if isinstance(m, n.Wait | n.WaitForIt)]
            if waits:
                v[f"waits:{key}/{place}"] = 0
                late = [m for m in cue.steps[waits[0] :] if isinstance(m, n.PutAt) and m.at is None]
                if late and key in self.movable:
                    v[f"stood:{key}/{place}"] = 0
        for m in self.struck_cues(key):
            assert m
            v[f"aimed_at:{key}/leap"] = 0
        return v

    def named_marks(self):
        return {
            this if m.target.text == "this" else m.target.text
            for this, nodes in self.texts()
            for m in nodes
            if isinstance(m, n.Marking) and m.verb == "mark"
        }

    def start_cell(self):
        return next(i for i, c in enumerate(self.cells) if c[1] == "moor" and not (c[2] or c[3] or c[4]))

    def all_nodes(self):
        """Every node of every text that a project of the tests can hold."""
        for _, nodes in self.texts():
            yield from nodes

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

    def mentioned(self, node_type):
        """The objects in whose texts such a node stands."""
        return {this for this, nodes in self.texts() if this and any(isinstance(m, node_type) for m in nodes)}

    def _listeners(self):
        found = ["standing"] if any(self.by_cell(k) for k in self.zones) else []
        for lv in self.p.levels:
            found += [f"leaving:{lv.key}", f"fresh:{lv.key}", f"starting:{lv.key}"]
        found += dict.fromkeys(
            f"visit:{m.subject.text}" for m in self.all_nodes() if isinstance(m, n.Tally) and m.verb == "visited"
        )
        for key in self.objects:
            found += dict.fromkeys(self.group(c.moment, key) for _, c in self.cues[key] if c.moment.verb not in PRESSED)
            found += [f"{verb}:{key}/{control}" for verb in ("used", "held") for control in ("use", "second")]
        for c in self.p.conversations:
            found += [f"openers:{c.key}", *(f"line:{line.key}" for line in c.lines)]
        found.append("talk_ended")
        found += [f"walked_off:{key}" for key in self.objects]
        for q in self.p.quests:
            found += [f"available:{q.key}"] if q.needs else []
            found += [f"enter:{q.key}/{s.key}" for s in q.stages] + [f"rewards:{q.key}", f"advance:{q.key}"]
        for q in self.p.quests:
            for o in (o for s in q.stages for o in s.objectives):
                found.append(f"live:{o.key}")
                if o.type in COUNTED:
                    found += [group for group, _, _ in self.counting(o)]
        return [*found, *(f"ending:{i}" for i, _ in self.endings()), "next_area"]

    def endings(self):
        """What ends the levels by itself, numbered after the steps that end one."""
        ends = dict.fromkeys(m for _, nodes in self.texts() for m in nodes if isinstance(m, n.EndLevel))
        return list(enumerate((e for lv in self.p.levels for e in lv.endings), start=len(ends) + 1))

    def _objective(self, key):
        return next(
            (q, i, o) for q in self.p.quests for i, s in enumerate(q.stages) for o in s.objectives if o.key == key
        )

    def _counted(self, flag):
        return flag.startswith("live:") and self._objective(flag[5:])[2].type in (*COUNTED, "by_hand")

    @staticmethod
    def group(moment, key):
        named = [w.text if w.text != "this" else key for w in (moment.word, moment.of) if w]
        words = "/".join(w for w in named if w != key or moment.verb not in ("changed", "downed"))
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
                return self.inside(this if place.text == "this" else place.text)
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
            case n.Heard(line, by):
                talk = next(t for t, key in self.speeches if key == line.text)
                at = [k for k in self.opened[talk] if by is None or k == by.text]
                return any(self.v[f"heard:{k}/{line.text}"] > 0 for k in at)
            case n.Can(ability):
                return self.can(ability.text)
        raise AssertionError(need)

    def sensed(self, name):
        """What was sensed last; nothing before the first time."""
        return self.v.get(name, 0) == 1

    def can(self, ability):
        geared = self.v["gear:hand"] == 1
        zones = [k for k, (_, d) in self.objects.items() if ability in d.suspends]
        free = not self.v.get(f"suspended:{ability}") and not any(self.player_inside(z) for z in zones)
        return bool((self.v[f"ability:{ability}"] or geared) and free)

    def inside(self, place):
        if place in self.objects:
            return self.player_inside(place)
        return place in self.cells[self.v["cell"]][:2]

    def has_reach(self, key):
        reach_on = self.objects[key][1].states[self.v[f"state:{key}"]].reach_on
        return bool(self.v[f"exists:{key}"] and reach_on and not self.v.get(f"down:{key}"))

    def player_inside(self, key):
        """The player's own body, by cell where the floor is cut there, else as it is sensed."""
        if self.is_cut(key):
            return self.has_reach(key) and key in self.cells[self.v["cell"]][2]
        return self.v[f"in_reach:{key}"] == 1

    def all_hold(self, tops, this, place):
        """Needs of one text; the place says which chance is meant."""
        before, self.here = self.here, place
        try:
            return all(self.holds(t.need, this) for t in tops)
        finally:
            self.here = before

    def compare(self, value, how, count):
        ways = {"at least": value >= count, "at most": value <= count, "exactly": value == count}
        return ways.get(how, value < count)

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
        found = self.fillers()
        return found.index(key) + 1 if key in found else -1

    def fillers(self):
        found = []
        for owner, cues in self.cues.items():
            for node in n.nodes_in(tuple(cues)):
                if isinstance(node, n.Fill):
                    found.append(owner if node.thing.text == "this" else node.thing.text)
        for text, reader in self.other_texts():
            found += [m.thing.text for m in n.nodes_in(reader(text) if text else ()) if isinstance(m, n.Fill)]
        return list(dict.fromkeys(found))

    # --- writing

    def put(self, name, value):
        old, self.v[name] = self.v[name], value
        if old == value:
            return
        what, _, key = name.partition(":")
        if what == "near":
            self.flag(f"near:{key}" if value > old else f"away:{key}")
            if self.by_cell(key):
                self.zone_crossed(key, value > old)
        if what == "in_reach":
            self.reach_crossed(key, value > old)
        if name == "cell":
            self.crossed(old, value)
        if what == "exists" and value > old and self.is_cut(key):
            self.flag_going(key)
        if name == "role:hero":
            self.flag_going(None)
        self.hear_value(what, key or what, value > old)
        if name == "talk" and value < old:
            self.flag("talk_ended")
        for i, ending in self.endings():
            if name in {f"{what}:{k}" for k in ending.when for what in ("met", "completions")}:
                self.flag(f"ending:{i}")
        for q in self.p.quests:
            if q.needs and self.reads(read_needs(q.needs), name, f"status:{q.key}"):
                self.flag(f"available:{q.key}")
            for o in (o for s in q.stages for o in s.objectives):
                if name == f"met:{o.key}":
                    self.flag(f"advance:{q.key}")
                if self.live_reads(o, name):
                    self.flag(f"live:{o.key}")

    def flag_going(self, place):
        """What counts going to a place, without one what counts going to whoever fills the role."""
        for o in (o for q in self.p.quests for s in q.stages for o in s.objectives if o.type == "go"):
            for group, target, who in self.counting(o):
                if place == who or (place is None and target == "hero"):
                    self.flag(group)

    def zone_crossed(self, key, enters):
        """Cues that wait for a zone to be entered or left."""
        for name, moment, owner in self.moments():
            if moment.verb != ("entered" if enters else "left") or moment.word is None:
                continue
            if (owner if moment.word.text == "this" else moment.word.text) == key:
                self.flag(name)

    def reach_crossed(self, key, enters):
        if not self.is_cut(key):
            self.zone_crossed(key, enters)
            if enters:
                self.flag_going(key)
        if not enters:
            self.flag(f"walked_off:{key}")

    def crossed(self, old, new):
        """What follows from the player's cell alone."""
        (was_level, was_area, was_zones, *_), (level, area, zones, *_) = self.cells[old], self.cells[new]
        places = [(was_level, level), (was_area, area)]
        for before, now in places:
            if before != now:
                for name, moment, _ in self.moments():
                    word = moment.word.text if moment.word else ""
                    if (moment.verb, word) in (("entered", now), ("left", before)):
                        self.flag(name)
                self.flag(f"visit:{now}")
                self.flag_going(now)
        if was_area != area:
            self.flag("next_area")
        if was_level != level:
            for name in (f"leaving:{was_level}", f"fresh:{level}", f"starting:{level}"):
                self.flag(name)
        for key in zones - was_zones:
            self.flag_going(key)
        for key in zones ^ was_zones:
            if not self.by_cell(key):
                self.zone_crossed(key, key in zones)

    def after_change(self, key):
        """Nearness in step with an object that came, went, changed its state or was downed."""
        near = self.v.get(f"near:{key}")
        if near is None:
            return
        if self.by_cell(key):
            self.pair(key)
        elif near and not self.has_reach(key):
            self.put(f"near:{key}", 0)

    def pair(self, key):
        if self.v[f"near:{key}"] != int(self.player_inside(key)):
            self.put(f"near:{key}", int(self.player_inside(key)))

    def go_away(self, key):
        if self.v.get(f"near:{key}"):
            self.put(f"near:{key}", 0)

    def hear_value(self, what, key, rose):
        """Flag the cues that wait for a value to alter."""
        for name, moment, owner in self.moments():
            if what == "later" and "/" in key:
                if moment.verb == "comes" and f"{owner}/{moment.word.text}" == key:
                    self.flag(name)
                continue
            word = moment.word.text if moment.word else owner
            word = owner if word == "this" else word
            heard = {
                "changed": what in ("state", "fact", "exists") and word == key,
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
            if what == "later" and "/" in key:
                if moment.verb == "comes" and f"{owner}/{moment.word.text}" == key:
                    self.flag(name)
                continue
            word = moment.word.text if moment.word else owner
            same = (owner if word == "this" else word) == key and (moment.of.text if moment.of else "") == of
            if moment.verb == what and (
                owner in self.movable or self.levels[owner] == key if what == "started" else same
            ):
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
                case n.Inside(_, place) if place.text not in self.objects:
                    if name == "cell":
                        return True
                case n.Inside(_, place) if self.reads_inside(place.text, name):
                    return True
                case n.Around(who, how, thing) if name in self.around_names(who.text, how, thing.text):
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
                case n.Heard(line) if what == "heard" and key.endswith(f"/{line.text}"):
                    return True
                case n.Can(ability) if what in ("ability", "suspended") and ability.text == key:
                    return True
                case n.Can(ability) if name == "gear:hand":
                    return True
                case n.Can(ability):
                    zones = [k for k, (_, d) in self.objects.items() if ability.text in d.suspends]
                    if any(self.reads_inside(z, name) for z in zones):
                        return True
        return False

    def reads_inside(self, zone, name):
        """Whether the player being inside an object's reach reads a column."""
        if self.is_cut(zone):
            states = self.objects[zone][1].states
            partly = any(not s.reach_on for s in states)
            return name in (f"exists:{zone}", f"down:{zone}", "cell") or (partly and name == f"state:{zone}")
        return name == f"in_reach:{zone}"

    def around_names(self, who, how, thing):
        if how == "in reach of":
            return [f"in_reach:{thing}"] if who == "player" else [f"reach_by:{thing}/{who}"]
        return [f"in_way:{thing}"] if who == "somebody" else [f"way_by:{thing}/{who}"]

    def live_reads(self, o, name):
        what, _, key = name.partition(":")
        if name == "role:hero":
            return o.type == "state" and "hero" in o.targets
        if not any(key in self.may_be(t) for t in o.targets):
            return False
        if o.type == "state":
            return what == "exists" or (what == "state" and o.state != "gone")
        return (o.type, what) in (("have", "item"), ("fact", "fact"))

    # --- steps

    def run(self, steps, this, gifts=False, first=()):
        """A segment: whole or not at all. None where it took effect, else whether it may be tried again.

        `first` are flags raised with it.
        """
        before, flags, running, said = dict(self.v), set(self.flags), set(self.running), len(self.said)
        try:
            for name in first:
                self.flag(name)
            for step in steps:
                self.step(step, this, gifts)
            return None
        except RefusedSegment as refused:
            self.v, self.flags, self.running = before, flags, running
            del self.said[said:]
            self.said.append(("refused", refused.args[0]))
            return refused.args[0] == "somebody is in the way"

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
                self.put_if("ability_uses:leap", int(uses.value) if uses else 0)
                self.put_if("suspended:leap", 0)
            case n.QuestStep(verb, quest, good):
                self.quest_step(verb, quest.text, good)
            case n.Move(quest, stage):
                if self.active(quest.text):
                    self.enter(quest.text, self.stage(quest.text, stage.text))
            case n.Say(text):
                self.said.append(("notice", text.value))
            case n.Talk(talk):
                self.open(talk.text, this)
            case n.Marking(verb, target):
                self.put_if(f"mark:{this if target.text == 'this' else target.text}", int(verb == "mark"))
            case n.Remove(target):
                key = this if target.text == "this" else target.text
                if self.v[f"exists:{key}"]:
                    self.put(f"exists:{key}", 0)
                    self.after_change(key)
            case n.Meet(objective):
                q, i, o = self._objective(objective.text)
                if self.asked_for(q, i, o) and not self.v[f"met:{o.key}"]:
                    self.meet(o.key)
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
                self.put_if("ability_uses:leap", 0)
            case n.Gear("equip", item):
                if item.text != "pin":
                    raise RefusedSegment("it goes to no hand and no slot")
                if not self.v["item:pin"]:
                    raise RefusedSegment("the player does not have it")
                self.put("gear:hand", 1)
            case n.Gear("put away", item):
                if item.text != "pin":
                    raise RefusedSegment("it goes to no hand and no slot")
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
                if self.asked_for(q, i, o) and not self.v[f"met:{o.key}"]:
                    self.put(f"count:{o.key}", min(self.v[f"count:{o.key}"] + 1, o.count))
                    if self.v[f"count:{o.key}"] == o.count:
                        self.meet(o.key)
            case n.PutAt(what):
                self.bring(step, this if what.text == "this" else what.text, this)
            case n.Later():
                if not self.v[f"later:{self.key_of(step, this)}"]:
                    self.put(f"later:{self.key_of(step, this)}", self.later_number(step, this))
                else:
                    self.said.append(("under_way", ""))
            case n.Swap(one, other):
                self.swap(*(this if w.text == "this" else w.text for w in (one, other)))
            case n.MovePlayer(place):
                self.leap(f"at:{this if place.text == 'this' else place.text}")
            case n.ExitStep(verb, exit):
                self.put(f"exit:{exit.text}", int(verb == "open"))

    def put_if(self, name, value):
        if name in self.v:
            self.put(name, value)

    def down(self, key):
        if key == "player":
            if self.v["talk"]:
                self.put("talk", 0)
                self.put("talk_at", 0)
            self.happen("downed", "player")
            self.put("cell", self.entry_cell(self.entries[self.v["entry"]]))
            self.after_leaping()
        elif self.v[f"exists:{key}"] and not self.v[f"down:{key}"]:
            self.put(f"down:{key}", 1)
            self.after_change(key)
            self.happen("downed", key)

    # --- places

    def entry_cell(self, entry):
        what, _, key = entry.partition(":")
        widest = {c[1]: i for i, c in enumerate(self.cells) if not (c[2] or c[3] or c[4])}
        if what == "start":
            return widest[{"glade": "moor", "cave": "den"}[key]]
        if what == "exit":
            exit = next(e for lv in self.p.levels for e in lv.exits if e.key == key)
            return widest[{"cave": "den", "glade": "grove"}[exit.to_level]]
        if key in self.movable:
            place = self.v[f"place:{key}"]
            if key not in {k for k, _ in self.cells[place][4]}:
                return place
            area = self.cells[place][1]
            around = [i for i, c in enumerate(self.cells) if c[1] == area and c[2] and not c[4]]
            return around[0] if around else widest[area]
        area = AREA_OF[key]
        zone = [i for i, c in enumerate(self.cells) if c[1] == area and c[2] and not c[4]]
        return zone[0] if zone else widest[area]

    def leap(self, entry):
        cell = self.entry_cell(entry)
        if self.cells[cell][0] != self.cells[self.v["cell"]][0]:
            self.put("entry", self.entries.index(entry))
        self.put("cell", cell)
        self.after_leaping()

    def after_leaping(self):
        for key in self.zones:
            if self.by_cell(key):
                self.pair(key)
        for key, (_, d) in self.objects.items():
            if not self.by_cell(key) and d.reach.who == ("player",):
                self.go_away(key)

    def level_of(self, key):
        return self.cells[self.v[f"place:{key}"]][0] if key in self.movable else self.levels[key]

    def swap(self, one, other):
        if not (self.v[f"exists:{one}"] and self.v[f"exists:{other}"]):
            raise RefusedSegment("one of the two is not there")
        if one == other:
            return
        for key in (one, other):
            self.go_away(key)
            self.end_motion(key)
        first, second = self.v[f"place:{one}"], self.v[f"place:{other}"]
        self.put(f"place:{one}", second)
        self.put(f"place:{other}", first)
        self.after_change(one)
        self.after_change(other)

    def end_motion(self, key):
        if self.v.get(f"moving:{key}"):
            self.put(f"moving:{key}", 0)
            self.put_if(f"queued:{key}", 0)

    def bring(self, step, what, this):
        owner = f"kind/{self.objects[this][0].kind}" if "@" in this else this
        at = this if step.at is None else step.at.text if step.at.text != "this" else this
        stood = f"stood:{this}/{self.cue_place}" if step.at is None and self.late else ""
        cell = self.v.get(stood, self.v.get(f"place:{at}", self.home(at))) if at != "player" else self.v["cell"]
        if what in self.kinds:
            free = [c for c in self.pools[owner, step] if not self.v[f"exists:{c}"]]
            if not free:
                raise RefusedSegment(f"there are {len(self.pools[owner, step])} of them already")
            what = free[0]
            for name, start in self.starts.items():
                if self.is_own(name, what):
                    self.put(name, start)
            self.put(f"place:{what}", cell)
            self.put(f"exists:{what}", 1)
            return
        self.go_away(what)
        self.end_motion(what)
        self.put(f"exists:{what}", 1)
        self.put(f"place:{what}", cell)
        self.after_change(what)

    def is_own(self, name, key):
        """Whether a column starts over with an object: all of its own but where it is and whether it is there."""
        what, _, of = name.partition(":")
        if what in (
            "exists",
            "place",
            "near",
            "carrier",
            "in_reach",
            "in_way",
            "reach_by",
            "way_by",
            "aimed_at",
            "chance",
        ):
            return False
        if what == "tally":
            return of == f"used/{key}"
        return of == key or (what in ("waits", "stood", "heard", "chosen", "later") and of.startswith(f"{key}/"))

    def later_number(self, step, this):
        """The number of a later step among those of its owner."""
        return self.laters(self.key_of(step, this)).index(step) + 1

    def key_of(self, step, owner):
        """What a step lets come: by its owner, and under its name."""
        return f"{owner}/{step.name.text}" if step.name else owner

    def awaited(self, owner):
        """Everything that an owner lets come later, by the order of the texts."""
        found = [m for this, nodes in self.texts() for m in nodes if this == owner and isinstance(m, n.Later)]
        return list(dict.fromkeys(self.key_of(step, owner) for step in found))

    def to_state(self, key, new):
        design = self.objects[key][1]
        old = self.v[f"state:{key}"]
        if not self.v[f"exists:{key}"] or old == new:
            return
        if design.motion.stay_clear and self.v[f"in_way:{key}"]:
            raise RefusedSegment("somebody is in the way")
        if self.v.get(f"moving:{key}"):
            self.end_waits(key)
        if design.motion.seconds > 0:
            here = self.level_of(key) == self.cells[self.v["cell"]][0]
            self.put(f"moving:{key}", old + 1 if here else 0)
        self.put(f"state:{key}", new)
        self.after_change(key)

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
            raise RefusedSegment("there are too few" if verb == "take" else "there is no room for more")
        self.put(name, wanted)
        if verb == "give":
            self.tally("gained", key, count)
        elif name == "item:pin" and wanted == 0:
            self.put("gear:hand", 0)

    def open(self, talk, this):
        at = self.v["talk_at"] if self.in_talk else self.talkers.index(this) + 1 if this in self.talkers else 0
        if self.v["talk"] == 0:
            self.put("talk", len(self.speeches) + 1 + list(self.talks).index(talk))
            self.put("talk_at", at)
            self.flag(f"openers:{talk}")
        elif self.v["talk_waiting"] == 0:
            self.put("talk_waiting", list(self.talks).index(talk) + 1)
            self.put("waiting_at", at)
        else:
            raise RefusedSegment("somebody else is waiting to speak")

    def quest_step(self, verb, key, good):
        self.become_available(key)
        q, status = self.quests[key], self.v[f"status:{key}"]
        if verb == "offer" and status == AVAILABLE:
            self.put(f"status:{key}", OFFERED)
        elif verb == "start" and status in (AVAILABLE, OFFERED):
            self.enter(key, 0)
            self.happen("accepted", key)
        elif verb == "decline" and status == OFFERED and q.decline != "no":
            again = not (good or q.decline == "for_good")
            self.back(key) if again else self.over(key, DECLINED)
            self.happen("declined", key)
        elif verb == "give up" and self.active(key) and q.give_up != "no":
            if good or q.give_up == "for_good":
                self.over(key, FAILED)
                self.happen("failed", key)
            else:
                self.back(key)
        elif (verb == "hand in" and (status == READY or self.end_met(key))) or (verb == "finish" and self.active(key)):
            self.finish(key)
        elif verb == "fail" and status in (OFFERED, ACTIVE, READY):
            self.fail(q)

    def become_available(self, key):
        """Available once its needs are met: at once before a step, else when it is settled."""
        needs, here = read_needs(self.quests[key].needs), self.here
        if self.v[f"status:{key}"] == 0 and self.quests[key].needs and self.all_hold(needs, "", f"quest/{key}/needs"):
            self.back(key)
        self.here = here

    def fail(self, q):
        self.over(q.key, FAILED)
        self.happen("failed", q.key)
        if q.failing == "again":
            self.back(q.key)

    def over(self, key, status):
        """Another status, in which no time runs."""
        self.put(f"status:{key}", status)
        for o in (o for s in self.quests[key].stages for o in s.objectives if o.time_s):
            self.put(f"limit:{o.key}", 0)

    def end_met(self, key):
        """At a stage where the quest can be handed in, with all of it that is required met."""
        stages, number = self.quests[key].stages, self.v[f"stage:{key}"]
        if not (self.active(key) and (number == len(stages) - 1 or stages[number].then == "ready")):
            return False
        required = [o for o in stages[number].objectives if not o.optional]
        for o in (o for o in required if not self.v[f"met:{o.key}"]):
            self.live(o.key)
        return all(self.v[f"met:{o.key}"] for o in required)

    def asked_for(self, q, number, o):
        """Whether an objective is of the present stage and its time is not up."""
        return self.active(q.key) and self.v[f"stage:{q.key}"] == number and self.v.get(f"limit:{o.key}", 0) < 2

    def meet(self, key):
        self.put(f"met:{key}", 1)
        self.put_if(f"limit:{key}", 0)

    def back(self, key):
        """Available again: nothing counted or met."""
        self.over(key, AVAILABLE)
        for stage in self.quests[key].stages:
            self.start_over(stage)

    def start_over(self, stage):
        for o in stage.objectives:
            self.put(f"met:{o.key}", 0)
            self.put(f"count:{o.key}", 0)
            for t in o.targets if len(o.targets) > 1 and o.type in COUNTED else ():
                self.put(f"counted:{o.key}/{t}", 0)

    def finish(self, key):
        times = self.quests[key].times
        self.over(key, DONE)
        if times == 0 or self.v[f"completions:{key}"] < times:
            self.put(f"completions:{key}", min(self.v[f"completions:{key}"] + 1, max(times, 1)))
            self.flag(f"rewards:{key}")
        self.happen("done", key)
        if times == 0 or self.v[f"completions:{key}"] < times:
            self.back(key)

    def enter(self, key, number):
        stage = self.quests[key].stages[number]
        self.put(f"status:{key}", ACTIVE)
        self.put(f"stage:{key}", number)
        self.over(key, ACTIVE)
        self.start_over(stage)
        for o in stage.objectives:
            self.put_if(f"limit:{o.key}", 1)
        for o in stage.objectives:
            for group, target, who in self.counting(o) if o.type in COUNTED else ():
                self.flags.discard(group)
                self.running.discard(group)
                if o.type == "go" and self.is_meant(target, who) and self.inside(who):
                    self.flag(group)
        for name in (f"enter:{key}/{stage.key}", f"advance:{key}", *(f"live:{o.key}" for o in stage.objectives)):
            self.flag(name)
        self.happen("stage", stage.key, key)

    # --- settling

    def settle(self, before, walked=None):
        """Read what is flagged until nothing is; else all is as before, but for the walking itself."""
        said = len(self.said) if walked else 0
        for _ in range(64):
            if not self.flags:
                return
            self.running, self.flags = self.flags, set()
            for number, name in enumerate(self.order):
                for other in self.order[number + 1 :]:
                    if name in self.running and other in self.running and self.comes_before(other, name):
                        self.running.discard(other)
                        self.listen(other)
                if name in self.running:
                    self.listen(name)
        if self.flags:
            self.v, self.flags = walked or before, set()
            del self.said[said:]
            self.faulted = True

    def comes_before(self, other, name):
        """Of a beginning and an end of the same that come together, whether the other is read first: not the last of both."""
        pairs = ("near", "away"), ("entered", "left")
        moment, _, of = name.partition(":")
        against, _, its = other.partition(":")
        if of != its or not any({moment, against} == set(pair) for pair in pairs):
            return False
        owner, _, place = of.partition("/")
        so = self.v[f"near:{owner}"] if moment in pairs[0] else self.inside(place or owner)
        return bool(so) == (moment in ("near", "entered"))

    def listen(self, name):
        what, _, key = name.partition(":")
        owner = key.split("/")[0]
        if what in ("standing", "leaving", "fresh", "starting", "visit", "next_area", "walked_off"):
            self.follow_place(what, key)
        elif what in ("used", "held"):
            self.use(what, key) if self.offers(owner, key.split("/")[1], what == "held") else None
        elif owner in self.objects:
            if what == "started" and self.level_of(owner) != self.cells[self.v["cell"]][0]:
                return
            own_end = what in ("away", "later", "comes") or (what in ("downed", "changed") and "/" not in key)
            if own_end or self.v[f"exists:{owner}"]:
                self.read([c for c in self.cues[owner] if self.group(c[1].moment, owner) == name], owner)
        elif what == "openers":
            self.openers(key)
        elif what == "line":
            line = next(m for t in self.talks.values() for m in t.lines if m.key == key)
            talk = next(t for t in self.talks.values() if line in t.lines)
            self.say(read_steps(line.steps), self.speaking(talk))
        elif name == "talk_ended":
            waiting = self.v["talk_waiting"]
            if self.v["talk"] == 0 and waiting:
                talk = list(self.talks)[waiting - 1]
                self.put("talk_waiting", 0)
                self.put("talk", len(self.speeches) + waiting)
                self.put("talk_at", self.v["waiting_at"])
                self.put("waiting_at", 0)
                self.flag(f"openers:{talk}")
        elif what == "available":
            self.become_available(key)
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
        elif what == "ending":
            self.ending(int(key))

    def ending(self, number):
        """What ends the level once all of it is so."""
        ending = dict(self.endings())[number]
        so = [self.v[f"completions:{k}"] if k in self.quests else self.v.get(f"met:{k}", 0) for k in ending.when]
        if not so or not all(so) or self.v["ended"] or self.v["ending"]:
            return
        if ending.after_s:
            self.put("ending", number)
        else:
            self.put("ended", 1 if ending.outcome == "won" else 2)

    def say(self, steps, this):
        """Steps of a line or a reply; whether they took effect."""
        self.in_talk = True
        try:
            return self.run(steps, this) is None
        finally:
            self.in_talk = False

    def follow_place(self, what, key):
        """What follows from where the player is."""
        if what == "standing":
            for zone in (z for z in self.zones if self.by_cell(z)):
                self.pair(zone)
        elif what == "leaving":
            for thing in self.objects:
                if self.level_of(thing) == key:
                    if self.v.get(f"moving:{thing}"):
                        self.arrive(thing)
                    if not self.by_cell(thing):
                        self.go_away(thing)
        elif what == "fresh":
            for thing, (o, d) in self.objects.items():
                lies = self.level_of(thing) if "@" in thing else self.levels[thing]
                if d.fresh and lies == key:
                    self.v |= {name: start for name, start in self.starts.items() if self.is_own(name, thing)}
                    self.v[f"exists:{thing}"] = int(o.there_at_start)
                    if thing in self.movable and "@" not in thing:
                        self.v[f"place:{thing}"] = self.home(thing)
                    self.after_change(thing)
        elif what == "starting":
            self.happen("started", key)
        elif what == "visit":
            self.tally("visited", key)
        elif what == "next_area":
            for owner in self.objects:
                for step in self.all_laters(owner):
                    key = self.key_of(step, owner)
                    if step.how == "area" and self.v[f"later:{key}"] == self.later_number(step, owner):
                        self.put(f"later:{key}", 0)
                        self.happen("later", key)
        else:
            self.walk_off(key)

    def walk_off(self, key):
        """The player has walked out of the reach where a talk was opened, or waits to be."""
        if key not in self.talkers or self.v[f"in_reach:{key}"] or not self.has_reach(key):
            return
        number = self.talkers.index(key) + 1
        if self.v["waiting_at"] == number and self.v["talk_waiting"]:
            self.put("talk_waiting", 0)
            self.put("waiting_at", 0)
        spoken = self.v["talk"]
        line = self.line_of(spoken)
        if self.v["talk_at"] == number and spoken and not (line and line.holds_player):
            self.put("talk", 0)
            self.put("talk_at", 0)

    def line_of(self, spoken):
        """The line that is open by the value of `talk`; None while openers are read."""
        if not 0 < spoken <= len(self.speeches):
            return None
        talk, key = self.speeches[spoken - 1]
        return next(m for m in self.talks[talk].lines if m.key == key)

    def advance(self, key):
        q, status, number = self.quests[key], self.v[f"status:{key}"], self.v[f"stage:{key}"]
        if not self.active(key):
            return
        stage = q.stages[number]
        required = [o for o in stage.objectives if not o.optional]
        met = all(self.v[f"met:{o.key}"] for o in required)
        if stage.then == "ready":
            if met != (status == READY):
                self.put(f"status:{key}", READY if met else ACTIVE)
        elif stage.then and required and met:
            if stage.then == "done":
                self.finish(key)
            else:
                self.enter(key, self.stage(key, stage.then))

    def live(self, key):
        q, number, o = self._objective(key)
        if not self.asked_for(q, number, o) or o.type in (*COUNTED, "by_hand"):
            return
        if o.type == "have":
            now = all(self.v[f"item:{t}"] >= o.count for t in o.targets)
        elif o.type == "fact":
            now = all(self.v[f"fact:{t}"] >= o.count for t in o.targets)
        else:
            meant = [[w for w in self.may_be(t) if self.is_meant(t, w)] for t in o.targets]
            now = sum(any(self.is_(w, o.state) for w in one) for one in meant) >= min(o.count, len(o.targets))
        if bool(self.v[f"met:{key}"]) != now:
            self.meet(key) if now else self.put(f"met:{key}", 0)
            if not now:
                self.put_if(f"limit:{key}", 1)

    def speaking(self, talk):
        """What `this` is in a conversation: its talker, unless that is a role."""
        return talk.talker if talk.talker in self.objects else ""

    def may_be(self, target):
        """Whoever can fill the role, or the target itself."""
        return self.fillers() if target == "hero" else [target]

    def is_meant(self, target, who):
        return target != "hero" or self.v["role:hero"] == self.filling(who)

    def counting(self, o):
        """The groups that count for an objective, each with its target and who is meant by it."""
        for target in dict.fromkeys(o.targets):
            for who in self.may_be(target):
                yield f"count:{o.key}/{target}" + (f"/{who}" if target == "hero" else ""), target, who

    def count(self, key, target, who=""):
        q, number, o = self._objective(key)
        counted = f"counted:{key}/{target}"
        if not self.is_meant(target, who) or (o.type == "go" and not self.inside(who or target)):
            return
        if not self.asked_for(q, number, o) or self.v[f"met:{key}"]:
            return
        if not self.v.get(counted):
            self.put(f"count:{key}", min(self.v[f"count:{key}"] + 1, o.count))
            if counted in self.v:
                self.put(counted, 1)
        if self.v[f"count:{key}"] == o.count:
            self.meet(key)

    def openers(self, key):
        talk = self.talks[key]
        if self.v["talk"] != len(self.speeches) + 1 + list(self.talks).index(key):
            return
        for line in talk.lines:
            if line.opener and self.fits(line):
                self.begin(key, line.key)
                at = self.v["talk_at"]
                spoken = {w for w in self.may_be(talk.talker) if self.is_meant(talk.talker, w)}
                spoken |= {self.talkers[at - 1]} if at else set()
                for o in (o for q in self.p.quests for s in q.stages for o in s.objectives if o.type == "talk"):
                    for group, _, who in self.counting(o):
                        if who in spoken:
                            self.flag(group)
                return
        self.put("talk", 0)
        self.put("talk_at", 0)

    def fits(self, line):
        talk = next(t for t in self.p.conversations if line in t.lines)
        place = f"conversation/{talk.key}/line/{line.key}/needs"
        needs = self.all_hold(read_needs(line.needs), self.speaking(talk), place)
        if line.repeat != "once":
            return needs
        return needs and not self.v[f"heard:{self.talk_place()}/{line.key}"]

    def talk_place(self):
        return self.talkers[self.v["talk_at"] - 1] if self.v["talk_at"] else ""

    def begin(self, talk, key):
        line = next(m for m in self.talks[talk].lines if m.key == key)
        self.put("talk", self.speeches.index((talk, key)) + 1)
        column, turns = f"heard:{self.talk_place()}/{key}", len(line.wordings)
        if column in self.v:
            heard, wraps = self.v[column], turns > 1 and not line.last_stays
            self.put(column, heard % turns + 1 if wraps else min(heard + 1, self.heard_most(key)))
        self.tally("heard", key)
        self.happen("heard", key)
        self.flag(f"line:{key}")

    # --- cues and actions

    in_talk, late, cue_place, faulted = False, False, "", False

    def read(self, cues, key, press=False):
        """Cues of one moment in order; whether one took effect."""
        took = fitted = False
        fitting = [p for p, c in cues if press and self.all_hold(c.tops, key, p)]
        for place, cue in cues:
            if self.all_hold(cue.tops, key, place):
                fitted = True
                waits = f"waits:{key}/{place}"
                done = False
                if self.v.get(waits):
                    self.said.append(("under_way", ""))
                else:
                    done = self.segment(key, place, cue, 0, press)
                took = took or done
                if not (done and cue.go_on):
                    behind = fitting[fitting.index(place) + 1 :] if took and place in fitting else []
                    self.said += [("passed_over", "") for _ in behind]
                    break
        if not fitted and cues:
            self.refuse(*cues[0], key)
        return took

    def refuse(self, place, cue, key):
        unmet = next((t for t in cue.tops if not self.all_hold((t,), key, place)), None)
        self.cue_place, self.late = place, False
        if unmet is not None and unmet.or_else is not None:
            self.run((unmet.or_else,), key)
        elif cue.otherwise:
            self.run(cue.otherwise, key)
        elif unmet is not None:
            self.said.append(("unmet", write_need(unmet.need)))

    def segment(self, key, place, cue, number, press=False):
        parts: list[list] = [[]]
        for step in cue.steps:
            if isinstance(step, n.Wait | n.WaitForIt):
                parts.append([])
            else:
                parts[-1].append(step)
        self.cue_place, self.late = place, number > 0
        waits, before = f"waits:{key}/{place}", (dict(self.v), set(self.flags))
        if number:
            self.put(waits, 0)
        if not number and f"stood:{key}/{place}" in self.v:
            self.put(f"stood:{key}/{place}", self.v[f"place:{key}"])
        refused = self.run(parts[number], key, first=self.use_counts(key) if press else ())
        if refused and number:
            self.v = before[0]
        if refused is None and number + 1 < len(parts):
            self.put(waits, number + 1)
        return refused is None

    def use_counts(self, key):
        objectives = [o for q in self.p.quests for s in q.stages for o in s.objectives]
        return [group for o in objectives if o.type == "use" for group, _, who in self.counting(o) if who == key]

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
            and not (d.motion.while_moving == "ignored" and self.v.get(f"moving:{key}"))
            and "player" in d.reach.who
        )

    def use_cues(self, key, control, verb):
        held = verb == "held"
        controls = {p.control for p in self.objects[key][1].prompts if (p.hold_s > 0) == held}
        return [c for c in self.cues[key] if c[1].moment.verb == verb and control in controls]

    def can_use(self, key, control, verb):
        d = self.objects[key][1]
        turns = d.motion.while_moving != "ignored" and self.v.get(f"moving:{key}")
        turns = turns and bool(self.use_cues(key, control, verb))
        fits = any(self.all_hold(c.tops, key, place) for place, c in self.use_cues(key, control, verb))
        return bool(self.offers(key, control, verb == "held") and (turns or fits))

    def is_open(self, name):
        kind, _, rest = name.partition(":")
        if kind == "sensed":
            return True
        if kind in ("used", "held"):
            return self.can_use(*rest.split("/"), kind)
        if kind == "come_near":
            return self.has_reach(rest) and self.v[f"near:{rest}"] == 0
        if kind == "cross":
            return self.leads(self.v["cell"], int(rest)) and self.passable(int(rest))
        if kind == "exit":
            return self.v[name] == 1 and self.cells[self.v["cell"]][3] == rest
        if kind == "struck":
            return self.can_strike(rest.split("/")[0])
        if kind in ("start", "decline", "give up"):
            q, open_now = self.quests[rest], self.v[f"status:{rest}"] == OFFERED
            lets = {"start": True, "decline": q.decline != "no", "give up": q.give_up != "no"}[kind]
            return lets and not self.v["talk"] and (self.active(rest) if kind == "give up" else open_now)
        if kind == "cooled":
            return self.v[f"cooling:{rest}"] == 1
        if kind == "limit":
            return self.v[name] == 1
        if kind == "end":
            return self.v["ending"] == int(rest)
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
            return self.v[f"waits:{path}"] == int(number) and not (motion and self.v.get(f"moving:{motion}"))
        return self.talk_open(kind, rest)

    def talk_open(self, kind, rest):
        key = rest.split("/")[0]
        talk, line = next((t, m) for t in self.p.conversations for m in t.lines if m.key == key)
        if self.v["talk"] != self.speeches.index((talk.key, key)) + 1:
            return False
        place = f"conversation/{talk.key}/line/{key}/reply"
        replies = {
            r.key: self.all_hold(read_needs(r.needs), self.speaking(talk), f"{place}/{r.key}/needs")
            and not (r.repeat == "once" and self.v[f"chosen:{self.talk_place()}/{key}/{r.key}"])
            for r in line.replies
        }
        if kind == "reply":
            return replies[rest.split("/")[1]]
        return not any(replies.values())

    def act(self, name, attempt=False):
        """One action where it stands open, or where it can be tried; then settle. What was said is in `said`."""
        before, self.said, self.faulted = dict(self.v), [], False
        kind, _, rest = name.partition(":")
        tried = attempt and (
            self.offers(rest.split("/")[0], rest.split("/")[1], kind == "held")
            if kind != "struck"
            else self.aimed(rest)
        )
        if tried or self.is_open(name):
            {"used": self.use, "held": self.use, "struck": self.strike}.get(kind, self.other)(kind, rest)
        self.settle(before, dict(self.v) if kind in ("cross", "exit") else None)

    def turn(self, name):
        """A sensed column that somebody listens to turns round; then settle."""
        before, self.said, self.faulted = dict(self.v), [], False
        self.put(name, 1 - self.v[name])
        sensed = self.v[name]
        self.settle({**before, name: sensed})

    def struck_cues(self, key):
        return [c for c in self.cues[key] if c[1].moment.verb == "struck"]

    def aimed(self, rest):
        key = rest.split("/")[0]
        d = self.objects[key][1]
        free = not (d.motion.while_moving == "ignored" and self.v.get(f"moving:{key}")) and not self.v.get(
            f"cooling:{key}"
        )
        free = free and self.v.get(f"uses:{key}", 1) and not self.v.get(f"down:{key}") and self.v[f"exists:{key}"]
        return bool(free and self.v[f"aimed_at:{key}/leap"] and not self.v["talk"] and self.can("leap"))

    def can_strike(self, key):
        return self.aimed(key) and any(self.all_hold(c.tops, key, p) for p, c in self.struck_cues(key))

    def strike(self, kind, rest):
        key = rest.split("/")[0]
        if self.read(self.struck_cues(key), key, True):
            self.after_use(key)
            if self.v.get("ability_uses:leap"):
                self.put("ability_uses:leap", self.v["ability_uses:leap"] - 1)
                if not self.v["ability_uses:leap"]:
                    self.put("ability:leap", 0)

    def use(self, kind, rest):
        key, control = rest.split("/")
        d, moves = self.objects[key][1], self.v.get(f"moving:{key}")
        if moves and d.motion.while_moving == "turned_back":
            self.turn_back(key)
        elif moves and d.motion.while_moving == "queued":
            self.put(f"queued:{key}", ["use", "second"].index(control) + 1)
        elif self.read(self.use_cues(key, control, kind), key, True):
            self.after_use(key)

    def after_use(self, key):
        d = self.objects[key][1]
        if d.uses:
            self.put(f"uses:{key}", max(self.v[f"uses:{key}"] - 1, 0))
        if d.cool_down_s:
            self.put(f"cooling:{key}", 1)
        self.tally("used", key)

    def turn_back(self, key):
        try:
            self.to_state(key, self.v[f"moving:{key}"] - 1)
        except RefusedSegment as refused:
            self.said.append(("refused", refused.args[0]))

    def arrive(self, key):
        self.put(f"moving:{key}", 0)
        queued = self.v.get(f"queued:{key}")
        if queued:
            control = ["use", "second"][queued - 1]
            for verb in ("used", "held"):
                if self.use_cues(key, control, verb):
                    self.flag(f"{verb}:{key}/{control}")
            self.put(f"queued:{key}", 0)

    def laters(self, key):
        """The steps that let one thing come later, in the order of the texts."""
        owner = key.partition("/")[0]
        return [step for step in self.all_laters(owner) if self.key_of(step, owner) == key]

    def all_laters(self, owner):
        """The steps by which an owner lets something come later, by name and then in the order of the texts."""
        found = [m for this, nodes in self.texts() for m in nodes if this == owner and isinstance(m, n.Later)]
        named = self.awaited(owner)
        return sorted(dict.fromkeys(found), key=lambda step: named.index(self.key_of(step, owner)))

    def other(self, kind, rest):
        if kind in ("come_near", "go_away"):
            self.put(f"near:{rest}", int(kind == "come_near"))
        elif kind == "cross":
            self.put("cell", int(rest))
            for key in self.zones:
                if self.by_cell(key):
                    self.pair(key)
        elif kind == "exit":
            self.leap(f"exit:{rest}")
        elif kind == "arrive":
            self.arrive(rest)
        elif kind == "cooled":
            self.put(f"cooling:{rest}", 0)
        elif kind in ("start", "decline", "give up"):
            self.quest_step(kind, rest, False)
        elif kind == "limit":
            q, _, o = self._objective(rest)
            self.put(f"limit:{rest}", 2) if o.optional else self.fail(q)
        elif kind == "end":
            self.put("ending", 0)
            if not self.v["ended"]:
                self.put("ended", 1 if dict(self.endings())[int(rest)].outcome == "won" else 2)
        elif kind == "rise":
            self.put(f"down:{rest}", 0)
            self.after_change(rest)
        elif kind == "deliver":
            self.put(f"later:{rest.rpartition('/')[0]}", 0)
            self.happen("later", rest.rpartition("/")[0])
        elif kind == "resume":
            path, number = rest.rsplit("/", 1)
            key, place = path.split("/", 1)
            self.segment(key, place, dict(self.cues[key])[place], int(number))
        elif kind == "reply":
            self.reply(*rest.split("/"))
        elif kind == "voice":
            talk, line = next((t, m) for t in self.p.conversations for m in t.lines if m.key == rest)
            self.onward(talk.key, "" if line.replies else line.then)

    def onward(self, talk, then):
        if then:
            self.begin(talk, then)
        else:
            self.put("talk", 0)
            self.put("talk_at", 0)

    def reply(self, key, number):
        talk, line = next((t, m) for t in self.p.conversations for m in t.lines if m.key == key)
        reply = next(r for r in line.replies if r.key == number)
        if self.say(read_steps(reply.steps), self.speaking(talk)):
            column = f"chosen:{self.talk_place()}/{key}/{number}"
            if column in self.v:
                turns, often = len(reply.wordings), self.v[column]
                most = 1 if reply.repeat == "once" else turns - 1 if reply.last_stays else turns
                self.put(column, often + 1 if often < most else 1 if most == turns > 1 else most)
            if reply.then != "stays_here":
                self.onward(talk.key, reply.then)
