"""Days: sums of meals by hand, published day patterns, steady carbohydrate, meals that stand close together, batches that last."""

from datetime import date

from django.test import SimpleTestCase

from nutrition.food.nutrients import INDEX
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.plans import PLANS, Facts, targets_for
from nutrition.meals.day import day_of
from nutrition.meals.leftovers import Batch, Use, batch_of
from nutrition.meals.portions import Portion
from nutrition.meals.room import of_one
from nutrition.meals.snacks import snacks_for
from nutrition.meals.table import Seat, Served, lay
from nutrition.reading.recipe import read_recipe
from nutrition.sheet.verdicts import OPEN, SHUT


def meal(*lines):
    return Served(read_recipe("A meal\nServes 1\n" + "\n".join(lines)))


def day(eater, at=None, **meals):
    """Meals as lists of ingredient lines for one."""
    places = {
        name: lay([meal(*lines)], [Seat("Ada", eater, (Portion.of(1),))], name).places[0]
        for name, lines in meals.items()
    }
    return day_of(eater, places, at)


def follower(*keys, **facts):
    known = Facts(plans=keys, **facts)
    return Eater(
        known, {key: PLANS[key].choose({}) for key in keys}, tuple(t for key in keys for t in targets_for(key, known))
    )


class AMealOfItsOwn(SimpleTestCase):
    def test_what_a_meal_asks_for_at_least_counts_in_its_day(self):
        """A floor of each meal: a day is no better than its breakfast; a share of the day's floor is a habit, and shuts nothing."""
        for scope, state in (("meal", SHUT), ("day", OPEN)):
            eater = Eater(Facts(), {}, (Target("protein_g", minimum=25, scope=scope),))
            found = day(eater, breakfast=["100 g apple"])
            with self.subTest(scope):
                self.assertEqual((found.places["breakfast"].on_its_own, found.state), (state, state))


#: USDA Healthy US-Style Dietary Pattern at 2,000 kcal: fruit 2 cups, vegetables 2½ cups, grains 6 oz-eq (half whole), dairy 3 cups, protein
#: foods 5½ oz-eq, oils 27 g; 240 kcal of other uses left out (Dietary Guidelines for Americans 2020-2025, table A3-2).
PATTERN = {
    "breakfast": ("40 g rolled oats", "240 ml skim milk", "150 g blueberries"),
    "lunch": (
        "60 g whole wheat bread",
        "85 g cooked chicken breast",
        "100 g romaine lettuce",
        "90 g tomatoes",
        "14 g olive oil",
        "150 g orange",
    ),
    "dinner": (
        "70 g cooked salmon",
        "160 g cooked brown rice",
        "150 g cooked broccoli, without salt",
        "150 g cooked carrots, without salt",
        "13 g olive oil",
        "240 ml skim milk",
    ),
    "snack": ("240 g plain low-fat yogurt", "100 g banana"),
}


class Patterns(SimpleTestCase):
    def test_the_pattern_of_the_dietary_guidelines(self):
        """What the pattern is built to hold: about 1,760 kcal without its other uses, fiber 31 g, saturated fat under 10 %, sodium
        under 2,300 mg, potassium above 3,000 mg (nutrients of the pattern, DGA 2020-2025 supporting data, from memory)."""
        holds = day(Eater(), **PATTERN).holds[1]
        amount = {
            key: holds[INDEX[key]]
            for key in ("energy_kcal", "fiber_g", "saturated_fat_g", "sodium_mg", "potassium_mg", "protein_g")
        }
        self.assertTrue(1500 < amount["energy_kcal"] < 1950, amount)
        self.assertTrue(22 < amount["fiber_g"] < 38, amount)
        self.assertLess(9 * amount["saturated_fat_g"] / amount["energy_kcal"], 0.10)
        self.assertLess(amount["sodium_mg"], 2300)
        self.assertGreater(amount["potassium_mg"], 3000)
        self.assertTrue(75 < amount["protein_g"] < 120, amount)

    def test_its_day_is_through_where_its_limits_are_set(self):
        found = day(follower("low-sodium", "heart", energy_kcal=2000), **PATTERN)
        self.assertTrue(found.is_whole)
        states = {verdict.gate.nutrient: verdict.state for verdict in found.verdicts}
        self.assertEqual(states["sodium_mg"], OPEN)
        self.assertEqual(states["saturated_fat_g"], OPEN)

    def test_servings_of_dash(self):
        """DASH at 2,000 kcal: 6 to 8 grains, 4 to 5 vegetables and fruits each, 2 to 3 low-fat dairy, nuts (NHLBI, Your Guide to Lowering Your
        Blood Pressure with DASH): sodium stays under 2,300 mg, potassium comes to 4,000 mg and more, fiber to 28 g and more."""
        found = day(
            follower("dash", energy_kcal=2000),
            breakfast=("60 g whole wheat bread", "150 g banana", "240 ml skim milk", "150 g orange"),
            lunch=(
                "60 g whole wheat bread",
                "85 g cooked chicken breast",
                "100 g spinach",
                "120 g tomatoes",
                "10 g olive oil",
                "150 g apple",
            ),
            dinner=(
                "160 g cooked brown rice",
                "85 g cooked salmon",
                "180 g baked potato",
                "150 g cooked broccoli, without salt",
                "10 g olive oil",
            ),
            snack=("240 g plain low-fat yogurt", "40 g raisins", "30 g almonds"),
        )
        verdicts = {verdict.gate.nutrient: verdict for verdict in found.verdicts}
        self.assertEqual(verdicts["sodium_mg"].state, OPEN)
        holds = found.holds[1]
        self.assertGreater(holds[INDEX["potassium_mg"]], 4000)
        self.assertGreater(holds[INDEX["fiber_g"]], 28)

    def test_four_carbohydrate_choices_a_meal_are_steady(self):
        """60 g at each main meal, four choices of 15 g (ADA and Academy of Nutrition and Dietetics, Choose Your Foods): 100 g of dry oats hold
        about 68 g, 220 g of cooked white rice 62 g, 125 g of bread 61 g."""
        steady = day(
            follower("diabetes", energy_kcal=2000),
            breakfast=["90 g rolled oats"],
            lunch=["125 g white bread"],
            dinner=["220 g cooked white rice"],
        ).steady
        self.assertTrue(steady.is_steady, steady.amounts)
        uneven = day(
            follower("diabetes", energy_kcal=2000),
            breakfast=["45 g rolled oats"],
            lunch=["125 g white bread"],
            dinner=["220 g cooked white rice"],
        ).steady
        self.assertFalse(uneven.is_steady)
        self.assertIsNone(
            day(follower("low-sodium"), breakfast=["45 g rolled oats"], lunch=["125 g white bread"]).steady
        )


class Sums(SimpleTestCase):
    limits = (
        Target("potassium_mg", maximum=2000),
        Target("energy_kcal", minimum=1800, maximum=2200),
        Target("sodium_mg", maximum=600, scope="meal"),
    )

    def test_a_day_is_the_sum_of_its_meals(self):
        """Carrots raw 320 mg, cooked white rice 35 mg of potassium per 100 g (USDA SR Legacy)."""
        found = day(Eater(targets=self.limits), breakfast=["200 g carrots"], dinner=["300 g cooked white rice"])
        self.assertAlmostEqual(found.holds[1, INDEX["potassium_mg"]], 640 + 105, delta=2)
        self.assertAlmostEqual(found.left("potassium_mg"), 2000 - 745, delta=2)

    def test_a_floor_waits_until_the_day_is_whole(self):
        eater = Eater(targets=self.limits)
        part = day(eater, breakfast=["200 g carrots"])
        self.assertEqual([v.state for v in part.verdicts], [OPEN, OPEN])
        [(gate, missing)] = part.to_come
        self.assertEqual(gate.nutrient, "energy_kcal")
        self.assertAlmostEqual(missing, 1800 - 82, delta=3)
        whole = day(eater, breakfast=["200 g carrots"], lunch=["200 g carrots"], dinner=["200 g carrots"])
        self.assertEqual(
            {v.gate.nutrient: v.state for v in whole.verdicts}, {"potassium_mg": OPEN, "energy_kcal": SHUT}
        )

    def test_a_meal_over_its_own_limit_shuts_the_day_and_one_over_its_share_does_not(self):
        eater = Eater(targets=self.limits)
        self.assertEqual(day(eater, breakfast=["2 g salt", "200 g carrots"]).state, SHUT)
        greedy = day(Eater(targets=(Target("potassium_mg", maximum=2000),)), breakfast=["300 g carrots"])
        self.assertEqual(greedy.places["breakfast"].verdicts[0].state, SHUT)  # 960 of a quarter of 2,000
        self.assertEqual(greedy.state, OPEN)

    def test_the_order_of_meals_changes_nothing(self):
        eater = Eater(targets=self.limits)
        one = day(eater, dinner=["300 g rice"], breakfast=["200 g carrots"])
        other = day(eater, breakfast=["200 g carrots"], dinner=["300 g rice"])
        self.assertEqual(list(one.places), ["breakfast", "dinner"])
        self.assertTrue((one.holds == other.holds).all())

    def test_meals_close_together_add_up_in_the_gut(self):
        eater = Eater(targets=(Target("oligosaccharide_load", maximum=1.0, scope="meal"),))
        meals = {"lunch": ["5 g onion"], "snack": ["5 g onion"]}
        near, far = ({"lunch": 750.0, "snack": 750.0 + minutes} for minutes in (120, 240))
        loads = [
            float(place.spread[2, :, INDEX["oligosaccharide_load"]].sum())
            for place in day(eater, near, **meals).places.values()
        ]
        self.assertTrue(0.5 < loads[0] <= 1.0, loads)
        [stack] = day(eater, near, **meals).stacks
        self.assertEqual((stack.nutrient, stack.meals), ("oligosaccharide_load", ("lunch", "snack")))
        self.assertAlmostEqual(stack.load, sum(loads))
        self.assertEqual(day(eater, far, **meals).stacks, [])


class Snacks(SimpleTestCase):
    def test_they_stay_within_what_is_left_and_bring_what_is_lacking_first(self):
        eater = Eater(
            targets=(
                Target("sodium_mg", maximum=1500),
                Target("fiber_g", minimum=30),
                Target("energy_kcal", maximum=1000),
            )
        )
        found = day(eater, breakfast=["100 g rolled oats", "3 g salt"])
        snacks = snacks_for(found)
        self.assertTrue(snacks)
        for snack in snacks:
            unit = of_one(snack.fits.food.one)
            for key in ("sodium_mg", "energy_kcal"):
                self.assertLessEqual(snack.fits.count * unit.at_most[INDEX[key]], found.left(key) + 1e-6)
        brings = [sum(snack.brings.values()) for snack in snacks if not snack.fits.by_label]
        self.assertEqual(brings, sorted(brings, reverse=True))
        self.assertGreater(brings[0], 0.1)

    def test_nothing_on_a_day_past_a_limit_and_nothing_for_nobody(self):
        self.assertEqual(snacks_for(day(Eater(targets=(Target("sodium_mg", maximum=500),)), lunch=["3 g salt"])), [])
        self.assertEqual(snacks_for(day(Eater(), lunch=["3 g salt"])), [])

    def test_nothing_kept_out(self):
        eater = Eater(
            follower("free-of:milk").facts, follower("free-of:milk").plans, (Target("sodium_mg", maximum=1500),)
        )
        self.assertFalse(
            {"small glass of milk", "thin slice of cheddar"}
            & {snack.fits.food.one for snack in snacks_for(day(eater, lunch=["100 g rice"]), most=99)}
        )


class Batches(SimpleTestCase):
    monday, tuesday, friday, next_week = date(2026, 11, 23), date(2026, 11, 24), date(2026, 11, 27), date(2026, 11, 30)

    def batch(self, *uses, made=8.0):
        return Batch(self.monday, made, tuple(Use(on, servings) for on, servings in uses), 4, 3)

    def test_a_portion_is_counted_once(self):
        """Eight cooked, four tonight, two on Thursday, two left."""
        batch = self.batch((self.monday, 4), (self.friday, 2))
        self.assertEqual((batch.eaten, batch.rest, batch.too_late), (6, 2, ()))
        self.assertEqual((batch.eat_by, batch.frozen_until), (self.friday, date(2027, 2, 23)))

    def test_past_its_days_it_comes_from_the_freezer(self):
        self.assertEqual(
            [use.on for use in self.batch((self.monday, 4), (self.next_week, 2)).too_late], [self.next_week]
        )

    def test_more_than_there_is_and_before_it_was_cooked(self):
        self.assertEqual(self.batch((self.monday, 6), (self.tuesday, 3)).rest, -1)
        self.assertEqual(len(self.batch((date(2026, 11, 20), 1)).too_early), 1)

    def test_months_end(self):
        self.assertEqual(Batch(date(2026, 11, 30), 1, (), 3, 3).frozen_until, date(2027, 2, 28))
        self.assertEqual(Batch(date(2026, 12, 31), 1, (), 3, 12).frozen_until, date(2027, 12, 31))
        self.assertIsNone(Batch(self.monday, 1, (), 3, 0).frozen_until)

    def test_keeping_days_come_from_the_rules(self):
        """USDA FSIS: cooked fish keeps 3 to 4 days; UK Food Standards Agency: leftovers within 2 days."""
        stew = read_recipe("Stew\nServes 8\n1 kg beef\n500 g carrots\nMethod\nSimmer for 2 hours.")
        self.assertEqual(batch_of(stew, self.monday, 8, ()).keep_days, 4)
        self.assertEqual(batch_of(stew, self.monday, 8, (), "eu").keep_days, 2)
