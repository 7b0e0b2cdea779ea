"""Writing talk straight through: lines that follow, openers in their place, lines that move."""

from __future__ import annotations

from tests.server.test_api import OnTheDemo


class Screenplay(OnTheDemo):
    def setUp(self):
        super().setUp()
        self.talk = self.edit({"do": "add", "type": "conversation", "values": {"name": "Gate talk"}})["rows"][0]["id"]

    def line(self, words, **more):
        values = {"wordings": [words], **more.pop("values", {})}
        return self.edit({"do": "add", "type": "line", "owner": self.talk, "values": values, **more})

    def lines(self, talk=None):
        rows = [r for r in self.rows() if r["type"] == "line" and r["owner"] == (talk or self.talk)]
        return [r["key"] for r in sorted(rows, key=lambda r: (r["order"], r["id"]))]

    def test_a_line_that_follows_is_led_to_in_the_same_edit_and_undone_with_it(self):
        first = self.line("Hello.")["rows"][0]
        done = self.line("Who are you?", then_of=first["id"])
        self.assertEqual(
            {r["key"]: r["values"]["then"] for r in done["rows"]}, {"hello": "who_are_you", "who_are_you": ""}
        )
        self.line("Another.", then_of=first["id"])
        self.assertEqual(self.row("hello")["values"]["then"], "who_are_you")
        reply = self.edit({"do": "add", "type": "reply", "owner": first["id"], "values": {"wordings": ["Me."]}})[
            "rows"
        ][0]
        self.line("You!", then_of=reply["id"])
        self.assertEqual(self.by_id(reply["id"])["values"]["then"], "you")
        for _ in range(3):
            self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(self.by_id(first["id"])["values"]["then"], "who_are_you")

    def by_id(self, number):
        return next(r for r in self.rows() if r["id"] == number)

    def test_a_new_opener_stands_above_the_first_that_always_fits(self):
        opener = {"values": {"opener": True}}
        self.line("Anything else?", **opener)
        self.line("Once.", values={"opener": True, "repeat": "once"})
        self.line("Wet?", **opener)
        self.line("Not an opener.")
        self.assertEqual(self.lines(), ["once", "wet", "anything_else", "not_an_opener"])

    def test_the_page_says_which_opener_always_fits(self):
        self.assertEqual(self.client.get(f"{self.base}/records/{self.talk}/page").json()["always"], "")
        for order, (words, more) in enumerate((("Once.", {"repeat": "once"}), ("Always.", {}), ("Nor this.", {})), 1):
            self.line(words, order=float(order), values={"opener": True, **more})
        self.assertEqual(self.client.get(f"{self.base}/records/{self.talk}/page").json()["always"], "always")

    def test_a_line_is_moved_to_another_conversation_with_its_replies_and_back_by_undo(self):
        first = self.line("Hello.")["rows"][0]
        self.edit({"do": "add", "type": "reply", "owner": first["id"], "values": {"wordings": ["Me."]}})
        other = self.row("odile_talk")["id"]
        done = self.edit({"do": "move", "id": first["id"], "owner": other})
        self.assertEqual(done["undo"], "Moved line “Hello.” to Odile Marr")
        self.assertEqual((self.lines(), self.lines(other)[-1]), ([], "hello"))
        reply = next(r for r in self.rows() if r["type"] == "reply" and r["owner"] == first["id"])
        self.assertEqual(reply["values"]["wordings"], ["Me."])
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(self.lines(), ["hello"])

    def test_what_ends_a_level_follows_names_and_becomes_a_hole_where_it_is_deleted(self):
        self.edit({"do": "set", "id": self.row("night_bloom", "quest")["id"], "key": "night_flower"})
        self.assertEqual(self.row("glasshouse")["values"]["endings"][0]["when"], ["night_flower", "dry_feet"])
        self.edit({"do": "remove", "id": self.row("night_flower", "quest")["id"]}, expect=409)
        self.edit({"do": "remove", "id": self.row("night_flower", "quest")["id"], "clean": True})
        self.assertEqual(self.row("glasshouse")["values"]["endings"][0]["when"], ["?", "dry_feet"])
        level = self.row("glasshouse")["id"]
        wrong = [{"outcome": "won", "when": ["nobody"], "after_s": 0}]
        refused = self.edit({"do": "set", "id": level, "values": {"endings": wrong}}, expect=422)
        self.assertEqual(self.codes(refused), ["name_unknown"])

    def test_what_cannot_be_moved_there_is_refused_with_what_can(self):
        first = self.line("Hello.")["rows"][0]
        for record, owner in ((first["id"], self.row("dry_feet")["id"]), (self.row("yard_bell")["id"], self.talk)):
            refused = self.edit({"do": "move", "id": record, "owner": owner}, expect=422)
            self.assertEqual(self.codes(refused), ["wrong_owner"])
        self.edit({"do": "move", "id": first["id"], "owner": 999_999}, expect=404)
