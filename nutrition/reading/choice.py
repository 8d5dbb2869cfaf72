"""The food a line means, chosen among all its words allow.

A cook's name finds the first (matching.py). Where it leaves words out, one of its family that says them is meant: "pears, asian" are no pears
in general. Where it breaks what the line promises, the nearest of its family that keeps it: "cheddar, fat-free" is no cheddar. Where none
does, no food is taken, and the line asks: never the opposite food.
"""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import replace

from nutrition.food.names import normalized
from nutrition.food.signatures import family, signature, tells_of_family, words_of_family, words_said
from nutrition.food.table import RETIRED, Food, foods, remembered_of_table
from nutrition.notes import NOTHING, Note, note
from nutrition.reading.deciding import MOST, differ, widest
from nutrition.reading.kin import Kin, kin_of, sisters
from nutrition.reading.matching import LIES_IN, Match, head_of, in_full, matcher
from nutrition.reading.promises import Said, broken_by
from nutrition.tables import pattern, words_of


def food_named(words: str) -> Match:
    """The food that words alone stand for, as a line of nothing else.

    >>> foods().descriptions[food_named("asian pears").row]
    'Pears, asian, raw'
    """
    return nearer(matcher().match(words), words, "", ())


#: What joins two foods, unless the table says it too.
_JOINS = frozenset(("and", "with", "plus", "or"))


def is_all_of_it(row: int, names: Iterable[str], text: str) -> bool:
    """Whether what looks like several foods is the name of this one: "pudding, rice"; two joined by a word are two.

    >>> is_all_of_it(foods().by_description("Pudding, rice").row, ("Pudding", "rice"), "100 g pudding, rice")
    True
    """
    words = {t for name in names for t in normalized(name).split()} - words_of("harmless").keys()
    joins = _JOINS & set(normalized(text).split())
    return row >= 0 and words | joins <= words_said(row)


# Words a name leaves out.


def nearer(match: Match, name: str, binding: str, said: Sequence[Said]) -> Match:
    """The food of the family that says most of a line's words, where the one found leaves some of them out. `name`: the words that name
    it; `binding`: the words of the line that bind it.

    >>> found = nearer(matcher().match("pears"), "pears", "pears, asian", ())
    >>> foods().descriptions[found.row], found.sure
    ('Pears, asian, raw', 'likely')
    """
    kept = {t for each in said for t in each.tokens}
    words = in_full(kept, name).split()
    heads = _heads(words, binding)
    wanted = _content(words, binding, heads)
    is_of_two = "and" in words  # "butter and honey" is no honey butter
    known = {*words, *normalized(binding).split()}

    def kin(rows: Iterable[int]) -> list[Kin]:
        found = kin_of(list(map(int, rows)), wanted, said, known)
        return [each for each in found if not is_of_two or "and" in words_said(each.row)]

    # What is promised is held to below.
    left = wanted - _explained(match) - kept
    if match.row >= 0 and not left:
        exact = [each for each in kin(_of_any(heads)) if each.is_exact] if _is_loose(match, said, kept) else []
        is_better = exact and not any(each.row == match.row for each in exact)
        return _meant(match, exact) if is_better else _or_as_described(match, words)
    nearest = [each for each in kin(_of_any(heads)) if each.missing < left]
    # Where no name was found only what tells nothing may be missing: no Atlantic cod is cooked, a Pacific one is.
    if nearest and (match.row >= 0 or nearest[0].missing <= words_of("neutral").keys()):
        return _or_as_named(match, _meant(match, nearest), left)
    # What only has the noun somewhere ("cereals ready-to-eat, rice") is asked about.
    somewhere = kin(matcher().postings.get(heads[0], ())) if match.row < 0 and left else []
    somewhere = [each for each in somewhere if not each.missing]
    return _asked(somewhere) if somewhere else match


def _is_loose(match: Match, said: Sequence[Said], kept: Collection[str]) -> bool:
    """Whether a food keeps what the line promises without saying it, and the name it was found by does not either."""
    words = words_said(match.row) | set(match.name.split())
    return not words.issuperset(kept) and not broken_by(foods().food(match.row), said, match.name)


@remembered_of_table
def _described() -> dict[str, int]:
    """First part of a description, as words are compared -> the plainest food called so."""
    found: dict[str, int] = {}
    for row, description in enumerate(foods().base.descriptions):
        if foods().text["kinds"][row] != RETIRED:
            found.setdefault(normalized(description.split(",")[0]), row)
    return found


def _or_as_described(match: Match, words: Sequence[str]) -> Match:
    """A food found by words of which one was passed over as saying nothing, where the table has a food of just these words: either may be meant
    ("Spanish rice", "banana split")."""
    row = _described().get(" ".join(words), match.row)
    if row == match.row or set(words) <= _explained(match) or not differ((row, match.row)):
        return match
    ask = note("reading.which_kind", words=" ".join(words))
    return Match(match.row, "check", match.why, ask, (row, *match.others), match.name, is_of_a_kind=True)


def _or_as_named(match: Match, near: Match, left: frozenset[str]) -> Match:
    """Another thing than the name's, chosen for words that say nothing of most foods: either may be meant ("banana split")."""
    if match.row < 0 or not left <= words_of("harmless").keys():
        return near
    if set(signature(match.row).heads) & set(signature(near.row).heads) or not differ((match.row, near.row)):
        return near
    ask = note("reading.which_kind", words=foods().descriptions[near.row].split(",")[0].lower())
    return replace(near, sure="check", ask=ask, others=(match.row, *near.others), is_of_a_kind=True)


def _asked(kin: Sequence[Kin]) -> Match:
    others = tuple(each.row for each in kin[1:])[:MOST]
    return Match(kin[0].row, "check", note("reading.nearest"), note("reading.is_this_it"), others)


def _heads(words: Sequence[str], binding: str) -> tuple[str, ...]:
    """The nouns a line may call its food by: its last word, though it says nothing of most foods ("apple crisp"), and where it is
    turned round the last before its comma."""
    # The little words stay that say where the noun ends: "sardines in tomato sauce".
    noun = [t for t in words if t not in words_of("harmless") or t in LIES_IN]
    noun = list(words) if not noun or noun[0] in LIES_IN else noun
    first = normalized(binding.partition(",")[0]).split() if "," in binding else []
    last = words if words and words[-1] not in words_of("cut_or_amount") else []
    return tuple(dict.fromkeys(head_of(part) for part in (noun, last, first) if part)) or ("",)


def _of_any(heads: Sequence[str]) -> list[int]:
    return list(dict.fromkeys(row for head in heads for row in family(head)))


def _content(words: Iterable[str], binding: str, heads: Sequence[str]) -> frozenset[str]:
    """The words of a line that say which food of the family it is: those of its name, and those behind that some food of the family says."""
    of_family = frozenset().union(*map(words_of_family, heads))
    # "Greek" says nothing of a salad's cucumber, and of yogurt which it is.
    tells = frozenset().union(*map(tells_of_family, heads))
    none = words_of("harmless").keys() - (tells - words_of("state").keys() - words_of("cut_or_amount").keys())
    behind = {t for t in normalized(binding).split() if t in of_family}
    return frozenset(t for t in (*words, *behind) if t not in none and not t.isdigit())


def _explained(match: Match) -> frozenset[str]:
    """The words that the food found and the name it was found by account for."""
    if match.row < 0:
        return frozenset()
    also = {name for each in matcher().names_of(match.row) for name in each}
    return words_said(match.row) | set(normalized(match.name).split()) | also


def _meant(match: Match, kin: Sequence[Kin]) -> Match:
    """The nearest of the family, with the others the words allow; asked about where they differ in what decides, and where it alone says
    more than the line does."""
    best, why = kin[0], note("reading.all_words")
    # One that says no more than the line is it, or one of those that say a word more; else all that keep its words may be meant.
    further = len(best.unsaid) + 1 if not best.unsaid else max(len(each.unsaid) for each in kin)
    alike = [each.row for each in kin[1:] if each.missing == best.missing and len(each.unsaid) <= further]
    others = widest(best.row, alike)
    if best.missing:
        ask = match.ask or note("reading.unused", words=" ".join(sorted(best.missing)))
        # A word that none of them says may make another food of it.
        return Match(best.row, "check", note("reading.nearest"), ask, others)
    is_made = pattern("composed_or_for_babies").search(best.food.category)
    if best.unsaid and (not others or is_made):
        return Match(best.row, "check", why, note("reading.is_this_it"), others)
    if others and differ((best.row, *others)):
        ask = note("reading.which_kind", words=best.food.description.split(",")[0].lower())
        return Match(best.row, "check", why, ask, others, is_of_a_kind=True)
    return Match(best.row, "likely", why, NOTHING, others)


# Promises a food breaks.


def held_to(match: Match, name: str, said: Sequence[Said]) -> tuple[Match, int]:
    """The match as the promises of a line leave it, and the row to weigh by (-1: none): a food refused still has its measures."""
    if match.row < 0:
        return match, -1
    food = foods().food(match.row)
    said = [each for each in said if each.can_be_said_of(food)]
    broken = broken_by(food, said, match.name)
    if not broken:
        return _answered(match, said), match.row
    found = _keeping(match, name, food, said)
    if found and not (found[0].unsaid and any(each.promise.free_of for each in broken)):
        return _nearest(match, found, said, broken)
    if all(each.promise.soft == "yes" for each in broken):
        return replace(match, sure=match.sure if match.sure == "check" else "likely"), match.row
    ask = note("reading.promise", words=broken[0].words, food=food.id)
    others = tuple(dict.fromkeys((*match.others, *matcher().search(f"{broken[0].words} {name}", 3))))
    refused = replace(match, sure="check", ask=ask, others=others, is_of_a_kind=False)
    if all(each.promise.soft == "ask" for each in broken):
        return refused, match.row
    return replace(refused, row=-1), match.row


def _keeping(match: Match, name: str, food: Food, said: Sequence[Said]) -> list[Kin]:
    """The nearest of the family that keep all of it: of those its name calls so, else of its wider kin, which are always asked about."""
    of_class = (*words_of("class"), signature(food.row).under, *normalized(match.name or name).split())
    by_name, *wider = _families(match, name, food, said)
    found: list[Kin] = []
    for words in (by_name, *(each for each in wider if each and each[-1] in signature(food.row).heads)):
        kin = kin_of(sisters(words, said, food), (), said, (*words, *of_class), is_shown=True)
        if words is not by_name:
            kin = [replace(each, unsaid=each.unsaid.union(words)) for each in kin]
        # One that says what was promised is nearer than one that only does not deny it: canned mung sprouts, of bean sprouts.
        is_said = any(not each.unshown for each in kin)
        if kin and (not found or (is_said and all(each.unshown for each in found))):
            found = kin
    # What the food refused says too is no news: of an egg the whole one, of pasta the dry.
    return sorted(found, key=lambda each: len(each.unsaid - words_said(food.row)))


def _families(match: Match, name: str, food: Food, said: Sequence[Said]) -> list[list[str]]:
    """The words every food of the family has: the name without what binds it. And what the food refused is called, for
    its wider kin."""
    bound = {token for each in said for token in each.tokens}
    first = [normalized(part).split() for part in food.description.split(",")[:2]]
    own = first[-1] if set(first[0]) <= words_of("class").keys() | words_of("called_by_kind").keys() else first[0]

    def plain(words: Sequence[str]) -> list[str]:
        return [
            t
            for t in dict.fromkeys(words)
            if (t not in bound or t == words[-1])
            and (t == "ground" or t not in words_of("harmless"))
            and not t.endswith("%")
        ]

    by_name, by_food = plain(normalized(match.name or name).split()), plain(own)
    # A color of the name that its own food does not say ("brown" lentils) need not be said by the nearest to it.
    looks = words_of("color").keys() - words_said(food.row)
    by_name = [t for t in by_name if t not in looks] or by_name
    narrower = plain([*own, *(t for t in first[-1] if t not in words_of("neutral"))])
    return [by_name, *(kin for kin in (narrower, by_food) if kin != by_name)]


def _nearest(match: Match, found: Sequence[Kin], said: Sequence[Said], broken: Sequence[Said]) -> tuple[Match, int]:
    """The nearest of the family; it asks where its description says more than the line, or leaves the name's question."""
    row, more = found[0].row, tuple(each.row for each in found[1:5])
    why = note("reading.keeps_it", words=", ".join(each.words for each in said))

    def asked(ask: Note, about: frozenset[str] = frozenset()) -> tuple[Match, int]:
        return Match(row, "check", why, ask, more, match.name, about=about), row

    if _still_open(match, said, is_moved=True):
        return asked(match.ask, match.about)
    if found[0].unsaid or any(each.promise.soft == "open" for each in said):
        return asked(note("reading.which_kind", words=broken[0].words))
    return Match(row, "likely", why, NOTHING, more, match.name), row


def _still_open(match: Match, said: Sequence[Said], *, is_moved: bool = False) -> bool:
    """Whether the question of the name is still to be asked, after what the line said and its food keeps.

    `is_moved`: another food that keeps all of it has taken the place of the name's.
    """
    food = foods().food(match.row)
    return bool(match.ask) and not any(
        each.promise.answers & match.about and (is_moved or each.is_kept(food)) for each in said
    )


def _answered(match: Match, said: Sequence[Said]) -> Match:
    """A question of the name that the words have answered is not asked."""
    if match.sure == "check" and match.is_of_a_kind and not _still_open(match, said):
        return replace(match, sure="likely", ask=NOTHING)
    return match
