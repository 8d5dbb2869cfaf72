"""Steps told after a change: every rule over a pot, removals, preparations, steps somebody wrote anew."""

import json
from dataclasses import replace
from pathlib import Path

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from nutrition.dish.codec import from_data, to_data
from nutrition.dish.cooking import methods, treated
from nutrition.dish.dish import Dish, keyed
from nutrition.dish.naming import name_of
from nutrition.giving.writing import write
from nutrition.limits.eater import Eater
from nutrition.limits.plans import Facts, targets_for
from nutrition.reading.lines import parse
from nutrition.reading.method import read_method
from nutrition.reading.recipe import read_line, read_recipe
from nutrition.reading.whole import whole_dish
from nutrition.sheet.examine import examine
from nutrition.swaps.offers import Workbench, taken
from nutrition.swaps.preparations import NONE, made_of, preparations
from nutrition.swaps.rules import catalog
from nutrition.swaps.telling import steps_now, telling, told
from nutrition.swaps.way_through import ways_for
from nutrition.swaps.wish import Wish
from nutrition.swaps.wording import NOTHING_LEFT
from tests import sampled

RECIPES = Path(__file__).resolve().parents[2] / "demo" / "recipes"
RULES = {rule.id: rule for rule in catalog()}


def pot_of(line):
    """A dish with one line that a rule changes, called by the words it was written with."""
    written = read_line(line)
    name = (parse(line).names or [line])[0]
    lines = keyed((written, read_line("500 g carrots"), read_line("2 l water")))
    steps = (
        "Cut the carrots.",
        f"Put the {name} into the pot with the carrots, and add the water.",
        "Simmer for an hour.",
    )
    return Dish("Pot", 4.0, lines, steps, kind="stew")


def swapped(was, rule, now=None):
    """The dish with a rule in place of its first line, and its steps told."""
    now = now or was
    lines = taken(now.lines, now.position(was.lines[0].key), rule)
    return told(was, now.with_lines(keyed(lines, "n", [line.key for line in was.lines])))


def _is_of_the_pot(rule):
    """Whether it changes, or brings, what the pot is made of already."""
    return any(word in f"{rule.test_line} {rule.household} {rule.id}" for word in ("carrot", "water"))


def _without(step, names):
    for name in sorted(names, key=len, reverse=True):
        step = step.replace(name, "it")
    return step


class EveryRule(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.cases = sampled([rule for rule in catalog() if rule.test_line and not _is_of_the_pot(rule)], 160)

    def test_what_is_out_is_named_by_no_step(self):
        for rule in self.cases:
            was = pot_of(rule.test_line)
            now = swapped(was, rule)
            if now.line(was.lines[0].key) and now.line(was.lines[0].key).food_id == was.lines[0].food_id:
                continue
            # "90% lean ground beef" in place of "80% lean ground beef" names itself.
            names = [name_of(line) for line in now.lines] + [line.heading.lower() for line in now.lines if line.heading]
            words = [_without(step, names) for step in now.steps]
            left = steps_now(words, [(was.lines[0], "")], now.lines)
            with self.subTest(rule.id):
                self.assertEqual([step.names for step in left if step.names], [], now.steps)

    def test_what_stands_there_is_used_by_a_step(self):
        for rule in self.cases:
            was = pot_of(rule.test_line)
            now = swapped(was, rule)
            method = read_method(now)
            with self.subTest(rule.id):
                self.assertEqual([now.lines[at].text for at in method.unnamed], [], now.steps)
                self.assertEqual([line.text for line in whole_dish(now).added], [], now.steps)

    def test_a_preparation_is_printed_once(self):
        for rule in self.cases:
            made = preparations().get(rule.id)
            if not made or made.made == NONE:
                continue
            now = swapped(pot_of(rule.test_line), rule)
            with self.subTest(rule.id):
                self.assertEqual(sum(f"or the {made.called}, " in step for step in now.steps), 1, now.steps)

    def test_telling_again_changes_nothing(self):
        for rule in self.cases:
            was = pot_of(rule.test_line)
            now = swapped(was, rule)
            self.assertEqual(told(was, now), now, rule.id)
            self.assertEqual(told(was, now.with_lines(was.lines)).steps, was.steps)


class OfItself(SimpleTestCase):
    """A dish tells its steps by what its lines say they took the place of."""

    def test_as_from_the_dish_as_written(self):
        for rule in sampled(
            [rule for rule in catalog() if rule.test_line and rule.to and not rule.keeps and not _is_of_the_pot(rule)],
            60,
        ):
            was = pot_of(rule.test_line)
            now = was.with_lines(taken(was.lines, 0, rule))
            with self.subTest(rule.id):
                self.assertEqual(
                    told(now), told(was, now.with_lines(keyed(now.lines, "n", [line.key for line in was.lines]))).steps
                )
                self.assertEqual(told(replace(now, steps=told(now))), told(now))

    def test_of_a_dish_nobody_changed_the_steps_as_they_are(self):
        self.assertEqual(told(pot_of("2 onions")), pot_of("2 onions").steps)


class Preparations(SimpleTestCase):
    def test_every_rule_of_several_foods_says_what_is_made(self):
        several = {rule.id for rule in catalog() if len(rule.to) + (rule.keeps > 0) > 1}
        self.assertEqual(several, preparations().keys() - methods().keys())

    def test_each_says_what_it_makes_of_all_of_its_foods(self):
        for rule_id, made in preparations().items():
            if rule_id in methods():
                continue
            rule = RULES[rule_id]
            count = len(rule.to) + (rule.keeps > 0)
            with self.subTest(rule_id):
                self.assertEqual(made.made == NONE, not made.called)
                self.assertEqual(bool(made.step), made.made != NONE)
                if made.step:
                    self.assertTrue(all(f"{{{at}}}" in made.step for at in range(count)), made.step)
                    self.assertEqual(made.step.count("{"), count)

    def test_when_it_is_made(self):
        was = read_recipe(
            "Ices\nServes 4\n500 ml ice cream\n2 peaches\nMethod\nSlice the peaches.\nScoop the ice cream over the peaches."
        )
        now = swapped(was, RULES["icecream-sweet-sorbet"])
        self.assertTrue(now.steps[0].startswith("The evening before: for the coconut ice, "), now.steps)
        self.assertEqual(now.steps[2], "Scoop the coconut ice over the peaches.")
        just_before = swapped(
            read_recipe("Stew\nServes 4\n200 ml red wine\n500 g carrots\nMethod\nFry the carrots.\nPour in the wine."),
            RULES["wine-sour-mix"],
        )
        self.assertEqual(
            [step.split(",")[0] for step in just_before.steps],
            ["Fry the carrots.", "For the sharpened stock", "Pour in the sharpened stock."],
        )

    def test_what_the_kitchen_does_and_no_step_says_is_a_step(self):
        was = read_recipe(
            "Roots\nServes 4\n500 g potatoes\n300 g beets\n1 tbsp oil\nMethod\nRoast the potatoes and beets in the oil."
        )
        now = told(
            was, was.with_lines(treated(line, "boiled-twice") if "oil" not in line.text else line for line in was.lines)
        )
        self.assertEqual(
            now.steps[0],
            "Cut the potato and the beet small, boil in plenty of water, pour it off, and boil again in fresh water.",
        )
        self.assertEqual(now.steps[1:], was.steps)

    def test_of_it_something_was_taken_away_its_foods_keep_their_names(self):
        was = pot_of("1 egg")
        now = swapped(was, RULES["egg-binds-mix"])
        less = told(was, now.with_lines(line for line in now.lines if line.text != "water"))
        self.assertEqual(made_of([less.lines[0]]).name, "flaxseed")
        self.assertFalse(any("flax gel" in step for step in less.steps), less.steps)


class Removed(SimpleTestCase):
    #: (step, what is left out, the step then)
    CASES = (
        (
            "Fry the onion, the carrot and the celery in the oil.",
            "1 onion",
            "Fry the carrot and the celery in the oil.",
        ),
        (
            "Fry the onion, the carrot and the celery in the oil.",
            "1 carrot",
            "Fry the onion and the celery in the oil.",
        ),
        (
            "Fry the onion, the carrot and the celery in the oil.",
            "2 stalks celery",
            "Fry the onion and the carrot in the oil.",
        ),
        (
            "Fry the onion, add the cream and simmer for 5 minutes.",
            "200 ml cream",
            "Fry the onion and simmer for 5 minutes.",
        ),
        ("Melt the butter in a pan and fry the onion.", "30 g butter", "Fry the onion."),
        ("Top with the grated cheese and bake until brown.", "80 g cheddar", "Bake until brown."),
        ("Season with salt and pepper.", "1 tsp salt", "Season with pepper."),
        ("Serve with lemon wedges and a spoonful of sour cream.", "100 ml sour cream", "Serve with lemon wedges."),
        ("Stir in the cream.", "200 ml cream", NOTHING_LEFT),
        ("Stir in the cream. Simmer for an hour.", "200 ml cream", "Simmer for an hour."),
        ("Whisk the flour, 2 eggs and the milk to a batter.", "2 eggs", "Whisk the flour and the milk to a batter."),
    )

    def test_a_list_closes_and_an_emptied_clause_goes(self):
        for step, line, wanted in self.CASES:
            with self.subTest(step, without=line):
                self.assertEqual(steps_now([step], [(read_line(line), "")])[0].now, wanted)

    def test_several_at_once(self):
        lines = [(read_line(text), "") for text in ("1 onion", "2 stalks celery")]
        step = "Fry the onion, the carrot and the celery in the oil."
        self.assertEqual(steps_now([step], lines)[0].now, "Fry the carrot in the oil.")

    @given(
        st.lists(st.sampled_from(("onion", "carrot", "leek", "celery", "turnip")), min_size=1, max_size=5, unique=True),
        st.data(),
    )
    def test_what_stays_stands_as_it_stood(self, names, data):
        """Of a list of any length any part can go: the rest is a list in its order."""
        gone = data.draw(st.sets(st.sampled_from(names)))
        said = " and ".join(filter(None, (", ".join(f"the {name}" for name in names[:-1]), f"the {names[-1]}")))
        changed = [(read_line(f"1 {name}"), "") for name in gone]
        stays = [read_line(f"1 {name}") for name in names if name not in gone]
        now = steps_now([f"Chop {said} and fry until soft."], changed, stays)[0].now
        left = [name for name in names if name not in gone]
        self.assertEqual([word.strip(",.") for word in now.split() if word.strip(",.") in names], left)
        self.assertIn("ry until soft.", now)
        self.assertFalse(any(name in now for name in gone))


class WrittenAnew(SimpleTestCase):
    WAS = read_recipe("Pot\nServes 2\n100 g butter\n300 g leeks\nMethod\nMelt the butter.\nAdd the leeks.\nServe.")

    def anew(self, *pairs, lines=None):
        now = replace(self.WAS, rewritten=pairs)
        return told(self.WAS, now.with_lines(lines) if lines else now)

    def test_a_step_is_as_somebody_wrote_it(self):
        now = self.anew(("Add the leeks.", "Add the leeks and a bay leaf."))
        self.assertEqual(now.steps, ("Melt the butter.", "Add the leeks and a bay leaf.", "Serve."))
        self.assertEqual([line.text for line in whole_dish(now).added], ["bay leaf"])
        self.assertEqual([step.was for step in telling(self.WAS, now)], ["", "Add the leeks.", ""])

    def test_it_follows_the_dish(self):
        oil = replace(read_line("2 tbsp olive oil"), key=self.WAS.lines[0].key)
        now = self.anew(("Melt the butter.", "Brown the butter lightly."), lines=[oil, self.WAS.lines[1]])
        self.assertEqual(now.steps[0], "Brown the olive oil lightly.")

    def test_one_may_be_added_or_left_out(self):
        now = self.anew(("", "Let it rest."), ("Serve.", ""))
        self.assertEqual(now.steps, ("Melt the butter.", "Add the leeks.", "Let it rest."))
        told_ = telling(self.WAS, now)
        self.assertEqual(
            [(step.text, step.is_out) for step in told_],
            [("Melt the butter.", False), ("Add the leeks.", False), ("Serve.", True), ("", False)],
        )

    def test_it_is_kept(self):
        now = self.anew(("Serve.", "Serve hot."))
        self.assertEqual(from_data(to_data(now)), now)


class WrittenOut(SimpleTestCase):
    """A way written to a file and read again as plain words, without what this house adds for itself, opens the same gates."""

    PLANS = ("low-sodium", "kidney", "diabetes", "vegan", "gluten-free", "dairy-free")

    def cases(self):
        facts = Facts(weight_kg=70, energy_kcal=2000)
        for path, plan in sampled([(path, plan) for path in sorted(RECIPES.glob("*.txt")) for plan in self.PLANS], 14):
            eater = Eater(facts, {plan: {}}, tuple(targets_for(plan, facts)))
            was = read_recipe(path.read_text(encoding="utf-8"), serves=4)
            for way in ways_for(Workbench(was, eater), Wish(ways=1)).ways:
                yield f"{path.stem}, {plan}", eater, told(was, replace(was, lines=way.lines, serves=way.serves))

    def test_any_other_reader_gets_what_was_analyzed(self):
        count = 0
        for name, eater, now in self.cases():
            file = write(now)
            file.pop("additionalProperty")
            here, there = examine(now, eater), examine(read_recipe(json.dumps(file)), eater)
            with self.subTest(name):
                self.assertEqual(*({v.gate.nutrient: v.state for v in each.verdicts} for each in (here, there)))
                self.assertEqual(*({item.tag: item.state for item in each.avoided} for each in (here, there)))
                count += 1
        self.assertGreater(count, 8)
