"""Pages about the shop as a whole: usable by everybody, at a desk, upright on a tablet, on a phone, in either unit."""

import json

from dorvan.brakes.models import Brake
from dorvan.suppliers.models import Supplier
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.panels import housing_file
from tests.core.samples import part_file
from tests.core.test_suppliers import SUPPLIER
from tests.often import IS_THOROUGH
from tests.widths import LINKS, SIZES, SMALL, WIDER, crawled

PAGES = (
    "/shop/", "/shop/bundle/", "/shop/first-hour/", "/people/", "/people/log/", "/people/phrase/",
    "/people/take-over/", "/words/",
    "/brakes/{brake}/try/?material=mild-steel&thickness=1 mm", "/brakes/{brake}/tools/dies/0/",
    "/suppliers/{supplier}/limits/")


class Widths(BrowserCase):
    def test_nothing_is_wider_than_the_window_or_too_small_to_be_tapped_on_any_page(self):
        """Of every page that links lead to, with names as long as they may be."""
        long = "Left-hand frame-rest rail of the second uncapping bench"
        part = part_file() | {"name": long}
        for number, own in ((7, part), (8, housing_file() | {"name": long})):
            Ticket.objects.create(number=number, part=own, brake=self.brake, punch="Swan neck 85", die="V 8",
                                  made_by=self.user)
        pages = crawled(self.go, lambda: self.browser.execute_script(LINKS), 2 if IS_THOROUGH else 1)
        for n, page in enumerate(pages):
            if n % 2:  # every other page in inches
                type(self.user).objects.update(unit="in", tape=64)
                self.go(page)
            for width, height in SIZES:
                self.size(width, height)
                self.assertEqual(self.browser.execute_script(WIDER), "", (page, width))
                self.assertEqual(self.browser.execute_script(SMALL), [], (page, width))
            type(self.user).objects.update(unit="mm")
            self.size(*SIZES[0])
        self.assertGreater(n, 40)


class Office(BrowserCase):
    def test_pages_of_the_shop_can_be_used_by_everybody_at_any_size(self):
        self.go("/people/")
        self.find("#device").send_keys("A tablet with quite a long name, beside the press brake")
        self.find("#trust").click()
        self.wait(lambda: self.has(".devices"))
        self.go("/brakes/new/")
        self.find("[name=name]").send_keys("Old press")
        self.find(".btn").click()
        self.wait(lambda: self.has("#bench[data-stage=sizes]"))
        supplier = Supplier.objects.create(name="A supplier", file=json.dumps(SUPPLIER), by=self.user)
        names = {"brake": Brake.objects.get(name="Old press").pk, "supplier": supplier.pk}
        for unit in ("mm", "in"):
            type(self.user).objects.filter(pk=self.user.pk).update(unit=unit)
            for n, path in enumerate(PAGES):
                self.go(path.format(**names))
                for k, (width, height) in enumerate(((1280, 800), (820, 1180), (390, 844))):
                    with self.subTest(path, width=width, unit=unit):
                        self.size(width, height)
                        self.assertLessEqual(self.browser.execute_script(
                            "return document.documentElement.scrollWidth"), width)
                        if IS_THOROUGH or (n + k + (unit == "in")) % 3 == 0:  # each page in two of six, all sizes
                            self.accessible()
        self.stayed_here()
