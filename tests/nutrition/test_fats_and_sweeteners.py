"""What fat is made of, and sweeteners that are no sugar: unknown is unknown, and each school counts its own carbohydrate."""

import math
from unittest import TestCase

import nutrition
from nutrition.food.fats import FITS, MONO, OMEGA_3, OMEGA_6, POLY, TRANS
from nutrition.food.nutrients import INDEX
from nutrition.food.own import OwnFood, with_own
from nutrition.food.table import foods


def per_100g(food, key, table=None):
    """(least, likely, most)."""
    table = table or foods()
    row = table.by_description(food).row
    sides = (table.at_least_per_100g, table.per_100g, table.at_most_per_100g)
    return tuple(float(side[row, INDEX[key]]) for side in sides)


class Fats(TestCase):
    def test_olive_oil_is_monounsaturated_and_a_dish_is_not_known(self):
        low, likely, high = per_100g("Oil, olive, salad or cooking", MONO)
        self.assertTrue(60 < low < likely < high < 85)
        for key in (MONO, POLY, OMEGA_3, OMEGA_6, TRANS):
            low, likely, high = per_100g("Salad dressing, ranch dressing, regular", key)
            self.assertEqual(low, 0, key)
            self.assertTrue(math.isnan(likely), key)
            self.assertGreater(high, 20, key)

    def test_no_fat_holds_no_part_of_it(self):
        self.assertEqual(per_100g("Sugars, granulated", OMEGA_3), (0, 0, 0))

    def test_what_is_hydrogenated_is_not_known_to_hold_no_trans_fat(self):
        low, likely, high = per_100g("Shortening, vegetable, household, composite", TRANS)
        self.assertEqual(low, 0)
        self.assertTrue(math.isnan(likely) or likely > 0)
        self.assertGreater(high, 20)

    def test_a_word_within_a_word_is_no_food(self):
        """“peel” is no eel, and a potato with butter holds no fish oil."""
        self.assertTrue(math.isnan(per_100g("Potato, baked, peel eaten, with butter", OMEGA_3)[1]))

    def test_parts_never_make_more_than_the_fat(self):
        table = foods()
        fat, saturated, mono, poly = (table.per_100g[:, INDEX[key]] for key in ("fat_g", "saturated_fat_g", MONO, POLY))
        told = ~(np_isnan(saturated) | np_isnan(mono) | np_isnan(poly))
        self.assertGreater(told.sum(), 1000)
        beyond = told & (saturated + mono + poly > FITS[1] * fat + 0.1)
        self.assertEqual([table.descriptions[row] for row in beyond.nonzero()[0]], [])

    def test_a_label_that_prints_trans_fat_speaks_first(self):
        spread = OwnFood(
            "own:1", "Spread, own", "Margarine", "label", {"fat_g": 60, TRANS: 0.5}, spans={TRANS: (0.25, 0.75)}
        )
        table = with_own([spread])
        self.assertEqual(per_100g("Spread, own", TRANS, table), (0.25, 0.5, 0.75))
        self.assertTrue(math.isnan(per_100g("Spread, own", MONO, table)[1]))


class Sweeteners(TestCase):
    def test_what_each_school_counts(self):
        """EU 1169/2011 Annex XIV: erythritol 0 kcal/g; FDA 2020: allulose 0.4; other polyols half (common practice)."""
        for food, total, available, net in (
            ("Sugars, granulated", 99.6, 99.6, 99.6),
            ("Erythritol", 100, 0, 0),
            ("Allulose", 98, 0, 0),
            ("Xylitol", 100, 100, 50),
        ):
            with self.subTest(food):
                self.assertAlmostEqual(per_100g(food, "carbohydrate_g")[1], total, delta=0.6)
                self.assertAlmostEqual(per_100g(food, "available_carbohydrate_g")[1], available, delta=0.6)
                self.assertAlmostEqual(per_100g(food, "net_carbohydrate_g")[1], net, delta=0.6)

    def test_erythritol_for_sugar_raises_no_gate_of_a_school_that_does_not_count_it(self):
        for count, may_rise in (("net", False), ("less-fiber", False), ("total", True)):
            key = {"net": "net_carbohydrate_g", "less-fiber": "available_carbohydrate_g", "total": "carbohydrate_g"}[
                count
            ]
            with_sugar, without = (
                nutrition.analyze(
                    nutrition.Dish("", 4, (nutrition.read_line("200 g flour"), nutrition.read_line(line)))
                ).amount(key)
                for line in ("100 g sugar", "130 g erythritol")
            )
            self.assertEqual(without > with_sugar, may_rise, count)

    def test_a_list_that_names_polyols_leaves_what_counts_open(self):
        """Between all of it erythritol, which does not count, and none of it: the figures span both."""
        bar = OwnFood(
            "own:1",
            "Bar, own",
            "Cereal bars",
            "label",
            {"carbohydrate_g": 40, "fiber_g": 5},
            ingredients="oats, maltitol, salt",
        )
        low, likely, high = per_100g("Bar, own", "net_carbohydrate_g", with_own([bar]))
        self.assertEqual((low, high), (15, 35))
        self.assertTrue(math.isnan(likely))

    def test_wine_in_a_list_hides_no_polyol(self):
        jam = OwnFood(
            "own:1",
            "Relish, own",
            "Jams, syrups, toppings",
            "label",
            {"carbohydrate_g": 40},
            ingredients="plums, wine vinegar, maltitol",
        )
        low, likely, high = per_100g("Relish, own", "polyols_g", with_own([jam]))
        self.assertEqual((low, high), (0, 40))
        self.assertTrue(math.isnan(likely))

    def test_a_label_that_prints_its_polyols_is_counted_by_them(self):
        bar = OwnFood(
            "own:1",
            "Bar, own",
            "Cereal bars",
            "label",
            {"carbohydrate_g": 40, "fiber_g": 5, "polyols_g": 10},
            ingredients="oats, maltitol, salt",
        )
        self.assertEqual(per_100g("Bar, own", "net_carbohydrate_g", with_own([bar])), (30, 30, 30))

    def test_a_food_without_them_holds_none(self):
        self.assertEqual(per_100g("Bananas, raw", "polyols_g"), (0, 0, 0))
        self.assertTrue(math.isnan(per_100g("Chocolate candy, sugar free", "polyols_g")[1]))


def np_isnan(values):
    return values != values
