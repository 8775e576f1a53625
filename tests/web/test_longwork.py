"""Long work in processes of its own: whose turn it is, bounded, kept, and no danger to the shop."""

import os
import signal
import subprocess
import sys
import threading
import time
from multiprocessing import current_process
from unittest import mock

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase, TransactionTestCase
from django.urls import get_resolver

from bendcore.errors import Refusal
from bendcore.formats.export import export
from bendcore.part import read_part
from dorvan.longwork import asking, desks
from dorvan.longwork.desk import Desk, Working
from dorvan.longwork.line import Job, Line, TooMuch
from dorvan.longwork.models import Asked
from dorvan.longwork.workers import Bounds, TooLong, ready
from dorvan.people.models import User
from dorvan.tickets.models import Reading, Ticket
from tests.core.plates import plate_file
from tests.web.base import ShopCase


class Lines(SimpleTestCase):
    """Whose turn it is, without a process."""

    def order(self, *asked):
        """(who, about) of jobs put in this order, as they are taken."""
        line = Line(each=50, most=200)
        for who, about in asked:
            line.put(Job("", abs, (), who, about, time.monotonic()))
        return [(job.who, job.about) for job in (line.take() for _ in asked)]

    def test_ones_tenth_goes_behind_anothers_first_and_short_before_long(self):
        taken = self.order(*[(1, 20)] * 10, (2, 20), (1, 2))
        self.assertEqual(taken[0], (1, 2))
        self.assertIn((2, 20), taken[1:4])
        self.assertEqual(taken[-1], (1, 20))

    def test_who_is_being_served_waits_behind_who_is_not(self):
        line = Line(each=50, most=200)
        line.put(Job("", abs, (), 1, 30))
        line.take()
        for who, about in ((1, 5), (2, 20)):
            line.put(Job("", abs, (), who, about))
        self.assertEqual(line.take().who, 2)

    def test_nobody_waits_for_ever(self):
        line = Line(each=50, most=200)
        old = Job("", abs, (), 1, 60, time.monotonic() - 200)
        line.put(old)
        line.put(Job("", abs, (), 2, 1, time.monotonic()))
        self.assertIs(line.take(), old)

    def test_what_is_beyond_the_bounds_is_refused_with_a_word(self):
        line = Line(each=2, most=3)
        for who in (1, 1, 2):
            line.put(Job("", abs, (), who))
        for who, words in ((1, "2 of yours are in line"), (3, "the shop has too much in line")):
            with self.assertRaises(TooMuch) as told:
                line.put(Job("", abs, (), who))
            self.assertIn(f"has to wait: {words}", told.exception.message)
        line.drop(line.waiting[0])
        self.assertEqual(line.ahead(line.waiting[1]), 1)
        line.put(Job("", abs, (), 1))


class LongWork(TransactionTestCase):
    def desk(self, **bounds):
        # one of the processes of the tests may have none of its own, unless it forgets that it is one
        self.enterContext(mock.patch.dict(current_process()._config, daemon=False))
        desk = Desk("test", 1, 0.05, Bounds(**{"seconds": 20, "memory": 400} | bounds))
        self.addCleanup(desk.close)
        return desk

    def waited(self, desk, call, *args, seconds=30):
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            try:
                return desk.ask(call, *args)
            except Working:
                time.sleep(0.05)
        raise AssertionError("never done")

    def test_what_takes_longer_is_asked_for_again_and_kept_until_it_is_done(self):
        desk = self.desk()
        with self.assertRaises(Working):
            desk.ask(time.sleep, 0.6)
        self.assertEqual(Asked.objects.get().call, "sleep")
        self.waited(desk, time.sleep, 0.6)
        begun = time.monotonic()
        desk.ask(time.sleep, 0.6)  # kept: nobody sleeps again
        self.assertLess(time.monotonic() - begun, 0.4)
        until = time.monotonic() + 5
        while Asked.objects.exists() and time.monotonic() < until:
            time.sleep(0.05)
        self.assertFalse(Asked.objects.exists())

    def test_files_that_differ_are_told_apart(self):
        desk = self.desk()
        for data in (b"one", b"three", b"one"):
            self.assertEqual(self.waited(desk, len, data), len(data))

    def test_it_goes_on_with_the_next_server(self):
        first = self.desk()
        person = User.objects.create_user("ada", password="tin-snips-9")
        with asking.on_behalf_of(person.pk), self.assertRaises(Working):
            first.ask(time.sleep, 30.0)
        with asking.on_behalf_of(person.pk), self.assertRaises(Working):
            first.ask(abs, -3)
        first.close()
        self.assertEqual(Asked.objects.count(), 2)
        Asked.objects.filter(call="abs").update(key="as an earlier version named it")
        second = self.desk()
        second.takes(abs)
        second.resume()  # what this shop does not know any more goes
        until = time.monotonic() + 20
        while second.known(abs, -3) is None and time.monotonic() < until:
            time.sleep(0.05)
        self.assertEqual(second.known(abs, -3), 3)
        self.assertEqual({row.call for row in Asked.objects.all()} - {"abs"}, set())

    def test_work_that_takes_its_process_down_is_refused_and_the_next_is_done(self):
        desk = self.desk()
        with self.assertRaises(Refusal):
            self.waited(desk, os._exit, 3)
        self.assertEqual(self.waited(desk, abs, -3), 3)

    def test_a_process_killed_at_rest_or_at_work_is_replaced(self):
        desk = self.desk()
        os.kill(self.waited(desk, os.getpid), signal.SIGKILL)
        self.assertEqual(self.waited(desk, abs, -3), 3)
        other = self.waited(desk, os.getppid) and desk.workers[0]
        with self.assertRaises(Working):
            desk.ask(time.sleep, 1.0)
        time.sleep(0.3)
        for pid in list(other.pool._pool_manager.worker_manager.workers):
            os.kill(pid, signal.SIGKILL)
        self.assertIsNone(self.waited(desk, time.sleep, 1.0))  # done over

    def test_time_and_memory_are_bounded(self):
        desk = self.desk(seconds=0.5, memory=200)
        with self.assertRaises(TooLong):
            self.waited(desk, time.sleep, 20.0)
        with self.assertRaises(Refusal) as told:
            self.waited(desk, bytearray, 900_000_000)
        self.assertIn("more than this machine has", told.exception.message)
        self.assertEqual(len(self.waited(desk, bytearray, 5_000_000)), 5_000_000)

    def test_what_is_let_go_is_ended(self):
        desk = self.desk()
        pid = self.waited(desk, os.getpid)
        desk.close()
        with self.assertRaises(ProcessLookupError):
            os.kill(pid, 0)

    def test_what_nobody_waits_for_leaves_at_once(self):
        desk = self.desk()
        for seconds in (15.0, 16.0):
            with self.assertRaises(Working):
                desk.ask(time.sleep, seconds)
        time.sleep(0.5)
        desk.forget(time.sleep, 15.0)
        desk.forget(time.sleep, 16.0)
        self.assertFalse(Asked.objects.exists())
        begun = time.monotonic()
        self.assertEqual(self.waited(desk, abs, -3), 3)
        self.assertLess(time.monotonic() - begun, 8)

    def test_only_so_many_requests_wait_at_a_time(self):
        desk = self.desk()
        self.waited(desk, abs, -3)
        desk.patience, told = 3.0, []

        def ask(n):
            begun = time.monotonic()
            try:
                desk.ask(time.sleep, 4.0 + n)
            except Working:
                told.append(time.monotonic() - begun)

        threads = [threading.Thread(target=ask, args=(n,)) for n in range(6)]
        with mock.patch.object(desk, "_keep"):
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
        self.assertEqual(sorted(seconds > 2 for seconds in told), [False] * 4 + [True] * 2)

    def test_what_is_warm_begins_at_once(self):
        desk = self.desk()
        desk.warm()
        until = time.monotonic() + 30
        while (desk.line.waiting or desk.line.doing) and time.monotonic() < until:
            time.sleep(0.05)
        self.assertIsNotNone(desk.workers[0].pool)
        self.assertIsNone(self.waited(desk, ready))  # nothing of the web application is needed for it

    def test_pages_go_first(self):
        self.assertEqual(self.waited(self.desk(), os.nice, 0), 19)


class Beside(ShopCase):
    def setUp(self):
        super().setUp()
        self.enterContext(mock.patch.dict(current_process()._config, daemon=False))

    def awake(self, real):
        """This desk with a process of its own, for as long as the test."""
        own = Desk(real.name, 1, 4.0, real.bounds, settle=real.settle)
        self.addCleanup(own.close)
        self.enterContext(mock.patch.object(own, "_keep"))
        self.enterContext(mock.patch.object(desks, real.name.replace(" ", "_"), own))
        own.patience = None
        own.ask(abs, -1)
        own.patience = 4.0
        return own

    def test_what_desks_take_can_be_worked_out_by_a_process_that_knows_nothing_of_the_application(self):
        get_resolver().url_patterns  # noqa: B018 - every page, so that every desk knows what it takes
        calls = sorted({(call.__module__, call.__name__) for desk in desks.ALL for call in desk.calls.values()})
        self.assertIn(("dorvan.tickets.results.solid", "solid_of"), calls)
        asked = "\n".join(f"from {module} import {name}" for module, name in calls)
        env = {key: value for key, value in os.environ.items() if key != "DJANGO_SETTINGS_MODULE"}
        done = subprocess.run([sys.executable, "-c", asked], cwd=settings.BASE_DIR, env=env, text=True,
                              capture_output=True)
        self.assertEqual((done.returncode, done.stderr), (0, ""))

    def test_a_file_that_is_still_worked_out_comes_by_itself(self):
        for desk, address, words in ((desks.plans, "/t/7/pack/printed.pdf", "being drawn"),
                                     (desks.solids, "/t/7/file/step/", "being written")):
            with mock.patch.object(desk, "ask", side_effect=Working(2)):
                answer = self.client.get(address)
            self.assertContains(answer, words)
            self.assertContains(answer, "2 others before")
            self.assertEqual((answer["Refresh"], answer["Content-Type"][:9]), ("2", "text/html"))
        ready = self.client.get("/t/7/pack/printed.pdf")
        self.assertEqual((ready.has_header("Refresh"), ready["Content-Type"]), (False, "application/pdf"))

    def test_several_things_asked_for_together_are_waited_for_no_longer_than_one(self):
        orders = self.awake(desks.orders)
        orders.patience, begun = 0.6, time.monotonic()
        with orders.patient_once():
            for seconds in (5.0, 5.1, 5.2):
                with self.assertRaises(Working):
                    orders.ask(time.sleep, seconds)
        self.assertLess(time.monotonic() - begun, 1.2)
        begun = time.monotonic()
        with self.assertRaises(Working):
            orders.ask(time.sleep, 5.3)
        self.assertGreater(time.monotonic() - begun, 0.5)

    def test_a_drawing_does_not_wait_behind_orders(self):
        orders = self.awake(desks.orders)
        self.awake(desks.drawings)
        orders.patience = 0.05
        with self.assertRaises(Working):
            orders.ask(time.sleep, 6.0)
        drawing = SimpleUploadedFile("plate.dxf", export(read_part(plate_file()), "dxf").encode())
        begun = time.monotonic()
        self.assertEqual(self.client.post("/tickets/read-in/", {"file": drawing}).status_code, 302)
        self.assertLess(time.monotonic() - begun, 5.0)

    def test_a_drawing_that_takes_longer_has_a_page_that_makes_its_ticket_once(self):
        with mock.patch.object(desks, "read_drawing", side_effect=Working(2)):
            drawing = SimpleUploadedFile("plate.dxf", export(read_part(plate_file()), "dxf").encode())
            where = self.client.post("/tickets/read-in/", {"file": drawing})["Location"]
            self.assertContains(self.client.get(where), "2 others before it")
            self.assertContains(self.client.post(f"{where}look/", headers={"HX-Request": "true"}), "Look again")
            self.client.force_login(self.lead)
            self.assertEqual(self.client.get(where).status_code, 404)  # another's
            self.client.force_login(self.bench)
        before = Ticket.objects.count()
        self.assertContains(self.client.get(where), "Make a ticket of it")
        for _ in range(2):
            answer = self.client.post(f"{where}look/", headers={"HX-Request": "true"})
            self.assertIn("/t/", answer["HX-Redirect"])
        self.assertEqual(Ticket.objects.count(), before + 1)
        self.assertRedirects(self.client.get(where), Reading.objects.get().ticket.get_absolute_url())
        Reading.objects.update(data=b"no drawing", ticket=None)
        answer = self.client.post(f"{where}look/", headers={"HX-Request": "true"})
        self.assertEqual(answer["HX-Redirect"], where)
        self.assertIn(self.client.get(where).status_code, (302, 422))
