"""``make doubts``: brakes with one size wrong in the model; is it named by three parts that were bent on the true one?

Truth and model are files of the same kind; the parts are trays and sections that the true brake just makes, or just
does not. At least one of the three must show the fault, or nobody could know of it.
"""

import argparse
import random
import time

from bendcore.brakes.brake import read_brake
from bendcore.brakes.measured.described import KINDS, begun, taken, with_size
from bendcore.brakes.measured.measure import Unit
from bendcore.errors import Refusal
from bendcore.order.advice.doubts import OUTSIDE, Seen, disagreeing, doubts
from bendcore.order.search.backwards import fits
from bendcore.part import read_part
from tests.core.samples import part_file
from tests.core.trays import tray_file

POOL = 8
LOW, HIGH, NEAR = 30.0, 170.0, 2.0
"""Between which sizes a part's limit is looked for, and how near to it parts are, mm."""
SIDES = ("left", "right", "front", "back")


def brake_of(kind: str, rng: random.Random) -> dict:
    """A brake with every size measured, some way off the common one."""
    data = begun(KINDS[kind], f"A {kind}", "mm")
    for row in taken(data, "mm"):
        one, unit = row.measure, " kN" if row.measure.unit is Unit.FORCE else ""
        off = rng.uniform(0.85, 1.15) if one.unit is Unit.LENGTH and one.name not in OUTSIDE else 1.0
        for value in (row.value * off, row.value):
            try:
                data = with_size(data, one.name, f"{value:.3f}{unit}", "mm")
                break
            except Refusal:  # does not go with those before it: the common size, or none measured
                continue
    return data


def shape_of(kind: str, rng: random.Random):
    """A part file by one size of it, mm: the wall of a tray, or a leg of a section, all else as it falls."""
    if kind == "finger" and rng.random() < 0.4:
        length, width = rng.uniform(90, 260), rng.uniform(90, 260)
        return lambda size: tray_file(length=length, width=width, walls={side: {"height": size} for side in SIDES})
    legs = rng.choice((3, 3, 4))
    sizes = [round(rng.uniform(14, 90), 1) for _ in range(legs)]
    way = rng.choice((["up"] * 4, ["up", "down"] * 2, ["up", "up", "down", "down"]))
    angles = [rng.choice((90, 90, 90, 120, 45)) for _ in range(legs - 1)]
    place = rng.randrange(legs)
    return lambda size: part_file([size if n == place else own for n, own in enumerate(sizes)],
                                  list(zip(angles, way, strict=False)))


def at_the_limit(shape, true) -> list[tuple]:
    """The part that just fits on the true brake, and the one that just meets it; none where no limit is met."""
    def tried(size):
        part = read_part(shape(round(size, 2)))
        return part, fits(part, true)

    try:
        (one, low), (other, high) = tried(LOW), tried(HIGH)
        ends = [LOW, HIGH]
        if low == high:
            return []
        while ends[1] - ends[0] > NEAR:
            middle = sum(ends) / 2
            part, can = tried(middle)
            if can == low:
                ends[0], one = middle, part
            else:
                ends[1], other = middle, part
    except Refusal:
        return []
    return [(one, low), (other, high)]


def one_brake(rng: random.Random, kinds):
    """(kind, truth, model, the size that is wrong, three parts as they were seen)."""
    while True:
        kind = rng.choice(kinds)
        truth = brake_of(kind, rng)
        true, pool = read_brake(truth), []
        while len(pool) < POOL:
            pool += at_the_limit(shape_of(kind, rng), true)
        rows = [row for row in taken(truth, "mm")
                if row.measure.unit is Unit.LENGTH and row.measure.name not in OUTSIDE]
        for row in rng.sample(rows, min(8, len(rows))):
            off = rng.choice((-1, 1)) * rng.uniform(2, 12)
            try:
                model = with_size(truth, row.measure.name, f"{row.value + off:.3f}", "mm")
            except Refusal:
                continue
            told = read_brake(model)
            shown = [(part, fitted) for part, fitted in pool if fits(part, told) != fitted]
            if shown:
                others = [entry for entry in pool if entry not in shown]
                some = [*shown[:2], *rng.sample(others, min(3, len(others)))][:3]
                seen = [Seen(f"part {n}", part, fitted) for n, (part, fitted) in enumerate(some)]
                return kind, truth, model, row.measure.name, seen


def main():
    wanted = argparse.ArgumentParser(prog="tests.doubts")
    wanted.add_argument("--brakes", type=int, default=60)
    wanted.add_argument("--seed", type=int, default=1)
    wanted.add_argument("--kinds", default="finger,leaf,press,bars")
    args = wanted.parse_args()
    rng, begun_at, first, named, spoken = random.Random(args.seed), time.monotonic(), 0, 0, 0
    for n in range(args.brakes):
        kind, truth, model, name, seen = one_brake(rng, args.kinds.split(","))
        at = time.monotonic()
        found = [doubt.name for doubt in doubts(model, seen, disagreeing(model, seen))]
        first, named = first + (found[:1] == [name]), named + (name in found[:2])
        spoken += bool(disagreeing(truth, seen))
        word = "named" if name in found[:2] else "MISSED"
        told = ", ".join(found[:4]) or "none"
        print(f"  {n:3} {kind:7} {name:14} {time.monotonic() - at:5.1f} s  {word} among {told}", flush=True)
    print(f"{named} of {args.brakes} among the first two, {first} the first; {spoken} named where the model is true; "
          f"{time.monotonic() - begun_at:.0f} s")


if __name__ == "__main__":
    main()
