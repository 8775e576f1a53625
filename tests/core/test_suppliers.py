"""Suppliers: parts made to break one limit each, tabs, and packs opened and read back."""

import copy
import csv
import io
import json
import math
import tempfile
import zipfile
from pathlib import Path

import ezdxf
from django.test import SimpleTestCase
from hypothesis import example, given, settings
from hypothesis import strategies as st
from shapely import Polygon

from bendcore.errors import Refusal
from bendcore.formats.pack import Order, pack
from bendcore.part import read_part
from bendcore.sheet.edges import bearing
from bendcore.suppliers import described
from bendcore.suppliers.back import k_made, learnt
from bendcore.suppliers.check import check_for
from bendcore.suppliers.profile import read_profile
from bendcore.suppliers.tabs import tabbed
from bendcore.units import Reading
from tests.core.plates import plate_file
from tests.core.samples import part_file
from tests.core.test_commands import run
from tests.core.trays import tray_file

SUPPLIER = {"format": "dorvan-supplier", "version": 1, "name": "Weir Lane Folding", "units": "mm",
            "largest": {"length": 1500, "width": 1000}, "smallest": {"length": 60, "width": 40}, "longest_bend": 900,
            "kerf": 0.3, "angles": {"least": 20, "most": 120}, "parallel": True,
            "tolerances": {"length": 0.2, "angle": 1.0}, "file": {"format": "dxf", "units": "mm"},
            "note": "One job a zip.",
            "stocks": [{"material": "mild-steel", "thickness": t, "inside_radius": r, "k": 0.42, "shortest_flange": f,
                        "hole_to_bend": 4 * t, "smallest_opening": 2 * t}
                       for t, r, f in ((1.0, 1.2, 9), (1.5, 2.0, 12), (2.0, 2.5, 15))]}


def leaning(*outline, line):
    """A blank with one bend line and no edge parallel to it."""
    return plate_file() | {"shape": {"kind": "flat", "outline": list(outline), "holes": [], "bends": [
        {"line": line, "angle": 90, "direction": "up"}]}}



def profile(**changes):
    return read_profile(SUPPLIER | changes)


def strip(*args, k=0.42, **shape):
    part = part_file(*args, **shape)
    part["allowance"]["k"] = k
    return part


def hole(x, y, d, **shape):
    return plate_file(holes=[{"x": x, "y": y, "diameter": d}], **shape)


def brass(part):
    part["stock"]["material"] = "aluminium-5052-h32"
    return part


GOOD = [strip(), strip((9.5, 60, 30)), strip((20, 100, 20), thickness=1.5, radius=2.0), plate_file(), hole(60, 50, 12),
        strip((40, 60), ((60, "up"),)), tray_file() | {
    "stock": {"material": "mild-steel", "thickness": 1.0}, "inside_radius": 1.2}]
UP = (90, "up")
BROKEN = [  # the one limit that each part breaks
    ("sheet", strip((400, 800, 400), width=800)), ("sheet", strip((30, 1600, 30), width=300)),
    ("sheet", strip((500, 1040), (UP,), width=400)),
    ("small", strip((12, 30), (UP,), width=42)), ("small", strip((20, 60), (UP,), width=30)),
    ("stock", brass(strip())), ("stock", strip(thickness=3.0, radius=3.0)), ("stock", strip(thickness=1.2)),
    ("radius", strip(radius=2.0)), ("radius", strip(thickness=1.5, radius=1.5)), ("radius", strip(radius=1.0)),
    ("k", strip(k=0.38)), ("k", strip(k=0.5)), ("k", strip((20, 100, 20), thickness=1.5, radius=2.0, k=0.40)),
    ("angle", strip((40, 60), ((130, "up"),))), ("angle", strip((40, 60), ((10, "up"),))),
    ("angle", strip((40, 60, 40), ((140, "down"), UP))),
    ("hem", strip(start_hem={"length": 12, "gap": 0.5, "direction": "up"})),
    ("hem", strip(end_hem={"length": 10, "gap": 0, "direction": "down"})),
    ("flange", strip((7, 60, 30))), ("flange", strip((30, 60, 8))), ("flange", strip((30, 8, 30), (UP, (90, "down")))),
    ("flange", strip((11, 100, 30), thickness=1.5, radius=2.0)),
    ("flange", plate_file(flanges=[{"edge": 1, "length": 14, "direction": "up"}])),
    ("hole", hole(60, 10, 8)), ("hole", hole(30, 12, 14)), ("hole", hole(100, 9, 6)),
    ("opening", hole(60, 50, 3)), ("opening", hole(30, 60, 2)), ("opening", hole(100, 80, 3.9)),
    ("longest", strip((40, 60), (UP,), width=950)), ("longest", strip((30, 60, 30), width=990)),
    ("parallel", leaning([0, 0], [200, 20], [170, 140], [10, 110], line=[[4, 44], [191, 56]])),
    ("parallel", leaning([0, 0], [220, 0], [110, 150], line=[[60, 0], [80, 109.0909]])),
    *(("kerf", leaning([0, 0], [160, 0], [160, 60], [x + w, 60], [x + w, 40], [x, 40], [x, 60], [0, 60],
                       line=[[0, 20], [160, 20]])) for x, w in ((60, 0.1), (90, 0.25), (40, 0.29))),
    ("tolerance", tray_file(length={"into": 200, "clearance": 0.05})),
    ("tolerance", tray_file(dims="inside", width={"around": 120, "clearance": 0.08})),
    ("tolerance", tray_file(length={"around": 200, "clearance": 0})),
    ("work", part_file() | {"allowance": {"method": "k_factor", "k": 0.5}, "shape": {
        "kind": "tube", "dims": "outside", "diameter": 90, "length": 80,
        "seam": {"kind": "butt", "width": 0, "at": 180}}}),
]


class Limits(SimpleTestCase):
    def codes(self, part, **changes):
        return {notice.code for notice in check_for(read_part(part), profile(**changes))}

    def test_a_good_part_breaks_none(self):
        for part in GOOD:
            self.assertEqual(self.codes(part) - {"parallel"}, set(), part["shape"])

    def test_each_part_made_to_break_one_limit_breaks_exactly_that(self):
        self.assertGreaterEqual(len(BROKEN), 40)
        for code, part in BROKEN:
            changes = {"parallel": code == "parallel"}
            self.assertEqual(self.codes(part, **changes), {code}, (code, part["shape"]))

    def test_a_limit_the_supplier_does_not_name_is_none(self):
        bare = {key: SUPPLIER[key] for key in ("format", "version", "name", "units", "largest", "stocks")}
        for row in (bare | {"stocks": [dict(row) for row in bare["stocks"]]},):
            for stock in row["stocks"]:
                del stock["hole_to_bend"], stock["smallest_opening"]
            for code, part in BROKEN:
                if code in ("small", "angle", "hole", "opening", "longest", "parallel", "kerf"):
                    self.assertEqual(check_for(read_part(part), read_profile(row)), [], code)

    def test_a_tolerance_narrower_than_it_holds_is_told(self):
        for holds, found in (({"length": 0.35}, {"tolerance"}), ({"angle": 2.0}, {"tolerance"}),
                             ({"length": 0.1}, set())):
            self.assertEqual(self.codes(strip(), tolerances=holds), found)

    @given(st.sampled_from(["largest", "longest_bend", "thickness", "inside_radius", "k", "shortest_flange", "name"]),
           st.sampled_from([-1, 0, "wide", "1e999", None, [], {}, "x" * 90, "½", float("inf")]))
    @settings(max_examples=70, deadline=None)
    def test_a_profile_that_cannot_be_is_refused_at_its_field(self, key, value):
        data = copy.deepcopy(SUPPLIER)
        holder = data if key in data else data["stocks"][0]
        holder[key] = value
        if key in ("longest_bend",) and value == 0:
            return
        if key == "name" and isinstance(value, str) and len(value) <= 80:
            return
        with self.assertRaises(Refusal) as caught:
            read_profile(data)
        self.assertIn(key, caught.exception.path)


class Tabs(SimpleTestCase):
    @given(st.integers(90, 160), st.integers(100, 180), st.integers(140, 260), st.integers(6, 30),
           st.floats(0.35, 0.6), st.floats(0.35, 0.6))
    @example(124, 168, 240, 19, 0.5315276804536312, 0.45)  # the best place ends 0.009 mm beside a corner
    @settings(max_examples=30, deadline=None)
    def test_every_bend_has_an_edge_to_bear_on_and_what_is_cut_off_leaves_the_blank(self, left, right, long, rise,
                                                                                    a, b):
        """A quadrilateral bent from its left side to its right."""
        line = [[0, a * left], [long, rise + b * right]]
        part = read_part(leaning([0, 0], [long, rise], [long, rise + right], [0, left], line=line))
        bare = bearing(part.flat, part.flat.bends[0]).edges
        try:
            found = tabbed(part)
        except Refusal as refusal:
            self.assertIn("no room", refusal.message)
            return
        for flat in found.flat.bends:
            self.assertTrue(bearing(found.flat, flat).edges)
        (dx, dy), (px, py) = found.flat.shift, part.flat.shift
        own = Polygon([(x - px + dx, y - py + dy) for x, y in part.flat.outline])
        tabs = found.flat.blank.difference(own.buffer(1e-6))
        self.assertTrue(found.flat.blank.buffer(1e-6).covers(own))
        cut = sum(math.dist(a, b) for a, b in found.cut_off)
        self.assertEqual((cut > 0, tabs.area > 1), (not bare, not bare))
        for a, b in found.cut_off:  # every cut runs along the part's own outline
            for x, y in (a, b):
                self.assertLess(own.exterior.distance(Polygon([(x + dx, y + dy)] * 3).centroid), 1e-5)

    def test_a_part_that_needs_none_stays_as_it_is(self):
        part = read_part(strip())
        self.assertIs(tabbed(part), part)


class Packs(SimpleTestCase):
    def test_it_is_opened_and_read_back(self):
        file = dict(BROKEN)["parallel"]
        part = read_part(file)
        data = pack(part, file, profile(file={"format": "dxf", "units": "in"}), Order("T-0009", 12, ["Burr inwards."]))
        box = zipfile.ZipFile(io.BytesIO(data))
        self.assertEqual(box.testzip(), None)
        read = {name.partition("T-0009")[2]: box.read(name) for name in box.namelist()}
        doc = ezdxf.read(io.StringIO(read[".dxf"].decode()))
        self.assertEqual(doc.header["$INSUNITS"], 1)
        outline = next(iter(doc.modelspace().query("LWPOLYLINE[layer=='CUT']")))
        area = Polygon([p[:2] for p in outline.get_points()]).area * 25.4 ** 2
        self.assertAlmostEqual(area, tabbed(part).flat.blank.area, delta=1)
        self.assertGreater(area, part.flat.blank.area + 50)
        rows = list(csv.DictReader(io.StringIO(read["-bends.csv"].decode())))
        self.assertEqual([row["units"] for row in rows], ["in"])
        self.assertAlmostEqual(float(rows[0]["allowance"]) * 25.4, part.flat.bends[0].bend.figures.allowance, 3)
        words = read["-notes.txt"].decode()
        for said in ("Weir Lane Folding", "Pieces: 12", "Fixed face: ", "cut them off", "Burr inwards.", "K 0.420",
                     "One job a zip."):
            self.assertIn(said, words)
        self.assertTrue(read["-drawing.pdf"].startswith(b"%PDF") and b"FIXED" in read["-drawing.pdf"])
        self.assertEqual(read_part(json.loads(read["-part.json"])).flat.outline, part.flat.outline)


class Commands(SimpleTestCase):
    def run_on(self, part, supplier, *extra):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "supplier.json"
            file.write_bytes(supplier if isinstance(supplier, bytes) else json.dumps(supplier).encode())
            answer = run("outside", part, "--supplier", str(file), *extra)
            made = Path(folder) / "sent.zip"
            status = run("outside", part, "--supplier", str(file), "--pack", str(made), "--quantity", "7")[0]
            notes = zipfile.ZipFile(made).read("sent-notes.txt").decode() if made.exists() else ""
        return *answer, status, notes

    def test_a_part_is_checked_and_packed_without_the_application(self):
        status, result, _, packed, notes = self.run_on(strip(), SUPPLIER)
        self.assertEqual((status, result["can"], packed), (0, True, 0))
        self.assertIn("Pieces: 7", notes)
        for code, part in BROKEN[:12]:
            status, result, _, packed, notes = self.run_on(part, SUPPLIER)
            self.assertEqual((status, result["can"], packed, notes), (0, False, 2, ""), code)
            self.assertEqual({row["code"] for row in result["notices"]}, {code})

    def test_what_is_no_profile_is_one_line_and_status_two(self):
        for bad in (b"", b"{", b"[]", b"\xff\xfe", b"[" * 90_000, b'{"format": 1}', b"x" * 1_200_000,
                    json.dumps(SUPPLIER | {"colour": 1}).encode(), json.dumps(SUPPLIER | {"stocks": []}).encode()):
            status, result, told, *_ = self.run_on(strip(), bad)
            self.assertEqual((status, result, told.count("\n")), (2, None, 1), bad[:40])

    def test_joints_are_told_with_their_places(self):
        status, result, _ = run("joins", tray_file())
        self.assertEqual(status, 0)
        self.assertEqual([(row["kind"], row["times"], row["length"]) for row in result["joints"]], [("weld", 4, 40)])


class Back(SimpleTestCase):
    @given(st.floats(0.3, 0.5), st.lists(st.integers(30, 60), min_size=2, max_size=5), st.sampled_from([60, 90, 45]))
    @settings(max_examples=40, deadline=None)
    def test_the_k_a_piece_was_bent_by_is_found_from_its_legs(self, k, legs, angle):
        bends = [(angle, "up")] * (len(legs) - 1)
        part = read_part(part_file(legs, bends, radius=1.2))
        t, theta = 1.0, math.radians(angle)
        longer = -(k - 0.42) * theta * t  # each bend gives to its legs what it takes less of the blank
        measured = {leg.id: leg.size + longer * sum(bend is not None for bend in part.shape.at_ends(leg)) / 2
                    for leg in part.shape.legs}
        self.assertAlmostEqual(k_made(part, measured), k, 6)
        self.assertIsNone(k_made(part, {}))

    def test_what_pieces_say_together(self):
        found = learnt([0.40, 0.44, None], [0.1, 0.3])
        self.assertEqual((found.pieces, round(found.k, 6), round(found.off, 6)), (3, 0.42, 0.2))
        self.assertAlmostEqual(found.spread, 0.028284, 5)


class Described(SimpleTestCase):
    """A profile said limit by limit."""

    def test_every_limit_is_said_read_back_and_taken_off_again(self):
        for units in ("mm", "in"):
            data = described.begun("Mill Close", units)
            typed = {"longest_bend": "6 ft", "kerf": "1/64 in", "smallest.length": "80 mm", "angles.most": "120",
                     "tolerances.length": "0.2 mm", "tolerances.angle": "1", "parallel": "yes", "file.format": "svg",
                     "file.units": "in", "note": " Film   stays on. ", "largest.length": "10 ft"}
            for path, text in typed.items():
                data = described.with_limit(data, path, text, "mm")
            said = read_profile(data)
            self.assertAlmostEqual(said.longest_bend, 1828.8, 3)
            self.assertAlmostEqual(said.largest[0], 3048, 3)
            self.assertAlmostEqual(said.kerf, 0.396875, 4)
            self.assertEqual((said.angles, said.parallel, said.file, said.note),
                             ((0, 120), True, ("svg", "in"), "Film stays on."))
            self.assertAlmostEqual(said.smallest[1], 80, 3)  # its partner with it, until it is said otherwise
            for path in typed:
                if path != "largest.length":
                    data = described.with_limit(data, path, " ", "mm")
            self.assertEqual({**data, "largest": 0}, {**described.begun("Mill Close", units), "largest": 0})

    def test_an_angle_is_read_as_its_reader_measures_angles(self):
        between = Reading("mm", included=True)
        data = described.with_limit(described.begun("S", "mm"), "angles.most", "30", between)
        self.assertEqual(read_profile(data).angles, (0, 150))

    def test_what_is_no_limit_is_refused_at_its_place(self):
        data = described.begun("S", "mm")
        for path, text in (
                ("largest.length", ""), ("kerf", "-1"), ("kerf", "wide"), ("angles.least", "190"), ("price", "3"),
                ("parallel", "maybe"), ("tolerances.angle", "0"), ("__class__", "x"), ("stocks", "x")):
            with self.assertRaises(Refusal) as refused:
                described.with_limit(data, path, text, "mm")
            self.assertEqual(refused.exception.path, path)
        for field, text in (("thickness", "16"), ("k", "1.2"), ("material", "cheese"), ("girth", "1"),
                            ("hems", "perhaps"), ("inside_radius", "0")):
            with self.assertRaises(Refusal) as refused:
                described.with_stock(data, 0, field, text, "mm")
            self.assertEqual(refused.exception.path, f"stocks[0].{field}")
        self.assertRaises(Refusal, described.with_stock, data, 4, "k", "0.4", "mm")
        self.assertRaises(Refusal, described.without_stock, data, 0)

    def test_stocks_are_changed_added_and_taken_out(self):
        data = described.with_stock(described.begun("S", "mm"), 0, "thickness", "16 ga", "mm")
        self.assertAlmostEqual(data["stocks"][0]["thickness"], 1.5189, 3)
        data = described.with_stock(described.with_stock_more(data), 1, "hole_to_bend", "1/2 in", "mm")
        self.assertEqual(data["stocks"][1]["hole_to_bend"], 12.7)
        self.assertNotIn("hole_to_bend", described.with_stock(data, 1, "hole_to_bend", "", "mm")["stocks"][1])
        with self.assertRaises(Refusal):
            described.with_stock(data, 1, "thickness", "16 ga", "mm")  # one stock twice
        self.assertEqual(described.without_stock(data, 0)["stocks"], data["stocks"][1:])

    def test_a_table_of_deductions_becomes_stocks_with_their_k(self):
        table = ("Metal\tT\tR\tBD\tFlange\tHems\nmild steel\t2\t2.5\t3.92\t12\tyes\n"
                 "304 stainless\t1.5\t1.5\t2.7\t10\tno\n")
        data = described.pasted(described.begun("S", "in"), table, "mm")
        first, second = read_profile(data).stocks
        for one, deduction in ((first, 3.92), (second, 2.7)):
            # by hand: BD = 2 (R + T) - pi/2 (R + K T)
            made = 2 * (one.inside_radius + one.thickness) - math.pi / 2 * (one.inside_radius + one.k * one.thickness)
            self.assertAlmostEqual(made, deduction, 3)
        self.assertEqual((first.material, first.hems, second.material, second.hems),
                         ("mild-steel", True, "stainless-304", False))
        head = "metal,t,r,k,flange"
        for text, word in (("", "heading"), ("metal,t,r,k\nx", "flange"), ("metal,t,r,flange\nx,1,1,1", "either"),
                           (f"{head}\nmild steel,1,1,0.4", "line 2 has 4"), ("metal,metal", "heading"),
                           (f"{head},colour\na,1,1,1,1,1", "colour"),
                           ("metal,t,thickness,k,flange\na,1,1,1,1", "twice"),
                           ("metal,t,r,bd,flange\nmild steel,2,2.5,9,12", "K of"),
                           (f"{head}\ncheese,1,1,.4,9", "line 2"),
                           (f"{head}\n" + "mild steel,1,1,.4,9\n" * 2, "twice"), ('metal,"t\n', "cannot be read")):
            with self.assertRaises(Refusal) as refused:
                described.pasted(described.begun("S", "mm"), text, "mm")
            self.assertIn(word, str(refused.exception), text)
