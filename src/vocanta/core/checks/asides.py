"""What was put aside as right as it is: how it is told from others, and when it comes back."""

from __future__ import annotations

from ..project.keeping import Aside
from ..project.records import SCOPED
from .finding import Finding


def aside_key(finding: Finding) -> tuple[str, str, str]:
    """By what a finding is put aside: its check, the name it stands under, and what it rests on. It comes back as soon as
    the last has changed."""
    return finding.check, named_at(finding.at.record), finding.rests_on


def named_at(address: str) -> str:
    """The name, of the whole project, of the record in which an address lies; empty for the project itself."""
    parts = address.split("/")
    pairs = [(parts[i], parts[i + 1]) for i in range(0, len(parts) - 1, 2)]
    return next((key for kind, key in reversed(pairs) if kind not in SCOPED), "")


def aside_of(finding: Finding, key: str, reason: str) -> Aside:
    """The record that puts a finding aside."""
    check, at, rests_on = aside_key(finding)
    return Aside(key, check, at, rests_on, reason)
