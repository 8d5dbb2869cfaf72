"""Questions asked at every click: their SQL is made once a process, and only the values change.

Making the SQL of a query takes Django longer than PostgreSQL takes to answer it. What a bench, a card or a person
is read with is asked the same way every time.
"""

from collections.abc import Callable, Collection
from copy import copy
from dataclasses import dataclass
from functools import update_wrapper
from typing import Any, Generic, TypeVar

from django.db import connections
from django.db.models import Model, QuerySet
from django.http import Http404

from .scope import current_practice_id, only_numbered

#: Stands for a value while the SQL is made; the practice is the first of them, the others count up.
_MARK = 2_000_000_000
#: What an empty list holds, so that both IN and NOT IN say what they should: no row has this number.
_NOBODY = -1

_Row = TypeVar("_Row", bound=Model)
_Values = tuple[int | Collection[int], ...]


class Prepared(Generic[_Row]):
    """A question of numbers, or of lists of them (primary keys, mostly), that answers with a list. It goes to the practice
    in scope, or nowhere.

    Each value stands in the SQL as it is, and nothing else in it may move, such as the time.
    """

    def __init__(self, question: Callable[..., QuerySet[_Row]]):
        update_wrapper(self, question)
        self.question = question
        self._made: _Made | None = None

    def __call__(self, *values: int | Collection[int]) -> list[_Row]:
        every = (current_practice_id(), *values)
        made = self._made = self._made or self._make(every)
        compiler, filled = copy(made.compiler), made.filled(every)
        compiler.connection = connections[made.queryset.db]
        compiler.as_sql = lambda *args, **kwargs: filled
        asked = made.queryset.all()
        asked.query.get_compiler = lambda *args, **kwargs: compiler
        return list(asked)

    def first(self, *values: int | Collection[int]) -> _Row | None:
        """The first row, or None."""
        return next(iter(self(*values)), None)

    def one_or_404(self, *values: int | Collection[int]) -> _Row:
        """The only row. Raises Http404."""
        found = self.first(*values)
        if found is None:
            raise Http404("there is no such row")
        return found

    def _make(self, values: _Values) -> "_Made":
        marks = [_MARK + place for place in range(len(values))]
        stand_ins = [mark if isinstance(value, int) else [mark] for mark, value in zip(marks, values, strict=True)]
        with only_numbered(_MARK):
            queryset = self.question(*stand_ins[1:])
        compiler = queryset.query.get_compiler(queryset.db)
        sql, params = compiler.as_sql()
        places = [marks.index(param) if isinstance(param, int) and param in marks else None for param in params]
        if set(range(len(values))) - set(places):
            raise TypeError(f"{self.question.__name__} leaves its practice or one of its values out of the SQL")
        if moving := [param for param in params if not isinstance(param, int | str)]:
            raise TypeError(f"{self.question.__name__} has {moving[0]!r} in its SQL: it may be another one next time")
        return _Made(queryset, compiler, sql.split("%s"), params, places)


@dataclass(frozen=True, slots=True)
class _Made:
    """The SQL of a question in `pieces`, between them a parameter each; `places`: which value it stands for, None for none."""

    queryset: Any
    compiler: Any
    pieces: list[str]
    params: tuple[Any, ...]
    places: list[int | None]

    def filled(self, values: _Values) -> tuple[str, tuple[Any, ...]]:
        """(SQL, parameters) with these values; a list takes as many places as it has numbers."""
        sql, params = [self.pieces[0]], list[Any]()
        for param, place, piece in zip(self.params, self.places, self.pieces[1:], strict=True):
            value = param if place is None else values[place]
            given = [value] if isinstance(value, int | str) else list(value) or [_NOBODY]
            params += [type(param)(each) for each in given]
            sql += [", ".join(["%s"] * len(given)), piece]
        return "".join(sql), tuple(params)


def prepared(question: Callable[..., QuerySet[_Row]]) -> Prepared[_Row]:
    """For a function of numbers, or of lists of them for `__in`, that gives a queryset: called, it gives the rows.

    @prepared
    def plans_of(person_ids):
        return PlanChoice.objects.filter(person__in=person_ids)
    """
    return Prepared(question)
