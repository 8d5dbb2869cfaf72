"""Pages and pastes that do not say where their list is: the densest run of amounts, its title above it, nothing lost."""

from unittest import TestCase

from nutrition.notes import Problem
from nutrition.reading.page import from_any, from_bytes, text_of
from nutrition.reading.plain import densest_run, from_text

MENU = """<html><head><title>Barley broth</title></head><body><nav><ul><li>Home</li><li>Recipes</li><li>Log in</li></ul></nav>
<article><h2>Barley and leek broth</h2><p>Serves 4</p><p>Prep time: 10 minutes</p>
<ul><li>200 g pearl barley</li><li>3 leeks</li><li>1 l vegetable stock</li><li>Salt</li><li>1 tbsp olive oil</li></ul>
<ol><li>Soften the leeks in the oil.</li><li>Add the barley and the stock and simmer for 40 minutes.</li></ol></article>
<ul><li>10 best soups</li><li>5 quick dinners</li></ul><footer>Subscribe</footer></body></html>"""
PASTED = """Home
Recipes
My account
Search
By Ines Quill

Beetroot fritters
Makes 15-18 pieces
Prep 20 min

300 g beetroot
2 eggs
60 g flour
1 tsp salt

Grate the beetroot. Mix with everything else.
Fry in spoonfuls.

You may also like
Courgette fritters
"""


class APage(TestCase):
    def test_the_densest_run_of_amounts_is_the_list(self):
        found = from_any(MENU)
        self.assertEqual((found.title, found.serves), ("Barley and leek broth", 4))
        self.assertEqual(
            found.lines, ("200 g pearl barley", "3 leeks", "1 l vegetable stock", "Salt", "1 tbsp olive oil")
        )
        self.assertEqual(
            found.steps, ("Soften the leeks in the oil.", "Add the barley and the stock and simmer for 40 minutes.")
        )
        self.assertTrue(found.is_bare)

    def test_a_page_without_a_list_is_refused(self):
        with self.assertRaises(Problem):
            from_any("<html><body><p>2 reasons to cook</p><p>We cook often.</p></body></html>")

    def test_a_sentence_ends_a_run(self):
        lines = ["2 leeks", "200 ml cream", "50 g cheese", "Bake it well.", "10 best soups", "5 quick dinners"]
        self.assertEqual(densest_run(lines), (0, 3))


class APaste(TestCase):
    def test_words_of_a_menu_are_no_title_and_no_line(self):
        found = from_any(PASTED)
        self.assertEqual((found.title, found.serves), ("Beetroot fritters", 15))
        self.assertEqual(found.lines, ("300 g beetroot", "2 eggs", "60 g flour", "1 tsp salt"))
        self.assertEqual(found.steps, ("Grate the beetroot. Mix with everything else.", "Fry in spoonfuls."))
        self.assertIn("how many of them are one portion?", " ".join(found.notes))
        self.assertIn("Prep 20 min", found.notes)

    def test_a_title_that_is_a_word_of_menus_stays_where_no_menu_stands(self):
        found = from_text("Bean salad\nServes 2\n1 can beans\nsalt\n2 tbsp oil\nMix it all well.")
        self.assertEqual((found.title, found.lines), ("Bean salad", ("1 can beans", "salt", "2 tbsp oil")))

    def test_lines_without_amounts_stay_lines(self):
        found = from_text(
            "Flatbread\nServes 2\nSalt\nOlive oil for the pan\n200 g flour\n120 ml water\n1 tsp cumin\nKnead. Bake in a hot pan."
        )
        self.assertEqual(found.lines, ("Salt", "Olive oil for the pan", "200 g flour", "120 ml water", "1 tsp cumin"))

    def test_a_portion_told_in_pieces_is_read(self):
        text = "Halloumi skewers\nA serving is 2 skewers and 2 tbsp of dip\nMakes 12 skewers\n400 g halloumi\n2 courgettes\n200 g yogurt\nGrill the skewers."
        found = from_text(text)
        self.assertEqual(found.serves, 6)
        self.assertEqual(found.lines, ("400 g halloumi", "2 courgettes", "200 g yogurt"))
        self.assertIn("counted as 6 servings", " ".join(found.notes))

    def test_pieces_without_a_portion_are_asked_about_and_the_fewer_count(self):
        found = from_text(
            "Oat squares\nMakes 15 to 18 squares\n200 g oats\n100 g honey\n50 g butter\nBake it for long."
        )
        self.assertEqual(found.serves, 15)
        self.assertIn("how many of them are one portion?", " ".join(found.notes))

    def test_an_ingredient_without_amount_above_the_list_is_neither_title_nor_lost(self):
        for top in (
            "Home\nLog in\nFlat bread\nServes 2\nSalt\nOlive oil",
            "Home\nLog in\nFlat bread\nServes 2\nPrep 5 min\nSalt\nOlive oil",
        ):
            found = from_text(f"{top}\n200 g flour\n120 ml water\n1 tsp cumin\nKnead it well.")
            self.assertEqual((found.title, found.serves), ("Flat bread", 2))
            self.assertEqual(found.lines, ("Salt", "Olive oil", "200 g flour", "120 ml water", "1 tsp cumin"))

    def test_talk_about_the_dish_and_its_figures_are_notes(self):
        text = (
            "Home\nShop\nSmoky lentil pot\nServes 4\nA pot for cold evenings that my aunt used to make.\n200g brown lentils\n1 tbsp oil\n1 onion\n"
            "Heat the oil and fry the onion for 5 minutes.\nSimmer it all.\nNutrition per serving\nkcal 310\nfat 6g\nShare"
        )
        found = from_text(text)
        self.assertEqual(found.lines, ("200g brown lentils", "1 tbsp oil", "1 onion"))
        self.assertEqual(found.steps, ("Heat the oil and fry the onion for 5 minutes.", "Simmer it all."))
        self.assertIn("kcal 310", found.notes)

    def test_amounts_in_a_column_of_their_own(self):
        rows = "".join(
            f"<tr><td>{a}</td><td>{b}</td></tr>"
            for a, b in (("300 g", "rice"), ("200 g", "peas"), ("1 l", "stock"), ("", "salt"))
        )
        found = from_any(
            f"<html><body><h1>Rice with peas</h1><table>{rows}</table><p>Cook the rice in the stock.</p></body></html>"
        )
        self.assertEqual(
            (found.title, found.lines), ("Rice with peas", ("300 g rice", "200 g peas", "1 l stock", "salt"))
        )

    def test_a_jar_is_no_serving(self):
        for text in ("(makes 1 jar)", "Makes one loaf", "Yields 1 small cake"):
            found = from_text(
                f"Pickled radish\n{text}\n200 g radishes\n125 ml vinegar\n1 tsp salt\nSlice the radishes."
            )
            self.assertIsNone(found.serves, text)
            self.assertIn("how many portions is", " ".join(found.notes))
        self.assertEqual(from_text("Rolls\nMakes 12 rolls\n200 g flour\n1 egg\n1 tsp salt\nBake it all.").serves, 12)

    def test_a_dish_called_like_a_menu_keeps_its_name(self):
        for title in ("Soup", "Salads", "Snacks"):
            found = from_text(f"{title}\nServes 2\n200 g leeks\n1 l stock\n1 tsp salt\n2 tbsp oil\nSimmer it for long.")
            self.assertEqual((found.title, found.serves, len(found.lines)), (title, 2, 4))

    def test_an_ingredient_with_a_full_stop_is_no_step(self):
        lines = (
            "200 g leeks",
            "1 l stock",
            "2 eggs.",
            "Salt and pepper, to taste.",
            "Oil for frying.",
            "Fresh basil leaves, torn.",
        )
        found = from_text("Leek pot\nServes 2\n" + "\n".join(lines) + "\nSimmer it all for ten minutes.")
        self.assertEqual(found.lines, lines)

    def test_what_stands_in_the_midst_cuts_nothing_off(self):
        """A page asks for its newsletter between the list and the method: both are read."""
        text = "Leek pot\nServes 2\nIngredients\n200 g leeks\n1 l stock\n2 eggs\nSubscribe to our letters\nMethod\nSimmer it.\nRelated recipes\nBread"
        found = from_text(text)
        self.assertIn("Simmer it.", found.steps)
        self.assertNotIn("Bread", found.steps)
        self.assertIn("left out", " ".join(found.notes))
        more = text.replace(
            "Related recipes\nBread", "You may also like\nFor the top\n10 g dill\n20 g butter\n30 g crumbs"
        )
        self.assertIn("20 g butter", " ".join((*from_text(more).lines, *from_text(more).steps)))


class Letters(TestCase):
    TEXT = "Crème of leek\nServes 2\n\n2 leeks\n200 ml crème\n\nSimmer them for long."

    def test_a_file_is_read_in_the_letters_it_was_written_in(self):
        for coding in ("utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252"):
            with self.subTest(coding):
                found = from_bytes(self.TEXT.encode(coding))
                self.assertEqual(
                    (found.title, found.serves, found.lines), ("Crème of leek", 2, ("2 leeks", "200 ml crème"))
                )

    def test_a_stray_zero_is_no_letter(self):
        self.assertEqual(text_of(b"2 le\x00eks, chopped small"), "2 leeks, chopped small")

    def test_what_is_no_text_is_refused_in_words(self):
        for data in (bytes(range(256)) * 40, b"\x00" * 500, b"\x01\x02\x03" * 300):
            with self.assertRaises(Problem):
                text_of(data)
