"""Runs every test, browser ones included, on a database file of their own."""

from __future__ import annotations

import doctest
import gc
import os
import pkgutil
import sys
import tempfile
import unittest
import warnings

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vocanta.server.settings")
os.environ["VOCANTA_DATA"] = tempfile.mkdtemp(prefix="vocanta-tests-")
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"


def core_doctests() -> unittest.TestSuite:
    """The examples in the docstrings of the core."""
    import vocanta.core

    found = unittest.TestSuite()
    for module in pkgutil.walk_packages(vocanta.core.__path__, "vocanta.core."):
        if not module.ispkg:
            found.addTests(doctest.DocTestSuite(module.name))
    return found


def main() -> int:
    """Run the named tests, all of them without names; 0 when they passed."""
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
    runner = get_runner(settings)(verbosity=1, interactive=False)
    databases = runner.setup_databases()
    loader = unittest.defaultTestLoader
    names = sys.argv[1:]
    suite = loader.loadTestsFromNames(names) if names else loader.discover("tests", top_level_dir=".")
    if not names:
        suite.addTests(core_doctests())
    result = unittest.TextTestRunner(verbosity=1, stream=sys.stdout).run(suite)
    runner.teardown_databases(databases)
    gc.collect()
    for one in left_open:
        print(f"left open or failed unheard: {one}")
    failed = len(result.failures) + len(result.errors) + len(left_open)
    print(f"{max(result.testsRun - failed, 0)} passed, {failed} failed")
    return 0 if result.wasSuccessful() and not left_open else 1


if __name__ == "__main__":
    sys.exit(main())
