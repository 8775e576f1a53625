"""What was measured, and the sizes that follow: rules against Python's own arithmetic, graphs against a plain walk."""

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from bendcore.errors import Refusal
from bendcore.said import in_units
from bendcore.site import measured
from bendcore.site.measured import ANGLE, BARE, KINDS, LENGTH, Settled, as_many, out_of_square, settle
from bendcore.site.rules import Rule, Value, check_name
from bendcore.site.sheet import Measured, Sheet, moved
from bendcore.units import read_length

KNOWN = {"opening": Value(LENGTH, (600.0,)), "clearance": Value(LENGTH, (3.0,)), "side": Value(LENGTH, (10.0, 20.5, 4)),
         "opening deep": Value(LENGTH, (410.0,)), "lean": Value(ANGLE, (15.0,)), "boxes": Value(BARE, (13.0,))}


def ruled(text, units="mm"):
    return Rule(text, units, tuple(KNOWN)).value(KNOWN)


class Readings(SimpleTestCase):
    def test_two_that_agree_settle_it_and_a_third_decides(self):
        kind = KINDS["opening"]
        for readings, state, values in (([], measured.MISSING, ()), ([[600]], measured.ONCE, ()),
                                        ([[600], [602]], measured.APART, ()),
                                        ([[600], [600.8]], measured.SETTLED, (600.4,)),
                                        ([[600], [604], [603.5]], measured.SETTLED, (603.75,))):
            found = settle(readings, 1.0, kind)
            self.assertEqual((found.state, found.values), (state, values))
            self.assertEqual(bool(found.lacks), state != measured.SETTLED)
        self.assertEqual(settle([[3], [4]], 1, KINDS["given"]).values, (4,))
        sides = settle([[10, 20], [10.4, 21.5], [10.2, 20.4]], 1.0, KINDS["sides"])
        self.assertEqual([round(v, 6) for v in sides.values], [10.1, 20.2])

    def test_diagonals_that_differ_are_told(self):
        self.assertIn("3.0 mm apart", out_of_square(KINDS["diagonals"], (1418.0, 1421.0)))
        self.assertIsNone(out_of_square(KINDS["diagonals"], (1418.0, 1418.2)))
        self.assertIsNone(out_of_square(KINDS["places"], (1418.0, 1421.0)))

    def test_a_reading_has_as_many_sides_as_its_kind_and_the_first(self):
        for before, values, kind in (([], [1], "sides"), ([], [1, 2], "width"), ([[1, 2]], [1, 2, 3], "sides")):
            with self.assertRaises(Refusal):
                as_many(before, values, KINDS[kind])


class Rules(SimpleTestCase):
    def test_they_are_read_as_they_are_said(self):
        for text, dimension, value in (
                ("opening less 2 × clearance", LENGTH, 594), ("Opening minus twice clearance", LENGTH, 594),
                ("opening deep less 10", LENGTH, 400), ("perimeter of side", LENGTH, 34.5),
                ("half of perimeter of side plus 1 in", LENGTH, 42.65), ("smallest of side", LENGTH, 4),
                ("largest of side − smallest of side", LENGTH, 16.5), ("mean of side × 2", LENGTH, 23),
                ("opening / boxes", LENGTH, 600 / 13), ("opening / opening deep", BARE, 600 / 410),
                ("(opening less clearance) / 3 plus 1/2 in", LENGTH, 211.7), ("90° less lean", ANGLE, 75),
                ("7 3/8 in", LENGTH, 187.325), ("2 × 3 + opening", LENGTH, 606), ("5", LENGTH, 5),
                ("opening plus 1' 2\"", LENGTH, 955.6), ("opening plus 1'-2 1/2\"", LENGTH, 968.3),
                ("opening less .5 in", LENGTH, 587.3), ("7⁄8 in plus opening", LENGTH, 622.225),
                ("1 ft less opening", LENGTH, 304.8 - 600), ("1' - 2 in", LENGTH, 254), ("2 x 1 ft 3 in", LENGTH, 762),
                ("opening less 1 - 1/2", LENGTH, 598.5), ("1-1/2 in × 2", LENGTH, 76.2), ("12 mm - 1 cm", LENGTH, 2)):
            found = ruled(text)
            self.assertEqual(found.dimension, dimension, text)
            self.assertAlmostEqual(found.one, value, 9, text)

    @given(st.integers(0, 40), st.integers(0, 11), st.sampled_from(("", "1/2", "3/16", "7⁄8")),
           st.sampled_from(("'", " ft", "′")), st.sampled_from(('"', " in", "″", " inches", "")))
    @settings(max_examples=80, deadline=None)
    def test_sizes_in_a_rule_are_those_typed_anywhere(self, feet, whole, part, mark, unit):
        """The one grammar of a length, wherever it stands."""
        text = (f"{feet}{mark} " if feet else "") + f"{whole} {part}".strip() + unit
        wanted = read_length(text, "in")
        self.assertAlmostEqual(ruled(f"opening plus {text}", "in").one, 600 + wanted)
        self.assertAlmostEqual(ruled(f"({text}) plus opening", "in").one, 600 + wanted)

    def test_a_bare_number_is_in_the_units_it_was_typed_in(self):
        self.assertAlmostEqual(ruled("opening less 1 1/2", "in").one, 600 - 38.1)
        self.assertAlmostEqual(ruled("opening less 2 × 1", "in").one, 600 - 50.8)
        self.assertAlmostEqual(ruled("2 × opening", "in").one, 1200)

    def test_what_makes_no_size_is_refused(self):
        for text in ("", "opening less", "opening opening", "door", "opening × clearance", "opening plus lean",
                     "side plus 2 mm", "side", "smallest side", "(opening", "opening)", "opening / 0", "1/0 in",
                     "less opening", "(" * 40 + "opening" + ")" * 40, "opening plus " * 40, "3 mm × 3 mm", "of opening",
                     "2 / opening", "__import__('os')", "opening less 2 × {clearance}"):
            with self.assertRaises(Refusal, msg=text) as caught:
                ruled(text)
            self.assertEqual(caught.exception.path, "rule")

    def test_the_working_names_every_value_in_the_readers_units(self):
        said = Rule("opening less 2 × clearance", "mm", tuple(KNOWN)).working(KNOWN)
        self.assertEqual(said, "opening (600.0 mm) less 2 × clearance (3.0 mm) = 594.0 mm")
        self.assertIn("(0.118 in)", in_units(said, "in"))

    def test_names_that_rules_could_not_tell_apart_are_refused(self):
        for name in ("", "2 wide", "less air", "half", "a" * 41, "door=1", "Opening"):
            with self.assertRaises(Refusal):
                check_name(name, KNOWN)
        self.assertEqual(check_name("niche  1 width", KNOWN), "niche 1 width")

    @given(st.recursive(st.sampled_from(["a", "b", "c"]) | st.integers(1, 9).map(str), lambda part: st.one_of(
        st.tuples(part, st.sampled_from(["plus", "less"]), part).map(lambda p: f"({' '.join(p)})"),
        part.map(lambda p: f"half of {p}"), part.map(lambda p: f"2 × {p}")), max_leaves=5))
    @settings(max_examples=150, deadline=None)
    def test_they_come_to_what_python_comes_to(self, text):
        values = {"a": 31.0, "b": 7.5, "c": 0.25}
        plain = text.replace("plus", "+").replace("less", "-").replace("half of", "0.5 *").replace("×", "*")
        known = {name: Value(LENGTH, (mm,)) for name, mm in values.items()}
        self.assertAlmostEqual(Rule(text, "mm", tuple(known)).value(known).one, eval(plain, {}, values))  # noqa: S307


def sheet_of(values, rules, once=()):
    things = {name: Measured(LENGTH, Settled(measured.ONCE) if name in once else Settled(measured.SETTLED, (value,)))
                for name, value in values.items()}
    names = (*values, *rules)
    return Sheet(things, {name: Rule(text, "mm", names) for name, text in rules.items()})


@st.composite
def graphs(draw):
    """(values, terms by rule, the reading that changes): each rule a sum of measured things and rules before it."""
    count = draw(st.integers(1, 6))
    values = {f"m{n}": float(draw(st.integers(100, 900))) for n in range(count)}
    rules, names = {}, [*values]
    for n in range(draw(st.integers(1, 12))):
        rules[f"r{n}"] = draw(st.lists(st.sampled_from(names), min_size=1, max_size=3, unique=True))
        names.append(f"r{n}")
    return values, rules, draw(st.sampled_from([*values]))


class Graphs(SimpleTestCase):
    @given(graphs(), st.randoms())
    @settings(max_examples=120, deadline=None)
    def test_a_changed_reading_moves_exactly_what_hangs_on_it(self, graph, shuffle):
        values, terms, changed = graph

        def plain(name, values):  # a walk down, each time anew
            return values[name] if name in values else sum(plain(term, values) for term in terms[name])

        rows = [(name, " plus ".join(parts)) for name, parts in terms.items()]
        shuffle.shuffle(rows)
        after = values | {changed: values[changed] + 1.25}
        one, other = sheet_of(values, dict(rows)), sheet_of(after, dict(rows))
        for sheet, known in ((one, values), (other, after)):
            for name in terms:
                self.assertAlmostEqual(sheet.values[name].one, plain(name, known))
        expected = {changed} | {name for name in terms if abs(plain(name, values) - plain(name, after)) > 1e-9}
        self.assertEqual(moved(one.values, other.values), expected)
        self.assertEqual({name for name in terms if changed in one.hangs_on[name]}, expected - {changed})
        held = sheet_of(values, dict(rows), once=(changed,))
        self.assertEqual(set(terms) - set(held.values), expected - {changed})
        self.assertTrue(all(bool(held.lacks[name]) == (name in expected) for name in terms))

    def test_a_rule_that_fails_takes_only_those_that_hang_on_it(self):
        sheet = sheet_of({"a": 4.0, "b": 4.0}, {"c": "a over (a less b) less 1 mm", "d": "2 × c", "e": "a"})
        self.assertEqual(set(sheet.values), {"a", "b", "e"})
        self.assertEqual(set(sheet.failed), {"c", "d"})
        self.assertIn("hangs on c", sheet.failed["d"])

    def test_a_rule_that_cannot_be_read_any_more_spoils_no_other(self):
        known = ("a", "gone", "b", "c", "d")
        sheet = Sheet({"a": Measured(LENGTH, Settled(measured.SETTLED, (4.0,)))},
                      {"b": Rule("gone less a", "mm", known), "c": Rule("2 × b", "mm", known),
                       "d": Rule("a plus 1", "mm", known)})
        self.assertEqual((set(sheet.values), set(sheet.failed)), ({"a", "d"}, {"b", "c"}))
        self.assertEqual(sheet.lacks["b"], ())

    def test_a_rule_is_tried_before_anything_is_measured(self):
        things = {"side": Measured(LENGTH, Settled(measured.MISSING), several=True),
                  "lean": Measured(ANGLE, Settled(measured.MISSING)), "a": Measured(LENGTH, Settled(measured.MISSING))}
        for text, good in (("perimeter of side less a", True), ("side less a", False), ("a plus lean", False),
                           ("a × a", False), ("twice a", True)):
            sheet = Sheet(things, {"rule": Rule(text, "mm", tuple(things))})
            if good:
                sheet.check()
                self.assertEqual((sheet.values, sheet.failed), ({}, {}))
            else:
                with self.assertRaises(Refusal):
                    sheet.check()

    def test_a_circle_is_refused_with_its_path(self):
        sheet = sheet_of({"a": 1.0}, {"b": "a plus d", "c": "b", "d": "c less 1 mm", "e": "a"})
        with self.assertRaises(Refusal) as caught:
            sheet.check()
        self.assertEqual((set(sheet.values), set(sheet.failed)), ({"a", "e"}, {"b", "c", "d"}))
        message = caught.exception.message
        way = message.partition(": ")[2].split(" hangs on ")
        self.assertEqual(way[0], way[-1])
        self.assertEqual({*way}, {"b", "c", "d"})
        for one, other in zip(way, way[1:], strict=False):
            self.assertIn(other, sheet.rules[one].names)
