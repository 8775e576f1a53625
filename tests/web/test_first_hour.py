"""The first hour, and what is not known yet: against the bend's own formula, differentiated by hand of numbers."""

from math import sqrt

from django.test import SimpleTestCase

from bendcore.bending.bend import allowance_from_k
from bendcore.quality.certainty import blank_uncertainty
from bendcore.quality.spreads import Spreads
from bendcore.schools.school import generic_k
from dorvan.brakes.models import Brake
from dorvan.ledger.models import Sample
from dorvan.shop.models import Shop, forget
from dorvan.stockroom.models import Lot
from dorvan.tickets.models import Ticket
from tests.web.base import ShopCase
from tests.web.ledgers import fill_ledger, lot


def blank(thickness, k, radius):
    """Two square bends between legs of 50 mm outside, from the bend's own formula."""
    return 150 - 2 * (2 * (radius + thickness) - allowance_from_k(90, radius, thickness, k))


class Certainty(SimpleTestCase):
    def test_it_is_what_a_little_more_of_each_does_to_a_blank(self):
        for t, r in ((0.6, 0.4), (1.0, 1.0), (3.0, 2.5), (2.0, 9.0)):
            k, s = generic_k(r, t), Spreads()
            found = blank_uncertainty(t, r, 2, s)
            by_k = (blank(t, k + 1e-6, r) - blank(t, k - 1e-6, r)) / 2e-6 * s.k
            by_t = (blank(t + 1e-6, k, r) - blank(t - 1e-6, k, r)) / 2e-6 * s.thickness * t
            self.assertAlmostEqual(found["k"], 2 * abs(by_k), 6)
            self.assertAlmostEqual(found["thickness"], 2 * abs(by_t), 6)
            self.assertLess(sqrt(found["k"] ** 2 + found["thickness"] ** 2), t)


class FirstHour(ShopCase):
    def setUp(self):
        super().setUp()
        self.addCleanup(forget)
        self.client.force_login(self.lead)
        Ticket.objects.all().delete()
        Brake.objects.all().delete()

    def states(self):
        forget()
        page = self.client.get("/shop/first-hour/")
        return [one.done for one in page.context["steps"]], page.context["by_k"], page.context["by_thickness"]

    def test_each_step_is_done_as_it_is_done_and_narrows_what_it_is_about(self):
        none, by_k, by_thickness = self.states()
        self.assertEqual(none, [False] * 4)
        self.client.post("/brakes/begin/", {"kind": "leaf", "name": "Old leaf"})
        self.assertContains(self.client.get("/shop/first-hour/"), "sizes are start values still")
        lot(self.lead)
        self.assertEqual(Lot.objects.count(), 1)
        steps, same, less = self.states()
        self.assertEqual((steps, same < by_k * 1.01), ([True, True, False, False], True))
        self.assertLess(less, by_thickness * 0.9)
        fill_ledger(self.lead)
        self.assertTrue(Sample.objects.exists())
        self.assertEqual(self.states()[0], [True, True, True, False])

    def test_it_is_left_and_come_back_to(self):
        Shop.objects.filter(pk=Shop.row().pk).update(first_hour=True)
        forget()
        self.assertContains(self.client.get("/"), 'id="first-hour"')
        for again, seen in (("", False), ("1", True)):
            with self.captureOnCommitCallbacks(execute=True):
                self.client.post("/shop/first-hour/leave/", {"again": again})
            self.assertEqual('id="first-hour"' in self.client.get("/").content.decode(), seen)
        self.client.force_login(self.bench)
        self.assertNotContains(self.client.get("/"), 'id="first-hour"')
