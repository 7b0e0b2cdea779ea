"""Bringing a system down keeps every answer, and with costs every shortest way; diagrams find what one-by-one finds."""

from __future__ import annotations

import heapq
import random
import unittest
from dataclasses import replace
from functools import reduce
from itertools import product
from math import prod

from vocanta.core.project.noting import unnoted
from vocanta.core.proof.answering import Answers, Reached, answered, each_answered, plainly_answered
from vocanta.core.proof.any_way import AnyWay
from vocanta.core.proof.confining import Confining
from vocanta.core.proof.diagrams import EMPTY, Diagrams, Going, TooLarge
from vocanta.core.proof.minimising import minimised
from vocanta.core.proof.packed import explored
from vocanta.core.proof.relaxed import Relaxed
from vocanta.core.proof.resting import Walks
from vocanta.core.proof.settling import Settling
from vocanta.core.proof.system import Letting, Move, Question, Situation, System

NO_TRAP, UNSURE = Answers("undecided", "never", "never"), Answers("undecided", "undecided", "never")


def drawn(seed: int) -> System:
    """A small system in which much depends on chance; what is asked is of two columns."""
    r = random.Random(seed)
    columns = r.randint(3, 7)
    sizes = tuple(r.randint(2, 4) for _ in range(columns))
    moves = []
    for _ in range(r.randint(4, 14)):
        touched = r.sample(range(columns), r.randint(1, 3))
        when = tuple(sorted((c, r.randint(1, (1 << sizes[c]) - 1)) for c in touched if r.random() < 0.8))
        changed = r.sample(touched, r.randint(1, len(touched)))
        then = tuple(sorted((c, tuple(r.randrange(sizes[c]) for _ in range(sizes[c]))) for c in changed))
        moves.append(Move(when, then, 1 << r.randrange(2) if r.random() < 0.15 else 0, r.randint(0, 1)))
    questions = []
    for event in range(2):
        column = r.randrange(columns)
        active = r.randint(1, (1 << sizes[column]) - 1)
        questions.append(Question(f"q{event}", event, column, active, ((1 << sizes[column]) - 1) & ~active))
    return System(tuple(map(str, range(columns))), sizes, (0,) * columns, tuple(moves), tuple(questions))


def across_words(system: System) -> System:
    """The same with wide columns between its own, so that it takes several words."""
    count = len(system.sizes)
    at = {n: 2 * n + 1 for n in range(count)}
    wide = 1 << 40
    sizes = tuple(wide if n % 2 == 0 else system.sizes[n // 2] for n in range(2 * count))
    first = tuple(wide - 1 if n % 2 == 0 else system.first[n // 2] for n in range(2 * count))
    moves = tuple(
        replace(m, when=tuple((at[c], a) for c, a in m.when), then=tuple((at[c], t) for c, t in m.then))
        for m in system.moves
    )
    questions = tuple(replace(q, column=at[q.column]) for q in system.questions)
    return System(tuple(map(str, range(2 * count))), sizes, first, moves, questions)


def shortest(system: System, column: int, mask: int) -> int | None:
    """How few paid moves lead to some values of a column, gone through one by one."""
    least, waiting = {system.first: 0}, [(0, system.first)]
    while waiting:
        cost, here = heapq.heappop(waiting)
        if mask >> here[column] & 1:
            return cost
        for move in system.moves:
            if move.holds(here):
                to, price = move.after(here), cost + move.cost
                if price < least.get(to, price + 1):
                    least[to] = price
                    heapq.heappush(waiting, (price, to))
    return None


def onward(system: System, of: set[Situation]) -> set[Situation]:
    """What any move that changes something leads to from some situations, one by one."""
    return {move.after(here) for here in of for move in system.moves if move.then and move.holds(here)}


class OneStepAndAll(unittest.TestCase):
    def test_what_can_be_done_is_found_for_all_moves_at_once(self):
        for seed in range(20):
            system = drawn(seed)
            letting = Letting(system.sizes, system.moves)
            for at in product(*map(range, system.sizes)):
                can = [n for n, move in enumerate(system.moves) if move.holds(at)]
                self.assertEqual(list(letting.at(at)), can, (seed, at))

    def test_what_steps_lead_to_once_and_again_and_again_within_a_set_is_what_they_lead_to_one_by_one(self):
        for seed in range(200):
            system, r = drawn(seed), random.Random(seed)
            if prod(system.sizes) > 150:
                continue
            every = list(product(*map(range, system.sizes)))
            start, inside = {s for s in every if r.random() < 0.1}, {s for s in every if r.random() < 0.7}
            start &= inside
            d = Diagrams(system.sizes, r.sample(range(len(system.sizes)), len(system.sizes)), 100_000)

            def drawn_set(several: set[Situation], d: Diagrams = d) -> int:
                return reduce(d.union, map(d.one, several), EMPTY)

            going = Going(d, (step for move in system.moves if (step := d.forth(move)) is not None))
            self.assertEqual(going.once(drawn_set(start)), drawn_set(onward(system, start)), seed)
            within = drawn_set(inside)
            self.assertEqual(going.once(drawn_set(start), within), drawn_set(onward(system, start) & inside), seed)
            come = set(start)
            while new := (onward(system, come) & inside) - come:
                come |= new
            self.assertEqual(going.closed(drawn_set(start), within), drawn_set(come), seed)


class ManyAtATime(unittest.TestCase):
    def test_a_board_of_dials_is_gone_through_whole_in_one_word_and_in_several(self):
        """Seven dials of five marks, each turned by itself: 5 to the 7th situations, none left behind."""
        turns = tuple(Move((), ((c, tuple((v + 1) % 5 for v in range(5))),)) for c in range(7))
        ends = Move(((0, 0b10000), (6, 0b10000)), (), 1)
        asked = Question("both", 0, 0, 0b11111, 0)
        dials = System(tuple("abcdefg"), (5,) * 7, (0,) * 7, (*turns, ends), (asked,))
        for system, words in ((dials, 1), (across_words(dials), 7)):
            every = explored(system)
            self.assertEqual((every.count, every.packing.words), (5**7, words))
            self.assertEqual(len({tuple(row) for row in every.rows.T.tolist()}), 5**7)
            self.assertTrue(every.can(asked))
            self.assertEqual(len(every.sources[0]), 5**5)
            self.assertFalse(every.left_behind(asked).any())
        self.assertRaises(TooLarge, explored, dials, 5**7 - 1)


class OneByOneAndBroughtDown(unittest.TestCase):
    def test_the_answers_are_the_same_however_they_are_found(self):
        seen = set()
        for seed in range(200):
            system = drawn(seed)
            plain = plainly_answered(system)
            with self.subTest(seed):
                self.assertEqual(answered(system), plain)
                self.assertEqual(answered(minimised(system).system), plain)
                self.assertEqual(answered(minimised(system, costs=True).system), plain)
                self.assertEqual(answered(system, how="packed"), plain)
                self.assertEqual(answered(across_words(system), how="packed"), plain)
            seen.update(plain.values())
        self.assertGreaterEqual(len(seen), 6, "hardly anything was told apart")

    def test_what_is_too_much_together_is_asked_alone_and_never_guessed(self):
        decided = 0
        for seed in range(60):
            system = drawn(seed)
            plain = plainly_answered(system)
            for key, answers in answered(system, most=60).items():
                for what in ("can", "stuck", "lost"):
                    told = getattr(answers, what)
                    self.assertIn(told, (getattr(plain[key], what), "undecided"), seed)
                    decided += told != "undecided"
        self.assertGreater(decided, 60)

    def test_what_is_too_much_together_has_no_answer_where_it_is_not_to_be_asked_alone(self):
        answers, questions = 0, 0
        for seed in range(60):
            system = drawn(seed)
            plain = plainly_answered(system)
            found = dict(each_answered(system, 60, unnoted, alone=False))
            self.assertEqual(found, {key: plain[key] for key in found}, seed)
            answers, questions = answers + len(found), questions + len(system.questions)
        self.assertTrue(20 < answers < questions, (answers, questions))

    def test_with_costs_the_shortest_way_stays_as_long(self):
        for seed in range(80):
            system = drawn(seed)
            asked = system.questions[0]
            plain = shortest(system, asked.column, asked.out)
            small = minimised(system, costs=True).system
            its = small.questions[0]
            with self.subTest(seed):
                self.assertEqual(shortest(small, its.column, its.out) if its.out else None, plain)
                reached = Reached(small)
                layers = reached.layers(reached.d.box({its.column: its.out})) if its.out else []
                self.assertEqual(len(layers) - 1 if layers else None, plain)

    def test_every_situation_of_the_first_system_has_one_in_the_small(self):
        for seed in range(30):
            system = drawn(seed)
            small = minimised(system)
            reached = Reached(small.system)
            seen, waiting = {system.first}, [system.first]
            while waiting:
                here = waiting.pop()
                became = small.of(here)
                self.assertIsNotNone(became, seed)
                self.assertTrue(reached.d.has(reached.all, became), seed)
                for move in system.moves:
                    if move.holds(here) and (to := move.after(here)) not in seen:
                        seen.add(to)
                        waiting.append(to)

    def test_a_ring_that_nobody_asks_for_comes_down_to_one_value(self):
        turn = Move((), ((0, (1, 2, 3, 0)),))
        win = Move(((1, 0b01),), ((1, (1, 1)),), events=1)
        ring = System(("ring", "won"), (4, 2), (0, 0), (turn, win), (Question("q", 0, 1, 0b01, 0b10),))
        self.assertEqual(minimised(ring).system.sizes, (1, 2))

    def test_what_leads_nowhere_but_can_be_asked_stays_apart(self):
        lose = Move(((0, 0b01),), ((0, (1, 1)),))
        win = Move(((0, 0b01), (1, 0b01)), ((1, (1, 1)),), events=1)
        trap = System(("trap", "won"), (2, 2), (0, 0), (lose, win), (Question("q", 0, 1, 0b01, 0b10),))
        self.assertEqual(answered(minimised(trap).system)["q"], plainly_answered(trap)["q"])
        self.assertEqual(plainly_answered(trap)["q"].stuck, "yes")


class Cheaply(unittest.TestCase):
    def test_whatever_is_settled_by_walks_and_a_few_columns_is_so(self):
        told = {"yes": 0, "never": 0, "undecided": 0}
        for seed in range(60):
            system = drawn(seed)
            plain = plainly_answered(system)
            settling = Settling(system, minimised(system).system)
            found = dict(settling.easily())
            left = [key for key, answers in found.items() if not answers.whole]
            for key, answers in {
                **found,
                **dict(settling.walked(left, "longer")),
                **dict(settling.walked(left, "longest")),
            }.items():
                for what in ("can", "stuck", "lost"):
                    answer = getattr(answers, what)
                    told[answer] += 1
                    with self.subTest(seed=seed, key=key, what=what):
                        self.assertIn(answer, (getattr(plain[key], what), "undecided"))
        self.assertLess(told["undecided"], 0.06 * sum(told.values()))
        self.assertGreater(min(told["yes"], told["never"]), 100)

    def test_what_cannot_happen_relaxed_never_can_and_where_something_can_there_is_a_way(self):
        closed = 0
        for seed in range(120):
            system = drawn(seed)
            relaxed, plain = Relaxed(system), plainly_answered(system)
            for question in system.questions:
                way = relaxed.way(system.first, question.event)
                possible = bool(relaxed.events(system.first) >> question.event & 1)
                self.assertEqual(bool(way), possible, seed)
                self.assertTrue(possible or plain[question.key].can == "never", seed)
                closed += not possible
                if way:
                    self.assertTrue(way[0].holds(system.first), seed)
                    self.assertTrue(way[-1].events >> question.event & 1, seed)
        self.assertGreater(closed, 30)

    def test_a_key_that_comes_back_shows_without_the_rest_that_nobody_is_stuck(self):
        """The door takes the key; the hook gives it again. What else is about (ten columns) need not be looked at."""
        take = Move(((0, 0b01),), ((0, (1, 1)),))
        unlock = Move(((0, 0b10), (1, 0b01)), ((0, (0, 0)), (1, (1, 1))), 1)
        lose = Move(((0, 0b10), (2, 0b10)), ((0, (0, 0)),))
        beside = [Move((), ((c, tuple((v + 1) % 3 for v in range(3))),)) for c in range(2, 12)]
        key = System(tuple(map(str, range(12))), (2, 2, *(3,) * 10), (0,) * 12, (take, unlock, lose, *beside))
        question = Question("q", 0, 1, 0b01, 0)
        self.assertEqual(Confining(replace(key, questions=(question,))).answers(question), NO_TRAP)
        # With a hook that gives but once the few columns show nothing any more: the key may be lost.
        once = Move(((0, 0b01), (12, 0b01)), ((0, (1, 1)), (12, (1, 1))))
        trap = System((*key.names, "hook"), (*key.sizes, 2), (*key.first, 0), (once, unlock, lose, *beside))
        self.assertEqual(Confining(replace(trap, questions=(question,))).answers(question), UNSURE)
        walks = Walks(replace(trap, questions=(question,)))
        list(walks.without(20, question))
        self.assertEqual(list(walks.seen.stuck), ["q"])
        # The key is taken, what loses it is turned once, it is lost: nothing else is left of the walk.
        moves = AnyWay(replace(trap, questions=(question,)), question).moves("stuck")
        self.assertCountEqual([once, beside[0], lose], moves)
        self.assertEqual(moves[-1], lose)

    def test_a_way_to_where_it_is_given_up_is_found_though_that_hangs_on_much(self):
        """Twelve bolts are to be turned, one after another, before the quest can be declined: no walk gets that far by luck."""
        free = [Move(((1, 1 << n),), ((1, tuple(v + (v == n) for v in range(13))),)) for n in range(12)]
        back = Move((), ((1, (0,) * 13),))
        win = Move(((0, 0b001),), ((0, (1, 1, 2)),), 1)
        decline = Move(((0, 0b001), (1, 1 << 12)), ((0, (2, 1, 2)),))
        question = Question("q", 0, 0, 0b001, 0b100)
        system = System(("quest", "bolts"), (3, 13), (0, 0), (win, *[back] * 20, *free, decline), (question,))
        self.assertEqual(plainly_answered(system)["q"].lost, "yes")
        self.assertEqual(AnyWay(system, question).moves("lost"), [*free, decline])

    def test_luck_is_no_way_out(self):
        """Whoever needs another column to hold something may never see it so: that is no proof of never being stuck."""
        win = Move(((0, 0b01), (1, 0b10)), ((0, (1, 1)),), 1)
        spoil = Move(((1, 0b01),), ((1, (2, 2, 2)),))
        help_ = Move(((1, 0b01),), ((1, (1, 1, 2)),))
        question = Question("q", 0, 0, 0b01, 0)
        system = System(("quest", "other"), (2, 3), (0, 0), (win, spoil, help_), (question,))
        self.assertEqual(Confining(system).answers(question).stuck, "undecided")
        self.assertEqual(plainly_answered(system)["q"].stuck, "yes")


class Sets(unittest.TestCase):
    def setUp(self):
        self.d = Diagrams((3, 2), (0, 1), most=10_000)
        self.low, self.high = self.d.box({0: 0b011}), self.d.box({0: 0b110})

    def test_union_meet_and_less_count_as_by_hand(self):
        d = self.d
        self.assertEqual([d.size(n) for n in (self.low, self.high)], [4, 4])
        self.assertEqual(d.size(d.union(self.low, self.high)), 6)
        self.assertEqual(d.size(d.meet(self.low, self.high)), 2)
        self.assertEqual(d.size(d.less(self.low, self.high)), 2)
        self.assertEqual(d.union(self.low, d.meet(self.low, self.high)), self.low)
        self.assertEqual(d.any(d.less(self.low, self.high)), (0, 0))

    def test_too_many_nodes_are_told(self):
        wide = Diagrams((2,) * 16, tuple(range(16)), most=5_000)
        with self.assertRaises(TooLarge):
            for n in range(2_000):
                wide.one(tuple(n * 31 >> k & 1 for k in range(16)))


if __name__ == "__main__":
    unittest.main()
