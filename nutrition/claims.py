"""What may be said of a dish: nutrient-content claims of the US and the EU, and the words of its title held to the facts.

US: 21 CFR 101.13, 101.54, 101.60 to 101.62, per reference amount (here: the serving; per 50 g too when it is 30 g or
less); a serving of 6 oz (170 g) or more is a main dish, whose "low" claims go by 100 g. EU: Regulation 1924/2006,
Annex, per 100 g of the dish as eaten. All from memory of the documents named.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from .analysis import Analysis
from .avoid import CONTAINS, LISTS, find
from .cooking import CookedWeight
from .gates import OPEN, SHUT, gates_for, judge
from .nutrients import BY_KEY
from .plans import Facts, targets_for
from .recipe import Line

US = {
    "sodium": "21 CFR 101.61",
    "fat": "21 CFR 101.62",
    "energy": "21 CFR 101.60",
    "source": "21 CFR 101.54",
}
EU = "Regulation (EC) 1924/2006, Annex"
MAIN_DISH_G, SMALL_SERVING_G = 170.0, 30.0


@dataclass(frozen=True, slots=True)
class Dish:
    """What a claim is held to. `cooked`: the weight of one serving as eaten, as an interval."""

    lines: Sequence[Line]
    analysis: Analysis
    cooked: CookedWeight
    title: str = ""
    notes: str = ""

    def per_serving(self, key: str) -> tuple[float, float]:
        return self.analysis.interval(key)

    def per_100g(self, key: str) -> tuple[float, float]:
        """Bounds: the least over the heaviest serving, the most over the lightest."""
        least, most = self.analysis.interval(key)
        if self.cooked.least <= 0:
            return 0.0, float("inf")
        return 100 * least / self.cooked.most, 100 * most / self.cooked.least

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
    why: str
    source: str
    lines: tuple[int, ...] = ()


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

    def words(self, amount: float) -> str:
        nutrient = BY_KEY[self.nutrient]
        sign = "at least" if self.at_least else "less than" if self.below else "at most"
        shown = f"{amount:,.3g}"
        return f"{nutrient.label.lower()} {shown} {nutrient.unit} {self.basis}, {sign} {self.limit:g} is asked"


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
    "calorie-free": ((Limit("energy_kcal", 5, SERVING, True),), (Limit("energy_kcal", 5, SERVING, True),), US["energy"]),
    "low-calorie": ((Limit("energy_kcal", 40, SERVING),), (Limit("energy_kcal", 120, GRAMS),), US["energy"]),
    "sugar-free": ((Limit("sugars_g", 0.5, SERVING, True),), (Limit("sugars_g", 0.5, SERVING, True),), US["energy"]),
    "source-of-fiber": ((Limit("fiber_g", 2.8, SERVING, at_least=True),),) * 2 + (US["source"],),
    "high-fiber": ((Limit("fiber_g", 5.6, SERVING, at_least=True),),) * 2 + (US["source"],),
    "high-protein": ((Limit("protein_g", 10, SERVING, at_least=True),),) * 2 + (US["source"],),
}  # fmt: skip
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
#: Share of energy from protein the EU asks for (12 % source, 20 % high) and allows from saturates (10 %).
EU_ENERGY_SHARE = {
    "low-saturated-fat": ("saturated_fat_g", 9, 0.10, False),
    "high-protein": ("protein_g", 4, 0.20, True),
}


def _all(verdicts: Sequence[bool | None]) -> bool | None:
    if False in verdicts:
        return False
    return None if None in verdicts else True


def _energy_share(dish: Dish, nutrient: str, kcal_per_g: float, share: float, at_least: bool = False):
    """(met or None, words) of a nutrient's share of the energy."""
    energy, own = dish.per_serving("energy_kcal"), dish.per_serving(nutrient)
    low = kcal_per_g * own[0] / energy[1] if energy[1] > 0 else 0.0
    high = kcal_per_g * own[1] / energy[0] if energy[0] > 0 else float("inf")
    met = Limit(nutrient, share, "of energy", at_least=at_least).met((low, high))
    likely = kcal_per_g * dish.analysis.amount(nutrient) / max(dish.analysis.amount("energy_kcal"), 1e-9)
    sign = "at least" if at_least else "at most"
    return met, f"{BY_KEY[nutrient].label.lower()} is {likely:.0%} of the energy, {sign} {share:.0%} is asked"


def content_claim(key: str, dish: Dish, region: str = "us") -> Claim:
    """One nutrient-content claim of the US or the EU. Raises KeyError for a claim the region does not know."""
    if region == "eu":
        limits, source = EU_CLAIMS.get(key, ()), EU
        shares = [EU_ENERGY_SHARE[key]] if key in EU_ENERGY_SHARE else []
        if not limits and not shares:
            raise KeyError(key)
    else:
        single, main, source = US_CLAIMS[key]
        is_main = dish.cooked.likely >= MAIN_DISH_G
        limits = main if is_main else single
        nutrient, single_share, main_share = US_ENERGY_SHARE.get(key, ("", None, None))
        share = main_share if is_main else single_share
        shares = [(nutrient, 9, share, False)] if share else []
    met, words, carriers = [], [], []
    for limit in limits:
        met.append(
            limit.met(dish.per_serving(limit.nutrient) if limit.basis == SERVING else dish.per_100g(limit.nutrient))
        )
        amount = dish.analysis.amount(limit.nutrient)
        words.append(limit.words(amount if limit.basis == SERVING else 100 * amount / max(dish.cooked.likely, 1e-9)))
        small = (
            region == "us" and limit.basis == SERVING and not limit.at_least and dish.cooked.likely <= SMALL_SERVING_G
        )
        if small and "free" not in key:
            met.append(limit.met(tuple(side / 2 for side in dish.per_100g(limit.nutrient))))
            words.append("per 50 g too, because the serving is 30 g or less")
    for nutrient, factor, share, at_least in shares:
        verdict, said = _energy_share(dish, nutrient, factor, share, at_least)
        met.append(verdict)
        words.append(said)
    holds = _all(met)
    if holds is not True:
        main_nutrient = limits[0].nutrient if limits else shares[0][0]
        carriers = dish.carriers(main_nutrient)
    return Claim(key, key.replace("-", " "), holds, "; ".join(words), source, tuple(carriers))


def comparative(nutrient: str, before: float, after: float, region: str = "us") -> tuple[str, ...]:
    """Words a change earns on the same weight: US reduced −25 %, light (sodium) −50 %; EU −30 %, sodium −25 %.

    >>> comparative("sodium_mg", 800, 390), comparative("fat_g", 10, 7.2, "eu")
    (('reduced', 'light in sodium'), ())
    """
    if before <= 0:
        return ()
    less = 1 - after / before
    asked = 0.25 if region == "us" or nutrient == "sodium_mg" else 0.30
    found = ("reduced",) if less >= asked - 1e-9 else ()
    if region == "us" and nutrient == "sodium_mg" and less >= 0.5 - 1e-9:
        found += ("light in sodium",)
    return found


_CONTENT_WORDS = (
    ("very-low-sodium", r"very[- ]low[- ](?:sodium|salt)"),
    ("low-sodium", r"(?<!very )(?<!very-)low(?:er)?[- ](?:in )?(?:sodium|salt)"),
    ("sodium-free", r"(?:sodium|salt)[- ]free|zero (?:sodium|salt)|free of (?:sodium|salt)"),
    ("fat-free", r"fat[- ]free|non[- ]?fat\b|zero fat"),
    ("low-saturated-fat", r"low[- ](?:in )?(?:saturated(?: fat)?|saturates)"),
    ("low-fat", r"low[- ](?:in )?fat"),
    ("low-cholesterol", r"low[- ](?:in )?cholesterol"),
    ("low-calorie", r"low[- ](?:in )?(?:calorie|cal\b|energy)"),
    ("sugar-free", r"(?<!added )sugar[- ]?free|free of sugar|zero sugar|sugarless"),
    ("low-sugar", r"low[- ](?:in )?sugar"),
    ("high-fiber", r"(?:high|rich)[- ](?:in )?fib(?:er|re)|fib(?:er|re)[- ]rich"),
    ("source-of-fiber", r"(?:good )?source of fib(?:er|re)"),
    ("high-protein", r"(?:high|rich)[- ](?:in )?protein|protein[- ](?:rich|packed)"),
)
_FREE_WORDS = (
    ("gluten-free", r"gluten[- ]?free|free of gluten|\bgf\b|c(?:o)?eliac[- ](?:safe|friendly)", ("gluten",)),
    ("wheat-free", r"wheat[- ]?free", ("wheat",)),
    ("dairy-free", r"(?:dairy|milk)[- ]?free|non[- ]?dairy|free of (?:dairy|milk)", ("milk",)),
    ("egg-free", r"egg[- ]?free|eggless", ("egg",)),
    ("nut-free", r"(?<!pea)nut[- ]?free", ("tree_nut", "peanut")),
    ("peanut-free", r"peanut[- ]?free", ("peanut",)),
    ("soy-free", r"soya?[- ]?free", ("soy",)),
    ("fish-free", r"fish[- ]?free", ("fish", "crustacean_shellfish", "mollusc")),
    ("sesame-free", r"sesame[- ]?free", ("sesame",)),
    ("vegan", r"\bvegan\b|plant[- ]based", ("meat", "fish", "crustacean_shellfish", "mollusc", "gelatin", "milk", "egg", "honey")),
    ("vegetarian", r"\bvegetarian\b|\bveggie\b|meat[- ]?(?:free|less)", ("meat", "fish", "crustacean_shellfish", "mollusc", "gelatin")),
    ("allergen-free", r"allergen[- ]free|allergy[- ](?:safe|friendly|free)", LISTS["us"]),
    ("alcohol-free", r"alcohol[- ]free", ("alcohol",)),
)  # fmt: skip
#: Plans a "friendly" word is held to: the plan's gates at dinner, for nobody in particular.
_PLAN_WORDS = (
    ("kidney-friendly", r"(?:kidney|renal|ckd)[- ](?:friendly|safe|diet)", "kidney", {}),
    ("diabetic-friendly", r"diabet(?:ic|es)[- ](?:friendly|safe)|for diabetics", "diabetes", {}),
    ("heart-healthy", r"heart[- ](?:healthy|smart|friendly)", "heart", {}),
    ("low-fodmap", r"low[- ]fodmap|fodmap[- ](?:friendly|safe)", "low-fodmap", {}),
    ("keto", r"\bketo\b|ketogenic", "very-low-carb", {"limit": "50"}),
    ("low-carb", r"low[- ]carb(?:ohydrate)?s?\b", "low-carb", {}),
)
_REFERENCE = Facts(weight_kg=70, energy_kcal=2000)
_ADDED_SALT = re.compile(
    r"^salt,|with salt|salted|salt added|brine|soy sauce|stock cube|bouillon|cured|pickles|feta|bacon|\bham\b|soup|broth|stock",
    re.I,
)
_WITHOUT_SALT = re.compile(r"no salt added|without (?:added )?salt|unsalted|no added salt|salt free", re.I)
_SWEETENERS = re.compile(r"^sugars?\b|^honey|^syrup|^molasses|agave|^sweetener|juice concentrate|^dates", re.I)


def claims_in(dish: Dish, region: str = "us") -> list[Claim]:
    """Claims made in the dish's title and notes, each held against the facts.

    "Unsalted" is a claim in a title only: notes may speak of unsalted butter on the side.
    """
    title = re.sub(r"\bunsalted\b", "no salt added", dish.title, flags=re.I)
    text = f"{title}\n{dish.notes}"
    found = []
    for key, words in _CONTENT_WORDS:
        match = re.search(words, text, re.I)
        if match:
            known = key in (EU_CLAIMS | EU_ENERGY_SHARE if region == "eu" else US_CLAIMS)
            claim = content_claim(key, dish, region if known else "eu" if key in EU_CLAIMS else "us")
            found.append(_said(claim, match[0]))
    for key, words, tags in _FREE_WORDS:
        match = re.search(words, text, re.I)
        if match:
            found.append(_said(_free_claim(key, tags, dish), match[0]))
    for key, words, plan, schools in _PLAN_WORDS:
        match = re.search(words, text, re.I)
        if match:
            found.append(_said(_plan_claim(key, plan, schools, dish), match[0]))
    return found + _about_additions(dish, text)


def _said(claim: Claim, words: str) -> Claim:
    return Claim(claim.key, " ".join(words.lower().split()), claim.holds, claim.why, claim.source, claim.lines)


def _free_claim(key: str, tags: Sequence[str], dish: Dish) -> Claim:
    findings = find(dish.lines, tags)
    source = "EU 1169/2011 Annex II; FALCPA 2004, FASTER 2021; Codex Stan 118-1979; kitchen words: common practice"
    if not findings:
        return Claim(key, key, True, "nothing listed found; the labels decide", source)
    holds = False if any(finding.verdict == CONTAINS for finding in findings) else None
    telling = [finding for finding in findings if holds is None or finding.verdict == CONTAINS]
    why = "; ".join(
        f"{finding.label}: {finding.verdict} ({', '.join(_names(dish, finding.lines))})" for finding in telling
    )
    return Claim(key, key, holds, why, source, tuple(sorted({i for finding in telling for i in finding.lines})))


def _names(dish: Dish, positions: Sequence[int]) -> list[str]:
    return [dish.lines[i].text for i in positions]


def _plan_claim(key: str, plan: str, schools: dict[str, str], dish: Dish) -> Claim:
    """Held to the plan's gates for one serving at dinner; body weight 70 kg and 2,000 kcal stand in for nobody."""
    targets = [
        t for t in targets_for(plan, _REFERENCE, schools) if t.nutrient != "energy_kcal" and t.maximum is not None
    ]
    verdicts = judge(gates_for([_only_maximum(t) for t in targets]), dish.analysis)
    source = f"plan {plan} at dinner, 70 kg and 2,000 kcal: common practice, no rule stands behind this word"
    shut = [v for v in verdicts if v.state == SHUT]
    telling = shut or [v for v in verdicts if v.state != OPEN]
    lines = dict.fromkeys(i for v in telling for i in dish.carriers(v.gate.nutrient))
    words = [
        f"{BY_KEY[v.gate.nutrient].label.lower()} {BY_KEY[v.gate.nutrient].show(v.amount)} of {BY_KEY[v.gate.nutrient].show(v.gate.high.limit)}"
        for v in (telling or verdicts)
    ]
    holds = False if shut else None if telling else True
    return Claim(key, key, holds, "; ".join(words), source, tuple(lines))


def _only_maximum(target):
    return type(target)(target.nutrient, None, target.maximum, target.scope, target.plan, target.source, target.meal)


def _about_additions(dish: Dish, text: str) -> list[Claim]:
    """ "No salt added" and "no added sugar": about what went in, not about the total."""
    found = []
    for key, words, hidden, source, nutrient in (
        ("no-salt-added", r"no[- ](?:salt[- ]added|added[- ]salt)|without (?:added )?salt", _ADDED_SALT, US["sodium"], "sodium_mg"),
        ("no-added-sugar", r"no[- ](?:added[- ]sugars?|sugar[- ]added)|without (?:added )?sugar|refined[- ]sugar[- ]free|no refined sugar", _SWEETENERS, f"{US['energy']}; {EU}", "sugars_g"),
    ):  # fmt: skip
        match = re.search(words, text, re.I)
        if not match:
            continue
        plain = [_WITHOUT_SALT.sub("", line.description or "") for line in dish.lines]
        is_without = [bool(line.description and _WITHOUT_SALT.search(line.description)) for line in dish.lines]
        lines = tuple(
            i for i, name in enumerate(plain) if hidden.search(name) and not (is_without[i] and key == "no-salt-added")
        )
        open_lines = tuple(i for i, line in enumerate(dish.lines) if line.sure == "check")
        total = BY_KEY[nutrient].show(dish.analysis.amount(nutrient))
        why = f"it says nothing of the total: a serving holds {total} {BY_KEY[nutrient].label.lower()}"
        if lines:
            why = f"{', '.join(_names(dish, lines))} bring it; {why}"
        holds = False if lines else None if open_lines else True
        found.append(Claim(key, match[0].lower(), holds, why, source, lines or open_lines))
    return found
