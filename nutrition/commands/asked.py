"""What the options of a command ask for: a dish, an eater, targets; refused in one line that names the option."""

import argparse
from datetime import date
from pathlib import Path

from rapidfuzz import process

from nutrition.commands.answers import Refused
from nutrition.dish.dish import Dish
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.measured import Measurement
from nutrition.limits.noted import noted_words
from nutrition.limits.plans import CIRCUMSTANCES, PLANS, Facts, choose, targets_for
from nutrition.limits.roles import WHOLE
from nutrition.notes import Problem
from nutrition.reading.recipe import read_as_found
from nutrition.swaps.offers import Workbench


def parse_target(text: str, scope: str = "serving") -> Target:
    for sign in ("<=", ">="):
        if sign in text:
            key, limit = (part.strip() for part in text.split(sign, 1))
            try:
                number = float(limit)
                sides = {"maximum": number} if sign == "<=" else {"minimum": number}
                return Target(key, scope=scope, source="given on the command line", **sides)
            except ValueError as problem:
                raise Refused(f"--target {text!r}: {problem}") from None
    raise Refused(f"--target {text!r}: expected KEY<=NUMBER or KEY>=NUMBER, as in 'sodium_mg<=600'")


def parse_school(text: str, diets: list[str]) -> tuple[str, str]:
    """KEY=VALUE, or PLAN.KEY=VALUE for one plan alone; the value must be one that some chosen plan knows."""
    key, equals, value = text.partition("=")
    plan, _, name = key.rpartition(".")
    holders = [k for k in diets if name in PLANS[k].schools and plan in ("", k)]
    if not equals or not holders:
        known = sorted({name for k in diets for name in PLANS[k].schools}) or ["none: add --diet KEY first"]
        nearest = ", ".join(match for match, _, _ in process.extract(name, known, limit=3))
        raise Refused(f"--school {text!r}: expected KEY=VALUE; the nearest settings of these plans are {nearest}")
    if not any(value in PLANS[k].schools[name].options for k in holders):
        options = dict.fromkeys(option for k in holders for option in PLANS[k].schools[name].options)
        raise Refused(f"--school {text!r}: {name} can be {', '.join(options)}")
    return key, value


def settings_of(key: str, wanted: list[tuple[str, str]]) -> dict[str, str]:
    """One plan's settings: what is wanted of it, its defaults for the rest."""
    schools = PLANS[key].schools
    own = {
        name: value
        for full, value in wanted
        for plan, _, name in [full.rpartition(".")]
        if plan in ("", key) and name in schools and value in schools[name].options
    }
    return choose(key, own)


def parse_date(text: str, option: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise Refused(f"{option} {text!r}: a date is expected, as in 2026-03-02") from None


def parse_measured(text: str) -> Measurement:
    """KEY=VALUE@DATE."""
    key, _, rest = text.partition("=")
    value, _, on = rest.partition("@")
    try:
        number = float(value)
    except ValueError:
        raise Refused(f"--measured {text!r}: expected KEY=VALUE@DATE, as in potassium_mmol_l=4.4@2026-03-02") from None
    return Measurement(key, number, parse_date(on, "--measured"))


def facts_of(args: argparse.Namespace, diets: list[str]) -> Facts:
    """Whoever the options describe, as the plans need to know them."""
    return Facts(
        weight_kg=args.weight_kg,
        energy_kcal=args.energy_kcal,
        plans=tuple(diets),
        circumstances=tuple(args.circumstance),
        medicines="; ".join(args.medicine),
        age_years=args.age_years,
        sex=args.sex,
        height_cm=args.height_cm,
        life_stage=args.life_stage,
        kidney_stage=args.kidney_stage,
        fluid_ml=args.fluid_ml,
        measured=tuple(map(parse_measured, args.measured)),
        today=parse_date(args.today, "--today") if args.today else None,
    )


def eater_of(args: argparse.Namespace, scope: str = "serving") -> Eater:
    """Whoever the options describe. `scope`: of the limits given on the command line, one serving or the whole meal."""
    try:
        diets = list(dict.fromkeys(args.diet))
        for key in diets:
            choose(key, {})
        unknown = [c for c in args.circumstance if c not in CIRCUMSTANCES]
        if unknown:
            raise Problem("limits.no_such_circumstance", key=unknown[0], all=", ".join(CIRCUMSTANCES))
        facts = facts_of(args, diets)
        wanted = [parse_school(text, diets) for text in args.school]
        plans = {key: settings_of(key, wanted) for key in diets}
        targets = [target for key in diets for target in targets_for(key, facts, plans[key])]
    except ValueError as problem:
        raise Refused(f"{_option_of(problem)}: {problem}") from None
    own = tuple(parse_target(text, scope) for text in args.target)
    return Eater(
        facts,
        plans,
        (*targets, *own),
        role=getattr(args, "role", WHOLE) if scope == "serving" else WHOLE,
        noted=noted_words(args.allergies),
        disliked=noted_words(args.dislikes),
    )


#: Code of what cannot be -> the option it came by.
_OPTIONS = {
    "limits.body_weight": "--weight-kg",
    "limits.energy": "--energy-kcal",
    "limits.age": "--age-years",
    "limits.height": "--height-cm",
    "limits.fluid": "--fluid-ml",
    "limits.no_such_measure": "--measured",
    "limits.cannot_be_measured": "--measured",
    "limits.no_such_circumstance": "--circumstance",
}


def _option_of(problem: ValueError) -> str:
    return _OPTIONS.get(problem.code, "--diet") if isinstance(problem, Problem) else "--diet"


def read(path: str, serves: float | None) -> Dish:
    if serves is not None and not 0 < serves <= 1000:
        raise Refused(f"--serves {serves:g}: a number of servings above 0 is expected")
    try:
        dish = read_as_found(Path(path).read_bytes(), serves)
    except OSError as problem:
        raise Refused(f"{path}: {problem.strerror or 'cannot be read'}; give the path of a recipe file") from None
    except Problem as problem:
        raise Refused(f"{path}: {problem}") from None
    if not dish.serves:
        raise Refused(f"{path}: how many servings it makes is not said; add --serves N")
    return dish


def workbench_of(args: argparse.Namespace) -> tuple[Workbench, Dish]:
    """The dish and the eater of the swaps and way-through commands."""
    eater = eater_of(args)
    recipe = read(args.path, args.serves)
    return Workbench(recipe, eater, args.meal), recipe


def position_of(number: int, recipe: Dish, option: str) -> int:
    if not 1 <= number <= len(recipe.lines):
        raise Refused(f"{option} {number}: the recipe has lines 1 to {len(recipe.lines)}, headings not counted")
    return number - 1
