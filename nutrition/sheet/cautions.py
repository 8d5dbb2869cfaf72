"""Reminders tied to what is in the dish and who eats it. They never say "safe" and never forbid.

Rules: tables/cautions.tsv.
"""

import functools
import re
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from functools import cached_property

from nutrition.dish.line import Line
from nutrition.dish.method import Method
from nutrition.dish.naming import description_of
from nutrition.food.nutrients import INDEX, KEYS
from nutrition.food.spoken import without_accents
from nutrition.food.tags import CONTAINS, TAGS
from nutrition.limits.avoid import hits_as_named
from nutrition.limits.plans import CIRCUMSTANCES, PLANS
from nutrition.reading.method import method_of
from nutrition.sheet.analysis import Analysis
from nutrition.sheet.texture import TEXTURES, of_texture
from nutrition.sheet.uncooked import FAMILIES, uncooked
from nutrition.tables import read_table


@dataclass(frozen=True, slots=True)
class Caution:
    """A reminder: its key in tables/cautions.tsv with its sentence and source, and the lines (from 0) it is about.

    `breaks`: what it does to a title that promises to fit the plan: "yes", "open" (it cannot be told), or nothing. `is_general`: it goes
    for whoever follows the plan, whatever the dish.
    """

    key: str
    text: str
    source: str
    lines: tuple[int, ...] = ()
    breaks: str = ""
    is_general: bool = False


@dataclass(frozen=True, slots=True)
class _Rule:
    key: str
    whom: str
    limited: frozenset[str]
    circumstances: frozenset[str]
    words: re.Pattern[str] | None
    tags: tuple[str, ...]
    raw: str
    texture: str
    nutrient: str
    at_least: float
    unless: frozenset[str]
    breaks: str
    text: str
    source: str

    @property
    def is_general(self) -> bool:
        """Whether nothing in a dish gives cause for it."""
        return self.is_of_whole and not self.nutrient

    @property
    def is_of_whole(self) -> bool:
        """Whether it is about the dish as a whole, or its amounts, and about no line."""
        return not (self.words or self.tags or self.raw or self.texture)

    def concerns(self, plans: Collection[str], limited: Collection[str], circumstances: Collection[str]) -> bool:
        """Whether the person is one this is for."""
        is_theirs = not (self.whom or self.limited) or self.whom == "everyone"
        is_theirs = is_theirs or any(self.key in PLANS[plan].cautions for plan in plans)
        is_theirs = is_theirs or bool(self.limited & set(limited))
        return is_theirs and bool(not self.circumstances or self.circumstances & set(circumstances))


def _holds(cell: str) -> tuple[str, float]:
    """ "fat_g>=20": the nutrient and from how much of it on."""
    if not cell:
        return "", 0.0
    nutrient, least = cell.split(">=")
    return KEYS[INDEX[nutrient]], float(least)


@functools.cache
def _rules() -> tuple[_Rule, ...]:
    rules = []
    for row in read_table("cautions.tsv"):
        nutrient, least = row.as_("holds", _holds, "nutrient>=number")
        rules.append(
            _Rule(
                row["key"],
                row.one_of("for", ("", "plans", "everyone")),
                row.words("limited", KEYS),
                row.words("circumstances", CIRCUMSTANCES),
                row.pattern_or_none("words", re.M, r"(?<![a-z])(?:{})(?:s|es)?(?![a-z])"),
                row.listed("tag", TAGS, "+"),
                row.one_of("raw", ("", *FAMILIES)),
                row.one_of("texture", ("", *TEXTURES)),
                nutrient,
                least,
                row.words("unless"),
                row.one_of("breaks", ("", "yes", "open")),
                row.text("text"),
                row.text("source"),
            )
        )
    return tuple(rules)


@functools.lru_cache(maxsize=256)
def _concerned(plans: frozenset[str], limited: frozenset[str], circumstances: frozenset[str]) -> tuple[_Rule, ...]:
    """The rules for somebody of these plans."""
    circumstances = circumstances.union(*(PLANS[plan].circumstances for plan in plans))
    return tuple(rule for rule in _rules() if rule.concerns(plans, limited, circumstances))


def words_of(line: Line) -> str:
    """What is read for a line, lower case and without accents: its food, and its words while they still hold."""
    words = f"{description_of(line)}\n{line.text if line.words_hold else ''}"
    return without_accents(words.lower().replace("’", "'"))


def cautions_for(
    lines: Sequence[Line],
    plans: Collection[str],
    limited: Collection[str],
    circumstances: Collection[str] = (),
    analysis: Analysis | None = None,
    steps: Sequence[str] = (),
) -> list[Caution]:
    """Reminders for a dish. `limited`: nutrients with a maximum, whichever plan or person set it.

    `analysis` is needed for reminders that hang on an amount; what may be there counts. `steps`: what is done with it.
    """
    return given(shown_by(tuple(lines), tuple(steps)), plans, limited, circumstances, lambda: analysis)


def given(
    shown: "Shown",
    plans: Collection[str],
    limited: Collection[str],
    circumstances: Collection[str],
    analyzed: Callable[[], Analysis | None],
) -> list[Caution]:
    """Reminders for somebody, of a dish that was looked at. `analyzed`: what one serving holds, asked for where an amount decides."""
    found: dict[str, Caution] = {}
    for rule in _concerned(frozenset(plans), frozenset(limited), frozenset(circumstances)):
        hits = shown.hits(rule)
        if hits is None:
            continue
        if rule.nutrient:
            analysis = analyzed()
            if analysis is None or analysis.amount(rule.nutrient) < rule.at_least:
                continue
            shares = analysis.shares(rule.nutrient)
            hits = tuple(i for i, share in enumerate(shares) if share >= 0.1)
        found[rule.key] = Caution(rule.key, rule.text, rule.source, hits, rule.breaks, rule.is_general)
    return [caution for caution in found.values() if caution.key not in _hidden(found.keys())]


def _hidden(keys: Collection[str]) -> set[str]:
    """Reminders that are not given beside these."""
    return {rule.key for rule in _rules() if not rule.unless.isdisjoint(keys)}


def shown_keys(lines: Sequence[Line], steps: Sequence[str], analysis: Analysis) -> tuple[str, ...]:
    """Keys of every reminder a dish gives cause for, whoever eats it: what a library keeps of it."""
    shown = shown_by(tuple(lines), tuple(steps))
    return tuple(
        rule.key
        for rule in _rules()
        if not rule.is_general
        and shown.hits(rule) is not None
        and (not rule.nutrient or analysis.amount(rule.nutrient) >= rule.at_least)
    )


def concerning(plans: Collection[str], limited: Collection[str], circumstances: Collection[str]) -> tuple[str, ...]:
    """Keys of the reminders somebody may be given, in the table's order."""
    return tuple(rule.key for rule in _concerned(frozenset(plans), frozenset(limited), frozenset(circumstances)))


def text_of(key: str) -> str:
    """The sentence of a reminder. Raises KeyError for one that is not in the table."""
    return {rule.key: rule.text for rule in _rules()}[key]


def keys() -> tuple[str, ...]:
    """Of all reminders, in the table's order."""
    return tuple(rule.key for rule in _rules())


def hidden_by() -> dict[str, frozenset[str]]:
    """Key of a reminder -> those beside which it is not given."""
    return {rule.key: rule.unless for rule in _rules() if rule.unless}


class Shown:
    """What of a dish gives cause for each reminder: looked for once a rule, whoever asks."""

    def __init__(self, lines: Sequence[Line], steps: Sequence[str]):
        self.lines, self.steps = lines, steps
        self.texts = [words_of(line) for line in lines]
        self.found: dict[str, tuple[int, ...] | None] = {}

    @cached_property
    def method(self) -> Method:
        return method_of(tuple(self.steps), tuple(line for line in self.lines if not line.step))

    def hits(self, rule: _Rule) -> tuple[int, ...] | None:
        """The lines (from 0) a rule is about; None where nothing gives cause for it, amounts apart."""
        if rule.key not in self.found:
            self.found[rule.key] = self._look(rule)
        return self.found[rule.key]

    def _look(self, rule: _Rule) -> tuple[int, ...] | None:
        hits = _lines_of(rule, self)
        return None if not hits and not rule.is_of_whole else hits


@functools.lru_cache(maxsize=512)
def shown_by(lines: tuple[Line, ...], steps: tuple[str, ...]) -> Shown:
    return Shown(lines, steps)


def _holding(tag: str, lines: Sequence[Line]) -> set[int]:
    """The lines that hold a tag outright, and what a step adds that does."""
    return {
        i for i, line in enumerate(lines) if any((h.tag, h.verdict) == (tag, CONTAINS) for h in hits_as_named(line))
    }


def _lines_of(rule: _Rule, shown: Shown) -> tuple[int, ...]:
    """The lines a reminder is about: by their words, by what they hold, or by what the steps make of them."""
    at = {i for i, text in enumerate(shown.texts) if rule.words and rule.words.search(text)}
    if rule.tags:
        held = [_holding(tag, shown.lines) for tag in rule.tags]
        at |= set().union(*held) if all(held) else set()
    if rule.raw:
        at |= set(uncooked(rule.raw, shown.lines, shown.steps))
    if rule.texture:
        at |= set(of_texture(rule.texture, shown.lines, shown.method))
    return tuple(sorted(at))
