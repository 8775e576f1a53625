"""Orders on pages: kept for good, stopped, compared, locked, over two brakes; ways out taken; brakes changed."""

import io
import json
import os
from unittest import mock

import ezdxf
from django.core.files.uploadedfile import SimpleUploadedFile

from bendcore.order.advice import remedies
from bendcore.order.plan import STILL
from dorvan.brakes.models import Brake
from dorvan.longwork import desks, watch
from dorvan.longwork.desk import Desk, Working
from dorvan.longwork.sought import Sought
from dorvan.tickets.models import KeptOrder, Ticket
from dorvan.tickets.pages.ways_out import KINDS
from dorvan.tickets.results import orders
from tests.core.samples import ROOT, part_file, tray_file
from tests.web.base import ShopCase


def demo_brake(name) -> Brake:
    text = (ROOT / "demo" / f"{name}.json").read_text("utf-8")
    return Brake.objects.create(name=json.loads(text)["name"], file=text)


class Orders(ShopCase):
    def setUp(self):
        super().setUp()
        desks.orders.jobs.clear()

    def put(self, part, brake=None, **more):
        Ticket.objects.filter(number=7).update(part=part, punch="", die="", brake=brake or self.brake, **more)
        self.ticket = Ticket.objects.get(number=7)
        return self.ticket

    def page(self, path="order/", **form):
        answer = self.client.post(f"/t/7/{path}", form, headers={"HX-Request": "true"}) if form else (
            self.client.get(f"/t/7/{path}"))
        self.ticket = Ticket.objects.get(number=7)
        return answer

    def test_a_proven_order_is_kept_for_good_in_words_that_follow_their_reader(self):
        self.put(tray_file(), demo_brake("finger-1270"))
        found = self.ticket.ordered
        self.assertEqual(KeptOrder.objects.count(), 1)
        desks.orders.jobs.clear()
        with mock.patch.object(orders, "plan_order", side_effect=AssertionError("looked for again")):
            again = Ticket.objects.get(number=7).ordered
        self.assertEqual((again.names, again.cost, again.set_ups), (found.names, found.cost, found.set_ups))
        for one, kept in zip(found.steps, again.steps, strict=True):
            self.assertEqual(one.notes, kept.notes)
            self.assertAlmostEqual(one.sight, kept.sight)
            self.assertEqual([p.length for p in one.tools.fingers], [p.length for p in kept.tools.fingers])
        self.assertEqual(self.page("order/frames/4/").status_code, 200)

    def test_a_search_that_is_stopped_gives_what_it_has_and_may_go_on(self):
        ticket = self.put(tray_file(), demo_brake("finger-1270"))
        asked = ticket.order_asked
        with mock.patch.object(watch, "EVERY", -1.0), mock.patch.object(watch, "forget"):
            watch.stop(asked.name)
            found = KeptOrder.ordered(asked)
            late = watch.Watch(60, name=asked.name)
            self.assertTrue(late() and late.again()() and late.within(0.5)())
        self.assertFalse(found.optimal)
        self.assertFalse(KeptOrder.objects.exists())
        if found.feasible:
            self.assertContains(self.page(), "Search on for a cheaper one")
        self.page("order/search/", go="on")
        self.assertTrue(self.ticket.ordered.optimal)
        self.assertEqual(watch.progress("nothing"), {})

    def test_the_page_says_how_far_a_search_is(self):
        self.put(tray_file(), demo_brake("finger-1270"))
        with mock.patch.object(KeptOrder, "ordered", side_effect=Working), \
                mock.patch.object(Sought, "far", return_value={"best": 190.0, "bound": 176.0, "of": 4}):
            page = self.page()
        self.assertContains(page, "190 s")
        self.assertContains(page, "176 s")
        self.assertContains(page, "Stop, and show")

    def test_what_is_tried_beside_the_order_says_how_far_it_is_ends_at_a_press_and_goes_on(self):
        self.put(part_file([20, 300, 25], [(90, "up")] * 2), demo_brake("finger-1270"))
        with mock.patch.object(Desk, "ask", side_effect=Working), mock.patch.object(Desk, "begun", return_value=True), \
                mock.patch.object(watch, "progress", return_value={"turn": 2, "of": 7}):
            for what in ("why", "limits", "brakes"):
                self.assertContains(self.page(f"order/{what}/"), "can be made" if what == "brakes" else ": 2 of 7")
                self.assertContains(self.page(f"order/{what}/looking/", go="stop"), "nding with")
        desks.orders.jobs.clear()
        with mock.patch.object(watch, "EVERY", -1.0), mock.patch.object(watch, "forget"):
            self.assertContains(self.page("order/limits/"), "Not looked at to the end")
            self.assertContains(self.page("order/why/"), "Not every step was looked at")
        with mock.patch.dict(os.environ, DORVAN_SEARCH_SECONDS="120"), mock.patch.object(orders, "TELLING", 60.0):
            self.assertNotContains(self.page("order/limits/looking/", go="on"), "Not looked at")
            self.assertNotContains(self.page("order/why/looking/", go="on"), "Not every step")

    def test_an_order_of_ones_own_stands_beside_the_best(self):
        self.put(part_file([14, 40, 120, 40, 14], [(90, "up")] * 4))
        self.page("set-up/", punch="Straight 85", stage="order")
        self.page("set-up/", die="V 8", stage="order")
        best = self.ticket.ordered
        own = next(list(order) for order in (("B1", "B4", "B2", "B3"), ("B4", "B1", "B3", "B2"))
                   if list(order) != list(best.names))
        self.page("order/try/", names=",".join(own))
        self.assertContains(self.page(), "The best order takes")
        sizes = self.page("order/sizes/")
        self.assertContains(sizes, "best order")
        self.page("order/try/", names=own[0])
        self.assertEqual(self.ticket.ordered.names[0], own[0])
        self.assertContains(self.page(), 'aria-pressed="true"')

    def test_a_leg_is_asked_to_be_gauged_directly_and_undone(self):
        self.put(part_file([14, 40, 120, 40, 14], [(90, "up")] * 4))
        self.page("set-up/", punch="Straight 85", stage="order")
        self.page("set-up/", die="V 8", stage="order")
        self.page("order/important/", name="L1")
        self.assertEqual(self.ticket.important, ["L1"])
        self.assertTrue(self.ticket.ordered.important[0].direct)
        self.assertContains(self.page("order/sizes/"), "★")
        self.assertEqual(self.page("order/important/", name="B1").status_code, 422)
        self.page("undo/", seen="")
        self.assertEqual(self.ticket.important, [])

    def test_a_wish_is_taken_at_a_press_for_what_it_was_said_to_cost_and_let_go_again(self):
        self.put(part_file([20, 300, 25], [(90, "up")] * 2))
        self.page("set-up/", punch="Straight 85", stage="order")
        self.page("set-up/", die="V 8", stage="order")
        free = self.ticket.ordered.cost
        price = next(wish.price for wish in self.ticket.order_asked.why().ask().wishes if wish.name == STILL)
        self.assertContains(self.page("order/why/"), f'name="name" value="{STILL}"')
        self.assertContains(self.page("order/important/", name=STILL), f"<b>+{price:.0f} s</b>")
        self.assertAlmostEqual(self.ticket.ordered.cost, free + price)
        self.assertContains(self.page("order/why/"), "Let it go")
        self.page("change/", field="shape.legs[0].length", value="280", stage="shape")
        self.assertEqual(self.ticket.important, [STILL])
        self.page("order/important/", name=STILL)
        self.assertEqual(self.ticket.important, [])
        self.page("undo/", seen="")
        self.assertEqual(self.ticket.important, [STILL])

    def test_a_route_over_two_brakes_is_released_with_both(self):
        leaf, finger = demo_brake("leaf-2000"), demo_brake("finger-1270")
        self.put(tray_file(), leaf)
        self.assertFalse(self.ticket.ordered.feasible)
        self.page("set-up/", also=str(finger.pk), stage="order")
        self.assertTrue(self.ticket.ordered.feasible)
        self.assertContains(self.page(), "goes over where that is cheaper")
        self.assertEqual(self.page("order/frames/1/").status_code, 200)
        self.assertEqual(self.page("order/space/2/5/").status_code, 200)
        self.assertContains(self.page("order/sheet/"), "Fingers")
        self.assertEqual(self.page("set-up/", also=str(leaf.pk), stage="order").status_code, 422)
        revision = self.release()
        self.assertEqual(len(revision.brake_files), 2)
        self.assertTrue(revision.is_current)
        self.page("set-up/", brake=str(finger.pk), stage="order")
        self.assertIsNone(self.ticket.also)

    def test_a_hem_left_off_and_a_larger_radius_are_taken_and_brought_back(self):
        hem = {"end_hem": {"length": 9, "gap": 1, "direction": "up"}}
        self.put(part_file([40, 60, 14], [(90, "up")] * 2, **hem), demo_brake("leaf-2000"))
        self.page("order/take/", field=["shape.end_hem", "inside_radius"], value=["", "2 mm"])
        part = self.ticket.part
        self.assertEqual(("end_hem" in part["shape"], part["inside_radius"]), (False, "2 mm"))
        self.page("undo/", stage="order")
        part = self.ticket.part
        self.assertEqual((part["shape"]["end_hem"], part["inside_radius"]), (hem["end_hem"], 1.2))

    @mock.patch.dict(os.environ, DORVAN_SEARCH_SECONDS="60")  # ways out share it; a busy machine needs more than a few
    def test_a_way_out_is_taken_with_one_press_and_told_before_cutting(self):
        walls = {side: {"height": 130} for side in ("left", "right", "front", "back")}
        self.put(tray_file(walls=walls), demo_brake("finger-1270"))
        self.assertContains(self.page("order/look/"), "Measure the machine before you cut")
        stock = self.client.get("/t/7/stock/").content.decode()
        self.assertIn("Thickest it takes of this metal", stock)
        self.assertNotIn("Dies on", stock)
        text = self.page("order/remedies/").content.decode()
        self.assertIn("cannot all be made", text)
        self.assertIn("Make the walls", text)
        self.assertRegex(text, r"Front wall, height</th><td>130.0 → <b>1\d\d")
        self.assertIn("<figcaption>then</figcaption>", text)
        self.assertRegex(" ".join(text.split()), r"Blank</th><td>\d+.*? → <b>\d+")
        self.assertIn("Ending with what is found", self.client.post("/t/7/order/remedies/stop/").content.decode())
        self.assertIn("Simulating", self.client.post("/t/7/order/remedies/stop/", {"go": "on"}).content.decode())
        self.assertEqual({value for name, value in vars(remedies).items() if name.isupper() and isinstance(value, str)
                          and "-" in value} - set(KINDS), set())
        fields = [f"shape.walls.{side}.height" for side in walls]
        self.assertEqual(self.page("order/take/", field=fields, value=["100 mm"] * 4).status_code, 200)
        self.assertTrue(self.ticket.ordered.feasible)
        self.assertNotContains(self.page("order/look/"), "Measure")
        self.assertEqual(self.page("order/take/", field="shape.walls.roof.height", value="9").status_code, 422)
        self.assertContains(self.page("order/why/"), "The best instead")
        self.assertContains(self.page("order/why/"), "The larger side clamped, at every bend")
        self.assertContains(self.page("order/"), "Free sides swung up")
        self.assertContains(self.page("order/limits/"), "Highest walls")


class Brakes(ShopCase):
    def setUp(self):
        self.client.force_login(self.lead)
        self.finger = demo_brake("finger-1270")

    def change(self, status=302, **form):
        path = f"/sections/{self.finger.pk}/" if form.get("what") == "drawing" else f"/brakes/{self.finger.pk}/change/"
        answer = self.client.post(path, form)
        self.assertEqual(answer.status_code, status, answer.content[:300])
        self.finger.refresh_from_db()
        return answer.content.decode()

    def test_a_section_is_changed_by_points_and_refused_at_its_place(self):
        page = self.client.get(f"/brakes/{self.finger.pk}/?place=bed_section").content.decode()
        self.assertIn("Points of Bed", page)
        points = "0 0\n-60 -2\n-60; -60\n70, -60\n70, 0"
        self.change(what="section", place="bed_section", points="0,0\n80,0\n80,-70\n0,-70")
        self.assertEqual(self.finger.machine.bed_section[2], (80.0, -70.0))
        text = self.change(422, what="section", place="bed_section", points=points.replace("-2", "30"))
        self.assertIn("bed_section[1]", text)
        self.assertIn("-60 30", text)  # nothing typed is lost
        for bad in ("0,0\n1,1", "0,0\n80,0,3\n4,4", "0,0\n80,x\n4,4", "0,0\n80,0\n0,-9\n80,-9"):
            self.change(422, what="section", place="bed_section", points=bad)
        self.change(422, what="section", place="roof", points=points)
        self.change(422, what="roof")

    def test_a_section_is_read_from_a_drawing_about_its_own_origin(self):
        doc = ezdxf.new(units=4)
        doc.modelspace().add_lwpolyline([(0, 0), (60, 0), (60, 90), (50, 90), (0, 0.5)], close=True)
        text = io.StringIO()
        doc.write(text)
        self.change(what="drawing", place="finger_section",
                    file=SimpleUploadedFile("finger.dxf", text.getvalue().encode()))
        self.assertEqual({tuple(p) for p in self.finger.machine.finger_section},
                         {(0, 0), (60, 0), (60, 90), (50, 90), (0, 0.5)})
        self.change(422, what="drawing", place="finger_section", file=SimpleUploadedFile("finger.dxf", b"no drawing"))
        self.change(422, what="drawing", place="finger_section")

    def test_fingers_and_pieces_are_counted(self):
        self.assertIn("× ", self.client.get(f"/brakes/{self.finger.pk}/").content.decode())
        self.change(what="pieces", place="finger_section", pieces="100 × 2\n50x1\n25")
        self.assertEqual(self.finger.machine.fingers, (100, 100, 50, 25))
        for bad in ("100 × many", "wide × 2", "100 × 0"):
            self.assertIn(bad, self.change(422, what="pieces", place="finger_section", pieces=bad))
        self.change(422, what="pieces", place="bed_section", pieces="100 × 2")
        press = f"/brakes/{self.brake.pk}/change/"
        self.client.post(press, {"what": "pieces", "place": "dies[0].section", "pieces": "835\n100 × 3"})
        self.brake.refresh_from_db()
        self.assertEqual(sorted(self.brake.press.dies[0].lengths), [100, 100, 100, 835])

    def test_costs_and_accuracy_are_set_and_change_what_is_told(self):
        self.change(what="costs", scribed_line="12,5", turn="9")
        self.assertEqual((self.finger.machine.costs.scribed_line, self.finger.machine.costs.turn), (12.5, 9))
        self.change(422, what="costs", turn="many")
        self.change(what="accuracy", scribing="0.4", angle="0.2")
        self.assertEqual(self.finger.machine.accuracy.scribing, 0.4)
        self.change(422, what="accuracy", scribing="-1")
        self.change(what="accuracy", scribing="", angle="")
        self.assertIsNone(self.finger.machine.accuracy.scribing)
        self.client.force_login(self.bench)
        self.change(403, what="costs", turn="1")
        self.assertContains(self.client.get(f"/brakes/{self.finger.pk}/"), "A lead can change it")
