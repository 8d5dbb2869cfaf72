"""What a table draws a hundred times: each by its plain values, drawn once a process and remembered. A change of one portion draws a few
anew."""

from math import isinf

from django import template

from nutrition.limits.plans import PLANS
from nutrition.limits.plans.allergens import FREE_OF
from nutrition.limits.roles import ROLES
from ui.templatetags.ui import drawn

register = template.Library()


@drawn("meals/_table_cell.html", register)
def crossing(cell, occasion, title, is_watched, may_change, typed=None, problem=""):
    """A dish before an eater. `typed`: what was refused and stands in the box; `problem`: why, said where the finger is."""
    return {
        "occasion": occasion,
        "seat": cell.column.seat.pk,
        "name": str(cell.column.seat),
        "dish": cell.dish,
        "title": title,
        "shown": cell.shown if typed is None else typed,
        "state": cell.crossing.state if cell.is_eaten else "",
        "why": str(cell.crossing.why) if cell.is_eaten else "",
        "minds": tuple(map(str, cell.crossing.minds)),
        "blamed": cell.blamed if cell.is_eaten else "",
        "left_out": cell.left_out,
        "problem": problem,
        "is_watched": is_watched,
        "may_change": may_change,
    }


@drawn("meals/_table_dish_more.html", register)
def dish_more(row, occasion):
    """What may be changed of a dish on a table."""
    return {
        "occasion": occasion,
        "dish": row.row.pk,
        "role": row.row.role,
        "roles": tuple((key, each.label) for key, each in ROLES.items()),
        "batches": row.row.batches,
        "pieces": row.row.pieces,
        "is_plain": row.served.is_plain,
        "is_own": bool(row.row.is_own and row.row.recipe_id),
    }


@drawn("meals/_table_split.html", register)
def pot_split(split, occasion, may_change):
    """A pot that is split, or could be: what to do, and the button for it."""
    return {
        "occasion": occasion,
        "dish": split.row.row.pk,
        "title": split.row.served.title,
        "words": split.words,
        "keys": split.keys,
        "seats": split.seats,
        "is_taken": split.is_taken,
        "may_change": may_change,
    }


@drawn("meals/_guest_plans.html", register)
def guest_plans(ticked=()):
    """What a guest keeps out, and what they follow, to be ticked. `ticked`: keys of those that are."""
    other = tuple((key, plan.label, key in ticked) for key, plan in PLANS.items() if not key.startswith("free-of:"))
    return {
        "allergen_plans": tuple((plan.key, plan.label, plan.key in ticked) for plan in FREE_OF),
        "other_plans": other,
    }


@drawn("meals/_table_gate.html", register)
def meal_gate(verdict):
    """A gate of a meal under its eater."""
    return {"verdict": verdict}


@register.filter
def household_words(household):
    return f"for all of {household}, one dinner for everybody"


@register.filter
def home_label(item):
    return f"How much {item.name} is at home"


@register.filter
def packs(item, region):
    """What to take from the shelf, as a shop of that region sells it; None for what is sold loose."""
    return item.packs(region)


@register.filter
def home_words(item):
    """How much of a thing is at home, as it is typed."""
    if not item.at_home:
        return ""
    return "always" if isinf(item.at_home) else f"{item.at_home:.4g} g"
