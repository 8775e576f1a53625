"""Kits, guards and sizes that fit: what belongs together stays together."""

import csv
import io
import zipfile
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from bendcore import sizes
from bendcore.edits import new_part
from bendcore.families.mates import draw_mate
from bendcore.formats.dxf_in import read_dxf
from dorvan.brakes.models import Brake
from dorvan.longwork import desks
from dorvan.longwork.desk import Working
from dorvan.longwork.sought import Sought
from dorvan.tickets.file import changes
from dorvan.tickets.models import KeptOrder, Ticket
from dorvan.tickets.results import derived
from tests.core.guards import guard_file
from tests.core.samples import ROOT
from tests.core.sleeves import sleeve_file
from tests.core.trays import tray_file
from tests.web.base import ShopCase


class Guards(ShopCase):
    def setUp(self):
        super().setUp()
        Ticket.objects.filter(number=7).update(part=guard_file(), punch="", die="")
        self.ticket.refresh_from_db()

    def lengths(self):
        return [round(leg.size, 6) for leg in self.ticket.figures.part.shape.panels]

    def test_a_leg_is_typed_where_it_is_drawn_and_the_corners_after_it_move(self):
        before = self.lengths()
        text = self.change(field="shape.edges[3]", value="170")
        self.assertIn("Leg L3, edge 4, outside", text)
        self.assertEqual(self.lengths(), [*before[:2], 170.0, before[3]])
        self.change(422, field="shape.edges[3]", value="0")
        self.change(422, field="shape.edges[30]", value="10")

    def test_edges_turn_and_corners_come_and_go(self):
        self.change(field="shape.front.direction", value="out")
        self.change(action="toggle", field="shape.back")
        self.assertEqual({b.id for b in self.ticket.figures.part.shape.bends if "-" in b.id},
                         {f"L{n}-front" for n in (1, 2, 3, 4)})
        self.change(field="shape.corners.style", value="bypass")
        self.change(field="shape.width", value="76 inside")
        self.assertEqual(self.ticket.figures.part.shape.across.dims, "inside")
        self.change(action="add", field="shape.outline", index="2")
        self.assertEqual((len(self.lengths()), self.ticket.part["shape"]["wrapped"]), (5, [2, 6]))
        self.change(action="remove", field="shape.outline[3]")
        self.assertEqual((len(self.lengths()), self.ticket.part["shape"]["wrapped"]), (4, [2, 5]))
        self.change(field="shape.wrapped[1]", value="4")
        self.assertEqual(len(self.lengths()), 3)
        self.change(422, field="shape.wrapped[1]", value="40")
        self.assertEqual(changes.in_words("shape.front.width"), "Turned edge at the front, width")
        self.client.post("/t/7/twin/")
        twin = Ticket.objects.first().figures.part.shape
        self.assertEqual([round(leg.size, 6) for leg in twin.panels], self.lengths()[::-1])

    def test_a_new_guard_in_either_unit(self):
        for units in ("mm", "in"):
            Ticket.objects.filter(number=7).update(part=new_part("Hood", units, "guard"))
            self.assertEqual(self.client.get("/t/7/").status_code, 200)


@patch("dorvan.tickets.pages.bench.MANY", 2)
class LateProof(ShopCase):
    """A part of many faces is drawn first and proved in a second answer."""

    def redraw(self, width):
        leaning = {side: {"height": 60, "angle": 135} for side in ("front", "back")}
        Ticket.objects.filter(number=7).update(part=tray_file(width=width, walls=leaning), punch="", die="")
        return self.change(field="name", value="Trough")

    def test_notices_come_after_the_drawing_and_conflicts_draw_it_again(self):
        self.assertIn("/t/7/proved/", self.redraw(160))
        proved = self.client.get("/t/7/proved/").content.decode()
        self.assertFalse("/t/7/proved/" in proved or "into each other" in proved or 'hx-get="/t/7/"' in proved)
        self.assertNotIn("into each other", self.redraw(30))
        answer = self.client.get("/t/7/proved/").content.decode()
        self.assertTrue("into each other when folded" in answer and 'hx-get="/t/7/"' in answer)
        again = self.client.get("/t/7/", headers={"HX-Request": "true"}).content.decode()
        self.assertTrue('class="conflict"' in again and "/t/7/proved/" not in again)


class Fits(ShopCase):
    def setUp(self):
        super().setUp()
        Ticket.objects.filter(number=7).update(part=sleeve_file(), punch="", die="")
        self.ticket.refresh_from_db()

    def test_one_entry_makes_it_fit_around_something(self):
        text = self.change(action="fit", way="around", value="240 × 160", clearance="0.5")
        shape = self.ticket.figures.part.shape
        self.assertEqual((shape.width, shape.height), (243, 163))
        self.assertIn("around 240 with 0.5", text)
        self.change(action="fit", way="into", value="9 1/2 in x 6 in", clearance="")
        self.assertAlmostEqual(self.ticket.figures.part.shape.width, 241.3)
        for bad in ({"value": "240", "way": "around"}, {"value": "240 x 160", "way": "beside"},
                    {"value": "a x b", "way": "into"}):
            self.assertIn("The fit", self.change(422, action="fit", **bad))

    def test_any_size_says_how_it_is_measured(self):
        self.change(field="shape.width", value="118 inside")
        self.assertEqual(self.ticket.part["shape"]["width"], {"length": "118", "dims": "inside"})
        text = self.change(field="shape.width", value="119")
        self.assertIn("119 inside", text)
        self.change(field="shape.width", value="121 outside")
        self.assertEqual(self.ticket.part["shape"]["width"], "121")
        self.change(field="shape.height", value="around 79 with 0.5 mm")
        self.assertEqual(self.ticket.figures.part.shape.height, 82)
        self.assertIn("names no other piece", self.change(422, field="shape.width", value="around T-99 width"))
        self.change(422, field="shape.length", value="200 inside")
        inches = sizes.shown({"around": "79 mm", "clearance": "0.5 mm"}, 80, "in", "mm")
        self.assertEqual(inches, "around 3.11 with 0.02")


class Kits(ShopCase):
    def setUp(self):
        super().setUp()
        Ticket.objects.filter(number=7).update(part=sleeve_file(), punch="", die="", quantity=5)
        self.ticket.refresh_from_db()

    def post(self, path, status=302, **form):
        answer = self.client.post(f"/t/7/kit/{path}/", form)
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.content.decode()

    def cap(self):
        self.post("add", what="mate:cap", each="2", clearance="0.4")
        return Ticket.objects.get(role="cap")

    def test_a_cap_is_drawn_counted_and_follows(self):
        cap = self.cap()
        self.assertEqual((cap.quantity, cap.kind), (10, "tray"))
        self.assertAlmostEqual(cap.figures.part.shape.length.outside, 120 + 0.8 + 2)
        self.change(field="shape.width", value="150")
        self.client.post("/t/7/set-up/", {"quantity": "6"})
        cap.refresh_from_db()
        self.assertAlmostEqual(cap.figures.part.shape.length.outside, 152.8)
        self.assertEqual(cap.quantity, 12)
        self.client.post("/t/7/undo/")
        self.client.post("/t/7/undo/")
        cap.refresh_from_db()
        self.assertEqual((cap.quantity, round(cap.figures.part.shape.length.outside, 3)), (10, 122.8))

    def test_orders_of_all_its_pieces_are_proven_together_and_stopped_together(self):
        leaf = Brake.objects.create(name="2 m leaf brake", file=(ROOT / "demo" / "leaf-2000.json").read_text("utf-8"))
        cap = self.cap()
        Ticket.objects.filter(number__in=(7, cap.number)).update(brake=leaf)
        self.post("add", what="plate", each="1", name="Gusset")
        Ticket.objects.filter(number=cap.number + 1).update(brake=None)
        page = self.client.get("/t/7/kit/orders/")
        rows = {row.piece.number: row for row in page.context["rows"]}
        alone = {n: Ticket.objects.get(number=n).ordered for n in (7, cap.number)}
        self.assertEqual({n: row.plan for n, row in rows.items() if row.plan}, alone)
        self.assertIn("no brake", rows[cap.number + 1].why)
        self.assertTrue(Ticket.objects.get(pk=cap.pk).order_is_known or not alone[cap.number].feasible)
        self.assertContains(page, f"{page.context['proven']} of 3")
        with patch.object(derived.Asked, "order", side_effect=Working(3)):
            KeptOrder.objects.all().delete()
            desks.orders.jobs.clear()
            page = self.client.get("/t/7/kit/orders/")
            self.assertContains(page, "3 before it")
            self.assertContains(page, "hx-trigger")
            with patch.object(Sought, "stop", autospec=True) as stop:
                self.client.post("/t/7/kit/orders/stop/")
            self.assertEqual(len(stop.call_args_list), 2)

    def test_a_piece_keeps_its_own_walls_but_not_its_role_once_redrawn(self):
        cap = self.cap()
        url = f"/t/{cap.number}/change/"
        self.client.post(url, {"field": "shape.walls.left.height", "value": "22"})
        self.change(field="shape.height", value="90")
        cap.refresh_from_db()
        self.assertEqual((cap.role, cap.part["shape"]["walls"]["left"]["height"]), ("cap", "22"))
        self.assertAlmostEqual(cap.figures.part.shape.width.outside, 92.8)
        self.client.post(url, {"field": "shape.length", "value": "140"})
        self.change(field="shape.height", value="70")
        cap.refresh_from_db()
        self.assertEqual((cap.role, cap.figures.part.shape.length.size), ("", 140))

    def test_what_was_measured_stands_in_for_what_was_drawn(self):
        cap = self.cap()
        self.post("made", piece="7", width="120.9", height="")
        cap.refresh_from_db()
        self.assertAlmostEqual(cap.figures.part.shape.length.outside, 120.9 + 2.8)
        self.assertIn("120.9", self.client.get("/t/7/kit/").content.decode())
        self.assertIn("far from", self.post("made", 422, piece="7", width="12"))
        self.post("made", 404, piece="99")

    def test_a_size_may_name_another_piece(self):
        self.post("add", what="tray", name="Drip tray")
        tray = Ticket.objects.first()
        url = f"/t/{tray.number}/change/"
        self.client.post(url, {"field": "shape.length", "value": "around T-7 width with 0.5"})
        tray.refresh_from_db()
        self.assertAlmostEqual(tray.figures.part.shape.length.size, 121)
        self.assertContains(self.client.get(f"/t/{tray.number}/"), "around T-0007 width with 0.5")
        self.change(field="shape.width", value="130")
        tray.refresh_from_db()
        self.assertAlmostEqual(tray.figures.part.shape.length.size, 131)
        answer = self.client.post(url, {"field": "shape.length", "value": "around T-7 girth"})
        self.assertContains(answer, "has no size girth", status_code=422)

    def test_a_lead_that_its_piece_cannot_follow_says_so(self):
        Ticket.objects.filter(number=7).update(part=guard_file())
        self.ticket.refresh_from_db()
        self.post("add", what="mate:side", each="2")
        plate = Ticket.objects.get(role="side")
        self.assertEqual(plate.part["shape"], draw_mate(self.ticket.figures.part.shape, "side"))
        plate.part["shape"]["holes"] = [{"x": 230, "y": 80, "diameter": 5}]
        plate.save()
        self.assertIn("could not follow", self.change(field="shape.outline[2][0]", value="180"))

    def test_pieces_come_from_the_rack_and_go_back(self):
        other = Ticket.objects.create(number=8, part=guard_file(), made_by=self.bench)
        self.post("add", what="T-8", each="3")
        other.refresh_from_db()
        self.assertEqual((other.lead, other.quantity), (self.ticket, 15))
        self.assertRedirects(self.client.get("/t/8/kit/"), "/t/7/kit/")
        self.assertEqual(self.client.post("/t/8/set-up/", {"quantity": "2"}).status_code, 422)
        self.post("piece", piece="8", each="4")
        self.assertIn("whole number", self.post("piece", 422, piece="8", each="0"))
        other.refresh_from_db()
        self.assertEqual(other.quantity, 20)
        self.post("piece", piece="8", leave="1")
        other.refresh_from_db()
        self.assertIsNone(other.lead)
        for what in ("T-7", "T-99", "mate:side", "sphere"):
            self.post("add", 422, what=what)

    def test_what_is_bought_is_counted_for_the_batch(self):
        self.post("bought", name="Rivets", kind="pieces", amount="13")
        self.post("bought", name="Edging", kind="length", amount="20 in")
        self.post("bought", name="Lining", kind="lining", amount="3")
        for bad in ({"name": ""}, {"name": "x", "amount": "1.5"}, {"name": "x", "kind": "kg"},
                    {"name": "x", "kind": "length", "amount": "-4"}):
            self.post("bought", 422, **bad)
        rows = {item.name: round(item.total, 3) for item in self.ticket.bought_in.all()}
        area = sum(leg.flat for leg in self.ticket.figures.part.shape.panels) * 200
        self.assertEqual((rows["Rivets"], rows["Edging"]), (65, 2540))
        self.assertGreater(rows["Lining"], 5 * area)
        self.post("bought", remove=str(self.ticket.bought_in.first().pk))
        self.assertEqual(self.ticket.bought_in.count(), 2)

    def test_all_files_come_at_once_with_a_list(self):
        self.cap()
        self.post("bought", name="=Rivets", kind="pieces", amount="13")
        box = zipfile.ZipFile(io.BytesIO(self.client.get("/t/7/kit/files/dxf/").content))
        self.assertEqual(box.namelist(), ["T-0007-sleeve.dxf", "T-0008-end-cap-of-sleeve.dxf", "kit.csv"])
        for name in box.namelist()[:2]:
            self.assertTrue(read_dxf(box.read(name), name).shape["bends"])
        rows = list(csv.reader(io.StringIO(box.read("kit.csv").decode())))
        self.assertEqual([(r[0], r[2]) for r in rows[1:]],
                         [("T-0007 sleeve", "5"), ("T-0008 End cap of sleeve", "10"), ("'=Rivets", "65")])


class Samples(ShopCase):
    """A part made as large as its sample, with a photograph beside it."""

    def photograph(self, size=(64, 40), kind="PNG", extra=b""):
        out = io.BytesIO()
        Image.new("RGB", size, (120, 90, 30)).save(out, kind)
        return SimpleUploadedFile("sample.png", out.getvalue() + extra, "image/png")

    def test_a_photograph_is_made_anew_shown_and_taken_off(self):
        self.client.post("/t/7/photograph/keep/", {"photograph": self.photograph((3000, 1500), extra=b"<script>")})
        answer = self.client.get("/t/7/photograph/")
        self.assertEqual((answer["Content-Type"], answer.content[:2]), ("image/jpeg", b"\xff\xd8"))
        self.assertNotIn(b"<script>", answer.content)
        self.assertEqual(Image.open(io.BytesIO(answer.content)).size, (1400, 700))
        self.assertContains(self.client.get("/t/7/"), "Photograph of the sample")
        self.client.post("/t/7/photograph/keep/", {"remove": "1"})
        self.assertEqual(self.client.get("/t/7/photograph/").status_code, 404)

    def test_what_is_no_picture_is_refused(self):
        bomb = b"\x89PNG\r\n\x1a\n" + b"\x00" * 64
        for file in (SimpleUploadedFile("x.png", bomb), SimpleUploadedFile("x.svg", b"<svg/>"),
                     self.photograph((9000, 8000)), None):
            answer = self.client.post("/t/7/photograph/keep/", {"photograph": file} if file else {}, follow=True)
            self.assertContains(answer, "The photograph")
            self.assertEqual(self.client.get("/t/7/photograph/").status_code, 404)

    def test_a_part_grows_to_its_sample_and_its_gaps_do_not(self):
        before = self.ticket.figures.part.shape
        self.change(action="rescale", side="L2", value="90")
        after = self.ticket.figures.part.shape
        self.assertEqual([round(leg.size / was.size, 6) for leg, was in zip(after.legs, before.legs, strict=True)],
                         [1.5] * 3)
        self.assertEqual(after.bends[0].figures, before.bends[0].figures)
        for bad in ({"side": "L9", "value": "90"}, {"side": "L2", "value": "0"}, {"side": "L2", "value": "9000"}):
            self.assertIn("The sample", self.change(422, action="rescale", **bad))
        for data, gap in ((sleeve_file(), ("seam", "gap")), (guard_file(), ("corners", "gap"))):
            Ticket.objects.filter(number=7).update(part=data)
            self.ticket.refresh_from_db()
            name, size = next(iter(self.ticket.figures.part.shape.mate_sizes().items()))
            self.change(action="rescale", side=name, value=f"{size * 2}")
            self.assertAlmostEqual(self.ticket.figures.part.shape.mate_sizes()[name], 2 * size, 3)
            self.assertEqual(self.ticket.part["shape"][gap[0]][gap[1]], data["shape"][gap[0]][gap[1]])
