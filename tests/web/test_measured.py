"""Brakes and tools described on the page: sizes taken one by one, refused at their field, told until they are taken."""

import io
import json
import os
from unittest import mock

import ezdxf
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils.html import escape

from bendcore.brakes.brake import read_brake
from bendcore.brakes.measured.described import KINDS, begun
from bendcore.files import read_json
from dorvan.brakes.models import Brake
from dorvan.longwork import desks, watch
from dorvan.longwork.desk import Desk, Working
from dorvan.tickets.models import Ticket
from tests.core.samples import part_file
from tests.web.base import ShopCase


class Measured(ShopCase):
    def setUp(self):
        super().setUp()
        self.client.force_login(self.lead)

    def begin(self, kind, name="Shed brake"):
        answer = self.client.post("/brakes/begin/", {"kind": kind, "name": name})
        self.assertEqual(answer.status_code, 302, answer.content[:300])
        return Brake.objects.get(name=name)

    def read_in(self, data):
        return self.client.post("/brakes/upload/", {"file": SimpleUploadedFile("b.json", json.dumps(data).encode())})

    def set(self, brake, field, value, status=200, tool="", **more):
        answer = self.client.post(f"/brakes/{brake.pk}/{tool or 'sizes'}/set/", {
            "field": field, "value": value} | more, headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, status, answer.content[:300])
        brake.refresh_from_db()
        return answer.content.decode()

    def test_every_kind_is_begun_drawn_and_put_to_paper(self):
        for kind in ("press", "leaf", "finger", "bars", "tongs"):
            brake = self.begin(kind, f"My {kind}")
            page = self.client.get(f"/brakes/{brake.pk}/sizes/").content.decode()
            sheet = self.client.get(f"/brakes/{brake.pk}/sizes/sheet/").content.decode()
            for title in brake.not_measured[:10]:
                if title not in ("Straight punch", "V die"):
                    self.assertIn(escape(title), page)
                    self.assertIn(escape(title), sheet)
            self.assertIn("are start values", page)
            self.assertEqual(brake.machine.name, f"My {kind}")

    def test_a_size_is_taken_in_the_readers_units_and_refused_at_its_field(self):
        brake = self.begin("finger")
        page = self.set(brake, "finger_height", "4 1/2 in")
        self.assertAlmostEqual(brake.machine.finger_height, 114.3)
        self.assertIn("26 of 27", page)
        page = self.set(brake, "foot_height", "over there", 422)
        self.assertIn('value="over there"', page)
        self.assertIn("10 Slope ends at", page)
        page = self.set(brake, "foot_height", "200", 422)
        self.assertIn("must be less than the height of the fingers", page)
        self.assertAlmostEqual(brake.machine.finger_height, 114.3)
        self.set(brake, "pieces", "6 in × 2; 100 × 3")
        self.assertEqual(brake.machine.fingers, (152.4, 152.4, 100, 100, 100))
        self.assertIn("over", self.set(brake, "pieces", "over", 422))
        self.set(brake, "girth", "3", 422)

    def test_what_is_not_measured_is_told_where_it_matters(self):
        brake = self.begin("bars")
        self.ticket.brake, self.ticket.punch, self.ticket.die = brake, "", ""
        self.ticket.save()
        page = self.client.get("/t/7/order/").content.decode()
        self.assertIn("Depth of the upper bar, Height of the upper bar and 6 more", page)
        self.assertIn("Not measured yet", self.client.get("/brakes/").content.decode())
        for name, value in (("length", "610"), ("edge_radius", ".5"), ("dressed", "20"), ("land", "10"),
                            ("bar_depth", "40"), ("bar_height", "40"), ("backing_depth", "50"),
                            ("backing_height", "60"), ("clamp_depth", "200"), ("min_hold", "10"), ("min_flange", "5"),
                            ("opening", "90")):
            page = self.set(brake, name, value)
        self.assertIn("All 12 are measured", page)
        self.assertEqual(brake.not_measured, [])
        self.assertNotIn("Not measured", self.client.get("/t/7/order/").content.decode())

    def test_it_is_tried_in_a_metal(self):
        brake = self.begin("bars")
        bare = self.client.get(f"/brakes/{brake.pk}/try/?thickness=16")
        self.assertContains(bare, "might be a gauge", status_code=422)
        page = self.client.get(f"/brakes/{brake.pk}/try/?material=copper&thickness=22 ga").content.decode()
        self.assertIn("Copper", page)
        for words in ("Shortest leg of an angle", "Deepest channel", "Highest walls", "Not measured on Shed brake"):
            self.assertIn(words, page)

    def test_a_part_that_is_known_says_which_size_is_wrong(self):
        brake = self.begin("bars")
        self.assertContains(self.client.post(f"/brakes/{brake.pk}/try/know/", {"number": "99", "fitted": "yes"}),
                            "such as T-0142", status_code=422)
        for n, (base, fitted) in enumerate(((60, "yes"), (43, "no"))):  # the model's bar is 40 high
            Ticket.objects.create(number=20 + n, made_by=self.lead, part=part_file([60, base, 60], [(90, "up")] * 2))
            self.client.post(f"/brakes/{brake.pk}/try/know/", {"number": f"T-002{n}", "fitted": fitted})
        self.assertEqual([one.name[:6] for one in brake.known.filter(fitted=True)], ["T-0020"])
        told = self.client.get(f"/brakes/{brake.pk}/try/doubt/")
        self.assertEqual([name[:6] for name in told.context["wrong"]], ["T-0021"])
        named = told.context["doubts"][0]
        self.assertEqual((named.name, named.would), ("bar_height", 41))
        self.ends_at_a_press_and_goes_on(f"/brakes/{brake.pk}/try/", told.context["doubts"])
        self.set(brake, named.name, f"{named.would} mm")
        self.assertContains(self.client.get(f"/brakes/{brake.pk}/try/doubt/"), "says the same of all of them")
        self.client.post(f"/brakes/{brake.pk}/try/know/", {"forget": brake.known.first().pk})
        self.assertEqual(brake.known.count(), 1)
        self.assertContains(self.client.get(f"/brakes/{brake.pk}/try/"), "Parts you know better")

    def ends_at_a_press_and_goes_on(self, trying, doubts):
        for what, page in (("limits", trying), ("doubts", f"{trying}doubt/")):
            asked = {"material": "copper", "thickness": "0.8"} if what == "limits" else {}
            with mock.patch.object(Desk, "ask", side_effect=Working), \
                    mock.patch.object(Desk, "begun", return_value=True), \
                    mock.patch.object(watch, "progress", return_value={"turn": 2, "of": 7}):
                self.assertContains(self.client.get(page, asked), ": 2 of 7")
                self.assertContains(self.client.post(f"{trying}{what}/looking/", {"go": "stop"} | asked), "Ending")
            desks.orders.jobs.clear()
            with mock.patch.object(watch, "EVERY", -1.0), mock.patch.object(watch, "forget"):
                self.assertContains(self.client.get(page, asked), 'value="on"')
            with mock.patch.dict(os.environ, DORVAN_SEARCH_SECONDS="120"):
                whole = self.client.post(f"{trying}{what}/looking/", {"go": "on"} | asked)
            self.assertNotContains(whole, 'value="on"')
        self.assertEqual(whole.context["doubts"], doubts)

    def test_a_profile_typed_in_a_line_says_the_same_as_a_ticket_of_it(self):
        brake = self.begin("bars")
        stock = {"material": "mild-steel", "thickness": "1 mm", "width": "100"}
        for legs, bends, wrong in (("60; 60", "90; 90", "Bends"), ("60; x", "90", "Legs"), ("60 60", "", "Bends")):
            self.assertContains(self.client.post(f"/brakes/{brake.pk}/try/know/", stock | {
                "legs": legs, "bends": bends, "fitted": "yes"}), f"■ {wrong}", status_code=422)
        for base in (60, 42):
            answer = self.client.post(f"/brakes/{brake.pk}/try/know/", stock | {
                "legs": f"60; {base}; 60", "bends": "90; 90", "fitted": "yes"})
            self.assertIn("thickness=1+mm", answer["Location"])  # what was being tried is asked for again
        told = self.client.get(f"/brakes/{brake.pk}/try/doubt/")
        self.assertEqual([name[:10] for name in told.context["wrong"]], ["60; 42; 60"])
        self.assertEqual({(one.name, one.would) for one in told.context["doubts"]},
                         {("bar_depth", 39), ("bar_height", 39)})

    def test_a_drawing_of_a_tool_is_laid_over_its_sizes(self):
        brake = self.begin("press")
        tool = read_json(brake.file.encode())["dies"][0]
        drawing = ezdxf.new()
        drawing.units = ezdxf.units.MM
        drawing.modelspace().add_lwpolyline([(y + 500, z + 200) for y, z in tool["section"]], close=True)
        text = io.StringIO()
        drawing.write(text)
        for name, data, said in (("die.dxf", text.getvalue().encode(), "lies dashed over it"),
                                 ("die.txt", b"x", "must end in"), ("die.dxf", b"nonsense", "The drawing")):
            answer = self.client.post(f"/brakes/{brake.pk}/tools/dies/0/compare/", {
                "file": SimpleUploadedFile(name, data)})
            self.assertContains(answer, said, status_code=200 if "lies" in said else 422)
            if "lies" in said:
                self.assertLess(answer.context["over"].apart, 1e-3)
        self.assertContains(self.client.post(f"/brakes/{brake.pk}/tools/dies/0/compare/"), "must be a drawing",
                            status_code=422)

    def test_a_drawing_for_a_tool_drawn_by_points_leads_to_its_points(self):
        brake = self.begin("press")
        data = read_json(brake.file.encode())
        del data["dies"][0]["measured"]
        Brake.objects.filter(pk=brake.pk).update(file=json.dumps(data))
        drawing = '<svg xmlns="http://www.w3.org/2000/svg" width="30mm" height="60mm" viewBox="0 0 30 60">' \
                  '<path d="M0 0H30V60H0Z"/></svg>'
        answer = self.client.post(f"/brakes/{brake.pk}/tools/dies/0/compare/", {
            "file": SimpleUploadedFile("die.svg", drawing.encode())})
        self.assertRedirects(answer, f"/brakes/{brake.pk}/?place=dies[0].section")
        self.assertEqual(self.client.post(f"/brakes/{brake.pk}/tools/rams/0/compare/").status_code, 404)

    def test_two_at_one_brake(self):
        brake = self.begin("bars")
        seen = brake.version
        self.set(brake, "length", "700", seen=seen)
        self.set(brake, "land", "8", seen=seen)  # another size: both stand
        self.assertIn("lead set length", self.set(brake, "length", "800", 409, seen=seen))
        self.assertEqual((brake.machine.length, read_json(brake.file.encode())["measured"]["sizes"]["land"]), (700, 8))

    def test_a_section_drawn_by_points_is_told_and_made_again(self):
        brake = self.begin("bars")
        points = "0, 0\n30, 0\n30, 20\n0, 20"
        self.client.post(f"/brakes/{brake.pk}/change/", {"what": "section", "place": "bar_section", "points": points,
                                                         "seen": brake.version})
        self.assertIn("was drawn by points", self.set(brake, "bar_depth", "50"))
        self.assertEqual(max(y for y, _ in brake.machine.bar_section), 30)
        self.assertNotIn("was drawn by points", self.set(brake, "again", "bar_section"))
        self.assertEqual(max(y for y, _ in brake.machine.bar_section), 50)

    def test_a_file_that_keeps_sizes_nobody_could_take_is_refused(self):
        for kind, place, value in (("finger", "finger_height", "tall"), ("finger", "nose_angle", "steep"),
                                   ("leaf", "bed_depth", 9e9), ("press", "capacity", "x"), ("bars", "land", -3)):
            data = begun(KINDS[kind], "Read in", "mm")
            data["measured"]["sizes"][place] = value
            self.assertContains(self.read_in(data), place, status_code=422)
        data = begun(KINDS["press"], "Read in", "mm")
        data["dies"][0]["measured"]["sizes"]["v"] = "wide"
        self.assertEqual(self.read_in(data).status_code, 422)
        data["dies"][0]["measured"]["sizes"]["v"] = "5/8 in"
        self.assertEqual(self.read_in(data).status_code, 302)
        pk = Brake.objects.get(name="Read in").pk
        self.assertEqual(self.client.get(f"/brakes/{pk}/tools/dies/0/").status_code, 200)

    def test_names_and_kinds_are_held(self):
        for form in ({"kind": "press", "name": ""}, {"kind": "lathe", "name": "x"},
                     {"kind": "press", "name": "60 T press brake"}):
            answer = self.client.post("/brakes/begin/", form)
            self.assertEqual(answer.status_code, 422)
        self.assertEqual(Brake.objects.count(), 1)

    def test_tools_are_put_up_measured_lent_and_taken_off(self):
        brake = self.begin("press")
        answer = self.client.post(f"/brakes/{brake.pk}/tools/add/", {"kind": "v", "name": "V 16"})
        self.assertEqual(answer.url, f"/brakes/{brake.pk}/tools/dies/1/")
        tool = "tools/dies/1"
        self.set(brake, "v", "5/8 in", tool=tool)
        self.set(brake, "turnable", "yes", tool=tool)
        self.set(brake, "max_kn_per_m", "700", tool=tool)
        self.set(brake, "pieces", "500 × 2; 100", tool=tool)
        die = brake.machine.dies[1]
        self.assertAlmostEqual(die.v, 15.875)
        self.assertEqual((die.max_kn_per_m, die.lengths, brake.machine.dies[2].name), (700, (500, 500, 100),
                                                                                       "V 16, turned"))
        self.assertIn("Greatest load", self.set(brake, "max_kn_per_m", "much", 422, tool=tool))
        self.assertIn("1 Opening", self.set(brake, "v", "wide", 422, tool=tool))
        act = f"/brakes/{brake.pk}/{tool}/act/"
        self.client.post(act, {"what": "lend", "to": self.brake.pk})
        self.brake.refresh_from_db()
        self.assertIn("V 16", [die.name for die in self.brake.machine.dies])
        self.assertEqual(self.client.post(act, {"what": "copy", "name": "V 16"}).status_code, 422)
        self.client.post(act, {"what": "copy", "name": "V 16 long"})
        self.client.post(act, {"what": "rename", "name": "V 5/8"})
        brake.refresh_from_db()
        self.assertEqual([die["name"] for die in read_json(brake.file)["dies"]], ["V die", "V 5/8", "V 16 long"])
        self.client.post(act, {"what": "off"})
        brake.refresh_from_db()
        self.assertEqual([die["name"] for die in read_json(brake.file)["dies"]], ["V die", "V 16 long"])
        self.assertContains(self.client.get(f"/brakes/{brake.pk}/tools/"), "V 16 long")
        for asked, left in (("16 LONG", ["V 16 long"]), ("straight", ["Straight punch"]), ("offset", [])):
            shown = self.client.get(f"/brakes/{brake.pk}/tools/?q={asked}").context["rows"]
            self.assertEqual([row["tool"]["name"] for row in shown], left)

    def test_a_tool_that_tickets_name_keeps_its_name_and_its_figures(self):
        data = read_json(self.brake.file)
        number = next(n for n, die in enumerate(data["dies"]) if die["name"] == "V 8")
        data["dies"][number]["measured"] = {"as": "v", "sizes": {}}
        self.brake.file = json.dumps(data)
        self.brake.save()
        act = f"/brakes/{self.brake.pk}/tools/dies/{number}/act/"
        self.assertContains(self.client.post(act, {"what": "rename", "name": "V eight"}), "T-0007", status_code=422)
        self.release()
        self.client.post(act, {"what": "off"})
        self.brake.refresh_from_db()
        self.assertTrue(read_json(self.brake.file)["dies"][number]["retired"])
        self.assertNotIn("V 8", [die.name for die in self.brake.machine.dies])
        self.assertEqual(read_brake(read_json(self.ticket.revision.brake_file)).with_tools(None, ["V 8"]).dies[0].v, 8)
        self.assertContains(self.client.get(f"/brakes/{self.brake.pk}/tools/"), "put away")
        self.client.post(act, {"what": "up"})
        self.brake.refresh_from_db()
        self.assertIn("V 8", [die.name for die in self.brake.machine.dies])
