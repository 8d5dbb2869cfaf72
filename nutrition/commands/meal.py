"""meal: several dishes before one eater or several; what each meal holds, what it leaves, who cannot eat from which pot."""

import argparse
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from nutrition.commands.answers import Refused, finding_json, finite, gate_json, verdict_of
from nutrition.commands.asked import eater_of, position_of, read
from nutrition.commands.options import Parser, add_seat
from nutrition.food.nutrients import BY_KEY
from nutrition.limits.roles import ROLES, guess_role
from nutrition.meals.contact import contacts
from nutrition.meals.fitting import fitting
from nutrition.meals.oven import Timeline, timeline
from nutrition.meals.pairing import pairings, to_blame
from nutrition.meals.portions import read_portion
from nutrition.meals.room import room_for
from nutrition.meals.splitting import Split, splits
from nutrition.meals.table import Place, Seat, Served, Table, lay, plain
from nutrition.meals.together import over_without, ways_for_all
from nutrition.meals.whole import way_for_table
from nutrition.notes import Problem
from nutrition.sheet.verdicts import SHUT

#: Of a limit that is missed.
SIDES = {"high": "over", "low": "under"}


def by_dish(texts: list[str], count: int, option: str) -> dict[int, str]:
    """N=TEXT of an option, by the place of the dish from 0."""
    found = {}
    for text in texts:
        number, equals, value = text.partition("=")
        if not equals or not number.strip().isdigit() or not 1 <= int(number) <= count:
            raise Refused(f"{option} {text!r}: expected N=VALUE with the number of a dish, 1 to {count}")
        found[int(number) - 1] = value.strip()
    return found


def dishes_of(args: argparse.Namespace) -> list[Served]:
    """The recipes, then the plain foods, in the order they were named."""
    count = len(args.paths) + len(args.food)
    if not count:
        raise Refused("meal: nothing to eat was named; give the path of a recipe, or --food '1 slice of bread, 35 g'")
    serves = {at: _number(text, "--serves") for at, text in by_dish(args.serves, count, "--serves").items()}
    roles = by_dish(args.role, count, "--role")
    found = []
    for at, path in enumerate(args.paths):
        dish = read(path, serves.get(at))
        found.append(Served(dish, guess_role(dish.kind, dish.title, args.meal)))
    try:
        found += [plain(words) for words in args.food]
    except Problem as problem:
        raise Refused(f"--food: {problem}") from None
    for at, role in roles.items():
        if role not in ROLES:
            raise Refused(f"--role {role!r}: one of {', '.join(ROLES)} is expected")
        found[at] = Served(found[at].dish, role)
    return found


def _number(text: str, option: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise Refused(f"{option} {text!r}: a number is expected") from None


def seat_of(args: argparse.Namespace, dishes: list[Served], number: int) -> Seat:
    said = by_dish(args.portion, len(dishes), "--portion")
    try:
        portions = tuple(read_portion(said.get(at, ""), dish.measured) for at, dish in enumerate(dishes))
    except Problem as problem:
        raise Refused(f"--portion: {problem}") from None
    without = {
        at: frozenset(
            position_of(int(each), dishes[at].dish, "--without") for each in lines.split(",") if each.strip().isdigit()
        )
        for at, lines in by_dish(args.without, len(dishes), "--without").items()
    }
    name = args.name or f"Eater {number}"
    return Seat(name, eater_of(args, "meal"), portions, without=without)


def seats_of(args: argparse.Namespace, dishes: list[Served]) -> list[Seat]:
    """The eater of the options, or those of the file: a list of objects whose keys are the options of one eater."""
    if not args.eaters:
        return [seat_of(args, dishes, 1)]
    try:
        rows = json.loads(Path(args.eaters).read_text(encoding="utf-8"))
    except OSError as problem:
        raise Refused(
            f"--eaters {args.eaters}: {problem.strerror or 'cannot be read'}; give the path of a JSON file"
        ) from None
    except (ValueError, RecursionError):
        raise Refused(f"--eaters {args.eaters}: this is no JSON; a list of eaters is expected") from None
    if not isinstance(rows, list) or not rows or not all(isinstance(row, dict) for row in rows):
        raise Refused(
            f'--eaters {args.eaters}: a list of eaters is expected, as in [{{"name": "Ada", "diet": ["kidney"]}}]'
        )
    options = Parser(prog=f"--eaters {args.eaters}")
    add_seat(options)
    return [seat_of(options.parse_args(_as_options(row)), dishes, number) for number, row in enumerate(rows, 1)]


def _as_options(row: dict[str, Any]) -> list[str]:
    return [
        text
        for key, value in row.items()
        for each in (value if isinstance(value, list) else [value])
        for text in (f"--{str(key).replace('_', '-')}={each}",)
    ]


def place_json(table: Table, place: Place, number_of: Callable[[int], int] = lambda at: at + 1) -> dict[str, object]:
    nearest = fitting(place) if place.state == SHUT else None
    blame = {v.gate.nutrient: to_blame(place, v.gate.nutrient) for v in place.verdicts}
    return {
        "name": place.seat.name,
        "verdict": verdict_of(place.state),
        "state": place.state,
        "gates": [
            {
                **gate_json(verdict),
                "left": finite(place.left(verdict.gate.nutrient)) if verdict.gate.high else None,
                "most_from": number_of(found[0]) if (found := blame[verdict.gate.nutrient]) else None,
            }
            for verdict in place.verdicts
        ],
        "kept_out": [
            {
                "tag": kept.tag,
                "verdict": kept.state,
                "contain": [number_of(at) for at in kept.contain],
                "check_label": [number_of(at) for at in kept.by_label],
            }
            for kept in place.kept
        ],
        "dishes": [
            {
                "dish": number_of(crossing.dish),
                "portion": finite(crossing.portion.likely),
                "verdict": verdict_of(crossing.state),
                "state": crossing.state,
                "findings": [finding_json(each, table.dishes[crossing.dish].dish) for each in crossing.findings],
                "why": str(crossing.why),
                "takes": {key: finite(part) for key, part in crossing.takes.items()},
            }
            for crossing in place.crossings
        ],
        "room": {
            part: [
                {
                    "food": each.food.one,
                    "count": each.count,
                    "grams": finite(each.count * each.food.grams),
                    "check_label": list(each.by_label),
                }
                for each in fits
            ]
            for part, fits in room_for(place).items()
        },
        "pairings": [
            {
                "nutrient": each.nutrient,
                "dish": number_of(each.dish),
                "part": finite(each.part),
                "share": finite(each.share),
                "paid_by": None if each.payer is None else number_of(each.payer),
            }
            for each in pairings(table, place)
        ],
        "portions_that_fit": [each.likely for each in nearest.portions] if nearest and not nearest.misses else None,
        "nearest_misses": [
            {"nutrient": each.gate.nutrient, "side": each.side, "by": finite(each.by)} for each in nearest.misses
        ]
        if nearest
        else [],
    }


def split_json(table: Table, split: Split) -> dict[str, object]:
    return {
        "dish": split.dish + 1,
        "for": [table.places[at].seat.name for at in split.seats],
        "without": [at + 1 for at in split.without],
        "before_step": split.step or None,
        "part": finite(split.part),
        "grams": finite(split.grams),
        "steps": [str(each) for each in split.words(table)],
    }


def oven_json(line: Timeline) -> dict[str, object]:
    """Everything on one line of time, in minutes before the serving."""
    return {
        "begins": finite(line.begins),
        "tasks": [
            {
                "dish": task.dish + 1,
                "step": task.stretch.step,
                "kind": task.stretch.kind,
                "start": finite(task.start),
                "end": finite(task.end),
                "oven_c": task.stretch.c,
                "cook": None if task.cook is None else task.cook + 1,
            }
            for task in line.tasks
        ],
        "heats": [{"at": finite(minutes), "oven_c": setting.c} for minutes, setting in line.heats()],
        "clashes": [
            {
                "kind": each.kind,
                "dishes": [at + 1 for at in each.dishes],
                "start": finite(each.start),
                "end": finite(each.end),
            }
            for each in line.clashes
        ],
        "early": {str(each.dish + 1): finite(each.early) for each in line.placed if each.early},
    }


def ways_json(table: Table, number: int) -> dict[str, object]:
    """Changes of one dish that open everybody's meal."""
    if not 1 <= number <= len(table.dishes):
        raise Refused(f"--way {number}: the number of a dish is expected, 1 to {len(table.dishes)}")
    outcome = ways_for_all(table, number - 1)
    over = over_without(table, number - 1)
    return {
        "solved": outcome.solved,
        "ways": [[str(change.text) for change in way.changes] for way in outcome.ways],
        "conflict": [
            {"nutrient": miss.nutrient, "side": miss.side, "source": str(miss.source)} for miss in outcome.conflict
        ],
        "note": str(outcome.note),
        "over_without_it": [{"name": place.seat.name, "nutrient": key, "by": finite(by)} for place, key, by in over],
    }


def whole_json(table: Table) -> dict[str, object]:
    """A way over the whole table."""
    found = way_for_table(table)
    return {
        "solved": found.is_through,
        "changed": [
            {"dish": at + 1, "changes": [str(change.text) for change in way.changes]}
            for at, way in found.changed.items()
        ],
        "eaters": [
            {
                "name": place.seat.name,
                "verdict": verdict_of(place.state),
                "portions": [finite(each.likely) for each in place.seat.portions],
                "misses": [
                    {"nutrient": miss.gate.nutrient, "side": miss.side, "by": finite(miss.by)}
                    for miss in found.left.get(at, ())
                ],
            }
            for at, place in enumerate(found.table.places)
        ],
    }


def say_whole(whole: dict[str, Any]) -> None:
    for each in whole["changed"]:
        print(f"change dish {each['dish']}: {'; '.join(each['changes'])}")
    for each in whole["eaters"]:
        portions = ", ".join(f"{portion:g}" for portion in each["portions"])
        print(f"then {each['name']}: {each['verdict']}, portions {portions}")
        for miss in each["misses"]:
            nutrient = BY_KEY[miss["nutrient"]]
            print(f"  the nearest leave {nutrient.label.lower()} {nutrient.show(miss['by'])} {SIDES[miss['side']]}")


def run(args: argparse.Namespace) -> None:
    dishes = dishes_of(args)
    table = lay(dishes, seats_of(args, dishes), args.meal)
    found = [split for at in range(len(dishes)) for split in splits(table, at)]
    result = {
        "meal": table.meal,
        "dishes": [
            {
                "title": each.title,
                "role": each.role,
                "servings": finite(each.measured.servings),
                "eaten": finite(table.eaten(at).likely),
                "spare": finite(table.spare(at)),
            }
            for at, each in enumerate(table.dishes)
        ],
        "eaters": [place_json(table, place) for place in table.places],
        "splits": [split_json(table, split) for split in found],
        "oven": oven_json(timeline(table.dishes, args.cooks)),
        "ways": ways_json(table, args.way) if args.way is not None else None,
        "whole": whole_json(table) if args.whole else None,
        "contact": [str(words) for contact in contacts(table) for words in contact.words(table)],
    }
    if args.json:
        print(json.dumps(result, ensure_ascii=False, indent=1))
        return
    say(table, found)
    for contact in result["contact"]:
        print(f"traces: {contact}")
    for way in (result["ways"] or {}).get("ways", ()):
        print(f"a way for everybody: {'; '.join(way)}")
    if result["ways"]:
        print(result["ways"]["note"])
    if result["whole"]:
        say_whole(result["whole"])


def say(table: Table, found: list[Split]) -> None:
    for at, each in enumerate(table.dishes):
        eaten, made = table.eaten(at).likely, each.measured.servings
        of = "" if each.is_plain else f" of {made:g}"
        print(f"{at + 1}. {each.title or 'Untitled'}, {ROLES[each.role].label}: {eaten:g}{of} servings eaten")
    for place in table.places:
        print(f"{place.seat.name}: {place.state}")
        for verdict in place.verdicts:
            nutrient = BY_KEY[verdict.gate.nutrient]
            print(f"  {verdict.state:7}{nutrient.label}: {nutrient.show(verdict.amount)} against {verdict.gate.source}")
        for crossing in place.crossings:
            told = "; ".join(filter(None, map(str, (crossing.why, *crossing.minds))))
            print(f"  {crossing.state:7}{table.dishes[crossing.dish].title}: {told}")
        for part, fits in room_for(place).items():
            print(f"  left, {part}: {', or '.join(str(each.words) for each in fits[:3])}")
        if place.state == SHUT and (nearest := fitting(place)) and not nearest.misses:
            print(f"  portions that fit: {', '.join(f'{each.likely:g}' for each in nearest.portions)}")
    for split in found:
        for words in split.words(table):
            print(f"split {table.dishes[split.dish].title}: {words}")
