"""What may be done at a table. Each verb is one transaction that moves the version on. Verbs take values."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from datetime import date, time, timedelta
from typing import Any

from django.db import transaction
from django.db.models import Exists, OuterRef, Q

from accounts.models import User
from bench import actions as bench_actions
from bench.models import Try
from errands.models import Errand
from handouts.actions import give
from handouts.models import Release
from nutrition.dish.dish import Dish, keyed
from nutrition.dish.line import Line
from nutrition.limits.plans import choose
from nutrition.limits.roles import ROLES, guess_role
from nutrition.meals.portions import Measured, read_portion
from nutrition.meals.room import foods_as_eaten
from nutrition.meals.table import plain
from nutrition.notes import Problem
from nutrition.reading.edits import with_amount
from nutrition.tables import words_of
from people.actions import mark_what_holds
from people.models import Person
from people.regimen import held_to, held_to_digest, regimen_of
from recipes.models import Recipe
from records.log import record
from ui.guard import hold

from .models import USUAL_TIMES, AtHome, GivenWeek, Helping, Occasion, OnTable, Seat, WeekLink

#: As many as one page can hold.
MOST_DISHES, MOST_EATERS = 24, 24


@transaction.atomic
def begin(on: date, meal: str, household: str, title: str, user: User, serve_at: time | None = None) -> Occasion:
    """A table with everybody of a household; empty when there is none of that name."""
    occasion = Occasion(on=on, meal=meal, household=household, title=title, serve_at=serve_at or USUAL_TIMES[meal])
    occasion.created_by = user
    occasion.save()
    record("meal.begun", by=user, thing=meal)
    if household:
        for person in Person.objects.there().filter(household=household)[:MOST_EATERS]:
            _seat(occasion, person, user)
    return occasion


@transaction.atomic
def begin_for(person: Person, on: date, meal: str, user: User) -> Occasion:
    """The table a person sits at for a meal of a day: the one that is laid, else a new one for their household or them alone."""
    hold(person)
    found = Occasion.objects.filter(on=on, meal=meal, seats__person=person, seats__is_away=False).first()
    if found:
        return found
    occasion = begin(on, meal, person.household, "", user)
    if not person.household:
        _seat(occasion, person, user)
    return occasion


def _seat(occasion: Occasion, person: Person, user: User) -> Seat:
    seat = Seat(occasion=occasion, person=person)
    seat.save()
    record("meal.seated", person, by=user)
    return seat


@transaction.atomic
def set_facts(occasion: Occasion, version: int | None, **facts: Any) -> None:
    """Title, day, meal, time."""
    occasion.claim(version, str(facts.get("title", "")), **facts)


@transaction.atomic
def seat_person(occasion: Occasion, version: int | None, person: Person, user: User) -> Seat:
    """Somebody joins, or comes back."""
    occasion.claim(version, str(person))
    found = Seat.objects.filter(occasion=occasion, person=person).first()
    if found and not found.is_away:
        raise Problem("meals.at_the_table", name=str(person))
    _room_for(occasion.seats, MOST_EATERS, "eaters")
    if found:
        _set_away(found, False)
        return found
    return _seat(occasion, person, user)


@transaction.atomic
def seat_guest(
    occasion: Occasion,
    version: int | None,
    name: str,
    plan_keys: Iterable[str],
    weight_kg: float | None,
    energy_kcal: float | None,
) -> Seat:
    """A guest with limits only. Raises Problem for a plan that is not known."""
    occasion.claim(version, name)
    _room_for(occasion.seats, MOST_EATERS, "eaters")
    plans = {key: choose(key, {}) for key in plan_keys}
    seat = Seat(occasion=occasion, guest=name, plans=plans, weight_kg=weight_kg, energy_kcal=energy_kcal)
    seat.save()
    return seat


def _room_for(rows: Any, most: int, what: str) -> None:
    if rows.there().count() >= most:
        raise Problem("meals.full", most=most, what=what)


@transaction.atomic
def set_away(occasion: Occasion, version: int | None, row: Seat | OnTable, is_away: bool) -> None:
    """Take somebody or something off the table, or put it back; portions stay as they were."""
    occasion.claim(version, str(row))
    _set_away(row, is_away)


def _set_away(row: Seat | OnTable, is_away: bool) -> None:
    row.is_away = is_away
    row.save(update_fields=["is_away"])


def _put(occasion: Occasion, dish: Dish, only_for: int | None = None, **of: Any) -> OnTable:
    _room_for(occasion.dishes, MOST_DISHES, "dishes")
    dish = replace(dish, lines=keyed(dish.lines))
    row = OnTable(occasion=occasion, kept=dish, **of)
    row.save()
    if only_for:
        for seat in occasion.seats.exclude(pk=only_for):
            Helping(seat=seat, dish=row, words="none").save()
    return row


@transaction.atomic
def add_recipe(occasion: Occasion, version: int | None, recipe: Recipe) -> OnTable:
    """A recipe of the library. Raises Problem when nobody said how many it serves."""
    occasion.claim(version, str(recipe))
    dish = recipe.dish
    if not dish.serves:
        raise Problem("meals.no_servings", title=str(recipe))
    role = guess_role(dish.kind, dish.title, occasion.meal)
    return _put(occasion, dish, recipe=recipe, role=role, cooked_serving_g=recipe.serving_grams)


@transaction.atomic
def eat(person: Person, on: date, meal: str, recipe: Recipe, user: User) -> OnTable:
    """A serving of a recipe for one person at a meal of a day, on the table they sit at; nobody else there has any of it yet."""
    occasion = begin_for(person, on, meal, user)
    row = add_recipe(occasion, None, recipe)
    for seat in occasion.seats.exclude(person=person):
        _help(seat, row, words="none")
    return row


@transaction.atomic
def add_try(occasion: Occasion, version: int | None, attempt: Try) -> OnTable:
    """A try as it stands on its bench, with the part of a meal it has there."""
    occasion.claim(version, str(attempt))
    dish = bench_actions.standing_edit(attempt).dish
    dish = replace(dish, title=attempt.bench.recipe.title)
    cooked = attempt.weighed_g / dish.servings if attempt.weighed_g else None
    bench = attempt.bench
    return _put(occasion, dish, recipe=bench.recipe, attempt=attempt, role=bench.role, cooked_serving_g=cooked)


@transaction.atomic
def add_release(occasion: Occasion, version: int | None, release: Release) -> OnTable:
    """A dish as its card went out; it follows neither try nor recipe. Raises Problem for cards of before dishes were kept with them."""
    occasion.claim(version, str(release))
    if release.dish is None:
        raise Problem("meals.card_of_before", title=release.title)
    bench = release.bench
    return _put(
        occasion,
        release.dish,
        recipe=bench.recipe,
        release=release,
        role=bench.role,
        cooked_serving_g=release.cooked_serving_g,
    )


@transaction.atomic
def add_left_over(occasion: Occasion, version: int | None, source: OnTable) -> OnTable:
    """What another table left: the same dish, cooked there and counted out of its batch."""
    occasion.claim(version, str(source))
    return _put(
        occasion,
        source.kept,
        recipe=source.recipe,
        attempt=source.attempt,
        release=source.release,
        is_own=source.is_own,
        left_over_of=source,
        role=source.role,
        pieces=source.pieces,
        cooked_serving_g=source.cooked_serving_g,
    )


@transaction.atomic
def add_food(occasion: Occasion, version: int | None, words: str, only_for: int | None = None) -> OnTable:
    """A plain food: one portion is what the words say. `only_for`: the seat that eats it; everybody where none is named."""
    occasion.claim(version, words)
    served = plain(words)
    return _put(occasion, served.dish, only_for, words=words[:200], role=served.role)


@transaction.atomic
def add_as_eaten(occasion: Occasion, version: int | None, name: str, count: float, only_for: int) -> OnTable:
    """A food that still fits somebody's meal, and so many of it for them alone. Raises Problem when it is not known."""
    food = next((each for each in foods_as_eaten() if each.one == name), None)
    if food is None:
        raise Problem("meals.nothing_to_add")
    occasion.claim(version, name)
    role = food.part if food.part in ROLES else "side"
    row = _put(occasion, Dish(food.one, 1.0, food.line(1.0)), only_for, words=food.one, role=role)
    seat = occasion.seats.get(pk=only_for)
    _help(seat, row, words=f"{count:g}")
    return row


@transaction.atomic
def set_portion(
    occasion: Occasion,
    version: int | None,
    seat: Seat,
    dish: OnTable,
    words: str,
    measured: Callable[[], Measured],
    user: User,
) -> None:
    """What somebody gets of a dish, in words; `measured` tells of the dish what the words may ask. Raises Problem when they cannot be
    read."""
    occasion.claim(version, words)
    read_portion(words, measured)
    _help(seat, dish, words=" ".join(words.split())[:60])
    if seat.person_id:
        record("meal.portion", seat.person_id, by=user, thing=words[:40] or "1")


@transaction.atomic
def set_portions(occasion: Occasion, version: int | None, portions: Mapping[Seat, Mapping[int, str]]) -> None:
    """Several portions of several eaters at once, by the number of the dish."""
    occasion.claim(version)
    dishes = {dish.pk: dish for dish in occasion.dishes.all()}
    for seat, of_dishes in portions.items():
        for pk, words in of_dishes.items():
            _help(seat, dishes[pk], words=words)


@transaction.atomic
def take_out(
    occasion: Occasion, version: int | None, seats: Iterable[Seat], dish: OnTable, keys: Iterable[str]
) -> None:
    """Their part of a dish is taken out before these lines; nothing named: they eat it as it is."""
    occasion.claim(version, str(dish))
    for seat in seats:
        _help(seat, dish, without=list(keys))


def _help(seat: Seat, dish: OnTable, **changes: Any) -> None:
    """One statement: there may be a row of it already, or somebody may be making it."""
    helping = Helping(practice_id=seat.practice_id, seat=seat, dish=dish, **changes)
    where: dict[str, Any] = {"unique_fields": ["seat", "dish"], "update_fields": list(changes)}
    Helping.objects.bulk_create([helping], update_conflicts=True, **where)


@transaction.atomic
def set_dish(occasion: Occasion, version: int | None, row: OnTable, **facts: Any) -> None:
    """Its part of the meal, how many batches, how many pieces a serving is."""
    occasion.claim(version, str(row))
    for name, value in facts.items():
        setattr(row, name, value)
    row.save(update_fields=list(facts))


@transaction.atomic
def change_dish(occasion: Occasion, version: int | None, row: OnTable, dish: Dish, was: Dish) -> None:
    """The dish as it was changed for this table; the recipe and its tries stay as they are. `was`: as it stood before."""
    occasion.claim(version, str(row))
    _become(row, dish, was)


@transaction.atomic
def take_whole(
    occasion: Occasion,
    version: int | None,
    dishes: Mapping[OnTable, tuple[Dish, Dish]],
    portions: Mapping[Seat, Mapping[int, str]],
) -> None:
    """A way over the whole table: dishes (as changed for it, as they were), and portions by the number of the dish."""
    occasion.claim(version)
    for row, (dish, was) in dishes.items():
        _become(row, dish, was)
    rows = {row.pk: row for row in occasion.dishes.all()}
    for seat, of_dishes in portions.items():
        for pk, words in of_dishes.items():
            _help(seat, rows[pk], words=words)


def _become(row: OnTable, dish: Dish, was: Dish) -> None:
    """Nobody's part is taken out any more before a line that is another food by now."""
    row.kept, row.is_own = replace(dish, lines=keyed(dish.lines)), True
    row.save(update_fields=["kept", "is_own"])
    foods = {line.key: line.food_id for line in was.lines}
    same = {line.key for line in row.kept.lines if foods.get(line.key) == line.food_id}
    for helping in row.helpings.exclude(without=[]):
        helping.without = [key for key in helping.without if key in same]
        helping.save(update_fields=["without"])


@transaction.atomic
def as_in_the_library(occasion: Occasion, version: int | None, row: OnTable) -> None:
    """Away with what was changed for this table; what came from a card is as the card went out."""
    occasion.claim(version, str(row))
    row.is_own = False
    if row.release and row.release.dish:
        row.kept = replace(row.release.dish, lines=keyed(row.release.dish.lines))
    row.save(update_fields=["is_own", "kept"])


@transaction.atomic
def copy_days(person: Person, since: date, days: int, to: Person, start: date, user: User) -> int:
    """What somebody eats on so many days, onto the tables of another from `start` on, where nothing stands yet; how many dishes
    came. Portions go along; what was left over is a dish of its own there."""
    seats = Seat.objects.there().filter(person=person, occasion__on__range=(since, since + timedelta(days=days - 1)))
    count = 0
    for seat in seats.select_related("occasion"):
        source = seat.occasion
        occasion = begin_for(to, start + (source.on - since), source.meal, user)
        if occasion.pk == source.pk or occasion.dishes.there().exists():  # type: ignore[attr-defined]
            continue
        helpings = {each.dish_id: each for each in seat.helpings.all()}
        for row in source.dishes.there():
            helping = helpings.get(row.pk)
            if helping and _is_none(helping.words):
                continue
            mine = occasion.seats.get(person=to)
            of = {name: getattr(row, name) for name in _COPIED}
            new = _put(_fresh(occasion), row.kept, mine.pk, **of)
            _help(mine, new, words=helping.words if helping else "")
            count += 1
    return count


@transaction.atomic
def set_at_home(person: Person, monday: date, food_id: str, typed: str) -> None:
    """What there is of a food in a week: "300 g", "2 cups", "always", or nothing. Raises Problem for what cannot be read."""
    hold(person)
    words = " ".join(typed.lower().split())
    if words in words_of("at_home_always"):
        kept = AtHome(person=person, food_id=food_id)
    elif not words or _is_none(words):
        kept = None
    else:
        line = with_amount(Line(food_id, food_id=food_id, sure="sure"), typed)
        if line.sure == "check" or not line.is_weighed:
            raise Problem("meals.at_home_unread", typed=typed)
        kept = AtHome(person=person, food_id=food_id, monday=monday, grams=line.grams)
    before = AtHome.with_(person).filter(food_id=food_id)
    before.filter(Q(monday=None) | Q(monday=monday)).delete()
    if kept:
        kept.save()


@transaction.atomic
def give_week(
    person: Person, monday: date, body: str, days: int, for_whom: str, user: User, word: str = ""
) -> tuple[WeekLink, str]:
    """A link to a week as it stands now, and its token, which is shown once. `body`: its sheet as HTML. Raises Problem."""
    week = GivenWeek(person=person, monday=monday, body=body, digest=held_to_digest(held_to(regimen_of(person))))
    week.save()
    mark_what_holds(person)
    link = WeekLink(week=week)
    return link, give(link, days, for_whom, user, word)


@transaction.atomic
def forget(person: Person) -> None:
    """Before somebody is erased: the tables only they sat at go, and no title of another names them any more."""
    theirs = Occasion.objects.filter(seats__person=person)
    others = Seat.objects.filter(occasion=OuterRef("pk")).exclude(person=person)
    theirs.filter(~Exists(others)).delete()
    Occasion.objects.filter(title__icontains=person.name).update(title="")
    Occasion.objects.filter(household__icontains=person.name).update(household="")
    Errand.objects.filter(Q(result__icontains=person.name) | Q(args__person=person.pk)).delete()


#: Of a dish on a table, what goes along to another.
_COPIED = ("recipe", "attempt", "release", "words", "is_own", "role", "pieces", "cooked_serving_g")


def _is_none(words: str) -> bool:
    return " ".join(words.lower().split()) in words_of("portion_none")


@transaction.atomic
def take_plan(person: Person, monday: date, choices: Iterable[Mapping[str, Any]], user: User) -> int:
    """Lay what was planned: a table for each place that is still open; how many dishes came onto tables. A place that was filled
    meanwhile stays as it is."""
    hold(person)
    count = 0
    by_place: dict[tuple[int, str], list[Mapping[str, Any]]] = {}
    for each in choices:
        by_place.setdefault((each["day"], each["meal"]), []).append(each)
    for (day, meal), chosen in by_place.items():
        occasion = begin_for(person, monday + timedelta(days=day), meal, user)
        if any(not row.words for row in occasion.dishes.there()):  # type: ignore[attr-defined]
            continue
        for key in dict.fromkeys(each["key"] for each in chosen):
            eaters = {each["person"]: each for each in chosen if each["key"] == key}
            row = _planned(occasion, key)
            if row is None:
                continue
            count += 1
            for seat in occasion.seats.there():  # type: ignore[attr-defined]
                mine = eaters.get(seat.person_id)
                _help(seat, row, words=f"{mine['servings']:g}" if mine else "none")
                for beside in mine["beside"] if mine else ():
                    add_as_eaten(_fresh(occasion), None, beside["food"], beside["count"], seat.pk)
    return count


def _fresh(occasion: Occasion) -> Occasion:
    return Occasion.objects.get(pk=occasion.pk)


def _planned(occasion: Occasion, key: str) -> OnTable | None:
    """The dish of a plan on its table; None when it is not in the library any more."""
    kind, _, pk = key.partition("-")
    if kind == "try":
        attempt = Try.objects.filter(pk=pk).first()
        return add_try(_fresh(occasion), None, attempt) if attempt else None
    recipe = Recipe.objects.filter(pk=pk).first()
    return add_recipe(_fresh(occasion), None, recipe) if recipe else None


@transaction.atomic
def clear(occasion: Occasion, version: int | None, user: User) -> None:
    """The whole table is gone, and nothing else."""
    occasion.claim(version)
    record("meal.cleared", by=user, thing=occasion.meal)
    occasion.delete()
