"""Several people at one document: every answer that it was kept is there, every clash is told."""

import json
import random
import threading
import time
from contextlib import closing

from django.db import connection
from django.http import HttpResponse
from django.test import Client, SimpleTestCase, TransactionTestCase, override_settings

from dorvan.brakes.models import Brake
from dorvan.cutting.models import CuttingPlan
from dorvan.day.models import Plan
from dorvan.people.models import User
from dorvan.site.models import Visit
from dorvan.stockroom.models import Lot, put_in
from dorvan.tickets.models import Ticket
from dorvan.versions.doing import Moved, retried
from dorvan.versions.models import Change
from tests.core.samples import part_file, press_file
from tests.web.base import PLAIN_STATIC, ShopCase

PEOPLE, EACH = 4, 20


class Clashes(ShopCase):
    """One after the other, each from a page of before."""

    def setUp(self):
        super().setUp()
        self.client.force_login(self.lead)

    def test_a_section_of_a_brake_that_another_changed_is_told_and_another_section_is_done(self):
        where = f"/brakes/{self.brake.pk}/change/"
        page = self.client.get(f"/brakes/{self.brake.pk}/").content.decode()
        self.assertIn('name="seen" value="0"', page)
        self.assertEqual(self.client.post(where, {"what": "costs", "stroke": "9", "seen": "0"}).status_code, 302)
        told = self.client.post(where, {"what": "costs", "turn": "9", "seen": "0"})
        self.assertContains(told, "lead changed costs at", status_code=409)
        self.assertContains(told, 'name="seen" value="1"', status_code=409)
        self.assertEqual(self.client.post(where, {"what": "accuracy", "angle": "0.5", "seen": "0"}).status_code, 302)
        data = json.loads(Brake.objects.get(pk=self.brake.pk).file)
        self.assertEqual((data["costs"]["stroke"], data["accuracy"]["angle"]), (9, 0.5))

    def test_a_rule_of_a_site_sheet_that_another_changed_is_told_and_readings_are_never(self):
        self.client.post("/site/new/", {"name": "Niche", "on": "2026-11-30"})
        visit = Visit.objects.get()

        def act(what, status=302, **form):
            answer = self.client.post(f"/site/{visit.number}/act/", form | {"what": what})
            self.assertEqual(answer.status_code, status, answer.content[-600:])
            return answer

        act("thing", name="niche", kind="opening")
        act("rule", name="door", text="niche less 4")
        thing, rule = visit.things.get(), visit.rules.get()
        seen = Visit.objects.get().version
        act("rule", rule=rule.pk, name="door", text="niche less 5", seen=seen)
        told = act("rule", 409, rule=rule.pk, name="door", text="niche less 6", seen=seen)
        self.assertContains(told, "lead set door to “niche less 5”", status_code=409)
        for reading in ("310", "310"):
            act("reading", thing=thing.pk, reading=reading, seen=seen)
        self.assertEqual((visit.rules.get().text, thing.readings.count()), ("niche less 5", 2))
        for n in range(2):
            act("stroke", kind="edge", x0="1", y0=str(n), x1="9", y1=str(n), seen=seen)
        act("rub-out", n="0", seen=seen)
        act("rub-out", 409, n="0", seen=seen)
        self.assertEqual(len(Visit.objects.get().sketch), 1)


class Slow(SimpleTestCase):
    def test_one_that_takes_longer_than_the_others_is_not_beaten_for_ever(self):
        kept, lock, over = [0], threading.Lock(), threading.Event()

        @retried
        def view(request, takes):
            before = kept[0]
            time.sleep(takes)
            with lock:
                if kept[0] != before:
                    raise Moved
                kept[0] += 1
            return HttpResponse()

        def quick():
            while not over.is_set():
                view(None, 0.001)

        threads = [threading.Thread(target=quick) for _ in range(3)]
        for thread in threads:
            thread.start()
        slow = [view(None, 0.05).status_code for _ in range(3)]
        over.set()
        for thread in threads:
            thread.join()
        self.assertEqual(slow, [200, 200, 200])


@override_settings(STORAGES=PLAIN_STATIC)
class Races(TransactionTestCase):
    """Four people at once; each waits for his answer and goes on from the page it shows, or from one of before."""

    def setUp(self):
        self.people = [User.objects.create_user(f"p{n}", password="tin-snips-9", role="lead") for n in range(PEOPLE)]
        self.brake = Brake.objects.create(name="60 t press brake", file=json.dumps(press_file()))

    def together(self, post):
        """What ``post(client, rng, n)`` gave, of every person in turn, all at once."""
        given, lock = [], threading.Lock()

        def work(n):
            client, rng = Client(raise_request_exception=False), random.Random(n)
            client.force_login(self.people[n])
            with closing(connection):
                for turn in range(EACH):
                    one = post(client, rng, turn * PEOPLE + n)
                    with lock:
                        given.append(one)

        threads = [threading.Thread(target=work, args=(n,)) for n in range(PEOPLE)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(len(given), PEOPLE * EACH)
        self.assertLessEqual({status for status, *_ in given}, {302, 409, 422}, given)
        return given

    def test_pieces_of_one_plan_moved_laid_anew_and_cut(self):
        for number in (20, 21):
            Ticket.objects.create(number=number, part=part_file([60, 120, 60], [(90, "up")] * 2, width=300 + number),
                                  quantity=12, job="trial", made_by=self.people[0])
        stock = Ticket.objects.get(number=20).figures.part.stock
        put_in(Lot(code="S-1", material=stock.material.name, thickness=stock.thickness, length=3000, width=2000,
                   count=6, by=self.people[0]), "came in")
        client = Client()
        client.force_login(self.people[0])
        client.post("/cutting/new/", {"t20": "12", "t21": "12", "way": "saw"})
        plan = CuttingPlan.objects.get()
        client.get(f"/cutting/{plan.number}/")
        names = [row[0] for row in CuttingPlan.objects.get().laid["placed"]]

        def post(client, rng, n):
            seen, name = CuttingPlan.objects.get().version - rng.choice([0, 0, 3]), rng.choice(names)
            form = {"piece": name, "sheet": "1", "x": str(10 + n), "y": "20", "turned": "0", "seen": max(0, seen)}
            answer = client.post(f"/cutting/{plan.number}/move/", form)
            return answer.status_code, name, 10 + n, answer.content

        given = self.together(post)
        now = CuttingPlan.objects.get()
        kept = [one for one in given if one[0] == 302]
        self.assertEqual(now.version, len(kept))
        self.assertEqual(Change.objects.filter(document=now.document).count(), len(kept))
        places = {row[0]: row[2] for row in now.laid["placed"]}
        for name in {one[1] for one in kept}:
            self.assertIn(places[name], {float(one[2]) for one in kept if one[1] == name})
        for status, name, _, content in given:
            if status == 409:
                self.assertIn(f"moved {name} on sheet 1".encode(), content)
        # a sheet that is cut stays as it was, whoever lays the plan out anew meanwhile
        barrier, answers = threading.Barrier(2), []

        def one(n, where, form):
            own = Client()
            own.force_login(self.people[n])
            with closing(connection):
                barrier.wait()
                answers.append((where, own.post(f"/cutting/{plan.number}/{where}/", form).status_code))

        threads = [threading.Thread(target=one, args=(0, "cut", {"what": "cut", "sheet": "1"})),
                   threading.Thread(target=one, args=(1, "change", {"way": "shear"}))]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        now = CuttingPlan.objects.get()
        self.assertFalse(now.cut_sheets and now.laid is None, answers)

    def test_tasks_of_one_day_are_put_elsewhere(self):
        for n in range(8):
            Ticket.objects.create(number=30 + n, part=part_file((30, 60, 30)), brake=self.brake, punch="Straight 85",
                                  die="V 8", quantity=5, job="trial", made_by=self.people[0])
        client = Client()
        client.force_login(self.people[0])
        client.post("/day/new/", {f"t{30 + n}": "on" for n in range(8)})
        begun = Plan.objects.get()

        def post(client, rng, n):
            task, shown = f"T-{30 + n % 8:04d}", rng.choice([begun, Plan.objects.last()])
            answer = client.post(f"/day/{shown.pk}/fix/", {"task": task, "minute": str(n)})
            return answer.status_code, task, n, answer.content

        given = self.together(post)
        kept = [one for one in given if one[0] == 302]
        self.assertEqual(Plan.objects.count(), 1 + len(kept), given[:2])
        fixed = {task.id: task.fixed for task in Plan.objects.last().core.tasks if task.fixed is not None}
        self.assertEqual(set(fixed), {task for _, task, *_ in kept})
        self.assertTrue(all(b"elsewhere at" in content for status, *_, content in given if status == 409))

    def test_a_sheet_a_brake_and_a_ticket(self):
        client = Client()
        client.force_login(self.people[0])
        client.post("/site/new/", {"name": "Niche", "on": "2026-11-30"})
        Ticket.objects.create(number=7, part=part_file([30] * 9, [(90, "up")] * 8), made_by=self.people[0])
        keys = ("stroke", "turn", "flip")

        def post(client, rng, n):
            way = n // PEOPLE % 3
            if way == 0:
                form = {"what": "stroke", "kind": "edge", "x0": "1", "y0": "2", "x1": str(n % 99), "y1": "4"}
                return client.post("/site/1/act/", form).status_code, "site", n
            if way == 1:
                seen = Brake.objects.get().version
                form = {"what": "costs", keys[n % 3]: str(n), "seen": str(seen)}
                return client.post(f"/brakes/{self.brake.pk}/change/", form).status_code, "brake", n
            field = f"shape.legs[{n % 9}]"
            answer = client.post("/t/7/change/", {"field": field, "value": str(20 + n)},
                                 headers={"HX-Request": "true"})
            return {200: 302}.get(answer.status_code, answer.status_code), "ticket", n

        given = self.together(post)
        kept = {what: [n for status, which, n in given if status == 302 and which == what]
                for what in ("site", "brake", "ticket")}
        self.assertEqual(len(Visit.objects.get().sketch), len(kept["site"]))
        self.assertEqual(Brake.objects.get().version, len(kept["brake"]))
        costs = json.loads(Brake.objects.get().file)["costs"]
        for n, key in enumerate(keys):
            asked = [m for m in kept["brake"] if m % 3 == n]
            self.assertTrue(not asked or costs[key] in asked, (key, costs, asked))
        ticket = Ticket.objects.get(number=7)
        self.assertEqual(ticket.edits.count() - 1, len(kept["ticket"]))
