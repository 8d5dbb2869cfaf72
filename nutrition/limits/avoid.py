"""What a dish holds of allergens and of what plans avoid, read from the foods and from the words of the lines.

A finding is "contains" or "check the label"; where neither was found the words are "nothing listed
found", never that a dish is safe. Words: tables/avoid_rules.tsv, read after the phrases of
tables/innocent_phrases.tsv (coconut milk is not milk) have been put out of the way.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.food.contents import hits_of_food
from nutrition.food.spoken import SAYS_FREE, Spoken, parts_of, spoken
from nutrition.food.table import foods, remembered
from nutrition.food.tags import ALLERGENS, CHECK, CONTAINS, LINE, TAGS, Hit
from nutrition.notes import note
from nutrition.tables import pattern


@dataclass(frozen=True, slots=True)
class Finding:
    """What a dish shows of one tag. `lines` are positions from 0; `hits` are (position, Hit) of that verdict, one a
    line.

    `also_check`: lines whose label decides, where another line contains it outright.
    """

    tag: str
    verdict: str
    lines: tuple[int, ...]
    hits: tuple[tuple[int, Hit], ...]
    also_check: tuple[int, ...] = ()

    @property
    def label(self) -> str:
        return TAGS[self.tag]

    @property
    def by_label(self) -> tuple[int, ...]:
        """The lines of which the label decides."""
        return self.lines if self.verdict == CHECK else self.also_check

    @property
    def look_for(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys(hit.look_for for _, hit in self.hits if hit.look_for and hit.verdict == CHECK))

    def look_for_in(self, position: int) -> tuple[str, ...]:
        """What to look for on the label of one line."""
        mine = (hit for at, hit in self.hits if at == position)
        return tuple(dict.fromkeys(hit.look_for for hit in mine if hit.look_for and hit.verdict == CHECK))


#: Lines that are not settled: what else they may be, in the words of a finding.
_MAY_BE = note("limits.may_be_another")
_LABEL_SAYS_NOT = note("limits.label_says_not")
_UNSETTLED, _NO_FOOD = note("limits.food_unsettled"), note("limits.food_unknown")


def hits_of_line(line: Line) -> tuple[Hit, ...]:
    """What one line shows. A line without a food, or one that may be several, is checked for what it may be; what only a step
    names is a matter to look at, however plainly it is named."""
    hits = hits_as_named(line)
    if not line.step:
        return hits
    because = note("limits.step_adds", words=line.text)
    return tuple(hit.softened(because) for hit in hits)


def hits_as_named(line: Line) -> tuple[Hit, ...]:
    """... as plainly as it is named, in a step too: for reminders, which ask for nothing to be certain."""
    has_label = line.food_id in foods().printed
    words = pattern("flavor_of").sub(" ", line.text) if has_label else line.text
    said = spoken(words, LINE) if line.words_hold else Spoken(())
    hits = _beside_a_label(line, said) if has_label else list(said.hits)
    if line.food_id:
        freed = said.free | _freed_by_habit(line.food_id, said)
        hits += [hit.softened(SAYS_FREE) if hit.tag in freed else hit for hit in hits_of_food(line.food_id)]
    if line.sure == "check":
        hits += [hit for other in line.others for hit in _of_a_candidate(other)]
    if line.is_food_open and not line.is_of_a_kind:
        # Nobody has said yet which food it is: what it may be is not ruled out, whatever its candidates are.
        seen, may_hold = {hit.tag for hit in hits}, ALLERGENS if line.food_id else TAGS
        because = _UNSETTLED if line.food_id else _NO_FOOD
        hits += [Hit(tag, CHECK, line.text, LINE, because, "unknown food") for tag in may_hold if tag not in seen]
    return tuple(hits)


@remembered
def _of_a_candidate(food_id: str) -> tuple[Hit, ...]:
    """What a food shows of a line that may be it or another."""
    return tuple(hit.softened(_MAY_BE) for hit in hits_of_food(food_id))


def _beside_a_label(line: Line, said: Spoken) -> list[Hit]:
    """What the words of a line add to a label that was entered: the label speaks first for the food it is of.

    What the words send one to the label for has been read. What they say it holds and the label does not list is to be
    looked at again; what stands beside the food ("with butter") is none of that label's business.
    """
    beside = {hit.tag for part in parts_of(line.text)[1:] for hit in spoken(part, LINE).hits if hit.verdict == CONTAINS}
    outright = (hit for hit in said.hits if hit.verdict == CONTAINS)
    return [hit if hit.tag in beside else hit.softened(_LABEL_SAYS_NOT) for hit in outright]


def _freed_by_habit(food_id: str, said: Spoken) -> frozenset[str]:
    """What is there by habit only (the wheat of bread called gluten-free), unless the food names it."""
    if not said.by_habit:
        return said.by_habit
    named = foods().description(food_id)
    return frozenset(tag for tag in said.by_habit if not pattern(f"names_{tag}").search(named))


def by_list(hit: Hit, allergen_list: str) -> Hit:
    """A hit as the list of allergens that counts has it: what only the US names is a matter of the label by the EU's."""
    return hit.softened() if allergen_list == "eu" and hit.because.code == "food.on_the_us_list" else hit


def find(lines: Sequence[Line], tags: Iterable[str] = tuple(ALLERGENS), allergen_list: str = "") -> list[Finding]:
    """One finding a tag that shows, "contains" first. `allergen_list`: "eu" makes pine nuts a matter of the label.

    Raises KeyError for a tag that is not known.
    """
    by_tag: dict[str, list[tuple[int, Hit]]] = {tag: [] for tag in tags if TAGS[tag]}
    for position, line in enumerate(lines):
        if line.weight and line.weight.most <= 0:
            continue
        for hit in hits_of_line(line):
            if hit.tag in by_tag:
                by_tag[hit.tag].append((position, by_list(hit, allergen_list)))
    findings = [_finding(tag, hits) for tag, hits in by_tag.items() if hits]
    return sorted(findings, key=lambda finding: finding.verdict != CONTAINS)


def _finding(tag: str, hits: Sequence[tuple[int, Hit]]) -> Finding:
    """The gravest verdict of a tag, with the first reason of each line that gives it."""
    verdict = CONTAINS if any(hit.verdict == CONTAINS for _, hit in hits) else CHECK
    first: dict[int, Hit] = {}
    for position, hit in hits:
        if hit.verdict == verdict:
            first.setdefault(position, hit)
    also = {position for position, _ in hits} - set(first)
    return Finding(tag, verdict, tuple(sorted(first)), tuple(first.items()), tuple(sorted(also)))


def find_avoided(lines: Sequence[Line], tags: Iterable[str] | None = None, allergen_list: str = "") -> list[Finding]:
    """Findings for lines, "contains" first: of the 15 listed allergens, or of the tags asked for.

    A tag that is not among them: nothing listed found, never "safe". `allergen_list`: "eu" or "us", whose list counts.
    """
    return find(lines, tuple(ALLERGENS) if tags is None else tags, allergen_list)
