"""Bring everything of a backup into an empty database, prove it, and bring it up to this version."""

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from office.keeping import CannotKeep, restore


class Command(BaseCommand):
    help = (
        "Restore a backup into the empty database DATABASE_URL names, prove every row, and migrate it to this version."
    )
    requires_migrations_checks = False

    def add_arguments(self, parser):
        parser.add_argument("file")

    def handle(self, *args, file, **options):
        try:
            manifest = restore(file)
        except CannotKeep as problem:
            raise CommandError(str(problem)) from None
        call_command("migrate", verbosity=0)
        rows = sum(count for count, _ in manifest["rows"].values())
        self.stdout.write(
            f"{rows:,} rows of {len(manifest['rows'])} tables are back, each as it was at {manifest['made_at']}"
        )
