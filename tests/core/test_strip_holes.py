"""Holes, slots and openings in the legs of a strip: where they come to lie, by arithmetic of the legs alone."""

import io
import math

import ezdxf
from django.test import SimpleTestCase

from bendcore import edits
from bendcore.errors import Refusal
from bendcore.families.twin import mirrored
from bendcore.formats.export import to_dxf
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from tests.core.samples import part_file, press

CUT = {"holes": [{"leg": 1, "along": 12, "across": 20, "diameter": 6}],
       "slots": [{"leg": 2, "along": 30, "across": 50, "length": 20, "width": 6, "angle": 90}],
       "openings": [{"leg": 3, "along": 10, "from": "end", "across": 70, "length": 12, "width": 20}]}


class StripHoles(SimpleTestCase):
    def part(self, **more):
        return read_part(part_file([30, 60, 30], width=100, **(CUT | more)))

    def test_where_they_lie(self):
        """K 0.42, t 1, r 1.2: a setback of 2.2, an allowance of π/2·1.62."""
        part, allowance = self.part(), math.pi / 2 * (1.2 + 0.42)
        one, slot, opening = part.flat.holes
        self.assertAlmostEqual(one.centre[0], 12)
        self.assertAlmostEqual(slot.centre[0], (30 - 2.2) + allowance + (30 - 2.2))
        whole = (30 - 2.2) * 2 + (60 - 4.4) + 2 * allowance
        self.assertAlmostEqual(opening.centre[0], whole - 10)
        far = self.part(slots=[CUT["slots"][0] | {"from": "end"}]).flat.holes[1]
        self.assertAlmostEqual(far.centre[0], (30 - 2.2) + allowance + (60 - 4.4) - (30 - 2.2))
        near = self.part(slots=[CUT["slots"][0] | {"from": "end", "along": 20}]).flat.holes[1]
        self.assertAlmostEqual(near.centre[0] - far.centre[0], 10)
        self.assertEqual([hole.centre[1] for hole in part.flat.holes], [20, 50, 70])
        cut_out = math.pi * 9 + 6 * 14 + math.pi * 9 + 12 * 20
        self.assertAlmostEqual(part.flat.area, whole * 100 - cut_out, 6)

    def test_they_leave_with_the_flat_and_do_not_hinder_an_order(self):
        space = ezdxf.read(io.StringIO(to_dxf(self.part()))).modelspace()
        self.assertEqual(len(space.query('CIRCLE[layer=="CUT"]')), 1)
        self.assertEqual(len(space.query('LWPOLYLINE[layer=="CUT"]')), 3)
        self.assertTrue(plan_order(self.part(), press()).feasible)

    def test_what_leaves_its_leg_is_refused_at_its_field(self):
        for key, change, path in (("holes", {"along": 29}, "shape.holes[0]"),
                                  ("holes", {"leg": 4}, "shape.holes[0].leg"),
                                  ("slots", {"length": 5}, "shape.slots[0].length"),
                                  ("openings", {"across": 95}, "shape.openings[0]"),
                                  ("openings", {"width": 0}, "shape.openings[0].width")):
            with self.assertRaises(Refusal) as caught:
                self.part(**{key: [CUT[key][0] | change]})
            self.assertEqual(caught.exception.path, path)

    def test_the_other_hand_has_them_at_its_other_end(self):
        part = self.part()
        twin = read_part(part_file() | {"shape": mirrored(part_file([30, 60, 30], width=100, **CUT)["shape"], float)})
        long = part.flat.size[0]
        across = sorted(twin.flat.holes, key=lambda hole: hole.centre[1])
        for one, other in zip(part.flat.holes, across, strict=True):
            self.assertAlmostEqual(one.centre[0], long - other.centre[0])
            self.assertEqual(one.centre[1], other.centre[1])

    def test_they_come_where_there_is_room_and_go_with_their_leg(self):
        data = part_file([30, 60, 30], width=100)
        for key in CUT:
            data = edits.added(data, f"shape.{key}", lambda own=data: read_part(own).shape)
            self.assertEqual(len(data["shape"][key]), 1)
        self.assertEqual(len(read_part(data).flat.holes), 3)
        gone = edits.removed(data, "shape.bends[0]")
        self.assertFalse(set(CUT) & set(gone["shape"]))
        kept = edits.removed(part_file([30, 60, 30], width=100, **CUT), "shape.bends[0]")
        self.assertEqual([(key, one["leg"]) for key in CUT for one in kept["shape"].get(key, ())],
                         [("holes", 1), ("openings", 2)])
