"""Food words -> food, with how sure.

Curated cooks' names come first (tables/cooks_names.tsv, and a practice's own corrections before
them), then token similarity over the food table. What a diet depends on and the words leave open is
never "sure": such names carry the question to ask.
"""

import functools
import math
import re
from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from rapidfuzz import fuzz, process

from nutrition.food.names import normalized
from nutrition.food.table import RETIRED, Food, Foods, foods
from nutrition.notes import NOTHING, Note, note, said
from nutrition.reading.promises import TOPICS
from nutrition.tables import Row, pattern, read_table, words_of


@dataclass(frozen=True, slots=True)
class Match:
    """A food for some words. `row` is -1 when nothing fits. `ask`: what the words leave open; `name`: the cook's
    name found.

    `is_of_a_kind`: what is open is only which of the foods named it is (`row` and `others`), never something else. `about`:
    promises.TOPICS of `ask`.
    """

    row: int
    sure: str
    why: Note
    ask: Note = NOTHING
    others: tuple[int, ...] = ()
    name: str = ""
    is_of_a_kind: bool = False
    about: frozenset[str] = frozenset()


#: What the questions are about that are asked of the fresh or dry food where the words say a can.
_OF_A_CAN = frozenset({"can", "dry", "salt", "sweet"})
_LEAN_GRADES = {"beef": (70, 75, 80, 85, 90, 93, 95, 97), "turkey": (85, 93, 99)}


def _grade(words: str) -> str:
    """Bring "88% lean" or "12% fat" mince to the nearest grade the table has."""
    meat = next((m for m in _LEAN_GRADES if m in words), None)
    found = re.search(r"(\d{1,2})% (lean|fat)\b", words) or re.search(r"\b(lean) (\d{1,2})%", words)
    if not meat or "ground" not in words or not found:
        return words
    percent = int(next(g for g in found.groups() if g.isdigit()))
    lean = percent if percent > 50 else 100 - percent
    nearest = min(_LEAN_GRADES[meat], key=lambda grade: abs(grade - lean))
    return words.replace(found[0], f"{nearest}% lean")


def in_front(bound: Collection[str], name: str) -> str:
    """The words of a food with those in front that bind it, however the line has them.

    >>> in_front(("unsalted",), "butter"), in_front(("gluten", "free"), "gluten-free pasta")
    ('unsalted butter', 'gluten free pasta')
    """
    words = normalized(name)
    have = words.split()
    return normalized(" ".join([*(token for token in bound if token not in have), words]))


def in_full(bound: Collection[str], name: str) -> str:
    """A name with what binds it in front, mince at a grade the table has.

    >>> in_full((), "ground beef, 88% lean")
    'ground beef 90% lean'
    """
    return _grade(in_front(bound, name))


#: Behind these words stands what a food lies in or on.
LIES_IN = ("in", "with", "from", "on")


def head_of(tokens: Sequence[str]) -> str:
    """What the words name: the last of them, or what stands before what it lies in or on ("anchovy in oil", "burger on bun")."""
    inside = next((at for at, token in enumerate(tokens) if at and token in LIES_IN), len(tokens))
    return tokens[inside - 1]


#: Ways of cooking in water that a cook's name of the cooked food may leave unsaid.
_COOKED_IN_WATER = frozenset(("boiled", "steamed", "simmered"))


@dataclass(frozen=True, slots=True)
class _Name:
    tokens: tuple[str, ...]
    row: int
    sure: str
    ask: Note
    others: tuple[int, ...]
    about: frozenset[str]

    @property
    def name(self) -> str:
        return " ".join(self.tokens)


def _tokens(names: str) -> list[tuple[str, ...]]:
    """The words of each name. Raises ValueError for a name without any."""
    found = [tuple(normalized(name).split()) for name in names.split("|")]
    if not all(found):
        raise ValueError(names)
    return found


class Matcher:
    """Names and food table, indexed. One a process: see `matcher()`."""

    def __init__(self, table: Foods, names: list[Row]):
        self.table = table
        self._names: list[_Name] = []
        self._by_token: dict[str, list[int]] = defaultdict(list)
        self._exact: dict[frozenset[str], int] = {}
        self._heads: set[str] = set()
        for row in names:
            self._add(row)

    @functools.cached_property
    def _search(self) -> "_Search":
        return _Search(self.table)

    def _rows(self, descriptions: str) -> tuple[int, ...]:
        return tuple(self.table.by_description(each).row for each in descriptions.split(" | ") if each)

    def _add(self, row: Row) -> None:
        food = row.as_("food", self.table.by_description, "a food of the table").row
        sure, about = row.one_of("sure", ("sure", "likely", "check")), row.words("about", TOPICS)
        others = row.as_("or", self._rows, "foods of the table with “ | ” between")
        for tokens in row.as_("names", _tokens, "what cooks call it, with “|” between"):
            position = len(self._names)
            self._names.append(_Name(tokens, food, sure, said(row["ask"]), others, about))
            for token in set(tokens):
                self._by_token[token].append(position)
            self._exact.setdefault(frozenset(tokens), position)
            self._heads.add(tokens[-1])

    def match(
        self, name: str, hints: str = "", aliases: Mapping[str, str] | None = None, bound: Sequence[str] = ()
    ) -> Match:
        """The food for `name`. `hints`: preparation, comment, unit. `aliases`: normalized words -> food id.

        `bound`: words of the line that bind the food wherever they stand (promises.Said.tokens).

        >>> m = matcher().match("unsalted butter")
        >>> foods().descriptions[m.row], m.sure
        ('Butter, without salt', 'sure')
        """
        words = in_full(bound, name)
        hint_words = _grade(" ".join(dict.fromkeys(normalized(f"{name} {hints}").split())))
        states = tuple(w for w in hint_words.split() if w in words_of("state") or re.fullmatch(r"\d+%", w))
        if "rinsed" in states and "canned" in states and "drained" not in states:
            states = (*states, "drained")  # what comes out of a can is not rinsed with its liquid
        binding = frozenset(bound) - {head_of(normalized(name).split() or [""])}
        found = self._match(words, states, binding)
        if aliases:
            for key in dict.fromkeys((f"{words} {' '.join(states)}".strip(), words)):
                if key in aliases and foods().has_id(aliases[key]):
                    return self._as_chosen(foods().by_id(aliases[key]).row, key, found)
        if _COOKED_IN_WATER & set(states) - set(found.name.split()) and "cooked" not in states:
            # Boiled rice is cooked rice, where no cook's name says how.
            cooked = self._match(words, (*states, "cooked"), binding)
            return cooked if "cooked" in cooked.name.split() else found
        return found

    def _as_chosen(self, row: int, name: str, found: Match) -> Match:
        """What a practice once chose for these words is likely meant again. What the words always leave open (salted or not) is asked again,
        with its choice as the likely answer."""
        why = note("reading.own_name")
        kinds = dict.fromkeys((found.row, *found.others))
        if found.is_of_a_kind and found.sure == "check" and row in kinds:
            others = tuple(each for each in kinds if each != row)
            return Match(row, "check", why, found.ask, others, name, True, found.about)
        return Match(row, "likely", why, name=name)

    @functools.lru_cache(maxsize=20_000)  # noqa: B019 - the matcher lives as long as the process
    def _match(self, words: str, states: tuple[str, ...], bound: frozenset[str]) -> Match:
        tokens = words.split()
        if not tokens:
            return Match(-1, "check", note("reading.no_words"))
        best = self._best_name(tokens, states, bound)
        if best is None:
            return self._nothing_called(words)
        harmless, critical = words_of("harmless"), words_of("critical")
        # "Topside of beef": what its food says of itself.
        of_it = self._search.tokens_of(best.row) if "of" in tokens else frozenset()
        known = {*best.tokens, *harmless, *bound, *of_it}
        left = [t for t in tokens if t not in known and not self._also_names(t, best.row)]
        if left == ["added"] and "salt" in tokens:  # "without salt" is "no salt added"
            left = []
        unused = [t for t in states if t in critical and t not in best.tokens and t not in tokens]
        why = note("reading.read_as" if left else "reading.cooks_name", name=best.name)
        if left:
            ask = best.ask or note("reading.unused", words=" ".join(left))
            return Match(best.row, "check", why, ask, best.others, best.name, about=best.about)
        if "canned" in states and self._is_raw_pulse(best.row):
            ask = note("reading.from_can_or_dry")
            return Match(best.row, "check", why, ask, best.others, best.name, about=_OF_A_CAN)
        sure = best.sure
        if unused and sure == "sure" and not {"fat", "low", "salt", "added", "free"} >= set(unused):
            sure = "likely"
        return Match(best.row, sure, why, best.ask, best.others, best.name, bool(best.ask), best.about)

    def _is_raw_pulse(self, row: int) -> bool:
        """Whether it may have been weighed dry, or as it comes out of a can."""
        is_fresh = pattern("fresh").search(self.table.descriptions[row])
        return bool(is_fresh) and self.table.categories[row] == "Legumes and Legume Products"

    def _also_names(self, token: str, row: int) -> bool:
        """Whether a word left over is another name of the same food ("rotini" of pasta)."""
        position = self._exact.get(frozenset((token,)))
        return position is not None and self._names[position].row == row

    def _best_name(
        self, tokens: list[str], states: tuple[str, ...], bound: frozenset[str] = frozenset()
    ) -> _Name | None:
        """The cook's name that takes up most of the words; never one made only of what binds another."""
        free = set(tokens) - bound
        have, hinted = set(tokens), set(tokens) | set(states)
        head = head_of([t for t in tokens if t not in bound] or tokens)
        exact = self._exact.get(frozenset(tokens))
        counts: dict[int, int] = defaultdict(int)
        for token in hinted:
            for position in self._by_token.get(token, ()):
                counts[position] += 1
        if exact is not None and hinted <= have and not self._is_another_thing(self._names[exact].tokens, tokens):
            return self._names[exact]
        if "of" in tokens and (part := self._part_of(tokens)):
            return part
        of_the_head = {p for p in self._by_token.get(head, ()) if counts[p] >= len(set(self._names[p].tokens))}
        best: _Name | None = None
        best_score: tuple[float, int, int] = (-1.0, 0, 0)
        for position, count in counts.items():
            if position not in of_the_head and (of_the_head or not self._is_form(head)):
                continue  # the noun decides the family
            name = self._names[position]
            if count < len(set(name.tokens)) or self._is_another_thing(name.tokens, tokens):
                continue
            if free and not free & set(name.tokens):
                continue
            own = sum(1 for t in name.tokens if t in have)
            if own == 0 or (
                all(t in words_of("state") for t in name.tokens if t in have and t not in ("salt",))
                and "salt" not in name.tokens
            ):
                continue
            heads = name.tokens[-1] == head
            together = " ".join(name.tokens) in " ".join(tokens)
            weighty = sum(1.0 if t in bound else 0.5 if t in words_of("harmless") else 1.0 for t in name.tokens)
            told = sum(1 for t in name.tokens if t in words_of("telling") and t not in bound)
            score = (
                weighty + 1.0 * told + 0.45 * heads + 0.3 * together,
                len(free & set(name.tokens)),
                len(name.tokens),
            )
            if score > best_score:
                best, best_score = name, score
        return best

    def _part_of(self, tokens: list[str]) -> _Name | None:
        """The name before "of", where its food says what stands behind: "topside of beef"."""
        at = tokens.index("of")
        before, behind = (
            {t for t in part if t not in words_of("harmless")} for part in (tokens[:at], tokens[at + 1 :])
        )
        found = self._exact.get(frozenset(before))
        if found is None or not behind or not behind <= self._search.tokens_of(self._names[found].row):
            return None
        return self._names[found]

    def _is_form(self, word: str) -> bool:
        """Whether a word at the end of a name says the form of its food and is no food."""
        return word in words_of("form") or word in words_of("harmless") or word in words_of("state")

    def _is_another_thing(self, name: tuple[str, ...], tokens: list[str]) -> bool:
        """Whether the words have the name's in another order and so name another thing: chocolate milk is no chocolate."""
        last = head_of(tokens)
        own = head_of(name)
        if last == own or last not in name or {last, own} - self._heads or own not in tokens:
            return False
        return "of" not in tokens

    def names_of(self, row: int) -> tuple[tuple[str, ...], ...]:
        """The words of every cook's name of a food."""
        return self._names_of_row.get(row, ())

    @cached_property
    def _names_of_row(self) -> dict[int, tuple[tuple[str, ...], ...]]:
        found: dict[int, list[tuple[str, ...]]] = defaultdict(list)
        for name in self._names:
            found[name.row].append(name.tokens)
        return {row: tuple(names) for row, names in found.items()}

    def is_name(self, tokens: Sequence[str]) -> bool:
        """Whether these normalized words are a cook's name as they stand."""
        found = self._exact.get(frozenset(tokens)) if tokens else None
        return found is not None and self._names[found].tokens == tuple(tokens)

    @cached_property
    def first_words(self) -> frozenset[str]:
        """The words with which cooks' names begin."""
        return frozenset(name.tokens[0] for name in self._names if name.tokens)

    def turned_round(self, name: str, tails: Sequence[str], bound: Sequence[str]) -> str:
        """The name with what stands behind a comma in front, where that makes a cook's name: "rice, brown".

        >>> matcher().turned_round("bacon", ["turkey"], ())
        'turkey bacon'
        """
        plain = [t for t in normalized(name).split() if t not in bound and t not in words_of("harmless")]
        for tail in tails:
            more = [t for t in normalized(tail).split() if t not in bound and t not in plain]
            kept = [t for t in more if t not in words_of("harmless")]
            found = self._exact.get(frozenset((*kept, *plain))) if kept and plain else None
            # "Pudding, rice" is rice pudding, and no rice for puddings.
            if found is not None and self._names[found].tokens[-1] == plain[-1]:
                return self._names[found].name
        return name

    @property
    def postings(self) -> dict[str, np.ndarray]:
        """Word -> rows of the descriptions that have it."""
        return self._search.vocabulary

    def _nothing_called(self, words: str) -> Match:
        """No cook's name: what is spelled alike is shown, and taken for none of it."""
        hits = self._search.ranked(words, 5)
        why = note("reading.not_in_tables" if hits else "reading.nothing_like")
        return Match(-1, "check", why, note("reading.which_food"), tuple(row for row, _ in hits))

    def search(self, words: str, limit: int = 20) -> list[int]:
        """Rows for a typed search: cooks' names first, then descriptions; typos are forgiven."""
        words = normalized(words)
        if not words:
            return []
        found: dict[int, None] = {}
        exact = self._best_name(words.split(), ())
        if exact and set(words.split()) <= set(exact.tokens) | words_of("harmless").keys():
            found[exact.row] = None
            found.update(dict.fromkeys(exact.others))
        for row, _ in self._search.ranked(words, limit, prefix=True):
            found.setdefault(row)
        return list(found)[:limit]


class _Search:
    """Token similarity over descriptions: inverse document frequency, plain and raw foods first."""

    def __init__(self, table: Foods):
        postings: dict[str, list[int]] = defaultdict(list)
        self._descriptions = table.descriptions
        self._tokens = [
            frozenset(normalized(description).split()) if kind != RETIRED else frozenset()
            for description, kind in zip(table.descriptions, table.text["kinds"], strict=True)
        ]
        for row, tokens in enumerate(self._tokens):
            for token in tokens:
                postings[token].append(row)
        count = len(table)
        self.vocabulary = {t: np.array(rows, dtype=np.intp) for t, rows in postings.items()}
        self._weight = {t: math.log(1 + count / len(rows)) for t, rows in self.vocabulary.items()}
        self._all = list(self.vocabulary)
        length = np.array([sum(self._weight[t] for t in tokens) for tokens in self._tokens], dtype=np.float32)
        self._length = np.maximum(length, 1.0)
        bonus = {"SR Legacy": 0.03, "Curated": 0.04, "Foundation": 0.02}
        raw = np.array(["raw" in tokens for tokens in self._tokens])
        plain = np.array([bonus.get(kind, 0.0) for kind in table.text["kinds"]], dtype=np.float32)
        self._bonus = plain + 0.04 * raw

    def tokens_of(self, row: int) -> frozenset[str]:
        return self._tokens[row]

    def ranked(self, words: str, limit: int, *, prefix: bool = False) -> list[tuple[int, float]]:
        """(row, score 0 to about 1), best first."""
        wanted: dict[str, float] = {}
        parts = words.split()
        for position, word in enumerate(parts):
            if word in self.vocabulary:
                wanted[word] = 1.0
            if prefix and position == len(parts) - 1 and len(word) > 2:
                # What is typed so far may go on; where it is a word already, longer ones are other foods ("bread", "breadfruit").
                most = 0.5 * self._weight[word] if word in self.vocabulary else math.inf
                longer = [t for t in self._all if t.startswith(word) and t not in wanted]
                wanted.update({t: min(0.9, most / self._weight[t]) for t in longer})
            elif word not in self.vocabulary and len(word) > 3:
                near = process.extract(word, self._all, scorer=fuzz.ratio, limit=2, score_cutoff=80)
                wanted.update({t: 0.7 * score / 100 for t, score, _ in near})
        if prefix and not wanted and parts:
            near = process.extract(parts[-1], self._all, scorer=fuzz.ratio, limit=3, score_cutoff=70)
            wanted.update({t: 0.7 * score / 100 for t, score, _ in near})
        if not wanted:
            return []
        score: np.ndarray = np.zeros(len(self._tokens), dtype=np.float32)
        for token, share in wanted.items():
            score[self.vocabulary[token]] += share * self._weight[token]
        asked = sum(self._weight.get(w, 6.0) for w in parts) or 1.0
        score = 2 * score / (np.minimum(self._length, 3 * asked) + asked) + np.where(score > 0, self._bonus, 0)
        best = np.argpartition(-score, min(limit, len(score) - 1))[:limit]
        best = best[np.argsort(-score[best], kind="stable")]
        return [(int(row), float(score[row])) for row in best if score[row] > 0]


def matcher() -> Matcher:
    """The matcher over the foods in use, built once for the table they were joined to: own foods come by name."""
    memory = foods().base.memory.setdefault(matcher, {})
    if not memory:
        memory[None] = Matcher(foods().base, read_table("cooks_names.tsv"))
    found: Matcher = memory[None]
    return found


def own_rows(words: str) -> list[int]:
    """Rows of own foods whose name has every word typed."""
    table, asked = foods(), set(normalized(words).split())
    kinds = table.text["kinds"]
    return [
        row
        for row in range(len(table.base), len(table))
        if kinds[row] != RETIRED and asked <= set(normalized(table.descriptions[row]).split())
    ]


def search_foods(words: str, limit: int = 15) -> list[Food]:
    """Foods for a typed search: cooks' names first, then descriptions; typos are forgiven."""
    rows = [*own_rows(words), *matcher().search(words, limit)] if words.strip() else []
    return [foods().food(row) for row in rows[:limit]]
