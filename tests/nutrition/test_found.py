"""Recipes as they come: yields wherever they stand, two at once, PDFs, pages without marks, what only a step names."""

import io

from django.test import SimpleTestCase

from nutrition.notes import Problem
from nutrition.reading.page import from_any, from_bytes
from nutrition.reading.plain import recipes_in
from nutrition.reading.recipe import read_as_found, read_line, read_recipe
from nutrition.reading.unlisted import unlisted

POT = "Leek pot\nServes 3\n2 leeks\n300 g potatoes\nMethod\nSimmer the leeks and potatoes for 20 minutes."
LOAF = "Seed loaf\nServes 8\n500 g flour\n1 tsp salt\nMethod\nMix the flour and salt and bake for 40 minutes."


def pdf_of(text):
    """A PDF with these lines, by the reference 32000-1: one page, one font, one line an operator."""
    drawn = "BT /F1 11 Tf 14 TL 40 780 Td " + " ".join(f"({line}) Tj T*" for line in text.splitlines()) + " ET"
    objects = [
        "<< /Type /Catalog /Pages 2 0 R >>",
        "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>",
        f"<< /Length {len(drawn)} >>\nstream\n{drawn}\nendstream",
        "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>",
    ]
    out, places = io.BytesIO(), []
    out.write(b"%PDF-1.4\n")
    for number, body in enumerate(objects, start=1):
        places.append(out.tell())
        out.write(f"{number} 0 obj\n{body}\nendobj\n".encode())
    start = out.tell()
    out.write(f"xref\n0 {len(objects) + 1}\n0000000000 65535 f \n".encode())
    out.write("".join(f"{place:010} 00000 n \n" for place in places).encode())
    out.write(f"trailer << /Size {len(objects) + 1} /Root 1 0 R >>\nstartxref\n{start}\n%%EOF".encode())
    return out.getvalue()


class Yields(SimpleTestCase):
    def test_inside_the_title_or_a_step(self):
        for text, serves, title in (
            ("Leek pot (serves 6)\n2 leeks\n300 g potatoes\nMethod\nSimmer.", 6, "Leek pot"),
            ("Leek pot\n2 leeks\n300 g potatoes\nMethod\nSimmer for 20 minutes. Serves 5.", 5, "Leek pot"),
            ("Leek pot\n2 leeks\n300 g potatoes\nMethod\nSimmer and divide between 4 bowls.", 4, "Leek pot"),
        ):
            found = from_any(text)
            self.assertEqual((found.serves, found.title), (serves, title))
            self.assertTrue(any("was found in" in note for note in found.notes))

    def test_pieces_are_asked_about(self):
        found = from_any("Oat squares\nMakes 15 to 18 squares\n200 g oats\n100 g honey\nMethod\nBake it.")
        self.assertEqual(found.serves, 15)
        self.assertTrue(any("how many of them are one portion" in note for note in found.notes), found.notes)

    def test_a_serving_that_is_a_day_of_food_is_questioned(self):
        dish = read_recipe("Loaf\nServes 1\n1 kg flour\n200 g butter\nMethod\nBake it.")
        self.assertTrue(any("how many does it really serve" in note for note in dish.notes))
        self.assertFalse(any("really serve" in note for note in read_recipe(LOAF).notes))


class Sources(SimpleTestCase):
    def test_two_recipes_are_told_apart(self):
        self.assertEqual([text.splitlines()[0] for text in recipes_in(f"{POT}\n\n{LOAF}")], ["Leek pot", "Seed loaf"])
        self.assertEqual(recipes_in(POT), [POT])
        with self.assertRaisesMessage(Problem, "2 recipes were found in the text: “Leek pot”, “Seed loaf”"):
            from_any(f"{POT}\n\n{LOAF}")

    def test_parts_of_one_recipe_are_one(self):
        text = "Pie\nServes 4\nIngredients\nFor the crust:\n200 g flour\nFor the filling:\n2 leeks\nMethod\nMake the crust.\nFill it and bake it."
        self.assertEqual(recipes_in(text), [text])

    def test_an_address_is_not_fetched(self):
        for text in ("https://kitchen.example/leek-pot", " www.kitchen.example/pot "):
            with self.assertRaisesMessage(Problem, "pages are not fetched here"):
                from_any(text)

    def test_words_of_a_pdf(self):
        found = from_bytes(pdf_of(POT))
        self.assertEqual((found.title, found.serves, len(found.lines), len(found.steps)), ("Leek pot", 3, 2, 1))

    def test_a_pdf_without_words_is_refused_kindly(self):
        with self.assertRaisesMessage(Problem, "pictures of words"):
            from_bytes(pdf_of("x"))
        with self.assertRaisesMessage(Problem, "a PDF that cannot be opened"):
            from_bytes(b"%PDF-1.7\n" + b"words " * 50)

    def test_a_page_without_marks_has_everything_to_look_at(self):
        page = (
            "<!doctype html><html><body><nav>Home</nav><h1>Leek pot</h1><p>Serves 3</p><h2>Ingredients</h2><ul><li>2 leeks"
            "<li>300 g potatoes</ul><h2>Method</h2><p>Simmer the leeks and potatoes.</p><script>1 cup nothing</script></body></html>"
        )
        dish = read_as_found(page)
        self.assertEqual(
            (dish.title, dish.serves, [line.text for line in dish.lines]),
            ("Leek pot", 3, ["2 leeks", "300 g potatoes"]),
        )
        self.assertEqual({line.sure for line in dish.lines}, {"check"})


class OnlyInAStep(SimpleTestCase):
    def added(self, step, *lines):
        return [(each.words, each.tags) for each in unlisted([step], [read_line(line) for line in lines])]

    def test_what_no_line_names(self):
        for step, words in (
            ("Scatter with flaked almonds and serve.", "flaked almond"),
            ("Season with salt and stir.", "salt"),
            ("Add 500 ml water and simmer.", "water"),
            ("Finish with a spoon of butter.", "butter"),
            ("Sprinkle over the sesame seeds.", "sesame seed"),
            ("Serve with soy sauce.", "soy sauce"),
        ):
            self.assertIn(words, [named for named, _ in self.added(step, "2 leeks", "300 g potatoes")], step)

    def test_it_is_searched_for_allergens(self):
        self.assertEqual(self.added("Scatter with flaked almonds.", "2 leeks"), [("flaked almond", ("tree_nut",))])

    def test_what_the_lines_have_is_not_named_again(self):
        for step in (
            "Add the leeks and the potatoes.",
            "Season with the salt.",
            "Melt the butter, add the leek mixture.",
            "Pour the sauce over.",
        ):
            self.assertEqual(
                self.added(step, "2 leeks", "300 g potatoes", "1 tsp salt", "20 g unsalted butter"), [], step
            )
