"""A database of the version before is brought up to date with nothing lost."""

from __future__ import annotations

from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import TransactionTestCase

APP = "server"


class TalkAndQuestsInFull(TransactionTestCase):
    def migrated(self, name):
        executor = MigrationExecutor(connection)
        executor.migrate([(APP, name)])
        return MigrationExecutor(connection).loader.project_state([(APP, name)]).apps

    def tearDown(self):
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())

    def test_who_hands_in_is_said_by_the_last_stage_and_a_reply_has_its_words(self):
        get = self.migrated("0006_buttons_by_themselves").get_model
        project = get(APP, "Project").objects.create(edit_number=1)

        def made(number, kind, order, owner=None, **values):
            common = {"key": f"{kind.lower()}_{number}", "order": order, "owner_id": owner, "type": kind.lower()}
            scope = f"{kind.lower()}:{owner}" if owner else ""
            return get(APP, kind).objects.create(id=number, project=project, scope=scope, **common, **values)

        made(1, "Quest", 1, name="Errand", handed_in=True, decline="again", give_up="again", bead="circle")
        made(2, "Stage", 3, 1, name="Two")
        made(3, "Stage", 2, 1, name="One", then="two")
        made(4, "Quest", 4, name="Other", handed_in=False, decline="again", give_up="again", bead="circle")
        made(5, "Stage", 5, 4, name="Only")
        made(6, "Reply", 6, wording="Yes, gladly.", unmet="hidden")
        edit = get(APP, "Edit").objects.create(project=project, number=1, tab="a", name="Said no")
        before = {"type": "reply", "key": "r1", "values": {"wording": "No.", "then": ""}}
        get(APP, "Change").objects.create(edit=edit, record_id=6, before=before, after=None)

        now = self.migrated("0007_talk_and_quests_in_full").get_model
        then = dict(now(APP, "Stage").objects.values_list("pk", "then"))
        self.assertEqual(then, {2: "ready", 3: "two", 5: ""})
        reply = now(APP, "Reply").objects.get()
        self.assertEqual((reply.wordings, reply.repeat, reply.last_stays), (["Yes, gladly."], "every_time", False))
        quest = now(APP, "Quest").objects.get(pk=1)
        self.assertEqual((quest.times, quest.failing), (1, "for_good"))
        change = now(APP, "Change").objects.get()
        self.assertEqual((change.before["values"], change.after), ({"wordings": ["No."], "then": ""}, None))
