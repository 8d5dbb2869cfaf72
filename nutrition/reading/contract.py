"""The contract: a food is taken for a line only if it keeps everything the words of the line promise.

Else the nearest of its family that does; else none, and the line asks. Never the opposite food.
"""

from collections.abc import Sequence
from dataclasses import replace

from nutrition.food.names import normalized
from nutrition.food.table import Food, foods
from nutrition.notes import NOTHING, note
from nutrition.reading.matching import Match, matcher
from nutrition.reading.promises import Said, broken_by
from nutrition.reading.siblings import Sibling, siblings
from nutrition.tables import words_of


def held_to(match: Match, name: str, said: Sequence[Said]) -> tuple[Match, int]:
    """The match as the contract leaves it, and the row to weigh by (-1: none): a food refused still has its measures."""
    if match.row < 0:
        return match, -1
    food = foods().food(match.row)
    said = [each for each in said if each.can_be_said_of(food)]
    broken = broken_by(food, said, match.name)
    if not broken:
        return _answered(match, said), match.row
    family, *wider = _families(match, name, food, said)
    found = siblings(food, family, said, matcher().postings)
    for kin in wider:
        found = found or [
            replace(each, unsaid=(*each.unsaid, *kin)) for each in siblings(food, kin, said, matcher().postings)
        ]
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


def _nearest(match: Match, found: Sequence[Sibling], said: Sequence[Said], broken: Sequence[Said]) -> tuple[Match, int]:
    """The nearest of the family; it asks where its description says more than the line, or leaves the name's question."""
    row, more = found[0].food.row, tuple(dict.fromkeys(each.food.row for each in found[1:5]))
    why = note("reading.keeps_it", words=", ".join(each.words for each in said))
    if _still_open(match, said, is_moved=True):
        return Match(row, "check", why, match.ask, more, match.name, about=match.about), row
    if found[0].unsaid or any(each.promise.soft == "open" for each in said):
        return Match(row, "check", why, note("reading.which_kind", words=broken[0].words), more, match.name), row
    return Match(row, "likely", why, NOTHING, more, match.name), row


def _families(match: Match, name: str, food: Food, said: Sequence[Said]) -> list[list[str]]:
    """The words every food of the family has: the name without what binds it. And what the food refused is called, for
    its wider kin, which are always asked about."""
    bound = {token for each in said for token in each.tokens}
    first = [normalized(part).split() for part in food.description.split(",")[:2]]
    own = first[0] if set(first[0]) - words_of("class").keys() or len(first) < 2 else first[1]

    def plain(words: Sequence[str]) -> list[str]:
        return [
            t
            for t in dict.fromkeys(words)
            if (t not in bound or t == words[-1])
            and (t == "ground" or t not in words_of("harmless"))
            and not t.endswith("%")
        ]

    by_name, by_food = plain(normalized(match.name or name).split()), plain(own)
    narrower = plain([*own, *(t for t in first[-1] if t not in words_of("neutral"))])
    return [by_name, *(kin for kin in (narrower, by_food) if kin != by_name)]


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
