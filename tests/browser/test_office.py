"""Pages about the shop as a whole: usable by everybody, at a desk, upright on a tablet, on a phone, in either unit."""

import json

from dorvan.brakes.models import Brake
from dorvan.suppliers.models import Supplier
from tests.browser.base import BrowserCase
from tests.core.test_suppliers import SUPPLIER
from tests.often import IS_THOROUGH

PAGES = (
    "/shop/", "/shop/bundle/", "/shop/first-hour/", "/people/", "/people/log/", "/people/phrase/",
    "/people/take-over/", "/words/",
    "/brakes/{brake}/try/?material=mild-steel&thickness=1 mm", "/brakes/{brake}/tools/dies/0/",
    "/suppliers/{supplier}/limits/")


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
