"""How dishes and lines stand in the database: through the core's codec, and no other way."""

from django.db import models

from nutrition.dish.codec import from_data, line_from_data, line_to_data, to_data
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line


class _CodecField(models.JSONField):
    """A value of the core, kept as JSON with its version."""

    value_class, write, read = None, None, None

    def from_db_value(self, value, expression, connection):
        data = super().from_db_value(value, expression, connection)
        return None if data is None else type(self).read(data)

    def get_prep_value(self, value):
        value = super().get_prep_value(value)
        return type(self).write(value) if isinstance(value, self.value_class) else value

    def to_python(self, value):
        return value if value is None or isinstance(value, self.value_class) else type(self).read(value)

    def value_to_string(self, obj):
        return self.get_prep_value(self.value_from_object(obj))


class DishField(_CodecField):
    """A nutrition Dish."""

    value_class, write, read = Dish, staticmethod(to_data), staticmethod(from_data)


class LineField(_CodecField):
    """A nutrition Line."""

    value_class, write, read = Line, staticmethod(line_to_data), staticmethod(line_from_data)
