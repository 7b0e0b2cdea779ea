"""The words of the program, each with what it means in one sentence: what the help can be searched for beside phrases."""

from __future__ import annotations

STATUS_MEANS = {
    "unavailable": "What the quest needs first is not so yet.",
    "available": "It can be offered or started; nobody has offered it yet.",
    "offered": "It was put before the player, who has not answered yet.",
    "active": "It is under way, at one of its stages.",
    "ready": "Its last stage's required objectives are met and it waits to be handed in; that counts as active.",
    "done": "It was handed in or finished; its rewards were given.",
    "declined": "The player said no, for good where the quest says so.",
    "failed": "It failed, or was given up for good.",
}
"""A quest's statuses."""

WORDS = {
    "ability": "Something the player may do with a control of their own; granted, limited or suspended.",
    "as if": "Plan, talk and prompts shown as they would be at a chosen point of a quest.",
    "bead": "One stage on the thread of its quest: solid passed, ringed now, hollow ahead.",
    "body": "The solid shape of an object; it blocks the way or not, by state.",
    "carrier": "Who brings something later, and walks up to the player with it.",
    "cell": "A piece of floor that the rules can tell apart from the next.",
    "chronicle": "What happened in a run, in order, each with what caused it.",
    "control": "A named input of the player, bound to keys, mouse buttons or pad buttons.",
    "conversation": "What a talker says and what can be answered; the first opener whose needs hold is said.",
    "cue": "One rule: when something happens, only if its needs hold, then its steps; otherwise others.",
    "draft": "A text that cannot be read yet; the last readable one stays in force beside it.",
    "fact": "A named value about the world: yes or no, or a number with limits.",
    "focus": "The one object that gets a control now.",
    "gesture": "One drag, or one stretch of typing; it is undone as one edit.",
    "hands-off zone": "A zone that suspends chosen abilities while the player is inside.",
    "hole": "A slot of a cue that is not filled in yet, written ?.",
    "kind": "The definition that objects are placed from; what is changed there changes all of them.",
    "marker": "What points the player to an object, a character, an area or a role.",
    "moment": "What a cue waits for: used, near, heard, changed, later and others.",
    "motion": "The picture of going from one state to another: swing, slide, seconds, easing.",
    "named need": "Needs under a name of their own, asked for by that name.",
    "need": "One condition in only if.",
    "own value": "A value in which an object differs from its kind.",
    "panel": "A prompt with several buttons.",
    "prompt": "What tells the player what a control does here: its wording, press or hold, and where it shows.",
    "reach": "The zone in which an object can be used: its shape, and what it asks of facing and sight.",
    "role": "A name for somebody or something that is decided at run time.",
    "segment": "The part of a cue between two waits; it takes effect whole or not at all.",
    "stage": "One step of a quest, with a journal entry, objectives and what is done on entering.",
    "state": "A named condition of one object, such as shut or open.",
    "stay-clear": "A motion that is refused while somebody is in its way.",
    "step": "One thing a cue does.",
    "tag": "A label for picking out several objects at once.",
    "thread": "How a quest is drawn: a strand with a bead for each stage.",
    "why": "What an object, a line or a quest is waiting for, down to the first thing that stops it.",
    "zone": "A patch of floor that cues listen to, or that does something by itself.",
}
