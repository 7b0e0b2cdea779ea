"""The project in memory keeps in step with its edits, and those who listen hear of each of them once and in order."""

from __future__ import annotations

import asyncio
import json

from tests.server.test_api import OnTheDemo
from vocanta.server import listing, models, programs, store
from vocanta.server.events import BOARD, Board, key_of
from vocanta.server.programs import compiled_project
from vocanta.server.refusals import Refused
from vocanta.server.shapes import EventShape


def told(number, tab="a", *changed):
    return EventShape(number, tab, list(changed), [], False)


class InStep(OnTheDemo):
    def held(self, ask):
        """After an edit the project in memory is the one that is stored."""
        with self.captureOnCommitCallbacks(execute=True):
            ask()
        project = models.Project.objects.get(pk=self.demo_id)
        here = compiled_project(project)
        self.assertEqual((here.edit_number, here.core), (project.edit_number, store.core_project(project)))

    def test_a_project_that_was_deleted_while_it_was_asked_for_is_not_there(self):
        project = models.Project.objects.get(pk=self.demo_id)
        models.Project.objects.filter(pk=self.demo_id).delete()
        programs.forget()
        with self.assertRaises(Refused) as refused:
            compiled_project(project)
        self.assertEqual(refused.exception.status, 404)

    def test_after_every_sort_of_edit_and_its_undoing_it_is_what_is_stored(self):
        bell, level = self.row("yard_bell"), self.row("glasshouse")
        self.held(lambda: None)
        add = {"do": "add", "type": "level", "values": {"name": "Loft"}}
        outline = [[0, 0], [4, 0], [4, 4], [0, 4]]
        area = {"do": "add", "type": "area", "under": 0, "values": {"name": "Straw", "outline": outline}}
        for change in (
            [{"do": "set", "id": bell["id"], "values": {"x_m": 3.0}}],
            [
                {
                    "do": "add",
                    "type": "cue",
                    "owner": bell["id"],
                    "values": {"text": "when used\nthen\n  give copper_key"},
                }
            ],
            [add, area],
            [{"do": "set", "id": self.row("dry_feet")["id"], "key": "wet_feet"}],
            [{"do": "set", "id": bell["id"], "order": 9_999.0}],
            [{"do": "remove", "id": level["id"], "clean": True}],
        ):
            self.held(lambda change=change: self.edit(*change))
        for word in ["undo"] * 6 + ["redo"] * 6:
            self.held(lambda word=word: self.send("post", f"/{word}", {"tab": "a"}))

    def test_only_what_changed_is_built_anew(self):
        here = compiled_project(models.Project.objects.get(pk=self.demo_id)).core
        with self.captureOnCommitCallbacks(execute=True):
            self.set("yard_bell", x_m=3.0)
        after = compiled_project(models.Project.objects.get(pk=self.demo_id)).core
        self.assertIs(after.quests[0], here.quests[0])
        self.assertIs(after.levels[1], here.levels[1])
        self.assertIsNot(after.levels[0], here.levels[0])

    def test_an_edit_is_told_with_its_number_its_tab_and_what_it_touched(self):
        item = self.row("copper_key")["id"]
        with self.captureOnCommitCallbacks(execute=True):
            self.edit({"do": "set", "id": item, "values": {"description": "Green."}}, tab="b")
        key = key_of(models.Project.objects.get(pk=self.demo_id))
        self.assertEqual(BOARD.since(key, 1, 2), [told(2, "b", item)])

    def test_a_stream_is_open_to_this_page_and_not_kept(self):
        answer = self.client.get(self.base + "/events?after=1", headers={"Accept": "text/event-stream"})
        self.assertEqual((answer["Content-Type"], answer["Cache-Control"]), ("text/event-stream", "no-store"))
        self.assertEqual(self.client.get("/api/projects/999/events").status_code, 404)

    def test_a_copy_is_the_same_project_under_another_name(self):
        made = listing.copied(self.demo_id)
        was, now = (store.core_project(p) for p in (models.Project.objects.get(pk=self.demo_id), made))
        self.assertEqual(now.name, f"{was.name} (copy)")
        self.assertEqual((now.levels, now.kinds, now.quests), (was.levels, was.kinds, was.quests))

        def of(p):
            return sorted(models.Reference.objects.filter(record__project=p).values_list("field", "name", "start"))

        self.assertEqual(of(made), of(self.demo_id))


class Told(OnTheDemo):
    def heard(self, board, known, now, count):
        """The first so many events that somebody hears who knows an edit number."""

        async def listen():
            found = []
            async for line in board.listen("p", known, now):
                if line.startswith("id"):
                    found.append(json.loads(line.split("data: ")[1]))
                if len(found) == count:
                    return found

        return [(e["edit_number"], e["all"]) for e in asyncio.run(listen())]

    def test_whoever_was_away_hears_what_was_missed_or_to_read_all_again(self):
        board = Board()
        for number in (2, 3, 4):
            board.post("p", told(number))
        self.assertEqual(self.heard(board, 2, 4, 2), [(3, False), (4, False)])
        self.assertEqual(self.heard(board, 0, 4, 1), [(4, True)])
        self.assertEqual(self.heard(board, 4, 7, 1), [(7, True)])
        self.assertEqual(self.heard(Board(), 4, 5, 1), [(5, True)])

    def test_everybody_is_let_go_when_the_server_ends(self):
        async def listen(board):
            lines = board.listen("p", 1, 1)
            self.assertEqual(await anext(lines), ": open\n\n")
            board.close()
            self.assertEqual([line async for line in lines], [])

        asyncio.run(asyncio.wait_for(listen(Board()), 10))
