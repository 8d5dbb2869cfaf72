"""The log of a practice: who did what, when, from where. The database takes rows and lets none change."""

import pgtrigger
from django.db import models

from accounts.scope import PracticeRow


class Entry(PracticeRow):
    """One act. Names of people stand nowhere in it: `person` is a number, so that erasing somebody leaves the log whole.

    `by` is who did it, with their name of then; empty for the command line. `thing`: what it was about, in a few words
    without anybody's name. `details`: what was before and after, where that can be said.
    """

    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(
        "accounts.User", on_delete=models.DO_NOTHING, db_constraint=False, null=True, related_name="+"
    )
    by_name = models.CharField(max_length=120, blank=True)
    act = models.CharField(max_length=40)
    person = models.BigIntegerField(null=True, db_index=True)
    thing = models.CharField(max_length=200, blank=True)
    details = models.JSONField(default=dict, blank=True)
    address = models.GenericIPAddressField(null=True)
    request = models.CharField(max_length=16, blank=True)

    class Meta:
        ordering = ("-pk",)
        indexes = (models.Index(fields=("practice", "-id"), name="newest_of_a_practice"),)
        verbose_name_plural = "entries"
        triggers = (pgtrigger.Protect(name="stands", operation=pgtrigger.Update | pgtrigger.Delete),)

    def __str__(self):
        return f"{self.act} at {self.at:%Y-%m-%d %H:%M}"
