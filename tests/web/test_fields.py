"""One labeled field for the forms of every room: what was typed stands, what is wrong is said where it is."""

import re
from datetime import date, time
from pathlib import Path

from django.conf import settings
from django.template import Context, Template, TemplateSyntaxError
from django.test import SimpleTestCase
from lxml import html

ROOT = Path(settings.BASE_DIR)
#: By hand still: a choice in a list of foods, a figure in its cell of the label's table, ticks whose label is around them, a cell of a table.
BY_HAND = {
    "pantry/choose.html": 1,
    "pantry/label.html": 1,
    "pantry/_label_figures.html": 1,
    "bench/_drawer_line.html": 1,
    "meals/_table_cell.html": 1,
}
_VISIBLE = re.compile(r"<(?:input|select|textarea)\b(?![^>]*type=\"hidden\")", re.S)


def drawn(tag, **context):
    return html.fragment_fromstring(Template(tag).render(Context(context)), create_parent="div")


class AField(SimpleTestCase):
    def test_label_and_box_belong_together(self):
        found = drawn('{% field "batches" "Batches" 2.5 of=7 kind="number" stands="short" %}')
        box, label = found.find("input"), found.find("label")
        self.assertEqual((box.get("id"), label.get("for"), box.get("name")), ("batches-7", "batches-7", "batches"))
        self.assertEqual((box.get("value"), box.get("inputmode")), ("2.5", "decimal"))

    def test_days_and_times_as_their_boxes_take_them(self):
        tag = '{% field "on" "Day" on kind="date" %}{% field "at" "At" at kind="time" %}'
        found = drawn(tag, on=date(2026, 12, 24), at=time(8, 5))
        self.assertEqual([box.get("value") for box in found.findall("input")], ["2026-12-24", "08:05"])

    def test_what_was_refused_stands_in_its_own_field_and_in_no_other(self):
        tag = '{% field "amount" "Amount" "100 g" act="amount" %}{% field "text" "Anew" "1 egg" act="retype" %}'
        typed = {"amount": "a lot", "text": "2 eggs"}
        for context, expected in (
            ({"act": "amount", "typed": typed, "problem": "How much?"}, ["a lot", "1 egg"]),
            ({"typed": typed | {"act": "retype"}, "problem": "What?"}, ["100 g", "2 eggs"]),
            ({"act": "amount", "typed": typed, "stale": True}, ["a lot", "1 egg"]),
            ({"act": "amount", "typed": typed}, ["100 g", "1 egg"]),
        ):
            with self.subTest(context=context):
                self.assertEqual([box.get("value") for box in drawn(tag, **context).findall("input")], expected)

    def test_several_lines_keep_their_blank_ones(self):
        words = "Soak.\n\n   Simmer <long> & low.\r\nServe."
        found = drawn('{% field "steps" "Steps" words kind="lines" rows=4 %}', words=words)
        self.assertEqual(found.find("textarea").text_content(), words.replace("\r\n", "\n"))

    def test_what_is_wrong_is_tied_to_its_box(self):
        found = drawn('{% field "serving" "The figures are for" "some" wrong="A weight is expected." %}')
        box, said = found.find("input"), found.find("p")
        self.assertEqual((box.get("aria-describedby"), box.get("aria-invalid")), (said.get("id"), "true"))
        self.assertEqual(said.text, "A weight is expected.")

    def test_a_list_of_words_rows_or_pairs(self):
        tag = '{% choose "role" "It is" roles "side" none="anything" %}'
        options = drawn(tag, roles=[("main", "main dish"), ("side", "side dish")]).find("select").findall("option")
        self.assertEqual(
            [(o.get("value"), o.text) for o in options],
            [("", "anything"), ("main", "main dish"), ("side", "side dish")],
        )
        self.assertEqual([o.get("value") for o in options if o.get("selected") is not None], ["side"])

    def test_words_are_escaped(self):
        found = drawn('{% field "name" label value hint=value %}', label="<b>Name</b>", value='"><script>')
        self.assertEqual(
            (found.find("label").text_content().strip(), found.find("input").get("value")),
            ("<b>Name</b>", '"><script>'),
        )
        self.assertIsNone(found.find(".//script"))

    def test_what_answers_while_one_types_is_asked_or_posted_as_said(self):
        tag = '{% field "q" "Food" finds="/foods/" into="#foods" %}{% field "w" "Dish" posts="/dishes/" into="#dishes" when="focus" %}'
        asked, posted = drawn(tag).findall("input")
        self.assertEqual(
            (asked.get("hx-get"), asked.get("hx-post"), asked.get("hx-target")), ("/foods/", None, "#foods")
        )
        self.assertEqual(
            (posted.get("hx-get"), posted.get("hx-post"), posted.get("hx-trigger")), (None, "/dishes/", "focus")
        )

    def test_a_misspelled_wish_is_refused(self):
        for tag in ('{% field "a" "A" placeholder="b" %}', '{% choose "a" "A" "" requird=True %}'):
            with self.subTest(tag=tag), self.assertRaises(TemplateSyntaxError):
                drawn(tag)


class TheRooms(SimpleTestCase):
    def test_pantry_people_meals_and_bench_draw_no_field_by_hand(self):
        found = {}
        for room in ("pantry", "people", "meals", "bench"):
            for path in (ROOT / room / "templates").rglob("*.html"):
                if count := len(_VISIBLE.findall(path.read_text())):
                    found[f"{room}/{path.name}"] = count
        self.assertEqual(found, BY_HAND)
