"""The Proof place: proved and stopped, a dead end read, watched, begun at its end, mended by a way out, proved again, undone."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven
from tests.core.proof import puzzles
from vocanta.server import listing, models, store
from vocanta.server.proofs import PROVING


class OnTheProof(Driven):
    patience_s = 300
    """A proof gives way to all else that runs on the machine."""

    def tearDown(self):
        PROVING.close()
        super().tearDown()

    def status(self, words):
        self.see(".proof .status", words)

    def verdict(self, key, words):
        self.see(f'.verdict[data-key="{key}"]', words)


class OneKeyForTwoDoors(OnTheProof):
    """It can be done in three, and one can get stuck after two."""

    def setUp(self):
        self.project = store.save_project(puzzles.one_key_for_two()).pk

    def prove(self, says="prove again"):
        self.click(".proof header .link", says)
        self.status("edit")
        self.see(".proof header .link", "prove again")

    def test_a_dead_end_is_read_watched_begun_at_mended_proved_again_and_undone(self):
        self.open_place("proof")
        self.status("not proved yet")
        self.prove("prove now")
        self.verdict("errand/can", "yes")
        self.verdict("errand/lost", "never")
        self.see('[data-quest="errand"] .far', "3 actions, ")
        self.click('.verdict[data-key="errand/stuck"]', "yes")
        self.see_address("proof/errand.stuck")
        self.see("article h1", "Two actions to a dead end")
        self.see("article li.last", "use Left_Door")
        self.see("article li", "+1 nut (1)")
        self.see("nav .number", None)

        self.click("article .acts button", "Watch it")
        self.see(".then", "Watched to its end: a way of the proof")
        self.see(".band .walk", "Back to Proof")
        self.click(".band .walk")
        self.see("article h1", "Two actions to a dead end")

        self.click("article .acts button", "Start at the end")
        self.see(".playtest, .night", None)
        card = models.Card.objects.get(project_id=self.project)
        self.assertEqual(card.name, "After: Errand: can get stuck")
        self.assertIn("state:left_door", [h["column"] for h in card.holds])
        self.click(".band .walk")

        self.click("article .acts button", "Keep as a walk")
        self.see("article .fine", "Kept as the walk")

        self.see("article .out", "Let Only_Key stay as it is.")
        self.see("article .out .before", "give 1 nut and remove it")
        self.click("article .out .link", "do it")
        self.status("before your last edit")
        self.see("article .trouble", "before your last edit")
        self.prove()
        self.verdict("errand/stuck", "never")
        self.see("article h1", "Nobody gets stuck in Errand")
        self.chord(Keys.CONTROL, "z")
        self.see_saved()
        self.prove()
        self.verdict("errand/stuck", "yes")

    def test_the_map_says_what_a_thing_waits_for_and_keys_go_through_the_verdicts(self):
        self.open_place("proof")
        self.status("not proved yet")
        self.prove("prove now")
        self.keys("j", "j")
        self.see_address("proof/errand.stuck")
        self.keys("v")
        self.see(".then", "Watched")
        self.open_place("proof?view=map")
        self.click(".gate", "Right_Door open")
        self.see("article h1", "Right_Door open")
        self.see("article p", "After 2 actions at the soonest, by: use Right_Door")
        self.see(".gate.before", "nut can be had")
        self.click("article li .link", "nut can be had")
        self.see("article h1", "nut can be had")

    def test_as_if_at_a_bead_the_map_begins_there_without_a_proof(self):
        self.open_place("proof?view=map&as_if=errand.only&with=item:nut=1")
        self.see(".map p", "As if Errand: Only")
        self.click(".gate", "Right_Door open")
        self.see("article p", "After 1 action at the soonest, by: use Right_Door")
        self.see("article .empty, article p.quiet", "Nothing that is not so there already.")
        self.click(".as-if > button", "end it")
        self.see(".proof .empty", "The map is drawn when the project has been proved.")

    def test_it_stands_on_the_page_of_the_quest_and_among_the_findings(self):
        self.open_place("proof")
        self.status("not proved yet")
        self.prove("prove now")
        self.open_place("quests/errand")
        self.see("article [data-proved=stuck]", "can get stuck")
        self.click("article [data-proved=stuck] .link")
        self.see("article h1", "Two actions to a dead end")
        self.open_place("findings")
        self.click("[data-finding=quest_gets_stuck] .whole")
        self.see("article h1", "A quest in which one can get stuck")
        self.see("article .mend", "Let Only_Key stay as it is.")


class OthersOfThem(OnTheProof):
    def test_one_under_way_tells_how_far_it_is_and_is_stopped_with_nothing_kept(self):
        self.open_place("proof")
        self.click(".proof header .link", "prove now")
        self.status(" s")
        self.click(".proof header .link", "stop")
        self.status("stopped; nothing of it is kept")
        self.see('.verdict[data-key="dry_feet/can"]', "…")

    def test_a_project_without_quests_says_what_would_be_proved(self):
        self.project = listing.new_project("Bare").pk
        self.open_place("proof")
        self.see(".proof .empty", "There is no quest yet. Of each quest it would be proved here")
