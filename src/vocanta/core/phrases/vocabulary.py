"""Words with a fixed meaning: they name no record, yet stand where names stand."""

from __future__ import annotations

PURSES = frozenset({"money", "experience"})
GRADE = "experience_level"
"""The level of experience, which follows from experience."""
PLAYER = "player"
CHARACTERS = "characters"
SOMEBODY = "somebody"
SELVES = frozenset({"this", PLAYER, SOMEBODY})
EFFECTS = ("burst", "dust", "glow", "ripple", "smoke", "sparks")
"""What an *effect* step can show."""
STATUSES = ("unavailable", "available", "offered", "active", "ready", "done", "declined", "failed")
"""A quest's statuses in the order of their numbers. `ready` counts as active."""
CONDITIONS = ("yes", "no", "gone", "equipped", "filled")
"""What something can be besides a state or a status."""
EFFECT_S = 0.8
"""How long an effect is shown, seconds."""
ITS = "its "
"""Before the name of a value that a kind leaves to each of its objects."""
FIXED = ("yes or no", "number")
"""What a value of a kind can be besides a name: a need may hold it against another value."""
