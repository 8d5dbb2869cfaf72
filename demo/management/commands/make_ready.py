"""Everything ./start needs before serving, in one process: migrate, load the demo, collect static files."""

from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand


class Command(BaseCommand):
    help = "Migrate, load the demo if it is not there, collect static files."

    def handle(self, *args, **options):
        call_command("migrate", verbosity=0)
        call_command("load_demo", stdout=self.stdout)
        manifest = Path(settings.STATIC_ROOT) / "staticfiles.json"
        newest = max(path.stat().st_mtime for path in Path(settings.BASE_DIR, "static").rglob("*"))
        if not manifest.exists() or manifest.stat().st_mtime < newest:
            call_command("collectstatic", interactive=False, verbosity=0)
