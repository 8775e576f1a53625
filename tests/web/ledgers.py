"""A small ledger and stockroom for the tests of the web application."""

import datetime
import json

from bendcore.formats.samples import Entry
from bendcore.quality.ledger import Sample as CoreSample
from dorvan.brakes.models import Tooling
from dorvan.learning.intake import take_in
from dorvan.ledger.models import Chart, Pair, Proof, Sample
from dorvan.site.models import Visit
from dorvan.stockroom.models import Lot
from dorvan.suppliers.models import Supplier
from tests.core.simulated_shops import strip_of
from tests.core.test_suppliers import SUPPLIER

STOCK = ("mild-steel", 1.0, "V 8")


def fill_ledger(by, n=6, k=0.44, bad=()) -> Pair:
    """``n`` samples of mild steel, 1 mm, on V 8, those in ``bad`` far off."""
    for i in range(n):
        proof = strip_of(k + (0.3 if i in bad else 0.004 * (i - (n - 1) / 2)), 90, 1.3, 1.0)
        take_in(Entry(CoreSample(proof, 91.5), 1.0, {"date": f"2026-03-{i + 1:02d}", "who": "ines", "ticket": "T-0007",
                                                     "lot": "", "material": STOCK[0], "tool": STOCK[2],
                                                     "kind": "proof", "note": "", "dropped": ""}), by)
    return Pair.objects.get(material=STOCK[0], tool=STOCK[2])


def lot(by, code="L-1", **fields) -> Lot:
    return Lot.objects.create(code=code, by=by, **{"material": "mild-steel", "thickness": 1.0, "readings": [0.98, 1.0],
                                                   "length": 2000, "width": 1000} | fields)


def one_of_each(by) -> None:
    """One row behind every address that names one."""
    pair = Pair.objects.create(pk=1, material=STOCK[0], thickness=1.0, tool=STOCK[2])
    readings = {"strip": 100, "leg_a": 45, "leg_b": 57, "angle": 90, "inside_radius": 1.3, "thickness": 1}
    Sample.objects.create(pk=1, pair=pair, readings=readings, who="ines", on=datetime.date(2026, 3, 1))
    Proof.objects.create(number=1, pair=pair, by=by, sets=["metric"], plan={
        "strip": 100, "width": 30, "line": 45, "leg_a": 46, "leg_b": 56, "least": 8, "angle": 90, "radius": 1.3,
        "allowance": 2.7})
    Chart.objects.create(pk=1, name="Wall", text="angle,deduction\n80,1.5\n100,2\n", by=by)
    Tooling.objects.create(pk=1, name="Nose 1", kind="nose", size=1.0, by=by)
    Visit.objects.create(number=1, name="Wall", on=datetime.date(2026, 3, 1), made_by=by)
    Supplier.objects.create(pk=1, name=SUPPLIER["name"], file=json.dumps(SUPPLIER), by=by)
    lot(by)
