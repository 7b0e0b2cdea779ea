"""Runs every test, browser ones included; the shares go side by side, each on a database file of its own."""

from __future__ import annotations

import doctest
import functools
import gc
import io
import json
import math
import multiprocessing
import os
import pkgutil
import sys
import tempfile
import time
import unittest
import warnings
from collections.abc import Callable, Iterable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from typing_extensions import override

if TYPE_CHECKING:
    from _typeshed import OptExcInfo

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vocanta.server.settings")
os.environ["VOCANTA_DATA"] = tempfile.mkdtemp(prefix="vocanta-tests-")
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
os.environ["VOCANTA_PROVES"] = "0"  # A proof beside every test would take the time of the tests themselves.

SIDE_BY_SIDE = 2
SLOWEST = 12


@dataclass
class Outcome:
    """What a share came to; `told` is what it has to say of its failures, `taken` the seconds of each test."""

    passed: int
    failed: int
    told: str
    taken: list[tuple[float, str]]


class Marks(io.StringIO):
    """Keeps what is written; the mark of each test is shown at once."""

    def write(self, text: str) -> int:
        if len(text) == 1 and text != "\n":
            sys.stdout.write(text)
            sys.stdout.flush()
        return super().write(text)


class Result(unittest.TextTestResult):
    """Names what did not pass at once; why, at the end. Keeps what each test took."""

    def __init__(self, *told: Any, **more: Any):
        super().__init__(*told, **more)
        self.taken: list[tuple[float, str]] = []
        self._begun = 0.0

    @override
    def startTest(self, test: unittest.TestCase) -> None:
        super().startTest(test)
        self._begun = time.perf_counter()

    @override
    def stopTest(self, test: unittest.TestCase) -> None:
        super().stopTest(test)
        self.taken.append((time.perf_counter() - self._begun, test.id()))

    @override
    def addError(self, test: unittest.TestCase, err: OptExcInfo) -> None:
        super().addError(test, err)
        print(f"\n{test.id()} did not pass", flush=True)

    @override
    def addFailure(self, test: unittest.TestCase, err: OptExcInfo) -> None:
        super().addFailure(test, err)
        print(f"\n{test.id()} did not pass", flush=True)


def of_folder(name: str) -> unittest.TestSuite:
    """The tests of one folder."""
    return unittest.defaultTestLoader.discover(f"tests/{name}", top_level_dir=".")


def examples() -> unittest.TestSuite:
    """The examples in the core's docstrings."""
    import vocanta.core

    found = unittest.TestSuite()
    for module in pkgutil.walk_packages(vocanta.core.__path__, "vocanta.core."):
        if not module.ispkg:
            found.addTests(doctest.DocTestSuite(module.name))
    return found


def of_the_core(first: int) -> unittest.TestSuite:
    """A share of the core's tests; with the first come the examples."""
    found = a_share("core", first, CORE_SHARES)
    return found if first else unittest.TestSuite([found, examples()])


def a_share(name: str, first: int, shares: int) -> unittest.TestSuite:
    """Every so many-th test case of a folder, from the first, second … on."""
    modules = (module for module in of_folder(name) if isinstance(module, unittest.TestSuite))
    return unittest.TestSuite([case for module in modules for case in module if case.countTestCases()][first::shares])


BROWSER_SHARES, CORE_SHARES = 8, 4
TOOK = Path(".tests-took")
"""What each share took last time; what took longest is begun first. Not part of the project."""
# So many, and so small, that both processes have something to do until the end; what needs no browser goes beside them.
SHARES: dict[str, Callable[[], unittest.TestSuite]] = {
    f"browser {number + 1}": functools.partial(a_share, "browser", number, BROWSER_SHARES)
    for number in range(BROWSER_SHARES)
}
for number in range(CORE_SHARES):
    SHARES[f"core {number + 1}"] = functools.partial(of_the_core, number)
SHARES["server"] = lambda: of_folder("server")
QUICK = ("server", *(f"core {n + 1}" for n in range(CORE_SHARES)))
"""What needs no browser."""


def in_order(shares: Iterable[str]) -> list[str]:
    """Shares by what they took last time, the longest first; one that was never run before those."""
    took = json.loads(TOOK.read_text(encoding="utf-8")) if TOOK.is_file() else {}
    return sorted(shares, key=lambda share: -took.get(share, math.inf))


def note_what_they_took(taken: dict[str, float]) -> None:
    """Keep it for the next time."""
    took = json.loads(TOOK.read_text(encoding="utf-8")) if TOOK.is_file() else {}
    TOOK.write_text(json.dumps(took | taken, indent=1) + "\n", encoding="utf-8")


def outcome(share: str | list[str]) -> Outcome:
    """Run a share, or the tests named; the database is made before and taken away after."""
    import django
    from django.test.utils import get_runner, setup_test_environment

    django.setup()
    left_open: list[str] = []
    sys.unraisablehook = lambda found: left_open.append(
        f"{found.exc_type.__name__}: {found.exc_value} ({found.object!r})"
    )
    warnings.simplefilter("error", ResourceWarning)
    from django.conf import settings

    setup_test_environment()
    from tests.recorded import record_every_run

    record_every_run()
    runner = get_runner(settings)(verbosity=1, interactive=False)
    databases = runner.setup_databases()
    named = unittest.defaultTestLoader.loadTestsFromNames
    suite = SHARES[share]() if isinstance(share, str) else named(share)
    told = Marks()
    results: Any = Result
    result: Any = unittest.TextTestRunner(verbosity=1, stream=told, resultclass=results).run(suite)
    from vocanta.server.checking import HELPER
    from vocanta.server.walking import REWALKING

    HELPER.close()
    REWALKING.close()
    from tests.browser.driving import Driven

    Driven.over()
    runner.teardown_databases(databases)
    from scripts.replays import not_the_same

    begun = time.monotonic()
    runs, otherwise = not_the_same()
    result.taken.append((time.monotonic() - begun, f"{runs} runs replayed in another process, under another hash seed"))
    gc.collect()
    failed = (
        len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses) + len(left_open) + len(otherwise)
    )
    lines = [told.getvalue(), *otherwise, *(f"left open or failed unheard: {one}" for one in left_open)]
    return Outcome(max(result.testsRun - failed, 0), failed, "\n".join(lines), result.taken)


def main() -> int:
    """Run the named tests, `quick` for all that need no browser, all of them without names; 0 when they passed."""
    names = sys.argv[1:]
    if names and names != ["quick"]:
        outcomes = [outcome(names)]
    else:
        apart = multiprocessing.get_context("spawn")
        shares = in_order(QUICK if names else SHARES)
        with ProcessPoolExecutor(SIDE_BY_SIDE, apart, max_tasks_per_child=1) as processes:
            outcomes = list(processes.map(outcome, shares))
        note_what_they_took({s: sum(t for t, _ in o.taken) for s, o in zip(shares, outcomes, strict=True)})
    for one in outcomes:
        print(f"\n{one.told}")
    failed = sum(one.failed for one in outcomes)
    slowest = sorted((taken for one in outcomes for taken in one.taken), reverse=True)[:SLOWEST]
    print("\n".join(f"{seconds:6.1f} s  {name}" for seconds, name in slowest))
    print(f"{sum(one.passed for one in outcomes)} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
