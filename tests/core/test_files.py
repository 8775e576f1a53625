"""Files: what is read, what each key does, what the order command prints."""

import copy
import io
import json
import random
import tempfile
from contextlib import redirect_stdout, suppress
from pathlib import Path
from unittest import mock

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from bendcore.__main__ import main
from bendcore.bending.bend import allowance_from_k
from bendcore.errors import Refusal, join
from bendcore.files import check, read_json, schema
from bendcore.formats.results import flat_result
from bendcore.part import read_part
from bendcore.sheet import Bend, Face, Sheet, unfold
from bendcore.sheet.section import Strip
from tests.core.panels import random_panels
from tests.core.plates import plate_file
from tests.core.samples import ROOT, part_file, press_file, profiles
from tests.core.test_commands import run
from tests.core.trays import tray_file
from tests.often import often


def bent(rng, data):
    """The same with one to three values taken out, put in or put in place of another, at any depth."""
    data = copy.deepcopy(data)
    for _ in range(rng.randint(1, 3)):
        at = data
        while (keys := list(at) if isinstance(at, dict) else list(range(len(at)))):
            key, odd = rng.choice(keys), rng.choice(ODD)
            if isinstance(at[key], dict | list) and rng.random() < 0.75:
                at = at[key]
                continue
            way = rng.choice(["instead", "instead", "out", "in"])
            if way == "instead":
                at[key] = odd
            elif way == "out":
                del at[key]
            elif isinstance(at, dict):
                at[rng.choice(["hem", "height", "nothing"])] = odd
            else:
                at.extend([at[key]] * rng.choice([1, 60]))
            break
    return data


ODD = [None, True, -1, 0, 1e13, 3.5, "", "x", "left", "y" * 200, [], {}, [1], {"a": 1}, 181]


class Texts(SimpleTestCase):
    @given(st.recursive(st.none() | st.booleans() | st.floats(-1e12, 1e12) | st.text(),
                        lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(), inner, max_size=4),
                        max_leaves=20))
    def test_sound_json_comes_through_unchanged(self, value):
        data = {"value": value}
        try:
            self.assertEqual(read_json(json.dumps(data)), data)
        except Refusal as refusal:
            self.assertIn("nested", refusal.message)

    def test_numbers_beyond_twelve_digits_are_refused_where_they_stand(self):
        for text in ("1" + "0" * 400, "1e13", "-1e300", "1e400"):
            with self.assertRaises(Refusal) as told:
                read_json(f'{{"a": [1, {text}]}}')
            self.assertEqual(told.exception.path, "a[1]")
        self.assertEqual(read_json('{"a": 1e12}'), {"a": 1e12})

    @given(st.binary(max_size=300))
    def test_any_bytes_are_an_object_or_a_refusal(self, raw):
        with suppress(Refusal):
            self.assertIsInstance(read_json(raw), dict)

    def test_a_byte_order_mark_is_forgiven(self):
        self.assertEqual(read_json(b"\xef\xbb\xbf{}"), {})

    def test_schemas_are_schemas(self):
        for name in ("part", "bend", "press"):
            Draft202012Validator.check_schema(schema(name))

    def test_what_fits_a_schema_is_what_another_validator_says_does(self):
        rng, fitting = random.Random(12), 0
        whole = {"part": [part_file(), tray_file(), plate_file(), random_panels(rng)], "press": [press_file()],
                 "leaf": [json.loads((ROOT / "demo" / "finger-1270.json").read_text("utf-8"))]}
        for name, files in whole.items():
            judge = Draft202012Validator(schema(name))
            for _ in range(often(240)):
                data = bent(rng, rng.choice(files))
                errors = {error.json_path.removeprefix("$").lstrip(".") for error in judge.iter_errors(data)}
                fitting += not errors
                try:
                    check(data, name)
                except Refusal as refusal:
                    self.assertTrue(any(refusal.path.startswith(path) for path in errors), (refusal, errors))
                else:
                    self.assertEqual(errors, set(), data)
        self.assertGreater(fitting, often(30))

    def test_numbers_that_numpy_made_are_numbers(self):
        data = part_file([np.float64(30), 60, 30], thickness=np.float64(1.5), width=np.float64(100))
        self.assertEqual(read_part(data).shape.legs[0].size, 30.0)
        with self.assertRaises(Refusal) as told:
            read_part(part_file(width=np.float64(-1)))
        self.assertEqual(told.exception.path, "shape.width")

    def test_examples_in_the_docs_are_valid(self):
        text = (ROOT / "docs" / "part-file.md").read_text("utf-8")
        start = text.index('    {"format"')
        example = text[start:text.index("\n\n", start)]
        part = read_part(read_json(example))
        self.assertEqual([b.id for b in part.shape.all_bends], ["B1", "B2", "B3", "B4", "HE"])
        for row in json.loads((ROOT / "demo" / "tickets.json").read_text("utf-8")):
            if "part" in row:  # a piece of a kit is drawn from the ticket it belongs to
                read_part(row["part"])

    def test_paths_are_joined_as_they_are_written(self):
        self.assertEqual(join("shape", "legs[2]"), "shape.legs[2]")
        self.assertEqual(join("shape.legs", "[2]"), "shape.legs[2]")
        self.assertEqual(str(Refusal("legs[2]", "no").under("shape")), "shape.legs[2]: no")


class Parts(SimpleTestCase):
    def blank(self, data):
        return flat_result(read_part(data))["blank"]["length"]

    def test_outside_inside_and_flat_say_the_same_part(self):
        outside = part_file([30, 60, 40], [(90, "up"), (60, "down")])
        part = read_part(outside)
        inside, flat = copy.deepcopy(outside), copy.deepcopy(outside)
        inside["shape"] |= {"dims": "inside", "legs": []}
        flat["shape"] |= {"dims": "flat", "legs": [leg.flat for leg in part.shape.legs]}
        ends = [0, *[b.figures for b in part.shape.bends], 0]
        for leg, before, after in zip(part.shape.legs, ends, ends[1:], strict=False):
            inside["shape"]["legs"].append(leg.flat + sum(f.inside_setback for f in (before, after) if f))
        self.assertAlmostEqual(self.blank(inside), self.blank(outside), 6)
        self.assertAlmostEqual(self.blank(flat), self.blank(outside), 6)
        mixed = copy.deepcopy(outside)
        mixed["shape"]["legs"][1] = {"length": flat["shape"]["legs"][1], "dims": "flat"}
        self.assertAlmostEqual(self.blank(mixed), self.blank(outside), 6)

    def test_a_die_or_a_nose_gives_the_radius(self):
        data = part_file()
        del data["inside_radius"]
        self.assertAlmostEqual(read_part(data | {"die": {"v": 12}}).inside_radius, 1.92)
        self.assertAlmostEqual(read_part(data | {"nose": {"radius": "1/16 in"}}).inside_radius, 1.5875)
        self.assertAlmostEqual(read_part(part_file(radius=0.4) | {"die": {"v": 12}}).inside_radius, 0.4)
        for change, path in (({"die": {"v": 0}}, "die.v"), ({"nose": {"radius": -2}}, "nose.radius"),
                             ({"die": {"v": 8, "shoulder_radius": 5}}, "die.shoulder_radius")):
            with self.assertRaises(Refusal) as caught:
                read_part(data | change)
            self.assertEqual(caught.exception.path, path)

    def test_a_closed_hem_has_a_k_of_its_own(self):
        def zone(**hem):
            data = part_file([50], [], start_hem={"length": 10, "direction": "up"} | hem)
            return read_part(data).shape.start_hem.figures.allowance
        self.assertAlmostEqual(zone(gap=0), allowance_from_k(180, 0, 1, 0.5))
        self.assertAlmostEqual(zone(gap=0, k=0.33), allowance_from_k(180, 0, 1, 0.33))
        self.assertAlmostEqual(zone(gap=2), allowance_from_k(180, 1, 1, 0.42))

    def test_a_bend_may_have_its_own_radius(self):
        data = part_file()
        data["shape"]["bends"][1]["inside_radius"] = 5
        one, two = read_part(data).shape.bends
        self.assertEqual((one.figures.inside_radius, two.figures.inside_radius), (1.2, 5))

    @given(profiles())
    def test_a_flat_file_holds_together(self, data):
        try:
            flat = flat_result(read_part(data))
        except Refusal:
            return
        length, width = flat["blank"]["length"], flat["blank"]["width"]
        self.assertAlmostEqual(flat["blank"]["area"], length * width, 3)
        self.assertEqual(min(min(p) for p in flat["outline"]), 0)
        last = 0.0
        for bend in flat["bends"]:
            near, far = sorted(t[0][0] for t in bend["tangents"])
            self.assertAlmostEqual((near + far) / 2, bend["line"][0][0], 6)
            self.assertAlmostEqual(far - near, bend["allowance"], 6)
            self.assertGreaterEqual(near, last - 1e-9)
            last = far
        self.assertLessEqual(last, length + 1e-9)
        self.assertEqual(json.loads(json.dumps(flat)), flat)


class Trees(SimpleTestCase):
    """The sheet is more than a strip: faces may hang on any edge."""

    def tray(self):
        figures = read_part(part_file()).shape.bends[0].figures
        base = Face("base", ((0, 0), (80, 0), (80, 50), (0, 50)))
        walls = {"front": ((0, 0), (80, 0)), "right": ((80, 0), (80, 50)), "back": ((80, 50), (0, 50)),
                 "left": ((0, 50), (0, 0))}
        faces, bends = [base], []
        for name, edge in walls.items():
            run = 80 if name in ("front", "back") else 50
            faces.append(Face(name, ((0, 0), (20, 0), (20, run), (0, run))))
            bends.append(Bend(name, "base", name, edge, ((0, 0), (0, run)), "up", figures))
        return Sheet(1.0, "base", tuple(faces), tuple(bends))

    def test_four_walls_unfold_all_round(self):
        sheet = self.tray()
        flat, width = unfold(sheet), sheet.bends[0].figures.allowance
        self.assertAlmostEqual(flat.size[0], 80 + 2 * (20 + width))
        self.assertAlmostEqual(flat.size[1], 50 + 2 * (20 + width))
        self.assertAlmostEqual(flat.area, 80 * 50 + 2 * (80 + 50) * (20 + width), 4)

    def test_a_tree_must_hang_together(self):
        sheet = self.tray()
        with self.assertRaises(ValueError):
            Sheet(1.0, "base", sheet.faces, sheet.bends[:3])
        with self.assertRaises(ValueError):
            Sheet(1.0, "base", sheet.faces, (*sheet.bends, sheet.bends[0]))

    def test_a_tray_is_not_a_strip(self):
        with self.assertRaises(Refusal):
            Strip.of(self.tray())


class OrderCommand(SimpleTestCase):
    def order(self, data, *extra, brake=None):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "brake.json"
            path.write_text(json.dumps(brake or press_file()))
            return run("order", data, "--brake", str(path), *extra)

    def test_an_order_in_inches_is_the_same_order(self):
        metric = self.order(part_file(), "--punch", "Straight 85", "--die", "V 8")[1]
        inches = part_file([30 / 25.4, 60 / 25.4, 30 / 25.4], thickness=1 / 25.4, radius=1.2 / 25.4, width=300 / 25.4)
        imperial = self.order(inches | {"units": "in"}, "--punch", "Straight 85", "--die", "V 8")[1]
        self.assertEqual(metric["cost_seconds"], imperial["cost_seconds"])
        for a, b in zip(metric["steps"], imperial["steps"], strict=True):
            for key in ("bends", "face_up", "held", "angle"):
                self.assertEqual(a[key], b[key])
            self.assertAlmostEqual(a["gauge"]["stop"], b["gauge"]["stop"] * 25.4, 4)

    def test_try_is_held_to_and_costs_no_less_than_the_best(self):
        data = part_file([20, 40, 60, 40], [(90, "up"), (90, "down"), (90, "up")])
        best = self.order(data, "--die", "V 8")[1]
        for names in ("B1,B2,B3", "B3,B1,B2", "B2,B3,B1"):
            tried = self.order(data, "--die", "V 8", "--try", names)[1]
            if tried["feasible"]:
                self.assertEqual(",".join(s["bends"][0] for s in tried["steps"]), names)
                self.assertGreaterEqual(tried["cost_seconds"], best["cost_seconds"])
            else:
                self.assertTrue(tried["hits"] or tried["reasons"])
                self.assertIn("other-order", {r["kind"] for r in tried["remedies"]})
        self.assertAlmostEqual(sum(s["cost_seconds"] for s in best["steps"]), best["cost_seconds"])

    def test_every_step_says_what_a_setter_needs(self):
        for step in self.order(part_file())[1]["steps"]:
            self.assertEqual((step["angle"], step["bend_to"]), (90, 91))
            self.assertEqual(step["face_up"], "top")  # both bends fold up
            if step["gauge"]["from"] == "edge":
                self.assertIn(step["gauge"]["of"], ("L1", "L3"))
            else:  # against the leg beyond the first made bend on the held side
                self.assertEqual(step["held"], "L2")
            self.assertGreater(step["clearance"], 0)
            self.assertGreaterEqual(sum(step["tools"]["die_lengths"]), 300)

    def test_words_that_name_nothing_are_refused(self):
        for extra, path in ((("--punch", "Spoon"), "punch"), (("--die", "V 99", "--punch", "Straight 85"), None),
                            (("--try", "B1"), "try"), (("--try", "B1,X"), "try[1]")):
            status, result, err = self.order(part_file(), *extra)
            if path:
                self.assertEqual((status, result, err.startswith(f"bendcore: {path}: ")), (2, None, True), err)
            else:
                self.assertFalse(result["feasible"])

    def test_a_strip_with_no_bends_needs_no_order(self):
        status, result, _ = self.order(part_file([80], []))
        self.assertEqual((status, result["feasible"], result["steps"], result["cost_seconds"]), (0, True, [], 0))

    def test_an_order_of_many_bends_may_be_tried(self):
        data = part_file([30] * 14, [(20, "up"), (20, "down")] * 6 + [(20, "up")])
        names = ",".join(f"B{n}" for n in range(1, 14))
        self.assertEqual(self.order(data, "--die", "V 8", "--punch", "Straight 85", "--try", names)[0], 0)

    def test_standard_input_is_read(self):
        fake = mock.Mock(buffer=io.BytesIO(json.dumps(part_file()).encode()))
        with mock.patch("sys.stdin", fake), redirect_stdout(io.StringIO()) as out:
            self.assertEqual(main(["flat", "-"]), 0)
        self.assertEqual(json.loads(out.getvalue())["format"], "dorvan-flat")
        self.assertEqual(run("flat", b"")[0], 2)
