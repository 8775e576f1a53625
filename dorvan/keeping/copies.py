"""Copies of the shop's one file, made and put back while people work: SQLite's own online backup.

Everything the shop keeps is in it, photographs too. A copy is the state of one moment, whatever is written meanwhile.
"""

import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from django.apps import apps
from django.db.migrations.loader import MigrationLoader

PAGES = 500
"""Pages copied at a time; others write in between."""


class Unfit(Exception):
    """A file that is no sound copy of a shop; says why."""


def copy(source: Path, target: Path, progress: Callable[[int, int], None] | None = None) -> None:
    """Copy a shop's database while it is in use. The copy appears under its name when it is whole and sound."""
    part = target.with_name(target.name + ".part")
    part.unlink(missing_ok=True)
    with closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True)) as live, closing(sqlite3.connect(part)) as made:
        live.execute("BEGIN")  # of one moment: pages written meanwhile would begin it again and again
        live.execute("SELECT count(*) FROM sqlite_master").fetchone()
        told = progress and (lambda _, left, total: progress(total - left, total))
        live.backup(made, pages=PAGES, progress=told)
        made.execute("PRAGMA journal_mode=DELETE")
    check(part)
    part.replace(target)


def check(path: Path) -> int:
    """How many tickets a copy holds; raises :class:`Unfit` unless it is sound and of no later version."""
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as made:
            if made.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
                raise Unfit("is damaged: its integrity check fails")
            if made.execute("PRAGMA foreign_key_check").fetchone():
                raise Unfit("is damaged: rows point to rows that are not there")
            done = set(made.execute("SELECT app, name FROM django_migrations"))
            tickets = made.execute("SELECT count(*) FROM tickets_ticket").fetchone()[0]
    except sqlite3.DatabaseError as error:
        raise Unfit(f"is not the database of a shop ({error})") from None
    others = {app.label for app in apps.get_app_configs() if not app.name.startswith("dorvan.")}
    later = sorted(f"{app} {name}" for app, name in done - set(MigrationLoader(None).disk_migrations)
                   if app not in others)
    if later:
        raise Unfit(f"comes from a later version of Dorvan ({later[0]})")
    return tickets


def put_back(source: Path, target: Path) -> Path | None:
    """Put a checked copy in place of a shop's database; what was there is kept beside it. Returns where."""
    check(source)
    kept = None
    if target.exists():
        n = 1
        while (kept := target.with_name(f"{target.stem}-before-restore-{n}{target.suffix}")).exists():
            n += 1
        copy(target, kept)
    with closing(sqlite3.connect(source)) as made, closing(sqlite3.connect(target, timeout=20)) as live:
        made.backup(live)
    return kept
