"""What follows a stage is said by the stage alone, replies have several wordings, and what else talk and quests gained."""

from __future__ import annotations

from typing import Any

from django.db import migrations, models

from vocanta.core.project.older import brought_up


def carry_over(apps: Any, schema_editor: Any) -> None:
    get = apps.get_model
    for reply in get("server", "Reply").objects.all():
        reply.wordings = [reply.wording]
        reply.save(update_fields=["wordings"])
    for quest in get("server", "Quest").objects.filter(handed_in=True):
        last = get("server", "Stage").objects.filter(owner_id=quest.pk).order_by("order", "pk").last()
        if last is not None:
            last.then = "ready"
            last.save(update_fields=["then"])
    for change in get("server", "Change").objects.all():
        sides = [brought(side) for side in (change.before, change.after)]
        if sides != [change.before, change.after]:
            change.before, change.after = sides
            change.save(update_fields=["before", "after"])


def brought(side: Any) -> Any:
    """One side of a change of the history."""
    return None if side is None else {**side, "values": brought_up(side["type"], side["values"])}


class Migration(migrations.Migration):
    dependencies = [("server", "0006_buttons_by_themselves")]

    operations = [
        migrations.AddField("reply", "wordings", models.JSONField(default=list)),
        migrations.AddField("reply", "repeat", models.CharField(default="every_time", max_length=12)),
        migrations.AddField("reply", "last_stays", models.BooleanField(default=False)),
        migrations.AddField("line", "voice", models.CharField(blank=True, max_length=60)),
        migrations.AddField("quest", "times", models.PositiveIntegerField(default=1)),
        migrations.AddField("quest", "failing", models.CharField(default="for_good", max_length=10)),
        migrations.AddField("objective", "time_s", models.FloatField(null=True)),
        migrations.AddField("level", "endings", models.JSONField(default=list)),
        migrations.AddField("item", "picture", models.CharField(blank=True, max_length=120)),
        migrations.RunPython(carry_over, migrations.RunPython.noop),
        migrations.RemoveField("reply", "wording"),
        migrations.RemoveField("quest", "handed_in"),
    ]
