"""The command line as others script it: the form of its answers, exit codes, one line of stderr."""

import io
import json
import os
import subprocess
import sys
import tempfile
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import dataclass
from pathlib import Path
from unittest import mock

from django.test import SimpleTestCase

from nutrition.__main__ import main

ROOT = Path(__file__).resolve().parent.parent.parent
RECIPE = {
    "@type": "Recipe",
    "name": "Rice",
    "recipeYield": 2,
    "recipeIngredient": ["200 g white rice", "1 tsp salt", "2 tbsp honey"],
}


@dataclass
class Done:
    returncode: int
    stdout: str
    stderr: str


def run(*arguments, stdin=""):
    """In this process: two seconds of loading are spared each time."""
    out, err = io.StringIO(), io.StringIO()
    with redirect_stdout(out), redirect_stderr(err), mock.patch("sys.stdin", io.StringIO(stdin)):
        code = main(list(arguments))
    return Done(code, out.getvalue(), err.getvalue())


def run_alone(*arguments, stdin=""):
    """As a script runs it: no Django settings, no database."""
    environment = {key: value for key, value in os.environ.items() if not key.startswith(("DJANGO", "DATABASE"))}
    command = [sys.executable, "-m", "nutrition", *arguments]
    return subprocess.run(command, cwd=ROOT, input=stdin, text=True, capture_output=True, env=environment)


class CommandLine(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.folder.cleanup)
        cls.path = str(Path(cls.folder.name) / "rice.json")
        Path(cls.path).write_text(json.dumps(RECIPE))

    def test_parse(self):
        done = run_alone("parse", "--json", stdin="For the dough:\n2 cups flour\nsalt to taste\n")
        self.assertEqual(done.returncode, 0, done.stderr)
        flour, salt = map(json.loads, done.stdout.splitlines())
        self.assertEqual(list(flour), ["text", "food", "grams", "how", "sure", "set"])
        asked, none = map(
            json.loads, run_alone("parse", "--json", stdin="100 g butter\n200 g moonfruit\n").stdout.splitlines()
        )
        self.assertEqual((asked["set"]["foods"], asked["set"]["holds"]["sodium_mg"]), (2, [11.0, 643.0]))
        self.assertEqual((none["set"]["foods"], none["set"]["holds"]["sodium_mg"]), (0, [0.0, None]))
        self.assertEqual(flour.pop("set")["foods"], 1)
        self.assertEqual(flour, {"text": "2 cups flour", "food": "Wheat flour, white, all-purpose, enriched, bleached",
                                 "grams": 250.0, "how": "volume", "sure": "sure"})  # fmt: skip
        self.assertEqual((salt["grams"], salt["how"], salt["sure"]), (None, "none", "check"))

    def test_analyze(self):
        done = run(
            "analyze",
            self.path,
            "--json",
            "--diet",
            "kidney",
            "--diet",
            "diabetes",
            "--target",
            "sodium_mg<=600",
            "--weight-kg",
            "70",
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        found = json.loads(done.stdout)
        self.assertEqual((found["title"], found["serves"], len(found["lines"])), ("Rice", 2, 3))
        sodium = found["per_serving"]["sodium_mg"]
        self.assertAlmostEqual(sodium["amount"], (6 * 387.58 + 200 * 0.05 + 42 * 0.04) / 2, delta=1)
        self.assertEqual(sodium["unknown_lines"], [])
        gate = next(g for g in found["gates"] if g["nutrient"] == "sodium_mg")
        self.assertEqual((gate["max"], gate["verdict"]), (600.0, "shut"))
        self.assertEqual(set(gate), {"nutrient", "min", "max", "amount", "verdict", "source"})
        self.assertTrue(any("Natural sweeteners" in c["text"] for c in found["cautions"]))

    def test_where_the_times_pass(self):
        path = Path(self.folder.name) / "loaf.txt"
        path.write_text(
            "Loaf\nServes 4\n500 g flour\nMethod\nKnead for 10 minutes, rest for 1 hour.\nBake for 40 minutes.\n"
        )
        steps = json.loads(run("analyze", str(path), "--json").stdout)["method"]["steps"]
        self.assertEqual([(step["where"], step["seconds"]) for step in steps],
                         [(["hands", "wait"], [[600, 600], [3600, 3600]]), (["oven"], [[2400, 2400]])])  # fmt: skip

    def test_day_target_is_shared_over_meals(self):
        for meal, limit in (("dinner", 805.0), ("snack", 230.0)):
            found = json.loads(run("analyze", self.path, "--json", "--diet", "low-sodium", "--meal", meal).stdout)
            self.assertEqual(found["gates"][0]["max"], limit)

    def test_unknown_line(self):
        path = Path(self.folder.name) / "odd.txt"
        path.write_text("Odd\nServes 2\n1 cup milk\n2 tbsp zhoug\n")
        found = json.loads(run("analyze", str(path), "--json", "--target", "sodium_mg<=6000").stdout)
        self.assertEqual(found["per_serving"]["sodium_mg"]["unknown_lines"], [2])
        self.assertIsNone(found["per_serving"]["sodium_mg"]["at_most"])
        self.assertEqual(found["gates"][0]["verdict"], "unsure")

    def test_plain_words(self):
        done = run("analyze", self.path, "--diet", "low-sodium")
        self.assertIn("Sodium", done.stdout)

    def test_bad_input_alone(self):
        done = run_alone("analyze", "nowhere.json")
        self.assertEqual((done.returncode, done.stdout, done.stderr.count("\n")), (2, "", 1))

    def test_foods(self):
        done = run("foods", "rapeseed", "oil")
        self.assertTrue(done.stdout.startswith("Oil, canola\t"), done.stdout)

    def test_refusals(self):
        no_serves = Path(self.folder.name) / "none.txt"
        no_serves.write_text("Soup\n1 cup milk\n")
        for arguments, words in (
            (["analyze", "nowhere.json"], "give the path"),
            (["analyze", str(no_serves)], "--serves"),
            (["analyze", self.path, "--serves", "0"], "above 0"),
            (["analyze", self.path, "--diet", "paleo"], "low-sodium, kidney, kidney-dialysis"),
            (["analyze", self.path, "--target", "salt<=5"], "sodium_mg"),
            (["analyze", self.path, "--target", "sodium_mg=5"], "expected KEY<=NUMBER"),
            (["analyze", self.path, "--weight-kg", "700"], "2 to 400 kg"),
            (["analyze", self.path, "--school", "potassium"], "KEY=VALUE"),
            (["foods", "qqqqzzzz"], "nothing in the table"),
            (["bake"], "invalid choice"),
        ):
            done = run(*arguments)
            self.assertEqual((done.returncode, done.stdout), (2, ""), arguments)
            self.assertEqual(done.stderr.count("\n"), 1, done.stderr)
            self.assertIn(words, done.stderr)
