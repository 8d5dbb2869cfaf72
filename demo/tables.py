"""A holiday table: seven dishes, six at it, four kinds of limits; a guest in need of nothing among them."""

from datetime import timedelta

from django.utils.timezone import localdate

from meals import actions
from meals.models import Occasion
from recipes.actions import set_shelf

#: Dish of demo/recipes, what part of the meal it is, how many batches.
DISHES = [
    ("orange-salad", "salad", 1), ("slow-duck", "main", 1), ("chestnut-loaf", "main", 1), ("red-cabbage", "side", 1),
    ("roast-roots", "side", 1), ("rye-rolls", "bread", 1), ("poached-pears", "dessert", 1),
]  # fmt: skip
#: Guest, what they keep to.
GUESTS = [("Aunt Ottilie", ["gluten-free"]), ("Little Jonas", ["free-of:milk"]), ("The neighbor", [])]
#: Who -> dish -> portion, where it is not one serving.
PORTIONS = {
    "Benedek Solway": {"orange-salad": "none", "chestnut-loaf": "none", "slow-duck": "half", "roast-roots": "half", "poached-pears": "half"},
    "Petra Solway": {"slow-duck": "none"},
    "Marguerite Obi": {"slow-duck": "none", "rye-rolls": "none", "roast-roots": "none", "chestnut-loaf": "half"},
    "Aunt Ottilie": {"slow-duck": "none", "rye-rolls": "none"},
    "Little Jonas": {"chestnut-loaf": "none", "slow-duck": "half", "orange-salad": "half"},
    "The neighbor": {"chestnut-loaf": "none"},
}  # fmt: skip


def lay(recipes, people, user):
    """Midwinter at the Solways, three weeks from now."""
    occasion = actions.begin(localdate() + timedelta(days=24), "dinner", "Solway", "Midwinter at the Solways", user)

    def fresh():
        return Occasion.objects.get(pk=occasion.pk)

    actions.seat_person(occasion, None, people["Marguerite Obi"], user)
    for name, plans in GUESTS:
        actions.seat_guest(fresh(), None, name, plans, None, None)
    dishes = {}
    for stem, role, batches in DISHES:
        set_shelf(recipes[stem], "holiday", "Midwinter")
        row = dishes[stem] = actions.add_recipe(fresh(), None, recipes[stem])
        actions.set_dish(fresh(), None, row, role=role, batches=batches)
    # Pears without the cream for the two who cannot have it, as the table itself would say.
    pears = dishes["poached-pears"]
    cream = [line.key for line in pears.kept.lines if "cream" in line.text]
    without = [seat for seat in occasion.seats.all() if str(seat) in ("Marguerite Obi", "Little Jonas")]
    actions.take_out(fresh(), None, without, pears, cream)
    for seat in occasion.seats.all():
        portions = {dishes[stem].pk: words for stem, words in PORTIONS[str(seat)].items()}
        actions.set_portions(fresh(), None, {seat: portions})


#: The week of Marguerite Obi: meal of a day -> what stands there and how much of it. "left:" is what an earlier table left; words with a
#: weight are plain foods.
WEEK = [
    {"breakfast": [("pear-oats", "1")], "lunch": [("lentil-soup", "half"), ("1 slice of whole wheat bread, 30 g", "1")], "dinner": [("barley-pilaf", "half")]},
    {"breakfast": [("pear-oats", "1")], "lunch": [("bean-toast", "1")], "dinner": [("cod-tray", "1")], "snack": [("1 apple, 150 g", "1")]},
    {"breakfast": [("left:pear-oats", "1")], "lunch": [("left:barley-pilaf", "half")], "dinner": [("roast-roots", "1"), ("100 g chicken breast", "1")]},
    {"breakfast": [("pear-oats", "1")], "lunch": [("left:roast-roots", "1"), ("1 boiled egg, 50 g", "1")], "dinner": [("bean-toast", "1")], "snack": [("30 g walnuts", "1")]},
    {"breakfast": [("pear-oats", "1")], "dinner": [("fish-stew", "half")]},
]  # fmt: skip


def plan(recipes, person, user):
    """Her week from this Monday on; Saturday and Sunday are open."""
    monday = localdate() - timedelta(days=localdate().weekday())
    cooked = {}
    for number, meals in enumerate(WEEK):
        for meal, dishes in meals.items():
            occasion = actions.begin_for(person, monday + timedelta(days=number), meal, user)
            [seat] = occasion.seats.all()
            for what, words in dishes:
                row = cooked[what] = _put(occasion, what, recipes, cooked)
                actions.set_portions(Occasion.objects.get(pk=occasion.pk), None, {seat: {row.pk: words}})


def _put(occasion, what, recipes, cooked):
    fresh = Occasion.objects.get(pk=occasion.pk)
    if what.startswith("left:"):
        return actions.add_left_over(fresh, None, cooked[what.removeprefix("left:")])
    return actions.add_recipe(fresh, None, recipes[what]) if what in recipes else actions.add_food(fresh, None, what)
