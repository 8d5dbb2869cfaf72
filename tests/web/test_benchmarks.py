"""Each benchmark runs: shortened, so that its figures say nothing, and whole in what it does."""

import contextlib
import importlib
import io
import sys
from pathlib import Path
from unittest import mock

from django.test import TestCase

BENCHMARKS = Path(__file__).resolve().parents[2] / "benchmarks"


def benchmark(name):
    with mock.patch.object(sys, "path", [str(BENCHMARKS), *sys.path]):
        return importlib.import_module(name)


@contextlib.contextmanager
def shortened(module, **numbers):
    """The module with other numbers in place of its own; what it prints is the value."""
    with contextlib.ExitStack() as stack:
        for name, number in numbers.items():
            stack.enter_context(mock.patch.object(module, name, number))
        yield stack.enter_context(contextlib.redirect_stdout(io.StringIO()))


class Shortened(TestCase):
    def test_an_edit(self):
        module = benchmark("bench_edit")
        with shortened(module, EDITS=2) as said:
            self.assertEqual(module.main(), 0)
        self.assertRegex(said.getvalue(), r"an edit, median +\d+ ms")

    def test_the_stove(self):
        module = benchmark("stove")
        self.enterContext(mock.patch("handouts.tasks.pdf_of", return_value=b"%PDF-1.7"))
        with shortened(module, DISHES=2, TRIES=43, COOKS=2, TAPS=3, pdf_of=lambda *_: b"") as said:
            module.timed.__defaults__, kept = (1,), module.timed.__defaults__
            self.addCleanup(setattr, module.timed, "__defaults__", kept)
            self.assertEqual(module.main(), 0)
        self.assertRegex(said.getvalue(), r"/diary/\d+/ +\d+ ms")

    def test_tables(self):
        module = benchmark("tables")
        with shortened(module, CHANGES=2, MANY=40, PLANNED=40, DAYS=1, WEEKS=(("diabetes",),)) as said:
            self.assertEqual(module.main(), 0)
        self.assertRegex(said.getvalue(), r"seven dishes in one oven +\d+ ms")

    def test_mutations(self):
        module = benchmark("mutations")
        with shortened(module) as said:
            self.assertEqual(module.mutate(6, 26), [])
        self.assertIn("forms and addresses", said.getvalue())

    def test_growth(self):
        module = benchmark("growth")
        with shortened(module, PEOPLE=3) as said:
            module.measured(module.grown(20))
        self.assertIn("library fits four", said.getvalue())


class OfTheCore(TestCase):
    def test_the_core(self):
        module = benchmark("core")
        once = lambda function, repeat: [function()] and 1.0  # noqa: E731
        with shortened(module, timed=once, MANY=20, PROCESSES=1, TURNS=2) as said:
            module.main()
        self.assertIn("20 recipes against 200 people", said.getvalue())

    def test_ways(self):
        module = benchmark("way_through")
        with shortened(module, MORE=(), OWN_A_LINE=1, ASKED=((1, 0.7),)) as said:
            self.assertEqual(module.main(), 0)
        self.assertIn("0 gates not open in them", said.getvalue())

    def test_felt(self):
        module = benchmark("felt")
        with shortened(module) as said, mock.patch.object(sys, "argv", ["felt.py", "--show", next(module.cases())[3]]):
            module.main()
        self.assertIn("judged: mean", said.getvalue())
