"""``make ways``: parts of which no order exists on a brake; is a way out found wherever a setter's change frees one?

What a setter would change is listed here by itself: on the file's own data, one change at a time and then two, each
read and proved anew. Where one of them frees a part, ways out must be found in the time there is; each that changes the
part is taken, and the part must then have the order that was said, at its cost.
"""

import argparse
import copy
import itertools
import json
import random
import sys
import time
from collections import Counter
from collections.abc import Iterator

from bendcore.brakes.brake import Brake, read_brake
from bendcore.errors import Refusal
from bendcore.order.advice.remedies import find_remedies
from bendcore.order.planning import plan_order
from bendcore.order.proof.prover import Prover
from bendcore.order.search.backwards import can_be_bent
from bendcore.order.states.moves import Job
from bendcore.part import read_part
from bendcore.patience import Counted, Patience
from tests.beside import ROOT
from tests.core.guards import random_guard
from tests.core.plates import random_plate
from tests.core.samples import part_file
from tests.core.sleeves import random_sleeve
from tests.core.trays import random_tray

BRAKES = ("press-60t", "finger-1270", "leaf-2000", "bench-bars")
SIZES = ("height", "width", "length", "radius")
FLIPPED = {"in": "out", "out": "in", "front": "left", "left": "front"}
PAIRS, LOOK = 40, 4000
"""So many pairs are tried at most, each for so many steps of the search."""
SECONDS = 4.0
"""So long an order is looked for in the part as it is drawn."""


def strip(rng: random.Random) -> dict:
    """A strip of three to six legs, some with a hem."""
    bends = [(rng.choice([90, 90, 60, 120]), rng.choice(["up", "up", "up", "down"])) for _ in range(rng.randint(3, 5))]
    hem = {"end_hem": {"length": 9, "gap": 1, "direction": "up"}} if rng.random() < 0.3 else {}
    return part_file([rng.randint(14, 90) for _ in range(len(bends) + 1)], bends, width=rng.choice([60, 300]), **hem)


KINDS = {"tray": random_tray, "strip": strip, "plate": random_plate, "guard": random_guard, "sleeve": random_sleeve}


def places(block, way: tuple = ()) -> Iterator[tuple]:
    """(the way to a value below a block, the value), blocks among them."""
    items = block.items() if isinstance(block, dict) else enumerate(block) if isinstance(block, list) else ()
    for key, value in items:
        yield (*way, key), value
        yield from places(value, (*way, key))


def changed(data: dict, way: tuple, value) -> dict:
    """The file with a value put there; taken away where it is None."""
    trial = copy.deepcopy(data)
    block = trial
    for key in way[:-1]:
        block = block[key]
    if value is None:
        del block[way[-1]]
    else:
        block[way[-1]] = value
    return trial


def changes(data: dict) -> list[tuple[str, tuple, object]]:
    """(what it is called, where, the value) of all that a setter would try one by one."""
    found = [("bigger radius", ("inside_radius",), data["inside_radius"] * share) for share in (1.5, 2.5)]
    for way, value in places(data["shape"], ("shape",)):
        key = way[-1]
        is_leg = "legs" in way and isinstance(value, int | float) and (key == "length" or isinstance(key, int))
        if "walls" in way and key == "height" or {"lip", "flanges", "start_flange", "end_flange"} & set(way) and (
                key in SIZES) or is_leg:
            found += [("smaller", way, round(value * share, 3)) for share in (0.75, 0.5)]
        if is_leg:
            found.append(("larger", way, round(value * 1.5, 3)))
        if key in ("direction", "pair") and len(way) > 2 and value in FLIPPED:
            found.append(("the other way", way, FLIPPED[value]))
        if key in ("hem", "end_hem", "start_hem"):
            found.append(("hem apart", way, None))
        if way[-2:] == ("tab", "ease"):
            found += [("eased", way, more) for more in (2.0, 4.0)]
    return found


def is_bent(data: dict, brake: Brake) -> bool:
    """Whether it can be read, and be bent as far as can be seen in some steps."""
    try:
        return can_be_bent(Prover(Job.of(read_part(data), brake)), Counted(LOOK, Patience(120)))
    except Refusal:
        return False


def freed(data: dict, brake: Brake, rng: random.Random) -> str:
    """What frees it, in words; nothing where none of the changes does."""
    single = changes(data)
    for name, way, value in single:
        if is_bent(changed(data, way, value), brake):
            return f"{name} at {'.'.join(map(str, way))}: {value}"
    twos = [(one, other) for one, other in itertools.combinations(single, 2)
            if one[1] != other[1][:len(one[1])] and other[1] != one[1][:len(other[1])]]
    for one, other in rng.sample(twos, min(PAIRS, len(twos))):
        if is_bent(changed(changed(data, *one[1:]), *other[1:]), brake):
            return " and ".join(f"{name} at {'.'.join(map(str, way))}: {value}" for name, way, value in (one, other))
    return ""


def taken(data: dict, remedy) -> dict | None:
    """The part as a way out says; None where that leaves the part as it is, or is handwork."""
    legs = {leg.id: n for n, leg in enumerate(read_part(data).shape.legs)}
    rows = [*remedy.sizes, *remedy.fields, *((f"legs[{legs[name]}]", mm) for name, mm in remedy.legs)]
    if remedy.radius:
        data = changed(data, ("inside_radius",), remedy.radius)
    if not (rows or remedy.radius) or remedy.kind in ("other-fingers", "in-lengths"):
        return None
    for path, value in rows:
        names = path.replace("[", ".").replace("]", "").split(".")
        way = tuple(int(name) if name.isdigit() else name for name in names)
        try:
            data = changed(data, ("shape", *way), value)
        except KeyError:  # a block that is not there yet
            data = changed(data, ("shape", *way[:-1]), {way[-1]: value})
    return data


def main() -> int:
    """Counts parts freed and found; prints what was missed, and fails."""
    wanted = argparse.ArgumentParser(prog="tests.ways")
    wanted.add_argument("--parts", type=int, default=300)
    wanted.add_argument("--seed", type=int, default=1)
    wanted.add_argument("--seconds", type=float, default=30.0, help="for the ways out of each")
    args = wanted.parse_args()
    rng, seen, missed, slow = random.Random(args.seed), Counter(), 0, 0.0
    brakes = {name: read_brake(json.loads((ROOT / "demo" / f"{name}.json").read_text("utf-8"))) for name in BRAKES}
    while seen["parts"] < args.parts:
        kind, name = rng.choice(list(KINDS)), rng.choice(BRAKES)
        data, brake = KINDS[kind](rng), brakes[name]
        try:
            plan = plan_order(read_part(data), brake, patience=Patience(SECONDS))
        except Refusal:
            continue
        if plan.feasible or not plan.optimal:
            continue
        seen["parts"] += 1
        begun = time.monotonic()
        ways = find_remedies(data, brake, brake, plan, patience=Patience(args.seconds)).remedies
        slow = max(slow, time.monotonic() - begun)
        wrong = [way for way in ways if (trial := taken(data, way)) is not None and not is_bent(trial, brake)]
        by = "" if ways else freed(data, brake, rng)
        seen["found" if ways else "missed" if by else "none"] += 1
        seen.update({way.kind for way in ways})
        missed += bool(by) + len(wrong)
        if seen["parts"] % 25 == 0:
            print(f"… {seen['parts']} parts", flush=True)
        if by or wrong:
            print(f"MISSED {kind} on {name}: {by}" if by else f"WRONG {kind} on {name}: {wrong}",
                  f"\n  {json.dumps(data)}", flush=True)
    print(f"{seen.pop('parts')} parts, ways out in {slow:.0f} s at most: {dict(seen)}")
    return bool(missed)


if __name__ == "__main__":
    sys.exit(main())
