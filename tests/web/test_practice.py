"""Practice: lessons on simulated brakes, nothing kept of them, and what is hidden told only in the end."""

from dorvan.simulated.lessons import LESSONS, work_of
from dorvan.simulated.practice import Practice
from tests.web.base import ShopCase


class Practices(ShopCase):
    def begin(self, **form):
        self.assertEqual(self.client.post("/practice/begin/", form).status_code, 302)
        return self.client.get("/practice/").content.decode()

    def test_every_lesson_can_be_begun_bent_and_shown(self):
        for slug, lesson in LESSONS.items():
            self.assertIn(lesson.aim, self.begin(lesson=slug))
            self.client.post("/practice/bend/", {})
            page = self.client.get("/practice/")
            self.assertNotContains(page, "What was hidden</h2>")
            strip = work_of(slug).part.shape.kind == "profile"
            self.assertContains(page, "the right one", count=2 * strip)  # in words and to be read out
            self.client.post("/practice/look/", {"what": "hint"})
            self.assertContains(self.client.get("/practice/"), "What Dorvan would set next")
            self.client.post("/practice/look/", {"what": "shown", "k": "0.43"})
            self.assertContains(self.client.get("/practice/"), "A setter who corrects by all readings")
            self.client.post("/practice/look/", {"what": "end"})
        self.assertContains(self.client.get("/practice/"), "Begin")

    def test_the_order_of_a_hat_is_found_by_trying(self):
        """From end to end the last bend is not let in; from the middle of that order another way leads out."""
        def choose(**form):
            self.assertEqual(self.client.post("/practice/order/choose/", form).status_code, 302)
            return self.client.get("/practice/order/").content.decode()

        for bend in ("B1", "B2", "B3"):
            self.assertNotIn("■", choose(bend=bend))
        page = choose(bend="B4")
        self.assertTrue("cannot be made now" in page and "Stuck" in page, page[-2000:])
        choose(what="back")
        choose(bend="B4")
        self.assertIn("1 choice met something", choose(bend="B3"))
        self.assertEqual(self.client.post("/practice/order/choose/", {"bend": "B3"}).status_code, 422)
        self.assertNotIn("It can be made so", choose(what="anew"))

    def test_what_is_set_is_what_is_bent(self):
        """Three degrees further on every bend, the stop two millimetres back: so much further, and so much longer."""
        work = work_of("hat")
        for further, back in ((3.0, 0.0), (0.0, 2.0)):
            changed = {"further": {name: further for step in work.steps for name in step.bends},
                       "back": {"0": back}}
            practice = Practice(work, "hat", 7, [{"further": {}, "back": {}}, changed])
            setter, ((one, _), (other, _)) = practice.played()
            first, second = setter.dimensions(one), setter.dimensions(other)
            for name, goal in practice.ties.dimensions.items():
                if goal.unit != "mm" and further:
                    self.assertAlmostEqual(second[name] - first[name], further, delta=0.9)
            leg = practice.ties.gauged[0]
            if back:
                self.assertAlmostEqual(second[leg] - first[leg], back * practice.ties.back(leg, 0), delta=0.6)

    def test_whoever_follows_the_hints_gets_there_as_a_setter_does(self):
        for slug in ("first-angle", "hat", "drift"):
            work = work_of(slug)
            practice = Practice(work, slug, 11)
            took, sets = practice.by_a_setter()
            self.assertLess(took, 8, slug)
            for settings in sets:
                back = {str(n): mm for n, mm in settings.back.items()}
                practice.set.append({"further": settings.further, "back": back})
            setter, pieces = practice.played()
            self.assertTrue(practice.is_right(setter.dimensions(pieces[-1][0])), slug)

    def test_a_ticket_is_practised_only_when_released(self):
        self.assertEqual(self.client.post("/practice/begin/", {"ticket": "7"}).status_code, 422)
        self.release()
        self.assertIn("sample", self.begin(ticket="7"))
        bad = self.client.post("/practice/bend/", {"to-0": "square", "stop-0": "31", "stop-1": "9000"})
        self.assertContains(bad, "not an angle", status_code=422)
        self.assertContains(bad, 'value="square"', status_code=422)
        self.assertContains(bad, "more than 20 mm", status_code=422)
        self.assertNotIn("further", str(self.client.session["practice"]["set"]))

    def test_no_more_than_so_many_pieces(self):
        self.begin(lesson="first-angle")
        for _ in range(32):
            self.client.post("/practice/bend/", {})
        self.assertEqual(len(self.client.session["practice"]["set"]), 30)
