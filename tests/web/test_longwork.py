"""Long work in processes of its own: kept, asked for again, and no danger to the shop."""

import os
import time
from multiprocessing import current_process
from unittest import mock

from django.test import SimpleTestCase

from bendcore.errors import Refusal
from dorvan.tickets.results.longwork import Desk, Working


class LongWork(SimpleTestCase):
    def setUp(self):
        # one of the processes of the tests may have none of its own, unless it forgets that it is one
        self.enterContext(mock.patch.dict(current_process()._config, daemon=False))
        self.desk = Desk(workers=1, patience=0.05)
        self.addCleanup(lambda: self.desk.pool and self.desk.pool.shutdown(cancel_futures=True))

    def test_what_takes_longer_is_asked_for_again(self):
        with self.assertRaises(Working):
            self.desk.ask(time.sleep, 0.5)
        until = time.monotonic() + 30
        while time.monotonic() < until:
            try:
                self.assertIsNone(self.desk.ask(time.sleep, 0.5))
                break
            except Working:
                time.sleep(0.05)
        begun = time.monotonic()
        self.desk.ask(time.sleep, 0.5)  # kept: nobody sleeps again
        self.assertLess(time.monotonic() - begun, 0.4)

    def test_work_that_takes_its_process_down_is_refused_and_the_next_is_done(self):
        with self.assertRaises(Refusal):
            self.desk.once(os._exit, 3)
        self.assertEqual(self.desk.once(abs, -3), 3)

    def test_what_is_warm_begins_at_once(self):
        self.desk.warm()
        self.desk.once(abs, 1)  # waits for its turn behind the loading
        begun = time.monotonic()
        self.desk.once(abs, 1)
        self.assertLess(time.monotonic() - begun, 0.5)

    def test_pages_go_first(self):
        self.assertEqual(self.desk.once(os.nice, 0), min(os.nice(0) + 5, 19))
