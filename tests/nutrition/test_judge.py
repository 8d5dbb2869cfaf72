"""One judge: every door gives one state and one set of findings, whatever the dish and whoever eats it."""

import contextlib
import io
import json
import random
from dataclasses import fields
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory

from django.test import SimpleTestCase

from nutrition.food.tags import ALLERGENS
from nutrition.limits.eater import _MERGED, Eater, merged
from nutrition.limits.gates import Target
from nutrition.limits.measured import Measurement
from nutrition.limits.person import KIDNEY_STAGES, MERGED_FACTS
from nutrition.limits.plans import PLANS, Facts, targets_for
from nutrition.limits.plans.common import LIFE_STAGES
from nutrition.meals.library import SAID, Guest, fits, held, shelf
from nutrition.meals.portions import ONE
from nutrition.meals.room import lets_in
from nutrition.meals.table import Seat, Served, lay
from nutrition.meals.together import together
from nutrition.reading.recipe import read_recipe
from nutrition.reading.whole import whole_dish
from nutrition.sheet.examine import examine
from nutrition.sheet.judge import CAUTION, KEPT_OUT, LIMIT, MAY_HAVE, NOTED, Seen
from nutrition.sheet.verdicts import MIND, OPEN, SHUT, STATES, UNSURE, worst
from nutrition.swaps.offers import Workbench
from nutrition.swaps.way_through import _is_through
from tests import IS_FULL
from tests.nutrition import rows_beside

DEMO = Path(__file__).resolve().parents[2] / "demo" / "recipes"
#: Dishes that hold what the demo does not: what steps add, raw egg, alcohol, honey, pine nuts, what nobody knows.
TEXTS = (
    "Carrot pot\nServes 4\n500 g carrots\n1 tsp salt\nMethod\nBoil the carrots.\nScatter with flaked almonds.",
    "Noodle bowl\nServes 2\n200 g rice noodles\n200 g tofu\nMethod\nToss with six tablespoons of soy sauce.",
    "Chocolate cups\nServes 4\n200 g dark chocolate\n3 eggs\n50 g sugar\nMethod\nMelt the chocolate.\nWhisk in the yolks, fold in the whites and chill.",
    "Wine pears\nServes 4\n4 pears\n500 ml red wine\n2 tbsp honey\nMethod\nSimmer for 20 minutes.",
    "Green pasta\nServes 2\n200 g spaghetti\n30 g pine nuts\n40 g Parmesan\n2 tbsp olive oil\nMethod\nBoil the pasta and toss everything.",
    "Odd pot\nServes 2\n100 g flurbl\n200 g carrots\nMethod\nBoil.",
    "Salty pot\nServes 2\n400 g potatoes\n2 tsp salt substitute\nMethod\nBoil the potatoes, then stir in the salt substitute.",
    "Kiwi bowl\nServes 2\n4 kiwis\n200 g plain yogurt\nMethod\nStir.",
    "Sausage beans\nServes 4\n800 g canned kidney beans, drained\n2 onions\n1 tbsp oil\nMethod\nFry the sausages with the onions.\nAdd the beans.",
    "Plain rice\nServes 4\n300 g white rice\nMethod\nBoil.",
)
NOTED_WORDS = ("kiwi", "cow milk", "mango", "peanut", "celery", "pear")
MEDICINES = ("", "lisinopril", "warfarin", "insulin, atorvastatin", "phenelzine", "lithium")


#: So many dishes and people the law is about; every dish is asked with so many of the people unless everything is asked.
DISHES, PEOPLE, ASKED = 200, 60, 3


def dishes():
    """The dishes above, the demo's, and made-up ones of everyday lines with steps that add things."""
    rng = random.Random(25)
    found = [read_recipe(text) for text in TEXTS]
    found += [read_recipe(path.read_bytes(), 4) for path in sorted(DEMO.glob("*.txt"))]
    lines = [row["text"] for row in rows_beside(__file__, "lines.tsv")]
    steps = [row["step"] for row in rows_beside(__file__, "additions.tsv")]
    for number in range(DISHES - len(found)):
        chosen = "\n".join(rng.sample(lines, rng.randint(3, 8)))
        told = "\n".join(rng.sample(steps, rng.randint(1, 3)))
        found.append(read_recipe(f"Pot {number}\nServes {rng.randint(2, 6)}\n{chosen}\nMethod\n{told}"))
    return found


def person(rng, plan=""):
    """Somebody made up, with anything that can be known of a person; who follows `plan` at least, where one is named."""
    keys = tuple(dict.fromkeys((*([plan] if plan else []), *rng.sample(list(PLANS), rng.choice((0, 1, 1, 2))))))
    facts = Facts(
        weight_kg=rng.choice((None, 55, 82)),
        energy_kcal=rng.choice((None, 1800, 2400)),
        plans=keys,
        circumstances=tuple(rng.sample(("severe_allergy", "g6pd", "blood_pressure"), rng.choice((0, 0, 1)))),
        age_years=rng.choice((None, 0.6, 3, 12, 34, 71)),
        life_stage=rng.choice(("", "", "", *LIFE_STAGES)),
        kidney_stage=rng.choice(("", "", *KIDNEY_STAGES)),
        measured=(Measurement("potassium_mmol_l", 5.6, date(2026, 11, 1)),) if rng.random() < 0.2 else (),
        today=date(2026, 11, 20),
        medicines=rng.choice(MEDICINES),
    )
    plans = {key: PLANS[key].choose({}) for key in keys}
    if any("list" in settings for settings in plans.values()) and rng.random() < 0.5:
        plans = {key: {**settings, **({"list": "eu"} if "list" in settings else {})} for key, settings in plans.items()}
    targets = [target for key in keys for target in targets_for(key, facts, plans[key])]
    targets += rng.sample(
        (
            Target("sodium_mg", maximum=1500),
            Target("fiber_g", minimum=20),
            Target("sugars_g", maximum=9, scope="serving"),
        ),
        rng.choice((0, 1)),
    )
    noted, disliked = (tuple(rng.sample(NOTED_WORDS, rng.choice((0, 0, 1, 2)))) for _ in range(2))
    return Eater(facts, plans, tuple(targets), noted=noted, disliked=disliked)


def may_have(findings):
    return [each for each in findings if each.code in MAY_HAVE]


class OneAnswer(SimpleTestCase):
    def test_at_every_door(self):
        rng, there, plans = random.Random(20261201), dishes(), list(PLANS)
        self.assertEqual(len(there), DISHES)
        people = [person(rng, plans[at % len(plans)] if at < PEOPLE - 15 else "") for at in range(PEOPLE)]
        self.assertEqual({plan for who in people for plan in who.plans}, set(PLANS))
        seen = set()
        by_library = fits(
            shelf([held(dish) for dish in there], ["whole"] * DISHES), [Guest(p) for p in people], "dinner"
        )
        for row, dish in enumerate(there):
            served = Served(dish, "whole")
            for column in range(PEOPLE) if IS_FULL else rng.sample(range(PEOPLE), ASKED):
                who = people[column]
                with self.subTest(dish.title, person=column):
                    sheet = examine(dish, who, "dinner")
                    seen.add(sheet.state)
                    place = lay([served], [Seat("One", who, (ONE,))], "dinner").places[0]
                    self.assertEqual(place.state, sheet.state)
                    self.assertEqual(may_have(place.crossings[0].findings), may_have(sheet.findings))
                    self.assertEqual(by_library[row, column], SAID[sheet.state])
                    self.offers_and_ways_agree(dish, who, sheet)
                    self.planner_agrees(dish, who, sheet)
        self.assertEqual(seen, set(STATES))

    def offers_and_ways_agree(self, dish, who, sheet):
        bench = Workbench(dish, who, "dinner")
        self.assertEqual([v.state for v in bench.verdicts], [f.state for f in sheet.findings if f.code == LIMIT])
        shut = {f.about for f in sheet.findings if f.code == KEPT_OUT and f.state == SHUT}
        self.assertEqual(set(bench.kept_out_of(dish.lines)), shut)
        through = _is_through(bench, whole_dish(dish).lines, True) is not None
        self.assertEqual(through, not shut and all(v.state == OPEN for v in sheet.verdicts))

    def planner_agrees(self, dish, who, sheet):
        may, by_label, minds = lets_in(who, Seen(whole_dish(dish)))
        named = [
            f
            for f in may_have(sheet.findings)
            if f.state == SHUT or (f.code in (NOTED, "disliked") and f.state != OPEN)
        ]
        self.assertEqual(may, not named)
        if may:
            self.assertEqual(
                set(by_label), {f.about for f in sheet.findings if f.code == KEPT_OUT and f.state == UNSURE}
            )
            self.assertEqual(set(minds), {f.about for f in sheet.findings if f.code == CAUTION and f.state == MIND})

    def test_on_the_command_line(self):
        """analyze and meal print the findings alike."""
        from nutrition.__main__ import main

        with TemporaryDirectory() as folder:
            path = Path(folder) / "pot.txt"
            path.write_text(TEXTS[0])
            who = [
                "--diet",
                "free-of:tree_nut",
                "--diet",
                "kidney",
                "--kidney-stage",
                "4",
                "--age-years",
                "70",
                "--allergies",
                "kiwi",
            ]
            said = []
            for command in ("analyze", "meal"):
                out = io.StringIO()
                with contextlib.redirect_stdout(out):
                    self.assertEqual(main([command, str(path), *who, "--json"]), 0)
                said.append(json.loads(out.getvalue()))
        one, meal = said[0], said[1]["eaters"][0]
        decided = [each for each in one["findings"] if each["code"] in MAY_HAVE]
        self.assertEqual(decided, meal["dishes"][0]["findings"])
        self.assertEqual(one["state"], meal["state"])
        [nut] = [each for each in decided if each["about"] == "tree_nut"]
        self.assertEqual((nut["code"], nut["state"], nut["lines"], nut["step"]), ("kept_out", "unsure", [], 2))
        self.assertEqual(meal["verdict"], "unsure")

    def test_worst(self):
        self.assertEqual(worst(STATES), SHUT)
        self.assertEqual(
            [worst((a, b)) for a in STATES for b in STATES], [STATES[max(i, j)] for i in range(4) for j in range(4)]
        )


class Merged(SimpleTestCase):
    """Several people as one: no field of theirs is forgotten, and nothing said to one of them is lost."""

    def test_every_field_is_named(self):
        self.assertEqual(set(MERGED_FACTS), {each.name for each in fields(Facts)})
        self.assertEqual(set(_MERGED), {each.name for each in fields(Eater)})

    def test_nothing_that_one_may_not_have_is_let_in(self):
        rng = random.Random(77)
        for dish in dishes()[::3]:
            eaters = [person(rng) for _ in range(3)]
            everybody = {(f.code, f.about): f.state for f in may_have(examine(dish, merged(eaters)).findings)}
            for who in eaters:
                for each in may_have(examine(dish, who).findings):
                    with self.subTest(dish.title, about=each.about):
                        stands = everybody.get((each.code, each.about), OPEN)
                        hidden = each.code == CAUTION and (each.code, each.about) not in everybody
                        self.assertTrue(hidden or STATES.index(stands) >= STATES.index(each.state), (stands, each))

    def test_a_way_for_a_table_keeps_potassium_salt_from_weak_kidneys(self):
        """A stage known of one person protects the pot of all: what the bench refuses them no way for a table brings in."""
        salty = read_recipe("Pot\nServes 2\n400 g cabbage\n2 tsp salt\nMethod\nSimmer with the salt.")
        weak = Eater(Facts(70, kidney_stage="4"), targets=(Target("sodium_mg", maximum=500, scope="meal"),))
        other = Eater(Facts(70), targets=(Target("sodium_mg", maximum=500, scope="meal"),))
        table = lay([Served(salty)], [Seat("Weak", weak, (ONE,)), Seat("Other", other, (ONE,))])
        everybody = together(table, 0)
        self.assertEqual(everybody.facts.kidney_stage, "4")
        self.assertTrue(Workbench(salty, everybody).limits_potassium)
        self.assertFalse(Workbench(salty, other).limits_potassium)

    def test_the_strictest_of_each(self):
        one = Eater(Facts(70, age_years=40, medicines="warfarin"), region="eu", noted=("kiwi",), list_of_allergens="eu")
        two = Eater(Facts(9, age_years=0.7, kidney_stage="2"), region="us", disliked=("liver",))
        both = merged([one, two])
        self.assertEqual((both.facts.weight_kg, both.facts.age_years, both.facts.kidney_stage), (9, 0.7, "2"))
        self.assertLessEqual({"warfarin", "under_one", "no_alcohol"}, set(both.facts.circumstances))
        self.assertEqual((both.noted, both.disliked, both.allergen_list), (("kiwi",), ("liver",), "us"))
        self.assertEqual(merged([one, one]).allergen_list, "eu")
        self.assertEqual(merged([]), Eater())


class WhoeverMakesTheValue(SimpleTestCase):
    def test_circumstances_follow_from_everything_known(self):
        for facts, key in (
            (Facts(age_years=0.5), "under_one"), (Facts(age_years=4), "low_immunity"), (Facts(age_years=80), "older"),
            (Facts(age_years=15), "no_alcohol"), (Facts(life_stage="pregnant-1"), "pregnant"), (Facts(medicines="ramipril 5 mg"), "raises_potassium"),
            (Facts(kidney_stage="transplant"), "weak_kidneys"), (Facts(circumstances=("g6pd",)), "g6pd"),
        ):  # fmt: skip
            with self.subTest(key):
                self.assertIn(key, facts.circumstances)
        self.assertEqual(Facts(age_years=40, kidney_stage="1").circumstances, ())

    def test_a_listed_allergen_noted_in_words_is_kept_out(self):
        dish = read_recipe("Cups\nServes 2\n200 ml whole milk\n50 g sugar\nMethod\nWarm the milk with the sugar.")
        sheet = examine(dish, Eater(noted=("cow milk", "kiwi")))
        [milk] = [each for each in sheet.findings if each.about == "milk"]
        self.assertEqual((milk.code, milk.state), (KEPT_OUT, SHUT))
        self.assertEqual([each.about for each in sheet.findings if each.code == NOTED], ["kiwi"])

    def test_what_a_step_adds_is_unknown_and_never_zero(self):
        dish = read_recipe(TEXTS[1])
        sheet = examine(dish, Eater(targets=(Target("sodium_mg", maximum=5000, scope="serving"),)))
        [sodium] = sheet.verdicts
        self.assertEqual((sodium.state, sodium.at_most), (UNSURE, float("inf")))
        self.assertEqual({f.tag for f in sheet.allergens if f.verdict != "contains"} & {"soy", "wheat"}, {"wheat"})
        self.assertTrue(set(ALLERGENS) >= {f.tag for f in sheet.allergens})
