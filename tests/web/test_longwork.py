"""Long work in processes of its own: kept, asked for again, and no danger to the shop."""

import os
import time
from multiprocessing import current_process
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase

from bendcore.errors import Refusal
from bendcore.formats.export import export
from bendcore.part import read_part
from dorvan.tickets.results import longwork
from dorvan.tickets.results.longwork import Desk, Working
from tests.core.plates import plate_file
from tests.web.base import ShopCase


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


class Beside(ShopCase):
    def test_a_drawing_does_not_wait_behind_orders(self):
        """Every process for orders is busy for longer than a page may take."""
        self.enterContext(mock.patch.dict(current_process()._config, daemon=False))
        for name in ("desk", "readers"):
            real = getattr(longwork, name)
            patience = 0.05 if name == "desk" else None
            self.enterContext(mock.patch.multiple(real, workers=1, patience=patience, pool=None))
            self.addCleanup(lambda d=real: d.pool and d.pool.shutdown(wait=False, cancel_futures=True))
            real.warm()
            real.once(abs, 1)
        with self.assertRaises(Working):
            longwork.desk.ask(time.sleep, 6.0)
        drawing = SimpleUploadedFile("plate.dxf", export(read_part(plate_file()), "dxf").encode())
        begun = time.monotonic()
        self.assertEqual(self.client.post("/tickets/read-in/", {"file": drawing}).status_code, 302)
        self.assertLess(time.monotonic() - begun, 5.0)
