"""The examples in the docstrings of the core and of the pure modules around it run."""

import doctest
import importlib
import pkgutil

from django.test import SimpleTestCase

import nutrition


class Examples(SimpleTestCase):
    def test_docstrings(self):
        names = [
            m.name for m in pkgutil.walk_packages(nutrition.__path__, "nutrition.") if not m.name.endswith("__main__")
        ]
        tried = 0
        for name in [*names, "handouts.card", "ui.rails", "ui.templatetags.ui", "ui.posted", "kitchen.scale"]:
            result = doctest.testmod(importlib.import_module(name))
            self.assertEqual(result.failed, 0, name)
            tried += result.attempted
        self.assertGreater(tried, 20)
