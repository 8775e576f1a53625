"""Shared tablets and PINs: where they work, how often one may guess, what they do not open."""

from unittest import mock

from django.test import Client

from dorvan.people import pins
from dorvan.people.models import Deed, Device, User
from tests.web.base import ShopCase

PHRASE, PIN = "tin-snips-9", "481516"
WRONG = {"name": "bench", "pin": "902134"}


class Pins(ShopCase):
    def setUp(self):
        super().setUp()
        self.tablet = Client()
        self.tablet.post("/people/sign-in/", {"username": "lead", "password": PHRASE})
        self.tablet.post("/people/devices/trust/", {"device": "press bench"})
        self.give(self.client)

    def give(self, client, pin=PIN, status=302):
        answer = client.post("/people/pin/take/", {"old_for_pin": PHRASE, "pin": pin, "pin_again": pin})
        self.assertEqual(answer.status_code, status, pin)

    def take_over(self, client=None, **form):
        return (client or self.tablet).post("/people/take-over/", {"name": "bench", "pin": PIN, **form})

    def who(self, client):
        found = client.session.get("_auth_user_id")
        return found and User.objects.get(pk=found).username

    def test_people_take_over_at_a_trusted_tablet_and_go_on_where_it_was(self):
        page = self.tablet.get("/t/7/shape/?leg=2")
        self.assertContains(page, "/people/take-over/?next=/t/7/shape/%3Fleg%3D2")
        self.assertRedirects(self.take_over(next="/t/7/shape/"), "/t/7/shape/")
        self.assertEqual(self.who(self.tablet), "bench")
        self.assertRedirects(self.take_over(next="https://elsewhere.example/"), "/")
        self.tablet.post("/people/sign-out/")
        self.assertContains(self.tablet.get("/people/sign-in/"), "With a PIN, at press bench")
        self.assertRedirects(self.take_over(), "/")
        self.assertEqual(self.who(self.tablet), "bench")
        self.assertEqual([d.after for d in Deed.objects.filter(what="device")],
                         ["press bench: trusted, people take over there with a PIN"])

    def test_elsewhere_a_pin_opens_nothing(self):
        stranger = Client()
        forged = Client()
        forged.cookies["dorvan_device"] = Device.objects.get().secret  # its hash is no key
        for client in (stranger, forged):
            self.assertRedirects(self.take_over(client), "/people/sign-in/")
            self.assertIsNone(self.who(client))
        self.tablet.post(f"/people/devices/{Device.objects.get().pk}/withdraw/")
        self.assertRedirects(self.take_over(), "/people/sign-in/", target_status_code=302)
        self.assertEqual(self.who(self.tablet), "lead")

    def test_five_wrong_ones_put_it_to_rest_until_the_phrase_is_given(self):
        said = ["Check both"] * (pins.MOST_WRONG - 1) + ["rests after too many"]
        for words in said:
            self.assertContains(self.tablet.post("/people/take-over/", WRONG), words, status_code=422)
        self.assertContains(self.take_over(), "rests after too many", status_code=422)
        self.assertEqual(self.who(self.tablet), "lead")
        Client().post("/people/sign-in/", {"username": "bench", "password": PHRASE})
        self.assertEqual(self.take_over().status_code, 302)
        self.assertEqual(User.objects.get(username="bench").pin_wrong, 0)

    def test_a_try_is_counted_before_it_is_looked_at(self):
        seen = []

        def looking(_pin, _hash):
            seen.append(User.objects.get(username="bench").pin_wrong)
            return False

        with mock.patch.object(pins, "check_password", looking):
            for _ in range(9):
                self.take_over()
        self.assertEqual(seen, [1, 2, 3, 4, 5])

    def test_a_pin_opens_the_work_and_not_who_works_here(self):
        self.give(self.tablet, "605142")
        self.tablet.post("/people/take-over/", {"name": "lead", "pin": "605142"})
        self.assertEqual(self.tablet.get("/t/7/").status_code, 200)
        for path in ("/people/add/", f"/people/{self.bench.pk}/change/", "/people/phrase/take/", "/people/pin/take/",
                     "/people/devices/trust/", "/people/devices/1/withdraw/"):
            self.assertContains(self.tablet.post(path), "Your pass phrase first", status_code=403)
        self.assertContains(self.tablet.get("/people/"), "Your pass phrase first", status_code=403)
        self.tablet.post("/people/sign-in/", {"username": "lead", "password": PHRASE})

    def test_what_others_would_try_first_is_refused_and_whoever_is_stopped_is_out(self):
        for pin in ("777777", "474747", "123123", "345678", "987654", "901234", "12345", "1234567", "12a456",
                    "４８１５１６"):
            self.give(self.client, pin, 422)
        self.assertEqual(self.take_over().status_code, 302)
        lead = Client()
        lead.force_login(self.lead)
        lead.post(f"/people/{self.bench.pk}/change/", {"what": "stop"})
        self.assertEqual(self.take_over().status_code, 422)
        lead.post(f"/people/{self.bench.pk}/change/", {"what": "let-in"})  # with a phrase for once, and no PIN
        self.assertEqual(self.take_over().status_code, 422)
        self.assertEqual(User.objects.get(pk=self.bench.pk).pin, "")

    def test_none_is_none(self):
        self.give(self.client, "")
        for pin in ("", PIN):
            self.assertEqual(self.take_over(pin=pin).status_code, 422)
