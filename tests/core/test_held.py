"""Sizes of panels held over all, measured on the solid by a judge of its own."""

import random

import numpy as np
from django.test import SimpleTestCase

from bendcore.edits import added, removed
from bendcore.errors import Refusal
from bendcore.part import holding, read_part
from tests.often import often

from .panels import panels_file


def reach(part, one: int, other: int, dims: str) -> float:
    """From the solid's corners alone: of both faces square to the first, over all or between them."""
    solid, at, corners = part.formed(10.0), 0, {}
    for name, count in solid.owners:
        corners[name] = solid.triangles[at:at + count]
        at += count
    names = ["base", *(panel.id for panel in part.shape.panels)]
    first, second = (corners[names[n]] for n in (one, other))
    across = np.cross(first[:, 1] - first[:, 0], first[:, 2] - first[:, 0])
    sizes = np.linalg.norm(across, axis=1)
    spread = across[sizes.argmax()] / sizes.max()  # square to the largest triangle of the first
    (a0, a1), (b0, b1) = ((float(part.min()), float(part.max())) for part in (first @ spread, second @ spread))
    if dims == "outside":
        return max(a1, b1) - min(a0, b0)
    thick = b1 - b0 < 1.5 * part.stock.thickness  # it lies along the first
    return (b0 - a1 if thick else b1 - a1) if b0 + b1 > a0 + a1 else (a0 - b1 if thick else a0 - b0)


def chain(rng: random.Random) -> dict:
    """Panels one on the other up a side of the base, and one on the other side."""
    panels = [{"edge": 2, "length": rng.uniform(30, 60), "direction": "up"}]
    for n in range(1, rng.randint(3, 5)):
        panels.append({"on": n, "edge": 2, "length": rng.uniform(20, 50), "direction": rng.choice(["up", "down"])})
    panels.append({"edge": 4, "length": rng.uniform(20, 50), "direction": "up"})
    ring = [[0, 0], [200, 0], [200, 90], [0, 90]]
    data = panels_file(panels, ring)
    if rng.random() < 0.4:  # counted the other way round: edges 2 and 4 are still the short ones
        data["shape"]["outline"] = [ring[0], *ring[:0:-1]]
        for panel in panels:
            panel["edge"] = {2: 3, 4: 1}[panel["edge"]] if not panel.get("on") else 2
    return data


class Held(SimpleTestCase):
    def test_what_is_held_over_all_measures_so_on_the_solid(self):
        rng, seen = random.Random(21), 0
        for _ in range(often(90)):
            data = chain(rng)
            count = len(data["shape"]["panels"])
            one, other = rng.sample(range(count + 1), 2)
            dims, gives = rng.choice(["inside", "outside"]), rng.randint(0, count)
            block = {"one": one, "other": other, "dims": dims, "gives": gives}
            try:
                was = reach(read_part(data), one, other, dims)
                block["size"] = was + rng.uniform(-8, 25)
                data["shape"]["held"] = [block]
                part = read_part(data)
            except Refusal:
                continue
            self.assertAlmostEqual(reach(part, one, other, dims), block["size"], delta=2e-5, msg=str(data))
            found = holding(data)
            self.assertEqual(holding(found), found)
            self.assertEqual(read_part(found).flat.size, part.flat.size)
            told = [notice for notice in part.shape.notices(False) if notice.code == "gives-way"]
            self.assertEqual([notice.where for notice in told], [part.shape.held[0].gives])
            self.assertIn(("held-1", block["size"]), [(name, size) for name, _, size in part.shape.openings()])
            seen += 1
        self.assertGreater(seen, often(90) // 6)

    def test_one_that_moves_another_is_held_with_it(self):
        data = panels_file([{"edge": 2, "length": 40, "direction": "up"}, {"edge": 4, "length": 40, "direction": "up"},
                            {"on": 1, "edge": 2, "length": 30, "direction": "up"},
                            {"on": 3, "edge": 2, "length": 20, "direction": "up"}])
        data["shape"]["held"] = [{"one": 1, "other": 2, "dims": "inside", "size": 140, "gives": 0},
                                 {"one": 0, "other": 3, "dims": "outside", "size": 52, "gives": 1},
                                 {"one": 4, "other": 2, "dims": "inside", "size": 95, "gives": 3}]
        part = read_part(data)
        for block in data["shape"]["held"]:
            self.assertAlmostEqual(reach(part, block["one"], block["other"], block["dims"]), block["size"], delta=1e-5)
        self.assertEqual(part.shape.outline[0], (0.0, 0.0))

    def test_what_cannot_be_held_is_refused_at_its_field(self):
        data = panels_file([{"edge": 2, "length": 40, "direction": "up"}, {"edge": 4, "length": 40, "direction": "up"},
                            {"on": 1, "edge": 2, "length": 30, "outline": [[0, 0], [0, 30], [100, 30], [100, 0]],
                             "direction": "up"}])
        del data["shape"]["panels"][2]["length"]
        between = {"one": 1, "other": 2, "dims": "inside", "size": 120, "gives": 0}
        for rows, place, words in (
                ([between | {"gives": 1}], "held[0].gives", "does not change this size"),
                ([between | {"other": 7}], "held[0].other", "from 1 to 3"),
                ([between | {"other": 1}], "held[0].other", "another face"),
                ([between | {"gives": 3}], "held[0].gives", "outline of its own"),
                ([{"one": 0, "other": 3, "size": 50, "gives": 0}], "held[0].gives", "must be a panel"),
                ([{"one": 0, "other": 3, "size": 50, "gives": 1}, {"one": 0, "other": 3, "size": 50, "gives": 1}],
                 "held[1].gives", "already"),
                ([between, between | {"size": 130}], "held[0].size", "beside the others"),
                ([{"one": 0, "other": 3, "size": -3, "gives": 1}], "held[0].size", "greater than 0")):
            data["shape"]["held"] = rows
            with self.subTest(words), self.assertRaises(Refusal) as caught:
                read_part(data)
            self.assertEqual(caught.exception.path, f"shape.{place}")
            self.assertIn(words, caught.exception.message)

    def test_one_begins_as_the_part_is_and_keeps_panels_from_going(self):
        data = panels_file([{"edge": 2, "length": 40, "direction": "up"}, {"edge": 4, "length": 40, "direction": "up"},
                            {"edge": 1, "length": 20, "direction": "up"}])
        one = added(data, "shape.held", lambda: read_part(data).shape, None)
        self.assertEqual(read_part(one).flat.size, read_part(data).flat.size)
        self.assertEqual((one["shape"]["held"][0]["one"], one["shape"]["held"][0]["other"]), (1, 2))
        with self.assertRaises(Refusal):
            removed(one, "shape.panels[1]")
        self.assertEqual(removed(one, "shape.panels[2]")["shape"]["held"], one["shape"]["held"])
        moved = one | {"shape": one["shape"] | {"panels": one["shape"]["panels"][::-1]}}
        moved["shape"]["held"] = [{"one": 2, "other": 3, "dims": "inside", "size": 120, "gives": 0}]
        self.assertEqual(removed(moved, "shape.panels[0]")["shape"]["held"][0]["one"], 1)
