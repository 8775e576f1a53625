"""A shop of one's own: empty, its first person, its first brake."""

from django.test import TestCase, override_settings

from dorvan.brakes.models import Brake
from dorvan.people.models import User
from dorvan.shop.models import forget
from tests.web.base import PLAIN_STATIC

LONG = "seven-long-brass-rules"


@override_settings(STORAGES=PLAIN_STATIC)
class First(TestCase):
    def setUp(self):
        self.addCleanup(forget)

    def begin(self, **form):
        typed = {"name": "ada", "phrase": LONG, "again": LONG, "reading": "16"} | form
        return self.client.post("/people/first/", typed)

    def test_the_door_leads_to_the_first_person_who_is_a_lead_and_signed_in(self):
        self.assertRedirects(self.client.get("/people/sign-in/"), "/people/first/")
        self.assertRedirects(self.begin(), "/")
        person = User.objects.get()
        self.assertEqual((person.username, person.is_lead, person.units, person.tape), ("ada", True, "in", 16))
        self.assertTrue(person.check_password(LONG))
        self.assertContains(self.client.get("/"), "There is no brake yet")

    def test_what_will_not_do_is_told_at_its_field_and_nobody_is_made(self):
        for form, told in (({"phrase": "short", "again": "short"}, "Pass phrase</b> This password is too short"),
                           ({"phrase": "password1234", "again": "password1234"}, "too common"),
                           ({"name": ""}, "Name</b>"), ({"name": "a b/c"}, "Name</b>"),
                           ({"again": "another"}, "type the pass phrase twice"),
                           ({"reading": "furlongs"}, "must be one of")):
            answer = self.begin(**form)
            self.assertContains(answer, told, status_code=422)
            self.assertNotContains(answer, LONG, status_code=422)
        self.assertContains(self.begin(name="ines", again="x"), 'value="ines"', status_code=422)
        self.assertEqual(User.objects.count(), 0)

    def test_it_is_shut_as_soon_as_there_is_somebody(self):
        User.objects.create_user("ines", password=LONG)
        self.assertRedirects(self.begin(), "/people/sign-in/")
        self.assertEqual(list(User.objects.values_list("username", flat=True)), ["ines"])

    def test_the_made_up_brake_is_put_up_once(self):
        self.begin()
        self.assertContains(self.client.get("/brakes/"), "Put up the made-up brake")
        for _ in range(2):
            self.client.post("/brakes/sample/")
        self.assertEqual(Brake.objects.count(), 1)
        self.assertNotContains(self.client.get("/brakes/"), "Put up the made-up brake")
