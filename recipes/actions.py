"""What may be done to recipes: bring one in, settle its lines, let it into the library. Verbs take values."""

from dataclasses import replace
from uuid import uuid4

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from accounts.models import User
from nutrition.dish.dish import KINDS
from nutrition.dish.line import Line
from nutrition.notes import NOTHING, Problem
from nutrition.reading.eaten import say
from nutrition.reading.edits import reread, sure_of_weight, with_amount, with_food
from nutrition.reading.found import RecipeText, bounded
from nutrition.reading.lines import clean, is_heading
from nutrition.reading.recipe import read_as_found, read_line, words_of_food
from nutrition.reading.whole import whole_dish
from pantry.models import aliases, remember
from records.log import record
from ui.guard import Stale, hold

from .models import Recipe, RecipeLine

LONGEST_SOURCE, LONGEST_TITLE = 200_000, 200
#: Lines still being read that are looked at for the same doubt.
MOST_ALIKE = 300
MOST_TAGS = 12


@transaction.atomic
def bring_in(source: RecipeText, source_text: str, user: User) -> Recipe:
    """Keep a recipe as found (nutrition.reading.page.RecipeText), each line as the core understands it."""
    hold(user)  # one import at a time for each user
    dish = read_as_found(source, aliases=aliases())
    recipe = Recipe(
        title=dish.title,
        serves=dish.serves,
        serving_grams=source.serving_grams,
        kitchen=dish.kitchen,
        kind=dish.kind,
        steps=list(dish.steps),
        notes=list(dish.notes),
        source_text=source_text[:LONGEST_SOURCE],
        created_by=user,
    )
    recipe.save()
    RecipeLine.objects.bulk_create(
        RecipeLine(recipe=recipe, practice_id=recipe.practice_id, position=position, as_read=line)
        for position, line in enumerate(dish.lines, start=1)
    )
    record("recipe.brought", by=user)
    return recipe


@transaction.atomic
def wave_off(recipe: Recipe, words: str, why: str) -> None:
    """What a step names and nobody adds, with the word of whoever says so. Raises Problem for nothing a step adds, or no word."""
    hold(recipe)
    if words not in {line.text for line in whole_dish(recipe.dish).added}:
        raise Problem("recipes.not_added", words=words[:60])
    if not why.strip():
        raise Problem("recipes.why_waved", words=words[:60])
    recipe.waved = [*recipe.waved, [words, " ".join(why.split())[:200]]]
    recipe.save(update_fields=["waved"])
    recipe.touch()


@transaction.atomic
def take_away(recipe: Recipe) -> None:
    """A recipe nobody uses leaves the library. Raises Problem naming what it is used for."""
    if recipe.used_in.exists():
        raise Problem("recipes.is_a_part", recipe=str(recipe))
    if recipe.benches.exists():
        raise Problem("recipes.on_the_bench", recipe=str(recipe))
    recipe.delete()
    record("recipe.removed")


@transaction.atomic
def set_shelf(recipe: Recipe, typed: str, folder: str) -> None:
    """Words of the practice's own, divided by commas, each once; and the folder it lies in."""
    words = (" ".join(word.lower().split())[:30] for word in typed.split(","))
    recipe.tags = list(dict.fromkeys(word for word in words if word))[:MOST_TAGS]
    recipe.folder = " ".join(folder.split())[:60]
    recipe.save(update_fields=["tags", "folder"])


@transaction.atomic
def set_put_away(recipe: Recipe, is_away: bool) -> None:
    """Out of the way of lists and plans, or back; nothing of it changes."""
    recipe.put_away_at = timezone.now() if is_away else None
    recipe.save(update_fields=["put_away_at"])


@transaction.atomic
def duplicate(recipe: Recipe, user: User) -> Recipe:
    """The same dish once more, to be changed by itself; lines of parts become its own."""
    rows = list(recipe.lines.all())
    steps = recipe.all_steps
    title = f"{recipe.title[: LONGEST_TITLE - 7]} (copy)"
    copied = (
        "serves",
        "serving_grams",
        "kitchen",
        "kind",
        "notes",
        "source_text",
        "is_read",
        "tags",
        "folder",
        "waved",
    )
    new = Recipe(title=title, steps=steps, created_by=user, **{name: getattr(recipe, name) for name in copied})
    new.save()
    RecipeLine.objects.bulk_create(
        RecipeLine(
            recipe=new,
            practice_id=new.practice_id,
            position=row.position,
            as_read=row.as_read,
            is_accepted=row.is_accepted,
        )
        for row in rows
    )
    record("recipe.brought", by=user)
    return new


def _change(row: RecipeLine, line: Line, version: int | None, typed: str = "", is_accepted: bool = False) -> None:
    """Keep a line of the core in place of what stands there; it keeps its key and its heading."""
    line = replace(line, key=row.as_read.key, heading=row.as_read.heading)
    row.claim(row.version if version is None else version, typed, as_read=line, is_accepted=is_accepted)
    row.recipe.touch()


@transaction.atomic
def accept(row: RecipeLine, version: int | None = None) -> None:
    """A person has looked at the line and it is right."""
    row.check_fresh(version)
    if not row.as_read.is_weighed:
        raise Problem("recipes.not_weighed")
    row.claim(row.version, is_accepted=True)
    row.recipe.touch()


@transaction.atomic
def choose_food(row: RecipeLine, food_id: str, user: User, version: int | None = None) -> int:
    """Another food; the words are remembered for the practice. How many other lines with the same doubt went with it."""
    row.check_fresh(version)
    line = with_food(row.line, food_id, words_hold=True, kitchen=row.recipe.kitchen)
    _change(row, line, version, is_accepted=line.weight is not None)
    words = words_of_food(line.text)
    if not words:
        return 0
    remember(words, food_id, user)
    return _settle_alike(row, words, food_id)


@transaction.atomic
def answer(row: RecipeLine, food_id: str, version: int | None = None) -> int:
    """Which of the foods it may mean a line means, here: how many other lines of the recipe with the same doubt went with it. It is not
    remembered: "butter" is salted in one recipe and not in the next. Raises Problem."""
    row.check_fresh(version)
    if food_id not in [each.food_id for each in row.answers]:
        raise Problem("reading.food_gone")
    words, rows = words_of_food(row.as_read.text), row.recipe.lines.exclude(pk=row.pk)
    alike = [other for other in rows if other.answers and words_of_food(other.as_read.text) == words]
    kitchen = row.recipe.kitchen
    for each in (row, *alike):
        line = with_food(each.line, food_id, words_hold=True, kitchen=kitchen)
        sure = sure_of_weight(line, kitchen)
        _change(each, replace(line, sure=sure), None, is_accepted=sure != "check")
    return len(alike)


def _waits(row: RecipeLine) -> bool:
    """Whether nobody has settled or touched the line yet."""
    return not row.is_settled and not row.as_read.is_edited


def _settle_alike(row: RecipeLine, words: str, food_id: str) -> int:
    """The same doubt about the food in other lines still being read is settled with it: how many were.

    They are read anew by the name just remembered, so that what is doubtful of their weight stays so. What the words leave open in every
    recipe (salted or not) is settled in this one alone.
    """
    waiting = RecipeLine.objects.filter(is_accepted=False).exclude(pk=row.pk).select_related("recipe")
    near = waiting.filter(
        Q(recipe=row.recipe_id) | Q(recipe__is_read=False), as_read__text__icontains=words.split()[-1]
    )
    alike = [
        other for other in near[:MOST_ALIKE] if not other.is_settled and words_of_food(other.as_read.text) == words
    ]
    for other in alike:
        recipe, text = other.recipe, other.as_read.text
        line = read_line(text, recipe.serves, recipe.kitchen, aliases={words: food_id})
        if other.recipe_id == row.recipe_id:
            line = replace(line, sure=sure_of_weight(line, recipe.kitchen), ask=NOTHING, others=())
        _change(other, line, None)
    return sum(not other.as_read.is_food_open for other in alike)


@transaction.atomic
def say_eaten(recipe: Recipe, step: int, how: str, is_so: bool) -> None:
    """What is eaten of what a step leaves behind; the lines it is of keep it. Raises Problem."""
    hold(recipe)
    rows = list(recipe.lines.all())
    said = {line.key: line for line in say(recipe.dish_of(rows), step, how, is_so).lines}
    for row in rows:
        line = said[row.as_read.key]
        if (line.eaten, line.ask) != (row.as_read.eaten, row.as_read.ask):
            _change(row, line, None, is_accepted=row.is_accepted)


@transaction.atomic
def set_amount(row: RecipeLine, typed: str, version: int | None = None) -> None:
    """Another amount; a person typed it, so it is accepted."""
    row.check_fresh(version, typed)
    _change(row, with_amount(row.line, typed, row.recipe.kitchen), version, typed, is_accepted=True)


@transaction.atomic
def retype(row: RecipeLine, text: str, version: int | None = None) -> None:
    """The line typed anew."""
    row.check_fresh(version, text)
    line = reread(text, row.recipe.serves or 1, row.recipe.kitchen, aliases())
    _change(row, line, version, text)


@transaction.atomic
def take_out(row: RecipeLine, version: int | None = None) -> None:
    """A line that is no ingredient: a heading, a price, a note. Raises Problem for the only one there is."""
    row.check_fresh(version)
    if row.recipe.lines.count() < 2:
        raise Problem("recipes.no_lines")
    row.delete()
    row.recipe.touch()


@transaction.atomic
def set_facts(recipe: Recipe, title: str, serves: float | None, serving_grams: float | None, kind: str = "") -> None:
    """Title, servings, the weight of a serving, the kind. Amounts "to taste" follow the servings. Raises Problem."""
    title = " ".join(title.split())[:LONGEST_TITLE]
    if recipe.is_read and not (serves and title):
        raise Problem("recipes.library_needs_title_and_servings")
    if kind and kind not in KINDS:
        raise Problem("recipes.no_such_kind", kind=kind, kinds=", ".join(KINDS))
    changed = serves is not None and serves != recipe.serves
    recipe.title, recipe.serves, recipe.serving_grams, recipe.kind = title, serves, serving_grams, kind or recipe.kind
    recipe.changed_at = timezone.now()
    recipe.save()
    if changed:
        names = aliases()
        for row in recipe.lines.filter(is_accepted=False):
            if row.as_read.how == "none":
                line = read_line(row.as_read.text, serves, recipe.kitchen, aliases=names)
                _change(row, line, None)


@transaction.atomic
def rewrite(recipe: Recipe, words: str, steps: str, seen: str = "") -> None:
    """The ingredient lines and the steps as typed anew, a line each: deleted, added, split, joined, moved.

    A line whose words stand as they did keeps what was understood and accepted of it; others are read anew. Lines of parts
    stay. `seen`: Recipe.words_stamp as the form showed it; raises Stale where it is another by now, Problem for nothing or
    too much.
    """
    hold(recipe)
    if seen and seen != recipe.words_stamp:
        raise Stale(words)
    steps_typed = tuple(step for step in (clean(line) for line in steps.splitlines()) if step)
    texts = tuple(text for text in (clean(line) for line in words.splitlines()) if text)
    if not any(not is_heading(text) for text in texts):
        raise Problem("recipes.no_lines")
    bounded(RecipeText(recipe.title, recipe.serves, texts, steps_typed))
    standing: dict[str, list[RecipeLine]] = {}
    for row in recipe.own_lines:
        standing.setdefault(clean(row.as_read.text), []).append(row)
    names, heading, kept = aliases(), "", []
    for text in texts:
        if is_heading(text):
            heading = text.rstrip(":")
            continue
        row = standing[text].pop(0) if standing.get(text) else RecipeLine(recipe=recipe, practice_id=recipe.practice_id)
        if row.pk is None:
            line = read_line(text, recipe.serves, recipe.kitchen, aliases=names)
            row.as_read = replace(line, key=f"r{uuid4().hex[:8]}")
        row.as_read = replace(row.as_read, heading=heading)
        kept.append(row)
    RecipeLine.objects.filter(pk__in=[row.pk for rows in standing.values() for row in rows]).delete()
    others = [row for row in recipe.lines.all() if row.of_part_id is not None]
    for position, row in enumerate([*kept, *others], start=1):
        row.position = position
        row.save()
    recipe.steps = list(steps_typed)
    recipe.changed_at = timezone.now()
    recipe.save(update_fields=["steps", "changed_at"])


@transaction.atomic
def let_in(recipe: Recipe) -> None:
    """Into the library. Raises Problem saying what is missing."""
    if not recipe.serves:
        raise Problem("recipes.serves_missing")
    if not recipe.title:
        raise Problem("recipes.title_missing")
    if not recipe.lines.exists():
        raise Problem("recipes.no_lines")
    recipe.is_read = True
    recipe.save()
