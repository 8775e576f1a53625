"""``make siege``: hostile files beside people at work, and processes killed while long work is done.

Twelve files made to hang or to eat memory are sent at once, over and over, while four people work: pages stay under
half a second (95 of 100), the server with all its processes under 1.5 GB, and every file is read or refused within
20 s. Then the processes that do long work are killed at any moment, and the server too: what was answered is there,
what was asked for is done in the end without being asked for again.
"""

import argparse
import io
import os
import random
import re
import signal
import sys
import threading
import time
from pathlib import Path

from PIL import Image

from bendcore.formats.export import export
from bendcore.part import read_part
from tests.core.hostile import DRAWINGS
from tests.core.plates import plate_file
from tests.server import Server
from tests.stress import STRIPS, Person, whole

PAGES = ("/", "/t/142/", "/t/142/layout/", "/ledger/", "/stockroom/", "/day/", "/people/sign-in/")
QUICK, MOST_MB, ANSWERED = 0.5, 1500, 20.0


def family(server: Server) -> list[int]:
    """The server's process and all below it."""
    below: dict[int, list[int]] = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                parent = int((entry / "stat").read_text().rpartition(")")[2].split()[1])
            except (OSError, ValueError, IndexError):
                continue
            below.setdefault(parent, []).append(int(entry.name))
    found, todo = [], [server.process.pid]
    while todo:
        found.append(pid := todo.pop())
        todo += below.get(pid, [])
    return found


def megabytes(server: Server) -> float:
    """What they hold together, shared pages counted once a process."""
    total = 0.0
    for pid in family(server):
        try:
            text = Path(f"/proc/{pid}/smaps_rollup").read_text()
            total += int(re.search(r"^Pss:\s+(\d+)", text, re.MULTILINE)[1]) / 1000
        except (OSError, TypeError):
            continue
    return total


def picture() -> bytes:
    """59 million pixels in some hundred kilobytes."""
    out = io.BytesIO()
    Image.new("L", (8000, 7400), 90).save(out, "PNG")
    return out.getvalue()


def hostile(rounds: int) -> list[str]:
    """People at work while such files come in."""
    server, faults, stop = Server(DORVAN_WORKERS="2"), [], threading.Event()
    people = [Person(server.address) for _ in range(4)]
    attackers = [Person(server.address, "ines", "honey-bench-1") for _ in range(12)]
    files = [(name, data) for name, data, _ in DRAWINGS.values()]
    honest = export(read_part(plate_file()), "dxf").encode()
    slowest, most, image = [], [0.0], picture()

    def work(n, person):
        own = random.Random(n)
        while not stop.is_set():
            begun = time.perf_counter()
            person.web.open(server.address + own.choice(PAGES), timeout=60).read()
            person.times.append(time.perf_counter() - begun)
            person.post(f"/t/{STRIPS[n]}/change/", {"action": "set", "field": "name", "value": f"s{own.random():.6f}"})
            stop.wait(own.uniform(0.1, 0.5))

    def watch():
        while not stop.wait(0.5):
            most[0] = max(most[0], megabytes(server))

    def send(attacker, name, data):
        begun, where = time.monotonic(), "/tickets/read-in/"
        text = attacker.post(where, {}, (name, data)) or ""
        while "The drawing is being" in text and time.monotonic() - begun < 60:
            time.sleep(1)
            text = attacker.post(re.search(r'action="(/readings/\d+/look/)"', text)[1], {}) or ""
        slowest.append((time.monotonic() - begun, name, len(data)))

    for person in [*people, *attackers]:
        person.sign_in()
    hands = [threading.Thread(target=work, args=row) for row in enumerate(people)] + [threading.Thread(target=watch)]
    for hand in hands:
        hand.start()
    time.sleep(2)
    for person in people:
        person.times.clear()
    for n in range(rounds):
        wave = [threading.Thread(target=send, args=(attackers[i], name, data + b"\n" * (n + 1))) for i, (name, data) in
                enumerate(files[(n + i) % len(files)] for i in range(12))]  # never quite the one that is known already
        for one in wave:
            one.start()
        begun = time.monotonic()
        people[0].post("/tickets/read-in/", {}, ("honest.dxf", honest))
        passed = time.monotonic() - begun
        people[1].post("/t/142/photograph/keep/", {}, ("big.png", image))
        for one in wave:
            one.join()
        late = max(slowest[-12:])
        print(f"  wave {n + 1}: the last of twelve answered after {late[0]:.1f} s ({late[1]}, {late[2]} bytes), "
              f"an honest drawing after {passed:.1f} s, {most[0]:.0f} MB", flush=True)
    stop.set()
    for hand in hands:
        hand.join()
    times = sorted(t for p in people for t in p.times)
    within = times[int(0.95 * (len(times) - 1))]
    print(f"  {len(times)} answers to people, 95 % within {1000 * within:.0f} ms, slowest {times[-1]:.1f} s; at most "
          f"{most[0]:.0f} MB", flush=True)
    faults += [f"{what}" for p in [*people, *attackers] for what in p.failed if what.startswith("5")]
    faults += [f"{name} ({size}) answered after {took:.1f} s" for took, name, size in slowest if took > ANSWERED]
    faults += [f"95 % within {within:.2f} s"] * (within > QUICK) + [f"{most[0]:.0f} MB"] * (most[0] > MOST_MB)
    server.kill()
    return faults


def long_work(times: int, seed: int) -> list[str]:
    """Six people: all change a ticket of their own, two ask for orders, plans and drawings as well, while workers and
    the server are killed; nobody asks twice."""
    rng, server, faults = random.Random(seed), Server(DORVAN_WORKERS="2"), []
    people = [Person(server.address) for _ in range(6)]
    for person in people:
        person.sign_in()
    drawing = export(read_part(plate_file()), "dxf").encode()
    answered: set[str] = set()
    for n in range(times):
        stop = threading.Event()

        def work(who, person, n=n, stop=stop, answered=answered):
            turn = 0
            while not stop.is_set():
                turn += 1
                name = f"w{who}-{n}-{turn}"
                form = {"action": "set", "field": "name", "value": name}
                if person.post(f"/t/{STRIPS[who]}/change/", form) is not None:
                    answered.add(name)
                if who > 1:
                    stop.wait(0.2)  # a person's pause
                    continue
                for number in (136, 142, 150, 152):
                    person.post(f"/t/{number}/order/try/", {"names": ""})
                person.post("/tickets/read-in/", {}, (f"{name}.dxf", drawing + f"999\n{name}\n".encode()))
                person.post("/day/new/", {"t136": "on", "t142": "on", "t150": "on", "m136": str(1 + turn % 99)})
                person.post("/day/", {})

        hands = [threading.Thread(target=work, args=row) for row in enumerate(people)]
        for hand in hands:
            hand.start()
        time.sleep(rng.uniform(0.2, 2.0))
        if n % 2:
            workers = family(server)[1:]
            for pid in rng.sample(workers, min(2, len(workers))):
                try:
                    os.kill(pid, signal.SIGKILL)
                except ProcessLookupError:
                    continue
            time.sleep(0.5)
        else:
            server.kill()
        stop.set()
        for hand in hands:
            hand.join()
        if n % 2 == 0:
            server.start()
        faults += [f"kill {n}: {what}" for what in whole(server)]
        for person in people:
            faults += [f"kill {n}: {what}" for what in person.failed if what[:3] in ("500", "502")]
            person.failed.clear()
        with server.database() as shop:
            there = {row[0] for row in shop.execute("SELECT json_extract(part, '$.name') FROM tickets_edit")}
        if lost := answered - there:
            faults.append(f"kill {n}: {sorted(lost)[:3]} lost")
            answered &= there
        if n % 10 == 9 or n + 1 == times:
            print(f"  {n + 1} kills, {len(answered)} answered, {len(faults)} faults", flush=True)
    until = time.monotonic() + 180
    left = None
    while time.monotonic() < until and left != 0:
        time.sleep(1)
        with server.database() as shop:
            left = shop.execute("SELECT count(*) FROM longwork_asked").fetchone()[0]
    if left:
        faults.append(f"{left} pieces of long work asked for were never done")
    print(f"  long work left after the last kill: {left}", flush=True)
    server.kill()
    return faults


def main() -> int:
    """Prints what was seen; fails where anything is out of its bounds."""
    wanted = argparse.ArgumentParser(prog="tests.siege")
    wanted.add_argument("--waves", type=int, default=6)
    wanted.add_argument("--kills", type=int, default=200)
    wanted.add_argument("--seed", type=int, default=1)
    asked = wanted.parse_args()
    faults = hostile(asked.waves) if asked.waves else []
    faults += long_work(asked.kills, asked.seed) if asked.kills else []
    for what in faults[:40]:
        print(f"FAULT {what}")
    print(f"{len(faults)} faults")
    return bool(faults)


if __name__ == "__main__":
    sys.exit(main())
