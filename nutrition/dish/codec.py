"""How a dish is kept: the only way in and out of storage, files and archives. Every text carries its version.

Version 3 keeps what somebody said of what the steps leave behind (`eaten` of a line) and the steps somebody wrote anew (`rewritten`);
what the steps add and leave is found anew, and never kept. Version 2 keeps what was waved off of the steps; version 1 does not.
All leave out what stands at its default. Version 0 (before there were versions) is a list of line dicts with
`low`, `grams`, `high`, `part` and whole sentences; it is read for ever, and never written.
"""

from collections.abc import Mapping, Sequence
from dataclasses import MISSING, fields
from math import isfinite
from typing import Any

from nutrition.dish.dish import Dish
from nutrition.dish.grams import Grams
from nutrition.dish.line import SURENESS, Line
from nutrition.food.table import current_id
from nutrition.notes import NOTHING, Note, Problem, note, said

VERSION = 3
#: Versions that are read.
READ = (1, 2, 3)
MOST_GRAMS = 10_000_000.0
#: Longest words kept of a line, as the screens cut them.
LONGEST = 500

_DEFAULTS = {field.name: field.default for field in fields(Line) if field.default is not MISSING}
_NOTES = ("rule", "why", "ask")
#: Longest words kept of a step.
LONGEST_STEP = 5_000
#: Of a dish, what is kept as pairs of words.
_PAIRS = ("waved", "rewritten")
_LISTS = ("others", "eaten")
_PLAIN = tuple(name for name in _DEFAULTS if name not in (*_NOTES, *_LISTS, "weight", "step", "leaves"))


def _pack(value: Any) -> Any:
    if isinstance(value, Note):
        return [value.code, {name: _pack(each) for name, each in value.values}]
    return list(value) if isinstance(value, tuple) else value


def _unpack(value: Any) -> Any:
    """A note with its values, from what `_pack` made of it, or a sentence of an older version."""
    if isinstance(value, str):
        return said(value)
    if not value:
        return NOTHING
    code, values = value
    return note(str(code), **{str(name): _unpack_value(each) for name, each in values.items()})


def _unpack_value(value: Any) -> Any:
    if isinstance(value, list) and len(value) == 2 and isinstance(value[0], str) and isinstance(value[1], dict):
        return _unpack(value)
    return tuple(value) if isinstance(value, list) else value


def line_to_data(line: Line) -> dict[str, Any]:
    """One line as JSON keeps it."""
    data: dict[str, Any] = {"text": line.text}
    for name in _PLAIN:
        value = getattr(line, name)
        if value != _DEFAULTS[name]:
            data[name] = value
    if line.weight:
        data["weight"] = list(line.weight)
    for name in _LISTS:
        if listed := getattr(line, name):
            data[name] = list(listed)
    for name in _NOTES:
        if value := getattr(line, name):
            data[name] = _pack(value)
    return data


def line_from_data(data: Mapping[str, Any]) -> Line:
    """One line from what is kept. Raises Problem when it cannot be."""
    try:
        return _line(data if "weight" in data or "low" not in data else _from_version_0(data))
    except (KeyError, TypeError, ValueError) as problem:
        if isinstance(problem, Problem):
            raise
        raise Problem("dish.line_unreadable", text=str(data)[:60]) from None


def _from_version_0(data: Mapping[str, Any]) -> dict[str, Any]:
    """The older form of a line: three weights by name, and `part` for the heading."""
    new = {name: value for name, value in data.items() if name not in ("low", "grams", "high", "part")}
    if data["grams"] is not None:
        new["weight"] = [data["low"] or 0.0, data["grams"], data["high"] or 0.0]
    return new | {"heading": data.get("part") or ""}


def _line(data: Mapping[str, Any]) -> Line:
    weight, sure = data.get("weight"), data.get("sure", _DEFAULTS["sure"])
    sides = [float(side) for side in weight] if weight else []
    if weight and (len(sides) != 3 or not all(isfinite(side) and 0 <= side < MOST_GRAMS for side in sides)):
        raise Problem("dish.weight_impossible", text=str(data.get("text"))[:60], weight=str(weight)[:60])
    if sure not in SURENESS:
        raise Problem("dish.line_unreadable", text=str(data.get("text"))[:60])
    plain = {name: type(_DEFAULTS[name])(data[name]) for name in _PLAIN if name != "food_id" and name in data}
    return Line(
        text=str(data["text"])[:LONGEST],
        food_id=current_id(data["food_id"]) if data.get("food_id") else None,
        weight=Grams(*sides) if sides else None,
        others=tuple(current_id(str(other)) for other in data.get("others") or ()),
        eaten=tuple(str(key)[:LONGEST] for key in data.get("eaten") or ()),
        **plain,
        **{name: _unpack(data[name]) for name in _NOTES if data.get(name)},
    )


def to_data(dish: Dish) -> dict[str, Any]:
    """A dish as JSON keeps it."""
    return {
        "v": VERSION,
        "title": dish.title,
        "serves": dish.serves,
        "kitchen": dish.kitchen,
        "kind": dish.kind,
        "lines": [line_to_data(line) for line in dish.lines if not line.step],
        "steps": list(dish.steps),
        "notes": list(dish.notes),
    } | {name: [list(each) for each in pairs] for name in _PAIRS if (pairs := getattr(dish, name))}


def from_data(data: Mapping[str, Any] | Sequence[Mapping[str, Any]]) -> Dish:
    """A dish from what is kept: this version's form, or a bare list of lines of version 0. Raises Problem."""
    if isinstance(data, list | tuple):
        return Dish("", None, tuple(line_from_data(line) for line in data))
    if not isinstance(data, Mapping) or data.get("v") not in READ:
        version = data.get("v") if isinstance(data, Mapping) else data
        raise Problem("dish.version_unknown", version=str(version)[:20], known=VERSION)
    serves = data.get("serves")
    return Dish(
        title=str(data.get("title", "")),
        serves=None if serves is None else float(serves),
        lines=tuple(line_from_data(line) for line in data.get("lines", ())),
        steps=tuple(map(str, data.get("steps", ()))),
        kitchen=str(data.get("kitchen", "")),
        kind=str(data.get("kind", "any")),
        notes=tuple(map(str, data.get("notes", ()))),
        **{
            name: tuple((str(one)[:LONGEST_STEP], str(other)[:LONGEST_STEP]) for one, other in data.get(name, ()))
            for name in _PAIRS
        },
    )
