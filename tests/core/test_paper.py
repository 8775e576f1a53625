"""The paper model: tabs where edges meet, and a sheet that holds it."""

import io
import math

import pypdf
from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.errors import Refusal
from bendcore.formats.export import export
from bendcore.formats.paper import fitting_scale
from bendcore.layout.glue import glue_tabs
from bendcore.part import read_part
from tests.core.guards import guard_file
from tests.core.sleeves import sleeve_file
from tests.core.trays import tray_file

WALLS = {side: {"height": 40} for side in ("front", "right", "back", "left")}


class PaperModel(SimpleTestCase):
    def test_each_corner_of_a_tray_is_glued_once(self):
        part = read_part(tray_file(walls=WALLS))
        tabs = glue_tabs(part, 6)
        self.assertEqual({frozenset(t.faces) for t in tabs},
                         {frozenset(p) for p in (("front", "right"), ("right", "back"), ("back", "left"),
                                                 ("left", "front"))})
        self.assertEqual(len({t.letter for t in tabs}), 4)
        blank = Polygon(part.flat.outline)
        for tab in tabs:
            self.assertLess(Polygon(tab.outline).intersection(blank).area, 0.1)
            self.assertLess(blank.distance(Polygon(tab.outline)), 1e-6)
        leaning = read_part(tray_file(walls={"left": {"height": 40, "angle": 60}, "front": {"height": 40}}))
        self.assertEqual(len(glue_tabs(leaning, 6)), 1)
        apart = read_part(tray_file(walls={"left": {"height": 40}, "right": {"height": 40}}))
        self.assertEqual(glue_tabs(apart, 6), [])

    def test_a_hem_is_not_glued_to_its_own_wall(self):
        hemmed = {side: wall | {"hem": {"length": 10, "gap": 0}} for side, wall in WALLS.items()}
        for tab in glue_tabs(read_part(tray_file(walls=hemmed)), 6):
            self.assertNotEqual(tab.faces[0].split("-")[0], tab.faces[1].split("-")[0])

    def test_seams_and_turned_edges_are_glued(self):
        sleeve = read_part(sleeve_file(seam={"kind": "butt", "gap": 0.4}))
        self.assertEqual([set(t.faces) for t in glue_tabs(sleeve, 6)], [{"P1", "P4"}])
        guard = read_part(guard_file())
        self.assertEqual({frozenset(t.faces) for t in glue_tabs(guard, 20)},
                         {frozenset((f"L{n}-{side}", f"L{n + 1}-{side}")) for n in (1, 2, 3)
                          for side in ("front", "back")})

    def test_the_sheet_says_its_scale_and_holds_the_model(self):
        part = read_part(tray_file(length=420, width=260, walls=WALLS))
        raw = export(part, "model", paper="A4")
        page = pypdf.PdfReader(io.BytesIO(raw)).pages[0]
        self.assertIn("paper model 1:3", page.extract_text())
        self.assertEqual(fitting_scale(part.flat.size, "A4"), (3, False))
        for size, paper in (((99_999, 9), "A4"), ((9, 9), "A9")):
            with self.assertRaises(Refusal):
                fitting_scale(size, paper)
        wide, high = (float(v) * 25.4 / 72 for v in page.mediabox[2:])
        self.assertTrue(math.isclose(wide, 210, abs_tol=0.1) and math.isclose(high, 297, abs_tol=0.1))
