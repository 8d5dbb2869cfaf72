"""The computation core: foods, dishes, limits, swaps. Python with numpy, HiGHS, rapidfuzz, lxml, pypdf, the tagger and the page reader;
no Django, no database, no network. The clock bounds a search that takes too long, and decides nothing else.

These names are the public door. They stay; scripts, notebooks and checks use them and nothing deeper.

Reading
    read_line(text, serves=None, kitchen="") -> Line      one ingredient line; never raises
    read_recipe(source, serves=None) -> Dish              bytes or text: a page, JSON-LD, plain words
    write(dish) -> dict                                   schema.org Recipe that reads back to the same figures
    Dish, Line, Grams                                     the values everything is made of; weights in grams, whole dish
    to_data(dish), from_data(data)                        a dish as JSON keeps it, with its version

Foods
    foods() -> Foods                                      the table in use, per 100 g of edible part; unknown is NaN
    OwnFood, with_own(foods) -> Foods                     foods of one's own, joined to it
    Label(name, form, per_g, printed, ...)                a label as printed, "us" or "eu"; as_food(id) -> OwnFood
    search_foods(words, limit=15) -> list[Food]           look foods up by a cook's words

Limits
    Facts(weight_kg, energy_kcal, plans, circumstances)   what is known of a person
    Measurement(key, value, on)                           a weight or a blood result; Facts(measured=..., today=...)
    medicines_in(text)                                    a list of medicines read: what each changes at the table
    PLANS                                                 plan key -> Plan
    targets_for(plan_key, facts, settings=None)           draft targets; never prescriptions
    Target(nutrient, minimum, maximum, ...)               one limit, a day, a meal or a serving
    Eater(facts, plans, targets, ...)                     whoever the dish is for, with what was noted of them
    merged(eaters) -> Eater                               several as one: the strictest of everything known of them
    conflicts(plan_keys, targets)                         where plans pull apart

One serving (amounts in the unit of each nutrient's key)
    analyze(dish, foods=None) -> Analysis                 amounts with least and most
    examine(dish, eater, meal="dinner", ...) -> Sheet     all there is to say of it; sheet.state and sheet.findings: one answer, as every
                                                          command and every page has it; sheet.doubts: which lines decide what
    unlisted(steps, lines)                                foods the steps add and no line names
    read_method(dish) -> Method                           each step with the lines it takes in hand, what it adds, what it does, how hot
    whole_dish(dish) -> Dish                              with those behind its lines: of a vague weight or of none
    told(dish) -> tuple[str, ...]                         the steps as they must be cooked now that lines stand in place of others
    told(was, now) -> Dish                                `now` with the steps of `was` as they must be cooked then
    find_avoided(lines, tags=None, allergen_list="")      findings: "contains" or "check the label"

What else would do
    offers(dish, eater, position, meal="dinner", ...)     ways to do a line's job, with every effect; position from 0
    find_ways(dish, eater, wish=None, ...)                the least change that opens every gate, or which cannot meet
    Wish(pinned, at_least, ways, certain, ...)            what of a dish must stay, and how many ways are wanted

Several dishes, several eaters
    Served(dish, role, ...), plain(words)                 a dish as it stands on a table; a food as it is eaten
    Seat(name, eater, portions, ...), Portion             somebody at the table; how much of each dish they get
    lay(dishes, seats, meal="dinner") -> Table            everybody's meal: gates, what each dish takes, what is left
    timeline(dishes, cooks=1) -> Timeline                 one oven and so many hands, back from the serving
    plan(asked) -> Plan                                   the open places of days, within every limit

Problem is raised for what cannot be done; its sentence says what was read, what was expected and what to do.
"""

import importlib
from typing import Any

#: Name -> the module it comes from, loaded when it is first asked for: reading a line needs no solver.
_DOOR = {
    "read_line": "reading.recipe",
    "read_recipe": "reading.recipe",
    "write": "giving.writing",
    "Dish": "dish.dish",
    "Line": "dish.line",
    "Grams": "dish.grams",
    "to_data": "dish.codec",
    "from_data": "dish.codec",
    "foods": "food.table",
    "Foods": "food.table",
    "OwnFood": "food.own",
    "with_own": "food.own",
    "Label": "food.label",
    "search_foods": "reading.matching",
    "Facts": "limits.plans",
    "Measurement": "limits.measured",
    "medicines_in": "limits.medicines",
    "PLANS": "limits.plans",
    "targets_for": "limits.plans",
    "Eater": "limits.eater",
    "merged": "limits.eater",
    "Target": "limits.gates",
    "conflicts": "limits.conflicts",
    "analyze": "sheet.analysis",
    "examine": "sheet.examine",
    "unlisted": "reading.unlisted",
    "read_method": "reading.method",
    "whole_dish": "reading.whole",
    "told": "swaps.telling",
    "find_avoided": "limits.avoid",
    "offers": "swaps.door",
    "find_ways": "swaps.door",
    "Wish": "swaps.wish",
    "Served": "meals.table",
    "plain": "meals.table",
    "Seat": "meals.table",
    "Portion": "meals.portions",
    "lay": "meals.table",
    "timeline": "meals.oven",
    "plan": "meals.planner",
    "Problem": "notes",
}

__all__ = [*_DOOR]


def __getattr__(name: str) -> Any:
    if name not in _DOOR:
        raise AttributeError(f"nutrition has no {name!r} at its door; there is {', '.join(_DOOR)}")
    value = getattr(importlib.import_module(f"nutrition.{_DOOR[name]}"), name)
    globals()[name] = value
    return value
