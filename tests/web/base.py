"""A small shop for the tests of the web application."""

import json

from django.test import TestCase, override_settings

from dorvan.brakes.models import Brake
from dorvan.floor.models import ShiftCheck
from dorvan.ledger import fits
from dorvan.people.models import User
from dorvan.shop.models import forget
from dorvan.tickets.models import Ticket
from tests.core.samples import part_file, press_file

PLAIN_STATIC = {"default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
                "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}}


@override_settings(STORAGES=PLAIN_STATIC)
class ShopCase(TestCase):
    """One brake, one ticket, a bench hand and a lead; signed in as the bench hand."""

    @classmethod
    def setUpTestData(cls):
        cls.bench = User.objects.create_user("bench", password="tin-snips-9")
        cls.lead = User.objects.create_user("lead", password="tin-snips-9", role="lead")
        cls.brake = Brake.objects.create(name="60 t press brake", file=json.dumps(press_file()))
        cls.ticket = Ticket.objects.create(number=7, part=part_file(), brake=cls.brake, punch="Straight 85",
                                           die="V 8", quantity=3, made_by=cls.bench)

    def setUp(self):
        fits._known.cache_clear()  # keys of samples come again after every test
        forget()
        self.client.force_login(self.bench)

    def change(self, status=200, **form):
        answer = self.client.post("/t/7/change/", form, headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, status, answer.content[:400])
        self.ticket.refresh_from_db()
        return answer.content.decode()

    def look_over(self):
        """The brake at the start of the shift."""
        ShiftCheck.objects.create(brake=self.brake, looked_to=["all"], by=self.bench)

    def release(self):
        self.assertEqual(self.client.post("/t/7/release/").status_code, 302)
        self.look_over()
        return self.ticket.revision
