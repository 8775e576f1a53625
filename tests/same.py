"""``make same``: verdicts, costs and orders of random parts of all kinds on all brakes, this tree beside a commit.

The parts are made here and given to both trees as files; each lays them out and looks for their order. Sizes, refusals,
whether an order exists and what it costs must be those of the commit, wherever both came to an end. An order that costs
the same may be another.
"""

import argparse
import json
import os
import random
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator

from tests.beside import ENGINE, REFERENCE, ROOT, tree
from tests.core.guards import random_guard
from tests.core.hard import hard_part
from tests.core.plates import random_plate
from tests.core.samples import part_file
from tests.core.sleeves import random_sleeve
from tests.core.trays import random_tray

BRAKES = ("press-60t", "finger-1270", "leaf-2000", "bench-bars", "folding-tongs")
WORKER = ENGINE + r"""
import json
from bendcore.brakes.brake import read_brake
from bendcore.errors import Refusal
from bendcore.part import read_part

def said(data, brake, seconds, most):
    try:
        part = read_part(data)
        size = [round(float(x), 4) for x in part.flat.size]
    except Refusal:
        return {"verdict": "refused"}
    row = {"size": size, "mass": round(float(part.mass_kg), 6)}
    try:
        job = Job.of(part, read_brake(brake))
        if job.count > most:
            return row | {"verdict": "not asked"}
        found = find(Prover(job), patience=Patience(seconds))
    except Refusal:
        return row | {"verdict": "no order asked"}
    except Exception as error:
        return row | {"verdict": f"crashed: {type(error).__name__} {error}"}
    verdict = "made" if found.complete else "not made"
    return row | {"verdict": verdict, "proven": bool(found.proven), "cost": round(float(found.cost), 4),
                  "bound": round(float(found.bound), 4), "order": [list(map(int, s.before)) for s in found.steps]}

for line in sys.stdin:
    print(json.dumps(said(*json.loads(line))), flush=True)
"""


def strip(rng: random.Random) -> dict:
    """A strip of a few legs, some with a hem."""
    bends = [(rng.choice([90, 90, 90, 60, 45, 120]), rng.choice(["up", "up", "down"]))
             for _ in range(rng.randint(1, 6))]
    hem = {"end_hem": {"length": 9, "gap": rng.choice([0, 1]), "direction": "up"}} if rng.random() < 0.3 else {}
    legs = [rng.randint(12, 70) for _ in range(len(bends) + 1)]
    return part_file(legs, bends, width=rng.choice([60, 300, 900]), **hem)


KINDS = {"strip": strip, "tray": random_tray, "guard": random_guard, "sleeve": random_sleeve, "plate": random_plate,
         "hard": hard_part}

SUITS = {"strip": ("press-60t", "bench-bars", "leaf-2000"), "tray": ("finger-1270",),
         "plate": ("finger-1270", "press-60t")}
"""Where a kind can often be made: most are asked for there."""


def asked(count: int, seed: int) -> Iterator[tuple[str, dict, str]]:
    """(kind, part file, brake) of so many parts."""
    rng = random.Random(seed)
    for n in range(count):
        kind = list(KINDS)[n % len(KINDS)]
        yield kind, KINDS[kind](rng), rng.choice(SUITS.get(kind, BRAKES) if rng.random() < 0.7 else BRAKES)


def differs(here: dict, there: dict) -> str:
    """What is not as it was, in words; nothing where both agree as far as both came."""
    if ("size" in here) != ("size" in there):
        return f"refused {'here' if 'size' in there else 'there'}"
    if here.get("size") != there.get("size") or here.get("mass") != there.get("mass"):
        return f"size {here.get('size')} was {there.get('size')}, mass {here.get('mass')} was {there.get('mass')}"
    ended = all(row.get("proven", True) for row in (here, there))
    if not ended:
        for one, other in ((here, there), (there, here)):
            if one.get("bound", 0) > other.get("cost", 0) + 1e-3 and one["verdict"] == other["verdict"] == "made":
                return f"a bound of {one['bound']} above a cost of {other['cost']}"
            if one.get("proven") and one["verdict"] == "not made" and other["verdict"] == "made":
                return "proven not to be made, and made"
        return ""
    if here["verdict"] != there["verdict"]:
        return f"{here['verdict']}, was {there['verdict']}"
    if here["verdict"] == "made" and abs(here["cost"] - there["cost"]) > 1e-3:
        return f"costs {here['cost']}, was {there['cost']}"
    return ""


def main() -> int:
    """Counts what agrees; prints what does not, with the part, and fails."""
    wanted = argparse.ArgumentParser(prog="tests.same")
    wanted.add_argument("--parts", type=int, default=2000)
    wanted.add_argument("--seed", type=int, default=1)
    wanted.add_argument("--seconds", type=float, default=3.0, help="of each search")
    wanted.add_argument("--most", type=int, default=9, help="bends")
    wanted.add_argument("--against", default=REFERENCE)
    args = wanted.parse_args()
    brakes = {name: json.loads((ROOT / "demo" / f"{name}.json").read_text("utf-8")) for name in BRAKES}
    for data in brakes.values():  # at the costs that both know
        data.pop("costs", None)
    seen: Counter = Counter()
    different = 0
    with tree(args.against) as other, tempfile.TemporaryDirectory() as folder:
        hands = [subprocess.Popen([sys.executable, "-W", "ignore", "-c", WORKER], cwd=at, text=True,
                                  env=os.environ | {"DORVAN_DATA": folder}, stdin=subprocess.PIPE,
                                  stdout=subprocess.PIPE) for at in (ROOT, other)]
        for n, (kind, part, name) in enumerate(asked(args.parts, args.seed), 1):
            for hand in hands:
                hand.stdin.write(json.dumps([part, brakes[name], args.seconds, args.most]) + "\n")
                hand.stdin.flush()
            here, there = (json.loads(hand.stdout.readline()) for hand in hands)
            if what := differs(here, there):
                different += 1
                print(f"DIFFERENT {n} {kind} on {name}: {what}\n  {json.dumps(part)}", flush=True)
            both = all(row.get("proven", True) for row in (here, there))
            seen[f"{kind}, {here['verdict']}{'' if both else ', not to the end'}"] += 1
            seen["another order at the same cost"] += both and here.get("order") != there.get("order")
            if n % 100 == 0:
                print(f"  {n} parts, {different} different", flush=True)
        for hand in hands:
            hand.stdin.close()
            hand.wait()
    for words, count in sorted(seen.items()):
        print(f"  {count:5} {words}")
    print(f"{args.parts} parts, {different} different")
    return bool(different)


if __name__ == "__main__":
    sys.exit(main())
