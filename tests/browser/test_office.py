"""Pages about the shop as a whole: usable by everybody, at a desk, upright on a tablet, on a phone, in either unit."""

import json

from dorvan.brakes.models import Brake
from dorvan.suppliers.models import Supplier
from tests.browser.base import BrowserCase
from tests.core.test_suppliers import SUPPLIER

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
            for width, height in ((1280, 800), (820, 1180), (390, 844)):
                self.size(width, height)
                for path in PAGES:
                    with self.subTest(path, width=width, unit=unit):
                        self.go(path.format(**names))
                        self.accessible()
                        self.assertLessEqual(self.browser.execute_script(
                            "return document.documentElement.scrollWidth"), width)
        self.stayed_here()
