"""Who works here: taken on, renamed, stopped and let in again; a phrase for once; what somebody did stays his."""

import uuid
from datetime import timedelta

from django.test import Client
from django.utils import timezone

from dorvan.people.models import Deed, User
from dorvan.people.phrases import WORDS
from tests.core.samples import ROOT
from tests.web.base import ShopCase

OWN = "four-brass-rules-and-a-scriber"


class Staff(ShopCase):
    def setUp(self):
        super().setUp()
        self.client.force_login(self.lead)

    def act(self, person, status=302, **form):
        answer = self.client.post(f"/people/{person.pk}/change/", form)
        self.assertEqual(answer.status_code, status, answer.content[:300])
        person.refresh_from_db()
        return answer

    def take_on(self, name="mira", role="bench"):
        answer = self.client.post("/people/add/", {"name": name, "role": role})
        self.assertEqual(answer.status_code, 200)
        return User.objects.get(username=name), answer.context["phrase"]

    def sign_in(self, name, phrase):
        client = Client()
        answer = client.post("/people/sign-in/", {"username": name, "password": phrase})
        return client, answer

    def test_somebody_new_signs_in_with_the_phrase_for_once_and_chooses_his_own(self):
        person, phrase = self.take_on()
        self.assertEqual(len(phrase.split("-")), 5)
        self.assertLessEqual(set(phrase.split("-")), set(WORDS))
        self.assertNotContains(self.client.get("/people/"), phrase)  # shown once
        self.assertNotIn(phrase, "".join(f"{d.before}{d.after}" for d in Deed.objects.all()))
        client, answer = self.sign_in("mira", phrase)
        self.assertEqual(answer.status_code, 302)
        for path in ("/", "/t/7/", "/people/reading/"):
            self.assertRedirects(client.get(path), "/people/phrase/")
        self.assertRedirects(client.post("/t/7/archive/"), "/people/phrase/")
        for form, field in (({"old": "x", "phrase": OWN, "again": OWN}, "So far"),
                            ({"old": phrase, "phrase": OWN, "again": OWN + "x"}, "Once more"),
                            ({"old": phrase, "phrase": phrase, "again": phrase}, "Pass phrase"),
                            ({"old": phrase, "phrase": "short", "again": "short"}, "Pass phrase")):
            self.assertContains(client.post("/people/phrase/take/", form), field, status_code=422)
        self.assertRedirects(client.post("/people/phrase/take/", {"old": phrase, "phrase": OWN, "again": OWN}), "/")
        self.assertEqual(client.get("/t/7/").status_code, 200)
        self.assertEqual(self.sign_in("mira", phrase)[1].status_code, 200)  # refused at the door
        self.assertEqual(self.sign_in("mira", OWN)[1].status_code, 302)

    def test_a_phrase_for_once_ends(self):
        person, phrase = self.take_on()
        User.objects.filter(pk=person.pk).update(phrase_ends=timezone.now() - timedelta(minutes=1))
        client, answer = self.sign_in("mira", phrase)
        self.assertContains(answer, "its time is over")
        self.assertEqual(client.get("/").status_code, 302)
        again = self.act(person, 200, what="phrase").context["phrase"]
        self.assertEqual(self.sign_in("mira", again)[1].status_code, 302)

    def test_who_is_stopped_is_out_at_once_and_what_he_did_stays(self):
        tablet = Client()
        tablet.force_login(self.bench)
        self.act(self.bench, what="stop")
        self.assertEqual(tablet.get("/t/7/").status_code, 302)
        self.assertEqual(self.sign_in("bench", "tin-snips-9")[1].status_code, 200)
        self.assertEqual(self.ticket.made_by, self.bench)
        phrase = self.act(self.bench, 200, what="let-in").context["phrase"]
        self.assertEqual(self.sign_in("bench", phrase)[1].status_code, 302)

    def test_a_tablet_is_led_to_the_address_the_page_was_asked_by(self):
        with self.settings(ALLOWED_HOSTS=["192.168.7.20", "127.0.0.1"]):
            page = self.client.get("/people/", headers={"Host": "192.168.7.20:8000"})
            self.assertContains(page, "http://192.168.7.20:8000/")
            self.assertContains(page, "Square code")
            self.assertContains(self.client.get("/people/", headers={"Host": "127.0.0.1:8000"}), "LISTEN=shop")
        self.assertContains(self.client.get("/"), "manifest.webmanifest")

    def test_roles_and_the_last_lead(self):
        self.assertContains(self.act(self.lead, 422, what="role", role="bench"), "only lead", status_code=422)
        self.assertContains(self.act(self.lead, 422, what="stop"), "is you", status_code=422)
        self.act(self.bench, what="role", role="lead")
        self.assertTrue(self.bench.is_lead)
        self.act(self.lead, what="role", role="bench")
        self.assertEqual(self.client.get("/people/").status_code, 403)
        self.assertEqual(list(Deed.objects.filter(what="person").values_list("before", "after")),
                         [("lead: lead", "lead: bench"), ("bench: bench", "bench: lead")])

    def test_names_are_nobodys_and_were_nobodys(self):
        for name in ("", "Lead", "bench"):
            self.assertEqual(self.client.post("/people/add/", {"name": name, "role": "bench"}).status_code, 422)
        self.act(self.bench, what="rename", name="bea")
        self.assertEqual((self.bench.username, self.bench.device_name), ("bea", "bench"))
        self.assertEqual(self.client.post("/people/add/", {"name": "Bench", "role": "bench"}).status_code, 422)
        self.act(self.lead, 422, what="rename", name="bench")
        self.act(self.bench, what="rename", name="bench")  # his own name again
        self.act(self.bench, 422, what="promote")

    def test_entries_on_a_device_are_its_authors_whatever_he_is_called_now(self):
        self.release()
        self.act(self.bench, what="rename", name="bea")
        other, phrase = self.take_on("mira")
        tablet, key = Client(), str(uuid.uuid4())

        def send(by):
            return tablet.post("/t/7/bend/log/", {"what": "pause", "piece": "1"},
                               headers={"X-Kept-By": by, "X-Kept-Key": key}).status_code

        tablet.force_login(self.bench)
        self.assertEqual(send("bea"), 401)
        self.assertNotEqual(send("bench"), 401)
        tablet.force_login(other)  # signed in with a phrase for once: entries wait, none is taken for done
        self.assertEqual(send("mira"), 401)
        self.assertContains(Client().get("/people/sign-in/"), "Sign in")


class Words(ShopCase):
    def test_every_row_of_the_glossary_is_on_the_page_and_is_found(self):
        text = (ROOT / "docs" / "glossary.md").read_text("utf-8")
        rows = [line for line in text.splitlines() if line.startswith("| **")]
        page = self.client.get("/words/")
        self.assertEqual(len(page.context["found"]), len(rows))
        self.assertNotContains(page, "**")
        asked = self.client.get("/words/?q=Bend line").context["found"]
        self.assertEqual(asked[0].names, ("bend line",))
        self.assertContains(self.client.get("/words/?q=<furlong>"), "&lt;furlong&gt;")
        self.assertContains(self.client.get("/"), "/words/")
