"""Laws of what a food holds, over every row of the table and every tag: nothing is ruled out by silence."""

import itertools
import re
from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food.contents import REVIEW, contents, hits_of_food
from nutrition.food.made_of import SEVERAL_THINGS, SIMPLE, is_simple, made_of
from nutrition.food.spoken import hits_of_words, spoken
from nutrition.food.table import foods
from nutrition.food.tags import ALLERGENS, CHECK, CONTAINS, FOOD, LINE, TAGS
from nutrition.limits.avoid import find
from nutrition.reading.recipe import read_line
from tests import sampled

ANYTHING = set(TAGS) - {"trans_fat"}
#: A promise, and the tags it may soften. Rules of the trade; EU 1169/2011, Codex 118-1979.
PROMISES = {
    "gluten-free": {"gluten", "wheat"},
    "wheat-free": {"wheat"},
    "dairy-free": {"milk"},
    "lactose-free": set(),
    "egg-free": {"egg"},
    "nut-free": {"tree_nut", "peanut"},
    "peanut-free": {"peanut"},
    "soy-free": {"soy"},
    "sesame-free": {"sesame"},
    "fat-free": set(),
    "sugar-free": set(),
    "vegetarian": {"meat", "pork", "fish", "crustacean_shellfish", "mollusc", "gelatin", "rennet"},
    "vegan": {"milk", "egg", "fish", "crustacean_shellfish", "mollusc", "meat", "pork", "gelatin", "honey", "rennet"},
}
DENIALS = (
    "{food}, not {promise}",
    "{food} (never {promise})",
    "{food}, {promise} if needed",
    "{food}, need not be {promise}",
)
#: Lines whose words say what they hold, whatever food they are taken for.
FOODS = (
    "milk", "butter", "cheddar", "eggs", "mayonnaise", "wheat flour", "spaghetti", "rye bread", "barley", "soy sauce", "tofu",
    "peanuts", "almonds", "walnuts", "tahini", "mustard", "celery", "lupin flour", "white wine", "salmon", "shrimp", "mussels",
    "honey", "bacon", "gelatin", "rice", "carrots", "olive oil", "breaded cod", "pesto", "fish sauce", "beer",
)  # fmt: skip


def verdicts(text):
    return {hit.tag: hit.verdict for hit in hits_of_words(text, LINE)}


def held(text):
    return {tag for tag, verdict in verdicts(text).items() if verdict == CONTAINS}


class EveryRow(SimpleTestCase):
    def rows(self):
        table = foods().base
        return zip(table.ids, table.descriptions, table.categories, strict=True)

    def test_the_table_is_the_rule_but_where_a_row_was_read(self):
        for food_id, description, category in self.rows():
            row, rule = contents()[food_id], made_of(description, category)
            if row.decided != REVIEW:
                ruled = (rule.tags(CONTAINS), rule.tags(CHECK))
                self.assertEqual((row.contains, row.check), ruled, f"{description}: run tools/build_contents.py")
            self.assertFalse(set(row.contains) & set(row.check), description)

    def test_none_is_only_for_simple_foods_and_what_no_kind_holds(self):
        for food_id, description, category in self.rows():
            row = contents()[food_id]
            shown = set(row.contains) | set(row.check)
            if SEVERAL_THINGS in row.kinds:
                self.assertLessEqual(ANYTHING, shown, description)
            self.assertEqual(SIMPLE in row.kinds, is_simple(description, category), description)

    def test_what_its_words_say_it_holds(self):
        for food_id, description, _ in self.rows():
            said = {hit.tag for hit in spoken(description, FOOD, is_one=True).hits if hit.verdict == CONTAINS}
            self.assertLessEqual(said, set(contents()[food_id].contains), description)

    def test_a_thousand_rows_were_read(self):
        self.assertGreaterEqual(sum(row.decided == REVIEW for row in contents().values()), 1000)

    def test_a_promise_softens_its_own_tags_and_no_others(self):
        """Each row with one promise in turn, as a line settled on it; a quarter is asked unless everything is."""
        pairs = list(zip(self.rows(), itertools.cycle(PROMISES.items())))
        for (food_id, description, _), (promise, own) in sampled(pairs, 1800):
            plain = Line(description, food_id, Grams.exactly(100), "weight", "sure")
            promised = replace(plain, text=f"{promise} {description}")
            before, after = ({f.tag: f.verdict for f in find([line], TAGS)} for line in (plain, promised))
            lost = {tag for tag, verdict in before.items() if verdict == CONTAINS and after.get(tag) != CONTAINS}
            self.assertLessEqual(lost, own, promised.text)
            self.assertLessEqual(set(before), set(after), promised.text)


class Simple(SimpleTestCase):
    @given(st.text(st.characters(categories=("Ll",), max_codepoint=0x17F), min_size=3, max_size=12))
    def test_a_word_nobody_put_on_the_list_makes_it_several_things(self, word):
        self.assertFalse(is_simple(f"Rice, {word}qx", "Rice"))
        self.assertFalse(is_simple("Rice, white, raw", "Some kind nobody knows"))

    def test_a_food_nobody_knows_may_hold_everything(self):
        made = made_of("Grandmother's delight", "A category nobody knows")
        self.assertEqual((made.kinds, set(made.tags(CHECK))), ((SEVERAL_THINGS,), ANYTHING))


class Words(SimpleTestCase):
    """Lines made of promises, foods, "or", "with", "may contain" and denials."""

    @given(st.sampled_from(FOODS), st.sampled_from(sorted(PROMISES)))
    def test_a_promise_softens_its_own(self, food, promise):
        for text in (f"{promise} {food}", f"{food}, {promise}", f"{food} ({promise})"):
            self.assertLessEqual(held(food) - held(text), PROMISES[promise], text)
            self.assertLessEqual(set(verdicts(food)), set(verdicts(text)), text)

    @given(st.sampled_from(FOODS), st.sampled_from(sorted(PROMISES)), st.sampled_from(DENIALS))
    def test_a_denied_promise_softens_nothing(self, food, promise, denial):
        text = denial.format(food=food, promise=promise)
        self.assertLessEqual(held(food), held(text), text)

    @given(st.sampled_from(FOODS), st.sampled_from(FOODS), st.sampled_from(("or", "with", "and", "plus", "in", "/")))
    def test_two_foods_hold_what_each_holds(self, first, second, joint):
        text = f"{first} {joint} {second}"
        self.assertLessEqual(held(first) | held(second), held(text), text)

    @given(st.sampled_from(FOODS), st.sampled_from(FOODS), st.sampled_from(sorted(PROMISES)))
    def test_a_promise_of_one_of_two_leaves_the_other(self, first, second, promise):
        for text in (f"{first} or {promise} {second}", f"{promise} {second} or {first}"):
            self.assertLessEqual(held(first), held(text), text)

    @given(st.sampled_from(FOODS), st.sampled_from(sorted(PROMISES)), st.sampled_from(sorted(PROMISES)))
    def test_two_promises_soften_what_each_softens(self, food, first, second):
        for text in (f"{first} and {second} {food}", f"{food}, {first} and {second}", f"{first}, {second} {food}"):
            self.assertLessEqual(held(food) - held(text), PROMISES[first] | PROMISES[second], text)
            for promise in (first, second):
                self.assertLessEqual(held(text) & held(food), held(f"{promise} {food}"), text)

    @given(st.sampled_from(FOODS), st.sampled_from(FOODS))
    def test_traces_are_a_matter_of_the_label(self, food, trace):
        text = f"{food} (may contain {trace})"
        self.assertEqual(held(text), held(food), text)
        self.assertLessEqual(held(trace), set(verdicts(text)), text)

    words = st.sampled_from(
        [
            *FOODS,
            *PROMISES,
            "or",
            "with",
            "and",
            "not",
            "no",
            "without",
            "free from",
            "if needed",
            "may contain",
            ",",
            "(",
            ")",
            "&",
        ]
    )

    @settings(max_examples=400)
    @given(st.lists(words, max_size=9))
    def test_no_words_make_it_raise(self, words):
        self.assertLessEqual(set(verdicts(" ".join(words))), set(TAGS))


class Lines(SimpleTestCase):
    def test_words_add_to_what_the_food_holds(self):
        plain = read_line("200 g white rice")
        for extra, tag in (("in butter", "milk"), ("with shrimp", "crustacean_shellfish"), ("and cashews", "tree_nut")):
            shown = {f.tag: f.verdict for f in find([replace(plain, text=f"{plain.text} {extra}")])}
            self.assertEqual(shown[tag], CONTAINS)
        bread = read_line("4 slices bread")
        silent = {f.tag for f in find([replace(bread, text="4 of them")], TAGS)}
        self.assertLessEqual({hit.tag for hit in hits_of_food(bread.food_id)}, silent)

    def test_a_doubtful_line_holds_what_any_candidate_holds(self):
        sole, cod = (
            foods().by_description(name).id
            for name in ("Fish, cod, Atlantic, raw", "Mollusks, oyster, eastern, wild, raw")
        )
        line = Line("500 g catch", sole, Grams.exactly(500), "weight", "check", others=(cod,))
        shown = {f.tag: f.verdict for f in find([line])}
        self.assertEqual((shown["fish"], shown["mollusc"]), (CONTAINS, CHECK))

    def test_a_line_without_a_food_may_hold_everything(self):
        self.assertEqual({f.tag for f in find([read_line("3 tbsp dragon whiskers")], TAGS)}, set(TAGS))
        self.assertEqual({f.tag for f in find([read_line("3 tbsp dragon whiskers")])}, set(ALLERGENS))

    def test_a_denied_promise_is_no_part_of_the_name(self):
        for text in ("200 g pasta (gluten-free if needed)", "200 g pasta, does not need to be gluten-free"):
            self.assertEqual(read_line(text).food_id, read_line("200 g pasta").food_id, text)
        self.assertEqual(read_line("1 cup granola, without nuts").food_id, read_line("1 cup granola").food_id)


class ByName(SimpleTestCase):
    """What a row is called and where it stands says what it holds, whatever the rules say: a second look, written apart.

    USDA FoodData Central: its categories and descriptions. Rows that are called so and are not it are named.
    """

    LAWS = (
        # category, words, but not these, any of the tags
        (r"^Finfish|^Fish$|^Shellfish$", ".", r"frog|turtle|jellyfish", "fish crustacean_shellfish mollusc"),
        (r"^Dairy and Egg|^Cheese$|^Milk,|^Yogurt|^Cottage", ".", r"topping", "milk egg"),
        (r"^Eggs and", ".", r"$^", "egg"),
        (r"^(?:Beef|Pork|Lamb|Poultry|Chicken, whole|Turkey|Liver|Sausages|Bacon|Cold cuts|Ground)", ".", r"^mock|meatless", "meat"),
        (".", r"almond|walnut|pecan|cashew|hazelnut|filbert|pistachio|macadamia|brazil ?nut|pine nut|pinyon|marzipan", r"$^", "tree_nut"),
        (".", r"peanut", r"without peanuts", "peanut"),
        (".", r"\bsoy|tofu|tempeh|edamame|\bmiso\b", r"\boil\b|or soyburgers", "soy"),
        (".", r"sesame|tahini", r"$^", "sesame"),
        (".", r"mustard", r"$^", "mustard"),
        (".", r"celery|celeriac", r"$^", "celery"),
        (".", r"lupin", r"$^", "lupin"),
        (".", r"\bwheat\b|macaroni|couscous|semolina|bulgur|\bcake\b|muffin|bagel|pretzel|croissant|waffle|pizza|burrito",
         r"gluten[- ]?free|buckwheat|rice cake|corn cake|pizza, canned|burrito bowl|peanut butter cup", "wheat"),
        (".", r"\brye\b|barley|\bmalt\b|\bbeer\b", r"root beer|salami|gluten[- ]?free", "gluten"),
        (".", r"shrimp|\bcrab\b|lobster|crayfish|prawn", r"imitation|crab ?apple", "crustacean_shellfish"),
        (".", r"\b(?:clams?|oysters?|mussels?|scallops?|squid|octopus|calamari)\b", r"mushroom|includes oyster|squash|ostrich", "mollusc"),
        (".", r"\b(?:tuna|salmon|cod|anchovy|sardines?|herring|trout|halibut)\b", r"$^", "fish"),
        (".", r"\b(?:rum|vodka|whiskey|liqueur|gin|brandy)\b", r"$^", "alcohol"),
    )  # fmt: skip

    def test_rows(self):
        table = foods().base
        for category, words, but, tags in self.LAWS:
            category, words, but = (re.compile(text, re.I) for text in (category, words, but))
            for food_id, description, kind in zip(table.ids, table.descriptions, table.categories, strict=True):
                if category.search(kind) and words.search(description) and not but.search(description):
                    self.assertTrue(set(tags.split()) & set(contents()[food_id].contains), f"{description}: {tags}")
