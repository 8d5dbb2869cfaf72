"""The pantry's own foods come along wherever a practice is in scope."""

from django.apps import AppConfig


class PantryConfig(AppConfig):
    name = "pantry"

    def ready(self):
        from . import own  # noqa: F401 - importing it is what names the companion
