"""A recipe's lines are kept as the core's codec writes them; a recipe knows its kitchen, its kind and when it changed."""

from collections import defaultdict

import django.utils.timezone
from django.db import migrations, models

import recipes.fields
from nutrition.dish.codec import line_from_data
from nutrition.reading.kinds import kind_of_dish
from nutrition.reading.lines import kitchen_of

COLUMNS = ("text", "food_id", "low", "grams", "high", "how", "sure", "rule", "why", "ask", "others", "part", "is_edited")
KINDS = ("cake", "bread", "soup", "stew", "sauce", "salad", "fry", "grain", "bake", "any")


def keep_lines(apps, editor):
    """The columns of every line through the codec. What the kitchen does to a line was never kept, so it stays open."""
    rows = defaultdict(list)
    for row in apps.get_model("recipes", "RecipeLine").objects.order_by("position", "pk"):
        rows[row.recipe_id].append(row)
    for recipe in apps.get_model("recipes", "Recipe").objects.all():
        mine = rows[recipe.pk]
        for at, row in enumerate(mine):
            row.as_read = line_from_data({name: getattr(row, name) for name in COLUMNS} | {"key": f"w{at}"})
            row.save(update_fields=["as_read"])
        lines = [row.as_read for row in mine]
        recipe.kitchen = kitchen_of(recipe.source_text or " ".join(line.text for line in lines))
        recipe.kind = kind_of_dish(recipe.title, [*recipe.part_steps, *recipe.steps], lines)
        recipe.changed_at = recipe.created_at
        recipe.save(update_fields=["kitchen", "kind", "changed_at"])


class Migration(migrations.Migration):
    dependencies = [("recipes", "0002_parts")]

    operations = [
        migrations.AddField(
            "recipe", "changed_at", models.DateTimeField(default=django.utils.timezone.now)
        ),
        migrations.AddField(
            "recipe", "kind", models.CharField(choices=[(kind, kind) for kind in KINDS], default="any", max_length=8)
        ),
        migrations.AddField(
            "recipe",
            "kitchen",
            models.CharField(blank=True, choices=[("us", "American"), ("uk", "British")], max_length=2),
        ),
        migrations.AddField("recipeline", "version", models.PositiveIntegerField(default=1)),
        migrations.AddField("recipeline", "as_read", recipes.fields.LineField(null=True)),
        migrations.RunPython(keep_lines, elidable=False),
        migrations.AlterField("recipeline", "as_read", recipes.fields.LineField()),
        *(migrations.RemoveField("recipeline", name) for name in COLUMNS),
    ]
