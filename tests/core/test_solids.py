"""Solids read as panels and written again, beside the kernel's own boxes and arithmetic of the tests' own."""

import json
import math
import random
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import mock, skipUnless

import numpy as np
from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.errors import Refusal
from bendcore.formats import step_in
from bendcore.formats.drawing import Unreadable
from bendcore.formats.reading import read_shape_in
from bendcore.part import read_part
from bendcore.solids import guarded, kernel
from bendcore.solids.step_out import to_step
from tests.core import kernel as made
from tests.core.panels import sound_panels
from tests.core.samples import ROOT
from tests.often import often

K = 0.42


def read_step_in(data, name="a.step"):
    """In this process: a process to each takes two seconds."""
    return step_in.read_step_in(data, name, kernel.read_step)


def part_of(drawing, radius=1.0):
    stock = {"material": "mild-steel"} | drawing.part["stock"]
    return read_part({"format": "dorvan-part", "version": 1, "name": "read", "units": "mm", "stock": stock,
                      "inside_radius": drawing.part.get("inside_radius", radius),
                      "allowance": {"method": "k_factor", "k": K}, "shape": drawing.shape})


def read(*bodies):
    return read_step_in(made.as_step(*bodies), "made.step")


def sheet(t=2.0):
    return made.box((0, 0, 0), (100, 60, t))


def angle(t=2.0, r=3.0, wide=60.0):
    """An angle 100 × 40, its bend along y."""
    whole = made.joined(made.box((0, 0, 0), (100, wide, t)), made.box((100 - t, 0, 0), (100, wide, 40)))
    return made.rounded(whole, [((100 - t, wide / 2, t), r), ((100, wide / 2, 0), r + t)] if r else
                        [((100, wide / 2, 0), t)])


class Without(SimpleTestCase):
    def test_without_the_kernel_it_is_told_what_is_missing(self):
        with mock.patch.object(guarded, "is_there", lambda: False), self.assertRaisesMessage(Refusal, "make solids"):
            step_in.read_step_in(b"ISO-10303-21;", "a.step")
        with self.assertRaisesMessage(Refusal, ".step"):
            read_shape_in(b"", "a.obj")


@skipUnless(kernel.is_there(), "the kernel of solids is an extra")
class Brackets(SimpleTestCase):
    def test_the_blank_of_a_random_bracket_is_that_of_arithmetic(self):
        seen = set()
        for seed in range(often(81)):
            bracket, body = made.sound_bracket(random.Random(seed))
            with self.subTest(bracket=bracket):
                drawing = read(body)
                part = part_of(drawing)
                self.assertAlmostEqual(part.stock.thickness, bracket.thickness, 4)
                self.assertAlmostEqual(drawing.part["inside_radius"], bracket.radius, 4)
                bends = sum(2 if lip else 1 for *_, lip in bracket.flanges)
                self.assertEqual((len(part.sheet.bends), len(part.sheet.faces)), (bends, bends + 1))
                length, width, area = bracket.blank(K)
                self.assertAlmostEqual(max(part.flat.size), max(length, width), delta=2e-3)
                self.assertAlmostEqual(min(part.flat.size), min(length, width), delta=2e-3)
                holes = sum(hole.area for hole in part.flat.holes)
                self.assertAlmostEqual(Polygon(part.flat.outline).area - holes, area, delta=0.02)
                ups = sorted(bend.direction for bend in part.sheet.bends if bend.parent == "base")
                told = sorted("up" if up else "down" for *_, up, _ in bracket.flanges)
                self.assertIn(told, (ups, sorted({"up": "down", "down": "up"}[way] for way in ups)))
                self.assertEqual(len(part.flat.holes), len(bracket.holes) + len(bracket.slots))
                seen |= {(what, bool(value)) for flange in bracket.flanges for what, value in enumerate(flange[2:])}
        self.assertEqual(len(seen), 8)  # with and without each: free at the start, at the end, up, a lip

    def test_what_is_written_and_read_again_is_the_same_part(self):
        for seed in range(often(24)):
            data = sound_panels(random.Random(seed))
            part = read_part(data)
            if any(bend.is_hem and not bend.figures.inside_radius for bend in part.sheet.bends):
                with self.assertRaisesMessage(Refusal, "folded flat down"):
                    to_step(part.sheet, "part")
                continue
            with self.subTest(seed=seed):
                again = part_of(read_step_in(to_step(part.sheet, "part"), "a.step"))
                one, other = (Polygon(p.flat.outline) for p in (part, again))
                self.assertAlmostEqual(one.area, other.area, delta=0.05)
                self.assertAlmostEqual(one.length, other.length, delta=0.05)
                self.assertIn(turns(again, "up"), (turns(part, "up"), turns(part, "down")))  # seen from either side
                self.assertEqual(*(sorted(round(h.area, 2) for h in p.flat.holes) for p in (part, again)))


def turns(part, up: str) -> list:
    """Angles of a part's bends, those of one direction negative."""
    return sorted(round(bend.angle if bend.direction == up else -bend.angle, 3) for bend in part.sheet.bends)


@skipUnless(kernel.is_there(), "the kernel of solids is an extra")
class Awkward(SimpleTestCase):
    def refused(self, why, *bodies, near=None):
        with self.assertRaises(Unreadable) as told:
            read(*bodies)
        self.assertIn(why, str(told.exception.message))
        self.assertEqual(told.exception.path, "solid")
        self.assertTrue(told.exception.lines)
        if near is not None:
            x, y, z = near
            across, up = math.sqrt(0.5) * (x + y), z * math.sqrt(2 / 3) + math.sqrt(1 / 6) * (y - x)
            self.assertLess(math.dist(told.exception.places[0], (across, up)), 1.0)

    def test_what_is_no_bent_sheet_is_refused_where_it_is(self):
        self.refused("a block", made.box((0, 0, 0), (100, 80, 40)))
        self.refused("more metal", made.joined(sheet(), made.rod((50, 30, 0), (0, 0, 1), 6, 15)), near=(50, 30, 2))
        self.refused("metal than", made.cut(sheet(4.0), made.rod((70, 30, 2), (0, 0, 1), 12, 9)), near=(70, 30, 4))
        self.refused("opening across a bend", made.cut(angle(), made.box((80, 25, -1), (120, 35, 20))))
        tab = made.rounded(made.joined(made.box((40, 22, 0), (50, 38, 2)), made.box((40, 22, 0), (42, 38, 20))),
                           [((42, 30, 2), 2), ((40, 30, 0), 4)])
        self.refused("middle of a face", made.joined(made.cut(sheet(), made.box((20, 20, -1), (50, 40, 3))), tab))
        tube = made.cut(made.box((0, 0, 0), (60, 100, 40)), made.box((2, -1, 2), (58, 101, 38)))
        corners = [((x, 50, z), 4.0) for x in (0, 60) for z in (0, 40)]
        corners += [((x, 50, z), 2.0) for x in (2, 58) for z in (2, 38)]
        self.refused("closes on itself", made.rounded(tube, corners))
        self.refused("", made.rod((0, 0, 0), (0, 0, 1), 20, 80))
        with self.assertRaisesMessage(Refusal, "no STEP file"):
            read_step_in(b"solid nothing", "a.step")
        with self.assertRaisesMessage(Refusal, "STEP"):
            read_step_in(b"ISO-10303-21;\nHEADER;\nnonsense", "a.step")

    def test_a_sharp_inner_edge_is_a_bend_without_a_radius(self):
        drawing = read(angle(r=0))
        self.assertEqual((drawing.part["inside_radius"], len(drawing.shape["panels"])), (0, 1))
        part = part_of(drawing)
        self.assertAlmostEqual(max(part.flat.size), 100 + 40 - (4 - math.pi / 2 * K * 2), 4)

    def test_corners_without_a_radius_are_given_one_and_a_box_is_parted_at_its_corners(self):
        shell = made.cut(made.box((0, 0, 0), (100, 80, 40)), made.box((2, 2, 2), (98, 78, 50)))
        drawing = read(shell)
        self.assertIn("without a radius: 4", " ".join(map(str, drawing.report)))
        self.assertIn("parted now", " ".join(map(str, drawing.report)))
        part = part_of(drawing)
        deduction = 2 * 4 - math.pi / 2 * (2 + K * 2)
        self.assertAlmostEqual(max(part.flat.size), 100 + 2 * (40 - deduction), 4)
        self.assertAlmostEqual(min(part.flat.size), 80 + 2 * (40 - deduction), 4)
        self.assertEqual({bend.direction for bend in part.sheet.bends}, {"up"})
        self.assertFalse(any(part.conflicts))

    def test_arcs_slots_and_rounded_corners_are_what_they_are(self):
        plate = made.rounded(sheet(), [((100, 60, 1), 12)])
        plate = made.cut(plate, made.joined(made.box((20, 20, -1), (40, 28, 9)), *(
            made.rod((x, 24, -1), (0, 0, 1), 4, 9) for x in (20, 40))))
        shape = read(plate).shape
        (curve,), (slot,) = shape["edges"], shape["windows"]
        self.assertAlmostEqual(curve["rise"], 12 * (1 - math.sqrt(0.5)), 3)
        self.assertEqual([round(slot[key], 4) for key in ("length", "width", "radius")], [28, 8, 4])
        part = part_of(read(plate))
        self.assertAlmostEqual(Polygon(part.flat.outline).area, 6000 - 144 * (1 - math.pi / 4), delta=0.2)
        disc = part_of(read(made.rod((5, 6, 0), (0, 0, 1), 30, 2)))
        self.assertAlmostEqual(Polygon(disc.flat.outline).area, math.pi * 900, delta=1.5)

    def test_split_faces_and_loose_surfaces_are_one_body(self):
        from OCP.BRep import BRep_Builder
        from OCP.TopAbs import TopAbs_ShapeEnum
        from OCP.TopExp import TopExp_Explorer
        from OCP.TopoDS import TopoDS_Compound
        body, loose, builder = angle(), TopoDS_Compound(), BRep_Builder()
        builder.MakeCompound(loose)
        explorer = TopExp_Explorer(body, TopAbs_ShapeEnum.TopAbs_FACE)
        while explorer.More():
            builder.Add(loose, explorer.Current())
            explorer.Next()
        whole, parted = part_of(read(body)), part_of(read(loose))
        self.assertAlmostEqual(max(whole.flat.size), max(parted.flat.size), 4)

    def test_an_assembly_is_counted_and_what_is_no_sheet_is_left_out(self):
        drawing = read(angle(), made.box((0, 0, 90), (60, 40, 92)), made.box((0, 0, 190), (60, 40, 192)),
                       made.box((300, 0, 0), (380, 80, 60)))
        self.assertEqual((drawing.count, [one.count for one in drawing.others]), (1, [2]))
        self.assertIn("Body 4 is left out", " ".join(map(str, drawing.report)))
        with self.assertRaisesMessage(Refusal, "none is a bent sheet"):
            read(made.box((0, 0, 0), (80, 80, 60)), made.box((300, 0, 0), (380, 80, 60)))

    def test_turned_and_moved_it_is_the_same_part(self):
        from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
        from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
        rng, body = random.Random(4), made.sound_bracket(random.Random(7))[1]
        still = part_of(read(body))
        for _ in range(3):
            turn, move = gp_Trsf(), gp_Trsf()
            turn.SetRotation(gp_Ax1(gp_Pnt(1, 2, 3), gp_Dir(*rng.sample([1.0, 0.3, -0.7], 3))), rng.uniform(0, 6))
            move.SetTranslation(gp_Vec(*(rng.uniform(-500, 500) for _ in range(3))))
            moved = part_of(read(BRepBuilderAPI_Transform(body, move.Multiplied(turn), True).Shape()))
            self.assertLess(np.abs(np.array(sorted(still.flat.size)) - sorted(moved.flat.size)).max(), 1e-4)
            self.assertAlmostEqual(still.sheet.face_area, moved.sheet.face_area, 3)

    def test_a_damaged_file_takes_down_its_own_process_and_is_refused(self):
        whole, rng = made.as_step(angle()), random.Random(1)
        self.assertEqual(len(step_in.read_step_in(whole, "a.step").shape["panels"]), 1)
        told = set()
        for _ in range(often(12)):
            data = bytearray(whole)
            for _ in range(40):
                data[rng.randrange(400, len(data))] = rng.choice(b"0123456789.,()#$-E")
            try:
                step_in.read_step_in(bytes(data), "a.step")
            except Refusal as refusal:
                told.add(str(refusal.message)[:10])
        self.assertIn("is damaged", told)
        with mock.patch.object(guarded, "SECONDS", 0.01), self.assertRaisesMessage(Refusal, "too much to read"):
            step_in.read_step_in(whole, "a.step")

    def test_the_command_reads_and_writes(self):
        with tempfile.TemporaryDirectory() as folder:
            path, again = Path(folder) / "angle.stp", Path(folder) / "again.step"
            path.write_bytes(made.as_step(angle()))
            told = json.loads(subprocess.run([sys.executable, "-m", "bendcore", "read", str(path)], cwd=ROOT,
                                             check=True, capture_output=True).stdout)
            self.assertEqual((told["stock"]["thickness"], told["inside_radius"], told["name"]), (2.0, 3.0, "angle"))
            part = told | {"allowance": {"method": "k_factor", "k": K}}
            (Path(folder) / "part.json").write_text(json.dumps(part), "utf-8")
            subprocess.run([sys.executable, "-m", "bendcore", "export", str(Path(folder) / "part.json"), "--to",
                            str(again)], cwd=ROOT, check=True, capture_output=True)
            self.assertAlmostEqual(max(part_of(read_step_in(again.read_bytes(), "b.step")).flat.size),
                                   100 + 40 - (10 - math.pi / 2 * (3 + K * 2)), 3)
