"""A target carries its version; the foods a tally leaves free say where they come from."""

import django.utils.timezone
from django.db import migrations, models

from nutrition.food.table import current_id


def follow(apps, editor):
    for tally in apps.get_model("people", "PersonTally").objects.all():
        tally.free_foods = [current_id(food_id) for food_id in tally.free_foods]
        tally.one_free = [current_id(food_id) for food_id in tally.one_free]
        tally.save(update_fields=["free_foods", "one_free"])


class Migration(migrations.Migration):

    dependencies = [
        ('people', '0002_plans_in_full'),
    ]

    operations = [
        migrations.RunPython(follow, elidable=False),
        migrations.AddField(
            model_name='persontarget',
            name='version',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AlterField(
            model_name='persontally',
            name='set_on',
            field=models.DateField(default=django.utils.timezone.localdate),
        ),
        migrations.AlterField(
            model_name='persontarget',
            name='set_on',
            field=models.DateField(default=django.utils.timezone.localdate),
        ),
        migrations.AlterField(
            model_name='planchoice',
            name='set_on',
            field=models.DateField(default=django.utils.timezone.localdate),
        ),
    ]
