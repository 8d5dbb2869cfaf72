"""Labels of four countries, figures as they are printed, additives by name and number, and a name held to its list."""

from django.test import SimpleTestCase

from nutrition.food.additives import KINDS, additives_in, by_name
from nutrition.food.contents import hits_of_label
from nutrition.food.label import AS_PREPARED, AU, EU, IN, US, Label, is_by_volume
from nutrition.food.label_forms import Below, as_kept, fields, figure_of, forms, from_kept
from nutrition.food.nutrients import INDEX
from nutrition.food.own import with_own
from nutrition.food.table import foods, using
from nutrition.food.tags import CHECK, CONTAINS
from nutrition.notes import Problem
from nutrition.sheet.label_claims import label_claims, label_questions

#: An invented biscuit, per 100 g.
PLAIN = {
    "energy_kcal": 440,
    "fat_g": 16,
    "saturated_fat_g": 3,
    "carbohydrate_g": 64,
    "sugars_g": 20,
    "protein_g": 8,
    "fiber_g": 3,
}


def biscuit(name="Elmfold biscuit", form=EU, ingredients="flour, sugar, sunflower oil, salt", **figures):
    return Label(name, form, 100, PLAIN | {"salt_g": 1.9} | figures if form == EU else PLAIN | figures, ingredients)


class Figures(SimpleTestCase):
    def test_as_printed(self):
        for form, key, printed, expected in (
            (US, "fiber_g", "<1", (0, 0.5, 1)), (US, "fiber_g", "less than 1 g", (0, 0.5, 1)), (EU, "salt_g", "<0,01", (0, 0.005, 0.01)),
            (EU, "salt_g", "trace", (0, 0.00625, 0.0125)), (US, "sodium_mg", "1,250 mg", (1245, 1250, 1255)), (EU, "fat_g", "1,5", (1.45, 1.5, 1.55)),
            (AU, "protein_g", "LESS THAN 1", (0, 0.5, 1)), (US, "sodium_mg", "0", (0, 0, 5)),
        ):  # fmt: skip
            with self.subTest(printed=printed):
                field = fields(form)[key]
                for got, wanted in zip(field.span(figure_of(printed, field)), expected, strict=True):
                    self.assertAlmostEqual(got, wanted)

    def test_what_is_no_figure_is_refused_in_words(self):
        for printed, words in (("two", "<1 or trace"), ("-3", "cannot be"), ("1e9", "no figure")):
            with self.assertRaises(Problem) as refused:
                figure_of(printed, fields(US)["fat_g"])
            self.assertIn(words, str(refused.exception))

    def test_less_than_survives_being_kept(self):
        kept = as_kept({"fiber_g": Below(1), "fat_g": 3.0})
        self.assertEqual(kept, {"fiber_g": "<1", "fat_g": 3.0})
        self.assertIsInstance(from_kept(kept)["fiber_g"], Below)

    def test_less_than_is_an_interval_in_the_dish_and_never_its_upper_end(self):
        with using(with_own([biscuit(fiber_g=Below(1)).as_food("own:1")])):
            row = foods().by_id("own:1").row
            sides = (foods().at_least_per_100g, foods().per_100g, foods().at_most_per_100g)
            self.assertEqual([float(side[row, INDEX["fiber_g"]]) for side in sides], [0, 0.5, 1])


class Forms(SimpleTestCase):
    def test_where_the_fiber_stands(self):
        """US inside (21 CFR 101.9(c)(6)), EU and Australia outside (1169/2011 Annex I; FSANZ 1.2.8), India open."""
        for form, expected in (
            (US, (63.5, 64, 64.5)),
            (EU, (66.45, 67, 67.55)),
            (AU, (66.45, 67, 67.55)),
            (IN, (63.5, 64, 67.55)),
        ):
            with self.subTest(form):
                found = biscuit(form=form).spans["carbohydrate_g"]
                for got, wanted in zip(found, expected, strict=True):
                    self.assertAlmostEqual(got, wanted, delta=0.51)

    def test_sodium_in_australia_salt_or_sodium_in_india(self):
        self.assertEqual(biscuit(form=AU, sodium_mg=420).spans["sodium_mg"][1], 420)
        self.assertEqual(biscuit(form=IN, salt_g=1).spans["sodium_mg"][1], 400)

    def test_every_form_names_its_energy_and_its_law(self):
        self.assertEqual(list(forms()), ["us", "eu", "au", "in"])
        for form in forms():
            self.assertTrue({"energy_kcal", "energy_kj"} & fields(form).keys())
            self.assertTrue({"sodium_mg", "salt_g"} & fields(form).keys())

    def test_parts_that_cannot_be(self):
        for figures in (
            {"polyols_g": 70},
            {"trans_fat_g": 20},
            {"monounsaturated_fat_g": 10, "polyunsaturated_fat_g": 9},
        ):
            with self.subTest(figures), self.assertRaises(Problem):
                biscuit(form=US, **figures)
        with self.assertRaises(Problem):
            biscuit(form=US, fiber_g=70)

    def test_kilojoules_beside_kilocalories(self):
        codes = [each.code for each in biscuit(energy_kj=1040).questions]
        self.assertIn("food.label_kilojoules", codes)
        self.assertNotIn("food.label_kilojoules", [each.code for each in biscuit(energy_kj=1841).questions])

    def test_figures_of_what_is_made_of_it_are_asked_about_and_named(self):
        with self.assertRaises(Problem) as asked:
            Label("Elmfold gravy", EU, 100, PLAIN, serving="100 ml as prepared")
        self.assertEqual(dict(asked.exception.note.values)["field"], "basis")
        made = Label("Elmfold gravy", EU, 100, PLAIN, serving="100 ml as prepared", basis=AS_PREPARED)
        self.assertEqual(made.as_food("own:1").description, "Elmfold gravy, as prepared")

    def test_a_volume_is_one_and_a_weight_counts_first(self):
        for words, expected in (("100 ml", True), ("8 fl oz", True), ("1 cup (240 ml) 248 g", False), ("30 g", False)):
            self.assertEqual(is_by_volume(words), expected, words)


class Polyols(SimpleTestCase):
    def test_printed_polyols_are_counted_by_what_the_list_names(self):
        """Erythritol 0, others half, both unknown: net carbohydrate of 64 g with 20 g polyols and 3 g fiber outside it."""

        def net(ingredients):
            with using(with_own([biscuit(ingredients=ingredients, polyols_g=20).as_food("own:1")])):
                row = foods().by_id("own:1").row
                sides = (foods().at_least_per_100g, foods().per_100g, foods().at_most_per_100g)
                return [float(side[row, INDEX["net_carbohydrate_g"]]) for side in sides]

        for ingredients, likely in (
            ("flour, erythritol", 44),
            ("flour, E968", 44),
            ("flour, maltitol", 54),
            ("flour, 965, E 965", 54),
        ):
            with self.subTest(ingredients):
                self.assertAlmostEqual(net(ingredients)[1], likely, delta=0.6)
        low, likely, high = net("flour, maltitol, erythritol")
        self.assertTrue(low <= 45 and high >= 53 and likely != likely, (low, likely, high))


class Additives(SimpleTestCase):
    def test_one_reader_for_all_the_ways_labels_print_them(self):
        """Class names and numbers: Codex CAC/GL 36-1989, from memory."""
        for printed, expected in (
            ("stabilisers (E450, E451(i), 452)", {"phosphate"}), ("acidity regulator 340ii", {"phosphate", "potassium"}),
            ("INS 450(i)", {"phosphate"}), ("SAPP, STPP", {"phosphate"}), ("dipotassium phosphate", {"phosphate", "potassium"}),
            ("tripotassium citrate", {"potassium"}), ("mineral salts (508)", {"potassium"}), ("glycerine", {"polyol"}),
            ("hydrogenated starch hydrolysates", {"polyol"}), ("sweetener 968", {"polyol", "erythritol"}), ("E962", {"aspartame"}),
            ("sunflower phospholipids, phosphatidylcholine, lecithin (322)", set()), ("water 330 ml, vitamin E 400 mg", set()),
            ("potassium iodide", set()), ("sodium aluminium phosphate", {"phosphate"}), ("acesulfame-K", {"potassium"}),
        ):  # fmt: skip
            with self.subTest(printed):
                self.assertEqual({kind for kind, _ in additives_in(printed)}, expected)
        self.assertLessEqual({kind for kind, _ in additives_in("E340, E965, E951, E968")}, set(KINDS))

    def test_numbers_are_read_for_allergens_and_for_what_plans_avoid(self):
        found = {
            hit.tag: hit.verdict
            for hit in hits_of_label("Sweets", "sugar, preservative 223, gelling agent (441), 901", "")
        }
        self.assertEqual((found["sulfite"], found["gelatin"]), (CONTAINS, CONTAINS))
        self.assertEqual(by_name("1.5 kg, 450 g flour, E999"), "1.5 kg, 450 g flour, E999")

    def test_the_makers_word_outranks_what_the_list_leaves_open(self):
        def soy(traces):
            found = {hit.tag: hit.verdict for hit in hits_of_label("Bread", "rice flour, lecithin", traces)}
            return found.get("soy"), found.get("tree_nut")

        self.assertEqual(soy("")[0], CHECK)
        self.assertEqual(soy("Contains soy. May contain nuts."), (CONTAINS, CHECK))
        self.assertEqual(soy("Allergen advice: contains soy"), (CONTAINS, None))
        self.assertEqual(soy("May contain soy"), (CHECK, None))
        nuts = {hit.tag: hit.verdict for hit in hits_of_label("Bread", "rice flour", "Contains nuts")}
        self.assertEqual((nuts["tree_nut"], nuts["peanut"]), (CONTAINS, CHECK))

    def test_potassium_beside_the_parts_is_no_more_than_they_leave(self):
        """Potassium chloride first in the list may be anything but what is fat, carbohydrate, protein and salt: 52.4 % of the rest."""
        label = biscuit(ingredients="potassium chloride, flour")
        rest = 100 - 16 - 64 - 8
        self.assertLess(label.beyond["potassium_mg"], (rest + 3) * 524.5)


class Claims(SimpleTestCase):
    """What the name says beside what is in it (21 CFR 101, EU 1924/2006, from memory)."""

    def test_each_kind_of_claim_that_does_not_hold_is_asked_about(self):
        for name, ingredients, figures in (
            ("Vegan biscuit", "flour, whey powder", {}), ("Vegetarian jelly", "sugar, E441", {}), ("Biscuit, no added sugar", "flour, cane sugar", {}),
            ("Unsalted crackers", "flour, salt", {}), ("Crackers, no salt added", "flour, sea salt", {}), ("Low salt crackers", "flour, salt", {}),
            ("Sodium-free stock", "water, salt", {}), ("Gluten-free bread", "rice flour, barley malt", {}), ("Wheat-free bread", "spelt, wheat flour", {}),
            ("Dairy-free spread", "oil, milk solids", {}), ("Egg-free mayo", "oil, egg yolk", {}), ("Nut-free granola", "oats, almonds", {}),
            ("Peanut-free bar", "oats, peanut flour", {}), ("Soy-free sauce", "water, soybeans", {}), ("Fat-free yogurt", "milk", {}),
            ("Low-fat biscuit", "flour, butter", {}), ("Sugar-free biscuit", "flour, sugar", {}), ("High-protein biscuit", "flour", {}),
            ("Sulphite-free apricots", "apricots, E220", {}), ("Keto biscuit", "flour, sugar", {}), ("Low-calorie biscuit", "flour, oil", {}),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertIn(
                    "food.label_claim",
                    [each.code for each in label_claims(biscuit(name, ingredients=ingredients, **figures))],
                )

    def test_what_holds_is_not_asked_about(self):
        for name, ingredients, figures in (
            ("Vegan biscuit", "oats, sugar, sunflower oil", {}), ("Gluten-free biscuit", "rice flour, sugar, water", {}),
            ("Source of fiber biscuit", "oats", {"fiber_g": 4}), ("Unsalted rice cakes", "rice", {"salt_g": 0.01}), ("Elmfold biscuit", "flour, milk, salt", {}),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(
                    [str(each) for each in label_claims(biscuit(name, ingredients=ingredients, **figures))], []
                )

    def test_a_zero_beside_its_ingredient(self):
        for figures, ingredients in (
            ({"salt_g": 0}, "flour, salt"),
            ({"sugars_g": 0}, "flour, honey"),
            ({"fat_g": 0, "saturated_fat_g": 0}, "palm oil"),
        ):
            codes = [each.code for each in label_questions(biscuit(ingredients=ingredients, **figures))]
            self.assertIn("food.label_zero", codes, ingredients)
