"""The folded part cut and pointed at, and one law for every family: nothing overlaps, no metal is lost."""

import math
import random

import numpy as np
from django.test import SimpleTestCase

from bendcore.errors import Refusal
from bendcore.part import read_part
from bendcore.sheet import fold
from bendcore.sheet.clash import bodies, clashes, flat_overlaps
from bendcore.sheet.cut import cut, spans
from bendcore.sheet.solid import mesh
from tests.core.guards import random_guard
from tests.core.panels import sound_panels
from tests.core.plates import random_plate
from tests.core.samples import part_file, random_part
from tests.core.sleeves import random_sleeve
from tests.core.trays import random_tray, tray_file
from tests.often import often


class EveryFamily(SimpleTestCase):
    def test_no_overlap_flat_or_folded_and_no_metal_lost(self):
        """Folding changes a zone's metal from BA·w·t to θ·(r + t/2)·w·t, and nothing else's."""
        rng = random.Random(20)
        makers = (random_tray, random_plate, random_sleeve, random_guard, random_part, sound_panels)
        for n in range(often(330)):
            maker = makers[n % 6]
            made = maker(rng)
            part = made if maker is random_part else read_part(made)
            t = part.stock.thickness
            with self.subTest(n, family=part.shape.kind):
                self.assertEqual(flat_overlaps(part.sheet, part.flat), [])
                folded = fold(part.sheet, flat=part.flat, facet=3)
                if maker is not random_part:  # a random strip may meet itself
                    self.assertEqual(list(clashes(part.sheet)), [])
                gained = 0.0
                for bend in part.sheet.bends:
                    f, step = bend.figures, math.radians(bend.angle) / max(1, math.ceil(bend.angle / 3))
                    r, wide = f.radius_at(bend.angle), math.dist(*bend.parent_edge)
                    round_it = ((r + t) ** 2 - r ** 2) / 2 * math.sin(step) / step * math.radians(bend.angle)
                    gained += (round_it - f.allowance * t) * wide  # facets are chords
                flat = part.flat.area * t
                self.assertAlmostEqual(self.solid(folded, part), flat + gained, delta=1e-4 * flat)

    def solid(self, folded, part):
        holes = sum(h.area for h in part.flat.holes) * part.stock.thickness
        return self.straight(part, folded) + self.zones(folded) - holes

    def straight(self, part, folded):
        areas = 0.0
        for face in folded.faces:
            c = face.corners
            areas += abs(sum(np.cross(c[i - 1], c[i]) for i in range(len(c))) @ face.normal) / 2
        return areas * part.stock.thickness

    def zones(self, folded):
        """Prisms between the facets of every arc, by their own corners."""
        total = 0.0
        for bend in folded.bends:
            under = bend.arc - folded.thickness * bend.normals[:, None]
            along = np.linalg.norm(bend.arc[0, 1] - bend.arc[0, 0])
            for a, b, c, d in zip(bend.arc[:-1, 0], bend.arc[1:, 0], under[1:, 0], under[:-1, 0], strict=True):
                total += np.linalg.norm(np.cross(c - a, d - b)) / 2 * along
        return total


class Sections(SimpleTestCase):
    def test_a_strip_is_cut_across_as_its_section(self):
        part = read_part(part_file([40, 60, 30], [(90, "up"), (60, "down")]))
        pieces = cut(bodies(fold(part.sheet, facet=1)), "y", 100.0)
        t = part.stock.thickness
        flats = sum(leg.flat for leg in part.shape.legs) * t
        zones = sum(math.radians(b.figures.angle) * (b.figures.inside_radius + t / 2) * t for b in part.shape.bends)
        self.assertAlmostEqual(sum(p.area for p in pieces.values()), flats + zones, 1)
        self.assertEqual(set(pieces), {"L1", "L2", "L3", "bend B1", "bend B2"})

    def test_sections_add_up_to_the_part(self):
        """Areas of many sections, summed along the axis, give the volume of the bodies."""
        found = bodies(fold(read_part(tray_file()).sheet, facet=15))
        low, high = spans(found)["x"]
        steps = 801
        at = low + (np.arange(steps) + 0.5) * (high - low) / steps
        areas = [sum(p.area for p in cut(found, "x", x).values()) for x in at]
        whole = 0.0
        for a, b, c, d, *under in found.points:
            middle = [(p + q) / 2 for p, q in zip((a, b, c, d), under, strict=True)]  # a prism by its middle layer
            thick = np.linalg.norm(np.cross(middle[2] - middle[0], middle[3] - middle[1])) / 2
            whole += thick * np.linalg.norm(under[0] - a)
        self.assertAlmostEqual(np.mean(areas) * (high - low) / whole, 1, 2)
        self.assertEqual(cut(found, "x", high + 1), {})
        with self.assertRaises(Refusal):
            cut(found, "w", 0)

    def test_the_mesh_says_whose_each_triangle_is(self):
        part = read_part(tray_file(holes=[{"x": 60, "y": 60, "diameter": 20}]))
        made = mesh(fold(part.sheet))
        self.assertEqual(sum(count for _, count in made.owners), len(made.triangles))
        at = 0
        faces = {f.id: f for f in fold(part.sheet).faces}
        for name, count in made.owners:
            if name in faces:
                off = (made.triangles[at:at + count] - faces[name].corners[0]) @ faces[name].normal
                self.assertLess(np.abs(off + 0.5).max(), 0.5 + 1e-6)
            at += count
        self.assertEqual([name for name, *_ in made.as_dict()["faces"] if name], [f.id for f in part.sheet.faces])
