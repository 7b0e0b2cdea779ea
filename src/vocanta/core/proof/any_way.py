"""A way to something that is so where the shortest one is too much to find: one that was come upon, without what it can do
without."""

from __future__ import annotations

import heapq
from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from .relaxed import Relaxed
from .resting import Walks
from .system import Move, Question, Situation, System, values_in

Aim = Literal["can", "stuck", "lost"]
SITUATIONS, WALKS = 4_000, 100
"""So many situations are looked at for an event, and so many walks made to be left without it."""


class AnyWay:
    """Ways of one system to one event, or to where it is left behind."""

    def __init__(self, system: System, question: Question):
        self._system, self._question = system, question
        self._relaxed, self._walks = Relaxed(system), Walks(system)

    def moves(self, what: Aim) -> Sequence[Move]:
        """The moves of a way; none where none was come upon."""
        walks, key = self._walks, self._question.key
        seen = {"can": walks.seen.can, "stuck": walks.seen.stuck, "lost": walks.seen.lost}[what]
        if what == "can":
            walks.toward(self._question, SITUATIONS)
        elif what == "lost" and (found := self._given_up()):
            return found
        else:
            for _ in walks.without(WALKS, self._question):
                if key in seen:
                    break
        return self._short(list(seen[key]), what) if key in seen else ()

    def is_there(self, at: Situation, what: Aim) -> bool:
        """Whether the event is left behind for sure in a situation, awaited or given up."""
        question = self._question
        mask = question.active if what == "stuck" else question.out
        return bool(mask >> at[question.column] & 1) and not self._relaxed.events(at) >> question.event & 1

    def _given_up(self) -> Sequence[Move]:
        """A way on which it is given up and then left behind, sought by giving up as an event of its own; none is none."""
        question, moves = self._question, self._system.moves
        column = question.column
        event = max(question.event + 1, *(move.events.bit_length() for move in moves))
        gives: dict[Move, Move] = {}
        for move in moves:
            when, table = dict(move.when), dict(move.then).get(column, ())
            asked_of = values_in(when.get(column, (1 << len(table)) - 1)) if table else ()
            when[column] = sum(1 << v for v in asked_of if question.out >> table[v] & ~question.out >> v & 1)
            if when[column]:
                gives[Move(tuple(sorted(when.items())), move.then, move.events | 1 << event, move.cost, move.clock)] = (
                    move
                )
        asked = replace(question, event=event)
        walks = Walks(replace(self._system, moves=(*gives, *moves), questions=(asked,)))
        walks.toward(asked, SITUATIONS)
        way = [gives.get(move, move) for move in walks.seen.can.get(question.key, ())]
        return self._short(way, "lost") if self._led(way, "lost") else ()

    def _short(self, moves: list[Move], what: Aim) -> Sequence[Move]:
        moves = self._shortened(moves, what)
        return self._among(moves, what) or moves

    def _shortened(self, moves: list[Move], what: Aim) -> list[Move]:
        """The same without whatever it can do without: first many moves at once, then ever fewer."""
        moves = self._led(moves, what) or moves
        many = len(moves) // 2
        while many:
            at = 0
            while at < len(moves):
                fewer = self._led(moves[:at] + moves[at + many :], what)
                if fewer is None:
                    at += many
                else:
                    moves = fewer
            many //= 2
        return moves

    def _among(self, moves: Sequence[Move], what: Aim) -> list[Move] | None:
        """The way of fewest things to do, and then fewest moves, of these moves alone; None where that takes many situations."""
        first, used = self._system.first, list(dict.fromkeys(moves))
        queue: list[tuple[int, int, int, Situation, list[Move]]] = [(0, 0, 0, first, [])]
        done = set[Situation]()
        pushed = 0
        while queue and len(done) < SITUATIONS:
            cost, many, _, at, way = heapq.heappop(queue)
            if at in done:
                continue
            if self._came(way, at, what):
                return way
            done.add(at)
            for move in used:
                if move.holds(at) and (what == "can" or not self._brings(move)):
                    pushed += 1
                    heapq.heappush(queue, (cost + move.cost, many + 1, pushed, move.after(at), [*way, move]))
        return None

    def _came(self, way: Sequence[Move], at: Situation, what: Aim) -> bool:
        if what == "can":
            return bool(way) and self._brings(way[-1])
        return self.is_there(at, what)

    def _brings(self, move: Move) -> bool:
        return bool(move.events >> self._question.event & 1)

    def _led(self, moves: Sequence[Move], what: Aim) -> list[Move] | None:
        """Those of some moves that can be done one after another, as far as where they lead; None where they do not."""
        at, done = self._system.first, list[Move]()
        for move in moves:
            if not move.holds(at):
                continue
            to = move.after(at)
            if self._brings(move):
                if what == "can":
                    return [*done, move]
                return None
            if to != at:
                done.append(move)
                at = to
                if what != "can" and self.is_there(at, what):
                    return done
        return None
