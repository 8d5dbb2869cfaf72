"""Every try keeps its steps as they are cooked: what was kept as written is told anew from the dish as written."""

from django.db import migrations

from nutrition.swaps.telling import told


def tell(apps, schema_editor):
    edits = apps.get_model("bench", "Edit").objects.select_related("attempt__bench").order_by("pk")
    changed = []
    for edit in edits.iterator(chunk_size=200):
        dish = told(edit.attempt.bench.written, edit.dish)
        if dish.steps != edit.dish.steps:
            edit.dish = dish
            changed.append(edit)
        if len(changed) >= 200:
            apps.get_model("bench", "Edit").objects.bulk_update(changed, ["dish"])
            changed.clear()
    apps.get_model("bench", "Edit").objects.bulk_update(changed, ["dish"])


class Migration(migrations.Migration):
    dependencies = [("bench", "0011_roles_of_breakfast_and_snack")]

    operations = [migrations.RunPython(tell, migrations.RunPython.noop)]
