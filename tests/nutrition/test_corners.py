"""Decisions of one line that no law near them sees: each falls when its line is turned round (tests/mutations.tsv)."""

from dataclasses import replace

from django.test import SimpleTestCase

from nutrition.dish.cooking import treated
from nutrition.dish.dish import Dish
from nutrition.dish.grams import Grams
from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods
from nutrition.limits.avoid import find
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.medicines import medicines_in
from nutrition.limits.plans import Facts
from nutrition.meals import whole
from nutrition.meals.day import day_of
from nutrition.meals.library import guest_of_day
from nutrition.meals.portions import Portion
from nutrition.meals.splitting import splits
from nutrition.meals.table import Seat, Served, lay
from nutrition.reading.course import course_of
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import analyze_weighed, weighed
from nutrition.sheet.cautions import cautions_for
from nutrition.sheet.examine import examine
from nutrition.sheet.uncooked import uncooked
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE
from nutrition.swaps.offers import Workbench, offers_for
from tools.mutate import ROOT, mutations, turned

ONE = Portion(1.0, 1.0, 1.0)
NONE = Portion(0.0, 0.0, 0.0)


def dish(*lines, steps=(), serves=1.0):
    return Dish("A dish", serves, tuple(read_line(text, serves) for text in lines), steps=tuple(steps))


def at_table(served, eater, portion=ONE, **seat):
    [place] = lay([Served(served, "main")], [Seat("One", eater, (portion,), **seat)], "dinner").places
    return place


class Reminders(SimpleTestCase):
    def test_every_line_that_brings_a_tenth_is_named(self):
        """Vitamin K of a bowl of three greens (USDA: each between a tenth and a half of it)."""
        greens = dish("60 g kale", "60 g spinach", "60 g chard", "100 g cooked white rice")
        shares = examine(greens, Eater()).analysis.shares("vitamin_k_ug")
        self.assertTrue(any(0.1 <= share < 0.5 for share in shares))
        analysis = examine(greens, Eater()).analysis
        [found] = [
            each for each in cautions_for(greens.lines, [], [], ["warfarin"], analysis) if each.key == "vitamin-k"
        ]
        self.assertEqual(found.lines, tuple(at for at, share in enumerate(shares) if share >= 0.1))

    def test_the_same_thing_is_not_said_twice(self):
        fruit = [read_line("1 star fruit, sliced")]
        keys = [each.key for each in cautions_for(fruit, ["kidney"], [], ["weak_kidneys"])]
        self.assertEqual([key for key in keys if key.startswith("star-fruit")], ["star-fruit"])

    def test_what_is_stirred_in_after_the_heat_is_raw(self):
        eggs = [read_line("3 eggs")]
        self.assertEqual(
            uncooked("egg", eggs, ["Stir in two eggs and bake for an hour.", "Stir in the last egg, chill."]), (0,)
        )
        self.assertEqual(uncooked("egg", eggs, ["Stir in an egg.", "Stir in the others and bake for an hour."]), ())

    def test_medicines_joined_by_and(self):
        self.assertEqual([each.words for each in medicines_in("novaxil and warfarin")], ["novaxil", "warfarin"])
        self.assertEqual([each.words for each in medicines_in("novaxil with zorbital")], ["novaxil", "zorbital"])


class ListsOfAllergens(SimpleTestCase):
    """Pine nuts are tree nuts on the US list of 2024 and not on that of EU 1169/2011: there the label decides."""

    NUTS = dish("30 g pine nuts", "100 g cooked white rice")

    def eater(self, which):
        return Eater(plans={"free-of:tree_nut": {"list": which}})

    def test_sheet_and_table(self):
        for which, state in (("us", SHUT), ("eu", UNSURE)):
            with self.subTest(which):
                sheet = examine(self.NUTS, self.eater(which))
                self.assertEqual([each.state for each in sheet.avoided], [state])
                place = at_table(self.NUTS, self.eater(which))
                self.assertEqual((place.crossings[0].state, place.kept[0].state), (state, state))

    def test_a_pot_is_split_before_what_their_own_list_names(self):
        """The two lists disagree about pine nuts: one eater's part comes out before them, the other's label is read."""
        steps = ["Warm the rice.", "Scatter the pine nuts over it."]
        pot = dish("10 g pine nuts", "300 g cooked white rice", steps=steps, serves=2.0)
        for which, without in (("us", [(0,)]), ("eu", [])):
            with self.subTest(which):
                table = lay([Served(pot, "whole")], [Seat("One", self.eater(which), (ONE,))], "dinner")
                self.assertEqual([each.without for each in splits(table, 0)], without)


class AtTheTable(SimpleTestCase):
    MASH = dish("300 g potatoes", steps=["Boil the potatoes.", "Mash them with butter."])

    def test_what_a_step_adds_is_kept_out(self):
        eater = Eater(plans={"free-of:milk": {}})
        place = at_table(self.MASH, eater)
        self.assertEqual((place.crossings[0].state, [each.state for each in place.kept]), (UNSURE, [UNSURE]))
        self.assertEqual([each.state for each in at_table(self.MASH, eater, NONE).kept], [OPEN])

    def test_a_food_noted_in_words(self):
        place = at_table(dish("2 kiwis", "100 g cooked white rice"), Eater(), noted=("kiwi",))
        self.assertNotEqual(place.crossings[0].state, OPEN)
        self.assertEqual(at_table(dish("100 g cooked white rice"), Eater(), noted=("kiwi",)).crossings[0].state, OPEN)


class Sums(SimpleTestCase):
    def test_the_most_that_may_be_left_counts(self):
        """What is poured off leaves the most of its range at most: by line as in all (tables/cooking_methods.tsv)."""
        line = treated(read_line("200 g potatoes"), "boiled-cubed")
        recipe = weighed([line])
        least, most = recipe.spans(1)
        found = analyze_weighed(recipe, 1)
        column, raw = INDEX["potassium_mg"], analyze_weighed(weighed([read_line("200 g potatoes")]), 1)
        self.assertAlmostEqual(found.amount("potassium_mg") / raw.amount("potassium_mg"), 0.5, places=3)
        for amount, share in ((least[0, column], 0.4), (most[0, column], 0.65)):
            bound = raw.interval("potassium_mg")[share > 0.5]
            self.assertAlmostEqual(amount / bound, share, places=3)
        self.assertEqual((least[0, column], most[0, column]), found.interval("potassium_mg"))

    def test_a_line_without_weight_holds_nothing(self):
        self.assertEqual(find([replace(read_line("1 g butter"), weight=Grams(0, 0, 0))]), [])
        self.assertEqual([each.tag for each in find([read_line("1 g butter")])], ["milk"])

    def test_what_a_day_leaves_asks_for_no_least(self):
        eater = Eater(targets=(Target("protein_g", minimum=50, maximum=70),))
        lunch = Served(dish("100 g cooked white rice"), "main")
        [place] = lay([lunch], [Seat("One", eater, (ONE,))], "lunch").places
        guest = guest_of_day(day_of(eater, {"lunch": place}), "dinner")
        gates = [gate for gate in guest.gates("main", "dinner") if gate.nutrient == "protein_g"]
        self.assertEqual([gate.low for gate in gates], [None])

    def test_the_younger_than_one(self):
        for years, is_infant in ((0.5, True), (1.0, False), (None, False)):
            self.assertEqual("under_one" in Facts(age_years=years).circumstances, is_infant, years)


class Steps(SimpleTestCase):
    def test_another_food_named_in_full_is_not_this_one(self):
        lines = [read_line("400 g chicken thighs"), read_line("1 litre chicken stock")]
        found = course_of(["Brown the chicken thighs.", "Pour in the chicken stock."], lines)
        self.assertEqual([[use.line for use in step.uses] for step in found.steps], [[0], [1]])


class Conflicts(SimpleTestCase):
    def test_the_target_that_gave_way_binds_no_more(self):
        at_most = Target("protein_g", plan="kidney", maximum=40)
        at_least = Target("protein_g", plan="enrichment", minimum=80)
        both = {"kidney": {}, "enrichment": {}}
        eater = Eater(Facts(), both, (at_most, at_least))
        [found] = [each for each in eater.conflicts() if "protein_g" in each.nutrients]
        self.assertEqual(eater.standing_targets(), [at_most, at_least])
        for leads, stands in (("kidney", at_most), (at_least.plan, at_least)):
            settled = replace(eater, settled={found.topic: leads})
            self.assertEqual(settled.standing_targets(), [stands])


class WholeTable(SimpleTestCase):
    def test_a_change_that_became_needless_is_taken_back(self):
        """A way found for somebody stricter, before somebody who is through without it."""
        salty = Served(dish("800 g cooked white beans", "2 tsp salt", serves=4.0), "main")

        def table(most):
            eater = Eater(targets=(Target("sodium_mg", maximum=most, scope="meal"),))
            return lay([salty], [Seat("One", eater, (ONE,))], "dinner")

        way = whole._way_of(table(600), 0, 60)
        calm = table(5_000)
        changed = whole._with(calm, whole._settled(calm, calm.dishes, {}), 0, way)
        self.assertEqual([*changed.changed], [0])
        self.assertTrue(whole._needed(calm, changed, {0: way}).is_nothing)


class Offers(SimpleTestCase):
    def test_no_salt_of_potassium_for_weak_kidneys(self):
        salt = next(row for row, name in enumerate(foods().descriptions) if "potassium chloride" in name.lower())
        one = foods().ids[salt]
        bench = dish("300 g potatoes", "1 tsp salt")
        weak = Eater(facts=Facts(circumstances=("weak_kidneys",)))
        self.assertEqual(Workbench(bench, weak).forbidden(one).code, "swaps.potassium_salt")
        self.assertFalse(Workbench(bench, Eater()).forbidden(one))

    def test_the_last_line_is_not_left_out(self):
        eater = Eater(targets=(Target("sodium_mg", maximum=100, scope="serving"),))
        alone, two = dish("1 tsp salt"), dish("1 tsp salt", "300 g potatoes")
        kinds = lambda of: {each.kind for each in offers_for(Workbench(of, eater), 0).offers}  # noqa: E731
        self.assertIn("drop", kinds(two))
        self.assertNotIn("drop", kinds(alone))


class Mutations(SimpleTestCase):
    """tools/mutate.py takes minutes; that its list still speaks of the code as it stands is seen at every run."""

    def test_what_is_turned_round_stands_once(self):
        rows = mutations([])
        self.assertGreater(len(rows), 20)
        for row in rows:
            with self.subTest(row["key"]):
                stands, mutated = turned(row)
                self.assertNotEqual(stands, mutated)
                self.assertEqual((ROOT / row["place"]).read_text(encoding="utf-8").count(stands), 1)
