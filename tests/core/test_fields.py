"""Fields declared once: the schema, what may be set, what things are called, what comes and goes, all follow."""

import copy
import json
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from bendcore import edits
from bendcore.errors import Refusal
from bendcore.families import FAMILIES
from bendcore.fields import Choice, Drawn, Group, Length, Many, leaves, steps, walk
from bendcore.files import schema as schema_file
from bendcore.part import read_part
from bendcore.part_file import declared, field_at, in_words, schema
from tests.core.guards import guard_file
from tests.core.panels import panels_file
from tests.core.plates import plate_file
from tests.core.ribs import rib_file
from tests.core.rolled import cone_file, rolled_file, tube_file
from tests.core.samples import part_file
from tests.core.sleeves import sleeve_file
from tests.core.transitions import square_to_round_file, transition_file
from tests.core.trays import tray_file

PARTS = {
    "profile": part_file(start_hem={"length": 8, "direction": "up"}),
    "tray": tray_file(corners={"style": "tab", "tab": {"width": 12}},
                      walls={"left": {"height": 30, "lip": {"width": 10, "direction": "out"}},
                             "right": {"height": 30}, "front": {"height": 30}},
                      holes=[{"x": 60, "y": 50, "diameter": 9}]),
    "panels": panels_file([{"edge": 1, "length": 40, "direction": "up"},
                           {"on": 1, "edge": 3, "length": 15, "direction": "up", "start": 12}],
                          holes=[{"on": 1, "x": 60, "y": 20, "diameter": 9}],
                          windows=[{"x": 80, "y": 50, "length": 40, "width": 20, "radius": 3}]),
    "plate": plate_file(), "guard": guard_file(), "sleeve": sleeve_file(),
    "transition": transition_file(top_flange={"width": 15, "direction": "out"}, pieces=2),
    "cone": cone_file(large_tilt=10, seam={"kind": "lap", "width": 8}), "tube": tube_file(end_tilt=5),
    "square-to-round": square_to_round_file(),
    "elbow": rolled_file(kind="elbow", diameter=100, radius=120, angle=90, pieces=4),
    "chain": rolled_file(kind="chain", stations=[{"diameter": 120}, {"length": 90, "diameter": 110, "turn": 20},
                                                 {"length": 90, "diameter": 90}]),
    "rib": rib_file(corners=[{"corner": 2, "radius": 12}], pins=[{"x": 60, "y": 50}],
                    holes=[{"x": 150, "y": 50, "diameter": 40, "collar": {"height": 4}}], rivets={"pitch": 30}),
    "flat": plate_file() | {"shape": {"kind": "flat", "outline": [[0, 0], [90, 0], [90, 40], [0, 40]], "bends": [
        {"line": [[30, 0], [30, 40]], "angle": 90, "direction": "up"}]}}}


def now(part):
    return lambda: read_part(part).shape


def at(part, path):
    for step in steps(path):
        part = part[step]
    return part


class Declared(TestCase):
    def test_the_schema_is_what_is_declared(self):
        self.assertEqual(schema(), schema_file("part"), "run python -m bendcore.part_file")

    def test_every_family_says_its_kind_and_reads_what_it_starts_as(self):
        for kind, family in FAMILIES.items():
            self.assertEqual(family.fields.fields["kind"].schema(), {"const": kind})
            for units in ("mm", "in") if family.start else ():
                part = read_part(edits.new_part("x", units, kind))
                self.assertEqual((part.shape.kind, part.units), (kind, units))
        self.assertEqual(set(PARTS), set(FAMILIES))

    def test_all_that_stands_in_a_file_is_declared_and_has_a_name(self):
        for kind, part in PARTS.items():
            read_part(part)
            for one, path, _ in leaves(declared(kind), part):
                place = field_at(path, kind)
                self.assertIs(place.field, one, path)
                self.assertTrue(in_words(path, kind), path)
                self.assertNotIn("[", in_words(path, kind), path)

    def test_fields_of_one_part_have_names_of_their_own(self):
        for kind in FAMILIES:
            paths = [path for path, one in walk(declared(kind)) if not isinstance(one, Group | Many)]
            typed = [p.replace("[]", "[0]") for p in paths if field_at(p.replace("[]", "[0]"), kind).is_typed]
            named = {}
            for path in typed:
                if not path.startswith("shape.") or path.endswith(("[0][0]", ".line[0]")):
                    continue
                named.setdefault(in_words(path, kind), []).append(path)
            self.assertEqual({name: p for name, p in named.items() if len(p) > 1}, {}, kind)

    def test_a_path_that_is_none_is_no_field(self):
        for path in ("", "shape.", "shape..legs", "shape.legs[-1]", "shape.legs[x]", "__class__",
                     "shape.legs[0].__class__", "shape.legs[99999]",
                     "shape.kind.x", "name.x", "shape.walls.roof", "shape.legs[²]", "a" * 5000):
            self.assertIsNone(field_at(path, "profile"), path)
            with self.assertRaises(Refusal):
                edits.set_field(PARTS["profile"], path, "1", "mm")


def emptied(part):
    """The part without lists in which nothing is left, however deep."""
    if isinstance(part, list):
        return [emptied(one) for one in part]
    return {key: emptied(value) for key, value in part.items() if value != []} if isinstance(part, dict) else part


class Edited(TestCase):
    @given(st.data())
    def test_what_is_set_stands_there_and_nothing_else_moved(self, data):
        """Whatever field of whatever family: a length typed is the length read, in either unit."""
        kind = data.draw(st.sampled_from(sorted(PARTS)))
        part = PARTS[kind]
        lengths = [path for one, path, value in leaves(declared(kind), part)
                   if isinstance(one, Length) and not isinstance(value, dict) and field_at(path, kind).is_typed]
        path = data.draw(st.sampled_from(lengths))
        before = json.dumps(part)
        inches = data.draw(st.integers(1, 64))
        edited = edits.set_field(part, path, f"{inches}/64", "in")
        self.assertEqual(json.dumps(part), before)
        self.assertEqual(at(edited, path), f"{inches}/64 in")
        left, right = ({p: v for _, p, v in leaves(declared(kind), one) if p != path} for one in (part, edited))
        self.assertEqual(left, right)

    def test_what_comes_goes_again_and_the_part_is_as_it_was(self):
        checked = 0
        for kind, part in PARTS.items():
            for path, one in walk(declared(kind)):
                path = path.replace("[]", "[0]")
                if isinstance(one, Group) and one.extra:
                    try:
                        once = edits.toggled(part, path, now(part))
                    except Refusal:  # of a thing that is not on this part
                        continue
                    read_part(once)
                    twice = edits.toggled(once, path, now(once))
                    there = path.rpartition(".")[2] in at(part, path.rpartition(".")[0])
                    self.assertNotEqual(once, part, path)
                    if not there:
                        self.assertEqual(twice, part, path)
                    checked += 1
                if isinstance(one, Many) and one.extra and not path.endswith("outline") and kind != "flat":
                    holder = at(part, path.rpartition(".")[0])
                    count = len(holder.get(path.rpartition(".")[2], ()))
                    once = edits.added(part, path, now(part))
                    read_part(once)
                    back = edits.removed(once, f"{path}[{count}]")
                    self.assertEqual(emptied(back), emptied(part), path)
                checked += 1
        self.assertGreater(checked, 20)

    def test_an_option_brings_what_belongs_to_it_and_takes_it_along(self):
        checked = 0
        for kind, part in PARTS.items():
            for path, one in walk(declared(kind)):
                if not isinstance(one, Choice) or not one.brings or "allowance" in path:
                    continue
                for option in one.options:
                    edited = edits.set_field(part, path, option, "mm")
                    read_part(edited)
                    group, bound = at(edited, path.rpartition(".")[0]), {k for ks in one.brings.values() for k in ks}
                    self.assertEqual(bound & set(group), set(one.brings.get(option, ())), (path, option))
                    checked += 1
        self.assertGreaterEqual(checked, 6)
        lapped = edits.set_field(PARTS["sleeve"], "shape.seam.kind", "lap", "mm")
        lapped = edits.set_field(lapped, "shape.seam.lap", "22", "mm")
        self.assertEqual(edits.set_field(lapped, "shape.seam.kind", "lap", "mm")["shape"]["seam"]["lap"], "22")

    def test_a_part_made_as_large_as_a_sample_keeps_its_holes_and_gaps(self):
        part = tray_file(holes=[{"x": 60, "y": 50, "diameter": 9}], corners={"style": "open", "gap": 0.4})
        larger = edits.rescaled(part, "length", "14.4", "in", now(part))
        one, other = read_part(part).shape, read_part(larger).shape
        times = 14.4 * 25.4 / one.length.outside
        for before, after in zip(one.legs, other.legs, strict=True):
            self.assertAlmostEqual(after.size, before.size * times, places=3)
        self.assertAlmostEqual(other.holes[0].diameter, 9)
        self.assertEqual(larger["shape"]["corners"], part["shape"]["corners"])

    def test_a_length_beyond_its_limits_is_refused_at_its_field(self):
        checked = 0
        for kind, part in PARTS.items():
            for one, path, value in leaves(declared(kind), part):
                if not isinstance(one, Length) or isinstance(value, dict) or (one.over, one.least) == (None, None):
                    continue
                for typed in ["-1", "0"] if one.over == 0 else ["-1"]:
                    with self.assertRaises(Refusal) as refused:
                        read_part(edits.set_field(part, path, typed, "mm"))
                    self.assertEqual(refused.exception.path, path)
                    checked += 1
        self.assertGreater(checked, 15)

    def test_nothing_typed_takes_a_field_out_or_is_refused_there(self):
        taken = 0
        for kind, part in PARTS.items():
            for _, path, value in leaves(declared(kind), part):
                try:
                    left = edits.set_field(part, path, "", "mm")
                except Refusal as refused:
                    self.assertEqual(refused.path, path[:60])
                    continue
                taken += 1
                self.assertNotIn((path, value), [place[1:] for place in leaves(declared(kind), left)])
        self.assertGreater(taken, 15)

    def test_fields_that_follow_from_others_are_not_in_the_file(self):
        for kind in FAMILIES:
            for path, one in walk(FAMILIES[kind].fields):
                if isinstance(one, Drawn):
                    self.assertNotIn(path.partition("[")[0], schema()["$defs"][kind]["properties"])

    def test_nothing_is_changed_in_place(self):
        for part in PARTS.values():
            before = copy.deepcopy(part)
            for path in ("shape.holes", "shape.bends", "shape.flanges"):
                try:
                    edits.removed(edits.added(part, path, now(part)), f"{path}[0]")
                except Refusal:
                    continue
            self.assertEqual(part, before)
