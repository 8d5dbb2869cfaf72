"""What words say of allergens and of what plans avoid. Words only ever add.

Rules: tables/avoid_rules.tsv, read after the phrases of tables/innocent_phrases.tsv (coconut milk is not milk) have been
put out of the way. A promise ("gluten-free", "without nuts", "vegan": tables/free_words.tsv) softens its own tag from
"contains" to "check the label", in its own part of the words, and only where it is neither denied nor a condition.
"""

import functools
import re
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass, replace

from nutrition.food.tags import CHECK, CONTAINS, LINE, TAGS, Hit, strongest
from nutrition.notes import note
from nutrition.tables import Row, pattern, read_table

#: Why a rule was softened: the words of the line or of the food say it is free of this, or that there may be traces.
SAYS_FREE, TRACES = note("food.says_free"), note("food.traces")
#: Between the parts of the words that a promise speaks of one by one.
_JOINTS = re.compile(r"\s(?:or|and|with|plus|in|on|over)\s|\s*[/+;&]\s*")


@dataclass(frozen=True, slots=True)
class Spoken:
    """At most one hit a tag. `free`: tags that the words promise the food is free of; `by_habit`: softened with them
    where the food does not name them."""

    hits: tuple[Hit, ...]
    free: frozenset[str] = frozenset()
    by_habit: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class _Rule:
    hit: Hit
    words: re.Pattern[str]


@dataclass(frozen=True, slots=True)
class _Promise:
    """One row of free_words.tsv, or where one stands: `at` counts the parts of the words.

    `goes_on`: nothing stands between it and the next part ("gluten-free and vegan brownies").
    """

    tags: frozenset[str]
    habit: frozenset[str]
    adds: tuple[str, ...]
    at: int = -1
    goes_on: bool = False


#: Letters that are written as two where a keyboard has not got them.
_TWO_LETTERS = str.maketrans(
    {"œ": "oe", "Œ": "Oe", "æ": "ae", "Æ": "Ae", "ß": "ss", "ø": "o", "Ø": "O", "ł": "l", "Ł": "L"}
)


def without_accents(text: str) -> str:
    """
    >>> without_accents("pâté, Grünkern, œufs, Eiweiß")
    'pate, Grunkern, oeufs, Eiweiss'
    """
    if text.isascii():
        return text
    text = text.translate(_TWO_LETTERS)
    return "".join(c for c in unicodedata.normalize("NFKD", text) if not unicodedata.combining(c))


def _whole_words(words: str, ending: str = "(?:s|es)?") -> re.Pattern[str]:
    return re.compile(rf"(?<![a-z])(?:{without_accents(words)}){ending}(?![a-z])")


@functools.cache
def _rules() -> tuple[_Rule, ...]:
    found = []
    for row in read_table("avoid_rules.tsv"):
        code = "food.on_the_us_list" if row["verdict"] == "contains_us" else "food.look_for"
        verdict = CHECK if row.one_of("verdict", ("contains", "contains_us", "check")) == "check" else CONTAINS
        hit = Hit(row.one_of("tag", TAGS), verdict, "", "", note(code, text=row["look_for"]), row.text("source"))
        found.append(_Rule(hit, row.as_("words", _whole_words, "words as a regular expression")))
    return tuple(found)


@functools.cache
def look_for(tag: str) -> str:
    """What to look for on a label by a tag alone."""
    return next((rule.hit.look_for for rule in _rules() if rule.hit.tag == tag and rule.hit.look_for), "")


@functools.cache
def _innocent() -> tuple[tuple[re.Pattern[str], str], ...]:
    rows = read_table("innocent_phrases.tsv")
    return tuple(
        (row.as_("phrase", lambda cell: _whole_words(cell, ""), "a regular expression"), row["reads_as"])
        for row in rows
    )


@functools.cache
def _any_innocent() -> re.Pattern[str]:
    """Any of these phrases: most words hold none, and are looked through once for all of them."""
    return re.compile(f"(?<![a-z])(?:{'|'.join(phrase.pattern for phrase, _ in _innocent())})")


@functools.cache
def _words_that_promise() -> tuple[tuple[re.Pattern[str], _Promise], ...]:
    """Words that promise as they stand: "vegan", "glutenfrei"."""
    rows = (row for row in read_table("free_words.tsv") if row["form"] == "word")
    return tuple((row.pattern("words", around=r"(?<![a-z])(?:{})(?![a-z])"), _promise(row)) for row in rows)


@functools.cache
def _things() -> tuple[re.Pattern[str], re.Pattern[str], tuple[tuple[re.Pattern[str], _Promise], ...]]:
    """("X-free", "X- and Y-free", "free from X, Y or Z", "without X"; one thing in it; each thing with its promise)"""
    rows = [row for row in read_table("free_words.tsv") if row["form"] == "free"]
    each = tuple((row.pattern("words"), _promise(row)) for row in rows)
    thing = "(?:" + "|".join(row["words"] for row in rows) + ")"
    before = rf"(?:free (?:of|from):?|without|contains? no|no) (?:any |added |the )?{thing}(?:(?:,? (?:and|or|nor|&) |, ?){thing}){{0,4}}"
    behind = rf"{thing}(?:-(?:(?:,|-|,? ?(?:and|or|&|/)) ?{thing}){{1,3}})?[- ]?free(?![- ]range)"
    said = re.compile(rf"(?<![a-z])(?:{behind}|{before}(?![a-z-]))(?![a-z])")
    return said, re.compile(rf"(?<![a-z]){thing}(?![a-z])"), each


def _promise(row: Row) -> _Promise:
    return _Promise(row.words("tags", TAGS), row.words("habit", TAGS), row.listed("adds", TAGS))


def _said(words: str) -> Iterator[tuple[re.Match[str], _Promise]]:
    """Where the words promise something, and what."""
    said, one, each = _things()
    for match in said.finditer(words):
        for thing in one.findall(match[0]):
            yield match, next(promise for named, promise in each if named.fullmatch(thing))
    for words_, promise in _words_that_promise():
        for match in words_.finditer(words):
            yield match, promise


def plain_words(text: str) -> str:
    """The words as the rules read them: lower case, no accents, the names of other things put out of the way.

    >>> plain_words("Coconut milk and butternut squash")
    'coconut and squash'
    """
    text = without_accents(text.lower().replace("’", "'"))
    if _any_innocent().search(text):
        for phrase, reads_as in _innocent():
            text = phrase.sub(reads_as, text)
    return text


def hits_of_words(text: str, where: str) -> tuple[Hit, ...]:
    """What words say, at most one hit a tag, "contains" before "check the label".

    >>> [(hit.tag, hit.verdict) for hit in hits_of_words("2 tbsp soy sauce", "line")][:2]
    [('wheat', 'contains'), ('soy', 'contains')]
    """
    return spoken(text, where).hits


@functools.lru_cache(maxsize=20_000)
def spoken(text: str, where: str, is_one: bool = False) -> Spoken:
    """What words say and promise. `is_one`: the name of one food, whatever it joins: what it promises is of all of it.

    >>> said = spoken("wheat-free rye bread", "line")
    >>> [(hit.tag, hit.verdict) for hit in said.hits if hit.tag in ("wheat", "gluten")]
    [('wheat', 'check the label'), ('gluten', 'contains')]
    """
    words = without_accents(text.lower().replace("’", "'"))
    if where == LINE:
        words = pattern("purpose").sub(" ", words)  # "salt, for the pasta water" holds no pasta
    traces = [match[0] for match in pattern("traces").finditer(words)]
    words, promises = _promises_of(pattern("traces").sub(" ", words))
    found, free, by_habit = _softened(words, promises, [] if is_one else _JOINTS.findall(words))
    found += [hit.softened(TRACES) for trace in traces for hit in _evidence(trace).values()]
    return Spoken(tuple(replace(hit, where=where) for hit in strongest(*found)), free, by_habit)


def named_outright(words: str) -> Iterator[tuple[str, str]]:
    """(words, tag) of everything that names what holds an allergen, or what a plan keeps out; promises apart.

    >>> sorted(named_outright("flaked almonds and coconut milk"))
    [('almonds', 'tree_nut')]
    """
    plain = plain_words(words)
    for rule in _rules():
        if rule.hit.verdict == CONTAINS:
            for match in rule.words.finditer(plain):
                yield match[0], rule.hit.tag


def parts_of(text: str) -> list[str]:
    """The parts of the words, each of which speaks for itself.

    >>> parts_of("200 g rice with butter or oil")
    ['200 g rice', 'butter', 'oil']
    """
    return [part.strip() for part in _JOINTS.split(text) if part.strip()] or [text]


def _promises_of(words: str) -> tuple[str, list[_Promise]]:
    """The words with blanks where a promise stood, and the promises that hold."""
    left = words
    kept: list[tuple[re.Match[str], _Promise]] = []
    for match, promise in _said(words):
        left = left[: match.start()] + " " * len(match[0]) + left[match.end() :]
        if not _is_denied(words, match):
            kept.append((match, promise))
    return left, [_standing(promise, left, match) for match, promise in kept]


def _standing(promise: _Promise, words: str, match: re.Match[str]) -> _Promise:
    """A promise with the part of the words it stands in."""
    joint = _JOINTS.search(words, match.end() - 1)
    goes_on = bool(
        joint and not words[match.end() : joint.start()].strip(" ,") and not pattern("either").search(joint[0])
    )
    return replace(promise, at=len(_JOINTS.findall(words[: match.start()])), goes_on=goes_on)


def _is_denied(words: str, match: re.Match[str]) -> bool:
    """Whether a promise is denied ("not gluten-free"), wished for, or a condition ("gluten-free if needed")."""
    before, after = words[max(match.start() - 60, 0) : match.start()], words[match.end() : match.end() + 40]
    return bool(pattern("denies_promise").search(before) or pattern("makes_promise_a_wish").match(after))


def _softened(
    words: str, promises: list[_Promise], joints: list[str]
) -> tuple[list[Hit], frozenset[str], frozenset[str]]:
    """What the words show once each promise has softened what it stands with; tags the food itself is promised free of."""
    hits = dict(_evidence(words))
    if not promises:
        return list(hits.values()), frozenset(), frozenset()
    parts = [_evidence(part) for part in (_JOINTS.split(words) if joints else [words])]
    free, by_habit = set(), set()
    for tag in {tag for promise in promises for tag in promise.tags}:
        covered = set()
        for promise in (promise for promise in promises if tag in promise.tags):
            covered |= _reach(promise, tag, parts, joints)
        if all(at in covered or tag not in part or part[tag].verdict == CHECK for at, part in enumerate(parts)):
            free |= {tag} if 0 in covered else set()
            by_habit |= {habit for promise in promises if tag in promise.tags for habit in promise.habit}
            hits |= _soften(hits, tag)
    by_habit = {tag for tag in by_habit - free if not pattern(f"names_{tag}").search(words)}
    for tag in by_habit:
        hits |= _soften(hits, tag)
    softened = {tag for tag, hit in hits.items() if hit.because == SAYS_FREE}
    for promise in promises:
        if softened & (promise.tags | promise.habit):
            source = "common practice: what stands in for it"
            added = (Hit(tag, CHECK, "", "", note("food.look_for", text=look_for(tag)), source) for tag in promise.adds)
            hits = {hit.tag: hit for hit in added} | hits
    return list(hits.values()), frozenset(free), frozenset(by_habit)


def _reach(promise: _Promise, tag: str, parts: list[dict[str, Hit]], joints: list[str]) -> set[int]:
    """The parts a promise speaks of: its own, and while that names nothing those it goes on to ("gluten-free and vegan
    brownies"), else those before it ("pasta, and gluten-free")."""
    at = min(promise.at, len(joints))
    reached = {at}
    if promise.goes_on and tag not in parts[at] and at + 1 < len(parts):
        return reached | {at + 1}
    while at > 0 and tag not in parts[at] and not pattern("either").search(joints[at - 1]):
        at -= 1
        reached.add(at)
    return reached


def _soften(hits: dict[str, Hit], tag: str) -> dict[str, Hit]:
    return {tag: hits[tag].softened(SAYS_FREE)} if tag in hits and hits[tag].verdict == CONTAINS else {}


@functools.lru_cache(maxsize=40_000)
def _evidence(words: str) -> dict[str, Hit]:
    """Tag -> what the words show of it, promises apart. Wheat is gluten."""
    words = plain_words(words)
    found = [replace(rule.hit, word=match[0]) for rule in _rules() if (match := rule.words.search(words))]
    hits = {hit.tag: hit for hit in strongest(*found)}
    wheat, gluten = hits.get("wheat"), hits.get("gluten")
    if wheat and (not gluten or (gluten.verdict, wheat.verdict) == (CHECK, CONTAINS)):
        hits["gluten"] = replace(wheat, tag="gluten")
    return hits
