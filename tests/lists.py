"""``make lists``: random cut lists beside a judge that only tries its luck, for a minute each.

Half of them are sheets parted at random, so that it is known that all goes on as many; of the others the judge lays the
pieces in random order, over and over, and keeps its best. It shares no code with the planner. A fault is a piece left
out (or a sheet opened beyond what is at hand) that the judge places, a bound above what the judge needs, and a nest
whose drawing, read back by ezdxf, has other contours than its blanks.
"""

import argparse
import io
import random
import sys
import time
from collections import Counter

import ezdxf
from shapely import Polygon

from bendcore.cutting.anyplace import saw_plan
from bendcore.cutting.guillotine import shear_plan
from bendcore.cutting.pieces import Piece, Stock
from bendcore.cutting.plan import faults
from bendcore.cutting.shapes import cutter_plan
from bendcore.formats.nest import to_nest
from bendcore.layout.linework import linework
from bendcore.part import read_part
from tests.core.plates import plate_file

WAYS = {"shear": shear_plan, "saw": saw_plan, "cutter": cutter_plan}
HOLES = ({"x": 20, "y": 20, "diameter": 8}, {"x": 60, "y": 30, "diameter": 12})


def holed() -> dict:
    """A plate with two holes."""
    plate = plate_file()
    plate["shape"]["holes"] = list(HOLES)
    return plate


def parted(rng: random.Random, cuts: int) -> list[tuple[float, float]]:
    """A sheet of 2000 × 1000 parted at random, a little room kept beside every cut."""
    regions = [(2000.0, 1000.0)]
    for _ in range(cuts):
        a, b = regions.pop(rng.randrange(len(regions)))
        share = rng.uniform(0.3, 0.7)
        regions += [(a * share, b), (a - a * share, b)] if a > b else [(a, b * share), (a, b - b * share)]
    return [(a - rng.uniform(10, 40), b - rng.uniform(10, 40)) for a, b in regions]


class Judge:
    """Lays rectangles in random order on ``sheets`` (length, width, grain along the length), ``through`` when they must
    be cut edge to edge; nothing else is known to it."""

    def __init__(self, rng, pieces, sheets, kerf, margin, through):
        self.rng, self.kerf, self.through = rng, kerf, through
        self.rooms = [(a - 2 * margin + kerf, b - 2 * margin + kerf, along) for a, b, along in sheets]
        self.pieces = [(p.length + kerf, p.width + kerf, p.tied) for p in pieces]

    def ways(self, piece, along):
        a, b, tied = piece
        if not tied:
            return [(a, b), (b, a)]
        return [(a, b)] if (tied == "along") == along else [(b, a)]

    def once(self, count: int) -> int:
        """How many pieces one try places on the first ``count`` sheets."""
        noise = self.rng.choice([0.05, 0.3, 1.0])
        order = sorted(self.pieces, key=lambda p: -(p[0] * p[1]) * (1 + noise * self.rng.random()))
        free = [[(0.0, 0.0, a, b)] for a, b, _ in self.rooms[:count]]
        placed = 0
        for piece in order:
            choices = []
            for n, (_, _, along) in enumerate(self.rooms[:count]):
                for long, wide in self.ways(piece, along):
                    choices += [(min(r[2] - long, r[3] - wide), n, r, long, wide) for r in free[n]
                                if r[2] >= long - 1e-9 and r[3] >= wide - 1e-9]
            if not choices:
                continue
            placed += 1
            choices.sort(key=lambda c: c[0])
            _, n, r, long, wide = choices[0 if self.rng.random() < 0.8 else self.rng.randrange(len(choices))]
            self.taken(free[n], r, long, wide)
        return placed

    def taken(self, free, r, long, wide):
        x, y, a, b = r
        if self.through:
            free.remove(r)
            upright = (a - long < b - wide) ^ (self.rng.random() < 0.3)
            free += ([(x + long, y, a - long, wide), (x, y + wide, a, b - wide)] if upright else
                     [(x + long, y, a - long, b), (x, y + wide, long, b - wide)])
            return
        left, right, low, high = x, x + long, y, y + wide
        for other in list(free):  # every free rectangle kept as large as it is
            ox, oy, oa, ob = other
            if ox < right and left < ox + oa and oy < high and low < oy + ob:
                free.remove(other)
                free += [f for f in ((ox, oy, left - ox, ob), (right, oy, ox + oa - right, ob),
                                     (ox, oy, oa, low - oy), (ox, high, oa, oy + ob - high))
                         if f[2] > 1e-9 and f[3] > 1e-9]
        free[:] = [f for n, f in enumerate(free) if not any(
            m != n and g[0] <= f[0] and g[1] <= f[1] and g[0] + g[2] >= f[0] + f[2] and g[1] + g[3] >= f[1] + f[3]
            and (g != f or m < n) for m, g in enumerate(free))]

    def fewest(self, at_most: int, least: int, seconds: float) -> int | None:
        """The fewest sheets that hold all of it, found within so long; None where it found none."""
        best, end = None, time.monotonic() + seconds
        while time.monotonic() < end and (best is None or best > least):
            goal = at_most if best is None else best - 1
            if self.once(goal) == len(self.pieces):
                best = goal
        return best


def read_back(plan, of) -> bool:
    """Whether every contour of every blank is on its sheet's drawing, by lengths and areas of ezdxf's reading."""
    drawn = {one.piece.id: linework(of) for one in plan.placed}
    for n in range(len(plan.sheets)):
        space = ezdxf.read(io.StringIO(to_nest(plan, n, drawn))).modelspace()
        rings = Counter(round(Polygon([p[:2] for p in e.get_points("xy")]).area, 1)
                        for e in space.query('LWPOLYLINE[layer=="CUT"]'))
        rounds = Counter(round(e.dxf.radius, 3) for e in space.query('CIRCLE[layer=="CUT"]'))
        on = sum(one.sheet == n for one in plan.placed)
        outer = round(Polygon(of.flat.outline).area, 1)
        holes = Counter(round(h["diameter"] / 2, 3) for h in HOLES)
        if rings[outer] != on or rounds != Counter({r: c * on for r, c in holes.items()}):
            return False
    return True


def a_list(rng: random.Random, number: int):
    """(way, pieces, stock, kerf, margin, how many sheets are known to do or None)."""
    way = ("shear", "saw", "cutter", "shear")[number % 4]
    if number % 2 == 0:
        count = rng.randint(1, 3)
        sizes = [size for _ in range(count) for size in parted(rng, rng.randint(3, 8))]
        return way, [Piece(f"p{i}", "p", *size) for i, size in enumerate(sizes)], count, 0.0, 0.0, count
    pieces = [Piece(f"p{n}", "p", round(rng.uniform(120, 900), 1), round(rng.uniform(80, 500), 1), (),
                    rng.choice(["", "", "along", "across"])) for n in range(rng.randint(6, 30))]
    need = sum(p.area for p in pieces) / 2e6
    count = max(1, round(need + rng.choice([0.1, 0.6, 1.0])))
    return way, pieces, count, rng.choice([0, 1.5]), rng.choice([0, 6]), None


def judged(rng, number, seconds) -> tuple[str, list[str]]:
    """(what was seen, the faults)."""
    way, pieces, count, kerf, margin, known = a_list(rng, number)
    stock = Stock("A", 2000, 1000, count)
    plan = WAYS[way](pieces, [stock], kerf, margin, **({} if way == "cutter" else {"seconds": 4}))
    wrong = [str(found) for found in faults(plan.sheets, plan.placed, kerf, margin)]
    least = max(1, -(-int(sum(p.area for p in pieces)) // 2_000_000))
    judge = Judge(rng, pieces, [(2000, 1000, True)] * count, kerf, margin, way == "shear")
    best = known if known == least else judge.fewest(known or count, least, seconds)
    best = best or known
    if plan.unplaced and best:
        wrong.append(f"{len(plan.unplaced)} left out, all placed by the judge on {best}")
    if best and plan.least.stock > best:
        wrong.append(f"bound {plan.least.stock}, the judge needs {best}")
    if way == "cutter":
        of = read_part(holed())
        long, wide = of.flat.size
        nest = cutter_plan([Piece(f"n{i}", "n", long, wide, tuple(of.flat.outline), "",
                                  tuple(tuple(h.outline()) for h in of.flat.holes)) for i in range(rng.randint(2, 9))],
                           [stock], kerf or 0.2, margin)
        wrong += [] if nest.placed and read_back(nest, of) else ["a nest is not read back whole"]
    more = len(plan.sheets) - best if best and not plan.unplaced else 0
    seen = f"{len(plan.sheets)} sheets, bound {plan.least.stock}, judge {best}, +{more}"
    return f"{way} {len(pieces)} pieces: {seen}", wrong


def main():
    """Prints what each list came to; fails where one has a fault."""
    asked = argparse.ArgumentParser()
    asked.add_argument("--lists", type=int, default=200)
    asked.add_argument("--first", type=int, default=0)
    asked.add_argument("--seconds", type=float, default=60)
    asked.add_argument("--seed", type=int, default=1)
    asked = asked.parse_args()
    faulty = 0
    for number in range(asked.first, asked.lists):
        said, wrong = judged(random.Random(asked.seed * 1000 + number), number, asked.seconds)
        faulty += bool(wrong)
        print(number, said, *wrong, sep=" | " if wrong else " ", flush=True)
    print(f"{asked.lists - asked.first} lists, {faulty} with a fault")
    sys.exit(bool(faulty))


if __name__ == "__main__":
    main()
