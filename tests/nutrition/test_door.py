"""The public door and the command line over it: what stays stable, what it costs, and what joins without another edit."""

import ast
import io
import json
import re
import resource
import subprocess
import sys
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from unittest.mock import patch

from django.test import SimpleTestCase, tag

import nutrition
from nutrition.__main__ import main
from nutrition.food.nutrients import INDEX
from nutrition.food.table import using
from nutrition.limits.gates import MEAL_SHARES, Target
from nutrition.limits.plans import PLANS, Facts
from nutrition.limits.plans.common import Avoid, Claimed, Plan, School
from nutrition.limits.tallies import Tally

ROOT = Path(__file__).parents[2]
SOUP = (
    "Barley soup\nServes 4\n1 cup pearl barley\n1 l chicken stock\n1 tsp salt\n2 carrots\nMethod\nSimmer for an hour."
)

#: A plan that stands nowhere but here.
LOW_ZINC = Plan(
    key="low-zinc",
    label="Low zinc",
    summary="Invented for a test: little zinc, no celery.",
    shelf="Invented shelf",
    sources=("A test",),
    schools={"zinc": School("How much zinc a day?", {"9": "9 mg", "6": "6 mg"}, "9")},
    handout=("Zinc is mostly in what was invented for a test.",),
    claims=(Claimed("low-zinc", r"\blow[- ]zinc\b"),),
    targets_of=lambda facts, settings: [
        Target("zinc_mg", maximum=float(settings["zinc"]), plan="low-zinc", source="A test")
    ],
    avoids_of=lambda settings: (Avoid("celery", "invented for a test", "A test"),),
    tallies_of=lambda settings: [Tally("zinc-points", "Zinc points", {"zinc_mg": 1.0}, step=1.0)],
)


def run(*arguments):
    """(exit code, standard output, standard error) of the command line, in this process."""
    out, err = io.StringIO(), io.StringIO()
    with redirect_stdout(out), redirect_stderr(err):
        code = main(list(arguments))
    return code, out.getvalue(), err.getvalue()


class TheDoor(SimpleTestCase):
    def test_every_name_is_there_and_no_other(self):
        for name in nutrition.__all__:
            self.assertIsNotNone(getattr(nutrition, name), name)
            self.assertIn(name, nutrition.__doc__)
        with self.assertRaisesRegex(AttributeError, "nutrition has no 'nowhere' at its door"):
            _ = nutrition.nowhere

    def test_a_dish_through_the_door(self):
        dish = nutrition.read_recipe(SOUP)
        facts = nutrition.Facts(plans=("low-sodium",))
        eater = nutrition.Eater(facts, {"low-sodium": {}}, tuple(nutrition.targets_for("low-sodium", facts)))
        sheet = nutrition.examine(dish, eater)
        self.assertEqual(sheet.analysis.amount("sodium_mg"), nutrition.analyze(dish).amount("sodium_mg"))
        self.assertIn("gluten", {finding.tag for finding in nutrition.find_avoided(dish.lines)})
        ways = nutrition.find_ways(dish, eater)
        self.assertTrue(ways.ways)
        salt = next(at for at, line in enumerate(dish.lines) if line.text == "1 tsp salt")
        self.assertTrue(nutrition.offers(dish, eater, salt).offers)
        self.assertEqual(nutrition.read_recipe(json.dumps(nutrition.write(dish))), dish)
        self.assertEqual(nutrition.from_data(nutrition.to_data(dish)), dish)

    def test_foods_of_ones_own_join_without_touching_the_arithmetic(self):
        loaf = nutrition.OwnFood(
            "own:loaf", "Bread, invented, low protein", "Baked Products", "label", {"protein_g": 0.6, "zinc_mg": 0.2}
        )
        table = nutrition.with_own([loaf])
        line = nutrition.Line("100 g loaf", "own:loaf", nutrition.Grams.exactly(100.0), key="w0")
        dish = nutrition.Dish("Toast", 1.0, (line,))
        analysis = nutrition.analyze(dish, table)
        self.assertAlmostEqual(analysis.amount("protein_g"), 0.6)
        self.assertGreater(analysis.interval("sodium_mg")[1], 0)
        with using(table):
            self.assertIn("own:loaf", [food.id for food in nutrition.search_foods("invented low protein bread")])
            self.assertEqual(nutrition.foods().by_id("own:loaf").source, "label")
        self.assertFalse(nutrition.foods().has_id("own:loaf"))
        self.assertEqual(len(table), len(nutrition.foods()) + 1)
        self.assertEqual(float(table.known[-1, INDEX["zinc_mg"]]), 0.2)


class OnePlanOneModule(SimpleTestCase):
    def test_a_plan_that_stands_only_here_reaches_the_command_line(self):
        path = ROOT / ".data" / "low-zinc-soup.txt"
        path.parent.mkdir(exist_ok=True)
        path.write_text("Low-zinc " + SOUP + "\n1 stalk celery\n")
        self.addCleanup(path.unlink)
        self.assertEqual(run("analyze", str(path), "--diet", "low-zinc")[0], 2)
        with patch.dict(PLANS, {"low-zinc": LOW_ZINC}):
            code, out, err = run("analyze", str(path), "--json", "--diet", "low-zinc", "--school", "zinc=6")
        self.assertEqual((code, err), (0, ""))
        said = json.loads(out)
        [gate] = [gate for gate in said["gates"] if gate["nutrient"] == "zinc_mg"]
        self.assertAlmostEqual(gate["max"], 6 * MEAL_SHARES["dinner"], places=2)
        self.assertIn("celery", out)
        self.assertIn("zinc-points", out)
        self.assertIn("low-zinc", json.dumps(said["claims"]))

    def test_its_settings_are_its_own(self):
        with patch.dict(PLANS, {"low-zinc": LOW_ZINC}):
            [target] = nutrition.targets_for("low-zinc", Facts(), {"zinc": "6"})
            self.assertEqual((target.nutrient, target.maximum, target.plan), ("zinc_mg", 6.0, "low-zinc"))


@tag("alone")
class Costs(SimpleTestCase):
    """What a cold start may cost: seconds of CPU of one process, on a machine that does nothing else about 1.3."""

    def test_one_line_is_parsed_without_the_solver(self):
        script = "import sys; from nutrition.__main__ import main; main(['parse', '--json']); " \
            "print([name for name in ('scipy.optimize', 'highspy', 'django', 'pandas') if name in sys.modules])"  # fmt: skip
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        done = subprocess.run(
            [sys.executable, "-c", script],
            input="2 tbsp butter\n",
            capture_output=True,
            text=True,
            check=True,
            cwd=ROOT,
        )
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        self.assertEqual(done.stdout.splitlines()[-1], "[]")
        spent = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
        self.assertLess(spent, 5.0)  # benchmarks/core.py holds the 2 s; here only a landslide is caught

    def test_libraries_never_speak_on_standard_output(self):
        script = (
            "import os; from nutrition.__main__ import keep_standard_output_for_answers, main; "
            "keep_standard_output_for_answers(); os.write(1, b'chatter of a solver'); main(['foods', 'butter'])"
        )
        done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True, cwd=ROOT)
        self.assertIn("Butter, salted", done.stdout)
        self.assertNotIn("chatter", done.stdout)
        self.assertIn("chatter", done.stderr)

    def test_a_way_through_is_json_and_nothing_else(self):
        path = ROOT / ".data" / "way-soup.txt"
        path.parent.mkdir(exist_ok=True)
        path.write_text(SOUP)
        self.addCleanup(path.unlink)
        arguments = ["way-through", str(path), "--json", "--diet", "low-sodium"]
        done = subprocess.run(
            [sys.executable, "-m", "nutrition", *arguments], capture_output=True, text=True, check=True, cwd=ROOT
        )
        self.assertIn("ways", json.loads(done.stdout))


class Documents(SimpleTestCase):
    """What the documents say of the door."""

    def test_the_packages_of_the_core_are_those_the_readme_names(self):
        found = set()
        for path in (ROOT / "nutrition").rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.Import):
                    found |= {each.name.split(".")[0] for each in node.names}
                elif isinstance(node, ast.ImportFrom) and not node.level:
                    found.add(node.module.split(".")[0])
        found -= {*sys.stdlib_module_names, "nutrition"}
        [row] = [line for line in (ROOT / "README.md").read_text().splitlines() if line.startswith("| `nutrition/`")]
        named = re.search(r"Python with (.+?); no Django", row)[1]
        self.assertEqual(set(re.split(r", | and ", named)), found)

    def test_the_answers_are_those_the_page_of_the_command_line_lists(self):
        path = ROOT / ".data" / "listed-soup.txt"
        path.parent.mkdir(exist_ok=True)
        path.write_text(SOUP)
        self.addCleanup(path.unlink)
        page = (ROOT / "docs/command-line.md").read_text()
        for command in (["analyze"], ["swaps", "--line", "1"], ["way-through"]):
            with self.subTest(command[0]), redirect_stdout(io.StringIO()) as out:
                main([command[0], str(path), *command[1:], "--json", "--diet", "low-sodium"])
                row = re.search(rf"^\| `{command[0]} PATH.*", page, re.M)[0]
                listed = re.search(r"`([a-z_ ]+)` \|$", row)[1].split()
                self.assertEqual(set(listed), set(json.loads(out.getvalue())))

    def test_each_word_of_the_glossary_stands_where_it_is_said_to(self):
        rows = re.findall(r"^\| ([\w, ]+) \| `([\w/.]+)` \|", (ROOT / "docs/glossary.md").read_text(), re.M)
        self.assertGreater(len(rows), 35)
        for words, place in rows:
            path = ROOT / place
            files = [path] if path.is_file() else [*path.glob("*.py")]
            text = f"{place}\n" + "\n".join(each.read_text(encoding="utf-8") for each in files)
            for word in words.split(", "):
                there = (
                    rf"^class {word}\b" if word[0].isupper() else rf'^def {word}\b|^\S*/{word}(?:\.py|/)$|"{word}\.tsv"'
                )
                with self.subTest(word, place=place):
                    self.assertRegex(text, re.compile(there, re.M))

    def test_the_core_asks_no_clock(self):
        """Searches may end by a deadline (and say so); nothing is decided by the day or the hour."""
        asked = re.compile(r"\b(?:date\.today|datetime\.now|time\.time|perf_counter|localtime)\b")
        deadlines = {"nutrition/swaps/way_through.py", "nutrition/swaps/program.py", "nutrition/meals/whole.py"}
        found = set()
        for path in (ROOT / "nutrition").rglob("*.py"):
            text = path.read_text(encoding="utf-8")
            self.assertIsNone(asked.search(text), path)
            if "monotonic" in text:
                found.add(str(path.relative_to(ROOT)))
        self.assertEqual(found, deadlines)

    def test_nothing_looks_into_a_sentence(self):
        """A note becomes words where it is shown; nobody searches, splits or compares those words."""
        note = r"str\((?:[\w.\[\]]*[.\]])?(?:ask|why|text|note|rule|reason|advice|problem|words|because|outcome)\)"
        looks = re.compile(
            rf"(?:search|match|fullmatch|finditer|findall)\({note}|\bin {note}|{note}\.(?:startswith|endswith|split|lower|find)\b|{note} =="
        )
        self.assertTrue(looks.search('if "salt" in str(match.ask):'))
        shown = {ROOT / "nutrition/__main__.py", *(ROOT / "nutrition/commands").glob("*.py")}
        for path in {*(ROOT / "nutrition").rglob("*.py")} - shown:
            for at, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1):
                self.assertIsNone(looks.search(line), f"{path.relative_to(ROOT)}:{at}: {line.strip()}")
