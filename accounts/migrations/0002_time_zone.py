from django.db import migrations, models

import accounts.models


class Migration(migrations.Migration):
    dependencies = [("accounts", "0001_initial")]

    operations = [
        migrations.AddField(
            "practice",
            "time_zone",
            models.CharField(blank=True, max_length=40, validators=[accounts.models.known_time_zone]),
        ),
    ]
