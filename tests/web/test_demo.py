"""The demo shop, signing in, and the whole thing behind its real server."""

import re
import urllib.error
import urllib.request

from django.core.management import call_command
from django.test import SimpleTestCase, TestCase, override_settings

from dorvan.demo.management.commands.demo import PEOPLE
from dorvan.people.models import User
from dorvan.tickets.models import Ticket
from tests.served import shop
from tests.web.base import PLAIN_STATIC


@override_settings(STORAGES=PLAIN_STATIC)
class Demo(TestCase):
    @classmethod
    def setUpTestData(cls):
        call_command("demo", verbosity=0, stdout=open("/dev/null", "w"))  # noqa: SIM115

    def test_tickets_stand_in_different_places(self):
        states = {tuple(t.reached().values()) for t in Ticket.objects.all()}
        self.assertGreaterEqual(Ticket.objects.count(), 6)
        self.assertGreaterEqual(len(states), 4)
        self.assertEqual([t.number for t in Ticket.objects.all() if t.order_is_missing], [148])
        self.client.force_login(User.objects.get(username="ines"))
        self.assertContains(self.client.get("/"), "■ No order", count=1)

    def test_a_second_run_changes_nothing(self):
        Ticket.objects.filter(number=142).update(quantity=99)
        call_command("demo", verbosity=0, stdout=open("/dev/null", "w"))  # noqa: SIM115
        self.assertEqual(Ticket.objects.get(number=142).quantity, 99)

    def test_both_people_sign_in_and_see_the_rack(self):
        for name, role, word in PEOPLE:
            answer = self.client.post("/people/sign-in/", {"username": name, "password": word}, follow=True)
            self.assertContains(answer, "Uncapping tray")
            self.assertEqual(User.objects.get(username=name).is_lead, role == "lead")
            self.client.post("/people/sign-out/")
        answer = self.client.post("/people/sign-in/", {"username": "ines", "password": "wrong"})
        self.assertContains(answer, "do not go together")

    def test_every_page_of_every_ticket_opens_in_both_units(self):
        self.client.force_login(User.objects.get(username="otto"))
        for units in ("mm", "in"):
            for ticket in Ticket.objects.all():
                for stage in ("", "stock/", "layout/", "order/", "bend/", "check/"):
                    with self.subTest(ticket.name, stage=stage, units=units):
                        answer = self.client.get(f"/t/{ticket.number}/{stage}")
                        self.assertEqual(answer.status_code, 200)
                        self.assertNotRegex(re.sub(r"<(svg|script).*?</\1>", "", answer.content.decode(), flags=re.S),
                                            r"\bNone\b|\bnan\b")
            self.client.post("/people/units/")


class Served(SimpleTestCase):
    def test_the_real_server_answers_with_its_static_files(self):
        with shop() as address:
            page = urllib.request.urlopen(f"{address}/people/sign-in/", timeout=10)
            text = page.read().decode()
            self.assertIn("default-src 'self'", page.headers["Content-Security-Policy"])
            for path in re.findall(r'(?:href|src)="(/static/[^"]+)"', text):
                with urllib.request.urlopen(address + path, timeout=10) as file:
                    self.assertEqual(file.status, 200)
            with self.assertRaises(urllib.error.HTTPError) as caught:
                urllib.request.urlopen(f"{address}/nothing-here/", timeout=10)
            self.assertIn(caught.exception.code, (404,))
