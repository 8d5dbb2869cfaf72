"""Values, factors and weights against published figures, each with its source beside it.

USDA: FoodData Central, SR Legacy 2018, per 100 g unless a portion is named (published figures, from memory).
"""

import numpy as np
from django.test import SimpleTestCase

from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods
from nutrition.reading.recipe import read_line

#: (food, nutrient, published, tolerance as a share)
USDA = """
Salt, table | sodium_mg | 38758 | 0.001
Bananas, raw | potassium_mg | 358 | 0.01
Potatoes, flesh and skin, raw | potassium_mg | 421 | 0.02
Egg, whole, raw, fresh | protein_g | 12.56 | 0.01
Egg, whole, raw, fresh | phosphorus_mg | 198 | 0.01
Egg, whole, raw, fresh | cholesterol_mg | 372 | 0.02
Leavening agents, baking soda | sodium_mg | 27360 | 0.001
Leavening agents, cream of tartar | potassium_mg | 16500 | 0.001
Leavening agents, baking powder, double-acting, sodium aluminum sulfate | sodium_mg | 10600 | 0.001
Soy sauce made from soy and wheat (shoyu) | sodium_mg | 5493 | 0.01
Butter, salted | energy_kcal | 717 | 0.01
Butter, salted | saturated_fat_g | 51.37 | 0.01
Butter, salted | sodium_mg | 643 | 0.12
Butter, without salt | sodium_mg | 11 | 0.01
Milk, whole | protein_g | 3.27 | 0.05
Milk, whole | phosphorus_mg | 101 | 0.2
Cheese, Cheddar | sodium_mg | 644 | 0.06
Cheese, parmesan, hard | sodium_mg | 1175 | 0.35
Cheese, feta | sodium_mg | 1139 | 0.25
Sugars, granulated | carbohydrate_g | 99.98 | 0.01
Honey | carbohydrate_g | 82.4 | 0.01
Honey | energy_kcal | 304 | 0.01
Oil, olive, salad or cooking | energy_kcal | 884 | 0.01
Oil, olive, salad or cooking | saturated_fat_g | 13.81 | 0.01
Wheat flour, white, all-purpose, enriched, bleached | energy_kcal | 364 | 0.01
Wheat flour, white, all-purpose, enriched, bleached | protein_g | 10.33 | 0.01
Wheat flour, whole-grain | fiber_g | 10.7 | 0.01
Rice, white, long-grain, regular, raw, enriched | energy_kcal | 365 | 0.01
Cornstarch | energy_kcal | 381 | 0.01
Lentils, raw | protein_g | 24.63 | 0.01
Lentils, raw | fiber_g | 10.7 | 0.01
Spinach, raw | potassium_mg | 558 | 0.01
Spinach, raw | vitamin_k_ug | 482.9 | 0.01
Carrots, raw | sodium_mg | 69 | 0.01
Onions, raw | potassium_mg | 146 | 0.01
Garlic, raw | potassium_mg | 401 | 0.01
Tomatoes, red, ripe, raw, year round average | potassium_mg | 237 | 0.01
Avocados, raw, all commercial varieties | potassium_mg | 485 | 0.01
Oranges, raw, all commercial varieties | vitamin_c_mg | 53.2 | 0.01
Apples, raw, with skin | energy_kcal | 52 | 0.01
Nuts, almonds | fat_g | 49.93 | 0.01
Nuts, walnuts, english | energy_kcal | 654 | 0.01
Seeds, chia seeds, dried | fiber_g | 34.4 | 0.01
Fish, salmon, Atlantic, farmed, raw | protein_g | 20.42 | 0.01
Fish, cod, Atlantic, raw | protein_g | 17.81 | 0.01
Fish, anchovy, european, canned in oil, drained solids | sodium_mg | 3668 | 0.01
Chicken, broiler or fryers, breast, skinless, boneless, meat only, raw | protein_g | 22.5 | 0.01
Beef, ground, 80% lean meat / 20% fat, raw | fat_g | 20 | 0.05
Beef, ground, 95% lean meat / 5% fat, raw | fat_g | 5 | 0.05
Tofu, raw, firm, prepared with calcium sulfate | calcium_mg | 683 | 0.01
Spices, pepper, black | potassium_mg | 1329 | 0.01
Cocoa, dry powder, unsweetened | potassium_mg | 1524 | 0.01
Molasses | potassium_mg | 1464 | 0.01
Sweet potato, raw, unprepared | vitamin_a_ug | 709 | 0.01
"""

#: (line, grams) USDA portions and cooks' measures.
PORTIONS = (
    ("1 tsp salt", 6.0), ("1 tsp baking soda", 4.6), ("1 tsp baking powder", 4.6), ("1 cup sugar", 200), ("1 tbsp honey", 21),
    ("1 stick butter", 113.4), ("1 large egg", 50), ("1 egg white", 33), ("1 egg yolk", 17), ("1 cup whole milk", 244),
    ("1 cup all-purpose flour", 125), ("1 tbsp olive oil", 13.6), ("1 clove garlic", 3), ("1 medium banana", 118),
    ("1 medium carrot", 61), ("1 cup cooked white rice", 158), ("1 slice white bread", 28), ("1 cup rolled oats", 81),
    ("1 tbsp peanut butter", 16), ("1 tbsp soy sauce", 16), ("1 cup heavy cream", 238), ("1 tbsp cornstarch", 8),
    ("1 tbsp tomato paste", 16.4), ("1 cup chopped onion", 160), ("1 cup walnuts", 117),
)  # fmt: skip


class Usda(SimpleTestCase):
    def test_values(self):
        for line in USDA.strip().splitlines():
            food, key, published, tolerance = (cell.strip() for cell in line.split("|"))
            with self.subTest(food=food, key=key):
                expected = float(published)
                self.assertAlmostEqual(foods().value(food, key), expected, delta=expected * float(tolerance))

    def test_portions(self):
        for text, grams in PORTIONS:
            with self.subTest(text):
                self.assertAlmostEqual(read_line(text).grams, grams, delta=grams * 0.03)

    def test_a_teaspoon_of_salt(self):
        # 1 tsp of table salt holds 2,325 mg of sodium (USDA; Dietary Guidelines).
        sodium = read_line("1 tsp salt").grams / 100 * foods().value("Salt, table", "sodium_mg")
        self.assertAlmostEqual(sodium, 2325, delta=5)

    def test_a_teaspoon_of_baking_soda(self):
        # 1 tsp, 4.6 g: 1,259 mg of sodium (USDA).
        sodium = (
            read_line("1 tsp baking soda").grams / 100 * foods().value("Leavening agents, baking soda", "sodium_mg")
        )
        self.assertAlmostEqual(sodium, 1259, delta=3)


class Atwater(SimpleTestCase):
    """Merrill and Watt 1973: energy is near 4, 9 and 4 kcal/g of protein, fat and carbohydrate."""

    def test_over_the_whole_table(self):
        table = foods()
        columns = [INDEX[key] for key in ("energy_kcal", "protein_g", "fat_g", "carbohydrate_g", "fiber_g")]
        energy, protein, fat, carbohydrate, fiber = table.per_100g[:, columns].T
        alcohol = np.array([any(w in d.lower() for w in ("alcohol", "wine", "beer", "liqueur", "whiskey", "vanilla extract"))
                            or "iquor" in c or c in ("Beer", "Wine") for d, c in zip(table.descriptions, table.categories, strict=True)])  # fmt: skip
        counted = ~np.isnan(energy + protein + fat + carbohydrate) & ~alcohol
        high = 4 * protein + 9 * fat + 4 * carbohydrate
        low = high - 2 * np.nan_to_num(fiber)  # fiber at 2 kcal/g, EU 1169/2011 Annex XIV
        near = (energy <= high * 1.1 + 8) & (energy >= low * 0.9 - 8)
        self.assertGreater(counted.sum(), 6500)
        self.assertGreaterEqual(near[counted].mean(), 0.96)

    def test_sodium_chloride_and_potassium_chloride_by_formula(self):
        # Standard atomic weights: NaCl 39.34 % sodium (table salt is a little less), KCl 52.45 % potassium.
        self.assertAlmostEqual(foods().value("Salt, table", "sodium_mg") / 1000, 39.34, delta=0.7)
        self.assertLessEqual(foods().value("Salt substitute, potassium chloride", "potassium_mg") / 1000, 52.45)
        # Potassium bitartrate KC4H5O6: 20.8 % by formula; USDA's product holds 16.5 %.
        self.assertLess(foods().value("Leavening agents, cream of tartar", "potassium_mg") / 1000, 20.8)

    def test_sodium_in_glutamate(self):
        # Monosodium glutamate monohydrate, C5H8NNaO4.H2O, 187.13 g/mol: 12.28 % sodium.
        self.assertAlmostEqual(
            foods().value("Monosodium glutamate", "sodium_mg") / 1000, 100 * 22.99 / 187.13, delta=0.02
        )


class Labels(SimpleTestCase):
    def test_low_sodium_broth_is_low_by_law(self):
        # 21 CFR 101.61(b)(4): "low sodium" is 140 mg or less per reference amount (245 g of soup).
        for food in ("Stock, vegetable, low sodium", "Soup, chicken broth, low sodium, canned"):
            self.assertLessEqual(foods().value(food, "sodium_mg") * 2.45, 140, food)

    def test_erythritol(self):
        # EU 1169/2011 Annex XIV: polyols 2.4 kcal/g, erythritol 0; FDA 0.2.
        self.assertLessEqual(foods().value("Erythritol", "energy_kcal"), 20)
        self.assertEqual(foods().value("Xylitol", "energy_kcal"), 240)
