"""Recipes from the outside: text, JSON-LD, saved pages, and what is refused in words."""

import json

from django.test import SimpleTestCase

from nutrition.notes import Problem
from nutrition.reading.page import from_any, from_bytes, from_jsonld, from_text
from nutrition.reading.yields import serves_of

TEXT = """Lentil pot
Serves 6

2 tbsp oil
1 onion, chopped

For the sauce:
1 cup yogurt

Soften the onion in the oil over a low flame for ten minutes, then add all the rest.
Serve hot.
"""
RECIPE = {
    "@context": "https://schema.org",
    "@graph": [
        {"@type": "WebPage", "name": "no"},
        {
            "@type": ["Recipe"],
            "name": "Lentil &amp; leek pot",
            "recipeYield": ["4", "4 servings"],
            "recipeIngredient": ["1 cup red lentils", "2 leeks"],
            "recipeInstructions": [
                {"@type": "HowToSection", "itemListElement": [{"@type": "HowToStep", "text": "Stir."}]}
            ],
        },
    ],
}


class Text(SimpleTestCase):
    def test_everyday_text(self):
        found = from_text(TEXT)
        self.assertEqual((found.title, found.serves), ("Lentil pot", 6.0))
        self.assertEqual(found.lines, ("2 tbsp oil", "1 onion, chopped", "For the sauce:", "1 cup yogurt"))
        self.assertEqual(len(found.steps), 2)

    def test_named_sections(self):
        found = from_text(
            "Toast\nMakes 2 slices\nA short story.\nIngredients\nbread\nbutter\nMethod\nToast it.\nNotes\nEat it hot."
        )
        self.assertEqual(found.lines, ("bread", "butter"))
        self.assertEqual(found.steps, ("Toast it.",))
        self.assertEqual(found.serves, 2)

    def test_yields(self):
        for text, serves in (
            ("Serves 6", 6), ("Serves: 4-6", 4), ("Makes 24 rolls", 24), ("Yield: 8 servings", 8), ("4 people", 4), ("6", 6),
            ("about an hour", None), ("Serves 0", None),
        ):  # fmt: skip
            self.assertEqual(serves_of(text)[0], serves, text)

    def test_a_chosen_number_is_said(self):
        self.assertIn("counted as 4", serves_of("Serves 4 to 6")[1])

    def test_a_title_may_begin_with_a_number(self):
        for text in ("Three bean pot\nServes 4\n400 g kidney beans", "2 lentil soup\nIngredients\n400 g kidney beans"):
            found = from_text(text)
            self.assertEqual((found.title, found.lines), (text.split("\n")[0], ("400 g kidney beans",)))
        # Nothing says that the first line was a title: it stays what goes in.
        self.assertEqual(from_text("2 eggs\n1 cup milk\nServes 2").lines, ("2 eggs", "1 cup milk"))

    def test_html_in_a_title_is_taken_out(self):
        self.assertEqual(from_text("<script>alert(1)</script> Soup\n1 cup milk").title, "alert(1) Soup")


class Marked(SimpleTestCase):
    def test_jsonld_graph(self):
        found = from_jsonld(json.dumps(RECIPE))
        self.assertEqual((found.title, found.serves), ("Lentil & leek pot", 4.0))
        self.assertEqual((found.lines, found.steps), (("1 cup red lentils", "2 leeks"), ("Stir.",)))

    def test_saved_page(self):
        page = f'<!doctype html><html><head><script type="application/ld+json">{json.dumps(RECIPE)}</script></head><body></body></html>'
        self.assertEqual(from_bytes(page.encode()).lines, ("1 cup red lentils", "2 leeks"))

    def test_microdata_page_through_recipe_scrapers(self):
        page = (
            '<!doctype html><html><body><div itemscope itemtype="https://schema.org/Recipe"><h1 itemprop="name">Soup</h1>'
            '<span itemprop="recipeYield">2 servings</span><li itemprop="recipeIngredient">1 cup milk</li>'
            '<div itemprop="recipeInstructions">Warm it.</div></div></body></html>'
        )
        found = from_any(page)
        self.assertEqual((found.title, found.lines, found.serves), ("Soup", ("1 cup milk",), 2.0))

    def test_number_and_words_as_yield(self):
        for value, serves in ((4, 4), ("Serves 4", 4), (["6 portions"], 6), ({"value": 3}, 3), (None, None), (0, None)):
            recipe = {"@type": "Recipe", "name": "x", "recipeIngredient": ["1 egg"], "recipeYield": value}
            self.assertEqual(from_jsonld(json.dumps(recipe)).serves, serves, value)

    def test_old_servers_encoding(self):
        self.assertIn("crème", from_bytes("Soup\n1 cup crème fraîche".encode("cp1252")).lines[0])


class Refused(SimpleTestCase):
    """Each refusal says what was read and what to do."""

    def refused(self, data, words):
        with self.assertRaises(Problem) as caught:
            (from_bytes if isinstance(data, bytes) else from_any)(data)
        self.assertRegex(str(caught.exception), words)
        self.assertRegex(str(caught.exception), r"[Pp]aste|Save|Choose|Put")

    def test_empty(self):
        self.refused("", "Nothing was pasted")
        self.refused("\n \n", "Nothing was pasted")
        self.refused(b"", "empty")

    def test_two_million_characters(self):
        self.refused("flour and water\n" * 140_000, "2,240,000 characters")

    def test_binary(self):
        self.refused(b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR" + bytes(range(256)) * 9, "a picture")

    def test_broken_json(self):
        self.refused('{"@type": "Recipe", "name": ', "breaks at line 1, column")
        self.refused("[" * 100_000, "breaks at")

    def test_json_without_recipe(self):
        self.refused('{"@type": "Person"}', "no schema.org Recipe")
        self.refused('{"@type": "Recipe", "name": "x"}', "no recipeIngredient")

    def test_page_without_recipe(self):
        self.refused("<!doctype html><html><body><p>Hello</p></body></html>", "No recipe was found")

    def test_words_only(self):
        self.refused("just some words here", "No ingredient lines")

    def test_endless_list(self):
        self.refused("Soup\n" + "1 cup milk\n" * 300, "at most 200")
