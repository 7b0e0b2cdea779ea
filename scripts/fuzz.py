"""Calls every operation of the API with what its document allows and what it does not: `make fuzz`.

No answer may be a fault of ours, or a status or form that the document does not tell. Not part of the tests: it takes
minutes, and its package is installed for itself.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import urllib.request
from pathlib import Path

from scripts.served import served

TOOL = Path(".venv-fuzz/bin/st").resolve()
CHECKS = "not_a_server_error,status_code_conformance,content_type_conformance"
NEVER_ENDING, ENDING = "events", "delete_project"
"""Operations that are left out: a stream has no end, and what is deleted answers nothing more."""


def main() -> int:
    """Run against the demo on a server of its own."""
    examples = os.environ.get("COUNT", "200")
    with served() as port, tempfile.TemporaryDirectory() as room:
        home = f"http://127.0.0.1:{port}"
        Path(room, "schemathesis.toml").write_text(_settings(home), encoding="utf-8")
        command = [str(TOOL), "run", f"{home}/api/schema?format=json", "--url", home, "--checks", CHECKS]
        command += ["--max-examples", examples, "--phases", "coverage,fuzzing", "--continue-on-failure"]
        command += ["--exclude-operation-id", NEVER_ENDING, "--exclude-operation-id", ENDING]
        return subprocess.run(command, cwd=room, check=False).returncode


def _settings(home: str) -> str:
    """Things that are there, so that calls reach what lies behind *no such thing*."""
    with urllib.request.urlopen(f"{home}/api/projects/1") as answer:
        bell = next(row for row in json.load(answer) if row["key"] == "yard_bell")
    known = {"project": 1, "record": bell["id"], "level": "glasshouse", "quest": "dry_feet", "stage": "find_key"}
    return "[parameters]\n" + "".join(f'"path.{name}" = {json.dumps(value)}\n' for name, value in known.items())


if __name__ == "__main__":
    sys.exit(main())
