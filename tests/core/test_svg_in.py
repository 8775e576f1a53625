"""SVG drawings read in: units, groups and curves; and files made to hang or to break out."""

import math
import time

from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.errors import Refusal
from bendcore.formats.drawing import Unreadable
from bendcore.formats.export import export
from bendcore.formats.reading import read_drawing
from bendcore.layout.scribed import scribed
from bendcore.part import read_part
from tests.core.plates import plate_file

BOX = '<path d="M0,0 H100 V60 H0 Z"/>'


def svg(body, size='width="100mm" height="60mm" viewBox="0 0 100 60"') -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>'.encode()


def read(body, *size):
    return read_drawing(svg(body, *size), "a.SVG")


class Svg(SimpleTestCase):
    def refused(self, body, *size) -> Refusal:
        begun = time.monotonic()
        with self.assertRaises(Refusal) as caught:
            read(body, *size)
        self.assertLess(time.monotonic() - begun, 10)
        return caught.exception

    def test_size_and_view_box_give_the_scale(self):
        for size, wide, told in (('width="100mm" height="60mm" viewBox="0 0 50 30"', 200, ""),
                                 ('width="4in" height="2.4in" viewBox="0 0 100 60"', 101.6, ""),
                                 ('viewBox="0 0 100 60"', 100, "millimetres were taken"),
                                 ('width="100px" height="60px"', 100 * 25.4 / 96, "")):
            found = read(BOX, size)
            self.assertAlmostEqual(max(x for x, _ in found.shape["outline"]), wide, 6)
            self.assertIn(told, " ".join(found.report))

    def test_groups_are_layers_and_transforms_are_followed(self):
        body = (BOX + '<g id="FOLD_DOWN" transform="translate(10 0)"><line x1="20" y1="0" x2="20" y2="60"/></g>'
                '<g id="TANGENT"><line x1="3" y1="3" x2="9" y2="9"/></g>'
                '<g style="display: none"><path d="M1,1 h5"/></g>'
                '<circle cx="10" cy="10" r="4"/><rect x="60" y="20" width="20" height="12"/>'
                '<ellipse cx="85" cy="50" rx="6" ry="3"/><text x="1" y="1">scale</text><image href="x.png"/>')
        found = read(body)
        self.assertEqual(found.shape["bends"][0] | {"line": 0}, {"line": 0, "direction": "down", "angle": 90.0})
        self.assertAlmostEqual(found.shape["bends"][0]["line"][0][0], 30)
        hole, rect, oval = found.shape["holes"]
        self.assertEqual((hole["x"], hole["y"], hole["diameter"]), (10, 50, 8))
        self.assertAlmostEqual(Polygon(rect["outline"]).area, 240, 3)
        self.assertAlmostEqual(Polygon(oval["outline"]).area, 18 * math.pi, 0)
        for words in ("hidden left out (1)", "image left out (1)", "layer TANGENT left out (1)", "text left out (1)"):
            self.assertIn(words, " ".join(found.report))

    def test_curves_are_true_within_a_hundredth(self):
        k = 4 * (math.sqrt(2) - 1) / 3 * 20  # a circle of radius 20 by four cubic curves, true within 0.006
        body = BOX + (f'<path d="M30,30 c0,{k} {20 - k},20 20,20 '
                      f'c{k},0 20,{k - 20} 20,-20 c0,{-k} {k - 20},-20 -20,-20 '
                      f'c{-k},0 -20,{20 - k} -20,20 z"/>')
        found = read(body)
        self.assertAlmostEqual(found.shape["holes"][0]["diameter"], 40, 1)
        self.assertTrue(any("Curves taken" in line for line in found.report))
        slotted = read(BOX + '<path d="M30,20 h20 a5,5 0 0 1 0,10 h-20 a5,5 0 0 1 0,-10 z"/>')
        slot = slotted.shape["holes"][0]
        self.assertAlmostEqual(slot["length"], 30)
        self.assertAlmostEqual(slot["diameter"], 10)

    def test_openings_come_back_from_own_files(self):
        data = plate_file()
        outline = [[0, 0], [120, 0], [120, 80], [0, 80]]
        holes = [{"outline": [[20, 20], [50, 20], [50, 40], [35, 30], [20, 40]]}, {"x": 90, "y": 40, "diameter": 12.5},
                 {"x": 60, "y": 62, "diameter": 6, "length": 30, "angle": 20}]
        part = read_part(data | {"shape": {"kind": "flat", "outline": outline, "holes": holes}})
        self.assertEqual({what for what, *_ in scribed(part)}, {"punch"})
        for ending in ("dxf", "svg"):
            shape = read_drawing(export(part, ending).encode(), f"own.{ending}").shape
            again = read_part(data | {"shape": shape})
            self.assertAlmostEqual(again.flat.area, part.flat.area, 2)
            self.assertEqual(sorted(map(sorted, shape["holes"])), sorted(map(sorted, holes)))

    def test_what_is_wrong_is_refused_with_its_place(self):
        loose = self.refused(BOX + '<path d="M20,20 L50,40"/>')
        self.assertIsInstance(loose, Unreadable)
        self.assertEqual([tuple(round(v, 6) for v in p) for p in loose.places], [(20, 40), (50, 20)])
        self.assertGreater(len(loose.lines), 0)
        self.assertTrue(self.refused('<path d="M0,0 H100 V60 H0"/>').places)
        crossed = self.refused('<path d="M0,0 L100,60 H0 L100,0 Z"/>')
        self.assertAlmostEqual(crossed.places[0][0], 50)

    def test_files_made_to_hang_or_break_out_are_refused(self):
        bomb = b'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa">]><svg xmlns="http://www.w3.org/2000/svg">&a;</svg>'
        for raw in (bomb, b"", b"<svg/>", b"\x00" * 99, b"<svg" * 999, b"x" * 5_000_001):
            with self.assertRaises(Refusal):
                read_drawing(raw, "x.svg")
        with self.assertRaises(Refusal):
            read_drawing(b"", "x.pdf")
        for body in (BOX + '<path d="M0,0 A1e15,1e15 0 0 1 9,9"/>', BOX + '<path d="M0,0 C1e300,0 0,1e300 9,9"/>',
                     BOX + '<circle r="1e99"/>', "<g>" * 60 + BOX + "</g>" * 60, BOX + "<g/>" * 20_001,
                     BOX + f'<path d="M0,0 {"l1,1 " * 90_000}"/>',
                     BOX + '<g transform="scale(1e30)"><path d="M0,0"/></g>',
                     BOX + "".join(f'<path d="M{n % 90},{n // 90} h.5"/>' for n in range(3000)),
                     BOX + '<path d="M0,0 L nonsense"/>' + '<path d="M9"/>' * 2 + '<path d="M5,5 L50,70"/>',
                     BOX + '<path d="' + "M0,0 C9e5,9e5 -9e5,9e5 9,9 " * 4000 + '"/>'):
            self.refused(body)
