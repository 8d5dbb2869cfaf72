"""The bench keeps dishes: as written, and after every edit. A way that was found is kept where nobody can change it."""

from dataclasses import replace

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models

import recipes.fields
from nutrition.dish.codec import from_data
from nutrition.food.table import current_id


def keep_dishes(apps, editor):
    """Lines and serves through the codec; kitchen, kind and steps are the recipe's."""
    Edit = apps.get_model("bench", "Edit")
    for bench in apps.get_model("bench", "Bench").objects.select_related("recipe"):
        recipe = bench.recipe
        shared = {
            "title": recipe.title,
            "steps": tuple([*recipe.part_steps, *recipe.steps]),
            "kitchen": recipe.kitchen,
            "kind": recipe.kind,
            "notes": tuple(recipe.notes),
        }
        bench.written = replace(from_data(bench.lines), serves=bench.serves, **shared)
        bench.save(update_fields=["written"])
        for edit in Edit.objects.filter(attempt__bench=bench).iterator():
            edit.dish = replace(from_data(edit.lines), serves=edit.serves, **shared)
            edit.save(update_fields=["dish"])
    for decision in apps.get_model("bench", "Decision").objects.exclude(swaps=[]):
        decision.swaps = [
            swap | {side: current_id(swap[side]) for side in ("from", "to") if swap.get(side)}
            for swap in decision.swaps
        ]
        decision.save(update_fields=["swaps"])


class Migration(migrations.Migration):
    dependencies = [("accounts", "0001_initial"), ("bench", "0005_decision"), ("recipes", "0003_dishes")]

    operations = [
        migrations.RenameField("try", "cooked_step", "cooked_at"),
        migrations.RenameModel("Step", "Edit"),
        migrations.AlterField(
            "edit",
            "attempt",
            models.ForeignKey("bench.try", on_delete=django.db.models.deletion.CASCADE, related_name="edits"),
        ),
        migrations.RemoveConstraint("edit", "one_step_a_number"),
        migrations.AddConstraint(
            "edit", models.UniqueConstraint(fields=("attempt", "number"), name="one_edit_a_number")
        ),
        migrations.AddField("bench", "renewed_at", models.DateTimeField(default=django.utils.timezone.now)),
        migrations.AddField("bench", "written", recipes.fields.DishField(null=True)),
        migrations.AddField("edit", "dish", recipes.fields.DishField(null=True)),
        migrations.RunPython(keep_dishes, elidable=False),
        migrations.AlterField("bench", "written", recipes.fields.DishField()),
        migrations.AlterField("edit", "dish", recipes.fields.DishField()),
        *(migrations.RemoveField(model, name) for model in ("bench", "edit") for name in ("lines", "serves")),
        migrations.CreateModel(
            name="FoundWay",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("version", models.PositiveIntegerField()),
                ("stages", models.JSONField()),
                ("found_at", models.DateTimeField(auto_now_add=True)),
                (
                    "attempt",
                    models.ForeignKey(
                        "bench.try", on_delete=django.db.models.deletion.CASCADE, related_name="found_ways"
                    ),
                ),
                (
                    "practice",
                    models.ForeignKey(
                        "accounts.practice",
                        editable=False,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="+",
                    ),
                ),
            ],
            options={"ordering": ("pk",)},
        ),
    ]
