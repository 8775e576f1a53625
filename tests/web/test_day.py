"""The day's plan from the shop's own tickets."""

import json
from datetime import timedelta

from django.utils import timezone

from bendcore.day.times import Rates
from bendcore.day.work import faults
from dorvan.brakes.models import Brake
from dorvan.cutting.models import CuttingPlan, SheetDone
from dorvan.day.forms import read_fix
from dorvan.day.models import Away, Hand, Plan, ShopHours
from dorvan.day.moving import Put
from dorvan.day.rates import rates
from dorvan.floor.models import Run, StepRecord
from dorvan.people.models import User
from dorvan.tickets.models import BlankCut, Edit, Ticket, number_in
from tests.core.samples import ROOT, part_file
from tests.web.base import ShopCase


class Day(ShopCase):
    def setUp(self):
        super().setUp()
        today = timezone.localdate()
        for n, quantity in ((21, 12), (22, 40)):
            Ticket.objects.create(number=n, part=part_file((30, 50 + n, 30)), brake=self.brake, punch="Straight 85",
                                  die="V 8", quantity=quantity, made_by=self.bench, due=today + timedelta(days=1))
        self.long = Ticket.objects.create(number=23, part=part_file(width=1400), brake=self.brake, quantity=5,
                                          made_by=self.bench)

    def plan(self, *numbers, status=302, **more):
        form = {f"t{n}": "on" for n in numbers} | more
        answer = self.client.post("/day/new/", form)
        self.assertEqual(answer.status_code, status, answer.content[:500])
        if status != 302:
            return answer
        self.client.get("/day/")
        return Plan.objects.last()

    def test_tickets_are_planned_with_the_times_of_their_orders_and_share_set_ups(self):
        plan = self.plan(7, 21, 22, 23)
        work, found = plan.core, plan.found
        self.assertEqual(faults(work, found.placed), [])
        tags = ("T-0007", "T-0021", "T-0022", "T-0023")
        self.assertEqual({task.id for task in work.tasks}, {f"{tag}{what}" for tag in tags for what in ("", " cut")})
        by_id = {task.id: task for task in work.tasks}
        self.assertEqual(by_id["T-0023"].hands, 2)
        self.assertEqual(by_id["T-0007"].key, by_id["T-0021"].key)
        self.assertGreater(by_id["T-0022"].minutes, 2 * by_id["T-0021"].minutes)
        self.assertLess(sum(bool(one.setting) for one in found.placed), 4)
        page = self.client.get("/day/")
        self.assertContains(page, "tools stand")
        self.assertContains(page, "two people")
        self.assertContains(page, 'data-task="T-0022"')

    def test_what_is_held_is_told_or_begins_when_it_may(self):
        self.client.post("/t/21/kit/bought/", {"name": "Pins", "kind": "pieces", "amount": "4", "awaited": "on"})
        soon = timezone.localdate() + timedelta(days=4)
        self.client.post("/t/22/kit/bought/", {"name": "Pins", "kind": "pieces", "amount": "4", "expected": str(soon)})
        Ticket.objects.filter(number=7).update(job="batch")
        plan = self.plan(7, 21, 22)
        self.assertEqual([n for n, _ in plan.told], [21])
        self.assertContains(self.client.get("/day/"), "bought in have arrived: Pins has not arrived")
        placed = {one.task.id: one for one in plan.found.placed}
        self.assertEqual(placed["T-0022"].task.ready, plan.calendar.start_of(soon))
        self.assertGreaterEqual(placed["T-0022"].start, placed["T-0022"].task.ready)
        self.assertGreaterEqual(placed["T-0007"].start, placed["T-0007 proof"].end)
        if placed["T-0022"].late:
            self.assertContains(self.client.get("/day/"), "held until then")

    def test_what_is_ticked_counts_and_the_rest_is_planned(self):
        self.release()
        revision = Ticket.objects.get(number=7).revision
        for piece in (1, 2):
            run = Run.objects.create(revision=revision, piece=piece, by=self.bench)
            for step in range(1, len(revision.plan.steps) + 1):
                StepRecord.objects.create(run=run, step=step, angle=90, by=self.bench)
        whole = next(t for t in self.plan(21).core.tasks)
        left = next(t for t in self.plan(7).core.tasks)
        self.assertLess(left.minutes, whole.minutes)
        self.assertContains(self.client.get("/day/"), "67")
        Ticket.objects.filter(number=7).update(quantity=2)
        self.assertContains(self.plan(7, status=422), "is bent already", status_code=422)

    def test_a_task_is_put_somewhere_and_let_go_again(self):
        plan = self.plan(7, 21, 22)
        answer = self.client.post(f"/day/{plan.pk}/fix/", {"task": "T-0022", "minute": "200"})
        self.assertEqual(answer.status_code, 302)
        self.assertContains(self.client.get("/day/"), "put there")
        fixed = Plan.objects.last()
        self.assertEqual(next(one.start for one in fixed.found.placed if one.task.id == "T-0022"), 200)
        self.assertEqual(faults(fixed.core, fixed.found.placed), [])
        told = self.client.post(f"/day/{plan.pk}/fix/", {"task": "T-0022", "minute": "9"})
        self.assertContains(told, "bench put T-0022 elsewhere", status_code=409)
        at = fixed.calendar.moment(90)
        self.assertContains(self.client.get("/day/"), f'min="{fixed.calendar.begin:%Y-%m-%dT%H:%M}"')
        self.client.post(f"/day/{fixed.pk}/fix/", {"task": "T-0007", "at": f"{at:%Y-%m-%dT%H:%M}", "minute": ""})
        self.client.get("/day/")
        self.assertEqual({one.task.id: one.start for one in Plan.objects.last().found.placed}["T-0007"], 90)
        self.client.post(f"/day/{Plan.objects.last().pk}/fix/", {"task": "T-0007", "free": "1"})
        fixed = Plan.objects.last()
        begin = fixed.calendar.begin.replace(second=0, microsecond=0)
        put = read_fix({"task": "T-0007", "at": f"{begin:%Y-%m-%dT%H:%M}"}, fixed.core, fixed.calendar)
        self.assertEqual(put, Put("T-0007", minute=0))
        early = fixed.calendar.begin - timedelta(minutes=5)
        for form in ({"task": "T-0099", "minute": "9"}, {"task": "T-0007", "minute": "soon"},
                     {"task": "T-0007", "at": "half past nine"}, {"task": "T-0007", "at": early.isoformat()},
                     {"task": "T-0007", "at": "9999-12-31T23:59"}, {"task": "T-0007", "at": "0001-01-01T00:00+23:59"}):
            self.assertEqual(self.client.post(f"/day/{fixed.pk}/fix/", form).status_code, 422)
        self.client.post(f"/day/{fixed.pk}/fix/", {"task": "T-0022", "free": "1"})
        self.client.get("/day/")
        self.assertEqual(Plan.objects.last().found.cost, plan.found.cost)

    def test_who_may_who_helps_and_who_is_away(self):
        self.client.force_login(self.lead)
        self.brake.hands.set([self.bench])
        self.client.post("/day/crew/hand/", {"user": self.lead.pk, "planned": "on"})
        self.assertFalse(Hand.objects.get(user=self.lead).helps)
        self.assertContains(self.plan(23, status=422), "nobody is there to help", status_code=422)
        begin = timezone.localtime() - timedelta(hours=1)
        self.client.post("/day/crew/away/", {"user": self.bench.pk, "begin": begin.isoformat(timespec="minutes"),
                                             "end": (begin + timedelta(days=3)).isoformat(timespec="minutes")})
        plan = self.plan(7)
        bent = next(one for one in plan.found.placed if one.task.id == "T-0007")
        self.assertGreaterEqual(bent.start, plan.calendar.minute(Away.objects.get().end))
        self.client.post("/day/crew/away/", {"remove": Away.objects.get().pk})
        cut, bent = self.plan(7).found.placed
        self.assertEqual((cut.start, bent.start), (0, cut.end))
        self.assertEqual(self.client.post("/day/crew/away/", {"user": self.bench.pk, "begin": "soon"}).status_code, 422)
        User.objects.filter(pk=self.bench.pk).update(is_active=False)
        self.assertContains(self.plan(7, status=422), "nobody who may use", status_code=422)

    def test_the_shops_hours_are_a_leads_and_refused_where_they_cannot_be(self):
        self.client.force_login(self.lead)
        days = {f"day{n}": "on" for n in range(5)}
        for text in ("", "7-12", "12:00-9:00", "9:00-12:00, 11:00-15:00", "25:00-26:00", "a" * 500):
            answer = self.client.post("/day/crew/hours/", {"stretches": text} | days)
            self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.client.post("/day/crew/hours/", {"stretches": "6:00-14:00"}).status_code, 422)
        self.client.post("/day/crew/hours/", {"stretches": "6:00-10:00, 10:30-14:00"} | days)
        self.assertEqual(len(ShopHours.now().stretches), 2)

    def test_minutes_are_typed_for_what_no_order_tells(self):
        Ticket.objects.create(number=30, made_by=self.bench, part=part_file() | {"shape": {
            "kind": "tube", "dims": "outside", "diameter": 90, "length": 80,
            "seam": {"kind": "butt", "width": 0, "at": 180}}, "allowance": {"method": "k_factor", "k": 0.5}})
        self.assertContains(self.plan(30, status=422), "say how many minutes", status_code=422)
        self.assertEqual(self.plan(30, m30="45").core.tasks[0].minutes, 45)
        for form in ({}, {"t30": "on", "m30": "-3"}, {"t30": "on", "m30": "1e9"}):
            self.assertEqual(self.client.post("/day/new/", form).status_code, 422)
        self.assertTrue(json.dumps(Plan.objects.last().work))

    def put(self, **form):
        """A task put somewhere in the plan in force, which is worked out then."""
        answer = self.client.post(f"/day/{Plan.objects.last().pk}/fix/", form)
        self.client.get("/day/")
        return answer

    def test_a_task_is_given_to_somebody_and_let_go_again(self):
        plan = self.plan(7, 21, 22)
        for name in ("lead", "bench"):
            self.assertEqual(self.put(task="T-0022", by=name).status_code, 302)
            plan = Plan.objects.last()
            placed = {one.task.id: one for one in plan.found.placed}
            self.assertEqual((placed["T-0022"].who, placed["T-0022"].task.fixed), ((name,), None))
            self.assertEqual(faults(plan.core, plan.found.placed), [])
        self.assertContains(self.client.get("/day/"), "given to somebody")
        self.put(task="T-0022", by="lead", minute="120")
        task = next(task for task in Plan.objects.last().core.tasks if task.id == "T-0022")
        self.assertEqual((task.by, task.fixed), ("lead", 120))
        self.put(task="T-0022", by="*")
        self.assertEqual([t.by for t in Plan.objects.last().core.tasks if t.id == "T-0022"], [""])
        self.put(task="T-0022", by="bench")
        self.put(task="T-0022", free="1")
        self.assertEqual({(t.by, t.fixed) for t in Plan.objects.last().core.tasks}, {("", None)})
        self.assertEqual(self.put(task="T-0022", by="nobody").status_code, 422)
        self.brake.hands.set([self.bench])
        self.plan(7)
        self.assertContains(self.put(task="T-0007", by="lead"), "may not use", status_code=422)

    def test_a_ticket_goes_to_another_brake_where_it_has_an_order(self):
        leaf = Brake.objects.create(name="2 m leaf brake", file=(ROOT / "demo" / "leaf-2000.json").read_text("utf-8"))
        self.plan(7, 21)
        before = {task.id: task for task in Plan.objects.last().core.tasks}
        self.assertEqual(self.put(task="T-0021", brake="2 m leaf brake").status_code, 302)
        plan = Plan.objects.last()
        after = {task.id: task for task in plan.core.tasks}
        self.assertEqual(faults(plan.core, plan.found.placed), [])
        self.assertEqual((after["T-0021"].brake, after["T-0007"]), ("2 m leaf brake", before["T-0007"]))
        self.assertNotIn("T-0021 cut", after)  # who bends by hand cuts there
        ticket = Ticket.objects.get(number=21)
        self.assertEqual((ticket.brake, ticket.punch, ticket.revision), (leaf, "", None))
        self.assertEqual(Edit.objects.filter(ticket=ticket).latest("pk").note, "brake, put to 2 m leaf brake at Day")
        for form, words in (({"task": "T-0007 cut", "brake": "2 m leaf brake"}, "goes with its ticket"),
                            ({"task": "T-0007", "brake": "Moon"}, "not one of the shop")):
            self.assertContains(self.put(**form), words, status_code=422)
        Ticket.objects.filter(number=7).update(part=part_file((30, 50, 30, 50, 30), [(90, "up")] * 4))
        self.assertContains(self.put(task="T-0007", brake="2 m leaf brake"), "no order there", status_code=422)
        self.client.post("/t/22/release/")
        self.plan(22)
        self.assertContains(self.put(task="T-0022", brake="2 m leaf brake"), "it is released for", status_code=422)

    def test_what_could_be_planned_stands_beside_what_keeps_the_rest(self):
        self.client.post("/t/21/kit/bought/", {"name": "Pins", "kind": "pieces", "amount": "4", "awaited": "on"})
        soon = timezone.localdate() + timedelta(days=2)
        self.client.post("/t/22/kit/bought/", {"name": "Pins", "kind": "pieces", "amount": "4", "expected": str(soon)})
        for number in (7, 21, 22, 23):
            self.client.get(f"/t/{number}/card/")
        page = self.client.get("/day/")
        self.assertEqual([row.ticket.number for row in page.context["ready"]], [22, 7, 23])
        self.assertEqual([(row.ticket.number, len(row.keeps)) for row in page.context["kept_back"]], [(21, 1)])
        self.client.post("/day/new/", {"all": "ready"})
        self.assertEqual({number_in(task.id) for task in Plan.objects.last().core.tasks}, {7, 22, 23})
        self.client.post("/day/new/", {"all": "due"})
        self.assertEqual(({number_in(task.id) for task in Plan.objects.last().core.tasks}, [
            n for n, _ in Plan.objects.last().told]), ({22}, [21]))
        self.assertContains(self.client.post("/day/new/", {"all": "some"}), "must be one of", status_code=422)
        Ticket.objects.update(archived=True)
        self.assertContains(self.client.post("/day/new/", {"all": "ready"}), "none that can be planned",
                            status_code=422)

    def test_what_really_happened_is_drawn_beside_the_plan(self):
        self.release()
        plan, revision = self.plan(7), Ticket.objects.get(number=7).revision
        Plan.objects.filter(pk=plan.pk).update(begin=timezone.now() - timedelta(days=4))
        run = Run.objects.create(revision=revision, piece=1, by=self.bench)
        for step in range(1, len(revision.plan.steps) + 1):
            StepRecord.objects.create(run=run, step=step, angle=90, by=self.bench)
        page = self.client.get("/day/")
        line = next(line for line in page.context["lines"] if line.one.task.id == "T-0007")
        self.assertAlmostEqual(line.real.share, 1 / 3)
        self.assertTrue(line.real.running)
        self.assertContains(page, "Running now:")
        self.assertContains(page, 'class="really"')
        StepRecord.objects.update(at=timezone.now() - timedelta(hours=2))
        self.assertNotContains(self.client.get("/day/"), "Running now:")
        BlankCut.objects.create(ticket=self.ticket, plan="C-0001", sheet=1, lot="S", count=2, blank="", by=self.bench)
        lines = {line.one.task.id: line for line in self.client.get("/day/").context["lines"]}
        self.assertAlmostEqual(lines["T-0007 cut"].real.share, 2 / 3)

    def test_what_work_takes_is_learnt_from_what_was_ticked_or_said_by_a_lead(self):
        self.release()
        self.assertEqual(rates(), Rates())
        revision, now = Ticket.objects.get(number=7).revision, timezone.now()
        moments = {}
        for piece in range(1, 41):  # every step takes half as long again as it should, but for a break and a late tick
            run = Run.objects.create(revision=revision, piece=piece, by=self.bench)
            for n, step in enumerate(revision.plan.steps, 1):
                now += timedelta(seconds=step.cost * {20: 9, 30: 0.1}.get(piece, 1.5))
                moments[StepRecord.objects.create(run=run, step=n, by=self.bench).pk] = now
        for pk, at in moments.items():
            StepRecord.objects.filter(pk=pk).update(at=at)
        count = 38 * len(revision.plan.steps) - 1
        self.assertAlmostEqual(rates().pace[self.brake.name], (8 + 1.5 * count) / (8 + count))
        plan = CuttingPlan.objects.create(number=1, material="steel", thickness=1, made_by=self.bench)
        for n in range(9):
            done = SheetDone.objects.create(plan=plan, sheet=n, what=SheetDone.What.CUT, by=self.bench)
            SheetDone.objects.filter(pk=done.pk).update(at=now + timedelta(seconds=300 * n))
            BlankCut.objects.create(ticket=self.ticket, plan=str(plan), sheet=n + 1, lot="S", count=10, blank="",
                                    by=self.bench)
        self.assertAlmostEqual(rates().cut, (8 * 60 + 8 * 30) / 16)
        self.assertContains(self.client.get("/day/crew/"), "from 8 sheets")
        self.assertEqual(self.client.post("/day/crew/rates/", {"cut": "50"}).status_code, 403)
        self.client.force_login(self.lead)
        self.assertContains(self.client.post("/day/crew/rates/", {"cut": "soon"}), "whole number", status_code=422)
        self.client.post("/day/crew/rates/", {"cut": "50", "walk": "0"})
        self.assertEqual((rates().cut, rates().mark, rates().walk), (50, 30, 0))
        self.assertContains(self.client.get("/day/crew/"), 'value="50"')
