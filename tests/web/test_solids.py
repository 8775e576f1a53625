"""Solids in the shop: read in as tickets and kits, refused with a picture, written again; parts opened as panels."""

import json
from unittest import mock, skipUnless

from django.core.files.uploadedfile import SimpleUploadedFile

from bendcore.solids import guarded, kernel
from dorvan.tickets.models import Ticket
from tests.core import kernel as made
from tests.core.samples import tray_file
from tests.core.test_named import named_file, panel
from tests.web.base import ShopCase


class Solids(ShopCase):
    def new(self):
        """Tickets beside the one of every test, as they came."""
        return list(Ticket.objects.exclude(number=7).order_by("number"))

    def read_in(self, data: bytes, name="part.step"):
        return self.client.post("/tickets/read-in/", {"file": SimpleUploadedFile(name, data)}, follow=True)

    def angle(self):
        body = made.joined(made.box((0, 0, 0), (100, 60, 2)), made.box((98, 0, 0), (100, 60, 40)))
        return made.rounded(body, [((98, 30, 2), 2), ((100, 30, 0), 4)])

    def test_without_the_kernel_it_is_told_who_can_add_it(self):
        with mock.patch.object(guarded, "is_there", lambda: False):
            self.assertContains(self.read_in(b"ISO-10303-21;"), "make solids")
        self.assertFalse(self.new())

    @skipUnless(kernel.is_there(), "the kernel of solids is an extra")
    def test_a_solid_is_a_ticket_and_is_written_again(self):
        answer = self.read_in(made.as_step(self.angle()), "Bracket.STEP")
        self.assertContains(answer, "2 flat faces, 1 bend")
        ticket, = self.new()
        self.assertEqual((ticket.name, ticket.kind, ticket.part["stock"]["thickness"], ticket.part["inside_radius"]),
                         ("Bracket", "panels", 2.0, 2.0))
        file = self.client.get(f"/t/{ticket.number}/file/step/")
        self.assertEqual(file["Content-Type"], "model/step")
        self.assertIn(b"CYLINDRICAL_SURFACE", file.content)
        self.read_in(file.content)
        one, other = (t.figures.part for t in self.new())
        self.assertAlmostEqual(max(one.flat.size), max(other.flat.size), 3)

    @skipUnless(kernel.is_there(), "the kernel of solids is an extra")
    def test_an_assembly_is_a_kit_with_its_parts_counted(self):
        plate = made.box((0, 0, 90), (60, 40, 92)), made.box((0, 0, 190), (60, 40, 192))
        answer = self.read_in(made.as_step(*plate, self.angle(), made.box((300, 0, 0), (380, 80, 60))), "Stand.stp")
        self.assertContains(answer, "leads a kit of 2 parts")
        self.assertContains(answer, "is left out")
        lead, piece = self.new()
        self.assertEqual((lead.name, lead.quantity, piece.lead, piece.per_assembly, piece.quantity),
                         ("Stand", 1, lead, 2, 2))
        self.assertEqual(len(lead.part["shape"]["panels"]), 1)

    @skipUnless(kernel.is_there(), "the kernel of solids is an extra")
    def test_what_is_no_sheet_is_shown_where_it_is_not(self):
        boss = made.joined(made.box((0, 0, 0), (100, 60, 2)), made.rod((50, 30, 0), (0, 0, 1), 6, 15))
        answer = self.read_in(made.as_step(boss))
        self.assertEqual(answer.status_code, 422)
        self.assertContains(answer, "more metal than a sheet of", status_code=422)
        self.assertContains(answer, 'class="ring"', count=1, status_code=422)
        self.assertContains(answer, "at x 50", status_code=422)
        self.assertContains(self.read_in(b"ISO-10303-21;\nnothing more"), "is no STEP file that can be read")
        self.assertFalse(self.new())

    def test_a_part_told_by_names_is_read_in(self):
        data = json.dumps(named_file([panel(id="lid", openings=[{"kind": "round", "x": 20, "y": 15, "diameter": 4}])]))
        self.read_in(data.encode(), "lid.json")
        ticket, = self.new()
        self.assertEqual([bend.id for bend in ticket.figures.part.sheet.bends], ["lid"])
        self.assertContains(self.client.get(f"/t/{ticket.number}/"), "Panel lid")
        bad = json.dumps(named_file([panel(colour="red")]))
        self.assertContains(self.read_in(bad.encode(), "bad.json"), "colour")

    def test_a_ticket_is_opened_as_panels_and_comes_back_by_undo(self):
        Ticket.objects.filter(number=7).update(part=tray_file())
        self.ticket.refresh_from_db()
        before = self.ticket.figures.part
        self.assertContains(self.client.get("/t/7/"), "Open it as panels")
        self.change(action="panels", field="panels", stage="shape")
        self.assertEqual(self.ticket.kind, "panels")
        self.assertAlmostEqual(self.ticket.figures.part.sheet.face_area, before.sheet.face_area, 3)
        self.assertNotContains(self.client.get("/t/7/"), "Open it as panels")
        self.assertIn("none that can be opened", self.change(422, action="panels", field="panels", stage="shape"))
        self.client.post("/t/7/undo/", {"stage": "shape"})
        self.ticket.refresh_from_db()
        self.assertEqual(self.ticket.kind, "tray")
