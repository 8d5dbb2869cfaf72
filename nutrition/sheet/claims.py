"""What may be said of a dish: nutrient-content claims of the US and the EU, and the words of its title held to the
facts.

US: 21 CFR 101.13, 101.54, 101.60 to 101.62, per reference amount (here: the serving; per 50 g too when it is 30 g or
less); a serving of 6 oz (170 g) or more is a main dish, whose "low" claims go by 100 g. EU: Regulation 1924/2006,
Annex, per 100 g of the dish as eaten. All from memory of the documents named.
"""

import functools
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from nutrition.dish.cooking import CookedWeight
from nutrition.dish.line import Line
from nutrition.food.table import foods, remembered
from nutrition.food.tags import CONTAINS, TAGS
from nutrition.limits.avoid import find
from nutrition.limits.gates import gates_for
from nutrition.limits.plans import PLANS, Facts, Plan, targets_for
from nutrition.limits.plans.common import Claimed
from nutrition.notes import Note, note
from nutrition.sheet.analysis import Analysis
from nutrition.sheet.cautions import cautions_for, words_of
from nutrition.sheet.verdicts import OPEN, SHUT, judge
from nutrition.tables import pattern, read_table

US = {
    "sodium": "21 CFR 101.61",
    "fat": "21 CFR 101.62",
    "energy": "21 CFR 101.60",
    "source": "21 CFR 101.54",
}
EU = "Regulation (EC) 1924/2006, Annex"
MAIN_DISH_G, MAIN_DISH_PART_G, SMALL_SERVING_G = 170.0, 40.0, 30.0
#: The four groups of foods a main dish is made of, each a pattern of patterns.tsv.
FOOD_GROUPS = ("group_grain", "group_produce", "group_dairy", "group_protein")


@remembered
def _group_of(food_id: str) -> str:
    category = foods().by_id(food_id).category
    return next((group for group in FOOD_GROUPS if pattern(group).search(category)), "")


@dataclass(frozen=True, slots=True)
class Serving:
    """What a claim is held to. `cooked`: the weight of one serving as eaten, as an interval; `allergen_list`: whose list counts."""

    lines: Sequence[Line]
    analysis: Analysis
    cooked: CookedWeight
    title: str = ""
    notes: str = ""
    allergen_list: str = ""

    def per_serving(self, key: str) -> tuple[float, float]:
        return self.analysis.interval(key)

    def per_100g(self, key: str) -> tuple[float, float]:
        """Bounds: the least over the heaviest serving, the most over the lightest."""
        least, most = self.analysis.interval(key)
        if self.cooked.least <= 0:
            return 0.0, float("inf")
        return 100 * least / self.cooked.most, 100 * most / self.cooked.least

    @property
    def is_main_dish(self) -> bool:
        """6 oz or more, with at least 40 g each of foods of two of the four groups (21 CFR 101.13(m))."""
        if self.cooked.likely < MAIN_DISH_G:
            return False
        whole = sum(line.span.likely for line in self.lines)
        share = self.analysis.serving_grams / whole if whole else 0.0
        grams: dict[str, float] = {}
        for line in self.lines:
            if line.food_id and (group := _group_of(line.food_id)):
                grams[group] = max(grams.get(group, 0.0), line.span.likely * share)
        return sum(most >= MAIN_DISH_PART_G for most in grams.values()) >= 2

    def carriers(self, key: str) -> tuple[int, ...]:
        """Lines that bring a fifth or more of a nutrient, the largest first, and those where it is unknown."""
        shares = self.analysis.shares(key)
        order = sorted(range(len(shares)), key=lambda i: -shares[i])
        most = [i for i in order if shares[i] >= 0.2]
        return tuple(dict.fromkeys([*most, *(self.analysis.unknown_lines(key) if not most else [])]))


@dataclass(frozen=True, slots=True)
class Claim:
    """A claim held against the facts. `holds` None: it cannot be told. `lines` (from 0) break it or leave it open."""

    key: str
    words: str
    holds: bool | None
    reasons: tuple[Note, ...]
    source: str
    lines: tuple[int, ...] = ()

    @property
    def why(self) -> str:
        return "; ".join(map(str, self.reasons))


@dataclass(frozen=True, slots=True)
class Limit:
    """One threshold. `below`: strictly; `at_least`: the claim asks for more, not less."""

    nutrient: str
    limit: float
    basis: str
    below: bool = False
    at_least: bool = False

    def met(self, bounds: tuple[float, float]) -> bool | None:
        """True or False when both bounds agree, else None."""
        verdicts = {self._met(side) for side in bounds}
        return verdicts.pop() if len(verdicts) == 1 else None

    def _met(self, amount: float) -> bool:
        if self.at_least:
            return amount >= self.limit * (1 - 1e-9)
        return amount < self.limit if self.below else amount <= self.limit * (1 + 1e-9)

    def words(self, amount: float) -> Note:
        """An amount beside what is asked."""
        asked = "at_least" if self.at_least else "less_than" if self.below else "at_most"
        values = {"nutrient": self.nutrient, "amount": amount, "basis": self.basis, "limit": self.limit}
        return note(f"sheet.{asked}_is_asked", **values)


SERVING, GRAMS = "a serving", "per 100 g"
#: US claims: key -> (limits of a single food per reference amount, limits of a main dish, source).
US_CLAIMS: dict[str, tuple[tuple[Limit, ...], tuple[Limit, ...], str]] = {
    "sodium-free": ((Limit("sodium_mg", 5, SERVING, True),), (Limit("sodium_mg", 5, SERVING, True),), US["sodium"]),
    "very-low-sodium": ((Limit("sodium_mg", 35, SERVING),), (Limit("sodium_mg", 35, GRAMS),), US["sodium"]),
    "low-sodium": ((Limit("sodium_mg", 140, SERVING),), (Limit("sodium_mg", 140, GRAMS),), US["sodium"]),
    "fat-free": ((Limit("fat_g", 0.5, SERVING, True),), (Limit("fat_g", 0.5, SERVING, True),), US["fat"]),
    "low-fat": ((Limit("fat_g", 3, SERVING),), (Limit("fat_g", 3, GRAMS),), US["fat"]),
    "low-saturated-fat": ((Limit("saturated_fat_g", 1, SERVING),), (Limit("saturated_fat_g", 1, GRAMS),), US["fat"]),
    "low-cholesterol": (
        (Limit("cholesterol_mg", 20, SERVING), Limit("saturated_fat_g", 2, SERVING)),
        (Limit("cholesterol_mg", 20, GRAMS), Limit("saturated_fat_g", 2, GRAMS)),
        US["fat"],
    ),
    "calorie-free": (
        (Limit("energy_kcal", 5, SERVING, True),),
        (Limit("energy_kcal", 5, SERVING, True),),
        US["energy"],
    ),
    "low-calorie": ((Limit("energy_kcal", 40, SERVING),), (Limit("energy_kcal", 120, GRAMS),), US["energy"]),
    "sugar-free": ((Limit("sugars_g", 0.5, SERVING, True),), (Limit("sugars_g", 0.5, SERVING, True),), US["energy"]),
    "source-of-fiber": ((Limit("fiber_g", 2.8, SERVING, at_least=True),),) * 2 + (US["source"],),
    "high-fiber": ((Limit("fiber_g", 5.6, SERVING, at_least=True),),) * 2 + (US["source"],),
    "high-protein": ((Limit("protein_g", 10, SERVING, at_least=True),),) * 2 + (US["source"],),
    "lactose-free": ((Limit("lactose_g", 0.1, GRAMS),),) * 2 + ("common practice: under 0.1 g per 100 g",),
    "low-protein": ((Limit("protein_g", 1, GRAMS),),) * 2 + ("common practice: an exchange of 1 g per 100 g",),
    "low-potassium": ((Limit("potassium_mg", 200, SERVING),),) * 2 + ("common practice: 200 mg a serving",),
    "low-phosphorus": ((Limit("phosphorus_mg", 100, SERVING),),) * 2 + ("common practice: 100 mg a serving",),
}


#: Share of energy from a nutrient that a claim may not pass: (single food, main dish). 21 CFR 101.62.
US_ENERGY_SHARE = {"low-saturated-fat": ("saturated_fat_g", 0.15, 0.10), "low-fat": ("fat_g", None, 0.30)}
EU_CLAIMS: dict[str, tuple[Limit, ...]] = {
    "sodium-free": (Limit("sodium_mg", 5, GRAMS),),
    "very-low-sodium": (Limit("sodium_mg", 40, GRAMS),),
    "low-sodium": (Limit("sodium_mg", 120, GRAMS),),
    "fat-free": (Limit("fat_g", 0.5, GRAMS),),
    "low-fat": (Limit("fat_g", 3, GRAMS),),
    "low-saturated-fat": (Limit("saturated_fat_g", 1.5, GRAMS),),
    "low-calorie": (Limit("energy_kcal", 40, GRAMS),),
    "calorie-free": (Limit("energy_kcal", 4, GRAMS),),
    "sugar-free": (Limit("sugars_g", 0.5, GRAMS),),
    "low-sugar": (Limit("sugars_g", 5, GRAMS),),
    "source-of-fiber": (Limit("fiber_g", 3, GRAMS, at_least=True),),
    "high-fiber": (Limit("fiber_g", 6, GRAMS, at_least=True),),
}
#: What serves as well: so many grams of fiber per 100 kcal.
EU_PER_100_KCAL = {"source-of-fiber": 1.5, "high-fiber": 3.0}
#: Share of energy from protein the EU asks for (12 % source, 20 % high) and allows from saturates (10 %).
EU_ENERGY_SHARE = {
    "low-saturated-fat": ("saturated_fat_g", 9, 0.10, False),
    "high-protein": ("protein_g", 4, 0.20, True),
}


def _all(verdicts: Sequence[bool | None]) -> bool | None:
    if False in verdicts:
        return False
    return None if None in verdicts else True


def _energy_share(
    serving: Serving, nutrient: str, kcal_per_g: float, share: float, at_least: bool = False
) -> tuple[bool | None, Note]:
    """(met or None, words) of a nutrient's share of the energy."""
    energy, own = serving.per_serving("energy_kcal"), serving.per_serving(nutrient)
    low = kcal_per_g * own[0] / energy[1] if energy[1] > 0 else 0.0
    high = kcal_per_g * own[1] / energy[0] if energy[0] > 0 else float("inf")
    met = Limit(nutrient, share, "of energy", at_least=at_least).met((low, high))
    likely = kcal_per_g * serving.analysis.amount(nutrient) / max(serving.analysis.amount("energy_kcal"), 1e-9)
    code = "sheet.energy_at_least" if at_least else "sheet.energy_at_most"
    return met, note(code, nutrient=nutrient, likely=likely, share=share)


def _fiber_per_100_kcal(serving: Serving, asked: float) -> tuple[bool | None, Note]:
    fiber, energy = serving.per_serving("fiber_g"), serving.per_serving("energy_kcal")
    bounds = (100 * fiber[0] / max(energy[1], 1e-9), 100 * fiber[1] / max(energy[0], 1e-9))
    limit = Limit("fiber_g", asked, "per 100 kcal", at_least=True)
    likely = 100 * serving.analysis.amount("fiber_g") / max(serving.analysis.amount("energy_kcal"), 1e-9)
    return limit.met(bounds), limit.words(likely)


def content_claim(key: str, serving: Serving, region: str = "us") -> Claim:
    """One nutrient-content claim of the US or the EU. Raises KeyError for a claim the region does not know."""
    if region == "eu":
        limits, source = EU_CLAIMS.get(key, ()), EU
        shares = [EU_ENERGY_SHARE[key]] if key in EU_ENERGY_SHARE else []
        if not limits and not shares:
            raise KeyError(key)
    else:
        single, main, source = US_CLAIMS[key]
        is_main = serving.is_main_dish
        limits = main if is_main else single
        nutrient, single_share, main_share = US_ENERGY_SHARE.get(key, ("", None, None))
        share = main_share if is_main else single_share
        shares = [(nutrient, 9, share, False)] if share else []
    met: list[bool | None] = []
    words: list[Note] = []
    carriers: Sequence[int] = ()
    for limit in limits:
        met.append(
            limit.met(
                serving.per_serving(limit.nutrient) if limit.basis == SERVING else serving.per_100g(limit.nutrient)
            )
        )
        amount = serving.analysis.amount(limit.nutrient)
        words.append(limit.words(amount if limit.basis == SERVING else 100 * amount / max(serving.cooked.likely, 1e-9)))
        small = (
            region == "us"
            and limit.basis == SERVING
            and not limit.at_least
            and serving.cooked.likely <= SMALL_SERVING_G
        )
        if small and "free" not in key:
            least, most = serving.per_100g(limit.nutrient)
            met.append(limit.met((least / 2, most / 2)))
            words.append(note("sheet.per_50_g"))
    for nutrient, factor, share, at_least in shares:
        verdict, said = _energy_share(serving, nutrient, factor, share, at_least)
        met.append(verdict)
        words.append(said)
    holds = _all(met)
    has_energy = serving.analysis.amount("energy_kcal") > 0
    if region == "eu" and key in EU_PER_100_KCAL and holds is not True and has_energy:
        other, said = _fiber_per_100_kcal(serving, EU_PER_100_KCAL[key])
        holds = True if other else None if None in (holds, other) else False
        words.append(said)
    if holds is not True:
        main_nutrient = limits[0].nutrient if limits else shares[0][0]
        carriers = serving.carriers(main_nutrient)
    return Claim(key, key.replace("-", " "), holds, tuple(words), source, tuple(carriers))


def comparative(nutrient: str, before: float, after: float, region: str = "us") -> tuple[str, ...]:
    """Words a change earns on the same weight: US reduced −25 %, light (sodium) −50 %; EU −30 %, sodium −25 %.

    >>> comparative("sodium_mg", 800, 390), comparative("fat_g", 10, 7.2, "eu")
    (('reduced', 'light in sodium'), ())
    """
    if before <= 0:
        return ()
    less = 1 - after / before
    asked = 0.25 if region == "us" or nutrient == "sodium_mg" else 0.30
    found: tuple[str, ...] = ("reduced",) if less >= asked - 1e-9 else ()
    if region == "us" and nutrient == "sodium_mg" and less >= 0.5 - 1e-9:
        found += ("light in sodium",)
    return found


_REFERENCE = Facts(weight_kg=70, energy_kcal=2000)


@functools.cache
def _claim_words() -> list[tuple[str, re.Pattern[str], tuple[str, ...]]]:
    return [
        (row.text("key"), row.pattern("words", re.I), row.listed("free_of", TAGS))
        for row in read_table("claim_words.tsv")
    ]


def claims_in(serving: Serving, region: str = "us") -> list[Claim]:
    """Claims made in the dish's title and notes, each held against the facts.

    "Unsalted" is a claim in a title only: notes may speak of unsalted butter on the side.
    """
    title = re.sub(r"\bunsalted\b", "no salt added", serving.title, flags=re.I)
    text = f"{title}\n{serving.notes}"
    found = []
    for key, words, tags in _claim_words():
        if match := words.search(text):
            claim = _free_claim(key, tags, serving) if tags else _content_claim_said(key, serving, region)
            found.append(_said(claim, match[0]))
    claims_of_plans = ((plan, claimed) for plan in PLANS.values() for claimed in plan.claims)
    found += [
        _said(_plan_claim(claimed, plan, serving), match[0])
        for plan, claimed in claims_of_plans
        if (match := re.search(claimed.words, text, re.I))
    ]
    return found + _about_additions(serving, text)


def _content_claim_said(key: str, serving: Serving, region: str) -> Claim:
    """Held to the region's rule; to the other's where only that one knows the claim."""
    known = key in (EU_CLAIMS | EU_ENERGY_SHARE if region == "eu" else US_CLAIMS)
    return content_claim(key, serving, region if known else "eu" if key in EU_CLAIMS else "us")


def _said(claim: Claim, words: str) -> Claim:
    return replace(claim, words=" ".join(words.lower().split()))


def _free_claim(key: str, tags: Sequence[str], serving: Serving) -> Claim:
    findings = find(serving.lines, tags, serving.allergen_list)
    source = "EU 1169/2011 Annex II; FALCPA 2004, FASTER 2021; Codex Stan 118-1979; kitchen words: common practice"
    if not findings:
        return Claim(key, key, True, (note("sheet.nothing_listed"),), source)
    holds = False if any(finding.verdict == CONTAINS for finding in findings) else None
    telling = [finding for finding in findings if holds is None or finding.verdict == CONTAINS]
    why = tuple(note("sheet.found", tag=f.tag, verdict=f.verdict, lines=_names(serving, f.lines)) for f in telling)
    return Claim(key, key, holds, why, source, tuple(sorted({i for finding in telling for i in finding.lines})))


def _names(serving: Serving, positions: Sequence[int]) -> tuple[str, ...]:
    return tuple(serving.lines[i].text for i in positions)


def _plan_claim(claimed: Claimed, plan: Plan, serving: Serving) -> Claim:
    """Held to the plan's gates for one serving at dinner, to what it keeps out and to its reminders of single foods.

    Body weight 70 kg and 2,000 kcal stand in for nobody.
    """
    targets = [
        replace(target, minimum=None)
        for target in targets_for(plan.key, _REFERENCE, claimed.settings)
        if target.nutrient != "energy_kcal" and target.maximum is not None
    ]
    verdicts = judge(gates_for(targets), serving.analysis)
    source = f"plan {plan.key} at dinner, 70 kg and 2,000 kcal: common practice, no rule stands behind this word"
    shut = [v for v in verdicts if v.state == SHUT]
    telling = shut or [v for v in verdicts if v.state != OPEN]
    broken = _broken_beyond_numbers(claimed, plan, serving)
    holds = _all([broken.holds, False if shut else None if telling else True])
    lines = dict.fromkeys([*broken.lines, *(i for v in telling for i in serving.carriers(v.gate.nutrient))])
    why = tuple(
        note("sheet.amount_of", nutrient=v.gate.nutrient, amount=v.amount, limit=v.gate.high.limit)
        for v in (telling or ([] if broken.reasons else verdicts))
        if v.gate.high
    )
    return Claim(claimed.key, claimed.key, holds, (*broken.reasons, *why), source, tuple(lines))


def _broken_beyond_numbers(claimed: Claimed, plan: Plan, serving: Serving) -> Claim:
    """What a plan keeps out, and its reminders of single foods (star fruit, potassium chloride), held to a title."""
    kept_out = [avoid.tag for avoid in plan.avoids_of(plan.choose(claimed.settings))]
    claim = _free_claim(claimed.key, kept_out, serving) if kept_out else None
    met: list[bool | None] = [claim.holds] if claim else []
    reasons: list[Note] = list(claim.reasons) if claim and claim.holds is not True else []
    lines: list[int] = list(claim.lines) if claim else []
    limited = {target.nutrient for target in targets_for(plan.key, _REFERENCE, claimed.settings)}
    for caution in cautions_for(serving.lines, (plan.key,), limited):
        if caution.breaks and caution.lines:
            met.append(False if caution.breaks == "yes" else None)
            reasons.append(note("sheet.reminder_of", lines=_names(serving, caution.lines), text=caution.text))
            lines += caution.lines
    return Claim(claimed.key, claimed.key, _all(met), tuple(reasons), "", tuple(dict.fromkeys(lines)))


#: key -> (words, what brings it, source, the nutrient whose total the words say nothing of).
_ADDITIONS = {
    "no-salt-added": ("says_no_salt_added", "added_salt", US["sodium"], "sodium_mg"),
    "no-added-sugar": ("says_no_added_sugar", "sweeteners", f"{US['energy']}; {EU}", "sugars_g"),
}


def _about_additions(serving: Serving, text: str) -> list[Claim]:
    """ "No salt added" and "no added sugar": about what went in, not about the total."""
    found = []
    for key, (words, brings, source, nutrient) in _ADDITIONS.items():
        match = pattern(words).search(text)
        if not match:
            continue
        lines = tuple(i for i, line in enumerate(serving.lines) if _brings(line, brings))
        open_lines = tuple(i for i, line in enumerate(serving.lines) if line.sure == "check")
        why: tuple[Note, ...] = (
            note("sheet.not_the_total", nutrient=nutrient, amount=serving.analysis.amount(nutrient)),
        )
        if lines:
            why = (note("sheet.bring_it", lines=_names(serving, lines)), *why)
        holds = False if lines else None if open_lines else True
        found.append(Claim(key, match[0].lower(), holds, why, source, lines or open_lines))
    return found


def _brings(line: Line, brings: str) -> bool:
    """Whether a line brings what the claim says was not added; a food that itself says it was not does not.

    Read from the food where one is settled, from the words of the line as well where they hold.
    """
    words = pattern(f"without_{brings}").sub(" ", words_of(line))
    return bool(pattern(brings).search(words))
