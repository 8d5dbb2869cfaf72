"""What may be done to recipes: bring one in, settle its lines, let it into the library."""

from django.db import transaction

from nutrition.reading.edits import EditProblem, reread, with_amount, with_food
from nutrition.reading.lines import clean, kitchen_of, parse
from nutrition.reading.recipe import is_heading, read_line
from pantry.models import aliases, remember

from .models import Recipe, RecipeLine

MOST_SERVINGS = 500


class NotReady(ValueError):
    """The recipe cannot go into the library yet; the sentence says what is missing."""


@transaction.atomic
def bring_in(source, source_text, user):
    """Keep a recipe as found (nutrition.recipe.RecipeText) with each line as understood."""
    recipe = Recipe(
        title=source.title,
        serves=source.serves,
        serving_grams=source.serving_grams,
        steps=list(source.steps),
        notes=list(source.notes),
        source_text=source_text[:200_000],
        created_by=user,
    )
    recipe.save()
    names, kitchen, part, lines = aliases(), kitchen_of(" ".join(source.lines)), "", []
    for text in source.lines:
        if is_heading(text):
            part = clean(text).rstrip(":")[:80]
            continue
        if not clean(text):
            continue
        line = RecipeLine(recipe=recipe, practice_id=recipe.practice_id, position=len(lines) + 1)
        line.take(read_line(clean(text)[:500], source.serves, part=part, kitchen=kitchen, aliases=names))
        lines.append(line)
    RecipeLine.objects.bulk_create(lines)
    return recipe


def check_fresh(line, stamp, typed):
    """Refuse a form that was drawn before the line was changed elsewhere; say both."""
    if stamp and stamp != line.stamp:
        said = f" You asked for “{typed}”." if typed else ""
        raise EditProblem(
            f"This line was changed in another tab since your page was drawn; it is shown as it stands now.{said} "
            "Do it again if you still want it."
        )


def accept(line):
    """A person has looked at the line and it is right."""
    if not line.food_id or line.grams is None:
        raise EditProblem("This line has no food or no weight yet. Choose a food and type its amount; then accept it.")
    line.is_accepted = True
    line.save()


@transaction.atomic
def choose_food(line, food_id, user):
    """Another food; the words are remembered for the practice."""
    line.take(with_food(line.as_line(), food_id, words_hold=True))
    line.is_accepted = line.grams is not None
    line.save()
    parsed = parse(line.text)
    if parsed.names:
        remember(parsed.names[0], food_id, user)


def set_amount(line, typed):
    """Another amount; a person typed it, so it is accepted."""
    line.take(with_amount(line.as_line(), typed))
    line.is_accepted = True
    line.save()


def retype(line, text):
    """The line typed anew."""
    part = line.part
    line.take(reread(text, line.recipe.serves or 1, aliases()))
    line.part, line.is_accepted = part, False
    line.save()


@transaction.atomic
def set_facts(recipe, title, serves, serving_grams):
    """Title, servings and the weight of a serving. Amounts "to taste" follow the servings. Raises EditProblem."""
    serves = _number(serves, "servings", MOST_SERVINGS)
    if recipe.is_read and not (serves and title.strip()):
        raise EditProblem(
            "A dish of the library keeps a title and a number of servings: others rest on them. Type both."
        )
    recipe.serving_grams = _number(serving_grams, "grams for one serving", 5000)
    recipe.title = " ".join(title.split())[:200]
    changed = serves is not None and serves != recipe.serves
    recipe.serves = serves
    recipe.save()
    if changed:
        names = aliases()
        for line in recipe.lines.filter(how="none", is_accepted=False):
            part = line.part
            line.take(read_line(line.text, serves, part=part, aliases=names))
            line.save()


def _number(typed, what, most):
    typed = typed.strip().replace(",", ".")
    if not typed:
        return None
    try:
        number = float(typed)
    except ValueError:
        raise EditProblem(f"“{typed}” is not a number of {what}. Type a number, as in 4.") from None
    if not 0 < number <= most:
        raise EditProblem(f"{typed} {what} cannot be. Type a number above 0 and up to {most}.")
    return number


def let_in(recipe):
    """Into the library. Raises NotReady saying what is missing."""
    if not recipe.serves:
        raise NotReady("How many servings does it make? Type the number; it is never assumed.")
    if not recipe.title:
        raise NotReady("The recipe has no title yet. Type one.")
    if not recipe.lines.exists():
        raise NotReady("No ingredient line is left. Paste the recipe again.")
    recipe.is_read = True
    recipe.save()
