"""From words to a dish: each line a food and a weight, headings, servings, whose kitchen, what kind."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from nutrition.dish.cooking import methods
from nutrition.dish.dish import Dish, keyed
from nutrition.dish.line import Line, worst
from nutrition.food.names import normalized
from nutrition.food.nutrients import INDEX
from nutrition.food.table import Food, foods
from nutrition.notes import NOTHING, Note, Problem, note
from nutrition.reading.binding import bound, says_as_packet, tails, without_denials
from nutrition.reading.choice import held_to, is_all_of_it, nearer
from nutrition.reading.found import RecipeText
from nutrition.reading.kinds import kind_of_dish
from nutrition.reading.lines import ParsedLine, clean, is_heading, kitchen_of, parse, visible
from nutrition.reading.matching import head_of, in_front, matcher
from nutrition.reading.other_words import in_our_words
from nutrition.reading.page import from_any, from_bytes
from nutrition.reading.promises import Said, said_in
from nutrition.reading.weigh import Weight, stated, weigh
from nutrition.tables import pattern, words_of

Aliases = Mapping[str, str]
_OR = " or "
_OF_AN_EGG = ("egg", "white", "yolk", "hen", "chicken")


def read_line(
    text: str, serves: float | None = None, kitchen: str = "", *, heading: str = "", aliases: Aliases | None = None
) -> Line:
    """Parse, match and weigh one line; nothing that is typed makes it raise.

    `kitchen`: "us" or "uk", whose pints and spoons are meant; empty: as the words tell. `aliases`: a practice's own
    names, normalized words -> food id. Amounts "to taste" are stated per serving and need `serves`; without it the
    weight stays unknown.

    >>> line = read_line("250 g unsalted butter")
    >>> foods().by_id(line.food_id).description, line.grams, line.how, line.sure
    ('Butter, without salt', 250.0, 'weight', 'sure')
    """
    text = visible(text)
    plain, state = _parted_from_state(text)
    parsed = parse(without_denials(in_our_words(plain)), kitchen)
    said = said_in(_binding(parsed))
    words = _food_words(parsed, said)
    match = matcher().match(words.name, words.hints, aliases, words.bound)
    is_chosen = match.why.code == "reading.own_name"  # what a practice said these words mean is meant
    near = match if is_chosen else nearer(match, words.name, bound(parsed.text), said)
    if words.ask.code == "reading.several" and is_all_of_it(near.row, parsed.names, parsed.text):
        match, words = near, replace(words, ask=NOTHING)
    elif not words.ask:
        match = near
    match, meant = held_to(match, words.name, said)
    others = tuple(foods().ids[row] for row in match.others)
    if meant < 0:
        known = stated(parsed)
        return Line(
            text,
            None,
            known.grams,
            known.how,
            rule=known.rule,
            why=match.why,
            ask=match.ask,
            others=others,
            heading=heading,
        )
    food, ask = foods().food(meant), words.ask
    is_of_a_kind = not ask and (match.is_of_a_kind or match.sure != "check")
    if parsed.minus:
        ask = note("reading.minus")
    elif parsed.is_unread:
        ask = ask or note("reading.unread")
    weight, of_weight = _weight_of_all(weigh(parsed, food), text, food, serves)
    ask = ask or of_weight
    return Line(
        text=text,
        food_id=food.id if match.row >= 0 else None,
        weight=weight.grams,
        how=weight.how,
        sure=worst(match.sure, weight.sure, "check" if ask else "sure"),
        rule=weight.rule,
        why=match.why,
        ask=ask or match.ask,
        others=tuple(dict.fromkeys(other for other in others if match.row < 0 or other != food.id)),
        heading=heading,
        is_of_a_kind=is_of_a_kind,
        state=state if match.row >= 0 and state and methods()[state].suits(food.id) else "",
    )


def _parted_from_state(text: str) -> tuple[str, str]:
    """The words without what the kitchen does to it, where they end in the words this house writes for that; and its key.

    >>> _parted_from_state("500 g carrots, boiled, water poured off")
    ('500 g carrots', 'boiled')
    """
    low = text.lower()
    found = next(((key, f", {each.label}") for key, each in methods().items() if low.endswith(f", {each.label}")), None)
    return (text[: -len(found[1])], found[0]) if found else (text, "")


def _weight_of_all(weight: Weight, text: str, food: Food, serves: float | None) -> tuple[Weight, Note]:
    """The weight for the whole dish, and what is still to be asked about it."""
    ask = NOTHING
    may_have = pattern("bone_or_shell").search(food.description) and not pattern("no_bone").search(text)
    with_bone = may_have or pattern("says_bone").search(text)
    if weight.how == "weight" and with_bone:
        ask = note("reading.bone_or_shell")
    if weight.per_serving and weight.grams is not None:
        if serves is None:
            return replace(weight, grams=None), ask or note("reading.by_serving")
        return replace(weight, grams=weight.grams * serves), ask
    return weight, ask


@dataclass(frozen=True, slots=True)
class _Words:
    """The words that name the food, those that may refine it, those that bind it, and a question when two are named."""

    name: str
    hints: str
    bound: tuple[str, ...] = ()
    ask: Note = NOTHING


def words_of_food(text: str) -> str:
    """The words by which a practice's own name for a food is remembered: with what binds it, wherever that stands.

    >>> words_of_food("200 g flour, gluten-free")
    'gluten free flour'
    """
    parsed = parse(without_denials(in_our_words(visible(text))))
    words = _food_words(parsed, said_in(_binding(parsed)))
    return in_front(words.bound, words.name)


def _binding(parsed: ParsedLine) -> str:
    """The words that bind the food; what comes out of a can is canned."""
    from_a_can = any(amount.unit in ("can", "tin") for amount in parsed.amounts)
    return f"{bound(parsed.text)}, canned" if from_a_can else bound(parsed.text)


def _food_words(parsed: ParsedLine, said: Sequence[Said]) -> _Words:
    binding = bound(parsed.text)
    tokens = tuple(dict.fromkeys(token for each in said for token in each.tokens))
    units = " ".join(a.unit for a in parsed.amounts if a.unit in ("can", "tin", "jar"))
    hints = f"{units} {binding}"
    if not parsed.names:
        return _Words("", hints)
    name, ask = re.sub(r"(?<![\d\s])\s*%\s*(?:fat|lean)\b", "", parsed.names[0]), NOTHING
    # "Vermicelli (seviyan)": a name beside the name.
    name = re.sub(r"(?<=\w)\s*\([^()]*\)$", "", name)
    lowered, first = parsed.text.lower(), name.lower()
    if first in ("salt", "sea salt", "kosher salt") and "pepper" in lowered:
        return _Words(name, "", (), note("reading.salt_and_pepper"))
    turned = matcher().turned_round(name, tails(binding), tokens)
    named = [each for each in parsed.names if each == parsed.names[0] or not _only_binds(each, turned, tokens)]
    name, first = turned, turned.lower()
    if says_as_packet(lowered):
        ask = note("reading.dry_or_cooked")
    elif _OR in lowered and len(parsed.names) > 1:
        ask = note("reading.which_of", names=_OR.join(parsed.names[:3]))
    elif pattern("plus_another").search(lowered) and not pattern("plus_more").search(lowered) and not _is_a_sum(parsed):
        ask = note("reading.after_plus")
    elif changing := _changing(binding, name):
        ask = note("reading.unused", words=changing)
    elif len(named) > 1 or pattern("with_another").search(lowered):
        ask = note("reading.several", name=name)
    if _without_size(first) in ("pepper", "peppers") and parsed.amounts and parsed.amounts[0].unit == "each":
        return _Words("bell pepper", hints, tokens, ask or note("reading.sweet_pepper"))
    if parsed.amounts and parsed.amounts[0].unit == "cube" and re.search(r"stock|bouillon|broth", first):
        name, first = f"{name} cube", f"{first} cube"
    if pattern("mixed_into_water").search(lowered) and first.split()[-1:] == ["water"]:
        ask = ask or note("reading.mixed_in")
    name, hints, ask = _part_of_it(name, hints, ask, first, lowered)
    return _Words(name, hints, tokens, ask)


def _is_a_sum(parsed: ParsedLine) -> bool:
    """Whether both amounts were added up already: "1 cup plus 2 tbsp flour"."""
    return len(parsed.amounts) == 1 and parsed.amounts[0].unit in ("ml", "g") and "plus" in parsed.text.lower()[:14]


def _changing(binding: str, name: str) -> str:
    """A word behind the noun that makes another food of it: "turkey breast, deli-sliced"; empty for none."""
    behind = {token for part in tails(binding) for token in normalized(part).split()} - set(normalized(name).split())
    return next((word for word in words_of("changing") if word in behind), "")


def _without_size(name: str) -> str:
    return " ".join(word for word in name.split() if word not in words_of("variety"))


def _only_binds(words: str, name: str, tokens: Sequence[str]) -> bool:
    """Whether what looks like a second food only says more of the first: "ham, reduced salt", "bacon, turkey"."""
    known = {*tokens, *normalized(name).split(), *words_of("harmless"), *words_of("state")}
    return all(token in known for token in normalized(words).split())


def _part_of_it(name: str, hints: str, ask: Note, first: str, lowered: str) -> tuple[str, str, Note]:
    """The part of a fruit or an egg that the words mean, where they name one."""
    for fruit in ("lemon", "lime", "orange"):
        if fruit in first and "juice" not in first and "zest" not in first:
            if "zest" in lowered and "juice" in lowered:
                return name, hints, note("reading.juice_and_zest", fruit=fruit)
            if "juice" in lowered:
                return f"{fruit} juice", hints, ask
            if pattern("zest_of_it").search(lowered):
                return f"{fruit} zest", hints, ask
    if pattern("eggs_and_parts").search(lowered):
        return "egg", "", ask or note("reading.eggs_and_parts")
    named = normalized(first).split()
    if "egg" in named and head_of(named) not in words_of("made"):
        # A word nobody knows stays, and is asked about.
        others = [t for t in named if t not in (*_OF_AN_EGG, *words_of("harmless")) and not t.isdigit()]
        if "white" in lowered and "yolk" not in lowered:
            return " ".join([*others, "egg white"]), hints, ask
        if "yolk" in lowered and "white" not in lowered and "plus" not in lowered:
            return " ".join([*others, "egg yolk"]), hints, ask
    return name, hints, ask


def read_recipe(
    source: RecipeText | str | bytes, serves: float | None = None, *, aliases: Aliases | None = None
) -> Dish:
    """A whole recipe: text or bytes of a page, of schema.org JSON-LD or of plain words, or what was found in one.

    `serves` wins over the source. What was written by nutrition.giving.writing is taken as it was counted; only lines
    whose words were changed since are read anew. Raises Problem for a source that cannot be read, and where nobody says
    how many it serves.
    """
    dish = read_as_found(source, serves, aliases=aliases)
    if not dish.serves or dish.serves <= 0:
        raise Problem("dish.serves_unknown")
    return dish


def read_as_found(
    source: RecipeText | str | bytes, serves: float | None = None, *, aliases: Aliases | None = None
) -> Dish:
    """As `read_recipe`; how many it serves may still be open."""
    if isinstance(source, bytes):
        source = from_bytes(source)
    elif isinstance(source, str):
        source = from_any(source)
    serves = serves or source.serves
    kept = source.exact
    kitchen = kept.kitchen if kept else kitchen_of(" ".join(source.lines))
    lines, heading = [], ""
    for position, text in enumerate(source.lines):
        if kept and (exact := kept.line_as_written(position, text)):
            lines.append(exact)
        elif is_heading(text) and not kept:
            heading = clean(text).rstrip(":")
        elif pattern("no_ingredient").match(clean(text)) and not kept:
            continue
        elif clean(text):
            line = read_line(text, serves, kitchen, heading=heading, aliases=aliases)
            lines.append(_still_to_see(line) if source.is_bare else line)
    kind = kept.kind if kept and kept.kind else kind_of_dish(source.title, source.steps, lines)
    notes = (*source.notes, *_too_few_servings(lines, serves, source.steps)) if not kept else source.notes
    return Dish(source.title, serves, keyed(lines), source.steps, kitchen, kind, notes, kept.waved if kept else ())


def _still_to_see(line: Line) -> Line:
    """A line of a page that does not say it is one."""
    return replace(line, sure="check", ask=line.ask or note("reading.from_bare_page"))


#: More than this in one serving is no serving (common practice).
MOST_KCAL = 2500


def _too_few_servings(lines: Sequence[Line], serves: float | None, steps: Sequence[str]) -> tuple[str, ...]:
    """A question where a serving would be a day's food: the recipe more likely serves several. What it fries in is not eaten."""
    swims = any(pattern("left_deep").search(step.lower()) for step in steps)
    known = [(foods().by_id(line.food_id), line.grams) for line in lines if line.food_id and line.grams]
    rows = [
        (food.row, grams)
        for food, grams in known
        if not (swims and pattern("left_oil").search(f"{food.category}: {food.description}"))
    ]
    energy = sum(float(np.nan_to_num(foods().per_100g[row, INDEX["energy_kcal"]])) * grams / 100 for row, grams in rows)
    if not serves or energy / serves <= MOST_KCAL:
        return ()
    return (str(note("reading.few_servings", kcal=energy / serves)),)
