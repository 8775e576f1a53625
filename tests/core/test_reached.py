"""Where the server listens, and how tablets are told."""

import os
from unittest import mock

from django.test import SimpleTestCase

from dorvan import reached


class Reached(SimpleTestCase):
    def listening(self, said, way_out="192.168.7.20", named=("127.0.1.1", "10.0.0.3")):
        self.enterContext(mock.patch.dict(os.environ, {"DORVAN_LISTEN": said}))
        self.enterContext(mock.patch.object(reached, "_on_the_way_out", lambda: way_out))
        self.enterContext(mock.patch.object(reached, "_of_the_name", lambda: list(named)))

    def test_this_machine_alone_unless_said(self):
        for said in ("", "127.0.0.1", "localhost"):
            self.listening(said)
            self.assertEqual(reached.addresses(), [])
            self.assertEqual(reached.hosts(), ["127.0.0.1", "localhost"])
            self.assertIn("LISTEN=shop", reached.told(8000)[0])

    def test_the_shops_network_is_told_its_addresses_and_that_nothing_is_enciphered(self):
        self.listening("shop")
        self.assertEqual((reached.listens(), reached.addresses()), ("0.0.0.0", ["192.168.7.20", "10.0.0.3"]))
        self.assertLessEqual({"192.168.7.20", "10.0.0.3", "127.0.0.1"}, set(reached.hosts()))
        first, second = reached.told(8000)
        self.assertIn("http://192.168.7.20:8000/", first)
        self.assertIn("not enciphered", second)

    def test_one_address_is_taken_as_said(self):
        self.listening("192.168.7.21")
        self.assertEqual((reached.listens(), reached.addresses()), ("192.168.7.21", ["192.168.7.21"]))

    def test_a_machine_without_a_network_says_so(self):
        self.listening("shop", "", ())
        self.assertIn("Only this machine", reached.told(8000)[0])

    def test_the_real_ones_can_be_asked(self):
        for one in (reached._on_the_way_out(), *reached._of_the_name()):
            self.assertRegex(one, r"^$|^\d+(\.\d+){3}$")
