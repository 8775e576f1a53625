"""The demo shop, signing in, and the whole thing behind its real server."""

import random
import re
import urllib.error
import urllib.request

from django.core.management import call_command
from django.db import connection
from django.test import SimpleTestCase, TestCase, override_settings
from django.test.utils import CaptureQueriesContext

from dorvan.demo.management.commands.demo import PEOPLE
from dorvan.longwork import desks
from dorvan.people.models import User
from dorvan.shop.models import forget
from dorvan.tickets.models import Ticket
from tests.aged import LIKE, a_day_and_a_plan, age, pages
from tests.often import IS_THOROUGH
from tests.served import shop
from tests.web.base import PLAIN_STATIC

_TABLE = """
3 /people/reading/ /practice/order/
4 /gate/
5 /brakes/ /people/log/ /stockroom/materials/mild-steel/ /suppliers/ /t/136/space/
6 /brakes/2/ /suppliers/2/ /t/136/pack/
7 /?state=archived /practice/ /stockroom/ /stockroom/?of=L-026 /stockroom/?spent=on
9 /site/ /t/136/layout/ /t/136/order/ /t/140/ /t/160/ /t/165/
10 /proofs/1/ /t/136/ /t/139/ /t/142/log/ /t/161/
11 /t/136/outside/ /t/150/ /t/152/ /t/155/ /t/172/
12 /t/153/ /t/154/ /t/158/ /t/161/kit/
13 /day/crew/ /t/136/gate/ /t/136/setup/ /t/142/
14 /t/136/check/
15 /site/1/ /t/136/stock/ /t/140/proof/ /t/160/proof/ /t/165/proof/
16 /cutting/1/ /t/136/proof/ /t/139/proof/ /t/161/proof/
17 /?q=rail /t/136/bend/ /t/150/proof/ /t/155/proof/ /t/172/proof/
18 /t/153/proof/ /t/154/proof/ /t/158/proof/
19 / /?sort=name /t/161/joins/
24 /cutting/ /day/ /ledger/4/ /t/142/check/ /t/152/proof/
27 /t/142/bend/ /t/142/proof/
38 /ledger/
"""
QUERIES = {page: int(row.split()[0]) for row in re.split(r"\n(?=\d)", _TABLE.strip()) for page in row.split()[1:]}
"""What each page asks the database in the demo shop, once what it works out is known."""


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
        self.assertContains(self.client.get("/?sort=new"), "■ No order", count=1)

    def test_a_page_asks_no_more_of_a_shop_that_grows_old(self):
        a_day_and_a_plan()
        self.client.force_login(User.objects.get(username="otto"))
        where = pages()
        young = {page: self.queries(page) for page in where}
        self.assertEqual({page: n for page, n in young.items() if not QUERIES[page] - 2 <= n <= QUERIES[page]}, {})
        age(random.Random(1), 0.05)
        old = {page: self.queries(page) for page in where}
        self.assertEqual({page: n for page, n in old.items() if n > 1.3 * young[LIKE.get(page, page)]}, {})

    def queries(self, page: str) -> int:
        """How often a page that was seen before asks the database of a server that was just started."""
        self.client.get(page)
        desks.orders.jobs.clear()
        forget()
        with CaptureQueriesContext(connection) as asked:
            self.assertEqual(self.client.get(page).status_code, 200, page)
        return len(asked)

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
        stages = ("", "stock/", "layout/", "order/", "bend/", "check/")
        for turn, units in enumerate(("mm", "in")):
            for n, ticket in enumerate(Ticket.objects.all()):
                for stage in stages if IS_THOROUGH else stages[(n + turn) % 2::2]:  # every page once, all kinds in both
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
