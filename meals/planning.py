"""Plan for me: the library as candidates, the week as it stands, and what was found as plain values."""

from dataclasses import replace

from django.db.models import Avg
from django.utils.timezone import localdate

from bench.models import Decision, Edit, Try
from kitchen.models import Tasting
from nutrition.food.nutrients import BY_KEY
from nutrition.food.tags import TAGS
from nutrition.limits.roles import guess_role
from nutrition.meals.oven import hands_on
from nutrition.meals.planned import Asked, Candidate, Diner, Fixed
from nutrition.meals.planner import plan
from nutrition.meals.suits import is_a_meal, meals_for
from nutrition.meals.table import Served
from nutrition.sheet.cautions import text_of
from people.models import Person
from recipes.models import Recipe

from .days import WEEK, week_of

#: Of the library so many dishes are looked at, the ones worked with last first.
MOST_CANDIDATES = 400
MAIN = ("breakfast", "lunch", "dinner")
#: Minutes of hands a dish may take before they count, on a weekday and at the weekend (common practice).
WEEKDAY_MINUTES, WEEKEND_MINUTES, SATURDAY = 25.0, 90.0, 5
#: How much a person likes what was decided to be kept, and to be tried again; where it was tasted, their marks count as much.
LIKED = {Decision.KEEP: 0.7, Decision.AGAIN: 0.0}
#: The mark for taste, of ten, that says neither yes nor no.
SO_SO = 5.0


def diners_of(person, is_household):
    """The person, and who sits at their table."""
    if not (is_household and person.household):
        return [person]
    others = Person.objects.there().filter(household=person.household).exclude(pk=person.pk)
    return [person, *others]


def candidates_for(people, is_low_protein=False):
    """(key, dish) of the library: tries somebody decided to keep stand before their recipes; what was given up is left out.
    `is_low_protein`: for somebody's plan a dish with little protein is a meal."""
    decided = {}
    for each in (
        Decision.objects.filter(attempt__bench__person__in=people)
        .select_related("attempt__bench")
        .order_by("decided_at")
    ):
        decided[each.attempt_id] = each
    gone = {each.attempt.bench.recipe_id for each in decided.values() if each.choice == Decision.GIVE_UP}
    kept = {each.attempt.bench.recipe_id: each for each in decided.values() if each.choice in LIKED}
    marks = _marks(people, [each.attempt_id for each in kept.values()])
    found = [
        _of_try(attempt, _liked(kept[attempt.bench.recipe_id], marks.get(attempt.pk)), is_low_protein)
        for attempt in _standing(kept)
    ]
    others = Recipe.objects.filter(is_read=True, put_away_at=None, serves__gt=0).exclude(pk__in=gone | kept.keys())
    recipes = others.order_by("-changed_at").prefetch_related("lines")[:MOST_CANDIDATES]
    found += [
        _candidate(f"recipe-{recipe.pk}", recipe.dish, recipe.serving_grams, 0.0, is_low_protein) for recipe in recipes
    ]
    return [each for each in found if each is not None]


def _marks(people, attempts):
    """Try -> the mean mark for taste of those who eat, over every cook of it."""
    names = [name for person in people for name in (person.name, person.name.split()[0])]
    tasted = Tasting.objects.filter(cook__attempt__in=attempts, taste__isnull=False, taster__in=names)
    return dict(tasted.values_list("cook__attempt").annotate(Avg("taste")).order_by())


def _liked(decision, mark):
    """From -1 to 1."""
    decided = LIKED[decision.choice]
    return decided if mark is None else (decided + (mark - SO_SO) / SO_SO) / 2


def _standing(kept):
    attempts = {each.attempt_id for each in kept.values()}
    tries = Try.objects.filter(pk__in=attempts).select_related("bench__recipe")
    edits = {
        edit.attempt_id: edit
        for edit in Edit.objects.filter(attempt__in=attempts)
        if edit.number in {t.cursor for t in tries}
    }
    for attempt in tries:
        attempt.standing = edits.get(attempt.pk)
        if attempt.standing:
            yield attempt


def _of_try(attempt, liked, is_low_protein):
    dish = replace(attempt.standing.dish, title=attempt.bench.recipe.title)
    return _candidate(f"try-{attempt.pk}", dish, None, liked, is_low_protein)


def _candidate(key, dish, serving_grams, liked, is_low_protein):
    role = guess_role(dish.kind, dish.title, "dinner")
    meals = meals_for(dish.kind, dish.title, role)
    if not (meals and dish.lines and dish.serves):
        return None
    served = Served(dish, role, serving_grams)
    if not (meals - {"lunch", "dinner"} or is_low_protein or is_a_meal(served.analysis)):
        return None
    minutes = hands_on(dish)
    return Candidate(key, served, meals, minutes, liked)


def asked_for(person, monday, *, is_household, with_snack, not_again=()):
    """What is to be planned: the open places of a week, around what stands on its tables."""
    people = diners_of(person, is_household)
    weeks = [week_of(each, monday) for each in people]
    fixed = [
        Fixed(
            number,
            meal,
            at,
            sitting.place.spread.sum(axis=1),
            tuple(filter(None, (_key(eaten.row.row) for eaten in sitting.eaten))),
        )
        for at, week in enumerate(weeks)
        for number, day in enumerate(week.days)
        for meal, sitting in day.sittings.items()
        if sitting.eaten
    ]
    diners = [Diner(str(each), week.regimen.eater) for each, week in zip(people, weeks, strict=True)]
    return Asked(
        diners,
        candidates_for(people, any("low-protein" in week.regimen.eater.plans for week in weeks)),
        days=WEEK,
        meals=(*MAIN, "snack") if with_snack else MAIN,
        fixed=fixed,
        shared=frozenset(["dinner"]) if len(people) > 1 else frozenset(),
        not_again=frozenset(tuple(each) for each in not_again),
        free_minutes={day: WEEKEND_MINUTES if day >= SATURDAY else WEEKDAY_MINUTES for day in range(WEEK)},
        first=min(max((localdate() - monday).days, 0), WEEK),
    ), people


def _key(row):
    return f"try-{row.attempt_id}" if row.attempt_id else f"recipe-{row.recipe_id}" if row.recipe_id else ""


def found_for(person, monday, **wish):
    """The plan as plain values: what is chosen for whom, and what is left open with the reason."""
    asked, people = asked_for(person, monday, **wish)
    found = plan(asked)
    titles = {each.key: each.served.title for each in asked.candidates}
    return {
        "choices": [
            {
                "day": each.day, "meal": each.meal, "person": people[each.diner].pk, "name": str(people[each.diner]), "key": each.key,
                "title": titles[each.key], "servings": each.servings,
                "beside": [{"food": food.one, "count": count, "words": str(food.counted(count))} for food, count in each.beside],
                "check": [TAGS[tag].lower() for tag in each.by_label], "mind": [text_of(key) for key in each.minds],
            }
            for each in found.choices
        ],
        "stuck": [
            {"day": each.day, "name": str(people[each.diner]), "meal": each.meal, "is_proven": each.is_proven, "misses": list(map(_missed, each.misses))}
            for each in found.stuck
        ],
        "fed": [
            {"day": each.day, "name": str(people[each.diner]), "energy": each.energy_kcal, "need": each.need_kcal, "is_enough": each.is_enough}
            for each in found.fed
        ],
        "is_proven": found.is_proven,
        "looked_at": len(asked.candidates),
    }  # fmt: skip


def _missed(miss):
    nutrient = BY_KEY[miss.gate.nutrient]
    return f"{nutrient.label.lower()} {'over' if miss.side == 'high' else 'under'} by {nutrient.show(miss.by)}"
