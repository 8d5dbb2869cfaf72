"""Food ids say where a food comes from: what a practice calls its foods follows."""

import django.utils.timezone
from django.db import migrations, models

from nutrition.food.table import current_id


def follow(apps, editor):
    Alias = apps.get_model("pantry", "Alias")
    for alias in Alias.objects.all():
        alias.food_id = current_id(alias.food_id)
        alias.save(update_fields=["food_id"])


class Migration(migrations.Migration):

    dependencies = [
        ('pantry', '0002_own_swaps'),
    ]

    operations = [
        migrations.RunPython(follow, elidable=False),
        migrations.AlterField(
            model_name='alias',
            name='set_on',
            field=models.DateField(default=django.utils.timezone.localdate),
        ),
        migrations.AlterField(
            model_name='swaprule',
            name='set_on',
            field=models.DateField(default=django.utils.timezone.localdate),
        ),
    ]
