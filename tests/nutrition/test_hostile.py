"""Pastes and files that mean harm: read in linear time, under a second up to the size limit, or refused in words."""

import itertools
import json
from time import process_time
from unittest import TestCase

from django.test import tag

from nutrition.notes import Problem
from nutrition.reading.course import course_of
from nutrition.reading.found import MOST_FILE, MOST_TEXT
from nutrition.reading.page import from_any, from_bytes
from nutrition.reading.recipe import read_as_found, read_line
from tests import sampled

_TOP = "Soup\nServes 2\n1 onion\n"
_STEPS = "Soup\nServes 2\nIngredients\n1 onion\nMethod\n"


def _filled(start, piece, end=""):
    """Size -> a text of about that size: `start`, then `piece` again and again, then `end`."""
    return lambda size: start + piece * max((size - len(start) - len(end)) // len(piece), 1) + end


def _lines(piece, count=200):
    """... 200 lines of that many pieces."""
    return lambda size: (
        "Soup\nServes 2\nIngredients\n"
        + "\n".join(
            f"1 {piece * min(max(size // count // len(piece) - 2, 1), 450 // len(piece))}" for _ in range(count)
        )
    )


_RECIPE = '{"@type":"Recipe","name":"x","recipeIngredient":["1 onion"],'
#: Plain words, up to MOST_TEXT.
WORDS = {
    "unclosed tags": _filled(_TOP, "<"),
    "tags in tags": _filled(_TOP, "<a "),
    "entities": _filled(_TOP, "&"),
    "digits as yield": _filled("Soup\nServes ", "9", "\n1 onion"),
    "figures as yield": _filled("Soup\n", "9 ", "servings\n1 onion"),
    "one step of times": _filled(_STEPS, "heat 5 minutes "),
    "steps of times": _filled(_STEPS, "heat 5 minutes " * 300 + "\n"),
    "steps without number": _filled(_STEPS, "heat.\n"),
    "times without unit": _filled(_STEPS, "5 to "),
    "degrees": _filled(_STEPS, "bake at 350 degrees " * 200 + "\n"),
    "a line of digits": _filled("Soup\nServes 2\n", "1", " onions"),
    "a line of blanks": _filled("Soup\nServes 2\n1", " ", "onion"),
    "about about": _filled("Soup\nServes 2\n", "about "),
    "bullets": _filled(_TOP, "* "),
    "lines of one word": _lines("onion of "),
    "lines of sums": _lines("1 cup + 2 "),
    "lines of brackets": _lines("((400 g) "),
    "a thousand lines": _lines("onion ", 1000),
}
#: Files, up to MOST_FILE.
FILES = {
    "unclosed elements": _filled("<html>", "<div><p>"),
    "unclosed script tags": _filled("<html>", "<script "),
    "scripts in scripts": _filled("<html>", "<script>"),
    "unclosed ld+json": _filled("<html>", '<script type="application/ld+json">'),
    "ld+json of braces": _filled('<html><script type="application/ld+json">', '{"a":', "</script>"),
    "many ld+json": _filled("<html>", '<script type="application/ld+json">{"@type":"Recipe"}</script>'),
    "comments": _filled("<html>", "<!-- "),
    "marked, with attributes": lambda size: (
        '<html><div itemtype="https://schema.org/Recipe"><p '
        + " ".join(f"a{n}=b" for n in range(size // 9))
        + "></p></div>"
    ),
    "marked, and deep": _filled('<html><div itemtype="https://schema.org/Recipe">', "<b><p>"),
    "marked, and long": _filled(
        '<html><div itemtype="https://schema.org/Recipe">', "<li itemprop=recipeIngredient>1 onion"
    ),
    "yield of digits": _filled(_RECIPE + '"recipeYield":"', "9", '"}'),
    "yield as a number": _filled(_RECIPE + '"recipeYield":', "9", "}"),
    "one endless step": _filled(_RECIPE + '"recipeInstructions":"', "<br ", '"}'),
    "endless steps": _filled(_RECIPE + '"recipeInstructions":["', 'heat 5 minutes","', 'x"]}'),
    "deep JSON": _filled("", "["),
}


def _cost(text):
    """Seconds of CPU to read it, whatever comes of it; only words may be the answer."""
    started = process_time()
    try:
        dish = read_as_found(from_any(text))
        course_of(dish.steps, dish.lines)
    except Problem as refusal:
        assert str(refusal).endswith("."), refusal
    return process_time() - started


@tag("alone")
class Costs(TestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        read_line("1 onion")
        _cost(
            '<html><div itemtype="https://schema.org/Recipe"><p>1 onion</p></div>'
        )  # what is loaded once is loaded now

    def holds(self, kinds, most):
        for name, made in kinds.items():
            with self.subTest(name):
                quarter, whole = _cost(made(most // 4)), _cost(made(most))
                if whole >= min(
                    1.0, 8 * quarter + 0.15
                ):  # a host that slows for a moment is no cost: the least of three
                    whole = min(whole, _cost(made(most)), _cost(made(most)))
                self.assertLess(whole, 1.0)
                self.assertLess(whole, 8 * quarter + 0.15, "more than linear")

    def test_words_up_to_the_limit(self):
        self.holds(WORDS, MOST_TEXT)

    def test_files_up_to_the_limit(self):
        self.holds(FILES, MOST_FILE)


class Refusals(TestCase):
    def refusal(self, source):
        with self.assertRaises(Problem) as caught:
            from_bytes(source) if isinstance(source, bytes) else from_any(source)
        return str(caught.exception)

    def test_files_that_hold_no_words_are_known_by_their_first_bytes(self):
        for start, kind in (
            (b"%PDF-1.7\n", "a PDF that cannot be opened"),
            (b"PK\x03\x04\x14\x00", "an office or ZIP file"),
            (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", "an office file"),
            (rb"{\rtf1\ansi", "a rich text file"),
            (b"\x89PNG\r\n", "a picture"),
            (b"\xff\xd8\xff\xe0", "a picture"),
            (b"\x00\x00\x00\x18ftypheic", "a picture"),
        ):
            with self.subTest(kind):
                self.assertIn(f"The file is {kind}", self.refusal(start + b"words " * 50))

    def test_deep_and_endless_json_is_refused_in_words(self):
        self.assertIn("schema.org Recipe", self.refusal('{"a":' * 600 + "1" + "}" * 600))
        self.assertIn("thousands of digits", self.refusal(_RECIPE + '"recipeYield":' + "9" * 5000 + "}"))

    def test_what_is_too_much_is_said_with_what_is_taken(self):
        self.assertIn("200,000", self.refusal("x" * (MOST_TEXT + 1)))
        many = json.dumps({"@type": "Recipe", "recipeIngredient": ["1 onion"] * 201})
        self.assertEqual(
            self.refusal(many),
            "More than 200 ingredient lines were read; at most 200 are taken. Paste one recipe.",
        )
        steps = json.dumps({"@type": "Recipe", "recipeIngredient": ["1 onion"], "recipeInstructions": "stir " * 2000})
        self.assertIn("steps have at most 5,000", self.refusal(steps))


class Cut(TestCase):
    """A line of a page that is not read would count as nothing: then the page is refused, whole."""

    def page(self, between):
        lines = "".join(f'<li itemprop="recipeIngredient">{n} g salt</li>' for n in (1, 2))
        more = '<li itemprop="recipeIngredient">500 g bananas</li>'
        return f'<html><div itemscope itemtype="https://schema.org/Recipe"><h1 itemprop="name">Pot</h1>{lines}{between}{more}</div>'

    def test_what_is_read_is_read_to_the_end(self):
        self.assertEqual(from_any(self.page("<p>words</p>" * 50)).lines[-1], "500 g bananas")
        self.assertEqual(from_any(self.page("<script>1;</script>" * 9000)).lines[-1], "500 g bananas")

    def test_a_recipe_that_would_be_cut_is_refused(self):
        for between in ("<p>words</p>" * 9000, "<script>1;</script>" * 30_000, "x" * 500_000):
            with self.assertRaisesRegex(Problem, "a part of it would be lost"):
                from_any(self.page(between))


class Marks(TestCase):
    def test_marks_that_show_nothing_change_nothing(self):
        """A soft hyphen or a zero-width joiner of a web page hides no allergen and no caution."""
        plain, marked = read_line("2 tbsp soy sauce"), read_line("2 tb\u00adsp soy\u200b sa\u00aduce")
        self.assertEqual((marked.food_id, marked.weight, marked.text), (plain.food_id, plain.weight, plain.text))
        self.assertEqual(read_line("1 jalapen\u0303o").text, "1 jalapeño")


class EveryJoin(TestCase):
    def test_no_line_raises(self):
        """Every amount with every unit, food and joiner: 7,000 lines, read as something or kept as a question; a seventh is asked unless everything is."""
        amounts, seconds = ("1", "1/2", "½", "2-3", "1,5"), ("2", "½", "1/0", "0")
        units, names = ("cup", "tbsp", "can", "g", ""), ("flour", "soy sauce", "milk", "", "zhoug")
        joiners = ("+", " + ", " plus ", " & ", "/", " x ", " (", "+-", " or ", " and ", "-", ", ", " minus ", "\u00d7")
        lines = [
            f"{first} {unit}{joiner}{second} {other} {name}"
            for first, unit, joiner, second, other, name in itertools.product(
                amounts, units, joiners, seconds, ("tbsp", ""), names
            )
        ][::2]
        self.assertEqual(len(lines), 7000)
        for text in sampled(lines, 1000):
            line = read_line(text)
            self.assertEqual(line.text, text)
            self.assertTrue(line.grams is None or 0 <= line.grams <= 1e6, text)
