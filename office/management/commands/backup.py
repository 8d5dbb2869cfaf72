"""Write everything the database holds into one file."""

from django.core.management.base import BaseCommand, CommandError

from office.keeping import CannotKeep, back_up


class Command(BaseCommand):
    help = "Write a checked backup; end the name in .age or .gpg and name a recipient to have it sealed."

    def add_arguments(self, parser):
        parser.add_argument("file")
        parser.add_argument("--recipient", default="", help="an age recipient (age1…), or a gpg key")

    def handle(self, *args, file, recipient, **options):
        try:
            manifest = back_up(file, recipient)
        except CannotKeep as problem:
            raise CommandError(str(problem)) from None
        rows = sum(count for count, _ in manifest["rows"].values())
        self.stdout.write(
            f"{file}: {rows:,} rows of {len(manifest['rows'])} tables, as they stood at {manifest['made_at']}"
        )
