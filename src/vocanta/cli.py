"""The command line: `vocanta check FILE` says what is amiss in a project file or its zip, `vocanta walk FILE` walks its kept
walks again, `vocanta prove FILE` works through every way to play; without server or database.

Each ends with 0 where all is well, 1 where something was found, a walk parts ways, or something is not decided, 2 where it
was asked wrongly or could not read the file.
"""

from __future__ import annotations

import argparse
import gc
import os
import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, TextIO

if TYPE_CHECKING:
    from .core.checks.asking import Report
    from .core.checks.check import Check
    from .core.checks.finding import Finding
    from .core.engine.wording import Words
    from .core.project.keeping import Walk
    from .core.project.problems import ProjectError
    from .core.project.records import Project
    from .core.proving.proving import Proof
    from .core.walks.rewalking import Outcome

VERSION = "0.1.0"
FOUND_NOTHING, FOUND, WRONG = 0, 1, 2
SLOW_S = 1.0
"""Work that takes longer tells how far it has come, on a terminal."""
_FILE = "a project file, or the zip of a project with its sounds"
_COLOURS = {"stops it": "1;31", "likely wrong": "33", "worth a look": "36"}
_WORDS = {"stops it": "stops-it", "likely wrong": "likely-wrong", "worth a look": "worth-a-look"}


def main(arguments: Sequence[str] | None = None, out: TextIO | None = None, err: TextIO | None = None) -> int:
    """Carry out a command; how it ended."""
    out, err = out or sys.stdout, err or sys.stderr
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")  # Looking for some costs more than reading the file.
    try:
        asked = _parser().parse_args(arguments)
    except SystemExit as ended:
        return WRONG if ended.code else FOUND_NOTHING
    gc.disable()  # A command is over before a collection would pay.
    try:
        return {"check": _check, "walk": _walk, "prove": _prove}[asked.command](asked, out, err)
    finally:
        gc.enable()


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="vocanta", description="Vocanta at the command line.")
    parser.add_argument("--version", action="version", version=f"vocanta {VERSION}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    check = commands.add_parser("check", help="say what is amiss in a project", description=__doc__)
    check.add_argument("file", nargs="?", metavar="FILE", help=_FILE)
    check.add_argument("--format", choices=("text", "json", "sarif", "junit"), default="text", help="text for people")
    check.add_argument(
        "--severity", choices=tuple(_WORDS.values()), default="worth-a-look", help="this and heavier ones"
    )
    check.add_argument("--only", default="", metavar="CHECK[,CHECK]", help="the checks to ask, by name")
    check.add_argument("--list", action="store_true", help="list all checks, and what each asks")
    walk = commands.add_parser("walk", help="walk the kept walks of a project again", description=__doc__)
    walk.add_argument("file", metavar="FILE", help=_FILE)
    walk.add_argument("--format", choices=("text", "json", "junit"), default="text", help="text for people")
    walk.add_argument("--only", default="", metavar="WALK[,WALK]", help="the walks to walk, by name")
    prove = commands.add_parser("prove", help="say whether each quest can be done, and get stuck", description=__doc__)
    prove.add_argument("file", metavar="FILE", help=_FILE)
    prove.add_argument("--format", choices=("text", "json", "sarif", "junit"), default="text", help="text for people")
    prove.add_argument("--only", default="", metavar="QUEST[,QUEST]", help="the quests to prove, by name")
    prove.add_argument(
        "--budget", type=_seconds, default=600.0, metavar="SECONDS", help="after so long the rest is not decided"
    )
    return parser


def _seconds(text: str) -> float:
    """A time that is not negative."""
    seconds = float(text)
    if not 0.0 <= seconds < 1e9:
        raise argparse.ArgumentTypeError("say how many seconds, 0 or more")
    return seconds


def _check(asked: argparse.Namespace, out: TextIO, err: TextIO) -> int:
    from .core.checks.check import by_name, checks
    from .core.project.problems import ProjectError

    if asked.list:
        out.write("".join(_listed(check) for check in checks()))
        return FOUND_NOTHING
    only = [name for name in asked.only.replace(" ", "").split(",") if name]
    unknown = [name for name in only if name not in by_name()]
    if unknown or not asked.file:
        what = f"there is no check “{unknown[0]}”; --list names them" if unknown else "name the project file to check"
        err.write(f"vocanta check: {what}.\n")
        return WRONG
    try:
        report = _report(_project(Path(asked.file)), frozenset(only), err)
    except (OSError, UnicodeDecodeError, ProjectError) as error:
        return _unread(error, asked, err)
    mine = tuple(c for c in checks() if not only or c.name in only)
    report, mine = _as_heavy(report, mine, asked.severity)
    out.write(_written(report, asked.file, asked.format, mine, colours=_is_terminal(out)))
    return FOUND if report.findings or report.failed else FOUND_NOTHING


def _unread(error: OSError | UnicodeDecodeError | ProjectError, asked: argparse.Namespace, err: TextIO) -> int:
    """Say why a file could not be taken."""
    from .core.project.problems import ProjectError

    if isinstance(error, ProjectError):
        said = [f"{asked.file}: {p.message} {p.fix}" for p in error.problems]
    else:
        said = [f"{asked.file} cannot be read: {_reason(error)}."]
    err.write("".join(f"vocanta {asked.command}: {line}\n" for line in said))
    return WRONG


def _walk(asked: argparse.Namespace, out: TextIO, err: TextIO) -> int:
    from .core.progress.compiling import compiled
    from .core.project.noting import unnoted
    from .core.project.problems import ProjectError
    from .core.walks.rewalking import all_again

    note = _noting(err) if _is_terminal(err) else unnoted
    try:
        project = _project(Path(asked.file))
        walks = _chosen_walks(project, asked.only)
        outcomes = list(all_again(project, compiled(project), walks, note))
    except (OSError, UnicodeDecodeError, ProjectError) as error:
        return _unread(error, asked, err)
    if note is not unnoted:
        err.write("\r\x1b[K")
    out.write(_walks_written(outcomes, asked))
    return FOUND_NOTHING if all(o.same for o in outcomes) else FOUND


def _prove(asked: argparse.Namespace, out: TextIO, err: TextIO) -> int:
    from .core.engine.wording import Words
    from .core.project.noting import unnoted
    from .core.project.problems import ProjectError
    from .core.proving.proving import prove

    note = _noting(err) if _is_terminal(err) else unnoted
    try:
        project = _project(Path(asked.file))
        only = _chosen_quests(project, asked.only)
        proof = prove(project, only, budget_s=asked.budget, note=note)
    except (OSError, UnicodeDecodeError, ProjectError) as error:
        return _unread(error, asked, err)
    if note is not unnoted:
        err.write("\r\x1b[K")
    out.write(_proof_written(proof, Words(project), asked))
    return FOUND_NOTHING if proof.clean else FOUND


def _chosen_quests(project: Project, only: str) -> list[str]:
    """The quests of these names. Raises `ProjectError` for a name that none has."""
    from .core.project.problems import Problem, ProjectError

    names = [name for name in only.replace(" ", "").split(",") if name]
    known = [q.key for q in project.quests]
    unknown = [name for name in names if name not in known]
    if unknown:
        fix = f"There are: {', '.join(known) or 'none'}."
        raise ProjectError([Problem("not_found", f"There is no quest “{unknown[0]}”.", fix, "quest")])
    return names


def _proof_written(proof: Proof, words: Words, asked: argparse.Namespace) -> str:
    from .core.proving import reports

    uri = Path(asked.file).as_posix()
    if asked.format == "json":
        return reports.as_json(proof, words, uri)
    if asked.format == "sarif":
        return reports.as_sarif(proof, words, uri, VERSION)
    if asked.format == "junit":
        return reports.as_junit(proof, words, uri)
    if not proof.proved:
        return f"{reports.NOTHING_ASKED}\n"
    return "".join(f"{line}\n" for line in reports.lines(proof, words))


def _chosen_walks(project: Project, only: str) -> list[Walk]:
    """The kept walks of these names, or all. Raises `ProjectError` for a name that none has."""
    from .core.project.problems import Problem, ProjectError

    names = [name for name in only.replace(" ", "").split(",") if name]
    known = [w.key for w in project.walks]
    unknown = [name for name in names if name not in known]
    if unknown:
        fix = f"There are: {', '.join(known) or 'none'}."
        raise ProjectError([Problem("not_found", f"There is no kept walk “{unknown[0]}”.", fix, "walk")])
    return [w for w in project.walks if not names or w.key in names]


def _walks_written(outcomes: Sequence[Outcome], asked: argparse.Namespace) -> str:
    from .core.walks import reports

    if asked.format == "text":
        said = [f"{line}\n" for outcome in outcomes for line in reports.lines(outcome)]
        same = sum(o.same for o in outcomes)
        end = "comes" if len(outcomes) == 1 else "come"
        walks = "kept walk" if len(outcomes) == 1 else "kept walks"
        return "".join([*said, f"{same} of {len(outcomes)} {walks} of {asked.file} {end} to the same end.\n"])
    written = reports.as_json if asked.format == "json" else reports.as_junit
    return written(outcomes, Path(asked.file).as_posix())


def _reason(error: OSError | UnicodeDecodeError) -> str:
    if isinstance(error, UnicodeDecodeError):
        return "it is no text in UTF-8, and no zip"
    return (error.strerror or str(error)).lower()


def _listed(check: Check) -> str:
    return f"{check.name:<26} {check.weight:<13} {check.need:<4} {check.asks}\n"


def _project(file: Path) -> Project:
    """The project in a file. Raises `OSError`, `UnicodeDecodeError`, `ProjectError`."""
    from .core.cuetext.intake import taken
    from .core.project.assets import unfolded
    from .core.project.fileformat import loads

    data = file.read_bytes()
    project = unfolded(data).project if data[:2] == b"PK" else loads(data.decode("utf-8-sig"))
    return taken(project)[0]


def _report(project: Project, only: frozenset[str], err: TextIO) -> Report:
    from .core.checks.asking import Asking

    note = _noting(err) if _is_terminal(err) else None
    report = Asking(only).ask(project, note) if note is not None else Asking(only).ask(project)
    if note is not None:
        err.write("\r\x1b[K")
    return report


def _noting(err: TextIO) -> Callable[[str, int, int], None]:
    begun = time.monotonic()

    def note(what: str, done: int, of: int) -> None:
        if time.monotonic() - begun > SLOW_S:
            err.write(f"\r\x1b[K{what} … {done} of {of}")
            err.flush()

    return note


def _is_terminal(stream: TextIO) -> bool:
    return bool(getattr(stream, "isatty", lambda: False)()) and "NO_COLOR" not in os.environ


def _as_heavy(report: Report, mine: tuple[Check, ...], least: str) -> tuple[Report, tuple[Check, ...]]:
    """The report with what is as heavy as asked, and the checks that could tell of it."""
    from dataclasses import replace

    weights = list(_WORDS)[: list(_WORDS.values()).index(least) + 1]
    kept = tuple(f for f in report.findings if f.weight in weights)
    aside = tuple(f for f in report.aside if f.weight in weights)
    return replace(report, findings=kept, aside=aside), tuple(c for c in mine if c.weight in weights)


def _written(report: Report, file: str, form: str, mine: tuple[Check, ...], *, colours: bool) -> str:
    from .core.checks import reports

    uri = Path(file).as_posix()
    if form == "json":
        return reports.as_json(report, uri)
    if form == "sarif":
        return reports.as_sarif(report, uri, mine, VERSION)
    if form == "junit":
        return reports.as_junit(report, uri, mine)
    return _for_people(report, file, colours=colours)


def _for_people(report: Report, file: str, *, colours: bool) -> str:
    lines = [line for finding in report.findings for line in _lines(finding, colours=colours)]
    lines += [f"The check {f.check} failed, which is a fault of ours: {f.what}" for f in report.failed]
    number = len(report.findings)
    aside = f"; {len(report.aside)} more are right as they are" if report.aside else ""
    found = "Nothing was found" if not number else "1 finding" if number == 1 else f"{number} findings"
    return "\n".join([*lines, f"{found} in {file}{aside}."]) + "\n"


def _lines(finding: Finding, *, colours: bool) -> list[str]:
    weight = f"\x1b[{_COLOURS[finding.weight]}m{finding.weight}\x1b[0m" if colours else finding.weight
    place = finding.at.record + (f"#{finding.at.field}" if finding.at.field else "")
    mends = [f"    mend: {m.says}" for m in finding.mends]
    return [f"{place}: {weight}: {finding.sentence}. [{finding.check}]", *mends]
