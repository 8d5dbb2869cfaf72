"""What is bought and not eaten, against the refuse of foods as purchased: USDA Agriculture Handbook 8 and the “Refuse” field of the
Standard Reference (SR28), from memory; and the absorption of frying oil and cooking salt, against published ranges."""

from django.test import SimpleTestCase

from nutrition.dish.cooking import left_as, methods
from nutrition.reading.eaten import questions_of, say
from nutrition.reading.recipe import read_recipe
from nutrition.sheet.analysis import analyze

#: (how, kind of the food, refuse in per cent of the weight as purchased)
REFUSE = (
    ("bone", "Poultry Products: Chicken, broilers or fryers, meat and skin, raw", 32),
    ("bone", "Poultry Products: Chicken, broilers or fryers, wing, meat and skin, raw", 46),
    ("bone", "Poultry Products: Chicken, broilers or fryers, drumstick, meat and skin, raw", 33),
    ("bone", "Poultry Products: Duck, domesticated, meat and skin, raw", 28),
    ("bone", "Pork Products: Pork, fresh, spareribs, separable lean and fat, raw", 28),
    ("bone", "Lamb, Veal, and Game Products: Lamb, shank half, raw", 26),
    ("bone", "Finfish and Shellfish Products: Fish, trout, rainbow, raw", 48),
    ("shell", "Finfish and Shellfish Products: Crustaceans, shrimp, raw", 31),
    ("shell", "Finfish and Shellfish Products: Mollusks, mussel, blue, raw", 71),
    ("shell", "Finfish and Shellfish Products: Mollusks, clam, raw", 80),
    ("shell", "Vegetables and Vegetable Products: Peas, green, raw", 62),
    ("shell", "Vegetables and Vegetable Products: Broadbeans, immature seeds, raw", 65),
    ("shell", "Vegetables and Vegetable Products: Lima beans, immature seeds, raw", 56),
    ("shell", "Nut and Seed Products: Nuts, almonds", 60),
    ("shell", "Nut and Seed Products: Nuts, walnuts, english", 55),
    ("shell", "Nut and Seed Products: Nuts, pistachio nuts, raw", 47),
    ("shell", "Legumes and Legume Products: Peanuts, all types, raw", 27),
    ("shell", "Finfish and Shellfish Products: Crustaceans, crab, blue, raw", 86),
    ("cob", "Vegetables and Vegetable Products: Corn, sweet, yellow, raw", 45),
    ("peel", "Fruits and Fruit Juices: Watermelon, raw", 48),
    ("peel", "Fruits and Fruit Juices: Pineapple, raw", 49),
    ("peel", "Fruits and Fruit Juices: Bananas, raw", 36),
    ("peel", "Vegetables and Vegetable Products: Artichokes, (globe or french), raw", 60),
    ("peel", "Vegetables and Vegetable Products: Potatoes, flesh and skin, raw", 10),
    ("pit", "Fruits and Fruit Juices: Cherries, sweet, raw", 8),
    ("pit", "Fruits and Fruit Juices: Apricots, raw", 7),
    ("pit", "Fruits and Fruit Juices: Mangos, raw", 31),
    ("pit", "Fruits and Fruit Juices: Avocados, raw", 26),
)


class Refuse(SimpleTestCase):
    def test_the_tables_refuse_stands_within_the_span(self):
        for how, kind, percent in REFUSE:
            least, _, most = left_as(how, kind).weight
            with self.subTest(kind):
                self.assertTrue(least <= 1 - percent / 100 <= most, (least, most))

    def test_worked_chicken_wings(self):
        """1 kg wings as bought, 46 % refuse: 540 g are eaten, of 18.3 g protein in 100 g: 98.8 g."""
        dish = read_recipe("Wings\nServes 1\n1 kg chicken wings\nMethod\nRoast the wings at 220 °C for 40 minutes.")
        [asked] = questions_of(dish)
        least, most = analyze(say(dish, asked.step, asked.how, True)).interval("protein_g")
        self.assertTrue(least <= 98.8 <= most, (least, most))

    def test_words_of_a_line_that_say_pod_or_shell_are_asked_about(self):
        """1 kg peas in the pod, 62 % refuse: 380 g are eaten; until somebody says so all of it may be."""
        for line, eaten in (
            ("1 kg peas in the pod", 380),
            ("400 g unshelled pistachios", 212),
            ("500 g almonds in shell", 200),
            ("2 kg whole crabs", 280),
        ):
            with self.subTest(line):
                dish = read_recipe(f"Pot\nServes 1\n{line}\nMethod\nCook it for ten minutes and serve.")
                self.assertEqual(dish.lines[0].sure, "check")
                [asked] = questions_of(dish)
                grams = [share * dish.lines[0].grams for share in asked.eaten]
                self.assertTrue(grams[0] <= eaten <= grams[1], grams)

    def test_worked_mussels(self):
        """1 kg mussels in the shell, 71 % refuse: 290 g are eaten, of 11.9 g protein in 100 g: 34.5 g."""
        dish = read_recipe(
            "Mussels\nServes 1\n1 kg mussels in their shells\n1 onion\nMethod\nSteam the mussels over the onion."
        )
        [asked] = questions_of(dish)
        least, most = analyze(say(dish, asked.step, asked.how, True)).interval("protein_g")
        self.assertTrue(least <= 34.5 <= most, (least, most))


class Absorbed(SimpleTestCase):
    def test_frying_oil(self):
        """Deep-fried foods take up 8 to 25 % of their own weight (Saguy and Pinthus 1995, Food Technology 49: 142): 500 g potatoes
        in 1 l oil (920 g), 40 to 125 g of it, is 4 to 14 %."""
        least, _, most = methods()["fried-in"].weight
        self.assertTrue(least <= 0.04 and most >= 0.14)

    def test_salt_of_pasta_water(self):
        """100 g dry pasta in a liter of water with 10 g salt takes up 1 to 2.2 g of it (USDA rows cooked with and without added salt:
        131 against 1 mg sodium in 100 g cooked, 225 g from 100 g dry: 0.75 g; at twice that salt twice as much)."""
        least, _, most = methods()["salted-water"].weight
        for grams in (0.75, 1.0, 2.2):
            self.assertTrue(least <= grams / 10 <= most)

    def test_brine(self):
        """A brine of 6 % salt gives a chicken up to 1 % of its weight in salt overnight (common practice, kitchen trials): of 120 g
        salt in 2 l, 12 g go into 1.2 kg: a tenth."""
        least, _, most = methods()["salted-water"].weight
        self.assertTrue(least <= 0.1 <= most)
