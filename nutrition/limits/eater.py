"""Whoever the dish is for, as the core takes them."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from functools import cached_property
from typing import Any

from nutrition.food.tags import TAGS
from nutrition.limits.conflicts import Conflict, conflicts, owner_of, set_aside
from nutrition.limits.gates import MEAL_SHARES, Gate, Target, gates_for
from nutrition.limits.noted import allergen_named
from nutrition.limits.person import MERGED_FACTS
from nutrition.limits.plans import OWN, PLANS, Avoid, Facts, avoids_of
from nutrition.limits.plans.common import NotLimited
from nutrition.limits.roles import WHOLE
from nutrition.limits.tallies import Tally
from nutrition.notes import NOTHING, Note, note


@dataclass(frozen=True)
class Eater:
    """Whoever the dish is for. `plans`: key -> settings; `targets`: as they stand, with their owners.

    `settled`: topic of a conflict -> key of the plan that leads. `tallies`: of their own. `region`: "us" or "eu", whose
    rules are quoted; empty where the plans' label form decides. `role`: what part of a meal the dish at hand is
    (limits/roles.py); `role_shares`: shares of their own for such parts. `noted`: foods of an allergy noted in words of
    their own, `disliked`: of what they will not eat (noted.noted_words). `list_of_allergens`: "us" or "eu" where that is
    settled otherwise than by the plans.
    """

    facts: Facts = field(default_factory=Facts)
    plans: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    targets: tuple[Target, ...] = ()
    settled: Mapping[str, str] = field(default_factory=dict)
    shares: Mapping[str, float] = field(default_factory=lambda: MEAL_SHARES)
    tallies: tuple[Tally, ...] = ()
    region: str = ""
    role: str = WHOLE
    role_shares: Mapping[str, float] = field(default_factory=dict)
    noted: tuple[str, ...] = ()
    disliked: tuple[str, ...] = ()
    list_of_allergens: str = ""

    def also(self, noted: Iterable[str] = (), disliked: Iterable[str] = ()) -> "Eater":
        """With more that was noted of them; each word once."""
        noted = tuple(dict.fromkeys((*self.noted, *noted)))
        disliked = tuple(dict.fromkeys((*self.disliked, *disliked)))
        if (noted, disliked) == (self.noted, self.disliked):
            return self
        return replace(self, noted=noted, disliked=disliked)

    @property
    def never(self) -> tuple[str, ...]:
        """Foods nobody puts in for them: of an allergy noted in words, then what they will not eat."""
        return (*self.noted, *self.disliked)

    @cached_property
    def keeps_out(self) -> dict[str, list[tuple[str, Avoid]]]:
        """Tag -> (plan key, why) of everything kept out for them: by their plans, and a listed allergen noted in words of their own."""
        found = avoids_of(self.plans)
        for tag in filter(None, map(allergen_named, self.noted)):
            found.setdefault(tag, []).append(
                (OWN, Avoid(tag, "noted as an allergy", "noted of the person", is_strict=True))
            )
        return found

    @property
    def keeps_out_words(self) -> Note:
        """What is kept out and noted, to stand first on whatever leaves the house; nothing where nothing is."""
        tags = tuple(TAGS[tag].lower() for tag in self.keeps_out)
        return note("limits.keeps_out", tags=tags, noted=self.noted_names) if tags or self.noted_names else NOTHING

    @property
    def noted_names(self) -> tuple[str, ...]:
        """Of what was noted, the foods of no list: looked for by name."""
        return tuple(words for words in self.noted if not allergen_named(words))

    def conflicts(self) -> list[Conflict]:
        return conflicts(list(self.plans), self.targets)

    def standing_targets(self) -> list[Target]:
        """The targets less those that gave way when a conflict was settled."""
        aside = set_aside(self.conflicts(), self.settled)
        return [target for target in self.targets if (owner_of(target), target.nutrient) not in aside]

    def gates(self, meal: str) -> list[Gate]:
        """What one serving is held against at a meal: worked out once, however often it is asked."""
        known: dict[str, list[Gate]] = self.__dict__.setdefault("_gates", {})
        if meal not in known:
            known[meal] = gates_for(self.standing_targets(), meal, self.shares, self.role, self.role_shares)
        return known[meal]

    def not_limited(self) -> list[tuple[str, NotLimited]]:
        """(plan key, what it would limit and does not, by this person's results), where no other target stands."""
        limited = {target.nutrient for target in self.standing_targets() if target.maximum is not None}
        free = [
            (key, each)
            for key, settings in self.plans.items()
            for each in PLANS[key].not_limited_of(self.facts, PLANS[key].choose(settings))
        ]
        return [(key, each) for key, each in free if each.nutrient not in limited]

    @property
    def label_region(self) -> str:
        """Whose rules claims and keeping are held to: theirs, else the first plan's label form that says "eu", else the US."""
        if self.region:
            return self.region
        return "eu" if any(settings.get("label") == "eu" for settings in self.plans.values()) else "us"

    @property
    def allergen_list(self) -> str:
        """Whose list of allergens counts, where a plan asks; empty where none does."""
        return self.list_of_allergens or next(
            (settings["list"] for settings in self.plans.values() if "list" in settings), ""
        )


def _plans_of_all(values: Sequence[Mapping[str, Mapping[str, str]]]) -> dict[str, dict[str, str]]:
    """Every plan once; where two follow one in different schools, the one that keeps more out."""
    found: dict[str, dict[str, str]] = {}
    for plans in values:
        for key, settings in plans.items():
            mine = {key: dict(settings)}
            if key not in found or len(avoids_of(mine)) > len(avoids_of({key: found[key]})):
                found.update(mine)
    return found


def _each_once(values: Sequence[Iterable[Any]]) -> tuple[Any, ...]:
    return tuple(dict.fromkeys(each for value in values for each in value))


def _tallies_of_all(values: Sequence[Iterable[Tally]]) -> tuple[Tally, ...]:
    return tuple({tally.key: tally for value in values for tally in value}.values())


def _smallest_shares(values: Sequence[Mapping[str, float]]) -> dict[str, float]:
    return {key: min(value[key] for value in values if key in value) for value in values for key in value}


def _region_of_all(values: Sequence[str]) -> str:
    return values[0] if len(set(values)) == 1 else ""


def _facts_of_all(values: Sequence[Facts]) -> Facts:
    return Facts(**{name: merge([getattr(each, name) for each in values]) for name, merge in MERGED_FACTS.items()})


#: Field of Eater -> how several people's are made one, the strictest of each. A test walks over the fields of both values.
#: Nothing is settled for everybody where one has settled it: a limit that gave way for one stands for the others.
_MERGED: Mapping[str, Callable[[Sequence[Any]], Any]] = {
    "facts": _facts_of_all,
    "plans": _plans_of_all,
    "targets": _each_once,
    "settled": lambda values: values[0] if all(each == values[0] for each in values) else {},
    "shares": _smallest_shares,
    "tallies": _tallies_of_all,
    "region": _region_of_all,
    "role": lambda values: values[0] if len(set(values)) == 1 else WHOLE,
    "role_shares": _smallest_shares,
    "noted": _each_once,
    "disliked": _each_once,
    "list_of_allergens": _region_of_all,
}


def merged(eaters: Sequence[Eater]) -> Eater:
    """Several people as one who may have only what each of them may: the strictest of everything known of them.

    The list of allergens that counts is the EU's only where it is for all of them: the US's names more. Nobody is somebody
    without limits.
    """
    if not eaters:
        return Eater()
    values = {each.name: _MERGED[each.name]([getattr(eater, each.name) for eater in eaters]) for each in fields(Eater)}
    lists = {eater.allergen_list or "us" for eater in eaters}
    return Eater(**values | {"list_of_allergens": "eu" if lists == {"eu"} else "us"})
