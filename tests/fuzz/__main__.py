"""``python -m tests.fuzz [--seconds 60 | --answers N] [--seed N]``: exit status 1 when anything that must hold does not.

Pages and addresses for both roles, fields and actions of every family, values from a list of nasties and from
Hypothesis, files of the corpus whole and bent; the seed is printed and says them all again. After every change that
was taken, every page, file and picture of that ticket is asked for. It holds: no answer of 500, none over 5 s, no growth over
500 MB, no text that comes back unescaped, no formula in a cell of a CSV, and nothing lost that was answered with success.
"""

import argparse
import csv
import io
import logging
import os
import random
import resource
import sys
import tempfile
import time
import traceback
from collections import Counter

from tests.fuzz import sweep
from tests.fuzz.sent import Sent

SLOWEST, MOST_MB = 5.0, 500
PAGES = ("", "shape/", "stock/", "proof/", "layout/", "order/", "bend/", "check/", "card/", "workings/", "marking-out/",
         "still.svg", "folded/", "space/", "proved/", "section/?axis=y", "kit/", "order/frames/1/", "order/remedies/",
         "measure/?one=L1&other=L2", "sample/", "gate/", "outside/", "joins/", "pack/", "pack/printed.pdf")
FILES = ("part", "dxf", "svg", "csv", "json", "pdf", "model", "stl", "glb", "gauge", "set", "blocks", "formblock",
         "backing")


def growth() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


class Clock:
    """How long an answer takes. A machine shared with others may stand still: beyond ``SLOWEST`` half of it must be
    work of our own, and nothing excuses four times as much."""

    def __init__(self):
        self.begun, self.worked = time.monotonic(), time.process_time()

    @property
    def is_slow(self) -> bool:
        took, worked = time.monotonic() - self.begun, time.process_time() - self.worked
        return took > 4 * SLOWEST or (took > SLOWEST and worked > SLOWEST / 2)

    def __str__(self):
        return f"{time.monotonic() - self.begun:.1f} s, {time.process_time() - self.worked:.1f} s of work"


class Fuzz(Sent):
    def __init__(self, seed: int):
        from django.core.signals import got_request_exception
        from django.test import Client

        from dorvan.people.models import User
        from dorvan.tickets.file.actions import ACTIONS
        from tests.fuzz import nasties, shop

        self.rng, self.nasties, self.actions = random.Random(seed), nasties, list(ACTIONS)
        self.fields = shop.fields()
        self.numbers, self.corpus = shop.fill(), shop.corpus()
        self.clients = []
        for name in ("ines", "otto"):
            client = Client(raise_request_exception=False)
            client.force_login(User.objects.get(username=name))
            self.clients.append(client)
        self.texts = thought_of(seed)
        self.trace = ""
        got_request_exception.connect(self._failed)
        self.faults: dict[str, str] = {}
        self.asked, self.taken = Counter(), 0
        self.begun = growth()

    def _failed(self, **_):
        self.trace = traceback.format_exc()

    # --- what must hold ----------------------------------------------------------

    def read(self, content: bytes, name: str):
        """A part file or a drawing through the core: read and exported, or refused."""
        from bendcore.errors import Refusal
        from bendcore.files import read_json
        from bendcore.formats.export import export
        from bendcore.formats.reading import read_shape_in
        from bendcore.formats.results import flat_result, fold_result
        from bendcore.part import read_part

        begun = Clock()
        try:
            if not name.endswith(".json"):
                read_shape_in(content, name)
                return
            part = read_part(read_json(content))
            flat_result(part), fold_result(part)
            for kind in ("dxf", "svg", "stl"):
                export(part, kind)
        except Refusal:
            pass
        except Exception:
            self.fault("core", f"{traceback.format_exc()[-1500:]}\n{content[:3000]!r}")
        self.within(begun, "core")

    def post(self, client, where: str, form: dict, number: int | None = None):
        before = self.state(number)
        partial = {"HX-Request": "true"} if "/change/" in where or "/set-up/" in where else {}
        answer = self.hold(lambda: client.post(where, form, headers=partial), "POST", where, form)
        if number and answer.status_code == 200 and self.state(number) != before:
            self.taken += 1
            self.whole(number)
            self.visit(number)
        return answer

    def get(self, client, where: str):
        return self.hold(lambda: client.get(where), "GET", where, {})

    def state(self, number):
        from dorvan.tickets.models import Ticket

        return number and Ticket.objects.filter(number=number).values("part", "version", "place").first()

    def whole(self, number: int):
        """The undo list of a ticket: every place once, and the ticket as its place says."""
        from dorvan.tickets.models import Ticket

        ticket = Ticket.objects.get(number=number)
        places = list(ticket.edits.values_list("place", flat=True))
        here = ticket.edits.filter(place=ticket.place).first()
        if places and (places != list(range(len(places))) or here is None or here.part != ticket.part):
            self.fault("undo list", f"ticket {number}: {places}, at {ticket.place}")

    def visit(self, number: int):
        client = self.rng.choice(self.clients)
        for page in PAGES:
            self.get(client, f"/t/{number}/{page}")
        for ending in FILES:
            answer = self.get(client, f"/t/{number}/file/{ending}/")
            if ending == "csv" and answer.status_code == 200:
                self.cells(answer.content.decode(), f"/t/{number}/file/csv/")

    def cells(self, text: str, where: str):
        for row in csv.reader(io.StringIO(text)):
            for cell in row:
                if cell[:1] in ("=", "@", "+") or (cell[:1] == "-" and not cell[1:2].isdigit()):
                    self.fault("formula", f"{where}: {cell[:80]!r}")

    def hold(self, ask, how, where, form):
        begun, self.trace = Clock(), ""
        answer = ask()
        content = b"" if answer.streaming else answer.content
        self.asked[answer.status_code] += 1
        if answer.status_code >= 500 or self.trace:
            last = self.trace.strip().splitlines()
            place = next((line.strip() for line in reversed(last) if "/dorvan/" in line or "/bendcore/" in line), "")
            self.fault(f"{answer.status_code} {place} {last[-1][:120] if last else ''}",
                       f"{how} {where} {str(form)[:600]}\n{self.trace[-2500:]}")
        if self.nasties.MARK.encode() in content and "html" in answer.get("Content-Type", ""):
            self.fault("unescaped", f"{how} {where} {str(form)[:300]}")
        if "csv" in answer.get("Content-Type", "") and answer.status_code == 200:
            self.cells(content.decode(), where)
        self.within(begun, f"{how} {where} {str(form)[:300]}")
        return answer

    def within(self, begun: "Clock", where: str):
        if begun.is_slow:
            self.fault(f"slow {where[:40]}", f"{begun}: {where}")
        if growth() - self.begun > MOST_MB:
            self.fault("memory", f"{growth() - self.begun:.0f} MB more: {where}")
            self.begun = growth()

    def fault(self, name: str, what: str):
        if name not in self.faults:
            self.faults[name] = what
            print(f"\nFAULT {name}\n{what}", flush=True)


def thought_of(number: int) -> list[str]:
    """Texts and numbers that Hypothesis thinks of."""
    from hypothesis import HealthCheck, Phase, given, seed, settings
    from hypothesis import strategies as st

    found = []

    @seed(number)
    @settings(max_examples=600, deadline=None, database=None, phases=[Phase.generate],
              suppress_health_check=list(HealthCheck))
    @given(st.one_of(st.text(max_size=30), st.floats().map(str), st.decimals(allow_nan=False).map(str),
                     st.from_regex(r"[0-9]{1,3}( [0-9]{1,2}/[0-9]{1,2})?( ?(mm|in|\"))?", fullmatch=True)))
    def think(text):
        found.append(text)

    think()
    return found



def main() -> int:
    wanted = argparse.ArgumentParser(prog="tests.fuzz")
    wanted.add_argument("--seconds", type=float, default=60)
    wanted.add_argument("--answers", type=int, help="end after so many instead, whatever the machine's pace")
    wanted.add_argument("--sweep", action="store_true", help="every field with every value once, whatever it takes")
    wanted.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10 ** 6))
    args = wanted.parse_args()
    os.environ["DORVAN_DATA"] = tempfile.mkdtemp()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "dorvan.settings")
    import django
    from django.conf import settings
    from django.core.management import call_command
    settings.STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
    settings.ALLOWED_HOSTS = ["testserver"]
    logging.disable(logging.CRITICAL)
    django.setup()
    call_command("migrate", verbosity=0)
    from dorvan.longwork.desks import drawings
    drawings.warm()
    from dorvan.tickets.models import Ticket
    how_long = f"{args.answers} answers" if args.answers else f"{args.seconds:g} s"
    print(f"Fuzzing for {how_long} with seed {args.seed}.", flush=True)
    fuzz, end = Fuzz(args.seed), time.monotonic() + args.seconds

    richest = {}  # of each family the ticket with the most fields
    for ticket in Ticket.objects.filter(number__in=fuzz.numbers):
        kind = ticket.part["shape"]["kind"]
        richest[kind] = max(richest.get(kind, ticket), ticket, key=lambda t: len(sweep.standing(t.part)))
    for number in sorted(one.number for one in richest.values()) if args.sweep else ():
        part = Ticket.objects.get(number=number).part
        for changes in sweep.alone(part):
            fuzz.swept(number, part, changes)
        print(number, part["shape"]["kind"], sum(fuzz.asked.values()), len(fuzz.faults), flush=True)
    while not args.sweep and (sum(fuzz.asked.values()) < args.answers if args.answers else time.monotonic() < end):
        fuzz.one()
    print(f"{sum(fuzz.asked.values())} answers {dict(sorted(fuzz.asked.items()))}, {fuzz.taken} changes taken, "
          f"{growth() - fuzz.begun:.0f} MB more; {len(fuzz.faults)} faults, seed {args.seed}")
    return bool(fuzz.faults)


if __name__ == "__main__":
    status = main()
    sys.stdout.flush()
    os._exit(status)  # an order that somebody asked for may take minutes more; nobody waits for it
