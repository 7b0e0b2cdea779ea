"""Every button of a panel says by itself how it is shown while it cannot be used; so far the panel said it for all."""

from __future__ import annotations

from typing import Any

from django.db import migrations

USUAL = "dimmed"


def filled(value: Any) -> Any:
    """A design or own values with that said for each button."""
    if isinstance(value, list):
        return [filled(member) for member in value]
    if not isinstance(value, dict):
        return value
    put = {name: filled(member) for name, member in value.items()}
    if put.keys() == {"key", "wording"}:
        put["when_unusable"] = USUAL
    return put


def fill(apps: Any, schema_editor: Any) -> None:
    for model, field in (("Kind", "design"), ("Object", "own")):
        for record in apps.get_model("server", model).objects.all():
            old = getattr(record, field)
            new = filled(old)
            if new != old:
                setattr(record, field, new)
                record.save(update_fields=[field])


class Migration(migrations.Migration):
    dependencies = [("server", "0005_copied_from")]

    operations = [migrations.RunPython(fill, migrations.RunPython.noop)]
