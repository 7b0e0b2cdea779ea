"""Small changes of meaning, one at a time, and whether any test notices: `make mutants SEED=1 COUNT=40`.

Each change is made in a copy of the sources; the tests that concern it run there and stop at the first that fails. They must
pass on the sources as they are first.
What survives is listed with its place. Not part of the tests: it takes minutes.
"""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

SOURCES = ("progress", "engine", "space")
QUICK = (
    "test_finer_rules", "test_finer_space", "test_finer_screen", "test_rules", "test_levels_left", "test_talk_holds_uses",
    "test_cells_walked", "test_second_look",
)  # fmt: skip
THEN = ("test_one_phrase_one_place", "test_objects_in_full", "test_engine")
TESTS = {
    "progress": (*QUICK, *THEN, "test_threads", "test_progress_against_plain"),
    "engine": (*QUICK, *THEN, "test_wording", "test_demo_played"),
    "space": (*QUICK, *THEN, "test_space", "test_plan_questions"),
}
COMPARED = {ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
            ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is}  # fmt: skip
RECKONED = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
WORDS = {"rise": "fall", "fall": "rise", "into": "out_of", "out_of": "into"}


@dataclass(frozen=True)
class Mutant:
    """One change: the file, the line, what it says in words, and the whole text that it gives."""

    path: str
    line: int
    says: str
    text: str


def changes(tree: ast.Module) -> Iterator[tuple[ast.AST, str]]:
    """Every node that can be changed, with the kind of change. Docstrings, annotations, decorators and texts are left out."""
    for node in _that_run(tree):
        if isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARED:
            yield node, "compared"
        elif isinstance(node, ast.BoolOp):
            yield node, "joined"
        elif isinstance(node, ast.BinOp) and type(node.op) in RECKONED:
            yield node, "reckoned"
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            yield node, "negated"
        elif isinstance(node, ast.Constant) and (type(node.value) in (int, float, bool) or node.value in WORDS):
            yield node, "constant"
        elif isinstance(node, ast.Expr) and isinstance(node.value, ast.Call):
            yield node, "left out"


def _that_run(node: ast.AST) -> Iterator[ast.AST]:
    yield node
    for name, field in ast.iter_fields(node):
        if name in ("annotation", "returns", "decorator_list"):
            continue
        for part in field if isinstance(field, list) else [field]:
            if isinstance(part, ast.AST):
                yield from _that_run(part)


def apply(node: ast.AST, kind: str) -> str:
    """Change a node where it stands; what was changed, in words."""
    before = ast.unparse(node)
    match kind:
        case "compared":
            node.ops[0] = COMPARED[type(node.ops[0])]()
        case "joined":
            node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        case "reckoned":
            node.op = RECKONED[type(node.op)]()
        case "negated":
            node.op = ast.UAdd()
            node.operand = ast.Call(ast.Name("bool", ast.Load()), [node.operand], [])
        case "constant":
            node.value = _other(node.value)
        case "left out":
            node.value = ast.Constant(None)
    return f"{before[:70]}  →  {ast.unparse(node)[:70]}"


def _other(value: object) -> object:
    if isinstance(value, bool):
        return not value
    if isinstance(value, int):
        return value + 1
    return value * 1.5 + 0.01 if isinstance(value, float) else WORDS[str(value)]


def mutants(seed: int, count: int) -> list[Mutant]:
    """So many changes, drawn evenly over all that can be made."""
    found = []
    for folder in SOURCES:
        for path in sorted(Path("src/vocanta/core", folder).glob("*.py")):
            text = path.read_text(encoding="utf-8")
            found += [(path, text, number) for number, _ in enumerate(changes(ast.parse(text)))]
    drawn = random.Random(seed).sample(found, count)
    return [_mutant(path, text, number) for path, text, number in drawn]


def _mutant(path: Path, text: str, number: int) -> Mutant:
    tree = ast.parse(text)
    node, kind = list(changes(tree))[number]
    says = apply(node, kind)
    return Mutant(str(path), node.lineno, says, ast.unparse(ast.fix_missing_locations(tree)))


def survives(mutant: Mutant) -> bool:
    """Whether no test notices. A test that runs for ever has noticed."""
    with tempfile.TemporaryDirectory() as room:
        for part in ("src", "tests", "scripts", "docs"):
            shutil.copytree(
                part, Path(room, part), ignore=shutil.ignore_patterns("screenshots", "__pycache__", "*.pyc")
            )
        Path(room, mutant.path).write_text(mutant.text, encoding="utf-8")
        names = [
            f"tests.core.{t}" for t in TESTS[Path(mutant.path).parent.name] if Path("tests/core", f"{t}.py").exists()
        ]
        command = [str(Path(sys.executable)), "-m", "unittest", "-f", *names]
        environment = {**os.environ, "PYTHONPATH": "src", "OPENBLAS_NUM_THREADS": "1"}
        try:
            done = subprocess.run(command, cwd=room, env=environment, capture_output=True, timeout=420, check=False)
        except subprocess.TimeoutExpired:
            return False
        return done.returncode == 0


def unsound(drawn: list[Mutant]) -> list[str]:
    """The folders of which some test does not pass without any change: there nothing would be proved."""
    first = {Path(one.path).parent.name: Path(one.path) for one in drawn}
    clean = [Mutant(str(path), 0, "", path.read_text(encoding="utf-8")) for path in first.values()]
    with ThreadPoolExecutor(2) as pool:
        return [folder for folder, passes in zip(first, pool.map(survives, clean), strict=True) if not passes]


def main() -> int:
    """Draw, run two at a time, list what survives. 1 where the tests do not pass without a change."""
    seed, count = int(os.environ.get("SEED", "1")), int(os.environ.get("COUNT", "40"))
    drawn = mutants(seed, count)
    if wrong := unsound(drawn):
        print(f"The tests of {', '.join(wrong)} do not pass on the sources as they are: mend them first.")
        return 1
    with ThreadPoolExecutor(2) as pool:
        left = 0
        for one, alive in zip(drawn, pool.map(survives, drawn), strict=True):
            left += alive
            if alive:
                print(f"{one.path}:{one.line}  {one.says}", flush=True)
    print(f"{left} of {count} survive (seed {seed})")
    return 0


if __name__ == "__main__":
    sys.exit(main())
