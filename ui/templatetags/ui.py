"""One tag, one template each, or one drawing: the gate in three sizes, the thread, the share bar."""

import functools
import re
from math import isfinite
from urllib.parse import urlencode

from django import template
from django.template.loader import get_template, render_to_string
from django.utils.html import format_html
from django.utils.safestring import mark_safe
from django.utils.timezone import localdate

from accounts import permissions
from nutrition.dish.cooking import methods
from nutrition.dish.naming import called, description_of, name_first
from nutrition.food.derived import a_sitting_of
from nutrition.food.names import cook_name as name_of_food
from nutrition.food.nutrients import BY_KEY, rounded
from nutrition.food.table import foods
from nutrition.food.tags import ALLERGENS, TAGS
from nutrition.food.units import kitchen_number
from nutrition.limits.avoid import hits_as_named
from nutrition.limits.plans import plan_label
from nutrition.sheet.verdicts import STATES
from ui import rails
from ui.drawing import rail_svg, share_svg

register = template.Library()

THREADS = ("kept", "less", "more", "swapped", "dropped", "added", "unsettled", "cooked")


_INDENT = re.compile(r"\s*\n\s*")


def drawn(name, library=register, takes_context=False):
    """An inclusion tag over plain values: the same values are drawn once a process and remembered, since a page of
    choices shows the same gates again and again. `library`: of another room's tags. Indents are let go: of a hundred cells they
    were a third.
    """

    drawing = functools.cache(lambda: get_template(name).template)

    @functools.lru_cache(maxsize=8192)
    def draw(values):
        return mark_safe(_INDENT.sub("\n", drawing().render(template.Context(dict(values)))))  # noqa: S308 - as the template escaped it

    def named(tag):
        @library.simple_tag(name=tag.__name__, takes_context=takes_context)
        @functools.wraps(tag)
        def once(*args, **kwargs):
            return draw(tuple(tag(*args, **kwargs).items()))

        return once

    return named


@register.simple_tag
def gate_rail(verdict, written=None):
    """The large rail."""
    return rail_svg(rails.rail(verdict, written, rails.LARGE))


@register.simple_tag
def gate_small(verdict, written=None):
    """The small rail, for lists and choices."""
    return rail_svg(rails.rail(verdict, written, rails.SMALL))


@register.simple_tag
def gauge_row(gauge):
    """A gate with its name, its rail and what it says."""
    verdict = gauge.verdict
    return format_html(
        '{}<span class="name">{}</span>{}<span class="words words-{}"><b>{}</b>{}</span>',
        gate_glyph(verdict.state),
        BY_KEY[gauge.nutrient].label,
        gate_rail(verdict, gauge.written),
        verdict.state,
        rails.holds(verdict),
        rails.margin(verdict),
    )


@register.inclusion_tag("ui/gate_strip.html")
def gate_strip(verdict, parts):
    """A rail on which several parts lie end to end, as the meals of a day."""
    return {"strip": rails.strip(verdict, parts), "key": verdict.gate.nutrient}


@drawn("ui/gate_glyph.html")
def gate_glyph(state):
    """The gate itself: bar lifted, bar across, bar broken."""
    if state not in STATES:
        raise template.TemplateSyntaxError(f"a gate is one of {', '.join(STATES)}, not {state!r}")
    return {"state": state, "words": rails.WORDS[state]}


@register.simple_tag
def tags_named(line):
    """ " (tree nuts, milk)": the listed allergens that a line's words or its food hold or may hold; empty for none."""
    tags = dict.fromkeys(hit.tag for hit in hits_as_named(line) if hit.tag in ALLERGENS)
    return f" ({', '.join(TAGS[tag].lower() for tag in tags)})" if tags else ""


@drawn("ui/thread.html")
def thread(kind):
    """What ties a line as written to the line of the try."""
    if kind not in THREADS:
        raise template.TemplateSyntaxError(f"a thread is one of {THREADS}, not {kind!r}")
    return {"kind": kind}


@register.simple_tag
def share_bar(now, was, is_unknown=False):
    """A line's part of the watched nutrient, 0 to 1, with a tick where it was as written."""
    return share_svg(now, was, is_unknown)


@register.simple_tag
def mark():
    """The house mark: an open gate."""
    return mark_safe(
        '<svg class="house-mark" width="26" height="24" viewBox="0 0 26 24" aria-hidden="true">'
        '<path class="mark-posts" d="M4 2v20M22 2v20"/><path class="mark-bar" d="M5 19 17 4"/></svg>'
    )


@register.simple_tag
def query(**values):
    """ "?watch=…&line=…" of what is not empty, for links that keep the place one is at."""
    return "?" + urlencode({name: value for name, value in values.items() if value})


@register.filter
def along(effects, gauges):
    """The effects in the order of a row of gates; a gate without one is left out."""
    found = {effect.nutrient: effect for effect in effects}
    return [found[gauge.nutrient] for gauge in gauges if gauge.nutrient in found]


@register.filter
def cited(source):
    """A source as a clinician reads it: what nobody has held against its document is to be verified.

    >>> cited("USDA FoodData Central portions, from memory")
    'USDA FoodData Central portions, to be verified'
    """
    return str(source or "").replace("from memory", "to be verified")


@register.filter
def at(rows, position):
    """One of several, by its place from 0."""
    return rows[position]


@register.filter
def of_key(values, key):
    return values[key]


@register.filter
def holds(verdict):
    return rails.holds(verdict)


@register.filter
def margin(verdict):
    return rails.margin(verdict)


@register.filter
def margin_unit(verdict):
    """As `margin`, where no rail stands beside it to tell the unit."""
    return rails.with_unit(rails.margin(verdict), BY_KEY[verdict.gate.nutrient].unit)


@register.filter
def nutrient_label(key):
    return BY_KEY[key].label


@register.filter
def nutrient_unit(key):
    return BY_KEY[key].unit


@register.filter
def sittings(items):
    """What one sitting may hold of each nutrient of gauges or targets that is counted in sittings; empty for none."""
    each = (item[0] if isinstance(item, tuple) else item for item in items)
    keys = [key for key in dict.fromkeys(item.nutrient for item in each) if a_sitting_of(key)]
    return "; ".join(f"{BY_KEY[key].label.lower()} {a_sitting_of(key)}" for key in keys)


@register.filter
def show(amount, key):
    """An amount of a nutrient with its unit, rounded for the eye; a dash for none."""
    return "–" if amount is None else BY_KEY[key].show(amount)


@register.filter
def bare(amount, key):
    """As `show`, without the unit."""
    return "–" if amount is None else rounded(amount, BY_KEY[key].unit).replace("-", "−")


@register.filter
def up_to(most, key):
    """The most a serving may hold, in words."""
    return f"up to {BY_KEY[key].show(most)}" if isfinite(most) else "no upper bound known"


@register.filter
def post(amount, key):
    """A post as a person plans by it: rounded for the eye, never to nothing."""
    return rounded(amount, BY_KEY[key].unit)


@register.filter
def tag_label(tag):
    return TAGS[tag]


@register.filter
def lookup(mapping, key):
    """What stands under a key, empty when nothing does."""
    return mapping.get(key, "") if mapping else ""


@register.filter
def limit(amount):
    """A limit as it was set: no rounding beyond two places."""
    return "" if amount is None else f"{amount:,.2f}".rstrip("0").rstrip(".")


@register.filter
def grams(amount):
    """Grams of a line; a small amount keeps a decimal."""
    if amount is None:
        return "no weight"
    if amount >= 1000:
        return f"{amount / 1000:,.2f} kg"
    if amount == 0:
        return "0 g"
    if amount < 0.05:
        return "<0.1 g"
    return f"{amount:.0f} g" if amount >= 10 else f"{amount:.1f} g"


@register.filter
def amount_to_buy(item):
    """How much of a thing a list asks for: by measure and by weight, as a span where it is vague."""
    weight = f"{grams(item.weight.least)} to {grams(item.weight.most)}" if item.is_vague else grams(item.grams)
    return ", ".join(filter(None, [item.measure, weight]))


@register.filter(name="kitchen_number")
def as_kitchen_number(amount):
    """A number as a cook writes it; nothing is 0."""
    return kitchen_number(amount) if amount >= 0.05 else "0"


@register.filter
def plain_grams(amount):
    return "" if amount is None else f"{amount:.4g}" if amount < 1000 else f"{amount:.0f}"


@register.filter
def in_grams(amount):
    """Grams as a form takes them back, as in "12.5 g"; empty for none."""
    return "" if amount is None else f"{plain_grams(amount)} g"


@register.inclusion_tag("ui/pages.html", takes_context=True)
def pages(context, page, what, earlier="Later", later="Earlier", by="page"):
    """Links to the pages around this one, which keep what else the address says. `by`: the name of the page's number."""
    said = context["request"].GET.copy()

    def address(number):
        said[by] = number
        return f"?{said.urlencode()}"

    return {
        "page": page, "what": what, "earlier": earlier, "later": later,
        "before": address(page.previous_page_number()) if page.has_previous() else "",
        "after": address(page.next_page_number()) if page.has_next() else "",
    }  # fmt: skip


@functools.lru_cache(maxsize=64)
def _blank(kind, template, today):
    """`today`: a form may begin with the day."""
    return render_to_string(template, {"form": kind()})


@register.simple_tag
def fields_of(form, template):
    """The fields of a form by their template. An empty form is drawn once a day: a third of a person's page was this."""
    return render_to_string(template, {"form": form}) if form.is_bound else _blank(type(form), template, localdate())


#: A select shows so many rows at once; more are found by a word.
IN_A_SELECT = 50


@register.inclusion_tag("ui/search_select.html")
def search_select(rows, name, address, what, *, chosen=None, without="", size=""):
    """A select over rows of which there may be thousands: the first of them, and a box that finds others by a word.

    `rows`: one more than IN_A_SELECT where there are more.
    """
    return {
        "shown": rows[:IN_A_SELECT], "are_more": len(rows) > IN_A_SELECT, "name": name, "address": address, "what": what,
        "chosen": chosen, "without": without, "size": size, "select_size": size.replace("control", "select"),
    }  # fmt: skip


#: Address -> (its name, what whoever enters must be allowed).
ROOMS = {
    "today": ("Today", "practice.see"),
    "people:people": ("People", "people.see"),
    "recipes:recipes": ("Recipes", "recipes.see"),
    "bench:benches": ("Bench", "bench.see"),
    "meals:meals": ("Meals", "meals.see"),
    "kitchen:cooks": ("Kitchen", "kitchen.see"),
    "handouts:handouts": ("Handouts", "handouts.see"),
    "pantry:pantry": ("Pantry", "pantry.see"),
    "office:members": ("Office", "practice.manage"),
}


@register.inclusion_tag("ui/rooms.html", takes_context=True)
def rooms(context):
    """The rooms whoever is signed in may enter, with the one they are in marked."""
    at = context["request"].resolver_match
    here = {at.app_name, at.url_name} if at else set()
    shown = [
        (address, name, address.partition(":")[0] in here)
        for address, (name, permission) in ROOMS.items()
        if permissions.may(context["user"], permission)
    ]
    return {"rooms": shown}


@register.simple_tag(takes_context=True)
def may(context, permission):
    """Whether whoever looks may do it: what a page does not offer to them it need not refuse."""
    return permissions.may(context["user"], permission)


@register.filter
def told(value):
    """Plain values for a reader: lists and pairs as words, days as days."""
    if isinstance(value, dict):
        return ", ".join(f"{words(name)} {told(each)}" for name, each in value.items()) or "none"
    if isinstance(value, list | tuple):
        return ", ".join(map(told, value)) or "none"
    return f"{value:g}" if isinstance(value, float) else words(value)


@register.filter
def words(name):
    """A name of a column as words: "weight_kg" is "weight kg"."""
    return str(name).replace("_", " ")


@register.filter
def planned_in(by_step, number):
    """What of an allowance is meant for one step, as a form takes it; empty for none."""
    return next((plain_grams(planned) for at, planned, _ in by_step if at == number and planned), "")


@register.filter
def food_name(food_id):
    """The description of a food."""
    if not food_id:
        return ""
    return foods().by_id(food_id).description if foods().has_id(food_id) else name_of_food(food_id)


@register.filter
def cook_name(line):
    """What a cook calls the food of a line; the line's own words when it has none."""
    return name_first(line)


@register.filter
def description(line):
    """The table's description of a line's food; empty when it has none."""
    return description_of(line)


@register.filter
def plan_name(key):
    """Whose rule it is."""
    return plan_label(key)


@register.filter
def round_grams(amount):
    """An estimated weight: to the nearest 5 g under 300, else 10."""
    step = 5 if amount < 300 else 10
    return grams(round(amount / step) * step)


@register.filter
def line_text(position, lines):
    """What a line is called where a finding names it: its words, or the food that took their place."""
    return called(lines[position])


@register.filter
def texts_of(positions, lines):
    """The lines at these positions, each as a finding names it."""
    return "; ".join(called(lines[position]) for position in positions)


@register.filter
def in_short(line):
    """A line by what it is called and its grams."""
    return f"{called(line)}, {grams(line.grams)}"


@register.filter
def units(count):
    """The rounded figure of a tally, with halves as a cook writes them."""
    return _in_units(count.units, count.tally)


@register.filter
def between_units(count):
    """The least and the most a tally may come to, in words."""
    least, most = (_in_units(each, count.tally) for each in (count.least_units, count.most_units))
    return f"({least} to {most})" if isfinite(count.most_units) else f"({least} or more, no upper bound known)"


def _in_units(number, tally):
    """Quarters as a cook writes them; what is rounded to tenths stays in tenths.

    >>> from types import SimpleNamespace as Tally
    >>> [_in_units(number, Tally(step=0.1)) for number in (0.0, 0.3, 2.3, 2.5, 12.0, 123.4)]
    ['0', '0.3', '2.3', '2½', '12', '123.4']
    >>> [_in_units(number, Tally(step=0)) for number in (2.5, 999.6, 1234.0)]
    ['2.5', '999.6', '1,234']
    """
    if tally.step and isfinite(number) and (4 * number).is_integer():
        return kitchen_number(number)
    return limit(number) if number >= 1 else f"{number:.3g}"


@register.filter
def long_choice(field, length):
    """The words of what a select shows, where they are too long for its box."""
    words = dict(field.field.choices).get(field.value(), "")
    return words if len(words) > length else ""


@register.filter
def lower_first(text):
    return text[:1].lower() + text[1:]


@register.filter
def percent_of(share):
    return f"{100 * share:.0f}"


@register.filter
def method_source(key):
    return methods()[key].source


@register.filter
def signed(percent):
    """A whole percentage with its sign, as in −23."""
    return f"{percent:+d}".replace("-", "−")


@register.filter
def raw_number(value):
    """A number as a form field or a script takes it: no grouping, no unit."""
    return f"{value:.13g}"


@register.filter
def minutes(seconds):
    """Seconds as the minutes a form field takes."""
    return f"{seconds / 60:.6g}"


@register.filter
def clock(seconds):
    """Seconds as a timer shows them."""
    hours, rest = divmod(int(seconds), 3600)
    return f"{hours}:{rest // 60:02d}:{rest % 60:02d}" if hours else f"{rest // 60}:{rest % 60:02d}"


@register.filter
def positive(amount):
    return abs(amount)


@register.filter
def signed_amount(change, key):
    """A change of a nutrient with its sign and unit, as in −42 mg."""
    return f"{'+' if change > 0 else '−'}{BY_KEY[key].show(abs(change))}"


@register.filter
def mark_of(mark):
    """A mark out of ten, to a half; a dash where nobody gave one."""
    return "–" if mark is None else f"{round(2 * mark) / 2:g}"


@drawn("ui/mark_bar.html")
def mark_bar(mark):
    """A mark out of ten as ten strokes, so that tries compare at a glance."""
    return {"mark": mark, "width": round(10 * (mark or 0), 1)}


@register.filter(name="called")
def as_called(line):
    """A line by its words, or by the food that took their place."""
    return called(line)
