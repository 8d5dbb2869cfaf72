"""Dishes as dietetic teaching uses them, in our own words, with the arithmetic done by hand beside the program's.

Values per 100 g: USDA SR Legacy (salt 38,758 mg sodium; raw potato about 421 mg potassium; see rules of the trade).
"""

from dataclasses import replace

from django.test import SimpleTestCase

from nutrition.dish.cooking import treated
from nutrition.dish.dish import Dish
from nutrition.food.tags import CONTAINS
from nutrition.limits.avoid import find
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.plans import Facts, choose, targets_for
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.verdicts import OPEN, SHUT, judge
from nutrition.swaps.offers import Workbench, offers_for
from nutrition.swaps.way_through import Wish, ways_for


def lines(*texts, serves=4):
    return tuple(replace(read_line(text, serves), others=()) for text in texts)


class LowSodium(SimpleTestCase):
    def test_the_stock_and_the_spoon(self):
        """A vegetable soup for four: 1 tsp salt = 2,325 mg, 1 l of ordinary stock about 2,900 mg: over 1,300 mg a serving.

        A dinner's share of 1,500 mg a day is 525 mg. Unsalted stock and a quarter of the salt: about 145 + 50 mg.
        """
        soup = lines("4 cups vegetable broth", "1 tsp salt", "3 carrots", "1 onion", "200 g cabbage")
        gate = Target("sodium_mg", maximum=1500)
        bench = Workbench(Dish("", 4, tuple(soup), kind="soup"), Eater(targets=(gate,)))
        before = analyze_lines(soup, 4).amount("sodium_mg")
        self.assertAlmostEqual(
            before,
            2325 / 4 + analyze_lines(soup[:1], 4).amount("sodium_mg") + analyze_lines(soup[2:], 4).amount("sodium_mg"),
            delta=20,
        )
        self.assertEqual(judge(bench.gates, analyze_lines(soup, 4))[0].state, SHUT)
        after = lines("4 cups unsalted vegetable stock", "1/4 tsp salt", "3 carrots", "1 onion", "200 g cabbage")
        self.assertLess(analyze_lines(after, 4).amount("sodium_mg"), 525)
        self.assertTrue(ways_for(bench, Wish(ways=1)).solved)

    def test_rinsing_alone_is_not_enough(self):
        """Two cans of beans drained and rinsed lose two fifths of their sodium; the spoon of salt stays (Duyff 2011)."""
        pot = lines("2 x 400g tins chickpeas", "1 tsp salt", "1 onion")
        rinsed = (treated(pot[0], "drained and rinsed"), *pot[1:])
        saved = analyze_lines(pot, 4).amount("sodium_mg") - analyze_lines(rinsed, 4).amount("sodium_mg")
        self.assertGreater(saved, 0)
        self.assertGreater(analyze_lines(rinsed, 4).amount("sodium_mg"), 2325 / 4)


class Renal(SimpleTestCase):
    def test_potatoes_boiled_twice_then_fewer(self):
        """600 g raw potatoes for four: 150 g x 4.2 mg = 630 mg potassium; boiled twice about 45 % is left: 285 mg."""
        potatoes = lines("600 g potatoes")[0]
        raw = analyze_lines([potatoes], 4).amount("potassium_mg")
        twice = analyze_lines([treated(potatoes, "boiled-twice")], 4)
        self.assertAlmostEqual(raw, 630, delta=30)
        self.assertAlmostEqual(twice.amount("potassium_mg"), 0.45 * raw, delta=10)
        self.assertGreater(twice.interval("potassium_mg")[1], twice.amount("potassium_mg"))

    def test_salt_substitute_is_withheld_where_potassium_is_limited(self):
        """1 tsp potassium chloride salt holds some 2,500 to 3,000 mg potassium: more than a day's 2,000 mg (KDOQI 2020).

        Withheld where potassium is limited, a kidney plan stands or a medicine raises it; a plain low-sodium person is
        told to ask first (NHS, FDA).
        """
        pot = Dish("", 1, tuple(lines("1 tsp salt", "300 g white rice")))

        def substitute(plan, settings=None, circumstances=()):
            facts = Facts(60, 1800, (plan,), circumstances)
            chosen = choose(plan, settings or {})
            eater = Eater(facts, {plan: chosen}, tuple(targets_for(plan, facts, chosen)))
            found = {offer.id: offer for offer in offers_for(Workbench(pot, eater), 0).offers}
            return found.get("salt-salty-salt-substitute")

        self.assertIsNone(substitute("kidney"))
        self.assertIsNone(substitute("kidney", {"potassium": "free"}))
        self.assertIsNone(substitute("kidney-dialysis"))
        self.assertIsNone(substitute("low-sodium", circumstances=("raises_potassium",)))
        offered = substitute("low-sodium")
        self.assertTrue(any("ask the clinic" in str(words) for words in offered.warnings))
        salt = lines("1 tsp salt substitute")[0]
        potassium = analyze_lines([salt], 1).amount("potassium_mg")
        self.assertTrue(2_300 <= potassium <= 3_100, potassium)

    def test_protein_wanted_on_dialysis(self):
        """60 kg on hemodialysis: a goal of 60 to 72 g a day, so at least 21 g at dinner; 100 g raw chicken breast brings about 22 g."""
        facts = Facts(60, 1800, ("kidney-dialysis",))
        gates = Eater(facts, {"kidney-dialysis": {}}, tuple(targets_for("kidney-dialysis", facts))).gates("dinner")
        protein = next(
            v
            for v in judge(gates, analyze_lines(lines("100 g chicken breast", serves=1), 1))
            if v.gate.nutrient == "protein_g"
        )
        self.assertEqual((round(protein.gate.low.limit), protein.gate.high), (21, None))
        self.assertEqual(protein.state, OPEN)


class GlutenFree(SimpleTestCase):
    def test_a_white_sauce_without_flour(self):
        """3 tbsp flour thicken a pint; 1½ tbsp cornstarch do the same work, and no gluten is left (common practice)."""
        sauce = lines("3 tbsp flour", "2 tbsp butter", "500 ml milk")
        plans = {"gluten-free": {}}
        bench = Workbench(Dish("", 4, tuple(sauce), kind="sauce"), Eater(Facts(plans=("gluten-free",)), plans))
        outcome = ways_for(bench, Wish(ways=3))
        self.assertTrue(outcome.solved)
        for way in outcome.ways:
            self.assertFalse([f for f in find(way.lines, ["gluten"]) if f.verdict == CONTAINS])
        starch = next(o for o in offers_for(bench, 0).offers if "Cornstarch" in str(o.text))
        self.assertAlmostEqual(starch.to[0][1], sauce[0].grams / 2)
        self.assertEqual([w for w in starch.warnings if w.code == "swaps.thin"], [])

    def test_the_soy_sauce_nobody_suspects(self):
        """Rice, egg, vegetables: gluten-free until the soy sauce; tamari is a matter of the label."""
        fried = lines("300 g white rice", "2 eggs", "2 tbsp soy sauce")
        self.assertEqual([f.verdict for f in find(fried, ["gluten"])], [CONTAINS])
        tamari = lines("300 g white rice", "2 eggs", "2 tbsp tamari")
        self.assertEqual([f.verdict for f in find(tamari, ["gluten"])], ["check the label"])
