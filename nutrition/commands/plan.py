"""plan: the open places of some days, from recipe files and plain foods, so that every day is within every limit."""

import argparse
import json

from nutrition.commands.answers import Refused, finite
from nutrition.commands.asked import read
from nutrition.commands.meal import by_dish, seats_of
from nutrition.food.nutrients import BY_KEY
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.roles import guess_role
from nutrition.meals.oven import hands_on
from nutrition.meals.planned import Asked, Candidate, Choice, Diner, Fed, Plan, Stuck
from nutrition.meals.planner import plan
from nutrition.meals.suits import meals_for
from nutrition.meals.table import Served
from nutrition.sheet.cautions import text_of


def candidates_of(args: argparse.Namespace) -> list[Candidate]:
    """The recipes, each where it suits as a rule or where --suits says."""
    if not args.paths:
        raise Refused("plan: nothing to plan from was named; give the paths of recipes")
    said = by_dish(args.suits, len(args.paths), "--suits")
    serves = by_dish(args.serves, len(args.paths), "--serves")
    found = []
    for at, path in enumerate(args.paths):
        dish = read(path, float(serves[at]) if at in serves else None)
        role = guess_role(dish.kind, dish.title, "dinner")
        meals = frozenset(said[at].split(",")) if at in said else meals_for(dish.kind, dish.title, role)
        if meals - MEAL_SHARES.keys():
            raise Refused(f"--suits {at + 1}={said[at]}: meals are {', '.join(MEAL_SHARES)}, divided by commas")
        found.append(Candidate(str(at), Served(dish, role), meals, hands_on(dish)))
    return found


def choice_json(choice: Choice, diners: list[Diner]) -> dict[str, object]:
    return {
        "day": choice.day + 1,
        "meal": choice.meal,
        "name": diners[choice.diner].name,
        "dish": int(choice.key) + 1,
        "servings": choice.servings,
        "check_label": list(choice.by_label),
        "mind": [text_of(key) for key in choice.minds],
        "beside": [
            {"food": food.one, "count": count, "grams": finite(count * food.grams)} for food, count in choice.beside
        ],
    }


def stuck_json(stuck: Stuck, diners: list[Diner]) -> dict[str, object]:
    return {
        "day": stuck.day + 1,
        "name": diners[stuck.diner].name,
        "meal": stuck.meal or None,
        "proven": stuck.is_proven,
        "misses": [{"nutrient": m.gate.nutrient, "side": m.side, "by": finite(m.by)} for m in stuck.misses],
    }


def fed_json(fed: Fed, diners: list[Diner]) -> dict[str, object]:
    return {
        "day": fed.day + 1,
        "name": diners[fed.diner].name,
        "energy_kcal": finite(fed.energy_kcal),
        "need_kcal": None if fed.need_kcal is None else finite(fed.need_kcal),
        "enough": fed.is_enough,
    }


def run(args: argparse.Namespace) -> None:
    candidates = candidates_of(args)
    meals = args.meals.split(",")
    if set(meals) - MEAL_SHARES.keys() or set(args.shared) - set(meals):
        raise Refused(
            f"--meals {args.meals}: meals are {', '.join(MEAL_SHARES)}, divided by commas; --shared is one of them"
        )
    if not 1 <= args.days <= 14:
        raise Refused(f"--days {args.days}: 1 to 14 are expected")
    diners = [Diner(seat.name, seat.eater) for seat in seats_of(args, [])]
    found = plan(Asked(diners, candidates, args.days, meals, shared=frozenset(args.shared)))
    result = {
        "solved": not found.stuck,
        "proven": found.is_proven,
        "dishes": [each.served.title for each in candidates],
        "choices": [choice_json(each, diners) for each in found.choices],
        "stuck": [stuck_json(each, diners) for each in found.stuck],
        "days": [fed_json(each, diners) for each in found.fed],
    }
    if args.json:
        print(json.dumps(result, ensure_ascii=False, indent=1))
    else:
        say(found, candidates, diners)


def say(found: Plan, candidates: list[Candidate], diners: list[Diner]) -> None:
    titles = {each.key: each.served.title for each in candidates}
    for choice in found.choices:
        beside = "".join(f"; {food.counted(count)}" for food, count in choice.beside)
        beside += f"; check the label: {', '.join(choice.by_label)}" if choice.by_label else ""
        beside += "".join(f"; mind: {text_of(key)}" for key in choice.minds)
        whose = f" {diners[choice.diner].name}:" if len(diners) > 1 else ""
        print(
            f"Day {choice.day + 1}, {choice.meal}:{whose} {titles[choice.key]}, {choice.servings:g} of a serving{beside}"
        )
    for stuck in found.stuck:
        misses = ", ".join(
            f"{BY_KEY[m.gate.nutrient].label.lower()} by {BY_KEY[m.gate.nutrient].show(m.by)}" for m in stuck.misses
        )
        what = (
            f"no dish suits {stuck.meal}"
            if stuck.meal
            else f"no choice found is within every limit; the nearest misses {misses}"
        )
        print(f"Day {stuck.day + 1}, {diners[stuck.diner].name}: {what}{'' if stuck.is_proven else ' (not proven)'}")
    for fed in found.fed:
        of = "" if fed.need_kcal is None else f" of {fed.need_kcal:,.0f}"
        too_little = "" if fed.is_enough else ": too little to live on, whatever the limits say"
        print(f"Day {fed.day + 1}, {diners[fed.diner].name}: {fed.energy_kcal:,.0f}{of} kcal{too_little}")
