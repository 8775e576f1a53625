"""The demo shop as an earlier version made it comes to what it came to then: figures, orders, releases, every page."""

import gzip
import json
import tempfile
from pathlib import Path

from django.test import SimpleTestCase

from tests.core.samples import ROOT
from tests.web.test_keeping import manage

DATA = ROOT / "tests" / "data"
PAGES = ("", "shape/", "stock/", "proof/", "layout/", "order/", "bend/", "check/", "kit/", "card/", "workings/",
         "marking-out/", "space/", "still.svg", "folded/", "file/part/", "file/dxf/", "file/svg/", "file/pdf/",
         "file/csv/", "file/json/", "file/model/", "file/stl/", "file/glb/")
COME_TO = """
import json, os
from django.conf import settings
from django.test import Client
from bendcore.formats.results import flat_result
from dorvan.people.models import User
from dorvan.tickets.models import Ticket
settings.ALLOWED_HOSTS = ["testserver"]
settings.STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
client, found, broken = Client(), {}, []
client.force_login(User.objects.get(username="otto"))
for t in Ticket.objects.all():
    part, plan = t.figures.part, t.ordered if t.kind == "profile" else None
    found[t.number] = {
        "name": t.name, "kind": t.kind, "blank": [round(v, 6) for v in part.flat.size], "mass": round(part.mass_kg, 9),
        "bends": [[b["id"], round(b["angle"], 6), round(b["deduction"], 6)] for b in flat_result(part)["bends"]],
        "notices": sorted([n.code, n.severity] for n in t.figures.notices),
        "dimensions": [[d.name, round(d.nominal, 6), round(d.tolerance, 6)] for d in t.figures.dimensions],
        "released": t.is_released, "reached": t.reached(),
        "order": plan and {"feasible": plan.feasible, "cost": round(plan.cost, 6), "names": list(plan.names)}}
os.environ["DORVAN_SEARCH_SECONDS"] = "0.2"  # pages open whether an order is found or not
for t in Ticket.objects.all():
    answers = {page: client.get(f"/t/{t.number}/{page}", follow=True).status_code for page in PAGES}
    broken += [(t.number, page) for page, answer in answers.items() if answer != 200]
    for revision in t.revisions.all():
        assert revision.plan.names and revision.plan.feasible and revision.figures.part, revision
print(json.dumps([found, broken]))
"""


class Replay(SimpleTestCase):
    def test_a_shop_of_the_version_before_comes_to_what_it_came_to(self):
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (folder / "dorvan.sqlite3").write_bytes(gzip.decompress((DATA / "shop-0004.sqlite3.gz").read_bytes()))
        self.assertEqual(manage(folder, "migrate", "-v0").returncode, 0)
        done = manage(folder, "shell", "-v0", "-c", f"PAGES = {PAGES!r}\n{COME_TO}")
        self.assertEqual(done.stderr, "")
        found, broken = json.loads(done.stdout)
        then = json.loads((DATA / "shop-0004.json").read_text("utf-8"))
        self.assertEqual(set(found), set(then))
        for number, was in then.items():
            order = found[number].pop("order") if was["kind"] == "profile" else None
            was_order = was.pop("order")
            found[number].pop("order", None)
            with self.subTest(number):
                found[number]["reached"].pop("set-up")  # a stage that came later
                for reached in (found[number]["reached"], was["reached"]):
                    reached.pop("check")  # since asks for each piece that is due, not for one
                del found[number]["dimensions"][len(was["dimensions"]):]  # rows that came later
                found[number]["notices"] = [row for row in found[number]["notices"] if row[0] != "good-side"]
                self.assertEqual(found[number], was)
                for one in filter(None, (order, was_order)):  # of equal cost another may stand first
                    one["names"] = sorted(one["names"])
                self.assertEqual(order, was_order)
        self.assertEqual(broken, [])
