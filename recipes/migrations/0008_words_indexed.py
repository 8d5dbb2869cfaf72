"""Words of a library found by any part of them."""

from django.contrib.postgres.indexes import GinIndex
from django.contrib.postgres.operations import TrigramExtension
from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("recipes", "0007_folder")]

    operations = [
        TrigramExtension(),
        migrations.AddIndex(
            "Worked", GinIndex(fields=("words",), opclasses=("gin_trgm_ops",), name="worked_by_words")
        ),
    ]
