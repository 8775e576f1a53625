"""Django's runner, with SQLite's write-ahead log folded in before the database is copied for each worker.

With ``DORVAN_TIMES`` set to a file each test writes how long it took there, what was set up for its class first with
the first of them: ``python -m tests.runner FILE`` says which cost most.
"""

import os
import sys
import time
from collections import Counter
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.db.models.signals import post_migrate
from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner

os.environ.setdefault("DORVAN_SEARCH_SECONDS", "4")


class Timed(RemoteTestResult):
    """Writes what each test took."""

    since = time.monotonic()

    def stopTest(self, test):  # noqa: N802 - unittest's word
        super().stopTest(test)
        now = time.monotonic()
        if path := os.environ.get("DORVAN_TIMES"):
            with Path(path).open("a", encoding="utf-8") as file:
                file.write(f"{now - Timed.since:.2f} {test.id()}\n")
        Timed.since = now


class TimedRunner(RemoteTestRunner):
    resultclass = Timed


class TimedSuite(ParallelTestSuite):
    runner_class = TimedRunner


class Runner(DiscoverRunner):
    parallel_test_suite = TimedSuite

    def setup_test_environment(self, **kwargs):
        """Passwords are hashed fast: as they are in a shop it takes half a second each, twice for every class. Static
        files are collected nowhere, which WhiteNoise warns of for every client that is made."""
        super().setup_test_environment(**kwargs)
        Path(settings.STATIC_ROOT).mkdir(parents=True, exist_ok=True)
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

    def setup_databases(self, **kwargs):
        post_migrate.connect(fold_log, dispatch_uid="fold-log")
        return super().setup_databases(**kwargs)


def fold_log(**_):
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def told(path: str, most: int = 40) -> None:
    """The tests, and the modules, that took longest."""
    rows = [line.split(maxsplit=1) for line in Path(path).read_text("utf-8").splitlines()]
    modules: Counter = Counter()
    for seconds, name in rows:
        modules[".".join(name.split(".")[:3])] += float(seconds)
    for seconds, name in sorted(((float(seconds), name) for seconds, name in rows), reverse=True)[:most]:
        print(f"{seconds:8.2f} {name}")
    print()
    for name, seconds in modules.most_common():
        print(f"{seconds:8.2f} {name}")


if __name__ == "__main__":
    told(sys.argv[1])
