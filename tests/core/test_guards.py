"""Guards: the wrapper round its side plate, corners, seams, and what does not close."""

import random

import numpy as np
from django.test import SimpleTestCase

from bendcore.families.outlines import widened
from bendcore.part import read_part
from bendcore.sheet import fold
from bendcore.sheet.clash import clashes, flat_overlaps
from tests.core.guards import guard_file, random_guard
from tests.core.test_commands import run
from tests.core.trays import apart

SQUARE = [[0, 0], [200, 0], [200, 120], [0, 120]]


def apexes(part, outer=True):
    """Where the outer (or inner) planes of neighbouring legs cross, looking at the side."""
    legs = [f for f in fold(part.sheet).faces if f.id[1:].isdigit()]
    lines = [((f.corners[0] - (part.stock.thickness * f.normal if outer else 0))[[0, 2]], f.normal[[0, 2]])
             for f in legs]
    return [np.linalg.solve(np.array([m, n]), np.array([m @ p, n @ q]))
            for (p, m), (q, n) in zip(lines, lines[1:], strict=False)]


class Guards(SimpleTestCase):
    def test_random_guards_lie_flat_and_fold_clear(self):
        rng = random.Random(5)
        for n in range(100):
            data = random_guard(rng)
            part = read_part(data)
            with self.subTest(n, shape=data["shape"]):
                self.assertEqual(flat_overlaps(part.sheet), [])
                self.assertEqual(list(clashes(part.sheet)), [])

    def test_the_legs_follow_the_outline_over_the_wrapper_or_within_it(self):
        rng = random.Random(8)
        for n in range(40):
            data = random_guard(rng)
            for dims in ("outside", "inside"):
                data["shape"]["dims"] = dims
                part = read_part(data)
                inner, found = part.shape.panels[1:-1], apexes(part, dims == "outside")
                with self.subTest(n, dims=dims):
                    for leg, a, b in zip(inner, found, found[1:], strict=False):
                        self.assertAlmostEqual(np.linalg.norm(b - a), leg.size, 6)

    def test_mitred_edges_stand_the_gap_apart(self):
        rng = random.Random(3)
        looked = 0
        for _ in range(40):
            data = random_guard(rng)
            data["shape"]["corners"] = {"style": "mitre", "gap": 0.8}
            part = read_part(data)
            faces = {f.id: f for f in fold(part.sheet).faces}
            for i in range(1, len(part.shape.panels)):
                one, other = (faces.get(f"L{n}-front") for n in (i, i + 1))
                side = part.shape.turned.get("front")
                edge_starts = side and part.shape._limits(i - 1, 1, side.bends[i - 1], side.leg.flat)[0]
                if not edge_starts:  # square to the bend, or none
                    continue
                looked += 1
                self.assertAlmostEqual(apart(one, other, part.stock.thickness), 0.8, 2)
        self.assertGreater(looked, 40)

    def test_a_closed_guard_has_an_open_seam_of_the_gap(self):
        data = guard_file(outline=SQUARE, corners={"gap": 0.4})
        del data["shape"]["wrapped"]
        part = read_part(data)
        faces = {f.id: f for f in fold(part.sheet).faces}
        self.assertAlmostEqual(apart(faces["L1"], faces["L4"], 1.0), 0.4, 6)
        within = read_part(data | {"shape": data["shape"] | {"dims": "inside"}})
        self.assertAlmostEqual(within.shape.developed_length - part.shape.developed_length, 8.0)

    def test_the_seam_lies_at_the_first_corner_either_way_round(self):
        outline = [[0, 0], [200, 0], [230, 120], [0, 120]]
        for points in (outline, [outline[0], *outline[:0:-1]]):
            data = guard_file(outline=points)
            del data["shape"]["wrapped"]
            guard = read_part(data).shape
            self.assertEqual(guard.outline[guard.wrapped[0]], (0, 0))

    def test_lapped_edges_lie_behind_their_neighbours(self):
        part = read_part(guard_file(corners={"style": "bypass", "gap": 0.3}))
        faces = {f.id: f for f in fold(part.sheet).faces}
        behind = (faces["L2-front"].corners[0] - faces["L1-front"].corners[0]) @ np.array([0, 1, 0])
        self.assertAlmostEqual(behind, 1.3, 6)

    def test_either_way_round_is_the_same_guard(self):
        there = guard_file(wrapped=[2, 4])
        back = guard_file(outline=there["shape"]["outline"][::-1], wrapped=[1, 3])
        one, other = read_part(there), read_part(back)
        self.assertEqual([p.size for p in one.shape.panels], [p.size for p in other.shape.panels])

    def test_edges_move_out_and_meet_anew(self):
        self.assertEqual(widened(((0, 0), (10, 0), (10, 5), (0, 5)), [1, 0, -1, 0]),
                         ((0, -1), (10, -1), (10, 4), (0, 4)))

    def test_what_cannot_be_a_guard_is_refused_at_its_field(self):
        straight = [[0, 0], [100, 0], [200, 0], [200, 120], [0, 120]]
        notched = [[150, 60], [200, 120], [0, 120], [0, 0], [200, 0]]
        wide, narrow = ({"width": size, "direction": "in"} for size in (220, 1))
        for change, path in (({"wrapped": [2, 9]}, "wrapped[1]"), ({"width": 3}, "width"),
                             ({"front": wide}, "front.width"),
                             ({"outline": straight, "wrapped": [1, 3]}, "outline"), ({"back": narrow}, "back.width"),
                             ({"outline": notched, "wrapped": [1, 5]}, "outline"),
                             ({"corners": {"gap": -1}}, "corners.gap"),
                             ({"outline": [[0, 0], [2, 0], [2, 99]], "wrapped": [1, 2]}, "outline")):
            status, _, err = run("flat", guard_file(**change))
            self.assertEqual(status, 2, change)
            self.assertTrue(err.startswith(f"bendcore: shape.{path}"), err)
