"""One guard against forms that were drawn before what they change was changed elsewhere."""

from hashlib import sha256

from django.db import models
from django.db.models import F

from nutrition.notes import Problem


class Stale(Problem):
    """The row moved on since the form was drawn. `typed`: what was asked for, shown beside what stands now."""

    def __init__(self, typed=""):
        super().__init__("ui.stale_typed" if typed else "ui.stale", typed=typed)


def stamp(*values):
    """A short mark of what a form showed, for what has no version of its own.

    >>> stamp("try 1", "") == stamp("try 1", ""), stamp("try 1", "") == stamp("try 1", "salty")
    (True, False)
    """
    return sha256(repr(values).encode()).hexdigest()[:16]


def hold(row):
    """Keep everybody else from this row until the transaction ends, so that who comes second finds what the first made.

    Rows that merely point at it are not held up: with a full lock, whatever one user writes would wait for their import.
    """
    row._meta.model._base_manager.select_for_update(no_key=True).only("pk").get(pk=row.pk)


class Versioned(models.Model):
    """A row whose forms carry its version: whoever changes it moves the version on, and older forms are refused."""

    version = models.PositiveIntegerField(default=1)

    class Meta:
        abstract = True

    def check_fresh(self, version, typed=""):
        """Refuse a form drawn from another version. `version` None: the caller drew no form. Raises Stale."""
        if version is not None and version != self.version:
            raise Stale(typed)

    def claim(self, version=None, typed="", **changes):
        """Move the version on with the changes, in one statement, or find that somebody else has. Raises Stale.

        `version` None: the caller drew no form, and changes the row as it was read.
        """
        version = self.version if version is None else version
        rows = type(self).objects.filter(pk=self.pk, version=version)
        if not rows.update(version=F("version") + 1, **changes):
            raise Stale(typed)
        self.version = version + 1
        for name, value in changes.items():
            setattr(self, name, value)
