"""Questions asked at every click: their SQL is made once a process, and only the values change.

Making the SQL of a query takes Django longer than PostgreSQL takes to answer it. What a bench, a card or a person
is read with is asked the same way every time.
"""

from copy import copy
from functools import update_wrapper

from django.db import connections
from django.http import Http404

from .scope import current_practice_id, only_numbered

#: Stands for a value while the SQL is made; the practice is the first of them, the others count up.
_MARK = 2_000_000_000


class Prepared:
    """A question of numbers (primary keys, mostly) that answers with a list. It goes to the practice in scope, or nowhere.

    All its values must be numbers that stand in the SQL as they are, and nothing else in it may move, such as the time.
    """

    def __init__(self, question):
        update_wrapper(self, question)
        self._question, self._made = question, None

    def __call__(self, *values):
        self._made = self._made or self._make(len(values))
        queryset, compiler, sql, params, places = self._made
        values = (current_practice_id(), *values)
        filled = tuple(
            param if place is None else type(param)(values[place]) for param, place in zip(params, places, strict=True)
        )
        ready = copy(compiler)
        ready.connection = connections[queryset.db]
        ready.as_sql = lambda *args, **kwargs: (sql, filled)
        asked = queryset.all()
        asked.query.get_compiler = lambda *args, **kwargs: ready
        return list(asked)

    def one(self, *values):
        """The only row. Raises DoesNotExist."""
        found = self(*values)
        if not found:
            raise self._made[0].model.DoesNotExist
        return found[0]

    def one_or_404(self, *values):
        """The only row. Raises Http404."""
        found = self(*values)
        if not found:
            raise Http404(f"there is no such {self._made[0].model._meta.verbose_name}")
        return found[0]

    def first(self, *values):
        """The first row, or None."""
        return next(iter(self(*values)), None)

    def _make(self, count):
        marks = range(_MARK, _MARK + count + 1)
        with only_numbered(_MARK):
            queryset = self._question(*marks[1:])
        compiler = queryset.query.get_compiler(queryset.db)
        sql, params = compiler.as_sql()
        places = [marks.index(param) if isinstance(param, int) and param in marks else None for param in params]
        if set(range(count + 1)) - set(places):
            raise TypeError(f"{self.__name__} leaves its practice or one of its values out of the SQL")
        if moving := [param for param in params if not isinstance(param, int | str)]:
            raise TypeError(f"{self.__name__} has {moving[0]!r} in its SQL, which may be another one next time")
        return queryset, compiler, sql, params, places


def prepared(question):
    """For a function of numbers that gives a queryset: called, it gives the rows.

    @prepared
    def plans_of(person_id):
        return PlanChoice.objects.filter(person=person_id)
    """
    return Prepared(question)
