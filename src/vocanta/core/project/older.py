"""Records as older versions of the format had them, brought up to the present one."""

from __future__ import annotations

from typing import Any

Data = dict[str, Any]


def brought_up(record_type: str, values: Data) -> Data:
    """The fields of one record as they are called now; what another record says now is left out."""
    if record_type == "reply" and "wording" in values:
        return {("wordings" if k == "wording" else k): ([v] if k == "wording" else v) for k, v in values.items()}
    if record_type == "quest" and "handed_in" in values:
        return {k: v for k, v in values.items() if k != "handed_in"}
    return values


def brought_up_project(project: Any) -> Any:
    """A whole project of version 1. What is not of a project's shape is left for the reader to refuse."""
    if not isinstance(project, dict):
        return project
    put = {**project}
    put["quests"] = _each(project.get("quests"), _quest)
    put["conversations"] = _each(project.get("conversations"), _conversation)
    return {k: v for k, v in put.items() if k in project}


def _each(records: Any, bring: Any) -> Any:
    if not isinstance(records, list | tuple):
        return records
    return [bring(r) if isinstance(r, dict) else r for r in records]


def _quest(quest: Data) -> Data:
    put, stages = brought_up("quest", quest), quest.get("stages")
    if quest.get("handed_in") and isinstance(stages, list) and stages and isinstance(stages[-1], dict):
        put = {**put, "stages": [*stages[:-1], {**stages[-1], "then": "ready"}]}
    return put


def _conversation(talk: Data) -> Data:
    return {**talk, "lines": _each(talk["lines"], _line)} if "lines" in talk else talk


def _line(line: Data) -> Data:
    return {**line, "replies": _each(line["replies"], lambda r: brought_up("reply", r))} if "replies" in line else line
