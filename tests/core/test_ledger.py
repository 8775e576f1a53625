"""Charts, the comparison, the radius by tool, checks of strips, the ledger's file."""

import json
import math
from dataclasses import replace
from unittest import mock

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from bendcore.bending import radius, springback
from bendcore.bending.bend import allowance_from_k
from bendcore.brakes.brake import read_brake
from bendcore.brakes.choice import die_choices
from bendcore.brakes.hand import hand_fit
from bendcore.checks import check_part
from bendcore.errors import Refusal
from bendcore.formats.samples import Entry, read_samples, write_samples
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from bendcore.quality.comparison import compare
from bendcore.quality.fit import fit
from bendcore.quality.ledger import Sample, book_curves, learn
from bendcore.quality.proof import ProofBend, check_proof
from bendcore.schools import school as schools
from bendcore.schools.charts import read_chart
from bendcore.sheet.unfold import unfold
from bendcore.stock import bare_gauge, material
from bendcore.units import writer
from tests.core.samples import ROOT, part_file, press, profiles
from tests.core.simulated_shops import strip_of

CSV = """thickness,radius,angle,deduction
1,1,60,0.9
1,1,90,1.9
1,2,60,1.0
1,2,90,2.2
2,1,60,1.9
2,1,90,3.6
2,2,60,2.0
2,2,90,3.9
"""


class Charts(SimpleTestCase):
    def test_a_chart_is_interpolated_in_thickness_radius_and_angle(self):
        chart = read_chart(CSV)
        for (angle, r, t), wanted in {(90, 1, 1): 1.9, (75, 1, 1): 1.4, (90, 1.5, 1): 2.05, (90, 1, 1.5): 2.75,
                                      (75, 1.5, 1.5): (1.4 + 1.6 + 2.75 + 2.95) / 4, (90, 1.01, 0.99): 1.9}.items():
            self.assertAlmostEqual(chart.figure(angle, r, t), wanted, msg=f"{angle} {r} {t}")

    @given(st.floats(0.3, 4), st.floats(0.3, 4), st.floats(10, 170))
    def test_a_chart_never_leaves_its_edges(self, t, r, angle):
        try:
            figure = read_chart(CSV).figure(angle, r, t)
        except Refusal as refusal:
            self.assertFalse(1 <= t <= 2 and 1 <= r <= 2 and 60 <= angle <= 90, refusal)
        else:
            self.assertTrue(0.9 <= figure <= 3.9 and 60 - 1e-6 <= angle <= 90 + 1e-6)
            self.assertTrue(0.97 <= t <= 2.05 and 0.97 <= r <= 2.05)

    def test_allowances_inches_and_semicolons(self):
        chart = read_chart("tool;angle;allowance\nV 12;90;1/8\nV 8;90;0,1\n", "in")
        self.assertAlmostEqual(schools.from_chart(chart.for_tool("V 12")).figures(90, 2, 1).allowance, 3.175)
        with self.assertRaises(Refusal):
            chart.for_tool("V 99")

    def test_what_is_not_a_chart_is_refused_by_line_and_column(self):
        for text, words in (("", "is empty"), ("angle,deduction\n", "no rows"), ("angle,depth\n90,1", "depth"),
                            ("thickness,deduction\n1,2", "column angle"), ("angle,deduction\n90", "line 2"),
                            ("angle,deduction\n0,1", "line 2, angle"), ("angle,deduction\n90,x", "line 2, deduction"),
                            ("angle,deduction,allowance\n90,1,1", "either"), ("angle,angle\n1,1", "twice"),
                            ("angle,deduction\n90,1\n90,2", "line 3"), ("angle,deduction\n" + "9,1\n" * 2500, "2000"),
                            ('angle,deduction\n"90,1', "not CSV"), ("x" * 300_000, "200 kB"),
                            ("thickness,angle,deduction\n0,90,1", "line 2, thickness")):
            with self.assertRaises(Refusal) as caught:
                read_chart(text)
            self.assertIn(words, caught.exception.message)

    def test_rows_in_a_part_file_go_by_radius(self):
        data = part_file(radius=1.5)
        rows = [{"inside_radius": r, "angle": 90, "deduction": d} for r, d in ((1, 1.9), (2, 2.1))]
        data["allowance"] = {"method": "deduction_chart", "rows": rows}
        self.assertAlmostEqual(read_part(data).shape.bends[0].figures.deduction, 2.0)
        for spoil in ({"angle": 90}, {"inside_radius": 1, "angle": 90, "allowance": 2},
                      {"inside_radius": 1, "angle": 90, "deduction": 2}):
            bad = {**data, "allowance": {"method": "deduction_chart", "rows": [*rows, spoil]}}
            with self.assertRaises(Refusal) as caught:
                read_part(bad)
            self.assertTrue(caught.exception.path.startswith("allowance.rows"))


class Compared(SimpleTestCase):
    def test_eight_schools_and_a_sentence(self):
        found = compare(read_part(part_file(radius=1.2)))
        self.assertGreaterEqual(len(found.speaking), 8)
        sentence = found.sentence(writer("mm"))
        self.assertIn("No allowance and Half-zone are", sentence)
        self.assertRegex(sentence, r"leg L2 comes out [\d.]+ mm too long")

    @given(profiles())
    def test_each_blank_is_that_of_the_part_laid_out_by_that_school(self, data):
        part = read_part(data)
        blocks = {"generic": {}, "din6935": {}, "aircraft": {}, "none": {}}
        for row in compare(part).speaking:
            if row.school.method in blocks:
                other = read_part(data | {"allowance": {"method": row.school.method}})
                if not other.shape.hems:
                    self.assertAlmostEqual(unfold(other.sheet).size[0], row.blank, 6)

    def test_a_strip_cut_by_the_wrong_school_misses_as_told(self):
        """The blank of one school bent with the truth's allowance, walked leg by leg."""
        part = read_part(part_file([30, 60, 40], [(90, "up"), (90, "up")], radius=2))
        truth = schools.k_factor(0.5)
        for row in compare(part, truth=truth).speaking:
            lines, at = [], 0.0
            for leg, bend in zip(part.shape.legs, row.bends, strict=False):
                at += leg.size - (lines and row.bends[len(lines) - 1].deduction / 2 or 0) - bend.deduction / 2
                lines.append(at)
            ends = [0.0, *lines, row.blank]
            real = truth.figures(90, 2, 1).deduction / 2
            sizes = [b - a + real * (i > 0) + real * (i < 2) for i, (a, b) in enumerate(zip(ends, ends[1:],
                                                                                        strict=False))]
            errors = [size - leg.size for size, leg in zip(sizes, part.shape.legs, strict=True)]
            self.assertAlmostEqual(row.miss.error, max(errors, key=abs), 6)


class Radius(SimpleTestCase):
    def test_every_way_of_bending(self):
        self.assertEqual(radius.predict_air(12, 1.5, 0.16).radius, 1.92)
        self.assertEqual(radius.predict_air(12, 1.5, 0.16, nose=3).radius, 3)
        self.assertIn("larger than the die", radius.predict_air(12, 1.5, 0.16, nose=3).minds[0])
        self.assertAlmostEqual(radius.predict_air(6, 3, 0.16).radius, 1.89)
        padded = radius.predict_nose(1, shim=0.5, slip=0.3)
        self.assertAlmostEqual(padded.radius, 1.8)
        self.assertIn("slip sheet 0.3", padded.reason)
        self.assertIn("both ends", padded.minds[0])

    def test_a_given_radius_is_never_altered_but_compared(self):
        data = part_file([40, 60, 40], thickness=1.5, radius=1.5) | {"die": {"v": 12, "shoulder_radius": 1}}
        self.assertEqual(read_part(data).inside_radius, 1.5)
        notice = next(n for n in check_part(read_part(data)) if n.code == "radius-tool")
        self.assertIn("the tool makes 1.92 mm", notice.message)
        del data["inside_radius"]
        self.assertAlmostEqual(read_part(data).inside_radius, 1.92)
        self.assertNotIn("radius-tool", [n.code for n in check_part(read_part(data))])

    @given(st.floats(0.5, 8), st.floats(0.5, 4), st.floats(20, 130))
    def test_springback_is_undone_by_holding_the_radius_it_says(self, r, t, angle):
        alloy = material("stainless-304")
        held = springback.loaded_radius(r, t, alloy)
        free, left = springback.release(held, angle + springback.opening(r, angle, t, alloy), t, alloy)
        self.assertAlmostEqual(free, r, 5)
        self.assertAlmostEqual(left, angle, 5)
        with self.assertRaises(Refusal):
            springback.release(t * 193_000 / 230 / 2 + 1, angle, t, alloy)


class Limits(SimpleTestCase):
    def codes(self, **change):
        data = part_file([40, 60, 40], radius=1.2)
        stock = data["stock"] | change.pop("stock", {})
        return {n.code: n for n in check_part(read_part(data | change | {"stock": stock}))}

    def test_grain(self):
        hard = {"material": "aluminium-5052-h32", "thickness": 1.0}
        alloy = material("aluminium-5052-h32")
        between = (alloy.min_radius_over_t_across + alloy.min_radius_over_t_along) / 2 - 0.01
        self.assertIn("radius-along", self.codes(stock=hard, inside_radius=between))
        self.assertEqual(self.codes(stock=hard | {"grain": "along"}, inside_radius=between)["radius"].severity, "stop")
        self.assertNotIn("radius", self.codes(stock=hard | {"grain": "across"}, inside_radius=between))

    def test_schools_without_an_allowance_say_what_they_cost(self):
        found = self.codes(allowance={"method": "none"})["school-none"]
        self.assertEqual(found.severity, "caution")
        self.assertIn("long", found.message)
        self.assertIn("short", self.codes(allowance={"method": "half_zone"})["school-half_zone"].message)

    def test_the_rating_plate(self):
        nose = {"radius": 1, "rated_thickness": 1.2}
        self.assertEqual(self.codes(nose=nose, stock={"thickness": 1.5})["capacity"].severity, "stop")
        self.assertEqual(self.codes(nose=nose, stock={"material": "stainless-304", "thickness": 1.1})
                         ["capacity"].severity, "stop")
        self.assertNotIn("capacity", self.codes(nose=nose, stock={"thickness": 1.2}))

    def test_a_plate_of_any_metal_bears_the_same_for_the_part_and_for_its_order(self):
        leaf = json.loads((ROOT / "demo" / "leaf-2000.json").read_text("utf-8"))
        bent = set()
        for metal in ("mild-steel", "stainless-304", "aluminium-5052-h32"):
            for own in ("mild-steel", "stainless-304", "aluminium-soft"):
                for t in (0.8, 1.0, 1.25, 1.5, 1.8, 2.2):
                    plate = read_brake(leaf | {"rated": {"thickness": 1.5, "material": metal}})
                    part = part_file((30, 40), ((90, "up"),), thickness=t, radius=3)
                    part["stock"]["material"] = own
                    part["nose"] = {"radius": 1, "rated_thickness": 1.5, "rated_tensile": plate.rated.tensile}
                    read = read_part(part)
                    refused = any(n.code == "capacity" for n in check_part(read))
                    reasons = plan_order(read, plate).reasons
                    self.assertEqual(refused, any(why.code == "capacity" for why in reasons), (metal, own, t))
                    bent.add((refused, metal == own))
        self.assertEqual(len(bent), 4)

    def test_a_very_springy_bend_is_told(self):
        springy = {"material": "aluminium-2024-t3", "thickness": 0.5}
        self.assertIn("springback", self.codes(inside_radius=20, stock=springy))

    def test_own_materials_bring_every_value(self):
        values = vars(material("mild-steel")) | {"tensile_mpa": 500.0}
        values.pop("name")
        data = part_file()
        data["stock"] |= {"material": "spring-tin", "values": values}
        self.assertEqual(read_part(data).stock.material.tensile_mpa, 500)
        del values["yield_mpa"]
        with self.assertRaises(Refusal) as caught:
            read_part(data)
        self.assertIn("yield_mpa", caught.exception.message)

    def test_lengths_are_told_in_the_readers_units(self):
        data = part_file([40, 60, 40], thickness=1.5, radius=1.5) | {"die": {"v": 12}}
        told = next(n.in_units("in") for n in check_part(read_part(data)) if n.code == "radius-tool")
        self.assertEqual(str(told.message), "the drawing asks for inside radius 0.059 in, the tool makes 0.076 in "
                         "(0.16 × V 0.472 in): 0.017 in more, and the blank is laid out for the drawing's")

    def test_the_proposed_die_takes_legs_force_and_angle(self):
        part = read_part(part_file([10, 60, 10], thickness=1.5, radius=1.5))
        rows = {row.die.name: row for row in die_choices(part, press(), None)}
        self.assertEqual([n for n, r in rows.items() if r.proposed], ["V 8"])
        self.assertIn("too short", rows["V 16"].against[0])
        hard = part_file([20, 60, 20], thickness=1.5, radius=1.7)
        hard["stock"]["material"] = "aluminium-5052-h32"
        rows = {row.die.name: row for row in die_choices(read_part(hard), press(), None)}
        self.assertIn("too sharp", rows["V 8"].against[0])
        self.assertTrue(rows["V 12"].proposed)
        self.assertEqual([], [r for r in die_choices(read_part(part_file([4, 9, 4])), press(), None)
                              if r.proposed])

    def test_a_hand_brake_says_what_it_gives_and_what_of_the_part_it_will_not_do(self):
        brake = read_brake(json.loads((ROOT / "demo" / "finger-1270.json").read_text("utf-8")))
        found = hand_fit(read_part(part_file(width=400, springback=2)), brake)
        self.assertEqual((found.radius.radius, found.longest, found.against), (brake.nose_radius, 400, ()))
        self.assertAlmostEqual(found.bears, brake.rated.thickness)
        self.assertAlmostEqual(found.sharpest, 92)
        strong = part_file(thickness=1.5, radius=2.0)
        strong["stock"]["material"] = "stainless-304"
        found = hand_fit(read_part(strong), brake)
        tensile = (material("mild-steel").tensile_mpa, material("stainless-304").tensile_mpa)
        self.assertAlmostEqual(found.bears, brake.rated.thickness * math.sqrt(tensile[0] / tensile[1]))
        self.assertEqual(len(found.against), 1)  # both bends, said once
        self.assertIn("above the", found.against[0])
        found = hand_fit(read_part(part_file(bends=((140, "up"), (90, "up")), radius=0.5, width=1500)), brake)
        self.assertEqual([word for word in ("1500", "inside radius", "swings") if word in " ".join(found.against)],
                         ["1500", "inside radius", "swings"])
        bars = read_brake(json.loads((ROOT / "demo" / "bench-bars.json").read_text("utf-8")))
        self.assertEqual((hand_fit(read_part(part_file()), bars).bears, bars.kind), (None, "bench"))

    def test_a_number_that_may_be_a_gauge(self):
        self.assertEqual([bare_gauge(t) for t in ("16", "16 mm", "16ga", "1.5", "99", " 7 ")],
                         [16, None, None, None, None, 7])


class Ledger(SimpleTestCase):
    def strips(self, k=0.44, n=6, bad=()):
        return [Sample(strip_of(k + (0.3 if i in bad else 0.004 * (i - n / 2)), 90, 1.5, 1), 92.0) for i in range(n)]

    def test_a_fit_names_the_strip_that_does_not_belong(self):
        found = learn(self.strips(bad=(2,)))
        self.assertAlmostEqual(found.k.value, 0.44, 2)
        self.assertAlmostEqual(found.springback.value, 2, 1)
        self.assertEqual([bool(r) for r in found.reasons], [False, False, True, False, False, False])
        self.assertIn("above the others", found.reasons[2])
        self.assertEqual(found.good, 5)

    def test_a_hem_is_a_proof_to_its_tangent(self):
        width = allowance_from_k(180, 0, 1, 0.47)
        proof = check_proof(ProofBend(100, 12 + 0.5, 100 - width - 11.5 + 1, 180, 0, 1, "tangent"))
        self.assertTrue(proof.is_hem)
        self.assertAlmostEqual(proof.k, 0.47)
        self.assertAlmostEqual(proof.allowance, math.pi * 0.47)

    def test_book_curves_start_where_the_books_do(self):
        curves = book_curves()
        self.assertEqual(curves["Generic K by r/t"][0], (0.2, 0.33))
        self.assertTrue(all(0 < k <= 0.5 + 1e-9 for _, k in curves["DIN 6935"]))

    def test_the_file_out_and_in(self):
        sample = self.strips(n=1)[0]
        entries = [Entry(sample, 1.0, {"material": "mild-steel", "tool": "V 8", "who": "=ines", "kind": "proof"}),
                   Entry(replace(sample, held=None), 1.0, {"material": "mild-steel", "tool": "V 8",
                                                             "note": "thick, ü"})]
        text = write_samples(entries)
        self.assertIn(",'=ines,", text)
        back = read_samples(text)
        self.assertEqual([e.sample for e in back], [e.sample for e in entries])
        self.assertEqual((back[0].words["who"], back[1].words["note"]), ("=ines", "thick, ü"))

    def test_bad_files_are_refused_by_line(self):
        good = write_samples([Entry(self.strips(n=1)[0], 1.0, {"material": "m", "tool": "V 8"})])
        header, row, _ = good.split("\n")
        for text, words in (("", "lacks"), (header, "no samples"), (good.replace("nominal", "weight"), "weight"),
                            (header + "\n" + row.replace("45.0", "oops"), "line 2, leg_a"),
                            (header + "\n" + row.replace("45.0", "1e999"), "line 2, leg_a"),
                            (header + "\n" + row.replace("45.0", "0.5"), "line 2, leg_a"),
                            (header + "\n" + row + ",9", "line 2"),
                            (header + "\n" + row.replace("m,", ",", 1), "line 2"),
                            ("material,nominal,tool\nm,1,V 8", "lacks"), (" " * 2_000_000, "larger")):
            with self.assertRaises(Refusal) as caught:
                read_samples(text)
            self.assertIn(words, caught.exception.message)


class Many(SimpleTestCase):
    def test_many_samples_are_fitted_as_if_one_by_one(self):
        """Those that are nearly the same are taken together; half as many again must weigh as many."""
        rng = np.random.default_rng(3)
        near, far = rng.normal(0.42, 0.004, 300), rng.normal(0.46, 0.004, 100)
        x, u = np.concatenate([near, far]), np.full(400, 0.01)
        many = fit(x, u)
        with mock.patch("bendcore.quality.fit.MANY", 10 ** 6):
            each = fit(x, u)
        self.assertAlmostEqual(many.value, each.value, delta=each.u / 10)
        self.assertAlmostEqual(many.u, each.u, delta=each.u / 20)
        self.assertAlmostEqual(sum(many.weights), 1)
        self.assertLess(np.abs(np.array(many.wrong) - each.wrong).max(), 0.06)
