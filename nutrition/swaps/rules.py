"""The swap rules: tables/swaps.tsv, and rules a practice adds. A rule is data; the engine decides what follows.

`to` is written as cook's names with grams per gram of what goes out ("rice flour * 0.65 + potato starch * 0.35"),
or "@less 0.5", "@more 1.5", "@drop"; "@keep 0.4 + eggplant * 0.6" keeps part of the line and puts the rest beside it.
"""

import functools
import re
from collections.abc import Iterable
from dataclasses import dataclass

from nutrition.dish.dish import KINDS
from nutrition.dish.grams import Grams
from nutrition.dish.line import Line
from nutrition.food.names import normalized
from nutrition.food.table import foods, remembered, the_table, using
from nutrition.notes import Problem, note
from nutrition.reading.choice import food_named
from nutrition.swaps.jobs import JOBS, jobs_of
from nutrition.tables import Row, read_table

#: Of a rule that a practice made for itself, and of one product for another of its kind.
OWN_CLOSENESS, SAME_KIND = 0.8, 0.95


@dataclass(frozen=True, slots=True)
class Rule:
    """One way to do a job. `to`: (food id, grams per gram); `factor` for less or more of the same, 0 for leaving out.

    `keeps`: the share of the line itself that stays, whatever food it is, before what stands in `to`. `is_made`: what
    takes over is made at home instead of bought. `closeness`: 0 to 1, how much the dish is still the dish.
    """

    id: str
    job: str
    words: re.Pattern[str]
    to: tuple[tuple[str, float], ...]
    factor: float | None
    where: frozenset[str]
    household: str
    do_differently: str
    limits: str
    caution: str
    school: str
    minutes: int
    exotic: int
    source: str
    test_line: str = ""
    is_made: bool = False
    closeness: float = OWN_CLOSENESS
    keeps: float = 0.0

    @property
    def most_grams(self) -> float:
        """The limit in grams the rule names, infinite when it names none ("up to 60 g", "up to 3 eggs (150 g)")."""
        match = re.search(r"(\d+) g", self.limits)
        return float(match[1]) if match else float("inf")

    def suits(self, description: str, kind: str) -> bool:
        return bool(self.words.search(description.lower())) and bool(self.where & {"any", kind} or kind == "any")


@dataclass(frozen=True, slots=True)
class Leads:
    """Where a rule leads: foods with grams per gram, or a factor of the same; and what of the line itself stays."""

    to: tuple[tuple[str, float], ...] = ()
    factor: float | None = None
    keeps: float = 0.0


def read_to(text: str) -> Leads:
    """The foods and ratios of a rule as written, or the factor of one that keeps the food. Raises Problem.

    >>> read_to("@less 0.5").factor
    0.5
    >>> read_to("@keep 0.4 + water * 0.6").keeps
    0.4
    """
    text = text.strip()
    if text == "@drop":
        return Leads(factor=0.0)
    keeps = re.fullmatch(r"@(less|more) (\d+(?:\.\d+)?)", text)
    if keeps:
        factor = float(keeps[2])
        if not (0 < factor < 1 if keeps[1] == "less" else 1 < factor <= 5):
            raise Problem("swaps.factor_out_of_range", text=text)
        return Leads(factor=factor)
    parts, share = [], 0.0
    for part in text.split(" + "):
        stays = re.fullmatch(r"@keep (0?\.\d+)", part.strip())
        if stays:
            share = float(stays[1])
            continue
        name, star, ratio = part.rpartition(" * ")
        try:
            grams = float(ratio) if star else 1.0
        except ValueError:
            raise Problem("swaps.not_a_ratio", ratio=ratio) from None
        if not 0 < grams <= 50:
            raise Problem("swaps.ratio_out_of_range", grams=grams, name=name)
        parts.append((food_called((name if star else part).strip()), grams))
    return Leads(tuple(parts), keeps=share)


@remembered
def food_called(name: str) -> str:
    """The id of the food a cook calls this. Raises Problem."""
    if not re.search(r"[a-zA-Z]", name):
        raise Problem("swaps.no_food_named")
    match = food_named(name)
    # A cook's name means the food as it is bought; a description of the same words may be the cooked or diluted one.
    if foods().has(name) and normalized(match.name) != normalized(name):
        return foods().by_description(name).id
    if match.row < 0 or (match.sure == "check" and normalized(match.name) != normalized(name)):
        raise Problem("swaps.food_unknown", name=name)
    return str(foods().ids[match.row])


def _rule_from(row: Row) -> Rule:
    leads = row.as_("to", read_to, "foods with their ratios, @less, @more, @keep or @drop")
    return Rule(
        row.text("id"),
        row.one_of("job", JOBS),
        row.pattern("from_words"),
        leads.to,
        leads.factor,
        row.words("where", KINDS),
        row["household"],
        row["do_differently"],
        row["limits"],
        row["caution"],
        row["school"],
        row.whole("minutes", 0),
        row.whole("exotic", 0),
        row.text("source"),
        row["test_line"],
        row.yes("made"),
        row.number("closeness", OWN_CLOSENESS),
        leads.keeps,
    )


@functools.cache
def catalog() -> tuple[Rule, ...]:
    """Every rule that ships: of foods of the table, whatever a practice calls its own."""
    with using(the_table()):
        return tuple(_rule_from(row) for row in read_table("swaps.tsv"))


def label_rule(food_id: str, stands_for: str, source: str, rule_id: str) -> Rule:
    """ "This jar instead": the food of a label in place of the food it stands for, as much for as much.

    Raises KeyError when either is not among the foods in use.
    """
    usual, own = foods().by_id(stands_for), foods().by_id(food_id)
    line = Line(usual.description, usual.id, Grams.exactly(100))
    job = next(iter(jobs_of(line)), "bulk")
    words = re.compile(re.escape(usual.description.lower()) + "$")
    same = note("swaps.same_amount")
    return Rule(
        rule_id,
        job,
        words,
        ((own.id, 1.0),),
        None,
        frozenset({"any"}),
        str(same),
        "",
        "",
        "",
        "",
        0,
        0,
        source,
        closeness=SAME_KIND,
    )


def own_rule(replaces: str, job: str, to: str, household: str, do_differently: str, source: str, rule_id: str) -> Rule:
    """A rule of a practice: `replaces` and `to` as a cook names foods. Raises Problem, also for one that leads to
    itself."""
    goes = food_called(replaces.strip())
    leads = read_to(to)
    if goes in {food_id for food_id, _ in leads.to}:
        raise Problem("swaps.leads_to_itself", replaces=replaces)
    words = re.compile(re.escape(foods().by_id(goes).description.lower()) + "$")
    if job not in JOBS:
        raise Problem("swaps.not_a_job", job=job, names=", ".join(JOBS))
    return Rule(
        rule_id,
        job,
        words,
        leads.to,
        leads.factor,
        frozenset(["any"]),
        household,
        do_differently,
        "",
        "",
        "",
        0,
        0,
        source or "own rule",
        keeps=leads.keeps,
    )


def rules_for(description: str, kind: str, own: Iterable[Rule] = ()) -> list[Rule]:
    """Rules that suit a food in a kind of dish, a practice's own first."""
    return [*(rule for rule in own if rule.suits(description, kind)), *_catalog_for(description, kind)]


@functools.lru_cache(maxsize=4096)
def _catalog_for(description: str, kind: str) -> tuple[Rule, ...]:
    return tuple(rule for rule in catalog() if rule.suits(description, kind))
