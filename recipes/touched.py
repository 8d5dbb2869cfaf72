"""What would change elsewhere if a recipe were taken away."""

from dataclasses import dataclass

from django.apps import apps


@dataclass(frozen=True)
class Touched:
    """`used_in`: recipes it is a part of; `benches`: dishes made of it for somebody. Either keeps it from going. `tables`: meals it stands
    on, which keep it as it stands there."""

    used_in: list
    benches: list
    tables: list

    @property
    def is_kept(self):
        """Whether something keeps it from going."""
        return bool(self.used_in or self.benches)


def touched_by_delete(recipe):
    """Three queries."""
    on_tables = apps.get_model("meals", "OnTable").objects.there().filter(recipe=recipe).select_related("occasion")
    return Touched(
        [use.recipe for use in recipe.used_in.select_related("recipe")],
        list(recipe.benches.select_related("person", "recipe")),
        [row.occasion for row in on_tables.order_by("-occasion__on")],
    )
