"""``python -m dorvan.serve``: the shop behind a real WSGI server.

``DORVAN_LISTEN`` is the address it listens at (:mod:`.reached`). Makes the database current, gathers
static files, loads the demo when asked
(``--demo``), prints where it is and serves until stopped.
"""

import gc
import os
import signal
import sys
import threading
from pathlib import Path

import django
from django.core.management import call_command
from django.db import DatabaseError
from django.urls import get_resolver

from dorvan import reached

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "dorvan.settings")


held = []
"""What is held open for as long as the process runs."""
LAST = 2.0
"""So long the server has to end once it was told to, s."""


def settle():
    """The first edit is as quick as the next, and what was loaded to begin with is not looked through
    again by the garbage collector: that took a tenth of a second in the middle of an edit."""
    from bendcore.edits import new_part
    from bendcore.part import read_part
    from dorvan.longwork import desks

    _ = get_resolver().url_patterns  # every page is there, and what may be asked for is known
    desks.begin()
    read_part(new_part("", "mm"))  # compiles the schema, which the first edit would else wait for
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)


def behind(front: str) -> dict:
    """What the server is told of a TLS front: its headers are believed, and nobody else's."""
    if not front:
        return {"clear_untrusted_proxy_headers": True}
    return {"trusted_proxy": front, "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto"},
            "clear_untrusted_proxy_headers": True, "log_untrusted_proxy_headers": False}


def end(*_):
    """When told to: what is being answered has a moment to finish, and whoever told it is not kept waiting."""
    threading.Timer(LAST, os._exit, (0,)).start()
    raise KeyboardInterrupt


def set_up() -> None:
    """The shop's data made current, or one plain line why they cannot be."""
    try:
        django.setup()
        from django.conf import settings

        from dorvan.keeping import open as shop

        shop.owners_only(settings.DATA_DIR, Path(settings.DATABASES["default"]["NAME"]).name)
        held.append(shop.hold(settings.DATA_DIR))
        call_command("migrate", verbosity=0)
        call_command("collectstatic", verbosity=0, interactive=False)
    except (OSError, DatabaseError) as error:
        print(f"Dorvan cannot use its data folder: {error}. Give it one that it may write to (DORVAN_DATA).",
              file=sys.stderr, flush=True)
        sys.exit(1)


def main():
    set_up()
    from django.conf import settings
    from waitress import serve

    from dorvan.demo.management.commands.demo import PEOPLE
    from dorvan.longwork import desks
    from dorvan.wsgi import application  # after the static files it looks for are there

    port = int(os.environ.get("PORT", "8000"))
    print(f"Dorvan is at http://127.0.0.1:{port}/ and its log in {settings.LOG}", flush=True)
    for line in reached.told(port):
        print(line, flush=True)
    if "--demo" in sys.argv:
        call_command("demo")
        for name, role, word in PEOPLE:
            print(f"  sign in as {name} ({role}) with {word}", flush=True)
    settle()
    for told in (signal.SIGINT, signal.SIGTERM):
        signal.signal(told, end)
    try:
        serve(application, host=reached.listens(), port=port, threads=6, ident=None,
              max_request_body_size=64_000_000, **behind(os.environ.get("DORVAN_PROXY", "")))
    finally:
        desks.close()
        sys.stdout.flush()
        os._exit(0)  # nobody waits for what is being answered: whatever was kept is kept


if __name__ == "__main__":
    main()
