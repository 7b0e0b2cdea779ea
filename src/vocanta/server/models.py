"""The records of projects: one model for each thing of the trade, all kept below one table of names and versions."""

from __future__ import annotations

from typing import Any, ClassVar

from django.db import models

from ..core.project.records import Project as CoreProject


class Project(models.Model):
    """One project as a whole. `edit_number` counts every change of any of its records."""

    edit_number = models.PositiveIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    deleted_at = models.DateTimeField(null=True, default=None)
    copied_from = models.ForeignKey("self", null=True, default=None, on_delete=models.SET_NULL, related_name="copies")


class Record(models.Model):
    """What every record has: its type, its name in cues, its owner, its place among its owner's records, its version.

    `scope` is empty where the key is unique in the project, else it names the owner in which it is unique.
    """

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="records")
    type = models.CharField(max_length=20)
    key = models.CharField(max_length=60)
    scope = models.CharField(max_length=40, default="", blank=True)
    owner = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="children")
    order = models.FloatField(default=0.0)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["project", "scope", "key"], name="one_name_once"),
        ]
        indexes: ClassVar = [models.Index(fields=["project", "type"])]


def usual_levels() -> list[int]:
    """The sums of experience at which levels begin, where a project says nothing else."""
    return list(CoreProject("x", "x").experience_levels)


class SettingsRecord(Record):
    """The project's own settings."""

    name = models.CharField(max_length=120)
    first_level = models.CharField(max_length=60, blank=True)
    money_name = models.CharField(max_length=120)
    player = models.JSONField(default=dict)
    camera = models.JSONField(default=dict)
    usual = models.JSONField(default=dict)
    experience_levels = models.JSONField(default=usual_levels)
    controls = models.JSONField(default=list)


class Level(Record):
    """One level, where the player starts in it, and what ends it by itself."""

    name = models.CharField(max_length=120)
    start_x_m = models.FloatField(default=0.0)
    start_y_m = models.FloatField(default=0.0)
    start_facing_deg = models.FloatField(default=90.0)
    endings = models.JSONField(default=list)


class Area(Record):
    """A named part of a level."""

    name = models.CharField(max_length=120)
    outline = models.JSONField(default=list)
    floor_m = models.FloatField(default=0.0)
    tint = models.CharField(max_length=10)
    drops_to = models.JSONField(default=list)


class Wall(Record):
    """A run of wall."""

    points = models.JSONField(default=list)
    height_m = models.FloatField(null=True)
    glass = models.BooleanField(default=False)


class Exit(Record):
    """A patch of floor that leads one way to a place in a level."""

    name = models.CharField(max_length=120)
    x_m = models.FloatField()
    y_m = models.FloatField()
    turn_deg = models.FloatField(default=0.0)
    width_m = models.FloatField(default=1.2)
    depth_m = models.FloatField(default=0.6)
    to_level = models.CharField(max_length=60, blank=True)
    to_x_m = models.FloatField(default=0.0)
    to_y_m = models.FloatField(default=0.0)
    to_facing_deg = models.FloatField(default=90.0)
    open_at_start = models.BooleanField(default=True)


class Kind(Record):
    """The definition that objects are placed from."""

    record_ptr = models.OneToOneField(
        Record, models.CASCADE, parent_link=True, primary_key=True, related_name="as_kind"
    )
    name = models.CharField(max_length=120)
    starter = models.CharField(max_length=40, blank=True)
    design = models.JSONField(default=dict)


class Object(Record):
    """One thing placed in a level."""

    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=60, blank=True)
    x_m = models.FloatField()
    y_m = models.FloatField()
    turn_deg = models.FloatField(default=0.0)
    own = models.JSONField(default=dict)
    round = models.JSONField(default=list)
    there_at_start = models.BooleanField(default=True)
    cues_off = models.JSONField(default=list)
    carried = models.JSONField(default=dict)


class Cue(Record):
    """One rule as cue text, with a draft where its newest text cannot be read."""

    text = models.TextField(blank=True)
    draft = models.TextField(blank=True)


class Item(Record):
    """Something the player can have."""

    name = models.CharField(max_length=120)
    description = models.TextField(blank=True)
    icon = models.CharField(max_length=40)
    picture = models.CharField(max_length=120, blank=True)
    limit = models.PositiveIntegerField(default=999)
    at_start = models.PositiveIntegerField(default=0)
    text = models.TextField(blank=True)
    slot = models.CharField(max_length=60, blank=True)


class Fact(Record):
    """A named value about the world."""

    name = models.CharField(max_length=120)
    value_type = models.CharField(max_length=10, db_column="value_type")
    lowest = models.IntegerField(default=0)
    highest = models.IntegerField(default=999)
    at_start = models.IntegerField(default=0)


class Ability(Record):
    """Something the player may do with a control of their own."""

    name = models.CharField(max_length=120)
    description = models.TextField(blank=True)
    control = models.CharField(max_length=60, blank=True)
    gear = models.CharField(max_length=60, blank=True)
    range_m = models.FloatField(default=8.0)
    aim_deg = models.FloatField(default=15.0)


class Role(Record):
    """A name for somebody or something decided at run time."""

    record_ptr = models.OneToOneField(
        Record, models.CASCADE, parent_link=True, primary_key=True, related_name="as_role"
    )
    name = models.CharField(max_length=120)
    description = models.TextField(blank=True)


class Tag(Record):
    """A label for picking out several objects at once."""

    record_ptr = models.OneToOneField(Record, models.CASCADE, parent_link=True, primary_key=True, related_name="as_tag")
    name = models.CharField(max_length=120)


class NamedNeed(Record):
    """Needs under a name."""

    name = models.CharField(max_length=120)
    text = models.TextField(blank=True)


class Sound(Record):
    """A sound by name, with the hash of its file."""

    name = models.CharField(max_length=120)
    file = models.CharField(max_length=120, blank=True)
    seconds = models.FloatField(default=1.0)


class Quest(Record):
    """A quest with its rules; its stages are records of their own."""

    name = models.CharField(max_length=120)
    summary = models.TextField(blank=True)
    offered_by = models.CharField(max_length=60, blank=True)
    needs = models.TextField(blank=True)
    rewards = models.TextField(blank=True)
    times = models.PositiveIntegerField(default=1)
    decline = models.CharField(max_length=10)
    give_up = models.CharField(max_length=10)
    failing = models.CharField(max_length=10, default="for_good")
    bead = models.CharField(max_length=10)


class Stage(Record):
    """One stage of a quest."""

    name = models.CharField(max_length=120)
    journal = models.TextField(blank=True)
    entering = models.TextField(blank=True)
    then = models.CharField(max_length=60, blank=True)


class Objective(Record):
    """One thing a stage asks for."""

    name = models.CharField(max_length=120)
    value_type = models.CharField(max_length=10, db_column="value_type")
    targets = models.JSONField(default=list)
    count = models.PositiveIntegerField(default=1)
    state = models.CharField(max_length=60, blank=True)
    optional = models.BooleanField(default=False)
    hidden = models.BooleanField(default=False)
    marker = models.CharField(max_length=60, blank=True)
    time_s = models.FloatField(null=True)


class Conversation(Record):
    """What one talker says."""

    name = models.CharField(max_length=120)
    talker = models.CharField(max_length=60, blank=True)


class Line(Record):
    """Something said."""

    wordings = models.JSONField(default=list)
    opener = models.BooleanField(default=False)
    speaker = models.CharField(max_length=60, blank=True)
    needs = models.TextField(blank=True)
    repeat = models.CharField(max_length=12)
    last_stays = models.BooleanField(default=False)
    seconds = models.FloatField(null=True)
    voice = models.CharField(max_length=60, blank=True)
    steps = models.TextField(blank=True)
    then = models.CharField(max_length=60, blank=True)
    holds_player = models.BooleanField(default=False)


class Reply(Record):
    """What the player can answer."""

    wordings = models.JSONField(default=list)
    needs = models.TextField(blank=True)
    repeat = models.CharField(max_length=12, default="every_time")
    last_stays = models.BooleanField(default=False)
    unmet = models.CharField(max_length=10)
    steps = models.TextField(blank=True)
    then = models.CharField(max_length=60, blank=True)


class Asset(models.Model):
    """A sound or picture of a project, named by its hash."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="assets")
    name = models.CharField(max_length=120)
    data = models.BinaryField()

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["project", "name"], name="one_asset_once")]


class Reference(models.Model):
    """One use of a name by a record; `start` and `end` are its place in a text field."""

    record = models.ForeignKey(Record, on_delete=models.CASCADE, related_name="references")
    field = models.CharField(max_length=40)
    name = models.CharField(max_length=60)
    name_owner = models.CharField(max_length=60, blank=True)
    start = models.IntegerField(null=True)
    end = models.IntegerField(null=True)

    class Meta:
        indexes: ClassVar = [models.Index(fields=["name"])]


class Aside(Record):
    """A finding put aside as right as it is."""

    check_name = models.CharField(max_length=60, blank=True, db_column="check_name")
    at = models.CharField(max_length=60, blank=True)
    rests_on = models.CharField(max_length=40, blank=True)
    reason = models.TextField(blank=True)


class Card(Record):
    """A place to begin a walk at, and all that differs there from the beginning."""

    name = models.CharField(max_length=120)
    in_level = models.CharField(max_length=60, blank=True)
    x_m = models.FloatField(default=0.0)
    y_m = models.FloatField(default=0.0)
    facing_deg = models.FloatField(default=0.0)
    holds = models.JSONField(default=list)
    lies = models.JSONField(default=list)
    stood = models.JSONField(default=list)
    afoot = models.JSONField(default=list)
    goes_on = models.BooleanField(default=False)
    digit = models.CharField(max_length=1, blank=True)


class Walk(Record):
    """A kept walk: where it begins, what was done in it, what came of it, and what it must come to."""

    name = models.CharField(max_length=120)
    begins = models.JSONField(default=dict)
    seed = models.PositiveIntegerField(default=0)
    ticks = models.PositiveIntegerField(default=0)
    deeds = models.JSONField(default=list)
    came = models.JSONField(default=list)
    comes_to = models.JSONField(default=list)
    pressed = models.JSONField(default=list)


class Edit(models.Model):
    """One named, undoable change of a project, made in one tab.

    | state | what may happen | next |
    |---|---|---|
    | done | undo in its tab | undone |
    | undone | redo in its tab | done |
    | undone | another edit in its tab | dropped |
    """

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="edits")
    number = models.PositiveIntegerField()
    tab = models.CharField(max_length=60)
    name = models.CharField(max_length=300)
    gesture = models.CharField(max_length=60, blank=True)
    select = models.CharField(max_length=60, blank=True)
    state = models.CharField(max_length=10, default="done")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        indexes: ClassVar = [models.Index(fields=["project", "tab", "state"])]


class Asked(models.Model):
    """One question of a tab that an edit, an undo or a redo has answered: asked again, it is answered again and not done again."""

    edit = models.ForeignKey(Edit, on_delete=models.CASCADE, related_name="answers")
    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="+")
    tab = models.CharField(max_length=60)
    ask = models.CharField(max_length=60)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["project", "tab", "ask"], name="asked_once")]


class Change(models.Model):
    """What an edit did to one record: its data before and after; None where there was no record."""

    edit = models.ForeignKey(Edit, on_delete=models.CASCADE, related_name="changes")
    record_id = models.BigIntegerField()
    before: models.JSONField[Any, Any] = models.JSONField(null=True)
    after: models.JSONField[Any, Any] = models.JSONField(null=True)


class Snapshot(models.Model):
    """A stored project as a run saw it, by the hash of its file."""

    hash = models.CharField(max_length=64, primary_key=True)
    file = models.TextField()


class PlayedRun(models.Model):
    """One run: what it was started from; its inputs are stored as it goes."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="runs")
    snapshot = models.ForeignKey(Snapshot, on_delete=models.PROTECT)
    edit_number = models.PositiveIntegerField()
    engine = models.CharField(max_length=20)
    start: models.JSONField[Any, Any] = models.JSONField(default=dict)
    seed = models.BigIntegerField(default=0)
    begun_at = models.DateTimeField(auto_now_add=True)
    begins_at = models.CharField(max_length=200, default="")
    """Where it began, in words."""


class RunInputs(models.Model):
    """A stretch of a run: (tick, input) pairs in order up to a tick, and what it came to."""

    run = models.ForeignKey(PlayedRun, on_delete=models.CASCADE, related_name="inputs")
    last_tick = models.PositiveIntegerField()
    inputs: models.JSONField[Any, Any] = models.JSONField(default=list)
    came: models.JSONField[Any, Any] = models.JSONField(default=list)
    mark = models.CharField(max_length=64, default="")
    """All that the run was at its end, to the last bit."""

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["run", "last_tick"], name="tick_walked_once")]


class KeptProof(models.Model):
    """What came out of the last whole proof of a project, with the edit that it speaks of."""

    project = models.OneToOneField(Project, on_delete=models.CASCADE, related_name="proof")
    told: models.JSONField[Any, Any] = models.JSONField(default=dict)


RECORD_MODELS: dict[str, type[Record]] = {
    "project": SettingsRecord,
    "level": Level,
    "area": Area,
    "wall": Wall,
    "exit": Exit,
    "kind": Kind,
    "object": Object,
    "cue": Cue,
    "item": Item,
    "fact": Fact,
    "ability": Ability,
    "role": Role,
    "tag": Tag,
    "namedneed": NamedNeed,
    "sound": Sound,
    "quest": Quest,
    "stage": Stage,
    "objective": Objective,
    "conversation": Conversation,
    "line": Line,
    "reply": Reply,
    "aside": Aside,
    "card": Card,
    "walk": Walk,
}
