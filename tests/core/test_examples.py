"""The examples in docstrings are true."""

import doctest
import importlib

from django.test import SimpleTestCase

from tests.core.test_house import modules


class Examples(SimpleTestCase):
    def test_every_example(self):
        tried = {}
        for name in modules():
            if name.endswith(("__main__", "wsgi", "serve")):
                continue
            found = doctest.testmod(importlib.import_module(name))
            self.assertEqual(found.failed, 0, name)
            tried[name] = found.attempted
        self.assertGreaterEqual({name for name, count in tried.items() if count},
                                {"bendcore.units", "bendcore.said", "bendcore.stock", "bendcore.errors"})
