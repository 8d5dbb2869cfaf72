"""A cook keeps the dish it was planned by, whole."""

from dataclasses import replace

from django.db import migrations

import recipes.fields
from nutrition.dish.codec import from_data, to_data
from nutrition.food.table import current_id


def keep_dishes(apps, editor):
    """The plan's lines, serves and steps through the codec; kitchen and kind are the recipe's."""
    Cook = apps.get_model("kitchen", "Cook")
    for cook in Cook.objects.select_related("attempt__bench__recipe"):
        recipe = cook.attempt.bench.recipe
        dish = replace(
            from_data(cook.plan),
            title=recipe.title,
            serves=cook.serves,
            steps=tuple(cook.steps),
            kitchen=recipe.kitchen,
            kind=recipe.kind,
        )
        cook.plan = to_data(dish)
        cook.save(update_fields=["plan"])
    for tap in apps.get_model("kitchen", "Tap").objects.exclude(food_id=""):
        tap.food_id = current_id(tap.food_id)
        tap.save(update_fields=["food_id"])


class Migration(migrations.Migration):
    dependencies = [("kitchen", "0001_initial"), ("bench", "0006_dishes")]

    operations = [
        migrations.RunPython(keep_dishes, elidable=False),
        migrations.RemoveField("cook", "serves"),
        migrations.RemoveField("cook", "steps"),
        migrations.AlterField("cook", "plan", recipes.fields.DishField()),
    ]
