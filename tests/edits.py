"""``python -m tests.edits [--against REV]``: what an edit costs the server, this tree beside another commit.

Both run in turns, a round each at a time, since machines are noisy. The parts are those of ``make bench``.
"""

import argparse
import json
import os
import statistics
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
WORKER = r"""
import json, os, sys, time
import django
django.setup()
from django.conf import settings
settings.ALLOWED_HOSTS = ["testserver"]
settings.STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
from django.core.management import call_command
from django.test import Client
from dorvan.people.models import User
from dorvan.tickets.models import Ticket
call_command("migrate", verbosity=0)
me = User.objects.create_user("me", password="two bars and a hammer")
client = Client()
client.force_login(me)
parts = json.loads(sys.stdin.readline())
for number, (part, field, size) in enumerate(parts, 1):
    Ticket.objects.create(number=number, part=part, made_by=me)
n = 0
for line in sys.stdin:
    rows = []
    for number, (part, field, size) in enumerate(parts, 1):
        times = []
        for _ in range(12):
            n += 1
            begun = time.perf_counter()
            answer = client.post(f"/t/{number}/change/", {"action": "set", "field": field,
                                                          "value": f"{size + n % 97 / 97:.4f}",
                                                          "stage": "shape"}, headers={"HX-Request": "true"})
            times.append(time.perf_counter() - begun)
            assert answer.status_code == 200, answer.content[:500]
        rows.append(sorted(times)[len(times) // 2])
    print(json.dumps(rows), flush=True)
"""


def main():
    from tests.bench import flat_of_60, guard_of_60, plate_of_60, strip_of_31
    from tests.core.samples import part_file
    from tests.core.trays import tray_file

    wanted = argparse.ArgumentParser(prog="tests.edits")
    wanted.add_argument("--against", default="HEAD")
    wanted.add_argument("--rounds", type=int, default=10)
    args = wanted.parse_args()
    rim = {"lip": {"width": 14, "direction": "in"}, "hem": {"length": 8, "direction": "in"}}
    tray = tray_file(walls={side: {"height": 40} | rim for side in ("left", "right", "front", "back")})
    parts = {"strip of 5 legs": (part_file([30, 60, 40, 60, 30], [(90, "up")] * 4), "shape.legs[1]", 60),
             "strip of 31 legs": (strip_of_31(), "shape.legs[3]", 28),
             "tray of 13 faces": (tray, "shape.walls.left.height", 60),
             "guard of 60 faces": (guard_of_60(), "shape.edges[1]", 188),
             "drawn flat of 60 faces": (flat_of_60(), "shape.bends[3].angle", 18),
             "plate of 60 faces": (plate_of_60(), "shape.flanges[3].length", 28)}
    with tempfile.TemporaryDirectory() as folder:
        other = Path(folder) / "other"
        subprocess.run(["git", "worktree", "add", "-q", "--detach", str(other), args.against], cwd=ROOT, check=True)
        hands = {}
        for name, tree in (("this", ROOT), ("that", other)):
            data = Path(folder) / f"data-{name}"
            env = os.environ | {"DORVAN_DATA": str(data), "DORVAN_WORKERS": "0",
                                                   "DJANGO_SETTINGS_MODULE": "dorvan.settings"}
            hands[name] = subprocess.Popen([sys.executable, "-W", "ignore", "-c", WORKER], cwd=tree, env=env, text=True,
                                           stdin=subprocess.PIPE, stdout=subprocess.PIPE)
            hands[name].stdin.write(json.dumps(list(parts.values())) + "\n")
        found = {name: [] for name in hands}
        for n in range(args.rounds + 1):
            for name in ("this", "that") if n % 2 else ("that", "this"):
                hands[name].stdin.write("go\n")
                hands[name].stdin.flush()
                rows = json.loads(hands[name].stdout.readline())
                if n:
                    found[name].append(rows)
        for hand in hands.values():
            hand.stdin.close()
            hand.wait()
        subprocess.run(["git", "worktree", "remove", "--force", str(other)], cwd=ROOT, check=True)
    for i, words in enumerate(parts):
        this, that = (statistics.median(rows[i] for rows in found[name]) for name in ("this", "that"))
        ratio = statistics.median(a[i] / b[i] for a, b in zip(found["this"], found["that"], strict=True))
        print(f"  an edit of a {words:24} {1000 * this:6.1f} ms   at {args.against[:9]} {1000 * that:6.1f} ms   "
              f"{ratio:5.2f} of it, round by round")


if __name__ == "__main__":
    main()
