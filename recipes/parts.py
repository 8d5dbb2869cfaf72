"""What may be done with parts: use a recipe in another, accept its changes, take it out again."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from accounts.models import User
from nutrition.dish.line import Line
from nutrition.dish.parts import amount_of_line, expand, loop, read_amount, shares
from nutrition.food.nutrients import CORE_KEYS
from nutrition.notes import Note, Problem
from nutrition.sheet.analysis import analyze_lines
from ui.guard import hold

from .models import PartUse, Recipe, RecipeLine


def _brought(part: Recipe, typed: str) -> tuple[list[Line], Note]:
    """(lines, rule) a part brings in. Raises Problem."""
    lines = part.dish.lines
    share, rule = shares(read_amount(typed, part.serves, part.kitchen), lines, part.whole_g)
    return expand(part.title, lines, share, rule), rule


def _refuse_loop(recipe: Recipe, part: Recipe) -> None:
    if part.pk == recipe.pk:
        raise Problem("recipes.own_part", recipe=str(recipe))
    uses: dict[int, list[int]] = {}
    for dish, each in PartUse.objects.values_list("recipe_id", "part_id"):
        uses.setdefault(dish, []).append(each)
    way = loop(uses, recipe.pk, part.pk)
    if way:
        titles = {each.pk: str(each) for each in Recipe.objects.filter(pk__in=way)}
        told = ", which uses ".join(titles[pk] for pk in way)
        raise Problem("recipes.loop", way=told)


def _fill(use: PartUse, lines: Sequence[Line]) -> None:
    """Put the lines of a use in place of those it brought before; they stand after the dish's own."""
    use.lines.all().delete()
    last = use.recipe.lines.aggregate(last=Max("position"))["last"] or 0
    RecipeLine.objects.bulk_create(
        RecipeLine(
            recipe=use.recipe,
            practice_id=use.practice_id,
            of_part=use,
            position=position,
            # The key says which line of which part it is: it stays when the part's lines change around it.
            as_read=replace(line, key=f"p{use.pk}{line.key}"),
            is_accepted=line.sure != "check",
        )
        for position, line in enumerate(lines, start=last + 1)
    )
    _gather_steps(use.recipe)


def _gather_steps(recipe: Recipe) -> None:
    """The steps its parts bring, as the dish keeps them."""
    recipe.part_steps = [f"{each.part}: {step}" for each in recipe.parts.select_related("part") for step in each.steps]
    recipe.changed_at = timezone.now()
    recipe.save(update_fields=["part_steps", "changed_at"])


@transaction.atomic
def use_part(recipe: Recipe, part: Recipe, typed: str, user: User) -> PartUse:
    """Take a recipe in as a part; used already, its amount changes. Raises Problem; then nothing is saved."""
    if not part.is_read:
        raise Problem("recipes.part_unread", part=str(part))
    hold(recipe.practice)  # two recipes may not take each other in at once
    _refuse_loop(recipe, part)
    lines, rule = _brought(part, typed)
    use = recipe.parts.filter(part=part).first() or PartUse(recipe=recipe, part=part)
    use.amount, use.rule, use.taken_by = typed.strip()[:40], str(rule)[:300], user
    use.steps, use.stamp = part.all_steps, part.stamp_as_part()
    use.save()
    _fill(use, lines)
    return use


@transaction.atomic
def line_becomes_part(row: RecipeLine, part: Recipe, user: User) -> PartUse:
    """A line that names a recipe of the library becomes that recipe, as much of it as the line says: so many spoons, batches or portions
    of it. Raises Problem for an amount that is none of these; then nothing is saved."""
    line, recipe = row.as_read, row.recipe
    amount = f"{line.grams:g} g" if line.how == "weight" and line.grams else amount_of_line(line.text)
    share = read_amount(amount, part.serves, recipe.kitchen).share
    amount = amount if share is None else f"{100 * share:g} %"
    row.delete()
    return use_part(recipe, part, amount, user)


@transaction.atomic
def accept(use: PartUse, user: User) -> PartUse:
    """Let the part's changes flow into the dish. Raises Problem."""
    return use_part(use.recipe, use.part, use.amount, user)


@transaction.atomic
def take_out(use: PartUse) -> None:
    """The part and what it brought leave the dish."""
    recipe = use.recipe
    use.delete()
    _gather_steps(recipe)


@dataclass(frozen=True, slots=True)
class Waiting:
    """A change of a part that nobody has accepted: (nutrient, now, then) of one serving where it differs.

    `problem`: why it cannot be accepted as it stands now; then there are no changes to show.
    """

    use: PartUse
    changes: tuple[tuple[str, float, float], ...] = ()
    problem: str = ""


def waiting(recipe: Recipe, uses: Sequence[PartUse]) -> list[Waiting]:
    """Of the uses of a dish, those whose part changed since, with what accepting would do to one serving."""
    found = []
    for use in uses:
        if not use.is_stale:
            continue
        others = [row.line for row in recipe.lines.exclude(of_part=use)]
        try:
            lines, _ = _brought(use.part, use.amount)
        except Problem as problem:
            found.append(Waiting(use, problem=str(problem)))
            continue
        now, then = (analyze_lines(each, recipe.dish.servings) for each in (recipe.dish.lines, [*others, *lines]))
        pairs = ((key, now.amount(key), then.amount(key)) for key in CORE_KEYS)
        found.append(Waiting(use, tuple(p for p in pairs if abs(p[2] - p[1]) > 0.01 * max(abs(p[1]), 0.1))))
    return found
