"""``make stress``: people at work while the server is killed, and many of them at once.

A real server with its real database, clients that sign in and edit, tick and save like browsers do. Whatever was
answered with success must be there afterwards; integrity, foreign keys and undo lists must be whole; no lock error,
and 95 of 100 answers within 200 ms.
"""

import argparse
import http.cookiejar
import json
import random
import re
import sys
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
import uuid
from http.client import HTTPException

from bendcore.formats.export import export
from bendcore.part import read_part
from tests.core.plates import plate_file
from tests.server import Server

STRIPS = (141, 142, 143, 144, 145, 146, 147, 148)
QUICK = 0.2


class Person(urllib.request.HTTPRedirectHandler):
    """A browser without a window: signs in, and keeps count of what was answered."""

    def __init__(self, address: str, name="otto", word="honey-lead-1"):
        self.address, self.name, self.word = address, name, word
        self.jar = http.cookiejar.CookieJar()
        self.web = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar), self)
        self.times: list[float] = []
        self.begun = 0.0
        self.failed: list[str] = []

    def sign_in(self):
        page = self.web.open(f"{self.address}/people/sign-in/", timeout=10).read().decode()
        if "csrfmiddlewaretoken" in page:
            self.post("/people/sign-in/", {"username": self.name, "password": self.word})
        self.times.clear()

    def post(self, where: str, form: dict, files: tuple = ()) -> str | None:
        """The answer's text, or None when there was none; anything but success is noted."""
        token = next((c.value for c in self.jar if c.name == "csrftoken"), "")
        headers = {"X-CSRFToken": token, "Referer": self.address, "HX-Request": "true"} if "sign-in" not in where else {
            "X-CSRFToken": token, "Referer": self.address}
        if files:
            name, content = files
            edge = "----edge"
            body = (f"--{edge}\r\nContent-Disposition: form-data; name=\"file\"; filename=\"{name}\"\r\n\r\n".encode()
                    + content + f"\r\n--{edge}--\r\n".encode())
            headers["Content-Type"] = f"multipart/form-data; boundary={edge}"
        else:
            body = urllib.parse.urlencode(form).encode()
        self.begun = time.perf_counter()
        try:
            answer = self.web.open(urllib.request.Request(self.address + where, body, headers), timeout=30)
            text = answer.read().decode()
        except urllib.error.HTTPError as error:
            try:
                said = error.read()[:200]
            except HTTPException:
                said = b"cut off"
            self.failed.append(f"{error.code} {where} {said!r}")
            return None
        except (OSError, ValueError, EOFError, HTTPException):
            return None  # killed under our hands
        self.times.append(time.perf_counter() - self.begun)
        return text

    def redirect_request(self, *args):
        """One answer was got; the page it leads to is another request."""
        self.times.append(time.perf_counter() - self.begun)
        self.begun = time.perf_counter()
        return super().redirect_request(*args)


def whole(server: Server) -> list[str]:
    """What is not as it must be in the shop's file."""
    found = []
    with server.database() as shop:
        if shop.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
            found.append("integrity")
        if shop.execute("PRAGMA foreign_key_check").fetchone():
            found.append("foreign keys")
        for pk, number, place, part in shop.execute("SELECT id, number, place, part FROM tickets_ticket"):
            edits = shop.execute(
                "SELECT place, part FROM tickets_edit WHERE ticket_id = ? ORDER BY place", (pk,)).fetchall()
            if edits and ([p for p, _ in edits] != list(range(len(edits))) or edits[place][1] != part):
                found.append(f"undo list of {number}")
    return found


def kept(server: Server, number: int) -> tuple[set[str], set[float]]:
    """Names ever given to a ticket, and angles ever ticked off on it."""
    with server.database() as shop:
        names = {re.search(r'"name": "([^"]*)"', part)[1] for (part,) in shop.execute(
            "SELECT e.part FROM tickets_edit e JOIN tickets_ticket t ON t.id = e.ticket_id WHERE t.number = ?",
            (number,))}
        angles = {a for (a,) in shop.execute(
            "SELECT r.angle FROM floor_steprecord r JOIN floor_run u ON u.id = r.run_id JOIN tickets_revision v ON "
            "v.id = u.revision_id JOIN tickets_ticket t ON t.id = v.ticket_id WHERE t.number = ?", (number,))}
    return names, angles


def released(server: Server) -> list[int]:
    with server.database() as shop:
        return [n for (n,) in shop.execute("SELECT DISTINCT t.number FROM tickets_ticket t JOIN tickets_revision v "
                                           "ON v.ticket_id = t.id")]


def kills(times: int, seed: int) -> list[str]:
    """Four people edit, tick and save; the server is killed at any moment, ``times`` times."""
    rng, server, faults = random.Random(seed), Server(), []
    floor = released(server)
    answered: dict[int, tuple[set, set]] = {n: (set(), set()) for n in STRIPS}
    answered |= {n: (set(), set()) for n in floor}

    def work(person, numbers, stop, own):
        n = 0
        while not stop.is_set():
            number = own.choice(numbers)
            n += 1
            name, angle = f"p{id(person) % 997}-{n}-{own.randrange(10 ** 6)}", round(own.uniform(80, 95), 4)
            if number in floor and own.random() < 0.5:
                if person.post(f"/t/{number}/bend/record/", {"piece": 1, "step": 1, "angle": angle}) is not None:
                    answered[number][1].add(angle)
            elif person.post(f"/t/{number}/change/", {"action": "set", "field": "name", "value": name}) is not None:
                answered[number][0].add(name)

    people = [Person(server.address) for _ in range(4)]
    for person in people:
        person.sign_in()  # once: a kill signs nobody out
    begun = time.monotonic()
    for n in range(times):
        stop = threading.Event()
        # every one has a ticket to himself; on one shared by all, undone edits would go as they should
        shares = [[STRIPS[i], floor[i % len(floor)]] if i < len(floor) else [STRIPS[i]] for i in range(4)]
        hands = [threading.Thread(target=work, args=(p, s, stop, random.Random(rng.random())))
                 for p, s in zip(people, shares, strict=True)]
        for hand in hands:
            hand.start()
        time.sleep(rng.uniform(0.05, 3.0))
        server.kill()
        stop.set()
        for hand in hands:
            hand.join()
        server.start()
        faults += [f"kill {n}: {what}" for what in whole(server)]
        for number, (names, angles) in answered.items():
            there = kept(server, number)
            if lost := (names - there[0]) | (angles - there[1]):
                faults.append(f"kill {n}: ticket {number} lost {sorted(map(str, lost))[:4]}")
                names &= there[0]
                angles &= there[1]
        for person in people:
            faults += [f"kill {n}: {what}" for what in person.failed if not what.startswith("503")]
            person.failed.clear()
        if n % 10 == 9:
            print(f"  {n + 1} kills, {sum(len(a) + len(b) for a, b in answered.values())} answered, "
                  f"{len(faults)} faults, {time.monotonic() - begun:.0f} s", flush=True)
    server.kill()
    return faults


def together(seconds: float, shared: bool, slow: bool) -> list[str]:
    """Eight people on eight tickets, or four on one; beside them, if asked, one slow reading after another."""
    server, faults = Server(), []
    count = 4 if shared else 8
    people = [Person(server.address) for _ in range(count)]
    sent: dict[int, set] = {n: set() for n in STRIPS}
    stop = threading.Event()

    def work(i, person):
        own, n = random.Random(i), 0
        while not stop.is_set():
            number, name = STRIPS[0] if shared else STRIPS[i], f"q{i}-{n}"
            n += 1
            if person.post(f"/t/{number}/change/", {"action": "set", "field": "name", "value": name}) is not None:
                sent[number].add(name)
            time.sleep(own.uniform(0.3, 0.9))  # a person's pause

    def read():
        reader = Person(server.address)
        reader.sign_in()
        holes = [{"x": 4 + 7 * (n % 20), "y": 30 + 7 * (n // 20), "diameter": 4} for n in range(180)]
        drawing = export(read_part(plate_file(holes=holes)), "dxf").encode()
        while not stop.is_set():
            reader.post("/tickets/read-in/", {}, ("plate.dxf", drawing))
            stop.wait(3)
        faults.extend(f"reader: {what}" for what in reader.failed)

    for person in people:
        person.sign_in()
        person.post(f"/t/{STRIPS[0]}/change/", {"action": "set", "field": "name", "value": "warm"})
        person.times.clear()
    hands = [threading.Thread(target=work, args=(i, p)) for i, p in enumerate(people)]
    hands += [threading.Thread(target=read)] if slow else []
    for hand in hands:
        hand.start()
    time.sleep(seconds)
    stop.set()
    for hand in hands:
        hand.join()
    faults += [what for p in people for what in p.failed]
    faults += whole(server)
    for number, names in sent.items():
        if lost := names - kept(server, number)[0]:
            faults.append(f"ticket {number} lost {sorted(lost)[:5]}")
    times = sorted(t for p in people for t in p.times)
    within = times[int(0.95 * (len(times) - 1))]
    words = f"{count} people on {'one ticket' if shared else 'eight tickets'}"
    words += ", a slow reading beside them" if slow else ""
    print(f"  {words:62} {len(times)} answers, 95 % within {1000 * within:.0f} ms, slowest {1000 * times[-1]:.0f} ms, "
          f"{len(faults)} faults", flush=True)
    server.kill()
    return faults + ([f"{words}: 95 % within {1000 * within:.0f} ms"] if within > QUICK else [])


RELEASED = ("import json, sys; from dorvan.longwork.desks import orders; orders.patience = None; "
            "from dorvan.tickets.models import Revision, Ticket; "
            "from dorvan.people.models import User; me = User.objects.first(); twin = Ticket.objects.get(number=142); "
            "[Revision.frozen(t, t.ordered, me).save() for t in [Ticket.objects.create(number=n, part=twin.part, "
            "quantity=500, brake=twin.brake, punch=twin.punch, die=twin.die, made_by=me) "
            "for n in json.load(sys.stdin)]]")
TABLETS = tuple(range(950, 958))


def tablets(seconds: float) -> list[str]:
    """Eight tablets at eight runs; one is cut off for half of the time, and then sends all it kept, twice."""
    server, faults = Server(), []
    server.shell(RELEASED, json.dumps(TABLETS))
    people = [Person(server.address) for _ in TABLETS]
    sent: dict[str, float] = {}
    begun = time.monotonic()

    def work(i, person):
        own, kept, n = random.Random(i), [], 0
        while time.monotonic() < begun + seconds or kept:
            piece, step = divmod(n, 4)
            form = {"piece": piece + 1, "step": step + 1, "angle": round(own.uniform(88, 92), 2),
                    "key": str(uuid.uuid4())}
            n += 1
            away = i == 0 and 0.25 < (time.monotonic() - begun) / seconds < 0.75
            if away:
                kept.append(form)
            else:
                late = len(kept)
                for one in [*kept, *kept, form]:
                    if person.post(f"/t/{TABLETS[i]}/bend/record/", one) is not None:
                        sent[one["key"]] = one["angle"]
                    if late:
                        time.sleep(0.3)  # as the card does
                kept = []
            time.sleep(own.uniform(0.3, 0.9))

    for person in people:
        person.sign_in()
        for step in range(1, 5):
            person.web.open(f"{server.address}/t/950/bend/?piece=1&step={step}", timeout=30).read()
    hands = [threading.Thread(target=work, args=row) for row in enumerate(people)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    faults += [what for p in people for what in p.failed] + whole(server)
    with server.database() as shop:
        there = shop.execute("SELECT key, angle FROM floor_steprecord WHERE key IS NOT NULL").fetchall()
    found = {str(uuid.UUID(key)): angle for key, angle in there}
    if len(found) != len(there) or found != sent:
        faults.append(f"{len(sent)} sent, {len(there)} kept, {len(set(sent) - set(found))} lost")
    times = sorted(t for p in people for t in p.times)
    within = times[int(0.95 * (len(times) - 1))]
    words = f"eight tablets at eight runs, one cut off for {seconds / 2:.0f} s"
    print(f"  {words:62} {len(sent)} entries, 95 % within {1000 * within:.0f} ms, "
          f"slowest {1000 * times[-1]:.0f} ms, {len(faults)} faults", flush=True)
    server.kill()
    return faults + ([f"tablets: 95 % within {1000 * within:.0f} ms"] if within > QUICK else [])


def main() -> int:
    wanted = argparse.ArgumentParser(prog="tests.stress")
    wanted.add_argument("--kills", type=int, default=200)
    wanted.add_argument("--seconds", type=float, default=120)
    wanted.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10 ** 6))
    args = wanted.parse_args()
    faults = []
    print(f"Many at once, {args.seconds:g} s each", flush=True)
    for shared, slow in ((False, False), (True, False), (False, True)) if args.seconds else ():
        faults += together(args.seconds, shared, slow)
    if args.seconds:
        faults += tablets(args.seconds)
    if args.kills:
        print(f"{args.kills} kills, seed {args.seed}", flush=True)
        faults += kills(args.kills, args.seed)
    for what in faults[:40]:
        print(f"FAULT {what}")
    print(f"{len(faults)} faults")
    return bool(faults)


if __name__ == "__main__":
    sys.exit(main())
