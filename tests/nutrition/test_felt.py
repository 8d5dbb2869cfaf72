"""What a cook feels of a way: near before far, the plate full, sides beside the dish, methods only for their plans.

Rules of the trade: a chef's judgement of changes, common practice.
"""

from django.test import SimpleTestCase

from nutrition.dish.naming import called
from nutrition.food.tags import CHECK
from nutrition.limits.avoid import find
from nutrition.limits.eater import Eater
from nutrition.limits.plans import Facts, choose, targets_for
from nutrition.reading.page import from_text
from nutrition.reading.recipe import read_recipe
from nutrition.swaps.balance import totals
from nutrition.swaps.offers import Workbench
from nutrition.swaps.options import options_of
from nutrition.swaps.program import LEAST_CHANGE
from nutrition.swaps.rules import catalog
from nutrition.swaps.sides import BESIDE
from nutrition.swaps.taste import taste_of
from nutrition.swaps.told import told
from nutrition.swaps.way_through import ways_for
from nutrition.swaps.wish import Wish

STEW = """Barley and beef pot\nServes 4\n600 g stewing beef, cubed\n2 onions, sliced\n2 cloves garlic\n200 g pearl barley
1.2 l beef stock\n3 carrots, sliced\n2 tbsp sunflower oil\n1 tsp salt\nMethod\nBrown the beef in the oil.
Add the rest and simmer for 90 minutes."""
SALAD = """Bean salad\nServes 4\n400 g tin white beans, drained\n1 red onion, chopped\n3 tbsp olive oil\n2 potatoes, boiled
1 tsp salt\nMethod\nMix everything."""
LOAF = """Apricot loaf\nServes 12\n250 g plain flour\n2 tsp baking powder\n120 g sugar\n100 g butter\n2 eggs\n150 ml milk
150 g dried apricots\n1/2 tsp salt\nMethod\nCream butter and sugar, beat in the eggs.\nFold in the rest and bake for 50 minutes."""


def bench(text, *keys, **settings):
    plans = {key: choose(key, settings) for key in keys}
    facts = Facts(70, 2000, keys, age_years=50)
    targets = tuple(target for key in keys for target in targets_for(key, facts, plans[key]))
    return Workbench(read_recipe(from_text(text)), Eater(facts, plans, targets), "dinner")


def first_way(work):
    return ways_for(work, Wish(ways=1, certain=False)).ways[0]


class Closeness(SimpleTestCase):
    def test_every_rule_says_how_near_it_is_and_what_to_do(self):
        for rule in catalog():
            self.assertTrue(0 < rule.closeness <= 1, rule.id)
            if rule.to:
                self.assertTrue(rule.do_differently, rule.id)

    def test_near_before_far(self):
        near = {rule.id: rule.closeness for rule in catalog()}
        for nearer, farther in (
            ("chickenstock-salty-unsalted-chicken-stock", "chickenstock-salty-mix"),
            ("chickenstock-salty-mix", "chickenstock-savory-water"),
            ("soysauce-savory-low-sodium-soy-sauce", "soysauce-savory-lime-juice"),
            ("tortilla-bulk-corn-tortillas", "tortilla-bulk-lettuce"),
            ("pasta-bulk-gluten-free-pasta", "pasta-bulk-zucchini"),
            ("saltedbutter-salty-unsalted-butter", "butter-fat-olive-oil"),
            ("groundbeef-protein-lean-ground-beef", "groundbeef-protein-mix"),
            ("milk-milk-soy-milk", "milk-milk-water"),
            ("garlic-savory-infused", "garlic-savory-fresh-ginger"),
        ):
            self.assertGreater(near[nearer], near[farther], (nearer, farther))

    def test_unsalted_stock_rather_than_water(self):
        way = first_way(bench(STEW, "low-sodium", sodium="aha"))
        self.assertFalse(any("water" in str(change.text).lower() for change in way.changes), way.changes)
        self.assertTrue(all(str(line.advice) for change in way.changes if change.kind == "swap" for line in change.new))


class ThePlate(SimpleTestCase):
    def test_it_stays_full_where_it_can(self):
        for text, keys in (
            (STEW, ("low-sodium",)),
            (STEW, ("gluten-free",)),
            (LOAF, ("dairy-free",)),
            (LOAF, ("gluten-free",)),
        ):
            work = bench(text, *keys)
            way = first_way(work)
            before, after = (sum(line.span.likely for line in lines) for lines in (work.lines, way.lines))
            self.assertGreater(after / way.serves, 0.92 * before / work.serves, (text[:20], keys))

    def test_a_batter_stays_a_batter(self):
        for keys in (("dairy-free",), ("gluten-free",), ("heart",), ("diabetes",)):
            work = bench(LOAF, *keys)
            for way in ways_for(work, Wish(ways=3, certain=False)).ways:
                if any(change.kind == "serving" for change in way.changes):
                    continue
                before, after = (
                    totals([line for line in lines if line.heading != BESIDE])["water"]
                    for lines in (work.lines, way.lines)
                )
                self.assertTrue(0.8 < after / before < 1.25, (keys, [str(c.text) for c in way.changes]))

    def test_stock_stays_in_the_pot(self):
        work = bench(STEW, "low-sodium")
        stock = next(at for at, line in enumerate(work.lines) if "stock" in line.text)
        kept = next(o for o in options_of(work, Wish()) if o.line == stock and o.kind == "kept")
        self.assertGreaterEqual(kept.low, 0.85)

    def test_a_line_is_clearly_changed_or_left_alone(self):
        for keys in (("low-sodium",), ("heart",), ("kidney",)):
            work = bench(STEW, *keys, potassium="3000", phosphorus="1000")
            for change in first_way(work).changes:
                if change.kind in ("less", "more") and 0 <= change.line < len(work.lines) and change.new:
                    ratio = change.new[0].span.likely / work.lines[change.line].span.likely
                    self.assertGreaterEqual(abs(ratio - 1), LEAST_CHANGE - 0.05, str(change.text))


class Sides(SimpleTestCase):
    def test_they_suit_the_dish_and_stand_beside_it(self):
        for text, keys, fruit in ((STEW, ("heart",), False), (LOAF, ("heart",), True)):
            work = bench(text, *keys)
            self.assertEqual(taste_of(work), "sweet" if fruit else "savory")
            sides = [o.new[0] for o in options_of(work, Wish()) if o.line >= len(work.lines) and o.new]
            self.assertTrue(sides)
            self.assertEqual({line.heading for line in sides}, {BESIDE})
            self.assertEqual(any("raspberr" in line.text for line in sides), fruit)


class Told(SimpleTestCase):
    def test_labels_what_to_do_and_what_to_buy(self):
        work = bench(LOAF, "dairy-free")
        way = first_way(work)
        said = told(work, way.lines, way.serves)
        swapped = [line for change in way.changes if change.kind == "swap" for line in change.new]
        self.assertEqual({do for _, do in said.do}, {str(line.advice) for line in swapped if line.advice})
        self.assertTrue(said.to_buy)
        self.assertEqual(
            {(each.line, each.what) for each in said.labels if each.what == "milk"},
            {
                (called(way.lines[at]), "milk")
                for finding in find(way.lines, ["milk"])
                for at in (finding.lines if finding.verdict == CHECK else finding.also_check)
            },
        )

    def test_nothing_is_told_of_a_dish_that_stays(self):
        work = bench(STEW, "low-sodium")
        said = told(work, work.lines)
        self.assertEqual((said.do, said.to_buy, said.mind), ((), (), ()))


class Wishes(SimpleTestCase):
    def ways(self, work, **wishes):
        found = ways_for(work, Wish(ways=2, certain=False, **wishes)).ways
        self.assertTrue(found)
        return found

    def test_nothing_new_to_buy(self):
        work = bench(STEW, "low-sodium", sodium="aha")
        there = {line.food_id for line in work.lines}
        for way in self.ways(work, nothing_new=True):
            self.assertEqual(told(work, way.lines, way.serves).to_buy, ())
            self.assertLessEqual({line.food_id for line in way.lines if "water" not in line.text}, there)

    def test_never_this_food(self):
        work = bench(LOAF, "dairy-free")
        with_soy = self.ways(work)
        self.assertTrue(any("soy" in line.text for way in with_soy for line in way.lines))
        for way in self.ways(work, never=("soy milk, almond milk",)):
            self.assertFalse(any("soy milk" in line.text or "almond milk" in line.text for line in way.lines))

    def test_nothing_beside_the_dish(self):
        for wishes, expected in (({}, True), ({"one_pot": True}, False)):
            found = options_of(bench(STEW, "heart"), Wish(**wishes))
            self.assertEqual(any(line.heading == BESIDE for option in found for line in option.new), expected)


class KeptOut(SimpleTestCase):
    def test_what_nothing_stands_in_for_is_left_out(self):
        text = LOAF.replace("1/2 tsp salt", "1/2 tsp salt\n1 tbsp mustard seeds")
        work = bench(text, "free-of:mustard")
        way = first_way(work)
        self.assertEqual(
            [(change.kind, work.lines[change.line].text) for change in way.changes], [("drop", "1 tbsp mustard seeds")]
        )

    def test_what_holds_the_dish_together_is_not(self):
        work = bench(LOAF, "free-of:egg")
        self.assertFalse(
            any(
                o.kind == "drop"
                for o in options_of(work, Wish())
                if "egg" in work.lines[min(o.line, len(work.lines) - 1)].text
            )
        )


class Methods(SimpleTestCase):
    def test_only_for_the_plans_they_serve(self):
        fried = SALAD.replace("Mix everything.", "Soften the onion in the oil, then mix everything.")

        def states(*keys, of=fried, **settings):
            return {str(o.text) for o in options_of(bench(of, *keys, **settings), Wish()) if o.kind == "state"}

        self.assertFalse(any("warmed in oil" in text for text in states("low-sodium")))
        self.assertTrue(any("warmed in oil" in text for text in states("low-fodmap")))
        # Nothing is warmed in oil where no step does it.
        self.assertFalse(any("warmed in oil" in text for text in states("low-fodmap", of=SALAD)))
        self.assertFalse(any("boiled" in text.partition(":")[2] for text in states("low-sodium")))
        self.assertTrue(any("boiled" in text.partition(":")[2] for text in states("kidney")))

    def test_the_dish_is_not_swapped_for_another(self):
        work = bench(STEW, "kidney", potassium="3000", phosphorus="1000")
        beef = next(at for at, line in enumerate(work.lines) if "beef, cubed" in line.text)
        swaps = [o for o in options_of(work, Wish()) if o.line == beef and o.kind in ("swap", "drop")]
        self.assertFalse(any("mushroom" in str(o.text).lower() and "beef" not in str(o.text).lower() for o in swaps))
        self.assertFalse(any(o.kind == "drop" for o in swaps))
