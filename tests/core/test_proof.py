"""Proof bends, shanks, the fit and the depth of a degree: reference, simulation, brute force."""

import random
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import example, given
from hypothesis import strategies as st

from bendcore.errors import Refusal
from bendcore.quality import depth, shanks
from bendcore.quality.fit import fit
from bendcore.quality.proof import NAMES
from tests.core.samples import reference
from tests.core.simulated_shops import simulated_u_k, strip_of, verdict
from tests.core.test_commands import run

ROW = {"strip": 120, "leg_a": 54, "leg_b": 69.6659, "angle": 91.5, "inside_radius": 3.15, "thickness": 1.5}


class Proofs(SimpleTestCase):
    def test_reference_proofs(self):
        for row in reference("proofs"):
            status, result, err = run("proof", {k: v for k, v in row.items() if k != "k"})
            self.assertEqual(status, 0, err)
            self.assertLessEqual(abs(result["k"] - row["k"]), 1e-3)
            self.assertAlmostEqual(result["deduction"], row["leg_a"] + row["leg_b"] - row["strip"])

    @given(st.floats(30, 150), st.floats(0.5, 8), st.floats(0.5, 5), st.floats(0.25, 0.5))
    def test_a_strip_without_error_gives_its_k_back(self, angle, radius, thickness, k):
        self.assertAlmostEqual(strip_of(k, angle, radius, thickness).k, k, 6)

    def test_the_stated_uncertainty_is_the_spread_of_misreadings(self):
        for angle, radius, thickness in ((90, 1.5, 1), (60, 2, 1.5), (120, 4, 3), (90, 0.8, 0.7)):
            proof = strip_of(0.42, angle, radius, thickness)
            self.assertLess(abs(simulated_u_k(proof, 20_000) / proof.u_k - 1), 0.1)

    @given(st.floats(30, 150), st.floats(0.5, 8), st.floats(0.7, 5), st.sampled_from(NAMES),
           st.sampled_from(["apex", "tangent"]))
    def test_slopes_are_those_of_small_differences(self, angle, radius, thickness, name, convention):
        proof, step = replace(strip_of(0.4, angle, radius, thickness), convention=convention), 1e-5
        if abs(angle - 90) < 0.01:
            return  # the tangent convention has its corner here
        moved = [replace(proof, **{name: getattr(proof, name) + s}).k for s in (-step, step)]
        self.assertAlmostEqual((moved[1] - moved[0]) / 2 / step, proof.slopes[name], 4)

    def test_units_and_tools_of_their_own(self):
        inches = {k: v / 25.4 if k != "angle" else v for k, v in ROW.items()} | {"units": "in", "u_length": "0.02 mm"}
        metric = ROW | {"u_strip": 0.02, "u_leg_a": 0.02, "u_leg_b": 0.02, "bent_to": 93.5}
        (_, a, _), (_, b, _) = run("proof", inches), run("proof", metric)
        self.assertAlmostEqual(a["k"], b["k"])
        self.assertAlmostEqual(a["u_k"], b["u_k"])
        self.assertAlmostEqual(b["springback_at_90_deg"], 2 * 90 / 91.5)

    def test_readings_that_no_strip_gives_are_refused_at_the_reading(self):
        for change, path in (({"leg_a": 2}, "leg_a"), ({"strip": 20}, "strip"), ({"angle": 190}, "angle"),
                             ({"thickness": 0}, "thickness"), ({"u_angle": -1}, "u_angle"), ({"strip": 124}, "strip"),
                             ({"inside_radius": -1}, "inside_radius"), ({"bent_to": 80}, "bent_to"),
                             ({"u_radius": 1}, "u_radius"), ({"strip": "12 stone"}, "strip")):
            status, _, err = run("proof", ROW | change)
            self.assertEqual((status, err.split(":")[1].strip()), (2, path), err)


class Fits(SimpleTestCase):
    def test_simulated_shops(self):
        """The full 4,000 are run by ``make bench``."""
        found = verdict(500)
        self.assertLess(found.ratio, 1.15)
        self.assertTrue(0.93 <= found.covered <= 0.985, found)
        self.assertGreater(found.found, 0.9)
        self.assertLess(found.blamed, 0.02)
        self.assertGreater(found.springback_covered, 0.92)

    def test_agreeing_readings_are_averaged_by_their_uncertainty(self):
        result = fit([0.40, 0.43], [0.005, 0.05])
        self.assertTrue(0.40 < result.value < 0.41)
        self.assertAlmostEqual(sum(result.weights), 1)
        self.assertGreater(result.weights[0], result.weights[1])

    @given(st.lists(st.floats(0.3, 0.5), min_size=1, max_size=12), st.floats(-3, 3))
    def test_shifting_every_reading_shifts_the_fit(self, readings, shift):
        u = [0.02] * len(readings)
        one, other = fit(readings, u), fit([r + shift for r in readings], u)
        self.assertAlmostEqual(one.value + shift, other.value, 4)
        self.assertAlmostEqual(one.u, other.u, 4)
        self.assertTrue(one.low <= one.value <= one.high)

    def test_the_posterior_is_that_of_plain_sampling(self):
        """An independent judge: importance sampling of the same stated model."""
        from bendcore.quality.fit import K_SCATTER, WILD, WRONG_SHARES
        x, u = np.array([0.41, 0.43, 0.40, 0.55]), np.array([0.02, 0.015, 0.03, 0.02])
        rng = np.random.default_rng(3)
        n = 400_000
        at, share = rng.uniform(0.2, 0.7, n), rng.choice(WRONG_SHARES, n)
        spread = np.hypot(u, np.abs(rng.normal(0, K_SCATTER, n))[:, None])
        pull = (x - at[:, None]) / spread
        like = ((1 - share[:, None]) * np.exp(-pull ** 2 / 2) / spread
                + share[:, None] * np.exp(-(pull / WILD) ** 2 / 2) / spread / WILD).prod(1)
        like /= like.sum()
        mean, result = like @ at, fit(x, u)
        self.assertAlmostEqual(result.value, mean, 3)
        self.assertAlmostEqual(result.u / np.sqrt(like @ (at - mean) ** 2), 1, 1)
        self.assertEqual(result.outliers, (3,))

    @given(st.lists(st.tuples(st.floats(-900, 900), st.floats(0, 1e7)), min_size=1, max_size=8), st.booleans())
    @example([(0.0, 0.0), (297.0, 1.0), (362.0, 21.0)], False)
    def test_any_reading_however_wild_or_unsure_is_fitted(self, readings, booked):
        x, u = zip(*readings, strict=True)
        result = fit(x, u, book=(0.42, 0.1) if booked else None)
        self.assertTrue(result.low <= result.value <= result.high and result.u >= 0, result)

    def test_a_reading_far_surer_than_the_others_decides(self):
        for vague in (10, 1e4, 1e7):
            self.assertAlmostEqual(fit([0.43, 5], [0.004, vague]).value, 0.43, 2)
            self.assertAlmostEqual(fit([0.43, 5], [0.004, vague], book=(0.42, 0.1)).value, 0.43, 2)

    def test_nothing_to_fit_is_refused(self):
        for readings, u in (([], []), ([0.4], []), ([float("nan")], [0.1])):
            with self.assertRaises(Refusal):
                fit(readings, u)


class Shanks(SimpleTestCase):
    def test_the_sets(self):
        names = {s.name: s.diameter for s in shanks.drills()}
        self.assertAlmostEqual(names["#1"], 5.7912)
        self.assertAlmostEqual(names["#80"], 0.3429)
        self.assertAlmostEqual(names["A"], 5.9436)
        self.assertAlmostEqual(names["Z"], 10.4902)
        self.assertAlmostEqual(names["5/32"], 3.96875)
        self.assertEqual(len(shanks.drills(["number"])), 80)
        self.assertEqual(len(shanks.drills(["letter"])), 26)
        with self.assertRaises(Refusal):
            shanks.drills(["spanners"])

    @given(st.floats(0.6, 9), st.floats(0.3, 3), st.sets(st.sampled_from(shanks.SETS), min_size=1))
    def test_every_search_ends_with_the_radius_in_the_bracket(self, radius, guess, sets):
        owned, light = shanks.drills(sets), []
        state = shanks.search(owned, light, radius * guess)
        while state.next:
            light.append((state.next.name, state.next.radius > radius))
            state = shanks.search(owned, light, radius * guess)
            low, high = state.bracket
            self.assertTrue(low <= radius and (high is None or radius < high))
        self.assertLessEqual(len(light), 24)
        near = [s for s in owned if s.radius > radius]
        self.assertEqual(state.done, bool(near))
        if near:
            self.assertEqual(state.bridges, near[0])
            self.assertAlmostEqual(state.radius, sum(state.bracket) / 2)

    def test_tries_that_contradict_are_refused(self):
        with self.assertRaises(Refusal) as caught:
            shanks.search(shanks.drills(), [("1/8", True), ("5/32", False)], 2)
        self.assertIn("5/32", caught.exception.message)
        with self.assertRaises(Refusal):
            shanks.search(shanks.drills(["letter"]), [("1/8", True)], 2)


class Depth(SimpleTestCase):
    def test_a_degree_is_learnt_from_strokes_and_one_misreading_does_not_move_it(self):
        rng = random.Random(5)
        strokes = [depth.Stroke(f"T{n}", d, 80 + n + d / 0.04 + rng.gauss(0, 0.1))
                   for n in range(6) for d in (4.0, 4.08, 4.2)]
        strokes.append(depth.Stroke("T0", 4.4, 20))
        found = depth.learn(strokes)
        self.assertAlmostEqual(found.per_degree, 0.04, 2)
        self.assertLess(abs(found.per_degree / 0.04 - 1), 0.1)
        self.assertTrue(found.low <= found.per_degree <= found.high)

    def test_strokes_of_different_set_ups_are_not_compared(self):
        self.assertIsNone(depth.learn([depth.Stroke("a", 4.0, 88), depth.Stroke("b", 4.2, 92)]))
        self.assertIsNone(depth.learn([depth.Stroke("a", 4.0, 88), depth.Stroke("a", 4.01, 92)]))


