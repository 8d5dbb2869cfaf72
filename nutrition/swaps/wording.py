"""The words of one step once foods of it are replaced or left out: the span is put anew, a list closes over what is gone, and a clause
that has nothing left goes.

What stays is word for word what was written.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.reading.clauses import where_clauses_part

#: The first of the private characters, which no recipe holds.
_MARK = 0xE000
#: Of a step of which nothing is left.
NOTHING_LEFT = "Nothing is left to do in this step."
_SENTENCE_ENDS = re.compile(r"[.;!?:](?:\s+|$)|\n")
#: Little words that belong to the food they stand before, and go with it.
_WITH_IT = re.compile(
    r"(?:\b(?:the|an?|some|any|all|half|most|more|rest|remaining|other|of|its|your|another|extra|little|bit|pinch|knob|splash|dash|drizzle|"
    r"squeeze|handful|spoonfuls?|tablespoons?|teaspoons?|tbsp|tsp|cups?|g|ml|grams?|one|two|three|four|five|six|eight|few|grated|chopped|"
    r"crushed|melted|hot|warm|cold|fresh|softened|beaten|sliced|diced|minced|toasted|ground|crumbled|dried|drained|reserved|cubed|peeled|"
    r"shredded|finely|roughly|freshly|thinly|whole|soft|good|plain)\s+|\d[\d/.,½¼¾]*\s+|[½¼¾]\s+)+$",
    re.I,
)
#: A number or "an" before what is one thing now: "2 eggs", "an egg" are "the flax gel".
_COUNTED = re.compile(r"\b(?:(?:the\s+)?(?:\d+|one|two|three|four|five|six)|an?)\s+$", re.I)
_PREPOSITION = re.compile(r"\b(in|with|on|over|into|onto|to|from|through|under|for|of)\s+$", re.I)
_JOINED = re.compile(r"(,\s*(?:and |or )?|\s+(?:and|or)\s+)$", re.I)
_GOES_ON = re.compile(r"^(,\s*(?:and |or )?|\s+(?:and|or)\s+)", re.I)


@dataclass(frozen=True, slots=True)
class Put:
    """Words of a step, where they stand, and what stands there now; "" for nothing. `is_one`: one thing, however many were counted."""

    start: int
    end: int
    now: str
    is_one: bool = False


def reworded(step: str, puts: Sequence[Put]) -> str:
    """A step with some of its words put anew.

    >>> def at(step, words, now=""):
    ...     return Put(step.index(words), step.index(words) + len(words), now)
    >>> for step, words in (("Season with salt and pepper.", "salt"), ("Toss with the butter, then serve.", "butter"), ("Stir in the cream.", "cream")):
    ...     print(reworded(step, [at(step, words)]))
    Season with pepper.
    Toss, then serve.
    Nothing is left to do in this step.
    """
    found, start = [], 0
    for end in [*(match.end() for match in _SENTENCE_ENDS.finditer(step)), len(step)]:
        if end > start:
            found.append(_sentence(step[start:end], [_moved(put, start) for put in puts if start <= put.start < end]))
        start = end
    return "".join(found).strip() or NOTHING_LEFT


def _moved(put: Put, start: int) -> Put:
    return Put(put.start - start, put.end - start, put.now, put.is_one)


def _sentence(sentence: str, puts: Sequence[Put]) -> str:
    if not puts:
        return sentence
    ending = _SENTENCE_ENDS.search(sentence)
    end = ending.start() if ending else len(sentence)
    kept: list[tuple[str, str]] = []
    is_cut = False
    for separator, start, stop in _clauses(sentence[:end]):
        clause = _clause(sentence[start:stop], [_moved(put, start) for put in puts if start <= put.start < stop])
        if clause:
            kept.append((separator, clause))
        elif kept and "and" in separator:
            is_cut = True
    if not kept:
        return ""
    if is_cut and len(kept) > 1 and kept[-1][0].strip() == ",":
        kept[-1] = (" and ", kept[-1][1])
    words = kept[0][1] + "".join(separator + clause for separator, clause in kept[1:])
    return _capital(words, sentence) + sentence[end:]


def _clauses(text: str) -> list[tuple[str, int, int]]:
    """(what parts it from the one before, start, end) of each thing a sentence says to do."""
    found, start, separator = [], 0, ""
    for parting in where_clauses_part(text):
        found.append((separator, start, parting.start()))
        separator, start = parting[0], parting.end()
    return [*found, (separator, start, len(text))]


def _capital(words: str, was: str) -> str:
    return words[:1].upper() + words[1:] if was[:1].isupper() else words


def _clause(clause: str, puts: Sequence[Put]) -> str:
    """A clause with its words put anew; empty where nothing is left of it to do."""
    # Each word stands as a mark of its own until its turn comes: what one leaves behind moves the others.
    marks = [chr(_MARK + number) for number in range(len(puts))]
    words = [clause[put.start : put.end] for put in puts]
    for put, mark in sorted(zip(puts, marks, strict=True), key=lambda pair: -pair[0].start):
        clause = f"{clause[: put.start]}{mark}{clause[put.end :]}"
    for put, mark, was in zip(puts, marks, words, strict=True):
        at = clause.index(mark)
        here = Put(at, at + 1, put.now, put.is_one)
        clause = _put(clause, here, was) if put.now else _without(clause, here)
        if any(each not in clause for each in marks[marks.index(mark) + 1 :]):
            return ""
    return clause if clause.strip() else ""


def _put(clause: str, put: Put, words: str) -> str:
    before, after = clause[: put.start], clause[put.end :]
    counted = _COUNTED.search(before)
    if put.is_one and counted:
        before = f"{before[: counted.start()]}{'The' if counted.start() == 0 and counted[0][0].isupper() else 'the'} "
    begins = not before.strip() and words[:1].isupper()
    return f"{before}{put.now[:1].upper() + put.now[1:] if begins else put.now}{after}"


def _without(clause: str, put: Put) -> str:
    """A clause without a food: a list closes over it, a preposition goes with it, and with its only object the whole of it."""
    before, after = clause[: put.start], clause[put.end :]
    little = _WITH_IT.search(before)
    before = before[: little.start()] if little else before
    joined, goes_on = _JOINED.search(before), _GOES_ON.match(after)
    if joined:
        return _closed(before[: joined.start()], joined[1], after)
    if goes_on:
        return f"{before}{_as_first(after[goes_on.end() :], before)}"
    preposition = _PREPOSITION.search(before)
    if preposition:
        rest = before[: preposition.start()].rstrip()
        return _worth(f"{rest}{after}")
    with_ = re.match(r"\s+with\s+", after)
    return f"{before}{after[with_.end() :]}" if with_ and before.strip() else ""


def _closed(before: str, joint: str, after: str) -> str:
    """What stood before the joint and after the gap: the last comma of a list becomes its "and"."""
    if (
        "and" in joint
        and not _GOES_ON.match(after)
        and (comma := before.rfind(", ")) >= 0
        and "(" not in before[comma:]
    ):
        before = f"{before[:comma]} and {before[comma + 2 :]}"
    return f"{before}{after}"


def _as_first(rest: str, before: str) -> str:
    """What is the first of a list now."""
    return rest if before.strip() else rest[:1].upper() + rest[1:]


#: What asks for something to do it with: alone it says nothing.
_NEEDS_MORE = re.compile(
    r"^(?:finally|then|meanwhile|and)?\s*(?:top|finish|garnish|sprinkle|scatter|strew|dust|season|serve|dress|stir|fold|mix|beat|whisk|pour|brush|grease|"
    r"drizzle|cover|coat|rub|spread|decorate|enrich|thicken|sweeten|loosen|deglaze|dot|line|add|put|swirl|bind|flavou?r|salt|oil|butter)"
    r"(?:\s+(?:it|them|over|on|in|off|up))?$",
    re.I,
)


def _worth(clause: str) -> str:
    return "" if _NEEDS_MORE.match(clause.strip()) or len(clause.split()) == 0 else clause
