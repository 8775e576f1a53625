"""Moves proved in a part's section say the same as face by face: of strips, hems, on every kind of brake."""

import random
import unittest

from bendcore.errors import Refusal
from bendcore.order.proof.prover import Prover
from bendcore.order.states.moves import SIDES, Job, Move
from bendcore.part import read_part
from tests.core.plates import plate_file
from tests.core.samples import brake, part_file, press

STATES = 400


class FaceByFace(Prover):
    """Never in a section: the judge."""

    def stand(self, move):
        return None


def random_strip(rng: random.Random) -> dict:
    """Two to nine bends, some with hems, long or short along the bend, of thin or thicker metal."""
    t, n = rng.choice([0.7, 1.0, 2.0]), rng.randint(2, 9)
    return _strip(rng, t, [rng.uniform(14 * t, 70) for _ in range(n + 1)], rng.choice([40, 300, 900, 1240]))


def narrow_strip(rng: random.Random) -> dict:
    """Two to four bends so near together that a flat between them may be too short to hold or to lie in the V."""
    t = rng.choice([0.7, 1.0])
    return _strip(rng, t, [rng.uniform(4 * t, 26) for _ in range(rng.randint(3, 5))], rng.choice([40, 300]))


def large_strip(rng: random.Random) -> dict:
    """Two or three bends between legs that reach the frames of a press and the clamps of a hand brake, or past them."""
    return _strip(rng, 1.0, [rng.choice([30, 60, rng.uniform(120, 520)]) for _ in range(rng.randint(3, 4))],
                  rng.choice([40, 300, 1590, 1610]))


def _strip(rng, t, legs, width) -> dict:
    n = len(legs) - 1
    bends = [(rng.choice([90, 90, 60, 45, 30, 120]), rng.choice(["up", "up", "down"])) for _ in range(n)]
    hem = {"length": 12 * t, "gap": rng.choice([0, t]), "direction": rng.choice(["up", "down"])}
    extra = {f"{end}_hem": hem for end in ("start", "end") if rng.random() < 0.25}
    return part_file(legs, bends, thickness=t, radius=rng.choice([1.2, 2.5]) * t, width=width, **extra)


def random_brake(rng: random.Random):
    return rng.choice([
        lambda: press(["Straight 85"], ["V 8"]), lambda: press(["Swan neck 85"], ["V 8"]),
        lambda: press(["Straight 85", "Swan neck 85"], ["V 6", "V 8"]), lambda: press(None, None),
        lambda: brake("finger-1270"), lambda: brake("leaf-2000"), lambda: brake("bench-bars")])()


def random_states(rng: random.Random, job: Job, count: int):
    """(levels, move) of states, likely or not."""
    for _ in range(count):
        i = rng.randrange(job.count)
        to = rng.choice(job.stages(i))
        before = max((level for level in (0, *job.stages(i)) if level < to), default=0)
        share = rng.random()
        levels = tuple(before if j == i else rng.choice(job.stages(j)) if rng.random() < share else 0
                       for j in range(job.count))
        yield levels, Move(0, (i,), to, rng.choice(SIDES))


def unlike(seed: int, states: int, each: int = 25, make=random_strip) -> tuple[int, int, list]:
    """Of random states: how many were proved in a section, how many of those can be made, and where the two differ."""
    rng, told, able, found = random.Random(seed), 0, 0, []
    while told < states:
        data, on = make(rng), random_brake(rng)
        try:
            job = Job.of(read_part(data), on)
        except Refusal:  # a leg shorter than its bends take
            continue
        mine, judge = Prover(job), FaceByFace(job)
        for levels, move in random_states(rng, job, each):
            if mine.stand(move) is None:
                continue
            ours, theirs = (frozenset(own.mountings.all[own.mounting(levels, move)]) for own in (mine, judge))
            told, able = told + 1, able + bool(theirs)
            gauges = [own.gauge(levels, move) for own in (mine, judge)]
            mounts = sum(1 << need.mount for need in theirs)
            if ours != theirs or gauges[0][0] != gauges[1][0] or (gauges[0][1] ^ gauges[1][1]) & mounts:
                found.append((data, on.name, levels, move, ours ^ theirs, gauges))
    return told, able, found


class Alike(unittest.TestCase):
    def test_a_section_says_what_face_by_face_says(self):
        told, able, found = unlike(2611, STATES)
        self.assertEqual([], found)
        self.assertTrue(0.1 * told < able < 0.9 * told, (told, able))

    def test_where_little_lies_flat_and_where_much_reaches_far(self):
        for make, states in ((narrow_strip, 200), (large_strip, 320)):
            told, able, found = unlike(5, states, 8, make)
            self.assertEqual([], found, make.__name__)
            self.assertTrue(0.1 * told < able < 0.9 * told, (told, able))

    def test_a_base_that_reaches_past_its_bends_is_not_the_same_all_along(self):
        """Both flanges begin and end alike, but their plate does not: it would meet what stands beside them."""
        flanges = [{"edge": edge, "length": 30, "direction": "up", "start": 12, "end": 12} for edge in (1, 3)]
        wide, whole = (Job.of(read_part(plate_file(flanges=rows)), press(["Straight 85"], ["V 8"])) for rows in (
            flanges, [{"edge": edge, "length": 30, "direction": "up"} for edge in (1, 3)]))
        for side in SIDES:
            self.assertIsNone(Prover(wide).stand(Move(0, (0,), 1, side)))
            self.assertIsNotNone(Prover(whole).stand(Move(0, (0,), 1, side)))


if __name__ == "__main__":
    import sys
    wanted = int(sys.argv[1]) if len(sys.argv) > 1 else 20_000
    told, able, found = unlike(int(sys.argv[2]) if len(sys.argv) > 2 else 1, wanted)
    print(f"{told} random states, {able} can be made, {len(found)} told otherwise face by face")
    for row in found[:10]:
        print(row)
