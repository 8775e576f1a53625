"""A reader in inches is told no millimetres, on no page, and one in millimetres no inches; and nobody reads an id."""

import json
import re
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile

from bendcore.edits import new_part
from bendcore.families import FAMILIES
from bendcore.formats.export import export
from bendcore.order.advice import remedies
from bendcore.part import read_part
from dorvan.floor.models import CheckSheet, StepRecord
from dorvan.tickets.file.actions import act_on
from dorvan.tickets.models import Ticket
from tests.core.guards import guard_file
from tests.core.plates import plate_file
from tests.core.samples import part_file
from tests.core.sleeves import sleeve_file
from tests.core.trays import tray_file
from tests.often import IS_THOROUGH
from tests.web.base import ShopCase
from tests.web.ledgers import fill_ledger, one_of_each
from tests.web.test_access import TABLE
from tests.words import ID

TAG = re.compile(r"<(?:style|option)\b.*?</(?:style|option)>|<[^>]*>", re.DOTALL)
METRIC = re.compile(r'<article id="w-(?:mass|die\.force)">.*?</article>|<p class="try".*?</p>', re.DOTALL)
"""Formulas that hold only for millimetres, and a drill's name."""
IDS = re.compile(rf"[^\n]{{0,40}}{ID.pattern}[^\n]{{0,30}}")
FILE = re.compile(r"\b[\w-]+\.(?:dxf|svg|json|jsonl|csv|pdf|zip|stl|glb|py|md|toml)\b")
LABEL = re.compile(r'(?:aria-label|placeholder|title)="([^"]*)"')
LENGTH = {"mm": re.compile(r"[^\n]{0,60}\d\s*mm\b[^\n]{0,40}"),
          "in": re.compile(r"[^\n]{0,60}\d\s*(?:in\b(?! \w)|″)[^\n]{0,40}")}


def read_aloud(page: str) -> str:
    """What a person reads of a page, labels too."""
    page = METRIC.sub("", page)
    return "\n".join([TAG.sub(" ", page), *LABEL.findall(page)])


@mock.patch.object(remedies, "STEPS", 40)
@mock.patch.dict("os.environ", DORVAN_SEARCH_SECONDS="0.4")
class Units(ShopCase):
    """Parts with every kind of notice: too sharp, too short, bumped, collars, holes and webs too near."""

    @classmethod
    def setUpTestData(cls):
        super().setUpTestData()
        one_of_each(cls.bench)
        fill_ledger(cls.bench)
        near = [{"x": x, "y": 30, "diameter": 20} for x in (30, 50.5)]
        by_tool = {key: value for key, value in part_file().items() if key != "inside_radius"}
        charted = part_file() | {"allowance": {"method": "deduction_chart", "rows": [
            {"angle": 90, "thickness": 0.9, "deduction": 1}, {"angle": 90, "thickness": 1.2, "deduction": 2}]}}
        parts = [tray_file(), plate_file(holes=near, collars=[{"x": 90, "y": 60, "diameter": 20, "height": 6}]),
                 guard_file(outline=[[0, 0], [240, 0], [240, 90], [0, 90]], wrapped=[2, 3]), sleeve_file(),
                 part_file([40, 60, 40], radius=30), part_file([40, 60, 40], radius=0.1),
                 part_file([5, 60, 5], thickness=2, radius=2), by_tool, charted]
        cls.numbers = [7, *range(20, 20 + len(parts))]
        for number, part in zip(cls.numbers[1:], parts, strict=True):
            Ticket.objects.create(number=number, part=part, brake=cls.brake, punch="Straight 85", die="V 8",
                                  made_by=cls.bench)

    def told(self, units, other):
        self.bench.units = units
        self.bench.save()
        rows = [row[0] for row in TABLE if row[1] == "get" and row[3] == 200 and row[0] != "/people/reading/"]
        own = [where for where in rows if where.startswith("/t/7/") and "/file" not in where]
        each = 1 if IS_THOROUGH else 3  # of ticket 7 all; of every other part a third, another one for the next
        for where in [*rows, *(w.replace("/t/7/", f"/t/{n}/") for k, n in enumerate(self.numbers[1:])
                               for w in own[k % each::each])]:
            answer = self.client.get(where)
            if answer.status_code == 200 and answer["Content-Type"].startswith("text/html"):
                read = read_aloud(answer.content.decode())
                yield from (f"{where}: {found}" for found in LENGTH[other].findall(read))
                yield from (f"{where}: {found}" for found in IDS.findall(FILE.sub("", read)))

    def test_every_page_in_inches(self):
        self.assertEqual(sorted(set(self.told("in", "mm"))), [])

    def test_every_page_in_millimetres(self):
        self.assertEqual(sorted(set(self.told("mm", "in"))), [])

    def test_a_mass_is_told_in_pounds_or_kilograms(self):
        mass = self.ticket.figures.part.mass_kg
        for units, said in (("mm", f"{mass:.3f}<u>kg</u>"), ("in", f"{mass / 0.45359237:.3f}<u>lb</u>")):
            self.bench.units = units
            self.bench.save()
            self.assertContains(self.client.get("/t/7/layout/"), said)

    def test_a_drawing_that_is_read_or_refused(self):
        self.bench.units = "in"
        self.bench.save()
        drawing = export(read_part(plate_file()), "svg").replace('width="', 'width="9')
        for content in (drawing, drawing.replace("Z", "")):
            answer = self.client.post("/tickets/read-in/", {"file": SimpleUploadedFile("plate.svg", content.encode())},
                                      follow=True)
            self.assertEqual(LENGTH["mm"].findall(read_aloud(answer.content.decode())), [])

    def test_a_person_reads_inches_his_way(self):
        """The blank's width, 200 mm, in each way of reading; a radius is in thousandths in all of them."""
        Ticket.objects.filter(number=7).update(part=part_file(width=200, radius=1.7))
        for reading, width, radius in (("16", '7\u00a07/8\u00a0−<u>in</u> <span class="tape">7.874</span>',
                                        "0.067<u>in</u>"),
                                       ("0", "7.874<u>in</u>.", "0.067<u>in</u>"),
                                       ("mm", "200.0<u>mm</u>", "1.7<u>mm</u>")):
            self.assertRedirects(self.client.post("/people/reading/take/", {"reading": reading}), "/people/reading/")
            self.assertContains(self.client.get("/t/7/bend/"), width)
            self.assertContains(self.client.get("/t/7/proof/"), radius)
            for stage in ("", "stock/", "layout/", "proof/", "order/", "bend/"):
                self.assertNotRegex(self.client.get(f"/t/7/{stage}").content.decode(), r">0 [+−]?<u>in", stage)
        for reading, tape in (("64", 64), ("7", 64), ("mm", 64)):
            self.client.post("/people/reading/take/", {"reading": reading})
            self.bench.refresh_from_db()
            self.assertEqual((self.bench.unit, self.bench.tape), ("mm" if reading == "mm" else "in", tape))

    def test_a_part_begun_in_inches_is_round_in_them_whatever_is_added(self):
        added = {"profile": [("toggle", "start_hem"), ("add", "bends")], "sleeve": [("toggle", "start_flange")],
                 "plate": [("add", "flanges"), ("toggle", "flanges[0].return")],
                 "tray": [("toggle", f"walls.left.{rim}") for rim in ("lip", "hem")] + [("toggle", "cross_breaks")]}
        for kind in (kind for kind, family in FAMILIES.items() if family.start):
            part, before = new_part("x", "in", kind), ""
            for action, field in added.get(kind, ()):
                before = json.dumps(part)
                part, _ = act_on(part, action, {"field": f"shape.{field}"}, "in")
                self.assertNotEqual(json.dumps(part), before, (kind, action))
            read_part(part)
            self.assertNotIn("mm", json.dumps(part["shape"]), kind)
            inches = re.findall(r'"(?:(\d+) ?)?(?:(\d+)/(\d+))? in"', json.dumps(part["shape"]))
            self.assertTrue(inches and all(int(under or 1) in (1, 2, 4, 8, 16, 32, 64) for _, _, under in inches), kind)


class Angles(ShopCase):
    def setUp(self):
        super().setUp()
        self.client.post("/people/reading/take/", {"reading": "mm", "angles": "included"})
        self.bench.refresh_from_db()

    def page(self, path):
        return self.client.get(path).content.decode().replace("\u00a0", " ")

    def test_who_measures_between_the_legs_reads_and_types_angles_so(self):
        self.assertTrue(self.bench.included)
        text = self.change(field="shape.bends[0].angle", value="105")
        self.assertIn('value="105° incl."', text)
        self.assertEqual(Ticket.objects.get(number=7).part["shape"]["bends"][0]["angle"], "105 included")
        self.change(field="shape.bends[1].angle", value="80 bent")
        bends = Ticket.objects.get(number=7).figures.part.shape.bends
        self.assertEqual([b.figures.angle for b in bends], [75.0, 80.0])
        for page in ("layout", "proof", "check"):
            text = self.page(f"/t/7/{page}/")
            self.assertTrue("105° incl." in text and "100° incl." in text, page)
            self.assertNotIn("75°", text, page)

    def test_what_is_measured_at_the_brake_is_kept_as_bent(self):
        self.release()
        self.assertIn("° incl.", self.page("/t/7/bend/"))
        self.client.post("/t/7/bend/record/", {"piece": "1", "step": "1", "angle": "91.5"})
        self.assertEqual(StepRecord.objects.get().angle, 88.5)
        self.client.post("/t/7/check/save/", {"B1": "89", "piece": "1"})
        sheet = CheckSheet.objects.get()
        self.assertEqual((sheet.rows[0]["measured"], sheet.rows[0]["verdict"]), (91.0, "good"))
        self.assertIn("89° incl.", self.page("/t/7/check/"))

    def test_another_reads_the_same_ticket_his_way(self):
        self.change(field="shape.bends[0].angle", value="105")
        self.client.post("/people/reading/take/", {"reading": "mm", "angles": "bent"})
        self.assertContains(self.client.get("/t/7/"), 'value="75°"')
