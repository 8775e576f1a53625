"""A ticket through its stages on the server: changes, errors at their field, release, records."""

import random
import re

from bendcore.part_file import field_at
from dorvan.floor.models import CheckSheet, StepRecord
from dorvan.people.models import User
from dorvan.tickets.beside import fetch, with_beside
from dorvan.tickets.drawn import MOST, note
from dorvan.tickets.file import changes
from dorvan.tickets.models import Edit, Photograph, Ticket
from dorvan.tickets.models.history import undo_redo
from dorvan.tickets.models.revision import letter
from tests.core.samples import part_file
from tests.core.test_commands import spoiled, worst_inputs
from tests.core.trays import tray_file
from tests.web.base import ShopCase


class Beside(ShopCase):
    def test_what_is_not_there_is_not_asked_for_and_what_is_made_then_is_seen(self):
        with self.assertNumQueries(1):
            ticket = with_beside(Ticket, 7)
            fetch(ticket, "revisions", "pieces")
            found = [ticket.revision, *ticket.pieces.all(), *ticket.overrides.all(), ticket.photographed]
            self.assertEqual(found, [None, None])
            self.assertFalse(ticket.blanks_cut.exists())
        ticket.overrides.create(code="a", where="L1", message="b", reason="enough", by=self.lead)
        self.assertEqual([one.reason for one in ticket.overrides.all()], ["enough"])
        again = with_beside(Ticket, 7)
        with self.assertNumQueries(1):
            self.assertEqual((again.override_for("a", "L1", "b").reason, again.revision), ("enough", None))
        Ticket.objects.create(number=8, part=self.ticket.part, lead=ticket, made_by=self.lead)
        Photograph.objects.create(ticket=ticket, jpeg=b"j", by=self.lead)
        again = with_beside(Ticket, 7)
        self.assertEqual([piece.number for piece in again.pieces.all()], [8])
        self.assertEqual(again.photographed, Photograph.objects.get().at)


class Said(ShopCase):
    """An answer says again only what it changed."""

    def setUp(self):
        super().setUp()
        self.tray = Ticket.objects.create(number=70, part=tray_file(), made_by=self.bench)

    def hands(self, answer) -> dict[str, str]:
        found = answer.content.decode().split('<details class="hand" id="hand-')[1:]
        return {name: html for name, _, html in (one.splitlines()[0].partition('"') for one in found)}

    def change(self, page, field, value, status=200):
        sent = re.search(r'"drawn": "([^"]+)"', page.content.decode())
        answer = self.client.post("/t/70/change/", {"field": field, "value": value, "stage": "shape"} | (
            {"drawn": sent[1]} if sent else {}), headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, status)
        return answer

    def test_the_page_and_the_answers_to_it_come_to_what_the_page_says_anew(self):
        rng, page = random.Random(8), self.client.get("/t/70/")
        shown = self.hands(page)
        self.assertGreater(len(shown), 4)
        for n in range(12):
            field = rng.choice(["walls.left.height", "walls.front.height", "walls.right.angle", "length", "width"])
            wrong, whole = n % 4 == 3, n > 0 and n % 4 in (0, 3)  # all of it with a refusal, and after it
            page = self.change(page, f"shape.{field}", "x" if wrong else f"{80 + n}", 422 if wrong else 200)
            answered = self.hands(page)
            kept = [name for name, html in answered.items() if "data-same" in html]
            self.assertEqual(bool(kept), not whole, n)
            shown = {name: shown[name] if name in kept else html for name, html in answered.items()}
            if not wrong:
                self.assertEqual(shown, self.hands(self.client.get("/t/70/")))

    def test_one_who_reads_otherwise_or_whose_page_is_not_known_gets_all(self):
        page = self.client.get("/t/70/")
        shown = self.hands(page)
        for n, reads in enumerate(({"unit": "in"}, {"tape": 8}, {"included": True}), 8):
            User.objects.filter(pk=self.bench.pk).update(**reads)
            self.client.get("/t/70/")  # as another tab shows it
            page = self.change(page, "shape.length", f"{n}")
            shown |= {name: html for name, html in self.hands(page).items() if "data-same" not in html}
            self.assertEqual(shown, self.hands(self.client.get("/t/70/")), reads)
        for n in range(MOST):
            note(f"other {n}", [])
        self.assertNotIn("data-same", " ".join(self.hands(self.change(page, "shape.length", "8.5")).values()))


class Changes(ShopCase):
    def test_a_leg_is_set_undone_and_redone(self):
        self.change(field="shape.legs[1]", value="2 3/8 in")
        self.assertAlmostEqual(self.ticket.figures.part.shape.legs[1].size, 60.325)
        back, again = undo_redo(self.ticket)
        self.assertEqual(back, "Leg L2")
        self.assertFalse(again)
        self.assertContains(self.client.get("/t/7/"), f"Takes back: {back}")  # said before it is done
        self.client.post("/t/7/undo/")
        self.ticket.refresh_from_db()
        self.assertEqual(self.ticket.part["shape"]["legs"][1], 60)
        self.client.post("/t/7/redo/")
        self.ticket.refresh_from_db()
        self.assertEqual(self.ticket.part["shape"]["legs"][1], "2 3/8 in")
        self.client.post("/t/7/undo/")
        self.change(field="shape.width", value="500")
        self.assertFalse(undo_redo(Ticket.objects.get(number=7))[1])
        self.assertEqual(Edit.objects.filter(by=self.bench).count(), 2)

    def test_typed_without_a_unit_it_is_the_readers(self):
        self.client.post("/people/units/")
        self.change(field="shape.width", value="12 1/2")
        self.assertAlmostEqual(self.ticket.figures.part.shape.width, 317.5)
        self.change(field="shape.width", value="40 mm")
        self.assertAlmostEqual(self.ticket.figures.part.shape.width, 40)

    def test_bad_values_come_back_to_their_field_and_lose_nothing(self):
        before = self.ticket.part
        checked = 0
        for what, where, value, _ in worst_inputs():
            if not ((found := field_at(where, "profile")) and found.is_typed) or value == "(taken out)":
                continue
            typed = str(spoiled(where, value) and value.strip('"'))
            with self.subTest(what):
                text = self.change(422, field=where, value=typed, stage="shape")
                self.assertIn('role="alert"', text)
                if where in ("shape.width", "shape.legs[1]"):
                    self.assertIn('aria-invalid="true"', text)
                    if len(typed) > 1 and "<" not in typed:
                        self.assertIn(f'value="{typed}"', text)
                self.assertEqual(self.ticket.part, before)
                checked += 1
        self.assertGreater(checked, 15)
        self.assertIn("Leg L2", self.change(422, field="shape.legs[1]", value="0"))
        for path, words in (("shape.bends[0].angle", "Bend B1, angle"),
                            ("shape.end_hem.length", "Hem at the end, length"),
                            ("allowance.rows", "Allowance"), ("colour", "colour")):
            self.assertEqual(changes.in_words(path), words)
        self.change(422, field="shape.legs[77]", value="3")
        self.change(422, field="__class__", value="3")
        self.assertFalse(Edit.objects.exists())

    def test_a_step_is_one_entry(self):
        self.change(action="jog", value="1/2 in")
        shape = self.ticket.figures.part.shape
        self.assertEqual([b.direction for b in shape.bends[2:]], ["up", "down"])
        self.assertAlmostEqual(shape.legs[3].outside, 12.7)
        self.assertIn("how high", self.change(422, action="jog", value="0"))

    def test_bends_and_hems_come_and_go(self):
        self.change(action="add", field="shape.bends")
        self.change(action="toggle", field="shape.start_hem")
        self.assertEqual([b.id for b in self.ticket.figures.part.shape.all_bends], ["HS", "B1", "B2", "B3"])
        self.change(field="shape.bends[2].direction", value="down")
        self.change(action="remove", field="shape.bends[0]")
        self.change(action="toggle", field="shape.start_hem")
        self.assertEqual([b["direction"] for b in self.ticket.part["shape"]["bends"]], ["up", "down"])
        self.change(422, action="remove", field="shape.bends[9]")

    def test_a_drawn_line_becomes_legs_and_bends(self):
        self.change(action="points", points="[[0,0],[40,0],[40,60],[70,60]]")
        shape = self.ticket.part["shape"]
        self.assertEqual(shape["legs"], ["40 mm", "60 mm", "30 mm"])
        self.assertEqual([(b["angle"], b["direction"]) for b in shape["bends"]], [(90, "up"), (90, "down")])
        for points in ("[[0,0]]", "nonsense", "[" * 3000, "[[0,0],[1e999,0]]", "[[0,0],[9,0],[0,0]]"):
            self.change(422, action="points", points=points)

    def test_a_tried_order_lasts_while_the_bends_do(self):
        self.client.post("/t/7/order/try/", {"names": "B2,B1"})
        self.ticket.refresh_from_db()
        self.assertEqual(self.ticket.ordered.names, ("B2", "B1"))
        self.assertEqual(self.client.post("/t/7/order/try/", {"names": "B2,B2"}).status_code, 422)
        self.client.post("/t/7/order/try/", {"names": "B2"})  # how it begins: the best rest is looked for
        self.ticket.refresh_from_db()
        self.assertEqual((self.ticket.bend_order, self.ticket.ordered.names[0]), (["B2"], "B2"))
        self.change(action="add", field="shape.bends")
        self.assertEqual(self.ticket.bend_order, [])

    def test_set_up_refuses_what_is_not_there(self):
        answer = self.client.post("/t/7/set-up/", {"quantity": "none"}, headers={"HX-Request": "true"})
        self.assertContains(answer, "whole number", status_code=422)
        self.client.post("/t/7/set-up/", {"punch": "Butter knife", "quantity": "12"})
        self.ticket.refresh_from_db()
        self.assertEqual((self.ticket.punch, self.ticket.quantity), ("", 12))


class Floor(ShopCase):
    def test_release_freezes_and_later_changes_make_the_next(self):
        revision = self.release()
        self.release()
        self.assertEqual(self.ticket.revisions.count(), 1)
        self.change(field="shape.width", value="444")
        revision.refresh_from_db()
        self.assertEqual((revision.part["shape"]["width"], revision.is_current), (300, False))
        self.assertContains(self.client.get("/t/7/bend/"), "changed after revision a")
        self.release()
        self.assertEqual([r.letter for r in self.ticket.revisions.all()], ["a", "b"])
        self.assertEqual([letter(n) for n in (0, 25, 26, 52)], ["a", "z", "aa", "ba"])

    def test_what_cannot_be_bent_is_not_released(self):
        self.change(field="inside_radius", value="0.1")
        answer = self.client.post("/t/7/release/")
        self.assertContains(answer, "stop on the part", status_code=422)
        self.ticket.part = part_file([50, 50, 50, 47], [(90, "up")] * 3)
        self.ticket.save()
        self.assertContains(self.client.post("/t/7/release/"), "No order bends this part", status_code=422)
        self.assertFalse(self.ticket.revisions.exists())

    def test_a_reading_corrects_the_steps_it_concerns(self):
        revision = self.release()
        first = revision.order["steps"][0]
        leg = {"B1": "L1", "B2": "L3"}[first["bends"][0]]  # the end leg: on the stop's side when it is held
        self.client.post("/t/7/bend/record/", {"piece": 1, "step": 1, "angle": "88", "leg": "30.4", "leg_name": leg})
        text = self.client.get("/t/7/bend/?piece=1&step=2").content.decode()
        self.assertRegex(text, "bend (1.9|2)° further")  # springback spreads far more than a protractor
        self.assertRegex(text, "9(2.9|3.0)°")
        way = "nearer the bend" if first["held"] == leg else "further back"
        self.assertRegex(self.client.get("/t/7/bend/?piece=2&step=1").content.decode() if
                         self.finish(revision) else "", rf"stop 0\.[34]\d mm {way}")

    def finish(self, revision):
        self.client.post("/t/7/bend/record/", {"piece": 1, "step": 2})
        return len(revision.order["steps"]) == 2

    def test_bad_readings_stay_in_their_field(self):
        self.release()
        for form, words in [({"angle": "square"}, "not an angle"), ({"leg": "-3"}, "greater than 0"),
                            ({"angle": "270"}, "between 0 and 180")]:
            answer = self.client.post("/t/7/bend/record/", form | {"piece": 1, "step": 1})
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, f'value="{next(iter(form.values()))}"', status_code=422)
        self.assertFalse(StepRecord.objects.exists())

    def test_a_check_sheet_is_saved_with_verdicts(self):
        self.release()
        self.assertEqual(self.client.post("/t/7/check/save/", {"piece": 1}).status_code, 422)
        answer = self.client.post("/t/7/check/save/", {"L1": "30.1", "B1": "many"})
        self.assertContains(answer, 'value="30.1"', status_code=422)
        self.client.post("/t/7/check/save/", {"piece": 1, "L1": "30.1", "B1": "91.5", "L2": "60"})
        sheet = CheckSheet.objects.get()
        self.assertEqual([r["verdict"] for r in sheet.rows], ["good", "out", "good"])
        self.assertContains(self.client.get("/t/7/check/"), "Out of tolerance")
        self.assertFalse(self.ticket.reached()["check"])  # out, and nothing decided


class Ahead(ShopCase):
    def test_a_ticket_not_yet_released_shows_what_bending_it_will_be_like(self):
        steps = Ticket.objects.get(number=7).ordered.steps
        for n, step in enumerate(steps, 1):
            page = self.client.get(f"/t/7/bend/?step={n}")
            self.assertContains(page, f"step {n} of {len(steps)}")
            self.assertContains(page, f"{step.bend_to:.1f}°")
            self.assertContains(page, f"{step.gauge.stop:.2f}".rstrip("0"))
            self.assertContains(page, "Release and bend")
            self.assertNotContains(page, "✓ Bent")
        self.assertContains(self.client.get("/t/7/bend/?step=²"), f"step 1 of {len(steps)}")
        self.ticket.change(None, "none", self.bench, brake_id=None, punch="", die="")
        self.assertContains(self.client.get("/t/7/bend/"), "Not released yet")
