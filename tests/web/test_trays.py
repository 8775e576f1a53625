"""Trays in the web application: described, laid out, and what is not there yet said so."""

import io

from django.core.files.uploadedfile import SimpleUploadedFile
from pypdf import PdfReader

from bendcore.edits import new_part
from bendcore.formats.export import export
from bendcore.part import read_part
from bendcore.units import show_length
from dorvan.tickets.file import changes
from dorvan.tickets.models import Ticket
from tests.core.plates import plate_file
from tests.core.trays import tray_file
from tests.web.base import ShopCase


class Trays(ShopCase):
    def setUp(self):
        super().setUp()
        Ticket.objects.filter(number=7).update(part=tray_file(), punch="", die="")
        self.ticket.refresh_from_db()

    def test_a_new_ticket_may_be_a_tray(self):
        self.client.post("/tickets/new/", {"name": "Box", "family": "tray"})
        ticket = Ticket.objects.first()
        self.assertEqual((ticket.kind, len(ticket.figures.part.shape.walls)), ("tray", 4))
        self.assertContains(self.client.get("/"), "Box")

    def test_sizes_are_edited_where_they_are_drawn(self):
        before = self.ticket.figures.part.flat.size
        text = self.change(field="shape.walls.left.height", value="2 in")
        self.assertIn("Height of the left wall", text)
        self.assertAlmostEqual(self.ticket.figures.part.flat.size[0] - before[0], 10.8)
        text = self.change(422, field="shape.walls.left.height", value="1")
        self.assertIn("Left wall, height", text)
        self.assertIn('aria-invalid="true"', text)
        self.change(field="shape.walls.left.angle", value="105 open")
        self.assertAlmostEqual(self.ticket.figures.part.shape.walls["left"].bend.figures.angle, 75)

    def test_walls_rims_holes_and_corners_come_and_go(self):
        self.change(action="toggle", field="shape.walls.front.lip")
        self.change(field="shape.walls.front.lip.direction", value="out")
        self.change(action="toggle", field="shape.walls.front.hem")
        self.assertEqual({b.id for b in self.ticket.figures.part.shape.all_bends},
                         {"front", "right", "back", "left", "front-lip", "front-hem"})
        self.change(action="toggle", field="shape.walls.back")
        self.assertNotIn("back", self.ticket.part["shape"]["walls"])
        self.change(action="toggle", field="shape.walls.back")
        self.change(action="toggle", field="shape.walls.front.lip")
        self.change(field="shape.corners.style", value="tab")
        self.assertEqual(len(self.ticket.figures.part.shape.tabs), 4)
        self.change(field="shape.corners.tab.side", value="outside")
        self.change(field="shape.corners.style", value="open")
        self.change(action="add", field="shape.holes")
        self.change(field="shape.holes[0].diameter", value="12")
        self.assertEqual(self.ticket.figures.part.flat.holes[0].diameter, 12)
        self.change(action="toggle", field="shape.cross_breaks")
        self.assertContains(self.client.get("/t/7/layout/"), "cross-break")
        self.change(action="remove", field="shape.holes[0]")
        for action, field in (("remove", "holes[5]"), ("toggle", "walls.top.lip"), ("toggle", "walls.roof"),
                              ("toggle", "walls.left.tail"), ("add", "walls"), ("remove", "length")):
            self.change(422, action=action, field=f"shape.{field}")

    def test_a_strip_has_no_walls(self):
        Ticket.objects.filter(number=7).update(part=new_part("angle", "mm"))
        self.change(422, action="toggle", field="shape.walls.left")

    def test_every_stage_answers_and_says_what_is_missing(self):
        for stage, words in (("shape", "When to use a tray"), ("stock", "Dies on"), ("proof", "× "),
                             ("layout", "left ▲ 90°"),
                             ("order", "Which brakes can make it?"), ("bend", "Release"),
                             ("check", "Inside diagonal")):
            self.assertContains(self.client.get(f"/t/7/{stage}/"), words)
        self.assertEqual(self.client.post("/t/7/release/").status_code, 302)

    def test_marking_out_and_files(self):
        page = self.client.get("/t/7/marking-out/?rule=150")
        for words in ("Marks along the left edge", "rule is shorter", "Diagonal", "Notches"):
            self.assertContains(page, words)
        for paper, height in (("A4", 842), ("A3", 1191), ("bad", 842)):
            pdf = PdfReader(io.BytesIO(self.client.get(f"/t/7/file/pdf/?paper={paper}").content))
            self.assertEqual(round(max(float(v) for v in pdf.pages[0].mediabox[2:])), height)
        for ending in ("dxf", "svg", "csv", "json", "part"):
            self.assertEqual(self.client.get(f"/t/7/file/{ending}/").status_code, 200)

class Plates(ShopCase):
    def setUp(self):
        super().setUp()
        Ticket.objects.filter(number=7).update(part=new_part("bracket", "mm", "plate"), punch="", die="")
        self.ticket.refresh_from_db()

    def test_a_new_ticket_may_be_a_plate(self):
        self.client.post("/tickets/new/", {"name": "Bracket", "family": "plate"})
        ticket = Ticket.objects.first()
        self.assertEqual(ticket.kind, "plate")
        for stage in ("shape", "stock", "proof", "layout", "order", "bend", "check", "marking-out"):
            self.assertEqual(self.client.get(f"/t/{ticket.number}/{stage}/").status_code, 200, stage)

    def test_corners_flanges_holes_and_slots_come_and_go(self):
        self.change(action="add", field="shape.flanges")
        self.change(field="shape.flanges[1].edge", value="3")
        self.change(field="shape.flanges[1].length", value="1 in")
        self.change(field="shape.flanges[1].direction", value="down")
        self.change(field="shape.flanges[1].angle", value="60")
        self.change(action="toggle", field="shape.flanges[1].return")
        self.change(field="shape.flanges[1].return.length", value="14")
        self.assertEqual([b.id for b in self.ticket.figures.part.shape.bends], ["F1", "F2", "F2-return"])
        self.change(action="add", field="shape.outline", index="3")
        self.change(field="shape.outline[4][0]", value="-20")
        self.assertEqual(len(self.ticket.figures.part.shape.outline), 5)
        self.change(action="remove", field="shape.outline[4]")
        self.change(action="toggle", field="shape.flanges[1].return")
        self.change(action="add", field="shape.holes")
        self.change(field="shape.holes[0].x", value="30")
        self.change(action="add", field="shape.slots")
        self.change(field="shape.slots[0].length", value="40")
        self.assertEqual([h.is_slot for h in self.ticket.figures.part.flat.holes], [False, True])
        self.change(action="remove", field="shape.holes[0]")
        self.change(action="remove", field="shape.slots[0]")
        self.change(action="remove", field="shape.flanges[1]")
        self.assertEqual(len(self.ticket.part["shape"]["flanges"]), 1)

    def test_what_cannot_be_is_refused_and_nothing_lost(self):
        before = self.ticket.part
        edge = "shape.flanges[0].edge"
        for bad in ({"field": edge, "value": "9"}, {"field": edge, "value": "two"},
                    {"field": "shape.outline[9][0]", "value": "1"},
                    {"action": "add", "field": "shape.outline", "index": "0"},
                    {"action": "remove", "field": "shape.outline[0]"},
                    {"action": "remove", "field": "shape.slots[0]"},
                    {"action": "toggle", "field": "shape.flanges[x].return"},
                    {"field": "shape.outline[2][0]", "value": "0"}):
            self.assertIn('role="alert"', self.change(422, **bad))
        self.assertEqual(self.ticket.part, before)
        self.assertEqual(changes.in_words("shape.flanges[0].return.length"), "Flange F1, return length")
        self.assertEqual(changes.in_words("shape.flanges[1].holes[0].up"), "Flange F2, hole 1 up")
        self.assertEqual(changes.in_words("shape.holes[2].diameter"), "Hole 3, diameter")

    def test_edges_keep_their_numbers_when_corners_come_and_go(self):
        self.change(field="shape.flanges[0].edge", value="3")
        self.change(action="add", field="shape.outline", index="0")
        self.assertEqual(self.ticket.part["shape"]["flanges"][0]["edge"], 4)
        self.change(action="remove", field="shape.outline[1]")
        self.assertEqual(self.ticket.part["shape"]["flanges"][0]["edge"], 3)


class Sleeves(ShopCase):
    def test_a_sleeve_is_described_and_laid_out(self):
        self.client.post("/tickets/new/", {"name": "Curb", "family": "sleeve"})
        Ticket.objects.filter(number=7).update(part=Ticket.objects.first().part, punch="", die="")
        self.change(field="shape.width", value="140")
        self.change(field="shape.seam.kind", value="standing")
        self.change(field="shape.seam.height", value="9")
        self.assertEqual(self.ticket.figures.part.shape.stands, 9)
        self.change(field="shape.seam.kind", value="lap")
        self.change(action="toggle", field="shape.end_flange")
        self.change(field="shape.end_flange.direction", value="in")
        self.change(field="shape.end_flange.width", value="12")
        self.change(field="shape.seam.hole", value="3")
        self.assertEqual(len(self.ticket.figures.part.shape.bends), 8)
        self.change(field="shape.seam.kind", value="butt")
        self.assertIsNone(self.ticket.figures.part.shape.flap)
        self.change(422, field="shape.seam.lap", value="-4")
        self.change(422, action="toggle", field="shape.middle")
        self.change(422, field="shape.end_flange.width", value="70")
        for stage in ("shape", "stock", "proof", "layout", "order", "bend", "check", "marking-out"):
            self.assertEqual(self.client.get(f"/t/7/{stage}/").status_code, 200, stage)


class Drawings(ShopCase):
    def read_in(self, raw, name="bracket.dxf"):
        answer = self.client.post("/tickets/read-in/", {"file": SimpleUploadedFile(name, raw)}, follow=True)
        return answer.content.decode()

    def test_a_drawing_becomes_a_ticket_whose_lines_are_told_apart(self):
        part = read_part(plate_file(flanges=[{"edge": e, "length": 30, "direction": "up"} for e in (1, 3)]))
        text = self.read_in(export(part, "dxf").encode())
        self.assertIn("was read in with 2 bend lines", text)
        ticket = Ticket.objects.first()
        self.assertEqual((ticket.kind, ticket.name), ("flat", "bracket"))
        for stage in ("shape", "stock", "proof", "layout", "order", "bend", "check", "marking-out"):
            self.assertEqual(self.client.get(f"/t/{ticket.number}/{stage}/").status_code, 200, stage)
        for form in ({"field": "shape.bends[0].angle", "value": "45"}, {"action": "remove", "field": "shape.bends[1]"}):
            self.client.post(f"/t/{ticket.number}/change/", form)
        ticket.refresh_from_db()
        self.assertEqual([b.figures.angle for b in ticket.figures.part.shape.bends], [45])
        answer = self.client.post(f"/t/{ticket.number}/change/", {"action": "remove", "field": "shape.bends[9]"})
        self.assertEqual(answer.status_code, 422)

    def test_what_is_no_drawing_makes_no_ticket(self):
        before = Ticket.objects.count()
        self.assertIn("Not read in", self.read_in(b"nonsense"))
        self.assertIn("choose a file first", self.client.post("/tickets/read-in/", follow=True).content.decode())
        self.assertEqual(Ticket.objects.count(), before)


class Hands(ShopCase):
    def test_the_other_hand_is_a_ticket_of_its_own(self):
        Ticket.objects.filter(number=7).update(part=tray_file(walls={"left": {"height": 40}, "front": {"height": 30}}))
        self.client.post("/t/7/twin/")
        other = Ticket.objects.first()
        self.assertEqual((set(other.part["shape"]["walls"]), other.die), ({"right", "front"}, "V 8"))
        self.assertIn("other hand", other.name)

    def test_two_faces_are_measured(self):
        Ticket.objects.filter(number=7).update(part=tray_file())
        self.assertContains(self.client.get("/t/7/measure/?one=left&other=right"), "200.0<u>mm</u>")
        self.assertContains(self.client.get("/t/7/measure/?one=left&other=right"), "198.0<u>mm</u>")
        self.assertContains(self.client.get("/t/7/measure/?one=left&other=base"), "90.00°")
        self.assertContains(self.client.get("/t/7/measure/?one=roof&other=base"), "must be one of", status_code=422)


class Together(ShopCase):
    def test_two_people_at_one_tray(self):
        Ticket.objects.filter(number=7).update(part=tray_file(), punch="", die="")
        self.ticket.refresh_from_db()

        seen = self.ticket.stamp
        self.change(action="toggle", field="shape.walls.front.lip")
        self.change(409, field="shape.walls.front.height", value="42", seen=seen)
        seen = self.ticket.stamp
        self.change(field="shape.length", value="210")
        self.assertIn("Both are in", self.change(field="shape.width", value="130", seen=seen))


class FlangeHoles(ShopCase):
    def test_a_flange_has_holes_of_its_own(self):
        Ticket.objects.filter(number=7).update(part=new_part("bracket", "mm", "plate"), punch="", die="")
        self.change(action="add", field="shape.flanges[0].holes")
        self.change(field="shape.flanges[0].holes[0].along", value="1 in")
        self.assertAlmostEqual(self.ticket.figures.part.shape.flanges[0].holes[0].centre[1], 25.4)
        self.assertIn("Flange F1", self.change(422, field="shape.flanges[0].holes[0].up", value="500"))
        self.change(422, action="remove", field="shape.flanges[0].holes[4]")
        self.change(action="remove", field="shape.flanges[0].holes[0]")
        self.assertEqual(self.ticket.figures.part.flat.holes, ())


class MarkingOut(ShopCase):
    def test_the_sheet_goes_by_the_datum_and_the_rule_that_are_chosen(self):
        length = self.ticket.figures.part.flat.size[0]
        line = self.ticket.figures.part.flat.bends[0].line[0][0]
        for datum, at in (("left front", line), ("right back", length - line), ("nonsense", line)):
            answer = self.client.get("/t/7/marking-out/", {"datum": datum, "rule": "300"})
            self.assertContains(answer, f"<td class=\"num\">{show_length(at)}<u>mm</u></td>")
        self.assertContains(answer, "left front</option>")
