"""Django's runner, with SQLite's write-ahead log folded in before the database is copied for each worker."""

import os

from django.db import connection
from django.db.models.signals import post_migrate
from django.test.runner import DiscoverRunner

os.environ.setdefault("DORVAN_SEARCH_SECONDS", "4")


class Runner(DiscoverRunner):
    def setup_databases(self, **kwargs):
        post_migrate.connect(fold_log, dispatch_uid="fold-log")
        return super().setup_databases(**kwargs)


def fold_log(**_):
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
