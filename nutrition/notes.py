"""What the core has to say, as data: a code with its keys and numbers; the sentence is made where it is shown.

A code is "room.name"; the sentence stands in that room's catalogue: nutrition/<room>/sentences.py for a room of the
core,
<room>/sentences.py for a room of the house that is built on it. Nothing looks into a sentence to decide something: it
looks at the code.
"""

import functools
import importlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

Sentence = str | Callable[..., str]
#: Rooms of the core that have a catalogue.
ROOMS = ("food", "dish", "reading", "limits", "sheet", "swaps", "stove")
#: ... and those whose sentences go by another name, because a room of the house has theirs.
_HOMES = {room: f"nutrition.{room}" for room in ROOMS} | {"meal": "nutrition.meals"}


@dataclass(frozen=True, slots=True)
class Note:
    """One thing to be said. Empty code: nothing. `values` are keys, numbers, words as read, or notes within the note.

    >>> from nutrition.notes import note
    >>> str(note("reading.unused", words="jumbo")), bool(Note())
    ('“jumbo” was not used: does it matter?', False)
    """

    code: str = ""
    values: tuple[tuple[str, Any], ...] = ()

    def __bool__(self) -> bool:
        return bool(self.code)

    def value(self, name: str) -> Any:
        """One of its values. Raises KeyError."""
        return dict(self.values)[name]

    def __str__(self) -> str:
        if not self.code:
            return ""
        values = dict(self.values)
        sentence = _catalogue(self.code.partition(".")[0])[self.code.partition(".")[2]]
        return sentence.format(**values) if isinstance(sentence, str) else sentence(**values)

    @property
    def name(self) -> str:
        """The code without its room."""
        return self.code.rpartition(".")[2]


NOTHING = Note()


def note(code: str, **values: Any) -> Note:
    """A note with its values by name."""
    return Note(code, tuple(values.items()))


def said(text: str) -> Note:
    """Words that are data themselves: a question of a table, a sentence kept by an older version. Empty for none."""
    return note("words.said", text=text) if text else NOTHING


@functools.cache
def _catalogue(room: str) -> Mapping[str, Sentence]:
    if room == "words":
        return {"said": "{text}"}
    home = _HOMES.get(room, room)
    catalogue: Mapping[str, Sentence] = importlib.import_module(f"{home}.sentences").SENTENCES
    return catalogue


class Problem(ValueError):
    """What cannot be done, as a note: its sentence says what was read, what was expected and what to do.

    >>> str(Problem("reading.nothing_typed"))
    'Nothing was typed. Write the line as in a recipe, as in 2 tbsp lemon juice.'
    """

    def __init__(self, code: str, **values: Any):
        self.note = note(code, **values)
        super().__init__(code)

    @property
    def code(self) -> str:
        return self.note.code

    def __str__(self) -> str:
        return str(self.note)
