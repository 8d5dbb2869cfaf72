"""How dishes and lines stand in the database: through the core's codec, and no other way."""

import functools
import json

from django.db import models
from django.db.models.query_utils import DeferredAttribute

from nutrition.dish.codec import from_data, line_from_data, line_to_data, to_data
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.standing import standing, standing_dish


class _AsStored(str):
    """The text of a value that nobody has looked at yet."""


class _ReadWhenAsked(DeferredAttribute):
    """A page that lists forty dishes by name reads the lines of none."""

    def __set__(self, instance, value):  # with this, Python asks __get__ even where the instance has a value
        instance.__dict__[self.field.attname] = value

    def __get__(self, instance, cls=None):
        value = super().__get__(instance, cls)
        if isinstance(value, _AsStored):
            value = instance.__dict__[self.field.attname] = self.field.read_text(value)
        return value


class _CodecField(models.JSONField):
    """A value of the core, kept as JSON with its version; read when it is first asked for."""

    value_class, write, read = None, None, None
    descriptor_class = _ReadWhenAsked

    def read_text(self, text):
        return type(self).read(json.loads(text))

    def from_db_value(self, value, expression, connection):
        return None if value is None else _AsStored(value)

    def get_prep_value(self, value):
        if isinstance(value, _AsStored):
            value = self.read_text(value)
        value = super().get_prep_value(value)
        return type(self).write(value) if isinstance(value, self.value_class) else value

    def to_python(self, value):
        return value if value is None or isinstance(value, self.value_class) else type(self).read(value)

    def value_to_string(self, obj):
        return self.get_prep_value(self.value_from_object(obj))


@functools.lru_cache(maxsize=128)
def _dish_as_kept(text):
    """A dish is a value, and the same text the same one: the written dish of a bench is asked for at every click."""
    return from_data(json.loads(text))


class DishField(_CodecField):
    """A nutrition Dish, its lines as they stand today."""

    def read_text(self, text):
        return standing_dish(_dish_as_kept(str(text)))

    value_class, write, read = Dish, staticmethod(to_data), staticmethod(lambda data: standing_dish(from_data(data)))


class LineField(_CodecField):
    """A nutrition Line, as it stands today."""

    value_class, write, read = (
        Line,
        staticmethod(line_to_data),
        staticmethod(lambda data: standing(line_from_data(data))),
    )
